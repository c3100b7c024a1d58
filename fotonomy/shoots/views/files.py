"""Files of shoots, setups and plans, in and out."""

from django.contrib import messages
from django.contrib.auth.decorators import login_required
from django.db import transaction
from django.http import HttpRequest, HttpResponse
from django.http.response import HttpResponseBase
from django.shortcuts import redirect
from django.utils.text import slugify
from django.views.decorators.http import require_POST

from fotonomy.core.plan import plan
from fotonomy.exchange.errors import ExchangeError
from fotonomy.exchange.plan_json import plan_to_data
from fotonomy.exchange.schemas import LARGEST_FILE_BYTES, write_json
from fotonomy.exchange.setup_json import read_setup, setup_to_data
from fotonomy.exchange.shoot_json import LARGEST_SHOOT_BYTES, read_shoot, shoot_to_json
from fotonomy.kit.current_user import current_user
from fotonomy.kit.history import recorded
from fotonomy.kit.quotas import QuotaError, room_for_bytes
from fotonomy.shoots.mapping import file_of, spec_of
from fotonomy.shoots.packed_kit import packed_kit
from fotonomy.shoots.services import setups as services
from fotonomy.shoots.shoot_data import shoot_from_data, shoot_to_data
from fotonomy.shoots.views.get_or_404 import (
    back_to,
    handle_gone,
    setup_for,
    shoot_for,
)
from fotonomy.web.long_work import one_at_a_time


@login_required
@require_POST
@handle_gone
def setup_import(request: HttpRequest, shoot_id: int) -> HttpResponse:
    """A setup file becomes a new setup; a damaged one changes nothing."""
    shoot = shoot_for(request, shoot_id)
    upload = request.FILES.get("file")
    if upload is None:
        messages.error(request, "Choose a setup file first.")
        return redirect(back_to(request, shoot))
    try:
        given = read_setup(upload.read(LARGEST_FILE_BYTES + 1))
        # Gear that came along is a step of the kit.
        with recorded(current_user(request), f"{upload.name} imported"):
            row = services.import_setup(shoot, current_user(request), given)
            room_for_bytes(current_user(request))
    except ExchangeError as error:
        messages.error(request, f"{upload.name} was not imported. {error.place}: {error.problem}.")
        return redirect(back_to(request, shoot))
    messages.success(request, f"{row} imported.")
    return redirect(row)


def _json(data: object, name: str) -> HttpResponse:
    response = HttpResponse(write_json(data), content_type="application/json")
    response["Content-Disposition"] = f'attachment; filename="{name}.json"'
    return response


@login_required
@handle_gone
def setup_export(request: HttpRequest, shoot_id: int, setup_id: int) -> HttpResponse:
    """The setup with its gear as a file."""
    row = setup_for(request, shoot_id, setup_id)
    name = slugify(str(row)) or f"setup-{row.pk}"
    return _json(setup_to_data(file_of(row, packed_kit(row.shoot))), name)


@login_required
@handle_gone
def plan_export(request: HttpRequest, shoot_id: int, setup_id: int) -> HttpResponse:
    """The plan of the setup as a file."""
    row = setup_for(request, shoot_id, setup_id)
    name = slugify(f"{row} plan") or f"plan-{row.pk}"
    return _json(plan_to_data(plan(spec_of(row, packed_kit(row.shoot)))), name)


@login_required
@handle_gone
@one_at_a_time
def shoot_export(request: HttpRequest, shoot_id: int) -> HttpResponseBase:
    """The whole shoot as one file: places, days, scenes, weather, setups with their gear."""
    shoot = shoot_for(request, shoot_id)
    name = slugify(shoot.name) or f"shoot-{shoot.pk}"
    return _json(shoot_to_json(shoot_to_data(shoot)), f"{name}-shoot")


@login_required
@require_POST
@one_at_a_time
def shoot_import(request: HttpRequest) -> HttpResponseBase:
    """A shoot file becomes a new shoot; a damaged one changes nothing."""
    upload, owner = request.FILES.get("file"), current_user(request)
    if upload is None:
        messages.error(request, "Choose a shoot file first.")
        return redirect("shoot-list")
    try:
        given = read_shoot(upload.read(LARGEST_SHOOT_BYTES + 1))
        with transaction.atomic(), recorded(owner, f"{upload.name} imported"):
            shoot = shoot_from_data(owner, given, "$")
            room_for_bytes(owner)
    except ExchangeError as error:
        messages.error(request, f"{upload.name} was not imported. {error.place}: {error.problem}.")
        return redirect("shoot-list")
    except QuotaError as error:
        messages.error(request, f"{upload.name} was not imported. {error}.")
        return redirect("shoot-list")
    messages.success(request, f"{shoot.name} imported, with {len(given.setups)} setups.")
    return redirect("shoot-list")
