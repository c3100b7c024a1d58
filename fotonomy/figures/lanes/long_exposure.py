"""A long exposure on the frame: the trail of what moves, exposure by exposure, with its holes."""

from fotonomy.core.notation.writing import format_number, format_share, format_time
from fotonomy.core.stills.long_exposure import LongExposure
from fotonomy.figures.svg import Drawing, Scale, Size

# Fewer than this on average: most pictures have none.
USUALLY_NONE = 0.7


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
    empty = f"{format_share(long_exposure.empty_chance)} of such pictures catch nothing"
    if long_exposure.passing < USUALLY_NONE:
        return f"usually nothing passes; {empty}"
    spread = long_exposure.passing * long_exposure.uneven_share
    about = format_number(long_exposure.passing, 0 if long_exposure.passing >= 10 else 1)
    give = format_number(spread, 0 if long_exposure.passing >= 10 else 1)
    return f"about {about} pass, give or take {give}; {empty}"


def long_exposure_figure(long_exposure: LongExposure, size: Size) -> str:
    """Trail over the frame's width as SVG; past the frame it is told, not drawn."""
    px, line = size.text_px, size.line
    height = size.height or 44.0 + 2 * line
    said = f"{long_exposure_words(long_exposure)}; {passing_words(long_exposure)}"
    drawing = Drawing(size.width, height, "Trail", said, px)
    whole = max(long_exposure.whole_percent, 1e-9)
    frame = Scale(0, 100, 1, size.width - 1)
    top = 2.0 if size.glance else line + 2.0
    tall = height - 2 * top
    drawing.rect(frame(0), top, frame(100) - frame(0), tall, "field")
    each, hole = long_exposure.each_percent, long_exposure.hole_percent
    at, middle, bar = max(0.0, (100 - whole) / 2), top + tall / 2, max(8.0, min(22.0, tall * 0.5))
    for k in range(long_exposure.frames):
        left = at + k * (each + hole)
        right = min(100.0, left + each)
        if left >= 100 or each <= 0:
            break
        drawing.rect(frame(left), middle - bar / 2, max(1.5, frame(right) - frame(left)), bar,
                     "open")  # fmt: skip
        if frame(left + each + hole) - frame(left + each) > 0.35 and k < long_exposure.frames - 1:
            drawing.line(frame(right), middle - bar * 0.8, frame(right), middle + bar * 0.8, "edge")
    if size.glance:
        return drawing.render()
    drawing.offer(0, px - 1, "the frame's width", "caption")
    if whole > 100:
        crossed = f"it crosses the whole frame {format_number(whole / 100, 1)} times"
        drawing.offer_within(size.width / 2, middle + 0.36 * px, crossed, "in-bar on-gives", 0,
                             size.width)  # fmt: skip
    drawing.offer(0, height - 5, trail_words(long_exposure), "figures")
    return drawing.render()


def trail_words(long_exposure: LongExposure) -> str:
    """How long the trail is, and the holes in it."""
    if long_exposure.whole_percent <= 0:
        return "nothing moves"
    holes = (
        ""
        if long_exposure.hole_px < 1
        else f", holes of {format_number(long_exposure.hole_px, 0)} px"
    )
    return f"{format_number(long_exposure.whole_percent, 0)} % of the frame{holes}"
