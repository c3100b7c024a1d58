"""Values as a camera shows them: 1/50, 180°, f/4, ISO 640, ND 0.9, 12.3 EV.

Every ``format_*`` parses back to the same value with its ``parse_*`` in ``reading``. A number that
knows its working (``named``) is written with a mark that leads there.
"""

from math import floor, isfinite, log10

from fotonomy.core.motion.shutter import Shutter
from fotonomy.core.photometry.exposure_value import (
    Ev100,
    Luminance,
    Lux,
    Metered,
    SceneLight,
)
from fotonomy.core.traced_numbers import OPEN, marks, same_working


@marks
def format_number(value: float, digits: int = 1) -> str:
    """A number with at most ``digits`` decimals, a true minus sign, no trailing zeros."""
    text = f"{value:.{digits}f}"
    if "." in text:
        text = text.rstrip("0").rstrip(".")
    return "0" if text in ("-0", "0") else text.replace("-", "−")


@marks
def format_signed(value: float, digits: int = 1) -> str:
    """A number with its sign and all decimals, for stops: +2.3, −4.0, 0.0."""
    text = f"{value:+.{digits}f}"
    if float(text) == 0:
        text = text[1:]
    return text.replace("-", "−")


@marks
def format_share(share: float) -> str:
    """A share of one in whole percent: 0.56 is "56 %"."""
    return f"{100 * share:.0f} %"


@marks
def format_time(time_s: float) -> str:
    """1/50, 0.4 s, 15 s, 2 min 30 s: as a camera shows it."""
    if time_s >= 120:
        minutes, seconds = divmod(round(time_s), 60)
        return f"{minutes} min {seconds} s" if seconds else f"{minutes} min"
    if time_s >= 0.3:
        return f"{format_number(time_s, 2)} s"
    below = 1 / time_s
    return f"1/{format_number(below, 0 if below >= 30 else 1)}"


@marks
def format_length(metres: float) -> str:
    """A length in the unit people say: 4.2 mm, 38 cm, 2.4 m, 1.2 km, "no end"."""
    if not isfinite(metres):
        return "no end"
    if metres < 0.1:
        return f"{format_number(1000 * metres, 1 if metres < 0.02 else 0)} mm"
    if metres < 1:
        return f"{format_number(100 * metres, 0 if metres >= 0.2 else 1)} cm"
    if metres >= 1000:
        return f"{format_number(metres / 1000, 1)} km"
    return f"{format_number(metres, 0 if metres >= 100 else 1 if metres >= 10 else 2)} m"


def format_area(width_m: float, height_m: float) -> str:
    """A width and a height, in metres, in one unit: "16.9 × 9.5 cm"."""
    larger = max(width_m, height_m)
    scale, unit = (1000.0, "mm") if larger < 0.02 else (100.0, "cm") if larger < 1 else (
        (1.0, "m") if larger < 1000 else (0.001, "km")
    )  # fmt: skip

    def said(metres: float) -> str:
        size = metres * scale
        return format_number(size, 0 if size >= 100 else 1 if size >= 5 else 2)

    return f"{said(width_m)} × {said(height_m)} {unit}"


@marks
def format_stops(value: float) -> str:
    """A size in stops, without sign: "1 stop", "0.7 stops"."""
    size = format_number(abs(value))
    return f"{size} stop{'' if size == '1' else 's'}"


@marks
def format_duration(seconds: float) -> str:
    """A length of time in words: 6 s, 24.5 s, 3 min 20 s, 8 h 2 min, 3 d 4 h."""
    if seconds < 100:
        return f"{format_number(seconds, 1 if seconds >= 0.95 else 2)} s"
    whole = round(seconds)
    hours, rest = divmod(whole, 3600)
    minutes, left = divmod(rest, 60)
    if hours >= 48:
        return f"{hours // 24} d {hours % 24} h" if hours % 24 else f"{hours // 24} d"
    if hours:
        return f"{hours} h {minutes} min" if minutes else f"{hours} h"
    return f"{minutes} min {left} s" if left else f"{minutes} min"


def format_shutter(shutter: Shutter) -> str:
    """180° or 1/50, in the unit the person set."""
    if shutter.angle_deg is not None:
        return f"{format_number(shutter.angle_deg, 2)}°"
    assert shutter.time_s is not None
    return format_exact_time(shutter.time_s)


@marks
def format_exact_time(time_s: float) -> str:
    """A time that parses back to itself: 1/50, 1/33.33, 0.4 s, 150 s."""
    if time_s >= 0.3:
        return f"{format_number(time_s, 4)} s"
    return f"1/{format_number(1 / time_s, 4)}"


@marks
def format_frame_rate(fps: float) -> str:
    """25, 23.976, or "every 15 s" below one frame a second."""
    if fps < 1:
        return f"every {format_number(1 / fps, 3)} s"
    return format_number(fps, 3)


@marks
def format_iris(f_number: float) -> str:
    """f/4, f/2.8."""
    return f"f/{format_number(f_number, 2)}"


def to_a_fiftieth(value: float) -> float:
    """A worked-out amount as fine as it is known: 7.48 is 7.5, 1.04 stays, 23.75 is 23.8.

    Rounded to the largest of 1, 2 and 5 tenths, hundredths and so on that is no more than a
    fiftieth of it. What is none or without end stays. A number with a working keeps it.
    """
    if value == 0 or not isfinite(value):
        return value
    most = abs(value) / 50
    power = 10.0 ** floor(log10(most))
    step = next(k * power for k in (5, 2, 1) if k * power <= most * (1 + 1e-9))
    return same_working(round(value / step) * step, value)


@marks
def format_density(density: float) -> str:
    """0.9, 1.85, or none."""
    if density == 0:
        return "none"
    text = f"{density:.2f}"
    return text[:-1] if text.endswith("0") else text


def format_light(light: SceneLight) -> str:
    """Scene light in the unit it was entered in."""
    match light:
        case Ev100():
            return f"{format_number(light.value, 2)} EV"
        case Lux():
            return f"{_three_figures(light.value)} lux"
        case Luminance():
            return f"{_three_figures(light.value)} cd/m²"
        case Metered():
            return (
                f"{format_iris(light.f_number)} {format_exact_time(light.time_s)} "
                f"ISO {format_number(light.iso, 0)}"
            )


def _three_figures(value: float) -> str:
    return format_number(value, 0 if value >= 100 else 2 if value >= 1 else 5)


@marks
def format_compact(value: float) -> str:
    """A light level to two or three figures: 12 600, 631, 7.4, 0.22."""
    rounded = float(f"{value:.3g}")
    if rounded >= 10_000:
        return f"{rounded:,.0f}".replace(",", "\u202f")
    return format_number(rounded, 0 if value >= 100 else 1 if value >= 10 else 3)


@marks
def format_estimate(value: float) -> str:
    """What a model says, as fine as it is known: two figures, 450, 12 000, 7.4."""
    return format_compact(float(f"{value:.2g}"))


def format_capital(words: str) -> str:
    """A text with a capital; one that begins with a marked number stays."""
    return words if words.startswith(OPEN) else words[:1].upper() + words[1:]
