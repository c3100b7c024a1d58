"""One planned shot as a frozen spec: everything the planner needs, nothing it works out."""

from dataclasses import dataclass, replace
from datetime import datetime
from enum import StrEnum
from math import isfinite
from typing import Annotated

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
from fotonomy.core.ranges import NAME, WORDS, OneOf, Sized, Within, check_bounds
from fotonomy.core.spec.intent import Intent
from fotonomy.core.spec.readings import MOST_READINGS, USUAL, Reading
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
SETTINGS = ("frame_rate", "shutter", "iris", "iso", "nd_density")
FRAMING = ("focal_mm", "subject_distance_m", "lens")
HOLDABLE = SETTINGS + FRAMING
# What has numbers to be held between.
LIMITABLE = tuple(name for name in HOLDABLE if name != "lens")


@dataclass(frozen=True, slots=True)
class Limit:
    """A setting held between two values, both in its own unit.

    fps, seconds, f-number, ISO, density, mm or m; ``low`` is the smaller number.
    """

    setting: Annotated[str, OneOf(LIMITABLE)]
    low: float
    high: float

    def __post_init__(self) -> None:
        if self.setting not in LIMITABLE:
            raise RuleError("limits", "names a setting that has numbers", self.setting)
        if not isfinite(self.low) or not isfinite(self.high) or self.high < self.low:
            raise RuleError("limits", "needs a lower and a higher value", (self.low, self.high))

    def holds(self, value: float) -> bool:
        """True if a value lies inside, with a tolerance of 0.1 %."""
        return self.low * 0.999 - 1e-9 <= value <= self.high * 1.001 + 1e-9


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

    code: Annotated[str, Sized(0, 8)] = ""
    title: Annotated[str, WORDS] = ""
    kind: Kind = Kind.REAL_TIME
    project_fps: Annotated[float, Within(*c.RATE_RANGE_FPS, "fps")]
    mains_hz: Annotated[int, Within(16, 400, "Hz")]
    mains_lamps: bool = False
    lamp_hz: Annotated[float | None, Within(*c.LAMP_RANGE_HZ, "pulses a second")] = None
    light_change_stops: Annotated[float, Within(0, 20, "stops")] = 0.0
    light: SceneLight
    readings: Annotated[tuple[Reading, ...], Sized(0, MOST_READINGS)] = USUAL
    subject: Annotated[str, NAME] = "subject"
    subject_speed_m_s: Annotated[float, Within(*c.SPEED_RANGE_M_S, "m/s")] = 0.0
    subject_distance_m: Annotated[float, Within(*c.DISTANCE_RANGE_M, "m")]
    subject_size_m: Annotated[float, Within(*c.SIZE_RANGE_M, "m")] = 0.5
    subject_depth_m: Annotated[float, Within(*c.SIZE_RANGE_M, "m")] = 0.3
    movement: Movement = AS_USUAL
    intent: Intent = NO_WISH
    support: Support = Support.TRIPOD
    body: Body
    recording: Annotated[str, WORDS] = ""
    lens: Lens
    tubes: Annotated[tuple[Tube, ...], Sized(0, 8)] = ()
    packed_lenses: tuple[Lens, ...] = ()
    glass: tuple[Glass, ...] = ()
    holders: tuple[Holder, ...] = ()
    filters: Annotated[tuple[Glass, ...], Sized(0, 8)] = ()
    profile: Profile
    focal_mm: Annotated[float, Within(*c.FOCAL_RANGE_MM, "mm")]
    frame_rate: Annotated[float, Within(*c.RATE_RANGE_FPS, "fps")]
    shutter: Shutter
    iris: Annotated[float, Within(*c.F_NUMBER_RANGE)]
    iso: Annotated[int, Within(*c.ISO_RANGE)]
    nd_density: Annotated[float, Within(*c.DENSITY_RANGE, "density")] = 0.0
    white_k: Annotated[float, Within(*c.WHITE_RANGE_K, "K")] = 5600.0
    tint_cc: Annotated[float, Within(*c.TINT_RANGE_CC)] = 0.0
    source_k: Annotated[float | None, Within(*c.WHITE_RANGE_K, "K")] = None
    white_bias_mired: Annotated[float, Within(*c.BIAS_RANGE_MIRED, "mired")] = 0.0
    held: frozenset[Annotated[str, OneOf(HOLDABLE)]] = frozenset(FRAMING)
    limits: Annotated[tuple[Limit, ...], Sized(0, 8)] = ()
    wanted_screen_s: Annotated[float, Within(*c.SCREEN_RANGE_S, "s")] = 5.0
    handle_s: Annotated[float, Within(*c.HANDLE_RANGE_S, "s")] = 1.0
    run: Run = PLAIN_RUN
    devices: Annotated[tuple[Device, ...], Sized(0, 16)] = ()
    packed_devices: tuple[Device, ...] = ()
    starts: datetime | None = None

    def __post_init__(self) -> None:
        check_bounds(self)
        ev100_of(self.light)
        check_readings(self.readings)
        Within(*c.TIME_RANGE_S, "s").check("shutter", self.shutter.seconds(self.frame_rate))
        if 1000 * self.subject_distance_m <= self.focal_mm:
            raise RuleError(
                "subject_distance_m",
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
