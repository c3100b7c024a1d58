"""Lightning: long frames back to back against a trigger, by the strikes an hour in view.

Strikes come as they like: a Poisson process, so that a frame open for t of them holds one with
``1 - exp(-t/every)``.
"""

from dataclasses import dataclass
from math import exp

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


def strikes(
    every_s: float, exposure_s: float, interval_s: float, frames: int, file_mb: float
) -> Strikes:
    """Frames of an exposure, one each interval, under a strike every so many seconds on average."""
    share = 1 - exp(-exposure_s / every_s)
    lasts_s = frames * interval_s
    expected = lasts_s / every_s
    held = frames * share
    caught = expected * TRIGGER_CATCHES
    return Strikes(
        expected=expected, frame_share=share,
        evening_share=1 - exp(-frames * exposure_s / every_s), with_strike=held,
        empty=frames - held, between_share=max(0.0, 1 - exposure_s / interval_s),
        trigger_frames=caught, size_gb=frames * file_mb / 1000, trigger_gb=caught * file_mb / 1000,
    )  # fmt: skip
