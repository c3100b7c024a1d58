"""Printed formulas read again and worked out, with their units.

What stands on paper is cut into words and handed to Python's own grammar, whose precedence is that
of arithmetic; pint carries the units. Neither knows anything of the trees it was printed from.
"""

import math
import re
from collections.abc import Callable, Iterator, Mapping
from functools import cache
from typing import Any

import pint

registry = pint.UnitRegistry()
Q = registry.Quantity
# Degrees of an air's temperature are differences from 0 °C.
for unit in (
    "degreeair = [air]", "byteof = [data]", "MBof = 1e6 * byteof", "GBof = 1000 * MBof",
    "Mbof = MBof / 8", "miredof = 1e-6 / kelvin", "percentof = 0.01",
):  # fmt: skip
    registry.define(unit)
# Units as they are printed, as pint knows them; counts, shares, stops and EV are plain numbers.
AS_PINT = {
    "°": "degree", "°/s": "degree / second", "°C": "degreeair", "per °C": "1 / degreeair",
    "Hz": "1 / second", "fps": "1 / second", "µm": "micrometer", "MB": "MBof", "GB": "GBof", "%": "percentof", "s·mm": "second * millimeter",
    "s·mm/µm": "second * millimeter / micrometer", "mm/s": "millimeter / second",
    "m/°": "meter / degree",
    "MB/s": "MBof / second", "Mb/s": "Mbof / second",
    "Wh": "watt * hour", "W": "watt", "K": "kelvin", "mired": "miredof", "clock": "minute",
    "min": "minute", "lx": "lux", "lx·s": "lux * second", "cd/m²": "candela / meter ** 2",
    "cd·s/m²": "candela * second / meter ** 2", "m/s": "meter / second", "ms": "millisecond",
    "rad/s": "radian / second", "s": "second", "m": "meter", "mm": "millimeter",
}  # fmt: skip
PLAIN = {"", "stops", "EV", "px", "CC", "e⁻", "frames"}
CALLS = {
    "log₂": lambda x: math.log2(bare(x)), "ln": lambda x: math.log(plain(x)),
    "√": lambda x: x**0.5, "min": lambda *x: ends(min, x), "max": lambda *x: ends(max, x),
    "sin": lambda x: math.sin(plain(x)), "cos": lambda x: math.cos(plain(x)),
    "tan": lambda x: math.tan(plain(x)), "atan": lambda x: Q(math.atan(plain(x)), "radian"),
    "round": lambda x: round(plain(x)), "e": lambda x: math.exp(plain(x)),
}  # fmt: skip
RAISED = str.maketrans("⁰¹²³⁴⁵⁶⁷⁸⁹⁻", "0123456789-")
RESERVED = "if|else|and|or|is|not|known|holds|does|hold|mod|div|none|no end"
TOKEN = re.compile(
    r"(?P<number>10[⁻⁰-⁹¹²³]+|\d+(?:\.\d+)?(?:·10[⁻⁰-⁹¹²³]+)?)(?P<unit>°C|°/s|°| (?:UNITS)(?![\w/·]))?"
    r"|(?P<word>(?:RESERVED)\b)|(?P<raised>[⁰¹²³⁴⁵⁶⁷⁸⁹]+)|(?P<power>\^)"
    r"|(?P<name>√|π|Σ|[^\W\d][^\W⁰¹²³⁴⁵⁶⁷⁸⁹]*(?: (?!(?:RESERVED)\b)[^\W⁰¹²³⁴⁵⁶⁷⁸⁹]+)*)"
    r"|(?P<sign>[-−+·/()|⌊⌋⌈⌉,<>≤≥=≠])|(?P<space> +)"
    .replace("UNITS", "|".join(sorted(map(re.escape, {*AS_PINT, *PLAIN} - {""}), key=len)[::-1]))
    .replace("RESERVED", RESERVED)
)  # fmt: skip
SAME = {"−": "-", "·": "*", "=": "==", "≠": "!=", "≤": "<=", "≥": ">=", "⌊": "floor(",
        "⌋": ")", "⌈": "ceil(", "⌉": ")", "mod": "%", "div": "//"}  # fmt: skip


def unit_of(text: str) -> str:
    """A printed unit as pint knows it. KeyError for one that nobody listed."""
    text = text.strip()
    return "" if text in PLAIN else AS_PINT[text]


def quantity(value: Any, unit: str) -> Any:
    """A value with its printed unit; what is no number stays as it is."""
    if isinstance(value, bool | str | tuple) or value is None:
        return value
    if unit.strip() in PLAIN:
        return float(value)
    return Q(float(value), unit_of(unit))


def plain(value: Any) -> float:
    """A number without a unit. pint.DimensionalityError for one that has one."""
    return float(value.to("").magnitude) if isinstance(value, Q) else float(value)


def bare(value: Any) -> float:
    """How many of the SI's own units: what a logarithm is of, such as of seconds."""
    return float(value.to_base_units().magnitude) if isinstance(value, Q) else float(value)


def whole(of: Callable[[float], int], value: Any) -> Any:
    """A whole number of the SI's own units, such as of seconds."""
    return Q(of(bare(value)), value.to_base_units().units) if isinstance(value, Q) else of(value)


def ends(of: Callable[..., Any], values: tuple[Any, ...]) -> Any:
    """The least or greatest; nothing may be compared with anything."""
    unit = next((one.units for one in values if isinstance(one, Q)), registry.dimensionless)
    alike = [Q(0.0, unit) if plain_zero(one) else Q(one).to(unit) for one in values]
    return of(alike, key=lambda one: one.magnitude)


def plain_zero(value: Any) -> bool:
    """True for nothing without a unit."""
    return bool((value.unitless and value.magnitude == 0) if isinstance(value, Q) else value == 0)


def tokens(text: str) -> Iterator[tuple[str, str]]:
    """The words of a printed formula. ValueError for what no formula has."""
    place = 0
    while place < len(text):
        found = TOKEN.match(text, place)
        if found is None or not found.group():
            raise ValueError(f"{text[place:]!r} in {text!r}")
        place = found.end()
        kind = found.lastgroup if found.lastgroup != "unit" else "number"
        assert kind
        if kind != "space":
            yield kind, found.group()


# What is said of a sign, as Python says it of a value.
SAID = {
    ("is", "known"): " is not None", ("is", "not", "known"): " is None",
    ("does", "not", "hold"): " is False", ("holds",): " is True",
}  # fmt: skip


def said_of_a_sign(words: list[str]) -> tuple[str, int]:
    """What is said of a sign, in Python, and of how many words it was."""
    for phrase, python in SAID.items():
        if tuple(words[: len(phrase)]) == phrase:
            return python, len(phrase)
    differs = words[1] == "not"
    return f" {'!=' if differs else '=='} {words[1 + differs]!r}", 2 + differs


@cache
def as_python(text: str) -> Any:
    """A printed formula as Python's own code: signs are looked up, numbers carry their units."""
    found = list(tokens(text))
    words = [word for _, word in found]
    out: list[str] = []
    absolute = False
    # In each bracket that is open: whether its commas part the cases of a choice.
    chooses = [False]
    place = 0
    while place < len(found):
        kind, word = found[place]
        place += 1
        match kind, word:
            case "number", _:
                out.append(number_in_python(word))
            case "raised", _:
                out.append(f"**{word.translate(RAISED)}")
            case "power", _:
                # "e^(…)" is a function of its own; any other base is raised.
                out[-1:] = ["call('e')"] if out[-1] == "sign('e')" else [out[-1], "**plain"]
            case "word", "is" | "holds" | "does":
                python, length = said_of_a_sign(words[place - 1 :])
                out.append(python)
                place += length - 1
            case "word", "none" | "no end":
                out.append({"none": "None", "no end": "inf"}[word])
            case "word", _:
                chooses[-1] = chooses[-1] or word == "if"
                out.append(f" {SAME.get(word, word)} ")
            case "name", "Σ":
                out.append(f"sum(sign({words[place]!r}))")
                place += 1
            case "name", _:
                called = words[place : place + 1] == ["("]
                out.append(f"{'call' if called else 'sign'}({word!r})")
            case "sign", "|":
                out.append(")" if absolute else "abs(")
                absolute = not absolute
            case "sign", ",":
                last = words[place] == "else"
                out.append("" if last else " else " if chooses[-1] else ", ")
            case _:
                if word == "(":
                    chooses.append(False)
                elif word == ")":
                    chooses.pop()
                out.append(SAME.get(word, word))
    return compile("".join(out), text, "eval")


def number_in_python(word: str) -> str:
    """A printed number with its unit."""
    found = TOKEN.match(word)
    assert found
    number = (
        re.sub(r"^10(?=[⁻⁰¹²³⁴-⁹])", "1e", found["number"]).replace("·10", "e").translate(RAISED)
    )
    return f"number({number}, {(found['unit'] or '').strip()!r})"


def worked_out(text: str, sign: Callable[[str], Any], calls: Mapping[str, Any]) -> Any:
    """A printed formula's value; ``sign`` looks its signs up, ``calls`` what is looked up."""

    def call(name: str) -> Any:
        return calls[name] if name in calls else CALLS[name]

    def of(name: str) -> Any:
        return math.pi if name == "π" else sign(name)

    return eval(as_python(text), {
        "number": quantity, "sign": of, "call": call, "plain": plain, "inf": math.inf, "abs": abs,
        "floor": lambda x: whole(math.floor, x), "ceil": lambda x: whole(math.ceil, x),
    })  # fmt: skip
