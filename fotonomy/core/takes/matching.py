"""Pictures matched to takes by the clock, though the camera's clock was off.

All of a camera's pictures share one offset. Every pair of a picture and a take says one; where many
agree stands the clock, however many pictures belong to no take at all. Pictures of one minute
count as one.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

# A clock is off by a zone, by summer time, by drift: not by more than two days.
MOST_OFF_S = 48 * 3600.0
# A picture belongs to a take from so long before it to so long after it. Common practice.
BEFORE_S, AFTER_S = 90.0, 90.0
# Offsets within this stand together.
TOGETHER_S = 60.0
# Pictures of fewer moments than this say no offset; a moment counts as one.
MOMENTS = 1.5
# An offset that fewer pictures agree on is none.
FEWEST = 2


@dataclass(frozen=True, slots=True)
class Taken:
    """A take as the clock knows it: seconds from any moment, its start and its length."""

    uid: str
    starts_s: float
    length_s: float = 0.0


@dataclass(frozen=True, slots=True)
class ClockOffset:
    """By how many seconds a camera's clock is ahead, and how many pictures agree of how many."""

    seconds: float
    agree: int
    of: int


@dataclass(frozen=True, slots=True)
class Match:
    """Where a picture belongs: the take's id, "" for none, and the takes that are nearest to it."""

    uid: str
    nearest: tuple[str, ...]


def clock_offset(pictures: Sequence[float], takes: Sequence[Taken]) -> ClockOffset | None:
    """The offset that most pictures agree on; None where there is nothing to go by.

    ``pictures`` are seconds by the camera's clock from the same moment as the takes'.
    """
    if not pictures or not takes:
        return None
    shot = np.sort(np.asarray(pictures, dtype=np.float64))
    starts = np.array([take.starts_s for take in takes])
    lengths = np.array([take.length_s for take in takes])
    weights = _weights(shot)
    differences = shot[:, None] - (starts + lengths / 2)[None, :]
    known = np.abs(differences) <= MOST_OFF_S
    if not known.any():
        return None
    near, each = differences[known], np.broadcast_to(weights[:, None], known.shape)[known]
    order = np.argsort(near, kind="stable")
    near, summed = near[order], np.concatenate([[0.0], np.cumsum(each[order])])
    # Where most stands within a minute, begin; the nearest to none where it is a tie.
    inside = summed[np.searchsorted(near, near + TOGETHER_S, "right")] - summed[:-1]
    crowded = near[inside >= 0.8 * inside.max()] + TOGETHER_S / 2
    best = max(
        crowded.tolist(),
        key=lambda one: (round(_weight(shot - one, starts, lengths, weights), 6), -abs(one)),
    )
    residues = _residues(shot - best, starts, lengths)
    good = np.abs(residues) <= BEFORE_S
    if good.sum() < min(FEWEST, len(shot)):
        return None
    # The middle of what is left of those that agree.
    seconds = float(best + np.median(residues[good]))
    if weights.sum() < MOMENTS and len(takes) > 1 and abs(seconds) > BEFORE_S:
        # Pictures of one moment agree with any take: they only say that a clock is right.
        return None
    return ClockOffset(seconds, _agreeing(shot - seconds, starts, lengths), len(shot))


def _residues(shot: Any, starts: Any, lengths: Any) -> NDArray[np.float64]:
    """By how much each picture lies beside its nearest take: 0 within, before negative."""
    before = starts[None, :] - shot[:, None]
    after = shot[:, None] - (starts + lengths)[None, :]
    beside = np.where(before > 0, -before, np.where(after > 0, after, 0.0))
    nearest = np.argmin(np.abs(beside), axis=1)
    return np.asarray(beside[np.arange(len(shot)), nearest])


def _weights(shot: NDArray[np.float64]) -> NDArray[np.float64]:
    """What each picture counts: those of one minute count as one, or a burst outvotes a day."""
    first = np.searchsorted(shot, shot - TOGETHER_S / 2, "left")
    last = np.searchsorted(shot, shot + TOGETHER_S / 2, "right")
    return np.asarray(1.0 / (last - first))


def _weight(shot: Any, starts: Any, lengths: Any, weights: Any) -> float:
    residues = _residues(shot, starts, lengths)
    return float(weights[(residues >= -BEFORE_S) & (residues <= AFTER_S)].sum())


def _agreeing(shot: Any, starts: Any, lengths: Any) -> int:
    residues = _residues(shot, starts, lengths)
    return int(((residues >= -BEFORE_S) & (residues <= AFTER_S)).sum())


def match(at_s: float, takes: Sequence[Taken], most_nearest: int = 3) -> Match:
    """The take of a picture whose clock was put right, and the nearest ones to choose from."""

    def beside(take: Taken) -> float:
        return max(take.starts_s - at_s, at_s - take.starts_s - take.length_s, 0.0)

    order = sorted(takes, key=lambda take: (beside(take), abs(at_s - take.starts_s)))
    nearest = tuple(take.uid for take in order[:most_nearest])
    if not order:
        return Match("", ())
    first = order[0]
    reach = BEFORE_S if at_s < first.starts_s else AFTER_S
    return Match(first.uid if beside(first) <= reach else "", nearest)
