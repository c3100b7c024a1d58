"""Any answer of the core as lines of text, to be compared with what it was."""

import os
import zlib
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import fields, is_dataclass
from datetime import date, datetime, time
from difflib import unified_diff
from enum import Enum
from fractions import Fraction
from functools import cached_property
from pathlib import Path
from typing import Any

import numpy as np

from fotonomy.core.gear.body import Body
from fotonomy.core.gear.lens import Lens
from fotonomy.core.gear.profile import Profile
from fotonomy.core.sky.light import PlaceLight
from fotonomy.core.sky.track import Sky
from fotonomy.core.spec.setup import Setup

ANSWERS = Path(__file__).parent / "answers"
# What is put in is not written again.
GIVEN = (Setup, Body, Lens, Profile, Sky, PlaceLight)
# Of longer rows the ends are written, and a sum over all of them.
LONGEST = 9
# Of an answer of more lines only the parts are written, the longer of them as a sum.
MOST_LINES, MOST_IN_PART = 24, 8
NOW = Path(__file__).parent.parent / "var" / "answers"


def number(value: float) -> str:
    """Four figures; what is left of a difference of equals, which machines round otherwise, is 0."""
    return f"{value if abs(value) >= 1e-9 else 0.0:.4g}"


def leaf(value: Any) -> str | None:
    """A plain value in words; None for one that has parts."""
    match value:
        case Enum():
            return value.name
        case bool() | None | int() | datetime() | date() | time():
            return str(value)
        case float() | np.floating():
            return number(float(value))
        case np.integer() | np.bool_() | Fraction():
            return f"{float(value):.6g}"
        case str():
            words = value.replace("\n", " / ")
            return words if len(words) <= 120 else \
                f"{words[:90]} … {zlib.crc32(words.encode()):08x}"  # fmt: skip
    if isinstance(value, GIVEN):
        return type(value).__name__
    return None


def parts_of(value: Any) -> Iterator[tuple[str, Any]]:
    """The parts of a value by name: fields and properties, entries, or numbered."""
    if is_dataclass(value):
        names = [field.name for field in fields(value) if not field.name.startswith("_")]
        for base in type(value).__mro__:
            names += [name for name, one in vars(base).items()
                      if isinstance(one, (property, cached_property)) and name[0] != "_"]  # fmt: skip
        for name in dict.fromkeys(names):
            yield name, getattr(value, name, "-")
    elif isinstance(value, Mapping):
        for key in value:
            yield leaf(key) or str(key), value[key]
    elif isinstance(value, (set, frozenset)):
        yield from ((str(k), one) for k, one in enumerate(sorted(value, key=str)))
    elif isinstance(value, Iterable):
        yield from ((str(k), one) for k, one in enumerate(value))
    else:
        yield "is", type(value).__name__


def lines_of(value: Any, path: str = "", depth: int = 0) -> Iterator[str]:
    """Every leaf of a value with its path."""
    if isinstance(value, np.ndarray):
        flat = np.nan_to_num(value.astype(np.float64).ravel())
        shown = [number(float(one)) for one in (flat.min(), flat.mean(), flat.max(), *flat[:3])] \
            if flat.size else []  # fmt: skip
        yield f"{path} = {value.shape} {' '.join(shown)}"
    elif (plain := leaf(value)) is not None:
        yield f"{path} = {plain}"
    elif depth > 6:
        yield f"{path} = …"
    else:
        found = [list(lines_of(one, f"{path}.{name}".lstrip("."), depth + 1))
                 for name, one in parts_of(value)]  # fmt: skip
        if isinstance(value, (tuple, list)) and len(found) > LONGEST:
            every = "\n".join(line for part in found for line in part)
            found = [*found[:2], [f"{path} … {len(found)}: {zlib.crc32(every.encode()):08x}"],
                     *found[-1:]]  # fmt: skip
        for part in found:
            yield from part


def folded(value: Any) -> list[str]:
    """The lines of a value; of a long one its parts, the long ones as a sum over their lines."""
    whole = list(lines_of(value))
    if len(whole) <= MOST_LINES or leaf(value) is not None or isinstance(value, np.ndarray):
        return whole
    short: list[str] = []
    for name, part in parts_of(value):
        lines = list(lines_of(part, name, 1))
        text = "\n".join(lines).encode()
        short += lines if len(lines) <= MOST_IN_PART else \
            [f"{name} … {len(lines)} lines: {zlib.crc32(text):08x}"]  # fmt: skip
    return short


def is_as_before(name: str, answers: Mapping[str, Any]) -> None:
    """Compare answers with the file of this name; with FOTONOMY_RENEW=1 write it instead.

    What is kept is folded; all lines of answers that are others now are put into var/answers, to
    be compared with those that the commit before puts there.
    """
    lines: list[str] = []
    for title, answer in answers.items():
        lines += [f"# {title}", *folded(answer), ""]
    text, file = "\n".join(lines) + "\n", ANSWERS / f"{name}.txt"
    if os.environ.get("FOTONOMY_RENEW"):
        file.write_text(text, "utf-8")
    before = file.read_text("utf-8").splitlines()
    moved = list(unified_diff(before, text.splitlines(), "before", "now", lineterm="", n=1))
    if moved:
        NOW.mkdir(parents=True, exist_ok=True)
        every = (line for title, answer in answers.items()
                 for line in (f"# {title}", *lines_of(answer)))  # fmt: skip
        (NOW / f"{name}.txt").write_text("\n".join(every) + "\n", "utf-8")
    assert not moved, "\n".join(moved[:60])
