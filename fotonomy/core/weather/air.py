"""Dew, wind and cloud as numbers: what the other rules of the weather rest on."""

from typing import Any

import numpy as np

from fotonomy.core.conversions import PERCENT
from fotonomy.core.errors import RuleError

# Magnus formula over water, WMO-No. 8 (from memory): 17.62 and 243.12 °C, good from −45 to 60 °C.
_A, _B_C = 17.62, 243.12
# Lower ends of Beaufort's forces 1 to 12 in m/s (WMO), from memory.
_FORCES_M_S = (0.3, 1.6, 3.4, 5.5, 8.0, 10.8, 13.9, 17.2, 20.8, 24.5, 28.5, 32.7)
_FORCE_WORDS = (
    "calm", "light air", "light breeze", "gentle breeze", "moderate breeze", "fresh breeze",
    "strong breeze", "near gale", "gale", "strong gale", "storm", "violent storm", "hurricane",
)  # fmt: skip


def dew_point_c(temperature_c: Any, humidity_percent: Any) -> Any:
    """The temperature at which dew forms; 10 °C at 80 % give 6.7 °C. Numbers or arrays.

    Raises RuleError for air without any water.
    """
    if np.any(np.asarray(humidity_percent) <= 0):
        raise RuleError("humidity_percent", "has to be more than 0 %", humidity_percent)
    gamma = np.log(np.asarray(humidity_percent) / PERCENT) + _share(temperature_c)
    return _B_C * gamma / (_A - gamma)


def humidity_percent(temperature_c: Any, dew_c: Any) -> Any:
    """The inverse: relative humidity, 100 % at most."""
    return np.minimum(100.0, 100 * np.exp(_share(dew_c) - _share(temperature_c)))


def _share(celsius: Any) -> Any:
    return _A * np.asarray(celsius) / (_B_C + np.asarray(celsius))


def beaufort(wind_m_s: float) -> int:
    """Force of a wind, 0 to 12."""
    return sum(wind_m_s >= least for least in _FORCES_M_S)


def beaufort_words(wind_m_s: float) -> str:
    """The name of its force."""
    return _FORCE_WORDS[beaufort(wind_m_s)]
