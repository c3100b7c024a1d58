"""Flicker: a small map of shutter time against the ripple that is left of pulsing lamps."""

from functools import lru_cache
from math import log2

import numpy as np

from fotonomy.core.analysis.setup import Analysis
from fotonomy.core.motion.flicker import FLICKER_SAFE_RIPPLE, residual_ripples
from fotonomy.core.notation.writing import format_number, format_time
from fotonomy.figures.svg import Drawing, Part, Scale, Size, label_within

LEFT, TOP, BASE, TALL = 46.0, 18.0, 64.0, 88.0
# Octaves of shutter time shown below the longest one.
OCTAVES = 5.0


def flicker_figure(analysis: Analysis, size: Size) -> str:
    """Ripple over shutter time as SVG; safe times are marked, and the present one."""
    width, px = size.width, size.text_px
    x, y = _scales(analysis, LEFT, width - 6, (BASE, TOP))
    said = f"{_left(analysis)} % of the lamps' ripple is left at {_now(analysis)}"
    drawing = Drawing(width, TALL, "Flicker", said, px)
    state = analysis.flicker
    _present(drawing, analysis, x, y)
    kind = "good" if state.safe else "warn"
    words = f"{'●' if state.safe else '▲'} {_now(analysis)}: {_left(analysis)} % ripple left"
    label_within(drawing, x(log2(analysis.setup.time_s)), px - 1, words, f"verdict {kind}", LEFT,
                 width)  # fmt: skip
    drawing.paste(_ground(x, y, width, state.pulses_hz, state.safe_times_s, px))
    return drawing.render()


def ripple_line(drawing: Drawing, analysis: Analysis, top: float, tall: float) -> None:
    """The same small, into a drawing that holds more: the curve, the safe times, the present."""
    x, y = _scales(analysis, 2, drawing.width - 2, (top + tall - 3, top + 6))
    drawing.path(_curve(x, y, analysis.flicker.pulses_hz), "ripple")
    drawing.line(0, y(0), drawing.width, y(0), "ground")
    for time in analysis.flicker.safe_times_s[:40]:
        here = x(log2(time))
        if x.start <= here <= x.end:
            drawing.rect(here - 2, y(0) - 2, 4, 4, "safe")
    _present(drawing, analysis, x, y)
    at, state = x(log2(analysis.setup.time_s)), analysis.flicker
    words = f"{_left(analysis)} % ripple at {_now(analysis)}"
    kind = f"verdict {'good' if state.safe else 'warn'}"
    base = top + drawing.text_px
    drawing.first(((at - 9, base, words, f"{kind} end"), (at + 9, base, words, kind)))


def _left(analysis: Analysis) -> str:
    ripple = analysis.flicker.ripple
    return format_number(100 * ripple, 1 if ripple < 0.1 else 0)


def _now(analysis: Analysis) -> str:
    return format_time(analysis.setup.time_s)


def _scales(
    analysis: Analysis, left: float, right: float, ends: tuple[float, float]
) -> tuple[Scale, Scale]:
    longest, now = 1 / analysis.setup.frame_rate, analysis.setup.time_s
    low = log2(min(longest * 2**-OCTAVES, now * 0.9))
    return Scale(low, log2(max(longest, now)), left, right), Scale(0, 1, *ends)


def _present(drawing: Drawing, analysis: Analysis, x: Scale, y: Scale) -> None:
    state = analysis.flicker
    at, high = x(log2(analysis.setup.time_s)), y(min(1.0, state.ripple))
    at = min(max(at, 6.0), drawing.width - 6)
    drawing.line(at, y(1) - 4, at, y(0), "now")
    drawing.verdict_mark(at, high, 5, "good" if state.safe else "warn")


def _curve(x: Scale, y: Scale, pulses_hz: float) -> list[tuple[float, float]]:
    times = np.exp2(np.linspace(x.low, x.high, 160))
    ripples = residual_ripples(times, pulses_hz)
    return [(x(log2(t)), y(r)) for t, r in zip(times.tolist(), ripples.tolist(), strict=True)]


@lru_cache(maxsize=256)
def _ground(
    x: Scale, y: Scale, width: float, pulses_hz: float, safe_times_s: tuple[float, ...], px: int
) -> Part:
    """Axes, curve and safe times: they belong to the rate and the lamps."""
    drawing = Drawing(width, TALL, "", "", px)
    drawing.label(0, TOP + 10, "100 %", "tick")
    drawing.label(0, BASE, "0 %", "tick")
    drawing.line(LEFT, BASE, width - 6, BASE, "ground")
    limit = y(FLICKER_SAFE_RIPPLE)
    drawing.rect(LEFT, limit, width - 6 - LEFT, BASE - limit, "calm")
    drawing.path(_curve(x, y, pulses_hz), "ripple")
    for time in sorted(safe_times_s, reverse=True)[:40]:
        here = x(log2(time))
        if here < x.start:
            break
        drawing.rect(here - 2, BASE - 2, 4, 4, "safe")
        drawing.offer_within(here, BASE + 6 + px, format_time(time), "tick", x.start, width)
    return drawing.inside()
