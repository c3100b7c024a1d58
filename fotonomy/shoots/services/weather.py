"""The weather of a day: kept hour by hour, so that two people never lose each other's."""

from collections.abc import Mapping
from dataclasses import replace
from datetime import UTC, datetime
from typing import Any

from django.db import transaction

from fotonomy.core.errors import RuleError
from fotonomy.core.weather.report import MOST_HOURS, Report, Source, Weather
from fotonomy.shoots import history
from fotonomy.shoots.history_rows import key_of, part_snapshot
from fotonomy.shoots.mapping import hours_of, reports_of
from fotonomy.shoots.models import Day, DayWeather, Place
from fotonomy.shoots.write_lock import in_turn


@in_turn()
@transaction.atomic
def put_reports(
    place: Place, day: Day, reports: tuple[Report, ...], label: str,
    dropped: frozenset[Source] = frozenset(),
) -> None:  # fmt: skip
    """Keep reports, each whole, in place of those of their moments; one step to undo.

    What comes from one of the ``dropped`` sources goes. Raises RuleError where there are too many.
    """
    row = _locked(place, day)
    known = reports_of(row) or Weather(())
    stays = tuple(one for one in known.reports if one.source not in dropped)
    _save([(row, Weather(stays).with_reports(reports))], label)


@in_turn()
@transaction.atomic
def put_days(place: Place, reports: Mapping[Day, tuple[Report, ...]], label: str) -> None:
    """Keep reports of several days as above: all of them or none, in one step to undo."""
    rows = [(_locked(place, day), own) for day, own in reports.items()]
    _save([
        (row, (reports_of(row) or Weather(())).with_reports(own)) for row, own in rows
    ], label)  # fmt: skip


@in_turn()
@transaction.atomic
def change_hours(
    place: Place, day: Day, typed: Mapping[datetime, Mapping[str, Any]], now: datetime, label: str
) -> None:
    """Change single values of hours as typed, None for one nobody knows; one step to undo.

    Values that are not named stay, whoever put them there meanwhile. Raises RuleError.
    """
    row = _locked(place, day)
    known = reports_of(row) or Weather(())
    by_moment = {one.at: one for one in known.reports}
    changed = []
    for when, values in typed.items():
        report = by_moment.get(when.astimezone(UTC)) or Report(
            at=when, source=Source.TYPED, kept_at=now
        )
        changed.append(replace(report, source=Source.TYPED, kept_at=now, **values))
    _save([(row, known.with_reports(changed))], label)


def _locked(place: Place, day: Day) -> DayWeather:
    """The row as it stands now, locked; a new one where there is none."""
    rows = DayWeather.objects.select_for_update(of=("self",))
    row = rows.filter(place=place, day=day).first()
    return row or DayWeather(shoot=place.shoot, place=place, day=day)


def _save(kept: list[tuple[DayWeather, Weather]], label: str) -> None:
    before: history.Snapshots = {}
    after: history.Snapshots = {}
    for row, weather in kept:
        if len(weather.reports) > MOST_HOURS:
            raise RuleError("hours", f"a day takes {MOST_HOURS} hours of weather", None)
        was = None if row.pk is None else part_snapshot(row)
        row.hours = hours_of(weather)
        if was is None and not row.hours:
            continue
        row.save()
        before[key_of(row)], after[key_of(row)] = was, part_snapshot(row)
    if kept:
        history.record(kept[0][0].shoot, label, before, after)
