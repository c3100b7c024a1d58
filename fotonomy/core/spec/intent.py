"""What a person wants of a setup: the look of motion, the sharpness, and what matters more."""

from dataclasses import dataclass
from enum import StrEnum
from typing import Annotated

from fotonomy.core.errors import RuleError
from fotonomy.core.ranges import Within, check_bounds
from fotonomy.core.units import SPOKEN_UNITS


class Look(StrEnum):
    """Methods of shutter: common practice, no source."""

    HALF_PERIOD = "half_period"
    CRISP = "crisp"
    OPEN = "open"

    @property
    def angle_deg(self) -> float:
        """The angle this method aims at."""
        return {"half_period": 180.0, "crisp": 90.0, "open": 360.0}[self.value]

    @property
    def label(self) -> str:
        """The method in words, with its angle."""
        angle = {"half_period": "180°", "crisp": "90° or less", "open": "towards 360°"}
        return f"{self.brief} ({angle[self.value]})"

    @property
    def brief(self) -> str:
        """The method alone."""
        return {"half_period": "half period", "crisp": "crisp", "open": "open"}[self.value]


class Handheld(StrEnum):
    """Methods of the slowest handheld time: common practice, no source."""

    FOCAL = "one_over_focal"
    TWICE_FOCAL = "one_over_twice_focal"
    FLAT = "flat_200"

    @property
    def label(self) -> str:
        """The method in words."""
        return {
            "one_over_focal": "1 over focal length", "one_over_twice_focal":
            "1 over twice the focal length", "flat_200": "a flat 1/200",
        }[self.value]  # fmt: skip


class Circle(StrEnum):
    """What counts as sharp: the circle of confusion."""

    DIAGONAL = "diagonal_1500"
    TWO_PIXELS = "two_pixels"

    @property
    def label(self) -> str:
        """The rule in words."""
        return {"diagonal_1500": "diagonal / 1500", "two_pixels": "two pixels"}[self.value]


class ExposureMethod(StrEnum):
    """Methods of where to expose: common practice, no source."""

    GREY = "grey"
    SKIN = "skin"
    HIGHLIGHTS = "highlights"
    SUBJECT = "subject"
    FAR_RIGHT = "far_right"
    UNDER = "under"
    DUSK = "dusk"

    @property
    def label(self) -> str:
        """The method in words."""
        return {
            "grey": "grey at its mark", "skin": "skin at its mark",
            "highlights": "highlights never clip", "subject": "subject first",
            "far_right": "as far right as the log holds", "under": "slightly under",
            "dusk": "dusk for night",
        }[self.value]  # fmt: skip

    @property
    def brief(self) -> str:
        """The method in two or three words, for a bar."""
        return {"highlights": "Highlights held", "far_right": "Far right"}.get(
            self.value, self.label.capitalize()
        )


class WhiteMethod(StrEnum):
    """Methods of white balance: common practice, no source."""

    READ = "read"
    BIASED = "biased"
    LAMP = "lamp"
    AUTO_LOCKED = "auto_locked"
    AUTO = "auto"

    @property
    def label(self) -> str:
        """The method in words."""
        return {
            "read": "read the light, set it, lock it", "biased": "read it, then bias by taste",
            "lamp": "a fixed lamp value", "auto_locked": "auto once, then lock",
            "auto": "auto, left on",
        }[self.value]  # fmt: skip


class Switch(StrEnum):
    """A switch of the camera: as one usually has it (off on a tripod), or meant otherwise."""

    AS_USUAL = "as_usual"
    ON = "on"
    OFF = "off"

    @property
    def label(self) -> str:
        """In words."""
        return {"as_usual": "as usual", "on": "on", "off": "off"}[self.value]


# Criteria a plan is judged by: name, what it is called, its weight, and what it asks.
# Weights are common practice as we see it, no source; a person can change them.
CRITERIA: dict[str, tuple[str, float, str]] = {
    "rate": ("Frame rate", 2.0, "stops from the rate the shot asks for"),
    "look": ("Shutter look", 1.0, "stops from the angle of the method"),
    "cadence": ("Smooth motion", 0.2, "stops of gap over the comfortable one, two at most"),
    "smear": ("Smear as wanted", 1.5, "stops from the smear asked for, or over the freeze limit"),
    "time": ("Exposure time", 3.0, "stops from the time the shot wants; single pictures only"),
    "iris": ("Usual iris", 0.4, "stops outside the irises of its kind, where no depth is asked"),
    "depth": ("Depth of field", 1.0, "stops short of the depth asked for"),
    "sharpness": ("Lens sharpness", 1.0, "stops of diffraction over a pixel and a half"),
    "flicker": ("Steady lamps", 1.0, "stops of ripple over what is unseen"),
    "hand": ("Steady hand", 0.5, "stops slower than the handheld limit, single pictures only"),
    "base": ("Near a base ISO", 0.3, "stops from the nearest base"),
    "noise": ("Clean shadows", 0.6, "stops it looks noisier than at the lowest base"),
    "glass": ("Few filters", 0.15, "pieces, three for dark corners, four for infrared"),
    "framing": ("Framing kept", 2.0, "stops of field width from the present framing"),
    "change": ("Leave it as it is", 0.05, "stops each setting moves"),
}


# How much more or less a criterion counts, in words; the factors are common practice as we see it,
# no source.
EMPHASIS_WORDS = {"not at all": 0.0, "less": 0.5, "usual": 1.0, "more": 2.0}


def emphasis_word(times: float) -> str:
    """The word for a factor on a criterion, or the factor itself where it has none: "3 times"."""
    found = next((word for word, factor in EMPHASIS_WORDS.items() if factor == times), "")
    return found or f"{times:g} times"


@dataclass(frozen=True, slots=True, kw_only=True)
class Intent:
    """What is wanted. None means: no wish.

    ``freeze_px`` is the most smear in delivered pixels, ``smear_percent`` a smear aimed at,
    ``depth_m`` the depth that has to be sharp about the subject. ``slow_factor`` is how many
    times slower than life slow motion plays. ``delivery_px`` is the width the picture is
    delivered at (None: as recorded), ``averaged_frames`` how many are averaged into one.
    ``stabiliser`` is how its switch stands, ``auto_iso`` true where the ISO is left to the camera.
    ``crop_percent`` is what the edit cuts off each side to stabilise, ``tempo_bpm`` the music's.
    ``emphasis`` multiplies a criterion's weight. ``units`` has the unit a setting was typed in, by
    the setting's name: "km/h", "ft", "T"; what is not named there is shown as usual.
    """

    look: Look = Look.HALF_PERIOD
    handheld: Handheld = Handheld.FOCAL
    circle: Circle = Circle.DIAGONAL
    exposing: ExposureMethod = ExposureMethod.GREY
    white_school: WhiteMethod = WhiteMethod.READ
    freeze_px: Annotated[float | None, Within(0.01, 10_000, "px")] = None
    smear_percent: Annotated[float | None, Within(0.001, 1000, "%")] = None
    depth_m: Annotated[float | None, Within(0.0001, 100_000, "m")] = None
    slow_factor: Annotated[float, Within(1, 100, "times")] = 4.0
    delivery_px: Annotated[int | None, Within(16, 100_000, "px")] = None
    averaged_frames: Annotated[int, Within(1, 1000, "frames")] = 1
    emphasis: tuple[tuple[str, float], ...] = ()
    units: tuple[tuple[str, str], ...] = ()
    stabiliser: Switch = Switch.AS_USUAL
    auto_iso: bool = False
    crop_percent: Annotated[float, Within(0, 40, "%")] = 0.0
    tempo_bpm: Annotated[float | None, Within(20, 400, "beats a minute")] = None

    def __post_init__(self) -> None:
        check_bounds(self)
        for name, times in self.emphasis:
            if name not in CRITERIA or not 0 <= times <= 10:
                raise RuleError("emphasis", "names a criterion, with a factor from 0 to 10", name)

        for name, unit in self.units:
            if unit not in SPOKEN_UNITS.get(name, {}):
                raise RuleError("units", "names a setting with a unit it is typed in", name)

    def unit_of(self, name: str) -> str:
        """The unit a setting was typed in; "" for the usual one."""
        return dict(self.units).get(name, "")

    def emphasis_on(self, name: str) -> float:
        """Factor on a criterion's own weight; 1 unless the person changed it."""
        return dict(self.emphasis).get(name, 1.0)

    def weight(self, name: str) -> float:
        """Weight of a criterion, in score a square stop (or a piece of glass)."""
        return CRITERIA[name][1] * self.emphasis_on(name)
