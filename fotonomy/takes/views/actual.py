"""Plan against actual: a page and a file."""

from django.contrib.auth.decorators import login_required
from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.utils.text import slugify
from django.views.decorators.http import require_GET

from fotonomy.figures.svg import PHONE_PX, Size
from fotonomy.figures.takes.actual import actual as drawn
from fotonomy.shoots.views.get_or_404 import handle_gone, shoot_for, window_of
from fotonomy.takes.presenters.actual import actual_view
from fotonomy.web.csv_files import csv_answer

WIDEST = 860.0
# The drawing beside the takes.
BESIDE = 520.0


def size_of(request: HttpRequest) -> Size:
    """How large a drawing of this room is in the window that asks."""
    screen = window_of(request)
    if screen.phone:
        return Size(screen.within(), 0, PHONE_PX)
    return Size(min(WIDEST, float(screen.within(30))))


@login_required
@require_GET
@handle_gone
def actual(request: HttpRequest, shoot_id: int) -> HttpResponse:
    """Every take against its plan, the largest differences first."""
    shoot = shoot_for(request, shoot_id)
    view = actual_view(shoot)
    # Markup of our own figure; what people typed in it is escaped by the pen.
    screen = window_of(request)
    size = Size(BESIDE) if not (screen.phone or screen.medium) else size_of(request)
    drawing = drawn(view.bars, size) if view.bars else ""
    return render(request, "takes/actual.html", {"shoot": shoot, "v": view, "drawing": drawing})


@login_required
@require_GET
@handle_gone
def actual_csv(request: HttpRequest, shoot_id: int) -> HttpResponse:
    """The same as CSV, a row a take."""
    shoot = shoot_for(request, shoot_id)
    header = ("take", "at", "verdict", "stops from the plan", "what differed", "hour", "camera",
              "why", "note", "by")  # fmt: skip
    rows = (
        (one.name, one.at, one.verdict, "" if one.stops is None else f"{one.stops:.2f}",
         "; ".join(one.differences), one.late, one.wrote, one.why, one.note, one.by)
        for one in actual_view(shoot).lines
    )  # fmt: skip
    return csv_answer(f"{slugify(shoot.name) or 'shoot'}-actual.csv", header, rows)
