"""Cadence: how far things move between frames and while the shutter is open."""

from dataclasses import dataclass
from enum import StrEnum

from fotonomy.core.constants import STILL_BELOW_M_S
from fotonomy.core.conversions import PERCENT

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


# The guide is for a frame that moves as a whole. The eye follows a subject that crosses it: one
# that fills little of the frame may hop up to so many times as far. Common practice, no source.
SUBJECT_TOLERANCE = 3.0
# A pan that crosses the frame faster than this on screen is read by nobody: a whip pan, fit for a
# change of scene. Common practice, no source.
WHIP_CROSSING_S = 1.0
# Without gaps, smear is what tires: a pan stays comfortable up to so many times the guide's.
# Common practice, no source.
SMEAR_TOLERANCE = 3.0


class Cadence(StrEnum):
    """Verdict on the gap between two screen frames."""

    STILL = "still"
    COMFORTABLE = "comfortable"
    BORDERLINE = "borderline"
    STROBING = "strobing"
    UNREADABLE = "too fast to read"


@dataclass(frozen=True, slots=True)
class Motion:
    """A subject crossing the frame, in percent of frame width and delivered pixels.

    ``comfortable_gap_percent`` is the gap that looks smooth here, ``smooth_deg_s`` and
    ``strobing_deg_s`` the pan that meets the guide and twice the guide (None without a pan).
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
    comfortable_gap_percent: float = COMFORTABLE_GAP_PERCENT
    smooth_deg_s: float | None = None
    strobing_deg_s: float | None = None


def tolerance_of(share_of_frame: float) -> float:
    """How many times the guide's gap something may hop that fills a share of the frame's width.

    One for what fills it or more, three for a point; a straight line between.
    """
    return SUBJECT_TOLERANCE - (SUBJECT_TOLERANCE - 1) * min(1.0, max(0.0, share_of_frame))


def cadence_of(gap_percent: float | None, moving: bool, tolerance: float = 1.0) -> Cadence:
    """Judge a gap by the panning guide: 7 s across the frame at 24 fps and 180 degrees."""
    if not moving or gap_percent is None:
        return Cadence.STILL
    # A tolerance of rounding, so that the guide's own figures count as comfortable.
    if gap_percent <= COMFORTABLE_GAP_PERCENT * tolerance * 1.001:
        return Cadence.COMFORTABLE
    rough = STROBING_GAP_PERCENT * tolerance
    return Cadence.BORDERLINE if gap_percent <= rough else Cadence.STROBING


def _pan_cadence(
    gap: Cadence, pan_deg_s: float, smooth_deg_s: float, crossing_s: float | None
) -> Cadence:
    """A pan that leaves no gap still smears: beyond comfort it is borderline, a whip unreadable."""
    if crossing_s is not None and crossing_s < WHIP_CROSSING_S:
        return Cadence.UNREADABLE
    if gap is Cadence.COMFORTABLE and pan_deg_s > smooth_deg_s * 1.001:
        return Cadence.BORDERLINE
    return gap


def smear_percent(speed_m_s: float, time_s: float, field_m: float) -> float:
    """How far it moves while the shutter is open, ``v*t``, in percent of the frame's width."""
    return PERCENT * speed_m_s * time_s / field_m


def step_percent(speed_m_s: float, capture_fps: float, field_m: float) -> float:
    """How far it moves from one frame to the next, ``v/fps``, in percent of the frame's width."""
    return PERCENT * speed_m_s / capture_fps / field_m


def gap_percent(step_percent: float, smear_percent: float) -> float:
    """What lies between the end of one smear and the start of the next; none below zero."""
    return max(0.0, step_percent - smear_percent)


def crossing_s(field_m: float, speed_m_s: float) -> float:
    """Seconds to cross the frame."""
    return field_m / speed_m_s


def screen_crossing_s(crossing_s: float, capture_fps: float, project_fps: float) -> float:
    """Seconds to cross the frame on screen, longer by ``capture/project``."""
    return crossing_s * capture_fps / project_fps


def pixels_of(percent: float, width_px: int) -> float:
    """A share of the width, in percent, as delivered pixels."""
    return percent * width_px / PERCENT


def comfortable_m_s(
    comfortable_gap_percent: float, field_m: float, capture_fps: float, time_s: float
) -> float:
    """The speed at which the gap is the largest that looks smooth."""
    return comfortable_gap_percent / PERCENT * field_m / max(0.0, 1 / capture_fps - time_s)


def borderline_m_s(comfortable_m_s: float) -> float:
    """The speed at which the gap is the one where edges visibly jump."""
    return comfortable_m_s * STROBING_GAP_PERCENT / COMFORTABLE_GAP_PERCENT


def comfortable_gap_percent(tolerance: float) -> float:
    """The gap that looks smooth: the panning guide's, so many times as wide."""
    return COMFORTABLE_GAP_PERCENT * tolerance


def smooth_deg_s(
    comfortable_gap_percent: float, field_m: float, time_s: float, speed_m_s: float,
    pan_deg_s: float, comfortable_m_s: float | None,
) -> float:  # fmt: skip
    """The fastest pan that looks smooth: its gap meets the guide, its smear three times that."""
    per_degree_m_deg = speed_m_s / pan_deg_s
    by_smear_deg_s = (
        SMEAR_TOLERANCE * comfortable_gap_percent / PERCENT * field_m / time_s / per_degree_m_deg
    )
    by_gap_deg_s = by_smear_deg_s if comfortable_m_s is None else comfortable_m_s / per_degree_m_deg
    return min(by_gap_deg_s, by_smear_deg_s)


def strobing_deg_s(smooth_deg_s: float) -> float:
    """The pan from which edges visibly jump: twice the smooth one (common practice)."""
    return 2 * smooth_deg_s


def motion(
    *, field_m: float, speed_m_s: float, time_s: float,
    capture_fps: float | None, project_fps: float, width_px: int, mover: str = "subject",
    tolerance: float = 1.0, pan_deg_s: float = 0.0,
) -> Motion:  # fmt: skip
    """Smear ``v*t``, step ``v/fps`` and gap (step less smear) of a subject across the frame.

    One captured frame is one screen frame, so step and gap hold for both; the
    crossing on screen is longer by ``capture/project``. ``capture_fps`` None means
    a single frame. ``comfortable_m_s`` and ``borderline_m_s`` are the speeds at which the
    gap meets the guide and twice the guide; None where the shutter leaves no gap.
    ``tolerance`` is how many times the guide's gap looks smooth, ``pan_deg_s`` the rate of a pan
    that moves the whole frame.
    """
    moving = speed_m_s > STILL_BELOW_M_S
    smear = smear_percent(speed_m_s, time_s, field_m)
    step = None if capture_fps is None else step_percent(speed_m_s, capture_fps, field_m)
    gap = None if step is None else gap_percent(step, smear)
    crossing = crossing_s(field_m, speed_m_s) if moving else None
    on_screen = (
        None
        if crossing is None or capture_fps is None
        else screen_crossing_s(crossing, capture_fps, project_fps)
    )

    def pixels(percent: float | None) -> float | None:
        return None if percent is None else pixels_of(percent, width_px)

    blind = capture_fps is not None and 1 / capture_fps - time_s > 0
    smooth_gap = comfortable_gap_percent(tolerance)
    guide = (
        comfortable_m_s(smooth_gap, field_m, capture_fps, time_s)
        if capture_fps is not None and blind
        else None
    )
    cadence, panned = cadence_of(gap, moving, tolerance), None
    if pan_deg_s > 0 and moving and capture_fps is not None:
        smooth = smooth_deg_s(smooth_gap, field_m, time_s, speed_m_s, pan_deg_s, guide)
        panned = (smooth, strobing_deg_s(smooth))
        cadence = _pan_cadence(cadence, pan_deg_s, panned[0], on_screen)
    return Motion(
        field_width_m=field_m,
        crossing_s=crossing,
        screen_crossing_s=on_screen,
        smear_percent=smear,
        smear_px=pixels_of(smear, width_px),
        step_percent=step,
        step_px=pixels(step),
        gap_percent=gap,
        gap_px=pixels(gap),
        cadence=cadence,
        mover=mover,
        comfortable_m_s=guide,
        borderline_m_s=None if guide is None else borderline_m_s(guide),
        comfortable_gap_percent=smooth_gap,
        smooth_deg_s=None if panned is None else panned[0],
        strobing_deg_s=None if panned is None else panned[1],
    )
