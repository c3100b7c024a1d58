"""Which lenses of a kit a filter goes on, and what it needs where it does not."""

from dataclasses import dataclass

from django.contrib.auth.models import User

from fotonomy.core.gear.filters import Filter as FilterSpec
from fotonomy.core.gear.filters import Front, Holder, Seating, seating
from fotonomy.kit.models import Accessory, Lens


@dataclass(frozen=True, slots=True)
class Seat:
    """One lens and how the filter goes on it; ``seating`` is None before its thread is said."""

    lens: str
    thread_mm: float | None
    seating: Seating


def seats_of(owner: User, glass: FilterSpec | None) -> list[Seat]:
    """Every lens of the kit with how the glass goes on it; those it fits stand first."""
    rows = Accessory.objects.filter(owner=owner, sort__in=Accessory.HOLDERS)
    holders: list[Holder] = []
    for row in rows:
        if row.usable:
            spec = row.to_spec()
            assert isinstance(spec, Holder)
            holders.append(spec)
    found = [
        Seat(lens.name, lens.thread_mm, _on(glass, Front(lens.thread_mm, tuple(holders))))
        for lens in Lens.objects.filter(owner=owner).order_by("name")
    ]
    return sorted(found, key=lambda one: not one.seating.fits)


def _on(glass: FilterSpec | None, front: Front) -> Seating:
    return Seating("") if glass is None else seating(glass, front)
