"""Plans side by side: each a small budget on the same scale."""

from math import ceil, floor

from fotonomy.core.exposure.light_budget import Budget
from fotonomy.core.notation.writing import format_signed
from fotonomy.figures.lanes.light_budget import balance_words, steps_of
from fotonomy.figures.svg import Drawing, Scale

WIDTH, ROW, BAR = 216.0, 13.0, 9.0
NAMES_PX, FIGURES_PX = 58.0, 38.0
SHORT = {"light": "light", "shutter": "shutter", "iris": "iris", "iso": "ISO", "nd": "ND",
         "filter": "glass", "lens": "lens", "bellows": "close"}  # fmt: skip


def span_of(budgets: list[Budget]) -> tuple[float, float]:
    """Lowest and highest running total of several budgets, whole stops, target included."""
    ends = [
        end for budget in budgets for step in steps_of(budget) for end in (step.start, step.end)
    ]
    return floor(min(0.0, *ends)) - 0.0, ceil(max(0.0, *ends)) + 0.0


def small_budget_figure(budget: Budget, span: tuple[float, float], title: str) -> str:
    """One waterfall as SVG, 216 px wide; every plan of a set gets the same ``span``."""
    steps = steps_of(budget)
    drawing = Drawing(WIDTH, ROW * len(steps) + 4, f"Budget of {title}", balance_words(budget))
    x = Scale(span[0], span[1], NAMES_PX, WIDTH - FIGURES_PX)
    drawing.line(x(0), 0, x(0), ROW * len(steps), "target-line")
    for row, step in enumerate(steps):
        y = ROW * row + 1
        left, right = sorted((x(step.start), x(step.end)))
        kind = "gives" if step.line.stops >= 0 else "takes"
        drawing.rect(left, y, max(1.0, right - left), BAR, kind)
        drawing.label(0, y + 9, SHORT.get(step.line.key, step.line.key), "small")
        drawing.label(WIDTH, y + 9, format_signed(step.line.stops), "small mono end")
    return drawing.render()
