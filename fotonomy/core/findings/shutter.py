"""Findings about the shutter and the frame it has to fit into."""

from collections.abc import Iterator

from fotonomy.core.analysis.setup import Analysis
from fotonomy.core.exposure.scales import Option, shutter_offer, with_setting
from fotonomy.core.findings import fixes as fx
from fotonomy.core.findings.finding import Family, Finding, Fix, Harm, Severity
from fotonomy.core.findings.fixes import at_rate
from fotonomy.core.motion.shutter import rate_fps
from fotonomy.core.notation import writing as n
from fotonomy.core.tiles import Tile

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


CHECKS = (shutter_and_frame,)
