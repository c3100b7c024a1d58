"""A run as it was carried out, frame by frame, and what is left of the clip."""

from dataclasses import dataclass
from enum import StrEnum

import numpy as np
from numpy.typing import NDArray

Numbers = NDArray[np.float64]
# A longer stretch than this many intervals between two frames is a jump in the clip.
JUMP_INTERVALS = 1.5
MOST_NAMED = 12


class Lost(StrEnum):
    """Why a start of the remote gave no frame."""

    EXPOSING = "still exposing"
    NOISE_FRAME = "noise frame running"
    BUFFER = "buffer full"
    CARD = "card full"
    BATTERY = "battery empty"
    SINGLE = "drive on single"

    @property
    def short(self) -> str:
        """One word for a table or a file."""
        return self.value.replace(" ", "-")


LOST_ORDER = tuple(Lost)


class Ended(StrEnum):
    """Why a run came to its end."""

    COUNT = "the remote's count was reached"
    CLOCK = "stopped by the clock"
    CARD = "the card was full"
    BATTERY = "the battery was empty"
    PRESSES = "the hour was over"
    STOPPED = "stopped by hand"


@dataclass(frozen=True, slots=True)
class RunLog:
    """What happened at every start of the remote, one entry each, in order.

    ``trigger_s`` when the remote fired, ``start_s`` when the shutter opened (NaN where it
    did not), ``lost`` the place of the reason in LOST_ORDER (-1: a frame was taken),
    ``rung`` which of the ramp's rungs was set, ``waiting`` frames in the buffer after it,
    ``card_mb`` on the card, ``energy_wh`` drawn so far.
    """

    trigger_s: Numbers
    start_s: Numbers
    lost: NDArray[np.int8]
    rung: NDArray[np.int32]
    waiting: NDArray[np.int32]
    card_mb: Numbers
    energy_wh: Numbers
    ended: Ended
    ended_s: float

    @property
    def taken(self) -> NDArray[np.bool_]:
        """True for every start that gave a frame."""
        return self.lost < 0

    @property
    def frames(self) -> int:
        """Frames on the card at the end."""
        return int(np.count_nonzero(self.lost < 0))


@dataclass(frozen=True, slots=True)
class Jump:
    """A place where the clip jumps: after so much on screen, over so much of the event.

    ``times`` over 1 is a change of pace: so many frames in a row skip as much each.
    """

    screen_s: float
    at_s: float
    skips_s: float
    times: int = 1


@dataclass(frozen=True, slots=True)
class Verdict:
    """A rehearsed run against its plan.

    ``lost`` counts the starts that gave no frame, by reason; ``clip_s`` is what remains on
    screen, ``jumps`` where it jumps (the first of ``jump_count``); ``late_s`` is how much
    later than planned the last frame was, ``short_frames`` what is missing of the plan.
    """

    planned: int
    frames: int
    fired: int
    lost: tuple[tuple[Lost, int], ...]
    clip_s: float
    planned_clip_s: float
    jumps: tuple[Jump, ...]
    jump_count: int
    longest_gap_s: float
    ended: Ended
    ended_s: float
    short_frames: int

    @property
    def clean(self) -> bool:
        """True where every planned frame was taken in its place."""
        return not self.lost and self.jump_count == 0 and self.short_frames == 0


def _jumps(
    wide: NDArray[np.int64], starts: Numbers, skips_s: Numbers, project_fps: float
) -> tuple[Jump, ...]:
    """Jumps of a clip; gaps of one size right after each other are one change of pace."""
    if not len(wide):
        return ()
    skips = skips_s[wide]
    fresh = (np.diff(wide) > 1) | (np.abs(np.diff(skips)) > 1e-3 * np.abs(skips[1:]))
    firsts = np.concatenate(([0], np.flatnonzero(fresh) + 1))
    counts = np.diff(np.concatenate((firsts, [len(wide)])))
    return tuple(
        Jump(
            (int(wide[first]) + 1) / project_fps, float(starts[wide[first]]), float(skips[first]),
            int(count),
        )
        for first, count in zip(firsts, counts, strict=True)
    )  # fmt: skip


def judge(
    log: RunLog, *, planned: int, interval_s: float, project_fps: float, one_run: bool = True
) -> Verdict:
    """What a log comes to: losses, jumps, and the clip that remains.

    Without ``one_run`` frames come in bursts, and a pause is no jump.
    """
    starts = log.start_s[log.taken]
    gaps = np.diff(starts)
    wide = np.flatnonzero(gaps > JUMP_INTERVALS * interval_s) if one_run else np.zeros(0, np.int64)
    jumps = _jumps(wide, starts, gaps - interval_s, project_fps)
    counted = np.bincount(log.lost[log.lost >= 0], minlength=len(LOST_ORDER))
    lost = tuple(
        (reason, int(count)) for reason, count in zip(LOST_ORDER, counted, strict=True) if count
    )
    return Verdict(
        planned=planned, frames=log.frames, fired=len(log.lost), lost=lost,
        clip_s=log.frames / project_fps, planned_clip_s=planned / project_fps,
        jumps=jumps[:MOST_NAMED], jump_count=len(jumps),
        longest_gap_s=float(gaps.max()) if len(gaps) else 0.0,
        ended=log.ended, ended_s=log.ended_s, short_frames=max(0, planned - log.frames),
    )  # fmt: skip
