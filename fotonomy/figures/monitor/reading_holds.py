"""What of the picture on the monitor can be taken hold of, to make a tone brighter or darker."""

from fotonomy.core.notation.writing import format_signed
from fotonomy.core.spec.readings import Reading, Shape
from fotonomy.core.tone.scene_layout import half_size
from fotonomy.figures.svg import Box, Drawing, Size, shortened

# So many stops lie between the foot and the top of the picture for a hand that drags.
STOPS_HIGH = 8.0
# No hold is smaller than a finger.
LEAST_PX = 32.0


def reading_holds(readings: tuple[Reading, ...], size: Size) -> str:
    """Holds over the picture of readings, as SVG of the size of the picture.

    Each says its reading's number and how many px a tenth of a stop is, upwards.
    """
    said = ", ".join(f"{one.name} {format_signed(one.stops)}" for one in readings)
    drawing = Drawing(size.width, size.height, "Readings in the picture", said, size.text_px)
    tenth = size.height / STOPS_HIGH / 10
    # The ground lies under all, then what is large.
    order = sorted(range(len(readings)), key=lambda k: -_area(readings[k], size))
    places = {k: _place(readings[k], size) for k in order}
    for k in order:
        left, top, right, foot = places[k]
        drawing.rect(
            left, top, right - left, foot - top, "picture-hold",
            f' data-reading="{k}" data-tenth="{tenth:.3f}" data-upwards="1"',
        )  # fmt: skip
    things = {k: Box(*places[k]) for k in order if readings[k].shape not in _BEHIND}
    for k in order:
        if readings[k].shape is not Shape.GROUND:
            others = [box for other, box in things.items() if other != k]
            _name(drawing, readings[k], places[k], others, size)
    return drawing.render()


# What lies behind the things, over the whole width.
_BEHIND = (Shape.GROUND, Shape.BAND)


def _place(one: Reading, size: Size) -> tuple[float, float, float, float]:
    """Where a reading lies: left, top, right, foot in px; as large as a finger at least."""
    half_w, half_h = (max(half, LEAST_PX / 2) for half in half_size(one, size.width, size.height))
    x, y = one.x_percent / 100 * size.width, one.y_percent / 100 * size.height
    if one.shape is Shape.GROUND:
        x, y = size.width / 2, size.height / 2
    elif one.shape is Shape.BAND:
        x = size.width / 2
    return (
        max(0.0, x - half_w), max(0.0, y - half_h), min(size.width, x + half_w),
        min(size.height, y + half_h),
    )  # fmt: skip


def _name(
    drawing: Drawing, one: Reading, place: tuple[float, float, float, float], others: list[Box],
    size: Size,
) -> None:  # fmt: skip
    """The name of a reading on its own region: on a band at an end, on a thing in it or under it.

    Never on another thing, as long as there is a place beside all of them.
    """
    left, top, right, foot = place
    words = _words(one, size)
    half = drawing.wide(words, "by-bar") / 2
    middle = (top + foot) / 2 + 0.36 * size.text_px
    if one.shape is Shape.BAND:
        ways = [(x, middle) for x in (left + half + 6, right - half - 6, (left + right) / 2)]
    else:
        x = min(max((left + right) / 2, half + 2), size.width - half - 2)
        inside = [(x, middle)] if 2 * half <= right - left else []
        ways = [*inside, (x, foot + size.text_px + 2), (x, top - 4), (x, middle)]
    kinds = "picture-word by-bar middle"
    clear = [
        way for way in ways
        if not any(drawing.box_of(*way, words, kinds).meets(other) for other in others)
    ]  # fmt: skip
    drawing.first(tuple((x, y, words, kinds) for x, y in (*clear, *ways)))


def _words(reading: Reading, size: Size) -> str:
    text = f"{reading.name} {format_signed(reading.stops)}"
    return shortened(text, size.width / 3, "by-bar", size.text_px)


def _area(reading: Reading, size: Size) -> float:
    half_w, half_h = half_size(reading, size.width, size.height)
    return half_w * half_h
