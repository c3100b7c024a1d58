"""The horizon of a place, as somebody who turned with a compass wrote it down."""

from dataclasses import dataclass
from typing import Annotated, Any

import numpy as np

from fotonomy.core.errors import RuleError
from fotonomy.core.ranges import Sized, Within, check_bounds

MOST_POINTS = 72
# The sun's and the moon's half disc, and refraction at the level: together the 50' that rise and
# set are defined by (United States Naval Observatory, from memory).
HALF_DISC_DEG, REFRACTION_DEG = 16 / 60, 34 / 60


@dataclass(frozen=True, slots=True)
class HorizonPoint:
    """How high the land stands in one direction, in degrees."""

    azimuth_deg: Annotated[float, Within(0, 360, "degrees")]
    altitude_deg: Annotated[float, Within(-5, 89, "degrees")]

    def __post_init__(self) -> None:
        check_bounds(self)


@dataclass(frozen=True, slots=True)
class Horizon:
    """Points in the order of the compass, straight lines between them; none is a level horizon.

    Raises RuleError where a direction comes twice or the points run back: it would cross itself.
    """

    points: Annotated[tuple[HorizonPoint, ...], Sized(0, MOST_POINTS)] = ()

    def __post_init__(self) -> None:
        if len(self.points) > MOST_POINTS:
            raise RuleError("horizon", f"takes at most {MOST_POINTS} points", len(self.points))
        if len(self.points) == 1:
            raise RuleError("horizon", "needs at least two points", 1)
        for before, after in zip(self.points, self.points[1:], strict=False):
            if after.azimuth_deg <= before.azimuth_deg:
                raise RuleError(
                    "horizon",
                    f"has to go round with the compass: {after.azimuth_deg:g}° comes after "
                    f"{before.azimuth_deg:g}°, so the line would cross itself",
                    after.azimuth_deg,
                )
        if self.points and self.points[-1].azimuth_deg - self.points[0].azimuth_deg >= 360:
            first, last = self.points[0], self.points[-1]
            if first.altitude_deg != last.altitude_deg:
                raise RuleError(
                    "horizon", "has two heights at 0° and 360°, which are one direction", 360
                )

    @property
    def level(self) -> bool:
        """True where nobody wrote one down."""
        return not self.points

    def altitude(self, azimuth_deg: Any) -> Any:
        """Height of the land in degrees at azimuths in degrees, a number or an array."""
        if not self.points:
            return np.zeros_like(np.asarray(azimuth_deg, dtype=float))
        return np.interp(
            np.asarray(azimuth_deg, dtype=float),
            [point.azimuth_deg for point in self.points],
            [point.altitude_deg for point in self.points],
            period=360,
        )

    def over(self, altitude_deg: Any, azimuth_deg: Any) -> Any:
        """By how much the upper edge of sun or moon shows over the horizon, in degrees.

        At or above zero it is up. Refraction is counted at the height of the land, so that on a
        level horizon this is the usual −0.833° of the centre.
        """
        land = self.altitude(azimuth_deg)
        return np.asarray(altitude_deg) - (land - HALF_DISC_DEG - refraction_deg(land))


def refraction_deg(altitude_deg: Any) -> Any:
    """How far the air lifts what is seen at an altitude, in degrees.

    Bennett, Journal of Navigation 35 (1982), from memory, scaled to the 34' at the level that rise
    and set are defined by; below −1° it stays what it is there.
    """
    seen = np.maximum(np.asarray(altitude_deg, dtype=float), -1.0)
    lifted = 1 / np.tan(np.radians(seen + 7.31 / (seen + 4.4)))
    at_level = 1 / np.tan(np.radians(7.31 / 4.4))
    return REFRACTION_DEG * lifted / at_level
