"""The light budget as a waterfall: amber gives, slate takes, the balance against the target."""

from dataclasses import dataclass
from math import ceil, floor

from fotonomy.core.exposure.light_budget import Balance, Budget, BudgetLine
from fotonomy.core.notation.writing import format_signed, format_stops
from fotonomy.figures.svg import WIDE, Drawing, Scale, shortened, text_width

ROW, BAR, TOP, AXIS = 31.0, 23.0, 4.0, 44.0
# A filter's name longer than this is cut.
MOST_LABEL = 150.0
VERDICT_WORDS = {
    Balance.BALANCED: "balanced", Balance.CLOSE: "close",
    Balance.OFF: "off target", Balance.RUINED: "far off",
}  # fmt: skip


@dataclass(frozen=True, slots=True)
class Step:
    """One bar of the waterfall: from one running total to the next, in stops."""

    line: BudgetLine
    start: float
    end: float


def steps_of(budget: Budget) -> list[Step]:
    """Running totals; the first bar starts at the target, the last ends at the balance."""
    steps, total = [], 0.0
    for line in budget.lines:
        steps.append(Step(line, total, total + line.stops))
        total += line.stops
    return steps


def balance_words(budget: Budget) -> str:
    """The verdict in words: "balanced, 0.1 stop over"."""
    miss = abs(budget.error_stops)
    word = VERDICT_WORDS[budget.verdict]
    if miss < 0.05:
        return f"{word}, on target"
    side = "over" if budget.error_stops > 0 else "under"
    return f"{word}, {format_stops(miss)} {side}"


def budget_figure(budget: Budget, width: float = WIDE) -> str:
    """The waterfall as SVG, ``width`` px wide."""
    steps = steps_of(budget)
    low = floor(min(0.0, *(min(s.start, s.end) for s in steps)) - 0.5)
    high = ceil(max(0.0, *(max(s.start, s.end) for s in steps)) + 0.5)
    height = TOP + ROW * len(steps) + AXIS
    words = balance_words(budget)
    drawing = Drawing(width, height, "Light budget", words)
    x = Scale(low, high, 14, width - 14)
    floor_y = TOP + ROW * len(steps) + 16
    _grid(drawing, x, low, high, floor_y)
    for row, step in enumerate(steps):
        _bar(drawing, x, step, TOP + ROW * row, row + 1 < len(steps))
    _balance(drawing, x, budget, words, floor_y)
    return drawing.render()


def _grid(drawing: Drawing, x: Scale, low: int, high: int, floor_y: float) -> None:
    every = max(1, ceil(40 * (high - low) / drawing.width))
    for tick in range(low, high + 1):
        if tick % every and tick:
            continue
        drawing.line(x(tick), TOP, x(tick), floor_y, "target-line" if tick == 0 else "grid")
        near_target = tick and abs(x(tick) - x(0)) < 40
        text = "target" if tick == 0 else f"{tick:+d}".replace("-", "−")
        if not near_target:
            kind = "tick middle target-word" if tick == 0 else "tick middle"
            drawing.label(x(tick), floor_y + 15, text, kind)


def _bar(drawing: Drawing, x: Scale, step: Step, y: float, joined: bool) -> None:
    gives = step.line.stops >= 0
    left, right = sorted((x(step.start), x(step.end)))
    wide = max(right - left, 1.5)
    mover = f' data-setting="{step.line.setting}"' if step.line.setting else ""
    drawing.rect(left, y, wide, BAR, "gives" if gives else "takes", mover)
    if joined:
        drawing.line(x(step.end), y + BAR, x(step.end), y + ROW, "joint")
    figure, label = format_signed(step.line.stops), shortened(step.line.label, MOST_LABEL)
    full = f"{label} {step.line.detail}".strip()
    for words in (f"{full}  {figure}", f"{label}  {figure}", figure):
        long = text_width(words) + 14
        if long < wide:
            drawing.label(left + 8, y + 16, words, f"in-bar on-{'gives' if gives else 'takes'}")
            return
        if right + long < drawing.width:
            drawing.label(right + 7, y + 16, words, "by-bar")
            return
        if left - long > 0:
            drawing.label(left - 7, y + 16, words, "by-bar end")
            return


def _balance(drawing: Drawing, x: Scale, budget: Budget, words: str, floor_y: float) -> None:
    at, y = x(budget.error_stops), floor_y - 15
    good = budget.verdict in (Balance.BALANCED, Balance.CLOSE)
    kind = "good" if good else "bad" if budget.verdict is Balance.RUINED else "warn"
    if good:
        drawing.area([(at, y), (at - 6, y + 11), (at + 6, y + 11)], f"mark {kind}")
    else:
        drawing.line(x(0), y + 6, at, y + 6, f"miss {kind}")
        drawing.area([(at, y - 1), (at - 7, y + 6), (at, y + 13), (at + 7, y + 6)], f"mark {kind}")
    # Beside the mark, on the side away from the target, so that the miss stays in view.
    left, right = (at, at) if good else (min(at, x(0)), max(at, x(0)))
    for text in (words, f"{format_signed(budget.error_stops)} stops"):
        room = text_width(text) + 14
        to_right = right + 13 + room < drawing.width
        to_left = left - 13 - room > 0
        if to_right and (good or at >= x(0) or not to_left):
            drawing.label(right + 13, y + 11, text, f"verdict {kind}")
            return
        if to_left:
            drawing.label(left - 13, y + 11, text, f"verdict {kind} end")
            return
