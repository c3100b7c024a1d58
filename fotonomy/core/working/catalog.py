"""Every quantity by its name, and the value of each in a plan."""

from functools import cache, lru_cache
from typing import Any

from fotonomy.core.analysis.setup import Analysis
from fotonomy.core.parsing.table import by_name
from fotonomy.core.spec.kind import Kind
from fotonomy.core.working.quantities.focus import FOCUS
from fotonomy.core.working.quantities.light import LIGHT
from fotonomy.core.working.quantities.motion import MOTION
from fotonomy.core.working.quantities.stills import BURST, CLIP, LONG, RUN
from fotonomy.core.working.quantities.tone import LEVEL, NOISE, WHITE
from fotonomy.core.working.quantity import (
    NoSuchNumberError,
    Quantity,
    inputs_of,
    look_up,
    pattern_of,
)
from fotonomy.core.working.symbols import symbol_of, unit_of, words_of

COMMON = (*LIGHT, *MOTION, *FOCUS, *LEVEL, *NOISE, *WHITE, *CLIP)
OF_KIND = {Kind.INTERVAL: RUN, Kind.BURST: BURST, Kind.LONG_EXPOSURE: LONG}
# What setups and gear hold: given, and not worked out.
_GEAR = ("setup.body.", "setup.lens.", "setup.profile.", "setup.format.", "setup.recorded_profile.")


@cache
def quantities_of(kind: Kind) -> tuple[Quantity, ...]:
    """Every quantity that a plan of a kind has."""
    return (*COMMON, *OF_KIND.get(kind, ()))


@lru_cache(maxsize=4096)
def quantity_of(kind: Kind, name: str) -> Quantity:
    """The quantity of a name: one of the catalogue, or what is given in setup and gear.

    Raises NoSuchNumberError for a name that is neither.
    """
    found = catalogued(kind, name)
    if found is not None:
        return found
    if not name.startswith("setup."):
        raise NoSuchNumberError(name)
    return _given(name)


@lru_cache(maxsize=4096)
def catalogued(kind: Kind, name: str) -> Quantity | None:
    """The quantity of a name in the catalogue; None where it is none of those."""
    exact = next((one for one in quantities_of(kind) if one.name == name), None)
    if exact is not None:
        return exact
    return next((one for one in quantities_of(kind) if pattern_of(one.name).match(name)), None)


def _given(name: str) -> Quantity:
    """What somebody set, or what the kit says, by its own name."""
    last = name.rsplit(".", 1)[-1]
    row = by_name().get(last)
    gear = name.startswith(_GEAR)
    words = words_of(name)
    if row is not None and not gear:
        says = f"{row.label}, as it is set for this setup."
    else:
        says = f"{words[:1].upper()}{words[1:]}, {'as your kit says' if gear else 'as given'}."
    return Quantity(
        name, symbol_of(name), unit_of(name), says, "gear" if gear else "you",
        sure="Nothing is worked out here." if not gear else "As good as what the maker or you say.",
    )  # fmt: skip


def value_in(analysis: Analysis, name: str, known: dict[str, Any] | None = None) -> Any:
    """What stands at a name in a plan; None where the plan has none.

    ``known`` as in ``look_up``. Raises NoSuchNumberError for a name that no plan has.
    """
    if not name.startswith("derived."):
        return look_up(analysis, name, known)
    if known is not None and name in known:
        return known[name]
    found = worked_value(analysis, name, known)
    if known is not None:
        known[name] = found
    return found


def worked_value(analysis: Analysis, name: str, known: dict[str, Any] | None = None) -> Any:
    """A number worked out anew by its formula; what the plan holds where it has none.

    Raises NoSuchNumberError for a name that no plan has.
    """
    quantity = quantity_of(analysis.setup.kind, name)
    function = quantity.function(analysis, name)
    if function is None:
        if name.startswith("derived."):
            raise NoSuchNumberError(name)
        return look_up(analysis, name, known)
    paths = inputs_of(quantity, analysis, name, function)
    found = function(**{key: value_in(analysis, path, known) for key, path in paths.items()})
    return found if quantity.part is None else found[quantity.part]
