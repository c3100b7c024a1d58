"""A day of a shoot as the core plans it: rows turned into blocks, places into skies."""

from collections.abc import Callable
from dataclasses import dataclass
from datetime import UTC, datetime, time, timedelta
from functools import cached_property
from math import atan, degrees
from zoneinfo import ZoneInfo

import numpy as np
from django.db.models import Prefetch, prefetch_related_objects

from fotonomy.core.analysis.kind_wants import lit_by_sky
from fotonomy.core.analysis.setup import run_s
from fotonomy.core.analysis.supplies import supplies_of
from fotonomy.core.day.advice import Exposed
from fotonomy.core.day.blocks import (
    Block,
    BlockLight,
    moment_of,
    shoot_minutes,
    working_hours,
)
from fotonomy.core.day.day_plan import DayPlan, Spot
from fotonomy.core.day.direction import FieldOfView
from fotonomy.core.day.travel_time import way_minutes
from fotonomy.core.day.windows import CannotSayError, Wish, windows
from fotonomy.core.findings.exposure import light_unsaid
from fotonomy.core.notation import writing as n
from fotonomy.core.parsing.schedule import fixed_words
from fotonomy.core.photometry.exposure_value import ev100_of
from fotonomy.core.planner.exposure_reach import exposure_reach
from fotonomy.core.sky.light import PlaceLight
from fotonomy.core.sky.track import Stretch
from fotonomy.core.spec import setup as core
from fotonomy.core.spec.schedule import Wanted
from fotonomy.core.spec.stills import Ramp
from fotonomy.shoots.mapping import (
    PlaceAndDay,
    UnplannableError,
    spec_of,
    starts_of,
    weathers_with_places,
)
from fotonomy.shoots.models import Day, Place, Setup, Shoot
from fotonomy.shoots.models.setup import SetupRows
from fotonomy.shoots.packed_kit import PackedKit, packed_kit


@dataclass(frozen=True, eq=False, kw_only=True)
class PlannedDay:
    """A day with its rows; specs, light and the core's plan of it are made as they are asked for.

    A page of one setup makes the spec of that one, not of the whole day.
    """

    shoot: Shoot
    day: Day
    rows: dict[int, Setup]
    kit: PackedKit
    places: dict[int, Place]

    @property
    def zone(self) -> ZoneInfo:
        """The clock of the day: that of the shoot's first place."""
        return zone_of(self.shoot)

    @property
    def midnight(self) -> datetime:
        """The day's first moment."""
        return self.day.midnight(self.zone)

    @cached_property
    def _there(self) -> dict[int, PlaceAndDay]:
        return {}

    def there(self, place: int) -> PlaceAndDay:
        """The light and the weather of a place on the day."""
        if place not in self._there:
            self._there[place] = PlaceAndDay.of(self.places[place], self.day)
        return self._there[place]

    def light(self, place: int) -> PlaceLight | None:
        """The light of a place on the day; None where nobody said where it is."""
        return self.there(place).daylight

    @cached_property
    def _specs(self) -> dict[int, core.Setup | UnplannableError]:
        return {}

    def spec(self, key: int) -> core.Setup:
        """A setup as the core plans it. Raises UnplannableError, and KeyError for another day's."""
        if key not in self._specs:
            row = self.rows[key]
            try:
                self._specs[key] = spec_of(row, self.kit, self.there(row.place_id))
            except UnplannableError as error:
                self._specs[key] = error
        found = self._specs[key]
        if isinstance(found, UnplannableError):
            raise found
        return found

    def why_broken(self, key: int) -> str:
        """Why a setup cannot be planned; empty where it can."""
        try:
            self.spec(key)
        except UnplannableError as error:
            return f"{error.field} {error.rule}"
        return ""

    @cached_property
    def broken(self) -> dict[int, str]:
        """Setups that cannot be planned, with the reason."""
        return {key: why for key in self.rows if (why := self.why_broken(key))}

    @cached_property
    def specs(self) -> dict[int, core.Setup]:
        """Every setup that can be planned."""
        return {key: self.spec(key) for key in self.rows if key not in self.broken}

    @cached_property
    def _blocks(self) -> dict[int, Block]:
        return {}

    def block(self, key: int) -> Block:
        """A setup as a block of the day. Raises as ``spec``."""
        if key not in self._blocks:
            row, spec = self.rows[key], self.spec(key)
            self._blocks[key] = block_of(row, spec, self.light(row.place_id))
        return self._blocks[key]

    @cached_property
    def agenda(self) -> list[Setup]:
        """The rows of the day by their hours, those without one last."""

        def hour(row: Setup) -> tuple[bool, datetime | None, int]:
            starts = starts_of(row)
            return starts is None, starts, row.pk if starts else row.position

        return sorted(self.rows.values(), key=hour)

    def clock(self, when: datetime) -> str:
        """A moment on the clock of the day."""
        return f"{when.astimezone(self.zone):%H:%M}"

    @cached_property
    def way_min(self) -> Callable[[int, int], float]:
        """Minutes from one place to another: as typed, else estimated."""
        typed = {frozenset((w.start_id, w.end_id)): w.minutes for w in self.shoot.ways.all()}

        def minutes(start: int, end: int) -> float:
            if start == end:
                return 0.0
            known = typed.get(frozenset((start, end)))
            if known is not None:
                return known
            return way_minutes(self.places[start].site, self.places[end].site)

        return minutes

    @cached_property
    def plan(self) -> DayPlan:
        """The core's plan of the whole day."""
        day = self.day
        return DayPlan(
            tuple(self.block(key) for key in self.specs),
            {key: _spot(place, day, self.there(key)) for key, place in self.places.items()},
            self.way_min, working_hours(self.midnight, day.call, day.wrap), self.clock,
        )  # fmt: skip


def zone_of(shoot: Shoot) -> ZoneInfo:
    """The clock a shoot goes by: that of its first place."""
    zone: ZoneInfo = shoot.main_place.zone
    return zone


def planned_day(shoot: Shoot, day: Day) -> PlannedDay:
    """A day as it stands. The number of queries does not grow with its setups."""
    return _planned(shoot, day, shoot.setups.filter(day=day))


def planned_day_of(shoot: Shoot, setup_id: int) -> PlannedDay:
    """The day that a setup stands on. Raises Setup.DoesNotExist."""
    own = shoot.setups.filter(pk=setup_id).values("day")
    rows = shoot.setups.filter(day__in=own)
    first = rows.first()
    if first is None:
        raise Setup.DoesNotExist
    return _planned(shoot, shoot.days_by_id[first.day_id], rows)


def _planned(shoot: Shoot, day: Day, found: SetupRows) -> PlannedDay:
    rows = {row.pk: row for row in found.with_ids()}
    places = shoot.places_by_id
    # Read anew: somebody may have metered or typed the weather since the shoot was read.
    for part in (day, *places.values()):
        part.__dict__.pop("_prefetched_objects_cache", None)
    prefetch_related_objects(list(places.values()), "light_readings")
    prefetch_related_objects([day], Prefetch("weathers", weathers_with_places()))
    for row in rows.values():
        row.shoot, row.place, row.day = shoot, places[row.place_id], day
    return PlannedDay(shoot=shoot, day=day, rows=rows, kit=packed_kit(shoot), places=places)


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
        shoot_min=shoot_minutes(spec.kind, schedule, run_s(spec)), schedule=schedule,
        windows=found, cannot_say=cannot, looks_deg=spec.looks_deg, field=field_of(spec),
        wish=_wish_words(spec), stars=spec.records_stills and spec.run.declination_deg is not None,
        exposed=Exposed.of(spec), supplies=supplies_of(spec), light=_light_of(spec, light),
    )  # fmt: skip


def _light_of(spec: core.Setup, light: PlaceLight | None) -> BlockLight | None:
    """What a setup is planned for, and when the sky's light can be exposed with its gear."""
    reach = exposure_reach(spec)
    if reach is None:
        return None
    exposable = None
    # What follows the light by itself says on its own how far it can.
    follows = spec.kind.traits.has_interval and spec.run.ramp is not Ramp.FIXED
    by_sky = lit_by_sky(spec) or (spec.light_said and not spec.lamps)
    if light is not None and by_sky and not follows:
        ev100 = light.over().ev100
        inside = np.minimum(ev100 - reach.darkest_ev, reach.brightest_ev - ev100)
        exposable = light.sky.stretches(inside)
    said = light_unsaid(spec) is None
    return BlockLight(ev100_of(spec.light), said, reach, exposable)


def _wish_words(spec: core.Setup) -> str:
    """The light a setup wants, with the number that belongs to it."""
    schedule = spec.schedule
    if schedule.wants in (Wanted.ABOVE, Wanted.UNDER):
        bound = ev100_of(spec.light) if schedule.wants_ev is None else schedule.wants_ev
        side = "at least" if schedule.wants is Wanted.ABOVE else "at most"
        return f"{side} {n.format_number(bound, 1)} EV"
    if schedule.wants is Wanted.FIXED and schedule.wants_at_min is not None:
        return fixed_words(schedule.wants_at_min, schedule.wants_within_min)
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
        looks_deg=spec.looks_deg, within_min=schedule.wants_within_min,
    )  # fmt: skip
