"""The weather of a day: shown, typed, simulated, pasted, imported from a file and written."""

from datetime import datetime, timedelta
from itertools import pairwise
from typing import Any

from django.contrib import messages
from django.contrib.auth.decorators import login_required
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.utils import timezone
from django.utils.text import slugify
from django.views.decorators.http import require_POST

from fotonomy.core.errors import RuleError
from fotonomy.core.notation.reading import whole_number
from fotonomy.core.weather.report import NO_WEATHER, REACH_H, Weather
from fotonomy.days import day_weather
from fotonomy.days.presenters.weather import field_label, hours_form, source_words, sources_line
from fotonomy.exchange.errors import ExchangeError
from fotonomy.exchange.schemas import LARGEST_FILE_BYTES
from fotonomy.exchange.weather_files import from_csv, from_metar, to_csv
from fotonomy.figures.day.weather import WeatherView, weather
from fotonomy.figures.svg import PHONE_PX, Size
from fotonomy.shoots.editing.forms import sentence
from fotonomy.shoots.mapping import reports_of, weather_row
from fotonomy.shoots.models import Day, Place, Shoot
from fotonomy.shoots.views.get_or_404 import (
    day_in,
    handle_gone,
    history_state,
    made_before,
    shoot_for,
    shoot_in_turn,
    window_of,
)
from fotonomy.web.screen_widths import MEDIUM_TO
from fotonomy.web.whole_forms import Wording, merged_data, shown_text, without_same

# The drawing is as wide as the page; what stands beside it on a desk is none.
WIDEST_PX = 1160
# So many hours have room for their fields under the drawing; more stand in rows below it.
MOST_COLUMNS = 25


def _asked(request: HttpRequest, shoot_id: int, day_id: int) -> tuple[Shoot, Day, Place]:
    """The day and the place of an address; the first place where none is named."""
    shoot = shoot_for(request, shoot_id)
    day = day_in(shoot, day_id)
    key = whole_number(request.GET.get("place", "") or request.POST.get("place", ""))
    place: Place = shoot.places_by_id.get(key or 0) or shoot.main_place
    place.shoot = day.shoot = shoot
    return shoot, day, place


def _known(place: Place, day: Day) -> Weather:
    row = place.weathers.filter(day=day).first()
    return (reports_of(row) if row else None) or NO_WEATHER


def _back(shoot: Shoot, day: Day, place: Place) -> HttpResponse:
    return redirect(f"{reverse('weather', args=[shoot.pk, day.pk])}?place={place.pk}")


@login_required
@handle_gone
def weather_page(request: HttpRequest, shoot_id: int, day_id: int) -> HttpResponse:
    """GET shows a day's weather at a place, POST keeps what was typed."""
    shoot, day, place = _asked(request, shoot_id, day_id)
    if request.method != "POST":
        return _shown(request, shoot, day, place)
    if made_before(request, shoot):
        return _back(shoot, day, place)
    with shoot_in_turn(request, shoot.pk):
        typed, errors = _hours_sent(request, day, place)
    if errors:
        return _shown(request, shoot, day, place, typed=typed, errors=errors, status=422)
    return _back(shoot, day, place)


def _hours_sent(
    request: HttpRequest, day: Day, place: Place
) -> tuple[dict[str, str], dict[str, str]]:
    """Keep the values that were typed; all texts as they are by now, and what is wrong."""
    now, known = timezone.now(), _known(place, day)
    form = hours_form(place, day, known, now, {}, {})
    labels = {name: field_label(place, name) for name in {**form.texts, **request.POST}}
    data = merged_data(request, form.texts, Wording({}, labels))
    moments = day_weather.offered_hours(place, day, known)
    changed, refused = day_weather.typed_of(without_same(data, form.texts), moments)
    if not refused and changed:
        try:
            day_weather.type_hours(place, day, changed, now)
            messages.success(request, "The weather is kept.")
        except RuleError as error:
            messages.error(request, f"{sentence(error.rule)}.")
    return {key: str(text) for key, text in data.items()}, {
        one.name: sentence(one.rule) for one in refused
    }


def _shown(
    request: HttpRequest, shoot: Shoot, day: Day, place: Place, *,
    typed: dict[str, str] | None = None, errors: dict[str, str] | None = None,
    report_error: str = "", status: int = 200,
) -> HttpResponse:  # fmt: skip
    now, known = timezone.now(), _known(place, day)
    span = day_weather.span_of(place, day)
    own = known.between(span.starts, span.ends)
    screen = window_of(request)
    width = min(screen.within(), WIDEST_PX)
    lent = None if own.reports else weather_row(place, day)
    moments = day_weather.offered_hours(place, day, own)
    step = None if errors or screen.width <= MEDIUM_TO else column_step(moments)
    view = _drawn(moments, step, place, own)
    form = hours_form(place, day, own, now, typed or {}, errors or {})
    context: dict[str, Any] = {
        "shoot": shoot, "day": day, "place": place, "places": list(shoot.places_by_id.values()),
        "form": form, "shown": shown_text(form.texts),
        "sources": sources_line(own.reports, now), "lent": lent,
        "on_axis": step is not None,
        "drawing": weather(view, Size(width, 0, PHONE_PX if screen.phone else 12))
        if own.reports else "",
        "errors": errors or {}, "report_error": report_error,
        "pasted": request.POST.get("report", ""), **history_state(shoot),
    }  # fmt: skip
    return render(request, "days/weather.html", context, status=status)


def column_step(moments: list[datetime]) -> timedelta | None:
    """How far apart the hours are, if evenly and with room for each under the drawing."""
    steps = {later - one for one, later in pairwise(moments)}
    return steps.pop() if len(steps) == 1 and len(moments) <= MOST_COLUMNS else None


def _drawn(
    moments: list[datetime], step: timedelta | None, place: Place, own: Weather
) -> WeatherView:
    """The hours of the form, and as far as the last reaches; with columns where a step is given."""
    ends = moments[-1] + timedelta(hours=REACH_H)
    if step is None:
        return WeatherView(moments[0], ends, place.zone, own)
    ends = min(ends, moments[-1] + step / 2)
    return WeatherView(moments[0], ends, place.zone, own, len(moments), step)


@login_required
@require_POST
@handle_gone
def weather_simulate(request: HttpRequest, shoot_id: int, day_id: int) -> HttpResponse:
    """Ask the service for the day; what people gave stays."""
    shoot, day, place = _asked(request, shoot_id, day_id)
    if not made_before(request, shoot):
        try:
            filled = day_weather.simulate(place, day, timezone.now())
            messages.success(request, f"{filled} hours simulated: invented, no forecast.")
        except RuleError as error:
            messages.error(request, f"{place} {error.rule}.")
    return _back(shoot, day, place)


@login_required
@require_POST
@handle_gone
def weather_drop(request: HttpRequest, shoot_id: int, day_id: int) -> HttpResponse:
    """Forget the day's weather at the place."""
    shoot, day, place = _asked(request, shoot_id, day_id)
    if not made_before(request, shoot):
        day_weather.drop_all(place, day)
        messages.success(request, "The weather of this day is dropped.")
    return _back(shoot, day, place)


@login_required
@require_POST
@handle_gone
def weather_report(request: HttpRequest, shoot_id: int, day_id: int) -> HttpResponse:
    """Keep a pasted report."""
    shoot, day, place = _asked(request, shoot_id, day_id)
    if made_before(request, shoot):
        return _back(shoot, day, place)
    span, now = day_weather.span_of(place, day), timezone.now()
    try:
        report = from_metar(request.POST.get("report", ""), span.starts, span.ends, now)
        day_weather.take_in(place, [day], (report,))
    except (ExchangeError, RuleError) as error:
        said = error.problem if isinstance(error, ExchangeError) else error.rule
        return _shown(request, shoot, day, place, report_error=said, status=422)
    local = report.at.astimezone(place.zone)
    messages.success(request, f"Kept for {local:%H:%M}: {source_words(report, now)}.")
    return _back(shoot, day, place)


@login_required
@require_POST
@handle_gone
def weather_import(request: HttpRequest, shoot_id: int, day_id: int) -> HttpResponse:
    """A forecast in CSV: its hours go to the days of the shoot they belong to. All or nothing."""
    shoot, day, place = _asked(request, shoot_id, day_id)
    upload = request.FILES.get("file")
    if upload is None:
        messages.error(request, "Choose a forecast in CSV first.")
        return _back(shoot, day, place)
    try:
        reports = from_csv(upload.read(LARGEST_FILE_BYTES + 1), place.zone, timezone.now())
        taken = day_weather.take_in(place, list(shoot.days_by_id.values()), reports)
    except ExchangeError as error:
        messages.error(request, f"{upload.name} was not imported. {error.place}: {error.problem}.")
        return _back(shoot, day, place)
    except RuleError as error:
        messages.error(request, f"{upload.name} was not imported: {error.rule}.")
        return _back(shoot, day, place)
    if not taken:
        messages.error(request, f"None of the {len(reports)} hours lies on a day of this shoot.")
    else:
        said = "; ".join(f"{count} hours for {one}" for one, count in taken.items())
        messages.success(request, f"Imported: {said}.")
    return _back(shoot, day, place)


@login_required
@handle_gone
def weather_file(request: HttpRequest, shoot_id: int, day_id: int) -> HttpResponse:
    """The day's weather at a place as CSV."""
    _, day, place = _asked(request, shoot_id, day_id)
    answer = HttpResponse(
        to_csv(_known(place, day).reports, place.zone), content_type="text/csv; charset=utf-8"
    )
    name = slugify(f"{place} {day.date}") or "weather"
    answer["Content-Disposition"] = f'attachment; filename="{name}-weather.csv"'
    return answer
