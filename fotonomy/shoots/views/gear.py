"""Pages of the kit that reach into the shoots: taking gear out, and packing for a shoot."""

from typing import Any

from django import forms
from django.contrib import messages
from django.contrib.auth.decorators import login_required
from django.http import HttpRequest, HttpResponse, QueryDict
from django.shortcuts import redirect, render
from django.views.decorators.http import require_POST

from fotonomy.kit.current_user import current_user
from fotonomy.kit.history import recorded
from fotonomy.kit.views.kit import SORT_NAMES, own_gear
from fotonomy.shoots import history
from fotonomy.shoots.models import Shoot
from fotonomy.shoots.presenters.packing import packing_view
from fotonomy.shoots.services.packing import SORTS, save_packing, texts_of_packing
from fotonomy.shoots.services.replace_gear import take_out, use_of
from fotonomy.shoots.views.get_or_404 import handle_gone, shoot_for, shoot_in_turn
from fotonomy.web.whole_forms import Wording, merged_data, shown_text


@login_required
@require_POST
def gear_delete(request: HttpRequest, sort: str, gear_id: int) -> HttpResponse:
    """Take a thing out of the kit; where a setup uses it, first ask what replaces it."""
    gear = own_gear(request, sort, gear_id)
    use, name = use_of(gear), str(gear)
    chosen = request.POST.get("replacement", "")
    replacement = next((other for other in use.replacements if str(other.pk) == chosen), None)
    decided = replacement is not None or (use.optional and chosen == "none")
    if use.setups and not decided:
        context = {"gear": gear, "sort": sort, "sort_name": SORT_NAMES[sort], "use": use}
        context["asked"] = "replacement" in request.POST
        return render(request, "shoots/replace.html", context, status=409)
    with recorded(current_user(request), f"{name} taken out"):
        changed = take_out(gear, replacement)
    where = f", {replacement or 'nothing'} in its place in {changed} setups" if changed else ""
    messages.success(request, f"{name} taken out of the kit{where}.")
    return redirect("kit")


@login_required
@handle_gone
def packing(request: HttpRequest, shoot_id: int) -> HttpResponse:
    """What a shoot takes along, and the list to pack from."""
    shoot = shoot_for(request, shoot_id)
    if request.method == "POST":
        with shoot_in_turn(request, shoot_id) as shoot:
            save_packing(shoot, _packing_sent(request, shoot))
        messages.success(request, "Packing list kept.")
        return redirect("packing", shoot.pk)
    context = {
        "shoot": shoot, "view": packing_view(shoot), "shown": shown_text(texts_of_packing(shoot)),
        "undo_step": history.packing_step(shoot, undone=False),
        "redo_step": history.packing_step(shoot, undone=True),
    }  # fmt: skip
    return render(request, "shoots/packing.html", context)


def _packing_sent(request: HttpRequest, shoot: Shoot) -> QueryDict:
    """What was ticked, with what somebody else ticked meanwhile."""
    fields: dict[str, Any] = {"packs_all": forms.ChoiceField(
        label="It takes", choices=[("1", "the whole kit"), ("0", "only what is ticked")]
    )}  # fmt: skip
    for name, title, model in SORTS:
        rows = model._default_manager.filter(owner=shoot.owner)
        fields[name] = forms.MultipleChoiceField(
            label=title, choices=list(rows.values_list("pk", "name"))
        )
    ticked = {name for name, _, _ in SORTS}
    return merged_data(request, texts_of_packing(shoot), Wording(fields), ticked)
