"""When a setup's light is there: the windows of a wish, from the sky of its place."""

from dataclasses import dataclass
from datetime import datetime, timedelta

import numpy as np

from fotonomy.core.day.direction import FRONT_DEG, SIDE_DEG, off_lens
from fotonomy.core.sky.horizon import Horizon
from fotonomy.core.sky.light import (
    ASTRONOMICAL_DEG,
    BLUE_DEG,
    CIVIL_DEG,
    GOLDEN_DEG,
    NAUTICAL_DEG,
    OVERCAST_FROM_OKTAS,
    RISE_DEG,
    PlaceLight,
    sun_is_up,
)
from fotonomy.core.sky.track import Samples, Sky, Stretch
from fotonomy.core.spec.schedule import SHARP_MIN, Wanted

# Down to here details still show after sunset; the moon is of use from this height and this much
# of its disc on, and of no harm when thinner; the core is worth it from this height on; shade is
# worth looking for from this height of the sun on. All common practice, no source.
DUSK_DEG = -8.0
MOON_HIGH_DEG, MOON_LIT, MOON_THIN = 10.0, 0.5, 0.05
CORE_HIGH_DEG = 10.0
SHADE_FROM_DEG = 6.0
# A run across sunset lies between these heights of a sinking sun: from about an hour before it to
# where only the last of the light is left.
ACROSS_SUNSET_DEG = (NAUTICAL_DEG, 10.0)


@dataclass(frozen=True, slots=True, kw_only=True)
class Wish:
    """What light a setup wants, with the number that belongs to it.

    ``ev100`` for a bound, ``at`` for a fixed moment that is met within ``within_min`` either way,
    ``looks_deg`` where the camera looks.
    """

    wanted: Wanted
    ev100: float | None = None
    at: datetime | None = None
    looks_deg: float | None = None
    within_min: float = SHARP_MIN


class CannotSayError(ValueError):
    """A wish that needs something nobody said yet: the message says what."""


def windows(wish: Wish, light: PlaceLight, horizon: Horizon) -> tuple[Stretch, ...]:
    """When the wish is met within the light's sky; nothing at all where it never is.

    Raises CannotSayError where the way the camera looks, or the cloud, is not known.
    """
    sky = light.sky
    if wish.wanted is Wanted.ANY:
        return (Stretch(sky.starts, sky.ends),)
    if wish.wanted is Wanted.FIXED:
        return _fixed(wish, sky)
    return sky.stretches(margin(wish, light, horizon))


def _fixed(wish: Wish, sky: Sky) -> tuple[Stretch, ...]:
    if wish.at is None:
        raise CannotSayError("which hour is fixed")
    within = timedelta(minutes=wish.within_min)
    return (Stretch(wish.at - within, wish.at + within),) if sky.covers(wish.at) else ()


def margin(wish: Wish, light: PlaceLight, horizon: Horizon) -> Samples:
    """By how much a wish is met at every sample: at or above zero it is.

    In degrees or stops, whichever the wish is about; the least margin of its conditions.
    """
    sky = light.sky
    sun = sky.sun.altitude_deg
    dark = ASTRONOMICAL_DEG - sun
    match wish.wanted:
        case Wanted.DAYLIGHT:
            return np.asarray(sun - RISE_DEG)
        case Wanted.NIGHT:
            return np.asarray(CIVIL_DEG - sun)
        case Wanted.SUNSET:
            return np.minimum(_between(sun, *ACROSS_SUNSET_DEG), _sinking(sun))
        case Wanted.GOLDEN:
            return _between(sun, *GOLDEN_DEG)
        case Wanted.BLUE:
            return _between(sun, *BLUE_DEG)
        case Wanted.DUSK:
            return np.minimum(_between(sun, DUSK_DEG, RISE_DEG), _sinking(sun))
        case Wanted.DARK:
            return dark
        case Wanted.MOONLESS:
            return np.minimum(dark, _no_moon(sky, horizon))
        case Wanted.MOONLIGHT:
            lit = np.cos(np.radians(sky.phase_deg)) - (2 * MOON_LIT - 1)
            return _least(dark, sky.moon.altitude_deg - MOON_HIGH_DEG, lit)
        case Wanted.MILKY_WAY:
            core = sky.core.altitude_deg - CORE_HIGH_DEG
            over = horizon.over(sky.core.altitude_deg, sky.core.azimuth_deg)
            return _least(dark, core, np.asarray(over), _no_moon(sky, horizon))
        case Wanted.SUN_FRONT | Wanted.SUN_BESIDE | Wanted.SUN_BEHIND:
            return np.minimum(_side(wish, sky), sun_is_up(sky, horizon))
        case Wanted.SHADE:
            return sun - SHADE_FROM_DEG
        case Wanted.OVERCAST:
            return np.minimum(_overcast(light), sun - RISE_DEG)
        case Wanted.ABOVE | Wanted.UNDER:
            if wish.ev100 is None:
                raise CannotSayError("how much light that is")
            over_bound = light.over().ev100 - wish.ev100
            return over_bound if wish.wanted is Wanted.ABOVE else -over_bound
    return np.zeros(sky.count)


def _sinking(sun_deg: Samples) -> Samples:
    """A degree where the sun goes down, a degree short where it comes up."""
    return np.where(np.gradient(sun_deg) < 0, 1.0, -1.0)


def _least(*margins: Samples) -> Samples:
    return np.asarray(np.minimum.reduce(margins))


def _between(values: Samples, low: float, high: float) -> Samples:
    return np.asarray(np.minimum(values - low, high - values))


def _no_moon(sky: Sky, horizon: Horizon) -> Samples:
    """At or above zero while the moon is under the horizon, or too thin to matter."""
    up = np.asarray(horizon.over(sky.moon.altitude_deg, sky.moon.azimuth_deg))
    thin = (2 * MOON_THIN - 1) - np.cos(np.radians(sky.phase_deg))
    return np.asarray(np.maximum(-up, thin))


def _side(wish: Wish, sky: Sky) -> Samples:
    if wish.looks_deg is None:
        raise CannotSayError("which way the camera looks")
    behind = np.asarray(180 - off_lens(sky.sun.azimuth_deg, wish.looks_deg))
    if wish.wanted is Wanted.SUN_FRONT:
        return FRONT_DEG - behind
    if wish.wanted is Wanted.SUN_BEHIND:
        return behind - SIDE_DEG
    return _between(behind, FRONT_DEG, SIDE_DEG)


def _overcast(light: PlaceLight) -> Samples:
    if light.oktas is None:
        raise CannotSayError("the weather: type or import it first")
    cloud = np.broadcast_to(np.asarray(light.oktas, dtype=float), (light.sky.count,))
    if np.isnan(cloud).all():
        raise CannotSayError("the weather: type or import it first")
    # What is not known is no overcast that anybody could plan on.
    return np.asarray(np.nan_to_num(cloud, nan=0.0) - OVERCAST_FROM_OKTAS)
