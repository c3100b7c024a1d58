"""A ramp as one record: at which clock time, before which frame, which setting, to what.

Everything that shows a ramp shows these lines: bench, card, papers, program and file.
"""

from dataclasses import dataclass
from datetime import UTC, datetime, timedelta

from fotonomy.core.analysis.interval import IntervalRun
from fotonomy.core.exposure.ramp import RampPlan, RampStep, Rung
from fotonomy.core.notation import writing as n
from fotonomy.core.spec.setup import Setup
from fotonomy.core.spec.stills import Ramp


@dataclass(frozen=True, slots=True)
class RampLine:
    """What is set from a frame on, and when that is.

    ``frame`` counts from 1; ``after_s`` from the first frame and ``press_s`` from the press on the
    remote, both in seconds; ``at`` is the place's clock, None where no start is planned. ``words``
    are what to do, ``settings`` what is set then.
    """

    frame: int
    after_s: float
    press_s: float
    at: datetime | None
    words: str
    settings: str


def clock_after(setup: Setup, seconds: float) -> datetime | None:
    """The place's clock so long after the start; None where no start is planned."""
    if setup.starts is None:
        return None
    moment = setup.starts.astimezone(UTC) + timedelta(seconds=seconds)
    return moment.astimezone(setup.starts.tzinfo)


def ramp_lines(setup: Setup, run: IntervalRun) -> tuple[RampLine, ...]:
    """The lines of a run whose settings follow the light by hand, the start first.

    None where nothing moves, and where the camera floats by itself.
    """
    ramp = run.ramp
    if ramp.method is not Ramp.PLANNED or not ramp.steps:
        return ()
    first_s = run.intervalometer.first_s
    before = ramp.rungs[ramp.first]
    lines = [RampLine(1, 0.0, first_s, clock_after(setup, first_s), before.words, before.words)]
    for step in ramp.steps:
        if step.frame == 0:
            continue
        press_s = first_s + step.at_s
        lines.append(RampLine(
            step.frame + 1, step.at_s, press_s, clock_after(setup, press_s),
            _change_words(before, step), step.rung.words,
        ))  # fmt: skip
        before = step.rung
    return tuple(lines)


def _change_words(before: Rung, step: RampStep) -> str:
    """What has to be set otherwise, the glass first, since it takes both hands."""
    rung, said = step.rung, []
    if step.lifts_nd:
        said.append(step.glass_words)
    if rung.time_s != before.time_s:
        said.append(f"shutter {n.format_time(rung.time_s)}")
    if rung.iso != before.iso:
        said.append(f"ISO {rung.iso}")
    return ", ".join(said)


def ramp_in_one_line(setup: Setup, run: IntervalRun) -> str:
    """A whole ramp in a line: from what to what, in how many changes, and when ND comes off.

    "" where nothing moves.
    """
    ramp = run.ramp
    if ramp.method is Ramp.FLOATING and setup.run.light_curve:
        times = [rung.time_s for rung in (ramp.rungs[ramp.first], ramp.rungs[ramp.last])]
        ends = " to ".join(n.format_time(time_s) for time_s in times)
        return f"the camera floats the shutter, {ends}"
    lines = ramp_lines(setup, run)
    if len(lines) < 2:
        return ""
    changes = len(lines) - 1
    first, last = ramp.rungs[ramp.first], ramp.rungs[ramp.last]
    moved = []
    if first.time_s != last.time_s:
        moved.append(f"shutter {n.format_time(first.time_s)} to {n.format_time(last.time_s)}")
    if first.iso != last.iso:
        moved.append(f"ISO {first.iso} to {last.iso}")
    count = f"{changes} change{'' if changes == 1 else 's'}"
    said = [f"{' and '.join(moved) or 'there and back'} in {count}"]
    until = lines[-1].at
    if lines[1].at is not None and until is not None:
        said.append(f"{lines[1].at:%H:%M} to {until:%H:%M}")
    said += [_glass_at(setup, run, step_at, words) for step_at, words in _glass(ramp)]
    return ", ".join(said)


def _glass(ramp: RampPlan) -> list[tuple[float, str]]:
    return [(step.at_s, step.glass_words) for step in ramp.steps if step.lifts_nd and step.frame]


def _glass_at(setup: Setup, run: IntervalRun, at_s: float, words: str) -> str:
    clock = clock_after(setup, run.intervalometer.first_s + at_s)
    return words if clock is None else f"{words} at {clock:%H:%M}"
