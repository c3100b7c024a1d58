"""Changes to a setup's readings: typed fields, nudges, readings added and dropped, scenes."""

import re
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, replace

from fotonomy.core import constants as c
from fotonomy.core.errors import RuleError
from fotonomy.core.notation.reading import whole_number
from fotonomy.core.notation.writing import format_number
from fotonomy.core.parsing.readings import reading_settings, reading_text
from fotonomy.core.photometry.exposure_value import Ev100, ev100_of
from fotonomy.core.spec import setup as core
from fotonomy.core.spec.changes import READING, Change, applied
from fotonomy.core.spec.readings import MOST_READINGS, Reading, Shape, Surface
from fotonomy.core.tone.example_scenes import SCENES
from fotonomy.exchange.changes_json import press_of

ACTIONS = ("reading_add", "reading_drop", "reading_nudge", "scene")
# A nudge counts in tenths of a stop.
NUDGE_STOPS = 0.1
NUDGE = re.compile(r"(\d{1,2}):([-+]?\d{1,3})")

Refuse = Callable[[str, str, str], None]


def touches_readings(names: Iterable[str]) -> bool:
    """True if something sent is about readings."""
    return any(name in ACTIONS or READING.fullmatch(name) for name in names)


def read_readings(spec: core.Setup, data: Mapping[str, str], refuse: Refuse) -> core.Setup:
    """The spec with its readings changed as sent; what is wrong is refused and stays as it was."""
    for key in data:
        found = READING.fullmatch(key)
        if found and int(found[1]) < len(spec.readings) and found[2] in reading_settings():
            spec = _field(spec, key, data[key], refuse)
    for nudge in data.get("reading_nudge", "").split(","):
        spec = _nudged(spec, nudge)
    if (at := whole_number(data.get("reading_drop", ""))) is not None:
        spec = replace(
            spec, readings=tuple(r for k, r in enumerate(spec.readings) if k != at)
        )  # fmt: skip
    if data.get("reading_add"):
        spec = _added(spec, data["reading_add"], refuse)
    if data.get("scene") in SCENES:
        # The tones alone: the light may have been metered, and is asked for (``usual_light``).
        spec = replace(spec, readings=SCENES[data["scene"]].readings)
    return spec


@dataclass(frozen=True, slots=True)
class UsualLight:
    """What a typical scene would add to its tones: its usual light and white, as one press."""

    words: str
    label: str
    press: str


def usual_light(spec: core.Setup, data: Mapping[str, str]) -> UsualLight | None:
    """The light and white of the scene just chosen, to be taken or left; None where they stand."""
    if data.get("scene") not in SCENES:
        return None
    scene = SCENES[data["scene"]]
    present = ev100_of(spec.light)
    if abs(present - scene.ev100) < 0.05 and spec.white_k == scene.kelvin:
        return None
    usual = f"EV {format_number(scene.ev100)}, {format_number(scene.kelvin, 0)} K"
    stays = f"The light stays as it was, EV {format_number(present)}."
    return UsualLight(
        f"The tones of {scene.label} are in. {stays}",
        f"Take its usual light and white: {usual}",
        press_of([Change("light", Ev100(scene.ev100)), Change("white_k", scene.kelvin)]),
    )


def _field(spec: core.Setup, key: str, text: str, refuse: Refuse) -> core.Setup:
    found = READING.fullmatch(key)
    assert found
    reading, row = spec.readings[int(found[1])], reading_settings()[found[2]]
    if reading_text(reading, row) == text.strip():
        # A whole form sends what it shows: nothing was typed.
        return spec
    try:
        return applied(spec, [Change(key, row.read(spec, text))])
    except RuleError as error:
        refuse(key, error.rule, text)
        return spec


def _nudged(spec: core.Setup, text: str) -> core.Setup:
    found = NUDGE.fullmatch(text)
    if not found or int(found[1]) >= len(spec.readings):
        return spec
    at = int(found[1])
    low, high = c.READING_RANGE_STOPS
    stops = round(spec.readings[at].stops / NUDGE_STOPS + int(found[2])) * NUDGE_STOPS
    return applied(spec, [Change(f"reading-{at}-stops", round(min(high, max(low, stops)), 3))])


def _added(spec: core.Setup, text: str, refuse: Refuse) -> core.Setup:
    try:
        if len(spec.readings) >= MOST_READINGS:
            raise RuleError("readings", f"at most {MOST_READINGS} readings", len(spec.readings))
        surface: Surface = reading_settings()["surface"].read(spec, text)
        fresh = Reading(
            name=_free_name(spec, surface), stops=surface.belongs_stops or _USUAL.get(surface, 0.0),
            surface=surface, shape=_SHAPES.get(surface, Shape.PATCH),
            share_percent=_SHARES.get(surface, 5.0), x_percent=35.0,
            y_percent=_HIGH.get(surface, 60.0), may_clip=surface is Surface.LAMP,
        )  # fmt: skip
        return replace(spec, readings=(*spec.readings, fresh))
    except RuleError as error:
        refuse("reading_add", error.rule, text)
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
