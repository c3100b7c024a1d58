"""What can be done to setups, one function a use case; each leaves a step to undo."""

from dataclasses import replace
from datetime import time

from django.contrib.auth.models import AbstractBaseUser
from django.db import transaction
from django.db.models import Max

from fotonomy.core.setup import Kind
from fotonomy.exchange.setup_json import SetupFile
from fotonomy.kit.models import Body, Lens, Profile
from fotonomy.kit.services import take_in_gear
from fotonomy.shoots import ledger
from fotonomy.shoots.models import Setup, Shoot
from fotonomy.shoots.specs import snapshot, write_spec

# Open shade by day (ANSI PH2.7-1986, from memory): something to correct.
OPEN_SHADE = {"ev100": 12.0}


class NothingToShootWithError(ValueError):
    """A setup needs a body, a lens and a profile; ``missing`` names what the kit lacks."""

    def __init__(self, missing: str) -> None:
        super().__init__(missing)
        self.missing = missing


def _next_position(shoot: Shoot) -> int:
    highest: int | None = shoot.setups.aggregate(at=Max("position"))["at"]
    return 0 if highest is None else highest + 1


def _created(row: Setup, label: str) -> Setup:
    ledger.record(row.shoot, label, {str(row.pk): None}, {str(row.pk): snapshot(row)})
    return row


@transaction.atomic
def create_setup(shoot: Shoot) -> Setup:
    """A new setup with the first body, lens and profile of the kit, ready to change.

    It starts at the edit's own frame rate (or the body's nearest) and half its period.
    Raises NothingToShootWithError if the kit lacks something.
    """
    owned = {"owner": shoot.owner}
    body = Body.objects.filter(**owned).first()
    lens = Lens.objects.filter(**owned).first()
    profile = (body.profiles.first() if body else None) or Profile.objects.filter(**owned).first()
    for thing, word in ((body, "camera body"), (lens, "lens"), (profile, "profile")):
        if thing is None:
            raise NothingToShootWithError(word)
    rate = min((fps for fps, _ in body.rates), key=lambda fps: abs(fps - shoot.project_fps))
    angled = body.shutter_style != "time"
    row = Setup.objects.create(
        shoot=shoot,
        position=_next_position(shoot),
        kind=Kind.REAL_TIME,
        light=OPEN_SHADE,
        body=body,
        lens=lens,
        profile=profile,
        focal_mm=lens.focal_shortest_mm,
        frame_rate=rate,
        shutter_angle_deg=180.0 if angled else None,
        shutter_time_s=None if angled else 1 / (2 * rate),
        iris=max(lens.widest_f, min(lens.smallest_f, 4.0)),
        iso=profile.base_iso[0] if profile.base_iso else body.iso_lowest,
        held=["frame_rate", "shutter"],
    )
    return _created(row, "new setup")


@transaction.atomic
def copy_setup(row: Setup) -> Setup:
    """The same setup once more, right below; the rest move down."""
    shoot, pieces = row.shoot, list(row.filters.all())
    order = list(shoot.setups.all())
    before = {str(other.pk): snapshot(other) for other in order}
    at = next(i for i, other in enumerate(order) if other.pk == row.pk)
    copy = Setup.objects.get(pk=row.pk)
    copy.pk, copy.title = None, f"{row.title} (copy)"[:80]
    copy.save(force_insert=True)
    copy.put_filters(pieces)
    order.insert(at + 1, copy)
    _renumber(order)
    after = {str(other.pk): snapshot(other) for other in order}
    ledger.record(shoot, f"copy of {row}", {**before, str(copy.pk): None}, after)
    return copy


def _renumber(order: list[Setup]) -> None:
    for position, row in enumerate(order):
        if row.position != position:
            row.position = position
            row.save(update_fields=["position"])


@transaction.atomic
def delete_setup(row: Setup) -> None:
    """Delete a setup; the ledger can bring it back."""
    shoot, key, before = row.shoot, str(row.pk), snapshot(row)
    label = f"{row} deleted"
    row.delete()
    ledger.record(shoot, label, {key: before}, {key: None})


@transaction.atomic
def order_setups(shoot: Shoot, wanted: list[int]) -> None:
    """Put setups into the wanted order; ids not named keep their place at the end."""
    rank = {pk: at for at, pk in enumerate(wanted)}
    rows = sorted(shoot.setups.all(), key=lambda row: rank.get(row.pk, len(rank) + row.position))
    before = {str(row.pk): snapshot(row) for row in rows}
    _renumber(rows)
    after = {str(row.pk): snapshot(row) for row in rows}
    ledger.record(shoot, "new order", before, after)


def move_setup(row: Setup, places: int) -> None:
    """Move a setup up (negative) or down the running order."""
    keys = list(row.shoot.setups.values_list("pk", flat=True))
    at = keys.index(row.pk)
    keys.insert(max(0, min(len(keys) - 1, at + places)), keys.pop(at))
    order_setups(row.shoot, keys)


@transaction.atomic
def import_setup(shoot: Shoot, owner: AbstractBaseUser, given: SetupFile) -> Setup:
    """A setup file as a new setup of this shoot.

    Gear the kit has under the same name with the same numbers is used; other gear is
    taken in under a free name. Edit frame rate and mains stay the shoot's own.
    """
    spec = replace(given.setup, project_fps=shoot.project_fps, mains_hz=shoot.mains_hz)
    body, lens, profile, filters = take_in_gear(owner, spec)
    row = Setup(
        shoot=shoot, position=_next_position(shoot), body=body, lens=lens, profile=profile,
        notes=given.notes,
        planned_time=time.fromisoformat(given.planned_time) if given.planned_time else None,
    )  # fmt: skip
    write_spec(row, spec)
    row.save()
    row.put_filters(filters)
    return _created(row, f"{row} imported")
