"""Pages of shoots: the list, one made, changed, deleted, opened."""

from django.contrib import messages
from django.contrib.auth.decorators import login_required
from django.contrib.auth.models import User
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_POST

from fotonomy.kit.current_user import current_user
from fotonomy.kit.quotas import QuotaError, nearly_full
from fotonomy.shoots.editing.forms import ShootForm
from fotonomy.shoots.models import Shoot
from fotonomy.shoots.presenters.shoots import shoot_lines
from fotonomy.shoots.services.crew import drop_guests_of_nothing
from fotonomy.shoots.services.quotas import uses_of
from fotonomy.shoots.services.shoots import change_shoot, make_shoot
from fotonomy.shoots.services.start import usual_of
from fotonomy.shoots.views.get_or_404 import (
    handle_gone,
    history_state,
    shoot_for,
    shoot_in_turn,
)
from fotonomy.shoots.views.towns import towns_asked
from fotonomy.web.whole_forms import merged_form, shown_text, texts_of


@login_required
def shoot_list(request: HttpRequest) -> HttpResponse:
    """All shoots of the person, newest first."""
    owner = current_user(request)
    context = {"lines": shoot_lines(owner), "nearly_full": nearly_full(uses_of(owner))}
    return render(request, "shoots/list.html", context)


@login_required
def shoot_new(request: HttpRequest) -> HttpResponse:
    """Add a shoot."""
    if (asked := _place_asked(request, None)) is not None:
        return asked
    form = ShootForm(request.POST or None, initial=usual_of(current_user(request)))
    if request.method == "POST" and form.is_valid():
        try:
            return redirect(_made(current_user(request), form))
        except QuotaError as error:
            form.add_error(None, f"{error}.")
    return render(request, "shoots/shoot_form.html", {"form": form, "shoot": None})


def _made(owner: User, form: ShootForm) -> Shoot:
    place = form.of_place()
    return make_shoot(
        owner, date=form.cleaned_data["date"], place_name=place.pop("name"), **form.of_shoot(),
        **place,
    )  # fmt: skip


@login_required
@handle_gone
def shoot_edit(request: HttpRequest, shoot_id: int) -> HttpResponse:
    """Change a shoot's name, date, place or rates."""
    shoot = shoot_for(request, shoot_id)
    if (asked := _place_asked(request, shoot)) is not None:
        return asked
    form = ShootForm(instance=shoot)
    if request.method == "POST":
        with shoot_in_turn(request, shoot_id) as shoot:
            form = merged_form(request, ShootForm, shoot)
            if kept := form.is_valid():
                changed = form.save(commit=False)
                change_shoot(changed, form.cleaned_data["date"], form.of_place())
        if kept:
            return redirect(shoot)
        shoot = shoot_for(request, shoot_id)
    context = {"form": form, "shoot": shoot, "shown": _shown(shoot)}
    return render(request, "shoots/shoot_form.html", context, status=422 if form.is_bound else 200)


def _shown(shoot: Shoot) -> str:
    return shown_text(texts_of(ShootForm(instance=shoot)))


def _place_asked(request: HttpRequest, shoot: Shoot | None) -> HttpResponse | None:
    """The form with towns of the typed name, or with one of them filled in; nothing is saved.

    None where no place was asked for.
    """
    asked = towns_asked(request, "place_name")
    if asked is None:
        return None
    initial = {name: text for name, text in asked.filled.items() if name in _FIELDS}
    context = {
        "shoot": shoot, "form": ShootForm(instance=shoot, initial=initial),
        "searched": asked.searched, "towns": asked.towns,
        "shown": "" if shoot is None else _shown(shoot),
    }  # fmt: skip
    return render(request, "shoots/shoot_form.html", context)


_FIELDS = ShootForm.field_order


@login_required
@require_POST
@handle_gone
def shoot_delete(request: HttpRequest, shoot_id: int) -> HttpResponse:
    """Delete a shoot for good; the page has asked for its name to be ticked off first."""
    shoot = shoot_for(request, shoot_id)
    if request.POST.get("sure") != "1":
        messages.error(request, "Tick the box to delete a shoot: this cannot be undone.")
        return redirect("shoot-edit", shoot.pk)
    shoot.delete()
    drop_guests_of_nothing()
    messages.success(request, f"{shoot.name} deleted.")
    return redirect("shoot-list")


@login_required
@handle_gone
def shoot_open(request: HttpRequest, shoot_id: int) -> HttpResponse:
    """A shoot: its first setup on the bench, or an invitation to plan one."""
    shoot = shoot_for(request, shoot_id)
    first = shoot.setups.first()
    if first is not None:
        return redirect(first)
    return render(request, "shoots/empty.html", {"shoot": shoot, **history_state(shoot)})
