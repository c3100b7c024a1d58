"""The setup file: one setup with all it needs, in and out (docs/formats.md)."""

from dataclasses import asdict, dataclass, fields, replace
from datetime import date, datetime, time
from typing import Annotated, Any
from zoneinfo import ZoneInfo

from fotonomy.core.ranges import Within, hints_of
from fotonomy.core.spec.setup import Setup, Site
from fotonomy.exchange.converter import from_file, to_data
from fotonomy.exchange.errors import ExchangeError
from fotonomy.exchange.schema_of import Schema, SchemaOf
from fotonomy.exchange.schemas import check, read_json
from fotonomy.exchange.versions import upgraded

VERSION = 3
# What a file keeps apart from the shot: the gear it is shot with.
GEAR = (
    "body", "lens", "tubes", "packed_lenses", "glass", "holders", "filters", "profile", "devices",
)  # fmt: skip
# What a program knows of a setup and a file does not.
_NOT_IN_FILES = ("packed_devices", "starts", "site", "daylight", "weather")
SHOT = tuple(f.name for f in fields(Setup) if f.name not in (*GEAR, *_NOT_IN_FILES))
LONGEST_NOTES = 4000


@dataclass(frozen=True, slots=True, kw_only=True)
class FilePlace:
    """The day and the place of a setup: what its planned time means, and where its sun stands."""

    date: str
    time_zone: str
    latitude_deg: Annotated[float | None, Within(-90, 90, "degrees")] = None
    longitude_deg: Annotated[float | None, Within(-180, 180, "degrees")] = None


@dataclass(frozen=True, slots=True)
class SetupFile:
    """A setup, and what a file carries beside the plan: planned time "HH:MM", notes, and place."""

    setup: Setup
    planned_time: str | None = None
    notes: str = ""
    place: FilePlace | None = None


def read_setup(raw: bytes) -> SetupFile:
    """A setup file's bytes as a setup. Raises ExchangeError with the place of the fault."""
    return setup_from_data(read_json(raw))


def setup_from_data(data: Any) -> SetupFile:
    """JSON data as a setup, files of older versions included.

    Raises ExchangeError with the JSON path of the fault.
    """
    data = upgraded(data)
    check("setup", data)
    setup = from_file({**data["setup"], **data["gear"]}, Setup, "$.setup", _place_of)
    place = None if data.get("place") is None else FilePlace(**data["place"])
    planned = data.get("planned_time")
    if place is not None:
        setup = _at_its_place(setup, planned, place)
    return SetupFile(setup, planned, data.get("notes", ""), place)


def _at_its_place(setup: Setup, planned: str | None, place: FilePlace) -> Setup:
    """The setup with its start on the place's clock, and where the place is."""
    try:
        zone = ZoneInfo(place.time_zone)
        day = date.fromisoformat(place.date)
    except (ValueError, OSError, LookupError):
        named = f"{place.date}, {place.time_zone}"[:80]
        raise ExchangeError("$.place", f"{named}: no such day or time zone") from None
    if place.latitude_deg is not None and place.longitude_deg is not None:
        setup = replace(setup, site=Site(place.latitude_deg, place.longitude_deg))
    if planned is not None:
        at = datetime.combine(day, time.fromisoformat(planned), tzinfo=zone)
        setup = replace(setup, starts=at)
    return setup


def _place_of(place: str) -> str:
    """A path within the spec as a path within the file, where gear stands apart."""
    name = place.removeprefix("$.setup.").partition(".")[0].partition("[")[0]
    return place.replace("$.setup.", "$.gear.", 1) if name in GEAR else place


def setup_to_data(held: SetupFile) -> dict[str, Any]:
    """A setup as JSON data; setup_from_data gives the same setup back."""
    hints, setup = hints_of(Setup), held.setup
    data: dict[str, Any] = {"format": "fotonomy-setup", "version": VERSION}
    if held.planned_time:
        data["planned_time"] = held.planned_time
    data["notes"] = held.notes
    if held.place is not None:
        data["place"] = {
            name: value for name, value in asdict(held.place).items() if value is not None
        }
    for part, names in (("setup", SHOT), ("gear", GEAR)):
        data[part] = {name: to_data(getattr(setup, name), hints[name]) for name in names}
    return data


def setup_properties(schema: SchemaOf) -> Schema:
    """What a setup file holds, made of the spec."""
    return {
        "format": {"const": "fotonomy-setup"},
        "version": {"const": VERSION},
        "planned_time": {"type": "string", "pattern": "^([01][0-9]|2[0-3]):[0-5][0-9]$"},
        "notes": {"type": "string", "maxLength": LONGEST_NOTES},
        "place": {
            **schema.object_of(FilePlace),
            "properties": {
                **schema.object_of(FilePlace)["properties"],
                "date": {"type": "string", "pattern": "^[0-9]{4}-[0-9]{2}-[0-9]{2}$"},
                "time_zone": {"type": "string", "maxLength": 64},
            },
        },
        "setup": schema.object_of(Setup, SHOT),
        "gear": schema.object_of(Setup, GEAR),
    }


def setup_schema() -> Schema:
    """The schema of a setup file."""
    schema = SchemaOf()
    properties = setup_properties(schema)
    return schema.file("A setup", properties, ("format", "version", "setup", "gear"))
