"""What the planner offers for a setup, ready for the templates."""

from dataclasses import dataclass

from django.utils.safestring import SafeString, mark_safe

from fotonomy.core.analysis.setup import analyse
from fotonomy.core.notation import writing as n
from fotonomy.core.parsing.table import label_for, said
from fotonomy.core.plan import plans_for
from fotonomy.core.planner.cost import WISH
from fotonomy.core.planner.exposure_modes import Advice, mode_advice
from fotonomy.core.planner.plans import Solution
from fotonomy.core.planner.presets import Preset, preset_for
from fotonomy.core.planner.relaxation import Relaxation, said_out
from fotonomy.core.spec.intent import CRITERIA
from fotonomy.core.spec.kind import Kind
from fotonomy.core.spec.setup import HOLDABLE
from fotonomy.exchange.changes_json import press_of
from fotonomy.figures.lanes.light_budget import balance_words
from fotonomy.figures.planner.small_budget import small_budget_figure, span_of
from fotonomy.shoots.editing.apply import Edit
from fotonomy.shoots.models import Setup
from fotonomy.shoots.presenters.working import names_for, with_changes

# A criterion that costs less than this is not worth a line.
LEAST_COST = 0.02
MOST_COSTS = 3


@dataclass(frozen=True, slots=True)
class BecauseView:
    """One setting of a plan: its name, its value, why, and how it stands now."""

    label: str
    value: str
    why: str
    moved: bool


@dataclass(frozen=True, slots=True)
class PlanCard:
    """One plan beside the others; ``take`` is what is sent to take it, empty if it stands.

    ``unmet`` says first what was asked for and cannot be had. ``numbers`` is where it is said how
    its numbers come about.
    """

    title: str
    unmet: tuple[str, ...]
    figure: SafeString
    balance: str
    because: tuple[BecauseView, ...]
    gains: tuple[str, ...]
    losses: tuple[str, ...]
    costs: tuple[str, ...]
    score: str
    take: str
    numbers: str


@dataclass(frozen=True, slots=True)
class WayView:
    """A way out: its words, and what is sent to take it (empty for what money has to do)."""

    label: str
    why: str
    take: str


@dataclass(frozen=True, slots=True)
class PresetView:
    """A starting point: for what subject, what it sets and why."""

    moving: bool
    because: tuple[BecauseView, ...]
    summary: str


@dataclass(frozen=True, slots=True)
class PlansView:
    """Everything the planner's panel takes."""

    cards: tuple[PlanCard, ...]
    summary: str
    left_out: tuple[str, ...]
    missing: str
    ways: tuple[WayView, ...]
    starts: tuple[PresetView, ...]
    advice: Advice
    numbers: str


def plans_view(edit: Edit) -> PlansView:
    """Search, and put what was found beside each other."""
    spec = edit.spec
    answer = plans_for(spec)
    found = [one for one in (answer.best, *answer.alternatives) if one is not None]
    span = span_of([one.analysis.budget for one in found]) if found else (0.0, 1.0)
    free = [label_for(spec.kind, name) for name in HOLDABLE if name not in spec.held]
    plural = "" if answer.combinations == 1 else "s"
    words = f"{answer.combinations:,} combination{plural} of ".replace(",", "\u202f")
    nothing = "nothing is free: " if not free else ""
    named = ", ".join(map(said, free))
    return PlansView(
        cards=tuple(_card(edit.row, one, span) for one in found),
        summary=f"{nothing}{words}{named or 'what is held'}",
        left_out=answer.left_out,
        missing=_missing(spec.kind, answer.missing_stops, answer.blocking)
        if answer.best is None
        else "",
        ways=tuple(_way(way) for way in answer.relaxations),
        starts=tuple(_start(preset_for(spec, spec.kind, moving)) for moving in (True, False)),
        advice=mode_advice(analyse(spec)),
        numbers=names_for(edit.row).of("all"),
    )


def _missing(kind: Kind, stops: float | None, blocking: tuple[str, ...]) -> str:
    names = [label_for(kind, name) for name in blocking]
    alone = " or ".join(f"the {said(name)}" for name in names)
    way_out = f"Let {alone} change?" if alone else "No single setting is to blame."
    if stops is None:
        return f"No plan: a held value is beyond this gear. {way_out}"
    side = "too much" if stops > 0 else "too little"
    return f"No plan: at the least {n.format_stops(stops)} {side} light. {way_out}"


def _card(row: Setup, one: Solution, span: tuple[float, float]) -> PlanCard:
    judged, kind = one.candidate.judgement, one.candidate.setup.kind
    moved = {change.setting for change in one.changes}
    costs = sorted(judged.costs.items(), key=lambda pair: -pair[1])
    worth = [
        (name, cost) for name, cost in costs if cost >= LEAST_COST and name not in (WISH, "change")
    ]
    return PlanCard(
        title=one.title,
        unmet=one.unmet,
        # Markup from our own figure, which escapes what a person typed.
        figure=mark_safe(small_budget_figure(one.analysis.budget, span, one.title)),
        balance=balance_words(one.analysis.budget),
        because=tuple(
            BecauseView(label_for(kind, b.setting), b.value, b.why, b.setting in moved)
            for b in one.because
        ),
        gains=one.gains,
        losses=one.losses,
        costs=tuple(
            f"{CRITERIA[name][0]}: {_shortfall_words(name, judged.shortfalls[name])}, costs "
            f"{n.format_number(cost, 2)}"
            for name, cost in worth[:MOST_COSTS]
        ),
        score=n.format_number(judged.score - judged.costs.get(WISH, 0.0), 2),
        take=press_of(one.changes),
        numbers=names_for(row, with_changes(one.changes)).of("all"),
    )


def _shortfall_words(name: str, value: float) -> str:
    if name == "glass":
        return f"{n.format_number(value)} piece{'' if value == 1 else 's'}"
    return n.format_stops(value)


def _way(way: Relaxation) -> WayView:
    return WayView(way.label, way.why, press_of(way.changes))


def _start(start: Preset) -> PresetView:
    labelled = tuple(
        BecauseView(label_for(start.kind, b.setting), b.value, b.why, False) for b in start.because
    )
    balance = "does not balance here; the planner then says what would"
    if start.solution is not None:
        balance = balance_words(start.solution.analysis.budget)
    words = ", ".join(said_out(start.setup, one.setting) for one in start.because)
    return PresetView(start.moving, labelled, f"{words} · {balance}")
