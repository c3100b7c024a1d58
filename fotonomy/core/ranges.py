"""What numbers, words and lists may be, declared once beside the field they bound.

A field says it in its annotation, ``Annotated[float, Within(0, 180, "degrees")]``. The spec is
held to it when it is made; the schema of a file, a form and a parser read it from here.
"""

from collections.abc import Hashable
from dataclasses import dataclass
from functools import cache
from math import isfinite
from typing import Annotated, Any, cast, get_args, get_origin, get_type_hints

from fotonomy.core.errors import RuleError


def _plain(number: float) -> str:
    """A bound as people write it: 1 000 000, not 1e+06."""
    return f"{number:,.7f}".rstrip("0").rstrip(".").replace(",", "\u202f")


@dataclass(frozen=True, slots=True)
class Within:
    """A number from ``low`` to ``high``, both ends included.

    The lower end is the least that makes sense, never just above nothing: what is divided by it
    has to stay a number.
    """

    low: float
    high: float
    unit: str = ""

    def check(self, field: str, value: Any) -> None:
        """Raise RuleError naming the field where a number is out of range or none at all."""
        if not (isfinite(value) and self.low <= value <= self.high):
            said = f"{_plain(self.low)} and {_plain(self.high)} {self.unit}".strip()
            raise RuleError(field, f"has to lie between {said}", value)


@dataclass(frozen=True, slots=True)
class Sized:
    """A text or a list of ``least`` to ``most`` characters or entries."""

    least: int
    most: int

    def check(self, field: str, value: Any) -> None:
        """Raise RuleError naming the field where there is too much or too little."""
        if not self.least <= len(value) <= self.most:
            what = "characters" if isinstance(value, str) else "entries"
            raise RuleError(field, f"has to have {self.least} to {self.most} {what}", len(value))


@dataclass(frozen=True, slots=True)
class OneOf:
    """A word out of these."""

    words: tuple[str, ...]

    def check(self, field: str, value: Any) -> None:
        """Raise RuleError naming the field for any other word."""
        if value not in self.words:
            raise RuleError(field, f"one of {', '.join(self.words)}", value)


Bound = Within | Sized | OneOf
NAME, WORDS = Sized(1, 80), Sized(0, 80)


def bounds_of(hint: Any) -> tuple[Bound, ...]:
    """The bounds an annotation declares."""
    if get_origin(hint) is not Annotated:
        return ()
    return tuple(one for one in get_args(hint)[1:] if isinstance(one, Bound))


@cache
def _hints(cls: Hashable) -> dict[str, Any]:
    return get_type_hints(cast(type[Any], cls), include_extras=True)


def hints_of(cls: Any) -> dict[str, Any]:
    """Every field's annotation of a class, bounds included."""
    return _hints(cls)


@cache
def _checks(cls: Hashable) -> tuple[tuple[str, Bound, bool], ...]:
    """Field, bound, and whether it bounds each entry rather than the whole."""
    found = []
    for name, hint in hints_of(cls).items():
        found += [(name, bound, False) for bound in bounds_of(hint)]
        plain = get_args(hint)[0] if get_origin(hint) is Annotated else hint
        if get_origin(plain) in (tuple, frozenset):
            found += [(name, bound, True) for bound in bounds_of(get_args(plain)[0])]
    return tuple(found)


def check_bounds(spec: object) -> None:
    """Hold a spec to its own bounds; None stands for "not said". RuleError names the field."""
    for name, bound, each in _checks(cast(Hashable, type(spec))):
        value = getattr(spec, name)
        if value is None:
            continue
        for one in value if each else (value,):
            bound.check(name, one)


def range_of(cls: type[Any], name: str) -> tuple[float, float]:
    """Lowest and highest value of a number of a spec. LookupError where it has no range."""
    bound = next((b for b in bounds_of(hints_of(cls)[name]) if isinstance(b, Within)), None)
    if bound is None:
        raise LookupError(name)
    return bound.low, bound.high


def kinds_of(cls: type[Any], name: str) -> tuple[Any, ...]:
    """The plain types a field may hold, bounds and None apart."""
    hint = hints_of(cls)[name]
    plain = get_args(hint)[0] if get_origin(hint) is Annotated else hint
    return tuple(one for one in get_args(plain) or (plain,) if one is not type(None))
