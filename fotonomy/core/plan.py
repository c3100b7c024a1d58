"""From a setup to its plan: the one way through."""

from dataclasses import dataclass, replace

from fotonomy.core.analysis.setup import Analysis, analyse
from fotonomy.core.analysis.traced_analysis import named_analysis
from fotonomy.core.findings.checks import all_findings, questions, urgency
from fotonomy.core.findings.finding import Finding, Fix, Harm, Question, Severity
from fotonomy.core.findings.safety import cautions
from fotonomy.core.kinds import rules_of
from fotonomy.core.planner.plans import Solutions, solve
from fotonomy.core.planner.relaxation import changes_to, words_of
from fotonomy.core.planner.search import Search
from fotonomy.core.readout import ReadoutItem, readout
from fotonomy.core.spec.setup import SETTINGS, Setup
from fotonomy.core.traced_numbers import Names

MOST_FIXES = 3


@dataclass(frozen=True, slots=True)
class Plan:
    """What a setup comes to, what is wrong with it, what nobody said yet, and what to set."""

    analysis: Analysis
    findings: tuple[Finding, ...]
    cautions: tuple[str, ...]
    questions: tuple[Question, ...]
    readout: tuple[ReadoutItem, ...]


def plan(setup: Setup, names: Names | None = None) -> Plan:
    """Plan one setup. Never fails for a valid Setup; trouble is in the findings.

    With ``names`` every number in it, and what is written of it, leads to its working.
    """
    analysis = analyse(setup)
    if names is not None:
        analysis = named_analysis(analysis, names)
    rules = rules_of(setup)
    findings = all_findings(analysis, rules.checks)
    return Plan(
        analysis, _as_the_planner_would(findings, analysis), cautions(setup), questions(analysis),
        readout_of(analysis),
    )  # fmt: skip


def plans_for(setup: Setup) -> Solutions:
    """The planner's answer, with no plan in front that brings worse than it mends."""
    checks = rules_of(setup).checks
    now = all_findings(analyse(setup), checks)

    def brings(other: Setup) -> str:
        there = all_findings(analyse(other), checks)
        return worse_than_mended(now, there)

    return solve(setup, brings)


def worse_than_mended(now: tuple[Finding, ...], there: tuple[Finding, ...]) -> str:
    """What comes new and is worse than anything that goes; "" where nothing is.

    What costs a price or a taste is the planner's to weigh; what ruins the take, or moves wrongly,
    is not.
    """
    had, left = {one.family for one in now}, {one.family for one in there}
    new = [one for one in there if one.family not in had and one.family.harm < Harm.PRICE]
    gone = [urgency(one)[:2] for one in now if one.family not in left]
    worst = min(new, key=lambda one: urgency(one)[:2], default=None)
    if worst is None or any(one <= urgency(worst)[:2] for one in gone):
        return ""
    return worst.what


def _answers(finding: Finding) -> bool:
    """True where settings that the planner may choose would do away with a finding."""
    if finding.family.own_ways:
        return False
    return any(
        fix.changes and not fix.touches_held and all(one.setting in SETTINGS for one in fix.changes)
        for fix in finding.fixes
    )


def _as_the_planner_would(findings: tuple[Finding, ...], analysis: Analysis) -> tuple[Finding, ...]:
    """Findings whose first way out is the best plan with the same things held.

    The planner and the fixes are one mind: whoever presses a fix is where the best plan would
    have taken him, and is not sent on from there. A plan that leaves a finding as it is, or
    ruins the take another way, is no way out of it.
    """
    if not any(_answers(finding) for finding in findings):
        return findings
    setup = analysis.setup
    best = Search(setup).best()
    changes = () if best is None else changes_to(setup, best.setup)
    if best is None or not changes:
        return findings
    there = all_findings(analyse(best.setup), rules_of(setup).checks)
    ruined = {one.family for one in findings if one.severity is Severity.STOP}
    if any(one.severity is Severity.STOP and one.family not in ruined for one in there):
        return findings
    left = {one.family for one in there}
    price = best.judgement.error_stops - analysis.budget.error_stops
    first = Fix(words_of(setup, best.setup), changes, price)
    return tuple(
        _first_of(one, first) if _answers(one) and one.family not in left else one
        for one in findings
    )


def _first_of(finding: Finding, first: Fix) -> Finding:
    others = tuple(fix for fix in finding.fixes if set(fix.changes) != set(first.changes))
    return replace(finding, fixes=(first, *others)[:MOST_FIXES])


def readout_of(analysis: Analysis) -> tuple[ReadoutItem, ...]:
    """What to set on the camera, what the kind sets first in front."""
    return readout(analysis, rules_of(analysis.setup).first_readout(analysis))
