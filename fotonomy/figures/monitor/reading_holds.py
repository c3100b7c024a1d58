"""What of the picture on the monitor can be taken hold of, to make a tone brighter or darker."""

from fotonomy.core.notation.writing import format_signed
from fotonomy.core.spec.readings import Reading, Shape
from fotonomy.core.tone.scene_layout import half_size
from fotonomy.figures.svg import Drawing, Size, shortened

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
    for k in order:
        one = readings[k]
        half_w, half_h = (
            max(half, LEAST_PX / 2) for half in half_size(one, size.width, size.height)
        )
        x, y = one.x_percent / 100 * size.width, one.y_percent / 100 * size.height
        if one.shape is Shape.GROUND:
            x, y = size.width / 2, size.height / 2
        elif one.shape is Shape.BAND:
            x = size.width / 2
        left, top = max(0.0, x - half_w), max(0.0, y - half_h)
        right, foot = min(size.width, x + half_w), min(size.height, y + half_h)
        drawing.rect(
            left, top, right - left, foot - top, "picture-hold",
            f' data-reading="{k}" data-tenth="{tenth:.3f}" data-upwards="1"',
        )  # fmt: skip
        if one.shape is not Shape.GROUND:
            half = drawing.wide(words := _words(one, size), "by-bar") / 2
            x = min(max(x, half + 2), size.width - half - 2)
            drawing.first(((x, foot + size.text_px + 2, words, "picture-word by-bar middle"),
                           (x, top - 4, words, "picture-word by-bar middle"),
                           (x, y + 4, words, "picture-word by-bar middle")))  # fmt: skip
    return drawing.render()


def _words(reading: Reading, size: Size) -> str:
    text = f"{reading.name} {format_signed(reading.stops)}"
    return shortened(text, size.width / 3, "by-bar", size.text_px)


def _area(reading: Reading, size: Size) -> float:
    half_w, half_h = half_size(reading, size.width, size.height)
    return half_w * half_h
