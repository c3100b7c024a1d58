"""Twelve lessons in the order people decide: one idea, one drawing, three exercises."""

from collections.abc import Callable
from dataclasses import dataclass, replace
from math import log2
from typing import Any

from fotonomy.core.drill.exercise_kind import ExerciseKind
from fotonomy.core.drill.kinds.runs import run_of
from fotonomy.core.drill.scenes import SCENES, setup_of
from fotonomy.core.motion.shutter import Shutter
from fotonomy.core.notation import writing as n
from fotonomy.core.photometry.exposure_value import Ev100
from fotonomy.core.sky.light import clear_sky_ev
from fotonomy.core.spec.setup import Setup
from fotonomy.core.tiles import Tile


@dataclass(frozen=True, slots=True)
class Stop:
    """One place of a slider: its text, and the setup there."""

    text: str
    setup: Setup


@dataclass(frozen=True, slots=True)
class Lesson:
    """One lesson. ``idea`` is what is learnt, in a few sentences; ``slider`` is what one moves.

    ``stops`` are the places of the slider, ``first`` where it stands. ``shows`` names the number
    to watch. ``exercises`` are three by kind, level and seed.
    """

    key: str
    title: str
    idea: tuple[str, ...]
    slider: str
    stops: tuple[Stop, ...]
    first: int
    tile: Tile
    shows: tuple[str, ...]
    exercises: tuple[tuple[ExerciseKind, int, int], ...]


def _stops(
    base: Setup,
    values: tuple[Any, ...],
    text: Callable[[Any], str],
    changes: Callable[[Any], dict[str, Any]],
) -> tuple[Stop, ...]:
    return tuple(Stop(text(value), replace(base, **changes(value))) for value in values)


def _lessons() -> tuple[Lesson, ...]:
    cyclist, bread, smith, quay = SCENES[3], SCENES[2], SCENES[9], SCENES[0]
    moving = setup_of(cyclist, iris=5.6, iso=100, nd_density=0.9)
    close = setup_of(bread, iris=4.0, iso=100, nd_density=0.9)
    dark = setup_of(smith, iris=2.0, iso=1600)
    sun = setup_of(quay, iris=2.8, iso=100)
    clip = setup_of(bread, iris=4.0, iso=100, nd_density=0.9)
    run = run_of()
    angles = (45.0, 90.0, 180.0, 270.0, 360.0)
    return (
        Lesson(
            "moving",
            "Does it move?",
            (
                "Ask this first: it decides what you hold.",
                "What moves fast smears while the shutter is open. If it moves, hold the shutter; "
                "if it stands still, hold the iris.",
            ),
            "Speed",
            _stops(
                moving,
                (0.0, 1.0, 3.0, 6.0, 12.0),
                lambda v: f"{v:g} m/s",
                lambda v: {"subject_speed_m_s": v},
            ),
            2,
            Tile.MOTION,
            ("motion.smear_percent",),
            (
                (ExerciseKind.WILL_IT, 1, 1),
                (ExerciseKind.WHICH_ONE, 1, 2),
                (ExerciseKind.HOLD_OR_FLOAT, 1, 3),
            ),
        ),
        Lesson(
            "rate",
            "Frame rate",
            (
                "More frames a second make smaller steps, and can be slowed down.",
                "At the same angle each frame gets less light: twice the rate is a stop.",
            ),
            "Frame rate",
            _stops(
                moving,
                (24.0, 25.0, 50.0, 100.0, 120.0),
                lambda v: f"{v:g} fps",
                lambda v: {"frame_rate": v},
            ),
            1,
            Tile.MOTION,
            ("motion.step_percent", "budget.lines.shutter.stops"),
            (
                (ExerciseKind.WHAT_PAYS, 1, 1),
                (ExerciseKind.WHICH_ONE, 1, 5),
                (ExerciseKind.WHAT_PAYS, 2, 2),
            ),
        ),
        Lesson(
            "shutter",
            "Shutter",
            (
                "Half the frame's time, 180°, looks natural: the smear is half of the step.",
                "Shorter is crisp and may strobe; longer smears.",
            ),
            "Shutter",
            _stops(
                moving, angles, lambda v: f"{v:g}°", lambda v: {"shutter": Shutter(angle_deg=v)}
            ),
            2,
            Tile.MOTION,
            ("setup.time_s", "motion.gap_percent"),
            (
                (ExerciseKind.WHICH_ONE, 1, 4),
                (ExerciseKind.WILL_IT, 1, 4),
                (ExerciseKind.WILL_IT, 2, 5),
            ),
        ),
        Lesson(
            "iris",
            "Iris",
            (
                "A wide iris gives light and takes depth: little is sharp, the background is soft.",
                "Each full mark, f/2.8, f/4, f/5.6, halves the light.",
            ),
            "Iris",
            _stops(
                close, (1.8, 2.8, 4.0, 5.6, 8.0, 11.0, 16.0), n.format_iris, lambda v: {"iris": v}
            ),
            2,
            Tile.FOCUS,
            ("focus.depth_m", "budget.lines.iris.stops"),
            (
                (ExerciseKind.HOW_MANY_STOPS, 1, 1),
                (ExerciseKind.WHICH_ONE, 1, 3),
                (ExerciseKind.HOW_MANY_STOPS, 1, 2),
            ),
        ),
        Lesson(
            "iso",
            "ISO",
            (
                "ISO turns up what the sensor caught. It makes nothing brighter in the scene.",
                "Twice the ISO is a stop more, and the shadows come nearer to the noise.",
            ),
            "ISO",
            # The darker the scene, the higher the ISO that balances it.
            _stops(
                dark,
                (200, 400, 800, 1600, 3200, 6400),
                lambda v: f"ISO {v}",
                lambda v: {"iso": v, "light": Ev100(round(smith.light_ev - log2(v / 1600), 2))},
            ),
            3,
            Tile.NOISE,
            ("noise.looks_like_iso", "budget.lines.iso.stops"),
            (
                (ExerciseKind.WHICH_ONE, 1, 1),
                (ExerciseKind.HOW_MANY_STOPS, 2, 3),
                (ExerciseKind.SET_IT, 1, 1),
            ),
        ),
        Lesson(
            "nd",
            "Grey filters",
            (
                "In sun a wide iris and half the period do not go together without ND.",
                "Put on what is left over: ND 0.3 is a stop, ND 0.9 three, ND 1.8 six.",
            ),
            "ND",
            _stops(
                sun,
                (0.0, 0.6, 0.9, 1.8, 2.1, 2.4),
                lambda v: "none" if not v else f"ND {v:g}",
                lambda v: {"nd_density": v},
            ),
            0,
            Tile.LIGHT,
            ("budget.error_stops", "budget.lines.nd.stops"),
            (
                (ExerciseKind.ND_FOR_THIS, 1, 1),
                (ExerciseKind.ND_FOR_THIS, 1, 2),
                (ExerciseKind.SET_IT, 2, 2),
            ),
        ),
        Lesson(
            "placement",
            "Where tones land",
            (
                "Each profile records grey and skin at levels of its own.",
                "More light lifts all of them, until the brightest clips.",
            ),
            "Light",
            _stops(
                close,
                (10.0, 11.0, 12.0, 13.0, 14.0),
                lambda v: f"EV {v:g}",
                lambda v: {"light": Ev100(v)},
            ),
            2,
            Tile.LEVEL,
            ("level.key.percent", "level.room_left_stops"),
            (
                (ExerciseKind.PLACE_THE_FACE, 1, 1),
                (ExerciseKind.PLACE_THE_FACE, 2, 2),
                (ExerciseKind.METHOD, 1, 1),
            ),
        ),
        Lesson(
            "white",
            "White balance",
            (
                "Tell the camera the colour of the light, and lock it before you roll.",
                "Set higher than the light is, the picture turns warm; lower, cold.",
            ),
            "White",
            _stops(
                replace(close, source_k=5600.0),
                (3200, 4300, 5000, 5600, 6500, 7500),
                lambda v: f"{v} K",
                lambda v: {"white_k": float(v)},
            ),
            1,
            Tile.WHITE,
            ("white.off_mired",),
            (
                (ExerciseKind.NAME_THE_DANGER, 1, 1),
                (ExerciseKind.READ_THE_LIGHT, 1, 1),
                (ExerciseKind.NAME_THE_DANGER, 1, 2),
            ),
        ),
        Lesson(
            "clip",
            "How long",
            (
                "Seconds on screen make frames, frames make gigabytes.",
                "Add a handle before and after, or the edit has nothing to cut into.",
            ),
            "On screen",
            _stops(
                clip,
                (2.0, 5.0, 10.0, 30.0, 60.0, 300.0),
                n.format_duration,
                lambda v: {"wanted_screen_s": v},
            ),
            1,
            Tile.CLIP,
            ("clip.record_s", "clip.size_mb"),
            (
                (ExerciseKind.INTERVAL_FOR_THAT, 2, 1),
                (ExerciseKind.INTERVAL_FOR_THAT, 3, 2),
                (ExerciseKind.NAME_THE_DANGER, 1, 3),
            ),
        ),
        Lesson(
            "interval",
            "Intervals",
            (
                "Event, interval and clip belong together: two of them give the third.",
                "N frames have N − 1 spaces between them.",
            ),
            "Interval",
            _stops(
                run,
                (1.0, 2.0, 3.0, 6.0, 10.0, 15.0),
                lambda v: f"{v:g} s",
                lambda v: {"frame_rate": 1 / v},
            ),
            3,
            Tile.RUN,
            ("run.covers_s", "clip.speed_percent"),
            (
                (ExerciseKind.INTERVAL_FOR_THAT, 1, 1),
                (ExerciseKind.SPOT_THE_PROGRAM, 1, 1),
                (ExerciseKind.STARS, 1, 1),
            ),
        ),
        Lesson(
            "day",
            "The day",
            (
                "Light comes and goes by the clock: fixed windows first, then what can wait.",
                "While the sun sinks its light goes slowly, then by a stop every few minutes.",
            ),
            "Sun's height",
            _stops(
                close,
                (60.0, 30.0, 15.0, 5.0, 0.0, -3.0, -6.0),
                lambda v: f"{v:g}°",
                lambda v: {"light": Ev100(round(clear_sky_ev(v), 2))},
            ),
            1,
            Tile.LIGHT,
            ("budget.ev100", "budget.error_stops"),
            (
                (ExerciseKind.PLAN_A_DAY, 1, 1),
                (ExerciseKind.READ_THE_LIGHT, 1, 3),
                (ExerciseKind.PLAN_A_DAY, 2, 2),
            ),
        ),
        Lesson(
            "log",
            "The log",
            (
                "Write down what was really set, and which take was good.",
                "What differs from the plan is told in stops; from that you learn your own limits.",
            ),
            "ISO that was set",
            _stops(
                dark,
                (800, 1000, 1250, 1600, 2000, 3200),
                lambda v: f"ISO {v}",
                lambda v: {"iso": v},
            ),
            3,
            Tile.LIGHT,
            ("budget.error_stops", "level.key.percent"),
            (
                (ExerciseKind.HOW_MANY_STOPS, 2, 5),
                (ExerciseKind.NAME_THE_DANGER, 2, 4),
                (ExerciseKind.SPOT_THE_PROGRAM, 2, 3),
            ),
        ),
    )


LESSONS = _lessons()
BY_KEY = {one.key: one for one in LESSONS}
