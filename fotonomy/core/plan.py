"""From a setup to its plan: the one way through."""

from dataclasses import dataclass

from fotonomy.core.analysis.setup import Analysis, analyse
from fotonomy.core.findings.checks import all_findings
from fotonomy.core.findings.finding import Finding
from fotonomy.core.findings.safety import cautions
from fotonomy.core.kinds import rules_of
from fotonomy.core.readout import ReadoutItem, readout
from fotonomy.core.spec.setup import Setup


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
    return Plan(
        analysis, all_findings(analysis, rules.checks), cautions(setup), readout_of(analysis)
    )


def readout_of(analysis: Analysis) -> tuple[ReadoutItem, ...]:
    """What to set on the camera, what the kind sets first in front."""
    return readout(analysis, rules_of(analysis.setup).first_readout(analysis))
