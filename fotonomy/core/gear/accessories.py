"""What hangs on a camera left alone: remotes, cards, batteries and heaters, as plain facts."""

from dataclasses import dataclass
from enum import StrEnum
from typing import Annotated

from fotonomy.core.errors import RuleError
from fotonomy.core.ranges import NAME, Within, check_bounds


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

    name: Annotated[str, NAME]
    counting: Counting = Counting.START_TO_START
    waits_first: bool = False
    most_count: Annotated[int | None, Within(1, 10_000_000, "frames")] = 399
    unlimited: bool = True
    sure_count: Annotated[int | None, Within(1, 10_000_000, "frames")] = None
    step_s: Annotated[float, Within(0.001, 3600, "s")] = 1.0

    def __post_init__(self) -> None:
        check_bounds(self)
        if self.most_count is None and not self.unlimited:
            raise RuleError("most_count", "highest count, or tick 'Can run without a count'", None)


@dataclass(frozen=True, slots=True, kw_only=True)
class Card:
    """A card: decimal GB as printed on it, and MB a second it takes in for long (None unknown)."""

    name: Annotated[str, NAME]
    size_gb: Annotated[float, Within(0.01, 1_000_000, "GB")]
    write_mb_s: Annotated[float | None, Within(0.01, 100_000, "MB/s")] = None

    def __post_init__(self) -> None:
        check_bounds(self)


@dataclass(frozen=True, slots=True, kw_only=True)
class Battery:
    """A battery in the camera, or an external pack: ``count`` of them, watt hours as printed.

    ``loss_percent`` is what is lost where a pack's cells are stepped up to another voltage.
    """

    name: Annotated[str, NAME]
    energy_wh: Annotated[float, Within(0.01, 1_000_000, "Wh")]
    external: bool = False
    count: Annotated[int, Within(1, 100)] = 1
    loss_percent: Annotated[float, Within(0, 60, "%")] = 0.0

    def __post_init__(self) -> None:
        check_bounds(self)

    @property
    def each_wh(self) -> float:
        """What one of them gives, warm and whole."""
        return self.energy_wh * (1 - self.loss_percent / 100)

    @property
    def usable_wh(self) -> float:
        """What all of them give."""
        return self.count * self.each_wh


class Feed(StrEnum):
    """What something beside the camera is fed by."""

    PACK = "pack"
    CAMERA = "camera"
    OWN = "own"

    @property
    def label(self) -> str:
        """In words."""
        return {
            "pack": "an external pack", "camera": "the camera's battery",
            "own": "a battery of its own",
        }[self.value]  # fmt: skip


@dataclass(frozen=True, slots=True, kw_only=True)
class Heater:
    """What draws ``power_w`` all the time beside the camera: a lens heater, a monitor, a phone.

    It drains what it hangs on.
    """

    name: Annotated[str, NAME]
    power_w: Annotated[float, Within(0.01, 10_000, "W")]
    fed_by: Feed = Feed.PACK

    def __post_init__(self) -> None:
        check_bounds(self)


Device = Remote | Card | Battery | Heater
