"""Rows that are held to their rules as they are read.

A row that breaks a rule (an older version, a fault, a restored file) must not take the pages of its
shoot along: what cannot be used stands at a harmless value, and ``faults`` says what was wrong.
"""

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from datetime import UTC, date, datetime
from math import isfinite
from typing import Any, ClassVar, Self
from zoneinfo import ZoneInfo

from django.db import models

from fotonomy.core.errors import RuleError
from fotonomy.core.notation.texts import unkeepable, without_unkeepable

# Days and moments that pages can write and reckon with on either side.
EARLIEST, LATEST = date(1900, 1, 1), date(2100, 1, 1)


@dataclass(frozen=True, slots=True)
class Rule:
    """Whether a value can be used, the harmless one made of it otherwise, and what is said then."""

    holds: Callable[[Any], bool]
    harmless: Callable[[Any], Any]
    words: str


class HeldRow(models.Model):
    """A row whose columns are held to ``RULES`` as they come from the database."""

    RULES: ClassVar[dict[str, Rule]] = {}
    # What breaks a rule of what is stored, in words; empty for nearly every row.
    faults: tuple[str, ...] = ()

    class Meta:
        abstract = True

    @classmethod
    def from_db(cls, db: Any, field_names: Any, values: Any, **more: Any) -> Self:
        """The row as it can be used."""
        row = super().from_db(db, field_names, values, **more)
        found = row.__dict__
        faults = []
        for name, rule in cls.RULES.items():
            if name in found and not rule.holds(found[name]):
                found[name] = rule.harmless(found[name])
                faults.append(rule.words)
        if faults:
            row.faults = tuple(faults)
        return row


def fault_words(row: HeldRow) -> str:
    """What of a row breaks a rule as it is stored, in a sentence; empty where nothing does."""
    if not row.faults:
        return ""
    some = "it" if len(row.faults) == 1 else "them"
    return (
        f"Stored so that it cannot be used: {', '.join(row.faults)}. "
        f"It is shown without {some}: save it anew, or delete it."
    )


def _is_moment(value: Any) -> bool:
    return isinstance(value, datetime) and EARLIEST <= value.date() < LATEST


def _near_moment(value: Any) -> datetime:
    late = isinstance(value, datetime) and value.date() >= LATEST
    return datetime.combine(LATEST if late else EARLIEST, datetime.min.time(), UTC)


def moment(words: str) -> Rule:
    """A moment of our time; the nearest that can be written."""
    return Rule(_is_moment, _near_moment, words)


def day(words: str) -> Rule:
    """A date of our time; the nearest."""
    return Rule(
        lambda value: isinstance(value, date) and EARLIEST <= value <= LATEST,
        lambda value: min(LATEST, max(EARLIEST, value)), words,
    )  # fmt: skip


def number(low: float, high: float, instead: float | None, words: str) -> Rule:
    """A number from ``low`` to ``high``, none where ``instead`` is None."""

    def holds(value: Any) -> bool:
        if value is None:
            return instead is None
        if isinstance(value, bool) or not isinstance(value, int | float):
            return False
        return isfinite(value) and low <= value <= high

    return Rule(holds, lambda _: instead, words)


def one_of(choices: Iterable[Any], instead: Any, words: str) -> Rule:
    """One of these."""
    allowed = frozenset(choices)
    return Rule(lambda value: value in allowed, lambda _: instead, words)


def text(words: str) -> Rule:
    """A text without signs that cannot be shown."""
    return Rule(lambda value: not unkeepable(value), lambda value: without_unkeepable(value), words)


def texts(words: str) -> Rule:
    """A list of texts."""
    return Rule(
        lambda value: isinstance(value, list) and all(map(_is_text, value)),
        lambda value: [one for one in value if _is_text(one)] if isinstance(value, list) else [],
        words,
    )


def texts_by_name(words: str) -> Rule:
    """Texts by name."""
    return Rule(
        lambda value: isinstance(value, dict) and all(map(_is_text, value.values())),
        lambda value: {
            name: one for name, one in (value.items() if isinstance(value, dict) else ())
            if _is_text(one)
        },
        words,
    )  # fmt: skip


def by_name(words: str) -> Rule:
    """Anything by name."""
    return Rule(lambda value: isinstance(value, dict), lambda _: {}, words)


def readable(read: Callable[[Any], Any], instead: Callable[[], Any], words: str) -> Rule:
    """What a reader can read without an error."""

    def holds(value: Any) -> bool:
        try:
            read(value)
        except (RuleError, ValueError, TypeError, LookupError, AttributeError, OverflowError):
            return False
        return True

    return Rule(holds, lambda _: instead(), words)


def time_zone(words: str) -> Rule:
    """The name of a zone of time."""

    def holds(value: Any) -> bool:
        try:
            ZoneInfo(value)
        except (ValueError, OSError, LookupError, TypeError):
            return False
        return True

    return Rule(holds, lambda _: "UTC", words)


def _is_text(value: Any) -> bool:
    return isinstance(value, str) and not unkeepable(value)
