"""What pictures say: levels put into a picture are found again, and nothing is told of what is lost.

sRGB by IEC 61966-2-1: code 119 of 255 is 0.18 of white (0.1845 at code 119.6); the interval of
Wilson against statsmodels' and scipy's way of it, worked out beside.
"""

from dataclasses import replace
from math import log2

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.stats import binomtest

from fotonomy.core.analysis.setup import analyse
from fotonomy.core.curves.transfer_functions import encode
from fotonomy.core.errors import RuleError
from fotonomy.core.pictures.frame_levels import (
    Area,
    FileCurve,
    area_of,
    measured,
    off_by,
    srgb_linear,
)
from fotonomy.core.pictures.keeper_rate import ENOUGH, keepers
from fotonomy.core.spec.readings import Reading, Shape, Surface
from tests.core.examples import setup

FACE = Reading(name="face", stops=1.4, surface=Surface.LIGHT_SKIN, key=True, x_percent=30)
WALL = Reading(name="wall", stops=-1.0, x_percent=70)
BOTH = setup(readings=(FACE, WALL))
LEFT, RIGHT = Area(0, 0, 50, 100), Area(50, 0, 50, 100)


def two_tones(left: float, right: float) -> np.ndarray:
    """A picture whose halves have these signals, 0 to 1, with the noise of rounding."""
    picture = np.empty((60, 120, 3), dtype=np.float64)
    picture[:, :60], picture[:, 60:] = left, right
    dither = np.random.default_rng(3).uniform(-0.5, 0.5, picture.shape)
    return np.clip(np.round(picture * 255 + dither), 0, 255).astype(np.uint8)


def test_srgb_by_the_standard() -> None:
    # IEC 61966-2-1: the two pieces meet at 0.04045; white is 1; mid grey of a chart, code 118.
    assert srgb_linear([0, 0.04045, 1]) == pytest.approx([0, 0.0031308, 1], abs=1e-6)
    assert float(srgb_linear(118 / 255)) == pytest.approx(0.1812, abs=1e-4)


@pytest.mark.parametrize("off", [-2.0, -0.5, 0.0, 0.7])
def test_levels_are_found_through_the_profiles_own_curve(off: float) -> None:
    """Within 0.05 stop, in light from two stops under the plan to what still holds."""
    analysis = analyse(BOTH)
    profile = BOTH.recorded_profile
    placed = {tone.name: tone.placed_stops for tone in analysis.level.tones}
    signals = [
        float(encode(profile.curve, profile.grey_linear * 2 ** (placed[name] + off)))
        for name in ("face", "wall")
    ]
    found = measured(
        two_tones(*signals), {"face": LEFT, "wall": RIGHT}, analysis, FileCurve.PROFILE
    )
    assert [one.name for one in found] == ["face", "wall"]
    for one in found:
        assert one.off_stops == pytest.approx(off, abs=0.05)
    assert found[0].percent == pytest.approx(100 * signals[0], abs=0.5)
    assert found[0].planned_percent == pytest.approx(
        next(tone.percent for tone in analysis.level.tones if tone.name == "face")
    )


def test_an_ordinary_picture_is_read_as_srgb() -> None:
    analysis = analyse(BOTH)
    found = measured(two_tones(118 / 255, 0.2), {"face": LEFT}, analysis, FileCurve.PICTURE)
    assert found[0].stops == pytest.approx(log2(0.1812 / 0.18), abs=0.02)


def test_colours_count_by_their_luminance() -> None:
    """ITU-R BT.709: green is 0.7152 of white; pure green at full is 2.0 stops over 0.18."""
    picture = np.zeros((20, 20, 3), dtype=np.uint8)
    picture[:, :, 1] = 250
    (one,) = measured(picture, {"face": Area(0, 0, 100, 100)}, analyse(BOTH), FileCurve.PICTURE)
    light = 0.7152 * float(srgb_linear(250 / 255))
    assert one.stops == pytest.approx(log2(light / 0.18), abs=1e-6)


def test_what_is_clipped_or_black_tells_nothing() -> None:
    analysis = analyse(BOTH)
    found = measured(
        two_tones(1.0, 0.0), {"face": LEFT, "wall": RIGHT}, analysis, FileCurve.PICTURE
    )
    assert [one.off_stops for one in found] == [None, None]
    assert found[0].clipped_share == 1
    assert found[1].black
    assert off_by(found, "face") is None
    # Bright is not clipped: code 242 of 255 is still told.
    (bright,) = measured(two_tones(0.95, 0.5), {"face": LEFT}, analysis, FileCurve.PICTURE)
    assert bright.clipped_share == 0
    # Two in a hundred at the top are noise; more are lost.
    picture = two_tones(0.5, 0.5)
    picture[0, :1] = 255
    (one,) = measured(picture, {"face": LEFT}, analysis, FileCurve.PICTURE)
    assert one.off_stops is not None
    picture[:2] = 255
    (one,) = measured(picture, {"face": LEFT}, analysis, FileCurve.PICTURE)
    assert one.off_stops is None


def test_what_the_shot_is_about_says_how_far_off_the_frame_is() -> None:
    analysis = analyse(BOTH)
    found = measured(
        two_tones(0.5, 0.3), {"face": LEFT, "wall": RIGHT}, analysis, FileCurve.PICTURE
    )
    assert off_by(found, "face") is found[0]
    assert off_by(found[1:], "face") is found[1]
    assert off_by((), "face") is None


def test_areas_are_held_to_the_picture() -> None:
    for wrong in ((90, 0, 20, 10), (0, 95, 10, 10), (-1, 0, 5, 5), (0, 0, 0, 5), (0, 0, 101, 5)):
        with pytest.raises(RuleError):
            Area(*wrong)
    with pytest.raises(RuleError):
        measured(two_tones(0.5, 0.5), {"face": Area(0, 0, 1, 1)}, analyse(BOTH), FileCurve.PICTURE)


@given(
    x=st.floats(0, 100), y=st.floats(0, 100), share=st.floats(0.1, 95),
    shape=st.sampled_from(list(Shape)),
)  # fmt: skip
def test_every_reading_has_an_area_in_the_picture(x: float, y: float, share: float, shape: Shape) -> None:  # fmt: skip
    area = area_of(replace(WALL, x_percent=x, y_percent=y, share_percent=share, shape=shape))
    assert area.left + area.width <= 100.001
    assert area.top + area.height <= 100.001
    if shape is Shape.PATCH and 20 < x < 80 and 20 < y < 80 and share < 5:
        assert area.left + area.width / 2 == pytest.approx(x, abs=0.6)
        assert area.top + area.height / 2 == pytest.approx(y, abs=0.6)


@pytest.mark.parametrize(("good", "count"), [(9, 10), (0, 10), (10, 10), (1, 3), (250, 400)])
def test_keepers_have_the_interval_of_wilson(good: int, count: int) -> None:
    """Against scipy's own (Wilson 1927, without correction)."""
    found = keepers(good, count)
    interval = binomtest(good, count).proportion_ci(method="wilson")
    assert (found.low, found.high) == pytest.approx((interval.low, interval.high), abs=1e-9)
    assert found.share == good / count


def test_nine_of_ten_and_none_of_none() -> None:
    # The handbook's own example: 0.60 to 0.98.
    nine = keepers(9, 10)
    assert (round(nine.low, 2), round(nine.high, 2)) == (0.60, 0.98)
    assert nine.enough
    assert not keepers(9, ENOUGH - 1).enough
    assert (keepers(0, 0).low, keepers(0, 0).high, keepers(0, 0).share) == (0, 1, 0)
    for good, count in ((2, 1), (-1, 3)):
        with pytest.raises(ValueError, match="more are good"):
            keepers(good, count)


def test_without_the_key_the_middle_of_the_others_speaks() -> None:
    analysis = analyse(BOTH)
    one = measured(two_tones(0.5, 0.3), {"face": LEFT}, analysis, FileCurve.PICTURE)[0]
    three = tuple(
        replace(one, name=name, stops=stops)
        for name, stops in (("a", 3.0), ("b", -1.0), ("c", 1.0))
    )
    assert off_by(three, "nobody") is three[2]


def test_a_profile_that_shifts_its_grey_is_read_from_there() -> None:
    """Grey at 45 % instead of the curve's own place: a picture of 45 % is nought stops off it."""
    spec = setup(readings=(FACE, WALL))
    spec = replace(spec, profile=replace(spec.profile, grey_percent=45.0))
    (one,) = measured(two_tones(0.45, 0.45), {"face": LEFT}, analyse(spec), FileCurve.PROFILE)
    assert one.stops == pytest.approx(0, abs=0.03)
