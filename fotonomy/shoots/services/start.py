"""The ends of the three doors: a bench with something on it."""

from typing import Any

from django.contrib.auth.models import User
from django.db import transaction
from django.utils import timezone

from fotonomy.kit.first_steps import steps_of
from fotonomy.kit.starter_kit import give_starter_kit
from fotonomy.shoots.models import Actor, Setup, Shoot
from fotonomy.shoots.services.quotas import room_for_shoot
from fotonomy.shoots.services.setups import Gear, create_setup
from fotonomy.shoots.services.shoots import make_shoot

# What a new shoot takes over from the one made last.
SHOOT_STARTS_FROM = ("project_fps", "look", "handheld", "circle", "exposing", "white_school")
PLACE_STARTS_FROM = ("time_zone", "mains_hz")


def usual_of(owner: User) -> dict[str, Any]:
    """What a new shoot of a person begins with: as the last one they made."""
    last = Shoot.objects.filter(owner=owner).order_by("pk").last()
    if last is None:
        return {}
    found = {name: getattr(last, name) for name in SHOOT_STARTS_FROM}
    return found | {name: getattr(last.main_place, name) for name in PLACE_STARTS_FROM}


@transaction.atomic
def empty_bench(
    owner: User, name: str, project_fps: float | None = None, gear: Gear | None = None,
    title: str = "",
) -> Setup:  # fmt: skip
    """A shoot of today with one setup, on the ``gear`` given or what there is.

    Raises QuotaError, and NothingToShootWithError where the kit lacks something.
    """
    room_for_shoot(owner)
    given = usual_of(owner)
    if project_fps is not None:
        given |= {"project_fps": project_fps, "mains_hz": 50 if project_fps in (25, 50) else 60}
    shoot = make_shoot(owner, name=name, date=timezone.localdate(), **given)
    shoot.actor = Actor(owner)
    return create_setup(shoot, gear=gear, title=title)


@transaction.atomic
def open_bench(owner: User, name: str) -> Setup:
    """The same for whoever comes without gear: what the kit lacks is middling gear to begin with.

    Raises QuotaError, and NothingToShootWithError where no camera has a profile.
    """
    give_starter_kit(owner)
    return empty_bench(owner, name)


@transaction.atomic
def first_setup(owner: User) -> Setup:
    """The first setup with one's own gear, as far as it was entered; the steps are done."""
    steps = steps_of(owner)
    profile = steps.body.profiles.first() if steps.body else None
    gear = (steps.body, steps.lens, profile) if steps.body and steps.lens and profile else None
    row = empty_bench(owner, "First shoot", steps.project_fps, gear, "First setup")
    steps.delete()
    return row
