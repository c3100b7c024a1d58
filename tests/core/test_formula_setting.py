"""How formulas are written: brackets where they count, as text, with numbers and as MathML."""

from math import inf
from xml.etree import ElementTree as Xml

import pytest

from fotonomy.core.analysis.setup import analyse
from fotonomy.core.working import tree as t
from fotonomy.core.working.explain import working_of
from fotonomy.core.working.in_signs import functions_of, lines_in_signs
from fotonomy.core.working.mathml import equation
from fotonomy.core.working.notation import IN_SIGNS, Text
from fotonomy.core.working.reading_code import UnreadableError, formula_of
from tests.core.examples import setup
from tests.core.test_working import quantities

A, B, C = (t.Sign(one, one, unit) for one, unit in (("a", "mm"), ("b", "m/s"), ("c", "")))
TWO = t.Number(2)


def over(left: t.Node, right: t.Node) -> t.Node:
    return t.Binary(t.OVER, left, right)


def times(left: t.Node, right: t.Node) -> t.Node:
    return t.Binary(t.TIMES, left, right)


def less(left: t.Node, right: t.Node) -> t.Node:
    return t.Binary(t.TAKEN, left, right)


def more(left: t.Node, right: t.Node) -> t.Node:
    return t.Binary(t.ADDED, left, right)


@pytest.mark.parametrize(("tree", "text"), [
    (over(A, times(B, C)), "a / (b · c)"), (times(over(A, B), C), "a / b · c"),
    (over(A, over(B, C)), "a / (b / c)"), (over(over(A, B), C), "a / b / c"),
    (less(A, less(B, C)), "a − (b − c)"), (less(less(A, B), C), "a − b − c"),
    (less(A, more(B, C)), "a − (b + c)"), (more(A, less(B, C)), "a + b − c"),
    (times(more(A, B), C), "(a + b) · c"), (t.Minus(more(A, B)), "−(a + b)"),
    (t.Minus(times(A, B)), "−a · b"), (times(A, t.Minus(B)), "a · (−b)"),
    (t.Power(more(A, B), TWO), "(a + b)²"), (t.Power(A, t.Minus(B)), "a^(−b)"),
    (t.Power(t.Power(A, TWO), TWO), "(a²)²"), (t.Binary(t.REST, A, times(B, C)), "a mod (b · c)"),
    (times(A, t.Binary(t.REST, B, C)), "a · (b mod c)"), (over(A, t.Number(2, "lx·s")), "a / (2 lx·s)"),
    (t.Applied("min", (A, t.Choice(((B, t.Compared("<", A, B)),), C))), "min(a, (b if a < b, else c))"),
    (t.Choice(((A, t.Not(t.Given(B))),), t.Number(inf, name="inf")), "a if b is not known, else no end"),
    (t.Applied("sin", (t.Applied("radians", (A,)),)), "sin(a)"), (t.Number(1e-9), "10⁻⁹"),
])  # fmt: skip
def test_brackets_stand_where_they_count(tree: t.Node, text: str) -> None:
    assert IN_SIGNS.of(tree) == text


@pytest.mark.parametrize(("tree", "text"), [
    (t.Power(A, TWO), "(5 mm)²"), (over(A, B), "5 mm / (−3 m/s)"), (more(A, B), "5 mm − 3 m/s"),
    (less(A, B), "5 mm + 3 m/s"), (times(C, A), "0.5 · 5 mm"), (over(TWO, A), "2 / 5 mm"),
])  # fmt: skip
def test_numbers_hold_together_with_their_units(tree: t.Node, text: str) -> None:
    assert Text({"a": 5.0, "b": -3.0, "c": 0.5}).of(tree) == text


def test_a_fraction_of_a_fraction_is_one_over_both() -> None:
    found = Xml.fromstring(equation("x", over(over(A, B), C)))
    fraction = found.find(".//mfrac")
    assert fraction is not None
    assert "".join(fraction[0].itertext()) == "a"
    assert "".join(fraction[1].itertext()) == "b·c"
    assert len(found.findall(".//mfrac")) == 1


def test_signs_with_something_low_and_cases_are_set_as_such() -> None:
    low = t.Sign("r", "r_edit", "fps")
    found = Xml.fromstring(equation("f₃₅", t.Choice(((low, t.Compared("<", A, B)),), TWO)))
    assert ["".join(one.itertext()) for one in found.iter("msub")] == ["f35", "redit"]
    assert ["".join(row.itertext()) for row in found.iter("mtr")] == ["reditif a < b", "2otherwise"]


def test_brackets_grow_only_with_what_is_high() -> None:
    grows = {
        one.get("stretchy") for one in Xml.fromstring(
            equation("x", t.Applied("sin", (over(A, B),)))
        ).iter("mo") if one.text == "("
    }  # fmt: skip
    level = {
        one.get("stretchy") for one in Xml.fromstring(
            equation("x", t.Applied("sin", (A,)))
        ).iter("mo") if one.text == "("
    }  # fmt: skip
    assert (grows, level) == ({"true"}, {"false"})


def test_every_formula_is_set_as_mathml_of_the_same_signs() -> None:
    for of in quantities():
        for function in functions_of(of):
            for line in lines_in_signs(of, function):
                found = Xml.fromstring(equation(line.sign.symbol, line.tree))
                said = "".join(found.itertext()).replace(" ", "")
                for one in t.signs_of(line.tree):
                    base, _, low = one.symbol.replace(" ", "").partition("_")
                    assert base.rstrip("₃₅") in said, of.name
                    assert low in said, of.name


def test_a_fixed_shutter_angle_is_over_the_turn_and_the_rate() -> None:
    """172.8° at 24 fps is 1/50 s (by hand): the angle over the whole turn times the rate."""
    found = working_of(analyse(setup()), "setup.time_s")
    assert found.lines[-1].formula == "angle / (360° · exact(r))"
    assert found.lines[-1].numbers.startswith("180° / (360° · exact(25 fps")


def test_what_is_no_formula_is_not_read_as_one() -> None:
    def counts(a: int) -> int:
        while a > 1:
            a -= 1
        return a

    with pytest.raises(UnreadableError):
        formula_of(counts, frozenset({"a"}))
    with pytest.raises(UnreadableError):
        formula_of(abs, frozenset())
