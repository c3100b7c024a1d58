"""The light of a run and the settings that follow it, over the hours."""

import numpy as np

from fotonomy.core.exposure.ramp import Numbers, RampPlan
from fotonomy.core.notation.writing import (
    format_density,
    format_duration,
    format_number,
    format_signed,
    format_time,
)
from fotonomy.figures.svg import WIDE, Drawing, Scale, label_within, shortened

LEFT, TOP, FOOT = 46.0, 12.0, 150.0
PANEL_TOP, PANEL_FOOT = 196.0, 230.0
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


def ramp_figure(ramp: RampPlan, floating: RampPlan | None, width: float = WIDE) -> str:
    """Scene light (amber) and the light the settings are right for, as SVG.

    Where the two part the frames are over or under; a second, dashed line is the camera
    left to float.
    """
    drawing = Drawing(width, 250 if ramp.steps else 200, "Light to come", said_of(ramp))
    follows = ramp.light_ev - ramp.miss_stops
    lines = [ramp.light_ev, follows]
    if floating is not None:
        lines.append(floating.light_ev - floating.miss_stops)
    low = float(np.floor(min(line.min() for line in lines))) - 1
    high = float(np.ceil(max(line.max() for line in lines))) + 1
    end = max(float(ramp.at_s[-1]), 1.0)
    x, y = Scale(0, end, LEFT, width - 6), Scale(low, high, FOOT, TOP)
    _grid(drawing, x, y, (low, high), end)
    if ramp.limit_at_s is not None:
        left = x(ramp.limit_at_s)
        drawing.rect(left, TOP, width - 6 - left, FOOT - TOP, "clip-zone")
    if floating is not None:
        drawing.path(_path(x, y, floating.at_s, floating.light_ev - floating.miss_stops),
                     "curve line-5 thin-line")  # fmt: skip
    drawing.path(_path(x, y, ramp.at_s, ramp.light_ev), "curve light-line")
    drawing.path(_path(x, y, ramp.at_s, follows), "curve thin-line")
    for step in ramp.steps:
        if step.lifts_nd:
            at = x(step.at_s)
            drawing.line(at, TOP, at, FOOT, "now")
            word = f"ND {format_density(step.rung.nd_density)}"
            label_within(drawing, at, TOP + 10, word, "by-tone small", LEFT, width)
    if ramp.limit_at_s is not None:
        at = x(ramp.limit_at_s)
        word = f"✕ {format_signed(ramp.end_miss_stops)} stops at the end"
        middle = (TOP + FOOT) / 2
        label_within(drawing, (at + width) / 2, middle, word, "by-tone bad", LEFT, width)
    if ramp.steps:
        _settings(drawing, x, ramp)
    words = "amber: the light; ink: what the settings are right for"
    dashed = "; dashed: the camera left to float" if floating is not None else ""
    drawing.label(0, 184, words if drawing.narrow else words + dashed, "caption small")
    return drawing.render()


def setting_words(ramp: RampPlan) -> str:
    """Where shutter, ISO and ND begin and end."""
    first, last = ramp.rungs[ramp.first], ramp.rungs[ramp.last]
    glass = " and ".join(
        f"ND {format_density(step.rung.nd_density)} from {format_duration(step.at_s)} on"
        for step in ramp.steps if step.lifts_nd
    )  # fmt: skip
    shutter = f"shutter {format_time(first.time_s)} to {format_time(last.time_s)}"
    iso = f"ISO {first.iso}" if first.iso == last.iso else f"ISO {first.iso} to {last.iso}"
    return ", ".join(part for part in (shutter, iso, glass) if part)


def said_of(ramp: RampPlan) -> str:
    """The drawing in words."""
    words = ramp_words(ramp)
    return f"{words}; {setting_words(ramp)}" if ramp.steps else words


def _settings(drawing: Drawing, x: Scale, ramp: RampPlan) -> None:
    """Shutter and ISO over the run, in stops over where each is lowest, as two stepped lines."""
    shutter, iso = (np.log2(line / line.min()) for line in (ramp.shutter_s, ramp.iso))
    most = max(1.0, float(shutter.max()), float(iso.max()))
    y = Scale(0, most, PANEL_FOOT, PANEL_TOP)
    drawing.rect(x.start, PANEL_TOP - 3, x.end - x.start, PANEL_FOOT - PANEL_TOP + 6, "field")
    drawing.path(_path(x, y, ramp.at_s, shutter), "curve thin-line")
    drawing.path(_path(x, y, ramp.at_s, iso), "curve line-5 thin-line")
    drawing.label(x.start - 5, PANEL_TOP + 8, f"+{format_number(most, 0)}", "tick end small")
    drawing.label(x.start - 5, PANEL_FOOT + 3, "stops", "tick end small")
    words = setting_words(ramp).replace("shutter", "solid: shutter").replace("ISO", "dashed: ISO")
    drawing.label(0, 246, shortened(words, drawing.width), "caption small")


def _grid(
    drawing: Drawing, x: Scale, y: Scale, span: tuple[float, float], end: float
) -> None:  # fmt: skip
    step = next(s for s in (1, 2, 3, 5, 10) if (span[1] - span[0]) / s <= 7)
    for ev in range(int(span[0]), int(span[1]) + 1):
        if ev % step == 0:
            drawing.line(x.start, y(ev), x.end, y(ev), "grid")
            drawing.label(x.start - 5, y(ev) + 4, f"EV {ev}".replace("-", "−"), "tick end small")
    most = 4 if drawing.narrow else MOST_TICKS
    every = next((s for s in (60, 300, 600, 900, 1800, 3600, 7200, 14_400, 43_200, 86_400, 604_800)
                  if end / s <= most), 2_592_000)  # fmt: skip
    for k in range(int(end // every) + 1):
        at = x(k * every)
        drawing.line(at, FOOT, at, FOOT + 4, "grid")
        label_within(drawing, at, FOOT + 17, format_duration(k * every) if k else "start", "tick",
                     x.start - 20, drawing.width, mono=True)  # fmt: skip
