"""One planned shot as a frozen spec: everything the planner needs, nothing it works out."""

from dataclasses import dataclass, replace
from datetime import datetime
from enum import StrEnum
from math import isfinite

from fotonomy.core import constants as c
from fotonomy.core.errors import RuleError
from fotonomy.core.gear.accessories import Device
from fotonomy.core.gear.body import Body, RecordingFormat
from fotonomy.core.gear.filters import Glass, Holder
from fotonomy.core.gear.lens import Lens, Tube
from fotonomy.core.gear.profile import Profile
from fotonomy.core.gear.support import Support
from fotonomy.core.motion.camera_movement import Movement, Mover, mover
from fotonomy.core.motion.shutter import Shutter
from fotonomy.core.photometry.exposure_value import SceneLight, ev100_of
from fotonomy.core.spec.intent import Intent
from fotonomy.core.spec.readings import USUAL, Reading
from fotonomy.core.spec.readings import check as check_readings
from fotonomy.core.spec.stills import Run


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
# What is set on the camera, and what decides where it stands and what it looks through.
SETTINGS = ("frame_rate", "shutter", "iris", "iso", "nd")
FRAMING = ("focal", "distance", "lens")
HOLDABLE = SETTINGS + FRAMING


@dataclass(frozen=True, slots=True)
class Limit:
    """A setting held between two values, both in its own unit.

    fps, seconds, f-number, ISO, density, mm or m; ``low`` is the smaller number.
    """

    setting: str
    low: float
    high: float

    def __post_init__(self) -> None:
        if self.setting not in HOLDABLE or self.setting == "lens":
            raise RuleError("limits", "names a setting that has numbers", self.setting)
        if not isfinite(self.low) or not isfinite(self.high) or self.high < self.low:
            raise RuleError("limits", "needs a lower and a higher value", (self.low, self.high))

    def holds(self, value: float) -> bool:
        """True if a value lies inside, with a hair of tolerance."""
        return self.low * 0.999 - 1e-9 <= value <= self.high * 1.001 + 1e-9


def _within(field: str, value: float, low: float, high: float, unit: str) -> None:
    if not isfinite(value) or not low <= value <= high:
        raise RuleError(field, f"has to lie between {low:g} and {high:g} {unit}".strip(), value)


AS_USUAL, NO_WISH, PLAIN_RUN = Movement(), Intent(), Run()


@dataclass(frozen=True, slots=True, kw_only=True)
class Setup:
    """A setup in SI-style units.

    ``project_fps`` is the edit frame rate, ``frame_rate`` the captured one (for an
    interval run one over the interval). ``nd_density`` is what the ND knob asks for;
    ``filters`` are other glass in the light path, ``holders`` the rings and matte boxes at
    hand, ``bag_lenses`` the other lenses a planner may take. ``recording`` names the body's
    format, empty for its first. ``held`` names what the person fixed, ``limits`` what they
    hold between two values. ``readings`` are the tones of the scene. ``white_k`` is set on the
    camera, ``tint_cc`` with it (green is negative), ``source_k`` is the scene's main light
    (None: what is set), ``white_bias_mired`` the taste (warmer is positive).
    ``light_change_stops`` is by how much the light may move during
    the take, ``lamp_hz`` the pulses a second of a lamp with its own. ``run`` is what single
    pictures want beyond that, ``devices`` what hangs on the camera, ``bag_devices`` what
    else of the kind is at hand, ``starts`` the planned start
    on the place's clock (with its time zone), if known.

    Raises RuleError naming the field for a number no scene or camera has; a choice the
    gear lacks is not an error but a finding of the plan.
    """

    code: str = ""
    title: str = ""
    kind: Kind = Kind.REAL_TIME
    project_fps: float
    mains_hz: int
    mains_lamps: bool = False
    lamp_hz: float | None = None
    light_change_stops: float = 0.0
    light: SceneLight
    readings: tuple[Reading, ...] = USUAL
    subject: str = "subject"
    subject_speed_m_s: float = 0.0
    subject_distance_m: float
    subject_size_m: float = 0.5
    subject_depth_m: float = 0.3
    movement: Movement = AS_USUAL
    intent: Intent = NO_WISH
    support: Support = Support.TRIPOD
    body: Body
    recording: str = ""
    lens: Lens
    tubes: tuple[Tube, ...] = ()
    packed_lenses: tuple[Lens, ...] = ()
    glass: tuple[Glass, ...] = ()
    holders: tuple[Holder, ...] = ()
    filters: tuple[Glass, ...] = ()
    profile: Profile
    focal_mm: float
    frame_rate: float
    shutter: Shutter
    iris: float
    iso: int
    nd_density: float = 0.0
    white_k: float = 5600.0
    tint_cc: float = 0.0
    source_k: float | None = None
    white_bias_mired: float = 0.0
    held: frozenset[str] = frozenset(FRAMING)
    limits: tuple[Limit, ...] = ()
    wanted_screen_s: float = 5.0
    handle_s: float = 1.0
    run: Run = PLAIN_RUN
    devices: tuple[Device, ...] = ()
    packed_devices: tuple[Device, ...] = ()
    starts: datetime | None = None

    def __post_init__(self) -> None:
        ev100_of(self.light)
        _within("project_fps", self.project_fps, *c.RATE_RANGE_FPS, "fps")
        _within("frame_rate", self.frame_rate, *c.RATE_RANGE_FPS, "fps")
        _within("mains_hz", self.mains_hz, 16, 400, "Hz")
        _within("subject_speed", self.subject_speed_m_s, *c.SPEED_RANGE_M_S, "m/s")
        _within("subject_distance", self.subject_distance_m, *c.DISTANCE_RANGE_M, "m")
        _within("subject_size", self.subject_size_m, *c.SIZE_RANGE_M, "m")
        _within("subject_depth", self.subject_depth_m, *c.SIZE_RANGE_M, "m")
        _within("light_change", self.light_change_stops, 0, 20, "stops")
        if self.lamp_hz is not None:
            _within("lamp_hz", self.lamp_hz, *c.LAMP_RANGE_HZ, "pulses a second")
        check_readings(self.readings)
        _within("tint", self.tint_cc, *c.TINT_RANGE_CC, "")
        _within("white_bias", self.white_bias_mired, *c.BIAS_RANGE_MIRED, "mired")
        if self.source_k is not None:
            _within("source", self.source_k, *c.WHITE_RANGE_K, "K")
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

    @property
    def format(self) -> RecordingFormat:
        """The body's recording format in use."""
        return self.body.format_named(self.recording)

    @property
    def recorded_profile(self) -> Profile:
        """The profile at the bits the format leaves of it."""
        bits = min(self.profile.bits, self.format.bits)
        return self.profile if bits == self.profile.bits else replace(self.profile, bits=bits)

    @property
    def picture_width_mm(self) -> float:
        """Recorded width as it looks once desqueezed."""
        return self.format.sensor_width_mm * self.lens.squeeze

    @property
    def pulses_hz(self) -> float:
        """Pulses a second of the lamps: their own, or twice the mains."""
        return 2.0 * self.mains_hz if self.lamp_hz is None else self.lamp_hz

    @property
    def lamps(self) -> bool:
        """True where pulsing lamps light the scene."""
        return self.mains_lamps or self.lamp_hz is not None

    @property
    def tubes_mm(self) -> float:
        """Extension of all tubes together."""
        return sum(tube.length_mm for tube in self.tubes)

    @property
    def mover(self) -> Mover:
        """What crosses the frame."""
        return mover(
            self.movement, subject=self.subject, speed_m_s=self.subject_speed_m_s,
            distance_m=self.subject_distance_m, size_m=self.subject_size_m,
            width_mm=self.picture_width_mm, focal_mm=self.focal_mm,
        )  # fmt: skip

    def limit_on(self, name: str) -> Limit | None:
        """The limit on a setting, if it has one."""
        return next((limit for limit in self.limits if limit.setting == name), None)
