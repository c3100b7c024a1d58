"""Puts the demo scenario into the database, once; what a person changed there stays."""

import json
from datetime import datetime, timedelta
from importlib.resources import files
from typing import Any

from django.contrib.auth import get_user_model
from django.contrib.auth.models import User
from django.db import transaction
from django.utils import timezone

from fotonomy.core.findings.safety import DANGERS
from fotonomy.core.weather.report import VALUES, Report, Source, Weather
from fotonomy.demo.first_day import second_person, shoot_first_day
from fotonomy.exchange.kit_json import kit_from_data, kit_to_data
from fotonomy.exchange.setup_json import VERSION, setup_from_data
from fotonomy.kit.services import import_kit
from fotonomy.shoots.mapping import hours_of
from fotonomy.shoots.models import (
    Actor,
    Day,
    DayWeather,
    LightReading,
    Outline,
    Place,
    Scene,
    Shoot,
    Way,
)
from fotonomy.shoots.services.quotas import room_for_shoot
from fotonomy.shoots.services.safety import told
from fotonomy.shoots.services.setups import import_setup

DEMO_USER = "demo"


@transaction.atomic
def ensure_demo() -> bool:
    """Make the demo person with kit, shoot and setups if there is none; True if made.

    The account has no password: the only way in is the demo's own door.
    """
    users = get_user_model().objects
    if users.filter(username=DEMO_USER).exists():
        return False
    user = users.create_user(DEMO_USER, password=None)
    give_demo(user, crew=True)
    # The demo's person has planned such days before: each danger was put before them once.
    told(user, DANGERS)
    return True


@transaction.atomic
def give_demo(owner: User, *, crew: bool = False) -> Shoot:
    """The demo's shoot with its setups and gear, as somebody's own, half of its first day shot.

    With its ``crew`` there is a second person. Raises QuotaError.
    """
    scenario = _data("keel_to_tide")
    kit = kit_from_data(_data("tern_slip_kit"))
    room_for_shoot(owner)
    import_kit(owner, kit)
    shoot = Shoot.objects.create(owner=owner, **scenario["shoot"])
    places, days, scenes = _parts(shoot, scenario)
    mains = next(iter(places.values())).mains_hz
    for entry in scenario["setups"]:
        given = setup_from_data(_as_file(entry, scenario["shoot"], mains, kit_to_data(kit)))
        row = import_setup(shoot, owner, given)
        row.place, row.day = places[entry["place"]], days[entry["day"]]
        row.scene = scenes[row.code[0]]
        row.save(update_fields=["place", "day", "scene"])
    shoot.actor = Actor(owner)
    shoot_first_day(shoot, second_person(shoot) if crew else None)
    shoot.changes.all().delete()
    return shoot


def _parts(
    shoot: Shoot, scenario: dict[str, Any]
) -> tuple[dict[str, Place], dict[str, Day], dict[str, Scene]]:
    """Places by name, days by date, scenes by code; with the ways and what was metered."""
    places = {
        given["name"]: Place.objects.create(
            shoot=shoot, position=at, **{k: v for k, v in given.items() if k != "metered"}
        )
        for at, given in enumerate(scenario["places"])
    }
    for given in scenario["places"]:
        for at, ev100 in given.get("metered", ()):
            LightReading.objects.create(place=places[given["name"]], at=at, ev100=ev100)
    days = {given["date"]: Day.objects.create(shoot=shoot, **given) for given in scenario["days"]}
    scenes = {
        given["code"]: Scene.objects.create(shoot=shoot, position=at, **given)
        for at, given in enumerate(scenario["scenes"])
    }
    for given in scenario["outlines"]:
        Outline.objects.create(shoot=shoot, **given)
    for start, end, minutes in scenario["ways"]:
        Way.objects.create(shoot=shoot, start=places[start], end=places[end], minutes=minutes)
    _weather(next(iter(places.values())), days, scenario["weather"])
    return places, days, scenes


def _weather(place: Place, days: dict[str, Day], rows: list[list[Any]]) -> None:
    """The weather of the days as typed just now; hours after midnight are written "+02:00"."""
    now = timezone.now()
    for date, day in days.items():
        reports = []
        for on, clock, *values in rows:
            if on != date:
                continue
            at = datetime.fromisoformat(f"{date}T{clock.lstrip('+')}")
            at += timedelta(days=clock.startswith("+"))
            reports.append(Report(
                at=at.replace(tzinfo=place.zone), source=Source.TYPED, kept_at=now,
                **dict(zip(VALUES, values, strict=True)),
            ))  # fmt: skip
        DayWeather.objects.create(
            shoot=place.shoot, place=place, day=day,
            hours=hours_of(Weather(tuple(reports))),
        )  # fmt: skip


def _data(name: str) -> dict[str, Any]:
    text = files("fotonomy.demo").joinpath(f"{name}.json").read_text("utf-8")
    data: dict[str, Any] = json.loads(text)
    return data


def _named(things: list[dict[str, Any]], *names: str) -> list[dict[str, Any]]:
    return [next(thing for thing in things if thing["name"] == name) for name in names]


def _as_file(
    entry: dict[str, Any], shoot: dict[str, Any], mains_hz: int, kit: dict[str, Any]
) -> dict[str, Any]:
    """An entry of the scenario as a whole setup file: its gear is named, the kit has it."""
    lens_free = "lens" not in entry["setup"]["held"]
    place = {"mains_hz": mains_hz, "project_fps": shoot["project_fps"]}
    return {
        "format": "fotonomy-setup", "version": VERSION,
        **{key: entry[key] for key in ("planned_time", "notes") if key in entry},
        "setup": {**entry["setup"], **place},
        "gear": {
            "body": _named(kit["bodies"], entry["body"])[0],
            "lens": _named(kit["lenses"], entry["lens"])[0],
            "tubes": _named(kit["tubes"], *entry.get("tubes", ())),
            "devices": [
                device for device in kit["devices"]
                if next(iter(device.values()))["name"] in entry.get("devices", ())
            ],
            "packed_lenses": kit["lenses"] if lens_free else [],
            "glass": [g for g in kit["glass"] if g["kind"] in ("nd", "variable_nd")],
            "filters": _named(kit["glass"], *entry.get("filters", ())),
            "holders": kit["holders"],
            "profile": _named(kit["profiles"], entry["profile"])[0],
        },
    }  # fmt: skip
