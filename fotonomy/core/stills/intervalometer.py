"""What a remote is set to, in its own fields, and when it then fires."""

from dataclasses import dataclass
from math import ceil, floor

from fotonomy.core.gear.accessories import Counting, Remote

# Where no remote is named: one that counts from start to start, as cameras' own timers do.
PLAIN_REMOTE = Remote(name="the camera's own timer", most_count=9999, unlimited=True)


@dataclass(frozen=True, slots=True)
class Intervalometer:
    """A remote's fields, and what they come to.

    ``exposure_s`` is 0 where the camera times the exposure and the remote only taps.
    ``interval_s`` is the remote's own field by its convention; ``count`` None is unlimited,
    to be stopped by the clock. ``step_s`` is what really lies between two starts,
    ``first_s`` when the first frame starts, ``last_s`` when the last one of ``frames`` does.
    ``waits_s`` is the delay that could not be kept, since the remote waits an interval first.
    """

    delay_s: float
    exposure_s: float
    interval_s: float
    count: int | None
    frames: int
    first_s: float
    step_s: float
    bulb: bool
    waits_s: float = 0.0

    @property
    def last_s(self) -> float:
        """When the last wanted frame starts: ``first + (N-1)*step``."""
        return self.first_s + max(0, self.frames - 1) * self.step_s

    @property
    def stop_s(self) -> float:
        """When to stop a remote that runs without a count: half a step after the last start."""
        return self.last_s + self.step_s / 2

    def start_s(self, k: int) -> float:
        """When frame ``k`` (the first is 0) starts."""
        return self.first_s + k * self.step_s


def _up(value: float, step: float) -> float:
    return ceil(value / step - 1e-6) * step


def _near(value: float, step: float, least: float) -> float:
    """The nearest of the remote's steps, the upper one of two as near; none under ``least``."""
    nearest = floor(value / step + 0.5) * step
    return nearest if nearest >= least - 1e-6 else _up(least, step)


def neighbours_s(remote: Remote, interval_s: float) -> tuple[float, float]:
    """The remote's step under an interval and the one over it; the same twice where it is one."""
    under = floor(interval_s / remote.step_s + 1e-6) * remote.step_s
    return under, _up(interval_s, remote.step_s)


def intervalometer_for(
    remote: Remote, *, frames: int, interval_s: float, exposure_s: float, delay_s: float, bulb: bool
) -> Intervalometer:
    """The fields that give ``frames`` so far apart, the first after ``delay_s``.

    The interval goes to the nearest of the remote's steps that holds the exposure, what is held
    and waited for up to the next one. A count the remote cannot keep, or cannot be
    trusted with, becomes unlimited where it can run so; else it is its own highest.
    """
    held = _up(exposure_s, remote.step_s) if bulb else 0.0
    if remote.counting is Counting.END_TO_START:
        field = _near(interval_s - held, remote.step_s, remote.step_s)
        step = field + held
    else:
        least = max(remote.step_s, exposure_s)
        field = step = _near(interval_s, remote.step_s, least)
    lead = step if remote.waits_first else 0.0
    delay = _up(max(0.0, delay_s - lead), remote.step_s)
    highest = remote.most_count
    trusted = remote.sure_count if remote.sure_count is not None else highest
    count: int | None = frames
    if (trusted is not None and frames > trusted) and remote.unlimited:
        count = None
    elif highest is not None and frames > highest:
        count = highest
    return Intervalometer(
        delay_s=delay, exposure_s=held, interval_s=field, count=count, frames=frames,
        first_s=delay + lead, step_s=step, bulb=bulb, waits_s=max(0.0, lead - delay_s),
    )  # fmt: skip


REMINDERS = (
    ("Drive", "continuous, or the remote takes one frame only"),
    ("Focus", "by hand, ring taped"),
    ("Stabiliser", "off on the tripod"),
    ("Image review and beeps", "off"),
)
