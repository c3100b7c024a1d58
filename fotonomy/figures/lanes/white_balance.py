"""White balance on a line of mired: what is set, the lights, and how far apart they are."""

from fotonomy.core.findings.white_balance import MIXED_SEEN_MIRED
from fotonomy.core.notation.writing import format_number, format_signed
from fotonomy.core.tone.white_balance import SOURCES, Source, White, mired
from fotonomy.figures.svg import Drawing, Scale, Size

HEIGHT = 108.0
# Candle to blue hour, with room beyond.
RANGE_MIRED = (70.0, 560.0)


# Lights named along the line, as far as they have room.
NAMED = ("candle", "household lamp", "studio tungsten", "moon", "daylight", "open shade",
         "blue hour")  # fmt: skip


def white_words(white: White) -> str:
    """What is set, what fits, and the light furthest off."""
    said = f"set {format_number(white.set_k, 0)} K, main light {_kelvin(white.main)}"
    for source in white.others:
        said += f", {source.name} {format_signed(source.apart_mired, 0)} mired from it"
    return said


def _kelvin(source: Source) -> str:
    return f"{format_number(source.kelvin, 0)} K"


def white_figure(white: White, size: Size) -> str:
    """The lights of a scene as SVG, warm to the right."""
    height, px = size.height or HEIGHT, size.text_px
    drawing = Drawing(size.width, height, "White balance", white_words(white), px)
    ends = 4 if size.glance else 14
    x = Scale(*RANGE_MIRED, ends, size.width - ends)
    # Kelvin and names under the line, what is set and the other lights above it.
    under = 6.0 if size.glance else 2 * size.line + 8.0 if height >= 100 else size.line + 8.0
    line = height - under

    def at(kelvin: float) -> float:
        return x(min(max(mired(kelvin), RANGE_MIRED[0]), RANGE_MIRED[1]))

    drawing.line(x.start, line, x.end, line, "ground")
    for name in NAMED:
        here = at(SOURCES[name])
        drawing.line(here, line, here, line + 5, "ground")
        if size.glance:
            continue
        if drawing.offer_within(here, line + 6 + px, f"{SOURCES[name]:.0f}", "tick",
                                0, size.width) and height >= 100:  # fmt: skip
            drawing.offer_within(here, line + 6 + px + size.line, name, "caption", 0, size.width)
    main = white.main
    near = MIXED_SEEN_MIRED / (RANGE_MIRED[1] - RANGE_MIRED[0]) * (x.end - x.start)
    left, right = max(at(main.kelvin) - near, 0), min(at(main.kelvin) + near, size.width)
    drawing.rect(left, line - 6, right - left, 12, "calm")
    set_x = at(white.set_k)
    drawing.area([(set_x, line - 2), (set_x - 6, line - 13), (set_x + 6, line - 13)], "wanted")
    if not size.glance:
        drawing.offer_within(set_x, px + 1, f"set {format_number(white.set_k, 0)} K", "by-bar",
                             0, size.width)  # fmt: skip
        drawing.line(set_x, px + 5, set_x, line - 13, "now")
    for source in white.others[:3]:
        kind = "warn" if abs(source.apart_mired) >= MIXED_SEEN_MIRED else "good"
        drawing.line(at(main.kelvin), line - 12, at(source.kelvin), line - 12, f"miss {kind}")
        drawing.circle(at(source.kelvin), line, 5, "tone key-tone")
        if not size.glance:
            _name(drawing, at(source.kelvin), line, source)
    drawing.circle(at(main.kelvin), line, 5, "tone plain-tone")
    return drawing.render()


def _name(drawing: Drawing, at: float, line: float, source: Source) -> None:
    """What another light is and how far off, on the first line above that has room."""
    words = f"{source.name} {format_signed(source.apart_mired, 0)} mired"
    for up in (18, 18 + 1.3 * drawing.text_px, 18 + 2.6 * drawing.text_px):
        if drawing.offer_within(at, line - up, words, "caption", 0, drawing.width):
            return
