"""The setup file: one setup with all it needs, in and out (docs/formats.md)."""

from dataclasses import dataclass, fields
from typing import Any

from fotonomy.core.ranges import hints_of
from fotonomy.core.spec.setup import Setup
from fotonomy.exchange.converter import from_file, to_data
from fotonomy.exchange.schema_of import Schema, SchemaOf
from fotonomy.exchange.schemas import check, read_json
from fotonomy.exchange.versions import upgraded

VERSION = 3
# What a file keeps apart from the shot: the gear it is shot with.
GEAR = (
    "body", "lens", "tubes", "packed_lenses", "glass", "holders", "filters", "profile", "devices",
)  # fmt: skip
# What a program knows of a setup and a file does not.
_NOT_IN_FILES = ("packed_devices", "starts")
SHOT = tuple(f.name for f in fields(Setup) if f.name not in (*GEAR, *_NOT_IN_FILES))
LONGEST_NOTES = 4000


@dataclass(frozen=True, slots=True)
class SetupFile:
    """A setup, and what a file carries beside the plan: planned time "HH:MM" and notes."""

    setup: Setup
    planned_time: str | None = None
    notes: str = ""


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
    return SetupFile(setup, data.get("planned_time"), data.get("notes", ""))


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
    for part, names in (("setup", SHOT), ("gear", GEAR)):
        data[part] = {name: to_data(getattr(setup, name), hints[name]) for name in names}
    return data


def setup_schema() -> Schema:
    """The schema of a setup file, made of the spec."""
    schema = SchemaOf()
    properties = {
        "format": {"const": "fotonomy-setup"},
        "version": {"const": VERSION},
        "planned_time": {"type": "string", "pattern": "^([01][0-9]|2[0-3]):[0-5][0-9]$"},
        "notes": {"type": "string", "maxLength": LONGEST_NOTES},
        "setup": schema.object_of(Setup, SHOT),
        "gear": schema.object_of(Setup, GEAR),
    }
    return schema.file("A setup", properties, ("format", "version", "setup", "gear"))
