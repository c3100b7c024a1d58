"""Level: tones on the profile's curve, in stops from grey against percent."""

from dataclasses import dataclass
from functools import lru_cache
from math import ceil

import numpy as np

from fotonomy.core.curves import encode
from fotonomy.core.gear import Profile
from fotonomy.core.levels import Level, Tone
from fotonomy.core.notation import format_number, format_signed
from fotonomy.core.setup import Setup
from fotonomy.figures.svg import WIDE, Drawing, Scale, shortened, text_width

HEIGHT, TOP, BOTTOM = 190.0, 12.0, 164.0
DARKEST = -8


@dataclass(frozen=True, slots=True)
class Axes:
    """Stops to px and percent to px."""

    x: Scale
    y: Scale
    brightest: int
    top_percent: float


def axes_of(level: Level, width: float) -> Axes:
    """Axes that hold the curve from eight stops under grey to past the clip."""
    brightest = max(4, ceil(level.headroom_stops + 0.8))
    top = 10.0 * ceil(max(100.0, level.clip_percent) / 10)
    # A tone far outside is drawn at the edge, with its true figures beside it.
    return Axes(
        Scale(DARKEST, brightest, 44, width - 66 if width > 500 else width - 10),
        Scale(0, top, BOTTOM, TOP),
        brightest,
        top,
    )


def curve_points(profile: Profile, axes: Axes) -> list[tuple[float, float]]:
    """The curve as px, flat where it clips."""
    stops = np.linspace(DARKEST, axes.brightest, 113)
    percent = 100 * encode(profile.curve, profile.grey_linear * 2.0**stops)
    clipped = np.minimum(percent, profile.clip_percent)
    return [(axes.x(float(s)), axes.y(float(p))) for s, p in zip(stops, clipped, strict=True)]


@lru_cache(maxsize=128)
def _ground(profile: Profile, headroom_stops: float, axes: Axes, width: float) -> str:
    """Grid and curve: they belong to the profile, whatever is set."""
    drawing = Drawing(width, HEIGHT, "", "")
    _grid(drawing, axes, headroom_stops)
    drawing.path(curve_points(profile, axes), "curve")
    return drawing.inside()


def level_words(level: Level) -> str:
    """Grey and key reading in words."""
    grey, key = level.grey, level.key
    fate = "clips" if key.clipped_stops > 0 else f"{format_number(key.percent, 0)} %"
    return (
        f"grey at {format_number(grey.percent, 0)} %, {key.name} at {fate}, "
        f"clip at {format_number(level.clip_percent, 0)} %"
    )


def level_figure(setup: Setup, level: Level, width: float = WIDE) -> str:
    """The curve with its tones as SVG, ``width`` px wide."""
    drawing = Drawing(width, HEIGHT, "Level", level_words(level))
    axes = axes_of(level, width)
    drawing.paste(_ground(setup.profile, level.headroom_stops, axes, width))
    if width > 500:
        _zebras(drawing, axes, level)
    _tones(drawing, axes, level)
    return drawing.render()


def _grid(drawing: Drawing, axes: Axes, headroom_stops: float) -> None:
    x, y = axes.x, axes.y
    clip_x = x(headroom_stops)
    drawing.rect(clip_x, TOP, x.end - clip_x, BOTTOM - TOP, "clip-zone")
    drawing.label(min(clip_x + 5, x.end - 30), BOTTOM - 6, "clips", "zone-word")
    for percent in range(0, int(axes.top_percent) + 1, 20):
        drawing.line(x.start, y(percent), x.end, y(percent), "grid")
        drawing.label(x.start - 6, y(percent) + 4, f"{percent} %", "tick end")
    every = 1 if drawing.width > 500 else 2
    for stop in range(DARKEST, axes.brightest + 1, every):
        word = "grey" if stop == 0 else f"{stop:+d}".replace("-", "−")
        drawing.label(x(stop), BOTTOM + 16, word,
                      "tick middle target-word" if stop == 0 else "tick middle")  # fmt: skip


def _zebras(drawing: Drawing, axes: Axes, level: Level) -> None:
    one, two = level.zebra_one, level.zebra_two
    half = one.half_width_percent or 0.0
    top, foot = axes.y(one.percent + half), axes.y(one.percent - half)
    drawing.rect(axes.x.end, top, 8, foot - top, "zebra")
    words = f"{format_number(one.percent, 0)} ± {format_number(half, 0)}"
    drawing.label(axes.x.end + 12, (top + foot) / 2 + 4, words, "tick")
    drawing.rect(axes.x.end, axes.y(axes.top_percent), 8,
                 axes.y(two.percent) - axes.y(axes.top_percent), "zebra")  # fmt: skip
    drawing.label(axes.x.end + 12, axes.y(two.percent) + 4,
                  f"{format_number(two.percent, 0)} +", "tick")  # fmt: skip


def _tones(drawing: Drawing, axes: Axes, level: Level) -> None:
    grey, key = level.grey, level.key
    close = abs(grey.placed_stops - key.placed_stops) < 1.2
    key_first = key.placed_stops >= grey.placed_stops
    for tone, kind in ((grey, "grey-tone"), (key, "key-tone")):
        other = key if tone is grey else grey
        lower = tone.placed_stops < other.placed_stops or (tone is grey and not key_first)
        _tone(drawing, axes, tone, kind, below=close and lower)


def _tone(drawing: Drawing, axes: Axes, tone: Tone, kind: str, below: bool) -> None:
    clips = tone.clipped_stops > 0
    at = min(max(tone.placed_stops, DARKEST), axes.brightest)
    x, y = axes.x(at), axes.y(tone.percent)
    kind = "bad" if clips else kind
    drawing.line(x, y, x, BOTTOM, f"drop {kind}")
    if clips:
        drawing.area([(x, y - 7), (x + 7, y), (x, y + 7), (x - 7, y)], f"mark {kind}")
    else:
        drawing.circle(x, y, 5, f"tone {kind}")
    fate = (
        f"clips by {format_number(tone.clipped_stops)}"
        if clips
        else f"{format_number(tone.percent)} %"
    )
    placed = format_signed(tone.placed_stops)
    fate = fate if placed == "0.0" else f"{placed}, {fate}"
    # Half the drawing is free on one side of a tone at least.
    name = shortened(tone.name, (axes.x.end - axes.x.start) / 2 - text_width(fate) - 20)
    words = f"{name} {fate}"
    room = text_width(words)
    if below:
        drawing.label(
            min(x + 10, axes.x.end - room), min(y + 19, BOTTOM - 6), words, f"by-tone {kind}"
        )
    elif x - room - 10 > axes.x.start:
        drawing.label(x - 9, max(y - 7, 11), words, f"by-tone end {kind}")
    else:
        drawing.label(x + 9, max(y - 7, 11), words, f"by-tone {kind}")
