"""The script that grades an answer without the server says the same as the core."""

import json
from itertools import product
from typing import Any

import pytest

from fotonomy.core.drill.answers import Amount, OneOf, Order, Placed, Settings, SomeOf
from fotonomy.core.drill.exercise import LEVELS, Exercise
from fotonomy.core.drill.exercise_kind import ExerciseKind
from fotonomy.core.drill.generate import exercise
from fotonomy.core.drill.offline_rules import rules_for
from tests.scripts.node import run_script

EVERY = [(kind, level) for kind in ExerciseKind for level in LEVELS]
SEEDS = range(6)


def numbers_about(rule: dict[str, Any]) -> list[float]:
    """Numbers on both sides of every edge, as far as they may be typed."""
    found = []
    for edge in rule["edges"]:
        step = max(1e-4, abs(edge) * 1e-4)
        found += [edge - step, edge + step]
    return [value for value in found if rule["low"] <= value <= rule["high"]]


def guesses(made: Exercise, rules: dict[str, Any]) -> list[dict[str, str]]:
    """What to grade both ways: the edges of every number, every choice, many settings, orders."""
    answer = made.answer
    match answer:
        case Amount():
            return [{"answer": f"{value:.9f}"} for value in numbers_about(rules)]
        case Placed():
            tone, clip = f"{answer.tone.value:.9f}", f"{answer.clip_percent}"
            return [
                *({"answer": f"{value:.9f}", "zebra": clip} for value in numbers_about(rules)),
                *({"answer": tone, "zebra": f"{value:.9f}"} for value in numbers_about(rules["zebra"])),
            ]  # fmt: skip
        case Settings(turns=turns):
            marks = ([text for _, text in turn.marks][::3] for turn in turns)
            names = [turn.name for turn in turns]
            return [dict(zip(names, texts, strict=True)) for texts in product(*marks)]
        case OneOf(options=options) | SomeOf(options=options):
            keys = [one.key for one in options]
            return [
                {"answer": one} for one in (*keys, ",".join(keys[:2]), ",".join(rules["right"]))
            ]
        case Order():
            right = list(rules["right"])
            swapped = [right[1], right[0], *right[2:]]
            return [{"answer": ",".join(one)} for one in (right, swapped, right[::-1])]


@pytest.mark.parametrize(("kind", "level"), EVERY, ids=lambda one: getattr(one, "value", one))
def test_the_script_grades_as_the_core_does(kind: ExerciseKind, level: int) -> None:
    calls, marks = [], []
    for seed in SEEDS:
        made = exercise(kind, level, seed)
        rules = json.loads(json.dumps(rules_for(made)))
        for guess in guesses(made, rules):
            if isinstance(made.answer, OneOf) and "," in guess["answer"]:
                continue
            calls.append([guess, rules])
            marks.append(made.grade(guess).mark.value)
    assert len(calls) >= len(SEEDS)
    found = [one.get("mark") for one in run_script("grading.js", "fotonomy.grading.graded", calls)]
    wrong = [
        (call, mark) for call, mark, ours in zip(calls, marks, found, strict=True) if ours != mark
    ]
    assert wrong == []
    assert {"right"} <= set(marks)


# What somebody types, the unit of the answer, and what it is worth; common practice, no source.
TYPED = [
    ("3", "stops", 3.0), ("-1 1/3", "stops", -4 / 3), ("2/3", "stops", 2 / 3), ("1,5 st", "stops", 1.5),
    ("−2", "stops", -2.0), ("EV 9", "EV", 9.0), ("90 s", "s", 90.0), ("1/50", "s", 0.02),
    ("1.5 min", "s", 90.0), ("2 h", "s", 7200.0), ("20 ms", "s", 0.02), ("500 MB", "GB", 0.5),
    ("38 %", "%", 38.0), ("12 frames", "frames", 12.0), (".5", "stops", 0.5),
    ("three", "stops", "NaN"), ("3 m", "stops", "NaN"), ("", "s", "NaN"), ("1e999", "s", "NaN"),
    ("nan", "s", "NaN"), ("1/2", "GB", "NaN"),
]  # fmt: skip


def test_numbers_are_read_as_they_are_typed() -> None:
    calls = [[text, {"unit": unit}] for text, unit, _ in TYPED]
    for found, (text, _, value) in zip(
        run_script("grading.js", "fotonomy.grading.read", calls), TYPED, strict=True
    ):
        assert found == (value if value == "NaN" else pytest.approx(value)), text


def test_filters_are_read_by_their_three_names() -> None:
    """ISO 5-2: stops are density / log10 2; a factor names a power of two, a stop being 0.3."""
    calls = [
        [text, {"unit": "stops", "glass": True}]
        for text in ("ND64", "nd 0.9", "1.8", "6 stops", "ND")
    ]
    nd64, nd09, d18, six, none = run_script("grading.js", "fotonomy.grading.read", calls)
    assert nd64 == pytest.approx(1.8 / 0.30103, abs=1e-4)
    assert nd09 == pytest.approx(0.9 / 0.30103, abs=1e-4)
    assert d18 == pytest.approx(1.8 / 0.30103, abs=1e-4)
    assert six == 6
    assert none == "NaN"


def test_what_says_nothing_gets_words() -> None:
    rules = {"sort": "amount", "unit": "stops", "low": 0, "high": 14, "edges": [2, 2.7, 3.3, 4]}
    keys = {"sort": "keys", "right": ["a"], "forgives": 0}
    calls = [[{"answer": "15"}, rules], [{"answer": "?"}, rules], [{"answer": ""}, keys]]
    high, none, empty = run_script("grading.js", "fotonomy.grading.graded", calls)
    assert high == none == {"error": "A number from 0 to 14 stops."}
    assert empty == {"error": "Give an answer first."}
