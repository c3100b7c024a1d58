"""What a setup of single pictures wants: event, files, the light to come, traffic."""

from dataclasses import dataclass
from enum import StrEnum
from itertools import pairwise
from typing import Annotated

from fotonomy.core.constants import EV_RANGE, TIME_RANGE_S
from fotonomy.core.errors import RuleError
from fotonomy.core.ranges import Sized, Within, check_bounds

YEAR_S = 31_536_000.0
EVENT_RANGE_S = (1.0, YEAR_S)
MOST_LIGHT_POINTS = 48


class Follows(StrEnum):
    """Which of the three an interval run works out from the other two."""

    EVENT = "event"
    INTERVAL = "interval"
    CLIP = "clip"

    @property
    def label(self) -> str:
        """In words."""
        return {"event": "the event", "interval": "the interval", "clip": "the clip"}[self.value]


class Files(StrEnum):
    """What a still is kept as."""

    RAW = "raw"
    JPEG = "jpeg"
    BOTH = "both"

    @property
    def label(self) -> str:
        """In words."""
        return {"raw": "raw", "jpeg": "JPEG", "both": "raw and JPEG"}[self.value]


class Ramp(StrEnum):
    """Methods of exposing through a run: common practice, no source."""

    FIXED = "fixed"
    PLANNED = "planned"
    FLOATING = "floating"

    @property
    def label(self) -> str:
        """The method in words."""
        return {
            "fixed": "all by hand, nothing moves", "planned": "all by hand, ramped by plan",
            "floating": "iris priority, the camera floats",
        }[self.value]  # fmt: skip


class TimeFor(StrEnum):
    """What the exposure time of a run or a long exposure is for: common practice, no source."""

    USUAL = "usual"
    SILK = "silk"
    MIST = "mist"
    TRAILS = "trails"
    PAINTED = "painted"
    ANY = "any"

    @property
    def label(self) -> str:
        """In words."""
        return {
            "usual": "as usual for its kind", "silk": "silky water", "mist": "a sea like mist",
            "trails": "light trails", "painted": "painted light", "any": "nothing that moves",
        }[self.value]  # fmt: skip


class Combining(StrEnum):
    """How several exposures become one picture."""

    SINGLE = "single"
    ADDITIVE = "additive"
    AVERAGE = "average"
    LATER = "later"

    @property
    def label(self) -> str:
        """In words."""
        return {
            "single": "one exposure", "additive": "added in camera",
            "average": "averaged in camera", "later": "combined later, lighter wins",
        }[self.value]  # fmt: skip

    @property
    def brief(self) -> str:
        """In two words, for the row of what is set."""
        return "combined later" if self is Combining.LATER else self.label

    @property
    def in_camera(self) -> bool:
        """True where the camera has to do it, and forgets the setting after each use."""
        return self in (Combining.ADDITIVE, Combining.AVERAGE)


@dataclass(frozen=True, slots=True)
class LightPoint:
    """Scene light so many seconds after the start, in EV at ISO 100."""

    after_s: Annotated[float, Within(0, YEAR_S, "s")]
    ev100: Annotated[float, Within(*EV_RANGE, "EV")]

    def __post_init__(self) -> None:
        check_bounds(self)


@dataclass(frozen=True, slots=True, kw_only=True)
class Run:
    """How an interval run, a burst or a long exposure is meant.

    Interval: ``event_s`` is what it has to cover and ``follows`` which of event, interval
    and clip is worked out; ``noise_frames`` is the camera's long-exposure noise reduction,
    ``self_timer_s`` its self-timer; ``light_curve`` the light to come, ``ramp`` the method for it,
    ``ramp_lift`` true where the ND may come off once on the way;
    ``declination_deg`` of the stars in frame (None: none), ``star_px`` their longest trail in
    delivered pixels. ``temperature_c`` is how cold the batteries get.
    Burst: how long one lasts, how many an hour, how long the moment is.
    Long exposure: how several are combined, ``frames`` of them, ``passes_s`` between
    passing lights or waves (None: nothing passes), ``trail_percent`` the length wanted.
    ``time_for`` is what the exposure time of a run or a long exposure is for, ``wanted_s`` the
    time asked for itself (None: what it is for decides).
    """

    files: Files = Files.RAW
    follows: Follows = Follows.EVENT
    event_s: Annotated[float, Within(*EVENT_RANGE_S, "s")] = 3600.0
    noise_frames: bool = False
    self_timer_s: Annotated[float, Within(0, 60, "s")] = 0.0
    start_after_s: Annotated[float, Within(0, 359_999, "s")] = 5.0
    ramp: Ramp = Ramp.FIXED
    ramp_lift: bool = False
    light_curve: Annotated[tuple[LightPoint, ...], Sized(0, MOST_LIGHT_POINTS)] = ()
    declination_deg: Annotated[float | None, Within(-90, 90, "degrees")] = None
    star_px: Annotated[float, Within(0.1, 1000, "px")] = 3.0
    temperature_c: Annotated[float, Within(-60, 60, "°C")] = 15.0
    continuous_focus: bool = False
    burst_s: Annotated[float, Within(0.01, 3600, "s")] = 2.0
    bursts_an_hour: Annotated[float, Within(0, 3600, "an hour")] = 20.0
    moment_s: Annotated[float, Within(0.0001, 60, "s")] = 0.1
    combining: Combining = Combining.SINGLE
    frames: Annotated[int, Within(1, 100, "exposures")] = 1
    passes_s: Annotated[float | None, Within(0.01, 86_400, "s")] = None
    trail_percent: Annotated[float | None, Within(0.1, 1000, "%")] = None
    time_for: TimeFor = TimeFor.USUAL
    wanted_s: Annotated[float | None, Within(*TIME_RANGE_S, "s")] = None

    def __post_init__(self) -> None:
        check_bounds(self)
        self._check_light()

    def _check_light(self) -> None:
        times = [point.after_s for point in self.light_curve]
        if any(later <= earlier for earlier, later in pairwise(times)):
            raise RuleError("light_curve", "needs its times in order, each once", times)
