"""Positions and hours of sun, moon and Milky Way against astropy and ephem, two libraries outside
this project with ephemerides of their own (ERFA and VSOP87): one minute, 0.05°."""

from datetime import UTC, date, datetime, time, timedelta

import astropy.units as u
import ephem
import numpy as np
import pytest
from astropy.coordinates import AltAz, EarthLocation, SkyCoord, get_body, solar_system_ephemeris
from astropy.time import Time
from astropy.utils import iers

from fotonomy.core.day.almanac import Almanac, Mark, almanac, day_of
from fotonomy.core.sky.horizon import Horizon
from fotonomy.core.sky.track import Sky, Track
from fotonomy.sky.ephemeris import NoSkyError, sky_of_day, sky_over
from tests.sky.places import SPOTS, Spot

# No network: predictions that ship with the library are good enough for a second of time.
iers.conf.auto_download = False
iers.conf.iers_degraded_accuracy = "ignore"
iers.conf.auto_max_age = None

DAYS = (
    date(2027, 1, 18),
    date(2027, 3, 20),
    date(2027, 6, 5),
    date(2027, 9, 14),
    date(2027, 12, 2),
)
ids = [spot.name for spot in SPOTS]


def sky_for(spot: Spot, day: date, hours: int = 26) -> Sky:
    midnight = datetime.combine(day, time(0), spot.zone).astimezone(UTC)
    return sky_of_day(spot.latitude_deg, spot.longitude_deg, spot.height_m, midnight, hours)


def almanac_for(spot: Spot, day: date, horizon: Horizon | None = None) -> Almanac:
    midnight = datetime.combine(day, time(0), spot.zone)
    return almanac(sky_for(spot, day), horizon or Horizon(), day_of(midnight))


@pytest.mark.parametrize("spot", SPOTS, ids=ids)
def test_positions_against_astropy(spot: Spot) -> None:
    where = EarthLocation.from_geodetic(
        spot.longitude_deg * u.deg, spot.latitude_deg * u.deg, spot.height_m * u.m
    )
    for day in DAYS:
        sky = sky_for(spot, day)
        picked = np.arange(0, sky.count, 97)
        times = Time([sky.moment(int(k)).replace(tzinfo=None) for k in picked], scale="utc")
        frame = AltAz(obstime=times, location=where)
        core = SkyCoord(ra=(17 + 45.7 / 60) * u.hourangle, dec=-29.0 * u.deg, frame="icrs")
        with solar_system_ephemeris.set("builtin"):
            bodies = {
                "sun": get_body("sun", times, where), "moon": get_body("moon", times, where), "core": core,
            }  # fmt: skip
        for name, body in bodies.items():
            seen = body.transform_to(frame)
            ours: Track = getattr(sky, name)
            assert ours.altitude_deg[picked] == pytest.approx(seen.alt.deg, abs=0.05), (name, day)
            turned = (ours.azimuth_deg[picked] - seen.az.deg + 180) % 360 - 180
            assert np.abs(turned * np.cos(seen.alt.rad)).max() < 0.05, (name, day)


def observer(spot: Spot, horizon: str) -> ephem.Observer:
    found = ephem.Observer()
    found.lat, found.lon, found.elevation = str(spot.latitude_deg), str(spot.longitude_deg), 0
    # Refraction is counted in the horizon, as the definition has it.
    found.pressure, found.horizon = 0, horizon
    return found


# The altitude of the sun's centre for each pair of marks; rise and set by definition at -50'.
CROSSINGS = (
    ("-0:50", Mark.SUNRISE, Mark.SUNSET), ("-6", Mark.CIVIL_DAWN, Mark.BLUE_UNTIL),
    ("-12", Mark.NAUTICAL_DAWN, Mark.NAUTICAL_DUSK), ("-18", Mark.FIRST_LIGHT, Mark.DARK),
    ("6", Mark.GOLDEN_UNTIL, Mark.GOLDEN_FROM),
)  # fmt: skip


@pytest.mark.parametrize("spot", SPOTS, ids=ids)
def test_hours_of_the_sun_against_ephem(spot: Spot) -> None:
    compared = 0
    for day in DAYS:
        found = almanac_for(spot, day)
        stretch = day_of(datetime.combine(day, time(0), spot.zone))
        for height, rising, setting in CROSSINGS:
            for mark, which in ((rising, "next_rising"), (setting, "next_setting")):
                ours = [event.at for event in found.events if event.mark is mark]
                theirs = theirs_within(spot, height, which, stretch.starts, stretch.ends)
                assert len(ours) == len(theirs), (day, mark)
                for one, other in zip(ours, theirs, strict=True):
                    assert abs((one - other).total_seconds()) < 60, (day, mark)
                    compared += 1
    assert compared >= (8 if abs(spot.latitude_deg) > 70 else 40)


def theirs_within(
    spot: Spot, height: str, which: str, starts: datetime, ends: datetime
) -> list[datetime]:
    found, at = [], starts
    while True:
        watcher = observer(spot, height)
        watcher.date = at.astimezone(UTC).replace(tzinfo=None)
        try:
            then = getattr(watcher, which)(ephem.Sun(), use_center=True)
        except (ephem.AlwaysUpError, ephem.NeverUpError):
            # It gives up on a day; the next may have one.
            at += timedelta(hours=6)
            if at >= ends:
                return found
            continue
        moment = then.datetime().replace(tzinfo=UTC)
        if moment >= ends:
            return found
        if not found or (moment - found[-1]).total_seconds() > 600:
            found.append(moment)
        at = moment + timedelta(minutes=20)


@pytest.mark.parametrize(
    "spot",
    [s for s in SPOTS if abs(s.latitude_deg) < 60],
    ids=[s.name for s in SPOTS if abs(s.latitude_deg) < 60],
)
def test_the_moon_against_ephem(spot: Spot) -> None:
    for day in DAYS:
        found, sky = almanac_for(spot, day), sky_for(spot, day)
        stretch = day_of(datetime.combine(day, time(0), spot.zone))
        for mark, which in ((Mark.MOONRISE, "next_rising"), (Mark.MOONSET, "next_setting")):
            # Upper limb with 16' of half disc and 34' of refraction: the centre at -50', topocentric.
            watcher = observer(spot, "-0:50")
            watcher.date = stretch.starts.replace(tzinfo=None)
            then = (
                getattr(watcher, which)(ephem.Moon(), use_center=True)
                .datetime()
                .replace(tzinfo=UTC)
            )
            ours = found.first(mark)
            if then < stretch.ends:
                assert ours is not None
                assert abs((ours - then).total_seconds()) < 60, (day, mark)
            else:
                assert ours is None
        noon = stretch.starts + (stretch.ends - stretch.starts) / 2
        moon = ephem.Moon(noon.replace(tzinfo=None))
        assert sky.lit_at(noon) == pytest.approx(moon.moon_phase, abs=0.005)
        past = (
            noon.replace(tzinfo=None)
            - ephem.previous_new_moon(noon.replace(tzinfo=None)).datetime()
        )
        assert sky.waxing_at(noon) == (past.total_seconds() / 86_400 < 29.53 / 2)


def test_when_the_sun_stands_highest_against_ephem() -> None:
    for spot in SPOTS:
        if abs(spot.latitude_deg) > 60:
            continue
        for day in DAYS:
            stretch = day_of(datetime.combine(day, time(0), spot.zone))
            watcher = observer(spot, "0")
            watcher.date = stretch.starts.replace(tzinfo=None)
            then = watcher.next_transit(ephem.Sun()).datetime().replace(tzinfo=UTC)
            ours = almanac_for(spot, day).first(Mark.HIGHEST)
            assert ours is not None
            # Highest and due south are some seconds apart, as the declination moves.
            assert abs((ours - then).total_seconds()) < 60


def test_polar_days_say_what_never_happens() -> None:
    cape = SPOTS[1]
    summer, winter = almanac_for(cape, date(2027, 6, 5)), almanac_for(cape, date(2027, 12, 2))
    assert summer.first(Mark.SUNRISE) is None
    assert summer.day_length_min == pytest.approx(1440, abs=1)
    assert "The sun does not set on this day." in summer.notes
    assert winter.day_length_min == 0
    assert "The sun does not rise on this day." in winter.notes


def test_a_day_with_a_change_of_clock_is_as_long_as_it_is() -> None:
    firth = SPOTS[4]
    for day, hours in ((date(2027, 3, 28), 23), (date(2027, 10, 31), 25), (date(2027, 6, 5), 24)):
        stretch = day_of(datetime.combine(day, time(0), firth.zone))
        assert stretch.minutes == 60 * hours
    assert any("25 hours" in note for note in almanac_for(firth, date(2027, 10, 31)).notes)


def test_a_day_outside_the_ephemeris_says_what_is_covered() -> None:
    for year in (1899, 2054):
        with pytest.raises(NoSkyError, match="1900 to September 2053"):
            sky_over(0, 0, 0, datetime(year, 1, 1, tzinfo=UTC), 60)
    # Its ends themselves are there.
    assert sky_over(0, 0, 0, datetime(1900, 1, 1, tzinfo=UTC), 1440).count == 1441
    assert sky_over(0, 0, 0, datetime(2053, 9, 29, tzinfo=UTC), 1440).count == 1441


def test_land_hides_the_sun() -> None:
    slip, day = SPOTS[0], date(2027, 6, 5)
    level = almanac_for(slip, day)
    from fotonomy.shoots.models import horizon_of

    hilly = almanac_for(slip, day, horizon_of([[0, 10], [120, 10], [240, 3], [359, 10]]))
    rise, over = level.first(Mark.SUNRISE), hilly.first(Mark.OVER_LAND)
    assert rise is not None
    assert over is not None
    assert (over - rise).total_seconds() / 60 > 60
    assert level.first(Mark.OVER_LAND) is None
