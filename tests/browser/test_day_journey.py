"""The Day page in Chromium: dragged, stretched, moved by keys, undone; phone, night, no scripts."""

from typing import Any

import pytest
from playwright.sync_api import Page, expect

from fotonomy.shoots.models import Setup
from tests.browser.conftest import enter_demo, resting
from tests.demo_copy import demo_again

FERRY = '.block[aria-label^="6A"]'


def at_day(page: Page, scripts: bool = True) -> None:
    """The first day of the demo, from the bench."""
    page.get_by_role("link", name="Day", exact=True).click()
    if scripts:
        page.locator(".day-page[data-ready]").wait_for()
    page.locator("h1", has_text="Saturday 5 June 2027").wait_for()


def drag(page: Page, across: float, down: float = 0.0, edge: bool = False) -> None:
    """Drag the ferry by so many minutes, and px down; by its end to stretch it."""
    box = resting(page, f"{FERRY} .takes-bar")
    per_minute = float(page.locator("#day").get_attribute("data-px-min") or 0)
    x = box["x"] + (box["width"] - 3 if edge else box["width"] / 2)
    y = box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + across * per_minute / 2, y + down / 2, steps=3)
    page.mouse.move(x + across * per_minute, y + down, steps=3)
    page.mouse.up()


def says(page: Page, words: str) -> None:
    expect(page.locator(FERRY)).to_have_attribute("aria-label", words)


def test_a_setup_is_dragged_into_its_light_and_back(demo_page: Page) -> None:
    page = demo_page
    at_day(page)
    says(page, "6A Ferry lights over the estuary, 17:05 to 17:45, Outer jetty, does not fit")
    expect(page.locator(".fits")).to_contain_text("9 of 10 setups fit")
    drag(page, -20)
    says(page, "6A Ferry lights over the estuary, 16:45 to 17:25, Outer jetty")
    expect(page.locator(".fits")).to_contain_text("10 of 10 setups fit")
    expect(page.locator("#messages")).to_contain_text("At 16:45 it is 4 stops brighter")
    # What it changed is on the bench.
    assert Setup.objects.get(code="6A").light != {"ev100": 3.1}
    page.locator("#undo-form button").click()
    says(page, "6A Ferry lights over the estuary, 17:05 to 17:45, Outer jetty, does not fit")
    assert Setup.objects.get(code="6A").light == {"ev100": 3.1}
    page.locator("#redo-form button").click()
    says(page, "6A Ferry lights over the estuary, 16:45 to 17:25, Outer jetty")
    # A way out that is offered is one press.
    page.locator("#undo-form button").click()
    page.get_by_role("button", name="Move it to 16:48").click()
    expect(page.locator(".fits")).to_contain_text("10 of 10 setups fit")


def test_it_is_stretched_and_goes_to_another_place(demo_page: Page) -> None:
    page = demo_page
    at_day(page)
    drag(page, -20, edge=True)
    says(page, "6A Ferry lights over the estuary, 17:05 to 17:25, Outer jetty")
    row = page.locator(".day-row").nth(4).bounding_box()
    bar = resting(page, f"{FERRY} .takes-bar")
    assert row
    drag(page, 0, row["y"] + row["height"] / 2 - bar["y"] - bar["height"] / 2)
    says(page, "6A Ferry lights over the estuary, 17:05 to 17:25, Mast")
    ferry = Setup.objects.get(code="6A")
    assert (ferry.place.name, ferry.schedule["shoot_min"]) == ("Mast", 20)


def test_the_whole_of_it_by_keys(demo_page: Page) -> None:
    page = demo_page
    at_day(page)
    page.locator(FERRY).focus()
    for _ in range(4):
        page.keyboard.press("ArrowLeft")
    says(page, "6A Ferry lights over the estuary, 16:45 to 17:25, Outer jetty")
    # The focus is where it was, and all four are one step.
    expect(page.locator(FERRY)).to_be_focused()
    page.keyboard.press("z")
    says(page, "6A Ferry lights over the estuary, 17:05 to 17:45, Outer jetty, does not fit")
    page.locator(FERRY).focus()
    page.keyboard.press("Alt+ArrowLeft")
    says(page, "6A Ferry lights over the estuary, 17:05 to 17:40, Outer jetty, does not fit")
    page.keyboard.press("ArrowDown")
    says(page, "6A Ferry lights over the estuary, 17:05 to 17:40, Forge, does not fit")
    page.keyboard.press("Shift+ArrowRight")
    says(page, "6A Ferry lights over the estuary, 17:35 to 18:10, Forge, does not fit")


def test_a_press_takes_a_setup_in_hand_and_back_goes_back(demo_page: Page) -> None:
    page = demo_page
    at_day(page)
    launch = page.locator('.block[aria-label^="5A"]')
    launch.click()
    expect(page.locator(".in-hand h2")).to_have_text("5A Launch, side pass")
    expect(page.locator(".in-hand")).to_contain_text("back light, 11° off the lens")
    expect(page.locator(".day-compass svg")).to_have_attribute(
        "aria-label", "Compass. At 15:27 the sun stands at 315°, 10° high, the camera looks to 305°"
    )
    page.go_back()
    expect(page.locator(".in-hand h2")).to_have_text("1A Mill pond filling")
    # What is typed wrong stands beside its field and stays typed.
    page.locator("#move-fold summary").click()
    page.locator("#m-clock").fill("tea time")
    page.get_by_role("button", name="Move", exact=True).click()
    expect(page.locator(".in-hand .field-error")).to_contain_text("A time of day")
    expect(page.locator("#m-clock")).to_have_value("tea time")
    page.locator("#m-clock").fill("8:00")
    page.get_by_role("button", name="Move", exact=True).click()
    expect(page.locator('.block[aria-label^="1A"]')).to_have_attribute(
        "aria-label", "1A Mill pond filling, 08:00 to 08:25, Tern Slip, mill, does not fit"
    )


def test_a_move_made_without_a_line_is_sent_again(demo_page: Page) -> None:
    page = demo_page
    at_day(page)
    page.context.set_offline(True)
    drag(page, -20)
    expect(page.locator("#trouble")).to_be_visible()
    # The line is back: it goes out by itself.
    page.context.set_offline(False)
    says(page, "6A Ferry lights over the estuary, 16:45 to 17:25, Outer jetty")
    expect(page.locator("#trouble")).to_be_hidden()


@pytest.mark.parametrize("night", [False, True], ids=["day", "night"])
def test_on_a_phone_and_by_night(new_page: Any, night: bool) -> None:
    demo_again()
    page = new_page(390, 844, has_touch=True)
    if night:
        page.goto("/log-in/")
        page.get_by_role("button", name="Night").click()
    enter_demo(page)
    at_day(page)
    assert page.evaluate("document.documentElement.scrollWidth") <= 390
    smallest = page.evaluate(
        """() => Math.min(...[...document.querySelectorAll(".day *")].filter((node) =>
            [...node.childNodes].some((part) => part.nodeType === 3 && part.data.trim()) &&
            node.getBoundingClientRect().width).map((node) => parseFloat(getComputedStyle(node).fontSize)))"""
    )
    assert smallest >= 12
    page.locator(".day-lines a", has_text="6A Ferry").tap()
    expect(page.locator(".in-hand h2")).to_have_text("6A Ferry lights over the estuary")
    page.locator("#move-fold summary").tap()
    page.locator("#m-minutes").fill("20")
    page.get_by_role("button", name="Move", exact=True).tap()
    expect(page.locator(".fits")).to_contain_text("10 of 10 setups fit")


def test_no_label_of_the_hours_lies_on_another(demo_page: Page) -> None:
    page = demo_page
    at_day(page)
    page.evaluate("document.fonts.ready")
    lying = page.evaluate(
        """() => { const found = []; const texts = [...document.querySelectorAll(".day-hours text")];
        const boxes = texts.map((t) => t.getBoundingClientRect());
        for (let a = 0; a < texts.length; a++) for (let b = a + 1; b < texts.length; b++) {
          const x = Math.min(boxes[a].right, boxes[b].right) - Math.max(boxes[a].left, boxes[b].left);
          const y = Math.min(boxes[a].bottom, boxes[b].bottom) - Math.max(boxes[a].top, boxes[b].top);
          if (x > 2 && y > 3) found.push([texts[a].textContent, texts[b].textContent]); }
        return found; }"""
    )
    assert lying == []


def test_without_scripts_it_is_a_form(new_page: Any) -> None:
    demo_again()
    page = new_page(java_script_enabled=False)
    enter_demo(page, scripts=False)
    at_day(page, scripts=False)
    page.locator(FERRY).click()
    page.locator("#move-fold summary").click()
    page.locator("#m-clock").fill("16:45")
    page.get_by_role("button", name="Move", exact=True).click()
    expect(page.locator(".fits")).to_contain_text("10 of 10 setups fit")
    page.locator("#undo-form button").click()
    expect(page.locator(".fits")).to_contain_text("9 of 10 setups fit")


def test_the_day_is_arranged_and_taken_back(demo_page: Page) -> None:
    page = demo_page
    at_day(page)
    page.locator("#arrange summary").click()
    page.get_by_role("button", name="Arrange", exact=True).click()
    expect(page.locator("#messages")).to_contain_text("Arranged: 10 of 10 setups have an hour")
    expect(page.locator(".fits")).to_contain_text("10 of 10 setups fit")
    expect(page.locator(".clashes")).to_contain_text("Nothing collides")
    page.locator(".day-page[data-ready]").wait_for()
    page.locator("#undo-form button").click()
    says(page, "6A Ferry lights over the estuary, 17:05 to 17:45, Outer jetty, does not fit")
    expect(page.locator("#messages")).to_contain_text("Undone: day arranged")
