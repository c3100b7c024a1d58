"""Fields of the kit's forms. Lists are typed as people write them: "25: 100, 50: 150"."""

import re
from collections import Counter
from collections.abc import Callable
from typing import Any

from django import forms

from fotonomy.core.errors import RuleError
from fotonomy.core.notation import writing as n
from fotonomy.core.notation.reading import (
    parse_frame_rate,
    parse_iso,
    parse_quantity,
    parse_shutter,
    whole_number,
)
from fotonomy.core.ranges import kinds_of, range_of
from fotonomy.core.units import LENGTH_UNITS, STOP_UNITS

MOST_ENTRIES = 64


def _number(text: str, field: str, limits: tuple[float, float], rule: str) -> float:
    return parse_quantity(field, text, {"": 1.0, "°": 1.0, "fps": 1.0}, limits, rule)


class ParsedField(forms.CharField):
    """Text read by a function; shown again by another.

    ``needed`` marks a field that cannot be left empty. ``usual`` stands for an empty text.
    """

    def __init__(
        self, parse: Callable[[str], Any], show: Callable[[Any], str], needed: bool = False,
        **options: Any,
    ) -> None:  # fmt: skip
        super().__init__(max_length=1000, **{"required": False, **options})
        self.parse, self.show, self.needed = parse, show, needed
        self.usual: Any = self.initial
        if needed:
            self.widget.attrs["aria-required"] = "true"

    def to_python(self, value: Any) -> Any:
        text = super().to_python(value)
        if not (text or "").strip() and self.usual is not None:
            return self.usual
        try:
            return self.parse(text or "")
        except RuleError as error:
            raise forms.ValidationError(f"{error.rule[:1].upper()}{error.rule[1:]}") from error

    def prepare_value(self, value: Any) -> Any:
        return value if isinstance(value, str) or value is None else self.show(value)

    def has_changed(self, initial: Any, data: Any) -> bool:
        """True if the text is not what was shown: a rounded number that was left alone stays."""
        return (data or "").strip() != (self.prepare_value(initial) or "")

    def validate(self, value: Any) -> None:
        """The parser has the last word."""

    def run_validators(self, value: Any) -> None:
        """Nothing to add: values are no longer text."""


class OwnRowsField(forms.ModelMultipleChoiceField):  # type: ignore[type-arg]
    """Rows by id; what can be no id is no row, and is refused as one that is not there."""

    def clean(self, value: Any) -> Any:
        if any(whole_number(str(key)) is None for key in value or ()):
            raise forms.ValidationError(self.error_messages["invalid_list"])
        return super().clean(value)


def number_field(
    label: str, low: float, high: float, unit: str = "", required: bool = True,
    whole: bool = False, help_text: str = "", initial: float | None = None,
) -> ParsedField:  # fmt: skip
    """A number within limits; a comma is a decimal point and the unit may be typed along."""
    units = STOP_UNITS if unit == "stops" else {"": 1.0, unit.lower(): 1.0}
    rule = f"a number from {low:g} to {high:g} {unit}".strip()

    def parse(text: str) -> float | None:
        if not text and not required:
            return None
        value = parse_quantity(label, text, units, (low, high), rule)
        if whole and value != int(value):
            raise RuleError(label, f"a whole number from {low:g} to {high:g}", text)
        return int(value) if whole else value

    full = f"{label}, {unit}" if unit else label
    return ParsedField(
        parse, lambda v: n.format_number(v, 6), label=full, needed=required,
        help_text=help_text, initial=initial,
    )  # fmt: skip


def number_of(
    spec: type[Any], name: str, label: str, unit: str = "", required: bool = True,
    help_text: str = "", initial: float | None = None,
) -> ParsedField:  # fmt: skip
    """The field of a number of a spec, within the range that the spec itself keeps."""
    whole = int in (kept := kinds_of(spec, name)) and float not in kept
    return number_field(label, *range_of(spec, name), unit, required, whole, help_text,
                        initial)  # fmt: skip


def iso_field(label: str, required: bool = True) -> ParsedField:
    """One ISO value."""
    parse = parse_iso if required else optional(parse_iso)
    return ParsedField(parse, str, label=label, needed=required)


def time_field(label: str) -> ParsedField:
    """One shutter time."""

    def parse(text: str) -> float:
        time_s = parse_shutter(text).time_s
        if time_s is None:
            raise RuleError("shutter", "a time such as 1/8000 or 30 s", text)
        return time_s

    return ParsedField(parse, n.format_exact_time, label=f"{label}, s", needed=True)


def _entries(text: str, rule: str) -> list[str]:
    # A comma followed by a space (or a line end, or a semicolon) parts entries; 23,976 stays whole.
    parts = [part.strip() for part in re.split(r"[;\n]|,\s+|,$", text or "") if part.strip()]
    if len(parts) > MOST_ENTRIES:
        raise RuleError("list", rule, text)
    return parts


def parse_rates(text: str) -> list[dict[str, float | None]]:
    """Frame rates, and the data rates of those that have one of their own: "25, 50, 100: 280".

    None is the data rate of the others.
    """
    rule = "frame rates such as 24, 25, 50; one with its own Mb/s as 100: 280"
    found: dict[float, float | None] = {}
    for entry in _entries(text, rule):
        fps, colon, mb_s = re.sub(r"(?i)mb/s|mbit/s", "", entry).partition(":")
        rate = parse_frame_rate(fps)
        own = _number(mb_s.strip(), "rates", (0.1, 100_000), rule) if colon else None
        found[rate] = own
    if not found:
        raise RuleError("rates", f"at least one: {rule}", text)
    return [{"fps": fps, "mb_s": found[fps]} for fps in sorted(found)]


def number_list(rule: str, low: float, high: float, whole: bool = False) -> Callable[[str], Any]:
    """A parser for a list of numbers, sorted, each once."""

    def parse(text: str) -> list[float]:
        values = sorted(
            {_number(entry, "list", (low, high), rule) for entry in _entries(text, rule)}
        )
        if whole and any(value != int(value) for value in values):
            raise RuleError("list", rule, text)
        return [int(value) for value in values] if whole else values

    return parse


def show_rates(rates: list[dict[str, float | None]]) -> str:
    """The inverse of parse_rates."""
    return ", ".join(
        n.format_number(rate["fps"] or 0.0, 3)
        + ("" if rate["mb_s"] is None else f": {n.format_number(rate['mb_s'], 1)}")
        for rate in rates
    )


def most_common_rate(rates: list[dict[str, Any]]) -> float | None:
    """The data rate that most frame rates of a format share; the lowest of several such."""
    counted = Counter(rate["mb_s"] for rate in rates)
    return min(counted, key=lambda mb_s: (-counted[mb_s], mb_s), default=None)


def show_list(values: list[float]) -> str:
    """The inverse of a number list."""
    return ", ".join(n.format_number(value, 3) for value in values)


def length_field(label: str, low_m: float, high_m: float, help_text: str = "") -> ParsedField:
    """A length in metres that may be left empty; cm, mm, ft and in may be typed along."""

    def parse(text: str) -> float | None:
        if not text:
            return None
        rule = f"a length from {n.format_length(low_m)} to {n.format_length(high_m)}"
        return parse_quantity(label, text, LENGTH_UNITS, (low_m, high_m), f"{rule}, such as 45 cm")

    return ParsedField(
        parse, lambda metres: f"{n.format_number(metres, 4)} m", label=label,
        help_text=help_text,
    )  # fmt: skip


def optional(parse: Callable[[str], Any]) -> Callable[[str], Any]:
    """A parser that takes nothing for None."""
    return lambda text: parse(text) if text else None
