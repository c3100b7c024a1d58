"""Findings about what a run shows: stars, light that goes, steps that flicker, things that hop."""

from collections.abc import Iterator
from dataclasses import replace
from math import ceil, floor

from fotonomy.core import constants as c
from fotonomy.core.analysis.interval import IntervalRun
from fotonomy.core.analysis.ramp_programme import clock_after
from fotonomy.core.analysis.setup import Analysis, run_of
from fotonomy.core.exposure.ramp import exposure_room_s, ramp_plan
from fotonomy.core.exposure.scales import INTERVALS_S
from fotonomy.core.findings import fixes as fx
from fotonomy.core.findings.finding import Family, Finding, Fix, Harm, Severity
from fotonomy.core.findings.interval import every, shorter_run
from fotonomy.core.notation import writing as n
from fotonomy.core.notation.writing import format_capital
from fotonomy.core.ranges import range_of
from fotonomy.core.spec.changes import Change
from fotonomy.core.spec.intent import Look
from fotonomy.core.spec.setup import Setup
from fotonomy.core.spec.stills import Ramp, Run
from fotonomy.core.tiles import Tile

ISO_AUTO = Family("run.iso_auto", Harm.PICTURE_LOST, Tile.RAMP, Tile.RUN)
STARS_TRAIL = Family("run.stars_trail", Harm.MOVES_WRONGLY, Tile.RAMP, Tile.RUN)
LIGHT_LEAVES = Family("run.light_leaves", Harm.PICTURE_LOST, Tile.RAMP, Tile.RUN, of_light=True)
RAMP_STEPS = Family("run.ramp_steps", Harm.MOVES_WRONGLY, Tile.RAMP, Tile.RUN)
FLOATS_TOO_LONG = Family(
    "run.floats_too_long", Harm.NOTHING_RECORDED, Tile.RAMP, Tile.RUN, of_light=True
)
CHOPPY = Family("run.choppy", Harm.MOVES_WRONGLY, Tile.MOTION, Tile.RUN)

# The largest change of brightness between two frames of a ramp that passes, in stops, with room
# for the rounding of marked values; and how far something may go between two frames of a run whose
# shutter is open for less than a quarter of it. Common practice, no source.
LARGEST_STEP_STOPS, CHOPPY_STEP_PERCENT = 0.45, 4.0


def iso_on_auto(analysis: Analysis) -> Iterator[Finding]:
    """An ISO that the camera changes from frame to frame."""
    setup = analysis.setup
    if not setup.intent.auto_iso:
        return
    yield Finding(
        ISO_AUTO, Severity.STOP, "The ISO is left to the camera",
        "The camera moves it in thirds of a stop, and a run flickers from 0.03 stops on: set "
        f"ISO {setup.iso}",
        1 / 3, "stops", (Fix(f"ISO {setup.iso} by hand", (Change("auto_iso", False),), 0.0),),
    )  # fmt: skip


def stars_stay_points(analysis: Analysis) -> Iterator[Finding]:
    """Stars that draw trails longer than wanted."""
    run = run_of(analysis, IntervalRun)
    if run.stars is None:
        return
    stars = run.stars
    if stars.trail_px <= stars.allowed_px * 2**c.LIMIT_MET_STOPS:
        return
    shorter = [o for o in analysis.offers["shutter"].options if o.value.time_s <= stars.longest_s]
    ways = [fx.rebalanced(analysis, "shutter", max(shorter, key=lambda o: o.value.time_s))
            ] if shorter else []  # fmt: skip
    allowed = ceil(10 * stars.trail_px - 1e-6) / 10
    if allowed <= range_of(Run, "star_px")[1]:
        label = f"allow {n.format_number(allowed)} px"
        ways.append(Fix(label, (Change("star_px", allowed),), 0.0))
    else:
        ways.append(Fix("let them trail", (Change("declination_deg", None),), 0.0))
    yield Finding(
        STARS_TRAIL,
        Severity.CAUTION,
        "Stars draw lines",
        f"They move {n.format_number(stars.trail_px)} px in "
        f"{n.format_time(analysis.setup.time_s)}; {n.format_number(stars.allowed_px)} px allow "
        f"{n.format_number(stars.longest_s)} s at this focal length",
        stars.trail_px,
        "px",
        tuple(ways),
    )


def light_goes(analysis: Analysis) -> Iterator[Finding]:
    """Light that leaves the settings behind."""
    run, setup = run_of(analysis, IntervalRun), analysis.setup
    if not setup.run.light_curve:
        return
    ramp, limit = run.ramp, run.ramp.limit_at_s
    evs = [point.ev100 for point in setup.run.light_curve]
    if limit is None or max(evs) - min(evs) <= c.TOLERABLE_WITHIN_STOPS:
        return
    side = "over" if ramp.end_miss_stops > 0 else "under"
    ways = [
        Fix(method.label, (Change("ramp", method),), 0.0)
        for method in (Ramp.PLANNED, Ramp.FLOATING)
        if method is not ramp.method and _follows_better(setup, run, method)
    ]
    if ramp.method is not Ramp.FIXED and limit > 0:
        handles = 2 * ceil(setup.handle_s * setup.project_fps)
        screen = floor(10 * (floor(limit * setup.frame_rate) - handles) / setup.project_fps) / 10
        frames = ceil(screen * setup.project_fps) + handles
        if screen >= 0.1 and _follows_better(setup, run, ramp.method, frames):
            ways.insert(0, shorter_run(setup, screen))
    miss = n.format_stops(ramp.end_miss_stops)
    ways = ways or [Fix(f"change the light or the filter on the way, by {miss}", (), 0.0)]
    reason = {
        Ramp.FIXED: "No setting follows the light",
        Ramp.PLANNED: "Shutter, ND and ISO are at their ends",
        Ramp.FLOATING: f"{setup.body.name} has no longer or shorter time left",
    }[ramp.method]
    yield Finding(
        LIGHT_LEAVES,
        Severity.STOP if abs(ramp.end_miss_stops) >= 1 else Severity.CAUTION,
        f"From {n.format_duration(limit)} on the frames are {side}",
        f"{reason}: by the end they are {miss} {side}",
        ramp.end_miss_stops,
        "stops",
        tuple(ways),
    )


def floats_too_long(analysis: Analysis) -> Iterator[Finding]:
    """A camera left to float whose exposure outgrows the interval: frames are lost then."""
    run, setup = run_of(analysis, IntervalRun), analysis.setup
    ramp = run.ramp
    if ramp.method is not Ramp.FLOATING or not setup.run.light_curve:
        return
    room = exposure_room_s(setup, run.write_s)
    moves = [(0, 0.0, ramp.rungs[ramp.first]), *((s.frame, s.at_s, s.rung) for s in ramp.steps)]
    late = next(((frame, at_s) for frame, at_s, rung in moves if rung.time_s > room * 1.001), None)
    if late is None:
        return
    longest = max(rung.time_s for _, _, rung in moves)
    frame, at_s = late
    clock = clock_after(setup, run.intervalometer.first_s + at_s)
    when = f"frame {frame + 1}" + ("" if clock is None else f", {clock:%H:%M},")
    longer = [s for s in sorted(INTERVALS_S) if _has_room_to_float(setup, run, float(s))]
    ways = [Fix(Ramp.PLANNED.label, (Change("ramp", Ramp.PLANNED),), 0.0)]
    if longer:
        ways.append(every(setup, longer[0]))
    yield Finding(
        FLOATS_TOO_LONG, Severity.STOP, "The camera will expose longer than the interval",
        f"From {when} on it floats past {n.format_number(max(room, 0.0))} s, up to "
        f"{n.format_time(longest)}; every {n.format_duration(1 / setup.frame_rate)} leaves no more "
        "beside writing",
        longest, "s", tuple(ways),
    )  # fmt: skip


def _has_room_to_float(setup: Setup, run: IntervalRun, interval_s: float) -> bool:
    """True where a longer interval holds all that the camera floats to.

    As many frames then last longer, and as long a run has fewer: both have to hold.
    """
    if interval_s <= 1 / setup.frame_rate:
        return False
    made = replace(setup, frame_rate=1 / interval_s)
    room = exposure_room_s(made, run.write_s)
    fewer = max(2, int(run.frames / setup.frame_rate / interval_s))
    longest = max(
        float(ramp_plan(made, Ramp.FLOATING, frames, run.write_s).shutter_s.max())
        for frames in (run.frames, fewer)
    )
    return longest <= room


def _follows_better(
    setup: Setup, run: IntervalRun, method: Ramp, frames: int | None = None
) -> bool:
    """True where another way of following the light, or fewer frames, end nearer to it."""
    there = ramp_plan(setup, method, frames or run.frames, run.write_s)
    return abs(there.end_miss_stops) < abs(run.ramp.end_miss_stops)


def steps_show(analysis: Analysis) -> Iterator[Finding]:
    """Light that changes so fast between two frames that the ramp's steps flicker."""
    run, setup = run_of(analysis, IntervalRun), analysis.setup
    # Frames that are blended share a step among them.
    step = run.ramp.largest_step_stops / setup.intent.averaged_frames
    if run.ramp.method is Ramp.FIXED or step <= LARGEST_STEP_STOPS:
        return
    shorter = [s for s in INTERVALS_S if setup.time_s < s < 1 / setup.frame_rate
               and step * s * setup.frame_rate <= LARGEST_STEP_STOPS]  # fmt: skip
    ways = [every(setup, max(shorter))] if shorter else []
    if setup.intent.averaged_frames == 1:
        ways.append(Fix("blend four frames in the edit", (Change("averaged_frames", 4),), 0.0))
    yield Finding(
        RAMP_STEPS, Severity.CAUTION, "The steps of the ramp will show",
        f"The brightness jumps by {n.format_stops(step)} from one frame to the next; up to a "
        "third of a stop goes unseen",
        step, "stops", tuple(ways) or (Fix("smooth it in the edit, to 0.03 stops", (), 0.0),),
    )  # fmt: skip


def choppy(analysis: Analysis) -> Iterator[Finding]:
    """Fast things in a run of short exposures: they pop up and vanish."""
    setup, moved = analysis.setup, analysis.motion
    if moved.step_percent is None or moved.gap_percent is None or moved.crossing_s is None:
        return
    if (
        setup.intent.look is Look.CRISP
        or moved.step_percent < CHOPPY_STEP_PERCENT
        or setup.time_s * setup.frame_rate >= 0.25
    ):
        return
    longer = fx.half_period(analysis)
    ways = [longer] if longer else []
    closer = CHOPPY_STEP_PERCENT / moved.step_percent / setup.frame_rate
    possible = [s for s in INTERVALS_S if s >= max(1.0, setup.time_s) and s <= closer]
    if possible:
        ways.append(every(setup, max(possible)))
    share = n.format_share(setup.time_s * setup.frame_rate)
    yield Finding(
        CHOPPY, Severity.CAUTION, f"{format_capital(moved.mover)} will hop and flicker",
        f"It moves {n.format_number(moved.step_percent, 1)} % of the frame between two pictures, "
        f"and the shutter is open {share} of the time; open for half of it, it looks smooth",
        moved.step_percent, "% of frame width",
        (*ways, Fix("it is meant", (Change("look", Look.CRISP),), 0.0)),
    )  # fmt: skip


CHECKS = (iso_on_auto, stars_stay_points, light_goes, floats_too_long, steps_show, choppy)
