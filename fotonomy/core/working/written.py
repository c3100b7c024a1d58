"""Workings and formulas as text: for the command line, and for docs/formulas.md."""

import ast
import inspect
from collections.abc import Callable, Iterator
from typing import Any

from fotonomy.core.spec.kind import Kind
from fotonomy.core.working.catalog import COMMON, OF_KIND
from fotonomy.core.working.explain import Working
from fotonomy.core.working.expressions import (
    CALLED,
    COMPARED,
    PLAIN,
    PRODUCTS,
    SEVERAL,
    SUMS,
    WRITTEN,
    parameters_of,
    tree_of,
    without_words,
)
from fotonomy.core.working.quantity import USUAL, Function, Quantity
from fotonomy.core.working.sources import SOURCES
from fotonomy.core.working.standalone.working import TOPICS, topic_of
from fotonomy.core.working.symbols import number_text, raised, symbol_of, unit_of, words_of

_HEAD = """# Formulas

Made by `python -m fotonomy formulas`, from the code that computes. Every number of a plan has its
working on the page that shows it: press it, or focus it and press `=`. A plan file names the
formula and the source of each of its numbers by the ids used here.

Where a formula depends on the kind of setup or on what was metered, all its forms are shown.
"""


def formula_id(function: Function) -> str:
    """What a formula is called: its module and its name."""
    bare = inspect.unwrap(function)
    return f"{bare.__module__.rsplit('.', 1)[-1]}.{bare.__qualname__}"


def as_text(working: Working) -> str:
    """A working for the command line."""
    lines = [working.quantity.says, f"{working.quantity.symbol} = {working.text}", ""]
    for one in working.lines:
        lines.append(f"  {one.symbol} = {one.formula}")
        said = number_text(one.value, one.unit)
        lines.append(f"  {' ' * len(one.symbol)} = {one.numbers}" + (
            "" if said == one.numbers else f" = {said}"
        ))  # fmt: skip
        if one.when:
            lines.append(f"  {' ' * len(one.symbol)}   {one.when}")
    if working.inputs:
        lines += ["", "What goes in:"]
        lines += [
            f"  {one.symbol} = {one.text}  {one.words}{f' ({one.name})' if one.name else ''}"
            for one in working.inputs
        ]
    if working.levers:
        lines += ["", "What would change it most:"]
        lines += [
            f"  {one.what}: {one.change:+.4g}, to {number_text(one.to, working.quantity.unit)}"
            for one in working.levers
        ]
    if working.effects:
        lines += ["", f"What {working.moved} would do:"]
        lines += [
            f"  {one.quantity.symbol}: {number_text(one.before, one.quantity.unit)} to "
            f"{number_text(one.after, one.quantity.unit)}"
            for one in working.effects
        ]
    lines += ["", f"Source: {working.source.words} [{working.source.id}]"]
    if working.quantity.sure:
        lines.append(f"How sure: {working.quantity.sure}")
    return "\n".join(lines) + "\n"


def formulas_page() -> str:
    """The whole page as Markdown: formulas by topic, then the sources."""
    parts = [_HEAD]
    for title, quantities in _topics():
        parts.append(f"\n## {title}\n")
        parts += [_entry(one) for one in quantities]
    parts.append("\n## Sources\n\n| id | kind | source |\n|---|---|---|\n")
    parts += [f"| `{one.id}` | {one.standing} | {one.words} |\n" for one in SOURCES.values()]
    return "".join(parts)


def _topics() -> Iterator[tuple[str, tuple[Quantity, ...]]]:
    by_tile: dict[str, list[Quantity]] = {}
    for one in COMMON:
        by_tile.setdefault(one.tile.capitalize(), []).append(one)
    yield from ((title, tuple(found)) for title, found in by_tile.items())
    for kind, quantities in OF_KIND.items():
        yield {Kind.INTERVAL: "Interval runs", Kind.BURST: "Bursts"}.get(
            kind, "Long exposures"
        ), quantities  # fmt: skip
    for key, title in TOPICS.items():
        yield title, topic_of(key).quantities


def functions_of(quantity: Quantity) -> tuple[Function, ...]:
    """Every formula a quantity may have."""
    return quantity.forms if quantity.formula is None else (quantity.formula,)


def _entry(quantity: Quantity) -> str:
    name, unit = quantity.name, f", in {quantity.unit}" if quantity.unit else ""
    lines = [f"\n**`{name}`** ({quantity.symbol}{unit}). {quantity.says} "]
    lines.append(f"Source: `{quantity.source}`.")
    used = [f"`{one}`" for one in goes_into(quantity)]
    if used:
        lines.append(f" Goes into {', '.join(used)}.")
    if quantity.sure:
        lines.append(f" {quantity.sure}")
    lines.append("\n")
    for function in functions_of(quantity):
        lines.append(f"\n`{formula_id(function)}`\n\n```\n")
        lines += [f"{line}\n" for line in formula_lines(function, quantity.symbol)]
        lines.append("```\n")
    return "".join(lines)


def goes_into(quantity: Quantity) -> list[str]:
    """The numbers whose formulas take this one, as far as their parameters say."""
    _, of_kind = _kind_of(quantity)
    found: list[str] = []
    for other in of_kind:
        beside = other.name.rpartition(".")[0]
        for function in functions_of(other):
            for parameter in parameters_of(function):
                usual = USUAL.get(parameter, f"setup.{parameter}")
                place = other.given.get(parameter, usual)
                near = f"{beside}.{parameter}"
                if quantity.name in (place, near) and other.name not in (quantity.name, *found):
                    found.append(other.name)
    return found


def _kind_of(quantity: Quantity) -> tuple[Kind | None, tuple[Quantity, ...]]:
    """The kind that alone has a quantity, and all that such a plan has."""
    kind = next((kind for kind, found in OF_KIND.items() if quantity in found), None)
    everywhere = tuple(one for found in OF_KIND.values() for one in found)
    return kind, (*COMMON, *(OF_KIND[kind] if kind is not None else everywhere))


def formula_lines(function: Callable[..., Any], symbol: str) -> list[str]:
    """A function's code as lines of a formula, every way it may go, and what it calls below."""
    written = _Written(inspect.unwrap(function).__globals__)
    lines = written.lines(tree_of(function).body, symbol, "")
    done: set[str] = set()
    while left := [one for one in written.called if one not in done]:
        done.add(left[0])
        called = written.called[left[0]]
        inner = _Written(inspect.unwrap(called).__globals__)
        passed = ", ".join(symbol_of(one) for one in parameters_of(called) if one != "self")
        lines += inner.lines(tree_of(called).body, f"{left[0]}({passed})", "")
        written.called |= {key: one for key, one in inner.called.items() if key not in done}
    return lines


class _Written:
    """Code in symbols: ``world`` is what the code sees, ``called`` what it calls of ours."""

    def __init__(self, world: dict[str, Any]) -> None:
        self.world = world
        self.called: dict[str, Callable[..., Any]] = {}

    def lines(self, body: list[ast.stmt], symbol: str, when: str) -> list[str]:
        """Every statement as a line, with when it holds."""
        found: list[str] = []
        for one in without_words(body):
            match one:
                case (
                    ast.Assign(targets=[ast.Name(id=name)], value=value)
                    | ast.AnnAssign(target=ast.Name(id=name), value=ast.expr() as value)
                ):
                    found.append(f"{symbol_of(name)} = {self.said(value)}{when}")
                case ast.Assign(targets=[ast.Tuple(elts=names)], value=ast.Tuple(elts=values)):
                    pairs = zip(names, values, strict=True)
                    found += [f"{self.said(a)} = {self.said(b)}{when}" for a, b in pairs]
                case ast.If(test=test, body=then, orelse=other):
                    found += self.lines(then, symbol, f"   if {self.said(test)}")
                    found += self.lines(other, symbol, "   otherwise")
                case ast.With(body=inner):
                    found += self.lines(inner, symbol, when)
                case ast.Return(value=ast.expr() as value):
                    found.append(f"{symbol} = {self.said(value)}{when}")
                case _:
                    found.append(ast.unparse(one))
        return found

    def said(self, node: ast.expr, inside: bool = False) -> str:
        """An expression, with brackets where it stands inside another one."""
        match node:
            case ast.Constant(value=value):
                return number_text(value) if value is not None else "nothing"
            case ast.Name(id=name) | ast.Attribute(attr=name):
                return self._named(node, name)
            case ast.UnaryOp(op=ast.USub(), operand=operand):
                return f"−{self.said(operand, inside=True)}"
            case ast.BinOp(left=left, op=ast.Pow(), right=right):
                power = self.said(right)
                power = power if power.isdigit() else f"({power})"
                return f"{self.said(left, inside=True)}{raised(power)}"
            case ast.BinOp(left=left, op=op, right=right):
                kind = type(op)
                sign = SUMS.get(kind) or PRODUCTS[kind]
                # What is taken away or divided by keeps its brackets.
                tight = kind in PRODUCTS or kind is ast.Sub
                first = self.said(left, inside=kind in PRODUCTS)
                said = f"{first}{sign}{self.said(right, inside=tight)}"
                return f"({said})" if inside and kind in SUMS else said
            case ast.IfExp(test=test, body=body, orelse=other):
                return f"{self.said(body)} if {self.said(test)}, else {self.said(other)}"
            case ast.Compare(left=left, ops=[op], comparators=[right]) if type(op) in COMPARED:
                return f"{self.said(left)} {COMPARED[type(op)]} {self.said(right)}"
            case ast.BoolOp(op=op, values=values):
                word = " or " if isinstance(op, ast.Or) else " and "
                return word.join(self.said(one) for one in values)
            case ast.Call():
                return self._call(node)
            case ast.Tuple(elts=elements):
                return ", ".join(self.said(one) for one in elements)
        return ast.unparse(node)

    def _named(self, node: ast.expr, name: str) -> str:
        """A name by its symbol, a constant by its value."""
        if not (name.strip("_").isupper() or name in ("inf", "pi")):
            return symbol_of(name)
        if name == "pi":
            return "π"
        try:
            value = eval(ast.unparse(node), self.world)
        except (NameError, AttributeError):
            return words_of(name)
        return number_text(value, unit_of(name)) if isinstance(value, int | float) else str(value)

    def _call(self, node: ast.Call) -> str:
        name = ast.unparse(node.func).rsplit(".", 1)[-1]
        if name in PLAIN:
            return self.said(node.args[0])
        if name == "sum":
            return "the sum of all entries"
        passed = [*node.args, *(one.value for one in node.keywords)]
        if name in SEVERAL:
            return SEVERAL[name].format(", ".join(self.said(one) for one in passed))
        if name in WRITTEN and len(node.args) == 1:
            return WRITTEN[name].format(self.said(node.args[0]))
        called = CALLED.get(name) or words_of(name)
        function: Any = self.world.get(name) or self._method(name)
        ours = str(getattr(function, "__module__", "")).startswith("fotonomy.core")
        if ours and name not in CALLED and inspect.isfunction(inspect.unwrap(function)):
            self.called.setdefault(called, function)
        numbers = [one for one in passed if not isinstance(one, ast.Name) or one.id != "self"]
        return f"{called}({', '.join(self.said(one) for one in numbers)})"

    def _method(self, name: str) -> Any:
        """A method of one of our classes that the code sees; None where none is called so."""
        ours = (
            one for one in self.world.values()
            if isinstance(one, type) and one.__module__.startswith("fotonomy.core")
        )  # fmt: skip
        found = next((getattr(one, name) for one in ours if hasattr(one, name)), None)
        return found if inspect.isfunction(found) else None
