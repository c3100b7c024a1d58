"""The dry run against the closed formulas, and every fault in its result."""

from dataclasses import replace
from itertools import pairwise
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from fotonomy.core.analysis.interval import IntervalRun
from fotonomy.core.analysis.setup import analyse
from fotonomy.core.dry_run.lessons import Lesson, lessons
from fotonomy.core.dry_run.log import Ended, Jump, Lost, Verdict, judge
from fotonomy.core.dry_run.trigger_schedule import TriggerSchedule
from fotonomy.core.errors import RuleError
from fotonomy.core.gear.accessories import Battery, Card, Counting, Remote
from fotonomy.core.kinds import rules_of
from fotonomy.core.motion.shutter import Shutter
from fotonomy.core.spec.setup import Setup
from fotonomy.core.spec.stills import Combining, LightPoint, Ramp
from fotonomy.core.stills.burst import Buffer, Burst
from fotonomy.simulators.dry_run import DryRun, Fault, carry_out
from fotonomy.simulators.still_camera import BatteryStandIn, CardStandIn, StillCamera
from tests.core.run_examples import CARD, CELL, PLAIN, burst, interval, long_exposure
from tests.properties import examples


def run_of(spec: Setup) -> IntervalRun:
    run = analyse(spec).run
    assert isinstance(run, IntervalRun)
    return run


def plan_of(spec: Setup) -> TriggerSchedule:
    rules = rules_of(spec).dry_run
    assert rules is not None
    return rules.schedule(analyse(spec))


def carried_out(spec: Setup, *faults: Fault, seed: int = 1) -> tuple[DryRun, Verdict]:
    schedule = plan_of(spec)
    dry = carry_out(spec, schedule, frozenset(faults), seed)
    assert dry.log is not None
    return dry, judge(
        dry.log, planned=schedule.frames, interval_s=schedule.step_s, project_fps=spec.project_fps,
        one_run=schedule.one_run,
    )  # fmt: skip


def taught_by(spec: Setup, dry: DryRun, verdict: Verdict) -> tuple[Lesson, ...]:
    rules = rules_of(spec).dry_run
    assert rules is not None
    return lessons(analyse(spec), rules.ways_out, dry.schedule, verdict, dry.camera.write_s)


remotes = st.builds(
    Remote, name=st.just("r"), counting=st.sampled_from(list(Counting)), waits_first=st.booleans(),
    most_count=st.sampled_from([None, 10_000]), step_s=st.sampled_from([0.5, 1.0]),
)  # fmt: skip


@examples(40)
@given(
    remotes,
    st.integers(2, 400),
    st.integers(2, 60),
    st.floats(0.01, 1.5),
    st.booleans(),
    st.floats(0, 30),
)
def test_without_faults_it_agrees_with_the_closed_formulas(
    remote: Remote, frames: int, interval_s: int, exposure: float, dark: bool, delay: float
) -> None:
    spec = interval(
        devices=(remote, replace(CARD, size_gb=400, write_mb_s=100), replace(CELL, energy_wh=5000)),
        frame_rate=1 / interval_s, shutter=Shutter(time_s=exposure), wanted_screen_s=frames / 25,
        run={"noise_frames": dark, "start_after_s": delay},
    )  # fmt: skip
    run = run_of(spec)
    if not run.cycle.keeps_up:
        return
    dry, verdict = carried_out(spec)
    assert dry.log is not None
    assert verdict.clean
    assert (verdict.frames, verdict.fired) == (run.frames, run.frames)
    starts = dry.log.start_s
    assert starts[0] == pytest.approx(run.intervalometer.first_s)
    # The span: N frames, N-1 intervals.
    assert starts[-1] - starts[0] == pytest.approx((run.frames - 1) * run.intervalometer.step_s)
    assert dry.log.card_mb[-1] == pytest.approx(1000 * run.size_gb)
    # The energy: waiting all the time, at work for every frame's exposure, dark frame and writing.
    lasts = run.intervalometer.last_s + run.cycle.deaf_s + run.write_s
    busy = run.frames * (run.cycle.deaf_s + run.write_s)
    by_hand = (4.0 * lasts + (10.0 - 4.0) * min(busy, lasts)) / 3600
    if run.cycle.deaf_s + run.write_s <= run.intervalometer.step_s:
        assert dry.camera.battery.drawn_wh == pytest.approx(by_hand)
        assert run.power is not None
        assert run.power.needs_wh == pytest.approx(by_hand, rel=1e-6)


@examples(40)
@given(st.integers(2, 60), st.floats(2, 30), st.floats(0.5, 20))
def test_the_cameras_buffer_agrees_with_the_formula(limit: int, rate: float, write: float) -> None:
    """Full after B*r/(r-w) frames, one frame more or less for the ends."""
    if rate <= write * 1.05:
        return
    camera = StillCamera(
        card=CardStandIn(1e9, write),
        battery=BatteryStandIn(None, 0, 0),
        file_mb=1.0,
        buffer_frames=limit,
    )
    taken = 0
    while camera.fire(taken / rate, 1e-4) is not Lost.BUFFER:
        taken += 1
    assert taken == pytest.approx(
        Buffer(limit, rate, write).full_after, abs=1.5 + rate / (rate - write)
    )


def test_a_deaf_camera_misses_every_other_start() -> None:
    dry, verdict = carried_out(interval(shutter=Shutter(time_s=4), run={"noise_frames": True}))
    assert dict(verdict.lost) == {Lost.NOISE_FRAME: 250}
    # Every gap is twelve seconds: one change of pace, and not 249 jumps.
    assert (verdict.frames, verdict.jump_count) == (250, 1)
    assert verdict.jumps[0] == Jump(screen_s=0.04, at_s=5.0, skips_s=6.0, times=249)
    assert verdict.clip_s == 10
    # Held in total, the first frame's start is the first trigger.
    assert dry.log is not None
    taken = dry.log.start_s[dry.log.taken]
    assert all(b - a == pytest.approx(12) for a, b in pairwise(taken))


def test_a_slow_card_fills_the_buffer() -> None:
    spec = interval(frame_rate=1 / 2, devices=(PLAIN, replace(CARD, write_mb_s=40), CELL))
    clean = carried_out(spec)[1]
    assert clean.clean
    dry, verdict = carried_out(spec, Fault.SLOW_CARD)
    assert Lost.BUFFER in dict(verdict.lost)
    assert "MB/s" in dry.happened[0].words
    first_lost = int(np.flatnonzero(dry.log.lost >= 0)[0])  # type: ignore[union-attr]
    real = dry.camera.card.write_mb_s / 25
    # 50 frames in the buffer, filled at one in two seconds and emptied at the card's real speed.
    assert first_lost == pytest.approx(Buffer(50, 0.5, real).full_after, abs=3)
    (lesson,) = taught_by(spec, dry, verdict)
    every = lesson.fixes[-1].changes[0]
    slower = interval(frame_rate=every.value, devices=spec.devices)
    assert carried_out(slower, Fault.SLOW_CARD)[1].clean


def test_each_fault_shows() -> None:
    spec = interval(
        wanted_screen_s=40.0,
        devices=(PLAIN, replace(CARD, size_gb=30), Battery(name="s", energy_wh=12)),
    )
    assert carried_out(spec)[1].clean
    assert carried_out(spec, Fault.FULL_CARD)[1].ended is Ended.CARD
    dry, cold = carried_out(spec, Fault.COLD)
    assert cold.ended is Ended.BATTERY
    assert dry.log is not None
    assert dry.log.energy_wh[-1] <= dry.camera.battery.energy_wh  # type: ignore[operator]
    single = carried_out(spec, Fault.SINGLE)[1]
    assert (single.frames, dict(single.lost)) == (1, {Lost.SINGLE: 999})
    bumped = carried_out(spec, Fault.BUMP, seed=3)[1]
    assert bumped.jump_count or bumped.frames != 1000
    counted, verdict = carried_out(spec, Fault.COUNTER)
    assert verdict.ended is Ended.COUNT
    # Above a hundred one count in 25 is lost: 900 starts come to about 865.
    assert 10 < verdict.short_frames < 80
    assert counted.happened[0].fault is Fault.COUNTER


def test_an_unlimited_remote_does_not_mind_its_counter() -> None:
    sure = replace(PLAIN, sure_count=99)
    dry, verdict = carried_out(interval(devices=(sure, CARD, CELL)), Fault.COUNTER)
    assert verdict.clean
    assert verdict.ended is Ended.CLOCK
    assert "no harm" in dry.happened[0].words


def test_a_remote_that_waits_or_counts_no_further() -> None:
    stuck = replace(PLAIN, most_count=99, unlimited=False, waits_first=True)
    dry, verdict = carried_out(interval(devices=(stuck, CARD, CELL)))
    assert (verdict.frames, verdict.short_frames, verdict.ended) == (99, 401, Ended.COUNT)
    assert dry.log is not None
    assert dry.log.start_s[0] == 6
    taught = taught_by(interval(devices=(stuck, CARD, CELL)), dry, verdict)
    assert taught[0].what == "The remote stopped early"


def test_every_lesson_has_a_reason_with_a_number_and_a_way_out() -> None:
    other = (Card(name="big", size_gb=512, write_mb_s=200), Battery(name="pack", energy_wh=100))
    for fault in Fault:
        spec = interval(
            frame_rate=1 / 2, wanted_screen_s=40.0, packed_devices=other,
            devices=(PLAIN, Card(name="c", size_gb=30, write_mb_s=40), Battery(name="s", energy_wh=2.4)),
        )  # fmt: skip
        dry, verdict = carried_out(spec, fault)
        taught = taught_by(spec, dry, verdict)
        if verdict.clean:
            continue
        assert taught, fault
        for lesson in taught:
            assert lesson.fixes or lesson.by_hand
            assert any(character.isdigit() for character in lesson.why)


def test_the_same_seed_is_the_same_run_and_another_another() -> None:
    spec = interval(wanted_screen_s=40.0)
    runs = [carried_out(spec, Fault.COUNTER, Fault.BUMP, seed=seed)[0].log for seed in (4, 4, 5)]
    assert all(runs)
    first, again, other = (log.trigger_s for log in runs if log is not None)
    assert np.array_equal(first, again)
    assert not np.array_equal(first, other)


def test_a_ramp_is_carried_out_frame_by_frame() -> None:
    run = {"ramp": Ramp.PLANNED, "light_curve": (LightPoint(0, 6.69), LightPoint(2994, 2.0))}
    spec = interval(run=run)
    dry, verdict = carried_out(spec)
    assert verdict.clean
    assert dry.log is not None
    planned = run_of(spec).ramp
    changes = np.flatnonzero(np.diff(dry.log.rung)) + 1
    assert [int(k) for k in changes] == [step.frame for step in planned.steps]


def test_stopped_by_hand_it_keeps_what_was_done() -> None:
    spec = interval(
        wanted_screen_s=400.0,
        devices=(PLAIN, replace(CARD, size_gb=2000), replace(CELL, energy_wh=900)),
    )
    schedule = plan_of(spec)
    dry = DryRun(spec, schedule)
    going = dry.go()
    shares = [next(going), next(going)]
    going.close()
    assert shares == [pytest.approx(0.1), pytest.approx(0.2)]
    assert dry.log is not None
    assert (dry.log.ended, dry.log.frames) == (Ended.STOPPED, 2000)
    again = carry_out(spec, schedule, most=2000)
    assert again.log is not None
    assert again.log.frames == 2000


def test_more_frames_than_are_rehearsed_are_refused_in_words() -> None:
    spec = interval(frame_rate=1, shutter=Shutter(time_s=0.1), wanted_screen_s=9000.0)
    with pytest.raises(RuleError) as error:
        DryRun(spec, plan_of(spec))
    assert error.value.field == "event_s"
    assert "225000 frames" in error.value.rule


def test_no_run_at_all_is_judged_too() -> None:
    empty: Any = carried_out(interval(devices=(PLAIN, replace(CARD, size_gb=0.01), CELL)))[1]
    assert (empty.frames, empty.ended, empty.longest_gap_s) == (0, Ended.CARD, 0)


@examples(30)
@given(
    st.sampled_from([5, 12, 60]),
    st.floats(0.2, 12),
    st.floats(5, 300),
    st.integers(1, 40),
)
def test_an_hour_of_bursts_agrees_with_the_buffers_formula(
    rate: float, lasts: float, speed: float, bursts: int
) -> None:
    spec = burst(
        frame_rate=rate, devices=(Card(name="c", size_gb=20_000, write_mb_s=speed),),
        run={"burst_s": lasts, "bursts_an_hour": float(bursts)},
    )  # fmt: skip
    found = analyse(spec).run
    assert isinstance(found, Burst)
    buffer = found.present.buffer
    assert buffer is not None
    if buffer.clears_s(lasts) > 3600 / bursts - lasts:
        return
    dry, verdict = carried_out(spec)
    assert verdict.ended is Ended.PRESSES
    assert verdict.jump_count == 0
    # A frame or two a burst for the ends, and one for the rounding of the card's own steps.
    each = verdict.frames / bursts
    assert each == pytest.approx(min(buffer.taken(lasts), dry.schedule.frames / bursts), abs=2.6)


def test_a_slow_card_costs_frames_of_a_burst_and_says_what_would_do() -> None:
    quick = Card(name="quick", size_gb=512, write_mb_s=300)
    spec = burst(run={"burst_s": 4.0, "bursts_an_hour": 10.0}, packed_devices=(quick,))
    assert carried_out(spec)[1].clean
    # At 60 a second the buffer of 50 is full within a second.
    fast = replace(spec, frame_rate=60)
    dry, verdict = carried_out(fast, Fault.SLOW_CARD, Fault.BUMP, Fault.COUNTER)
    assert [one.fault for one in dry.happened] == [Fault.SLOW_CARD]
    assert dict(verdict.lost)[Lost.BUFFER] > 1000
    (lesson,) = taught_by(fast, dry, verdict)
    fixes = {change.setting: change.value for fix in lesson.fixes for change in fix.changes}
    assert fixes["devices"][-1] == "quick"
    assert fixes["frame_rate"] == 12
    assert fixes["files"] == "jpeg"
    held = fixes["burst_s"]
    shorter = replace(fast, run=replace(fast.run, burst_s=held))
    assert carried_out(shorter, Fault.SLOW_CARD)[1].clean


def test_a_long_exposure_is_carried_out_frame_by_frame() -> None:
    spec = long_exposure(
        run={"combining": Combining.LATER, "frames": 3, "noise_frames": True}, devices=(CARD, CELL)
    )
    dry, verdict = carried_out(spec)
    assert verdict.clean
    assert dry.log is not None
    # 15 s, 15 s dark and half a second of writing.
    assert list(dry.log.start_s) == pytest.approx([0, 30.5, 61])
    assert carried_out(spec, Fault.SINGLE)[1].frames == 1
    one = carried_out(long_exposure(), Fault.SINGLE)[1]
    assert one.clean


def test_a_shorter_clip_is_as_short_as_the_battery_lasted() -> None:
    weak = interval(devices=(PLAIN, CARD, Battery(name="s", energy_wh=2)))
    dry, verdict = carried_out(weak)
    (lesson,) = taught_by(weak, dry, verdict)
    shorter = lesson.fixes[-1].changes[0].value
    assert shorter <= verdict.clip_s
    assert carried_out(replace(weak, wanted_screen_s=shorter))[1].clean


def test_a_card_that_falls_behind_is_replaced_by_the_fastest_only() -> None:
    # 25 MB raw files every half second onto 20 MB/s: the buffer fills. 50 MB/s would just do.
    slow = replace(CARD, write_mb_s=20.0)
    others = tuple(
        Card(name=f"V{speed:.0f}", size_gb=128, write_mb_s=speed) for speed in (10.0, 60.0, 90.0)
    )
    spec = interval(devices=(PLAIN, slow, CELL), frame_rate=2.0, shutter=Shutter(time_s=0.1),
                    packed_devices=others)  # fmt: skip
    dry, verdict = carried_out(spec)
    assert dict(verdict.lost).keys() == {Lost.BUFFER}

    def cards(given: Setup) -> list[str]:
        (lesson,) = taught_by(given, dry, verdict)
        return [name for fix in lesson.fixes for name in ("V10", "V60", "V90") if name in fix.label]

    assert cards(spec) == ["V90"]
    # A slower one is no way out, and with nothing packed none is named.
    assert cards(replace(spec, packed_devices=others[:1])) == []
