"""One planned shot as a frozen spec: everything the planner needs, nothing it works out."""

from dataclasses import dataclass, field
from datetime import datetime
from math import cos, isfinite, log2, radians
from typing import Annotated

from fotonomy.core import constants as c
from fotonomy.core.errors import RuleError
from fotonomy.core.gear.accessories import Device
from fotonomy.core.gear.body import Body, RecordingFormat
from fotonomy.core.gear.filters import Filter, Front, Holder
from fotonomy.core.gear.imaging import Imaging, focused
from fotonomy.core.gear.lens import Lens, Tube
from fotonomy.core.gear.profile import Profile, as_recorded
from fotonomy.core.gear.support import STEADY_SUPPORTS, Support
from fotonomy.core.motion.camera_movement import SIDEREAL_RAD_S, Movement, Mover, mover
from fotonomy.core.motion.shutter import Shutter
from fotonomy.core.photometry.exposure_value import SceneLight, ev100_of
from fotonomy.core.ranges import NAME, WORDS, OneOf, Sized, Within, check_bounds
from fotonomy.core.sky.light import PlaceLight
from fotonomy.core.spec.intent import Intent, Switch
from fotonomy.core.spec.kind import Kind
from fotonomy.core.spec.readings import MOST_READINGS, USUAL, Reading
from fotonomy.core.spec.readings import check as check_readings
from fotonomy.core.spec.schedule import Schedule, ShotSize
from fotonomy.core.spec.stills import Files, Run
from fotonomy.core.weather.report import Weather

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


@dataclass(frozen=True, slots=True)
class Site:
    """A place on the earth, in degrees: north and east are positive."""

    latitude_deg: Annotated[float, Within(-90, 90, "degrees")]
    longitude_deg: Annotated[float, Within(-180, 180, "degrees")]

    def __post_init__(self) -> None:
        check_bounds(self)


# What is kept of a still: a JPEG has eight bits, raw files twelve or more. Common practice.
JPEG_BITS, RAW_BITS = 8, 14
# Nothing is filmed nearer to the lens than a tenth of a millimetre.
LEAST_FRONT_M = 1e-4
AS_USUAL, NO_WISH, PLAIN_RUN, PLAIN_SCHEDULE = Movement(), Intent(), Run(), Schedule()


@dataclass(frozen=True, slots=True, kw_only=True)
class Setup:
    """A setup in SI-style units.

    ``project_fps`` is the edit frame rate, ``frame_rate`` the captured one (for an
    interval run one over the interval). ``subject_distance_m`` counts from the sensor plane, as
    distances are engraved. ``nd_density`` is what the ND knob asks for;
    ``filters`` are other glass in the light path, ``holders`` the rings and matte boxes at
    hand, ``packed_lenses`` the other lenses a planner may take. ``recording`` names the body's
    format, empty for its first. ``light`` is the scene's; where nobody said it (``light_said``
    false) it is what such a shot usually has, to plan with and not to rely on. ``held`` names what
    stays, ``held_from_start`` what of it the starting point of the kind holds and no person
    pressed; ``limits`` what they hold between two values. ``readings`` are the tones of the
    scene. ``white_k`` is set on the camera, ``tint_cc`` with it (green is negative), ``source_k``
    is the scene's main light (None: what is set), ``white_bias_mired`` the taste (warmer is
    positive).
    ``light_change_stops`` is by how much the light may move during
    the take, ``lamp_hz`` the pulses a second of a lamp with its own. ``run`` is what single
    pictures want beyond that, ``devices`` what hangs on the camera, ``packed_devices`` what
    else of the kind is at hand, ``starts`` the planned start
    on the place's clock (with its time zone), ``site`` where that is, and ``daylight`` the light of
    that place and day, if known, ``weather`` that of the day where it reaches the setup.
    ``looks_deg`` is the azimuth the camera looks at, from true north.

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
    light_said: bool = True
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
    glass: tuple[Filter, ...] = ()
    holders: tuple[Holder, ...] = ()
    filters: Annotated[tuple[Filter, ...], Sized(0, 8)] = ()
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
    held_from_start: frozenset[Annotated[str, OneOf(HOLDABLE)]] = frozenset()
    limits: Annotated[tuple[Limit, ...], Sized(0, 8)] = ()
    wanted_screen_s: Annotated[float, Within(*c.SCREEN_RANGE_S, "s")] = 5.0
    handle_s: Annotated[float, Within(*c.HANDLE_RANGE_S, "s")] = 1.0
    shot_size: ShotSize = ShotSize.NONE
    looks_deg: Annotated[float | None, Within(0, 360, "degrees")] = None
    schedule: Schedule = PLAIN_SCHEDULE
    run: Run = PLAIN_RUN
    devices: Annotated[tuple[Device, ...], Sized(0, 16)] = ()
    packed_devices: tuple[Device, ...] = ()
    starts: datetime | None = None
    site: Site | None = None
    daylight: PlaceLight | None = field(default=None, compare=False, repr=False)
    weather: Weather | None = field(default=None, compare=False, repr=False)

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
        return self.kind.traits.stills

    @property
    def single_frame(self) -> bool:
        """True for one long exposure, which has no next frame."""
        return self.kind.traits.long_frame

    @property
    def format(self) -> RecordingFormat:
        """The body's recording format in use; for single pictures the whole sensor."""
        video = self.body.format_named(self.recording)
        if not self.records_stills:
            return video
        bits = JPEG_BITS if self.run.files is Files.JPEG else RAW_BITS
        return self.body.still_format(video, bits)

    @property
    def delivered_px(self) -> int:
        """Width of the finished picture in pixels: as wished, or as the video format has it.

        Single pictures end up in the same clip, so that smear and blur count alike.
        """
        return self.intent.delivery_px or self.body.format_named(self.recording).width_px

    @property
    def delivered_pitch_mm(self) -> float:
        """Width of one delivered pixel on the sensor."""
        return self.format.sensor_width_mm / self.delivered_px

    @property
    def recorded_profile(self) -> Profile:
        """The profile at the bits the format leaves of it, and as far as the sensor reaches."""
        return as_recorded(self.profile, self.format.bits, self.below_base_stops)

    @property
    def lowest_base(self) -> int:
        """The lowest base ISO of the profile that the body has.

        The body's own lowest ISO where there is none, and for single pictures.
        """
        if self.records_stills:
            return self.body.iso_lowest
        low, high = self.body.iso_reach
        bases = [s for s in self.profile.base_iso if low <= s <= high]
        return min(bases) if bases else self.body.iso_lowest

    @property
    def below_base_stops(self) -> float:
        """Stops by which the ISO lies under the lowest base, which highlights lose; 0 from it on.

        The sensor is as full as ever while the meter gives it more light: common practice.
        """
        return max(0.0, log2(self.lowest_base / self.iso))

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
    def imaging(self) -> Imaging:
        """The lens focused at the subject."""
        lens = self.lens
        return focused(
            self.focal_mm, self.subject_distance_m, lens.close_focus_m,
            lens.greatest_magnification, self.tubes_mm,
        )  # fmt: skip

    @property
    def image_mm(self) -> float:
        """From the lens to the sensor."""
        return 1000 * self.imaging.behind_m

    def field_width_m(self, at_m: float | None = None) -> float:
        """Width of the picture, desqueezed, at a distance from the sensor plane in metres.

        At the subject where none is given; what is nearer than the lens counts as just before it.
        """
        return self._field_m(self.picture_width_mm, at_m)

    def field_height_m(self, at_m: float | None = None) -> float:
        """Height of the picture, likewise."""
        return self._field_m(self.format.sensor_height_mm, at_m)

    def _field_m(self, size_mm: float, at_m: float | None) -> float:
        imaging = self.imaging
        at = self.subject_distance_m if at_m is None else at_m
        return imaging.field_m(size_mm, max(at, imaging.behind_m + LEAST_FRONT_M))

    @property
    def stabiliser_stops(self) -> float:
        """Stops the stabiliser of body or lens is rated at, as it is switched."""
        switch = self.intent.stabiliser
        steadied = self.support in STEADY_SUPPORTS
        if switch is Switch.OFF or (switch is Switch.AS_USUAL and steadied):
            return 0.0
        return max(self.body.stabiliser_stops, self.lens.stabiliser_stops)

    @property
    def front(self) -> Front:
        """What glass can be put on this lens, on this body, on what carries it."""
        thread, fixed = self.lens.thread_mm, self.body.fixed_lens
        box = self.support is not Support.DRONE and not (fixed and thread is None)
        return Front(thread, self.holders, clips_in=not fixed, carries_box=box)

    @property
    def tubes_mm(self) -> float:
        """Extension of all tubes together."""
        return sum(tube.length_mm for tube in self.tubes)

    @property
    def mover(self) -> Mover:
        """What crosses the frame; over a sky of stars, where nothing else moves, the stars."""
        found = self._mover()
        starry = self.records_stills and self.run.declination_deg is not None
        if starry and found.speed_m_s <= c.STILL_BELOW_M_S:
            turning = SIDEREAL_RAD_S * cos(radians(self.run.declination_deg or 0.0))
            far = c.DISTANCE_RANGE_M[1]
            return Mover("stars", turning * far, far, True)
        return found

    def _mover(self) -> Mover:
        return mover(
            self.movement, subject=self.subject, speed_m_s=self.subject_speed_m_s,
            distance_m=self.subject_distance_m, size_m=self.subject_size_m,
            width_mm=self.picture_width_mm, image_mm=self.image_mm,
        )  # fmt: skip

    def limit_on(self, name: str) -> Limit | None:
        """The limit on a setting, if it has one."""
        return next((limit for limit in self.limits if limit.setting == name), None)
