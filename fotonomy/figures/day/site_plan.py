"""Places drawn to scale: where each camera looks and how wide, shadows, ways, own outlines."""

from collections.abc import Sequence
from dataclasses import dataclass
from math import cos, hypot, radians, sin

import numpy as np

from fotonomy.core.day.site_plan import Fit, distance_words, fit, round_distance
from fotonomy.core.spec.setup import Site
from fotonomy.figures.svg import Drawing, Size

# From the rim to the outermost place, in px: a wedge and its code have room there.
EDGE, NARROW_EDGE = 104.0, 66.0
WEDGE, NARROW_WEDGE, WEDGE_STEP = 62.0, 44.0, 14.0
SHADOW_PX = (26.0, 64.0)
ROSE = 34.0
# Points of an outline nearer to each other than this are one.
_APART_PX = 0.7


@dataclass(frozen=True, slots=True)
class CameraMark:
    """A setup's camera: its code, where it looks and how wide in degrees, and its address."""

    code: str
    said: str
    looks_deg: float
    across_deg: float
    address: str
    chosen: bool


@dataclass(frozen=True, slots=True)
class SpotMark:
    """A place: its name, where it is, its cameras; ``lit`` where the sun throws shadows there."""

    name: str
    site: Site
    address: str
    cameras: tuple[CameraMark, ...]
    chosen: bool
    lit: bool


@dataclass(frozen=True, slots=True)
class WayLine:
    """A way between two places, in minutes."""

    start: Site
    end: Site
    minutes: str


@dataclass(frozen=True, slots=True, eq=False)
class OutlineMark:
    """A line or an area of a file, as arrays of degrees north and east, with its name."""

    name: str
    area: bool
    latitude_deg: np.ndarray
    longitude_deg: np.ndarray


@dataclass(frozen=True, slots=True, eq=False)
class SitePlan:
    """What is drawn: ``sun`` is azimuth and altitude in degrees at the pressed hour, if it is up.

    ``shadow_m`` is how long a person's shadow is then; ``fitted`` are the places the scale is for.
    """

    spots: tuple[SpotMark, ...]
    fitted: tuple[Site, ...]
    ways: tuple[WayLine, ...]
    outlines: tuple[OutlineMark, ...]
    sun: tuple[float, float] | None
    shadow_m: float | None
    described: str


def fit_of(sites: Sequence[Site], size: Size) -> Fit:
    """The scale of a drawing of so many px."""
    narrow = size.width < 500
    return fit(sites, size.width, size.height, NARROW_EDGE if narrow else EDGE)


def site_plan(plan: SitePlan, size: Size) -> str:
    """The whole drawing, north up."""
    drawing = Drawing(
        size.width, size.height, "Places", plan.described, size.text_px, holds_links=True
    )
    lies = fit_of(plan.fitted, size)
    for outline in plan.outlines:
        _outline(drawing, lies, outline)
    _rings(drawing, lies, plan)
    _rose(drawing, plan, size)
    _bar(drawing, lies, size)
    seen = [spot for spot in plan.spots if _inside(lies.px(spot.site), size)]
    for spot in seen:
        x, y = lies.px(spot.site)
        drawing.keep_clear(x - 8, y - 8, x + 8, y + 8)
    for way in plan.ways:
        drawing.line(*lies.px(way.start), *lies.px(way.end), "way-line")
    if plan.sun is not None:
        for spot in seen:
            if spot.lit:
                _shadow(drawing, lies, spot, plan)
    for spot in seen:
        _name(drawing, lies, spot)
    for spot in seen:
        _cameras(drawing, lies.px(spot.site), spot)
    for way in plan.ways:
        _minutes(drawing, lies, way)
    for outline in plan.outlines:
        _outline_name(drawing, lies, outline)
    return drawing.render()


def _inside(at: tuple[float, float], size: Size) -> bool:
    return -1 <= at[0] <= size.width + 1 and -1 <= at[1] <= size.height + 1


def _towards(x: float, y: float, azimuth_deg: float, out: float) -> tuple[float, float]:
    turn = radians(azimuth_deg)
    return x + out * sin(turn), y - out * cos(turn)


def _outline(drawing: Drawing, lies: Fit, outline: OutlineMark) -> None:
    x, y = lies.all_px(outline.latitude_deg, outline.longitude_deg)
    if x.max() < 0 or y.max() < 0 or x.min() > drawing.width or y.min() > drawing.height:
        return
    # Far outside nothing is seen of it, and absurd numbers stay out of the picture.
    x, y = np.clip(x, -20_000, 20_000), np.clip(y, -20_000, 20_000)
    moved = np.hypot(np.diff(x), np.diff(y))
    travelled = np.concatenate([[0.0], np.cumsum(moved)])
    steps = np.floor(travelled / _APART_PX)
    kept = np.concatenate([[True], np.diff(steps) > 0])
    kept[-1] = True
    points = [(float(a), float(b)) for a, b in zip(x[kept], y[kept], strict=True)]
    if outline.area:
        drawing.area(points, "outline-area")
    else:
        drawing.path(points, "outline-line")


def _outline_name(drawing: Drawing, lies: Fit, outline: OutlineMark) -> None:
    """Its name where it is seen and has room; nothing where there is none."""
    x, y = lies.all_px(outline.latitude_deg, outline.longitude_deg)
    seen = (x > 0) & (x < drawing.width) & (y > 0) & (y < drawing.height)
    if not outline.name or not seen.any():
        return
    half = drawing.wide(outline.name, "caption") / 2
    inside = list(zip(x[seen], y[seen], strict=True))
    # The corners of the drawing first: there an area is widest and places are fewest.
    for at in np.linspace(0, len(inside) - 1, min(9, len(inside))).astype(int):
        px = min(max(float(inside[at][0]), half + 6), drawing.width - half - 6)
        py = float(inside[at][1])
        for off in (18, -10, 36):
            if drawing.offer(px, min(max(py + off, 14), drawing.height - 6), outline.name,
                             "caption outline-name middle"):  # fmt: skip
                return


def _rings(drawing: Drawing, lies: Fit, plan: SitePlan) -> None:
    """Distances about the pressed place."""
    spot = next((one for one in plan.spots if one.chosen), None)
    if spot is None:
        return
    x, y = lies.px(spot.site)
    step = round_distance(lies.m_per_px * 110)
    reach = hypot(max(x, drawing.width - x), max(y, drawing.height - y))
    for at in range(1, min(8, int(reach * lies.m_per_px / step)) + 1):
        radius = at * step / lies.m_per_px
        drawing.circle(x, y, radius, "ring")
        for turn in (90.0, 270.0, 180.0, 0.0):
            px, py = _towards(x, y, turn, radius)
            if drawing.offer(px, py + 4, distance_words(at * step), "tick middle"):
                break


def _rose(drawing: Drawing, plan: SitePlan, size: Size) -> None:
    """Where north is, and where the sun stands, outside the ring where it is low."""
    x, y = size.width - ROSE - 22, ROSE + 30
    drawing.circle(x, y, ROSE, "rim")
    drawing.area([(x, y - ROSE + 6), (x + 6, y + 6), (x, y + 1), (x - 6, y + 6)], "north")
    drawing.label(x, y - ROSE - 6, "N", "row-name middle")
    drawing.keep_clear(x - ROSE - 12, y - ROSE - 18, x + ROSE + 12, y + ROSE + 12)
    if plan.sun is not None:
        drawing.circle(*_towards(x, y, plan.sun[0], ROSE), 7, "sun-dot")


def _bar(drawing: Drawing, lies: Fit, size: Size) -> None:
    metres = round_distance(lies.m_per_px * max(size.width * 0.24, 130.0))
    left, foot, wide = 18.0, size.height - 16, metres / lies.m_per_px
    drawing.rect(left, foot - 3, wide, 3, "scale-bar")
    drawing.label(left, foot - 9, "0", "tick")
    drawing.label(left + wide, foot - 9, distance_words(metres), "tick end")
    drawing.keep_clear(left, foot - 22, left + wide, foot + 4)


def _shadow(drawing: Drawing, lies: Fit, spot: SpotMark, plan: SitePlan) -> None:
    assert plan.sun is not None
    least, most = SHADOW_PX
    long = min(max((plan.shadow_m or 0) / lies.m_per_px, least), most)
    x, y = lies.px(spot.site)
    drawing.line(x, y, *_towards(x, y, plan.sun[0] + 180, long), "shadow-line")


def _name(drawing: Drawing, lies: Fit, spot: SpotMark) -> None:
    x, y = lies.px(spot.site)
    drawing.open_link(spot.address, spot.name, "spot")
    # A finger finds it, too.
    drawing.circle(x, y, 22, "touch")
    drawing.circle(x, y, 6, "spot-dot chosen" if spot.chosen else "spot-dot")
    drawing.first((
        (x + 12, y - 8, spot.name, "row-name"), (x - 12, y - 8, spot.name, "row-name end"),
        (x + 12, y + 18, spot.name, "row-name"), (x - 12, y + 18, spot.name, "row-name end"),
        (x, y - 14, spot.name, "row-name middle"), (x, y + 26, spot.name, "row-name middle"),
    ))  # fmt: skip
    drawing.close_link()


def _cameras(drawing: Drawing, at: tuple[float, float], spot: SpotMark) -> None:
    """Wedges; those that lie over each other reach farther one after the other."""
    radius = NARROW_WEDGE if drawing.narrow else WEDGE
    drawn: list[CameraMark] = []
    # What is pressed is drawn last, so that it lies on top.
    for camera in sorted(spot.cameras, key=lambda one: one.chosen):
        over = sum(1 for other in drawn if _meet(camera, other))
        _wedge(drawing, at, camera, radius + WEDGE_STEP * min(over, 3))
        drawn.append(camera)


def _meet(one: CameraMark, other: CameraMark) -> bool:
    apart = abs((one.looks_deg - other.looks_deg + 180) % 360 - 180)
    return apart < (one.across_deg + other.across_deg) / 2


def _wedge(drawing: Drawing, at: tuple[float, float], camera: CameraMark, radius: float) -> None:
    x, y = at
    half = min(camera.across_deg, 170.0) / 2
    edge = np.linspace(camera.looks_deg - half, camera.looks_deg + half, 13)
    chosen = " chosen" if camera.chosen else ""
    drawing.open_link(camera.address, camera.said, f"camera{chosen}")
    drawing.area([at, *(_towards(x, y, float(a), radius) for a in edge)], f"looks{chosen}")
    for out in (radius + 12, radius + 26, radius + 40, radius * 0.62):
        for turn in (0.0, half, -half, half + 12, -half - 12):
            px, py = _towards(x, y, camera.looks_deg + turn, out)
            if drawing.offer(px, py + 4, camera.code, "camera-code verdict middle"):
                drawing.close_link()
                return
    drawing.close_link()


def _minutes(drawing: Drawing, lies: Fit, way: WayLine) -> None:
    (x1, y1), (x2, y2) = lies.px(way.start), lies.px(way.end)
    for share in (0.5, 0.38, 0.62, 0.26, 0.74):
        px, py = x1 + share * (x2 - x1), y1 + share * (y2 - y1)
        if drawing.offer(px, py - 5, way.minutes, "figures middle"):
            return
