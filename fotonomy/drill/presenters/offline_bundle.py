"""An exercise that is taken along: asked as any other, and graded by a small script."""

import json
from dataclasses import dataclass

from fotonomy.core.drill.exercise import Exercise
from fotonomy.core.drill.offline_rules import rules_for
from fotonomy.drill.presenters.exercise import ExerciseView, address_of, exercise_view


@dataclass(frozen=True, slots=True)
class Taken:
    """An exercise with what grades it, its right answer in words, and why."""

    view: ExerciseView
    kind: str
    seed: int
    rules: str
    said: str
    why: str


def taken(exercise: Exercise, number: int) -> Taken:
    """What a page needs to ask, grade and explain it; ``number`` tells it from the others."""
    view = exercise_view(exercise, address_of(exercise), True, "", prefix=f"e{number}-")
    return Taken(
        view, exercise.kind.value, exercise.seed, json.dumps(rules_for(exercise)),
        exercise.answer.said, exercise.why,
    )  # fmt: skip
