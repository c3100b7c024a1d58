"""What a person owns, as plain facts: bodies, lenses, glass and recording profiles."""

from dataclasses import dataclass
from enum import StrEnum

from fotonomy.core.curves import Curve, decode, encode
from fotonomy.core.errors import RuleError


class ShutterStyle(StrEnum):
    """How a body states its shutter."""

    ANGLE = "angle"
    TIME = "time"
    BOTH = "both"


class GlassKind(StrEnum):
    """What a piece of glass in front of the lens does."""

    ND = "nd"
    VARIABLE_ND = "variable_nd"
    POLARISER = "polariser"
    DIFFUSION = "diffusion"
    OTHER = "other"


class LevelScale(StrEnum):
    """Which code values 0 % and 100 % stand for: 64-940 of 10 bits, or 0-1023."""

    LEGAL = "legal"
    FULL = "full"


@dataclass(frozen=True, slots=True)
class RecordingRate:
    """A frame rate a body records, in frames a second, and its data rate in Mb/s."""

    fps: float
    mb_s: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Body:
    """A camera body: recorded sensor area in mm, delivered pixels, and its ranges.

    ``profiles`` names what it records; empty means any.
    """

    name: str
    sensor_width_mm: float
    sensor_height_mm: float
    width_px: int
    height_px: int
    rates: tuple[RecordingRate, ...]
    drive_rates_fps: tuple[float, ...] = ()
    shutter_style: ShutterStyle = ShutterStyle.TIME
    angles_deg: tuple[float, ...] = ()
    slowest_s: float = 30.0
    fastest_s: float = 1 / 8000
    iso_lowest: int = 100
    iso_highest: int = 25_600
    iso_ceiling: int = 12_800
    profiles: tuple[str, ...] = ()
    card_gb: float = 128.0
    still_mb: float = 25.0

    def __post_init__(self) -> None:
        if not self.rates:
            raise RuleError("rates", "a body needs at least one frame rate", self.rates)
        if self.iso_highest < self.iso_lowest:
            raise RuleError("iso_highest", "cannot be below the lowest ISO", self.iso_highest)
        if not self.iso_lowest <= self.iso_ceiling <= self.iso_highest:
            raise RuleError(
                "iso_ceiling",
                f"has to lie in the body's range, {self.iso_lowest} to {self.iso_highest}",
                self.iso_ceiling,
            )
        if self.fastest_s > self.slowest_s:
            raise RuleError("fastest_s", "cannot be slower than the slowest time", self.fastest_s)
        if self.shutter_style is not ShutterStyle.TIME and not self.angles_deg:
            raise RuleError("angles_deg", "name the angles this body offers", self.angles_deg)
        top = max(rate.fps for rate in self.rates)
        widest = 1.0 if self.shutter_style is ShutterStyle.TIME else max(self.angles_deg) / 360
        if self.fastest_s > widest / top:
            raise RuleError(
                "fastest_s", f"leaves no shutter at {top:g} frames a second", self.fastest_s
            )


@dataclass(frozen=True, slots=True, kw_only=True)
class Lens:
    """A lens: focal range in mm, iris range, and the light its glass loses in stops."""

    name: str
    focal_shortest_mm: float
    focal_longest_mm: float
    widest_f: float
    smallest_f: float
    transmission_stops: float = 0.0
    thread_mm: float | None = None

    def __post_init__(self) -> None:
        if self.focal_longest_mm < self.focal_shortest_mm:
            raise RuleError(
                "focal_longest_mm", "cannot be shorter than the short end", self.focal_longest_mm
            )
        if self.smallest_f < self.widest_f:
            raise RuleError(
                "smallest_f", "the closed end needs the larger f-number", self.smallest_f
            )


@dataclass(frozen=True, slots=True, kw_only=True)
class Glass:
    """A filter: what it takes in stops; for a variable ND the range it turns through.

    ``thread_mm`` is None for square glass in a matte box, which fits every lens.
    """

    name: str
    kind: GlassKind
    stops: float
    most_stops: float | None = None
    thread_mm: float | None = None

    def fits(self, lens: Lens) -> bool:
        """True if the thread is the lens's own or larger (a step-up ring), or square glass."""
        if self.thread_mm is None or lens.thread_mm is None:
            return self.thread_mm is None
        return self.thread_mm >= lens.thread_mm


@dataclass(frozen=True, slots=True, kw_only=True)
class Profile:
    """A recording profile: a curve, where its grey and clip lie, and its base ISO values.

    Percents are of the profile's own scale. ``grey_percent`` None means where the
    curve itself puts 18 % grey; another value shifts the nominal exposure to it.
    """

    name: str
    curve: Curve
    clip_percent: float
    grey_percent: float | None = None
    scale: LevelScale = LevelScale.LEGAL
    bits: int = 10
    base_iso: tuple[int, ...] = ()

    def __post_init__(self) -> None:
        if self.grey_linear <= 0:
            raise RuleError("grey_percent", "lies below this curve's black", self.grey_percent)
        if self.clip_linear <= self.grey_linear:
            raise RuleError("clip_percent", "has to lie above grey", self.clip_percent)

    @property
    def grey_linear(self) -> float:
        """Scene-linear value that records as grey (0.18 unless the profile shifts it)."""
        if self.grey_percent is None:
            return 0.18
        try:
            return decode(self.curve, self.grey_percent / 100)
        except RuleError as error:
            raise RuleError("grey_percent", error.rule, self.grey_percent) from error

    @property
    def clip_linear(self) -> float:
        """Scene-linear value at which the recording clips."""
        try:
            return decode(self.curve, self.clip_percent / 100)
        except RuleError as error:
            raise RuleError("clip_percent", error.rule, self.clip_percent) from error

    @property
    def recorded_grey_percent(self) -> float:
        """Percent at which a grey card records at nominal exposure."""
        return 100 * float(encode(self.curve, self.grey_linear))
