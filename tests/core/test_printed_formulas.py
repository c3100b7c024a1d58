"""Every formula that is printed says what is computed: read again, with units, and worked out."""

import inspect
import math
from enum import Enum
from typing import Any

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from fotonomy.core.analysis.setup import Analysis, analyse
from fotonomy.core.motion.camera_movement import Camera, Movement, Way
from fotonomy.core.photometry.exposure_value import Luminance, Lux, Metered
from fotonomy.core.spec.intent import ExposureMethod, Intent
from fotonomy.core.spec.readings import Reading, Surface
from fotonomy.core.spec.setup import Setup
from fotonomy.core.spec.stills import Combining
from fotonomy.core.working import tree as t
from fotonomy.core.working.catalog import value_in
from fotonomy.core.working.explain import formulas_in
from fotonomy.core.working.in_signs import functions_of, is_letter, lines_in_signs, place_of
from fotonomy.core.working.notation import IN_SIGNS
from fotonomy.core.working.quantity import Function, Quantity, inputs_of
from fotonomy.core.working.standalone.working import LOOSE
from fotonomy.core.working.symbols import LETTERS
from fotonomy.core.working.symbols import unit_of as unit_in_code
from fotonomy.core.working.worked import values_of
from tests.core.examples import setup
from tests.core.printed_formulas import Q, plain, quantity, unit_of, worked_out
from tests.core.run_examples import burst, interval, long_exposure
from tests.core.test_answers import MIXED
from tests.core.test_working import quantities, setups
from tests.properties import examples


class Paper:
    """A printed formula with the values of what stands in it, by the signs on paper."""

    def __init__(self, of: Quantity, function: Function, given: dict[str, Any]) -> None:
        lines = lines_in_signs(of, function)
        self.values = values_of(function, given)
        self.codes = {
            one.symbol: one for line in lines for one in t.signs_of(line.tree)
            if not one.code.startswith("=")
        }  # fmt: skip
        *steps, self.last = ((one.sign, IN_SIGNS.of(one.tree)) for one in lines)
        self.steps = {sign.symbol: (sign.unit, text) for sign, text in steps}
        self.calls = {
            node.name: self._looked_up(node)
            for line in lines for node in t.within(line.tree)
            if isinstance(node, t.Applied) and node.function
        }  # fmt: skip
        self.known: dict[str, Any] = {}

    def _looked_up(self, node: t.Applied) -> Any:
        """What is looked up: the core's own function, of the values on paper."""
        assert node.function
        function, shown = node.function, list(node.of)

        def call(*numbers: Any) -> Any:
            takes = {
                name: as_shown(numbers[shown.index(one)], one) if one in shown
                else t.value_of(one, self.values) for name, one in node.takes
            }  # fmt: skip
            return quantity(function(**takes), unit_in_code(function.__name__))

        return call

    def sign(self, symbol: str) -> Any:
        """The value of a sign: given, or worked out by its own line."""
        if symbol not in self.known:
            self.known[symbol] = self._found(symbol)
        return self.known[symbol]

    def _found(self, symbol: str) -> Any:
        if symbol in self.steps:
            unit, text = self.steps[symbol]
            return quantity(in_unit(worked_out(text, self.sign, self.calls), unit), unit)
        one = self.codes[symbol]
        value = self.values[one.code]
        if isinstance(value, tuple):
            return [quantity(part.stops, "stops") for part in value]
        if isinstance(value, Enum):
            return str(value.value).replace("_", " ")
        if isinstance(value, str):
            return value.replace("_", " ")
        return quantity(value, one.unit)

    def result(self) -> Any:
        """What the last line comes to."""
        return worked_out(self.last[1], self.sign, self.calls)


def in_unit(value: Any, unit: str) -> float | None:
    """How many of a printed unit a value is. pint.DimensionalityError where what was printed gives another."""
    if value is None:
        return None
    number = getattr(value, "magnitude", value)
    if number == 0 or math.isinf(number):
        return float(number)
    return float(Q(value).to(unit_of(unit)).magnitude)


def as_shown(value: Any, node: t.Node) -> float:
    """How many of its unit a thing on paper is; a plain number where it has none."""
    if isinstance(node, t.Sign) and node.unit and isinstance(value, Q):
        return float(value.to(unit_of(node.unit)).magnitude)
    return plain(value)


def agrees(of: Quantity, function: Function, given: dict[str, Any], shown: Any) -> None:
    """What is printed, worked out from paper, is what the core says, in the unit it says."""
    paper = Paper(of, function, given)
    found = in_unit(paper.result(), of.unit)
    if shown is None:
        assert found is None, (of.name, paper.last)
    else:
        assert found == pytest.approx(float(shown), rel=1e-6, abs=1e-9), (
            of.name, paper.last, paper.steps,
        )  # fmt: skip


def checked(analysis: Analysis, seen: set[Any]) -> None:
    for name, of, function in formulas_in(analysis):
        if lines_in_signs(of, function):
            paths = inputs_of(of, analysis, name, function)
            given = {key: value_in(analysis, path) for key, path in paths.items()}
            agrees(of, function, given, value_in(analysis, name))
            seen.add((of.name, function))


@examples(60)
@given(setups())
def test_what_is_printed_is_what_is_computed(made: Setup) -> None:
    seen: set[Any] = set()
    checked(analyse(made), seen)
    assert len(seen) > 50


def every_formula() -> list[tuple[Quantity, Function]]:
    """Every quantity with every formula it may have."""
    return [(one, form) for one in (*quantities(), *LOOSE.values()) for form in functions_of(one)]


@pytest.mark.parametrize(
    ("of", "function"),
    [(one, form) for one in LOOSE.values() for form in functions_of(one)], ids=lambda x: "",
)  # fmt: skip
@examples(20)
@given(data=st.data())
def test_numbers_of_no_setup_are_printed_as_they_are_computed(
    of: Quantity, function: Function, data: st.DataObject
) -> None:
    """Of any values above nothing, whole ones where the code asks for whole ones."""
    given_ = {}
    for name, hint in inspect.get_annotations(inspect.unwrap(function), eval_str=True).items():
        if name != "return":
            whole = hint is int
            given_[name] = data.draw(st.integers(1, 60) if whole else st.floats(0.5, 60), name)
    # Of takes no more are kept than there are.
    assume(given_.get("good", 0) <= given_.get("count", 0))
    found = function(**given_)
    agrees(of, function, given_, found if of.part is None else found[of.part])


# What is looked up in a table of the gear, and so has no formula: nothing is printed.
LOOKED_UP_WHOLE = {"data_rate_mb_s", "each_mb"}


@pytest.mark.parametrize(("of", "function"), every_formula(), ids=lambda one: "")
def test_a_sign_stands_for_one_thing_in_a_formula(of: Quantity, function: Function) -> None:
    lines = lines_in_signs(of, function)
    assert lines or function.__name__ in LOOKED_UP_WHOLE, of.name
    stands: dict[str, set[str]] = {}
    for line in lines:
        stands.setdefault(line.sign.symbol, set()).add(line.sign.code or of.name)
        for one in t.signs_of(line.tree):
            first, _, rest = one.code.partition(".")
            place = one.code if one.code.startswith("=") else ".".join(
                part for part in (place_of(of, first), rest) if part
            )  # fmt: skip
            stands.setdefault(one.symbol, set()).add(place)
    twice = {sign: sorted(found) for sign, found in stands.items() if len(found) > 1}
    assert not twice, [f"{one.sign.symbol} = {IN_SIGNS.of(one.tree)}" for one in lines]


def test_a_letter_has_one_unit_wherever_it_stands() -> None:
    """The signs of the trade, each defined once with its unit."""
    units: dict[str, set[str]] = {}
    for of, function in every_formula():
        for line in lines_in_signs(of, function):
            for one in (line.sign, *t.signs_of(line.tree)):
                if is_letter(one.symbol):
                    units.setdefault(one.symbol, set()).add(one.unit)
    assert {sign: {unit} for sign, (unit, _) in LETTERS.items()} == units


FACE = Reading(name="face", stops=1.0, surface=Surface.LIGHT_SKIN, key=True)
# Setups that together have every number that a plan can have.
OF_EVERY_KIND = (
    setup(subject_speed_m_s=1.4, light=Lux(300), readings=(FACE,),
          intent=Intent(exposing=ExposureMethod.SKIN, freeze_px=3.0, depth_m=0.5)),
    setup(subject_speed_m_s=2.0, movement=Movement(camera=Camera.PAN, pan_deg_s=8),
          light=Luminance(300)),
    setup(subject_speed_m_s=2.0, movement=Movement(camera=Camera.TRACKING, background_m=20),
          light=Metered(5.6, 0.01, 400), readings=(FACE,),
          intent=Intent(exposing=ExposureMethod.HIGHLIGHTS)),
    setup(movement=Movement(camera=Camera.TRAVEL, travel_m_s=2, way=Way.TOWARDS),
          subject_distance_m=0.4, **MIXED),
    interval(run={"declination_deg": 20.0}), interval(run={"passes_s": 30.0}), burst(),
    long_exposure(run={"passes_s": 4.0, "trail_percent": 30.0, "frames": 4,
                       "combining": Combining.ADDITIVE}),
)  # fmt: skip


def test_every_formula_of_a_plan_is_worked_out_from_paper() -> None:
    seen: set[Any] = set()
    for made in OF_EVERY_KIND:
        checked(analyse(made), seen)
    left = [
        (of.name, function.__name__) for of, function in every_formula()
        if of.name not in LOOSE and (of.name, function) not in seen
        and function.__name__ not in LOOKED_UP_WHOLE
    ]  # fmt: skip
    assert left == []
