"""One cycle of an interval run to scale: self-timer, exposure, noise frame, writing, idle."""

from dataclasses import dataclass

from fotonomy.core.analysis.interval import IntervalRun
from fotonomy.core.notation.writing import format_number, format_time
from fotonomy.core.stills.interval import Cycle, Part
from fotonomy.figures.svg import Drawing, Scale, Size, label_within, shortened

PAINT = {
    "self-timer": "field", "exposure": "open", "noise frame": "dark-frame", "writing": "takes",
    "idle": "idle",
}  # fmt: skip
ON = {"exposure": "on-gives", "writing": "on-takes", "noise frame": "on-takes"}


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


@dataclass(frozen=True, slots=True)
class Store:
    """What a run takes of something there is so much of: gigabytes or watt hours."""

    name: str
    takes: float
    has: float
    unit: str

    @property
    def words(self) -> str:
        """Both amounts: "card: 18.7 of 128 GB"."""
        return f"{self.name}: {format_number(self.takes)} of {format_number(self.has)} {self.unit}"

    @property
    def enough(self) -> bool:
        """True where it lasts."""
        return self.takes <= self.has


def stores_of(run: IntervalRun) -> tuple[Store, ...]:
    """Card and batteries of a run, as far as they are known."""
    found = [Store("card", run.size_gb, run.card.size_gb, "GB")]
    if run.power is not None and run.power.has_wh is not None:
        found.append(Store("batteries", run.power.needs_wh, run.power.has_wh, "Wh"))
    return tuple(found)


def cycle_figure(cycle: Cycle, size: Size, stores: tuple[Store, ...] = ()) -> str:
    """One cycle as SVG, what runs past the next start in red; under it card and batteries."""
    line, px = size.line, size.text_px
    said = "; ".join((cycle_words(cycle), *(store.words for store in stores)))
    height = size.height or 54.0 + 3 * line + len(stores) * (line + 16)
    drawing = Drawing(size.width, height, "Cycle", said, px)
    if size.glance:
        _bar(drawing, cycle, (height * 0.1, height * 0.42), words=False)
        _stores(drawing, stores, height * 0.62, height - 2, words=False)
        return drawing.render()
    if size.tile:
        top, tall = 3.0, min(26.0, height * 0.3)
        _bar(drawing, cycle, (top, tall))
        _stores(drawing, stores, top + tall + 6, height - 1)
        return drawing.render()
    top, tall = line + 2.0, 26.0
    at = _bar(drawing, cycle, (top, tall))
    words = f"next start, {format_number(cycle.interval_s, 2)} s"
    label_within(drawing, at - 4, px, words, "tick", 0, size.width)
    y = top + tall + line + 4
    drawing.label(0, y, shortened(", ".join(part_words(cycle)), size.width, "", px), "caption")
    drawing.label(0, y + line, *_verdict(cycle))
    _stores(drawing, stores, y + line + 10, height - 2)
    return drawing.render()


def _bar(drawing: Drawing, cycle: Cycle, place: tuple[float, float], words: bool = True) -> float:
    """The parts to scale; where the next start is, in px."""
    top, tall = place
    work = cycle.deaf_s + cycle.write_s
    longest = max(cycle.interval_s, work)
    x = Scale(0, longest * (1.04 if work > cycle.interval_s else 1.0), 1, drawing.width - 1)
    drawing.rect(x(0), top, x(longest) - x(0), tall, "field")
    for part in cycle.parts:
        left, right = x(part.at_s), x(part.at_s + part.lasts_s)
        wide = max(2.0, right - left)
        drawing.rect(left, top, min(wide, drawing.width - left), tall, PAINT[part.name])
        kind = f"in-bar middle {ON.get(part.name, '')}".strip()
        base = top + tall / 2 + 0.36 * drawing.text_px
        for said in (_said(part), part.name) if words and tall > drawing.text_px else ():
            if drawing.wide(said, kind) + 8 < wide:
                drawing.label(left + wide / 2, base, said, kind)
                break
    if work > cycle.interval_s:
        drawing.rect(x(cycle.interval_s), top - 3, x(work) - x(cycle.interval_s), tall + 6,
                     "clip-zone")  # fmt: skip
    at = x(cycle.interval_s)
    drawing.line(at, top - 3, at, top + tall + 3, "target-line")
    return at


def _verdict(cycle: Cycle) -> tuple[str, str]:
    if cycle.fits:
        return f"● fits, {format_number(cycle.idle_s, 2)} s to spare", "verdict good"
    if cycle.keeps_up:
        return "▲ only just: the buffer has to carry it", "verdict warn"
    return f"✕ does not fit; {format_number(cycle.shortest_s, 1)} s would", "verdict bad"


def _stores(
    drawing: Drawing, stores: tuple[Store, ...], top: float, foot: float, words: bool = True
) -> None:
    """A bar each, full where all of it is taken; over what there is in red."""
    if not stores:
        return
    each = (foot - top) / len(stores)
    line = drawing.text_px + 3.0
    words = words and each >= line + 6
    for k, store in enumerate(stores):
        y = top + k * each
        kind = "takes" if store.enough else "lost"
        if words:
            mark, said = ("", "caption") if store.enough else ("✕ ", "verdict bad")
            drawing.offer(0, y + drawing.text_px, f"{mark}{store.words}", said)
            y += line
        tall = max(4.0, min(9.0, top + (k + 1) * each - y - 2))
        drawing.rect(0.5, y, drawing.width - 1, tall, "card")
        share = min(1.0, store.takes / store.has) if store.has > 0 else 1.0
        drawing.rect(1, y + 1, max(1.5, (drawing.width - 2) * share), tall - 2, kind)
