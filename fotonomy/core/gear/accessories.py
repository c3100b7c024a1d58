"""What hangs on a camera left alone: remotes, cards, batteries and heaters, as plain facts."""

from dataclasses import dataclass
from enum import StrEnum
from math import isfinite

from fotonomy.core.errors import RuleError


def _positive(field: str, value: float | None, unit: str) -> None:
    if value is not None and not (isfinite(value) and value > 0):
        raise RuleError(field, f"has to be more than zero {unit}".rstrip(), value)


class Counting(StrEnum):
    """What a remote calls its interval. Both are common practice, no source."""

    START_TO_START = "start_to_start"
    END_TO_START = "end_to_start"

    @property
    def label(self) -> str:
        """The convention in words."""
        return {
            "start_to_start": "from start to start", "end_to_start": "from end to next start",
        }[self.value]  # fmt: skip


@dataclass(frozen=True, slots=True, kw_only=True)
class Remote:
    """An interval timer.

    ``counting`` says what its interval field means, ``waits_first`` whether the first frame
    comes after one interval rather than at once. ``most_count`` is the highest number of
    frames it takes (None: any), ``sure_count`` up to where its counter can be trusted.
    ``step_s`` is the finest interval and exposure it can be set to.
    """

    name: str
    counting: Counting = Counting.START_TO_START
    waits_first: bool = False
    most_count: int | None = 399
    unlimited: bool = True
    sure_count: int | None = None
    step_s: float = 1.0

    def __post_init__(self) -> None:
        _positive("step_s", self.step_s, "s")
        for field in ("most_count", "sure_count"):
            count = getattr(self, field)
            if count is not None and count < 1:
                raise RuleError(field, "has to be one frame or more", count)
        if self.most_count is None and not self.unlimited:
            raise RuleError("most_count", "say how far it counts, or that it runs unlimited", None)


@dataclass(frozen=True, slots=True, kw_only=True)
class Card:
    """A card: decimal GB as printed on it, and MB a second it takes in for long (None unknown)."""

    name: str
    size_gb: float
    write_mb_s: float | None = None

    def __post_init__(self) -> None:
        _positive("size_gb", self.size_gb, "GB")
        _positive("write_mb_s", self.write_mb_s, "MB/s")


@dataclass(frozen=True, slots=True, kw_only=True)
class Battery:
    """A battery in the camera, or an external pack; energy in watt hours as printed on it."""

    name: str
    energy_wh: float
    external: bool = False

    def __post_init__(self) -> None:
        _positive("energy_wh", self.energy_wh, "Wh")


@dataclass(frozen=True, slots=True, kw_only=True)
class Heater:
    """A band that keeps dew off the lens; it draws ``power_w`` all the time."""

    name: str
    power_w: float

    def __post_init__(self) -> None:
        _positive("power_w", self.power_w, "W")


Device = Remote | Card | Battery | Heater
