"""The weather of a day in words and fields."""

from dataclasses import dataclass
from datetime import datetime

from django.utils.timesince import timesince

from fotonomy.core.notation import writing as n
from fotonomy.core.weather.air import beaufort_words
from fotonomy.core.weather.report import Report, Source, Spell, Weather
from fotonomy.days.day_weather import field_name, offered_hours, shown
from fotonomy.shoots.models import Day, Place

COLUMNS = (
    ("oktas", "Cloud, of 8"), ("rain_percent", "Rain, %"), ("temperature_c", "Air, °C"),
    ("humidity_percent", "Humidity, %"), ("wind_m_s", "Wind, m/s"), ("gust_m_s", "Gusts, m/s"),
)  # fmt: skip


@dataclass(frozen=True, slots=True)
class Cell:
    """One value of an hour."""

    name: str
    short: str
    label: str
    text: str
    error: str


@dataclass(frozen=True, slots=True)
class Hour:
    """A row of the form: its clock, where its values come from, and its fields."""

    clock: str
    source: str
    cells: tuple[Cell, ...]


@dataclass(frozen=True, slots=True)
class HoursForm:
    """The hours to fill in under their heads; ``texts`` are what is known, by the fields' names."""

    heads: tuple[str, ...]
    hours: tuple[Hour, ...]
    texts: dict[str, list[str]]


def hours_form(
    place: Place, day: Day, known: Weather, now: datetime, typed: dict[str, str],
    errors: dict[str, str],
) -> HoursForm:  # fmt: skip
    """The form of a day at a place, with what was typed where something was wrong."""
    by_moment = {one.at: one for one in known.reports}
    rows, texts = [], dict[str, list[str]]()
    for when in offered_hours(place, day, known):
        report = by_moment.get(when)
        local = when.astimezone(place.zone)
        other = "" if local.date() == day.date else f"{local:%a} "
        cells = []
        for value, label in COLUMNS:
            name = field_name(when, value)
            text = shown(report, value)
            texts[name] = [text]
            cells.append(Cell(
                name, label, f"{label} at {other}{local:%H:%M}", typed.get(name, text),
                errors.get(name, ""),
            ))  # fmt: skip
        source = "" if report is None else source_words(report, now)
        rows.append(Hour(f"{other}{local:%H:%M}", source, tuple(cells)))
    heads = tuple(label for _, label in COLUMNS)
    return HoursForm(heads, tuple(rows), texts)


def field_label(place: Place, name: str) -> str:
    """What a field is called, by its name: also where its hour is not offered any more."""
    _, _, rest = name.partition("|")
    moment, _, value = rest.partition("|")
    try:
        local = datetime.fromisoformat(moment).astimezone(place.zone)
    except (ValueError, OverflowError):
        return name
    return f"{dict(COLUMNS).get(value, value)} at {local:%a %H:%M}"


def source_words(report: Report, now: datetime) -> str:
    """Where a report comes from, and how old it is."""
    age = timesince(report.kept_at, now, depth=1)
    station = f", {report.said_by}" if report.said_by else ""
    # Under a minute there is nothing to say.
    when = "just now" if age.startswith("0") else f"{age} ago"
    return f"{report.source.value}{station} {when}".replace("\xa0", " ")


def sources_line(reports: tuple[Report, ...], now: datetime) -> str:
    """Where the reports of a day come from, each source once with its oldest."""
    said = []
    for source in Source:
        own = [one for one in reports if one.source is source]
        if own:
            said.append(source_words(min(own, key=lambda one: one.kept_at), now))
    return "; ".join(said)


def spell_words(spell: Spell) -> str:
    """The weather of a setup's minutes in a line."""
    parts = []
    if spell.oktas is not None:
        parts.append(f"{n.format_number(spell.oktas, 0)} eighths of cloud")
    if spell.rain_percent is not None:
        parts.append(f"rain {n.format_number(spell.rain_percent, 0)} %")
    if spell.lowest_c is not None:
        parts.append(f"{n.format_number(spell.lowest_c, 0)} °C")
    if spell.wind_m_s is not None:
        wind = n.format_number(spell.wind_m_s, 0)
        parts.append(f"wind {wind} m/s, {beaufort_words(spell.wind_m_s)}")
    return ", ".join(parts)
