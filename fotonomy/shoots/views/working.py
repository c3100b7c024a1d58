"""How a number came about: a box over the page that shows it, or a page of its own."""

from math import isfinite
from typing import Any
from urllib.parse import urlencode

from django.contrib.auth.decorators import login_required
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_GET

from fotonomy.core.analysis.setup import analyse
from fotonomy.core.errors import RuleError
from fotonomy.core.working.standalone.working import topic_of
from fotonomy.shoots.mapping import spec_of
from fotonomy.shoots.packed_kit import packed_kit
from fotonomy.shoots.presenters.working import (
    FINDING,
    WITH,
    finding_working,
    loose_view,
    names_for,
    numbers_view,
    spec_with,
    topic_view,
    working_view,
)
from fotonomy.shoots.views.get_or_404 import handle_gone, setup_for, wants_fragment

_BOXED = "shoots/_working.html"


@login_required
@require_GET
def loose(request: HttpRequest, name: str) -> HttpResponse:
    """The working of a number of no setup, of the values in its address; 404 for what is none."""
    found = ((key, _number(text)) for key, text in request.GET.items())
    given = {key: number for key, number in found if number is not None}
    context: dict[str, Any] = {"boxed": wants_fragment(request)}
    try:
        context["v"] = loose_view(name, given)
    except RuleError as error:
        raise Http404(str(error)) from error
    return render(request, _BOXED if context["boxed"] else "shoots/loose.html", context)


def _number(text: Any) -> float | None:
    """A number in an address; None for what is none or has no end."""
    try:
        found = float(text)
    except (TypeError, ValueError):
        return None
    return found if isfinite(found) else None


@login_required
@require_GET
def topic(request: HttpRequest, key: str) -> HttpResponse:
    """How the numbers of a kind of page are worked out."""
    try:
        found = topic_of(key)
    except RuleError as error:
        raise Http404(str(error)) from error
    context = {"topic": topic_view(found), "boxed": wants_fragment(request)}
    return render(request, _BOXED if context["boxed"] else "shoots/loose.html", context)


@login_required
@require_GET
@handle_gone
def working(request: HttpRequest, shoot_id: int, setup_id: int, name: str) -> HttpResponse:
    """The working of one number of a setup; 404 for a name that no setup has."""
    row = setup_for(request, shoot_id, setup_id)
    press = request.GET.get(WITH, "")
    names = names_for(row, f"?{urlencode({WITH: press})}" if press else "")
    context: dict[str, Any] = {
        "row": row, "shoot": row.shoot, "offered": bool(press), "boxed": wants_fragment(request),
    }  # fmt: skip
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
    return render(request, _BOXED if context["boxed"] else "shoots/working.html", context)
