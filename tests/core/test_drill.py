"""Exercises: each has one right answer or range, is graded by the core, and comes due by FSRS."""

from dataclasses import replace
from math import tau
from typing import Any

import pytest

from fotonomy.core.analysis.setup import analyse
from fotonomy.core.drill.answers import Amount, OneOf, Order, Placed, Settings, SomeOf
from fotonomy.core.drill.exercise import LEVELS, Exercise
from fotonomy.core.drill.exercise_kind import ExerciseKind
from fotonomy.core.drill.generate import (
    MOST_SEED,
    exercise,
    kinds_of,
    own_exercise,
)
from fotonomy.core.drill.grading import Mark
from fotonomy.core.drill.kinds.visual import dangers_in
from fotonomy.core.drill.lessons import BY_KEY, LESSONS
from fotonomy.core.drill.scenes import SCENES, balanced, setup_of
from fotonomy.core.errors import RuleError
from fotonomy.core.exposure.light_budget import light_budget
from fotonomy.core.working.catalog import value_in
from fotonomy.core.working.explain import working_of
from tests.core.examples import setup
from tests.core.run_examples import burst, interval, long_exposure
from tests.properties import LONG

# Few of each kind and level at every push, more over the night: `make test-long`.
SEEDS = range(45 if LONG else 9)
EVERY = [(kind, level) for kind in ExerciseKind for level in LEVELS]


def right_guess(made: Exercise) -> dict[str, str]:
    """The right answer, as it would be sent."""
    answer = made.answer
    match answer:
        case OneOf():
            return {"answer": answer.right}
        case SomeOf():
            return {"answer": ",".join(sorted(answer.right))}
        case Settings():
            return dict(answer.solution)
        case Order():
            return {"answer": ",".join(answer.right)}
        case Amount():
            return {
                "answer": f"{answer.value if answer.to is None else (answer.value + answer.to) / 2:.6f}"
            }
        case Placed():
            return {"answer": f"{answer.tone.value:.6f}", "zebra": f"{answer.clip_percent:.6f}"}


def other_guesses(made: Exercise) -> list[dict[str, str]]:
    """Answers that are not the right one."""
    answer = made.answer
    match answer:
        case OneOf():
            return [{"answer": one.key} for one in answer.options if one.key != answer.right]
        case SomeOf():
            keys = [one.key for one in answer.options]
            return [{"answer": one} for one in keys if {one} != answer.right]
        case Order():
            return [{"answer": ",".join(answer.right[::-1])}]
        case Settings():
            assert made.scene_setup is not None
            from fotonomy.core.drill.kinds.balance import text_of

            return [
                {
                    one.name: text_of(one.name, getattr(made.scene_setup, one.name))
                    for one in answer.turns
                }
            ]
        case Amount():
            return [{"answer": f"{edge:.6f}"} for edge in (answer.low, answer.high)
                    if abs(answer.distance(edge, made)) > 1.1]  # fmt: skip
        case Placed(tone=tone):
            zebra = f"{answer.clip_percent:.6f}"
            wrong = [{"answer": f"{edge:.6f}", "zebra": zebra} for edge in (tone.low, tone.high)
                     if abs(tone.distance(edge, made)) > 1.1]  # fmt: skip
            return [*wrong, {"answer": f"{tone.value:.6f}", "zebra": "120"}]


@pytest.mark.parametrize(("kind", "level"), EVERY, ids=lambda one: getattr(one, "value", one))
def test_every_exercise_has_one_right_answer_and_is_not_trivial(
    kind: ExerciseKind, level: int
) -> None:
    """Each is sound, right where it is right, not right anywhere else."""
    said = set()
    for seed in SEEDS:
        made = exercise(kind, level, seed)
        assert (made.kind, made.level, made.seed) == (kind, level, seed)
        assert made.is_sound, seed
        assert made.ask.endswith(("?", "."))
        assert made.why
        assert made.grade(right_guess(made)).mark is Mark.RIGHT, seed
        others = other_guesses(made)
        assert others, seed
        for guess in others:
            if isinstance(made.answer, SomeOf):
                assert made.grade(guess).mark is not Mark.RIGHT
            elif not isinstance(made.answer, Settings):
                assert made.grade(guess).mark is not Mark.RIGHT, (seed, guess)
            else:
                assert made.grade(guess).mark is Mark.OFF, (seed, guess)
        for name in made.workings:
            assert made.right is not None
            value_in(analyse(made.right), name)
        options = tuple(one.words for one in getattr(made.answer, "options", ()))
        said.add((made.ask, made.facts, made.answer.said, options))
    # They differ: a seed is no other's twin but by chance.
    few = (ExerciseKind.READ_THE_LIGHT, ExerciseKind.STARS, ExerciseKind.PLACE_THE_FACE)
    assert len(said) > len(SEEDS) * (0.1 if kind in few else 0.53)


@pytest.mark.parametrize("kind", [ExerciseKind.WHICH_ONE, ExerciseKind.WILL_IT, ExerciseKind.STARS])
def test_two_answers_are_right_about_as_often(kind: ExerciseKind) -> None:
    """Somebody who always says the same is right no more than seven times of ten."""
    for level in LEVELS[:2]:
        answers = [exercise(kind, level, seed).answer for seed in range(120 if LONG else 60)]
        first = sum(isinstance(one, OneOf) and one.right == one.options[0].key for one in answers)
        assert 0.3 <= first / len(answers) <= 0.72, (kind, level, first)


def test_the_same_seed_makes_the_same_exercise() -> None:
    for kind in ExerciseKind:
        exercise.cache_clear()
        one = exercise(kind, 2, 77)
        exercise.cache_clear()
        assert exercise(kind, 2, 77) == one


@pytest.mark.parametrize(("level", "seed"), [(0, 1), (4, 1), (1, -1), (1, MOST_SEED + 1)])
def test_levels_and_seeds_have_ends(level: int, seed: int) -> None:
    with pytest.raises(RuleError):
        exercise(ExerciseKind.SET_IT, level, seed)


# Own setups


def test_ones_own_setup_makes_exercises() -> None:
    made = [
        own_exercise(kind, 1, seed, setup(subject_speed_m_s=3.0))
        for kind in ExerciseKind
        for seed in range(3)
    ]
    found = {one.kind for one in made if one is not None}
    assert len(found) >= 7
    assert all(one.is_sound for one in made if one is not None)
    assert {one.scene_setup.body.name for one in made if one and one.scene_setup} == {"A-cam"}


def test_ones_own_runs_and_frames_make_exercises() -> None:
    starry = replace(
        interval(), run=replace(interval().run, declination_deg=-30.0), focal_mm=50
    )  # fmt: skip
    for made, kinds in (
        (
            starry,
            {
                ExerciseKind.SET_IT,
                ExerciseKind.INTERVAL_FOR_THAT,
                ExerciseKind.SPOT_THE_PROGRAM,
                ExerciseKind.STARS,
            },
        ),
        (burst(), {ExerciseKind.SET_IT, ExerciseKind.PLACE_THE_FACE}),
        (long_exposure(), {ExerciseKind.SET_IT, ExerciseKind.PLACE_THE_FACE}),
    ):
        assert kinds <= set(kinds_of(made))
        for kind in kinds:
            found = [own_exercise(kind, level, seed, made) for level in LEVELS for seed in range(4)]
            some = [one for one in found if one is not None]
            assert some, kind
            assert all(one.is_sound for one in some)
            assert {one.right.body.name for one in some if one.right} == {made.body.name}
            assert {one.right.kind for one in some if one.right} == {made.kind}
    # What is asked of a run is asked of its own edit and its own glass.
    three = own_exercise(ExerciseKind.INTERVAL_FOR_THAT, 1, 3, replace(starry, project_fps=30))
    assert three is not None
    assert three.facts[1].endswith("at 30 fps")
    sky = own_exercise(ExerciseKind.STARS, 3, 3, starry)
    assert sky is not None
    assert sky.facts[1] == "stars 30° from the equator of the sky"
    # t = px · pixel / (f · ω · cos δ): 3 px of 36 mm / 3840 at 50 mm and 30° are 8.9 s.
    assert isinstance(sky.answer, Amount)
    assert sky.answer.value == pytest.approx(
        3 * (36 / 3840) / (50 * (tau / 86_164.1) * 0.866025), rel=0.01
    )


@pytest.mark.parametrize("point_px", [2.0, 8.0])
def test_points_or_trails_go_by_ones_own_tolerance(point_px: float) -> None:
    own = replace(
        interval(), run=replace(interval().run, declination_deg=0.0, star_px=point_px), focal_mm=50
    )  # fmt: skip
    said = set()
    for seed in range(12):
        made = own_exercise(ExerciseKind.STARS, 1, seed, own)
        assert made is not None
        assert made.right is not None
        assert isinstance(made.answer, OneOf)
        # 50 mm at the equator: f·ω·t over 36 mm / 3840.
        trail = 50 * tau / 86_164.1 * made.right.time_s / (36 / 3840)
        assert made.answer.right == ("trails" if trail > point_px else "points")
        assert max(trail / point_px, point_px / trail) > 2.2
        said.add(made.answer.right)
    assert len(said) == 2


def test_kinds_without_a_setup_make_none() -> None:
    assert own_exercise(ExerciseKind.STARS, 1, 1, interval()) is None
    assert own_exercise(ExerciseKind.INTERVAL_FOR_THAT, 1, 1, burst()) is None
    assert own_exercise(ExerciseKind.PLAN_A_DAY, 1, 1, setup()) is None


def test_invented_scenes_are_balanced_as_one_would() -> None:
    """No ISO turned up behind glass; nothing is wrong with them but what is put in."""
    from random import Random

    for scene in SCENES:
        done = balanced(setup_of(scene), Random(3))
        if done is None:
            continue
        assert abs(light_budget(done).error_stops) <= 0.16
        assert done.nd_density == 0 or done.iso <= 800
        assert "exposure" not in dangers_in(done)


# Lessons


@pytest.mark.parametrize("lesson", LESSONS, ids=lambda one: one.key)
def test_a_lesson_has_one_idea_a_drawing_that_moves_and_three_exercises(lesson: Any) -> None:
    assert 1 <= len(lesson.idea) <= 3
    assert len(lesson.exercises) == 3
    assert 0 <= lesson.first < len(lesson.stops)
    for kind, level, seed in lesson.exercises:
        assert exercise(kind, level, seed).is_sound
    # What one watches moves with the slider.
    for name in lesson.shows:
        values = {working_of(analyse(one.setup), name, levers=False).value for one in lesson.stops}
        assert len(values) > 2, name


def test_the_lessons_follow_the_order_people_decide_in() -> None:
    assert list(BY_KEY) == ["moving", "rate", "shutter", "iris", "iso", "nd", "placement", "white",
                            "clip", "interval", "day", "log"]  # fmt: skip
