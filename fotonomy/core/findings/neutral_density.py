"""Findings about glass: infrared, and stacks on wide lenses."""

from collections.abc import Iterator

from fotonomy.core import constants as c
from fotonomy.core.analysis.setup import Analysis, equivalent_focal_mm
from fotonomy.core.findings import fixes as fx
from fotonomy.core.findings.finding import Finding, Severity
from fotonomy.core.notation import writing as n


def glass(analysis: Analysis) -> Iterator[Finding]:
    """Strong or stacked neutral density."""
    setup, stack = analysis.setup, analysis.stack
    if stack is None:
        return
    weaker = [o for o in analysis.offers["nd_density"].options
              if fx.gain_of(setup, "nd_density", o) > -(c.INFRARED_FROM_STOPS - 0.05)]  # fmt: skip
    if stack.stops >= c.INFRARED_FROM_STOPS - 0.05 and weaker:
        yield Finding(
            "nd.infrared", Severity.CAUTION, "Brown blacks, unless the glass cuts infrared",
            f"ND {n.format_density(stack.density)} takes {n.format_stops(stack.stops)} of "
            "visible light but lets infrared through",
            stack.stops, "stops", (fx.rebalanced(analysis, "nd_density", weaker[-1]),),
        )  # fmt: skip
    wide = equivalent_focal_mm(setup)
    single = [s.density for s in analysis.stacks if len(s.pieces) <= 1]
    if len(stack.pieces) > 1 and wide < c.STACK_VIGNETTE_BELOW_MM:
        nearest = min(single, key=lambda density: abs(density - stack.density))
        option = next(o for o in analysis.offers["nd_density"].options if o.value == nearest)
        yield Finding(
            "nd.stack_vignettes", Severity.CAUTION, "Stacked filters may darken the corners",
            f"{len(stack.pieces)} filters in front of {n.format_number(wide, 0)} mm (full-frame "
            f"equivalent); under {c.STACK_VIGNETTE_BELOW_MM:.0f} mm keep to one",
            float(len(stack.pieces)), "filters", (fx.rebalanced(analysis, "nd_density", option),),
        )  # fmt: skip


CHECKS = (glass,)
