"""Places, ways, days and scenes of a shoot as JSON data and back, checked by their forms.

What stands where is said by number: the first place is 0.
"""

import json
from dataclasses import dataclass
from datetime import date, datetime, time
from typing import Any

from django import forms
from django.forms.models import model_to_dict

from fotonomy.core.constants import EV_RANGE
from fotonomy.core.errors import RuleError
from fotonomy.core.weather.report import Weather
from fotonomy.exchange.errors import ExchangeError
from fotonomy.exchange.outline_files import (
    LARGEST_OUTLINES_BYTES,
    outlines_to_geojson,
    read_outlines,
)
from fotonomy.exchange.weather_files import report_from_data
from fotonomy.shoots.editing.places import DayForm, PlaceForm, SceneForm, format_horizon
from fotonomy.shoots.mapping import hours_of
from fotonomy.shoots.models import (
    Day,
    DayWeather,
    LightReading,
    Outline,
    Place,
    Scene,
    Setup,
    Shoot,
    Way,
)

LONGEST_WAY_MIN = 24 * 60.0
_SETUP_PARTS = ("place", "day", "scene")


class WayForm(forms.Form):
    """Minutes between two places by their numbers."""

    start = forms.IntegerField(min_value=0)
    end = forms.IntegerField(min_value=0)
    minutes = forms.FloatField(min_value=0, max_value=LONGEST_WAY_MIN)


class WeatherForm(forms.Form):
    """Whose weather it is, by their numbers."""

    place = forms.IntegerField(min_value=0)
    day = forms.IntegerField(min_value=0)


class ReadingForm(forms.Form):
    """What was metered at a place."""

    at = forms.CharField(max_length=40)
    ev100 = forms.FloatField(min_value=EV_RANGE[0], max_value=EV_RANGE[1])

    def clean_at(self) -> datetime:
        """A moment with its zone."""
        try:
            at = datetime.fromisoformat(self.cleaned_data["at"])
        except ValueError:
            at = None
        if at is None or at.tzinfo is None:
            raise forms.ValidationError("A moment with its zone, such as 2027-06-05T09:30:00+10:00")
        return at


@dataclass(frozen=True, slots=True)
class Parts:
    """A shoot's parts in order, and their JSON data."""

    rows: dict[str, list[Any]]
    data: dict[str, list[Any]]

    def stands(self, row: Setup) -> dict[str, int | None]:
        """Where a setup stands, by number."""
        found: dict[str, int | None] = {}
        for name in _SETUP_PARTS:
            keys = [one.pk for one in self.rows[name]]
            at = getattr(row, f"{name}_id")
            found[name] = keys.index(at) if at in keys else None
        return found

    def put(self, row: Setup, given: dict[str, Any]) -> None:
        """Put a setup where its entry says; what it does not say stays."""
        changed = []
        for name in _SETUP_PARTS:
            at, rows = given.get(name), self.rows[name]
            if isinstance(at, int) and not isinstance(at, bool) and 0 <= at < len(rows):
                setattr(row, name, rows[at])
                changed.append(name)
        if changed:
            row.save(update_fields=changed)


def parts_to_data(shoot: Shoot) -> Parts:
    """A shoot's parts."""
    places, days = list(shoot.places.all()), list(shoot.days.all())
    scenes = list(shoot.scenes.all())
    number = {place.pk: at for at, place in enumerate(places)}
    day_number = {day.pk: at for at, day in enumerate(days)}
    data = {
        "places": [
            {
                **_plain(PlaceForm, place),
                "readings": [
                    {"at": one.at.isoformat(), "ev100": one.ev100}
                    for one in place.light_readings.all()
                ],
            }
            for place in places
        ],
        "ways": [
            {"start": number[way.start_id], "end": number[way.end_id], "minutes": way.minutes}
            for way in shoot.ways.all()
        ],
        "days": [_plain(DayForm, day) for day in days],
        "scenes": [_plain(SceneForm, scene) for scene in scenes],
        "weather": [
            {
                "place": number[row.place_id], "day": day_number[row.day_id],
                "hours": list(row.hours.values()),
            }
            for row in shoot.weathers.all()
        ],
        "outlines": [
            {"name": row.name, "geojson": outlines_to_geojson(row.shapes)}
            for row in shoot.outlines.all()
        ],
    }  # fmt: skip
    return Parts({"place": places, "day": days, "scene": scenes}, data)


def _plain(form: Any, row: Any) -> dict[str, Any]:
    data = model_to_dict(row, fields=form.Meta.fields)
    return {
        name: value.isoformat() if isinstance(value, date | time) else value
        for name, value in data.items() if value not in (None, "", [])
    }  # fmt: skip


def parts_from_data(shoot: Shoot, given: dict[str, Any], at: str) -> Parts:
    """Make a new shoot's parts of data; ExchangeError with the place of the fault."""
    rows = {
        "place": _made(shoot, given.get("places"), PlaceForm, f"{at}.places"),
        "day": _made(shoot, given.get("days"), DayForm, f"{at}.days"),
        "scene": _made(shoot, given.get("scenes", []), SceneForm, f"{at}.scenes"),
    }
    for name in ("place", "day"):
        if not rows[name]:
            raise ExchangeError(f"{at}.{name}s", "is empty: a shoot needs one")
    for k, one in enumerate(_list(given.get("ways", []), f"{at}.ways")):
        data = _checked(WayForm(one), f"{at}.ways[{k}]")
        if max(data["start"], data["end"]) >= len(rows["place"]) or data["start"] == data["end"]:
            raise ExchangeError(f"{at}.ways[{k}]", "names no two places")
        start, end = (rows["place"][data[name]] for name in ("start", "end"))
        Way.objects.get_or_create(
            shoot=shoot, start=start, end=end, defaults={"minutes": data["minutes"]}
        )
    _put_outlines(shoot, _list(given.get("outlines", []), f"{at}.outlines"), at)
    for k, one in enumerate(_list(given.get("weather", []), f"{at}.weather")):
        _put_weather(shoot, rows, one, f"{at}.weather[{k}]")
    shoot.forget_parts()
    return Parts(rows, {})


def _put_outlines(shoot: Shoot, given: list[dict[str, Any]], at: str) -> None:
    """Lines and areas under the places, held to the reader of their files."""
    kept = 0
    for k, one in enumerate(given):
        raw = json.dumps(one.get("geojson")).encode()
        kept += len(raw)
        try:
            if kept > LARGEST_OUTLINES_BYTES:
                raise ExchangeError("$", f"with the others is over {LARGEST_OUTLINES_BYTES} bytes")
            shapes = read_outlines(raw)
        except ExchangeError as error:
            where = error.place.replace("$", f"{at}.outlines[{k}].geojson", 1)
            raise ExchangeError(where, error.problem) from error
        Outline.objects.create(shoot=shoot, name=str(one.get("name", ""))[:80], shapes=shapes)


def _put_weather(shoot: Shoot, rows: dict[str, list[Any]], given: dict[str, Any], at: str) -> None:
    """The weather of a day at a place, by their numbers, held to the same rules as typed."""
    numbers = _checked(WeatherForm(given), at)
    place, day = numbers["place"], numbers["day"]
    if place >= len(rows["place"]) or day >= len(rows["day"]):
        raise ExchangeError(at, "names no place and day")
    hours = _list(given.get("hours", []), f"{at}.hours")
    reports = [report_from_data(one, f"{at}.hours[{n}]") for n, one in enumerate(hours)]
    try:
        known = Weather(tuple(sorted(reports, key=lambda one: one.at)))
    except RuleError as error:
        raise ExchangeError(f"{at}.hours", error.rule) from error
    DayWeather.objects.update_or_create(
        shoot=shoot, place=rows["place"][place], day=rows["day"][day],
        defaults={"hours": hours_of(known)},
    )  # fmt: skip


def _list(given: Any, at: str) -> list[dict[str, Any]]:
    if not isinstance(given, list) or not all(isinstance(one, dict) for one in given):
        raise ExchangeError(at, "is no list of objects")
    return given


def _checked(form: Any, at: str) -> dict[str, Any]:
    if not form.is_valid():
        name, messages = next(iter(form.errors.items()))
        raise ExchangeError(f"{at}.{name}", str(messages[0]))
    data: dict[str, Any] = form.cleaned_data
    return data


def _made(shoot: Shoot, given: Any, form: Any, at: str) -> list[Any]:
    made: list[Any] = []
    for k, one in enumerate(_list(given, at)):
        # What a file leaves out is as a new one has it.
        usual = _plain(form, form.Meta.model())
        data = {**usual, **{name: value for name, value in one.items() if name != "readings"}}
        if isinstance(data.get("horizon"), list):
            data["horizon"] = _horizon_text(data["horizon"], f"{at}[{k}].horizon")
        filled = form(data, instance=form.Meta.model(shoot=shoot))
        _checked(filled, f"{at}[{k}]")
        row: Place | Day | Scene = filled.save(commit=False)
        if not isinstance(row, Day):
            row.position = k
        row.save()
        if isinstance(row, Place):
            for n, read in enumerate(_list(one.get("readings", []), f"{at}[{k}].readings")):
                metered = _checked(ReadingForm(read), f"{at}[{k}].readings[{n}]")
                LightReading.objects.create(place=row, **metered)
        made.append(row)
    return made


def _horizon_text(pairs: list[Any], at: str) -> str:
    try:
        return format_horizon([[float(azimuth), float(height)] for azimuth, height in pairs])
    except (TypeError, ValueError):
        raise ExchangeError(at, "is no list of pairs of direction and height") from None
