"""Ways out of what a rehearsal showed: each loss with its number and what would do."""

from collections.abc import Callable
from dataclasses import dataclass
from math import ceil, floor

from fotonomy.core import constants as c
from fotonomy.core.analysis.interval import IntervalRun
from fotonomy.core.analysis.setup import Analysis, run_of
from fotonomy.core.dry_run.log import Ended, Lost, Verdict
from fotonomy.core.dry_run.trigger_schedule import TriggerSchedule
from fotonomy.core.findings.finding import Fix
from fotonomy.core.findings.interval import as_jpeg, every, take_along
from fotonomy.core.findings.power import power_fixes
from fotonomy.core.gear.accessories import Battery, Card, Remote
from fotonomy.core.notation import writing as n
from fotonomy.core.spec.changes import Change
from fotonomy.core.spec.setup import Setup
from fotonomy.core.spec.stills import Combining, Files
from fotonomy.core.stills.burst import Buffer, Burst


@dataclass(frozen=True, slots=True)
class Lesson:
    """What a rehearsal teaches: what went wrong, why with the number, and ways out.

    ``by_hand`` is what no setting of the plan can do.
    """

    what: str
    why: str
    fixes: tuple[Fix, ...]
    by_hand: str = ""


@dataclass(frozen=True, slots=True)
class WaysOut:
    """What a kind of run can do about its losses.

    ``deaf`` about a camera that did not hear, ``card`` about one that waits for its card (given
    the schedule and the seconds a frame takes to write), ``battery`` about an empty one (given
    the share of the run it lasted), in words and fixes.
    """

    deaf: Callable[[Analysis], tuple[Fix, ...]]
    card: Callable[[Analysis, TriggerSchedule, float], tuple[Fix, ...]]
    battery: Callable[[Analysis, float], tuple[str, tuple[Fix, ...]]]


def lessons(
    analysis: Analysis, ways: WaysOut, schedule: TriggerSchedule, verdict: Verdict, write_s: float
) -> tuple[Lesson, ...]:
    """Every lesson of a rehearsal; ``write_s`` is what a frame really took to write."""
    setup = analysis.setup
    found = [_of_loss(analysis, ways, schedule, verdict, *lost, write_s) for lost in verdict.lost]
    told = {reason for reason, _ in verdict.lost}
    if verdict.ended is Ended.COUNT and verdict.short_frames and not told:
        found.append(_count_short(setup, schedule, verdict))
    if verdict.jump_count and not told:
        longest = n.format_duration(verdict.longest_gap_s)
        times = sum(jump.times for jump in verdict.jumps)
        found.append(Lesson(
            "The interval was not kept",
            f"{longest} instead of {n.format_number(schedule.step_s, 2)} s lie between two frames, "
            f"{times} time{'' if times == 1 else 's'}", (),
            "tape the dial, lock the remote's keys, put it out of reach",
        ))  # fmt: skip
    return tuple(found)


def _of_loss(
    analysis: Analysis, ways: WaysOut, schedule: TriggerSchedule, verdict: Verdict, lost: Lost,
    count: int, write_s: float,
) -> Lesson:  # fmt: skip
    setup = analysis.setup
    times = f"{count} time{'' if count == 1 else 's'}"
    step = n.format_number(schedule.step_s, 2 if schedule.step_s >= 0.1 else 3)
    match lost:
        case Lost.BUFFER:
            return Lesson(
                "The card did not keep up",
                f"A frame took {n.format_number(write_s, 2)} s to write and every {step} s one "
                f"was asked for: {times} the buffer of {schedule.buffer_frames} was full",
                _for_the_card(analysis, ways, schedule, write_s),
            )  # fmt: skip
        case Lost.EXPOSING | Lost.NOISE_FRAME:
            off = Fix("noise reduction off", (Change("noise_frames", False),), 0.0)
            out = (*([off] if setup.run.noise_frames else []), *ways.deaf(analysis))
            deaf = schedule.self_timer_s + setup.time_s * (2 if schedule.noise_frame else 1)
            return Lesson(
                "The camera was deaf", f"{times} it was {lost.value} when the next frame was "
                f"asked for: it is for {n.format_number(deaf, 2)} s of {step} s", out,
                "" if out else "leave it more time between two frames",
            )  # fmt: skip
        case Lost.CARD:
            return _card_full(setup, schedule)
        case Lost.BATTERY:
            return _battery(analysis, ways, verdict)
    return Lesson(
        "The camera took one frame only", f"{times} the remote fired in vain",
        (), "set the drive to continuous, then press the remote",
    )  # fmt: skip


def _card_full(setup: Setup, schedule: TriggerSchedule) -> Lesson:
    larger = [
        d for d in setup.packed_devices if isinstance(d, Card) and d.size_gb > schedule.card.size_gb
    ]
    jpeg = [] if setup.run.files is Files.JPEG else [as_jpeg()]
    size = schedule.frames * schedule.file_mb / 1000
    return Lesson(
        "The card was full", f"The plan takes {n.format_number(size)} GB and "
        f"{schedule.card.name} holds {n.format_number(schedule.card.size_gb, 0)} GB when empty",
        (*(take_along(setup, d) for d in larger[-1:]), *jpeg), "format the card before you go",
    )  # fmt: skip


def _for_the_card(
    analysis: Analysis, ways: WaysOut, schedule: TriggerSchedule, write_s: float
) -> tuple[Fix, ...]:
    setup, speed = analysis.setup, schedule.card.write_mb_s or 0.0
    quicker = sorted(
        (d for d in setup.packed_devices if isinstance(d, Card) and (d.write_mb_s or 0.0) > speed),
        key=lambda d: -(d.write_mb_s or 0.0),
    )
    found = (
        *(take_along(setup, d) for d in quicker[:1]), *ways.card(analysis, schedule, write_s)
    )  # fmt: skip
    return found or (Fix("one exposure", (Change("combining", Combining.SINGLE),), 0.0),)


def _smaller_files(setup: Setup, schedule: TriggerSchedule, write_s: float) -> tuple[Fix, ...]:
    """JPEG, where the card then keeps up."""
    jpeg_s = write_s * setup.body.jpeg_mb / schedule.file_mb
    return (as_jpeg(),) if setup.run.files is not Files.JPEG and jpeg_s < schedule.step_s else ()


def _card_of_run(analysis: Analysis, schedule: TriggerSchedule, write_s: float) -> tuple[Fix, ...]:
    run = run_of(analysis, IntervalRun)
    needs = run.cycle.deaf_s + write_s + c.CYCLE_MARGIN_S
    return (
        *_smaller_files(analysis.setup, schedule, write_s),
        every(analysis.setup, float(ceil(needs))),
    )


def _card_of_burst(
    analysis: Analysis, schedule: TriggerSchedule, write_s: float
) -> tuple[Fix, ...]:
    run, setup = run_of(analysis, Burst), analysis.setup
    rate = run.present.rate_fps
    held = Buffer(schedule.buffer_frames, rate, 1 / write_s).full_after_s
    seconds = floor(100 * 0.98 * held) / 100
    ways = [] if setup.run.files is Files.JPEG else [as_jpeg()]
    slower = [one for one in run.choices if one.rate_fps < rate]
    ways += [
        Fix(f"{one.drive.name}, {n.format_number(one.rate_fps)} a second",
            (Change("frame_rate", one.rate_fps),), 0.0)
        for one in sorted(slower, key=lambda one: -one.rate_fps)[:1]
    ]  # fmt: skip
    if held < setup.run.burst_s:
        label = f"hold it for {n.format_number(seconds, 2)} s"
        ways.append(Fix(label, (Change("burst_s", seconds),), 0.0))
    return tuple(ways)


def _battery(analysis: Analysis, ways: WaysOut, verdict: Verdict) -> Lesson:
    cold = n.format_number(analysis.setup.run.temperature_c, 0)
    ended = f"it ended at {cold} °C after {verdict.frames} of {verdict.planned} frames"
    needs, out = ways.battery(analysis, verdict.frames / verdict.planned)
    return Lesson("The battery was empty", f"{needs}{ended}", out, "keep spares warm in a pocket")


def _battery_of_run(analysis: Analysis, share: float) -> tuple[str, tuple[Fix, ...]]:
    run = run_of(analysis, IntervalRun)
    if run.power is None:
        return _larger_battery(analysis, share)
    needs = f"The run takes {n.format_number(run.power.needs_wh)} Wh; "
    return needs, power_fixes(analysis.setup, run.power, share)


def _larger_battery(analysis: Analysis, share: float) -> tuple[str, tuple[Fix, ...]]:
    setup = analysis.setup
    more = [d for d in setup.packed_devices if isinstance(d, Battery)]
    largest = max(more, key=lambda d: d.usable_wh, default=None)
    return "", () if largest is None else (take_along(setup, largest),)


def _longer_interval(analysis: Analysis) -> tuple[Fix, ...]:
    return (every(analysis.setup, run_of(analysis, IntervalRun).cycle.shortest_s),)


INTERVAL_WAYS = WaysOut(_longer_interval, _card_of_run, _battery_of_run)
BURST_WAYS = WaysOut(lambda _: (), _card_of_burst, _larger_battery)
LONG_EXPOSURE_WAYS = WaysOut(
    lambda _: (),
    lambda analysis, schedule, write_s: _smaller_files(analysis.setup, schedule, write_s),
    _larger_battery,
)


def _count_short(setup: Setup, schedule: TriggerSchedule, verdict: Verdict) -> Lesson:
    others = [
        d for d in setup.packed_devices
        if isinstance(d, Remote) and d.unlimited
        and (d.sure_count or 0) != (schedule.remote.sure_count or 0)
    ]  # fmt: skip
    return Lesson(
        "The remote stopped early",
        f"It fired {verdict.fired} of {verdict.planned} times: its counter skipped, or counts no "
        "further", tuple(take_along(setup, d) for d in others[:1]),
        "run it unlimited and stop it by the clock",
    )  # fmt: skip
