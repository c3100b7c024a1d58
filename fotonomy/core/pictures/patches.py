"""Noise and sharpness of a picture by tiles, so that both can be asked of any area later.

The noise of a tile: the mean size of what a mask leaves that planes and edges pass through
(Immerkær, Computer Vision and Image Understanding 64, 1996). Sharpness: the variance of the
Laplacian, for ranking pictures of one scene at one size only.
"""

from dataclasses import dataclass
from math import log2, pi, sqrt
from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray

from fotonomy.core.curves.transfer_functions import GREY, linear_of
from fotonomy.core.gear.profile import Profile
from fotonomy.core.pictures.frame_levels import Area, FileCurve, srgb_linear

# A picture is laid out in so many tiles across, of at least so many pixels.
ACROSS, LEAST_PX = 96, 12
_MASK = np.array([[1, -2, 1], [-2, 4, -2], [1, -2, 1]], dtype=np.float32)
_MASK_GAIN = sqrt(pi / 2) / 6
# Rounding to whole codes brings a variance of a twelfth (Bennett 1948), which is no noise of light.
ROUNDING_VARIANCE = 1 / 12
# Less noise than this goes under in the rounding itself.
LEAST_CODES = 0.5
# Structure only ever adds: tiles within so much of the calmest quarter tell an area's noise.
CALM_QUANTILE, CALM_WITHIN = 0.25, 1.25
# In 16 bits: the mean in 1/256 code, the noise in 1/1024 code, the sharpness in 1/2048 stop.
_MEAN, _NOISE, _SHARP = 256.0, 1024.0, 2048.0

Plane = NDArray[np.float32]


@dataclass(frozen=True, slots=True)
class Tiles:
    """A picture in tiles, ``(rows, columns)`` each: mean and noise in codes of 255, sharpness.

    ``width_px`` is that of the picture they were taken from.
    """

    mean: Plane
    noise: Plane
    sharpness: Plane
    width_px: int


@dataclass(frozen=True, slots=True)
class AreaNoise:
    """The noise of an area: its mean code, the noise in codes, and light over noise (SNR)."""

    mean_code: float
    noise_codes: float
    snr: float


def tiles_of(gray: NDArray[np.uint8]) -> Tiles:
    """The tiles of a picture's luma, ``(rows, columns)`` of 8 bits."""
    height, width = gray.shape
    side = max(LEAST_PX, -(-width // ACROSS))
    rows, columns = max(1, height // side), max(1, width // side)
    mean, noise, sharp = (np.zeros((rows, columns), dtype=np.float32) for _ in range(3))
    for row in range(rows):
        # A strip at a time: a picture of 24 megapixels is never held as numbers of 32 bits.
        strip = gray[row * side : (row + 1) * side, : columns * side].astype(np.float32)
        left = cv2.filter2D(strip, cv2.CV_32F, _MASK, borderType=cv2.BORDER_REFLECT_101)
        edges = cv2.Laplacian(strip, cv2.CV_32F, borderType=cv2.BORDER_REFLECT_101)
        mean[row] = _by_tile(strip, side).mean(axis=(0, 2))
        noise[row] = _MASK_GAIN * np.abs(_by_tile(left, side)[1:-1, :, 1:-1]).mean(axis=(0, 2))
        sharp[row] = _by_tile(edges, side)[1:-1, :, 1:-1].var(axis=(0, 2))
    return Tiles(mean, noise, sharp, width)


def _by_tile(strip: NDArray[Any], side: int) -> NDArray[Any]:
    """A strip as ``(rows of a tile, tiles, columns of a tile)``."""
    return strip.reshape(strip.shape[0], -1, side)


def packed(tiles: Tiles) -> NDArray[np.uint16]:
    """Tiles as a picture of 16 bits, ``(rows, columns, 3)``, to be kept."""
    stops = np.log2(tiles.sharpness + 1) * _SHARP
    planes = (tiles.mean * _MEAN, tiles.noise * _NOISE, stops)
    return np.stack([np.clip(np.round(one), 0, 65535) for one in planes], axis=2).astype(np.uint16)


def unpacked(picture: NDArray[np.uint16], width_px: int) -> Tiles:
    """Tiles out of what was kept. Raises ValueError for what is none."""
    if picture.ndim != 3 or picture.shape[2] != 3 or picture.dtype != np.uint16:
        raise ValueError("tiles are three planes of 16 bits")
    planes = picture.astype(np.float32)
    return Tiles(
        planes[:, :, 0] / _MEAN, planes[:, :, 1] / _NOISE, np.exp2(planes[:, :, 2] / _SHARP) - 1,
        width_px,
    )  # fmt: skip


def _inside(tiles: Tiles, area: Area) -> tuple[slice, slice]:
    rows, columns = tiles.mean.shape
    top, left = int(area.top / 100 * rows), int(area.left / 100 * columns)
    foot = max(top + 1, round((area.top + area.height) / 100 * rows))
    right = max(left + 1, round((area.left + area.width) / 100 * columns))
    return slice(min(top, rows - 1), foot), slice(min(left, columns - 1), right)


def noise_in(tiles: Tiles, area: Area, curve: FileCurve, profile: Profile) -> AreaNoise | None:
    """The noise of an area, in linear light through the file's curve.

    None where it is clipped, or cleaner than codes of 8 bits can tell.

    ``snr`` is the mean of linear light over its noise, in a pixel of the picture. It is that of the
    file: what the camera smoothed and a JPEG threw away is not in it any more. To the first order:
    good while the noise is under a quarter of the light.
    """
    at = _inside(tiles, area)
    mean, noise = tiles.mean[at].ravel(), tiles.noise[at].ravel()
    known = (mean > 1.5) & (mean < 250)
    if not known.any():
        return None
    mean, noise = mean[known], noise[known]
    calm = noise <= CALM_WITHIN * np.quantile(noise, CALM_QUANTILE) + 1e-9
    code = float(np.median(mean[calm]))
    codes = sqrt(max(float(np.median(noise[calm])) ** 2 - ROUNDING_VARIANCE, 0.0))
    if codes < LEAST_CODES:
        return None
    light, slope = _light_and_slope(code, curve, profile)
    if light <= 0 or slope <= 0:
        return None
    return AreaNoise(code, codes, light / (slope * codes))


def _light_and_slope(code: float, curve: FileCurve, profile: Profile) -> tuple[float, float]:
    """Linear light of a code, 1 at grey, and how much a code more is there."""

    def light(at: float) -> float:
        if curve is FileCurve.PICTURE:
            return float(srgb_linear(at / 255)) / GREY
        return float(linear_of(profile.curve, np.float64(at / 255))) / profile.grey_linear

    return light(code), light(code + 0.5) - light(code - 0.5)


def sharpness_in(tiles: Tiles, area: Area) -> float:
    """The sharpness of an area in stops of variance; only differences mean something."""
    return log2(float(tiles.sharpness[_inside(tiles, area)].mean()) + 1e-3)
