"""Lamps from above: where each stands about the subject, to scale, and what it brings."""

from dataclasses import dataclass
from math import cos, radians, sin

from fotonomy.core.lamps.lamp import Lighting, Placed, Role
from fotonomy.core.notation.writing import (
    format_compact,
    format_length,
    format_number,
    format_stops,
)
from fotonomy.figures.svg import Drawing, Size

SUBJECT_PX, EDGE_PX, NAME_PX = 14.0, 26.0, 34.0
# The drawing reaches so far, in metres: the scale stays while a lamp is moved a little.
REACHES_M = (1.0, 1.5, 2.0, 3.0, 4.0, 6.0, 8.0, 12.0, 16.0, 24.0, 40.0, 80.0, 200.0, 1100.0)


@dataclass(frozen=True, slots=True)
class LampsPlan:
    """The drawing, and where on it the subject and the background are: px, and px a metre."""

    markup: str
    x: float
    subject_y: float
    background_y: float
    scale: float


def lamps_words(lighting: Lighting) -> str:
    """The lighting in words."""
    lit = f"{format_compact(lighting.lux)} lux on the lit side, EV {format_number(lighting.ev100)}"
    if lighting.ratio is None or lighting.ratio_stops is None:
        said = f"{lit}; nothing lights the shadow side"
    else:
        said = (
            f"{lit}; {format_compact(lighting.shadow_lux)} lux in the shadow, "
            f"{format_number(lighting.ratio)} to 1, {format_stops(lighting.ratio_stops)}"
        )
    stops = lighting.background_stops
    if lighting.background_lux is None or stops is None:
        return said
    side = "under" if stops < 0 else "over"
    return (
        f"{said}; {format_compact(lighting.background_lux)} lux on the background, "
        f"{format_stops(abs(stops))} {side} the lit side"
    )


def _reach(metres: float) -> float:
    return next((one for one in REACHES_M if metres <= one), metres)


def lamps_plan(lighting: Lighting, size: Size) -> LampsPlan:
    """The plan from above, the camera below, ``size`` px large."""
    drawing = Drawing(
        size.width, size.height, "Lamps from above", lamps_words(lighting), size.text_px
    )
    behind = lighting.behind_m or 0.0
    # How far it reaches across, towards the camera and away from it.
    across, near, far = 0.5, 0.8, behind + 0.2
    for one in lighting.lamps:
        x, z = _place(one, behind)
        across, near, far = max(across, abs(x)), max(near, z), max(far, -z)
    scale = min(
        (size.width / 2 - EDGE_PX - NAME_PX) / _reach(across),
        (size.height - 2 * EDGE_PX - NAME_PX) / _reach(near + far),
    )
    middle = size.width / 2
    spare = (size.height - 2 * EDGE_PX - NAME_PX - scale * (near + far)) / 2
    down = EDGE_PX + spare + scale * far
    back = down - scale * behind
    if lighting.behind_m is not None:
        drawing.line(EDGE_PX, back, size.width - EDGE_PX, back, "background")
        drawing.offer(size.width - EDGE_PX, back - 8, "background", "caption end")
    drawing.circle(middle, down, SUBJECT_PX, "subject")
    drawing.keep_clear(
        middle - SUBJECT_PX, down - SUBJECT_PX, middle + SUBJECT_PX, down + SUBJECT_PX
    )
    _camera(drawing, middle, size.height - EDGE_PX)
    for number, one in enumerate(lighting.lamps):
        _lamp(drawing, number, one, (middle, down), scale, behind)
    drawing.offer(middle + SUBJECT_PX + 6, down + 5, "subject", "caption")
    return LampsPlan(drawing.render(), middle, down, back, scale)


def _place(one: Placed, behind: float) -> tuple[float, float]:
    """Metres to the right of the line to the camera, and from the subject towards it."""
    angle = radians(one.angle_deg)
    x, z = one.lamp.distance_m * sin(angle), one.lamp.distance_m * cos(angle)
    return (x, z - behind) if one.role is Role.BACKGROUND else (x, z)


def _camera(drawing: Drawing, x: float, y: float) -> None:
    drawing.rect(x - 9, y - 4, 18, 12, "camera")
    drawing.area([(x - 6, y - 12), (x + 6, y - 12), (x, y - 4)], "camera")
    drawing.keep_clear(x - 10, y - 14, x + 10, y + 10)
    drawing.offer(x + 14, y + 6, "camera", "caption")


def _lamp(
    drawing: Drawing, number: int, one: Placed, subject: tuple[float, float], scale: float,
    behind: float,
) -> None:  # fmt: skip
    """One lamp: as wide as it is, across the line to what it lights, with what it brings there."""
    x_m, z_m = _place(one, behind)
    x, y = subject[0] + x_m * scale, subject[1] + z_m * scale
    aim_y = subject[1] - behind * scale if one.role is Role.BACKGROUND else subject[1]
    angle = radians(one.angle_deg)
    half = max(5.0, one.lamp.size_m * scale / 2)
    across = (half * cos(angle), half * sin(angle))
    short = 0.0 if one.role is Role.BACKGROUND else SUBJECT_PX
    end = (subject[0] + short * sin(angle), aim_y + short * cos(angle))
    drawing.line(x, y, end[0], end[1], f"sight {one.role.value}")
    drawing.line(x - across[0], y + across[1], x + across[0], y - across[1], "plane")
    drawing.circle(x, y, 9, f"lamp-handle lamp-{number} {one.role.value}")
    drawing.keep_clear(x - 9, y - 9, x + 9, y + 9)
    name = one.name or one.role.value
    words = f"{name} {format_compact(one.lamp.lux)} lux"
    side, at = (" end", x - 14) if x_m < 0 else ("", x + 14)
    distance = f"{format_length(one.lamp.distance_m)} away"
    drawing.first((
        (at, y, words, f"by-tone{side}"), (at, y + 24, words, f"by-tone{side}"),
        (at, y - 24, words, f"by-tone{side}"), (x, y - 16, words, "by-tone middle"),
        (x, y + 26, words, "by-tone middle"),
    ))  # fmt: skip
    drawing.offer(at, y + 15, distance, f"caption{side}")
