"""Focus: a side view of what is sharp, with the subject's own depth on it, and the frame."""

from dataclasses import dataclass
from math import ceil, floor, inf, log10

from fotonomy.core.analysis.setup import Analysis, view_across_deg, view_up_deg
from fotonomy.core.findings.focus import depth_offer
from fotonomy.core.notation.spoken import iris_text
from fotonomy.core.notation.writing import (
    format_area,
    format_iris,
    format_length,
    format_number,
    format_stops,
    to_a_fiftieth,
)
from fotonomy.core.optics.depth_of_field import effective_f_number
from fotonomy.core.traced_numbers import same_working
from fotonomy.figures.svg import (
    Drawing,
    Scale,
    Size,
    is_narrow,
    label_within,
    shortened,
    text_width,
)

# The side view in px: where the ground lies, and the subject above it.
GROUND, TALL, CAMERA_PX = 94.0, 54.0, 34.0
LEAST_SHARP_PX = 60.0
FRAME_PX = 170.0


@dataclass(frozen=True, slots=True)
class View:
    """Where the side view lies, in px: its ground, how tall it is, where it begins and ends."""

    ground: float
    tall: float
    start: float
    end: float

    @property
    def top(self) -> float:
        """The top of what stands on the ground."""
        return self.ground - self.tall


class Distances:
    """Distances on a logarithmic axis, so that a hand and a hill fit on one line."""

    def __init__(self, low_m: float, high_m: float, start: float, end: float) -> None:
        self.low_m, self.high_m = low_m, high_m
        self._scale = Scale(log10(low_m), log10(high_m), start, end)
        self.start, self.end = start, end

    def __call__(self, metres: float) -> float:
        """Px of a distance; beyond the ends the ends themselves."""
        return self._scale(log10(min(self.high_m, max(self.low_m, metres))))

    @property
    def decade_px(self) -> float:
        """Px from a distance to ten times it."""
        return (self.end - self.start) / log10(self.high_m / self.low_m)

    def ticks(self) -> list[float]:
        """Ones, twos and fives that lie inside."""
        decades = range(floor(log10(self.low_m)), floor(log10(self.high_m)) + 1)
        found = [k * 10.0**decade for decade in decades for k in (1, 2, 5)]
        inside = [metres for metres in found if self.low_m * 1.02 < metres < self.high_m * 0.98]
        return inside if len(inside) > 2 else self._even_ticks()

    def _even_ticks(self) -> list[float]:
        """On a short stretch: even steps of one, two or five, about five of them."""
        span = self.high_m - self.low_m
        decade = 10.0 ** floor(log10(span / 5))
        step = next(k * decade for k in (1, 2, 5, 10) if k * decade >= span / 6)
        first = ceil(self.low_m * 1.0001 / step)
        return [k * step for k in range(first, floor(self.high_m / step) + 1)]


def focus_words(analysis: Analysis) -> str:
    """What is sharp, in words."""
    focus, at = analysis.focus, analysis.setup.subject_distance_m
    if focus.depth_m < 0.05 * at:
        return f"sharp for {format_length(focus.depth_m)} about {format_length(at)}"
    near = to_a_fiftieth(focus.near_m)
    if focus.far_m == inf:
        return f"sharp from {format_length(near)} without end"
    # What is said adds up as it is said.
    far = to_a_fiftieth(focus.far_m)
    depth = format_length(same_working(far - near, focus.depth_m))
    return f"sharp from {format_length(near)} to {format_length(far)}, {depth} in all"


def focus_notes(analysis: Analysis) -> tuple[str, ...]:
    """The other numbers of the lane, a sentence each, most telling first."""
    focus = analysis.focus
    notes = []
    if focus.wanted_depth_m is not None and focus.needed_iris is not None:
        wish = format_length(focus.wanted_depth_m)
        if focus.needed_iris > analysis.setup.lens.smallest_f * 1.001:
            notes.append(f"{wish} cannot be sharp at this distance")
        else:
            takes = format_iris(round(focus.needed_iris, 1))
            notes.append(f"{wish} sharp takes {takes}{_allowed(analysis)}")
    if focus.magnification >= 0.1:
        notes.append(
            f"{format_number(focus.magnification, 2)} of life size, close focus costs "
            f"{format_stops(focus.bellows_stops)}"
        )
    if focus.magnification >= EFFECTIVE_FROM:
        effective = effective_f_number(analysis.setup.iris, focus.magnification)
        notes.append(f"{iris_text(analysis.setup)} works as f/{format_number(effective)}")
    airy, pixels = format_number(focus.airy_um), format_number(focus.two_pixels_um)
    past = format_number(focus.diffraction_stops)
    end = "unseen" if past == "0" else f"{past} stops past two pixels"
    notes.append(f"diffraction {airy} µm of {pixels} µm, {end}")
    notes.append(f"hyperfocal {format_length(focus.hyperfocal_m)}, {view_words(analysis)}")
    return tuple(notes)


def _allowed(analysis: Analysis) -> str:
    """Whether the light allows the iris that holds the wanted depth."""
    offer = depth_offer(analysis)
    if offer is None:
        return ", more than this lens has: that depth cannot be sharp at this distance"
    if not offer.allowed:
        return f": the light is {format_stops(offer.left_stops)} short of it"
    return f": the light allows it{' with ' + offer.balanced_by if offer.balanced_by else ''}"


# From this magnification on the f-number that light and diffraction go by is worth a word.
EFFECTIVE_FROM = 0.1


def view_words(analysis: Analysis) -> str:
    """The angle of view across and down, at this focus."""
    setup = analysis.setup
    digits = 0 if setup.image_mm < 100 else 1
    across, down = (
        analysis.named(f"derived.{name}", format_number(view(setup), digits))
        for name, view in (("view_across_deg", view_across_deg), ("view_up_deg", view_up_deg))
    )
    return f"sees {across}° × {down}°"


def blur_words(analysis: Analysis) -> str:
    """How soft the background is."""
    percent = format_number(analysis.focus.background_blur_percent, 1)
    at = format_length(analysis.focus.background_m)
    return f"background at {at}: blur {percent} % of the width"


def focus_figure(analysis: Analysis, size: Size) -> str:
    """Side view and, where there is room, the frame as SVG; the plane can be dragged."""
    said = ". ".join((focus_words(analysis), blur_words(analysis), *focus_notes(analysis)))
    width = size.width
    if size.tile:
        drawing = Drawing(width, size.height, "Focus", said, size.text_px)
        low = 2.0 if size.glance else size.line + 3.0
        over = 2.0 if size.glance else size.line + 2.0
        ground = size.height - low
        begin = 18.0 if size.glance else CAMERA_PX
        _side(drawing, analysis, View(ground, ground - over - 6, begin, width - 1), size)
        return drawing.render()
    narrow, line = is_narrow(width), size.line
    end = width if narrow else width - FRAME_PX - 30
    notes = _lines(focus_notes(analysis), end, 4 if narrow else 3, size.text_px)
    foot = GROUND + 2 * line + line * len(notes)
    frame_top = foot + 8 if narrow else 2.0
    height = max(foot, frame_top + 100 + 2 * line + 8)
    drawing = Drawing(width, height, "Focus", said, size.text_px)
    _side(drawing, analysis, View(GROUND, TALL, CAMERA_PX, end - 4), size)
    for row, text in enumerate(notes):
        drawing.label(0, GROUND + line * (2 + row) + 2, text, "caption")
    _frame(drawing, analysis, 0 if narrow else width - FRAME_PX, frame_top)
    return drawing.render()


def _axis(analysis: Analysis, view: View) -> Distances:
    focus, setup = analysis.focus, analysis.setup
    at, back = setup.subject_distance_m, focus.background_m
    far = min(focus.far_m, 30 * at)
    low = min(focus.near_m, at - min(setup.subject_depth_m / 2, at * 0.9)) * 0.85
    high = max(far, back, at + setup.subject_depth_m) * 1.25
    whole = Distances(max(low, 0.005), max(high, at * 1.5), view.start, view.end)
    front = min(focus.near_m, at - min(setup.subject_depth_m / 2, at * 0.9))
    behind = max(far, at + setup.subject_depth_m / 2)
    if whole(behind) - whole(front) > min(LEAST_SHARP_PX, (view.end - view.start) / 6):
        return whole
    # Millimetres of depth: a stretch about them; the background then stands at its end.
    share = (behind / front) ** 1.2
    return Distances(front / share, behind * share, view.start, view.end)


def _side(drawing: Drawing, analysis: Analysis, view: View, size: Size) -> None:
    focus, setup = analysis.focus, analysis.setup
    x, ground, top = _axis(analysis, view), view.ground, view.top
    at, half = setup.subject_distance_m, setup.subject_depth_m / 2
    near, far = x(focus.near_m), x(focus.far_m)
    drawing.rect(near, top - 6, max(1.5, far - near), view.tall + 6, "sharp")
    _camera(drawing, view, 0.7 if size.glance else 1.0)
    middle = ground - view.tall / 2
    drawing.line(view.start - 8, middle, x(at), middle, "sight")
    drawing.line(0, ground, view.end + 1, ground, "ground")
    left, right = x(at - min(half, at * 0.9)), x(at + half)
    drawing.rect(left, top + 4, max(3.0, right - left), view.tall - 4, "subject soft")
    inside = max(left, near), min(max(right, left + 3), max(far, near + 1.5))
    if inside[1] > inside[0]:
        drawing.rect(inside[0], top + 4, inside[1] - inside[0], view.tall - 4, "subject")
    drawing.line(x(at), top - 2, x(at), ground, "plane")
    back = x(focus.background_m)
    drawing.line(back, top + 6, back, ground, "background")
    if focus.wanted_depth_m is not None:
        _wanted(drawing, analysis, x, view)
    if size.glance:
        return
    _grip(drawing, x, view, at)
    if focus.wanted_depth_m is not None:
        _wanted_grip(drawing, x, view, at, focus.wanted_depth_m)
    _ticks(drawing, x, view)
    words = shortened(focus_words(analysis), view.end, "by-bar", drawing.text_px)
    label_within(drawing, (near + far) / 2, top - 8, words, "by-bar", 0, view.end)
    beyond = f" at {format_length(focus.background_m)}" if focus.background_m > x.high_m else ""
    drawing.offer_within(
        back, top + drawing.text_px, f"background{beyond}", "caption", max(far, right) + 4,
        view.end - 4 if back > view.end - 6 else view.end,
    )  # fmt: skip


def _grip(drawing: Drawing, x: Distances, view: View, at_m: float) -> None:
    """A hold on the plane: a logarithmic axis, so px are a factor on the distance."""
    left = min(max(x(at_m) - 12, view.start), view.end - 24)
    more = f' data-distance="{at_m:.4f}" data-decade="{x.decade_px:.2f}"'
    drawing.rect(left, view.top + 3, 24, view.tall - 3, "reading-hold", more)


def _lines(notes: tuple[str, ...], room: float, most: int, px: int) -> tuple[str, ...]:
    """As many of the notes as fit on so many lines, in their order."""
    lines = [""]
    for note in notes:
        longer = f"{lines[-1]}; {note}" if lines[-1] else note
        if text_width(longer, "", px) < room:
            lines[-1] = longer
        elif len(lines) < most and text_width(note, "", px) < room:
            lines.append(note)
    return tuple(line for line in lines if line)


def _camera(drawing: Drawing, view: View, scale: float) -> None:
    middle = view.ground - view.tall / 2
    wide, tall = 14 * scale, 18 * scale
    drawing.rect(1, middle - tall / 2, wide, tall, "camera")
    nose, out = 1 + wide, 1 + wide + 8 * scale
    drawing.area([(nose, middle - 4 * scale), (out, middle - 8 * scale),
                  (out, middle + 8 * scale), (nose, middle + 4 * scale)], "camera")  # fmt: skip
    drawing.line(1 + wide / 2, middle + tall / 2, 1 + wide / 2, view.ground, "ground")


def _ticks(drawing: Drawing, x: Distances, view: View) -> None:
    for metres in x.ticks():
        here = x(metres)
        drawing.line(here, view.ground, here, view.ground + 4, "ground")
        drawing.offer(here, view.ground + 4 + drawing.text_px, format_length(metres), "tick middle")


def _wanted(drawing: Drawing, analysis: Analysis, x: Distances, view: View) -> None:
    """The depth asked for, about the subject, as a bar of its own."""
    wanted, at = analysis.focus.wanted_depth_m or 0.0, analysis.setup.subject_distance_m
    left, right = x(at - min(wanted / 2, at * 0.9)), x(at + wanted / 2)
    drawing.rect(left, view.top - 6, max(2.0, right - left), 5, "wanted")


def _wanted_grip(drawing: Drawing, x: Distances, view: View, at: float, wanted: float) -> None:
    """A hold on the far end of the depth wanted: two finger widths about it."""
    more = f' data-wanted="{wanted:.4f}" data-distance="{at:.4f}" data-decade="{x.decade_px:.2f}"'
    start = max(view.start, min(x(at + wanted / 2), view.end) - 14)
    top = max(0.0, view.top - 12)
    drawing.rect(start, top, min(28.0, view.end + 1 - start), view.top + 2 - top, "reading-hold",
                 more)  # fmt: skip


def _frame(drawing: Drawing, analysis: Analysis, left: float, top: float) -> None:
    """The picture: how large the subject is in it, and a point of the background."""
    focus, setup = analysis.focus, analysis.setup
    shape = focus.field_height_m / focus.field_width_m
    wide = min(FRAME_PX, 100 / shape)
    tall = wide * shape
    drawing.rect(left + 0.5, top + 0.5, wide - 1, tall - 1, "frame-box")
    size = wide * setup.subject_size_m / focus.field_width_m
    blur = min(wide * focus.background_blur_percent / 100, tall * 0.96)
    drawing.circle(left + wide * 0.7, top + tall / 2, max(1.5, blur / 2), "blur")
    shown = min(size, wide - 4)
    high = min(shown, tall - 4)
    drawing.rect(left + wide * 0.36 - min(shown / 2, wide * 0.34), top + (tall - high) / 2,
                 max(3.0, min(shown, wide * 0.62)), max(3.0, high), "subject")  # fmt: skip
    field = f"field {format_area(focus.field_width_m, focus.field_height_m)}"
    percent = format_number(focus.background_blur_percent, 1)
    line = round(drawing.text_px * 1.3)
    drawing.label(left, top + tall + line, field, "caption")
    drawing.label(left, top + tall + 2 * line, f"background blur {percent} %", "caption")
