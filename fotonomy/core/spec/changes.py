"""Typed changes of a setup: which setting to what value, and the setup that comes of them.

A name is the field's own: ``iris``, ``heading_deg`` (which lies in the movement), or one of
``held_<setting>`` (true or false), ``limit_<setting>`` (a pair or None), ``weight_<criterion>``,
``unit_<setting>`` (as typed, "" for the usual one),
``reading-<k>-<field>``. Gear goes by its names: ``lens``, ``profile``, ``tubes``, ``devices``.
"""

import re
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, fields, replace
from datetime import time
from functools import cache
from typing import Any

from fotonomy.core.errors import RuleError
from fotonomy.core.gear.profile import Profile
from fotonomy.core.motion.camera_movement import Movement
from fotonomy.core.spec.intent import Intent
from fotonomy.core.spec.schedule import Schedule
from fotonomy.core.spec.setup import Limit, Setup
from fotonomy.core.spec.stills import Run

# Parts of a setup that hold settings of their own.
PARTS: dict[str, type[Any]] = {
    "movement": Movement, "intent": Intent, "run": Run, "schedule": Schedule,
}  # fmt: skip
READING = re.compile(r"reading-(\d{1,2})-([a-z_]+)")


@dataclass(frozen=True, slots=True)
class Change:
    """One setting and the value it gets, as the spec holds it."""

    setting: str
    value: Any


@cache
def _fields() -> dict[str, str]:
    """Every setting's name with the part it lies in, "" for the setup itself."""
    found = {f.name: "" for f in fields(Setup)}
    for part, cls in PARTS.items():
        found |= {f.name: part for f in fields(cls)}
    return found


def part_of(name: str) -> str:
    """The part of a setup a setting lies in, "" for the setup itself. LookupError if none."""
    return _fields()[name]


def value_of(setup: Setup, name: str) -> Any:
    """The present value of a setting, a reading's field, what is held, a limit or a weight."""
    found = READING.fullmatch(name)
    if found:
        return getattr(setup.readings[int(found[1])], found[2])
    kind, _, rest = name.partition("_")
    match kind:
        case "held" if rest:
            return rest in setup.held
        case "limit":
            limit = setup.limit_on(rest)
            return None if limit is None else (limit.low, limit.high)
        case "weight":
            return setup.intent.emphasis_on(rest)
        case "unit":
            return setup.intent.unit_of(rest)
    part = part_of(name)
    return getattr(getattr(setup, part) if part else setup, name)


def applied(
    setup: Setup, changes: Iterable[Change], profiles: Mapping[str, Profile] | None = None
) -> Setup:
    """The setup with changes made, all at once.

    ``profiles`` are those a profile may be changed to, by name. Raises RuleError naming the
    setting where the setup would break a rule, and for gear that is not at hand.
    """
    whole: dict[str, Any] = {}
    parts: dict[str, dict[str, Any]] = {}
    for change in changes:
        name, value = change.setting, change.value
        made = _special(setup, whole, name, value, profiles or {})
        if made is not None:
            whole |= made
            continue
        part = part_of(name)
        if part:
            parts.setdefault(part, {})[name] = value
        else:
            whole[name] = value
    for part, given in parts.items():
        whole[part] = replace(whole.get(part, getattr(setup, part)), **given)
    return replace(setup, **whole)


def _special(
    setup: Setup, so_far: dict[str, Any], name: str, value: Any, profiles: Mapping[str, Profile]
) -> dict[str, Any] | None:
    """Fields of the setup for a name that is no plain field; None for one that is."""
    found = READING.fullmatch(name)
    if found:
        return {"readings": _reading(so_far.get("readings", setup.readings), found, value)}
    if name == "light":
        # Whoever changes it has said it.
        return {"light": value, "light_said": True}
    kind, _, rest = name.partition("_")
    match kind:
        case "held" if rest:
            held = so_far.get("held", setup.held)
            started = so_far.get("held_from_start", setup.held_from_start)
            return {
                "held": held | {rest} if value else held - {rest},
                "held_from_start": started - {rest},
            }
        case "limit":
            limits = so_far.get("limits", setup.limits)
            kept = tuple(limit for limit in limits if limit.setting != rest)
            return {"limits": kept if value is None else (*kept, Limit(rest, *value))}
        case "weight":
            intent = so_far.get("intent", setup.intent)
            weights = {**dict(intent.emphasis), rest: value}
            changed = tuple(sorted((k, times) for k, times in weights.items() if times != 1))
            return {"intent": replace(intent, emphasis=changed)}
        case "unit":
            intent = so_far.get("intent", setup.intent)
            units = {**dict(intent.units), rest: value}
            kept_units = tuple(sorted((k, unit) for k, unit in units.items() if unit))
            return {"intent": replace(intent, units=kept_units)}
        case "planned":
            starts = setup.starts
            at = time.fromisoformat(value)
            return {} if starts is None else {
                "starts": starts.replace(hour=at.hour, minute=at.minute, second=0)
            }  # fmt: skip
    return _gear(setup, name, value, profiles)


def _reading(readings: tuple[Any, ...], found: re.Match[str], value: Any) -> tuple[Any, ...]:
    at, field = int(found[1]), found[2]
    if at >= len(readings):
        raise RuleError("readings", "there is no such reading", found[0])
    changed = replace(readings[at], **{field: value})
    # Only one reading is the key.
    others = tuple(
        replace(one, key=False) if field == "key" and value and k != at else one
        for k, one in enumerate(readings)
    )
    return (*others[:at], changed, *others[at + 1 :])


def _gear(
    setup: Setup, name: str, value: Any, profiles: Mapping[str, Profile]
) -> dict[str, Any] | None:
    match name:
        case "lens":
            return {"lens": _named(name, value, (setup.lens, *setup.packed_lenses))}
        case "profile":
            return {"profile": _named(name, value, (setup.profile, *profiles.values()))}
        case "filters":
            return {
                "filters": tuple(_named(name, one, (*setup.filters, *setup.glass)) for one in value)
            }
        case "tubes":
            return {"tubes": tuple(_named(name, one, setup.tubes) for one in value)}
        case "devices":
            at_hand = (*setup.devices, *setup.packed_devices)
            return {"devices": tuple(_named(name, one, at_hand) for one in value)}
    return None


def _named(field: str, name: str, at_hand: Iterable[Any]) -> Any:
    found = next((one for one in at_hand if one.name == name), None)
    if found is None:
        raise RuleError(field, f"{name} is not at hand", name)
    return found
