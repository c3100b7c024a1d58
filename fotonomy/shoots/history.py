"""Undo and redo: every change of a shoot's setups is kept as a pair of snapshots.

A setup that only moved in the running order is kept by its position alone.
"""

from datetime import time
from typing import Any

from django.db import transaction

from fotonomy.kit.models import Accessory, Body, Filter, Lens, Profile
from fotonomy.shoots.mapping import PLAIN_COLUMNS
from fotonomy.shoots.models import Change, Setup, Shoot

# Steps kept for each shoot, give or take those since the last pruning.
LONGEST_HISTORY = 500
PRUNE_EVERY = 50

Snapshots = dict[str, dict[str, Any] | None]


class CannotUndoError(ValueError):
    """A step cannot be taken back, because gear it needs has left the kit."""


def record(
    shoot: Shoot, label: str, before: Snapshots, after: Snapshots, gesture: str = ""
) -> Change | None:
    """Note a change; None if nothing changed. What had been undone is forgotten."""
    moved = [key for key in after if before.get(key) != after[key]]
    if not moved:
        return None
    before, after = ({key: side[key] for key in moved} for side in (before, after))
    shoot.changes.filter(undone=True).delete()
    last = shoot.changes.last() if gesture else None
    if last and last.gesture == gesture and last.after.keys() == after.keys():
        last.after = after
        last.save(update_fields=["after"])
        return last
    change = Change.objects.create(
        shoot=shoot, label=label, before=before, after=after, gesture=gesture
    )
    if change.pk % PRUNE_EVERY == 0:
        old = shoot.changes.order_by("-pk").values_list("pk", flat=True)[LONGEST_HISTORY:][:1]
        shoot.changes.filter(pk__lte=old[0] if old else 0).delete()
    return change


@transaction.atomic
def undo(shoot: Shoot) -> Change | None:
    """Take the last step back; None if there is none."""
    change = shoot.changes.filter(undone=False).last()
    return _apply(shoot, change, undone=True) if change else None


@transaction.atomic
def redo(shoot: Shoot) -> Change | None:
    """Do again what was undone last; None if there is none."""
    change = shoot.changes.filter(undone=True).first()
    return _apply(shoot, change, undone=False) if change else None


def _apply(shoot: Shoot, change: Change, undone: bool) -> Change:
    states = change.before if undone else change.after
    placed = {int(key): data for key, data in states.items() if data and set(data) == {"position"}}
    _place(shoot, placed)
    for key, data in states.items():
        if int(key) not in placed:
            _restore(shoot, int(key), data)
    change.undone = undone
    change.save(update_fields=["undone"])
    return change


def _place(shoot: Shoot, placed: dict[int, dict[str, Any]]) -> None:
    """Put setups back to their places in the running order, in two queries."""
    rows = list(shoot.setups.filter(pk__in=placed).only("shoot_id", "position")) if placed else []
    for row in rows:
        row.position = placed[row.pk]["position"]
    if rows:
        Setup.objects.bulk_update(rows, ["position"], batch_size=200)


def _restore(shoot: Shoot, pk: int, data: dict[str, Any] | None) -> None:
    if data is None:
        shoot.setups.filter(pk=pk).delete()
        return
    owned = {"owner": shoot.owner}
    for model, key in ((Body, "body_id"), (Lens, "lens_id"), (Profile, "profile_id")):
        if not model.objects.filter(pk=data[key], **owned).exists():
            raise CannotUndoError(f"Its {model._meta.verbose_name} is no longer in the kit")
    # A snapshot from before a column existed leaves that column at its default.
    known = {name: data[name] for name in PLAIN_COLUMNS if name in data}
    row = Setup(pk=pk, shoot=shoot, **known)
    row.planned_time = time.fromisoformat(data["planned_time"]) if data["planned_time"] else None
    row.save()
    row.put_filters(Filter.objects.filter(pk__in=data["filters"], **owned))
    # Before there were devices, a snapshot named its tubes only.
    things = data.get("things", data.get("tubes", ()))
    row.put_things(Accessory.objects.filter(pk__in=things, **owned))
