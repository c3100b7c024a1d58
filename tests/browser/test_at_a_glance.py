"""The bench at one glance, measured in Chromium: what is in sight, and how the drawings are set.

The limits are the program's own promise: every tile in sight at 1280 by 800, two screens on a
phone, nothing under 12 px (14 on a phone), no label on another, none cut off.
"""

import re
from typing import Any

import pytest
from playwright.sync_api import Page, expect

from fotonomy.shoots.models import Setup
from tests.browser.conftest import at_bench, enter_demo, resting
from tests.demo_copy import demo_again

pytestmark = pytest.mark.django_db(transaction=True)

DESK, PHONE = (1280, 800), (390, 844)
CODES = ("1A", "1B", "2A", "3A", "4A", "4B", "4C", "5A", "5B", "6A", "7A", "8A")
# One setup of each shape of bench: video, interval, burst, long exposure.
SHAPES = ("4B", "8A", "5B", "6A")

TILES = """() => {
  const strip = document.querySelector(".strip").getBoundingClientRect();
  return [...document.querySelectorAll(".tile")].map((tile) => {
    const box = tile.getBoundingClientRect();
    const picture = tile.querySelector("svg, img, .tile-empty")?.getBoundingClientRect();
    return {
      name: tile.dataset.tile,
      verdict: tile.querySelector("p.verdict").innerText.trim(),
      drawn: Boolean(picture && picture.width > 40 && picture.height > 12),
      inSight: box.top >= 0 && box.left >= 0 && box.right <= innerWidth && box.bottom <= strip.top,
    };
  });
}"""

# Labels of drawings: too small, cut off, or on another. Type's own box is taller than its letters.
LABELS = """(least) => {
  const troubles = [];
  for (const svg of document.querySelectorAll("#bench svg")) {
    if (!svg.checkVisibility()) continue;
    const frame = svg.getBoundingClientRect();
    const around = svg.closest(".tile-drawing, .stage, .scope").getBoundingClientRect();
    const said = svg.getAttribute("aria-label").split(".")[0];
    if (frame.width > svg.width.baseVal.value + 0.6 || frame.width < svg.width.baseVal.value - 0.6)
      troubles.push(`${said}: scaled to ${frame.width}`);
    if (frame.left < around.left - 1 || frame.right > around.right + 1)
      troubles.push(`${said}: cut by its tile`);
    const boxes = [...svg.querySelectorAll("text")].map((text) => {
      const box = text.getBoundingClientRect();
      const size = parseFloat(getComputedStyle(text).fontSize);
      if (size < least) troubles.push(`${said}: "${text.textContent}" at ${size} px`);
      const off = (box.height - size) / 2 + 1.5;
      return { text: text.textContent, left: box.left, right: box.right,
               top: box.top + off, bottom: box.bottom - off };
    });
    boxes.forEach((box, k) => {
      if (box.left < frame.left - 1.5 || box.right > frame.right + 1.5 || box.top < frame.top - 1.5
          || box.bottom > frame.bottom + 1.5) troubles.push(`${said}: "${box.text}" is cut off`);
      for (const other of boxes.slice(k + 1))
        if (box.left < other.right - 1 && other.left < box.right - 1
            && box.top < other.bottom && other.top < box.bottom)
          troubles.push(`${said}: "${box.text}" lies on "${other.text}"`);
    });
  }
  return troubles;
}"""

# Visible words of the page that are set too small.
SMALL = """(least) => {
  const small = new Set();
  const walk = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT);
  while (walk.nextNode()) {
    const parent = walk.currentNode.parentElement;
    if (!walk.currentNode.textContent.trim() || !parent.checkVisibility({opacityProperty: true}))
      continue;
    const box = parent.getBoundingClientRect();
    if (box.width <= 1 || parent.closest("option, datalist, script, style, .sr")) continue;
    const size = parseFloat(getComputedStyle(parent).fontSize);
    if (size < least) small.add(`${parent.tagName}.${parent.className}: ${size} px`);
  }
  return [...small];
}"""


def addresses(codes: tuple[str, ...]) -> dict[str, str]:
    rows = Setup.objects.filter(code__in=codes, shoot__name="Keel to Tide")
    return {row.code: row.get_absolute_url() for row in rows}


def show(page: Page, address: str, opened: str) -> None:
    page.goto(f"{address}?open={opened}")
    page.evaluate("document.fonts.ready")


def themed(new_page: Any, size: tuple[int, int], theme: str) -> Page:
    demo_again()
    page: Page = new_page(*size)
    page.goto("/log-in/")
    if theme == "night":
        page.get_by_role("button", name="Night").click()
    enter_demo(page)
    return page


@pytest.mark.parametrize("theme", ["day", "night"])
def test_every_tile_is_in_sight_at_a_desk(new_page: Any, theme: str) -> None:
    page = themed(new_page, DESK, theme)
    for code, address in addresses(CODES).items():
        show(page, address, "none")
        tiles = page.evaluate(TILES)
        assert len(tiles) >= 8
        for tile in tiles:
            assert tile["inSight"], (code, tile)
            assert tile["verdict"], (code, tile)
            assert tile["drawn"], (code, tile)
        assert page.evaluate(LABELS, 12) == [], code
        assert page.evaluate(SMALL, 12) == [], code
        assert page.evaluate("document.documentElement.scrollWidth") <= DESK[0]


@pytest.mark.parametrize("theme", ["day", "night"])
def test_a_phone_shows_it_all_on_two_screens(new_page: Any, theme: str) -> None:
    page = themed(new_page, PHONE, theme)
    for code, address in addresses(CODES).items():
        show(page, address, "none")
        assert page.evaluate("document.documentElement.scrollHeight") <= 2 * PHONE[1], code
        assert page.evaluate("document.documentElement.scrollWidth") <= PHONE[0], code
        assert page.evaluate(LABELS, 14) == [], code
        assert page.evaluate(SMALL, 14) == [], code
        assert all(tile["verdict"] for tile in page.evaluate(TILES)), code


@pytest.mark.parametrize(
    ("size", "theme"),
    [(DESK, "day"), (PHONE, "night"), ((1024, 768), "night"), ((1920, 1080), "day")],
    ids=["desk", "phone", "small desk", "large desk"],
)
def test_every_open_tile_is_drawn_for_its_place(
    new_page: Any, size: tuple[int, int], theme: str
) -> None:
    page = themed(new_page, size, theme)
    least = 14 if size is PHONE else 12
    for code, address in addresses(SHAPES).items():
        show(page, address, "none")
        names = page.locator("h2 a[data-open]").evaluate_all(
            "all => all.map((a) => a.dataset.open)"
        )
        for name in ("none", *names):
            show(page, address, name)
            assert page.evaluate(LABELS, least) == [], (code, name)
            assert page.evaluate(SMALL, least) == [], (code, name)
            wide = page.evaluate("document.documentElement.scrollWidth")
            assert wide <= size[0], (code, name)


def test_a_tile_opens_by_key_press_and_link_and_the_focus_comes_back(demo_page: Page) -> None:
    page = demo_page
    page.locator("h1").click()
    page.keyboard.press("3")
    expect(page.locator("#stage.tile-level")).to_be_focused()
    # Beside it everything else still answers.
    expect(page.locator(".others .tile")).to_have_count(7)
    page.keyboard.press("i")
    page.keyboard.press("ArrowRight")
    expect(page.locator(".others [data-tile=light] p.verdict")).to_contain_text("0.3 stops under")
    page.keyboard.press("Escape")
    expect(page.locator("#stage")).to_have_count(0)
    expect(page.locator("#open-level")).to_be_focused()
    page.keyboard.press("Enter")
    expect(page.locator("#stage.tile-level")).to_be_focused()
    # Reload and back keep it; the address says what is open.
    page.reload()
    expect(page.locator("#stage.tile-level")).to_be_visible()
    page.locator(".bench-page[data-ready]").wait_for()
    page.locator("#open-noise").click()
    expect(page.locator("#stage.tile-noise")).to_be_visible()
    page.go_back()
    expect(page.locator("#stage.tile-level")).to_be_visible()
    page.locator("h1").click()
    page.keyboard.press("3")
    expect(page.locator("#stage")).to_have_count(0)


def test_what_is_open_is_remembered_for_each_kind(demo_page: Page) -> None:
    page = demo_page
    page.locator("#open-motion").click()
    page.locator("#stage.tile-motion").wait_for()
    # An interval run lives from its run; the burst from the burst; slow motion from what was open.
    for setup, opened in (("8A", "run"), ("5B", "burst"), ("2A", "motion")):
        page.locator(".row", has_text=setup).locator("a").click()
        at_bench(page, setup)
        expect(page.locator(f"#stage.tile-{opened}")).to_be_visible()
    page.locator("#open-motion").click()
    expect(page.locator("#stage")).to_have_count(0)
    page.locator(".row", has_text="4B").locator("a").click()
    at_bench(page, "4B")
    expect(page.locator("#stage")).to_have_count(0)


def test_a_letter_leads_to_a_field_of_a_closed_tile(demo_page: Page) -> None:
    page = demo_page
    page.locator("h1").click()
    page.keyboard.press("l")
    expect(page.locator("#f-light")).to_be_focused()
    page.keyboard.type("11.3")
    page.keyboard.press("Enter")
    expect(page.locator("#stage p.verdict")).to_contain_text("Too dark by 1 stop")
    page.locator("h1").click()
    page.keyboard.press("d")
    expect(page.locator("#f-subject_distance_m")).to_be_focused()


@pytest.mark.parametrize(
    ("key", "panel"), [("p", "plans"), ("x", "methods"), ("!", "findings")]
)  # fmt: skip
def test_a_panel_takes_the_focus_and_gives_it_back(demo_page: Page, key: str, panel: str) -> None:
    page = demo_page
    page.keyboard.press("i")
    track = page.get_by_role("slider", name="Iris scale")
    expect(track).to_be_focused()
    page.keyboard.press(key)
    expect(page.locator(f"#{panel}")).to_be_focused()
    page.keyboard.press("Escape")
    expect(page.locator(f"#{panel}")).to_be_hidden()
    expect(track).to_be_focused()


def test_a_bar_of_the_budget_is_dragged_by_marks_in_one_step(demo_page: Page) -> None:
    page = demo_page
    page.locator("#open-light").click()
    bar = page.locator("#stage rect[data-setting=iris]")
    box = resting(page, "#stage rect[data-setting=iris]")
    stop = float(bar.get_attribute("data-stop") or 0)
    x, y = box["x"] + 4, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    # To the left is less light: a stop and a third is f/4 to f/6.3.
    for k in range(1, 9):
        page.mouse.move(x - stop * 1.33 * k / 8, y)
    page.mouse.up()
    expect(page.locator("#f-iris")).to_have_value("f/6.3")
    page.locator("h1").click()
    page.keyboard.press("z")
    expect(page.locator("#f-iris")).to_have_value("f/4")


def test_the_focus_and_the_depth_wanted_are_dragged(demo_page: Page) -> None:
    page = demo_page
    page.locator("#open-focus").click()
    page.locator("#f-depth_m").fill("80 cm")
    page.keyboard.press("Tab")
    expect(page.locator("#f-depth_m")).to_have_value("80 cm")

    def drag(selector: str, way: float) -> None:
        box = resting(page, selector)
        x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] - 3
        page.mouse.move(x, y)
        page.mouse.down()
        page.mouse.move(x + way / 2, y)
        page.mouse.move(x + way, y)
        page.mouse.up()

    grip = page.locator("#stage rect[data-decade]:not([data-wanted])")
    decade = float(grip.get_attribute("data-decade") or 0)
    # A tenth of a decade farther is a quarter more: 2.5 m becomes 3.15 m.
    drag("#stage rect[data-decade]:not([data-wanted])", decade / 10)
    expect(page.locator("#f-subject_distance_m")).to_have_value("3.15 m")
    page.locator("h1").click()
    page.keyboard.press("z")
    expect(page.locator("#f-subject_distance_m")).to_have_value("2.5 m")
    drag("#stage rect[data-wanted]", 30)
    expect(page.locator("#f-depth_m")).not_to_have_value("80 cm")
    page.locator("h1").click()
    page.keyboard.press("z")
    expect(page.locator("#f-depth_m")).to_have_value("80 cm")


def test_a_window_that_changes_takes_nothing_half_typed_away(demo_page: Page) -> None:
    page = demo_page
    page.locator("#open-focus").click()
    field = page.locator("#f-subject_distance_m")
    field.fill("")
    field.press_sequentially("3.")
    page.set_viewport_size({"width": 1024, "height": 768})
    page.wait_for_timeout(700)
    expect(field).to_have_value("3.")
    field.press_sequentially("2")
    field.press("Enter")
    expect(field).to_have_value("3.2 m")
    # Now that it is saved the drawings are made for the other window.
    expect(page.locator("#stage figure svg").first).to_have_attribute("width", "430")


def test_a_word_opens_its_explanation_and_esc_closes_that_alone(demo_page: Page) -> None:
    show(demo_page, addresses(("4B",))["4B"], "motion")
    demo_page.locator("[data-scale=shutter] .term").click()
    box = demo_page.locator(".word-box:popover-open")
    box.get_by_text("The part of each frame's time").wait_for()
    demo_page.keyboard.press("Escape")
    box.wait_for(state="detached")
    assert demo_page.url.endswith("open=motion")
    assert demo_page.evaluate("document.activeElement.id") == "f-shutter"
    demo_page.locator("#f-iso").focus()
    demo_page.keyboard.press("F1")
    box.get_by_text("How much the camera amplifies").wait_for()
    demo_page.get_by_role("link", name="All words").click()
    demo_page.wait_for_url("**/guide/words/#iso")


def test_on_a_phone_a_press_on_a_setting_opens_it_and_not_its_word(new_page: Any) -> None:
    demo_again()
    page = new_page(390, 844)
    enter_demo(page)
    page.locator("[data-scale=iso] .term").click()
    expect(page.locator("[data-scale=iso]")).to_have_class(re.compile("is-open"))
    expect(page.locator(".word-box:popover-open")).to_have_count(0)
    page.locator("[data-scale=iso] .term").click()
    page.locator(".word-box:popover-open").get_by_text("How much the camera amplifies").wait_for()
