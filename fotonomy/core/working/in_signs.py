"""Formulas in the signs of the catalogue, every way they may go: for pages that show no values."""

from functools import cache

from fotonomy.core.spec.setup import Setup
from fotonomy.core.working import tree as t
from fotonomy.core.working.catalog import COMMON, OF_KIND
from fotonomy.core.working.quantity import USUAL, Function, Quantity
from fotonomy.core.working.reading_code import UnreadableError, formula_of, parameters_of
from fotonomy.core.working.standalone.working import LOOSE
from fotonomy.core.working.symbols import lowered_back, sign_of_its_own


def functions_of(quantity: Quantity) -> tuple[Function, ...]:
    """Every formula a quantity may have."""
    return quantity.forms if quantity.formula is None else (quantity.formula,)


@cache
def _catalogue() -> dict[str, Quantity]:
    """Every quantity of every kind and topic, by its name."""
    of_kinds = (one for found in OF_KIND.values() for one in found)
    return {one.name: one for one in (*LOOSE.values(), *of_kinds, *COMMON)}


def place_of(quantity: Quantity, parameter: str) -> str:
    """Where a parameter of a quantity's formula stands among the numbers of a plan."""
    if parameter in quantity.given:
        return quantity.given[parameter]
    beside = quantity.name.rpartition(".")[0]
    if parameter == "self":
        return beside
    if f"{beside}.{parameter}" in _catalogue():
        return f"{beside}.{parameter}"
    return USUAL.get(parameter, f"setup.{parameter}")


def given_to(quantity: Quantity, function: Function) -> frozenset[str]:
    """The parameters of a formula that a plan gives it; the others are what they usually are."""
    in_setup = {*Setup.__dataclass_fields__, *dir(Setup)}
    return frozenset(
        one for one in parameters_of(function)
        if one in quantity.given or not place_of(quantity, one).startswith("setup.")
        or place_of(quantity, one).removeprefix("setup.").partition(".")[0] in in_setup
        or quantity.name in LOOSE
    )  # fmt: skip


@cache
def _lines(name: str, function: Function) -> tuple[t.Definition, ...]:
    quantity = _catalogue()[name]
    try:
        formula = formula_of(function, given_to(quantity, function))
    except UnreadableError:
        return ()

    def with_its_sign(node: t.Node) -> t.Node:
        if not isinstance(node, t.Sign) or node.code.startswith("="):
            return node
        first, _, rest = node.code.partition(".")
        place = ".".join(one for one in (place_of(quantity, first), rest) if one)
        known = _catalogue().get(place)
        own = sign_of_its_own(place) or node.symbol
        symbol, unit = (known.symbol, known.unit) if known else (own, node.unit)
        return t.Sign(node.code, symbol, unit, node.kind, node.lacks)

    last = t.Definition(t.Sign("", quantity.symbol, quantity.unit), formula.part(quantity.part))
    return tuple(
        t.Definition(one.sign, t.without_conversions(t.mapped(one.tree, with_its_sign)))
        for one in (*formula.lines, last)
    )


def lines_in_signs(quantity: Quantity, function: Function) -> tuple[t.Definition, ...]:
    """The lines of a formula, the last one what it gives; nothing for what is looked up."""
    return _lines(quantity.name, function)


def units_in(quantity: Quantity, function: Function) -> tuple[tuple[str, str], ...]:
    """What goes into a formula, each sign with its unit; plain numbers and words have none."""
    lines = lines_in_signs(quantity, function)
    found = {
        one.symbol: one.unit
        for line in lines for one in t.signs_of(line.tree)
        if one.unit and not one.code.startswith("=")
    }  # fmt: skip
    return tuple(found.items())


def is_letter(symbol: str) -> bool:
    """True for a sign of one letter, whatever stands low in it: those of the trade."""
    return len(lowered_back(symbol.partition("_")[0])[0]) == 1
