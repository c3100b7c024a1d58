"""A day of a shoot as the core plans it: rows turned into blocks, places into skies."""

from collections.abc import Callable
from dataclasses import dataclass
from datetime import UTC, datetime, time, timedelta
from math import atan, degrees
from zoneinfo import ZoneInfo

from django.db.models import prefetch_related_objects

from fotonomy.core.analysis.supplies import supplies_of
from fotonomy.core.day.advice import Exposed
from fotonomy.core.day.blocks import Block, moment_of, shoot_minutes, working_hours
from fotonomy.core.day.day_plan import DayPlan, Spot
from fotonomy.core.day.direction import FieldOfView
from fotonomy.core.day.travel_time import way_minutes
from fotonomy.core.day.windows import CannotSayError, Wish, windows
from fotonomy.core.notation import writing as n
from fotonomy.core.parsing.schedule import format_hour
from fotonomy.core.photometry.exposure_value import ev100_of
from fotonomy.core.sky.light import PlaceLight
from fotonomy.core.sky.track import Stretch
from fotonomy.core.spec import setup as core
from fotonomy.core.spec.schedule import Wanted
from fotonomy.shoots.mapping import (
    PlaceAndDay,
    UnplannableError,
    packed_kit,
    spec_of,
)
from fotonomy.shoots.models import Day, Place, Setup, Shoot


@dataclass(frozen=True, eq=False)
class PlannedDay:
    """A day with its rows, their specs, the light of its places, and the core's plan of it.

    ``broken`` are setups that cannot be planned, with the reason.
    """

    shoot: Shoot
    day: Day
    rows: dict[int, Setup]
    specs: dict[int, core.Setup]
    lights: dict[int, PlaceLight | None]
    plan: DayPlan
    broken: dict[int, str]

    @property
    def zone(self) -> ZoneInfo:
        """The clock of the day: that of the shoot's first place."""
        return zone_of(self.shoot)

    @property
    def midnight(self) -> datetime:
        """The day's first moment."""
        return self.day.midnight(self.zone)


def zone_of(shoot: Shoot) -> ZoneInfo:
    """The clock a shoot goes by: that of its first place."""
    zone: ZoneInfo = shoot.main_place.zone
    return zone


def planned_day(shoot: Shoot, day: Day) -> PlannedDay:
    """A day as it stands. The number of queries does not grow with its setups."""
    # Gear that many setups share is fetched and read once.
    found = shoot.setups.filter(day=day).prefetch_related(
        "body", "lens", "profile", "filters", "things"
    )
    rows = {row.pk: row for row in found}
    packed = packed_kit(shoot)
    places = {place.pk: place for place in shoot.places.prefetch_related("light_readings")}
    day.__dict__.pop("_prefetched_objects_cache", None)
    prefetch_related_objects([day], "weathers__place")
    there = {key: PlaceAndDay.of(place, day) for key, place in places.items()}
    lights = {key: one.daylight for key, one in there.items()}
    specs, broken = {}, {}
    for key, row in rows.items():
        row.shoot, row.place, row.day = shoot, places[row.place_id], day
        try:
            specs[key] = spec_of(row, packed, there[row.place_id])
        except UnplannableError as error:
            broken[key] = f"{error.field} {error.rule}"
    blocks = tuple(
        block_of(rows[key], spec, lights[rows[key].place_id]) for key, spec in specs.items()
    )
    spots = {key: _spot(place, day, there[key]) for key, place in places.items()}
    zone = zone_of(shoot)
    plan = DayPlan(
        blocks, spots, _ways(shoot, places), working_hours(day.midnight(zone), day.call, day.wrap),
        lambda when: f"{when.astimezone(zone):%H:%M}",
    )  # fmt: skip
    return PlannedDay(shoot, day, rows, specs, lights, plan, broken)


def _ways(shoot: Shoot, places: dict[int, Place]) -> Callable[[int, int], float]:
    typed = {frozenset((way.start_id, way.end_id)): way.minutes for way in shoot.ways.all()}

    def minutes(start: int, end: int) -> float:
        if start == end:
            return 0.0
        known = typed.get(frozenset((start, end)))
        return way_minutes(places[start].site, places[end].site) if known is None else known

    return minutes


def _spot(place: Place, day: Day, there: PlaceAndDay) -> Spot:
    sky = there.daylight.sky if there.daylight else None
    return Spot(str(place), sky, place.land, _open_hours(place, day), there.weather)


def _open_hours(place: Place, day: Day) -> tuple[Stretch, ...]:
    """When one may be at a place on a day; nothing where that was not said."""
    if place.opens is None or place.closes is None:
        return ()
    midnight = day.midnight(place.zone)
    found = [working_hours(midnight, place.opens, place.closes)]
    if place.closes <= place.opens:
        # Open over midnight: so it was the night before.
        found.insert(0, working_hours(midnight - timedelta(days=1), place.opens, place.closes))
    return tuple(found)


def field_of(spec: core.Setup) -> FieldOfView:
    """How wide and high the picture is, in degrees: twice the arc tangent of half over focal."""
    return FieldOfView(
        2 * degrees(atan(spec.picture_width_mm / (2 * spec.focal_mm))),
        2 * degrees(atan(spec.format.sensor_height_mm / (2 * spec.focal_mm))),
    )


def block_of(row: Setup, spec: core.Setup, light: PlaceLight | None) -> Block:
    """A setup as a block of its day."""
    schedule = spec.schedule
    found: tuple[Stretch, ...] = ()
    cannot = ""
    if light is None:
        cannot = "where the place is" if schedule.wants is not Wanted.ANY else ""
    else:
        try:
            found = windows(wish_of(row, spec), light, row.place.land)
        except CannotSayError as error:
            cannot = str(error)
    return Block(
        key=row.pk, name=str(row), kind=spec.kind, place=row.place_id, body=spec.body.name,
        lens=spec.lens.name, rolls=None if spec.starts is None else spec.starts.astimezone(UTC),
        prepare_min=schedule.prepare_min,
        shoot_min=shoot_minutes(spec.kind, schedule, spec.run.event_s), schedule=schedule,
        windows=found, cannot_say=cannot, looks_deg=spec.looks_deg, field=field_of(spec),
        wish=_wish_words(spec), stars=spec.records_stills and spec.run.declination_deg is not None,
        exposed=Exposed.of(spec), supplies=supplies_of(spec),
    )  # fmt: skip


def _wish_words(spec: core.Setup) -> str:
    """The light a setup wants, with the number that belongs to it."""
    schedule = spec.schedule
    if schedule.wants in (Wanted.ABOVE, Wanted.UNDER):
        bound = ev100_of(spec.light) if schedule.wants_ev is None else schedule.wants_ev
        side = "at least" if schedule.wants is Wanted.ABOVE else "at most"
        return f"{side} {n.format_number(bound, 1)} EV"
    if schedule.wants is Wanted.FIXED and schedule.wants_at_min is not None:
        return f"{format_hour(schedule.wants_at_min)} sharp"
    return schedule.wants.label


def wish_of(row: Setup, spec: core.Setup) -> Wish:
    """What light a setup wants, with the numbers that belong to it."""
    schedule, at = spec.schedule, None
    if schedule.wants is Wanted.FIXED:
        fixed = schedule.wants_at_min
        if fixed is not None:
            whole = int(fixed) % (24 * 60)
            clock = time(whole // 60, whole % 60)
            day = row.day
            at = moment_of(day.midnight(row.place.zone), clock, day.call, day.wrap)
        else:
            at = spec.starts
    bound = schedule.wants_ev
    return Wish(
        wanted=schedule.wants, ev100=ev100_of(spec.light) if bound is None else bound, at=at,
        looks_deg=spec.looks_deg,
    )  # fmt: skip
