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
from fotonomy.figures.svg import Drawing, Part, Scale, Size, is_narrow, shortened

HEIGHT, TOP = 232.0, 12.0
DARKEST = -8


@dataclass(frozen=True, slots=True)
class Axes:
    """Stops to px and percent to px."""

    x: Scale
    y: Scale
    brightest: int
    top_percent: float


def axes_of(level: Level, size: Size) -> Axes:
    """Axes that hold the curve from eight stops under grey to past the clip."""
    brightest = max(4, ceil(level.headroom_stops + 0.8))
    top = 10.0 * ceil(max(100.0, level.clip_percent) / 10)
    # A tone far outside is drawn at the edge, with its true figures beside it.
    if size.glance:
        left, right, high, foot = 1.0, size.width - 1, 2.0, size.height - 2
    elif size.tile:
        left, right, high, foot = 1.0, size.width - 1, 3.0, size.height - size.line - 2
    else:
        room = 10 if is_narrow(size.width) else 30 + 6 * size.text_px
        left, right, high = 3.7 * size.text_px, size.width - room, TOP
        foot = HEIGHT - size.line - 8
    return Axes(Scale(DARKEST, brightest, left, right), Scale(0, top, foot, high), brightest, top)


def curve_points(profile: Profile, axes: Axes) -> list[tuple[float, float]]:
    """The curve as px, flat where it clips."""
    stops = np.linspace(DARKEST, axes.brightest, 113)
    percent = 100 * encode(profile.curve, profile.grey_linear * 2.0**stops)
    clipped = np.minimum(percent, profile.clip_percent)
    return [(axes.x(float(s)), axes.y(float(p))) for s, p in zip(stops, clipped, strict=True)]


@lru_cache(maxsize=128)
def _ground(profile: Profile, headroom_stops: float, axes: Axes, size: Size) -> Part:
    """Grid and curve: they belong to the profile, whatever is set."""
    drawing = Drawing(size.width, size.height or HEIGHT, "", "", size.text_px)
    _grid(drawing, axes, headroom_stops, size)
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
    setup: Setup, level: Level, size: Size, floor_stops: float | None = None,
    floor_between: tuple[float, float] | None = None,
) -> str:  # fmt: skip
    """The curve with its tones as SVG; tones under the floor drown.

    Where the sensor was not measured the floor is a band between a worse and a better one.
    """
    drawing = Drawing(size.width, size.height or HEIGHT, "Level", level_words(level), size.text_px)
    axes = axes_of(level, size)
    top, foot = axes.y.end, axes.y.start
    drowns = 0.0
    if floor_stops is not None and floor_stops > DARKEST:
        end = axes.x(min(floor_stops, axes.brightest))
        drowns = end - axes.x.start
        drawing.rect(axes.x.start, top, drowns, foot - top, "drown-zone")
        if floor_between is not None:
            worse, better = (
                axes.x(min(max(stops, DARKEST), axes.brightest)) for stops in floor_between
            )
            drawing.rect(better, top, worse - better, foot - top, "drown-zone between")
    drawing.paste(_ground(setup.recorded_profile, level.headroom_stops, axes, size))
    if size.glance:
        for tone, index in _marked(level):
            _mark(drawing, axes, tone, _class_of(tone, level), None if index is None else -1)
        return drawing.render()
    if not drawing.narrow and not size.tile:
        _zebras(drawing, axes, level)
    _tones(drawing, axes, level)
    # What a zone is, where its own tones leave room.
    if drowns > drawing.wide("drowns") + 8:
        drawing.offer(axes.x.start + 5, top + size.text_px, "drowns", "drown-word")
    clip_x = axes.x(level.headroom_stops)
    drawing.first((
        (clip_x + 5, foot - 6, "clips", "zone-word"),
        (axes.x.end - 4, foot - 6, "clips", "zone-word end"),
    ))  # fmt: skip
    return drawing.render()


def _grid(drawing: Drawing, axes: Axes, headroom_stops: float, size: Size) -> None:
    x, y = axes.x, axes.y
    top, foot = y.end, y.start
    clip_x = x(headroom_stops)
    drawing.rect(clip_x, top, x.end - clip_x, foot - top, "clip-zone")
    if size.glance:
        return
    for percent in range(0, int(axes.top_percent) + 1, 50 if size.tile else 20):
        drawing.line(x.start, y(percent), x.end, y(percent), "grid")
        if not size.tile:
            drawing.label(x.start - 6, y(percent) + 4, f"{percent} %", "tick end")
    every = 2 if size.tile or drawing.narrow else 1
    for stop in range(DARKEST, axes.brightest + 1, every):
        word = "grey" if stop == 0 else f"{stop:+d}".replace("-", "−")
        kind = "tick target-word" if stop == 0 else "tick"
        drawing.offer_within(x(stop), foot + size.text_px + 1, word, kind, 0, drawing.width)


def _zebras(drawing: Drawing, axes: Axes, level: Level) -> None:
    one, two = level.zebra_one, level.zebra_two
    half, px, right = one.half_width_percent or 0.0, drawing.text_px, axes.x.end
    top, foot = axes.y(one.percent + half), axes.y(one.percent - half)
    drawing.rect(right, top, 8, foot - top, "zebra")
    high = axes.y(axes.top_percent)
    drawing.rect(right, high, 8, axes.y(two.percent) - high, "zebra")
    drawing.label(right + 12, axes.y(two.percent) + 4, two.brief, "tick")
    middle = (top + foot) / 2 + 4
    drawing.first(
        tuple((right + 12, middle + down, one.brief, "tick") for down in (0, px, 1.5 * px))
    )


def _marked(level: Level) -> list[tuple[Tone, int | None]]:
    return [(level.grey, None), *((tone, k) for k, tone in enumerate(level.tones))]


def _tones(drawing: Drawing, axes: Axes, level: Level) -> None:
    """Marks first, then labels where there is room: by the mark, else further off."""
    marked = _marked(level)
    for tone, index in marked:
        x, y = _place(axes, tone)
        drawing.keep_clear(x - 6, y - 6, x + 6, y + 6)
        _mark(drawing, axes, tone, _class_of(tone, level), index)
    # The key and grey have the first choice of room.
    ranked = sorted(marked, key=lambda pair: (pair[0] is not level.key, pair[1] is not None))
    for tone, _ in ranked:
        _label(drawing, axes, tone, _class_of(tone, level))


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
    drawing.line(x, y, x, axes.y.start, f"drop {kind}")
    if tone.clipped_stops > 0:
        drawing.verdict_mark(x, y, 6, "bad")
    else:
        drawing.circle(x, y, 5, f"tone {kind}")
    if index is not None and index >= 0:
        # A wide hold for fingers; a tenth of a stop is so many px.
        tenth = (axes.x(1) - axes.x(0)) / 10
        more = f' data-reading="{index}" data-tenth="{tenth:.3f}"'
        top, foot = axes.y.end, axes.y.start
        left, right = max(0.0, x - 11), min(drawing.width, x + 11)
        drawing.rect(left, top, right - left, foot - top, "reading-hold", more)


def _label(drawing: Drawing, axes: Axes, tone: Tone, kind: str) -> None:
    x, y = _place(axes, tone)
    top, foot, px = axes.y.end, axes.y.start, drawing.text_px
    percent = f"{format_number(tone.percent)} %"
    fate = f"clips by {format_number(tone.clipped_stops)}" if tone.clipped_stops > 0 else percent
    placed = format_signed(tone.placed_stops)
    long = fate if placed == "0.0" else f"{placed}, {fate}"
    # Half the drawing is free on one side of a tone at least.
    room = (axes.x.end - axes.x.start) / 2 - drawing.wide(fate, "by-tone") - 20
    short = shortened(tone.name, max(room, 5 * px), "by-tone", px)
    for name, said in ((tone.name, long), (tone.name, fate), (short, fate)):
        words = f"{name} {said}"
        wide = drawing.wide(words, "by-tone")
        for down in (-7, 19, -22, 34, -37, 49, 64, -52, 79, 94):
            line = min(max(y + down, top + px - 2), foot - 5)
            for end in (down < 0, down >= 0):
                left = x - 9 - wide if end else x + 10
                if left < axes.x.start - 1 or left + wide > axes.x.end + 1:
                    continue
                place = (left + wide if end else left, line)
                if drawing.offer(*place, words, f"by-tone{' end' if end else ''} {kind}"):
                    return
