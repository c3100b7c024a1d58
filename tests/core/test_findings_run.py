"""Findings of interval runs: each has a reason, a number and a fix that does what it says."""

from dataclasses import replace
from datetime import datetime
from zoneinfo import ZoneInfo

import pytest

from fotonomy.core.findings.finding import Severity
from fotonomy.core.gear.accessories import Battery, Remote
from fotonomy.core.motion.shutter import Shutter
from fotonomy.core.plan import plan
from fotonomy.core.spec.changes import applied
from fotonomy.core.spec.setup import Setup
from fotonomy.core.spec.stills import Files, Follows, Run
from tests.core.examples import has_reason_number_and_fix
from tests.core.run_examples import CARD, CELL, ids, interval, run_of


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
    assert [(fix.changes[0].setting, fix.changes[0].value) for fix in finding.fixes] == [
        ("planned_time", "16:59"), ("wanted_screen_s", 12),
    ]  # fmt: skip
    for change in ({"starts": starts.replace(hour=16, minute=59)}, {"wanted_screen_s": 12.0}):
        assert run_of(replace(spec, **change)).clock_shift_s == 0  # type: ignore[arg-type]
    # On the day itself it may as well start after.
    late = replace(spec, starts=starts.replace(day=4, hour=1))
    after = next(f for f in plan(late).findings if f.id == "run.clock_changes").fixes[0]
    assert after.changes[0].value == "02:00"
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
    has_reason_number_and_fix(finding, number)


def test_fixes_of_a_run_do_what_they_say() -> None:
    full = interval(shutter=Shutter(time_s=5), run={"noise_frames": True})
    ways = {
        fix.label: fix
        for fix in next(f for f in plan(full).findings if f.id == "run.cycle_too_long").fixes
    }
    assert set(ways) >= {"noise reduction off", "every 11 s"}
    assert "run.cycle_too_long" not in ids(plan(replace(full, frame_rate=1 / 11)))
    assert "run.cycle_too_long" not in ids(plan(replace(full, run=Run(noise_frames=False))))
    short = interval(devices=(CARD, Battery(name="s", energy_wh=2)), packed_devices=(CELL,))
    (finding,) = [f for f in plan(short).findings if f.id == "run.power_short"]
    assert finding.fixes[0].changes[0].value[-1] == "Cell"
    more = replace(short, devices=(*short.devices, CELL))
    assert "run.power_short" not in ids(plan(more))
    jpeg = interval(devices=(replace(CARD, size_gb=8), CELL), run={"files": Files.JPEG})
    assert "run.card_full" not in ids(plan(jpeg))
    assert plan(interval()).findings == ()


def test_what_a_full_cycle_does_is_said() -> None:
    def what(spec: Setup) -> str:
        return next(f.what for f in plan(spec).findings if f.id == "run.cycle_too_long")

    # 5 s and 5 s dark of 6 s: every other start falls into the noise frame.
    assert (
        what(interval(shutter=Shutter(time_s=5), run={"noise_frames": True}))
        == "Only one start in 2 takes a picture"
    )
    # 25 MB at 3 MB/s are 8.3 s: the camera hears every start, the card does not keep up.
    slow = replace(CARD, write_mb_s=3)
    assert what(interval(devices=(slow, CELL))) == "The card cannot keep up"
    # 4 s and 2.5 s of writing: the buffer carries it.
    assert (
        what(interval(shutter=Shutter(time_s=4), devices=(replace(CARD, write_mb_s=10), CELL)))
        == "The interval is too short for the cycle"
    )


def test_a_battery_that_will_not_do_says_how_far_it_gets() -> None:
    small, less = Battery(name="small", energy_wh=1), Battery(name="less", energy_wh=0.5)
    spec = interval(devices=(CARD, Battery(name="s", energy_wh=2)), packed_devices=(less, small))
    (finding,) = [f for f in plan(spec).findings if f.id == "run.power_short"]
    # 4.17 Wh are needed; three printed give 3 * 0.95 * 0.9 = 2.565, 62 %.
    assert finding.fixes[0].label == "take small: 62 % of the run"
    # 1.71 of 4.17 Wh cover 41 % of 20 s on screen.
    assert finding.fixes[1].changes[0].value == 8.2


@pytest.mark.parametrize(
    ("interval_s", "made_s", "first", "second"),
    [
        # 500 frames span 499 steps: 499 * 9 s = 74 min 51 s, 499 * 10 s = 83 min 10 s.
        (9.03, 9, "every 9 s: 500 frames take 1 h 14 min", "every 10 s: 500 frames take 1 h 23 min"),
        (9.8, 10, "every 10 s: 500 frames take 1 h 23 min", "every 9 s: 500 frames take 1 h 14 min"),
    ],
)  # fmt: skip
def test_a_remote_goes_to_the_nearest_step_and_both_are_offered(
    interval_s: float, made_s: float, first: str, second: str
) -> None:
    planned = plan(interval(frame_rate=1 / interval_s))
    (one,) = [f for f in planned.findings if f.id == "run.interval_rounded"]
    assert one.number == pytest.approx(made_s - interval_s)
    assert [fix.label for fix in one.fixes] == [first, second]


def test_a_remotes_step_that_has_no_room_for_the_exposure_is_not_offered() -> None:
    spec = interval(frame_rate=1 / 9.3, shutter=Shutter(time_s=9.1))
    (one,) = [f for f in plan(spec).findings if f.id == "run.interval_rounded"]
    assert one.number == pytest.approx(0.7)
    assert [fix.label.split(":")[0] for fix in one.fixes] == ["every 10 s"]


def test_the_run_that_always_fits_keeps_an_exposure_given_in_degrees() -> None:
    # 361 degrees of 2.4 s are 2.4 s and no step of the remote has room beside it but one that
    # makes the exposure grow with the interval again.
    spec = interval(frame_rate=1 / 1.4, shutter=Shutter(angle_deg=361.0))
    (one,) = [f for f in plan(spec).findings if f.id == "run.interval_rounded"]
    for fix in one.fixes:
        mended = applied(spec, fix.changes)
        assert "run.interval_rounded" not in ids(plan(mended)), fix


def test_a_longer_interval_keeps_an_exposure_given_in_degrees() -> None:
    # All of one second: at two seconds 360 degrees would be two, and nothing gained.
    full = interval(frame_rate=1.0, shutter=Shutter(angle_deg=360.0))
    found = next(f for f in plan(full).findings if f.id == "run.cycle_too_long")
    way = next(fix for fix in found.fixes if fix.label.startswith("every "))
    mended = applied(full, way.changes)
    assert mended.time_s == pytest.approx(1.0)
    assert "run.cycle_too_long" not in ids(plan(mended))
