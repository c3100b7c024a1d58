"""The setup file: one setup with its gear, as JSON (docs/formats.md, setup.schema.json)."""

import json
from dataclasses import dataclass, fields
from functools import cache
from importlib.resources import files
from typing import Any

from jsonschema import Draft202012Validator
from jsonschema.exceptions import best_match

from fotonomy.core.curves import Bt709, Curve, ParametricLog
from fotonomy.core.errors import RuleError
from fotonomy.core.exposure import Ev100, Luminance, Lux, Metered, SceneLight
from fotonomy.core.gear import (
    Body,
    Glass,
    GlassKind,
    Lens,
    LevelScale,
    Profile,
    RecordingRate,
    ShutterStyle,
)
from fotonomy.core.setup import Kind, Setup
from fotonomy.core.shutter import Shutter
from fotonomy.exchange.errors import ExchangeError

# Larger than any setup can honestly be.
LARGEST_FILE_BYTES = 262_144


@dataclass(frozen=True, slots=True)
class SetupFile:
    """A setup, and what a file carries beside the plan: planned time "HH:MM" and notes."""

    setup: Setup
    planned_time: str | None = None
    notes: str = ""


@cache
def _validator() -> Draft202012Validator:
    schema = json.loads(files("fotonomy.exchange").joinpath("setup.schema.json").read_text("utf-8"))
    return Draft202012Validator(schema)


def _refuse_constant(name: str) -> float:
    raise ExchangeError("the file", f"{name} is not a number JSON knows")


def read_setup(raw: bytes) -> SetupFile:
    """A setup file's bytes as a setup. Raises ExchangeError with the place of the fault."""
    if len(raw) > LARGEST_FILE_BYTES:
        raise ExchangeError("the file", f"is larger than {LARGEST_FILE_BYTES // 1024} kB")
    try:
        data = json.loads(raw.decode("utf-8-sig"), parse_constant=_refuse_constant)
    except UnicodeDecodeError as error:
        raise ExchangeError(f"byte {error.start}", "is not UTF-8 text") from error
    except json.JSONDecodeError as error:
        place = f"line {error.lineno}, column {error.colno}"
        raise ExchangeError(place, f"not JSON: {error.msg}") from error
    except (RecursionError, ValueError) as error:
        if isinstance(error, ExchangeError):
            raise
        raise ExchangeError("the file", "is nested too deeply or holds an absurd number") from error
    return setup_from_data(data)


def setup_from_data(data: Any) -> SetupFile:
    """Checked JSON data as a setup. Raises ExchangeError with the JSON path of the fault."""
    try:
        fault = best_match(_validator().iter_errors(data))
    except (RecursionError, OverflowError) as error:
        raise ExchangeError("the file", "is nested too deeply or holds an absurd number") from error
    if fault is not None:
        raise ExchangeError(fault.json_path, _shorten(fault.message))
    try:
        return _build(data)
    except RuleError as error:
        raise ExchangeError(_path_of(error.field), error.rule) from error


def _shorten(message: str, most: int = 200) -> str:
    return message if len(message) <= most else f"{message[: most - 1]}…"


def _path_of(field: str) -> str:
    return {
        "frame_rate": "$.setup.settings.frame_rate", "shutter": "$.setup.settings.shutter",
        "iris": "$.setup.settings.iris", "iso": "$.setup.settings.iso",
        "nd": "$.setup.settings.nd_density", "light": "$.setup.light",
        "subject_distance": "$.setup.subject.distance_m",
        "rates": "$.gear.body.rates", "iso_highest": "$.gear.body.iso_highest",
        "iso_ceiling": "$.gear.body.iso_ceiling", "fastest_s": "$.gear.body.fastest_s",
        "angles_deg": "$.gear.body.angles_deg",
        "focal_longest_mm": "$.gear.lens.focal_longest_mm",
        "smallest_f": "$.gear.lens.smallest_f",
        "grey_percent": "$.gear.profile.grey_percent",
        "clip_percent": "$.gear.profile.clip_percent",
    }.get(field, f"$.gear.profile.curve.log.{field}" if len(field) == 1 or field == "cut"
          else f"$.setup.{field}")  # fmt: skip


def _build(data: dict[str, Any]) -> SetupFile:
    place, shot, gear = data["place"], data["setup"], data["gear"]
    settings, subject, key = shot["settings"], shot["subject"], shot.get("key", {})
    setup = Setup(
        code=shot.get("code", ""),
        title=shot.get("title", ""),
        kind=Kind(shot["kind"]),
        project_fps=place["project_fps"],
        mains_hz=place["mains_hz"],
        mains_lamps=shot.get("mains_lamps", False),
        light=light_from_data(shot["light"]),
        key_name=key.get("name", "skin"),
        key_stops=key.get("stops", 1.4),
        subject=subject["name"],
        subject_speed_m_s=subject["speed_m_s"],
        subject_distance_m=subject["distance_m"],
        body=body_from_data(gear["body"]),
        lens=Lens(**gear["lens"]),
        glass=tuple(glass_from_data(piece) for piece in gear.get("nd", ())),
        filters=tuple(glass_from_data(piece) for piece in gear.get("filters", ())),
        profile=profile_from_data(gear["profile"]),
        focal_mm=shot["focal_mm"],
        frame_rate=settings["frame_rate"],
        shutter=Shutter(**settings["shutter"]),
        iris=settings["iris"],
        iso=settings["iso"],
        nd_density=settings["nd_density"],
        white_k=settings["white_k"],
        held=frozenset(shot.get("held", ())),
        wanted_screen_s=shot.get("wanted_screen_s", 5.0),
        handle_s=shot.get("handle_s", 1.0),
    )
    return SetupFile(setup, shot.get("planned_time"), shot.get("notes", ""))


def light_from_data(data: dict[str, Any]) -> SceneLight:
    """``{"ev100": 12.3}``, ``{"lux": …}``, ``{"cd_m2": …}`` or ``{"metered": {…}}``."""
    ((form, value),) = data.items()
    match form:
        case "ev100":
            return Ev100(value)
        case "lux":
            return Lux(value)
        case "cd_m2":
            return Luminance(value)
    return Metered(**value)


def light_to_data(light: SceneLight) -> dict[str, Any]:
    """The inverse of light_from_data."""
    match light:
        case Ev100():
            return {"ev100": light.value}
        case Lux():
            return {"lux": light.value}
        case Luminance():
            return {"cd_m2": light.value}
        case Metered():
            return {"metered": _plain(light)}


def body_from_data(data: dict[str, Any]) -> Body:
    """A body from checked data."""
    lists = {
        "rates": tuple(RecordingRate(**rate) for rate in data["rates"]),
        "profiles": tuple(data.get("profiles", ())),
        "drive_rates_fps": tuple(data.get("drive_rates_fps", ())),
        "angles_deg": tuple(data.get("angles_deg", ())),
        "shutter_style": ShutterStyle(data.get("shutter_style", "time")),
    }
    return Body(**{**data, **lists})


def glass_from_data(data: dict[str, Any]) -> Glass:
    """A filter from checked data."""
    return Glass(**{**data, "kind": GlassKind(data["kind"])})


def curve_from_data(name: str, data: dict[str, Any]) -> Curve:
    """``{"standard": "bt709"}`` or ``{"log": {a, b, c, d, e, f, cut}}``."""
    return ParametricLog(name=name, **data["log"]) if "log" in data else Bt709()


def curve_to_data(curve: Curve) -> dict[str, Any]:
    """The inverse of curve_from_data."""
    if isinstance(curve, Bt709):
        return {"standard": "bt709"}
    return {"log": {key: value for key, value in _plain(curve).items() if key != "name"}}


def profile_from_data(data: dict[str, Any]) -> Profile:
    """A profile from checked data."""
    given = {
        "curve": curve_from_data(data["name"], data["curve"]),
        "scale": LevelScale(data.get("scale", "legal")),
        "base_iso": tuple(data.get("base_iso", ())),
    }
    return Profile(**{**data, **given})


def _plain(item: Any) -> dict[str, Any]:
    """A flat dataclass as JSON data."""
    return {f.name: _plain_value(getattr(item, f.name)) for f in fields(item)}


def _plain_value(value: Any) -> Any:
    if isinstance(value, tuple):
        return [_plain_value(entry) for entry in value]
    return _plain(value) if isinstance(value, RecordingRate) else value


def setup_to_data(held: SetupFile) -> dict[str, Any]:
    """A setup as JSON data; setup_from_data gives the same setup back."""
    setup = held.setup
    shutter = {key: value for key, value in _plain(setup.shutter).items() if value is not None}
    shot: dict[str, Any] = {
        "code": setup.code, "title": setup.title, "kind": setup.kind.value,
        "light": light_to_data(setup.light), "mains_lamps": setup.mains_lamps,
        "key": {"name": setup.key_name, "stops": setup.key_stops},
        "subject": {
            "name": setup.subject, "speed_m_s": setup.subject_speed_m_s,
            "distance_m": setup.subject_distance_m,
        },
        "settings": {
            "frame_rate": setup.frame_rate, "shutter": shutter, "iris": setup.iris,
            "iso": setup.iso, "nd_density": setup.nd_density, "white_k": setup.white_k,
        },
        "focal_mm": setup.focal_mm, "held": sorted(setup.held),
        "wanted_screen_s": setup.wanted_screen_s, "handle_s": setup.handle_s,
        "notes": held.notes,
    }  # fmt: skip
    if held.planned_time:
        shot["planned_time"] = held.planned_time
    profile = {**_plain(setup.profile), "curve": curve_to_data(setup.profile.curve)}
    return {
        "format": "fotonomy-setup", "version": 1,
        "place": {"mains_hz": setup.mains_hz, "project_fps": setup.project_fps},
        "setup": shot,
        "gear": {
            "body": _plain(setup.body), "lens": _plain(setup.lens),
            "nd": [_plain(piece) for piece in setup.glass],
            "filters": [_plain(piece) for piece in setup.filters],
            "profile": profile,
        },
    }  # fmt: skip


def write_json(data: Any) -> str:
    """JSON as people read it; never NaN."""
    return json.dumps(data, indent=2, ensure_ascii=False, allow_nan=False) + "\n"
