"""The plan file: what a setup comes to, as JSON for other programs (docs/formats.md)."""

from dataclasses import asdict
from typing import Any

from fotonomy.core.plan import Plan


def plan_to_data(plan: Plan) -> dict[str, Any]:
    """Every number of a plan with its unit in the key, findings and fixes included."""
    facts = plan.facts
    setup, flicker = facts.setup, facts.flicker
    return {
        "format": "fotonomy-plan",
        "version": 1,
        "setup": {"code": setup.code, "title": setup.title, "kind": setup.kind.value},
        "readout": [asdict(item) for item in plan.readout],
        "budget": {
            "ev100": facts.budget.ev100,
            "lines": [asdict(line) for line in facts.budget.lines],
            "error_stops": facts.budget.error_stops,
            "verdict": facts.budget.verdict.value,
        },
        "shutter": {
            "time_s": setup.time_s,
            "angle_deg": setup.shutter.degrees(setup.frame_rate),
            "mains_ripple_left": flicker.ripple,
            "mains_safe": flicker.safe,
        },
        "motion": asdict(facts.motion),
        "level": asdict(facts.level),
        "clip": asdict(facts.clip),
        "nd_pieces": list(facts.stack.pieces) if facts.stack else None,
        "findings": [asdict(finding) for finding in plan.findings],
        "cautions": list(plan.cautions),
    }
