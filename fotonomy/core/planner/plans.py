"""What the planner offers: the best plan, really different ones, or what stands in the way."""

from collections.abc import Callable
from dataclasses import dataclass, replace
from math import inf, log2

from fotonomy.core import constants as c
from fotonomy.core.analysis.interval import IntervalRun
from fotonomy.core.analysis.setup import Analysis, analyse
from fotonomy.core.errors import RuleError
from fotonomy.core.gear.neutral_density import density_to_stops
from fotonomy.core.motion.shutter import rate_fps
from fotonomy.core.notation import writing as n
from fotonomy.core.notation.spoken import said_distance
from fotonomy.core.parsing.settings import format_setting
from fotonomy.core.photometry.stops import aperture_stops, iso_stops
from fotonomy.core.planner.cost import WISH, Yardstick, judge
from fotonomy.core.planner.relaxation import (
    Relaxation,
    changes_to,
    glass_for_wishes,
    ways_out,
)
from fotonomy.core.planner.search import Candidate, Only, Search
from fotonomy.core.planner.search_space import times_the_edit
from fotonomy.core.planner.wishes import unmet_wishes
from fotonomy.core.spec.changes import Change
from fotonomy.core.spec.intent import CRITERIA
from fotonomy.core.spec.setup import SETTINGS, Setup

MOST_ALTERNATIVES = 4
# An alternative gains at least this much on what it is offered for, and moves at least that.
GAIN_STOPS = 0.5
DIFFERENT_STOPS = 0.6
IRIS_JUMP_STOPS = 2.0
# A level that comes nearer by less is not worth a line.
SEEN_NEARER_STOPS = 0.2


@dataclass(frozen=True, slots=True)
class Because:
    """One setting of a solution: what it is set to, and why."""

    setting: str
    value: str
    why: str


@dataclass(frozen=True, slots=True)
class Solution:
    """A whole plan a person can take with one press.

    ``unmet`` says what was asked for in numbers and cannot be had from here. ``gains`` and
    ``losses`` are against the setup as it stands. ``changes`` are what taking it sets.
    """

    title: str
    candidate: Candidate
    analysis: Analysis
    because: tuple[Because, ...]
    unmet: tuple[str, ...]
    gains: tuple[str, ...]
    losses: tuple[str, ...]
    changes: tuple[Change, ...]


@dataclass(frozen=True, slots=True)
class Solutions:
    """The planner's whole answer.

    ``missing_stops`` is the least miss where nothing fits: positive is too much light,
    negative too little; None where a setting has nothing to choose from at all.
    ``blocking`` names what is held and alone in the way. ``relaxations`` are the ways out where
    nothing fits; beside a plan that misses a wish, the glass that would bring it.
    """

    best: Solution | None
    alternatives: tuple[Solution, ...]
    combinations: int
    left_out: tuple[str, ...]
    missing_stops: float | None = None
    blocking: tuple[str, ...] = ()
    relaxations: tuple[Relaxation, ...] = ()


def solve(setup: Setup, brings: Callable[[Setup], str] = lambda _: "") -> Solutions:
    """Search every combination of what is free; see ``docs/planner.md`` for how it decides.

    ``brings`` names what a plan would bring that is worse than what it mends, "" for nothing:
    such a plan is offered only where there is no other.
    """
    search = Search(setup)
    best = search.best()
    if best is None:
        nearest = search.nearest()
        missing = nearest.judgement.error_stops if nearest else None
        blocking, ways = ways_out(setup, missing)
        return Solutions(None, (), search.count, tuple(search.left_out), missing, blocking, ways)
    others = sorted(_others(search, best), key=lambda pair: pair[1].score)
    fault = brings(best.setup)
    if fault:
        clean = next((one for _, one in others if not brings(one.setup)), None)
        best, fault = (best, fault) if clean is None else (clean, "")
    chosen = [("Best fit", best)]
    for title, other in others:
        if len(chosen) > MOST_ALTERNATIVES:
            break
        if all(_differs(other.setup, have.setup) for _, have in chosen):
            chosen.append((title, other))
    now = analyse(setup)
    first = outcome("Best fit", best, setup, now)
    if fault:
        first = replace(first, unmet=(*first.unmet, f"It brings something else: {fault}"))
    rest = tuple(outcome(title, one, setup, now) for title, one in chosen[1:])
    glass = glass_for_wishes(setup, lambda one: len(unmet_wishes(analyse(one))))
    return Solutions(first, rest, search.count, tuple(search.left_out), relaxations=glass)


def _others(search: Search, best: Candidate) -> list[tuple[str, Candidate]]:
    """For each criterion the best falls short in: the cheapest plan that does better there."""
    found: list[tuple[str, Candidate]] = []
    titles = {
        "rate": "Nearer the frame rate", "look": "Truer shutter", "cadence": "Smoother motion",
        "smear": "Smear as wanted", "time": "Nearer the time wanted",
        "iris": "Nearer the usual iris", "depth": "Depth as wanted",
        "sharpness": "Less diffraction", "flicker": "Steadier lamps",
        "hand": "Steadier in the hand", "base": "On a base ISO",
        "noise": "Cleaner shadows", "glass": "Fewer filters", "framing": "Framing kept",
    }  # fmt: skip
    for name in CRITERIA:
        short = abs(best.judgement.shortfalls.get(name, 0.0))
        if name == "change" or short < GAIN_STOPS or not search.yardstick.weight(name):
            continue
        other = search.best({name: short - GAIN_STOPS})
        if other is not None:
            found.append((titles[name], other))
    stops = aperture_stops(best.setup.iris)
    for low, high, title in (
        (-99.0, stops - IRIS_JUMP_STOPS, "Wider iris"),
        (stops + IRIS_JUMP_STOPS, 99.0, "Deeper focus"),
    ):
        span = Only(2 ** (low / 2) * 0.99, 2 ** (high / 2) * 1.01)
        if (other := search.best(None, span)) is not None:
            found.append((title, other))
    return found


def _stops_of(setup: Setup) -> tuple[float, ...]:
    return (
        -density_to_stops(setup.nd_density), iso_stops(setup.iso), aperture_stops(setup.iris),
    )  # fmt: skip


def _differs(a: Setup, b: Setup) -> bool:
    """True if two plans are different choices, not neighbours on a scale."""
    if a.lens.name != b.lens.name or abs(a.frame_rate / b.frame_rate - 1) > 0.03:
        return True
    ratio = max(a.time_s / b.time_s, b.time_s / a.time_s)
    apart = max(abs(x - y) for x, y in zip(_stops_of(a), _stops_of(b), strict=True))
    place = abs(a.subject_distance_m / b.subject_distance_m - 1) + abs(a.focal_mm / b.focal_mm - 1)
    return apart >= DIFFERENT_STOPS or ratio >= 2**DIFFERENT_STOPS or place > 0.1


def outcome(title: str, one: Candidate, setup: Setup, against: Analysis | None = None) -> Solution:
    """A candidate with its facts, reasons and price against other facts (or the setup's own)."""
    analysis = analyse(one.setup)
    gains, losses = compare(analyse(setup) if against is None else against, analysis)
    return Solution(
        title, one, analysis, because_of(one, analysis, setup), unmet_wishes(analysis), gains,
        losses, changes_to(setup, one.setup),
    )  # fmt: skip


def compare(a: Analysis, b: Analysis) -> tuple[tuple[str, ...], tuple[str, ...]]:
    """What ``b`` gains and loses against ``a``, in the trade's own numbers."""
    gains: list[str] = []
    losses: list[str] = []

    def note(better: bool, text: str) -> None:
        (gains if better else losses).append(text)

    noise = iso_stops(b.setup.iso) - iso_stops(a.setup.iso)
    if abs(noise) >= 0.3:
        word = "less" if noise < 0 else "more"
        note(noise < 0, f"{n.format_stops(noise)} {word} gain: ISO {b.setup.iso}")
    off_a, off_b = off_base_stops(a.setup), off_base_stops(b.setup)
    if abs(off_b - off_a) >= 0.3:
        where = "on a base ISO" if off_b < 0.05 else f"{n.format_stops(off_b)} from a base ISO"
        note(off_b < off_a, where)
    if b.focus.depth_m != a.focus.depth_m and not _near(a.focus.depth_m, b.focus.depth_m):
        deeper = b.focus.depth_m > a.focus.depth_m
        wanted = a.setup.intent.depth_m
        good = deeper if wanted is None or min(a.focus.depth_m, b.focus.depth_m) < wanted else False
        was = "sharp to infinity" if a.focus.depth_m == inf else n.format_length(a.focus.depth_m)
        note(good, f"{_sharp(b)}, was {was}")
    if a.focus.depth_m == b.focus.depth_m == inf and not _near(a.focus.near_m, b.focus.near_m):
        near, was = (n.format_length(one.focus.near_m) for one in (b, a))
        note(b.focus.near_m < a.focus.near_m, f"sharp from {near} on, was {was}")
    _note_motion(a, b, note)
    _note_run(a, b, note)
    pieces_a, pieces_b = (len(f.stack.pieces) if f.stack else 0 for f in (a, b))
    if pieces_a != pieces_b:
        note(pieces_b < pieces_a, _filters(pieces_b, pieces_a))
    if a.setup.lamps and a.flicker.safe != b.flicker.safe:
        note(b.flicker.safe, "lamps steady" if b.flicker.safe else "lamps flicker")
    nearer = abs(a.budget.error_stops) - abs(b.budget.error_stops)
    if abs(b.budget.error_stops) <= c.TOLERABLE_WITHIN_STOPS and nearer >= SEEN_NEARER_STOPS:
        side = "over" if a.budget.error_stops > 0 else "under"
        words = f"{n.format_stops(abs(a.budget.error_stops))} {side}"
        note(True, f"nearer the target, was {words}")
    if not _near(a.focus.field_width_m, b.focus.field_width_m):
        note(False, f"field {n.format_length(b.focus.field_width_m)} wide, was "
                    f"{n.format_length(a.focus.field_width_m)}")  # fmt: skip
    return tuple(gains), tuple(losses)


def _filters(count: int, before: int) -> str:
    """A number of filters in words, and how many there were."""
    if not count:
        return "no filter needed"
    said = "one filter" if count == 1 else f"{count} filters"
    return f"{said}, was {before or 'none'}"


def _sharp(analysis: Analysis) -> str:
    """The depth of field in words."""
    depth = analysis.focus.depth_m
    return "sharp to infinity" if depth == inf else f"{n.format_length(depth)} sharp"


def off_base_stops(setup: Setup) -> float:
    """Stops a setup's ISO stands from the nearest base of its profile."""
    bases = setup.profile.base_iso or (setup.body.iso_lowest,)
    return min(abs(iso_stops(base) - iso_stops(setup.iso)) for base in bases)


def _off_look(setup: Setup) -> float:
    """Stops from the angle of the setup's method; nothing for single pictures."""
    if setup.records_stills:
        return 0.0
    return abs(log2(setup.shutter.degrees(setup.frame_rate) / setup.intent.look.angle_deg))


def _note_motion(a: Analysis, b: Analysis, note: Callable[[bool, str], None]) -> None:
    if not _near(a.setup.frame_rate, b.setup.frame_rate):
        slower = b.setup.frame_rate > a.setup.frame_rate
        rate, was = (n.format_frame_rate(f.setup.frame_rate) for f in (b, a))
        note(slower, f"{rate}{'' if b.setup.frame_rate < 1 else ' fps'}, was {was}")
    if abs(_off_look(b.setup) - _off_look(a.setup)) >= 0.3:
        angle = n.format_number(b.setup.shutter.degrees(b.setup.frame_rate))
        method = b.setup.intent.look.brief
        note(_off_look(b.setup) < _off_look(a.setup), f"{angle}° where you want {method}")
    if a.motion.crossing_s is None or _near(a.motion.smear_percent, b.motion.smear_percent):
        return
    less = b.motion.smear_percent < a.motion.smear_percent
    note(less, f"smear {n.format_number(b.motion.smear_percent, 2)} %, was "
               f"{n.format_number(a.motion.smear_percent, 2)} %")  # fmt: skip


def _note_run(a: Analysis, b: Analysis, note: Callable[[bool, str], None]) -> None:
    """What another interval does to the event and to the batteries."""
    if not isinstance(a.run, IntervalRun) or not isinstance(b.run, IntervalRun):
        return
    if not _near(a.run.covers_s, b.run.covers_s):
        longer = b.run.covers_s > a.run.covers_s
        lasts, was = (n.format_duration(one.run.covers_s) for one in (b, a))  # type: ignore[union-attr]
        note(not longer, f"the run lasts {lasts}, was {was}")
    if a.run.power is None or b.run.power is None:
        return
    here, there = a.run.power.short_wh, b.run.power.short_wh
    if abs(there - here) > 0.1 * max(here, 0.1):
        text = f"the batteries fall {n.format_number(there)} Wh short"
        was = f"{text}, was {n.format_number(here)}"
        note(there < here, was if there else "the batteries last")


def _near(a: float, b: float) -> bool:
    return abs(a - b) <= 0.1 * max(abs(a), abs(b)) or a == b


def because_of(one: Candidate, analysis: Analysis, setup: Setup) -> tuple[Because, ...]:
    """Why each setting is what it is; ``setup`` says what was held."""
    target = one.setup
    found = []
    for name in SETTINGS:
        if name == "frame_rate" and target.single_frame:
            continue
        value = format_setting(target, name)
        if name in setup.held_from_start & setup.held:
            why = "held from the start for this kind"
        elif name in setup.held:
            why = "held by you"
        else:
            limit = setup.limit_on(name)
            why = _why(name, analysis, setup) + (", within your limits" if limit else "")
        found.append(Because(name, value, why))
    for name, value in (
        ("lens", target.lens.name), ("focal_mm", f"{n.format_number(target.focal_mm)} mm"),
        ("subject_distance_m", said_distance(target, target.subject_distance_m)),
    ):  # fmt: skip
        if name not in setup.held:
            found.append(Because(name, value, _why_there(name, one, setup)))
    return tuple(found)


def _why(name: str, analysis: Analysis, setup: Setup) -> str:
    target = analysis.setup
    match name:
        case "frame_rate":
            if setup.records_stills:
                return "as it was asked for"
            return _why_rate(target)
        case "shutter":
            return _why_shutter(analysis)
        case "iris":
            return _why_iris(analysis)
        case "iso":
            bases = sorted(target.profile.base_iso) or [target.body.iso_lowest]
            near = min(bases, key=lambda base: abs(iso_stops(base) - iso_stops(target.iso)))
            away = iso_stops(target.iso) - iso_stops(near)
            if abs(away) < 0.05:
                return f"a base of {target.profile.name}"
            ceiling = f", your ceiling is {target.body.iso_ceiling}" if away > 0 else ""
            side = "over" if away > 0 else "under"
            return f"{n.format_stops(away)} {side} base {near}{ceiling}"
        case "nd_density":
            if analysis.stack is None or not analysis.stack.density:
                return "no ND needed"
            return f"set {analysis.stack.said}"
    return "as it was"


def _why_rate(target: Setup) -> str:
    speed = f"plays at {100 * rate_fps(target.project_fps) / rate_fps(target.frame_rate):.0f} %"
    times = times_the_edit(target, target.frame_rate)
    if times == 1:
        return "the edit's own"
    if times is not None:
        return f"{times} times the edit's: {speed}"
    edit = n.format_frame_rate(target.project_fps)
    return f"no rate here is the edit's {edit} or a multiple: {speed}, or frames are made up"


def _why_there(name: str, one: Candidate, setup: Setup) -> str:
    """Why a lens, a focal length or a distance: what staying where one is would cost."""
    target = one.setup
    kept = {
        "lens": target.lens.name == setup.lens.name,
        "focal_mm": target.focal_mm == setup.focal_mm,
        "subject_distance_m": target.subject_distance_m == setup.subject_distance_m,
    }[name]
    if kept:
        return "kept"
    try:
        stayed = replace(
            target, lens=setup.lens, focal_mm=setup.focal_mm,
            subject_distance_m=setup.subject_distance_m,
        )  # fmt: skip
    except RuleError:
        return "where this lens has to stand"
    before, after = judge(stayed, Yardstick(setup)).costs, one.judgement.costs
    saved = {k: before.get(k, 0.0) - after.get(k, 0.0) for k in before if k not in ("change", WISH)}
    best = max(saved, key=lambda k: saved[k], default="")
    if not best or saved[best] < 0.02:
        return "goes with the rest"
    return f"better for: {CRITERIA[best][0].lower()}"


def _why_shutter(analysis: Analysis) -> str:
    target, moved = analysis.setup, analysis.motion
    intent = target.intent
    words = []
    if not target.records_stills:
        angle = target.shutter.degrees(target.frame_rate)
        words.append(f"{n.format_number(angle)}° for {intent.look.brief}")
    if target.lamps and analysis.flicker.safe and not target.single_frame:
        words.append("steady under the lamps")
    if moved.crossing_s is not None and (intent.freeze_px or intent.smear_percent):
        words.append(f"smear {n.format_number(moved.smear_px)} px")
    return ", ".join(words) or "what the light asks for"


def _why_iris(analysis: Analysis) -> str:
    wanted = analysis.setup.intent.depth_m
    if wanted is None:
        return f"{_sharp(analysis)}, no depth asked for"
    side = "enough for" if analysis.focus.depth_m >= wanted * 0.99 else "as near as it gets to"
    return f"{_sharp(analysis)}, {side} {n.format_length(wanted)}"
