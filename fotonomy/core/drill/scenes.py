"""Invented scenes and the invented gear they are shot with, for those who bring none."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from random import Random
from typing import Any

from fotonomy.core.curves.transfer_functions import Bt709, ParametricLog
from fotonomy.core.exposure.light_budget import light_budget
from fotonomy.core.exposure.scales import (
    Offer,
    frame_rate_offer,
    iris_offer,
    iso_offer,
    nd_offer,
    own_rack,
    shutter_offer,
)
from fotonomy.core.gear.accessories import Battery, Card, Remote
from fotonomy.core.gear.body import Body, RecordingFormat, RecordingRate, ShutterStyle
from fotonomy.core.gear.filters import Filter, FilterKind
from fotonomy.core.gear.lens import Lens
from fotonomy.core.gear.neutral_density import density_to_stops
from fotonomy.core.gear.profile import Profile
from fotonomy.core.motion.shutter import Shutter
from fotonomy.core.photometry.exposure_value import Ev100, ev100_of
from fotonomy.core.spec.readings import Reading, Surface
from fotonomy.core.spec.setup import Setup

VIDEO = Profile(name="Video", curve=Bt709(), clip_percent=109, base_iso=(100,))
FLAT = Profile(
    name="Flat log",
    clip_percent=92,
    base_iso=(500, 3200),
    skin_percent=52,
    curve=ParametricLog(
        name="Flat log", a=5, b=0.05, c=0.2898, d=0.39146, e=5.72084, f=0.045006, cut=0.012
    ),
)
BODY = Body(
    name="Practice camera",
    formats=(
        RecordingFormat(
            name="4K",
            width_px=3840,
            height_px=2160,
            sensor_width_mm=36.0,
            sensor_height_mm=20.25,
            rates=tuple(
                RecordingRate(f, m)
                for f, m in (
                    (24, 100),
                    (25, 100),
                    (30, 120),
                    (50, 150),
                    (60, 180),
                    (100, 280),
                    (120, 320),
                )
            ),
            readout_ms=16.0,
        ),
    ),
    shutter_style=ShutterStyle.BOTH,
    angles_deg=(45, 90, 144, 172.8, 180, 216, 270, 360),
    iso_lowest=100,
    iso_highest=51_200,
    iso_ceiling=6400,
    card_gb=128,
    power_w=9.0,
    idle_w=3.5,
    still_mp=24.0,
    still_mb=25.0,
    jpeg_mb=8.0,
)
LENS = Lens(
    name="Practice lens",
    focal_shortest_mm=16,
    focal_longest_mm=200,
    widest_f=1.8,
    smallest_f=22,
    thread_mm=77,
)
ND = tuple(
    Filter(name=f"ND {d}", kind=FilterKind.ND, stops=density_to_stops(d), thread_mm=77)
    for d in (0.3, 0.6, 0.9, 1.2, 1.8, 3.0)
)
REMOTE = Remote(name="Practice remote", most_count=9999)
CARD = Card(name="Practice card", size_gb=128, write_mb_s=50)
CELL = Battery(name="Practice battery", energy_wh=60)


@dataclass(frozen=True, slots=True)
class Scene:
    """A scene in words: what is there, how bright, what moves and how fast, how far away."""

    words: str
    light_ev: float
    subject: str
    speed_m_s: float
    distance_m: float
    size_m: float
    focal_mm: float
    lamps: bool = False


SCENES = (
    Scene("A ferryman coils rope on the quay in full sun", 15.0, "ferryman", 0.6, 4.0, 0.6, 50),
    Scene("Skiers cross a slope of fresh snow in sun", 16.0, "skier", 12.0, 30.0, 1.8, 85),
    Scene("Bread is laid out on a stall under an awning", 12.0, "baker's hands", 0.3, 1.5, 0.3, 50),
    Scene("A cyclist passes below a cloudy sky", 13.0, "cyclist", 6.0, 12.0, 1.8, 50),
    Scene("Two people talk in the open shade of a barn", 11.5, "speaker", 0.2, 2.5, 0.5, 85),
    Scene("A harbour just after sunset", 10.0, "boat", 1.5, 25.0, 6.0, 35),
    Scene("A cook works under kitchen lamps", 8.0, "cook", 0.8, 2.0, 0.5, 35, True),
    Scene("People walk a lit street at night", 7.5, "walker", 1.4, 6.0, 0.6, 35, True),
    Scene("A fiddler plays in a living room", 6.0, "fiddler", 0.5, 2.5, 0.6, 50, True),
    Scene("A smith strikes iron by the light of the forge", 5.5, "hammer", 3.0, 3.0, 0.4, 35),
    Scene("A floodlit tower across the river", 4.0, "tower", 0.0, 200.0, 40.0, 85),
    Scene("A child reads by a window on a dull day", 8.5, "child", 0.1, 1.8, 0.4, 50),
)
FACE = Reading(name="face", stops=1.3, surface=Surface.LIGHT_SKIN, key=True)


# No two days are alike: a scene is met a little brighter or darker.
_BRIGHTER = (-0.7, -0.3, 0.0, 0.3, 0.7)


def pick(random: Random, scenes: Sequence[Scene] = SCENES) -> Scene:
    """One of some scenes, a little brighter or darker than usual."""
    scene = random.choice(scenes)
    return replace(scene, light_ev=round(scene.light_ev + random.choice(_BRIGHTER), 1))


def setup_of(scene: Scene, **changes: Any) -> Setup:
    """A scene as a setup on the practice camera, at 25 fps and half the period."""
    base: dict[str, Any] = {
        "title": scene.words,
        "project_fps": 25,
        "mains_hz": 50,
        "light": Ev100(scene.light_ev),
        "subject": scene.subject,
        "subject_speed_m_s": scene.speed_m_s,
        "subject_distance_m": scene.distance_m,
        "subject_size_m": scene.size_m,
        "body": BODY,
        "lens": LENS,
        "profile": VIDEO,
        "glass": ND,
        "focal_mm": scene.focal_mm,
        "frame_rate": 25,
        "shutter": Shutter(angle_deg=180),
        "iris": 4.0,
        "iso": 400,
        "readings": (FACE,),
        "mains_lamps": scene.lamps,
    }
    return Setup(**{**base, **changes})


def offers_of(setup: Setup) -> dict[str, Offer]:
    """The marks of everything that may be turned."""
    return {
        "frame_rate": frame_rate_offer(setup),
        "shutter": shutter_offer(setup),
        "iris": iris_offer(setup),
        "iso": iso_offer(setup),
        "nd_density": nd_offer(setup, own_rack(setup).stacks),
    }


def error_of(setup: Setup) -> float:
    """How far the light of a setup is off, in stops."""
    return light_budget(setup).error_stops


def at_nominal(setup: Setup) -> Setup:
    """The setup in a light that puts grey at its mark."""
    over = light_budget(setup).exposure_stops
    return replace(setup, light=Ev100(ev100_of(setup.light) - over))


def in_balance(setup: Setup) -> Setup:
    """The setup in a light that its way of exposing asks for."""
    return replace(setup, light=Ev100(ev100_of(setup.light) - error_of(setup)))


MOST_ISO_WITH_ND = 800


def balanced(setup: Setup, random: Random) -> Setup | None:
    """The setup with iris, ISO and ND at marks that balance it; None where none of them do."""
    offers = offers_of(setup)
    irises = [o.value for o in offers["iris"].options if 2.0 <= o.value <= 16]
    isos = [o.value for o in offers["iso"].options if o.value <= setup.body.iso_ceiling]
    glass = [o.value for o in offers["nd_density"].options]
    random.shuffle(irises)
    for iris in irises:
        for iso in random.sample(isos, len(isos)):
            bare = replace(setup, iris=iris, iso=iso, nd_density=0.0)
            over = error_of(bare)
            # Nobody puts glass on and turns the ISO up to see through it.
            if over > 0.5 and iso > MOST_ISO_WITH_ND:
                continue
            near = min(glass, key=lambda d: abs(density_to_stops(d) - over))
            if abs(density_to_stops(near) - over) <= 0.15:
                return replace(bare, nd_density=near)
    return None
