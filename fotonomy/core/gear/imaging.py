"""Where a lens stands between subject and sensor, and how large it draws the subject.

Distances are from the sensor plane, as engraved on lenses and bodies. A lens is taken as thin;
one that focuses nearer than a thin lens of its focal length could (most macro lenses) is taken
to grow shorter on the way, in proportion to the magnification, so that it reaches its engraved
magnification at its engraved close focus.
"""

from collections.abc import Callable
from dataclasses import dataclass
from functools import lru_cache
from math import inf, sqrt

from fotonomy.core.conversions import MM_A_M
from fotonomy.core.errors import RuleError

# Halvings of a ring: to a billionth of its turn.
_ROUNDS = 30


@dataclass(frozen=True, slots=True)
class Imaging:
    """A lens focused at a subject.

    ``magnification`` on the sensor, ``focal_mm`` the focal length it has there, ``front_m`` from
    the subject to the lens and ``behind_m`` from the lens to the sensor, which add up to the
    distance.
    """

    magnification: float
    focal_mm: float
    front_m: float
    behind_m: float

    @property
    def distance_m(self) -> float:
        """From the subject to the sensor plane."""
        return self.front_m + self.behind_m

    def field_m(self, size_mm: float, at_m: float) -> float:
        """What a size on the sensor covers at a distance from the sensor plane, in metres.

        At the subject this is the size over the magnification. RuleError inside the lens.
        """
        if at_m <= self.behind_m:
            raise RuleError(
                "subject_distance_m", f"has to be more than {1000 * self.behind_m:.0f} mm, where "
                "the lens stands", at_m,
            )  # fmt: skip
        return size_mm / MM_A_M * (at_m - self.behind_m) / self.behind_m


def thin_magnification(distance_over_focal: float) -> float:
    """Magnification of a thin lens by the distance over its focal length: ``D = f(2 + m + 1/m)``.

    The smaller of the two; one where a thin lens cannot focus any nearer, at four focal lengths.
    """
    k = distance_over_focal - 2
    return 1.0 if k <= 2 else (k - sqrt(k * k - 4)) / 2


@dataclass(frozen=True, slots=True)
class FocusRing:
    """A lens's focusing: its focal length at infinity, and where its ring ends.

    ``closest_focal_mm`` is the focal length at the end of the ring, ``most`` the magnification
    there without tubes; None is a thin lens without an end.
    """

    focal_mm: float
    closest_focal_mm: float
    most: float | None
    tubes_mm: float = 0.0

    def focal_at(self, own: float) -> float:
        """Focal length with the ring at a magnification of the lens's own."""
        if self.most is None:
            return self.focal_mm
        share = min(1.0, own / self.most)
        return self.focal_mm + (self.closest_focal_mm - self.focal_mm) * share

    @property
    def whole(self) -> float:
        """The end of the ring, in magnification of its own; a thin lens goes to life size."""
        return 1.0 if self.most is None else self.most

    @property
    def nearest(self) -> float:
        """The ring where subject and sensor are closest together.

        That is its end, where the close focus is engraved; with tubes past life size the sensor
        goes away from the subject faster than the subject comes, and it is found before.
        """
        return _nearest(self)

    @property
    def start(self) -> float:
        """The end of the ring that focuses farthest from the sensor."""
        ends = (0.0, self.whole)
        return max(ends, key=lambda own: self.at_ring(own).distance_m)

    def at_ring(self, own: float) -> Imaging:
        """What it images with the ring at a magnification of its own; tubes add ``x/f``."""
        focal = self.focal_at(own)
        m = own + self.tubes_mm / focal
        front = focal * (1 + 1 / max(m, 1e-12)) / 1000
        return Imaging(m, focal, front, focal * (1 + m) / 1000)


@lru_cache(maxsize=4096)
def _nearest(ring: FocusRing) -> float:
    if not ring.tubes_mm:
        return ring.whole
    low, high = 0.0, ring.whole
    for _ in range(2 * _ROUNDS):
        # The distance falls and then rises along the ring: thirds that cannot hold the least go.
        one, two = low + (high - low) / 3, high - (high - low) / 3
        if ring.at_ring(one).distance_m > ring.at_ring(two).distance_m:
            low = one
        else:
            high = two
    return (low + high) / 2


@lru_cache(maxsize=4096)
def focus_ring(
    focal_mm: float, close_focus_m: float | None, greatest: float | None, tubes_mm: float
) -> FocusRing:
    """The focusing of a lens by what is engraved on it; what is not known is a thin lens's."""
    if close_focus_m is None:
        # The magnification alone: a thin lens reaches it where it may.
        return FocusRing(focal_mm, focal_mm, greatest, tubes_mm)
    over = 1000 * close_focus_m / focal_mm
    most = greatest or thin_magnification(over)
    return FocusRing(focal_mm, 1000 * close_focus_m / (2 + most + 1 / most), most, tubes_mm)


@lru_cache(maxsize=4096)
def focused(
    focal_mm: float, distance_m: float, close_focus_m: float | None = None,
    greatest: float | None = None, tubes_mm: float = 0.0,
) -> Imaging:  # fmt: skip
    """A lens focused at a distance from the sensor plane.

    Nearer than its ring goes, the picture there would be is worked out all the same (``reach``
    says where it ends): as if the ring went on. RuleError inside the focal length.
    """
    if 1000 * distance_m <= focal_mm:
        raise RuleError(
            "subject_distance_m", f"has to be more than the focal length, {focal_mm:g} mm",
            distance_m,
        )  # fmt: skip
    ring = focus_ring(focal_mm, close_focus_m, greatest, tubes_mm)
    start, nearest = ring.start, ring.nearest
    if distance_m < ring.at_ring(nearest).distance_m:
        end = ring.at_ring(nearest)
        # Past the end of the ring: what is drawn grows as the room in front of the lens shrinks,
        # and the lens counts as one of the focal length that would be sharp there.
        front, behind = max(distance_m - end.behind_m, 1e-4), end.behind_m
        return Imaging(behind / front, 1000 * front * behind / (front + behind), front, behind)
    own = _bisect(lambda own: ring.at_ring(own).distance_m - distance_m, start, nearest)
    there = ring.at_ring(own)
    return Imaging(there.magnification, there.focal_mm, distance_m - there.behind_m, there.behind_m)


def _bisect(over: Callable[[float], float], low: float, high: float) -> float:
    """Where a function that falls from ``low`` to ``high`` crosses zero; an end if it does not."""
    for _ in range(_ROUNDS):
        middle = (low + high) / 2
        low, high = (middle, high) if over(middle) > 0 else (low, middle)
    return (low + high) / 2


@dataclass(frozen=True, slots=True)
class Reach:
    """How near and how far a lens with tubes can be focused, in metres from the sensor plane."""

    near_m: float
    far_m: float


def reach(
    focal_mm: float, close_focus_m: float | None, greatest: float | None, tubes_mm: float
) -> Reach | None:
    """Distances a lens focuses at with ``tubes_mm`` of tube; None where its limit is unknown."""
    ring = focus_ring(focal_mm, close_focus_m, greatest, tubes_mm)
    if ring.most is None and not tubes_mm:
        return None
    near = ring.at_ring(ring.nearest).distance_m
    return Reach(near, ring.at_ring(ring.start).distance_m if tubes_mm else inf)
