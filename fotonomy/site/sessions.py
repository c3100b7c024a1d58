"""A person's sessions: where they are logged in, and ending the others."""

from dataclasses import dataclass
from datetime import datetime
from typing import Any

from django.contrib.auth.models import User
from django.contrib.auth.signals import user_logged_in
from django.contrib.sessions.models import Session
from django.http import HttpRequest
from django.utils import timezone

SINCE, BROWSER = "since", "browser"


@dataclass(frozen=True, slots=True)
class OwnSession:
    """One place somebody is logged in: since when, with what, and whether it is this one."""

    key: str
    since: datetime | None
    browser: str
    present: bool


def sessions_of(user: User, present: str | None) -> list[OwnSession]:
    """Every session of a person that has not run out, the present one first."""
    found = []
    for session in Session.objects.filter(expire_date__gt=timezone.now()):
        data = session.get_decoded()
        if data.get("_auth_user_id") != str(user.pk):
            continue
        since = datetime.fromisoformat(data[SINCE]) if SINCE in data else None
        browser = str(data.get(BROWSER, "")) or "unknown browser"
        found.append(
            OwnSession(session.session_key, since, browser, session.session_key == present)
        )
    return sorted(found, key=lambda one: (not one.present, -(one.since or _LONG_AGO).timestamp()))


_LONG_AGO = datetime(2000, 1, 1, tzinfo=timezone.get_default_timezone())


def end_others(user: User, present: str | None) -> int:
    """Log a person out everywhere else; in how many places."""
    others = [one.key for one in sessions_of(user, present) if not one.present]
    Session.objects.filter(session_key__in=others).delete()
    return len(others)


def _noted(sender: Any, request: HttpRequest | None = None, **_: Any) -> None:
    if request is not None and hasattr(request, "session"):
        request.session[SINCE] = timezone.now().isoformat()
        request.session[BROWSER] = request.headers.get("User-Agent", "")[:120]


def listen() -> None:
    """Note the beginning of every session."""
    user_logged_in.connect(_noted, dispatch_uid="session-began")
