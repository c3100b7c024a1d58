"""Timecode after SMPTE ST 12-1: frames as hours, minutes, seconds and frames, and back."""

import re
from math import ceil

from fotonomy.core.errors import RuleError
from fotonomy.core.motion.shutter import exact_rate

RULE = "hours, minutes, seconds and frames such as 01:00:00:12"


def nominal_rate(fps: float) -> int:
    """Frames a timecode counts to a second: 24 for 23.976, 30 for 29.97."""
    return ceil(exact_rate(fps) - exact_rate(1000) / 10**6)


def drops_frames(fps: float) -> bool:
    """True for 29.97 and 59.94, whose counts are dropped to keep up with the clock."""
    rate = exact_rate(fps)
    return rate.denominator == 1001 and nominal_rate(fps) in (30, 60)


def timecode(frames: int, fps: float, drop: bool | None = None) -> str:
    """A count of frames as timecode; ``drop`` None is drop-frame where the rate has it.

    Drop-frame leaves out the first two counts (four at 59.94) of every minute but each tenth:
    frame 17 982 at 29.97 is 00:10:00;00. A semicolon marks it. ValueError for less than none.
    """
    if frames < 0:
        raise ValueError("no frames before the first")
    rate = nominal_rate(fps)
    dropping = drops_frames(fps) if drop is None else drop and drops_frames(fps)
    if dropping:
        left_out = rate // 15
        a_minute = 60 * rate - left_out
        ten_minutes = 10 * a_minute + left_out
        tens, rest = divmod(frames, ten_minutes)
        minutes = max(0, (rest - left_out) // a_minute)
        frames += left_out * (9 * tens + minutes)
    seconds, over = divmod(frames, rate)
    mark = ";" if dropping else ":"
    hours, minutes, seconds = seconds // 3600 % 24, seconds // 60 % 60, seconds % 60
    return f"{hours:02d}:{minutes:02d}:{seconds:02d}{mark}{over:02d}"


def frames_of(code: str, fps: float) -> int:
    """The frame a timecode stands for: a semicolon means drop-frame.

    Raises RuleError on ``timecode`` for what is none, and for a count that drop-frame leaves out.
    """
    found = re.fullmatch(r"(\d{1,2}):(\d{2}):(\d{2})([:;])(\d{2})", code.strip())
    rate = nominal_rate(fps)
    if not found:
        raise RuleError("timecode", RULE, code)
    hours, minutes, seconds, over = (int(found[k]) for k in (1, 2, 3, 5))
    if hours > 23 or minutes > 59 or seconds > 59 or over >= rate:
        raise RuleError("timecode", f"{RULE}, fewer than {rate} frames a second", code)
    frames = ((hours * 60 + minutes) * 60 + seconds) * rate + over
    if found[4] == ":":
        return frames
    if not drops_frames(fps):
        raise RuleError("timecode", "drop-frame is for 29.97 and 59.94 only", code)
    left_out = rate // 15
    if minutes % 10 and not seconds and over < left_out:
        raise RuleError("timecode", "is a count that drop-frame leaves out", code)
    whole = hours * 60 + minutes
    return frames - left_out * (whole - whole // 10)


def first_hour(fps: float) -> int:
    """The frame at which a timeline begins, as tapes do: 01:00:00:00, dropped where the rate is."""
    return frames_of("01:00:00;00" if drops_frames(fps) else "01:00:00:00", fps)
