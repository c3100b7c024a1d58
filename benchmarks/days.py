"""The sky, the Day page, a drop, a year, and the arranger against a plain greedy order."""

import random
import subprocess
import sys
import time
from dataclasses import dataclass
from datetime import UTC, datetime
from datetime import time as clock
from typing import Any

from benchmarks import scale
from benchmarks.measures import in_rounds, times_ms

SETUPS = (10, scale.rounds(40, 14))
INSTANCES, TASKS = scale.rounds(6, 1), scale.rounds(30, 8)
# From the key press on a block to the drawing with it in its new place, painted.
KEY_TO_HOURS = """
async () => {
  const taken = [];
  for (let k = 0; k < ROUNDS; k++) {
    const block = document.querySelector(".block.chosen");
    block.focus();
    const start = performance.now();
    const fresh = new Promise((done) => {
      const painted = new MessageChannel();
      painted.port1.onmessage = () => done(performance.now() - start);
      const watch = new MutationObserver(() => { watch.disconnect();
        requestAnimationFrame(() => painted.port2.postMessage(0)); });
      watch.observe(document.querySelector(".day-page"), { childList: true });
      setTimeout(() => done(5000), 5000);
    });
    const key = k % 2 ? "ArrowRight" : "ArrowLeft";
    block.dispatchEvent(new KeyboardEvent("keydown", { key, bubbles: true }));
    taken.push(await fresh);
    await new Promise((done) => setTimeout(done, 60));
  }
  return taken.slice(ROUNDS / 5);
}
"""


@dataclass(frozen=True, slots=True)
class Arranged:
    """Setups placed by the plain order and by the solver, its slowest run, and proven ones."""

    plain: int
    solved: int
    slowest_s: float
    proven: int


@dataclass(frozen=True, slots=True)
class DayTimes:
    """All that is measured of the days. Memory is that of a process, in MB, without and with it."""

    sky_ms: list[float]
    page_ms: list[float]
    queries: dict[int, int]
    year_ms: list[float]
    arranged: Arranged
    memory_mb: tuple[float, float]


def sky_ms() -> list[float]:
    """Sun, moon and Milky Way of a day at one place, minute by minute, with nothing kept of it."""
    from fotonomy.sky.ephemeris import sky_over

    start = datetime(2027, 6, 5, tzinfo=UTC)
    return times_ms(lambda k: sky_over(-43.12, 147.05 + k / 1000, 0, start, 1440), 60)


def page_ms() -> tuple[list[float], dict[int, int], list[float]]:
    """The Day page with 40 setups, its queries by setups, and a year looked through."""
    from django.db import connection
    from django.test import Client
    from django.test.utils import CaptureQueriesContext

    from fotonomy.shoots.models import Shoot

    shoot = Shoot.objects.get(name="Keel to Tide")
    day = shoot.first_day
    client = Client(headers={"host": "localhost"})
    client.force_login(shoot.owner)
    address = f"/shoots/{shoot.pk}/day/{day.pk}/"
    queries, taken = {}, []
    made: list[int] = []
    row: Any = shoot.setups.get(code="4B")
    pieces = list(row.filters.all())
    for count in SETUPS:
        while shoot.setups.filter(day=day).count() < count:
            row.pk, row.position = None, 1000 + len(made)
            row.planned_time = clock(7 + len(made) // 3, 20 * (len(made) % 3))
            row.save(force_insert=True)
            row.put_filters(pieces)
            made.append(row.pk)
        client.get(address)
        with CaptureQueriesContext(
            connection,
        ) as caught:
            client.get(address)
        queries[count] = len(caught)
    taken = times_ms(lambda _: client.get(address), 30, 4)
    stars = shoot.setups.get(code="6A").pk
    year = times_ms(
        lambda k: client.get(f"{address}dates/?setup={stars}&from=202{k % 3 + 5}-01-01"), 9, 3
    )
    shoot.setups.filter(pk__in=made).delete()
    return taken, queries, year


def instance(seed: int) -> list[Any]:
    """Thirty setups over two days whose windows are narrow, made from a seed."""
    from fotonomy.core.day.tasks import Task

    dice = random.Random(seed)
    tasks = []
    for key in range(TASKS):
        long = dice.choice((20, 30, 45, 60))
        low = dice.randrange(2) * 1440 + dice.randrange(380, 1050)
        allowed: tuple[tuple[int, int], ...] = ((low, low + dice.randrange(20, 180)),)
        if dice.random() < 0.3:
            allowed = ((400, 1200 - long), (1840, 2640 - long))
        tasks.append(Task(
            key=key, name=str(key), place=dice.randrange(4), body=dice.choice("AAB"),
            lens=dice.choice("xyz"), prepare_min=dice.choice((5, 10, 20)), shoot_min=long,
            stays_min=long, allowed=allowed, priority=dice.choice((1, 2, 2, 3)),
            alongside=dice.random() < 0.1,
        ))  # fmt: skip
    return tasks


def arranged() -> Arranged:
    """The solver against the plain order over some instances."""
    from fotonomy.core.day.arrange import arrange
    from fotonomy.core.day.tasks import fits, greedy

    def way(start: int, end: int) -> float:
        return 0.0 if start == end else 10.0 + 5 * abs(start - end)

    arrange(instance(99)[:3], way)
    plain = solved = proven = 0
    slowest = 0.0
    for seed in range(INSTANCES):
        tasks = instance(seed)
        plain += len(greedy(tasks, way, 5))
        start = time.perf_counter()
        found = arrange(tasks, way, spare_min=5)
        slowest = max(slowest, time.perf_counter() - start)
        if not fits(tasks, found.starts, way, 5):
            raise RuntimeError("an order that breaks a rule")
        solved += len(found.starts)
        proven += found.best
    return Arranged(plain, solved, slowest, proven)


_MEMORY = """
import re
from datetime import UTC, datetime
from datetime import time as clock
import numpy
if {loaded}:
    from fotonomy.sky.ephemeris import sky_of_day
    from fotonomy.core.day.arrange import arrange
    from fotonomy.core.day.tasks import Task
    sky_of_day(-43.12, 147.05, 0, datetime(2027, 6, 5, tzinfo=UTC), 48)
    task = Task(key=1, name="", place=0, body="", lens="", prepare_min=1, shoot_min=1, stays_min=1,
                allowed=((0, 9),))
    arrange([task, task], lambda a, b: 0)
print(int(re.search(r"VmRSS:\\s+(\\d+)", open("/proc/self/status").read())[1]) / 1024)
"""


def memory_mb() -> tuple[float, float]:
    """Memory of a process of its own, without and with ephemeris and solver loaded."""

    def of(loaded: bool) -> float:
        code = _MEMORY.format(loaded=loaded)
        return float(subprocess.run([sys.executable, "-c", code], capture_output=True, text=True,
                                    check=True).stdout)  # fmt: skip

    return of(False), of(True)


def drop_ms(address: str) -> list[float]:
    """A setup moved by a key, planned anew and redrawn, in Chromium."""
    from playwright.sync_api import sync_playwright

    from benchmarks.measures import ARGUMENTS, CHROMIUM

    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=ARGUMENTS)
        page = browser.new_page(viewport={"width": 1280, "height": 800}, base_url=address)
        page.goto("/log-in/")
        page.get_by_role("button", name="Enter the demo").click()
        page.get_by_role("link", name="Keel to Tide").first.click()
        page.get_by_role("link", name="Day", exact=True).click()
        page.locator(".day-page[data-ready]").wait_for()
        page.locator('.block[aria-label^="5A"]').click()
        page.locator(".in-hand h2", has_text="5A").wait_for()
        taken: list[float] = page.evaluate(in_rounds(KEY_TO_HOURS, 30))
        browser.close()
    return taken


def measure() -> DayTimes:
    """Everything but what needs a browser."""
    page, queries, year = page_ms()
    return DayTimes(sky_ms(), page, queries, year, arranged(), memory_mb())
