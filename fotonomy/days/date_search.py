"""A year looked through for one setup or for all of a day."""

from dataclasses import dataclass
from datetime import UTC, date, datetime, time, timedelta
from functools import lru_cache
from typing import Any

from fotonomy.core.day.dates import DateLight, Sought, SunPlace, dates_of, met_at, ranked
from fotonomy.core.day.windows import CannotSayError, Wish, windows
from fotonomy.core.sky.horizon import Horizon
from fotonomy.core.sky.light import LightReading, PlaceLight
from fotonomy.core.sky.track import Sky, Stretch
from fotonomy.core.spec.setup import Site
from fotonomy.days.planning import PlannedDay, wish_of
from fotonomy.shoots.models import Place
from fotonomy.sky.ephemeris import sky_over

DAYS, STEP_S = 365, 300.0
# Places this near to each other share a year's sky: a tenth of a degree moves the sun by as much.
NEAR_DEG = 0.1


@dataclass(frozen=True, eq=False)
class Found:
    """Dates by the calendar and by merit; ``left_out`` are setups that cannot be sought."""

    sought: tuple[Sought, ...]
    dates: tuple[DateLight, ...]
    best: tuple[DateLight, ...]
    left_out: tuple[tuple[str, str], ...]
    sky: Sky | None
    good: Any


Skies = dict[Site, Sky]


def far_apart(planned: PlannedDay, keys: list[int]) -> dict[Site, Place]:
    """Places of these setups that need a sky of their own, by where they are."""
    found: dict[Site, Place] = {}
    for block in planned.plan.blocks:
        place = planned.rows[block.key].place
        site = place.site
        if block.key not in keys or site is None:
            continue
        if not any(_near(known, site) for known in found):
            found[site] = place
    return found


def year_over(place: Place, site: Site, first: date) -> Sky:
    """A year of sky over a place. Raises NoSkyError outside the ephemeris."""
    starts = datetime.combine(first, time(0), place.zone).astimezone(UTC)
    return sky_over(
        site.latitude_deg, site.longitude_deg, place.height_m, starts, (DAYS + 2) * 1440, STEP_S
    )


def find_dates(
    planned: PlannedDay, keys: list[int], first: date, sun: SunPlace | None = None,
    skies: Skies | None = None,
) -> Found:  # fmt: skip
    """A year from a date on for these setups of a day. Raises NoSkyError outside the ephemeris.

    ``skies`` are those over its far apart places, where somebody has them.
    """
    if skies is None:
        skies = {site: year_over(place, site, first)
                 for site, place in far_apart(planned, keys).items()}  # fmt: skip
    sought, left_out = [], []
    for block in planned.plan.blocks:
        if block.key not in keys:
            continue
        row, spec = planned.rows[block.key], planned.specs[block.key]
        site = row.place.site
        if site is None:
            left_out.append((block.name, "where the place is"))
            continue
        near = next(known for known in skies if _near(known, site))
        known = planned.light(row.place_id)
        light = PlaceLight(skies[near], row.place.own_ev100, None, known.readings if known else ())
        one = Sought(
            key=block.key, name=block.name, wish=wish_of(row, spec), needs_min=block.shoot_min,
            light=light, horizon=row.place.land, sun=sun,
        )  # fmt: skip
        try:
            met_at(one)
        except CannotSayError as error:
            left_out.append((block.name, str(error)))
            continue
        sought.append(one)
    dates = dates_of(sought, first, DAYS, planned.zone) if sought else ()
    # The band shows the hours of one setup; of many it would show none.
    good = met_at(sought[0]) if len(sought) == 1 else None
    return Found(
        tuple(sought), dates, ranked(dates, sought, planned.day.date), tuple(left_out),
        sought[0].light.sky if sought else None, good,
    )  # fmt: skip


def _near(one: Site, other: Site) -> bool:
    apart = (one.latitude_deg - other.latitude_deg, one.longitude_deg - other.longitude_deg)
    return max(map(abs, apart)) < NEAR_DEG


def first_of(text: str, usual: date) -> date:
    """The date the year begins with, as sent; the first of the usual month where it is none."""
    try:
        return date.fromisoformat(text)
    except ValueError:
        return usual - timedelta(days=usual.day - 1)


# The next hours of a light are looked for so many days ahead at first, then over the whole year.
SOON_DAYS = 45
NEXT_STEP_S = 600.0


@dataclass(frozen=True, slots=True)
class _Asked:
    """What decides when a light is next there."""

    site: Site
    height_m: float
    starts: datetime
    wish: Wish
    land: Horizon
    own_ev100: float | None
    readings: tuple[LightReading, ...]


def next_light(planned: PlannedDay, key: int) -> Stretch | None:
    """When after this day and its night a setup's light is next there; None within a year.

    Raises NoSkyError or CannotSayError where nobody can say.
    """
    row, spec = planned.rows[key], planned.specs[key]
    site, light = row.place.site, planned.light(row.place_id)
    if site is None or light is None:
        raise CannotSayError("where the place is")
    starts = planned.midnight.astimezone(UTC) + timedelta(days=1, hours=12)
    return _next_light(_Asked(
        site, row.place.height_m, starts, wish_of(row, spec), row.place.land, row.place.own_ev100,
        light.readings,
    ))  # fmt: skip


@lru_cache(maxsize=256)
def _next_light(asked: _Asked) -> Stretch | None:
    for days in (SOON_DAYS, DAYS):
        sky = sky_over(
            asked.site.latitude_deg, asked.site.longitude_deg, asked.height_m, asked.starts,
            days * 1440, NEXT_STEP_S,
        )  # fmt: skip
        light = PlaceLight(sky, asked.own_ev100, None, asked.readings)
        found = windows(asked.wish, light, asked.land)
        first = next((one for one in found if one.minutes >= 1), None)
        if first is not None:
            return first
    return None
