"""A framing made of readings: where each lies, and how bright every point is."""

from dataclasses import dataclass
from functools import lru_cache
from math import pi
from typing import Any

import numpy as np
from numpy.typing import NDArray

from fotonomy.core.spec.readings import Reading, Shape

# A patch is this much taller than wide: about a head and shoulders.
PATCH_TALL = 1.3
# Width of a soft edge, as a share of a patch's half width, and of the frame height for bands.
PATCH_EDGE, BAND_EDGE = 0.16, 0.035
# Light that a lamp spreads about itself, as a share of its own at its rim, and how many
# of its radii that reaches.
GLOW_SHARE, GLOW_RADII = 0.004, 14.0
_ORDER = {Shape.GROUND: 0, Shape.BAND: 1, Shape.PATCH: 2, Shape.PANE: 2, Shape.LAMP: 3}


@dataclass(frozen=True)
class SceneMap:
    """Light of every point as a multiple of grey (float32), and which reading it belongs to.

    Both are ``(height, width)``; ``region`` indexes the readings, and is their number where
    nothing was read: that is taken to be grey.
    """

    light: NDArray[np.float32]
    region: NDArray[np.uint8]


@lru_cache(maxsize=12)
def scene_map(readings: tuple[Reading, ...], width: int, height: int) -> SceneMap:
    """Lay the readings out: ground first, then bands, patches and lamps, each in its order."""
    light = np.ones((height, width), dtype=np.float32)
    region = np.full((height, width), len(readings), dtype=np.uint8)
    order = sorted(range(len(readings)), key=lambda k: _ORDER[readings[k].shape])
    for k in order:
        reading = readings[k]
        level = np.float32(2.0**reading.stops)
        if reading.shape is Shape.GROUND:
            light[:] = level
            region[:] = k
            continue
        rows, columns, cover = _cover(reading, width, height)
        part = light[rows, columns]
        # A sum of two shares, and not a difference: a black patch on a lamp is never below zero.
        part *= 1 - cover
        part += cover * level
        region[rows, columns][cover > 0.25] = k
        if reading.shape is Shape.LAMP:
            _glow(light, reading, level)
    light.setflags(write=False)
    region.setflags(write=False)
    return SceneMap(light, region)


def half_size(reading: Reading, width: float, height: float) -> tuple[float, float]:
    """Half the width and half the height of a reading's shape in a frame, in the frame's units."""
    share = reading.share_percent / 100
    if reading.shape is Shape.GROUND:
        return width / 2, height / 2
    if reading.shape is Shape.BAND:
        return width / 2, share * height / 2
    tall = 1.0 if reading.shape is Shape.LAMP else PATCH_TALL
    full = 4.0 if reading.shape is Shape.PANE else pi
    half = max(0.5, (share * width * height / (tall * full)) ** 0.5)
    return half, tall * half


def _cover(
    reading: Reading, width: int, height: int
) -> tuple[slice, slice, NDArray[np.float32]]:  # fmt: skip
    """Rows, columns and how much of each point there a reading covers, 0 to 1."""
    half_w, half = half_size(reading, width, height)
    middle_x, middle_y = reading.x_percent / 100 * width, reading.y_percent / 100 * height
    if reading.shape is Shape.BAND:
        edge = max(1.0, BAND_EDGE * height)
        rows = _span(middle_y, half + edge, height)
        y = np.arange(rows.start, rows.stop, dtype=np.float32) + 0.5
        column = _soft((half + edge / 2 - np.abs(y - middle_y)) / edge)
        # A band that meets the rim of the frame runs on past it.
        if middle_y - half <= 0.01 * height:
            column = np.where(y < middle_y, np.float32(1), column)
        if middle_y + half >= 0.99 * height:
            column = np.where(y > middle_y, np.float32(1), column)
        return rows, slice(0, width), np.repeat(column[:, None], width, axis=1)
    edge = {Shape.PATCH: 1.0, Shape.PANE: 0.25}.get(reading.shape, 2.0) * PATCH_EDGE
    reach = 1 + edge
    rows = _span(middle_y, reach * half, height)
    columns = _span(middle_x, reach * half_w, width)
    y = (np.arange(rows.start, rows.stop, dtype=np.float32) + 0.5 - middle_y) / half
    x = (np.arange(columns.start, columns.stop, dtype=np.float32) + 0.5 - middle_x) / half_w
    if reading.shape is Shape.PANE:
        radius = np.maximum(np.abs(x)[None, :], np.abs(y)[:, None])
    else:
        radius = np.sqrt(x[None, :] ** 2 + y[:, None] ** 2)
    return rows, columns, _soft((1 + edge / 2 - radius) / edge)


def _span(middle: float, half: float, length: int) -> slice:
    start = min(max(int(middle - half), 0), length - 1)
    return slice(start, max(start + 1, min(length, int(middle + half) + 1)))


def _soft(share: NDArray[Any]) -> NDArray[np.float32]:
    """A smooth step from 0 to 1."""
    t = np.clip(share, 0, 1).astype(np.float32)
    return np.asarray(t * t * (3 - 2 * t), dtype=np.float32)


def _glow(light: NDArray[np.float32], reading: Reading, level: np.float32) -> None:
    height, width = light.shape
    radius = max(0.5, (reading.share_percent / 100 * width * height / pi) ** 0.5)
    middle_x, middle_y = reading.x_percent / 100 * width, reading.y_percent / 100 * height
    rows = _span(middle_y, GLOW_RADII * radius, height)
    columns = _span(middle_x, GLOW_RADII * radius, width)
    y = (np.arange(rows.start, rows.stop, dtype=np.float32) + 0.5 - middle_y) / radius
    x = (np.arange(columns.start, columns.stop, dtype=np.float32) + 0.5 - middle_x) / radius
    square = np.maximum(x[None, :] ** 2 + y[:, None] ** 2, 1)
    fade = np.maximum(1 - square / GLOW_RADII**2, 0)
    light[rows, columns] += level * np.float32(GLOW_SHARE) * fade / square
