"""Typical scenes to start from: readings and a usual light, all invented; common practice."""

from dataclasses import dataclass
from typing import Any

from fotonomy.core.spec.readings import Reading, Shape, Surface


@dataclass(frozen=True, slots=True)
class TypicalScene:
    """A scene by name: how bright it usually is, in EV at ISO 100, its main light, and its tones.

    ``kelvin`` is the main light's colour temperature.
    """

    label: str
    ev100: float
    kelvin: float
    readings: tuple[Reading, ...]


def _r(
    name: str, stops: float, share: float, x: float = 50, y: float = 50, **more: Any
) -> Reading:  # fmt: skip
    return Reading(name=name, stops=stops, share_percent=share, x_percent=x, y_percent=y, **more)


_FACE: dict[str, Any] = {"surface": Surface.LIGHT_SKIN, "key": True}
_SKY: dict[str, Any] = {"surface": Surface.SKY, "shape": Shape.BAND}
_GROUND: dict[str, Any] = {"shape": Shape.GROUND}
_LAMP: dict[str, Any] = {"surface": Surface.LAMP, "shape": Shape.LAMP, "may_clip": True}

SCENES: dict[str, TypicalScene] = {
    "back_lit": TypicalScene(
        "back-lit interior", 8.0, 5600,
        (
            _r("room", -2.0, 100, **_GROUND),
            _r("window", 5.2, 15, 28, 36, surface=Surface.SKY, shape=Shape.PANE, source_k=6500),
            _r("face, shaded side", -0.6, 6, 62, 44, **_FACE),
            _r("dark coat", -3.4, 9, 63, 84, surface=Surface.DARK_CLOTH),
        ),
    ),
    "open_shade": TypicalScene(
        "open shade", 12.0, 7500,
        (
            _r("planks", -0.7, 100, **_GROUND),
            _r("sky between roofs", 2.9, 14, 50, 7, **_SKY),
            _r("face", 1.2, 6, 45, 46, **_FACE),
            _r("under the hull", -4.0, 12, 74, 80),
        ),
    ),
    "street": TypicalScene(
        "night street with lamps", 5.0, 3200,
        (
            _r("wet street", -2.6, 100, **_GROUND),
            _r("sky at night", -6.0, 30, 50, 12, shape=Shape.BAND),
            _r("shop window", 2.4, 9, 22, 46, shape=Shape.PANE, source_k=4000),
            _r("face", 0.4, 5, 56, 52, **_FACE),
            _r("street lamp", 8.5, 0.3, 79, 22, source_k=2100, **_LAMP),
            _r("head lamp", 9.0, 0.1, 38, 66, **_LAMP),
        ),
    ),
    "snow": TypicalScene(
        "snow in sun", 15.5, 5600,
        (
            _r("snow", 2.2, 100, surface=Surface.SNOW, **_GROUND),
            _r("sky", 1.4, 34, 50, 16, **_SKY),
            _r("face", 1.4, 5, 58, 50, **_FACE),
            _r("firs", -2.6, 14, 18, 50, surface=Surface.FOLIAGE),
        ),
    ),
    "stage": TypicalScene(
        "stage", 8.5, 3200,
        (
            _r("dark stage", -5.0, 100, **_GROUND),
            _r("face in the spot", 1.8, 4, 50, 42, **_FACE),
            _r("white shirt", 2.8, 5, 50, 68, surface=Surface.WHITE_CARD),
            _r("back light", 7.5, 0.4, 30, 12, **_LAMP),
        ),
    ),
}  # fmt: skip
