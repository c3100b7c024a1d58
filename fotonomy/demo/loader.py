"""Puts the demo scenario into the database, once; what a person changed there stays."""

import json
from importlib.resources import files
from typing import Any

from django.contrib.auth import get_user_model
from django.db import transaction

from fotonomy.core.gear import Lens as LensSpec
from fotonomy.exchange.setup_json import (
    body_from_data,
    glass_from_data,
    profile_from_data,
    setup_from_data,
)
from fotonomy.kit.models import Body, Filter, Lens, Profile
from fotonomy.kit.services import body_columns, filter_columns, lens_columns, profile_columns
from fotonomy.shoots.models import Shoot
from fotonomy.shoots.services import import_setup

DEMO_USER = "demo"


@transaction.atomic
def ensure_demo() -> bool:
    """Make the demo person with kit, shoot and setups if there is none; True if made.

    The account has no password: the only way in is the demo's own door.
    """
    users = get_user_model().objects
    if users.filter(username=DEMO_USER).exists():
        return False
    text = files("fotonomy.demo").joinpath("keel_to_tide.json").read_text("utf-8")
    scenario = json.loads(text)
    owner = users.create_user(DEMO_USER, password=None)
    _load_gear(owner, scenario["gear"])
    shoot = Shoot.objects.create(owner=owner, **scenario["shoot"])
    for entry in scenario["setups"]:
        given = setup_from_data(_as_file(entry, scenario))
        import_setup(shoot, owner, given)
    shoot.changes.all().delete()
    return True


def _load_gear(owner: Any, gear: dict[str, Any]) -> None:
    for data in gear["profiles"]:
        profile = profile_from_data(data)
        Profile.objects.create(owner=owner, name=profile.name, **profile_columns(profile))
    for data in gear["bodies"]:
        body = body_from_data(data)
        row = Body.objects.create(owner=owner, name=body.name, **body_columns(body))
        row.profiles.set(Profile.objects.filter(owner=owner, name__in=body.profiles))
    for data in gear["lenses"]:
        lens = LensSpec(**data)
        Lens.objects.create(owner=owner, name=lens.name, **lens_columns(lens))
    for data in gear["nd"] + gear["filters"]:
        piece = glass_from_data(data)
        Filter.objects.create(owner=owner, name=piece.name, **filter_columns(piece))


def _named(things: list[dict[str, Any]], name: str) -> dict[str, Any]:
    return next(thing for thing in things if thing["name"] == name)


def _as_file(entry: dict[str, Any], scenario: dict[str, Any]) -> dict[str, Any]:
    """An entry of the scenario as a whole setup file."""
    gear, shoot = scenario["gear"], scenario["shoot"]
    return {
        "format": "fotonomy-setup", "version": 1,
        "place": {key: shoot[key] for key in ("mains_hz", "project_fps")},
        "setup": entry["setup"],
        "gear": {
            "body": _named(gear["bodies"], entry["body"]),
            "lens": _named(gear["lenses"], entry["lens"]),
            "nd": gear["nd"],
            "filters": [_named(gear["filters"], name) for name in entry["filters"]],
            "profile": _named(gear["profiles"], entry["profile"]),
        },
    }  # fmt: skip
