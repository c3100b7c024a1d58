"""What a kind of setup wants unless told otherwise: how long it exposes, which iris it is shot at.

All of it is common practice, no source.
"""

from dataclasses import dataclass, replace
from math import log2, sqrt

from fotonomy.core.analysis.interval import write_s_of
from fotonomy.core.analysis.long_exposure import wanted_exposure_s
from fotonomy.core.constants import AIM_MET_STOPS
from fotonomy.core.exposure.ramp import exposure_room_s
from fotonomy.core.motion.camera_movement import rolling_rule_time_s
from fotonomy.core.motion.shutter import rate_fps
from fotonomy.core.optics.star_trails import longest_s
from fotonomy.core.photometry.exposure_value import Ev100
from fotonomy.core.spec.intent import Look
from fotonomy.core.spec.kind import Kind
from fotonomy.core.spec.schedule import Wanted
from fotonomy.core.spec.setup import Setup
from fotonomy.core.spec.stills import Ramp, Run, TimeFor

# A time within so much of the one wanted is that time.
TIME_MET_STOPS = AIM_MET_STOPS
# A run of longer intervals shows nothing that moves smoothly, whatever the time.
HALF_INTERVAL_UP_TO_S = 60.0
# Of a run's interval: what looks smooth, and what is still better than frozen.
SMOOTH_SHARE, LEAST_SHARE = 0.5, 0.1
# A long exposure that is shorter than this was never thought about.
LEAST_LONG_S = 0.4
# Times by what they are for, in seconds.
SPANS_S = {
    TimeFor.SILK: (0.5, 2.0), TimeFor.MIST: (15.0, 60.0), TimeFor.TRAILS: (10.0, 30.0),
    TimeFor.PAINTED: (15.0, 30.0),
}  # fmt: skip


@dataclass(frozen=True, slots=True)
class WantedTime:
    """The exposure times a setup wants, from ``low_s`` to ``high_s``.

    ``least_s`` is what will do where these cannot be had; ``why`` says what they are for.
    ``asked`` is true where a person asked for it, rather than its kind.
    """

    low_s: float
    high_s: float
    least_s: float
    why: str
    asked: bool = False

    def will_do(self, time_s: float) -> bool:
        """True where a time is as wanted, or short of it by no more than its kind bears."""
        missed = self.missed_stops(time_s)
        least = self.least_s * 2**-TIME_MET_STOPS * 0.99
        return not missed or (missed < 0 and not self.asked and time_s >= least)

    def missed_stops(self, time_s: float) -> float:
        """Stops that a time is shorter (negative) or longer than wanted; 0 where it is met."""
        if time_s < self.low_s * 2**-TIME_MET_STOPS * 0.99:
            return log2(time_s / self.low_s)
        if time_s > self.high_s * 2**TIME_MET_STOPS * 1.01:
            return log2(time_s / self.high_s)
        return 0.0


def wanted_time(setup: Setup) -> WantedTime | None:
    """The exposure time a run or a long exposure wants; None where any will do.

    Video has its shutter method instead, a burst its freeze.
    """
    run, traits = setup.run, setup.kind.traits
    if not (traits.has_interval or traits.long_frame) or run.time_for is TimeFor.ANY:
        return None
    if run.wanted_s is not None:
        return WantedTime(run.wanted_s, run.wanted_s, run.wanted_s, "as you asked", True)
    if traits.long_frame and (trail := wanted_exposure_s(setup)):
        return WantedTime(trail, trail, trail, "for the trail you asked for", True)
    if run.time_for in SPANS_S:
        low, high = SPANS_S[run.time_for]
        return WantedTime(low, high, low, f"for {run.time_for.label}", True)
    return _of_kind(setup)


def _of_kind(setup: Setup) -> WantedTime | None:
    if setup.kind.traits.long_frame:
        if setup.time_s >= LEAST_LONG_S:
            return WantedTime(setup.time_s, setup.time_s, setup.time_s, "as it was set")
        low, high = SPANS_S[TimeFor.TRAILS]
        return WantedTime(low, high, low, f"for {TimeFor.TRAILS.label}")
    interval = 1 / setup.frame_rate
    room = max(setup.body.fastest_s, exposure_room_s(setup, write_s_of(setup)))
    if setup.run.declination_deg is not None:
        longest = longest_s(
            setup.focal_mm, setup.delivered_pitch_mm, setup.run.star_px, setup.run.declination_deg
        )
        aim = min(longest, room)
        return WantedTime(aim, aim, LEAST_SHARE * aim, "as long as stars stay points")
    if interval > HALF_INTERVAL_UP_TO_S:
        return None
    aim = min(SMOOTH_SHARE * interval, room)
    return WantedTime(aim, aim, LEAST_SHARE * interval, "half the interval, so that it flows")


# A clip's shutter between these looks as people know it. Common practice, no source.
USUAL_ANGLES_DEG = (90.0, 360.0)


def is_unasked_angle(setup: Setup) -> bool:
    """True for a clip whose shutter is so short that motion looks chopped, and nobody asked for it.

    Crisp, a freeze and a smear are asking; on a road one over the speed is.
    """
    intent = setup.intent
    asked = intent.freeze_px is not None or intent.smear_percent is not None
    if setup.records_stills or asked or intent.look is Look.CRISP:
        return False
    least, travel = USUAL_ANGLES_DEG[0], setup.movement.travel_m_s
    if setup.kind.traits.rolls and travel > 0:
        least = min(least, 360 * rate_fps(setup.frame_rate) * rolling_rule_time_s(travel) / 2)
    return setup.shutter.degrees(setup.frame_rate) < least * 0.99


# The light of a long exposure, by what its time is for.
_LONG_LIGHTS = {
    TimeFor.SILK: Wanted.DAYLIGHT, TimeFor.MIST: Wanted.DAYLIGHT, TimeFor.PAINTED: Wanted.DARK,
}  # fmt: skip
_LONG_EVS = {TimeFor.SILK: 12.0, TimeFor.MIST: 12.0, TimeFor.PAINTED: -3.0}
STARLIGHT_EV = -6.0


def usual_light(setup: Setup) -> Wanted:
    """The light a kind of setup wants until somebody wishes another one.

    Lamps that are named light it at any hour.
    """
    return usual_light_for(setup.kind, setup.run, lamps=setup.lamps)


def usual_light_for(kind: Kind, run: Run, *, lamps: bool = False) -> Wanted:
    """The same for a kind with what single pictures of it want."""
    traits = kind.traits
    if traits.darkened:
        return Wanted.DUSK
    if traits.dark:
        return Wanted.NIGHT
    if traits.long_frame:
        return _LONG_LIGHTS.get(run.time_for, Wanted.BLUE)
    if traits.has_interval:
        if run.declination_deg is not None:
            return Wanted.MOONLESS
        if run.ramp is not Ramp.FIXED:
            return Wanted.SUNSET
    return Wanted.ANY if lamps else Wanted.DAYLIGHT


def lit_by_sky(setup: Setup) -> bool:
    """True where the sky tells a setup's light: not under lamps, and not at night among them."""
    starry = setup.kind.traits.has_interval and setup.run.declination_deg is not None
    return starry or not (setup.lamps or setup.kind.traits.dark)


def usual_ev(setup: Setup) -> float:
    """EV at ISO 100 to plan a setup with until somebody says its light."""
    traits, run = setup.kind.traits, setup.run
    if traits.has_interval and run.declination_deg is not None:
        return STARLIGHT_EV
    if traits.long_frame:
        return _LONG_EVS.get(run.time_for, traits.usual_ev)
    return traits.usual_ev


def as_its_kind(was: Setup, now: Setup) -> Setup:
    """A changed setup whose light, as far as nobody said or wished it, is its new kind's."""
    found = now
    if not now.light_said and usual_ev(was) != usual_ev(now):
        found = replace(found, light=Ev100(usual_ev(now)))
    wished = now.schedule.wants
    if wished is was.schedule.wants is usual_light(was) and usual_light(now) is not wished:
        found = replace(found, schedule=replace(now.schedule, wants=usual_light(now)))
    return found


def usual_irises(setup: Setup) -> tuple[float, float]:
    """The f-numbers a kind is usually shot at on this lens, widest and narrowest."""
    widest, traits = setup.lens.widest_at(setup.focal_mm), setup.kind.traits
    stars = setup.records_stills and setup.run.declination_deg is not None
    if traits.dark or stars:
        span = (widest, 2 * widest)
    elif traits.drive:
        span = (widest, 8.0)
    elif traits.long_frame:
        span = (8.0, 11.0)
    elif traits.has_interval:
        span = (5.6, 8.0)
    elif traits.close_up:
        span = (5.6, 11.0)
    elif traits.rolls:
        span = (4.0, 8.0)
    elif traits.flies:
        span = (min(widest * sqrt(2), 5.6), 5.6)
    else:
        span = (min(2 * widest, 5.6), 5.6)
    low, high = (max(widest, one) for one in span)
    return low, high
