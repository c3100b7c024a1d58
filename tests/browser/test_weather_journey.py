"""The weather of a day and the horizon of a place in Chromium: typed, simulated, marked, undone."""

from pathlib import Path
from typing import Any

import pytest
from PIL import Image, ImageDraw
from playwright.sync_api import Page, expect

from fotonomy.shoots.models import DayWeather, Place
from tests.browser.test_day_journey import at_day


def at_weather(page: Page) -> None:
    at_day(page)
    page.get_by_role("link", name="Weather", exact=True).click()
    page.locator("h1", has_text="Weather at").wait_for()


def test_typed_weather_reaches_the_day_and_comes_off_again(demo_page: Page) -> None:
    page = demo_page
    at_weather(page)
    page.get_by_label("Wind, m/s at 12:00").fill("gale")
    page.get_by_role("button", name="Keep these hours").click()
    expect(page.locator("td.has-error")).to_contain_text("A wind speed such as 6 m/s")
    expect(page.get_by_label("Wind, m/s at 12:00")).to_have_value("gale")
    for clock in ("06:00", "09:00"):
        page.get_by_label(f"Rain, % at {clock}").fill("60 %")
    page.get_by_label("Wind, m/s at 12:00").fill("20 km/h")
    page.get_by_label("Wind, m/s at 12:00").press("Enter")
    expect(page.locator("#messages")).to_contain_text("The weather is kept")
    expect(page.get_by_label("Wind, m/s at 12:00")).to_have_value("5.6")
    page.get_by_role("link", name="Saturday 5 June 2027").click()
    expect(page.locator(".clashes")).to_contain_text("Rain is likely on gear left alone: 1A")
    page.locator("#undo-form button").click()
    expect(page.locator(".clashes")).not_to_contain_text("Rain is likely")
    # The move it offers is one press, and the caution is gone with it.
    page.locator("#redo-form button").click()
    expect(page.locator(".clashes")).to_contain_text("Rain is likely on gear left alone: 1A")


def test_simulated_weather_is_marked_and_dropped(demo_page: Page) -> None:
    page = demo_page
    at_weather(page)
    page.get_by_role("button", name="Drop all of it").click()
    expect(page.locator(".lead")).to_contain_text("Nothing is known yet")
    page.get_by_role("button", name="Simulate this day").click()
    expect(page.locator(".lead")).to_contain_text("simulated just now")
    expect(page.locator(".weather-drawing svg")).to_be_visible()
    page.get_by_role("button", name="Undo").click()
    expect(page.locator(".lead")).to_contain_text("Nothing is known yet")
    assert not DayWeather.objects.get(day__date="2027-06-05").hours


@pytest.mark.parametrize("wide", [320, 390])
def test_the_hours_fit_a_phone(demo_page: Page, wide: int) -> None:
    page = demo_page
    page.set_viewport_size({"width": wide, "height": 844})
    at_weather(page)
    field = page.get_by_label("Humidity, % at 12:00")
    box: Any = field.bounding_box()
    assert box["height"] >= 44
    assert box["width"] >= 60
    assert page.evaluate("document.documentElement.scrollWidth") <= wide
    for name in ("Simulate this day", "Keep these hours"):
        button: Any = page.get_by_role("button", name=name).bounding_box()
        assert button["height"] >= 44


def panorama(folder: Path) -> Path:
    """A swept picture: sky over land, which is a straight line a fifth over the middle."""
    picture = Image.new("RGB", (1600, 400), (150, 180, 210))
    ImageDraw.Draw(picture).rectangle((0, 160, 1600, 400), fill=(70, 85, 60))
    file = folder / "sweep.png"
    picture.save(file)
    return file


def test_a_horizon_is_marked_on_a_picture(demo_page: Page, tmp_path: Path) -> None:
    page = demo_page
    at_day(page)
    page.get_by_role("link", name="Places and days").click()
    page.get_by_role("complementary").get_by_role("link", name="Forge", exact=True).click()
    page.get_by_role("link", name="Horizon", exact=True).click()
    page.get_by_role("button", name="Use this horizon").click()
    expect(page.locator(".panorama .has-error .field-error").first).to_contain_text("direction")
    page.set_input_files("#p-picture", panorama(tmp_path))
    page.locator("#p-left").fill("W")
    page.locator("#p-right").fill("E")
    marks = page.locator("[data-marks]")
    marks.scroll_into_view_if_needed()
    box: Any = marks.bounding_box()
    for share in (0.25, 0.5, 0.75):
        page.mouse.click(box["x"] + share * box["width"], box["y"] + 0.4 * box["height"])
    expect(page.locator("[data-count]")).to_have_text("3 points")
    # One is dragged by hand, one moved by keys and one taken away.
    page.mouse.move(box["x"] + 0.5 * box["width"], box["y"] + 0.4 * box["height"])
    page.mouse.down()
    page.mouse.move(box["x"] + 0.5 * box["width"], box["y"] + 0.3 * box["height"], steps=4)
    page.mouse.up()
    page.get_by_role("button", name="Point 3 of 3").focus()
    page.keyboard.press("Shift+ArrowUp")
    page.keyboard.press("ArrowRight")
    page.get_by_role("button", name="Point 1 of 3").focus()
    page.keyboard.press("Delete")
    expect(page.locator("[data-count]")).to_have_text("2 points")
    page.get_by_role("button", name="Use this horizon").click()
    expect(page.locator("#messages")).to_contain_text("Forge has a horizon")
    known = dict(Place.objects.get(name="Forge").horizon)
    # The middle looks north; a fifth of the height over the level: atan(0.2/4·π) = 8.9°.
    assert known[min(known, key=lambda a: min(a, 360 - a))] == pytest.approx(8.9, abs=0.3)
    right = next(height for azimuth, height in known.items() if 40 < azimuth < 50)
    # A tenth, and 0.02 more by the keys: atan(0.12/4·π) = 5.4°.
    assert right == pytest.approx(5.4, abs=0.3)


def test_a_file_that_is_no_picture(demo_page: Page, tmp_path: Path) -> None:
    page = demo_page
    place = Place.objects.get(name="Forge")
    page.goto(page.url.split("/shoots")[0] + f"/shoots/{place.shoot_id}/places/{place.pk}/horizon/")
    wrong = tmp_path / "words.png"
    wrong.write_text("no picture")
    page.set_input_files("#p-picture", wrong)
    expect(page.locator("[data-no-picture]")).to_be_visible()
    expect(page.locator("[data-stage]")).to_be_hidden()
    page.set_input_files("#p-picture", panorama(tmp_path))
    expect(page.locator("[data-no-picture]")).to_be_hidden()
    expect(page.locator("[data-stage]")).to_be_visible()
    # The level is moved by keys alone, and Enter on it sets a point.
    page.get_by_role("slider", name="Level").focus()
    page.keyboard.press("ArrowDown")
    page.keyboard.press("Enter")
    expect(page.locator("[data-count]")).to_have_text("1 point")
