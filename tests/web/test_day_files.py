"""Places and the schedule in open formats, each read by a foreign reader: gpxpy, icalendar."""

import json
from datetime import UTC, date, datetime, time, timedelta
from typing import Any

import gpxpy
import icalendar
import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse

from fotonomy.exchange.calendar_files import CalendarEvent, from_ics, to_ics
from fotonomy.exchange.errors import ExchangeError
from fotonomy.exchange.place_files import PlaceData, from_geojson, from_gpx, read_places, to_gpx
from fotonomy.shoots import history
from fotonomy.shoots.history_rows import part_snapshot
from fotonomy.shoots.models import Place, Shoot
from fotonomy.shoots.services.quotas import MOST_PLACES
from fotonomy.shoots.services.shoots import make_shoot


def send(client: Any, name: str, shoot: Shoot, raw: bytes) -> str:
    upload = SimpleUploadedFile("file", raw)
    answer = client.post(reverse(name, args=[shoot.pk]), {"file": upload}, follow=True)
    assert answer.status_code == 200
    return str(answer.content.decode())


def test_places_go_out_as_geojson_and_come_back(
    demo_client: Any, demo: Shoot, stranger: Any, client: Any
) -> None:
    raw = demo_client.get(reverse("places-file", args=[demo.pk, "geojson"])).content
    data = json.loads(raw)
    # RFC 7946: a FeatureCollection of Features, longitude before latitude.
    assert data["type"] == "FeatureCollection"
    mill = data["features"][0]
    assert mill["geometry"] == {"type": "Point", "coordinates": [147.05, -43.12, 3]}
    assert mill["properties"]["name"] == "Tern Slip, mill"
    client.force_login(stranger)
    shoot = make_shoot(stranger, name="Mine", date=date(2027, 1, 1), place_name="Mast")
    assert "5 places imported" in send(client, "places-import", shoot, raw)
    assert shoot.places.count() == 5
    for place in demo.places.all():
        twin = shoot.places.get(name=place.name)
        one, two = part_snapshot(place), part_snapshot(twin)
        assert {**one, "position": 0} == {**two, "position": 0}
    # Once more adds nothing.
    send(client, "places-import", shoot, raw)
    assert shoot.places.count() == 5


def test_waypoints_are_read_by_gpxpy_and_come_back(demo_client: Any, demo: Shoot) -> None:
    raw = demo_client.get(reverse("places-file", args=[demo.pk, "gpx"])).content
    read = gpxpy.parse(raw.decode())
    assert [(p.name, p.latitude, p.longitude, p.elevation) for p in read.waypoints][4] == (
        "Mast",
        -43.1228,
        147.0538,
        3,
    )
    assert [one.name for one in from_gpx(raw)] == [str(place) for place in demo.places.all()]
    moved = to_gpx(
        [PlaceData("Mast", -43.2, 147.1, 8, {"notes": "New stay"}), PlaceData("Weir", -43.3, 147.2)]
    )
    assert "2 places imported" in send(demo_client, "places-import", demo, moved)
    mast, weir = demo.places.get(name="Mast"), demo.places.get(name="Weir")
    # What a waypoint does not say stays.
    assert (mast.latitude_deg, mast.height_m, mast.notes, len(mast.horizon)) == (
        -43.2,
        8,
        "New stay",
        4,
    )
    assert (weir.latitude_deg, weir.time_zone, weir.mains_hz) == (-43.3, "Australia/Hobart", 50)
    history.undo(demo)
    assert not Place.objects.filter(name="Weir").exists()


BAD_PLACES: list[tuple[bytes, str]] = [
    (b"season", "not JSON"), (b"", "not JSON"), (b"[]", "is no GeoJSON"), (b"{}", "is no Feature"),
    (b'{"type": "FeatureCollection", "features": 7}', "is no list"),
    (b'{"type": "FeatureCollection", "features": []}', "holds no places"),
    (b'{"type": "Feature", "geometry": {"type": "Polygon"}}', "is no Point"),
    (b'{"type": "Feature", "geometry": {"type": "Point", "coordinates": ["a", 2]}}', "no longitude"),
    (b'{"type": "Feature", "geometry": {"type": "Point", "coordinates": [true, 2]}}', "no longitude"),
    (b'{"type": "Feature", "geometry": {"type": "Point", "coordinates": [400, 2]}}', "egrees from"),
    (b'{"type": "Feature", "geometry": {"type": "Point", "coordinates": [4, 2]}, "properties": {"horizon": [[1]]}}', "horizon"),
    (b'{"type": "Feature", "geometry": {"type": "Point", "coordinates": [4, 2]}, "properties": {"time_zone": "Mars"}}', "time zone"),
    (b"<gpx>", "is no GPX"), (b"<html></html>", "holds no places"),
    (b'<!DOCTYPE gpx [<!ENTITY a "aaaa">]><gpx></gpx>', "declares entities"),
]  # fmt: skip


@pytest.mark.parametrize(("raw", "words"), BAD_PLACES)
def test_a_bad_file_of_places_changes_nothing(
    demo_client: Any, demo: Shoot, raw: bytes, words: str
) -> None:
    before = [part_snapshot(place) for place in demo.places.all()]
    assert words in send(demo_client, "places-import", demo, raw)
    assert [part_snapshot(place) for place in demo.places.all()] == before


def test_one_bad_place_keeps_the_others_out(demo_client: Any, demo: Shoot) -> None:
    point = {
        "type": "Feature",
        "geometry": {"type": "Point", "coordinates": [4, 2]},
        "properties": {"name": "Good"},
    }
    worse = {**point, "properties": {"name": "Bad", "mains_hz": 400}}
    raw = json.dumps({"type": "FeatureCollection", "features": [point, worse]}).encode()
    assert "place 2, mains_hz" in send(demo_client, "places-import", demo, raw)
    assert not Place.objects.filter(name="Good").exists()
    with pytest.raises(ExchangeError):
        from_geojson(json.dumps({"type": "FeatureCollection", "features": [point] * 61}).encode())
    with pytest.raises(ExchangeError):
        read_places(b" " * (5 * 2**20))


def test_the_schedule_is_read_by_icalendar(demo_client: Any, demo: Shoot) -> None:
    raw = demo_client.get(reverse("schedule", args=[demo.pk])).content
    read = icalendar.Calendar.from_ical(raw)
    events = {str(event["summary"]): event for event in read.walk("VEVENT")}
    assert len(events) == 12
    ferry = events["6A Ferry lights over the estuary"]
    # From setting up, a quarter of an hour before 17:05, to the last take, on the clock of the place.
    assert ferry["dtstart"].dt.isoformat() == "2027-06-05T16:50:00+10:00"
    assert ferry["dtend"].dt.isoformat() == "2027-06-05T17:45:00+10:00"
    assert str(ferry["location"]) == "Outer jetty"
    # Dusk ends at 17:28 (ephem): the alarm is half an hour before.
    (alarm,) = ferry.walk("VALARM")
    assert abs(alarm["trigger"].dt - datetime(2027, 6, 5, 6, 58, tzinfo=UTC)) < timedelta(minutes=2)
    # The zone is in the file.
    assert [str(zone["tzid"]) for zone in read.walk("VTIMEZONE")] == ["Australia/Hobart"]


def test_a_calendar_that_comes_back_moves_what_it_moved(demo_client: Any, demo: Shoot) -> None:
    raw = demo_client.get(reverse("schedule", args=[demo.pk])).content
    before = {row.code: row.planned_time for row in demo.setups.all()}
    said = send(demo_client, "schedule-import", demo, raw)
    assert "12 setups have the hours of the calendar" in said
    assert {row.code: row.planned_time for row in demo.setups.all()} == before
    read = icalendar.Calendar.from_ical(raw)
    for event in read.walk("VEVENT"):
        if str(event["summary"]).startswith("6A"):
            for name in ("dtstart", "dtend"):
                event[name].dt -= timedelta(minutes=20)
        if str(event["summary"]).startswith("5A"):
            event["uid"] = "somebody-elses"
        if str(event["summary"]).startswith("7A"):
            for name in ("dtstart", "dtend"):
                event[name].dt += timedelta(days=40)
    said = send(demo_client, "schedule-import", demo, read.to_ical())
    assert "10 setups have the hours" in said
    assert "1 lie outside" in said
    assert "1 events are none of this shoot" in said
    ferry = demo.setups.get(code="6A")
    assert ferry.planned_time == time(16, 45)
    # What was metered is kept, and one step takes it back.
    assert ferry.light == {"ev100": 3.1}
    history.undo(demo)
    assert {row.code: row.planned_time for row in demo.setups.all()} == before


def test_a_round_trip_through_a_change_of_clock() -> None:
    from zoneinfo import ZoneInfo

    hobart = ZoneInfo("Australia/Hobart")
    # Daylight saving ends at Hobart on 4 April 2027 at 3:00 (IANA time zone database).
    starts = datetime(2027, 4, 3, 23, 30, tzinfo=hobart)
    ends = (starts.astimezone(UTC) + timedelta(hours=6)).astimezone(hobart)
    assert ends.strftime("%H:%M") == "04:30"
    event = CalendarEvent(
        "a@b", "Stars; mast, and sea", starts, ends, starts, notes="Line one\nand two"
    )
    raw = to_ics("Night", [event], datetime(2027, 1, 1, tzinfo=UTC))
    (back,) = from_ics(raw)
    assert (back.uid, back.starts, back.ends) == (
        "a@b",
        starts.astimezone(UTC),
        ends.astimezone(UTC),
    )
    read = icalendar.Calendar.from_ical(raw).walk("VEVENT")[0]
    assert str(read["summary"]) == "Stars; mast, and sea"
    assert str(read["description"]) == "Line one\nand two"
    assert to_ics("Night", [event], datetime(2027, 1, 1, tzinfo=UTC)) == raw


BAD_CALENDARS: list[tuple[bytes, str]] = [
    (b"season", "was not imported"), (b"", "was not imported"), (b"\xff\xfe\x00", "was not imported"),
    (b"BEGIN:VCALENDAR\r\nBEGIN:VEVENT\r\nUID:a\r\nDTSTART:20270605T100000\r\nEND:VEVENT\r\nEND:VCALENDAR\r\n", "no time zone"),
    (b"BEGIN:VCALENDAR\r\nBEGIN:VEVENT\r\nUID:a\r\nDTSTART:20270605T100000Z\r\nDTEND:20270604T100000Z\r\nEND:VEVENT\r\nEND:VCALENDAR\r\n", "ends before it starts"),
    (b"BEGIN:VCALENDAR\r\nBEGIN:VEVENT\r\nUID:a\r\nDTSTART;VALUE=DATE:20270605\r\nEND:VEVENT\r\nEND:VCALENDAR\r\n", "0 setups have"),
    (b"BEGIN:VCALENDAR\r\nEND:VCALENDAR\r\n", "0 setups have"),
]  # fmt: skip


@pytest.mark.parametrize(("raw", "words"), BAD_CALENDARS)
def test_a_bad_calendar_changes_nothing(
    demo_client: Any, demo: Shoot, raw: bytes, words: str
) -> None:
    before = {row.code: row.planned_time for row in demo.setups.all()}
    assert words in send(demo_client, "schedule-import", demo, raw)
    assert {row.code: row.planned_time for row in demo.setups.all()} == before
    for name in ("schedule-import", "places-import"):
        assert (
            "first."
            in demo_client.post(reverse(name, args=[demo.pk]), follow=True).content.decode()
        )


def _features(count: int, **last: Any) -> bytes:
    """A file of so many places, the last of them otherwise."""
    made = [
        {"type": "Feature", "properties": {"name": f"Spot {k}"},
         "geometry": {"type": "Point", "coordinates": [20.0 + k / 100, 60.0]}}
        for k in range(count)
    ]  # fmt: skip
    made[-1] |= last
    return json.dumps({"type": "FeatureCollection", "features": made}).encode()


def test_places_are_imported_whole_or_not_at_all_and_in_one_step(
    demo_client: Any, demo: Shoot
) -> None:
    before = list(demo.places.values_list("name", flat=True))
    room = MOST_PLACES - len(before)
    page = send(demo_client, "places-import", demo, _features(room + 1))
    assert "was not imported" in page
    assert list(demo.places.values_list("name", flat=True)) == before
    wrong = {"type": "Point", "coordinates": [20.0, 91.0]}
    assert "was not imported" in send(
        demo_client, "places-import", demo, _features(3, geometry=wrong)
    )
    assert list(demo.places.values_list("name", flat=True)) == before
    assert f"{room} places imported" in send(demo_client, "places-import", demo, _features(room))
    assert demo.places.count() == MOST_PLACES
    assert history.undo(demo)
    assert list(demo.places.values_list("name", flat=True)) == before


@pytest.mark.parametrize("last", [
    {"geometry": {"type": "Point", "coordinates": [10**400, 0]}},
    {"geometry": {"type": "Point", "coordinates": [0, 0, 10**400]}},
    {"properties": {"name": "Far", "horizon": [[10**400, 3]]}},
    {"properties": {"name": "Far", "horizon": [[0, 10**400]]}},
])  # fmt: skip
def test_absurd_numbers_in_a_file_of_places_are_refused_in_words(
    demo_client: Any, demo: Shoot, last: dict[str, Any]
) -> None:
    before = demo.places.count()
    assert "was not imported" in send(demo_client, "places-import", demo, _features(2, **last))
    assert demo.places.count() == before
