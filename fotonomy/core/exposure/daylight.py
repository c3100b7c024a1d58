"""Light to come at a place: points of a clear sky by the sun's height."""

from datetime import datetime, timedelta
from math import log2

from fotonomy.core import constants as c
from fotonomy.core.exposure.sun import clear_sky_lx, sun_altitude_deg
from fotonomy.core.spec.stills import LightPoint

# A moonless night outdoors, starlight and airglow: common practice, no source.
NIGHT_EV = -6.0
POINTS = 13


def clear_sky_ev(when: datetime, latitude_deg: float, longitude_deg: float) -> float:
    """EV at ISO 100 of level ground under a clear sky; never under a moonless night."""
    lux = clear_sky_lx(sun_altitude_deg(when, latitude_deg, longitude_deg))
    return max(NIGHT_EV, log2(lux / 2.5)) if lux > 0 else NIGHT_EV


def light_to_come(
    starts: datetime, lasts_s: float, latitude_deg: float, longitude_deg: float, metered_ev: float
) -> tuple[LightPoint, ...]:
    """Points over a run, moved as a whole so that the first is what was metered.

    The person's own reading overrides the model; what is taken from it is the change.
    """
    low, high = c.EV_RANGE
    times = [lasts_s * k / (POINTS - 1) for k in range(POINTS)]
    evs = [
        clear_sky_ev(starts + timedelta(seconds=at), latitude_deg, longitude_deg) for at in times
    ]
    return tuple(
        LightPoint(round(at, 1), round(min(high, max(low, ev - evs[0] + metered_ev)), 1))
        for at, ev in zip(times, evs, strict=True)
    )
