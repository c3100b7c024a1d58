"""Numbers that know what they are, so that what is written of them leads to their working.

A page asks for the numbers of a plan by name. Every number of the plan then carries the address of
its working, ``format_*`` writes it between three marks of Unicode's private area, and the page
turns the marks into something that can be pressed. Nobody else sees a mark: files, papers and
the core itself work with plain numbers.
"""

import re
from collections.abc import Callable
from dataclasses import dataclass, fields, is_dataclass
from functools import cache, wraps
from typing import Any, Self, TypeVar

# Opens a mark, ends the address in it, closes it. Private use: no text a person types has them.
OPEN, MIDDLE, CLOSE = "\ue000", "\ue001", "\ue002"
MARKED = re.compile(f"{OPEN}([^{MIDDLE}]*){MIDDLE}([^{CLOSE}]*){CLOSE}")
_ANY = re.compile(f"{OPEN}[^{MIDDLE}{OPEN}]*{MIDDLE}|[{OPEN}{MIDDLE}{CLOSE}]")


def marked(text: str, address: str) -> str:
    """A text that leads to the working at an address; a text that is marked already stays."""
    return text if OPEN in text else f"{OPEN}{address}{MIDDLE}{text}{CLOSE}"


def plain(text: str) -> str:
    """A text without its marks."""
    return _ANY.sub("", text) if OPEN in text or CLOSE in text else text


class Named(float):
    """A float with the address of its working. What is worked out of it is a plain float again."""

    __slots__ = ("address",)
    address: str

    def __new__(cls, value: float, address: str) -> Self:
        """The number, and where its working is."""
        made = super().__new__(cls, value)
        made.address = address
        return made

    def __abs__(self) -> "Named":
        return Named(float.__abs__(self), self.address)

    def __neg__(self) -> "Named":
        return Named(float.__neg__(self), self.address)

    def __reduce__(self) -> tuple[type[float], tuple[float]]:
        return float, (float(self),)


class NamedCount(int):
    """A whole number with the address of its working; in a text it marks itself."""

    address: str

    def __new__(cls, value: int, address: str) -> Self:
        """The number, and where its working is."""
        made = super().__new__(cls, value)
        made.address = address
        return made

    def __str__(self) -> str:
        return marked(int.__repr__(self), self.address)

    def __format__(self, spec: str) -> str:
        return marked(int.__format__(self, spec), self.address)

    def __reduce__(self) -> tuple[type[int], tuple[int]]:
        return int, (int(self),)


Writer = TypeVar("Writer", bound=Callable[..., str])


def marks(write: Writer) -> Writer:
    """A function that writes a number, or a number first, and marks what it writes of a named."""

    @wraps(write)
    def writes(value: Any, *more: Any, **named: Any) -> str:
        if isinstance(value, Named | NamedCount):
            bare = float(value) if isinstance(value, Named) else int(value)
            return marked(write(bare, *more, **named), value.address)
        return write(value, *more, **named)

    return writes  # type: ignore[return-value]


@dataclass(frozen=True, slots=True)
class Names:
    """Where the workings of one plan are: an address before and after a number's own name.

    ``also`` is added behind, such as the changes a plan that is offered would make.
    """

    before: str
    after: str = ""

    def of(self, name: str) -> str:
        """The address of a working."""
        return f"{self.before}{name}{self.after}"

    def many(self, tile: str) -> str:
        """The address of all workings of a tile."""
        address = self.of("all")
        return f"{address}{'&' if '?' in address else '?'}tile={tile}"

    def mark(self, name: str, text: str) -> str:
        """A text that leads to the working of a name."""
        return marked(text, self.of(name))


def keyed(parts: tuple[Any, ...]) -> tuple[str, ...]:
    """What each of several parts is called: its ``key`` where it is the first, or its place."""
    found: list[str] = []
    for k, part in enumerate(parts):
        key = getattr(part, "key", None)
        found.append(key if isinstance(key, str) and key not in found else str(k))
    return tuple(found)


def part_of(parts: tuple[Any, ...], key: str) -> Any:
    """The part of this key or in this place; None where there is none."""
    if key.isdigit():
        return parts[int(key)] if len(key) < 6 and int(key) < len(parts) else None
    return next((one for one in parts if getattr(one, "key", None) == key), None)


def _named_property(worked_out: Callable[[Any], Any], name: str) -> property:
    def value(self: Any) -> Any:
        found = worked_out(self)
        names, path = self.names_, self.path_
        if names is None or not isinstance(found, float) or isinstance(found, Named):
            return found
        return Named(found, names.of(f"{path}.{name}"))

    return property(value)


@cache
def _naming(sort: Any) -> Any:
    """A class of results whose properties name what they give, as its fields do."""
    own = {
        name: _named_property(one.fget, name)
        for name in dir(sort)
        if isinstance(one := getattr(sort, name), property) and one.fget is not None
    }
    return type(sort.__name__, (sort,), {**own, "names_": None, "path_": ""})


def with_names(record: Any, names: Names, path: str, inside: Callable[[Any], bool]) -> Any:
    """A record of results with every number in it named by its path.

    ``inside`` says which records are results: others (gear, the setup itself) stay as they are.
    Parts of a tuple are named by their ``key`` if they have one, else by their place.
    """
    if isinstance(record, bool | str | Named | NamedCount) or record is None:
        return record
    if isinstance(record, float):
        return Named(record, names.of(path))
    if type(record) is int:
        return NamedCount(record, names.of(path))
    if type(record) is tuple:
        if record and is_dataclass(record[0]) and not inside(record[0]):
            return record
        return tuple(
            with_names(part, names, f"{path}.{key}", inside)
            for key, part in zip(keyed(record), record, strict=True)
        )
    if not is_dataclass(record) or not inside(record):
        return record
    sort: Any = type(record)
    made = object.__new__(_naming(sort))
    for one in fields(record):
        value = getattr(record, one.name)
        inner = f"{path}.{one.name}" if path else one.name
        object.__setattr__(made, one.name, with_names(value, names, inner, inside))
    object.__setattr__(made, "names_", names)
    object.__setattr__(made, "path_", path)
    return made


def same_working(value: float, of: float) -> float:
    """A number written otherwise, with the working of the one it stands for, where that has one."""
    return Named(value, of.address) if isinstance(of, Named) else value
