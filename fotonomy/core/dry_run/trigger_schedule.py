"""What stand-ins have to carry out for a setup of single pictures: who fires, when, with what."""

from dataclasses import dataclass, replace
from math import ceil

from fotonomy.core.analysis.interval import (
    IntervalRun,
    buffer_of,
    card_of,
    noise_frame,
    remote_of,
    write_s_of,
)
from fotonomy.core.analysis.setup import Analysis, run_of
from fotonomy.core.exposure.ramp import Rung
from fotonomy.core.gear.accessories import Card, Remote
from fotonomy.core.spec.setup import Setup
from fotonomy.core.stills.burst import Burst, file_mb, limit_of
from fotonomy.core.stills.intervalometer import Intervalometer
from fotonomy.core.stills.long_exposure import LongExposure

HOUR_S = 3600.0


@dataclass(frozen=True, slots=True)
class Presses:
    """A finger on the button: ``bursts`` of them ``every_s``, frames at a rate while it is held."""

    bursts: int
    every_s: float
    rate_fps: float
    frames: int

    def start_s(self, burst: int, k: int) -> float:
        """When frame ``k`` of a burst is asked for."""
        return burst * self.every_s + k / self.rate_fps


@dataclass(frozen=True, slots=True)
class TriggerSchedule:
    """A plan as stand-ins need it. ``by`` is a remote's program, or presses of a finger.

    ``frames`` are planned between ``first_s`` and ``last_s``, ``step_s`` apart where they
    belong together. ``rungs`` are the combinations of settings a run may use.
    """

    by: Intervalometer | Presses
    frames: int
    first_s: float
    last_s: float
    step_s: float
    remote: Remote
    card: Card
    file_mb: float
    write_s: float
    buffer_frames: int
    self_timer_s: float
    noise_frame: bool
    rungs: tuple[Rung, ...]

    @property
    def one_run(self) -> bool:
        """True where all frames follow each other, so that a gap is a jump."""
        return isinstance(self.by, Intervalometer)


def interval_schedule(analysis: Analysis) -> TriggerSchedule:
    """The remote's program of an interval run."""
    run, setup = run_of(analysis, IntervalRun), analysis.setup
    by = run.intervalometer
    return _schedule(
        setup, by, frames=run.frames, span_s=(by.first_s, by.last_s), step_s=by.step_s,
        buffer=run.buffer_frames, rungs=run.ramp.rungs,
    )  # fmt: skip


def burst_schedule(analysis: Analysis) -> TriggerSchedule:
    """An hour of bursts, a finger on the button; no timer and no dark frames between them."""
    run, setup = run_of(analysis, Burst), analysis.setup
    by = _presses(setup, run)
    found = _schedule(
        setup, by, frames=by.bursts * by.frames,
        span_s=(0.0, by.start_s(by.bursts - 1, by.frames - 1)), step_s=1 / by.rate_fps,
        buffer=limit_of(run.present.drive, setup.run.files) or buffer_of(setup),
        rungs=_as_set(setup),
    )  # fmt: skip
    return replace(found, self_timer_s=0.0, noise_frame=False)


def long_exposure_schedule(analysis: Analysis) -> TriggerSchedule:
    """The exposures of one picture, one after the other."""
    run, setup = run_of(analysis, LongExposure), analysis.setup
    step = run.time_s + run.gap_s
    by = Intervalometer(
        delay_s=0.0, exposure_s=run.time_s if run.bulb else 0.0, interval_s=step,
        count=run.frames, frames=run.frames, first_s=0.0, step_s=step, bulb=run.bulb,
    )  # fmt: skip
    return _schedule(
        setup, by, frames=run.frames, span_s=(0.0, by.last_s), step_s=step,
        buffer=buffer_of(setup), rungs=_as_set(setup),
    )  # fmt: skip


def _schedule(
    setup: Setup, by: Intervalometer | Presses, *, frames: int, span_s: tuple[float, float],
    step_s: float, buffer: int, rungs: tuple[Rung, ...],
) -> TriggerSchedule:  # fmt: skip
    """What all of them share: the devices, the files and the timer."""
    return TriggerSchedule(
        by=by, frames=frames, first_s=span_s[0], last_s=span_s[1], step_s=step_s,
        remote=remote_of(setup), card=card_of(setup),
        file_mb=file_mb(setup.body, setup.run.files), write_s=write_s_of(setup),
        buffer_frames=buffer, self_timer_s=setup.run.self_timer_s,
        noise_frame=noise_frame(setup), rungs=rungs,
    )  # fmt: skip


def _presses(setup: Setup, run: Burst) -> Presses:
    """An hour of bursts; one at least."""
    bursts = max(1, round(setup.run.bursts_an_hour))
    frames = max(1, ceil(setup.run.burst_s * run.present.rate_fps - 1e-6))
    return Presses(bursts, HOUR_S / bursts, run.present.rate_fps, frames)


def _as_set(setup: Setup) -> tuple[Rung, ...]:
    return (Rung(setup.time_s, setup.iso, setup.nd_density, 0.0),)
