"""A profile's curve with a tone to be dragged along it."""

import json
from dataclasses import dataclass

import numpy as np

from fotonomy.core.gear.profile import Profile
from fotonomy.core.notation.writing import format_number
from fotonomy.core.tone.signal_levels import headroom_stops, percent_at
from fotonomy.figures.svg import Drawing, Scale, Size

# From eight stops under grey to a stop past the clip.
DARKEST, PAST = -8.0, 1.0
_STEPS = 141
_TALL = 230.0


@dataclass(frozen=True, slots=True)
class CurveQuestion:
    """The drawing, and the curve's points (stops, percent, px across, px down) for scripts."""

    markup: str
    points: str
    start: int
    last: int


def curve_question(profile: Profile, size: Size) -> CurveQuestion:
    """The curve with a handle at grey; where it clips has to be read off it."""
    line = size.line
    left, right, top, foot = 3.6 * size.text_px, size.width - 8, 10.0, _TALL - 2 * line - 4
    brightest = headroom_stops(profile) + PAST
    x = Scale(DARKEST, brightest, left, right)
    y = Scale(0.0, 110.0, foot, top)
    drawing = Drawing(
        size.width, _TALL, f"The curve of {profile.name}",
        "Stops from grey across, recorded percent up; drag the tone along it", size.text_px,
    )  # fmt: skip
    for percent in (0, 20, 40, 60, 80, 100):
        drawing.line(left, y(percent), right, y(percent), "grid")
        drawing.label(left - 8, y(percent) + 4, f"{percent} %", "tick end")
    for stops in range(int(DARKEST), int(brightest) + 1, 2):
        drawing.line(x(stops), top, x(stops), foot, "target-line" if stops == 0 else "grid")
        drawing.label(
            x(stops), foot + line, "grey" if stops == 0 else _signed(stops), "tick middle"
        )
    drawing.label((left + right) / 2, foot + 2 * line, "stops from grey", "caption middle")
    across = np.linspace(DARKEST, brightest, _STEPS)
    points = [(float(s), percent_at(profile, float(s))) for s in across]
    drawing.path([(x(s), y(p)) for s, p in points], "curve")
    start = int(np.argmin(abs(across)))
    at = points[start]
    drawing.line(x(at[0]), y(at[1]), x(at[0]), foot, "curve-drop")
    drawing.line(left, y(at[1]), x(at[0]), y(at[1]), "curve-reach")
    drawing.circle(x(at[0]), y(at[1]), 9, "curve-handle")
    listed = [[round(s, 2), round(p, 1), round(x(s), 1), round(y(p), 1)] for s, p in points]
    return CurveQuestion(drawing.render(), json.dumps(listed), start, _STEPS - 1)


def _signed(stops: int) -> str:
    return f"{'+' if stops > 0 else '−'}{format_number(abs(stops), 0)}"
