"""Pages of shoots and the bench: parse, call, render. Every look-up goes through the owner."""

from django.contrib import messages
from django.contrib.auth.decorators import login_required
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.utils.text import slugify
from django.views.decorators.http import require_POST

from fotonomy.core.plan import plan
from fotonomy.exchange.errors import ExchangeError
from fotonomy.exchange.plan_json import plan_to_data
from fotonomy.exchange.schemas import LARGEST_FILE_BYTES, write_json
from fotonomy.exchange.setup_json import read_setup, setup_to_data
from fotonomy.shoots import history as ledger
from fotonomy.shoots.editing.apply import Edit, edit_setup
from fotonomy.shoots.editing.forms import ShootForm
from fotonomy.shoots.mapping import bag_of, file_of, spec_of
from fotonomy.shoots.models import Setup, Shoot
from fotonomy.shoots.presenters.bench import CUTS, bench_view, row_view, running_order
from fotonomy.shoots.services import setups as services
from fotonomy.shoots.views.lookup import (
    FRAGMENT_HEADER,
    own_setup,
    own_shoot,
    setup_in,
    wants_fragment,
)
from fotonomy.shoots.views.monitor import choose_monitor, monitor_choice


def _ledger_state(shoot: Shoot) -> dict[str, object]:
    return {
        "last_step": shoot.changes.filter(undone=False).last(),
        "next_step": shoot.changes.filter(undone=True).first(),
    }


@login_required
def shoot_list(request: HttpRequest) -> HttpResponse:
    """All shoots of the person, newest first."""
    return render(
        request, "shoots/list.html", {"shoots": Shoot.objects.filter(owner=request.user)}
    )  # fmt: skip


@login_required
def shoot_new(request: HttpRequest) -> HttpResponse:
    """Add a shoot."""
    form = ShootForm(request.POST or None)
    if request.method == "POST" and form.is_valid():
        form.instance.owner = request.user
        return redirect(form.save())
    return render(request, "shoots/shoot_form.html", {"form": form, "shoot": None})


@login_required
def shoot_edit(request: HttpRequest, shoot_id: int) -> HttpResponse:
    """Change a shoot's name, date, place or rates."""
    shoot = own_shoot(request, shoot_id)
    form = ShootForm(request.POST or None, instance=shoot)
    if request.method == "POST" and form.is_valid():
        return redirect(form.save())
    return render(request, "shoots/shoot_form.html", {"form": form, "shoot": shoot})


@login_required
@require_POST
def shoot_delete(request: HttpRequest, shoot_id: int) -> HttpResponse:
    """Delete a shoot for good; the page has asked for its name to be ticked off first."""
    shoot = own_shoot(request, shoot_id)
    if request.POST.get("sure") != "1":
        messages.error(request, "Tick the box to delete a shoot: this cannot be undone.")
        return redirect("shoot-edit", shoot.pk)
    shoot.delete()
    messages.success(request, f"{shoot.name} deleted.")
    return redirect("shoot-list")


@login_required
def shoot_open(request: HttpRequest, shoot_id: int) -> HttpResponse:
    """A shoot: its first setup on the bench, or an invitation to plan one."""
    shoot = own_shoot(request, shoot_id)
    first = shoot.setups.first()
    if first is not None:
        return redirect(first)
    return render(request, "shoots/empty.html", {"shoot": shoot, **_ledger_state(shoot)})


@login_required
def bench(request: HttpRequest, shoot_id: int, setup_id: int) -> HttpResponse:
    """The bench: GET shows a setup, POST changes what was sent and shows it again."""
    row = own_setup(request, shoot_id, setup_id)
    if request.method == "POST":
        choose_monitor(request)
        edit = edit_setup(row, request.POST)
        if edit.said:
            messages.info(request, edit.said)
        if wants_fragment(request):
            return _fragment(request, edit)
        if not edit.errors:
            return redirect(row)
        return _page(request, edit, status=422)
    return _page(request, Edit.untouched(row))


def _fragment(request: HttpRequest, edit: Edit) -> HttpResponse:
    cut = request.headers[FRAGMENT_HEADER]
    view = bench_view(edit, (cut,) if cut in CUTS else CUTS, monitor_choice(request))
    context = {"bench": view, "shoot": edit.row.shoot, "line": row_view(edit.row, view.plan)}
    context["here"] = edit.row.pk
    if edit.step:
        context |= {"last_step": edit.step, "next_step": None}
    else:
        context |= _ledger_state(edit.row.shoot)
    return render(request, "shoots/_fragment.html", context)


def _page(request: HttpRequest, edit: Edit, status: int = 200) -> HttpResponse:
    context = {
        "bench": bench_view(edit, monitor=monitor_choice(request)),
        "shoot": edit.row.shoot,
        "here": edit.row.pk,
        "lines": running_order(edit.row.shoot, edit.bag),
        **_ledger_state(edit.row.shoot),
    }
    return render(request, "shoots/bench.html", context, status=status)


@login_required
@require_POST
def setup_new(request: HttpRequest, shoot_id: int) -> HttpResponse:
    """Add a setup and open it."""
    try:
        return redirect(services.create_setup(own_shoot(request, shoot_id)))
    except services.NothingToShootWithError as error:
        messages.error(request, f"Your kit has no {error.missing} yet: add one here first.")
        return redirect("kit")


@login_required
@require_POST
def setup_copy(request: HttpRequest, shoot_id: int, setup_id: int) -> HttpResponse:
    """Copy a setup and open the copy."""
    return redirect(services.copy_setup(own_setup(request, shoot_id, setup_id)))


@login_required
@require_POST
def setup_delete(request: HttpRequest, shoot_id: int, setup_id: int) -> HttpResponse:
    """Delete a setup; the page then offers to undo."""
    row = own_setup(request, shoot_id, setup_id)
    neighbour = (
        row.shoot.setups.filter(position__gte=row.position).exclude(pk=row.pk).first()
        or row.shoot.setups.exclude(pk=row.pk).last()
    )
    name = str(row)
    services.delete_setup(row)
    messages.success(request, f"{name} deleted.", extra_tags="undo")
    return redirect(neighbour or row.shoot)


@login_required
@require_POST
def setup_move(request: HttpRequest, shoot_id: int, setup_id: int) -> HttpResponse:
    """Move a setup one place up or down."""
    row = own_setup(request, shoot_id, setup_id)
    services.move_setup(row, -1 if request.POST.get("to") == "up" else 1)
    return redirect(row)


@login_required
@require_POST
def setup_order(request: HttpRequest, shoot_id: int) -> HttpResponse:
    """A whole new order, after a drag."""
    shoot = own_shoot(request, shoot_id)
    wanted = [int(pk) for pk in request.POST.getlist("order") if pk.isascii() and pk.isdigit()]
    services.order_setups(shoot, wanted)
    context = {"shoot": shoot, "here": request.POST.get("setup", ""), **_ledger_state(shoot)}
    return render(request, "shoots/_steps.html", context)


@login_required
@require_POST
def undo(request: HttpRequest, shoot_id: int) -> HttpResponse:
    """Take the last step back."""
    return _step(request, own_shoot(request, shoot_id), forward=False)


@login_required
@require_POST
def redo(request: HttpRequest, shoot_id: int) -> HttpResponse:
    """Do the last undone step again."""
    return _step(request, own_shoot(request, shoot_id), forward=True)


def _step(request: HttpRequest, shoot: Shoot, forward: bool) -> HttpResponse:
    try:
        change = ledger.redo(shoot) if forward else ledger.undo(shoot)
    except ledger.CannotUndoError as error:
        messages.error(request, f"{error}.")
        return redirect(shoot)
    if change is None:
        messages.info(request, "Nothing to redo." if forward else "Nothing to undo.")
        back = _back_to(request, shoot)
        if wants_fragment(request) and isinstance(back, Setup):
            return _fragment(request, Edit.untouched(own_setup(request, shoot.pk, back.pk)))
        return redirect(back)
    done = "Redone" if forward else "Undone"
    messages.success(request, f"{done}: {change.label}.")
    states = change.after if forward else change.before
    here = request.POST.get("setup", "")
    if wants_fragment(request) and set(states) == {here} and change.before[here] and states[here]:
        return _fragment(request, Edit.untouched(own_setup(request, shoot.pk, int(here))))
    target = here if states.get(here) else next((key for key, data in states.items() if data), None)
    return redirect(reverse("bench", args=[shoot.pk, target]) if target else shoot)


def _back_to(request: HttpRequest, shoot: Shoot) -> Setup | Shoot:
    return setup_in(shoot, request.POST.get("setup", "")) or shoot


@login_required
@require_POST
def setup_import(request: HttpRequest, shoot_id: int) -> HttpResponse:
    """A setup file becomes a new setup; a damaged one changes nothing."""
    shoot = own_shoot(request, shoot_id)
    upload = request.FILES.get("file")
    if upload is None:
        messages.error(request, "Choose a setup file first.")
        return redirect(_back_to(request, shoot))
    try:
        given = read_setup(upload.read(LARGEST_FILE_BYTES + 1))
        row = services.import_setup(shoot, request.user, given)
    except ExchangeError as error:
        messages.error(request, f"{upload.name} was not taken in. {error.place}: {error.problem}.")
        return redirect(_back_to(request, shoot))
    messages.success(request, f"{row} imported.")
    return redirect(row)


def _json(data: object, name: str) -> HttpResponse:
    response = HttpResponse(write_json(data), content_type="application/json")
    response["Content-Disposition"] = f'attachment; filename="{name}.json"'
    return response


@login_required
def setup_export(request: HttpRequest, shoot_id: int, setup_id: int) -> HttpResponse:
    """The setup with its gear as a file."""
    row = own_setup(request, shoot_id, setup_id)
    name = slugify(str(row)) or f"setup-{row.pk}"
    return _json(setup_to_data(file_of(row, bag_of(row.shoot))), name)


@login_required
def plan_export(request: HttpRequest, shoot_id: int, setup_id: int) -> HttpResponse:
    """The plan of the setup as a file."""
    row = own_setup(request, shoot_id, setup_id)
    name = slugify(f"{row} plan") or f"plan-{row.pk}"
    return _json(plan_to_data(plan(spec_of(row, bag_of(row.shoot)))), name)
