"""The working of a number of no setup, and the topics such numbers belong to."""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Any

from fotonomy.core.errors import RuleError
from fotonomy.core.working.explain import Input, Working
from fotonomy.core.working.expressions import Reading, Token, parameters_of
from fotonomy.core.working.loose import day, takes
from fotonomy.core.working.quantity import NoSuchNumberError, Quantity
from fotonomy.core.working.symbols import number_text, symbol_of, unit_of, words_of

TOPICS = {
    day.DAY: "The day and its light", day.WEATHER: "The weather",
    takes.TAKES: "Takes and pictures", takes.FIELD: "On location",
    takes.LIGHT: "Light in other units",
}  # fmt: skip
LOOSE = {one.name: one for one in (*day.ROWS, *takes.ROWS)}
# Of what has no formula the value itself goes with the address, under this name.
VALUE = "value"


@dataclass(frozen=True, slots=True)
class Topic:
    """Everything of a kind of page: its key, its name, and its quantities."""

    key: str
    name: str
    quantities: tuple[Quantity, ...]


def topic_of(key: str) -> Topic:
    """A topic. NoSuchNumberError for a key that is none."""
    if key not in TOPICS:
        raise NoSuchNumberError(key)
    return Topic(key, TOPICS[key], tuple(one for one in LOOSE.values() if one.tile == key))


def loose_working(name: str, given: Mapping[str, float]) -> Working:
    """The working of a loose number of the values that go with it.

    What a formula takes and is not given is worked out of the same values, where it is a loose
    number itself. Raises NoSuchNumberError for a name that is none, RuleError for values that are
    missing or out of all reason.
    """
    quantity = LOOSE.get(name)
    if quantity is None:
        raise NoSuchNumberError(name)
    if quantity.formula is None:
        inputs = tuple(
            _input(Token(key, symbol_of(key), unit_of(key), value), {})
            for key, value in given.items() if key != VALUE
        )  # fmt: skip
        return Working(quantity, name, given.get(VALUE), (), inputs, quantity.origin, ())
    reading = _reading(quantity, given)
    *before, last = reading.lines
    own = replace(last, symbol=quantity.symbol, unit=quantity.unit)
    return Working(
        quantity, name, last.value, (*before, own),
        tuple(_input(one, quantity.given) for one in reading.tokens.values()),
        quantity.origin, (),
    )  # fmt: skip


def _reading(quantity: Quantity, given: Mapping[str, float]) -> Reading:
    function = quantity.formula
    assert function is not None
    taken: dict[str, Any] = {}
    for key in parameters_of(function):
        if key in given:
            taken[key] = given[key]
        elif key in quantity.given:
            taken[key] = _reading(LOOSE[quantity.given[key]], given).result
    try:
        return Reading(function, taken, {}, quantity.part)
    except (TypeError, NameError, ValueError, ZeroDivisionError, OverflowError) as error:
        raise RuleError("value", "is missing or has no working", str(error)) from error


def _input(token: Token, worked_out: Mapping[str, str]) -> Input:
    """An input; one that is a loose number itself leads to its own working."""
    name = worked_out.get(token.name, "")
    words = LOOSE[name].says.rstrip(".") if name else words_of(token.name)
    unit = LOOSE[name].unit if name else token.unit
    return Input(token.symbol, words, number_text(token.value, unit), name, token.constant)
