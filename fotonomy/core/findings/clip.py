"""Findings about the clip: its speed on screen, and the card."""

from collections.abc import Iterator
from math import floor, inf

from fotonomy.core import constants as c
from fotonomy.core.analysis.setup import Analysis
from fotonomy.core.findings import fixes as fx
from fotonomy.core.findings.finding import Finding, Severity
from fotonomy.core.findings.fixes import Change, Fix
from fotonomy.core.notation import writing as n
from fotonomy.core.spec.setup import Kind
from fotonomy.core.stills.clip import Clip


def speed(analysis: Analysis) -> Iterator[Finding]:
    """A frame rate that does not do what the kind of shot is for."""
    setup, clip = analysis.setup, analysis.clip
    rates = analysis.offers["frame_rate"].options
    if setup.records_stills:
        return
    slow = setup.kind is Kind.SLOW_MOTION
    if clip.speed_percent <= (99.9 if slow else 100.1):
        return
    wanted = [o for o in rates if (o.value > setup.project_fps * 1.001 if slow
                                   else o.value >= setup.project_fps * 0.999)]  # fmt: skip
    ways = [fx.rebalanced(analysis, "frame_rate", wanted[0])] if wanted else []
    if not ways and slow:
        ways = [Fix("make it real time", (Change("kind", "real_time"),), 0.0)]
    what = "No slow motion at this frame rate" if slow else "Plays faster than life"
    yield Finding(
        "clip.not_slow" if slow else "clip.sped_up", Severity.CAUTION, what,
        f"{n.format_frame_rate(setup.frame_rate)} fps plays at "
        f"{n.format_number(clip.speed_percent)} % in a {n.format_frame_rate(setup.project_fps)} "
        "fps edit",
        clip.speed_percent, "%", tuple(ways) or _edit_length(analysis, clip.event_s),
    )  # fmt: skip


def _edit_length(analysis: Analysis, seconds: float) -> tuple[Fix, ...]:
    text = f"{n.format_number(max(seconds, c.SCREEN_RANGE_S[0]), 2)} s"
    return (Fix(f"plan {text} on screen", (Change("wanted_screen", text),), 0.0),)


def card(analysis: Analysis) -> Iterator[Finding]:
    """A take that does not fit on one card."""
    clip = analysis.clip
    if clip.takes_per_card > 0 or analysis.setup.kind is Kind.INTERVAL:
        return
    yield Finding(
        "clip.card_full", Severity.STOP, "One take does not fit on a card",
        f"{n.format_number(clip.size_mb / 1000)} GB on a card of "
        f"{n.format_number(clip.card_gb, 0)} GB",
        clip.size_mb / 1000, "GB", _card_fixes(analysis, clip),
    )  # fmt: skip


def _card_fixes(analysis: Analysis, clip: Clip) -> tuple[Fix, ...]:
    per_second = clip.size_mb / clip.record_s if clip.record_s else inf
    fits = 1000 * clip.card_gb / per_second
    stretch = clip.screen_s / clip.event_s
    screen = floor(10 * (fits - 2 * clip.handle_s) * stretch * 0.99) / 10
    if screen >= c.SCREEN_RANGE_S[0]:
        text = f"{n.format_number(screen)} s"
        return (Fix(f"plan {text} on screen", (Change("wanted_screen", text),), 0.0),)
    text = f"{n.format_number(max(floor(10 * fits * stretch * 0.99) / 10, 0.1))} s"
    changes = (Change("handle", "0 s"), Change("wanted_screen", text))
    return (Fix(f"no handles, {text} on screen", changes, 0.0),)


CHECKS = (speed, card)
