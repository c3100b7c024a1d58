"""A stand-in camera for single pictures, with its buffer, its card and its battery."""

from collections import deque
from dataclasses import dataclass, field

from fotonomy.core.dry_run.log import Lost


@dataclass(slots=True)
class CardStandIn:
    """A card: how much it holds, what is on it, and how fast it really takes data in."""

    size_mb: float
    write_mb_s: float
    used_mb: float = 0.0

    def has_room(self, mb: float) -> bool:
        """True if one more file fits."""
        return self.used_mb + mb <= self.size_mb * (1 + 1e-12)


@dataclass(slots=True)
class BatteryStandIn:
    """All batteries on the camera as one; no energy named means it never ends."""

    energy_wh: float | None
    idle_w: float
    busy_w: float
    drawn_wh: float = 0.0

    def after(self, lasts_s: float, busy_s: float) -> float:
        """What will have been drawn after so much more time, so much of it at work."""
        watts = self.idle_w * lasts_s + (self.busy_w - self.idle_w) * busy_s
        return self.drawn_wh + watts / 3600

    def holds(self, drawn_wh: float) -> bool:
        """True if it gives as much."""
        return self.energy_wh is None or drawn_wh <= self.energy_wh * (1 + 1e-12)


@dataclass(slots=True)
class StillCamera:
    """Exposes when told to, deaf until exposure and noise frame are over.

    Frames wait in a buffer of ``buffer_frames`` until the card has taken them, one after
    the other. ``single`` is the drive mode left on single: one frame, then no more.
    """

    card: CardStandIn
    battery: BatteryStandIn
    file_mb: float
    buffer_frames: int
    self_timer_s: float = 0.0
    noise_frame: bool = False
    single: bool = False
    frames: int = 0
    exposed_until_s: float = 0.0
    deaf_until_s: float = 0.0
    now_s: float = 0.0
    busy_s: float = 0.0
    written_at_s: float = 0.0
    waiting: deque[float] = field(default_factory=deque)

    @property
    def write_s(self) -> float:
        """What one frame really takes to write."""
        return self.file_mb / self.card.write_mb_s

    def fire(self, at_s: float, exposure_s: float) -> Lost | float:
        """When the shutter opened, or why it did not. Calls come in the order of time."""
        if not self._until(at_s):
            return Lost.BATTERY
        if self.single and self.frames:
            return Lost.SINGLE
        if at_s < self.deaf_until_s - 1e-9:
            return Lost.EXPOSING if at_s < self.exposed_until_s - 1e-9 else Lost.NOISE_FRAME
        waiting = self.waiting
        while waiting and waiting[0] <= at_s + 1e-9:
            waiting.popleft()
        if len(waiting) >= self.buffer_frames:
            return Lost.BUFFER
        if not self.card.has_room(self.file_mb):
            return Lost.CARD
        return self._expose(at_s, exposure_s)

    def _expose(self, at_s: float, exposure_s: float) -> float:
        start = at_s + self.self_timer_s
        self.exposed_until_s = start + exposure_s
        self.deaf_until_s = self.exposed_until_s + (exposure_s if self.noise_frame else 0.0)
        writes = self.write_s
        self.written_at_s = max(self.deaf_until_s, self.written_at_s) + writes
        self.waiting.append(self.written_at_s)
        self.card.used_mb += self.file_mb
        self.frames += 1
        # What it now owes: exposure, noise frame and writing, one after the other.
        self.busy_s += self.deaf_until_s - at_s + writes
        return start

    def rest(self, until_s: float) -> bool:
        """Let it finish its work until then; False if the battery ends before."""
        return self._until(until_s)

    def _until(self, at_s: float) -> bool:
        """Let the time pass; False once the battery is empty."""
        passed = at_s - self.now_s
        worked = min(self.busy_s, passed)
        drawn = self.battery.after(passed, worked)
        if not self.battery.holds(drawn):
            return False
        self.battery.drawn_wh, self.busy_s, self.now_s = drawn, self.busy_s - worked, at_s
        return True
