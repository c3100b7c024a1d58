"""The working of one number of a plan: what it is, its formula, its inputs, what changes it."""

from collections.abc import Iterator
from dataclasses import dataclass, replace
from math import isfinite
from typing import Any

from fotonomy.core.analysis.setup import Analysis, analyse
from fotonomy.core.errors import RuleError
from fotonomy.core.motion.shutter import Shutter
from fotonomy.core.photometry.exposure_value import Ev100, ev100_of
from fotonomy.core.photometry.stops import marked_f_numbers, marked_iso
from fotonomy.core.spec.setup import Setup
from fotonomy.core.traced_numbers import keyed
from fotonomy.core.working.catalog import (
    catalogued,
    quantities_of,
    quantity_of,
    value_in,
    worked_value,
)
from fotonomy.core.working.quantity import Function, NoSuchNumberError, Quantity, inputs_of
from fotonomy.core.working.sources import Source
from fotonomy.core.working.symbols import LETTERS, number_text, sign_of_its_own, unit_of, words_of
from fotonomy.core.working.worked import Line, Reading, Token, is_number

# What is kept of what would change a number, and the least change that is worth a line.
MOST_LEVERS = 3
LEAST_CHANGE = 1e-6


@dataclass(frozen=True, slots=True)
class Input:
    """One thing a formula takes: its symbol, its words, its value as text, and its own name.

    ``name`` is empty for what has no working of its own: a constant, or what is simply given.
    """

    symbol: str
    words: str
    text: str
    name: str
    constant: bool = False


@dataclass(frozen=True, slots=True)
class Lever:
    """What would happen to the number if one setting were moved: by how much, and to what."""

    what: str
    change: float
    to: float


@dataclass(frozen=True, slots=True)
class Effect:
    """What moving a setting does to one of the plan's main numbers: from what to what."""

    quantity: Quantity
    name: str
    before: float
    after: float


@dataclass(frozen=True, slots=True)
class Working:
    """How a number came about. ``lines`` and ``inputs`` are empty for what is given.

    ``value`` is None where this plan has no such number; ``levers`` are sorted, the strongest
    first. For a setting there is ``moved``, such as "one third more ISO", and its ``effects``.
    """

    quantity: Quantity
    name: str
    value: Any
    lines: tuple[Line, ...]
    inputs: tuple[Input, ...]
    source: Source
    levers: tuple[Lever, ...]
    moved: str = ""
    effects: tuple[Effect, ...] = ()

    @property
    def text(self) -> str:
        """The number with its unit."""
        return number_text(self.value, self.quantity.unit)


def _reading(analysis: Analysis, quantity: Quantity, name: str, function: Function) -> Reading:
    paths = inputs_of(quantity, analysis, name, function)
    given = {key: value_in(analysis, path) for key, path in paths.items()}
    kind = analysis.setup.kind

    def sign_of(known_as: str) -> tuple[str, str] | None:
        found = catalogued(kind, known_as)
        if found is not None:
            return found.symbol, found.unit
        own = sign_of_its_own(known_as)
        return (own, unit_of(known_as)) if own else None

    return Reading(function, given, paths, quantity.part, sign_of)


def working_of(analysis: Analysis, name: str, *, levers: bool = True) -> Working:
    """The working of a number. Raises NoSuchNumberError for a name that no plan has.

    ``levers`` are asked for by those who show them: they take the plan's numbers a dozen times.
    """
    quantity = quantity_of(analysis.setup.kind, name)
    value = value_in(analysis, name)
    if value is not None and not is_number(value):
        raise NoSuchNumberError(name)
    function = None if value is None else quantity.function(analysis, name)
    lines: tuple[Line, ...] = ()
    inputs: tuple[Input, ...] = ()
    if function is not None:
        reading = _reading(analysis, quantity, name, function)
        lines = reading.lines_as(quantity.symbol, quantity.unit)
        inputs = tuple(_input(analysis, token) for token in reading.tokens.values())
    found = tuple(_levers(analysis, name, value)) if levers and _is_finite(value) else ()
    strongest = sorted(found, key=lambda one: -abs(one.change))[:MOST_LEVERS]
    moved, effects = _effects(analysis, name) if levers else ("", ())
    if effects:
        # That a setting changes when it is set says nothing.
        strongest = []
    return Working(
        quantity, name, value, lines, inputs, quantity.origin, tuple(strongest), moved, effects
    )


# The settings that have names of their own among the numbers, and what is moved with them.
_SETTINGS = {
    "setup.iso": "iso", "setup.shutter.angle_deg": "shutter", "setup.shutter.time_s": "shutter",
    "setup.time_s": "shutter", "setup.iris": "iris", "setup.nd_density": "nd_density",
    "setup.focal_mm": "focal_mm", "setup.subject_distance_m": "subject_distance_m",
    "setup.subject_speed_m_s": "subject_speed_m_s", "setup.frame_rate": "frame_rate",
    "setup.wanted_screen_s": "wanted_screen_s", "setup.white_k": "white_k",
}  # fmt: skip
# What people look at when a setting moves.
_MAIN = (
    "budget.error_stops", "motion.smear_percent", "motion.gap_percent", "focus.depth_m",
    "level.key.percent", "noise.looks_like_iso", "clip.size_mb", "white.off_mired",
)  # fmt: skip


def _effects(analysis: Analysis, name: str) -> tuple[str, tuple[Effect, ...]]:
    """What moving a setting does to the main numbers; nothing for what is no setting."""
    wanted = _SETTINGS.get(name)
    tries = nudges(analysis.setup) if wanted else ()
    for setting, what, setup in tries:
        if setting != wanted:
            continue
        there, found = analyse(setup), []
        for main in _MAIN:
            before, after = value_in(analysis, main), value_in(there, main)
            if not (_is_finite(before) and _is_finite(after)):
                continue
            if abs(after - before) > LEAST_CHANGE * max(1.0, abs(before)):
                quantity = quantity_of(setup.kind, main)
                found.append(Effect(quantity, main, float(before), float(after)))
        return what, tuple(found)
    return "", ()


def _input(analysis: Analysis, token: Token) -> Input:
    text = number_text(token.value, token.unit)
    if token.constant:
        return Input(token.symbol, words_of(token.name), text, "", constant=True)
    try:
        quantity = quantity_of(analysis.setup.kind, token.name)
    except RuleError:
        _, words = LETTERS.get(token.symbol, ("", words_of(token.name)))
        return Input(token.symbol, words, text, "")
    words = quantity.says.rstrip(".")
    return Input(token.symbol, words, number_text(token.value, quantity.unit), token.name)


def _is_finite(value: Any) -> bool:
    return isinstance(value, int | float) and not isinstance(value, bool) and isfinite(value)


def _levers(analysis: Analysis, name: str, value: float) -> Iterator[Lever]:
    for _, what, setup in nudges(analysis.setup):
        try:
            there = value_in(analyse(setup), name)
        except RuleError:
            continue
        if not _is_finite(there):
            continue
        change = float(there) - float(value)
        if abs(change) > LEAST_CHANGE * max(1.0, abs(float(value))):
            yield Lever(what, change, float(there))


def nudges(setup: Setup) -> Iterator[tuple[str, str, Setup]]:
    """A setup with one thing moved a little: which, what was done in words, and the setup."""
    third = 2 ** (1 / 3)
    tries = (
        ("one third more ISO", {"iso": _next_iso(setup)}),
        ("one third longer open", {"shutter": Shutter(time_s=setup.time_s * third)}),
        ("one third wider iris", {"iris": _wider(setup)}),
        ("one third more ND", {"nd_density": setup.nd_density + 0.1}),
        ("one third more light",
         {"light": Ev100(_ev(setup) + 1 / 3)}),
        ("a tenth longer focal length", {"focal_mm": setup.focal_mm * 1.1}),
        ("a tenth farther away", {"subject_distance_m": setup.subject_distance_m * 1.1}),
        ("a tenth faster", {"subject_speed_m_s": setup.subject_speed_m_s * 1.1}),
        ("a tenth higher frame rate", {"frame_rate": setup.frame_rate * 1.1}),
        ("a tenth longer on screen", {"wanted_screen_s": setup.wanted_screen_s * 1.1}),
        ("500 K more on the camera", {"white_k": setup.white_k + 500}),
    )  # fmt: skip
    for what, changes in tries:
        try:
            yield next(iter(changes)), what, replace(setup, **changes)
        except RuleError:
            continue


def _ev(setup: Setup) -> float:
    return ev100_of(setup.light)


def _next_iso(setup: Setup) -> int:
    above = [one for one in marked_iso(1, 10_000_000) if one > setup.iso]
    return above[0] if above else setup.iso


def _wider(setup: Setup) -> float:
    wider = [one for one in marked_f_numbers(0.5, 128.0) if one < setup.iris]
    return wider[-1] if len(wider) > 1 else setup.iris / 2 ** (1 / 6)


def formulas_in(
    analysis: Analysis, known: dict[str, Any] | None = None
) -> Iterator[tuple[str, Quantity, Function]]:
    """Every number of a plan that a formula gives: its name, what it is, and the formula."""
    known = {} if known is None else known
    for name in names_in(analysis):
        quantity = quantity_of(analysis.setup.kind, name)
        if value_in(analysis, name, known) is None:
            continue
        function = quantity.function(analysis, name)
        if function is not None:
            yield name, quantity, function


def all_workings(analysis: Analysis) -> dict[str, Any]:
    """Every number of a plan that a formula gives, worked out anew, by its name."""
    known: dict[str, Any] = {}
    return {
        name: worked_value(analysis, name, known) for name, _, _ in formulas_in(analysis, known)
    }


def names_in(analysis: Analysis) -> Iterator[str]:
    """The names of every quantity that a plan has, those of several parts one by one."""
    seen = set()
    for quantity in quantities_of(analysis.setup.kind):
        for name in _spelled_out(analysis, quantity.name):
            if name not in seen:
                seen.add(name)
                yield name


def _spelled_out(analysis: Analysis, pattern: str) -> list[str]:
    if "*" not in pattern:
        return [pattern]
    before, _, after = pattern.partition(".*")
    try:
        parts = value_in(analysis, before)
    except RuleError:
        return []
    if not isinstance(parts, tuple):
        return []
    return [
        name for key in keyed(parts) for name in _spelled_out(analysis, f"{before}.{key}{after}")
    ]
