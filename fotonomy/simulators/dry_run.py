"""The dry run: the plan on the screen carried out by stand-ins, in accelerated time."""

from collections.abc import Generator
from dataclasses import dataclass
from enum import StrEnum
from random import Random

import numpy as np

from fotonomy.core.dry_run.log import LOST_ORDER, Ended, Lost, RunLog
from fotonomy.core.dry_run.trigger_schedule import Presses, TriggerSchedule
from fotonomy.core.errors import RuleError
from fotonomy.core.exposure.ramp import chosen_rungs
from fotonomy.core.notation.writing import format_share
from fotonomy.core.spec.setup import Setup
from fotonomy.core.stills.energy import draw_of, supply_of
from fotonomy.core.stills.intervalometer import Intervalometer
from fotonomy.simulators.remote import FingerStandIn, RemoteStandIn
from fotonomy.simulators.still_camera import BatteryStandIn, CardStandIn, StillCamera

# More starts than this are not rehearsed: a month at a frame every 13 seconds.
MOST_FRAMES = 200_000
# Progress is told after so many starts.
STRIDE = 1000


class Fault(StrEnum):
    """What can be switched on to go wrong."""

    COUNTER = "counter"
    SLOW_CARD = "slow_card"
    COLD = "cold"
    BUMP = "bump"
    FULL_CARD = "full_card"
    SINGLE = "single"

    @property
    def label(self) -> str:
        """In words."""
        return {
            "counter": "the remote's counter skips",
            "slow_card": "the card is slower than its label",
            "cold": "the battery is cold and old", "bump": "somebody turns the interval dial",
            "full_card": "yesterday's files are still on the card",
            "single": "the drive is left on single",
        }[self.value]  # fmt: skip


@dataclass(frozen=True, slots=True)
class Happened:
    """What a seed made of a fault, in words."""

    fault: Fault
    words: str


class DryRun:
    """One rehearsal. Walk through ``go`` (it yields the share done) and then read ``log``.

    The same setup, faults and seed give the same run. Raises RuleError on ``event`` where
    the run has more frames than are rehearsed.
    """

    def __init__(
        self,
        setup: Setup,
        schedule: TriggerSchedule,
        faults: frozenset[Fault] = frozenset(),
        seed: int = 1,
    ) -> None:
        if schedule.frames > MOST_FRAMES:
            raise RuleError(
                "event_s",
                f"{schedule.frames} frames are more than the {MOST_FRAMES} that are rehearsed; "
                + ("split the run, or take a longer interval" if schedule.one_run
                   else "hold it for less, or less often"),
                schedule.frames,
            )  # fmt: skip
        self.setup, self.schedule = setup, schedule
        self.faults = faults & frozenset(faults_for(schedule))
        self.happened: list[Happened] = []
        random = Random(seed)
        self.camera = self._camera(random)
        self.by = self._by(schedule, random, seed)
        self.log: RunLog | None = None

    def _by(
        self, schedule: TriggerSchedule, random: Random, seed: int
    ) -> RemoteStandIn | FingerStandIn:
        """Who fires."""
        bump = self._bump(random)
        if isinstance(schedule.by, Presses):
            return FingerStandIn(schedule.by)
        if Fault.COUNTER in self.faults:
            self._tell(Fault.COUNTER, self._counter_words(schedule.by))
        return RemoteStandIn(schedule.remote, schedule.by, seed, Fault.COUNTER in self.faults, bump)

    def _tell(self, fault: Fault, words: str) -> None:
        self.happened.append(Happened(fault, words))

    def _counter_words(self, intervalometer: Intervalometer) -> str:
        if intervalometer.count is None:
            return "no harm: the remote runs unlimited and is stopped by the clock"
        sure = self.schedule.remote.sure_count or 100
        return f"above {sure} it counts now and then one too many, and ends early"

    def _camera(self, random: Random) -> StillCamera:
        schedule, faults = self.schedule, self.faults
        size, write = 1000 * schedule.card.size_gb, schedule.file_mb / schedule.write_s
        slower, filled, weak = (random.uniform(*span) for span in (
            (0.08, 0.25), (0.55, 0.85), (0.45, 0.6),
        ))  # fmt: skip
        used = 0.0
        if Fault.SLOW_CARD in faults:
            write *= slower
            self._tell(
                Fault.SLOW_CARD, f"it writes {write:.0f} MB/s, {format_share(slower)} of its label"
            )
        if Fault.FULL_CARD in faults:
            used = size * filled
            self._tell(Fault.FULL_CARD, f"{used / 1000:.0f} GB of {size / 1000:.0f} GB are taken")
        if Fault.SINGLE in faults:
            self._tell(Fault.SINGLE, "the camera takes the first frame and waits for a new press")
        if Fault.COLD in faults:
            self._tell(Fault.COLD, f"it gives {format_share(weak)} of what it should")
        return StillCamera(
            card=CardStandIn(size, write, used),
            battery=self._battery(weak if Fault.COLD in faults else 1.0),
            file_mb=schedule.file_mb, buffer_frames=schedule.buffer_frames,
            self_timer_s=schedule.self_timer_s, noise_frame=schedule.noise_frame,
            single=Fault.SINGLE in faults,
        )  # fmt: skip

    def _battery(self, share: float) -> BatteryStandIn:
        setup = self.setup
        draw = draw_of(setup.body, setup.devices)
        supply = supply_of(setup.devices, setup.run.temperature_c)
        if draw is None:
            return BatteryStandIn(None, 0.0, 0.0)
        packs_feed = draw.pack_w * self.schedule.last_s / 3600
        has = None if supply is None else share * supply.for_camera_wh(packs_feed)
        idle = draw.idle_w + draw.heater_w
        return BatteryStandIn(has, idle, draw.busy_w + draw.heater_w)

    def _bump(self, random: Random) -> tuple[int, float] | None:
        at, factor = random.uniform(0.2, 0.7), random.choice((0.5, 2.0, 3.0))
        if Fault.BUMP not in self.faults or self.schedule.frames < 3:
            return None
        frame, step = max(1, int(at * self.schedule.frames)), self.schedule.step_s * factor
        self._tell(Fault.BUMP, f"from frame {frame + 1} on the interval is {step:g} s")
        return frame, step

    def _usual_end(self) -> Ended:
        by = self.schedule.by
        if isinstance(by, Presses):
            return Ended.PRESSES
        return Ended.CLOCK if by.count is None else Ended.COUNT

    def go(self) -> Generator[float, None, None]:
        """Carry the run out; yields the share done. Closed early, the log ends there."""
        schedule, camera = self.schedule, self.camera
        stop_at, rungs = schedule.last_s + 1e-6, schedule.rungs
        times = np.arange(max(1, schedule.frames), dtype=np.float64) * schedule.step_s
        index = chosen_rungs(self.setup, rungs, times)
        rows: list[Row] = []
        ended, ended_s, k, at = self._usual_end(), 0.0, 0, 0.0
        last_rung, nan = int(index[-1]), float("nan")
        seconds = [rung.time_s for rung in rungs]
        battery, card, waiting = camera.battery, camera.card, camera.waiting
        fire = camera.fire
        try:
            for at in self.by.fires(stop_at):
                rung = int(index[k]) if k < len(index) else last_rung
                answer = fire(at, seconds[rung])
                start, lost = (nan, _PLACE[answer]) if isinstance(answer, Lost) else (answer, -1)
                rows.append(
                    (at, start, lost, rung, len(waiting), card.used_mb, battery.drawn_wh)
                )  # fmt: skip
                k += 1
                if answer is Lost.BATTERY:
                    ended = Ended.BATTERY
                    break
                if answer is Lost.CARD:
                    ended = Ended.CARD
                    break
                if k % STRIDE == 0:
                    yield min(1.0, k / schedule.frames)
                if k >= MOST_FRAMES:
                    break
            else:
                camera.rest(max(at, camera.written_at_s))
        except GeneratorExit:
            ended = Ended.STOPPED
            raise
        finally:
            ended_s = at if ended in (Ended.BATTERY, Ended.CARD) else max(at, camera.deaf_until_s)
            self.log = _log(rows, ended, ended_s)
        yield 1.0


def faults_for(schedule: TriggerSchedule) -> tuple[Fault, ...]:
    """Faults that can meet a script: a finger has no counter and no dial."""
    if not schedule.one_run or schedule.frames < 2:
        return (Fault.SLOW_CARD, Fault.COLD, Fault.FULL_CARD)
    return tuple(Fault)


_PLACE = {reason: place for place, reason in enumerate(LOST_ORDER)}


Row = tuple[float, float, int, int, int, float, float]


def _log(rows: list[Row], ended: Ended, ended_s: float) -> RunLog:
    table = np.array(rows, dtype=np.float64).reshape(-1, 7).T
    return RunLog(
        trigger_s=table[0], start_s=table[1], lost=table[2].astype(np.int8),
        rung=table[3].astype(np.int32), waiting=table[4].astype(np.int32), card_mb=table[5],
        energy_wh=table[6], ended=ended, ended_s=ended_s,
    )  # fmt: skip


def carry_out(
    setup: Setup, schedule: TriggerSchedule, faults: frozenset[Fault] = frozenset(), seed: int = 1,
    most: int | None = None,
) -> DryRun:  # fmt: skip
    """A whole dry run at once, or its first ``most`` starts (in strides)."""
    dry = DryRun(setup, schedule, faults, seed)
    going = dry.go()
    for share in going:
        if most is not None and share * schedule.frames >= most:
            break
    going.close()
    return dry
