"""Meters: what was typed as a reading, and what a camera's meters would claim."""

import re
from dataclasses import dataclass, replace
from functools import lru_cache
from math import log2

import numpy as np

from fotonomy.core import constants as c
from fotonomy.core.curves.transfer_functions import decode
from fotonomy.core.errors import RuleError
from fotonomy.core.exposure.light_budget import light_budget
from fotonomy.core.gear.neutral_density import density_to_stops
from fotonomy.core.notation import writing as n
from fotonomy.core.notation.reading import (
    parse_density,
    parse_key_stops,
    parse_light,
    parse_quantity,
)
from fotonomy.core.photometry.exposure_value import Metered, ev100_of
from fotonomy.core.photometry.stops import aperture_stops, iso_stops, time_stops
from fotonomy.core.spec.readings import Reading, key_of
from fotonomy.core.spec.setup import Setup
from fotonomy.core.tone.scene_layout import scene_map
from fotonomy.core.tone.signal_levels import Level

# A highlight meter puts the brightest part of the frame so far under the clip.
HIGHLIGHT_METER_STOPS = 0.5
# What counts as a highlight to it, and how wide the spot is, in percent of the frame.
HIGHLIGHT_METER_PERCENT = 0.5
SPOT_METER_PERCENT = 2.5


READING_RULE = (
    "stops from grey such as +1.4, EV 13, 900 lux, 450 cd/m², f/4 1/50 ISO 400, "
    "or a level seen such as 62 %"
)
# The frame that meters look at, in points: finer than the zones of any.
_RASTER = (96, 54)


def parse_reading(text: str, setup: Setup) -> float:
    """Stops from grey in the scene, from stops, EV, lux, cd/m², a metered exposure or a level.

    A level is what the monitor shows with the bench's settings, "62 %", or with those
    that follow it, "62 % at f/4 1/50 ISO 800 ND 0.9". Raises RuleError on ``stops``.
    """
    cleaned = " ".join(text.split())
    level = re.fullmatch(r"([\d.,]+)\s*%(?:\s*(?:at|@)\s*(.+))?", cleaned, re.IGNORECASE)
    if level:
        return _from_level(level[1], level[2], setup)
    if re.fullmatch(r"[-+−]?[\d.,/ ]+(?:stops?|st)?", cleaned, re.IGNORECASE):
        try:
            return parse_key_stops(cleaned)
        except RuleError as error:
            raise RuleError("stops", READING_RULE, text) from error
    try:
        return _in_range(ev100_of(parse_light(cleaned)) - ev100_of(setup.light))
    except RuleError as error:
        rule = error.rule if error.field == "stops" else READING_RULE
        raise RuleError("stops", rule, text) from error


def _in_range(stops: float) -> float:
    low, high = c.READING_RANGE_STOPS
    if not low <= stops <= high:
        raise RuleError(
            "stops", f"comes to {stops:+.1f} stops from grey; from {low:g} to {high:g}",
            stops,
        )  # fmt: skip
    return stops


def _from_level(digits: str, given: str | None, setup: Setup) -> float:
    rule = f"a level on {setup.profile.name} under its clip, such as 62 %"
    percent = parse_quantity("stops", digits, {"": 1.0}, (0.0, 200.0), rule)
    profile = setup.profile
    if percent >= profile.clip_percent:
        raise RuleError(
            "stops", f"clips from {profile.clip_percent:g} % on: a level there says "
            "nothing; read it at less exposure", percent,
        )  # fmt: skip
    linear = decode(profile.curve, percent / 100)
    if linear <= 0:
        raise RuleError("stops", "is at black or under it, which says nothing", percent)
    exposed = light_budget(setup).exposure_stops if given is None else _exposed(given, setup)
    return _in_range(log2(linear / profile.grey_linear) - exposed)


def _exposed(given: str, setup: Setup) -> float:
    """Exposure over nominal under settings typed after a level, glass of the bench included."""
    density = 0.0
    nd = re.search(r"\bND\s*([\d.,]+)", given, re.IGNORECASE)
    if nd:
        density = parse_density(nd[0])
        given = (given[: nd.start()] + given[nd.end() :]).strip()
    rule = "settings after the level such as f/4 1/50 ISO 800 ND 0.9"
    try:
        metered = parse_light(given)
    except RuleError:
        raise RuleError("stops", rule, given) from None
    if not isinstance(metered, Metered):
        raise RuleError("stops", rule, given)
    budget = light_budget(replace(setup, readings=()))
    glass = sum(line.stops for line in budget.lines if line.key in ("filter", "lens", "bellows"))
    return (
        budget.ev100 + iso_stops(metered.iso) - time_stops(metered.time_s)
        - aperture_stops(metered.f_number) - density_to_stops(density) + glass
    )  # fmt: skip


@dataclass(frozen=True, slots=True)
class SceneMeans:
    """What the zones of a meter see, in stops from grey in the scene."""

    averaging: float
    centre: float
    highlight: float
    spot: float


@lru_cache(maxsize=256)
def scene_means(readings: tuple[Reading, ...]) -> SceneMeans:
    """Mean light of the whole frame, of its middle, of its brightest part and of a spot.

    Small models, common practice: the middle is a bell over a third of the frame, the
    brightest part half a percent of it, the spot lies on the key reading.
    """
    width, height = _RASTER
    light = scene_map(readings, width, height).light.astype(np.float64)
    x = (np.arange(width) + 0.5) / width - 0.5
    y = (np.arange(height) + 0.5) / height - 0.5
    bell = np.exp(-((x[None, :] / 0.22) ** 2 + (y[:, None] / 0.26) ** 2) / 2)
    key = key_of(readings)
    spot_x, spot_y = (key.x_percent, key.y_percent) if key else (50.0, 50.0)
    radius = (SPOT_METER_PERCENT / 100 * width * height / np.pi) ** 0.5
    if key is not None:
        # One walks closer, or takes the narrower spot: it never reads beside a small subject.
        radius = min(radius, 0.6 * (key.share_percent / 100 * width * height / np.pi) ** 0.5)
    from_spot = np.hypot(
        ((x + 0.5 - spot_x / 100) * width)[None, :], ((y + 0.5 - spot_y / 100) * height)[:, None]
    )
    spot = from_spot <= max(radius, float(from_spot.min()))
    brightest = np.quantile(light, 1 - HIGHLIGHT_METER_PERCENT / 100)
    return SceneMeans(
        averaging=log2(float(light.mean())),
        centre=log2(float((light * bell).sum() / bell.sum())),
        highlight=log2(float(brightest)),
        spot=log2(float(light[spot].mean())),
    )


@dataclass(frozen=True, slots=True)
class Claim:
    """One meter: what it shows now, and what it would show with the target met.

    Zero means it is content; ``points_at_stops`` is the exposure over nominal it asks for;
    ``agrees`` is true where it asks for the target itself, or near enough.
    """

    name: str
    shows_stops: float
    at_target_stops: float
    points_at_stops: float
    advice: str
    agrees: bool


def claims(readings: tuple[Reading, ...], level: Level, exposure_stops: float) -> tuple[Claim, ...]:
    """What the averaging, centre, highlight and spot meters claim of this framing.

    ``exposure_stops`` is the exposure over nominal as it is set.
    """
    means = scene_means(readings)
    key = key_of(readings)
    near_clip = level.headroom_stops - HIGHLIGHT_METER_STOPS
    seen = (
        ("averaging", -means.averaging),
        ("centre", -means.centre),
        ("highlight", near_clip - means.highlight),
        (f"spot on {key.name if key else 'the middle'}", -means.spot),
    )
    return tuple(_claim(name, asks, level, exposure_stops) for name, asks in seen)


def _claim(name: str, asks: float, level: Level, exposure_stops: float) -> Claim:
    at_target = level.target_stops - asks
    agrees = abs(at_target) <= c.TOLERABLE_WITHIN_STOPS
    advice = (
        "agrees with the target"
        if agrees
        else f"leave it at {n.format_signed(at_target)}: that is the target"
    )
    return Claim(name, exposure_stops - asks, at_target, asks, advice, agrees)
