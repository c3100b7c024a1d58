"""Lamps: each where it stands, at its distance, through this, as scene light."""

from typing import Any

from django.contrib.auth.decorators import login_required
from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_GET

from fotonomy.core.lamps.lamp import Lighting, Role
from fotonomy.core.notation import writing as n
from fotonomy.core.photometry.exposure_value import Lux
from fotonomy.core.spec.changes import Change
from fotonomy.exchange.changes_json import press_of
from fotonomy.figures.lanes.lamps import lamps_plan, lamps_words
from fotonomy.figures.svg import PHONE_PX, Size
from fotonomy.shoots.editing.lamps import MOST_LAMPS, LampsForm
from fotonomy.shoots.views.get_or_404 import (
    handle_gone,
    setup_for,
    wants_fragment,
    window_of,
)

# Half a metre behind what throws a shadow, its edge says how soft the light is.
EDGE_BEHIND_M = 0.5
# The drawing beside its sums, and how high it may be.
WIDEST_PX, DESK_HIGH_PX, PHONE_HIGH_PX = 1160, 420.0, 360.0


@login_required
@require_GET
@handle_gone
def lamps(request: HttpRequest, shoot_id: int, setup_id: int) -> HttpResponse:
    """Lamps as typed or dragged, what they bring, and a button that takes it over."""
    row = setup_for(request, shoot_id, setup_id)
    form = LampsForm(request.GET, row.shoot.owner)
    lighting = form.lighting()
    context: dict[str, Any] = {
        "row": row, "shoot": row.shoot, "form": form, "most": MOST_LAMPS,
        "brings": [], "lighting": lighting,
    }  # fmt: skip
    if lighting is not None:
        screen = window_of(request)
        size = Size(
            min(screen.within(), WIDEST_PX), PHONE_HIGH_PX if screen.phone else DESK_HIGH_PX,
            PHONE_PX if screen.phone else 12,
        )  # fmt: skip
        taken = Change("light", Lux(float(f"{lighting.lux:.4g}")))
        context |= {
            "words": lamps_words(lighting), "notes": _notes(lighting),
            "press": press_of((taken,)) if lighting.lux > 0 else "",
            "plan": lamps_plan(lighting, size),
        }  # fmt: skip
    page = "shoots/_lamps_answer.html" if wants_fragment(request) else "shoots/lamps.html"
    return render(request, page, context, status=200 if lighting else 422)


def _notes(lighting: Lighting) -> tuple[str, ...]:
    keys = lighting.of(Role.KEY)
    if not keys:
        return ()
    key = max((one.lamp for one in keys), key=lambda lamp: lamp.lux)
    notes = [
        f"a shadow's edge {n.format_length(EDGE_BEHIND_M)} behind what throws it is "
        f"{n.format_length(key.edge_m(EDGE_BEHIND_M))} wide",
        f"halving the key's distance brings {n.format_stops(key.halved_gain_stops)} more",
    ]
    if key.overstated_percent >= 1:
        notes.append(
            f"so close to a source so large the law of the square would say "
            f"{n.format_number(key.overstated_percent, 0)} % too much: it is counted as a disc"
        )
    return tuple(notes)
