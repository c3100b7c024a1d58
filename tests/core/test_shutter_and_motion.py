"""Shutter, flicker, cadence and density against published figures; inverses by property."""

from dataclasses import replace
from math import inf, pi, sin

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fotonomy.core.errors import RuleError
from fotonomy.core.gear.filters import Filter, FilterKind, Front, MatteBox, Mount
from fotonomy.core.gear.imaging import focused
from fotonomy.core.gear.neutral_density import (
    density_to_factor,
    density_to_stops,
    factor_to_density,
    rack,
    stacks,
    stops_to_density,
)
from fotonomy.core.motion.cadence import COMFORTABLE_GAP_PERCENT, Cadence, motion
from fotonomy.core.motion.flicker import flicker, residual_ripple, residual_ripples
from fotonomy.core.motion.shutter import Shutter, exact_rate
from tests.core.examples import LENS, ND, RINGS

FRONT = Front(LENS.thread_mm, RINGS)


@pytest.mark.parametrize(
    ("fps", "angle", "time_s"),
    [
        # Angle over 360 times the rate; the trade's own pairs (common practice, no source).
        (25, 180, 1 / 50),
        (24, 180, 1 / 48),
        (24, 172.8, 1 / 50),
        (60, 172.8, 1 / 125),
        (60, 86.4, 1 / 250),
        (100, 180, 1 / 200),
    ],
)
def test_angle_and_time_are_two_names(fps: float, angle: float, time_s: float) -> None:
    assert Shutter(angle_deg=angle).seconds(fps) == pytest.approx(time_s, rel=1e-9)
    assert Shutter(time_s=time_s).degrees(fps) == pytest.approx(angle, rel=1e-9)


@pytest.mark.parametrize(
    ("spoken", "top", "bottom"),
    # SMPTE ST 12-1: 23.976 and 29.97 stand for 24000/1001 and 30000/1001.
    [(23.976, 24000, 1001), (23.98, 24000, 1001), (29.97, 30000, 1001), (59.94, 60000, 1001)],
)
def test_spoken_rates_are_exact(spoken: float, top: int, bottom: int) -> None:
    rate = exact_rate(spoken)
    assert (rate.numerator, rate.denominator) == (top, bottom)
    assert exact_rate(25) == 25


@given(st.floats(1, 360), st.floats(1, 240))
def test_angle_to_time_and_back(angle: float, fps: float) -> None:
    time_s = Shutter(angle_deg=angle).seconds(fps)
    assert Shutter(time_s=time_s).degrees(fps) == pytest.approx(angle, rel=1e-9)


def test_a_shutter_is_one_or_the_other() -> None:
    for wrong in ({}, {"angle_deg": 180, "time_s": 0.02}, {"time_s": 0}, {"angle_deg": -5}):
        with pytest.raises(RuleError):
            Shutter(**wrong)


@pytest.mark.parametrize(
    ("time_s", "mains_hz", "left"),
    [
        # |sin(pi f t)/(pi f t)| with f twice the mains, worked by hand.
        (1 / 48, 60, 0.127),
        (1 / 240, 50, 0.738),
        (1 / 200, 50, 0.637),
        (1 / 50, 50, 0.0),
        (1 / 100, 50, 0.0),
        (1 / 33.3333333, 50, 0.0),
        (1 / 40, 60, 0.0),
        (144 / 360 / 24, 60, 0.0),
        (288 / 360 / 24, 60, 0.0),
    ],
)
def test_ripple_left_of_mains_lamps(time_s: float, mains_hz: int, left: float) -> None:
    assert residual_ripple(time_s, 2 * mains_hz) == pytest.approx(left, abs=0.0005)


def test_ripple_agrees_with_an_integral_of_the_light() -> None:
    """Against numbers: add up a pulsing lamp over exposures that start at every phase."""
    import numpy as np

    pulses_hz, time_s = 100.0, 1 / 160
    starts = np.linspace(0, 1 / pulses_hz, 200, endpoint=False)
    inside = np.linspace(0, time_s, 2001)
    light = 1 + np.cos(2 * pi * pulses_hz * (starts[:, None] + inside[None, :]))
    exposures = np.trapezoid(light, inside, axis=1) / time_s
    swing = (exposures.max() - exposures.min()) / 2
    assert residual_ripple(time_s, pulses_hz) == pytest.approx(swing, abs=0.002)
    times = np.array([time_s, 1 / 48, 1 / 100])
    one_by_one = [residual_ripple(float(t), pulses_hz) for t in times]
    assert residual_ripples(times, pulses_hz) == pytest.approx(one_by_one)


@given(st.integers(1, 8), st.sampled_from([50, 60]))
def test_whole_half_periods_are_safe(periods: int, mains_hz: int) -> None:
    state = flicker(periods / (2 * mains_hz), 10, 2 * mains_hz)
    assert state.safe
    assert state.ripple < 1e-9


def test_flicker_state_and_its_safe_times() -> None:
    state = flicker(1 / 200, 100, 100)
    assert not state.safe
    assert state.steady
    assert state.safe_times_s == pytest.approx([1 / 100])
    rolling = flicker(1 / 48, 24, 100)
    assert not rolling.steady
    # 120 frames a second leave no room for a half period of 50 Hz.
    assert flicker(1 / 240, 120, 100).safe_times_s == ()


def test_panning_guide() -> None:
    # American Cinematographer Manual, from memory: 7 s at 24 fps and 180 degrees.
    guide = motion(
        field_m=7.0, speed_m_s=1.0, time_s=1 / 48, capture_fps=24, project_fps=24, width_px=1920
    )  # fmt: skip
    assert guide.crossing_s == pytest.approx(7.0)
    assert guide.step_percent == pytest.approx(0.595, abs=0.0005)
    assert guide.gap_percent == pytest.approx(0.298, abs=0.0005)
    assert guide.gap_percent == pytest.approx(COMFORTABLE_GAP_PERCENT, rel=1e-9)
    assert guide.cadence is Cadence.COMFORTABLE


@pytest.mark.parametrize(
    ("crossing_s", "verdict"),
    [(7.1, Cadence.COMFORTABLE), (5.0, Cadence.BORDERLINE), (3.0, Cadence.STROBING)],
)
def test_cadence_verdicts(crossing_s: float, verdict: Cadence) -> None:
    moved = motion(
        field_m=crossing_s, speed_m_s=1.0, time_s=1 / 48, capture_fps=24, project_fps=24,
        width_px=1920,
    )  # fmt: skip
    assert moved.cadence is verdict


def test_chips_flying_before_a_50_mm_lens() -> None:
    # By hand, 2.5 m before the lens: 36 mm * 2450/50 = 1.764 m wide, and the lens stands
    # 50·2500/2450 mm before the sensor; 6 m/s is 60 mm a frame at 100 fps: 3.40 %.
    at_m = 2.5 + 0.05 * 2500 / 2450
    width = focused(50, at_m).field_m(36, at_m)
    assert width == pytest.approx(1.764)
    moved = motion(
        field_m=width, speed_m_s=6, time_s=1 / 200, capture_fps=100, project_fps=25, width_px=3840
    )  # fmt: skip
    assert moved.step_percent == pytest.approx(3.401, abs=0.001)
    assert moved.smear_percent == pytest.approx(1.701, abs=0.001)
    assert moved.smear_px == pytest.approx(65.3, abs=0.1)
    assert moved.screen_crossing_s == pytest.approx(1.176, abs=0.001)


@given(st.floats(0, 50), st.floats(0.05, 1), st.floats(10, 200))
def test_smear_and_gap_are_the_way_open_and_the_way_closed(
    speed: float, share: float, fps: float
) -> None:
    moved = motion(
        field_m=3.0, speed_m_s=speed, time_s=share / fps, capture_fps=fps, project_fps=25,
        width_px=1000,
    )  # fmt: skip
    # Metres travelled while the shutter is open and while it is closed, of the field's three.
    assert moved.smear_percent == pytest.approx(100 * speed * share / fps / 3, abs=1e-9)
    assert moved.gap_percent == pytest.approx(100 * speed * (1 - share) / fps / 3, abs=1e-9)


def test_nothing_moves_and_single_frames() -> None:
    still = motion(
        field_m=1, speed_m_s=0, time_s=0.02, capture_fps=25, project_fps=25, width_px=100
    )  # fmt: skip
    assert (still.cadence, still.crossing_s, still.smear_px) == (Cadence.STILL, None, 0)
    single = motion(
        field_m=10, speed_m_s=1, time_s=2, capture_fps=None, project_fps=25, width_px=100
    )  # fmt: skip
    assert (single.step_percent, single.gap_percent, single.smear_percent) == (None, None, 20)


@pytest.mark.parametrize(
    ("density", "stops", "factor"),
    # ISO 5-2: transmittance 10^-D; the factors it is sold by are common practice, no source.
    [
        (0.3, 0.997, 2),
        (0.9, 2.990, 8),
        (1.5, 4.983, 32),
        (1.8, 5.979, 64),
        (2.0, 6.644, 100),
        (2.4, 7.973, 256),
        (2.7, 8.969, 500),
        (3.0, 9.966, 1000),
        (4.0, 13.288, 10_000),
        (5.0, 16.610, 100_000),
    ],
)
def test_three_names_of_a_density(density: float, stops: float, factor: int) -> None:
    assert density_to_stops(density) == pytest.approx(stops, abs=0.001)
    assert density_to_factor(density) == factor
    assert factor_to_density(factor) == pytest.approx(density)


def test_ten_stops_make_a_sixtieth_17_s() -> None:
    # Common practice, no source: 1/60 through ten stops is 17 s.
    assert 1 / 60 * 2 ** density_to_stops(stops_to_density(10)) == pytest.approx(17, abs=0.1)


@given(st.floats(0, 20))
def test_density_to_stops_and_back(stops: float) -> None:
    assert density_to_stops(stops_to_density(stops)) == pytest.approx(stops, abs=1e-9)


def test_stacks_take_the_fewest_pieces_that_fit() -> None:
    made = {stack.density: stack.pieces for stack in stacks(ND, FRONT)}
    # 0.9 is one filter, though 0.3 + 0.6 makes it too; three pieces at most.
    assert made[0.9] == ("0.9",)
    assert made[3.3] == ("0.6", "0.9", "1.8")
    assert 3.6 not in made
    assert made[0.0] == ()
    small = Filter(name="small", kind=FilterKind.ND, stops=1.0, thread_mm=52)
    assert len(stacks((*ND, small), FRONT)) == len(made)
    turning = Filter(
        name="turning", kind=FilterKind.VARIABLE_ND, stops=density_to_stops(0.6),
        most_stops=density_to_stops(1.2), thread_mm=67,
    )  # fmt: skip
    with_variable = {s.density: s.pieces for s in stacks((*ND, turning), FRONT)}
    assert with_variable[0.7] == ("turning",)
    assert with_variable[1.2] == ("turning",)
    # A variable goes with one fixed filter, not with another variable.
    assert with_variable[1.3] == ("turning", "0.3")
    assert 4.0 not in with_variable


def test_what_a_piece_fits_depends_on_thread_ring_and_matte_box() -> None:
    square = Filter(name="square", kind=FilterKind.ND, stops=2.0)
    clipped = Filter(name="clipped", kind=FilterKind.ND, stops=6.0, mount=Mount.CLIP_ON)
    box = MatteBox(name="box", largest_mm=82)
    assert not square.fits(Front(67))
    assert square.fits(Front(67, (box,)))
    assert not square.fits(Front(95, (box,)))
    assert ND[0].fits(Front(77))
    assert not ND[0].fits(Front(67))
    assert ND[0].fits(FRONT)
    assert not ND[0].fits(Front(None, RINGS))
    assert clipped.fits(Front(None))
    # One clip behind the lens, however many are owned; the wheel costs no piece.
    twice = replace(clipped, name="again")
    assert {s.pieces for s in stacks((clipped, twice), Front(None))} == {(), ("again",)}
    wheel = {s.density: s for s in stacks((), Front(None), (0.6, 1.2))}
    assert (wheel[1.2].pieces, wheel[1.2].said) == ((), "wheel 1.2")


def test_a_hundred_filters_stay_bounded() -> None:
    drawer = tuple(
        Filter(name=f"f{k}", kind=FilterKind.ND, stops=k * 0.37 % 9 + 0.1, thread_mm=67)
        for k in range(100)
    )
    made = rack(drawer, Front(67))
    assert 200 < len(made.stacks) < 3000
    assert made.left_out == 76
    # Three equal ones make every stack that more could: nothing is left out then.
    alike = tuple(
        Filter(name=f"f{k}", kind=FilterKind.ND, stops=1.0, thread_mm=67) for k in range(9)
    )
    assert rack(alike, Front(67)).left_out == 0


@pytest.mark.parametrize("factor", [0.5, inf, float("nan")])
def test_factors_below_one_are_refused(factor: float) -> None:
    with pytest.raises(RuleError):
        factor_to_density(factor)


def test_sinc_is_even_at_the_edges() -> None:
    assert residual_ripple(0, 100) == 1
    assert residual_ripple(1e-9, 100) == pytest.approx(abs(sin(pi * 1e-7) / (pi * 1e-7)))
