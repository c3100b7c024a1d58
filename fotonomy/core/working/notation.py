"""A formula as text: in signs, or with numbers, with brackets where they are needed.

What is written can be read again: the tests do, and work it out.
"""

from collections.abc import Mapping
from typing import Any

from fotonomy.core.working import tree as t
from fotonomy.core.working.symbols import constant_text, number_text, raised

# Binding strength of what is written: what binds less than its surroundings gets brackets.
LOOSE, SUM, PRODUCT, POWER, ATOM = range(5)
_STRENGTH = {t.ADDED: SUM, t.TAKEN: SUM}
# How functions of mathematics are written; "{}" is what they are of.
WRITTEN = {
    "log2": "log₂({})", "log10": "log₁₀({})", "log": "ln({})", "exp": "e^({})", "sqrt": "√({})",
    "abs": "|{}|", "floor": "⌊{}⌋", "ceil": "⌈{}⌉",
}  # fmt: skip
# An angle is the same in degrees and in radians: its unit says which it is.
SAME_ANGLE = ("degrees", "radians")
NOTHING = "none"


class Text:
    """Writes trees: in signs, or with the values that are given by the codes of the signs."""

    def __init__(self, given: Mapping[str, Any] | None = None) -> None:
        self.given = given

    def of(self, node: t.Node) -> str:
        """The whole of a tree."""
        return self._written(node)[0]

    def within(self, node: t.Node, binds: int) -> str:
        """A part, in brackets where it binds less than what is about it."""
        text, own = self._written(node)
        return text if own >= binds else f"({text})"

    def _written(self, node: t.Node) -> tuple[str, int]:
        match node:
            case t.Number(value, unit, name):
                return constant_text(value, unit, name), _held(unit)
            case t.Sign():
                return self._sign(node)
            case t.Word(text):
                return text, ATOM
            case t.Nothing():
                return NOTHING, ATOM
            case t.Minus(of):
                return self._minus(of)
            case t.Binary(sign, left, right):
                return self._binary(sign, left, right)
            case t.Power(base, exponent):
                power = self.of(exponent)
                power = raised(power if power.isdigit() else f"({power})")
                return f"{self.within(base, ATOM)}{power}", POWER
            case t.Applied(name, of) if name in SAME_ANGLE:
                return self._written(of[0])
            case t.Applied(name, of):
                parts = ", ".join(self.within(one, SUM) for one in of)
                return WRITTEN.get(name, f"{name}({{}})").format(parts), ATOM
            case t.Total(entries, number):
                return self._total(entries, number)
            case t.Choice(cases, otherwise):
                said = [f"{self.within(one, SUM)} if {self.of(when)}" for one, when in cases]
                return ", ".join([*said, f"else {self.within(otherwise, SUM)}"]), LOOSE
        return self._condition(node), LOOSE

    def _sign(self, sign: t.Sign) -> tuple[str, int]:
        if self.given is None:
            return sign.symbol, ATOM
        text = number_text(self.given[sign.code], sign.unit)
        return text, SUM if text.startswith("−") else _held(sign.unit)

    def _minus(self, of: t.Node) -> tuple[str, int]:
        text = self.within(of, PRODUCT)
        return (text[1:], PRODUCT) if text.startswith("−") else (f"−{text}", SUM)

    def _binary(self, sign: str, left: t.Node, right: t.Node) -> tuple[str, int]:
        binds = _STRENGTH.get(sign, PRODUCT)
        first = self.within(left, binds)
        if isinstance(left, t.Minus):
            # At the very front a minus needs no brackets; the whole then binds like a sum.
            first, binds_as = self.of(left), SUM
        else:
            binds_as = binds
        # What is taken away or divided by keeps its brackets, and a quotient of whole numbers.
        closes = sign not in (t.ADDED, t.TIMES) or (
            isinstance(right, t.Binary) and right.sign in (t.WHOLE, t.REST)
        )  # fmt: skip
        second, own = self._written(right)
        negative = isinstance(right, t.Sign) and second.startswith("−")
        if negative and sign in (t.ADDED, t.TAKEN):
            # A value under zero that is added is taken away.
            return f"{first} {t.TAKEN if sign == t.ADDED else t.ADDED} {second[1:]}", binds_as
        if own < binds + closes or (own == binds == SUM and second.startswith("−")):
            second = f"({second})"
        return f"{first} {sign} {second}", binds_as

    def _total(self, entries: t.Sign, number: str) -> tuple[str, int]:
        if self.given is None:
            return f"Σ {entries.symbol}", ATOM
        values = [number_text(getattr(one, number)) for one in self.given[entries.code]]
        return " + ".join(values).replace("+ −", "− ") or "0", SUM

    def _condition(self, node: t.Node) -> str:
        match node:
            case t.Compared(sign, left, right):
                return f"{self.within(left, SUM)} {sign} {self.within(right, SUM)}"
            case t.Named(left, word):
                return f"{self.of(left)} is {word.text}"
            case t.Not(t.Named(left, word)):
                return f"{self.of(left)} is not {word.text}"
            case t.Given(of):
                return f"{self.of(of)} is known"
            case t.Not(t.Given(of)):
                return f"{self.of(of)} is not known"
            case t.Holds(of):
                return f"{self.of(of)} holds"
            case t.Not(t.Holds(of)):
                return f"{self.of(of)} does not hold"
            case t.Several(word, parts):
                return f" {word} ".join(self.of(one) for one in parts)
        raise TypeError(f"{node} is no part of a formula")


def _held(unit: str) -> int:
    """How firmly a number and its unit hold together: a power takes brackets about both."""
    if not unit:
        return ATOM
    return PRODUCT if set("·/") & set(unit) else POWER


IN_SIGNS = Text()
