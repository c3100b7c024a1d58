"""Transfer curves: scene-linear light (0.18 is grey) to signal (1.0 is 100 %) and back."""

from dataclasses import dataclass, field
from functools import lru_cache
from math import exp, isfinite, log10

import numpy as np
from numpy.typing import ArrayLike, NDArray

from fotonomy.core.errors import RuleError

Values = NDArray[np.float64]

GREY = 0.18
# Sixteen stops over grey and one more: brighter than any sensor a curve is meant for.
LARGEST_LINEAR = GREY * 2.0**17
# How far the two parts of a curve may miss each other where they join (1 % of the scale).
JOIN_TOLERANCE = 0.01
# Knots a curve given as a table may have; more are thinned out before (see tables.py).
KNOT_RANGE = (8, 1024)
# Between the knots of a table values run straight over arcsinh(linear / KNEE): like a
# logarithm in the lights, straight near black, and fit for the negative values of noise.
KNEE = 0.001

# ITU-R BT.2100-2, table 5: the constants of hybrid log-gamma.
_HLG_A, _HLG_B, _HLG_C = 0.17883277, 0.28466892, 0.55991073
# ITU-R BT.2408: a reference white of 100 % reflectance records at 75 %.
_HLG_WHITE = 0.75
# Scene light of the standard (0 to 1) for a reflectance of one: 0.265.
HLG_SCALE = (exp((_HLG_WHITE - _HLG_C) / _HLG_A) + _HLG_B) / 12
# AMPAS S-2016-001: the slope and foot of ACEScct's straight part, and where it ends.
_CCT_SLOPE, _CCT_FOOT, _CCT_CUT = 10.5402377416545, 0.0729055341958355, 0.0078125


@dataclass(frozen=True, slots=True)
class Bt709:
    """ITU-R BT.709-6, item 1.2: the opto-electronic transfer of HD television."""

    name: str = "BT.709"


@dataclass(frozen=True, slots=True)
class Hlg:
    """ITU-R BT.2100-2 hybrid log-gamma, placed as BT.2408 says: grey 38 %, white 75 %."""

    name: str = "HLG"


@dataclass(frozen=True, slots=True)
class AcesCct:
    """ACEScct, AMPAS S-2016-001: a logarithm with a straight foot."""

    name: str = "ACEScct"


@dataclass(frozen=True, slots=True)
class Linear:
    """No curve at all: 100 % is a reflectance of one."""

    name: str = "linear"


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
        for letter in ("a", "b", "c", "d", "e", "f", "cut"):
            if not isfinite(getattr(self, letter)):
                raise RuleError(letter, "has to be a number", getattr(self, letter))
        for letter in ("a", "c", "e"):
            if getattr(self, letter) <= 0:
                raise RuleError(
                    letter, "has to be more than zero, or the curve does not rise",
                    getattr(self, letter),
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


@dataclass(frozen=True, slots=True, kw_only=True)
class Tabulated:
    """A curve given as knots, both columns rising; straight in between over arcsinh.

    Outside its knots it stays at the end value. Raises RuleError on ``table`` for a table
    too small or too large, one that does not rise, or one that does not reach grey.
    """

    name: str
    linear: tuple[float, ...] = field(compare=False, repr=False)
    signal: tuple[float, ...] = field(compare=False, repr=False)
    # Both columns as one number, so that a curve is cheap to compare.
    digest: int = field(init=False, repr=False)

    def __post_init__(self) -> None:
        object.__setattr__(self, "digest", hash((self.linear, self.signal)))
        low, high = KNOT_RANGE
        if len(self.linear) != len(self.signal):
            raise RuleError("table", "needs as many signals as linear values", len(self.signal))
        if not low <= len(self.linear) <= high:
            raise RuleError("table", f"needs {low} to {high} rows", len(self.linear))
        for column, said in ((self.linear, "linear light"), (self.signal, "signal")):
            values = np.asarray(column)
            if not np.all(np.isfinite(values)):
                raise RuleError("table", f"has a {said} that is not a number", None)
            falls = np.flatnonzero(np.diff(values) <= 0)
            if falls.size:
                row = int(falls[0])
                raise RuleError(
                    "table", f"has to rise, but its {said} goes from {values[row]:.6g} to "
                    f"{values[row + 1]:.6g} in row {row + 2}", row,
                )  # fmt: skip
        if not self.linear[0] < GREY < self.linear[-1]:
            raise RuleError(
                "table", f"never reaches grey: its light runs from {self.linear[0]:.4g} to "
                f"{self.linear[-1]:.4g}, and grey is {GREY}", self.linear[-1],
            )  # fmt: skip


Curve = Bt709 | Hlg | AcesCct | Linear | ParametricLog | Tabulated
STANDARDS: dict[str, Curve] = {
    "bt709": Bt709(), "hlg": Hlg(), "acescct": AcesCct(), "linear": Linear()
}  # fmt: skip


@lru_cache(maxsize=64)
def _knots(curve: Tabulated) -> tuple[Values, Values]:
    return warped(np.asarray(curve.linear)), np.asarray(curve.signal)


def warped(linear: ArrayLike) -> Values:
    """Linear light on the axis that tables are read along."""
    return np.asarray(np.arcsinh(np.asarray(linear, dtype=np.float64) / KNEE))


def unwarped(along: ArrayLike) -> Values:
    """The inverse of warped."""
    return np.asarray(KNEE * np.sinh(np.asarray(along, dtype=np.float64)))


def encode(curve: Curve, linear: ArrayLike) -> Values:
    """Signal for scene-linear values, any shape; 1.0 is 100 % of the profile's scale.

    Nothing is clipped here: a recording's clip level belongs to the profile.
    """
    x = np.asarray(linear, dtype=np.float64)
    match curve:
        case Bt709():
            y = _from(x, 0.018)
            np.power(y, 0.45, out=y)
            y *= 1.099
            y -= 0.099
            return _with_foot(y, x < 0.018, 4.5 * x)
        case Hlg():
            y = _from(12 * HLG_SCALE * x, 1.0)
            foot = np.sqrt(_from(3 * HLG_SCALE * x, 0.0))
            y -= _HLG_B
            np.log(y, out=y)
            y *= _HLG_A
            y += _HLG_C
            return _with_foot(y, foot < 0.5, foot)
        case AcesCct():
            y = _from(x, _CCT_CUT)
            np.log2(y, out=y)
            y += 9.72
            y *= 1 / 17.52
            return _with_foot(y, x <= _CCT_CUT, _CCT_SLOPE * x + _CCT_FOOT)
        case Linear():
            return x.copy()
        case ParametricLog():
            y = _from(x, curve.cut)
            y *= curve.a
            y += curve.b
            np.log10(y, out=y)
            y *= curve.c
            y += curve.d
            return _with_foot(y, x <= curve.cut, curve.e * x + curve.f)
        case Tabulated():
            along, signal = _knots(curve)
            return np.asarray(np.interp(warped(x), along, signal))


def _from(x: Values, lowest: float) -> Values:
    """A fresh array with nothing under ``lowest``, to be worked on in place."""
    return np.maximum(x, lowest, out=np.empty_like(x))


def _with_foot(y: Values, where: NDArray[np.bool_], foot: Values) -> Values:
    np.copyto(y, foot, where=where)
    return y


def linear_of(curve: Curve, signal: ArrayLike) -> Values:
    """Scene-linear values that record as ``signal``, any shape: the inverse of encode.

    A signal past the ends of a table gives the end value.
    """
    y = np.asarray(signal, dtype=np.float64)
    match curve:
        case Bt709():
            return np.where(
                y < 4.5 * 0.018, y / 4.5, ((np.maximum(y, 0.081) + 0.099) / 1.099) ** (1 / 0.45)
            )
        case Hlg():
            log = (np.exp((np.maximum(y, 0.5) - _HLG_C) / _HLG_A) + _HLG_B) / 12
            return np.where(y <= 0.5, np.maximum(y, 0) ** 2 / 3, log) / HLG_SCALE
        case AcesCct():
            edge = _CCT_SLOPE * _CCT_CUT + _CCT_FOOT
            log = np.exp2(17.52 * np.maximum(y, edge) - 9.72)
            return np.where(y > edge, log, (y - _CCT_FOOT) / _CCT_SLOPE)
        case Linear():
            return y.copy()
        case ParametricLog():
            edge = float(encode(curve, curve.cut))
            log = (10 ** ((np.maximum(y, edge) - curve.d) / curve.c) - curve.b) / curve.a
            return np.where(y <= edge, (y - curve.f) / curve.e, log)
        case Tabulated():
            along, knots = _knots(curve)
            return unwarped(np.interp(y, knots, along))


@lru_cache(maxsize=1024)
def decode(curve: Curve, signal: float) -> float:
    """Scene-linear value that records as ``signal`` (1.0 is 100 %), for one value.

    Raises RuleError beyond the brightest value the curve is defined for.
    """
    highest = float(encode(curve, LARGEST_LINEAR))
    if not isfinite(signal) or signal > highest:
        raise RuleError(
            "level", f"is beyond this curve, which ends at {100 * highest:.0f} %", signal
        )
    return float(linear_of(curve, signal))
