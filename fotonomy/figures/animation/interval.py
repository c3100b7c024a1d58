"""What an interval run looks like at clip speed: dots that hop as the subject will."""

from math import ceil

import numpy as np

from fotonomy.core.analysis.interval import IntervalRun
from fotonomy.core.analysis.setup import Analysis, run_of
from fotonomy.core.motion.shutter import rate_fps
from fotonomy.core.notation.writing import format_duration, format_number
from fotonomy.figures.animation.cadence import Playing
from fotonomy.figures.svg import WIDE, Drawing, shortened

TALL, FOOT = 150.0, 40.0
DOTS, MOST_FRAMES = 14, 250
# A star that takes a year to cross the frame stands.
STANDING_S = 3.2e7


def hop_words(analysis: Analysis) -> str:
    """How fast the subject, or the stars, will look on screen."""
    stars, moved = run_of(analysis, IntervalRun).stars, analysis.motion
    if stars is not None:
        if stars.frame_crossing_s > STANDING_S:
            return "stars turn about the pole, and cross no frame"
        return (
            f"stars cross the frame in {format_duration(stars.frame_crossing_s)}, "
            f"{format_duration(stars.screen_crossing_s)} on screen: "
            f"{format_number(stars.step_percent, 2)} % a frame"
        )
    if moved.crossing_s is None or moved.screen_crossing_s is None:
        return "nothing moves"
    hop = moved.step_percent or 0.0
    return (
        f"{moved.mover} crosses the frame in {format_duration(moved.crossing_s)}, "
        f"{format_duration(moved.screen_crossing_s)} on screen: hops "
        f"{format_number(hop, 2 if hop < 10 else 0)} % a frame"
    )


def step_share(analysis: Analysis) -> float:
    """How far the subject or the stars go from one screen frame to the next, of the width."""
    stars = run_of(analysis, IntervalRun).stars
    if stars is not None:
        return stars.step_percent / 100
    return (analysis.motion.step_percent or 0.0) / 100


def dots_figure(analysis: Analysis, width: float = WIDE) -> Playing:
    """Dots crossing at true clip speed, one position a screen frame; at rest until played."""
    words = hop_words(analysis)
    drawing = Drawing(width, TALL + FOOT, "The run at clip speed", words)
    frame_s = 1 / rate_fps(analysis.setup.project_fps)
    share = step_share(analysis)
    size = analysis.setup.subject_size_m / analysis.motion.field_width_m * width
    radius = min(30.0, max(2.5, size / 2))
    drawing.rect(0, 0, width, TALL, "field")
    frames = MOST_FRAMES if share <= 1 / MOST_FRAMES else max(12, ceil(1 / share))
    random = np.random.default_rng(5)
    for _ in range(DOTS):
        start, y = random.uniform(0, 1), random.uniform(0.1, 0.9) * TALL
        across = (start + share * np.arange(frames)) % 1.0
        drawing.open_group()
        drawing.circle(0, y, radius, "subject")
        drawing.move(";".join(f"{at * width:.1f} 0" for at in across), frames * frame_s)
        drawing.close_group()
    drawing.label(0, TALL + 18, shortened(words, width, "by-bar"), "by-bar")
    whole = f"{format_number(analysis.clip.speed_percent / 100, 0)} times life"
    drawing.label(0, TALL + 35, whole, "caption")
    return Playing(drawing.render(), frames * frame_s, frame_s, 0.0, words)
