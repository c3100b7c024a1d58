"""A take as an edit knows it."""

import re
from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import datetime
from fractions import Fraction
from typing import Any

from fotonomy.core.motion.shutter import exact_rate


@dataclass(frozen=True, slots=True)
class Frames:
    """The files of a run: the first one's name, how many, and if their numbers have no gap.

    ``missing`` are the numbers that nobody has.
    """

    first: str
    count: int
    missing: tuple[int, ...] = ()

    @property
    def parts(self) -> tuple[str, int, int, str]:
        """What stands before the number, the number, its digits, and what stands after it."""
        found = re.search(r"^(.*?)(\d+)(\D*)$", self.first)
        if found is None:
            return self.first, 0, 0, ""
        return found[1], int(found[2]), len(found[2]), found[3]


@dataclass(frozen=True, slots=True)
class EditClip:
    """A take: the name of its clip, its card, how many frames it has at the rate of the edit.

    ``shot_fps`` is the rate it was recorded with; ``note`` and ``why`` are what the log says,
    ``planned`` and ``actual`` texts by setting. ``run`` are its files where it is a run of frames.
    """

    name: str
    setup: str
    card: str
    taken: datetime
    frames: int
    shot_fps: float
    verdict: str
    note: str = ""
    why: tuple[str, ...] = ()
    planned: Mapping[str, str] = field(default_factory=dict)
    actual: Mapping[str, str] = field(default_factory=dict)
    off_stops: float | None = None
    run: Frames | None = None
    more: Mapping[str, Any] = field(default_factory=dict)

    @property
    def usable(self) -> bool:
        """Somebody may want to cut it."""
        return self.verdict != "no good"


def frames_at(length_s: float, fps: float) -> int:
    """So many whole frames a length has at a rate, one at least."""
    return max(1, round(Fraction(length_s) * exact_rate(fps)))
