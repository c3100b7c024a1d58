"""What the planner offers for a setup, ready for the templates."""

from dataclasses import dataclass

from django.utils.safestring import SafeString, mark_safe

from fotonomy.core.analysis.setup import Analysis, analyse
from fotonomy.core.notation import writing as n
from fotonomy.core.notation.spoken import said_distance
from fotonomy.core.parsing.table import label_for, said
from fotonomy.core.plan import plans_for
from fotonomy.core.planner.exposure_modes import Advice, mode_advice
from fotonomy.core.planner.letting_go import LetGo, let_go
from fotonomy.core.planner.plans import Because, Solution, off_base_stops
from fotonomy.core.planner.presets import Preset, preset_for
from fotonomy.core.planner.relaxation import Relaxation, said_out
from fotonomy.core.spec.changes import Change
from fotonomy.core.spec.intent import CRITERIA, emphasis_word
from fotonomy.core.spec.kind import Kind
from fotonomy.core.spec.setup import FRAMING, HOLDABLE, SETTINGS
from fotonomy.core.spec.setup import Setup as Spec
from fotonomy.exchange.changes_json import press_of
from fotonomy.figures.lanes.light_budget import balance_words, miss_words, verdict_kind
from fotonomy.figures.planner.plan_rows import axis_figure, plan_figure
from fotonomy.figures.planner.small_budget import span_of
from fotonomy.figures.svg import PHONE_PX, Size
from fotonomy.shoots.editing.apply import Edit
from fotonomy.shoots.models import Setup
from fotonomy.shoots.presenters.layout import Screen
from fotonomy.shoots.presenters.working import names_for, with_changes

# The drawing of a row beside its chips, in px, and what a phone's page has for it.
WIDE_ROW = 400.0
BASE_STOPS = 0.05


@dataclass(frozen=True, slots=True)
class Chip:
    """One thing to set: its value, a word under it, and whether it is held or moves."""

    value: str
    note: str
    held: bool
    moved: bool


@dataclass(frozen=True, slots=True)
class BecauseView:
    """One setting of a plan: its name, its value and why."""

    label: str
    value: str
    why: str


@dataclass(frozen=True, slots=True)
class PlanRow:
    """One row: the setup as it stands, or one plan; ``take`` is what is sent to take it.

    ``kind`` is how its miss is coloured: good, warn, bad or unsaid. ``unmet`` says first what was
    asked for and cannot be had. ``numbers`` is where it is said how its numbers come about.
    """

    title: str
    miss: str
    kind: str
    chips: tuple[Chip, ...]
    figure: SafeString
    unmet: tuple[str, ...]
    gains: tuple[str, ...]
    losses: tuple[str, ...]
    because: tuple[BecauseView, ...]
    take: str
    numbers: str


@dataclass(frozen=True, slots=True)
class WayView:
    """A way out: its words, and what is sent to take it (empty for what money has to do)."""

    label: str
    why: str
    take: str


@dataclass(frozen=True, slots=True)
class HeldView:
    """What letting one held setting move would bring; ``take`` is empty where it brings nothing."""

    here: str
    words: str
    take: str


@dataclass(frozen=True, slots=True)
class PresetView:
    """A starting point: for what subject, what it sets and why."""

    moving: bool
    because: tuple[BecauseView, ...]
    summary: str


@dataclass(frozen=True, slots=True)
class PlansView:
    """Everything the planner's panel takes; ``rows`` begin with the setup as it stands."""

    rows: tuple[PlanRow, ...]
    axis: SafeString
    summary: str
    stands: str
    left_out: tuple[str, ...]
    missing: str
    ways: tuple[WayView, ...]
    held: tuple[HeldView, ...]
    matters: tuple[tuple[str, str], ...]
    starts: tuple[PresetView, ...]
    advice: Advice
    numbers: str


def plans_view(edit: Edit, screen: Screen) -> PlansView:
    """Search, and put what was found under the setup as it stands, drawn for a screen."""
    spec, row = edit.spec, edit.row
    answer, now = plans_for(spec), analyse(spec)
    found = [one for one in (answer.best, *answer.alternatives) if one is not None]
    offered = [one for one in found if one.changes]
    span = span_of([now.budget, *(one.analysis.budget for one in offered)])
    size = (
        Size(min(WIDE_ROW, screen.within()), text_px=PHONE_PX) if screen.phone else Size(WIDE_ROW)
    )
    plural = "" if answer.combinations == 1 else "s"
    words = f"{answer.combinations:,} combination{plural}".replace(",", "\u202f")
    free = ", ".join(said(label_for(spec.kind, name)) for name in HOLDABLE if name not in spec.held)
    stands = "No plan is better than what stands." if found and not offered else ""
    weights = ((name, spec.intent.emphasis_on(name)) for name in CRITERIA)
    return PlansView(
        rows=(_now(row, now, span, size), *(_row(row, one, span, size) for one in offered)),
        axis=mark_safe(axis_figure(span, size)),
        summary=f"{words} of {free} looked through" if free else "nothing is free to move",
        stands=stands,
        left_out=answer.left_out,
        missing=_missing(spec.kind, answer.missing_stops, answer.blocking)
        if answer.best is None
        else "",
        ways=tuple(_way(way) for way in answer.relaxations),
        held=tuple(_held(one) for one in let_go(spec, answer.best)) if answer.best else (),
        matters=tuple(
            (CRITERIA[name][0], emphasis_word(times)) for name, times in weights if times != 1
        ),
        starts=tuple(_start(preset_for(spec, spec.kind, moving)) for moving in (True, False)),
        advice=mode_advice(now),
        numbers=names_for(row).of("all"),
    )


def _missing(kind: Kind, stops: float | None, blocking: tuple[str, ...]) -> str:
    names = [label_for(kind, name) for name in blocking]
    alone = " or ".join(f"the {said(name)}" for name in names)
    way_out = f"Let {alone} change?" if alone else "No single setting is to blame."
    if stops is None:
        return f"No plan: a held value is beyond this gear. {way_out}"
    side = "too much" if stops > 0 else "too little"
    return f"No plan: at the least {n.format_stops(stops)} {side} light. {way_out}"


def _now(row: Setup, now: Analysis, span: tuple[float, float], size: Size) -> PlanRow:
    return PlanRow(
        "Now", miss_words(now.budget), verdict_kind(now.budget), chips_of(now, now.setup, ()),
        mark_safe(plan_figure(now.budget, span, size, "what stands")),
        (), (), (), (), "", names_for(row).of("all"),
    )  # fmt: skip


def _row(row: Setup, one: Solution, span: tuple[float, float], size: Size) -> PlanRow:
    there = one.analysis
    return PlanRow(
        title=one.title,
        miss=miss_words(there.budget),
        kind=verdict_kind(there.budget),
        chips=chips_of(there, there.setup, one.changes),
        # Markup from our own figure, which escapes what a person typed.
        figure=mark_safe(plan_figure(there.budget, span, size, one.title)),
        unmet=one.unmet,
        gains=one.gains,
        losses=one.losses,
        because=_because(there.setup, one.because),
        take=press_of(one.changes),
        numbers=names_for(row, with_changes(one.changes)).of("all"),
    )


def chips_of(there: Analysis, setup: Spec, changes: tuple[Change, ...]) -> tuple[Chip, ...]:
    """What to set, in the order of the bench; framing is one chip, the last."""
    moved = {change.setting for change in changes}
    names = [name for name in SETTINGS if name != "frame_rate" or not setup.single_frame]
    chips = [
        Chip(said_out(setup, name), _note(there, name), name in setup.held, name in moved)
        for name in names
    ]
    place = said_distance(setup, setup.subject_distance_m)
    if "lens" in moved:
        place = f"{setup.lens.name}, {place}"
    turned = bool(moved & set(FRAMING))
    return (*chips, Chip(said_out(setup, "focal_mm"), place, False, turned))


def _note(there: Analysis, name: str) -> str:
    """The word under a value: a shutter's other name, the base, the filters."""
    setup = there.setup
    match name:
        case "shutter" if not setup.records_stills:
            angle = f"{n.format_number(setup.shutter.degrees(setup.frame_rate))}°"
            time = n.format_time(setup.time_s)
            return time if said_out(setup, name) != time else angle
        case "iso":
            away = off_base_stops(setup)
            return "base" if away < BASE_STOPS else f"{n.format_stops(away)} from base"
        case "nd_density" if there.stack is not None and there.stack.density:
            return there.stack.said
    return ""


def _because(setup: Spec, found: tuple[Because, ...]) -> tuple[BecauseView, ...]:
    return tuple(BecauseView(label_for(setup.kind, b.setting), b.value, b.why) for b in found)


def _way(way: Relaxation) -> WayView:
    return WayView(way.label, way.why, press_of(way.changes))


def _held(one: LetGo) -> HeldView:
    if not one.there:
        return HeldView(f"{one.here} held", "letting it move gains nothing here", "")
    better = "; ".join(one.gains) or "a better fit"
    price = f"; costs: {'; '.join(one.losses)}" if one.losses else ""
    return HeldView(f"{one.here} held", f"{one.there} would bring {better}{price}",
                    press_of(one.changes))  # fmt: skip


def _start(start: Preset) -> PresetView:
    balance = "does not balance here; the planner then says what would"
    if start.solution is not None:
        balance = balance_words(start.solution.analysis.budget)
    words = ", ".join(said_out(start.setup, one.setting) for one in start.because)
    return PresetView(start.moving, _because(start.setup, start.because), f"{words} · {balance}")
