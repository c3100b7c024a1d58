"""One planned shot as a frozen spec: everything the planner needs, nothing it works out."""

from dataclasses import dataclass
from enum import StrEnum
from math import isfinite

from fotonomy.core import constants as c
from fotonomy.core.errors import RuleError
from fotonomy.core.exposure import SceneLight, ev100_of
from fotonomy.core.gear import Body, Glass, Lens, Profile
from fotonomy.core.shutter import Shutter


class Kind(StrEnum):
    """What sort of shot it is; it decides which rules apply."""

    REAL_TIME = "real_time"
    SLOW_MOTION = "slow_motion"
    ROLLING = "rolling"
    MACRO = "macro"
    NIGHT = "night"
    DUSK_FOR_NIGHT = "dusk_for_night"
    AERIAL = "aerial"
    INTERVAL = "interval"
    BURST = "burst"
    LONG_EXPOSURE = "long_exposure"

    @property
    def label(self) -> str:
        """The kind in words."""
        return self.value.replace("_", " ")


# Kinds that record single pictures rather than video.
STILL_KINDS = frozenset({Kind.INTERVAL, Kind.BURST, Kind.LONG_EXPOSURE})
SETTINGS = ("frame_rate", "shutter", "iris", "iso", "nd")


def _within(field: str, value: float, low: float, high: float, unit: str) -> None:
    if not isfinite(value) or not low <= value <= high:
        raise RuleError(field, f"has to lie between {low:g} and {high:g} {unit}".strip(), value)


@dataclass(frozen=True, slots=True, kw_only=True)
class Setup:
    """A setup in SI-style units.

    ``project_fps`` is the edit frame rate, ``frame_rate`` the captured one (for an
    interval run one over the interval). ``nd_density`` is what the ND knob asks for;
    ``filters`` are other glass in the light path. ``held`` names the settings the
    person fixed. Raises RuleError naming the field for a number no scene or camera has;
    a choice the gear lacks is not an error but a finding of the plan.
    """

    code: str = ""
    title: str = ""
    kind: Kind = Kind.REAL_TIME
    project_fps: float
    mains_hz: int
    mains_lamps: bool = False
    light: SceneLight
    key_name: str = "skin"
    key_stops: float = 1.4
    subject: str = "subject"
    subject_speed_m_s: float = 0.0
    subject_distance_m: float
    body: Body
    lens: Lens
    glass: tuple[Glass, ...] = ()
    filters: tuple[Glass, ...] = ()
    profile: Profile
    focal_mm: float
    frame_rate: float
    shutter: Shutter
    iris: float
    iso: int
    nd_density: float = 0.0
    white_k: float = 5600.0
    held: frozenset[str] = frozenset()
    wanted_screen_s: float = 5.0
    handle_s: float = 1.0

    def __post_init__(self) -> None:
        ev100_of(self.light)
        _within("project_fps", self.project_fps, *c.RATE_RANGE_FPS, "fps")
        _within("frame_rate", self.frame_rate, *c.RATE_RANGE_FPS, "fps")
        _within("mains_hz", self.mains_hz, 16, 400, "Hz")
        _within("subject_speed", self.subject_speed_m_s, *c.SPEED_RANGE_M_S, "m/s")
        _within("subject_distance", self.subject_distance_m, *c.DISTANCE_RANGE_M, "m")
        _within("key_stops", self.key_stops, *c.KEY_RANGE_STOPS, "stops")
        _within("focal", self.focal_mm, *c.FOCAL_RANGE_MM, "mm")
        _within("iris", self.iris, *c.F_NUMBER_RANGE, "")
        _within("iso", self.iso, *c.ISO_RANGE, "")
        _within("nd", self.nd_density, *c.DENSITY_RANGE, "density")
        _within("white", self.white_k, *c.WHITE_RANGE_K, "K")
        _within("wanted_screen", self.wanted_screen_s, *c.SCREEN_RANGE_S, "s")
        _within("handle", self.handle_s, *c.HANDLE_RANGE_S, "s")
        _within("shutter", self.shutter.seconds(self.frame_rate), *c.TIME_RANGE_S, "s")
        if 1000 * self.subject_distance_m <= self.focal_mm:
            raise RuleError(
                "subject_distance",
                f"has to be more than the focal length, {self.focal_mm:g} mm",
                self.subject_distance_m,
            )

    @property
    def time_s(self) -> float:
        """Open time of the shutter in seconds."""
        return self.shutter.seconds(self.frame_rate)

    @property
    def records_stills(self) -> bool:
        """True where single pictures are taken rather than video."""
        return self.kind in STILL_KINDS

    @property
    def single_frame(self) -> bool:
        """True for one long exposure, which has no next frame."""
        return self.kind is Kind.LONG_EXPOSURE
