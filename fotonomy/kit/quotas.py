"""How much one person may keep on a server that others use too; said before it is reached.

The limits are the same for everybody until the staff changes somebody's.
"""

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from typing import Any

from django.contrib.auth.models import User
from django.db.models import F, Model, Subquery, Sum, TextField, Value
from django.db.models.expressions import Combinable
from django.db.models.functions import Cast, Coalesce, Length

from fotonomy.kit.models import Accessory, Allowance, Body, Filter, Gear, KitChange, Lens, Profile

# From this share of a limit on the pages say how much is left.
SAID_FROM = 0.9
# What a row takes beside its long columns, about.
ROW_BYTES = 400
# What measures the bytes of a person, as part of one query; each app adds its own.
MEASURES: list[Callable[[User], Combinable]] = []


class QuotaError(ValueError):
    """There is no room for more; the words say of what, and how many there may be."""


@dataclass(frozen=True, slots=True)
class Use:
    """How many there are of something, and how many there may be."""

    name: str
    count: float
    most: int

    @property
    def nearly_full(self) -> bool:
        """Nine tenths or more are taken."""
        return self.count >= SAID_FROM * self.most

    @property
    def words(self) -> str:
        """The same in words: 361 of 400 lenses."""
        return f"{self.count:.0f} of {self.most} {self.name}"


def allowance_of(owner: User) -> Allowance:
    """What a person may keep."""
    return Allowance.objects.filter(owner=owner).first() or Allowance(owner=owner)


def bytes_in(model: type[Model], owner: User, *columns: str, of: str = "owner") -> Combinable:
    """About the bytes that a person's rows take, as part of a query.

    Their long columns as text, and a little for the rest. ``of`` leads from a row to its owner.
    """
    each = sum((Coalesce(Length(Cast(F(name), TextField())), 0) for name in columns),
               Value(ROW_BYTES))  # fmt: skip
    return summed(model, owner, each, of)


def summed(model: type[Model], owner: User, each: Any, of: str) -> Combinable:
    """The sum of something over a person's rows, as part of a query; 0 where there is none."""
    rows = model._default_manager.filter(**{of: owner}).order_by().values(of)
    return Coalesce(Subquery(rows.annotate(total=Sum(each)).values("total")), 0)


def _kit_bytes(owner: User) -> Combinable:
    long: dict[type[Model], tuple[str, ...]] = {
        Profile: ("table", "base_iso"), Body: ("formats", "drive_modes"), KitChange: ("fields",),
        Lens: (), Filter: (), Accessory: (),
    }  # fmt: skip
    each = (bytes_in(model, owner, *columns) for model, columns in long.items())
    return sum(each, Value(0))


MEASURES.append(_kit_bytes)


def stored(owner: User) -> Use:
    """Megabytes that a person keeps, in one query."""
    held = sum((measure(owner) for measure in MEASURES), Value(0))
    row = User.objects.annotate(held=held).values_list("held", "allowance__megabytes")
    count, most = row.get(pk=owner.pk)
    return Use("megabytes", count / 1e6, Allowance().megabytes if most is None else most)


def room_for_bytes(owner: User) -> None:
    """Raise QuotaError where what a person keeps takes more than it may."""
    use = stored(owner)
    if use.count > use.most:
        raise QuotaError(
            f"That comes to {use.count:.0f} MB, and you may keep {use.most} MB: delete something"
        )


def room_for(model: type[Gear], owner: User) -> None:
    """Raise QuotaError where a person owns as many things of a sort as there may be."""
    most = allowance_of(owner).things
    if model.objects.filter(owner=owner).count() >= most:
        name = model._meta.verbose_name_plural
        raise QuotaError(f"You have {most} {name}, as many as there may be")


def kit_uses(owner: User) -> list[Use]:
    """Things of each sort and megabytes."""
    most = allowance_of(owner).things
    sorts = [
        Use(str(model._meta.verbose_name_plural), model.objects.filter(owner=owner).count(), most)
        for model in (Body, Lens, Filter, Accessory, Profile)
    ]
    return [*sorts, stored(owner)]


def nearly_full(uses: Iterable[Use]) -> str:
    """What to say of what is nearly full; nothing where nothing is."""
    near = [use.words for use in uses if use.nearly_full]
    return f"Nearly full: {', '.join(near)}." if near else ""
