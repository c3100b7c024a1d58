"""Interval, burst and long-exposure lanes, the dry run and the program: through the client."""

import csv
import json
from datetime import date, time
from io import StringIO
from typing import Any

import pytest
from django.urls import reverse
from lxml import html

from fotonomy.core.gear.accessories import Card
from fotonomy.core.plan import plan
from fotonomy.core.spec.changes import Change
from fotonomy.core.spec.kind import Kind
from fotonomy.exchange.changes_json import changes_of, press_of
from fotonomy.exchange.setup_json import read_setup, setup_from_data, setup_to_data
from fotonomy.kit.models import Accessory
from fotonomy.shoots import history
from fotonomy.shoots.mapping import file_of, spec_of
from fotonomy.shoots.models import Day, Setup, Shoot
from fotonomy.shoots.packed_kit import packed_kit
from fotonomy.shoots.services.shoots import make_shoot
from tests.web.test_bench import send, text_of

pytestmark = pytest.mark.django_db


def taking(row: Setup, name: str, alone: bool = True) -> str:
    """The press that hangs one more thing on a camera; a card (``alone``) takes the other's place."""
    kept = [device for device in fresh(row).devices if not (alone and isinstance(device, Card))]
    return press_of([Change("devices", (*(device.name for device in kept), name))])


@pytest.fixture
def pond(demo: Shoot) -> Setup:
    return demo.setups.get(code="1A")


@pytest.fixture
def stars(demo: Shoot) -> Setup:
    return demo.setups.get(code="8A")


def fresh(row: Setup) -> Any:
    row = Setup.objects.select_related("shoot__owner").get(pk=row.pk)
    return spec_of(row, packed_kit(row.shoot))


def test_any_two_of_three_on_the_page(demo_client: Any, pond: Setup) -> None:
    # The event follows: a longer clip covers more.
    send(demo_client, pond, wanted_screen_s="20 s")
    assert fresh(pond).run.event_s == 499 * 6
    # Whoever changes the one that follows means it: now the clip follows.
    page = send(demo_client, pond, event_s="1 h")
    assert (fresh(pond).run.follows.value, fresh(pond).wanted_screen_s) == ("clip", 601 / 25)
    assert "601 frames" in text_of(page, "//section[@id='stage']")
    send(demo_client, pond, follows="interval")
    send(demo_client, pond, wanted_screen_s="10 s")
    assert fresh(pond).frame_rate == pytest.approx(249 / 3600)
    # The interval follows and is changed: the event follows from then on.
    send(demo_client, pond, frame_rate="every 10 s")
    assert (fresh(pond).run.follows.value, fresh(pond).run.event_s) == ("event", 2490)
    history.undo(pond.shoot)
    assert fresh(pond).run.follows.value == "interval"


@pytest.mark.parametrize(
    ("field", "text", "words"),
    [("event_s", "soon", "such as 8 h"), ("event_s", "2 years", "at most a year"), ("self_timer_s", "90 s", "0 to 60 s"),
     ("light_curve", "now bright", "after how long"), ("declination_deg", "200", "from -90 to 90"),
     ("temperature_c", "cold", "°c from -60"), ("star_px", "0", "pixels such as 3"), ("start_after_s", "200 h", "up to 99 h")],
)  # fmt: skip
def test_wrong_input_stands_beside_its_field_as_typed(
    demo_client: Any, stars: Setup, field: str, text: str, words: str
) -> None:
    before = fresh(stars)
    page = send(demo_client, stars, **{field: text})
    assert words in text_of(page, f"//*[@id='e-{field}']").lower()
    assert page.xpath(f"//input[@id='f-{field}']/@value") == [text]
    assert fresh(stars) == before


def test_a_third_that_cannot_be_is_said_where_it_was_caused(demo_client: Any, pond: Setup) -> None:
    send(demo_client, pond, follows="interval")
    # The event is taken before the clip is typed; what the two come to is a finding.
    page = send(demo_client, pond, event_s="20 s")
    assert fresh(pond).run.event_s == 20
    assert fresh(pond).frame_rate == 1
    said = text_of(page, "//*[@data-finding='run.past_event']")
    assert "one every 0.08 s; the shortest interval is 1 s" in said
    send(demo_client, pond, event_s="25 min")
    # An interval shorter than a second, and a run over a year.
    page = send(demo_client, pond, frame_rate="every 0.2 s")
    assert "1 s or longer" in text_of(page, "//*[@id='e-frame_rate']")
    send(demo_client, pond, follows="event", frame_rate="every 3600 s")
    page = send(demo_client, pond, wanted_screen_s="2 h")
    assert "longer than a year" in text_of(page, "//*[@id='e-wanted_screen_s']")


def test_usual_intervals_by_subject(demo_client: Any, pond: Setup) -> None:
    send(demo_client, pond, subject_start="traffic, people")
    assert fresh(pond).frame_rate == 1
    send(demo_client, pond, subject_start="stars")
    assert fresh(pond).frame_rate == pytest.approx(1 / 15)


def test_an_interval_setup_from_before_runs_shows_what_it_covers(
    demo_client: Any, pond: Setup
) -> None:
    Setup.objects.filter(pk=pond.pk).update(run={})
    page = html.fromstring(demo_client.get(pond.get_absolute_url()).content.decode())
    assert page.xpath("//input[@id='f-event_s']/@value") == ["24 min 54 s"]


def test_the_half_period_look_is_one_press(demo_client: Any, pond: Setup) -> None:
    page = send(demo_client, pond, "cycle", iris="f/8")
    press = page.xpath("//section[@id='stage']//p[@class='press']/button")[0]
    send(demo_client, pond, fix=press.get("value"))
    spec = fresh(pond)
    # Half of six seconds, near enough on the marks; what it gives is taken away again.
    assert spec.time_s == pytest.approx(3, rel=0.1)
    assert abs(plan(spec).analysis.budget.error_stops) < 0.4


def test_the_sun_gives_the_light_to_come(demo_client: Any, pond: Setup) -> None:
    page = send(demo_client, pond, "ramp", light_sun="1")
    points = fresh(pond).run.light_curve
    # Winter dawn at Tern Slip, from 07:45 on: it gets lighter from what was metered.
    assert (points[0].ev100, len(points)) == (9.0, 13)
    assert points[-1].ev100 > 10.5
    assert "light from EV 9" in text_of(page, "//section[@id='stage']")
    pond.refresh_from_db()
    pond.planned_time = None
    pond.save()
    page = send(demo_client, pond, light_sun="1")
    assert "time the setup is planned for" in text_of(page, "//*[@id='e-light_curve']")


def test_what_hangs_on_the_camera(demo_client: Any, stars: Setup) -> None:
    page = send(demo_client, stars, iris="f/2")
    finding = page.xpath("//*[@id='findings']//button[contains(., 'take Pack 100')]/@value")
    # For the camera, and for the heater that has nothing to hang on.
    assert set(finding) == {taking(stars, "Pack 100", alone=False)}
    send(demo_client, stars, fix=finding[0])
    assert {d.name for d in fresh(stars).devices} >= {"Pack 100", "A-cam battery", "Wrist remote"}
    # One card and one remote at a time; batteries add up.
    send(demo_client, stars, fix=taking(stars, "Card 512"))
    cards = [d.name for d in fresh(stars).devices if d.name.startswith("Card")]
    assert cards == ["Card 512"]
    send(demo_client, stars, devices=["", "Wrist remote"])
    assert [d.name for d in fresh(stars).devices] == ["Wrist remote"]
    history.undo(stars.shoot)
    assert len(fresh(stars).devices) >= 4
    send(demo_client, stars, fix=taking(stars, "Nobody's remote"))
    assert len(fresh(stars).devices) >= 4


def test_a_name_may_hold_anything_and_is_pressed_all_the_same(
    demo_client: Any, stars: Setup
) -> None:
    Accessory.objects.filter(name="Pack 100").update(name="Pack; 100 %3B=half")
    page = send(demo_client, stars, iris="f/2")
    press = page.xpath("//*[@id='findings']//button[contains(., 'take Pack;')]/@value")[0]
    send(demo_client, stars, fix=press)
    assert "Pack; 100 %3B=half" in {d.name for d in fresh(stars).devices}
    changes = (Change("title", "60 %"), Change("lens", '"x=1";[2]'))
    assert changes_of(press_of(changes)) == changes


def test_taking_a_device_out_of_the_kit_takes_it_off(demo_client: Any, stars: Setup) -> None:
    card = Accessory.objects.get(name="Card 128")
    page = demo_client.post(f"/kit/accessory/{card.pk}/delete/").content.decode()
    assert "8A Mast and stars" in page


def test_burst_lane_and_its_drives(demo_client: Any, demo: Shoot) -> None:
    gulls = demo.setups.get(code="5B")
    page = send(demo_client, gulls, moment_s="1/10")
    lane = "//section[@id='stage']"
    assert "◆ enough" in text_of(page, f"{lane}//tr[contains(., 'high (mechanical)')]")
    take = page.xpath(f"{lane}//tr[contains(., 'high (mechanical)')]//button/@value")
    send(demo_client, gulls, fix=take[0])
    assert fresh(gulls).frame_rate == 12
    # With focus following, the same drive is slower.
    page = send(demo_client, gulls, continuous_focus="1")
    assert fresh(gulls).frame_rate == 9
    assert "cannot do this frame rate" not in page.text_content()
    assert "frame_rate.gear_lacks" not in {f.id for f in plan(fresh(gulls)).findings}
    page = send(demo_client, gulls, burst_s="soon")
    assert "a length such as" in text_of(page, "//*[@id='e-burst_s']").lower()
    page = send(demo_client, gulls, devices=[""])
    assert "the card's speed or the buffer is not known" in text_of(page, f"{lane}//figure")


def test_trail_lane(demo_client: Any, demo: Shoot) -> None:
    ferry = demo.setups.get(code="6A")
    lane = "//section[@id='stage']"
    page = send(demo_client, ferry, passes_s="2 an hour")
    assert "catch nothing" in text_of(page, lane)
    page = send(demo_client, ferry, shutter="2 min")
    assert "bulb: Wrist remote" in text_of(page, lane)
    page = send(demo_client, ferry, combining="additive", frames="9")
    assert "does not combine so many" in text_of(page, "//*[@id='findings']")
    page = send(demo_client, ferry, frames="0")
    assert "1 to 100 exposures" in text_of(page, "//*[@id='e-frames']")
    page = send(demo_client, ferry, combining="sideways")
    assert page.xpath("//*[@id='e-combining']")


def test_every_kind_has_its_tiles(demo_client: Any, adze: Setup) -> None:
    for kind in Kind:
        page = send(demo_client, adze, kind=kind.value)
        tiles = page.xpath("//h2/a[@data-open]/@id")
        assert len(tiles) == len(set(tiles)) >= 8
        assert ("open-run" in tiles) == (kind is Kind.INTERVAL)
        assert ("open-burst" in tiles) == (kind is Kind.BURST)
        assert ("open-trail" in tiles) == (kind is Kind.LONG_EXPOSURE)
        # The one a kind of stills lives from is open; video starts with none.
        stage = page.xpath("//section[@id='stage']//h2/a/@id")
        lives_from = {Kind.INTERVAL: "run", Kind.BURST: "burst", Kind.LONG_EXPOSURE: "trail"}
        assert stage == ([f"open-{lives_from[kind]}"] if kind in lives_from else [])
        assert demo_client.get(adze.get_absolute_url()).status_code == 200
        assert (
            demo_client.get(reverse("plan-export", args=[adze.shoot_id, adze.pk])).status_code
            == 200
        )


def dry(client: Any, row: Setup, query: str = "run=1") -> Any:
    answer = client.get(f"{reverse('dry-run', args=[row.shoot_id, row.pk])}?{query}")
    assert answer.status_code == 200
    return html.fromstring(answer.content.decode())


def test_a_dry_run_and_its_way_out(demo_client: Any, stars: Setup) -> None:
    page = dry(demo_client, stars)
    assert "the battery was empty" in page.text_content()
    # By the place's clock, not the server's: about an hour after 19:40.
    assert "21:2" in text_of(page, "//dl[@class='dry-facts']")
    way = page.xpath("//section[@class='lesson']//button[contains(., 'take Pack 100')]/@value")[0]
    address = reverse("dry-run", args=[stars.shoot_id, stars.pk])
    answer = demo_client.post(address, {"fix": way, "seed": "7", "fault": "slow_card"})
    assert answer.url == f"{address}?fault=slow_card&seed=7&run=1"
    assert "● Nothing lost" in dry(demo_client, stars).text_content()
    assert "● Nothing lost" in dry(demo_client, stars, "run=1&fault=nonsense&seed=x").text_content()
    # What the plan itself refuses is shown as a message, and nothing is changed.
    before = fresh(stars)
    demo_client.post(address, {"fix": '[["frame_rate", 0]]'})
    assert fresh(stars) == before


def test_the_dry_run_tells_how_far_it_is(demo_client: Any, stars: Setup) -> None:
    send(demo_client, stars, fix=taking(stars, "Card 512"))
    send(demo_client, stars, event_s="20 h")
    send(demo_client, stars, frame_rate="every 20 s")
    address = reverse("dry-run-go", args=[stars.shoot_id, stars.pk])
    answer = demo_client.get(f"{address}?seed=1")
    told = [json.loads(line) for line in b"".join(answer.streaming_content).decode().splitlines()]
    assert [sorted(line) for line in told[:-1]] == [["done", "frames"]] * (len(told) - 1)
    shares = [line["done"] for line in told[:-1]]
    assert shares == sorted(shares)
    assert shares[-1] == 1
    assert "dry-word" in told[-1]["html"]


def test_the_run_as_csv(demo_client: Any, stars: Setup) -> None:
    address = reverse("dry-run-csv", args=[stars.shoot_id, stars.pk])
    answer = demo_client.get(f"{address}?run=1&seed=1")
    assert answer["Content-Type"] == "text/csv"
    rows = list(csv.DictReader(StringIO(b"".join(answer.streaming_content).decode())))
    assert rows[0]["fired_s"] == "10.000"
    assert rows[0]["clock"] == "2027-06-06T19:40:10+10:00"
    assert rows[-1]["result"] == "battery-empty"
    assert {row["result"] for row in rows[:-1]} == {"frame"}
    assert float(rows[1]["opened_s"]) - float(rows[0]["opened_s"]) == 20


def test_the_program_to_carry(demo_client: Any, pond: Setup) -> None:
    answer = demo_client.get(reverse("program", args=[pond.shoot_id, pond.pk]))
    page = html.fromstring(answer.content.decode())
    words = " ".join(page.text_content().split())
    assert "press at 07:45" in words
    assert "Old remote" in words
    # It waits one interval before the first frame, so the delay wanted cannot be kept.
    assert "waits one interval" in words
    assert "1/4" in words


def test_video_has_neither_program_nor_dry_run(demo_client: Any, adze: Setup) -> None:
    for name in ("dry-run", "program", "dry-run-csv"):
        answer = demo_client.get(reverse(name, args=[adze.shoot_id, adze.pk]), follow=True)
        assert "Only interval" in answer.content.decode()
    assert demo_client.get(reverse("dry-run-go", args=[adze.shoot_id, adze.pk])).status_code == 404


def test_too_long_a_run_is_explained_not_clipped(demo_client: Any, pond: Setup) -> None:
    send(demo_client, pond, follows="event", frame_rate="every 1 s")
    send(demo_client, pond, wanted_screen_s="9000 s")
    answer = demo_client.get(f"{reverse('dry-run', args=[pond.shoot_id, pond.pk])}?run=1")
    assert answer.status_code == 422
    assert "225000 frames are more than the 200000" in answer.content.decode()
    go = demo_client.get(reverse("dry-run-go", args=[pond.shoot_id, pond.pk]))
    assert (go.status_code, "refused" in go.content.decode()) == (422, True)


def test_a_change_of_clock_is_said_on_the_bench(demo_client: Any, stars: Setup) -> None:
    # Daylight saving ends at Hobart on 4 April 2027 (IANA time zone database).
    Day.objects.filter(pk=stars.day_id).update(date=date(2027, 4, 3))
    Setup.objects.filter(pk=stars.pk).update(planned_time=time(23, 30))
    page = send(demo_client, stars, iris="f/2")
    words = text_of(page, "//*[@id='findings']")
    assert "The clock is changed during the run" in words
    assert "start at 22:58, it ends before" in words


def test_a_run_goes_out_and_comes_in_whole(
    demo_client: Any, stranger: Any, client: Any, stars: Setup
) -> None:
    held = file_of(stars, packed_kit(stars.shoot))
    data = setup_to_data(held)
    again = setup_from_data(json.loads(json.dumps(data)))
    assert again.setup.run == held.setup.run
    assert set(again.setup.devices) == set(held.setup.devices)
    # Somebody else takes it in: run, remote, card and batteries become their own.
    client.force_login(stranger)
    shoot = make_shoot(stranger, name="Mine", date=date(2027, 1, 1))
    file = StringIO(json.dumps(data))
    file.name = "x.json"
    client.post(f"/shoots/{shoot.pk}/setups/import/", {"file": file})
    row = shoot.setups.get()
    assert fresh(row).run == held.setup.run
    assert {thing.owner for thing in row.things.all()} == {stranger}
    assert {d.name for d in fresh(row).devices} == {d.name for d in held.setup.devices}
    damaged = data
    damaged["setup"]["run"]["frames"] = 0
    with pytest.raises(Exception, match="run"):
        read_setup(json.dumps(damaged).encode())


REMOTE = {"name": "My remote", "sort": "remote", "counting": "end_to_start", "waits_first": "on", "most_count": "999",
          "sure_count": "", "step_s": "0,5 s"}  # fmt: skip


@pytest.mark.parametrize(
    ("fields", "words"),
    [(REMOTE, "from end to next start, the first after one"),
     ({"name": "My card", "sort": "card", "size_gb": "256 GB", "write_mb_s": "90"}, "256 GB · keeps up 90 MB/s"),
     ({"name": "My pack", "sort": "battery", "energy_wh": "99 Wh", "external": "on"}, "99 Wh, external pack"),
     ({"name": "My band", "sort": "heater", "power_w": "4"}, "draws 4 W")],
)  # fmt: skip
def test_devices_are_added_and_shown(demo_client: Any, fields: dict[str, str], words: str) -> None:
    page = demo_client.get(f"/kit/accessory/new/?sort={fields['sort']}").content.decode()
    for name in fields:
        assert f'name="{name}"' in page
    assert demo_client.post("/kit/accessory/new/", fields).status_code == 302
    assert words in demo_client.get("/kit/").content.decode()
    row = Accessory.objects.get(name=fields["name"])
    row.to_device()
    assert demo_client.get(f"/kit/accessory/{row.pk}/").status_code == 200


@pytest.mark.parametrize(
    ("fields", "name", "text", "words"),
    [(REMOTE, "most_count", "0", "number from 1"), (REMOTE, "step_s", "often", "A number from"),
     (REMOTE, "sort", "card", "needs a value"), (REMOTE, "name", "Wrist remote", "one of this name")],
)  # fmt: skip
def test_devices_that_cannot_be_are_refused_beside_the_field(
    demo_client: Any, fields: dict[str, str], name: str, text: str, words: str
) -> None:
    answer = demo_client.post("/kit/accessory/new/", {**fields, name: text})
    assert answer.status_code == 422
    assert words in answer.content.decode()
    # No count and not unlimited: the core's own rule, beside its field.
    answer = demo_client.post("/kit/accessory/new/", {**REMOTE, "name": "x", "most_count": ""})
    assert "highest count, or tick" in answer.content.decode().lower()


def test_a_whole_form_changes_nothing_it_only_shows(
    demo_client: Any, demo: Shoot, pond: Setup
) -> None:
    """Without scripts every field is sent as it is shown, rounded; the exact values stay."""
    send(demo_client, pond, follows="interval")
    send(demo_client, pond, event_s="1 h 7 min")
    # A curve of thirteen points is a long text.
    send(demo_client, pond, light_sun="1")
    gulls = demo.setups.get(code="5B")
    send(demo_client, gulls, moment_s="1/60")
    assert fresh(gulls).run.moment_s == pytest.approx(1 / 60)
    for row in (pond, gulls, demo.setups.get(code="6A")):
        before = fresh(row)
        page = html.fromstring(demo_client.get(row.get_absolute_url()).content.decode())
        form = page.xpath("//form[@id='bench']")[0]
        data: dict[str, Any] = {}
        for name, value in form.form_values():
            data.setdefault(name, []).append(value)
        assert demo_client.post(row.get_absolute_url(), data).status_code == 302
        after = fresh(row)
        assert (after.frame_rate, after.run, after.wanted_screen_s) == (
            before.frame_rate, before.run, before.wanted_screen_s
        )  # fmt: skip
        assert after.devices == before.devices


def test_a_device_nobody_has_is_refused_beside_the_list(demo_client: Any, stars: Setup) -> None:
    before = fresh(stars)
    page = send(demo_client, stars, devices=["", "Card 9000"])
    assert page.xpath("//*[@id='e-devices']")
    assert fresh(stars).devices == before.devices


def test_bursts_and_long_exposures_are_rehearsed_too(demo_client: Any, demo: Shoot) -> None:
    gulls, ferry = demo.setups.get(code="5B"), demo.setups.get(code="6A")
    page = dry(demo_client, gulls)
    assert "● Nothing lost" in page.text_content()
    assert "An hour of bursts" in page.text_content()
    assert page.xpath("//input[@name='fault']/@value") == ["slow_card", "cold", "full_card"]
    # 80 frames a burst are more than the buffer of 50 and a slow card take.
    send(demo_client, gulls, burst_s="4 s")
    page = dry(demo_client, gulls, "run=1&fault=slow_card&seed=1")
    way = page.xpath("//section[@class='lesson']//button[contains(., 'JPEG')]/@value")[0]
    address = reverse("dry-run", args=[gulls.shoot_id, gulls.pk])
    demo_client.post(address, {"fix": way, "seed": "1", "fault": "slow_card"})
    assert fresh(gulls).run.files.value == "jpeg"
    page = dry(demo_client, ferry)
    assert "● Nothing lost" in page.text_content()
    assert "all 3 frames, each in its place" in page.text_content()
    answer = demo_client.get(f"{reverse('dry-run-csv', args=[ferry.shoot_id, ferry.pk])}?run=1")
    assert len(b"".join(answer.streaming_content).decode().splitlines()) == 4


def test_a_shutter_beyond_the_interval_says_how_far_a_remote_may_hold_it(
    demo_client: Any, stars: Setup
) -> None:
    send(demo_client, stars, frame_rate="every 37 s")
    page = send(demo_client, stars, shutter="45 s")
    assert "up to the interval of 37 s" in text_of(page, "//*[@id='e-shutter']")
    send(demo_client, stars, shutter="35 s")
    assert fresh(stars).time_s == 35


def test_times_of_another_day_name_the_day(demo_client: Any, stars: Setup) -> None:
    page = send(demo_client, stars, event_s="26 h 13 min")
    # 19:40 on Sunday, 26 h later: Monday evening.
    assert "ends Mon 21:5" in text_of(page, "//section[@id='stage']")
    page = send(demo_client, stars, "cycle", temperature_c="3")
    assert "stop it at Mon 21:5" in text_of(page, "//section[@id='stage']")


def test_a_video_becomes_an_interval_every_two_seconds_and_back(
    demo_client: Any, demo: Shoot
) -> None:
    """Common practice, no source: two seconds to begin with; stars have an interval of their own."""
    row = demo.setups.get(code="5A")
    before = spec_of(row, packed_kit(demo))
    send(demo_client, row, kind="interval")
    run = spec_of(Setup.objects.get(pk=row.pk), packed_kit(demo))
    assert 1 / run.frame_rate == pytest.approx(2)
    assert run.time_s == pytest.approx(before.time_s)
    send(demo_client, row, kind="real_time")
    back = spec_of(Setup.objects.get(pk=row.pk), packed_kit(demo))
    assert (back.frame_rate, back.time_s) == (25, pytest.approx(before.time_s))
    # An exposure that no frame of video has room for goes to the look of the method.
    stars = demo.setups.get(code="8A")
    send(demo_client, stars, kind="real_time")
    video = spec_of(Setup.objects.get(pk=stars.pk), packed_kit(demo))
    assert (video.frame_rate, video.shutter.degrees(25)) == (25, pytest.approx(180))
    send(demo_client, stars, kind="interval")
    assert 1 / Setup.objects.get(pk=stars.pk).frame_rate == pytest.approx(15)


@pytest.mark.parametrize(
    ("text", "seconds"),
    [("25", 25), ("25 s", 25), ("2 min", 120), ("1 h", 3600), ("every 9 s", 9), ("1/15", 15)],
)
def test_a_bare_number_is_seconds_where_an_interval_is_asked_for(
    demo_client: Any, demo: Shoot, text: str, seconds: float
) -> None:
    row = demo.setups.get(code="1A")
    send(demo_client, row, frame_rate=text)
    assert 1 / Setup.objects.get(pk=row.pk).frame_rate == pytest.approx(seconds)


def test_half_a_second_is_no_interval_and_is_said(demo_client: Any, demo: Shoot) -> None:
    row = demo.setups.get(code="1A")
    page = send(demo_client, row, frame_rate="0.5")
    assert "An interval is 1 s or longer" in page.text_content()
    assert Setup.objects.get(pk=row.pk).frame_rate == pytest.approx(1 / 6)
