"""Gear as JSON data and back, the same in setup files and kit files (docs/formats.md)."""

from dataclasses import fields, is_dataclass
from enum import Enum
from typing import Any

from fotonomy.core.curves.sampled import from_pairs
from fotonomy.core.curves.transfer_functions import STANDARDS, Curve, ParametricLog, Tabulated
from fotonomy.core.gear.accessories import Battery, Card, Counting, Device, Heater, Remote
from fotonomy.core.gear.body import (
    Body,
    DriveMode,
    RecordingFormat,
    RecordingRate,
    Sensor,
    ShutterStyle,
)
from fotonomy.core.gear.filters import Glass, GlassKind, Holder, MatteBox, Mount, StepRing
from fotonomy.core.gear.lens import Lens, Tube
from fotonomy.core.gear.profile import LevelScale, Profile


def plain(item: Any) -> Any:
    """A frozen dataclass, and all within it, as JSON data."""
    if is_dataclass(item) and not isinstance(item, type):
        return {f.name: plain(getattr(item, f.name)) for f in fields(item)}
    if isinstance(item, tuple):
        return [plain(entry) for entry in item]
    return item.value if isinstance(item, Enum) else item


def format_from_data(data: dict[str, Any]) -> RecordingFormat:
    """A recording format from checked data."""
    return RecordingFormat(
        **{**data, "rates": tuple(RecordingRate(**rate) for rate in data["rates"])}
    )


def body_from_data(data: dict[str, Any]) -> Body:
    """A body from checked data."""
    lists = {
        "formats": tuple(format_from_data(entry) for entry in data["formats"]),
        "drive_modes": tuple(DriveMode(**mode) for mode in data.get("drive_modes", ())),
        "profiles": tuple(data.get("profiles", ())),
        "angles_deg": tuple(data.get("angles_deg", ())),
        "nd_wheel": tuple(data.get("nd_wheel", ())),
        "shutter_style": ShutterStyle(data.get("shutter_style", "time")),
        "sensor": Sensor(**data.get("sensor", {})),
    }
    return Body(**{**data, **lists})


def lens_from_data(data: dict[str, Any]) -> Lens:
    """A lens from checked data."""
    return Lens(**data)


def glass_from_data(data: dict[str, Any]) -> Glass:
    """A filter from checked data."""
    given = {"kind": GlassKind(data["kind"]), "mount": Mount(data.get("mount", "thread"))}
    return Glass(**{**data, **given})


def holder_from_data(data: dict[str, Any]) -> Holder:
    """``{"step_ring": {…}}`` or ``{"matte_box": {…}}``."""
    if "step_ring" in data:
        return StepRing(**data["step_ring"])
    return MatteBox(**data["matte_box"])


def holder_to_data(holder: Holder) -> dict[str, Any]:
    """The inverse of holder_from_data."""
    return {"step_ring" if isinstance(holder, StepRing) else "matte_box": plain(holder)}


_DEVICES: dict[str, type[Device]] = {
    "remote": Remote, "card": Card, "battery": Battery, "heater": Heater,
}  # fmt: skip


def device_from_data(data: dict[str, Any]) -> Device:
    """``{"remote": {…}}``, ``{"card": {…}}``, ``{"battery": {…}}`` or ``{"heater": {…}}``."""
    ((sort, given),) = data.items()
    if sort == "remote":
        counting = Counting(given.get("counting", Counting.START_TO_START))
        return Remote(**{**given, "counting": counting})
    return _DEVICES[sort](**given)


def device_to_data(device: Device) -> dict[str, Any]:
    """The inverse of device_from_data."""
    sort = next(name for name, kind in _DEVICES.items() if isinstance(device, kind))
    return {sort: plain(device)}


def tube_from_data(data: dict[str, Any]) -> Tube:
    """A tube from checked data."""
    return Tube(**data)


def curve_from_data(name: str, data: dict[str, Any]) -> Curve:
    """``{"standard": "bt709"}``, ``{"log": {a, …, cut}}`` or ``{"table": {linear, signal}}``."""
    if "log" in data:
        return ParametricLog(name=name, **data["log"])
    if "table" in data:
        return from_pairs(name, data["table"]["linear"], data["table"]["signal"])
    return STANDARDS[data["standard"]]


def curve_to_data(curve: Curve) -> dict[str, Any]:
    """The inverse of curve_from_data."""
    if isinstance(curve, ParametricLog):
        return {"log": {key: value for key, value in plain(curve).items() if key != "name"}}
    if isinstance(curve, Tabulated):
        return {"table": {"linear": list(curve.linear), "signal": list(curve.signal)}}
    return {"standard": next(key for key, one in STANDARDS.items() if one == curve)}


def profile_from_data(data: dict[str, Any]) -> Profile:
    """A profile from checked data."""
    given = {
        "curve": curve_from_data(data["name"], data["curve"]),
        "scale": LevelScale(data.get("scale", "legal")),
        "base_iso": tuple(data.get("base_iso", ())),
    }
    return Profile(**{**data, **given})


def profile_to_data(profile: Profile) -> dict[str, Any]:
    """The inverse of profile_from_data."""
    return {**plain(profile), "curve": curve_to_data(profile.curve)}
