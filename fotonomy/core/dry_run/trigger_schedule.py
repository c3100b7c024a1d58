"""What stand-ins have to carry out for a setup of single pictures: who fires, when, with what."""

from dataclasses import dataclass
from math import ceil

from fotonomy.core.analysis.interval import (
    IntervalRun,
    buffer_of,
    card_of,
    noise_frame,
    remote_of,
    write_s_of,
)
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


def schedule_of(setup: Setup, run: IntervalRun | Burst | LongExposure) -> TriggerSchedule:
    """The script of an interval run, of an hour of bursts, or of one picture's exposures."""
    match run:
        case IntervalRun():
            by: Intervalometer | Presses = run.intervalometer
            frames, step, buffer = run.frames, run.intervalometer.step_s, run.buffer_frames
            span = (run.intervalometer.first_s, run.intervalometer.last_s)
            rungs = run.ramp.rungs
        case Burst():
            by = _presses(setup, run)
            frames, step = by.bursts * by.frames, 1 / by.rate_fps
            buffer = limit_of(run.present.drive, setup.run.files) or buffer_of(setup)
            span = (0.0, by.start_s(by.bursts - 1, by.frames - 1))
            rungs = _as_set(setup)
        case LongExposure():
            step = run.time_s + run.gap_s
            by = Intervalometer(
                delay_s=0.0, exposure_s=run.time_s if run.bulb else 0.0, interval_s=step,
                count=run.frames, frames=run.frames, first_s=0.0, step_s=step, bulb=run.bulb,
            )  # fmt: skip
            frames, buffer, span = run.frames, buffer_of(setup), (0.0, by.last_s)
            rungs = _as_set(setup)
    burst = isinstance(run, Burst)
    return TriggerSchedule(
        by=by, frames=frames, first_s=span[0], last_s=span[1], step_s=step,
        remote=remote_of(setup), card=card_of(setup),
        file_mb=file_mb(setup.body, setup.run.files), write_s=write_s_of(setup),
        buffer_frames=buffer, self_timer_s=0.0 if burst else setup.run.self_timer_s,
        noise_frame=noise_frame(setup) and not burst, rungs=rungs,
    )  # fmt: skip


def _presses(setup: Setup, run: Burst) -> Presses:
    """An hour of bursts; one at least."""
    bursts = max(1, round(setup.run.bursts_an_hour))
    frames = max(1, ceil(setup.run.burst_s * run.present.rate_fps - 1e-6))
    return Presses(bursts, HOUR_S / bursts, run.present.rate_fps, frames)


def _as_set(setup: Setup) -> tuple[Rung, ...]:
    return (Rung(setup.time_s, setup.iso, setup.nd_density, 0.0),)
