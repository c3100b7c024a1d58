"""The plan file: what a setup comes to, as JSON for other programs (docs/formats.md).

Its names are its own: where a class of the core calls something otherwise, ``NAMES`` says so, and
the committed schema tells when a name has changed by accident.
"""

from dataclasses import dataclass, fields
from datetime import datetime
from math import isfinite
from typing import Any

from cattrs.gen import make_dict_unstructure_fn, override

from fotonomy.core.analysis.interval import IntervalRun
from fotonomy.core.analysis.ramp_programme import RampLine, ramp_lines
from fotonomy.core.analysis.setup import Shake
from fotonomy.core.compare.exposure_methods import ExposureMethods, compare_methods
from fotonomy.core.exposure.light_budget import Balance, BudgetLine
from fotonomy.core.exposure.metering import Claim, claims
from fotonomy.core.exposure.ramp import RampPlan
from fotonomy.core.findings.finding import Finding, Severity
from fotonomy.core.motion.cadence import Motion
from fotonomy.core.optics.depth_of_field import Focus
from fotonomy.core.plan import Plan
from fotonomy.core.planner.plans import Because, Solutions
from fotonomy.core.readout import ReadoutItem
from fotonomy.core.spec.changes import Change
from fotonomy.core.spec.intent import ExposureMethod
from fotonomy.core.spec.kind import Kind
from fotonomy.core.spec.stills import Ramp
from fotonomy.core.stills.burst import Burst
from fotonomy.core.stills.clip import Clip
from fotonomy.core.stills.long_exposure import LongExposure
from fotonomy.core.tone.noise import Noise
from fotonomy.core.tone.signal_levels import Level
from fotonomy.core.tone.white_balance import White
from fotonomy.core.working.explain import formulas_in
from fotonomy.core.working.written import formula_id
from fotonomy.exchange.changes_json import changes_to_data, text_of
from fotonomy.exchange.converter import converter
from fotonomy.exchange.schema_of import Schema, SchemaOf

PLAN_VERSION, PLANS_VERSION = 6, 3
# What the file calls a field, where the core's class calls it otherwise.
NAMES: dict[type[Any], dict[str, str]] = {IntervalRun: {"intervalometer": "program"}}


@dataclass(frozen=True, slots=True)
class PlannedSetup:
    """Which setup was planned."""

    code: str
    title: str
    kind: Kind


@dataclass(frozen=True, slots=True)
class BudgetPart:
    """The light budget: its lines, its balance and the verdict."""

    ev100: float
    lines: tuple[BudgetLine, ...]
    error_stops: float
    target_stops: float
    verdict: Balance


@dataclass(frozen=True, slots=True)
class ShutterPart:
    """The shutter as time and angle, and what lamps do to it."""

    time_s: float
    angle_deg: float
    mains_ripple_left: float
    mains_safe: bool


@dataclass(frozen=True, slots=True)
class MethodPart:
    """One way of exposing this scene."""

    method: ExposureMethod
    applies: bool
    offset_stops: float
    post_stops: float
    reason: str
    levels_percent: dict[str, float]
    clipped_stops: dict[str, float]
    looks_like_iso: float
    inside_limit_stops: float
    headroom_left_stops: float
    work: str


@dataclass(frozen=True, slots=True)
class MethodsPart:
    """Every way of exposing, the one in force and the one advised."""

    chosen: ExposureMethod
    advised: ExposureMethod
    because: str
    all: tuple[MethodPart, ...]


@dataclass(frozen=True, slots=True)
class RampStepPart:
    """One change of a ramp: before which frame, when, and what is set from then on."""

    frame: int
    at_s: float
    lifts_nd: bool
    time_s: float
    iso: int
    nd_density: float
    gain_stops: float


@dataclass(frozen=True, slots=True)
class RampPart:
    """A ramp by its changes."""

    method: Ramp
    largest_step_stops: float
    limit_at_s: float | None
    end_miss_stops: float
    steps: tuple[RampStepPart, ...]


@dataclass(frozen=True, slots=True)
class ChangePart:
    """One setting, the value it gets, and that value as it would be typed."""

    setting: str
    value: Any
    text: str


@dataclass(frozen=True, slots=True)
class FixPart:
    """A fix of a finding."""

    label: str
    changes: tuple[ChangePart, ...]
    price_stops: float
    touches_held: bool


@dataclass(frozen=True, slots=True)
class FindingPart:
    """A finding with its number, its reason and its fixes."""

    id: str
    severity: Severity
    what: str
    why: str
    number: float
    unit: str
    fixes: tuple[FixPart, ...]


@dataclass(frozen=True, slots=True)
class WorkingPart:
    """How a number came about: its name, its formula and its source, by docs/formulas.md."""

    name: str
    formula: str
    source: str


@dataclass(frozen=True, slots=True)
class QuestionPart:
    """What nobody said yet, and what it is planned with until then."""

    what: str
    why: str


@dataclass(frozen=True, slots=True)
class PlanFile:
    """The whole file, in its order."""

    format: str
    version: int
    setup: PlannedSetup
    readout: tuple[ReadoutItem, ...]
    budget: BudgetPart
    shutter: ShutterPart
    motion: Motion
    camera_and_hand: Shake
    focus: Focus
    level: Level
    meters: tuple[Claim, ...]
    methods: MethodsPart
    noise: Noise
    white: White
    clip: Clip
    run: IntervalRun | Burst | LongExposure | None
    ramp_lines: tuple[RampLine, ...]
    nd_pieces: tuple[str, ...] | None
    nd_wheel: float | None
    questions: tuple[QuestionPart, ...]
    findings: tuple[FindingPart, ...]
    cautions: tuple[str, ...]
    workings: tuple[WorkingPart, ...]


@dataclass(frozen=True, slots=True)
class PlanPart:
    """One plan the planner offers."""

    title: str
    score: float
    error_stops: float
    because: tuple[Because, ...]
    unmet: tuple[str, ...]
    regrets_stops: dict[str, float]
    costs: dict[str, float]
    gains: tuple[str, ...]
    losses: tuple[str, ...]
    changes: tuple[ChangePart, ...]


@dataclass(frozen=True, slots=True)
class RemedyPart:
    """A way out where nothing fits."""

    label: str
    why: str
    changes: tuple[ChangePart, ...]


@dataclass(frozen=True, slots=True)
class PlansFile:
    """What the planner offers, or what stands in the way."""

    format: str
    version: int
    combinations: int
    left_out: tuple[str, ...]
    plans: tuple[PlanPart, ...]
    missing_stops: float | None
    blocking: tuple[str, ...]
    remedies: tuple[RemedyPart, ...]


_writer = converter.copy()


def _ramp_part(ramp: RampPlan) -> RampPart:
    return RampPart(
        ramp.method, ramp.largest_step_stops, ramp.limit_at_s, ramp.end_miss_stops,
        tuple(
            RampStepPart(
                step.frame, step.at_s, step.lifts_nd,
                **{f.name: getattr(step.rung, f.name) for f in fields(step.rung)},
            )
            for step in ramp.steps
        ),
    )  # fmt: skip


_writer.register_unstructure_hook(RampPlan, lambda ramp: _writer.unstructure(_ramp_part(ramp)))
_writer.register_unstructure_hook(datetime, datetime.isoformat)
for _class, _names in NAMES.items():
    _overrides: dict[str, Any] = {own: override(rename=name) for own, name in _names.items()}
    _writer.register_unstructure_hook(
        _class, make_dict_unstructure_fn(_class, _writer, **_overrides)
    )


def plan_to_data(plan: Plan) -> dict[str, Any]:
    """Every number of a plan with its unit in the key, findings and fixes included."""
    analysis = plan.analysis
    setup, budget = analysis.setup, analysis.budget
    made = PlanFile(
        format="fotonomy-plan", version=PLAN_VERSION,
        setup=PlannedSetup(setup.code, setup.title, setup.kind),
        readout=plan.readout,
        budget=BudgetPart(
            budget.ev100, budget.lines, budget.error_stops, budget.target_stops, budget.verdict
        ),
        shutter=ShutterPart(
            setup.time_s, setup.shutter.degrees(setup.frame_rate), analysis.flicker.ripple,
            analysis.flicker.safe,
        ),
        motion=analysis.motion, camera_and_hand=analysis.shake, focus=analysis.focus,
        level=analysis.level,
        meters=claims(setup.readings, analysis.level, analysis.budget.exposure_stops),
        methods=_methods(compare_methods(setup)), noise=analysis.noise, white=analysis.white,
        clip=analysis.clip, run=analysis.run,
        ramp_lines=ramp_lines(setup, analysis.run)
        if isinstance(analysis.run, IntervalRun) else (),
        nd_pieces=analysis.stack.pieces if analysis.stack else None,
        nd_wheel=analysis.stack.wheel if analysis.stack else None,
        questions=tuple(QuestionPart(one.what, one.why) for one in plan.questions),
        findings=tuple(_finding(one) for one in plan.findings), cautions=plan.cautions,
        workings=tuple(
            WorkingPart(name, formula_id(function), quantity.source)
            for name, quantity, function in formulas_in(analysis)
        ),
    )  # fmt: skip
    return _written(made)


def _written(made: Any) -> dict[str, Any]:
    data: dict[str, Any] = _finite(_writer.unstructure(made))
    return data


def _methods(found: ExposureMethods) -> MethodsPart:
    return MethodsPart(found.chosen, found.advised, found.because, tuple(
        MethodPart(
            method=one.placing.method, applies=one.placing.applies,
            offset_stops=one.placing.offset_stops, post_stops=one.placing.post_stops,
            reason=one.placing.reason,
            levels_percent={tone.name: tone.percent for tone in one.level.tones},
            clipped_stops={tone.name: tone.clipped_stops for tone in one.clipped},
            looks_like_iso=one.looks_like_iso, inside_limit_stops=one.inside_stops,
            headroom_left_stops=one.headroom_left_stops, work=one.work,
        )
        for one in found.all
    ))  # fmt: skip


def _changes(changes: tuple[Change, ...]) -> tuple[ChangePart, ...]:
    return tuple(
        ChangePart(name, value, text_of(change))
        for change, (name, value) in zip(changes, changes_to_data(changes), strict=True)
    )


def _finding(one: Finding) -> FindingPart:
    return FindingPart(
        one.id, one.severity, one.what, one.why, one.number, one.unit,
        tuple(
            FixPart(fix.label, _changes(fix.changes), fix.price_stops, fix.touches_held)
            for fix in one.fixes
        ),
    )  # fmt: skip


def solutions_to_data(found: Solutions) -> dict[str, Any]:
    """What the planner offers: plans with reasons and prices, or what stands in the way."""
    offered = [one for one in (found.best, *found.alternatives) if one is not None]
    made = PlansFile(
        format="fotonomy-plans", version=PLANS_VERSION, combinations=found.combinations,
        left_out=found.left_out,
        plans=tuple(
            PlanPart(
                title=one.title, score=one.candidate.score,
                error_stops=one.analysis.budget.error_stops, because=one.because,
                unmet=one.unmet,
                regrets_stops=one.candidate.judgement.shortfalls,
                costs=one.candidate.judgement.costs, gains=one.gains, losses=one.losses,
                changes=_changes(one.changes),
            )
            for one in offered
        ),
        missing_stops=found.missing_stops, blocking=found.blocking,
        remedies=tuple(
            RemedyPart(way.label, way.why, _changes(way.changes)) for way in found.relaxations
        ),
    )  # fmt: skip
    return _written(made)


def _finite(data: Any) -> Any:
    """The same with null for what has no end: JSON knows no infinity."""
    if isinstance(data, dict):
        return {key: _finite(value) for key, value in data.items()}
    if isinstance(data, list | tuple):
        return [_finite(value) for value in data]
    return None if isinstance(data, float) and not isfinite(data) else data


class _PlanSchema(SchemaOf):
    """Names and shapes of files that only leave the program."""

    def of(self, hint: Any) -> Schema:
        if hint is Any:
            return {}
        if hint is datetime:
            return {"type": "string"}
        return super().of(RampPart if hint is RampPlan else hint)

    def object_of(self, cls: Any, names: Any = None) -> Schema:
        made = super().object_of(cls, names)
        own = NAMES.get(cls, {})
        made["properties"] = {own.get(key, key): part for key, part in made["properties"].items()}
        made["required"] = [own.get(key, key) for key in made["required"]]
        return made


def plan_schema() -> Schema:
    """The schema of a plan file."""
    return _schema("A plan", PlanFile)


def plans_schema() -> Schema:
    """The schema of a plans file."""
    return _schema("Plans", PlansFile)


def _schema(title: str, cls: type[Any]) -> Schema:
    schema = _PlanSchema(writes=True)
    made = schema.object_of(cls)
    return schema.file(title, made["properties"], made["required"])
