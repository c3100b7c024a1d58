"""Level and noise in a real browser: a back-lit scene, methods, zebras, frames."""

import re
from typing import Any

import pytest
from playwright.sync_api import Page, expect

from fotonomy.kit.models import Body
from fotonomy.shoots.models import Setup
from tests.browser.conftest import enter_demo, open_tile
from tests.browser.test_bench_journey import strip
from tests.demo_copy import demo_again

pytestmark = pytest.mark.django_db(transaction=True)


def test_a_back_lit_scene_from_nothing_to_zebras(demo_page: Page) -> None:
    page = demo_page
    open_tile(page, "level")
    page.locator("#f-scene").select_option(label="back-lit interior")
    expect(page.locator(".reading")).to_have_count(4)
    # The light was metered: it stays until the scene's own is asked for.
    kept = Setup.objects.get(code="4B").light
    page.get_by_role("button", name="Take its usual light and white: EV 8, 5600 K").click()
    expect(strip(page, "White")).to_contain_text("5600 K")
    assert Setup.objects.get(code="4B").light != kept
    face = page.locator("#f-reading-2-stops")
    expect(face).to_have_value("−0.6")
    # Read again on the spot, in EV: the room is EV 8.
    face.fill("7.0 EV")
    page.keyboard.press("Tab")
    expect(face).to_have_value("−1.0")
    page.locator("h1").click()
    # The methods side by side, one of them advised, each with its price.
    page.keyboard.press("x")
    methods = page.locator("#methods table.methods tbody tr")
    expect(methods).to_have_count(7)
    skin = methods.filter(has_text="skin at its mark").first
    expect(page.locator("#methods .advised")).to_have_count(1)
    expect(skin).to_contain_text("window by")
    skin.get_by_role("button", name="Pick").click()
    expect(skin).to_contain_text("in force")
    page.locator("[data-methods-close]").click()
    # Zebra one sits on the face now, at the log's own mark for skin, 52 %.
    expect(strip(page, "Zebra 1")).to_contain_text("52 ± 2 %")
    expect(strip(page, "Zebra 1")).to_contain_text("face, shaded side")
    expect(strip(page, "Zebra 2")).to_contain_text("92 % up")
    # Another profile moves both, and says so.
    page.get_by_role("button", name="Flat log: change the profile").click()
    expect(page.locator("#f-profile")).to_be_focused()
    page.locator("#f-profile").select_option("Video")
    expect(page.locator("#messages")).to_contain_text("zebra 1 from 52 ± 2 % to 70 ± 2 %")
    expect(page.locator("#messages")).to_contain_text("zebra 2 from 92 % to 109 %")
    expect(strip(page, "Zebra 2")).to_contain_text("109 % up")
    row = Setup.objects.get(code="4B")
    assert row.intent["exposing"] == "skin"
    assert row.readings[2]["stops"] == pytest.approx(-1.0)


def test_a_reading_is_dragged_and_undone_in_one_step(demo_page: Page) -> None:
    page = demo_page
    open_tile(page, "level")
    hold = page.locator("#stage [data-reading='1']")
    hold.scroll_into_view_if_needed()
    box = hold.bounding_box()
    assert box
    stops = page.locator("#f-reading-1-stops")
    expect(stops).to_have_value("+1.4")
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    # A tenth of a stop on the screen, in pixels.
    tenth = hold.evaluate(
        "m => m.dataset.tenth * m.ownerSVGElement.clientWidth / m.ownerSVGElement.viewBox.baseVal.width"
    )
    page.mouse.move(x, y)
    page.mouse.down()
    for k in range(1, 11):
        page.mouse.move(x + k * 2 * tenth, y)
    page.mouse.up()
    # Twenty tenths along, whatever was sent on the way.
    expect(stops).to_have_value("+3.4")
    page.locator("h1").click()
    page.keyboard.press("z")
    expect(stops).to_have_value("+1.4")


def test_readings_by_keyboard(demo_page: Page) -> None:
    page = demo_page
    open_tile(page, "level")
    field = page.locator("#f-reading-1-stops")
    field.focus()
    page.keyboard.press("ArrowUp")
    expect(field).to_have_value("+1.5")
    page.keyboard.press("Shift+ArrowDown")
    expect(field).to_have_value("+0.5")
    expect(field).to_be_focused()
    page.locator("#more-1 summary").focus()
    page.keyboard.press("Enter")
    box = page.locator("#more-1 [name='reading-1-may_clip'][type=checkbox]")
    box.focus()
    page.keyboard.press("Space")
    expect(page.locator("#more-1")).to_have_attribute("open", "")
    page.locator("#f-reading-1-source_k").fill("household lamp")
    page.keyboard.press("Tab")
    expect(page.locator("[data-tile=white]")).to_contain_text("mired warmer")


def test_the_picture_follows_every_change(demo_page: Page) -> None:
    page = demo_page
    open_tile(page, "light")
    picture = page.locator("#monitor .monitor-picture")
    picture.scroll_into_view_if_needed()
    first = picture.get_attribute("src")
    with page.expect_response(re.compile(r"zebras\.jpg")) as answer:
        page.locator("#f-light").fill("13.5 EV")
        page.keyboard.press("Tab")
    assert answer.value.ok
    expect(picture).not_to_have_attribute("src", first or "")
    open_tile(page, "picture")
    page.locator("#f-monitor_view").select_option("stops")
    expect(picture).to_have_attribute("src", re.compile(r"/stops\.jpg"))
    expect(page.locator("#monitor .scope svg")).to_have_attribute(
        "aria-label", re.compile("cheek, bright side at")
    )
    # Loaded, not broken.
    expect(picture).to_have_js_property("naturalWidth", 960)


def test_calibrate_from_two_frames(demo_page: Page, tmp_path: Any) -> None:
    page = demo_page
    open_tile(page, "noise")
    page.locator("#stage a", has_text="measure it").click()
    paths = []
    for name in ("first", "second"):
        with page.expect_download() as download:
            page.get_by_role("link", name=name).first.click()
        path = tmp_path / f"{name}.png"
        download.value.save_as(path)
        paths.append(path)
    page.locator("#iso-1").fill("500")
    page.locator("#first-1").set_input_files(paths[0])
    page.locator("#second-1").set_input_files(paths[0])
    page.get_by_role("button", name="Measure", exact=True).click()
    expect(page.locator("#e-1")).to_contain_text("the same file")
    page.locator("#first-1").set_input_files(paths[0])
    page.locator("#second-1").set_input_files(paths[1])
    page.get_by_role("button", name="Measure", exact=True).click()
    expect(page.locator(".measured")).to_contain_text("1 pair at ISO 500")
    page.get_by_role("button", name="Save for A-cam").click()
    expect(page.locator(".messages")).to_contain_text("now uses its own noise")
    assert Body.objects.get(name="A-cam").full_well_e == pytest.approx(52_000, rel=0.1)


def test_level_on_a_phone(new_page: Any) -> None:
    demo_again()
    page = new_page(390, 844, has_touch=True, is_mobile=True)
    enter_demo(page, "7A Forge door")
    open_tile(page, "level")
    page.locator("[data-methods]").tap()
    expect(page.locator("#methods .methods")).to_be_visible()
    page.locator("#methods tr", has_text="slightly under").get_by_role("button").tap()
    page.locator("[data-methods-close]").tap()
    expect(page.locator("#f-exposing")).to_have_value("under")
    assert page.evaluate("document.documentElement.scrollWidth") <= 390
    page.locator("#f-reading_add").select_option("grey_card")
    expect(page.locator(".reading")).to_have_count(7)


def test_level_without_javascript(new_page: Any) -> None:
    demo_again()
    page = new_page(java_script_enabled=False)
    enter_demo(page, scripts=False)
    page.locator("#open-level").click()
    page.locator("[data-methods]").click()
    page.locator("tr", has_text="slightly under").get_by_role("button", name="Pick").click()
    expect(page.locator("#f-exposing")).to_have_value("under")
    page.locator("#f-reading-1-stops").fill("+2")
    page.locator("#f-reading_add").select_option("lamp")
    page.get_by_role("button", name="Plan", exact=True).click()
    expect(page.locator(".reading")).to_have_count(5)
    expect(page.locator("#f-reading-1-stops")).to_have_value("+2.0")
