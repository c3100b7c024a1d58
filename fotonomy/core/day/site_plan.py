"""Places laid out to scale on level ground, from their degrees: metres, and px of a drawing."""

from collections.abc import Sequence
from dataclasses import dataclass
from math import cos, floor, log10, radians, tan

import numpy as np

from fotonomy.core.conversions import HALF_TURN_DEG, WHOLE_TURN_DEG
from fotonomy.core.day.travel_time import EARTH_M
from fotonomy.core.sky.track import Samples
from fotonomy.core.spec.setup import Site

# A drawing shows at least so many metres across, however near its places are to each other.
LEAST_ACROSS_M = 120.0


def ground_m(
    origin: Site, latitude_deg: float | Samples, longitude_deg: float | Samples
) -> tuple[Samples, Samples]:
    """Metres east and north of ``origin``, on a plane that touches a sphere of 6371 km there.

    The equirectangular projection: within 50 km and below 60° of latitude it is right to half a
    percent. Longitudes may lie on the other side of the date line.
    """
    turned = np.asarray(longitude_deg, dtype=float) - origin.longitude_deg + HALF_TURN_DEG
    east_deg = turned % WHOLE_TURN_DEG - HALF_TURN_DEG
    north_deg = np.asarray(latitude_deg, dtype=float) - origin.latitude_deg
    east = EARTH_M * cos(radians(origin.latitude_deg)) * np.radians(east_deg)
    return east, EARTH_M * np.radians(north_deg)


@dataclass(frozen=True, slots=True)
class Fit:
    """Where ground lies in a drawing: ``origin`` in its middle, north up, square metres square.

    ``m_per_px`` metres go into one px of its ``width`` and ``height``.
    """

    origin: Site
    m_per_px: float
    width: float
    height: float

    def px(self, site: Site) -> tuple[float, float]:
        """Where a place is, in px from the left and from the top."""
        x, y = self.all_px(site.latitude_deg, site.longitude_deg)
        return float(x), float(y)

    def all_px(
        self, latitude_deg: float | Samples, longitude_deg: float | Samples
    ) -> tuple[Samples, Samples]:
        """The same for many points at once: arrays in, arrays out."""
        east, north = ground_m(self.origin, latitude_deg, longitude_deg)
        return self.width / 2 + east / self.m_per_px, self.height / 2 - north / self.m_per_px


def fit(sites: Sequence[Site], width: float, height: float, edge: float) -> Fit:
    """The largest scale at which all of ``sites`` (one at least) keep ``edge`` px from the rim."""
    first = sites[0]
    latitudes = np.array([one.latitude_deg for one in sites])
    longitudes = np.array([one.longitude_deg for one in sites])
    east, _ = ground_m(first, latitudes, longitudes)
    middle_east = (float(east.min()) + float(east.max())) / 2
    latitude = (float(latitudes.min()) + float(latitudes.max())) / 2
    per_degree = EARTH_M * radians(1) * max(cos(radians(first.latitude_deg)), 1e-6)
    origin = Site(latitude, _turned(first.longitude_deg + middle_east / per_degree))
    east, north = ground_m(origin, latitudes, longitudes)
    across, up = float(np.ptp(east)), float(np.ptp(north))
    room = max(width - 2 * edge, 40.0), max(height - 2 * edge, 40.0)
    scale = max(across / room[0], up / room[1], LEAST_ACROSS_M / min(room))
    return Fit(origin, scale, width, height)


def _turned(longitude_deg: float) -> float:
    return (longitude_deg + HALF_TURN_DEG) % WHOLE_TURN_DEG - HALF_TURN_DEG


def round_distance(most_m: float) -> float:
    """The longest of 1, 2 and 5 times a power of ten that is no longer than ``most_m`` metres."""
    power = 10.0 ** floor(log10(most_m))
    return next(step * power for step in (5.0, 2.0, 1.0) if step * power <= most_m * (1 + 1e-9))


def field_width(across_deg: float, distance_m: float) -> float:
    """How wide the field of a picture of so many degrees is at a distance, in metres."""
    return 2 * distance_m * tan(radians(across_deg / 2))


def distance_words(metres: float) -> str:
    """A round distance as people say it: "50 m", "2 km"."""
    return f"{metres / 1000:g} km" if metres >= 1000 else f"{metres:g} m"
