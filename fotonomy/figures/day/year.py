"""A year of days as a band: the light over date and hour, and when a setup has its own."""

from dataclasses import dataclass
from datetime import date, datetime, time, timedelta
from zoneinfo import ZoneInfo

import numpy as np

from fotonomy.core.sky.light import sky_light
from fotonomy.core.sky.track import Sky
from fotonomy.figures.svg import Drawing, Scale, Size

# Altitudes of the sun from which a band begins, in order; what lies under the first is night.
_LOWS = (-18.0, -12.0, -6.0, -4.0, 6.0, 15.0)
LEFT, TOP, FOOT, MOON = 54.0, 8.0, 22.0, 16.0
LEAST_TALL = 220.0


@dataclass(frozen=True, slots=True, eq=False)
class YearView:
    """What is drawn: a sky that covers the days from ``first`` on, and when ``good`` holds.

    ``good`` is a truth a sample; ``marked`` are dates that stand out.
    """

    sky: Sky
    zone: ZoneInfo
    first: date
    days: int
    good: np.ndarray | None
    marked: tuple[date, ...] = ()


def year(view: YearView, size: Size) -> str:
    """The whole drawing, months across and hours down."""
    tall = max(size.height, LEAST_TALL)
    drawing = Drawing(
        size.width, tall, "A year of light", f"From {view.first:%d %B %Y}, {view.days} days",
        size.text_px,
    )  # fmt: skip
    x = Scale(0, view.days, LEFT, size.width - 6)
    y = Scale(0, 24, TOP + MOON, tall - FOOT)
    sky = view.sky
    bounds = [
        round(sky.position(datetime.combine(view.first + timedelta(days=k), time(0), view.zone)))
        for k in range(view.days + 1)
    ]  # fmt: skip
    drawing.rect(LEFT, y(0), x(view.days) - LEFT, y(24) - y(0), "band-night")
    for low in _LOWS:
        _band(drawing, view, bounds, low, x, y)
    if view.good is not None:
        _good(drawing, view, bounds, x, y)
    _moons(drawing, view, bounds, x)
    for hour in range(0, 25, 6):
        drawing.line(LEFT, y(hour), x(view.days), y(hour), "faint")
        drawing.label(LEFT - 6, y(hour) + 4, f"{hour:02}:00", "tick end")
    for at in range(view.days):
        day = view.first + timedelta(days=at)
        if day.day == 1:
            drawing.line(x(at), y(0), x(at), y(24) + 4, "faint")
            drawing.offer(x(at) + 2, tall - 6, f"{day:%b}", "tick")
        if day in view.marked:
            drawing.line(x(at + 0.5), y(0) - 3, x(at + 0.5), y(24) + 3, "now-line")
    return drawing.render()


def _band(
    drawing: Drawing, view: YearView, bounds: list[int], low: float, x: Scale, y: Scale
) -> None:
    """Where the sun stands at least so high, from its first to its last sample of each day."""
    name = sky_light(low).name.lower()
    upper: list[tuple[float, float]] = []
    lower: list[tuple[float, float]] = []

    def close() -> None:
        if upper:
            drawing.area([*upper, *reversed(lower)], f"band-{name}")
            upper.clear()
            lower.clear()

    for at in range(view.days):
        up = np.flatnonzero(view.sky.sun.altitude_deg[bounds[at] : bounds[at + 1]] >= low)
        if not len(up):
            close()
            continue
        hours = (bounds[at + 1] - bounds[at]) / 24
        first, last = up[0] / hours, (up[-1] + 1) / hours
        for edge in (at, at + 1):
            upper.append((x(edge), y(min(first, 24))))
            lower.append((x(edge), y(min(last, 24))))
    close()


def _good(drawing: Drawing, view: YearView, bounds: list[int], x: Scale, y: Scale) -> None:
    """The hours that were asked for, in one piece: stripes of days would shimmer."""
    assert view.good is not None
    boxes = []
    for at in range(view.days):
        part = view.good[bounds[at] : bounds[at + 1]]
        if not part.any():
            continue
        hours = (bounds[at + 1] - bounds[at]) / 24
        edges = np.flatnonzero(np.diff(np.concatenate(([0], part.view(np.int8), [0]))))
        for low, high in zip(edges[::2], edges[1::2], strict=True):
            top, foot = y(low / hours), y(high / hours)
            boxes.append((x(at), top, x(at + 1), max(foot, top + 1)))
    drawing.boxes(boxes, "good-light")


def _moons(drawing: Drawing, view: YearView, bounds: list[int], x: Scale) -> None:
    """A ring for every full moon above the hours, a disc for every new one, as in almanacs."""
    phases = [float(view.sky.phase_deg[min(b, view.sky.count - 1)]) for b in bounds]
    for at in range(1, view.days):
        before, here, after = phases[at - 1 : at + 2]
        if here < before and here <= after and here < 30:
            drawing.circle(x(at), TOP + 4, 4, "moon-full")
        elif here > before and here >= after and here > 150:
            drawing.circle(x(at), TOP + 4, 4, "moon-new")
