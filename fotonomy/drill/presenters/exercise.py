"""An exercise as a page: the question, its drawings, and after the guess yours beside the right."""

from collections.abc import Mapping
from dataclasses import dataclass

from django.urls import reverse

from fotonomy.core.drill.answers import (
    Amount,
    OneOf,
    Option,
    Order,
    Placed,
    Settings,
    SomeOf,
)
from fotonomy.core.drill.exercise import Exercise
from fotonomy.core.drill.grading import Grade
from fotonomy.core.drill.kinds.balance import text_of
from fotonomy.drill.presenters.after import ResultView, result_view
from fotonomy.drill.presenters.sides import Side, pictured, side_of
from fotonomy.figures.drill.curve import CurveQuestion, curve_question
from fotonomy.figures.svg import PHONE_PX, Size


@dataclass(frozen=True, slots=True)
class TurnView:
    """A setting to turn: its marks, and which is chosen."""

    name: str
    label: str
    marks: tuple[str, ...]
    chosen: str
    error: str = ""


@dataclass(frozen=True, slots=True)
class Drag:
    """A slider that fills a field: its ends, its step, and where it starts."""

    low: float
    high: float
    step: float
    at: float


def _drag(amount: Amount | None) -> Drag | None:
    """A light is dragged to its EV; a level has a curve, other amounts are typed."""
    if amount is None or amount.unit != "EV":
        return None
    return Drag(amount.low, amount.high, 0.5, round((amount.low + amount.high) / 2))


def _curve(exercise: Exercise, amount: Amount | None, phone: bool) -> CurveQuestion | None:
    """The curve that a level is dragged along."""
    if amount is None or amount.scale != "level" or exercise.right is None:
        return None
    size = Size(340, text_px=PHONE_PX) if phone else Size(520)
    return curve_question(exercise.right.recorded_profile, size)


@dataclass(frozen=True, slots=True)
class ChoiceView:
    """One answer to press: its key on the keyboard, and what became of it after the guess.

    ``sign`` is the mark of a right one (taken or not) or of a wrong one that was taken.
    """

    key: str
    words: str
    press: str
    shown: str
    state: str = ""
    sign: str = ""


_ARROWS = {"left": ("ArrowLeft", "←"), "right": ("ArrowRight", "→")}


def _choices(answer: OneOf | SomeOf, taken: str | None) -> tuple[ChoiceView, ...]:
    """Answers to press; after the guess with the right ones and the wrong ones taken."""
    right = {answer.right} if isinstance(answer, OneOf) else answer.right
    mine = set() if taken is None else set(taken.split(","))
    found = []
    for number, one in enumerate(answer.options, 1):
        press, shown = _ARROWS.get(one.key, (str(number), str(number)))
        state, sign = "", ""
        if taken is not None and one.key in right:
            state, sign = "is-right", "●"
        elif one.key in mine:
            state, sign = "is-wrong", "✕"
        found.append(ChoiceView(one.key, one.words, press, shown, state, sign))
    return tuple(found)


@dataclass(frozen=True, slots=True)
class ExerciseView:
    """Everything the page takes. ``form`` says how it is answered; ``typed`` is what was."""

    address: str
    kind: str
    about: str
    level: int
    ask: str
    facts: tuple[str, ...]
    form: str
    options: tuple[Option, ...]
    choices: tuple[ChoiceView, ...]
    turns: tuple[TurnView, ...]
    unit: str
    low: str
    high: str
    drag: Drag | None
    curve: CurveQuestion | None
    asks_zebra: bool
    sides: tuple[Side, ...]
    typed: Mapping[str, str]
    errors: Mapping[str, str]
    result: ResultView | None
    uid: str
    prefix: str


_FORMS = {
    OneOf: "one", SomeOf: "some", Amount: "amount", Settings: "settings", Order: "order",
    Placed: "amount",
}  # fmt: skip


def _question(exercise: Exercise, address: str, phone: bool, alone: bool) -> tuple[Side, ...]:
    """What is shown beside the question: nothing that gives the answer away.

    ``alone`` for a page that has no server to fetch a picture from.
    """
    labels = ("Left", "Right") if len(exercise.setups) > 1 else ("As it stands",)
    if exercise.cut is not None and not alone:
        return pictured(exercise, address)
    if exercise.kind.value in (
        "how-many-stops",
        "what-pays",
        "nd-for-this",
        "name-the-danger",
        "place-the-face",
        "will-it",
        "spot-the-program",
    ):
        return ()
    return tuple(
        side_of(label, one, exercise, phone, None, balance=exercise.kind.value == "set-it")
        for label, one in zip(labels, exercise.setups, strict=False)
    )


def exercise_view(
    exercise: Exercise,
    address: str,
    phone: bool,
    uid: str,
    typed: Mapping[str, str] | None = None,
    errors: Mapping[str, str] | None = None,
    grade: Grade | None = None,
    prefix: str = "",
) -> ExerciseView:
    """The page of an exercise, before or after a guess.

    ``prefix`` goes before the ids of its fields, where several stand on one page.
    """
    answer, typed = exercise.answer, typed or {}
    turns: tuple[TurnView, ...] = ()
    if isinstance(answer, Settings):
        turns = tuple(
            TurnView(
                one.name,
                one.label,
                tuple(text for _, text in one.marks),
                typed.get(one.name) or _present(exercise, one.name),
                (errors or {}).get(one.name, ""),
            )
            for one in answer.turns
        )
    options = answer.options if isinstance(answer, OneOf | SomeOf | Order) else ()
    if isinstance(answer, Order) and typed.get("answer"):
        order = typed["answer"].split(",")
        options = tuple(
            sorted(options, key=lambda one: order.index(one.key) if one.key in order else 9)
        )
    facts = exercise.facts
    if exercise.cut is not None and not prefix:
        facts = (*facts, exercise.cut.words)
    placed = answer if isinstance(answer, Placed) else None
    amount = answer if isinstance(answer, Amount) else placed.tone if placed else None
    return ExerciseView(
        address=address,
        kind=exercise.kind.label,
        about=exercise.kind.about,
        level=exercise.level,
        ask=exercise.ask,
        facts=facts,
        form=_FORMS[type(answer)],
        options=options,
        choices=_choices(answer, typed.get("answer", "") if grade else None)
        if isinstance(answer, OneOf | SomeOf)
        else (),
        turns=turns,
        unit=amount.unit if amount else "",
        low=amount.text(amount.low) if amount else "",
        high=amount.text(amount.high) if amount else "",
        drag=_drag(amount),
        curve=None if grade else _curve(exercise, amount, phone),
        asks_zebra=placed is not None,
        sides=() if grade else _question(exercise, address, phone, alone=bool(prefix)),
        typed=typed,
        errors=errors or {},
        result=None if grade is None else result_view(exercise, address, phone, typed, grade),
        uid=uid,
        prefix=prefix,
    )


def _present(exercise: Exercise, name: str) -> str:
    assert exercise.scene_setup is not None
    return text_of(name, getattr(exercise.scene_setup, name))


def address_of(exercise: Exercise) -> str:
    """Where an exercise of an invented scene is."""
    return reverse("drill-exercise", args=[exercise.kind.value, exercise.level, exercise.seed])
