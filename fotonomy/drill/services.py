"""Answers are kept, skills move on, and the next exercise is chosen."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from random import Random

from django.contrib.auth.models import User
from django.db import IntegrityError, transaction
from django.utils import timezone

from fotonomy.core.drill.exercise import Exercise
from fotonomy.core.drill.exercise_kind import ExerciseKind
from fotonomy.core.drill.generate import MOST_SEED
from fotonomy.core.drill.grading import Grade
from fotonomy.core.drill.memory import Memory
from fotonomy.drill.models import Answer, Skill
from fotonomy.shoots.write_lock import in_turn

# What a person may keep: older answers make room. Nobody scrolls farther back.
MOST_ANSWERS = 2000
MOST_GUESS = 400
NEW_AT_ONCE = 3


@dataclass(frozen=True, slots=True)
class Next:
    """What is asked next: kind, level and seed."""

    kind: ExerciseKind
    level: int
    seed: int


@in_turn()
def keep_answer(
    user: User, exercise: Exercise, guess: Mapping[str, str], uid: str, at: datetime | None = None,
    setup_key: int = 0,
) -> tuple[Grade, bool]:  # fmt: skip
    """Grade a guess and keep it; True with the grade where it is new.

    The same ``uid`` counts once, from however many devices it comes. RuleError for a guess that
    says nothing; then nothing is kept.
    """
    grade = exercise.grade(guess)
    now = timezone.now()
    # A device's clock may be ahead: nothing is answered in the future.
    when = min(at, now) if at is not None else now
    said = {str(key)[:40]: str(value)[:MOST_GUESS] for key, value in guess.items()}
    if Answer.objects.filter(user=user, uid=uid).exists():
        return grade, False
    try:
        with transaction.atomic():
            Answer.objects.create(
                user=user, uid=uid, kind=exercise.kind.value, level=exercise.level,
                seed=exercise.seed, setup_key=setup_key, guess=said, mark=grade.mark.value,
                distance=max(-99.0, min(99.0, grade.distance)), unit=grade.unit, at=when,
            )  # fmt: skip
            _learn(user, exercise.kind, grade, when)
    except IntegrityError:
        return grade, False
    make_room(user)
    return grade, True


def _learn(user: User, kind: ExerciseKind, grade: Grade, at: datetime) -> None:
    Skill.objects.get_or_create(user=user, kind=kind.value)
    # Two devices at once: the row is read again inside the transaction that writes it.
    row = Skill.objects.select_for_update().get(user=user, kind=kind.value)
    after: Memory = row.memory.after(grade.mark, at)
    row.card, row.due, row.level, row.run = after.card, after.due, after.level, after.run
    row.save(update_fields=["card", "due", "level", "run"])


def make_room(user: User) -> None:
    """Drop the oldest answers of somebody who has more than are kept."""
    kept = Answer.objects.filter(user=user).order_by("-at", "-pk")
    oldest = kept.values_list("pk", flat=True)[MOST_ANSWERS:]
    if oldest:
        Answer.objects.filter(pk__in=list(oldest)).delete()


def skills_of(user: User) -> dict[ExerciseKind, Skill]:
    """What a person has practised, by kind."""
    rows = Skill.objects.filter(user=user)
    known = {kind.value: kind for kind in ExerciseKind}
    return {known[row.kind]: row for row in rows if row.kind in known}


def next_of(user: User, now: datetime, count: int = 1) -> list[Next]:
    """What to ask next: what is due, then what is new, then what is weakest."""
    skills = skills_of(user)
    due = sorted(
        (row for row in skills.values() if row.due is not None and row.due <= now),
        key=lambda row: row.due or now,
    )
    order = [ExerciseKind.of(row.kind) for row in due]
    new = [kind for kind in ExerciseKind if kind not in skills]
    order += new[:NEW_AT_ONCE] if order else new[: max(NEW_AT_ONCE, count)]
    rest = [kind for kind in skills if kind not in order]
    order += sorted(rest, key=lambda kind: skills[kind].memory.recalled(now))
    random = Random()
    chosen = []
    for k in range(count):
        kind = order[k % len(order)]
        level = skills[kind].level if kind in skills else 1
        chosen.append(Next(kind, level, random.randint(0, MOST_SEED)))
    return chosen


def streak_of(user: User, today: date) -> int:
    """Days in a row with an answer, today or up to yesterday."""
    zone = timezone.get_current_timezone()
    moments = Answer.objects.filter(user=user).values_list("at", flat=True)
    days = {at.astimezone(zone).date() for at in moments}
    at = today if today in days else today - timedelta(days=1)
    count = 0
    while at in days:
        count += 1
        at -= timedelta(days=1)
    return count


def due_count(user: User, now: datetime) -> int:
    """How many skills are due."""
    return Skill.objects.filter(user=user, due__lte=now).count()
