"""A day's log over the pictures that were brought home: what lies where on one line of hours."""

from dataclasses import dataclass
from math import ceil

from fotonomy.figures.svg import Drawing, Scale, Size

BAR, LEAST_BAR_PX = 14.0, 7.0
HOUR_S = 3600.0
# A mark of the hour is at least so wide apart, in widths of the type.
HOURS_EM = 6.0


@dataclass(frozen=True, slots=True)
class Span:
    """A take or a group: from and to in seconds of its day, its name, and if it is known."""

    start_s: float
    end_s: float
    name: str
    known: bool = True


def brought_home(
    day: str, log: tuple[Span, ...], pictures: tuple[Span, ...], size: Size
) -> str:  # fmt: skip
    """The drawing of one day: the log above the line in teal, the pictures below it in amber.

    Pictures that no take was logged for are red and have a question mark. ``size`` in px.
    """
    both = (*log, *pictures)
    low = HOUR_S * int(min(one.start_s for one in both) // HOUR_S)
    high = HOUR_S * ceil(max(one.end_s for one in both) / HOUR_S)
    px, line = size.text_px, size.line
    top = line + 6
    foot = top + BAR + 4
    drawing = Drawing(size.width, foot + BAR + 6 + 2 * line, f"Log and pictures of {day}",
                      _described(log, pictures), px)  # fmt: skip
    x = Scale(low, max(high, low + HOUR_S), 16, size.width - 16)
    step = max(1, ceil(HOURS_EM * px / (x(HOUR_S) - x(0))))
    for hour in range(int(low // HOUR_S), int(x.high // HOUR_S) + 1, step):
        drawing.offer_within(x(hour * HOUR_S), px, f"{hour % 24:02}:00", "tick", 0, size.width)
    drawing.line(0, top + BAR + 2, size.width, top + BAR + 2, "grid")
    for one in log:
        _bar(drawing, x, one, top, "logged")
    for one in pictures:
        _bar(drawing, x, one, foot + 2, "gives" if one.known else "unlogged")
    named = {one.name for one in pictures}
    for one in (*pictures, *(one for one in log if one.name not in named)):
        words = one.name if one.known else "?"
        middle = x((one.start_s + one.end_s) / 2)
        kind = "label" if one.known else "verdict bad"
        if not drawing.offer_within(middle, foot + BAR + 4 + px, words, kind, 0, size.width):
            drawing.offer_within(middle, foot + BAR + 4 + px + line, words, kind, 0, size.width)
    return drawing.render()


def _bar(drawing: Drawing, x: Scale, one: Span, y: float, class_: str) -> None:
    left, right = x(one.start_s), x(one.end_s)
    wide = max(LEAST_BAR_PX, right - left)
    drawing.rect((left + right - wide) / 2, y, wide, BAR, class_)


def _described(log: tuple[Span, ...], pictures: tuple[Span, ...]) -> str:
    unknown = sum(not one.known for one in pictures)
    words = f"{len(log)} takes logged, {len(pictures)} groups of pictures"
    return f"{words}, {unknown} of them without a take" if unknown else words
