"""The way in by a link: as oneself, or as a guest under a name."""

from django.contrib import messages
from django.contrib.auth import login
from django.contrib.auth.models import User
from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.cache import never_cache

from fotonomy.core.errors import RuleError
from fotonomy.crew.guests import GUEST_SESSION
from fotonomy.shoots.editing.forms import sentence
from fotonomy.shoots.models import CrewLink
from fotonomy.shoots.services import crew as services

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
    if request.method == "POST" and not closed:
        try:
            member = services.join(link, person, request.POST.get("name", ""))
        except RuleError as wrong:
            error = f"{sentence(wrong.rule)}."
        else:
            if person is None:
                login(request, member.user, backend=MODEL_BACKEND)
                request.session[GUEST_SESSION] = True
            messages.success(request, f"You are in the crew of {shoot.name}.")
            return redirect("field", shoot.pk)
    context = {
        "link": link, "of": shoot, "closed": closed, "error": error,
        "name": request.POST.get("name", ""),
    }  # fmt: skip
    status = 410 if closed else 422 if error else 200
    return render(request, "crew/join.html", context, status=status)
