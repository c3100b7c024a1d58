"""Outlines drawn by people themselves, as GeoJSON (RFC 7946): a shore, walls, a path."""

from math import isfinite
from typing import Any

from fotonomy.exchange.errors import ExchangeError
from fotonomy.exchange.schemas import check_texts, read_json

# A shoot keeps so much in all; a file has so many shapes and points.
LARGEST_OUTLINES_BYTES = 500_000
MOST_SHAPES, MOST_POINTS = 2_000, 40_000
_NAME = 80
# What a geometry holds: how deep its lists of points lie, and whether they close an area.
_LINES = {"LineString": (0, False), "MultiLineString": (1, False), "Polygon": (1, True),
          "MultiPolygon": (2, True)}  # fmt: skip
_PASSED_OVER = ("Point", "MultiPoint")

Shape = dict[str, Any]


def read_outlines(raw: bytes) -> list[Shape]:
    """Lines and areas of a GeoJSON file: {"name", "area", "points": [[longitude, latitude], …]}.

    Points alone are passed over: those are places. Raises ExchangeError with the place of a fault.
    """
    if len(raw) > LARGEST_OUTLINES_BYTES:
        raise ExchangeError("the file", f"is larger than {LARGEST_OUTLINES_BYTES // 1000} kB")
    data = read_json(raw)
    check_texts(data)
    found: list[Shape] = []
    _collect(data, "", "$", found, 0)
    if not found:
        raise ExchangeError("the file", "holds no lines and no areas")
    if len(found) > MOST_SHAPES:
        raise ExchangeError("the file", f"holds more than {MOST_SHAPES} shapes")
    count = sum(len(one["points"]) for one in found)
    if count > MOST_POINTS:
        raise ExchangeError("the file", f"holds {count} points, {MOST_POINTS} at most")
    return found


def _collect(data: Any, name: str, at: str, found: list[Shape], depth: int) -> None:
    if not isinstance(data, dict) or depth > 8:
        raise ExchangeError(at, "is no GeoJSON object")
    sort = data.get("type")
    if not isinstance(sort, str):
        raise ExchangeError(f"{at}.type", "is no kind of GeoJSON")
    if sort == "FeatureCollection":
        for k, one in enumerate(_list(data.get("features"), f"{at}.features")):
            _collect(one, "", f"{at}.features[{k}]", found, depth + 1)
    elif sort == "Feature":
        said = data.get("properties")
        called = said.get("name", "") if isinstance(said, dict) else ""
        if data.get("geometry") is not None:
            label = str(called)[:_NAME] if isinstance(called, str | int | float) else ""
            _collect(data["geometry"], label, f"{at}.geometry", found, depth + 1)
    elif sort == "GeometryCollection":
        for k, one in enumerate(_list(data.get("geometries"), f"{at}.geometries")):
            _collect(one, name, f"{at}.geometries[{k}]", found, depth + 1)
    elif sort in _LINES:
        deep, area = _LINES[sort]
        _lines(data.get("coordinates"), deep, name, area, f"{at}.coordinates", found)
    elif sort not in _PASSED_OVER:
        raise ExchangeError(f"{at}.type", "is no kind of GeoJSON")


def _lines(given: Any, deep: int, name: str, area: bool, at: str, found: list[Shape]) -> None:
    entries = _list(given, at)
    if deep:
        for k, one in enumerate(entries):
            # Of an area the first ring is its rim; holes in it are drawn as lines.
            inside = area and deep == 1 and k > 0
            _lines(one, deep - 1, "" if k else name, area and not inside, f"{at}[{k}]", found)
        return
    points = [_point(one, f"{at}[{k}]") for k, one in enumerate(entries)]
    if len(points) < (4 if area else 2):
        raise ExchangeError(at, "has too few points")
    found.append({"name": name, "area": area, "points": points})


def _point(given: Any, at: str) -> list[float]:
    fits = isinstance(given, list) and len(given) >= 2 and all(
        isinstance(n, int | float) and not isinstance(n, bool) for n in given[:2]
    )  # fmt: skip
    if fits and abs(given[0]) <= 180 and abs(given[1]) <= 90 and isfinite(given[0] + given[1]):
        # A tenth of a metre is enough for a drawing.
        return [round(float(given[0]), 6), round(float(given[1]), 6)]
    raise ExchangeError(at, "is no longitude and latitude in degrees")


def _list(given: Any, at: str) -> list[Any]:
    if not isinstance(given, list):
        raise ExchangeError(at, "is no list")
    return given


def outlines_to_geojson(shapes: list[Shape]) -> dict[str, Any]:
    """Shapes as a FeatureCollection, the way ``read_outlines`` takes it in again."""
    return {
        "type": "FeatureCollection",
        "features": [
            {
                "type": "Feature",
                "properties": {"name": one["name"]} if one["name"] else {},
                "geometry": {
                    "type": "Polygon" if one["area"] else "LineString",
                    "coordinates": [one["points"]] if one["area"] else one["points"],
                },
            }
            for one in shapes
        ],
    }
