"""Exercises by kind, level and seed: the same three always make the same exercise."""

from functools import lru_cache
from random import Random

from fotonomy.core.drill.answers import Amount
from fotonomy.core.drill.exercise import LEVELS, Asked, Exercise
from fotonomy.core.drill.exercise_kind import ExerciseKind, Setups
from fotonomy.core.errors import RuleError
from fotonomy.core.parsing.table import by_name
from fotonomy.core.spec.setup import Setup
from fotonomy.core.takes.actual import Actual

MOST_SEED = 999_999


@lru_cache(maxsize=256)
def exercise(kind: ExerciseKind, level: int, seed: int) -> Exercise:
    """The exercise of a kind, a level from 1 to 3 and a seed. RuleError for any other."""
    if level not in LEVELS:
        raise RuleError("level", "from 1 to 3", level)
    if not 0 <= seed <= MOST_SEED:
        raise RuleError("seed", f"from 0 to {MOST_SEED}", seed)
    return _made(kind, level, seed, None)


def _made(kind: ExerciseKind, level: int, seed: int, own: Setup | None) -> Exercise:
    chance = Random(f"{kind.value} {level} {seed}")
    return kind.record.maker(Asked(kind, level, seed), chance, own)


def kinds_of(setup: Setup) -> tuple[ExerciseKind, ...]:
    """The kinds of exercise that a setup can be; one of them may still find nothing to ask."""
    fitting = {Setups.ANY}
    if not setup.records_stills:
        fitting.add(Setups.VIDEO)
    elif setup.kind.traits.has_interval:
        fitting.add(Setups.RUNS)
        if setup.run.declination_deg is not None:
            fitting.add(Setups.SKY)
    return tuple(kind for kind in ExerciseKind if kind.record.made_of in fitting)


def own_exercise(kind: ExerciseKind, level: int, seed: int, setup: Setup) -> Exercise | None:
    """An exercise about somebody's own setup; None where this one makes none of the kind."""
    if kind not in kinds_of(setup):
        return None
    try:
        made = _made(kind, level, seed, setup)
    except (LookupError, RuleError):
        return None
    return made if made.is_sound else None


def of_actual(actual: Actual, name: str, seed: int) -> Exercise:
    """An exercise of a take that was set otherwise than planned: by how much did it matter?"""
    facts = tuple(
        f"{by_name()[one.name].label} {one.actual}, planned {one.planned}"
        for one in actual.differences if one.stops
    )  # fmt: skip
    return Exercise(
        asked=Asked(ExerciseKind.HOW_MANY_STOPS, 2, seed % MOST_SEED),
        ask="By how many stops did it change the light? Minus is darker.", facts=(name, *facts),
        answer=Amount(actual.stops, "stops", -14.0, 14.0), scene_setup=actual.planned,
        right=actual.done, setups=(actual.planned, actual.done),
        why="Each setting counts by itself, and they add up.",
        workings=("budget.error_stops", "budget.lines.shutter.stops", "budget.lines.iso.stops"),
    )  # fmt: skip
