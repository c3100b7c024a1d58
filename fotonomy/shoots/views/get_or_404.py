"""Finding what a request is about; every look-up goes through the door of its shoot."""

import dataclasses
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from functools import wraps
from typing import Any, TypeVar, cast

from django.contrib import messages
from django.db import transaction
from django.http import Http404, HttpRequest, HttpResponse
from django.http.response import HttpResponseBase
from django.shortcuts import get_object_or_404, redirect, render

from fotonomy.core.gear.body import Body
from fotonomy.core.gear.lens import Lens
from fotonomy.core.gear.profile import Profile
from fotonomy.core.notation.reading import whole_number
from fotonomy.core.parsing.table import by_name
from fotonomy.figures.svg import CUTS, NARROW, WIDE
from fotonomy.kit.quotas import QuotaError
from fotonomy.shoots import history
from fotonomy.shoots.mapping import UnplannableError
from fotonomy.shoots.models import Change, Day, Setup, Shoot
from fotonomy.shoots.presenters.layout import Screen, screen_of
from fotonomy.shoots.views.access import check_access
from fotonomy.shoots.write_lock import in_turn

# Sent by the bench: it asks for parts of a page, in the cut of the drawings it shows.
GONE = "This setup was deleted in another window. Undo there, or here, brings it back."
View = TypeVar("View", bound=Callable[..., HttpResponseBase])
FRAGMENT_HEADER = "X-Fotonomy-Fragment"
# Whether a change was sent before, and how far a window has seen.
AGAIN_HEADER = "X-Fotonomy-Again"
SEEN_HEADER = "X-Fotonomy-Seen"
# Answered to a script: the page to go to.
GO_HEADER = "X-Fotonomy-Go"


def shoot_for(request: HttpRequest, shoot_id: int) -> Shoot:
    """The shoot of this id, for its owner and its crew; 404 for anybody else.

    Raises RefusedError where the role of the person is not enough for the address.
    """
    rows = Shoot.objects.select_related("owner").annotate(newest=Change.newest_of("pk"))
    shoot: Shoot = get_object_or_404(rows, pk=shoot_id)
    shoot.seen = shoot.__dict__["newest"]
    check_access(request, shoot)
    return shoot


@contextmanager
def shoot_in_turn(request: HttpRequest, shoot_id: int) -> Iterator[Shoot]:
    """The shoot as it is now, and nobody else writes to it until what is inside is written."""
    with in_turn(), transaction.atomic():
        history.lock(shoot_for(request, shoot_id))
        yield shoot_for(request, shoot_id)


def day_in(shoot: Shoot, day_id: int) -> Day:
    """A day of a shoot; 404 where it has none of this id."""
    if day_id not in shoot.days_by_id:
        raise Http404
    day: Day = shoot.days_by_id[day_id]
    return day


def setup_for(request: HttpRequest, shoot_id: int, setup_id: int) -> Setup:
    """A setup of a shoot, as ``shoot_for``."""
    rows = Setup.objects.select_related("shoot__owner").planned()
    rows = rows.annotate(newest=Change.newest_of("shoot"))
    row: Setup = get_object_or_404(rows, pk=setup_id, shoot_id=shoot_id)
    row.shoot.seen = row.__dict__["newest"]
    check_access(request, row.shoot)
    return row


def named_setup(request: HttpRequest, shoot_id: int, setup_id: int) -> Setup:
    """A setup by its address alone, for what reads it again under its shoot before it writes."""
    return Setup(pk=setup_id, shoot=shoot_for(request, shoot_id))


def setup_in(shoot: Shoot, key: str) -> Setup | None:
    """A setup of a shoot by an id that was typed or sent; None if there is none."""
    if (pk := whole_number(key)) is None:
        return None
    row = shoot.setups.planned().filter(pk=pk).first()
    if row is not None:
        row.shoot = shoot
    return row


def handle_gone(view: View) -> View:
    """A view of a setup that may be deleted meanwhile, or stored so that it cannot be planned.

    Then it says so, with a way back.
    """

    @wraps(view)
    def guarded(request: HttpRequest, shoot_id: int, *arguments: Any, **more: Any) -> Any:
        try:
            return view(request, shoot_id, *arguments, **more)
        except QuotaError as error:
            messages.error(request, f"{error}.")
            return go_to(request, shoot_for(request, shoot_id))
        except Setup.DoesNotExist:
            messages.error(request, GONE, extra_tags="undo")
            return go_to(request, shoot_for(request, shoot_id))
        except UnplannableError as error:
            key = str(more.get("setup_id") or request.GET.get("left", ""))
            return unplannable(request, shoot_for(request, shoot_id), key, error)

    return cast(View, guarded)


# Things of the kit a rule may be about, by the field it names or the class it stands in.
_OF_BODY = {field.name for field in dataclasses.fields(Body)}
_OF_LENS = {field.name for field in dataclasses.fields(Lens)}
_OF_PROFILE = {field.name for field in dataclasses.fields(Profile)}


def unplannable(
    request: HttpRequest, shoot: Shoot, key: str, error: UnplannableError
) -> HttpResponse:
    """What is wrong with a stored setup, and the ways out: undo, the gear it names, deleting it."""
    row = setup_in(shoot, key)
    if wants_fragment(request):
        return go_to(request, row or shoot)
    gear: Any = None
    if row is not None and error.field not in by_name():
        for sort, thing, names in (
            ("body", row.body, _OF_BODY), ("lens", row.lens, _OF_LENS),
            ("profile", row.profile, _OF_PROFILE),
        ):  # fmt: skip
            gear = gear or ((sort, thing) if error.field in names else None)
    label = by_name()[error.field].label if error.field in by_name() else error.field
    context = {
        "shoot": shoot, "row": row, "error": error, "label": label, "gear": gear,
        "here": row.pk if row else "", "rows": shoot.setups.only("shoot_id", "code", "title"),
        **history_state(shoot),
    }  # fmt: skip
    return render(request, "shoots/unplannable.html", context, status=409)


def go_to(request: HttpRequest, place: str | Setup | Shoot) -> HttpResponse:
    """On to another page. A script that asks for a part of a page is told where to go.

    A redirect would be followed by its request, which would use up the message for the page.
    """
    answer = redirect(place)
    if not wants_fragment(request):
        return answer
    told = HttpResponse(status=204)
    told[GO_HEADER] = answer.url
    return told


def made_before(request: HttpRequest, shoot: Shoot) -> bool:
    """True for a change that is sent again although it was made the first time."""
    return AGAIN_HEADER in request.headers and history.was_made(shoot)


def seen_by(request: HttpRequest) -> int | None:
    """The row of the log up to which a person has read the news; None where nobody says."""
    return whole_number(request.headers.get(SEEN_HEADER, ""))


def wants_fragment(request: HttpRequest) -> bool:
    """True if the bench asks, not the address line."""
    return FRAGMENT_HEADER in request.headers


SCREEN_COOKIE = "screen"


def window_of(request: HttpRequest) -> Screen:
    """The window the page is shown in, as its scripts said.

    A page that asks says what it was drawn for: its scripts draw it again where that is not so.
    """
    said = request.COOKIES.get(SCREEN_COOKIE, "")
    if request.method == "GET":
        request.drawn_for = said  # type: ignore[attr-defined]
    return screen_of(said)


def figure_width(request: HttpRequest) -> float:
    """Width in px of the cut the bench shows, or the page that is asked for by itself."""
    usual = NARROW if window_of(request).phone else WIDE
    return CUTS.get(request.headers.get(FRAGMENT_HEADER, ""), usual)


def back_to_bench(request: HttpRequest, row: Setup, words: str) -> HttpResponse:
    messages.info(request, words)
    return redirect(row)


def history_state(shoot: Shoot, step: Change | None = None) -> dict[str, object]:
    """The steps that undo and redo would take, and how far the log has been seen."""
    if step is not None:
        # Just made: it knows the rest itself.
        return {"last_step": step, "next_step": step.next_step, "seen": step.pk}
    last, following = history.ends(shoot)
    return {"last_step": last, "next_step": following, "seen": history.seen(shoot)}


def back_to(request: HttpRequest, shoot: Shoot) -> Setup | Shoot:
    return setup_in(shoot, request.POST.get("setup", "")) or shoot
