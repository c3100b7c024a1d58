"""An exercise as a page: the question, its drawings, and after the guess yours beside the right."""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Any
from urllib.parse import urlencode

from django.urls import reverse
from django.utils.safestring import SafeString, mark_safe

from fotonomy.core.analysis.named_numbers import named_analysis
from fotonomy.core.analysis.setup import Analysis, analyse
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
from fotonomy.core.drill.grading import Grade, Mark
from fotonomy.core.drill.kinds.balance import text_of
from fotonomy.core.drill.scenes import offers_of
from fotonomy.core.errors import RuleError
from fotonomy.core.kinds import rules_of
from fotonomy.core.named import Names
from fotonomy.core.spec.setup import Setup
from fotonomy.core.tiles import Tile
from fotonomy.core.working.explain import working_of
from fotonomy.core.working.quantity import NoSuchNumberError
from fotonomy.core.working.symbols import number_text
from fotonomy.figures.drill.curve import CurveQuestion, curve_question
from fotonomy.figures.lanes.light_budget import balance_words
from fotonomy.figures.svg import PHONE_PX, Size
from fotonomy.figures.tiles import tile_figure

# What may be turned freely once the answer is known.
FREE = ("frame_rate", "shutter", "iris", "iso", "nd_density")
# Which of two frames a picture is of.
SIDE = "side"
# Figures of a number in a sentence; its working has more.
SHORT = 3
_FREE_LABELS = {
    "frame_rate": "Frame rate",
    "shutter": "Shutter",
    "iris": "Iris",
    "iso": "ISO",
    "nd_density": "ND",
}
# How high a drawing is: one that needs less leaves no gap under it.
_HIGH = {Tile.MOTION: 108, Tile.CLIP: 110}
_USUAL_HIGH = 150
_SIGNS = {Mark.RIGHT: ("good", "●"), Mark.CLOSE: ("warn", "▲"), Mark.OFF: ("bad", "✕")}


@dataclass(frozen=True, slots=True)
class Drawn:
    """A drawing with its name, and where it is said how its numbers came about."""

    label: str
    figure: SafeString
    numbers: str = ""


@dataclass(frozen=True, slots=True)
class Side:
    """One setup beside another: its name, its balance in words, its drawings, its picture."""

    label: str
    balance: str
    drawn: tuple[Drawn, ...]
    picture: str
    shows: str = "the monitor's picture"


@dataclass(frozen=True, slots=True)
class TurnView:
    """A setting to turn: its marks, and which is chosen."""

    name: str
    label: str
    marks: tuple[str, ...]
    chosen: str
    error: str = ""


@dataclass(frozen=True, slots=True)
class SliderView:
    """A setting that is free after the answer: its marks as one list, and the present place."""

    name: str
    label: str
    marks: str
    at: int
    last: int
    text: str


@dataclass(frozen=True, slots=True)
class ShownWorking:
    """A number that shows why: what it is, its formula, and where its working is."""

    says: str
    text: str
    formula: str
    to: str


@dataclass(frozen=True, slots=True)
class ResultView:
    """A guess that was graded."""

    sign: str
    kind: str
    mark: str
    words: str
    why: str
    sides: tuple[Side, ...]
    workings: tuple[ShownWorking, ...]
    sliders: tuple[SliderView, ...]
    look: str


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


def names_of(address: str) -> Names:
    """Where the workings of an exercise's numbers are."""
    return Names(f"{address}working/", "/")


def size_of(tile: Tile, phone: bool) -> Size:
    """How large a tile is drawn here."""
    high = _HIGH.get(tile, _USUAL_HIGH)
    return Size(350, high + 16, 14) if phone else Size(372, high)


def drawings(
    analysis: Analysis, tiles: tuple[Tile, ...], phone: bool, names: Names | None
) -> tuple[Drawn, ...]:
    """The drawings of some tiles, of those the setup's kind has."""
    own = rules_of(analysis.setup).tiles
    named = analysis if names is None else named_analysis(analysis, names)
    found = []
    for tile in dict.fromkeys(tiles):
        if tile not in own or tile is Tile.PICTURE:
            continue
        if tile is Tile.RAMP and not analysis.setup.run.light_curve:
            continue
        # Markup from our own figures, which escape every text a person typed.
        figure = mark_safe(tile_figure(tile, named, size_of(tile, phone)))
        found.append(Drawn(tile.label, figure, names.many(tile.value) if names else ""))
    return tuple(found)


def _side(
    label: str,
    setup: Setup,
    exercise: Exercise,
    phone: bool,
    names: Names | None,
    picture: str = "",
    balance: bool = True,
) -> Side:
    analysis = analyse(setup)
    words = balance_words(analysis.budget) if balance else ""
    tiles = exercise.tiles or (Tile.LIGHT,)
    return Side(label, words, drawings(analysis, tiles, phone, names), picture)


def _pictured(exercise: Exercise, address: str) -> tuple[Side, ...]:
    """The frames of both setups."""
    return tuple(
        Side(label, "", (), f"{address}picture.jpg?{SIDE}={number}", "a cut of the frame")
        for number, label in enumerate(("Left", "Right"))
    )


def _question(exercise: Exercise, address: str, phone: bool, alone: bool) -> tuple[Side, ...]:
    """What is shown beside the question: nothing that gives the answer away.

    ``alone`` for a page that has no server to fetch a picture from.
    """
    labels = ("Left", "Right") if len(exercise.setups) > 1 else ("As it stands",)
    if exercise.cut is not None and not alone:
        return _pictured(exercise, address)
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
        _side(label, one, exercise, phone, None, balance=exercise.kind.value == "set-it")
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
        result=None if grade is None else _result(exercise, address, phone, typed, grade),
        uid=uid,
        prefix=prefix,
    )


def _present(exercise: Exercise, name: str) -> str:
    assert exercise.scene_setup is not None
    return text_of(name, getattr(exercise.scene_setup, name))


def _result(
    exercise: Exercise, address: str, phone: bool, typed: Mapping[str, str], grade: Grade
) -> ResultView:
    kind, sign = _SIGNS[grade.mark]
    names = names_of(address)
    sides = []
    try:
        tried = exercise.tried(typed)
    except RuleError:
        tried = None
    if exercise.right is not None:
        shown = exercise
        if not exercise.right.records_stills:
            shown = replace(exercise, tiles=(*exercise.tiles, Tile.LIGHT, Tile.MOTION))
        right = f"{address}picture.jpg" if not exercise.right.records_stills else ""
        if tried is not None and grade.mark is not Mark.RIGHT:
            mine = f"{right}?{_query(typed)}" if right else ""
            sides.append(_side("Yours", tried, shown, phone, None, mine))
        stands = tried is None and exercise.right == exercise.scene_setup
        label = "As it stands" if stands else "Right"
        sides.append(_side(label, exercise.right, shown, phone, names, right))
        if len(exercise.setups) > 1:
            sides = [
                _side(label, one, exercise, phone, None, balance=False)
                for label, one in zip(("Left", "Right"), exercise.setups, strict=False)
            ]
        if exercise.cut is not None:
            sides = [
                replace(side, picture=one.picture, shows=one.shows)
                for side, one in zip(sides, _pictured(exercise, address), strict=True)
            ]
    return ResultView(
        sign=sign,
        kind=kind,
        mark=grade.mark.value,
        words=grade.words,
        why=exercise.why,
        sides=tuple(sides),
        workings=_workings(exercise, names),
        sliders=sliders_of(exercise, typed),
        look=f"{address}look/",
    )


def _query(typed: Mapping[str, str]) -> str:
    return urlencode({key: value for key, value in typed.items() if key != "uid"})


def _workings(exercise: Exercise, names: Names) -> tuple[ShownWorking, ...]:
    """The numbers that show why, with their formulas, of those the right answer has."""
    analysis = exercise.analysis
    if analysis is None:
        return ()
    found = []
    for name in exercise.workings:
        try:
            one = working_of(analysis, name, levers=False)
        except NoSuchNumberError:
            continue
        if one.value is None:
            continue
        formula = ""
        if one.lines:
            last = one.lines[-1]
            result = "" if last.numbers == one.text else f" = {one.text}"
            formula = f"{last.symbol} = {last.formula} = {last.numbers}{result}"
        text = number_text(one.value, one.quantity.unit, SHORT)
        found.append(ShownWorking(one.quantity.says, text, formula, names.of(name)))
    return tuple(found)


def sliders_of(exercise: Exercise, typed: Mapping[str, str]) -> tuple[SliderView, ...]:
    """What is free after the answer, at the places of the right one or where it was put."""
    setup = exercise.right or exercise.scene_setup
    if setup is None or setup.records_stills:
        return ()
    found = []
    for name, offer in offers_of(setup).items():
        marks = [
            text_of(name, option.value) if name != "frame_rate" else option.mark
            for option in offer.options
        ]
        at = _nearest(offer, getattr(setup, name), setup)
        if typed.get(f"turn-{name}", "").isdigit():
            at = min(int(typed[f"turn-{name}"]), len(marks) - 1)
        found.append(
            SliderView(name, _FREE_LABELS[name], "|".join(marks), at, len(marks) - 1, marks[at])
        )
    return tuple(found)


def _nearest(offer: Any, value: Any, setup: Setup) -> int:
    def size(one: Any) -> float:
        return float(one.seconds(setup.frame_rate)) if hasattr(one, "seconds") else float(one)

    wanted = size(value)
    return min(range(len(offer.options)), key=lambda k: abs(size(offer.options[k].value) - wanted))


def turned(exercise: Exercise, typed: Mapping[str, str]) -> Setup | None:
    """The right answer's setup with what was turned afterwards; None where nothing can be."""
    setup = exercise.right or exercise.scene_setup
    if setup is None or setup.records_stills:
        return None
    changes = {}
    for name, offer in offers_of(setup).items():
        at = typed.get(f"turn-{name}", "")
        if at.isdigit() and int(at) < len(offer.options):
            changes[name] = offer.options[int(at)].value
    try:
        return replace(setup, **changes)
    except RuleError:
        return setup


def look_view(exercise: Exercise, setup: Setup, phone: bool) -> Side:
    """What was turned, drawn."""
    shown = replace(exercise, tiles=(*exercise.tiles, Tile.LIGHT, Tile.MOTION))
    return _side("Now", setup, shown, phone, None)


def address_of(exercise: Exercise) -> str:
    """Where an exercise of an invented scene is."""
    return reverse("drill-exercise", args=[exercise.kind.value, exercise.level, exercise.seed])
