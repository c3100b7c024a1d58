"""What a plan's numbers are: each with its formula, its unit, its source and how sure it is."""

import re
from collections.abc import Callable
from dataclasses import dataclass, field
from functools import lru_cache
from typing import Any

from fotonomy.core.analysis.setup import Analysis
from fotonomy.core.errors import RuleError
from fotonomy.core.spec.setup import Setup
from fotonomy.core.traced_numbers import part_of
from fotonomy.core.working.reading_code import parameters_of
from fotonomy.core.working.sources import SOURCES, Source

Function = Callable[..., Any]
Chooser = Callable[[Analysis, str], Function | None]


@dataclass(frozen=True, slots=True)
class Quantity:
    """One number of a plan, or of each of several parts (``*`` stands for the part).

    ``name`` is where it stands among the plan's numbers. ``formula`` is the function of the core
    that computes it, or ``choose`` picks one of several ``forms`` by the plan; without either it
    is given and not worked out.
    ``given`` says where each of its parameters stands, as far as that is not told by its name:
    beside the number, or in the setup. ``part`` picks one of several results. ``says`` is one
    sentence, ``sure`` what it is worth and leaves out, ``tile`` where it shows.
    """

    name: str
    symbol: str
    unit: str
    says: str
    source: str
    formula: Function | None = None
    given: dict[str, str] = field(default_factory=dict)
    choose: Chooser | None = None
    forms: tuple[Function, ...] = ()
    part: int | None = None
    sure: str = ""
    tile: str = ""

    @property
    def origin(self) -> Source:
        """Where the formula comes from."""
        return SOURCES[self.source]

    def function(self, analysis: Analysis, name: str) -> Function | None:
        """The function that computed it in this plan."""
        return self.formula if self.choose is None else self.choose(analysis, name)


def table(
    tile: str, *, rows: tuple[tuple[Any, ...], ...], given: dict[str, str] | None = None
) -> tuple[Quantity, ...]:
    """Quantities from rows: name, symbol, unit, sentence, source, and what more there is to say.

    Where ``tile`` is empty it stands before that. ``given`` holds for every row that has none.
    """
    made = []
    for *row, more in rows:
        if tile:
            row = [*row, tile]
        *front, where = row
        said = {"given": given or {}, "tile": where, **more}
        made.append(Quantity(*front, **said))
    return tuple(made)


def of_property(worked_out: Any) -> Function:
    """The function of a property."""
    function: Function = worked_out.fget
    return function


class NoSuchNumberError(RuleError):
    """A name that no number of the plan has."""

    def __init__(self, name: str) -> None:
        super().__init__("name", "is no number of this plan", name)


# Where parameters of formulas stand that are called otherwise than in the setup.
USUAL = {
    "f_number": "setup.iris", "field_m": "motion.field_width_m", "c_mm": "focus.circle_mm",
    "m": "setup.imaging.magnification", "capture_fps": "setup.frame_rate",
    "s_m": "setup.imaging.front_m", "body": "setup.body", "analysis": "",
    "density": "setup.nd_density", "width_px": "setup.delivered_px",
    "profile": "setup.recorded_profile", "setup": "setup",
}  # fmt: skip


# Asked for without a distance: at the subject's own.
_AT_SUBJECT = ("field_width_m", "field_height_m")


def look_up(analysis: Analysis, name: str, known: dict[str, Any] | None = None) -> Any:
    """The value that stands at a name; None where a part of the way is missing.

    ``known`` keeps what was found on the way, for those who ask for many. Raises
    NoSuchNumberError for a way that nobody could go.
    """
    if not name:
        return analysis
    if known is not None and name in known:
        return known[name]
    before, _, last = name.rpartition(".")
    found = _step(look_up(analysis, before, known), last, name)
    if known is not None:
        known[name] = found
    return found


def _step(record: Any, part: str, name: str) -> Any:
    if record is None:
        return None
    if isinstance(record, tuple):
        return part_of(record, part)
    if part.startswith("_") or not hasattr(record, part):
        raise NoSuchNumberError(name)
    found = getattr(record, part)
    if not callable(found):
        return found
    if part not in _AT_SUBJECT:
        raise NoSuchNumberError(name)
    return found()


def inputs_of(
    quantity: Quantity, analysis: Analysis, name: str, function: Function
) -> dict[str, str]:
    """Where each parameter of a formula stands among the numbers of a plan.

    What is said in ``given`` first, then what stands beside the number under the same name, then
    what the setup calls so.
    """
    key = (quantity.name, name, function)
    if key not in _PLACES:
        _PLACES[key] = _places(quantity, analysis, name, function)
    return _PLACES[key]


# Where parameters stand is the same in every plan of a kind: looked for once.
_PLACES: dict[tuple[str, str, Function], dict[str, str]] = {}


def _places(
    quantity: Quantity, analysis: Analysis, name: str, function: Function
) -> dict[str, str]:
    stars = _stars(quantity.name, name)
    beside = name.rpartition(".")[0]
    record = None if beside.startswith("derived") else look_up(analysis, beside)
    found = {}
    for parameter in parameters_of(function):
        if parameter in quantity.given:
            found[parameter] = _with_stars(quantity.given[parameter], stars)
        elif parameter == "self":
            found[parameter] = beside
        elif beside and hasattr(record, parameter):
            found[parameter] = f"{beside}.{parameter}"
        elif parameter in USUAL:
            found[parameter] = USUAL[parameter]
        elif hasattr(Setup, parameter) or parameter in Setup.__dataclass_fields__:
            found[parameter] = f"setup.{parameter}"
    return found


@lru_cache(maxsize=1024)
def pattern_of(name: str) -> re.Pattern[str]:
    """The names that a quantity's own stands for."""
    return re.compile(re.escape(name).replace(r"\*", r"([^.]+)") + r"\Z")


def _stars(pattern: str, name: str) -> list[str]:
    found = pattern_of(pattern).match(name)
    return list(found.groups()) if found else []


def _with_stars(path: str, stars: list[str]) -> str:
    for star in stars:
        path = path.replace("*", star, 1)
    return path
