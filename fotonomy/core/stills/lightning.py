"""Lightning: long frames back to back against a trigger, by the strikes an hour in view.

Strikes come as they like: a Poisson process, so that a frame open for t of them holds one with
``1 - exp(-t/every)``.
"""

from dataclasses import dataclass
from math import exp

from fotonomy.core.conversions import MB_A_GB

# A trigger fires on so many of the strikes in view: light behind cloud and the first stroke of a
# flash are missed. Common practice, no source.
TRIGGER_CATCHES = 0.8


@dataclass(frozen=True, slots=True)
class Strikes:
    """What an evening brings. Shares are 0 to 1.

    ``frame_share`` is the chance of a strike in one frame, ``evening_share`` of at least one in
    the run, ``with_strike`` and ``empty`` how many frames hold one or stay empty on average,
    ``between_share`` how many strikes fall while no frame is open.
    """

    expected: float
    frame_share: float
    evening_share: float
    with_strike: float
    empty: float
    between_share: float
    trigger_frames: float
    size_gb: float
    trigger_gb: float


def frame_share(exposure_s: float, every_s: float) -> float:
    """Chance of a strike in one frame: ``1 - exp(-t/every)``."""
    return 1 - exp(-exposure_s / every_s)


def expected_strikes(frames: int, interval_s: float, every_s: float) -> float:
    """Strikes during a run on average."""
    return frames * interval_s / every_s


def frames_with(frames: int, frame_share: float) -> float:
    """Frames that hold a strike on average."""
    return frames * frame_share


def frames_without(frames: int, with_strike: float) -> float:
    """Frames that stay empty on average."""
    return frames - with_strike


def evening_share(frames: int, exposure_s: float, every_s: float) -> float:
    """Chance of at least one strike while any frame is open."""
    return 1 - exp(-frames * exposure_s / every_s)


def between_share(exposure_s: float, interval_s: float) -> float:
    """How many strikes fall while no frame is open, as a share."""
    return max(0.0, 1 - exposure_s / interval_s)


def trigger_frames(expected: float) -> float:
    """Frames a trigger takes of so many strikes."""
    return expected * TRIGGER_CATCHES


def trigger_gb(trigger_frames: float, file_mb: float) -> float:
    """Decimal GB of a trigger's frames."""
    return trigger_frames * file_mb / MB_A_GB


def strikes(
    every_s: float, exposure_s: float, interval_s: float, frames: int, file_mb: float
) -> Strikes:
    """Frames of an exposure, one each interval, under a strike every so many seconds on average."""
    share = frame_share(exposure_s, every_s)
    expected, held = expected_strikes(frames, interval_s, every_s), frames_with(frames, share)
    caught = trigger_frames(expected)
    return Strikes(
        expected=expected, frame_share=share,
        evening_share=evening_share(frames, exposure_s, every_s), with_strike=held,
        empty=frames_without(frames, held), between_share=between_share(exposure_s, interval_s),
        trigger_frames=caught, size_gb=frames * file_mb / 1000,
        trigger_gb=trigger_gb(caught, file_mb),
    )  # fmt: skip
