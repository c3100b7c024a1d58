"""The plan file: what a setup comes to, as JSON for other programs (docs/formats.md)."""

from dataclasses import asdict, fields, is_dataclass
from math import isfinite
from typing import Any

from fotonomy.core.analysis.interval import IntervalRun
from fotonomy.core.analysis.setup import Analysis
from fotonomy.core.compare.exposure_strategies import ExposureStrategies, compare_strategies
from fotonomy.core.exposure.metering import claims
from fotonomy.core.exposure.ramp import RampPlan
from fotonomy.core.plan import Plan
from fotonomy.core.planner.plans import Solutions


def plan_to_data(plan: Plan) -> dict[str, Any]:
    """Every number of a plan with its unit in the key, findings and fixes included."""
    analysis = plan.analysis
    setup, flicker = analysis.setup, analysis.flicker
    return {
        "format": "fotonomy-plan",
        "version": 2,
        "setup": {"code": setup.code, "title": setup.title, "kind": setup.kind.value},
        "readout": [asdict(item) for item in plan.readout],
        "budget": {
            "ev100": analysis.budget.ev100,
            "lines": [asdict(line) for line in analysis.budget.lines],
            "error_stops": analysis.budget.error_stops,
            "target_stops": analysis.budget.target_stops,
            "verdict": analysis.budget.verdict.value,
        },
        "shutter": {
            "time_s": setup.time_s,
            "angle_deg": setup.shutter.degrees(setup.frame_rate),
            "mains_ripple_left": flicker.ripple,
            "mains_safe": flicker.safe,
        },
        "motion": asdict(analysis.motion),
        "camera_and_hand": asdict(analysis.shake),
        "focus": _finite(asdict(analysis.focus)),
        "level": asdict(analysis.level),
        "meters": [asdict(claim) for claim in claims(setup.readings, analysis.level)],
        "schools": _schools(compare_strategies(setup)),
        "noise": asdict(analysis.noise),
        "white": asdict(analysis.white),
        "clip": asdict(analysis.clip),
        "run": _run(analysis),
        "nd_pieces": list(analysis.stack.pieces) if analysis.stack else None,
        "nd_wheel": analysis.stack.wheel if analysis.stack else None,
        "findings": [asdict(finding) for finding in plan.findings],
        "cautions": list(plan.cautions),
    }


def _run(analysis: Analysis) -> dict[str, Any] | None:
    """What the kind of a setup adds; None for video. Ramps are given by their changes."""
    run = analysis.run
    if run is None:
        return None
    if not isinstance(run, IntervalRun):
        whole: dict[str, Any] = _finite(asdict(run))
        return whole
    data = {
        field.name: getattr(run, field.name)
        for field in fields(run)
        if field.name not in ("ramp", "floating", "ends")
    }
    data = {
        key: asdict(value) if is_dataclass(value) and not isinstance(value, type) else value
        for key, value in data.items()
    }
    data["program"] = data.pop("intervalometer")
    data["ends"] = run.ends.isoformat() if run.ends else None
    data["ramp"], data["floating"] = _ramp(run.ramp), run.floating and _ramp(run.floating)
    whole = _finite(data)
    return whole


def _ramp(ramp: RampPlan) -> dict[str, Any]:
    return {
        "school": ramp.school.value, "largest_step_stops": ramp.largest_step_stops,
        "limit_at_s": ramp.limit_at_s, "end_miss_stops": ramp.end_miss_stops,
        "steps": [
            {"frame": step.frame, "at_s": step.at_s, "lifts_nd": step.lifts_nd,
             **asdict(step.rung)}
            for step in ramp.steps
        ],
    }  # fmt: skip


def _schools(found: ExposureStrategies) -> dict[str, Any]:
    return {
        "chosen": found.chosen.value,
        "advised": found.advised.value,
        "because": found.because,
        "all": [
            {
                "school": one.placing.school.value,
                "applies": one.placing.applies,
                "offset_stops": one.placing.offset_stops,
                "post_stops": one.placing.post_stops,
                "reason": one.placing.reason,
                "levels_percent": {tone.name: tone.percent for tone in one.level.tones},
                "clipped_stops": {tone.name: tone.clipped_stops for tone in one.clipped},
                "looks_like_iso": one.looks_like_iso,
                "inside_limit_stops": one.inside_stops,
                "headroom_left_stops": one.headroom_left_stops,
                "work": one.work,
            }
            for one in found.all
        ],
    }


def solutions_to_data(found: Solutions) -> dict[str, Any]:
    """What the planner offers: plans with reasons and prices, or what stands in the way."""
    plans = [one for one in (found.best, *found.alternatives) if one is not None]
    return {
        "format": "fotonomy-plans",
        "version": 1,
        "combinations": found.combinations,
        "left_out": list(found.left_out),
        "plans": [
            {
                "title": one.title,
                "score": one.candidate.score,
                "error_stops": one.analysis.budget.error_stops,
                "because": [asdict(reason) for reason in one.because],
                "regrets_stops": one.candidate.judgement.shortfalls,
                "costs": one.candidate.judgement.costs,
                "gains": list(one.gains),
                "losses": list(one.losses),
                "changes": [asdict(change) for change in one.changes],
            }
            for one in plans
        ],
        "missing_stops": found.missing_stops,
        "blocking": list(found.blocking),
        "remedies": [asdict(way) for way in found.relaxations],
    }


def _finite(data: Any) -> Any:
    """The same with null for what has no end: JSON knows no infinity."""
    if isinstance(data, dict):
        return {key: _finite(value) for key, value in data.items()}
    if isinstance(data, list | tuple):
        return [_finite(value) for value in data]
    return None if isinstance(data, float) and not isfinite(data) else data
