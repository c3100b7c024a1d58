"""The weather of a day as people give it: hours to fill in, a service asked, files imported."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from datetime import UTC, datetime, time, timedelta
from typing import Any

from django.conf import settings
from django.utils.module_loading import import_string

from fotonomy.core.errors import RuleError
from fotonomy.core.parsing.weather import READ, format_value
from fotonomy.core.sky.track import Stretch
from fotonomy.core.weather.report import REACH_H, VALUES, Provider, Report, Source, Weather
from fotonomy.shoots.mapping import reports_of
from fotonomy.shoots.models import Day, Place
from fotonomy.shoots.services.weather import change_hours, put_days, put_reports

# Hours are offered so far apart, from so long before the call to so long after the wrap.
EVERY_H = 3
# A day's weather may reach from before its midnight into the night and the run that follow it.
BEFORE_H, AFTER_H = 3, 36
FIELD = "v"


def provider() -> Provider:
    """The weather service in use."""
    made: Provider = import_string(settings.WEATHER_PROVIDER)()
    return made


def span_of(place: Place, day: Day) -> Stretch:
    """From when to when reports belong to a day."""
    midnight = day.midnight(place.zone).astimezone(UTC)
    return Stretch(midnight - timedelta(hours=BEFORE_H), midnight + timedelta(hours=AFTER_H))


def offered_hours(place: Place, day: Day, known: Weather) -> list[datetime]:
    """Moments to fill in: every three hours of the clock about the working hours, and those known.

    An hour that is within an hour of a known one is not offered beside it.
    """
    midnight = datetime.combine(day.date, time(0))
    last = 24 + day.wrap.hour + EVERY_H if day.wrap <= day.call else day.wrap.hour + EVERY_H
    first = max(0, day.call.hour - EVERY_H)
    clock = range(first - first % EVERY_H, min(AFTER_H, last) + 1, EVERY_H)
    grid = [
        (midnight + timedelta(hours=hour)).replace(tzinfo=place.zone).astimezone(UTC)
        for hour in clock
    ]
    span = span_of(place, day)
    moments = [one.at for one in known.between(span.starts, span.ends).reports]
    near = timedelta(minutes=59)
    free = [when for when in grid if all(abs(when - at) > near for at in moments)]
    return sorted({*moments, *free})


@dataclass(frozen=True, slots=True)
class Refused:
    """A value that cannot be read: its field and what is allowed."""

    name: str
    rule: str


def field_name(when: datetime, value: str) -> str:
    """The name of a value's field in the form."""
    return f"{FIELD}|{when.isoformat()}|{value}"


def typed_of(
    sent: Mapping[str, Any], moments: list[datetime]
) -> tuple[dict[datetime, dict[str, float | None]], list[Refused]]:
    """The values that were sent, and those that cannot be read."""
    changed: dict[datetime, dict[str, float | None]] = {}
    refused = []
    for when in moments:
        for value in VALUES:
            name = field_name(when, value)
            if name not in sent:
                continue
            text = str(sent[name]).strip()
            try:
                changed.setdefault(when, {})[value] = READ[value](text) if text else None
            except RuleError as error:
                refused.append(Refused(name, error.rule))
    return changed, refused


def shown(report: Report | None, value: str) -> str:
    """A value as its field shows it."""
    return format_value(None if report is None else getattr(report, value))


def type_hours(
    place: Place, day: Day, changed: dict[datetime, dict[str, float | None]], now: datetime
) -> None:
    """Keep what was typed; one step to undo. Raises RuleError."""
    change_hours(place, day, changed, now, f"weather of {day} typed")


def simulate(place: Place, day: Day, now: datetime) -> int:
    """Ask the service for a day; what was typed or imported stays. How many hours it filled.

    Raises RuleError where nobody said where the place is.
    """
    site = place.site
    if site is None:
        raise RuleError("place", "has no latitude and longitude yet", None)
    span = span_of(place, day)
    made = provider().forecast(
        site.latitude_deg, site.longitude_deg, place.height_m,
        span.starts + timedelta(hours=BEFORE_H), AFTER_H, now,
    )  # fmt: skip
    kept = _given_by_people(place, day)
    free = tuple(one for report in made if not (one := _beside(report, kept)).empty)
    put_reports(place, day, free, f"weather of {day} simulated", frozenset({Source.SIMULATED}))
    return len(free)


def _given_by_people(place: Place, day: Day) -> tuple[Report, ...]:
    row = place.weathers.filter(day=day).first()
    known = None if row is None else reports_of(row)
    found = known.reports if known else ()
    return tuple(one for one in found if one.source is not Source.SIMULATED)


def _beside(report: Report, given: tuple[Report, ...]) -> Report:
    """A simulated hour without the values that somebody's own hour speaks for.

    Invented air between two hours that were typed would go up and down between them.
    """
    apart = [(abs(one.at - report.at), one) for one in given]
    if any(gap < timedelta(hours=1) for gap, _ in apart):
        return _without(report, VALUES)
    reach = timedelta(hours=REACH_H)
    spoken = {
        name for gap, one in apart if gap < reach
        for name in VALUES if getattr(one, name) is not None
    }  # fmt: skip
    return _without(report, spoken)


def _without(report: Report, names: Iterable[str]) -> Report:
    unknown: dict[str, Any] = dict.fromkeys(names)
    return replace(report, **unknown)


def take_in(place: Place, days: list[Day], reports: tuple[Report, ...]) -> dict[Day, int]:
    """Reports put on the days they belong to; how many each day took, those with none left out.

    One step to undo. Raises RuleError, and nothing is kept, where a day has too many.
    """
    taken: dict[Day, tuple[Report, ...]] = {}
    for day in days:
        span = span_of(place, day)
        own = tuple(one for one in reports if span.starts <= one.at <= span.ends)
        if own:
            taken[day] = own
    names = ", ".join(str(day) for day in taken)
    put_days(place, taken, f"weather of {names} imported")
    return {day: len(own) for day, own in taken.items()}


def drop_all(place: Place, day: Day) -> None:
    """Forget a day's weather at a place; one step to undo."""
    put_reports(place, day, (), f"weather of {day} dropped", frozenset(Source))
