"""Lamps from above: key and fill about the subject, to scale, with what arrives on each side."""

from math import cos, pi, sin

from fotonomy.core.lamps.lamp import Lamp, Lighting
from fotonomy.core.notation.writing import (
    format_compact,
    format_length,
    format_number,
    format_stops,
)
from fotonomy.figures.svg import WIDE, Drawing, is_narrow

HEIGHT, SUBJECT_PX, LEAST_PX = 210.0, 16.0, 60.0
# Where key and fill stand, in degrees from the camera's axis, as they are usually drawn.
KEY_DEG, FILL_DEG = 140.0, 35.0


def lamps_words(lighting: Lighting) -> str:
    """The lighting in words."""
    lit = f"{format_compact(lighting.lux)} lux on the lit side, EV {format_number(lighting.ev100)}"
    if lighting.ratio is None or lighting.ratio_stops is None:
        return f"{lit}; nothing lights the shadow side"
    return (
        f"{lit}; {format_compact(lighting.shadow_lux)} lux in the shadow, "
        f"{format_number(lighting.ratio)} to 1, {format_stops(lighting.ratio_stops)}"
    )


def lamps_figure(lighting: Lighting, width: float = WIDE) -> str:
    """The plan from above as SVG, ``width`` px wide."""
    drawing = Drawing(width, HEIGHT, "Lamps", lamps_words(lighting))
    middle, down = width / 2, HEIGHT - 54
    lamps = [lamp for lamp in (lighting.key, lighting.fill) if lamp is not None]
    farthest = max(lamp.distance_m for lamp in lamps)
    reach = min(width / 2 - 90 if not is_narrow(width) else width / 2 - 30, down - 34)
    scale = (reach - SUBJECT_PX) / farthest
    drawing.circle(middle, down, SUBJECT_PX, "subject")
    drawing.label(middle, down + 36, "subject", "caption middle")
    for name, lamp, degrees in (("key", lighting.key, KEY_DEG), ("fill", lighting.fill, FILL_DEG)):
        if lamp is not None:
            _lamp(drawing, name, lamp, (middle, down), scale, degrees)
    return drawing.render()


def _lamp(
    drawing: Drawing, name: str, lamp: Lamp, subject: tuple[float, float], scale: float,
    degrees: float,
) -> None:  # fmt: skip
    """One lamp: its size across the line to the subject, the line, and what arrives."""
    angle = degrees * pi / 180
    away = max(LEAST_PX, SUBJECT_PX + lamp.distance_m * scale)
    x, y = subject[0] + away * cos(angle), subject[1] - away * sin(angle)
    half = max(4.0, lamp.size_m * scale / 2)
    across = (half * sin(angle), half * cos(angle))
    drawing.line(x - across[0], y - across[1], x + across[0], y + across[1], "plane")
    near = (subject[0] + SUBJECT_PX * cos(angle), subject[1] - SUBJECT_PX * sin(angle))
    drawing.line(x, y, near[0], near[1], "sight")
    side = "end" if cos(angle) < 0 else ""
    at = x - 8 if side else x + 8
    drawing.label(at, y - 4, f"{name} {format_compact(lamp.lux)} lux", f"by-tone {side}".strip())
    drawing.label(at, y + 12, f"{format_length(lamp.distance_m)} away", f"caption {side}".strip())
