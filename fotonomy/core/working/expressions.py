"""A function's own code as lines of a working: in symbols, and with numbers.

The lines are read from the code that computes, and each step is evaluated by that code, so that
what is shown and what is computed cannot part. Only what formulas need is read: assignments, a
choice between branches, ``return``, arithmetic, and calls of other functions of the core, which
are opened up in their place.
"""

import ast
import inspect
import re
import textwrap
from collections.abc import Callable
from dataclasses import dataclass, field
from functools import cache, lru_cache
from typing import Any

from fotonomy.core.working.symbols import lowered, number_text, raised, symbol_of, unit_of

# Binding strength of what is written: what binds less than its surroundings gets brackets.
_LOOSE, _SUM, _PRODUCT, _SIGN, _POWER, _ATOM = range(6)
SUMS = {ast.Add: " + ", ast.Sub: " − "}
PRODUCTS = {ast.Mult: " · ", ast.Div: " / ", ast.FloorDiv: " div ", ast.Mod: " mod "}
COMPARED = {
    ast.Lt: "<", ast.LtE: "≤", ast.Gt: ">", ast.GtE: "≥", ast.Eq: "=", ast.NotEq: "≠",
    ast.Is: "is", ast.IsNot: "is not", ast.In: "in", ast.NotIn: "not in",
}  # fmt: skip
# How functions of mathematics are written; "{}" is what they are of.
WRITTEN = {
    "log2": "log₂({})", "log10": "log₁₀({})", "log": "ln({})", "exp": "e^({})", "sqrt": "√({})",
    "exp2": "2^({})", "abs": "|{}|", "floor": "⌊{}⌋", "ceil": "⌈{}⌉", "sin": "sin({})",
    "cos": "cos({})", "atan": "atan({})", "tan": "tan({})", "degrees": "degrees({})",
    "radians": "radians({})", "round": "round({})", "sum": "sum of {}",
}  # fmt: skip
# Functions of the core that are looked up or solved rather than written out.
CALLED = {"encode": "curve", "decode": "curve⁻¹"}
SEVERAL = {"min": "min({})", "max": "max({})", "maximum": "max({})", "minimum": "min({})"}
# What changes how a number is kept, not the number.
PLAIN = frozenset({
    "float", "int", "asarray", "array", "exact_rate", "rate_fps", "bool", "Fraction",
})  # fmt: skip


class UnreadableError(Exception):
    """Code that is no formula. A fault of the program, not of anybody's numbers."""


@dataclass(frozen=True, slots=True)
class Token:
    """Something that stands in a formula: how the code calls it, its symbol and its value."""

    name: str
    symbol: str
    unit: str
    value: Any
    constant: bool = False


@dataclass(frozen=True, slots=True)
class Line:
    """One step: what it gives, in symbols, with numbers, and its value; ``when`` it holds."""

    symbol: str
    formula: str
    numbers: str
    value: Any
    unit: str = ""
    when: str = ""


@dataclass(frozen=True, slots=True)
class _Text:
    symbols: str
    numbers: str
    binds: int

    def within(self, binds: int) -> "_Text":
        if self.binds >= binds:
            return self
        return _Text(f"({self.symbols})", f"({self.numbers})", _ATOM)


@dataclass(slots=True)
class _Scope:
    """A function while it is worked through: its names, and how each of them is written."""

    function: Callable[..., Any]
    names: dict[str, Any]
    written: dict[str, _Text] = field(default_factory=dict)
    paths: dict[str, str] = field(default_factory=dict)

    @property
    def world(self) -> dict[str, Any]:
        """What the function sees outside of itself."""
        return dict(inspect.unwrap(self.function).__globals__)


@cache
def tree_of(function: Callable[..., Any]) -> ast.FunctionDef:
    """A function's code as a tree. UnreadableError where there is none."""
    bare = inspect.unwrap(function)
    try:
        parsed = ast.parse(textwrap.dedent(inspect.getsource(bare)))
    except (OSError, TypeError) as error:
        raise UnreadableError(str(error)) from error
    found = parsed.body[0]
    if not isinstance(found, ast.FunctionDef):
        raise UnreadableError(f"{function} is no function")
    return found


@cache
def parameters_of(function: Callable[..., Any]) -> tuple[str, ...]:
    """The names of what a function is given."""
    return tuple(inspect.signature(inspect.unwrap(function)).parameters)


@lru_cache(maxsize=4096)
def _compiled(node: ast.expr) -> Any:
    return compile(ast.Expression(node), "<working>", "eval")


class Reading:
    """A function worked through for given values: its lines, its tokens and its result."""

    def __init__(
        self, function: Callable[..., Any], given: dict[str, Any], paths: dict[str, str],
        part: int | None = None,
    ) -> None:  # fmt: skip
        """Work through a function. ``paths`` say where among a plan's numbers what is given stands.

        ``part`` picks one of several results. UnreadableError for code that is no formula.
        """
        self.lines: list[Line] = []
        self.tokens: dict[str, Token] = {}
        self.part = part
        # A copy: what a line is called after is noted among them.
        scope = _Scope(function, _with_defaults(function, given), paths=dict(paths))
        self.result = self._through(tree_of(function).body, scope, "")
        if self.result is None and not self.lines:
            raise UnreadableError(f"{function.__qualname__} returns nothing")

    # Statements

    def _through(self, body: list[ast.stmt], scope: _Scope, when: str) -> Any:
        for statement in body:
            match statement:
                case ast.Expr() | ast.Assert() | ast.Raise() | ast.Pass():
                    continue
                case ast.Assign(targets=[ast.Name(id=name)], value=value):
                    self._assign(name, value, scope, when)
                case ast.AnnAssign(target=ast.Name(id=name), value=ast.expr() as value):
                    self._assign(name, value, scope, when)
                case ast.Assign(targets=[ast.Tuple(elts=names)], value=ast.Tuple(elts=values)):
                    for one, value in zip(names, values, strict=True):
                        assert isinstance(one, ast.Name)
                        self._assign(one.id, value, scope, when)
                case ast.Assign(targets=[ast.Tuple(elts=names)], value=value):
                    for one, found in zip(names, self._value(value, scope), strict=True):
                        assert isinstance(one, ast.Name)
                        scope.names[one.id] = found
                case ast.If(test=test, body=then, orelse=other):
                    branch = then if self._value(test, scope) else other
                    said = self._condition(test, scope, bool(branch is then))
                    if not _only_raises(then):
                        when = said
                    found = self._through(branch, scope, when)
                    if found is not None or _returns(branch):
                        return found
                case ast.Return(value=ast.expr() as value):
                    return self._return(value, scope, when)
                case ast.With(body=inner):
                    return self._through(inner, scope, when)
                case _:
                    raise UnreadableError(ast.unparse(statement))
        return None

    def _assign(self, name: str, value: ast.expr, scope: _Scope, when: str) -> None:
        found = self._value(value, scope)
        scope.names[name] = found
        path = self._path(value, scope)
        if path:
            scope.paths[name] = path
            if _is_number(found):
                scope.written[name] = self._text(value, scope)
            return
        if not _is_number(found):
            return
        try:
            text = self._text(value, scope)
        except UnreadableError:
            # Looked up and not worked out: it stands among the inputs by its name.
            self.tokens.setdefault(name, Token(name, symbol_of(name), unit_of(name), found))
            scope.written[name] = _Text(symbol_of(name), number_text(found, unit_of(name)), _ATOM)
            return
        if text.binds == _ATOM and not _worked_out(value):
            # Another name for what stands there already.
            scope.written[name] = text
            return
        self._line(symbol_of(name), text, found, unit_of(name), when)
        scope.written[name] = _Text(symbol_of(name), number_text(found, unit_of(name)), _ATOM)

    def _return(self, value: ast.expr, scope: _Scope, when: str) -> Any:
        value, when = self._branch(value, scope, when)
        if isinstance(value, ast.Tuple) and self.part is not None:
            value, when = self._branch(value.elts[self.part], scope, when)
        found = self._value(value, scope)
        self._line("", self._text(value, scope), found, "", when)
        return found

    def _branch(self, value: ast.expr, scope: _Scope, when: str) -> tuple[ast.expr, str]:
        """The branch of ``a if test else b`` that is taken, and why."""
        while isinstance(value, ast.IfExp):
            taken = bool(self._value(value.test, scope))
            when = self._condition(value.test, scope, taken)
            value = value.body if taken else value.orelse
        return value, when

    def _line(self, symbol: str, text: _Text, value: Any, unit: str, when: str) -> None:
        self.lines.append(Line(symbol, text.symbols, text.numbers, value, unit, when))

    # Expressions

    def _value(self, node: ast.expr, scope: _Scope) -> Any:
        # One world of names, so that a condition within a search sees what the function was given.
        return eval(_compiled(node), {**scope.world, **scope.names})

    def _condition(self, test: ast.expr, scope: _Scope, holds: bool) -> str:
        """Why a branch was taken, with numbers; empty where no numbers decide."""
        match test:
            case ast.Compare(left=left, ops=[op], comparators=[right]) if type(op) in COMPARED:
                values = [self._value(side, scope) for side in (left, right)]
                if not all(_is_number(value) for value in values):
                    return ""
                a, b = (self._text(side, scope).within(_SUM) for side in (left, right))
                sign = COMPARED[type(op)]
                said = f"{a.symbols} {sign} {b.symbols}"
                return f"as {said}" if holds else f"as {said} does not hold"
        return ""

    def _path(self, node: ast.expr, scope: _Scope) -> str:
        """The place of a value among the numbers of a plan, "" for what has none."""
        match node:
            case ast.Name(id=name):
                return scope.paths.get(name, "")
            case ast.Attribute(value=value, attr=attr):
                before = self._path(value, scope)
                return f"{before}.{attr}" if before else ""
        return ""

    def _text(self, node: ast.expr, scope: _Scope) -> _Text:
        match node:
            case ast.Constant(value=value):
                text = number_text(value)
                return _Text(text, text, _ATOM)
            case ast.Name(id=name) if name in scope.written:
                return scope.written[name]
            case ast.Name() | ast.Attribute() | ast.Subscript():
                return self._token(node, scope)
            case ast.UnaryOp(op=ast.USub(), operand=operand):
                inner = self._text(operand, scope).within(_PRODUCT)
                if inner.symbols.startswith("−") and inner.numbers.startswith("−"):
                    return _Text(inner.symbols[1:], inner.numbers[1:], _PRODUCT)
                return _Text(f"−{inner.symbols}", f"−{inner.numbers}", _SIGN)
            case ast.BinOp():
                return self._binary(node, scope)
            case ast.IfExp():
                return self._text(self._branch(node, scope, "")[0], scope)
            case ast.BoolOp(values=values):
                return self._text(self._chosen(node, values, scope), scope)
            case ast.Call():
                return self._call(node, scope)
        raise UnreadableError(ast.unparse(node))

    def _chosen(self, node: ast.BoolOp, values: list[ast.expr], scope: _Scope) -> ast.expr:
        """The one of ``a or b`` that counts."""
        found = self._value(node, scope)
        return next(one for one in values if self._value(one, scope) is found)

    def _token(self, node: ast.expr, scope: _Scope) -> _Text:
        code, value = ast.unparse(node), self._value(node, scope)
        last = code.rsplit(".", 1)[-1]
        constant = last.isupper() or last in ("inf", "pi") or re.sub(r"\d", "", last).isupper()
        path = self._path(node, scope)
        name = path or code
        symbol, unit = symbol_of(name), unit_of(name)
        if isinstance(node, ast.Subscript):
            # One of several, such as a coefficient of a row: a₀.
            place = re.findall(r"\d+", ast.unparse(node.slice))
            symbol = f"{symbol_of(ast.unparse(node.value))}{lowered(place[-1]) if place else ''}"
        numbers = number_text(value, unit)
        if last not in ("inf", "pi"):
            self.tokens.setdefault(name, Token(name, symbol, unit, value, constant))
        if constant:
            text = "π" if last == "pi" else numbers
            return _Text(text, text, _ATOM)
        signed = numbers.startswith("−")
        return _Text(symbol, f"({numbers})" if signed else numbers, _ATOM)

    def _binary(self, node: ast.BinOp, scope: _Scope) -> _Text:
        kind = type(node.op)
        if kind in SUMS:
            a = self._text(node.left, scope).within(_SUM)
            b = self._text(node.right, scope).within(_PRODUCT if kind is ast.Sub else _SUM)
            sign, binds = SUMS[kind], _SUM
        elif kind in PRODUCTS:
            a = self._text(node.left, scope).within(_PRODUCT)
            b = self._text(node.right, scope).within(_PRODUCT if kind is ast.Mult else _SIGN)
            sign, binds = PRODUCTS[kind], _PRODUCT
        elif kind is ast.Pow:
            return self._power(node, scope)
        else:
            raise UnreadableError(ast.unparse(node))
        return _Text(f"{a.symbols}{sign}{b.symbols}", f"{a.numbers}{sign}{b.numbers}", binds)

    def _power(self, node: ast.BinOp, scope: _Scope) -> _Text:
        base = self._text(node.left, scope).within(_ATOM)
        power = self._text(node.right, scope)
        if not power.symbols.isdigit():
            power = _Text(f"({_bare(power.symbols)})", f"({_bare(power.numbers)})", _ATOM)
        # A number with its unit wants brackets under a power: (50 mm)².
        under = f"({base.numbers})" if " " in base.numbers and base.binds == _ATOM else base.numbers
        under = base.numbers if base.numbers.startswith("(") else under
        return _Text(
            f"{base.symbols}{raised(power.symbols)}", f"{under}{raised(power.numbers)}", _POWER
        )

    def _call(self, node: ast.Call, scope: _Scope) -> _Text:
        name = ast.unparse(node.func).rsplit(".", 1)[-1]
        if name in PLAIN:
            return self._text(node.args[0], scope)
        if name == "full":
            return self._text(node.args[1], scope)
        if name == "where":
            return self._text(node.args[1 if self._value(node.args[0], scope) else 2], scope)
        if name == "sum" and isinstance(node.args[0], ast.GeneratorExp):
            return self._sum(node.args[0], scope)
        if name in SEVERAL and len(node.args) > 1:
            parts = [self._text(one, scope) for one in node.args]
            return _Text(
                SEVERAL[name].format(", ".join(part.symbols for part in parts)),
                SEVERAL[name].format(", ".join(part.numbers for part in parts)), _ATOM,
            )  # fmt: skip
        if name in WRITTEN and len(node.args) == 1:
            inner = self._text(node.args[0], scope)
            return _Text(
                WRITTEN[name].format(_bare(inner.symbols)),
                WRITTEN[name].format(_bare(inner.numbers)), _ATOM,
            )  # fmt: skip
        return self._opened(node, scope)

    def _sum(self, over: ast.GeneratorExp, scope: _Scope) -> _Text:
        """Every part of a sum by its own name."""
        loop = over.generators[0]
        assert isinstance(loop.target, ast.Name)
        path = self._path(loop.iter, scope)
        symbols, numbers = [], []
        for k, part in enumerate(self._value(loop.iter, scope)):
            inner = _Scope(scope.function, {**scope.names, loop.target.id: part})
            if not all(self._value(test, inner) for test in loop.ifs):
                continue
            key = getattr(part, "key", k)
            inner.paths = {**scope.paths, loop.target.id: f"{path}.{key}" if path else ""}
            value = self._value(over.elt, inner)
            called = getattr(part, "label", None) or getattr(part, "name", None) or f"{k + 1}"
            name = self._path(over.elt, inner) or f"{called} {k}"
            unit = unit_of(ast.unparse(over.elt))
            self.tokens.setdefault(name, Token(name, called, unit, value))
            symbols.append(called)
            numbers.append(number_text(value))
        added = " + ".join(numbers).replace("+ −", "− ")
        return _Text(" + ".join(symbols) or "0", added or "0", _SUM)

    def _opened(self, node: ast.Call, scope: _Scope) -> _Text:
        """A call of one of our own functions: its lines first, then what it gave."""
        function = self._value(node.func, scope)
        bound = getattr(function, "__self__", None)
        bare = inspect.unwrap(getattr(function, "__func__", function))
        if not str(getattr(bare, "__module__", "")).startswith("fotonomy.core"):
            raise UnreadableError(ast.unparse(node))
        inner = self._inner(node, bare, bound, scope)
        found, body = self._value(node, scope), without_words(tree_of(bare).body)
        lines, tokens = list(self.lines), dict(self.tokens)
        try:
            return self._unfolded(bare, body, inner, found)
        except UnreadableError:
            self.lines, self.tokens = lines, tokens
            return self._as_called(node, bare, found, scope)

    def _as_called(
        self, node: ast.Call, bare: Callable[..., Any], found: Any, scope: _Scope
    ) -> _Text:
        """A call of what is no formula: its name, of the numbers it is called with."""
        passed = [*node.args, *(one.value for one in node.keywords)]
        of = [one for one in passed if _is_number(self._value(one, scope))]
        parts = [self._text(one, scope) for one in of]
        called = CALLED.get(bare.__name__, symbol_of(bare.__name__))
        symbols = f"{called}({', '.join(part.symbols for part in parts)})"
        return _Text(symbols, number_text(found, unit_of(bare.__name__)), _ATOM)

    def _unfolded(
        self, bare: Callable[..., Any], body: list[ast.stmt], inner: _Scope, found: Any
    ) -> _Text:
        if len(body) == 1 and isinstance(body[0], ast.Return) and body[0].value is not None:
            chosen, _ = self._branch(body[0].value, inner, "")
            return self._text(chosen, inner)
        kept = len(self.lines)
        self._through(tree_of(bare).body, inner, "")
        last = self.lines.pop()
        symbol = symbol_of(bare.__name__)
        unit = unit_of(bare.__name__)
        if last.formula in {line.symbol for line in self.lines} | {
            one.symbol for one in self.tokens.values()
        }:
            return _Text(last.formula, last.numbers, _ATOM)
        self.lines.append(Line(symbol, last.formula, last.numbers, found, unit, last.when))
        assert len(self.lines) > kept
        return _Text(symbol, number_text(found, unit), _ATOM)

    def _inner(self, node: ast.Call, bare: Callable[..., Any], bound: Any, scope: _Scope) -> _Scope:
        """The names of a function that is called, written as what it is called with."""
        names = parameters_of(bare)
        given: dict[str, Any] = {}
        inner = _Scope(bare, given)
        if bound is not None:
            assert isinstance(node.func, ast.Attribute)
            given[names[0]] = bound
            inner.paths[names[0]] = self._path(node.func.value, scope)
            names = names[1:]
        passed = dict(zip(names, node.args, strict=False))
        passed |= {one.arg: one.value for one in node.keywords if one.arg}
        for name, argument in passed.items():
            given[name] = self._value(argument, scope)
            inner.paths[name] = self._path(argument, scope)
            if _is_number(given[name]):
                inner.written[name] = self._text(argument, scope).within(_ATOM)
        inner.names = _with_defaults(bare, given)
        return inner


def _with_defaults(function: Callable[..., Any], given: dict[str, Any]) -> dict[str, Any]:
    found = dict(given)
    for name, one in inspect.signature(inspect.unwrap(function)).parameters.items():
        if name not in found and one.default is not inspect.Parameter.empty:
            found[name] = one.default
    return found


def without_words(body: list[ast.stmt]) -> list[ast.stmt]:
    """Statements without docstrings and checks."""
    return [
        one for one in body
        if not isinstance(one, ast.Expr | ast.Assert)
        and not (isinstance(one, ast.If) and _only_raises(one.body))
    ]  # fmt: skip


def _bare(text: str) -> str:
    """A text without brackets about all of it."""
    if not (text.startswith("(") and text.endswith(")")):
        return text
    depth = 0
    for place, letter in enumerate(text):
        depth += {"(": 1, ")": -1}.get(letter, 0)
        if depth == 0 and place < len(text) - 1:
            return text
    return text[1:-1]


def _worked_out(node: ast.expr) -> bool:
    """True where something is done to what stands there, not only kept in another way."""
    if isinstance(node, ast.Call):
        name = ast.unparse(node.func).rsplit(".", 1)[-1]
        return name in WRITTEN or name in SEVERAL
    return isinstance(node, ast.BinOp | ast.UnaryOp)


def _only_raises(body: list[ast.stmt]) -> bool:
    return all(isinstance(one, ast.Raise) for one in body)


def _returns(body: list[ast.stmt]) -> bool:
    return any(isinstance(one, ast.Return) for one in body)


def _is_number(value: Any) -> bool:
    if isinstance(value, bool):
        return False
    try:
        float(value)
    except (TypeError, ValueError):
        return False
    return not isinstance(value, str)
