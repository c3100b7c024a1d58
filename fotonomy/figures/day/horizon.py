"""A place's horizon unrolled, with the ways of sun and moon over it on a day."""

from dataclasses import dataclass
from datetime import datetime, tzinfo

import numpy as np

from fotonomy.core.sky.horizon import Horizon
from fotonomy.core.sky.track import Sky, Track
from fotonomy.figures.svg import Drawing, Scale, Size

LEFT, TOP, FOOT = 40.0, 10.0, 24.0
TALL = 190.0
LEAST_TOP_DEG, LOWEST_DEG = 30.0, -6.0
_POINTS = ("N", "NE", "E", "SE", "S", "SW", "W", "NW")


@dataclass(frozen=True, slots=True, eq=False)
class HorizonView:
    """What is drawn: the land, and the sky of a day where it is known.

    ``starts`` and ``ends`` are the day's, on the clock of ``zone``.
    """

    land: Horizon
    sky: Sky | None
    starts: datetime
    ends: datetime
    zone: tzinfo
    title: str


@dataclass(frozen=True, slots=True)
class _Round:
    """Azimuths laid out from one direction on, so that the sun's way is not cut in two."""

    first_deg: float
    scale: Scale

    def __call__(self, azimuth_deg: float) -> float:
        return self.scale((azimuth_deg - self.first_deg) % 360)

    def across(self, degrees: float) -> float:
        """The place so many degrees from the left edge."""
        return self.scale(degrees)


def _first_deg(view: HorizonView) -> float:
    """South where the sun stands in the north at its highest, else north."""
    if view.sky is None:
        return 0
    highest = int(np.argmax(view.sky.sun.altitude_deg))
    return 180 if np.cos(np.radians(view.sky.sun.azimuth_deg[highest])) > 0 else 0


def horizon(view: HorizonView, size: Size) -> str:
    """The whole drawing: azimuth across, height up."""
    drawing = Drawing(
        size.width, TALL, "The horizon", _described(view), size.text_px
    )  # fmt: skip
    every = np.arange(0, 361.0)
    sun = moon = None
    if view.sky is not None:
        first = max(0, round(view.sky.position(view.starts)))
        last = min(view.sky.count - 1, round(view.sky.position(view.ends)))
        part = slice(first, last + 1)
        sun, moon = (
            (np.asarray(one.azimuth_deg[part]), one.altitude_deg[part])
            for one in (view.sky.sun, view.sky.moon)
        )
    tops = [LEAST_TOP_DEG, float(np.max(view.land.altitude(every)))]
    if sun is not None:
        tops.append(float(sun[1].max()))
    x = _Round(_first_deg(view), Scale(0, 360, LEFT, size.width - 10))
    y = Scale(LOWEST_DEG, 1.12 * max(tops), TALL - FOOT, TOP)
    step = 10 if max(tops) < 45 else 20
    for mark in range(0, int(max(tops)) + 1, step):
        drawing.line(LEFT, y(mark), size.width - 10, y(mark), "faint")
        drawing.label(LEFT - 6, y(mark) + 4, f"{mark}°", "tick end")
    heights = np.asarray(view.land.altitude(every + x.first_deg))
    shape = [(x.across(float(a)), y(float(h))) for a, h in zip(every, heights, strict=True)]
    foot = y(LOWEST_DEG)
    drawing.area([(shape[0][0], foot), *shape, (shape[-1][0], foot)], "land")
    for azimuth in range(0, 361, 45):
        name = _POINTS[int(azimuth + x.first_deg) % 360 // 45]
        drawing.offer_within(x.across(azimuth), TALL - 6, name, "tick", 0, size.width)
    if view.sky is not None and sun is not None and moon is not None:
        _way(drawing, x, y, moon, "moon-line")
        _way(drawing, x, y, sun, "sun-line")
        _hours(drawing, view, x, y)
    for point in view.land.points:
        drawing.circle(x(point.azimuth_deg), y(point.altitude_deg), 3, "reading-dot")
    return drawing.render()


def _described(view: HorizonView) -> str:
    if view.land.level:
        return f"level all round; {view.title}"
    said = ", ".join(f"{p.azimuth_deg:g}° {p.altitude_deg:g}° high" for p in view.land.points)
    return f"{said}; {view.title}"


def _way(
    drawing: Drawing, x: _Round, y: Scale, way: tuple[np.ndarray, np.ndarray], class_: str
) -> None:
    """The line of sun or moon while over the foot of the drawing, broken at north."""
    azimuths, heights = way
    part: list[tuple[float, float]] = []
    for k in range(0, len(azimuths), 4):
        at = x(float(azimuths[k]))
        jumps = bool(part) and abs(at - part[-1][0]) > (x.across(360) - x.across(0)) / 2
        if heights[k] < LOWEST_DEG or jumps:
            if len(part) > 1:
                drawing.path(part, class_)
            part = []
        if heights[k] >= LOWEST_DEG:
            part.append((at, y(float(heights[k]))))
    if len(part) > 1:
        drawing.path(part, class_)


def _hours(drawing: Drawing, view: HorizonView, x: _Round, y: Scale) -> None:
    """Dots and clock times along the way of the sun, every two hours."""
    assert view.sky is not None
    track: Track = view.sky.sun
    for hour in range(0, 24, 2):
        when = view.starts.astimezone(view.zone).replace(hour=hour, minute=0)
        if not view.sky.covers(when):
            continue
        sun = track.at(view.sky.position(when))
        if sun.altitude_deg < 0:
            continue
        at = (x(sun.azimuth_deg), y(sun.altitude_deg))
        drawing.circle(*at, 3, "sun-dot")
        drawing.offer_within(at[0], at[1] - 8, f"{when:%H:%M}", "sun-word", LEFT, drawing.width)
