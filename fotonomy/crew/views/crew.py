"""Who is in the crew: people by name, links, and sending them out again. The owner's alone."""

from typing import Any

from django.contrib import messages
from django.contrib.auth.decorators import login_required
from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.utils import timezone
from django.utils.dateparse import parse_date
from django.views.decorators.http import require_GET, require_POST

from fotonomy.core.errors import RuleError
from fotonomy.crew.presenters.crew import GIVEN, crew_view
from fotonomy.shoots.editing.forms import sentence
from fotonomy.shoots.models import Role, Shoot
from fotonomy.shoots.services import crew as services
from fotonomy.shoots.views.get_or_404 import handle_gone, shoot_for
from fotonomy.web.qr import qr_svg


@login_required
@require_GET
@handle_gone
def crew(request: HttpRequest, shoot_id: int) -> HttpResponse:
    """The crew with its links."""
    return _page(request, shoot_for(request, shoot_id))


def _page(request: HttpRequest, shoot: Shoot, errors: dict[str, str] | None = None) -> HttpResponse:
    days = [day.date for day in shoot.days_by_id.values()]
    context: dict[str, Any] = {
        "shoot": shoot, "v": crew_view(shoot, timezone.now()), "errors": errors or {},
        "given": GIVEN, "typed": request.POST, "role": request.POST.get("role", Role.LOGS),
        "last_day": request.POST.get("last_day", max(*days, services.today_of(shoot)).isoformat()),
    }  # fmt: skip
    return render(request, "crew/crew.html", context, status=422 if errors else 200)


@login_required
@require_POST
@handle_gone
def crew_name(request: HttpRequest, shoot_id: int) -> HttpResponse:
    """Let a person with an account in."""
    shoot = shoot_for(request, shoot_id)
    try:
        made = services.name_member(
            shoot, request.POST.get("name", ""), request.POST.get("role", "")
        )
    except RuleError as error:
        return _page(request, shoot, {error.field: f"{sentence(error.rule)}."})
    messages.success(request, f"{made.user.get_username()} {made.role} this shoot from now on.")
    return redirect("crew", shoot.pk)


@login_required
@require_POST
@handle_gone
def crew_link(request: HttpRequest, shoot_id: int) -> HttpResponse:
    """A new link, shown with its drawing."""
    shoot = shoot_for(request, shoot_id)
    text = request.POST.get("last_day", "")
    try:
        last_day = parse_date(text) if len(text) < 20 else None
    except ValueError:
        last_day = None
    try:
        made = services.make_link(
            shoot, request.POST.get("role", ""), last_day, request.POST.get("note", "").strip()
        )
    except RuleError as error:
        return _page(request, shoot, {f"link_{error.field}": f"{sentence(error.rule)}."})
    return redirect("crew-qr", shoot.pk, made.pk)


@login_required
@require_GET
@handle_gone
def crew_qr(request: HttpRequest, shoot_id: int, link_id: int) -> HttpResponse:
    """A link as text and as a drawing for a phone."""
    shoot = shoot_for(request, shoot_id)
    link = get_object_or_404(shoot.crew_links, pk=link_id)
    address = request.build_absolute_uri(reverse("join", args=[link.key]))
    context = {
        "shoot": shoot, "link": link, "address": address,
        "closed": link.why_closed(services.today_of(shoot)),
        "drawing": qr_svg(address, f"A way into {shoot.name}, for a phone to read"),
    }  # fmt: skip
    return render(request, "crew/link.html", context)


@login_required
@require_POST
@handle_gone
def crew_withdraw(request: HttpRequest, shoot_id: int, sort: str, which_id: int) -> HttpResponse:
    """Close a link, or the way of one person."""
    shoot = shoot_for(request, shoot_id)
    rows: Any = shoot.crew_links if sort == "link" else shoot.members
    found = get_object_or_404(rows, pk=which_id)
    link_too = request.POST.get("link_too") == "1"
    services.withdraw(found, link_too)
    name = found.user.get_username() if sort != "link" else str(found)
    closed = " The link they came by is closed." if link_too else ""
    messages.success(request, f"{name}: withdrawn.{closed} What was logged stays.")
    return redirect("crew", shoot.pk)


@login_required
@require_POST
@handle_gone
def crew_again(request: HttpRequest, shoot_id: int, which_id: int) -> HttpResponse:
    """Let somebody back in who was withdrawn."""
    shoot = shoot_for(request, shoot_id)
    found = get_object_or_404(shoot.members, pk=which_id)
    services.let_in_again(found)
    closed = found.why_closed(services.today_of(shoot))
    more = f", but their link {closed}: give them another" if closed else ""
    messages.success(request, f"{found.user.get_username()} is let in again{more}.")
    return redirect("crew", shoot.pk)


@login_required
@require_POST
@handle_gone
def crew_remove(request: HttpRequest, shoot_id: int, which_id: int) -> HttpResponse:
    """Remove somebody from the list who was withdrawn."""
    shoot = shoot_for(request, shoot_id)
    found = get_object_or_404(shoot.members, pk=which_id)
    name = found.user.get_username()
    try:
        services.remove(found)
    except RuleError as error:
        messages.error(request, f"{name}: {error.rule}.")
    else:
        messages.success(request, f"{name} is removed. What they logged keeps their name.")
    return redirect("crew", shoot.pk)
