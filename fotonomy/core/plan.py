"""From a setup to its plan: the one way through."""

from dataclasses import dataclass, replace

from fotonomy.core.analysis.setup import Analysis, analyse
from fotonomy.core.findings.checks import all_findings
from fotonomy.core.findings.finding import Finding, Fix
from fotonomy.core.findings.safety import cautions
from fotonomy.core.kinds import rules_of
from fotonomy.core.planner.relaxation import changes_to, words_of
from fotonomy.core.planner.search import Search
from fotonomy.core.readout import ReadoutItem, readout
from fotonomy.core.spec.setup import Setup

# Findings that the planner answers: it and they are one mind.
UNBALANCED = frozenset({"exposure.over", "exposure.under"})
MOST_FIXES = 3


@dataclass(frozen=True, slots=True)
class Plan:
    """What a setup comes to, what is wrong with it, and what to set on the camera."""

    analysis: Analysis
    findings: tuple[Finding, ...]
    cautions: tuple[str, ...]
    readout: tuple[ReadoutItem, ...]


def plan(setup: Setup) -> Plan:
    """Plan one setup. Never fails for a valid Setup; trouble is in the findings."""
    analysis = analyse(setup)
    rules = rules_of(setup)
    findings = tuple(
        _as_the_planner_would(one, analysis) if one.id in UNBALANCED else one
        for one in all_findings(analysis, rules.checks)
    )
    return Plan(analysis, findings, cautions(setup), readout_of(analysis))


def _as_the_planner_would(finding: Finding, analysis: Analysis) -> Finding:
    """The first way out of a light that does not balance is the best plan with the same held."""
    setup = analysis.setup
    best = Search(setup).best()
    if best is None:
        return finding
    changes = changes_to(setup, best.setup)
    price = best.judgement.error_stops - analysis.budget.error_stops
    first = Fix(words_of(setup, best.setup), changes, price)
    others = tuple(fix for fix in finding.fixes if set(fix.changes) != set(changes))
    return replace(finding, fixes=(first, *others)[:MOST_FIXES])


def readout_of(analysis: Analysis) -> tuple[ReadoutItem, ...]:
    """What to set on the camera, what the kind sets first in front."""
    return readout(analysis, rules_of(analysis.setup).first_readout(analysis))
