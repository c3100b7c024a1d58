"""Bands across a picture, as pulsing lamps and a shutter that runs down the rows leave them.

Two frames of one scene tell them best: what lies in the scene is in both and goes out, while bands
roll from frame to frame. In a single frame only a wave of the length that lamp and shutter make is
looked for: from row to row the middle change of many columns is taken, and edges are left out.
"""

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from fotonomy.core.pictures.frame_levels import LUMA, Pixels, srgb_linear

# The picture is looked at in so many columns and rows at most.
COLUMNS, ROWS = 48, 360
# Bands are looked for from so many over the height to so many; fewer is a slope of light.
FEWEST, MOST = 1.5, 60.0
STEPS_A_BAND = 4
# From row to row a band changes little: a change of so many times the usual one is an edge.
EDGE = 4.0
# From here on a band shows in an even wall; one frame alone has to say it louder. Common practice.
SHOWS_STOPS, ALONE_STOPS = 0.02, 0.08
# It stands out from waves of other lengths near it by so much.
STANDS_OUT, ALONE_STANDS_OUT, NEAR = 3.0, 5.0, (1.25, 5.0)
# A count of bands as near to what lamp and shutter make is that of the lamp.
AS_LAMPS = 0.4
_LINEAR = (srgb_linear(np.arange(256) / 255)).astype(np.float32)
Lines = NDArray[np.float64]
_LUMA = LUMA.astype(np.float32).reshape(1, 3)


@dataclass(frozen=True, slots=True)
class Bands:
    """Bands over the height: how many, and by how many stops a light one is over a dark one."""

    count: float
    stops: float


def expected_count(readout_ms: float, pulses_hz: float) -> float:
    """How many bands a shutter that runs for so long has under lamps of so many pulses a second."""
    return readout_ms / 1000 * pulses_hz


def bands_between(one: Pixels, other: Pixels) -> Bands | None:
    """The bands in which two frames of one scene differ; None where there are none to see.

    Both are ``(rows, columns, 3)`` in sRGB. Bands that stand still are in both, and not told.
    """
    if one.shape != other.shape:
        return None
    change = np.median(_rows_of(other) - _rows_of(one), axis=1)
    counts = _counts(len(change))
    sizes = _sizes(_levelled(change), counts)
    if not len(sizes):
        return None
    at = int(np.argmax(sizes))
    # Bands that rolled by half of one differ by twice what each is; on a mean by 1.27 times.
    found = Bands(float(counts[at]), 2 * float(sizes[at]))
    return found if _stands_out(sizes, counts, at, SHOWS_STOPS, STANDS_OUT) else None


def bands_in(pixels: Pixels, count: float) -> Bands | None:
    """The bands of a single frame where so many are to be looked for; None where none show."""
    change = np.median(np.diff(_rows_of(pixels), axis=0), axis=1)
    usual = 1.4826 * float(np.median(np.abs(change))) + 1e-9
    change[np.abs(change) > EDGE * usual] = 0.0
    counts = _counts(len(change) + 1)
    if not len(counts) or not counts[0] <= count <= counts[-1]:
        return None
    sizes = _sizes(_levelled(np.concatenate([[0.0], np.cumsum(change)])), counts)
    near = np.flatnonzero(np.abs(counts - count) <= AS_LAMPS)
    at = int(near[np.argmax(sizes[near])])
    if not _stands_out(sizes, counts, at, ALONE_STOPS, ALONE_STANDS_OUT):
        return None
    return Bands(float(counts[at]), 2 * float(sizes[at]))


def _rows_of(pixels: Pixels) -> Lines:
    """Stops of the picture, in a few columns."""
    light = cv2.transform(cv2.LUT(np.ascontiguousarray(pixels), _LINEAR), _LUMA)
    size = (COLUMNS, min(ROWS, light.shape[0]))
    small = cv2.resize(light, size, interpolation=cv2.INTER_AREA)
    return np.log2(np.maximum(small, np.float32(2.0**-10))).astype(np.float64)


def _levelled(run: Lines) -> Lines:
    """A line of stops without the gentle curve in it, which is the scene's own fall of light."""
    slope = np.polynomial.legendre.legvander(np.linspace(-1, 1, len(run)), 3)
    return np.asarray(run - slope @ np.linalg.lstsq(slope, run, rcond=None)[0])


def _counts(rows: int) -> Lines:
    return np.arange(FEWEST, min(MOST, rows / 6), 1 / STEPS_A_BAND)


def _sizes(run: Lines, counts: Lines) -> Lines:
    """How large a wave of each count is in a line, from its middle to its crest."""
    window = np.hanning(len(run))
    waves = np.exp(-2j * np.pi * np.outer(counts, np.arange(len(run)) / len(run)))
    return np.asarray(2 * np.abs(waves @ (run * window)) / float(window.sum()))


def _stands_out(
    sizes: Lines, counts: Lines, at: int, least_stops: float, times: float
) -> bool:  # fmt: skip
    away = np.abs(counts - counts[at])
    near = sizes[(away > NEAR[0]) & (away < NEAR[1])]
    return 2 * float(sizes[at]) >= least_stops and float(sizes[at]) >= times * float(
        np.median(near)
    )
