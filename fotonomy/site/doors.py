"""Wrong passwords: whom they are counted against, and how long the next try waits.

Nobody is locked out by somebody else. A device on which a person was logged in before is known by a
signed cookie and has a count of its own; only unknown ones share the count of a name from an
address, and of the address over all names. The wait grows from try to try and ends by itself. With
a second factor the right password goes on to the code, however often it was guessed at.
"""

import math
import secrets
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import timedelta
from typing import Any

from axes.handlers.base import AxesHandler
from django.conf import settings
from django.contrib.auth import get_user_model
from django.contrib.auth.models import User
from django.db import transaction
from django.db.models import F, Q
from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.utils import timezone

from fotonomy.site.models import WrongTries
from fotonomy.site.passwords import address_of
from fotonomy.site.second_factor import has_second_factor

DEVICE_COOKIE, DEVICE_LASTS_S = "device", 365 * 24 * 3600
# So many people of one device are known on it.
MOST_PEOPLE = 8
# A count is forgotten so long after the last wrong try.
FORGOTTEN_AFTER = timedelta(hours=1)


@dataclass(frozen=True, slots=True)
class Patience:
    """How many wrong tries are free, and the wait after the next ones: doubled each time, in s."""

    free: int
    first_s: float
    longest_s: float

    def wait_s(self, wrong: int) -> float:
        """The wait after so many wrong tries, in s."""
        if wrong < self.free:
            return 0.0
        return min(self.longest_s, self.first_s * 2.0 ** min(wrong - self.free, 32))


OF_DEVICE = Patience(5, 5, 300)
OF_NAME = Patience(6, 30, 900)
OF_ADDRESS = Patience(30, 30, 900)
# So many passwords of people with a second factor are looked at while an address waits.
MOST_LOOKS = 200
LOOKS = Patience(MOST_LOOKS, 3600, 3600)
# The password asked for once more by somebody who is in.
OF_PERSON = Patience(6, 30, 900)
# Mail for a lost password, to one address.
OF_MAIL = Patience(3, 300, 3600)
Counts = Iterable[tuple[str, Patience]]


def waits_s(counts: Counts) -> float:
    """How long the next try has to wait, in s; 0 where it may be made."""
    now, found = timezone.now(), dict(counts)
    rows = WrongTries.objects.filter(key__in=found, last__gt=now - FORGOTTEN_AFTER)
    left = [
        found[row.key].wait_s(row.count) - (now - row.last).total_seconds() for row in rows
    ]  # fmt: skip
    # A clock that went back makes nobody wait longer than the wait itself.
    longest = max((found[row.key].wait_s(row.count) for row in rows), default=0.0)
    return min(longest, max((0.0, *left)))


def count_wrong(counts: Counts) -> None:
    """Count a wrong try, or whatever else may not be done too often."""
    now = timezone.now()
    with transaction.atomic():
        WrongTries.objects.filter(last__lte=now - FORGOTTEN_AFTER).delete()
        for key, _ in counts:
            WrongTries.objects.get_or_create(key=key, defaults={"last": now})
            WrongTries.objects.filter(key=key).update(count=F("count") + 1, last=now)


def forget(counts: Counts) -> None:
    """Begin to count anew: it was the right password."""
    WrongTries.objects.filter(key__in=[key for key, _ in counts]).delete()


def wait_words(seconds: float) -> str:
    """How long to wait, as people say it."""
    whole = math.ceil(seconds)
    return f"{whole} s" if whole < 100 else f"{math.ceil(whole / 60)} minutes"


def own_password_error(user: User, password: str) -> str:
    """What is wrong with the password that somebody who is in gave again; empty for the right."""
    counts = [(f"own {user.pk}", OF_PERSON)]
    if wait_s := waits_s(counts):
        return f"Wrong too often: try again in {wait_words(wait_s)}."
    if user.check_password(password):
        forget(counts)
        return ""
    count_wrong(counts)
    return "That is not the password."


def mail_may_go(address: str) -> bool:
    """Whether another mail for a lost password goes to an address by now; it is counted."""
    counts = [(f"mail {address.strip().lower()[:200]}", OF_MAIL)]
    may = not waits_s(counts)
    if may:
        count_wrong(counts)
    return may


def _people_of(request: HttpRequest) -> tuple[str, list[int]]:
    """The name of a device and the ids of those who were logged in on it, the last one first."""
    said = request.get_signed_cookie(
        DEVICE_COOKIE, default="", salt=DEVICE_COOKIE, max_age=DEVICE_LASTS_S
    )
    device, _, people = (said or "").partition(":")
    return device, [int(one) for one in people.split(".") if one.isdecimal()]


class KnownDevice:
    """Middleware: a device that somebody logs in on is known for them from then on."""

    def __init__(self, get_response: Any) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        response: HttpResponse = self.get_response(request)
        user = request.__dict__.get("_arrived")
        if user is not None:
            device, people = _people_of(request)
            known = [user.pk, *(one for one in people if one != user.pk)][:MOST_PEOPLE]
            response.set_signed_cookie(
                DEVICE_COOKIE,
                f"{device or secrets.token_hex(8)}:{'.'.join(str(one) for one in known)}",
                salt=DEVICE_COOKIE, max_age=DEVICE_LASTS_S, httponly=True, samesite="Lax",
                secure=settings.SESSION_COOKIE_SECURE,
            )  # fmt: skip
        return response


def _counts_of(request: HttpRequest, name: str) -> Counts:
    """What a try of a name from here is counted against."""
    user = get_user_model().objects.filter(username=name).first()
    device, people = _people_of(request)
    if user is not None and user.pk in people:
        return [(f"device {device} {user.pk}", OF_DEVICE)]
    address = address_of(request)[:60]
    return [(f"name {address} {name.lower()[:150]}", OF_NAME), (f"address {address}", OF_ADDRESS)]


def _goes_on_to_the_code(request: HttpRequest, name: str, password: str) -> bool:
    """Whether it is the right password of somebody whose code is asked for next."""
    user = get_user_model().objects.filter(username=name).first()
    if user is None or not has_second_factor(user):
        return False
    looks = [(f"looks {address_of(request)[:60]}", LOOKS)]
    if waits_s(looks):
        return False
    count_wrong(looks)
    return user.check_password(password)


class Doors(AxesHandler):  # type: ignore[misc]  # untyped there
    """The handler of wrong passwords, for every page that asks for a name and a password."""

    def is_locked(self, request: Any, credentials: dict[str, Any] | None = None) -> bool:
        """Whether a try has to wait."""
        said = credentials or {}
        name = str(said.get("username") or "")
        request.wait_s = waits_s(_counts_of(request, name))
        if request.wait_s and _goes_on_to_the_code(request, name, str(said.get("password") or "")):
            request.wait_s = 0.0
        return bool(request.wait_s)

    def user_login_failed(
        self, sender: Any, credentials: dict[str, Any], request: Any = None, **_: Any
    ) -> None:
        """Count a wrong password; a try that had to wait says nothing of the password."""
        if request is None:
            return
        counts = _counts_of(request, str(credentials.get("username") or ""))
        if not getattr(request, "wait_s", 0.0):
            count_wrong(counts)
            request.wait_s = waits_s(counts)
        request.axes_locked_out = bool(request.wait_s)
        request.axes_credentials = credentials

    def user_logged_in(self, sender: Any, request: Any, user: Any, **_: Any) -> None:
        """The right one: what was wrong before is forgotten, and the device is known."""
        counts = [one for one in _counts_of(request, user.get_username()) if one[1] != OF_ADDRESS]
        forget(counts)
        request.__dict__["_arrived"] = user

    def reset_attempts(
        self, *, ip_address: str | None = None, username: str | None = None,
        ip_or_username: bool = False,
    ) -> int:  # fmt: skip
        """Let everybody try again at once, or those of an address or a name; how many counts."""
        rows = WrongTries.objects.all()
        if ip_address is not None:
            rows = rows.filter(
                Q(key=f"address {ip_address}") | Q(key__startswith=f"name {ip_address} ")
            )
        if username is not None:
            rows = rows.filter(key__startswith="name ", key__endswith=f" {username.lower()}")
        return rows.delete()[0]

    def get_failures(self, request: Any, credentials: dict[str, Any] | None = None) -> int:
        """How many tries of a name from here were wrong."""
        counts = dict(_counts_of(request, str((credentials or {}).get("username") or "")))
        rows = WrongTries.objects.filter(key__in=counts)
        return max((row.count for row in rows), default=0)


def wait_page(request: Any, *_: Any) -> HttpResponse:
    """The page for a try that has to wait, with how long."""
    wait_s = math.ceil(getattr(request, "wait_s", 0.0))
    context = {"words": wait_words(wait_s)}
    answer = render(request, "registration/locked.html", context, status=429)
    answer["Retry-After"] = str(wait_s)
    return answer
