"""What a person asked for in numbers: how far a setup misses it, in words.

How much of a miss counts as met is the same here as in the search (``cost``).
"""

from collections.abc import Iterator
from math import log2

from fotonomy.core.analysis.kind_wants import is_unasked_angle, wanted_time
from fotonomy.core.analysis.setup import Analysis
from fotonomy.core.constants import (
    AIM_MET_STOPS,
    BALANCED_WITHIN_STOPS,
    DEPTH_MET_STOPS,
    LIMIT_MET_STOPS,
)
from fotonomy.core.notation import writing as n
from fotonomy.core.optics.star_trails import trail_mm


def unmet_wishes(analysis: Analysis) -> tuple[str, ...]:
    """Sentences without their full stop: the wish, and what it comes to; none where all are met."""
    return (
        *_smear(analysis), *_depth(analysis), *_stars(analysis), *_time(analysis),
        *_angle(analysis), *_light(analysis),
    )  # fmt: skip


def _time(analysis: Analysis) -> Iterator[str]:
    """The time that a run or a long exposure wants, where it is missed by more than its share."""
    setup, wanted = analysis.setup, wanted_time(analysis.setup)
    if wanted is None:
        return
    if wanted.will_do(setup.time_s):
        return
    aim = wanted.low_s if setup.time_s < wanted.low_s else wanted.high_s
    yield f"{n.format_time(aim)} ({wanted.why}) cannot be had: it is {n.format_time(setup.time_s)}"


def _angle(analysis: Analysis) -> Iterator[str]:
    setup = analysis.setup
    if is_unasked_angle(setup):
        look = setup.intent.look
        yield (
            f"{look.brief.capitalize()} ({look.angle_deg:g}°) cannot be had: "
            f"{n.format_time(setup.time_s)} is "
            f"{n.format_number(setup.shutter.degrees(setup.frame_rate))}°"
        )


def _light(analysis: Analysis) -> Iterator[str]:
    error = analysis.budget.error_stops
    if abs(error) > BALANCED_WITHIN_STOPS:
        side = "bright" if error > 0 else "dark"
        yield f"It comes out {n.format_stops(error)} too {side}"


def _smear(analysis: Analysis) -> Iterator[str]:
    intent, moved = analysis.setup.intent, analysis.motion
    if moved.crossing_s is None or moved.smear_px <= 0:
        return
    most, aim = intent.freeze_px, intent.smear_percent
    if most is not None and log2(moved.smear_px / most) > LIMIT_MET_STOPS:
        yield (
            f"A smear of at most {n.format_number(most)} px cannot be had: it is "
            f"{n.format_number(moved.smear_px)} px"
        )
    if aim is not None and abs(log2(moved.smear_percent / aim)) > AIM_MET_STOPS:
        yield (
            f"A smear of {n.format_number(aim, 2)} % cannot be had: it is "
            f"{n.format_number(moved.smear_percent, 2)} %"
        )


def _depth(analysis: Analysis) -> Iterator[str]:
    wanted, have = analysis.setup.intent.depth_m, analysis.focus.depth_m
    if wanted is not None and have < wanted / 2**DEPTH_MET_STOPS:
        yield (
            f"A depth of {n.format_length(wanted)} cannot be had: {n.format_length(have)} are sharp"
        )


def _stars(analysis: Analysis) -> Iterator[str]:
    setup, run = analysis.setup, analysis.setup.run
    if run.declination_deg is None or not setup.records_stills:
        return
    trail_px = (
        trail_mm(setup.focal_mm, setup.time_s, run.declination_deg) / setup.delivered_pitch_mm
    )
    if trail_px > 0 and log2(trail_px / run.star_px) > LIMIT_MET_STOPS:
        yield (
            f"Stars of at most {n.format_number(run.star_px)} px cannot be had: they trail "
            f"{n.format_number(trail_px)} px"
        )
