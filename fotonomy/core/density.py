"""Neutral density: its three names, and the stacks a person's glass can make."""

from dataclasses import dataclass
from functools import lru_cache
from itertools import combinations
from math import isfinite, log2, log10

from fotonomy.core.constants import (
    GLASS_SEARCH_LIMIT,
    STACK_LIMIT,
    VARIABLE_ND_STEP_DENSITY,
)
from fotonomy.core.errors import RuleError
from fotonomy.core.gear import Glass, GlassKind, Lens

_LOG10_2 = log10(2)


def density_to_stops(density: float) -> float:
    """Stops of an optical density (ISO 5-2): ``D/log10 2``; 0.3 is 0.997 stop."""
    return density / _LOG10_2


def stops_to_density(stops: float) -> float:
    """Optical density of a loss in stops: the inverse of density_to_stops."""
    return stops * _LOG10_2


def factor_to_density(factor: float) -> float:
    """Density of a filter named by its factor, ND8 being 0.9.

    Factors name the power of two they are meant for (ND1000 is 2^10, ND8 is 2^3),
    and one stop is written as 0.3: common practice, no source.
    Raises RuleError for a factor under 1.
    """
    if not isfinite(factor) or factor < 1:
        raise RuleError("nd", "an ND factor is 1 or more, such as ND8", factor)
    return round(0.3 * round(log2(factor) * 3) / 3, 2)


def density_to_factor(density: float) -> int:
    """The factor a density goes by: 0.9 is ND8, 1.8 is ND64."""
    return round(2 ** (density / 0.3))


@dataclass(frozen=True, slots=True)
class Stack:
    """Glass that makes one density: the pieces in order of density, and their sum."""

    density: float
    pieces: tuple[str, ...]

    @property
    def stops(self) -> float:
        """Stops this stack takes."""
        return density_to_stops(self.density)


NO_GLASS = Stack(0.0, ())
_LONGEST_STACK = Stack(0.0, ("",) * (STACK_LIMIT + 1))


@lru_cache(maxsize=256)
def stacks(glass: tuple[Glass, ...], lens: Lens) -> tuple[Stack, ...]:
    """Every density the person's ND can make on this lens, lowest first, "none" included.

    Up to three fixed filters, or one variable ND turned in steps of a third; for one
    density the stack with the fewest pieces stands. At most sixteen filters are
    combined (the first ones in order of density), so that the search stays bounded.
    """
    fitting = [piece for piece in glass if piece.fits(lens)]
    fixed = sorted(
        (piece for piece in fitting if piece.kind is GlassKind.ND), key=lambda piece: piece.stops
    )[:GLASS_SEARCH_LIMIT]
    made: dict[float, Stack] = {0.0: NO_GLASS}
    for count in range(1, STACK_LIMIT + 1):
        for pieces in combinations(fixed, count):
            density = round(sum(stops_to_density(piece.stops) for piece in pieces), 2)
            made.setdefault(density, Stack(density, tuple(piece.name for piece in pieces)))
    for piece in fitting:
        if piece.kind is GlassKind.VARIABLE_ND and piece.most_stops is not None:
            low, high = stops_to_density(piece.stops), stops_to_density(piece.most_stops)
            steps = int(round((high - low) / VARIABLE_ND_STEP_DENSITY, 6))
            for k in range(steps + 1):
                density = round(low + k * VARIABLE_ND_STEP_DENSITY, 2)
                if len(made.get(density, _LONGEST_STACK).pieces) > 1:
                    made[density] = Stack(density, (piece.name,))
    return tuple(made[density] for density in sorted(made))
