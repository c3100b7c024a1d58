"""A night run in a real browser: planned, rehearsed with a slow card, put right, run clean."""

import re
from typing import Any

import pytest
from playwright.sync_api import Page, expect

from fotonomy.shoots.models import Setup
from tests.browser.conftest import at_bench, enter_demo, open_tile
from tests.browser.test_bench_journey import strip
from tests.demo_copy import demo_again

pytestmark = pytest.mark.django_db(transaction=True)


@pytest.fixture
def night(new_page: Any, transactional_db: None) -> Page:
    demo_again()
    page = new_page()
    enter_demo(page, "8A Mast and stars")
    return page


def run_it(page: Page) -> None:
    page.locator("#dry[data-ready]").wait_for()
    page.get_by_role("button", name="Run it").click()
    expect(page.locator(".dry-going")).to_be_hidden()
    page.locator(".dry-word").wait_for()


def test_a_night_run_from_plan_to_a_clean_rehearsal(night: Page) -> None:
    page = night
    # The plan itself says that the batteries end too soon; one press takes the pack along.
    page.locator(".strip-findings").click()
    page.locator(".findings").get_by_role("button", name="take Pack 100").first.click()
    expect(page.locator("#findings")).not_to_contain_text("The batteries end")
    page.locator(".strip-findings").click()
    # One hour of it, a frame a second: the clip follows.
    page.locator("#f-event_s").fill("1 h")
    page.keyboard.press("Tab")
    expect(page.locator("#f-wanted_screen_s")).to_have_value("7.24 s")
    page.locator("#f-shutter").fill("0.5 s")
    page.keyboard.press("Tab")
    expect(strip(page, "Shutter")).to_contain_text("0.5 s")
    page.locator("#f-frame_rate").fill("every 1 s")
    page.keyboard.press("Tab")
    expect(page.locator("#f-wanted_screen_s")).to_have_value("144.04 s")
    expect(strip(page, "Interval")).to_contain_text("3601 frames")
    page.get_by_role("link", name="Dry run").click()
    run_it(page)
    expect(page.locator(".dry-word")).to_contain_text("Nothing lost")
    # The same with a card slower than its label: the buffer fills and starts are lost.
    page.get_by_label("the card is slower than its label").check()
    run_it(page)
    expect(page.locator(".dry-word")).to_contain_text(re.compile(r"✕ \d+ of 3601"))
    lesson = page.locator(".lesson", has_text="The card did not keep up")
    expect(lesson).to_be_visible()
    expect(page.locator(".dry-result")).to_contain_text("buffer full")
    lesson.get_by_role("button", name="keep JPEG only").click()
    page.locator("#dry[data-ready]").wait_for()
    expect(page.get_by_label("the card is slower than its label")).to_be_checked()
    expect(page.locator(".dry-word")).to_contain_text("Nothing lost")
    assert Setup.objects.get(code="8A").run["files"] == "jpeg"
    # Back on the bench, the way out can be taken back.
    page.get_by_role("link", name="8A Mast and stars").click()
    at_bench(page, "8A")
    page.keyboard.press("z")
    open_tile(page, "cycle")
    expect(page.locator("#f-files")).to_have_value("raw")


def test_a_long_run_is_stopped_by_hand(night: Page) -> None:
    page = night
    page.route("**/dry-run/go/**", lambda route: None)
    page.get_by_role("link", name="Dry run").click()
    page.locator("#dry[data-ready]").wait_for()
    page.get_by_role("button", name="Run it").click()
    expect(page.locator(".dry-going")).to_be_visible()
    page.get_by_role("button", name="Stop").click()
    # What was done until then is shown as a page of its own.
    expect(page).to_have_url(re.compile(r"until=0"))
    expect(page.locator(".dry-word")).to_be_visible()


def test_a_dry_run_without_scripts(new_page: Any) -> None:
    demo_again()
    page = new_page(java_script_enabled=False)
    enter_demo(page, "8A Mast and stars", scripts=False)
    page.get_by_role("link", name="Dry run").click()
    page.get_by_label("the drive is left on single").check()
    page.get_by_role("button", name="Run it").click()
    expect(page.locator(".dry-word")).to_contain_text("1 of 721 frames")
    lesson = page.locator(".lesson", has_text="one frame only")
    expect(lesson).to_contain_text("set the drive to continuous")


def test_the_run_is_turned_by_keys_and_played(night: Page) -> None:
    page = night
    page.keyboard.press("f")
    page.keyboard.press("ArrowRight")
    expect(strip(page, "Interval")).to_contain_text("15 s")
    expect(page.locator("#f-wanted_screen_s")).to_have_value("38.44 s")
    page.locator("h1").click()
    page.keyboard.press("v")
    expect(page.locator("#play[open] svg")).to_be_visible()
    expect(page.locator("#play")).to_contain_text("The run at clip speed")
    page.keyboard.press("Escape")
    open_tile(page, "cycle")
    box = page.locator("input[name=noise_frames][type=checkbox]")
    box.focus()
    page.keyboard.press("Space")
    expect(page.locator("#findings")).to_contain_text("15 s")
    expect(page.locator("figure").filter(has_text="next start").first).to_contain_text(
        "noise frame"
    )


def test_a_burst_and_a_long_exposure_on_a_phone(new_page: Any) -> None:
    demo_again()
    page = new_page(390, 844, has_touch=True, is_mobile=True)
    enter_demo(page, "5B Gulls off the mast")
    lane = page.locator("#stage")
    lane.get_by_role("button", name="Use high").tap()
    expect(strip(page, "Drive")).to_contain_text("12/s")
    assert page.evaluate("document.documentElement.scrollWidth") <= 390
    page.locator(".row", has_text="6A Ferry lights").locator("a").tap()
    at_bench(page, "6A")
    page.locator("#f-frames").fill("5")
    page.locator("#f-frames").press("Enter")
    expect(page.locator("#stage")).to_contain_text("5 exposures of 15 s")
    assert page.evaluate("document.documentElement.scrollWidth") <= 390


def test_the_kind_swaps_the_tiles_in_place(demo_page: Page) -> None:
    page = demo_page
    page.locator("#about summary").click()
    page.locator("#f-kind").select_option("interval")
    expect(page.locator("#open-run")).to_be_visible()
    expect(page.locator("#open-clip")).to_have_count(0)
    page.locator("#f-kind").select_option("slow_motion")
    expect(page.locator("#open-run")).to_have_count(0)
    expect(page.locator("#open-clip")).to_be_visible()
