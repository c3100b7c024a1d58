"""The day arranged by the solver: as it goes, and taken."""

import json
from collections.abc import Iterator
from queue import Empty, Queue
from threading import Event, Thread
from typing import Any

from django.contrib import messages
from django.contrib.auth.decorators import login_required
from django.core import signing
from django.http import HttpRequest, HttpResponse, StreamingHttpResponse
from django.urls import reverse
from django.views.decorators.http import require_GET, require_POST

from fotonomy.core.day.arrange import LONGEST_S, Arrangement, Progress, arrange
from fotonomy.core.notation.reading import whole_number
from fotonomy.days.arranging import ToArrange, left_out_words, to_arrange
from fotonomy.days.reschedule import place_all
from fotonomy.shoots.models import Day, Shoot
from fotonomy.shoots.views.get_or_404 import day_in, go_to, handle_gone, made_before, shoot_for
from fotonomy.web.long_work import one_at_a_time

MOST_SPARE_MIN = 120
# The result in words goes to the page and comes back with what it takes.
SALT = "arranged"
# What a person may wait at most for a piece of the stream, in seconds.
LONGEST_PIECE_S = 20.0


def _asked(request: HttpRequest, shoot: Shoot, day: Day) -> tuple[ToArrange, int]:
    """What to arrange: this day or all of them, with so many minutes to spare between setups."""
    sent: Any = request.GET if request.method == "GET" else request.POST
    days = list(shoot.days_by_id.values()) if sent.get("scope") == "all" else [day]
    spare = whole_number(sent.get("spare", ""), MOST_SPARE_MIN)
    return to_arrange(shoot, days), 5 if spare is None else spare


@login_required
@require_GET
@handle_gone
@one_at_a_time
def arrange_go(request: HttpRequest, shoot_id: int, day_id: int) -> StreamingHttpResponse:
    """The search as it goes: a line of JSON for every better order, the last one with the result.

    Nothing is changed: the page sends what it takes to ``day_arrange``.
    """
    shoot = shoot_for(request, shoot_id)
    day = day_in(shoot, day_id)
    given, spare = _asked(request, shoot, day)
    return StreamingHttpResponse(_lines(given, spare), content_type="application/x-ndjson")


def _lines(given: ToArrange, spare: int) -> Iterator[bytes]:
    told: Queue[dict[str, Any]] = Queue()
    stop = Event()

    def better(so_far: Progress) -> bool:
        told.put({"placed": so_far.placed, "of": len(given.tasks), "starts": so_far.starts})
        return not stop.is_set()

    def work() -> None:
        try:
            found = arrange(given.tasks, given.way, spare_min=spare, better=better)
            told.put({
                "done": True, "placed": len(found.starts), "of": len(given.tasks),
                "starts": found.starts, "said": signing.dumps(said(found, given), salt=SALT),
            })  # fmt: skip
        except Exception:
            told.put({"failed": True})
            raise

    Thread(target=work, daemon=True).start()
    try:
        while True:
            try:
                line = told.get(timeout=LONGEST_PIECE_S)
            except Empty:
                return
            yield json.dumps(line).encode() + b"\n"
            if line.get("done") or line.get("failed"):
                return
    finally:
        stop.set()


def said(found: Arrangement, given: ToArrange) -> list[str]:
    """The result in sentences: how many, how good, and why the rest is left out."""
    count, total = len(found.starts), len(given.tasks)
    head = f"Arranged: {count} of {total} setups have an hour. {found.words}."
    return [head, *left_out_words(found, given.names)]


@login_required
@require_POST
@handle_gone
@one_at_a_time
def day_arrange(request: HttpRequest, shoot_id: int, day_id: int) -> HttpResponse:
    """Arrange the day, or take the order that was found on the page; one step to undo."""
    shoot = shoot_for(request, shoot_id)
    day = day_in(shoot, day_id)
    if not made_before(request, shoot):
        given, spare = _asked(request, shoot, day)
        starts = _sent(request, given)
        if starts is None:
            found = arrange(given.tasks, given.way, spare_min=spare, seconds=LONGEST_S)
            starts = found.starts
            result = said(found, given)
        else:
            result = _result(request, starts, given)
        moments = given.moments(starts)
        left = [key for key in given.names if key not in moments]
        relit = place_all(shoot, moments, left, request.POST.get("light") != "keep")
        for words in result:
            messages.info(request, words)
        if relit:
            many = "One setup" if relit == 1 else f"{relit} setups"
            whose = "its" if relit == 1 else "their"
            messages.info(request, f"{many} got new settings for {whose} new hour.")
    return go_to(request, reverse("day", args=[shoot.pk, day.pk]))


def _result(request: HttpRequest, starts: dict[int, int], given: ToArrange) -> list[str]:
    """What the search said of this order; of one that was stopped only how many have an hour."""
    try:
        found: list[str] = signing.loads(request.POST.get("said", ""), salt=SALT, max_age=3600)
        return found
    except signing.BadSignature:
        count, total = len(starts), len(given.tasks)
        return [f"Arranged: {count} of {total} setups have an hour; the search was stopped."]


def _sent(request: HttpRequest, given: ToArrange) -> dict[int, int] | None:
    """The order that a page found and sends; None where it sends none, or what is none."""
    try:
        data = json.loads(request.POST.get("starts", ""))
        starts = {int(key): int(minute) for key, minute in data.items()}
    except (ValueError, AttributeError, TypeError, OverflowError, RecursionError):
        return None
    last = given.last_minute
    if not all(0 <= minute <= last for minute in starts.values()):
        return None
    return {key: at for key, at in starts.items() if key in given.names}
