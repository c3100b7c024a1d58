"""How many were good of how many, and how sure one may be of it."""

from dataclasses import dataclass
from math import sqrt

# Two-sided 95 % of the normal distribution.
Z_95 = 1.959963984540054
# No limit is moved on fewer.
ENOUGH = 10


@dataclass(frozen=True, slots=True)
class Keepers:
    """``good`` of ``count``, with the interval in which the true share lies (95 %)."""

    good: int
    count: int
    low: float
    high: float

    @property
    def share(self) -> float:
        """The share that was good; 0 of none."""
        return self.good / self.count if self.count else 0.0

    @property
    def enough(self) -> bool:
        """True where there are enough to go by."""
        return self.count >= ENOUGH


def wilson(good: int, count: int, z: float) -> tuple[float, float]:
    """The ends of the interval in which the true share lies (E. B. Wilson, 1927)."""
    share, square = good / count, z * z
    middle = (share + square / (2 * count)) / (1 + square / count)
    half = z / (1 + square / count) * sqrt(
        share * (1 - share) / count + square / (4 * count * count)
    )  # fmt: skip
    # At the ends rounding would leave the interval a hair inside what was seen.
    return min(share, max(0.0, middle - half)), max(share, min(1.0, middle + half))


def keepers(good: int, count: int, z: float = Z_95) -> Keepers:
    """The interval of Wilson (1927). ValueError where more are good than there are."""
    if not 0 <= good <= count:
        raise ValueError("more are good than there are")
    if count == 0:
        return Keepers(0, 0, 0.0, 1.0)
    return Keepers(good, count, *wilson(good, count, z))
