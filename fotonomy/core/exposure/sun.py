"""How high the sun stands, and the light a clear sky then gives."""

from datetime import UTC, datetime
from enum import StrEnum
from math import asin, cos, degrees, pi, radians, sin


class SkyLight(StrEnum):
    """The light of an hour, by the sun's altitude."""

    NIGHT = "night"
    DEEP_TWILIGHT = "deep twilight"
    DUSK = "dusk"
    BLUE = "blue hour"
    GOLDEN = "golden hour"
    LOW_SUN = "low sun"
    DAY = "day"


# Upper ends in degrees. Twilights at -18 and -12 are definitions (United States Naval
# Observatory glossary, from memory); blue and golden hour are common practice, no source.
_BANDS = (
    (-18.0, SkyLight.NIGHT),
    (-12.0, SkyLight.DEEP_TWILIGHT),
    (-6.0, SkyLight.DUSK),
    (-4.0, SkyLight.BLUE),
    (6.0, SkyLight.GOLDEN),
    (15.0, SkyLight.LOW_SUN),
)


def sun_altitude_deg(when: datetime, latitude_deg: float, longitude_deg: float) -> float:
    """Altitude of the sun's centre in degrees, without refraction, within half a degree.

    ``when`` has a time zone; longitude is positive east. Declination and equation of
    time by Spencer's Fourier series (1971, from memory).
    """
    utc = when.astimezone(UTC)
    hours = utc.hour + utc.minute / 60 + utc.second / 3600
    day = utc.timetuple().tm_yday - 1 + (hours - 12) / 24
    g = 2 * pi * day / 365
    declination = (
        0.006918 - 0.399912 * cos(g) + 0.070257 * sin(g) - 0.006758 * cos(2 * g)
        + 0.000907 * sin(2 * g) - 0.002697 * cos(3 * g) + 0.00148 * sin(3 * g)
    )  # fmt: skip
    equation_min = 229.18 * (
        0.000075 + 0.001868 * cos(g) - 0.032077 * sin(g)
        - 0.014615 * cos(2 * g) - 0.040849 * sin(2 * g)
    )  # fmt: skip
    hour_angle = radians((hours - 12) * 15 + longitude_deg + equation_min / 4)
    latitude = radians(latitude_deg)
    return degrees(
        asin(
            sin(latitude) * sin(declination)
            + cos(latitude) * cos(declination) * cos(hour_angle)
        )
    )  # fmt: skip


def sky_light(altitude_deg: float) -> SkyLight:
    """The band an altitude of the sun falls into."""
    return next((light for top, light in _BANDS if altitude_deg < top), SkyLight.DAY)


# Clear-sky horizontal illuminance by the sun, Explanatory Supplement to the Astronomical
# Almanac (from memory): from this altitude on, coefficients of log10 E over altitude/90.
_CLEAR_SKY = (
    (20.0, (3.74, 3.97, -4.07, 1.47)),
    (5.0, (3.05, 13.28, -45.98, 64.33)),
    (-0.8, (2.88, 22.26, -207.64, 1034.30)),
    (-5.0, (2.88, 21.81, -258.11, -858.36)),
    (-12.0, (2.70, 12.17, -431.69, -1899.83)),
    (-18.0, (13.84, 262.72, 1447.42, 2797.93)),
)


def clear_sky_lx(altitude_deg: float) -> float:
    """Illuminance in lux on level ground under a clear sky; 0 in full night."""
    if altitude_deg < _CLEAR_SKY[-1][0]:
        return 0.0
    row = next(row for low, row in _CLEAR_SKY if altitude_deg >= low)
    x = min(altitude_deg, 90.0) / 90
    return float(10 ** sum(part * x**k for k, part in enumerate(row)))
