"""The light of a day in hours: dawn, rise, highest, set, dark, the moon and the Milky Way."""

from dataclasses import dataclass
from datetime import datetime, timedelta
from enum import StrEnum

import numpy as np

from fotonomy.core.day.windows import CORE_HIGH_DEG
from fotonomy.core.sky.horizon import Horizon
from fotonomy.core.sky.light import (
    ASTRONOMICAL_DEG,
    BLUE_DEG,
    CIVIL_DEG,
    GOLDEN_DEG,
    NAUTICAL_DEG,
    sun_is_up,
)
from fotonomy.core.sky.track import Samples, Sky, Stretch


class Mark(StrEnum):
    """What happens at an hour, in the words of the page."""

    FIRST_LIGHT = "first light"
    NAUTICAL_DAWN = "nautical dawn"
    CIVIL_DAWN = "civil dawn"
    GOLDEN_UNTIL = "golden until"
    SUNRISE = "sunrise"
    OVER_LAND = "sun over the land"
    HIGHEST = "highest"
    BEHIND_LAND = "sun behind the land"
    GOLDEN_FROM = "golden from"
    SUNSET = "sunset"
    BLUE_UNTIL = "blue until"
    NAUTICAL_DUSK = "nautical dusk"
    DARK = "dark"
    MOONRISE = "moonrise"
    MOONSET = "moonset"


@dataclass(frozen=True, slots=True)
class Event:
    """A mark of the day; ``altitude_deg`` of the sun where it is the point."""

    mark: Mark
    at: datetime
    altitude_deg: float | None = None


@dataclass(frozen=True, slots=True)
class Almanac:
    """The events of a day in order, the core's times, and what never happens on it.

    ``day_length_min`` is how long the sun is over a level horizon, from 0 to the day's length.
    """

    events: tuple[Event, ...]
    core_up: tuple[Stretch, ...]
    day_length_min: float
    moon_lit: float
    moon_waxing: bool
    notes: tuple[str, ...]

    def first(self, mark: Mark) -> datetime | None:
        """The first time of a mark, None where it does not come."""
        return next((event.at for event in self.events if event.mark is mark), None)

    def last(self, mark: Mark) -> datetime | None:
        """The last time of a mark."""
        return next((event.at for event in reversed(self.events) if event.mark is mark), None)


# Mark where the sun rises through an altitude, and where it sinks through it.
_HEIGHTS = (
    (ASTRONOMICAL_DEG, Mark.FIRST_LIGHT, Mark.DARK),
    (NAUTICAL_DEG, Mark.NAUTICAL_DAWN, Mark.NAUTICAL_DUSK),
    (CIVIL_DEG, Mark.CIVIL_DAWN, Mark.BLUE_UNTIL),
    (GOLDEN_DEG[1], Mark.GOLDEN_UNTIL, Mark.GOLDEN_FROM),
)
assert BLUE_DEG[0] == CIVIL_DEG
# The sun's height at a mark.
HEIGHT_OF = {mark: height for height, *marks in _HEIGHTS for mark in marks}


def almanac(sky: Sky, horizon: Horizon, day: Stretch) -> Almanac:
    """What the sky does within a day, local midnight to midnight (23 to 25 hours with a change
    of clock). ``sky`` has to cover it.
    """
    sun = sky.sun.altitude_deg
    level = np.asarray(Horizon().over(sun, sky.sun.azimuth_deg))
    found = []
    for height, rising, sinking in _HEIGHTS:
        found += _events(sky, sun - height, rising, sinking)
    found += _events(sky, level, Mark.SUNRISE, Mark.SUNSET)
    if not horizon.level:
        found += _events(sky, sun_is_up(sky, horizon), Mark.OVER_LAND, Mark.BEHIND_LAND)
    moon = np.asarray(Horizon().over(sky.moon.altitude_deg, sky.moon.azimuth_deg))
    found += _events(sky, moon, Mark.MOONRISE, Mark.MOONSET)
    highest = _highest(sky, day)
    found.append(Event(Mark.HIGHEST, highest, sky.sun_at(highest).altitude_deg))
    events = tuple(
        sorted((e for e in found if day.starts <= e.at < day.ends), key=lambda e: e.at)
    )  # fmt: skip
    up = sum(
        part.minutes for one in sky.stretches(level) if (part := one.common(day)) is not None
    )  # fmt: skip
    noon = day.starts + (day.ends - day.starts) / 2
    core = np.minimum(ASTRONOMICAL_DEG - sun, sky.core.altitude_deg - CORE_HIGH_DEG)
    return Almanac(
        events, sky.stretches(core), up, float(sky.lit_at(noon)), sky.waxing_at(noon),
        tuple(_notes(sky, day, up)),
    )  # fmt: skip


def _events(sky: Sky, values: Samples, rising: Mark, sinking: Mark) -> list[Event]:
    return [Event(rising if up else sinking, at) for at, up in sky.crossings(values)]


def _highest(sky: Sky, day: Stretch) -> datetime:
    """When the sun stands highest that day, to a few seconds: the top of a parabola."""
    low = max(0, round(sky.position(day.starts)))
    high = min(sky.count - 1, round(sky.position(day.ends)))
    heights = sky.sun.altitude_deg
    at = low + int(heights[low:high].argmax())
    if 0 < at < sky.count - 1:
        before, here, after = heights[at - 1 : at + 2]
        curve = before - 2 * here + after
        if curve < 0:
            return sky.moment(at + 0.5 * (before - after) / curve)
    return sky.moment(at)


def _notes(sky: Sky, day: Stretch, up_min: float) -> list[str]:
    low = max(0, round(sky.position(day.starts)))
    high = min(sky.count - 1, round(sky.position(day.ends)))
    heights = sky.sun.altitude_deg[low : high + 1]
    notes = []
    if up_min <= 0:
        notes.append("The sun does not rise on this day.")
    elif up_min >= day.minutes - 0.5:
        notes.append("The sun does not set on this day.")
    if heights.min() > ASTRONOMICAL_DEG:
        notes.append("It does not get fully dark on this day.")
    length = day.minutes / 60
    if abs(length - 24) > 0.01:
        change = "back" if length > 24 else "forward"
        notes.append(f"The clock goes {change} on this day: it has {length:g} hours.")
    return notes


def day_of(midnight: datetime) -> Stretch:
    """The local day that begins at a midnight with its zone, to the next midnight there."""
    following = (midnight.replace(tzinfo=None) + timedelta(days=1)).replace(tzinfo=midnight.tzinfo)
    return Stretch(midnight, following)
