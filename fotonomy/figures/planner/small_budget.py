"""Plans side by side: each a small budget on the same scale."""

from math import ceil, floor

from fotonomy.core.exposure.light_budget import Budget
from fotonomy.core.notation.writing import format_signed
from fotonomy.figures.lanes.light_budget import balance_words, steps_of
from fotonomy.figures.svg import Drawing, Scale, Size

CARD = Size(216.0)
# A line and a bar in px, names and figures in widths of the type.
ROW, BAR = 16.0, 10.0
NAMES_EM, FIGURES_EM = 4.0, 3.6
SHORT = {"light": "light", "shutter": "shutter", "iris": "iris", "iso": "ISO", "nd": "ND",
         "filter": "glass", "lens": "lens", "bellows": "close"}  # fmt: skip


def span_of(budgets: list[Budget]) -> tuple[float, float]:
    """Lowest and highest running total of several budgets, whole stops, target included."""
    ends = [
        end for budget in budgets for step in steps_of(budget) for end in (step.start, step.end)
    ]
    return floor(min(0.0, *ends)) - 0.0, ceil(max(0.0, *ends)) + 0.0


def small_budget_figure(
    budget: Budget, span: tuple[float, float], title: str, size: Size = CARD
) -> str:
    """One waterfall as SVG, as wide as ``size``; every plan of a set gets the same ``span``."""
    steps, px = steps_of(budget), size.text_px
    line = max(ROW, size.line)
    drawing = Drawing(
        size.width, line * len(steps) + 4, f"Budget of {title}", balance_words(budget), px
    )
    x = Scale(span[0], span[1], NAMES_EM * px, size.width - FIGURES_EM * px)
    drawing.line(x(0), 0, x(0), line * len(steps), "target-line")
    for row, step in enumerate(steps):
        y = line * row + 2
        left, right = sorted((x(step.start), x(step.end)))
        kind = "gives" if step.line.stops >= 0 else "takes"
        drawing.rect(left, y, max(1.0, right - left), BAR, kind)
        drawing.label(0, y + 9, SHORT.get(step.line.key, step.line.key), "caption")
        drawing.label(size.width, y + 9, format_signed(step.line.stops), "mono end")
    return drawing.render()
