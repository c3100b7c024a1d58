"""Frame rates, shutter angle and shutter time."""

from dataclasses import dataclass
from fractions import Fraction
from functools import lru_cache

from fotonomy.core.conversions import WHOLE_TURN_DEG
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


def open_s(angle_deg: float, fps: float) -> float:
    """Open time in seconds of a shutter angle: ``t = angle/(360*fps)``."""
    return angle_deg / (WHOLE_TURN_DEG * rate_fps(fps))


def angle_of(time_s: float, fps: float) -> float:
    """Angle in degrees of an open time: ``360*fps*t``; over 360 it is longer than the frame."""
    return WHOLE_TURN_DEG * rate_fps(fps) * time_s


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
        """Open time in seconds."""
        if self.time_s is not None:
            return self.time_s
        assert self.angle_deg is not None
        return open_s(self.angle_deg, fps)

    def degrees(self, fps: float) -> float:
        """Angle in degrees at ``fps``; over 360 the shutter is longer than the frame."""
        if self.angle_deg is not None:
            return self.angle_deg
        assert self.time_s is not None
        return angle_of(self.time_s, fps)
