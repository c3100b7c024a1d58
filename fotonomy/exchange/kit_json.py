"""The kit file: everything a person owns, in and out (docs/formats.md)."""

from dataclasses import dataclass, fields
from typing import Annotated, Any, NamedTuple

from fotonomy.core.gear.accessories import Device
from fotonomy.core.gear.body import Body
from fotonomy.core.gear.filters import Filter, Holder
from fotonomy.core.gear.lens import Lens, Tube
from fotonomy.core.gear.profile import Profile
from fotonomy.core.gear.support import Support
from fotonomy.core.lamps.lamp import Fixture
from fotonomy.core.ranges import NAME, Sized
from fotonomy.exchange.converter import converter, from_file, to_data
from fotonomy.exchange.schema_of import Schema, SchemaOf
from fotonomy.exchange.schemas import check, read_json

VERSION = 1
MANY = Sized(0, 500)


class OwnSupport(NamedTuple):
    """What the person calls a support, and which sort it is."""

    name: Annotated[str, NAME]
    support: Support


@dataclass(frozen=True, slots=True)
class Kit:
    """A kit as the core knows it."""

    profiles: Annotated[tuple[Profile, ...], MANY] = ()
    bodies: Annotated[tuple[Body, ...], MANY] = ()
    lenses: Annotated[tuple[Lens, ...], MANY] = ()
    glass: Annotated[tuple[Filter, ...], MANY] = ()
    holders: Annotated[tuple[Holder, ...], MANY] = ()
    tubes: Annotated[tuple[Tube, ...], MANY] = ()
    supports: Annotated[tuple[OwnSupport, ...], MANY] = ()
    devices: Annotated[tuple[Device, ...], MANY] = ()
    lamps: Annotated[tuple[Fixture, ...], MANY] = ()


def _support_to_data(one: OwnSupport) -> dict[str, str]:
    name, support = one
    return {"name": name, "support": support.value}


converter.register_structure_hook(
    OwnSupport, lambda data, _: OwnSupport(data["name"], Support(data["support"]))
)
converter.register_unstructure_hook(OwnSupport, _support_to_data)


def read_kit(raw: bytes) -> Kit:
    """A kit file's bytes as a kit. Raises ExchangeError with the place of the fault."""
    return kit_from_data(read_json(raw))


def kit_from_data(data: Any) -> Kit:
    """JSON data as a kit. Raises ExchangeError with the JSON path of the fault."""
    check("kit", data)
    given = {key: value for key, value in data.items() if key not in ("format", "version")}
    return from_file(given, Kit, "$")


def kit_to_data(kit: Kit) -> dict[str, Any]:
    """A kit as JSON data; kit_from_data gives the same kit back."""
    return {"format": "fotonomy-kit", "version": VERSION, **to_data(kit, Kit)}


def kit_properties(schema: SchemaOf) -> Schema:
    """What a kit file holds, made of the core's classes."""
    named = {
        "type": "object", "additionalProperties": False, "required": ["name", "support"],
        "properties": {
            "name": {"type": "string", "minLength": NAME.least, "maxLength": NAME.most},
            "support": schema.of(Support),
        },
    }  # fmt: skip
    own = ["supports"]
    rest = [f.name for f in fields(Kit) if f.name not in own]
    return {
        "format": {"const": "fotonomy-kit"}, "version": {"const": VERSION},
        **schema.object_of(Kit, rest)["properties"],
        "supports": {"type": "array", "maxItems": MANY.most, "items": named},
    }  # fmt: skip


def kit_schema() -> Schema:
    """The schema of a kit file."""
    schema = SchemaOf()
    return schema.file("A kit", kit_properties(schema), ("format", "version"))
