"""Energy of hours alone: body, what hangs beside it, batteries, and what cold leaves of them."""

from dataclasses import dataclass

from fotonomy.core import constants as c
from fotonomy.core.gear.accessories import Battery, Device, Feed, Heater
from fotonomy.core.gear.body import Body

# What a camera waiting draws of what it draws at work, where it is not known.
# Common practice, no source.
IDLE_SHARE = 0.4
# Batteries give less in the cold: a hundredth less a degree under 20 °C, at least 40 % of what
# is printed on them. Common practice, no source.
COLD_FROM_C, COLD_SHARE_A_C, COLD_LEAST = 20.0, 0.01, 0.4


def cold_share(temperature_c: float) -> float:
    """Share of its energy a battery gives when so cold: common practice, no source."""
    under_c = max(0.0, COLD_FROM_C - temperature_c)
    return max(COLD_LEAST, 1 - COLD_SHARE_A_C * under_c)


@dataclass(frozen=True, slots=True)
class Draw:
    """What a run draws, in watts: waiting, at work, and what hangs on the camera or on a pack."""

    idle_w: float
    busy_w: float
    heater_w: float
    pack_w: float
    assumed: bool

    def energy_wh(self, lasts_s: float, busy_s: float) -> float:
        """Watt hours of a run so long, so much of it at work; without what a pack feeds."""
        waiting = (self.idle_w + self.heater_w) * lasts_s
        return (waiting + (self.busy_w - self.idle_w) * min(busy_s, lasts_s)) / 3600


def draw_of(body: Body, devices: tuple[Device, ...]) -> Draw | None:
    """What a body and what hangs on it draw; None where the body's power is unknown."""
    beside = [device for device in devices if isinstance(device, Heater)]
    on_camera = sum(device.power_w for device in beside if device.fed_by is Feed.CAMERA)
    on_pack = sum(device.power_w for device in beside if device.fed_by is Feed.PACK)
    if body.power_w is None:
        return None
    idle = body.idle_w if body.idle_w is not None else IDLE_SHARE * body.power_w
    return Draw(min(idle, body.power_w), body.power_w, on_camera, on_pack, body.idle_w is None)


@dataclass(frozen=True, slots=True)
class Supply:
    """What batteries give in the cold, in Wh: those in the camera, and external packs.

    A pack feeds what hangs on it first; what it has left helps the camera.
    """

    cells_wh: float
    packs_wh: float
    printed_wh: float
    share_left: float

    def for_camera_wh(self, pack_needs_wh: float) -> float:
        """What is there for the camera once the packs have fed what hangs on them."""
        return self.cells_wh + max(0.0, self.packs_wh - pack_needs_wh)


def supply_of(devices: tuple[Device, ...], temperature_c: float) -> Supply | None:
    """What the batteries among some devices give; None where there is none."""
    cells = [device for device in devices if isinstance(device, Battery)]
    if not cells:
        return None
    share = cold_share(temperature_c)
    given = share * c.BATTERY_USED_SHARE
    return Supply(
        cells_wh=given * sum(cell.usable_wh for cell in cells if not cell.external),
        packs_wh=given * sum(cell.usable_wh for cell in cells if cell.external),
        printed_wh=sum(cell.usable_wh for cell in cells), share_left=share,
    )  # fmt: skip


@dataclass(frozen=True, slots=True)
class Power:
    """Energy a run needs and has, in Wh; ``lasts_s`` how long what it has would last.

    ``has_wh`` is None where no battery is named: then only the need is known. What packs feed
    beside the camera stands apart: ``pack_needs_wh`` of ``pack_has_wh``.
    """

    needs_wh: float
    has_wh: float | None
    printed_wh: float
    share_left: float
    lasts_s: float | None
    assumed: bool
    pack_needs_wh: float = 0.0
    pack_has_wh: float = 0.0

    @property
    def short_wh(self) -> float:
        """What the camera is missing, 0 if nothing is."""
        return 0.0 if self.has_wh is None else max(0.0, self.needs_wh - self.has_wh)

    @property
    def pack_short_wh(self) -> float:
        """What is missing for what hangs on a pack, 0 if nothing is."""
        return max(0.0, self.pack_needs_wh - self.pack_has_wh)


def power_of(
    body: Body, devices: tuple[Device, ...], temperature_c: float, lasts_s: float, busy_s: float
) -> Power | None:
    """Energy of a run against its batteries; None where the body's power is unknown."""
    draw = draw_of(body, devices)
    if draw is None:
        return None
    needs, pack_needs = draw.energy_wh(lasts_s, busy_s), draw.pack_w * lasts_s / 3600
    supply = supply_of(devices, temperature_c)
    if supply is None:
        return Power(
            needs, None, 0.0, cold_share(temperature_c), None, draw.assumed, pack_needs, 0.0
        )
    has = supply.for_camera_wh(pack_needs)
    return Power(
        needs, has, supply.printed_wh, supply.share_left,
        _lasts_s(supply, needs, pack_needs, lasts_s), draw.assumed, pack_needs, supply.packs_wh,
    )  # fmt: skip


def _lasts_s(supply: Supply, needs: float, pack_needs: float, lasts_s: float) -> float | None:
    """How long the camera goes on: together with what drains the packs, or without them."""
    if needs <= 0 or lasts_s <= 0:
        return None
    together = (supply.cells_wh + supply.packs_wh) / (needs + pack_needs)
    if pack_needs * together > supply.packs_wh:
        together = supply.cells_wh / needs
    return together * lasts_s
