"""A correction for monitoring: a profile's signal to BT.709, with the exposure pulled back."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from fotonomy.core.curves.transfer_functions import GREY, Bt709, Values, encode, linear_of
from fotonomy.core.gear.profile import Profile
from fotonomy.core.notation.writing import format_signed
from fotonomy.core.tone.signal_levels import headroom_stops

# From this level on the shoulder bends: what lies over white shares the rest of the scale.
KNEE_LEVEL = 0.8
# Stops over the knee that the shoulder holds where no clip is known.
SHOULDER_STOPS = 5.0


@dataclass(frozen=True, slots=True)
class Correction:
    """Pull the exposure by so many stops (positive darkens), and bend the lights or not."""

    pull_stops: float = 0.0
    shoulder: bool = True

    @property
    def words(self) -> str:
        """What it does, in words."""
        bend = "lights rolled off" if self.shoulder else "straight"
        return f"exposure {format_signed(-self.pull_stops)} stops, {bend}"

    def apply(self, profile: Profile, signal: ArrayLike) -> Values:
        """BT.709 signal, 0 to 1, for a profile's signal; grey comes out where BT.709 has it."""
        light = linear_of(profile.curve, signal) * (GREY / profile.grey_linear)
        light = np.maximum(light, 0) * 2.0**-self.pull_stops
        if not self.shoulder:
            return np.clip(encode(Bt709(), light), 0, 1)
        held = headroom_stops(profile) - self.pull_stops
        return shouldered(light, over_knee_stops(held))


def over_knee_stops(headroom: float) -> float:
    """How far a headroom over grey reaches past the knee, at least a stop."""
    knee = float(linear_of(Bt709(), KNEE_LEVEL))
    return float(max(1.0, headroom + np.log2(GREY / knee)))


def shouldered(light: ArrayLike, stops: float = SHOULDER_STOPS) -> Values:
    """BT.709 with its lights bent, so that what a log holds over white still shows.

    Straight BT.709 up to 80 %; from there ``stops`` more share what is left, and 100 % is
    where they end.
    """
    x = np.asarray(light, dtype=np.float64)
    knee = float(linear_of(Bt709(), KNEE_LEVEL))
    over = np.clip(np.log2(np.maximum(x, knee) / knee) / stops, 0, 1)
    bent = KNEE_LEVEL + (1 - KNEE_LEVEL) * (1 - (1 - over) ** 2)
    return np.where(x > knee, bent, encode(Bt709(), np.minimum(x, 1.0)))
