"""A window of another size than the last visit's, and a phone's head: one row, everything in it."""

from typing import Any

import pytest
from playwright.sync_api import Page, expect

from fotonomy.shoots.models import Setup
from tests.browser.conftest import enter_demo
from tests.demo_copy import demo_again

pytestmark = pytest.mark.django_db(transaction=True)
PAGES = ("takes/", "{row}/", "{row}/plans/", "compare/", "day/{day}/dates/")


def said(page: Page) -> Any:
    return page.evaluate("document.documentElement.dataset.drawnFor")


def addresses() -> list[str]:
    row = Setup.objects.get(code="4B")
    day = row.shoot.first_day.pk
    return [f"/shoots/{row.shoot_id}/{one}".format(row=row.pk, day=day) for one in PAGES]


@pytest.mark.parametrize(("was", "size"), [("1280x800", (390, 844)), ("390x844", (1280, 800))])
def test_a_page_is_drawn_for_the_window_before_it_is_seen(
    new_page: Any, was: str, size: tuple[int, int]
) -> None:
    """The window changed its size since the last visit: nothing stands cut off or stays small."""
    demo_again()
    page: Page = new_page(*size)
    enter_demo(page)
    for address in addresses():
        page.evaluate(f"document.cookie = 'screen={was}; path=/'")
        page.goto(address)
        page.wait_for_load_state("networkidle")
        assert said(page) == f"{size[0]}x{size[1]}", address
        assert page.evaluate("document.documentElement.scrollWidth") <= size[0], address


def test_a_browser_that_keeps_no_cookie_is_not_sent_round_and_round(new_page: Any) -> None:
    demo_again()
    page: Page = new_page(390, 844)
    enter_demo(page)
    page.evaluate("document.cookie = 'screen=1280x800; path=/'")
    # It says what it likes, and what it is told is not kept.
    page.add_init_script("""Object.defineProperty(document, "cookie", {
      get: () => "", set: () => true, configurable: true })""")
    loads: list[str] = []
    page.on("framenavigated", lambda frame: loads.append(frame.url))
    page.goto(addresses()[0])
    page.wait_for_load_state("networkidle")
    assert len(loads) == 1
    assert said(page) == "1280x800"


@pytest.mark.parametrize("wide", [320, 390])
def test_a_phones_head_is_one_row_with_everything_in_it(new_page: Any, wide: int) -> None:
    demo_again()
    page: Page = new_page(wide, 844, has_touch=True, is_mobile=True)
    enter_demo(page)
    for address in addresses():
        page.goto(address)
        box = page.locator(".top").bounding_box()
        assert box is not None
        assert box["height"] == 52
    page.locator(".menu summary").tap()
    menu = page.locator(".menu-body")
    expect(menu.get_by_role("link", name="Keel to Tide")).to_be_visible()
    expect(menu).to_contain_text("demo")
    menu.get_by_role("button", name="Night theme").tap()
    expect(page.locator("html")).to_have_attribute("data-theme", "night")
    # The last of the views is reached by a finger.
    page.get_by_role("link", name="Guide", exact=True).tap()
    page.wait_for_url("**/guide/**")


def test_across_a_phones_strip_is_one_line(new_page: Any) -> None:
    demo_again()
    page: Page = new_page(844, 390)
    enter_demo(page)
    page.goto(addresses()[1])
    box = page.locator(".strip").bounding_box()
    assert box is not None
    assert box["height"] == 44
    assert box["y"] + box["height"] == 390
