"""The way in by a link: as oneself, or as a guest under a name."""

from django.contrib import messages
from django.contrib.auth import login
from django.contrib.auth.models import User
from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.cache import never_cache

from fotonomy.core.errors import RuleError
from fotonomy.core.notation.reading import whole_number
from fotonomy.crew.guests import GUEST_SESSION
from fotonomy.shoots.editing.forms import sentence
from fotonomy.shoots.models import CrewLink
from fotonomy.shoots.services import crew as services

GUEST_COOKIE, A_YEAR_S = "crew-guest", 366 * 86_400
MODEL_BACKEND = "django.contrib.auth.backends.ModelBackend"


@never_cache
def join_page(request: HttpRequest, key: str) -> HttpResponse:
    """What a link opens, and joining by it."""
    link = get_object_or_404(CrewLink.objects.select_related("shoot", "shoot__owner"), key=key)
    shoot = link.shoot
    person = request.user if isinstance(request.user, User) else None
    if person is not None and person.pk == shoot.owner_id:
        return redirect("crew", shoot.pk)
    closed, error = link.why_closed(services.today_of(shoot)), ""
    if person is None and services.is_withdrawn(shoot, _guest_here(request)):
        error = f"{sentence(services.WITHDRAWN.format(owner=shoot.owner))}."
    if request.method == "POST" and not closed and not error:
        try:
            member = services.join(link, person, request.POST.get("name", ""))
        except RuleError as wrong:
            error = f"{sentence(wrong.rule)}."
        else:
            if person is None:
                login(request, member.user, backend=MODEL_BACKEND)
                request.session[GUEST_SESSION] = True
            messages.success(request, f"You are in the crew of {shoot.name}.")
            answer = redirect("field", shoot.pk)
            if person is None:
                answer.set_signed_cookie(
                    GUEST_COOKIE, str(member.user_id), max_age=A_YEAR_S, httponly=True,
                    samesite="Lax", secure=request.is_secure(),
                )  # fmt: skip
            return answer
    context = {
        "link": link, "of": shoot, "closed": closed, "error": error,
        "name": request.POST.get("name", ""),
    }  # fmt: skip
    status = 410 if closed else 422 if error else 200
    return render(request, "crew/join.html", context, status=status)


def _guest_here(request: HttpRequest) -> int:
    """Which guest this browser was last; 0 for none. Another name is no way back in."""
    found = whole_number(str(request.get_signed_cookie(GUEST_COOKIE, default="", max_age=A_YEAR_S)))
    return found or 0
