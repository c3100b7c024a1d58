"""A formula as a tree: numbers, signs, and what is done with them.

A tree is made once for each function of the core (``reading_code``). It is worked out here, with
values for its signs, and set as text (``notation``) or as MathML (``mathml``) elsewhere.
"""

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, replace
from math import atan, ceil, cos, degrees, exp, floor, log, log2, log10, radians, sin, sqrt, tan
from operator import add, eq, floordiv, ge, gt, le, lt, mod, mul, ne, sub, truediv
from typing import Any

from fotonomy.core.conversions import CONVERSIONS
from fotonomy.core.traced_numbers import keyed

# What a sign is that stands for one entry of a list, under the entry's own label.
ENTRY = "entry"
ADDED, TAKEN, TIMES, OVER, WHOLE, REST = "+", "−", "·", "/", "div", "mod"
ARITHMETIC: dict[str, Callable[[Any, Any], Any]] = {
    ADDED: add, TAKEN: sub, TIMES: mul, OVER: truediv, WHOLE: floordiv, REST: mod,
}  # fmt: skip
COMPARED: dict[str, Callable[[Any, Any], bool]] = {
    "<": lt, "≤": le, ">": gt, "≥": ge, "=": eq, "≠": ne,
}  # fmt: skip
# What holds where the comparison does not.
OPPOSITE = {"<": "≥", "≤": ">", ">": "≤", "≥": "<", "=": "≠", "≠": "="}
# Functions of mathematics, by the names the code has for them.
FUNCTIONS: dict[str, Callable[..., Any]] = {
    "log2": log2, "log10": log10, "log": log, "exp": exp, "sqrt": sqrt, "abs": abs,
    "floor": floor, "ceil": ceil, "sin": sin, "cos": cos, "tan": tan, "atan": atan,
    "degrees": degrees, "radians": radians, "round": round, "min": min, "max": max,
}  # fmt: skip


@dataclass(frozen=True, slots=True)
class Number:
    """A number of the formula itself; ``name`` is what the code calls it, if anything."""

    value: float
    unit: str = ""
    name: str = ""


@dataclass(frozen=True, slots=True)
class Sign:
    """Something with a sign: ``code`` is how the function reaches it, ``kind`` what it is there.

    ``lacks`` is true where it may be None.
    """

    code: str
    symbol: str
    unit: str = ""
    kind: Any = None
    lacks: bool = True


@dataclass(frozen=True, slots=True)
class Word:
    """One of a few words that a choice depends on, such as a way of metering."""

    text: str
    value: Any


@dataclass(frozen=True, slots=True)
class Minus:
    """The negative of something."""

    of: "Node"


@dataclass(frozen=True, slots=True)
class Binary:
    """A sum, a difference, a product, a quotient, a whole quotient or its rest."""

    sign: str
    left: "Node"
    right: "Node"


@dataclass(frozen=True, slots=True)
class Power:
    """Something to a power."""

    base: "Node"
    exponent: "Node"


@dataclass(frozen=True, slots=True)
class Applied:
    """A function of some things: one of mathematics, or one of the core that is looked up.

    ``function`` and ``takes`` (what its parameters are given) are there for those of the core;
    ``of`` are the numbers it shows.
    """

    name: str
    of: tuple["Node", ...]
    function: Callable[..., Any] | None = None
    takes: tuple[tuple[str, "Node"], ...] = ()


@dataclass(frozen=True, slots=True)
class Total:
    """The sum of one number of every entry of a list."""

    entries: Sign
    number: str


@dataclass(frozen=True, slots=True)
class Compared:
    """A comparison of two numbers."""

    sign: str
    left: "Node"
    right: "Node"


@dataclass(frozen=True, slots=True)
class Named:
    """True where something is a certain word."""

    left: "Node"
    word: Word


@dataclass(frozen=True, slots=True)
class Given:
    """True where something is there at all."""

    of: "Node"


@dataclass(frozen=True, slots=True)
class Holds:
    """True where something that is yes or no is yes."""

    of: Sign


@dataclass(frozen=True, slots=True)
class Not:
    """True where a condition does not hold."""

    of: "Node"


@dataclass(frozen=True, slots=True)
class Several:
    """Conditions of which all hold (``and``) or one (``or``)."""

    word: str
    parts: tuple["Node", ...]


@dataclass(frozen=True, slots=True)
class Choice:
    """One of several, by the first condition that holds; ``otherwise`` where none does."""

    cases: tuple[tuple["Node", "Node"], ...]
    otherwise: "Node"


@dataclass(frozen=True, slots=True)
class Nothing:
    """Where there is no such number."""


Node = (
    Number | Sign | Word | Minus | Binary | Power | Applied | Total | Compared | Named | Given
    | Holds | Not | Several | Choice | Nothing
)  # fmt: skip
Condition = Compared | Named | Given | Holds | Not | Several


@dataclass(frozen=True, slots=True)
class Definition:
    """One line: a sign and what it stands for."""

    sign: Sign
    tree: Node


@dataclass(frozen=True, slots=True)
class Formula:
    """What a function works out: its lines from the first, and what it gives.

    ``results`` are several where the function gives several.
    """

    lines: tuple[Definition, ...]
    results: tuple[Node, ...]

    def part(self, which: int | None) -> Node:
        """What it gives; one of several."""
        return self.results[which or 0]


def parts_of(node: Node) -> tuple[Node, ...]:
    """What a node is made of."""
    match node:
        case Minus(of) | Given(of) | Holds(of) | Not(of):
            return (of,)
        case Binary(_, left, right) | Compared(_, left, right):
            return left, right
        case Power(base, exponent):
            return base, exponent
        case Applied(_, of, None):
            return of
        case Applied(_, of, _, takes):
            return of or tuple(one for _, one in takes)
        case Named(left, _):
            return (left,)
        case Several(_, several):
            return several
        case Choice(cases, otherwise):
            return (*(part for case in cases for part in case), otherwise)
        case Total(entries, _):
            return (entries,)
    return ()


def within(node: Node) -> Iterator[Node]:
    """A node and everything it is made of, in the order of writing."""
    yield node
    for part in parts_of(node):
        yield from within(part)


def signs_of(node: Node) -> tuple[Sign, ...]:
    """The signs of a tree, each once."""
    return tuple(dict.fromkeys(one for one in within(node) if isinstance(one, Sign)))


def value_of(node: Node, given: Mapping[str, Any]) -> Any:
    """What a tree comes to; ``given`` has the value of each sign by its code."""
    match node:
        case Number(value):
            return value
        case Sign(code):
            return given[code]
        case Word(_, value):
            return value
        case Nothing():
            return None
        case Minus(of):
            return -value_of(of, given)
        case Binary(sign, left, right):
            return ARITHMETIC[sign](value_of(left, given), value_of(right, given))
        case Power(base, exponent):
            return value_of(base, given) ** value_of(exponent, given)
        case Applied(name, of, None):
            return FUNCTIONS[name](*(value_of(one, given) for one in of))
        case Applied(_, _, function, takes):
            assert function is not None
            return function(**{key: value_of(one, given) for key, one in takes})
        case Total(entries, number):
            return sum(getattr(one, number) for one in value_of(entries, given))
        case Choice(cases, otherwise):
            taken = (one for one, condition in cases if holds(condition, given))
            return value_of(next(taken, otherwise), given)
    return holds(node, given)


def holds(condition: Node, given: Mapping[str, Any]) -> bool:
    """Whether a condition holds."""
    match condition:
        case Compared(sign, left, right):
            return COMPARED[sign](value_of(left, given), value_of(right, given))
        case Named(left, word):
            return bool(value_of(left, given) == word.value)
        case Given(of):
            return value_of(of, given) is not None
        case Holds(of):
            return bool(value_of(of, given))
        case Not(of):
            return not holds(of, given)
        case Several("and", parts):
            return all(holds(one, given) for one in parts)
        case Several(_, parts):
            return any(holds(one, given) for one in parts)
    raise TypeError(f"{condition} is no condition")


def opposite(condition: Node) -> Node:
    """What holds where a condition does not."""
    match condition:
        case Compared(sign, left, right):
            return Compared(OPPOSITE[sign], left, right)
        case Not(of):
            return of
    return Not(condition)


def mapped(node: Node, change: Callable[[Node], Node]) -> Node:
    """A tree with every part changed, the innermost first."""

    def inner(one: Any) -> Any:
        return mapped(one, change)

    match node:
        case Minus(of) | Given(of) | Holds(of) | Not(of):
            found: Node = replace(node, of=inner(of))
        case Binary(sign, left, right):
            found = Binary(sign, inner(left), inner(right))
        case Compared(sign, left, right):
            found = Compared(sign, inner(left), inner(right))
        case Power(base, exponent):
            found = Power(inner(base), inner(exponent))
        case Applied(_, of, _, takes):
            shown, given = tuple(map(inner, of)), tuple((key, inner(one)) for key, one in takes)
            found = replace(node, of=shown, takes=given)
        case Named(left, word):
            found = Named(inner(left), word)
        case Several(word, parts):
            found = Several(word, tuple(map(inner, parts)))
        case Choice(cases, otherwise):
            both = tuple((inner(one), inner(when)) for one, when in cases)
            found = Choice(both, inner(otherwise))
        case Total(entries, number):
            found = Total(inner(entries), number)
        case _:
            found = node
    return change(found)


def without_conversions(node: Node) -> Node:
    """A tree as an equation of quantities: what turns one unit into another is left away.

    A number stands there with its unit, so that a percent of a metre needs no 100.
    """

    def one(part: Node) -> Node:
        match part:
            case Binary("·", left, right) if is_conversion(left):
                return right
            case Binary("·" | "/", left, right) if is_conversion(right):
                return left
            case Binary("/", left, right) if is_conversion(left):
                return Binary(OVER, Number(1), right)
        return part

    return mapped(node, one)


def is_conversion(node: Node) -> bool:
    """True for a number that turns one unit into another."""
    return isinstance(node, Number) and node.name.rpartition(".")[2] in CONVERSIONS


def taken(node: Node, given: Mapping[str, Any], because: list[Node]) -> Node:
    """A tree without its choices: the branches that count for these values.

    The conditions that decided are added to ``because``, as they hold. The sum of a list becomes
    that of its entries, each by its own name.
    """
    match node:
        case Choice(cases, otherwise):
            for one, condition in cases:
                if holds(condition, given):
                    because.append(condition)
                    return taken(one, given, because)
                because.append(opposite(condition))
            return taken(otherwise, given, because)
        case Minus(of):
            return Minus(taken(of, given, because))
        case Binary(sign, left, right):
            return Binary(sign, taken(left, given, because), taken(right, given, because))
        case Power(base, exponent):
            return Power(taken(base, given, because), taken(exponent, given, because))
        case Applied(_, of):
            return replace(node, of=tuple(taken(one, given, because) for one in of))
        case Total(entries, number):
            return _spelled(entries, number, given[entries.code])
    return node


def _spelled(entries: Sign, number: str, parts: Any) -> Node:
    """A sum of the entries of a list; each is called by its label."""
    found: Node | None = None
    for key, part in zip(keyed(parts), parts, strict=True):
        called = getattr(part, "label", None) or key
        sign = Sign(f"{entries.code}.{key}.{number}", called, "", ENTRY, False)
        found = sign if found is None else Binary(ADDED, found, sign)
    return Number(0) if found is None else found
