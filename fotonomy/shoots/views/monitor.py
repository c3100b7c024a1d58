"""The monitor stand-in and the page of methods, meters and profiles."""

from django.contrib.auth.decorators import login_required
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import render
from django.utils.safestring import mark_safe
from django.views.decorators.http import require_GET

from fotonomy.core.analysis.setup import analyse
from fotonomy.exchange.pictures import reduced, write_jpeg, write_webp
from fotonomy.figures.monitor.scopes import scope_marks
from fotonomy.figures.monitor.stops_key import stop_key
from fotonomy.figures.svg import DESK_PX, PHONE_PX, Size
from fotonomy.shoots.mapping import spec_of
from fotonomy.shoots.packed_kit import packed_kit
from fotonomy.shoots.presenters.exposure_page import level_page
from fotonomy.shoots.presenters.level_lane import monitor_view
from fotonomy.shoots.views.get_or_404 import handle_gone, setup_for, wants_fragment, window_of
from fotonomy.simulators.monitor import SCOPES as LAYOUT
from fotonomy.simulators.monitor import View, picture, scopes, signal_of

SCOPES = "scopes"
SHRINK = 2
KEY_PX = 560
CHOICE = "monitor_view"


def monitor_choice(request: HttpRequest) -> str:
    """What the person's monitor shows, kept from setup to setup."""
    chosen = request.session.get(CHOICE, "")
    return chosen if chosen in set(View) else View.ZEBRAS.value


def choose_monitor(request: HttpRequest) -> None:
    """Keep what was chosen to be shown, if that was sent."""
    chosen = request.POST.get(CHOICE)
    if chosen in set(View) and chosen != monitor_choice(request):
        request.session[CHOICE] = chosen


@login_required
@require_GET
@handle_gone
def monitor_picture(request: HttpRequest, shoot_id: int, setup_id: int, view: str) -> HttpResponse:
    """One picture of the monitor, or its scopes. Its address carries a digest of all it shows."""
    if view != SCOPES and view not in set(View):
        raise Http404
    row = setup_for(request, shoot_id, setup_id)
    analysis = analyse(spec_of(row, packed_kit(row.shoot)))
    # In a tile it is shown at a quarter of its size: half the pixels each way are enough.
    signal = signal_of(analysis, SHRINK if request.GET.get("small") else 1)
    drawn = scopes(signal) if view == SCOPES else picture(analysis, signal, View(view))
    if request.GET.get("small"):
        shown = write_webp(reduced(drawn, SHRINK) if view == SCOPES else drawn)
        response = HttpResponse(shown, content_type="image/webp")
    else:
        response = HttpResponse(write_jpeg(drawn), content_type="image/jpeg")
    fresh = request.GET.get("of") == monitor_view(analysis, View.ZEBRAS.value).digest
    response["Cache-Control"] = "private, max-age=86400" if fresh else "no-store"
    return response


@login_required
@require_GET
@handle_gone
def monitor(request: HttpRequest, shoot_id: int, setup_id: int) -> HttpResponse:
    """The monitor on a page of its own: every view, scopes, and the key to the stops."""
    row = setup_for(request, shoot_id, setup_id)
    analysis = analyse(spec_of(row, packed_kit(row.shoot)))
    shown = monitor_view(analysis, View.RECORDED.value)
    screen = window_of(request)
    px = PHONE_PX if screen.phone else DESK_PX
    scope = Size(min(LAYOUT.width, screen.content), text_px=px)
    key = Size(min(KEY_PX, screen.content), text_px=px)
    context = {
        "row": row, "shoot": row.shoot, "analysis": analysis, "views": list(View),
        "digest": shown.digest, "words": shown.words,
        # Markup from our own figures, which escape what a person typed.
        "key": mark_safe(stop_key(key)),
        "scope_marks": mark_safe(scope_marks(analysis.level, LAYOUT, scope)),
        "scope_px": int(scope.width),
        "scope_high_px": int(scope.width * LAYOUT.height / LAYOUT.width),
    }  # fmt: skip
    return render(request, "shoots/monitor.html", context)


@login_required
@require_GET
@handle_gone
def level(request: HttpRequest, shoot_id: int, setup_id: int) -> HttpResponse:
    """Methods side by side, meters, profiles, and whether there is enough light."""
    row = setup_for(request, shoot_id, setup_id)
    context = {"view": level_page(row), "row": row, "shoot": row.shoot}
    page = "shoots/_level.html" if wants_fragment(request) else "shoots/level.html"
    return render(request, page, context)
