"""Setup files of older versions, brought up to the present one step by step."""

from typing import Any

from fotonomy.core.spec.setup import FRAMING

_FORMAT_KEYS = ("width_px", "height_px", "sensor_width_mm", "sensor_height_mm", "rates")
# What version 2 called settings that could be held or limited.
HELD_BEFORE = {"nd": "nd_density", "focal": "focal_mm", "distance": "subject_distance_m"}
_SUBJECT = {
    "name": "subject", "speed_m_s": "subject_speed_m_s", "distance_m": "subject_distance_m",
    "size_m": "subject_size_m", "depth_m": "subject_depth_m",
}  # fmt: skip


def upgraded(data: Any) -> Any:
    """Data of an older version as the present one; anything else, broken files too, as it is."""
    if not isinstance(data, dict):
        return data
    if data.get("version") == 1:
        data = _from_one(data)
    return _from_two(data) if data.get("version") == 2 else data


def _from_one(data: dict[str, Any]) -> dict[str, Any]:
    """Version 1 knew one format a body and one reading a scene, took step rings and matte
    boxes for granted, and left focal length, distance and lens to the person.
    """
    gear, shot = data.get("gear"), data.get("setup")
    if not isinstance(gear, dict) or not isinstance(shot, dict):
        return data
    held = shot.get("held", [])
    if isinstance(held, list):
        old = [name for name, new in HELD_BEFORE.items() if new in FRAMING]
        shot = {**shot, "held": [*held, *old, "lens"]}
    return {
        **data,
        "version": 2,
        "setup": _with_readings(shot),
        "gear": {**gear, "body": body(gear.get("body")), "holders": _holders(gear)},
    }


def _from_two(data: dict[str, Any]) -> dict[str, Any]:
    """Version 2 had names of its own for many settings, and put some in groups."""
    gear, shot, place = data.get("gear"), data.get("setup"), data.get("place")
    if not (isinstance(gear, dict) and isinstance(shot, dict) and isinstance(place, dict)):
        return data
    new = {**shot, **place}
    apart = {key: new.pop(key) for key in ("planned_time", "notes") if key in new}
    for group, names in (("subject", _SUBJECT), ("settings", {})):
        given = new.pop(group, {})
        if isinstance(given, dict):
            new |= {names.get(key, key): value for key, value in given.items()}
    return {
        **{key: value for key, value in data.items() if key != "place"},
        "version": 3, **apart, "setup": renamed(new),
        "gear": {_GEAR_BEFORE.get(key, key): value for key, value in gear.items()},
    }  # fmt: skip


_GEAR_BEFORE = {"nd": "glass", "bag_lenses": "packed_lenses"}


def renamed(shot: dict[str, Any]) -> dict[str, Any]:
    """What is held, limits and the light to come under their present names.

    Rows and their history of before version 3 of the file are brought up by this too.
    """
    new = dict(shot)
    held, limits, run = (new.get(key) for key in ("held", "limits", "run"))
    if isinstance(held, list):
        new["held"] = sorted({HELD_BEFORE.get(name, name) for name in held if _is_word(name)})
    if isinstance(limits, list):
        new["limits"] = [
            {**one, "setting": HELD_BEFORE.get(str(one.get("setting")), one.get("setting"))}
            if isinstance(one, dict) else one for one in limits
        ]  # fmt: skip
    if isinstance(run, dict) and "light" in run:
        new["run"] = {("light_curve" if key == "light" else key): v for key, v in run.items()}
    return new


def _is_word(name: Any) -> bool:
    return isinstance(name, str)


def _with_readings(shot: dict[str, Any]) -> dict[str, Any]:
    """The one key reading of version 1 as the only reading."""
    key = shot.get("key", {})
    if not isinstance(key, dict):
        return shot
    reading = {"name": key.get("name", "skin"), "stops": key.get("stops", 1.4), "key": True}
    return {**{k: v for k, v in shot.items() if k != "key"}, "readings": [reading]}


def body(data: Any) -> Any:
    """A body of version 1 as one of version 2."""
    if not isinstance(data, dict) or "formats" in data:
        return data
    kept = {k: v for k, v in data.items() if k not in (*_FORMAT_KEYS, "drive_rates_fps")}
    recorded = {"name": "Standard", **{k: data[k] for k in _FORMAT_KEYS if k in data}}
    drives = data.get("drive_rates_fps", [])
    modes = [
        {"name": f"{fps:g} a second", "fps": fps} for fps in drives if isinstance(fps, int | float)
    ]
    return {**kept, "formats": [recorded], "drive_modes": modes}


def _holders(gear: dict[str, Any]) -> list[dict[str, Any]]:
    pieces = [p for key in ("nd", "filters") for p in gear.get(key) or () if isinstance(p, dict)]
    lens = gear.get("lens")
    thread = lens.get("thread_mm") if isinstance(lens, dict) else None
    found: list[dict[str, Any]] = []
    sizes = {p.get("thread_mm") for p in pieces}
    if None in sizes:
        found.append({"matte_box": {"name": "Matte box", "largest_mm": 150}})
    if isinstance(thread, int | float):
        found += [
            {"step_ring": {"name": f"Ring {thread:g} to {size:g}", "lens_mm": thread,
                           "filter_mm": size}}
            for size in sorted(s for s in sizes if isinstance(s, int | float) and s > thread)
        ]  # fmt: skip
    return found
