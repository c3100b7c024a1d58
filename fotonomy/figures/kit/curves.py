"""Curves over each other, in stops from grey against percent of each one's scale."""

from math import ceil

import numpy as np

from fotonomy.core.curves.transfer_functions import encode
from fotonomy.core.gear.profile import Profile
from fotonomy.core.notation.writing import format_number
from fotonomy.core.tone.signal_levels import headroom_stops
from fotonomy.figures.svg import WIDE, Box, Drawing, Scale, is_narrow, shortened, text_width

HEIGHT, TOP, BOTTOM = 380.0, 12.0, 352.0
DARKEST = -9
# Each curve has its own line, so that none is told by colour.
LINES = ("line-1", "line-2", "line-3", "line-4", "line-5", "line-6")


def curves_words(profiles: tuple[Profile, ...]) -> str:
    """Grey, clip and headroom of each."""
    return "; ".join(
        f"{p.name}: grey {format_number(p.recorded_grey_percent, 0)} %, clip "
        f"{format_number(p.clip_percent, 0)} %, {format_number(headroom_stops(p))} stops over grey"
        for p in profiles
    ) or "no curve chosen"  # fmt: skip


def curves_figure(profiles: tuple[Profile, ...], width: float = WIDE) -> str:
    """Up to six curves as SVG, ``width`` px wide; a dot at the clip, a mark at grey."""
    drawing = Drawing(width, HEIGHT, "Curves", curves_words(profiles))
    rooms = [headroom_stops(p) for p in profiles]
    top = 10.0 * ceil(max([100.0, *(p.clip_percent for p in profiles)]) / 10)
    x = Scale(DARKEST, max(4, ceil(max(rooms, default=4) + 0.4)), 48, width - 14)
    y = Scale(0, top, BOTTOM, TOP)
    for tick in range(0, int(top) + 1, 10):
        drawing.line(x.start, y(tick), x.end, y(tick), "grid")
        if tick % 20 == 0:
            drawing.label(x.start - 6, y(tick) + 4, f"{tick} %", "tick end")
    every = 2 if is_narrow(width) else 1
    for stop in range(DARKEST, int(x.high) + 1, every):
        word = "grey" if stop == 0 else f"{stop:+d}".replace("-", "−")
        drawing.line(x(stop), TOP, x(stop), BOTTOM, "target-line" if stop == 0 else "grid")
        drawing.label(x(stop), BOTTOM + 17, word, "tick middle")
    taken: list[Box] = []
    for profile, room, line in zip(profiles, rooms, LINES, strict=False):
        stops = np.linspace(DARKEST, room, 160)
        percent = 100 * encode(profile.curve, profile.grey_linear * 2.0**stops)
        shown = np.clip(percent, 0, profile.clip_percent)
        points = [(x(float(s)), y(float(p))) for s, p in zip(stops, shown, strict=True)]
        drawing.path(points, f"curve {line}")
        drawing.circle(*points[-1], 4, "tone plain-tone")
        drawing.circle(x(0), y(profile.recorded_grey_percent), 4, "tone grey-tone")
        _name(drawing, points[-1], shortened(profile.name, 150, "by-bar"), taken)
    return drawing.render()


def _name(drawing: Drawing, end: tuple[float, float], name: str, taken: list[Box]) -> None:
    """The name beside a curve's end, further down where another one stands."""
    room = text_width(name, "by-bar")
    for down in (4, 19, 34, 49, 64, 79):
        for left in (end[0] + 9, end[0] - 9 - room):
            box = Box(left, end[1] + down - 10, left + room, end[1] + down + 3)
            if left + room < drawing.width and not any(box.meets(other) for other in taken):
                taken.append(box)
                drawing.label(left, end[1] + down, name, "by-bar halo")
                return
