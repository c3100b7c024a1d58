"""The bench through Django's client: what is sent, saved, refused and shown."""

import json
from typing import Any

import pytest
from lxml import html

from fotonomy.core.motion.shutter import Shutter
from fotonomy.core.plan import plan
from fotonomy.core.spec.changes import Change
from fotonomy.core.spec.setup import FRAMING
from fotonomy.exchange.changes_json import press_of
from fotonomy.kit.models import Body, Lens
from fotonomy.shoots import history
from fotonomy.shoots.mapping import spec_of
from fotonomy.shoots.models import Setup
from fotonomy.shoots.packed_kit import packed_kit
from fotonomy.shoots.services.shoots import make_shoot
from fotonomy.shoots.views.get_or_404 import FRAGMENT_HEADER

FRAGMENT = {FRAGMENT_HEADER: "bench"}


def send(client: Any, row: Setup, tile: str = "", **fields: Any) -> Any:
    """Post some fields as the page does, with a tile open, and give the answer parsed."""
    address = row.get_absolute_url() + (f"?open={tile}" if tile else "")
    answer = client.post(address, fields, headers=FRAGMENT)
    assert answer.status_code == 200
    return html.fromstring(answer.content.decode())


def text_of(page: Any, path: str) -> str:
    return " ".join(page.xpath(path)[0].text_content().split())


def test_a_change_comes_back_in_every_tile_and_is_saved(demo_client: Any, adze: Setup) -> None:
    page = send(demo_client, adze, iris="f/5,6")
    assert "f/5.6" in text_of(page, "//dl[@class='strip-items']")
    assert "Iris f/5.6" in text_of(page, "(//figure)[1]")
    assert "Too dark by 1 stop" in text_of(page, "//section[@id='findings']")
    adze.refresh_from_db()
    assert adze.iris == 5.6


def test_absent_fields_stay_as_they_are(demo_client: Any, adze: Setup) -> None:
    send(demo_client, adze, iso="640")
    send(demo_client, adze, title="Chips, closer")
    adze.refresh_from_db()
    assert (adze.iso, adze.title, adze.iris, adze.mains_lamps) == (640, "Chips, closer", 4.0, True)


@pytest.mark.parametrize(
    ("field", "text", "words"),
    [
        ("iris", "f/0.2", "f-number"), ("iris", "f/64", "Standard 50 goes from f/1.8 to f/16"),
        ("iris", "", "f-number"), ("shutter", "forever", "angle such as"),
        ("shutter", "1/9000", "A-cam goes from"), ("shutter", "180", "180°, 1/180 or 180 s"), ("iso", "510", "A-cam offers 500 or 640"),
        ("iso", "-5", "ISO value"), ("nd_density", "8", "factor such as ND8"),
        ("nd_density", "5.5", "Your filters give"), ("frame_rate", "120", "A-cam offers"),
        ("light", "1e99", "EV such as"), ("light", "99 EV", "scenes lie between"),
        ("light", "0 lux", "more than zero"), ("subject_speed_m_s", "-1", "a speed from 0"),
        ("subject_distance_m", "3 cm", "focal length"), ("focal_mm", "nan", "focal length"),
        ("reading-0-stops", "lots", "stops from grey"), ("wanted_screen_s", "0", "one frame"),
        ("handle_s", "-1 s", "1 h"), ("white_k", "40 K", "1000"), ("planned_time", "25:99", "13:45"),
        ("kind", "opera", "one of the list"), ("body", "Somebody's", "valid choice"),
        ("lens", "", "required"), ("code", "A code too long", "at most 8"),
        ("filters", "No such glass", "valid choice"),
    ],
)  # fmt: skip
def test_wrong_input_stands_beside_its_field_and_the_last_plan_stays(
    demo_client: Any, adze: Setup, field: str, text: str, words: str
) -> None:
    before = Setup.objects.filter(pk=adze.pk).values().get()
    page = send(demo_client, adze, **{field: text})
    error = text_of(page, f"//*[@id='e-{field}']")
    assert words.lower() in error.lower()
    assert page.xpath(f"//input[@id='f-{field}']/@value") in ([text], [])
    assert Setup.objects.filter(pk=adze.pk).values().get() == before
    assert "nan" not in text_of(page, "//form[@id='bench']").lower().replace("finance", "")
    light = text_of(page, "//section[.//a[@id='open-light']]")
    assert "balanced, on target" in light


def test_one_wrong_field_does_not_stop_a_right_one(demo_client: Any, adze: Setup) -> None:
    page = send(demo_client, adze, iris="wide", iso="640")
    adze.refresh_from_db()
    assert (adze.iris, adze.iso) == (4.0, 640)
    assert page.xpath("//input[@id='f-iris']/@value") == ["wide"]


def test_gear_that_lacks_a_setting_is_a_finding_with_a_fix(demo_client: Any, adze: Setup) -> None:
    page = send(demo_client, adze, lens="Long zoom", focal_mm="100")
    found = page.xpath("//article[@data-finding='iris.gear_lacks']")[0]
    fix = found.xpath(".//button/@value")[0]
    assert fix == '[["iris",4.5]]'
    after = send(demo_client, adze, fix=fix)
    assert not after.xpath("//article[@data-finding='iris.gear_lacks']")


def test_a_fix_changes_only_what_it_names(demo_client: Any, adze: Setup) -> None:
    send(
        demo_client,
        adze,
        fix=press_of([Change("shutter", Shutter(angle_deg=360)), Change("nd_density", 1.2)]),
        title="not this",
        iso="100",
    )
    adze.refresh_from_db()
    assert (adze.shutter_angle_deg, adze.nd_density) == (360, 1.2)
    assert (adze.title, adze.iso) == ("Adze chips", 500)


@pytest.mark.parametrize(
    "fix",
    [
        "",
        ";;;",
        "[]",
        "[[]]",
        "{}",
        '[["iris", null]]',
        "[" * 3000,
        '[["body", 3], ["lens", []]]',
        '[["pk", 3]]',
        '[["reading-0-pk", 1]]',
        '[["iso", "x"]]',
        '[["held_iris", 3]]',
        '[["limit_iris", [8]]]',
        '[["kind", "opera"]]',
    ],
)
def test_a_mangled_fix_changes_nothing(demo_client: Any, adze: Setup, fix: str) -> None:
    before = Setup.objects.filter(pk=adze.pk).values().get()
    answer = demo_client.post(adze.get_absolute_url(), {"fix": fix}, headers=FRAGMENT)
    assert answer.status_code == 200
    assert Setup.objects.filter(pk=adze.pk).values().get() == before


def test_the_fold_is_left_out_where_it_stays_and_sent_where_it_changed(
    demo_client: Any, adze: Setup
) -> None:
    folds: dict[str, list[str]] = {"focus": [], "level": ["reading-body"] * 4}
    for tile, stays in folds.items():
        page = send(demo_client, adze, tile, iris="f/5" if tile == "focus" else "f/5.6")
        assert page.xpath("//div[@data-stays]/@class") == ["about-body", "wants-body", *stays]
    page = send(demo_client, adze, "focus", body="B-cam")
    assert page.xpath("//div[@data-stays]/@class") == ["wants-body"]
    page = send(demo_client, adze, "focus", held_lens="0")
    assert page.xpath("//div[@data-stays]/@class") == ["wants-body"]
    assert not page.xpath("//input[@type='checkbox'][@name='held_lens'][@checked]")
    assert page.xpath("//select[@name='body']/option[@selected]/@value") == ["B-cam"]
    assert page.xpath("//textarea[@name='notes']")


def test_as_an_ordinary_form(demo_client: Any, adze: Setup) -> None:
    good = demo_client.post(adze.get_absolute_url(), {"iris": "f/5.6"})
    assert good.status_code == 302
    bad = demo_client.post(adze.get_absolute_url(), {"iris": "?"})
    assert bad.status_code == 422
    assert b'value="?"' in bad.content


def test_what_a_person_types_is_escaped_everywhere(demo_client: Any, adze: Setup) -> None:
    nasty = "<script>x</script>\"'&"
    answer = demo_client.post(
        adze.get_absolute_url(),
        {"title": nasty, "reading-0-name": nasty, "subject": nasty, "notes": nasty},
        headers=FRAGMENT,
    )
    page = demo_client.get(adze.get_absolute_url())
    for body in (answer.content, page.content):
        assert b"<script>x" not in body
        assert b"&lt;script&gt;x" in body


def test_held_and_free(demo_client: Any, adze: Setup) -> None:
    send(demo_client, adze, held_iso="1", held_iris="0")
    adze.refresh_from_db()
    assert {*adze.held} == {"frame_rate", "iso", "shutter", *FRAMING}


def test_filters_cost_light_and_can_be_taken_off(demo_client: Any, adze: Setup) -> None:
    page = send(demo_client, adze, filters=["", "Polariser", "Soft net"])
    assert "Polariser −1.5" in text_of(page, "(//figure)[1]")
    assert "Soft net −0.3" in text_of(page, "(//figure)[1]")
    page = send(demo_client, adze, filters=[""])
    assert "Polariser" not in text_of(page, "(//figure)[1]")


def test_the_bench_offers_only_what_the_gear_can_do(demo_client: Any, adze: Setup) -> None:
    page = send(demo_client, adze, "level", body="B-cam")
    options = json.loads(page.xpath("//*[@data-scale='iso']/@data-options")[0])
    assert [text for text, *_ in options][-1] == "6400"
    rates = json.loads(page.xpath("//*[@data-scale='frame_rate']/@data-options")[0])
    assert [text for text, *_ in rates] == ["25", "50", "100"]
    profiles = page.xpath("//select[@name='profile']/option/text()")
    assert profiles == ["Soft log", "Video", "Flat log (not on this body)"]


def test_undo_and_redo_run_over_edits_copies_moves_and_deletions(
    demo_client: Any, adze: Setup
) -> None:
    shoot = adze.shoot
    undo, redo = f"/shoots/{shoot.pk}/undo/", f"/shoots/{shoot.pk}/redo/"
    send(demo_client, adze, iris="f/5.6")
    demo_client.post(f"{adze.get_absolute_url()}copy/")
    demo_client.post(f"{adze.get_absolute_url()}move/", {"to": "up"})
    demo_client.post(f"{adze.get_absolute_url()}delete/")
    assert shoot.setups.count() == 12
    for _ in range(3):
        demo_client.post(undo)
    assert shoot.setups.count() == 12
    adze.refresh_from_db()
    assert (adze.iris, adze.position) == (5.6, 5)
    demo_client.post(undo)
    adze.refresh_from_db()
    assert adze.iris == 4.0
    for _ in range(4):
        demo_client.post(redo)
    assert not Setup.objects.filter(pk=adze.pk).exists()
    assert shoot.setups.filter(title="Adze chips (copy)", iris=5.6).exists()


def test_a_new_change_forgets_what_was_undone(demo_client: Any, adze: Setup) -> None:
    shoot = adze.shoot
    send(demo_client, adze, iris="f/5.6")
    demo_client.post(f"/shoots/{shoot.pk}/undo/")
    send(demo_client, adze, iso="640")
    assert not history.undone_steps(shoot).exists()
    assert (
        "Nothing to redo"
        in demo_client.post(f"/shoots/{shoot.pk}/redo/", follow=True).content.decode()
    )


def test_undo_says_so_when_gear_has_left_the_kit(demo_client: Any, adze: Setup) -> None:
    shoot = adze.shoot
    lens = Lens.objects.get(owner=shoot.owner, name="Close-up 90")
    row = shoot.setups.get(lens=lens)
    demo_client.post(f"{row.get_absolute_url()}delete/")
    demo_client.post(f"/kit/lens/{lens.pk}/delete/")
    answer = demo_client.post(f"/shoots/{shoot.pk}/undo/", follow=True)
    assert "no longer in the kit" in answer.content.decode()
    assert shoot.setups.count() == 11


def test_steps_of_one_drag_are_one_step(demo_client: Any, adze: Setup) -> None:
    for text in ("f/4.5", "f/5", "f/5.6"):
        send(demo_client, adze, iris=text, gesture="drag-1")
    assert adze.shoot.changes.count() == 1
    demo_client.post(f"/shoots/{adze.shoot.pk}/undo/")
    adze.refresh_from_db()
    assert adze.iris == 4.0


@pytest.mark.parametrize("order", [[], ["x"], ["999999"], ["1", "1"], ["²"]])
def test_a_nonsense_order_loses_no_setup(demo_client: Any, adze: Setup, order: list[str]) -> None:
    answer = demo_client.post(f"/shoots/{adze.shoot.pk}/setups/order/", {"order": order})
    assert answer.status_code == 200
    assert adze.shoot.setups.count() == 12


def test_the_bench_asks_as_many_questions_for_twelve_setups_as_for_forty(
    demo_client: Any, adze: Setup, django_assert_max_num_queries: Any
) -> None:
    from django.db import connection
    from django.test.utils import CaptureQueriesContext

    with CaptureQueriesContext(
        connection,
    ) as few:
        demo_client.get(adze.get_absolute_url())
    for _ in range(28):
        demo_client.post(f"{adze.get_absolute_url()}copy/")
    with CaptureQueriesContext(connection) as many:
        demo_client.get(adze.get_absolute_url())
    assert len(many) == len(few)


def test_a_new_setup_starts_from_the_kit_and_the_edit(client: Any, stranger: Any) -> None:
    client.force_login(stranger)
    client.post("/shoots/new/", {
        "name": "Net shed", "date": "2027-03-02", "latitude_deg": "54,1 N",
        "longitude_deg": "3.2 W", "time_zone": "Europe/London", "mains_hz": "50",
        "project_fps": "24",
    })  # fmt: skip
    shoot = stranger.shoot_set.get()
    assert (shoot.main_place.latitude_deg, shoot.main_place.longitude_deg) == (54.1, -3.2)
    client.post(f"/shoots/{shoot.pk}/setups/new/")
    row = shoot.setups.get()
    # A camera with times takes the nearest speed to half the period: 1/50 (common practice).
    assert (row.frame_rate, row.shutter_time_s) == (24, 1 / 50)
    assert {"frame_rate", "shutter", *FRAMING} <= {*row.held}
    assert abs(plan(spec_of(row, packed_kit(shoot))).analysis.budget.error_stops) <= 0.35


def test_an_empty_kit_is_said_not_a_crash(client: Any, stranger: Any) -> None:
    client.force_login(stranger)
    shoot = make_shoot(stranger, name="Bare", date="2027-03-02")
    Body.objects.filter(owner=stranger).delete()
    answer = client.post(f"/shoots/{shoot.pk}/setups/new/", follow=True)
    assert "no camera body yet" in answer.content.decode()


@pytest.mark.parametrize(
    ("field", "text", "words"),
    [("latitude_deg", "95 N", "degrees from"), ("longitude_deg", "east", "degrees from"),
     ("time_zone", "Mars/Base", "time zone name"), ("project_fps", "0", "frames a second"),
     ("project_fps", "every 15 s", "Frames a second"), ("date", "32 May", "valid date"),
     ("name", "", "required"), ("mains_hz", "55", "valid choice")],
)  # fmt: skip
def test_a_shoot_with_a_wrong_field_keeps_what_was_typed(
    demo_client: Any, demo: Any, field: str, text: str, words: str
) -> None:
    fields = {
        "name": "Quay", "date": "2027-03-02", "latitude_deg": "0", "longitude_deg": "0",
        "time_zone": "UTC", "mains_hz": "50", "project_fps": "25", field: text,
    }  # fmt: skip
    page = html.fromstring(demo_client.post("/shoots/new/", fields).content.decode())
    error = text_of(page, f"//div[contains(@class,'field-{field}')]//p[@class='field-error']")
    assert words.lower() in error.lower()
    if field != "mains_hz":
        assert page.xpath(f"//input[@name='{field}']/@value") == ([text] if text else [])
    assert demo.owner.shoot_set.count() == 1


def test_the_ribbon_is_the_sky_over_the_shoots_own_place(demo_client: Any, adze: Setup) -> None:
    # 5 June at 43.12 S: by mean values (from memory) the sun stands 22.5 degrees north of the equator:
    # 90 - 43.1 - 22.5 = 24 degrees high at noon, so day at 13:20; it sets before 17 h, so low an hour
    # before that and just under the horizon, blue, at 17:05; at 19:40 it is night.
    page = html.fromstring(demo_client.get(adze.get_absolute_url()).content.decode())
    light = {
        row.xpath(".//b/text()")[0].split()[0]: row.get("class")
        for row in page.xpath("//li[@data-setup]")
    }
    named = {code: light[code].removeprefix("row light-") for code in ("4A", "5B", "6A", "8A")}
    assert named == {"4A": "day", "5B": "low_sun", "6A": "blue", "8A": "night"}


def test_another_lens_sets_the_focal_length_it_has_and_says_so(
    demo_client: Any, adze: Setup
) -> None:
    page = send(demo_client, adze, lens="Close-up 90")
    adze.refresh_from_db()
    assert adze.focal_mm == 90
    assert "Close-up 90 is a prime: the focal length is now 90 mm." in page.text_content()
    # A zoom that has it keeps it, and what was chosen along with the lens stands.
    page = send(demo_client, adze, lens="Long zoom", focal_mm="120")
    adze.refresh_from_db()
    assert adze.focal_mm == 120
    assert "focal length is now" not in page.text_content()


@pytest.mark.parametrize(("code", "kind", "mark"), [("5A", "warn", "▲"), ("4A", "good", "●")])
def test_the_head_of_motion_says_what_its_drawing_says(
    demo_client: Any, code: str, kind: str, mark: str
) -> None:
    """A pan that looks borderline was green over a drawing that warned of it."""
    row = Setup.objects.get(code=code)
    page = html.fromstring(demo_client.get(f"{row.get_absolute_url()}?open=none").content.decode())
    head = page.xpath("//*[@data-tile='motion']//p[contains(@class, 'verdict')]")[0]
    assert kind in head.get("class").split()
    assert mark in head.text_content()
    drawn = page.xpath("//*[@data-tile='motion']//*[contains(@class, 'verdict end')]")
    assert all(kind in one.get("class").split() for one in drawn)
