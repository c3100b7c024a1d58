"""Lamps: this lamp at this distance through this, as scene light."""

from django.contrib.auth.decorators import login_required
from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.utils.safestring import mark_safe
from django.views.decorators.http import require_GET

from fotonomy.core.lamps.lamp import Lighting
from fotonomy.core.notation import writing as n
from fotonomy.core.photometry.exposure_value import Lux
from fotonomy.core.spec.changes import Change
from fotonomy.exchange.changes_json import press_of
from fotonomy.figures.lanes.lamps import lamps_figure, lamps_words
from fotonomy.figures.svg import CUTS
from fotonomy.shoots.editing.lamps import LampsForm
from fotonomy.shoots.views.get_or_404 import handle_gone, setup_for

# Half a metre behind what throws a shadow, its edge says how soft the light is.
EDGE_BEHIND_M = 0.5


@login_required
@require_GET
@handle_gone
def lamps(request: HttpRequest, shoot_id: int, setup_id: int) -> HttpResponse:
    """Key and fill as typed, what they bring to the subject, and a button that takes it over."""
    row = setup_for(request, shoot_id, setup_id)
    asked = "key_lux" in request.GET
    form = LampsForm(request.GET if asked else LampsForm.USUAL)
    lighting = form.lighting() if form.is_valid() else None
    context = {"row": row, "shoot": row.shoot, "form": form}
    if lighting is not None:
        taken = Change("light", Lux(float(f"{lighting.lux:.4g}")))
        context |= {
            "words": lamps_words(lighting),
            "notes": _notes(lighting),
            "press": press_of((taken,)),
            # Markup from our own figure, which escapes every text a person typed.
            "figures": [(cut, mark_safe(lamps_figure(lighting, px))) for cut, px in CUTS.items()],
        }
    return render(request, "shoots/lamps.html", context, status=200 if lighting else 422)


def _notes(lighting: Lighting) -> tuple[str, ...]:
    key = lighting.key
    notes = [
        f"a shadow's edge {n.format_length(EDGE_BEHIND_M)} behind what throws it is "
        f"{n.format_length(key.edge_m(EDGE_BEHIND_M))} wide",
        f"halving the distance brings {n.format_stops(key.halved_gain_stops)} more",
    ]
    if key.overstated_percent >= 1:
        notes.append(
            f"so close to a source so large the law of the square would say "
            f"{n.format_number(key.overstated_percent, 0)} % too much: it is counted as a disc"
        )
    return tuple(notes)
