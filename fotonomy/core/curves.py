"""Transfer curves: scene-linear light (0.18 is grey) to signal (1.0 is 100 %) and back."""

from dataclasses import dataclass
from functools import lru_cache
from math import isfinite, log10

import numpy as np
from numpy.typing import ArrayLike, NDArray

from fotonomy.core.errors import RuleError

# Sixteen stops over grey and one more: brighter than any sensor a curve is meant for.
LARGEST_LINEAR = 0.18 * 2.0**17
# How far the two parts of a curve may miss each other where they join (1 % of the scale).
JOIN_TOLERANCE = 0.01


@dataclass(frozen=True, slots=True)
class Bt709:
    """ITU-R BT.709-6, item 1.2: the opto-electronic transfer of HD television."""

    name: str = "BT.709"


@dataclass(frozen=True, slots=True, kw_only=True)
class ParametricLog:
    """``y = c*log10(a*x+b)+d`` above ``cut``, ``y = e*x+f`` up to it.

    The common shape of published camera curves; the numbers are the person's own.
    Raises RuleError naming the parameter if the curve does not rise or does not join.
    """

    name: str
    a: float
    b: float
    c: float
    d: float
    e: float
    f: float
    cut: float

    def __post_init__(self) -> None:
        for field in ("a", "b", "c", "d", "e", "f", "cut"):
            if not isfinite(getattr(self, field)):
                raise RuleError(field, "has to be a number", getattr(self, field))
        for field in ("a", "c", "e"):
            if getattr(self, field) <= 0:
                raise RuleError(
                    field, "has to be more than zero, or the curve does not rise",
                    getattr(self, field),
                )  # fmt: skip
        if self.a * self.cut + self.b <= 0:
            raise RuleError("cut", "a·cut + b has to be more than zero", self.cut)
        if self.cut >= LARGEST_LINEAR:
            raise RuleError("cut", "lies beyond any scene", self.cut)
        miss = self.c * log10(self.a * self.cut + self.b) + self.d - (self.e * self.cut + self.f)
        if abs(miss) > JOIN_TOLERANCE:
            raise RuleError(
                "cut", f"the two parts miss each other here by {100 * miss:.1f} %", self.cut
            )


Curve = Bt709 | ParametricLog


def encode(curve: Curve, linear: ArrayLike) -> NDArray[np.float64]:
    """Signal for scene-linear values, any shape; 1.0 is 100 % of the profile's scale.

    Nothing is clipped here: a recording's clip level belongs to the profile.
    """
    x = np.asarray(linear, dtype=np.float64)
    match curve:
        case Bt709():
            power = 1.099 * np.power(np.maximum(x, 0.018), 0.45) - 0.099
            return np.where(x < 0.018, 4.5 * x, power)
        case ParametricLog():
            log = curve.c * np.log10(curve.a * np.maximum(x, curve.cut) + curve.b) + curve.d
            return np.where(x > curve.cut, log, curve.e * x + curve.f)


@lru_cache(maxsize=1024)
def decode(curve: Curve, signal: float) -> float:
    """Scene-linear value that records as ``signal`` (1.0 is 100 %): the inverse of encode.

    Raises RuleError beyond the brightest value the curve is defined for.
    """
    highest = float(encode(curve, LARGEST_LINEAR))
    if not isfinite(signal) or signal > highest:
        raise RuleError(
            "level", f"is beyond this curve, which ends at {100 * highest:.0f} %", signal
        )
    match curve:
        case Bt709():
            if signal < 4.5 * 0.018:
                return signal / 4.5
            return float(((signal + 0.099) / 1.099) ** (1 / 0.45))
        case ParametricLog():
            if signal <= float(encode(curve, curve.cut)):
                return (signal - curve.f) / curve.e
            return float((10 ** ((signal - curve.d) / curve.c) - curve.b) / curve.a)
