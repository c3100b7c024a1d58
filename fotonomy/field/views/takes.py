"""Takes logged, listed, changed and dropped; what remains of a day."""

import re
import uuid
from collections.abc import Mapping
from typing import Any

from django import forms
from django.contrib import messages
from django.contrib.auth.decorators import login_required
from django.http import HttpRequest, HttpResponse, QueryDict
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone
from django.utils.text import slugify
from django.views.decorators.http import require_POST

from fotonomy.core.notation.reading import whole_number
from fotonomy.core.takes.actual import SET
from fotonomy.days.planning import planned_day, planned_day_of
from fotonomy.field.intake import FIELDS, IntakeError, Sent, parse_moment, read_changes, take_in
from fotonomy.field.models import VERDICTS, Take
from fotonomy.field.presenters.card import card_view, plan_of
from fotonomy.field.presenters.takes import (
    REASONS,
    left_for,
    pictures_of,
    remains_of,
    set_fields,
    take_lines,
)
from fotonomy.field.services import (
    LONGEST_NOTE,
    LONGEST_SETTING,
    GoneError,
    change_take,
    drop_take,
)
from fotonomy.field.views.pictures import keep_upload
from fotonomy.shoots import history
from fotonomy.shoots.editing.forms import sentence
from fotonomy.shoots.models import Shoot
from fotonomy.shoots.views.access import must_plan
from fotonomy.shoots.views.get_or_404 import (
    day_in,
    handle_gone,
    history_state,
    made_before,
    shoot_for,
    shoot_in_turn,
)
from fotonomy.web.csv_files import csv_answer
from fotonomy.web.whole_forms import Wording, merged_data, shown_text, without_same

# The longest texts of a take, as its fields say them.
LONGEST = {"setting": LONGEST_SETTING, "note": LONGEST_NOTE}
# What a form sends without a field that anybody sees.
HIDDEN = ("uid", "at", "take", "planned")
_COUNTED = re.compile(r"(.*?)(\d+)(\D*)")


def next_clip(takes: list[Take]) -> str:
    """The name of the clip after the last one that was named: its number counts on."""
    last = next((take.clip for take in reversed(takes) if take.clip), "")
    found = _COUNTED.fullmatch(last)
    if found is None:
        return ""
    return f"{found[1]}{int(found[2]) + 1:0{len(found[2])}}{found[3]}"


def sent_by(data: QueryDict) -> Sent:
    """What a form of a take sent, as the door of takes reads it."""
    fields: dict[str, Any] = {name: data[name] for name in FIELDS if name in data}
    fields["why"] = data.getlist("why")
    fields["differed"] = {name: data[name] for name in SET if name in data}
    return Sent(fields, parse_moment(data.get("sent_at", "")))


def said(errors: Mapping[str, str]) -> dict[str, str]:
    """Rules as they stand beside their fields."""
    return {name: sentence(rule) for name, rule in errors.items()}


@login_required
@handle_gone
def take(request: HttpRequest, shoot_id: int, setup_id: int) -> HttpResponse:
    """GET shows what is logged with two presses, POST keeps a take."""
    shoot = shoot_for(request, shoot_id)
    errors = dict[str, str]()
    if request.method == "POST":
        try:
            return _logged(request, shoot, setup_id)
        except GoneError as error:
            messages.error(request, f"Not kept. {error}.")
            return redirect("field-remains", shoot.pk, shoot.first_day.pk)
        except IntakeError as error:
            errors = said(error.errors)
            if not shoot.setups.filter(pk=setup_id).exists():
                messages.error(request, f"Not kept. {'. '.join(errors.values())}.")
                return redirect("field-remains", shoot.pk, shoot.first_day.pk)
    sent = request.POST
    planned, takes = planned_day_of(shoot, setup_id), list(shoot.takes.all())
    own = [one for one in takes if one.setup_key == setup_id]
    made_plan = plan_of(planned, setup_id)
    typed = {name: str(sent[name]) for name in SET if name in sent}
    context = {
        "shoot": shoot, "day": planned.day, "errors": errors, "verdicts": VERDICTS,
        "longest": LONGEST, "errors_of_none": [errors[k] for k in HIDDEN if k in errors],
        "v": card_view(planned, setup_id, takes, timezone.now()),
        "fields": set_fields(made_plan, typed, errors), "reasons": REASONS,
        "chosen": sent.getlist("why"), "own": sent.get("own", ""),
        "verdict": sent.get("verdict", "good"),
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


def _logged(request: HttpRequest, shoot: Shoot, setup_id: int) -> HttpResponse:
    """A take that was kept, and its picture; raises what the door of takes raises."""
    made, setup = take_in(shoot, setup_id, sent_by(request.POST))
    _with_picture(request, shoot, made)
    if setup is not None:
        messages.success(request, f"{made} kept: {made.get_verdict_display()}.")
        return redirect("field-card", shoot.pk, setup_id)
    messages.success(request, f"{made} kept. Its setup was deleted meanwhile; undo brings it back.")
    return redirect("field-remains", shoot.pk, shoot.first_day.pk)


def _own_take(request: HttpRequest, shoot_id: int, take_id: int) -> tuple[Shoot, Take]:
    shoot = shoot_for(request, shoot_id)
    row = get_object_or_404(Take, shoot=shoot, pk=take_id)
    row.shoot = shoot
    return shoot, row


GONE_TAKE = "This take was deleted meanwhile: undo brings it back."


@login_required
@handle_gone
def take_edit(request: HttpRequest, shoot_id: int, take_id: int) -> HttpResponse:
    """Change a take afterwards."""
    shoot, row = _own_take(request, shoot_id, take_id)
    errors: dict[str, str] = {}
    typed: QueryDict = request.POST
    if request.method == "POST":
        day = _day_of(shoot, row)
        try:
            with shoot_in_turn(request, shoot_id) as shoot:
                row = Take.objects.get(shoot=shoot, pk=take_id)
                row.shoot = shoot
                typed = _merged(request, row)
                # A length is shown in whole seconds: what is so already keeps all it has.
                moved = without_same(typed, texts_of_take(row), ("why", "own"))
                change_take(row, read_changes(sent_by(moved)))
            messages.success(request, f"{row} changed.")
            return redirect("field-remains", shoot.pk, day)
        except Take.DoesNotExist:
            messages.error(request, GONE_TAKE)
            return redirect("field-remains", shoot.pk, day)
        except IntakeError as error:
            errors = said(error.errors)
    shown = texts_of_take(row)
    values = {name: texts[0] if texts else "" for name, texts in shown.items()}
    if errors:
        values |= {name: typed.get(name, "") for name in shown}
    context = {
        "shoot": shoot, "take": row, "errors": errors, "verdicts": VERDICTS, "reasons": REASONS,
        "longest": LONGEST, "typed": values, "shown": shown_text(shown),
        "chosen": typed.getlist("why") if errors else row.why,
        "seen": history.seen(shoot),
        **pictures_of(shoot, row),
        "line": take_lines(shoot, [row])[0],
    }  # fmt: skip
    return render(request, "field/take_edit.html", context, status=422 if errors else 200)


def texts_of_take(row: Take) -> dict[str, list[str]]:
    """What the form of a take sends if nobody touches it, by the names of its fields."""
    return {
        "verdict": [row.verdict], "why": [one for one in row.why if one in REASONS],
        "own": [", ".join(one for one in row.why if one not in REASONS)], "clip": [row.clip],
        "card": [row.card], "length": [_length_text(row.length_s)], "note": [row.note],
    }  # fmt: skip


def _merged(request: HttpRequest, row: Take) -> QueryDict:
    """A take's form as it was sent, with what was not touched as it is by now."""
    words = Wording(
        {"verdict": forms.ChoiceField(choices=VERDICTS)}, {"own": "Reasons of your own"}
    )
    return merged_data(request, texts_of_take(row), words, ticked={"why"})


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
