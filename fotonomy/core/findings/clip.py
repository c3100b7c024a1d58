"""Findings about the clip: its speed on screen, and the card."""

from collections.abc import Iterator
from math import ceil, floor, inf

from fotonomy.core import constants as c
from fotonomy.core.analysis.setup import Analysis
from fotonomy.core.findings import fixes as fx
from fotonomy.core.findings.finding import Family, Finding, Fix, Harm, Severity
from fotonomy.core.findings.interval import on_screen, take_along
from fotonomy.core.gear.accessories import Card
from fotonomy.core.motion.shutter import rate_fps
from fotonomy.core.notation import writing as n
from fotonomy.core.spec.changes import Change
from fotonomy.core.spec.kind import Kind
from fotonomy.core.spec.setup import Setup
from fotonomy.core.spec.stills import EVENT_RANGE_S, Follows
from fotonomy.core.stills.clip import Clip
from fotonomy.core.tiles import Tile

NOT_SLOW = Family("clip.not_slow", Harm.MOVES_WRONGLY, Tile.CLIP, Tile.RUN)
SPED_UP = Family("clip.sped_up", Harm.MOVES_WRONGLY, Tile.CLIP, Tile.RUN)
SLOWED = Family("clip.slowed", Harm.MOVES_WRONGLY, Tile.CLIP, Tile.RUN)
CARD_FULL = Family("clip.card_full", Harm.NOTHING_RECORDED, Tile.CLIP, Tile.RUN)

# Kinds that are slowed on purpose, or calmed by it. Common practice, no source.


def speed(analysis: Analysis) -> Iterator[Finding]:
    """A frame rate that does not do what the kind of shot is for."""
    setup, clip = analysis.setup, analysis.clip
    rates = analysis.offers["frame_rate"].options
    if setup.records_stills:
        return
    slow = setup.kind.traits.slows
    if clip.speed_percent <= (99.9 if slow else 100.1):
        return
    wanted = [o for o in rates if (o.value > setup.project_fps * 1.001 if slow
                                   else o.value >= setup.project_fps * 0.999)]  # fmt: skip
    ways = [fx.rebalanced(analysis, "frame_rate", wanted[0])] if wanted else []
    if not ways and slow:
        ways = [Fix("make it real time", (Change("kind", Kind.REAL_TIME),), 0.0)]
    ways = [*ways, *_other_formats(analysis, slow)] or _as_interval(setup)
    what = "No slow motion at this frame rate" if slow else "Plays faster than life"
    yield Finding(
        NOT_SLOW if slow else SPED_UP, Severity.CAUTION, what,
        f"{n.format_frame_rate(setup.frame_rate)} fps plays at "
        f"{n.format_number(clip.speed_percent)} % in a {n.format_frame_rate(setup.project_fps)} "
        "fps edit",
        clip.speed_percent, "%", tuple(ways),
    )  # fmt: skip


def slowed(analysis: Analysis) -> Iterator[Finding]:
    """Real time that plays slower than life in this edit."""
    setup, percent = analysis.setup, analysis.clip.speed_percent
    on_purpose = setup.kind.traits.slows or setup.kind.traits.calms
    if setup.records_stills or on_purpose or percent >= 99.8:
        return
    own = [o for o in analysis.offers["frame_rate"].options
           if abs(rate_fps(o.value) / rate_fps(setup.project_fps) - 1) < 5e-4]  # fmt: skip
    ways = [fx.rebalanced(analysis, "frame_rate", option) for option in own]
    ways.append(Fix("make it slow motion", (Change("kind", Kind.SLOW_MOTION),), 0.0))
    yield Finding(
        SLOWED, Severity.CAUTION, "Plays slower than life",
        f"{n.format_frame_rate(setup.frame_rate)} fps plays at {n.format_number(percent)} % in a "
        f"{n.format_frame_rate(setup.project_fps)} fps edit, or drops frames to keep time",
        percent, "%", tuple(ways),
    )  # fmt: skip


def _other_formats(analysis: Analysis, slow: bool) -> list[Fix]:
    """Recording formats of this body that have a rate the edit can use."""
    setup = analysis.setup
    least = setup.project_fps * (1.001 if slow else 0.999)
    found = []
    for recorded in setup.body.formats:
        rates = [rate.fps for rate in recorded.rates if rate.fps >= least]
        if rates and recorded is not setup.format:
            changes = (Change("recording", recorded.name), Change("frame_rate", min(rates)))
            price = fx.price_stops(setup, "frame_rate", min(rates))
            text = n.format_frame_rate(min(rates))
            found.append(Fix(f"record {recorded.name} at {text} fps", changes, price))
    return found[:2]


def _as_interval(setup: Setup) -> list[Fix]:
    """What plays faster than life by far is an interval run; a little faster, the edit's rate."""
    if setup.frame_rate <= 1:
        changes = [Change("kind", Kind.INTERVAL), Change("follows", Follows.EVENT)]
        label = "make it an interval run"
        # A run lasts a year at most.
        longest_s = floor(EVENT_RANGE_S[1] * setup.frame_rate) / setup.project_fps
        if setup.wanted_screen_s > longest_s:
            longest_s = max(0.1, floor(10 * longest_s) / 10)
            changes.append(Change("wanted_screen_s", longest_s))
            label += f" of {n.format_number(longest_s, 1)} s on screen"
        return [Fix(label, tuple(changes), 0.0)]
    rate = n.format_frame_rate(setup.frame_rate)
    return [Fix(f"edit at {rate} fps, or take another camera", (), 0.0)]


def card(analysis: Analysis) -> Iterator[Finding]:
    """A take that does not fit on one card."""
    clip = analysis.clip
    if clip.takes_per_card > 0 or analysis.setup.kind.traits.has_interval:
        return
    yield Finding(
        CARD_FULL, Severity.STOP, "One take does not fit on a card",
        f"{n.format_number(clip.size_mb / 1000)} GB on a card of "
        f"{n.format_number(clip.card_gb, 0)} GB",
        clip.size_mb / 1000, "GB", _card_fixes(analysis, clip),
    )  # fmt: skip


def _card_fixes(analysis: Analysis, clip: Clip) -> tuple[Fix, ...]:
    """A larger card at hand, a shorter clip; where neither will do, the card that would."""
    setup, shortest = analysis.setup, c.SCREEN_RANGE_S[0]
    per_second = clip.size_mb / clip.record_s if clip.record_s else inf
    fits = 1000 * clip.card_gb / per_second
    stretch = clip.screen_s / clip.event_s
    screen = floor(10 * (fits - 2 * clip.handle_s) * stretch * 0.99) / 10
    if screen >= shortest:
        return (on_screen(screen),)
    screen = floor(10 * fits * stretch * 0.99) / 10
    if screen >= shortest:
        changes = (Change("handle_s", 0.0), Change("wanted_screen_s", screen))
        return (Fix(f"no handles, {n.format_number(screen)} s on screen", changes, 0.0),)
    larger = [
        take_along(setup, card) for card in setup.packed_devices
        if isinstance(card, Card) and 1000 * card.size_gb >= clip.size_mb
    ]  # fmt: skip
    wanted = n.format_number(ceil(clip.size_mb / 1000), 0)
    return tuple(larger[:1]) or (Fix(f"a card of {wanted} GB", (), 0.0),)


CHECKS = (speed, slowed, card)
