"""The search: every combination the gear allows, and the one with the least regret.

A score is a sum of terms, each belonging to the shutter, the iris, the ISO or the glass,
and only the light ties them together. So shutters and irises are crossed in one array,
ISO and glass in another sorted by their stops; for each of the first the second is asked
for the cheapest partner that balances the light, by range minima over the sorted array.
That is exact: every combination is covered, though only a fraction is ever written out.
"""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from fotonomy.core import constants as c
from fotonomy.core.analysis.setup import equivalent_focal_mm
from fotonomy.core.exposure.light_budget import light_budget, target_stops
from fotonomy.core.exposure.scales import own_rack
from fotonomy.core.gear.neutral_density import Stack
from fotonomy.core.photometry.exposure_value import SceneLight
from fotonomy.core.photometry.stops import aperture_stops
from fotonomy.core.planner.cost import (
    LAST_RESORT_STOPS,
    MISS_WEIGHT,
    Judgement,
    Numbers,
    Shortfalls,
    Yardstick,
    judge,
)
from fotonomy.core.planner.search_space import irises, iso_values, shutters, stacks_for, standpoints
from fotonomy.core.spec.setup import Setup

# Farther off than this nothing is an answer.
TOLERANCE_STOPS = LAST_RESORT_STOPS
# More standpoints than this are thinned out, and the outcome says so.
MOST_STANDS = 48


@dataclass(frozen=True, slots=True)
class Candidate:
    """One combination: the whole setup, and how it does."""

    setup: Setup
    judgement: Judgement

    @property
    def score(self) -> float:
        """Less is better."""
        return self.judgement.score


class _RangeMin:
    """Position of the smallest value in any span of an array, by a sparse table."""

    def __init__(self, values: Numbers) -> None:
        self.values = values
        size = len(values)
        self.table = [np.arange(size)]
        width = 1
        while 2 * width <= size:
            below = self.table[-1]
            left, right = below[: size - 2 * width + 1], below[width : size - width + 1]
            self.table.append(np.where(values[left] <= values[right], left, right))
            width *= 2

    def __call__(self, start: Numbers, stop: Numbers) -> tuple[Numbers, Numbers]:
        """Positions and values of the minima of ``[start, stop)``; infinite where empty."""
        size = stop - start
        found = np.zeros(start.shape, dtype=np.intp)
        least = np.full(start.shape, np.inf)
        level = np.frexp(np.maximum(size, 1))[1] - 1
        for k in range(len(self.table)):
            here = (size > 0) & (level == k)
            if here.any():
                table = self.table[k]
                left, right = table[start[here]], table[stop[here] - 2**k]
                pick = np.where(self.values[left] <= self.values[right], left, right)
                found[here], least[here] = pick, self.values[pick]
        return found, least


@dataclass
class _Inner:
    """ISO and glass crossed and sorted by stops, with range minima of what they cost."""

    isos: Numbers
    stacks: tuple[Stack, ...]
    stops: Numbers
    iso_at: Numbers
    stack_at: Numbers
    cost: Numbers
    shortfalls: Shortfalls
    under_weight: float

    @cached_property
    def under(self) -> "_RangeMin":
        """Cheapest partner whose stops stay under the aim: cost, and the miss below."""
        return _RangeMin(self.cost - self.under_weight * self.stops)

    @cached_property
    def over(self) -> "_RangeMin":
        """Cheapest partner whose stops reach over the aim."""
        return _RangeMin(self.cost + MISS_WEIGHT * self.stops)

    def only(self, keep: Numbers) -> "_Inner":
        """The same with these entries alone."""
        shortfalls = {name: stops[keep] for name, stops in self.shortfalls.items()}
        return _Inner(
            self.isos, self.stacks, self.stops[keep], self.iso_at[keep], self.stack_at[keep],
            self.cost[keep], shortfalls, self.under_weight,
        )  # fmt: skip


class _Shared:
    """What all standpoints have in common: the shutters, and ISO crossed with the same glass."""

    def __init__(self, setup: Setup, yardstick: Yardstick) -> None:
        self.yardstick = yardstick
        self.pairs = list(shutters(setup))
        self.fps = np.array([rate for rate, _ in self.pairs])
        self.times = np.array([shutter.seconds(rate) for rate, shutter in self.pairs])
        self.isos = np.array(iso_values(setup), dtype=float)
        self._inners: dict[tuple[tuple[Stack, ...], bool], _Inner] = {}

    def inner(self, setup: Setup, stacks: tuple[Stack, ...]) -> "_Inner":
        """ISO and glass at a standpoint; the same wherever the stacks and the corners are."""
        key = (stacks, equivalent_focal_mm(setup) < c.STACK_VIGNETTE_BELOW_MM)
        if key not in self._inners:
            self._inners[key] = _crossed(setup, self.yardstick, self.isos, stacks)
        return self._inners[key]


def _crossed(
    setup: Setup, yardstick: Yardstick, isos: Numbers, stacks: tuple[Stack, ...]
) -> _Inner:
    of_iso, of_glass = yardstick.of_iso(isos), yardstick.of_glass(setup, stacks)
    gains = np.log2(isos / 100) - _targets_moved(setup, isos)
    losses = np.array([s.stops for s in stacks])
    stops = (gains[:, None] - losses[None, :]).ravel()
    prices = np.add.outer(
        np.broadcast_to(yardstick.cost(of_iso), gains.shape),
        np.broadcast_to(yardstick.cost(of_glass), losses.shape),
    ).ravel()
    order = np.argsort(stops, kind="stable")
    iso_at, stack_at = np.divmod(order, len(stacks))
    shortfalls = {name: x[iso_at] for name, x in of_iso.items() if name != "change"}
    shortfalls |= {name: x[stack_at] for name, x in of_glass.items() if name != "change"}
    return _Inner(
        isos, stacks, stops[order], iso_at, stack_at, prices[order], shortfalls,
        yardstick.under_weight,
    )  # fmt: skip


def _targets_moved(setup: Setup, isos: Numbers) -> Numbers:
    """Stops by which each ISO moves what the exposure method aims at.

    Only under the lowest base, where the sensor is full earlier and highlights are held lower.
    """
    moved = np.zeros(len(isos))
    if min(float(isos.min(initial=np.inf)), setup.iso) >= setup.lowest_base:
        return moved
    here = target_stops(setup)
    for k, iso in enumerate(isos):
        moved[k] = target_stops(replace(setup, iso=int(iso))) - here
    return moved


class _Stand:
    """All combinations from one standpoint: one lens, focal length and distance."""

    def __init__(self, setup: Setup, shared: _Shared) -> None:
        self.setup, self.shared, self.yardstick = setup, shared, shared.yardstick
        self.pairs, self.times, self.isos = shared.pairs, shared.times, shared.isos
        self.f_numbers = np.array(irises(setup), dtype=float)
        self.stacks = stacks_for(setup)

    @property
    def count(self) -> int:
        """Combinations from here."""
        return len(self.pairs) * len(self.f_numbers) * len(self.isos) * len(self.stacks)

    @cached_property
    def of_shutter(self) -> Shortfalls:
        return self.yardstick.of_shutter(self.setup, self.shared.fps, self.times)

    @cached_property
    def of_iris(self) -> Shortfalls:
        return self.yardstick.of_iris(self.setup, self.f_numbers)

    @cached_property
    def of_stand(self) -> Shortfalls:
        return self.yardstick.of_stand(self.setup)

    @cached_property
    def price(self) -> float:
        """What standing here costs, whatever is set."""
        return float(np.sum(self.yardstick.cost(self.of_stand)))

    @cached_property
    def floor(self) -> float:
        """Least that anything from here can cost, balanced or not."""
        if not self.count:
            return np.inf
        return float(self.outer.min() + self.inner.cost.min())

    @cached_property
    def outer(self) -> Numbers:
        """Cost of shutter (down) and iris (across), the standpoint's own included."""
        cost = self.yardstick.cost
        down = np.broadcast_to(cost(self.of_shutter), (len(self.pairs),))
        across = np.broadcast_to(cost(self.of_iris), (len(self.f_numbers),))
        return np.asarray(down[:, None] + across[None, :] + self.price)

    @cached_property
    def light(self) -> Numbers:
        """Stops of exposure from shutter and iris, before ISO and glass."""
        setup = self.setup
        lines = light_budget(setup).lines
        fixed = sum(line.stops for line in lines if line.setting is None)
        irises = np.array([aperture_stops(float(n)) for n in self.f_numbers])
        return np.asarray(fixed + np.log2(self.times)[:, None] - irises[None, :])

    @cached_property
    def inner(self) -> _Inner:
        return self.shared.inner(self.setup, self.stacks)

    @cached_property
    def partners(self) -> tuple[Numbers, Numbers]:
        """For every shutter and iris: the best ISO and glass, and the whole score."""
        return self._partners(self.inner)

    def _partners(self, inner: "_Inner", lighter_stops: float = 0.0) -> tuple[Numbers, Numbers]:
        # The partners' stops have to cancel the light: aim at its negative.
        aim, stops = -self.light - lighter_stops, inner.stops
        middle = np.searchsorted(stops, aim, "left")
        found = np.zeros(aim.shape, dtype=np.intp)
        least = np.full(aim.shape, np.inf)
        for within, price in self.yardstick.miss_steps:
            low = np.searchsorted(stops, aim - within, "left")
            high = np.searchsorted(stops, aim + within, "right")
            for reach, first, last, weight in (
                (inner.under, low, middle, inner.under_weight),
                (inner.over, middle, high, -MISS_WEIGHT),
            ):
                at, cost = reach(first, last)
                cost = cost + weight * aim + price
                better = cost < least
                found, least = np.where(better, at, found), np.where(better, cost, least)
        return found, self.outer + least

    def best(
        self, caps: Mapping[str, float], only: "Only | None" = None, lighter_stops: float = 0.0
    ) -> "_Found | None":
        """The least score whose capped regrets stay under their caps; None if none balances."""
        if not self.count:
            return None
        if any(name in self.of_stand and self._over(name, cap) for name, cap in caps.items()):
            return None
        keep = np.ones(len(self.inner.stops), dtype=bool)
        for name in caps.keys() & self.inner.shortfalls.keys():
            keep &= self.inner.shortfalls[name] <= caps[name]
        back = np.flatnonzero(keep)
        if not len(back):
            return None
        whole = len(back) == len(keep)
        if whole and not lighter_stops:
            partner, score = self.partners
        else:
            inner = self.inner if whole else self.inner.only(back)
            partner, score = self._partners(inner, lighter_stops)
        mask = self._outer_mask(caps, only)
        score = np.where(mask, score, np.inf)
        at = int(np.argmin(score))
        row, column = divmod(at, len(self.f_numbers))
        if not np.isfinite(score[row, column]):
            return None
        return _Found(float(score[row, column]), self, row, column, int(back[partner[row, column]]))

    def _over(self, name: str, cap: float) -> bool:
        return name != "change" and bool(abs(self.of_stand[name][0]) > cap)

    def _outer_mask(self, caps: Mapping[str, float], only: "Only | None") -> Numbers:
        rows = np.ones(len(self.pairs), dtype=bool)
        columns = np.ones(len(self.f_numbers), dtype=bool)
        for name, cap in caps.items():
            if name in self.of_shutter:
                rows &= self.of_shutter[name] <= cap
            if name in self.of_iris:
                columns &= self.of_iris[name] <= cap
        if only is not None:
            columns &= (self.f_numbers >= only.f_least) & (self.f_numbers <= only.f_most)
        return np.asarray(rows[:, None] & columns[None, :])

    def nearest(self) -> "_Found | None":
        """The combination that comes nearest to balance, whatever else it costs."""
        if not self.count:
            return None
        stops, aim = self.inner.stops, -self.light
        at = np.clip(np.searchsorted(stops, aim), 1, max(1, len(stops) - 1))
        last = np.minimum(at, len(stops) - 1)
        pick = np.where(abs(stops[at - 1] - aim) <= abs(stops[last] - aim), at - 1, last)
        miss = abs(stops[pick] - aim)
        # Among equal misses the cheaper one.
        score = np.round(miss, 6) * 1e6 + self.outer
        row, column = divmod(int(np.argmin(score)), len(self.f_numbers))
        return _Found(float(miss[row, column]), self, row, column, int(pick[row, column]))

    def setup_at(self, row: int, column: int, partner: int) -> Setup:
        """The whole setup of one combination."""
        rate, shutter = self.pairs[row]
        return replace(
            self.setup,
            frame_rate=rate,
            shutter=shutter,
            iris=float(self.f_numbers[column]),
            iso=int(self.isos[self.inner.iso_at[partner]]),
            nd_density=self.stacks[int(self.inner.stack_at[partner])].density,
        )


@dataclass(frozen=True, slots=True)
class Only:
    """A span of f-numbers to look at."""

    f_least: float
    f_most: float


@dataclass(frozen=True, slots=True)
class _Found:
    score: float
    stand: _Stand
    row: int
    column: int
    partner: int

    def candidate(self, light: SceneLight) -> Candidate:
        setup = replace(self.stand.setup_at(self.row, self.column, self.partner), light=light)
        return Candidate(setup, judge(setup, self.stand.yardstick))


class Search:
    """All combinations of a setup's free settings; ``best`` may be asked again with caps."""

    def __init__(self, setup: Setup) -> None:
        self.setup = setup
        self.yardstick = Yardstick(setup)
        places = list(standpoints(setup))
        self.left_out: list[str] = []
        if len(places) > MOST_STANDS:
            stride = (len(places) - 1) / (MOST_STANDS - 1)
            kept = [places[round(k * stride)] for k in range(MOST_STANDS)]
            self.left_out.append(
                f"{len(places) - MOST_STANDS} of {len(places)} standpoints (lens, focal length "
                "and distance)"
            )
            places = kept
        shared = _Shared(setup, self.yardstick)
        self.stands = sorted((_Stand(place, shared) for place in places), key=lambda s: s.price)
        unused = own_rack(setup).left_out
        if unused:
            self.left_out.append(f"{unused} ND filters, the rest spread over the densities owned")

    @property
    def count(self) -> int:
        """Combinations searched."""
        return sum(stand.count for stand in self.stands)

    def best(
        self, caps: Mapping[str, float] | None = None, only: Only | None = None,
        light: SceneLight | None = None,
    ) -> Candidate | None:  # fmt: skip
        """The combination of least score that balances, or None.

        ``caps`` bounds regrets in stops by criterion. In another ``light`` than the setup's
        nothing else is worked out anew: what a choice costs does not go by the light.
        """
        lit = self.setup if light is None else replace(self.setup, light=light)
        lighter = light_budget(lit).error_stops - light_budget(self.setup).error_stops
        best: _Found | None = None
        # No term is negative: a standpoint that costs more by itself need not be looked at.
        for stand in self.stands:
            if best is not None and (stand.price >= best.score or stand.floor >= best.score):
                continue
            found = stand.best(caps or {}, only, lighter)
            if found is not None and (best is None or found.score < best.score):
                best = found
        return best.candidate(lit.light) if best else None

    def nearest(self) -> Candidate | None:
        """The combination nearest to balance; None if a setting has nothing to choose from."""
        found = [f for s in self.stands if (f := s.nearest()) is not None]
        return min(found, key=lambda f: f.score).candidate(self.setup.light) if found else None
