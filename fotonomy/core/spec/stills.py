"""What a setup of single pictures wants: event, files, the light to come, traffic."""

from dataclasses import dataclass
from enum import StrEnum
from itertools import pairwise
from math import isfinite

from fotonomy.core.errors import RuleError

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
    """Schools of exposing through a run: common practice, no source."""

    FIXED = "fixed"
    PLANNED = "planned"
    FLOATING = "floating"

    @property
    def label(self) -> str:
        """The school in words."""
        return {
            "fixed": "all by hand, nothing moves", "planned": "all by hand, ramped by plan",
            "floating": "iris priority, the camera floats",
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
    def in_camera(self) -> bool:
        """True where the camera has to do it, and forgets the setting after each use."""
        return self in (Combining.ADDITIVE, Combining.AVERAGE)


@dataclass(frozen=True, slots=True)
class LightPoint:
    """Scene light so many seconds after the start, in EV at ISO 100."""

    after_s: float
    ev100: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Run:
    """How an interval run, a burst or a long exposure is meant.

    Interval: ``event_s`` is what it has to cover and ``follows`` which of event, interval
    and clip is worked out; ``noise_frames`` is the camera's long-exposure noise reduction,
    ``self_timer_s`` its self-timer; ``light`` the light to come, ``ramp`` the school for it;
    ``declination_deg`` of the stars in frame (None: none), ``star_px`` their longest trail in
    delivered pixels. ``temperature_c`` is how cold the batteries get.
    Burst: how long one lasts, how many an hour, how long the moment is.
    Long exposure: how several are combined, ``frames`` of them, ``passes_s`` between
    passing lights or waves (None: nothing passes), ``trail_percent`` the length wanted.
    """

    files: Files = Files.RAW
    follows: Follows = Follows.EVENT
    event_s: float = 3600.0
    noise_frames: bool = False
    self_timer_s: float = 0.0
    start_after_s: float = 5.0
    ramp: Ramp = Ramp.FIXED
    light: tuple[LightPoint, ...] = ()
    declination_deg: float | None = None
    star_px: float = 3.0
    temperature_c: float = 15.0
    continuous_focus: bool = False
    burst_s: float = 2.0
    bursts_an_hour: float = 20.0
    moment_s: float = 0.1
    combining: Combining = Combining.SINGLE
    frames: int = 1
    passes_s: float | None = None
    trail_percent: float | None = None

    def __post_init__(self) -> None:
        for field, value, low, high, unit in (
            ("event", self.event_s, *EVENT_RANGE_S, "s"),
            ("self_timer", self.self_timer_s, 0.0, 60.0, "s"),
            ("start_after", self.start_after_s, 0.0, 359_999.0, "s"),
            ("declination", self.declination_deg, -90.0, 90.0, "degrees"),
            ("star_px", self.star_px, 0.1, 1000.0, "px"),
            ("temperature", self.temperature_c, -60.0, 60.0, "°C"),
            ("burst", self.burst_s, 0.01, 3600.0, "s"),
            ("bursts_an_hour", self.bursts_an_hour, 0.0, 3600.0, "an hour"),
            ("moment", self.moment_s, 0.0001, 60.0, "s"),
            ("passes", self.passes_s, 0.01, 86_400.0, "s"),
            ("trail", self.trail_percent, 0.1, 1000.0, "%"),
        ):
            if value is not None and not (isfinite(value) and low <= value <= high):
                raise RuleError(
                    field, f"has to lie between {low:g} and {high:g} {unit}", value
                )  # fmt: skip
        if not 1 <= self.frames <= 100:
            raise RuleError("frames", "from 1 to 100 exposures", self.frames)
        self._check_light()

    def _check_light(self) -> None:
        if len(self.light) > MOST_LIGHT_POINTS:
            raise RuleError("light_curve", f"at most {MOST_LIGHT_POINTS} points", len(self.light))
        times = [point.after_s for point in self.light]
        if any(later <= earlier for earlier, later in pairwise(times)):
            raise RuleError("light_curve", "needs its times in order, each once", times)
        for point in self.light:
            if not (isfinite(point.ev100) and -12 <= point.ev100 <= 24 and point.after_s >= 0):
                raise RuleError("light_curve", "goes from EV -12 to 24, from the start on", point)
