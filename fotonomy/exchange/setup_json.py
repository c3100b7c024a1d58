"""The setup file: one setup with all it needs, in and out (docs/formats.md)."""

from dataclasses import dataclass
from typing import Any

from fotonomy.core.errors import RuleError
from fotonomy.core.gear.support import Support
from fotonomy.core.motion.camera_movement import Camera, Movement
from fotonomy.core.motion.shutter import Shutter
from fotonomy.core.photometry.exposure_value import Ev100, Luminance, Lux, Metered, SceneLight
from fotonomy.core.spec.intent import Circle, Exposing, Handheld, Intent, Look, WhiteSchool
from fotonomy.core.spec.readings import Reading, Shape, Surface
from fotonomy.core.spec.setup import FRAMING, Kind, Limit, Setup
from fotonomy.core.spec.stills import Combining, Files, Follows, LightPoint, Ramp, Run
from fotonomy.exchange import gear_json as gj
from fotonomy.exchange.errors import ExchangeError
from fotonomy.exchange.schemas import check, read_json
from fotonomy.exchange.version_one import upgraded

VERSION = 2


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
    """JSON data as a setup, files of version 1 included.

    Raises ExchangeError with the JSON path of the fault.
    """
    data = upgraded(data)
    check("setup", data)
    try:
        return _build(data)
    except RuleError as error:
        raise ExchangeError(_path_of(error.field), error.rule) from error


def _path_of(field: str) -> str:
    return {
        "frame_rate": "$.setup.settings.frame_rate", "shutter": "$.setup.settings.shutter",
        "iris": "$.setup.settings.iris", "iso": "$.setup.settings.iso",
        "nd": "$.setup.settings.nd_density", "light": "$.setup.light",
        "subject_distance": "$.setup.subject.distance_m",
        "rates": "$.gear.body.formats", "iso_highest": "$.gear.body.iso_highest",
        "iso_ceiling": "$.gear.body.iso_ceiling", "fastest_s": "$.gear.body.fastest_s",
        "formats": "$.gear.body.formats", "widest_long_f": "$.gear.lens.widest_long_f",
        "iso_extended_lowest": "$.gear.body.iso_extended_lowest",
        "iso_extended_highest": "$.gear.body.iso_extended_highest",
        "readings": "$.setup.readings", "table": "$.gear.profile.curve.table",
        "skin_percent": "$.gear.profile.skin_percent",
        "emphasis": "$.setup.intent.emphasis", "limits": "$.setup.limits",
        "angles_deg": "$.gear.body.angles_deg",
        "focal_longest_mm": "$.gear.lens.focal_longest_mm",
        "smallest_f": "$.gear.lens.smallest_f",
        "grey_percent": "$.gear.profile.grey_percent",
        "clip_percent": "$.gear.profile.clip_percent",
    }.get(field) or _path_by_kind(field)  # fmt: skip


def _path_by_kind(field: str) -> str:
    if len(field) == 1 or field == "cut":
        return f"$.gear.profile.curve.log.{field}"
    if field in RUN_FIELDS:
        return f"$.setup.run.{field}"
    return "$.setup.readings" if field.startswith("reading_") else f"$.setup.{field}"


# What a run's own rules name.
RUN_FIELDS = frozenset({
    "event", "self_timer", "start_after", "declination", "star_px", "temperature", "burst",
    "bursts_an_hour", "moment", "passes", "trail", "frames", "light_curve",
})  # fmt: skip


def _build(data: dict[str, Any]) -> SetupFile:
    place, shot, gear = data["place"], data["setup"], data["gear"]
    settings, subject = shot["settings"], shot["subject"]
    setup = Setup(
        code=shot.get("code", ""),
        title=shot.get("title", ""),
        kind=Kind(shot["kind"]),
        project_fps=place["project_fps"],
        mains_hz=place["mains_hz"],
        mains_lamps=shot.get("mains_lamps", False),
        lamp_hz=shot.get("lamp_hz"),
        light_change_stops=shot.get("light_change_stops", 0.0),
        light=light_from_data(shot["light"]),
        readings=readings_from_data(shot.get("readings", [])),
        subject=subject["name"],
        subject_speed_m_s=subject["speed_m_s"],
        subject_distance_m=subject["distance_m"],
        subject_size_m=subject.get("size_m", 0.5),
        subject_depth_m=subject.get("depth_m", 0.3),
        movement=movement_from_data(shot.get("movement", {})),
        intent=intent_from_data(shot.get("intent", {})),
        support=Support(shot.get("support", "tripod")),
        body=gj.body_from_data(gear["body"]),
        recording=shot.get("recording", ""),
        lens=gj.lens_from_data(gear["lens"]),
        tubes=tuple(map(gj.tube_from_data, gear.get("tubes", ()))),
        packed_lenses=tuple(map(gj.lens_from_data, gear.get("bag_lenses", ()))),
        glass=tuple(map(gj.glass_from_data, gear.get("nd", ()))),
        holders=tuple(map(gj.holder_from_data, gear.get("holders", ()))),
        filters=tuple(map(gj.glass_from_data, gear.get("filters", ()))),
        profile=gj.profile_from_data(gear["profile"]),
        focal_mm=shot["focal_mm"],
        frame_rate=settings["frame_rate"],
        shutter=Shutter(**settings["shutter"]),
        iris=settings["iris"],
        iso=settings["iso"],
        nd_density=settings["nd_density"],
        white_k=settings["white_k"],
        tint_cc=settings.get("tint_cc", 0.0),
        source_k=shot.get("source_k"),
        white_bias_mired=shot.get("white_bias_mired", 0.0),
        held=frozenset(shot.get("held", FRAMING)),
        limits=limits_from_data(shot.get("limits", [])),
        wanted_screen_s=shot.get("wanted_screen_s", 5.0),
        handle_s=shot.get("handle_s", 1.0),
        run=run_from_data(shot.get("run", {})),
        devices=tuple(map(gj.device_from_data, gear.get("devices", ()))),
    )
    return SetupFile(setup, shot.get("planned_time"), shot.get("notes", ""))


def movement_from_data(data: dict[str, Any]) -> Movement:
    """A movement from checked data; absent keys keep their defaults."""
    return Movement(**{**data, "camera": Camera(data.get("camera", "locked"))})


_RUN_CHOICES: dict[str, Any] = {
    "files": Files, "follows": Follows, "ramp": Ramp, "combining": Combining,
}  # fmt: skip


def run_from_data(data: dict[str, Any]) -> Run:
    """A run from checked data; absent keys keep their defaults."""
    given = {name: kind(data[name]) for name, kind in _RUN_CHOICES.items() if name in data}
    light = tuple(LightPoint(**point) for point in data.get("light", ()))
    return Run(**{**data, **given, "light": light})


def readings_from_data(data: list[dict[str, Any]]) -> tuple[Reading, ...]:
    """Readings from checked data; absent keys keep their defaults."""
    usual = Reading(name="usual", stops=0)
    return tuple(
        Reading(
            **{**entry, "surface": Surface(entry.get("surface", usual.surface)),
               "shape": Shape(entry.get("shape", usual.shape))}
        )
        for entry in data
    )  # fmt: skip


def intent_from_data(data: dict[str, Any]) -> Intent:
    """An intent from checked data; absent keys keep their defaults."""
    usual = Intent()
    given = {
        "look": Look(data.get("look", usual.look)),
        "handheld": Handheld(data.get("handheld", usual.handheld)),
        "circle": Circle(data.get("circle", usual.circle)),
        "exposing": Exposing(data.get("exposing", usual.exposing)),
        "white_school": WhiteSchool(data.get("white_school", usual.white_school)),
        "emphasis": tuple(sorted(data.get("emphasis", {}).items())),
    }
    return Intent(**{**data, **given})


def intent_to_data(intent: Intent) -> dict[str, Any]:
    """The inverse of intent_from_data."""
    return {**gj.plain(intent), "emphasis": dict(intent.emphasis)}


def limits_from_data(data: list[dict[str, Any]]) -> tuple[Limit, ...]:
    """Limits from checked data."""
    return tuple(Limit(**entry) for entry in data)


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
            return {"metered": gj.plain(light)}


def setup_to_data(held: SetupFile) -> dict[str, Any]:
    """A setup as JSON data; setup_from_data gives the same setup back."""
    setup = held.setup
    shutter = {key: value for key, value in gj.plain(setup.shutter).items() if value is not None}
    shot: dict[str, Any] = {
        "code": setup.code, "title": setup.title, "kind": setup.kind.value,
        "light": light_to_data(setup.light), "mains_lamps": setup.mains_lamps,
        "lamp_hz": setup.lamp_hz, "light_change_stops": setup.light_change_stops,
        "readings": gj.plain(setup.readings), "source_k": setup.source_k,
        "white_bias_mired": setup.white_bias_mired,
        "subject": {
            "name": setup.subject, "speed_m_s": setup.subject_speed_m_s,
            "distance_m": setup.subject_distance_m, "size_m": setup.subject_size_m,
            "depth_m": setup.subject_depth_m,
        },
        "movement": gj.plain(setup.movement), "intent": intent_to_data(setup.intent),
        "support": setup.support.value, "recording": setup.recording,
        "settings": {
            "frame_rate": setup.frame_rate, "shutter": shutter, "iris": setup.iris,
            "iso": setup.iso, "nd_density": setup.nd_density, "white_k": setup.white_k,
            "tint_cc": setup.tint_cc,
        },
        "focal_mm": setup.focal_mm, "held": sorted(setup.held),
        "limits": gj.plain(setup.limits),
        "wanted_screen_s": setup.wanted_screen_s, "handle_s": setup.handle_s,
        "run": gj.plain(setup.run),
        "notes": held.notes,
    }  # fmt: skip
    if held.planned_time:
        shot["planned_time"] = held.planned_time
    return {
        "format": "fotonomy-setup", "version": VERSION,
        "place": {"mains_hz": setup.mains_hz, "project_fps": setup.project_fps},
        "setup": shot,
        "gear": {
            "body": gj.plain(setup.body), "lens": gj.plain(setup.lens),
            "tubes": gj.plain(setup.tubes), "nd": gj.plain(setup.glass),
            "filters": gj.plain(setup.filters),
            "holders": [gj.holder_to_data(holder) for holder in setup.holders],
            "bag_lenses": gj.plain(setup.packed_lenses),
            "devices": [gj.device_to_data(device) for device in setup.devices],
            "profile": gj.profile_to_data(setup.profile),
        },
    }  # fmt: skip
