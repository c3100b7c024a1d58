"""Undo and redo of the kit: every step field by field, whichever door the change came through.

A step compares the whole kit before and after. Undoing it puts back those fields and no others;
what was changed since stays, and is said.
"""

from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from typing import Any

from cattrs import BaseValidationError
from django.contrib.auth.models import User
from django.db import IntegrityError, transaction

from fotonomy.kit.models import Accessory, Body, Filter, Gear, KitChange, Lens, Profile

# Steps kept for each person.
LONGEST_HISTORY = 100
# Profiles before the bodies that record them.
SORTS: dict[str, type[Gear]] = {
    "profile": Profile, "body": Body, "lens": Lens, "filter": Filter, "accessory": Accessory,
}  # fmt: skip
WHOLE = ""
# Sort, id, field (none for the whole thing), value before and value after.
Moved = tuple[str, int, str, Any, Any]
Values = dict[str, Any]


class CannotUndoError(ValueError):
    """A step cannot be taken back as the kit is now; the words say why."""


@dataclass(frozen=True, slots=True)
class Taken:
    """A step taken back or done again, and how many of its values were changed since and stay."""

    label: str
    kept: int


def _columns(model: type[Gear]) -> list[str]:
    return [f.attname for f in model._meta.concrete_fields if f.name not in ("id", "owner")]


def _values(row: Gear) -> Values:
    found = {name: getattr(row, name) for name in _columns(type(row))}
    if isinstance(row, Body):
        found["profiles"] = sorted(profile.pk for profile in row.profiles.all())
    return found


def _kit(owner: User) -> dict[tuple[str, int], Values]:
    """Everything a person owns, in six queries."""
    found = {}
    for sort, model in SORTS.items():
        rows: Any = model.objects.filter(owner=owner)
        for row in rows.prefetch_related("profiles") if model is Body else rows:
            found[sort, row.pk] = _values(row)
    return found


@contextmanager
def recorded(owner: User, label: str) -> Iterator[None]:
    """What is done to the kit inside is one step to undo; with an error nothing is done."""
    with transaction.atomic():
        before = _kit(owner)
        yield
        after = _kit(owner)
        fields: list[Moved] = []
        for key in dict.fromkeys((*before, *after)):
            was, now = before.get(key), after.get(key)
            if was is None or now is None:
                fields.append((*key, WHOLE, was, now))
            else:
                fields += [(*key, name, was[name], now[name]) for name in was
                           if was[name] != now[name]]  # fmt: skip
        if fields:
            steps = KitChange.objects.filter(owner=owner)
            steps.filter(undone=True).delete()
            KitChange.objects.create(owner=owner, label=label[:120], fields=fields)
            old = steps.order_by("-pk").values_list("pk", flat=True)[LONGEST_HISTORY:][:1]
            steps.filter(pk__lte=old[0] if old else 0).delete()


def next_undo(owner: User) -> KitChange | None:
    """The step that undo takes back."""
    return KitChange.objects.filter(owner=owner, undone=False).order_by("pk").last()


def next_redo(owner: User) -> KitChange | None:
    """The step that redo does again."""
    return KitChange.objects.filter(owner=owner, undone=True).order_by("pk").first()


def undo(owner: User) -> Taken | None:
    """Take back the last step; None if there is none. Raises CannotUndoError, and does nothing."""
    return _take(owner, undone=True)


def redo(owner: User) -> Taken | None:
    """Do the step undone last again; None if there is none. Raises CannotUndoError."""
    return _take(owner, undone=False)


@transaction.atomic
def _take(owner: User, undone: bool) -> Taken | None:
    User.objects.select_for_update().get(pk=owner.pk)
    step = next_undo(owner) if undone else next_redo(owner)
    if step is None:
        return None
    fields = [(sort, pk, name, now, was) if undone else (sort, pk, name, was, now)
              for sort, pk, name, was, now in step.fields]  # fmt: skip
    # Bodies hold on to profiles: those come first and go last.
    order = list(SORTS)
    fields.sort(key=lambda one: order.index(one[0]) * (-1 if one[4] is None else 1))
    kept = 0
    for sort, pk in dict.fromkeys((one[0], one[1]) for one in fields):
        own = [one for one in fields if one[:2] == (sort, pk)]
        try:
            with transaction.atomic():
                kept += _put(owner, SORTS[sort], pk, own)
        except IntegrityError as error:
            raise CannotUndoError("you have another thing of that name now") from error
    step.undone = undone
    step.save(update_fields=["undone"])
    return Taken(step.label, kept)


def _put(owner: User, model: type[Any], pk: int, fields: list[Moved]) -> int:
    """Put a thing's fields in place; how many stay because they were changed since."""
    row: Any = model.objects.filter(owner=owner, pk=pk).first()
    _, _, name, _, to = fields[0]
    if name == WHOLE and to is None:
        if row is not None:
            users = getattr(row, "setups", None)
            if users is not None and users.exists():
                raise CannotUndoError(f"{row} is used in {users.first()}")
            row.delete()
        return 0
    if name == WHOLE:
        # A step from before a column existed leaves that column at its default.
        row = model(pk=pk, owner=owner)
        fields = [("", pk, key, None, value) for key, value in to.items()]
        _write(row, {key: value for _, _, key, _, value in fields}, new=True)
        return 0
    if row is None:
        return len(fields)
    present = _values(row)
    stay = [one for one in fields if present.get(one[2]) != one[3]]
    _write(row, {one[2]: one[4] for one in fields if one not in stay}, new=False)
    return len(stay)


def _write(row: Gear, values: Values, new: bool) -> None:
    columns = set(_columns(type(row)))
    for name, value in values.items():
        if name in columns:
            setattr(row, name, value)
    row.save(force_insert=new)
    if isinstance(row, Body) and "profiles" in values:
        row.profiles.set(Profile.objects.filter(owner=row.owner, pk__in=values["profiles"]))
    try:
        row.to_spec()
    except (ValueError, TypeError, LookupError, ArithmeticError, BaseValidationError) as error:
        raise CannotUndoError(f"{row} would break a rule: {error}") from error
