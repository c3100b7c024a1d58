"""A setting held between two values, read and written: f/4 to f/8, 500..3200."""

import re
from typing import Any

from fotonomy.core.errors import RuleError
from fotonomy.core.motion.shutter import Shutter
from fotonomy.core.notation import writing as n
from fotonomy.core.parsing.intent import NOTHING
from fotonomy.core.parsing.settings import parse_setting
from fotonomy.core.parsing.table import by_name
from fotonomy.core.spec.setup import SETTINGS, Limit, Setup

LIMIT_EXAMPLES = {
    "frame_rate": "25 to 100", "shutter": "90° to 180°", "iris": "f/4 to f/8",
    "iso": "500 to 3200", "nd_density": "0.3 to 1.8", "focal_mm": "24 to 50 mm",
    "subject_distance_m": "2 m to 5 m",
}  # fmt: skip


_APART = re.compile(r"\s*(?:\bto\b|\.\.|–|—)\s*")


def parse_limit(setup: Setup, name: str, text: str) -> Limit | None:
    """A setting's limits: "f/4 to f/8", "500..3200"; None for nothing. RuleError beside it."""
    if text.strip().lower() in NOTHING:
        return None
    rule = f"two values, the ends allowed, such as {LIMIT_EXAMPLES[name]}"
    parts = _APART.split(text.strip())
    if len(parts) != 2:
        raise RuleError(f"limit_{name}", rule, text)
    try:
        ends = sorted(_value(setup, name, part) for part in parts)
    except RuleError as error:
        raise RuleError(f"limit_{name}", rule, text) from error
    return Limit(name, ends[0], ends[1])


def _value(setup: Setup, name: str, text: str) -> float:
    value: Any = parse_setting(setup, name, text) if name in SETTINGS else (
        by_name()[name].read(setup, text))  # fmt: skip
    return float(value.seconds(setup.frame_rate) if isinstance(value, Shutter) else value)


def is_span(text: str) -> bool:
    """True if a text names two values rather than one."""
    return len(_APART.split(text.strip())) == 2


def format_limit(limit: Limit) -> str:
    """Limits as people write them; parses back."""
    ends = [_text(limit.setting, value) for value in (limit.low, limit.high)]
    return " to ".join(ends)


def _text(name: str, value: float) -> str:
    match name:
        case "shutter":
            return n.format_exact_time(value)
        case "iso":
            return n.format_number(value, 0)
        case "subject_distance_m":
            return f"{n.format_number(value, 3)} m"
    return by_name()[name].write(value)
