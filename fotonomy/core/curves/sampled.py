"""Curves from tables: pairs of light and signal, checked, and thinned where they are many."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from fotonomy.core.curves.transfer_functions import (
    GREY,
    KNOT_RANGE,
    Tabulated,
    Values,
    encode,
    unwarped,
    warped,
)
from fotonomy.core.errors import RuleError

# Rows a table may bring: a one-dimensional .cube file holds at most 65 536.
ROW_RANGE = (KNOT_RANGE[0], 65_536)
# Thinning may move a curve by this much of its scale, less than a step of twelve bits.
THINNED_WITHIN = 0.0002
# A published encoding is met to this much of its scale, less than a step of fourteen bits,
# but for this share of the samples, beside a jump of the encoding itself.
SAMPLED_WITHIN = 0.00005
JUMPING_SHARE = 0.002
# A black that comes out this far from where the encoding has it is said.
CUT_SEEN = 0.005
# Less than this between two samples is standing still.
SMALLEST_RISE = 1e-12
# Linear light no scene comes near: a slip, or a table of another unit.
LARGEST_IN_TABLE = 1e6
# A signal far outside 0 to 1 is a table of another unit.
SIGNAL_RANGE = (-1.0, 4.0)
# Where a published encoding is sampled: well under black to fourteen stops over grey.
_SAMPLED = (-0.02, GREY * 2.0**14)


def from_pairs(name: str, linear: ArrayLike, signal: ArrayLike) -> Tabulated:
    """A curve from columns of scene-linear light (0.18 is grey) and signal (1.0 is 100 %).

    Any order; both have to rise together. Rows beyond what a curve holds are thinned out
    as far as the curve stays within THINNED_WITHIN. Raises RuleError on ``table``.
    """
    x, y = np.asarray(linear, dtype=np.float64), np.asarray(signal, dtype=np.float64)
    if x.ndim != 1 or x.shape != y.shape:
        raise RuleError("table", "needs two columns of one length", None)
    if not ROW_RANGE[0] <= len(x) <= ROW_RANGE[1]:
        raise RuleError("table", f"needs {ROW_RANGE[0]} to {ROW_RANGE[1]} rows", len(x))
    if not (np.all(np.isfinite(x)) and np.all(np.isfinite(y))):
        raise RuleError("table", "has an entry that is not a number", None)
    if np.max(np.abs(x)) > LARGEST_IN_TABLE:
        raise RuleError("table", "has linear light beyond any scene; 0.18 is grey", float(x.max()))
    if y.min() < SIGNAL_RANGE[0] or y.max() > SIGNAL_RANGE[1]:
        raise RuleError(
            "table", f"has signals from {y.min():.4g} to {y.max():.4g}; 1 stands for 100 %",
            float(y.max()),
        )  # fmt: skip
    order = np.argsort(x, kind="stable")
    x, y = x[order], y[order]
    x, y = _without_flat_ends(x, y)
    if len(x) > KNOT_RANGE[1]:
        x, y = _thinned(x, y)
    return Tabulated(
        name=name,
        linear=tuple(float(f"{v:.9g}") for v in x),
        signal=tuple(float(f"{v:.9g}") for v in y),
    )


def from_encoding(name: str, encoding: Callable[[Values], ArrayLike]) -> Tabulated:
    """A curve sampled from a function that encodes scene-linear light.

    Where the function stops rising or leaves the scale, the table ends. Raises RuleError on
    ``table`` if what is left is no curve, or if the table misses the function between its
    knots by more than SAMPLED_WITHIN.
    """
    light = _sampling()
    signal = np.asarray(encoding(light), dtype=np.float64)
    if signal.shape != light.shape:
        raise RuleError("table", "does not give one signal for every value of light", None)
    keep = _rising_run(light, signal)
    if keep.stop - keep.start < KNOT_RANGE[0]:
        raise RuleError("table", "does not rise through grey", None)
    light, signal = light[keep], signal[keep]
    curve = from_pairs(name, light, signal)
    between = unwarped((warped(light[1:]) + warped(light[:-1])) / 2)
    miss = np.abs(encode(curve, between) - np.asarray(encoding(between)))
    # Where a published curve itself jumps, no table follows it; that must not spread.
    far = float(np.mean(miss > SAMPLED_WITHIN))
    if far > JUMPING_SHARE:
        worst = float(miss.max())
        raise RuleError("table", f"jumps between its values by {100 * worst:.2f} %", worst)
    return curve


@dataclass(frozen=True, slots=True)
class Cut:
    """What a table lost of an encoding under ``from_linear``: black stays at ``kept`` of 1.

    The encoding itself puts black at ``black``, both as signals.
    """

    from_linear: float
    kept: float
    black: float


def cut_of(curve: Tabulated, encoding: Callable[[Values], ArrayLike]) -> Cut | None:
    """What was cut off the foot of an encoding that stops rising where its parts join.

    None where black comes out as the encoding has it, within half a percent of the scale.
    """
    black = float(np.asarray(encoding(np.zeros(1)), dtype=np.float64)[0])
    kept = float(encode(curve, 0.0))
    if not np.isfinite(black) or abs(kept - black) < CUT_SEEN:
        return None
    return Cut(curve.linear[0], kept, black)


def _sampling() -> Values:
    """Light from well under black to far over white, dense around black."""
    low, high = warped(_SAMPLED)
    along = unwarped(np.linspace(float(low), float(high), 24 * KNOT_RANGE[1]))
    small = np.geomspace(1e-9, 1e-3, 4 * KNOT_RANGE[1])
    return np.unique(np.concatenate([along, small, -small, [0.0]]))


def _rising_run(light: Values, signal: Values) -> slice:
    """The longest stretch around grey over which the signal rises and stays on the scale."""
    fit = np.isfinite(signal) & (signal > SIGNAL_RANGE[0]) & (signal <= 1.25)
    rises = np.zeros(len(light), dtype=bool)
    rises[:-1] = np.diff(signal) > SMALLEST_RISE
    rises &= fit & np.append(fit[1:], False)
    grey = int(np.searchsorted(light, GREY))
    if not rises[grey]:
        return slice(0, 0)
    gaps = np.flatnonzero(~rises)
    before, after = gaps[gaps < grey], gaps[gaps > grey]
    start = int(before[-1]) + 1 if before.size else 0
    stop = int(after[0]) + 1 if after.size else len(light)
    return slice(start, stop)


def _without_flat_ends(x: Values, y: Values) -> tuple[Values, Values]:
    """Many tables stand still below black or past the clip; those rows say nothing."""
    rises = np.flatnonzero(np.diff(y) > 0)
    if not rises.size:
        return x, y
    kept = slice(int(rises[0]), int(rises[-1]) + 2)
    return x[kept], y[kept]


def _thinned(x: Values, y: Values) -> tuple[Values, Values]:
    """As many knots as a curve holds, close together where it bends."""
    if np.any(np.diff(x) <= 0) or np.any(np.diff(y) <= 0):
        # The curve itself says what is wrong, and where.
        at = int(np.flatnonzero((np.diff(x) <= 0) | (np.diff(y) <= 0))[0])
        raise RuleError(
            "table", f"has to rise, but goes from {x[at]:.6g}, {y[at]:.6g} to "
            f"{x[at + 1]:.6g}, {y[at + 1]:.6g} in row {at + 2}", at,
        )  # fmt: skip
    along = warped(x)
    step = np.diff(along)
    bend = np.abs(np.diff(np.diff(y) / step)) * (step[1:] + step[:-1]) / 8
    # An even spread of the square root of the bend spreads the error evenly.
    density = np.sqrt(np.concatenate([[0.0], bend, [0.0]]))
    density = density / max(density.sum(), 1e-12) + 0.25 / len(x)
    reach = np.cumsum(density)
    picked = np.searchsorted(reach, np.linspace(0, reach[-1], KNOT_RANGE[1]))
    picked = np.unique(np.clip(picked, 0, len(x) - 1))
    kept_x, kept_y = x[picked], y[picked]
    miss = float(np.max(np.abs(np.interp(along, warped(kept_x), kept_y) - y)))
    if miss > THINNED_WITHIN:
        raise RuleError(
            "table", f"bends too sharply to be kept in {KNOT_RANGE[1]} rows: "
            f"{100 * miss:.2f} % off", miss,
        )  # fmt: skip
    return kept_x, kept_y
