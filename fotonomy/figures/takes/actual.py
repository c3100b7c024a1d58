"""Plan against actual: a bar a take, brighter to the right, darker to the left."""

from dataclasses import dataclass
from math import ceil

from fotonomy.figures.svg import Drawing, Scale, Size, shortened

LEAST_STOPS = 1.0
ROW, BAR, TOP = 30.0, 12.0, 26.0


@dataclass(frozen=True, slots=True)
class Bar:
    """A take: its name, the stops of each setting that differed in order, and in all."""

    name: str
    parts: tuple[tuple[str, float], ...]
    stops: float
    good: bool


def actual(bars: tuple[Bar, ...], size: Size) -> str:
    """The drawing; stops across, a row a take, each part of a bar a setting."""
    reach = max([LEAST_STOPS, *(_reach(bar) for bar in bars)])
    limit = float(ceil(reach * 2) / 2)
    tall = TOP + ROW * len(bars) + 6
    drawing = Drawing(size.width, tall, "Plan against actual", _described(bars), size.text_px)
    names = min(230.0, size.width * 0.42)
    x = Scale(-limit, limit, names + 16, size.width - 52)
    step = 0.5 if limit <= 1.5 else 1.0
    # What stands in the middle is written first: a mark that has no room beside it goes without.
    marks = sorted(range(-int(limit / step), int(limit / step) + 1), key=abs)
    for k in marks:
        stops = k * step
        class_ = "target-line" if k == 0 else "grid"
        drawing.line(x(stops), TOP - 6, x(stops), tall - 6, class_)
        words = "as planned" if k == 0 else f"{stops:+g}".replace("-", "−")
        drawing.offer_within(x(stops), TOP - 12, words, "tick", names, size.width)
    for row, bar in enumerate(bars):
        _bar(drawing, x, TOP + ROW * row + ROW / 2, bar, names, size)
    return drawing.render()


def _reach(bar: Bar) -> float:
    over = sum(stops for _, stops in bar.parts if stops > 0)
    under = -sum(stops for _, stops in bar.parts if stops < 0)
    return max(over, under, abs(bar.stops))


def _bar(drawing: Drawing, x: Scale, y: float, bar: Bar, names: float, size: Size) -> None:
    drawing.label(0, y + 4, shortened(bar.name, names, px=size.text_px), "label")
    over = under = 0.0
    for _, stops in bar.parts:
        start = over if stops > 0 else under
        left, right = sorted((x(start), x(start + stops)))
        drawing.rect(left, y - BAR / 2, right - left, BAR, "gives" if stops > 0 else "takes")
        if stops > 0:
            over += stops
        else:
            under += stops
    drawing.circle(x(bar.stops), y, 4.5, "actual-good" if bar.good else "actual-other")
    said = f"{bar.stops:+.1f}".replace("-", "−")
    drawing.label(size.width, y + 4, said, "tick end")


def _described(bars: tuple[Bar, ...]) -> str:
    return "; ".join(f"{bar.name} {bar.stops:+.1f} stops" for bar in bars) or "no take differed"
