"""Interval runs: fence posts, cycles, remotes' programs and power."""

from dataclasses import replace
from itertools import pairwise
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fotonomy.core.analysis.changes import carried_through
from fotonomy.core.analysis.interval import worked_out
from fotonomy.core.analysis.setup import analyse
from fotonomy.core.errors import RuleError
from fotonomy.core.gear.accessories import Battery, Card, Counting, Heater, Remote
from fotonomy.core.motion.shutter import Shutter
from fotonomy.core.photometry.exposure_value import Ev100
from fotonomy.core.plan import plan
from fotonomy.core.planner.plans import compare
from fotonomy.core.planner.search import Search
from fotonomy.core.spec.changes import Change
from fotonomy.core.spec.kind import Kind
from fotonomy.core.spec.stills import Follows, LightPoint, Run
from fotonomy.core.stills.energy import cold_share, power_of
from fotonomy.core.stills.interval import cycle, frames_for, frames_over, span_s, third, usual_for
from fotonomy.core.stills.intervalometer import intervalometer_for
from tests.core.run_examples import CAM, CARD, CELL, PLAIN, ids, interval, run_of


# Worked figures of the trade's calculation notes: N frames span (N-1) intervals.
def test_fence_posts_as_worked_out_by_hand() -> None:
    assert span_s(5, 300) == 20 * 60
    waiting = Remote(name="w", waits_first=True)
    intervalometer = intervalometer_for(
        waiting, frames=5, interval_s=300, exposure_s=1, delay_s=0, bulb=False
    )
    assert intervalometer.last_s == 25 * 60
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
        (Follows.EVENT, {"interval_s": 86_400.0, "screen_s": 60.0}, "event_s"),
        (Follows.CLIP, {"event_s": 3e7, "interval_s": 1.0}, "wanted_screen_s"),
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
    st.floats(0.001, 60),
    st.floats(0, 20),
    st.booleans(),
    st.floats(0.01, 20),
    st.floats(1, 200),
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
    start = intervalometer_for(Remote(name="a", sure_count=None), **wanted)
    end = intervalometer_for(Remote(name="b", counting=Counting.END_TO_START), **wanted)
    # 60 s from start to start with 45 s held are 15 s from end to next start.
    assert (start.interval_s, end.interval_s, end.exposure_s) == (60, 15, 45)
    assert start.step_s == end.step_s == 60
    assert start.last_s == end.last_s == 10 + 199 * 60
    # Where the camera times the exposure the remote taps, and both conventions agree.
    tapped = intervalometer_for(
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
    assert intervalometer_for(Remote(name="far", most_count=9999), **wanted).count == 500
    assert (
        intervalometer_for(Remote(name="unsure", most_count=9999, sure_count=99), **wanted).count
        is None
    )
    assert intervalometer_for(Remote(name="any", most_count=None), **wanted).count == 500
    stuck = intervalometer_for(Remote(name="stuck", most_count=99, unlimited=False), **wanted)
    assert (stuck.count, stuck.frames) == (99, 500)
    waits = intervalometer_for(Remote(name="waits", waits_first=True), **{**wanted, "delay_s": 2})
    assert (waits.delay_s, waits.first_s, waits.waits_s) == (0, 6, 4)
    # The nearest step, the upper one of two as near, and one that holds the exposure.
    for interval_s, exposure_s, made_s in ((6, 0.5, 5), (7.5, 0.5, 10), (8, 0.5, 10), (6, 5.5, 10)):
        asked = {**wanted, "interval_s": interval_s, "exposure_s": exposure_s}
        coarse = intervalometer_for(Remote(name="coarse", step_s=5), **asked)
        assert (coarse.interval_s, coarse.step_s) == (made_s, made_s)


@pytest.mark.parametrize(
    ("make", "field"),
    [(lambda: Remote(name="r", step_s=0), "step_s"), (lambda: Remote(name="r", most_count=0), "most_count"),
     (lambda: Remote(name="r", most_count=None, unlimited=False), "most_count"),
     (lambda: Card(name="c", size_gb=0), "size_gb"), (lambda: Card(name="c", size_gb=1, write_mb_s=-1), "write_mb_s"),
     (lambda: Battery(name="b", energy_wh=float("nan")), "energy_wh"), (lambda: Heater(name="h", power_w=0), "power_w"),
     (lambda: Run(event_s=4e7), "event_s"), (lambda: Run(frames=0), "frames"), (lambda: Run(moment_s=0), "moment_s"),
     (lambda: Run(light_curve=(LightPoint(60, 1), LightPoint(60, 2))), "light_curve"),
     (lambda: Run(light_curve=(LightPoint(0, 99),)), "ev100")],
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
    assert (power.needs_wh, power.pack_needs_wh) == pytest.approx((8 * 4 + 2 * 10, 50))
    # A tenth of what is printed stays as a reserve.
    assert power.has_wh == pytest.approx(140 * 0.9 - 50)
    assert power_of(replace(CAM, power_w=None), devices, 20, 10, 1) is None
    # Common practice, no source: a hundredth less a degree under 20 °C, 40 % at the least.
    assert [cold_share(t) for t in (25, 20, 0, -10, -60)] == pytest.approx([1, 1, 0.8, 0.7, 0.4])


def test_bulb_beyond_the_bodys_times_is_the_remotes_to_hold() -> None:
    spec = interval(shutter=Shutter(time_s=45), frame_rate=1 / 60, light=Ev100(-1.8))
    run = run_of(spec)
    assert (run.intervalometer.bulb, run.intervalometer.exposure_s) == (True, 45)
    assert "shutter.gear_lacks" not in ids(plan(spec))


def test_video_is_no_run() -> None:
    assert (
        analyse(interval(kind=Kind.REAL_TIME, frame_rate=25, shutter=Shutter(angle_deg=180))).run
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


def test_an_interval_that_follows_is_taken_before_event_and_clip_are_both_typed() -> None:
    # Five seconds are 125 frames; a minute holds 61 at the shortest interval there is.
    spec = interval(wanted_screen_s=5.0, run={"event_s": 60.0})
    chosen = carried_through(spec, (Change("follows", Follows.INTERVAL),))
    assert chosen.frame_rate == 1
    found = {f.id: f for f in plan(chosen).findings}["run.past_event"]
    assert found.number == pytest.approx(124 - 60)
    # One after the other, both are typed: 8 h in ten seconds are 249 intervals of 115.7 s.
    event = carried_through(chosen, (Change("event_s", 28_800.0),))
    assert "run.past_event" not in ids(plan(event))
    both = carried_through(event, (Change("wanted_screen_s", 10.0),))
    assert 1 / both.frame_rate == pytest.approx(28_800 / 249)
    for fix in found.fixes:
        assert "run.past_event" not in ids(plan(carried_through(chosen, fix.changes)))


def test_a_plan_says_what_another_interval_does_to_run_and_batteries() -> None:
    here = analyse(interval(frame_rate=1 / 15, devices=(CARD, PLAIN, replace(CELL, energy_wh=5))))
    there = analyse(replace(here.setup, frame_rate=1 / 30))
    _, losses = compare(here, there)
    said = " · ".join(losses)
    # 499 intervals of 15 and 30 s; ten watts for a moment and four waiting.
    assert "the run lasts 4 h 9 min, was 2 h 4 min" in said
    assert "the batteries fall" in said
    gains, _ = compare(there, here)
    assert any("batteries" in gain for gain in gains)


@pytest.mark.parametrize("follows", list(Follows))
@pytest.mark.parametrize("handle_s", [0.0, 2.0, 10.0])
def test_handles_go_on_past_the_event_and_nothing_is_said_of_it(
    follows: Follows, handle_s: float
) -> None:
    """Each of the three worked out from the other two belongs to them, handles or none."""
    spec = interval(wanted_screen_s=20.0, handle_s=handle_s, run={"event_s": 2 * 3600.0})
    chosen = carried_through(spec, (Change("follows", follows), Change("handle_s", handle_s)))
    found = ids(plan(chosen))
    assert "run.past_event" not in found
    assert "run.short_of_event" not in found
