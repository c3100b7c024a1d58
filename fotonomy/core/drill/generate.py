"""Exercises by kind, level and seed: the same three always make the same exercise."""

from collections.abc import Callable
from functools import lru_cache
from random import Random

from fotonomy.core.drill.answers import Amount
from fotonomy.core.drill.exercise import Exercise
from fotonomy.core.drill.kind import LEVELS, Kind
from fotonomy.core.drill.kinds.balance import how_many_stops, nd_for_this, set_it, what_pays
from fotonomy.core.drill.kinds.day import plan_a_day
from fotonomy.core.drill.kinds.looking import hold_or_float, name_the_danger, which_one, will_it
from fotonomy.core.drill.kinds.runs import interval_for_that, spot_the_program, stars
from fotonomy.core.drill.kinds.tones import method, place_the_face, read_the_light
from fotonomy.core.errors import RuleError
from fotonomy.core.parsing.table import by_name
from fotonomy.core.spec.setup import Kind as SetupKind
from fotonomy.core.spec.setup import Setup
from fotonomy.core.takes.actual import Actual

Maker = Callable[[int, int, Random, Setup | None], Exercise]
MAKERS: dict[Kind, Maker] = {
    Kind.SET_IT: set_it,
    Kind.WHICH_ONE: which_one,
    Kind.HOW_MANY_STOPS: how_many_stops,
    Kind.WHAT_PAYS: what_pays,
    Kind.NAME_THE_DANGER: name_the_danger,
    Kind.PLACE_THE_FACE: place_the_face,
    Kind.ND_FOR_THIS: nd_for_this,
    Kind.INTERVAL_FOR_THAT: interval_for_that,
    Kind.READ_THE_LIGHT: read_the_light,
    Kind.HOLD_OR_FLOAT: hold_or_float,
    Kind.WILL_IT: will_it,
    Kind.STARS: stars,
    Kind.METHOD: method,
    Kind.PLAN_A_DAY: plan_a_day,
    Kind.SPOT_THE_PROGRAM: spot_the_program,
}
# Kinds that can be made of a person's own setup.
OF_A_SETUP = (
    Kind.SET_IT,
    Kind.HOW_MANY_STOPS,
    Kind.WHAT_PAYS,
    Kind.NAME_THE_DANGER,
    Kind.PLACE_THE_FACE,
    Kind.ND_FOR_THIS,
    Kind.HOLD_OR_FLOAT,
    Kind.WILL_IT,
    Kind.WHICH_ONE,
    Kind.METHOD,
)
# And those that hold of single pictures as well as of video.
_OF_STILLS = (
    Kind.SET_IT, Kind.HOW_MANY_STOPS, Kind.PLACE_THE_FACE, Kind.HOLD_OR_FLOAT, Kind.METHOD,
)  # fmt: skip
_OF_RUNS = (Kind.INTERVAL_FOR_THAT, Kind.SPOT_THE_PROGRAM)
MOST_SEED = 999_999


@lru_cache(maxsize=256)
def exercise(kind: Kind, level: int, seed: int) -> Exercise:
    """The exercise of a kind, a level from 1 to 3 and a seed. RuleError for any other."""
    if level not in LEVELS:
        raise RuleError("level", "from 1 to 3", level)
    if not 0 <= seed <= MOST_SEED:
        raise RuleError("seed", f"from 0 to {MOST_SEED}", seed)
    return MAKERS[kind](level, seed, Random(f"{kind.value} {level} {seed}"), None)


def kinds_of(setup: Setup) -> tuple[Kind, ...]:
    """The kinds of exercise that a setup can be; one of them may still find nothing to ask."""
    if not setup.records_stills:
        return OF_A_SETUP
    of_run = _OF_RUNS if setup.kind is SetupKind.INTERVAL else ()
    sky = setup.kind is SetupKind.INTERVAL and setup.run.declination_deg is not None
    return (*_OF_STILLS, *of_run, *((Kind.STARS,) if sky else ()))


def own_exercise(kind: Kind, level: int, seed: int, setup: Setup) -> Exercise | None:
    """An exercise about somebody's own setup; None where this one makes none of the kind."""
    if kind not in kinds_of(setup):
        return None
    try:
        made = MAKERS[kind](level, seed, Random(f"{kind.value} {level} {seed}"), setup)
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
        kind=Kind.HOW_MANY_STOPS, level=2, seed=seed % MOST_SEED,
        ask="By how many stops did it change the light? Minus is darker.", facts=(name, *facts),
        answer=Amount(actual.stops, "stops", -14.0, 14.0), scene_setup=actual.planned,
        right=actual.done, setups=(actual.planned, actual.done),
        why="Each setting counts by itself, and they add up.",
        workings=("budget.error_stops", "budget.lines.shutter.stops", "budget.lines.iso.stops"),
    )  # fmt: skip
