"""A lamp at a distance: a disc of light, what stands before it, and what arrives.

A source is no point: a disc of radius R and luminance L gives ``E = pi·L·R²/(R² + d²)`` on its
axis, which the inverse square law overstates close by (by 1 % at five diameters, by 20 % at 1.1).
"""

from dataclasses import dataclass
from enum import StrEnum
from math import log2
from typing import Annotated

from fotonomy.core.photometry.exposure_value import INCIDENT_C_LX_S
from fotonomy.core.ranges import Within, check_bounds


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


@dataclass(frozen=True, slots=True)
class Lighting:
    """Key and fill on one subject. The ratio is key plus fill to fill, as it is spoken of."""

    key: Lamp
    fill: Lamp | None = None
    ambient_lux: float = 0.0

    @property
    def lux(self) -> float:
        """Light on the side that both reach, in lux."""
        return self.key.lux + self.shadow_lux

    @property
    def shadow_lux(self) -> float:
        """Light on the side that the key does not reach."""
        return (self.fill.lux if self.fill else 0.0) + self.ambient_lux

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
