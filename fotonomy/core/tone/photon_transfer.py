"""Photon transfer after EMVA Standard 1288: full well and read noise from pairs of grey frames.

Two frames of the same grey give the signal (their mean) and the noise that changes from
frame to frame (their difference), free of dust, vignetting and the sensor's own pattern.
In units of the clip a pair at ISO S follows ``σ² = μ/F + (r/F)²`` with ``F`` the electrons at
the clip, ``full_well · S_base / S``: a straight line, whose slope and foot are fitted.
"""

from dataclasses import dataclass
from math import log2, sqrt
from typing import Any

import numpy as np
from numpy.typing import NDArray

from fotonomy.core import constants as c
from fotonomy.core.curves.transfer_functions import Curve, encode, linear_of
from fotonomy.core.errors import RuleError
from fotonomy.core.gear.body import Sensor
from fotonomy.core.gear.profile import LevelScale, Profile
from fotonomy.core.tone.noise import READ_LOW_E

# Pixels by brightness: enough of them for a steady variance, enough steps for a slope.
GROUPS, SMALLEST_GROUP = 24, 400
# Frames smaller than this hold too few pixels to measure noise in.
FEWEST_PIXELS = 64 * 64
# Signals a group may have, as a share of the clip: outside, the clip cuts the noise off.
SIGNAL_RANGE = (0.0005, 0.92)
# A line needs signals this far apart to tell its slope from its foot.
SPREAD_STOPS = 1.0
MOST_PAIRS = 8


@dataclass(frozen=True, slots=True)
class Group:
    """Pixels of one brightness in a pair: mean and variance, in units of the clip."""

    iso: int
    signal: float
    variance: float
    pixels: int


@dataclass(frozen=True, slots=True)
class Fit:
    """What came of pairs of frames.

    ``read_high_e`` is None where no pair was at the upper base or over it;
    ``read_fitted`` is false where the signals lay too close together and the read noise
    is the one assumed. ``residual_percent`` is the root mean square of measured noise
    against the line.
    """

    sensor: Sensor
    groups: tuple[Group, ...]
    residual_percent: float
    read_fitted: bool
    upper_base: int | None
    lowest_base: int

    def noise_at(self, iso: int, signal: float) -> float:
        """The line's noise at an ISO and a signal, both noise and signal in units of the clip."""
        full = (self.sensor.full_well_e or 0.0) * self.lowest_base / iso
        low, high = self.sensor.read_low_e or 0.0, self.sensor.read_high_e
        upper = self.upper_base is not None and iso >= 0.999 * self.upper_base
        read = high if upper and high is not None else low
        return sqrt(signal / full + (read / full) ** 2)


def linearised(frame: NDArray[Any], profile: Profile) -> NDArray[np.float64]:
    """A frame of codes as linear light in units of the clip. ``frame`` is one channel of
    integers that fill 8 or 16 bits, whatever the profile's depth.
    """
    top = float(np.iinfo(frame.dtype).max)
    share = _percent_of(np.arange(int(top) + 1) / top, profile) / 100
    table = linear_of(profile.curve, share) / profile.clip_linear
    return np.asarray(table[frame])


def _percent_of(codes: NDArray[np.float64], profile: Profile) -> NDArray[np.float64]:
    """Percent of the profile's scale for codes from 0 to 1 of all codes."""
    if profile.scale is LevelScale.FULL:
        return 100 * codes
    return 100 * (1023 * codes - 64) / 876


def _step_variance(profile: Profile, signal: NDArray[np.float64]) -> NDArray[np.float64]:
    """Variance that rounding to the profile's bits adds at a linear signal."""
    steps = 2.0**profile.bits - 1
    per_code = 100 / 100 if profile.scale is LevelScale.FULL else 1023 / 876
    light = np.maximum(signal * profile.clip_linear, 1e-9)
    slope = _slope(profile.curve, light) * profile.clip_linear
    return np.asarray((per_code / steps / np.maximum(slope, 1e-9)) ** 2 / 12)


def _slope(curve: Curve, light: NDArray[np.float64]) -> NDArray[np.float64]:
    reach = np.maximum(light * 0.01, 1e-7)
    return np.asarray((encode(curve, light + reach) - encode(curve, light - reach)) / (2 * reach))


def measure(a: NDArray[Any], b: NDArray[Any], profile: Profile, iso: int) -> tuple[Group, ...]:
    """Groups of one pair. ``a`` and ``b`` are one channel each, of one shape and type.

    Raises RuleError on ``frames`` for two sizes, too few pixels, twice the same frame, or
    nothing between black and the clip.
    """
    if a.shape != b.shape:
        raise RuleError(
            "frames", f"the two frames differ in size: {a.shape[1]} x {a.shape[0]} and "
            f"{b.shape[1]} x {b.shape[0]} px", None,
        )  # fmt: skip
    if a.dtype != b.dtype:
        raise RuleError("frames", "the two frames differ in bit depth", None)
    if a.size < FEWEST_PIXELS:
        raise RuleError("frames", f"needs at least {FEWEST_PIXELS} pixels", a.size)
    if np.array_equal(a, b):
        raise RuleError("frames", "the two frames are the same file: take two in a row", None)
    first, second = linearised(a, profile), linearised(b, profile)
    mean, apart = (first + second) / 2, second - first
    # Light that changed between the frames is no noise.
    apart = apart - apart.mean()
    smooth = _smoothed(mean)
    order = np.argsort(smooth, axis=None)
    groups = []
    for part in np.array_split(order, GROUPS):
        if part.size < SMALLEST_GROUP:
            continue
        signal = float(mean.ravel()[part].mean())
        if not SIGNAL_RANGE[0] <= signal <= SIGNAL_RANGE[1]:
            continue
        noise = float(np.mean(apart.ravel()[part] ** 2)) / 2
        rounding = float(_step_variance(profile, np.array([signal]))[0])
        groups.append(Group(iso, signal, max(noise - rounding, 1e-14), int(part.size)))
    if not groups:
        raise RuleError(
            "frames", "lies outside what can be measured: grey between black and the clip", None
        )
    return tuple(groups)


def _smoothed(mean: NDArray[np.float64]) -> NDArray[np.float64]:
    """Brightness of the neighbourhood, so that a group is not picked by its own noise."""
    height, width = mean.shape
    side = max(1, min(16, height // 8, width // 8))
    rows, columns = height // side, width // side
    blocks = mean[: rows * side, : columns * side].reshape(rows, side, columns, side)
    coarse = blocks.mean(axis=(1, 3))
    at_row = np.minimum(np.arange(height) // side, rows - 1)
    at_column = np.minimum(np.arange(width) // side, columns - 1)
    return np.asarray(coarse[np.ix_(at_row, at_column)])


def fit(groups: tuple[Group, ...], profile: Profile, iso_lowest: int) -> Fit:
    """Full well and read noise from the groups of all pairs, by weighted least squares.

    Raises RuleError on ``frames`` where the noise does not grow with the signal, as after
    noise reduction or heavy compression.
    """
    bases = sorted(profile.base_iso) or [iso_lowest]
    pair = len(bases) > 1 and log2(bases[-1] / bases[0]) >= c.BASE_PAIR_APART_STOPS
    upper = bases[-1] if pair else None
    gain = np.array([g.iso / bases[0] for g in groups])
    signal = np.array([g.signal for g in groups])
    noise = np.array([g.variance for g in groups])
    count = np.array([g.pixels for g in groups], dtype=np.float64)
    high = np.array([upper is not None and g.iso >= 0.999 * upper for g in groups])
    # σ² = μ·g/F + (r·g/F)²: unknowns 1/F, (r_low/F)² and (r_high/F)².
    columns = [signal * gain]
    fitted = [_spread(signal[part], gain[part]) >= SPREAD_STOPS for part in (~high, high)]
    for part, tells in zip((~high, high), fitted, strict=True):
        if tells:
            columns.append(np.where(part, gain**2, 0.0))
    design = np.stack(columns, axis=1)
    weight = np.sqrt(count / 2) / noise
    solution = np.linalg.lstsq(design * weight[:, None], noise * weight, rcond=None)[0]
    for _ in range(4):
        # A variance is known to a share of itself: weigh by the line, not by the scatter.
        weight = np.sqrt(count / 2) / np.maximum(design @ solution, 1e-14)
        solution = np.linalg.lstsq(design * weight[:, None], noise * weight, rcond=None)[0]
    if solution[0] <= 0:
        raise RuleError(
            "frames", "the noise does not grow with the light: noise reduction or compression "
            "took it away; switch both off", float(solution[0]),
        )  # fmt: skip
    full = 1 / float(solution[0])
    reads = _reads(solution, fitted, full)
    sensor = Sensor(
        full_well_e=min(max(full, 100.0), 1e7),
        read_low_e=READ_LOW_E if reads[0] is None else reads[0],
        read_high_e=reads[1] if high.any() else None,
    )
    line = np.sqrt(np.maximum(design @ solution, 1e-18))
    residual = 100 * float(np.sqrt(np.mean((np.sqrt(noise) / line - 1) ** 2)))
    return Fit(sensor, groups, residual, any(fitted), upper, bases[0])


def _spread(signal: NDArray[np.float64], gain: NDArray[np.float64]) -> float:
    """Stops between the darkest and the brightest signal in electrons, of one gain."""
    if not signal.size:
        return 0.0
    electrons = signal / gain
    return log2(float(electrons.max() / electrons.min()))


def _reads(solution: NDArray[np.float64], fitted: list[bool], full: float) -> list[float | None]:
    found: list[float | None] = []
    at = 1
    for tells in fitted:
        if tells:
            found.append(full * sqrt(max(float(solution[at]), 0.0)))
            at += 1
        else:
            found.append(None)
    return found


def per_photosite(sensor: Sensor, photosites_a_pixel: float) -> Sensor:
    """What was measured in delivered pixels, each averaged of so many photosites, a photosite."""
    n = max(photosites_a_pixel, 1e-6)
    return Sensor(
        full_well_e=None if sensor.full_well_e is None else max(100.0, sensor.full_well_e / n),
        read_low_e=None if sensor.read_low_e is None else sensor.read_low_e / sqrt(n),
        read_high_e=None if sensor.read_high_e is None else sensor.read_high_e / sqrt(n),
        prnu_share=sensor.prnu_share,
    )
