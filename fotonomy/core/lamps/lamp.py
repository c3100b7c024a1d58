"""A lamp at a distance: a disc of light, what stands before it, and what arrives.

A source is no point: a disc of radius R and luminance L gives ``E = pi·L·R²/(R² + d²)`` on its
axis, which the inverse square law overstates close by (by 1 % at five diameters, by 20 % at 1.1).
"""

from dataclasses import dataclass
from enum import StrEnum
from math import cos, hypot, log2, radians, sin
from typing import Annotated

from fotonomy.core.photometry.exposure_value import INCIDENT_C_LX_S
from fotonomy.core.ranges import NAME, Within, check_bounds


class Softener(StrEnum):
    """What the light goes through or is thrown back by; losses are common practice, no source."""

    NONE = "none"
    LIGHT = "light"
    MEDIUM = "medium"
    STRONG = "strong"
    SOFTBOX = "softbox"
    BOUNCE = "bounce"

    @property
    def label(self) -> str:
        """In words, with what it costs."""
        return {
            "none": "nothing, 0 stops", "light": "light diffusion, 0.5 stops",
            "medium": "diffusion, 1 stop", "strong": "strong diffusion, 1.5 stops",
            "softbox": "softbox, 1.5 stops", "bounce": "bounced off white, 1.5 stops",
        }[self.value]  # fmt: skip

    @property
    def loss_stops(self) -> float:
        """Stops it takes."""
        return {
            "none": 0.0, "light": 0.5, "medium": 1.0, "strong": 1.5, "softbox": 1.5, "bounce": 1.5,
        }[self.value]  # fmt: skip


@dataclass(frozen=True, slots=True, kw_only=True)
class Lamp:
    """A lamp. ``lux_at_1m`` is what its maker states or a meter shows a metre before it.

    ``size_m`` is how wide the source is that the subject sees: the lamp, or what softens it.
    """

    lux_at_1m: Annotated[float, Within(0.01, 1e8, "lux")]
    distance_m: Annotated[float, Within(0.05, 1000, "m")]
    size_m: Annotated[float, Within(0.001, 20, "m")] = 0.1
    softener: Softener = Softener.NONE

    def __post_init__(self) -> None:
        check_bounds(self)

    @property
    def lux(self) -> float:
        """Light on the subject, in lux."""
        return self.lux_at(self.distance_m)

    def lux_at(self, distance_m: float) -> float:
        """Light so far away, in lux: of a disc, less what softens it.

        The stated light at a metre is of the bare lamp; through a larger softener the same light
        comes from a larger disc.
        """
        radius = self.size_m / 2
        candela = self.lux_at_1m * 2.0**-self.softener.loss_stops
        if self.softener is Softener.NONE:
            # What was measured a metre away was this disc already.
            candela *= 1 + radius**2
        return float(candela / (radius**2 + distance_m**2))

    @property
    def overstated_percent(self) -> float:
        """By how much the inverse square law would overstate it here: ``100·(R/d)²``."""
        return 100 * (self.size_m / 2 / self.distance_m) ** 2

    @property
    def halved_gain_stops(self) -> float:
        """Stops that half the distance would bring: two of a point, less of what is large."""
        return log2(self.lux_at(self.distance_m / 2) / self.lux)

    def edge_m(self, behind_m: float) -> float:
        """Width of a shadow's edge so far behind what throws it: ``D·b/a``."""
        return self.size_m * behind_m / self.distance_m


@dataclass(frozen=True, slots=True, kw_only=True)
class Fixture:
    """A lamp one owns: its name, its light a metre before it, and how wide its light is."""

    name: Annotated[str, NAME]
    lux_at_1m: Annotated[float, Within(0.01, 1e8, "lux")]
    size_m: Annotated[float, Within(0.001, 20, "m")] = 0.1

    def __post_init__(self) -> None:
        check_bounds(self)


class Role(StrEnum):
    """What a lamp is there for."""

    KEY = "key"
    FILL = "fill"
    BACKGROUND = "background"


@dataclass(frozen=True, slots=True, kw_only=True)
class Placed:
    """A lamp where it stands.

    ``angle_deg`` is off the line to the camera, to the right where it is more than nothing, seen
    from the subject; a lamp for the background has its distance and angle from there.
    """

    lamp: Lamp
    role: Role
    angle_deg: Annotated[float, Within(-180, 180, "°")] = 0.0
    name: str = ""

    def __post_init__(self) -> None:
        check_bounds(self)

    def on_background(self, behind_m: float) -> float:
        """Lux on the middle of a background so far behind the subject, facing the camera.

        By the cosine of the angle it falls at (Lambert's law); nobody's shadow is counted.
        """
        across = self.lamp.distance_m * sin(radians(self.angle_deg))
        before = self.lamp.distance_m * cos(radians(self.angle_deg))
        if self.role is not Role.BACKGROUND:
            before += behind_m
        away = hypot(across, before)
        return self.lamp.lux_at(away) * before / away if before > 0 else 0.0


@dataclass(frozen=True, slots=True)
class Lighting:
    """Lamps on a subject and on what is behind it; the ratio is key plus fill to fill.

    ``behind_m`` is how far behind the subject the background is; None where there is none.
    """

    lamps: tuple[Placed, ...]
    ambient_lux: float = 0.0
    behind_m: float | None = None

    def of(self, role: Role) -> tuple[Placed, ...]:
        """The lamps of a role."""
        return tuple(one for one in self.lamps if one.role is role)

    def _sum(self, role: Role) -> float:
        return sum(one.lamp.lux for one in self.of(role))

    @property
    def lux(self) -> float:
        """Light on the side that all reach, in lux."""
        return self._sum(Role.KEY) + self.shadow_lux

    @property
    def shadow_lux(self) -> float:
        """Light on the side that the key does not reach."""
        return self._sum(Role.FILL) + self.ambient_lux

    @property
    def background_lux(self) -> float | None:
        """Light on the background, what key and fill spill on it too; None where there is none."""
        if self.behind_m is None:
            return None
        lit = sum(one.on_background(self.behind_m) for one in self.lamps)
        return lit + self.ambient_lux

    @property
    def ev100(self) -> float:
        """EV at ISO 100 of the lit side: incident, C = 250 lx·s (ISO 2720:1974)."""
        return log2(self.lux * 100 / INCIDENT_C_LX_S)

    @property
    def ratio(self) -> float | None:
        """Lit side to shadow side, n to one; None where nothing lights the shadow."""
        return self.lux / self.shadow_lux if self.shadow_lux > 0 else None

    @property
    def ratio_stops(self) -> float | None:
        """The same in stops."""
        return None if self.ratio is None else log2(self.ratio)

    @property
    def background_stops(self) -> float | None:
        """The background against the lit side in stops, less than nothing where it is darker."""
        back = self.background_lux
        return log2(back / self.lux) if back and self.lux > 0 else None
