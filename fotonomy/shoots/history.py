"""Undo and redo: every change is kept field by field, with who made it, and put back so.

The rows are a log that only grows: undoing or redoing a step adds a row of its own, which says
what it really changed. Whoever writes here has read the setup inside the same transaction.
"""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import time
from typing import Any

from django.db import transaction
from django.db.models import Exists, OuterRef, Q, RestrictedError
from django.db.models.functions import Coalesce

from fotonomy.core.errors import RuleError
from fotonomy.kit.models import Accessory, Body, Filter, Lens, Profile
from fotonomy.shoots.field_paths import WHOLE, Snapshot, moved, value_at, with_values
from fotonomy.shoots.history_rows import drop_part, is_part, part_row, part_snapshot, put_part
from fotonomy.shoots.mapping import PLAIN_COLUMNS, snapshot, spec_of, whole_rows
from fotonomy.shoots.models import Change, Deleted, Setup, Shoot
from fotonomy.shoots.packed_kit import PACKED, packed_kit
from fotonomy.shoots.write_lock import in_turn

# Steps kept for each shoot, give or take those since the last pruning.
LONGEST_HISTORY = 500
PRUNE_EVERY = 50

_LAST_ACT = Coalesce("last_act", "pk")

# Stands for the shoot's own packing where else an id of a setup stands.
PACKING = 0
Snapshots = dict[str, Snapshot | None]
# Id of a setup, or key of another part of the shoot.
Key = int | str
# Key, path, value before and value after.
FieldChange = tuple[Key, str, Any, Any]


class CannotUndoError(ValueError):
    """A step cannot be taken back: gear it needs has left the kit, or its values do not fit."""


@dataclass(frozen=True, slots=True)
class Taken:
    """A step taken back or done again, and the paths that somebody changed since: they stay."""

    step: Change
    act: Change
    kept: tuple[FieldChange, ...]


def lock(shoot: Shoot, asked: str = "") -> bool:
    """Keep others from writing to a shoot until this transaction ends.

    True where what is ``asked`` for (a name of ``Deleted``) was deleted from it.
    """
    rows = Shoot.objects.select_for_update(of=("self",)).annotate(
        any_undone=Change.undone_of("pk"),
        was_deleted=Exists(Deleted.objects.filter(shoot=OuterRef("pk"), name=asked)),
    )
    columns = rows.values_list("any_undone", "was_deleted").get(pk=shoot.pk)
    shoot.has_undone, was_deleted = columns
    return bool(was_deleted)


def record(
    shoot: Shoot, label: str, before: Snapshots, after: Snapshots, gesture: str = ""
) -> Change | None:
    """Note a change; None if nothing changed. What was undone and meets it is forgotten."""
    fields = _fields_of(before, after)
    if not fields:
        return None
    actor = shoot.actor
    left = _forget_undone(shoot, fields)
    if gesture and (last := _continued(shoot, gesture, fields)) is not None:
        began = {(key, path): value for key, path, value, _ in last.fields}
        fields = [(key, path, began[key, path], now) for key, path, _, now in fields]
        last.delete()
    change = Change.objects.create(
        shoot=shoot, label=label[:120], fields=fields, gesture=gesture, author=actor.author,
        client=actor.client, action=actor.action,
    )  # fmt: skip
    change.next_step, shoot.seen = left, change.pk
    if change.pk % PRUNE_EVERY == 0:
        old = shoot.changes.order_by("-pk").values_list("pk", flat=True)[LONGEST_HISTORY:][:1]
        shoot.changes.filter(pk__lte=old[0] if old else 0).delete()
    return change


def _fields_of(before: Snapshots, after: Snapshots) -> list[FieldChange]:
    found: list[FieldChange] = []
    for key, now in after.items():
        was = before.get(key)
        if was is None or now is None:
            found += [(_key(key), WHOLE, was, now)] if was != now else []
        else:
            found += [(_key(key), *one) for one in moved(was, now)]
    return found


def _key(text: str) -> Key:
    return text if is_part(text) else int(text)


def _touched(fields: Iterable[Any]) -> set[tuple[Key, str]]:
    return {(key, path) for key, path, _, _ in fields}


def _forget_undone(shoot: Shoot, fields: list[FieldChange]) -> Change | None:
    """What this window had undone cannot be done again, nor what meets the new change.

    The step that is left to be done again next.
    """
    undone = [] if shoot.has_undone is False else list(undone_steps(shoot))
    # It holds for this one step: what comes next may have been undone meanwhile.
    shoot.has_undone = None
    touched = _touched(fields)
    gone = [
        step for step in undone
        if step.undone_by == shoot.actor.client or not touched.isdisjoint(_touched(step.fields))
    ]  # fmt: skip
    if gone:
        shoot.changes.filter(pk__in=[step.pk for step in gone]).update(forgotten=True)
    return next((step for step in reversed(undone) if step not in gone), None)


def _continued(shoot: Shoot, gesture: str, fields: list[FieldChange]) -> Change | None:
    """The step of the same drag that this change goes on with."""
    last = steps(shoot).filter(gesture=gesture, client=shoot.actor.client).last()
    if last is None:
        return None
    ended = {(key, path): now for key, path, _, now in last.fields}
    begins = {(key, path): was for key, path, was, _ in fields}
    return last if ended == begins else None


def steps(shoot: Shoot) -> Any:
    """Steps that can be undone, the next one last."""
    return shoot.changes.filter(undone=False, of=None).order_by(_LAST_ACT)


def undone_steps(shoot: Shoot) -> Any:
    """Steps that can be done again, the next one last."""
    return shoot.changes.filter(undone=True, forgotten=False, of=None).order_by(_LAST_ACT)


def undo(shoot: Shoot, step: int | None = None) -> Taken | None:
    """Take back one step, the last one if none is named; None if there is none.

    Raises CannotUndoError, and nothing is changed, where the setup would break a rule.
    """
    return _take(shoot, step, undone=True)


def redo(shoot: Shoot, step: int | None = None) -> Taken | None:
    """Do one undone step again, the one undone last if none is named; None if there is none."""
    return _take(shoot, step, undone=False)


@in_turn()
@transaction.atomic
def _take(shoot: Shoot, step: int | None, undone: bool) -> Taken | None:
    Shoot.objects.select_for_update().filter(pk=shoot.pk).first()
    able = steps(shoot) if undone else undone_steps(shoot)
    change = able.filter(pk=step).first() if step is not None else able.last()
    if change is None:
        return None
    fields = [(k, path, now, was) if undone else (k, path, was, now)
              for k, path, was, now in change.fields]  # fmt: skip
    done, kept = _apply(shoot, fields)
    act = Change.objects.create(
        shoot=shoot, label=change.label, fields=done, of=change, undone=undone,
        author=shoot.actor.author, client=shoot.actor.client, action=shoot.actor.action,
    )  # fmt: skip
    shoot.seen = act.pk
    change.undone, change.last_act, change.undone_by = undone, act.pk, shoot.actor.client
    change.save(update_fields=["undone", "last_act", "undone_by"])
    return Taken(change, act, tuple(kept))


def _apply(shoot: Shoot, fields: list[FieldChange]) -> tuple[list[FieldChange], list[FieldChange]]:
    """Put values in place; what was done, and what is kept because it was changed since."""
    parts = [one for one in fields if is_part(one[0])]
    # A place has to be there before setups come to it, and goes once they have left.
    done, kept = _apply_parts(shoot, [one for one in parts if not _drops(one)])
    done_setups, kept_setups = _apply_setups(shoot, [one for one in fields if not is_part(one[0])])
    dropped, _ = _apply_parts(shoot, [one for one in parts if _drops(one)])
    return [*done, *done_setups, *dropped], [*kept, *kept_setups]


def _drops(one: FieldChange) -> bool:
    return bool(one[1] == WHOLE and one[3] is None)


def _apply_parts(
    shoot: Shoot, fields: list[FieldChange]
) -> tuple[list[FieldChange], list[FieldChange]]:
    """The same for places, ways, days and scenes."""
    done: list[FieldChange] = []
    kept: list[FieldChange] = []
    for key in dict.fromkeys(str(one[0]) for one in fields):
        own = [one for one in fields if one[0] == key]
        row = part_row(shoot, key)
        if own[0][1] == WHOLE:
            _make_or_drop(shoot, key, own[0][3])
            done += own
        elif row is None:
            kept += own
        else:
            present = part_snapshot(row)
            go = [one for one in own if _as_left(present, one)]
            put_part(shoot, key, with_values(present, [(one[1], one[3]) for one in go]))
            done, kept = [*done, *go], [*kept, *(one for one in own if one not in go)]
    return done, kept


def _make_or_drop(shoot: Shoot, key: str, data: Snapshot | None) -> None:
    if data is not None:
        try:
            put_part(shoot, key, data)
        except LookupError as error:
            raise CannotUndoError(f"It cannot come back: {error}") from error
        return
    try:
        with transaction.atomic():
            drop_part(shoot, key)
    except RestrictedError as error:
        raise CannotUndoError("Setups stand there meanwhile: move them first") from error


def _apply_setups(
    shoot: Shoot, fields: list[FieldChange]
) -> tuple[list[FieldChange], list[FieldChange]]:
    by_setup: dict[int, list[FieldChange]] = {}
    for one in fields:
        by_setup.setdefault(int(one[0]), []).append(one)
    placed = {k: own[0] for k, own in by_setup.items() if [one[1] for one in own] == ["position"]}
    done = _place(shoot, placed)
    kept: list[FieldChange] = []
    rows = {row.pk: row for row in whole_rows(shoot).filter(pk__in=by_setup.keys() - placed.keys())}
    for key in by_setup.keys() - placed.keys():
        own = by_setup[key]
        if key == PACKING:
            present = packing(shoot)
            stay = [one for one in own if not _as_left(present, one)]
            go = [one for one in own if one not in stay]
            _pack(shoot, with_values(present, [(one[1], one[3]) for one in go]))
            done, kept = done + go, kept + stay
        elif own[0][1] == WHOLE:
            _make_or_delete(shoot, key, own[0][3])
            done += own
        elif key in rows:
            row = rows[key]
            row.shoot = shoot
            present = snapshot(row)
            stay = [one for one in own if not _as_left(present, one)]
            go = [one for one in own if one not in stay]
            write(shoot, row, present, with_values(present, [(one[1], one[3]) for one in go]))
            done, kept = done + go, kept + stay
        else:
            kept += own
    return done, kept


def packing(shoot: Shoot) -> Snapshot:
    """What a shoot takes along, as JSON data: everything, or the things ticked."""
    found: Snapshot = {"packs_all": Shoot.objects.values_list("packs_all").get(pk=shoot.pk)[0]}
    for name in PACKED:
        packed = getattr(shoot, name).order_by("pk").values_list("pk", flat=True)
        found[f"packed_{name}"] = list(packed)
    return found


def packing_step(shoot: Shoot, undone: bool) -> Change | None:
    """The shoot's next step to undo, or to do again, where it is one of packing."""
    step: Change | None = (undone_steps(shoot) if undone else steps(shoot)).last()
    ours = step is not None and {key for key, *_ in step.fields} == {PACKING}
    return step if ours else None


def _pack(shoot: Shoot, data: Snapshot) -> None:
    """Take along what a snapshot says, as far as the kit still has it."""
    shoot.packs_all = bool(data["packs_all"])
    shoot.save(update_fields=["packs_all"])
    for name, model in PACKED.items():
        own = model.objects.filter(owner=shoot.owner, pk__in=data[f"packed_{name}"])
        getattr(shoot, name).set(own)


def _as_left(present: Snapshot, one: FieldChange) -> bool:
    return bool(value_at(present, one[1]) == one[2])


def _place(shoot: Shoot, placed: dict[int, FieldChange]) -> list[FieldChange]:
    """Put setups back to their places in the running order, in two queries."""
    rows = list(shoot.setups.filter(pk__in=placed).only("shoot_id", "position")) if placed else []
    for row in rows:
        row.position = placed[row.pk][3]
    if rows:
        Setup.objects.bulk_update(rows, ["position"], batch_size=200)
    return [placed[row.pk] for row in rows]


def _make_or_delete(shoot: Shoot, key: int, data: Snapshot | None) -> None:
    if data is None:
        shoot.setups.filter(pk=key).delete()
        return
    # A snapshot from before a column existed leaves that column at its default.
    row = Setup(pk=key, shoot=shoot)
    row.filter_ids = row.thing_ids = ()
    write(shoot, row, {}, data)


def write(shoot: Shoot, row: Setup, before: Snapshot, data: Snapshot) -> None:
    """Save a row as a snapshot says, checked by the rules that every door checks by.

    ``before`` is its snapshot as it stands, empty for a new one. Raises CannotUndoError.
    """
    owned = {"owner": shoot.owner}
    for model, key in ((Body, "body_id"), (Lens, "lens_id"), (Profile, "profile_id")):
        if (
            data[key] != before.get(key)
            and not model.objects.filter(pk=data[key], **owned).exists()
        ):
            raise CannotUndoError(f"Its {model._meta.verbose_name} is no longer in the kit")
    for name in PLAIN_COLUMNS:
        if name in data:
            setattr(row, name, data[name])
    _put_where(shoot, row, data)
    at = data.get("planned_time")
    row.planned_time = time.fromisoformat(at) if at else None
    row.summary = None
    row.save()
    if data.get("filters") != before.get("filters"):
        row.put_filters(Filter.objects.filter(pk__in=data.get("filters") or (), **owned))
    if data.get("things") != before.get("things"):
        row.put_things(Accessory.objects.filter(pk__in=data.get("things") or (), **owned))
    try:
        spec_of(row, packed_kit(shoot))
    except RuleError as error:
        raise CannotUndoError(f"{row} would break a rule: {error}") from error


def _put_where(shoot: Shoot, row: Setup, data: Snapshot) -> None:
    """Place, day and scene; from before a setup had its own, the shoot's first."""
    places, days = shoot.places_by_id, shoot.days_by_id
    place, day = data.get("place_id"), data.get("day_id")
    if place is not None and place not in places:
        raise CannotUndoError("Its place is no longer there")
    if day is not None and day not in days:
        raise CannotUndoError("Its day is no longer there")
    row.place = places[place] if place is not None else shoot.main_place
    row.day = days[day] if day is not None else shoot.first_day
    scene = data.get("scene_id")
    row.scene_id = scene if scene and shoot.scenes.filter(pk=scene).exists() else None


def was_made(shoot: Shoot) -> bool:
    """True if this very action of this window is in the log: its answer got lost on the way."""
    actor = shoot.actor
    own = shoot.changes.filter(client=actor.client, action=actor.action)
    return bool(actor.action) and own.exists()


def since(shoot: Shoot, seen: int) -> list[Change]:
    """What was done to a shoot after the row ``seen``, the oldest first."""
    return list(shoot.changes.filter(pk__gt=seen).select_related("author").order_by("pk"))


def latest(shoot: Shoot) -> int:
    """The newest row of the log as it is now, 0 if there is none."""
    newest: int | None = shoot.changes.order_by("-pk").values_list("pk", flat=True).first()
    return newest or 0


def seen(shoot: Shoot) -> int:
    """The newest row of the log when the shoot was read, or its own change since.

    A page that asked after it had read the rest would take a change that came between for seen.
    """
    return latest(shoot) if shoot.seen is None else shoot.seen


def ends(shoot: Shoot) -> tuple[Change | None, Change | None]:
    """The steps that undo and redo would take; in one query."""
    wanted = Q()
    for rows in (steps(shoot).reverse(), undone_steps(shoot).reverse()):
        wanted |= Q(pk__in=rows.values("pk")[:1])
    found = list(shoot.changes.filter(wanted))
    last = next((row for row in found if not row.undone), None)
    return last, next((row for row in found if row.undone), None)


def as_at(present: Snapshot, key: int, later: Iterable[Change]) -> Snapshot:
    """A setup's snapshot as it was before these later rows of the log, newest values taken off."""
    data = present
    for change in sorted(later, key=lambda one: -one.pk):
        own = [(path, was) for k, path, was, _ in change.fields if k == key and path != WHOLE]
        try:
            data = with_values(data, own)
        except (LookupError, TypeError):
            return present
    return data
