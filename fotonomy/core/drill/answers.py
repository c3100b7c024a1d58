"""Forms of an answer, each of which reads a guess and grades it.

Percents of a level are turned into stops by the curve, times and counts by their ratio.
"""

import re
from collections.abc import Mapping
from dataclasses import dataclass
from math import inf, isfinite, log2
from typing import Any, Protocol

from fotonomy.core.drill.grading import CLOSE_WITHIN_STOPS, TOLERANCE_STOPS, Grade, Mark, graded
from fotonomy.core.errors import RuleError
from fotonomy.core.exposure.light_budget import light_budget
from fotonomy.core.gear.neutral_density import density_to_stops
from fotonomy.core.notation import reading as r
from fotonomy.core.notation import writing as n
from fotonomy.core.spec.changes import Change, applied
from fotonomy.core.spec.setup import Setup
from fotonomy.core.units import SECOND_UNITS, STOP_UNITS


class Asked(Protocol):
    """What an answer has to know of its exercise."""

    @property
    def scene_setup(self) -> Setup | None:
        """What a guess is tried on."""

    @property
    def right(self) -> Setup | None:
        """The setup of the right answer."""

    def stops_at(self, percent: float) -> float:
        """Stops from grey that record at a percent."""


def guessed(guess: Mapping[str, str], name: str = "answer") -> str:
    """What was answered. RuleError naming the field where nothing was."""
    text = guess.get(name, "").strip()
    if not text:
        raise RuleError(name, "give an answer first", "")
    return text


@dataclass(frozen=True, slots=True)
class Option:
    """One of several answers: its key, its words, and what it would set, if anything."""

    key: str
    words: str
    changes: tuple[Change, ...] = ()


def _told(mark: Mark, said: str) -> str:
    """The right answer, said as such where the guess was another."""
    return said if mark is Mark.RIGHT else f"the answer is: {said}"


@dataclass(frozen=True, slots=True)
class OneOf:
    """One of several: each option says itself, one is right."""

    options: tuple[Option, ...]
    right: str

    def grade(self, guess: Mapping[str, str], _: Asked) -> Grade:
        """Right or not. RuleError for what is no option."""
        chosen = guessed(guess)
        if chosen not in {one.key for one in self.options}:
            raise RuleError("answer", "one of those shown", chosen)
        good = chosen == self.right
        mark = Mark.RIGHT if good else Mark.OFF
        return Grade(mark, 0.0 if good else 1.0, "", _told(mark, self.said))

    @property
    def said(self) -> str:
        """The right answer in words."""
        return next(one.words for one in self.options if one.key == self.right)

    def is_sound(self, _: Asked) -> bool:
        """True where exactly one option is right and none is there twice."""
        keys = [one.key for one in self.options]
        words = [one.words for one in self.options]
        return (
            keys.count(self.right) == 1
            and len({*keys}) == len(keys) > 1
            and (len({*words}) == len(words))
        )


@dataclass(frozen=True, slots=True)
class SomeOf:
    """Any number of several: all that are right and no other."""

    options: tuple[Option, ...]
    right: frozenset[str]

    def grade(self, guess: Mapping[str, str], _: Asked) -> Grade:
        """Right where all are found and none too many, close where one is missed or too many."""
        chosen = {part for part in guess.get("answer", "").split(",") if part}
        if not chosen:
            raise RuleError("answer", "needs at least one", "")
        if not chosen <= {one.key for one in self.options}:
            raise RuleError("answer", "some of those shown", guess.get("answer", ""))
        wrong = len(chosen ^ self.right)
        mark = Mark.RIGHT if wrong == 0 else Mark.CLOSE if wrong == 1 else Mark.OFF
        return Grade(mark, float(wrong), "wrong" if wrong else "", _told(mark, self.said))

    @property
    def said(self) -> str:
        """The right answers in words."""
        return ". ".join(one.words for one in self.options if one.key in self.right)

    def is_sound(self, _: Asked) -> bool:
        """True where some are right and some are not."""
        keys = {one.key for one in self.options}
        return bool(self.right) and self.right < keys and len(keys) == len(self.options)


@dataclass(frozen=True, slots=True)
class Amount:
    """A number to be found, between ``low`` and ``high``; ``unit`` is how it is typed.

    ``scale`` says what its distance is: plain stops, the ratio of two times or counts in stops,
    or a level in percent, turned into stops by the curve of the exercise's setup. Where there is a
    range of right answers ``to`` is its upper end. ``glass`` may be typed as filters are named.
    ``name`` is that of its field.
    """

    value: float
    unit: str
    low: float
    high: float
    scale: str = "stops"
    to: float | None = None
    glass: bool = False
    name: str = "answer"

    def read(self, text: str) -> float:
        """A typed guess, in any form of its unit. RuleError where it is none, or out of range."""
        rule = f"a number from {self.text(self.low)} to {self.text(self.high)}"
        plain = re.sub(r"^\s*(EV|ISO)\b", "", text, flags=re.IGNORECASE)
        if self.unit == "s" and (
            time := re.fullmatch(r"\s*1\s*/\s*(\d+(?:\.\d+)?)\s*s?\s*", plain)
        ):
            plain = f"{1 / float(time[1]):.6f}" if float(time[1]) else ""
        if self.glass and re.search(r"nd|^\s*[0-4][.,]\d\d?\s*$", plain, flags=re.IGNORECASE):
            return _within(density_to_stops(r.parse_density(plain)), self, rule, text)
        found = r.parse_quantity(self.name, plain, _UNITS[self.unit], (self.low, self.high), rule)
        return _within(found, self, rule, text)

    def text(self, value: float) -> str:
        """A value as it is shown."""
        return str(_WRITERS[self.unit](value))

    @property
    def said(self) -> str:
        """The right answer in words."""
        if self.to is None:
            return self.text(self.value)
        return f"{self.text(self.value)} to {self.text(self.to)}"

    def distance(self, guess: float, exercise: Asked) -> float:
        """How far a guess is off, in stops; positive is too much."""
        upper = self.value if self.to is None else self.to
        if self.value <= guess <= upper:
            return 0.0
        nearest = self.value if guess < self.value else upper
        if self.scale == "ratio":
            return log2(guess / nearest) if guess > 0 else -inf
        if self.scale == "level":
            assert exercise.right is not None
            return exercise.stops_at(guess) - exercise.stops_at(nearest)
        return guess - nearest

    def grade(self, guess: Mapping[str, str], exercise: Asked) -> Grade:
        """By the distance in stops. RuleError for what is no such number."""
        found = self.read(guessed(guess, self.name))
        off = self.distance(found, exercise)
        return graded(off, self._words(found, off))

    def _words(self, found: float, off: float) -> str:
        if abs(off) <= TOLERANCE_STOPS:
            return self.said
        if self.scale == "ratio" and self.unit != "stops":
            percent = 100 * (found / self.value - 1)
            side = "over" if percent > 0 else "under"
            return f"{self.said}; you were {n.format_number(abs(percent), 0)} % {side}"
        return f"{self.said}; you were {n.format_stops(off)} {'over' if off > 0 else 'under'}"

    def is_sound(self, exercise: Asked) -> bool:
        """True where the range is real and neither of its ends would be graded right."""
        upper = self.value if self.to is None else self.to
        if not self.low <= self.value <= upper <= self.high:
            return False
        ends = (self.distance(self.low, exercise), self.distance(self.high, exercise))
        return max(abs(end) for end in ends) > CLOSE_WITHIN_STOPS


@dataclass(frozen=True, slots=True)
class Turn:
    """A setting that may be turned: its name, its label, and its marks as values and texts."""

    name: str
    label: str
    marks: tuple[tuple[Any, str], ...]


def _with_label(label: str, text: str) -> str:
    """A setting read out: "iris f/4", "ISO 400", "ND 0.9", "no ND"."""
    if text == "none":
        return f"no {label}"
    return text if text.startswith(label) else f"{label} {text}"


@dataclass(frozen=True, slots=True)
class Settings:
    """Settings to be turned until the light is in balance; the others stay as they are."""

    turns: tuple[Turn, ...]
    solution: tuple[tuple[str, str], ...]

    def changes(self, guess: Mapping[str, str]) -> tuple[Change, ...]:
        """What a guess sets. RuleError naming the setting for what is no mark of it."""
        found = []
        for turn in self.turns:
            text = guessed(guess, turn.name)
            value = next((value for value, said in turn.marks if said == text), None)
            if value is None:
                raise RuleError(turn.name, "one of its marks", text)
            found.append(Change(turn.name, value))
        return tuple(found)

    def grade(self, guess: Mapping[str, str], exercise: Asked) -> Grade:
        """By how far the light is then off, in stops."""
        assert exercise.scene_setup is not None
        there = applied(exercise.scene_setup, self.changes(guess))
        off = light_budget(there).error_stops
        side = "over" if off > 0 else "under"
        words = "in balance" if abs(off) < 0.05 else f"{n.format_stops(off)} {side}"
        return graded(off, f"{words}; {self.said} balances it")

    @property
    def said(self) -> str:
        """One way that balances it, in words."""
        labels = {turn.name: turn.label for turn in self.turns}
        said = (_with_label(labels[name], text) for name, text in self.solution)
        return ", ".join(said)

    def is_sound(self, exercise: Asked) -> bool:
        """True where the solution is right and leaving everything as it is is not even close."""
        assert exercise.scene_setup is not None
        start = light_budget(exercise.scene_setup).error_stops
        done = self.grade(dict(self.solution), exercise)
        return abs(start) > CLOSE_WITHIN_STOPS and done.mark is Mark.RIGHT


@dataclass(frozen=True, slots=True)
class Order:
    """Things to be put in order; ``right`` is the only order that works."""

    options: tuple[Option, ...]
    right: tuple[str, ...]

    def grade(self, guess: Mapping[str, str], _: Asked) -> Grade:
        """Right, close where one pair is the wrong way round, else off."""
        order = tuple(part for part in guess.get("answer", "").split(",") if part)
        if sorted(order) != sorted(self.right):
            raise RuleError("answer", "each of them once", guess.get("answer", ""))
        wrong = sum(
            order.index(a) > order.index(b)
            for k, a in enumerate(self.right)
            for b in self.right[k + 1 :]
        )
        mark = Mark.RIGHT if wrong == 0 else Mark.CLOSE if wrong == 1 else Mark.OFF
        pairs = "" if not wrong else f"; {wrong} pair{'' if wrong == 1 else 's'} the wrong way"
        return Grade(
            mark, float(wrong), "pairs" if wrong else "", f"{_told(mark, self.said)}{pairs}"
        )

    @property
    def said(self) -> str:
        """The right order in words."""
        words = {one.key: one.words.split(":")[0] for one in self.options}
        return ", ".join(words[key] for key in self.right)

    def is_sound(self, _: Asked) -> bool:
        """True where what is shown is not in the right order already."""
        keys = tuple(one.key for one in self.options)
        return keys != self.right and sorted(keys) == sorted(self.right)


# A clip zebra from so little under the clip on does its work; farther down it shows on tones that
# still have detail; over the clip it never shows. Common practice, no source.
ZEBRA_RIGHT_PERCENT, ZEBRA_CLOSE_PERCENT = 2.0, 6.0
ZEBRA_ROUNDING_PERCENT = 0.5


@dataclass(frozen=True, slots=True)
class Placed:
    """A tone put on a profile's curve, and the percent from which the clip zebra shows."""

    tone: Amount
    clip_percent: float

    @property
    def zebra(self) -> Amount:
        """The second field."""
        low = self.clip_percent - ZEBRA_RIGHT_PERCENT
        return Amount(low, "%", 1.0, 120.0, to=self.clip_percent, name="zebra")

    def grade(self, guess: Mapping[str, str], exercise: Asked) -> Grade:
        """The worse of the two. RuleError naming the field that says nothing."""
        tone = self.tone.grade(guess, exercise)
        mark, words = self._of_zebra(self.zebra.read(guessed(guess, "zebra")))
        worse = max(tone.mark, mark, key=tuple(Mark).index)
        return Grade(worse, tone.distance, tone.unit, f"{tone.words}. {words}")

    def _of_zebra(self, percent: float) -> tuple[Mark, str]:
        clip = f"zebra 2 goes to {n.format_number(self.clip_percent, 0)} % and up"
        under = self.clip_percent - percent
        if under < -ZEBRA_ROUNDING_PERCENT:
            return Mark.OFF, f"Your zebra never shows: this profile clips below it; {clip}"
        if under <= ZEBRA_RIGHT_PERCENT + ZEBRA_ROUNDING_PERCENT:
            return Mark.RIGHT, f"{clip[:1].upper()}{clip[1:]}"
        mark = Mark.CLOSE if under <= ZEBRA_CLOSE_PERCENT else Mark.OFF
        return mark, f"Your zebra shows on tones that still have detail; {clip}"

    @property
    def said(self) -> str:
        """The right answer in words."""
        return f"{self.tone.said}, zebra 2 from {n.format_number(self.clip_percent, 0)} % up"

    def is_sound(self, exercise: Asked) -> bool:
        """True where the tone has a real range."""
        return self.tone.is_sound(exercise)


Answer = OneOf | SomeOf | Amount | Settings | Order | Placed


def _within(found: float, amount: Amount, rule: str, text: str) -> float:
    if not isfinite(found) or not amount.low <= found <= amount.high:
        raise RuleError(amount.name, rule, text)
    return found


_UNITS: dict[str, dict[str, float]] = {
    "stops": STOP_UNITS,
    "EV": {"": 1.0, "ev": 1.0},
    "%": {"": 1.0, "%": 1.0, "percent": 1.0},
    "s": SECOND_UNITS,
    "frames": {"": 1.0, "frames": 1.0, "frame": 1.0},
    "GB": {"": 1.0, "gb": 1.0, "mb": 0.001, "tb": 1000.0},
}
_WRITERS: dict[str, Any] = {
    "stops": lambda value: f"{'−' if value < 0 else ''}{n.format_stops(value)}",
    "EV": lambda value: f"EV {n.format_number(value)}",
    "%": lambda value: f"{n.format_number(value, 0)} %",
    "s": n.format_duration,
    "frames": lambda value: f"{n.format_number(value, 0)} frames",
    "GB": lambda value: f"{n.format_number(value, 1)} GB",
}
