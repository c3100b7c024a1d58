"""A long exposure on the frame: the trail of what moves, exposure by exposure, with its holes."""

from fotonomy.core.notation.writing import format_number, format_share, format_time
from fotonomy.core.stills.long_exposure import LongExposure
from fotonomy.figures.svg import WIDE, Drawing, Scale, label_within

TOP, TALL = 18.0, 34.0


def long_exposure_words(long_exposure: LongExposure) -> str:
    """A trail in words."""
    shots = "one exposure" if long_exposure.frames == 1 else f"{long_exposure.frames} exposures"
    if long_exposure.whole_percent <= 0:
        return f"{shots} of {format_time(long_exposure.time_s)}; nothing moves"
    holes = (
        ""
        if long_exposure.hole_px < 1
        else f", holes of {format_number(long_exposure.hole_px, 0)} px"
    )
    return (
        f"{shots} of {format_time(long_exposure.time_s)}: a trail of "
        f"{format_number(long_exposure.whole_percent, 0)} % of the frame{holes}"
    )


def passing_words(long_exposure: LongExposure) -> str:
    """How many pass, and how evenly it fills."""
    if (
        long_exposure.passing is None
        or long_exposure.empty_chance is None
        or long_exposure.uneven_share is None
    ):
        return "say how often something passes to see how it fills"
    return (
        f"{format_number(long_exposure.passing, 1)} pass on average, give or take "
        f"{format_share(long_exposure.uneven_share)}; "
        f"{format_share(long_exposure.empty_chance)} of such pictures stay empty"
    )


def long_exposure_figure(long_exposure: LongExposure, width: float = WIDE) -> str:
    """Trail over the frame's width as SVG; past the frame it is told, not drawn."""
    drawing = Drawing(
        width, 76, "Trail", f"{long_exposure_words(long_exposure)}; {passing_words(long_exposure)}"
    )
    whole = max(long_exposure.whole_percent, 1e-9)
    frame = Scale(0, 100, 1, width - 1)
    drawing.rect(frame(0), TOP, frame(100) - frame(0), TALL, "field")
    each, hole = long_exposure.each_percent, long_exposure.hole_percent
    at, middle = max(0.0, (100 - whole) / 2), TOP + TALL / 2
    for k in range(long_exposure.frames):
        left = at + k * (each + hole)
        right = min(100.0, left + each)
        if left >= 100 or each <= 0:
            break
        drawing.rect(frame(left), middle - 7, max(1.5, frame(right) - frame(left)), 14, "open")
        if frame(left + each + hole) - frame(left + each) > 0.35 and k < long_exposure.frames - 1:
            drawing.line(frame(right), middle - 12, frame(right), middle + 12, "edge")
    drawing.label(0, 11, "the frame's width", "caption small")
    if whole > 100:
        crossed = f"it crosses the whole frame {format_number(whole / 100, 1)} times"
        label_within(drawing, width / 2, middle + 4, crossed, "in-bar on-gives", 0, width)
    holes = (
        ""
        if long_exposure.hole_px < 1
        else f", holes of {format_number(long_exposure.hole_px, 0)} px"
    )
    short = f"{format_number(long_exposure.whole_percent, 0)} % of the frame{holes}"
    drawing.label(0, TOP + TALL + 18, short, "figures")
    return drawing.render()
