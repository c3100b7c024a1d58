"""A run of frames: its flicker, where it jumps and why it likely did, and the clip that remains."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from enum import StrEnum
from itertools import pairwise
from statistics import median
from typing import Any

import numpy as np
from numpy.typing import NDArray

from fotonomy.core.pictures.frame_measure import SHIFT_PX, Seen

# A frame that differs by so much from those around it is seen to flicker. Common practice.
FLICKER_STOPS = 0.03
RUNNING = 5
# The light of three frames before and after a step: more than this is a step one sees.
STEP_STOPS = 0.15
STEP_FRAMES = 3
# A shift over one pixel of the delivered picture shows; a copy tells a sixth of its own pixel.
JUMP_PX = 1.0
COPY_TELLS = 1 / 6
# Where the light steps in the same frame, clipped edges move by themselves: twice as much is asked.
STEPPED_FACTOR = 2.0
# The same exposure, whatever the camera rounded.
SAME_STOPS = 0.06
# From this share of flickering frames on it is no single event.
MANY_SHARE = 0.1
# Without an interval that somebody planned, the middle one of the run stands for it.
GAP_INTERVALS = 1.5

Numbers = NDArray[np.float64]


class Cause(StrEnum):
    """Why a run likely jumps."""

    SETTING = "setting"
    IRIS = "iris"
    LIGHT = "light"
    PASSED = "passed"
    KNOCKED = "knocked"
    SWAYED = "swayed"
    TOO_LONG = "too_long"
    COUNTER = "counter"
    FILES = "files"
    STOPPED = "stopped"


class Sort(StrEnum):
    """What happened to a run."""

    FLICKER = "flicker"
    STEP = "step"
    SHIFT = "shift"
    GAP = "gap"


@dataclass(frozen=True, slots=True)
class RunFrame:
    """A frame of a run: what was seen in it, and what its camera wrote down.

    ``at_s`` is its second from any moment, ``exposure_stops`` its exposure against 1 s, f/1 and
    ISO 100, ``number`` the one in its file's name, ``time_s`` how long it was open; None where
    nobody knows.
    """

    seen: Seen
    at_s: float | None = None
    exposure_stops: float | None = None
    number: int | None = None
    time_s: float | None = None


@dataclass(frozen=True, slots=True)
class RunPlan:
    """What the run was meant to be, as far as it matters to what became of it."""

    interval_s: float | None
    frames: int | None
    project_fps: float
    delivered_px: int
    noise_frames: bool = False
    sure_count: int | None = None
    stopped_down: bool = True


@dataclass(frozen=True, slots=True)
class Event:
    """Something that happened at a frame (its place, from 0), how large, and why it likely did.

    ``size`` is in stops for light, in delivered pixels for a shift, in frames for a gap; ``frames``
    how many frames it touches.
    """

    sort: Sort
    at: int
    size: float
    cause: Cause
    frames: int = 1


@dataclass(frozen=True, slots=True)
class RunReport:
    """A run as it came out.

    ``level_stops``, ``exposure_stops``, ``residue_stops`` and ``shift_px`` have one number a frame
    (NaN where there is none). ``flicker_stops`` is the root mean square of the residue,
    ``interval_s`` the one it kept. ``whole`` are first and last frame of the longest stretch
    without a gap or a shift.
    """

    level_stops: Numbers
    exposure_stops: Numbers
    residue_stops: Numbers
    shift_px: Numbers
    gap_s: Numbers
    events: tuple[Event, ...]
    flicker_stops: float
    interval_s: float | None
    lost: int
    whole: tuple[int, int]
    clip_s: float
    whole_s: float

    @property
    def frames(self) -> int:
        """How many there are."""
        return len(self.level_stops)

    def of(self, *sorts: Sort) -> tuple[Event, ...]:
        """The events of some sorts, in order."""
        return tuple(one for one in self.events if one.sort in sorts)


def running_median(values: Numbers, width: int = RUNNING) -> Numbers:
    """The median of each value and those around it; at the ends of those that there are."""
    half = width // 2
    padded = np.concatenate([np.full(half, np.nan), values, np.full(half, np.nan)])
    windows = np.lib.stride_tricks.sliding_window_view(padded, width)
    return np.asarray(np.nanmedian(windows, axis=1))


def report(frames: Sequence[RunFrame], plan: RunPlan) -> RunReport:
    """A run of frames against its plan. Raises ValueError for fewer than two."""
    if len(frames) < 2:
        raise ValueError("a run has two frames at least")
    levels = np.array([one.seen.level_stops for one in frames])
    exposed = _numbers(one.exposure_stops for one in frames)
    gaps = _gaps(frames)
    interval = _interval(gaps, plan)
    residue = residue_stops(levels, running_median(levels))
    shift = _shifts(frames, plan)
    events = sorted(
        (
            *_flicker(residue, exposed, plan), *_steps(levels, residue, exposed),
            *_moved(frames, shift, plan), *_lost(frames, gaps, interval, plan),
        ),
        key=lambda one: (one.at, one.sort),
    )  # fmt: skip
    lost = sum(round(one.size) for one in events if one.sort is Sort.GAP)
    whole = _longest_whole(len(frames), events)
    return RunReport(
        levels, exposed, residue, shift, gaps, tuple(events),
        float(np.sqrt(np.mean(residue**2))), interval, lost, whole,
        on_screen_s(len(frames), plan.project_fps),
        on_screen_s(whole[1] - whole[0] + 1, plan.project_fps),
    )  # fmt: skip


def on_screen_s(frames: int, project_fps: float) -> float:
    """How long so many frames last in the edit, in seconds."""
    return frames / project_fps


def missing_frames(gap_s: float, interval_s: float) -> int:
    """How many frames a gap of the clock is short of, one at least."""
    return max(1, round(gap_s / interval_s) - 1)


def residue_stops(level_stops: Any, running_stops: Any) -> Any:
    """A frame's light less the running median of five about it; numbers or arrays."""
    return level_stops - running_stops


def _numbers(values: Iterator[float | None]) -> Numbers:
    return np.array([np.nan if one is None else one for one in values], dtype=np.float64)


def _gaps(frames: Sequence[RunFrame]) -> Numbers:
    """Seconds from the frame before; NaN where a clock is missing."""
    gaps = [np.nan]
    for before, now in pairwise(frames):
        known = before.at_s is not None and now.at_s is not None
        gaps.append(now.at_s - before.at_s if known else np.nan)  # type: ignore[operator]
    return np.array(gaps)


def _interval(gaps: Numbers, plan: RunPlan) -> float | None:
    """The interval that was kept: the planned one where most gaps agree, else the middle gap."""
    known = gaps[~np.isnan(gaps)]
    if not len(known):
        return None
    kept = float(median(known.tolist()))
    if plan.interval_s and abs(kept - plan.interval_s) <= max(0.5, 0.1 * plan.interval_s):
        return plan.interval_s
    return kept or plan.interval_s


def _flicker(residue: Numbers, exposed: Numbers, plan: RunPlan) -> Iterator[Event]:
    """One event for flicker all along, else one for each frame that stands out."""
    out = np.flatnonzero(np.abs(residue) >= FLICKER_STOPS)
    if not len(out):
        return
    follows = _follows_exposure(out, residue, exposed)
    if len(out) >= MANY_SHARE * len(residue):
        cause = Cause.SETTING if follows.mean() > 0.5 else (
            Cause.IRIS if plan.stopped_down else Cause.LIGHT
        )  # fmt: skip
        worst = int(out[np.argmax(np.abs(residue[out]))])
        yield Event(Sort.FLICKER, int(out[0]), float(residue[worst]), cause, len(out))
        return
    for place, with_exposure in zip(out, follows, strict=True):
        cause = Cause.SETTING if with_exposure else Cause.PASSED
        yield Event(Sort.FLICKER, int(place), float(residue[place]), cause)


def _follows_exposure(places: NDArray[np.intp], residue: Numbers, exposed: Numbers) -> Numbers:
    """1 where the camera itself exposed that frame otherwise by as much, else 0."""
    own = exposed - running_median(exposed) if not np.isnan(exposed).all() else exposed
    return np.array([
        float(abs(own[place]) > SAME_STOPS / 2 and abs(own[place] - residue[place]) <= SAME_STOPS)
        for place in places
    ])  # fmt: skip


def _steps(levels: Numbers, residue: Numbers, exposed: Numbers) -> Iterator[Event]:
    """Where the light of the picture steps and stays: by the camera or by the scene."""
    # A frame that flickers is no step: what stands beside it is compared without it.
    calm = np.where(np.abs(residue) >= FLICKER_STOPS, levels - residue, levels)
    last = -STEP_FRAMES
    for at in range(STEP_FRAMES, len(calm) - STEP_FRAMES + 1):
        before, after = calm[at - STEP_FRAMES : at], calm[at : at + STEP_FRAMES]
        moved = float(np.median(after) - np.median(before))
        # It is here where the frame itself is beyond all before it.
        here = float(calm[at] - calm[at - 1])
        if abs(here) < STEP_STOPS or moved * here <= 0 or abs(moved) < STEP_STOPS:
            continue
        if at - last < STEP_FRAMES:
            continue
        last = at
        turned = exposed[at] - exposed[at - 1]
        by_camera = not np.isnan(turned) and abs(turned - here) <= max(SAME_STOPS, 0.3 * abs(here))
        yield Event(Sort.STEP, at, here, Cause.SETTING if by_camera else Cause.LIGHT)


def _shifts(frames: Sequence[RunFrame], plan: RunPlan) -> Numbers:
    """How far each frame lies from the one before, less the middle shift, in delivered pixels."""
    right = _numbers(one.seen.right_share for one in frames)
    down = _numbers(one.seen.down_share for one in frames)
    # Before the first there is none that it could have moved against.
    right[0] = down[0] = np.nan
    if np.isnan(right).all():
        return right
    away = np.hypot(right - np.nanmedian(right), down - np.nanmedian(down))
    return np.asarray(away * plan.delivered_px)


def least_shift_px(plan: RunPlan) -> float:
    """The smallest shift that copies of 480 pixels tell, in delivered pixels."""
    return max(JUMP_PX, COPY_TELLS * plan.delivered_px / SHIFT_PX)


def _moved(frames: Sequence[RunFrame], shift: Numbers, plan: RunPlan) -> Iterator[Event]:
    """Knocks, which stay, and sways, which come back with the next frame."""
    least = least_shift_px(plan)
    levels = np.array([one.seen.level_stops for one in frames])
    steps = np.abs(np.diff(levels, prepend=levels[0])) >= STEP_STOPS
    out = np.flatnonzero(np.nan_to_num(shift) > np.where(steps, STEPPED_FACTOR * least, least))
    many = len(out) >= MANY_SHARE * len(shift)
    done = -1
    for place in out.tolist():
        if place <= done:
            continue
        back = _comes_back(frames, shift, place, least)
        done = place + 1 if back else place
        cause = Cause.SWAYED if back or many else Cause.KNOCKED
        yield Event(Sort.SHIFT, place, float(shift[place]), cause, 2 if back else 1)


def _comes_back(
    frames: Sequence[RunFrame], shift: Numbers, place: int, least: float
) -> bool:  # fmt: skip
    if place + 1 >= len(frames) or not shift[place + 1] > least:
        return False
    now, then = frames[place].seen, frames[place + 1].seen
    if None in (now.right_share, now.down_share, then.right_share, then.down_share):
        return False
    right = now.right_share + then.right_share  # type: ignore[operator]
    down = now.down_share + then.down_share  # type: ignore[operator]
    return float(np.hypot(right, down)) < 0.5 * float(
        np.hypot(now.right_share or 0.0, now.down_share or 0.0)
    )


def _lost(
    frames: Sequence[RunFrame], gaps: Numbers, interval: float | None, plan: RunPlan
) -> Iterator[Event]:
    """Gaps of the clock: how many frames are missing, and why they likely are."""
    if not interval:
        return
    for at in np.flatnonzero(np.nan_to_num(gaps) >= GAP_INTERVALS * interval):
        place = int(at)
        missing = missing_frames(float(gaps[place]), interval)
        yield Event(
            Sort.GAP, place, float(missing), _why_lost(frames, place, missing, interval, plan)
        )


def _why_lost(
    frames: Sequence[RunFrame], place: int, missing: int, interval: float, plan: RunPlan
) -> Cause:  # fmt: skip
    before, now = frames[place - 1], frames[place]
    if before.number is not None and now.number is not None:
        # A counter of names goes from 9999 to 1.
        skipped = (now.number - before.number - 1) % 9999
        if skipped and skipped <= missing:
            return Cause.FILES
    open_s = before.time_s or 0.0
    if open_s * (2 if plan.noise_frames else 1) >= interval:
        return Cause.TOO_LONG
    if plan.sure_count is not None and place >= plan.sure_count:
        return Cause.COUNTER
    return Cause.STOPPED


def _longest_whole(count: int, events: Sequence[Event]) -> tuple[int, int]:
    cuts = sorted(
        {0, count, *(one.at for one in events if one.sort in (Sort.GAP, Sort.SHIFT))}
    )  # fmt: skip
    first, end = max(pairwise(cuts), key=lambda pair: (pair[1] - pair[0], -pair[0]))
    return first, end - 1
