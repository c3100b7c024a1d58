"""Motion: the shutter over the frames, and the subject's smear, step and gap to scale."""

from fotonomy.core.facts import Facts
from fotonomy.core.motion import Cadence
from fotonomy.core.notation import format_duration, format_number, format_time
from fotonomy.figures.svg import WIDE, Drawing

ZOOMS = (1, 2, 5, 10, 20, 50, 100, 200, 500, 1000)
# On the strip a step is at least this wide, so that its parts can be told apart.
LEAST_STEP_PX = 26.0
MOST_MARKS = 48
SHAPES = {
    Cadence.STILL: "■", Cadence.COMFORTABLE: "▲", Cadence.BORDERLINE: "◆", Cadence.STROBING: "✕",
}  # fmt: skip
KINDS = {
    Cadence.STILL: "good", Cadence.COMFORTABLE: "good", Cadence.BORDERLINE: "warn",
    Cadence.STROBING: "bad",
}  # fmt: skip


def zoom_of(step_percent: float, width: float) -> int:
    """How much of the frame to leave out so that one step can be seen: 1 shows all of it."""
    return next((z for z in ZOOMS if step_percent / 100 * width * z >= LEAST_STEP_PX), ZOOMS[-1])


def motion_words(facts: Facts) -> str:
    """Step, smear and gap in percent and pixels, in words."""
    moved = facts.motion
    if facts.motion.crossing_s is None:
        return "nothing moves"
    smear = (
        f"smear {format_number(moved.smear_percent, 2)} % ({format_number(moved.smear_px, 0)} px)"
    )
    if moved.step_percent is None or moved.gap_percent is None:
        return f"{smear} of the frame width"
    step = f"step {format_number(moved.step_percent, 2)} %"
    gap = f"gap {format_number(moved.gap_percent, 2)} % ({format_number(moved.gap_px or 0, 0)} px)"
    return f"{step}, {smear}, {gap}"


def crossing_words(facts: Facts) -> str:
    """How long the subject takes to cross the frame, in life and on screen."""
    moved = facts.motion
    if moved.crossing_s is None:
        return ""
    crossing = f"crosses the frame in {format_duration(moved.crossing_s)}"
    if moved.screen_crossing_s is None:
        return crossing
    if abs(moved.screen_crossing_s / moved.crossing_s - 1) < 0.01:
        return crossing
    return f"{crossing}, {format_duration(moved.screen_crossing_s)} on screen"


def motion_figure(facts: Facts, width: float = WIDE) -> str:
    """Shutter and cadence as SVG, ``width`` px wide."""
    drawing = Drawing(width, 128, "Motion", f"{motion_words(facts)}. {crossing_words(facts)}")
    _shutter(drawing, facts)
    _cadence(drawing, facts)
    return drawing.render()


def _shutter(drawing: Drawing, facts: Facts) -> None:
    setup = facts.setup
    if setup.single_frame:
        drawing.rect(0, 2, drawing.width, 20, "open")
        drawing.label(8, 16, f"one frame, open {format_time(setup.time_s)}", "in-bar on-gives")
        return
    count = 8 if drawing.width > 500 else 4
    cell = drawing.width / count
    share = min(1.0, setup.time_s * setup.frame_rate)
    for frame in range(count):
        x = frame * cell
        drawing.rect(x + 0.5, 2.5, cell - 3, 19, "frame-box")
        drawing.rect(x + 0.5, 2.5, max(1.0, (cell - 3) * share), 19, "open")
        if (cell - 3) * share > 44:
            drawing.label(x + 7, 16, "open", "in-bar on-gives")
    period = format_time(1 / setup.frame_rate)
    words = f"{count} frames, {period} apart; open {format_time(setup.time_s)} of each"
    drawing.label(0, 39, words, "caption")


def _cadence(drawing: Drawing, facts: Facts) -> None:
    moved, top, tall = facts.motion, 52.0, 30.0
    drawing.rect(0, top, drawing.width, tall, "field")
    verdict = f"{SHAPES[moved.cadence]} {moved.cadence.value}"
    if facts.motion.crossing_s is None:
        drawing.circle(drawing.width / 2, top + tall / 2, 8, "subject")
        drawing.label(0, top + tall + 17, "nothing moves: no smear, no gap", "caption")
        return
    step_percent = moved.step_percent if moved.step_percent is not None else 0.0
    zoom = zoom_of(step_percent or moved.smear_percent, drawing.width)
    px = drawing.width * zoom / 100
    smear, step = moved.smear_percent * px, step_percent * px
    count = min(MOST_MARKS, int(drawing.width / step) + 1) if step else 1
    for k in range(count):
        _mark(drawing, k * step, smear, top, tall)
    y = top + tall + 17
    shown = "" if zoom == 1 else f"1/{zoom} of the frame width shown; "
    words = motion_words(facts)
    if drawing.width < 500:
        drawing.label(0, y, words, "figures")
        drawing.label(0, y + 17, shown + crossing_words(facts), "caption")
        if moved.step_percent is not None:
            drawing.label(drawing.width, 39, verdict, f"verdict end {KINDS[moved.cadence]}")
        return
    drawing.label(0, y, words, "figures")
    drawing.label(0, y + 18, shown + crossing_words(facts), "caption")
    if moved.step_percent is not None:
        drawing.label(drawing.width, y, verdict, f"verdict end {KINDS[moved.cadence]}")


def _mark(drawing: Drawing, x: float, smear: float, top: float, tall: float) -> None:
    left, right = max(0.0, x), min(drawing.width, x + max(smear, 1.5))
    if left >= drawing.width:
        return
    middle = top + tall / 2
    drawing.rect(left, middle - 8, right - left, 16, "smear")
    if x + smear <= drawing.width:
        drawing.line(right, middle - 11, right, middle + 11, "edge")
