"""Bright points of a picture: lamps, stars, glints. How long each is says how much it moved.

The second moments of a point's light: a line of even light that is L long has a variance of L²/12
along it, over that of the lens and the sensor, which it has across as well.
"""

from collections.abc import Iterator
from dataclasses import dataclass, replace
from math import atan2, degrees, sqrt
from statistics import median
from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray

from fotonomy.core.pictures.frame_levels import srgb_linear

# A point is so much brighter than what lies around it, in times its spread, and at least a little.
OVER_SPREADS, OVER_SHARE = 8.0, 0.06
# In shares of the picture's width a trail is so long and so wide at most: the rest are things.
MOST_LONG_SHARE, MOST_WIDE_SHARE, LEAST_WIDE_PX = 1 / 15, 1 / 200, 8.0
ROOM_PX = 6
MOST_POINTS = 40
MOST_LOOKED_AT = 4000
STRIP_ROWS = 512
_LINEAR = srgb_linear(np.arange(256) / 255).astype(np.float32)


@dataclass(frozen=True, slots=True)
class Point:
    """A point: where in percent of width and height, its trail's length and width in pixels.

    ``angle_deg`` is the way of the trail against the horizontal, from -90 to 90.
    """

    x_percent: float
    y_percent: float
    length_px: float
    width_px: float
    angle_deg: float


@dataclass(frozen=True, slots=True)
class Trails:
    """What the points of a picture agree on: how many, their middle trail, and the longest one."""

    count: int
    length_px: float
    angle_deg: float
    longest: Point


def points_of(gray: NDArray[np.uint8]) -> tuple[Point, ...]:
    """The brightest points of a picture's luma, ``(rows, columns)`` of 8 bits in sRGB."""
    height, width = gray.shape
    long_px, wide_px = width * MOST_LONG_SHARE, max(LEAST_WIDE_PX, width * MOST_WIDE_SHARE)
    # What a point stands out from: the picture at an eighth, smoothed, and its spread.
    small = cv2.resize(
        gray, (max(8, width // 8), max(8, height // 8)), interpolation=cv2.INTER_AREA
    )
    around = cv2.resize(cv2.medianBlur(small, 5), (width, height), interpolation=cv2.INTER_LINEAR)
    over = cv2.subtract(gray, around, dst=around)
    spread = 1.4826 * float(np.median(over[::7, ::7])) + 0.5
    least = max(OVER_SPREADS * spread, 255 * OVER_SHARE)
    _, bright = cv2.threshold(over, least, 255, cv2.THRESH_BINARY, dst=over)
    found: list[tuple[float, Point]] = []
    # A strip at a time, each with room for what begins in it: labels take four bytes a pixel.
    room = round(long_px) + 2 * ROOM_PX
    for top in range(0, height, STRIP_ROWS):
        first = max(0, top - room)
        last = min(height, top + STRIP_ROWS + room)
        for light, point in _in_strip(gray[first:last], bright[first:last], long_px, wide_px):
            row = first + point.y_percent
            if top <= row < top + STRIP_ROWS:
                found.append((light, replace(point, y_percent=100 * row / height)))
    found.sort(key=lambda pair: -pair[0])
    return tuple(point for _, point in found[:MOST_POINTS])


def _in_strip(
    gray: NDArray[np.uint8], bright: NDArray[Any], long_px: float, wide_px: float
) -> Iterator[tuple[float, Point]]:
    """The points of a strip with their brightest light; ``y_percent`` is its row in it yet."""
    height, width = gray.shape
    count, _, stats, centres = cv2.connectedComponentsWithStats(bright, connectivity=8)
    largest = np.argsort(-stats[1:count, cv2.CC_STAT_AREA])[:MOST_LOOKED_AT] + 1
    for at in largest.tolist():
        left, top, wide, high, area = (int(v) for v in stats[at])
        if not 2 <= area <= long_px * wide_px or max(wide, high) > long_px:
            continue
        box = (left - ROOM_PX, top - ROOM_PX, left + wide + ROOM_PX, top + high + ROOM_PX)
        if box[0] < 0 or box[1] < 0 or box[2] > width or box[3] > height:
            continue
        # Another point beside it would be measured along.
        near = bright[box[1] : box[3], box[0] : box[2]]
        if int(np.count_nonzero(near)) > area:
            continue
        part = _LINEAR[gray[box[1] : box[3], box[0] : box[2]]]
        measured = _moments(part)
        if measured is not None and measured[1] <= wide_px:
            length, across, angle = measured
            yield (
                float(part.max()),
                Point(
                    100 * float(centres[at][0]) / width,
                    float(centres[at][1]),
                    length,
                    across,
                    angle,
                ),
            )


def _moments(part: NDArray[np.float32]) -> tuple[float, float, float] | None:
    """Length, width and angle of the light in a box, what lies around it taken off."""
    edge = np.concatenate([part[:2].ravel(), part[-2:].ravel(), part[:, :2].ravel(),
                           part[:, -2:].ravel()])  # fmt: skip
    ground = float(np.median(edge))
    noise = 1.4826 * float(np.median(np.abs(edge - ground)))
    light = np.where(part - ground > 3 * noise, part - ground, 0.0).astype(np.float64)
    total = float(light.sum())
    if total <= 0:
        return None
    rows, columns = np.mgrid[: part.shape[0], : part.shape[1]]
    x, y = float((light * columns).sum()) / total, float((light * rows).sum()) / total
    xx = float((light * (columns - x) ** 2).sum()) / total
    yy = float((light * (rows - y) ** 2).sum()) / total
    xy = float((light * (columns - x) * (rows - y)).sum()) / total
    half = sqrt(max(0.0, ((xx - yy) / 2) ** 2 + xy**2))
    along, across = (xx + yy) / 2 + half, max(0.0, (xx + yy) / 2 - half)
    angle = degrees(atan2(-2 * xy, xx - yy)) / 2
    return sqrt(12 * max(0.0, along - across)), sqrt(12 * across), angle


def trails_of(points: tuple[Point, ...]) -> Trails | None:
    """The middle of several trails, and the longest; None without a point."""
    if not points:
        return None
    length = median(point.length_px for point in points)
    # Angles meet at their ends: the mean is taken of what is twice as large.
    turned = [np.exp(2j * np.radians(point.angle_deg)) * point.length_px for point in points]
    angle = float(np.degrees(np.angle(np.sum(turned))) / 2)
    return Trails(len(points), length, angle, max(points, key=lambda point: point.length_px))
