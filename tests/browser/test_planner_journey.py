"""The planner in a real browser: a bag from nothing, a setup that cannot work, the way out."""

import json
import re
from typing import Any

import pytest
from playwright.sync_api import Page, expect

from fotonomy.kit.models import Body, Filter, Lens, Profile
from fotonomy.shoots.models import Setup
from tests.browser.conftest import at_bench, enter_demo, open_tile
from tests.browser.test_bench_journey import saved, strip
from tests.demo_copy import demo_again

pytestmark = pytest.mark.django_db(transaction=True)


def fill(page: Page, **fields: str) -> None:
    for name, text in fields.items():
        page.locator(f"[name='{name.replace('__', '-')}']").fill(text)


def keep(page: Page) -> None:
    page.get_by_role("button", name="Save", exact=True).last.click()


def empty_kit_of(page: Page) -> None:
    """A new account with the starter kit thrown out: there is nothing."""
    page.goto("/sign-up/")
    fill(page, username="rigger", password1="tern-slip-1887", password2="tern-slip-1887")
    page.get_by_role("button", name="Make the account").click()
    page.get_by_role("link", name="Shoots").or_(
        page.get_by_role("link", name="Setups")
    ).first.wait_for()
    for model in (Body, Lens, Filter, Profile):
        model.objects.filter(owner__username="rigger").delete()


def build_bag(page: Page) -> None:
    page.goto("/kit/profile/new/")
    page.locator("[name=curve]").select_option("bt709")
    fill(page, name="Video", clip_percent="109", base_iso="100", bits="10")
    keep(page)
    page.goto("/kit/body/new/")
    page.locator("details.form-fold").evaluate_all("all => all.forEach((one) => (one.open = true))")
    fill(
        page, name="My cam", slowest_s="30 s", fastest_s="1/4000", iso_lowest="100",
        iso_highest="6400", iso_ceiling="3200", stabiliser_stops="0", card_gb="64", still_mb="20",
        formats__0__name="HD", formats__0__width_px="1920", formats__0__height_px="1080",
        formats__0__sensor_width_mm="23.5", formats__0__sensor_height_mm="13.2",
        formats__0__rates="25: 50", formats__0__bits="10",
    )  # fmt: skip
    page.get_by_label("Video").check()
    # A second line is asked for and filled; what stood in the first one stays.
    page.get_by_role("button", name="Add a format").click()
    expect(page.locator("[name='formats-0-rates']")).to_have_value("25: 50")
    expect(page.locator("[name='formats-1-name']")).to_be_focused()
    fill(
        page, formats__1__name="HD fast", formats__1__width_px="1920", formats__1__height_px="1080",
        formats__1__sensor_width_mm="11.75", formats__1__sensor_height_mm="6.6",
        formats__1__rates="50: fast", formats__1__bits="8",
    )  # fmt: skip
    keep(page)
    expect(page.locator(".field-error")).to_contain_text("Frame rates such as 24, 25, 50")
    fill(page, formats__1__rates="50: 80, 100: 100")
    keep(page)
    expect(page.locator(".things")).to_have_count(2)
    page.goto("/kit/lens/new/")
    page.locator("details.form-fold summary").click()
    fill(page, name="Fifty", focal_shortest_mm="50", focal_longest_mm="50", widest_f="2",
         smallest_f="f/4", transmission_stops="T2.2", thread_mm="58", close_focus_m="45 cm",
         stabiliser_stops="0", squeeze="1")  # fmt: skip
    keep(page)
    expect(page.locator("#lens")).to_contain_text("50 mm · f/2 to f/4")


def test_a_bag_from_nothing_an_impossible_setup_and_the_way_out(new_page: Any) -> None:
    page = new_page()
    empty_kit_of(page)
    build_bag(page)
    page.goto("/shoots/new/")
    fill(page, name="Net shed", date="2027-03-02")
    keep(page)
    page.get_by_role("button", name="New setup").click()
    at_bench(page, "Untitled setup")
    # Sun, a lens that closes to f/4 only, and no glass: this cannot work at half the period.
    open_tile(page, "light")
    page.locator("#f-light").fill("15 EV")
    page.keyboard.press("Tab")
    expect(page.locator(".equal")).to_contain_text("EV 15")
    page.keyboard.press("Escape")
    page.locator("h1").click()
    page.keyboard.press("p")
    missing = page.locator("#plans .missing")
    # 15 - 5.64 - 4 - 0.28 = 5.08 stops at ISO 100, f/4 and 1/50.
    expect(missing).to_contain_text("5.1 stops too much light")
    buy = page.locator("#plans .ways li", has_text="Buy or hire an ND 1.5 (58 mm thread)")
    expect(buy).to_be_visible()
    # It is bought, and the planner then finds the rest.
    address = page.url
    page.goto("/kit/filter/new/")
    page.get_by_role("button", name="ND", exact=True).click()
    fill(page, name="ND 1.5", density="1.5", thread_mm="58")
    keep(page)
    page.goto(address)
    at_bench(page, "Untitled setup")
    page.keyboard.press("p")
    card = page.locator(".plan-row").nth(1)
    expect(card).to_contain_text("ND 1.5")
    card.get_by_role("button", name="Use this").click()
    expect(page.locator("[data-tile=light] p.verdict")).to_contain_text(
        re.compile("balanced|close")
    )
    expect(page.locator(".plan-row").first).to_contain_text("ND 1.5")
    expect(strip(page, "ND")).to_contain_text("ND 1.5")
    row = Setup.objects.get(shoot__owner__username="rigger")
    assert (row.nd_density, row.lens.name) == (1.5, "Fifty")


def test_plans_follow_every_change_and_one_is_taken_by_keyboard(demo_page: Page) -> None:
    page = demo_page
    page.keyboard.press("p")
    # With the iris held the setup stands as well as it can.
    expect(page.locator(".plan-row")).to_have_count(1)
    expect(page.locator(".plans-stand")).to_contain_text("No plan is better")
    page.keyboard.press("i")
    page.keyboard.press("h")
    # The iris is free now: there is more to choose from.
    expect(page.locator(".plans-head")).to_contain_text("iris, ISO, ND")
    rows = page.locator(".plan-row h3")
    expect(rows.first).to_have_text("Now")
    row = page.locator(".plan-row", has_text="Deeper focus")
    button = row.get_by_role("button", name="Use this")
    value = button.get_attribute("value") or ""
    button.focus()
    page.keyboard.press("Enter")
    iris = f"f/{dict(json.loads(value))['iris']:g}"
    expect(strip(page, "Iris")).to_contain_text(iris)
    # Esc closes it, and what had the hand before has it again.
    page.keyboard.press("Escape")
    expect(page.locator("#plans")).to_be_hidden()
    page.keyboard.press("z")
    expect(strip(page, "Iris")).to_contain_text("f/4")


def test_hold_and_limit_a_field_by_keyboard(demo_page: Page) -> None:
    page = demo_page
    page.keyboard.press("d")
    expect(page.locator("#f-subject_distance_m")).to_be_focused()
    page.keyboard.press("Alt+h")
    field = page.locator(".bfield", has=page.locator("#f-subject_distance_m"))
    expect(field.get_by_label("Hold")).not_to_be_checked()
    assert "distance" not in saved().held
    page.locator("#f-iris").fill("f/2.8 to f/5.6")
    page.keyboard.press("Enter")
    expect(page.locator("[data-scale=iris] .hold input")).not_to_be_checked()
    expect(page.locator("[data-scale=iris] .within")).to_contain_text("f/2.8 to f/5.6")
    expect(page.locator("#f-iris")).to_have_value("f/4")


def test_wishes_survive_a_reload_and_an_error_opens_the_fold(demo_page: Page) -> None:
    page = demo_page
    open_tile(page, "focus")
    page.keyboard.press("w")
    noise = page.get_by_role("group", name="Clean shadows")
    noise.get_by_role("button", name="more").press("Enter")
    expect(noise.get_by_role("button", name="more", pressed=True)).to_be_focused()
    assert saved().intent["emphasis"] == {"noise": 2.0}
    expect(page.locator("#f-weight_noise")).to_be_hidden()
    noise.get_by_role("button", name="a number").press("Enter")
    expect(page.locator("#f-weight_noise")).to_be_focused()
    page.keyboard.type("3")
    page.keyboard.press("Tab")
    page.locator("#f-depth_m").fill("80 cm")
    page.keyboard.press("Tab")
    expect(page.locator("#stage figure svg", has_text="80 cm sharp takes")).to_be_visible()
    page.locator("#f-weight_noise").fill("much")
    page.keyboard.press("Tab")
    expect(page.locator("#e-weight_noise")).to_contain_text("From 0 to 10")
    expect(page.locator("#f-weight_noise")).to_have_value("much")
    page.reload()
    page.keyboard.press("w")
    expect(page.locator("#f-weight_noise")).to_have_value("3")
    assert saved().intent["depth_m"] == 0.8


def test_the_cadence_is_still_until_it_is_scrubbed_or_run(demo_page: Page) -> None:
    page = demo_page
    page.keyboard.press("v")
    dialog = page.locator("#play[open]")
    expect(dialog.locator("svg")).to_be_visible()
    time = "document.querySelector('#play svg').getCurrentTime()"
    start = page.evaluate(time)
    assert 0 < start < 0.6
    dialog.locator("[data-scrub]").fill("0.4")
    assert page.evaluate(time) == pytest.approx(0.4)
    assert page.evaluate(time) == pytest.approx(0.4)
    expect(dialog.locator("[data-clock]")).to_have_text("0.40 s")
    dialog.get_by_role("button", name="Play").click()
    expect(dialog.locator("[data-clock]")).not_to_have_text("0.40 s")
    dialog.get_by_role("button", name="Stop").click()
    dialog.locator("select").select_option(label="crisp, a quarter period")
    expect(dialog).to_contain_text("crisp, a quarter period: 100 fps")
    page.keyboard.press("Escape")
    expect(dialog).to_have_count(0)


def test_who_prefers_less_motion_gets_the_scrubber_alone(new_page: Any) -> None:
    demo_again()
    page = new_page(reduced_motion="reduce")
    enter_demo(page)
    page.keyboard.press("v")
    expect(page.locator("#play [data-scrub]")).to_be_visible()
    expect(page.locator("#play [data-run]")).to_be_hidden()


def test_compare_two_setups_and_copy(demo_page: Page) -> None:
    page = demo_page
    page.keyboard.press("c")
    page.locator("#right").select_option(label="5A Launch, side pass")
    page.get_by_role("button", name="Compare").click()
    expect(page.locator("tr.differs", has_text="Frame rate")).to_contain_text("25 fps")
    page.get_by_role("button", name="Use those of 5A Launch, side pass").click()
    expect(strip(page, "Frame rate")).to_contain_text("25 fps")
    page.keyboard.press("z")
    expect(strip(page, "Frame rate")).to_contain_text("100 fps")


def test_a_starting_point_for_what_stands_still(demo_page: Page) -> None:
    page = demo_page
    page.keyboard.press("p")
    page.locator("#plans-start > summary").click()
    page.get_by_role("button", name="It stands still").click()
    expect(page.locator("[data-scale=iris] .hold input")).to_be_checked()
    # What stands still keeps its half period too.
    expect(page.locator("[data-scale=shutter] .hold input")).to_be_checked()


def demo_with_a_free_iris() -> None:
    """Setup 4B with more to choose from: in the end it is taken without glass."""
    demo_again()
    row = Setup.objects.get(code="4B")
    row.held.remove("iris")
    row.save()


def test_plans_on_a_phone(new_page: Any) -> None:
    demo_with_a_free_iris()
    page = new_page(390, 844, has_touch=True, is_mobile=True)
    enter_demo(page)
    page.locator("[data-plans]").tap()
    card = page.locator(".plan-row", has_text="Fewer filters")
    card.scroll_into_view_if_needed()
    assert page.evaluate("document.documentElement.scrollWidth") <= 390
    card.get_by_role("button", name="Use this").tap()
    expect(page.locator(".plan-row").first.locator(".chip.is-moved")).to_have_count(0)
    expect(page.locator(".plan-row").first).to_contain_text("no ND")
    page.locator("[data-plans-close]").tap()
    expect(strip(page, "ND")).to_contain_text("none")


def test_plans_without_javascript(new_page: Any) -> None:
    demo_with_a_free_iris()
    page = new_page(java_script_enabled=False)
    enter_demo(page, scripts=False)
    page.locator("[data-plans]").click()
    card = page.locator(".plan-row", has_text="Fewer filters")
    card.get_by_role("button", name="Use this").click()
    expect(strip(page, "ND")).to_contain_text("none")
    page.locator("#open-motion").click()
    page.locator("[data-play]").click()
    # Nothing may move that cannot be stopped: without scripts the numbers stand in words.
    expect(page.locator("main")).to_contain_text("Playing needs JavaScript")
    expect(page.locator("main figure svg")).to_be_hidden()


def test_gear_in_use_offers_a_replacement(demo_page: Page) -> None:
    page = demo_page
    page.goto("/kit/")
    page.get_by_role("link", name="Close-up 90").click()
    page.get_by_role("button", name="Remove from the kit").click()
    expect(page.locator("h1")).to_contain_text("Close-up 90 is in use")
    page.get_by_role("button", name="Replace and remove").click()
    expect(page.locator(".field-error")).to_contain_text("Choose what takes its place")
    page.locator("#replacement").select_option(label="Standard 50")
    page.get_by_role("button", name="Replace and remove").click()
    expect(page.locator(".messages")).to_contain_text("Standard 50 in its place in 1 setups")
    assert Setup.objects.get(code="4C").lens.name == "Standard 50"
