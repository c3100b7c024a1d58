"""Takes logged, listed, changed and dropped; what remains of a day."""

import re
import uuid
from typing import Any

from django.contrib import messages
from django.contrib.auth.decorators import login_required
from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone
from django.utils.dateparse import parse_datetime
from django.utils.text import slugify
from django.views.decorators.http import require_POST

from fotonomy.core.errors import RuleError
from fotonomy.core.notation.reading import read_length, whole_number
from fotonomy.core.parsing.table import by_name
from fotonomy.core.spec.setup import Setup as Spec
from fotonomy.days.planning import planned_day, planned_day_of
from fotonomy.field.models import VERDICTS, Take
from fotonomy.field.presenters.card import card_view, plan_of
from fotonomy.field.presenters.takes import (
    REASONS,
    SET,
    left_for,
    pictures_of,
    planned_texts,
    remains_of,
    set_fields,
    take_lines,
)
from fotonomy.field.services import TakeEntry, change_take, drop_take, log_take
from fotonomy.field.views.pictures import keep_upload
from fotonomy.shoots import history
from fotonomy.shoots.editing.forms import sentence
from fotonomy.shoots.mapping import NO_LIGHT, spec_of
from fotonomy.shoots.models import Shoot
from fotonomy.shoots.packed_kit import packed_kit
from fotonomy.shoots.views.access import must_plan
from fotonomy.shoots.views.get_or_404 import (
    day_in,
    handle_gone,
    history_state,
    made_before,
    setup_in,
    shoot_for,
)
from fotonomy.web.csv_files import csv_answer

_COUNTED = re.compile(r"(.*?)(\d+)(\D*)")


def next_clip(takes: list[Take]) -> str:
    """The name of the clip after the last one that was named: its number counts on."""
    last = next((take.clip for take in reversed(takes) if take.clip), "")
    found = _COUNTED.fullmatch(last)
    if found is None:
        return ""
    return f"{found[1]}{int(found[2]) + 1:0{len(found[2])}}{found[3]}"


def _differed(spec: Spec, sent: Any, errors: dict[str, str]) -> dict[str, str]:
    """Settings that were set otherwise, as text; what cannot be read beside its field."""
    planned, found = planned_texts(spec), {}
    for name in SET:
        text = str(sent.get(name, planned[name])).strip()[:40]
        if text == planned[name] or not text:
            continue
        try:
            by_name()[name].read(spec, text)
            found[name] = text
        except RuleError as error:
            errors[name] = sentence(error.rule)
    return found


def _why(sent: Any) -> tuple[str, ...]:
    own = [one.strip() for one in str(sent.get("own", "")).split(",") if one.strip()]
    return tuple(dict.fromkeys([*(one[:24] for one in sent.getlist("why")), *own]))


@login_required
@handle_gone
def take(request: HttpRequest, shoot_id: int, setup_id: int) -> HttpResponse:
    """GET shows what is logged with two presses, POST keeps a take."""
    shoot = shoot_for(request, shoot_id)
    errors = dict[str, str]()
    differed: dict[str, str] = {}
    if request.method == "POST":
        row = setup_in(shoot, str(setup_id))
        if row is None:
            return _kept_without(request, shoot, setup_id)
        spec = spec_of(row, packed_kit(shoot), NO_LIGHT)
        sent = request.POST
        differed = _differed(spec, sent, errors)
        try:
            length = read_length(sent.get("length", ""))
        except RuleError as error:
            errors["length"] = sentence(error.rule)
            length = None
        if not errors:
            try:
                entry = _entry(sent, planned_texts(spec), differed, length)
                made = log_take(shoot, setup_id, str(row), entry)
                messages.success(request, f"{made} kept: {made.get_verdict_display()}.")
                _with_picture(request, shoot, made)
                return redirect("field-card", shoot.pk, setup_id)
            except RuleError as error:
                errors[error.field] = sentence(error.rule)
    sent = request.POST
    planned, takes = planned_day_of(shoot, setup_id), list(shoot.takes.all())
    own = [one for one in takes if one.setup_key == setup_id]
    made_plan = plan_of(planned, setup_id)
    typed = {name: str(sent[name]) for name in SET if name in sent} if errors else {}
    context = {
        "shoot": shoot, "day": planned.day, "errors": errors, "verdicts": VERDICTS,
        "v": card_view(planned, setup_id, takes, timezone.now()),
        "fields": set_fields(made_plan, typed or differed, errors), "reasons": REASONS,
        "chosen": _why(sent) if errors else (), "verdict": sent.get("verdict", "good"),
        "uid": sent.get("uid") or str(uuid.uuid4()), "number": len(own) + 1,
        "clip": sent.get("clip", next_clip(takes)),
        "card": sent.get("card", next((t.card for t in reversed(takes) if t.card), "")),
        "length": sent.get("length", ""), "note": sent.get("note", ""),
        "seen": history.seen(shoot),
        "left": left_for(planned, setup_id, takes), "lines": take_lines(shoot, own),
    }  # fmt: skip
    return render(request, "field/take.html", context, status=422 if errors else 200)


def _with_picture(request: HttpRequest, shoot: Shoot, made: Take) -> None:
    """The picture that came with a take; the take is kept whatever becomes of it."""
    upload = request.FILES.get("picture")
    if upload is None:
        return
    made.shoot = shoot
    if error := keep_upload(made, upload, request.POST.get("picture_uid", "")[:36]):
        messages.error(request, f"Its picture was not kept. {error}. The take has a place for it.")


def _kept_without(request: HttpRequest, shoot: Shoot, setup_id: int) -> HttpResponse:
    """A take whose setup was deleted while it was logged: kept as it was sent."""
    sent = request.POST
    try:
        length = read_length(sent.get("length", ""))
        # Without its plan nobody can say what of the settings differed: they are what was set.
        texts = {name: str(sent[name]).strip()[:40] for name in SET if name in sent}
        name = str(sent.get("name", "")).strip()[:100] or "Deleted setup"
        made = log_take(shoot, setup_id, name, _entry(sent, texts, {}, length))
        _with_picture(request, shoot, made)
        messages.success(
            request, f"{made} kept. Its setup was deleted meanwhile; undo brings it back."
        )
    except RuleError as error:
        messages.error(request, f"Not kept: {sentence(error.rule)}.")
    return redirect("field-remains", shoot.pk, shoot.first_day.pk)


def _entry(
    sent: Any, planned: dict[str, str], differed: dict[str, str], length: float | None
) -> TakeEntry:
    at, sent_at = (parse_moment(sent.get(name, "")) for name in ("at", "sent_at"))
    return TakeEntry(
        uid=str(sent.get("uid", ""))[:36], verdict=str(sent.get("verdict", "")),
        at=at or timezone.now(), sent_at=sent_at if at is not None else None,
        planned=planned, differed=differed, why=_why(sent),
        clip=str(sent.get("clip", "")).strip(), card=str(sent.get("card", "")).strip(),
        length_s=length, note=str(sent.get("note", "")).strip(),
    )  # fmt: skip


def parse_moment(text: str) -> Any:
    """A moment with its zone as a script sends it; None for anything else."""
    try:
        found = parse_datetime(str(text)[:40])
    except ValueError:
        return None
    return found if found is not None and found.tzinfo is not None else None


def _own_take(request: HttpRequest, shoot_id: int, take_id: int) -> tuple[Shoot, Take]:
    shoot = shoot_for(request, shoot_id)
    row = get_object_or_404(Take, shoot=shoot, pk=take_id)
    row.shoot = shoot
    return shoot, row


@login_required
@handle_gone
def take_edit(request: HttpRequest, shoot_id: int, take_id: int) -> HttpResponse:
    """Change a take afterwards."""
    shoot, row = _own_take(request, shoot_id, take_id)
    errors: dict[str, str] = {}
    if request.method == "POST":
        sent = request.POST
        given: dict[str, Any] = {
            name: str(sent[name]).strip() for name in ("clip", "card", "note") if name in sent
        }
        if "verdict" in sent:
            given["verdict"] = sent["verdict"]
        if "own" in sent or "why" in sent:
            given["why"] = list(_why(sent))
        try:
            if "length" in sent:
                given["length_s"] = read_length(sent["length"])
            change_take(row, given)
            messages.success(request, f"{row} changed.")
            return redirect("field-remains", shoot.pk, _day_of(shoot, row))
        except RuleError as error:
            errors[error.field] = sentence(error.rule)
    context = {
        "shoot": shoot, "take": row, "errors": errors, "verdicts": VERDICTS, "reasons": REASONS,
        "own": ", ".join(one for one in row.why if one not in REASONS), "typed": request.POST,
        "seen": history.seen(shoot),
        **pictures_of(shoot, row),
        "line": take_lines(shoot, [row])[0], "length": _length_text(row.length_s),
    }  # fmt: skip
    return render(request, "field/take_edit.html", context, status=422 if errors else 200)


def _length_text(seconds: float | None) -> str:
    if seconds is None:
        return ""
    whole = round(seconds)
    hours, rest = divmod(whole, 3600)
    minutes, secs = divmod(rest, 60)
    return f"{hours}:{minutes:02}:{secs:02}" if hours else f"{minutes}:{secs:02}"


def _day_of(shoot: Shoot, row: Take) -> int:
    """The day of a take's setup; the first where that is gone."""
    key = shoot.setups.filter(pk=row.setup_key).values_list("day_id", flat=True).first()
    return int(key or shoot.first_day.pk)


@login_required
@require_POST
@handle_gone
def take_delete(request: HttpRequest, shoot_id: int, take_id: int) -> HttpResponse:
    """Drop a take; undo brings it back."""
    shoot, row = _own_take(request, shoot_id, take_id)
    day = _day_of(shoot, row)
    if not made_before(request, shoot):
        name = str(row)
        drop_take(row)
        messages.success(request, f"{name} deleted; undo brings it back.")
    return redirect("field-remains", shoot.pk, day)


@login_required
@handle_gone
def remains(request: HttpRequest, shoot_id: int, day_id: int) -> HttpResponse:
    """What is not done yet of a day, its coverage, supplies, and every take so far."""
    shoot = shoot_for(request, shoot_id)
    day = day_in(shoot, day_id)
    planned = planned_day(shoot, day)
    takes = list(shoot.takes.all())
    context = {
        "shoot": shoot, "day": day, "r": remains_of(planned, takes, timezone.now()),
        "lines": take_lines(shoot, takes), **_steps_of(shoot),
    }  # fmt: skip
    return render(request, "field/remains.html", context)


def _steps_of(shoot: Shoot) -> dict[str, object]:
    """The steps that undo and redo would take: for those who only log, their own."""
    if shoot.actor.plans:
        return history_state(shoot)
    mine = {"author": shoot.actor.author}
    return {
        "last_step": history.steps(shoot).filter(**mine).last(),
        "next_step": history.undone_steps(shoot).filter(**mine).last(),
        "seen": history.seen(shoot),
    }


def _own_log_step(shoot: Shoot, step: int | None, undone: bool) -> int:
    """The step that was named, where somebody who only logs did it. Raises RefusedError."""
    rows = history.undone_steps(shoot) if undone else history.steps(shoot)
    found = rows.filter(pk=step, author=shoot.actor.author).first()
    if found is None:
        must_plan(shoot)
    return int(found.pk)


@login_required
@require_POST
@handle_gone
def field_step(request: HttpRequest, shoot_id: int, way: str) -> HttpResponse:
    """Take a step back, or do it again, without leaving the field pages."""
    shoot = shoot_for(request, shoot_id)
    if not made_before(request, shoot):
        step = whole_number(request.POST.get("step", ""))
        if not shoot.actor.plans:
            step = _own_log_step(shoot, step, undone=way == "redo")
        try:
            made = history.redo(shoot, step) if way == "redo" else history.undo(shoot, step)
        except history.CannotUndoError as error:
            messages.error(request, f"{error}.")
            made = None
        if made is not None:
            said = "Redone" if way == "redo" else "Undone"
            messages.success(request, f"{said}: {made.step.label}.")
    day = whole_number(request.POST.get("day", ""))
    known = shoot.days_by_id.get(day or 0) or shoot.first_day
    return redirect("field-remains", shoot.pk, known.pk)


@login_required
@handle_gone
def takes_csv(request: HttpRequest, shoot_id: int) -> HttpResponse:
    """Every take as CSV."""
    shoot = shoot_for(request, shoot_id)
    zone = shoot.main_place.zone
    header = ("at", "setup", "take", "verdict", *(f"planned {name}" for name in SET),
              *(f"set {name}" for name in SET), "why", "clip", "card", "length s", "note",
              "by")  # fmt: skip
    rows = (
        (
            one.at.astimezone(zone).isoformat(timespec="seconds"), one.setup_name, one.number,
            one.get_verdict_display(), *(one.planned.get(name, "") for name in SET),
            *(one.differed.get(name, one.planned.get(name, "")) for name in SET),
            ", ".join(one.why), one.clip, one.card,
            "" if one.length_s is None else f"{one.length_s:g}", one.note, one.by_name,
        )
        for one in shoot.takes.all()
    )  # fmt: skip
    return csv_answer(f"{slugify(shoot.name) or 'shoot'}-takes.csv", header, rows)
