"""What one frame of many says by itself and against the one before it."""

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from fotonomy.core.curves.transfer_functions import GREY
from fotonomy.core.pictures.frame_levels import LUMA, TOP_CODE, Pixels, srgb_linear

# Frames are measured at this width: enough to see a step of the whole picture, and quick.
LIGHT_PX = 96
# Shifts are looked for at this width at most.
SHIFT_PX = 480
# What is darker counts as this, in stops under grey: noise there says nothing of the light.
FLOOR_STOPS = -7.0
# A tone that changed by so much in a frame is another picture there. Common practice, no source.
CHANGED_STOPS = 0.35
# A shift under this is a standstill; a refinement that goes further than the other has gone wrong.
STANDS_STILL_PX = 0.06
RUNS_AWAY_PX = 2.0
_REFINED = (cv2.TERM_CRITERIA_COUNT | cv2.TERM_CRITERIA_EPS, 50, 1e-4)
_BLUR_PX = 5
_LINEAR = (srgb_linear(np.arange(256) / 255) / GREY).astype(np.float32)
_LUMA = LUMA.astype(np.float32).reshape(1, 3)

Gray = NDArray[np.float32]


@dataclass(frozen=True, slots=True)
class Seen:
    """A frame: its light, what of it is at the top, and how far it lies from the one before.

    ``level_stops`` is the mean of the logarithm of linear light, in stops from grey;
    ``right_share`` and ``down_share`` the shift of the whole picture in shares of its width,
    ``changed_share`` the share of it that looks otherwise. All three are None for a first frame
    and for one of another shape.
    """

    level_stops: float
    clipped_share: float
    right_share: float | None = None
    down_share: float | None = None
    changed_share: float | None = None


def small_light(pixels: Pixels) -> Gray:
    """Stops from grey of a picture in sRGB, reduced to 96 pixels across by means of light."""
    height, width = pixels.shape[:2]
    linear = cv2.LUT(np.ascontiguousarray(pixels), _LINEAR)
    size = (LIGHT_PX, max(4, round(LIGHT_PX * height / width)))
    small = cv2.transform(cv2.resize(linear, size, interpolation=cv2.INTER_AREA), _LUMA)
    return np.asarray(np.log2(np.maximum(small, np.float32(2.0**FLOOR_STOPS))), dtype=np.float32)


def _for_shift(pixels: Pixels) -> Gray:
    gray = cv2.cvtColor(pixels, cv2.COLOR_RGB2GRAY)
    if gray.shape[1] > SHIFT_PX:
        size = (SHIFT_PX, max(4, round(SHIFT_PX * gray.shape[0] / gray.shape[1])))
        gray = cv2.resize(gray, size, interpolation=cv2.INTER_AREA)
    return gray.astype(np.float32)


class Looker:
    """Frames looked at one after the other, each against the one before."""

    def __init__(self, before: Pixels | None = None) -> None:
        self._light: Gray | None = None
        self._gray: Gray | None = None
        self._window: Gray | None = None
        if before is not None:
            self.see(before)

    def see(self, pixels: Pixels) -> Seen:
        """What a frame says; ``pixels`` is ``(rows, columns, 3)``, red, green, blue, 8 bits."""
        light, gray = small_light(pixels), _for_shift(pixels)
        level = float(light.mean())
        red, green, blue = cv2.split(pixels)
        clipped = float((cv2.max(cv2.max(red, green), blue) >= TOP_CODE).mean())
        before_light, before_gray = self._light, self._gray
        self._light, self._gray = light, gray
        if before_light is None or before_gray is None or before_gray.shape != gray.shape:
            return Seen(level, clipped)
        if self._window is None or self._window.shape != gray.shape:
            self._window = cv2.createHanningWindow(gray.shape[::-1], cv2.CV_32F).astype(np.float32)
        right, down = shift_px(before_gray, gray, self._window)
        wide = gray.shape[1]
        return Seen(level, clipped, right / wide, down / wide, changed_share(before_light, light))


def shift_px(before: Gray, now: Gray, window: Gray) -> tuple[float, float]:
    """The shift of a picture to the right and down, in its pixels.

    Phase correlation finds it (Kuglin and Hines 1975), which is biased towards whole pixels; what
    is no standstill is refined by the enhanced correlation coefficient (Evangelidis and Psarakis
    2008), where that converges.
    """
    # OpenCV lays the window over its arguments in place: they get copies.
    (right, down), _ = cv2.phaseCorrelate(before.copy(), now.copy(), window)
    if max(abs(right), abs(down)) < STANDS_STILL_PX:
        return float(right), float(down)
    start = np.array([[1, 0, right], [0, 1, down]], dtype=np.float32)
    try:
        _, found = cv2.findTransformECC(  # type: ignore[call-overload]
            before, now, start, cv2.MOTION_TRANSLATION, _REFINED, None, _BLUR_PX
        )
    except cv2.error:
        return float(right), float(down)
    fine = float(found[0, 2]), float(found[1, 2])
    # What it runs away to is another picture, no shift.
    away = max(abs(fine[0] - right), abs(fine[1] - down))
    return fine if away <= RUNS_AWAY_PX else (float(right), float(down))


def changed_share(one: Gray, other: Gray) -> float:
    """The share of two small pictures that differs, a change of the whole light taken off."""
    difference = other - one
    return float((np.abs(difference - np.median(difference)) > CHANGED_STOPS).mean())
