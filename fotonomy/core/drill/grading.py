"""How a guess is graded: by its distance, in stops.

Within a third of a stop right, within one close (calculation notes of the trade).
"""

from dataclasses import dataclass
from enum import StrEnum

RIGHT_WITHIN_STOPS, CLOSE_WITHIN_STOPS = 1 / 3, 1.0
# Rounding of marks and of what is typed costs nobody a grade.
TOLERANCE_STOPS = 0.02


class Mark(StrEnum):
    """How good a guess was."""

    RIGHT = "right"
    CLOSE = "close"
    OFF = "off"

    @property
    def label(self) -> str:
        """In words."""
        return {"right": "Right", "close": "Close", "off": "Not right"}[self.value]


@dataclass(frozen=True, slots=True)
class Grade:
    """A guess, graded: its mark, how far off in ``unit``, and that in words."""

    mark: Mark
    distance: float
    unit: str
    words: str


def graded(off_stops: float, words: str) -> Grade:
    """A distance in stops as a grade: within a third right, within one close."""
    size = abs(off_stops)
    if size <= RIGHT_WITHIN_STOPS + TOLERANCE_STOPS:
        mark = Mark.RIGHT
    else:
        mark = Mark.CLOSE if size <= CLOSE_WITHIN_STOPS + TOLERANCE_STOPS else Mark.OFF
    return Grade(mark, off_stops, "stops", words)
