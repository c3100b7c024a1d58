"""Findings about glass: what does not fit, infrared, stacks, variable ND and polarisers."""

from collections.abc import Iterator

from fotonomy.core import constants as c
from fotonomy.core.analysis.setup import Analysis, equivalent_focal_mm
from fotonomy.core.findings import fixes as fx
from fotonomy.core.findings.finding import Family, Finding, Fix, Harm, Severity
from fotonomy.core.gear.filters import Filter, FilterKind, Mount
from fotonomy.core.notation import writing as n
from fotonomy.core.spec.changes import Change
from fotonomy.core.spec.setup import Setup
from fotonomy.core.tiles import Tile

INFRARED = Family("nd.infrared", Harm.PRICE, Tile.LIGHT)
STACK_VIGNETTES = Family("nd.stack_vignettes", Harm.PRICE, Tile.LIGHT)
VARIABLE_WIDE = Family("nd.variable_wide", Harm.PRICE, Tile.LIGHT)
VARIABLE_END = Family("nd.variable_end", Harm.PRICE, Tile.LIGHT)
POLARISER_WIDE = Family("filter.polariser_wide", Harm.PRICE, Tile.LIGHT)
DOES_NOT_FIT = Family("filter.does_not_fit", Harm.NOTHING_RECORDED, Tile.LIGHT)


def glass(analysis: Analysis) -> Iterator[Finding]:
    """Strong or stacked neutral density."""
    setup, stack = analysis.setup, analysis.stack
    if stack is None:
        return
    weaker = [o for o in analysis.offers["nd_density"].options
              if fx.gain_of(setup, "nd_density", o) > -(c.INFRARED_FROM_STOPS - 0.05)]  # fmt: skip
    if stack.stops >= c.INFRARED_FROM_STOPS - 0.05 and weaker:
        yield Finding(
            INFRARED, Severity.CAUTION, "Strong ND lets infrared through: blacks may turn brown",
            f"ND {n.format_density(stack.density)} takes {n.format_stops(stack.stops)} of "
            "visible light and less of infrared: an ND that cuts infrared keeps blacks black",
            stack.stops, "stops", (fx.rebalanced(analysis, "nd_density", weaker[-1]),),
        )  # fmt: skip
    wide = equivalent_focal_mm(setup)
    single = [s.density for s in analysis.stacks if len(s.pieces) <= 1]
    if len(stack.pieces) > 1 and wide < c.STACK_VIGNETTE_BELOW_MM:
        nearest = min(single, key=lambda density: abs(density - stack.density))
        yield Finding(
            STACK_VIGNETTES, Severity.CAUTION, "Stacked filters may darken the corners",
            f"{len(stack.pieces)} filters in front of {n.format_number(wide, 0)} mm (full-frame "
            f"equivalent); under {c.STACK_VIGNETTE_BELOW_MM:.0f} mm keep to one",
            float(len(stack.pieces)), "filters", (_to(analysis, nearest),),
        )  # fmt: skip


def variable(analysis: Analysis) -> Iterator[Finding]:
    """A variable ND on a wide lens, or turned near its end."""
    setup, stack = analysis.setup, analysis.stack
    if stack is None or stack.turned is None:
        return
    wide = equivalent_focal_mm(setup)
    fixed = [s for s in analysis.stacks if s.turned is None]
    if wide < c.CROSSED_BELOW_MM * 0.999:
        nearest = min(fixed, key=lambda s: abs(s.density - stack.density))
        yield Finding(
            VARIABLE_WIDE, Severity.CAUTION, "A dark cross may show in the picture",
            f"Variable ND at {n.format_number(wide, 0)} mm (full-frame equivalent); keep it to "
            f"{c.CROSSED_BELOW_MM:.0f} mm and longer",
            wide, "mm", (_to(analysis, nearest.density),),
        )  # fmt: skip
    elif stack.near_end:
        weaker = [s for s in analysis.stacks if not s.near_end]
        nearest = min(weaker, key=lambda s: abs(s.density - stack.density))
        yield Finding(
            VARIABLE_END, Severity.CAUTION, "The variable ND is near its end",
            f"Turned {n.format_share(stack.turned)} of the way, where it casts a colour and "
            "darkens unevenly",
            100 * stack.turned, "%",
            (_to(analysis, nearest.density),),
        )  # fmt: skip


def _to(analysis: Analysis, density: float) -> Fix:
    """Another density, and what balances it."""
    options = analysis.offers["nd_density"].options
    option = next(o for o in options if o.value == density)
    return fx.rebalanced(analysis, "nd_density", option)


def polariser(analysis: Analysis) -> Iterator[Finding]:
    """A polariser on a lens so wide that one part of the sky darkens and another does not."""
    setup, wide = analysis.setup, equivalent_focal_mm(analysis.setup)
    on = [piece for piece in setup.filters if piece.kind is FilterKind.POLARISER]
    if not on or wide >= c.CROSSED_BELOW_MM * 0.999:
        return
    yield Finding(
        POLARISER_WIDE, Severity.CAUTION, "The polariser darkens one part of the sky",
        f"At {n.format_number(wide, 0)} mm (full-frame equivalent) the sky gets darker on one "
        f"side than on the other; from {c.CROSSED_BELOW_MM:.0f} mm on it looks even",
        wide, "mm", (_without(setup, on[0]),),
    )  # fmt: skip


def misfits(analysis: Analysis) -> Iterator[Finding]:
    """Glass that does not go where it was put: another thread, a phone, a drone."""
    setup = analysis.setup
    for piece in setup.filters:
        if piece.fits(setup.front):
            continue
        yield Finding(
            DOES_NOT_FIT, Severity.STOP,
            f"{piece.name} does not go on {setup.lens.name}",
            _why_not(setup, piece), piece.thread_mm or 0.0, "mm", (_without(setup, piece),),
        )  # fmt: skip


def _without(setup: Setup, piece: Filter) -> Fix:
    kept = tuple(one for one in setup.filters if one is not piece)
    label = f"take the {piece.name} off" if piece.stops else f"leave {piece.name} off"
    return Fix(label, (Change("filters", tuple(one.name for one in kept)),), piece.stops)


def _why_not(setup: Setup, piece: Filter) -> str:
    """What is in the way, and the ring that would do where one would."""
    thread = setup.lens.thread_mm
    match piece.seat:
        case Mount.CLIP_ON:
            return (
                f"It clips in behind the lens, and the lens of {setup.body.name} does not come off"
            )
        case Mount.SQUARE:
            if not setup.front.carries_box:
                return f"It needs a matte box, and {setup.body.name} carries none"
            size = f" for {n.format_number(thread)} mm" if thread else ""
            return f"It needs a matte box{size}, and none is packed"
    own = n.format_number(piece.thread_mm or 0.0)
    if thread is None:
        return f"It screws on a thread of {own} mm, and this lens has none"
    lens = n.format_number(thread)
    return f"Its thread is {own} mm and the lens's {lens} mm: a ring {lens} to {own} mm would do"


CHECKS = (misfits, glass, variable, polariser)
