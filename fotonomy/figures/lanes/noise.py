"""Noise over ISO: what each ISO looks like, the bases, the person's limit, and the setup."""

from functools import lru_cache
from math import ceil, floor, log2

import numpy as np

from fotonomy.core.notation.writing import format_compact, format_estimate, format_stops
from fotonomy.core.spec.setup import Setup
from fotonomy.core.tone.noise import Noise, NoiseModel
from fotonomy.figures.svg import Drawing, Part, Scale, Size, is_narrow

HEIGHT = 166.0


def noise_words(setup: Setup, noise: Noise) -> str:
    """The number, and how it stands to the limit."""
    side = "inside" if noise.inside_stops >= 0 else "beyond"
    return (
        f"shadows look like {noise.looks_like_words}, "
        f"{format_stops(noise.inside_stops)} {side} your limit, "
        f"{noise.limit_words(setup.body.iso_ceiling)}"
    )


def noise_figure(setup: Setup, noise: Noise, size: Size) -> str:
    """Looks-like ISO over ISO as SVG, both in stops."""
    height, px = size.height or HEIGHT, size.text_px
    drawing = Drawing(size.width, height, "Noise", noise_words(setup, noise), px)
    low, high = setup.body.iso_reach
    reach = (min(low, noise.model.lowest_base), max(high, setup.iso))
    shown = (reach[0], max(reach[1], noise.limit_iso, noise.looks_like_iso))
    left = 2.0 if size.tile else 4.2 * px
    top, foot = (2.0, height - 2) if size.glance else (3.0, height - size.line - 2)
    x = Scale(log2(reach[0] / 100) - 0.2, log2(reach[1] / 100) + 0.2, left, size.width - 4)
    bottom = log2(min(shown[0], noise.looks_like_iso, noise.one_stop_buys_iso) / 100)
    y = Scale(floor(bottom), ceil(log2(shown[1] / 100)), foot, top)
    _setting(drawing, setup, noise, x, y, size)
    ground = _ground(noise.model, x, y, size, reach, setup.body.iso_ceiling)
    # The ground lies under the mark, and its words give way to it.
    mark = drawing.inside()
    drawing = Drawing(size.width, height, "Noise", noise_words(setup, noise), px)
    drawing.paste(ground)
    drawing.paste(mark)
    if not size.glance:
        _ground_words(drawing, noise.model, x, y, size, setup.body.iso_ceiling)
    return drawing.render()


@lru_cache(maxsize=64)
def _ground(
    model: NoiseModel, x: Scale, y: Scale, size: Size, reach: tuple[int, int], ceiling: int
) -> Part:
    """Grid, limit and the body's own line: they belong to the body and profile."""
    drawing = Drawing(size.width, size.height or HEIGHT, "", "", size.text_px)
    top, foot = y.end, y.start
    limit = max(y(log2(float(model.looks_like(ceiling)) / 100)), top)
    drawing.rect(x.start, top, x.end - x.start, limit - top, "clip-zone")
    if not size.tile:
        every = max(2, ceil((y.high - y.low) * 1.3 * size.text_px / (foot - top)))
        for stop in range(ceil(y.low), floor(y.high) + 1):
            if (stop - ceil(y.low)) % every == 0:
                drawing.line(x.start, y(stop), x.end, y(stop), "grid")
                drawing.offer(x.start - 6, y(stop) + 4, format_compact(100 * 2.0**stop),
                              "tick end")  # fmt: skip
    if not size.glance:
        step = 2 if is_narrow(size.width) else 1
        for stop in range(ceil(x.low), floor(x.high) + 1, step):
            drawing.offer_within(x(stop), foot + size.text_px + 1, format_compact(100 * 2.0**stop),
                                 "tick", 0, size.width)  # fmt: skip
    drawing.line(x.start, limit, x.end, limit, "limit-line")
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
        # A base that the reach of this setup leaves out has no mark.
        if x.start <= at <= x.end:
            drawing.rect(at - 1.5, foot - 8, 3, 8, "base")
    return drawing.inside()


def _ground_words(
    drawing: Drawing, model: NoiseModel, x: Scale, y: Scale, size: Size, ceiling: int
) -> None:  # fmt: skip
    """Limit and bases, where the mark and its words leave room."""
    top, foot, px = y.end, y.start, drawing.text_px
    limit = max(y(log2(float(model.looks_like(ceiling)) / 100)), top)
    words = f"your limit, ISO {ceiling}"
    drawing.first((
        (x.start + 5, max(limit - 4, top + px), words, "halo"),
        (x.end - 4, min(limit + px + 2, foot - 6), words, "halo end"),
    ))  # fmt: skip
    if not size.tile:
        drawing.offer(x.start + 5, limit + px + 4, "looks like ISO, over ISO set", "caption halo")
    for base in filter(None, (model.lowest_base, model.upper_base)):
        at = x(log2(base / 100))
        drawing.first(((at + 7, foot - 3, f"base {base}", "halo"),
                       (at - 7, foot - 3, f"base {base}", "halo end")))  # fmt: skip


def _setting(
    drawing: Drawing, setup: Setup, noise: Noise, x: Scale, y: Scale, size: Size
) -> None:  # fmt: skip
    at, shown = x(log2(setup.iso / 100)), y(log2(noise.looks_like_iso / 100))
    buys, foot = y(log2(noise.one_stop_buys_iso / 100)), y.start
    good = noise.inside_stops >= -0.05
    kind = "good" if good else "bad"
    drawing.line(at, shown, at, foot, f"drop {kind}")
    if not size.tile:
        drawing.line(at, shown, at, buys, "buys")
        drawing.line(at - 5, buys, at + 5, buys, "buys")
    drawing.verdict_mark(at, shown, 5, kind)
    drawing.keep_clear(at - 6, shown - 7, at + 6, shown + 7)
    if size.glance:
        return
    # The axis has its own words.
    drawing.keep_clear(0, 0, x.start - 1, drawing.height)
    words, px = f"looks like ISO {format_estimate(noise.looks_like_iso)}", drawing.text_px
    kinds = f"by-tone {kind}"
    # Above the line to its left, where the body's own line never runs.
    drawing.first((
        (at - 10, max(shown - 6, y.end + px), words, f"{kinds} end"),
        (at + 12, min(shown + px + 4, foot - px - 4), words, kinds),
        (at + 12, min(max(shown + 4, y.end + px), foot - 4), words, kinds),
    ))  # fmt: skip
