"""What is written over the scopes of the monitor: levels, and the lines to look for."""

from dataclasses import dataclass

from fotonomy.core.notation.writing import format_number
from fotonomy.core.tone.signal_levels import Level
from fotonomy.figures.svg import Drawing, shortened


@dataclass(frozen=True, slots=True)
class ScopeLayout:
    """How the picture of the scopes is laid out, in px, and the percents it shows."""

    width: float
    height: float
    waveform: float
    histogram_top: float
    low: float
    high: float


def scope_marks(level: Level, layout: ScopeLayout) -> str:
    """Grid and lines as SVG, to be laid over the picture of the scopes."""
    width, height, waveform = layout.width, layout.height, layout.waveform
    histogram_top, low, high = layout.histogram_top, layout.low, layout.high
    said = ", ".join(f"{name} at {format_number(at, 0)} %" for name, at in level.lines)
    drawing = Drawing(width, height, "Waveform lines", said)

    def y(percent: float) -> float:
        return (high - percent) / (high - low) * waveform

    for percent in (0.0, 50.0, 100.0):
        drawing.line(0, y(percent), width, y(percent), "scope-grid")
        drawing.label(4, y(percent) - 4, f"{percent:.0f} %", "scope-tick")
    last = -99.0
    for name, percent in sorted(level.lines, key=lambda line: -line[1]):
        at = y(percent)
        drawing.line(0, at, width, at, "scope-line")
        # Two lines close together: the lower one is named under its line.
        below = at - last < 22
        words = f"{shortened(name, 190)} {format_number(percent, 0)}"
        drawing.label(width - 4, at + 20 if below else at - 5, words, "scope-word end")
        last = at
    for percent in (0.0, 50.0, 100.0):
        x = (percent - low) / (high - low) * width
        drawing.line(x, histogram_top, x, height, "scope-grid")
    drawing.label(4, histogram_top + 18, "histogram", "scope-tick")
    return drawing.render()
