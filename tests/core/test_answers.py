"""What the core answers, beside what it answered before: nothing changes unseen.

These tests say that an answer is another, not that it is right: right is held elsewhere, by hand
and against sources. Where a change is meant, ``FOTONOMY_RENEW=1 pytest tests/core/test_answers.py``
writes the answers anew, and their difference is read before it is committed.
"""

from collections.abc import Callable, Iterator
from dataclasses import replace
from datetime import timedelta
from typing import Any

import numpy as np
import pytest

from fotonomy.core.analysis.setup import analyse
from fotonomy.core.analysis.supplies import supplies_of
from fotonomy.core.compare.exposure_methods import compare_methods
from fotonomy.core.compare.low_light import low_light
from fotonomy.core.compare.profiles import compare_profiles
from fotonomy.core.day.advice import Exposed, advice
from fotonomy.core.day.almanac import almanac, day_of
from fotonomy.core.day.conflicts import conflicts
from fotonomy.core.day.direction import FieldOfView
from fotonomy.core.day.outline import read_outline
from fotonomy.core.day.sun_on_subject import look_at
from fotonomy.core.day.tasks import Task, charge_min
from fotonomy.core.day.windows import Wish, windows
from fotonomy.core.drill.exercise import LEVELS
from fotonomy.core.drill.exercise_kind import ExerciseKind
from fotonomy.core.drill.generate import exercise
from fotonomy.core.errors import RuleError
from fotonomy.core.exposure.metering import claims
from fotonomy.core.field.checklist import checklist
from fotonomy.core.field.relight import worked_out_ahead
from fotonomy.core.gear.accessories import Battery, Card, Feed, Heater
from fotonomy.core.gear.filters import Filter, FilterKind
from fotonomy.core.gear.support import Support
from fotonomy.core.kinds import rules_of
from fotonomy.core.motion.camera_movement import Camera, Movement
from fotonomy.core.motion.shutter import Shutter
from fotonomy.core.notation import writing
from fotonomy.core.parsing.table import by_name
from fotonomy.core.photometry.exposure_value import Ev100
from fotonomy.core.pictures.frame_levels import Area, FileCurve
from fotonomy.core.pictures.patches import noise_in, sharpness_in, tiles_of
from fotonomy.core.pictures.points import points_of, trails_of
from fotonomy.core.plan import plan
from fotonomy.core.planner.exposure_modes import mode_advice
from fotonomy.core.planner.plans import solve
from fotonomy.core.planner.presets import preset_for
from fotonomy.core.sky.horizon import Horizon, HorizonPoint
from fotonomy.core.sky.light import PlaceLight
from fotonomy.core.spec.intent import Circle, ExposureMethod, Handheld, Intent, Look, WhiteMethod
from fotonomy.core.spec.kind import Kind
from fotonomy.core.spec.readings import Reading, Shape, Surface
from fotonomy.core.spec.schedule import Wanted
from fotonomy.core.spec.setup import Setup
from fotonomy.core.spec.stills import Combining, Follows, LightPoint, Ramp
from fotonomy.core.takes.actual import actual_of
from fotonomy.core.takes.matching import Taken, clock_offset, match
from fotonomy.core.working.explain import all_workings, working_of
from fotonomy.core.working.written import as_text
from fotonomy.simulators.dry_run import Fault
from tests.core.examples import FLAT, LENS, ND, VIDEO, setup
from tests.core.run_examples import CAM, CARD, CELL, PLAIN, burst, interval, long_exposure
from tests.core.test_day import MIDNIGHT, SKY, block, day_plan, window
from tests.core.test_weather import spell, weather_from
from tests.flat import is_as_before
from tests.simulators.test_dry_run import carried_out, taught_by

FIELD_OF = FieldOfView(54.0, 38.0)
TONES = (
    Reading(name="face", stops=1.2, surface=Surface.LIGHT_SKIN, key=True, share_percent=9),
    Reading(name="sky", stops=3.9, shape=Shape.BAND, y_percent=12, surface=Surface.SKY),
    Reading(name="coat", stops=-3.4, surface=Surface.DARK_CLOTH, share_percent=14, x_percent=30),
    Reading(name="lamp", stops=6.5, shape=Shape.LAMP, share_percent=0.8, may_clip=True,
            source_k=2900),
)  # fmt: skip
MIXED = {"readings": TONES, "source_k": 5200.0}
VARIABLE = Filter(
    name="Variable", kind=FilterKind.VARIABLE_ND, stops=1.0, most_stops=8.0, thread_mm=67
)
POLARISER = Filter(name="Polariser", kind=FilterKind.POLARISER, stops=1.5, thread_mm=67)
PACK = Battery(name="Pack", energy_wh=95, external=True, loss_percent=10)
LITTLE = Battery(name="Little", energy_wh=26, external=True)
BAND = Heater(name="Band", power_w=6, fed_by=Feed.PACK)
SMALL = Card(name="Small", size_gb=8, write_mb_s=20)
RISING = tuple(LightPoint(after_s=600.0 * k, ev100=5.0 - 1.6 * k) for k in range(6))

# One of a kind each, and each with something that is wrong with it.
BASES: dict[str, Setup] = {
    "plain": setup(**MIXED),
    "fast subject": setup(subject_speed_m_s=6.0, mains_lamps=True, subject_size_m=1.6, **MIXED),
    "panned wide": setup(
        focal_mm=24, lens=replace(LENS, focal_shortest_mm=16, focal_longest_mm=35, stabiliser_stops=3),
        movement=Movement(camera=Camera.PAN, pan_deg_s=22, heading_deg=40), support=Support.HAND,
        glass=(*ND, VARIABLE), nd_density=2.1, light=Ev100(14.5),
    ),
    "slow motion in a hall": setup(
        kind=Kind.SLOW_MOTION, frame_rate=100, light=Ev100(7.3), mains_lamps=True, iso=3200,
        nd_density=0.0, iris=2.0, intent=Intent(exposing=ExposureMethod.SKIN, look=Look.OPEN), **MIXED,
    ),
    "near and deep": setup(
        subject_distance_m=0.6, subject_depth_m=0.12, iris=16, light=Ev100(13.8), iso=100,
        intent=Intent(depth_m=0.4, circle=Circle.TWO_PIXELS, exposing=ExposureMethod.HIGHLIGHTS),
        filters=(POLARISER,),
    ),
    "video at night": setup(
        profile=VIDEO, light=Ev100(1.0), iso=12_800, nd_density=0.0, iris=1.8, white_k=3200,
        shutter=Shutter(time_s=1 / 25), intent=Intent(white_school=WhiteMethod.LAMP), **MIXED,
    ),
    "a day to a night": interval(
        run={"light_curve": RISING, "ramp": Ramp.PLANNED, "event_s": 3000.0, "ramp_lift": True,
             "temperature_c": -12.0}, devices=(PLAIN, SMALL, CELL, BAND), packed_devices=(PACK, CARD),
    ),
    "stars": interval(
        frame_rate=1 / 20, shutter=Shutter(time_s=15), light=Ev100(-6), iso=3200, iris=1.8,
        nd_density=0.0, run={"declination_deg": -20.0, "event_s": 7200.0, "noise_frames": True,
                             "follows": Follows.CLIP}, devices=(PLAIN, CARD, CELL, PACK, BAND),
    ),
    "floating ramp": interval(run={"light_curve": RISING, "ramp": Ramp.FLOATING, "event_s": 3000.0}),
    "gull": burst(run={"moment_s": 0.04, "burst_s": 4.0, "continuous_focus": True}),
    "gull by hand": burst(support=Support.HAND, subject_speed_m_s=25.0, light=Ev100(10)),
    "boats": long_exposure(run={"frames": 4, "combining": Combining.LATER, "passes_s": 40.0,
                                "trail_percent": 60.0}),
    "added": long_exposure(run={"frames": 4, "combining": Combining.ADDITIVE}, light=Ev100(4.0)),
}  # fmt: skip


def told(spec: Setup) -> dict[str, Any]:
    """What a plan says: its strip, its findings, what is done before pressing."""
    made = plan(spec)
    return {"strip": made.readout, "findings": made.findings, "cautions": made.cautions,
            "checks": checklist(made.analysis)}  # fmt: skip


@pytest.mark.parametrize("name", BASES)
def test_every_number_of_a_plan(name: str) -> None:
    spec = BASES[name]
    is_as_before(f"plan-{name.replace(' ', '-')}", {
        "analysis": analyse(spec), **told(spec), "supplies": supplies_of(spec),
        "modes": mode_advice(analyse(spec)), "claims": claims(spec.readings, analyse(spec).level, analyse(spec).budget.exposure_stops),
    })  # fmt: skip


def swept() -> dict[str, Setup]:
    """The plain setup and the run, with one thing after another turned far up and far down."""
    found: dict[str, Setup] = {}
    plain: dict[str, tuple[Any, ...]] = {
        "iris": (1.8, 4.0, 11.0, 22.0), "iso": (50, 100, 640, 2500, 3200, 25_600, 102_400),
        "frame_rate": (24, 48, 50, 100, 200), "nd_density": (0.0, 0.3, 1.8, 3.6),
        "light": tuple(Ev100(ev) for ev in (-4, 2, 8, 11.3, 15, 17)), "project_fps": (24, 30, 60),
        "shutter": (*(Shutter(angle_deg=a) for a in (11.25, 90, 360)),
                    *(Shutter(time_s=t) for t in (1 / 8000, 1 / 60, 1 / 24, 2))),
        "subject_speed_m_s": (0.4, 3.0, 14.0, 60.0), "white_k": (2800, 4300, 9000),
        "subject_distance_m": (0.3, 1.2, 25.0, 900.0), "subject_size_m": (0.02, 3.0),
        "wanted_screen_s": (0.3, 90.0, 3000.0), "recording": ("HD crop",), "mains_hz": (60,),
        "support": tuple(Support), "lamp_hz": (90.0, 20_000.0), "light_change_stops": (0.5, 4.0),
        "held": (frozenset({"iris", "iso"}), frozenset()), "readings": (TONES, ()),
        "movement": tuple(
            Movement(camera=camera, heading_deg=heading, pan_deg_s=30, travel_m_s=4)
            for camera in Camera for heading in (0, 60)
        ),
        "intent": (
            *(Intent(exposing=one) for one in ExposureMethod), *(Intent(look=one) for one in Look),
            *(Intent(handheld=one) for one in Handheld), *(Intent(white_school=one) for one in WhiteMethod),
        ),
    }  # fmt: skip
    for name, values in plain.items():
        for k, value in enumerate(values):
            found[f"{name} {k}"] = replace(setup(mains_lamps=True, **MIXED), **{name: value})
    runs: dict[str, tuple[Any, ...]] = {
        "event_s": (20.0, 600.0, 90_000.0), "follows": tuple(Follows), "noise_frames": (True,),
        "self_timer_s": (2.0, 10.0), "start_after_s": (0.0, 90.0), "temperature_c": (-30.0, 40.0),
        "declination_deg": (0.0, 70.0), "ramp": tuple(Ramp),
    }  # fmt: skip
    for name, values in runs.items():
        for k, value in enumerate(values):
            more = {"light_curve": RISING} if name == "ramp" else {}
            found[f"run {name} {k}"] = interval(run={name: value, **more})
    for k, (wh, more) in enumerate(
        ((8, (PACK, LITTLE)), (14, (CELL, PACK)), (30, (LITTLE, PACK)), (3, ()), (20, (CELL,)))
    ):
        weak = Battery(name="Weak", energy_wh=wh)
        for temperature in (20.0, -15.0):
            found[f"power {k} {temperature}"] = interval(
                frame_rate=1 / 30, devices=(PLAIN, CARD, weak, BAND), packed_devices=more,
                run={"temperature_c": temperature, "event_s": 14_400.0},
            )  # fmt: skip
    for k, one in enumerate(swept_runs()):
        found[f"run of one kind {k}"] = one
    for kind in Kind:
        found[f"kind {kind.value}"] = replace(setup(body=CAM, **MIXED), kind=kind)
    return found


def swept_runs() -> Iterator[Setup]:
    """Runs, bursts and long exposures with one thing after another turned."""
    for seconds in (1.0, 2.0, 4.0, 45.0, 600.0):
        for shutter in (0.02, 0.8 * seconds, 1.1 * seconds):
            yield interval(frame_rate=1 / seconds, shutter=Shutter(time_s=shutter))
    for wanted, follows in (
        (2.0, Follows.INTERVAL),
        (400.0, Follows.INTERVAL),
        (0.05, Follows.CLIP),
    ):
        yield interval(wanted_screen_s=wanted, run={"follows": follows, "event_s": 900.0})
    for moment in (0.01, 0.1, 0.4):
        for rate in (5, 12, 60):
            yield burst(
                frame_rate=rate, run={"moment_s": moment, "burst_s": 6.0, "bursts_an_hour": 90.0}
            )
    for combining in Combining:
        for frames, time_s in ((1, 4.0), (3, 15.0), (9, 40.0)):
            yield long_exposure(
                shutter=Shutter(time_s=time_s), light=Ev100(3.0),
                run={"combining": combining, "frames": frames, "passes_s": 30.0, "trail_percent": 45.0},
            )  # fmt: skip
    for seconds in (1.0, 0.999, 2.0):
        yield setup(frame_rate=1 / seconds, body=CAM, wanted_screen_s=40.0)
    for iris in (11, 16, 22):
        yield setup(iris=iris, light=Ev100(15), body=CAM, intent=Intent(depth_m=2.0))
    for density in (0.6, 1.5, 2.1, 2.4):
        for focal in (27.9, 28.0, 50.0):
            yield setup(nd_density=density, glass=(VARIABLE,), focal_mm=focal,
                        lens=replace(LENS, focal_shortest_mm=20, focal_longest_mm=70))  # fmt: skip


@pytest.mark.parametrize("name", ["a day to a night", "stars", "gull", "boats", "added"])
def test_dry_runs_and_their_lessons(name: str) -> None:
    spec = BASES[name]
    analysis, rules = analyse(spec), rules_of(spec).dry_run
    assert rules is not None
    schedule = rules.schedule(analysis)
    found: dict[str, Any] = {"schedule": schedule}
    for faults in ((), *((one,) for one in Fault)):
        dry, verdict = carried_out(spec, *faults, seed=3)
        found[" ".join(faults) or "none"] = {
            "verdict": verdict, "lessons": taught_by(spec, dry, verdict),
        }  # fmt: skip
    is_as_before(f"dry-run-{name.replace(' ', '-')}", found)


def test_what_is_said_of_many_setups() -> None:
    is_as_before("swept", {
        name: {"said": [f"{f.id} {f.number:.3g}" for f in plan(spec).findings], **told(spec)}
        for name, spec in swept().items()
    })  # fmt: skip


@pytest.mark.parametrize("name", list(BASES)[:8])
def test_what_the_planner_offers(name: str) -> None:
    spec = BASES[name]
    free = replace(
        spec,
        held=frozenset({"frame_rate"}),
        packed_lenses=(replace(LENS, name="Fast", widest_f=1.2),),
    )
    is_as_before(f"planner-{name.replace(' ', '-')}", {
        "held": solve(spec), "free": solve(free), "far": solve(replace(free, light=Ev100(-3.0))),
    })  # fmt: skip


def test_other_light_at_the_spot() -> None:
    names = ("plain", "fast subject", "a day to a night", "gull", "boats")
    is_as_before("relit", {name: worked_out_ahead(BASES[name]) for name in names})


def test_what_is_compared() -> None:
    spec = BASES["plain"]
    is_as_before("compared", {
        "methods": compare_methods(spec), "profiles": compare_profiles(spec, (FLAT, VIDEO)),
        "low light": low_light(BASES["slow motion in a hall"], (FLAT, VIDEO)),
        "presets": {f"{kind.value} {moving}": preset_for(spec, kind, moving)
                    for kind in Kind for moving in (True, False)},
    })  # fmt: skip


@pytest.mark.parametrize("kind", ExerciseKind)
def test_what_is_asked(kind: ExerciseKind) -> None:
    found: dict[str, Any] = {}
    for level in LEVELS:
        for seed in (1, 2):
            made = exercise(kind, level, seed)
            found[f"{level} {seed}"] = made
            for guess in ("1", "2", "0.5", "100", "f/4", "1/50"):
                try:
                    found[f"{level} {seed} {guess}"] = made.grade({"answer": guess})
                except (RuleError, LookupError) as error:
                    found[f"{level} {seed} {guess}"] = str(error)
    is_as_before(f"exercise-{kind.value}", found)


def test_a_day() -> None:
    light = PlaceLight(SKY, 2.0, 4.0)
    land = Horizon(
        (HorizonPoint(20, 6), HorizonPoint(80, 14), HorizonPoint(200, 2), HorizonPoint(310, 9))
    )
    hours = [MIDNIGHT + timedelta(hours=h) for h in range(0, 24, 3)]
    blocks = (
        block(1, 7.0), block(2, 7.2, body="B"), block(3, 9.0, place=2, shoot_min=200),
        block(4, 16.0, looks_deg=300.0, field=FIELD_OF, schedule={"wants": Wanted.DUSK},
              windows=(window(16.75, 17.5),)),
        block(5, 20.0, stars=True, kind=Kind.INTERVAL, schedule={"unattended": True}), block(6, None),
    )  # fmt: skip
    wishes = {
        wanted.value: Wish(wanted=wanted, ev100=9.0, at=hours[3], looks_deg=60.0)
        for wanted in Wanted
    }
    is_as_before("day", {
        "light": [light.at(when) for when in hours],
        "almanac": almanac(SKY, land, day_of(MIDNIGHT)),
        **{f"windows {name}": windows(wish, light, land) for name, wish in wishes.items()},
        "sun": [look_at(SKY, land, when, 300.0, FIELD_OF) for when in hours],
        "conflicts": conflicts(day_plan(*blocks)),
        "outline": read_outline("1 Harbour\nWide of the quay at dawn\nClose: hands, rope\n2 Saw\nslow motion chips"),
        "outline rows": read_outline(
            "scene,title,size,kind,story\n1 Quay,Boats,wide,real time,dawn\n1,,close,,\n"
            "2A,Saw,,slow motion,\n,Loose,,,\n"
        ),
        "outline shots": read_outline("scene;shot;code\n3;Hands, close;3A\n3;;\n4b The end;Wide of all;\n"),
        "charging": [charge_min(task(1, a), task(2, b)) for a, b in ((0.4, 0.5), (0.5, 0.5), (0.7, 0.9))],
        "late": [flight(h) for h in (6.5, 21.8)],
    })  # fmt: skip


def task(key: int, share: float) -> Task:
    return Task(key=key, name="", place=1, body="A", lens="", prepare_min=5, shoot_min=20, stays_min=20,
                allowed=((0, 900),), batteries=frozenset({"Cell"}), charge_share=share)  # fmt: skip


def flight(hour: float) -> Any:
    return conflicts(day_plan(block(1, hour), block(2, hour + 0.6, place=2)))


def test_advice_of_the_weather() -> None:
    spells = {
        "rain": spell(rain_percent=70.0, lowest_c=9.0, gust_m_s=7.0, wind_m_s=4.0),
        "storm": spell(rain_percent=20.0, lowest_c=3.0, gust_m_s=19.0, wind_m_s=12.0, oktas=7.0),
        "dew": spell(dew_spread_c=1.0, lowest_c=-9.0, oktas=1.0, most_oktas=6.0, wind_m_s=1.0),
    }  # fmt: skip
    is_as_before("weather", {
        f"{kind.value} {name}": advice(Exposed(kind=kind, planned_c=15.0, stars=stars), one)
        for kind in Kind for name, one in spells.items() for stars in (False, True)
    } | {"hours": weather_from(oktas=3, temperature_c=8.0).spell(window(0, 6))})  # fmt: skip


TYPED = {
    "light": ("9", "EV -2", "120 lux", "overcast", "f/4 1/60 ISO 400", "-1", "5 cd/m2", "deep shade"),
    "shutter": ("180", "1/50", "172.8°", "2 s", "1/2", "0.5", "1/3 s"),
    "iris": ("f/4", "5.6", "T2.1", "f 11"), "iso": ("100", "ISO 800", "12 800", "auto"),
    "frame_rate": ("25", "23.976", "120 fps", "every 6 s"), "nd_density": ("ND8", "0.9", "3 stops", "none"),
    "subject_speed_m_s": ("3", "10 km/h", "5 mph", "2 kn", "1,5"), "focal_mm": ("35", "50 mm"),
    "subject_distance_m": ("4", "80 cm", "6 ft", "2' 3\"", "1/2 m"), "white_k": ("5600", "3200 K", "tungsten"),
    "wanted_screen_s": ("10", "1 min", "0:20", "1/2 min"), "looks_deg": ("NW", "305", "12.5°"),
    "event_s": ("2 h", "1:30:00", "90 min", "45"), "passes_s": ("every 8 s", "120 an hour", "2 a minute", "0.001 an hour", "0.0005 an hour", "999999 an hour", "none"),
}  # fmt: skip


def test_what_typed_texts_mean() -> None:
    table, found = by_name(), {}
    for name, texts in TYPED.items():
        spec = BASES["boats"] if name == "passes_s" else BASES["plain"]
        for text in texts:
            if name not in table:
                continue
            try:
                found[f"{name}: {text}"] = table[name].read(spec, text)
            except RuleError as error:
                found[f"{name}: {text}"] = str(error)
    is_as_before("typed", found)


def test_how_numbers_are_written() -> None:
    numbers = (0.0, 0.004, 0.049, 0.51, 0.949, 0.951, 1.0, 1.5, 9.96, 59.6, 99.9, 100.4, 3599.0, 3661.0,
               86_399.0, 172_801.0, 1_234_567.0)  # fmt: skip
    one_number = [
        name for name in sorted(vars(writing)) if name.startswith("format_")
    ]  # fmt: skip
    found: dict[str, Any] = {}
    for name in one_number:
        function: Callable[..., Any] = getattr(writing, name)
        for value in numbers:
            try:
                found[f"{name} {value}"] = str(function(value))
            except (TypeError, ValueError, AttributeError, ArithmeticError) as error:
                found[f"{name} {value}"] = type(error).__name__
    is_as_before("written", found)


def test_workings_as_text() -> None:
    names = ("plain", "a day to a night", "gull", "boats")
    found: dict[str, Any] = {}
    for name in names:
        analysis = analyse(BASES[name])
        found |= {f"{name} {one}": as_text(working_of(analysis, one, levers=False))
                  for one in sorted(all_workings(analysis))}  # fmt: skip
    is_as_before("workings", found)


def test_pictures_that_came_home() -> None:
    """What runs of frames say is measured in parts of pixels that machines round otherwise."""
    random = np.random.default_rng(5)
    grey = np.clip(random.normal(118, 3.0, (400, 600)), 0, 255).astype(np.uint8)
    grey[:200] = np.clip(random.normal(60, 0.9, (200, 600)), 0, 255).astype(np.uint8)
    stars = np.full((300, 500), 12, dtype=np.uint8)
    for x, y, long in ((40, 40, 1), (200, 150, 6), (455, 20, 3), (250, 296, 2), (490, 280, 9),
                       (300, 6, 4), (120, 7, 4), (5, 120, 3), (6, 200, 3)):  # fmt: skip
        stars[y - 1 : y + 2, x - 1 : x + 1 + long] = 240
    tiles, points = tiles_of(grey), points_of(stars)
    areas = {"light": Area(5, 60, 90, 35), "dark": Area(5, 5, 90, 35)}
    noise = {f"{name} {curve.name}": noise_in(tiles, area, curve, FLAT)
             for name, area in areas.items() for curve in FileCurve}  # fmt: skip
    is_as_before("pictures", {
        "noise": noise, "points": points, "trails": trails_of(points),
        "sharp": [sharpness_in(tiles, area) for area in areas.values()],
    })  # fmt: skip


def test_takes_that_came_home() -> None:
    spec = BASES["plain"]
    planned = {
        "iris": "f/5.6",
        "iso": "500",
        "shutter": "180°",
        "white_k": "5600 K",
        "frame_rate": "25",
    }
    done = {"iris": "f/4", "iso": "640", "shutter": "90°", "white_k": "3200 K", "frame_rate": "50"}
    takes = [Taken(str(k), 300.0 * k, 12.0) for k in range(6)]
    shot = [300.0 * k + 3600.0 + 5 for k in range(6)]
    is_as_before("takes", {
        "actual": actual_of(spec, planned, done), "same": actual_of(spec, planned, {}),
        "offset": clock_offset(shot, takes), "two days": clock_offset([s + 46.9 * 3600 for s in shot], takes),
        "beyond": clock_offset([s + 49 * 3600 for s in shot], takes),
        "matches": [match(at, takes) for at in (0.0, 299.0, 700.0, 1411.0, 1605.0, 9000.0)],
    })  # fmt: skip
