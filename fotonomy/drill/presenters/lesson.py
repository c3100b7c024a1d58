"""A lesson as a page: one idea, one drawing that moves with a slider, three exercises."""

from dataclasses import dataclass

from django.urls import reverse

from fotonomy.core.analysis.setup import analyse
from fotonomy.core.drill.lessons import Lesson
from fotonomy.core.working.explain import Working, working_of
from fotonomy.core.working.symbols import number_text
from fotonomy.drill.presenters.after import SHORT
from fotonomy.drill.presenters.sides import Drawn, drawings, names_of


@dataclass(frozen=True, slots=True)
class Watched:
    """A number to watch: what it is, how much it is now, and where its working is."""

    says: str
    text: str
    to: str


@dataclass(frozen=True, slots=True)
class LessonView:
    """Everything the page takes. ``marks`` are the slider's places as one text."""

    key: str
    title: str
    idea: tuple[str, ...]
    slider: str
    marks: str
    at: int
    last: int
    text: str
    drawn: tuple[Drawn, ...]
    watched: tuple[Watched, ...]
    exercises: tuple[tuple[str, str], ...]


def _text(one: Working) -> str:
    return "nothing moves" if one.value is None else number_text(
        one.value, one.quantity.unit, SHORT
    )  # fmt: skip


def lesson_view(lesson: Lesson, at: int | None, phone: bool) -> LessonView:
    """A lesson with its slider at a place; where it begins for a place it has not."""
    here = at if at is not None and at < len(lesson.stops) else lesson.first
    stop = lesson.stops[here]
    analysis = analyse(stop.setup)
    names = names_of(reverse("drill-lesson", args=[lesson.key]) + f"{here}/")
    found = [working_of(analysis, name, levers=False) for name in lesson.shows]
    return LessonView(
        key=lesson.key, title=lesson.title, idea=lesson.idea, slider=lesson.slider,
        marks="|".join(one.text for one in lesson.stops), at=here, last=len(lesson.stops) - 1,
        text=stop.text, drawn=drawings(analysis, (lesson.tile,), phone, names),
        watched=tuple(
            Watched(one.quantity.says, _text(one),
                    names.of(one.name))
            for one in found
        ),
        exercises=tuple(
            (kind.label, reverse("drill-exercise", args=[kind.value, level, seed]))
            for kind, level, seed in lesson.exercises
        ),
    )  # fmt: skip
