"""The light is not as planned: what it reads now, and what to do about it."""

from dataclasses import replace
from datetime import UTC
from typing import Any
from urllib.parse import urlencode

from django.contrib import messages
from django.contrib.auth.decorators import login_required
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.utils import timezone

from fotonomy.core.day.next_light_window import light_again
from fotonomy.core.errors import RuleError
from fotonomy.core.field.relight import Relit, read_light, relit
from fotonomy.core.notation import writing as n
from fotonomy.core.photometry.named_light import NAMED_LIGHTS
from fotonomy.core.sky.light import LightReading
from fotonomy.days.planning import PlannedDay, planned_day_of
from fotonomy.field.intake import IntakeError, Sent, light_in
from fotonomy.field.presenters.card import card_view
from fotonomy.shoots import history
from fotonomy.shoots.editing.forms import sentence
from fotonomy.shoots.views.get_or_404 import handle_gone, made_before, shoot_for

# What is offered as a press, in stops from the planned light, as people say them.
STEPS = tuple(
    (text, text.replace(" 1/3", "⅓").replace("1/3", "⅓").replace("2/3", "⅔"))
    for text in ("−3", "−2", "−1 1/3", "−1", "−2/3", "−1/3", "+1/3", "+2/3", "+1", "+1 1/3", "+2",
                 "+3")
)  # fmt: skip
# What a step is called in words of light, for those who have no meter.
NAMES = tuple(light.name for light in NAMED_LIGHTS)


@login_required
@handle_gone
def light(request: HttpRequest, shoot_id: int, setup_id: int) -> HttpResponse:
    """GET shows the ways for what was read, POST uses one of them."""
    shoot = shoot_for(request, shoot_id)
    planned = planned_day_of(shoot, setup_id)
    spec = planned.spec(setup_id)
    sent: Any = request.POST if request.method == "POST" else request.GET
    text = str(sent.get("read", "")).strip()[:80]
    found, error = None, ""
    if text:
        try:
            found = relit(spec, read_light(spec, text))
        except RuleError as wrong:
            error = sentence(wrong.rule)
    if request.method == "POST" and found is not None:
        try:
            return _used(request, planned, setup_id, text, str(sent.get("way", "")))
        except IntakeError as wrong:
            error = sentence(str(wrong))
    context = {
        "shoot": shoot, "day": planned.day, "read": text, "error": error, "steps": STEPS,
        "names": NAMES, "found": found, "others": len(_later_here(planned, setup_id)),
        "again": _again(planned, setup_id, found) if found is not None else "",
        "seen": history.seen(shoot), "said": _said(found) if found is not None else "",
        "v": card_view(planned, setup_id, list(shoot.takes.all()), timezone.now()),
    }  # fmt: skip
    return render(request, "field/light.html", context, status=422 if error else 200)


def _said(found: Relit) -> str:
    moved = found.moved_stops
    side = "more" if moved > 0 else "less"
    planned, now = (n.format_number(ev, 1) for ev in (found.planned_ev100, found.ev100))
    if abs(moved) < 0.05:
        return f"Planned EV {planned}, as it reads now"
    return f"Planned EV {planned}, now {now}: {n.format_stops(abs(moved))} {side}"


def _later_here(planned: PlannedDay, setup_id: int) -> tuple[int, ...]:
    """Setups at the same place after this one, lit by the same sky."""
    row = planned.rows[setup_id]
    if row.planned_time is None:
        return ()
    order = planned.agenda
    later = (one for one in order[order.index(row) + 1 :] if one.planned_time)
    return tuple(
        one.pk for one in later
        if one.place_id == row.place_id and not planned.why_broken(one.pk)
        and not planned.spec(one.pk).lamps
    )  # fmt: skip


def _again(planned: PlannedDay, setup_id: int, found: Relit) -> str:
    """When the planned light is there again today, by the estimate bent through what was read.

    Nothing on any other day: what is read now says nothing of its light.
    """
    row = planned.rows[setup_id]
    known = planned.light(row.place_id)
    now = timezone.now().astimezone(UTC)
    if known is None or found.fits or not known.sky.covers(now) or planned.spec(setup_id).lamps:
        return ""
    reading = LightReading.under(known.sky, now, found.ev100)
    bent = replace(known, readings=(*known.readings, reading))
    until = max(planned.plan.hours.ends, now)
    window = light_again(bent, found.planned_ev100, now, until)
    if window is None:
        return "Today it does not come back to the planned light within the working hours"
    clock = planned.clock
    return f"Come back {clock(window.starts)} to {clock(window.ends)}: the planned light by then"


def _used(
    request: HttpRequest, planned: PlannedDay, setup_id: int, text: str, words: str
) -> HttpResponse:
    """Keep what was read, with a way by its words, or only the light where none is named.

    Raises IntakeError.
    """
    if made_before(request, planned.shoot):
        return redirect("field-card", planned.shoot.pk, setup_id)
    others = _later_here(planned, setup_id) if request.POST.get("others") == "1" else ()
    found = light_in(planned.shoot, setup_id, Sent({"read": text, "way": words}), others)
    name = "The light" if found.row is None else found.row.code or found.row
    told = f"{name}: {found.way.words if found.way else 'the light is kept, the settings stay'}."
    if found.moved:
        told += f" The light of {found.moved} later here moves with it."
    if found.said:
        messages.warning(request, f"{sentence(found.said)}.")
        again = reverse("field-light", args=[planned.shoot.pk, setup_id])
        if planned.shoot.actor.plans and found.ev100 is not None:
            return redirect(f"{again}?{urlencode({'read': f'EV {found.ev100:.2f}'})}")
        return redirect("field-card", planned.shoot.pk, setup_id)
    messages.success(request, told)
    return redirect("field-card", planned.shoot.pk, setup_id)
