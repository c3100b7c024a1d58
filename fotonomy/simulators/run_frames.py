"""Stills of the stand-in camera in a row: an interval run, a burst, and what can go wrong in them.

Each is what the camera would write: an ordinary picture (sRGB) as a JPEG with EXIF 2.32.
"""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import datetime, timedelta

import cv2
import numpy as np
from numpy.typing import NDArray

from fotonomy.core.analysis.setup import analyse
from fotonomy.core.spec.setup import Setup
from fotonomy.core.tone.scene_layout import scene_map
from fotonomy.simulators.stills import as_jpeg

# Room around the frame for a knock, in shares of its width.
ROOM = 0.04
# The grain of a frame of so few pixels, in shares of its light.
GRAIN = 0.02
TEXTURE_STOPS = 0.5
TOP, HIGH_PX, WIDE_PX = 0.95, 270, 480
QUALITY = 82


@dataclass(frozen=True, slots=True)
class Faults:
    """What goes wrong in a run, by the place of a frame in it, from 0.

    ``knocks`` move the camera for good, by shares of the frame's width to the right and down;
    ``flicker`` lights single frames otherwise, in stops; ``turned`` sets another exposure from a
    frame on, in stops; ``lost`` are starts that give no frame.
    """

    knocks: Mapping[int, tuple[float, float]] = field(default_factory=dict)
    flicker: Mapping[int, float] = field(default_factory=dict)
    turned: Mapping[int, float] = field(default_factory=dict)
    lost: frozenset[int] = frozenset()


@dataclass(frozen=True, slots=True)
class StillFile:
    """A file of the camera: its name, when its shutter opened, and what is in it."""

    name: str
    taken: datetime
    jpeg: bytes


def run_of_stills(
    setup: Setup, starts: datetime, count: int, interval_s: float, faults: Faults | None = None, *,
    serial: str = "", light_moves_stops: float = 0.0, first_number: int = 1, seed: int = 5,
) -> Iterator[StillFile]:  # fmt: skip
    """So many starts of a run, a file each that gave a frame; numbers go by what was written.

    ``light_moves_stops`` is by how much the light itself changes over the run, evenly. The same
    arguments give the same bytes.
    """
    faults = faults or Faults()
    random = np.random.default_rng(seed)
    scene = _scene(setup, random)
    across = down = turned = 0.0
    number = first_number
    for place in range(count):
        right, under = faults.knocks.get(place, (0.0, 0.0))
        across, down = across + right, down + under
        turned += faults.turned.get(place, 0.0)
        if place in faults.lost:
            continue
        moved = light_moves_stops * place / max(1, count - 1)
        light = _cut(scene, across, down) * np.float32(
            2.0 ** (moved + turned + faults.flicker.get(place, 0.0))
        )
        taken = starts + timedelta(seconds=place * interval_s)
        picture = _developed(light, random)
        yield StillFile(
            f"{_letter(serial)}{number:04}.jpg", taken,
            as_jpeg(picture, setup, taken, serial, QUALITY, time_stops=turned),
        )  # fmt: skip
        number = number % 9999 + 1


def burst_of_stills(
    setup: Setup, starts: datetime, count: int, rate_fps: float, *, moment: tuple[int, int],
    serial: str = "", first_number: int = 1, seed: int = 6,
) -> Iterator[StillFile]:  # fmt: skip
    """A burst: a bright thing crosses the frame; only in the frames of ``moment`` it is open.

    ``moment`` is the first and the last frame in which what one waits for can be seen.
    """
    random = np.random.default_rng(seed)
    scene = _cut(_scene(setup, random), 0.0, 0.0)
    for place in range(count):
        light = scene.copy()
        x = round(WIDE_PX * (0.1 + 0.8 * place / max(1, count - 1)))
        size = (70, 24) if moment[0] <= place <= moment[1] else (14, 24)
        cv2.ellipse(light, (x, HIGH_PX // 2), size, 0, 0, 360, 1.6, -1)
        taken = starts + timedelta(seconds=place / rate_fps)
        yield StillFile(
            f"{_letter(serial)}{first_number + place:04}.jpg", taken,
            as_jpeg(_developed(light, random), setup, taken, serial, QUALITY),
        )  # fmt: skip


# A hand sways by so much of the frame's width a second: larger than life, as the frames are small.
SWAYS_A_SECOND = 0.8


def bracket_of_stills(
    setup: Setup, starts: datetime, stops: Sequence[float], *, every_s: float = 4.0,
    serial: str = "", first_number: int = 1, seed: int = 8,
) -> Iterator[StillFile]:  # fmt: skip
    """Single frames from the hand, each so many stops longer than the setup says, as bright.

    The longer one is open the further its picture is drawn out by the hand.
    """
    random = np.random.default_rng(seed)
    scene = _cut(_scene(setup, random), 0.0, 0.0)
    for place, longer in enumerate(stops):
        length = SWAYS_A_SECOND * WIDE_PX * setup.time_s * 2.0**longer
        taken = starts + timedelta(seconds=place * every_s)
        picture = _developed(_drawn_out(scene, length, random.uniform(0, np.pi)), random)
        yield StillFile(
            f"{_letter(serial)}{first_number + place:04}.jpg", taken,
            as_jpeg(picture, setup, taken, serial, QUALITY, time_stops=longer),
        )  # fmt: skip


def _drawn_out(
    light: NDArray[np.float32], length_px: float, angle: float
) -> NDArray[np.float32]:  # fmt: skip
    """Light moved along a line while the shutter is open."""
    steps = np.linspace(-0.5, 0.5, max(1, round(4 * length_px)) + 1)
    total = np.zeros_like(light)
    for step in steps:
        dx, dy = step * length_px * np.cos(angle), step * length_px * np.sin(angle)
        move = np.array([[1, 0, dx], [0, 1, dy]], dtype=np.float32)
        total += cv2.warpAffine(
            light, move, (light.shape[1], light.shape[0]), borderMode=cv2.BORDER_REPLICATE
        )
    return total / np.float32(len(steps))


def _letter(serial: str) -> str:
    return (serial[:1] or "F").upper() + "_"


def _scene(setup: Setup, random: np.random.Generator) -> NDArray[np.float32]:
    """Light of the scene in multiples of grey, wider than the frame; textured, not moving."""
    analysis = analyse(setup)
    wide, high = round(WIDE_PX * (1 + 2 * ROOM)), round(HIGH_PX + 2 * ROOM * WIDE_PX)
    light = scene_map(setup.readings, wide, high).light
    texture = np.zeros((high, wide), dtype=np.float32)
    for cells, weight in ((8, 1.0), (24, 0.7), (80, 0.5)):
        rough = random.standard_normal((max(2, cells * high // wide), cells), dtype=np.float32)
        texture += weight * cv2.resize(rough, (wide, high), interpolation=cv2.INTER_CUBIC)
    texture *= np.float32(TEXTURE_STOPS / float(texture.std()))
    placed = np.float32(2.0**analysis.budget.exposure_stops)
    return np.asarray(light * placed * np.exp2(texture), dtype=np.float32)


def _cut(scene: NDArray[np.float32], across: float, down: float) -> NDArray[np.float32]:
    """The frame out of the scene, its middle so many shares of the width away."""
    room = ROOM * WIDE_PX
    move = np.array(
        [[1, 0, -room - across * WIDE_PX], [0, 1, -room - down * WIDE_PX]], dtype=np.float32
    )
    return np.asarray(
        cv2.warpAffine(scene, move, (WIDE_PX, HIGH_PX), flags=cv2.INTER_LINEAR), dtype=np.float32
    )


def _developed(light: NDArray[np.float32], random: np.random.Generator) -> NDArray[np.uint8]:
    """Linear light as a picture in sRGB with grain; what is over white clips."""
    grain = random.standard_normal(light.shape, dtype=np.float32)
    linear = np.clip(0.18 * light * (1 + np.float32(GRAIN) * grain), 0, 1)
    signal = np.where(
        linear <= 0.0031308, 12.92 * linear, 1.055 * np.power(linear, 1 / 2.4) - 0.055
    )
    gray = np.round(255 * signal).astype(np.uint8)
    return np.repeat(gray[:, :, None], 3, axis=2)
