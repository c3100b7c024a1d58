"""Light of the sky, cloud, readings, horizons, and which side the sun lights."""

from datetime import UTC, datetime, timedelta
from itertools import pairwise
from math import log2

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from fotonomy.core.day.direction import (
    FieldOfView,
    LightFrom,
    light_from,
    off_lens,
    shadow_length,
    sun_angle,
)
from fotonomy.core.errors import RuleError
from fotonomy.core.sky.horizon import Horizon, HorizonPoint, refraction_deg
from fotonomy.core.sky.light import (
    NIGHT_EV,
    LightReading,
    PlaceLight,
    clear_sky_lx,
    cloud_stops,
    moon_lx,
)
from fotonomy.core.sky.track import Stretch, joined, lit_share
from fotonomy.sky.ephemeris import sky_over

NOON = datetime(2027, 6, 5, 2, tzinfo=UTC)
SKY = sky_over(-43.12, 147.05, 0, datetime(2027, 6, 4, 14, tzinfo=UTC), 2160)


def test_light_of_sun_and_moon() -> None:
    # Explanatory Supplement to the Astronomical Almanac (from memory): sun at 60 degrees 103 klx,
    # full moon at 60 degrees 0.22 lx; and so 15.3 and -3.5 EV with C = 250 (ISO 2720).
    assert clear_sky_lx(60) == pytest.approx(103_000, rel=0.01)
    assert moon_lx(60, 0) == pytest.approx(0.22, abs=0.02)
    assert log2(clear_sky_lx(60) / 2.5) == pytest.approx(15.3, abs=0.05)
    assert log2(moon_lx(60, 0) / 2.5) == pytest.approx(-3.5, abs=0.1)
    # A half moon gives about a tenth of a full one (the same, from memory).
    assert moon_lx(60, 90) / moon_lx(60, 0) == pytest.approx(0.12, abs=0.03)
    assert moon_lx(-1, 0) == 0
    assert clear_sky_lx(np.array([-30.0, 60.0])).shape == (2,)


def test_what_cloud_takes() -> None:
    # Kasten and Czeplak, Solar Energy 24 (1980), from memory.
    assert cloud_stops(0) == 0
    assert cloud_stops(4) == pytest.approx(0.1, abs=0.05)
    assert cloud_stops(7) == pytest.approx(0.9, abs=0.05)
    assert cloud_stops(8) == pytest.approx(2.0)
    assert list(cloud_stops(np.arange(9))) == sorted(cloud_stops(np.arange(9)))


def test_the_estimate_is_clear_without_weather_and_the_band_goes_to_overcast() -> None:
    light = PlaceLight(SKY)
    noon = light.at(NOON)
    assert noon.ev100 == noon.clear_ev100
    assert noon.clear_ev100 - noon.overcast_ev100 == pytest.approx(2.0)
    # The sun at 24 degrees: 10^(3.74 + 3.97x - 4.07x² + 1.47x³) lx with x = 24/90 (source above).
    x = 24.35 / 90
    by_hand = log2(10 ** (3.74 + 3.97 * x - 4.07 * x**2 + 1.47 * x**3) / 2.5)
    assert noon.ev100 == pytest.approx(by_hand, abs=0.03)
    midnight = NOON + timedelta(hours=12)
    assert light.at(midnight).ev100 == pytest.approx(NIGHT_EV)
    # A street of 5 EV has that light all night, and hardly any more by day.
    street = PlaceLight(SKY, own_ev100=5.0)
    assert street.at(midnight).ev100 == pytest.approx(5.0, abs=0.01)
    assert street.at(NOON).ev100 - noon.ev100 == pytest.approx(0, abs=0.01)
    # Seven oktas take 0.9 of a stop from the sky and nothing from the lamps.
    cloudy = PlaceLight(SKY, own_ev100=5.0, oktas=7)
    assert noon.ev100 - cloudy.at(NOON).ev100 == pytest.approx(float(cloud_stops(7)), abs=0.01)
    assert cloudy.at(midnight).ev100 == pytest.approx(5.0, abs=0.01)
    over = cloudy.over()
    at = round(SKY.position(NOON))
    assert over.ev100[at] == pytest.approx(cloudy.at(NOON).ev100, abs=0.01)
    assert over.overcast_ev100[at] <= over.ev100[at] <= over.clear_ev100[at]


def test_a_reading_bends_the_part_that_lit_it() -> None:
    plain = PlaceLight(SKY, own_ev100=5.0)
    shade = LightReading.under(SKY, NOON, plain.at(NOON).ev100 - 2)
    bent = PlaceLight(SKY, own_ev100=5.0, readings=(shade,))
    assert bent.at(NOON).ev100 == pytest.approx(shade.ev100)
    assert bent.at(NOON).bent_stops == pytest.approx(-2, abs=0.01)
    assert bent.at(NOON).by is shade
    # Two hours later it is as much darker than the model; by night the lamps are as they were.
    later, midnight = NOON + timedelta(hours=2), NOON + timedelta(hours=12)
    assert bent.at(later).ev100 - plain.at(later).ev100 == pytest.approx(-2, abs=0.02)
    assert bent.at(midnight).ev100 == pytest.approx(5.0, abs=0.01)
    # A reading by night moves the lamps alone.
    lamps = LightReading.under(SKY, midnight, 6.5)
    lit = PlaceLight(SKY, own_ev100=5.0, readings=(shade, lamps))
    assert lit.at(midnight).ev100 == pytest.approx(6.5, abs=0.01)
    assert lit.at(NOON).ev100 == pytest.approx(shade.ev100, abs=0.05)
    # Of two readings the nearer in the sun's height counts.
    low = LightReading.under(SKY, NOON + timedelta(hours=4), 9.0)
    both = PlaceLight(SKY, readings=(shade, low))
    assert both.at(NOON + timedelta(hours=3, minutes=50)).by is low
    assert both.at(NOON + timedelta(minutes=20)).by is shade


def test_refraction_and_the_rise_of_a_level_horizon() -> None:
    # Rise and set are defined at -50' of the centre: 34' of refraction and 16' of half disc.
    assert refraction_deg(0) == pytest.approx(34 / 60)
    # Bennett (1982), from memory: 5.3' at 10 degrees, under 1' at 45.
    assert refraction_deg(10) * 60 == pytest.approx(5.3, abs=0.3)
    assert refraction_deg(45) * 60 == pytest.approx(1.0, abs=0.1)
    level = Horizon()
    assert level.over(-50 / 60, 123) == pytest.approx(0)
    assert level.over(0, 0) == pytest.approx(50 / 60)


def land(*pairs: tuple[float, float]) -> Horizon:
    return Horizon(tuple(HorizonPoint(*pair) for pair in pairs))


def test_a_horizon_is_straight_between_its_points_and_goes_round() -> None:
    found = land((10, 4), (100, 13), (350, 2))
    assert found.altitude(55) == pytest.approx(8.5)
    assert found.altitude(0) == pytest.approx(3)
    assert found.altitude(360) == pytest.approx(3)
    assert found.over(8.5, 55) == pytest.approx(16 / 60 + float(refraction_deg(8.5)))


@pytest.mark.parametrize(
    "pairs",
    [((10, 4),), ((10, 4), (10, 6)), ((50, 4), (10, 6)), ((0, 4), (90, 1), (360, 6)),
     ((-1, 0), (5, 0)), ((0, 95), (10, 0))],
)  # fmt: skip
def test_a_horizon_that_is_none_is_refused(pairs: tuple[tuple[float, float], ...]) -> None:
    with pytest.raises(RuleError):
        land(*pairs)


def test_the_side_the_sun_lights() -> None:
    # Common practice, no source: 45, 80, 110 and 150 degrees from straight behind the camera.
    assert [light_from(180 - behind) for behind in (0, 45, 46, 80, 81, 110, 111, 150, 151, 180)] == [
        LightFrom.FRONT, LightFrom.FRONT, LightFrom.THREE_QUARTER, LightFrom.THREE_QUARTER,
        LightFrom.SIDE, LightFrom.SIDE, LightFrom.THREE_QUARTER_BACK,
        LightFrom.THREE_QUARTER_BACK, LightFrom.BACK, LightFrom.BACK,
    ]  # fmt: skip
    assert off_lens(10, 350) == pytest.approx(20)
    assert off_lens(350, 10) == pytest.approx(20)
    field = FieldOfView(54, 38)
    assert sun_angle(9, 316, 305, field).in_picture
    assert not sun_angle(20, 316, 305, field).in_picture
    assert sun_angle(9, 350, 305, field).flares
    assert not sun_angle(9, 353, 305, field).flares
    assert not sun_angle(9, 333, 305, field).in_picture


def test_shadows() -> None:
    # h / tan(altitude): 45 degrees is as long as tall, 26.565 twice.
    assert shadow_length(1.8, 45) == pytest.approx(1.8)
    assert shadow_length(1, 26.565) == pytest.approx(2, rel=1e-3)
    assert shadow_length(1, 0) is None


def test_the_lit_share_of_the_moon() -> None:
    assert [round(lit_share(phase), 2) for phase in (0, 60, 90, 120, 180)] == [
        1,
        0.75,
        0.5,
        0.25,
        0,
    ]


@given(
    st.lists(st.tuples(st.integers(0, 500), st.integers(1, 90)), min_size=1, max_size=8)
)  # fmt: skip
def test_joined_stretches_cover_the_same_minutes(pairs: list[tuple[int, int]]) -> None:
    start = datetime(2027, 1, 1, tzinfo=UTC)
    stretches = tuple(
        Stretch(start + timedelta(minutes=a), start + timedelta(minutes=a + long))
        for a, long in pairs
    )
    merged = joined(stretches)
    covered = {m for a, long in pairs for m in range(a, a + long)}
    assert sum(one.minutes for one in merged) == len(covered)
    assert all(one.ends < other.starts for one, other in pairwise(merged))
