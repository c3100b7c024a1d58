"""A shoot is made with its first place and day; places, days and scenes come, change and go."""

import json
from collections.abc import Iterable, Sequence
from datetime import date, datetime
from typing import Any

from django.contrib.auth.models import User
from django.db import models, transaction
from django.db.models import Max

from fotonomy.core.errors import RuleError
from fotonomy.exchange.outline_files import LARGEST_OUTLINES_BYTES
from fotonomy.kit.quotas import room_for_bytes
from fotonomy.shoots import history
from fotonomy.shoots.history_rows import OF_SHOOT, Part, key_of, part_snapshot
from fotonomy.shoots.mapping import snapshot
from fotonomy.shoots.models import Day, LightReading, Outline, Place, Scene, Setup, Shoot, Way
from fotonomy.shoots.services.quotas import (
    MOST_DAYS,
    MOST_LIGHT_READINGS,
    MOST_PLACES,
    MOST_SCENES,
    room_for_shoot,
)
from fotonomy.shoots.write_lock import in_turn

# What a new shoot takes over from its owner's last one, of itself and of its place.
PLACE_COLUMNS = ("latitude_deg", "longitude_deg", "height_m", "time_zone", "mains_hz")


class NeededError(ValueError):
    """A part that a shoot cannot do without."""


@transaction.atomic
def make_shoot(owner: User, *, date: date, place_name: str = "", **given: Any) -> Shoot:
    """A shoot with its first day and its first place; ``given`` are columns of either.

    Raises QuotaError.
    """
    room_for_shoot(owner)
    where = {name: given.pop(name) for name in PLACE_COLUMNS if name in given}
    shoot = Shoot.objects.create(owner=owner, **given)
    Place.objects.create(shoot=shoot, name=place_name, **where)
    Day.objects.create(shoot=shoot, date=date)
    return shoot


@in_turn()
@transaction.atomic
def change_shoot(shoot: Shoot, date: date, place: dict[str, Any]) -> None:
    """Save a changed shoot, its first day and columns of its first place; one step to undo."""
    stored = Shoot.objects.select_for_update().get(pk=shoot.pk)
    first, day = shoot.places.get(pk=stored.main_place.pk), shoot.days.get(pk=stored.first_day.pk)
    parts: tuple[models.Model, ...] = (stored, first, day)
    before: history.Snapshots = {key_of(one): part_snapshot(one) for one in parts}
    for name, value in place.items():
        setattr(first, name, value)
    day.date = date
    shoot.save(update_fields=OF_SHOOT)
    first.save()
    day.save()
    shoot.forget_parts()
    after: history.Snapshots = {key_of(one): part_snapshot(one) for one in (shoot, first, day)}
    history.record(shoot, f"{shoot.name} changed", before, after)


@in_turn()
@transaction.atomic
def add_part(row: Part, label: str) -> None:
    """Save a new part; one step to undo. Raises RuleError where there are too many."""
    _add(row)
    history.record(row.shoot, label, {key_of(row): None}, {key_of(row): part_snapshot(row)})


def _add(row: Part) -> None:
    shoot = row.shoot
    if isinstance(row, Place | Scene):
        rows = shoot.places if isinstance(row, Place) else shoot.scenes
        row.position = (rows.aggregate(at=Max("position"))["at"] or 0) + 1
    for sort, count, most in (
        (Place, shoot.places.count(), MOST_PLACES), (Day, shoot.days.count(), MOST_DAYS),
        (Scene, shoot.scenes.count(), MOST_SCENES),
    ):  # fmt: skip
        if isinstance(row, sort) and count >= most:
            raise RuleError("name", f"a shoot takes {most} of these at most", count)
    row.save()
    shoot.forget_parts()


@in_turn()
@transaction.atomic
def import_places(shoot: Shoot, rows: Sequence[Place], label: str) -> None:
    """Save places of a file, new ones and known ones: all of them or none, in one step to undo.

    Raises RuleError where there would be too many.
    """
    before: history.Snapshots = {}
    after: history.Snapshots = {}
    for row in rows:
        if row.pk is None:
            _add(row)
            before[key_of(row)] = None
        else:
            kept = Place.objects.select_for_update().get(pk=row.pk, shoot=shoot)
            before[key_of(row)] = part_snapshot(kept)
            row.save()
        after[key_of(row)] = part_snapshot(row)
    shoot.forget_parts()
    history.record(shoot, label, before, after)


@in_turn()
@transaction.atomic
def change_part(row: Part, label: str) -> None:
    """Save a changed part; one step to undo."""
    shoot, kept = row.shoot, type(row)._default_manager.select_for_update().get(pk=row.pk)
    before = part_snapshot(kept)
    row.save()
    shoot.forget_parts()
    history.record(shoot, label, {key_of(row): before}, {key_of(row): part_snapshot(row)})


@in_turn()
@transaction.atomic
def delete_part(row: Part) -> None:
    """Delete a part; setups on a place or a day go to the next best one, in the same step.

    Raises NeededError for the last place or the last day.
    """
    shoot, key, label = row.shoot, key_of(row), f"{row} deleted"
    before: history.Snapshots = {key: part_snapshot(row)}
    after: history.Snapshots = {key: None}
    if isinstance(row, Place | Day):
        others = shoot.places if isinstance(row, Place) else shoot.days
        instead = others.exclude(pk=row.pk).first()
        if instead is None:
            raise NeededError("A shoot needs one of these: change this one instead")
        _moved(list(row.setups.all()), type(row).__name__.lower(), instead, before, after)
    if isinstance(row, Place):
        for way in Way.objects.filter(start=row) | Way.objects.filter(end=row):
            before[key_of(way)], after[key_of(way)] = part_snapshot(way), None
            way.delete()
        for reading in row.light_readings.all():
            before[key_of(reading)], after[key_of(reading)] = part_snapshot(reading), None
    if isinstance(row, Place | Day):
        for weather in row.weathers.all():
            before[key_of(weather)], after[key_of(weather)] = part_snapshot(weather), None
            weather.delete()
    if isinstance(row, Scene):
        _moved(list(row.setups.all()), "scene", None, before, after)
    row.delete()
    shoot.forget_parts()
    history.record(shoot, label, before, after)


def _moved(
    rows: Iterable[Setup], column: str, to: Any, before: history.Snapshots, after: history.Snapshots
) -> None:
    for one in rows:
        before[str(one.pk)] = snapshot(one)
        setattr(one, column, to)
        one.summary = None
        one.save(update_fields=[column, "summary"])
        after[str(one.pk)] = snapshot(one)


def keep_reading(place: Place, at: datetime, ev100: float) -> LightReading:
    """Keep what was metered at a place; whoever asks records it. Raises RuleError if too many."""
    count = place.light_readings.count()
    if count >= MOST_LIGHT_READINGS:
        raise RuleError("ev100", f"a place keeps {MOST_LIGHT_READINGS} readings at most", count)
    return LightReading.objects.create(place=place, at=at, ev100=ev100)


@in_turn()
@transaction.atomic
def add_reading(place: Place, at: datetime, ev100: float) -> None:
    """Keep what was metered at a place; one step to undo. Raises RuleError."""
    row = keep_reading(place, at, ev100)
    label = f"reading at {place}"
    history.record(place.shoot, label, {key_of(row): None}, {key_of(row): part_snapshot(row)})


@in_turn()
@transaction.atomic
def drop_reading(place: Place, key: int) -> None:
    """Drop a reading of a place, where it has one of this id; one step to undo."""
    row = place.light_readings.select_for_update().filter(pk=key).first()
    if row is not None:
        gone, before = key_of(row), part_snapshot(row)
        row.delete()
        history.record(place.shoot, f"reading at {place} dropped", {gone: before}, {gone: None})


@in_turn()
@transaction.atomic
def put_ways(shoot: Shoot, minutes: dict[tuple[int, int], float | None]) -> None:
    """Minutes between pairs of places, None to work them out; one step to undo."""
    before: history.Snapshots = {}
    after: history.Snapshots = {}
    for (start, end), wanted in minutes.items():
        way = way_between(shoot, start, end)
        if way is None and wanted is not None:
            way = Way.objects.create(shoot=shoot, start_id=start, end_id=end, minutes=wanted)
            before[key_of(way)], after[key_of(way)] = None, part_snapshot(way)
        elif way is not None and wanted is None:
            before[key_of(way)], after[key_of(way)] = part_snapshot(way), None
            way.delete()
        elif way is not None and wanted is not None and way.minutes != wanted:
            before[key_of(way)] = part_snapshot(way)
            way.minutes = wanted
            way.save()
            after[key_of(way)] = part_snapshot(way)
    history.record(shoot, "ways between places", before, after)


def add_outlines(shoot: Shoot, name: str, shapes: list[dict[str, Any]]) -> Outline:
    """Lay a file's shapes under the places; one of the same name takes its place. One step to undo.

    Raises RuleError where the shoot would keep too much, and QuotaError.
    """
    room_for_bytes(shoot.owner)
    others = shoot.outlines.exclude(name=name)
    kept = sum(len(json.dumps(one.shapes)) for one in others) + len(json.dumps(shapes))
    if kept > LARGEST_OUTLINES_BYTES:
        raise RuleError(
            "file", f"a shoot keeps {LARGEST_OUTLINES_BYTES // 1000} kB of outlines in all; "
            f"this would make {-(-kept // 1000)} kB", kept,
        )  # fmt: skip
    return _outlined(shoot, name, shapes)


@in_turn()
@transaction.atomic
def _outlined(shoot: Shoot, name: str, shapes: list[dict[str, Any]]) -> Outline:
    row = shoot.outlines.select_for_update().filter(name=name).first()
    before = None if row is None else part_snapshot(row)
    row = row or Outline(shoot=shoot, name=name)
    row.shapes = shapes
    row.save()
    key = key_of(row)
    history.record(shoot, f"outlines {name}", {key: before}, {key: part_snapshot(row)})
    return row


def way_between(shoot: Shoot, start: int, end: int) -> Way | None:
    """The way that was typed between two places, either way round."""
    rows = shoot.ways.filter(start_id__in=(start, end), end_id__in=(start, end))
    return rows.first()
