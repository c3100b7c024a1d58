"""One cycle of an interval run to scale: self-timer, exposure, noise frame, writing, idle."""

from fotonomy.core.notation.writing import format_number, format_time
from fotonomy.core.stills.interval import Cycle, Part
from fotonomy.figures.svg import WIDE, Drawing, Scale, label_within, shortened, text_width

PAINT = {
    "self-timer": "field", "exposure": "open", "noise frame": "dark-frame", "writing": "takes",
    "idle": "idle",
}  # fmt: skip
ON = {"exposure": "on-gives", "writing": "on-takes", "noise frame": "on-takes"}
TOP, TALL = 16.0, 26.0


def part_words(cycle: Cycle) -> tuple[str, ...]:
    """Every part with its length, in order."""
    return tuple(_said(part) for part in cycle.parts)


def _said(part: Part) -> str:
    """A part with its length: exposures as a camera shows them, the rest in seconds."""
    exposing = part.name in ("exposure", "noise frame")
    lasts = format_time(part.lasts_s) if exposing else f"{format_number(part.lasts_s, 2)} s"
    return f"{part.name} {lasts}"


def cycle_words(cycle: Cycle) -> str:
    """A cycle in words."""
    room = (
        f"{format_number(cycle.idle_s, 2)} s to spare" if cycle.fits
        else f"{format_number(-cycle.idle_s, 2)} s too long"
    )  # fmt: skip
    return f"every {format_number(cycle.interval_s, 2)} s: {', '.join(part_words(cycle))}; {room}"


def cycle_figure(cycle: Cycle, width: float = WIDE) -> str:
    """One cycle as SVG, ``width`` px wide; what runs past the next start stands in red."""
    drawing = Drawing(width, 92, "Cycle", cycle_words(cycle))
    work = cycle.deaf_s + cycle.write_s
    longest = max(cycle.interval_s, work)
    x = Scale(0, longest * (1.04 if work > cycle.interval_s else 1.0), 1, width - 1)
    drawing.rect(x(0), TOP, x(longest) - x(0), TALL, "field")
    for part in cycle.parts:
        left, right = x(part.at_s), x(part.at_s + part.lasts_s)
        wide = max(2.0, right - left)
        drawing.rect(left, TOP, wide, TALL, PAINT[part.name])
        for words in (_said(part), part.name):
            if text_width(words) + 10 < wide:
                kind = f"in-bar middle {ON.get(part.name, '')}".strip()
                drawing.label(left + wide / 2, TOP + 17, words, kind)
                break
    if work > cycle.interval_s:
        drawing.rect(x(cycle.interval_s), TOP - 4, x(work) - x(cycle.interval_s), TALL + 8,
                     "clip-zone")  # fmt: skip
    at = x(cycle.interval_s)
    drawing.line(at, TOP - 8, at, TOP + TALL + 8, "target-line")
    words = f"next start, {format_number(cycle.interval_s, 2)} s"
    label_within(drawing, at - 4, 10, words, "tick", 0, width, mono=True)
    _foot(drawing, cycle)
    return drawing.render()


def _foot(drawing: Drawing, cycle: Cycle) -> None:
    y = TOP + TALL + 20
    drawing.label(0, y, shortened(", ".join(part_words(cycle)), drawing.width), "caption")
    if cycle.fits:
        word, kind = f"■ fits, {format_number(cycle.idle_s, 2)} s to spare", "good"
    elif cycle.keeps_up:
        word, kind = "▲ only just: the buffer has to carry it", "warn"
    else:
        word, kind = f"✕ does not fit; {format_number(cycle.shortest_s, 1)} s would", "bad"
    drawing.label(0, y + 18, word, f"verdict {kind}")
