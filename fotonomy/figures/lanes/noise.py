"""Noise over ISO: what each ISO looks like, the bases, the person's limit, and the setup."""

from functools import lru_cache
from math import ceil, floor, log2

import numpy as np

from fotonomy.core.notation.writing import format_compact, format_stops
from fotonomy.core.spec.setup import Setup
from fotonomy.core.tone.noise import Noise, NoiseModel
from fotonomy.figures.svg import WIDE, Drawing, Scale, is_narrow, text_width

HEIGHT, TOP, BOTTOM = 150.0, 12.0, 126.0


def noise_words(setup: Setup, noise: Noise) -> str:
    """The number, and how it stands to the limit."""
    side = "inside" if noise.inside_stops >= 0 else "beyond"
    return (
        f"shadows look like ISO {format_compact(noise.looks_like_iso)}, "
        f"{format_stops(noise.inside_stops)} {side} your limit, ISO {setup.body.iso_ceiling}"
    )


def noise_figure(setup: Setup, noise: Noise, width: float = WIDE) -> str:
    """Looks-like ISO over ISO as SVG, both in stops, ``width`` px wide."""
    drawing = Drawing(width, HEIGHT, "Noise", noise_words(setup, noise))
    low, high = setup.body.iso_reach
    reach = (min(low, noise.model.lowest_base), max(high, setup.iso))
    shown = (reach[0], max(reach[1], noise.limit_iso, noise.looks_like_iso))
    x = Scale(log2(reach[0] / 100) - 0.2, log2(reach[1] / 100) + 0.2, 52, width - 14)
    bottom = log2(min(shown[0], noise.looks_like_iso, noise.one_stop_buys_iso) / 100)
    y = Scale(floor(bottom), ceil(log2(shown[1] / 100)), BOTTOM, TOP)
    drawing.paste(_ground(noise.model, x, y, width, reach, setup.body.iso_ceiling))
    _setting(drawing, setup, noise, x, y)
    return drawing.render()


@lru_cache(maxsize=64)
def _ground(
    model: NoiseModel, x: Scale, y: Scale, width: float, reach: tuple[int, int], ceiling: int
) -> str:  # fmt: skip
    """Grid, limit and the body's own line: they belong to the body and profile."""
    drawing = Drawing(width, HEIGHT, "", "")
    limit = y(log2(float(model.looks_like(ceiling)) / 100))
    drawing.rect(x.start, TOP, x.end - x.start, limit - TOP, "clip-zone")
    drawing.label(x.start + 5, TOP + 11, "looks like ISO, over ISO set", "small")
    every = max(2, ceil((y.high - y.low) * 14 / (BOTTOM - TOP)))
    for stop in range(ceil(y.low), floor(y.high) + 1):
        if (stop - ceil(y.low)) % every == 0:
            drawing.line(x.start, y(stop), x.end, y(stop), "grid")
            drawing.label(x.start - 6, y(stop) + 4, format_compact(100 * 2.0**stop), "tick end")
    step = 2 if is_narrow(width) else 1
    for stop in range(ceil(x.low), floor(x.high) + 1, step):
        drawing.label(x(stop), BOTTOM + 16, format_compact(100 * 2.0**stop), "tick middle")
    drawing.line(x.start, limit, x.end, limit, "limit-line")
    drawing.label(x.end - 4, max(limit - 5, TOP + 9), f"your limit, ISO {ceiling}", "small end")
    upper = model.upper_base
    parts = [(reach[0], reach[1])] if upper is None or not reach[0] < upper < reach[1] else [
        (reach[0], upper * 0.998), (upper, reach[1])
    ]  # fmt: skip
    for start, end in parts:
        stops = np.linspace(log2(start / 100), log2(end / 100), 24)
        shown = np.log2(model.looks_like(100 * 2.0**stops) / 100)
        drawing.path([(x(float(a)), y(float(b))) for a, b in zip(stops, shown, strict=True)],
                     "curve")  # fmt: skip
    for base in filter(None, (model.lowest_base, upper)):
        at = x(log2(base / 100))
        drawing.area([(at, BOTTOM - 9), (at - 5, BOTTOM), (at + 5, BOTTOM)], "base")
        drawing.label(at + 8, BOTTOM - 3, f"base {base}", "small halo")
    return drawing.inside()


def _setting(drawing: Drawing, setup: Setup, noise: Noise, x: Scale, y: Scale) -> None:
    at, shown = x(log2(setup.iso / 100)), y(log2(noise.looks_like_iso / 100))
    buys = y(log2(noise.one_stop_buys_iso / 100))
    good = noise.inside_stops >= -0.05
    kind = "good" if good else "bad"
    drawing.line(at, shown, at, BOTTOM, f"drop {kind}")
    drawing.line(at, shown, at, buys, "buys")
    drawing.line(at - 5, buys, at + 5, buys, "buys")
    if good:
        drawing.circle(at, shown, 5, f"tone {kind}")
    else:
        drawing.area([(at, shown - 7), (at + 7, shown), (at, shown + 7), (at - 7, shown)],
                     f"mark {kind}")  # fmt: skip
    words = f"looks like ISO {format_compact(noise.looks_like_iso)}"
    # Above the line to its left, where the body's own line never runs.
    if at - text_width(words) - 12 > x.start:
        drawing.label(at - 10, max(shown - 7, TOP + 9), words, f"by-tone end {kind}")
    else:
        drawing.label(at + 12, min(shown + 4, BOTTOM - 24), words, f"by-tone {kind}")
