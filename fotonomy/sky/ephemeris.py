"""Sun, moon and galactic centre from Skyfield and the JPL ephemeris DE421, which ships with it.

What is slow, the ephemeris with precession, nutation and light time, does not depend on the
place: it is asked every three hours, seen from the earth's centre, and kept. A place then turns
those vectors into its own sky: parallax, sidereal time, altitude and azimuth, which is
arithmetic on arrays. Against Skyfield's own way the difference is under 0.001°.
"""

from dataclasses import dataclass
from datetime import UTC, date, datetime, timedelta
from functools import lru_cache
from importlib.resources import files
from typing import Any

import numpy as np

from fotonomy.core.errors import RuleError
from fotonomy.core.sky.track import Samples, Sky, Track

# DE421 reaches from 1899 to 2053; a margin of days for nights that reach over.
FIRST_DAY, LAST_DAY = date(1900, 1, 1), date(2053, 9, 30)
# Sagittarius A*: right ascension 17h45.7m, declination −29.0°, J2000.
CORE_RA_HOURS, CORE_DEC_DEG = 17 + 45.7 / 60, -29.0
NODE_S = 3 * 3600.0
_EPOCH = datetime(1900, 1, 1, tzinfo=UTC)
# Nodes are kept in blocks of eight days.
_BLOCK = 64
# The figure of the earth, WGS 84: National Imagery and Mapping Agency TR 8350.2.
EQUATOR_KM, FLATTENING = 6378.137, 1 / 298.257223563


@dataclass(frozen=True, slots=True, eq=False)
class Nodes:
    """Seen from the earth's centre, in the equator and equinox of date, at every node.

    Vectors in km, shape (3, n); ``turned_deg`` is sidereal time at Greenwich, unwrapped.
    """

    first: int
    sun: Samples
    moon: Samples
    core: Samples
    turned_deg: Samples


class NoSkyError(RuleError):
    """A day that the ephemeris does not cover."""


@lru_cache(maxsize=1)
def _loaded() -> tuple[Any, Any]:
    from skyfield.api import Loader
    from skyfield.iokit import load_file

    timescale = Loader(".", verbose=False).timescale(builtin=True)
    return load_file(str(files("skyfield_data") / "data" / "de421.bsp")), timescale


def check_day(day: date) -> None:
    """Raise NoSkyError, with what is covered, for a day without an ephemeris."""
    if not FIRST_DAY <= day <= LAST_DAY:
        raise NoSkyError(
            "date", f"the positions of sun and moon are known from {FIRST_DAY.year} to "
            f"{LAST_DAY:%B %Y}", day.isoformat(),
        )  # fmt: skip


@lru_cache(maxsize=256)
def _block(number: int) -> Nodes:
    """Nodes of one block, asked of the ephemeris once."""
    from skyfield.api import Star

    ephemeris, timescale = _loaded()
    first = number * _BLOCK
    start = _EPOCH + timedelta(seconds=first * NODE_S)
    hours = NODE_S / 3600 * np.arange(_BLOCK)
    times = timescale.utc(start.year, start.month, start.day, start.hour + hours)
    earth = ephemeris["earth"].at(times)
    star = Star(ra_hours=CORE_RA_HOURS, dec_degrees=CORE_DEC_DEG)
    to_date = times.M

    def seen(body: Any) -> Samples:
        vector = earth.observe(body).apparent().position.km
        return np.asarray(np.einsum("ijn,jn->in", to_date, vector))

    turned = np.unwrap(times.gast * 15, period=360)
    return Nodes(first, seen(ephemeris["sun"]), seen(ephemeris["moon"]), seen(star), turned)


def _nodes(first: int, last: int) -> Nodes:
    """Nodes from one number to another, both included."""
    low, high = first // _BLOCK, last // _BLOCK
    blocks = [_block(number) for number in range(low, high + 1)]
    cut = slice(first - low * _BLOCK, last - low * _BLOCK + 1)
    turned = [blocks[0].turned_deg]
    per_block = 360.98564736629 * NODE_S / 86400
    for block in blocks[1:]:
        # The same turning, a whole number of turns further on.
        expected = turned[-1][-1] + per_block
        turned.append(block.turned_deg + 360 * np.round((expected - block.turned_deg[0]) / 360))
    sun, moon, core = (
        np.concatenate([getattr(one, name) for one in blocks], axis=1)[:, cut]
        for name in ("sun", "moon", "core")
    )
    return Nodes(first, sun, moon, core, np.concatenate(turned)[cut])  # fmt: skip


def _between(values: Samples, at: Samples) -> Samples:
    """Cubic interpolation through four even nodes about each position (Lagrange)."""
    low = np.clip(np.floor(at).astype(int) - 1, 0, values.shape[-1] - 4)
    t = at - low
    weights = (
        -(t - 1) * (t - 2) * (t - 3) / 6, t * (t - 2) * (t - 3) / 2,
        -t * (t - 1) * (t - 3) / 2, t * (t - 1) * (t - 2) / 6,
    )  # fmt: skip
    return np.asarray(sum(w * values[..., low + k] for k, w in enumerate(weights)))


def sky_over(
    latitude_deg: float, longitude_deg: float, height_m: float,
    starts: datetime, minutes: float, step_s: float = 60.0,
) -> Sky:  # fmt: skip
    """The sky over a place for some minutes from a moment, sampled every ``step_s``.

    Degrees north and east, metres over the ellipsoid. Raises NoSkyError outside DE421.
    """
    begins = starts.astimezone(UTC)
    check_day(begins.date())
    check_day((begins + timedelta(minutes=minutes)).date())
    count = round(minutes * 60 / step_s) + 1
    at = ((begins - _EPOCH).total_seconds() + step_s * np.arange(count)) / NODE_S
    first, last = int(at[0]) - 2, int(at[-1]) + 3
    nodes = _nodes(first, last)
    local = np.asarray(at - first, dtype=np.float64)
    turned = np.radians(_between(nodes.turned_deg, local) + longitude_deg)
    here = _observer_km(latitude_deg, height_m, turned)
    sun, moon = _between(nodes.sun, local), _between(nodes.moon, local)
    core = _between(nodes.core, local)

    def track(vector: Samples) -> Track:
        return _from_here(vector, turned, latitude_deg)

    to_sun, to_earth = sun - moon, -moon
    cosine = np.sum(to_sun * to_earth, axis=0) / (
        np.linalg.norm(to_sun, axis=0) * np.linalg.norm(to_earth, axis=0)
    )
    lead = np.arctan2(moon[1], moon[0]) - np.arctan2(sun[1], sun[0])
    return Sky(
        begins, step_s, track(sun - here), track(moon - here), track(core),
        np.degrees(np.arccos(np.clip(cosine, -1, 1))), np.sin(lead) > 0,
    )  # fmt: skip


def _observer_km(latitude_deg: float, height_m: float, turned_rad: Samples) -> Samples:
    """The place seen from the earth's centre, in the equator of date."""
    latitude = np.radians(latitude_deg)
    squash = (1 - FLATTENING) ** 2
    c = 1 / np.sqrt(np.cos(latitude) ** 2 + squash * np.sin(latitude) ** 2)
    out = (EQUATOR_KM * c + height_m / 1000) * np.cos(latitude)
    up = (EQUATOR_KM * c * squash + height_m / 1000) * np.sin(latitude)
    return np.array([out * np.cos(turned_rad), out * np.sin(turned_rad),
                     np.full_like(turned_rad, up)])  # fmt: skip


def _from_here(vector: Samples, turned_rad: Samples, latitude_deg: float) -> Track:
    x, y, z = vector
    distance = np.sqrt(x * x + y * y + z * z)
    hour_angle = turned_rad - np.arctan2(y, x)
    latitude = np.radians(latitude_deg)
    flat, up = np.hypot(x, y) / distance, z / distance
    south = flat * np.cos(hour_angle) * np.sin(latitude) - up * np.cos(latitude)
    west = flat * np.sin(hour_angle)
    height = flat * np.cos(hour_angle) * np.cos(latitude) + up * np.sin(latitude)
    altitude = np.degrees(np.arcsin(np.clip(height, -1, 1)))
    return Track(altitude, np.degrees(np.arctan2(-west, -south)) % 360)


@lru_cache(maxsize=128)
def sky_of_day(
    latitude_deg: float, longitude_deg: float, height_m: float, starts: datetime, hours: int
) -> Sky:
    """The same for whole hours from a moment, minute by minute, and kept for the next page."""
    return sky_over(latitude_deg, longitude_deg, height_m, starts, 60 * hours)
