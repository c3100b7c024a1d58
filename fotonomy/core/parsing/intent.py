"""What is wanted and what moves, read as people write it; the formats stand in ``notation``.

An empty text, "none" or "no" stands for no wish where one can be left out.
"""

import re
from collections.abc import Callable
from typing import TypeVar

from fotonomy.core import constants as c
from fotonomy.core.errors import RuleError
from fotonomy.core.notation import writing as n
from fotonomy.core.notation.reading import parse_quantity
from fotonomy.core.ranges import range_of
from fotonomy.core.spec.intent import EMPHASIS_WORDS, Intent
from fotonomy.core.units import LENGTH_UNITS, SPEED_UNITS, STOP_UNITS

Value = TypeVar("Value")
NOTHING = ("", "none", "no", "-", "off")
WORDS_FOR_HEADINGS = {"across": 90.0, "towards": 0.0, "away": 180.0, "at an angle": 45.0}


def or_none(parse: Callable[[str], Value]) -> Callable[[str], Value | None]:
    """A parser that takes nothing for None."""
    return lambda text: None if text.strip().lower() in NOTHING else parse(text)


def parse_heading(text: str) -> float:
    """Degrees from straight at the camera: "90", "45°", "across", "towards"."""
    word = WORDS_FOR_HEADINGS.get(text.strip().lower())
    if word is not None:
        return word
    return parse_quantity(
        "heading_deg", text, {"": 1.0, "°": 1.0, "deg": 1.0}, (0.0, 180.0),
        "across, towards, or degrees from 0 (at the camera) to 180 (away)",
    )  # fmt: skip


def parse_pan(text: str) -> float:
    """Degrees a second: "10", "10°/s", "90° in 6 s"."""
    rule = "a pan such as 10°/s or 90° in 6 s, at most 2000°/s"
    timed = re.fullmatch(r"\s*(.+?)°?\s+in\s+(.+?)\s*s?\s*", text)
    if timed:
        plain = {"": 1.0, "°": 1.0}
        angle = parse_quantity("pan_deg_s", timed[1], plain, (0.0, 7200.0), rule)
        seconds = parse_quantity("pan_deg_s", timed[2], {"": 1.0}, (0.01, 36_000.0), rule)
        rate = angle / seconds
        if rate > 2000:
            raise RuleError("pan_deg_s", rule, text)
        return rate
    units = {"": 1.0, "°/s": 1.0, "deg/s": 1.0, "°": 1.0}
    return parse_quantity("pan_deg_s", text, units, (0.0, 2000.0), rule)


def parse_travel(text: str) -> float:
    """Metres a second of a travelling camera, in any unit of speed."""
    return parse_quantity(
        "travel_m_s", text, SPEED_UNITS, c.SPEED_RANGE_M_S,
        "a speed from 0 to 3000 m/s, such as 30 km/h or 20 mph",
    )  # fmt: skip


def length_parser(field: str, low_m: float, high_m: float) -> Callable[[str], float]:
    """A parser of metres between two lengths; cm, mm, ft and in may be typed along."""
    span = f"{n.format_length(low_m)} to {n.format_length(high_m)}"

    def parse(text: str) -> float:
        return parse_quantity(
            field, text, LENGTH_UNITS, (low_m, high_m), f"a length from {span}, such as 40 cm"
        )

    return parse


parse_size = length_parser("subject_size_m", *c.SIZE_RANGE_M)
parse_subject_depth = length_parser("subject_depth_m", *c.SIZE_RANGE_M)
parse_depth = or_none(length_parser("depth_m", *c.SIZE_RANGE_M))
parse_background = or_none(length_parser("background_m", *c.DISTANCE_RANGE_M))


def _number(
    field: str, units: dict[str, float], limits: tuple[float, float], rule: str
) -> Callable[[str], float]:
    return lambda text: parse_quantity(field, text, units, limits, rule)


parse_lamp = or_none(_number(
    "lamp_hz", {"": 1.0, "hz": 1.0, "khz": 1000.0, "/s": 1.0}, c.LAMP_RANGE_HZ,
    "pulses a second from 10 to 200000, such as 250 Hz; none for mains only",
))  # fmt: skip
parse_light_change = _number(
    "light_change_stops", STOP_UNITS, (0.0, 20.0), "stops from 0 to 20, such as 1.5"
)
parse_freeze = or_none(_number(
    "freeze_px", {"": 1.0, "px": 1.0, "pixels": 1.0}, (0.05, 10_000.0),
    "pixels from 0.05 to 10000, such as 2 px; none for no wish",
))  # fmt: skip
parse_smear = or_none(_number(
    "smear_percent", {"": 1.0, "%": 1.0}, (0.001, 1000.0),
    "percent of the frame width, such as 2 %; none for no wish",
))  # fmt: skip
parse_slow_factor = _number(
    "slow_factor", {"": 1.0, "x": 1.0, "×": 1.0, "times": 1.0}, (1.0, 100.0),
    "1 to 100 times slower, such as 4",
)  # fmt: skip
_weight_number = _number(
    "weight", {"": 1.0, "x": 1.0, "×": 1.0}, (0.0, 10.0),
    "from 0 to 10, or not at all, less, usual, more",
)  # fmt: skip


def parse_weight(text: str) -> float:
    """How much a criterion counts: a word, or a factor on its own weight. Raises RuleError."""
    word = " ".join(text.lower().split())
    return EMPHASIS_WORDS[word] if word in EMPHASIS_WORDS else _weight_number(text)


def format_weight(times: float) -> str:
    """The word for a factor, or the factor where it has none; what ``parse_weight`` reads."""
    found = next((word for word, factor in EMPHASIS_WORDS.items() if factor == times), "")
    return found or n.format_number(times, 2)


def format_heading(degrees: float) -> str:
    """The heading as people say it."""
    word = next((w for w, d in WORDS_FOR_HEADINGS.items() if abs(d - degrees) < 0.05), None)
    return word or f"{n.format_number(degrees)}°"


def parse_crop(text: str) -> float:
    """Percent that the edit cuts off each side, "none" for nothing."""
    if text.strip().lower() in NOTHING:
        return 0.0
    return parse_quantity(
        "crop_percent", text, {"": 1.0, "%": 1.0}, range_of(Intent, "crop_percent"),
        "percent of the width a side, from 0 to 40, such as 5 %",
    )  # fmt: skip


def parse_tempo(text: str) -> float | None:
    """Beats a minute of the music the clip is cut to; "none" for no music."""
    if text.strip().lower() in NOTHING:
        return None
    return parse_quantity(
        "tempo_bpm", text, {"": 1.0, "bpm": 1.0}, range_of(Intent, "tempo_bpm"),
        "beats a minute from 20 to 400, such as 120; none for no music",
    )  # fmt: skip
