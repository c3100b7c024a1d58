"""How a number came about: a box over the page that shows it, or a page of its own."""

from urllib.parse import urlencode

from django.contrib.auth.decorators import login_required
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_GET

from fotonomy.core.analysis.setup import analyse
from fotonomy.core.errors import RuleError
from fotonomy.shoots.mapping import packed_kit, spec_of
from fotonomy.shoots.presenters.working import (
    FINDING,
    finding_working,
    names_for,
    numbers_view,
    spec_with,
    working_view,
)
from fotonomy.shoots.views.lookup import gone_is_said, setup_for, wants_fragment

# What a plan that is offered would change: the numbers are then those of the plan.
WITH = "with"


@login_required
@require_GET
@gone_is_said
def working(request: HttpRequest, shoot_id: int, setup_id: int, name: str) -> HttpResponse:
    """The working of one number of a setup; 404 for a name that no setup has."""
    row = setup_for(request, shoot_id, setup_id)
    press = request.GET.get(WITH, "")
    names = names_for(row, f"?{urlencode({WITH: press})}" if press else "")
    context = {
        "row": row,
        "shoot": row.shoot,
        "offered": bool(press),
        "boxed": wants_fragment(request),
    }
    try:
        spec = spec_with(spec_of(row, packed_kit(row.shoot)), press)
        if name == "all":
            tile = request.GET.get("tile", "")
            context["tiles"] = numbers_view(spec, names, tile)
            context["one_tile"] = bool(tile)
        elif name.startswith(FINDING):
            context["finding"] = finding_working(spec, name, names)
        else:
            context["v"] = working_view(analyse(spec), name, names)
    except RuleError as error:
        raise Http404(str(error)) from error
    page = "shoots/_working.html" if context["boxed"] else "shoots/working.html"
    return render(request, page, context)
