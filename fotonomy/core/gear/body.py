"""Camera bodies: recording formats, drives, sensor, shutter and ISO ranges."""

from dataclasses import dataclass, replace
from enum import StrEnum
from functools import lru_cache
from math import hypot
from typing import Annotated

from fotonomy.core.constants import RATE_RANGE_FPS
from fotonomy.core.errors import RuleError
from fotonomy.core.gear.lens import Lens
from fotonomy.core.ranges import NAME, Sized, Within, check_bounds


class ShutterStyle(StrEnum):
    """How a body states its shutter."""

    ANGLE = "angle"
    TIME = "time"
    BOTH = "both"


@dataclass(frozen=True, slots=True)
class RecordingRate:
    """A frame rate a body records, in frames a second, and its data rate in Mb/s."""

    fps: Annotated[float, Within(0.1, 2000, "fps")]
    mb_s: Annotated[float, Within(0.01, 100_000, "Mb/s")]

    def __post_init__(self) -> None:
        check_bounds(self)


@dataclass(frozen=True, slots=True, kw_only=True)
class RecordingFormat:
    """One way a body records: delivered pixels, the part of the sensor used, its rates.

    ``sensor_*_mm`` is the area recorded, so that a crop mode is simply smaller.
    ``readout_ms`` is how long a rolling shutter takes from the first row to the last.
    ``photosites_px`` is how many photosites lie across it, None for one a delivered pixel.
    """

    name: Annotated[str, NAME]
    width_px: Annotated[int, Within(16, 100_000, "px")]
    height_px: Annotated[int, Within(16, 100_000, "px")]
    sensor_width_mm: Annotated[float, Within(0.5, 200, "mm")]
    sensor_height_mm: Annotated[float, Within(0.5, 200, "mm")]
    rates: Annotated[tuple[RecordingRate, ...], Sized(0, 64)]
    bits: Annotated[int, Within(8, 16, "bits")] = 10
    chroma: str = "4:2:2"
    readout_ms: Annotated[float | None, Within(0.01, 1000, "ms")] = None
    photosites_px: Annotated[int | None, Within(16, 200_000, "px")] = None

    def __post_init__(self) -> None:
        check_bounds(self)
        if not self.rates:
            raise RuleError("rates", "a format needs at least one frame rate", self.rates)

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

    full_well_e: Annotated[float | None, Within(100, 1e7, "electrons")] = None
    read_low_e: Annotated[float | None, Within(0, 1000, "electrons")] = None
    read_high_e: Annotated[float | None, Within(0, 1000, "electrons")] = None
    prnu_share: Annotated[float | None, Within(0, 0.2)] = None

    def __post_init__(self) -> None:
        check_bounds(self)


UNKNOWN_SENSOR = Sensor()
Degrees = Annotated[float, Within(0.1, 360, "degrees")]
Density = Annotated[float, Within(0.01, 8, "density")]


@dataclass(frozen=True, slots=True)
class DriveMode:
    """A stills drive: frames a second, shutter type, and frames until the buffer is full.

    ``fps_focusing`` is its rate while focus follows, ``buffer_jpeg`` its limit for JPEG files,
    ``precapture_s`` how long before the press it keeps frames; None as otherwise, or unknown.
    """

    name: Annotated[str, NAME]
    # As slow as a setup may be: a body without drives takes its pictures one by one.
    fps: Annotated[float, Within(*RATE_RANGE_FPS, "fps")]
    electronic: bool = False
    buffer_frames: Annotated[int | None, Within(1, 100_000, "frames")] = None
    buffer_jpeg: Annotated[int | None, Within(1, 100_000, "frames")] = None
    fps_focusing: Annotated[float | None, Within(0.1, 2000, "fps")] = None
    precapture_s: Annotated[float | None, Within(0, 60, "s")] = None

    def __post_init__(self) -> None:
        check_bounds(self)


@dataclass(frozen=True, slots=True, kw_only=True)
class Body:
    """A camera body: its recording formats, shutter and ISO ranges.

    ``iso_lowest`` to ``iso_highest`` is its own range, ``iso_extended_*`` what it can be
    pushed to; ``iso_ceiling`` is the person's. ``profiles`` names what it records; empty
    means any. ``nd_wheel`` lists the densities of a built-in wheel, clear left out. ``mount`` is
    what the person calls its lens mount; empty takes any lens. ``power_w`` is drawn at work and
    ``idle_w`` waiting; ``still_mb`` is a raw file, ``jpeg_mb`` a JPEG. It combines up to
    ``combines_most`` exposures in camera, averaged too where ``combines_averaging``.
    ``still_mp`` are the megapixels of a still, over the widest area it records and
    ``still_height_mm`` (two thirds of its width where not known). ``longest_bulb_s`` is where it
    ends a bulb exposure by itself. ``fixed_lens`` is true where the lens does not come off:
    nothing can be clipped in behind it.
    """

    name: Annotated[str, NAME]
    formats: Annotated[tuple[RecordingFormat, ...], Sized(0, 32)]
    drive_modes: Annotated[tuple[DriveMode, ...], Sized(0, 32)] = ()
    shutter_style: ShutterStyle = ShutterStyle.TIME
    angles_deg: Annotated[
        tuple[Annotated[float, Within(0.1, 360, "degrees")], ...], Sized(0, 64)
    ] = ()
    slowest_s: Annotated[float, Within(1e-6, 86_400, "s")] = 30.0
    fastest_s: Annotated[float, Within(1e-6, 3600, "s")] = 1 / 8000
    iso_lowest: Annotated[int, Within(1, 10_000_000)] = 100
    iso_highest: Annotated[int, Within(1, 10_000_000)] = 25_600
    iso_extended_lowest: Annotated[int | None, Within(1, 10_000_000)] = None
    iso_extended_highest: Annotated[int | None, Within(1, 10_000_000)] = None
    iso_ceiling: Annotated[int, Within(1, 10_000_000)] = 12_800
    profiles: Annotated[tuple[Annotated[str, NAME], ...], Sized(0, 64)] = ()
    nd_wheel: Annotated[tuple[Annotated[float, Within(0.01, 8, "density")], ...], Sized(0, 8)] = ()
    stabiliser_stops: Annotated[float, Within(0, 10, "stops")] = 0.0
    power_w: Annotated[float | None, Within(0.01, 10_000, "W")] = None
    card_gb: Annotated[float, Within(0.01, 1_000_000, "GB")] = 128.0
    still_mb: Annotated[float, Within(0.001, 100_000, "MB")] = 25.0
    mount: Annotated[str, Sized(0, 40)] = ""
    idle_w: Annotated[float | None, Within(0, 10_000, "W")] = None
    jpeg_mb: Annotated[float, Within(0.001, 100_000, "MB")] = 8.0
    still_mp: Annotated[float | None, Within(0.01, 1000, "MP")] = None
    combines_most: Annotated[int, Within(1, 1000, "exposures")] = 1
    combines_averaging: bool = False
    sensor: Sensor = UNKNOWN_SENSOR
    still_height_mm: Annotated[float | None, Within(0.5, 200, "mm")] = None
    longest_bulb_s: Annotated[float | None, Within(1, 86_400, "s")] = None
    fixed_lens: bool = False

    def __post_init__(self) -> None:
        check_bounds(self)
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

    def still_format(self, beside: RecordingFormat, bits: int) -> RecordingFormat:
        """What a still records: the whole sensor in its own photosites, not a video's pixels.

        Name, rates and readout are those of the video format in use. Without ``still_mp`` the
        photosites are the finest of any format.
        """
        return _still_format(
            self.formats, beside, self.still_mp, self.still_height_mm, bits
        )  # fmt: skip

    def format_named(self, name: str) -> RecordingFormat:
        """The format of this name, or the first one."""
        return next((f for f in self.formats if f.name == name), self.formats[0])


@lru_cache(maxsize=1024)
def _still_format(
    formats: tuple[RecordingFormat, ...], beside: RecordingFormat, megapixels: float | None,
    height_mm: float | None, bits: int,
) -> RecordingFormat:  # fmt: skip
    widest = max(formats, key=lambda f: f.sensor_width_mm)
    width = widest.sensor_width_mm
    height = 2 / 3 * width if height_mm is None else height_mm
    if megapixels is None:
        across = max(
            round(width / f.sensor_width_mm * (f.photosites_px or f.width_px)) for f in formats
        )
    else:
        across = round((1e6 * megapixels * width / height) ** 0.5)
    across = max(across, 16)
    return replace(
        beside, width_px=across, height_px=max(16, round(across * height / width)),
        sensor_width_mm=width, sensor_height_mm=height, photosites_px=None, bits=bits,
    )  # fmt: skip
