"""Field pages without a network: the worker, what it keeps, and what waited on a phone."""

import json
import logging
from datetime import datetime
from hashlib import sha256
from pathlib import Path
from typing import Any

from django.contrib.auth.decorators import login_required
from django.contrib.auth.models import User
from django.contrib.staticfiles import finders
from django.db import OperationalError
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.middleware.csrf import get_token
from django.templatetags.static import static
from django.utils import timezone
from django.views.decorators.http import require_GET, require_POST

from fotonomy.core.errors import RuleError
from fotonomy.core.notation.reading import whole_number
from fotonomy.days.planning import planned_day
from fotonomy.field.intake import IntakeError, Sent, light_in, parse_moment, take_in
from fotonomy.field.presenters.offline_bundle import addresses_of, ahead_of
from fotonomy.field.services import GoneError, is_take
from fotonomy.shoots.editing.forms import sentence
from fotonomy.shoots.models import Change, Setup, Shoot
from fotonomy.shoots.services.crew import hands, put_in_hand
from fotonomy.shoots.views.get_or_404 import day_in, handle_gone, shoot_for
from fotonomy.web.limits import SENT_AT_ONCE
from fotonomy.web.long_work import one_at_a_time
from fotonomy.web.sent_json import sent_json

# What all field pages share; the fonts among them, so that a kept card looks as it should.
SHARED = (
    "bundle/field.css", "bundle/field.js", "web/mark.svg",
    # Exercises that are taken along.
    "bundle/pages.css", "web/flag.js", "bundle/common.js", "bundle/drill-offline.js",
    "vendor/archivo.woff2", "vendor/spline-sans-mono.woff2",
)  # fmt: skip
logger = logging.getLogger(__name__)
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
    here: dict[str, list[str]] = {}
    for take_uid, uid in shoot.pictures.values_list("take_uid", "uid"):
        here.setdefault(take_uid, []).append(uid)
    results = []
    for one in given["entries"][:SENT_AT_ONCE]:
        result = _answer(shoot, one, sent_at)
        if result["kept"]:
            # Pictures go out one by one after their take: those that are here are not sent again.
            result["pictures"] = here.get(result["uid"], [])
        results.append(result)
    return JsonResponse({"results": results})


def _entries(request: HttpRequest) -> dict[str, Any] | None:
    given = sent_json(request, LARGEST_SEND_BYTES)
    if not isinstance(given, dict) or not isinstance(given.get("entries"), list):
        return None
    return given


def _answer(shoot: Shoot, given: Any, sent_at: datetime | None) -> dict[str, Any]:
    """What becomes of one entry: kept, or refused with words. Never falls for the others."""
    uid = str(given.get("uid", ""))[:36] if isinstance(given, dict) else ""
    found: dict[str, Any] = {"uid": uid.encode("utf-8", "replace").decode(), "kept": False}
    if not isinstance(given, dict) or given.get("kind") not in ("take", "light"):
        return {**found, "words": "This is nothing known here."}
    sent = Sent(given, sent_at)
    try:
        words = _DOORS[given["kind"]](shoot, sent)
        return {**found, "kept": True, "words": words}
    except IntakeError as error:
        said = {name: sentence(rule) for name, rule in error.errors.items()}
        return {**found, "words": f"{'. '.join(said.values())}.", "errors": said}
    except RuleError as error:
        return {**found, "words": f"{sentence(error.rule)}."}
    except GoneError as error:
        return {**found, "words": f"{sentence(str(error))}."}
    except Setup.DoesNotExist:
        words = "The setup was deleted meanwhile: undo brings it back, then send again."
        return {**found, "words": words}
    except OperationalError:
        # No database, or no room: it is asked again later.
        raise
    except Exception:
        # Whatever it is, the others of the batch are answered, and the log has it.
        logger.exception("an entry of a phone could not be kept")
        return {**found, "words": "The program failed on this one: it is in the server's log."}


def _take(shoot: Shoot, sent: Sent) -> str:
    return f"{take_in(shoot, sent.key(), sent).take} kept"


def _light(shoot: Shoot, sent: Sent) -> str:
    found = light_in(shoot, sent.key(), sent)
    if found.row is None:
        return found.said
    used = found.way.words if found.way else ""
    return f"{found.row}: {found.said or used or 'the reading is kept'}"


_DOORS = {"take": _take, "light": _light}
