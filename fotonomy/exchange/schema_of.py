"""JSON Schemas out of the core's classes: fields, types, and the bounds declared beside them."""

from collections.abc import Callable, Iterable
from dataclasses import MISSING, fields, is_dataclass
from enum import Enum
from types import NoneType, UnionType
from typing import Annotated, Any, Union, get_args, get_origin

from fotonomy.core.constants import EV_RANGE
from fotonomy.core.curves.transfer_functions import KNOT_RANGE, STANDARDS, Curve, ParametricLog
from fotonomy.core.gear.accessories import Device
from fotonomy.core.gear.filters import Holder
from fotonomy.core.motion.shutter import Shutter
from fotonomy.core.photometry.exposure_value import Ev100, Luminance, Lux, SceneLight
from fotonomy.core.ranges import Bound, OneOf, Sized, Within, bounds_of, hints_of
from fotonomy.core.spec.intent import CRITERIA
from fotonomy.core.units import SPOKEN_UNITS
from fotonomy.exchange.converter import DEVICES, HOLDERS, LIGHTS

Schema = dict[str, Any]
DIALECT = "https://json-schema.org/draft/2020-12/schema"
_PLAIN = {bool: "boolean", int: "integer", float: "number", str: "string"}
_POSITIVE = {"type": "number", "exclusiveMinimum": 0, "maximum": 1e9}


class SchemaOf:
    """Collects the definitions that a file's schema refers to.

    ``writes`` is true for files that only leave the program: every field is there then, and a
    number without end is null.
    """

    def __init__(self, writes: bool = False) -> None:
        self.definitions: dict[str, Schema] = {}
        self.writes = writes

    def of(self, hint: Any) -> Schema:
        """The schema of an annotation."""
        bounds = bounds_of(hint)
        plain = get_args(hint)[0] if get_origin(hint) is Annotated else hint
        shape = _SHAPES.get(plain)
        if shape is not None:
            return shape(self)
        if get_origin(plain) in (Union, UnionType):
            return self._union(get_args(plain), bounds)
        if get_origin(plain) in (tuple, frozenset, list):
            return self._list(plain, bounds)
        if get_origin(plain) is dict:
            return {"type": "object", "additionalProperties": self.of(get_args(plain)[1])}
        if plain in _PLAIN:
            return self._number_or_word(plain, bounds)
        if isinstance(plain, type) and issubclass(plain, Enum):
            return {"enum": [member.value for member in plain]}
        if is_dataclass(plain) and isinstance(plain, type):
            return self.reference(plain)
        raise TypeError(f"no schema for {hint}")

    def object_of(self, cls: Any, names: Iterable[str] | None = None) -> Schema:
        """An object with the fields of a class, or with some of them."""
        hints = hints_of(cls)
        found = [f for f in fields(cls) if f.init and (names is None or f.name in names)]
        needed = [
            f.name for f in found
            if self.writes or (f.default is MISSING and f.default_factory is MISSING)
        ]  # fmt: skip
        return {
            "type": "object", "additionalProperties": False, "required": needed,
            "properties": {f.name: self.of(hints[f.name]) for f in found},
        }  # fmt: skip

    def reference(self, cls: type[Any]) -> Schema:
        """A reference to a class's definition, made when it is first asked for."""
        name = cls.__name__
        if name not in self.definitions:
            self.definitions[name] = {}
            self.definitions[name] = self.object_of(cls)
        return {"$ref": f"#/$defs/{name}"}

    def file(self, title: str, properties: Schema, required: Iterable[str]) -> Schema:
        """A whole file's schema, with the definitions collected."""
        return {
            "$schema": DIALECT, "title": title, "type": "object", "additionalProperties": False,
            "required": list(required), "properties": properties,
            "$defs": dict(sorted(self.definitions.items())),
        }  # fmt: skip

    def _union(self, members: tuple[Any, ...], bounds: tuple[Bound, ...]) -> Schema:
        sorts = [
            self.of(Annotated[(member, *bounds)] if bounds else member)
            for member in members if member is not NoneType
        ]  # fmt: skip
        if NoneType in members:
            sorts.insert(0, {"type": "null"})
        return {"anyOf": sorts} if len(sorts) > 1 else sorts[0]

    def _list(self, plain: Any, bounds: tuple[Bound, ...]) -> Schema:
        entries = get_args(plain)
        if get_origin(plain) is tuple and entries[-1] is not Ellipsis:
            return {"type": "array", "prefixItems": [self.of(entry) for entry in entries]}
        made: Schema = {"type": "array", "items": self.of(entries[0])}
        if get_origin(plain) is frozenset:
            made["uniqueItems"] = True
        for bound in bounds:
            if isinstance(bound, Sized):
                made |= {"minItems": bound.least, "maxItems": bound.most}
        return made

    def _number_or_word(self, plain: type[Any], bounds: tuple[Bound, ...]) -> Schema:
        made: Schema = {"type": _PLAIN[plain]}
        if self.writes:
            return {"type": ["number", "null"]} if plain is float else made
        for bound in bounds:
            match bound:
                case Within():
                    made["minimum"] = bound.low
                    made["maximum"] = bound.high
                case Sized():
                    made |= {"minLength": bound.least, "maxLength": bound.most}
                case OneOf():
                    return {"enum": list(bound.words)}
        return made


def _tagged(sorts: dict[str, type[Any]]) -> Callable[[SchemaOf], Schema]:
    def made(schema: SchemaOf) -> Schema:
        return {"oneOf": [_only(name, schema.of(kind)) for name, kind in sorts.items()]}

    return made


def _only(name: str, schema: Schema) -> Schema:
    return {
        "type": "object", "additionalProperties": False, "required": [name],
        "properties": {name: schema},
    }  # fmt: skip


def _curve(schema: SchemaOf) -> Schema:
    log = schema.object_of(ParametricLog, [f.name for f in fields(ParametricLog)][1:])
    column = {
        "type": "array", "minItems": KNOT_RANGE[0], "maxItems": KNOT_RANGE[1],
        "items": {"type": "number"},
    }  # fmt: skip
    table = {
        "type": "object", "additionalProperties": False, "required": ["linear", "signal"],
        "properties": {"name": {"type": "string"}, "linear": column, "signal": column},
    }  # fmt: skip
    return {
        "oneOf": [_only("standard", {"enum": list(STANDARDS)}), _only("log", log),
                  _only("table", table)]
    }  # fmt: skip


def _emphasis(_: SchemaOf) -> Schema:
    factor = {"type": "number", "minimum": 0, "maximum": 10}
    properties = dict.fromkeys(CRITERIA, factor)
    return {"type": "object", "additionalProperties": False, "properties": properties}


def _units(_: SchemaOf) -> Schema:
    properties = {
        name: {"enum": sorted(unit for unit in units if unit)}
        for name, units in SPOKEN_UNITS.items()
    }
    return {"type": "object", "additionalProperties": False, "properties": properties}


# Shapes that the classes do not tell; the converter knows the same.
_SHAPES: dict[Any, Callable[[SchemaOf], Schema]] = {
    SceneLight: _tagged(LIGHTS), Holder: _tagged(HOLDERS), Device: _tagged(DEVICES),
    Curve: _curve,
    Ev100: lambda _: {"type": "number", "minimum": EV_RANGE[0], "maximum": EV_RANGE[1]},
    Lux: lambda _: _POSITIVE, Luminance: lambda _: _POSITIVE,
    Shutter: lambda _: {
        "oneOf": [_only("angle_deg", _POSITIVE), _only("time_s", _POSITIVE)]
    },
    tuple[tuple[str, float], ...]: _emphasis,
    tuple[tuple[str, str], ...]: _units,
}  # fmt: skip
