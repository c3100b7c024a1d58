"""A shoot with all that belongs to it as data of a file, and a new shoot of such data."""

from typing import Any

from django.contrib.auth.models import User
from django.db import transaction

from fotonomy.exchange.errors import ExchangeError
from fotonomy.exchange.kit_json import Kit
from fotonomy.exchange.shoot_json import ShootFile, ShootSetup
from fotonomy.kit.services import import_kit, kit_of
from fotonomy.shoots.editing.forms import ShootNameForm
from fotonomy.shoots.editing.parts_files import parts_from_data, parts_to_data
from fotonomy.shoots.mapping import METHODS, file_of, is_plannable, whole_rows
from fotonomy.shoots.models import Actor, Shoot
from fotonomy.shoots.packed_kit import packed_kit
from fotonomy.shoots.services.packing import SORTS
from fotonomy.shoots.services.quotas import room_for_shoot
from fotonomy.shoots.services.setups import import_setup

FIELDS = ("name", "project_fps", *METHODS)


def shoot_to_data(shoot: Shoot) -> ShootFile:
    """Everything of a shoot but its history.

    A setup that breaks a rule cannot be written as a file; it is named in ``left_out``.
    """
    setups, left_out = [], []
    packed, parts = packed_kit(shoot), parts_to_data(shoot)
    for row in whole_rows(shoot):
        row.shoot = shoot
        if is_plannable(row, packed):
            setups.append(ShootSetup(file_of(row, packed), parts.stands(row), row.pk))
        else:
            left_out.append(str(row))
    packs = {
        field: sorted(getattr(shoot, field).values_list("name", flat=True)) for field, _, _ in SORTS
    }
    head = {
        **{name: getattr(shoot, name) for name in FIELDS}, **parts.data,
        "packs": None if shoot.packs_all else packs, "left_out": left_out,
    }  # fmt: skip
    return ShootFile(head, tuple(setups), _along(shoot))


def _along(shoot: Shoot) -> Kit:
    """The gear a shoot takes along, and what its setups use beside it."""
    kit = kit_of(shoot.owner)
    if shoot.packs_all:
        return kit
    names: set[str] = set()
    for field, _, _ in SORTS:
        names |= set(getattr(shoot, field).values_list("name", flat=True))
    for used in ("body__name", "lens__name", "filters__name", "things__name"):
        names |= {one for one in shoot.setups.values_list(used, flat=True) if one}
    profiles = set(shoot.setups.values_list("profile__name", flat=True))
    bodies = tuple(one for one in kit.bodies if one.name in names)
    profiles |= {name for body in bodies for name in body.profiles}
    kept: dict[str, Any] = {
        field: tuple(one for one in getattr(kit, field) if one.name in names)
        for field in ("bodies", "lenses", "glass", "holders", "tubes", "supports", "devices")
    }
    return Kit(profiles=tuple(one for one in kit.profiles if one.name in profiles), **kept)


@transaction.atomic
def shoot_from_data(owner: User, given: ShootFile, at: str) -> Shoot:
    """A new shoot, checked by the same forms that people fill in; all of it or nothing.

    ``at`` is the place of the shoot in its file. Raises ExchangeError and QuotaError.
    """
    head = given.head
    form = ShootNameForm({name: head[name] for name in FIELDS if head.get(name) is not None})
    if not form.is_valid():
        name, messages = next(iter(form.errors.items()))
        raise ExchangeError(f"{at}.{name}", str(messages[0]))
    room_for_shoot(owner)
    form.instance.owner = owner
    shoot: Shoot = form.save()
    shoot.actor = Actor(owner)
    if given.kit is not None:
        import_kit(owner, given.kit)
    parts = parts_from_data(shoot, head, at)
    for one in given.setups:
        parts.put(import_setup(shoot, owner, one.held), one.stands)
    _pack(shoot, owner, head.get("packs"))
    return shoot


def _pack(shoot: Shoot, owner: User, packs: Any) -> None:
    if not isinstance(packs, dict):
        return
    shoot.packs_all = False
    shoot.save(update_fields=["packs_all"])
    for field, _, model in SORTS:
        wanted = packs.get(field)
        found = model.objects.filter(owner=owner)
        if isinstance(wanted, list) and all(isinstance(name, str) for name in wanted):
            getattr(shoot, field).set(found.filter(name__in=wanted))
