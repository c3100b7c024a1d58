"""What the day has to give a setup, read as people write it."""

import re

from fotonomy.core.errors import RuleError
from fotonomy.core.notation import writing as n
from fotonomy.core.notation.reading import parse_quantity
from fotonomy.core.parsing.intent import or_none
from fotonomy.core.parsing.stills import format_span, parse_span
from fotonomy.core.ranges import range_of
from fotonomy.core.spec.schedule import LONGEST_MIN, SHARP_MIN, Schedule

# The compass in sixteenths, in degrees from true north over east.
POINTS = (
    "N", "NNE", "NE", "ENE", "E", "ESE", "SE", "SSE",
    "S", "SSW", "SW", "WSW", "W", "WNW", "NW", "NNW",
)  # fmt: skip
_LOOK_RULE = "a direction such as 305, 305° or NW; none where it does not matter"


def _degrees(text: str) -> float:
    word = text.strip().upper()
    if word in POINTS:
        return 22.5 * POINTS.index(word)
    degrees = parse_quantity("looks_deg", text, {"": 1.0, "°": 1.0, "deg": 1.0}, (0.0, 360.0),
                             _LOOK_RULE)  # fmt: skip
    return degrees % 360


parse_looks = or_none(_degrees)


def format_looks(degrees: float | None) -> str:
    """The inverse of parse_looks: "305°"."""
    return "none" if degrees is None else f"{n.format_number(degrees, 1)}°"


def compass_point(degrees: float) -> str:
    """The nearest of the sixteen points: 305° is NW."""
    return POINTS[round(degrees / 22.5) % 16]


def parse_prepare(text: str) -> float:
    """Minutes to set up; a bare number is minutes."""
    return _minutes("prepare_min", text, 0.0)


def parse_shoot(text: str) -> float | None:
    """Minutes of the takes; "as usual" or nothing for what the kind needs."""
    if text.strip().lower() in ("", "as usual", "none", "usual"):
        return None
    return _minutes("shoot_min", text, 1.0)


def _minutes(field: str, text: str, least: float) -> float:
    said = f"{text.strip()} min" if re.fullmatch(r"\s*\d+([.,]\d+)?\s*", text) else text
    rule = f"a time such as 20 min or 1 h 30 min, from {least:g} min to a day"
    return parse_span(field, said, (least * 60, LONGEST_MIN * 60), rule) / 60


def format_minutes(minutes: float | None) -> str:
    """The inverse: "1 h 30 min"; "as usual" for None."""
    return "as usual" if minutes is None else format_span(minutes * 60) if minutes else "0 min"


def _hour(text: str) -> float:
    found = re.fullmatch(r"\s*([01]?\d|2[0-3])[:.h]([0-5]\d)\s*", text)
    if not found:
        rule = "a time of day such as 07:20; none for the planned one"
        raise RuleError("wants_at_min", rule, text)
    return 60.0 * int(found[1]) + int(found[2])


parse_hour = or_none(_hour)


def format_hour(minutes: float | None) -> str:
    """Minutes since midnight as a time of day; "none" for None."""
    if minutes is None:
        return "none"
    return f"{int(minutes // 60):02}:{int(minutes % 60):02}"


def parse_within(text: str) -> float:
    """Minutes either side of a fixed hour; "sharp" for as near as a clock is."""
    bare = text.strip().removeprefix("±").removeprefix("+/-").strip()
    return SHARP_MIN if bare.lower() == "sharp" else _minutes("wants_within_min", bare, 0.0)


def format_within(minutes: float) -> str:
    """The inverse."""
    return "sharp" if minutes <= SHARP_MIN else format_minutes(minutes)


def fixed_words(at_min: float, within_min: float) -> str:
    """A fixed hour with what it may be off: "09:30 sharp", "09:30 ±15 min"."""
    sharp = within_min <= SHARP_MIN
    return f"{format_hour(at_min)} {'sharp' if sharp else f'±{format_minutes(within_min)}'}"


def _bound(text: str) -> float:
    return parse_quantity(
        "wants_ev", text, {"": 1.0, "ev": 1.0}, range_of(Schedule, "wants_ev"),
        "EV at ISO 100, such as 9; none for what the setup is planned for",
    )  # fmt: skip


parse_bound = or_none(_bound)


def parse_priority(text: str) -> int:
    """1, 2 or 3; 1 goes first."""
    return round(
        parse_quantity(
            "priority", text, {"": 1.0}, range_of(Schedule, "priority"), "1, 2 or 3; 1 goes first"
        )
    )
