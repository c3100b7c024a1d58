"""Readings: the tones of a scene, how bright, how large, where, and where they belong."""

from dataclasses import dataclass
from enum import StrEnum
from math import log2
from typing import Annotated

from fotonomy.core import constants as c
from fotonomy.core.curves.transfer_functions import GREY
from fotonomy.core.errors import RuleError
from fotonomy.core.ranges import NAME, Within, check_bounds

MOST_READINGS = 24


class Surface(StrEnum):
    """What was read. Reflectances and places are common practice, no source."""

    OTHER = "other"
    GREY_CARD = "grey_card"
    WHITE_CARD = "white_card"
    LIGHT_SKIN = "light_skin"
    MEDIUM_SKIN = "medium_skin"
    DEEP_SKIN = "deep_skin"
    SNOW = "snow"
    FOLIAGE = "foliage"
    DARK_CLOTH = "dark_cloth"
    SKY = "sky"
    LAMP = "lamp"

    @property
    def label(self) -> str:
        """The surface in words."""
        return self.value.replace("_", " ")

    @property
    def is_skin(self) -> bool:
        """True for skin of any depth."""
        return self in SKIN

    @property
    def reflectance(self) -> float | None:
        """Share of the light it gives back, bright side of skin; None where it varies."""
        return _REFLECTANCES.get(self)

    @property
    def belongs_stops(self) -> float | None:
        """Stops from grey where it is usually placed; None where that is open."""
        share = self.reflectance
        return None if share is None else log2(share / GREY)


SKIN = frozenset({Surface.LIGHT_SKIN, Surface.MEDIUM_SKIN, Surface.DEEP_SKIN})
# Skin from 50 to 70 % on BT.709: +0.55, +1.0 and +1.45 stops over grey.
_REFLECTANCES = {
    Surface.GREY_CARD: 0.18, Surface.WHITE_CARD: 0.90, Surface.LIGHT_SKIN: 0.492,
    Surface.MEDIUM_SKIN: 0.36, Surface.DEEP_SKIN: 0.264, Surface.SNOW: 0.85,
    Surface.FOLIAGE: 0.09, Surface.DARK_CLOTH: 0.04,
}  # fmt: skip


class Shape(StrEnum):
    """How a reading lies in the frame."""

    GROUND = "ground"
    BAND = "band"
    PATCH = "patch"
    PANE = "pane"
    LAMP = "lamp"

    @property
    def label(self) -> str:
        """The shape in words."""
        return {
            "ground": "behind everything", "band": "a band across", "patch": "a patch",
            "pane": "a pane with corners", "lamp": "a lamp with glow",
        }[self.value]  # fmt: skip


@dataclass(frozen=True, slots=True, kw_only=True)
class Reading:
    """One tone. ``stops`` from grey in the scene; share and place in percent of the frame.

    ``key`` marks the one the shot is about. ``may_clip`` lets it blow. ``wanted_stops`` is
    where it should land, from grey, where the surface's own place does not fit. ``source_k``
    is the colour temperature of the light on it, None for the scene's main light.
    """

    name: Annotated[str, NAME]
    stops: Annotated[float, Within(*c.READING_RANGE_STOPS, "stops from grey")]
    surface: Surface = Surface.OTHER
    shape: Shape = Shape.PATCH
    share_percent: Annotated[float, Within(*c.SHARE_RANGE_PERCENT, "% of the frame")] = 6.0
    x_percent: Annotated[float, Within(0, 100, "% from the left")] = 50.0
    y_percent: Annotated[float, Within(0, 100, "% from the top")] = 50.0
    key: bool = False
    may_clip: bool = False
    wanted_stops: Annotated[float | None, Within(*c.READING_RANGE_STOPS, "stops from grey")] = None
    source_k: Annotated[float | None, Within(*c.WHITE_RANGE_K, "K")] = None

    def __post_init__(self) -> None:
        check_bounds(self)
        if not self.name.strip():
            raise RuleError("name", "a word or two, such as sky", self.name)

    @property
    def belongs_stops(self) -> float | None:
        """Stops from grey where it should land; None where nobody said."""
        return self.surface.belongs_stops if self.wanted_stops is None else self.wanted_stops


USUAL = (Reading(name="skin", stops=1.4, surface=Surface.LIGHT_SKIN, key=True),)


def check(readings: tuple[Reading, ...]) -> None:
    """Each name once, one key at most; RuleError on ``readings``."""
    names = [reading.name.casefold() for reading in readings]
    twice = next((name for name in names if names.count(name) > 1), None)
    if twice is not None:
        raise RuleError("readings", f"two readings are called {twice}", twice)
    if sum(reading.key for reading in readings) > 1:
        raise RuleError("readings", "only one reading is the key", None)


def key_of(readings: tuple[Reading, ...]) -> Reading | None:
    """The reading the shot is about: the one marked, else skin, else none."""
    marked = next((reading for reading in readings if reading.key), None)
    return marked or next((reading for reading in readings if reading.surface.is_skin), None)


def held(readings: tuple[Reading, ...]) -> tuple[Reading, ...]:
    """Those that should not clip."""
    return tuple(reading for reading in readings if not reading.may_clip)
