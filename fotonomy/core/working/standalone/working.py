"""The working of a number of no setup, and the topics such numbers belong to."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from fotonomy.core.errors import RuleError
from fotonomy.core.working.explain import Input, Working
from fotonomy.core.working.quantity import NoSuchNumberError, Quantity
from fotonomy.core.working.reading_code import parameters_of
from fotonomy.core.working.standalone import day, takes
from fotonomy.core.working.symbols import number_text, symbol_of, unit_of, words_of
from fotonomy.core.working.worked import Reading, Token

TOPICS = {
    day.DAY: "The day and its light", day.WEATHER: "The weather",
    takes.TAKES: "Takes and pictures", takes.FIELD: "On location",
    takes.LIGHT: "Light in other units",
}  # fmt: skip
LOOSE = {one.name: one for one in (*day.ROWS, *takes.ROWS)}
# What goes in, in words, where its name does not say it.
_WORDS = {
    "on_date": "the day", "latitude_deg": "of the place; south is minus",
    "longitude_deg": "of the place; west is minus", "height_deg": "of the sun's middle then",
    "at_clock_min": "the minute, on the place's clock", "sun_deg": "how high the sun stands",
    "altitude_deg": "how high the sun stands", "azimuth_deg": "of the sun, from true north",
    "looks_deg": "which way the camera looks", "height_m": "of what throws the shadow",
    "moon_deg": "how high the moon stands", "phase_deg": "of the moon: 0° is full",
    "oktas": "of the sky, in eighths", "factor": "what your reading moves the sky's light by",
    "own_lx": "of the place's own lamps", "plain_factor": "without a reading",
    "plain_own_lx": "of the place's own lamps, as you said", "hours_min": "from call to wrap",
    "busy_min": "setting up and shooting", "ways_min": "between places",
    "starts_clock_min": "when it begins", "ends_clock_min": "when it ends",
    "planned_clock_min": "the hour that was planned", "way_min": "of the way there",
    "done_stops": "balance of light as it was set",
    "planned_stops": "as planned", "read_stops": "as the picture recorded it",
    "picture_stops": "how much brighter the picture is than planned",
    "set_stops": "of it, what was set otherwise", "planned_ev": "the light that was planned",
    "read_ev": "as it was metered", "estimated_ev": "of the sky, without readings",
    "wrote": "as the camera wrote it down", "planned": "as planned",
    "a_doubling_stops": "what twice as much of it does", "set_time_s": "as it was logged",
    "set_f_number": "as it was logged", "set_iso": "as it was logged",
    "time_s": "as the camera wrote it down", "f_number": "as the camera wrote it down",
    "iso": "as the camera wrote it down", "from_k": "as it was set", "to_k": "as planned",
    "good": "takes that were kept", "count": "takes in all", "z": "for nineteen of twenty cases",
    "frames": "of the run", "frame": "of the run, counted from 1", "gap_s": "by the files' clocks",
    "interval_s": "that the run kept", "level_stops": "mean light of the frame, from grey",
    "running_stops": "median of the five about it", "card_gb": "of the card",
    "gone_gb": "logged on it", "project_fps": "of the edit",
}  # fmt: skip
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
    return Working(
        quantity, name, reading.result, reading.lines_as(quantity.symbol, quantity.unit),
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
    words = LOOSE[name].says.rstrip(".") if name else _WORDS.get(token.name, "")
    words = words or words_of(token.name)
    unit = LOOSE[name].unit if name else token.unit
    return Input(token.symbol, words, number_text(token.value, unit), name, token.constant)
