"""Exercises whose answers are worked out again here, by the formulas in the trade's books."""

from dataclasses import replace
from itertools import permutations
from math import ceil, log2, tau

import pytest

from fotonomy.core.drill.answers import Amount, OneOf, Order, Settings
from fotonomy.core.drill.exercise import Exercise
from fotonomy.core.drill.exercise_kind import ExerciseKind
from fotonomy.core.drill.generate import (
    exercise,
)
from fotonomy.core.drill.kinds.day import Block, works
from fotonomy.core.exposure.light_budget import light_budget

# Fifty exercises whose answers are worked out again here, by the formulas in the trade's books.


def fact(made: Exercise, start: str) -> str:
    """The fact that begins so, without its beginning."""
    return next(one.removeprefix(start) for one in made.facts if one.startswith(start))


def ev_of(made: Exercise) -> float:
    return float(fact(made, "Scene light EV ").replace("−", "-"))


def amount_of(made: Exercise) -> Amount:
    assert isinstance(made.answer, Amount)
    return made.answer


MARKS = {1: 0, 1.4: 1, 2: 2, 2.8: 3, 4: 4, 5.6: 5, 8: 6, 11: 7, 16: 8, 22: 9}


@pytest.mark.parametrize("seed", range(10))
def test_stops_by_hand(seed: int) -> None:
    """f/2 to f/5.6: marks 2 and 5, three stops. ISO 400 to 3200: log2 8, three. ND 0.9: 0.9/0.301."""
    made = exercise(ExerciseKind.HOW_MANY_STOPS, 1, seed)
    said = made.facts[0]
    if said.startswith("f/"):
        one, other = (MARKS[float(part.removeprefix("f/"))] for part in said.split(" to "))
        by_hand = abs(one - other)
    elif said.startswith("ISO"):
        one, other = (float(part.split()[-1]) for part in said.split(" to "))
        by_hand = abs(log2(other / one))
    else:
        by_hand = float(said.split("ND ")[-1]) / 0.30103
    assert amount_of(made).value == pytest.approx(by_hand, abs=1e-3)


@pytest.mark.parametrize("seed", range(10))
def test_glass_by_hand(seed: int) -> None:
    """EV + log2(S/100) − log2(1/t) − 2·log2 N is what has to be taken: EV 15, 1/50, f/2.8,
    ISO 100 is 15 + 0 − 5.64 − 3 = 6.4 stops."""
    made = exercise(ExerciseKind.ND_FOR_THIS, 1, seed)
    f_number = float(next(one for one in made.facts if one.startswith("f/")).removeprefix("f/"))
    iso = float(fact(made, "ISO "))
    by_hand = ev_of(made) + log2(iso / 100) - log2(50) - MARKS[f_number]
    # Close focus takes up to 0.1 stop more on a lens at 1.5 m.
    assert amount_of(made).value == pytest.approx(by_hand, abs=0.13)


@pytest.mark.parametrize("seed", range(10))
def test_intervals_by_hand(seed: int) -> None:
    """10 s at 25 fps are 250 frames with 249 spaces: 40 min over them are 9.64 s."""
    made = exercise(ExerciseKind.INTERVAL_FOR_THAT, 1, seed)
    event = seconds(made.facts[0].split(", ")[1].removesuffix(" of it"))
    frames = ceil(float(made.facts[1].split(" s ")[0]) * 25)
    assert amount_of(made).value == pytest.approx(event / (frames - 1), rel=1e-6)


def seconds(text: str) -> float:
    """A duration as it is written: "1 h 20 min", "40 min", "90 s"."""
    units = {"h": 3600, "min": 60, "s": 1}
    parts = text.split()
    return sum(
        float(size) * units[unit] for size, unit in zip(parts[::2], parts[1::2], strict=True)
    )


@pytest.mark.parametrize("seed", range(10))
def test_stars_by_hand(seed: int) -> None:
    """Trail = f·ω·t·cos δ over the pixel: ω is 15.041″ a second, a pixel 36 mm / 3840.

    50 mm for 10 s at the equator: 50 · 7.292e-5 · 10 / 0.009375 = 3.9 px.
    """
    made = exercise(ExerciseKind.STARS, 1, seed)
    focal = float(made.facts[0].split()[0])
    time = seconds(fact(made, "open for "))
    trail = focal * tau / 86_164.1 * time / (36 / 3840)
    assert isinstance(made.answer, OneOf)
    assert made.answer.right == ("trails" if trail > 3 else "points")


@pytest.mark.parametrize("seed", range(10))
def test_days_by_hand(seed: int) -> None:
    """Every order of the five is tried by the clock: one alone works."""
    made = exercise(ExerciseKind.PLAN_A_DAY, 2, seed)
    assert isinstance(made.answer, Order)
    way = int(made.given["way_min"])
    shots = {}
    for one in made.answer.options:
        window, takes, place = one.words.split(": ")[1].split(", ")
        opens, closes = (60 * int(at[:2]) + int(at[3:]) for at in window.split(" to "))
        shots[one.key] = (opens, closes, int(takes.split()[1]), place)

    def fits(order: tuple[str, ...]) -> bool:
        now, here = 0, None
        for key in order:
            opens, closes, takes, place = shots[key]
            now = max(now + (way if here not in (None, place) else 0), opens) + takes
            here = place
            if now > closes:
                return False
        return True

    assert [order for order in permutations(shots) if fits(order)] == [made.answer.right]


def test_a_way_between_places_counts() -> None:
    first = Block("a", "a", 0, 60, 30, "quay")
    near, far = Block("b", "b", 0, 60, 30, "quay"), Block("b", "b", 0, 60, 30, "barn")
    assert works((first, near), 20)
    assert not works((first, far), 20)


def test_balance_by_hand() -> None:
    """Whatever the page offers as a way out, the sum of its stops is what it says."""
    for seed in range(10):
        made = exercise(ExerciseKind.SET_IT, 1, seed)
        assert isinstance(made.answer, Settings)
        assert made.right is not None
        done = light_budget(made.right)
        lines = {line.key: line.stops for line in done.lines}
        assert sum(lines.values()) == pytest.approx(0, abs=0.2)
        assert lines["shutter"] == pytest.approx(-log2(50), abs=1e-3)


def test_what_pays_is_paid_to_a_fifth_of_a_stop() -> None:
    for seed in range(10):
        made = exercise(ExerciseKind.WHAT_PAYS, 2, seed)
        assert isinstance(made.answer, OneOf)
        for one in made.answer.options:
            assert made.scene_setup is not None
            there = replace(made.scene_setup, **{c.setting: c.value for c in one.changes})
            off = abs(light_budget(there).error_stops)
            assert off <= 0.36 if one.key == made.answer.right else off >= 0.34, (seed, one.words)
