"""The sky over a run: stars, and light that comes and goes."""

from dataclasses import replace
from datetime import datetime
from typing import Any
from zoneinfo import ZoneInfo

import numpy as np
import pytest

from fotonomy.core.analysis.setup import analyse
from fotonomy.core.exposure.daylight import light_to_come
from fotonomy.core.exposure.ramp import ladder, ramp_plan
from fotonomy.core.motion.shutter import Shutter
from fotonomy.core.optics import star_trails as stars
from fotonomy.core.photometry.exposure_value import Ev100
from fotonomy.core.plan import plan
from fotonomy.core.planner.exposure_modes import mode_advice
from fotonomy.core.sky.light import PlaceLight
from fotonomy.core.spec.intent import Intent, Look
from fotonomy.core.spec.setup import Setup
from fotonomy.core.spec.stills import LightPoint, Ramp
from fotonomy.sky.ephemeris import sky_over
from tests.core.examples import LENS
from tests.core.run_examples import CAM, ids, interval, run_of


def test_the_sky_turns_as_skyfield_says() -> None:
    """Sidereal rate against Skyfield's Greenwich sidereal time: an outside reference."""
    from skyfield.api import load

    scale = load.timescale(builtin=True)
    start, later = scale.utc(2027, 6, 5, 10), scale.utc(2027, 6, 5, 16)
    turned_hours = (later.gmst - start.gmst) % 24
    arc_seconds_a_second = turned_hours * 15 * 3600 / (6 * 3600)
    assert np.degrees(stars.SIDEREAL_RAD_S) * 3600 == pytest.approx(arc_seconds_a_second, abs=0.001)
    # A sidereal day is 86 164 s (from memory).
    assert 2 * np.pi / stars.SIDEREAL_RAD_S == pytest.approx(86_164, abs=2)


def test_a_star_moves_across_the_sensor_as_skyfield_says() -> None:
    """The path of a star near the middle of the frame, from its directions in Skyfield."""
    from skyfield.api import Star, load, wgs84

    scale = load.timescale(builtin=True)
    place = wgs84.latlon(-43.12, 147.05)
    for declination in (-60.0, -30.0, 0.0):
        star = Star(ra_hours=14.0, dec_degrees=declination)
        begin, end = scale.utc(2027, 6, 5, 10, 0, 0), scale.utc(2027, 6, 5, 10, 0, 30)
        # Without an ephemeris: the place's own rotation carries the direction of a fixed star.
        turn = [place.rotation_at(t) @ _direction(star) for t in (begin, end)]
        moved = np.arccos(np.clip(turn[0] @ turn[1], -1, 1))
        # Its declination of J2000 has precessed since, by half a percent of the path at most.
        assert stars.trail_mm(20, 30, declination) == pytest.approx(20 * moved, rel=0.005)


def _direction(star: Any) -> Any:
    ra, dec = star.ra.radians, star.dec.radians
    return np.array([np.cos(dec) * np.cos(ra), np.cos(dec) * np.sin(ra), np.sin(dec)])


def test_rules_for_points_of_stars() -> None:
    # 20 mm, f/1.4, 5.9 µm: 11.3 s (Société astronomique du Havre, simplified; from memory).
    # (35*1.4 + 30*5.9)/20 = 11.3.
    assert stars.npf_s(20, 1.4, 5.9) == pytest.approx(11.3, abs=0.01)
    # 500 over focal length and crop: common practice, no source.
    assert stars.rule_500_s(20, 1.0) == 25
    assert stars.trail_mm(50, 60, 90) == pytest.approx(0, abs=1e-12)
    assert stars.longest_s(50, 0.006, 3, 90) == float("inf")
    longest = stars.longest_s(20, 0.0059, 3, -30)
    assert stars.trail_mm(20, longest, -30) == pytest.approx(3 * 0.0059)


def test_stars_on_the_bench() -> None:
    spec = interval(
        shutter=Shutter(time_s=25), frame_rate=1 / 30, focal_mm=50, light=Ev100(-4), iso=3200, iris=1.8,
        nd_density=0.0, run={"declination_deg": 0.0, "star_px": 5.0},
    )  # fmt: skip
    found = run_of(spec).stars
    assert found
    # 50 mm * 7.2921e-5 rad/s * 25 s over delivered pixels of 36/3840 mm.
    assert found.trail_px == pytest.approx(50 * 7.2921e-5 * 25 / (36 / 3840), rel=1e-3)
    finding = next(f for f in plan(spec).findings if f.id == "run.stars_trail")
    assert finding.fixes[0].changes[0].setting == "shutter"
    assert found.screen_crossing_s == pytest.approx(found.frame_crossing_s / (30 * 25))


def test_the_rules_of_thumb_count_on_the_whole_sensor_of_a_still() -> None:
    # 36 mm over 5.9 µm are 6102 photosites, times two thirds of that 24.8 megapixels. NPF for
    # 20 mm, f/1.4, 5.9 µm: (35·1.4 + 30·5.9)/20 = 11.3 s (Société astronomique du Havre, from
    # memory); 500 rule, full frame: 500/20 = 25 s (common practice, no source).
    wide = replace(LENS, focal_shortest_mm=20, focal_longest_mm=20, widest_f=1.4)
    spec = interval(
        lens=wide, focal_mm=20, iris=1.4, body=replace(CAM, still_mp=6102**2 * 2 / 3 / 1e6),
        run={"declination_deg": 0.0},
    )  # fmt: skip
    found = run_of(spec).stars
    assert found
    assert found.npf_s == pytest.approx(11.3, abs=0.02)
    assert found.rule_500_s == pytest.approx(25.0, abs=0.01)
    assert (spec.format.sensor_height_mm, spec.format.bits) == (24.0, 14)
    # Without megapixels the finest photosites of any format stand in.
    bare = replace(spec, body=replace(CAM, still_mp=None))
    assert bare.format.width_px == 3840
    square = replace(spec, body=replace(CAM, still_height_mm=27.0))
    assert square.format.sensor_height_mm == 27.0


DUSK = (LightPoint(0, 9.0), LightPoint(3600, 0.0))


def dusk(**changes: Any) -> Setup:
    """From EV 9 to EV 0 in an hour; balanced at the start with an ND of three stops."""
    run = {"light_curve": DUSK, **changes.pop("run", {})}
    # EV 9 at ISO 500 is EV 11.32; f/5.6 takes 5, the ND 2.99: 1/10 s.
    return interval(
        **{"light": Ev100(9.0), "shutter": Shutter(time_s=1 / 10), "frame_rate": 1 / 10,
           "wanted_screen_s": 361 / 25, "run": run, **changes}
    )  # fmt: skip


def test_a_planned_ramp_follows_the_light_in_order() -> None:
    to_night = (LightPoint(0, 9.0), LightPoint(3600, -3.5))
    spec = dusk(run={"ramp": Ramp.PLANNED, "ramp_lift": True, "light_curve": to_night})
    ramp = run_of(spec).ramp
    # 12.5 stops to make up: shutter 1/10 to 8 s (6.3), ISO 500 to 12 800 (4.7), the ND (3): enough.
    assert ramp.limit_at_s is None
    assert np.max(np.abs(ramp.miss_stops)) < 0.36
    times = [step.rung.time_s for step in ramp.steps]
    lifted = [step for step in ramp.steps if step.lifts_nd]
    assert len(lifted) == 1
    assert max(times) <= 0.8 * 10 + 1e-9
    # ISO stays at its base until the shutter is used up, the glass stays on until ISO is.
    for step in ramp.steps:
        if step.rung.iso > 500 or step.rung.nd_density == 0:
            assert step.rung.time_s == max(times)
    at_ceiling = [step.rung.iso for step in ramp.steps if step.rung.nd_density]
    assert max(at_ceiling) == 12_800
    assert lifted[0].words.startswith("take the ND off, ")
    # A third of a stop, and what marks such as 6 and 8 s are rounded by (log2 8/6 is 0.415).
    assert ramp.largest_step_stops <= 0.42
    gains = [rung.gain_stops for rung in ramp.rungs]
    assert gains == sorted(gains)


def test_glass_stays_on_unless_a_lift_is_allowed() -> None:
    # 6.3 stops of shutter and 4.7 of ISO to 12 800 follow nine stops without a hand on the lens.
    ramp = run_of(dusk(run={"ramp": Ramp.PLANNED})).ramp
    assert {rung.nd_density for rung in ramp.rungs} == {0.9}
    assert not any(step.lifts_nd for step in ramp.steps)
    # Twelve stops do not: three are missing at the end, and the lift brings them.
    deep = {"ramp": Ramp.PLANNED, "light_curve": (LightPoint(0, 9.0), LightPoint(3600, -3.5))}
    without = run_of(dusk(run=deep)).ramp
    lifted = run_of(dusk(run={**deep, "ramp_lift": True})).ramp
    assert without.end_miss_stops < -1
    assert abs(lifted.end_miss_stops) < 0.36
    back = {"ramp": Ramp.PLANNED, "ramp_lift": True,
            "light_curve": (LightPoint(0, -3.5), LightPoint(3600, 9.0))}  # fmt: skip
    words = [
        step.words for step in run_of(dusk(run=back)).ramp.steps if step.lifts_nd and step.frame
    ]
    assert words
    assert words[0].startswith("put ND 0.9 on, ")


def test_a_ramp_keeps_the_look_that_was_asked_for() -> None:
    # Half of ten seconds is five, and three tenths about it (common practice) 3.5 to 6.5 s.
    half = dusk(shutter=Shutter(time_s=5), iris=32, light=Ev100(8.4), run={"ramp": Ramp.PLANNED})
    times = {rung.time_s for rung in run_of(half).ramp.rungs}
    assert times == {4, 5, 6}
    # A short shutter on the bench has no such look to keep, nor has who asks for another.
    short = run_of(dusk(run={"ramp": Ramp.PLANNED})).ramp
    assert max(rung.time_s for rung in short.rungs) / min(r.time_s for r in short.rungs) > 100
    crisp = replace(half, intent=Intent(look=Look.CRISP))
    assert len({rung.time_s for rung in run_of(crisp).ramp.rungs}) > 10


def test_steps_larger_than_a_third_of_a_stop_are_said() -> None:
    # Nine stops in a minute of seven frames, 1.5 from one to the next: once shutter and ISO are at
    # their ends they are seen whole.
    fast = {"ramp": Ramp.PLANNED, "light_curve": (LightPoint(0, 9.0), LightPoint(60, 0.0))}
    spec = dusk(run=fast, wanted_screen_s=7 / 25, body=replace(CAM, iso_ceiling=500))
    found = next(f for f in plan(spec).findings if f.id == "run.ramp_steps")
    assert found.number == pytest.approx(1.5, abs=0.01)
    assert "run.ramp_steps" not in ids(plan(dusk(run={"ramp": Ramp.PLANNED})))


def test_where_a_ramp_ends_and_by_how_much() -> None:
    spec = dusk(run={"ramp": Ramp.FLOATING})
    ramp = run_of(spec).ramp
    # The camera floats from 1/10 to its slowest, 30 s: 8.2 of 9 stops; 0.8 are missing at the end.
    assert ramp.end_miss_stops == pytest.approx(-(9 - np.log2(300)), abs=0.15)
    assert ramp.limit_at_s == pytest.approx(3600 * (np.log2(300) + 0.36) / 9, abs=60)
    assert "run.light_leaves" in ids(plan(spec))
    fixed = run_of(dusk())
    assert fixed.ramp.end_miss_stops == pytest.approx(-9, abs=0.15)
    assert fixed.floating is not None
    assert fixed.floating.end_miss_stops == pytest.approx(ramp.end_miss_stops)


def test_night_to_day_climbs_the_same_ladder_down() -> None:
    up = dusk(
        light=Ev100(0.0), iso=8000, nd_density=0.0, shutter=Shutter(time_s=8),
        run={"ramp": Ramp.PLANNED, "light_curve": (LightPoint(0, 0.0), LightPoint(3600, 9.0))},
    )  # fmt: skip
    ramp = run_of(replace(up, iris=16)).ramp
    isos = [step.rung.iso for step in ramp.steps]
    assert isos == sorted(isos, reverse=True)
    assert np.max(np.abs(ramp.miss_stops)) < 0.4


def test_light_stays_and_ends_stay() -> None:
    steady = ramp_plan(interval(), Ramp.PLANNED, 100, 0.5)
    assert steady.steps == ()
    assert len(ladder(interval(), Ramp.FIXED, 0.5)) == 1
    # A month at one a minute is looked at frame by frame, a year in strides; both stay small.
    month = ramp_plan(dusk(run={"ramp": Ramp.PLANNED}), Ramp.PLANNED, 43_200, 0.5)
    assert len(month.at_s) <= 400
    year = ramp_plan(dusk(run={"ramp": Ramp.PLANNED}), Ramp.PLANNED, 500_000, 0.5)
    assert year.end_miss_stops == pytest.approx(month.end_miss_stops)


def test_the_sky_gives_the_light_to_come() -> None:
    starts = datetime(2027, 6, 5, 16, 0, tzinfo=ZoneInfo("Australia/Hobart"))
    sky = sky_over(-43.12, 147.05, 0, starts, 240)
    points = light_to_come(PlaceLight(sky), starts, 3 * 3600, 12.0)
    evs = [point.ev100 for point in points]
    assert evs[0] == 12.0
    assert evs == sorted(evs, reverse=True)
    # From an hour before sunset (about 16:45) to night: EV 12 down to under -2 (ANSI anchors, from memory).
    assert evs[-1] < -1
    assert points[-1].after_s == 3 * 3600


def test_the_light_to_come_decides_what_may_float() -> None:
    steady, falling = analyse(interval()), analyse(dusk())
    assert mode_advice(steady).choice == "Everything by hand"
    assert mode_advice(falling).choice != "Everything by hand"
    assert "9 stops" in mode_advice(falling).why


def test_a_ramp_that_begins_beside_the_bench_says_so_before_the_first_frame() -> None:
    # Two stops more ISO and two less shutter than the ladder's own order, shutter before ISO.
    spec = dusk(iso=2000, shutter=Shutter(time_s=1 / 40), run={"ramp": Ramp.PLANNED})
    first = run_of(spec).ramp.steps[0]
    assert (first.frame, first.at_s, first.rung.iso) == (0, 0.0, 500)
    assert first.rung.time_s == 1 / 10
    # Where the ladder begins at the bench, the first change is on the way.
    assert run_of(dusk(run={"ramp": Ramp.PLANNED})).ramp.steps[0].frame > 0
    # Steady light leaves the bench alone.
    steady = interval(iso=2000, shutter=Shutter(time_s=1 / 8), run={"ramp": Ramp.PLANNED})
    assert run_of(steady).ramp.steps == ()
    assert run_of(steady).ramp.rungs[0].iso == 2000
