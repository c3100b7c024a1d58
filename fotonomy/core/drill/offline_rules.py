"""How a small script grades an answer without the core: edges, sums and keys worked out ahead."""

from typing import Any

from fotonomy.core.drill.answers import (
    ZEBRA_CLOSE_PERCENT,
    ZEBRA_RIGHT_PERCENT,
    ZEBRA_ROUNDING_PERCENT,
    Amount,
    OneOf,
    Order,
    Placed,
    Settings,
    SomeOf,
)
from fotonomy.core.drill.exercise import Exercise
from fotonomy.core.drill.grading import (
    CLOSE_WITHIN_STOPS,
    RIGHT_WITHIN_STOPS,
    TOLERANCE_STOPS,
)
from fotonomy.core.exposure.light_budget import light_budget
from fotonomy.core.spec.changes import Change, applied
from fotonomy.core.tone.signal_levels import percent_at


def rules_for(exercise: Exercise) -> dict[str, Any]:
    """What grades an exercise: "sort" says how, the rest by its sort. All of it is plain JSON.

    An amount has ``edges``: close, right, right and close in its own unit, so that neither curves
    nor logarithms are needed. Settings have the stops each mark adds to ``base``.
    """
    answer = exercise.answer
    match answer:
        case OneOf():
            return {"sort": "keys", "right": [answer.right], "forgives": 0}
        case SomeOf():
            return {"sort": "keys", "right": sorted(answer.right), "forgives": 1}
        case Order():
            return {"sort": "order", "right": list(answer.right)}
        case Amount():
            return {"sort": "amount", **_amount(answer, exercise)}
        case Placed():
            clip = answer.clip_percent
            zebra = [
                clip - ZEBRA_CLOSE_PERCENT, clip - ZEBRA_RIGHT_PERCENT - ZEBRA_ROUNDING_PERCENT,
                clip + ZEBRA_ROUNDING_PERCENT, clip + ZEBRA_ROUNDING_PERCENT,
            ]  # fmt: skip
            limits = {"low": answer.zebra.low, "high": answer.zebra.high}
            return {
                "sort": "amount", **_amount(answer.tone, exercise),
                "zebra": {"edges": zebra, "unit": "%", **limits},
            }  # fmt: skip
        case Settings():
            return {"sort": "settings", **_settings(answer, exercise)}


def _amount(answer: Amount, exercise: Exercise) -> dict[str, Any]:
    right, close = RIGHT_WITHIN_STOPS + TOLERANCE_STOPS, CLOSE_WITHIN_STOPS + TOLERANCE_STOPS
    first, last = answer.value, answer.value if answer.to is None else answer.to
    moved = [(first, -close), (first, -right), (last, right), (last, close)]
    return {
        "edges": [_moved(answer, exercise, value, stops) for value, stops in moved],
        "unit": answer.unit, "low": answer.low, "high": answer.high, "glass": answer.glass,
    }  # fmt: skip


def _moved(answer: Amount, exercise: Exercise, value: float, stops: float) -> float:
    """A value so many stops off, in its own unit."""
    if answer.scale == "ratio":
        return float(value * 2.0**stops)
    if answer.scale == "level":
        assert exercise.right is not None
        return percent_at(exercise.right.recorded_profile, exercise.stops_at(value) + stops)
    return value + stops


def _settings(answer: Settings, exercise: Exercise) -> dict[str, Any]:
    """Stops are added: what each mark changes by itself, on top of how it stands."""
    setup = exercise.scene_setup
    assert setup is not None
    base = light_budget(setup).error_stops
    turns = {
        turn.name: {
            text: light_budget(applied(setup, (Change(turn.name, value),))).error_stops - base
            for value, text in turn.marks
        }
        for turn in answer.turns
    }
    return {
        "base": base, "turns": turns,
        "edges": [
            sign * (within + TOLERANCE_STOPS)
            for sign, within in (
                (-1, CLOSE_WITHIN_STOPS), (-1, RIGHT_WITHIN_STOPS), (1, RIGHT_WITHIN_STOPS),
                (1, CLOSE_WITHIN_STOPS),
            )
        ],
    }  # fmt: skip
