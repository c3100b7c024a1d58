"""Guesses at the edges of the grades, in any form they are typed, and what is no guess."""

from dataclasses import replace
from typing import Any

import pytest

from fotonomy.core.analysis.setup import analyse
from fotonomy.core.drill.answers import Amount, Order, Placed, Settings, SomeOf
from fotonomy.core.drill.exercise import LEVELS, Asked, Exercise
from fotonomy.core.drill.exercise_kind import ExerciseKind
from fotonomy.core.drill.generate import (
    exercise,
)
from fotonomy.core.drill.grading import Mark, graded
from fotonomy.core.errors import RuleError
from fotonomy.core.exposure.light_budget import light_budget
from fotonomy.core.working.catalog import value_in
from tests.core.examples import setup


@pytest.mark.parametrize(("off", "mark"), [
    (0.0, Mark.RIGHT), (0.33, Mark.RIGHT), (-0.35, Mark.RIGHT), (0.36, Mark.CLOSE), (1.0, Mark.CLOSE),
    (-1.02, Mark.CLOSE), (1.03, Mark.OFF), (float("inf"), Mark.OFF),
])  # fmt: skip
def test_a_third_of_a_stop_is_right_and_one_is_close(off: float, mark: Mark) -> None:
    assert graded(off, "").mark is mark


def amount(**more: Any) -> Exercise:
    base = {"value": 3.0, "unit": "stops", "low": 0.0, "high": 14.0}
    return Exercise(
        asked=Asked(ExerciseKind.HOW_MANY_STOPS, 1, 0), ask="?", facts=(), why=".",
        answer=Amount(**{**base, **more}), right=setup(),
    )  # fmt: skip


@pytest.mark.parametrize(("text", "mark"), [
    ("3", Mark.RIGHT), ("3 stops", Mark.RIGHT), ("2 2/3", Mark.RIGHT), ("3,3", Mark.RIGHT), ("2", Mark.CLOSE),
    ("1.9", Mark.OFF), ("EV 3", Mark.RIGHT), ("  3.0 ", Mark.RIGHT),
])  # fmt: skip
def test_a_guess_is_read_in_any_form(text: str, mark: Mark) -> None:
    assert amount().grade({"answer": text}).mark is mark


@pytest.mark.parametrize(
    "text", ["", "   ", "three", "-1", "15", "nan", "inf", "1e9", "3 s", "x" * 500]
)
def test_nonsense_is_refused_and_keeps_its_field(text: str) -> None:
    with pytest.raises(RuleError) as refused:
        amount().grade({"answer": text})
    assert refused.value.field == "answer"


def test_glass_may_be_named_as_it_is_sold() -> None:
    """Six stops: ND 1.8, ND64 or 6 (ISO 5-2: 1.8 / 0.301 = 5.98)."""
    asked = amount(value=6.0, glass=True)
    for text in ("6", "6 stops", "ND 1.8", "ND64", "1.8"):
        assert asked.grade({"answer": text}).mark is Mark.RIGHT, text
    assert asked.grade({"answer": "ND 0.9"}).mark is Mark.OFF


def test_times_are_graded_by_their_ratio() -> None:
    asked = amount(value=10.0, unit="s", low=0.1, high=3600.0, scale="ratio")
    marks = [
        asked.grade({"answer": text}).mark
        for text in ("10 s", "12", "8", "15", "20 s", "21", "1 min", "4")
    ]
    right, close, off = Mark.RIGHT, Mark.CLOSE, Mark.OFF
    # 4 s for 10 s is log2 2.5, 1.3 stops: as far off as 25 s.
    assert marks == [right, right, right, close, close, off, off, off]
    assert asked.grade({"answer": "12"}).words == "10 s; you were 20 % over"


def test_a_range_is_right_from_end_to_end() -> None:
    asked = amount(value=9.0, to=11.0, unit="EV", low=-8.0, high=20.0)
    assert [asked.grade({"answer": text}).mark for text in ("9", "10", "11", "11.3", "12", "12.1")] == [
        Mark.RIGHT, Mark.RIGHT, Mark.RIGHT, Mark.RIGHT, Mark.CLOSE, Mark.OFF,
    ]  # fmt: skip


def test_levels_are_graded_in_stops_of_the_curve() -> None:
    """On BT.709 18 % records at 41 % and twice the light at 59 %: a stop apart (ITU-R BT.709-6)."""
    from tests.core.examples import VIDEO

    asked = replace(
        amount(value=40.9, unit="%", low=5, high=109, scale="level"), right=setup(profile=VIDEO)
    )
    assert asked.grade({"answer": "45"}).mark is Mark.RIGHT
    assert asked.grade({"answer": "58"}).mark is Mark.CLOSE
    assert asked.grade({"answer": "70 %"}).mark is Mark.OFF


@pytest.mark.parametrize("level", LEVELS)
def test_what_is_shown_with_an_answer_about_tones_is_the_answer(level: int) -> None:
    """The drawing, the picture and the workings of the right answer say what it says."""
    for seed in range(12):
        made = exercise(ExerciseKind.PLACE_THE_FACE, level, seed)
        answer = made.answer.tone if isinstance(made.answer, Placed) else made.answer
        assert isinstance(answer, Amount)
        shown = made.analysis
        assert shown is not None
        assert value_in(shown, "level.key.percent") == pytest.approx(answer.value, abs=0.05)
        assert light_budget(shown.setup).exposure_stops == pytest.approx(0.0, abs=1e-6)
        # A guess is drawn where it was put.
        mine = made.tried({"answer": "33", "zebra": "90"})
        assert mine is not None
        assert value_in(analyse(mine), "level.key.percent") == pytest.approx(33.0, abs=0.05)
    for seed in range(12):
        made = exercise(ExerciseKind.METHOD, level, seed)
        assert made.right is not None
        assert made.scene_setup is not None
        assert light_budget(made.right).error_stops == pytest.approx(0.0, abs=1e-6)
        # As it stands grey is at its mark, so that it gives nothing away.
        assert light_budget(made.scene_setup).exposure_stops == pytest.approx(0.0, abs=1e-6)
    for seed in range(12):
        for one in exercise(ExerciseKind.WHICH_ONE, level, seed).setups:
            assert light_budget(one).error_stops == pytest.approx(0.0, abs=1e-6)


@pytest.mark.parametrize(
    ("under", "mark"),
    # Two percent under the clip it shows in time, six it shows too soon; over it it never shows.
    [(0, Mark.RIGHT), (2, Mark.RIGHT), (2.5, Mark.RIGHT), (2.6, Mark.CLOSE), (6, Mark.CLOSE),
     (6.1, Mark.OFF), (-0.5, Mark.RIGHT), (-0.6, Mark.OFF)],
)  # fmt: skip
def test_a_clip_zebra_belongs_just_under_the_clip(under: float, mark: Mark) -> None:
    made = exercise(ExerciseKind.PLACE_THE_FACE, 2, 7)
    placed = made.answer
    assert isinstance(placed, Placed)
    right = f"{placed.tone.value:.6f}"
    graded = made.grade({"answer": right, "zebra": f"{placed.clip_percent - under:.3f}"})
    assert graded.mark is mark
    assert ("never shows" in graded.words) == (under < -0.5)
    # A face in the wrong place is not put right by its zebra.
    far = f"{placed.tone.low:.6f}"
    assert made.grade({"answer": far, "zebra": f"{placed.clip_percent:.3f}"}).mark is Mark.OFF


@pytest.mark.parametrize(
    ("guess", "field"),
    [({"answer": "50", "zebra": ""}, "zebra"), ({"answer": "", "zebra": "90"}, "answer"),
     ({"answer": "50", "zebra": "all"}, "zebra"), ({"answer": "50", "zebra": "121"}, "zebra"),
     ({"answer": "quux", "zebra": "90"}, "answer")],
)  # fmt: skip
def test_each_field_of_a_placing_says_what_is_wrong_with_it(
    guess: dict[str, str], field: str
) -> None:
    with pytest.raises(RuleError) as caught:
        exercise(ExerciseKind.PLACE_THE_FACE, 3, 7).grade(guess)
    assert caught.value.field == field


def test_one_missed_danger_is_close_and_two_are_off() -> None:
    made = exercise(ExerciseKind.NAME_THE_DANGER, 2, 3)
    assert isinstance(made.answer, SomeOf)
    one, _ = sorted(made.answer.right)
    wrong = next(o.key for o in made.answer.options if o.key not in made.answer.right)
    assert made.grade({"answer": one}).mark is Mark.CLOSE
    assert made.grade({"answer": wrong}).mark is Mark.OFF
    # Somebody who ticks one thing too many is close, and who ticks them all is off.
    assert made.grade({"answer": ",".join((*made.answer.right, wrong))}).mark is Mark.CLOSE
    every = ",".join(o.key for o in made.answer.options)
    assert made.grade({"answer": every}).mark is Mark.OFF
    for nonsense in ("", "quux", f"{one},quux"):
        with pytest.raises(RuleError):
            made.grade({"answer": nonsense})


def test_an_order_with_one_pair_wrong_is_close() -> None:
    made = exercise(ExerciseKind.PLAN_A_DAY, 1, 2)
    assert isinstance(made.answer, Order)
    a, b, *rest = made.answer.right
    assert made.grade({"answer": ",".join((b, a, *rest))}).mark is Mark.CLOSE
    # The first of them two places late: two pairs are the wrong way round.
    c, *others = rest
    late = made.grade({"answer": ",".join((b, c, a, *others))})
    assert (late.mark, late.distance) == (Mark.OFF, 2.0)
    assert late.words.endswith("; 2 pairs the wrong way")
    for nonsense in ("", "0,1,2,3", "0,0,1,2,3", "a,b,c,d,e"):
        with pytest.raises(RuleError):
            made.grade({"answer": nonsense})


def test_settings_take_marks_alone() -> None:
    made = exercise(ExerciseKind.SET_IT, 1, 4)
    assert isinstance(made.answer, Settings)
    for guess in ({}, {"iris": ""}, {"iris": "f/3.14159"}, {"iso": "100"}):
        with pytest.raises(RuleError) as refused:
            made.grade(guess)
        assert refused.value.field == "iris"


def test_settings_say_on_which_side_the_light_is() -> None:
    made = exercise(ExerciseKind.SET_IT, 1, 4)
    assert isinstance(made.answer, Settings)
    for _, mark in (made.answer.turns[0].marks[0], made.answer.turns[0].marks[-1]):
        graded = made.grade({"iris": mark})
        # A wide iris lets too much in, a small one too little.
        side = "over" if graded.distance > 0 else "under"
        assert f" {side}; " in graded.words
    widest, smallest = (made.grade({"iris": made.answer.turns[0].marks[k][1]}) for k in (0, -1))
    assert widest.distance > 0 > smallest.distance


def test_a_range_in_which_all_is_close_asks_nothing() -> None:
    assert amount().is_sound
    assert not amount(low=2.1, high=3.9).is_sound
    assert amount(low=2.1, high=4.1).is_sound
    assert not amount(low=3.5, high=9.0).is_sound
