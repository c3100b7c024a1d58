"""A horizon from a picture, against a camera turned by vectors, and by hand."""

from math import atan, cos, degrees, radians, sin, tan

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from fotonomy.core.errors import RuleError
from fotonomy.core.sky.horizon import MOST_POINTS, Horizon, HorizonPoint
from fotonomy.core.sky.panorama import FLAT_MOST_DEG, Panorama, Projection

SWEPT = Panorama(left_deg=270, right_deg=90, level=0.5, aspect=4)
FLAT = Panorama(left_deg=340, right_deg=40, level=0.6, aspect=1.5, projection=Projection.FLAT)


def test_a_swept_picture_by_hand() -> None:
    # 180° over a width of four heights: a height is 45° of the cylinder's round, 0.785 of its
    # radius. A quarter of it over the level is 0.196: 11.1°.
    assert SWEPT.span_deg == 180
    assert SWEPT.point(0.5, 0.5) == HorizonPoint(0, 0)
    assert SWEPT.point(0, 0.25) == HorizonPoint(270, 11.1)
    assert SWEPT.point(0.75, 0.55) == HorizonPoint(45, -2.2)
    assert degrees(atan(0.25 / 4 * radians(180))) == pytest.approx(11.1, abs=0.05)


def test_a_flat_picture_by_hand() -> None:
    # 60° over the width: the lens stands 0.866 widths away. At the right edge, half a width
    # aside, it is one width away; 0.3 heights over the level are 0.2 widths: 11.3°.
    assert FLAT.point(1, 0.3) == HorizonPoint(40, 11.3)
    assert FLAT.point(0.5, 0.3) == HorizonPoint(10, round(degrees(atan(0.2 / 0.866)), 1))


@given(
    x=st.floats(0, 1), y=st.floats(0, 1), left=st.floats(0, 359),
    span=st.floats(5, FLAT_MOST_DEG), aspect=st.floats(0.8, 3),
)  # fmt: skip
def test_a_flat_picture_is_what_a_turned_camera_sees(
    x: float, y: float, left: float, span: float, aspect: float
) -> None:
    picture = Panorama(
        left_deg=left, right_deg=(left + span) % 360, level=0.5, aspect=aspect,
        projection=Projection.FLAT,
    )  # fmt: skip
    # The ray through the pixel, turned about the upright: east, north, up.
    ray = np.array([x - 0.5, 0.5 / tan(radians(picture.span_deg / 2)), (0.5 - y) / aspect])
    turn = radians(left + picture.span_deg / 2)
    east = ray[0] * cos(turn) + ray[1] * sin(turn)
    north = -ray[0] * sin(turn) + ray[1] * cos(turn)
    height = degrees(np.arctan2(ray[2], np.hypot(east, north)))
    try:
        found = picture.point(x, y)
    except RuleError:
        assert height < -5 or height > 89
        return
    azimuth = degrees(np.arctan2(east, north)) % 360
    assert abs((found.azimuth_deg - azimuth + 180) % 360 - 180) <= 0.06
    assert found.altitude_deg == pytest.approx(height, abs=0.06)


@given(x=st.floats(0, 1), left=st.floats(0, 359), span=st.floats(1, 359))
def test_every_direction_of_a_picture_lies_in_it(x: float, left: float, span: float) -> None:
    picture = Panorama(left_deg=left, right_deg=(left + span) % 360)
    azimuth = picture.left_deg + x * picture.span_deg
    assert picture.shows(azimuth) or x in (0, 1)
    beside = picture.left_deg + picture.span_deg + (360 - picture.span_deg) / 2
    assert not picture.shows(beside)


def test_edges_and_levels_that_cannot_be() -> None:
    with pytest.raises(RuleError) as error:
        Panorama(left_deg=10, right_deg=10.5)
    assert error.value.field == "right_deg"
    with pytest.raises(RuleError, match="say that it was swept"):
        Panorama(left_deg=0, right_deg=150, projection=Projection.FLAT)
    assert Panorama(left_deg=0, right_deg=150).span_deg == 150
    # The same direction at both edges is a whole turn.
    whole = Panorama(left_deg=200, right_deg=200)
    assert whole.span_deg == 360
    assert whole.shows(199.9)
    for wrong in ({"left_deg": 400}, {"level": 3}, {"aspect": 0}):
        with pytest.raises(RuleError):
            Panorama(**{"left_deg": 0, "right_deg": 90, **wrong})
    with pytest.raises(RuleError, match="outside the picture"):
        SWEPT.point(1.2, 0.5)
    with pytest.raises(RuleError, match="level line"):
        SWEPT.point(0.5, 1)


def test_only_what_the_picture_shows_is_drawn_anew() -> None:
    known = [HorizonPoint(10, 5), HorizonPoint(100, 6), HorizonPoint(200, 7), HorizonPoint(300, 8)]
    marked = [(0.0, 0.25), (0.5, 0.5), (1.0, 0.25)]
    found = SWEPT.redrawn(marked, known)
    # From west by north to east: 10 and 300 lie in it, 100 and 200 behind the camera.
    assert [(p.azimuth_deg, p.altitude_deg) for p in found] == [
        (0, 0), (90, 11.1), (100, 6), (200, 7), (270, 11.1),
    ]  # fmt: skip
    assert Horizon(found).altitude(270) == pytest.approx(11.1)


def test_of_two_points_in_one_direction_the_highest_counts() -> None:
    found = SWEPT.redrawn([(0.5, 0.5), (0.5, 0.4), (0.5001, 0.3), (0.9, 0.5)], [])
    assert [p.azimuth_deg for p in found] == [0, 72]
    assert found[0].altitude_deg == SWEPT.point(0.5, 0.3).altitude_deg
    Horizon(found)


def test_too_few_and_too_many_points() -> None:
    with pytest.raises(RuleError, match="two points"):
        SWEPT.redrawn([(0.5, 0.5)], [])
    many = [(at / 100, 0.45) for at in range(MOST_POINTS + 1)]
    with pytest.raises(RuleError, match=str(MOST_POINTS)):
        SWEPT.redrawn(many, [])
    assert len(SWEPT.redrawn(many[:-1], [])) == MOST_POINTS


@given(st.lists(st.tuples(st.floats(0, 1), st.floats(0.2, 0.55)), min_size=2, max_size=20))
def test_every_marked_line_is_a_horizon(marked: list[tuple[float, float]]) -> None:
    known = [HorizonPoint(float(at), 3.0) for at in range(0, 360, 30)]
    try:
        found = SWEPT.redrawn(marked, known)
    except RuleError:
        pytest.fail("a line over the level is a horizon")
    assert Horizon(found).points == found
