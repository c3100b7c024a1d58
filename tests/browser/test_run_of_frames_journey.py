"""A run in Chromium: dropped, looked at with progress, read, and its advice taken into the kit."""

import re
from datetime import datetime, timedelta
from typing import Any

import pytest
from playwright.sync_api import Page, expect

from fotonomy.field.models import FrameSeen, Take, TakePicture
from fotonomy.kit.models import Accessory
from fotonomy.shoots.mapping import spec_of
from fotonomy.shoots.models import Shoot
from fotonomy.shoots.packed_kit import packed_kit
from fotonomy.simulators.films import film
from fotonomy.simulators.run_frames import Faults, run_of_stills
from tests.browser.conftest import enter_demo
from tests.demo_copy import demo_again

ONE_BY_ONE = """{
  const fetched = window.fetch;
  let last = Promise.resolve();
  window.fetch = (...asked) => (last = last.catch(() => {}).then(() => fetched(...asked)));
}"""


@pytest.fixture
def desk(new_page: Any, transactional_db: None) -> Page:
    demo_again()
    page: Page = new_page(1280, 800)
    enter_demo(page)
    return page


def files_of(shoot: Shoot, take: Take, count: int) -> list[dict[str, Any]]:
    row = shoot.setups.get(pk=take.setup_key)
    row.shoot = shoot
    starts = take.at.astimezone(shoot.main_place.zone) + timedelta(minutes=2)
    faults = Faults(knocks={40: (0.01, 0.0)}, lost=frozenset({30, 31}))
    made = run_of_stills(
        spec_of(row, packed_kit(shoot)), starts, count, 6, faults, serial="B7", first_number=1
    )
    return [{"name": one.name, "mimeType": "image/jpeg", "buffer": one.jpeg} for one in made]


def test_a_run_is_dropped_read_and_its_advice_taken_into_the_kit(desk: Page) -> None:
    shoot = Shoot.objects.get(name="Keel to Tide")
    take = Take.objects.get(shoot=shoot, uid="demo-1")
    TakePicture.objects.filter(shoot=shoot).delete()
    files = files_of(shoot, take, 50)
    # The tests' database is one connection, which cannot write twice at once; a server's can.
    desk.add_init_script(ONE_BY_ONE)
    desk.goto(f"/shoots/{shoot.pk}/takes/home/")
    desk.locator("#h-still").set_input_files(files)
    desk.get_by_role("button", name="Import", exact=True).click()
    expect(desk.locator(".home-cameras")).to_contain_text("48 pictures", timeout=30_000)
    desk.locator("input[name=offset]:visible").fill("+0:02:00")
    desk.get_by_role("button", name="Look again").click()
    expect(desk.locator(".home-cameras")).to_contain_text("as you typed it")
    desk.get_by_role("button", name=re.compile("as shown")).click()
    expect(desk.locator("#messages")).to_contain_text("48 pictures are matched to takes")
    desk.goto(f"/shoots/{shoot.pk}/takes/")
    desk.get_by_role("link", name="1A Mill pond filling").click()
    desk.get_by_role("link", name="The run, frame by frame").click()
    expect(desk.locator(".lead")).to_contain_text("48 frames, 0 of them looked at")
    desk.get_by_role("button", name="Look at the frames").click()
    events = desk.locator(".run-events li")
    expect(events).to_have_count(2, timeout=60_000)
    assert FrameSeen.objects.count() == 48
    expect(events.first).to_contain_text("Frame 31: 2 frames are missing before it")
    expect(events.first).to_contain_text("the camera did not fire")
    expect(events.last).to_contain_text("the picture jumps by 38 px of 3840")
    desk.get_by_role("button", name="Say so in the kit").click()
    expect(desk.locator("#messages")).to_contain_text("counts for sure to 30 now")
    remote = Accessory.objects.get(owner=shoot.owner, name="Old remote")
    assert remote.sure_count == 30
    desk.goto("/kit/")
    desk.get_by_role("button", name="Undo").first.click()
    remote.refresh_from_db()
    assert remote.sure_count != 30


def test_a_run_is_played_small_and_scrubbed_by_keys(desk: Page) -> None:
    take = Take.objects.get(uid="demo-1")
    desk.goto(f"/shoots/{take.shoot_id}/takes/{take.pk}/run/")
    at, scrub = desk.locator("[data-at]"), desk.locator("[data-scrub]")
    expect(at).to_have_text("1 of 250")
    scrub.focus()
    desk.keyboard.press("ArrowRight")
    expect(at).to_have_text("2 of 250")
    key = desk.locator("[data-player]").get_attribute("data-frames").split(" ")[1]  # type: ignore[union-attr]
    assert f"/{key}.jpg" in (desk.locator("[data-screen]").get_attribute("src") or "")
    desk.get_by_role("button", name="Play").click()
    expect(at).not_to_have_text("2 of 250", timeout=60_000)
    desk.get_by_role("button", name="Stop").click()
    expect(desk.get_by_role("button", name="Play")).to_be_visible()


def test_a_film_comes_home_by_slices(desk: Page) -> None:
    shoot = Shoot.objects.get(name="Keel to Tide")
    raw = film(datetime.fromisoformat("2027-06-05T13:22:10+10:00"), 300, 25, 1280, 720)
    sent: list[int] = []
    desk.on("request", lambda one: sent.append(len(one.post_data_buffer or b"")))
    desk.goto(f"/shoots/{shoot.pk}/takes/home/")
    desk.locator("#h-still").set_input_files(
        [{"name": "A001_C007.mov", "mimeType": "video/quicktime", "buffer": raw}]
    )
    desk.get_by_role("button", name="Import", exact=True).click()
    expect(desk.locator(".home-stills").first).to_contain_text(
        "25 fps, film of 12 s", timeout=60_000
    )
    assert max(sent) < len(raw) / 2


def test_side_by_side_by_keys_and_the_keeper(desk: Page) -> None:
    take = Take.objects.get(uid="demo-6")
    desk.goto(f"/shoots/{take.shoot_id}/takes/setup/{take.setup_key}/")
    for box in desk.locator("input[name=p]").all():
        box.check()
    desk.get_by_role("button", name="Lay the chosen side by side").click()
    panes = desk.locator("[data-pane] img")
    expect(panes).to_have_count(3)

    def placed() -> list[str]:
        return panes.evaluate_all("all => all.map((one) => getComputedStyle(one).transform)")

    whole = placed()
    desk.locator("[data-pane]").first.focus()
    desk.keyboard.press("+")
    desk.keyboard.press("+")
    desk.keyboard.press("ArrowRight")
    moved = placed()
    assert moved != whole
    assert len(set(moved)) == 1
    expect(desk.locator("[data-zoom-says]")).to_contain_text("2 times")
    desk.get_by_role("button", name="Keep this one").nth(2).click()
    expect(desk.locator("#messages")).to_contain_text("A001_C006.jpg is the keeper")
    assert TakePicture.objects.get(name="A001_C006.jpg").rating == 5
