"""The light budget as a waterfall: amber gives, slate takes, the balance against the target."""

from dataclasses import dataclass
from math import ceil, floor

from fotonomy.core.exposure.light_budget import Balance, Budget, BudgetLine
from fotonomy.core.notation.writing import format_number, format_signed, format_stops
from fotonomy.figures.svg import Drawing, Scale, Size, shortened

ROW, BAR, TOP, AXIS = 31.0, 23.0, 4.0, 44.0
# A filter's name longer than this is cut.
MOST_LABEL = 150.0
VERDICT_WORDS = {
    Balance.BALANCED: "balanced", Balance.CLOSE: "close",
    Balance.OFF: "off target", Balance.RUINED: "far off",
}  # fmt: skip


SEEN_STOPS = 0.05


@dataclass(frozen=True, slots=True)
class Step:
    """One bar of the waterfall: from one running total to the next, in stops."""

    line: BudgetLine
    start: float
    end: float


def steps_of(budget: Budget) -> list[Step]:
    """Running totals; the first bar starts at the target, the last ends at the balance.

    What nobody set and nobody sees, less than a twentieth of a stop, gets no bar of its own.
    """
    steps, total = [], 0.0
    for line in budget.lines:
        if line.setting is None and line.key != "light" and abs(line.stops) < SEEN_STOPS:
            total += line.stops
            continue
        steps.append(Step(line, total, total + line.stops))
        total += line.stops
    return steps


def balance_words(budget: Budget) -> str:
    """The verdict in words: "balanced, 0.1 stop over"."""
    word = VERDICT_WORDS[budget.verdict]
    if not budget.light_said:
        word = f"light not said yet: at EV {format_number(budget.ev100)} {word}"
    return f"{word}, {miss_words(budget)}"


def miss_words(budget: Budget) -> str:
    """How far from the target: "on target", "0.3 stops over"."""
    miss = abs(budget.error_stops)
    if miss < SEEN_STOPS:
        return "on target"
    return f"{format_stops(miss)} {'over' if budget.error_stops > 0 else 'under'}"


def budget_figure(budget: Budget, size: Size) -> str:
    """The waterfall as SVG; bars of settings say which, and how many px a stop is, to be dragged.

    A glance has bars alone, a tile bars and the miss, else there is an axis and the verdict.
    """
    steps = steps_of(budget)
    if size.tile and size.height < (len(steps) + 1) * size.line:
        # Cramped: what does nothing has no bar.
        steps = [step for step in steps if abs(step.line.stops) >= SEEN_STOPS] or steps
    cramped = size.tile and size.height < (len(steps) + 1) * size.line
    axis = 0.0 if size.glance else 9.0 if cramped else size.line + 2 if size.tile else AXIS
    height = size.height or TOP + ROW * len(steps) + AXIS
    row = (height - axis) / len(steps) if size.tile else ROW
    words = balance_words(budget)
    drawing = Drawing(size.width, height, "Light budget", words, size.text_px)
    room = 4.0 if size.glance else 14.0
    low, high = _span(steps, size)
    x, top = Scale(low, high, room, size.width - room), 0.0 if size.tile else TOP
    foot = top + row * len(steps)
    if not size.tile:
        _grid(drawing, x, (floor(low), ceil(high)), foot + 16)
    else:
        drawing.line(x(0), top, x(0), foot + min(6.0, axis), "target-line")
    for k, step in enumerate(steps):
        _bar(drawing, x, step, (top + row * k, row * BAR / ROW), k + 1 < len(steps))
    # Words when all bars stand, so that none lies under a later bar.
    for k, step in enumerate(steps):
        if not size.glance:
            _words(drawing, x, step, top + row * k, row * BAR / ROW)
    if size.tile and not size.glance:
        _foot(drawing, x, budget, height, not cramped)
    elif not size.tile:
        _balance(drawing, x, budget, words, foot + 16)
    return drawing.render()


def _span(steps: list[Step], size: Size) -> tuple[float, float]:
    low = min(0.0, *(min(s.start, s.end) for s in steps))
    high = max(0.0, *(max(s.start, s.end) for s in steps))
    return (low - 0.2, high + 0.2) if size.tile else (floor(low - 0.5), ceil(high + 0.5))


def _grid(drawing: Drawing, x: Scale, span: tuple[int, int], floor_y: float) -> None:
    low, high = span
    every = max(1, ceil(40 * (high - low) / drawing.width))
    drawing.line(x(0), TOP, x(0), floor_y, "target-line")
    drawing.offer_within(x(0), floor_y + 15, "target", "tick target-word", 0, drawing.width)
    for tick in range(low, high + 1):
        if tick % every or not tick:
            continue
        drawing.line(x(tick), TOP, x(tick), floor_y, "grid")
        drawing.offer(x(tick), floor_y + 15, f"{tick:+d}".replace("-", "−"), "tick middle")


def _bar(
    drawing: Drawing, x: Scale, step: Step, place: tuple[float, float], joined: bool
) -> None:  # fmt: skip
    y, tall = place
    left, right = sorted((x(step.start), x(step.end)))
    stop_px = x(1) - x(0)
    mover = (
        f' data-setting="{step.line.setting}" data-stop="{stop_px:.2f}"'
        if step.line.setting else ""
    )  # fmt: skip
    kind = "gives" if step.line.stops >= 0 else "takes"
    drawing.rect(left, y, max(right - left, 1.5), tall, kind, mover)
    if joined:
        drawing.line(x(step.end), y + tall, x(step.end), y + tall * ROW / BAR, "joint")


def _words(drawing: Drawing, x: Scale, step: Step, y: float, tall: float) -> None:
    """What a bar says, the fullest that fits: in the bar, else right of it, else left."""
    left, right = sorted((x(step.start), x(step.end)))
    right = max(right, left + 1.5)
    kind = "gives" if step.line.stops >= 0 else "takes"
    base = y + tall / 2 + 0.36 * drawing.text_px
    figure = format_signed(step.line.stops)
    label = shortened(step.line.label, MOST_LABEL, "by-bar", drawing.text_px)
    full = f"{label} {step.line.detail}".strip()
    for words in (f"{full}  {figure}", f"{label}  {figure}", figure):
        inside = drawing.wide(words, "in-bar") + 12 < right - left and tall >= drawing.text_px
        if inside and drawing.offer(left + 6, base, words, f"in-bar on-{kind}"):
            return
        if drawing.offer(right + 6, base, words, "by-bar"):
            return
        if drawing.offer(left - 6, base, words, "by-bar end"):
            return


def _foot(drawing: Drawing, x: Scale, budget: Budget, height: float, words: bool) -> None:
    """Where the sum comes to lie, under the bars of a tile, and how far off it is."""
    at, y = x(budget.error_stops), height - (drawing.text_px + 3 if words else 8)
    kind = verdict_kind(budget)
    if kind not in ("good", "unsaid"):
        drawing.line(x(0), y + 4, at, y + 4, f"miss {kind}")
    tall = 10 if words else 7
    drawing.verdict_mark(at, y + tall / 2, tall / 2, kind)
    if not words:
        return
    miss = abs(budget.error_stops)
    said = "on target" if miss < SEEN_STOPS else f"{format_signed(budget.error_stops)} stops"
    base = height - 3
    left, right = min(at, x(0)) - 11, max(at, x(0)) + 11
    drawing.first(((right, base, said, f"verdict {kind}"),
                   (left, base, said, f"verdict {kind} end")))  # fmt: skip


def verdict_kind(budget: Budget) -> str:
    """How the balance is coloured and marked: good, warn, bad, or unsaid."""
    if not budget.light_said:
        # A guess is neither right nor wrong.
        return "unsaid"
    if budget.verdict in (Balance.BALANCED, Balance.CLOSE):
        return "good"
    return "bad" if budget.verdict is Balance.RUINED else "warn"


def _balance(drawing: Drawing, x: Scale, budget: Budget, words: str, floor_y: float) -> None:
    at, y = x(budget.error_stops), floor_y - 15
    kind = verdict_kind(budget)
    good = kind in ("good", "unsaid")
    if not good:
        drawing.line(x(0), y + 6, at, y + 6, f"miss {kind}")
    drawing.verdict_mark(at, y + 6, 6, kind)
    # Beside the mark, on the side away from the target, so that the miss stays in view.
    left, right = (at, at) if good else (min(at, x(0)), max(at, x(0)))
    for text in (words, f"{format_signed(budget.error_stops)} stops"):
        beside = ((right + 13, y + 11, text, f"verdict {kind}"),
                  (left - 13, y + 11, text, f"verdict {kind} end"))  # fmt: skip
        if drawing.first(beside if good or at >= x(0) else beside[::-1]):
            return
