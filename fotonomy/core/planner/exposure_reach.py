"""Between which lights a setup can be exposed with what it has: its gear, as far as it may move."""

from dataclasses import replace
from functools import lru_cache

from fotonomy.core.constants import TOLERABLE_WITHIN_STOPS
from fotonomy.core.day.blocks import ExposureReach
from fotonomy.core.photometry.exposure_value import Ev100, ev100_of
from fotonomy.core.planner.search import Search
from fotonomy.core.spec.setup import Setup


def exposure_reach(setup: Setup) -> ExposureReach | None:
    """What every combination of what is free reaches, within a third of a stop.

    What is held stays as it is. None where a setting has nothing to choose from. The light of the
    setup itself, its hour and its place play no part, so that one answer serves a whole day.
    """
    return _reach(replace(setup, light=Ev100(0.0), light_said=True, starts=None, daylight=None,
                          weather=None))  # fmt: skip


@lru_cache(maxsize=512)
def _reach(setup: Setup) -> ExposureReach | None:
    search = Search(setup)
    stands = [stand for stand in search.stands if stand.count]
    if not stands:
        return None
    # With the light at EV 0 a sum of stops is the error of the exposure.
    least = min(float(one.light.min() + one.inner.stops.min()) for one in stands)
    most = max(float(one.light.max() + one.inner.stops.max()) for one in stands)
    zero = ev100_of(setup.light)
    return ExposureReach(
        zero - most - TOLERABLE_WITHIN_STOPS, zero - least + TOLERABLE_WITHIN_STOPS
    )
