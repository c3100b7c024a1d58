"""Starting points: what is usually held, and at what, for a kind of setup.

All of it is common practice, no source. The question that leads is whether the subject
moves: if so the frame rate and the shutter are held, if not the iris for its depth of field.
"""

from collections.abc import Iterator
from dataclasses import dataclass, replace
from typing import Any

from fotonomy.core.analysis.interval import worked_out, write_s_of
from fotonomy.core.constants import CYCLE_MARGIN_S
from fotonomy.core.errors import RuleError
from fotonomy.core.exposure.scales import INTERVALS_S, Offer, frame_rate_offer, shutter_offer
from fotonomy.core.gear.support import Support
from fotonomy.core.motion.camera_movement import Camera, rolling_rule_time_s
from fotonomy.core.motion.shutter import Shutter, rate_fps
from fotonomy.core.notation import writing as n
from fotonomy.core.optics.star_trails import longest_s
from fotonomy.core.parsing.settings import format_setting
from fotonomy.core.planner.cost import BURST_FREEZE_PX
from fotonomy.core.planner.plans import Because, Solution, because_of, outcome
from fotonomy.core.planner.search import Search
from fotonomy.core.planner.search_space import rates_for_edit, times_the_edit
from fotonomy.core.spec.intent import Look
from fotonomy.core.spec.kind import Kind
from fotonomy.core.spec.setup import FRAMING, SETTINGS, Setup
from fotonomy.core.spec.stills import Follows, Ramp, TimeFor

STARTING_INTERVAL_S, LEAST_STAR_INTERVAL_S = 6.0, 10.0
# A run from day to night: an hour and a half over sunset in twenty seconds, 500 frames at 25.
SUNSET_INTERVAL_S, SUNSET_SCREEN_S = 10.0, 20.0
BURST_FPS, BURST_TIME_S = 12.0, 1 / 1000
LONG_EXPOSURE_F, MACRO_F, STILL_F, RUN_F = 11.0, 8.0, 5.6, 8.0
# What a long exposure lasts, by what it is for, in seconds.
LONG_EXPOSURES_S = {TimeFor.SILK: 1.0, TimeFor.MIST: 30.0, TimeFor.PAINTED: 20.0}
LONG_EXPOSURE_S = 15.0
CALMER_TIMES = 2
# Where stills have their base when the profile in use is one of video: common practice.
STILLS_BASE_ISO = 100
# What a starting point gives up first where its values do not balance.
GIVEN_UP = ("iso", "iris")


@dataclass(frozen=True, slots=True)
class Preset:
    """A starting point: the setup it makes, what it holds and why, and what it comes to.

    ``solution`` is None where the light does not balance from here; the setup is then as
    near as it gets.
    """

    kind: Kind
    moving: bool
    setup: Setup
    because: tuple[Because, ...]
    solution: Solution | None


def preset_for(setup: Setup, kind: Kind, moving: bool) -> Preset:
    """The usual start for a kind with this gear, this light and this place."""
    base = replace(
        setup, kind=kind, limits=(), held=frozenset(FRAMING),
        intent=replace(setup.intent, look=_look(kind, setup.intent.look)),
        movement=_movement(setup, kind), support=_support(setup, kind),
    )  # fmt: skip
    reasons: list[Because] = []
    for name, value, why in _usual(base, kind, moving):
        base = replace(base, **{name: value}, held=base.held | {name})
        reasons.append(Because(name, format_setting(base, name), why))
    base = replace(base, held_from_start=base.held, **_intent_changes(base, kind))
    best = Search(base).best()
    for name in GIVEN_UP:
        # Rather another value than a picture that is stops off.
        if best is None and name in base.held:
            held = base.held - {name}
            base = replace(base, held=held, held_from_start=held)
            best = Search(base).best()
            reasons = [one for one in reasons if one.setting != name]
    if best is None:
        nearest = Search(base).nearest()
        at_best = replace(base, **_settings_of(nearest.setup)) if nearest else base
        return Preset(kind, moving, _with_event(at_best), tuple(reasons), None)
    found = outcome("Starting point", best, setup)
    told = {one.setting for one in reasons}
    rest = tuple(one for one in because_of(best, found.analysis, base) if one.setting not in told)
    return Preset(kind, moving, _with_event(best.setup), (*reasons, *rest), found)


def _with_event(setup: Setup) -> Setup:
    """A run whose third of event, interval and clip goes with the other two as they are now."""
    if not setup.kind.traits.has_interval or setup.run.follows is not Follows.EVENT:
        return setup
    try:
        return worked_out(setup)
    except RuleError:
        # Longer than a year: its finding says so.
        return setup


def _settings_of(setup: Setup) -> dict[str, Any]:
    return {name: getattr(setup, name) for name in SETTINGS}


def _look(kind: Kind, present: Look) -> Look:
    return Look.OPEN if kind.traits.dark else present


def _movement(setup: Setup, kind: Kind) -> Any:
    moves = setup.movement
    if kind.traits.rolls and moves.camera is not Camera.TRAVEL:
        speed = moves.travel_m_s or setup.subject_speed_m_s
        return replace(moves, camera=Camera.TRAVEL, travel_m_s=speed)
    return moves


def _support(setup: Setup, kind: Kind) -> Support:
    if kind.traits.flies:
        return Support.DRONE
    if kind.traits.tripod:
        return Support.TRIPOD
    return setup.support


def _intent_changes(setup: Setup, kind: Kind) -> dict[str, Any]:
    intent = setup.intent
    if kind.traits.close_up and intent.depth_m is None:
        return {"intent": replace(intent, depth_m=setup.subject_depth_m)}
    if kind.traits.drive and intent.freeze_px is None:
        return {"intent": replace(intent, freeze_px=BURST_FREEZE_PX)}
    return {}


def _usual(setup: Setup, kind: Kind, moving: bool) -> Iterator[tuple[str, Any, str]]:
    """Settings to hold: name, value within the gear's reach, and why."""
    if not setup.single_frame:
        rate, why = _rate(setup, kind)
        yield "frame_rate", rate, why
        setup = replace(setup, frame_rate=rate)
    shutter = _shutter(setup, kind)
    if shutter is not None:
        yield "shutter", *shutter
    iris = _iris(setup, kind, moving)
    if iris is not None:
        f_number, why = iris
        widest, closed = setup.lens.widest_at(setup.focal_mm), setup.lens.smallest_f
        yield "iris", min(closed, max(widest, f_number)), why
    if kind.traits.windy and setup.run.declination_deg is None:
        low = max(setup.body.iso_lowest, STILLS_BASE_ISO)
        yield "iso", low, "one value for the whole run, at the base"


def _rate(setup: Setup, kind: Kind) -> tuple[float, str]:
    offer = frame_rate_offer(setup)
    if kind.traits.has_interval and setup.run.declination_deg is not None:
        return 1 / _star_interval_s(setup), "as long as stars stay points, and the writing"
    if kind.traits.has_interval and setup.run.ramp is not Ramp.FIXED:
        return 1 / SUNSET_INTERVAL_S, "an hour and a half over sunset then comes to twenty seconds"
    if kind.traits.has_interval:
        return 1 / STARTING_INTERVAL_S, "by day about six seconds; an event decides"
    if kind.traits.drive:
        return _near(offer, BURST_FPS), "twelve a second is enough for most things"
    if kind.traits.slows:
        wanted = setup.project_fps * setup.intent.slow_factor
        whole = rates_for_edit(setup, [float(option.value) for option in offer.options])
        times = n.format_number(setup.intent.slow_factor)
        return _nearest(whole, wanted), f"{times} times slower than life, as near as it goes"
    twice = _times(setup, offer, CALMER_TIMES) if kind.traits.calms else None
    if twice is not None:
        return twice, "twice the edit's calms jitter"
    own = _times(setup, offer, 1)
    if own is not None:
        return own, "the edit's own"
    return _near(offer, setup.project_fps), "as near to the edit's as it goes"


def _star_interval_s(setup: Setup) -> float:
    """The least usual interval that has room for the longest exposure that keeps stars points."""
    longest = longest_s(
        setup.focal_mm, setup.delivered_pitch_mm, setup.run.star_px,
        setup.run.declination_deg or 0.0,
    )  # fmt: skip
    needed = min(longest, setup.body.slowest_s) + write_s_of(setup) + CYCLE_MARGIN_S
    return float(min((s for s in INTERVALS_S if s >= max(needed, LEAST_STAR_INTERVAL_S)),
                     default=max(INTERVALS_S)))  # fmt: skip


def _times(setup: Setup, offer: Offer, wanted: int) -> float | None:
    """The offered rate that is so many whole times the edit's."""
    rates = (float(option.value) for option in offer.options)
    return next((rate for rate in rates if times_the_edit(setup, rate) == wanted), None)


def _near(offer: Offer, wanted: float) -> float:
    """The offered rate nearest to the wanted one, in proportion."""
    return _nearest([float(option.value) for option in offer.options], wanted)


def _nearest(rates: list[float], wanted: float) -> float:
    return min(rates, key=lambda rate: max(rate / wanted, wanted / rate)) if rates else wanted


def _shutter(setup: Setup, kind: Kind) -> tuple[Shutter, str] | None:
    rate = rate_fps(setup.frame_rate)
    if kind.traits.long_frame:
        aim = setup.run.time_for
        time_s = setup.run.wanted_s or LONG_EXPOSURES_S.get(aim, LONG_EXPOSURE_S)
        why = "long enough for trails and smooth water" if aim is TimeFor.USUAL else aim.label
        return _at_time(setup, time_s), why
    if kind.traits.has_interval:
        return None
    if kind.traits.drive:
        return _at_time(setup, BURST_TIME_S), "freezes fast subjects"
    if kind.traits.rolls and setup.movement.travel_m_s > 0:
        time_s = min(1 / rate, rolling_rule_time_s(setup.movement.travel_m_s))
        return _at_time(setup, time_s), "one over the speed in miles an hour"
    if kind.traits.dark:
        # Between half a period and the whole, as the light asks.
        return None
    look = setup.intent.look
    return _at_time(setup, look.angle_deg / 360 / rate), look.label


def _at_time(setup: Setup, time_s: float) -> Shutter:
    """The body's shutter nearest to a time; that time itself where it offers none."""
    options = shutter_offer(setup).options
    rate = rate_fps(setup.frame_rate)
    if not options:
        return Shutter(time_s=time_s)
    shutters: list[Shutter] = [option.value for option in options]
    return min(shutters, key=lambda s: max(s.seconds(rate) / time_s, time_s / s.seconds(rate)))


def _iris(setup: Setup, kind: Kind, moving: bool) -> tuple[float, str] | None:
    if kind.traits.close_up:
        return MACRO_F, "some millimetres of depth before diffraction"
    if kind.traits.long_frame:
        return LONG_EXPOSURE_F, "sharp through the depth, and it takes light away"
    if kind.traits.dark or kind.traits.flies:
        # At night as wide as the light asks, rather than wide open behind a filter.
        return None
    if kind.traits.has_interval and setup.run.declination_deg is not None:
        return setup.lens.widest_at(
            setup.focal_mm
        ), "wide open: the stars are what is short of light"
    if kind.traits.has_interval:
        return RUN_F, "fixed for the run, so that frames do not jump"
    return None if moving else (STILL_F, "nothing moves: the depth of field is held")
