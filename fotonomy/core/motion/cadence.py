"""Cadence: how far things move between frames and while the shutter is open."""

from dataclasses import dataclass
from enum import StrEnum

from fotonomy.core.constants import STILL_BELOW_M_S
from fotonomy.core.errors import RuleError

# Strobing guide: at 24 fps and 180 degrees a feature should take about 7 s to cross
# the frame (panning tables of the American Cinematographer Manual, from memory).
PAN_GUIDE_CROSSING_S = 7.0
PAN_GUIDE_FPS = 24.0


PAN_GUIDE_ANGLE_DEG = 180.0
COMFORTABLE_GAP_PERCENT = (
    100.0 / (PAN_GUIDE_CROSSING_S * PAN_GUIDE_FPS) * (1.0 - PAN_GUIDE_ANGLE_DEG / 360.0)
)


# Twice the guide is where edges visibly jump. Common practice, no source.
STROBING_GAP_PERCENT = 2.0 * COMFORTABLE_GAP_PERCENT


class Cadence(StrEnum):
    """Verdict on the gap between two screen frames."""

    STILL = "still"
    COMFORTABLE = "comfortable"
    BORDERLINE = "borderline"
    STROBING = "strobing"


@dataclass(frozen=True, slots=True)
class Motion:
    """A subject crossing the frame, in percent of frame width and delivered pixels.

    ``crossing_s`` and ``screen_crossing_s`` are None where nothing moves; ``step``
    and ``gap`` are None for a single frame, which has no next one.
    """

    field_width_m: float
    crossing_s: float | None
    screen_crossing_s: float | None
    smear_percent: float
    smear_px: float
    step_percent: float | None
    step_px: float | None
    gap_percent: float | None
    gap_px: float | None
    cadence: Cadence
    mover: str = "subject"
    comfortable_m_s: float | None = None
    borderline_m_s: float | None = None


def field_width_m(sensor_width_mm: float, focal_mm: float, distance_m: float) -> float:
    """Width of the field at ``distance_m``: ``w*(d-f)/f``.

    Raises RuleError if the subject stands inside the focal length.
    """
    distance_mm = 1000 * distance_m
    if distance_mm <= focal_mm:
        raise RuleError(
            "subject_distance_m",
            f"has to be more than the focal length, {focal_mm:g} mm",
            distance_m,
        )
    return sensor_width_mm * (distance_mm - focal_mm) / focal_mm / 1000


def cadence_of(gap_percent: float | None, moving: bool) -> Cadence:
    """Judge a gap by the panning guide: 7 s across the frame at 24 fps and 180 degrees."""
    if not moving or gap_percent is None:
        return Cadence.STILL
    # A tolerance of rounding, so that the guide's own figures count as comfortable.
    if gap_percent <= COMFORTABLE_GAP_PERCENT * 1.001:
        return Cadence.COMFORTABLE
    return Cadence.BORDERLINE if gap_percent <= STROBING_GAP_PERCENT else Cadence.STROBING


def motion(
    *, field_m: float, speed_m_s: float, time_s: float,
    capture_fps: float | None, project_fps: float, width_px: int, mover: str = "subject",
) -> Motion:  # fmt: skip
    """Smear ``v*t``, step ``v/fps`` and gap (step less smear) of a subject across the frame.

    One captured frame is one screen frame, so step and gap hold for both; the
    crossing on screen is longer by ``capture/project``. ``capture_fps`` None means
    a single frame. ``comfortable_m_s`` and ``borderline_m_s`` are the speeds at which the
    gap meets the guide and twice the guide; None where the shutter leaves no gap.
    """
    moving = speed_m_s > STILL_BELOW_M_S
    smear = 100 * speed_m_s * time_s / field_m
    step = None if capture_fps is None else 100 * speed_m_s / capture_fps / field_m
    gap = None if step is None else max(0.0, step - smear)
    crossing = field_m / speed_m_s if moving else None
    on_screen = (
        None if crossing is None or capture_fps is None else crossing * capture_fps / project_fps
    )

    def pixels(percent: float | None) -> float | None:
        return None if percent is None else percent * width_px / 100

    blind_s = None if capture_fps is None else max(0.0, 1 / capture_fps - time_s)
    guide = None if not blind_s else COMFORTABLE_GAP_PERCENT / 100 * field_m / blind_s
    return Motion(
        field_width_m=field_m,
        crossing_s=crossing,
        screen_crossing_s=on_screen,
        smear_percent=smear,
        smear_px=smear * width_px / 100,
        step_percent=step,
        step_px=pixels(step),
        gap_percent=gap,
        gap_px=pixels(gap),
        cadence=cadence_of(gap, moving),
        mover=mover,
        comfortable_m_s=guide,
        borderline_m_s=None
        if guide is None
        else guide * STROBING_GAP_PERCENT / COMFORTABLE_GAP_PERCENT,
    )
