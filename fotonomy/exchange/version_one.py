"""Setup files of version 1, written before bodies had several formats, as version 2."""

from typing import Any

from fotonomy.core.spec.setup import FRAMING

_FORMAT_KEYS = ("width_px", "height_px", "sensor_width_mm", "sensor_height_mm", "rates")


def upgraded(data: Any) -> Any:
    """Data of version 1 as version 2; anything else, broken files included, as it is.

    Version 1 knew one format a body and one reading a scene, took step rings and matte
    boxes for granted, and left focal length, distance and lens to the person.
    """
    if not isinstance(data, dict) or data.get("version") != 1:
        return data
    gear, shot = data.get("gear"), data.get("setup")
    if not isinstance(gear, dict) or not isinstance(shot, dict):
        return data
    held = shot.get("held", [])
    if isinstance(held, list):
        shot = {**shot, "held": [*held, *FRAMING]}
    shot = _with_readings(shot)
    return {
        **data,
        "version": 2,
        "setup": shot,
        "gear": {**gear, "body": body(gear.get("body")), "holders": _holders(gear)},
    }


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
