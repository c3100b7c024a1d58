"""The field pages: a card on a slow line and from this device, a day worked out ahead, what waits."""

import json
import time
import uuid
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from datetime import timedelta
from functools import partial
from itertools import cycle
from typing import Any

from benchmarks import scale
from benchmarks.measures import ARGUMENTS, CHROMIUM

WAITING = scale.rounds(200, 12)
PHONES, FOLLOWED_S = scale.rounds(20, 3), scale.seconds(60, 2)
ASKED_EVERY_S, EDITED_EVERY_S = scale.seconds(3.0, 0.4), scale.seconds(1.0, 0.4)
# A bad line at the spot, and a phone four times as slow as this machine.
SLOW_LINE = {
    "offline": False, "latency": 40, "downloadThroughput": 400_000 / 8,
    "uploadThroughput": 200_000 / 8,
}  # fmt: skip
SLOWER = 4
# When the values of the card stood on the screen, from the start of the visit.
VALUES_MS = """async () => {
  const painted = () => performance.getEntriesByType("paint")
    .find(({ name }) => name === "first-contentful-paint")?.startTime;
  for (let k = 0; k < 100 && !painted(); k++) await new Promise((done) => setTimeout(done, 20));
  return painted() ?? 1e6;
}"""


@dataclass(frozen=True, slots=True)
class Card:
    """What a card takes: bytes without the fonts, ms on a slow line, and ms from this device."""

    content_bytes: int
    slow_ms: list[float]
    kept_ms: list[float]


@dataclass(frozen=True, slots=True)
class Ahead:
    """All setups of the demo worked out ahead, in ms, and how large that is; and what waited."""

    worked_out_ms: list[float]
    day_bytes: int
    setups: int
    sent_ms: list[float]


def card(address: str) -> Card:
    """The card of a setup in Chromium."""
    from playwright.sync_api import sync_playwright

    sizes: dict[str, int] = {}
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=ARGUMENTS)
        context = browser.new_context(base_url=address, viewport={"width": 390, "height": 844})
        page = context.new_page()
        page.goto("/log-in/")
        page.get_by_role("button", name="Enter the demo").click()
        page.get_by_role("link", name="Keel to Tide").first.click()
        page.get_by_role("link", name="Field", exact=True).click()
        page.get_by_role("link", name="5A Launch").click()
        where = page.url
        cookies = context.cookies()
        slow = []
        for turn in range(scale.rounds(4, 1)):
            fresh = browser.new_context(viewport={"width": 390, "height": 844})
            fresh.add_cookies(cookies)  # type: ignore[arg-type]
            first = fresh.new_page()
            line = fresh.new_cdp_session(first)
            line.send("Network.enable")
            line.send("Network.emulateNetworkConditions", SLOW_LINE)
            line.send("Emulation.setCPUThrottlingRate", {"rate": SLOWER})

            def finished(request: Any) -> None:
                came = request.sizes()["responseBodySize"]
                sizes[request.url] = max(sizes.get(request.url, 0), came)

            if not turn:
                first.on("requestfinished", finished)
            first.goto(where, wait_until="load")
            slow.append(float(first.evaluate(VALUES_MS)))
            first.wait_for_timeout(300)
            fresh.close()
        page.get_by_role("link", name="the day", exact=True).click()
        page.get_by_role("button", name="Keep this day on this device").click()
        page.locator("[data-kept]", has_text="Kept ").wait_for(timeout=60_000)
        context.set_offline(True)
        kept = []
        for _ in range(scale.rounds(12)):
            page.goto(where)
            kept.append(float(page.evaluate(VALUES_MS)))
        browser.close()
    content = sum(size for url, size in sizes.items() if not url.endswith(".woff2"))
    return Card(content, slow, kept)


@dataclass(frozen=True, slots=True)
class Following:
    """Phones that follow a shoot while it is edited: ms of each answer, and of each edit."""

    news_ms: list[float]
    edits_ms: list[float]


def _timed(action: Callable[[], Any], taken: list[float]) -> None:
    start = time.perf_counter()
    answer = action()
    taken.append(1000 * (time.perf_counter() - start))
    if answer.status != 200:
        raise RuntimeError(f"answered {answer.status}")


def following(address: str) -> Following:
    """Twenty guests ask what is new every three seconds, each with a setup in hand.

    Beside them somebody edits on the bench once a second; a third of the phones log takes.
    """
    from fotonomy.field.models import Take
    from fotonomy.shoots.models import Shoot
    from fotonomy.shoots.services.crew import make_link, today_of
    from soak.person import Person

    shoot = Shoot.objects.get(name="Keel to Tide")
    link = make_link(shoot, "logs", today_of(shoot) + timedelta(days=1))
    keys = list(shoot.setups.values_list("pk", flat=True))
    news_ms: list[float] = []
    edits_ms: list[float] = []
    began = time.monotonic()

    def phone(number: int) -> None:
        person = Person(address)
        person.get(f"/join/{link.key}/")
        if person.post(f"/join/{link.key}/", {"name": f"Phone {number}"}).status != 302:
            raise RuntimeError("a phone was not let in")
        time.sleep(number * ASKED_EVERY_S / PHONES)
        at = keys[number % len(keys)]
        asked = f"/shoots/{shoot.pk}/field/news/?since=0&at={at}"
        while time.monotonic() < began + FOLLOWED_S:
            start = time.monotonic()
            _timed(lambda: person.get(asked), news_ms)
            if not number % 3:
                entry = {"uid": uuid.uuid4().hex, "verdict": "good"}
                person.post(f"/shoots/{shoot.pk}/field/{at}/take/", entry)
            time.sleep(max(0.0, start + ASKED_EVERY_S - time.monotonic()))

    def editor() -> None:
        person = Person(address)
        person.enter_demo()
        bench = person.bench_of("4B")
        for iris in cycle(("f/4", "f/5.6")):
            if time.monotonic() > began + FOLLOWED_S:
                return
            header = {"X-Fotonomy-Fragment": "wide"}
            _timed(partial(person.post, bench, {"iris": iris}, **header), edits_ms)
            time.sleep(EDITED_EVERY_S)

    with ThreadPoolExecutor(PHONES + 1) as pool:
        running = [pool.submit(phone, number) for number in range(PHONES)]
        running.append(pool.submit(editor))
        for one in running:
            one.result()
    Take.objects.exclude(uid__startswith="demo-").delete()
    return Following(news_ms, edits_ms)


def ahead() -> Ahead:
    """Twelve setups worked out, and two hundred takes that waited sent at once."""
    from django.test import Client
    from django.urls import reverse
    from django.utils import timezone

    from fotonomy.core.field.relight import worked_out_ahead
    from fotonomy.days.planning import planned_day
    from fotonomy.field.models import Take
    from fotonomy.field.presenters.offline_bundle import ahead_of
    from fotonomy.shoots.models import Shoot

    shoot = Shoot.objects.get(name="Keel to Tide")
    days = [planned_day(shoot, day) for day in shoot.days.all()]
    taken, size = [], 0
    for _ in range(scale.rounds(5, 1)):
        worked_out_ahead.cache_clear()
        start = time.perf_counter()
        found = [ahead_of(one, timezone.now()) for one in days]
        taken.append(1000 * (time.perf_counter() - start))
        size = sum(len(json.dumps(one)) for one in found)
    client = Client(HTTP_HOST="127.0.0.1")
    client.force_login(shoot.owner)
    key = shoot.setups.values_list("pk", flat=True)[0]
    sent = []
    for _ in range(scale.rounds(3, 1)):
        entries = [
            {"uid": str(uuid.uuid4()), "kind": "take", "setup": key, "verdict": "good",
             "at": timezone.now().isoformat()}
            for _ in range(WAITING)
        ]  # fmt: skip
        start = time.perf_counter()
        answer = client.post(
            reverse("field-send", args=[shoot.pk]),
            json.dumps({"sent_at": timezone.now().isoformat(), "entries": entries}),
            content_type="application/json",
        )
        sent.append(1000 * (time.perf_counter() - start))
        if sum(one["kept"] for one in answer.json()["results"]) != WAITING:
            raise RuntimeError("not everything was kept")
    Take.objects.exclude(uid__startswith="demo-").delete()
    return Ahead(taken, size, sum(len(one.specs) for one in days), sent)
