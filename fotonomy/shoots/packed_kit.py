"""What a shoot takes along, as the core knows it: read once for each state of the kit.

Every change of a thing of the kit, or of what is packed, gives the shoots it concerns another
``kit_stamp``. A kit that was read is kept in this process under that stamp, so that the next
request that plans the shoot asks for nothing but the row of the shoot.
"""

from dataclasses import dataclass, field
from functools import lru_cache
from threading import local
from typing import Any

from django.core.signals import request_started
from django.db.models.signals import m2m_changed, post_delete, post_save

from fotonomy.core.gear.accessories import Device
from fotonomy.core.gear.filters import Filter as FilterSpec
from fotonomy.core.gear.filters import Holder
from fotonomy.core.gear.lens import Lens as LensSpec
from fotonomy.core.gear.lens import Tube
from fotonomy.exchange.kit_json import OwnSupport
from fotonomy.kit.models import Accessory, Body, Filter, Gear, Lens, Profile, gear_written
from fotonomy.shoots.models import Setup, Shoot
from fotonomy.shoots.models.shoot import new_stamp

GEAR: tuple[type[Any], ...] = (Body, Lens, Filter, Accessory, Profile)
# What a shoot takes along, by its columns.
PACKED: dict[str, Any] = {
    "bodies": Body, "lenses": Lens, "filters": Filter, "accessories": Accessory,
}  # fmt: skip
# So many kits are kept in a process: some hundred kilobytes each, a few megabytes with long tables.
MOST_KEPT = 12

# Things of a kit, or what the core knows of them, by model and id.
Rows = dict[tuple[type[Gear], int], Any]


@dataclass(frozen=True, eq=False)
class PackedKit:
    """What a shoot takes along, by row id, as the core knows it.

    ``nd`` is what a planner may stack, ``others`` the rest of the filters by row id. ``rows`` are
    all bodies, lenses and profiles of the kit, by model and id: a setup may use what stays at home.
    It is shared by requests: nobody changes what is in it.
    """

    nd: tuple[FilterSpec, ...]
    others: dict[int, FilterSpec]
    holders: tuple[Holder, ...]
    tubes: dict[int, Tube]
    supports: tuple[OwnSupport, ...]
    devices: dict[int, Device]
    lenses: tuple[LensSpec, ...]
    rows: Rows
    _specs: Rows = field(default_factory=dict)

    def spec(self, model: type[Gear], pk: int) -> Any:
        """A body, lens or profile as the core knows it, made once for all setups that use it.

        Raises RuleError where it breaks a rule, KeyError where it is not in the kit.
        """
        if (model, pk) not in self._specs:
            self._specs[model, pk] = self.rows[model, pk].to_spec()
        return self._specs[model, pk]

    def put_gear(self, row: Setup) -> None:
        """Give a setup's row the body, lens and profile it names, where it was read without."""
        for name, model in (("body", Body), ("lens", Lens), ("profile", Profile)):
            found = self.rows.get((model, getattr(row, f"{name}_id")))
            if found is not None and name not in row._state.fields_cache:
                setattr(row, name, found)


def packed(shoot: Shoot, model: type[Any], names: str, whole: bool = False) -> Any:
    """Rows of one sort a shoot takes along: all of the kit, or those selected."""
    if whole or shoot.packs_all:
        return model.objects.filter(owner=shoot.owner_id).order_by()
    return getattr(shoot, names).order_by()


def offered(shoot: Shoot, model: type[Any], names: str) -> Any:
    """Rows of one sort that somebody may put into a setup: what is taken along.

    The crew of a shoot that takes the whole kit sees of it what its setups use, no more.
    """
    rows = packed(shoot, model, names)
    if shoot.actor.owns or not shoot.packs_all:
        return rows
    used = rows.filter(setups__shoot=shoot).distinct()
    return used if used.exists() else rows


def packed_kit(shoot: Shoot, whole: bool = False) -> PackedKit:
    """What a shoot takes along. ``whole`` is the kit with nothing left at home, whatever it packs.

    No query where this process has read it before; six at most otherwise.
    """
    asked = shoot.pk, shoot.owner_id, whole or shoot.packs_all
    if shoot.owner_id in _changed():
        return _read(*asked)
    return _kept(*asked, shoot.kit_stamp)


@lru_cache(maxsize=MOST_KEPT)
def _kept(shoot_id: int, owner_id: int, everything: bool, _stamp: str) -> PackedKit:
    return _read(shoot_id, owner_id, everything)


def _read(shoot_id: int, owner_id: int, everything: bool) -> PackedKit:
    shoot = Shoot(pk=shoot_id, owner_id=owner_id, packs_all=everything)
    used: tuple[type[Gear], ...] = (Body, Lens, Profile)
    rows: Rows = {
        (model, row.pk): row for model in used
        for row in model.objects.filter(owner=owner_id).order_by()
    }  # fmt: skip
    _with_profiles(rows)
    pieces, things, lenses = (
        sorted((row for row in packed(shoot, model, names) if row.usable), key=lambda row: row.name)
        for model, names in ((Filter, "filters"), (Accessory, "accessories"), (Lens, "lenses"))
    )
    return PackedKit(
        nd=tuple(p.to_spec() for p in pieces if p.kind in Filter.KNOB_KINDS),
        others={p.pk: p.to_spec() for p in pieces if p.kind not in Filter.KNOB_KINDS},
        holders=tuple(t.to_spec() for t in things if t.sort in Accessory.HOLDERS),
        tubes={t.pk: t.to_spec() for t in things if t.sort == Accessory.TUBE},
        supports=tuple(
            OwnSupport(t.name, t.to_spec()) for t in things if t.sort == Accessory.SUPPORT
        ),
        devices={t.pk: t.to_device() for t in things if t.sort in Accessory.DEVICES},
        lenses=tuple(row.to_spec() for row in lenses),
        rows=rows,
    )


def _with_profiles(rows: Rows) -> None:
    """Tell each body the names of the profiles it records, in their order, in one query."""
    names: dict[int, list[str]] = {pk: [] for model, pk in rows if model is Body}
    through = Body.profiles.through.objects.filter(body__in=names)
    for body, profile in through.values_list("body_id", "profile__name").order_by("profile__name"):
        names[body].append(profile)
    for pk, of_body in names.items():
        rows[Body, pk].profile_names = tuple(of_body)


# Whose kit this request, or this thread outside one, has changed: it is read anew, since the row
# of a shoot that was read before still has the stamp from before.
_of_thread = local()


def _changed() -> set[int]:
    if not hasattr(_of_thread, "owners"):
        _of_thread.owners = set()
    found: set[int] = _of_thread.owners
    return found


def _forget_changed(**_: Any) -> None:
    _changed().clear()


def _gear_changed(sender: Any, instance: Any, **_: Any) -> None:
    _gear_written(sender, {instance.owner_id})


def _gear_written(sender: Any, owners: set[int], **_: Any) -> None:
    _changed().update(owners)
    for owner in owners:
        Shoot.objects.filter(owner=owner).update(kit_stamp=new_stamp())


def _packing_changed(sender: Any, instance: Any, **_: Any) -> None:
    if isinstance(instance, Shoot):
        instance.kit_stamp = new_stamp()
        Shoot.objects.filter(pk=instance.pk).update(kit_stamp=instance.kit_stamp)
        _changed().add(instance.owner_id)


def listen() -> None:
    """Give shoots another stamp when gear or packing changes."""
    request_started.connect(_forget_changed, dispatch_uid="kit-of-request")
    for model in GEAR:
        for signal, what in ((post_save, "saved"), (post_delete, "gone")):
            signal.connect(_gear_changed, sender=model, dispatch_uid=f"kit-{what}-{model.__name__}")
    m2m_changed.connect(_gear_changed, sender=Body.profiles.through, dispatch_uid="kit-profiles")
    gear_written.connect(_gear_written, dispatch_uid="kit-written")
    for column in PACKED:
        through = getattr(Shoot, column).through
        m2m_changed.connect(_packing_changed, sender=through, dispatch_uid=f"kit-packed-{column}")
