"""What was practised goes along in the archive of a person, and comes back in once."""

from datetime import UTC, datetime, timedelta
from typing import Any

import pytest
from django.contrib.auth.models import User

from fotonomy.core.drill.exercise_kind import ExerciseKind
from fotonomy.core.drill.generate import exercise
from fotonomy.core.drill.grading import Mark
from fotonomy.core.drill.memory import Memory
from fotonomy.drill.archive import PRACTICE
from fotonomy.drill.models import Answer, Skill
from fotonomy.drill.services import keep_answer
from fotonomy.exchange.errors import ExchangeError
from fotonomy.exchange.schemas import _schema
from fotonomy.shoots.archive import archive_of, as_text, import_archive
from tests.archives import with_changed
from tests.core.test_drill import right_guess

NOW = datetime(2026, 6, 5, 10, tzinfo=UTC)


@pytest.fixture
def practised(stranger: User) -> User:
    """Somebody who answered four times."""
    for number, kind in enumerate(
        (ExerciseKind.STARS, ExerciseKind.HOW_MANY_STOPS, ExerciseKind.STARS, ExerciseKind.SET_IT)
    ):
        made = exercise(kind, 1, number)
        at = NOW + timedelta(hours=number)
        keep_answer(stranger, made, right_guess(made), f"answer-of-{number}", at)
    return stranger


@pytest.fixture
def other(db: None) -> User:
    """A person on another server."""
    return User.objects.create_user("elsewhere", password="quay-side-42")


def changed(raw: bytes, change: Any) -> bytes:
    """An archive with its practice changed."""
    return with_changed(raw, PRACTICE, change)


def test_practice_comes_along_and_counts_once(practised: User, other: User) -> None:
    raw = archive_of(practised)
    for _ in range(2):
        import_archive(other, raw)
        assert Answer.objects.filter(user=other).count() == 4
    assert as_text(archive_of(other))[PRACTICE] == as_text(raw)[PRACTICE]
    for own, theirs in zip(
        Skill.objects.filter(user=practised).order_by("kind"),
        Skill.objects.filter(user=other).order_by("kind"), strict=True,
    ):  # fmt: skip
        assert (own.kind, own.due, own.level, own.run) == (
            theirs.kind, theirs.due, theirs.level, theirs.run,
        )  # fmt: skip


def test_nothing_practised_is_no_file(other: User) -> None:
    assert PRACTICE not in as_text(archive_of(other))
    import_archive(other, archive_of(other))


def test_of_a_skill_the_one_practised_last_stays(practised: User, other: User) -> None:
    raw = archive_of(practised)
    made = exercise(ExerciseKind.STARS, 1, 9)
    keep_answer(other, made, right_guess(made), "later-answer-1", NOW + timedelta(days=3))
    mine = Skill.objects.get(user=other, kind=ExerciseKind.STARS.value).card
    import_archive(other, raw)
    assert Skill.objects.get(user=other, kind=ExerciseKind.STARS.value).card == mine
    # What was practised later comes in over what was practised before.
    Skill.objects.filter(user=other, kind=ExerciseKind.STARS.value).update(
        card=Memory().after(Mark.OFF, NOW - timedelta(days=9)).card
    )
    import_archive(other, raw)
    theirs = Skill.objects.get(user=practised, kind=ExerciseKind.STARS.value)
    assert Skill.objects.get(user=other, kind=ExerciseKind.STARS.value).card == theirs.card


@pytest.mark.parametrize(
    ("where", "value", "place"),
    [
        (("skills", 0, "card"), "{}", "$.skills[0].card"),
        (("skills", 0, "card"), '{"card_id": 1, "state": 9}', "$.skills[0].card"),
        (("skills", 0, "card"), "[" * 900, "$.skills[0].card"),
        (("skills", 1, "level"), 7, "$.skills[1].level"),
        (("skills", 0, "kind"), "quux", "$.skills[0].kind"),
        (("answers", 2, "at"), "2026-06-05T10:00:00", "$.answers[2].at"),
        (("answers", 2, "at"), "2026-99-05T10:00:00Z", "$.answers[2].at"),
        (("answers", 1, "mark"), "splendid", "$.answers[1].mark"),
        (("answers", 1, "distance"), 1e9, "$.answers[1].distance"),
        (("answers", 0, "guess"), {"answer": "x" * 401}, "$.answers[0].guess"),
    ],
)
def test_a_damaged_practice_is_named_and_nothing_comes_in(
    practised: User, other: User, where: Any, value: Any, place: str
) -> None:
    def change(given: Any) -> None:
        given[where[0]][where[1]][where[2]] = value

    with pytest.raises(ExchangeError) as caught:
        import_archive(other, changed(archive_of(practised), change))
    assert place in caught.value.place
    assert not Answer.objects.filter(user=other).exists()
    assert not Skill.objects.filter(user=other).exists()


def test_answers_of_the_future_and_doubles_are_tamed(practised: User, other: User) -> None:
    def change(given: Any) -> None:
        given["answers"][0]["at"] = "2999-01-01T00:00:00Z"
        given["answers"].append(given["answers"][1])

    import_archive(other, changed(archive_of(practised), change))
    rows = Answer.objects.filter(user=other)
    assert rows.count() == 4
    assert all(one.at.year < 2999 for one in rows)


def test_the_schema_knows_every_kind() -> None:
    assert set(_schema("practice")["$defs"]["kind"]["enum"]) == {
        kind.value for kind in ExerciseKind
    }
