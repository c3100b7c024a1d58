"""Flicker: a small map of shutter time against the ripple that is left of pulsing lamps."""

from functools import lru_cache
from math import log2

import numpy as np

from fotonomy.core.analysis.setup import Analysis
from fotonomy.core.motion.flicker import FLICKER_SAFE_RIPPLE, residual_ripples
from fotonomy.core.notation.writing import format_number, format_time
from fotonomy.figures.svg import WIDE, Drawing, Scale, label_within, text_width

TOP, BASE, TALL = 16.0, 62.0, 84.0
# Octaves of shutter time shown below the longest one.
OCTAVES = 5.0


def flicker_figure(analysis: Analysis, width: float = WIDE) -> str:
    """Ripple over shutter time as SVG; safe times are marked, and the present one."""
    setup, state = analysis.setup, analysis.flicker
    longest = 1 / setup.frame_rate
    now = setup.time_s
    x = Scale(log2(min(longest * 2**-OCTAVES, now * 0.9)), log2(max(longest, now)), 34, width - 6)
    y = Scale(0, 1, BASE, TOP)
    left = format_number(100 * state.ripple, 1 if state.ripple < 0.1 else 0)
    said = f"{left} % of the lamps' ripple is left at {format_time(now)}"
    drawing = Drawing(width, TALL, "Flicker", said)
    drawing.paste(_ground(x, y, width, state.pulses_hz, state.safe_times_s))
    at, high = x(log2(now)), y(min(1.0, state.ripple))
    kind = "good" if state.safe else "warn"
    drawing.line(at, TOP - 4, at, BASE, "now")
    if state.safe:
        drawing.rect(at - 4, high - 4, 8, 8, f"mark {kind}")
    else:
        drawing.area([(at, high - 6), (at - 6, high + 5), (at + 6, high + 5)], f"mark {kind}")
    words = f"{'■' if state.safe else '▲'} {format_time(now)}: {left} % ripple left"
    label_within(drawing, at, 10, words, f"verdict {kind}", 34, width)
    return drawing.render()


@lru_cache(maxsize=256)
def _ground(
    x: Scale, y: Scale, width: float, pulses_hz: float, safe_times_s: tuple[float, ...]
) -> str:
    """Axes, curve and safe times: they belong to the rate and the lamps."""
    drawing = Drawing(width, TALL, "", "")
    drawing.label(0, TOP + 8, "100 %", "tick")
    drawing.label(0, BASE, "0 %", "tick")
    drawing.line(34, BASE, width - 6, BASE, "ground")
    limit = y(FLICKER_SAFE_RIPPLE)
    drawing.rect(34, limit, width - 40, BASE - limit, "calm")
    times = np.exp2(np.linspace(x.low, x.high, 160))
    ripples = residual_ripples(times, pulses_hz)
    curve = [(x(log2(t)), y(r)) for t, r in zip(times.tolist(), ripples.tolist(), strict=True)]
    drawing.path(curve, "ripple")
    _safe_times(drawing, safe_times_s, x)
    return drawing.inside()


def _safe_times(drawing: Drawing, safe_times_s: tuple[float, ...], x: Scale) -> None:
    last = drawing.width + 20
    for time in sorted(safe_times_s, reverse=True)[:40]:
        here = x(log2(time))
        if here < x.start:
            break
        drawing.rect(here - 2, BASE - 2, 4, 4, "safe")
        text = format_time(time)
        half = text_width(text, mono=True) / 2
        if here + half < last - 6 and here - half > x.start:
            label = min(here, drawing.width - half)
            drawing.label(label, BASE + 16, text, "tick middle")
            last = label - half
