"""Places laid out to scale from their degrees."""

from math import hypot

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fotonomy.core.day.site_plan import (
    LEAST_ACROSS_M,
    distance_words,
    field_width,
    fit,
    ground_m,
    round_distance,
)
from fotonomy.core.day.travel_time import distance_m
from fotonomy.core.spec.setup import Site

MILL, JETTY = Site(-43.12, 147.05), Site(-43.1236, 147.0561)


def test_a_minute_of_latitude_is_a_nautical_mile() -> None:
    # The nautical mile is 1852 m, a minute of latitude on the mean earth (SI Brochure, 9th
    # edition, table 8 of earlier editions; the value from memory).
    east, north = ground_m(Site(0, 0), 1 / 60, 0)
    assert float(north) == pytest.approx(1852, rel=0.001)
    assert float(east) == 0
    # At 60° of latitude a minute of longitude is half as long.
    east, _ = ground_m(Site(60, 10), 60, 10 + 1 / 60)
    assert float(east) == pytest.approx(926, rel=0.001)


@given(
    latitude=st.floats(-60, 60), longitude=st.floats(-180, 180),
    up=st.floats(-0.1, 0.1), across=st.floats(-0.1, 0.1),
)  # fmt: skip
def test_the_plane_agrees_with_the_great_circle(
    latitude: float, longitude: float, up: float, across: float
) -> None:
    start = Site(latitude, longitude)
    # Also where the date line lies between them.
    turned = (longitude + across + 180) % 360 - 180
    end = Site(latitude + up, turned)
    east, north = ground_m(start, end.latitude_deg, end.longitude_deg)
    assert hypot(float(east), float(north)) == pytest.approx(
        distance_m(start, end), rel=0.005, abs=0.5
    )


def test_a_scale_is_the_same_both_ways_and_keeps_its_edge() -> None:
    lies = fit([MILL, JETTY], 800, 600, 100)
    (x1, y1), (x2, y2) = lies.px(MILL), lies.px(JETTY)
    apart = hypot(x2 - x1, y2 - y1) * lies.m_per_px
    assert apart == pytest.approx(distance_m(MILL, JETTY), rel=0.002)
    # The mill lies north-west of the jetty: left and above.
    assert x1 < x2
    assert y1 < y2
    assert min(x1, 800 - x2) >= 100 - 0.01
    assert min(y1, 600 - y2) >= 100 - 0.01
    assert min(x1, y1) == pytest.approx(100, abs=0.01)
    assert (x1 + x2) / 2 == pytest.approx(400, abs=0.1)


def test_one_place_is_drawn_in_the_middle_with_some_ground_around() -> None:
    lies = fit([MILL], 800, 600, 100)
    assert lies.px(MILL) == pytest.approx((400, 300), abs=0.01)
    assert lies.m_per_px * 400 == pytest.approx(LEAST_ACROSS_M)


def test_places_on_both_sides_of_the_date_line_lie_together() -> None:
    lies = fit([Site(-17, 179.999), Site(-17, -179.999)], 800, 600, 100)
    (x1, _), (x2, _) = lies.px(Site(-17, 179.999)), lies.px(Site(-17, -179.999))
    assert (x1, x2) == pytest.approx((100, 700), abs=0.1)
    assert lies.m_per_px < 1


@pytest.mark.parametrize(
    ("most", "expected"), [(99, 50), (100, 100), (199, 100), (200, 200), (7, 5), (0.3, 0.2)]
)
def test_a_round_distance(most: float, expected: float) -> None:
    assert round_distance(most) == pytest.approx(expected)


def test_the_field_at_a_distance() -> None:
    # 24 mm on a sensor 36 mm wide: 36 / 24 of the distance, by similar triangles.
    assert field_width(73.7398, 10) == pytest.approx(15.0, rel=1e-4)
    assert (distance_words(50), distance_words(1000), distance_words(999)) == (
        "50 m", "1 km", "999 m",
    )  # fmt: skip
