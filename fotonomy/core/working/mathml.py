"""A formula as MathML, for pages: fractions, roots and cases as they are set in print."""

from xml.etree import ElementTree as Xml

from fotonomy.core.working import tree as t
from fotonomy.core.working.notation import (
    ATOM,
    IN_SIGNS,
    LOOSE,
    NOTHING,
    POWER,
    PRODUCT,
    SAME_ANGLE,
    SUM,
    WRITTEN,
)
from fotonomy.core.working.symbols import constant_text, lowered_back

# What stands before and after what a function is of.
_FENCES = {"abs": ("|", "|"), "floor": ("⌊", "⌋"), "ceil": ("⌈", "⌉")}


def equation(symbol: str, tree: t.Node) -> str:
    """A line of a formula as a ``math`` element: the sign and what it stands for."""
    root = Xml.Element("math", {"displaystyle": "true"})
    row = Xml.SubElement(root, "mrow")
    row.extend([_sign(symbol), _leaf("mo", "="), _set(tree)[0]])
    return Xml.tostring(root, encoding="unicode")


def _leaf(tag: str, text: str) -> Xml.Element:
    found = Xml.Element(tag)
    found.text = text
    return found


def _row(*parts: Xml.Element) -> Xml.Element:
    found = Xml.Element("mrow")
    found.extend(parts)
    return found


def _over(tag: str, first: Xml.Element, second: Xml.Element) -> Xml.Element:
    found = Xml.Element(tag)
    found.extend([first, second])
    return found


def _sign(symbol: str) -> Xml.Element:
    """A letter as a variable, a word upright; what follows ``_`` stands low."""
    base, _, low = symbol.partition("_")
    base, low = (base, low) if low else lowered_back(base)
    name = _leaf("mi", base)
    return _over("msub", name, _leaf("mtext", low)) if low else name


def _fenced(before: str, part: Xml.Element, after: str) -> Xml.Element:
    """Something between brackets, as high as it is: those about a line of letters do not grow."""
    grows = any(one.tag in ("mfrac", "mtable", "msqrt") for one in part.iter())
    fences = [_leaf("mo", one) for one in (before, after)]
    for one in fences:
        one.set("stretchy", "true" if grows else "false")
    return _row(fences[0], part, fences[1])


def _bracketed(part: Xml.Element) -> Xml.Element:
    return _fenced("(", part, ")")


def _within(node: t.Node, binds: int) -> Xml.Element:
    part, own = _set(node)
    return part if own >= binds else _bracketed(part)


def _set(node: t.Node) -> tuple[Xml.Element, int]:
    match node:
        case t.Number(value, unit, name):
            number, _, of = constant_text(value, unit, name).partition(" ")
            found = _leaf("mn", number)
            if not of:
                return found, ATOM
            return _row(found, _leaf("mtext", f"\N{NO-BREAK SPACE}{of}")), PRODUCT
        case t.Sign(_, symbol):
            return _sign(symbol), ATOM
        case t.Nothing():
            return _leaf("mtext", NOTHING), ATOM
        case t.Minus(of):
            return _row(_leaf("mo", "−"), _within(of, PRODUCT)), SUM
        case t.Binary(t.OVER, left, right):
            return _fraction(left, right), PRODUCT
        case t.Binary(sign, left, right):
            return _binary(sign, left, right)
        case t.Power(base, exponent):
            return _over("msup", _within(base, ATOM), _set(exponent)[0]), POWER
        case t.Applied(name, of) if name in SAME_ANGLE:
            return _set(of[0])
        case t.Applied(name, of):
            return _applied(name, of)
        case t.Total(entries, _):
            return _row(_leaf("mo", "∑"), _sign(entries.symbol)), PRODUCT
        case t.Choice(cases, otherwise):
            return _cases(cases, otherwise), LOOSE
    return _leaf("mtext", IN_SIGNS.of(node)), LOOSE


def _fraction(left: t.Node, right: t.Node) -> Xml.Element:
    """A fraction; one over another becomes a fraction over both."""
    if isinstance(left, t.Binary) and left.sign == t.OVER:
        return _fraction(left.left, t.Binary(t.TIMES, left.right, right))
    return _over("mfrac", _set(left)[0], _set(right)[0])


def _binary(sign: str, left: t.Node, right: t.Node) -> tuple[Xml.Element, int]:
    binds = SUM if sign in (t.ADDED, t.TAKEN) else PRODUCT
    closes = sign == t.TAKEN or sign in (t.WHOLE, t.REST)
    spaced = f"\N{NO-BREAK SPACE}{sign}\N{NO-BREAK SPACE}" if sign in (t.WHOLE, t.REST) else sign
    first = _set(left)[0] if isinstance(left, t.Minus) else _within(left, binds)
    return _row(first, _leaf("mo", spaced), _within(right, binds + closes)), binds


def _applied(name: str, of: tuple[t.Node, ...]) -> tuple[Xml.Element, int]:
    inner = [_within(one, SUM) for one in of]
    if name == "sqrt":
        found = Xml.Element("msqrt")
        found.extend(inner)
        return found, ATOM
    if name == "exp":
        return _over("msup", _leaf("mi", "e"), inner[0]), POWER
    if name in _FENCES:
        before, after = _FENCES[name]
        return _fenced(before, inner[0], after), ATOM
    with_commas = [inner[0]]
    for one in inner[1:]:
        with_commas += [_leaf("mo", ","), one]
    called = WRITTEN.get(name, name).partition("(")[0]
    return _row(_sign(called), _bracketed(_row(*with_commas))), ATOM


def _cases(cases: tuple[tuple[t.Node, t.Node], ...], otherwise: t.Node) -> Xml.Element:
    """A choice as a table behind a brace: what it is, and when."""
    table = Xml.Element("mtable", {"columnalign": "left left"})
    rows = [(one, f"if {IN_SIGNS.of(when)}") for one, when in cases]
    for one, when in (*rows, (otherwise, "otherwise")):
        row = Xml.SubElement(table, "mtr")
        for part in (_set(one)[0], _leaf("mtext", when)):
            Xml.SubElement(row, "mtd").append(part)
    return _row(_leaf("mo", "{"), table)
