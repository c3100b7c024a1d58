"""A burst in the buffer: filling, full and slow, clearing."""

from math import isfinite

from fotonomy.core.notation.writing import format_number
from fotonomy.core.stills.burst import Burst
from fotonomy.figures.svg import WIDE, Drawing, Scale, label_within

TOP, FOOT = 14.0, 128.0


UNKNOWN = "the card's speed or the buffer is not known"


def _frames_words(burst: Burst) -> str:
    frames = format_number(burst.present.frames_a_burst, 0)
    return f"{frames} frames in {format_number(burst.lasts_s, 2)} s"


def buffer_words(burst: Burst) -> str:
    """The buffer of a burst in words."""
    one, frames = burst.present, _frames_words(burst)
    if one.buffer is None:
        return f"{frames}; {UNKNOWN}"
    clears = "never clears" if one.clears_s is None or not isfinite(one.clears_s) else (
        f"writes {format_number(one.clears_s)} s after"
    )  # fmt: skip
    if one.full_after_s is None or one.full_after_s >= burst.lasts_s:
        return f"{frames}, the buffer holds, {clears}"
    return f"{frames}, full after {format_number(one.full_after_s, 2)} s, {clears}"


def buffer_figure(burst: Burst, width: float = WIDE) -> str:
    """Frames waiting in the buffer over time as SVG: the burst, then the clearing."""
    drawing = Drawing(width, 176, "Buffer", buffer_words(burst))
    one = burst.present
    if one.buffer is None:
        said = (_frames_words(burst), UNKNOWN, "put a card with its speed on the camera")
        for k, words in enumerate(said):
            drawing.label(0, 40 + 20 * k, words, "caption")
        return drawing.render()
    buffer, lasts = one.buffer, burst.lasts_s
    clears = buffer.clears_s(lasts)
    clears = min(clears, 20 * lasts) if isfinite(clears) else 3 * lasts
    x = Scale(0, max(lasts + clears, 1.15 * lasts), 44, width - 6)
    y = Scale(0, 1.12 * buffer.frames, FOOT, TOP)
    held, full = buffer.held_after(lasts), min(buffer.full_after_s, lasts)
    drawing.rect(x(0), TOP, x(lasts) - x(0), FOOT - TOP, "pressed")
    if buffer.full_after_s < lasts:
        drawing.rect(x(full), TOP, x(lasts) - x(full), FOOT - TOP, "clip-zone")
        slow = f"slow: {format_number(buffer.write_fps)} a second"
        label_within(drawing, (x(full) + x(lasts)) / 2, FOOT - 8, slow, "zone-word", x(full),
                     width)  # fmt: skip
    drawing.line(x.start, y(buffer.frames), x.end, y(buffer.frames), "limit-line")
    drawing.label(x.end, y(buffer.frames) - 4, f"buffer, {buffer.frames} frames", "small end")
    points = [(x(0), y(0)), (x(full), y(buffer.held_after(full))), (x(lasts), y(held)),
              (x(lasts + clears), y(0))]  # fmt: skip
    drawing.area([*points, (x(0), y(0))], "waiting")
    drawing.path(points, "curve")
    drawing.line(x.start, FOOT, x.end, FOOT, "ground")
    drawing.label(x(0) + 4, TOP + 11, f"held {format_number(lasts, 2)} s", "by-tone small")
    _ticks(drawing, x, y, buffer.frames)
    blind = (
        f"writes for {format_number(one.clears_s or 0.0)} s" if one.clears_s else "nothing waits"
    )
    label_within(drawing, x(lasts + clears / 2), FOOT - 24, blind, "by-tone", x(lasts), width)
    frames = f"{format_number(one.frames_a_burst, 0)} frames a burst"
    hour = (f"{format_number(one.frames_an_hour, 0)} frames, "
            f"{format_number(one.gb_an_hour)} GB an hour of such bursts")  # fmt: skip
    drawing.label(0, 170, frames if drawing.narrow else f"{frames}; {hour}", "figures")
    return drawing.render()


def _ticks(drawing: Drawing, x: Scale, y: Scale, frames: int) -> None:
    for share in (0, 0.5, 1):
        count = round(frames * share)
        drawing.label(x.start - 5, y(count) + 4, str(count), "tick end")
    every = next((s for s in (0.5, 1, 2, 5, 10, 30, 60, 300) if (x.high - x.low) / s <= 9), 900)
    for k in range(int(x.high // every) + 1):
        at = x(k * every)
        drawing.line(at, FOOT, at, FOOT + 4, "grid")
        word = f"{format_number(k * every)} s"
        label_within(drawing, at, FOOT + 17, word, "tick", 0, drawing.width, mono=True)
