"""Day to night and back: what the light to come needs, and how the settings follow it."""

from dataclasses import dataclass
from math import log2

import numpy as np
from numpy.typing import NDArray

from fotonomy.core import constants as c
from fotonomy.core.exposure.light_budget import light_budget
from fotonomy.core.gear.neutral_density import density_to_stops
from fotonomy.core.notation import writing as n
from fotonomy.core.photometry.exposure_value import ev100_of
from fotonomy.core.photometry.stops import iso_stops, marked_iso, marked_times_s
from fotonomy.core.spec.intent import Look
from fotonomy.core.spec.setup import Setup
from fotonomy.core.spec.stills import Ramp

# How far from half the interval a time may lie and still look like it. Common practice, no source.
HALF_PERIOD_WITHIN = 0.3
# A shutter may fill so much of the interval while the light goes. Common practice, no source.
RAMP_SHUTTER_SHARE = 0.8
Numbers = NDArray[np.float64]


@dataclass(frozen=True, slots=True)
class Rung:
    """One combination of what may move; ``gain_stops`` over the settings on the bench."""

    time_s: float
    iso: int
    nd_density: float
    gain_stops: float

    @property
    def words(self) -> str:
        """As read out: "1/15, ISO 500, ND 0.9"."""
        glass = "" if self.nd_density == 0 else f", ND {n.format_density(self.nd_density)}"
        return f"{n.format_time(self.time_s)}, ISO {self.iso}{glass}"


@dataclass(frozen=True, slots=True)
class RampStep:
    """A change on the way: before which frame, when, and what is set.

    ``lifts_nd`` is true where the glass goes off or, as the light comes back, on again.
    """

    frame: int
    at_s: float
    rung: Rung
    lifts_nd: bool

    @property
    def glass_words(self) -> str:
        """What to do with the glass at this step."""
        density = self.rung.nd_density
        return f"put ND {n.format_density(density)} on" if density else "take the ND off"

    @property
    def words(self) -> str:
        """What to do, as read out; the glass first, since it takes both hands."""
        if not self.lifts_nd:
            return self.rung.words
        return f"{self.glass_words}, {n.format_time(self.rung.time_s)}, ISO {self.rung.iso}"


@dataclass(frozen=True, slots=True)
class RampPlan:
    """How the settings follow the light of a run.

    ``light_ev`` and ``miss_stops`` are for some frames from the first to the last (their times
    in ``at_s``); positive is over. ``largest_step_stops`` is the largest change of brightness
    between two frames, the flicker risk; ``limit_at_s`` when the miss passes a third of a
    stop for good, None if it never does. ``first`` and ``last`` are the rungs of the ends.
    """

    method: Ramp
    rungs: tuple[Rung, ...]
    steps: tuple[RampStep, ...]
    at_s: Numbers
    light_ev: Numbers
    shutter_s: Numbers
    iso: Numbers
    miss_stops: Numbers
    largest_step_stops: float
    limit_at_s: float | None
    end_miss_stops: float
    first: int = 0
    last: int = 0


def light_at(setup: Setup, at_s: Numbers) -> Numbers:
    """EV at ISO 100 so many seconds into the run: straight lines between the points given.

    Without points the light stays; before the first point and after the last it stays too.
    """
    points = setup.run.light_curve
    if not points:
        return np.full(at_s.shape, ev100_of(setup.light))
    return np.interp(at_s, [p.after_s for p in points], [p.ev100 for p in points])


def exposure_room_s(setup: Setup, write_s: float) -> float:
    """Longest exposure with which a cycle still fits; none or less where nothing does."""
    room = 1 / setup.frame_rate - setup.run.self_timer_s - write_s - c.CYCLE_MARGIN_S
    return room / 2 if setup.run.noise_frames else room


def longest_ramped_s(setup: Setup, write_s: float) -> float:
    """Longest shutter a ramp may use: 0.8 of the interval, and a cycle that still fits."""
    most = min(RAMP_SHUTTER_SHARE / setup.frame_rate, exposure_room_s(setup, write_s))
    return max(setup.body.fastest_s, most)


def _rung(setup: Setup, time_s: float, iso: int, density: float) -> Rung:
    gain = (
        log2(time_s / setup.time_s) + iso_stops(iso) - iso_stops(setup.iso)
        + density_to_stops(setup.nd_density) - density_to_stops(density)
    )  # fmt: skip
    return Rung(time_s, iso, density, gain)


def keeps_half_period(setup: Setup) -> bool:
    """True where a run has the look of half a period: asked for, and set on the bench."""
    asked = setup.intent.look is Look.HALF_PERIOD
    half = 0.5 / setup.frame_rate
    return asked and abs(setup.time_s / half - 1) <= HALF_PERIOD_WITHIN + 1e-9


def ramped_times_s(setup: Setup, write_s: float) -> list[float]:
    """Shutter times a ramp may use, shortest first: those of the look, as far as a cycle fits."""
    body = setup.body
    top = min(longest_ramped_s(setup, write_s), body.slowest_s)
    times = sorted(marked_times_s(top, body.fastest_s))
    if keeps_half_period(setup):
        half = 0.5 / setup.frame_rate
        kept = [t for t in times if abs(t / half - 1) <= HALF_PERIOD_WITHIN + 1e-9]
        times = kept or [setup.time_s]
    return times or [setup.time_s]


def ladder(setup: Setup, method: Ramp, write_s: float) -> tuple[Rung, ...]:
    """Every combination a method uses, from the least light to the most; iris stays.

    By plan: the shutter first, within the look that was asked for, then ISO to the ceiling. Filter
    stays as it is; only where one lift is allowed does the ND come off once ISO is at its end,
    and the ISO falls back by what the glass gives. Floating: the camera's shutter, as far as it
    goes.
    """
    body = setup.body
    if method is Ramp.FIXED:
        return (_rung(setup, setup.time_s, setup.iso, setup.nd_density),)
    if method is Ramp.FLOATING:
        times = sorted(marked_times_s(body.slowest_s, body.fastest_s))
        return tuple(_rung(setup, t, setup.iso, setup.nd_density) for t in times)
    times = ramped_times_s(setup, write_s)
    base = _low_iso(setup)
    isos = [s for s in marked_iso(base, max(base, body.iso_ceiling)) if s > base]
    nd = setup.nd_density
    rungs = [_rung(setup, t, base, nd) for t in times]
    rungs += [_rung(setup, times[-1], iso, nd) for iso in isos]
    if nd > 0 and setup.run.ramp_lift:
        bare = [_rung(setup, times[-1], iso, 0.0) for iso in (base, *isos)]
        rungs += _above(rungs[-1], bare)
    return tuple(rungs)


def _low_iso(setup: Setup) -> int:
    low, high = setup.body.iso_reach
    bases = [s for s in sorted(setup.profile.base_iso) if low <= s <= high]
    return min([setup.iso, *bases[:1]])


def _above(last: Rung, rungs: list[Rung]) -> list[Rung]:
    return [rung for rung in rungs if rung.gain_stops > last.gain_stops + 0.05]


def chosen_rungs(setup: Setup, rungs: tuple[Rung, ...], at_s: Numbers) -> NDArray[np.int64]:
    """Which rung each time uses: the one nearest to what the light then needs."""
    here = light_budget(setup).error_stops - ev100_of(setup.light)
    return _nearest(rungs, light_at(setup, at_s) + here)


def _nearest(rungs: tuple[Rung, ...], errors: Numbers) -> NDArray[np.int64]:
    """The rungs that bring these errors of the settings on the bench nearest to none."""
    gains = np.array([rung.gain_stops for rung in rungs])
    middles = (gains[1:] + gains[:-1]) / 2
    return np.asarray(np.searchsorted(middles, -errors))


MOST_SAMPLES = 400
# More frames than this are looked at every so many, so that a year of them stays bounded.
MOST_LOOKED_AT = 60_000


def ramp_plan(setup: Setup, method: Ramp, frames: int, write_s: float) -> RampPlan:
    """A method's settings over the run, every frame looked at up to MOST_LOOKED_AT."""
    if not setup.run.light_curve:
        return _steady(setup, method, frames, write_s)
    stride = -(-frames // MOST_LOOKED_AT)
    at_s = np.arange(0, frames, stride, dtype=np.float64) / setup.frame_rate
    looked = len(at_s)
    rungs = ladder(setup, method, write_s)
    light = light_at(setup, at_s)
    errors = light + (light_budget(setup).error_stops - ev100_of(setup.light))
    index = _nearest(rungs, errors)
    miss = errors + np.array([rung.gain_stops for rung in rungs])[index]
    step = float(np.max(np.abs(np.diff(miss)))) if looked > 1 else 0.0
    moved = np.flatnonzero(np.diff(index)) + 1
    steps = tuple(_step(rungs, index, int(k), float(at_s[k]), stride) for k in moved)
    if method is Ramp.PLANNED:
        steps = (*_start(setup, rungs[int(index[0])]), *steps)
    outside = np.abs(miss) > c.TOLERABLE_WITHIN_STOPS
    inside = np.flatnonzero(~outside)
    last_good = int(inside[-1]) if len(inside) else -1
    limit = None if last_good == looked - 1 else float(at_s[last_good + 1])
    shown = np.unique(np.linspace(0, looked - 1, min(looked, MOST_SAMPLES)).astype(np.int64))
    return RampPlan(
        method=method, rungs=rungs, steps=steps, at_s=at_s[shown], light_ev=light[shown],
        shutter_s=np.array([rungs[k].time_s for k in index[shown]]),
        iso=np.array([float(rungs[k].iso) for k in index[shown]]), miss_stops=miss[shown],
        largest_step_stops=step, limit_at_s=limit, end_miss_stops=float(miss[-1]),
        first=int(index[0]), last=int(index[-1]),
    )  # fmt: skip


def _steady(setup: Setup, method: Ramp, frames: int, write_s: float) -> RampPlan:
    """Where the light stays the bench's settings do too: its two ends are enough."""
    error = light_budget(setup).error_stops
    rungs = ladder(setup, Ramp.FIXED, write_s)
    rung, miss = rungs[0], error

    def both(value: float) -> Numbers:
        return np.array([value, value], dtype=np.float64)

    return RampPlan(
        method=method, rungs=rungs, steps=(),
        at_s=np.array([0.0, (frames - 1) / setup.frame_rate]),
        light_ev=both(ev100_of(setup.light)), shutter_s=both(rung.time_s), iso=both(rung.iso),
        miss_stops=both(miss), largest_step_stops=0.0,
        limit_at_s=0.0 if abs(miss) > c.TOLERABLE_WITHIN_STOPS else None, end_miss_stops=miss,
    )  # fmt: skip


def _start(setup: Setup, rung: Rung) -> tuple[RampStep, ...]:
    """What to set before the first frame, where the ladder begins beside the bench's settings."""
    here = (setup.time_s, setup.iso, setup.nd_density)
    if (rung.time_s, rung.iso, rung.nd_density) == here:
        return ()
    return (RampStep(0, 0.0, rung, rung.nd_density != setup.nd_density),)


def _step(
    rungs: tuple[Rung, ...], index: NDArray[np.int64], k: int, at_s: float, stride: int
) -> RampStep:  # fmt: skip
    rung, before = rungs[int(index[k])], rungs[int(index[k - 1])]
    return RampStep(k * stride, at_s, rung, rung.nd_density != before.nd_density)
