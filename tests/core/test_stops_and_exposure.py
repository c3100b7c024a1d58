"""Stops, marked scales, meters and the light budget, against published figures."""

from itertools import pairwise
from math import log2

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fotonomy.core.errors import RuleError
from fotonomy.core.exposure.light_budget import Balance, light_budget
from fotonomy.core.photometry.exposure_value import (
    Ev100,
    Luminance,
    Lux,
    Metered,
    ev100_of,
    exposure_value,
    illuminance_lx,
    luminance_cd_m2,
)
from fotonomy.core.photometry.stops import (
    MARKED_F_NUMBERS,
    MARKED_ISO,
    aperture_stops,
    iso_stops,
    marked_f_numbers,
    marked_iso,
    marked_times_s,
    time_stops,
)
from tests.core.examples import setup


def test_bright_sun_is_ev_15() -> None:
    # ANSI PH2.7-1986, from memory: bright sun EV 15; f/16 at 1/125, ISO 100 comes to 14.97.
    assert exposure_value(16, 1 / 125) == pytest.approx(14.97, abs=0.005)


@pytest.mark.parametrize(("iso", "stops"), [(640, 1.0), (160, -1.0)])
def test_iso_steps_from_320(iso: int, stops: float) -> None:
    # Common practice, no source: 320 to 640 is a stop more, to 160 one less.
    assert iso_stops(iso) - iso_stops(320) == pytest.approx(stops, abs=1e-9)


def test_closing_from_f1_8_to_f10_needs_1_5_s() -> None:
    # Common practice, no source: 1/20 at f/1.8 becomes 1.5 s at f/10 (trial gives 1.3 s).
    needed_s = 1 / 20 * 2 ** (aperture_stops(10) - aperture_stops(1.8))
    assert log2(needed_s / 1.5) == pytest.approx(0, abs=1 / 3)


def test_marked_f_numbers_stand_for_thirds() -> None:
    for k, f_number in enumerate(MARKED_F_NUMBERS):
        assert aperture_stops(f_number) == pytest.approx(k / 3, abs=1e-12)
        # The engraving rounds by a seventh of a stop at most (f/1.2 stands for 1.26).
        assert 2 * log2(f_number) == pytest.approx(k / 3, abs=0.15)


def test_marked_iso_are_thirds_as_marked() -> None:
    for lower, upper in pairwise(MARKED_ISO):
        assert log2(upper / lower) == pytest.approx(1 / 3, abs=0.04)


def test_scales_keep_both_ends_of_the_gear() -> None:
    assert marked_f_numbers(1.7, 4.3)[0] == 1.7
    assert marked_f_numbers(1.7, 4.3)[-1] == 4.3
    assert marked_f_numbers(2.0, 2.0) == (2.0,)
    assert marked_iso(110, 700)[:2] == (110, 125)
    assert marked_times_s(1 / 25, 1 / 60) == (1 / 25, 1 / 30, 1 / 40, 1 / 50, 1 / 60)


@pytest.mark.parametrize(
    ("light", "ev"),
    [
        # ISO 2720:1974 with K 12.5 and C 250: EV 0 is 0.125 cd/m2 and 2.5 lx.
        (Luminance(0.125), 0.0),
        (Lux(2.5), 0.0),
        (Luminance(4096), 15.0),
        (Lux(81_920), 15.0),
        (Metered(16, 1 / 125, 100), 14.966),
        (Metered(16, 1 / 125, 400), 12.966),
    ],
)
def test_every_way_to_enter_light_comes_to_ev100(light: object, ev: float) -> None:
    assert ev100_of(light) == pytest.approx(ev, abs=0.001)  # type: ignore[arg-type]


@pytest.mark.parametrize(
    "light", [Lux(0), Lux(-3), Luminance(float("nan")), Ev100(99), Ev100(float("inf"))]
)
def test_light_no_scene_has_is_refused(light: object) -> None:
    with pytest.raises(RuleError) as caught:
        ev100_of(light)  # type: ignore[arg-type]
    assert caught.value.field == "light"


@given(st.floats(-11.9, 23.9))
def test_ev_to_units_and_back(ev: float) -> None:
    assert ev100_of(Lux(illuminance_lx(ev))) == pytest.approx(ev, abs=1e-9)
    assert ev100_of(Luminance(luminance_cd_m2(ev))) == pytest.approx(ev, abs=1e-9)


def test_the_budget_is_the_sum_written_in_the_calculation() -> None:
    # 12.3 EV, 1/200, f/4, ISO 500, ND 0.9: 12.3 - 7.644 - 4 + 2.322 - 2.990, by hand.
    from fotonomy.core.motion.shutter import Shutter

    planned = setup(
        light=Ev100(12.3), frame_rate=100, shutter=Shutter(angle_deg=180), iris=4.0
    )  # fmt: skip
    budget = light_budget(planned)
    assert budget.error_stops == pytest.approx(12.3 - 7.644 - 4 + 2.322 - 2.990, abs=0.001)
    assert budget.verdict is Balance.BALANCED


@given(
    st.floats(-5, 18), st.sampled_from(MARKED_F_NUMBERS[3:23]), st.sampled_from(MARKED_ISO),
    st.sampled_from([0.0, 0.3, 0.9, 1.8]),
)  # fmt: skip
def test_a_budget_balances_when_its_own_exposure_is_metered(
    ev: float, iris: float, iso: int, nd: float
) -> None:
    """Meter a scene with the very settings in use: only glass is left to account for."""
    planned = setup(iris=iris, iso=iso, nd_density=nd, light=Ev100(ev))
    metered = setup(
        iris=iris, iso=iso, nd_density=nd, light=Metered(iris, planned.time_s, iso)
    )  # fmt: skip
    nd_line = next(line for line in light_budget(metered).lines if line.key == "nd")
    assert light_budget(metered).error_stops == pytest.approx(nd_line.stops, abs=1e-9)


@pytest.mark.parametrize("bad", [0, -1, float("nan"), float("inf")])
def test_stops_of_nonsense_are_refused(bad: float) -> None:
    for function in (aperture_stops, time_stops, iso_stops):
        with pytest.raises(RuleError):
            function(bad)
