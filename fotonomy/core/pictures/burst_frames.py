"""A burst: which of its frames differ enough to keep, and whether fewer a second had done."""

from collections.abc import Sequence
from dataclasses import dataclass

from fotonomy.core.pictures.frame_measure import Gray, changed_share

# Two frames differ where so much of the picture does. Common practice, no source.
DIFFERS_SHARE = 0.012
# What people ask: would so many a second have done?
RATES_FPS = (20.0, 12.0, 6.0)


@dataclass(frozen=True, slots=True)
class Thinned:
    """A burst as fewer frames a second would have had it.

    ``frames`` it would have taken; of the ``distinct`` ones so many, at the worst of all ways to
    begin, would have been caught; ``moment_share`` is in how many of those ways a frame of the
    moment is among them (None while nobody says which the moment is).
    """

    rate_fps: float
    frames: int
    distinct_kept: int
    moment_share: float | None


@dataclass(frozen=True, slots=True)
class BurstReport:
    """A burst: its rate, the places of the frames that differ, and what fewer would have done.

    ``moment`` are first and last frame that look like the keeper, ``moment_s`` how long that is.
    """

    frames: int
    rate_fps: float
    distinct: tuple[int, ...]
    thinned: tuple[Thinned, ...]
    moment: tuple[int, int] | None
    moment_s: float | None


def distinct_frames(lights: Sequence[Gray]) -> tuple[int, ...]:
    """The places of frames that each differ from the one kept before, the first among them.

    ``lights`` are small pictures in stops (``seen.small_light``), all of one shape.
    """
    kept: list[int] = []
    for place, light in enumerate(lights):
        if not kept or changed_share(lights[kept[-1]], light) > DIFFERS_SHARE:
            kept.append(place)
    return tuple(kept)


def moment_about(lights: Sequence[Gray], keeper: int) -> tuple[int, int]:
    """The first and the last frame in a row that look like the keeper."""

    def alike(place: int) -> bool:
        return changed_share(lights[keeper], lights[place]) <= DIFFERS_SHARE

    first = last = keeper
    while first > 0 and alike(first - 1):
        first -= 1
    while last + 1 < len(lights) and alike(last + 1):
        last += 1
    return first, last


def burst_report(
    lights: Sequence[Gray], at_s: Sequence[float], keeper: int | None = None,
    rates: Sequence[float] = RATES_FPS,
) -> BurstReport:  # fmt: skip
    """A burst, from small pictures and the second of each from any moment.

    Raises ValueError for fewer than two, or where no time passes between them.
    """
    if len(lights) < 2 or at_s[-1] <= at_s[0]:
        raise ValueError("a burst has two frames at two moments at least")
    rate = (len(lights) - 1) / (at_s[-1] - at_s[0])
    distinct = distinct_frames(lights)
    moment = None if keeper is None else moment_about(lights, keeper)
    thinned = tuple(
        _thinned(at_s, distinct, moment, slower, rate) for slower in rates if slower < 0.95 * rate
    )
    moment_s = None if moment is None else (moment[1] - moment[0] + 1) / rate
    return BurstReport(len(lights), rate, distinct, thinned, moment, moment_s)


def _thinned(
    at_s: Sequence[float], distinct: Sequence[int], moment: tuple[int, int] | None,
    slower_fps: float, rate_fps: float,
) -> Thinned:  # fmt: skip
    """All ways to begin: the slower burst may start at any frame of its first step."""
    step_s = 1 / slower_fps
    starts = [at for at in at_s if at - at_s[0] < step_s - 1e-9]
    kept, counts, caught = [], [], 0
    for start in starts:
        places = _nearest_after(at_s, start, step_s, 1 / rate_fps)
        counts.append(len(places))
        # A frame stands for the distinct ones up to the next: each is seen if one of its span is.
        spans = zip(distinct, [*distinct[1:], len(at_s)], strict=True)
        kept.append(sum(any(first <= place < end for place in places) for first, end in spans))
        if moment is not None:
            caught += any(moment[0] <= place <= moment[1] for place in places)
    share = None if moment is None else caught / len(starts)
    return Thinned(slower_fps, max(counts), min(kept), share)


def _nearest_after(
    at_s: Sequence[float], start: float, step_s: float, slack_s: float
) -> tuple[int, ...]:
    """The frames that a slower burst would have taken: at each of its moments the nearest one."""
    places: list[int] = []
    moment = start
    while moment <= at_s[-1] + slack_s / 2:
        place = min(range(len(at_s)), key=lambda k: abs(at_s[k] - moment))
        if not places or place != places[-1]:
            places.append(place)
        moment += step_s
    return tuple(places)
