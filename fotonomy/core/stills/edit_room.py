"""Room in the frame for the edit: stabilising, stills that move, and cuts on the beat."""

from dataclasses import dataclass
from fractions import Fraction

from fotonomy.core.motion.shutter import exact_rate

BEATS_A_BAR = 4


@dataclass(frozen=True, slots=True)
class Room:
    """What is left of a picture when so many percent are cut off each side.

    ``zoom`` is how much larger it is then shown, ``left_px`` how many pixels across it has;
    ``soft`` where these are fewer than the delivery shows.
    """

    crop_percent: float
    left_px: int
    zoom: float
    soft: bool


def stabilised(width_px: int, crop_percent: float, delivered_px: int) -> Room:
    """A picture ``width_px`` wide less ``c`` percent a side: ``1 - 2c/100`` is left."""
    share = 1 - 2 * crop_percent / 100
    left = int(width_px * share)
    return Room(crop_percent, left, 1 / share, left < delivered_px)


def most_crop_percent(width_px: int, delivered_px: int) -> float:
    """Percent a side that may go before the delivery is short of pixels; 0 where none may."""
    return max(0.0, 50 * (1 - delivered_px / width_px))


def longest_zoom(still_px: int, delivered_px: int) -> float:
    """How far a move may go into a still before it gets soft: ``P/delivered``, one at least."""
    return max(1.0, still_px / delivered_px)


# Slower than half a pixel a frame a drift stutters unless it is rendered between pixels. Common
# practice, no source.
STUTTERS_UNDER_PX = 0.5


def slowest_drift_percent_s(delivered_px: int, fps: float) -> float:
    """Percent of the width a second under which a drift over a still stutters."""
    return float(100 * STUTTERS_UNDER_PX * exact_rate(fps) / delivered_px)


@dataclass(frozen=True, slots=True)
class Beats:
    """A clip against music: how many beats and bars it fills, and the cut nearest to its end.

    ``cut_frame`` is the whole frame nearest to that beat, ``off_s`` how far from the beat it
    lies: carried along, not summed, so that no cut is ever more than half a frame off.
    """

    beats: float
    bars: float
    nearest_beat: int
    cut_frame: int
    off_s: float


def cut_on_beat(beat: int, tempo_bpm: float, fps: float) -> tuple[int, float]:
    """The whole frame nearest to a beat, and how far it is off in seconds (positive: late)."""
    at = Fraction(beat) * 60 / Fraction(tempo_bpm).limit_denominator(10_000)
    rate = exact_rate(fps)
    frame = round(at * rate)
    return frame, float(frame / rate - at)


def beats_of(screen_s: float, tempo_bpm: float, fps: float) -> Beats:
    """A clip of so many seconds at a tempo: a beat is ``60/bpm`` s, a bar four of them."""
    beats = screen_s * tempo_bpm / 60
    nearest = max(1, round(beats))
    frame, off = cut_on_beat(nearest, tempo_bpm, fps)
    return Beats(beats, beats / BEATS_A_BAR, nearest, frame, off)
