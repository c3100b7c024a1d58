"""The tiles of the bench: each a verdict in words, a drawing for its place, a line of figures."""

from collections.abc import Callable
from dataclasses import dataclass

from django.utils.safestring import SafeString, mark_safe

from fotonomy.core.analysis.interval import IntervalRun
from fotonomy.core.analysis.setup import Analysis, run_of
from fotonomy.core.findings.finding import Finding, Severity
from fotonomy.core.kinds import rules_of
from fotonomy.core.motion.cadence import Cadence
from fotonomy.core.notation import writing as n
from fotonomy.core.notation.spoken import said_depth, said_reach
from fotonomy.core.photometry.exposure_value import illuminance_lx
from fotonomy.core.plan import Plan
from fotonomy.core.stills.burst import Burst
from fotonomy.core.stills.long_exposure import LongExposure
from fotonomy.core.tiles import Tile
from fotonomy.figures.lanes.buffer import buffer_words
from fotonomy.figures.lanes.clip import size_words, takes_words
from fotonomy.figures.lanes.flicker import flicker_figure
from fotonomy.figures.lanes.focus import blur_words, view_words
from fotonomy.figures.lanes.light_budget import balance_words
from fotonomy.figures.lanes.long_exposure import (
    passing_words,
    trail_words,
)
from fotonomy.figures.lanes.motion import CADENCE_KINDS, motion_words
from fotonomy.figures.lanes.ramp import ramp_words, setting_words
from fotonomy.figures.lanes.travelling_smear import passing_figure
from fotonomy.figures.monitor.reading_holds import reading_holds
from fotonomy.figures.monitor.scopes import scope_marks
from fotonomy.figures.svg import Size
from fotonomy.figures.tiles import tile_figure
from fotonomy.shoots.presenters.layout import Layout, Screen, layout_of
from fotonomy.shoots.presenters.level_lane import LevelView
from fotonomy.shoots.presenters.working import loose
from fotonomy.simulators.monitor import SCOPES

_NOTHING = SafeString("")


@dataclass(frozen=True, slots=True)
class TileView:
    """One tile as the template draws it.

    ``kind`` is good, warn, bad, none or ask (nobody said what it rests on), with a ``mark`` of its
    own shape; ``verdict`` says it, and there are ``more`` findings behind it. ``figures`` are the
    drawing and, on the stage, what belongs to it. ``to`` is where its name leads: open, or closed
    again. ``number`` is its key, ``numbers`` where it is said how its numbers came about.
    """

    name: str
    label: str
    note: str
    number: str
    kind: str
    mark: str
    verdict: str
    more: int
    line: str
    figures: tuple[SafeString, ...]
    opened: bool
    spans: bool
    to: str
    template: str
    numbers: str = ""


@dataclass(frozen=True, slots=True)
class Scope:
    """How large the monitor's picture and scope are in a tile, and the lines over the scope.

    ``image_px`` is the height of the picture of both scopes, of which a tile shows the upper part.
    """

    picture_px: int
    scope_px: int
    height_px: int
    image_px: int
    marks: SafeString
    holds: SafeString = _NOTHING


_MARKS = {"good": "●", "warn": "▲", "bad": "✕", "none": "–", "ask": "?"}


def _more_figures(tile: Tile, analysis: Analysis, size: Size) -> list[str]:
    """What stands under the drawing on the stage."""
    found = []
    if tile is Tile.MOTION and analysis.shake.passing:
        found.append(passing_figure(analysis, size))
    if tile is Tile.MOTION and analysis.setup.lamps and not analysis.setup.single_frame:
        found.append(flicker_figure(analysis, size))
    return found


def _drawn(tile: Tile, analysis: Analysis, size: Size, opened: bool) -> tuple[SafeString, ...]:
    if tile is Tile.PICTURE or (tile is Tile.RAMP and not analysis.setup.run.light_curve):
        return ()
    markup = [tile_figure(tile, analysis, size)]
    if opened:
        markup += _more_figures(tile, analysis, size)
    # Markup from our own figures, which escape every text a person typed.
    return tuple(mark_safe(text) for text in markup)


# What a tile says where no finding does: its verdict, and its line of figures.
def _motion_verdict(a: Analysis) -> str:
    moved = a.motion
    if moved.crossing_s is None:
        return "nothing moves"
    if a.setup.records_stills:
        return f"smears {n.format_number(moved.smear_px, 0 if moved.smear_px >= 10 else 1)} px"
    return moved.cadence.value if moved.cadence is not Cadence.STILL else "stands still"


def _level_verdict(a: Analysis) -> str:
    lost = [tone.name for tone in a.level.tones if tone.clipped_stops > 0]
    if lost:
        return f"{lost[0]} clips, as allowed"
    return f"nothing clips, {n.format_stops(a.level.room_left_stops)} in hand"


def _focus_verdict(a: Analysis) -> str:
    focus, setup = a.focus, a.setup
    if focus.far_m == float("inf"):
        return f"sharp from {said_reach(setup, focus.near_m)} on"
    depth = said_depth(setup, focus.depth_m)
    if setup.subject_depth_m > 0:
        return f"{depth} sharp, {said_depth(setup, setup.subject_depth_m)} needed"
    return f"sharp for {depth}"


def _noise_verdict(a: Analysis) -> str:
    side = "inside" if a.noise.inside_stops >= 0 else "beyond"
    return f"{n.format_stops(a.noise.inside_stops)} {side} your limit"


def _white_verdict(a: Analysis) -> str:
    if abs(a.white.off_mired) < 1:
        return "fits the light"
    side = "warmer" if a.white.off_mired > 0 else "cooler"
    return f"{n.format_number(abs(a.white.off_mired), 0)} mired {side}"


def _ramp_verdict(a: Analysis) -> str:
    if not a.setup.run.light_curve:
        return "light taken as steady"
    ramp = run_of(a, IntervalRun).ramp
    return f"follows the light in {len(ramp.steps)} changes" if ramp.steps else "nothing to change"


def _cycle_verdict(a: Analysis) -> str:
    cycle = run_of(a, IntervalRun).cycle
    return f"fits, {n.format_number(cycle.idle_s, 2)} s to spare" if cycle.fits else "just fits"


def _burst_verdict(a: Analysis) -> str:
    present = run_of(a, Burst).present
    return f"{n.format_share(present.chance)} to catch the moment"


VERDICTS: dict[Tile, Callable[[Analysis], str]] = {
    Tile.RUN: lambda a: f"{run_of(a, IntervalRun).frames} frames, "
                        f"{n.format_duration(a.clip.screen_s)} on screen",
    Tile.CYCLE: _cycle_verdict,
    Tile.BURST: _burst_verdict,
    Tile.TRAIL: lambda a: trail_words(run_of(a, LongExposure)),
    Tile.LIGHT: lambda a: balance_words(a.budget),
    Tile.RAMP: _ramp_verdict,
    Tile.MOTION: _motion_verdict,
    Tile.LEVEL: _level_verdict,
    Tile.FOCUS: _focus_verdict,
    Tile.NOISE: _noise_verdict,
    Tile.WHITE: _white_verdict,
    Tile.CLIP: lambda a: f"{n.format_duration(a.clip.screen_s)} on screen",
}  # fmt: skip


def _ramp_line(a: Analysis) -> str:
    if not a.setup.run.light_curve:
        return "say what the light will be, or take it from the sun"
    ramp = run_of(a, IntervalRun).ramp
    return setting_words(ramp) if ramp.steps else ramp_words(ramp)


def _remote_line(run: IntervalRun) -> str:
    remote = run.intervalometer
    exposure = f"hold {n.format_number(remote.exposure_s)} s" if remote.bulb else "tap"
    count = "no count" if remote.count is None else f"{remote.count} frames"
    return f"on the remote: {exposure}, every {n.format_number(remote.interval_s, 2)} s, {count}"


# From so far off the start the worst frame's level is said as such.
WORST_SAID_STOPS = 0.1


def _lux(a: Analysis) -> str:
    ev = float(a.budget.ev100)
    text = n.format_compact(illuminance_lx(ev))
    return text if a.names is None else loose(text, "light.lux", ev100=ev)


def _level_line(a: Analysis) -> str:
    zebra = a.level.zebra_one
    line = f"{a.setup.profile.name}: zebra 1 {zebra.words} on {zebra.meant_for}"
    off = a.level.error_stops
    if abs(off - a.budget.error_stops) < WORST_SAID_STOPS:
        return line
    # Of a ramp it is the frame that is farthest off that is told.
    return f"{line}; worst frame {n.format_stops(off)} {'over' if off > 0 else 'under'}"


def _noise_line(a: Analysis) -> str:
    lit = n.format_estimate(a.noise.one_stop_buys_iso)
    line = f"looks like {a.noise.looks_like_words}; one stop more light: {lit}"
    # Of a ramp it is the noisiest frame that is told.
    return line if a.noise.iso == a.setup.iso else f"{line}; worst frame, ISO {a.noise.iso}"


def _clip_line(a: Analysis) -> str:
    return f"{size_words(a.clip)} a take, {takes_words(a.clip)}"


LINES: dict[Tile, Callable[[Analysis, LevelView], str]] = {
    Tile.RUN: lambda a, _: f"record {n.format_duration(a.clip.record_s)}, one frame every "
                           f"{n.format_duration(1 / a.setup.frame_rate)}",
    Tile.CYCLE: lambda a, _: _remote_line(run_of(a, IntervalRun)),
    Tile.BURST: lambda a, _: buffer_words(run_of(a, Burst)),
    Tile.TRAIL: lambda a, _: passing_words(run_of(a, LongExposure)),
    Tile.LIGHT: lambda a, _: f"scene light EV {n.format_number(a.budget.ev100)} = "
                             f"{_lux(a)} lux",
    Tile.RAMP: lambda a, _: _ramp_line(a),
    Tile.MOTION: lambda a, _: motion_words(a),
    Tile.LEVEL: lambda a, _: _level_line(a),
    Tile.PICTURE: lambda a, level: level.averaging,
    Tile.FOCUS: lambda a, _: f"{view_words(a)}; {blur_words(a)}",
    Tile.NOISE: lambda a, _: _noise_line(a),
    Tile.WHITE: lambda a, level: level.white_words[0],
    Tile.CLIP: lambda a, _: _clip_line(a),
}  # fmt: skip


def _verdict(tile: Tile, planned: Plan, mine: list[Finding], level: LevelView) -> tuple[str, str]:
    analysis = planned.analysis
    if mine:
        kind = "bad" if mine[0].severity is Severity.STOP else "warn"
        return kind, mine[0].what
    asked = next((one.what for one in planned.questions if tile in one.tiles), None)
    if asked is not None and tile is not Tile.PICTURE:
        return "ask", asked[:1].lower() + asked[1:]
    if tile is Tile.PICTURE:
        return "none", "model of the readings"
    if tile is Tile.RAMP and not analysis.setup.run.light_curve:
        return "none", VERDICTS[tile](analysis)
    moved = analysis.motion
    if tile is Tile.MOTION and moved.crossing_s is not None and not analysis.setup.records_stills:
        # The head and the drawing under it say the same of the cadence.
        return CADENCE_KINDS[moved.cadence], VERDICTS[tile](analysis)
    return "good", VERDICTS[tile](analysis)


def tiles_with(planned: Plan) -> dict[Tile, list[Finding]]:
    """The findings of every tile of a plan, those that ruin most first."""
    tiles = rules_of(planned.analysis.setup).tiles
    found: dict[Tile, list[Finding]] = {tile: [] for tile in tiles}
    for finding in planned.findings:
        found[finding.family.tile_among(tiles)].append(finding)
    return found


def tile_views(
    planned: Plan, level: LevelView, screen: Screen, opened: Tile | None
) -> tuple[TileView, ...]:
    """Every tile of a plan's kind, drawn for where it lies on the screen."""
    analysis = planned.analysis
    tiles = rules_of(analysis.setup).tiles
    layout, found = layout_of(screen, tiles), tiles_with(planned)
    views = []
    for k, tile in enumerate(tiles):
        kind, verdict = _verdict(tile, planned, found[tile], level)
        size = layout.size_of(tile, opened, screen.phone)
        views.append(TileView(
            name=tile.value, label=tile.label, note=tile.note, number=str((k + 1) % 10), kind=kind,
            mark=_MARKS[kind], verdict=verdict, more=max(0, len(found[tile]) - 1),
            line=LINES[tile](analysis, level),
            figures=_drawn(tile, analysis, size, tile is opened), opened=tile is opened,
            spans=tile in layout.spans, to="none" if tile is opened else tile.value,
            template=f"shoots/tiles/{tile.value}.html",
            numbers=analysis.names.many(tile.value) if analysis.names else "",
        ))  # fmt: skip
    return tuple(views)


def scope_view(
    analysis: Analysis, screen: Screen, tiles: tuple[Tile, ...], opened: Tile | None
) -> Scope:
    """The monitor in its tile: 16 by 9, with the waveform beside it as wide as is left.

    On the stage the scopes are whole, as high as the picture; on a phone under it. There the
    readings in the picture can be taken hold of.
    """
    layout: Layout = layout_of(screen, tiles)
    size = layout.size_of(Tile.PICTURE, opened, screen.phone)
    shape = SCOPES.width / SCOPES.height
    if not size.tile:
        stacked = screen.phone
        tall = size.width * 9 / 16 if stacked else (size.width - 4) / (16 / 9 + shape)
        scope = size.width if stacked else tall * shape
        marks = scope_marks(analysis.level, SCOPES, Size(int(scope), 0, size.text_px))
        picture = Size(int(tall * 16 / 9), int(tall), size.text_px)
        holds = reading_holds(analysis.setup.readings, picture)
        return Scope(
            int(picture.width),
            int(scope),
            int(tall),
            int(scope / shape),
            _safe(marks),
            _safe(holds),
        )
    tall = size.height
    wide = min(int(tall * 16 / 9), int(size.width * 0.66))
    scope = size.width - wide - 4
    marks = scope_marks(analysis.level, SCOPES, Size(int(scope), tall, size.text_px))
    image = tall * SCOPES.height / SCOPES.waveform
    return Scope(wide, int(scope), int(tall), int(image), _safe(marks))


def _safe(markup: str) -> SafeString:
    # Markup from our own figure, which escapes every text a person typed.
    return mark_safe(markup)
