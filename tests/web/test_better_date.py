"""A better date, and when a light that the day has none of is next there."""

from datetime import UTC, date, datetime, timedelta
from math import pi
from typing import Any

import ephem
import pytest
from django.urls import reverse
from lxml import html

from fotonomy.shoots.models import Place, Shoot
from tests.web.test_days import day_address, page_of, words


def dates_address(shoot: Shoot, at: int = 0) -> str:
    return reverse("dates", args=[shoot.pk, list(shoot.days.all())[at].pk])


def test_a_better_date_is_found_and_taken(demo_client: Any, demo: Shoot) -> None:
    stars = demo.setups.get(code="8A")
    page = page_of(demo_client.get(f"{dates_address(demo, 1)}?setup={stars.pk}"))
    rows = page.xpath("//table/tbody/tr")
    # The shoot is on one of the best: new moon was on 4 June.
    assert "6 June 2027" in words(rows[0])
    assert "the shoot’s" in words(rows[0])
    assert "of Milky Way's core up without a break" in words(rows[0])
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
