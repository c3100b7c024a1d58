"""A formula with values: the lines that count, in signs and with numbers, and what goes in."""

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, replace
from typing import Any

from fotonomy.core.traced_numbers import part_of
from fotonomy.core.working import tree as t
from fotonomy.core.working.notation import IN_SIGNS, Text
from fotonomy.core.working.reading_code import (
    Function,
    UnreadableError,
    formula_of,
    parameters_of,
)
from fotonomy.core.working.symbols import symbol_of, unit_of

# What a number is called among the numbers of a plan, and its sign there.
SignOf = Callable[[str], tuple[str, str] | None]


@dataclass(frozen=True, slots=True)
class Token:
    """Something that stands in a formula: its name, its sign, its unit and its value."""

    name: str
    symbol: str
    unit: str
    value: Any
    constant: bool = False


@dataclass(frozen=True, slots=True)
class Line:
    """One step: its sign, its tree without choices, with numbers, its value; ``when`` it holds."""

    symbol: str
    tree: t.Node
    numbers: str
    value: Any
    unit: str = ""
    when: str = ""

    @property
    def formula(self) -> str:
        """The step in signs."""
        return IN_SIGNS.of(self.tree)


class _Values(Mapping[str, Any]):
    """The value of every sign of a formula, worked out when it is asked for."""

    def __init__(self, given: Mapping[str, Any], lines: tuple[t.Definition, ...]) -> None:
        self._given = given
        self._lines = {one.sign.code: one.tree for one in lines}
        self._known: dict[str, Any] = {}

    def __getitem__(self, code: str) -> Any:
        if code not in self._known:
            self._known[code] = self._found(code)
        return self._known[code]

    def _found(self, code: str) -> Any:
        if code in self._lines:
            return t.value_of(self._lines[code], self)
        first, *way = code.split(".")
        value = self._given[first]
        for step in way:
            value = part_of(value, step) if isinstance(value, tuple) else getattr(value, step)
        return value

    def __iter__(self) -> Iterator[str]:
        return iter(self._known)

    def __len__(self) -> int:
        return len(self._known)


def values_of(function: Function, given: Mapping[str, Any]) -> Mapping[str, Any]:
    """The value of every sign of a function's formula, by its code. Raises UnreadableError."""
    return _Values(given, formula_of(function, frozenset(given)).lines)


class Reading:
    """A function worked through for given values: its lines, its tokens and its result."""

    def __init__(
        self, function: Function, given: Mapping[str, Any], paths: Mapping[str, str],
        part: int | None = None, sign_of: SignOf = lambda _: None,
    ) -> None:  # fmt: skip
        """Work through a function. ``paths`` say where among a plan's numbers what is given stands.

        ``part`` picks one of several results. Code that is no formula has no lines: what it is
        given stands among the tokens. Raises what the function raises.
        """
        found = function(**given)
        self.result = found if part is None else found[part]
        self.lines: list[Line] = []
        self.tokens: dict[str, Token] = {}
        self._paths, self._sign_of = paths, sign_of
        try:
            formula = formula_of(function, frozenset(given))
        except UnreadableError:
            self._given_only(function, given)
            return
        self._values = _Values(given, formula.lines)
        self._lines_of(formula, part)

    def lines_as(self, symbol: str, unit: str) -> tuple[Line, ...]:
        """The lines, the last one under the sign of what it gives."""
        if not self.lines:
            return ()
        *before, last = self.lines
        return (*before, replace(last, symbol=symbol, unit=unit))

    def _given_only(self, function: Function, given: Mapping[str, Any]) -> None:
        self._values = _Values(given, ())
        for name in parameters_of(function):
            if name in given and is_number(given[name]):
                self._token(t.Sign(name, symbol_of(name), unit_of(name), float))

    def _lines_of(self, formula: t.Formula, part: int | None) -> None:
        """The lines on which the result rests, in the order in which the code has them."""
        steps: dict[str, tuple[t.Node, list[t.Node]]] = {}
        trees = {one.sign.code: one.tree for one in formula.lines}

        def follow(code: str, node: t.Node) -> None:
            because: list[t.Node] = []
            steps[code] = (t.taken(node, self._values, because), because)
            for sign in (x for one in (steps[code][0], *because) for x in t.signs_of(one)):
                if sign.code in trees and sign.code not in steps:
                    follow(sign.code, trees[sign.code])

        follow("", formula.part(part))
        for one in formula.lines:
            if one.sign.code in steps:
                value = self._values[one.sign.code]
                self._line(one.sign, *steps[one.sign.code], value)
        self._line(t.Sign("", ""), *steps[""], self.result)

    def _line(self, sign: t.Sign, tree: t.Node, because: list[t.Node], value: Any) -> None:
        shown = t.without_conversions(t.mapped(tree, self._with_its_sign))
        for one in t.within(shown):
            self._token(one)
        # Of what is there or not, or is called so, nobody has to be told why.
        told = [
            IN_SIGNS.of(t.mapped(one, self._with_its_sign))
            for one in because if isinstance(one, t.Compared)
        ]  # fmt: skip
        when = f"as {' and '.join(told)}" if told else ""
        numbers = Text(self._values).of(shown)
        self.lines.append(Line(sign.symbol, shown, numbers, value, sign.unit, when))

    def _name(self, code: str) -> str:
        """Where something stands among a plan's numbers; its own name where it stands nowhere."""
        first, _, rest = code.partition(".")
        path = self._paths.get(first)
        if path is None or not (path or rest):
            return code
        return ".".join(one for one in (path, rest) if one)

    def _with_its_sign(self, node: t.Node) -> t.Node:
        if not isinstance(node, t.Sign) or node.code.startswith("=") or node.kind is t.ENTRY:
            return node
        known = self._sign_of(self._name(node.code))
        return node if known is None else t.Sign(node.code, *known, node.kind, node.lacks)

    def _token(self, node: t.Node) -> None:
        match node:
            case t.Number(value, unit, name) if name and name not in ("inf", "pi"):
                last = name.rpartition(".")[2]
                self.tokens.setdefault(name, Token(last, symbol_of(last), unit, value, True))
            case t.Sign(code, symbol, unit) if not code.startswith("="):
                if is_number(value := self._values[code]):
                    name = self._name(code)
                    self.tokens.setdefault(name, Token(name, symbol, unit, value))


def is_number(value: Any) -> bool:
    """True for what is a number, of whatever library, and no yes or no."""
    if isinstance(value, bool | str):
        return False
    try:
        float(value)
    except (TypeError, ValueError):
        return False
    return True
