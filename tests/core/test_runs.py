"""Interval runs: fence posts, cycles, programs, power, stars, ramps, clocks."""

from dataclasses import replace
from datetime import datetime
from itertools import pairwise
from typing import Any
from zoneinfo import ZoneInfo

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from fotonomy.core import run_notation as rn
from fotonomy.core import stars
from fotonomy.core.devices import Battery, Card, Counting, Heater, Remote
from fotonomy.core.errors import RuleError
from fotonomy.core.exposure import Ev100
from fotonomy.core.facts import work_out
from fotonomy.core.finding import Severity
from fotonomy.core.interval import cycle, frames_for, frames_over, span_s, third, usual_for
from fotonomy.core.interval_facts import IntervalRun, worked_out
from fotonomy.core.modes import mode_advice
from fotonomy.core.plan import Plan, plan
from fotonomy.core.power import cold_share, power_of
from fotonomy.core.program import program_of
from fotonomy.core.ramp import ladder, ramp_plan
from fotonomy.core.run import Files, Follows, LightPoint, Ramp, Run
from fotonomy.core.setup import Kind, Setup
from fotonomy.core.shutter import Shutter
from fotonomy.core.sky_light import light_to_come
from fotonomy.core.solve import Search
from tests.core.run_examples import CAM, CARD, CELL, interval


def run_of(spec: Setup) -> IntervalRun:
    run = work_out(spec).run
    assert isinstance(run, IntervalRun)
    return run


def ids(planned: Plan) -> set[str]:
    return {finding.id for finding in planned.findings}


# Worked figures of the trade's calculation notes: N frames span (N-1) intervals.
def test_fence_posts_as_worked_out_by_hand() -> None:
    assert span_s(5, 300) == 20 * 60
    waiting = Remote(name="w", waits_first=True)
    program = program_of(waiting, frames=5, interval_s=300, exposure_s=1, delay_s=0, bulb=False)
    assert program.last_s == 25 * 60
    assert span_s(1930, 15) == 8 * 3600 + 2 * 60 + 15
    assert pytest.approx(80.4, abs=0.05) == 1930 / 24
    assert pytest.approx(19.9, abs=0.05) == 478 / 24
    assert frames_over(20 * 60, 300) == 5
    assert frames_for(19.9, 24) == 478


@given(st.integers(2, 5000), st.integers(1, 3600))
def test_frames_and_span_are_inverse(frames: int, interval_s: int) -> None:
    assert frames_over(span_s(frames, interval_s), interval_s) == frames


def test_any_two_of_event_interval_and_clip_give_the_third() -> None:
    given_two: dict[str, Any] = {
        "event_s": 8 * 3600.0,
        "interval_s": 15.0,
        "screen_s": 20.0,
        "project_fps": 24,
    }
    # 8 h hold 1920 intervals of 15 s, so 1921 frames: 80.04 s at 24 fps.
    clip = third(Follows.CLIP, **given_two)
    assert (clip.frames, clip.screen_s) == (1921, pytest.approx(80.0417, abs=1e-4))
    # 20 s are 480 frames: 479 intervals of 15 s.
    event = third(Follows.EVENT, **given_two)
    assert (event.frames, event.event_s) == (480, 479 * 15)
    spaced = third(Follows.INTERVAL, **given_two)
    assert spaced.interval_s == pytest.approx(8 * 3600 / 479)
    for follows, changes, field in (
        (Follows.INTERVAL, {"screen_s": 0.04}, "frame_rate"),
        (Follows.INTERVAL, {"event_s": 10.0}, "frame_rate"),
        (Follows.EVENT, {"interval_s": 86_400.0, "screen_s": 60.0}, "event"),
        (Follows.CLIP, {"event_s": 3e7, "interval_s": 1.0}, "wanted_screen"),
    ):  # fmt: skip
        with pytest.raises(RuleError) as error:
            third(follows, **{**given_two, **changes})
        assert error.value.field == field


def test_the_third_is_written_back_where_it_belongs() -> None:
    spec = interval(run={"follows": Follows.CLIP, "event_s": 3000.0})
    assert worked_out(spec).wanted_screen_s == pytest.approx(501 / 25)
    spec = interval(run={"follows": Follows.INTERVAL, "event_s": 3000.0})
    assert 1 / worked_out(spec).frame_rate == pytest.approx(3000 / 499)
    assert worked_out(interval()).run.event_s == pytest.approx(499 * 6)


def test_a_noise_frame_doubles_the_time_a_frame_takes() -> None:
    plain = cycle(interval_s=20, exposure_s=8, self_timer_s=0, noise_frame=False, write_s=0.5)
    dark = cycle(interval_s=20, exposure_s=8, self_timer_s=0, noise_frame=True, write_s=0.5)
    assert (plain.deaf_s, dark.deaf_s) == (8, 16)
    assert (plain.fits, dark.fits) == (True, True)
    assert [part.name for part in dark.parts] == ["exposure", "noise frame", "writing", "idle"]
    # 12 s exposed, 12 s dark: the next start of 20 s is not heard.
    deaf = cycle(interval_s=20, exposure_s=12, self_timer_s=0, noise_frame=True, write_s=0.5)
    assert (deaf.fits, deaf.keeps_up) == (False, False)


@given(
    st.floats(0.001, 60), st.floats(0, 20), st.booleans(), st.floats(0.01, 20), st.floats(1, 200)
)
def test_the_shortest_interval_fits_and_a_second_less_does_not(
    exposure: float, timer: float, dark: bool, write: float, interval_s: float
) -> None:
    def at(seconds: float) -> Any:
        return cycle(
            interval_s=seconds,
            exposure_s=exposure,
            self_timer_s=timer,
            noise_frame=dark,
            write_s=write,
        )

    shortest = at(interval_s).shortest_s
    assert at(shortest).fits
    assert shortest == 1 or not at(shortest - 1).fits
    laid_out = at(interval_s)
    for first, second in pairwise(laid_out.parts):
        assert second.at_s == pytest.approx(first.at_s + first.lasts_s)


def test_a_remotes_fields_follow_its_own_convention() -> None:
    wanted: dict[str, Any] = {
        "frames": 200,
        "interval_s": 20,
        "exposure_s": 45,
        "delay_s": 10,
        "bulb": True,
    }
    wanted["interval_s"] = 60
    start = program_of(Remote(name="a", sure_count=None), **wanted)
    end = program_of(Remote(name="b", counting=Counting.END_TO_START), **wanted)
    # 60 s from start to start with 45 s held are 15 s from end to next start.
    assert (start.interval_s, end.interval_s, end.exposure_s) == (60, 15, 45)
    assert start.step_s == end.step_s == 60
    assert start.last_s == end.last_s == 10 + 199 * 60
    # Where the camera times the exposure the remote taps, and both conventions agree.
    tapped = program_of(
        Remote(name="b", counting=Counting.END_TO_START), **{**wanted, "bulb": False}
    )
    assert (tapped.interval_s, tapped.exposure_s) == (60, 0)


def test_counts_beyond_a_remote_are_said_not_clipped() -> None:
    wanted: dict[str, Any] = {
        "frames": 500,
        "interval_s": 6,
        "exposure_s": 0.5,
        "delay_s": 0,
        "bulb": False,
    }
    assert program_of(Remote(name="far", most_count=9999), **wanted).count == 500
    assert program_of(Remote(name="unsure", most_count=9999, sure_count=99), **wanted).count is None
    assert program_of(Remote(name="any", most_count=None), **wanted).count == 500
    stuck = program_of(Remote(name="stuck", most_count=99, unlimited=False), **wanted)
    assert (stuck.count, stuck.frames) == (99, 500)
    waits = program_of(Remote(name="waits", waits_first=True), **{**wanted, "delay_s": 2})
    assert (waits.delay_s, waits.first_s, waits.waits_s) == (0, 6, 4)
    coarse = program_of(Remote(name="coarse", step_s=5), **wanted)
    assert (coarse.interval_s, coarse.step_s) == (10, 10)


@pytest.mark.parametrize(
    ("make", "field"),
    [(lambda: Remote(name="r", step_s=0), "step_s"), (lambda: Remote(name="r", most_count=0), "most_count"),
     (lambda: Remote(name="r", most_count=None, unlimited=False), "most_count"),
     (lambda: Card(name="c", size_gb=0), "size_gb"), (lambda: Card(name="c", size_gb=1, write_mb_s=-1), "write_mb_s"),
     (lambda: Battery(name="b", energy_wh=float("nan")), "energy_wh"), (lambda: Heater(name="h", power_w=0), "power_w"),
     (lambda: Run(event_s=4e7), "event"), (lambda: Run(frames=0), "frames"), (lambda: Run(moment_s=0), "moment"),
     (lambda: Run(light=(LightPoint(60, 1), LightPoint(60, 2))), "light_curve"),
     (lambda: Run(light=(LightPoint(0, 99),)), "light_curve")],
)  # fmt: skip
def test_numbers_no_device_or_run_has_are_refused(make: Any, field: str) -> None:
    with pytest.raises(RuleError) as error:
        make()
    assert error.value.field == field


def test_energy_of_hours_alone_by_hand() -> None:
    # 10 h, 2 h of them at work: 8 h at 4 W, 2 h at 10 W and 5 W of heater for ten hours.
    devices = (
        CELL,
        Battery(name="Pack", energy_wh=100, external=True),
        Heater(name="h", power_w=5),
    )
    power = power_of(CAM, devices, 20.0, 36_000, 7200)
    assert power
    assert power.needs_wh == pytest.approx(8 * 4 + 2 * 10 + 50)
    # A tenth of what is printed stays as a reserve.
    assert power.has_wh == pytest.approx(140 * 0.9)
    assert power_of(replace(CAM, power_w=None), devices, 20, 10, 1) is None
    # Common practice, no source: a hundredth less a degree under 20 °C, 40 % at the least.
    assert [cold_share(t) for t in (25, 20, 0, -10, -60)] == pytest.approx([1, 1, 0.8, 0.7, 0.4])


def test_the_sky_turns_as_skyfield_says() -> None:
    """Sidereal rate against Skyfield's Greenwich sidereal time: an outside reference."""
    from skyfield.api import load

    scale = load.timescale(builtin=True)
    start, later = scale.utc(2027, 6, 5, 10), scale.utc(2027, 6, 5, 16)
    turned_hours = (later.gmst - start.gmst) % 24
    arc_seconds_a_second = turned_hours * 15 * 3600 / (6 * 3600)
    assert np.degrees(stars.SIDEREAL_RAD_S) * 3600 == pytest.approx(arc_seconds_a_second, abs=0.001)
    # A sidereal day is 86 164 s (from memory).
    assert pytest.approx(86_164, abs=2) == stars.SIDEREAL_DAY_S


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
    # 50 mm * 7.2921e-5 rad/s * 25 s over pixels of 36/3840 mm.
    assert found.trail_px == pytest.approx(50 * 7.2921e-5 * 25 / (36 / 3840), rel=1e-3)
    finding = next(f for f in plan(spec).findings if f.id == "run.stars_trail")
    assert finding.fixes[0].changes[0].setting == "shutter"
    assert found.screen_crossing_s == pytest.approx(found.frame_crossing_s / (30 * 25))


DUSK = (LightPoint(0, 9.0), LightPoint(3600, 0.0))


def dusk(**changes: Any) -> Setup:
    """From EV 9 to EV 0 in an hour; balanced at the start with an ND of three stops."""
    run = {"light": DUSK, **changes.pop("run", {})}
    # EV 9 at ISO 500 is EV 11.32; f/5.6 takes 5, the ND 2.99: 1/10 s.
    return interval(
        **{"light": Ev100(9.0), "shutter": Shutter(time_s=1 / 10), "frame_rate": 1 / 10,
           "wanted_screen_s": 361 / 25, "run": run, **changes}
    )  # fmt: skip


def test_a_planned_ramp_follows_the_light_in_order() -> None:
    spec = dusk(run={"ramp": Ramp.PLANNED})
    ramp = run_of(spec).ramp
    # Nine stops to make up: shutter 1/10 to 8 s (6.3), the ND (3), ISO 500 to 12 800 (4.7): enough.
    assert ramp.limit_at_s is None
    assert np.max(np.abs(ramp.miss_stops)) < 0.36
    times = [step.rung.time_s for step in ramp.steps]
    lifted = [step for step in ramp.steps if step.lifts_nd]
    assert len(lifted) == 1
    assert max(times) <= 0.8 * 10 + 1e-9
    # ISO stays at its base until shutter and glass are used up.
    for step in ramp.steps:
        if step.rung.iso > 500:
            assert step.rung.nd_density == 0
            assert step.rung.time_s == max(times)
    gains = [rung.gain_stops for rung in ramp.rungs]
    assert gains == sorted(gains)


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
        run={"ramp": Ramp.PLANNED, "light": (LightPoint(0, 0.0), LightPoint(3600, 9.0))},
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
    points = light_to_come(starts, 3 * 3600, -43.12, 147.05, 12.0)
    evs = [point.ev100 for point in points]
    assert evs[0] == 12.0
    assert evs == sorted(evs, reverse=True)
    # From an hour before sunset (about 16:45) to night: EV 12 down to under -2 (ANSI anchors, from memory).
    assert evs[-1] < -1
    assert points[-1].after_s == 3 * 3600


def test_the_clock_is_put_back_in_the_middle_of_a_run() -> None:
    # Tasmania ends daylight saving on 4 April 2027 at 03:00 (IANA time zone database).
    starts = datetime(2027, 4, 3, 22, 0, tzinfo=ZoneInfo("Australia/Hobart"))
    spec = interval(starts=starts, frame_rate=1 / 60, wanted_screen_s=24.0)
    run = run_of(spec)
    assert run.clock_shift_s == -3600
    assert run.ends is not None
    # 599 minutes and a few seconds after 22:00 by the old clock is 07:59, by the new one 06:59.
    assert (run.ends.hour, run.ends.minute) == (6, 59)
    finding = next(f for f in plan(spec).findings if f.id == "run.clock_changes")
    assert (finding.number, finding.severity) == (-60, Severity.CAUTION)
    assert "back by 1 h after 5 h" in finding.why
    # Ten hours, done by 03:00 where it starts at 16:59; or 300 frames, five hours, from 22:00 on.
    assert [(fix.changes[0].setting, fix.changes[0].text) for fix in finding.fixes] == [
        ("planned_time", "16:59"), ("wanted_screen", "12 s"),
    ]  # fmt: skip
    for change in ({"starts": starts.replace(hour=16, minute=59)}, {"wanted_screen_s": 12.0}):
        assert run_of(replace(spec, **change)).clock_shift_s == 0  # type: ignore[arg-type]
    # On the day itself it may as well start after.
    late = replace(spec, starts=starts.replace(day=4, hour=1))
    after = next(f for f in plan(late).findings if f.id == "run.clock_changes").fixes[0]
    assert after.changes[0].text == "02:00"
    quiet = interval(starts=starts.replace(month=6))
    assert run_of(quiet).clock_shift_s == 0


# One setup for each finding, with the number it should carry (worked by hand).
CASES: list[tuple[str, float, Setup]] = [
    # 5 s exposed, 5 s dark, half a second of writing, 0.2 s to spare: 4.7 s more than 6 s.
    ("run.cycle_too_long", 4.7, interval(shutter=Shutter(time_s=5), run={"noise_frames": True})),
    # 500 frames at 6 s span 2994 s of 4000 s.
    ("run.short_of_event", 1006, interval(run={"follows": Follows.CLIP, "event_s": 4000.0})),
    # 500 frames of 25 MB are 12.5 GB.
    ("run.card_full", 12.5, interval(devices=(replace(CARD, size_gb=8), CELL))),
    # 500 * (0.5 + 0.5) s at 10 W, the rest of 3000 s at 4 W: 4.17 Wh of 1.76 (0.05 * 95 % * 90 %...).
    ("run.power_short", 4.17 - 2 * 0.95 * 0.9, interval(devices=(CARD, Battery(name="s", energy_wh=2)))),
    ("run.count_beyond", 500, interval(devices=(CARD, Remote(name="r", most_count=99, unlimited=False)))),
    ("run.interval_rounded", 0.5, interval(frame_rate=1 / 6.5)),
    ("run.one_frame", 1, interval(wanted_screen_s=0.04)),
    # 9000 frames a day apart are 8999 days.
    ("run.beyond_year", 8999, interval(frame_rate=1 / 86_400, wanted_screen_s=360.0)),
]  # fmt: skip


@pytest.mark.parametrize(("key", "number", "spec"), CASES, ids=[case[0] for case in CASES])
def test_every_finding_of_a_run_has_a_reason_a_number_and_a_fix(
    key: str, number: float, spec: Setup
) -> None:
    finding = next(f for f in plan(spec).findings if f.id == key)
    assert finding.number == pytest.approx(number, abs=0.02)
    assert any(character.isdigit() for character in finding.why)
    assert finding.fixes
    assert all(fix.label and fix.changes for fix in finding.fixes)


def test_fixes_of_a_run_do_what_they_say() -> None:
    full = interval(shutter=Shutter(time_s=5), run={"noise_frames": True})
    ways = {
        fix.label: fix
        for fix in next(f for f in plan(full).findings if f.id == "run.cycle_too_long").fixes
    }
    assert set(ways) >= {"noise reduction off", "every 11 s"}
    assert "run.cycle_too_long" not in ids(plan(replace(full, frame_rate=1 / 11)))
    assert "run.cycle_too_long" not in ids(plan(replace(full, run=Run(noise_frames=False))))
    short = interval(devices=(CARD, Battery(name="s", energy_wh=2)), bag_devices=(CELL,))
    (finding,) = [f for f in plan(short).findings if f.id == "run.power_short"]
    assert finding.fixes[0].changes[0].text == "Cell"
    more = replace(short, devices=(*short.devices, CELL))
    assert "run.power_short" not in ids(plan(more))
    jpeg = interval(devices=(replace(CARD, size_gb=8), CELL), run={"files": Files.JPEG})
    assert "run.card_full" not in ids(plan(jpeg))
    assert plan(interval()).findings == ()


def test_bulb_beyond_the_bodys_times_is_the_remotes_to_hold() -> None:
    spec = interval(shutter=Shutter(time_s=45), frame_rate=1 / 60, light=Ev100(-1.8))
    run = run_of(spec)
    assert (run.program.bulb, run.program.exposure_s) == (True, 45)
    assert "shutter.gear_lacks" not in ids(plan(spec))


spans = st.floats(1, 3e7).map(lambda s: round(s, 2))


@given(spans)
def test_spans_round_trip(seconds: float) -> None:
    text = rn.format_span(seconds)
    assert rn.parse_span("event", text, (0, 1e9), "") == pytest.approx(seconds, abs=0.006)


@pytest.mark.parametrize(
    ("text", "seconds"),
    [("8 h 2 min 15 s", 28_935), ("1:30", 5400), ("1:30:15", 5415), ("90 min", 5400), ("2 d", 172_800),
     ("45", 45), ("1,5 h", 5400), ("3 hours", 10_800), ("2h30min", 9000)],
)  # fmt: skip
def test_lengths_as_people_type_them(text: str, seconds: float) -> None:
    assert rn.parse_event(text) == seconds


@pytest.mark.parametrize("text", ["", "soon", "8 h 2", "1:75", "9 y", "-5 min", "400 d", "h"])
def test_lengths_that_are_none_are_refused(text: str) -> None:
    with pytest.raises(RuleError):
        rn.parse_event(text)


@given(st.lists(st.tuples(st.integers(0, 90_000), st.floats(-11, 22).map(lambda e: round(e, 1))),
                min_size=1, max_size=20, unique_by=lambda p: p[0]))  # fmt: skip
def test_light_curves_round_trip(points: list[tuple[int, float]]) -> None:
    curve = tuple(LightPoint(float(at), ev) for at, ev in sorted(points))
    assert rn.parse_light_curve(rn.format_light_curve(curve)) == curve


def test_light_curves_as_people_type_them() -> None:
    wanted = (LightPoint(0, 12), LightPoint(2400, 9), LightPoint(4200, -2.5))
    assert rn.parse_light_curve("0 min 12 EV; 40 min EV 9; 1:10 −2,5") == wanted
    assert rn.parse_light_curve("0 12\n40 min 9\n1:10 -2.5") == wanted
    assert rn.parse_light_curve("steady") == ()
    with pytest.raises(RuleError, match="not later"):
        rn.parse_light_curve("0 min 12; later 9")


@pytest.mark.parametrize(
    ("parse", "text", "value"),
    [(rn.parse_passes, "120 an hour", 30), (rn.parse_passes, "every 8 s", 8), (rn.parse_passes, "none", None),
     (rn.parse_passes, "2 a minute", 30), (rn.parse_moment, "1/20", 0.05), (rn.parse_moment, "50 ms", 0.05),
     (rn.parse_declination, "30 S", -30), (rn.parse_declination, "none", None), (rn.parse_self_timer, "off", 0),
     (rn.parse_start_after, "2 h", 7200), (rn.parse_trail, "60 %", 60), (rn.parse_frames, "3 exposures", 3),
     (rn.parse_temperature, "−5 °C", -5), (rn.parse_bursts, "20 an hour", 20)],
)  # fmt: skip
def test_what_people_type_about_a_run(parse: Any, text: str, value: Any) -> None:
    assert parse(text) == (value if value is None else pytest.approx(value))


def test_video_is_no_run() -> None:
    assert (
        work_out(interval(kind=Kind.REAL_TIME, frame_rate=25, shutter=Shutter(angle_deg=180))).run
        is None
    )


def test_the_planner_leaves_room_for_the_cycle() -> None:
    free = interval(
        light=Ev100(1.0), nd_density=0.0, held=frozenset({"frame_rate", "iris", "iso"}), iris=5.6,
        run={"noise_frames": True},
    )  # fmt: skip
    best = Search(free).best()
    assert best is not None
    # (6 - 0.5 - 0.2) / 2: with a noise frame no exposure over 2.65 s fits.
    assert best.setup.time_s <= 2.65
    assert run_of(best.setup).cycle.fits


def test_usual_intervals_have_a_subject_and_a_reason() -> None:
    # Common practice, no source.
    assert [usual_for(s) and usual_for(s)[0] for s in (1, 3, 6, 15, 3600, 86_400, 40)] == [  # type: ignore[index]
        "traffic, people", "sunrise, sunset", "tide, shadows, daytime", "stars", "a flower", "a building", None
    ]  # fmt: skip


def test_what_a_full_cycle_does_is_said() -> None:
    def what(spec: Setup) -> str:
        return next(f.what for f in plan(spec).findings if f.id == "run.cycle_too_long")

    # 5 s and 5 s dark of 6 s: every other start falls into the noise frame.
    assert (
        what(interval(shutter=Shutter(time_s=5), run={"noise_frames": True}))
        == "One start in 2 gives a frame"
    )
    # 25 MB at 3 MB/s are 8.3 s: the camera hears every start, the card does not keep up.
    slow = replace(CARD, write_mb_s=3)
    assert what(interval(devices=(slow, CELL))) == "The card falls behind"
    # 4 s and 2.5 s of writing: the buffer carries it.
    assert (
        what(interval(shutter=Shutter(time_s=4), devices=(replace(CARD, write_mb_s=10), CELL)))
        == "The cycle is too full"
    )


def test_the_light_to_come_decides_what_may_float() -> None:
    steady, falling = work_out(interval()), work_out(dusk())
    assert mode_advice(steady).choice == "Everything by hand"
    assert mode_advice(falling).choice != "Everything by hand"
    assert "9 stops" in mode_advice(falling).why
