"""The drill's front page: skills as lanes, what is due, lessons, and how a session went."""

from dataclasses import dataclass
from datetime import datetime

from django.contrib.auth.models import User
from django.urls import reverse
from django.utils.safestring import SafeString, mark_safe

from fotonomy.core.drill.exercise_kind import ExerciseKind
from fotonomy.core.drill.grading import Mark
from fotonomy.core.drill.lessons import LESSONS, Lesson
from fotonomy.core.tiles import Tile
from fotonomy.drill.models import Answer
from fotonomy.drill.services import due_count, skills_of, streak_of
from fotonomy.figures.drill.skills import skill_bar

LAST = 12
_LANE_NAMES = {Tile.RAMP: "Day"}


@dataclass(frozen=True, slots=True)
class SkillView:
    """One skill as a row: its bar, its last answers as marks, its level, when it is due.

    ``lane`` is the part of the bench that it belongs to.
    """

    kind: str
    lane: str
    bar: SafeString
    label: str
    about: str
    level: int
    marks: str
    right: str
    due: str
    to: str


@dataclass(frozen=True, slots=True)
class OverviewView:
    """Everything the front page takes."""

    skills: tuple[SkillView, ...]
    due: int
    practised: int
    streak: int
    lessons: tuple[Lesson, ...]


_SIGNS = {Mark.RIGHT.value: "●", Mark.CLOSE.value: "▲", Mark.OFF.value: "✕"}


def overview(user: User, now: datetime, today: datetime) -> OverviewView:
    """What a person has practised, by the part of the bench that it belongs to."""
    skills = skills_of(user)
    last = _last_answers(user)
    views = []
    for kind in ExerciseKind:
        row, marks = skills.get(kind), last.get(kind, [])
        good = sum(mark == Mark.RIGHT.value for mark in marks)
        share = good / len(marks) if marks else None
        recalled = row.memory.recalled(now) if row else None
        views.append(SkillView(
            kind=kind.value, lane=_LANE_NAMES.get(kind.tile, kind.tile.label),
            # Markup from our own figure.
            bar=mark_safe(skill_bar(kind.label, share, recalled)),
            label=kind.label, about=kind.about, level=row.level if row else 1,
            marks="".join(_SIGNS[mark] for mark in marks),
            right=f"{good} of {len(marks)} right" if marks else "not practised yet",
            due=_due(row.due if row else None, now),
            to=reverse("drill-kind", args=[kind.value]),
        ))  # fmt: skip
    heads = list(dict.fromkeys(one.lane for one in views))
    views.sort(key=lambda one: heads.index(one.lane))
    return OverviewView(
        tuple(views), due_count(user, now), len(skills), streak_of(user, today.date()), LESSONS
    )


def _last_answers(user: User) -> dict[ExerciseKind, list[str]]:
    found: dict[ExerciseKind, list[str]] = {}
    known = {kind.value: kind for kind in ExerciseKind}
    rows = Answer.objects.filter(user=user).order_by("-at", "-pk").values_list("kind", "mark")
    for kind, mark in rows[: LAST * len(known) * 2]:
        if kind in known and len(found.setdefault(known[kind], [])) < LAST:
            found[known[kind]].insert(0, mark)
    return found


def _due(due: datetime | None, now: datetime) -> str:
    if due is None:
        return ""
    if due <= now:
        return "due now"
    left = due - now
    if left.days >= 1:
        return f"due in {left.days} day{'' if left.days == 1 else 's'}"
    minutes = max(1, round(left.total_seconds() / 60))
    return f"due in {minutes} min" if minutes < 90 else f"due in {round(minutes / 60)} h"
