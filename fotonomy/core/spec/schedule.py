"""When a setup can be shot, which way the camera looks, and how long it takes."""

from dataclasses import dataclass
from enum import StrEnum
from typing import Annotated

from fotonomy.core.constants import EV_RANGE
from fotonomy.core.ranges import Within, check_bounds

LONGEST_MIN = 24 * 60.0
PRIORITY_RANGE = (1, 3)
# A fixed hour is met sharp within so many minutes. Common practice, no source.
SHARP_MIN, WITHIN_MOST_MIN = 2.0, 6 * 60.0


class ShotSize(StrEnum):
    """How much of the scene a shot shows."""

    NONE = ""
    WIDE = "wide"
    MEDIUM = "medium"
    CLOSE = "close"
    DETAIL = "detail"
    CUTAWAY = "cutaway"

    @property
    def label(self) -> str:
        """In words."""
        return self.value or "not said"


class Wanted(StrEnum):
    """The light a setup wants."""

    ANY = "any"
    DAYLIGHT = "daylight"
    SUNSET = "sunset"
    NIGHT = "night"
    GOLDEN = "golden"
    BLUE = "blue"
    DUSK = "dusk"
    DARK = "dark"
    MOONLESS = "moonless"
    MOONLIGHT = "moonlight"
    MILKY_WAY = "milky_way"
    SUN_FRONT = "sun_front"
    SUN_BESIDE = "sun_beside"
    SUN_BEHIND = "sun_behind"
    SHADE = "shade"
    OVERCAST = "overcast"
    ABOVE = "above"
    UNDER = "under"
    FIXED = "fixed"

    @property
    def label(self) -> str:
        """In words."""
        return _LABELS[self]


_LABELS = {
    Wanted.ANY: "any light", Wanted.DAYLIGHT: "daylight", Wanted.SUNSET: "across sunset",
    Wanted.NIGHT: "after dusk", Wanted.GOLDEN: "golden hour", Wanted.BLUE: "blue hour",
    Wanted.DUSK: "dusk", Wanted.DARK: "dark", Wanted.MOONLESS: "dark without a moon",
    Wanted.MOONLIGHT: "moonlight", Wanted.MILKY_WAY: "Milky Way's core up",
    Wanted.SUN_FRONT: "sun behind the camera", Wanted.SUN_BESIDE: "sun from the side",
    Wanted.SUN_BEHIND: "sun behind the subject", Wanted.SHADE: "open shade",
    Wanted.OVERCAST: "overcast", Wanted.ABOVE: "at least so much light",
    Wanted.UNDER: "at most so much light", Wanted.FIXED: "a fixed hour",
}  # fmt: skip


@dataclass(frozen=True, slots=True, kw_only=True)
class Schedule:
    """What the day has to give a setup.

    ``wants`` with ``wants_ev`` (EV at ISO 100; None: what the setup is planned for) where it is a
    bound, ``wants_at_min`` (minutes since midnight; None: the planned hour) where it is a fixed
    one, met within ``wants_within_min`` either way. ``prepare_min`` comes before the first take;
    ``shoot_min`` is the takes, None: as the kind usually needs. ``priority`` 1 goes first.
    ``pinned`` stays at its hour, ``alongside`` may run beside a setup with another body,
    ``unattended`` needs nobody once it runs. Raises RuleError naming the field.
    """

    wants: Wanted = Wanted.ANY
    wants_ev: Annotated[float | None, Within(*EV_RANGE, "EV")] = None
    wants_at_min: Annotated[float | None, Within(0, LONGEST_MIN, "min")] = None
    wants_within_min: Annotated[float, Within(0, WITHIN_MOST_MIN, "min")] = SHARP_MIN
    prepare_min: Annotated[float, Within(0, LONGEST_MIN, "min")] = 10.0
    shoot_min: Annotated[float | None, Within(1, LONGEST_MIN, "min")] = None
    priority: Annotated[int, Within(*PRIORITY_RANGE)] = 2
    pinned: bool = False
    alongside: bool = False
    unattended: bool = False

    def __post_init__(self) -> None:
        check_bounds(self)
