"""Nine places the sky is checked at: two polar, one on the date line, both hemispheres. Invented
names; the degrees are round numbers."""

from typing import NamedTuple
from zoneinfo import ZoneInfo


class Spot(NamedTuple):
    """Degrees north and east, metres, and the zone of its clock."""

    name: str
    latitude_deg: float
    longitude_deg: float
    height_m: float
    zone: ZoneInfo


SPOTS = (
    Spot("slip", -43.12, 147.05, 3, ZoneInfo("Australia/Hobart")),
    Spot("north cape", 78.2, 15.6, 20, ZoneInfo("Arctic/Longyearbyen")),
    Spot("ice shelf", -77.8, 166.7, 30, ZoneInfo("Antarctica/McMurdo")),
    Spot("date line", -16.8, 179.9, 5, ZoneInfo("Pacific/Fiji")),
    Spot("firth", 54.1, -3.2, 15, ZoneInfo("Europe/London")),
    Spot("river mouth", 0.5, 9.4, 10, ZoneInfo("Africa/Libreville")),
    Spot("high plain", -16.5, -68.1, 3800, ZoneInfo("America/La_Paz")),
    Spot("lake", 45.8, 9.1, 200, ZoneInfo("Europe/Rome")),
    Spot("prairie", 41.1, -101.7, 1100, ZoneInfo("America/Denver")),
)
