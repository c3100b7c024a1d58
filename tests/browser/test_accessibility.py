"""axe-core on every page, in both themes and widths: nothing to say."""

from typing import Any

import pytest
from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import Page

from fotonomy.field.models import Take, TakePicture
from fotonomy.shoots.models import Setup
from tests.browser.conftest import enter_demo, open_tile
from tests.browser.pages import every_page
from tests.demo_copy import demo_again

pytestmark = pytest.mark.django_db(transaction=True)


# Only what is wrong is told in full, which halves the time; styles need no loading anew.
QUICK = {"resultTypes": ["violations"], "preload": False}
# What the colours of a theme decide; markup is the same by day and by night.
OF_COLOUR = {**QUICK, "runOnly": ["color-contrast", "link-in-text-block"]}
DESK, PHONE = (1280, 800), (390, 844)


def complaints(page: Page, theme: str) -> list[str]:
    """What axe says of a page: all of it by day, of its colours by night."""
    options = OF_COLOUR if theme == "Night" else QUICK
    found = Axe().run(page, options=options).response["violations"]
    return [
        f"{violation['id']} at {page.url}: {node['html'][:160]}"
        for violation in found
        for node in violation["nodes"][:3]
    ]


@pytest.mark.parametrize(("size", "theme"), [(DESK, "Day"), (PHONE, "Day"), (DESK, "Night")])
def test_axe_finds_nothing_on_any_page(new_page: Any, theme: str, size: tuple[int, int]) -> None:
    demo_again()
    page = new_page(*size)
    page.goto("/log-in/")
    if theme == "Night":
        page.get_by_role("button", name="Night").click()
    troubles = complaints(page, theme)
    page.goto("/sign-up/")
    troubles += complaints(page, theme)
    enter_demo(page)
    for path in every_page():
        page.goto(path)
        troubles += complaints(page, theme)
    assert troubles == []


@pytest.mark.parametrize("theme", ["Day", "Night"])
@pytest.mark.parametrize("size", [DESK, PHONE])
def test_axe_finds_nothing_on_the_bench_with_all_that_opens(
    new_page: Any, theme: str, size: tuple[int, int]
) -> None:
    demo_again()
    page = new_page(*size)
    page.goto("/log-in/")
    if theme == "Night":
        page.get_by_role("button", name="Night").click()
    enter_demo(page)
    troubles: list[str] = []
    page.locator("#about summary").click()
    page.locator("#wants summary").click()
    for tile in ("light", "focus", "picture", "noise", "white", "clip", "motion", "level"):
        open_tile(page, tile)
        if tile == "motion":
            page.locator("#moves summary").click()
        if tile == "level":
            page.locator("#more-1 summary").click()
        troubles += complaints(page, theme)
    page.locator("#f-iris").fill("wide")
    page.keyboard.press("Tab")
    page.locator("#e-iris").wait_for()
    troubles += complaints(page, theme)
    page.locator(".strip-findings").click()
    troubles += complaints(page, theme)
    page.keyboard.press("Escape")
    if size[0] > 900:
        page.keyboard.press("Escape")
        page.locator(".bench-head h1").click()
        page.keyboard.press("?")
        page.locator("#keys[open]").wait_for()
        troubles += complaints(page, theme)
        page.keyboard.press("Escape")
        page.keyboard.press("p")
        page.locator(".plan-row").first.wait_for()
        troubles += complaints(page, theme)
        page.keyboard.press("x")
        page.locator("#methods .methods").wait_for()
        troubles += complaints(page, theme)
        page.keyboard.press("v")
        page.locator("#play[open] svg").wait_for()
        troubles += complaints(page, theme)
    assert troubles == []


@pytest.mark.parametrize("theme", ["Day", "Night"])
@pytest.mark.parametrize("size", [DESK, PHONE])
def test_axe_finds_nothing_at_the_spot_and_afterwards(
    new_page: Any, theme: str, size: tuple[int, int]
) -> None:
    demo_again()
    page = new_page(*size)
    page.goto("/log-in/")
    if theme == "Night":
        page.get_by_role("button", name="Night").click()
    enter_demo(page)
    run, trolley = Take.objects.get(uid="demo-1"), Take.objects.get(uid="demo-6")
    frames = list(TakePicture.objects.filter(uid__startswith="frame-"))
    shoot, setup = run.shoot_id, trolley.setup_key
    day = Setup.objects.get(pk=setup).day_id
    chosen = "&".join(f"p={one.pk}" for one in frames)
    troubles: list[str] = []
    for path in (
        "field/", f"field/{setup}/", f"field/{setup}/light/?read=EV+11", f"field/{setup}/take/",
        f"field/{setup}/?big=1", f"field/left/{day}/", f"field/day/{day}/", f"field/takes/{trolley.pk}/", "crew/",
        "takes/", "takes/home/", "takes/teaching/", f"takes/setup/{setup}/",
        "takes/edit/?bpm=92&length=0:20", "takes/edit/?bpm=fast&length=0:20", f"takes/row/?{chosen}",
        f"takes/{run.pk}/run/", f"takes/{run.pk}/burst/", f"takes/picture/{frames[0].pk}/",
    ):  # fmt: skip
        answer = page.goto(f"/shoots/{shoot}/{path}")
        assert answer is not None
        assert answer.status in (200, 422), path
        troubles += complaints(page, theme)
        wide = page.evaluate("document.documentElement.scrollWidth")
        assert wide <= size[0], path
    assert troubles == []
