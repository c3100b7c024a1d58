"""What is written over the scopes of the monitor: levels, and the lines to look for."""

from dataclasses import dataclass

from fotonomy.core.notation.writing import format_number
from fotonomy.core.tone.signal_levels import Level
from fotonomy.figures.svg import Drawing, Size, shortened


@dataclass(frozen=True, slots=True)
class ScopeLayout:
    """How the picture of the scopes is laid out, in px, and the percents it shows."""

    width: float
    height: float
    waveform: float
    histogram_top: float
    low: float
    high: float


def scope_marks(level: Level, layout: ScopeLayout, size: Size) -> str:
    """Grid and lines as SVG, to be laid over the picture of the scopes.

    ``size`` is what the picture covers on the page; without a height it is the whole picture,
    with one the waveform alone, as high as that.
    """
    low, high = layout.low, layout.high
    whole = not size.tile
    height = size.width * layout.height / layout.width if whole else size.height
    waveform = height * layout.waveform / layout.height if whole else height
    said = ", ".join(f"{name} at {format_number(at, 0)} %" for name, at in level.lines)
    drawing = Drawing(size.width, height, "Waveform lines", said, size.text_px)
    px = size.text_px

    def y(percent: float) -> float:
        return (high - percent) / (high - low) * waveform

    for percent in (0.0, 50.0, 100.0):
        drawing.line(0, y(percent), size.width, y(percent), "scope-grid")
    # Lines close together: the lower one is named under its line, else not at all.
    for name, percent in sorted(level.lines, key=lambda line: -line[1]):
        at = y(percent)
        drawing.line(0, at, size.width, at, "scope-line")
        if size.glance:
            continue
        words = f"{shortened(name, size.width * 0.6, 'by-bar', px)} {format_number(percent, 0)}"
        drawing.first(((size.width - 4, at - 4, words, "scope-word by-bar end"),
                       (size.width - 4, at + px, words, "scope-word by-bar end")))  # fmt: skip
    if size.glance:
        return drawing.render()
    for percent in (0.0, 50.0, 100.0):
        words = f"{percent:.0f} %"
        drawing.first(((4, y(percent) - 4, words, "scope-tick tick"),
                       (4, y(percent) + px, words, "scope-tick tick")))  # fmt: skip
    if whole:
        top = height * layout.histogram_top / layout.height
        for percent in (0.0, 50.0, 100.0):
            x = (percent - low) / (high - low) * size.width
            drawing.line(x, top, x, height, "scope-grid")
        drawing.label(4, top + px + 2, "histogram", "scope-tick tick")
    return drawing.render()
