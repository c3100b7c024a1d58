"""How many were kept: a dot at the share, a bar where the true one lies, a row a group."""

from dataclasses import dataclass

from fotonomy.figures.svg import PHONE_PX, Drawing, Scale, Size, shortened

ROW, TOP, BAR = 28.0, 24.0, 8.0


@dataclass(frozen=True, slots=True)
class KeptRow:
    """A group: its name, shares from 0 to 1, the count in words; ``enough`` to go by it."""

    name: str
    share: float
    low: float
    high: float
    words: str
    enough: bool


def kept_drawing(title: str, rows: tuple[KeptRow, ...], size: Size) -> str:
    """The drawing: shares across, a row a group."""
    described = "; ".join(
        f"{row.name} {row.words}, between {row.low:.0%} and {row.high:.0%}" for row in rows
    )
    tall = TOP + ROW * len(rows) + 4
    drawing = Drawing(size.width, tall, title, described, size.text_px)
    phone = size.text_px >= PHONE_PX
    names = min(320.0, size.width * (0.46 if phone else 0.4))
    x = Scale(0, 1, names + 12, size.width - (72 if phone else 92))
    for k in range(5):
        at = x(k / 4)
        drawing.line(at, TOP - 6, at, tall - 4, "grid")
        if not phone or k % 2 == 0:
            drawing.label(at, TOP - 11, f"{25 * k} %", "tick middle")
    for number, row in enumerate(rows):
        y = TOP + ROW * number + ROW / 2
        drawing.label(0, y + 4, shortened(row.name, names, px=size.text_px), "label")
        drawing.rect(x(row.low), y - BAR / 2, x(row.high) - x(row.low), BAR,
                     "takes" if row.enough else "few")  # fmt: skip
        drawing.circle(x(row.share), y, 4.5, "actual-good" if row.enough else "actual-other")
        drawing.label(size.width, y + 4, row.words, "tick end")
    return drawing.render()


@dataclass(frozen=True, slots=True)
class LightDot:
    """A reading: how high the sun stood in degrees, and stops over the estimate."""

    sun_deg: float
    off_stops: float
    words: str


def light_drawing(dots: tuple[LightDot, ...], size: Size) -> str:
    """Readings over the sun's height, in stops from the estimate."""
    described = "; ".join(dot.words for dot in dots)
    tall = 210.0
    drawing = Drawing(size.width, tall, "Light read against the estimate", described, size.text_px)
    reach = max(1.0, *(abs(dot.off_stops) for dot in dots)) * 1.1
    low = min(0.0, *(dot.sun_deg for dot in dots)) - 2
    high = max(30.0, *(dot.sun_deg for dot in dots)) + 2
    x, y = Scale(low, high, 62, size.width - 8), Scale(reach, -reach, 14, tall - 34)
    steps = range(-int(reach), int(reach) + 1)
    for stops in steps:
        drawing.line(x.start, y(stops), x.end, y(stops), "target-line" if stops == 0 else "grid")
        words = "as told" if stops == 0 else f"{stops:+d} st".replace("-", "−")
        drawing.label(0, y(stops) + 4, words, "tick")
    step = 10 if high - low > 25 else 5
    for sun in range(int(low // step) * step, int(high) + 1, step):
        if low <= sun <= high:
            drawing.label(x(sun), tall - 14, f"{sun}°".replace("-", "−"), "tick middle")
    drawing.label(x.end, tall - 0.5, "sun over the horizon", "tick end")
    for dot in dots:
        drawing.circle(x(dot.sun_deg), y(dot.off_stops), 4.5, "actual-good")
    return drawing.render()
