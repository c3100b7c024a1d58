"""Neutral density: its three names, and the stacks a person's glass can make."""

from dataclasses import dataclass, replace
from functools import lru_cache
from itertools import combinations
from math import floor, isfinite, log2, log10

from fotonomy.core.errors import RuleError
from fotonomy.core.gear.filters import Filter, FilterKind, Front, Mount

# Neutral density. Common practice, no source.
STACK_LIMIT = 3
GLASS_SEARCH_LIMIT = 24


VARIABLE_ND_STEP_DENSITY = 0.1
LAST_STEP_OFF = 0.2


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
        raise RuleError("nd_density", "an ND factor is 1 or more, such as ND8", factor)
    return round(0.3 * round(log2(factor) * 3) / 3, 2)


# Factors that glass is sold by: powers of two up to 256, then round numbers. Common practice, no
# source. A density within a tenth of a stop of one goes by its name.
SOLD_FACTORS = (
    2, 4, 8, 16, 32, 64, 100, 128, 200, 256, 400, 500, 1000, 2000, 4000, 8000, 10_000, 16_000,
    32_000, 64_000, 100_000, 1_000_000,
)  # fmt: skip
_SAME_NAME_STOPS = 0.1


def density_to_factor(density: float) -> int:
    """The factor a density is sold by: 0.9 is ND8, 1.8 is ND64, 3 is ND1000."""
    stops = density / 0.3
    sold = min(SOLD_FACTORS, key=lambda factor: abs(log2(factor) - stops))
    return sold if abs(log2(sold) - stops) <= _SAME_NAME_STOPS else round(2**stops)


# From this share of its turn a variable ND is near its end. Common practice, no source.
NEAR_END_SHARE = 0.9


@dataclass(frozen=True, slots=True)
class Stack:
    """Glass that makes one density: the pieces in order of density, and their sum.

    ``wheel`` is the density a built-in wheel adds; it is no piece to carry. ``turned`` is how far
    a variable ND in it is turned, 0 to 1 at its end, and ``ring_stops`` the mark it is turned to,
    in stops; None without one.
    """

    density: float
    pieces: tuple[str, ...]
    wheel: float = 0.0
    turned: float | None = None
    ring_stops: float | None = None

    @property
    def stops(self) -> float:
        """Stops this stack takes."""
        return density_to_stops(self.density)

    @property
    def near_end(self) -> bool:
        """True where a variable ND in it is turned nearly to its end."""
        return self.turned is not None and self.turned >= NEAR_END_SHARE

    @property
    def said(self) -> str:
        """The pieces in words: "wheel 0.6 + ND 0.9", "Variable ND at 4.3 stops"."""
        wheel = (f"wheel {self.wheel:g}",) if self.wheel else ()
        if self.ring_stops is None:
            return " + ".join((*wheel, *self.pieces))
        turning, *others = self.pieces
        return " + ".join((*wheel, f"{turning} at {round(self.ring_stops, 1):g} stops", *others))


@dataclass(frozen=True, slots=True)
class Rack:
    """Every stack the glass makes on one lens, lowest first, and how much was not combined."""

    stacks: tuple[Stack, ...]
    left_out: int


NO_GLASS = Stack(0.0, ())


@lru_cache(maxsize=512)
def rack(glass: tuple[Filter, ...], front: Front, wheel: tuple[float, ...] = ()) -> Rack:
    """Every density the person's ND can make on the front of a lens, "none" included.

    Up to three pieces that fit (one clipped in at most), a variable ND turned in steps of
    a third and not combined with another variable, each with every position of the wheel.
    For one density the fewest pieces stand. Of equal filters three are looked at, and at
    most twenty-four in all, spread over the densities owned: the search stays bounded, and
    ``left_out`` counts the rest.
    """
    fitting = [p for p in glass if p.fits(front)]
    fixed, left_out = _kept([p for p in fitting if p.kind is FilterKind.ND])
    made: dict[float, Stack] = {0.0: NO_GLASS}
    for count in range(1, STACK_LIMIT + 1):
        for pieces in combinations(fixed, count):
            if sum(p.mount is Mount.CLIP_ON for p in pieces) <= 1:
                _make(made, round(sum(p.stops for p in pieces) * _LOG10_2, 2), pieces)
    for turning in (p for p in fitting if p.kind is FilterKind.VARIABLE_ND):
        for extra in ((), *((p,) for p in fixed)):
            _turn(made, turning, extra)
    for stack in tuple(made.values()) if wheel else ():
        for density in wheel:
            total = round(stack.density + density, 2)
            have = made.get(total)
            if have is None or len(have.pieces) > len(stack.pieces):
                made[total] = replace(stack, density=total, wheel=density)
    return Rack(tuple(made[density] for density in sorted(made)), left_out)


def stacks(
    glass: tuple[Filter, ...], front: Front, wheel: tuple[float, ...] = ()
) -> tuple[Stack, ...]:
    """The stacks of a rack."""
    return rack(glass, front, wheel).stacks


def _kept(fixed: list[Filter]) -> tuple[list[Filter], int]:
    """At most three of equal filters and twenty-four in all, evenly spread, by density."""
    ordered = sorted(fixed, key=lambda p: (p.stops, p.name))
    seen: dict[tuple[float, bool], int] = {}
    distinct = []
    for piece in ordered:
        key = (round(piece.stops, 3), piece.mount is Mount.CLIP_ON)
        seen[key] = seen.get(key, 0) + 1
        if seen[key] <= STACK_LIMIT:
            distinct.append(piece)
    if len(distinct) > GLASS_SEARCH_LIMIT:
        stride = (len(distinct) - 1) / (GLASS_SEARCH_LIMIT - 1)
        distinct = [distinct[round(k * stride)] for k in range(GLASS_SEARCH_LIMIT)]
    # Three equal ones make every stack that more of them could.
    equal = sum(max(0, count - STACK_LIMIT) for count in seen.values())
    return distinct, len(ordered) - equal - len(distinct)


def _make(
    made: dict[float, Stack], density: float, pieces: tuple[Filter, ...],
    turned: float | None = None, ring_stops: float | None = None,
) -> None:  # fmt: skip
    """Keep a stack where none of fewer pieces makes its density; a variable ND stands first."""
    have = made.get(density)
    if have is None or len(have.pieces) > len(pieces):
        names = tuple(piece.name for piece in pieces)
        made[density] = Stack(density, names, 0.0, turned, ring_stops)


def _turn(made: dict[float, Stack], turning: Filter, extra: tuple[Filter, ...]) -> None:
    if turning.most_stops is None:
        return
    more = sum(stops_to_density(p.stops) for p in extra)
    for at, turned in ring_marks(turning.stops, turning.most_stops):
        _make(made, round(at + more, 2), (turning, *extra), turned, density_to_stops(at))


def ring_marks(least_stops: float, most_stops: float) -> tuple[tuple[float, float], ...]:
    """Where the ring of a variable ND is turned to: density, and how far of the way, 0 to 1.

    Steps of a third of a stop from its first mark; its last mark is one of them, however far it is
    from the one before. Common practice, no source.
    """
    low, high = stops_to_density(least_stops), stops_to_density(most_stops)
    way = high - low
    if way <= LAST_STEP_OFF * VARIABLE_ND_STEP_DENSITY:
        return ((low, 1.0),)
    steps = way / VARIABLE_ND_STEP_DENSITY
    # A last step that is a whole one but for a fifth is the rounding of the numbers on the ring.
    whole = round(steps) if abs(steps - round(steps)) <= LAST_STEP_OFF else floor(steps)
    ends = whole if abs(steps - whole) <= LAST_STEP_OFF else steps
    marks = tuple((low + k * VARIABLE_ND_STEP_DENSITY, k / ends) for k in range(whole + 1))
    return marks if ends == whole else (*marks, (high, 1.0))
