"""The compass of a place: the sun's path, the land around, and where a camera looks."""

from dataclasses import dataclass
from datetime import datetime
from math import cos, radians, sin

import numpy as np

from fotonomy.core.day.direction import FieldOfView
from fotonomy.core.sky.horizon import Horizon
from fotonomy.core.sky.track import Sky, Stretch
from fotonomy.figures.svg import Drawing

MARGIN = 22.0
RINGS_DEG = (30.0, 60.0)
STEP_MIN = 10


@dataclass(frozen=True, slots=True, eq=False)
class CompassView:
    """What is drawn: the sky over ``day``, the moment in hand, and what the camera sees."""

    sky: Sky
    horizon: Horizon
    day: Stretch
    when: datetime | None = None
    clock: str = ""
    looks_deg: float | None = None
    field: FieldOfView | None = None


def compass(view: CompassView, width: float, text_px: int = 12) -> str:
    """A round sky with north up: the rim is the horizon, the middle straight up."""
    radius = width / 2 - MARGIN
    middle = width / 2
    drawing = Drawing(width, width, "Compass", _described(view), text_px)

    def point(altitude_deg: float, azimuth_deg: float) -> tuple[float, float]:
        out = radius * (90 - max(altitude_deg, 0)) / 90
        turn = radians(azimuth_deg)
        return middle + out * sin(turn), middle - out * cos(turn)

    drawing.circle(middle, middle, radius, "rim")
    for ring in RINGS_DEG:
        drawing.circle(middle, middle, radius * (90 - ring) / 90, "ring")
    if not view.horizon.level:
        azimuths = np.arange(0.0, 361.0, 5.0)
        land = view.horizon.altitude(azimuths)
        inner = [point(float(h), float(a)) for h, a in zip(land, azimuths, strict=True)]
        outer = [point(0, float(a)) for a in azimuths]
        drawing.area([*outer, *reversed(inner)], "land")
    if view.looks_deg is not None:
        across = view.field.across_deg if view.field else 40.0
        half = min(across, 170.0) / 2
        edge = np.linspace(view.looks_deg - half, view.looks_deg + half, 13)
        drawing.area([(middle, middle), *(point(0, float(a)) for a in edge)], "looks")
        x, y = point(25, view.looks_deg)
        drawing.line(middle, middle, x, y, "looks-line")
    _path(drawing, view, point)
    for letter, azimuth in (("N", 0), ("E", 90), ("S", 180), ("W", 270)):
        turn = radians(azimuth)
        out = radius + 12
        x, y = middle + out * sin(turn), middle - out * cos(turn) + 4.5
        drawing.label(x, y, letter, "row-name middle")
    if view.when is not None and view.sky.covers(view.when):
        sun = view.sky.sun_at(view.when)
        if sun.altitude_deg > -0.84:
            x, y = point(sun.altitude_deg, sun.azimuth_deg)
            drawing.circle(x, y, 7, "sun-dot")
            drawing.first((
                (x + 11, y + 4, view.clock, "figures"), (x - 11, y + 4, view.clock, "figures end"),
                (x, y - 11, view.clock, "figures middle"),
                (x, y + 20, view.clock, "figures middle"),
            ))  # fmt: skip
    return drawing.render()


def _path(drawing: Drawing, view: CompassView, point: object) -> None:
    sky = view.sky
    low, high = round(sky.position(view.day.starts)), round(sky.position(view.day.ends))
    part: list[tuple[float, float]] = []
    for at in range(max(low, 0), min(high, sky.count - 1) + 1, STEP_MIN):
        altitude = float(sky.sun.altitude_deg[at])
        if altitude > -0.84:
            part.append(point(altitude, float(sky.sun.azimuth_deg[at])))  # type: ignore[operator]
        elif part:
            drawing.path(part, "sun-line")
            part = []
    if len(part) > 1:
        drawing.path(part, "sun-line")


def _described(view: CompassView) -> str:
    if view.when is None or not view.sky.covers(view.when):
        return "The path of the sun over the day"
    sun = view.sky.sun_at(view.when)
    looks = "" if view.looks_deg is None else f", the camera looks to {round(view.looks_deg)}°"
    return (
        f"At {view.clock} the sun stands at {round(sun.azimuth_deg)}°, "
        f"{round(sun.altitude_deg)}° high{looks}"
    )
