"""After a guess: yours beside the right one, the workings, and sliders that are free."""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Any
from urllib.parse import urlencode

from fotonomy.core.drill.exercise import Exercise
from fotonomy.core.drill.grading import Grade, Mark
from fotonomy.core.drill.kinds.balance import text_of
from fotonomy.core.drill.scenes import offers_of
from fotonomy.core.errors import RuleError
from fotonomy.core.spec.setup import Setup
from fotonomy.core.tiles import Tile
from fotonomy.core.traced_numbers import Names
from fotonomy.core.working.explain import working_of
from fotonomy.core.working.quantity import NoSuchNumberError
from fotonomy.core.working.symbols import number_text
from fotonomy.drill.presenters.sides import Side, names_of, pictured, side_of

# Figures of a number in a sentence; its working has more.
SHORT = 3
_FREE_LABELS = {
    "frame_rate": "Frame rate",
    "shutter": "Shutter",
    "iris": "Iris",
    "iso": "ISO",
    "nd_density": "ND",
}
_SIGNS = {Mark.RIGHT: ("good", "●"), Mark.CLOSE: ("warn", "▲"), Mark.OFF: ("bad", "✕")}


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


def result_view(
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
            sides.append(side_of("Yours", tried, shown, phone, None, mine))
        stands = tried is None and exercise.right == exercise.scene_setup
        label = "As it stands" if stands else "Right"
        sides.append(side_of(label, exercise.right, shown, phone, names, right))
        if len(exercise.setups) > 1:
            sides = [
                side_of(label, one, exercise, phone, None, balance=False)
                for label, one in zip(("Left", "Right"), exercise.setups, strict=False)
            ]
        if exercise.cut is not None:
            sides = [
                replace(side, picture=one.picture, shows=one.shows)
                for side, one in zip(sides, pictured(exercise, address), strict=True)
            ]
    return ResultView(
        sign=sign,
        kind=kind,
        mark=grade.mark.label,
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
    return side_of("Now", setup, shown, phone, None)
