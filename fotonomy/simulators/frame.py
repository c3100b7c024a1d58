"""A cut of a frame as a setup would take it of an invented scene, pixel for pixel.

The bars of something that moves, with poles and lamps behind it. How far the bars smear, how soft
what is behind them gets and how much grain there is are those of the setup; its exposure counts as
put right in the edit.
"""

from math import ceil

import cv2
import numpy as np
from numpy.typing import NDArray

from fotonomy.core.analysis.setup import Analysis
from fotonomy.core.drill.exercise import LIFTED_STOPS, Cut

WIDE_PX, HIGH_PX = 480, 270
# More than this is a fog, or one grey, in any case.
_MOST_BLUR_PX, _MOST_SMEAR_PX = 60.0, 400.0

Light = NDArray[np.float32]
Picture = NDArray[np.uint8]


def cut_of(analysis: Analysis, cut: Cut) -> Picture:
    """The picture, ``(270, 480, 3)``, one of its pixels for each that is delivered."""
    wide = analysis.setup.delivered_px
    size = analysis.noise.model.photosites_px / wide
    if cut is Cut.SHADOWS:
        lifted = np.float32(2.0**LIFTED_STOPS)
        return _developed(_grained(_patches() / lifted, analysis, size) * lifted)
    blur = min(_MOST_BLUR_PX, analysis.focus.background_blur_percent / 100 * wide)
    smear = min(_MOST_SMEAR_PX, analysis.motion.smear_percent / 100 * wide)
    bars, there = _bars()
    light, there = _smeared(bars * there, smear), _smeared(there, smear)
    return _developed(_grained(light + _softened(_behind(), blur) * (1 - there), analysis, size))


def _behind() -> Light:
    """Poles, a horizon and lamps, in multiples of grey."""
    found = np.full((HIGH_PX, WIDE_PX), 0.5, dtype=np.float32)
    found[:96] = 1.3
    for at, wide in ((24, 10), (96, 5), (170, 14), (262, 6), (330, 12), (414, 7)):
        found[20:230, at : at + wide] = 0.1
    for x, y in ((60, 50), (136, 70), (222, 40), (300, 62), (382, 44), (448, 72)):
        cv2.circle(found, (x, y), 4, 6.0, -1)
    return found


def _bars() -> tuple[Light, Light]:
    """Bars across the middle: their light, and where they are."""
    light = np.ones((HIGH_PX, WIDE_PX), dtype=np.float32)
    there = np.zeros_like(light)
    there[128:222, 130:350] = 1.0
    for number, at in enumerate(range(130, 350, 22)):
        light[128:222, at : at + 22] = (2.4, 0.3)[number % 2]
    return light, there


def _patches() -> Light:
    """Six patches of the shadows as they are once lifted, from grey to five stops under it."""
    found = np.zeros((HIGH_PX, WIDE_PX), dtype=np.float32)
    high, wide = HIGH_PX // 2, WIDE_PX // 3
    for number in range(6):
        row, column = divmod(number, 3)
        found[row * high : (row + 1) * high, column * wide : (column + 1) * wide] = 2.0**-number
    return found


def _softened(light: Light, across: float) -> Light:
    """Every point as a disc so many pixels across."""
    if across < 1:
        return light
    wide = 2 * ceil(across / 2) + 1
    y, x = np.mgrid[:wide, :wide] - (wide - 1) / 2
    # A pixel at the edge counts by how much of it the disc covers.
    kernel = np.clip(across / 2 + 0.5 - np.hypot(x, y), 0, 1).astype(np.float32)
    return np.asarray(cv2.filter2D(light, -1, kernel / kernel.sum(), borderType=cv2.BORDER_REFLECT))


def _smeared(light: Light, along: float) -> Light:
    """Drawn out to the right and left by so many pixels in all."""
    if along <= 1:
        return light
    half = ceil((along - 1) / 2)
    kernel = np.ones((1, 2 * half + 1), dtype=np.float32)
    kernel[0, 0] = kernel[0, -1] = (along - (2 * half - 1)) / 2
    return np.asarray(
        cv2.filter2D(light, -1, kernel / kernel.sum(), borderType=cv2.BORDER_CONSTANT)
    )


def _grained(light: Light, analysis: Analysis, size: float) -> Light:
    """With the grain of the setup's ISO; each pixel stands for ``size`` photosites across."""
    model, iso = analysis.noise.model, analysis.setup.iso
    grey_e, read_e = model.electrons(iso, 0.0), model.read_e(iso)
    spread = np.sqrt(light * np.float32(grey_e) + np.float32(read_e**2)) / np.float32(grey_e * size)
    grain = np.random.default_rng(5).standard_normal(light.shape, dtype=np.float32)
    return np.asarray(light + spread * grain, dtype=np.float32)


def _developed(light: Light) -> Picture:
    """Linear light as a picture in sRGB (IEC 61966-2-1); what is over white clips."""
    linear = np.clip(0.18 * light, 0, 1)
    signal = np.where(
        linear <= 0.0031308, 12.92 * linear, 1.055 * np.power(linear, 1 / 2.4) - 0.055
    )
    return np.repeat(np.round(255 * signal).astype(np.uint8)[:, :, None], 3, axis=2)
