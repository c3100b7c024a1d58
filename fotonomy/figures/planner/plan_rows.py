"""The planner's rows: the waterfall of each plan under one axis of stops."""

from math import ceil

from fotonomy.core.exposure.light_budget import Budget
from fotonomy.core.notation.writing import format_signed
from fotonomy.figures.lanes.light_budget import balance_words, steps_of, verdict_kind
from fotonomy.figures.planner.small_budget import SHORT
from fotonomy.figures.svg import Drawing, Scale, Size

# A bar's share of its line; the room of the names, in widths of the type.
BAR_SHARE, NAMES_EM = 0.62, 4.2
# Marks on the axis stand no closer than this, in widths of the type.
TICKS_EM = 4.0


def _scale(span: tuple[float, float], size: Size) -> Scale:
    return Scale(span[0], span[1], NAMES_EM * size.text_px, size.width - 10)


def _ticks(span: tuple[float, float], x: Scale, px: float) -> range:
    every = max(1, ceil(TICKS_EM * px / (x(1) - x(0))))
    first = every * ceil(span[0] / every)
    return range(first, int(span[1]) + 1, every)


def axis_figure(span: tuple[float, float], size: Size) -> str:
    """The axis over all rows: stops from the target, "target" at nought. ``size`` in px."""
    px = size.text_px
    drawing = Drawing(size.width, size.line + 2, "Axis", "stops over the target", px)
    x = _scale(span, size)
    drawing.offer_within(x(0), px, "target", "tick target-word", 0, size.width)
    for stop in _ticks(span, x, px):
        if stop:
            drawing.offer_within(x(stop), px, format_signed(stop, 0), "tick", 0, size.width)
    return drawing.render()


def plan_figure(budget: Budget, span: tuple[float, float], size: Size, title: str) -> str:
    """One plan's waterfall as SVG, on the axis of ``span``: lowest and highest stop of all."""
    steps, line = steps_of(budget), size.text_px + 1
    foot = line * len(steps)
    drawing = Drawing(
        size.width, foot + 12, f"Budget of {title}", balance_words(budget), size.text_px
    )
    x = _scale(span, size)
    for stop in _ticks(span, x, size.text_px):
        drawing.line(x(stop), 0, x(stop), foot, "grid")
    drawing.line(x(0), 0, x(0), foot, "target-line")
    for row, step in enumerate(steps):
        y, tall = line * row, line * BAR_SHARE
        left, right = sorted((x(step.start), x(step.end)))
        kind = "gives" if step.line.stops >= 0 else "takes"
        drawing.rect(left, y + (line - tall) / 2, max(1.5, right - left), tall, kind)
        name = SHORT.get(step.line.key, step.line.key)
        drawing.label(0, y + line / 2 + 0.36 * size.text_px, name, "caption")
    drawing.verdict_mark(x(budget.error_stops), foot + 6, 5, verdict_kind(budget))
    return drawing.render()
