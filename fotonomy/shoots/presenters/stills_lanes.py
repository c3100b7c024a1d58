"""The run, cycle, burst and trail of the bench, as the templates draw them."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from fotonomy.core.analysis.interval import IntervalRun
from fotonomy.core.analysis.ramp_programme import RampLine, clock_after, ramp_lines
from fotonomy.core.analysis.setup import Analysis, run_of
from fotonomy.core.dry_run.trigger_schedule import Presses, TriggerSchedule
from fotonomy.core.findings.fixes import half_period
from fotonomy.core.notation import writing as n
from fotonomy.core.parsing.stills import format_span
from fotonomy.core.spec.kind import Kind
from fotonomy.core.spec.setup import Setup as Spec
from fotonomy.core.stills.burst import Burst
from fotonomy.core.stills.interval import SUBJECTS, usual_for
from fotonomy.core.stills.intervalometer import REMINDERS
from fotonomy.core.stills.long_exposure import LongExposure
from fotonomy.exchange.changes_json import press_of
from fotonomy.figures.animation.interval import hop_words
from fotonomy.figures.lanes.clip import speed_words
from fotonomy.kit.models import Accessory
from fotonomy.shoots.editing.apply import Edit
from fotonomy.shoots.presenters.bench_fields import Choice, MenuView, offered_of
from fotonomy.shoots.presenters.burst_and_long_exposure import (
    DriveRow,
    Entry,
    burst_parts,
    long_exposure_parts,
)


@dataclass(frozen=True, slots=True)
class RampRow:
    """One change of a ramp: before which frame, when, on whose clock, and what to set."""

    frame: int
    after: str
    clock: str
    words: str


@dataclass(frozen=True, slots=True)
class RunView:
    """What the lane templates of single pictures take; empty for video."""

    subjects: MenuView
    devices: tuple[Choice, ...]
    words: tuple[str, ...] = ()
    intervalometer: tuple[Entry, ...] = ()
    power: tuple[Entry, ...] = ()
    stars: tuple[Entry, ...] = ()
    strikes: tuple[Entry, ...] = ()
    drives: tuple[DriveRow, ...] = ()
    video: tuple[Entry, ...] = ()
    lamps: tuple[Entry, ...] = ()
    steps: tuple[RampRow, ...] = ()
    more_steps: int = 0
    half: Choice | None = None


def _subjects() -> MenuView:
    """Usual intervals by subject, to start from."""
    subjects = (Choice("", "choose…", True), *(
        Choice(name, f"{name}, every {format_span(seconds)}", False)
        for name, (seconds, _) in SUBJECTS.items()
    ))  # fmt: skip
    return MenuView("subject_start", "Usual interval for", subjects, "")


def run_view(edit: Edit, analysis: Analysis) -> RunView | None:
    """The lanes of a setup's kind; None for video, which has none of these."""
    spec, run = edit.spec, analysis.run
    if run is None:
        return None
    hung = {device.name for device in spec.devices}
    every = sorted(edit.packed.devices.values(), key=lambda d: (type(d).__name__, d.name))
    names = offered_of(edit, (device.name for device in every), Accessory, "accessories")
    devices = tuple(Choice(name, name, name in hung) for name in names)
    base: dict[str, Any] = {"subjects": _subjects(), "devices": devices}
    return RunView(**base, **_PARTS[spec.kind](analysis))


MOST_STEPS = 40


def _half_period(analysis: Analysis) -> Choice | None:
    """A press for the half-period look; None where it stands or no shutter comes near it."""
    fix = half_period(analysis)
    return None if fix is None else Choice(press_of(fix.changes), fix.label, False)


def _interval(analysis: Analysis) -> dict[str, Any]:
    run, spec = run_of(analysis, IntervalRun), analysis.setup
    three = run.three
    handles = run.frames - three.frames
    words = [
        f"{run.frames} frames" + (f", {handles} of them handles" if handles else ""),
        f"they span {n.format_duration(run.covers_s)}",
        speed_words(analysis.clip), hop_words(analysis),
    ]  # fmt: skip
    usual = usual_for(three.interval_s)
    if usual is not None:
        words.append(f"usual for {usual[0]}: {usual[1]}")
    if spec.starts is not None and run.ends is not None:
        words.append(f"starts {spec.starts:%H:%M}, ends {clock_words(spec, run.lasts_s)}")
    lines = ramp_lines(spec, run)
    return {
        "words": tuple(words),
        "intervalometer": intervalometer_entries(analysis, run),
        "power": _power(run),
        "stars": _stars(run),
        "strikes": _strikes(run),
        "steps": tuple(_step_row(spec, line) for line in lines[:MOST_STEPS]),
        "more_steps": max(0, len(lines) - MOST_STEPS),
        "half": _half_period(analysis),
    }


def _step_row(spec: Spec, line: RampLine) -> RampRow:
    return RampRow(
        line.frame, n.format_duration(line.after_s), clock_words(spec, line.press_s), line.words
    )


def clock_words(spec: Spec, seconds: float, exact: bool = False) -> str:
    """The same as read off a watch: "23:40", with the day where it is another; empty if unknown.

    ``exact`` is to the second.
    """
    clock = clock_after(spec, seconds)
    if clock is None or spec.starts is None:
        return ""
    day = "" if clock.date() == spec.starts.date() else f"{clock:%a} "
    return f"{day}{clock:%H:%M:%S}" if exact else f"{day}{clock:%H:%M}"


def intervalometer_entries(analysis: Analysis, run: IntervalRun) -> tuple[Entry, ...]:
    """The remote's fields as they stand on it, and what else to set before the press."""
    intervalometer, remote = run.intervalometer, run.remote
    exposure = format_span(intervalometer.exposure_s) if intervalometer.bulb else "tap"
    if intervalometer.count is None:
        count, why = "unlimited", _stop_words(analysis, run)
    elif intervalometer.count < run.frames:
        count, why = str(intervalometer.count), f"its highest; the run takes {run.frames}"
    else:
        count, why = str(intervalometer.count), ""
    delay = (
        "" if not intervalometer.waits_s else "it waits one interval before the first frame anyway"
    )
    entries = [
        Entry("Delay", format_span(intervalometer.delay_s), delay),
        Entry("Exposure", exposure,
              "camera on bulb" if intervalometer.bulb else
              f"the camera times {n.format_time(analysis.setup.time_s)}"),
        Entry("Interval", format_span(intervalometer.interval_s), remote.counting.label),
        Entry("Count", count, why),
    ]  # fmt: skip
    noise = "on: doubles each frame" if analysis.setup.run.noise_frames else "off"
    return (
        *entries, *(Entry(name, "", words) for name, words in REMINDERS),
        Entry("Noise reduction", "", noise),
    )  # fmt: skip


def schedule_entries(analysis: Analysis, schedule: TriggerSchedule) -> tuple[Entry, ...]:
    """What is rehearsed: a remote's program, an hour of bursts, or one picture's exposures."""
    if analysis.setup.kind.traits.has_interval:
        return intervalometer_entries(analysis, run_of(analysis, IntervalRun))
    if isinstance(schedule.by, Presses):
        presses = schedule.by
        return (
            Entry("Drive", f"{n.format_number(presses.rate_fps)}/s", "as on the bench"),
            Entry("Held for", format_span(analysis.setup.run.burst_s), f"{presses.frames} frames"),
            Entry("Bursts", str(presses.bursts), f"one every {format_span(presses.every_s)}"),
            Entry("Buffer", str(schedule.buffer_frames), f"frames; {schedule.card.name}"),
        )  # fmt: skip
    return (
        Entry("Exposures", str(schedule.frames), n.format_time(analysis.setup.time_s)),
        Entry("One after", f"{n.format_number(schedule.step_s, 2)} s", "from start to start"),
        Entry("Drive", "", "continuous, the shutter held down"),
        Entry("Noise reduction", "", "on: doubles each frame" if schedule.noise_frame else "off"),
    )  # fmt: skip


def _stop_words(analysis: Analysis, run: IntervalRun) -> str:
    """When to stop a remote that runs without a count."""
    end = run.intervalometer.stop_s
    at = clock_words(analysis.setup, end, exact=True)
    after = f"{format_span(round(end))} after"
    words = f"stop it at {at}, {after}" if at else f"stop it {after} the press"
    sure = run.remote.sure_count
    return f"{words}; its counter is sure to {sure} only" if sure else words


def _power(run: IntervalRun) -> tuple[Entry, ...]:
    power = run.power
    card = Entry(
        "Card", f"{n.format_number(run.size_gb)} GB",
        f"{run.fitting_frames} frames fit on {run.card.name}, "
        + (f"{n.format_number(run.write_s, 2)} s to write one" if run.write_known
           else "its speed is not known"),
    )  # fmt: skip
    if power is None:
        return (card, Entry("Energy", "?", "the body's power is not in the kit"))
    assumed = "; waiting power taken as 40 % of work" if power.assumed else ""
    need = Entry("Energy needed", f"{n.format_number(power.needs_wh)} Wh", assumed.lstrip("; "))
    beside = () if not power.pack_needs_wh else (
        Entry("Hung on packs", f"{n.format_number(power.pack_needs_wh)} Wh",
              f"of {n.format_number(power.pack_has_wh)} that they give; the rest is the camera's"
              if power.pack_has_wh else "and no pack is on the camera"),
    )  # fmt: skip
    if power.has_wh is None:
        named = Entry("Batteries", "none named", "put them on the camera")
        return (card, need, named, *beside)
    lasts = "" if power.lasts_s is None else f"would last {n.format_duration(power.lasts_s)}"
    return (
        card, need,
        Entry("Batteries", f"{n.format_number(power.has_wh)} Wh",
              f"of {n.format_number(power.printed_wh)} printed, cold and reserve off; {lasts}"),
        *beside,
    )  # fmt: skip


def _strikes(run: IntervalRun) -> tuple[Entry, ...]:
    """What strikes while nobody is there: back to back against a trigger."""
    found = run.strikes
    if found is None:
        return ()
    between = n.format_share(found.between_share)
    return (
        Entry("Strikes", n.format_number(found.expected), "in view while it runs, on average"),
        Entry("In one frame", n.format_share(found.frame_share),
              f"in any of them {n.format_share(found.evening_share)}; {between} fall between two"),
        Entry("With one", n.format_number(found.with_strike, 0),
              f"of {run.frames} frames; {n.format_number(found.empty, 0)} stay empty and take "
              f"{n.format_number(found.size_gb)} GB with them"),
        Entry("A trigger", n.format_number(found.trigger_frames, 0),
              f"frames of {n.format_number(found.trigger_gb, 2)} GB: it misses about a fifth"),
    )  # fmt: skip


def _stars(run: IntervalRun) -> tuple[Entry, ...]:
    stars = run.stars
    if stars is None:
        return ()
    average = (
        "not even 64 averaged frames come inside your limit" if not stars.average_frames
        else "inside your limit as it is" if stars.average_frames == 1
        else f"{stars.average_frames} averaged frames come inside your limit"
    )  # fmt: skip
    longest = stars.longest_s
    return (
        Entry("A star moves", f"{n.format_number(stars.trail_px)} px", "in one exposure"),
        Entry("Longest for points",
              "no end" if longest > 86_400 else f"{n.format_number(longest)} s",
              f"{n.format_number(stars.allowed_px)} px at this declination and focal length"),
        Entry("The rule of 500", f"{n.format_number(stars.rule_500_s)} s", "common practice"),
        Entry("The rule by iris and pixel", f"{n.format_number(stars.npf_s)} s",
              "simplified, from memory"),
        Entry("Noise", "", average),
    )  # fmt: skip


# What the lanes of single pictures take, by kind.
_PARTS: dict[Kind, Callable[[Analysis], dict[str, Any]]] = {
    Kind.INTERVAL: _interval,
    Kind.BURST: lambda analysis: burst_parts(run_of(analysis, Burst)),
    Kind.LONG_EXPOSURE: lambda analysis: long_exposure_parts(
        analysis, run_of(analysis, LongExposure)
    ),
}
