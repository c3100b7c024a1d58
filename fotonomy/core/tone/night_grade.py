"""Dusk made into night in the edit: the middle tones darkened, the whole cooled."""

from dataclasses import dataclass
from math import log
from typing import Annotated

import numpy as np
from numpy.typing import ArrayLike

from fotonomy.core.curves.transfer_functions import GREY, Bt709, Values, encode
from fotonomy.core.gear.profile import Profile
from fotonomy.core.ranges import Within, check_bounds
from fotonomy.core.tone.monitor_lut import Correction
from fotonomy.core.tone.placement import DUSK_DARKENED_STOPS
from fotonomy.core.tone.white_balance import channel_gains

# By how much dusk is cooled, in mired: common practice, no source.
COOLED_MIRED = 60.0


@dataclass(frozen=True, slots=True)
class NightGrade:
    """Grey falls by so many stops while black and white stay, and all turns bluer by mired."""

    darker_stops: Annotated[float, Within(0, 6, "stops")] = DUSK_DARKENED_STOPS
    cooler_mired: Annotated[float, Within(0, 300, "mired")] = COOLED_MIRED

    def __post_init__(self) -> None:
        check_bounds(self)

    @property
    def gamma(self) -> float:
        """The power of the shown signal that takes grey down."""
        here = float(encode(Bt709(), GREY))
        there = float(encode(Bt709(), GREY * 2.0**-self.darker_stops))
        return log(there) / log(here)

    @property
    def words(self) -> str:
        """What it does, in words."""
        return f"grey {self.darker_stops:g} stops darker, {self.cooler_mired:g} mired cooler"

    def apply(self, profile: Profile, signal: ArrayLike) -> Values:
        """BT.709 signals, ``(..., 3)``, for a profile's red, green and blue signals."""
        shown = Correction().apply(profile, signal)
        gains = np.asarray(channel_gains(-self.cooler_mired)) ** (1 / 2.4)
        return np.clip(shown**self.gamma * gains, 0, 1)
