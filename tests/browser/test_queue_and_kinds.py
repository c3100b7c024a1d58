"""What was lost before: inputs made while an answer is under way, and fields on another kind."""

import re

import pytest
from playwright.sync_api import Page, Route, expect

from fotonomy.core.spec.kind import Kind
from fotonomy.shoots.models import Setup
from tests.browser.conftest import open_tile


def saved() -> Setup:
    """The setup on the bench as the database has it."""
    return Setup.objects.get(code="4B")


def settled(page: Page) -> None:
    """Wait until nothing is under way and nothing waits."""
    page.locator(".bench-page:not([data-queue=busy]):not([data-queue=waiting])").wait_for()


class LateServer:
    """Answers changes of the bench late: when they are let go."""

    def __init__(self, page: Page) -> None:
        self.held: list[Route] = []
        self.late = True
        page.route("**/shoots/*/*/*", self.hold)

    def hold(self, route: Route) -> None:
        if self.late and route.request.method == "POST":
            self.held.append(route)
        else:
            route.continue_()

    def answer(self) -> None:
        """Let everything go, and what comes from now on."""
        self.late = False
        for route in self.held:
            route.continue_()


def fail_once(page: Page, times: int = 1) -> None:
    """Let the next answers of the bench fail."""
    left = {"times": times}

    def handle(route: Route) -> None:
        if route.request.method == "POST" and left["times"]:
            left["times"] -= 1
            route.fulfill(status=503, body="")
        else:
            route.continue_()

    page.route("**/shoots/*/*/*", handle)


def nudge(page: Page, index: int, tenths: int) -> None:
    """Press the arrow in a reading's field."""
    field = page.locator(f"#f-reading-{index}-stops")
    field.focus()
    for _ in range(abs(tenths)):
        field.press("ArrowUp" if tenths > 0 else "ArrowDown")


def stops() -> list[float]:
    return [reading["stops"] for reading in saved().readings]


def test_two_readings_nudged_while_an_answer_is_under_way(demo_page: Page) -> None:
    open_tile(demo_page, "level")
    before, server = stops(), LateServer(demo_page)
    nudge(demo_page, 0, 1)
    nudge(demo_page, 1, 2)
    nudge(demo_page, 2, -3)
    nudge(demo_page, 1, 1)
    server.answer()
    settled(demo_page)
    moved = [round(after - was, 3) for was, after in zip(before, stops(), strict=True)]
    assert moved[:3] == [0.1, 0.3, -0.3]


def test_a_nudge_that_failed_and_another_both_count(demo_page: Page) -> None:
    open_tile(demo_page, "level")
    before = stops()
    fail_once(demo_page)
    nudge(demo_page, 0, 1)
    expect(demo_page.locator("#trouble")).to_be_visible()
    nudge(demo_page, 1, 1)
    settled(demo_page)
    expect(demo_page.locator("#trouble")).to_be_hidden()
    moved = [round(after - was, 3) for was, after in zip(before, stops(), strict=True)]
    assert moved[:2] == [0.1, 0.1]


@pytest.mark.parametrize("fails", [False, True], ids=["late", "failing"])
def test_two_fixes_pressed_in_a_row_both_count(demo_page: Page, fails: bool) -> None:
    page = demo_page
    page.locator(".strip-findings").click()
    shutter = page.locator("#findings [data-finding='flicker.mains'] .fix").first
    page.evaluate(
        """(value) => {
          const again = document.querySelector("#findings [data-finding='flicker.mains'] .fix").cloneNode(true);
          again.value = value;
          again.id = "second";
          document.querySelector("#findings").append(again);
        }""",
        '[["white_k",3200]]',
    )
    server = None if fails else LateServer(page)
    if fails:
        fail_once(page, 1)
    shutter.click()
    page.locator("#second").dispatch_event("click")
    if server:
        server.answer()
    if fails:
        page.locator(".bench-page:not([data-queue=busy])").wait_for()
        page.evaluate("Alpine.store('bench').retry()")
    settled(page)
    row = saved()
    assert row.white_k == 3200
    assert row.shutter_angle_deg != 180


def test_a_field_and_a_fix_while_the_server_is_away(demo_page: Page) -> None:
    """In the order they were done: the field first, then the press."""
    fail_once(demo_page, 1)
    demo_page.locator("#f-iso").fill("800")
    demo_page.locator("#f-iso").press("Enter")
    expect(demo_page.locator("#trouble")).to_be_visible()
    demo_page.evaluate("Alpine.store('bench').press('fix', '[[\"iris\",8]]')")
    settled(demo_page)
    assert (saved().iso, saved().iris) == (800, 8)


# A field of each tile that only this tile has, and the kinds that have it.
VIDEO = set(Kind) - {Kind.INTERVAL}
TILE_FIELDS = {
    ("focus", "focal_mm"): set(Kind),
    ("light", "light"): set(Kind), ("level", "exposing"): set(Kind), ("white", "source_k"): set(Kind),
    ("noise", "delivery_px"): set(Kind), ("motion", "camera"): set(Kind),
    ("picture", "monitor_view"): set(Kind), ("clip", "wanted_screen_s"): VIDEO,
    ("run", "event_s"): {Kind.INTERVAL}, ("cycle", "self_timer_s"): {Kind.INTERVAL},
    ("ramp", "light_curve"): {Kind.INTERVAL}, ("burst", "moment_s"): {Kind.BURST},
    ("trail", "trail_percent"): {Kind.LONG_EXPOSURE},
}  # fmt: skip


def fields_of(page: Page) -> dict[str, int]:
    """How often each named field stands on the bench."""
    counted: dict[str, int] = page.evaluate("""() => {
      const found = {};
      for (const field of document.querySelectorAll("#bench [id^='f-']"))
        found[field.name] = (found[field.name] || 0) + 1;
      return found;
    }""")
    return counted


@pytest.mark.parametrize("first", list(Kind)[:-1])
def test_every_kind_into_every_other_with_each_tile_there_once(
    demo_page: Page, first: Kind
) -> None:
    page = demo_page
    page.locator("#about > summary").click()
    kind = page.locator("#f-kind")
    kind.focus()
    later = list(Kind)[list(Kind).index(first) + 1 :]
    # There and back; the kinds before the first have been there with it.
    for other in [first, *(k for end in later for k in (end, first))]:
        kind.select_option(other.value)
        settled(page)
        expect(page.locator(".tiles")).to_have_attribute(
            "data-layout", re.compile(f"^{other.value} ")
        )
        counted = fields_of(page)
        assert not {name for name, times in counted.items() if times > 1}, other
        there = set(page.locator("h2 a[data-open]").evaluate_all("all => all.map((a) => a.id)"))
        wanted = {f"open-{tile}" for (tile, _), kinds in TILE_FIELDS.items() if other in kinds}
        assert there == wanted, other
        assert kind.evaluate("(field) => field === document.activeElement")


@pytest.mark.parametrize("kind", [Kind.SLOW_MOTION, Kind.INTERVAL, Kind.BURST, Kind.LONG_EXPOSURE])
def test_every_tile_opens_with_its_fields_and_closes(demo_page: Page, kind: Kind) -> None:
    page = demo_page
    page.evaluate(f"Alpine.store('bench').press('fix', '[[\"kind\",\"{kind.value}\"]]')")
    settled(page)
    for (tile, field), kinds in TILE_FIELDS.items():
        if kind not in kinds:
            continue
        open_tile(page, tile)
        settled(page)
        counted = fields_of(page)
        assert not {name for name, times in counted.items() if times > 1}, tile
        assert counted.get(field) == 1, (tile, field)
        others = {name for (other, name), _ in TILE_FIELDS.items() if other != tile}
        assert not others & counted.keys() - {"wanted_screen_s"}, tile
    page.locator("h1").click()
    page.keyboard.press("Escape")
    expect(page.locator("#stage")).to_have_count(0)


def test_the_focus_stays_in_its_field_on_another_kind(demo_page: Page) -> None:
    page = demo_page
    open_tile(page, "focus")
    page.locator("#f-focal_mm").focus()
    page.evaluate("Alpine.store('bench').press('fix', '[[\"kind\",\"burst\"]]')")
    settled(page)
    expect(page.locator("#f-focal_mm")).to_be_focused()
    page.locator("h1").click()
    page.keyboard.press("i")
    page.evaluate("Alpine.store('bench').press('fix', '[[\"kind\",\"interval\"]]')")
    settled(page)
    expect(page.locator("[data-scale=iris] .track")).to_be_focused()
    assert saved().kind == "interval"
