"""White balance on a line of mired: what is set, the lights, and how far apart they are."""

from fotonomy.core.findings.white_balance import MIXED_SEEN_MIRED
from fotonomy.core.notation.writing import format_number, format_signed
from fotonomy.core.tone.white_balance import SOURCES, Source, White, mired
from fotonomy.figures.svg import WIDE, Drawing, Scale, is_narrow, label_within

HEIGHT, LINE = 104.0, 58.0
# Candle to blue hour, with room beyond.
RANGE_MIRED = (70.0, 560.0)


# Lights named along the line; a narrow drawing names every second one.
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


def white_figure(white: White, width: float = WIDE) -> str:
    """The lights of a scene as SVG, warm to the right, ``width`` px wide."""
    drawing = Drawing(width, HEIGHT, "White balance", white_words(white))
    x = Scale(*RANGE_MIRED, 14, width - 14)

    def at(kelvin: float) -> float:
        return x(min(max(mired(kelvin), RANGE_MIRED[0]), RANGE_MIRED[1]))

    names = NAMED[:: 2 if is_narrow(width) else 1]
    drawing.line(x.start, LINE, x.end, LINE, "ground")
    for name in names:
        drawing.line(at(SOURCES[name]), LINE, at(SOURCES[name]), LINE + 6, "ground")
        label_within(drawing, at(SOURCES[name]), LINE + 18, f"{SOURCES[name]:.0f}", "tick",
                     x.start - 8, x.end + 8)  # fmt: skip
        label_within(drawing, at(SOURCES[name]), LINE + 31, name, "small caption",
                     x.start - 8, x.end + 8)  # fmt: skip
    main = white.main
    near = MIXED_SEEN_MIRED / (RANGE_MIRED[1] - RANGE_MIRED[0]) * (x.end - x.start)
    drawing.rect(at(main.kelvin) - near, LINE - 7, 2 * near, 14, "calm")
    for row, source in enumerate(white.others[:3]):
        y = LINE - 12
        kind = "warn" if abs(source.apart_mired) >= MIXED_SEEN_MIRED else "good"
        drawing.line(at(main.kelvin), y, at(source.kelvin), y, f"miss {kind}")
        drawing.circle(at(source.kelvin), LINE, 5, "tone key-tone")
        label_within(drawing, at(source.kelvin), LINE - 18 - 13 * (row % 2),
                     f"{source.name} {format_signed(source.apart_mired, 0)} mired",
                     "small", x.start, x.end)  # fmt: skip
    drawing.circle(at(main.kelvin), LINE, 5, "tone plain-tone")
    set_x = at(white.set_k)
    drawing.area([(set_x, LINE - 2), (set_x - 6, LINE - 13), (set_x + 6, LINE - 13)], "wanted")
    label_within(drawing, set_x, 14, f"set {format_number(white.set_k, 0)} K", "by-bar",
                 x.start, x.end)  # fmt: skip
    drawing.line(set_x, 18, set_x, LINE - 13, "now")
    return drawing.render()
