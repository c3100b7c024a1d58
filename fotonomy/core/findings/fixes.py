"""Ways out of a finding: which setting to what value, and what that costs in stops."""

from bisect import bisect_left, bisect_right
from math import log2
from typing import Any

from fotonomy.core import constants as c
from fotonomy.core.analysis.setup import Analysis, equivalent_focal_mm
from fotonomy.core.exposure.ramp import HALF_PERIOD_WITHIN
from fotonomy.core.exposure.scales import Option
from fotonomy.core.findings.finding import Fix
from fotonomy.core.gear.neutral_density import density_to_stops
from fotonomy.core.motion.shutter import Shutter, rate_fps
from fotonomy.core.notation.writing import format_density
from fotonomy.core.photometry.exposure_value import Ev100
from fotonomy.core.photometry.stops import aperture_stops, iso_stops, time_stops
from fotonomy.core.spec.changes import Change
from fotonomy.core.spec.intent import ExposureMethod
from fotonomy.core.spec.setup import Setup
from fotonomy.core.tone.placement import placing

# In the order people give things up when light has to go or to come. Common practice, no source.
TAKING_ORDER = ("nd_density", "iso", "iris", "shutter")
GIVING_ORDER = ("nd_density", "iris", "iso", "shutter")


def gain_stops(setup: Setup, name: str, value: Any) -> float:
    """Stops one setting contributes at ``value``: positive gives light."""
    match name:
        case "shutter":
            return -time_stops(value.seconds(setup.frame_rate))
        case "frame_rate":
            return -time_stops(setup.shutter.seconds(value))
        case "iris":
            return -aperture_stops(value)
        case "iso":
            return iso_stops(value)
        case "nd_density":
            return -density_to_stops(value)
    return 0.0


def gain_of(setup: Setup, name: str, option: Option) -> float:
    """The same for an offered value, from what the scale worked out before."""
    if name == "frame_rate":
        return gain_stops(setup, name, option.value)
    if name == "shutter" and option.value.angle_deg is not None:
        return option.gain - log2(rate_fps(setup.frame_rate))
    return option.gain


def price_stops(setup: Setup, name: str, value: Any) -> float:
    """What setting ``name`` to ``value`` does to the exposure, in stops."""
    return gain_stops(setup, name, value) - gain_stops(setup, name, getattr(setup, name))


def _price(setup: Setup, name: str, option: Option) -> float:
    return gain_of(setup, name, option) - gain_stops(setup, name, getattr(setup, name))


def label_of(name: str, option: Option) -> str:
    """A setting as said out loud: "ND 0.9", "ISO 640", "f/4", "1/100"."""
    match name:
        case "nd_density":
            return "no ND" if option.value == 0 else f"ND {format_density(option.value)}"
        case "iso":
            return f"ISO {option.value}"
        case "frame_rate":
            return option.text if option.value < 1 else f"{option.text} fps"
    return option.text


def fix_to(analysis: Analysis, name: str, option: Option, then: Fix | None = None) -> Fix:
    """A fix that sets one setting, followed by what balances it again if given."""
    price = _price(analysis.setup, name, option)
    label = label_of(name, option)
    changes = (Change(name, option.value),)
    held = name in analysis.setup.held
    if then is not None:
        return Fix(
            f"{label} with {then.label}", changes + then.changes,
            price + then.price_stops, held or then.touches_held,
        )  # fmt: skip
    return Fix(label, changes, price, held)


def _best(
    analysis: Analysis, name: str, error: float, aim: tuple[float, float]
) -> tuple[Option, float] | None:
    """The option that brings ``error`` nearest to the middle of ``aim``, and the error left."""
    middle = (aim[0] + aim[1]) / 2
    setup = analysis.setup
    present = gain_stops(setup, name, getattr(setup, name))
    scored = [
        (o, error + gain_of(setup, name, o) - present)
        for o in _about(analysis, name, middle - error + present)
    ]
    if not scored:
        return None
    option, left = min(scored, key=lambda pair: abs(pair[1] - middle))
    return (option, left) if abs(left - middle) < abs(error - middle) - 1e-6 else None


def _about(analysis: Analysis, name: str, gain: float) -> tuple[Option, ...]:
    """The options on either side of a gain: every scale runs one way in stops.

    No ISO over the person's ceiling is proposed, and none under the lowest base.
    """
    options = analysis.offers[name].options
    if name == "nd_density":
        options = glass_to_offer(analysis)
    if not options:
        return ()
    start, end = 0, len(options)
    if name == "iso":
        lowest = analysis.setup.lowest_base
        start = min(bisect_left(options, lowest, key=lambda o: o.value), end - 1)
        end = bisect_right(options, analysis.setup.body.iso_ceiling, key=lambda o: o.value)
    if name == "shutter" and options[0].value.angle_deg is not None:
        # An angle's own gain leaves out the frame rate.
        gain += log2(rate_fps(analysis.setup.frame_rate))
    sign = 1.0 if options[-1].gain >= options[0].gain else -1.0
    at = bisect_left(options, sign * gain, start, end, key=lambda o: sign * o.gain)
    return options[max(start, at - 1) : min(end, at + 1)]


def glass_to_offer(analysis: Analysis) -> tuple[Option, ...]:
    """Densities as they are offered: none of a variable ND on a wide lens."""
    options = analysis.offers["nd_density"].options
    if equivalent_focal_mm(analysis.setup) >= c.CROSSED_BELOW_MM * 0.999:
        return options
    fixed = {stack.density for stack in analysis.stacks if stack.turned is None}
    return tuple(option for option in options if option.value in fixed)


BALANCE_AIM = (-c.TOLERABLE_WITHIN_STOPS, c.TOLERABLE_WITHIN_STOPS)


def exposure_fixes(
    analysis: Analysis,
    error: float,
    aim: tuple[float, float] = BALANCE_AIM,
    settled: frozenset[str] = frozenset(),
    most: int = 3,
) -> tuple[Fix, ...]:
    """Fixes that bring an exposure error into ``aim``, both in stops.

    Single settings first, in the order people give things up; if none is enough, the
    settings together; if all of them are held, held ones too, marked as such. Empty
    only where nothing the gear offers helps at all.
    """
    order = TAKING_ORDER if error > sum(aim) / 2 else GIVING_ORDER
    movable = [name for name in order if name not in settled]
    free = [name for name in movable if name not in analysis.setup.held]
    for names in (free, movable):
        singles = _singles(analysis, names, error, aim)
        if singles:
            return singles[:most]
        together = _together(analysis, names, error, aim)
        if together and aim[0] <= error + together.price_stops <= aim[1]:
            return (together,)
    last = _together(analysis, movable, error, aim)
    return (last,) if last else ()


def _singles(
    analysis: Analysis, names: list[str], error: float, aim: tuple[float, float]
) -> tuple[Fix, ...]:
    found = ((name, _best(analysis, name, error, aim)) for name in names)
    return tuple(
        fix_to(analysis, name, best[0])
        for name, best in found
        if best and aim[0] - 1e-6 <= best[1] <= aim[1] + 1e-6
    )


def _together(
    analysis: Analysis, names: list[str], error: float, aim: tuple[float, float]
) -> Fix | None:
    left, labels, changes, held = error, [], [], False
    for name in names:
        best = _best(analysis, name, left, aim)
        if best is None:
            continue
        option, left = best
        labels.append(label_of(name, option))
        changes.append(Change(name, option.value))
        held = held or name in analysis.setup.held
        if aim[0] <= left <= aim[1]:
            break
    if not changes:
        return None
    return Fix(", ".join(labels), tuple(changes), left - error, held)


def more_light(analysis: Analysis, error: float) -> tuple[Fix, ...]:
    """Where no gear helps: the light to wait for, as far as there is such light."""
    present = analysis.budget.ev100
    ev = round(min(max(present - error, c.EV_RANGE[0]), c.EV_RANGE[1]), 1)
    return (Fix(f"come back at {ev:g} EV", (Change("light", Ev100(ev)),), ev - present),)


def rebalanced(analysis: Analysis, name: str, option: Option) -> Fix:
    """Set one setting and let the others bring the exposure back to where it was."""
    price = _price(analysis.setup, name, option)
    if abs(price) <= c.BALANCED_WITHIN_STOPS:
        return fix_to(analysis, name, option)
    # Which shutters there are depends on the frame rate: they do not move together here.
    settled = frozenset({name, "shutter"} if name == "frame_rate" else {name})
    others = exposure_fixes(analysis, analysis.budget.error_stops + price, settled=settled)
    return fix_to(analysis, name, option, others[0] if others else None)


def half_period(analysis: Analysis) -> Fix | None:
    """The shutter open for half the interval, the light put right; None where nothing is near."""
    options = analysis.offers["shutter"].options
    wanted = 0.5 / analysis.setup.frame_rate
    if not options:
        return None
    near = min(options, key=lambda o: abs(o.value.time_s - wanted))
    if (
        abs(near.value.time_s / wanted - 1) > HALF_PERIOD_WITHIN
        or near.value == analysis.setup.shutter
    ):
        return None
    return rebalanced(analysis, "shutter", near)


def at_rate(analysis: Analysis, rate: Option, shutter: Option) -> Fix:
    """Another frame rate with a shutter that goes with it, and what the two cost."""
    price = price_stops(
        analysis.setup, "shutter", Shutter(time_s=shutter.value.seconds(rate.value))
    )  # fmt: skip
    changes = (Change("frame_rate", rate.value), Change("shutter", shutter.value))
    held = not analysis.setup.held.isdisjoint({"frame_rate", "shutter"})
    return Fix(f"{label_of('frame_rate', rate)} at {shutter.text}", changes, price, held)


def exposing_fix(analysis: Analysis, method: ExposureMethod, label: str) -> Fix:
    now = analysis.budget.target_stops
    then = placing(method, analysis.setup.recorded_profile, analysis.setup.readings).offset_stops
    return Fix(label, (Change("exposing", method),), then - now)
