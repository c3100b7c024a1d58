"""The Day page and the places, days and scenes of a shoot, through the client."""

import json
from datetime import UTC, date, datetime, time, timedelta
from math import pi
from typing import Any

import ephem
import pytest
from django.urls import reverse
from lxml import html

from fotonomy.days.moving import Move, move
from fotonomy.shoots import history
from fotonomy.shoots.mapping import packed_kit, snapshot, spec_of
from fotonomy.shoots.models import Day, LightReading, Place, Setup, Shoot, Way
from fotonomy.shoots.parts import part_snapshot
from fotonomy.shoots.services.shoots import make_shoot


def day_address(shoot: Shoot, at: int = 0) -> str:
    return reverse("day", args=[shoot.pk, list(shoot.days.all())[at].pk])


def page_of(answer: Any) -> Any:
    return html.fromstring(answer.content.decode())


def words(page: Any, path: str = "//main") -> str:
    return " ".join(" ".join(node.text_content() for node in page.xpath(path)).split())


def ferry(demo: Shoot) -> Setup:
    return demo.setups.select_related("shoot", "place", "day", "body", "lens", "profile").get(
        code="6A"
    )


def test_the_demo_has_one_honest_conflict_over_two_days(demo_client: Any, demo: Shoot) -> None:
    first = page_of(demo_client.get(day_address(demo)))
    assert "9 of 10 setups fit" in words(first, "//*[@class='fits']")
    clashes = first.xpath("//*[@class='clashes']/li")
    assert len(clashes) == 1
    # Dusk ends at -8 degrees, 17:28 (ephem); shot from 17:05 for forty minutes.
    assert "It wants dusk, 16:44 to 17:28; 17 min of its 40 min are outside" in words(first)
    second = page_of(demo_client.get(day_address(demo, 1)))
    assert "2 of 2 setups fit" in words(second)
    assert "Nothing collides" in words(second)


def test_the_day_says_its_light(demo_client: Any, demo: Shoot) -> None:
    page = page_of(demo_client.get(day_address(demo)))
    said = words(page, "//aside[contains(@class, 'day-side')]")
    # Sun over 43.12 S 147.05 E on 5 June 2027 (ephem): rise 07:36, highest 12:10 at 24°, set 16:44.
    for line in ("sunrise 07:36", "highest 12:10, 24°", "sunset 16:44", "dark 18:26"):
        assert line in said
    assert "sun 07:36 to 16:44" in words(page, "//*[@class='day-facts']")


def test_the_setup_in_hand(demo_client: Any, demo: Shoot) -> None:
    launch = demo.setups.get(code="5A")
    page = page_of(demo_client.get(f"{day_address(demo)}?setup={launch.pk}"))
    said = words(page, "//*[@class='in-hand']")
    assert "camera looks 305°, sun 316°, 11° high" in said
    assert "back light, 11° off the lens" in said
    assert "Wants sun behind the subject: 11:10 to 16:32" in said
    assert page.xpath(
        "//a[contains(@class, 'block') and contains(@class, 'chosen')]/@data-setup"
    ) == [str(launch.pk)]


def test_a_move_takes_the_light_of_its_hour_and_is_one_step(demo_client: Any, demo: Shoot) -> None:
    row = ferry(demo)
    before = snapshot(row)
    answer = demo_client.post(
        day_address(demo), {"setup": row.pk, "starts": "1005", "light": "estimate"}, follow=True
    )
    page = page_of(answer)
    assert "10 of 10 setups fit" in words(page)
    said = words(page, "//*[@id='messages']")
    assert "At 16:45 it is" in said
    assert "brighter" in said
    row = ferry(demo)
    assert row.planned_time == time(16, 45)
    # As the sky has it: by so much as the estimate moved, from what was metered.
    spec = spec_of(row, packed_kit(demo))
    light = spec.daylight
    assert light is not None
    midnight = row.day.midnight(row.place.zone)
    moved = (
        light.at(midnight.replace(hour=16, minute=45)).ev100
        - light.at(midnight.replace(hour=17, minute=5)).ev100
    )
    assert spec.light.value == pytest.approx(3.1 + moved, abs=0.06)
    assert demo.changes.filter(of=None).count() == 1
    demo_client.post(reverse("day-step", args=[demo.pk, demo.first_day.pk, "undo"]))
    assert snapshot(ferry(demo)) == before
    demo_client.post(reverse("day-step", args=[demo.pk, demo.first_day.pk, "redo"]))
    assert ferry(demo).planned_time == time(16, 45)


def test_what_was_metered_can_be_kept(demo_client: Any, demo: Shoot) -> None:
    row = ferry(demo)
    demo_client.post(day_address(demo), {"setup": row.pk, "starts": "1005", "light": "keep"})
    moved = ferry(demo)
    assert moved.light == {"ev100": 3.1}
    assert (moved.iris, moved.nd_density) == (row.iris, row.nd_density)
    # The choice is remembered.
    page = page_of(demo_client.get(day_address(demo)))
    assert page.xpath("//input[@name='light' and @value='keep']/@checked")
    # Lamps keep their light whatever the sky does.
    forge = demo.setups.get(code="7A")
    demo_client.post(
        day_address(demo, 1), {"setup": forge.pk, "starts": "720", "light": "estimate"}
    )
    assert demo.setups.get(code="7A").light == forge.light


def test_a_setup_goes_to_another_place_day_and_length(demo_client: Any, demo: Shoot) -> None:
    row = ferry(demo)
    mast, sunday = demo.places.get(name="Mast"), demo.days.last()
    sent = {
        "setup": row.pk,
        "clock": "17.00",
        "minutes": "25 min",
        "place": mast.pk,
        "day": sunday.pk,
        "light": "keep",
    }
    demo_client.post(day_address(demo), sent)
    row = ferry(demo)
    assert (row.place, row.day, row.planned_time) == (mast, sunday, time(17))
    assert row.schedule["shoot_min"] == 25
    # An empty hour takes it off the hours; it stands in the list of those without.
    demo_client.post(day_address(demo, 1), {"setup": row.pk, "clock": "", "light": "keep"})
    page = page_of(demo_client.get(day_address(demo, 1)))
    assert "6A Ferry lights" in words(page, "//*[@class='unplaced']")


@pytest.mark.parametrize(
    ("sent", "said"),
    [({"clock": "tea time"}, "A time of day"), ({"minutes": "-5"}, "A time such as 20 min"),
     ({"minutes": "forever"}, "A time such as 20 min"), ({"starts": "many"}, "Minutes since midnight"),
     ({"starts": "9000"}, "An hour of this day"), ({"starts": "1800"}, "this day ends at 19:00"),
     ({"starts": "nan"}, "hour of this day")],
)  # fmt: skip
def test_a_wrong_move_is_said_beside_its_field_and_nothing_is_lost(
    demo_client: Any, demo: Shoot, sent: dict[str, str], said: str
) -> None:
    row = ferry(demo)
    before = snapshot(row)
    answer = demo_client.post(day_address(demo), {"setup": row.pk, **sent})
    assert answer.status_code == 422
    page = page_of(answer)
    assert said.lower() in words(page, "//*[@class='field-error']").lower()
    for name, text in sent.items():
        if name in ("clock", "minutes"):
            assert page.xpath(f"//input[@id='m-{name}']/@value") == [text]
    assert snapshot(ferry(demo)) == before


def test_a_move_to_what_is_not_there(demo_client: Any, demo: Shoot, stranger: Any) -> None:
    other = make_shoot(stranger, name="Elsewhere", date=date(2027, 1, 1))
    row = ferry(demo)
    for sent in ({"place": other.main_place.pk}, {"day": other.first_day.pk}, {"place": 10**12}):
        answer = demo_client.post(day_address(demo), {"setup": row.pk, **sent})
        assert answer.status_code == 422
    assert (
        demo_client.post(day_address(demo), {"setup": 10**12, "starts": "600"}).status_code == 302
    )
    assert demo_client.post(day_address(demo), {"setup": "x", "starts": "600"}).status_code == 302


def test_keys_of_one_gesture_are_one_step(demo: Shoot) -> None:
    row = ferry(demo)
    for minutes in (1020, 1015, 1010):
        move(row, Move(starts_min=minutes, estimate=False, gesture="day-1"))
    assert demo.changes.filter(of=None).count() == 1
    history.undo(demo)
    assert ferry(demo).planned_time == row.planned_time


def test_a_place_is_added_changed_and_deleted_with_its_setups(
    demo_client: Any, demo: Shoot
) -> None:
    sent = {"name": "Lock gate", "latitude_deg": "43.13 S", "longitude_deg": "147.06 E", "height_m": "12 ft",
            "time_zone": "Australia/Hobart", "mains_hz": "50", "horizon": "NW 12\n0 3; 90 1.5",
            "own_ev100": "4 EV"}  # fmt: skip
    assert demo_client.post(reverse("part-new", args=[demo.pk, "place"]), sent).status_code == 302
    place = Place.objects.get(name="Lock gate")
    assert place.horizon == [[0, 3], [90, 1.5], [315, 12]]
    assert place.height_m == pytest.approx(3.66, abs=0.01)
    assert place.own_ev100 == 4
    form = page_of(demo_client.get(reverse("part-edit", args=[demo.pk, "place", place.pk])))
    assert form.xpath("//textarea[@name='horizon']")[0].text.split() == [
        "0",
        "3",
        "90",
        "1.5",
        "315",
        "12",
    ]
    mill = demo.places.first()
    answer = demo_client.post(reverse("part-delete", args=[demo.pk, "place", mill.pk]))
    assert answer.status_code == 302
    assert not Place.objects.filter(pk=mill.pk).exists()
    moved = demo.setups.get(code="1A")
    assert moved.place.name == "Yard and saw"
    assert not Way.objects.filter(start=mill.pk).exists()
    # One step brings back the place, the ways to it, and the setups that stood there.
    demo_client.post(
        reverse("day-step", args=[demo.pk, demo.first_day.pk, "undo"]), {"to": "places"}
    )
    back = Place.objects.get(pk=mill.pk)
    assert part_snapshot(back) == part_snapshot(mill)
    assert demo.setups.get(code="1A").place_id == mill.pk
    assert Way.objects.filter(start=mill.pk).count() == 1


def test_the_last_place_and_the_last_day_stay(demo_client: Any, demo: Shoot) -> None:
    sunday, saturday = demo.days.last(), demo.days.first()
    demo_client.post(reverse("part-delete", args=[demo.pk, "day", sunday.pk]))
    assert demo.setups.get(code="8A").day_id == saturday.pk
    answer = demo_client.post(
        reverse("part-delete", args=[demo.pk, "day", saturday.pk]), follow=True
    )
    assert "A shoot needs one of these" in answer.content.decode()
    assert Day.objects.filter(pk=saturday.pk).exists()


@pytest.mark.parametrize(
    ("field", "text", "said"),
    [("horizon", "10 5\n10 8", "would cross itself"), ("horizon", "10", "a direction and a height"),
     ("horizon", "north 5", "a direction"), ("horizon", "10 99", "a direction and a height"),
     ("time_zone", "Mars", "time zone name"), ("time_zone", "", "required"),
     ("latitude_deg", "95", "degrees from"), ("own_ev100", "bright", "EV at ISO 100"),
     ("opens", "08:00", "Both hours"), ("opens", "noon", "A time of day"), ("height_m", "far", "metres")],
)  # fmt: skip
def test_a_wrong_place_says_why_and_keeps_what_was_typed(
    demo_client: Any, demo: Shoot, field: str, text: str, said: str
) -> None:
    place = demo.places.get(name="Mast")
    page = page_of(demo_client.get(reverse("part-edit", args=[demo.pk, "place", place.pk])))
    sent = {f.name: f.value or "" for f in page.xpath("//form[contains(@class, 'columns-two')]//*[@name]")
            if f.get("type") != "submit" and f.name not in ("find_place", "csrfmiddlewaretoken")}  # fmt: skip
    sent.pop("find_place", None)
    answer = demo_client.post(
        reverse("part-edit", args=[demo.pk, "place", place.pk]), {**sent, field: text}
    )
    assert answer.status_code == 422
    assert said.lower() in words(page_of(answer), "//*[@class='field-error']").lower()
    assert text in answer.content.decode()


def test_a_day_comes_once(demo_client: Any, demo: Shoot) -> None:
    sent = {"date": "2027-06-05", "call": "07:00", "wrap": "19:00"}
    answer = demo_client.post(reverse("part-new", args=[demo.pk, "day"]), sent)
    assert "in the shoot already" in answer.content.decode()
    demo_client.post(reverse("part-new", args=[demo.pk, "day"]), {**sent, "date": "2027-06-07"})
    assert [day.date.day for day in demo.days.all()] == [5, 6, 7]


def test_ways_are_typed_or_worked_out(demo_client: Any, demo: Shoot) -> None:
    mill, mast = demo.places.first(), demo.places.get(name="Mast")
    name = f"way-{mill.pk}-{mast.pk}"
    demo_client.post(reverse("ways", args=[demo.pk]), {name: "1 h"})
    assert Way.objects.get(start=mill, end=mast).minutes == 60
    answer = demo_client.post(reverse("ways", args=[demo.pk]), {name: "-3"})
    assert answer.status_code == 422
    assert "minutes from 0" in answer.content.decode().lower()
    assert Way.objects.get(start=mill, end=mast).minutes == 60
    demo_client.post(reverse("ways", args=[demo.pk]), {name: ""})
    assert not Way.objects.filter(start=mill, end=mast).exists()


def test_what_was_metered_bends_the_light_of_its_place(demo_client: Any, demo: Shoot) -> None:
    jetty, launch = demo.places.get(name="Outer jetty"), demo.setups.get(code="5A")
    address = reverse("metered", args=[demo.pk, jetty.pk])
    demo_client.post(address, {"at": "2027-06-05T15:20", "ev100": "10.3"})
    reading = LightReading.objects.get(place=jetty)
    assert reading.at.isoformat() == "2027-06-05T05:20:00+00:00"
    page = page_of(demo_client.get(f"{day_address(demo)}?setup={launch.pk}"))
    said = words(page, "//*[@class='in-hand']")
    assert "you metered 10.3 at 15:20" in said
    assert "10.3 clear" in said
    for wrong in ({"at": "soon", "ev100": "10"}, {"at": "2027-06-05T15:20", "ev100": "dim"}):
        answer = demo_client.post(address, wrong)
        assert answer.status_code == 422
        assert "Not kept" in answer.content.decode()
    demo_client.post(address, {"drop": reading.pk})
    assert not LightReading.objects.filter(place=jetty).exists()


def test_a_shoot_without_degrees_and_polar_days(client: Any, stranger: Any) -> None:
    client.force_login(stranger)
    shoot = make_shoot(stranger, name="Nowhere", date=date(2027, 6, 5))
    client.post(f"/shoots/{shoot.pk}/setups/new/")
    row = shoot.setups.get()
    client.post(row.get_absolute_url(), {"planned_time": "12:00", "wants": "golden"})
    page = page_of(client.get(reverse("days", args=[shoot.pk]), follow=True))
    assert "Give the place its latitude and longitude" in words(page)
    assert "not known without where the place is" in words(page)
    polar = shoot.places.get()
    for degrees, note in ((78.2, "The sun does not set"), (-78.2, "The sun does not rise")):
        polar.latitude_deg, polar.longitude_deg = degrees, 15.6
        polar.save()
        page = page_of(client.get(reverse("days", args=[shoot.pk]), follow=True))
        assert note in words(page)
    polar.latitude_deg = -78.2
    assert "not on this day" in words(page) or "has no golden hour" in words(page)


def test_a_day_with_a_change_of_clock(client: Any, stranger: Any) -> None:
    client.force_login(stranger)
    shoot = make_shoot(stranger, name="Spring", date=date(2027, 3, 28), latitude_deg=54.1,
                       longitude_deg=-3.2, time_zone="Europe/London")  # fmt: skip
    client.post(f"/shoots/{shoot.pk}/setups/new/")
    row = shoot.setups.get()
    client.post(row.get_absolute_url(), {"planned_time": "01:30"})
    page = page_of(client.get(reverse("days", args=[shoot.pk]), follow=True))
    assert "it has 23 hours" in words(page)


def test_two_hundred_setups_on_a_day(demo_client: Any, demo: Shoot) -> None:
    row = demo.setups.get(code="4B")
    for at in range(190):
        row.pk, row.position = None, 100 + at
        row.save(force_insert=True)
    answer = demo_client.get(day_address(demo))
    assert answer.status_code == 200
    assert "of 200 setups fit" in words(page_of(answer))


def test_a_broken_setup_does_not_take_the_day_with_it(demo_client: Any, demo: Shoot) -> None:
    Setup.objects.filter(pk=ferry(demo).pk).update(schedule={"wants": "teatime"})
    answer = demo_client.get(day_address(demo))
    assert answer.status_code == 200
    assert "6A Ferry lights over the estuary cannot be planned" in words(page_of(answer))


def test_scenes_and_their_setups(demo_client: Any, demo: Shoot) -> None:
    bench = demo.setups.get(code="4B")
    demo_client.post(bench.get_absolute_url(), {"in_scene": str(demo.scenes.get(code="5").pk)})
    bench.refresh_from_db()
    assert str(bench.scene) == "5 The launch"
    demo_client.post(reverse("part-delete", args=[demo.pk, "scene", bench.scene_id]))
    bench.refresh_from_db()
    assert bench.scene is None
    demo_client.post(
        reverse("day-step", args=[demo.pk, demo.first_day.pk, "undo"]), {"to": "places"}
    )
    bench.refresh_from_db()
    assert str(bench.scene) == "5 The launch"


def test_place_and_day_are_chosen_on_the_bench(demo_client: Any, demo: Shoot) -> None:
    row = demo.setups.get(code="4B")
    page = page_of(demo_client.get(row.get_absolute_url()))
    assert len(page.xpath("//select[@name='place']/option")) == 5
    mast = demo.places.get(name="Mast")
    demo_client.post(
        row.get_absolute_url(), {"place": str(mast.pk), "looks_deg": "NW", "shoot_min": "1 h"}
    )
    row.refresh_from_db()
    assert (row.place, row.looks_deg, row.schedule["shoot_min"]) == (mast, 315, 60)
    answer = demo_client.post(row.get_absolute_url(), {"place": "99999"})
    assert answer.status_code == 422


def test_the_day_is_arranged_without_scripts(demo_client: Any, demo: Shoot) -> None:
    before = {row.pk: snapshot(row) for row in demo.setups.all()}
    address = reverse("day-arrange", args=[demo.pk, demo.first_day.pk])
    answer = demo_client.post(address, {"spare": "5", "light": "keep"}, follow=True)
    said = words(page_of(answer), "//*[@id='messages']")
    assert "Arranged: 10 of 10 setups have an hour. No other order fits more" in said
    assert "10 of 10 setups fit" in words(page_of(answer))
    assert "Nothing collides" in words(page_of(answer))
    # What was metered is kept, the other day is untouched, and it is one step.
    after = {row.pk: snapshot(row) for row in demo.setups.all()}
    assert all(after[key]["light"] == before[key]["light"] for key in before)
    assert demo.setups.get(code="8A").planned_time == time(19, 40)
    assert demo.changes.filter(of=None).count() == 1
    history.undo(demo)
    assert {row.pk: snapshot(row) for row in demo.setups.all()} == before


def test_what_is_pinned_stays_and_what_is_too_long_says_so(demo_client: Any, demo: Shoot) -> None:
    launch, ferry_row = demo.setups.get(code="5A"), ferry(demo)
    demo_client.post(launch.get_absolute_url(), {"pinned": "1"})
    demo_client.post(ferry_row.get_absolute_url(), {"shoot_min": "60"})
    address = reverse("day-arrange", args=[demo.pk, demo.first_day.pk])
    answer = demo_client.post(address, {"light": "keep"}, follow=True)
    said = words(page_of(answer), "//*[@id='messages']")
    # Dusk, from sunset to -8 degrees, lasts 44 minutes that day (ephem).
    assert (
        "6A Ferry lights over the estuary found no hour: its 1 h are longer than the 44 min of dusk"
        in said
    )
    assert demo.setups.get(code="5A").planned_time == time(15, 20)
    assert ferry(demo).planned_time is None
    assert "9 of 10 setups fit" in words(page_of(answer))


def test_the_search_is_told_as_it_goes_and_changes_nothing(demo_client: Any, demo: Shoot) -> None:
    before = {row.pk: snapshot(row) for row in demo.setups.all()}
    address = reverse("arrange-go", args=[demo.pk, demo.first_day.pk])
    answer = demo_client.get(f"{address}?scope=all&spare=0")
    lines = [json.loads(line) for line in b"".join(answer.streaming_content).splitlines()]
    assert lines[-1]["done"]
    assert lines[-1]["placed"] == lines[-1]["of"] == 12
    assert {row.pk: snapshot(row) for row in demo.setups.all()} == before
    # Stopped: the page sends the best it knows, with nothing signed.
    sent = {"scope": "all", "starts": json.dumps(lines[0]["starts"]), "said": "forged"}
    page = page_of(
        demo_client.post(
            reverse("day-arrange", args=[demo.pk, demo.first_day.pk]), sent, follow=True
        )
    )
    assert "the search was stopped" in words(page, "//*[@id='messages']")


@pytest.mark.parametrize(
    "starts", ["[]", "{", '{"x": 1}', '{"1": "soon"}', '{"1": 999999999}', '{"99999": 600}', "null"]
)
def test_a_mangled_order_is_never_a_fault(demo_client: Any, demo: Shoot, starts: str) -> None:
    address = reverse("day-arrange", args=[demo.pk, demo.first_day.pk])
    answer = demo_client.post(address, {"starts": starts, "spare": "lots"})
    assert answer.status_code == 302


def dates_address(shoot: Shoot, at: int = 0) -> str:
    return reverse("dates", args=[shoot.pk, list(shoot.days.all())[at].pk])


def test_a_better_date_is_found_and_taken(demo_client: Any, demo: Shoot) -> None:
    stars = demo.setups.get(code="8A")
    page = page_of(demo_client.get(f"{dates_address(demo, 1)}?setup={stars.pk}"))
    rows = page.xpath("//table/tbody/tr")
    # The shoot is on one of the best: new moon was on 4 June.
    assert "6 June 2027" in words(rows[0])
    assert "the shoot’s" in words(rows[0])
    assert "of Milky Way's core up on end" in words(rows[0])
    assert page.xpath("//svg[starts-with(@aria-label, 'A year of light')]")
    answer = demo_client.post(dates_address(demo, 1), {"date": "2027-07-03"}, follow=True)
    assert "The day is now Saturday 3 July 2027" in answer.content.decode()
    assert [day.date.isoformat() for day in demo.days.all()] == ["2027-06-05", "2027-07-03"]
    demo_client.post(reverse("day-step", args=[demo.pk, demo.first_day.pk, "undo"]))
    assert [day.date.isoformat() for day in demo.days.all()] == ["2027-06-05", "2027-06-06"]


def test_dates_for_a_whole_day_and_for_the_suns_place(demo_client: Any, demo: Shoot) -> None:
    page = page_of(demo_client.get(dates_address(demo)))
    assert "10 of 10 fit" in words(page, "//table")
    launch = demo.setups.get(code="5A")
    page = page_of(demo_client.get(f"{dates_address(demo)}?setup={launch.pk}&within=5&height=10"))
    assert "sun within 5° of 305° (NW), sun 10° high" in words(page, "//table")


@pytest.mark.parametrize(
    ("query", "said"),
    [("azimuth=north", "degrees from true north"), ("within=0", "degrees from 0.5"), ("height=91", "over the horizon"),
     ("from=2053-01-01", "known from 1900")],
)  # fmt: skip
def test_a_wrong_question_is_said_beside_its_field(
    demo_client: Any, demo: Shoot, query: str, said: str
) -> None:
    answer = demo_client.get(f"{dates_address(demo)}?setup=x&{query}")
    assert answer.status_code == 422
    assert said in words(page_of(answer), "//*[@class='field-error']").lower()


def test_dates_where_the_light_never_comes(demo_client: Any, demo: Shoot) -> None:
    Place.objects.filter(shoot=demo).update(latitude_deg=69.6)
    stars = demo.setups.get(code="8A")
    # From 69.6 N the centre of the Milky Way never stands 10 degrees high: 90 - 69.6 - 29 is less.
    page = page_of(demo_client.get(f"{dates_address(demo, 1)}?setup={stars.pk}"))
    assert "On no day of this year" in words(page)
    Place.objects.filter(shoot=demo).update(latitude_deg=None, longitude_deg=None)
    page = page_of(demo_client.get(f"{dates_address(demo, 1)}?setup={stars.pk}"))
    assert "is left out: not known without where the place is" in words(page)
    answer = demo_client.post(dates_address(demo, 1), {"date": "never"}, follow=True)
    assert "date:" in answer.content.decode()


OUTLINE = "9 Low water — Mud and keels\n  Keels in the mud, wide\n  9C Hand on a keel, close, macro\n4 A plank is shaped\n  - Chips on the floor, detail\nThe end"


def test_an_outline_is_shown_and_then_made_in_one_step(demo_client: Any, demo: Shoot) -> None:
    address = reverse("outline", args=[demo.pk])
    page = page_of(demo_client.post(address, {"outline": OUTLINE}))
    rows = [" ".join(row.text_content().split()) for row in page.xpath("//tbody/tr")]
    assert len(rows) == 3
    assert rows[0].startswith("9 Low water next letter Keels in the mud")
    assert page.xpath("//select[@name='size-1']/option[@selected]/@value") == ["close"]
    assert page.xpath("//select[@name='kind-1']/option[@selected]/@value") == ["macro"]
    assert demo.setups.count() == 12
    # One is unticked, one gets another kind; the rest is as guessed.
    sent = {"outline": OUTLINE, "make": "1", "take-0": "1", "kind-0": "night", "size-0": "wide",
            "kind-1": "macro", "size-1": "close", "take-2": "1", "kind-2": "real_time", "size-2": "detail"}  # fmt: skip
    answer = demo_client.post(address, sent, follow=True)
    assert "2 setups made" in answer.content.decode()
    keels, chips = (
        demo.setups.get(title="Keels in the mud"),
        demo.setups.get(title="Chips on the floor"),
    )
    assert (keels.code, keels.kind, keels.shot_size, str(keels.scene)) == (
        "9A",
        "night",
        "wide",
        "9 Low water",
    )
    # Scene 4 is known: it gets the next free letter; "The end" is a scene of its own.
    assert (chips.code, str(chips.scene)) == ("4D", "4 A plank is shaped")
    assert [scene.code for scene in demo.scenes.all()][-2:] == ["9", "10"]
    # Each can be planned, with the gear of the last one.
    last = demo.setups.get(code="8A")
    assert keels.body == last.body
    assert demo_client.get(keels.get_absolute_url()).status_code == 200
    assert demo.changes.filter(of=None).count() == 1
    history.undo(demo)
    assert (demo.setups.count(), demo.scenes.count()) == (12, 8)
    history.redo(demo)
    assert demo.setups.get(title="Keels in the mud").scene.title == "Low water"


@pytest.mark.parametrize("text", ["", "   ", "\n".join(["  - shot"] * 201), "x" * 20001])
def test_an_outline_that_makes_nothing_keeps_what_was_typed(
    demo_client: Any, demo: Shoot, text: str
) -> None:
    answer = demo_client.post(reverse("outline", args=[demo.pk]), {"outline": text, "make": "1"})
    assert answer.status_code == 422
    assert page_of(answer).xpath("//*[@class='field-error']")
    assert text.strip()[:50] in answer.content.decode()
    assert demo.setups.count() == 12


def test_a_scene_without_its_wide_is_said(demo_client: Any, demo: Shoot) -> None:
    page = page_of(demo_client.get(reverse("places", args=[demo.pk])))
    said = words(page, "//table[.//th[text()='Covered by']]")
    assert "2 The steam box" in said
    assert said.count("no wide: an editor cannot show where it happens") == 2
    steam = demo.setups.get(code="2A")
    demo_client.post(steam.get_absolute_url(), {"shot_size": "wide"})
    page = page_of(demo_client.get(reverse("places", args=[demo.pk])))
    assert words(page).count("no wide: an editor") == 1


def test_a_way_that_is_too_long_is_drawn_so(demo_client: Any, demo: Shoot) -> None:
    address = day_address(demo)
    assert "way-line short" not in demo_client.get(address).content.decode()
    # The yard is left at 14:55 and the jetty begun at 15:10: a quarter of an hour.
    demo.ways.filter(start__name="Yard and saw", end__name="Outer jetty").update(minutes=40)
    page = demo_client.get(address).content.decode()
    assert page.count("way-line short") == 1
    assert "No time for the way to 5A" in page


def test_a_place_is_not_undone_from_under_its_setups(demo_client: Any, demo: Shoot) -> None:
    sent = {"name": "Weir", "height_m": "0", "time_zone": "Australia/Hobart", "mains_hz": "50"}
    demo_client.post(reverse("part-new", args=[demo.pk, "place"]), sent)
    step, weir = demo.changes.last(), Place.objects.get(name="Weir")
    demo_client.post(
        day_address(demo), {"setup": ferry(demo).pk, "place": weir.pk, "light": "keep"}
    )
    address = reverse("day-step", args=[demo.pk, demo.first_day.pk, "undo"])
    answer = demo_client.post(address, {"step": step.pk}, follow=True)
    assert "Setups stand there meanwhile: move them first" in answer.content.decode()
    assert ferry(demo).place == weir


def test_a_light_that_the_day_has_none_of_says_when_it_is_next(
    demo_client: Any, demo: Shoot
) -> None:
    mast = demo.setups.get(code="8A")
    mast.schedule = {**mast.schedule, "wants": "moonlight"}
    mast.save()
    page = page_of(demo_client.get(f"{day_address(demo, 1)}?setup={mast.pk}"))
    said = words(page, "//*[@class='in-hand']")
    # By ephem: the first ten minutes after noon of the 7th with the sun under −18°, the moon over
    # 10° and half lit.
    mill = mast.place
    at = ephem.Observer()
    at.lat, at.lon, at.elevation = str(mill.latitude_deg), str(mill.longitude_deg), mill.height_m
    at.pressure = 0
    when = datetime(2027, 6, 7, 2, tzinfo=UTC)
    while True:
        at.date = ephem.Date(when.replace(tzinfo=None))
        sun, moon = ephem.Sun(at), ephem.Moon(at)
        high = 180 / pi * moon.alt >= 10 and 180 / pi * sun.alt <= -18
        if high and moon.phase >= 50:
            break
        when += timedelta(minutes=10)
    local = when.astimezone(mill.zone)
    assert f"not on this day; next on {local:%A} {local.day} {local:%B %Y}" in said
    clashes = words(page, "//*[@class='clashes']")
    assert f"nothing of the day is that here; next on {local:%A}" in clashes


def test_a_light_that_never_comes_is_said_so(demo_client: Any, demo: Shoot) -> None:
    mast = demo.setups.get(code="8A")
    mast.schedule = {**mast.schedule, "wants": "above", "wants_ev": 20}
    mast.save()
    page = page_of(demo_client.get(f"{day_address(demo, 1)}?setup={mast.pk}"))
    assert "not on this day; nor on any within a year" in words(page, "//*[@class='in-hand']")
    # The last day of the ephemeris knows no year after it.
    demo.days.filter(pk=mast.day_id).update(date=date(2053, 9, 1))
    answer = demo_client.get(f"{day_address(demo, 1)}?setup={mast.pk}")
    assert "not on this day" in words(page_of(answer), "//*[@class='in-hand']")


def test_a_year_of_places_far_apart_comes_place_by_place(demo_client: Any, demo: Shoot) -> None:
    where = reverse("dates", args=[demo.pk, demo.first_day.pk])
    plain = demo_client.get(where)
    assert not plain.streaming
    # Another town for the jetty: two years of sky to look through.
    demo.places.filter(name="Outer jetty").update(latitude_deg=-41.0, name="Far <jetty>")
    answer = demo_client.get(where)
    assert answer.streaming
    pieces = [piece.decode() for piece in answer.streaming_content]
    assert "Find" not in pieces[0] or "<form" in pieces[0]
    told = [piece for piece in pieces if piece.startswith('<p class="looking"')]
    assert [one.partition(">")[2].partition("<")[0] for one in told] == [
        "Tern Slip, mill: 1 of 2", "Far &lt;jetty&gt;: 2 of 2",
    ]  # fmt: skip
    page = html.fromstring("".join(pieces))
    assert page.xpath("//table[@class='parts']//tbody/tr")
    assert page.xpath("//main//figure")
    # A year beyond the ephemeris is said, and the page is whole.
    answer = demo_client.get(where, {"from": "2053-01-01"})
    page = html.fromstring("".join(piece.decode() for piece in answer.streaming_content))
    assert page.xpath("//p[@class='field-error']")
    assert page.xpath("//main//form")
