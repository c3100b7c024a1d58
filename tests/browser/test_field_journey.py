"""The field pages in Chromium: a card, other light, takes, and what remains, by thumb and by keys."""

from typing import Any

import pytest
from playwright.sync_api import Page, expect

from fotonomy.field.models import Take
from fotonomy.shoots.models import Setup
from tests.browser.conftest import enter_demo
from tests.demo_copy import demo_again, nothing_shot


@pytest.fixture
def phone(new_page: Any, transactional_db: None) -> Page:
    """A phone inside the demo, on its list of the first day."""
    demo_again()
    nothing_shot()
    page: Page = new_page(390, 844, has_touch=True)
    enter_demo(page)
    page.get_by_role("link", name="Field", exact=True).tap()
    page.locator("h1", has_text="Keel to Tide").wait_for()
    return page


def test_two_presses_log_a_take(phone: Page) -> None:
    phone.get_by_role("link", name="5A Launch, side pass").tap()
    expect(phone.locator(".values")).to_contain_text("25 fps")
    phone.get_by_role("link", name="Log a take").tap()
    phone.get_by_role("button", name="Keep").tap()
    expect(phone.locator("#messages")).to_contain_text("take 1 kept: good")
    take = Take.objects.get()
    assert take.verdict == "good"
    assert take.differed == {}
    # A second one: no good, an iris one step on, a reason, a length by the watch.
    phone.get_by_role("link", name="Log a take").tap()
    phone.get_by_label("no good").check()
    iris = phone.locator("#t-iris")
    planned = iris.input_value()
    phone.get_by_role("button", name="Iris one step on").tap()
    expect(iris).not_to_have_value(planned)
    phone.get_by_label("cloud").check()
    phone.get_by_role("button", name="Start the watch").tap()
    phone.get_by_role("button", name="Stop at").tap()
    expect(phone.locator("#t-length")).to_have_value("0:00")
    phone.locator("#t-length").fill("0:14")
    phone.get_by_role("button", name="Keep").tap()
    expect(phone.locator("#messages")).to_contain_text("take 2 kept: no good")
    second = Take.objects.get(number=2)
    assert list(second.differed) == ["iris"]
    assert (second.why, second.length_s) == (["cloud"], 14)
    # The list of the day and what remains know both.
    phone.get_by_role("link", name="the day", exact=True).tap()
    expect(phone.locator(".day-list")).to_contain_text("1 good of 2")
    phone.get_by_role("link", name="What remains").tap()
    expect(phone.locator(".said")).to_contain_text("1 of 10 setups have a good take")
    phone.get_by_role("button", name="Undo: 5A Launch, side pass, take 2 logged").tap()
    expect(phone.locator("#messages")).to_contain_text("Undone")
    assert Take.objects.count() == 1


def test_the_light_differs(phone: Page) -> None:
    phone.get_by_role("link", name="5A Launch, side pass").tap()
    phone.get_by_role("link", name="Light differs").tap()
    phone.get_by_role("button", name="−1⅓").tap()
    expect(phone.locator(".said")).to_contain_text("1.3 stops less")
    phone.locator("#l-read").fill("murky")
    phone.get_by_role("button", name="Look").tap()
    expect(phone.locator(".field-error")).to_be_visible()
    expect(phone.locator("#l-read")).to_have_value("murky")
    phone.locator("#l-read").fill("10.6")
    phone.locator("#l-read").press("Enter")
    expect(phone.locator(".said")).to_contain_text("now 10.6: 1 stop less")
    way = phone.locator(".ways li", has=phone.locator("b", has_text="ISO")).first
    words = way.locator("b").inner_text()
    way.get_by_role("button", name="use", exact=True).tap()
    expect(phone.locator("#messages")).to_contain_text(words)
    expect(phone.locator(".values")).to_contain_text(words.removeprefix("ISO ").split(",")[0])
    assert Setup.objects.get(code="5A").light == {"ev100": 10.6}


def test_swiped_to_the_next_and_ticked_before(phone: Page) -> None:
    phone.get_by_role("link", name="5A Launch, side pass").tap()
    phone.get_by_label("lens wiped").check()
    phone.reload()
    expect(phone.get_by_label("lens wiped")).to_be_checked()
    swipe = """([from, to]) => { const node = document.querySelector(".values");
        for (const [name, x] of [["touchstart", from], ["touchend", to]]) {
          const touch = new Touch({ identifier: 1, target: node, clientX: x, clientY: 300 });
          node.dispatchEvent(new TouchEvent(name, { bubbles: true, changedTouches: [touch],
            touches: name === "touchstart" ? [touch] : [] })); } }"""
    phone.evaluate(swipe, [300, 60])
    expect(phone.locator("h1")).to_have_text("5B Gulls off the mast")
    expect(phone.get_by_label("lens wiped")).not_to_be_checked()
    phone.evaluate(swipe, [60, 300])
    expect(phone.locator("h1")).to_have_text("5A Launch, side pass")
    # A short or a steep one is none.
    phone.evaluate(swipe, [200, 140])
    expect(phone.locator("h1")).to_have_text("5A Launch, side pass")


PAGES = ("", "light/?read=-1", "take/", "?big=1")


@pytest.mark.parametrize("theme", ["sun", "day", "night"])
def test_every_page_fits_a_thumb_in_every_light(phone: Page, theme: str) -> None:
    row = Setup.objects.get(code="6A")
    start = f"/shoots/{row.shoot_id}/field/"
    phone.goto(start)
    phone.get_by_role("button", name=theme, exact=True).tap()
    expect(phone.locator("html")).to_have_attribute("data-theme", theme)
    addresses = [start, f"{start}left/{row.day_id}/", *(f"{start}{row.pk}/{one}" for one in PAGES)]
    for wide in (320, 390):
        phone.set_viewport_size({"width": wide, "height": 740})
        for address in addresses:
            phone.goto(address)
            assert phone.evaluate("document.documentElement.scrollWidth") <= wide, address
            small = phone.evaluate(
                """() => [...document.querySelectorAll("a, button, input, label")].filter((node) => {
                    const box = node.getBoundingClientRect();
                    const inside = node.closest(".more, .told, .skip, p") && node.tagName === "A";
                    const alone = node.tagName === "LABEL" && !node.querySelector("input");
                    return box.width && !inside && !alone && node.type !== "hidden" &&
                      !node.closest(".skip") && (box.height < 43.5 && !node.closest("label"));
                  }).map((node) => node.outerHTML.slice(0, 90))"""
            )
            assert small == [], (address, small)
            least = phone.evaluate(
                """() => Math.min(...[...document.querySelectorAll("main *, header *")].filter((node) =>
                    [...node.childNodes].some((part) => part.nodeType === 3 && part.data.trim()) &&
                    node.getBoundingClientRect().width > 1).map((node) =>
                    parseFloat(getComputedStyle(node).fontSize)))"""
            )
            assert least >= 13, address


def test_without_scripts_takes_are_logged(new_page: Any, transactional_db: None) -> None:
    demo_again()
    nothing_shot()
    page = new_page(390, 844, java_script_enabled=False)
    enter_demo(page, scripts=False)
    row = Setup.objects.get(code="4B")
    page.goto(f"/shoots/{row.shoot_id}/field/{row.pk}/take/")
    page.locator("#t-iris").fill("f/5.6")
    page.get_by_role("button", name="Keep").click()
    expect(page.locator("#messages")).to_contain_text("take 1 kept: good")
    assert Take.objects.get().differed == {"iris": "f/5.6"}
    page.get_by_role("link", name="Light differs").click()
    page.get_by_role("button", name="−1", exact=True).click()
    page.get_by_role("button", name="use", exact=True).first.click()
    assert Setup.objects.get(code="4B").light != row.light
