"""A burst that came home: which frames to keep, and what fewer a second would have done."""

from django.contrib.auth.decorators import login_required
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_POST

from fotonomy.core.notation.reading import whole_number
from fotonomy.field.pictures import rate_pictures
from fotonomy.shoots.views.get_or_404 import handle_gone, made_before, shoot_for
from fotonomy.takes.presenters.burst import burst_view
from fotonomy.takes.presenters.contact_sheet import KEEPER
from fotonomy.takes.runs import frames_of
from fotonomy.takes.views.run import frames_at, take_of


@login_required
@handle_gone
def burst_page(request: HttpRequest, shoot_id: int, take_id: int) -> HttpResponse:
    """The frames of a burst, those that differ marked."""
    shoot = shoot_for(request, shoot_id)
    take = take_of(shoot, take_id)
    known = frames_at(request, take, "burst")
    if known is None:
        return redirect("take-edit", shoot.pk, take.pk)
    context = {"shoot": shoot, "take": take, "v": burst_view(*known)}
    return render(request, "takes/burst.html", context)


@login_required
@require_POST
@handle_gone
def burst_keep(request: HttpRequest, shoot_id: int, take_id: int) -> HttpResponse:
    """Choose the keeper of a burst; one step to undo."""
    shoot = shoot_for(request, shoot_id)
    take = take_of(shoot, take_id)
    key = whole_number(request.POST.get("keep", ""))
    rows = frames_of(take)
    if not made_before(request, shoot):
        rate_pictures(shoot, {row.pk: KEEPER if row.pk == key else 0 for row in rows})
    return redirect("burst", shoot.pk, take.pk)
