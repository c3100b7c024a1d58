"""Frames, seconds and gigabytes: from the wanted screen time to the card."""

from dataclasses import dataclass
from fractions import Fraction
from math import ceil, floor

from fotonomy.core.motion.shutter import exact_rate


@dataclass(frozen=True, slots=True)
class Clip:
    """One take, from the camera to the screen.

    ``event_s`` is what has to happen, ``record_s`` adds the handles at both ends;
    sizes are decimal MB and GB as printed on cards. ``takes_per_card`` is 0 where
    not even one fits.
    """

    screen_s: float
    screen_frames: int
    event_s: float
    handle_s: float
    record_s: float
    record_frames: int
    speed_percent: float
    size_mb: float
    card_gb: float
    takes_per_card: int


def speed_percent(capture_fps: float, project_fps: float) -> float:
    """Playback speed once conformed: ``100*project/capture``; 60 in 24 is 40 %."""
    return float(100 * exact_rate(project_fps) / exact_rate(capture_fps))


def _frames_in(seconds: float, rate: Fraction) -> int:
    """Whole frames that cover ``seconds``, forgiving rounding errors."""
    return max(1, ceil(Fraction(seconds).limit_denominator(10**6) * rate - Fraction(1, 1000)))


def video_clip(
    *, screen_s: float, handle_s: float, capture_fps: float, project_fps: float,
    mb_s: float, card_gb: float,
) -> Clip:  # fmt: skip
    """A take recorded as video at ``mb_s`` megabits a second."""
    frames = _frames_in(screen_s, exact_rate(project_fps))
    return _clip(frames, screen_s, handle_s, capture_fps, project_fps, mb_s / 8, 0.0, card_gb)


def still_clip(
    *, screen_s: float, handle_s: float, capture_fps: float, project_fps: float,
    still_mb: float, card_gb: float,
) -> Clip:  # fmt: skip
    """A take recorded as single pictures of ``still_mb`` megabytes each."""
    frames = _frames_in(screen_s, exact_rate(project_fps))
    return _clip(frames, screen_s, handle_s, capture_fps, project_fps, 0.0, still_mb, card_gb)


def interval_clip(
    *, screen_s: float, handle_s: float, interval_s: float, time_s: float, project_fps: float,
    still_mb: float, card_gb: float,
) -> Clip:  # fmt: skip
    """An interval run: N frames span ``(N-1)*interval`` and the last exposure.

    Handles count in seconds on screen, since an edit needs frames to cut into.
    """
    rate = exact_rate(project_fps)
    frames = _frames_in(screen_s, rate)
    each = _frames_in(handle_s, rate) if handle_s else 0
    record = frames + 2 * each
    size = record * still_mb
    return Clip(
        screen_s=float(frames / rate),
        screen_frames=frames,
        event_s=(frames - 1) * interval_s,
        handle_s=each * interval_s,
        record_s=(record - 1) * interval_s + time_s,
        record_frames=record,
        speed_percent=100 * interval_s * float(rate),
        size_mb=size,
        card_gb=card_gb,
        takes_per_card=floor(1000 * card_gb / size),
    )


def single_frame_clip(
    *, screen_s: float, time_s: float, project_fps: float, still_mb: float, card_gb: float,
    frames: int = 1,
) -> Clip:  # fmt: skip
    """One picture of one long exposure or ``frames`` kept ones, on screen for ``screen_s``."""
    return Clip(
        screen_s=screen_s,
        screen_frames=_frames_in(screen_s, exact_rate(project_fps)),
        event_s=frames * time_s,
        handle_s=0.0,
        record_s=frames * time_s,
        record_frames=frames,
        speed_percent=100.0,
        size_mb=frames * still_mb,
        card_gb=card_gb,
        takes_per_card=floor(1000 * card_gb / (frames * still_mb)),
    )


def _clip(
    frames: int, screen_s: float, handle_s: float, capture_fps: float, project_fps: float,
    mb_per_second: float, mb_per_frame: float, card_gb: float,
) -> Clip:  # fmt: skip
    rate = exact_rate(capture_fps)
    event_s = float(frames / rate)
    record_s = event_s + 2 * handle_s
    record_frames = frames + 2 * (_frames_in(handle_s, rate) if handle_s else 0)
    size_mb = record_s * mb_per_second + record_frames * mb_per_frame
    return Clip(
        screen_s=float(frames / exact_rate(project_fps)),
        screen_frames=frames,
        event_s=event_s,
        handle_s=handle_s,
        record_s=record_s,
        record_frames=record_frames,
        speed_percent=speed_percent(capture_fps, project_fps),
        size_mb=size_mb,
        card_gb=card_gb,
        takes_per_card=floor(1000 * card_gb / size_mb),
    )
