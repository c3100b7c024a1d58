"""The door of a shoot: each request is checked here, by who asks and what the address is for."""

import re
from typing import NamedTuple

from django.contrib.auth.models import User
from django.core.exceptions import PermissionDenied
from django.http import Http404, HttpRequest
from django.utils import timezone

from fotonomy.kit.current_user import current_user
from fotonomy.shoots.models import Actor, Member, Role, Shoot

CLIENT_HEADER = "X-Fotonomy-Client"
# What the window calls the change it sends.
ACTION_HEADER = "X-Fotonomy-Action"
_NAMED = re.compile(r"[A-Za-z0-9-]{1,32}")
_SAFE = ("GET", "HEAD")


class Needs(NamedTuple):
    """The least role that may read an address, and that may send something to it."""

    read: Role
    send: Role


USUAL = Needs(Role.SEES, Role.PLANS)
_OWNERS = Needs(Role.OWNS, Role.OWNS)
_LOGGERS = Needs(Role.SEES, Role.LOGS)
# Addresses of a shoot, by name, that need something else. What shows or takes in gear beyond that
# of the setups is the owner's, and so is who is in the crew.
NEEDS = {
    **dict.fromkeys(
        ("shoot-edit", "shoot-delete", "shoot-export", "setup-import", "packing", "crew",
         "crew-name", "crew-link", "crew-withdraw", "crew-qr", "crew-again", "crew-remove"),
        _OWNERS,
    ),
    # Whoever sees a setup may practise on it: an answer is their own and changes nothing here.
    **dict.fromkeys(("drill-own", "drill-take"), Needs(Role.SEES, Role.SEES)),
    # What moves the owner's kit, or says what is in it.
    **dict.fromkeys(("teaching-take", "home-body", "run-advice"), Needs(Role.SEES, Role.OWNS)),
    **dict.fromkeys(
        ("field-take", "take-edit", "take-delete", "field-send", "field-light", "field-step",
         "metered", "picture-add", "picture-drop",
         "frame-levels", "home-add", "home-head", "home-match", "home-back", "home-drop",
         "run-see", "row-keep", "burst-keep"), _LOGGERS,
    ),
}  # fmt: skip


class RefusedError(PermissionDenied):
    """Somebody of the crew may not do this, or is not of it any more; the words say why."""


def actor_of(request: HttpRequest, role: Role = Role.OWNS) -> Actor:
    """Who acts, and in which window: the scripts of each name it by letters of their own."""
    named = (request.headers.get(header, "") for header in (CLIENT_HEADER, ACTION_HEADER))
    client, action = (name if _NAMED.fullmatch(name) else "" for name in named)
    return Actor(current_user(request), client, action, role)


def check_access(request: HttpRequest, shoot: Shoot) -> None:
    """Check who asks, and note on the shoot who acts. ``shoot.owner`` is read already.

    Raises Http404 for strangers, RefusedError for those whose way in is closed or too narrow.
    """
    person = current_user(request)
    role = role_of(shoot, person)
    match = request.resolver_match
    needs = NEEDS.get(match.url_name or "", USUAL) if match else USUAL
    needed = needs.read if request.method in _SAFE else needs.send
    if not role.allows(needed):
        raise RefusedError(too_little(role, needed, shoot))
    if shoot.owner_id == person.pk:
        shoot.owner = person
    shoot.actor = actor_of(request, role)


def role_of(shoot: Shoot, person: User) -> Role:
    """What a person may do with a shoot. Raises as ``check_access`` does."""
    if shoot.owner_id == person.pk:
        return Role.OWNS
    member = Member.objects.select_related("link").filter(shoot=shoot, user=person).first()
    if member is None:
        raise Http404
    today = timezone.localdate(timezone=shoot.main_place.zone)
    if closed := member.why_closed(today):
        raise RefusedError(
            f"Your way into this shoot {closed}. What waits on this device stays there: ask "
            f"{shoot.owner.get_username()} for a new link, and it goes out then."
        )
    return Role(member.role)


def must_plan(shoot: Shoot) -> None:
    """Raise RefusedError for those who may not change the plan."""
    if not shoot.actor.plans:
        raise RefusedError(too_little(shoot.actor.role, Role.PLANS, shoot))


def must_own(shoot: Shoot) -> None:
    """Raise RefusedError for everybody but the owner."""
    if not shoot.actor.owns:
        raise RefusedError(too_little(shoot.actor.role, Role.OWNS, shoot))


_MAY = {
    Role.SEES: "look at this shoot", Role.LOGS: "look at this shoot and log takes on it",
    Role.PLANS: "plan this shoot",
}  # fmt: skip
_NOT = {
    Role.LOGS: "log on it", Role.PLANS: "change its plan",
    Role.OWNS: "do what only its owner does",
}  # fmt: skip


def too_little(role: Role, needed: Role, shoot: Shoot) -> str:
    """Why a role is not enough, and whom to ask."""
    return (
        f"You may {_MAY[role]}, not {_NOT[needed]}. Nothing was changed. "
        f"Ask {shoot.owner.get_username()}, whose shoot it is."
    )
