"""What sort of shot a setup is, and what that brings: a record of traits a kind.

Rules ask for a trait and not for a kind, so that a new kind is one record here. What a kind brings
of its own checks, tiles and dry run stands in ``core/kinds.py``.
"""

from dataclasses import dataclass
from enum import StrEnum


@dataclass(frozen=True, slots=True, kw_only=True)
class Traits:
    """What rules ask of a kind. Common practice, no source.

    ``stills`` records single pictures: an unattended run ``has_interval``, a ``drive`` of frames
    is held, or ``long_frame`` is one long exposure. ``slows`` plays slower than life, ``calms``
    may, so that jitter is calmer. ``rolls`` travels along a road, ``flies``, is ``close_up``, is
    ``dark`` when it is shot, or ``darkened`` in the edit.

    ``stands`` on its tripod for long; ``windy`` frames are spoilt by wind. Focus is ``by_hand``;
    ``test_frames`` are taken before. Its takes last ``usual_min`` minutes where nobody said, and it
    is planned for ``usual_ev`` (EV at ISO 100) until somebody says its light.
    """

    stills: bool = False
    has_interval: bool = False
    drive: bool = False
    long_frame: bool = False
    slows: bool = False
    calms: bool = False
    rolls: bool = False
    flies: bool = False
    close_up: bool = False
    dark: bool = False
    darkened: bool = False
    tripod: bool = False
    stands: bool = False
    windy: bool = False
    by_hand: bool = False
    test_frames: bool = False
    usual_min: float = 20.0
    usual_ev: float = 12.0


class Kind(StrEnum):
    """What sort of shot it is; it decides which rules apply."""

    traits: Traits

    def __new__(cls, value: str, traits: Traits = Traits()) -> "Kind":
        """A kind by its value, which stands in files and rows; with its traits where it is made."""
        made = str.__new__(cls, value)
        made._value_ = value
        made.traits = traits
        return made

    REAL_TIME = "real_time"
    SLOW_MOTION = "slow_motion", Traits(slows=True)
    ROLLING = "rolling", Traits(rolls=True, usual_min=30, usual_ev=13.0)
    MACRO = "macro", Traits(
        close_up=True, calms=True, tripod=True, by_hand=True, usual_min=30, usual_ev=10.0,
    )  # fmt: skip
    NIGHT = "night", Traits(
        dark=True, stands=True, test_frames=True, usual_min=30, usual_ev=6.0
    )  # fmt: skip
    DUSK_FOR_NIGHT = "dusk_for_night", Traits(darkened=True, usual_ev=8.0)
    AERIAL = "aerial", Traits(flies=True, usual_ev=13.0)
    INTERVAL = "interval", Traits(
        stills=True, has_interval=True, tripod=True, stands=True, windy=True, by_hand=True,
        test_frames=True,
    )  # fmt: skip
    BURST = "burst", Traits(stills=True, drive=True, test_frames=True)
    LONG_EXPOSURE = "long_exposure", Traits(
        stills=True, long_frame=True, tripod=True, stands=True, windy=True, by_hand=True,
        test_frames=True, usual_ev=5.0,
    )  # fmt: skip

    @property
    def label(self) -> str:
        """The kind in words."""
        return self.value.replace("_", " ")
