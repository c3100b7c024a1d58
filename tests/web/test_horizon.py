"""The horizon of a place: its page, points marked on a picture, and files of pairs."""

import json
from typing import Any

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse

from fotonomy.shoots import history
from fotonomy.shoots.models import Place, Shoot
from tests.web.test_days import page_of, words

MESSAGES = "//*[@id='messages']"
MARKS = json.dumps([[0.1, 0.4], [0.5, 0.3], [0.9, 0.45]])
SENT = {"left_deg": "W", "right_deg": "90", "level": "0.5", "aspect": "4", "points": MARKS}


@pytest.fixture
def mill(demo: Shoot) -> Place:
    place: Place = demo.main_place
    return place


def at(place: Place, name: str = "horizon") -> str:
    return reverse(name, args=[place.shoot_id, place.pk])


def test_the_page_draws_land_and_sun(demo_client: Any, mill: Place) -> None:
    page = page_of(demo_client.get(at(mill)))
    assert "sun and moon on Saturday 5 June 2027" in words(page)
    assert page.xpath("//*[local-name()='svg']//*[contains(@class, 'sun-line')]")
    # The sun stands in the north here, so the drawing begins in the south.
    ticks = page.xpath(
        "//*[local-name()='svg']//text[contains(@class, 'tick') and not(contains(@class, 'end'))]/text()"
    )
    assert ticks[0] == "S"
    assert len(
        page.xpath("//*[local-name()='svg']//circle[contains(@class, 'reading-dot')]")
    ) == len(mill.horizon)


def test_the_sun_of_the_north_is_in_the_middle_too(demo_client: Any, mill: Place) -> None:
    Place.objects.filter(pk=mill.pk).update(latitude_deg=54.0)
    page = page_of(demo_client.get(at(mill)))
    assert (
        page.xpath(
            "//*[local-name()='svg']//text[contains(@class, 'tick') and not(contains(@class, 'end'))]/text()"
        )[0]
        == "N"
    )
    Place.objects.filter(pk=mill.pk).update(latitude_deg=None, longitude_deg=None, horizon=[])
    page = page_of(demo_client.get(at(mill)))
    assert not page.xpath("//*[local-name()='svg']//*[contains(@class, 'sun-line')]")


def test_marks_become_points_and_one_step(demo_client: Any, demo: Shoot, mill: Place) -> None:
    before = mill.horizon
    answer = demo_client.post(at(mill), SENT, follow=True)
    said = words(page_of(answer), MESSAGES)
    mill.refresh_from_db()
    # From W to E by north: 288° is a tenth of the way on, 0° the middle, 72° nine tenths.
    fresh = {azimuth: height for azimuth, height in mill.horizon if azimuth in (288, 0, 72)}
    # atan(0.1 heights / 4 · π), and twice that.
    assert fresh == {288: 4.5, 0: 8.9, 72: 2.2}
    behind = [pair for pair in before if 90 < pair[0] < 270]
    assert [pair for pair in mill.horizon if 90 < pair[0] < 270] == behind
    assert f"has a horizon of {len(mill.horizon)} points" in said
    history.undo(demo)
    mill.refresh_from_db()
    assert mill.horizon == before


@pytest.mark.parametrize(
    ("sent", "said"),
    [({"left_deg": ""}, "direction such as 305"), ({"left_deg": "up"}, "direction"),
     ({"right_deg": "270.2"}, "at least 1°"), ({"points": "[]"}, "Mark two points"),
     ({"points": "nonsense"}, "Mark two points"), ({"points": "[[2, 0], [0, 0]]"}, "outside"),
     ({"points": "[[0.1, 1], [0.5, 1]]"}, "look at the level line"), ({"aspect": ""}, "picture"),
     ({"level": "x"}, "picture"), ({"level": "nan"}, "to lie between"), ({"aspect": "inf"}, "to lie between"),
     ({"points": json.dumps([[0.5, 0.4]] * 201)}, "most 200 points"),
     ({"projection": "flat"}, "say that it was swept"),
     ({"points": "[" * 100_000}, "Mark two points"), ({"points": "[[NaN, 0], [0, 0]]"}, "outside")],
)  # fmt: skip
def test_wrong_marks_say_why_and_change_nothing(
    demo_client: Any, mill: Place, sent: dict[str, str], said: str
) -> None:
    answer = demo_client.post(at(mill), {**SENT, **sent})
    assert answer.status_code == 422
    page = page_of(answer)
    assert said in words(page, "//*[@class='field-error' and not(@hidden)]")
    # What was typed is still there.
    kept = {**SENT, **sent}
    for name in ("left_deg", "right_deg", "points"):
        assert page.xpath(f"//input[@name='{name}']/@value") == [kept[name]]
    known = mill.horizon
    mill.refresh_from_db()
    assert mill.horizon == known


def test_a_file_of_pairs_comes_and_goes(demo_client: Any, mill: Place) -> None:
    answer = demo_client.get(at(mill, "horizon-file"))
    rows = answer.content.decode().splitlines()
    assert rows[0] == "azimuth,height"
    assert rows[1] == "10,3"
    for raw in (
        b"azimuth,height\n10,3\n45.5;2\n",
        b"10\t3\r\n45.5\t2\r\n",
        b"\xef\xbb\xbf10 3\n45.5 2",
    ):
        Place.objects.filter(pk=mill.pk).update(horizon=[])
        upload = SimpleUploadedFile("h.csv", raw)
        page = page_of(demo_client.post(at(mill, "horizon-import"), {"file": upload}, follow=True))
        assert "has a horizon of 2 points" in words(page, MESSAGES)
        mill.refresh_from_db()
        assert mill.horizon == [[10, 3], [45.5, 2]]


@pytest.mark.parametrize(
    ("raw", "said"),
    [(b"10,3\n10,4\n", "cross itself"), (b"10\n", "direction and a height"), (b"\xff\xfe1", "UTF-8"),
     (b"10,95\n20,3", "direction and a height"), (b"1,1\n" * 20_000, "larger than 64 kB"),
     (b"10,3\n", "at least two")],
)  # fmt: skip
def test_a_wrong_file_changes_nothing(demo_client: Any, mill: Place, raw: bytes, said: str) -> None:
    known = mill.horizon
    upload = SimpleUploadedFile("h.csv", raw)
    answer = demo_client.post(at(mill, "horizon-import"), {"file": upload})
    assert answer.status_code == 422
    assert said in words(page_of(answer), "//*[@class='field-error' and not(@hidden)]")
    mill.refresh_from_db()
    assert mill.horizon == known
    assert demo_client.post(at(mill, "horizon-import")).status_code == 422
