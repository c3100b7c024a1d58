"""The list of a day and the card of a setup."""

from django.contrib.auth.decorators import login_required
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.utils import timezone

from fotonomy.days.planning import planned_day, planned_day_of, zone_of
from fotonomy.field.presenters.card import card_view, day_lines
from fotonomy.shoots import history
from fotonomy.shoots.mapping import UnplannableError
from fotonomy.shoots.models import Shoot
from fotonomy.shoots.views.get_or_404 import day_in, handle_gone, shoot_for, unplannable


@login_required
@handle_gone
def field(request: HttpRequest, shoot_id: int) -> HttpResponse:
    """The day at hand: today's by the clock of the place, else the next, else the first."""
    shoot = shoot_for(request, shoot_id)
    today = timezone.localdate(timezone=zone_of(shoot))
    days = list(shoot.days_by_id.values())
    at_hand = next((day for day in days if day.date >= today), days[0])
    return redirect("field-day", shoot.pk, at_hand.pk)


@login_required
@handle_gone
def field_day(request: HttpRequest, shoot_id: int, day_id: int) -> HttpResponse:
    """The setups of a day with what is done."""
    shoot = shoot_for(request, shoot_id)
    day = day_in(shoot, day_id)
    planned = planned_day(shoot, day)
    context = {
        "shoot": shoot, "day": day, "days": list(shoot.days_by_id.values()),
        "lines": day_lines(planned, list(shoot.takes.all())), "seen": history.seen(shoot),
    }  # fmt: skip
    return render(request, "field/day.html", context)


@login_required
@handle_gone
def card(request: HttpRequest, shoot_id: int, setup_id: int) -> HttpResponse:
    """What to set, what to do before pressing, and what time there is."""
    shoot = shoot_for(request, shoot_id)
    planned = planned_day_of(shoot, setup_id)
    if why := planned.why_broken(setup_id):
        return _broken(request, shoot, setup_id, why)
    view = card_view(planned, setup_id, list(shoot.takes.all()), timezone.now())
    context = {
        "shoot": shoot, "day": planned.day, "v": view, "seen": history.seen(shoot),
    }  # fmt: skip
    big = request.GET.get("big") == "1"
    return render(request, "field/big.html" if big else "field/card.html", context)


def _broken(request: HttpRequest, shoot: Shoot, setup_id: int, why: str) -> HttpResponse:
    field_name, _, rule = why.partition(" ")
    return unplannable(request, shoot, str(setup_id), UnplannableError(field_name, rule))
