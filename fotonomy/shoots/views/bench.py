"""Pages of shoots and the bench: parse, call, render. Every look-up goes through the door."""

import json

from django.contrib import messages
from django.contrib.auth.decorators import login_required
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.utils import timezone
from django.views.decorators.http import require_GET, require_POST

from fotonomy.core.findings.safety import SafetyCaution, safety_of
from fotonomy.core.kinds import KINDS
from fotonomy.core.notation.reading import whole_number
from fotonomy.core.spec.kind import Kind
from fotonomy.core.tiles import Tile
from fotonomy.kit.current_user import current_user
from fotonomy.shoots import history
from fotonomy.shoots.editing.apply import Edit, edit_setup, label_of
from fotonomy.shoots.field_paths import WHOLE
from fotonomy.shoots.history_rows import is_part
from fotonomy.shoots.models import Setup, Shoot
from fotonomy.shoots.presenters.bench import BenchView, bench_view, row_view, running_order
from fotonomy.shoots.presenters.news import news_of
from fotonomy.shoots.services.crew import hands, put_in_hand
from fotonomy.shoots.services.quotas import shoot_nearly_full
from fotonomy.shoots.services.safety import told, untold
from fotonomy.shoots.summaries import summary_of
from fotonomy.shoots.views.get_or_404 import (
    back_to,
    go_to,
    handle_gone,
    history_state,
    made_before,
    named_setup,
    seen_by,
    setup_for,
    setup_in,
    shoot_for,
    wants_fragment,
    window_of,
)
from fotonomy.shoots.views.monitor import choose_monitor, monitor_choice

# Who else has which setup in hand, by its id, as JSON.
HANDS_HEADER = "X-Fotonomy-Hands"


@login_required
@handle_gone
def bench(request: HttpRequest, shoot_id: int, setup_id: int) -> HttpResponse:
    """The bench: GET shows a setup, POST changes what was sent and shows it again."""
    if request.method == "POST":
        choose_monitor(request)
        row = named_setup(request, shoot_id, setup_id)
        if made_before(request, row.shoot):
            edit = Edit.untouched(setup_for(request, shoot_id, setup_id))
        else:
            edit = edit_setup(row, request.POST)
        if edit.said:
            messages.info(request, edit.said)
        if wants_fragment(request):
            return _fragment(request, edit)
        if not edit.errors:
            return redirect(row)
        return _page(request, edit, status=422)
    edit = Edit.untouched(setup_for(request, shoot_id, setup_id))
    if wants_fragment(request):
        return _fragment(request, edit)
    return _page(request, edit)


OPEN, CLOSED = "open", "none"


def open_tile(request: HttpRequest, kind: Kind) -> Tile | None:
    """The tile on the stage: what the address says, else what was open last for this kind.

    What an address says is remembered.
    """
    kept = request.session.get(OPEN, {})
    usual = KINDS[kind].opened
    asked = request.GET.get(OPEN, "")
    if asked not in {*Tile, CLOSED}:
        asked = kept.get(kind.value, usual.value if usual else CLOSED)
    elif kept.get(kind.value) != asked:
        request.session[OPEN] = {**kept, kind.value: asked}
    return Tile(asked) if asked in set(Tile) else None


def _view(request: HttpRequest, edit: Edit) -> BenchView:
    opened = open_tile(request, edit.spec.kind)
    return bench_view(edit, window_of(request), opened, monitor_choice(request))


@login_required
@require_POST
@handle_gone
def safety_told(request: HttpRequest, shoot_id: int, setup_id: int) -> HttpResponse:
    """What somebody was told of dangers is read: it is not put before them again."""
    row = setup_for(request, shoot_id, setup_id)
    known = {one.id for one in safety_of(Edit.untouched(row).spec)}
    told(current_user(request), known.intersection(request.POST.getlist("caution")))
    return go_to(request, row)


def _told_of(request: HttpRequest, edit: Edit) -> list[SafetyCaution]:
    """Dangers that the one who plans was not told of yet."""
    if not edit.row.shoot.actor.plans:
        return []
    return untold(current_user(request), safety_of(edit.spec))


def _fragment(request: HttpRequest, edit: Edit) -> HttpResponse:
    view = _view(request, edit)
    context = {
        "dangers": _told_of(request, edit),
        "bench": view,
        "shoot": edit.row.shoot,
        "line": row_view(edit.row, summary_of(view.plan), True),
    }
    shoot, seen = edit.row.shoot, seen_by(request)
    context["here"] = edit.row.pk
    context |= history_state(shoot, edit.step)
    if seen is not None and not (edit.step and edit.step.pk == seen + 1):
        context["news"] = news_of(edit.row, history.since(shoot, seen))
    return render(request, "shoots/_fragment.html", context)


@login_required
@require_GET
@handle_gone
def news(request: HttpRequest, shoot_id: int, setup_id: int) -> HttpResponse:
    """The bench anew where another window changed the setup since ``seen``; else nothing, 204."""
    row = setup_for(request, shoot_id, setup_id)
    seen = whole_number(request.GET.get("seen", ""))
    changes = [] if seen is None else history.since(row.shoot, seen)
    if news_of(row, changes):
        answer = _fragment(request, Edit.untouched(row))
    else:
        answer = HttpResponse(status=204)
    now, me = timezone.now(), current_user(request)
    put_in_hand(row.shoot, me, row.pk, now)
    answer[HANDS_HEADER] = json.dumps(hands(row.shoot, now, me))
    return answer


def _page(request: HttpRequest, edit: Edit, status: int = 200) -> HttpResponse:
    lines = running_order(edit.row.shoot, edit.row.pk)
    context = {
        "dangers": _told_of(request, edit),
        "bench": _view(request, edit),
        "shoot": edit.row.shoot,
        "here": edit.row.pk,
        "lines": lines,
        "nearly_full": shoot_nearly_full(len(lines)),
        **history_state(edit.row.shoot),
    }
    return render(request, "shoots/bench.html", context, status=status)


@login_required
@require_POST
@handle_gone
def undo(request: HttpRequest, shoot_id: int) -> HttpResponse:
    """Take the last step back."""
    return _step(request, shoot_for(request, shoot_id), forward=False)


@login_required
@require_POST
@handle_gone
def redo(request: HttpRequest, shoot_id: int) -> HttpResponse:
    """Do the last undone step again."""
    return _step(request, shoot_for(request, shoot_id), forward=True)


def _step(request: HttpRequest, shoot: Shoot, forward: bool) -> HttpResponse:
    step = whole_number(request.POST.get("step", ""))
    if made_before(request, shoot) and (at := setup_in(shoot, request.POST.get("setup", ""))):
        return _fragment(request, Edit.untouched(setup_for(request, shoot.pk, at.pk)))
    try:
        taken = history.redo(shoot, step) if forward else history.undo(shoot, step)
    except history.CannotUndoError as error:
        messages.error(request, f"{error}.")
        return go_to(request, shoot)
    if taken is None:
        messages.info(request, "Nothing to redo." if forward else "Nothing to undo.")
        back = back_to(request, shoot)
        if wants_fragment(request) and isinstance(back, Setup):
            return _fragment(request, Edit.untouched(setup_for(request, shoot.pk, back.pk)))
        return go_to(request, back)
    done = "Redone" if forward else "Undone"
    if taken.act.fields:
        messages.success(request, f"{done}: {taken.step.label}.")
    if taken.kept:
        stay = label_of(path for _, path, _, _ in taken.kept)
        messages.warning(request, f"{stay}: changed again since, so it stays as it is.")
    here = setup_in(shoot, request.POST.get("setup", ""))
    touched = {key for key, *_ in taken.step.fields}
    made_or_gone = any(path == WHOLE for _, path, _, _ in taken.step.fields)
    if wants_fragment(request) and here and touched <= {here.pk} and not made_or_gone:
        return _fragment(request, Edit.untouched(setup_for(request, shoot.pk, here.pk)))
    if touched == {history.PACKING} and here is None:
        return redirect("packing", shoot.pk)
    if made_or_gone or here is None:
        setups = [key for key in touched if not is_part(key)]
        here = shoot.setups.filter(pk__in=setups).first() or here
    return go_to(request, here or shoot)
