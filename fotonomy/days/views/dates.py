"""A better date: a year looked through, and the day moved to one of its dates."""

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date
from typing import Any

from django.contrib import messages
from django.contrib.auth.decorators import login_required
from django.http import HttpRequest, HttpResponse, StreamingHttpResponse
from django.http.response import HttpResponseBase
from django.shortcuts import redirect, render
from django.template.loader import render_to_string
from django.utils import timezone
from django.utils.html import escape

from fotonomy.core.day.dates import (
    DateLight,
    SunPlace,
    any_day_does,
    difference_words,
    differing,
    next_date,
)
from fotonomy.core.day.day_plan import minutes_text
from fotonomy.core.errors import RuleError
from fotonomy.core.notation.reading import parse_quantity, whole_number
from fotonomy.core.parsing.schedule import compass_point
from fotonomy.core.spec.schedule import Wanted
from fotonomy.core.spec.setup import Site
from fotonomy.days.date_search import (
    DAYS,
    Found,
    Skies,
    far_apart,
    find_dates,
    first_of,
    year_over,
)
from fotonomy.days.planning import PlannedDay, planned_day
from fotonomy.figures.day.year import YearView, year
from fotonomy.figures.svg import PHONE_PX, Size
from fotonomy.shoots.editing.forms import sentence
from fotonomy.shoots.editing.places import DayForm
from fotonomy.shoots.models import Day, Place, Shoot
from fotonomy.shoots.presenters.working import loose
from fotonomy.shoots.services.shoots import change_part
from fotonomy.shoots.views.get_or_404 import day_in, handle_gone, shoot_for, window_of
from fotonomy.sky.ephemeris import NoSkyError, check_day
from fotonomy.web.long_work import one_at_a_time

MOST_SHOWN = 5
YEAR_PX = 300


@dataclass(frozen=True, slots=True)
class DateLine:
    """A date of the list: what fits, why, and whether the shoot is on it."""

    day: date
    fits: str
    why: str
    moon: str
    differs: str
    present: bool


@login_required
@handle_gone
@one_at_a_time
def dates(request: HttpRequest, shoot_id: int, day_id: int) -> HttpResponseBase:
    """GET looks a year through for one setup or all of the day; POST moves the day to a date."""
    shoot = shoot_for(request, shoot_id)
    day = day_in(shoot, day_id)
    day.shoot = shoot
    if request.method == "POST":
        return _moved(request, shoot, day)
    planned = planned_day(shoot, day)
    key = whole_number(request.GET.get("setup", ""))
    keys = [key] if key in planned.rows else list(planned.rows)
    errors: dict[str, str] = {}
    sun = _sun(request, planned, keys, errors)
    first = first_of(request.GET.get("from", ""), max(day.date, timezone.localdate()))
    try:
        check_day(first)
    except NoSkyError as error:
        errors["from"] = sentence(error.rule)
    asked = _Asked(request, shoot, planned, keys, first, sun, errors)
    places = far_apart(planned, keys)
    if len(places) > 1 and not errors:
        return StreamingHttpResponse(_streamed(asked, places))
    found: Found | None = None
    try:
        found = None if "from" in errors else find_dates(planned, keys, first, sun)
    except NoSkyError as error:
        # The year after it goes past the end of what is known.
        errors["from"] = sentence(error.rule)
    context = {**asked.context, **_came_to(asked, found)}
    return render(request, "days/dates.html", context, status=422 if errors else 200)


@dataclass(frozen=True, slots=True)
class _Asked:
    """What is looked for, and for whom."""

    request: HttpRequest
    shoot: Shoot
    planned: PlannedDay
    keys: list[int]
    first: date
    sun: SunPlace | None
    errors: dict[str, str]

    @property
    def context(self) -> dict[str, Any]:
        """What the page takes beside what was found."""
        return {
            "shoot": self.shoot, "day": self.planned.day, "planned": self.planned,
            "first": self.first, "errors": self.errors, "asked": self.request.GET,
            "chosen": self.keys[0] if len(self.keys) == 1 else 0,
            "setups": [(block.key, block.name) for block in self.planned.plan.blocks],
        }  # fmt: skip


def _came_to(asked: _Asked, found: Found | None) -> dict[str, Any]:
    """What was found, as the page shows it."""
    if found is None:
        return {
            "lines": [], "left_out": (), "drawing": "", "next_date": None, "none": False,
            "any_day": False,
        }  # fmt: skip
    drawing = _drawing(asked.request, asked.planned, found, asked.first) if found.sky else ""
    return {
        "lines": _lines(asked.planned, found), "left_out": found.left_out, "drawing": drawing,
        "next_date": _next(found),
        "any_day": any_day_does(found.sought),
        "none": bool(found.sought) and not any(one.met for one in found.dates),
    }  # fmt: skip


# Stands in the page where what is found comes to.
_MARKER = "<!-- found -->"


def _streamed(asked: _Asked, places: dict[Site, Place]) -> Iterator[str]:
    """The page, a line for each place as its year is looked through, then what was found."""
    context = {**asked.context, "marker": _MARKER}
    page = render_to_string("days/dates.html", context, asked.request)
    head, _, foot = page.partition(_MARKER)
    yield head
    skies: Skies = {}
    try:
        for at, (site, place) in enumerate(places.items(), 1):
            yield f'<p class="looking" role="status">{escape(place)}: {at} of {len(places)}</p>'
            skies[site] = year_over(place, site, asked.first)
        found = find_dates(asked.planned, asked.keys, asked.first, asked.sun, skies)
    except NoSkyError as error:
        yield f'<p class="field-error">{escape(sentence(error.rule))}</p>{foot}'
        return
    came = {**asked.context, **_came_to(asked, found)}
    yield render_to_string("days/_dates_found.html", came, asked.request)
    yield foot


def _sun(
    request: HttpRequest, planned: PlannedDay, keys: list[int], errors: dict[str, str]
) -> SunPlace | None:
    """Where the sun is wanted, as typed: an azimuth within so many degrees, a height."""

    def read(name: str, low: float, high: float, rule: str) -> float | None:
        text = request.GET.get(name, "").strip()
        if not text:
            return None
        try:
            return parse_quantity(name, text, {"": 1.0, "°": 1.0}, (low, high), rule)
        except RuleError as error:
            errors[name] = sentence(error.rule)
            return None

    azimuth = read("azimuth", 0, 360, "degrees from true north, from 0 to 360")
    within = read("within", 0.5, 180, "degrees from 0.5 to 180")
    height = read("height", -18, 90, "degrees over the horizon, from -18 to 90")
    if within is not None and azimuth is None and len(keys) == 1:
        spec = planned.specs.get(keys[0])
        azimuth = spec.looks_deg if spec else None
    if azimuth is None and height is None:
        return None
    return SunPlace(azimuth, 10.0 if within is None else within, height)


def _lines(planned: PlannedDay, found: Found) -> list[DateLine]:
    """The dates to choose from, the shoot's own among them, and what each has otherwise."""
    if any_day_does(found.sought):
        return []
    own = next((one for one in found.dates if one.day == planned.day.date), None)
    shown = differing([one for one in found.best if one.met], MOST_SHOWN)
    if own is not None and own not in shown:
        shown = (*shown, own)
    return [_line(planned, found, one, own) for one in shown]


def _line(planned: PlannedDay, found: Found, one: DateLight, own: DateLight | None) -> DateLine:
    total = len(found.sought)
    fits = f"{one.fits} of {total} fit" if total > 1 else ("fits" if one.fits else "too short")
    wishes = {block.key: block.wish for block in planned.plan.blocks}
    if total == 1:
        sought, long = found.sought[0], one.longest_min[0]
        why = f"{minutes_text(long)} of {_wanted(found, wishes[sought.key])} without a break"
        if one.total_min[0] > long + 1:
            why += f", {minutes_text(one.total_min[0])} in all"
    else:
        short = [
            sought.name.split()[0]
            for sought, long in zip(found.sought, one.longest_min, strict=True)
            if long < sought.needs_min
        ]
        why = "everything has its light" if not short else f"too short for {', '.join(short)}"
    lit = loose(f"{round(100 * one.moon_lit)} %", "moon.lit", phase_deg=one.phase_deg)
    differs = "" if own is None or own is one else difference_words(one, own)
    return DateLine(one.day, fits, why, lit, differs, one.day == planned.day.date)


def _wanted(found: Found, wish: str) -> str:
    sun = found.sought[0].sun
    parts = [] if found.sought[0].wish.wanted is Wanted.ANY and sun else [wish]
    if sun is not None and sun.azimuth_deg is not None:
        point = compass_point(sun.azimuth_deg)
        parts.append(f"sun within {sun.within_deg:g}° of {sun.azimuth_deg:g}° ({point})")
    if sun is not None and sun.height_deg is not None:
        parts.append(f"sun {sun.height_deg:g}° high")
    return ", ".join(parts)


def _next(found: Found) -> date | None:
    """Where the one setup looked for has no light on the shoot's day: when it has some next."""
    return next_date(found.dates, 0) if len(found.sought) == 1 else None


def _drawing(request: HttpRequest, planned: PlannedDay, found: Found, first: date) -> str:
    assert found.sky is not None
    window = window_of(request)
    size = Size(window.within(), YEAR_PX, PHONE_PX if window.phone else 12)
    view = YearView(found.sky, planned.zone, first, DAYS, found.good, (planned.day.date,))
    return year(view, size)


def _moved(request: HttpRequest, shoot: Shoot, day: Day) -> HttpResponse:
    """The day on another date; one step to undo."""
    sent: dict[str, Any] = {
        "date": request.POST.get("date", ""), "call": day.call, "wrap": day.wrap,
    }  # fmt: skip
    form = DayForm(sent, instance=day)
    if not form.is_valid():
        name, said = next(iter(form.errors.items()))
        messages.error(request, f"{name}: {said[0]}.")
        return redirect("dates", shoot.pk, day.pk)
    changed = form.save(commit=False)
    change_part(changed, f"day moved to {changed}")
    messages.success(request, f"The day is now {changed}. Undo takes it back.")
    return redirect("day", shoot.pk, day.pk)
