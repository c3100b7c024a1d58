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


@pytest.mark.parametrize("wide", [320, 390])
def test_nothing_scrolls_sideways_on_the_bench_of_any_setup(new_page: Any, wide: int) -> None:
    demo_again()
    page: Page = new_page(wide, 700)
    enter_demo(page)
    over = []
    for row in Setup.objects.filter(shoot__name="Keel to Tide"):
        for part in ("", "program/"):
            page.goto(f"{row.get_absolute_url()}{part}")
            page.wait_for_load_state("networkidle")
            found = page.evaluate("document.scrollingElement.scrollWidth - innerWidth")
            if found > 0:
                over.append((row.code, part, found))
    assert over == []


def test_the_focus_goes_to_what_took_the_place(demo_page: Page) -> None:
    """A way out that was taken, a copy, a deletion: never to the top of the page."""
    page = demo_page
    at = "document.activeElement.id || document.activeElement.className"
    page.get_by_role("button", name="Copy", exact=True).focus()
    page.keyboard.press("Enter")
    page.locator("h1", has_text="copy").wait_for()
    page.locator(".bench-page[data-ready]").wait_for()
    copied = Setup.objects.get(title__contains="copy")
    assert page.evaluate(at) == f"line-{copied.pk}"
    page.get_by_role("button", name="Delete", exact=True).focus()
    page.keyboard.press("Enter")
    expect(page.locator("#messages")).to_contain_text("deleted")
    assert page.evaluate(at).startswith("line-")
    page.goto("/shoots/")
    page.get_by_role("link", name="Keel to Tide").first.click()
    page.locator(".row", has=page.locator(".count")).first.locator("a").click()
    page.locator(".bench-page[data-ready]").wait_for()
    page.keyboard.press("!")
    fix = page.locator("#findings .fix").first
    fix.focus()
    page.keyboard.press("Enter")
    page.wait_for_load_state("networkidle")
    expect(page.locator("#undo-form button")).to_be_enabled()
    assert page.evaluate("document.activeElement !== document.body")


def test_the_list_of_keys_opens_at_its_top(new_page: Any) -> None:
    demo_again()
    page: Page = new_page(1280, 600)
    enter_demo(page)
    page.keyboard.press("?")
    expect(page.locator("#keys-title")).to_be_focused()
    assert page.evaluate("document.getElementById('keys').scrollTop") == 0
    page.keyboard.press("Escape")
    expect(page.locator("#keys")).to_be_hidden()


def test_the_bench_leads_to_its_own_field_card(new_page: Any) -> None:
    demo_again()
    for size in ((1280, 800), (390, 844)):
        page: Page = new_page(*size)
        enter_demo(page)
        page.get_by_role("link", name="Field card").click()
        expect(page.locator("h1")).to_contain_text("4B")


def test_setup_and_gear_on_a_phone_shows_one_group_at_a_time(new_page: Any) -> None:
    demo_again()
    page = new_page(390, 844)
    page.goto("/log-in/")
    enter_demo(page)
    page.locator("#about summary").click()
    groups = page.locator(".about-group:visible")
    expect(groups).to_have_count(1)
    expect(page.locator("#f-title")).to_be_visible()
    page.locator(".about-tab", has_text="Camera, lens, filters").first.click()
    expect(groups).to_have_count(1)
    page.locator("#f-lens").select_option("Wide 20")
    expect(page.locator("#f-lens")).to_have_value("Wide 20")
    expect(page.locator("#f-title")).to_be_hidden()
    # A refused field is shown whichever group is chosen.
    page.locator(".about-tab", has_text="Light wanted").first.click()
    page.locator("#f-wants_ev").fill("plenty")
    page.locator("#f-wants_ev").press("Enter")
    page.locator(".about-tab", has_text="What").first.click()
    expect(page.locator("#e-wants_ev")).to_be_visible()
    expect(page.locator("#f-title")).to_be_visible()
