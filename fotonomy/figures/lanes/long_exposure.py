"""A long exposure on the frame: the trail of what moves, exposure by exposure, with its holes."""

from fotonomy.core.notation.writing import format_number, format_share, format_time
from fotonomy.core.stills.long_exposure import Trail
from fotonomy.figures.svg import WIDE, Drawing, Scale, label_within

TOP, TALL = 18.0, 34.0


def trail_words(trail: Trail) -> str:
    """A trail in words."""
    shots = "one exposure" if trail.frames == 1 else f"{trail.frames} exposures"
    if trail.whole_percent <= 0:
        return f"{shots} of {format_time(trail.time_s)}; nothing moves"
    holes = "" if trail.hole_px < 1 else f", holes of {format_number(trail.hole_px, 0)} px"
    return (
        f"{shots} of {format_time(trail.time_s)}: a trail of "
        f"{format_number(trail.whole_percent, 0)} % of the frame{holes}"
    )


def passing_words(trail: Trail) -> str:
    """How many pass, and how evenly it fills."""
    if trail.passing is None or trail.empty_chance is None or trail.uneven_share is None:
        return "say how often something passes to see how it fills"
    return (
        f"{format_number(trail.passing, 1)} pass on average, give or take "
        f"{format_share(trail.uneven_share)}; "
        f"{format_share(trail.empty_chance)} of such pictures stay empty"
    )


def trail_figure(trail: Trail, width: float = WIDE) -> str:
    """Trail over the frame's width as SVG; past the frame it is told, not drawn."""
    drawing = Drawing(width, 76, "Trail", f"{trail_words(trail)}; {passing_words(trail)}")
    whole = max(trail.whole_percent, 1e-9)
    frame = Scale(0, 100, 1, width - 1)
    drawing.rect(frame(0), TOP, frame(100) - frame(0), TALL, "field")
    each, hole = trail.each_percent, trail.hole_percent
    at, middle = max(0.0, (100 - whole) / 2), TOP + TALL / 2
    for k in range(trail.frames):
        left = at + k * (each + hole)
        right = min(100.0, left + each)
        if left >= 100 or each <= 0:
            break
        drawing.rect(frame(left), middle - 7, max(1.5, frame(right) - frame(left)), 14, "open")
        if frame(left + each + hole) - frame(left + each) > 0.35 and k < trail.frames - 1:
            drawing.line(frame(right), middle - 12, frame(right), middle + 12, "edge")
    drawing.label(0, 11, "the frame's width", "caption small")
    if whole > 100:
        crossed = f"it crosses the whole frame {format_number(whole / 100, 1)} times"
        label_within(drawing, width / 2, middle + 4, crossed, "in-bar on-gives", 0, width)
    holes = "" if trail.hole_px < 1 else f", holes of {format_number(trail.hole_px, 0)} px"
    short = f"{format_number(trail.whole_percent, 0)} % of the frame{holes}"
    drawing.label(0, TOP + TALL + 18, short, "figures")
    return drawing.render()
