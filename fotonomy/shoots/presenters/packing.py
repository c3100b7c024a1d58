"""What a shoot takes of the kit, and the list that follows from its setups."""

from dataclasses import dataclass

from fotonomy.core.analysis.packing import CameraLoad, camera_loads, glass_needed, holders_needed
from fotonomy.core.analysis.setup import Analysis, analyse
from fotonomy.kit.models import Gear
from fotonomy.shoots.mapping import is_plannable, spec_of, whole_rows
from fotonomy.shoots.models import Setup, Shoot
from fotonomy.shoots.packed_kit import PackedKit, packed_kit
from fotonomy.shoots.services.packing import SORTS

# More codes than this are counted instead.
MOST_CODES = 5


@dataclass(frozen=True, slots=True)
class ThingView:
    """One thing: its row id and name, if it is packed, and the codes of the setups that use it."""

    pk: int
    name: str
    packed: bool
    used_in: tuple[str, ...]

    @property
    def words(self) -> str:
        """Where it is used, in a few words."""
        if len(self.used_in) > MOST_CODES:
            return f"{len(self.used_in)} setups"
        return ", ".join(self.used_in) or "no setup yet"

    @property
    def missing(self) -> bool:
        """True if a setup uses it and it is not packed."""
        return bool(self.used_in) and not self.packed


@dataclass(frozen=True, slots=True)
class SectionView:
    """One sort of gear: the form's field, its title, its things."""

    field: str
    title: str
    things: tuple[ThingView, ...]


@dataclass(frozen=True, slots=True)
class PackingView:
    """Everything the packing page takes."""

    packs_all: bool
    sections: tuple[SectionView, ...]
    loads: tuple[CameraLoad, ...]
    missing: tuple[str, ...]


def packing_view(shoot: Shoot) -> PackingView:
    """The kit with what is packed and used, and what the setups record."""
    rows = list(whole_rows(shoot).prefetch_related("filters", "things"))
    for row in rows:
        row.shoot = shoot
    # What a setup needs does not depend on what was packed: ask the whole kit.
    packed = packed_kit(shoot, whole=True)
    rows = [row for row in rows if is_plannable(row, packed)]
    planned = [analyse(spec_of(row, packed)) for row in rows]
    used = _used(rows, planned, packed)
    sections = tuple(
        SectionView(field, title, _things(shoot, field, model, used[field]))
        for field, title, model in SORTS
    )
    missing = tuple(t.name for section in sections for t in section.things if t.missing)
    return PackingView(shoot.packs_all, sections, camera_loads(planned), missing)


def _used(
    rows: list[Setup], planned: list[Analysis], packed: PackedKit
) -> dict[str, dict[str, list[str]]]:  # fmt: skip
    """For each sort: names of things to the setups that use them."""
    used: dict[str, dict[str, list[str]]] = {field: {} for field, _, _ in SORTS}
    for row, analysis in zip(rows, planned, strict=True):
        named = {
            "bodies": (row.body.name,),
            "lenses": (row.lens.name,),
            "filters": (*glass_needed(analysis), *(piece.name for piece in row.filters.all())),
            "accessories": (
                *holders_needed(analysis),
                *(thing.name for thing in row.things.all()),
                *(name for name, sort in packed.supports if sort is analysis.setup.support),
            ),
        }
        for field, names in named.items():
            for name in dict.fromkeys(names):
                used[field].setdefault(name, []).append(row.code or row.title or "untitled")
    return used


def _things(
    shoot: Shoot, field: str, model: type[Gear], used: dict[str, list[str]]
) -> tuple[ThingView, ...]:
    chosen = set(getattr(shoot, field).values_list("pk", flat=True))
    rows = sorted(model.objects.filter(owner=shoot.owner).order_by(), key=lambda row: row.name)
    return tuple(
        ThingView(row.pk, row.name, shoot.packs_all or row.pk in chosen,
                  tuple(used.get(row.name, ())))
        for row in rows
    )  # fmt: skip
