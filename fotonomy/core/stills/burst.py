"""Bursts: the buffer that fills, the card that empties it, and the chance of the moment."""

from dataclasses import dataclass
from math import inf
from typing import ClassVar

from fotonomy.core.conversions import MB_A_GB, PERCENT
from fotonomy.core.gear.body import Body, DriveMode
from fotonomy.core.notation.writing import format_number, format_share
from fotonomy.core.spec.stills import Files

# A drive that shows the moment this surely is enough. Common practice, no source.
ENOUGH_CHANCE = 0.9


def file_mb(body: Body, files: Files) -> float:
    """Decimal MB of one picture as it is kept."""
    return {
        Files.RAW: body.still_mb, Files.JPEG: body.jpeg_mb,
        Files.BOTH: body.still_mb + body.jpeg_mb,
    }[files]  # fmt: skip


def rate_of(drive: DriveMode, continuous_focus: bool) -> float:
    """Pictures a second of a drive, with focus following if it does."""
    slower = drive.fps_focusing if continuous_focus else None
    return drive.fps if slower is None else min(drive.fps, slower)


def limit_of(drive: DriveMode, files: Files) -> int | None:
    """Frames until its buffer is full, by file type; None is not known."""
    if files is Files.JPEG and drive.buffer_jpeg is not None:
        return drive.buffer_jpeg
    return drive.buffer_frames


@dataclass(frozen=True, slots=True)
class Buffer:
    """A buffer of so many frames, filled at a rate and emptied at another, frames a second.

    Full after ``B*r/(r-w)`` frames, clears in ``B/w``; then the rate falls to ``w``.
    """

    frames: int
    rate_fps: float
    write_fps: float

    @property
    def full_after(self) -> float:
        """Frames of one burst until it slows; without end where the card keeps up."""
        if self.rate_fps <= self.write_fps:
            return inf
        return self.frames * self.rate_fps / (self.rate_fps - self.write_fps)

    @property
    def full_after_s(self) -> float:
        """The same in seconds."""
        return self.full_after / self.rate_fps

    def taken(self, lasts_s: float) -> float:
        """Frames of a burst held so long."""
        fast = min(lasts_s, self.full_after_s)
        return fast * self.rate_fps + (lasts_s - fast) * self.write_fps

    def held_after(self, lasts_s: float) -> float:
        """Frames still in the buffer at the end of a burst held so long."""
        fast_s = min(lasts_s, self.full_after_s)
        return min(float(self.frames), max(0.0, fast_s * (self.rate_fps - self.write_fps)))

    def clears_s(self, lasts_s: float) -> float:
        """How long it writes after a burst held so long: it is blind to a new full burst."""
        held = self.held_after(lasts_s)
        return 0.0 if held <= 0 else inf if self.write_fps <= 0 else held / self.write_fps


@dataclass(frozen=True, slots=True)
class DriveChoice:
    """One drive for this subject: what it shows, how long it can, and what it costs.

    ``full_after_s`` None where the buffer or the card is unknown. ``spacing_m`` is how far the
    subject moves between frames, ``chance`` that of a frame inside the moment;
    ``lean_deg`` None for a mechanical shutter or an unknown readout.
    """

    drive: DriveMode
    rate_fps: float
    buffer: Buffer | None
    spacing_m: float
    spacing_percent: float
    chance: float
    frames_a_burst: float
    full_after_s: float | None
    clears_s: float | None
    gb_an_hour: float
    frames_an_hour: float
    lean_deg: float | None
    enough: bool = False


@dataclass(frozen=True, slots=True)
class VideoChoice:
    """High-frame-rate video instead of stills: the best the body records."""

    format_name: str
    rate_fps: float
    megapixels: float
    spacing_m: float
    chance: float
    gb_an_hour: float
    bits: int


@dataclass(frozen=True, slots=True)
class Burst:
    """A burst with the drive in use, all drives side by side, and video against them.

    ``before_frames`` is what the drive keeps from before the press, ``covers_reaction``
    true where that is longer than a person needs to press.
    """

    # Their energy is counted by the hour of work, not as a run's.
    power: ClassVar[None] = None

    present: DriveChoice
    choices: tuple[DriveChoice, ...]
    advised: DriveChoice
    because: str
    video: VideoChoice | None
    still_megapixels: float | None
    moment_s: float
    lasts_s: float
    before_frames: int
    covers_reaction: bool


def spacing_m(speed_m_s: float, rate_fps: float) -> float:
    """How far the subject moves between frames, in metres."""
    return speed_m_s / rate_fps


def spacing_percent(speed_m_s: float, rate_fps: float, field_m: float) -> float:
    """The same in percent of the frame's width."""
    return PERCENT * speed_m_s / rate_fps / field_m


def frames_an_hour(frames_a_burst: float, bursts_an_hour: float) -> float:
    """Frames of an hour's bursts."""
    return frames_a_burst * bursts_an_hour


def stills_gb_an_hour(frames_a_burst: float, bursts_an_hour: float, each_mb: float) -> float:
    """Decimal GB of an hour's bursts."""
    return frames_a_burst * bursts_an_hour * each_mb / MB_A_GB


def video_gb_an_hour(mb_s: float, burst_s: float, bursts_an_hour: float) -> float:
    """Decimal GB of the same hour as video at so many megabits a second."""
    return mb_s / 8 * burst_s * bursts_an_hour / 1000


def kept_before(precapture_s: float, rate_fps: float) -> int:
    """Whole frames a drive keeps from before the press."""
    return int(precapture_s * rate_fps)


def chance_of(moment_s: float, rate_fps: float) -> float:
    """Chance that a frame falls into a moment so long: ``min(1, tau*r)``."""
    return min(1.0, moment_s * rate_fps)


def enough_drive(choices: tuple[DriveChoice, ...]) -> tuple[DriveChoice, str]:
    """The slowest drive that catches the moment surely enough, or the fastest, and why."""
    by_rate = sorted(choices, key=lambda one: (one.rate_fps, one.drive.electronic))
    fastest = by_rate[-1]
    for one in by_rate:
        if one.chance >= ENOUGH_CHANCE - 1e-9:
            if one.rate_fps >= fastest.rate_fps:
                return one, "nothing slower catches the moment for sure"
            times = fastest.rate_fps / one.rate_fps
            return one, (
                f"it catches the moment {format_share(one.chance)} of the time; the fastest "
                f"would keep {format_number(times)} times as many frames, most of them alike"
            )
    return (
        fastest,
        f"even the fastest catches the moment {format_share(fastest.chance)} of the time only",
    )
