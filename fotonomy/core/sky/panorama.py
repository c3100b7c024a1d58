"""A horizon taken from a picture: points marked on it become directions and heights."""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from math import atan, degrees, hypot, radians, tan
from typing import Annotated

from fotonomy.core.errors import RuleError
from fotonomy.core.ranges import Within, check_bounds, range_of
from fotonomy.core.sky.horizon import MOST_POINTS, HorizonPoint

# Directions nearer to each other than this are one.
SAME_DEG = 0.05
# A flat picture is no wider than a lens can draw it.
FLAT_MOST_DEG = 140.0


class Projection(StrEnum):
    """How a picture lies round the camera: swept onto a cylinder, or flat as a lens draws it."""

    SWEPT = "swept"
    FLAT = "flat"


@dataclass(frozen=True, slots=True, kw_only=True)
class Panorama:
    """A picture and where it looks.

    ``left_deg`` and ``right_deg`` are the azimuths of its edges, clockwise from left to right;
    ``level`` is how far down its height the level of the camera lies, as a share. ``aspect`` is
    width over height. Raises RuleError naming the field.
    """

    left_deg: Annotated[float, Within(0, 360, "degrees")]
    right_deg: Annotated[float, Within(0, 360, "degrees")]
    level: Annotated[float, Within(-1, 2)] = 0.5
    aspect: Annotated[float, Within(0.1, 40)] = 3.0
    projection: Projection = Projection.SWEPT

    def __post_init__(self) -> None:
        check_bounds(self)
        if self.span_deg < 1:
            raise RuleError("right_deg", "has to lie at least 1° beyond the left edge", None)
        if self.projection is Projection.FLAT and self.span_deg > FLAT_MOST_DEG:
            raise RuleError(
                "right_deg", f"a single picture shows {FLAT_MOST_DEG:g}° at most, and this is "
                f"{self.span_deg:.0f}°: say that it was swept", self.right_deg,
            )  # fmt: skip

    @property
    def span_deg(self) -> float:
        """Degrees from the left edge to the right one; a whole turn where both are the same."""
        span = (self.right_deg - self.left_deg) % 360
        return span if span > 0 else 360.0

    def point(self, x: float, y: float) -> HorizonPoint:
        """The direction of a point at these shares of width and height, from top left.

        On a cylinder the azimuth goes with x and the height is ``atan(rise / radius)``; on a
        flat picture both come from the angle at the lens. Raises RuleError where no land can be.
        """
        if not (0 <= x <= 1 and 0 <= y <= 1):
            raise RuleError("points", "a point lies outside the picture", (x, y))
        rise = (self.level - y) / self.aspect
        if self.projection is Projection.SWEPT:
            azimuth = self.left_deg + x * self.span_deg
            height = atan(rise * radians(self.span_deg))
        else:
            focal = 0.5 / tan(radians(self.span_deg / 2))
            aside = x - 0.5
            azimuth = self.left_deg + self.span_deg / 2 + degrees(atan(aside / focal))
            height = atan(rise / hypot(focal, aside))
        low, high = range_of(HorizonPoint, "altitude_deg")
        found = degrees(height)
        if not low <= found <= high:
            raise RuleError(
                "points", f"a point is {found:.0f}° high, and land lies between {low:g} and "
                f"{high:g}°: look at the level line and at the edges".replace("-", "−"), found,
            )  # fmt: skip
        return HorizonPoint(round(azimuth % 360, 1), round(found, 1))

    def shows(self, azimuth_deg: float) -> bool:
        """True for a direction within the picture."""
        if self.span_deg >= 360:
            return True
        return (azimuth_deg - self.left_deg) % 360 <= self.span_deg

    def redrawn(
        self, marked: Sequence[tuple[float, float]], known: Sequence[HorizonPoint]
    ) -> tuple[HorizonPoint, ...]:
        """A horizon with what the picture shows drawn anew, and the rest as it was.

        Of points in one direction the highest counts. Raises RuleError for fewer than two points
        or more than a horizon takes.
        """
        if len(marked) < 2:
            raise RuleError("points", "mark two points at least", len(marked))
        found = [self.point(x, y) for x, y in marked]
        stays = [one for one in known if not self.shows(one.azimuth_deg)]
        by_azimuth: dict[float, HorizonPoint] = {}
        for one in sorted([*stays, *found], key=lambda p: (p.azimuth_deg, p.altitude_deg)):
            near = next((a for a in by_azimuth if abs(a - one.azimuth_deg) < SAME_DEG), None)
            by_azimuth[one.azimuth_deg if near is None else near] = (
                one if near is None else HorizonPoint(near, one.altitude_deg)
            )
        if len(by_azimuth) > MOST_POINTS:
            raise RuleError(
                "points", f"with those known before there are {len(by_azimuth)}, and a horizon "
                f"takes {MOST_POINTS}", len(by_azimuth),
            )  # fmt: skip
        return tuple(by_azimuth.values())
