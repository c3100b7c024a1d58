"""What goes along to grade an answer without the core says the same as the core."""

import json
from itertools import product
from typing import Any

import pytest

from fotonomy.core.drill.answers import Amount, OneOf, Order, Placed, Settings, SomeOf
from fotonomy.core.drill.exercise import LEVELS, Exercise
from fotonomy.core.drill.exercise_kind import ExerciseKind
from fotonomy.core.drill.generate import exercise
from fotonomy.core.drill.grading import Mark
from fotonomy.core.drill.offline_rules import rules_for

EVERY = [(kind, level) for kind in ExerciseKind for level in LEVELS]
SEEDS = range(6)


def by_edges(value: float, edges: list[float]) -> Mark:
    """How the page's script grades a number."""
    close, right, last, farthest = edges
    if right <= value <= last:
        return Mark.RIGHT
    return Mark.CLOSE if close <= value <= farthest else Mark.OFF


def numbers_about(rule: dict[str, Any]) -> list[float]:
    """Numbers on both sides of every edge, as far as they may be typed."""
    found = []
    for edge in rule["edges"]:
        step = max(1e-4, abs(edge) * 1e-4)
        found += [edge - step, edge + step]
    return [value for value in found if rule["low"] <= value <= rule["high"]]


def checked(made: Exercise, rules: dict[str, Any]) -> int:
    """How many guesses were graded both ways; each has to come to the same."""
    answer, count = made.answer, 0
    match answer:
        case Amount() | Placed():
            zebra = {"zebra": f"{answer.clip_percent}"} if isinstance(answer, Placed) else {}
            for value in numbers_about(rules):
                guess = {"answer": f"{value:.9f}", **zebra}
                assert made.grade(guess).mark is by_edges(value, rules["edges"]), (made, value)
                count += 1
            if isinstance(answer, Placed):
                tone = f"{answer.tone.value:.9f}"
                for value in numbers_about(rules["zebra"]):
                    mark = made.grade({"answer": tone, "zebra": f"{value:.9f}"}).mark
                    assert mark is by_edges(value, rules["zebra"]["edges"]), (made, value)
                    count += 1
        case Settings(turns=turns):
            for texts in product(*([text for _, text in turn.marks][::3] for turn in turns)):
                guess = {turn.name: text for turn, text in zip(turns, texts, strict=True)}
                stops = rules["base"] + sum(
                    rules["turns"][name][text] for name, text in guess.items()
                )
                grade = made.grade(guess)
                assert grade.distance == pytest.approx(stops, abs=1e-6)
                assert grade.mark is by_edges(stops, rules["edges"])
                count += 1
        case OneOf(options=options) | SomeOf(options=options):
            for one in options:
                off = len({one.key} ^ set(rules["right"]))
                mark = (
                    Mark.RIGHT if not off else Mark.CLOSE if off <= rules["forgives"] else Mark.OFF
                )
                assert made.grade({"answer": one.key}).mark is mark
                count += 1
        case Order():
            assert made.grade({"answer": ",".join(rules["right"])}).mark is Mark.RIGHT
            count += 1
    return count


@pytest.mark.parametrize(("kind", "level"), EVERY, ids=lambda one: getattr(one, "value", one))
def test_the_rules_that_go_along_grade_as_the_core_does(kind: ExerciseKind, level: int) -> None:
    count = 0
    for seed in SEEDS:
        made = exercise(kind, level, seed)
        # As the page gets them: through JSON.
        count += checked(made, json.loads(json.dumps(rules_for(made))))
    assert count >= len(SEEDS)
