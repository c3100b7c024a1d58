"""Level: tones on the profile's curve, in stops from grey against percent."""

from dataclasses import dataclass
from functools import lru_cache
from math import ceil

import numpy as np

from fotonomy.core.curves.transfer_functions import encode
from fotonomy.core.gear.profile import Profile
from fotonomy.core.notation.writing import format_number, format_signed
from fotonomy.core.spec.setup import Setup
from fotonomy.core.tone.signal_levels import Level, Tone
from fotonomy.figures.svg import WIDE, Box, Drawing, Scale, is_narrow, shortened, text_width

HEIGHT, TOP, BOTTOM = 216.0, 12.0, 190.0
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
        Scale(DARKEST, brightest, 44, width - 10 if is_narrow(width) else width - 66),
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
    """Grey, every reading and the clip in words."""
    said = [f"grey at {format_number(level.grey.percent, 0)} %"]
    for tone in level.tones:
        fate = "clips" if tone.clipped_stops > 0 else f"{format_number(tone.percent, 0)} %"
        said.append(f"{tone.name} at {fate}")
    return ", ".join([*said, f"clip at {format_number(level.clip_percent, 0)} %"])


def level_figure(
    setup: Setup, level: Level, width: float = WIDE, floor_stops: float | None = None
) -> str:
    """The curve with its tones as SVG, ``width`` px wide; tones under the floor drown."""
    drawing = Drawing(width, HEIGHT, "Level", level_words(level))
    axes = axes_of(level, width)
    if floor_stops is not None and floor_stops > DARKEST:
        end = axes.x(min(floor_stops, axes.brightest))
        drawing.rect(axes.x.start, TOP, end - axes.x.start, BOTTOM - TOP, "drown-zone")
        if end - axes.x.start > 48:
            drawing.label(axes.x.start + 5, TOP + 12, "drowns", "drown-word")
    drawing.paste(_ground(setup.profile, level.headroom_stops, axes, width))
    if not drawing.narrow:
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
    every = 2 if drawing.narrow else 1
    for stop in range(DARKEST, axes.brightest + 1, every):
        word = "grey" if stop == 0 else f"{stop:+d}".replace("-", "−")
        drawing.label(x(stop), BOTTOM + 16, word,
                      "tick middle target-word" if stop == 0 else "tick middle")  # fmt: skip


def _zebras(drawing: Drawing, axes: Axes, level: Level) -> None:
    one, two = level.zebra_one, level.zebra_two
    half = one.half_width_percent or 0.0
    top, foot = axes.y(one.percent + half), axes.y(one.percent - half)
    drawing.rect(axes.x.end, top, 8, foot - top, "zebra")
    drawing.label(axes.x.end + 12, (top + foot) / 2 + 4, one.brief, "tick")
    drawing.rect(axes.x.end, axes.y(axes.top_percent), 8,
                 axes.y(two.percent) - axes.y(axes.top_percent), "zebra")  # fmt: skip
    drawing.label(axes.x.end + 12, axes.y(two.percent) + 4, two.brief, "tick")


def _tones(drawing: Drawing, axes: Axes, level: Level) -> None:
    """Marks first, then labels where there is room: by the mark, else further off."""
    marked = [(level.grey, None), *((tone, k) for k, tone in enumerate(level.tones))]
    taken: list[Box] = []
    for tone, index in marked:
        x, y = _place(axes, tone)
        taken.append(Box(x - 6, y - 6, x + 6, y + 6))
        _mark(drawing, axes, tone, _class_of(tone, level), index)
    # The key and grey have the first choice of room.
    ranked = sorted(marked, key=lambda pair: (pair[0] is not level.key, pair[1] is not None))
    for tone, _ in ranked:
        _label(drawing, axes, tone, _class_of(tone, level), taken)


def _class_of(tone: Tone, level: Level) -> str:
    if tone.lost:
        return "bad"
    if tone is level.key and tone is not level.grey:
        return "key-tone"
    return "grey-tone" if tone is level.grey else "plain-tone"


def _place(axes: Axes, tone: Tone) -> tuple[float, float]:
    at = min(max(tone.placed_stops, DARKEST), axes.brightest)
    return axes.x(at), axes.y(tone.percent)


def _mark(drawing: Drawing, axes: Axes, tone: Tone, kind: str, index: int | None) -> None:
    x, y = _place(axes, tone)
    drawing.line(x, y, x, BOTTOM, f"drop {kind}")
    if tone.clipped_stops > 0:
        drawing.area([(x, y - 7), (x + 7, y), (x, y + 7), (x - 7, y)], f"mark {kind}")
    else:
        drawing.circle(x, y, 5, f"tone {kind}")
    if index is not None:
        # A wide hold for fingers; a tenth of a stop is so many px.
        tenth = (axes.x(1) - axes.x(0)) / 10
        more = f' data-reading="{index}" data-tenth="{tenth:.3f}"'
        drawing.rect(x - 11, TOP, 22, BOTTOM - TOP, "reading-hold", more)


def _label(drawing: Drawing, axes: Axes, tone: Tone, kind: str, taken: list[Box]) -> None:
    x, y = _place(axes, tone)
    percent = f"{format_number(tone.percent)} %"
    fate = f"clips by {format_number(tone.clipped_stops)}" if tone.clipped_stops > 0 else percent
    placed = format_signed(tone.placed_stops)
    long = fate if placed == "0.0" else f"{placed}, {fate}"
    for said in (long, fate):
        # Half the drawing is free on one side of a tone at least.
        name = shortened(tone.name, (axes.x.end - axes.x.start) / 2 - text_width(said) - 20)
        words = f"{name} {said}"
        room = text_width(words)
        for down in (-7, 19, -22, 34, -37, 49, 64, -52, 79, 94):
            line = min(max(y + down, TOP + 10), BOTTOM - 6)
            to_left = down < 0
            for end in (to_left, not to_left):
                left = x - 9 - room if end else x + 10
                box = Box(left, line - 10, left + room, line + 2)
                inside = left > axes.x.start and left + room < axes.x.end
                if inside and not any(box.meets(other) for other in taken):
                    taken.append(box)
                    drawing.label(left + room if end else left, line, words,
                                  f"by-tone{' end' if end else ''} {kind}")  # fmt: skip
                    return
