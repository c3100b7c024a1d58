"""White balance and delivery, read as people write them."""

import re

from fotonomy.core import constants as c
from fotonomy.core.errors import RuleError
from fotonomy.core.notation.reading import parse_quantity
from fotonomy.core.notation.writing import format_number
from fotonomy.core.tone.white_balance import SOURCES
from fotonomy.core.units import KELVIN_UNITS


def parse_source(text: str) -> float:
    """Colour temperature in K from "3200 K" or the name of a light, such as "open shade"."""
    named = SOURCES.get(" ".join(text.split()).casefold())
    if named is not None:
        return named
    rule = f"K from 1000 to 20 000, or a light: {', '.join(SOURCES)}"
    return parse_quantity("white_k", text, KELVIN_UNITS, c.WHITE_RANGE_K, rule)


def parse_main_light(text: str) -> float | None:
    """The same, or None for the light everything else is judged by."""
    if text.strip().casefold() in ("", "none", "as set", "main light"):
        return None
    return parse_source(text)


def parse_tint(text: str) -> float:
    """Green to magenta: "M10", "G5", "+10", "0"."""
    rule = "green or magenta up to 100, such as M10, G5 or 0"
    found = re.fullmatch(r"\s*([mg])?\s*(.+)", text, re.IGNORECASE)
    if not found:
        raise RuleError("tint_cc", rule, text)
    size = parse_quantity("tint_cc", found[2], {"": 1.0}, c.TINT_RANGE_CC, rule)
    return -size if (found[1] or "").lower() == "g" else size


def format_tint(tint_cc: float) -> str:
    """The inverse of parse_tint."""
    if not tint_cc:
        return "0"
    return f"{'M' if tint_cc > 0 else 'G'}{format_number(abs(tint_cc))}"


def parse_bias(text: str) -> float:
    """Taste in mired, warmer positive: "+15", "-10 mired"."""
    rule = "mired from -200 to 200, warmer is positive, such as +15"
    units = {"": 1.0, "mired": 1.0, "mireds": 1.0}
    return parse_quantity("white_bias_mired", text, units, c.BIAS_RANGE_MIRED, rule)


def parse_delivery(text: str) -> int | None:
    """Width in pixels the picture is delivered at, or None for as recorded."""
    if text.strip().casefold() in ("", "none", "as recorded"):
        return None
    rule = "pixels across from 16 to 100 000, such as 1920, or as recorded"
    return round(parse_quantity("delivery_px", text, {"": 1.0, "px": 1.0}, (16, 100_000), rule))


def parse_averaged(text: str) -> int:
    """How many frames are averaged into one."""
    rule = "a whole number of frames from 1 to 1000"
    value = parse_quantity("averaged_frames", text, {"": 1.0, "frames": 1.0}, (1, 1000), rule)
    if value != int(value):
        raise RuleError("averaged_frames", rule, text)
    return int(value)
