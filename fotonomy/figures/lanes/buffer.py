"""A burst in the buffer: filling, full and slow, clearing."""

from math import isfinite

from fotonomy.core.notation.writing import format_number
from fotonomy.core.stills.burst import Burst
from fotonomy.figures.svg import Drawing, Scale, Size, shortened

HEIGHT = 192.0


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


def buffer_figure(burst: Burst, size: Size) -> str:
    """Frames waiting in the buffer over time as SVG: the burst, then the clearing."""
    px, line = size.text_px, size.line
    drawing = Drawing(size.width, size.height or HEIGHT, "Buffer", buffer_words(burst), px)
    one = burst.present
    if one.buffer is None:
        said = (_frames_words(burst), UNKNOWN, "put a card with its speed on the camera")
        for k, words in enumerate(() if size.glance else said):
            drawing.offer(0, px + line * k, shortened(words, size.width, "", px), "caption")
        return drawing.render()
    buffer, lasts = one.buffer, burst.lasts_s
    clears = buffer.clears_s(lasts)
    clears = min(clears, 20 * lasts) if isfinite(clears) else 3 * lasts
    left = 2.0 if size.tile else 44.0
    top = 2.0 if size.tile else 6.0
    foot = drawing.height - (2 if size.glance else line + 2 if size.tile else 2 * line + 10)
    x = Scale(0, max(lasts + clears, 1.15 * lasts), left, size.width - 2)
    y = Scale(0, 1.12 * buffer.frames, foot, top)
    held, full = buffer.held_after(lasts), min(buffer.full_after_s, lasts)
    drawing.rect(x(0), top, x(lasts) - x(0), foot - top, "pressed")
    if buffer.full_after_s < lasts:
        drawing.rect(x(full), top, x(lasts) - x(full), foot - top, "clip-zone")
    drawing.line(x.start, y(buffer.frames), x.end, y(buffer.frames), "limit-line")
    points = [(x(0), y(0)), (x(full), y(buffer.held_after(full))), (x(lasts), y(held)),
              (x(lasts + clears), y(0))]  # fmt: skip
    drawing.area([*points, (x(0), y(0))], "waiting")
    drawing.path(points, "curve")
    drawing.line(x.start, foot, x.end, foot, "ground")
    if size.glance:
        return drawing.render()
    limit = y(buffer.frames)
    drawing.first(((x.end, limit - 4, f"buffer, {buffer.frames} frames", "by-tone end"),
                   (x.end, limit + px + 2, f"buffer, {buffer.frames} frames",
                    "by-tone end")))  # fmt: skip
    drawing.offer_within((x(0) + x(lasts)) / 2, foot - 6, f"held {format_number(lasts, 2)} s",
                         "by-tone", x(0), x(lasts))  # fmt: skip
    if buffer.full_after_s < lasts:
        slow = f"slow: {format_number(buffer.write_fps)} a second"
        drawing.offer_within((x(full) + x(lasts)) / 2, foot - 6 - line, slow, "zone-word", x(full),
                             size.width)  # fmt: skip
    blind = (
        f"writes for {format_number(one.clears_s or 0.0)} s" if one.clears_s else "nothing waits"
    )
    drawing.offer_within(x(lasts + clears / 2), foot - 6 - 2 * line, blind, "by-tone", x(lasts),
                         size.width)  # fmt: skip
    _ticks(drawing, x, y, buffer.frames, size)
    if not size.tile:
        frames = f"{format_number(one.frames_a_burst, 0)} frames a burst"
        hour = (f"{format_number(one.frames_an_hour, 0)} frames, "
                f"{format_number(one.gb_an_hour)} GB an hour of such bursts")  # fmt: skip
        base = drawing.height - 4
        drawing.first(((0, base, f"{frames}; {hour}", "figures"), (0, base, frames, "figures")))
    return drawing.render()


def _ticks(drawing: Drawing, x: Scale, y: Scale, frames: int, size: Size) -> None:
    if not size.tile:
        for share in (0, 0.5, 1):
            count = round(frames * share)
            drawing.offer(x.start - 5, y(count) + 4, str(count), "tick end")
    most = max(3.0, (x.end - x.start) / (5 * size.text_px))
    every = next((s for s in (0.5, 1, 2, 5, 10, 30, 60, 300) if (x.high - x.low) / s <= most), 900)
    for k in range(int(x.high // every) + 1):
        at = x(k * every)
        drawing.line(at, y.start, at, y.start + 4, "grid")
        word = f"{format_number(k * every)} s"
        drawing.offer_within(at, y.start + size.text_px + 2, word, "tick", 0, size.width)
