"""Long exposures: how long a trail grows, how evenly it fills, and how frames are combined."""

from dataclasses import dataclass
from math import exp, log2, sqrt
from typing import ClassVar

from fotonomy.core.conversions import PERCENT
from fotonomy.core.spec.stills import Combining

# Long exposures. Hot pixels show from here on. Common practice, no source.
HOT_PIXELS_FROM_S = 8.0


def under_each_stops(combining: Combining, frames: int) -> float:
    """Stops each exposure has to be under: ``log2 n`` where they are added, else none."""
    return log2(frames) if combining is Combining.ADDITIVE else 0.0


@dataclass(frozen=True, slots=True)
class LampPass:
    """A light of the scene in a pass of its own: how far it clips, and what would hold it.

    ``less_stops`` is how much less light its pass needs, 0 where it holds as set.
    """

    name: str
    clips_stops: float
    less_stops: float
    iris: float


@dataclass(frozen=True, slots=True)
class LongExposure:
    """One picture of one exposure or several.

    ``each_percent`` is the trail of one exposure and ``whole_percent`` from the first
    start to the last end, in percent of the frame width; ``hole_percent`` what is missing
    between two frames combined. ``passing`` is how many lights or waves pass on average,
    ``empty_chance`` that none does, ``uneven_share`` how much their number varies (one standard
    deviation of a Poisson count over its mean). ``wanted_s`` is the exposure that gives the
    wanted trail.
    ``bulb`` is true beyond the body's slowest time. ``lasts_s`` counts noise frames too.
    """

    # Their energy is counted by the hour of work, not as a run's.
    power: ClassVar[None] = None

    frames: int
    time_s: float
    open_s: float
    gap_s: float
    lasts_s: float
    each_percent: float
    whole_percent: float
    hole_percent: float
    hole_px: float
    passing: float | None
    empty_chance: float | None
    uneven_share: float | None
    wanted_s: float | None
    bulb: bool
    over_limit: bool
    lamps: tuple[LampPass, ...]

    @property
    def shows_hot_pixels(self) -> bool:
        """True where each exposure is long enough for hot pixels to be seen."""
        return self.time_s >= HOT_PIXELS_FROM_S


def passing_of(open_s: float, passes_s: float) -> float:
    """How many pass on average while the shutter is open."""
    return open_s / passes_s


def empty_chance(passing: float) -> float:
    """Chance that none passes, by a Poisson count."""
    return exp(-passing)


def uneven_share(passing: float) -> float:
    """How much their number varies: one standard deviation of a Poisson count over its mean."""
    return 1 / sqrt(passing) if passing > 0 else 0.0


def whole_s(frames: int, time_s: float, gap_s: float) -> float:
    """From the first start to the last end of frames combined."""
    return frames * time_s + (frames - 1) * gap_s


def trail_percent(lasts_s: float, crossing_s: float | None) -> float:
    """Length of a trail that grows so long, in percent of the frame's width."""
    return 0.0 if crossing_s is None else PERCENT * lasts_s / crossing_s


def wanted_s(trail_percent: float, crossing_s: float, frames: int, gap_s: float) -> float:
    """The exposure that gives a wanted trail."""
    return max(0.0, trail_percent / PERCENT * crossing_s - (frames - 1) * gap_s) / frames
