"""Exercises of one's own setups and of what went wrong; exercises made ahead for the road."""

from datetime import datetime, timedelta
from random import randint
from typing import Any

from django.contrib import messages
from django.contrib.auth.decorators import login_required
from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone
from django.views.decorators.http import require_GET, require_http_methods, require_POST

from fotonomy.core.drill.exercise import Exercise
from fotonomy.core.drill.exercise_kind import ExerciseKind
from fotonomy.core.drill.generate import exercise, kinds_of, of_actual, own_exercise
from fotonomy.core.drill.grading import Mark
from fotonomy.core.errors import RuleError
from fotonomy.core.takes.actual import actual_of
from fotonomy.drill.presenters.offline_bundle import taken
from fotonomy.drill.services import keep_answer, next_of
from fotonomy.drill.views.pages import (
    answered,
    look_page,
    picture_page,
    uid_of,
    working_page,
)
from fotonomy.field.intake import parse_moment
from fotonomy.field.models import Take
from fotonomy.field.services import clock_off_s
from fotonomy.kit.current_user import current_user
from fotonomy.shoots.editing.forms import sentence
from fotonomy.shoots.mapping import planned_setups, spec_of
from fotonomy.shoots.models import Setup, Shoot
from fotonomy.shoots.packed_kit import packed_kit
from fotonomy.shoots.views.get_or_404 import handle_gone, setup_for, shoot_for
from fotonomy.web.limits import SENT_AT_ONCE
from fotonomy.web.sent_json import sent_json

# Exercises that go along for the road.
AHEAD = 12
LARGEST_SEND_BYTES = 2**20
# When an answer may have been given, by a clock that was put right.
LONGEST_AGO, AHEAD_OF_NOW = timedelta(days=366), timedelta(days=1)


@login_required
@require_GET
@handle_gone
def of_setup(request: HttpRequest, shoot_id: int, setup_id: int) -> HttpResponse:
    """An exercise of a setup, of a kind that it can be; a new one at every press."""
    row = setup_for(request, shoot_id, setup_id)
    spec = spec_of(row, packed_kit(row.shoot))
    wanted = request.GET.get("kind", "")
    able = list(kinds_of(spec))
    kinds = [ExerciseKind.of(wanted)] if wanted in able else able
    start = randint(0, len(kinds) - 1)
    seed = randint(0, 9999)
    for kind in (*kinds[start:], *kinds[:start]):
        if own_exercise(kind, 1, seed, spec) is not None:
            return redirect("drill-own", shoot_id, setup_id, kind.value, 1, seed)
    messages.info(
        request, "This setup makes no exercise: there is nothing in it to balance or to place."
    )
    return redirect(row)


def _own(row: Setup, kind: str, level: int, seed: int) -> Exercise:
    if kind not in set(ExerciseKind) or level not in (1, 2, 3) or seed > 999_999:
        raise Http404
    found = own_exercise(ExerciseKind.of(kind), level, seed, spec_of(row, packed_kit(row.shoot)))
    if found is None:
        raise Http404
    return found


@login_required
@require_http_methods(["GET", "POST"])
@handle_gone
def own(
    request: HttpRequest, shoot_id: int, setup_id: int, kind: str, level: int, seed: int
) -> HttpResponse:
    """An exercise of a setup. Where the setup was changed meanwhile it may be another, or none."""
    row = setup_for(request, shoot_id, setup_id)
    return answered(
        request, _own(row, kind, level, seed), request.path, row.pk, row=row, shoot=row.shoot
    )


@login_required
@require_GET
@handle_gone
def own_working(
    request: HttpRequest, shoot_id: int, setup_id: int, kind: str, level: int, seed: int, name: str
) -> HttpResponse:
    """The working of a number of such an exercise."""
    row = setup_for(request, shoot_id, setup_id)
    address = request.path.rsplit("working/", 1)[0]
    return working_page(request, _own(row, kind, level, seed), address, name)


@login_required
@require_GET
@handle_gone
def own_look(
    request: HttpRequest, shoot_id: int, setup_id: int, kind: str, level: int, seed: int
) -> HttpResponse:
    """What one turns after the answer."""
    row = setup_for(request, shoot_id, setup_id)
    return look_page(request, _own(row, kind, level, seed))


@login_required
@require_GET
@handle_gone
def own_picture(
    request: HttpRequest, shoot_id: int, setup_id: int, kind: str, level: int, seed: int
) -> HttpResponse:
    """A picture of such an exercise."""
    row = setup_for(request, shoot_id, setup_id)
    return picture_page(request, _own(row, kind, level, seed))


@login_required
@require_http_methods(["GET", "POST"])
@handle_gone
def of_take(request: HttpRequest, shoot_id: int, take_id: int) -> HttpResponse:
    """What was set otherwise than planned, as an exercise: how far was the light off?"""
    shoot = shoot_for(request, shoot_id)
    asked, row = _of_take(shoot, take_id)
    if row is None:
        messages.info(request, "Its setup is gone, so there is nothing to work out.")
        return redirect("actual", shoot_id)
    if asked is None:
        messages.info(request, "This take was set as planned: nothing to practise.")
        return redirect("actual", shoot_id)
    return answered(request, asked, request.path, row.pk, row=row, shoot=shoot)


def _of_take(shoot: Shoot, take_id: int) -> tuple[Exercise | None, Setup | None]:
    """The exercise of a take and its setup; 404 for no take, None for what is not there."""
    take = get_object_or_404(Take, pk=take_id, shoot=shoot)
    spec, row = planned_setups(shoot).get(take.setup_key, (None, None))
    if spec is None or row is None:
        return None, None
    actual = actual_of(spec, take.planned, take.differed)
    if not any(one.stops for one in actual.differences):
        return None, row
    return of_actual(actual, str(take), take.pk), row


def _asked_of(request: HttpRequest, shoot_id: int, take_id: int) -> Exercise:
    asked, _ = _of_take(shoot_for(request, shoot_id), take_id)
    if asked is None:
        raise Http404
    return asked


@login_required
@require_GET
@handle_gone
def take_look(request: HttpRequest, shoot_id: int, take_id: int) -> HttpResponse:
    """What one turns after the answer."""
    return look_page(request, _asked_of(request, shoot_id, take_id))


@login_required
@require_GET
@handle_gone
def take_picture(request: HttpRequest, shoot_id: int, take_id: int) -> HttpResponse:
    """A picture of such an exercise."""
    return picture_page(request, _asked_of(request, shoot_id, take_id))


@login_required
@require_GET
@handle_gone
def take_working(request: HttpRequest, shoot_id: int, take_id: int, name: str) -> HttpResponse:
    """The working of a number of such an exercise."""
    address = request.path.rsplit("working/", 1)[0]
    return working_page(request, _asked_of(request, shoot_id, take_id), address, name)


@login_required
@require_GET
def ahead(request: HttpRequest) -> HttpResponse:
    """Exercises for the road, with their answers: a page that works without a network."""
    chosen = next_of(current_user(request), timezone.now(), AHEAD)
    asked = (exercise(one.kind, one.level, one.seed) for one in chosen)
    made = [taken(one, number) for number, one in enumerate(asked, 1)]
    context = {"exercises": made, "made": timezone.now(), "marks": tuple(Mark)}
    return render(request, "drill/ahead.html", context)


@login_required
@require_POST
def send(request: HttpRequest) -> JsonResponse:
    """Answers that were given without a network: each counts once, or is refused with words."""
    given = sent_json(request, LARGEST_SEND_BYTES)
    entries = given.get("entries") if isinstance(given, dict) else None
    if not isinstance(entries, list):
        return JsonResponse({"error": "This is nothing that the drill sends."}, status=400)
    user, results = current_user(request), []
    sent_at = parse_moment(given.get("sent_at", ""))
    for one in entries[:SENT_AT_ONCE]:
        uid = str(one.get("uid", "")) if isinstance(one, dict) else ""
        try:
            keep_answer(user, *_sent(one, sent_at))
            results.append({"uid": uid, "kept": True, "words": "kept"})
        except RuleError as error:
            results.append({"uid": uid, "kept": False, "words": f"{sentence(error.rule)}."})
        except (ValueError, KeyError, TypeError, AttributeError, OverflowError):
            words = "This is no answer to an exercise."
            results.append({"uid": uid, "kept": False, "words": words})
    return JsonResponse({"results": results})


def _sent(
    one: Any, sent_at: datetime | None
) -> tuple[Exercise, dict[str, str], str, datetime]:  # fmt: skip
    asked = exercise(ExerciseKind.of(one["kind"]), int(one["level"]), int(one["seed"]))
    at, now = parse_moment(one["at"]), timezone.now()
    if at is None:
        raise RuleError("at", "a moment with its zone", one["at"])
    at -= timedelta(seconds=clock_off_s(sent_at, now))
    if not now - LONGEST_AGO <= at <= now + AHEAD_OF_NOW:
        raise RuleError("at", "answered within the last year", at.isoformat())
    guess = {str(key): str(value) for key, value in dict(one["guess"]).items()}
    return asked, guess, uid_of(str(one["uid"])), at
