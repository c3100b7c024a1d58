"""The kit: one page to see it, one form a thing. Every look-up goes through the owner."""

from django.contrib import messages
from django.contrib.auth.decorators import login_required
from django.db.models import Count
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_POST

from fotonomy.kit.forms import FORMS, MODELS
from fotonomy.kit.models import Body, Filter, Gear, Lens, Profile
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
    owned = {"owner": request.user}
    used = Count("setups", distinct=True)
    bodies = Body.objects.filter(**owned).prefetch_related("profiles").annotate(used=used)
    sections = [
        ("body", "Camera bodies", "a body", bodies, body_words),
        ("lens", "Lenses", "a lens", Lens.objects.filter(**owned).annotate(used=used), lens_words),
        ("filter", "Filters", "a filter",
         Filter.objects.filter(**owned).annotate(used=used), filter_words),
        ("profile", "Profiles", "a profile",
         Profile.objects.filter(**owned).annotate(used=used), profile_words),
    ]  # fmt: skip
    shown = [
        {"sort": sort, "title": title, "one": one, "items": [(row, words(row)) for row in rows]}
        for sort, title, one, rows, words in sections
    ]
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
