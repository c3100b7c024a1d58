"""Who fires: a stand-in remote by its program, its counter may skip; or a finger on the button."""

from collections.abc import Iterator
from dataclasses import dataclass
from random import Random

from fotonomy.core.dry_run.trigger_schedule import Presses
from fotonomy.core.gear.accessories import Remote
from fotonomy.core.stills.intervalometer import Intervalometer

# From here on a cheap counter starts to skip, where nothing says until when it is sure.
SKIPS_FROM = 100
SKIP_CHANCE = 0.04


@dataclass(slots=True)
class RemoteStandIn:
    """Fires by a program. ``bump`` is the frame before which somebody turns its dial, and to
    what the interval then goes; ``skips`` lets its counter run ahead above a hundred.
    """

    remote: Remote
    intervalometer: Intervalometer
    seed: int = 0
    skips: bool = False
    bump: tuple[int, float] | None = None

    def fires(self, stop_at_s: float) -> Iterator[float]:
        """Times of its starts, until its count is reached or ``stop_at_s`` where it has none."""
        intervalometer, random = self.intervalometer, Random(self.seed)
        unsure = self.remote.sure_count or SKIPS_FROM
        step, at, counted, k = intervalometer.step_s, intervalometer.first_s, 0, 0
        while intervalometer.count is None or counted < intervalometer.count:
            if intervalometer.count is None and at > stop_at_s:
                return
            yield at
            counted += 1
            k += 1
            if self.skips and intervalometer.count is not None and counted > unsure:
                counted += 1 if random.random() < SKIP_CHANCE else 0
            if self.bump and k == self.bump[0]:
                step = self.bump[1]
            at = at + step if self.bump else intervalometer.first_s + k * step


@dataclass(slots=True)
class FingerStandIn:
    """Holds the button down burst after burst; nothing goes wrong with it."""

    presses: Presses

    def fires(self, stop_at_s: float) -> Iterator[float]:
        """Times at which frames are asked for, none after ``stop_at_s``."""
        for burst in range(self.presses.bursts):
            for k in range(self.presses.frames):
                at = self.presses.start_s(burst, k)
                if at > stop_at_s:
                    return
                yield at
