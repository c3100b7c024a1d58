"""The call sheet: a day on paper with its light, weather, people, ways, and a line a setup."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from math import isnan

from django.utils import timezone
from django.utils.safestring import SafeString, mark_safe

from fotonomy.core.analysis.packing import camera_loads
from fotonomy.core.constants import USUAL_TAKES
from fotonomy.core.day.almanac import Almanac, Mark, almanac, day_of
from fotonomy.core.day.travel_time import way_minutes
from fotonomy.core.notation import writing as n
from fotonomy.core.sky.light import PlaceLight, sky_light
from fotonomy.core.weather.report import Weather
from fotonomy.figures.day.light_band import light_band
from fotonomy.shoots.mapping import PlaceAndDay
from fotonomy.shoots.models import Day, Place, Setup, Shoot
from fotonomy.shoots.presenters.paper import CardView, paper_view

STEP_MIN = 10.0
DAY_MIN = 24 * 60
# Boxes to tick a line.
BOXES = "\u25a2\u25a2\u25a2"


@dataclass(frozen=True, slots=True)
class Stop:
    """Where the crew goes next: the place, when to leave and how long the way is, what to mind."""

    name: str
    where: str
    leaves: str
    minutes: str
    minds: str

    @property
    def facts(self) -> str:
        """The way, where it is and what to mind, in one line."""
        return " · ".join(filter(None, (self.minutes or self.leaves, self.where, self.minds)))


@dataclass(frozen=True, slots=True)
class SheetRow:
    """A line of the sheet; ``stop`` stands over it where the place is another."""

    card: CardView
    stop: Stop | None


@dataclass(frozen=True, slots=True)
class SheetDay:
    """A day of the sheet: its head in words, its light as a band, its lines."""

    date: date
    number: int
    hours: str
    light: str
    weather: str
    people: str
    band: SafeString
    rows: tuple[SheetRow, ...]
    needs: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class SheetView:
    """The whole sheet. ``left_out`` counts the setups beyond the most there can be."""

    days: tuple[SheetDay, ...]
    of: int
    left_out: int
    takes: int = USUAL_TAKES


def call_sheet(shoot: Shoot) -> SheetView:
    """Every day that has setups, planned anew, the setups in the running order."""
    paper = paper_view(shoot)
    rows = {row.pk: row for row in shoot.setups.select_related("place", "day")}
    people = _people(shoot)
    days = list(shoot.days_by_id.values())
    found = []
    for number, day in enumerate(days, 1):
        cards = [card for card in paper.cards if rows[card.key].day_id == day.pk]
        if cards:
            found.append(_day(shoot, day, number, cards, rows, people))
    return SheetView(tuple(found), len(days), paper.left_out)


def _day(
    shoot: Shoot, day: Day, number: int, cards: list[CardView], rows: dict[int, Setup], people: str
) -> SheetDay:  # fmt: skip
    place = shoot.main_place
    there = PlaceAndDay.of(place, day)
    midnight = day.midnight(place.zone)
    book = None
    if there.daylight is not None:
        book = almanac(there.daylight.sky, place.land, day_of(midnight))
    wrap = f" · wrap {day.wrap:%H:%M}"
    return SheetDay(
        day.date, number, f"Call {day.call:%H:%M}{wrap}", _light_words(book, place),
        _weather_words(there.weather, day, midnight), people,
        mark_safe(_band(there.daylight, day, midnight)), tuple(_rows(shoot, cards, rows)),
        _needs(cards),
    )  # fmt: skip


def _needs(cards: list[CardView]) -> tuple[str, ...]:
    """What each camera fills of its cards and draws of its batteries on the day."""
    found = []
    for load in camera_loads(card.analysis for card in cards if card.analysis is not None):
        many = "1 card" if load.cards == 1 else f"{load.cards} cards"
        power = "power not known" if load.energy_wh is None else (
            f"{n.format_number(load.energy_wh, 0)} Wh"
        )  # fmt: skip
        size = n.format_number(load.size_gb, 0 if load.size_gb >= 10 else 1)
        found.append(f"{load.body}: {size} GB on {many}, {power}")
    return tuple(found)


def _light_words(book: Almanac | None, place: Place) -> str:
    """Rise, golden hours, set and dark by the clock of the place; what never comes is left out."""
    if book is None:
        return "light not known: say where the place is"
    parts = []
    for mark, words in (
        (Mark.SUNRISE, "sunrise"), (Mark.GOLDEN_UNTIL, "golden to"),
        (Mark.GOLDEN_FROM, "golden from"), (Mark.SUNSET, "sunset"), (Mark.DARK, "dark"),
    ):  # fmt: skip
        if (at := book.first(mark)) is not None:
            parts.append(f"{words} {at.astimezone(place.zone):%H:%M}")
    side = "waxing" if book.moon_waxing else "waning"
    parts.append(f"moon {n.format_share(book.moon_lit)} lit, {side}")
    return " · ".join(parts)


def _weather_words(weather: Weather | None, day: Day, midnight: datetime) -> str:
    """The span of what is known between call and wrap."""
    if weather is None:
        return "weather not known"
    first, last = _hours(day)
    moments = [
        (midnight + timedelta(minutes=minute)).timestamp() for minute in range(first, last + 1, 30)
    ]
    parts = []
    writers: tuple[tuple[str, Callable[[float, float], str]], ...] = (
        ("temperature_c", lambda low, high: f"{low:.0f} to {high:.0f} °C"),
        ("oktas", lambda low, high: f"cloud {low:.0f} to {high:.0f}/8"),
        ("rain_percent", lambda _, high: f"rain up to {high:.0f} %"),
        ("wind_m_s", lambda _, high: f"wind up to {high:.0f} m/s"),
    )
    for name, write in writers:
        values = [one for one in weather.values(name, moments).tolist() if not isnan(one)]
        if values:
            parts.append(write(min(values), max(values)))
    return " · ".join(parts) or "weather not known for these hours"


def _hours(day: Day) -> tuple[int, int]:
    """Call and wrap in minutes of the day; a wrap before the call is of the next."""
    call, wrap = (60 * one.hour + one.minute for one in (day.call, day.wrap))
    return call, wrap if wrap > call else wrap + DAY_MIN


def _band(light: PlaceLight | None, day: Day, midnight: datetime) -> str:
    if light is None:
        return ""
    call, wrap = _hours(day)
    first, last = 60 * max(0, call // 60 - 1), min(2 * DAY_MIN - 60, 60 * (-(-wrap // 60) + 1))
    names = []
    minute = float(first)
    while minute < last:
        when = midnight + timedelta(minutes=minute + STEP_MIN / 2)
        names.append(sky_light(light.sky.sun.at(light.sky.position(when)).altitude_deg).value)
        minute += STEP_MIN
    return light_band(names, float(first), STEP_MIN)


def _people(shoot: Shoot) -> str:
    """Who is there, by what they may do; nobody who is not in any more."""
    today = timezone.now().date()
    found = [f"{shoot.owner.get_username()}: plans and owns"]
    for one in shoot.members.select_related("user", "link"):
        if not one.why_closed(today):
            found.append(f"{one.user.get_username()}: {one.get_role_display()}")
    return " · ".join(found)


def _rows(
    shoot: Shoot, cards: list[CardView], rows: dict[int, Setup]
) -> Iterator[SheetRow]:  # fmt: skip
    typed = {frozenset((way.start_id, way.end_id)): way.minutes for way in shoot.ways.all()}
    before: Setup | None = None
    for card in cards:
        row = rows[card.key]
        stop = None
        if before is None or before.place_id != row.place_id:
            stop = _stop(row, before, typed, card.prepare_min)
        yield SheetRow(card, stop)
        before = row


def _stop(
    row: Setup, before: Setup | None, typed: dict[frozenset[int], float], prepare_min: float
) -> Stop:  # fmt: skip
    place = row.place
    minutes, leaves = "", "from call"
    if before is not None:
        sites = before.place.site, place.site
        way = typed.get(frozenset((before.place_id, place.pk)), way_minutes(*sites))
        minutes = f"{way:.0f} min" if way else "way not known"
        leaves = ""
        if row.planned_time is not None and way:
            starts = datetime.combine(row.day.date, row.planned_time)
            leaves = f"{starts - timedelta(minutes=way + prepare_min):%H:%M}"
    where = ""
    if place.latitude_deg is not None and place.longitude_deg is not None:
        where = f"{place.latitude_deg:.4f}, {place.longitude_deg:.4f}".replace("-", "\u2212")
    minds = []
    if place.opens is not None or place.closes is not None:
        opens, closes = (f"{one:%H:%M}" if one else "" for one in (place.opens, place.closes))
        minds.append(f"open {opens or 'from midnight'} to {closes or 'midnight'}")
    minds += [text for text in (place.permission, place.cautions) if text]
    return Stop(str(place), where, leaves, minutes, " · ".join(minds))
