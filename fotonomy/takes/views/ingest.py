"""Stills brought home: imported one by one, matched by the clock, put by hand, dropped."""

from hashlib import sha256
from typing import Any

from django.contrib import messages
from django.contrib.auth.decorators import login_required
from django.db import transaction
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_GET, require_POST

from fotonomy.core.errors import RuleError
from fotonomy.core.notation.reading import whole_number
from fotonomy.exchange.errors import ExchangeError
from fotonomy.exchange.media_headers import MOST_BYTES, Head, Slice, Wanted, read_head
from fotonomy.exchange.notes_csv import read_notes
from fotonomy.exchange.pictures import LARGEST_PICTURE_BYTES, Preview, read_preview
from fotonomy.kit.quotas import QuotaError
from fotonomy.shoots.editing.forms import sentence
from fotonomy.shoots.models import Shoot
from fotonomy.shoots.views.get_or_404 import handle_gone, history_state, made_before, shoot_for
from fotonomy.shoots.write_lock import in_turn
from fotonomy.takes.ingest import (
    COPY_PX,
    drop_unplaced,
    keep_bodies,
    keep_still,
    match_all,
    put_to_takes,
)
from fotonomy.takes.presenters.ingest import home_view, read_offset

# What is unpacked whole, by the ends of names; of anything else the head is read.
STILLS = (".jpg", ".jpeg", ".png", ".tif", ".tiff")


@login_required
@require_GET
@handle_gone
def home_page(request: HttpRequest, shoot_id: int) -> HttpResponse:
    """Cameras with their clocks, and what belongs to no take yet."""
    return _page(request, shoot_for(request, shoot_id))


def _page(request: HttpRequest, shoot: Shoot, errors: dict[str, str] | None = None) -> HttpResponse:
    context = {
        "shoot": shoot, "v": home_view(shoot), "errors": errors or {}, "typed": request.POST,
        **history_state(shoot),
    }  # fmt: skip
    return render(request, "takes/ingest.html", context, status=422 if errors else 200)


@login_required
@require_POST
@handle_gone
def home_add(request: HttpRequest, shoot_id: int) -> HttpResponse:
    """Keep stills: one with an id from a script, or as many as a form sends."""
    shoot = shoot_for(request, shoot_id)
    refused, kept = [], 0
    for upload in request.FILES.getlist("still"):
        name = upload.name or "picture"
        try:
            raw = upload.read(LARGEST_PICTURE_BYTES + 1)
            kept += _take_in(shoot, raw, name, request.POST.get("uid", "")[:36])
        except ExchangeError as error:
            refused.append(f"{error.place}: {error.problem}")
        except RuleError as error:
            refused.append(f"{name}: {sentence(error.rule)}")
        except QuotaError as error:
            refused.append(f"{name}: {error}")
    if not request.accepts("text/html"):
        words = refused[0] if refused else ""
        return JsonResponse({"kept": kept, "words": words}, status=422 if refused else 200)
    for words in refused[:5]:
        messages.error(request, f"Not taken. {words}.")
    if not kept and not refused:
        messages.error(request, "Choose pictures first.")
    if kept:
        messages.success(request, f"{kept} picture{'s' if kept > 1 else ''} imported.")
    return redirect("takes-home", shoot.pk)


def _take_in(shoot: Shoot, raw: bytes, name: str, uid: str) -> int:
    """Keep what a whole file holds: how many pictures that is. Raises as its readers do."""
    if name.lower().endswith(".csv"):
        rows = read_notes(raw, name)
        with in_turn(), transaction.atomic():
            for row in rows:
                # The same row again is the same picture.
                own = sha256(f"{row.name}|{row.wrote}".encode()).hexdigest()[:36]
                keep_still(shoot, own, row.name, Preview(b"", row.width, row.height, row.wrote))
        return len(rows)
    uid = uid or sha256(raw).hexdigest()[:36]
    if not raw or name.lower().endswith(STILLS):
        found = read_preview(raw, name, COPY_PX)
    else:
        head = read_head(name, len(raw), [Slice(0, raw)])
        if not isinstance(head, Head):
            raise ExchangeError(name, "too short for what it says it is: damaged")
        found = _of_head(head)
    keep_still(shoot, uid, name, found)
    return 1


def _of_head(head: Head) -> Preview:
    return Preview(head.jpeg, head.width, head.height, head.wrote)


@login_required
@require_POST
@handle_gone
def home_head(request: HttpRequest, shoot_id: int) -> JsonResponse:
    """Keep a raw picture or a film by slices of it: what is missing still, or that it is kept.

    The window sends all slices that it was asked for so far; nothing is kept in between.
    """
    shoot = shoot_for(request, shoot_id)
    name = request.POST.get("name", "")[:80] or "file"
    size = whole_number(request.POST.get("size", "")) or 0
    slices = []
    for at, upload in zip(request.POST.getlist("at"), request.FILES.getlist("slice"), strict=False):
        slices.append(Slice(whole_number(at) or 0, upload.read(MOST_BYTES + 1)))
    try:
        found = read_head(name, size, slices)
        if isinstance(found, Wanted):
            return JsonResponse({"want": [found.at, found.length]})
        keep_still(shoot, request.POST.get("uid", "")[:36], name, _of_head(found))
    except ExchangeError as error:
        words = f"{error.place}: {error.problem}"
    except RuleError as error:
        words = f"{name}: {sentence(error.rule)}"
    except QuotaError as error:
        words = f"{name}: {error}"
    else:
        return JsonResponse({"kept": 1, "words": ""})
    return JsonResponse({"kept": 0, "words": words}, status=422)


@login_required
@require_POST
@handle_gone
def home_body(request: HttpRequest, shoot_id: int) -> HttpResponse:
    """Say which body of the kit each camera is."""
    shoot = shoot_for(request, shoot_id)
    pairs = zip(request.POST.getlist("serial"), request.POST.getlist("body"), strict=False)
    if not made_before(request, shoot):
        keep_bodies(shoot, {serial[:40]: whole_number(body) for serial, body in pairs})
        messages.success(request, "Kept: these cameras are known from now on.")
    return redirect("takes-home", shoot.pk)


@login_required
@require_POST
@handle_gone
def home_match(request: HttpRequest, shoot_id: int) -> HttpResponse:
    """Put pictures to the takes their clocks say, with offsets as typed."""
    shoot = shoot_for(request, shoot_id)
    typed: dict[str, float] = {}
    errors: dict[str, str] = {}
    for serial, text in zip(
        request.POST.getlist("serial"), request.POST.getlist("offset"), strict=False
    ):
        try:
            typed[serial] = read_offset(text)
        except RuleError as error:
            errors[serial] = sentence(error.rule)
    if errors:
        return _page(request, shoot, errors)
    if not made_before(request, shoot):
        count = match_all(shoot, typed)
        many = "1 picture is" if count == 1 else f"{count} pictures are"
        said = f"{many} put to a take." if count else "No picture lies near a take by these clocks."
        messages.success(request, said)
    return redirect("takes-home", shoot.pk)


@login_required
@require_POST
@handle_gone
def home_put(request: HttpRequest, shoot_id: int) -> HttpResponse:
    """Put single pictures to takes by hand."""
    shoot = shoot_for(request, shoot_id)
    wanted: dict[int, str] = {}
    sent: Any = request.POST
    for name, value in sent.items():
        sort, _, key = name.partition("-")
        pk = whole_number(key)
        if sort == "take" and pk is not None and value:
            wanted[pk] = value
    count = 0
    if not made_before(request, shoot):
        count = put_to_takes(shoot, wanted, f"{len(wanted)} pictures put by hand")
    messages.success(request, f"{count} put." if count else "Nothing was chosen.")
    return redirect("takes-home", shoot.pk)


@login_required
@require_POST
@handle_gone
def home_drop(request: HttpRequest, shoot_id: int) -> HttpResponse:
    """Drop what belongs to no take; the box has to be ticked, for it cannot be undone."""
    shoot = shoot_for(request, shoot_id)
    if request.POST.get("sure") != "1":
        messages.error(request, "Tick the box to drop them: this cannot be undone.")
    else:
        count = drop_unplaced(shoot)
        messages.success(request, f"{count} pictures dropped. The files at home are untouched.")
    return redirect("takes-home", shoot.pk)
