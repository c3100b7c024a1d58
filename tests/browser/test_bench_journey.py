"""The main job in a real browser: open a setup, turn its settings, keep them, take them back."""

import re
from typing import Any

import pytest
from playwright.sync_api import Page, expect

from fotonomy.shoots.models import Setup
from tests.browser.conftest import at_bench, enter_demo, open_tile
from tests.demo_copy import demo_again

pytestmark = pytest.mark.django_db(transaction=True)


def strip(page: Page, label: str) -> Any:
    return page.locator(f".strip-items > div:has(dt:text-is('{label}')) dd")


def settled(page: Page) -> None:
    page.locator(".bench-page:not([data-queue=busy]):not([data-queue=waiting])").wait_for()


def saved() -> Setup:
    return Setup.objects.get(code="4B")


def test_step_the_iris_by_keyboard_reload_and_undo(demo_page: Page) -> None:
    page = demo_page
    expect(strip(page, "Iris")).to_contain_text("f/4")
    page.keyboard.press("i")
    expect(page.get_by_role("slider", name="Iris scale")).to_be_focused()
    page.keyboard.press("ArrowRight")
    # Closing from f/4 to f/4.5 takes a third of a stop from a balanced budget.
    expect(strip(page, "Iris")).to_contain_text("f/4.5")
    expect(page.locator("figure svg text", has_text="Iris f/4.5")).to_contain_text("−4.3")
    light = page.locator("[data-tile=light] p.verdict")
    expect(light).to_contain_text("close, 0.3 stops under")
    expect(page.get_by_role("slider", name="Iris scale")).to_be_focused()
    assert saved().iris == 4.5
    page.keyboard.press("Shift+ArrowRight")
    expect(strip(page, "Iris")).to_contain_text("f/6.3")
    page.reload()
    iris = page.locator("#f-iris")
    expect(iris).to_have_value("f/6.3")
    page.keyboard.press("z")
    expect(iris).to_have_value("f/4.5")
    page.keyboard.press("z")
    expect(iris).to_have_value("f/4")
    expect(strip(page, "Iris")).to_have_text("f/450 mm")
    expect(page.locator("#messages")).to_contain_text("Undone: Iris")
    page.keyboard.press("y")
    expect(iris).to_have_value("f/4.5")
    assert saved().iris == 4.5


def test_presses_are_carried_out_in_their_order(demo_page: Page) -> None:
    page = demo_page
    page.keyboard.press("i")
    # As fast as keys go: presses may share an exchange, but page and database agree at the end.
    for key in ("ArrowRight", "ArrowRight", "z", "ArrowLeft", "z", "y"):
        page.keyboard.press(key)
    expect(page.locator("#messages")).to_contain_text("Redone: Iris")
    assert f"f/{saved().iris:g}" == page.locator("#f-iris").input_value()


def test_quick_presses_all_count(demo_page: Page) -> None:
    page = demo_page
    page.keyboard.press("i")
    for _ in range(6):
        page.keyboard.press("ArrowRight")
    expect(strip(page, "Iris")).to_contain_text("f/8")
    expect(page.locator("#f-iris")).to_have_value("f/8")
    assert saved().iris == 8


def test_a_typed_value_with_units_and_comma(demo_page: Page) -> None:
    page = demo_page
    open_tile(page, "light")
    page.locator("#f-light").fill("8000 lux")
    page.keyboard.press("Tab")
    expect(page.locator(".equal")).to_contain_text("EV 11.6")
    open_tile(page, "focus")
    page.locator("#f-subject_distance_m").fill("2,5")
    page.keyboard.press("Tab")
    expect(page.locator("#f-subject_distance_m")).to_have_value("2.5 m")
    page.locator("#f-nd_density").fill("ND4")
    page.keyboard.press("Enter")
    expect(strip(page, "ND")).to_contain_text("ND 0.6")
    assert saved().nd_density == 0.6


def test_a_wrong_value_is_kept_beside_its_error_and_the_plan_stands(demo_page: Page) -> None:
    page = demo_page
    page.locator("#f-iris").fill("f/900")
    page.keyboard.press("Tab")
    error = page.locator("#e-iris")
    expect(error).to_contain_text("f-number")
    expect(page.locator("#f-iris")).to_have_value("f/900")
    expect(strip(page, "Iris")).to_contain_text("f/4")
    # Another field changes; the wrong text and its error stay.
    open_tile(page, "light")
    expect(page.locator("#f-iris")).to_have_value("f/900")
    page.locator("#f-light").fill("11")
    page.keyboard.press("Tab")
    expect(page.locator(".equal")).to_contain_text("EV 11 ")
    expect(page.locator("#f-iris")).to_have_value("f/900")
    expect(error).to_be_visible()
    page.locator("#f-iris").fill("5,6")
    page.keyboard.press("Tab")
    expect(error).to_have_count(0)
    expect(strip(page, "Iris")).to_contain_text("f/5.6")


def test_a_fix_is_one_press(demo_page: Page) -> None:
    page = demo_page
    page.locator(".strip-findings").click()
    flicker = page.locator("#findings [data-finding='flicker.mains']")
    expect(flicker).to_contain_text("63.7 %")
    flicker.locator(".fix").first.click()
    expect(flicker).to_have_count(0)
    expect(strip(page, "Shutter")).to_contain_text("360°")
    expect(strip(page, "ND")).to_contain_text("ND 1.2")
    expect(page.locator(".findings")).to_be_visible()
    row = saved()
    assert (row.shutter_angle_deg, row.nd_density) == (360, 1.2)


def test_drag_and_press_a_scale(demo_page: Page) -> None:
    page = demo_page
    track = page.get_by_role("slider", name="ISO scale")
    box = track.bounding_box()
    assert box
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    for k in range(1, 8):
        page.mouse.move(x - 34 * k / 2.3, y)
    page.mouse.up()
    expect(strip(page, "ISO")).to_contain_text("1000")
    page.keyboard.press("z")
    # A drag is one step, however many values it ran over.
    expect(strip(page, "ISO")).to_contain_text("500")
    page.locator("[data-scale='iso'] .mark", has_text=re.compile("^640$")).click()
    expect(strip(page, "ISO")).to_contain_text("640")


def test_hold_and_free_by_key(demo_page: Page) -> None:
    page = demo_page
    page.keyboard.press("o")
    page.keyboard.press("h")
    scale = page.locator("[data-scale='iso']")
    expect(scale.get_by_label("Hold ISO")).to_be_checked()
    settled(page)
    assert "iso" in saved().held


def test_the_running_order_moves_by_keyboard_and_by_drag(demo_page: Page) -> None:
    page = demo_page
    titles = page.locator(".row b")
    before = titles.all_inner_texts()
    page.keyboard.press("Alt+ArrowUp")
    expect(titles.nth(4)).to_have_text(before[5])
    first, third = page.locator(".row").nth(0), page.locator(".row").nth(2)
    first.hover()
    page.locator(".rows[data-sorts]").wait_for()
    first.drag_to(third)
    expect(titles.nth(2)).to_have_text(before[0])
    page.keyboard.press("z")
    expect(titles.nth(0)).to_have_text(before[0])


def test_delete_and_undo(demo_page: Page) -> None:
    page = demo_page
    page.get_by_role("button", name="Delete").click()
    expect(page.locator(".row")).to_have_count(11)
    page.locator(".messages").get_by_role("button", name="Undo").click()
    expect(page.locator(".row")).to_have_count(12)
    expect(page.locator("h1")).to_contain_text("4B Adze chips")


def test_export_then_import_as_a_new_setup(demo_page: Page, tmp_path: Any) -> None:
    page = demo_page
    page.locator(".files summary", has_text="Files").click()
    with page.expect_download() as download:
        page.get_by_role("link", name="Export this setup").click()
    path = tmp_path / "setup.json"
    download.value.save_as(path)
    page.locator("input[type=file]").set_input_files(path)
    page.get_by_role("button", name="Import", exact=True).click()
    expect(page.locator(".row")).to_have_count(13)
    expect(page.locator("h1")).to_contain_text("4B Adze chips")
    damaged = tmp_path / "damaged.json"
    damaged.write_text(path.read_text().replace('"iris": 4.0', '"iris": "wide"'))
    page.locator(".files summary", has_text="Files").click()
    page.locator("input[type=file]").set_input_files(damaged)
    page.get_by_role("button", name="Import", exact=True).click()
    expect(page.locator(".messages")).to_contain_text("$.setup.iris")
    expect(page.locator(".row")).to_have_count(13)


def test_a_server_that_does_not_answer_loses_nothing(demo_page: Page) -> None:
    page = demo_page
    open_tile(page, "light")
    page.route("**/shoots/*/*/*", lambda route: route.fulfill(status=502, body="away"))
    page.locator("#f-light").fill("9 EV")
    page.keyboard.press("Tab")
    expect(page.locator("#trouble")).to_be_visible()
    expect(page.locator("#f-light")).to_have_value("9 EV")
    page.unroute("**/shoots/*/*/*")
    page.get_by_role("button", name="Try now").click()
    expect(page.locator("#trouble")).to_be_hidden()
    expect(page.locator(".equal")).to_contain_text("EV 9 ")


def test_without_javascript_it_is_a_form(new_page: Any) -> None:
    demo_again()
    page = new_page(java_script_enabled=False)
    enter_demo(page, scripts=False)
    page.locator("#f-iris").fill("f/5,6")
    page.get_by_role("button", name="Plan", exact=True).click()
    expect(strip(page, "Iris")).to_contain_text("f/5.6")
    page.locator(".findings .fix").first.click()
    expect(strip(page, "Iris")).to_contain_text("f/5.6")
    page.locator("#open-light").click()
    page.locator("#f-light").fill("bright")
    page.get_by_role("button", name="Plan", exact=True).click()
    expect(page.locator("#e-light")).to_be_visible()
    expect(page.locator("#f-light")).to_have_value("bright")


def test_on_a_phone_the_settings_come_first(new_page: Any) -> None:
    demo_again()
    page = new_page(390, 844, has_touch=True, is_mobile=True)
    enter_demo(page)
    tiles, settings = (
        page.locator(".tiles").bounding_box(),
        page.locator(".settings").bounding_box(),
    )
    assert tiles
    assert settings
    assert settings["y"] + settings["height"] <= tiles["y"]
    assert page.evaluate("document.documentElement.scrollWidth") <= 390
    # A value that is pressed comes under the thumb, alone; what it does stands below.
    page.locator("[data-scale='iris'] .track").tap()
    expect(page.locator(".scale:visible")).to_have_count(1)
    page.get_by_role("button", name="Iris, one mark up").tap()
    expect(strip(page, "Iris")).to_contain_text("f/4.5")
    expect(page.locator(".scale.is-open")).to_have_count(1)
    page.locator("[data-scale='iris'] .mark", has_text=re.compile("^5$")).tap()
    expect(strip(page, "Iris")).to_contain_text("f/5")
    page.get_by_role("button", name="Done").tap()
    expect(page.locator(".scale:visible")).to_have_count(6)
    page.locator("#undo-form button").tap()
    expect(strip(page, "Iris")).to_contain_text("f/4.5")


def test_a_new_person_plans_a_first_setup(new_page: Any) -> None:
    page = new_page()
    page.goto("/sign-up/")
    page.locator("#id_username").fill("rigger")
    page.locator("#id_password1").fill("tern-slip-1887")
    page.locator("#id_password2").fill("tern-slip-1887")
    page.get_by_role("button", name="Make the account").click()
    page.get_by_role("link", name="New shoot").click()
    page.locator("#id_name").fill("Net shed")
    page.locator("#id_date").fill("2027-03-02")
    page.locator("#id_latitude_deg").fill("54,1 N")
    page.locator("#id_longitude_deg").fill("3,2 W")
    page.locator("#id_project_fps").fill("24")
    page.get_by_role("button", name="Save").click()
    page.get_by_role("button", name="New setup").click()
    at_bench(page, "Untitled setup")
    expect(strip(page, "Frame rate")).to_contain_text("24 fps")
    page.keyboard.press("n")
    page.keyboard.press("End")
    expect(strip(page, "ND")).to_contain_text("ND 3.3")


def test_undo_keeps_the_place_and_the_hand_on_the_setting(demo_page: Page) -> None:
    page = demo_page
    page.keyboard.press("i")
    page.keyboard.press("ArrowRight")
    expect(strip(page, "Iris")).to_contain_text("f/4.5")
    page.evaluate("document.documentElement.dataset.sameDocument = 'yes'")
    page.keyboard.press("z")
    expect(strip(page, "Iris")).to_contain_text("f/4")
    expect(page.locator("#messages")).to_contain_text("Undone: Iris")
    expect(page.get_by_role("slider", name="Iris scale")).to_be_focused()
    assert page.evaluate("document.documentElement.dataset.sameDocument") == "yes"
    page.keyboard.press("ArrowLeft")
    expect(strip(page, "Iris")).to_contain_text("f/3.5")
    expect(page.locator("#messages")).to_be_empty()


def test_an_edit_waiting_behind_a_fix_is_not_lost(demo_page: Page) -> None:
    page = demo_page
    page.locator(".strip-findings").click()
    held: list[Any] = []
    page.route(
        "**/shoots/*/*/*", lambda route: route.continue_() if held else held.append(route)
    )  # fmt: skip
    with page.expect_request("**/shoots/*/*/*"):
        page.locator("#findings [data-finding='flicker.mains'] .fix").first.click()
    page.locator("#f-white_k").evaluate(
        "field => { field.value = '4300'; field.dispatchEvent(new Event('change', {bubbles: true})) }"
    )
    held[0].continue_()
    expect(strip(page, "White")).to_contain_text("4300 K")
    expect(strip(page, "Shutter")).to_contain_text("360°")


def test_an_answer_in_the_middle_of_typing_takes_nothing_away(demo_page: Page) -> None:
    page = demo_page
    open_tile(page, "focus")
    held: list[Any] = []
    page.route(
        "**/shoots/*/*/*", lambda route: route.continue_() if held else held.append(route)
    )  # fmt: skip
    page.locator("#f-iso").fill("640")
    with page.expect_request("**/shoots/*/*/*"):
        page.keyboard.press("Tab")
    # Half a value stands in another field when the answer to the first one comes.
    page.locator("#f-depth_m").fill("")
    page.locator("#f-depth_m").press_sequentially("80 c")
    held[0].continue_()
    expect(strip(page, "ISO")).to_contain_text("640")
    page.locator("#f-depth_m").press_sequentially("m")
    expect(page.locator("#f-depth_m")).to_have_value("80 cm")
    page.keyboard.press("Tab")
    expect(page.locator("#f-depth_m")).to_have_value("80 cm")


def test_a_window_made_narrow_gets_the_narrow_drawings(demo_page: Page) -> None:
    page = demo_page
    # A drawing a tile; the picture has its scope.
    expect(page.locator(".tile figure svg")).to_have_count(7)
    page.set_viewport_size({"width": 390, "height": 844})
    expect(page.locator(".tile figure svg").first).to_have_attribute("viewBox", "0 0 92 40")
    expect(page.locator(".tile figure svg").first).to_have_class("phone")
    page.set_viewport_size({"width": 1920, "height": 1080})
    expect(page.locator("[data-tile=light] svg")).to_have_attribute("width", "544")
