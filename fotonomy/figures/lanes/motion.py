"""Motion: the shutter over the frames, and the subject's smear, step and gap to scale."""

from math import log2

from fotonomy.core.analysis.setup import Analysis
from fotonomy.core.gear.support import SHAKEN_SUPPORTS
from fotonomy.core.motion.cadence import Cadence
from fotonomy.core.notation.spoken import said_speed
from fotonomy.core.notation.writing import (
    format_compact,
    format_duration,
    format_number,
    format_time,
)
from fotonomy.core.traced_numbers import Named
from fotonomy.figures.lanes.flicker import ripple_line
from fotonomy.figures.svg import Drawing, Size, is_narrow, shortened

ZOOMS = (1, 2, 5, 10, 20, 50, 100, 200, 500, 1000)
# On the strip a step is at least this wide, so that its parts can be told apart.
LEAST_STEP_PX = 26.0
MOST_MARKS = 48
# Narrower drawings put one thing a line.
SHAPES = {
    Cadence.STILL: "●", Cadence.COMFORTABLE: "●", Cadence.BORDERLINE: "▲", Cadence.STROBING: "✕",
    Cadence.UNREADABLE: "✕",
}  # fmt: skip
CADENCE_KINDS = {
    Cadence.STILL: "good", Cadence.COMFORTABLE: "good", Cadence.BORDERLINE: "warn",
    Cadence.STROBING: "bad", Cadence.UNREADABLE: "bad",
}  # fmt: skip


def zoom_of(step_percent: float, width: float) -> int:
    """How much of the frame to leave out so that one step can be seen: 1 shows all of it."""
    return next((z for z in ZOOMS if step_percent / 100 * width * z >= LEAST_STEP_PX), ZOOMS[-1])


def _percent(value: float, digits: int | None = None) -> str:
    """A share of the frame width; beyond ten widths in widths."""
    if value >= 1_000_000:
        return "over 10\u202f000 widths"
    if value >= 1000:
        return f"{format_compact(value / 100)} widths"
    return f"{format_number(value, _digits(value) if digits is None else digits)} %"


def _digits(percent: float) -> int:
    """How many decimals of a share are shown."""
    return 2 if percent < 10 else 1 if percent < 100 else 0


def _left_over(step: float, smear: float, gap: float, digits: int) -> float:
    """The gap as it is shown: what the smear as shown leaves of the step as shown."""
    if smear >= step or step >= 1000:
        return gap
    shown = round(step, digits) - round(smear, digits)
    return Named(shown, gap.address) if isinstance(gap, Named) else shown


def _pixels(value: float) -> str:
    return "" if value >= 100_000 else f" ({format_number(value, 0)} px)"


def motion_parts(analysis: Analysis) -> tuple[str, ...]:
    """Smear, step and gap in percent and pixels, one text each, as far as there are any."""
    moved = analysis.motion
    if moved.crossing_s is None:
        return ("nothing moves: no smear, no gap",)
    if moved.step_percent is None or moved.gap_percent is None:
        return (f"smear {_percent(moved.smear_percent)}{_pixels(moved.smear_px)}",)
    # As fine as the largest of the three, so that they add up as they stand there.
    digits = _digits(max(moved.step_percent, moved.smear_percent))
    # A smear that would round to nothing keeps its own figures.
    fine = digits if round(moved.smear_percent, digits) else None
    left = _left_over(moved.step_percent, moved.smear_percent, moved.gap_percent, digits)
    return (
        f"step {_percent(moved.step_percent, digits)}",
        f"smear {_percent(moved.smear_percent, fine)}{_pixels(moved.smear_px)}",
        f"gap {_percent(left, digits)}{_pixels(moved.gap_px or 0.0)}",
    )


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
        return f"● {mains} Hz mains: safe, {left} % ripple left"
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
    if moved.smooth_deg_s is not None and moved.strobing_deg_s is not None:
        words.append(f"comfortable to watch up to {format_number(moved.smooth_deg_s)}°/s, "
                     f"jerky above {format_number(moved.strobing_deg_s)}°/s")  # fmt: skip
    elif moved.comfortable_m_s is not None and not setup.records_stills:
        smooth, rough = moved.comfortable_m_s, moved.borderline_m_s or 0.0
        up_to, above = (said_speed(setup, "subject_speed_m_s", one) for one in (smooth, rough))
        words.append(f"smooth up to {up_to}, jerky above {above}")
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


def motion_figure(analysis: Analysis, size: Size) -> str:
    """Shutter and cadence as SVG; a tile adds the lamps' ripple where there is room."""
    said = f"{motion_words(analysis)}. {crossing_words(analysis)}. {flicker_words(analysis)}"
    if size.tile:
        drawing = Drawing(size.width, size.height, "Motion", said, size.text_px)
        _in_a_tile(drawing, analysis, size)
        return drawing.render()
    narrow, line = is_narrow(size.width), size.line
    foot = 52.0 + 2 * line if narrow else 52.0
    lines = 4 if narrow else 2
    drawing = Drawing(size.width, foot + 38 + lines * line, "Motion", said, size.text_px)
    _shutter(drawing, analysis, 19.0)
    words = open_words(analysis, 4 if narrow else 8)
    drawing.label(0, 23 + line, shortened(words, size.width, "", size.text_px), "caption")
    flicker, kind = flicker_words(analysis), _flicker_kind(analysis)
    if narrow:
        drawing.offer(0, 23 + 2 * line, shortened(flicker, size.width, kind, size.text_px), kind)
    else:
        drawing.offer(size.width, 23 + line, flicker, f"{kind} end")
    _strip(drawing, analysis, foot, 30.0)
    _cadence_words(drawing, analysis, foot + 33 + line)
    return drawing.render()


def _in_a_tile(drawing: Drawing, analysis: Analysis, size: Size) -> None:
    """Frames over smear; in more room what they say, and the ripple of the lamps."""
    height, line = size.height, size.line
    lamps = bool(analysis.setup.lamps) and not analysis.setup.single_frame
    if size.glance:
        _shutter(drawing, analysis, height * 0.4, words=False)
        _strip(drawing, analysis, height * 0.5, height * 0.5)
        return
    bar = 18.0
    _shutter(drawing, analysis, bar)
    y = bar + 4
    roomy = height >= bar + 30 + 2 * line + (line + 26 if lamps else 0)
    if roomy:
        words = shortened(open_words(analysis, 0), drawing.width, "", size.text_px)
        drawing.label(0, y + line - 4, words, "caption")
        y += line + 3
    left = height - y
    ripple = lamps and left >= 56
    strip = min(34.0, left / 2 - 4 if ripple else left - (line if roomy else 0))
    _strip(drawing, analysis, y, strip)
    y += strip + 4
    if roomy and not ripple:
        drawing.offer(0, y + line - 5, shown_words(analysis, drawing.width), "caption")
    if ripple:
        ripple_line(drawing, analysis, y, height - y)


def open_words(analysis: Analysis, count: int) -> str:
    """How long each frame is open, of what; ``count`` frames are drawn, 0 leaves them out."""
    setup = analysis.setup
    if setup.single_frame:
        return f"one frame, open {format_time(setup.time_s)}"
    period, lasts = format_time(1 / setup.frame_rate), format_time(setup.time_s)
    if not count:
        return f"open {lasts} of every {period}"
    return f"{count} frames, {period} apart; open {lasts} of each"


def _shutter(drawing: Drawing, analysis: Analysis, tall: float, words: bool = True) -> None:
    setup = analysis.setup
    base = 2 + tall / 2 + 0.36 * drawing.text_px
    if setup.single_frame:
        drawing.rect(0, 2, drawing.width, tall, "open")
        if words:
            drawing.offer(8, base, open_words(analysis, 0), "in-bar on-gives")
        return
    count = 4 if drawing.narrow else 8
    cell = drawing.width / count
    share = min(1.0, setup.time_s * setup.frame_rate)
    for frame in range(count):
        x = frame * cell
        drawing.rect(x + 0.5, 2.5, cell - 3, tall, "frame-box")
        drawing.rect(x + 0.5, 2.5, max(1.0, (cell - 3) * share), tall, "open")
        if words and (cell - 3) * share > drawing.wide("open", "in-bar") + 10:
            drawing.offer(x + 6, base, "open", "in-bar on-gives")


def shown_words(analysis: Analysis, width: float) -> str:
    """How much of the frame the strip shows, and the step on it."""
    moved = analysis.motion
    if moved.crossing_s is None:
        return "nothing moves"
    zoom = zoom_of(moved.step_percent or moved.smear_percent, width)
    return "the frame's width" if zoom == 1 else f"1/{zoom} of the frame's width"


def _strip(drawing: Drawing, analysis: Analysis, top: float, tall: float) -> None:
    """What moves, frame by frame, across the frame or a part of it."""
    moved = analysis.motion
    drawing.rect(0, top, drawing.width, tall, "field")
    if moved.crossing_s is None:
        drawing.circle(drawing.width / 2, top + tall / 2, min(8.0, tall / 3), "subject")
        return
    step_percent = moved.step_percent if moved.step_percent is not None else 0.0
    zoom = zoom_of(step_percent or moved.smear_percent, drawing.width)
    px = drawing.width * zoom / 100
    smear, step = moved.smear_percent * px, step_percent * px
    count = min(MOST_MARKS, int(drawing.width / step) + 1) if step else 1
    for k in range(count):
        _mark(drawing, k * step, smear, top, tall)


def _cadence_words(drawing: Drawing, analysis: Analysis, y: float) -> None:
    moved, px = analysis.motion, drawing.text_px
    if moved.crossing_s is None:
        drawing.label(0, y, motion_words(analysis), "caption")
        return
    line = round(px * 1.3)
    # The guide judges moving pictures; stills are looked at one by one.
    if not analysis.setup.records_stills:
        verdict = f"{SHAPES[moved.cadence]} {moved.cadence.value}"
        drawing.label(drawing.width, y, verdict, f"verdict end {CADENCE_KINDS[moved.cadence]}")
    parts = motion_parts(analysis)
    if drawing.offer(0, y, ", ".join(parts), "figures"):
        y += line
    else:
        for part in parts:
            if drawing.offer(0, y, part, "figures"):
                y += line
    shown = shown_words(analysis, drawing.width)
    crossing = crossing_words(analysis)
    drawing.first(((0, y, f"{shown} shown; {crossing}", "caption"), (0, y, crossing, "caption")))


def _mark(drawing: Drawing, x: float, smear: float, top: float, tall: float) -> None:
    left, right = max(0.0, x), min(drawing.width, x + max(smear, 1.5))
    if left >= drawing.width:
        return
    middle = top + tall / 2
    drawing.rect(left, middle - tall * 0.27, right - left, tall * 0.54, "smear")
    if x + smear <= drawing.width:
        drawing.line(right, middle - tall * 0.37, right, middle + tall * 0.37, "edge")
