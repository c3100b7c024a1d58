"""Field pages without a network: the worker, what it keeps, and what waited on a phone."""

import json
from dataclasses import replace
from datetime import timedelta
from hashlib import sha256
from pathlib import Path
from typing import Any

from django.contrib.auth.decorators import login_required
from django.contrib.auth.models import User
from django.contrib.staticfiles import finders
from django.db import transaction
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.middleware.csrf import get_token
from django.templatetags.static import static
from django.utils import timezone
from django.views.decorators.http import require_GET, require_POST

from fotonomy.core.errors import RuleError
from fotonomy.core.field.relight import read_light, relit
from fotonomy.core.notation.reading import read_length, whole_number
from fotonomy.days.planning import planned_day
from fotonomy.field.presenters.offline_bundle import addresses_of, ahead_of
from fotonomy.field.presenters.takes import SET
from fotonomy.field.services import TakeEntry, clock_off_s, is_take, log_take, put_light
from fotonomy.field.views.takes import parse_moment
from fotonomy.shoots import history
from fotonomy.shoots.editing.forms import sentence
from fotonomy.shoots.mapping import UnplannableError, spec_of
from fotonomy.shoots.models import Change, Setup, Shoot
from fotonomy.shoots.packed_kit import packed_kit
from fotonomy.shoots.services.crew import hands, put_in_hand
from fotonomy.shoots.views.get_or_404 import day_in, handle_gone, shoot_for
from fotonomy.shoots.write_lock import in_turn
from fotonomy.web.long_work import one_at_a_time

# What all field pages share; the fonts among them, so that a kept card looks as it should.
SHARED = (
    "bundle/field.css", "bundle/field.js", "web/mark.svg",
    # Exercises that are taken along.
    "bundle/pages.css", "web/flag.js", "bundle/common.js", "bundle/drill-offline.js",
    "vendor/archivo.woff2", "vendor/spline-sans-mono.woff2",
)  # fmt: skip
MOST_ENTRIES = 300
LARGEST_SEND_BYTES = 2**20


@require_GET
def worker(request: HttpRequest) -> HttpResponse:
    """The service worker, with the files it shares by their present names."""
    shared = [static(name) for name in SHARED]
    found = finders.find("web/field-worker.js")
    assert isinstance(found, str)
    source = Path(found).read_text("utf-8")
    version = sha256("".join([source, *shared]).encode()).hexdigest()[:16]
    head = (
        f"importScripts({json.dumps(static('vendor/workbox.min.js'))});\n"
        f"const SHARED = {json.dumps(shared)};\n"
        f"const VERSION = {json.dumps(version)};\n"
    )
    answer = HttpResponse(head + source, content_type="text/javascript; charset=utf-8")
    answer["Service-Worker-Allowed"] = "/"
    answer["Cache-Control"] = "no-cache"
    return answer


@require_GET
def manifest(request: HttpRequest) -> JsonResponse:
    """What a phone needs to put the field pages on its first screen."""
    return JsonResponse(
        {
            "name": "Fotonomy", "short_name": "Fotonomy", "start_url": "/shoots/", "scope": "/",
            "display": "standalone", "background_color": "#f6f3ec", "theme_color": "#1d2226",
            "icons": [
                {"src": static("web/mark.svg"), "sizes": "any", "type": "image/svg+xml",
                 "purpose": "any"},
                *(
                    {"src": static(f"web/mark-{px}.png"), "sizes": f"{px}x{px}",
                     "type": "image/png", "purpose": "any maskable"}
                    for px in (192, 512)
                ),
            ],
        },
        content_type="application/manifest+json",
    )  # fmt: skip


@login_required
@handle_gone
@one_at_a_time
def ahead(request: HttpRequest, shoot_id: int, day_id: int) -> Any:
    """A day worked out ahead."""
    shoot = shoot_for(request, shoot_id)
    day = day_in(shoot, day_id)
    planned = planned_day(shoot, day)
    return JsonResponse({**ahead_of(planned, timezone.now()), "keep": addresses_of(planned)})


@login_required
@require_GET
@handle_gone
def news(request: HttpRequest, shoot_id: int) -> HttpResponse:
    """What was changed since a row of the log, who has what in hand, and a token to send with.

    ``at`` is the setup that the one who asks has in hand.
    """
    shoot = shoot_for(request, shoot_id)
    now, me = timezone.now(), shoot.actor.author
    at = whole_number(request.GET.get("at", ""))
    if at is not None and me is not None and shoot.setups.filter(pk=at).exists():
        put_in_hand(shoot, me, at, now)
    since = whole_number(request.GET.get("since", ""))
    rows = shoot.changes.order_by("pk")
    found = [] if since is None else list(rows.filter(pk__gt=since).select_related("author")[:50])
    newest = rows.values_list("pk", flat=True).last() or 0
    return JsonResponse({
        "newest": newest, "changes": [_said(one, me) for one in found],
        # Takes show by themselves; a plan that was changed is shown when somebody asks for it.
        "plan": any(not is_take(key) for one in found for key, *_ in one.fields),
        "hands": {str(key): names for key, names in hands(shoot, now, me).items()},
        "token": get_token(request),
    })  # fmt: skip


def _said(change: Change, me: User | None) -> str:
    did = "" if change.of_id is None else "undone: " if change.undone else "redone: "
    by = "" if change.author is None or change.author == me else (
        f", {change.author.get_username()}"
    )  # fmt: skip
    return f"{did}{change.label}{by}"


@login_required
@require_POST
@handle_gone
def send(request: HttpRequest, shoot_id: int) -> HttpResponse:
    """What waited on a phone, in its order: kept once each, or refused with words."""
    shoot = shoot_for(request, shoot_id)
    given = _entries(request)
    if given is None:
        return JsonResponse({"error": "This is nothing that a field page sends."}, status=400)
    sent_at = parse_moment(given.get("sent_at", ""))
    results = []
    here: dict[str, list[str]] = {}
    for take_uid, uid in shoot.pictures.values_list("take_uid", "uid"):
        here.setdefault(take_uid, []).append(uid)
    for one in given["entries"][:MOST_ENTRIES]:
        uid = str(one.get("uid", ""))[:36] if isinstance(one, dict) else ""
        try:
            if not isinstance(one, dict):
                raise RuleError("entry", "is none", None)
            words = _TAKES[str(one.get("kind"))](shoot, one, sent_at)
            # Pictures go out one by one after their take: those that are here are not sent again.
            results.append(
                {"uid": uid, "kept": True, "words": words, "pictures": here.get(uid, [])}
            )
        except KeyError:
            results.append({"uid": uid, "kept": False, "words": "This is nothing known here."})
        except RuleError as error:
            results.append({"uid": uid, "kept": False, "words": f"{sentence(error.rule)}."})
        except Setup.DoesNotExist:
            words = "The setup was deleted meanwhile: undo brings it back, then send again."
            results.append({"uid": uid, "kept": False, "words": words})
    return JsonResponse({"results": results})


def _entries(request: HttpRequest) -> dict[str, Any] | None:
    try:
        given = json.loads(request.body[: LARGEST_SEND_BYTES + 1])
    except (ValueError, RecursionError):
        return None
    if not isinstance(given, dict) or not isinstance(given.get("entries"), list):
        return None
    return given


def _text(given: dict[str, Any], name: str, most: int = 40) -> str:
    value = given.get(name, "")
    if not isinstance(value, str) or "\x00" in value:
        raise RuleError(name, "is no text", None)
    return value.strip()[: most + 1]


def _texts(given: dict[str, Any], name: str) -> dict[str, str]:
    found = given.get(name, {})
    if not isinstance(found, dict):
        raise RuleError(name, "is no list of settings", None)
    return {key: _text(found, key)[:40] for key in SET if key in found}


def _take(shoot: Shoot, given: dict[str, Any], sent_at: Any) -> str:
    at = parse_moment(given.get("at", ""))
    why = given.get("why", [])
    if not isinstance(why, list) or not all(isinstance(one, str) for one in why):
        raise RuleError("why", "is no list of reasons", None)
    key = given.get("setup")
    if isinstance(key, bool) or not isinstance(key, int) or not 0 < key < 2**62:
        raise RuleError("setup", "names no setup", key)
    entry = TakeEntry(
        uid=_text(given, "uid", 36), verdict=_text(given, "verdict"), at=at or timezone.now(),
        sent_at=sent_at if at is not None else None, planned=_texts(given, "planned"),
        differed=_texts(given, "differed"), why=tuple(one.strip() for one in why if one.strip()),
        clip=_text(given, "clip"), card=_text(given, "card"),
        length_s=read_length(_text(given, "length")), note=_text(given, "note", 1000),
    )  # fmt: skip
    row = shoot.setups.filter(pk=key).first()
    name = str(row) if row is not None else _text(given, "name", 100) or "Deleted setup"
    return f"{log_take(shoot, key, name, entry)} kept"


@in_turn()
@transaction.atomic
def _light(shoot: Shoot, given: dict[str, Any], sent_at: Any) -> str:
    """A reading, and a way by its words; once, however often it is sent, and by two at once."""
    uid = _text(given, "uid", 36)
    # The log knows each change by the name its window gave it: that is the phone's own id.
    shoot.actor = replace(shoot.actor, client="phone", action=uid[:32])
    history.lock(shoot)
    if uid and history.was_made(shoot):
        return "the light is kept already"
    key = given.get("setup")
    row = shoot.setups.select_related("place", "day").get(pk=key if isinstance(key, int) else 0)
    row.shoot = shoot
    try:
        spec = spec_of(row, packed_kit(shoot))
    except UnplannableError as error:
        raise RuleError(error.field, error.rule, error.value) from error
    found = relit(spec, read_light(spec, _text(given, "read", 80)))
    words = _text(given, "way", 200)
    if words and not shoot.actor.plans:
        words = ""
        said = "the reading is kept; what to set is for those who plan"
    else:
        said = ""
    way = next((one for one in found.ways if one.words == words), None)
    now = timezone.now()
    at = parse_moment(given.get("at", ""))
    at = now if at is None else at - timedelta(seconds=clock_off_s(sent_at, now))
    put_light(row, found.ev100, way.changes if way else (), at)
    if words and way is None:
        return f"{row}: the reading is kept; “{words}” is not there any more, the plan was changed"
    return f"{row}: {said or words or 'the reading is kept'}"


_TAKES = {"take": _take, "light": _light}
