"""Pictures of a setup, those of them in a row side by side, and the choice of the keeper."""

from typing import Any

from django.contrib import messages
from django.contrib.auth.decorators import login_required
from django.db.models import Case, IntegerField, Value, When
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.utils.http import urlencode
from django.views.decorators.http import require_GET, require_POST

from fotonomy.core.notation.reading import whole_number
from fotonomy.field.models import Take, TakePicture
from fotonomy.field.pictures import rate_pictures
from fotonomy.shoots.mapping import spec_of
from fotonomy.shoots.models import Shoot
from fotonomy.shoots.packed_kit import packed_kit
from fotonomy.shoots.views.get_or_404 import handle_gone, made_before, setup_in, shoot_for
from fotonomy.takes.presenters.contact_sheet import KEEPER, MOST, row_frame, row_view
from fotonomy.takes.presenters.setup_takes import setup_view


@login_required
@require_GET
@handle_gone
def setup_takes(request: HttpRequest, shoot_id: int, setup_id: int) -> HttpResponse:
    """One setup: planned, by the camera and by the log, its light, and its pictures to choose."""
    shoot = shoot_for(request, shoot_id)
    row = setup_in(shoot, str(setup_id))
    if row is None:
        messages.error(request, "This setup was deleted.")
        return redirect("actual", shoot.pk)
    view = setup_view(shoot, row, spec_of(row, packed_kit(shoot)))
    return render(request, "takes/setup.html", {"shoot": shoot, "setup": row, "v": view})


def chosen(shoot: Shoot, asked: list[str]) -> list[TakePicture]:
    """Pictures of a shoot by their ids, in the order that was asked for, those of a take only."""
    keys = [key for one in asked if (key := whole_number(one)) is not None]
    order = Case(*[When(pk=key, then=Value(at)) for at, key in enumerate(keys)],
                 output_field=IntegerField()) if keys else "pk"  # fmt: skip
    rows = TakePicture.objects.filter(shoot=shoot, pk__in=keys).exclude(take_uid="")
    return list(rows.order_by(order))


@login_required
@require_GET
@handle_gone
def row_page(request: HttpRequest, shoot_id: int) -> HttpResponse:
    """Up to eight pictures side by side."""
    shoot = shoot_for(request, shoot_id)
    rows = chosen(shoot, request.GET.getlist("p"))
    takes = {take.uid: take for take in Take.objects.filter(shoot=shoot)}
    keys = {takes[row.take_uid].setup_key for row in rows if row.take_uid in takes}
    setup = setup_in(shoot, str(next(iter(keys)))) if keys else None
    if len(rows) < 2 or setup is None:
        messages.error(request, f"Choose two to {MOST} pictures to lay side by side.")
        return redirect("actual", shoot.pk)
    left_out = len(rows) - MOST
    rows = rows[:MOST]
    width = min(480 if min(row.width for row in rows) < 1600 else 1600, *(r.width for r in rows))
    packed = packed_kit(shoot)
    specs: dict[int, Any] = {}
    frames = []
    for row in rows:
        take = takes[row.take_uid]
        if take.setup_key not in specs:
            own = setup_in(shoot, str(take.setup_key))
            specs[take.setup_key] = None if own is None else spec_of(own, packed)
        spec = specs[take.setup_key]
        if spec is not None:
            frames.append(row_frame(spec, take, row, width))
    context = {
        "shoot": shoot, "setup": setup, "v": row_view(frames), "left_out": max(0, left_out),
        "mixed": len(keys) > 1, "chosen": [row.pk for row in rows],
    }  # fmt: skip
    return render(request, "takes/contact_sheet.html", context)


@login_required
@require_POST
@handle_gone
def row_keep(request: HttpRequest, shoot_id: int) -> HttpResponse:
    """Keep one of a row; the others are no keepers then. One step to undo."""
    shoot = shoot_for(request, shoot_id)
    rows = chosen(shoot, request.POST.getlist("p"))
    key = whole_number(request.POST.get("keep", ""))
    if not made_before(request, shoot):
        rate_pictures(shoot, {row.pk: KEEPER if row.pk == key else 0 for row in rows})
        name = next((str(row) for row in rows if row.pk == key), "")
        messages.success(request, f"{name} is the keeper." if name else "None is the keeper now.")
    query = urlencode({"p": [row.pk for row in rows]}, doseq=True)
    return redirect(f"{reverse('row', args=[shoot.pk])}?{query}")
