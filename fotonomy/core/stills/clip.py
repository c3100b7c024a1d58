"""Frames, seconds and gigabytes: from the wanted screen time to the card."""

from dataclasses import dataclass
from fractions import Fraction
from math import ceil, floor

from fotonomy.core.conversions import BITS_A_BYTE, MB_A_GB, PERCENT
from fotonomy.core.motion.shutter import exact_rate, rate_fps


@dataclass(frozen=True, slots=True)
class Clip:
    """One take, from the camera to the screen.

    ``event_s`` is what has to happen, ``record_s`` adds the handles at both ends;
    ``handle_frames`` are those of one handle. Sizes are decimal MB and GB as printed on cards.
    ``takes_per_card`` is 0 where not even one fits.
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
    handle_frames: int = 0


def speed_percent(capture_fps: float, project_fps: float) -> float:
    """Playback speed once conformed: ``100*project/capture``; 60 in 24 is 40 %."""
    return float(PERCENT * exact_rate(project_fps) / exact_rate(capture_fps))


def on_screen_s(screen_frames: int, project_fps: float) -> float:
    """How long so many frames last on screen, in seconds."""
    return float(screen_frames / exact_rate(project_fps))


def event_s(screen_frames: int, capture_fps: float) -> float:
    """How long it takes to record so many frames, in seconds."""
    return float(screen_frames / exact_rate(capture_fps))


def record_s(event_s: float, handle_s: float) -> float:
    """What is recorded: the event, and a handle before and after it."""
    return event_s + 2 * handle_s


def record_frames(screen_frames: int, handle_frames: int) -> int:
    """Frames recorded: those on screen, and those of a handle before and after."""
    return screen_frames + 2 * handle_frames


def video_mb(record_s: float, mb_s: float) -> float:
    """Decimal MB of video at so many megabits a second: eight bits are a byte."""
    return record_s * (mb_s / BITS_A_BYTE)


def stills_mb(record_frames: int, still_mb: float) -> float:
    """Decimal MB of single pictures."""
    return record_frames * still_mb


def takes_per_card(card_gb: float, size_mb: float) -> int:
    """Whole takes that fit on a card of decimal GB."""
    return floor(MB_A_GB * card_gb / size_mb)


def run_event_s(screen_frames: int, interval_s: float) -> float:
    """From the first start of a run to the last: N frames span ``(N-1)*interval``."""
    return (screen_frames - 1) * interval_s


def run_record_s(record_frames: int, interval_s: float, time_s: float) -> float:
    """A whole run with its handles, to the end of its last exposure."""
    return (record_frames - 1) * interval_s + time_s


def run_handle_s(handle_frames: int, interval_s: float) -> float:
    """How long the frames of a handle take in a run."""
    return handle_frames * interval_s


def run_speed_percent(interval_s: float, project_fps: float) -> float:
    """How much faster than life a run plays, in percent."""
    return PERCENT * interval_s * rate_fps(project_fps)


def frames_open_s(record_frames: int, time_s: float) -> float:
    """How long one long exposure or several take together."""
    return record_frames * time_s


def _frames_in(seconds: float, rate: Fraction) -> int:
    """Whole frames that cover ``seconds``, forgiving rounding errors."""
    return max(1, ceil(Fraction(seconds).limit_denominator(10**6) * rate - Fraction(1, 1000)))


def video_clip(
    *, screen_s: float, handle_s: float, capture_fps: float, project_fps: float,
    mb_s: float, card_gb: float,
) -> Clip:  # fmt: skip
    """A take recorded as video at ``mb_s`` megabits a second."""
    frames = _frames_in(screen_s, exact_rate(project_fps))
    record = record_s(event_s(frames, capture_fps), handle_s)
    return _clip(frames, handle_s, capture_fps, project_fps, video_mb(record, mb_s), card_gb)


def still_clip(
    *, screen_s: float, handle_s: float, capture_fps: float, project_fps: float,
    still_mb: float, card_gb: float,
) -> Clip:  # fmt: skip
    """A take recorded as single pictures of ``still_mb`` megabytes each."""
    frames = _frames_in(screen_s, exact_rate(project_fps))
    record = record_frames(frames, _handle_frames(handle_s, capture_fps))
    return _clip(frames, handle_s, capture_fps, project_fps, stills_mb(record, still_mb), card_gb)


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
    record = record_frames(frames, each)
    size = stills_mb(record, still_mb)
    return Clip(
        screen_s=on_screen_s(frames, project_fps),
        screen_frames=frames,
        event_s=run_event_s(frames, interval_s),
        handle_s=run_handle_s(each, interval_s),
        record_s=run_record_s(record, interval_s, time_s),
        record_frames=record,
        speed_percent=run_speed_percent(interval_s, project_fps),
        size_mb=size,
        card_gb=card_gb,
        takes_per_card=takes_per_card(card_gb, size),
        handle_frames=each,
    )


def single_frame_clip(
    *, screen_s: float, time_s: float, project_fps: float, still_mb: float, card_gb: float,
    frames: int = 1,
) -> Clip:  # fmt: skip
    """One picture of one long exposure or ``frames`` kept ones, on screen for ``screen_s``."""
    return Clip(
        screen_s=screen_s,
        screen_frames=_frames_in(screen_s, exact_rate(project_fps)),
        event_s=frames_open_s(frames, time_s),
        handle_s=0.0,
        record_s=frames_open_s(frames, time_s),
        record_frames=frames,
        speed_percent=100.0,
        size_mb=stills_mb(frames, still_mb),
        card_gb=card_gb,
        takes_per_card=takes_per_card(card_gb, stills_mb(frames, still_mb)),
    )


def _handle_frames(handle_s: float, fps: float) -> int:
    return _frames_in(handle_s, exact_rate(fps)) if handle_s else 0


def _clip(
    frames: int, handle_s: float, capture_fps: float, project_fps: float, size_mb: float,
    card_gb: float,
) -> Clip:  # fmt: skip
    event, each = event_s(frames, capture_fps), _handle_frames(handle_s, capture_fps)
    return Clip(
        screen_s=on_screen_s(frames, project_fps),
        screen_frames=frames,
        event_s=event,
        handle_s=handle_s,
        record_s=record_s(event, handle_s),
        record_frames=record_frames(frames, each),
        speed_percent=speed_percent(capture_fps, project_fps),
        size_mb=size_mb,
        card_gb=card_gb,
        takes_per_card=takes_per_card(card_gb, size_mb),
        handle_frames=each,
    )
