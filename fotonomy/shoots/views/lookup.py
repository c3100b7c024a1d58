"""Finding what a request is about; every look-up goes through the owner."""

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect

from fotonomy.figures.svg import CUTS, WIDE
from fotonomy.kit.owner import owner_of
from fotonomy.shoots.models import Setup, Shoot

# Sent by the bench: it asks for parts of a page, in the cut of the drawings it shows.
FRAGMENT_HEADER = "X-Fotonomy-Fragment"


def own_shoot(request: HttpRequest, shoot_id: int) -> Shoot:
    """The person's shoot of this id; 404 for anybody else's."""
    shoot = get_object_or_404(Shoot, pk=shoot_id, owner=owner_of(request))
    shoot.owner = owner_of(request)
    return shoot


def own_setup(request: HttpRequest, shoot_id: int, setup_id: int) -> Setup:
    """The person's setup of this shoot; 404 for anybody else's."""
    rows = Setup.objects.select_related("shoot", "body", "lens", "profile")
    row = get_object_or_404(rows, pk=setup_id, shoot_id=shoot_id, shoot__owner=owner_of(request))
    row.shoot.owner = owner_of(request)
    return row


def setup_in(shoot: Shoot, key: str) -> Setup | None:
    """A setup of a shoot by an id that was typed or sent; None if there is none."""
    if not (key.isascii() and key.isdigit() and len(key) < 19):
        return None
    row = shoot.setups.select_related("body", "lens", "profile").filter(pk=int(key)).first()
    if row is not None:
        row.shoot = shoot
    return row


def wants_fragment(request: HttpRequest) -> bool:
    """True if the bench asks, not the address line."""
    return FRAGMENT_HEADER in request.headers


def figure_width(request: HttpRequest) -> float:
    """Width in px of the cut the bench shows."""
    return CUTS.get(request.headers.get(FRAGMENT_HEADER, ""), WIDE)


def back_to_bench(request: HttpRequest, row: Setup, words: str) -> HttpResponse:
    messages.info(request, words)
    return redirect(row)


def history_state(shoot: Shoot) -> dict[str, object]:
    return {
        "last_step": shoot.changes.filter(undone=False).last(),
        "next_step": shoot.changes.filter(undone=True).first(),
    }


def back_to(request: HttpRequest, shoot: Shoot) -> Setup | Shoot:
    return setup_in(shoot, request.POST.get("setup", "")) or shoot
