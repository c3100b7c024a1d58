"""The Day page: its drawing, what fits and what does not, and the setup in hand."""

from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from itertools import pairwise

from django.urls import reverse

from fotonomy.core.day.almanac import Almanac, Event, Mark, almanac, day_of
from fotonomy.core.day.blocks import Block
from fotonomy.core.day.conflicts import conflicts
from fotonomy.core.day.day_plan import (
    Conflict,
    Move,
    length_min,
    minutes_text,
    span_words,
    spare_min,
)
from fotonomy.core.sky.horizon import Horizon
from fotonomy.core.sky.light import PlaceLight
from fotonomy.core.sky.track import Stretch
from fotonomy.core.spec.schedule import Wanted
from fotonomy.days.planning import PlannedDay
from fotonomy.days.presenters.linked_numbers import event_clock
from fotonomy.days.presenters.selected_setup import InHand, next_words
from fotonomy.days.presenters.selected_setup import in_hand as said_of
from fotonomy.days.reschedule import clock_minutes
from fotonomy.figures.day.compass import CompassView, compass
from fotonomy.figures.day.hours import BlockMark, HoursView, RowMark, WayMark, hours
from fotonomy.figures.svg import PHONE_PX, Size
from fotonomy.shoots.mapping import weather_of
from fotonomy.shoots.models import Place
from fotonomy.shoots.presenters.layout import Screen
from fotonomy.shoots.presenters.working import loose

ASIDE, EDGE, GAP = 222, 20, 16
COMPASS_PX = 176
# What stands above the drawing and below it on a desk, in px.
ABOVE, BELOW = 92, 104
# The drawing shows at least so many hours, and so much before the first and after the last.
LEAST_HOURS, AROUND_MIN = 12, 40
# So many conflicts are said; who has more begins with these.
MOST_SAID = 12


@dataclass(frozen=True, slots=True)
class MoveView:
    """A way out as a button: its words and what it posts."""

    words: str
    setup: int
    starts: float | None
    minutes: float | None


@dataclass(frozen=True, slots=True)
class ConflictView:
    """Something that does not fit, with its ways out."""

    what: str
    why: str
    grave: bool
    key: int
    moves: tuple[MoveView, ...]


@dataclass(frozen=True, slots=True)
class Line:
    """A setup in the list of the day."""

    key: int
    name: str
    hour: str
    until: str
    place: str
    wants: str
    bad: str
    chosen: bool
    address: str
    bench: str


@dataclass(frozen=True, slots=True)
class DayView:
    """All of the page that changes with a move."""

    title: str
    facts: str
    drawing: str
    compass: str
    chosen: InHand | None
    lines: tuple[Line, ...]
    unplaced: tuple[Line, ...]
    fits: str
    spare: str
    conflicts: tuple[ConflictView, ...]
    cautions: tuple[ConflictView, ...]
    more: int
    almanac: tuple[tuple[str, str], ...]
    notes: tuple[str, ...]
    broken: tuple[tuple[str, str, str], ...]
    px_per_min: float
    first_min: float
    left_px: float


def day_view(planned: PlannedDay, screen: Screen, chosen: int | None, now: datetime) -> DayView:
    """The page of a day with one setup in hand: the one asked for, else the first."""
    plan = planned.plan
    found = conflicts(plan)
    blocks = {block.key: block for block in plan.blocks}
    in_hand = blocks.get(chosen or 0) or next(iter(plan.timed), None) or next(
        iter(plan.blocks), None
    )  # fmt: skip
    place = planned.shoot.places_by_id[in_hand.place] if in_hand else planned.shoot.main_place
    light = planned.light(place.pk)
    phone = screen.phone
    width = screen.within() if phone else screen.within(EDGE) - ASIDE - GAP
    if screen.medium:
        width = screen.within(18)
    height = 0 if phone or screen.medium else max(0, screen.height - ABOVE - BELOW)
    size = Size(width, height, PHONE_PX if phone else 12)
    first, last = _span(planned)
    view = _hours(planned, found, in_hand, place, first, last, now)
    day = day_of(planned.midnight)
    book = almanac(light.sky, place.land, day) if light else None
    grave = tuple(c for c in found if c.grave)
    left = 46.0 if phone else 112.0
    span = (last - first).total_seconds() / 60
    return DayView(
        title=f"{planned.day}", facts=_facts(planned, book),
        drawing=hours(view, size),
        compass=_compass(light, place.land, day, in_hand, planned) if light else "",
        chosen=said_of(planned, in_hand, light, now) if in_hand else None,
        lines=tuple(_line(planned, b, found, in_hand) for b in plan.timed),
        unplaced=tuple(_line(planned, b, found, in_hand) for b in plan.blocks if b.rolls is None),
        fits=_fits(plan.blocks, grave), spare=_spare(planned),
        conflicts=tuple(_conflict(planned, c) for c in found[:MOST_SAID] if c.grave),
        cautions=tuple(_conflict(planned, c) for c in found[:MOST_SAID] if not c.grave),
        more=max(0, len(found) - MOST_SAID),
        almanac=_almanac_lines(planned, book, place), notes=book.notes if book else (),
        broken=tuple(
            (str(planned.rows[key]), why, planned.rows[key].get_absolute_url())
            for key, why in planned.broken.items()
        ),
        px_per_min=(width - 8 - left) / span, first_min=clock_minutes(first, planned.midnight),
        left_px=left,
    )  # fmt: skip


def _span(planned: PlannedDay) -> tuple[datetime, datetime]:
    """From when to when the drawing goes, on whole hours."""
    plan = planned.plan
    around = timedelta(minutes=AROUND_MIN)
    taken = [block.occupies for block in plan.timed if block.occupies]
    first = min([plan.hours.starts, *(one.starts for one in taken)]) - around
    last = max([plan.hours.ends, *(one.ends for one in taken)]) + around
    midnight = planned.midnight.astimezone(UTC)
    # The sky is known from midnight on, for two days.
    first, last = max(first, midnight), min(last, midnight + timedelta(hours=47))
    start = first.replace(minute=0, second=0, microsecond=0)
    end = last.replace(minute=0, second=0, microsecond=0) + timedelta(hours=1)
    if end - start < timedelta(hours=LEAST_HOURS):
        end = start + timedelta(hours=LEAST_HOURS)
    return max(start, midnight), end


def _clock(planned: PlannedDay, when: datetime) -> str:
    return planned.plan.clock(when)


def _address(planned: PlannedDay, key: int) -> str:
    return f"{reverse('day', args=[planned.shoot.pk, planned.day.pk])}?setup={key}"


def _hours(
    planned: PlannedDay, found: tuple[Conflict, ...], in_hand: Block | None, place: Place,
    first: datetime, last: datetime, now: datetime,
) -> HoursView:  # fmt: skip
    plan = planned.plan
    bad = {key for one in found if one.grave for key in one.keys[:1]}
    rows = []
    for key, spot in plan.spots.items():
        here = [b for b in plan.timed if b.place == key]
        marks = tuple(_mark(planned, b, b.key in bad, b is in_hand) for b in here)
        shown = tuple(
            window for b in here if b.schedule.wants is not Wanted.ANY
            for window in b.windows if window.meets(Stretch(first, last))
        )  # fmt: skip
        rows.append(RowMark(key, spot.name, marks, shown))
    ways = []
    for one, other in pairwise(plan.timed):
        leaves, arrives = one.keeps_crew, other.keeps_crew
        if one.place != other.place and leaves and arrives and leaves.ends <= arrives.starts:
            need = plan.way_min(one.place, other.place)
            gap = (arrives.starts - leaves.ends).total_seconds() / 60
            start = arrives.starts - timedelta(minutes=min(need, gap))
            ways.append(WayMark(start, arrives.starts, one.place, other.place, need > gap + 0.5))
    return HoursView(
        first, last, planned.midnight, plan.hours, planned.light(place.pk), place.land,
        tuple(rows), tuple(ways), now, str(place), weather_of(place, planned.day),
    )  # fmt: skip


def _mark(planned: PlannedDay, block: Block, bad: bool, chosen: bool) -> BlockMark:
    takes, occupies = block.takes, block.occupies
    assert takes is not None
    assert occupies is not None
    spot = planned.plan.spots[block.place].name
    said = (
        f"{block.name}, {span_words(planned.plan, takes)}, {spot}{', does not fit' if bad else ''}"
    )
    code = planned.rows[block.key].code or block.name[:6]
    return BlockMark(
        block.key, code, said, _address(planned, block.key), occupies.starts, takes, bad, chosen,
        block.schedule.pinned,
    )  # fmt: skip


def _compass(
    light: PlaceLight, land: Horizon, day: Stretch, block: Block | None, planned: PlannedDay
) -> str:
    when = block.takes.starts + (block.takes.ends - block.takes.starts) / 2 if (
        block and block.takes
    ) else None  # fmt: skip
    return compass(
        CompassView(
            light.sky, land, day, when, _clock(planned, when) if when else "",
            block.looks_deg if block else None, block.field if block else None,
        ),
        COMPASS_PX,
    )  # fmt: skip


def _facts(planned: PlannedDay, book: Almanac | None) -> str:
    places = planned.shoot.places_by_id
    name, more = str(planned.shoot.main_place), len(places) - 1
    parts = [f"{name} and {more} more" if more else name]
    if book is not None:
        place = planned.shoot.main_place
        events = {event.mark: event for event in book.events}
        if Mark.SUNRISE in events and Mark.SUNSET in events:
            parts.append(
                f"sun {event_clock(planned, place, events[Mark.SUNRISE])} to "
                f"{event_clock(planned, place, events[Mark.SUNSET])}"
            )
        if 0 < book.day_length_min < 1440:
            parts.append(_length(planned, book, events))
    return " · ".join(parts)


def _length(planned: PlannedDay, book: Almanac, events: dict[Mark, Event]) -> str:
    """How long the sun is up; with its working where it rises and sets once."""
    text = minutes_text(book.day_length_min)
    if Mark.SUNRISE not in events or Mark.SUNSET not in events:
        return text
    rises, sets = (
        clock_minutes(events[mark].at, planned.midnight) for mark in (Mark.SUNRISE, Mark.SUNSET)
    )
    if abs(length_min(rises, sets) - book.day_length_min) > 1:
        return text
    return loose(text, "day.length", starts_clock_min=rises, ends_clock_min=sets)


def _fits(blocks: tuple[Block, ...], grave: tuple[Conflict, ...]) -> str:
    placed = [block for block in blocks if block.rolls is not None]
    bad = {one.keys[0] for one in grave}
    count, total = sum(block.key not in bad for block in placed), len(blocks)
    if not total:
        return "No setups on this day"
    return (
        f"{count} of {total} setups fit"
        if total > 1
        else ("It fits" if count else "It does not fit")
    )


def _spare(planned: PlannedDay) -> str:
    """How many moves between places, and how much of the working hours nothing is planned in."""
    timed = planned.plan.timed
    moves = sum(one.place != other.place for one, other in pairwise(timed))
    busy = 0.0
    ends = planned.plan.hours.starts
    for block in timed:
        keeps = block.keeps_crew
        part = keeps.common(planned.plan.hours) if keeps else None
        if part is not None and part.ends > ends:
            busy += (part.ends - max(part.starts, ends)).total_seconds() / 60
            ends = part.ends
    ways = sum(
        planned.plan.way_min(one.place, other.place) for one, other in pairwise(timed)
    )  # fmt: skip
    hours_min = planned.plan.hours.minutes
    spare = spare_min(hours_min, busy, ways)
    said = "no move" if not moves else "one move" if moves == 1 else f"{moves} moves"
    if spare < 1:
        return f"{said}, nothing to spare"
    led = loose(
        minutes_text(spare), "day.spare", hours_min=hours_min, busy_min=busy, ways_min=ways
    )  # fmt: skip
    return f"{said}, {led} spare"


def _conflict(planned: PlannedDay, one: Conflict) -> ConflictView:
    why = one.why
    if one.id == "window.none" and (again := next_words(planned, one.keys[0])):
        why = f"{why}; {again}"
    return ConflictView(
        one.what, why, one.grave, one.keys[0],
        tuple(_move(planned, move) for move in one.moves),
    )  # fmt: skip


def _move(planned: PlannedDay, move: Move) -> MoveView:
    starts = None if move.rolls is None else clock_minutes(move.rolls, planned.midnight)
    return MoveView(move.words, move.key, starts, move.shoot_min)


def _line(
    planned: PlannedDay, block: Block, found: tuple[Conflict, ...], in_hand: Block | None
) -> Line:
    takes = block.takes
    bad = next((one.what for one in found if one.grave and one.keys[0] == block.key), "")
    return Line(
        block.key, block.name, _clock(planned, takes.starts) if takes else "",
        _clock(planned, takes.ends) if takes else "", planned.plan.spots[block.place].name,
        block.wish, bad, block is in_hand, _address(planned, block.key),
        planned.rows[block.key].get_absolute_url(),
    )  # fmt: skip


# Of use to sailors.
_LEFT_OUT = (Mark.NAUTICAL_DAWN, Mark.NAUTICAL_DUSK)


def _almanac_lines(
    planned: PlannedDay, book: Almanac | None, place: Place
) -> tuple[tuple[str, str], ...]:
    if book is None:
        return ()
    lines = []
    for event in book.events:
        high = "" if event.altitude_deg is None else f", {round(event.altitude_deg)}°"
        if event.mark not in _LEFT_OUT:
            lines.append((event.mark.value, f"{event_clock(planned, place, event)}{high}"))
    day = day_of(planned.midnight)
    for up in book.core_up:
        if up.meets(day) and up.starts >= day.starts:
            since = up.starts <= planned.midnight
            said = f"until {_clock(planned, up.ends)}" if since else span_words(planned.plan, up)
            lines.append(("Milky Way’s core up", said))
    return tuple(lines)
