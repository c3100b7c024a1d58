"""Pictures of takes, at the spot: added, looked at, removed."""

import uuid
from typing import Any

from django.contrib import messages
from django.contrib.auth.decorators import login_required
from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, redirect
from django.views.decorators.http import require_GET, require_POST

from fotonomy.core.errors import RuleError
from fotonomy.exchange.errors import ExchangeError
from fotonomy.exchange.pictures import LARGEST_PICTURE_BYTES, read_preview
from fotonomy.field.models import PictureData, Take, TakePicture
from fotonomy.field.pictures import drop_picture, keep_picture, look_at
from fotonomy.kit.quotas import QuotaError
from fotonomy.shoots.editing.forms import sentence
from fotonomy.shoots.models import Shoot
from fotonomy.shoots.views.get_or_404 import handle_gone, made_before, shoot_for


def keep_upload(take: Take, upload: Any, uid: str) -> str:
    """Keep an uploaded picture with a take; why it was not, empty where it was."""
    name = upload.name or "picture"
    try:
        raw = upload.read(LARGEST_PICTURE_BYTES + 1)
        found = read_preview(raw, name)
        keep_picture(take, uid or str(uuid.uuid4()), name, found, look_at(raw, name))
    except ExchangeError as error:
        return f"{error.place}: {error.problem}"
    except RuleError as error:
        return sentence(error.rule)
    except QuotaError as error:
        return str(error)
    return ""


def take_in(shoot: Shoot, **which: Any) -> Take:
    """A take of a shoot; 404 where there is none."""
    row = get_object_or_404(Take, shoot=shoot, **which)
    row.shoot = shoot
    return row


@login_required
@require_POST
@handle_gone
def picture_add(request: HttpRequest, shoot_id: int, take_uid: str) -> HttpResponse:
    """Add a picture to a take that is logged; a script gets JSON, a form the page of the take."""
    shoot = shoot_for(request, shoot_id)
    take = take_in(shoot, uid=take_uid)
    upload = request.FILES.get("picture")
    error = "Choose a picture first" if upload is None else keep_upload(
        take, upload, request.POST.get("uid", "")[:36]
    )  # fmt: skip
    if not request.accepts("text/html"):
        return JsonResponse({"kept": not error, "words": error}, status=422 if error else 200)
    if error:
        messages.error(request, f"Not kept. {error}.")
    else:
        messages.success(request, "The picture is kept with the take.")
    return redirect("take-edit", shoot.pk, take.pk)


@login_required
@require_GET
@handle_gone
def picture(request: HttpRequest, shoot_id: int, picture_id: int) -> HttpResponse:
    """The preview of a picture."""
    shoot = shoot_for(request, shoot_id)
    row = get_object_or_404(TakePicture, shoot=shoot, pk=picture_id)
    data = PictureData.objects.filter(shoot=shoot, sha256=row.sha256).first()
    if data is None:
        raise Http404
    answer = HttpResponse(bytes(data.jpeg), content_type="image/jpeg")
    answer["Cache-Control"] = "private, max-age=86400, immutable"
    return answer


@login_required
@require_POST
@handle_gone
def picture_drop(request: HttpRequest, shoot_id: int, picture_id: int) -> HttpResponse:
    """Remove a picture from its take; undo brings it back."""
    shoot = shoot_for(request, shoot_id)
    row = get_object_or_404(TakePicture, shoot=shoot, pk=picture_id)
    row.shoot = shoot
    take = take_in(shoot, uid=row.take_uid)
    if not made_before(request, shoot):
        drop_picture(row)
        messages.success(request, "The picture is removed; undo brings it back.")
    return redirect("take-edit", shoot.pk, take.pk)
