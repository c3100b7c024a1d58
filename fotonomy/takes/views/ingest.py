"""Stills brought home: imported one by one, matched by the clock, put by hand, dropped."""

from hashlib import sha256

from django.contrib import messages
from django.contrib.auth.decorators import login_required
from django.db import transaction
from django.http import HttpRequest, HttpResponse, JsonResponse, QueryDict
from django.shortcuts import redirect, render
from django.urls import reverse
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
from fotonomy.shoots.views.get_or_404 import (
    handle_gone,
    history_state,
    made_before,
    shoot_for,
    window_of,
)
from fotonomy.shoots.write_lock import in_turn
from fotonomy.takes.ingest import (
    COPY_PX,
    LEFT_OUT,
    Brought,
    Decision,
    drop_unplaced,
    groups_of,
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
    """Cameras with their clocks, and what belongs to no take yet in groups."""
    shoot = shoot_for(request, shoot_id)
    typed, errors = _offsets(request.GET)
    context = {
        "shoot": shoot, "v": home_view(shoot, window_of(request), typed, errors),
        "clocks": typed, **history_state(shoot),
    }  # fmt: skip
    return render(request, "takes/ingest.html", context, status=422 if errors else 200)


def _offsets(sent: QueryDict) -> tuple[dict[str, float], dict[str, tuple[str, str]]]:
    """Clocks as typed, in seconds by camera; and by camera what was typed wrong, with the rule."""
    typed: dict[str, float] = {}
    errors: dict[str, tuple[str, str]] = {}
    for serial, text in zip(sent.getlist("serial"), sent.getlist("offset"), strict=False):
        try:
            typed[serial] = read_offset(text)
        except RuleError as error:
            errors[serial] = (text, sentence(error.rule))
    return typed, errors


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
    """Say which body of the kit each camera is; clocks that were typed stay in the address."""
    shoot = shoot_for(request, shoot_id)
    pairs = zip(request.POST.getlist("serial"), request.POST.getlist("body"), strict=False)
    if not made_before(request, shoot):
        keep_bodies(shoot, {serial[:40]: whole_number(body) for serial, body in pairs})
        messages.success(request, "Kept. This camera is known from now on.")
    page = reverse("takes-home", args=[shoot.pk])
    return redirect(f"{page}?{request.GET.urlencode()}" if request.GET else page)


@login_required
@require_POST
@handle_gone
def home_match(request: HttpRequest, shoot_id: int) -> HttpResponse:
    """Put pictures where their groups go as shown, or those that were ticked where one choice says.

    Without a choice each goes to the take that its clock says, with offsets as typed.
    """
    shoot = shoot_for(request, shoot_id)
    sent = request.POST
    if made_before(request, shoot):
        return redirect("takes-home", shoot.pk)
    try:
        if sent.get("do") == "chosen":
            ticked = [pk for text in sent.getlist("chosen") if (pk := whole_number(text))]
            decisions = _of_ticked(shoot, sent, ticked)
        else:
            rows = zip(
                *(sent.getlist(name) for name in ("keys", "to-group", "at", "length")), strict=False
            )
            decisions = [
                found
                for keys, to, at, length in rows
                if (found := _decide(to, _keys(keys), at, length)) is not None
            ]
        if not sent.getlist("keys"):
            typed, errors = _offsets(sent)
            if errors:
                messages.error(request, f"Its clock: {next(iter(errors.values()))[1]}.")
                return redirect("takes-home", shoot.pk)
            brought = Brought(match_all(shoot, typed), 0, 0)
        else:
            count = sum(len(one.pictures) for one in decisions)
            brought = put_to_takes(shoot, decisions, f"{count} pictures matched as shown")
    except RuleError as error:
        messages.error(request, f"Not matched: {error.rule}.")
        return redirect("takes-home", shoot.pk)
    messages.success(request, _brought_words(brought))
    return redirect("takes-home", shoot.pk)


def _of_ticked(shoot: Shoot, sent: QueryDict, ticked: list[int]) -> list[Decision]:
    """Where the ticked pictures go; a new take of them began with the first of them."""
    groups = groups_of(shoot, shoot.pictures.filter(pk__in=ticked), _offsets(sent)[0])
    times = [at for one in groups for at in (one.start_s, one.end_s) if at is not None]
    start, length = (f"{min(times):.0f}", f"{max(times) - min(times):.0f}") if times else ("", "")
    found = _decide(sent.get("to", ""), ticked, start, length)
    return [found] if ticked and found is not None else []


def _keys(text: str) -> list[int]:
    return [pk for part in text.split() if (pk := whole_number(part)) is not None]


def _decide(to: str, pictures: list[int], at: str, length: str) -> Decision | None:
    """What one choice says; None for none."""
    if not to:
        return None
    new_of = whole_number(to.removeprefix("new-")) if to.startswith("new-") else None
    started, lasted = whole_number(at), whole_number(length)
    return Decision(tuple(pictures), "" if new_of is not None else to, new_of,
                    None if started is None else float(started), float(lasted or 0))  # fmt: skip


def _brought_words(brought: Brought) -> str:
    if not (brought.put or brought.left_out):
        return (
            "No picture was shot near the time of a logged take. Check the camera clock, or choose "
            "by hand."
        )
    many = "1 picture is" if brought.put == 1 else f"{brought.put} pictures are"
    words = f"{many} matched to takes."
    if brought.new:
        words += f" {brought.new} new take{'s' if brought.new > 1 else ''}."
    if brought.left_out:
        words += f" {brought.left_out} left out."
    return words


@login_required
@require_POST
@handle_gone
def home_back(request: HttpRequest, shoot_id: int) -> HttpResponse:
    """Bring back what was left out."""
    shoot = shoot_for(request, shoot_id)
    if not made_before(request, shoot):
        rows = tuple(shoot.pictures.filter(take_uid=LEFT_OUT).values_list("pk", flat=True))
        put_to_takes(shoot, [Decision(rows)], f"{len(rows)} pictures brought back")
    return redirect("takes-home", shoot.pk)


@login_required
@require_POST
@handle_gone
def home_drop(request: HttpRequest, shoot_id: int) -> HttpResponse:
    """Drop what belongs to no take; the box has to be ticked, for it cannot be undone."""
    shoot = shoot_for(request, shoot_id)
    if request.POST.get("sure") != "1":
        messages.error(request, "Tick the box to remove them: this cannot be undone.")
    else:
        count = drop_unplaced(shoot)
        messages.success(request, f"{count} unmatched copies removed. Your own files stay.")
    return redirect("takes-home", shoot.pk)
