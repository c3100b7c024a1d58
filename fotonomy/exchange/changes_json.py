"""Typed changes as JSON data, for buttons and files: ``[["iris", 4.0], ["held_iso", false]]``."""

import json
from collections.abc import Iterable
from typing import Any

from cattrs import BaseValidationError

from fotonomy.core.errors import RuleError
from fotonomy.core.parsing.table import by_name
from fotonomy.core.ranges import hints_of
from fotonomy.core.spec.changes import PARTS, READING, Change, part_of
from fotonomy.core.spec.readings import Reading
from fotonomy.core.spec.setup import Setup
from fotonomy.exchange.converter import converter, to_data

# Changes a press may hold: every setting, and what has to be freed for it.
MOST_CHANGES = 24
# Gear goes by its names, and a few names are no fields.
_OTHER: dict[str, Any] = {
    "lens": str, "profile": str, "tubes": tuple[str, ...], "devices": tuple[str, ...],
    "planned_time": str,
}  # fmt: skip
_PREFIXES: dict[str, Any] = {
    "held": bool, "limit": tuple[float, float] | None, "weight": float,
}  # fmt: skip


def _kind_of(name: str) -> Any:
    """The type of a setting's value. LookupError for a name that nothing has."""
    if name in _OTHER:
        return _OTHER[name]
    found = READING.fullmatch(name)
    if found:
        return hints_of(Reading)[found[2]]
    prefix, _, rest = name.partition("_")
    if prefix in _PREFIXES and rest:
        return _PREFIXES[prefix]
    part = part_of(name)
    return hints_of(PARTS[part] if part else Setup)[name]


def changes_to_data(changes: Iterable[Change]) -> list[list[Any]]:
    """Changes as pairs of a name and a value."""
    return [[one.setting, to_data(one.value, _kind_of(one.setting))] for one in changes]


def press_of(changes: Iterable[Change]) -> str:
    """What a button sends for these changes; empty where there are none."""
    pairs = changes_to_data(changes)
    return json.dumps(pairs, ensure_ascii=False, separators=(",", ":")) if pairs else ""


def changes_of(press: str) -> tuple[Change, ...]:
    """The changes of a press; the inverse of press_of. RuleError on ``fix`` for anything else."""
    try:
        pairs = json.loads(press)[:MOST_CHANGES]
        return tuple(Change(name, _value(name, given)) for name, given in pairs)
    except (ValueError, TypeError, LookupError, AttributeError, BaseValidationError, RuleError,
            RecursionError) as error:  # fmt: skip
        raise RuleError("fix", "cannot be read", press[:80]) from error


def _value(name: str, given: Any) -> Any:
    kind = _kind_of(name)
    if kind is bool and not isinstance(given, bool):
        raise TypeError(name)
    return converter.structure(given, kind)


def text_of(change: Change) -> str:
    """A change's value as a person would type it, as far as it can be typed."""
    row = by_name().get(change.setting)
    value = change.value
    if row is not None and not isinstance(value, tuple):
        return row.write(value)
    if isinstance(value, bool):
        return "1" if value else "0"
    if isinstance(value, tuple):
        return ", ".join(map(str, value))
    return "" if value is None else str(value)
