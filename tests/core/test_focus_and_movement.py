"""Depth of field, close-up, diffraction, and what moves: against formulas and sources."""

from dataclasses import replace
from math import atan, cos, degrees, inf, isfinite, pi, radians, tan
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from fotonomy.core.analysis.setup import analyse
from fotonomy.core.errors import RuleError
from fotonomy.core.exposure.light_budget import light_budget
from fotonomy.core.findings.focus import depth_offer
from fotonomy.core.gear.imaging import reach
from fotonomy.core.gear.lens import Lens, Tube, loss_from_t_number
from fotonomy.core.gear.support import Support
from fotonomy.core.motion.camera_movement import (
    Camera,
    Movement,
    across_m_s,
    angle_of_view_deg,
    handheld_limit_s,
    lean_deg,
    mover,
    rolling_rule_time_s,
)
from fotonomy.core.motion.shutter import Shutter
from fotonomy.core.optics import depth_of_field as fo
from fotonomy.core.photometry.exposure_value import Ev100
from fotonomy.core.plan import plan
from fotonomy.core.spec.intent import Circle, Intent
from fotonomy.core.spec.kind import Kind
from fotonomy.core.units import LENGTH_UNITS, SPEED_UNITS
from tests.core.examples import AT_4M, BODY, LENS, setup, with_typed_setting


def test_hyperfocal_and_limits() -> None:
    # 50 mm at f/8 with 0.030 mm: 10.47 m (worked by hand: 2500/0.24 + 50 mm = 10466.7 mm).
    h = fo.hyperfocal_m(50, 8, 0.030)
    assert h == pytest.approx(10.467, abs=0.001)
    # Focused there, everything from half of it to infinity is sharp (textbook identity).
    near, far = fo.near_far_m(50, 8, 0.030, h)
    assert near == pytest.approx(h / 2, rel=0.001)
    assert far == inf
    # Worked by hand at 5 m: near 5*(10.467-0.05)/(10.467+5-0.1) = 3.389 m, far 9.527 m.
    near, far = fo.near_far_m(50, 8, 0.030, 5)
    assert (near, far) == pytest.approx((3.389, 9.527), abs=0.002)


def test_depth_of_field_agrees_with_rays_through_a_thin_lens() -> None:
    """Against numbers: trace the cone behind an ideal lens and measure the disc on the sensor."""
    f, n, s, c = 50.0, 2.8, 2000.0, 0.029
    image = f * s / (s - f)
    at = np.linspace(1000, 4000, 300_001)
    behind = f * at / (at - f)
    disc = f / n * abs(image - behind) / behind
    sharp = at[disc <= c]
    near, far = fo.near_far_m(f, n, c, s / 1000)
    assert near == pytest.approx(sharp.min() / 1000, abs=0.001)
    assert far == pytest.approx(sharp.max() / 1000, abs=0.001)
    assert fo.blur_disc_mm(f, n, f / (s - f), s / 1000, 3.0) == pytest.approx(
        disc[np.argmin(abs(at - 3000))], rel=1e-3
    )


def test_close_up() -> None:
    # 10 + 16 = 26 mm of tube on 50 mm: 0.52 of magnification more, 1.21 stops (2 log2 1.52).
    assert pytest.approx(0.52) == 26 / 50
    assert fo.bellows_stops(0.52) == pytest.approx(1.21, abs=0.005)
    assert fo.bellows_stops(1.0) == pytest.approx(2.0)
    assert fo.bellows_stops(0.015) == 0
    # All of it from a tenth of life size on, half of it half way there (common practice).
    assert fo.bellows_stops(0.1) == pytest.approx(2 * np.log2(1.1))
    assert fo.bellows_stops(0.06) == pytest.approx(np.log2(1.06))
    # The close-up formula is the limit of the general one near the lens.
    m = 90 / (280 - 90)
    general = fo.near_far_m(90, 8, 0.029, 0.28)
    # Close up the depth is 2·N·c·(1 + m)/m² in all.
    assert 2 * 8 * 0.029 * (1 + m) / m**2 == pytest.approx(
        1000 * (general[1] - general[0]), rel=0.01
    )
    # A lens that ends at 0.45 m: tubes move both ends of its ring.
    alone = reach(50, 0.45, None, 0)
    tubed = reach(50, 0.45, None, 26)
    assert alone
    assert tubed
    assert (alone.near_m, alone.far_m) == pytest.approx((0.45, inf))
    # 450 = 50(2 + m + 1/m): m = 0.146. With the tube 0.666 at the near end, 0.52 at infinity, and
    # f(2 + m + 1/m) is 208.4 and 222.2 mm.
    assert (tubed.near_m, tubed.far_m) == pytest.approx((0.2084, 0.2222), abs=0.0001)
    assert reach(50, None, None, 0) is None


@pytest.mark.parametrize(("n", "um"), [(8, 10.7), (16, 21.5), (22, 29.5)])
def test_airy_disc(n: float, um: float) -> None:
    # 2.44 * 0.55 um * N (Airy's formula): the check values of a textbook table.
    assert fo.airy_um(n) == pytest.approx(um, abs=0.05)


def test_airy_disc_agrees_with_the_zero_of_the_bessel_function() -> None:
    from scipy.special import jn_zeros

    assert fo.airy_um(1.0) == pytest.approx(2 * jn_zeros(1, 1)[0] / pi * 0.55, rel=0.001)


@given(st.floats(10, 300), st.floats(0.5, 50), st.floats(0.01, 5))
def test_the_iris_for_a_depth_gives_that_depth(focal: float, s_m: float, wanted: float) -> None:
    if 1000 * s_m <= 2 * focal:
        return
    n = fo.iris_for_depth(focal, 0.029, s_m, wanted)
    assert n is not None
    if 0.5 < n < 200:
        assert fo.depth_m(focal, n, 0.029, s_m) == pytest.approx(wanted, rel=0.02)


def test_circles_of_confusion() -> None:
    assert fo.circle_mm(Circle.DIAGONAL, 43.27, 0.009) == pytest.approx(0.0288, abs=0.0001)
    assert fo.circle_mm(Circle.TWO_PIXELS, 43.27, 0.009375) == pytest.approx(0.01875)


def test_inside_the_lens_is_refused() -> None:
    with pytest.raises(RuleError) as caught:
        setup(focal_mm=90, subject_distance_m=0.08)
    assert caught.value.field == "subject_distance_m"


@pytest.mark.parametrize("over", [1.001, 2.0, 2.5, 3.0, 3.001, 3.999, 4.0, 4.5])
def test_nearer_than_any_lens_focuses_there_is_a_plan_all_the_same(over: float) -> None:
    """A thin lens needs four focal lengths; what is nearer is said to be too near, not refused."""
    long_lens = replace(
        setup().lens, focal_longest_mm=400, close_focus_m=None, greatest_magnification=None
    )
    near = setup(
        lens=long_lens, focal_mm=400, subject_distance_m=0.4 * over, intent=Intent(depth_m=0.2)
    )
    focus = analyse(near).focus
    assert isfinite(focus.background_blur_mm)
    assert focus.background_blur_mm > 0
    assert focus.depth_m > 0
    assert focus.needed_iris
    # The lens equation holds of what is worked out, in reach or not: 1/f = 1/s + 1/s'.
    imaging = near.imaging
    assert 1000 / imaging.focal_mm == pytest.approx(1 / imaging.front_m + 1 / imaging.behind_m)
    assert imaging.magnification == pytest.approx(imaging.behind_m / imaging.front_m)


def test_tubes_feed_the_budget() -> None:
    # 140 mm in front of the lens, which stands 77.8 mm before the sensor.
    near = setup(subject_distance_m=0.21778, tubes=(Tube(name="26", length_mm=26),))
    lines = {line.key: line.stops for line in light_budget(near).lines}
    assert lines["bellows"] == pytest.approx(-2 * np.log2(1 + 50 / 90), abs=0.001)
    assert "bellows" not in {line.key for line in light_budget(setup()).lines}


def test_t_numbers() -> None:
    # T2.1 on a lens of f/1.8: 2 log2(2.1/1.8) = 0.445 stops.
    assert loss_from_t_number(2.1, 1.8) == pytest.approx(0.445, abs=0.001)
    with pytest.raises(RuleError):
        loss_from_t_number(1.4, 1.8)


def test_iris_of_a_zoom() -> None:
    zoom = Lens(name="z", focal_shortest_mm=100, focal_longest_mm=400, widest_f=4.5,
                widest_long_f=5.6, smallest_f=32)  # fmt: skip
    assert zoom.widest_at(100) == 4.5
    assert zoom.widest_at(400) == pytest.approx(5.6)
    # Half way in stops of focal length: the geometric mean of both ends, to a tenth.
    assert zoom.widest_at(200) == pytest.approx((4.5 * 5.6) ** 0.5, abs=0.05)
    with pytest.raises(RuleError, match=r"f/4.5 to f/32"):
        with_typed_setting(setup(lens=zoom, focal_mm=100, iris=8), "iris", "f/2")


def test_units_agree_with_a_library_of_units() -> None:
    import pint

    units = pint.UnitRegistry()
    for unit, named in (
        ("km/h", "km/hour"),
        ("mph", "mile/hour"),
        ("kn", "knot"),
        ("mm/s", "mm/s"),
    ):
        assert SPEED_UNITS[unit] == pytest.approx(units(named).to("m/s").magnitude, rel=1e-12)
    for unit in ("cm", "mm", "km", "ft", "in"):
        assert LENGTH_UNITS[unit] == pytest.approx(units(unit).to("m").magnitude, rel=1e-12)
    assert rolling_rule_time_s(units("62 mile/hour").to("m/s").magnitude) == pytest.approx(1 / 62)


def test_across_towards_and_at_an_angle() -> None:
    assert across_m_s(6, 90, 0.5, 10) == pytest.approx(6)
    assert across_m_s(6, 30, 0.0, 10) == pytest.approx(3)
    # Straight at the camera: the edge of something 2 m wide, 10 m off, at 6 m/s grows by a tenth
    # of its half width over its distance: 6 * 1/10 = 0.6 m/s in its own plane.
    assert across_m_s(6, 0, 2, 10) == pytest.approx(0.6)
    # The growth against numbers: half the size on the sensor a moment later.
    dt = 1e-4
    now, later = 1 / 10, 1 / (10 - 6 * dt)
    assert (later - now) / dt * 10 == pytest.approx(0.6, abs=0.001)
    assert cos(radians(90)) != 0  # which is why growth under the threshold is dropped


def test_tracked_panned_and_travelling() -> None:
    given = {"subject": "launch", "speed_m_s": 4, "distance_m": 25, "size_m": 7, "width_mm": 36,
             "image_mm": 35}  # fmt: skip
    tracked = mover(Movement(camera=Camera.TRACKING, background_m=100), **given)
    # The angle per second is the same: 4/25 = 16/100.
    assert (tracked.name, tracked.speed_m_s, tracked.distance_m) == ("background", 16, 100)
    panned = mover(Movement(camera=Camera.PAN, pan_deg_s=10), **given)
    view = degrees(2 * atan(36 / 70))
    assert angle_of_view_deg(36, 35) == pytest.approx(view)
    # 35 mm before the sensor, 24.965 m before the lens.
    field = 2 * (25 - 0.035) * tan(radians(view / 2))
    assert field / panned.speed_m_s == pytest.approx(view / 10)
    travelling = mover(Movement(camera=Camera.TRAVEL, travel_m_s=8), **{**given, "speed_m_s": 0})
    assert (travelling.name, travelling.speed_m_s) == ("launch", 8)


def test_rolling_rule() -> None:
    # One over the speed in miles an hour (common practice): 50 mph at 1/50, 30 mph at 1/30; a
    # mile is 1609.344 m, so 50 mph is 22.352 m/s.
    assert rolling_rule_time_s(22.352) == pytest.approx(1 / 50)
    assert rolling_rule_time_s(30 * 0.44704) == pytest.approx(1 / 30)
    spec = setup(
        kind=Kind.ROLLING, movement=Movement(camera=Camera.TRAVEL, travel_m_s=10, background_m=40),
        subject_distance_m=8.05031, focal_mm=50,
    )  # fmt: skip
    near, middle, far = analyse(spec).shake.passing
    # Smear = v t f / (w d), d without the focal length: 10/50 m over a field of 36/50*7.95 m,
    # eight metres in front of the lens.
    assert middle.smear_percent == pytest.approx(100 * 0.2 / (36 * 7.95 / 50), abs=0.01)
    assert near.smear_percent > middle.smear_percent > far.smear_percent
    assert far.distance_m == 40


def test_handheld_methods() -> None:
    # Common practice: 1/f, 1/(2f), a flat 1/200; a stabiliser of 3 stops makes it 8 times longer.
    assert handheld_limit_s("one_over_focal", 100, 0) == pytest.approx(1 / 100)
    assert handheld_limit_s("one_over_twice_focal", 100, 0) == pytest.approx(1 / 200)
    assert handheld_limit_s("flat_200", 400, 3) == pytest.approx(8 / 200)
    gull = setup(
        kind=Kind.BURST, frame_rate=12, shutter=Shutter(time_s=1 / 30), support=Support.HAND,
        focal_mm=50, subject_distance_m=20,
    )  # fmt: skip
    assert "support.handheld" in {f.id for f in plan(gull).findings}
    steady = replace(gull, support=Support.TRIPOD)
    assert "support.handheld" not in {f.id for f in plan(steady).findings}


def test_rolling_shutter_leans() -> None:
    # 16 ms of readout, an upright crossing a picture 2 m high at 5 m/s: 0.08 m over 2 m, 2.29 deg.
    assert lean_deg(5, 0.016, 2) == pytest.approx(2.29, abs=0.01)
    spec = setup(subject_speed_m_s=8, subject_distance_m=AT_4M)
    lean = next(f for f in plan(spec).findings if f.id == "motion.lean")
    # Field height 20.25/50*3.95 = 1.6 m: 8 * 0.016 / 1.6 -> 4.58 degrees.
    assert lean.number == pytest.approx(4.58, abs=0.02)
    assert lean.fixes[0].changes[0].value == "HD crop"
    unknown = replace(BODY.formats[0], readout_ms=None)
    silent = replace(spec, body=replace(BODY, formats=(unknown,)))
    assert analyse(silent).shake.lean_deg is None


def test_freeze_and_its_fix() -> None:
    # 2 px of 3840 on a field of 2.844 m at 6 m/s: 2/3840*2.844/6 = 1/4051 s.
    spec = setup(subject_speed_m_s=6, intent=Intent(freeze_px=2))
    shake = analyse(spec).shake
    assert shake.freeze_s == pytest.approx(1 / 4051, rel=0.001)
    finding = next(f for f in plan(spec).findings if f.id == "motion.smear_over_freeze")
    assert "px" in finding.why
    timed = replace(spec, shutter=Shutter(time_s=1 / 50))
    fix = next(f for f in plan(timed).findings if f.id == finding.id).fixes[0]
    # 1/4000 is within a fiftieth of a stop of it, which counts as met, as in the planner.
    assert fix.changes[0].value == Shutter(time_s=1 / 4000)
    assert fx_met(replace(spec, shutter=Shutter(time_s=1 / 4000)))
    assert not fx_met(replace(spec, shutter=Shutter(time_s=1 / 3950)))


def fx_met(spec: Any) -> bool:
    return "motion.smear_over_freeze" not in {one.id for one in plan(spec).findings}


def test_focus_findings() -> None:
    near = setup(lens=replace(LENS, close_focus_m=0.5), subject_distance_m=0.3)
    out = next(f for f in plan(near).findings if f.id == "focus.out_of_reach")
    assert "30 cm away; it focuses from 50 cm" in out.why
    wish = setup(intent=Intent(depth_m=2.0), iris=2.8)
    short = next(f for f in plan(wish).findings if f.id == "focus.depth_short")
    focus = analyse(wish).focus
    assert focus.needed_iris is not None
    fixed = short.fixes[0].changes[0].value
    assert fixed >= focus.needed_iris * 0.999
    phone = replace(
        BODY.formats[0], sensor_width_mm=9.8, sensor_height_mm=5.5, name="small"
    )  # fmt: skip
    soft = setup(body=replace(BODY, formats=(phone,)), iris=11, focal_mm=24)
    assert "focus.diffraction" in {f.id for f in plan(soft).findings}


def test_whether_the_light_allows_the_depth() -> None:
    # 3 m about 4 m takes f/7.6 and so f/8: a stop more, which ISO or less ND gives back.
    wish = setup(intent=Intent(depth_m=3.0), lens=replace(LENS, smallest_f=22))
    offer = depth_offer(analyse(wish))
    assert offer is not None
    assert offer.iris.value >= analyse(wish).focus.needed_iris * 0.999
    assert offer.allowed
    # EV 3 at f/8, 1/50 and ISO 12 800: 3 + 7 - 5.64 - 6 = -1.64 stops, and nothing left to give.
    dark = replace(wish, light=Ev100(3), nd_density=0.0, iso=12_800, held=frozenset({"shutter"}))
    short = depth_offer(analyse(dark))
    assert short is not None
    assert not short.allowed
    assert short.left_stops == pytest.approx(-1.64, abs=0.01)
    assert depth_offer(analyse(setup())) is None
    far = replace(wish, lens=replace(LENS, smallest_f=5.6))
    assert depth_offer(analyse(far)) is None


def test_a_squeezed_picture_is_wider() -> None:
    # Anamorphic 1.33 on 16:9 makes 2.37:1 (common practice).
    spec = setup(lens=replace(LENS, squeeze=1.33))
    shape = spec.picture_width_mm / spec.format.sensor_height_mm
    assert shape == pytest.approx(2.37, abs=0.01)
