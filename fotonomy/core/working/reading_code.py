"""A function of the core as a formula, read from its own code.

What is shown and what is computed cannot part that way. Only what formulas need is read:
assignments, a choice between branches, ``return``, arithmetic, and calls of other functions of the
core, which are opened up in their place. What is looked up or searched for is not written out: it
stands under its name, with what it is given.
"""

import ast
import inspect
import textwrap
from collections.abc import Callable
from enum import Enum
from functools import cache
from types import NoneType, UnionType
from typing import Annotated, Any, Union, get_args, get_origin

from fotonomy.core.motion.shutter import rate_fps
from fotonomy.core.working import tree as t
from fotonomy.core.working.symbols import symbol_of, unit_of

Function = Callable[..., Any]
Env = dict[str, t.Node]
_ARITHMETIC = {
    ast.Add: t.ADDED, ast.Sub: t.TAKEN, ast.Mult: t.TIMES, ast.Div: t.OVER,
    ast.FloorDiv: t.WHOLE, ast.Mod: t.REST,
}  # fmt: skip
_COMPARED = {
    ast.Lt: "<", ast.LtE: "≤", ast.Gt: ">", ast.GtE: "≥", ast.Eq: "=", ast.NotEq: "≠",
}  # fmt: skip
_SAME = {"maximum": "max", "minimum": "min"}
# What changes how a number is kept, not the number.
_PLAIN = frozenset({"float", "asarray", "array"})
_SAME_RATE = frozenset({"exact_rate", "rate_fps"})


class UnreadableError(Exception):
    """Code that is no formula. A fault of the program, not of anybody's numbers."""


@cache
def parameters_of(function: Function) -> tuple[str, ...]:
    """The names of what a function is given."""
    return tuple(inspect.signature(inspect.unwrap(function)).parameters)


@cache
def formula_of(function: Function, given: frozenset[str]) -> t.Formula:
    """A function as a formula of what it is given. UnreadableError for code that is none."""
    bare = inspect.unwrap(function)
    reader = _Reader()
    env: Env = {
        name: t.Sign(name, symbol_of(name), unit_of(name), kind, lacks)
        for name, (kind, lacks) in _kinds_of(bare).items()
    }
    env |= {name: node for name, node in _defaults_of(bare).items() if name not in given}
    found = reader.through(_body_of(bare), env, bare)
    if found is None:
        raise UnreadableError(f"{bare.__qualname__} returns nothing")
    if any(isinstance(one, t.Applied) and not one.of for part in found for one in t.within(part)):
        raise UnreadableError(f"{bare.__qualname__} is looked up")
    lines = reader.lines
    if lines and found == (lines[-1].sign,):
        # The last line is what it gives.
        return t.Formula(tuple(lines[:-1]), (lines[-1].tree,))
    return t.Formula(tuple(lines), found)


@cache
def _body_of(function: Function) -> tuple[ast.stmt, ...]:
    """A function's statements, without docstrings and checks. UnreadableError without code."""
    try:
        parsed = ast.parse(textwrap.dedent(inspect.getsource(function)))
    except (OSError, TypeError) as error:
        raise UnreadableError(str(error)) from error
    found = parsed.body[0]
    if not isinstance(found, ast.FunctionDef):
        raise UnreadableError(f"{function} is no function")
    return tuple(
        one for one in found.body
        if not isinstance(one, ast.Expr | ast.Assert | ast.Pass | ast.Raise)
        and not (isinstance(one, ast.If) and all(isinstance(x, ast.Raise) for x in one.body))
    )  # fmt: skip


Kind = tuple[Any, bool]


@cache
def _kinds_of(function: Function) -> dict[str, Kind]:
    """What a function's parameters are, and whether they may be None; ``self`` is of its class."""
    hints = inspect.get_annotations(function, eval_str=True)
    found = {name: _bare_kind(hints.get(name)) for name in parameters_of(function)}
    if "self" in found:
        owner: Any = inspect.getmodule(function)
        for part in function.__qualname__.split(".")[:-1]:
            owner = getattr(owner, part)
        found["self"] = owner, False
    return found


@cache
def _kind_of_part(owner: Any, name: str) -> Kind:
    """What an attribute of a class is, and whether it may be None."""
    for one in getattr(owner, "__mro__", ()):
        declared = inspect.get_annotations(one, eval_str=True)
        if name in declared:
            return _bare_kind(declared[name])
        found = vars(one).get(name)
        if isinstance(found, property) and found.fget is not None:
            return _bare_kind(inspect.get_annotations(found.fget, eval_str=True).get("return"))
    return None, True


def _bare_kind(hint: Any) -> Kind:
    """A kind without its None, and whether it had one; what is not said may be anything."""
    if get_origin(hint) is Annotated:
        hint = get_args(hint)[0]
    if get_origin(hint) in (Union, UnionType):
        left = [one for one in get_args(hint) if one is not NoneType]
        return (left[0] if len(left) == 1 else None), NoneType in get_args(hint)
    return hint, hint in (None, Any)


class _Reader:
    """The lines of a formula while its functions are gone through."""

    def __init__(self) -> None:
        self.lines: list[t.Definition] = []
        self._inside = 0

    # Statements

    def through(
        self, body: tuple[ast.stmt, ...], env: Env, function: Function
    ) -> tuple[t.Node, ...] | None:
        """What statements return; None where they return nothing. ``env`` gets what they name."""
        for place, statement in enumerate(body):
            match statement:
                case (
                    ast.Assign(targets=[ast.Name(id=name)], value=value)
                    | ast.AnnAssign(target=ast.Name(id=name), value=ast.expr() as value)
                ):
                    env[name] = self._named(name, self._read(value, env, function))
                case ast.Assign(targets=[ast.Tuple(elts=names)], value=ast.Tuple(elts=values)):
                    read = [self._read(value, env, function) for value in values]
                    for one, node in zip(names, read, strict=True):
                        assert isinstance(one, ast.Name)
                        env[one.id] = self._named(one.id, node)
                case ast.If(test=test, body=then, orelse=other):
                    rest = body[place + 1 :]
                    found = self._branched(test, tuple(then), tuple(other), rest, env, function)
                    if found is not None:
                        return found
                case ast.With(body=inner):
                    return self.through((*inner, *body[place + 1 :]), env, function)
                case ast.Return(value=ast.Tuple(elts=several)):
                    return tuple(self._read(one, env, function) for one in several)
                case ast.Return(value=ast.expr() as value):
                    return (self._read(value, env, function),)
                case _:
                    raise UnreadableError(ast.unparse(statement))
        return None

    def _branched(
        self, test: ast.expr, then: tuple[ast.stmt, ...], other: tuple[ast.stmt, ...],
        rest: tuple[ast.stmt, ...], env: Env, function: Function,
    ) -> tuple[t.Node, ...] | None:  # fmt: skip
        """A choice of statements: what they return, or None with what they name in ``env``."""
        condition = self._condition(test, env, function)
        if isinstance(condition, bool):
            return self.through(then if condition else other, env, function)
        first, second = dict(env), dict(env)
        self._inside += 1
        found, instead = (
            self.through(then, first, function), self.through(other, second, function)
        )  # fmt: skip
        self._inside -= 1
        if found is not None:
            instead = instead if instead is not None else self.through(rest, second, function)
            if instead is None:
                raise UnreadableError("a branch that gives nothing")
            return tuple(
                _choice(one, condition, two) for one, two in zip(found, instead, strict=True)
            )
        if instead is not None:
            raise UnreadableError("the other branch alone returns")
        for name in first:
            if name in second and first[name] != second[name]:
                env[name] = self._named(name, _choice(first[name], condition, second[name]))
        return None

    def _named(self, name: str, node: t.Node) -> t.Node:
        """A name for something: a line of its own, where something is worked out."""
        plain = isinstance(
            node, t.Sign | t.Number | t.Word | t.Nothing | t.Named | t.Compared | t.Several
            | t.Not | t.Given | t.Holds
        )  # fmt: skip
        if plain or self._inside:
            return node
        same = next((one.sign for one in self.lines if one.tree == node), None)
        if same is not None:
            return same
        taken = sum(one.sign.code.partition("#")[0] == f"={name}" for one in self.lines)
        sign = t.Sign(f"={name}#{taken}", symbol_of(name), unit_of(name), float, False)
        self.lines.append(t.Definition(sign, node))
        return sign

    # Expressions

    def _read(self, node: ast.expr, env: Env, function: Function) -> t.Node:
        match node:
            case ast.Constant(value=None):
                return t.Nothing()
            case ast.Constant(value=bool() as value) | ast.Constant(value=str() as value):
                return t.Word(str(value).replace("_", " "), value)
            case ast.Constant(value=int() | float() as value):
                return t.Number(value)
            case ast.Name(id=name) if name in env:
                return env[name]
            case ast.Name() | ast.Attribute() | ast.Subscript():
                return self._reached(node, env, function)
            case ast.UnaryOp(op=ast.USub(), operand=operand):
                of = self._read(operand, env, function)
                return of.of if isinstance(of, t.Minus) else t.Minus(of)
            case ast.BinOp(left=left, op=ast.Pow(), right=right):
                return _power(self._read(left, env, function), self._read(right, env, function))
            case ast.BinOp(left=left, op=op, right=right) if type(op) in _ARITHMETIC:
                a, b = self._read(left, env, function), self._read(right, env, function)
                return _binary(_ARITHMETIC[type(op)], a, b)
            case ast.IfExp(test=test, body=body, orelse=other):
                condition = self._condition(test, env, function)
                if isinstance(condition, bool):
                    return self._read(body if condition else other, env, function)
                first, second = (self._read(one, env, function) for one in (body, other))
                return _choice(first, condition, second)
            case ast.BoolOp(op=ast.Or(), values=[left, right]):
                first = self._read(left, env, function)
                if isinstance(first, t.Nothing):
                    return self._read(right, env, function)
                if isinstance(first, t.Sign) and first.kind is not bool:
                    if not first.lacks:
                        return first
                    return _choice(first, t.Given(first), self._read(right, env, function))
            case ast.Call():
                return self._called(node, env, function)
        condition = self._condition(node, env, function)
        if isinstance(condition, bool):
            return t.Word(str(condition), condition)
        return condition

    def _reached(self, node: ast.expr, env: Env, function: Function) -> t.Node:
        """An attribute of something that is given, or something the code sees outside."""
        if isinstance(node, ast.Attribute) and _names_in(node) & env.keys():
            base = self._read(node.value, env, function)
            if not isinstance(base, t.Sign):
                raise UnreadableError(ast.unparse(node))
            code = f"{base.code}.{node.attr}"
            return t.Sign(
                code, symbol_of(code), unit_of(code), *_kind_of_part(base.kind, node.attr)
            )
        if _names_in(node) & env.keys():
            raise UnreadableError(ast.unparse(node))
        value = self._outside(node, function)
        if isinstance(value, Enum):
            return t.Word(_word_of(value), value)
        if isinstance(value, int | float) and not isinstance(value, bool):
            name = ast.unparse(node)
            return t.Number(value, unit_of(name.partition("[")[0]), name)
        raise UnreadableError(ast.unparse(node))

    @staticmethod
    def _outside(node: ast.expr, function: Function) -> Any:
        code = compile(ast.Expression(node), "<formula>", "eval")
        try:
            return eval(code, dict(function.__globals__))
        except (NameError, AttributeError) as error:
            raise UnreadableError(ast.unparse(node)) from error

    def _condition(self, test: ast.expr, env: Env, function: Function) -> t.Node | bool:
        """A test as a condition; True or False where it holds always or never."""
        match test:
            case ast.Compare(left=left, ops=[op], comparators=[ast.Constant(value=None)]):
                return self._there(self._read(left, env, function), isinstance(op, ast.IsNot))
            case ast.Compare(left=left, ops=[ast.In()], comparators=[ast.Tuple(elts=several)]):
                base = self._read(left, env, function)
                words = [self._read(one, env, function) for one in several]
                return t.Several("or", tuple(
                    t.Named(base, one) for one in words if isinstance(one, t.Word)
                ))  # fmt: skip
            case ast.Compare(left=left, ops=[op], comparators=[right]):
                a, b = self._read(left, env, function), self._read(right, env, function)
                if isinstance(b, t.Word) and isinstance(a, t.Word):
                    return (a.value == b.value) is isinstance(op, ast.Is | ast.Eq)
                if isinstance(b, t.Word):
                    named = t.Named(a, b)
                    return named if isinstance(op, ast.Is | ast.Eq) else t.Not(named)
                return t.Compared(_COMPARED[type(op)], a, b)
            case ast.UnaryOp(op=ast.Not(), operand=operand):
                inner = self._condition(operand, env, function)
                return not inner if isinstance(inner, bool) else t.opposite(inner)
            case ast.BoolOp(op=op, values=values):
                parts = [self._condition(one, env, function) for one in values]
                decides = isinstance(op, ast.Or)
                if any(one is decides for one in parts):
                    return decides
                left_over = tuple(one for one in parts if not isinstance(one, bool))
                if len(left_over) < 2:
                    return left_over[0] if left_over else not decides
                return t.Several("or" if decides else "and", left_over)
            case ast.Call():
                raise UnreadableError(ast.unparse(test))
        found = self._read(test, env, function)
        match found:
            case t.Word(_, bool() as value):
                return value
            case t.Sign(kind=kind) if kind is bool:
                return t.Holds(found)
            case t.Sign():
                return t.Compared("≠", found, t.Number(0))
        if isinstance(found, t.Condition):
            return found
        raise UnreadableError(ast.unparse(test))

    @staticmethod
    def _there(node: t.Node, wanted: bool) -> t.Node | bool:
        """Whether something is there at all, or is not."""
        if isinstance(node, t.Nothing):
            return not wanted
        if not isinstance(node, t.Sign) or not node.lacks:
            return wanted
        return t.Given(node) if wanted else t.Not(t.Given(node))

    def _called(self, node: ast.Call, env: Env, function: Function) -> t.Node:
        name = ast.unparse(node.func).rsplit(".", 1)[-1]
        name = _SAME.get(name, name)
        if name == "sum":
            return self._total(node, env, function)
        if name == "float" and isinstance(node.args[0], ast.Constant):
            raise UnreadableError(ast.unparse(node))
        if name in _PLAIN:
            return self._read(node.args[0], env, function)
        if name in _SAME_RATE:
            rate = self._read(node.args[0], env, function)
            return t.Applied("exact", (rate,), rate_fps, (("fps", rate),))
        if name in ("where", "clip", "full", "exp2") or name in t.FUNCTIONS:
            return self._mathematics(name, node, env, function)
        return self._opened(node, env, function)

    def _mathematics(self, name: str, node: ast.Call, env: Env, function: Function) -> t.Node:
        if name == "where":
            condition = self._condition(node.args[0], env, function)
            first, second = (self._read(one, env, function) for one in node.args[1:])
            if isinstance(condition, bool):
                return first if condition else second
            return _choice(first, condition, second)
        if node.keywords and name != "asarray":
            raise UnreadableError(ast.unparse(node))
        of = tuple(self._read(one, env, function) for one in node.args)
        if name == "clip":
            value, low, high = of
            return t.Applied("min", (high, t.Applied("max", (low, value))))
        if name == "full":
            return of[1]
        if name == "exp2":
            return t.Power(t.Number(2), of[0])
        return t.Applied(name, of)

    def _total(self, node: ast.Call, env: Env, function: Function) -> t.Node:
        """The sum of one number of every entry of a list."""
        match node.args:
            case [
                ast.GeneratorExp(
                    elt=ast.Attribute(value=ast.Name(id=one), attr=number),
                    generators=[ast.comprehension(target=ast.Name(id=each), iter=over, ifs=[])],
                )
            ] if one == each:
                entries = self._read(over, env, function)
                if isinstance(entries, t.Sign):
                    return t.Total(entries, number)
        raise UnreadableError(ast.unparse(node))

    def _opened(self, node: ast.Call, env: Env, function: Function) -> t.Node:
        """A call of one of our own functions: its lines, then what it gives."""
        bare, takes = self._target(node, env, function)
        inner: Env = {**_defaults_of(bare), **takes}
        lines = list(self.lines)
        try:
            body = _body_of(bare)
            found = self.through(body, {**inner}, bare)
            if found is None or len(found) > 1:
                raise UnreadableError(ast.unparse(node))
            return found[0] if len(body) == 1 else self._named(bare.__name__, found[0])
        except UnreadableError:
            self.lines = lines
            numbers = tuple(
                one for one in takes.values()
                if not isinstance(one, t.Sign) or one.kind in (int, float, Any)
            )  # fmt: skip
            return t.Applied(called_of(bare), numbers, bare, tuple(inner.items()))

    def _target(self, node: ast.Call, env: Env, function: Function) -> tuple[Function, Env]:
        """The function that is called, and what its parameters are given."""
        takes: Env = {}
        if isinstance(node.func, ast.Attribute) and _names_in(node.func) & env.keys():
            owner = self._read(node.func.value, env, function)
            kind = owner.kind if isinstance(owner, t.Sign) else None
            found = getattr(kind, node.func.attr, None)
            takes["self"] = owner
        else:
            found = self._outside(node.func, function)
        bare = inspect.unwrap(found) if callable(found) else None
        if bare is None or not str(bare.__module__).startswith("fotonomy.core"):
            raise UnreadableError(ast.unparse(node))
        free = [one for one in parameters_of(bare) if one not in takes]
        for name, given in zip(free, node.args, strict=False):
            takes[name] = self._read(given, env, function)
        for one in node.keywords:
            assert one.arg
            takes[one.arg] = self._read(one.value, env, function)
        return bare, takes


# What is looked up, by the core's own names, and what that is.
LOOKED_UP = {
    "exact": "a rate as it is exactly: 23.976, 29.97 and 59.94 are 24000, 30000 and 60000 over "
             "1001",
    "Av": "stops that an iris takes against f/1: 2·log₂ of the f-number, at a marked one of the "
          "exact third that it stands for",
    "curve": "the profile's curve: from linear light to the share that is recorded",
    "E_sky": "light of a clear sky by the sun's height, from a table of the handbook",
    "E_moon": "light of the moon by its height and phase, likewise",
}  # fmt: skip
_CALLED = {
    "aperture_stops": "Av", "encode": "curve", "clear_sky_lx": "E_sky", "moon_lx": "E_moon",
}  # fmt: skip


def called_of(function: Function) -> str:
    """What something that is looked up is called in a formula. UnreadableError for what is not."""
    if function.__name__ not in _CALLED:
        raise UnreadableError(f"{function.__qualname__} is looked up")
    return _CALLED[function.__name__]


def _choice(first: t.Node, condition: t.Node, second: t.Node) -> t.Node:
    """A choice of two; one after the other makes one of several."""
    if not isinstance(second, t.Choice):
        return t.Choice(((first, condition),), second)
    cases = ((first, condition), *second.cases)
    of = {when.left if isinstance(when, t.Named) else None for _, when in cases}
    if len(of) == 1 and None not in of:
        # Only one of several words holds: what is the same in the end need not be named.
        cases = tuple(case for case in cases if case[0] != second.otherwise)
    return t.Choice(cases, second.otherwise) if cases else second.otherwise


def _binary(sign: str, left: t.Node, right: t.Node) -> t.Node:
    """Two numbers together; adding nothing, or taking once, is left away."""
    none, one = (right == t.Number(of) for of in (0, 1))
    if (none and sign in (t.ADDED, t.TAKEN)) or (one and sign in (t.TIMES, t.OVER)):
        return left
    if sign == t.TIMES and left == t.Number(1):
        return right
    if isinstance(right, t.Minus) and sign in (t.ADDED, t.TAKEN):
        return t.Binary(t.TAKEN if sign == t.ADDED else t.ADDED, left, right.of)
    return t.Binary(sign, left, right)


def _power(base: t.Node, exponent: t.Node) -> t.Node:
    if isinstance(exponent, t.Number) and exponent.value == 0.5:
        return t.Applied("sqrt", (base,))
    return t.Power(base, exponent)


@cache
def _defaults_of(function: Function) -> dict[str, t.Node]:
    """What parameters are where nothing is given."""
    found: dict[str, t.Node] = {}
    for name, one in inspect.signature(function).parameters.items():
        match one.default:
            case None:
                found[name] = t.Nothing()
            case bool() | str() | Enum() as value:
                found[name] = t.Word(_word_of(value), value)
            case int() | float() as value:
                found[name] = t.Number(value)
    return found


def _word_of(value: Any) -> str:
    return str(value.value if isinstance(value, Enum) else value).replace("_", " ")


def _names_in(node: ast.expr) -> set[str]:
    return {one.id for one in ast.walk(node) if isinstance(one, ast.Name)}
