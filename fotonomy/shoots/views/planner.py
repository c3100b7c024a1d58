"""Pages of the planner: plans, starting points, comparison, playing the cadence."""

from django.contrib import messages
from django.contrib.auth.decorators import login_required
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_GET, require_POST

from fotonomy.core.errors import RuleError
from fotonomy.shoots.editing.apply import Edit
from fotonomy.shoots.mapping import is_plannable
from fotonomy.shoots.models import Setup
from fotonomy.shoots.packed_kit import packed_kit
from fotonomy.shoots.presenters.compare import compare_view, playing_view
from fotonomy.shoots.presenters.plans import plans_view
from fotonomy.shoots.services import setups as services
from fotonomy.shoots.views.get_or_404 import (
    figure_width,
    handle_gone,
    setup_for,
    setup_in,
    shoot_for,
    wants_fragment,
    window_of,
)
from fotonomy.web.long_work import one_at_a_time


@login_required
@require_GET
@handle_gone
@one_at_a_time
def plans(request: HttpRequest, shoot_id: int, setup_id: int) -> HttpResponse:
    """What the planner offers: a fragment for the bench, or a page of its own."""
    row = setup_for(request, shoot_id, setup_id)
    view = plans_view(Edit.untouched(row), window_of(request))
    context = {"view": view, "row": row, "shoot": row.shoot}
    page = "shoots/_plans.html" if wants_fragment(request) else "shoots/plans.html"
    return render(request, page, context)


@login_required
@require_POST
@handle_gone
def setup_start(request: HttpRequest, shoot_id: int, setup_id: int) -> HttpResponse:
    """Put a setup to the starting point of its kind."""
    row = setup_for(request, shoot_id, setup_id)
    services.start_setup(row, moving=request.POST.get("moving") == "1")
    return redirect(row)


@login_required
@require_GET
@handle_gone
@one_at_a_time
def play(request: HttpRequest, shoot_id: int, setup_id: int) -> HttpResponse:
    """The cadence at true speed beside a second setting."""
    row = setup_for(request, shoot_id, setup_id)
    view = playing_view(row, request.GET.get("against", ""), figure_width(request))
    context = {**view, "row": row, "shoot": row.shoot}
    page = "shoots/_playing.html" if wants_fragment(request) else "shoots/playing.html"
    return render(request, page, context)


@login_required
@require_GET
@handle_gone
@one_at_a_time
def compare(request: HttpRequest, shoot_id: int) -> HttpResponse:
    """Two setups of a shoot beside each other."""
    shoot = shoot_for(request, shoot_id)
    rows = list(shoot.setups.with_gear())
    for row in rows:
        row.shoot = shoot
    packed = packed_kit(shoot)
    rows = [row for row in rows if is_plannable(row, packed)]
    if len(rows) < 2:
        messages.info(request, "There is only one setup: copy it, change it, then compare.")
        return redirect(shoot)
    left = _chosen(rows, request.GET.get("left", ""), rows[0])
    right = _chosen(rows, request.GET.get("right", ""), next(r for r in rows if r is not left))
    context = {
        "shoot": shoot, "rows": rows, "left": left, "right": right,
        "view": compare_view(left, right, window_of(request)),
    }  # fmt: skip
    return render(request, "shoots/compare.html", context)


def _chosen(rows: list[Setup], key: str, usual: Setup) -> Setup:
    return next((row for row in rows if str(row.pk) == key), usual)


@login_required
@require_POST
@handle_gone
def settings_copy(request: HttpRequest, shoot_id: int, setup_id: int) -> HttpResponse:
    """Give this setup the settings of another one of the shoot."""
    row = setup_for(request, shoot_id, setup_id)
    source = setup_in(row.shoot, request.POST.get("source", ""))
    if source is None:
        messages.error(request, "Choose the setup whose settings to take.")
        return redirect(row)
    try:
        services.copy_settings(source, row)
    except RuleError as error:
        messages.error(request, f"Not copied: {error.field} {error.rule}.")
        return redirect(row)
    messages.success(request, f"{row} has the settings of {source}.")
    return redirect(row)
