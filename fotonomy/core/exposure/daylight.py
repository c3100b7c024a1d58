"""Light to come over a run: what the sky of its place does, from what was metered."""

from datetime import datetime, timedelta

from fotonomy.core import constants as c
from fotonomy.core.sky.light import PlaceLight
from fotonomy.core.spec.stills import LightPoint

POINTS = 13


def light_to_come(
    light: PlaceLight, starts: datetime, lasts_s: float, metered_ev: float
) -> tuple[LightPoint, ...]:
    """Points over a run, moved as a whole so that the first is what was metered.

    The person's own reading overrides the model; what is taken from it is the change. The light's
    sky has to cover the run.
    """
    low, high = c.EV_RANGE
    times = [lasts_s * k / (POINTS - 1) for k in range(POINTS)]
    evs = [light.at(starts + timedelta(seconds=at)).ev100 for at in times]
    return tuple(
        LightPoint(round(at, 1), round(min(high, max(low, ev - evs[0] + metered_ev)), 1))
        for at, ev in zip(times, evs, strict=True)
    )
