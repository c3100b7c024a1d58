"""What the sun does to one setup's picture while it is shot: its side, flare, shadows."""

from dataclasses import dataclass
from datetime import datetime

import numpy as np

from fotonomy.core.day.direction import (
    FLARE_DEG,
    FieldOfView,
    SunAngle,
    beyond_picture,
    shadow_length,
    sun_angle,
)
from fotonomy.core.sky.horizon import Horizon
from fotonomy.core.sky.light import sun_is_up
from fotonomy.core.sky.track import Direction, Sky, Stretch

# How tall the person is whose shadow is told, in metres.
PERSON_M = 1.8


@dataclass(frozen=True, slots=True)
class Look:
    """The sun at a moment of a setup, and when it flares or stands in the picture around then.

    ``up`` while its upper edge is over the land; ``angle`` is None where nobody said which way the
    camera looks. ``shadow_m`` is the shadow of a person on level ground.
    """

    sun: Direction
    up: bool
    angle: SunAngle | None
    flares: Stretch | None
    in_picture: Stretch | None
    shadow_m: float | None


def look_at(
    sky: Sky, horizon: Horizon, when: datetime, looks_deg: float | None, field: FieldOfView | None
) -> Look:
    """What the sun does at a moment, for a camera that looks towards an azimuth."""
    sun = sky.sun_at(when)
    up = sun_is_up(sky, horizon)
    is_up = float(horizon.over(sun.altitude_deg, sun.azimuth_deg)) >= 0
    angle = flares = inside = None
    if looks_deg is not None and field is not None:
        angle = sun_angle(sun.altitude_deg, sun.azimuth_deg, looks_deg, field)
        beyond = beyond_picture(sky, looks_deg, field)
        flares = _around(sky.stretches(np.minimum(FLARE_DEG - beyond, up)), when)
        inside = _around(sky.stretches(np.minimum(-beyond, up)), when)
    return Look(
        sun, is_up, angle, flares, inside,
        shadow_length(PERSON_M, sun.altitude_deg) if is_up else None,
    )  # fmt: skip


# A stretch farther off than this says nothing about a setup.
_NEAR_MIN = 180.0


def _around(stretches: tuple[Stretch, ...], when: datetime) -> Stretch | None:
    """The stretch that holds a moment, or else the nearest within three hours."""

    def apart(one: Stretch) -> float:
        if one.starts <= when <= one.ends:
            return 0.0
        return min(abs((one.starts - when).total_seconds()), abs((one.ends - when).total_seconds()))

    near = min(stretches, key=apart, default=None)
    return near if near is not None and apart(near) <= _NEAR_MIN * 60 else None
