"""Places, days and scenes of a shoot: listed, made, changed, deleted; ways and readings."""

from collections.abc import Mapping
from typing import Any

from django import forms
from django.contrib import messages
from django.contrib.auth.decorators import login_required
from django.db import transaction
from django.http import Http404, HttpRequest, HttpResponse, QueryDict
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_POST

from fotonomy.core.constants import EV_RANGE
from fotonomy.core.day.outline import Coverage, coverage
from fotonomy.core.day.travel_time import LONGEST_MIN, way_minutes
from fotonomy.core.errors import RuleError
from fotonomy.core.notation.reading import parse_quantity, whole_number
from fotonomy.core.spec.schedule import ShotSize
from fotonomy.days.planning import planned_day
from fotonomy.days.presenters.places import PlacesView, places_view
from fotonomy.shoots.editing.forms import sentence
from fotonomy.shoots.editing.places import DayForm, PlaceForm, SceneForm
from fotonomy.shoots.models import Day, Place, Scene, Shoot
from fotonomy.shoots.presenters.layout import Screen
from fotonomy.shoots.services.faults import faults_of
from fotonomy.shoots.services.moments import check_moment
from fotonomy.shoots.services.shoots import (
    PLACE_COLUMNS,
    NeededError,
    add_part,
    add_reading,
    change_part,
    delete_part,
    drop_reading,
    put_ways,
)
from fotonomy.shoots.views.get_or_404 import (
    handle_gone,
    history_state,
    shoot_for,
    shoot_in_turn,
    window_of,
)
from fotonomy.shoots.views.towns import towns_asked
from fotonomy.web.whole_forms import (
    Wording,
    merged_data,
    merged_form,
    shown_text,
    texts_of,
    without_same,
)

SORTS: dict[str, tuple[Any, Any]] = {
    "place": (Place, PlaceForm), "day": (Day, DayForm), "scene": (Scene, SceneForm),
}  # fmt: skip


def _sort(sort: str) -> tuple[Any, Any]:
    if sort not in SORTS:
        raise Http404
    return SORTS[sort]


@login_required
@handle_gone
def places(request: HttpRequest, shoot_id: int) -> HttpResponse:
    """Places, days and scenes of a shoot in one page, with the ways between places."""
    return _places(request, shoot_for(request, shoot_id))


def _places(
    request: HttpRequest, shoot: Shoot, typed: Mapping[str, Any] | None = None,
    errors: dict[str, str] | None = None, status: int = 200,
) -> HttpResponse:  # fmt: skip
    found = list(shoot.places.prefetch_related("light_readings"))
    known = _way_fields(shoot, found)
    context = {
        "v": _drawn(request, shoot),
        "shoot": shoot, "places": found, "ways": _way_fields(shoot, found, typed, errors),
        "ways_wrong": bool(errors), "outlines": list(shoot.outlines.values("pk", "name")),
        "shown": shown_text({one["name"]: [one["text"]] for one in known}),
        "days": list(shoot.days_by_id.values()), "scenes": _scenes(shoot),
        "faults": faults_of(shoot), **history_state(shoot),
    }  # fmt: skip
    return render(request, "days/places.html", context, status=status)


def _drawn(request: HttpRequest, shoot: Shoot) -> PlacesView:
    """The places as the address asks for them: a day, a setup or a place pressed, how near."""
    days = shoot.days_by_id
    asked = {
        name: whole_number(request.GET.get(name, "")) for name in ("day", "setup", "place")
    }  # fmt: skip
    of_setup = shoot.setups.filter(pk=asked["setup"] or 0).values_list("day", flat=True).first()
    day = days.get(of_setup or asked["day"] or 0) or shoot.first_day
    return places_view(
        planned_day(shoot, day), window_of(request), asked["setup"], asked["place"],
        request.GET.get("near", ""),
    )  # fmt: skip


def _scenes(shoot: Shoot) -> list[tuple[Scene, Coverage]]:
    """Scenes with how far their setups cover them."""
    sizes: dict[int | None, list[ShotSize]] = {}
    for scene, size in shoot.setups.values_list("scene_id", "shot_size"):
        sizes.setdefault(scene, []).append(ShotSize(size))
    return [(scene, coverage(sizes.get(scene.pk, ()))) for scene in shoot.scenes.all()]


# How wide the drawing beside a place's form is, with the margins of a page.
BESIDE_PX = 460
# So many ways are shown at most: between more places they are worked out, or typed from a file.
MOST_WAYS = 60


def _way_fields(
    shoot: Shoot, found: list[Place], typed: Mapping[str, Any] | None = None,
    errors: dict[str, str] | None = None,
) -> list[dict[str, str]]:  # fmt: skip
    """A field for each pair of places: what was typed, and what is worked out instead."""
    known = {frozenset((way.start_id, way.end_id)): way.minutes for way in shoot.ways.all()}
    fields = []
    for at, start in enumerate(found):
        for end in found[at + 1 :]:
            name = f"way-{start.pk}-{end.pk}"
            minutes = known.get(frozenset((start.pk, end.pk)))
            text = "" if minutes is None else f"{minutes:g}"
            fields.append({
                "name": name, "label": f"{start} to {end}",
                "text": (typed or {}).get(name, text),
                "hint": f"{way_minutes(start.site, end.site):g}",
                "error": (errors or {}).get(name, ""),
            })  # fmt: skip
    return fields[:MOST_WAYS]


@login_required
@require_POST
@handle_gone
def ways(request: HttpRequest, shoot_id: int) -> HttpResponse:
    """Minutes between places as typed; an empty field is worked out."""
    with shoot_in_turn(request, shoot_id) as shoot:
        data, errors = _ways_sent(request, shoot)
    if errors:
        return _places(request, shoot, data, errors, 422)
    return redirect("places", shoot.pk)


def _ways_sent(request: HttpRequest, shoot: Shoot) -> tuple[QueryDict, dict[str, str]]:
    """Keep the minutes that were sent; what is typed by now, and what is wrong with it."""
    own = shoot.places_by_id
    fields = _way_fields(shoot, list(own.values()))
    present = {one["name"]: [one["text"]] for one in fields}
    words = Wording({}, {one["name"]: f"{one['label']}, min" for one in fields})
    data = without_same(merged_data(request, present, words), present)
    wanted: dict[tuple[int, int], float | None] = {}
    errors = {}
    for name, text in data.items():
        parts = name.split("-")
        if len(parts) != 3 or parts[0] != "way":
            continue
        start, end = whole_number(parts[1]), whole_number(parts[2])
        if start not in own or end not in own or start == end:
            continue
        try:
            wanted[start, end] = None if not str(text).strip() else parse_quantity(
                name, str(text), {"": 1.0, "min": 1.0, "h": 60.0}, (0, LONGEST_MIN),
                "minutes from 0 to a day, such as 12",
            )  # fmt: skip
        except RuleError as error:
            errors[name] = sentence(error.rule)
    if not errors:
        put_ways(shoot, wanted)
    return data, errors


@login_required
@handle_gone
def part_new(request: HttpRequest, shoot_id: int, sort: str) -> HttpResponse:
    """Add a place, a day or a scene; a place begins where the first one is."""
    shoot = shoot_for(request, shoot_id)
    model, _ = _sort(sort)
    row = model(shoot=shoot)
    initial: dict[str, Any] = {}
    if isinstance(row, Place):
        initial = {name: getattr(shoot.main_place, name) for name in PLACE_COLUMNS}
    elif isinstance(row, Day):
        last = list(shoot.days_by_id.values())[-1]
        initial = {"call": last.call, "wrap": last.wrap}
    return _form(request, shoot, sort, row, initial)


@login_required
@handle_gone
def part_edit(request: HttpRequest, shoot_id: int, sort: str, part_id: int) -> HttpResponse:
    """Change a place, a day or a scene."""
    shoot = shoot_for(request, shoot_id)
    return _form(request, shoot, sort, _own_part(shoot, sort, part_id), None)


def _form(
    request: HttpRequest, shoot: Shoot, sort: str, row: Any, initial: dict[str, Any] | None
) -> HttpResponse:
    _, form_class = _sort(sort)
    context: dict[str, Any] = {
        "shoot": shoot, "sort": sort, "row": row if row.pk else None,
        "v": _beside(request, shoot, row) if sort == "place" and row.pk else None,
        "readings": list(row.light_readings.all()) if sort == "place" and row.pk else [],
    }  # fmt: skip
    if row.pk is not None:
        context["shown"] = shown_text(texts_of(form_class(instance=row)))
    asked = _place_asked(request, row) if sort == "place" else None
    if asked is not None:
        return render(request, "days/part_form.html", {**context, **asked})
    form = form_class(instance=row, initial=initial)
    if request.method == "POST":
        with shoot_in_turn(request, shoot.pk) as shoot:
            form, kept = _sent(request, shoot, sort, row)
        if kept:
            return redirect("places", shoot.pk)
        if row.pk is not None:
            stored = form_class(instance=_own_part(shoot, sort, row.pk))
            context["shown"] = shown_text(texts_of(stored))
    status = 422 if form.is_bound else 200
    return render(request, "days/part_form.html", {**context, "form": form}, status=status)


def _beside(request: HttpRequest, shoot: Shoot, row: Place) -> PlacesView:
    """The drawing beside a place's form, with that place pressed."""
    own = shoot.setups.filter(place=row).values_list("day", flat=True).first()
    day = shoot.days_by_id.get(own or 0) or shoot.first_day
    screen = Screen(min(window_of(request).width, BESIDE_PX), BESIDE_PX)
    return places_view(planned_day(shoot, day), screen, None, row.pk, "", aside=False)


def _own_part(shoot: Shoot, sort: str, part_id: int) -> Any:
    row = get_object_or_404(_sort(sort)[0], shoot=shoot, pk=part_id)
    row.shoot = shoot
    return row


def _sent(request: HttpRequest, shoot: Shoot, sort: str, row: Any) -> tuple[Any, bool]:
    """A part's form as it was sent, merged with what was changed meanwhile; whether it was kept."""
    form_class, new = _sort(sort)[1], row.pk is None
    if new:
        row.shoot, form = shoot, form_class(request.POST, instance=row)
    else:
        row = _own_part(shoot, sort, row.pk)
        form = merged_form(request, form_class, row)
    if not form.is_valid():
        return form, False
    changed = form.save(commit=False)
    try:
        with transaction.atomic():
            if new:
                add_part(changed, f"{sort} {changed} added")
            else:
                change_part(changed, f"{sort} {changed} changed")
    except RuleError as error:
        form.add_error(None, f"{sentence(error.rule)}.")
        return form, False
    return form, True


def _place_asked(request: HttpRequest, row: Place) -> dict[str, Any] | None:
    """The form with towns of the typed name, or with one filled in; None where none was asked."""
    asked = towns_asked(request, "name")
    if asked is None:
        return None
    known = {name: text for name, text in asked.filled.items() if name in PlaceForm.Meta.fields}
    form = PlaceForm(instance=row, initial=known)
    return {"form": form, "searched": asked.searched, "towns": asked.towns}


@login_required
@require_POST
@handle_gone
def part_delete(request: HttpRequest, shoot_id: int, sort: str, part_id: int) -> HttpResponse:
    """Delete a place, a day or a scene; setups there go to the first other one."""
    row = _own_part(shoot := shoot_for(request, shoot_id), sort, part_id)
    name = str(row)
    try:
        delete_part(row)
        messages.success(request, f"{name} deleted.")
    except NeededError as error:
        messages.error(request, f"{error}.")
    return redirect("places", shoot.pk)


class MeteredForm(forms.Form):
    """What was metered at a place: when, and how much."""

    at = forms.DateTimeField(
        input_formats=["%Y-%m-%dT%H:%M", "%Y-%m-%d %H:%M"],
        error_messages={"invalid": "A date and a time such as 2027-06-05 09:30"},
    )
    ev100 = forms.CharField(max_length=40)

    def clean_ev100(self) -> float:
        """EV at ISO 100."""
        try:
            return parse_quantity(
                "ev100", self.cleaned_data["ev100"], {"": 1.0, "ev": 1.0}, EV_RANGE,
                "EV at ISO 100 such as 11.4",
            )  # fmt: skip
        except RuleError as error:
            raise forms.ValidationError(sentence(error.rule)) from error


@login_required
@require_POST
@handle_gone
def metered(request: HttpRequest, shoot_id: int, place_id: int) -> HttpResponse:
    """Keep what was metered at a place, or drop it; it bends the estimate there."""
    shoot = shoot_for(request, shoot_id)
    place = get_object_or_404(shoot.places, pk=place_id)
    dropped = whole_number(request.POST.get("drop", ""))
    if dropped is not None:
        drop_reading(place, dropped)
        return redirect("part-edit", shoot.pk, "place", place.pk)
    form = MeteredForm(request.POST)
    if form.is_valid():
        try:
            at = check_moment(shoot, form.cleaned_data["at"].replace(tzinfo=place.zone))
            add_reading(place, at, form.cleaned_data["ev100"])
            return redirect("part-edit", shoot.pk, "place", place.pk)
        except RuleError as error:
            form.add_error(error.field, sentence(error.rule))
    said = [f"{name}: {errors[0]}" for name, errors in form.errors.items()]
    messages.error(request, f"Not kept. {'; '.join(said)}")
    whole = PlaceForm(instance=place)
    context = {
        "shoot": shoot, "sort": "place", "row": place, "form": whole,
        "shown": shown_text(texts_of(whole)),
        "readings": list(place.light_readings.all()), "metered": request.POST,
    }  # fmt: skip
    return render(request, "days/part_form.html", context, status=422)
