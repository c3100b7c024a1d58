"""A run of frames over frame number: light, flicker, shift and gaps, and what happened."""

import numpy as np
from numpy.typing import NDArray

from fotonomy.core.pictures.run import FLICKER_STOPS, RunReport, Sort
from fotonomy.figures.svg import PHONE_PX, Drawing, Scale, Size

LEFT, TOP, GAP = 84.0, 34.0, 30.0
LIGHT_HIGH, LANE_HIGH, GAP_HIGH = 96.0, 54.0, 18.0
PIN = 10.0
LEAST_LIGHT_STOPS = 0.5

Numbers = NDArray[np.float64]


def run_drawing(found: RunReport, size: Size, described: str) -> str:
    """The drawing of a run: four lanes, a pin with its number where something happened."""
    thin = size.text_px >= PHONE_PX
    left = 0.0 if thin else LEFT
    lead = 22.0 if thin else 0.0
    lanes = [LIGHT_HIGH, LANE_HIGH, LANE_HIGH, GAP_HIGH]
    tall = TOP + sum(high + GAP + lead for high in lanes) + 12
    drawing = Drawing(size.width, tall, "The run, frame by frame", described, size.text_px)
    x = Scale(0, max(1, found.frames - 1), left + 8, size.width - (8 if thin else 60))
    top = TOP
    tops = []
    for name, high in zip(("light", "flicker", "shift", "lost"), lanes, strict=True):
        if thin:
            drawing.label(0, top + 14, name, "by-bar")
            top += lead
        else:
            drawing.label(0, top + high / 2 + 4, name, "by-bar")
        drawing.rect(x.start, top, x.end - x.start, high, "field")
        tops.append(top)
        top += high + GAP
    _light(drawing, x, tops[0], found, size)
    _flicker(drawing, x, tops[1], found.residue_stops, size)
    _shift(drawing, x, tops[2], found.shift_px, size)
    for one in found.of(Sort.GAP):
        drawing.rect(x(one.at) - 2, tops[3], 4, GAP_HIGH, "lost")
    # On a phone the pins stand over the lanes' names.
    _pins(drawing, x, found, tops[0] - 12 - lead, top - GAP)
    _axis(drawing, x, found.frames, top - 8)
    return drawing.render()


def _right(drawing: Drawing, x: Scale, top: float, words: str, size: Size) -> None:
    """What a lane reaches to: beside its upper end, or over it on a phone."""
    if size.text_px >= PHONE_PX:
        drawing.label(x.end, top - 8, words, "tick end")
    else:
        drawing.label(drawing.width, top + 12, words, "tick end")


def _light(drawing: Drawing, x: Scale, top: float, found: RunReport, size: Size) -> None:
    """The light of the picture, and what the camera set, both from their own beginning."""
    level = found.level_stops - found.level_stops[0]
    exposed = found.exposure_stops - _first(found.exposure_stops)
    low = min(0.0, float(level.min()), _least(exposed))
    high = max(low + LEAST_LIGHT_STOPS, float(level.max()), -_least(-exposed))
    y = Scale(high, low, top + 6, top + LIGHT_HIGH - 6)
    _dots(drawing, x, y, exposed, "was-set")
    drawing.path([(x(k), y(float(v))) for k, v in enumerate(level)], "curve")
    reach = [f"{one:+.1f}".replace("-", "−") for one in (low, high)]
    if size.text_px >= PHONE_PX:
        _right(drawing, x, top, f"{reach[0]} to {reach[1]} st", size)
    else:
        _right(drawing, x, top, f"{reach[1]} st", size)
        drawing.label(drawing.width, top + LIGHT_HIGH - 4, f"{reach[0]} st", "tick end")


def _first(values: Numbers) -> float:
    known = values[~np.isnan(values)]
    return float(known[0]) if len(known) else 0.0


def _least(values: Numbers) -> float:
    known = values[~np.isnan(values)]
    return float(known.min()) if len(known) else 0.0


def _dots(drawing: Drawing, x: Scale, y: Scale, values: Numbers, class_: str) -> None:
    """A line through what is known, broken where nothing is."""
    line: list[tuple[float, float]] = []
    for k, value in enumerate(values):
        if np.isnan(value):
            if len(line) > 1:
                drawing.path(line, class_)
            line = []
        else:
            line.append((x(k), y(float(value))))
    if len(line) > 1:
        drawing.path(line, class_)


def _flicker(drawing: Drawing, x: Scale, top: float, residue: Numbers, size: Size) -> None:
    reach = max(3 * FLICKER_STOPS, float(np.abs(residue).max()))
    y = Scale(reach, -reach, top + 2, top + LANE_HIGH - 2)
    for edge in (FLICKER_STOPS, -FLICKER_STOPS):
        drawing.line(x.start, y(edge), x.end, y(edge), "drop")
    for k, value in enumerate(residue):
        if abs(value) >= FLICKER_STOPS / 3:
            class_ = "lost" if abs(value) >= FLICKER_STOPS else "calm"
            drawing.rect(
                x(k) - 1, min(y(0), y(float(value))), 2, abs(y(float(value)) - y(0)), class_
            )
    _right(drawing, x, top, f"{reach:.2f} st", size)


def _shift(drawing: Drawing, x: Scale, top: float, shift: Numbers, size: Size) -> None:
    known = np.nan_to_num(shift)
    reach = max(4.0, float(known.max(initial=0.0)))
    y = Scale(0, reach, top + LANE_HIGH, top + 4)
    line = [(x(k), y(float(v))) for k, v in enumerate(known)]
    drawing.area([(x.start, y(0)), *line, (x.end, y(0))], "moved")
    words = f"{reach:.0f} px" if not np.isnan(shift).all() else "not told"
    _right(drawing, x, top, words, size)


def _pins(drawing: Drawing, x: Scale, found: RunReport, top: float, foot: float) -> None:
    """A numbered pin for what happened; those that stand too close have their line alone."""
    end = -PIN
    for number, one in enumerate(found.events, 1):
        at = x(one.at)
        drawing.line(at, top + 6, at, foot, "joint")
        words = str(number)
        half = drawing.wide(words, "verdict") / 2 + 2
        if at - half >= end:
            drawing.label(at, top + 2, words, "verdict bad middle")
            end = at + half


def _axis(drawing: Drawing, x: Scale, frames: int, y: float) -> None:
    most = 4 if drawing.narrow else 8
    steps = (1, 2, 5, 10, 20, 25, 50, 100, 200, 250, 500, 1000, 2000, 5000)
    every = next((step for step in steps if frames / step <= most), 10_000)
    drawing.label(x.start, y, "frame 1", "tick")
    for k in range(every, frames + 1, every):
        drawing.line(x(k - 1), y - 16, x(k - 1), y - 11, "grid")
        drawing.offer_within(x(k - 1), y, str(k), "tick", 0, drawing.width)
