"""What light the sky gives: sun and moon by their height, cloud, and the place's own lamps.

An estimate, within about a stop under a clear sky and more under broken cloud; docs/light.md says
where it comes from. A person's own reading always goes before it.
"""

from dataclasses import dataclass
from datetime import datetime
from enum import StrEnum
from math import log2
from typing import Annotated, Any

import numpy as np

from fotonomy.core.constants import EV_RANGE
from fotonomy.core.ranges import Within, check_bounds
from fotonomy.core.sky.horizon import Horizon
from fotonomy.core.sky.track import Samples, Sky


class SkyLight(StrEnum):
    """The light of an hour, by the sun's altitude."""

    NIGHT = "night"
    DEEP_TWILIGHT = "deep twilight"
    TWILIGHT = "twilight"
    BLUE = "blue hour"
    GOLDEN = "golden hour"
    LOW_SUN = "low sun"
    DAY = "day"


# Rise and set by definition; the twilights too (United States Naval Observatory glossary, from
# memory). Blue and golden hour are common practice, no source.
RISE_DEG = -50 / 60
CIVIL_DEG, NAUTICAL_DEG, ASTRONOMICAL_DEG = -6.0, -12.0, -18.0
BLUE_DEG, GOLDEN_DEG = (-6.0, -4.0), (-4.0, 6.0)
# Upper ends in degrees.
_BANDS = (
    (ASTRONOMICAL_DEG, SkyLight.NIGHT),
    (NAUTICAL_DEG, SkyLight.DEEP_TWILIGHT),
    (CIVIL_DEG, SkyLight.TWILIGHT),
    (BLUE_DEG[1], SkyLight.BLUE),
    (GOLDEN_DEG[1], SkyLight.GOLDEN),
    (15.0, SkyLight.LOW_SUN),
)


def sky_light(altitude_deg: float) -> SkyLight:
    """The band an altitude of the sun falls into."""
    return next((light for top, light in _BANDS if altitude_deg < top), SkyLight.DAY)


# Horizontal illuminance, Explanatory Supplement to the Astronomical Almanac (from memory): from
# this altitude on, coefficients of log10 E over altitude/90. The sun's clear sky, the full moon's.
_CLEAR_SKY = (
    (20.0, (3.74, 3.97, -4.07, 1.47)),
    (5.0, (3.05, 13.28, -45.98, 64.33)),
    (-0.8, (2.88, 22.26, -207.64, 1034.30)),
    (-5.0, (2.88, 21.81, -258.11, -858.36)),
    (-12.0, (2.70, 12.17, -431.69, -1899.83)),
    (-18.0, (13.84, 262.72, 1447.42, 2797.93)),
)
_FULL_MOON = (
    (20.0, (-1.95, 4.06, -4.24, 1.56)),
    (5.0, (-2.58, 12.58, -42.58, 59.06)),
    (-0.8, (-2.79, 24.27, -252.95, 1321.29)),
)
# A moonless night outdoors, starlight and airglow: common practice, no source.
NIGHT_EV = -6.0
# Incident light at ISO 100, C = 250 (ISO 2720): E = 2.5 · 2^EV.
_LUX_AT_0 = 2.5
NIGHT_LX = _LUX_AT_0 * 2**NIGHT_EV
CLEAR_OKTAS, OVERCAST_OKTAS = 0.0, 8.0
# From so much cloud on it is overcast: common practice, no source.
OVERCAST_FROM_OKTAS = 7.0


def _illuminance(table: Any, altitude_deg: Any) -> Any:
    altitude = np.asarray(altitude_deg, dtype=float)
    lows = np.array([low for low, _ in table[::-1]])
    rows = np.array([row for _, row in table[::-1]])
    at = np.searchsorted(lows, altitude, side="right") - 1
    x = np.minimum(np.maximum(altitude, lows[0]), 90.0) / 90
    row = rows[np.maximum(at, 0)]
    power = row[..., 0] + x * (row[..., 1] + x * (row[..., 2] + x * row[..., 3]))
    return np.where(at >= 0, 10.0**power, 0.0)


def clear_sky_lx(altitude_deg: Any) -> Any:
    """Lux of sun and clear sky on level ground by the sun's altitude; 0 in full night.

    A number or an array of degrees; the same shape comes back.
    """
    return _illuminance(_CLEAR_SKY, altitude_deg)


def moon_lx(altitude_deg: Any, phase_deg: Any) -> Any:
    """Lux of the moon on level ground by its altitude and phase angle (0 full), in degrees."""
    phase = np.asarray(phase_deg, dtype=float)
    dimmed = 10 ** (-8.68e-3 * phase - 2.2e-9 * phase**4)
    return _illuminance(_FULL_MOON, altitude_deg) * dimmed


def cloud_stops(oktas: Any) -> Any:
    """Stops that cloud takes, by eighths of the sky: 4 takes 0.1, 7 takes 0.9, 8 takes 2.

    Kasten and Czeplak, Solar Energy 24 (1980), from memory.
    """
    share = np.clip(np.asarray(oktas, dtype=float) / 8, 0, 1)
    return -np.log2(1 - 0.75 * share**3.4)


def sky_lx(sun_deg: Any, moon_deg: Any, phase_deg: Any) -> Any:
    """Lux of a clear sky with sun and moon, never under a moonless night; degrees in."""
    return np.maximum(clear_sky_lx(sun_deg) + moon_lx(moon_deg, phase_deg), NIGHT_LX)


@dataclass(frozen=True, slots=True)
class LightReading:
    """What somebody metered at a place, in EV at ISO 100, and when.

    ``sun_deg`` is how high the sun stood then, ``sky_lx`` what a clear sky would have given.
    """

    at: datetime
    ev100: Annotated[float, Within(*EV_RANGE, "EV")]
    sun_deg: float
    sky_lx: float

    def __post_init__(self) -> None:
        check_bounds(self)

    @classmethod
    def under(cls, sky: Sky, at: datetime, ev100: float) -> "LightReading":
        """A reading with what the sky of its moment says. ``sky`` has to cover it."""
        sun = sky.sun_at(at).altitude_deg
        lit = sky_lx(sun, sky.moon_at(at).altitude_deg, sky.phase_at(at))
        return cls(at, ev100, sun, float(lit))


@dataclass(frozen=True, slots=True)
class Mixture:
    """What light of a moment is worked out of: where sun and moon stand, cloud, and lamps.

    Degrees, eighths, lux. ``factor`` is what a reading moved the sky's light by.
    """

    sun_deg: float
    moon_deg: float
    phase_deg: float
    oktas: float
    factor: float
    own_lx: float


@dataclass(frozen=True, slots=True)
class Estimate:
    """Light of a moment in EV at ISO 100: as estimated, under a clear sky, and overcast.

    ``bent_stops`` is what a reading moved it by, ``by`` that reading, None where there is none.
    ``of`` is what it is worked out of, ``plain`` what it would be without readings.
    """

    ev100: float
    clear_ev100: float
    overcast_ev100: float
    bent_stops: float = 0.0
    by: LightReading | None = None
    of: "Mixture | None" = None
    plain: "Mixture | None" = None


@dataclass(frozen=True, slots=True, eq=False)
class LightOfDay:
    """The estimate at every sample of a sky, in EV at ISO 100."""

    ev100: Samples
    clear_ev100: Samples
    overcast_ev100: Samples


@dataclass(frozen=True, eq=False)
class PlaceLight:
    """Estimates light at one place.

    ``own_ev100`` is what its lamps give at night (None: none), ``oktas`` the cloud expected
    (None: not known, then the sky is taken as clear), a number or one a sample, NaN where it is
    not known.
    ``readings`` bend the estimate: the one nearest in the sun's height counts. One taken while the
    sky gave most of the light moves the sky's part, one taken by the place's lamps moves theirs.
    """

    sky: Sky
    own_ev100: float | None = None
    oktas: Any = None
    readings: tuple[LightReading, ...] = ()

    def over(self) -> LightOfDay:
        """The estimate at every sample."""
        sky = self.sky
        clear = sky_lx(sky.sun.altitude_deg, sky.moon.altitude_deg, sky.phase_deg)
        factor, own = self._bent(sky.sun.altitude_deg)
        return LightOfDay(
            mixed_ev(clear, factor, cloud_stops(self._cloud()), own),
            mixed_ev(clear, factor, 0.0, own),
            mixed_ev(clear, factor, cloud_stops(OVERCAST_OKTAS), own),
        )

    def at(self, when: datetime) -> Estimate:
        """The estimate of one moment, with the reading that bent it."""
        sky = self.sky
        position = sky.position(when)
        sun, moon = sky.sun.at(position).altitude_deg, sky.moon.at(position).altitude_deg
        phase = sky.phase_at(when)
        clear = sky_lx(sun, moon, phase)
        factor, own = self._bent(sun)
        cloud = self.cloud_at(when)
        taken = cloud_stops(cloud)
        plain = plain_sky_ev(clear, 1.0, taken, self._own_lx)
        ev = mixed_ev(clear, factor, taken, own)
        by = min(self.readings, key=lambda one: abs(one.sun_deg - sun), default=None)
        return Estimate(
            float(ev), float(mixed_ev(clear, factor, 0.0, own)),
            float(mixed_ev(clear, factor, cloud_stops(OVERCAST_OKTAS), own)),
            float(bent_stops(ev, plain)), by,
            Mixture(sun, moon, phase, float(cloud), float(factor), float(own)),
            Mixture(sun, moon, phase, float(cloud), 1.0, self._own_lx),
        )  # fmt: skip

    def _cloud(self) -> Any:
        return 0.0 if self.oktas is None else np.nan_to_num(self.oktas, nan=0.0)

    @property
    def _own_lx(self) -> float:
        return 0.0 if self.own_ev100 is None else float(_LUX_AT_0 * 2**self.own_ev100)

    def _bent(self, sun_deg: Any) -> tuple[Any, Any]:
        """What the sky's light is multiplied by, and the place's own lux, at the sun's heights."""
        of_sky: list[tuple[float, float]] = []
        of_own: list[tuple[float, float]] = []
        for one in self.readings:
            read = _LUX_AT_0 * 2**one.ev100
            lit = one.sky_lx * 2.0 ** -float(cloud_stops(self.cloud_at(one.at)))
            if lit >= self._own_lx:
                of_sky.append((one.sun_deg, max(read - self._own_lx, read / 8) / lit))
            else:
                of_own.append((one.sun_deg, max(read - lit, read / 8)))
        return _nearest(of_sky, sun_deg, 1.0), _nearest(of_own, sun_deg, self._own_lx)

    def cloud_at(self, when: datetime) -> Any:
        """Oktas of a moment; those of the nearest end for one outside the sky."""
        cloud = self._cloud()
        if not np.ndim(cloud):
            return cloud
        return np.interp(self.sky.position(when), np.arange(len(cloud)), cloud)


def _nearest(known: list[tuple[float, float]], sun_deg: Any, usual: float) -> Any:
    """The value of the reading nearest in the sun's height, for each height."""
    if not known:
        return usual
    heights, values = np.array([k for k, _ in known]), np.array([v for _, v in known])
    near = np.abs(np.asarray(sun_deg, dtype=float)[..., None] - heights).argmin(axis=-1)
    return values[near]


def mixed_ev(clear_lx: Any, factor: Any, taken_stops: Any, own_lx: Any) -> Any:
    """EV at ISO 100 of a sky's light, moved by a reading, less what cloud takes, and lamps.

    Numbers or arrays: lux of the clear sky, a plain factor, stops, lux of the place's own lamps.
    """
    return np.log2(np.asarray(clear_lx * factor * 2.0**-taken_stops + own_lx) / _LUX_AT_0)


def bent_stops(moved_ev: Any, plain_ev: Any) -> Any:
    """By how much a reading moves the estimate, against one without readings."""
    return moved_ev - plain_ev


def plain_sky_ev(clear_lx: Any, plain_factor: Any, taken_stops: Any, plain_own_lx: Any) -> Any:
    """The estimate as it would be without readings."""
    return mixed_ev(clear_lx, plain_factor, taken_stops, plain_own_lx)


def clear_sky_ev(altitude_deg: float) -> float:
    """EV at ISO 100 of level ground under a clear moonless sky, by the sun's altitude."""
    return log2(max(float(clear_sky_lx(altitude_deg)), NIGHT_LX) / _LUX_AT_0)


def sun_is_up(sky: Sky, horizon: Horizon) -> Samples:
    """By how much the sun's upper edge shows over a place's horizon, in degrees a sample."""
    return np.asarray(horizon.over(sky.sun.altitude_deg, sky.sun.azimuth_deg))
