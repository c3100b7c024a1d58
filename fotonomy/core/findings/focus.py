"""Findings about focus: what the lens reaches, what is sharp, and what diffraction takes."""

from collections.abc import Iterator
from dataclasses import dataclass
from math import inf

from fotonomy.core import constants as c
from fotonomy.core.analysis.setup import Analysis
from fotonomy.core.exposure.scales import Option
from fotonomy.core.findings import fixes as fx
from fotonomy.core.findings.finding import Family, Finding, Fix, Harm, Severity
from fotonomy.core.notation import writing as n
from fotonomy.core.notation.spoken import (
    iris_text,
    said_depth,
    said_distance,
    said_length,
    said_reach,
)
from fotonomy.core.optics.depth_of_field import iris_for_depth
from fotonomy.core.spec.changes import Change
from fotonomy.core.spec.setup import Setup
from fotonomy.core.tiles import Tile

OUT_OF_REACH = Family("focus.out_of_reach", Harm.PICTURE_LOST, Tile.FOCUS)
DEPTH_SHORT = Family("focus.depth_short", Harm.PRICE, Tile.FOCUS)
THINNER_THAN_SUBJECT = Family("focus.thinner_than_subject", Harm.PRICE, Tile.FOCUS)
DIFFRACTION = Family("focus.diffraction", Harm.PRICE, Tile.FOCUS)

# Stops beyond two pixels from which diffraction is worth a word. Common practice, no source.
DIFFRACTION_SEEN_STOPS = 1.5


def reach(analysis: Analysis) -> Iterator[Finding]:
    """A subject nearer than the lens focuses, or farther than it does with tubes on."""
    setup, span = analysis.setup, analysis.focus.reach
    at = setup.subject_distance_m
    if span is None or span.near_m * 0.999 <= at <= span.far_m * 1.001:
        return
    near = at < span.near_m
    limit = span.near_m * 1.001 if near else span.far_m * 0.999
    ways = []
    if limit >= c.DISTANCE_RANGE_M[0]:
        label = f"{'go back' if near else 'go in'} to {said_distance(setup, limit)}"
        ways.append(Fix(label, (Change("subject_distance_m", round(limit, 4)),), 0.0))
    if setup.tubes and not near:
        ways.append(Fix("take the tubes off", (Change("tubes", ()),), 0.0))
    yield Finding(
        OUT_OF_REACH, Severity.STOP,
        f"{setup.lens.name} does not focus {'that near' if near else 'that far with its tubes'}",
        f"{said_distance(setup, at)} away; it focuses from "
        f"{said_distance(setup, span.near_m)}"
        + ("" if span.far_m == inf else f" to {said_distance(setup, span.far_m)}"),
        at, "m", tuple(ways),
    )  # fmt: skip


@dataclass(frozen=True, slots=True)
class DepthOffer:
    """The iris that holds the wanted depth, what balances it, and the stops still missing.

    ``balanced_by`` says what else moves, empty where nothing does.

    ``left_stops`` is the exposure error then: within a third of a stop the light allows it,
    negative is too little light.
    """

    iris: Option
    fix: Fix
    left_stops: float
    balanced_by: str = ""

    @property
    def allowed(self) -> bool:
        """True if the light allows it."""
        return abs(self.left_stops) <= c.TOLERABLE_WITHIN_STOPS + 1e-6


def depth_offer(analysis: Analysis) -> DepthOffer | None:
    """The widest marked iris that holds the wanted depth; None without a wish or such an iris."""
    needed = analysis.focus.needed_iris
    if analysis.focus.wanted_depth_m is None or needed is None:
        return None
    deep = [o for o in analysis.offers["iris"].options if o.value >= needed * 0.999]
    if not deep:
        return None
    option = min(deep, key=lambda o: float(o.value))
    price = fx.price_stops(analysis.setup, "iris", option.value)
    error = analysis.budget.error_stops
    if abs(error + price) <= c.TOLERABLE_WITHIN_STOPS:
        return DepthOffer(option, fx.fix_to(analysis, "iris", option), error + price)
    # What is held stays where it is: the light has to allow it as it stands.
    free = fx.exposure_fixes(analysis, error + price, settled=analysis.setup.held | {"iris"})
    fix = fx.fix_to(analysis, "iris", option, free[0] if free else None)
    return DepthOffer(option, fix, error + fix.price_stops, free[0].label if free else "")


def needs(setup: Setup, f_number: float | None) -> str:
    """What a depth asks of the iris; an iris that no lens has is never named."""
    if f_number is None or f_number > setup.lens.smallest_f * 1.001:
        return "cannot be sharp at this distance"
    return f"would need {n.format_iris(round(f_number, 1))}"


def depth(analysis: Analysis) -> Iterator[Finding]:
    """Less sharp than wanted."""
    focus, setup = analysis.focus, analysis.setup
    wanted, needed = focus.wanted_depth_m, focus.needed_iris
    if wanted is None or needed is None or focus.depth_m >= wanted * 2**-c.DEPTH_MET_STOPS:
        return
    ways, offer = [], depth_offer(analysis)
    if offer is not None:
        ways.append(offer.fix if offer.allowed else fx.rebalanced(analysis, "iris", offer.iris))
    else:
        # At one field width the depth grows with the square of the distance, or near to it.
        back = setup.subject_distance_m * (wanted / focus.depth_m) ** 0.5 * 1.02
        if back <= c.DISTANCE_RANGE_M[1]:
            changes = (Change("subject_distance_m", round(back, 3)),)
            where = f"go back to {said_reach(setup, back)}"
            if "subject_distance_m" in setup.held:
                where += f" (you held {said_distance(setup, setup.subject_distance_m)})"
            ways.append(Fix(where, changes, 0.0))
    ways.append(Fix(f"accept {said_depth(setup, focus.depth_m)}",
                    (Change("depth_m", round(1000 * focus.depth_m, 1) / 1000),), 0.0))  # fmt: skip
    yield Finding(
        DEPTH_SHORT, Severity.CAUTION, "Less is sharp than you want",
        f"{said_depth(setup, focus.depth_m)} at {iris_text(setup)}; "
        f"{said_length(setup, 'depth_m', wanted)} {needs(setup, needed)}",
        focus.depth_m, "m", tuple(ways),
    )  # fmt: skip


def thinner_than_subject(analysis: Analysis) -> Iterator[Finding]:
    """Less sharp than the subject is deep, where nobody said how deep it should be."""
    focus, setup = analysis.focus, analysis.setup
    enough = setup.subject_depth_m * 2**-c.DEPTH_MET_STOPS
    if focus.wanted_depth_m is not None or focus.depth_m >= enough:
        return
    imaging = setup.imaging
    needed = iris_for_depth(
        imaging.focal_mm, focus.circle_mm, imaging.front_m, setup.subject_depth_m
    )
    deep = [o for o in analysis.offers["iris"].options if needed and o.value >= needed * 0.999]
    ways = (
        [fx.rebalanced(analysis, "iris", min(deep, key=lambda o: float(o.value)))] if deep else []
    )
    depth = max(0.0001, round(1000 * focus.depth_m, 1) / 1000)
    ways.append(
        Fix(
            f"{said_depth(setup, depth)} is meant",
            (Change("depth_m", depth),),
            0.0,
        )
    )
    yield Finding(
        THINNER_THAN_SUBJECT, Severity.CAUTION, "Not all of the subject is sharp",
        f"{said_depth(setup, focus.depth_m)} are sharp of "
        f"{said_depth(setup, setup.subject_depth_m)}, "
        f"front to back; all of it {needs(setup, needed)}",
        focus.depth_m, "m", tuple(ways),
    )  # fmt: skip


def diffraction(analysis: Analysis) -> Iterator[Finding]:
    """Stopped down so far that every point spreads over more than two pixels' worth."""
    over, focus, setup = analysis.focus.diffraction_stops, analysis.focus, analysis.setup
    if over < DIFFRACTION_SEEN_STOPS:
        return
    limit = setup.iris * 2 ** (-(over - DIFFRACTION_SEEN_STOPS * 0.9) / 2)
    wider = [o for o in analysis.offers["iris"].options if o.value <= limit]
    if not wider:
        return
    best = max(wider, key=lambda o: float(o.value))
    if focus.needed_iris is not None and best.value < focus.needed_iris * 0.99:
        # The depth asked for comes first; the wish is met at its price.
        return
    yield Finding(
        DIFFRACTION, Severity.CAUTION, "The iris is so small that the picture softens",
        f"A point spreads over {n.format_number(focus.airy_um)} µm at "
        f"{iris_text(setup)}; two pixels are {n.format_number(focus.two_pixels_um)} µm",
        focus.airy_um, "µm", (fx.rebalanced(analysis, "iris", best),),
    )  # fmt: skip


CHECKS = (reach, depth, thinner_than_subject, diffraction)
