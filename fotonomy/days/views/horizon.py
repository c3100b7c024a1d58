"""The horizon of a place: drawn, taken from a picture, or from a file."""

import json
from datetime import UTC
from typing import Any

from django.contrib import messages
from django.contrib.auth.decorators import login_required
from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_POST

from fotonomy.core.day.almanac import day_of
from fotonomy.core.errors import RuleError
from fotonomy.core.parsing.schedule import parse_looks
from fotonomy.core.sky.panorama import Panorama, Projection
from fotonomy.figures.day.horizon import HorizonView, horizon
from fotonomy.figures.svg import PHONE_PX, Size
from fotonomy.shoots.editing.forms import sentence
from fotonomy.shoots.editing.places import parse_horizon
from fotonomy.shoots.mapping import sky_of
from fotonomy.shoots.models import Place, Shoot
from fotonomy.shoots.services.shoots import change_part
from fotonomy.shoots.views.get_or_404 import handle_gone, made_before, shoot_for, window_of

WIDEST_PX = 920
MOST_MARKS = 200
EDGES = ("left_deg", "right_deg")
LARGEST_FILE_BYTES = 64 * 1024


def _asked(request: HttpRequest, shoot_id: int, place_id: int) -> tuple[Shoot, Place]:
    shoot = shoot_for(request, shoot_id)
    place = get_object_or_404(shoot.places, pk=place_id)
    place.shoot = shoot
    return shoot, place


@login_required
@handle_gone
def horizon_page(request: HttpRequest, shoot_id: int, place_id: int) -> HttpResponse:
    """GET shows the horizon, POST takes points marked on a picture into it."""
    shoot, place = _asked(request, shoot_id, place_id)
    if request.method != "POST":
        return _shown(request, shoot, place)
    if made_before(request, shoot):
        return redirect("horizon", shoot.pk, place.pk)
    try:
        picture = _panorama(request)
        points = picture.redrawn(_marked(request), place.land.points)
    except RuleError as error:
        field = error.field if error.field in EDGES else "points"
        return _shown(request, shoot, place, {field: sentence(error.rule)}, 422)
    place.horizon = [[one.azimuth_deg, one.altitude_deg] for one in points]
    change_part(place, f"horizon of {place} from a picture")
    messages.success(request, f"{place} has a horizon of {len(points)} points.")
    return redirect("horizon", shoot.pk, place.pk)


def _panorama(request: HttpRequest) -> Panorama:
    sent = request.POST
    edges = {}
    for name in EDGES:
        try:
            found = parse_looks(sent.get(name, ""))
        except RuleError as error:
            raise RuleError(name, error.rule, error.value) from error
        if found is None:
            raise RuleError(name, "a direction such as 305 or NW", sent.get(name))
        edges[name] = found
    flat = sent.get("projection") == Projection.FLAT.value
    return Panorama(
        **edges, level=_share(sent.get("level", "0.5"), "level"),
        aspect=_share(sent.get("aspect", ""), "points"),
        projection=Projection.FLAT if flat else Projection.SWEPT,
    )  # fmt: skip


def _share(text: str, field: str) -> float:
    try:
        return float(text)
    except ValueError:
        raise RuleError(
            field, "choose a picture and mark the line of the land on it", text
        ) from None


def _marked(request: HttpRequest) -> list[tuple[float, float]]:
    """Points as shares of the picture's width and height, as the page's script sends them."""
    try:
        given = json.loads(request.POST.get("points", "") or "[]")
        marked = [(float(x), float(y)) for x, y in given]
    except (ValueError, TypeError, RecursionError):
        marked = []
    if len(marked) > MOST_MARKS:
        raise RuleError("points", f"at most {MOST_MARKS} points", len(marked))
    return marked


def _shown(
    request: HttpRequest, shoot: Shoot, place: Place, errors: dict[str, str] | None = None,
    status: int = 200,
) -> HttpResponse:  # fmt: skip
    screen = window_of(request)
    width = min(screen.within(), WIDEST_PX)
    day = shoot.first_day
    span = day_of(day.midnight(place.zone).astimezone(UTC))
    view = HorizonView(
        place.land, sky_of(place, day), span.starts, span.ends, place.zone,
        f"sun and moon on {day}",
    )  # fmt: skip
    sent: Any = request.POST
    context = {
        "shoot": shoot, "place": place, "day": day, "errors": errors or {},
        "drawing": horizon(view, Size(width, 0, PHONE_PX if screen.phone else 12)),
        "typed": sent if errors else {},
    }  # fmt: skip
    return render(request, "days/horizon.html", context, status=status)


@login_required
@require_POST
@handle_gone
def horizon_import(request: HttpRequest, shoot_id: int, place_id: int) -> HttpResponse:
    """A horizon from a file of pairs, such as CSV: it takes the place of the one there was."""
    shoot, place = _asked(request, shoot_id, place_id)
    upload = request.FILES.get("file")
    if upload is None:
        return _shown(request, shoot, place, {"file": "Choose a file of pairs first"}, 422)
    raw = upload.read(LARGEST_FILE_BYTES + 1)
    try:
        if len(raw) > LARGEST_FILE_BYTES:
            raise RuleError("file", f"is larger than {LARGEST_FILE_BYTES // 1024} kB", None)
        pairs = parse_horizon(raw.decode("utf-8-sig").replace("\t", " ").replace(";", " "))
    except UnicodeDecodeError:
        return _shown(request, shoot, place, {"file": "This is no text in UTF-8"}, 422)
    except RuleError as error:
        return _shown(request, shoot, place, {"file": sentence(error.rule)}, 422)
    place.horizon = pairs
    change_part(place, f"horizon of {place} from a file")
    messages.success(request, f"{place} has a horizon of {len(pairs)} points.")
    return redirect("horizon", shoot.pk, place.pk)


@login_required
@handle_gone
def horizon_file(request: HttpRequest, shoot_id: int, place_id: int) -> HttpResponse:
    """The horizon as CSV."""
    _, place = _asked(request, shoot_id, place_id)
    rows = [f"{azimuth:g},{height:g}" for azimuth, height in place.horizon]
    answer = HttpResponse(
        "\n".join(["azimuth,height", *rows, ""]), content_type="text/csv; charset=utf-8"
    )
    answer["Content-Disposition"] = 'attachment; filename="horizon.csv"'
    return answer
