"""Motion: the shutter over the frames, and the subject's smear, step and gap to scale."""

from math import log2

from fotonomy.core.analysis.setup import Analysis
from fotonomy.core.gear.support import SHAKEN_SUPPORTS
from fotonomy.core.motion.cadence import Cadence
from fotonomy.core.notation.writing import (
    format_compact,
    format_duration,
    format_number,
    format_time,
)
from fotonomy.figures.svg import WIDE, Drawing, is_narrow, shortened

ZOOMS = (1, 2, 5, 10, 20, 50, 100, 200, 500, 1000)
# On the strip a step is at least this wide, so that its parts can be told apart.
LEAST_STEP_PX = 26.0
MOST_MARKS = 48
# Narrower drawings put one thing a line.
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


def _percent(value: float) -> str:
    """A share of the frame width; beyond ten widths in widths."""
    if value >= 1_000_000:
        return "over 10\u202f000 widths"
    if value >= 1000:
        return f"{format_compact(value / 100)} widths"
    return f"{format_number(value, 2 if value < 10 else 1 if value < 100 else 0)} %"


def _pixels(value: float) -> str:
    return "" if value >= 100_000 else f" ({format_number(value, 0)} px)"


def motion_parts(analysis: Analysis) -> tuple[str, ...]:
    """Smear, step and gap in percent and pixels, one text each, as far as there are any."""
    moved = analysis.motion
    if moved.crossing_s is None:
        return ("nothing moves: no smear, no gap",)
    smear = f"smear {_percent(moved.smear_percent)}{_pixels(moved.smear_px)}"
    if moved.step_percent is None or moved.gap_percent is None:
        return (smear,)
    step = f"step {_percent(moved.step_percent)}"
    gap = f"gap {_percent(moved.gap_percent)}{_pixels(moved.gap_px or 0.0)}"
    return (step, smear, gap)


def motion_words(analysis: Analysis) -> str:
    """Step, smear and gap of the frame width, in words."""
    return ", ".join(motion_parts(analysis))


def crossing_words(analysis: Analysis) -> str:
    """How long the subject takes to cross the frame, in life and on screen."""
    moved = analysis.motion
    if moved.crossing_s is None:
        return ""
    crossing = f"crosses the frame in {format_duration(moved.crossing_s)}"
    if moved.screen_crossing_s is None:
        return crossing
    if abs(moved.screen_crossing_s / moved.crossing_s - 1) < 0.01:
        return crossing
    return f"{crossing}, {format_duration(moved.screen_crossing_s)} on screen"


def flicker_words(analysis: Analysis) -> str:
    """What lamps on the place's mains do to this shutter, and the nearest safe times."""
    state, mains = analysis.flicker, analysis.setup.mains_hz
    left = format_number(100 * state.ripple, 1 if state.ripple < 0.1 else 0)
    if analysis.setup.single_frame:
        return f"{mains} Hz mains: one frame shows no flicker"
    if state.safe:
        return f"■ {mains} Hz mains: safe, {left} % ripple left"
    near = sorted(state.safe_times_s, key=lambda t: abs(log2(t / analysis.setup.time_s)))[:3]
    safe = " ".join(format_time(t) for t in sorted(near))
    ways = f"safe: {safe}" if safe else "none safe at this rate"
    return f"▲ {mains} Hz mains: {left} % ripple; {ways}"


def shake_words(analysis: Analysis) -> tuple[str, ...]:
    """What camera, shutter and hand add: freeze, lean, speed that stays smooth, handheld."""
    shake, setup, moved = analysis.shake, analysis.setup, analysis.motion
    words = []
    if shake.freeze_s is not None and setup.intent.freeze_px is not None:
        px = format_number(setup.intent.freeze_px)
        words.append(f"frozen to {px} px at {format_time(shake.freeze_s)}")
    if shake.lean_deg is not None and shake.lean_deg >= 0.05:
        words.append(f"uprights lean {format_number(shake.lean_deg)}°")
    if moved.comfortable_m_s is not None and not setup.records_stills:
        smooth, rough = moved.comfortable_m_s, moved.borderline_m_s or 0.0
        words.append(f"smooth to {format_number(smooth, 2)} m/s, strobes over "
                     f"{format_number(rough, 2)} m/s")  # fmt: skip
    if setup.support in SHAKEN_SUPPORTS:
        words.append(f"by hand {format_time(shake.handheld_s)} or faster for a sharp still")
    if setup.frame_rate > setup.project_fps * 1.01 and not setup.records_stills:
        calm = format_number(setup.frame_rate / setup.project_fps, 1)
        words.append(f"slowed {calm} times, a shake looks as much calmer")
    return tuple(words)


def _flicker_kind(analysis: Analysis) -> str:
    if analysis.flicker.safe or analysis.setup.single_frame:
        return "caption"
    return "verdict warn" if analysis.setup.mains_lamps else "caption"


def motion_figure(analysis: Analysis, width: float = WIDE) -> str:
    """Shutter and cadence as SVG, ``width`` px wide."""
    said = f"{motion_words(analysis)}. {crossing_words(analysis)}. {flicker_words(analysis)}"
    narrow = is_narrow(width)
    drawing = Drawing(width, 182 if narrow else 128, "Motion", said)
    _shutter(drawing, analysis)
    if narrow:
        drawing.label(0, 57, flicker_words(analysis), _flicker_kind(analysis))
    else:
        drawing.label(width, 39, flicker_words(analysis), f"{_flicker_kind(analysis)} end")
    _cadence(drawing, analysis, 70.0 if narrow else 52.0)
    return drawing.render()


def _shutter(drawing: Drawing, analysis: Analysis) -> None:
    setup = analysis.setup
    if setup.single_frame:
        drawing.rect(0, 2, drawing.width, 20, "open")
        drawing.label(8, 16, f"one frame, open {format_time(setup.time_s)}", "in-bar on-gives")
        return
    count = 4 if drawing.narrow else 8
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


def _cadence(drawing: Drawing, analysis: Analysis, top: float) -> None:
    moved, tall = analysis.motion, 30.0
    drawing.rect(0, top, drawing.width, tall, "field")
    verdict = f"{SHAPES[moved.cadence]} {moved.cadence.value}"
    if analysis.motion.crossing_s is None:
        drawing.circle(drawing.width / 2, top + tall / 2, 8, "subject")
        drawing.label(0, top + tall + 17, motion_words(analysis), "caption")
        return
    step_percent = moved.step_percent if moved.step_percent is not None else 0.0
    zoom = zoom_of(step_percent or moved.smear_percent, drawing.width)
    px = drawing.width * zoom / 100
    smear, step = moved.smear_percent * px, step_percent * px
    count = min(MOST_MARKS, int(drawing.width / step) + 1) if step else 1
    for k in range(count):
        _mark(drawing, k * step, smear, top, tall)
    y, parts = top + tall + 17, motion_parts(analysis)
    shown = "" if zoom == 1 else f"1/{zoom} of the frame width shown; "
    first = ", ".join(parts[: 2 if drawing.narrow else 3])
    drawing.label(0, y, shortened(first, drawing.width, mono=True), "figures")
    if drawing.narrow:
        y += 17
        drawing.label(0, y, ", ".join(parts[2:]), "figures")
    # The guide judges moving pictures; stills are looked at one by one.
    if not analysis.setup.records_stills:
        drawing.label(drawing.width, y, verdict, f"verdict end {KINDS[moved.cadence]}")
    if drawing.narrow and zoom > 1:
        drawing.label(0, y + 17, shown.rstrip("; "), "caption")
        y, shown = y + 17, ""
    crossing = shortened(shown + crossing_words(analysis), drawing.width)
    drawing.label(0, y + 17, crossing, "caption")


def _mark(drawing: Drawing, x: float, smear: float, top: float, tall: float) -> None:
    left, right = max(0.0, x), min(drawing.width, x + max(smear, 1.5))
    if left >= drawing.width:
        return
    middle = top + tall / 2
    drawing.rect(left, middle - 8, right - left, 16, "smear")
    if x + smear <= drawing.width:
        drawing.line(right, middle - 11, right, middle + 11, "edge")
