"""Kit, packing and the motion of the camera in a real browser, at the desk and on a phone."""

import json
import re
from typing import Any

import pytest
from playwright.sync_api import Page, expect

from fotonomy.field.models import Take
from fotonomy.kit.models import Accessory, Body, Lens
from fotonomy.shoots.models import Setup
from tests.browser.conftest import at_bench, enter_demo, open_tile
from tests.browser.test_bench_journey import saved, strip
from tests.demo_copy import demo_again

pytestmark = pytest.mark.django_db(transaction=True)


def keep(page: Page) -> None:
    page.get_by_role("button", name="Save", exact=True).last.click()


def test_a_body_shows_what_it_can_do_and_a_format_is_struck_out(demo_page: Page) -> None:
    page = demo_page
    page.goto("/kit/")
    drawing = page.locator(".thing-drawing").first
    expect(drawing.locator(".wide svg")).to_be_visible()
    expect(drawing.locator(".wide svg")).to_contain_text("ceiling 12800")
    page.get_by_role("link", name="A-cam", exact=True).click()
    expect(page.locator(".body-drawing .wide svg")).to_contain_text("HD fast, half crop")
    page.locator("[name='formats-2-DELETE']").check()
    keep(page)
    names = [entry["name"] for entry in Body.objects.get(name="A-cam").formats]
    assert names == ["4K", "4K crop"]


def test_a_ceiling_out_of_range_is_refused_and_nothing_is_lost(demo_page: Page) -> None:
    page = demo_page
    page.goto("/kit/")
    page.get_by_role("link", name="B-cam", exact=True).click()
    page.locator("[name=iso_ceiling]").fill("25600")
    page.locator("[name='formats-0-rates']").fill("25: 100, 50: 160")
    # Enter in a field keeps, and does not ask for another line.
    page.locator("[name=iso_ceiling]").press("Enter")
    expect(page.locator(".field-iso_ceiling .field-error")).to_contain_text("100 to 6400")
    expect(page.locator("[name=iso_ceiling]")).to_have_value("25600")
    expect(page.locator("[name='formats-0-rates']")).to_have_value("25: 100, 50: 160")
    page.locator("[name=iso_ceiling]").fill("3200")
    keep(page)
    assert Body.objects.get(name="B-cam").iso_ceiling == 3200


def test_a_step_ring_lets_glass_fit(demo_page: Page) -> None:
    page = demo_page
    ring = Accessory.objects.get(name="Step ring 67 to 77")
    page.goto(f"/kit/accessory/{ring.pk}/")
    page.get_by_role("button", name="Remove from the kit").click()
    # 4B stands on ND 0.9 of 77 mm; without the ring its lens of 67 mm takes it no more.
    enter = page.locator(".row", has_text="4B Adze chips").locator("a")
    page.goto("/shoots/")
    page.get_by_role("link", name="Keel to Tide").first.click()
    enter.click()
    at_bench(page, "4B")
    bench = page.url
    expect(strip(page, "ND")).not_to_contain_text("ND 0.9,")
    page.goto("/kit/accessory/new/")
    page.locator("[name=name]").fill("Ring again")
    page.get_by_role("button", name="Step ring", exact=True).click()
    page.locator("[name=lens_mm]").fill("67")
    page.locator("[name=filter_mm]").fill("67")
    keep(page)
    expect(page.locator(".field-error")).to_contain_text("two different threads")
    page.locator("[name=filter_mm]").fill("77 mm")
    keep(page)
    expect(page.locator("#accessory")).to_contain_text("77 mm filters on a 67 mm lens")
    page.goto(bench)
    expect(strip(page, "ND")).to_contain_text("3 stops, ND 0.9, Ring again")


def test_the_kit_goes_out_and_comes_in_as_a_file(demo_page: Page, tmp_path: Any) -> None:
    page = demo_page
    page.goto("/kit/")
    with page.expect_download() as download:
        page.get_by_role("link", name="Export the kit").click()
    path = tmp_path / "kit.json"
    download.value.save_as(path)
    page.locator("input[type=file]").set_input_files(path)
    page.get_by_role("button", name="Import", exact=True).click()
    expect(page.locator(".messages")).to_contain_text("0 new")
    data = json.loads(path.read_text())
    data["lenses"][0]["name"] = "Fresh glass"
    path.write_text(json.dumps(data))
    page.locator("input[type=file]").set_input_files(path)
    page.get_by_role("button", name="Import", exact=True).click()
    expect(page.locator(".messages")).to_contain_text("1 new")
    expect(page.locator("#lens")).to_contain_text("Fresh glass")
    data["lenses"][0]["smallest_f"] = 0.7
    path.write_text(json.dumps(data))
    page.locator("input[type=file]").set_input_files(path)
    page.get_by_role("button", name="Import", exact=True).click()
    expect(page.locator(".messages")).to_contain_text("$.lenses[0].smallest_f")
    assert Lens.objects.filter(name="Fresh glass").count() == 1


def test_packing_on_a_phone_narrows_the_bench(new_page: Any) -> None:
    demo_again()
    page = new_page(390, 844, has_touch=True, is_mobile=True)
    enter_demo(page)
    page.get_by_role("link", name="Packing list").tap()
    page.locator("h1", has_text="Packing").wait_for()
    assert page.evaluate("document.documentElement.scrollWidth") <= 390
    page.get_by_label("Only what is ticked").check()
    for name in ("ND 0.3", "ND 0.6", "ND 1.8", "Variable ND"):
        page.locator(".pack", has=page.get_by_text(name, exact=True)).locator("input").uncheck()
    keep(page)
    expect(page.locator(".missing")).to_contain_text("not packed: ND 0.3, ND 0.6")
    page.locator("main p a", has_text="Keel to Tide").tap()
    page.locator(".row", has_text="4B Adze chips").locator("a").tap()
    at_bench(page, "4B")
    options = json.loads(
        page.locator("[data-scale=nd_density]").get_attribute("data-options") or "[]"
    )
    assert "0.3" not in [text for text, *_ in options]


def test_the_camera_moves_and_the_tile_follows(demo_page: Page) -> None:
    page = demo_page
    open_tile(page, "motion")
    motion = page.locator("#stage")
    page.locator("#moves summary").click()
    page.locator("#f-camera").select_option("pan")
    page.locator("#f-pan_deg_s").fill("90° in 6 s")
    page.keyboard.press("Tab")
    expect(page.locator("#f-pan_deg_s")).to_have_value("15°/s")
    # 50 mm on 36 mm sees 39.6 degrees: at 15 degrees a second that takes 2.6 s.
    expect(motion.locator("svg").first).to_contain_text("crosses the frame in 2.6 s")
    page.locator("#f-camera").select_option("travel")
    page.locator("#f-travel_m_s").fill("20 mph")
    page.keyboard.press("Tab")
    expect(motion).to_contain_text("one over the speed: 1/20")
    expect(motion).to_contain_text("near, ")
    page.locator("#f-lamp_hz").fill("250 Hz")
    page.keyboard.press("Tab")
    # 1/200 of 250 pulses a second: sin(1.25 pi)/(1.25 pi) is 18 %.
    expect(motion).to_contain_text("1/200: 18 % ripple left")
    page.locator("#f-heading_deg").fill("backwards")
    page.keyboard.press("Tab")
    expect(page.locator("#e-heading_deg")).to_contain_text("Across, towards")
    expect(page.locator("#moves")).to_have_attribute("open", "")
    assert saved().movement["camera"] == "travel"


def test_tubes_move_the_reach_and_cost_light(new_page: Any) -> None:
    demo_again()
    page = new_page()
    enter_demo(page, "4C Caulking iron")
    open_tile(page, "focus")
    focus = page.locator("#stage")
    expect(focus).to_contain_text("0.43 of life size")
    page.locator("#f-subject_distance_m").fill("2 m")
    page.keyboard.press("Tab")
    # 16 mm on 90 mm: m = 0.178 at infinity, and nothing beyond 90(2 + m + 1/m) = 702 mm from the
    # sensor comes into focus.
    reach = page.locator("#findings [data-finding='focus.out_of_reach']")
    expect(reach).to_contain_text(re.compile(r"to 70 cm"))
    page.locator(".strip-findings").click()
    reach.get_by_role("button", name="take the tubes off").click()
    expect(reach).to_have_count(0)
    assert Setup.objects.get(code="4C").things.count() == 0
    page.locator("h1").click()
    page.keyboard.press("z")
    expect(reach).to_have_count(1)
    assert Setup.objects.get(code="4C").things.count() == 1


def test_two_windows_with_one_body(demo_page: Page) -> None:
    """What a browser really sends: boxes, lists and lines that were not touched are not written."""
    here = demo_page
    body = Body.objects.get(name="A-cam")
    had = body.profiles.count()
    here.goto(f"/kit/body/{body.pk}/")
    there = here.context.new_page()
    there.goto(f"/kit/body/{body.pk}/")
    there.locator("[name='formats-1-readout_ms']").fill("9")
    there.locator("[name=iso_ceiling]").fill("3200")
    there.locator("[name=profiles]:checked").last.uncheck()
    keep(there)
    there.wait_for_url("**/kit/")
    here.locator("[name=name]").fill("A-cam, mine")
    keep(here)
    here.wait_for_url("**/kit/")
    told = here.locator(".message-line.info")
    expect(told).to_contain_text("Changed meanwhile, and left so")
    expect(told).to_contain_text("Your ceiling, ISO, from 12800 to 3200")
    expect(told).to_contain_text("formats 2, Readout, ms, from")
    now = Body.objects.get(pk=body.pk)
    assert (now.name, now.iso_ceiling, now.formats[1]["readout_ms"]) == ("A-cam, mine", 3200, 9)
    assert now.formats[0] == body.formats[0]
    assert now.drive_modes == body.drive_modes
    assert now.profiles.count() == had - 1


def test_two_people_with_one_take_on_phones(demo_page: Page, new_page: Any) -> None:
    here = new_page(390, 780)
    enter_demo(here, scripts=False)
    take = Take.objects.filter(shoot__owner__username="demo").first()
    assert take is not None
    address = f"/shoots/{take.shoot_id}/field/takes/{take.pk}/"
    here.goto(address)
    demo_page.goto(address)
    demo_page.get_by_label("maybe", exact=True).check()
    demo_page.get_by_label("flare", exact=True).check()
    demo_page.get_by_role("button", name="Keep", exact=True).click()
    demo_page.wait_for_url("**/left/**")
    here.get_by_label("Note", exact=True).fill("a gull\nand its shadow")
    here.get_by_role("button", name="Keep", exact=True).click()
    here.wait_for_url("**/left/**")
    expect(here.locator("body")).to_contain_text("Changed meanwhile, and left so: Verdict")
    now = Take.objects.get(pk=take.pk)
    assert (now.verdict, now.note) == ("maybe", "a gull\r\nand its shadow")
    assert "flare" in now.why
    assert now.length_s == take.length_s
