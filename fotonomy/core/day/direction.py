"""Where the sun stands against the way the camera looks."""

from dataclasses import dataclass
from enum import StrEnum
from math import radians, tan

import numpy as np

from fotonomy.core.conversions import HALF_TURN_DEG, WHOLE_TURN_DEG
from fotonomy.core.sky.track import Samples, Sky

# Angles between the sun's azimuth and straight behind the camera, up to which light has its name;
# flare comes to about so far outside the picture. All common practice, no source.
FRONT_DEG, THREE_QUARTER_DEG, SIDE_DEG, THREE_QUARTER_BACK_DEG = 45.0, 80.0, 110.0, 150.0
FLARE_DEG = 20.0


class LightFrom(StrEnum):
    """Which side of the subject the sun lights."""

    FRONT = "front light"
    THREE_QUARTER = "three-quarter light"
    SIDE = "side light"
    THREE_QUARTER_BACK = "three-quarter back light"
    BACK = "back light"


_ENDS = (
    (FRONT_DEG, LightFrom.FRONT), (THREE_QUARTER_DEG, LightFrom.THREE_QUARTER),
    (SIDE_DEG, LightFrom.SIDE), (THREE_QUARTER_BACK_DEG, LightFrom.THREE_QUARTER_BACK),
)  # fmt: skip


@dataclass(frozen=True, slots=True)
class FieldOfView:
    """How wide and high the picture is, in degrees."""

    across_deg: float
    up_deg: float


@dataclass(frozen=True, slots=True)
class SunAngle:
    """The sun against the lens: ``off_deg`` from where the camera looks, in azimuth, 0 to 180.

    ``in_picture`` inside the field of view on both axes, ``flares`` to about 20° outside it.
    """

    light: LightFrom
    off_deg: float
    in_picture: bool
    flares: bool


def off_lens(azimuth_deg: float | Samples, looks_deg: float) -> Samples:
    """Degrees of azimuth between something and where the camera looks, 0 to 180."""
    turned_deg = np.asarray(azimuth_deg, dtype=float) - looks_deg + HALF_TURN_DEG
    return np.abs(turned_deg % WHOLE_TURN_DEG - HALF_TURN_DEG)


def light_from(off_deg: float) -> LightFrom:
    """The name of light from so far off the lens: 180 is straight behind the camera."""
    behind = 180 - off_deg
    return next((name for end, name in _ENDS if behind <= end), LightFrom.BACK)


def sun_angle(
    altitude_deg: float, azimuth_deg: float, looks_deg: float, field: FieldOfView
) -> SunAngle:
    """The sun against a level camera that looks towards an azimuth."""
    off = float(off_lens(azimuth_deg, looks_deg))
    beyond = max(off - field.across_deg / 2, abs(altitude_deg) - field.up_deg / 2)
    return SunAngle(light_from(off), off, beyond <= 0, beyond <= FLARE_DEG)


def beyond_picture(sky: Sky, looks_deg: float, field: FieldOfView) -> Samples:
    """By how many degrees the sun stands outside the picture, at every sample; under 0 inside."""
    off = off_lens(sky.sun.azimuth_deg, looks_deg)
    return np.maximum(
        off - field.across_deg / 2, np.abs(sky.sun.altitude_deg) - field.up_deg / 2
    )  # fmt: skip


def shadow_length(height_m: float, altitude_deg: float) -> float | None:
    """How long the shadow of something is on level ground, in its unit; None with the sun down."""
    if altitude_deg <= 0:
        return None
    return height_m / tan(radians(altitude_deg))
