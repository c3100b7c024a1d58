"""Findings about interval runs: cycle, cover, card, power, remote, stars, light, clock."""

from collections.abc import Iterator
from dataclasses import replace
from datetime import UTC, datetime, timedelta
from math import ceil, floor

from fotonomy.core.analysis.changes import carried_through
from fotonomy.core.analysis.interval import IntervalRun, noise_frame, worked_out
from fotonomy.core.analysis.setup import Analysis, run_of
from fotonomy.core.errors import RuleError
from fotonomy.core.exposure.scales import OFFERS
from fotonomy.core.findings import fixes as fx
from fotonomy.core.findings.finding import Family, Finding, Fix, Harm, Severity
from fotonomy.core.gear.accessories import Card, Device, Remote
from fotonomy.core.motion.shutter import Shutter, exact_rate
from fotonomy.core.notation import writing as n
from fotonomy.core.parsing.stills import format_span
from fotonomy.core.spec.changes import Change
from fotonomy.core.spec.setup import Setup
from fotonomy.core.spec.stills import YEAR_S, Files, Follows
from fotonomy.core.stills.burst import file_mb
from fotonomy.core.stills.interval import frames_over, interval_of, span_s
from fotonomy.core.stills.intervalometer import Intervalometer, intervalometer_for, neighbours_s
from fotonomy.core.tiles import Tile

CYCLE_TOO_LONG = Family("run.cycle_too_long", Harm.NOTHING_RECORDED, Tile.CYCLE, Tile.RUN)
ONE_FRAME = Family("run.one_frame", Harm.NOTHING_RECORDED, Tile.RUN)
BEYOND_YEAR = Family("run.beyond_year", Harm.MOVES_WRONGLY, Tile.RUN)
SHORT_OF_EVENT = Family("run.short_of_event", Harm.MOVES_WRONGLY, Tile.RUN)
PAST_EVENT = Family("run.past_event", Harm.MOVES_WRONGLY, Tile.RUN)
CARD_FULL = Family("run.card_full", Harm.NOTHING_RECORDED, Tile.CYCLE, Tile.RUN)
COUNT_BEYOND = Family(
    "run.count_beyond", Harm.NOTHING_RECORDED, Tile.CYCLE, Tile.RUN, own_ways=True
)
INTERVAL_ROUNDED = Family(
    "run.interval_rounded", Harm.MOVES_WRONGLY, Tile.CYCLE, Tile.RUN, own_ways=True
)
CLOCK_CHANGES = Family("run.clock_changes", Harm.MOVES_WRONGLY, Tile.RUN)


def take_along(setup: Setup, device: Device) -> Fix:
    """Hang a packed device on the camera; a card or a remote takes the other one's place."""
    alone = isinstance(device, Card | Remote)
    kept = [d.name for d in setup.devices if not (alone and type(d) is type(device))]
    return Fix(f"take {device.name}", (Change("devices", (*kept, device.name)),), 0.0)


def _seconds(shutter: Shutter) -> float:
    return shutter.time_s or 0.0


def every(setup: Setup, interval_s: float) -> Fix:
    """Another interval. An exposure in degrees, which would grow with it, becomes a time."""
    text = f"every {n.format_number(interval_s, 3)} s"
    rate = Change("frame_rate", 1 / round(interval_s, 3))
    if setup.shutter.angle_deg is None:
        return Fix(text, (rate,), 0.0)
    marks = sorted((mark.value for mark in OFFERS["shutter"](setup).options), key=_seconds)
    # The mark it is on or lies over; a body that is not so fast has its fastest.
    under = [mark for mark in marks if _seconds(mark) <= setup.time_s * 1.001]
    kept = (under[-1:] or marks[:1] or [Shutter(time_s=setup.time_s)])[0]
    return Fix(text, (rate, Change("shutter", kept)), 0.0)


def on_screen(seconds: float) -> Fix:
    """A shorter or longer clip."""
    text = f"{n.format_number(seconds, 2)} s"
    return Fix(f"plan {text} on screen", (Change("wanted_screen_s", round(seconds, 2)),), 0.0)


def shorter_run(setup: Setup, seconds: float) -> Fix:
    """A shorter clip of a run that ends earlier: its frames come as often as before."""
    fix = on_screen(seconds)
    if setup.run.follows is not Follows.INTERVAL:
        return fix
    return replace(fix, changes=(*fix.changes, Change("follows", Follows.EVENT)))


def as_jpeg() -> Fix:
    """Smaller files."""
    return Fix("keep JPEG only", (Change("files", Files.JPEG),), 0.0)


def _longest_interval(setup: Setup, seconds: float) -> tuple[Fix, ...]:
    return (every(setup, seconds),) if seconds <= 86_400 else ()


def cycle_fits(analysis: Analysis) -> Iterator[Finding]:
    """Exposure, noise frame and writing against the interval."""
    run, setup = run_of(analysis, IntervalRun), analysis.setup
    if run.cycle.fits:
        return
    if setup.time_s * setup.frame_rate > 1.001:
        return  # The shutter's own finding says it.
    laid_out = run.cycle
    ways = []
    if noise_frame(setup):
        ways.append(Fix("noise reduction off", (Change("noise_frames", False),), 0.0))
    if setup.run.files is not Files.JPEG and run.write_known:
        saved = run.write_s * (1 - setup.body.jpeg_mb / file_mb(setup.body, setup.run.files))
        if laid_out.idle_s + saved >= 0:
            ways.append(as_jpeg())
    ways += _longest_interval(setup, ceil(1000 * laid_out.shortest_s - 1e-6) / 1000)
    shorter = [
        o for o in analysis.offers["shutter"].options
        if o.value.time_s <= setup.time_s + laid_out.idle_s / (2 if noise_frame(setup) else 1)
    ]  # fmt: skip
    if shorter:
        ways.append(fx.rebalanced(analysis, "shutter", max(shorter, key=lambda o: o.value.time_s)))
    parts = " + ".join(
        f"{part.name} {n.format_number(part.lasts_s, 2)} s"
        for part in laid_out.parts if part.name != "idle"
    )  # fmt: skip
    interval = n.format_number(laid_out.interval_s, 2)
    lost = not laid_out.keeps_up
    what = "The interval is too short for the cycle"
    if lost:
        heard = ceil(laid_out.deaf_s / laid_out.interval_s - 1e-6)
        what = (
            f"Only one start in {heard} takes a picture" if heard > 1
            else "The card cannot keep up"
        )  # fmt: skip
    yield Finding(
        CYCLE_TOO_LONG, Severity.STOP if lost else Severity.CAUTION, what,
        f"{parts} + {n.format_number(laid_out.margin_s)} s to spare are "
        f"{n.format_number(-laid_out.idle_s, 2)} s longer than the interval of {interval} s",
        -laid_out.idle_s, "s", tuple(ways),
    )  # fmt: skip


def covers(analysis: Analysis) -> Iterator[Finding]:
    """A run too short for its event, or of one frame, or longer than a year."""
    run, setup = run_of(analysis, IntervalRun), analysis.setup
    if run.three.frames < 2:
        wanted = max(1.0, setup.run.event_s / (setup.project_fps * 5))
        yield Finding(
            ONE_FRAME, Severity.STOP, "The run has a single frame",
            f"At this interval {format_span(run.three.event_s)} give "
            f"{run.three.frames} frame; a run needs two",
            float(run.three.frames), "frames", (on_screen(5.0), every(setup, ceil(wanted))),
        )  # fmt: skip
        return
    if run.covers_s > YEAR_S:
        longest = (floor(YEAR_S * setup.frame_rate) + 1) / setup.project_fps
        yield Finding(
            BEYOND_YEAR, Severity.STOP, "The run lasts longer than a year",
            f"{run.frames} frames take {format_span(run.covers_s)}: make it several runs",
            run.covers_s / 86_400, "days", (on_screen(floor(10 * longest) / 10),),
        )  # fmt: skip
    short = run.three.event_s - run.covers_s
    if setup.run.follows is not Follows.EVENT and short > 1.5 / setup.frame_rate:
        yield Finding(
            SHORT_OF_EVENT, Severity.CAUTION, "The run ends before the event",
            f"{run.frames} frames span {n.format_duration(run.covers_s)}, the event lasts "
            f"{n.format_duration(run.three.event_s)}",
            short, "s",
            _let_follow(setup, run),
        )  # fmt: skip


def past_event(analysis: Analysis) -> Iterator[Finding]:
    """A clip so long that its frames go on after the event, at the shortest interval there is.

    Its own frames: handles are meant to go on before and after.
    """
    run, setup = run_of(analysis, IntervalRun), analysis.setup
    over = span_s(run.three.frames, interval_of(setup.frame_rate)) - run.three.event_s
    if setup.run.follows is not Follows.INTERVAL or over <= 1.5 / setup.frame_rate:
        return
    interval_s = run.three.event_s / max(1, run.three.frames - 1)
    frames = frames_over(run.three.event_s, 1 / setup.frame_rate)
    screen = max(0.1, floor(10 * frames / setup.project_fps) / 10)
    yield Finding(
        PAST_EVENT, Severity.CAUTION, "The clip takes more frames than there is time for",
        f"{run.three.frames} frames in {n.format_duration(run.three.event_s)} would be one "
        f"every {n.format_number(interval_s, 2)} s; the shortest interval is 1 s",
        over, "s",
        (on_screen(screen), Fix("the clip follows", (Change("follows", Follows.CLIP),), 0.0)),
    )  # fmt: skip


def _let_follow(setup: Setup, run: IntervalRun) -> tuple[Fix, ...]:
    """The clip or the interval worked out from the event, as far as that can be; else the event."""
    ways = []
    for follows in (Follows.CLIP, Follows.INTERVAL):
        try:
            then = worked_out(replace(setup, run=replace(setup.run, follows=follows)))
        except RuleError:
            continue
        change = Change("follows", follows)
        if follows is setup.run.follows:
            # It was to follow already, and does not.
            name = "wanted_screen_s" if follows is Follows.CLIP else "frame_rate"
            change = Change(name, getattr(then, name))
        ways.append(Fix(f"let {follows.label} follow", (change,), 0.0))
    covered = n.format_duration(run.covers_s)
    return tuple(ways) or (
        Fix(f"take {covered} of it", (Change("event_s", float(round(run.covers_s))),), 0.0),
    )


def card_holds(analysis: Analysis) -> Iterator[Finding]:
    """The run against its card."""
    run, setup = run_of(analysis, IntervalRun), analysis.setup
    if run.frames <= run.fitting_frames:
        return
    ways = [
        take_along(setup, card) for card in setup.packed_devices
        if isinstance(card, Card) and card.size_gb >= run.size_gb
    ][:1]  # fmt: skip
    as_raw = file_mb(setup.body, setup.run.files)
    if (
        setup.run.files is not Files.JPEG
        and run.frames * setup.body.jpeg_mb <= 1000 * run.card.size_gb
    ):
        ways.append(as_jpeg())
    handles = 2 * ceil(setup.handle_s * setup.project_fps)
    shorter = floor(10 * (run.fitting_frames - handles) / setup.project_fps) / 10
    if shorter >= 0.1:
        ways.append(on_screen(shorter))
    else:
        ways.append(Fix("no handles", (Change("handle_s", 0.0),), 0.0))
    yield Finding(
        CARD_FULL, Severity.STOP, f"The card is full after {run.fitting_frames} frames",
        f"{run.frames} frames of {n.format_number(as_raw)} MB are {n.format_number(run.size_gb)} "
        f"GB; {run.card.name} holds {n.format_number(run.card.size_gb, 0)} GB",
        run.size_gb, "GB", tuple(ways),
    )  # fmt: skip


def remote_can(analysis: Analysis) -> Iterator[Finding]:
    """What the remote cannot count, step or wait."""
    run, setup = run_of(analysis, IntervalRun), analysis.setup
    intervalometer, remote = run.intervalometer, run.remote
    others = [d for d in setup.packed_devices if isinstance(d, Remote)]
    if intervalometer.count is not None and intervalometer.count < run.frames:
        able = [d for d in others if _intervalometer(setup, run, d).count in (None, run.frames)]
        if setup.run.follows is Follows.CLIP:
            fewer = _longest_interval(setup, ceil(run.covers_s / max(1, intervalometer.count - 1)))
        else:
            # Another interval would keep the clip, and with it the frames.
            counted = intervalometer.count - 2 * ceil(setup.handle_s * setup.project_fps)
            screen = floor(10 * counted / setup.project_fps) / 10
            fewer = (on_screen(screen),) if screen >= 0.1 else ()
        yield Finding(
            COUNT_BEYOND,
            Severity.STOP,
            f"The remote stops after {intervalometer.count} frames",
            f"{remote.name} counts to {intervalometer.count} and does not run unlimited; the run "
            f"takes {run.frames}",
            float(run.frames),
            "frames",
            (*(take_along(setup, d) for d in able[:1]), *fewer),
        )
    off = intervalometer.step_s - 1 / setup.frame_rate
    if abs(off) > 0.005:
        yield Finding(
            INTERVAL_ROUNDED,
            Severity.CAUTION,
            f"The remote can only do {n.format_number(intervalometer.step_s, 2)} s",
            f"{remote.name} is set in steps of {n.format_number(remote.step_s, 2)} s: over the "
            f"run {n.format_duration(abs(off) * run.frames)} {'more' if off > 0 else 'less'}",
            off,
            "s",
            _beside(setup, run, remote),
        )


def _beside(setup: Setup, run: IntervalRun, remote: Remote) -> tuple[Fix, ...]:
    """Both steps of the remote beside the interval, the nearer first, and what each brings.

    A step that has no room for the exposure is left out.
    """
    interval_s = 1 / setup.frame_rate
    steps = [s for s in dict.fromkeys(neighbours_s(remote, interval_s)) if s >= setup.time_s > 0]
    fixes = []
    for step_s in sorted(steps, key=lambda s: abs(s - interval_s)):
        if setup.run.follows is Follows.CLIP:
            frames = frames_over(run.three.event_s, step_s)
            screen_s = frames / float(exact_rate(setup.project_fps))
            brings = f"{frames} frames, {n.format_number(screen_s, 1)} s on screen"
        else:
            brings = f"{run.frames} frames take {n.format_duration(span_s(run.frames, step_s))}"
        fix = every(setup, step_s)
        fixes.append(replace(fix, label=f"{fix.label}: {brings}"))
    return tuple(fixes)


def _intervalometer(setup: Setup, run: IntervalRun, remote: Remote) -> Intervalometer:
    return intervalometer_for(
        remote,
        frames=run.frames,
        interval_s=1 / setup.frame_rate,
        exposure_s=setup.time_s,
        delay_s=setup.run.start_after_s,
        bulb=run.intervalometer.bulb,
    )


def clock_changes(analysis: Analysis) -> Iterator[Finding]:
    """Daylight saving that begins or ends in the middle of a run."""
    run, setup = run_of(analysis, IntervalRun), analysis.setup
    if not run.clock_shift_s or setup.starts is None:
        return
    change = change_of_clock(setup.starts, run.lasts_s)
    before_s = (change - setup.starts.astimezone(UTC)).total_seconds()
    way = "on" if run.clock_shift_s > 0 else "back"
    ends = "" if run.ends is None else f"; by the new clock it ends at {run.ends:%H:%M}"
    yield Finding(
        CLOCK_CHANGES, Severity.CAUTION, "The clock is changed during the run",
        f"It is put {way} by {format_span(abs(run.clock_shift_s))} after "
        f"{n.format_duration(before_s)}; the run goes on as long as planned{ends}",
        run.clock_shift_s / 60, "min", _around_the_change(setup, run, change, before_s),
    )  # fmt: skip


def _around_the_change(
    setup: Setup, run: IntervalRun, change: datetime, before_s: float
) -> tuple[Fix, ...]:
    """Start early enough to be done before, or after it, on the planned day; or end before it."""
    assert setup.starts is not None
    zone, day = setup.starts.tzinfo, setup.starts.date()
    ways = []
    early = (change - timedelta(seconds=run.lasts_s + 60)).astimezone(zone)
    for start, words in ((early, "start at {}, it ends before"),
                         (change.astimezone(zone), "start after it, at {}")):  # fmt: skip
        if start.date() == day:
            text = f"{start:%H:%M}"
            ways.append(Fix(words.format(text), (Change("planned_time", text),), 0.0))
    room_s = before_s - run.intervalometer.first_s - run.cycle.deaf_s
    frames = floor(room_s / run.intervalometer.step_s) + 1 if room_s > 0 else 0
    if frames >= 2:
        ways.append(shorter_run(setup, floor(10 * frames / setup.project_fps) / 10 or 0.1))
    if not ways:
        # It starts a moment before a change at midnight.
        ways.append(Fix("start at 12:00", (Change("planned_time", "12:00"),), 0.0))
    return tuple(ways)


def change_of_clock(starts: datetime, lasts_s: float) -> datetime:
    """The instant (UTC) within a run at which the place's clock is changed, to the minute."""
    low, high = starts.astimezone(UTC), starts.astimezone(UTC) + timedelta(seconds=lasts_s)
    first = low.astimezone(starts.tzinfo).utcoffset()
    while (high - low).total_seconds() > 30:
        middle = low + (high - low) / 2
        if middle.astimezone(starts.tzinfo).utcoffset() == first:
            low = middle
        else:
            high = middle
    return (high + timedelta(seconds=30)).replace(second=0, microsecond=0)


def with_possible_fixes(setup: Setup, finding: Finding) -> Finding:
    """A finding of a run without the fixes whose third of event, interval and clip cannot be."""
    kept = tuple(fix for fix in finding.fixes if not fix.changes or _possible(setup, fix))
    return replace(finding, fixes=kept or (_usual_run(setup),))


def _possible(setup: Setup, fix: Fix) -> bool:
    gear = {"lens", "profile", "tubes", "devices"}
    changes = [change for change in fix.changes if change.setting not in gear]
    try:
        carried_through(setup, changes)
    except RuleError:
        return False
    return True


def _usual_run(setup: Setup) -> Fix:
    """Where no single change will do: a run that every remote and clock can take."""
    slower = every(setup, max(6, ceil(setup.time_s) + 3))
    return Fix(
        f"{slower.label}, 20 s on screen",
        (
            Change("follows", Follows.EVENT),
            *slower.changes,
            Change("wanted_screen_s", 20.0),
            Change("handle_s", 0.0),
        ),
        0.0,
    )


CHECKS = (cycle_fits, covers, past_event, card_holds, remote_can, clock_changes)
