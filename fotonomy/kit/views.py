"""The kit: one page to see it, one form a thing. Every look-up goes through the owner."""

from django.contrib import messages
from django.contrib.auth.decorators import login_required
from django.db.models import Count
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_POST

from fotonomy.kit.forms import FORMS, MODELS
from fotonomy.kit.models import Gear
from fotonomy.kit.show import body_words, filter_words, lens_words, profile_words

SORT_NAMES = {
    "body": "camera body", "lens": "lens", "filter": "filter", "profile": "profile",
}  # fmt: skip


def _gear(request: HttpRequest, sort: str, gear_id: int) -> Gear:
    if sort not in MODELS:
        raise Http404
    return get_object_or_404(MODELS[sort], pk=gear_id, owner=request.user)


@login_required
def kit(request: HttpRequest) -> HttpResponse:
    """Everything the person owns."""
    sections = [
        ("body", "Camera bodies", "a body", body_words),
        ("lens", "Lenses", "a lens", lens_words),
        ("filter", "Filters", "a filter", filter_words),
        ("profile", "Profiles", "a profile", profile_words),
    ]
    shown = []
    for sort, title, one, words in sections:
        rows = MODELS[sort].objects.filter(owner=request.user).order_by("name")
        rows = rows.annotate(used=Count("setups", distinct=True))
        items = [(row, words(row)) for row in rows]
        shown.append({"sort": sort, "title": title, "one": one, "items": items})
    return render(request, "kit/index.html", {"sections": shown})


@login_required
def gear_new(request: HttpRequest, sort: str) -> HttpResponse:
    """Add a thing to the kit."""
    if sort not in FORMS:
        raise Http404
    return _form_page(request, sort, None)


@login_required
def gear_edit(request: HttpRequest, sort: str, gear_id: int) -> HttpResponse:
    """Change a thing of the kit."""
    return _form_page(request, sort, _gear(request, sort, gear_id))


def _form_page(request: HttpRequest, sort: str, row: Gear | None) -> HttpResponse:
    form = FORMS[sort](request.POST or None, instance=row, owner=request.user)
    if request.method == "POST" and form.is_valid():
        saved = form.save()
        messages.success(request, f"{saved} kept.")
        return redirect("kit")
    context = {"form": form, "sort": sort, "sort_name": SORT_NAMES[sort], "gear": row}
    status = 422 if request.method == "POST" else 200
    return render(request, "kit/form.html", context, status=status)


@login_required
@require_POST
def gear_delete(request: HttpRequest, sort: str, gear_id: int) -> HttpResponse:
    """Take a thing out of the kit, unless a setup needs it."""
    row = _gear(request, sort, gear_id)
    users = list(row.setups.select_related("shoot")[:4])
    if users:
        where = ", ".join(f"{setup} ({setup.shoot})" for setup in users[:3])
        more = " and others" if len(users) > 3 else ""
        messages.error(request, f"{row} is in use: {where}{more}. Choose another there first.")
        return redirect("gear-edit", sort, row.pk)
    row.delete()
    messages.success(request, f"{row} taken out of the kit.")
    return redirect("kit")
