"""Pictures brought home, in groups that belong together by the clock."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from itertools import pairwise
from statistics import median

# Pictures of one camera so far apart at most belong together. Common practice.
TOGETHER_S = 90.0
# Longer gaps do too where their neighbour is as long within a tenth: a run of frames.
LONGEST_INTERVAL_S, AS_LONG_SHARE = 1800.0, 0.1
# From so many pictures on, and so many of their gaps alike within a fifth, it is a run.
FEWEST_OF_RUN, ALIKE_SHARE, ALIKE_OF_GAPS = 5, 0.2, 0.9
SHORTEST_INTERVAL_S = 1.0


@dataclass(frozen=True, slots=True)
class Shot:
    """A picture: its key, seconds by a clock put right (None without a clock), its camera, and the
    take that it lies in by that clock, "" for none.
    """

    key: int
    at_s: float | None
    camera: str
    take: str = ""


@dataclass(frozen=True, slots=True)
class Group:
    """Pictures that go one way, in their order. ``every_s`` is the interval of a run, else None;
    ``missing`` is how many frames of it are not there.
    """

    camera: str
    take: str
    shots: tuple[Shot, ...]
    every_s: float | None = None
    missing: int = 0

    @property
    def start_s(self) -> float | None:
        """When its first was taken; None without a clock."""
        return self.shots[0].at_s

    @property
    def end_s(self) -> float | None:
        """When its last was taken."""
        return self.shots[-1].at_s


def grouped(shots: Iterable[Shot]) -> tuple[Group, ...]:
    """Groups in the order of the clock; what has no clock comes last, a group a camera."""
    found: list[Group] = []
    cameras: dict[str, list[Shot]] = {}
    for shot in shots:
        cameras.setdefault(shot.camera, []).append(shot)
    for camera, own in cameras.items():
        timed = sorted((one for one in own if one.at_s is not None), key=_moment)
        found += [_group(camera, part) for part in _parts(timed)]
        if without := tuple(one for one in own if one.at_s is None):
            found.append(Group(camera, "", without))
    return tuple(sorted(found, key=lambda one: (one.start_s is None, one.start_s or 0.0)))


def _moment(shot: Shot) -> float:
    return shot.at_s or 0.0


def _parts(shots: Sequence[Shot]) -> list[list[Shot]]:
    if not shots:
        return []
    gaps = [_moment(b) - _moment(a) for a, b in pairwise(shots)]
    parts = [[shots[0]]]
    for at, (gap, shot) in enumerate(zip(gaps, shots[1:], strict=True)):
        beside = [gaps[k] for k in (at - 1, at + 1) if 0 <= k < len(gaps)]
        of_run = gap <= LONGEST_INTERVAL_S and any(
            abs(one - gap) <= AS_LONG_SHARE * gap for one in beside
        )
        if shot.take == parts[-1][-1].take and (gap <= TOGETHER_S or of_run):
            parts[-1].append(shot)
        else:
            parts.append([shot])
    return parts


def _group(camera: str, shots: list[Shot]) -> Group:
    gaps = [_moment(b) - _moment(a) for a, b in pairwise(shots)]
    every, missing = None, 0
    if len(shots) >= FEWEST_OF_RUN and (usual := median(gaps)) >= SHORTEST_INTERVAL_S:
        times = [gap / usual for gap in gaps]
        alike = [one for one in times if round(one) and abs(one - round(one)) <= ALIKE_SHARE]
        if len(alike) >= ALIKE_OF_GAPS * len(gaps):
            every, missing = usual, sum(round(one) - 1 for one in alike)
    return Group(camera, shots[0].take, tuple(shots), every, missing)
