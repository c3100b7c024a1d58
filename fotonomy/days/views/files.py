"""Places and the schedule in open formats, in and out."""

from datetime import datetime, timedelta

from django.contrib import messages
from django.contrib.auth.decorators import login_required
from django.forms.models import model_to_dict
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect
from django.utils import timezone
from django.utils.text import slugify
from django.views.decorators.http import require_POST

from fotonomy.core.errors import RuleError
from fotonomy.core.notation.texts import without_unkeepable
from fotonomy.core.spec.schedule import Wanted
from fotonomy.days.planning import PlannedDay, planned_day
from fotonomy.days.reschedule import place_all
from fotonomy.exchange.calendar_files import CalendarEvent, from_ics, to_ics
from fotonomy.exchange.errors import ExchangeError
from fotonomy.exchange.outline_files import (
    LARGEST_OUTLINES_BYTES,
    outlines_to_geojson,
    read_outlines,
)
from fotonomy.exchange.place_files import PlaceData, read_places, to_geojson, to_gpx
from fotonomy.exchange.schemas import LARGEST_FILE_BYTES, write_json
from fotonomy.kit.quotas import QuotaError
from fotonomy.shoots.editing.places import PlaceForm, format_horizon
from fotonomy.shoots.models import Day, Place, Shoot
from fotonomy.shoots.services.shoots import (
    PLACE_COLUMNS,
    add_outlines,
    delete_part,
    import_places,
)
from fotonomy.shoots.views.get_or_404 import handle_gone, shoot_for

_KEPT_APART = ("name", "latitude_deg", "longitude_deg", "height_m")


def _download(raw: bytes, kind: str, name: str) -> HttpResponse:
    answer = HttpResponse(raw, content_type=kind)
    answer["Content-Disposition"] = f'attachment; filename="{name}"'
    return answer


@login_required
@handle_gone
def places_file(request: HttpRequest, shoot_id: int, form: str) -> HttpResponse:
    """Places with degrees as GeoJSON or GPX."""
    shoot = shoot_for(request, shoot_id)
    known = [_data(place) for place in shoot.places.all() if place.site is not None]
    name = f"{slugify(shoot.name) or 'places'}-places"
    if form == "gpx":
        return _download(to_gpx(known), "application/gpx+xml", f"{name}.gpx")
    if form == "geojson":
        raw = write_json(to_geojson(known)).encode()
        return _download(raw, "application/geo+json", f"{name}.geojson")
    raise Http404


def _data(place: Place) -> PlaceData:
    site = place.site
    assert site is not None
    columns = model_to_dict(place, fields=PlaceForm.Meta.fields)
    more = {
        key: f"{value:%H:%M}" if key in ("opens", "closes") else value
        for key, value in columns.items()
        if key not in _KEPT_APART and value not in (None, "", [])
    }
    return PlaceData(place.name, site.latitude_deg, site.longitude_deg, place.height_m, more)


@login_required
@require_POST
@handle_gone
def places_import(request: HttpRequest, shoot_id: int) -> HttpResponse:
    """Places of a file: one of a known name is changed, the others are added. All or nothing."""
    shoot = shoot_for(request, shoot_id)
    upload = request.FILES.get("file")
    if upload is None:
        messages.error(request, "Choose a file of places first.")
        return redirect("places", shoot.pk)
    try:
        rows = _rows(shoot, read_places(upload.read(LARGEST_FILE_BYTES + 1)))
        import_places(shoot, rows, f"{len(rows)} place{'' if len(rows) == 1 else 's'} imported")
        messages.success(request, f"{len(rows)} places imported.")
    except ExchangeError as error:
        messages.error(request, f"{upload.name} was not imported. {error.place}: {error.problem}.")
    except RuleError as error:
        messages.error(request, f"{upload.name} was not imported: {error.rule}.")
    return redirect("places", shoot.pk)


def _rows(shoot: Shoot, given: list[PlaceData]) -> list[Place]:
    """Rows checked by the form that people fill in, none of them saved."""
    if not given:
        raise ExchangeError("the file", "holds no places")
    known = {place.name: place for place in shoot.places.all()}
    usual = {name: getattr(shoot.main_place, name) for name in PLACE_COLUMNS}
    rows = []
    for at, one in enumerate(given):
        row = known.get(one.name) or Place(shoot=shoot)
        row.shoot = shoot
        data = {**usual, **model_to_dict(row, PlaceForm.Meta.fields)} if row.pk else dict(usual)
        data |= {key: value for key, value in one.more.items() if key in PlaceForm.Meta.fields}
        data |= {
            "name": one.name, "latitude_deg": f"{one.latitude_deg}",
            "longitude_deg": f"{one.longitude_deg}", "height_m": f"{one.height_m}",
        }  # fmt: skip
        if isinstance(data.get("horizon"), list):
            try:
                data["horizon"] = format_horizon(data["horizon"])
            except (TypeError, ValueError, OverflowError):
                raise ExchangeError(f"place {at + 1}", "has a horizon that is none") from None
        filled = PlaceForm(data, instance=row)
        if not filled.is_valid():
            name, said = next(iter(filled.errors.items()))
            raise ExchangeError(f"place {at + 1}, {name}", str(said[0]))
        rows.append(filled.save(commit=False))
    return rows


@login_required
@require_POST
@handle_gone
def outlines_import(request: HttpRequest, shoot_id: int) -> HttpResponse:
    """Lines and areas of a GeoJSON file, laid under the places."""
    shoot = shoot_for(request, shoot_id)
    upload = request.FILES.get("file")
    if upload is None or not upload.name:
        messages.error(request, "Choose a GeoJSON file of outlines first.")
        return redirect("places", shoot.pk)
    name = without_unkeepable(upload.name)[:80]
    try:
        shapes = read_outlines(upload.read(LARGEST_OUTLINES_BYTES + 1))
        add_outlines(shoot, name, shapes)
        count = f"{len(shapes)} outline{'' if len(shapes) == 1 else 's'}"
        messages.success(request, f"{name}: {count} under the places.")
    except ExchangeError as error:
        messages.error(request, f"{name} was not imported. {error.place}: {error.problem}.")
    except (RuleError, QuotaError) as error:
        said = error.rule if isinstance(error, RuleError) else str(error)
        messages.error(request, f"{name} was not imported: {said}.")
    return redirect("places", shoot.pk)


@login_required
@handle_gone
def outlines_file(request: HttpRequest, shoot_id: int, outline_id: int) -> HttpResponse:
    """An outline as GeoJSON, the way it came."""
    row = get_object_or_404(shoot_for(request, shoot_id).outlines, pk=outline_id)
    raw = write_json(outlines_to_geojson(row.shapes)).encode()
    return _download(raw, "application/geo+json", f"{slugify(row.name) or 'outlines'}.geojson")


@login_required
@require_POST
@handle_gone
def outline_delete(request: HttpRequest, shoot_id: int, outline_id: int) -> HttpResponse:
    """Take an outline away; one step to undo."""
    shoot = shoot_for(request, shoot_id)
    row = get_object_or_404(shoot.outlines, pk=outline_id)
    row.shoot = shoot
    delete_part(row)
    messages.success(request, f"{row.name} deleted.")
    return redirect("places", shoot.pk)


def uid_of(shoot: Shoot, setup: int) -> str:
    """The lasting id of a setup in a calendar."""
    return f"setup-{shoot.pk}-{setup}@fotonomy"


@login_required
@handle_gone
def schedule(request: HttpRequest, shoot_id: int) -> HttpResponse:
    """The hours of all days as iCalendar."""
    shoot = shoot_for(request, shoot_id)
    events = []
    for day in shoot.days_by_id.values():
        planned = planned_day(shoot, day)
        events += _events(shoot, planned)
    raw = to_ics(shoot.name, events, timezone.now())
    return _download(raw, "text/calendar; charset=utf-8", f"{slugify(shoot.name) or 'shoot'}.ics")


def _events(shoot: Shoot, planned: PlannedDay) -> list[CalendarEvent]:
    found = []
    for block in planned.plan.timed:
        occupies, takes = block.occupies, block.takes
        if occupies is None or takes is None:
            continue
        row = planned.rows[block.key]
        zone, site = row.place.zone, row.place.site
        closes = None
        if block.schedule.wants is not Wanted.ANY:
            around = [one for one in block.windows if one.meets(takes)]
            closes = around[-1].ends.astimezone(zone) if around else None
        found.append(CalendarEvent(
            uid=uid_of(shoot, block.key), title=block.name,
            starts=occupies.starts.astimezone(zone), ends=occupies.ends.astimezone(zone),
            rolls=takes.starts, place=str(row.place), notes=row.notes,
            latitude_deg=site.latitude_deg if site else None,
            longitude_deg=site.longitude_deg if site else None, closes=closes,
            sequence=shoot.changes.count(),
        ))  # fmt: skip
    return found


@login_required
@require_POST
@handle_gone
def schedule_import(request: HttpRequest, shoot_id: int) -> HttpResponse:
    """A calendar that came back: setups go to the hours it says; one step to undo."""
    shoot = shoot_for(request, shoot_id)
    upload = request.FILES.get("file")
    if upload is None:
        messages.error(request, "Choose an iCalendar file first.")
        return redirect("places", shoot.pk)
    try:
        moved = from_ics(upload.read(LARGEST_FILE_BYTES + 1))
    except ExchangeError as error:
        messages.error(request, f"{upload.name} was not imported. {error.place}: {error.problem}.")
        return redirect("places", shoot.pk)
    plans = [planned_day(shoot, day) for day in shoot.days_by_id.values()]
    known = {uid_of(shoot, key): (one, key) for one in plans for key in one.specs}
    starts: dict[int, tuple[Day, datetime]] = {}
    foreign = outside = 0
    for event in moved:
        if event.uid not in known:
            foreign += 1
            continue
        own, key = known[event.uid]
        prepare = own.specs[key].schedule.prepare_min
        rolls = event.starts + timedelta(minutes=prepare)
        day = next(
            (one.day for one in plans if one.plan.hours.starts <= rolls <= one.plan.hours.ends),
            None,
        )
        if day is None:
            outside += 1
        else:
            starts[key] = (day, rolls)
    place_all(shoot, starts, (), estimate=False)
    said = [f"{len(starts)} setups have the hours of the calendar."]
    if outside:
        said.append(f"{outside} lie outside the working hours of every day and stay.")
    if foreign:
        said.append(f"{foreign} events are none of this shoot.")
    messages.success(request, " ".join(said))
    return redirect("days", shoot.pk)
