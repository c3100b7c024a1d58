"""What a person asked for in numbers: how far a setup misses it, in words.

How much of a miss counts as met is the same here as in the search (``cost``).
"""

from collections.abc import Iterator
from math import log2

from fotonomy.core.analysis.setup import Analysis
from fotonomy.core.notation import writing as n
from fotonomy.core.optics.star_trails import trail_mm
from fotonomy.core.planner.cost import AIM_MET_STOPS, DEPTH_MET_STOPS, LIMIT_MET_STOPS


def unmet_wishes(analysis: Analysis) -> tuple[str, ...]:
    """Sentences without their full stop: the wish, and what it comes to; none where all are met."""
    return (*_smear(analysis), *_depth(analysis), *_stars(analysis))


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
