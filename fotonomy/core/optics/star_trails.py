"""Stars: how far they move while the shutter is open, and how long it may stay so."""

from dataclasses import dataclass
from math import cos, inf, radians

from fotonomy.core.motion.camera_movement import SIDEREAL_RAD_S

# Slower than this a star stands still: it is at the pole.
STANDS_STILL_MM_S, STANDS_STILL_RAD_S = 1e-12, 1e-12
RULE_500_S_MM = 500.0
NPF_IRIS_S_MM, NPF_PITCH_S_MM_UM = 35.0, 30.0


def trail_mm(focal_mm: float, time_s: float, declination_deg: float) -> float:
    """Length of a star's trail on the sensor: ``f*omega*t*cos(declination)``, near the middle."""
    return focal_mm * SIDEREAL_RAD_S * time_s * cos(radians(declination_deg))


def longest_s(focal_mm: float, pitch_mm: float, px: float, declination_deg: float) -> float:
    """Longest exposure for a trail of ``px`` pixels; without end at the pole."""
    rate_mm_s = focal_mm * SIDEREAL_RAD_S * cos(radians(declination_deg))
    return inf if rate_mm_s < STANDS_STILL_MM_S else px * pitch_mm / rate_mm_s


def rule_500_s(focal_mm: float, crop: float) -> float:
    """``500/(f*crop)`` seconds: common practice, no source."""
    return RULE_500_S_MM / (focal_mm * crop)


def npf_s(focal_mm: float, f_number: float, pitch_um: float) -> float:
    """``(35N + 30p)/f`` seconds, p in micrometres (Société astronomique du Havre, from memory)."""
    return (NPF_IRIS_S_MM * f_number + NPF_PITCH_S_MM_UM * pitch_um) / focal_mm


@dataclass(frozen=True, slots=True)
class Stars:
    """Stars in the frame: trail of one exposure, longest times, and how they cross the clip.

    ``step_percent`` is how far they go from one frame to the next, of the frame width.

    ``average_frames`` is how many frames of the longest exposure, averaged, would bring the
    shadows inside the person's limit (1: one does).
    """

    declination_deg: float
    trail_px: float
    allowed_px: float
    longest_s: float
    rule_500_s: float
    npf_s: float
    frame_crossing_s: float
    screen_crossing_s: float
    step_percent: float
    average_frames: int
