"""What is done to whole setups: made, copied, deleted, moved, ordered."""

from django.contrib import messages
from django.contrib.auth.decorators import login_required
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_POST

from fotonomy.core.notation.reading import whole_number
from fotonomy.shoots.models import Setup
from fotonomy.shoots.services import setups as services
from fotonomy.shoots.views.get_or_404 import (
    handle_gone,
    history_state,
    setup_for,
    setup_in,
    shoot_for,
)


def _at(row: Setup) -> HttpResponse:
    """To a setup's bench, with the focus on its line of the running order."""
    return redirect(f"{row.get_absolute_url()}#line-{row.pk}")


@login_required
@require_POST
@handle_gone
def setup_new(request: HttpRequest, shoot_id: int) -> HttpResponse:
    """Add a setup and open it; it starts from the one on screen, where there is one."""
    shoot = shoot_for(request, shoot_id)
    try:
        return _at(services.create_setup(shoot, setup_in(shoot, request.POST.get("like", ""))))
    except services.NothingToShootWithError as error:
        messages.error(request, f"Your kit has no {error.missing} yet: add one here first.")
        return redirect("kit")


@login_required
@require_POST
@handle_gone
def setup_copy(request: HttpRequest, shoot_id: int, setup_id: int) -> HttpResponse:
    """Copy a setup and open the copy."""
    return _at(services.copy_setup(setup_for(request, shoot_id, setup_id)))


@login_required
@require_POST
@handle_gone
def setup_delete(request: HttpRequest, shoot_id: int, setup_id: int) -> HttpResponse:
    """Delete a setup; the page then offers to undo."""
    row = setup_for(request, shoot_id, setup_id)
    neighbour = (
        row.shoot.setups.filter(position__gte=row.position).exclude(pk=row.pk).first()
        or row.shoot.setups.exclude(pk=row.pk).last()
    )
    name = str(row)
    services.delete_setup(row)
    messages.success(request, f"{name} deleted.", extra_tags="undo")
    return _at(neighbour) if neighbour else redirect(row.shoot)


@login_required
@require_POST
@handle_gone
def setup_move(request: HttpRequest, shoot_id: int, setup_id: int) -> HttpResponse:
    """Move a setup one place up or down."""
    row = setup_for(request, shoot_id, setup_id)
    services.move_setup(row, -1 if request.POST.get("to") == "up" else 1)
    return _at(row)


@login_required
@require_POST
@handle_gone
def setup_order(request: HttpRequest, shoot_id: int) -> HttpResponse:
    """A whole new order, after a drag."""
    shoot = shoot_for(request, shoot_id)
    sent = map(whole_number, request.POST.getlist("order"))
    wanted = [pk for pk in sent if pk is not None]
    services.order_setups(shoot, wanted)
    context = {"shoot": shoot, "here": request.POST.get("setup", ""), **history_state(shoot)}
    return render(request, "shoots/_steps.html", context)
