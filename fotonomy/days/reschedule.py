"""A setup moved on the day: another hour, place or length, and the light that goes with it."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from datetime import UTC, datetime, timedelta

from django.db import transaction

from fotonomy.core.analysis.kind_wants import lit_by_sky
from fotonomy.core.constants import EV_RANGE
from fotonomy.core.day.blocks import moment_of
from fotonomy.core.errors import RuleError
from fotonomy.core.findings import exposure
from fotonomy.core.notation import writing as n
from fotonomy.core.photometry.exposure_value import Ev100, ev100_of
from fotonomy.core.plan import plan
from fotonomy.core.spec import setup as core
from fotonomy.core.spec.changes import applied
from fotonomy.core.spec.schedule import LONGEST_MIN
from fotonomy.core.spec.stills import Ramp
from fotonomy.days.planning import zone_of
from fotonomy.shoots import history
from fotonomy.shoots.editing.stills import sky_for
from fotonomy.shoots.mapping import (
    PlaceAndDay,
    fresh_row,
    snapshot,
    spec_of,
    whole_rows,
    write_spec,
)
from fotonomy.shoots.models import Day, Setup, Shoot
from fotonomy.shoots.packed_kit import packed_kit
from fotonomy.shoots.write_lock import in_turn

# Less than this is no other light; a plan that misses by less needs no change.
SAME_LIGHT_STOPS = 0.17
# A day's drawing reaches into the night after it.
LATEST_MIN = 36 * 60
# What a change of clock may move, in seconds; a day off is more.
CLOCK_CHANGE_S = 3 * 3600


@dataclass(frozen=True, slots=True, kw_only=True)
class Move:
    """What is asked: each part None where it stays.

    ``starts_min`` counts from the day's midnight on the shoot's clock; ``no_hour`` takes the hour
    away. ``estimate`` takes the light of the new hour, else what was metered is kept.
    """

    starts_min: float | None = None
    no_hour: bool = False
    place: int | None = None
    day: int | None = None
    shoot_min: float | None = None
    estimate: bool = True
    gesture: str = ""


@dataclass(frozen=True, slots=True)
class Moved:
    """What came of it, in words: where it is now, and what the light made of the settings."""

    row: Setup
    words: str


@in_turn()
@transaction.atomic
def move(row: Setup, asked: Move) -> Moved:
    """Move a setup; one step to undo. Raises RuleError naming the field, and Setup.DoesNotExist."""
    row = fresh_row(row)
    before, packed = snapshot(row), packed_kit(row.shoot)
    stood, there = (row.place_id, row.day_id), PlaceAndDay.of(row.place, row.day)
    was = spec_of(row, packed, there)
    _put(row, asked)
    spec = spec_of(row, packed, there if (row.place_id, row.day_id) == stood else None)
    words = ""
    if asked.shoot_min is not None:
        spec = replace(spec, schedule=replace(spec.schedule, shoot_min=asked.shoot_min))
    if asked.estimate and not spec.lamps:
        spec, words = _relit(row, was, spec)
    write_spec(row, spec)
    after = snapshot(row)
    if before != after:
        row.summary = None
        row.save()
        label = f"{row} moved" if before["planned_time"] != after["planned_time"] else f"{row}"
        history.record(row.shoot, label, {str(row.pk): before}, {str(row.pk): after}, asked.gesture)
    return Moved(row, words)


@in_turn()
@transaction.atomic
def place_all(
    shoot: Shoot, starts: Mapping[int, tuple[Day, datetime]], left: Iterable[int], estimate: bool
) -> int:
    """Put setups at these first takes and take the hour of those that are left; one step to undo.

    Among their own places in the running order they follow the hours. How many have other settings
    in the light of their new hour. What is gone is passed over.
    """
    packed = packed_kit(shoot)
    before: history.Snapshots = {}
    after: history.Snapshots = {}
    relit = 0
    left = set(left)
    places = {place.pk: place for place in shoot.places.prefetch_related("light_readings")}
    rows = list(whole_rows(shoot).select_for_update(of=("self",)).filter(pk__in=[*starts, *left]))
    order = _by_the_hour(rows, starts)
    for row in rows:
        row.shoot, row.place = shoot, places[row.place_id]
        before[str(row.pk)] = snapshot(row)
        row.position = order[row.pk]
        was = spec_of(row, packed)
        if row.pk in left:
            row.planned_time = None
        else:
            row.day, when = starts[row.pk]
            row.planned_time = when.astimezone(row.place.zone).time().replace(second=0)
        spec = spec_of(row, packed)
        if estimate and not spec.lamps:
            spec, words = _relit(row, was, spec)
            relit += bool(words)
        write_spec(row, spec)
        row.summary = None
        row.save()
        after[str(row.pk)] = snapshot(row)
    history.record(shoot, "day arranged", before, after)
    return relit


def _by_the_hour(rows: list[Setup], starts: Mapping[int, tuple[Day, datetime]]) -> dict[int, int]:
    """The place of each in the running order: by the hour, what has none last, among their own."""
    last = datetime.max.replace(tzinfo=UTC)
    places = sorted(row.position for row in rows)
    follow = sorted(
        rows, key=lambda row: (starts[row.pk][1] if row.pk in starts else last, row.position)
    )
    return {row.pk: place for row, place in zip(follow, places, strict=True)}


def _put(row: Setup, asked: Move) -> None:
    """Hour, place and day as asked, checked."""
    shoot = row.shoot
    if asked.day is not None:
        if asked.day not in shoot.days_by_id:
            raise RuleError("day", "is none of this shoot", asked.day)
        row.day = shoot.days_by_id[asked.day]
    if asked.place is not None:
        if asked.place not in shoot.places_by_id:
            raise RuleError("place", "is none of this shoot", asked.place)
        row.place = shoot.places_by_id[asked.place]
    if asked.shoot_min is not None and not 1 <= asked.shoot_min <= LONGEST_MIN:
        raise RuleError("shoot_min", "a time from 1 min to a day", asked.shoot_min)
    if asked.no_hour:
        row.planned_time = None
    elif asked.starts_min is not None:
        if not 0 <= asked.starts_min <= LATEST_MIN:
            raise RuleError("starts_min", "an hour of this day", asked.starts_min)
        midnight = row.day.midnight(zone_of(shoot))
        # On the wall clock of the place: a change of clock moves what the hand pointed at.
        local = midnight.replace(tzinfo=None) + timedelta(minutes=round(asked.starts_min))
        there = local.replace(tzinfo=midnight.tzinfo).astimezone(row.place.zone)
        row.planned_time = there.time().replace(second=0, microsecond=0)
        day, zone = row.day, row.place.zone
        meant = moment_of(day.midnight(zone), row.planned_time, day.call, day.wrap)
        if abs((meant - there).total_seconds()) > CLOCK_CHANGE_S:
            raise RuleError(
                "starts_min", f"this day ends at {day.wrap:%H:%M}: put its wrap after midnight, or "
                "use the next day", asked.starts_min,
            )  # fmt: skip


def _relit(row: Setup, was: core.Setup, spec: core.Setup) -> tuple[core.Setup, str]:
    """The setup in the light of its new hour, planned anew, and what that changed.

    What was metered stays the measure: the estimate says by how much the light moves from it.
    """
    light = spec.daylight
    if light is None or spec.starts is None or not light.sky.covers(spec.starts):
        return spec, ""
    if not spec.light_said and not lit_by_sky(spec):
        # What lamps give at night nobody said, and the sky does not tell it.
        return spec, ""
    estimate = light.at(spec.starts)
    present = ev100_of(spec.light)
    moved = estimate.ev100 - present
    known = was.daylight
    if not spec.light_said:
        # Nothing was metered: the sky's light is all there is to go by.
        pass
    elif was.starts is not None and known is not None and known.sky.covers(was.starts):
        moved = estimate.ev100 - known.at(was.starts).ev100
    if abs(moved) < SAME_LIGHT_STOPS and spec.light_said:
        return spec, ""
    spec = applied_light(spec, present + moved)
    follows = spec.kind.traits.has_interval and spec.run.ramp is not Ramp.FIXED
    if spec.run.light_curve or follows:
        spec = sky_for(row, spec)
    hour = f"{spec.starts:%H:%M}"
    side = "darker" if moved < 0 else "brighter"
    said = f"At {hour} it is {n.format_stops(abs(moved))} {side}"
    balanced, ways = _balanced(spec)
    return balanced, f"{said}: {ways}." if ways else f"{said}; the settings still fit."


def applied_light(spec: core.Setup, ev100: float) -> core.Setup:
    """The setup in so much light, within what a scene can have."""
    low, high = EV_RANGE
    ev = Ev100(round(min(high, max(low, ev100)), 1))
    return replace(spec, light=ev, light_said=True)


def _balanced(spec: core.Setup) -> tuple[core.Setup, str]:
    """The setup with the planner's first way out of its miss, and the ways in words."""
    found = next((f for f in plan(spec).findings if f.family in exposure.OFF_BALANCE), None)
    if found is None:
        return spec, ""
    ways = [fix for fix in found.fixes if not fix.touches_held]
    if not ways:
        return spec, f"{found.what.lower()}, and nothing that is free to move mends it"
    first, *others = ways
    said = first.label + "".join(f", or {other.label}" for other in others[:2])
    try:
        return applied(spec, first.changes), said
    except RuleError:
        return spec, said


def clock_minutes(when: datetime, midnight: datetime) -> float:
    """Minutes since the day's midnight as the clock shows them."""
    local = when.astimezone(midnight.tzinfo)
    return (local.replace(tzinfo=None) - midnight.replace(tzinfo=None)).total_seconds() / 60
