"""How long the way between two places takes, where nobody typed it."""

from math import asin, cos, radians, sin, sqrt

from fotonomy.core.spec.setup import Site

EARTH_M = 6_371_000.0
# With gear on the back and by car in a town, metres an hour; nobody walks farther than this with
# it; a way is about so much longer than the line. All common practice, no source.
WALKING_M_H, DRIVING_M_H = 4000.0, 40_000.0
WALK_AT_MOST_M = 1500.0
DETOUR = 1.3
# To load up and unload once, and the most a day has.
LOADING_MIN, LONGEST_MIN = 10.0, 24 * 60.0


def distance_m(start: Site, end: Site) -> float:
    """Great-circle distance in metres (haversine formula) on a sphere of 6371 km."""
    lat1, lat2 = radians(start.latitude_deg), radians(end.latitude_deg)
    half = sin((lat2 - lat1) / 2) ** 2 + cos(lat1) * cos(lat2) * (
        sin(radians(end.longitude_deg - start.longitude_deg) / 2) ** 2
    )
    return 2 * EARTH_M * asin(min(1.0, sqrt(half)))


def way_minutes(start: Site | None, end: Site | None) -> float:
    """Whole minutes from one place to another; 0 where it is not known where they are.

    On foot up to 1.5 km, else by car with the time to load.
    """
    if start is None or end is None:
        return 0.0
    way = distance_m(start, end) * DETOUR
    if way <= WALK_AT_MOST_M:
        return float(round(60 * way / WALKING_M_H))
    return float(min(LONGEST_MIN, round(60 * way / DRIVING_M_H + LOADING_MIN)))
