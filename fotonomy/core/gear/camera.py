"""What a person owns, as plain facts: bodies, lenses, tubes and recording profiles."""

from dataclasses import dataclass
from enum import StrEnum
from math import hypot, log2

from fotonomy.core.curves.transfer_functions import Curve, decode, encode
from fotonomy.core.errors import RuleError


class ShutterStyle(StrEnum):
    """How a body states its shutter."""

    ANGLE = "angle"
    TIME = "time"
    BOTH = "both"


class LevelScale(StrEnum):
    """Which code values 0 % and 100 % stand for: 64-940 of 10 bits, or 0-1023."""

    LEGAL = "legal"
    FULL = "full"


class Support(StrEnum):
    """What carries the camera."""

    HAND = "hand"
    SHOULDER = "shoulder"
    GIMBAL = "gimbal"
    TRIPOD = "tripod"
    VEHICLE = "vehicle"
    DRONE = "drone"


# Supports where a person's own shake reaches the picture.
SHAKEN_SUPPORTS = frozenset({Support.HAND, Support.SHOULDER})


@dataclass(frozen=True, slots=True)
class RecordingRate:
    """A frame rate a body records, in frames a second, and its data rate in Mb/s."""

    fps: float
    mb_s: float


@dataclass(frozen=True, slots=True, kw_only=True)
class RecordingFormat:
    """One way a body records: delivered pixels, the part of the sensor used, its rates.

    ``sensor_*_mm`` is the area recorded, so that a crop mode is simply smaller.
    ``readout_ms`` is how long a rolling shutter takes from the first row to the last.
    ``photosites_px`` is how many photosites lie across it, None for one a delivered pixel.
    """

    name: str
    width_px: int
    height_px: int
    sensor_width_mm: float
    sensor_height_mm: float
    rates: tuple[RecordingRate, ...]
    bits: int = 10
    chroma: str = "4:2:2"
    readout_ms: float | None = None
    photosites_px: int | None = None

    def __post_init__(self) -> None:
        if not self.rates:
            raise RuleError("rates", "a format needs at least one frame rate", self.rates)
        if min(self.sensor_width_mm, self.sensor_height_mm) <= 0:
            raise RuleError("sensor_width_mm", "has to be more than zero", self.sensor_width_mm)

    @property
    def diagonal_mm(self) -> float:
        """Diagonal of the recorded area."""
        return hypot(self.sensor_width_mm, self.sensor_height_mm)

    @property
    def pitch_mm(self) -> float:
        """Width of one delivered pixel on the sensor."""
        return self.sensor_width_mm / self.width_px


@dataclass(frozen=True, slots=True, kw_only=True)
class Sensor:
    """What a sensor's noise is made of, after EMVA Standard 1288; None is not known.

    Full well in electrons at the lowest base, read noise in electrons below the upper base
    and from it on, and the share of the signal by which photosites differ.
    """

    full_well_e: float | None = None
    read_low_e: float | None = None
    read_high_e: float | None = None
    prnu_share: float | None = None

    def __post_init__(self) -> None:
        for field, value, low, high in (
            ("full_well_e", self.full_well_e, 100.0, 1e7),
            ("read_low_e", self.read_low_e, 0.0, 1000.0),
            ("read_high_e", self.read_high_e, 0.0, 1000.0),
            ("prnu_share", self.prnu_share, 0.0, 0.2),
        ):
            if value is not None and not low <= value <= high:
                raise RuleError(field, f"has to lie between {low:g} and {high:g}", value)


UNKNOWN_SENSOR = Sensor()


@dataclass(frozen=True, slots=True)
class DriveMode:
    """A stills drive: frames a second, shutter type, and frames until the buffer is full.

    ``fps_focusing`` is its rate while focus follows, ``buffer_jpeg`` its limit for JPEG files,
    ``precapture_s`` how long before the press it keeps frames; None as otherwise, or unknown.
    """

    name: str
    fps: float
    electronic: bool = False
    buffer_frames: int | None = None
    buffer_jpeg: int | None = None
    fps_focusing: float | None = None
    precapture_s: float | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Body:
    """A camera body: its recording formats, shutter and ISO ranges.

    ``iso_lowest`` to ``iso_highest`` is its own range, ``iso_extended_*`` what it can be
    pushed to; ``iso_ceiling`` is the person's. ``profiles`` names what it records; empty
    means any. ``nd_wheel`` lists the densities of a built-in wheel, clear left out. ``mount`` is
    what the person calls its lens mount; empty takes any lens. ``power_w`` is drawn at work and
    ``idle_w`` waiting; ``still_mb`` is a raw file, ``jpeg_mb`` a JPEG. It combines up to
    ``combines_most`` exposures in camera, averaged too where ``combines_averaging``.
    """

    name: str
    formats: tuple[RecordingFormat, ...]
    drive_modes: tuple[DriveMode, ...] = ()
    shutter_style: ShutterStyle = ShutterStyle.TIME
    angles_deg: tuple[float, ...] = ()
    slowest_s: float = 30.0
    fastest_s: float = 1 / 8000
    iso_lowest: int = 100
    iso_highest: int = 25_600
    iso_extended_lowest: int | None = None
    iso_extended_highest: int | None = None
    iso_ceiling: int = 12_800
    profiles: tuple[str, ...] = ()
    nd_wheel: tuple[float, ...] = ()
    stabiliser_stops: float = 0.0
    power_w: float | None = None
    card_gb: float = 128.0
    still_mb: float = 25.0
    mount: str = ""
    idle_w: float | None = None
    jpeg_mb: float = 8.0
    still_mp: float | None = None
    combines_most: int = 1
    combines_averaging: bool = False
    sensor: Sensor = UNKNOWN_SENSOR

    def __post_init__(self) -> None:
        if not self.formats:
            raise RuleError("formats", "a body needs at least one recording format", self.formats)
        names = [f.name for f in self.formats]
        if len(set(names)) < len(names):
            raise RuleError("formats", "two formats share a name", names)
        self._check_iso()
        if self.fastest_s > self.slowest_s:
            raise RuleError("fastest_s", "cannot be slower than the slowest time", self.fastest_s)
        if self.shutter_style is not ShutterStyle.TIME and not self.angles_deg:
            raise RuleError("angles_deg", "name the angles this body offers", self.angles_deg)
        top = max(rate.fps for f in self.formats for rate in f.rates)
        widest = 1.0 if self.shutter_style is ShutterStyle.TIME else max(self.angles_deg) / 360
        if self.fastest_s > widest / top:
            raise RuleError(
                "fastest_s", f"leaves no shutter at {top:g} frames a second", self.fastest_s
            )

    def _check_iso(self) -> None:
        if self.iso_highest < self.iso_lowest:
            raise RuleError("iso_highest", "cannot be below the lowest ISO", self.iso_highest)
        low, high = self.iso_extended_lowest, self.iso_extended_highest
        if low is not None and low > self.iso_lowest:
            raise RuleError("iso_extended_lowest", "lies above the lowest ISO", low)
        if high is not None and high < self.iso_highest:
            raise RuleError("iso_extended_highest", "lies below the highest ISO", high)
        lowest, highest = self.iso_reach
        if not lowest <= self.iso_ceiling <= highest:
            raise RuleError(
                "iso_ceiling", f"has to lie in the body's range, {lowest} to {highest}",
                self.iso_ceiling,
            )  # fmt: skip

    @property
    def iso_reach(self) -> tuple[int, int]:
        """Lowest and highest ISO with the extended ends."""
        return (
            self.iso_lowest if self.iso_extended_lowest is None else self.iso_extended_lowest,
            self.iso_highest if self.iso_extended_highest is None else self.iso_extended_highest,
        )

    def takes(self, lens: "Lens") -> bool:
        """True if a lens goes on it, as far as both mounts are named."""
        return not self.mount or not lens.mount or self.mount == lens.mount

    def format_named(self, name: str) -> RecordingFormat:
        """The format of this name, or the first one."""
        return next((f for f in self.formats if f.name == name), self.formats[0])


@dataclass(frozen=True, slots=True, kw_only=True)
class Tube:
    """An extension tube between body and lens; tubes stack."""

    name: str
    length_mm: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Lens:
    """A lens: focal range in mm, iris range, and the light its glass loses in stops.

    ``widest_long_f`` is the widest iris at the long end where it differs.
    ``close_focus_m`` None means unknown, and nothing is refused; ``greatest_magnification``
    is taken from it where not given. ``squeeze`` over 1 is anamorphic. ``mount`` as at the body.
    """

    name: str
    focal_shortest_mm: float
    focal_longest_mm: float
    widest_f: float
    smallest_f: float
    widest_long_f: float | None = None
    transmission_stops: float = 0.0
    thread_mm: float | None = None
    close_focus_m: float | None = None
    greatest_magnification: float | None = None
    stabiliser_stops: float = 0.0
    squeeze: float = 1.0
    mount: str = ""

    def __post_init__(self) -> None:
        if self.focal_longest_mm < self.focal_shortest_mm:
            raise RuleError(
                "focal_longest_mm", "cannot be shorter than the short end", self.focal_longest_mm
            )
        if self.smallest_f < self.widest_f:
            raise RuleError(
                "smallest_f", "the closed end needs the larger f-number", self.smallest_f
            )
        if self.widest_long_f is not None and not (
            self.widest_f <= self.widest_long_f <= self.smallest_f
        ):
            raise RuleError(
                "widest_long_f", "has to lie between the widest and the closed iris",
                self.widest_long_f,
            )  # fmt: skip

    def widest_at(self, focal_mm: float) -> float:
        """Widest iris at a focal length: between the ends in proportion, in stops.

        A straight line over the logarithm of the focal length, to a tenth as cameras show
        it: common practice, no source.
        """
        short, long = self.focal_shortest_mm, self.focal_longest_mm
        if self.widest_long_f is None or long <= short:
            return self.widest_f
        share = min(1.0, max(0.0, log2(focal_mm / short) / log2(long / short)))
        return round(float(self.widest_f * (self.widest_long_f / self.widest_f) ** share), 1)


def loss_from_t_number(t_number: float, f_number: float) -> float:
    """Stops a lens loses in its glass: ``2*log2(T/N)``; RuleError if T is under the f-number."""
    if t_number < f_number * 0.995:
        raise RuleError(
            "transmission_stops", f"a T-number is no smaller than f/{f_number:g}", t_number
        )
    return max(0.0, 2 * log2(t_number / f_number))


@dataclass(frozen=True, slots=True, kw_only=True)
class Profile:
    """A recording profile: a curve, where its grey and clip lie, and its base ISO values.

    Percents are of the profile's own scale. ``grey_percent`` None means where the
    curve itself puts 18 % grey; another value shifts the nominal exposure to it.
    ``skin_percent`` is where its users put the bright side of light skin, None for 1.45 stops
    over grey. ``purpose`` says in a few words what it is for.
    """

    name: str
    curve: Curve
    clip_percent: float
    grey_percent: float | None = None
    skin_percent: float | None = None
    scale: LevelScale = LevelScale.LEGAL
    bits: int = 10
    base_iso: tuple[int, ...] = ()
    purpose: str = ""

    def __post_init__(self) -> None:
        if self.grey_linear <= 0:
            raise RuleError("grey_percent", "lies below this curve's black", self.grey_percent)
        if self.clip_linear <= self.grey_linear:
            raise RuleError("clip_percent", "has to lie above grey", self.clip_percent)
        skin = self.skin_percent
        if skin is not None and not self.recorded_grey_percent < skin < self.clip_percent:
            raise RuleError("skin_percent", "has to lie between grey and the clip", skin)

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
