"""A camera body drawn: its rates by format, its ISO range with bases and ceiling, its shutter."""

from collections.abc import Iterable
from functools import lru_cache
from math import log2

from fotonomy.core.gear.body import Body, RecordingFormat, ShutterStyle
from fotonomy.core.gear.profile import Profile
from fotonomy.core.notation.writing import format_number, format_time
from fotonomy.figures.svg import WIDE, Drawing, Scale, is_narrow, shortened, text_width

ROW, NAMES_PX = 30.0, 196.0


def body_words(body: Body) -> str:
    """The drawing in words."""
    formats = "; ".join(
        f"{f.name} at {', '.join(format_number(r.fps, 3) for r in f.rates)} fps"
        for f in body.formats
    )
    low, high = body.iso_reach
    return (
        f"{formats}. ISO {low} to {high}, ceiling {body.iso_ceiling}. Shutter "
        f"{format_time(body.slowest_s)} to {format_time(body.fastest_s)}"
    )


@lru_cache(maxsize=256)
def body_figure(body: Body, profiles: tuple[Profile, ...] = (), width: float = WIDE) -> str:
    """What a body can do, as SVG; the profiles give the base ISO values.

    Kept by value: a kit page shows every body, and they seldom change.
    """
    narrow = is_narrow(width)
    left = 0.0 if narrow else NAMES_PX
    step = 54.0 if narrow else ROW
    lanes = len(body.formats)
    height = 24 + step * lanes + 112
    drawing = Drawing(width, height, f"What {body.name} can do", body_words(body))
    top = _rates(drawing, body, left, step)
    _iso(drawing, body, profiles, left, top + 14)
    _shutter(drawing, body, left, top + 66)
    return drawing.render()


def _rates(drawing: Drawing, body: Body, left: float, step: float) -> float:
    fps = sorted({rate.fps for f in body.formats for rate in f.rates})
    x = Scale(log2(fps[0] / 1.15), log2(fps[-1] * 1.15), left + 8, drawing.width - 30)
    widest = max(f.sensor_width_mm for f in body.formats)
    for row, recorded in enumerate(body.formats):
        y = 18 + step * row
        _name(drawing, recorded, widest, y, left)
        line = y + (32 if left == 0 else 6)
        drawing.line(x.start, line, x.end + 22, line, "grid")
        end = -50.0
        for rate in recorded.rates:
            here, data = x(log2(rate.fps)), format_number(rate.mb_s, 0)
            drawing.circle(here, line, 4.5, "takes")
            half = text_width(data, "tick") / 2
            if here - half > end:
                drawing.label(here, line - 8, data, "mono middle")
                end = here + half
    bottom = 18 + step * len(body.formats)
    last = -50.0
    for speed in fps:
        text, here = format_number(speed, 3), x(log2(speed))
        half = text_width(text, "tick") / 2
        if here - half > last + 4:
            drawing.label(here, bottom + 4, text, "tick middle")
            last = here + half
    drawing.label(drawing.width, bottom + 4, "fps", "tick end")
    drawing.label(drawing.width, 10, "Mb/s above each rate", "caption end")
    return bottom + 14


def _name(
    drawing: Drawing, recorded: RecordingFormat, widest: float, y: float, left: float
) -> None:  # fmt: skip
    """A format's name beside its share of the sensor, drawn to one scale for all formats."""
    tallest = recorded.sensor_height_mm / recorded.sensor_width_mm
    wide = min(26 * recorded.sensor_width_mm / widest, 18 / tallest)
    tall = wide * tallest
    drawing.rect(0.5, y - 1 + (14 - tall) / 2, wide, tall, "frame-box")
    room = (drawing.width if left == 0 else left) - 38
    drawing.label(34, y + 4, shortened(recorded.name, room, "by-bar"), "by-bar")
    size = f"{recorded.width_px} × {recorded.height_px}, {recorded.bits} bit {recorded.chroma}"
    if left:
        drawing.label(34, y + 16, shortened(size, room), "caption")
    else:
        drawing.label(drawing.width, y + 4, size, "caption end")


def _iso(
    drawing: Drawing, body: Body, profiles: Iterable[Profile], left: float, top: float
) -> None:  # fmt: skip
    low, high = body.iso_reach
    x = Scale(log2(low), log2(high * 1.0001), left + 8, drawing.width - 8)
    drawing.label(0, top + 12 if left else top - 4, "ISO", "by-bar")
    drawing.rect(x(log2(low)), top + 2, x(log2(high)) - x(log2(low)), 13, "field")
    own = x(log2(body.iso_lowest)), x(log2(body.iso_highest))
    drawing.rect(own[0], top + 2, own[1] - own[0], 13, "gives soft")
    ceiling = x(log2(body.iso_ceiling))
    if ceiling > own[0]:
        drawing.rect(own[0], top + 2, min(ceiling, own[1]) - own[0], 13, "gives")
    drawing.line(ceiling, top - 2, ceiling, top + 19, "edge")
    taken: list[tuple[float, float]] = []
    marks = {body.iso_ceiling: f"ceiling {body.iso_ceiling}"}
    for profile in profiles:
        for base in profile.base_iso:
            if low <= base <= high:
                marks.setdefault(base, f"base {base}")
                drawing.circle(x(log2(base)), top + 8.5, 4, "base")
    for value in (low, high):
        marks.setdefault(value, str(value))
    for value, text in marks.items():
        half = text_width(text, "tick") / 2
        here = min(max(x(log2(value)), left + half), drawing.width - half)
        if all(here + half < a - 5 or here - half > b + 5 for a, b in taken):
            drawing.label(here, top + 31, text, "tick middle")
            taken.append((here - half, here + half))


def _shutter(drawing: Drawing, body: Body, left: float, top: float) -> None:
    x = Scale(-log2(body.slowest_s), -log2(body.fastest_s) + 0.001, left + 8, drawing.width - 8)
    drawing.label(0, top + 12 if left else top - 4, "Shutter", "by-bar")
    drawing.rect(x.start, top + 2, x.end - x.start, 13, "takes")
    taken: list[tuple[float, float]] = []
    # The ends first: they are what a body is asked for.
    for time in (body.slowest_s, body.fastest_s, 1.0, 1 / 60, 1 / 1000, 1 / 250, 1 / 15):
        if not body.fastest_s <= time <= body.slowest_s:
            continue
        text = format_time(time)
        half = text_width(text, "tick") / 2
        here = min(max(x(-log2(time)), left + half), drawing.width - half)
        if all(here + half < a - 6 or here - half > b + 6 for a, b in taken):
            drawing.label(here, top + 31, text, "tick middle")
            taken.append((here - half, here + half))
    if body.shutter_style is not ShutterStyle.TIME:
        angles = ", ".join(f"{format_number(a)}°" for a in body.angles_deg)
        room = drawing.width - 20 - (left or text_width("Shutter", "by-bar") + 12)
        drawing.label(drawing.width, top - 3, shortened(angles, room), "caption end")
