"""The single measures: each returns times in milliseconds, or counts."""

import http.client
import os
import socket
import subprocess
import sys
import time
import uuid
from collections import Counter
from collections.abc import Callable, Iterator
from contextlib import contextmanager, suppress
from cProfile import Profile
from dataclasses import dataclass
from pathlib import Path
from pstats import Stats
from typing import Any

import numpy as np

from benchmarks import scale
from tools.kept_demo import fill

CHROMIUM = os.environ.get("FOTONOMY_CHROMIUM", "/usr/bin/chromium-headless-shell")
ARGUMENTS = [
    "--no-sandbox", "--disable-gpu", "--disable-background-networking",
    # Letters as wide as in a window.
    "--font-render-hinting=none",
]  # fmt: skip


def times_ms(action: Callable[[int], Any], rounds: int, warm: int = 10) -> list[float]:
    """Wall time of each of ``rounds`` calls after a warm-up."""
    for k in range(scale.rounds(warm, 1)):
        action(k)
    taken = []
    for k in range(scale.rounds(rounds, 3)):
        start = time.perf_counter()
        action(k)
        taken.append(1000 * (time.perf_counter() - start))
    return taken


def yardstick_ms(rounds: int = 15) -> float:
    """A plain Python loop: how fast this machine is right now, to read the times by."""
    return percentile(times_ms(lambda _: sum(k * k for k in range(200_000)), rounds, 2), 50)


def core_plan_ms() -> tuple[list[float], list[float], float]:
    """Planning the demo's setups one by one, and reading one back from JSON beside it.

    The third value is the share of the yardstick that a plan costs: both are measured by turns,
    so that a machine that slows down slows both.
    """
    from fotonomy.core.plan import plan
    from fotonomy.exchange.schemas import write_json
    from fotonomy.exchange.setup_json import read_setup, setup_to_data
    from fotonomy.shoots.mapping import file_of
    from fotonomy.shoots.models import Setup
    from fotonomy.shoots.packed_kit import packed_kit

    rows = list(Setup.objects.select_related("shoot__owner"))
    files = [file_of(row, packed_kit(row.shoot)) for row in rows]
    raw = write_json(setup_to_data(files[0])).encode()
    planned, shares = [], []
    for _ in range(scale.rounds(12)):
        yard = yardstick_ms(5)
        block = times_ms(lambda k: plan(files[k % len(files)].setup), 120, 12)
        planned += block
        shares.append(percentile(block, 50) / yard)
    read = times_ms(lambda _: read_setup(raw), 200)
    return planned, read, percentile(shares, 50)


def fragment_ms(code: str = "4B") -> list[float]:
    """A change on the bench of one setup through Django, database write included."""
    return times_ms(changing(code), 300)


def changing(code: str) -> Callable[[int], None]:
    """What changes a setup on the bench through Django: the k-th time to another value."""
    from django.test import Client

    from fotonomy.shoots.models import Setup

    row = Setup.objects.select_related("shoot__owner").get(code=code)
    client = Client(headers={"host": "localhost"})
    client.force_login(row.shoot.owner)
    values = ["f/4", "f/4.5", "f/5", "f/5.6", "f/6.3"]

    def change(k: int) -> None:
        answer = client.post(
            row.get_absolute_url(), {"iris": values[k % 5]}, headers={"X-Fotonomy-Fragment": "wide"}
        )
        assert answer.status_code == 200

    return change


# Where the time of a change goes, by the functions that stand for it. The database is in what asks
# for it as well.
PARTS = {
    "the edit": ("edit_setup", "apply.py"), "the core plan": ("plan", "plan.py"),
    "the figures": ("tile_views", "tiles.py"), "the templates": ("render", "shortcuts.py"),
    "the database": ("execute_sql", "compiler.py"),
}  # fmt: skip


def change_shares() -> dict[str, float]:
    """The share that each part has in a change on the bench, 0 to 1, as a profile sees it."""
    change = changing("4B")
    for k in range(5):
        change(k)
    profile = Profile()
    with profile:
        for k in range(scale.rounds(40, 4)):
            change(k)
    stats: Any = Stats(profile)
    whole = float(stats.total_tt)
    took: Counter[tuple[str, str]] = Counter()
    for (file, _, name), seen in stats.stats.items():
        took[name, Path(file).name] += seen[3]
    return {words: took[where] / whole for words, where in PARTS.items()}


SIZES = (12, 48, scale.rounds(500, 50))


def bench_growth() -> tuple[dict[int, int], dict[int, float]]:
    """Queries of the bench page, and its median in ms, for a shoot with so many setups."""
    from django.db import connection
    from django.test import Client
    from django.test.utils import CaptureQueriesContext

    from fotonomy.shoots.models import Setup
    from fotonomy.shoots.services.setups import copy_setup

    row = Setup.objects.select_related("shoot__owner").get(code="4B")
    client = Client(headers={"host": "localhost"})
    client.force_login(row.shoot.owner)
    counted, taken = {}, {}
    for size in SIZES:
        while row.shoot.setups.count() < size:
            copy_setup(row)
        taken[size] = percentile(times_ms(lambda _: client.get(row.get_absolute_url()), 15, 2), 50)
        with CaptureQueriesContext(connection) as queries:
            client.get(row.get_absolute_url())
        counted[size] = len(queries)
    return counted, taken


KIT_SIZE = scale.rounds(200, 60)


def kit_page_ms() -> tuple[list[float], dict[int, int]]:
    """The kit page with two hundred things, and its queries before and after."""
    from django.contrib.auth import get_user_model
    from django.db import connection
    from django.test import Client
    from django.test.utils import CaptureQueriesContext

    from fotonomy.kit.models import Accessory, Body, Filter, Lens, Profile

    owner = get_user_model().objects.get(username="demo")
    client = Client(headers={"host": "localhost"})
    client.force_login(owner)
    models = (Body, Lens, Filter, Accessory, Profile)
    counted = {}

    def size() -> int:
        return sum(model.objects.filter(owner=owner).count() for model in models)

    with CaptureQueriesContext(connection) as queries:
        client.get("/kit/")
    counted[size()] = len(queries)
    profiles = list(Profile.objects.filter(owner=owner))
    sorts: tuple[Any, ...] = (Body, Lens, Filter, Accessory)
    k = 0
    while size() < KIT_SIZE:
        # The demo's own things over and over, in the proportions of a rental shelf.
        model = sorts[(0, 1, 2, 2, 1, 3, 1, 2)[k % 8]]
        row = model.objects.filter(owner=owner).order_by("pk")[k % 3]
        row.pk, row.name = None, f"{row.name[:60]} no. {k}"
        row.save(force_insert=True)
        if isinstance(row, Body):
            row.profiles.set(profiles)
        k += 1
    with CaptureQueriesContext(connection) as queries:
        client.get("/kit/")
    counted[size()] = len(queries)
    return times_ms(lambda _: client.get("/kit/"), 60, 5), counted


def _free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


# Ids of the servers that were started, the last one at the end.
serving: list[int] = []


@contextmanager
def served() -> Iterator[tuple[str, float]]:
    """The real server as its own process: its address, and ms from start to first page."""
    port = _free_port()
    environment = {**os.environ, "FOTONOMY_PORT": str(port)}
    start = time.perf_counter()
    server = subprocess.Popen(
        [sys.executable, "-m", "fotonomy.site.serve"],
        env=environment, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL,
    )  # fmt: skip
    serving.append(server.pid)
    address = f"http://127.0.0.1:{port}"
    try:
        while True:
            with suppress(OSError):
                # Whatever it answers, it answers: production sends plain HTTP elsewhere.
                line = http.client.HTTPConnection("127.0.0.1", port, timeout=5)
                line.request("GET", "/log-in/")
                line.getresponse().read()
                break
            if server.poll() is not None or time.perf_counter() - start > 60:
                raise RuntimeError("the server did not start")
            with suppress(subprocess.TimeoutExpired):
                server.wait(timeout=0.01)
        yield address, 1000 * (time.perf_counter() - start)
    finally:
        server.terminate()
        server.wait()


def in_rounds(script: str, whole: int) -> str:
    """A script of the page with how often it does what it measures.

    Eight at least: four steps one way and four back, or the scale comes to its end.
    """
    return script.replace("ROUNDS", str(scale.rounds(whole, 8)))


KEY_TO_TILES = """
async () => {
  const track = document.querySelector("[data-scale=iris] .track");
  track.focus();
  const taken = [];
  for (let k = 0; k < ROUNDS; k++) {
    // The level drawing follows every step of the iris; what stays equal is not redrawn.
    const figure = document.querySelector("[data-tile=level] figure");
    const start = performance.now();
    const redrawn = new Promise((done) => {
      // A message posted in the frame's own callback arrives right after it is painted.
      const painted = new MessageChannel();
      painted.port1.onmessage = () => done(performance.now() - start);
      const watch = new MutationObserver(() => { watch.disconnect();
        requestAnimationFrame(() => painted.port2.postMessage(0)); });
      watch.observe(figure, { childList: true });
      setTimeout(() => done(5000), 5000);
    });
    const key = k % 8 < 4 ? "ArrowRight" : "ArrowLeft";
    document.activeElement.dispatchEvent(new KeyboardEvent("keydown", { key, bubbles: true }));
    taken.push(await redrawn);
  }
  return taken.slice(ROUNDS / 6);
}
"""


# From a change to the plans of what then stands, in the open panel.
CHANGE_TO_PLANS = """
async () => {
  const panel = document.getElementById("plans");
  const track = document.querySelector("[data-scale=iris] .track");
  track.focus();
  const taken = [];
  for (let k = 0; k < ROUNDS; k++) {
    const start = performance.now();
    const fresh = new Promise((done) => {
      const watch = new MutationObserver(() => { watch.disconnect(); done(performance.now() - start); });
      watch.observe(panel, { childList: true });
      setTimeout(() => done(5000), 5000);
    });
    const key = k % 8 < 4 ? "ArrowRight" : "ArrowLeft";
    document.activeElement.dispatchEvent(new KeyboardEvent("keydown", { key, bubbles: true }));
    taken.push(await fresh);
  }
  return taken.slice(ROUNDS / 5);
}
"""


# From a key press to the picture of what then stands, decoded and ready to be painted.
KEY_TO_PICTURE = """
async () => {
  const picture = document.querySelector("#monitor .monitor-picture");
  const track = document.querySelector("[data-scale=iris] .track");
  track.focus({ preventScroll: true });
  const taken = [];
  for (let k = 0; k < ROUNDS; k++) {
    const start = performance.now();
    const fresh = new Promise((done) => {
      picture.addEventListener("load", () => picture.decode().then(
        () => done(performance.now() - start)), { once: true });
      setTimeout(() => done(5000), 5000);
    });
    const key = k % 8 < 4 ? "ArrowRight" : "ArrowLeft";
    document.activeElement.dispatchEvent(new KeyboardEvent("keydown", { key, bubbles: true }));
    taken.push(await fresh);
  }
  return taken.slice(ROUNDS / 5);
}
"""


@dataclass(frozen=True, slots=True)
class BrowserTimes:
    """From a key press to what follows it, in Chromium.

    ``tiles`` painted again, the same ``beside`` the open plans, the ``plans`` themselves, and
    the ``picture`` of the monitor.
    """

    tiles: list[float]
    beside: list[float]
    plans: list[float]
    picture: list[float]


def in_browser(address: str) -> BrowserTimes:
    """Press keys on the bench of the running server."""
    from playwright.sync_api import sync_playwright

    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=ARGUMENTS)
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.goto(address)
        page.get_by_role("button", name="Enter the demo").click()
        page.get_by_role("link", name="Keel to Tide").first.click()
        page.locator(".row", has_text="4B Adze chips").locator("a").click()
        page.locator("h1", has_text="4B").wait_for()
        alone: list[float] = page.evaluate(in_rounds(KEY_TO_TILES, 120))
        if scale.is_small():
            browser.close()
            return BrowserTimes(alone, alone, alone, alone)
        page.keyboard.press("p")
        page.locator(".plan-card").first.wait_for()
        beside: list[float] = page.evaluate(in_rounds(KEY_TO_TILES, 120))
        # Ask only once what was pressed before is answered.
        page.wait_for_load_state("networkidle")
        plans: list[float] = page.evaluate(in_rounds(CHANGE_TO_PLANS, 40))
        page.keyboard.press("p")
        page.wait_for_load_state("networkidle")
        followed: list[float] = page.evaluate(in_rounds(KEY_TO_PICTURE, 40))
        browser.close()
    return BrowserTimes(alone, beside, plans, followed)


def bytes_to_first_bench(address: str) -> int:
    """Bytes of content that come from the log-in to the first bench, with nothing kept before.

    As compressed on the way; headers, some 20 kB, are not counted.
    """
    from playwright.sync_api import sync_playwright

    sizes: dict[str, int] = {}
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=ARGUMENTS)
        page = browser.new_page(viewport={"width": 1280, "height": 800})

        def finished(request: Any) -> None:
            # A thing that was preloaded is told of twice, once with nothing.
            came = request.sizes()["responseBodySize"]
            sizes[request.url] = max(sizes.get(request.url, 0), came)

        page.on("requestfinished", finished)
        page.goto(address)
        page.get_by_role("button", name="Enter the demo").click()
        page.get_by_role("link", name="Keel to Tide").first.click()
        page.locator(".bench-page[data-ready]").wait_for()
        page.wait_for_load_state("networkidle")
        page.wait_for_timeout(500)
        browser.close()
    return sum(sizes.values())


def percentile(taken: list[float], share: float) -> float:
    """A percentile of some times; no number where there are none, as in a small look."""
    return float(np.percentile(taken, share)) if taken else float("nan")


def environment_in(folder: Path) -> dict[str, str]:
    """The variables of a program with a place of its own in ``folder``.

    Where this process has PostgreSQL, the place has a fresh database on the same server.
    """
    found = {
        "FOTONOMY_DATA_DIR": str(folder), "DJANGO_SETTINGS_MODULE": "fotonomy.site.settings.demo",
    }  # fmt: skip
    url = os.environ.get("FOTONOMY_DATABASE_URL")
    if url:
        import environ
        import psycopg

        known, name = environ.Env.db_url_config(url), f"place_{uuid.uuid4().hex}"
        with psycopg.connect(
            host=known["HOST"], port=known["PORT"] or None, user=known["USER"],
            password=known["PASSWORD"], dbname=known["NAME"], autocommit=True,
        ) as base:  # fmt: skip
            base.execute(f"CREATE DATABASE {name}")
        found["FOTONOMY_DATABASE_URL"] = f"{url.rpartition('/')[0]}/{name}"
    return found


def database_in(folder: Path) -> None:
    """A fresh database with the demo in ``folder``, for this process and the servers it starts."""
    os.environ.update(environment_in(folder))
    import django

    django.setup()
    fill(folder)
