"""The drawing of the places: what is pressed, what it says, and own outlines under it."""

import json
from datetime import time
from typing import Any

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse

from fotonomy.exchange.outline_files import LARGEST_OUTLINES_BYTES
from fotonomy.shoots import history
from fotonomy.shoots.models import Outline, Place, Setup, Shoot
from fotonomy.shoots.services.shoots import make_shoot
from fotonomy.shoots.shoot_data import shoot_from_data, shoot_to_data
from tests.web.test_days import page_of, words

WALL = {"type": "LineString", "coordinates": [[147.05, -43.12], [147.06, -43.13]]}
POND = {"type": "Polygon", "coordinates": [
    [[147.05, -43.12], [147.06, -43.12], [147.06, -43.13], [147.05, -43.12]],
    [[147.052, -43.121], [147.054, -43.121], [147.054, -43.122], [147.052, -43.121]],
]}  # fmt: skip


def places(client: Any, shoot: Shoot, **asked: Any) -> Any:
    return page_of(client.get(reverse("places", args=[shoot.pk]), asked))


def sent(client: Any, shoot: Shoot, data: Any, name: str = "walls.geojson") -> str:
    raw = data if isinstance(data, bytes) else json.dumps(data).encode()
    file = SimpleUploadedFile(name, raw)
    answer = client.post(reverse("outlines-import", args=[shoot.pk]), {"file": file}, follow=True)
    assert answer.status_code == 200
    return words(page_of(answer), "//body")


def setup_of(shoot: Shoot, code: str) -> Setup:
    return shoot.setups.get(code=code)


def test_a_pressed_setup_says_its_light_and_what_its_picture_spans(
    demo_client: Any, demo: Shoot
) -> None:
    page = places(demo_client, demo, setup=setup_of(demo, "5A").pk)
    said = words(page, "//figcaption")
    # The sun of 5 June 2027, 15:20 at this spot by the sky that is tested against an almanac.
    assert "5A Launch, side pass, 15:20. Sun in the north-west, 11° high: back light." in said
    beside = words(page, "//aside[@class='places-aside']")
    # A sensor 36 mm wide behind 35 mm spans 36/35 of 25 m: 25.7 m.
    assert "looks 305°, 54.4° wide; subject at 25 m: a field of 25.7 m" in beside
    assert "Sun in the picture until" in beside
    assert beside.index("Outer jetty") < beside.index("Other places")
    assert [a.get("aria-label")[:2] for a in page.xpath("//a[@class='camera chosen']")] == ["5A"]
    assert page.xpath("//*[contains(@class, 'shadow-line')]")


def test_a_setup_of_another_day_brings_its_day(demo_client: Any, demo: Shoot) -> None:
    stars = setup_of(demo, "8A")
    page = places(demo_client, demo, setup=stars.pk)
    assert "8A" in words(page, "//figcaption")
    assert "The sun is down." in words(page, "//figcaption")
    assert not page.xpath("//*[contains(@class, 'shadow-line')]")
    current = page.xpath("//p[@class='day-choice']/a[@aria-current]")
    assert [words(one, ".") for one in current] == ["Sun 6 June"]


def test_a_place_without_setups_and_absurd_addresses_are_no_fault(
    demo_client: Any, demo: Shoot
) -> None:
    bare = Place.objects.create(shoot=demo, name="Boat shed", position=9)
    page = places(demo_client, demo, place=bare.pk)
    assert "No setup here on this day." in words(page)
    assert "Not drawn, nobody said where: Boat shed" in words(page)
    assert "Press a setup to see the light of its hour." in words(page, "//figcaption")
    for asked in ({"setup": "x"}, {"setup": "99999999"}, {"place": "-1"}, {"day": "7e9"}):
        assert "Tern Slip, mill" in words(places(demo_client, demo, **asked))


def test_no_hour_and_no_degrees_are_said(demo_client: Any, demo: Shoot) -> None:
    launch = setup_of(demo, "5A")
    demo.setups.filter(pk=launch.pk).update(planned_time=None)
    said = words(places(demo_client, demo, setup=launch.pk), "//figcaption")
    assert "has no hour yet" in said
    shoot = make_shoot(demo.owner, date=demo.date, name="Nowhere")
    page = places(demo_client, shoot)
    assert "No place has degrees yet" in words(page)
    assert not page.xpath("//figure")


def test_places_too_near_to_tell_apart_are_drawn_near(demo_client: Any, demo: Shoot) -> None:
    far = Place.objects.create(
        shoot=demo, name="Town hall", latitude_deg=-42.88, longitude_deg=147.33, position=9
    )
    jetty = demo.places.get(name="Outer jetty")
    page = places(demo_client, demo, place=jetty.pk)
    names = {a.get("aria-label") for a in page.xpath("//a[@class='spot']")}
    assert "Mast" in names
    assert "Town hall" not in names
    whole = places(demo_client, demo, place=jetty.pk, near="all")
    assert "Town hall" in {a.get("aria-label") for a in whole.xpath("//a[@class='spot']")}
    assert "Only near Outer jetty" in words(whole, "//figcaption")
    # Of the far place nothing is hidden: all are drawn.
    assert "Mast" in {
        a.get("aria-label")
        for a in places(demo_client, demo, place=far.pk).xpath("//a[@class='spot']")
    }


def test_the_form_of_a_place_has_the_drawing_beside_it(demo_client: Any, demo: Shoot) -> None:
    jetty = demo.places.get(name="Outer jetty")
    page = page_of(demo_client.get(reverse("part-edit", args=[demo.pk, "place", jetty.pk])))
    assert page.xpath("//figure[contains(@class, 'site-plan')]")
    new = page_of(demo_client.get(reverse("part-new", args=[demo.pk, "place"])))
    assert not new.xpath("//figure[contains(@class, 'site-plan')]")


def test_own_outlines_come_in_go_out_and_are_undone(demo_client: Any, demo: Shoot) -> None:
    demo.outlines.all().delete()
    data = {"type": "FeatureCollection", "features": [
        {"type": "Feature", "properties": {"name": "the pond"}, "geometry": POND},
        {"type": "Feature", "properties": None, "geometry": WALL},
        {"type": "Feature", "properties": {}, "geometry": {"type": "Point", "coordinates": [1, 2]}},
    ]}  # fmt: skip
    assert "walls.geojson: 3 outlines under the places." in sent(demo_client, demo, data)
    row = demo.outlines.get()
    # The hole of the area is a line.
    assert [(one["name"], one["area"]) for one in row.shapes] == [
        ("the pond", True), ("", False), ("", False),
    ]  # fmt: skip
    page = places(demo_client, demo)
    assert len(page.xpath("//*[@class='outline-area']")) == 1
    assert len(page.xpath("//*[@class='outline-line']")) == 2
    raw = demo_client.get(reverse("outlines-file", args=[demo.pk, row.pk])).content
    assert sent(demo_client, demo, raw, "again.geojson")
    assert demo.outlines.get(name="again.geojson").shapes == row.shapes
    demo_client.post(reverse("outline-delete", args=[demo.pk, row.pk]))
    assert not Outline.objects.filter(pk=row.pk).exists()
    history.undo(demo)
    assert Outline.objects.get(pk=row.pk).shapes == row.shapes
    history.undo(demo)
    assert [one.name for one in demo.outlines.all()] == ["walls.geojson"]


@pytest.mark.parametrize(
    ("data", "said"),
    [
        (b"{", "was not imported"),
        (b"[]", "is no GeoJSON object"),
        ({"type": "Feature", "geometry": None}, "holds no lines and no areas"),
        ({"type": "Point", "coordinates": [1, 2]}, "holds no lines and no areas"),
        ({"type": "LineString", "coordinates": [[1, 2]]}, "has too few points"),
        ({"type": "Polygon", "coordinates": [[[1, 2], [2, 3], [1, 2]]]}, "has too few points"),
        ({"type": "LineString", "coordinates": [[1, 2], [181, 2]]}, "no longitude and latitude"),
        ({"type": "LineString", "coordinates": [[1, 2], [1, 90.5]]}, "no longitude and latitude"),
        ({"type": "LineString", "coordinates": [[1, 2], [True, 2]]}, "no longitude and latitude"),
        ({"type": "LineString", "coordinates": [[1, 2], [10**400, 2]]}, "was not imported"),
        ({"type": "Circle"}, "is no kind of GeoJSON"),
        ({"type": ["LineString"]}, "is no kind of GeoJSON"),
        (b" " * (LARGEST_OUTLINES_BYTES + 1), "is larger than 500 kB"),
    ],
)
def test_a_bad_outline_is_said_and_nothing_is_kept(
    data: Any, said: str, demo_client: Any, demo: Shoot
) -> None:
    before = [row.shapes for row in demo.outlines.all()]
    assert said in sent(demo_client, demo, data)
    assert [row.shapes for row in demo.outlines.all()] == before


def test_a_shoot_keeps_half_a_megabyte_of_outlines(demo_client: Any, demo: Shoot) -> None:
    def line(count: int) -> dict[str, Any]:
        return {"type": "LineString",
                "coordinates": [[100 + k * 1e-6, 12.345678] for k in range(count)]}  # fmt: skip

    assert "1 outline under" in sent(demo_client, demo, line(12_000), "one.geojson")
    assert "500 kB of outlines in all" in sent(demo_client, demo, line(12_000), "two.geojson")
    assert not demo.outlines.filter(name="two.geojson").exists()
    # The same file anew takes its own place.
    assert "1 outline under" in sent(demo_client, demo, line(12_001), "one.geojson")


def test_outlines_go_along_in_the_shoot_file(demo: Shoot) -> None:
    again = shoot_from_data(demo.owner, shoot_to_data(demo), "$")
    assert [(row.name, row.shapes) for row in again.outlines.all()] == [
        (row.name, row.shapes) for row in demo.outlines.all()
    ]
    assert again.outlines.exists()


def test_a_roofed_place_throws_no_shadow_and_hours_are_said(demo_client: Any, demo: Shoot) -> None:
    launch = setup_of(demo, "5A")
    strokes = len(places(demo_client, demo, setup=launch.pk).xpath("//*[@class='shadow-line']"))
    demo.places.filter(name="Yard and saw").update(roofed=True, opens=time(8), closes=time(18, 30))
    page = places(demo_client, demo, setup=launch.pk)
    assert len(page.xpath("//*[@class='shadow-line']")) == strokes - 1
    yard = demo.places.get(name="Yard and saw")
    assert "Open 08:00 to 18:30." in words(places(demo_client, demo, place=yard.pk))
