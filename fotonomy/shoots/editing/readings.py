"""Changes to a setup's readings: typed fields, nudges, readings added and dropped, scenes."""

import re
from collections.abc import Callable, Mapping
from dataclasses import replace
from typing import Any

from fotonomy.core import constants as c
from fotonomy.core.errors import RuleError
from fotonomy.core.exposure.metering import parse_reading
from fotonomy.core.notation import writing as n
from fotonomy.core.notation.reading import parse_key_stops, parse_quantity
from fotonomy.core.parsing.white_balance import parse_main_light
from fotonomy.core.photometry.exposure_value import Ev100
from fotonomy.core.spec import setup as core
from fotonomy.core.spec.readings import Reading, Shape, Surface
from fotonomy.core.tone.example_scenes import SCENES

FIELD = re.compile(r"reading-(\d{1,2})-([a-z_]+)")
ACTIONS = ("reading_add", "reading_drop", "reading_nudge", "scene")
# A nudge counts in tenths of a stop.
NUDGE_STOPS = 0.1
NUDGE = re.compile(r"(\d{1,2}):([-+]?\d{1,3})")

Refuse = Callable[[str, str, str], None]


def touches_readings(data: Mapping[str, Any]) -> bool:
    """True if something sent is about readings."""
    return any(key in data for key in ACTIONS) or any(FIELD.fullmatch(key) for key in data)


def shown_fields(reading: Reading) -> dict[str, str]:
    """A reading's values as its fields show them."""
    number = n.format_number
    wanted = reading.wanted_stops
    return {
        "name": reading.name,
        "stops": n.format_signed(reading.stops),
        "share": f"{number(reading.share_percent, 2)} %",
        "x": f"{number(reading.x_percent)} %",
        "y": f"{number(reading.y_percent)} %",
        "wanted": "usual" if wanted is None else n.format_signed(wanted),
        "source": "main light" if reading.source_k is None else f"{number(reading.source_k, 0)} K",
    }


def edited(spec: core.Setup, data: Mapping[str, str], refuse: Refuse) -> core.Setup:
    """The spec with its readings changed as sent; what is wrong is refused and stays as it was."""
    for key in data:
        found = FIELD.fullmatch(key)
        if found and int(found[1]) < len(spec.readings):
            spec = _field(spec, int(found[1]), found[2], data[key], refuse)
    if "reading_nudge" in data:
        spec = _nudged(spec, data["reading_nudge"], refuse)
    if data.get("reading_drop", "").isdigit():
        at = int(data["reading_drop"])
        spec = replace(
            spec, readings=tuple(r for k, r in enumerate(spec.readings) if k != at)
        )  # fmt: skip
    if data.get("reading_add"):
        spec = _added(spec, data["reading_add"], refuse)
    if data.get("scene") in SCENES:
        scene = SCENES[data["scene"]]
        spec = replace(spec, readings=scene.readings, light=Ev100(scene.ev100))
    return spec


def _field(spec: core.Setup, at: int, name: str, text: str, refuse: Refuse) -> core.Setup:
    reading = spec.readings[at]
    if shown_fields(reading).get(name) == text.strip():
        # A whole form sends what it shows: nothing was typed.
        return spec
    try:
        changes = _parsed(spec, name, text)
        changed = replace(reading, **changes)
        others = tuple(
            replace(r, key=False) if changes.get("key") and k != at else r
            for k, r in enumerate(spec.readings)
        )
        return replace(spec, readings=(*others[:at], changed, *others[at + 1 :]))
    except RuleError as error:
        rule = error.rule
        refuse(f"reading-{at}-{name}", rule[:1].upper() + rule[1:], text)
        return spec


def _parsed(spec: core.Setup, name: str, text: str) -> dict[str, Any]:
    match name:
        case "name":
            return {"name": " ".join(text.split())[:40]}
        case "stops":
            return {"stops": parse_reading(text, spec)}
        case "surface":
            return {"surface": _member(Surface, text)}
        case "shape":
            return {"shape": _member(Shape, text)}
        case "share":
            return {"share_percent": _percent("reading_share", text, c.SHARE_RANGE_PERCENT)}
        case "x" | "y":
            return {f"{name}_percent": _percent(f"reading_{name}", text, (0.0, 100.0))}
        case "wanted":
            if text.strip().casefold() in ("", "usual", "none"):
                return {"wanted_stops": None}
            return {"wanted_stops": parse_key_stops(text)}
        case "source":
            return {"source_k": parse_main_light(text)}
        case "key" | "may_clip":
            return {name: text == "1"}
    return {}


def _member(kind: type[Any], text: str) -> Any:
    try:
        return kind(text)
    except ValueError:
        raise RuleError("readings", "one of the list", text) from None


def _percent(field: str, text: str, limits: tuple[float, float]) -> float:
    rule = f"percent of the frame from {limits[0]:g} to {limits[1]:g}"
    return parse_quantity(field, text, {"": 1.0, "%": 1.0}, limits, rule)


def _nudged(spec: core.Setup, text: str, refuse: Refuse) -> core.Setup:
    found = NUDGE.fullmatch(text)
    if not found or int(found[1]) >= len(spec.readings):
        return spec
    at = int(found[1])
    low, high = c.READING_RANGE_STOPS
    stops = round(spec.readings[at].stops / NUDGE_STOPS + int(found[2])) * NUDGE_STOPS
    moved = replace(spec.readings[at], stops=round(min(high, max(low, stops)), 3))
    return replace(spec, readings=(*spec.readings[:at], moved, *spec.readings[at + 1 :]))


def _added(spec: core.Setup, text: str, refuse: Refuse) -> core.Setup:
    try:
        surface = _member(Surface, text)
        fresh = Reading(
            name=_free_name(spec, surface), stops=surface.belongs_stops or _USUAL.get(surface, 0.0),
            surface=surface, shape=_SHAPES.get(surface, Shape.PATCH),
            share_percent=_SHARES.get(surface, 5.0), x_percent=35.0,
            y_percent=_HIGH.get(surface, 60.0), may_clip=surface is Surface.LAMP,
        )  # fmt: skip
        return replace(spec, readings=(*spec.readings, fresh))
    except RuleError as error:
        refuse("reading_add", error.rule[:1].upper() + error.rule[1:], text)
        return spec


_USUAL = {Surface.SKY: 3.0, Surface.LAMP: 7.0}
_SHAPES = {Surface.SKY: Shape.BAND, Surface.LAMP: Shape.LAMP}
_SHARES = {Surface.SKY: 25.0, Surface.LAMP: 0.4, Surface.GREY_CARD: 2.0, Surface.WHITE_CARD: 2.0}
_HIGH = {Surface.SKY: 12.0, Surface.LAMP: 25.0}


def _free_name(spec: core.Setup, surface: Surface) -> str:
    word = "new reading" if surface is Surface.OTHER else surface.label
    names = {reading.name.casefold() for reading in spec.readings}
    return next(
        name for name in (word, *(f"{word} {k}" for k in range(2, 99))) if name not in names
    )
