"""Specs as JSON data and back, by one converter for files, rows and buttons alike.

The classes of the core say what there is; only shapes that JSON has no word for are said here:
one of several sorts stands under its name (``{"lux": 900}``, ``{"card": {…}}``), a curve under
its own, a shutter as an angle or a time.
"""

from collections.abc import Callable
from dataclasses import fields
from typing import Any, TypeVar

from cattrs import BaseValidationError, Converter
from cattrs.errors import AttributeValidationNote, IterableValidationNote
from cattrs.gen import make_dict_structure_fn, make_dict_unstructure_fn, override

from fotonomy.core.curves.sampled import from_pairs
from fotonomy.core.curves.transfer_functions import STANDARDS, Curve, ParametricLog, Tabulated
from fotonomy.core.errors import RuleError
from fotonomy.core.gear.accessories import Battery, Card, Device, Heater, Remote
from fotonomy.core.gear.filters import Holder, MatteBox, StepRing
from fotonomy.core.gear.profile import Profile
from fotonomy.core.motion.shutter import Shutter
from fotonomy.core.photometry.exposure_value import Ev100, Luminance, Lux, Metered, SceneLight
from fotonomy.core.spec.intent import Intent
from fotonomy.exchange.errors import ExchangeError

Spec = TypeVar("Spec")

# One of several sorts stands under its name.
LIGHTS: dict[str, type[Any]] = {
    "ev100": Ev100, "lux": Lux, "cd_m2": Luminance, "metered": Metered,
}  # fmt: skip
HOLDERS: dict[str, type[Any]] = {"step_ring": StepRing, "matte_box": MatteBox}
DEVICES: dict[str, type[Any]] = {
    "remote": Remote, "card": Card, "battery": Battery, "heater": Heater,
}  # fmt: skip

converter = Converter(
    forbid_extra_keys=True,
    unstruct_collection_overrides={tuple: list, frozenset: sorted, set: sorted},
)


def _tagged(union: Any, sorts: dict[str, type[Any]]) -> None:
    """Register a union whose members stand under their names."""

    def structure(data: dict[str, Any], _: Any) -> Any:
        ((sort, given),) = data.items()
        return converter.structure(given, sorts[sort])

    def unstructure(value: Any) -> dict[str, Any]:
        sort = next(name for name, kind in sorts.items() if type(value) is kind)
        return {sort: converter.unstructure(value)}

    converter.register_structure_hook(union, structure)
    converter.register_unstructure_hook(union, unstructure)


def _one_number(kind: type[Any]) -> None:
    """Register a class that is one number, and stands as that number."""
    converter.register_structure_hook(kind, lambda data, _: kind(float(data)))
    converter.register_unstructure_hook(kind, lambda value: value.value)


for _light in (Ev100, Lux, Luminance):
    _one_number(_light)
_tagged(SceneLight, LIGHTS)
_tagged(Holder, HOLDERS)
_tagged(Device, DEVICES)


def _shutter_to_data(shutter: Shutter) -> dict[str, float]:
    if shutter.angle_deg is not None:
        return {"angle_deg": shutter.angle_deg}
    return {"time_s": shutter.time_s or 0.0}


converter.register_unstructure_hook(Shutter, _shutter_to_data)


def curve_from_data(name: str, data: dict[str, Any]) -> Curve:
    """``{"standard": "bt709"}``, ``{"log": {a, …, cut}}`` or ``{"table": {linear, signal}}``."""
    try:
        if "log" in data:
            return ParametricLog(name=name, **data["log"])
        if "table" in data:
            return from_pairs(name, data["table"]["linear"], data["table"]["signal"])
    except RuleError as error:
        place = f"curve.log.{error.field}" if "log" in data else f"curve.{error.field}"
        raise RuleError(place, error.rule, error.value) from error
    return STANDARDS[data["standard"]]


def curve_to_data(curve: Curve) -> dict[str, Any]:
    """The inverse of curve_from_data."""
    if isinstance(curve, ParametricLog):
        return {"log": {f.name: getattr(curve, f.name) for f in fields(curve) if f.name != "name"}}
    if isinstance(curve, Tabulated):
        return {"table": {"linear": list(curve.linear), "signal": list(curve.signal)}}
    return {"standard": next(key for key, one in STANDARDS.items() if one == curve)}


def _emphasis_from_data(data: dict[str, float], _: Any) -> tuple[tuple[str, float], ...]:
    return tuple(sorted((name, float(times)) for name, times in data.items()))


def _units_from_data(data: dict[str, str], _: Any) -> tuple[tuple[str, str], ...]:
    return tuple(sorted(data.items()))


def _profile_from_data() -> Callable[[dict[str, Any], Any], Profile]:
    plain = make_dict_structure_fn(
        Profile, converter, curve=override(struct_hook=lambda data, _: data)
    )

    def structure(data: dict[str, Any], kind: Any) -> Profile:
        curve = curve_from_data(data["name"], data["curve"])
        return plain({**data, "curve": curve}, kind)

    return structure


converter.register_structure_hook(Profile, _profile_from_data())
converter.register_unstructure_hook(
    Profile,
    make_dict_unstructure_fn(Profile, converter, curve=override(unstruct_hook=curve_to_data)),
)
converter.register_structure_hook(
    Intent,
    make_dict_structure_fn(
        Intent, converter, emphasis=override(struct_hook=_emphasis_from_data),
        units=override(struct_hook=_units_from_data),
    ),
)  # fmt: skip
converter.register_unstructure_hook(
    Intent,
    make_dict_unstructure_fn(
        Intent, converter, emphasis=override(unstruct_hook=dict),
        units=override(unstruct_hook=dict),
    ),
)  # fmt: skip


def to_data(spec: Any, kind: Any = None) -> Any:
    """A spec or a value of one as JSON data; ``kind`` where its class does not tell its sort."""
    return converter.unstructure(spec, unstructure_as=kind)


def from_data(data: Any, kind: type[Spec]) -> Spec:
    """A spec from data that was checked before. RuleError where a rule of the job is broken."""
    try:
        return converter.structure(data, kind)
    except BaseValidationError as error:
        raise _first(error, "")[1] from error


def _as_it_is(place: str) -> str:
    return place


def from_file(
    data: Any, kind: type[Spec], at: str, place_of: Callable[[str], str] = _as_it_is
) -> Spec:
    """The same for a part of a file: ExchangeError names the place, ``at`` is the part's own.

    ``place_of`` turns a path within the spec into one within the file, where they differ.
    """
    try:
        return converter.structure(data, kind)
    except RuleError as error:
        raise ExchangeError(place_of(f"{at}.{error.field}"), error.rule) from error
    except BaseValidationError as error:
        place, broken = _first(error, at)
        raise ExchangeError(place_of(f"{place}.{broken.field}"), broken.rule) from error


def _first(error: BaseValidationError, at: str) -> tuple[str, RuleError]:
    """The first broken rule within an error of the converter, and where it is."""
    for inner in error.exceptions:
        place = at
        for note in getattr(inner, "__notes__", ()):
            if isinstance(note, AttributeValidationNote):
                place = f"{at}.{note.name}"
            elif isinstance(note, IterableValidationNote):
                place = f"{at}[{note.index}]"
        if isinstance(inner, RuleError):
            return place, inner
        if isinstance(inner, BaseValidationError):
            return _first(inner, place)
        return place, RuleError("value", f"cannot be read: {inner}", None)
    return at, RuleError("value", "cannot be read", None)
