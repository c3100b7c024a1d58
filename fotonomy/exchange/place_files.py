"""Places as GeoJSON (RFC 7946) and GPX 1.1 waypoints, in and out: names and numbers only.

What was never said (degrees) cannot be written: such a place is left out.
"""

from dataclasses import dataclass, field
from typing import Any

from fotonomy.exchange.errors import ExchangeError
from fotonomy.exchange.schemas import LARGEST_FILE_BYTES, check_texts, read_json

MOST_PLACES = 60
_NAME = 80
_NOTES = 4000


@dataclass(frozen=True, slots=True)
class PlaceData:
    """A place of a file: degrees north and east, metres, and whatever else its format holds.

    ``more`` are the columns of a place by name, as JSON has them.
    """

    name: str
    latitude_deg: float
    longitude_deg: float
    height_m: float = 0.0
    more: dict[str, Any] = field(default_factory=dict)


def to_geojson(places: list[PlaceData]) -> dict[str, Any]:
    """A FeatureCollection of points; longitude stands first, as the standard has it."""
    return {
        "type": "FeatureCollection",
        "features": [
            {
                "type": "Feature",
                "geometry": {
                    "type": "Point",
                    "coordinates": [place.longitude_deg, place.latitude_deg, place.height_m],
                },
                "properties": {"name": place.name, **place.more},
            }
            for place in places
        ],
    }


def from_geojson(raw: bytes) -> list[PlaceData]:
    """Points of a FeatureCollection or a single Feature. Raises ExchangeError with its place."""
    data = read_json(raw)
    if not isinstance(data, dict):
        raise ExchangeError("$", "is no GeoJSON object")
    features = data.get("features") if data.get("type") == "FeatureCollection" else [data]
    if not isinstance(features, list):
        raise ExchangeError("$.features", "is no list")
    if len(features) > MOST_PLACES:
        raise ExchangeError("$.features", f"holds more than {MOST_PLACES} places")
    found = []
    for at, one in enumerate(features):
        place = f"$.features[{at}]"
        if not isinstance(one, dict) or one.get("type") != "Feature":
            raise ExchangeError(place, "is no Feature")
        found.append(_feature(one, place))
    return found


def _feature(one: dict[str, Any], at: str) -> PlaceData:
    shape = one.get("geometry")
    if not isinstance(shape, dict) or shape.get("type") != "Point":
        raise ExchangeError(f"{at}.geometry", "is no Point")
    numbers = shape.get("coordinates")
    if (
        not isinstance(numbers, list)
        or len(numbers) not in (2, 3)
        or not all(isinstance(n, int | float) and not isinstance(n, bool) for n in numbers)
    ):
        raise ExchangeError(f"{at}.geometry.coordinates", "are no longitude and latitude")
    try:
        degrees = [float(number) for number in numbers]
    except OverflowError:
        raise ExchangeError(f"{at}.geometry.coordinates", "holds an absurd number") from None
    said = one.get("properties")
    more = dict(said) if isinstance(said, dict) else {}
    name = more.pop("name", "")
    height = degrees[2] if len(degrees) == 3 else 0.0
    return PlaceData(str(name)[:_NAME], degrees[1], degrees[0], height, more)


def to_gpx(places: list[PlaceData]) -> bytes:
    """Waypoints with name, height and notes."""
    from gpxpy.gpx import GPX, GPXWaypoint

    made = GPX()
    made.creator = "Fotonomy"
    for place in places:
        made.waypoints.append(GPXWaypoint(
            place.latitude_deg, place.longitude_deg, elevation=place.height_m, name=place.name,
            description=str(place.more.get("notes") or "") or None,
        ))  # fmt: skip
    return str(made.to_xml()).encode()


def from_gpx(raw: bytes) -> list[PlaceData]:
    """Waypoints of a GPX file; tracks and routes are passed over. Raises ExchangeError."""
    import gpxpy

    if len(raw) > LARGEST_FILE_BYTES:
        raise ExchangeError("the file", f"is larger than {LARGEST_FILE_BYTES // 1024} kB")
    if b"<!DOCTYPE" in raw or b"<!ENTITY" in raw:
        raise ExchangeError("the file", "declares entities, which no GPX file needs")
    try:
        read = gpxpy.parse(raw.decode("utf-8-sig"))
    except (gpxpy.gpx.GPXException, ValueError, LookupError) as error:
        raise ExchangeError("the file", f"is no GPX: {str(error)[:120]}") from error
    if len(read.waypoints) > MOST_PLACES:
        raise ExchangeError("the file", f"holds more than {MOST_PLACES} waypoints")
    return [
        PlaceData(
            (point.name or "")[:_NAME], float(point.latitude), float(point.longitude),
            float(point.elevation or 0.0),
            {"notes": point.description[:_NOTES]} if point.description else {},
        )
        for point in read.waypoints
    ]  # fmt: skip


def read_places(raw: bytes) -> list[PlaceData]:
    """Either of the two, told apart by how they begin. Raises ExchangeError."""
    if not raw.lstrip(b"\xef\xbb\xbf \t\r\n").startswith(b"<"):
        return from_geojson(raw)
    places = from_gpx(raw)
    check_texts([[place.name, place.more] for place in places])
    return places
