"""A year of dates for a setup, against what the sky is known to do."""

from datetime import date, datetime
from typing import Any
from zoneinfo import ZoneInfo

import pytest

from fotonomy.core.day.dates import (
    DateLight,
    Sought,
    SunPlace,
    dates_of,
    difference_words,
    differing,
    next_date,
    ranked,
)
from fotonomy.core.day.windows import CannotSayError, Wish
from fotonomy.core.sky.horizon import Horizon
from fotonomy.core.sky.light import PlaceLight
from fotonomy.core.spec.schedule import Wanted
from fotonomy.sky.ephemeris import sky_over

HOBART = ZoneInfo("Australia/Hobart")
FIRST = date(2027, 1, 1)
LIGHT = PlaceLight(
    sky_over(-43.12, 147.05, 0, datetime(2027, 1, 1, tzinfo=HOBART), 367 * 1440, 300)
)


def sought(wanted: Wanted, needs: float = 30, **more: Any) -> Sought:
    sun = more.pop("sun", None)
    return Sought(key=1, name="1A", wish=Wish(wanted=wanted, **more), needs_min=needs, light=LIGHT,
                  horizon=Horizon(), sun=sun)  # fmt: skip


def year_of(*many: Sought) -> tuple[DateLight, ...]:
    return dates_of(many, FIRST, 365, HOBART)


def on(found: tuple[DateLight, ...], month: int, day: int) -> DateLight:
    return next(one for one in found if one.day == date(2027, month, day))


def test_daylight_over_the_year() -> None:
    # At 43.12 S shade is asked from 6 degrees on; the longest day is in December, the shortest in June.
    found = year_of(sought(Wanted.SHADE))
    longest = max(found, key=lambda one: one.total_min[0]).day
    shortest = min(found, key=lambda one: one.total_min[0]).day
    assert (longest.month, shortest.month) == (12, 6)
    # By ephem: over 6 degrees from 08:21 to 15:58 on 5 June.
    assert on(found, 6, 5).longest_min[0] == pytest.approx(457, abs=10)
    assert all(one.fits == 1 for one in found)


def test_moonless_nights_come_with_the_new_moon() -> None:
    # New moons of 2027 (United States Naval Observatory, from memory): 6 March 09:29 UT, 4 June
    # 19:40 UT, 2 August 10:05 UT; full ones on 20 May 10:59 UT and 19 June 00:44 UT.
    found = year_of(sought(Wanted.MOONLESS))
    for month, day in ((3, 7), (6, 5), (8, 2)):
        assert on(found, month, day).moon_lit < 0.03
        assert on(found, month, day).longest_min[0] > 400
    for month, day in ((5, 20), (6, 18)):
        assert on(found, month, day).moon_lit > 0.97
        assert on(found, month, day).longest_min[0] == 0
    # A night is counted whole, over midnight: astronomical dark lasts from 18:26 to 05:54 (ephem).
    assert on(found, 6, 5).longest_min[0] == pytest.approx(688, abs=10)


def test_the_milky_way_is_gone_in_december() -> None:
    found = year_of(sought(Wanted.MILKY_WAY))
    assert on(found, 12, 27).total_min == (0.0,)
    assert on(found, 7, 3).longest_min[0] > 600
    gone = [one for one in found if one.day.month == 12]
    assert next_date(gone, 0) is None


def test_the_sun_at_a_place_in_the_sky() -> None:
    # The noon sun stands at 90 - 43.12 - 23.44 = 23.4 degrees on 21 June, 70.3 on 22 December.
    low = year_of(
        sought(Wanted.ANY, 10, sun=SunPlace(azimuth_deg=0, within_deg=15, height_deg=23.4))
    )
    assert on(low, 6, 21).fits == 1
    assert on(low, 12, 22).total_min == (0.0,)
    high = year_of(
        sought(Wanted.ANY, 10, sun=SunPlace(azimuth_deg=0, within_deg=15, height_deg=70.3))
    )
    assert on(high, 12, 22).fits == 1
    assert on(high, 6, 21).total_min == (0.0,)
    # It never stands in the south, at any height over the land, from there in June.
    assert on(year_of(sought(Wanted.ANY, 10, sun=SunPlace(azimuth_deg=180))), 6, 21).total_min == (
        0.0,
    )
    # Only the height: twice a day.
    both = on(year_of(sought(Wanted.ANY, 1, sun=SunPlace(height_deg=10))), 6, 21)
    assert both.total_min[0] >= 1.8 * both.longest_min[0] > 0


def test_ranking() -> None:
    many = [sought(Wanted.DUSK, 40), sought(Wanted.MOONLESS, 240)]
    found = year_of(*many)
    best = ranked(found, many, date(2027, 6, 5))
    assert best[0].fits == 2
    assert [one.fits for one in best] == sorted((one.fits for one in best), reverse=True)
    # Of dates that are as good the nearest is first; the fifth of June itself is such a one.
    assert best[0].day == date(2027, 6, 5)
    later = ranked(found, many, date(2027, 9, 1))[0]
    assert later.day.month in (8, 9)
    # A few minutes more are no reason to wait half a year.
    dusk = [sought(Wanted.DUSK, 40)]
    assert ranked(year_of(*dusk), dusk, date(2027, 6, 5))[0].day == date(2027, 6, 5)


def test_what_cannot_be_said_is_raised() -> None:
    with pytest.raises(CannotSayError):
        year_of(sought(Wanted.SUN_BEHIND))
    with pytest.raises(CannotSayError):
        year_of(sought(Wanted.OVERCAST))
    assert dates_of([], FIRST, 3, HOBART)[0].fits == 0


def test_dates_to_choose_from_differ_in_something() -> None:
    def one(day: int, fits: int, longest: float, phase: float = 90.0) -> DateLight:
        return DateLight(date(2027, 6, day), fits, (longest,), (longest,), phase)

    # 7 minutes are no reason to choose; a quarter of an hour, another fit, or the moon are.
    ranked_ones = [
        one(5, 1, 60), one(6, 1, 67), one(7, 1, 68), one(8, 0, 60), one(9, 1, 60, 0.0), one(10, 1, 61),
    ]  # fmt: skip
    assert [x.day.day for x in differing(ranked_ones, 9)] == [5, 7, 8, 9]
    assert [x.day.day for x in differing(ranked_ones, 2)] == [5, 7]
    assert difference_words(one(5, 1, 60), one(6, 1, 60)) == ""
    assert difference_words(one(5, 2, 90, 0.0), one(6, 1, 60)) == (
        "1 more fit, 30 min more light, more moon, 100 % lit"
    )
    assert difference_words(one(5, 0, 60, 180.0), one(6, 2, 75)) == (
        "2 fewer fit, 15 min less light, less moon, 0 % lit"
    )
