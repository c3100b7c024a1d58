"""A test frame: where its tones landed, against where the plan puts them.

Level of an area: the file's curve is undone, and the mean of linear light is told in stops from
grey. An ordinary picture is in sRGB (IEC 61966-2-1); a still of a video in the profile's own curve.
"""

from dataclasses import dataclass
from enum import StrEnum
from math import log2
from typing import Annotated, Any

import numpy as np
from numpy.typing import NDArray

from fotonomy.core.analysis.setup import Analysis
from fotonomy.core.curves.transfer_functions import GREY, linear_of
from fotonomy.core.errors import RuleError
from fotonomy.core.gear.profile import Profile
from fotonomy.core.ranges import Within, check_bounds
from fotonomy.core.spec.readings import Reading, Shape
from fotonomy.core.tone.scene_layout import half_size
from fotonomy.core.tone.signal_levels import percent_at

Pixels = NDArray[np.uint8]
# Shares of red, green and blue in luminance (ITU-R BT.709).
LUMA = np.array([0.2126, 0.7152, 0.0722])
# From this code of 255 on a channel of a JPEG is at its top: its rounding moves whites by a code.
TOP_CODE = 254
# An area with more than this at the top says nothing of how bright it was. Common practice.
CLIPPED_SHARE = 0.02
# Of a reading's shape so much is looked at: its edge is no part of its tone.
INNER = 0.6
# Nothing is darker than this in a picture of 8 bits, in stops from grey.
DARKEST_STOPS = -9.0
SMALLEST_PX = 4


class FileCurve(StrEnum):
    """What the numbers of a file stand for."""

    PICTURE = "picture"
    PROFILE = "profile"

    @property
    def label(self) -> str:
        """The curve in words."""
        return {
            "picture": "an ordinary picture (sRGB)", "profile": "a still of the video, as recorded",
        }[self.value]  # fmt: skip


@dataclass(frozen=True, slots=True)
class Area:
    """A part of a picture in percent of its width and height, from the top left."""

    left: Annotated[float, Within(0, 100, "%")]
    top: Annotated[float, Within(0, 100, "%")]
    width: Annotated[float, Within(0.2, 100, "%")]
    height: Annotated[float, Within(0.2, 100, "%")]

    def __post_init__(self) -> None:
        check_bounds(self)
        if self.left + self.width > 100.001 or self.top + self.height > 100.001:
            raise RuleError("area", "lies within the picture", self)


@dataclass(frozen=True, slots=True)
class Measured:
    """A tone of a test frame. ``stops`` from grey as recorded and ``percent`` on the profile.

    ``off_stops`` is how much brighter it is than planned (negative: darker), None where it cannot
    be told: ``clipped_share`` of it is at the top, or it is black. ``planned_percent`` and
    ``planned_stops`` are what the plan says.
    """

    name: str
    stops: float
    percent: float
    clipped_share: float
    black: bool
    planned_stops: float
    planned_percent: float
    planned_clips: bool

    @property
    def off_stops(self) -> float | None:
        """By how many stops it is brighter than planned."""
        if self.clipped_share > CLIPPED_SHARE or self.black or self.planned_clips:
            return None
        return tone_off_stops(self.stops, self.planned_stops)


def tone_off_stops(read_stops: float, planned_stops: float) -> float:
    """How much brighter a tone is than planned, both in stops from grey as recorded."""
    return read_stops - planned_stops


def srgb_linear(signal: Any) -> NDArray[np.float64]:
    """Linear light of sRGB signals from 0 to 1, any shape (IEC 61966-2-1, 5.2)."""
    values = np.asarray(signal, dtype=np.float64)
    high = np.power((np.maximum(values, 0.04045) + 0.055) / 1.055, 2.4)
    return np.asarray(np.where(values <= 0.04045, values / 12.92, high))


def _linear_table(curve: FileCurve, profile: Profile) -> NDArray[np.float64]:
    """Linear light of each of the 256 codes, 1 where grey is."""
    signal = np.arange(256) / 255
    if curve is FileCurve.PICTURE:
        return srgb_linear(signal) / GREY
    return np.maximum(linear_of(profile.curve, signal), 0.0) / profile.grey_linear


def cut(pixels: Pixels, area: Area) -> Pixels:
    """The pixels of an area, ``(rows, columns, 3)``. Raises RuleError where it is too small."""
    height, width = pixels.shape[:2]
    left, top = round(area.left / 100 * width), round(area.top / 100 * height)
    right = max(left + 1, round((area.left + area.width) / 100 * width))
    bottom = max(top + 1, round((area.top + area.height) / 100 * height))
    part = pixels[top:bottom, left:right]
    if min(part.shape[:2]) < SMALLEST_PX:
        raise RuleError("area", f"at least {SMALLEST_PX} pixels wide and high", area)
    return part


def measured(
    pixels: Pixels, areas: dict[str, Area], analysis: Analysis, curve: FileCurve
) -> tuple[Measured, ...]:
    """Each reading that has an area, in the order of the plan.

    ``pixels`` is ``(rows, columns, 3)``, red, green, blue, 8 bits. Raises RuleError.
    """
    profile = analysis.setup.recorded_profile
    table = _linear_table(curve, profile)
    tones = {tone.name: tone for tone in (*analysis.level.tones, analysis.level.grey)}
    found = []
    for name, tone in tones.items():
        if name not in areas:
            continue
        part = cut(pixels, areas[name])
        light = float((table[part] @ LUMA).mean())
        stops = max(DARKEST_STOPS, log2(light) if light > 0 else DARKEST_STOPS)
        found.append(Measured(
            name, stops, percent_at(profile, stops),
            float((part.max(axis=2) >= TOP_CODE).mean()), stops <= DARKEST_STOPS,
            tone.placed_stops, tone.percent, tone.clipped_stops > 0,
        ))  # fmt: skip
    return tuple(found)


def off_by(found: tuple[Measured, ...], key: str) -> Measured | None:
    """The tone that says how far the frame is from the plan: the key's, else one in the middle."""
    known = [one for one in found if one.off_stops is not None]
    own = next((one for one in known if one.name == key), None)
    if own is not None or not known:
        return own
    return sorted(known, key=lambda one: one.off_stops or 0.0)[len(known) // 2]


# A frame as most are: the shapes of readings are laid out in it.
_WIDE, _HIGH = 1600.0, 900.0
# What lies behind everything is looked at low on the left until somebody says where.
_GROUND = (4.0, 72.0, 16.0, 20.0)


def area_of(reading: Reading) -> Area:
    """Where the setup's own layout has a reading, its inner part."""
    if reading.shape is Shape.GROUND:
        return Area(*_GROUND)
    half_width, half_height = half_size(reading, _WIDE, _HIGH)
    across, down = 100 * INNER * half_width / _WIDE, 100 * INNER * half_height / _HIGH
    x = 50.0 if reading.shape is Shape.BAND else reading.x_percent
    left, top = max(0.0, x - across), max(0.0, reading.y_percent - down)
    width = min(100.0, x + across) - left
    height = min(100.0, reading.y_percent + down) - top
    return Area(
        min(round(left, 2), 99.0), min(round(top, 2), 99.0), max(1.0, round(width, 2)),
        max(1.0, round(height, 2)),
    )  # fmt: skip
