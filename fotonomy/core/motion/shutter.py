"""Frame rates, shutter angle and time, and what lamps on the mains do to both."""

from dataclasses import dataclass
from fractions import Fraction
from functools import lru_cache
from math import floor, pi, sin
from typing import Any

import numpy as np
import numpy.typing as npt

from fotonomy.core.constants import FLICKER_SAFE_RIPPLE
from fotonomy.core.errors import RuleError

# SMPTE rates said in decimals stand for thousand-and-firsts.
_NTSC_NOMINALS = (24, 30, 48, 60, 120, 240)
_NTSC_TOLERANCE_FPS = 0.006


@lru_cache(maxsize=1024)
def exact_rate(fps: float) -> Fraction:
    """The exact rate behind a spoken one: 23.976 is 24000/1001, 29.97 is 30000/1001."""
    if not fps > 0:
        raise RuleError("frame_rate", "has to be more than zero", fps)
    for nominal in _NTSC_NOMINALS:
        exact = Fraction(nominal * 1000, 1001)
        if abs(fps - float(exact)) <= _NTSC_TOLERANCE_FPS:
            return exact
    return Fraction(fps).limit_denominator(100_000)


@lru_cache(maxsize=1024)
def rate_fps(fps: float) -> float:
    """The exact rate as a plain number."""
    return float(exact_rate(fps))


@dataclass(frozen=True, slots=True)
class Shutter:
    """A shutter said as an angle in degrees or as a time in seconds; exactly one of them."""

    angle_deg: float | None = None
    time_s: float | None = None

    def __post_init__(self) -> None:
        if (self.angle_deg is None) == (self.time_s is None):
            raise RuleError("shutter", "is either an angle or a time", self)
        size = self.angle_deg if self.angle_deg is not None else self.time_s
        if size is None or not size > 0:
            raise RuleError("shutter", "has to be more than zero", size)

    def seconds(self, fps: float) -> float:
        """Open time in seconds: ``t = angle/(360*fps)``."""
        if self.time_s is not None:
            return self.time_s
        assert self.angle_deg is not None
        return self.angle_deg / (360 * rate_fps(fps))

    def degrees(self, fps: float) -> float:
        """Angle in degrees at ``fps``; over 360 the shutter is longer than the frame."""
        if self.angle_deg is not None:
            return self.angle_deg
        assert self.time_s is not None
        return 360 * rate_fps(fps) * self.time_s


def residual_ripple(time_s: float, pulses_hz: float) -> float:
    """Share of a lamp's ripple left in an exposure: ``|sin(pi*p*t)/(pi*p*t)|``, 0 to 1.

    ``pulses_hz`` is twice the mains frequency for mains lamps.
    """
    x = pi * pulses_hz * time_s
    return abs(sin(x) / x) if x else 1.0


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
