"""When the light of a plan is there again."""

from datetime import datetime

import numpy as np

from fotonomy.core.sky.light import PlaceLight
from fotonomy.core.sky.track import Stretch

# So near to what was planned is the planned light: a third of a stop.
NEAR_STOPS = 1 / 3


def light_again(
    light: PlaceLight, ev100: float, after: datetime, until: datetime
) -> Stretch | None:
    """The first time after a moment at which the estimate is within a third of a stop of an EV.

    None where it is not before ``until``, or the sky of the light does not cover it.
    """
    near = NEAR_STOPS - np.abs(light.over().ev100 - ev100)
    for one in light.sky.stretches(near):
        part = one.common(Stretch(after, until)) if after < until else None
        if part is not None and part.minutes >= 1:
            return part
    return None
