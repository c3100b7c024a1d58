"""Findings about the shutter and the frame it has to fit into."""

from collections.abc import Iterator
from math import log2

from fotonomy.core.analysis.kind_wants import (
    USUAL_ANGLES_DEG,
    WantedTime,
    is_unasked_angle,
    wanted_time,
)
from fotonomy.core.analysis.setup import Analysis
from fotonomy.core.exposure.scales import Option, shutter_offer, with_setting
from fotonomy.core.findings import fixes as fx
from fotonomy.core.findings.finding import Family, Finding, Fix, Harm, Severity
from fotonomy.core.findings.fixes import at_rate
from fotonomy.core.motion.cadence import Cadence
from fotonomy.core.motion.shutter import rate_fps
from fotonomy.core.notation import writing as n
from fotonomy.core.spec.changes import Change
from fotonomy.core.spec.intent import Look
from fotonomy.core.spec.stills import TimeFor
from fotonomy.core.tiles import Tile

UNASKED_ANGLE = Family("shutter.unasked_angle", Harm.MOVES_WRONGLY, Tile.MOTION)
WANTED_TIME = Family("shutter.wanted_time", Harm.MOVES_WRONGLY, Tile.TRAIL, Tile.CYCLE)
LONGER_THAN_FRAME = Family("shutter.longer_than_frame", Harm.NOTHING_RECORDED, Tile.MOTION)


def shutter_and_frame(analysis: Analysis) -> Iterator[Finding]:
    """A shutter cannot stay open longer than a frame lasts."""
    setup = analysis.setup
    if setup.single_frame or setup.time_s * rate_fps(setup.frame_rate) <= 1.001:
        return
    ways = [fx.fix_to(analysis, "shutter", o) for o in _longest_first(analysis)[:1]]
    slower = [o for o in analysis.offers["frame_rate"].options if setup.time_s * o.value <= 1.001]
    if slower and setup.shutter.time_s is not None:
        ways.append(fx.fix_to(analysis, "frame_rate", max(slower, key=lambda o: float(o.value))))
    if not ways:
        ways = _slower_rate(analysis)
    frame = n.format_time(1 / setup.frame_rate)
    yield Finding(
        LONGER_THAN_FRAME, Severity.STOP, "Shutter longer than the frame",
        f"{n.format_time(setup.time_s)} does not fit into a frame of {frame}",
        setup.time_s, "s", tuple(ways),
    )  # fmt: skip


def _slower_rate(analysis: Analysis) -> list[Fix]:
    """Where no shutter is fast enough for this rate: the body's next rate, and one for it."""
    below = [
        o for o in analysis.offers["frame_rate"].options if o.value <= analysis.setup.frame_rate
    ]
    for rate in reversed(below or list(analysis.offers["frame_rate"].options)[:1]):
        slower = with_setting(analysis.setup, "frame_rate", rate.value)
        options = shutter_offer(slower).options
        if options:
            longest = max(options, key=lambda o: float(o.value.seconds(rate.value)))
            return [at_rate(analysis, rate, longest)]
    return []


def _longest_first(analysis: Analysis) -> list[Option]:
    rate = analysis.setup.frame_rate
    return sorted(analysis.offers["shutter"].options, key=lambda o: -float(o.value.seconds(rate)))


def unasked_angle(analysis: Analysis) -> Iterator[Finding]:
    """A clip whose shutter is much shorter than its method, with nothing that asked for it."""
    setup = analysis.setup
    # What strobes is said with its gap.
    if analysis.motion.cadence is Cadence.STROBING or not is_unasked_angle(setup):
        return
    angle, look = setup.shutter.degrees(setup.frame_rate), setup.intent.look
    rate = setup.frame_rate
    near = min(
        analysis.offers["shutter"].options,
        key=lambda o: abs(log2(o.value.degrees(rate) / look.angle_deg)), default=None,
    )  # fmt: skip
    ways = [] if near is None else [fx.rebalanced(analysis, "shutter", near)]
    crisp = (Change("look", Look.CRISP),)
    yield Finding(
        UNASKED_ANGLE, Severity.CAUTION, "So short a shutter makes motion choppy",
        f"{n.format_time(setup.time_s)} at {n.format_frame_rate(rate)} fps is "
        f"{n.format_number(angle)}°; {look.brief} is {look.angle_deg:g}°, and under "
        f"{USUAL_ANGLES_DEG[0]:g}° is for a crisp look",
        angle, "°", (*ways, Fix("crisp is what I want", crisp, 0.0)),
    )  # fmt: skip


def exposure_time(analysis: Analysis) -> Iterator[Finding]:
    """A run or a long exposure far from the time it wants."""
    setup, wanted = analysis.setup, wanted_time(analysis.setup)
    # A trail of a wanted length has a finding of its own.
    trail = setup.single_frame and setup.run.trail_percent and setup.run.wanted_s is None
    if wanted is None or trail:
        return
    if wanted.will_do(setup.time_s):
        return
    missed = wanted.missed_stops(setup.time_s)
    options = analysis.offers["shutter"].options
    aim = wanted.low_s if missed < 0 else wanted.high_s
    ways = []
    if options:
        near = min(options, key=lambda o: abs(log2(o.value.time_s / aim)))
        ways.append(fx.rebalanced(analysis, "shutter", near))
    free = (Change("time_for", TimeFor.ANY), Change("wanted_s", None))
    yield Finding(
        WANTED_TIME, Severity.CAUTION,
        f"The exposure is {'shorter' if missed < 0 else 'longer'} than this shot wants",
        f"{n.format_time(setup.time_s)}, and {_span(wanted)} {wanted.why}: "
        f"{n.format_stops(missed)} {'short' if missed < 0 else 'long'}",
        missed, "stops", (*ways, Fix("any time will do", free, 0.0)),
    )  # fmt: skip


def _span(wanted: WantedTime) -> str:
    low, high = n.format_time(wanted.low_s), n.format_time(wanted.high_s)
    return low if low == high else f"{low} to {high}"


CHECKS = (shutter_and_frame, unasked_angle, exposure_time)
