"""The Day page: shown, a setup moved on it, a step taken back."""

from django.contrib import messages
from django.contrib.auth.decorators import login_required
from django.core.exceptions import ValidationError
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.http import require_POST

from fotonomy.core.day.blocks import moment_of
from fotonomy.core.errors import RuleError
from fotonomy.core.notation.reading import whole_number
from fotonomy.core.parsing.schedule import parse_shoot
from fotonomy.days.planning import planned_day, zone_of
from fotonomy.days.presenters.day import day_view
from fotonomy.days.reschedule import Move, clock_minutes, move
from fotonomy.shoots import history
from fotonomy.shoots.editing.forms import sentence
from fotonomy.shoots.editing.places import clock_field
from fotonomy.shoots.models import Day, Setup, Shoot
from fotonomy.shoots.views.get_or_404 import (
    day_in,
    handle_gone,
    history_state,
    made_before,
    shoot_for,
    wants_fragment,
    window_of,
)

# Remembered for the session: does a moved setup take the light of its new hour?
KEEPS_LIGHT = "day-keeps-light"


@login_required
@handle_gone
def days(request: HttpRequest, shoot_id: int) -> HttpResponse:
    """The day to look at first: today's where the shoot has it, else the next, else the first."""
    shoot = shoot_for(request, shoot_id)
    found = list(shoot.days_by_id.values())
    today = timezone.localdate()
    ahead = next((day for day in found if day.date >= today), found[0])
    return redirect("day", shoot.pk, ahead.pk)


@login_required
@handle_gone
def day_page(request: HttpRequest, shoot_id: int, day_id: int) -> HttpResponse:
    """GET shows a day, POST moves a setup on it and shows it again."""
    shoot = shoot_for(request, shoot_id)
    day = day_in(shoot, day_id)
    chosen = whole_number(request.GET.get("setup", ""))
    errors: dict[str, str] = {}
    if request.method == "POST":
        chosen = whole_number(request.POST.get("setup", ""))
        errors = _moved(request, shoot, day, chosen)
        if not wants_fragment(request) and not errors:
            at = f"?setup={chosen}" if chosen else ""
            answer = redirect("day", shoot.pk, day.pk)
            answer["Location"] += at
            return answer
    status = 422 if errors and not wants_fragment(request) else 200
    return _shown(request, shoot, day, chosen, errors, status)


def _moved(request: HttpRequest, shoot: Shoot, day: Day, key: int | None) -> dict[str, str]:
    """Move the setup as the form says; what is wrong by its field."""
    sent = request.POST
    keeps = sent.get("light") == "keep"
    if request.session.get(KEEPS_LIGHT, False) != keeps:
        request.session[KEEPS_LIGHT] = keeps
    if key is None or made_before(request, shoot):
        return {}
    try:
        asked = _asked(request, day)
        done = move(Setup(pk=key, shoot=shoot), asked)
    except RuleError as error:
        return {error.field: sentence(error.rule)}
    if done.words:
        messages.info(request, done.words)
    return {}


def _asked(request: HttpRequest, day: Day) -> Move:
    sent = request.POST
    clock = sent.get("clock", "").strip()
    starts = _minutes(sent.get("starts", ""))
    if "clock" in sent and not clock:
        return Move(no_hour=True, place=whole_number(sent.get("place", "")))
    if clock:
        starts = _of_clock(clock, day)
    minutes = sent.get("minutes", "")
    return Move(
        starts_min=starts, place=whole_number(sent.get("place", "")),
        day=whole_number(sent.get("day", "")),
        shoot_min=parse_shoot(minutes) if minutes else None,
        estimate=sent.get("light") != "keep", gesture=sent.get("gesture", "")[:40],
    )  # fmt: skip


def _minutes(text: str) -> float | None:
    try:
        return float(text) if text else None
    except ValueError:
        raise RuleError("starts_min", "minutes since midnight", text) from None


def _of_clock(text: str, day: Day) -> float:
    """A typed hour as minutes of the day, which may end after midnight."""
    try:
        clock = clock_field().clean(text)
    except ValidationError as error:
        raise RuleError("clock", error.messages[0], text) from error
    midnight = day.midnight(zone_of(day.shoot))
    return clock_minutes(moment_of(midnight, clock, day.call, day.wrap), midnight)


def _shown(
    request: HttpRequest, shoot: Shoot, day: Day, chosen: int | None,
    errors: dict[str, str] | None = None, status: int = 200,
) -> HttpResponse:  # fmt: skip
    view = day_view(planned_day(shoot, day), window_of(request), chosen, timezone.now())
    found = list(shoot.days_by_id.values())
    at = next(k for k, one in enumerate(found) if one.pk == day.pk)
    context = {
        "shoot": shoot, "day": day, "v": view, "errors": errors or {},
        "before": found[at - 1] if at else None,
        "after": found[at + 1] if at + 1 < len(found) else None,
        "days": found, "places": list(shoot.places_by_id.values()),
        "keeps_light": request.session.get(KEEPS_LIGHT, False),
        "typed": request.POST if errors else {},
        **history_state(shoot),
    }  # fmt: skip
    template = "days/_fragment.html" if wants_fragment(request) else "days/day.html"
    return render(request, template, context, status=status)


@login_required
@require_POST
@handle_gone
def day_step(request: HttpRequest, shoot_id: int, day_id: int, way: str) -> HttpResponse:
    """Take a step back, or do it again, without leaving the day."""
    shoot = shoot_for(request, shoot_id)
    forward = way == "redo"
    if not made_before(request, shoot):
        step = whole_number(request.POST.get("step", ""))
        try:
            taken = history.redo(shoot, step) if forward else history.undo(shoot, step)
        except history.CannotUndoError as error:
            messages.error(request, f"{error}.")
            taken = None
        if taken is not None:
            messages.success(request, f"{'Redone' if forward else 'Undone'}: {taken.step.label}.")
    if request.POST.get("to") == "places":
        return redirect("places", shoot.pk)
    if request.POST.get("to") == "weather":
        place = whole_number(request.POST.get("place", "")) or ""
        return redirect(f"{reverse('weather', args=[shoot.pk, day_id])}?place={place}")
    shoot = shoot_for(request, shoot_id)
    day = shoot.days_by_id.get(day_id) or shoot.first_day
    if not wants_fragment(request):
        return redirect("day", shoot.pk, day.pk)
    return _shown(request, shoot, day, whole_number(request.POST.get("setup", "")))
