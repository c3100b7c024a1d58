"""The schedule as iCalendar (RFC 5545), in and out.

Ids are lasting, so that a second import moves what is there. Hours are written in the zone of their
place, with the zone itself in the file; an alarm comes before a window closes.
"""

from dataclasses import dataclass
from datetime import UTC, datetime, timedelta

from fotonomy.exchange.errors import ExchangeError
from fotonomy.exchange.schemas import LARGEST_FILE_BYTES

MOST_EVENTS = 1000
ALARM_BEFORE = timedelta(minutes=30)


@dataclass(frozen=True, slots=True)
class CalendarEvent:
    """A setup in a calendar: lasting id, from setting up to the last take, with their zones.

    ``rolls`` is the first take, ``closes`` when its light ends, None where it does not matter.
    """

    uid: str
    title: str
    starts: datetime
    ends: datetime
    rolls: datetime
    place: str = ""
    notes: str = ""
    latitude_deg: float | None = None
    longitude_deg: float | None = None
    closes: datetime | None = None
    sequence: int = 0


def to_ics(name: str, events: list[CalendarEvent], stamp: datetime) -> bytes:
    """A calendar of these events. ``stamp`` is when it is written."""
    from icalendar import Alarm, Calendar, Event

    made = Calendar()
    made.add("prodid", "-//Fotonomy//Schedule//EN")
    made.add("version", "2.0")
    made.add("method", "PUBLISH")
    made.add("x-wr-calname", name)
    for one in events:
        event = Event()
        event.add("uid", one.uid)
        event.add("dtstamp", stamp.astimezone(UTC))
        event.add("sequence", one.sequence)
        event.add("summary", one.title)
        event.add("dtstart", one.starts)
        event.add("dtend", one.ends)
        event.add("x-fotonomy-first-take", one.rolls.astimezone(UTC))
        if one.place:
            event.add("location", one.place)
        if one.notes:
            event.add("description", one.notes)
        if one.latitude_deg is not None and one.longitude_deg is not None:
            event.add("geo", (one.latitude_deg, one.longitude_deg))
        if one.closes is not None:
            alarm = Alarm()
            alarm.add("action", "DISPLAY")
            alarm.add("description", f"{one.title}: its light ends at {one.closes:%H:%M}")
            alarm.add("trigger", (one.closes - ALARM_BEFORE).astimezone(UTC))
            event.add_component(alarm)
        made.add_component(event)
    made.add_missing_timezones()
    return bytes(made.to_ical())


@dataclass(frozen=True, slots=True)
class MovedEvent:
    """An event that came back: its id, and from when to when it is now, in UTC."""

    uid: str
    starts: datetime
    ends: datetime


def from_ics(raw: bytes) -> list[MovedEvent]:
    """Events with an hour of their own; all-day ones are passed over. Raises ExchangeError."""
    from icalendar import Calendar

    if len(raw) > LARGEST_FILE_BYTES:
        raise ExchangeError("the file", f"is larger than {LARGEST_FILE_BYTES // 1024} kB")
    try:
        read = Calendar.from_ical(raw)
        found = [_event(event) for event in read.walk("VEVENT")[: MOST_EVENTS + 1]]
    except ExchangeError:
        raise
    except (ValueError, TypeError, KeyError, AttributeError, IndexError) as error:
        raise ExchangeError("the file", f"is no iCalendar: {str(error)[:120]}") from error
    if len(found) > MOST_EVENTS:
        raise ExchangeError("the file", f"holds more than {MOST_EVENTS} events")
    return [one for one in found if one is not None]


def _event(event: object) -> MovedEvent | None:
    get = event.get  # type: ignore[attr-defined]
    uid, start, end = str(get("uid", "")), get("dtstart"), get("dtend")
    if start is None or not isinstance(start.dt, datetime):
        return None
    until = start.dt if end is None or not isinstance(end.dt, datetime) else end.dt
    if start.dt.tzinfo is None or until.tzinfo is None:
        raise ExchangeError(uid or "an event", "has no time zone")
    starts, ends = start.dt.astimezone(UTC), until.astimezone(UTC)
    if ends < starts:
        raise ExchangeError(uid or "an event", "ends before it starts")
    return MovedEvent(uid, starts, ends)
