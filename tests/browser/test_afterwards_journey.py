"""A test frame in Chromium: areas dragged and moved by keys, measured, and on to the ways."""

import re
from datetime import timedelta
from typing import Any

import pytest
from playwright.sync_api import Page, expect

from fotonomy.field.models import TakePicture
from fotonomy.shoots.models import Shoot
from tests.browser.conftest import enter_demo
from tests.demo_copy import demo_again
from tests.web.test_ingest import still


@pytest.fixture
def frame(new_page: Any, transactional_db: None) -> Page:
    """A phone on the demo's darker test frame."""
    demo_again()
    page: Page = new_page(390, 844)
    enter_demo(page)
    picture = TakePicture.objects.get(name="A001_C004.jpg")
    page.goto(f"/shoots/{picture.shoot_id}/takes/picture/{picture.pk}/")
    return page


def value(page: Page, name: str) -> float:
    return float(page.locator(f"[name='{name}']").input_value())


def test_an_area_is_dragged_onto_the_shed_and_measured(frame: Page) -> None:
    expect(frame.locator(".said").first).to_contain_text("darker than planned")
    cheek = frame.get_by_role("button", name="yardhand's cheek")
    number = cheek.get_attribute("data-mark")
    was = value(frame, f"left-{number}"), value(frame, f"top-{number}")
    cheek.scroll_into_view_if_needed()
    box = cheek.locator("rect").bounding_box()
    assert box is not None
    frame.mouse.move(box["x"] + 6, box["y"] + 6)
    frame.mouse.down()
    frame.mouse.move(box["x"] + 86, box["y"] + 16, steps=4)
    frame.mouse.up()
    whole = frame.locator("[data-marks] svg").bounding_box()
    assert whole is not None
    assert value(frame, f"left-{number}") == pytest.approx(
        was[0] + 100 * 80 / whole["width"], abs=0.5
    )
    assert value(frame, f"top-{number}") == pytest.approx(
        was[1] + 100 * 10 / whole["height"], abs=0.5
    )
    frame.get_by_role("button", name="Measure").click()
    # Under the shed it is far darker than a cheek.
    expect(frame.locator(".tones li", has_text="yardhand's cheek")).to_contain_text("−")
    expect(frame.locator(".said").first).to_contain_text("darker than planned")
    assert (
        TakePicture.objects.get(name="A001_C004.jpg").marks["areas"]["yardhand's cheek"][0]
        > was[0] + 15
    )


def test_keys_move_and_size_an_area_and_stop_at_the_edge(frame: Page) -> None:
    sky = frame.get_by_role("button", name="sky:")
    number = sky.get_attribute("data-mark")
    left, width, top = (value(frame, f"{side}-{number}") for side in ("left", "width", "top"))
    sky.focus()
    frame.keyboard.press("ArrowRight")
    frame.keyboard.press("ArrowRight")
    frame.keyboard.press("Shift+ArrowLeft")
    assert value(frame, f"left-{number}") == pytest.approx(left + 2)
    assert value(frame, f"width-{number}") == pytest.approx(width - 1)
    for _ in range(int(top) + 5):
        frame.keyboard.press("ArrowUp")
    assert value(frame, f"top-{number}") == 0
    assert sky.locator("rect").get_attribute("y") == "0"


def test_from_the_frame_to_the_ways(frame: Page) -> None:
    frame.get_by_role("link", name="See the ways with their price").click()
    expect(frame.locator(".ways li").first).to_be_visible()
    expect(frame.locator(".said").first).to_contain_text("less")


def test_the_drawing_of_plan_against_actual_fits_a_phone(frame: Page) -> None:
    frame.goto("/shoots/")
    frame.get_by_role("link", name="Keel to Tide").first.click()
    frame.get_by_role("link", name="Takes", exact=True).click()
    drawing = frame.locator("figure.drawing svg")
    box = drawing.bounding_box()
    assert box is not None
    assert box["width"] <= 390
    sizes = drawing.locator("text").evaluate_all(
        "all => all.map((one) => one.getBoundingClientRect().height)"
    )
    assert min(sizes) >= 12
    expect(
        frame.locator(".actual-setup", has_text="2A Steam box opened").locator(".chip")
    ).to_have_text(re.compile("500 → 640"))


def test_pictures_are_brought_home_with_progress_and_matched(frame: Page) -> None:
    shoot = Shoot.objects.get(name="Keel to Tide")
    zone = shoot.main_place.zone
    takes = list(shoot.takes.order_by("at"))[:6]
    files = [
        {
            "name": f"IMG_{number:04}.JPG", "mimeType": "image/jpeg",
            "buffer": still(take.at.astimezone(zone) + timedelta(hours=1), seed=number),
        }
        for number, take in enumerate(takes)
    ]  # fmt: skip
    frame.goto(f"/shoots/{shoot.pk}/takes/home/")
    before = shoot.pictures.count()
    frame.locator("#h-still").set_input_files([*files, {"name": "notes.txt", "mimeType": "text/plain", "buffer": b"x"}])  # fmt: skip
    frame.get_by_role("button", name="Import", exact=True).click()
    expect(frame.locator("[data-count]")).to_have_text("7 of 7", timeout=60_000)
    expect(frame.locator("[data-refused]")).to_contain_text("notes.txt: neither a picture nor")
    assert shoot.pictures.count() == before + 6
    # The same files again: they are there.
    frame.goto(f"/shoots/{shoot.pk}/takes/home/")
    expect(frame.locator(".home-cameras")).to_contain_text("agree with the log")
    frame.get_by_role("button", name=re.compile("as shown")).click()
    expect(frame.locator("#messages")).to_contain_text("6 pictures are matched to takes")
    assert {row.take_uid for row in shoot.pictures.filter(name__startswith="IMG")} == {
        t.uid for t in takes
    }
    frame.get_by_role("button", name="Undo: 6 pictures").click()
    frame.goto(f"/shoots/{shoot.pk}/takes/home/")
    expect(frame.locator(".home-group")).to_have_count(6)
