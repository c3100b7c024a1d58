"""The light of a day as one band for paper: what it is when, with the hours under it."""

from collections.abc import Sequence

from fotonomy.figures.svg import Drawing, Scale

WIDTH, BAND, TICKS = 1040.0, 12.0, 18.0
HOUR_MIN, TYPE = 60.0, 12
# Lighter the more light there is, so that it reads in black and white too.
COLOURS = {
    "night": "#10131f", "deep twilight": "#232a4a", "twilight": "#44507e", "blue hour": "#7288b6",
    "golden hour": "#d7a55a", "low sun": "#ead79b", "day": "#f4edc4",
}  # fmt: skip


def light_band(lights: Sequence[str], start_min: float, step_min: float) -> str:
    """The band as SVG. ``lights`` are names of light a step, from ``start_min`` of the day on.

    Even hours stand under it; neighbours of one name are one piece.
    """
    end = start_min + step_min * len(lights)
    drawing = Drawing(WIDTH, BAND + TICKS, "Light of the day", ", ".join(dict.fromkeys(lights)))
    x = Scale(start_min, end, 0, WIDTH)
    at = 0
    while at < len(lights):
        last = at
        while last < len(lights) and lights[last] == lights[at]:
            last += 1
        left, right = x(start_min + step_min * at), x(start_min + step_min * last)
        # Colours of its own: what sets a PDF gives a drawing no styles of the page.
        drawing.rect(left, 0, right - left, BAND, "band", f' fill="{COLOURS[lights[at]]}"')
        at = last
    drawing.parts.append(
        f'<g font-family="Spline Sans Mono" font-size="{TYPE}" text-anchor="middle">'
    )
    hour = HOUR_MIN * 2 * -(-start_min // (2 * HOUR_MIN))
    while hour <= end:
        clock = int(hour // HOUR_MIN) % 24
        drawing.offer_within(x(hour), BAND + 14, f"{clock:02}:00", "tick", 0, WIDTH)
        hour += 2 * HOUR_MIN
    drawing.close_group()
    return drawing.render()
