"""The key to the stops view, and small level strips for methods side by side."""

from fotonomy.core.notation.writing import format_number
from fotonomy.core.tone.signal_levels import Level
from fotonomy.figures.monitor.false_colour import STOP_RANGE, stop_colour
from fotonomy.figures.svg import Drawing, Scale, Size, shortened, text_width

STRIP_RANGE = (-8.0, 8.0)


def stop_key(size: Size) -> str:
    """A swatch a stop, from darkest to brightest, with what is hatched and dotted.

    Where there is no room for every stop's name, grey and every second or so have theirs.
    """
    low, high = STOP_RANGE
    count, width, px = high - low + 1, size.width, size.text_px
    wide, foot = width / (count + 2), 29 + px
    drawing = Drawing(
        width, foot + 5, "Key to the stops", f"from {low} to +{high} stops from grey", px
    )
    drawing.rect(0, 4, wide - 2, 22, "swatch-drowned")
    drawing.offer_within(wide / 2 - 1, foot, "drowns", "caption", 0, width)
    drawing.rect(width - wide + 2, 4, wide - 2, 22, "swatch-clips")
    drawing.offer_within(width - wide / 2, foot, "clips", "caption", 0, width)
    for stop in sorted(range(low, high + 1), key=lambda stop: (stop % 2, abs(stop))):
        k = stop - low
        red, green, blue = stop_colour(stop)
        more = f' fill="#{red:02x}{green:02x}{blue:02x}"'
        drawing.rect((k + 1) * wide, 4, wide, 22, "swatch", more)
        word = "grey" if stop == 0 else f"{stop:+d}".replace("-", "−")
        drawing.offer((k + 1.5) * wide, foot, word, "tick middle")
    return drawing.render()


def level_strip(level: Level, floor_stops: float, width: float = 300.0) -> str:
    """Where every tone lands in stops from grey, between what drowns and what clips."""
    said = ", ".join(
        f"{tone.name} clips" if tone.clipped_stops > 0
        else f"{tone.name} {format_number(tone.percent, 0)} %" for tone in level.tones
    )  # fmt: skip
    drawing = Drawing(width, 66, "Level", said or "no readings")
    x = Scale(*STRIP_RANGE, 6, width - 6)

    def at(stops: float) -> float:
        return x(min(max(stops, STRIP_RANGE[0]), STRIP_RANGE[1]))

    clip, floor = at(level.headroom_stops), at(floor_stops)
    drawing.rect(clip, 28, x.end - clip, 18, "clip-zone")
    drawing.rect(x.start, 28, floor - x.start, 18, "drown-zone")
    drawing.line(x.start, 46, x.end, 46, "ground")
    for stop in range(-8, 9, 2):
        word = "grey" if stop == 0 else f"{stop:+d}".replace("-", "−")
        drawing.label(x(stop), 60, word, "tick middle")
    taken: list[tuple[float, float, int]] = []
    for tone in sorted(level.tones, key=lambda t: t is not level.key):
        here = at(tone.placed_stops)
        kind = "bad" if tone.lost else "key-tone" if tone is level.key else "plain-tone"
        drawing.line(here, 28, here, 46, f"strip-mark {kind}")
        words = shortened(tone.name, 92)
        half = text_width(words) / 2 + 3
        middle = min(max(here, x.start + half), x.end - half)
        for line in (0, 1):
            if all(row != line or middle + half < a or middle - half > b for a, b, row in taken):
                taken.append((middle - half, middle + half, line))
                drawing.label(middle, 24 - 13 * line, words, f"caption middle {kind}")
                break
    return drawing.render()
