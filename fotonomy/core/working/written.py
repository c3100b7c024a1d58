"""Workings and formulas as text: for the command line, and for docs/formulas.md."""

import inspect
from collections.abc import Iterator

from fotonomy.core.spec.kind import Kind
from fotonomy.core.working.catalog import COMMON, OF_KIND
from fotonomy.core.working.explain import Working
from fotonomy.core.working.in_signs import (
    functions_of,
    lines_in_signs,
    place_of,
    units_in,
)
from fotonomy.core.working.notation import IN_SIGNS
from fotonomy.core.working.quantity import Function, Quantity
from fotonomy.core.working.reading_code import LOOKED_UP, parameters_of
from fotonomy.core.working.sources import SOURCES
from fotonomy.core.working.standalone.working import TOPICS, topic_of
from fotonomy.core.working.symbols import LETTERS, number_text

_HEAD = """# Formulas

Made by `python -m fotonomy formulas`, from the code that computes. Every number of a plan has its
working on the page that shows it: press it, or focus it and press `=`. A plan file names the
formula and the source of each of its numbers by the ids used here.

Where a formula depends on the kind of setup or on what was metered, all its forms are shown.

A sign stands for a value with its unit, so that nothing turns one unit into another: 1.4 m/s for
0.02 s over 2.25 m is 1.24 %. Angles are angles: `sin(heading)` of 90° is one. A logarithm is of
the number of seconds, or of the SI's own unit of what stands in it. `mod` is the rest of a
division, `⌊ ⌋` and `⌈ ⌉` the next whole number below and above. What follows `_` is set low.
The tests read every formula on this page again and work it out, with its units.

| looked up | what it is |
|---|---|
{looked_up}

| sign | in | stands for |
|---|---|---|
{signs}
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
    parts = [_HEAD.format(
        looked_up="\n".join(f"| `{name}` | {what} |" for name, what in LOOKED_UP.items()),
        signs="\n".join(
            f"| `{sign}` | {unit or 'no unit'} | {what} |" for sign, (unit, what) in LETTERS.items()
        ),
    )]  # fmt: skip
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
        written = formula_lines(quantity, function)
        if not written:
            continue
        lines.append(f"\n`{formula_id(function)}`\n\n```\n")
        lines += [f"{line}\n" for line in written]
        lines.append("```\n")
        if units := units_in(quantity, function):
            lines.append(f"\n{', '.join(f'{sign} in {unit}' for sign, unit in units)}.\n")
    return "".join(lines)


def goes_into(quantity: Quantity) -> list[str]:
    """The numbers whose formulas take this one, as far as their parameters say."""
    _, of_kind = _kind_of(quantity)
    found: list[str] = []
    for other in of_kind:
        for function in functions_of(other):
            for parameter in parameters_of(function):
                goes = place_of(other, parameter) == quantity.name
                if goes and other.name not in (quantity.name, *found):
                    found.append(other.name)
    return found


def _kind_of(quantity: Quantity) -> tuple[Kind | None, tuple[Quantity, ...]]:
    """The kind that alone has a quantity, and all that such a plan has."""
    kind = next((kind for kind, found in OF_KIND.items() if quantity in found), None)
    everywhere = tuple(one for found in OF_KIND.values() for one in found)
    return kind, (*COMMON, *(OF_KIND[kind] if kind is not None else everywhere))


def formula_lines(quantity: Quantity, function: Function) -> list[str]:
    """A formula in signs, every way it may go; nothing for what is looked up."""
    return [
        f"{one.sign.symbol} = {IN_SIGNS.of(one.tree)}" for one in lines_in_signs(quantity, function)
    ]
