"""What can be set of a reading of the scene: rows as in the table of a setup's settings.

In forms and in the history a row's name is ``reading-<k>-<name>``.
"""

from collections.abc import Callable
from typing import Any

from fotonomy.core.errors import RuleError
from fotonomy.core.exposure.metering import parse_reading
from fotonomy.core.notation import writing as n
from fotonomy.core.notation.reading import parse_key_stops, parse_quantity
from fotonomy.core.parsing.table import Setting, choice, tick, typed
from fotonomy.core.parsing.white_balance import parse_main_light
from fotonomy.core.ranges import range_of
from fotonomy.core.spec.readings import Reading, Shape, Surface


def _percent(name: str) -> Callable[[str], float]:
    limits = range_of(Reading, name)
    rule = f"percent of the frame from {limits[0]:g} to {limits[1]:g}"
    return lambda text: parse_quantity(name, text, {"": 1.0, "%": 1.0}, limits, rule)


def _name(text: str) -> str:
    said = " ".join(text.split())[:40]
    if not said:
        raise RuleError("name", "a word or two, such as sky", text)
    return said


def _wanted(text: str) -> float | None:
    return None if text.strip().casefold() in ("", "usual", "none") else parse_key_stops(text)


def _share(digits: int) -> Callable[[float], str]:
    return lambda value: f"{n.format_number(value, digits)} %"


def _source(value: float | None) -> str:
    return "main light" if value is None else f"{n.format_number(value, 0)} K"


def _usual(value: float | None) -> str:
    return "usual" if value is None else n.format_signed(value)


READING_SETTINGS: tuple[Setting, ...] = (
    typed("name", "Name", "level", _name, str),
    Setting("stops", "Reads", "level", lambda setup, text: parse_reading(text, setup),
            n.format_signed, "+1.4, EV 13, 900 lux, 450 cd/m², f/4 1/50 ISO 400, or a level: 62 %"),
    choice("surface", "What it is", "level", Surface),
    choice("shape", "Lies as", "level", Shape),
    typed("share_percent", "Fills", "level", _percent("share_percent"), _share(2), "of the frame"),
    typed("x_percent", "From the left", "level", _percent("x_percent"), _share(1)),
    typed("y_percent", "From the top", "level", _percent("y_percent"), _share(1)),
    typed("wanted_stops", "Should land at", "level", _wanted, _usual,
          "stops from grey; usual is the surface's own place"),
    typed("source_k", "Light on it", "level", parse_main_light, _source,
          "K or a light by name, where it differs"),
    tick("key", "key", "level"),
    tick("may_clip", "may be lost", "level"),
)  # fmt: skip


def reading_settings() -> dict[str, Setting]:
    """The rows by their names."""
    return {row.name: row for row in READING_SETTINGS}


def reading_text(reading: Reading, row: Setting) -> str:
    """A reading's value as its field shows it."""
    value: Any = getattr(reading, row.name)
    return row.write(value)
