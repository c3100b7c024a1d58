"""The kit file: everything a person owns, in and out (docs/formats.md)."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from fotonomy.core.errors import RuleError
from fotonomy.core.gear.accessories import Device
from fotonomy.core.gear.body import Body
from fotonomy.core.gear.filters import Glass, Holder
from fotonomy.core.gear.lens import Lens, Tube
from fotonomy.core.gear.profile import Profile
from fotonomy.core.gear.support import Support
from fotonomy.exchange import gear_json as gj
from fotonomy.exchange.errors import ExchangeError
from fotonomy.exchange.schemas import check, read_json

VERSION = 1


@dataclass(frozen=True, slots=True)
class Kit:
    """A kit as the core knows it; supports are pairs of name and sort."""

    profiles: tuple[Profile, ...] = ()
    bodies: tuple[Body, ...] = ()
    lenses: tuple[Lens, ...] = ()
    glass: tuple[Glass, ...] = ()
    holders: tuple[Holder, ...] = ()
    tubes: tuple[Tube, ...] = ()
    supports: tuple[tuple[str, Support], ...] = ()
    devices: tuple[Device, ...] = ()


def read_kit(raw: bytes) -> Kit:
    """A kit file's bytes as a kit. Raises ExchangeError with the place of the fault."""
    return kit_from_data(read_json(raw))


def kit_from_data(data: Any) -> Kit:
    """JSON data as a kit. Raises ExchangeError with the JSON path of the fault."""
    check("kit", data)
    readers: dict[str, Callable[[dict[str, Any]], Any]] = {
        "profiles": gj.profile_from_data, "bodies": gj.body_from_data,
        "lenses": gj.lens_from_data, "glass": gj.glass_from_data,
        "holders": gj.holder_from_data, "tubes": gj.tube_from_data,
        "supports": _support_from_data, "devices": gj.device_from_data,
    }  # fmt: skip
    found: dict[str, tuple[Any, ...]] = {}
    for key, read in readers.items():
        rows = []
        for at, entry in enumerate(data.get(key, ())):
            try:
                rows.append(read(entry))
            except RuleError as error:
                raise ExchangeError(f"$.{key}[{at}].{error.field}", error.rule) from error
        found[key] = tuple(rows)
    return Kit(**found)


def _support_from_data(data: dict[str, Any]) -> tuple[str, Support]:
    return data["name"], Support(data["support"])


def kit_to_data(kit: Kit) -> dict[str, Any]:
    """A kit as JSON data; kit_from_data gives the same kit back."""
    return {
        "format": "fotonomy-kit",
        "version": VERSION,
        "profiles": [gj.profile_to_data(profile) for profile in kit.profiles],
        "bodies": gj.plain(kit.bodies),
        "lenses": gj.plain(kit.lenses),
        "glass": gj.plain(kit.glass),
        "holders": [gj.holder_to_data(holder) for holder in kit.holders],
        "tubes": gj.plain(kit.tubes),
        "supports": [{"name": name, "support": sort.value} for name, sort in kit.supports],
        "devices": [gj.device_to_data(device) for device in kit.devices],
    }
