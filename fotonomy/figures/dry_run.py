"""Plan against run on one time line: starts, frames, losses, buffer, card and battery."""

import numpy as np

from fotonomy.core.dry_run.log import Lost, RunLog, Verdict
from fotonomy.core.notation.writing import format_duration, format_number
from fotonomy.figures.svg import WIDE, Drawing, Scale, label_within

LEFT, RUN_TOP, BAND = 74.0, 44.0, 20.0


def verdict_words(verdict: Verdict) -> str:
    """A rehearsal in words."""
    if verdict.clean:
        return f"all {verdict.planned} frames, each in its place; {verdict.ended.value}"
    ends = (Lost.BATTERY, Lost.CARD)  # Said by how the run ended.
    lost = ", ".join(
        f"{count} lost, {reason.value}" for reason, count in verdict.lost if reason not in ends
    )
    jumps = "1 jump" if verdict.jump_count == 1 else f"{verdict.jump_count} jumps"
    if not verdict.jump_count:
        jumps = ""
    parts = [f"{verdict.frames} of {verdict.planned} frames", lost, jumps, verdict.ended.value]
    return "; ".join(part for part in parts if part)


def dry_run_figure(
    log: RunLog, verdict: Verdict, planned_s: tuple[float, float], size_mb: float,
    energy_wh: float | None, width: float = WIDE,
) -> str:  # fmt: skip
    """The time line as SVG, ``width`` px wide.

    ``planned_s`` is when the first and the last frame were to start; thousands of frames
    are gathered into columns of a pixel or two.
    """
    drawing = Drawing(width, 190, "Plan against run", verdict_words(verdict))
    last = float(log.trigger_s[-1]) if len(log.trigger_s) else 0.0
    end = max(planned_s[1], last, log.ended_s, 1.0)
    x = Scale(0, end, LEFT, width - 4)
    drawing.label(0, 30, "plan", "by-bar")
    drawing.rect(x(planned_s[0]), 16, max(2.0, x(planned_s[1]) - x(planned_s[0])), BAND, "planned")
    drawing.label(0, RUN_TOP + 14, "run", "by-bar")
    columns = max(1, int((x.end - x.start) / 2))
    edges = np.linspace(0, end, columns + 1)
    taken = np.histogram(log.trigger_s[log.taken], edges)[0]
    lost = np.histogram(log.trigger_s[~log.taken], edges)[0]
    _column_runs(drawing, x, edges, taken > 0, RUN_TOP, "taken")
    drawing.label(0, RUN_TOP + 36, "lost", "by-bar")
    drawing.rect(x.start, RUN_TOP + 24, x.end - x.start, 12, "field")
    _column_runs(drawing, x, edges, lost > 0, RUN_TOP + 24, "lost", 12)
    _gauge(drawing, x, log, log.card_mb / max(size_mb, 1e-9), RUN_TOP + 56, "card")
    if energy_wh:
        _gauge(drawing, x, log, log.energy_wh / energy_wh, RUN_TOP + 80, "battery")
    _axis(drawing, x, end, verdict)
    return drawing.render()


def dry_plan_figure(
    planned_s: tuple[float, float], frames: int, needs_mb: float, size_mb: float,
    width: float = WIDE,
) -> str:  # fmt: skip
    """What is planned before it is run, as SVG: when frames are asked for, how the card fills."""
    share = needs_mb / max(size_mb, 1e-9)
    used = f"{format_number(100 * share, 0)} % of the card"
    drawing = Drawing(width, 122, "The plan", f"{frames} frames, {used}")
    end = max(planned_s[1], 1.0)
    x = Scale(0, end, LEFT, width - 4)
    drawing.label(0, 30, "plan", "by-bar")
    wide = max(2.0, x(planned_s[1]) - x(planned_s[0]))
    drawing.rect(x(planned_s[0]), 16, wide, BAND, "planned")
    drawing.label(x(planned_s[0]) + 6, 30, f"{frames} frames", "by-tone planned-word")
    drawing.label(0, 68, "card", "by-bar")
    drawing.rect(x.start, 56, x.end - x.start, 16, "field")
    foot, top = 72.0, 72.0 - 16 * min(1.0, share)
    full = planned_s[0] + (planned_s[1] - planned_s[0]) / max(share, 1.0)
    line = [(x(planned_s[0]), foot), (x(full), top), (x(end), top)]
    drawing.area([*line, (x(end), foot)], "takes")
    drawing.label(x.end - 4, 52, used, "by-tone end" if share <= 1 else "by-tone end bad")
    _axis(drawing, x, end, None, 104.0)
    return drawing.render()


def _column_runs(
    drawing: Drawing, x: Scale, edges: np.ndarray, on: np.ndarray, top: float, class_: str,
    tall: float = BAND,
) -> None:  # fmt: skip
    """Neighbouring columns that are on, as one rectangle each."""
    padded = np.concatenate(([False], on, [False])).astype(np.int8)
    starts, ends = np.flatnonzero(np.diff(padded) == 1), np.flatnonzero(np.diff(padded) == -1)
    for start, stop in zip(starts, ends, strict=True):
        left = x(float(edges[start]))
        drawing.rect(left, top, max(1.5, x(float(edges[stop])) - left - 0.4), tall, class_)


def _gauge(
    drawing: Drawing, x: Scale, log: RunLog, share: np.ndarray, top: float, name: str
) -> None:  # fmt: skip
    drawing.label(0, top + 12, name, "by-bar")
    drawing.rect(x.start, top, x.end - x.start, 16, "field")
    if not len(share):
        return
    pick = np.unique(np.linspace(0, len(share) - 1, min(len(share), 200)).astype(int))
    line = [(x(float(log.trigger_s[k])), top + 16 * (1 - min(1.0, float(share[k])))) for k in pick]
    drawing.area([(line[0][0], top + 16), *line, (line[-1][0], top + 16)], "takes")
    word = f"{format_number(100 * float(share[-1]), 0)} % used"
    if line[-1][0] + 90 < x.end:
        drawing.label(line[-1][0] + 6, top + 12, word, "by-tone")
    else:
        drawing.label(x.end - 4, top + 12, word, "by-tone end")


def _axis(
    drawing: Drawing, x: Scale, end: float, verdict: Verdict | None, y: float = 172.0
) -> None:
    most = 3 if drawing.narrow else 8
    every = next((s for s in (10, 30, 60, 300, 600, 1800, 3600, 7200, 14_400, 43_200, 86_400,
                              259_200, 864_000) if end / s <= most), 2_592_000)  # fmt: skip
    for k in range(int(end // every) + 1):
        at = x(k * every)
        drawing.line(at, y - 12, at, y - 7, "grid")
        word = format_duration(k * every) if k else "press"
        label_within(drawing, at, y, word, "tick", LEFT - 16, drawing.width)
    if verdict and verdict.short_frames and verdict.ended_s < end * 0.98:
        at = x(verdict.ended_s)
        drawing.line(at, 12, at, y - 14, "miss bad")
        label_within(
            drawing, at, 10, f"✕ {verdict.ended.value}", "by-tone bad", LEFT, drawing.width
        )
