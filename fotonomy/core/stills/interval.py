"""Interval runs: fence posts, which of three follows from two, and one cycle to its parts."""

from dataclasses import dataclass
from math import ceil, floor

from fotonomy.core import constants as c
from fotonomy.core.errors import RuleError
from fotonomy.core.motion.shutter import exact_rate
from fotonomy.core.spec.stills import EVENT_RANGE_S, Follows

# The shortest interval a remote does, and the longest anybody waits for.
INTERVAL_RANGE_S = (1.0, 86_400.0)
# Rounding of this much must not cost a frame.
_TOLERANCE_S = 1e-6
# Intervals are set in whole seconds.
LEAST_WHOLE_S = 1.0


def interval_of(frame_rate: float) -> float:
    """Seconds from one frame's start to the next."""
    return 1 / frame_rate


def frames_over(event_s: float, interval_s: float) -> int:
    """Frames that cover an event: N frames span ``(N-1)*interval``, so one more than spaces."""
    return floor(event_s / interval_s + _TOLERANCE_S) + 1


def span_s(frames: int, interval_s: float) -> float:
    """From the first start to the last: ``(N-1)*interval``; 0 for one frame."""
    return max(0, frames - 1) * interval_s


def frames_for(screen_s: float, project_fps: float) -> int:
    """Frames that fill so long on screen; one at least."""
    return max(1, ceil(screen_s * float(exact_rate(project_fps)) - 1e-3))


@dataclass(frozen=True, slots=True)
class Three:
    """Event, interval and clip that belong together, with the frames they take."""

    event_s: float
    interval_s: float
    screen_s: float
    frames: int


def third(
    follows: Follows, *, event_s: float, interval_s: float, screen_s: float, project_fps: float
) -> Three:
    """The three with the one that follows worked out of the other two.

    Raises RuleError naming the one that follows where it would lie outside all reason.
    """
    fps = float(exact_rate(project_fps))
    match follows:
        case Follows.CLIP:
            frames = frames_over(event_s, interval_s)
            screen_s = frames / fps
            if not c.SCREEN_RANGE_S[0] <= screen_s <= c.SCREEN_RANGE_S[1]:
                raise RuleError("wanted_screen_s", f"would come to {screen_s:.0f} s", screen_s)
        case Follows.INTERVAL:
            frames = frames_for(screen_s, project_fps)
            if frames < 2:
                raise RuleError("frame_rate", "a clip of one frame has no interval", frames)
            interval_s = event_s / (frames - 1)
            if not INTERVAL_RANGE_S[0] <= interval_s <= INTERVAL_RANGE_S[1]:
                raise RuleError(
                    "frame_rate",
                    f"would be {interval_s:.3g} s; an interval goes from 1 s to a day",
                    interval_s,
                )  # fmt: skip
        case Follows.EVENT:
            frames = frames_for(screen_s, project_fps)
            event_s = max(EVENT_RANGE_S[0], span_s(frames, interval_s))
            if event_s > EVENT_RANGE_S[1]:
                raise RuleError("event_s", "would last longer than a year", event_s)
    return Three(event_s, interval_s, screen_s, frames)


@dataclass(frozen=True, slots=True)
class Part:
    """One stretch of a cycle: what happens, from when on, and for how long, in s."""

    name: str
    at_s: float
    lasts_s: float


def deaf_s(self_timer_s: float, exposure_s: float, noise_frame_s: float) -> float:
    """How long the camera hears no start: self-timer, exposure and noise frame."""
    return self_timer_s + exposure_s + noise_frame_s


def shortest_s(deaf_s: float, write_s: float) -> float:
    """The shortest interval that fits, in whole seconds, one at least."""
    needs_s = deaf_s + write_s + c.CYCLE_MARGIN_S
    return float(ceil(needs_s - _TOLERANCE_S) if needs_s >= LEAST_WHOLE_S else LEAST_WHOLE_S)


@dataclass(frozen=True, slots=True)
class Cycle:
    """One interval in order; ``idle_s`` is what is left, negative where it does not fit.

    The camera is deaf from the trigger to the end of exposure and noise frame
    (``deaf_s``); writing may go on while the next frame is exposed, as long as the buffer
    takes it, but must on average keep up. ``shortest_s`` is the shortest interval that would fit.
    ``noise_frame_s`` is 0 where none is taken.
    """

    interval_s: float
    parts: tuple[Part, ...]
    deaf_s: float
    write_s: float
    margin_s: float
    shortest_s: float
    self_timer_s: float = 0.0
    exposure_s: float = 0.0
    noise_frame_s: float = 0.0

    @property
    def idle_s(self) -> float:
        """Time left before the next start."""
        return self.interval_s - self.deaf_s - self.write_s - self.margin_s

    @property
    def fits(self) -> bool:
        """``exposure + noise frame + write + margin <= interval``."""
        return self.idle_s >= -_TOLERANCE_S

    @property
    def keeps_up(self) -> bool:
        """True where the camera hears every start, even if writing overlaps the next frame."""
        return (
            self.deaf_s <= self.interval_s + _TOLERANCE_S
            and self.write_s <= self.interval_s + _TOLERANCE_S
        )


def cycle(
    *, interval_s: float, exposure_s: float, self_timer_s: float, noise_frame: bool, write_s: float
) -> Cycle:
    """One cycle of an interval run, laid out in the order things happen."""
    parts, at = [], 0.0
    dark = exposure_s if noise_frame else 0.0
    for name, lasts in (
        ("self-timer", self_timer_s), ("exposure", exposure_s), ("noise frame", dark),
        ("writing", write_s),
    ):  # fmt: skip
        if lasts > 0:
            parts.append(Part(name, at, lasts))
        at += lasts
    deaf = deaf_s(self_timer_s, exposure_s, dark)
    if interval_s > at:
        parts.append(Part("idle", at, interval_s - at))
    return Cycle(
        interval_s, tuple(parts), deaf, write_s, c.CYCLE_MARGIN_S, shortest_s(deaf, write_s),
        self_timer_s, exposure_s, dark,
    )  # fmt: skip


# Starting points by subject: interval in s and why. Common practice, no source.
SUBJECTS: dict[str, tuple[float, str]] = {
    "traffic, people": (1.0, "about one a second: a hop each frame, not a jump"),
    "sunrise, sunset": (3.0, "three seconds keep low clouds smooth"),
    "tide, shadows, daytime": (6.0, "six seconds or more, the slower the longer"),
    "stars": (15.0, "as long as a frame that keeps them points"),
    "a flower": (3600.0, "one an hour over days"),
    "a building": (86_400.0, "one a day over months"),
}


def usual_for(interval_s: float) -> tuple[str, str] | None:
    """What such an interval is usual for, and why; None where nothing is near it."""
    for name, (usual, why) in SUBJECTS.items():
        if abs(interval_s - usual) <= 0.05 * usual:
            return name, why
    return None
