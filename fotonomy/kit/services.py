"""Taking gear from a file into a person's kit."""

from dataclasses import dataclass
from typing import Any, TypeVar

from django.contrib.auth.models import User
from django.db import transaction

from fotonomy.core.curves.transfer_functions import ParametricLog, Tabulated
from fotonomy.core.gear import body as body_spec
from fotonomy.core.gear.accessories import Battery, Card, Device, Heater, Remote
from fotonomy.core.gear.filters import Filter as FilterSpec
from fotonomy.core.gear.filters import Holder, MatteBox, StepRing
from fotonomy.core.gear.lens import Lens as LensSpec
from fotonomy.core.gear.lens import Tube
from fotonomy.core.gear.neutral_density import stops_to_density
from fotonomy.core.gear.profile import LevelScale
from fotonomy.core.gear.profile import Profile as ProfileSpec
from fotonomy.core.gear.support import Support
from fotonomy.core.lamps.lamp import Fixture
from fotonomy.core.spec.setup import Setup
from fotonomy.exchange.converter import curve_to_data, to_data
from fotonomy.exchange.kit_json import Kit, OwnSupport
from fotonomy.kit.models import Accessory, Body, Filter, Gear, Lens, Profile
from fotonomy.kit.quotas import room_for, room_for_bytes

GearKind = TypeVar("GearKind", bound=Gear)


@dataclass(frozen=True, slots=True)
class TakenIn:
    """Rows for the gear of a setup that was read."""

    body: Body
    lens: Lens
    profile: Profile
    filters: list[Filter]
    things: list[Accessory]


def import_gear(owner: User, spec: Setup) -> TakenIn:
    """Rows for a spec's gear; its ND, holders and other lenses are taken in too.

    Same name and same numbers: the person's own row. Otherwise a new one, under a
    free name such as "A-cam (2)".
    """
    profile = take_in(Profile, owner, spec.profile.name, profile_columns(spec.profile))[0]
    body = take_in(Body, owner, spec.body.name, body_columns(spec.body))[0]
    if body.name != spec.body.name or not body.profiles.exists():
        body.profiles.add(profile)
    lens = take_in(Lens, owner, spec.lens.name, lens_columns(spec.lens))[0]
    for other in spec.packed_lenses:
        take_in(Lens, owner, other.name, lens_columns(other))
    for piece in spec.glass:
        take_in(Filter, owner, piece.name, filter_columns(piece))
    for holder in spec.holders:
        take_in(Accessory, owner, holder.name, accessory_columns(holder))
    return TakenIn(
        body, lens, profile,
        [take_in(Filter, owner, p.name, filter_columns(p))[0] for p in spec.filters],
        [
            take_in(Accessory, owner, t.name, accessory_columns(t))[0]
            for t in (*spec.tubes, *spec.devices)
        ],
    )  # fmt: skip


@dataclass(frozen=True, slots=True)
class Arrival:
    """What became of one thing of a kit file: the row, its name in the file, and if it is new."""

    row: Gear
    wanted: str
    made: bool


@transaction.atomic
def import_kit(owner: User, kit: Kit) -> list[Arrival]:
    """Rows for a whole kit; what the person has already, number for number, is not doubled."""
    found = []

    def take(model: type[GearKind], name: str, columns: dict[str, Any]) -> tuple[GearKind, bool]:
        row, made = take_in(model, owner, name, columns)
        found.append(Arrival(row, name, made))
        return row, made

    profiles = {p.name: take(Profile, p.name, profile_columns(p))[0] for p in kit.profiles}
    profiles = {row.name: row for row in Profile.objects.filter(owner=owner)} | profiles
    for body in kit.bodies:
        row, made = take(Body, body.name, body_columns(body))
        if made:
            row.profiles.set(profiles[name] for name in body.profiles if name in profiles)
    for lens in kit.lenses:
        take(Lens, lens.name, lens_columns(lens))
    for piece in kit.glass:
        take(Filter, piece.name, filter_columns(piece))
    for thing in (*kit.holders, *kit.tubes, *kit.devices):
        take(Accessory, thing.name, accessory_columns(thing))
    for lamp in kit.lamps:
        columns = {"sort": Accessory.LAMP, "lux_1m": lamp.lux_at_1m, "size_m": lamp.size_m}
        take(Accessory, lamp.name, columns)
    for name, support in kit.supports:
        take(Accessory, name, {"sort": Accessory.SUPPORT, "support": support.value})
    room_for_bytes(owner)
    return found


def kit_of(owner: User) -> Kit:
    """Everything a person owns as the core knows it; what breaks a rule is left out."""
    bodies = Body.objects.filter(owner=owner).prefetch_related("profiles")
    things = [row for row in Accessory.objects.filter(owner=owner) if row.usable]
    specs = [(row.name, row.to_spec()) for row in things]
    return Kit(
        profiles=tuple(row.to_spec() for row in Profile.objects.filter(owner=owner) if row.usable),
        bodies=tuple(row.to_spec() for row in bodies if row.usable),
        lenses=tuple(row.to_spec() for row in Lens.objects.filter(owner=owner) if row.usable),
        glass=tuple(row.to_spec() for row in Filter.objects.filter(owner=owner) if row.usable),
        holders=tuple(s for _, s in specs if isinstance(s, StepRing | MatteBox)),
        tubes=tuple(s for _, s in specs if isinstance(s, Tube)),
        supports=tuple(OwnSupport(name, s) for name, s in specs if isinstance(s, Support)),
        devices=tuple(s for _, s in specs if isinstance(s, Remote | Card | Battery | Heater)),
        lamps=tuple(s for _, s in specs if isinstance(s, Fixture)),
    )


def take_in(
    model: type[GearKind], owner: User, wanted: str, columns: dict[str, Any]
) -> tuple[GearKind, bool]:
    """A row of this name and these numbers, and True if it had to be made."""
    name = wanted
    for number in range(2, 1000):
        row = model.objects.filter(owner=owner, name=name).first()
        if row is None:
            room_for(model, owner)
            row = model(owner=owner, name=name, **columns)
            row.save(force_insert=True)
            return row, True
        if all(_same(getattr(row, key), value) for key, value in columns.items()):
            return row, False
        name = f"{wanted[:70]} ({number})"
    raise ValueError(f"no free name for {wanted}")


def _same(have: Any, wanted: Any) -> bool:
    """The same numbers, a rounding apart, in lists and all."""
    if isinstance(have, int | float) and isinstance(wanted, int | float):
        return abs(have - wanted) <= 1e-6 * max(1.0, abs(have))
    if isinstance(have, list) and isinstance(wanted, list):
        return len(have) == len(wanted) and all(map(_same, have, wanted))
    if isinstance(have, dict) and isinstance(wanted, dict):
        return all(_same(have.get(k), wanted.get(k)) for k in have.keys() | wanted.keys())
    return bool(have == wanted)


def body_columns(body: body_spec.Body) -> dict[str, Any]:
    """A body's spec as columns, its profiles apart."""
    lists = ("formats", "drive_modes", "angles_deg", "nd_wheel")
    return {
        **{key: getattr(body, key) for key in Body.PLAIN if key != "name"},
        **{key: to_data(getattr(body, key)) for key in lists},
        **{key: getattr(body.sensor, key) for key in Body.SENSOR},
        "shutter_style": body.shutter_style.value,
    }


def lens_columns(lens: LensSpec) -> dict[str, Any]:
    """A lens's spec as columns."""
    return {key: getattr(lens, key) for key in Lens.PLAIN if key != "name"}


def filter_columns(piece: FilterSpec) -> dict[str, Any]:
    """A filter's spec as columns."""
    seat = {"thread_mm": piece.thread_mm, "mount": piece.seat.value}
    if piece.kind.value not in Filter.KNOB_KINDS:
        return {"kind": piece.kind.value, "loss_stops": piece.stops, **seat}
    most = None if piece.most_stops is None else round(stops_to_density(piece.most_stops), 4)
    return {
        "kind": piece.kind.value,
        "density": round(stops_to_density(piece.stops), 4),
        "most_density": most,
        **seat,
    }


def accessory_columns(thing: Holder | Tube | Device) -> dict[str, Any]:
    """A holder's, tube's or device's spec as columns."""
    match thing:
        case Remote():
            return _device_columns(Accessory.REMOTE, thing) | {"counting": thing.counting.value}
        case Card():
            return _device_columns(Accessory.CARD, thing)
        case Battery():
            return _device_columns(Accessory.BATTERY, thing)
        case Heater():
            return _device_columns(Accessory.HEATER, thing) | {"fed_by": thing.fed_by.value}
        case StepRing():
            return {"sort": Accessory.RING, "lens_mm": thing.lens_mm, "filter_mm": thing.filter_mm}
        case MatteBox():
            return {"sort": Accessory.BOX, "lens_mm": thing.largest_mm}
        case Tube():
            return {"sort": Accessory.TUBE, "length_mm": thing.length_mm}


def _device_columns(sort: str, device: Device) -> dict[str, Any]:
    return {"sort": sort, **{name: getattr(device, name) for name in Accessory.PLAIN[sort]}}


def profile_columns(profile: ProfileSpec) -> dict[str, Any]:
    """A profile's spec as columns."""
    curve = profile.curve
    log = isinstance(curve, ParametricLog)
    parameters = {key: getattr(curve, key) if log else None for key in Profile.PARAMETERS}
    data = curve_to_data(curve)
    return {
        **parameters,
        "curve": Profile.LOG if log else data.get("standard", Profile.TABLE),
        "table": data.get("table"),
        "purpose": profile.purpose,
        "skin_percent": profile.skin_percent,
        "clip_percent": profile.clip_percent,
        "grey_percent": profile.grey_percent,
        "scale": profile.scale.value,
        "bits": profile.bits,
        "base_iso": list(profile.base_iso),
    }


def profile_from_published(owner: User, name: str, curve: Tabulated) -> Profile:
    """A new profile on a published encoding, under its own name or a free one.

    Published encodings count in full codes; the clip is put where the curve or the scale
    ends, whichever comes first, and is the person's to set.
    """
    row, _ = take_in(
        Profile, owner, name[:80],
        {
            "curve": Profile.TABLE, "table": curve_to_data(curve)["table"],
            "table_source": f"from the published encoding {name}"[:120],
            "clip_percent": round(min(100.0, 100 * curve.signal[-1]), 2),
            "scale": LevelScale.FULL.value, "bits": 10, "base_iso": [],
        },
    )  # fmt: skip
    row.to_spec()
    return row
