"""Taking gear out of the kit: where it is used, and what may stand in for it."""

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any, TypeVar

from django.db import transaction
from django.db.models import QuerySet

from fotonomy.kit.models import Accessory, Body, Filter, Gear, Lens, Profile
from fotonomy.shoots import history
from fotonomy.shoots.mapping import snapshot
from fotonomy.shoots.models import Setup, Shoot
from fotonomy.shoots.services.packing import SORTS

# Columns of a setup that name one thing of the kit.
COLUMNS: dict[type[Gear], str] = {Body: "body", Lens: "lens", Profile: "profile"}
# The list of a shoot's packing a thing stands in.
PACKED_AS: dict[type[Gear], str] = {model: field for field, _, model in SORTS}
MOST_NAMED = 12
Thing = TypeVar("Thing", Accessory, Filter)


@dataclass(frozen=True, slots=True)
class Use:
    """Where a thing is used and what may replace it.

    ``optional`` is true for what can simply be taken off: a filter, a tube, a battery.
    """

    setups: tuple[Setup, ...]
    replacements: tuple[Gear, ...]
    optional: bool

    @property
    def words(self) -> str:
        """The setups by name, some of them if there are many."""
        named = ", ".join(f"{row} ({row.shoot})" for row in self.setups[:MOST_NAMED])
        more = len(self.setups) - MOST_NAMED
        return f"{named} and {more} more" if more > 0 else named


def use_of(gear: Gear) -> Use:
    """Every setup that uses a thing, and the owner's other things that could stand in."""
    if not hasattr(gear, "setups"):
        return Use((), (), optional=True)
    setups = tuple(gear.setups.select_related("shoot").order_by("shoot_id", "position"))
    others = _like(gear).filter(owner=gear.owner).exclude(pk=gear.pk)
    return Use(setups, tuple(others), type(gear) not in COLUMNS)


def _like(gear: Gear) -> "QuerySet[Any]":
    """Everything of the sort that can stand where this thing stands."""
    match gear:
        case Filter():
            # ND is stacked by the bench itself; only other glass is put on one by one.
            return Filter.objects.exclude(kind__in=Filter.KNOB_KINDS)
        case Accessory():
            return Accessory.objects.filter(sort=gear.sort)
    return type(gear).objects.all()


@transaction.atomic
def take_out(gear: Gear, replacement: Gear | None) -> int:
    """Take a thing out of the kit, putting another in its place; the setups changed.

    Without a replacement what is optional is taken off. Each shoot gets one step to undo
    for its setups; a step that needs the thing itself can then no longer be taken back.
    Raises ValueError where a setup needs the thing and nothing replaces it.
    """
    use = use_of(gear)
    if use.setups and replacement is None and not use.optional:
        raise ValueError("a setup needs it and nothing replaces it")
    before = {row.pk: snapshot(row) for row in use.setups}
    for row in use.setups:
        _replace(row, gear, replacement)
    _repack(gear, replacement)
    for shoot in {row.shoot_id: row.shoot for row in use.setups}.values():
        rows = [row for row in use.setups if row.shoot_id == shoot.pk]
        label = f"{gear} replaced by {replacement}" if replacement else f"{gear} taken off"
        history.record(
            shoot, label[:120], {str(row.pk): before[row.pk] for row in rows},
            {str(row.pk): snapshot(row) for row in rows},
        )  # fmt: skip
    gear.delete()
    return len(use.setups)


def _repack(gear: Gear, replacement: Gear | None) -> None:
    """Shoots that had packed the thing take the other one along."""
    field = PACKED_AS.get(type(gear))
    if field is not None and replacement is not None:
        for shoot in Shoot.objects.filter(**{field: gear}):
            getattr(shoot, field).add(replacement)


def _replace(row: Setup, gear: Gear, replacement: Gear | None) -> None:
    column = COLUMNS.get(type(gear))
    if column is not None:
        setattr(row, column, replacement)
        row.save()
        return
    if isinstance(gear, Accessory):
        row.put_things(_swapped(row.things.all(), gear, replacement))
    elif isinstance(gear, Filter):
        row.put_filters(_swapped(row.filters.all(), gear, replacement))


def _swapped(present: Iterable[Thing], gear: Thing, other: Gear | None) -> list[Thing]:
    kept = [thing for thing in present if thing.pk != gear.pk]
    if isinstance(other, type(gear)) and other not in kept:
        kept.append(other)
    return kept
