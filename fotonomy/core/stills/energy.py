"""Energy of hours alone: body, heater, batteries, and what the cold leaves of them."""

from dataclasses import dataclass

from fotonomy.core import constants as c
from fotonomy.core.gear.accessories import Battery, Device, Heater
from fotonomy.core.gear.body import Body

# What a camera waiting draws of what it draws at work, where it is not known.
# Common practice, no source.
IDLE_SHARE = 0.4
# Batteries give less in the cold: a hundredth less a degree under 20 °C, at least 40 % of what
# is printed on them. Common practice, no source.
COLD_FROM_C, COLD_SHARE_A_C, COLD_LEAST = 20.0, 0.01, 0.4


def cold_share(temperature_c: float) -> float:
    """Share of its energy a battery gives when so cold: common practice, no source."""
    under = max(0.0, COLD_FROM_C - temperature_c)
    return max(COLD_LEAST, 1 - COLD_SHARE_A_C * under)


@dataclass(frozen=True, slots=True)
class Draw:
    """What a run draws, in watts: waiting, at work more than that, and beside the camera."""

    idle_w: float
    busy_w: float
    heater_w: float
    assumed: bool

    def energy_wh(self, lasts_s: float, busy_s: float) -> float:
        """Watt hours of a run so long, so much of it at work: ``W*h``."""
        waiting = (self.idle_w + self.heater_w) * lasts_s
        return (waiting + (self.busy_w - self.idle_w) * min(busy_s, lasts_s)) / 3600


def draw_of(body: Body, devices: tuple[Device, ...]) -> Draw | None:
    """What a body and its heaters draw; None where the body's power is unknown."""
    heaters = sum(device.power_w for device in devices if isinstance(device, Heater))
    if body.power_w is None:
        return None
    idle = body.idle_w if body.idle_w is not None else IDLE_SHARE * body.power_w
    return Draw(min(idle, body.power_w), body.power_w, heaters, body.idle_w is None)


@dataclass(frozen=True, slots=True)
class Power:
    """Energy a run needs and has, in Wh; ``lasts_s`` how long what it has would last.

    ``has_wh`` is None where no battery is named: then only the need is known.
    """

    needs_wh: float
    has_wh: float | None
    printed_wh: float
    share_left: float
    lasts_s: float | None
    assumed: bool

    @property
    def short_wh(self) -> float:
        """What is missing, 0 if nothing is."""
        return 0.0 if self.has_wh is None else max(0.0, self.needs_wh - self.has_wh)


def power_of(
    body: Body, devices: tuple[Device, ...], temperature_c: float, lasts_s: float, busy_s: float
) -> Power | None:
    """Energy of a run against its batteries; None where the body's power is unknown."""
    draw = draw_of(body, devices)
    if draw is None:
        return None
    cells = [device for device in devices if isinstance(device, Battery)]
    share = cold_share(temperature_c)
    printed = sum(cell.energy_wh for cell in cells)
    has = printed * share * c.BATTERY_USED_SHARE if cells else None
    needs = draw.energy_wh(lasts_s, busy_s)
    per_second = needs / lasts_s if lasts_s > 0 else 0.0
    lasts = None if has is None or per_second <= 0 else has / per_second
    return Power(needs, has, printed, share, lasts, draw.assumed)
