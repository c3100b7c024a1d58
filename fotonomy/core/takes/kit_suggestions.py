"""What takes teach the kit: how often what was tried was kept, and the limits that follow from it.

Counts stand with the interval of Wilson (1927). Nothing is offered from fewer than ten, and nothing
moves by itself.
"""

from collections.abc import Callable, Hashable, Iterable, Sequence
from dataclasses import dataclass
from itertools import pairwise
from math import floor, log2
from typing import TypeVar

from fotonomy.core.motion.camera_movement import handheld_limit_s
from fotonomy.core.pictures.keeper_rate import ENOUGH, Keepers, keepers
from fotonomy.core.spec.intent import Handheld

# A limit is moved out where at least so many are kept for sure, and in where at most so many are:
# nine of ten, and one of ten, at 95 %.
KEPT_FOR_SURE, LOST_FOR_SURE = 0.59, 0.41
# Stops over the hand-held limit are counted in bins of one; further out they are one bin.
FARTHEST_STOPS = 4

K = TypeVar("K", bound=Hashable)


@dataclass(frozen=True, slots=True)
class Shot:
    """A take as far as it teaches something.

    ``noisy`` and ``shaken`` are what somebody said went wrong; ``by_hand`` where it was held.
    """

    body: str
    profile: str
    iso: int
    lens: str
    support: str
    by_hand: bool
    time_s: float
    equivalent_mm: float
    stabiliser_stops: float
    subject: str
    every_s: float | None
    rate_fps: float
    good: bool
    noisy: bool
    shaken: bool


@dataclass(frozen=True, slots=True)
class Count:
    """A group of takes by its key, and how many of them were kept."""

    key: tuple[Hashable, ...]
    kept: Keepers


def counted(
    shots: Iterable[Shot], key: Callable[[Shot], tuple[Hashable, ...] | None],
    kept: Callable[[Shot], bool],
) -> tuple[Count, ...]:  # fmt: skip
    """Takes in groups, in the order of their keys; those without a key are left out."""
    found: dict[tuple[Hashable, ...], tuple[int, int]] = {}
    for shot in shots:
        at = key(shot)
        if at is None:
            continue
        good, count = found.get(at, (0, 0))
        found[at] = (good + kept(shot), count + 1)
    return tuple(
        Count(at, keepers(*found[at]))
        for at in sorted(found, key=lambda one: tuple(map(_rank, one)))
    )


def _rank(value: Hashable) -> tuple[int, float, str]:
    return (0, float(value), "") if isinstance(value, int | float) else (1, 0.0, str(value))


def by_iso(shots: Iterable[Shot]) -> tuple[Count, ...]:
    """Body, profile and ISO: how many were not called too noisy."""
    return counted(shots, lambda one: (one.body, one.profile, one.iso), lambda one: not one.noisy)


def stops_over(shot: Shot, method: Handheld) -> float:
    """By how many stops a shutter is slower than a method holds (negative: faster)."""
    limit = handheld_limit_s(method.value, shot.equivalent_mm, shot.stabiliser_stops)
    return log2(shot.time_s / limit)


def by_hand(shots: Iterable[Shot], method: Handheld) -> tuple[Count, ...]:
    """Lens, support and whole stops over the limit: how many were neither shaken nor soft."""

    def key(shot: Shot) -> tuple[Hashable, ...] | None:
        if not shot.by_hand:
            return None
        over = max(-FARTHEST_STOPS, min(FARTHEST_STOPS, floor(stops_over(shot, method) + 0.5)))
        return (shot.lens, shot.support, over)

    return counted(shots, key, lambda one: not one.shaken)


def by_interval(shots: Iterable[Shot]) -> tuple[Count, ...]:
    """Subject and interval in seconds: how many were good."""
    return counted(
        shots, lambda one: None if one.every_s is None else (one.subject, round(one.every_s, 1)),
        lambda one: one.good,
    )  # fmt: skip


def by_rate(shots: Iterable[Shot]) -> tuple[Count, ...]:
    """Subject and frame rate of what moves on the screen: how many were good."""
    return counted(
        shots, lambda one: (one.subject, round(one.rate_fps, 2)) if one.every_s is None else None,
        lambda one: one.good,
    )  # fmt: skip


@dataclass(frozen=True, slots=True)
class CeilingOffer:
    """Another ISO ceiling for a body, and the takes that speak for it."""

    body: str
    present: int
    offered: int
    kept: Keepers


def ceiling_offer(shots: Sequence[Shot], body: str, present: int) -> CeilingOffer | None:
    """The ceiling that the takes of a body speak for; None where they leave it alone.

    Up to the highest ISO that is kept for sure over the present one, counting takes at it and
    above; down to under the lowest one that is lost for sure.
    """
    own = [shot for shot in shots if shot.body == body]
    isos = sorted({shot.iso for shot in own})

    def from_on(iso: int) -> Keepers:
        over = [shot for shot in own if shot.iso >= iso]
        return keepers(sum(not shot.noisy for shot in over), len(over))

    for iso in reversed(isos):
        found = from_on(iso)
        if iso > present and found.enough and found.low >= KEPT_FOR_SURE:
            return CeilingOffer(body, present, iso, found)
    for below, iso in pairwise(isos):
        found = from_on(iso)
        if iso <= present and found.enough and found.high <= LOST_FOR_SURE:
            return CeilingOffer(body, present, below, found)
    return None


@dataclass(frozen=True, slots=True)
class MethodCount:
    """A method of the hand-held limit: what was shot within it, and how much of it was sharp."""

    method: Handheld
    kept: Keepers

    @property
    def holds(self) -> bool:
        """True where its takes are kept for sure."""
        return self.kept.enough and self.kept.low >= KEPT_FOR_SURE


def by_method(shots: Iterable[Shot]) -> tuple[MethodCount, ...]:
    """Each method with the hand-held takes that lie within its limit."""
    held = [shot for shot in shots if shot.by_hand]
    found = []
    for method in Handheld:
        inside = [shot for shot in held if stops_over(shot, method) <= 1e-6]
        sharp = sum(not shot.shaken for shot in inside)
        found.append(MethodCount(method, keepers(sharp, len(inside))))
    return tuple(found)


def method_offer(counts: Sequence[MethodCount], present: Handheld) -> MethodCount | None:
    """The method to go by: the one that holds and has the most takes within it, if another one."""
    now = next(one for one in counts if one.method is present)
    holding = [one for one in counts if one.holds]
    if not holding or (now.holds and now.kept.count >= max(o.kept.count for o in holding)):
        return None
    best = max(holding, key=lambda one: one.kept.count)
    return None if best.method is present else best


@dataclass(frozen=True, slots=True)
class Offsets:
    """Light read against its estimate, in a group: how many, their mean and spread in stops."""

    key: str
    count: int
    mean_stops: float
    spread_stops: float

    @property
    def enough(self) -> bool:
        """True where there are enough to go by."""
        return self.count >= ENOUGH


def offsets(pairs: Iterable[tuple[str, float]]) -> tuple[Offsets, ...]:
    """The differences of groups; the spread is the standard deviation, 0 of a single one."""
    groups: dict[str, list[float]] = {}
    for key, stops in pairs:
        groups.setdefault(key, []).append(stops)
    found = []
    for key, values in groups.items():
        mean = sum(values) / len(values)
        square = sum((one - mean) ** 2 for one in values) / max(1, len(values) - 1)
        found.append(Offsets(key, len(values), mean, square**0.5))
    return tuple(found)
