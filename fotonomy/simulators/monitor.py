"""A stand-in monitor: the picture and the scopes that readings would give, as a model.

Light goes the way it goes in a camera: laid out, textured, exposed, made noisy, put through
the curve and rounded to the profile's bits. All that is shown is worked out of those codes.
"""

from dataclasses import dataclass
from enum import StrEnum
from functools import lru_cache

import cv2
import numpy as np
from numpy.typing import NDArray

from fotonomy.core.analysis.setup import Analysis
from fotonomy.core.curves.transfer_functions import GREY, encode, linear_of
from fotonomy.core.gear.profile import LevelScale, Profile
from fotonomy.core.spec.readings import Reading, Surface
from fotonomy.core.tone.monitor_lut import over_knee_stops, shouldered
from fotonomy.core.tone.placement import placing
from fotonomy.core.tone.scene_layout import scene_map
from fotonomy.core.tone.white_balance import channel_gains, shift_mired
from fotonomy.figures.monitor.false_colour import STOP_RANGE, stop_colour
from fotonomy.figures.monitor.scopes import ScopeLayout

WIDTH, HEIGHT = 960, 540
# The scopes beside it: a waveform over a histogram.
SCOPE_WIDTH, WAVEFORM_HEIGHT, HISTOGRAM_HEIGHT = 480, 320, 190
HISTOGRAM_TOP = HEIGHT - HISTOGRAM_HEIGHT
# Percent that the scopes show, from under black to over the highest clip.
SCOPE_RANGE_PERCENT = (-5.0, 112.0)
# Unevenness of real surfaces, in stops.
TEXTURE_STOPS = 0.16
STRIPE_PX = 6

Picture = NDArray[np.uint8]
Levels = NDArray[np.float32]


class View(StrEnum):
    """What the picture shows."""

    ZEBRAS = "zebras"
    RECORDED = "recorded"
    CORRECTED = "corrected"
    STOPS = "stops"

    @property
    def label(self) -> str:
        """The view in words."""
        return {
            "zebras": "as recorded, with zebras", "recorded": "as recorded",
            "corrected": "as corrected in the edit", "stops": "stops from grey",
        }[self.value]  # fmt: skip


# Hues of what was read, as gains of red, green and blue: a picture, no measurement.
_HUES: dict[Surface, tuple[float, float, float]] = {
    Surface.LIGHT_SKIN: (1.14, 0.98, 0.84), Surface.MEDIUM_SKIN: (1.17, 0.97, 0.78),
    Surface.DEEP_SKIN: (1.20, 0.96, 0.74), Surface.SKY: (0.84, 0.98, 1.22),
    Surface.FOLIAGE: (0.90, 1.10, 0.72), Surface.SNOW: (0.99, 1.0, 1.03),
    Surface.DARK_CLOTH: (0.98, 1.0, 1.04),
}  # fmt: skip


@dataclass(frozen=True)
class Signal:
    """What was recorded: codes, and tables that turn a code into percent and stops from grey."""

    codes: NDArray[np.uint16]
    percent: Levels
    stops: Levels
    region: NDArray[np.uint8]


def signal_of(analysis: Analysis, shrink: int = 1) -> Signal:
    """The frame a setup would record, 960 x 540 codes of the profile's depth.

    ``shrink`` divides both sides for a picture that is shown small: each of its pixels stands
    for more of the sensor, and is as much cleaner.
    """
    shape = (HEIGHT // shrink, WIDTH // shrink)
    setup = analysis.setup
    profile, model = setup.recorded_profile, analysis.noise.model
    scene = scene_map(setup.readings, shape[1], shape[0])
    # All of it as multiples of grey at nominal exposure.
    light = _textured(setup.readings, shape) * np.float32(2.0**analysis.budget.exposure_stops)
    grey_e = np.float32(model.electrons(setup.iso, 0.0))
    read = np.float32(model.read_e(setup.iso))
    size = np.float32(model.photosites_px / shape[1])
    # Root of μ + σ², seen at this size and averaged over frames.
    noise = np.sqrt(light * grey_e + read * read)
    noise *= _grain(shape) * np.float32(1 / (grey_e * size * analysis.noise.frames**0.5))
    light += noise
    lookup, codes_at = _recording(profile)
    codes = lookup[_index(light)]
    return Signal(codes, codes_at[0], codes_at[1], scene.region)


def picture(analysis: Analysis, signal: Signal, view: View) -> Picture:
    """The frame as a picture, ``(540, 960, 3)`` red, green, blue."""
    if view is View.STOPS:
        return _stops_picture(analysis, signal)
    if view is View.CORRECTED:
        shown, saturation = _corrected(analysis, signal), 1.0
    else:
        shown = np.clip(signal.percent / 100, 0, 1.0)
        saturation = 0.45 if analysis.level.headroom_stops > 4 else 0.9
    out = _coloured(analysis, shown, signal, saturation)
    if view is View.ZEBRAS:
        _draw_zebras(analysis, signal, out)
    return out


def scopes(signal: Signal) -> Picture:
    """Waveform over histogram, ``(540, 480, 3)``; black where nothing is."""
    low, high = SCOPE_RANGE_PERCENT
    row_at = (high - signal.percent) / (high - low) * WAVEFORM_HEIGHT
    rows = np.clip(row_at, 0, WAVEFORM_HEIGHT - 1).astype(np.int32) * SCOPE_WIDTH
    height, width = signal.codes.shape
    column = np.arange(width, dtype=np.int32) * SCOPE_WIDTH // width
    spots = rows[signal.codes]
    spots += column[None, :]
    counts = np.bincount(spots.ravel(), minlength=WAVEFORM_HEIGHT * SCOPE_WIDTH)
    bright = 24 * height * width / (HEIGHT * WIDTH)
    trace = np.sqrt(np.minimum(counts / bright, 1)).reshape(WAVEFORM_HEIGHT, SCOPE_WIDTH)
    out = np.zeros((HEIGHT, SCOPE_WIDTH, 3), dtype=np.uint8)
    out[:WAVEFORM_HEIGHT] = (trace[:, :, None] * TRACE).astype(np.uint8)
    out[HISTOGRAM_TOP:] = _histogram(signal)[:, :, None] * np.array(TRACE, dtype=np.uint8)
    return out


TRACE = (236, 214, 170)
SCOPES = ScopeLayout(
    SCOPE_WIDTH, HEIGHT, WAVEFORM_HEIGHT, HISTOGRAM_TOP, *SCOPE_RANGE_PERCENT
)  # fmt: skip


def _histogram(signal: Signal) -> Picture:
    """Where the codes lie, percent to the right: 1 under the line, 0 over it."""
    low, high = SCOPE_RANGE_PERCENT
    at = np.clip((signal.percent - low) / (high - low), 0, 0.9999) * SCOPE_WIDTH
    by_code = np.bincount(signal.codes.ravel(), minlength=len(at))
    counts = np.bincount(at.astype(np.int32), weights=by_code, minlength=SCOPE_WIDTH)
    tall = np.sqrt(counts / max(counts.max(), 1)) * (HISTOGRAM_HEIGHT - 4)
    y = HISTOGRAM_HEIGHT - np.arange(HISTOGRAM_HEIGHT)
    return np.asarray(y[:, None] <= tall[None, :], dtype=np.uint8)


# Light is looked up over a logarithm, so that shadows and lights get as many entries.
_INDEX_RANGE, _INDEX_SIZE = (-14.0, 12.0), 1 << 15


def _index(light: Levels) -> NDArray[np.int32]:
    low, high = _INDEX_RANGE
    step = (_INDEX_SIZE - 1) / (high - low)
    stops = np.log2(np.maximum(light, np.float32(2.0**low)))
    return np.minimum((stops - low) * step, _INDEX_SIZE - 1).astype(np.int32)


@lru_cache(maxsize=8)
def _recording(profile: Profile) -> tuple[NDArray[np.uint16], tuple[Levels, Levels]]:
    """From looked-up light to codes, and from codes to percent and to stops from grey."""
    stops = np.linspace(*_INDEX_RANGE, num=_INDEX_SIZE)
    level = encode(profile.curve, profile.grey_linear * 2.0**stops)
    level = np.minimum(level, profile.clip_percent / 100)
    steps = 2**profile.bits - 1
    legal = profile.scale is LevelScale.LEGAL
    share = (64 + 876 * level) / 1023 if legal else level
    lookup = np.clip(np.round(share * steps), 0, steps).astype(np.uint16)
    all_shares = np.arange(steps + 1) / steps
    percent = (1023 * all_shares - 64) / 8.76 if legal else 100 * all_shares
    light = np.maximum(linear_of(profile.curve, percent / 100) / profile.grey_linear, 2.0**-14)
    return lookup, (percent.astype(np.float32), np.log2(light).astype(np.float32))


@lru_cache(maxsize=2)
def _grain(shape: tuple[int, int]) -> Levels:
    return np.random.default_rng(7).standard_normal(shape, dtype=np.float32)


@lru_cache(maxsize=2)
def _texture(shape: tuple[int, int]) -> Levels:
    """Unevenness from coarse to fine, about zero."""
    random, total = np.random.default_rng(11), np.zeros(shape, dtype=np.float32)
    for cells, weight in ((6, 1.0), (18, 0.6), (60, 0.35), (180, 0.2)):
        rough = random.standard_normal((max(2, cells * 9 // 16), cells), dtype=np.float32)
        total += weight * cv2.resize(rough, shape[::-1], interpolation=cv2.INTER_CUBIC)
    return np.asarray(total / np.std(total), dtype=np.float32)


@lru_cache(maxsize=8)
def _textured(readings: tuple[Reading, ...], shape: tuple[int, int]) -> Levels:
    scene = scene_map(readings, shape[1], shape[0])
    textured = scene.light * np.exp2(np.float32(TEXTURE_STOPS) * _texture(shape))
    textured.setflags(write=False)
    return np.asarray(textured)


def _corrected(analysis: Analysis, signal: Signal) -> Levels:
    """What codes come to after the edit: the method's own change, and a miss put right."""
    setup = analysis.setup
    method = placing(setup.intent.exposing, setup.recorded_profile, setup.readings)
    change = method.post_stops - analysis.budget.error_stops
    light = GREY * np.exp2(signal.stops.astype(np.float64) + change)
    held = over_knee_stops(analysis.level.headroom_stops + change)
    return shouldered(light, held).astype(np.float32)


def _coloured(analysis: Analysis, shown: Levels, signal: Signal, saturation: float) -> Picture:
    """Codes as shown, with the hue of what was read and of the light on it."""
    setup, white = analysis.setup, analysis.white
    gains = [_gains(analysis, reading, saturation) for reading in setup.readings]
    gains.append(channel_gains(saturation * white.main.looks_mired, saturation * setup.tint_cc))
    table = np.asarray(gains, dtype=np.float32) - 1
    out = np.empty((*signal.codes.shape, 3), dtype=np.uint8)
    plain = (shown * np.float32(255))[signal.codes]
    # Colour goes out of what nears white, as it does on film and in most cameras.
    coloured = (shown * np.float32(255) * (1 - shown**4))[signal.codes]
    for channel in range(3):
        tinted = coloured * table[:, channel][signal.region]
        tinted += plain
        out[:, :, channel] = np.clip(tinted, 0, 255, out=tinted)
    return out


def _gains(analysis: Analysis, reading: Reading, saturation: float) -> tuple[float, float, float]:
    setup, white = analysis.setup, analysis.white
    at_k = white.main.kelvin if reading.source_k is None else reading.source_k
    cast = channel_gains(saturation * shift_mired(setup.white_k, at_k), saturation * setup.tint_cc)
    hue = _HUES.get(reading.surface, (1.0, 1.0, 1.0))
    red, green, blue = (c * (1 + saturation * (h - 1)) for c, h in zip(cast, hue, strict=True))
    return red, green, blue


@lru_cache(maxsize=2)
def _stripes(shape: tuple[int, int]) -> tuple[NDArray[np.bool_], NDArray[np.bool_]]:
    x, y = np.arange(shape[1])[None, :], np.arange(shape[0])[:, None]
    return (x + y) // STRIPE_PX % 2 == 0, (x - y) // STRIPE_PX % 2 == 0


def _draw_zebras(analysis: Analysis, signal: Signal, out: Picture) -> None:
    """Zebra one leans to the right and is dark; zebra two leans to the left and is light."""
    one, two = analysis.level.zebra_one, analysis.level.zebra_two
    rising, falling = _stripes(signal.codes.shape)
    half = one.half_width_percent or 0.0
    # A monitor judges an area, not a grain of noise: a light blur before the comparison.
    smooth = cv2.blur(signal.percent[signal.codes], (5, 5))
    out[(np.abs(smooth - one.percent) <= half) & rising] = (20, 24, 28)
    out[(smooth >= min(two.percent, analysis.level.clip_percent - 0.3)) & falling] = (250, 250, 246)
    out[(smooth >= min(two.percent, analysis.level.clip_percent - 0.3)) & ~falling] = (60, 60, 58)


def _stops_picture(analysis: Analysis, signal: Signal) -> Picture:
    """A flat shade a stop; hatched where it clips, dotted where it drowns in noise."""
    stops = signal.stops
    band = np.clip(np.round(stops), *STOP_RANGE).astype(np.int32)
    ramp = [stop_colour(s) for s in range(STOP_RANGE[0], STOP_RANGE[1] + 1)]
    table = np.asarray(ramp, dtype=np.uint8)[band - STOP_RANGE[0]]
    out = table[signal.codes]
    rising, _ = _stripes(signal.codes.shape)
    clips = (stops >= analysis.level.headroom_stops - 0.05)[signal.codes]
    out[clips & rising] = (20, 24, 28)
    out[clips & ~rising] = (255, 255, 255)
    x, y = np.arange(out.shape[1])[None, :], np.arange(out.shape[0])[:, None]
    dots = (x % 6 < 2) & (y % 6 < 2)
    drowns = (stops <= analysis.noise.floor_stops)[signal.codes]
    out[drowns & dots] = (120, 132, 140)
    return out
