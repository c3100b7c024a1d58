"""A setup's snapshot opened to single fields, each with a path of its own.

A path names the least that is changed by itself: ``iris``, ``run.event_s``, ``held.iso``,
``limits.iso``, ``intent.emphasis.noise``, ``readings.2.stops``, ``filters.7``. Two changes of
different paths never collide. None stands for what is not there: a thing not held, not packed,
or left at its default.
"""

from collections.abc import Iterable
from copy import deepcopy
from typing import Any

from fotonomy.core.spec.changes import PARTS

Snapshot = dict[str, Any]
# A path with its value before and after.
Moved = tuple[str, Any, Any]

# The whole setup: where it is made or deleted.
WHOLE = ""
# Lists whose members stand or do not stand there; order says nothing.
PACKED = ("packed_bodies", "packed_lenses", "packed_filters", "packed_accessories")
SETS = ("held", "filters", "things", *PACKED)
# What maps names to values within a part.
MAPS = ("emphasis", "units")
SHUTTER = ("shutter_angle_deg", "shutter_time_s")


def opened(snapshot: Snapshot, readings: bool = True) -> dict[str, Any]:
    """Path to value. ``readings`` opens them too; else they are one field."""
    found: dict[str, Any] = {}
    for name, value in snapshot.items():
        if name in SHUTTER:
            found["shutter"] = [snapshot.get(column) for column in SHUTTER]
        elif name in SETS:
            found |= {f"{name}.{member}": True for member in value or ()}
        elif name == "limits":
            found |= {f"limits.{one['setting']}": [one["low"], one["high"]] for one in value or ()}
        elif name in PARTS:
            found |= _part(name, value or {})
        elif name == "hours":
            found |= {f"hours.{at}": report for at, report in (value or {}).items()}
        elif name == "readings" and readings:
            for at, reading in enumerate(value or ()):
                found |= {f"readings.{at}.{key}": kept for key, kept in reading.items()}
        else:
            found[name] = value
    return found


def _part(name: str, part: dict[str, Any]) -> dict[str, Any]:
    found = {f"{name}.{key}": value for key, value in part.items() if key not in MAPS}
    for key in MAPS:
        for inner, kept in (part.get(key) or {}).items():
            found[f"{name}.{key}.{inner}"] = kept
    return found


def moved(before: Snapshot, after: Snapshot) -> list[Moved]:
    """What differs between two snapshots; readings one by one where none came or went."""
    alike = len(before.get("readings") or ()) == len(after.get("readings") or ())
    was, now = opened(before, alike), opened(after, alike)
    return [
        (path, was.get(path), now.get(path))
        for path in dict.fromkeys((*was, *now)) if was.get(path) != now.get(path)
    ]  # fmt: skip


def value_at(snapshot: Snapshot, path: str) -> Any:
    """The value at a path, None where there is none; a path may also name a whole column."""
    if path in snapshot:
        return snapshot[path]
    return opened(snapshot, readings=path != "readings").get(path)


def with_values(snapshot: Snapshot, values: Iterable[tuple[str, Any]]) -> Snapshot:
    """The snapshot with other values at these paths. LookupError where a reading is not there."""
    data = deepcopy(snapshot)
    for path, value in values:
        _put(data, path, value)
    return data


def _put(data: Snapshot, path: str, value: Any) -> None:
    name, _, rest = path.partition(".")
    if path == "shutter":
        data.update(zip(SHUTTER, value or (None, None), strict=True))
    elif not rest:
        data[name] = value
    elif name in SETS:
        member = rest if name == "held" else int(rest)
        others = [one for one in data.get(name) or () if one != member]
        data[name] = sorted([*others, member] if value else others)
    elif name == "limits":
        others = [one for one in data.get(name) or () if one["setting"] != rest]
        own = [] if value is None else [{"setting": rest, "low": value[0], "high": value[1]}]
        data[name] = [*others, *own]
    elif name == "readings":
        at, _, key = rest.partition(".")
        data[name][int(at)][key] = value
    else:
        _put_in_part(data.setdefault(name, {}), rest, value)


def _put_in_part(part: dict[str, Any], rest: str, value: Any) -> None:
    key, _, inner = rest.partition(".")
    if inner:
        part = part.setdefault(key, {})
        key = inner
    if value is None:
        part.pop(key, None)
    else:
        part[key] = value


def setting_of(path: str) -> str:
    """The setting a path belongs to, by its name in the table or in the row."""
    parts = path.split(".")
    if parts[0] in PARTS and len(parts) > 1:
        return parts[1]
    return {"body_id": "body", "lens_id": "lens", "profile_id": "profile"}.get(parts[0], parts[0])
