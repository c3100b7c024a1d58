"""What takes teach, and the limits moved by one press where they say so."""

from django.contrib import messages
from django.contrib.auth.decorators import login_required
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_GET, require_POST

from fotonomy.core.notation.reading import whole_number
from fotonomy.core.spec.intent import Handheld
from fotonomy.shoots.views.get_or_404 import handle_gone, made_before, shoot_for
from fotonomy.takes.kit_suggestions import take_ceiling, take_method
from fotonomy.takes.presenters.kit_suggestions import teaching_view
from fotonomy.takes.views.actual import size_of


@login_required
@require_GET
@handle_gone
def teaching_page(request: HttpRequest, shoot_id: int) -> HttpResponse:
    """Counts with their ranges, and offers."""
    shoot = shoot_for(request, shoot_id)
    view = teaching_view(shoot, size_of(request))
    return render(request, "takes/teaching.html", {"shoot": shoot, "v": view})


@login_required
@require_POST
@handle_gone
def teaching_take(request: HttpRequest, shoot_id: int) -> HttpResponse:
    """Take an offer as it stands at this moment, or a method of the hand-held limit."""
    shoot = shoot_for(request, shoot_id)
    sort, key = request.POST.get("sort"), request.POST.get("key", "")
    if made_before(request, shoot):
        return redirect("teaching", shoot.pk)
    pk = whole_number(key)
    if sort == "ceiling" and pk is not None:
        offer = take_ceiling(shoot, pk)
        if offer is None:
            messages.error(request, "The takes do not speak for that any more: nothing was moved.")
        else:
            messages.success(
                request,
                f"The ISO ceiling of {offer.body} is {offer.offered} now. Undo stands in the kit.",
            )
    elif sort == "method" and key in list(Handheld):
        take_method(shoot, Handheld(key))
        messages.success(request, f"Held by hand this shoot goes by {Handheld(key).label} now.")
    else:
        messages.error(request, "That is no offer.")
    return redirect("teaching", shoot.pk)
