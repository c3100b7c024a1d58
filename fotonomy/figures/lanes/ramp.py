"""The light of a run and the settings that follow it, over the hours."""

import numpy as np

from fotonomy.core.exposure.ramp import Numbers, RampPlan
from fotonomy.core.notation.writing import (
    format_duration,
    format_number,
    format_signed,
    format_time,
)
from fotonomy.figures.svg import Drawing, Scale, Size, shortened

TOP, TALL, PANEL = 12.0, 138.0, 36.0
MOST_TICKS = 8


def ramp_words(ramp: RampPlan) -> str:
    """What becomes of a run's exposure, in words."""
    first, last = ramp.light_ev[0], ramp.light_ev[-1]
    light = f"light from EV {format_number(first)} to {format_number(last)}"
    step = f"largest step {format_number(ramp.largest_step_stops, 2)} stops a frame"
    if ramp.limit_at_s is None:
        return f"{light}; {len(ramp.steps)} changes, {step}"
    end = format_signed(ramp.end_miss_stops)
    return f"{light}; leaves it after {format_duration(ramp.limit_at_s)}, {end} stops at the end"


def _path(x: Scale, y: Scale, at_s: Numbers, values: Numbers) -> list[tuple[float, float]]:
    return [(x(float(at)), y(float(value))) for at, value in zip(at_s, values, strict=True)]


def ramp_figure(ramp: RampPlan, floating: RampPlan | None, size: Size) -> str:
    """Scene light (amber) and the light the settings are right for, as SVG.

    Where the two part the frames are over or under; a second, dashed line is the camera
    left to float. Without a height given, shutter and ISO stand under it.
    """
    px, line = size.text_px, size.line
    panel = bool(ramp.steps) and not size.tile
    height = size.height or TOP + TALL + 2 * line + 14 + (PANEL + line + 16 if panel else 0)
    drawing = Drawing(size.width, height, "Light to come", said_of(ramp), px)
    follows = ramp.light_ev - ramp.miss_stops
    lines = [ramp.light_ev, follows]
    if floating is not None:
        lines.append(floating.light_ev - floating.miss_stops)
    low = float(np.floor(min(line.min() for line in lines))) - (0.5 if size.tile else 1)
    high = float(np.ceil(max(line.max() for line in lines))) + (0.5 if size.tile else 1)
    end = max(float(ramp.at_s[-1]), 1.0)
    left = 2.0 if size.tile else 4.6 * px
    top = 2.0 if size.tile else TOP
    foot = height - (2 if size.glance else line + 2) if size.tile else TOP + TALL
    x, y = Scale(0, end, left, size.width - 4), Scale(low, high, foot, top)
    _grid(drawing, x, y, (low, high), size)
    if ramp.limit_at_s is not None:
        over = x(ramp.limit_at_s)
        drawing.rect(over, top, size.width - 4 - over, foot - top, "clip-zone")
    if floating is not None:
        drawing.path(_path(x, y, floating.at_s, floating.light_ev - floating.miss_stops),
                     "curve line-5 thin-line")  # fmt: skip
    drawing.path(_path(x, y, ramp.at_s, ramp.light_ev), "curve light-line")
    drawing.path(_path(x, y, ramp.at_s, follows), "curve thin-line")
    if size.glance:
        return drawing.render()
    for step in ramp.steps:
        if step.lifts_nd:
            at = x(step.at_s)
            drawing.line(at, top, at, foot, "now")
            drawing.offer_within(at, top + px, step.glass_words, "by-tone", left, size.width)
    if ramp.limit_at_s is not None:
        at = x(ramp.limit_at_s)
        word = f"✕ {format_signed(ramp.end_miss_stops)} stops at the end"
        drawing.offer_within((at + size.width) / 2, (top + foot) / 2, word, "by-tone bad", left,
                             size.width)  # fmt: skip
    if size.tile:
        _ends(drawing, ramp, x, y)
        return drawing.render()
    words = "amber: the light; ink: what the settings are right for"
    dashed = "; dashed: the camera left to float" if floating is not None else ""
    base = foot + 2 * line + 2
    drawing.first(((0, base, words + dashed, "caption"),
                   (0, base, shortened(words, size.width, "", px), "caption")))  # fmt: skip
    if panel:
        _settings(drawing, x, ramp, base + 10)
    return drawing.render()


def _ends(drawing: Drawing, ramp: RampPlan, x: Scale, y: Scale) -> None:
    """The light at both ends of a tile."""
    for at, value, end in ((x.start + 3, ramp.light_ev[0], ""), (x.end, ramp.light_ev[-1], " end")):
        words = f"EV {format_number(float(value))}"
        here = y(float(value))
        drawing.first(tuple(
            (at, here + down, words, f"by-tone{end}")
            for down in (-7, drawing.text_px + 6) if y.end + 8 < here + down < y.start
        ))  # fmt: skip


def setting_words(ramp: RampPlan) -> str:
    """Where shutter, ISO and ND begin and end."""
    first, last = ramp.rungs[ramp.first], ramp.rungs[ramp.last]
    glass = " and ".join(
        f"{step.glass_words} before frame {step.frame + 1}, after {format_duration(step.at_s)}"
        for step in ramp.steps if step.lifts_nd
    )  # fmt: skip
    shutter = f"shutter {format_time(first.time_s)} to {format_time(last.time_s)}"
    iso = f"ISO {first.iso}" if first.iso == last.iso else f"ISO {first.iso} to {last.iso}"
    return ", ".join(part for part in (shutter, iso, glass) if part)


def said_of(ramp: RampPlan) -> str:
    """The drawing in words."""
    words = ramp_words(ramp)
    return f"{words}; {setting_words(ramp)}" if ramp.steps else words


def _settings(drawing: Drawing, x: Scale, ramp: RampPlan, top: float) -> None:
    """Shutter and ISO over the run, in stops over where each is lowest, as two stepped lines."""
    px, foot = drawing.text_px, top + PANEL
    shutter, iso = (np.log2(line / line.min()) for line in (ramp.shutter_s, ramp.iso))
    most = max(1.0, float(shutter.max()), float(iso.max()))
    y = Scale(0, most, foot, top)
    drawing.rect(x.start, top - 3, x.end - x.start, PANEL + 6, "field")
    drawing.path(_path(x, y, ramp.at_s, shutter), "curve thin-line")
    drawing.path(_path(x, y, ramp.at_s, iso), "curve line-5 thin-line")
    drawing.label(x.start - 5, top + 8, f"+{format_number(most, 0)}", "tick end")
    drawing.label(x.start - 5, foot + 3, "stops", "tick end")
    words = setting_words(ramp).replace("shutter", "solid: shutter").replace("ISO", "dashed: ISO")
    said = shortened(words, drawing.width, "", px)
    drawing.label(0, drawing.height - 3, said, "caption")


def _grid(
    drawing: Drawing, x: Scale, y: Scale, span: tuple[float, float], size: Size
) -> None:  # fmt: skip
    step = next(s for s in (1, 2, 3, 5, 10, 20) if (span[1] - span[0]) / s <= 7)
    for ev in range(int(np.ceil(span[0])), int(span[1]) + 1):
        if ev % step == 0 and not size.glance:
            drawing.line(x.start, y(ev), x.end, y(ev), "grid")
            if not size.tile:
                drawing.offer(x.start - 5, y(ev) + 4, f"EV {ev}".replace("-", "−"), "tick end")
    if size.glance:
        return
    most = min(MOST_TICKS, max(2, int((x.end - x.start) / (8 * size.text_px))))
    end = x.high
    every = next((s for s in (60, 300, 600, 900, 1800, 3600, 7200, 14_400, 43_200, 86_400, 604_800)
                  if end / s <= most), 2_592_000)  # fmt: skip
    for k in range(int(end // every) + 1):
        at = x(k * every)
        drawing.line(at, y.start, at, y.start + 4, "grid")
        drawing.offer_within(at, y.start + size.text_px + 2,
                             format_duration(k * every) if k else "start", "tick", 0,
                             drawing.width)  # fmt: skip
