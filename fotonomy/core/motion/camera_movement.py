"""What moves through the frame, and how fast: subject, background, or everything."""

from dataclasses import dataclass
from enum import StrEnum
from math import atan, cos, degrees, radians, sin
from typing import Annotated

from fotonomy.core import constants as c
from fotonomy.core.conversions import MM_A_M
from fotonomy.core.ranges import Within, check_bounds

# Sky's turn in radians a second of time: 15.041 arc seconds (sidereal rate).
SIDEREAL_RAD_S = radians(15.041 / 3600)

# One over the focal length in millimetres, in seconds; or a two-hundredth of a second whatever the
# lens. Common practice, no source.
HANDHELD_S_MM, HANDHELD_FIXED_S = 1.0, 1 / 200
# One over the miles an hour, in seconds: a mile an hour is so many metres in a second.
ROLLING_RULE_M = c.MPH_M_S


class Camera(StrEnum):
    """What the camera does during the take."""

    LOCKED = "locked"
    TRACKING = "tracking"
    PAN = "pan"
    TRAVEL = "travel"

    @property
    def label(self) -> str:
        """In words."""
        return {
            "locked": "stands still", "tracking": "follows the subject",
            "pan": "pans at a rate", "travel": "travels",
        }[self.value]  # fmt: skip


class Way(StrEnum):
    """Where a travelling camera goes."""

    ACROSS = "across"
    ALONGSIDE = "alongside"
    TOWARDS = "towards"
    AWAY = "away"

    @property
    def label(self) -> str:
        """In words."""
        return {
            "across": "sideways", "alongside": "alongside", "towards": "towards it",
            "away": "away from it",
        }[self.value]  # fmt: skip


@dataclass(frozen=True, slots=True, kw_only=True)
class Movement:
    """Camera and direction. ``heading_deg`` 90 is across the frame, 0 straight at the camera:
    the subject's own direction. ``way`` is where a travelling camera goes.

    ``pan_deg_s`` counts for a pan, ``travel_m_s`` for a travelling camera (a vehicle, a
    drone, a slider), ``background_m`` is how far what stands behind is; None is taken as
    four times the subject's distance (common practice, no source).
    """

    camera: Camera = Camera.LOCKED
    heading_deg: Annotated[float, Within(0, 180, "degrees")] = 90.0
    pan_deg_s: Annotated[float, Within(0, 2000, "degrees a second")] = 0.0
    travel_m_s: Annotated[float, Within(*c.SPEED_RANGE_M_S, "m/s")] = 0.0
    background_m: Annotated[float | None, Within(*c.DISTANCE_RANGE_M, "m")] = None
    way: Way = Way.ACROSS

    def __post_init__(self) -> None:
        check_bounds(self)

    def background_at_m(self, subject_m: float) -> float:
        """Distance of the background, never nearer than the subject."""
        return max(subject_m, 4 * subject_m if self.background_m is None else self.background_m)


def travelling_m_s(movement: Movement) -> float:
    """How fast the camera itself goes: not at all unless it travels."""
    return movement.travel_m_s if movement.camera is Camera.TRAVEL else 0.0


@dataclass(frozen=True, slots=True)
class Mover:
    """What crosses the frame: its name, its speed across, and the distance it counts at.

    ``whole_frame`` is true where all of the picture moves, and not a subject in it.
    """

    name: str
    speed_m_s: float
    distance_m: float
    whole_frame: bool = False


def angle_of_view_deg(size_mm: float, focal_mm: float) -> float:
    """``2*atan(w/2f)``, horizontal for the recorded width."""
    return degrees(2 * atan(size_mm / (2 * focal_mm)))


def across_m_s(
    speed_m_s: float, heading_deg: float, size_m: float, distance_m: float,
    camera_m_s: float = 0.0, way: Way = Way.ACROSS,
) -> float:  # fmt: skip
    """Speed of the subject's worst edge in its own plane, seen from a camera that travels.

    The component across the frame, and the growth of a subject that comes nearer: half its size
    over the distance, times the speed at which the two close up. A camera alongside takes its
    speed off the subject's, one that goes across meets it (the worse of the two sides), one
    that goes towards or away changes the closing speed alone.
    """
    side_m_s = abs(speed_m_s * sin(radians(heading_deg)))
    ahead_m_s = speed_m_s * cos(radians(heading_deg))
    seen_m_s, closing_m_s = side_m_s, ahead_m_s
    if way is Way.ACROSS:
        seen_m_s = side_m_s + camera_m_s
    elif way is Way.ALONGSIDE:
        seen_m_s = abs(side_m_s - camera_m_s)
    elif way is Way.TOWARDS:
        closing_m_s = ahead_m_s + camera_m_s
    elif way is Way.AWAY:
        closing_m_s = ahead_m_s - camera_m_s
    growth_m_s = abs(closing_m_s) * size_m / (2 * distance_m)
    # Straight across grows by nothing; the cosine of 90 degrees is not quite zero.
    return seen_m_s + growth_m_s if growth_m_s > c.STILL_BELOW_M_S else seen_m_s


def followed_m_s(
    speed_m_s: float, heading_deg: float, size_m: float, distance_m: float, far_m: float
) -> float:
    """How fast the background slides by behind a subject that is followed: at the same angle."""
    return across_m_s(speed_m_s, heading_deg, size_m, distance_m) * far_m / distance_m


def panned_m_s(width_mm: float, image_mm: float, distance_m: float, pan_deg_s: float) -> float:
    """How fast everything moves in a pan: the field's width in angle of view over rate."""
    view_deg = angle_of_view_deg(width_mm, image_mm)
    field_m = width_mm / MM_A_M * (distance_m * MM_A_M / image_mm - 1)
    return field_m * pan_deg_s / view_deg


def mover(
    movement: Movement, *, subject: str, speed_m_s: float, distance_m: float,
    size_m: float, width_mm: float, image_mm: float,
) -> Mover:  # fmt: skip
    """What moves most in the picture of this camera move.

    A subject that is followed stands still in frame and the background slides by at the
    same angular speed. A pan moves everything across the angle of view ``2*atan(w/2v)`` in angle
    over rate, the lens standing v, ``image_mm``, before the sensor. A travelling camera sees the
    subject at the speed between the two; going alongside it sees the background go by, where
    that moves more.
    """
    heading = movement.heading_deg
    match movement.camera:
        case Camera.TRACKING:
            far = movement.background_at_m(distance_m)
            seen = followed_m_s(speed_m_s, heading, size_m, distance_m, far)
            return Mover("background", seen, far, True)
        case Camera.PAN:
            seen = panned_m_s(width_mm, image_mm, distance_m, movement.pan_deg_s)
            return Mover("everything in frame", seen, distance_m, True)
        case Camera.TRAVEL:
            speed, way = movement.travel_m_s, movement.way
            seen = across_m_s(speed_m_s, heading, size_m, distance_m, speed, way)
            far = movement.background_at_m(distance_m)
            if way is Way.ALONGSIDE and speed / far > seen / distance_m:
                return Mover("background", speed, far, True)
            return Mover(subject, seen, distance_m, way is Way.ACROSS)
    return Mover(subject, across_m_s(speed_m_s, heading, size_m, distance_m), distance_m)


def handheld_limit_s(method: str, equivalent_mm: float, stabiliser_stops: float) -> float:
    """Slowest time for a sharp single picture from the hand (common practice, no source).

    One over the full-frame equivalent focal length, over twice that, or a flat 1/200,
    lengthened by the stabiliser's rated stops (rating after CIPA DC-X011).
    """
    if method == "one_over_focal":
        bare_s = HANDHELD_S_MM / equivalent_mm
    elif method == "one_over_twice_focal":
        bare_s = HANDHELD_S_MM / (2 * equivalent_mm)
    else:
        bare_s = HANDHELD_FIXED_S
    return float(bare_s * 2**stabiliser_stops)


def rolling_rule_time_s(speed_m_s: float) -> float:
    """Shutter of the rolling rule: one over the speed in miles an hour (common practice).

    The road then moves 0.447 m in every frame, whatever the speed.
    """
    return ROLLING_RULE_M / speed_m_s


def lean_deg(smear_rate_m_s: float, readout_s: float, height_m: float) -> float:
    """How far a rolling shutter leans an upright edge: ``atan(v*t_readout/h)``, degrees.

    ``height_m`` is the height of the field where the edge moves.
    """
    return degrees(atan(smear_rate_m_s * readout_s / height_m))
