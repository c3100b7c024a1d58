"""The cadence at true speed: the subject crosses the frame in the steps the screen will show.

The drawing is animated by SVG itself, one position a screen frame, and starts at rest; the
page only lets it run, stops it, or sets its time.
"""

from dataclasses import dataclass
from math import ceil

from fotonomy.core.analysis.setup import Analysis
from fotonomy.core.motion.shutter import rate_fps
from fotonomy.core.notation.writing import (
    format_frame_rate,
    format_length,
    format_number,
    format_shutter,
)
from fotonomy.figures.lanes.motion import CADENCE_KINDS, SHAPES, motion_words
from fotonomy.figures.svg import WIDE, Drawing, shortened

TALL, GAP = 62.0, 46.0
MOST_FRAMES = 900


@dataclass(frozen=True, slots=True)
class Playing:
    """A drawing to play: its markup, how long one crossing lasts, and one screen frame, in s.

    ``start_s`` is where to stand before anything moves: well inside the frame.
    """

    markup: str
    seconds: float
    frame_s: float
    start_s: float
    words: str


@dataclass(frozen=True, slots=True)
class _Run:
    """Positions of one setting: left edges in px, a screen frame each."""

    positions: tuple[float, ...]
    body_px: float
    smear_px: float


def _run(analysis: Analysis, width: float) -> _Run:
    moved, setup = analysis.motion, analysis.setup
    body = width * setup.subject_size_m / analysis.focus.field_width_m
    body = max(3.0, min(body, 4 * width))
    smear = width * moved.smear_percent / 100
    step = width * (moved.step_percent or 0.0) / 100
    if step <= 0:
        return _Run((width / 2 - body / 2,), body, 0.0)
    # From just outside on the left to just outside on the right.
    start = -(body + smear)
    frames = min(MOST_FRAMES, max(2, ceil((width - start) / step) + 1))
    return _Run(tuple(start + k * step for k in range(frames)), body, smear)


def playing_figure(settings: list[tuple[str, Analysis]], width: float = WIDE) -> Playing:
    """One row a setting, all on one clock; each row repeats when its crossing is over."""
    said = "; ".join(f"{name}: {motion_words(analysis)}" for name, analysis in settings)
    drawing = Drawing(width, (TALL + GAP) * len(settings), "Cadence at true speed", said)
    longest, start = 0.0, 0.0
    frame_s = 1 / rate_fps(settings[0][1].setup.project_fps)
    for row, (name, analysis) in enumerate(settings):
        run = _run(analysis, width)
        longest = max(longest, len(run.positions) * frame_s)
        start = start or frame_s * round(0.3 * len(run.positions))
        _row(drawing, analysis, run, name, row * (TALL + GAP), frame_s)
    return Playing(drawing.render(), longest, frame_s, start, said)


def _row(
    drawing: Drawing, analysis: Analysis, run: _Run, name: str, top: float, frame_s: float
) -> None:  # fmt: skip
    setup, moved = analysis.setup, analysis.motion
    drawing.rect(0, top, drawing.width, TALL, "field")
    tall = min(TALL - 12, max(4.0, run.body_px))
    y = top + (TALL - tall) / 2
    values = ";".join(f"{x:.1f} 0" for x in run.positions)
    drawing.open_group()
    # Open from the left edge to the right one: solid where the subject stayed throughout.
    drawing.rect(0, y, run.body_px + run.smear_px, tall, "smear")
    core = run.body_px - run.smear_px
    if core > 0:
        drawing.rect(run.smear_px, y, core, tall, "subject")
    if len(run.positions) > 1:
        drawing.move(values, len(run.positions) * frame_s)
    drawing.close_group()
    rate = format_frame_rate(setup.frame_rate)
    set_to = f"{name}: {rate} fps, {format_shutter(setup.shutter)}"
    drawing.label(0, top + TALL + 16, shortened(set_to, drawing.width - 120, "by-bar"), "by-bar")
    verdict = f"{SHAPES[moved.cadence]} {moved.cadence.value}"
    drawing.label(
        drawing.width, top + TALL + 16, verdict, f"verdict end {CADENCE_KINDS[moved.cadence]}"
    )
    size = f"{setup.subject} {format_length(setup.subject_size_m)} wide"
    crossing = moved.screen_crossing_s
    lasts = "" if crossing is None else f", {format_number(crossing)} s across on screen"
    words = f"{size}{lasts}; {motion_words(analysis)}"
    drawing.label(0, top + TALL + 32, shortened(words, drawing.width), "caption")
