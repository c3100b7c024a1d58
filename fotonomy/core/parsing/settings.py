"""The five settings as people type them: read, held against the gear, and written."""

from typing import Any

from fotonomy.core.errors import RuleError
from fotonomy.core.exposure.scales import (
    OFFERS,
    Offer,
    is_bulb,
    shutter_offer,
    with_setting,
)
from fotonomy.core.gear.body import ShutterStyle
from fotonomy.core.notation import writing as n
from fotonomy.core.notation.reading import (
    parse_density,
    parse_frame_rate,
    parse_iris,
    parse_iso,
    parse_shutter,
)
from fotonomy.core.notation.spoken import iris_text
from fotonomy.core.spec.setup import Setup
from fotonomy.core.units import unit_typed


def parse_setting(setup: Setup, name: str, text: str) -> Any:
    """The value a typed text stands for. Raises RuleError beside the setting."""
    match name:
        case "frame_rate":
            return parse_frame_rate(text, plain_is_interval=setup.kind.traits.has_interval)
        case "shutter":
            return parse_shutter(text, ask_bare=True)
        case "iris":
            number = parse_iris(text)
            return setup.lens.f_number(number) if unit_typed("iris", text) else number
        case "iso":
            return parse_iso(text)
        case "nd_density":
            return parse_density(text)
    raise RuleError(name, "is not a setting", text)


def format_value(name: str, value: Any) -> str:
    """A value of one of the five settings as text that parses back."""
    match name:
        case "frame_rate":
            return n.format_frame_rate(value)
        case "shutter":
            return n.format_shutter(value)
        case "iris":
            return n.format_iris(value)
        case "iso":
            return str(value)
        case "nd_density":
            return n.format_density(value)
    raise RuleError(name, "is not a setting")


def format_setting(setup: Setup, name: str) -> str:
    """The present value as text that parses back."""
    return iris_text(setup) if name == "iris" else format_value(name, getattr(setup, name))


def reachable(setup: Setup, name: str, text: str) -> Any:
    """The value of a setting typed by a person, refused if the gear cannot do it.

    Any f-number within the lens's range and any interval pass, since rings and timers
    have no detents; a shutter may come out longer than the frame, which the plan then
    reports, so that shutter and frame rate can be changed in either order.
    """
    value = parse_setting(setup, name, text)
    _refuse_unreachable(with_setting(setup, name, value), name, text)
    return value


def _refuse_unreachable(setup: Setup, name: str, text: str) -> None:
    body, lens = setup.body, setup.lens
    if name == "iris":
        open_f = lens.widest_at(setup.focal_mm)
        if not open_f * 0.999 <= setup.iris <= lens.smallest_f * 1.001:
            widest, smallest = map(n.format_iris, (open_f, lens.smallest_f))
            raise RuleError("iris", f"{lens.name} goes from {widest} to {smallest}", text)
        return
    if name == "frame_rate" and setup.kind.traits.has_interval:
        if setup.frame_rate > 1:
            raise RuleError("frame_rate", "an interval is 1 s or longer: every 1 s", text)
        return
    if name == "shutter":
        _refuse_shutter(setup, text)
        return
    offer = OFFERS[name](setup)
    if offer.lacks_present:
        near = nearest_marks(offer)
        owner = "Your filters give" if name == "nd_density" else f"{body.name} offers"
        raise RuleError(name, f"{owner} {near}", text)


def _refuse_shutter(setup: Setup, text: str) -> None:
    body = setup.body
    angle = setup.shutter.angle_deg is not None
    if setup.records_stills and angle:
        raise RuleError("shutter", "single pictures need a time, such as 1/50 or 2 s", text)
    if angle and body.shutter_style is ShutterStyle.TIME:
        raise RuleError("shutter", f"{body.name} has times, not angles, such as 1/50", text)
    if not angle and body.shutter_style is ShutterStyle.ANGLE and not setup.records_stills:
        raise RuleError("shutter", f"{body.name} has angles, such as 180°", text)
    if is_bulb(setup) and (setup.single_frame or setup.time_s * setup.frame_rate <= 1.001):
        return
    slowest = max(body.slowest_s, 1 / setup.frame_rate)
    if not body.fastest_s * 0.999 <= setup.time_s <= slowest * 1.001:
        span = f"{n.format_time(body.slowest_s)} to {n.format_time(body.fastest_s)}"
        held = ""
        if setup.kind.traits.has_interval and slowest > body.slowest_s:
            held = f"; a remote holds it longer, up to the interval of {n.format_time(slowest)}"
        raise RuleError("shutter", f"{body.name} goes from {span}{held}", text)
    offer = shutter_offer(setup)
    longer_than_frame = not setup.single_frame and setup.time_s * setup.frame_rate > 1.001
    if offer.lacks_present and not longer_than_frame:
        raise RuleError("shutter", f"{body.name} offers {nearest_marks(offer)}", text)


def nearest_marks(offer: Offer) -> str:
    """The marks on either side of the present value, in words: "0.9 or 1.2"."""
    at = offer.insert_at
    around = [option.mark for option in offer.options[max(0, at - 1) : at + 1]]
    return " or ".join(around) if around else "nothing here"
