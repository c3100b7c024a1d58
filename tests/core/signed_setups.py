"""Setups of all kinds with everything free, and what a cameraman would not sign in an answer.

What a kind wants and what is signed is common practice, no source.
"""

from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace
from typing import Any

from fotonomy.core.analysis.setup import Analysis
from fotonomy.core.gear.accessories import Card
from fotonomy.core.gear.body import Body, DriveMode, RecordingFormat, RecordingRate, ShutterStyle
from fotonomy.core.gear.filters import Filter, FilterKind
from fotonomy.core.gear.lens import Lens
from fotonomy.core.gear.neutral_density import density_to_stops
from fotonomy.core.gear.support import Support
from fotonomy.core.motion.camera_movement import Camera, Movement
from fotonomy.core.motion.shutter import Shutter
from fotonomy.core.photometry.exposure_value import Ev100
from fotonomy.core.spec.intent import Intent, Look
from fotonomy.core.spec.kind import Kind
from fotonomy.core.spec.setup import FRAMING, Setup
from fotonomy.core.spec.stills import Run
from tests.core.examples import FLAT, VIDEO

MPH = 0.44704
RATES = tuple(RecordingRate(rate, 100) for rate in (24, 25, 29.97, 50, 59.94, 100, 120))
CAMERA = Body(
    name="A-cam",
    formats=(
        RecordingFormat(
            name="4K", width_px=3840, height_px=2160, sensor_width_mm=36.0, sensor_height_mm=20.25,
            rates=RATES, readout_ms=14.0,
        ),
    ),
    drive_modes=(DriveMode("high", 12, buffer_frames=60), DriveMode("fastest", 20, True, 50)),
    shutter_style=ShutterStyle.BOTH,
    angles_deg=(1.4, 2.8, 5.6, 11, 22.5, 45, 72, 90, 108, 120, 144, 150, 172.8, 180, 216, 270, 288, 346, 360),
    iso_lowest=100, iso_highest=51_200, iso_ceiling=12_800, still_mp=24.0,
)  # fmt: skip
# Names nothing but a base of 100 and times, as most phones and drones do.
SMALL = replace(
    CAMERA, name="Small", shutter_style=ShutterStyle.TIME, angles_deg=(), drive_modes=(),
    formats=(
        RecordingFormat(
            name="4K", width_px=3840, height_px=2160, sensor_width_mm=9.6, sensor_height_mm=5.4,
            rates=RATES, readout_ms=18.0,
        ),
    ),
    iso_highest=6400, iso_ceiling=1600, fixed_lens=True,
)  # fmt: skip
STANDARD = Lens(name="Standard 50", focal_shortest_mm=50, focal_longest_mm=50, widest_f=1.8,
                smallest_f=22, thread_mm=77)  # fmt: skip
WIDE = Lens(name="Wide 20", focal_shortest_mm=20, focal_longest_mm=20, widest_f=1.8, smallest_f=16,
            thread_mm=77)  # fmt: skip
LONG = Lens(name="Long 70-200", focal_shortest_mm=70, focal_longest_mm=200, widest_f=2.8,
            smallest_f=22, thread_mm=77)  # fmt: skip
CLOSE = Lens(name="Close 100", focal_shortest_mm=100, focal_longest_mm=100, widest_f=2.8,
             smallest_f=22, thread_mm=77, close_focus_m=0.28)  # fmt: skip
OWN = Lens(name="Its own", focal_shortest_mm=6.7, focal_longest_mm=6.7, widest_f=1.8, smallest_f=1.8,
           thread_mm=None)  # fmt: skip
DRONE_LENS = replace(OWN, widest_f=2.8, smallest_f=11, thread_mm=40.5)


def _nd(density: float, thread_mm: float = 77) -> Filter:
    return Filter(name=f"ND {density}", kind=FilterKind.ND, stops=density_to_stops(density),
                  thread_mm=thread_mm)  # fmt: skip


BAG = (_nd(0.3), _nd(0.9), _nd(1.8), _nd(3.0),
       Filter(name="Variable", kind=FilterKind.VARIABLE_ND, stops=2.0, most_stops=5.0, thread_mm=77))  # fmt: skip


def free(**changes: Any) -> Setup:
    """A setup with everything free but the framing, in a full bag."""
    base = Setup(
        project_fps=25, mains_hz=50, light=Ev100(12.0), subject_distance_m=3.0, body=CAMERA,
        lens=STANDARD, glass=BAG, profile=FLAT, focal_mm=50, frame_rate=25, held=frozenset(FRAMING),
        shutter=Shutter(angle_deg=180), iris=5.6, iso=500, devices=(Card(name="Card", size_gb=128),),
    )  # fmt: skip
    return replace(base, **changes)


def on(lens: Lens, **changes: Any) -> Setup:
    """The same through another lens, at its shortest."""
    return free(**{"lens": lens, "focal_mm": lens.focal_shortest_mm, **changes})


Objections = Callable[[Analysis], Iterator[str]]


@dataclass(frozen=True)
class Shot:
    """One setup, and what this one is looked at for beside what all are."""

    name: str
    spec: Setup
    objects: Objections


def within(name: str, low: float, high: float, read: Callable[[Setup], float]) -> Objections:
    """Objects to a value outside these marks, with two per cent for marked values."""

    def objects(analysis: Analysis) -> Iterator[str]:
        value = read(analysis.setup)
        if not low * 0.98 <= value <= high * 1.02:
            yield f"{name} {value:.4g}, wanted {low:.4g} to {high:.4g}"

    return objects


def both(*those: Objections) -> Objections:
    """Every objection of these."""

    def objects(analysis: Analysis) -> Iterator[str]:
        for one in those:
            yield from one(analysis)

    return objects


def time_s(low: float, high: float) -> Objections:
    """An exposure time between these, in seconds."""
    return within("time", low, high, lambda setup: setup.time_s)


def angle(low: float, high: float) -> Objections:
    """An angle between these, in degrees."""
    return within("angle", low, high, lambda setup: setup.shutter.degrees(setup.frame_rate))


def iris(low: float, high: float) -> Objections:
    """An f-number between these."""
    return within("f/", low, high, lambda setup: setup.iris)


def iso(low: float, high: float) -> Objections:
    """An ISO between these."""
    return within("ISO", low, high, lambda setup: float(setup.iso))


HALF = angle(172, 181)


def clip(kind: Kind, ev: float, **changes: Any) -> dict[str, Any]:
    """Kind and light."""
    return {"kind": kind, "light": Ev100(ev), **changes}


def wants(**changes: Any) -> Intent:
    """What is wanted, and nothing else."""
    return Intent(**changes)


def every(seconds: float, ev: float, exposure_s: float = 1 / 50, **run: Any) -> dict[str, Any]:
    """An interval run by day, as it stands before anybody thought about it."""
    return {"kind": Kind.INTERVAL, "light": Ev100(ev), "frame_rate": 1 / seconds, "iso": 100,
            "shutter": Shutter(time_s=exposure_s), "wanted_screen_s": 12.0, "run": Run(**run)}  # fmt: skip


def long(seconds: float, ev: float, **run: Any) -> dict[str, Any]:
    """A long exposure."""
    return {"kind": Kind.LONG_EXPOSURE, "light": Ev100(ev), "shutter": Shutter(time_s=seconds),
            "iris": 11, "iso": 100, "run": Run(**run)}  # fmt: skip


def rolling(mph: float) -> Movement:
    """Along a road."""
    return Movement(camera=Camera.TRAVEL, travel_m_s=mph * MPH)


SHOTS: tuple[Shot, ...] = (
    # In real time.
    Shot("interview in the shade", free(**clip(Kind.REAL_TIME, 12)), both(HALF, iris(1.8, 5.6))),
    Shot("interview by a window", free(**clip(Kind.REAL_TIME, 8)), both(HALF, iris(1.8, 5.6))),
    Shot("interview in a room with lamps", free(**clip(Kind.REAL_TIME, 6, mains_lamps=True)),
         both(angle(90, 181), iris(1.8, 5.6))),
    Shot("interview at noon", free(**clip(Kind.REAL_TIME, 15)), both(HALF, iris(1.8, 8))),
    Shot("interview, standard video, shade", free(**clip(Kind.REAL_TIME, 12, profile=VIDEO)),
         both(HALF, iris(1.8, 6.3))),
    Shot("somebody walks by in the sun", free(**clip(Kind.REAL_TIME, 15, subject_speed_m_s=1.4)),
         both(HALF, iris(1.8, 8))),
    Shot("somebody walks by, overcast", free(**clip(Kind.REAL_TIME, 12, subject_speed_m_s=1.4)),
         HALF),
    Shot("a depth of 1 m at a table", free(**clip(Kind.REAL_TIME, 9, intent=wants(depth_m=1.0))),
         HALF),
    Shot("crisp sport", free(**clip(Kind.REAL_TIME, 14, subject_speed_m_s=6.0, subject_distance_m=12.0,
                                    intent=wants(look=Look.CRISP))), angle(20, 91)),
    Shot("landscape at noon on the wide", on(WIDE, **clip(Kind.REAL_TIME, 15, subject_distance_m=50.0)),
         both(HALF, iris(2.8, 11))),
    Shot("phone at noon, no filter", on(OWN, **clip(Kind.REAL_TIME, 15, body=SMALL, glass=(), profile=VIDEO,
                                                    iso=100, iris=1.8)),
         lambda _: iter(())),
    # Slow motion.
    Shot("slow motion, bright shade", free(**clip(Kind.SLOW_MOTION, 13, frame_rate=100,
                                                  subject_speed_m_s=3.0)), HALF),
    Shot("slow motion under lamps", free(**clip(Kind.SLOW_MOTION, 8, frame_rate=100, mains_lamps=True,
                                                subject_speed_m_s=2.0)), angle(90, 361)),
    Shot("slow motion at noon", free(**clip(Kind.SLOW_MOTION, 15, frame_rate=100, subject_speed_m_s=3.0)),
         HALF),
    # Rolling.
    Shot("rolling at 30 mph", on(WIDE, **clip(Kind.ROLLING, 13, movement=rolling(30), subject_distance_m=8.0)),
         both(angle(90, 361), iris(2.8, 11))),
    Shot("rolling at 50 mph, low sun", on(WIDE, **clip(Kind.ROLLING, 11, movement=rolling(50),
                                                       subject_distance_m=8.0)),
         both(angle(90, 361), iris(2.8, 8))),
    Shot("rolling through a town at night", on(WIDE, **clip(Kind.ROLLING, 5, movement=rolling(20),
                                                            subject_distance_m=8.0, mains_lamps=True)),
         angle(90, 361)),
    # Macro.
    Shot("macro of a still thing on a tripod", on(CLOSE, **clip(Kind.MACRO, 9, subject_distance_m=0.35,
                                                                subject_depth_m=0.004)),
         both(angle(90, 361), iris(5.6, 13))),
    Shot("macro by a window", on(CLOSE, **clip(Kind.MACRO, 7, subject_distance_m=0.4, subject_depth_m=0.006)),
         both(angle(90, 361), iris(5.6, 13))),
    Shot("macro of an insect that moves", on(CLOSE, **clip(Kind.MACRO, 13, subject_distance_m=0.4,
                                                           subject_depth_m=0.006, subject_speed_m_s=0.05)),
         both(angle(90, 361), iris(5.6, 13))),
    # Night.
    Shot("night street", free(**clip(Kind.NIGHT, 6, mains_lamps=True, intent=wants(look=Look.OPEN))),
         both(angle(90, 361), iris(1.8, 4))),
    Shot("night street, ND in the bag", free(**clip(Kind.NIGHT, 8, mains_lamps=True,
                                                    intent=wants(look=Look.OPEN))),
         both(angle(90, 361), iris(1.8, 5.6))),
    Shot("dark lane", free(**clip(Kind.NIGHT, 2, intent=wants(look=Look.OPEN))),
         both(angle(90, 361), iris(1.8, 2))),
    Shot("a face by a shop window", free(**clip(Kind.NIGHT, 4, mains_lamps=True, intent=wants(look=Look.OPEN))),
         both(angle(90, 361), iris(1.8, 2.8))),
    Shot("dusk for night", free(**clip(Kind.DUSK_FOR_NIGHT, 8)), both(HALF, iris(1.8, 5.6))),
    # Aerial.
    Shot("drone at noon with ND", on(DRONE_LENS, **clip(
        Kind.AERIAL, 15, body=SMALL, profile=VIDEO, iso=100, support=Support.DRONE,
        subject_distance_m=60.0, glass=tuple(_nd(d, 40.5) for d in (0.6, 0.9, 1.2, 1.8)))), angle(90, 361)),
    Shot("drone at noon without", on(DRONE_LENS, **clip(
        Kind.AERIAL, 15, body=SMALL, profile=VIDEO, iso=100, support=Support.DRONE, subject_distance_m=60.0,
        glass=())), lambda _: iter(())),
    Shot("drone in the evening", on(DRONE_LENS, **clip(
        Kind.AERIAL, 10, body=SMALL, profile=VIDEO, iso=100, support=Support.DRONE, subject_distance_m=60.0,
        glass=tuple(_nd(d, 40.5) for d in (0.6, 0.9, 1.2, 1.8)))), both(angle(90, 361), iris(2.8, 8))),
    # Intervals.
    Shot("clouds every 6 s", on(WIDE, **every(6, 14)), both(time_s(0.6, 3.9), iris(4, 11))),
    Shot("people every 1 s", on(WIDE, **every(1, 13)), both(time_s(0.1, 0.65), iris(4, 11))),
    Shot("traffic every 2 s at dusk", on(WIDE, **every(2, 9)), both(time_s(0.75, 1.35), iris(4, 11))),
    Shot("a building every hour", on(WIDE, **every(3600, 13)), iris(4, 11)),
    Shot("clouds every 6 s, no ND", on(WIDE, **every(6, 14), glass=()), iris(4, 16)),
    Shot("stars every 20 s", on(WIDE, **every(20, -6, 10.0, declination_deg=-40.0, star_px=4.0)),
         both(iris(1.8, 2.1), iso(800, 6400))),
    Shot("stars every 30 s, long trails allowed",
         on(WIDE, **every(30, -6, 10.0, declination_deg=-40.0, star_px=8.0)),
         both(iris(1.8, 2.1), iso(800, 6400))),
    # Bursts.
    Shot("a gull", on(LONG, **clip(Kind.BURST, 14, focal_mm=200.0, frame_rate=12, subject_speed_m_s=9.0,
                                   subject_distance_m=30.0, shutter=Shutter(time_s=1 / 1000), iso=100,
                                   intent=wants(freeze_px=12.0))), time_s(1 / 8000, 1 / 640)),
    Shot("sparks", on(STANDARD, **clip(Kind.BURST, 9, frame_rate=12, subject_speed_m_s=4.0,
                                       shutter=Shutter(time_s=1 / 1000), iso=100)), time_s(1 / 8000, 1 / 250)),
    # Long exposures.
    Shot("the sea to mist by day", on(WIDE, **long(15, 12)), both(time_s(11, 20), iris(5.6, 13), iso(100, 125))),
    Shot("a waterfall in the shade", on(STANDARD, **long(1, 11)), both(time_s(0.7, 1.4), iris(5.6, 13), iso(100, 125))),
    Shot("light trails at the blue hour", on(WIDE, **long(15, 4)), both(time_s(10, 30), iris(5.6, 13), iso(100, 125))),
    Shot("light trails of 60 per cent", on(WIDE, **long(15, 4, trail_percent=60.0), subject_speed_m_s=8.0,
                                           subject_distance_m=60.0), time_s(6, 13)),
    Shot("painted light in the dark", on(WIDE, **long(20, -3)), both(time_s(14, 30), iris(1.8, 13))),
    Shot("smooth water at noon", on(WIDE, **long(2, 15)), both(time_s(1.5, 2.6), iso(100, 125))),
)  # fmt: skip
