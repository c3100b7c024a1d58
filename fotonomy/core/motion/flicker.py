"""What pulsing lamps do to a shutter: ripple, bands, safe times."""

from dataclasses import dataclass
from fractions import Fraction
from functools import lru_cache
from math import floor, pi, sin
from typing import Any

import numpy as np
import numpy.typing as npt

from fotonomy.core.motion.shutter import exact_rate

# Share of a lamp's ripple that is still unseen in most pictures. Common practice, no source.
FLICKER_SAFE_RIPPLE = 0.05


def residual_ripple(time_s: float, pulses_hz: float) -> float:
    """Share of a lamp's ripple left in an exposure: ``|sin(pi*p*t)/(pi*p*t)|``, 0 to 1.

    ``pulses_hz`` is twice the mains frequency for mains lamps.
    """
    phase = pi * pulses_hz * time_s
    return abs(sin(phase) / phase) if phase else 1.0


def residual_ripples(times_s: npt.NDArray[Any], pulses_hz: float) -> npt.NDArray[Any]:
    """The same for an array of times in seconds; an array of the same shape."""
    return np.asarray(abs(np.sinc(pulses_hz * times_s)))


@dataclass(frozen=True, slots=True)
class Flicker:
    """What pulsing lamps do to this shutter.

    ``ripple`` is the share left; ``steady`` is true where every frame gets the same
    light (bands then stand still), false where they roll.
    """

    pulses_hz: float
    ripple: float
    safe: bool
    steady: bool
    safe_times_s: tuple[float, ...]


def flicker(time_s: float, fps: float, pulses_hz: float) -> Flicker:
    """Flicker state of a shutter time under lamps of so many pulses a second.

    ``pulses_hz`` is twice the mains frequency for mains lamps. Safe times are whole
    numbers of pulses not longer than one frame; there is none if the frame is shorter.
    """
    ripple = residual_ripple(time_s, pulses_hz)
    steady, safe_times_s = _pulses_in_a_frame(fps, pulses_hz)
    return Flicker(
        pulses_hz=pulses_hz,
        ripple=ripple,
        safe=ripple <= FLICKER_SAFE_RIPPLE,
        steady=steady,
        safe_times_s=safe_times_s,
    )


@lru_cache(maxsize=1024)
def _pulses_in_a_frame(fps: float, pulses_hz: float) -> tuple[bool, tuple[float, ...]]:
    """If a frame holds whole pulses, and the times of whole pulses that fit into it."""
    held = Fraction(pulses_hz) / exact_rate(fps)
    longest = floor(held + Fraction(1, 10**6))
    return held.denominator == 1, tuple(k / pulses_hz for k in range(1, min(longest, 64) + 1))
