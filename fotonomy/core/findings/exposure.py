"""Findings about the light budget, the person's ISO ceiling, and glass."""

from collections.abc import Iterator

from fotonomy.core.analysis.setup import Analysis
from fotonomy.core.exposure.light_budget import Balance
from fotonomy.core.findings import fixes as fx
from fotonomy.core.findings.finding import Finding, Severity
from fotonomy.core.notation import writing as n


def exposure(analysis: Analysis) -> Iterator[Finding]:
    """The balance of the light budget."""
    error = analysis.budget.error_stops
    if analysis.budget.verdict in (Balance.BALANCED, Balance.CLOSE):
        return
    side = "over" if error > 0 else "under"
    offered = fx.exposure_fixes(analysis, error)
    best = offered[0].price_stops + error if offered else error
    short = "" if abs(best) <= 0.5 else f"; this gear gets it to {n.format_signed(best)}"
    yield Finding(
        f"exposure.{side}",
        Severity.STOP if analysis.budget.verdict is Balance.RUINED else Severity.CAUTION,
        f"{n.format_stops(error)} {side}",
        f"The budget comes to {n.format_signed(error)} stops{short}",
        error, "stops", offered or fx.more_light(analysis, error),
    )  # fmt: skip


CHECKS = (exposure,)
