"""From a setup to its plan: the one way through."""

from dataclasses import dataclass

from fotonomy.core.cautions import cautions
from fotonomy.core.facts import Facts, work_out
from fotonomy.core.finding import Finding
from fotonomy.core.findings import all_findings
from fotonomy.core.readout import ReadoutItem, readout
from fotonomy.core.setup import Setup


@dataclass(frozen=True, slots=True)
class Plan:
    """What a setup comes to, what is wrong with it, and what to set on the camera."""

    facts: Facts
    findings: tuple[Finding, ...]
    cautions: tuple[str, ...]
    readout: tuple[ReadoutItem, ...]


def plan(setup: Setup) -> Plan:
    """Plan one setup. Never fails for a valid Setup; trouble is in the findings."""
    facts = work_out(setup)
    return Plan(facts, all_findings(facts), cautions(setup), readout(facts))
