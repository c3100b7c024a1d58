"""The sky over a place for a stretch of time, as samples at even steps."""

from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from functools import cached_property
from itertools import pairwise
from math import floor
from typing import Any

import numpy as np
from numpy.typing import NDArray

from fotonomy.core.conversions import PERCENT
from fotonomy.core.errors import RuleError

Samples = NDArray[np.float64]
# The moon's phase angle when none of it is lit.
NEW_MOON_DEG = 180.0


@dataclass(frozen=True, slots=True)
class Direction:
    """Where something stands: altitude over the level, azimuth from true north over east.

    Degrees, as geometry has it, without refraction.
    """

    altitude_deg: float
    azimuth_deg: float


@dataclass(frozen=True, slots=True, eq=False)
class Track:
    """Altitude and azimuth of a body at every sample, in degrees, without refraction."""

    altitude_deg: Samples
    azimuth_deg: Samples

    def at(self, position: float) -> Direction:
        """Between two samples, the shorter way round; ``position`` counts samples."""
        low = min(max(floor(position), 0), len(self.altitude_deg) - 2)
        share = position - low
        first, then = self.azimuth_deg[low], self.azimuth_deg[low + 1]
        turn = (then - first + 180) % 360 - 180
        height = self.altitude_deg[low] + share * (
            self.altitude_deg[low + 1] - self.altitude_deg[low]
        )
        return Direction(float(height), float((first + share * turn) % 360))


@dataclass(frozen=True, slots=True)
class Stretch:
    """From one moment to a later one.

    Both are kept in UTC: two local times of one zone would be subtracted as the clock shows them,
    which is an hour wrong over a change of clock. Raises RuleError where it runs backwards.
    """

    starts: datetime
    ends: datetime

    def __post_init__(self) -> None:
        object.__setattr__(self, "starts", self.starts.astimezone(UTC))
        object.__setattr__(self, "ends", self.ends.astimezone(UTC))
        if self.ends < self.starts:
            raise RuleError("ends", "has to come after the start", self.ends)

    @property
    def minutes(self) -> float:
        """How long it lasts."""
        return (self.ends - self.starts).total_seconds() / 60

    def meets(self, other: "Stretch") -> bool:
        """True if the two have more than a moment in common."""
        return self.starts < other.ends and other.starts < self.ends

    def holds(self, other: "Stretch") -> bool:
        """True if the other lies inside, to the second."""
        second = timedelta(seconds=1)
        return self.starts - second <= other.starts and other.ends <= self.ends + second

    def common(self, other: "Stretch") -> "Stretch | None":
        """What the two share; None where they do not meet."""
        if not self.meets(other):
            return None
        return Stretch(max(self.starts, other.starts), min(self.ends, other.ends))


@dataclass(frozen=True, eq=False)
class Sky:
    """Sun, moon and galactic centre over a place, sampled from ``starts`` (UTC) at ``step_s``.

    ``phase_deg`` is the moon's phase angle: 0 when full, 180 when new; ``waxing``
    tells which half.
    """

    starts: datetime
    step_s: float
    sun: Track
    moon: Track
    core: Track
    phase_deg: Samples
    waxing: NDArray[np.bool_]

    @cached_property
    def count(self) -> int:
        """How many samples there are."""
        return len(self.phase_deg)

    @property
    def ends(self) -> datetime:
        """The moment of the last sample."""
        return self.moment(self.count - 1)

    def moment(self, position: float) -> datetime:
        """The moment of a sample, or between two."""
        return self.starts + timedelta(seconds=position * self.step_s)

    def position(self, when: datetime) -> float:
        """The sample of a moment, as a number that may lie between two or outside."""
        return (when.astimezone(UTC) - self.starts).total_seconds() / self.step_s

    def covers(self, when: datetime) -> bool:
        """True for a moment within the samples."""
        return 0 <= self.position(when) <= self.count - 1

    def sun_at(self, when: datetime) -> Direction:
        """Where the sun stands."""
        return self.sun.at(self.position(when))

    def moon_at(self, when: datetime) -> Direction:
        """Where the moon stands, from the place itself."""
        return self.moon.at(self.position(when))

    def phase_at(self, when: datetime) -> float:
        """The moon's phase angle in degrees."""
        return float(np.interp(self.position(when), np.arange(self.count), self.phase_deg))

    def waxing_at(self, when: datetime) -> bool:
        """True while more of the moon is lit every day."""
        return bool(self.waxing[min(max(round(self.position(when)), 0), self.count - 1)])

    def lit_at(self, when: datetime) -> float:
        """The share of the moon's disc that is lit, 0 to 1."""
        return float(lit_share(self.phase_at(when)))

    def crossings(self, values: Samples) -> list[tuple[datetime, bool]]:
        """When sampled values pass zero, and True where they rise, by straight lines between."""
        signs = values >= 0
        found = []
        for at in np.flatnonzero(signs[1:] != signs[:-1]):
            share = values[at] / (values[at] - values[at + 1])
            found.append((self.moment(float(at + share)), bool(signs[at + 1])))
        return found

    def stretches(self, values: Samples) -> tuple[Stretch, ...]:
        """When sampled values are at or above zero, to the fraction of a step."""
        edges = [when for when, _ in self.crossings(values)]
        starts_inside = bool(values[0] >= 0)
        moments = [*([self.starts] if starts_inside else []), *edges]
        if len(moments) % 2:
            moments.append(self.ends)
        pairs = list(pairwise(moments))[::2]
        return tuple(Stretch(low, high) for low, high in pairs)


def lit_share(phase_deg: float | Any) -> Any:
    """The lit share of the moon's disc by its phase angle (0 full): (1 + cos φ) / 2."""
    return (1 + np.cos(np.radians(phase_deg))) / 2


def lit_percent(phase_deg: float) -> float:
    """The same in percent."""
    return PERCENT * float(lit_share(phase_deg))


def joined(stretches: tuple[Stretch, ...]) -> tuple[Stretch, ...]:
    """The same time with what overlaps made one, in order."""
    found: list[Stretch] = []
    for one in sorted(stretches, key=lambda s: s.starts):
        if found and one.starts <= found[-1].ends:
            found[-1] = Stretch(found[-1].starts, max(found[-1].ends, one.ends))
        else:
            found.append(one)
    return tuple(found)
