"""A whole shoot as one JSON file: its places, ways, days, scenes, weather and setups with gear.

What stands where is said by number: the first place is 0. The schema says what a file may hold;
the forms that people fill in hold its parts to the rules of the job (shoots/shoot_data.py).
"""

from dataclasses import dataclass
from typing import Any

from fotonomy import __version__
from fotonomy.core.constants import EV_RANGE
from fotonomy.core.ranges import range_of
from fotonomy.core.sky.horizon import MOST_POINTS, HorizonPoint
from fotonomy.core.weather.report import MOST_HOURS, VALUES, Report, Source
from fotonomy.exchange.errors import ExchangeError
from fotonomy.exchange.kit_json import Kit, kit_from_data, kit_properties, kit_to_data
from fotonomy.exchange.schema_of import Schema, SchemaOf
from fotonomy.exchange.schemas import check, read_json
from fotonomy.exchange.setup_json import (
    SetupFile,
    setup_from_data,
    setup_properties,
    setup_to_data,
)

FORMAT, VERSION = "fotonomy-shoot", 1
LARGEST_SHOOT_BYTES = 32 * 2**20
STANDS = ("place", "day", "scene")
MOST_SETUPS, MOST_PARTS, MOST_SCENES, MOST_WAYS = 1000, 60, 300, 1800
_NUMBER = {"type": "number"}
_DATE = {"type": "string", "pattern": "^[0-9]{4}-[0-9]{2}-[0-9]{2}$"}
_CLOCK = {"type": "string", "pattern": "^([01][0-9]|2[0-3]):[0-5][0-9](:[0-5][0-9])?$"}
_MOMENT = {"type": "string", "maxLength": 40, "format": "date-time"}


@dataclass(frozen=True, slots=True)
class ShootSetup:
    """A setup of a shoot: its file, and place, day and scene by number, None where unsaid.

    ``key`` is its id where it was written from, None where it was read.
    """

    held: SetupFile
    stands: dict[str, int | None]
    key: int | None = None


@dataclass(frozen=True, slots=True)
class ShootFile:
    """A shoot: ``head`` is all of it as JSON data but kit and setups.

    ``kit`` is what it takes along, None where the kit travels apart.
    """

    head: dict[str, Any]
    setups: tuple[ShootSetup, ...]
    kit: Kit | None = None


def shoot_to_json(shoot: ShootFile) -> dict[str, Any]:
    """A shoot as JSON data."""
    return {
        "format": FORMAT, "version": VERSION, "made_by": __version__, **shoot.head,
        **({} if shoot.kit is None else {"kit": kit_to_data(shoot.kit)}),
        "setups": [
            {**{k: at for k, at in one.stands.items() if at is not None},
             "setup": setup_to_data(one.held)}
            for one in shoot.setups
        ],
    }  # fmt: skip


def read_shoot(raw: bytes) -> ShootFile:
    """A shoot file's bytes. Raises ExchangeError with the place of the fault."""
    if len(raw) > LARGEST_SHOOT_BYTES:
        raise ExchangeError("the file", f"is larger than {LARGEST_SHOOT_BYTES // 2**20} MB")
    data = read_json(raw, LARGEST_SHOOT_BYTES)
    if not isinstance(data, dict) or data.get("format") != FORMAT:
        raise ExchangeError("$.format", f"is not {FORMAT}: this is no shoot file")
    given = data.get("setups")
    # Setups are held to their own schema, one by one, so that a fault says whose it is.
    check("shoot", {**data, "setups": [] if isinstance(given, list) else given})
    assert isinstance(given, list)
    if len(given) > MOST_SETUPS:
        raise ExchangeError("$.setups", f"holds more than {MOST_SETUPS}")
    setups = [_setup(one, f"$.setups[{at}]") for at, one in enumerate(given)]
    kit = None if data.get("kit") is None else _kit(data["kit"])
    apart_from = ("format", "version", "made_by", "setups", "kit")
    head = {key: value for key, value in data.items() if key not in apart_from}
    return ShootFile(head, tuple(setups), kit)


def _kit(given: Any) -> Kit:
    try:
        return kit_from_data(given)
    except ExchangeError as error:
        raise ExchangeError(error.place.replace("$", "$.kit", 1), error.problem) from error


def _setup(given: Any, at: str) -> ShootSetup:
    if not isinstance(given, dict) or "setup" not in given:
        raise ExchangeError(at, "is no setup")
    unknown = next((name for name in given if name not in (*STANDS, "setup")), None)
    if unknown is not None:
        raise ExchangeError(f"{at}.{unknown}", "is not known here")
    for name in STANDS:
        number = given.get(name, 0)
        if isinstance(number, bool) or not isinstance(number, int) or number < 0:
            raise ExchangeError(f"{at}.{name}", "is no number of one")
    try:
        held = setup_from_data(given["setup"])
    except ExchangeError as error:
        raise ExchangeError(error.place.replace("$", f"{at}.setup", 1), error.problem) from error
    return ShootSetup(held, {name: given.get(name) for name in STANDS})


def shoot_schema() -> Schema:
    """The schema of a shoot file, with that of a setup in it."""
    schema = SchemaOf()
    setup = _object(setup_properties(schema), "format", "version", "setup", "gear")
    number = {"type": "integer", "minimum": 0, "maximum": 10_000}
    properties = {
        "format": {"const": FORMAT}, "version": {"const": VERSION}, "made_by": _text(40),
        "name": {**_text(80), "minLength": 1}, "project_fps": _NUMBER,
        **{name: _text(24) for name in ("look", "handheld", "circle", "exposing", "white_school")},
        "places": _list(_place(), MOST_PARTS, 1),
        "ways": _list(
            _object({"start": number, "end": number, "minutes": {**_NUMBER, "minimum": 0}},
                    "start", "end", "minutes"), MOST_WAYS,
        ),
        "days": _list(_object({"date": _DATE, "call": _CLOCK, "wrap": _CLOCK}, "date"),
                      MOST_PARTS, 1),
        "scenes": _list(
            _object({"code": _text(6), "title": _text(80), "story": _text(400)}, "code"),
            MOST_SCENES,
        ),
        "weather": _list(
            _object({"place": number, "day": number, "hours": _list(_hour(), MOST_HOURS)},
                    "place", "day", "hours"), MOST_PARTS * MOST_PARTS,
        ),
        "outlines": _list(
            _object({"name": _text(80), "geojson": {"type": "object"}}, "name", "geojson"),
            MOST_PARTS,
        ),
        "packs": {"anyOf": [{"type": "null"}, {
            "type": "object", "additionalProperties": _list(_text(80), 10_000),
        }]},
        "setups": _list(
            _object({"place": number, "day": number, "scene": number, "setup": setup}, "setup"),
            MOST_SETUPS,
        ),
        "kit": _object(kit_properties(schema), "format", "version"),
        "left_out": _list(_text(200), MOST_SETUPS),
    }  # fmt: skip
    return schema.file(
        "A shoot", properties, ("format", "version", "name", "places", "days", "setups")
    )  # fmt: skip


def _text(most: int) -> Schema:
    return {"type": "string", "maxLength": most}


def _list(entry: Schema, most: int, least: int = 0) -> Schema:
    found: Schema = {"type": "array", "items": entry, "maxItems": most}
    return {**found, "minItems": least} if least else found


def _object(properties: Schema, *required: str) -> Schema:
    return {
        "type": "object", "additionalProperties": False, "required": list(required),
        "properties": properties,
    }  # fmt: skip


def _within(low: float, high: float) -> Schema:
    return {"type": "number", "minimum": low, "maximum": high}


def _place() -> Schema:
    pair = {
        "type": "array", "minItems": 2, "maxItems": 2,
        "prefixItems": [
            _within(*range_of(HorizonPoint, name)) for name in ("azimuth_deg", "altitude_deg")
        ],
    }  # fmt: skip
    return _object({
        "name": _text(80), "latitude_deg": _within(-90, 90), "longitude_deg": _within(-180, 180),
        "height_m": _NUMBER, "time_zone": _text(64), "mains_hz": {"enum": [50, 60]},
        "own_ev100": _within(*EV_RANGE), "roofed": {"type": "boolean"},
        "horizon": _list(pair, MOST_POINTS), "opens": _CLOCK, "closes": _CLOCK,
        "permission": _text(200), "cautions": _text(400), "notes": _text(4000),
        "readings": _list(
            _object({"at": _MOMENT, "ev100": _within(*EV_RANGE)}, "at", "ev100"), 100
        ),
    })  # fmt: skip


def _hour() -> Schema:
    values = {name: _within(*range_of(Report, name)) for name in VALUES}
    return _object(
        {"at": _MOMENT, "kept_at": _MOMENT, "source": {"enum": [one.value for one in Source]},
         "said_by": _text(40), **values},
        "at", "kept_at", "source",
    )  # fmt: skip
