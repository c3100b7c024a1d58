"""Spaced repetition, against the library's own, and the levels."""

import json
from datetime import UTC, datetime, timedelta

from fsrs import Card, Rating, Scheduler

from fotonomy.core.drill.grading import Mark
from fotonomy.core.drill.memory import Memory


def test_a_skill_comes_due_as_the_library_says() -> None:
    """The example of its README: reviewed "good" the card is due ten minutes later, in learning."""
    now = datetime(2027, 6, 5, 10, 0, tzinfo=UTC)
    ours = Memory().after(Mark.RIGHT, now)
    card, _ = Scheduler(enable_fuzzing=False).review_card(Card(), Rating.Good, now)
    assert ours.due == card.due == now + timedelta(minutes=10)
    assert json.loads(ours.card)["stability"] == card.stability


def test_a_row_of_answers_is_the_librarys_own_row() -> None:
    """Ratings and dates of the library's tests: its intervals in days, 0 0 2 11 46 163 498 ..."""
    ratings = [Mark.RIGHT] * 6 + [Mark.OFF] * 2 + [Mark.RIGHT] * 5
    plain = {Mark.RIGHT: Rating.Good, Mark.OFF: Rating.Again}
    scheduler, card, ours = Scheduler(enable_fuzzing=False), Card(), Memory()
    now = datetime(2022, 11, 29, 12, 30, tzinfo=UTC)
    history = []
    for mark in ratings:
        card, _ = scheduler.review_card(card, plain[mark], now)
        ours = ours.after(mark, now)
        assert ours.due == card.due
        assert card.last_review is not None
        history.append((card.due - card.last_review).days)
        now = card.due
    assert history == [0, 2, 11, 46, 163, 498, 0, 0, 2, 4, 7, 12, 21]


def test_a_clock_that_was_set_back_stands_still() -> None:
    now = datetime(2027, 6, 5, 10, 0, tzinfo=UTC)
    first = Memory().after(Mark.RIGHT, now)
    back = first.after(Mark.RIGHT, now - timedelta(days=400))
    assert back.due == first.after(Mark.RIGHT, now).due
    assert 0.99 <= back.recalled(now - timedelta(days=400)) <= 1.0
    # What is not practised fades.
    fading = [back.recalled(now + timedelta(days=days)) for days in (0, 10, 400)]
    assert fading[0] > fading[1] > fading[2]


def test_levels_go_up_after_three_and_down_after_two() -> None:
    now, memory = datetime(2027, 6, 5, 10, 0, tzinfo=UTC), Memory()
    levels = []
    for mark in (
        [Mark.RIGHT] * 2
        + [Mark.CLOSE]
        + [Mark.RIGHT] * 3
        + [Mark.OFF, Mark.CLOSE, Mark.OFF, Mark.OFF]
    ):
        memory = memory.after(mark, now)
        levels.append(memory.level)
    assert levels == [1, 1, 1, 1, 1, 2, 2, 2, 2, 1]
    top = Memory(level=3, run=2).after(Mark.RIGHT, now)
    low = Memory(level=1, run=-1).after(Mark.OFF, now)
    assert (top.level, low.level) == (3, 1)


def test_what_was_never_practised_is_not_known() -> None:
    assert Memory().recalled(datetime(2027, 6, 5, tzinfo=UTC)) == 0.0
