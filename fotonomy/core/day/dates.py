"""Other dates for a setup or a whole day: how long its light is there on each, over a year."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime, time, timedelta
from zoneinfo import ZoneInfo

import numpy as np

from fotonomy.core.day.day_plan import minutes_text
from fotonomy.core.day.direction import off_lens
from fotonomy.core.day.windows import Wish, margin
from fotonomy.core.sky.horizon import Horizon
from fotonomy.core.sky.light import PlaceLight
from fotonomy.core.sky.track import NEW_MOON_DEG, Samples, Sky, lit_share
from fotonomy.core.spec.schedule import Wanted

# Wishes of the night belong to the evening they begin in: they are counted from noon to noon.
NIGHTLY = frozenset({Wanted.DARK, Wanted.MOONLESS, Wanted.MOONLIGHT, Wanted.MILKY_WAY})
# The sun counts as standing at a wanted height within so many degrees.
HEIGHT_WITHIN_DEG = 1.5


@dataclass(frozen=True, slots=True)
class SunPlace:
    """Where the sun is wanted: within ``within_deg`` of an azimuth, at a height, or one of both."""

    azimuth_deg: float | None = None
    within_deg: float = 10.0
    height_deg: float | None = None

    def margin(self, sky: Sky) -> Samples:
        """By how many degrees it is met at every sample; at or above zero it is."""
        found = np.full(sky.count, np.inf)
        if self.azimuth_deg is not None:
            off = off_lens(sky.sun.azimuth_deg, self.azimuth_deg)
            found = np.minimum(found, self.within_deg - off)
        if self.height_deg is not None:
            apart = np.abs(sky.sun.altitude_deg - self.height_deg)
            found = np.minimum(found, HEIGHT_WITHIN_DEG - apart)
        return found


@dataclass(frozen=True, slots=True, kw_only=True)
class Sought:
    """One setup whose light is looked for: what it wants, for how many minutes on end, and where.

    ``light`` covers the whole time that is looked through.
    """

    key: int
    name: str
    wish: Wish
    needs_min: float
    light: PlaceLight
    horizon: Horizon
    sun: SunPlace | None = None


@dataclass(frozen=True, slots=True)
class DateLight:
    """A date: for each setup the longest stretch of its light in minutes, and how many fit.

    ``longest_min`` and ``total_min`` are in the order of the setups. ``phase_deg`` is the
    moon's phase angle at the middle of the night that follows.
    """

    day: date
    fits: int
    longest_min: tuple[float, ...]
    total_min: tuple[float, ...]
    phase_deg: float

    @property
    def moon_lit(self) -> float:
        """The share of the moon's disc that is lit then."""
        return float(lit_share(self.phase_deg))

    @property
    def met(self) -> float:
        """The light there is, in minutes over all setups."""
        return sum(self.total_min)


def dates_of(
    sought: Sequence[Sought], first: date, days: int, zone: ZoneInfo
) -> tuple[DateLight, ...]:
    """Every date from ``first`` on, in order. Raises CannotSayError as ``margin`` does."""
    met = [met_at(one) for one in sought]
    found = []
    for at in range(days):
        day = first + timedelta(days=at)
        longest, total, fits = [], [], 0
        for one, good in zip(sought, met, strict=True):
            low, high = _span(one, day, zone)
            long, all_of_it = _minutes(good[low:high], one.light.sky.step_s / 60)
            longest.append(long)
            total.append(all_of_it)
            fits += long >= one.needs_min
        phase = NEW_MOON_DEG
        if sought:
            sky = sought[0].light.sky
            night = _position(sky, datetime.combine(day + timedelta(days=1), time(0), zone))
            phase = sky.phase_at(sky.moment(night))
        found.append(DateLight(day, fits, tuple(longest), tuple(total), phase))
    return tuple(found)


def met_at(one: Sought) -> np.ndarray:
    """Whether a wish is met, a truth a sample. Raises CannotSayError as ``margin`` does."""
    sky = one.light.sky
    found = np.full(sky.count, True)
    if one.wish.wanted not in (Wanted.ANY, Wanted.FIXED):
        found &= margin(one.wish, one.light, one.horizon) >= 0
    if one.sun is not None:
        up = np.asarray(one.horizon.over(sky.sun.altitude_deg, sky.sun.azimuth_deg)) >= 0
        found &= (one.sun.margin(sky) >= 0) & up
    return found


def _span(one: Sought, day: date, zone: ZoneInfo) -> tuple[int, int]:
    """The samples of a date: its day, or the night that begins on it."""
    clock = time(12) if one.wish.wanted in NIGHTLY else time(0)
    low = datetime.combine(day, clock, zone)
    high = datetime.combine(day + timedelta(days=1), clock, zone)
    sky = one.light.sky
    return _position(sky, low), _position(sky, high)


def _position(sky: Sky, when: datetime) -> int:
    return min(max(round(sky.position(when)), 0), sky.count - 1)


def _minutes(good: np.ndarray, step_min: float) -> tuple[float, float]:
    """The longest stretch and all minutes of it."""
    if not good.any():
        return 0.0, 0.0
    edges = np.flatnonzero(np.diff(np.concatenate(([0], good.view(np.int8), [0]))))
    long = int((edges[1::2] - edges[::2]).max())
    return long * step_min, float(good.sum()) * step_min


def ranked(
    found: Sequence[DateLight], sought: Sequence[Sought], near: date
) -> tuple[DateLight, ...]:
    """The dates on which most fits first, then those with the most room, then the nearest one.

    Room is how many times over a setup's light lasts, in halves and at most twice: more is no
    better, and a few minutes are none.
    """

    def room(one: DateLight) -> float:
        return sum(
            min(int(2 * long / max(s.needs_min, 1)) / 2, 2.0)
            for long, s in zip(one.longest_min, sought, strict=True)
        )

    return tuple(
        sorted(found, key=lambda one: (-one.fits, -room(one), abs((one.day - near).days), one.day))
    )


# Dates are told apart by so much of their light, and by so much of the moon's disc: less is no
# reason to choose one over the other. Common practice, no source.
APART_MIN, APART_LIT = 15.0, 0.25


def differing(best: Sequence[DateLight], most: int) -> tuple[DateLight, ...]:
    """The first of the ranked dates that differ in something a person would choose by.

    In how many setups fit, in how long their light lasts, or in the moon; their order stays.
    """
    seen: set[tuple[object, ...]] = set()
    kept: list[DateLight] = []
    for one in best:
        told = (
            one.fits, tuple(round(long / APART_MIN) for long in one.longest_min),
            round(one.moon_lit / APART_LIT),
        )  # fmt: skip
        if told not in seen:
            seen.add(told)
            kept.append(one)
        if len(kept) == most:
            break
    return tuple(kept)


def any_day_does(sought: Sequence[Sought]) -> bool:
    """True where nothing looked for wants any light in particular, nor the sun anywhere."""
    return bool(sought) and all(one.wish.wanted is Wanted.ANY and one.sun is None for one in sought)


def difference_words(one: DateLight, now: DateLight) -> str:
    """What a date has more or less than another: setups that fit, light, moon; "" for nothing."""
    said = []
    if one.fits != now.fits:
        fits = one.fits - now.fits
        said.append(f"{abs(fits)} {'more' if fits > 0 else 'fewer'} fit")
    longer = sum(one.longest_min) - sum(now.longest_min)
    if abs(longer) >= 1:
        said.append(f"{minutes_text(abs(longer))} {'more' if longer > 0 else 'less'} light")
    moon = one.moon_lit - now.moon_lit
    if abs(moon) >= APART_LIT / 2:
        said.append(f"{'more' if moon > 0 else 'less'} moon, {round(100 * one.moon_lit)} % lit")
    return ", ".join(said)


def next_date(found: Sequence[DateLight], at: int) -> date | None:
    """The first date on which the setup at a position has its light; None on none of them."""
    return next((one.day for one in found if one.longest_min[at] > 0), None)
