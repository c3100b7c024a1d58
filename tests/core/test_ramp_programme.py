"""A ramp as one record, and what the camera that floats does to its interval."""

from dataclasses import replace
from datetime import UTC, datetime

import pytest

from fotonomy.core.analysis.interval import IntervalRun
from fotonomy.core.analysis.ramp_programme import ramp_in_one_line, ramp_lines
from fotonomy.core.analysis.setup import analyse
from fotonomy.core.motion.shutter import Shutter
from fotonomy.core.notation.writing import format_time
from fotonomy.core.photometry.exposure_value import Ev100
from fotonomy.core.plan import plan
from fotonomy.core.spec.setup import Setup
from fotonomy.core.spec.stills import LightPoint, Ramp
from tests.core.run_examples import interval, run_of

# An hour that loses eight stops, evenly; 600 frames of 6 s and no handles.
EVENING = (LightPoint(0.0, 8.69), LightPoint(3600.0, 0.69))


def evening(**run: object) -> Setup:
    return interval(
        light=Ev100(8.69), iso=100, nd_density=0.9, shutter=Shutter(time_s=0.5), iris=5.6,
        wanted_screen_s=24.0, starts=datetime(2027, 6, 5, 17, 0, tzinfo=UTC),
        run={"light_curve": EVENING, "ramp": Ramp.PLANNED, **run},
    )  # fmt: skip


def test_a_ramp_says_when_and_what() -> None:
    spec = evening()
    run = run_of(spec)
    lines = ramp_lines(spec, run)
    assert lines[0].frame == 1
    assert lines[0].after_s == 0
    assert lines[0].press_s == run.intervalometer.first_s
    # Every change of the plan stands in it, in its order, at its clock.
    steps = [step for step in run.ramp.steps if step.frame]
    assert len(lines) == len(steps) + 1
    for line, step in zip(lines[1:], steps, strict=True):
        assert (line.frame, line.after_s, line.settings) == (
            step.frame + 1, step.at_s, step.rung.words,
        )  # fmt: skip
        # Only what changes is said: in this look the shutter comes first, then the ISO.
        assert (f"shutter {format_time(step.rung.time_s)}" == line.words) is not (
            f"ISO {step.rung.iso}" == line.words
        )
        assert line.press_s == pytest.approx(run.intervalometer.first_s + step.at_s)
        assert spec.starts is not None
        assert line.at is not None
        assert (line.at - spec.starts).total_seconds() == pytest.approx(line.press_s, abs=1e-3)
        assert line.after_s == pytest.approx((line.frame - 1) * 6.0)
    said = ramp_in_one_line(spec, run)
    first, last = run.ramp.rungs[run.ramp.first], run.ramp.rungs[run.ramp.last]
    assert said.startswith(
        f"shutter {format_time(first.time_s)} to {format_time(last.time_s)} and ISO {first.iso} to "
        f"{last.iso} in {len(steps)} changes"
    )
    assert f"{lines[1].at:%H:%M} to {lines[-1].at:%H:%M}" in said


def test_the_filter_that_comes_off_is_in_the_line_with_its_hour() -> None:
    # So dark that the shutter and ISO 12800 are not enough.
    spec = evening(
        ramp_lift=True, light_curve=(LightPoint(0.0, 8.69), LightPoint(3600.0, -4.0))
    )  # fmt: skip
    run = run_of(spec)
    (lift,) = [step for step in run.ramp.steps if step.lifts_nd and step.frame]
    clock = next(line.at for line in ramp_lines(spec, run) if line.frame == lift.frame + 1)
    assert f"take the ND off at {clock:%H:%M}" in ramp_in_one_line(spec, run)
    unplanned = replace(spec, starts=None)
    said = ramp_in_one_line(unplanned, run_of(unplanned))
    assert said.endswith("take the ND off")


@pytest.mark.parametrize("method", [Ramp.FIXED, Ramp.FLOATING])
def test_what_nobody_moves_has_no_lines(method: Ramp) -> None:
    spec = evening(ramp=method)
    assert ramp_lines(spec, run_of(spec)) == ()
    said = ramp_in_one_line(spec, run_of(spec))
    assert said == ("" if method is Ramp.FIXED else "the camera floats the shutter, 0.6 s to 30 s")
    steady = evening(light_curve=())
    assert ramp_in_one_line(steady, run_of(steady)) == ""


def test_noise_is_that_of_the_worst_frame() -> None:
    spec = evening()
    made = analyse(spec)
    run = made.run
    assert isinstance(run, IntervalRun)
    highest = max(rung.iso for rung in run.ramp.rungs[: run.ramp.last + 1])
    assert highest > spec.iso
    assert made.noise.iso == highest
    there = analyse(replace(spec, iso=highest, run=replace(spec.run, light_curve=()))).noise
    # The same sensor at that ISO; the miss of that frame is what the edit lifts.
    assert made.noise.model == there.model
    assert made.noise.looks_like_iso > analyse(replace(spec, run=replace(
        spec.run, light_curve=()))).noise.looks_like_iso  # fmt: skip


def floats(interval_s: float, **changes: object) -> Setup:
    spec = evening(ramp=Ramp.FLOATING)
    return replace(spec, frame_rate=1 / interval_s, **changes)


def test_a_camera_that_floats_past_its_interval_loses_frames() -> None:
    # Eight stops from half a second are 128 s: this body stops at 30 s, far past six.
    spec = floats(6.0)
    (finding,) = [one for one in plan(spec).findings if one.id == "run.floats_too_long"]
    assert finding.severity.value == "stop"
    assert finding.number == 30
    run = run_of(spec)
    room = 6.0 - run.write_s - 0.2
    first = next(step for step in run.ramp.steps if step.rung.time_s > room)
    assert f"frame {first.frame + 1}" in finding.why
    assert spec.starts is not None
    assert any(char.isdigit() for char in finding.why.split("frame")[1])
    assert {change.setting for fix in finding.fixes for change in fix.changes} == {
        "ramp", "frame_rate",
    }  # fmt: skip
    longer = next(f.changes[0].value for f in finding.fixes if f.changes[0].setting == "frame_rate")
    # What the fix sets does away with it.
    mended = replace(spec, frame_rate=longer)
    assert "run.floats_too_long" not in {one.id for one in plan(mended).findings}
    by_plan = replace(spec, run=replace(spec.run, ramp=Ramp.PLANNED))
    assert "run.floats_too_long" not in {one.id for one in plan(by_plan).findings}


def test_the_room_for_a_floating_exposure_to_a_tenth_of_a_second() -> None:
    # 25 MB at 50 MB/s is half a second, and 0.2 s to spare: 24.7 s hold 24 s and no 25 s. The
    # evening ends 5.4 stops down, and the bench is 0.3 under: 0.5 s become 25 s.
    short = (LightPoint(0.0, 8.69), LightPoint(3300.0, 8.69 - 5.4))
    for every_s, found in ((24.0, True), (25.6, True), (25.8, False)):
        spec = floats(every_s)
        spec = replace(spec, run=replace(spec.run, light_curve=short), wanted_screen_s=5.6)
        ids = {one.id for one in plan(spec).findings}
        assert ("run.floats_too_long" in ids) is found, every_s


def test_level_is_that_of_the_frame_that_is_farthest_off() -> None:
    # Nothing follows: eight stops less light at the end, down to the last frame but one interval.
    held = analyse(evening(ramp=Ramp.FIXED))
    lost = 8 * (599 * 6.0 / 3600.0)
    assert held.level.error_stops == pytest.approx(held.budget.error_stops - lost, abs=0.02)
    assert held.level.grey.placed_stops == pytest.approx(
        held.budget.exposure_stops - lost, abs=0.02
    )  # fmt: skip
    # Where the light comes up instead, it is the brightest frame, and it clips.
    dawn = analyse(evening(
        ramp=Ramp.FIXED, light_curve=(LightPoint(0.0, 8.69), LightPoint(3600.0, 16.69)),
    ))  # fmt: skip
    assert dawn.level.error_stops == pytest.approx(dawn.budget.error_stops + lost, abs=0.02)
    assert dawn.level.grey.clipped_stops > 0
    # What follows its light in small steps is off by no more than one of them.
    planned = analyse(evening())
    run = planned.run
    assert isinstance(run, IntervalRun)
    assert abs(planned.level.error_stops) == max(abs(run.ramp.miss_stops))
    assert abs(planned.level.error_stops) < 0.5
    # Without a light to come it is the setup's own.
    plain = analyse(replace(evening(), run=replace(evening().run, light_curve=())))
    assert plain.level.error_stops == plain.budget.error_stops
