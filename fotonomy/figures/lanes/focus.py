"""Focus: a side view of what is sharp, with the subject's own depth on it, and the frame."""

from math import ceil, floor, inf, log10

from fotonomy.core.analysis.setup import Analysis
from fotonomy.core.findings.focus import depth_offer
from fotonomy.core.notation.writing import format_iris, format_length, format_number, format_stops
from fotonomy.figures.svg import WIDE, Drawing, Scale, is_narrow, label_within, text_width

# The side view in px: where the ground lies, and the subject above it.
GROUND, TALL, CAMERA_PX = 88.0, 54.0, 34.0
LEAST_SHARP_PX = 60.0
FRAME_PX = 158.0


class Distances:
    """Distances on a logarithmic axis, so that a hand and a hill fit on one line."""

    def __init__(self, low_m: float, high_m: float, start: float, end: float) -> None:
        self.low_m, self.high_m = low_m, high_m
        self._scale = Scale(log10(low_m), log10(high_m), start, end)
        self.start, self.end = start, end

    def __call__(self, metres: float) -> float:
        """Px of a distance; beyond the ends the ends themselves."""
        return self._scale(log10(min(self.high_m, max(self.low_m, metres))))

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
    far = "without end" if focus.far_m == inf else f"to {format_length(focus.far_m)}"
    depth = "" if focus.depth_m == inf else f", {format_length(focus.depth_m)} in all"
    return f"sharp from {format_length(focus.near_m)} {far}{depth}"


def focus_notes(analysis: Analysis) -> tuple[str, ...]:
    """The other numbers of the lane, a sentence each, most telling first."""
    focus = analysis.focus
    notes = []
    if focus.wanted_depth_m is not None and focus.needed_iris is not None:
        wish = format_length(focus.wanted_depth_m)
        takes = format_iris(round(focus.needed_iris, 1))
        notes.append(f"{wish} sharp takes {takes}{_allowed(analysis)}")
    if focus.magnification >= 0.1:
        notes.append(
            f"{format_number(focus.magnification, 2)} of life size, close focus costs "
            f"{format_stops(focus.bellows_stops)}"
        )
    airy, pixels = format_number(focus.airy_um), format_number(focus.two_pixels_um)
    past = format_number(focus.diffraction_stops)
    end = "unseen" if past == "0" else f"{past} stops past two pixels"
    notes.append(f"diffraction {airy} µm of {pixels} µm, {end}")
    notes.append(f"hyperfocal {format_length(focus.hyperfocal_m)}")
    return tuple(notes)


def _allowed(analysis: Analysis) -> str:
    """Whether the light allows the iris that holds the wanted depth."""
    offer = depth_offer(analysis)
    if offer is None:
        return ", beyond this lens"
    if not offer.allowed:
        return f": the light is {format_stops(offer.left_stops)} short of it"
    return f": the light allows it{' with ' + offer.balanced_by if offer.balanced_by else ''}"


def blur_words(analysis: Analysis) -> str:
    """How soft the background is."""
    percent = format_number(analysis.focus.background_blur_percent, 1)
    at = format_length(analysis.focus.background_m)
    return f"background at {at}: blur {percent} % of the width"


def focus_figure(analysis: Analysis, width: float = WIDE) -> str:
    """Side view and frame as SVG, ``width`` px wide."""
    narrow = is_narrow(width)
    said = ". ".join((focus_words(analysis), blur_words(analysis), *focus_notes(analysis)))
    drawing = Drawing(width, 268 if narrow else 146, "Focus", said)
    end = width if narrow else width - FRAME_PX - 30
    _side(drawing, analysis, end)
    if narrow:
        _frame(drawing, analysis, 0, 150)
    else:
        _frame(drawing, analysis, width - FRAME_PX, 2)
    return drawing.render()


def _axis(analysis: Analysis, end: float) -> Distances:
    focus, setup = analysis.focus, analysis.setup
    at, back = setup.subject_distance_m, focus.background_m
    far = min(focus.far_m, 30 * at)
    low = min(focus.near_m, at - min(setup.subject_depth_m / 2, at * 0.9)) * 0.85
    high = max(far, back, at + setup.subject_depth_m) * 1.25
    whole = Distances(max(low, 0.005), max(high, at * 1.5), CAMERA_PX, end - 4)
    front = min(focus.near_m, at - min(setup.subject_depth_m / 2, at * 0.9))
    behind = max(far, at + setup.subject_depth_m / 2)
    if whole(behind) - whole(front) > LEAST_SHARP_PX:
        return whole
    # Millimetres of depth: a stretch about them; the background then stands at its end.
    share = (behind / front) ** 1.2
    return Distances(front / share, behind * share, CAMERA_PX, end - 4)


def _side(drawing: Drawing, analysis: Analysis, end: float) -> None:
    focus, setup = analysis.focus, analysis.setup
    x = _axis(analysis, end)
    at, half = setup.subject_distance_m, setup.subject_depth_m / 2
    near, far = x(focus.near_m), x(focus.far_m)
    top = GROUND - TALL
    drawing.rect(near, top - 12, max(1.5, far - near), TALL + 12, "sharp")
    _camera(drawing)
    drawing.line(CAMERA_PX - 8, GROUND - TALL / 2, x(at), GROUND - TALL / 2, "sight")
    drawing.line(0, GROUND, end, GROUND, "ground")
    _ticks(drawing, x, end)
    left, right = x(at - min(half, at * 0.9)), x(at + half)
    drawing.rect(left, top + 4, max(3.0, right - left), TALL - 4, "subject soft")
    inside = max(left, near), min(max(right, left + 3), max(far, near + 1.5))
    if inside[1] > inside[0]:
        drawing.rect(inside[0], top + 4, inside[1] - inside[0], TALL - 4, "subject")
    drawing.line(x(at), top - 2, x(at), GROUND, "plane")
    back = x(focus.background_m)
    drawing.line(back, top + 6, back, GROUND, "background")
    if back > far + 60:
        beyond = f" at {format_length(focus.background_m)}" if focus.background_m > x.high_m else ""
        label_within(drawing, back, top - 2, f"background{beyond}", "caption", far + 8, end)
    label_within(drawing, (near + far) / 2, 16, focus_words(analysis), "by-bar", 0, end)
    if focus.wanted_depth_m is not None:
        _wanted(drawing, analysis, x)
    for row, text in enumerate(_two_lines(focus_notes(analysis), end)):
        drawing.label(0, GROUND + 36 + 16 * row, text, "caption")


def _two_lines(notes: tuple[str, ...], room: float) -> tuple[str, ...]:
    """As many of the notes as fit on two lines, in their order."""
    lines = [""]
    for note in notes:
        longer = f"{lines[-1]}; {note}" if lines[-1] else note
        if text_width(longer) < room:
            lines[-1] = longer
        elif len(lines) < 2 and text_width(note) < room:
            lines.append(note)
    return tuple(line for line in lines if line)


def _camera(drawing: Drawing) -> None:
    middle = GROUND - TALL / 2
    drawing.rect(2, middle - 10, 16, 20, "camera")
    drawing.area([(18, middle - 4), (26, middle - 9), (26, middle + 9), (18, middle + 4)], "camera")
    drawing.line(10, middle + 10, 10, GROUND, "ground")


def _ticks(drawing: Drawing, x: Distances, end: float) -> None:
    last = -100.0
    for metres in x.ticks():
        here, text = x(metres), format_length(metres)
        drawing.line(here, GROUND, here, GROUND + 4, "ground")
        half = text_width(text, mono=True) / 2
        if here - half > last + 8 and here + half < end:
            drawing.label(here, GROUND + 16, text, "tick middle")
            last = here + half


def _wanted(drawing: Drawing, analysis: Analysis, x: Distances) -> None:
    """The depth asked for, about the subject, as a bar of its own."""
    wanted, at = analysis.focus.wanted_depth_m or 0.0, analysis.setup.subject_distance_m
    left, right = x(at - min(wanted / 2, at * 0.9)), x(at + wanted / 2)
    drawing.rect(left, GROUND - TALL - 12, max(2.0, right - left), 5, "wanted")


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
    field = f"{format_length(focus.field_width_m)} × {format_length(focus.field_height_m)}"
    percent = format_number(focus.background_blur_percent, 1)
    drawing.label(left, top + tall + 15, f"field {field}", "caption")
    drawing.label(left, top + tall + 30, f"background blur {percent} %", "caption")
