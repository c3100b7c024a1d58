"""Stops and the marked scales: light counted in base-2 logarithms.

Marked f-numbers stand for the exact powers ``2**(k/6)``; shutter times and ISO
are used as marked (calculation notes of the trade; ISO 2720:1974 for the
arithmetic, the marks themselves are common practice).
"""

from math import isfinite, log2

from fotonomy.core.errors import RuleError

MARKED_F_NUMBERS: tuple[float, ...] = (
    1, 1.1, 1.2, 1.4, 1.6, 1.8, 2, 2.2, 2.5, 2.8, 3.2, 3.5, 4, 4.5, 5, 5.6, 6.3, 7.1,
    8, 9, 10, 11, 13, 14, 16, 18, 20, 22, 25, 29, 32,
)  # fmt: skip
_F_THIRDS = {f_number: k for k, f_number in enumerate(MARKED_F_NUMBERS)}

MARKED_ISO: tuple[int, ...] = (
    50, 64, 80, 100, 125, 160, 200, 250, 320, 400, 500, 640, 800, 1000, 1250, 1600, 2000,
    2500, 3200, 4000, 5000, 6400, 8000, 10_000, 12_800, 16_000, 20_000, 25_600, 32_000,
    40_000, 51_200, 64_000, 80_000, 102_400,
)  # fmt: skip

_LONG_TIMES_S = (
    30, 25, 20, 15, 13, 10, 8, 6, 5, 4, 3.2, 2.5, 2, 1.6, 1.3, 1, 0.8, 0.6, 0.5, 0.4, 0.3,
)  # fmt: skip
_TIME_DENOMINATORS = (
    4, 5, 6, 8, 10, 13, 15, 20, 25, 30, 40, 50, 60, 80, 100, 125, 160, 200, 250, 320, 400,
    500, 640, 800, 1000, 1250, 1600, 2000, 2500, 3200, 4000, 5000, 6400, 8000,
)  # fmt: skip
MARKED_TIMES_S: tuple[float, ...] = tuple(float(t) for t in _LONG_TIMES_S) + tuple(
    1.0 / d for d in _TIME_DENOMINATORS
)


def _positive(field: str, value: float) -> None:
    if not isfinite(value) or value <= 0:
        raise RuleError(field, "has to be more than zero", value)


def aperture_stops(f_number: float) -> float:
    """Stops an iris takes, relative to f/1: ``2*log2 N``.

    A marked f-number counts as the exact third it stands for (f/5.6 is 5 stops);
    any other is taken at its word. Raises RuleError for zero or less.
    """
    _positive("iris", f_number)
    thirds = _F_THIRDS.get(f_number)
    return thirds / 3 if thirds is not None else 2 * log2(f_number)


def time_stops(time_s: float) -> float:
    """Stops a shutter takes, relative to one second: ``log2(1/t)``; negative beyond 1 s."""
    _positive("shutter", time_s)
    return -log2(time_s)


def iso_stops(iso: float) -> float:
    """Stops an ISO value gives, relative to ISO 100: ``log2(S/100)``."""
    _positive("iso", iso)
    return log2(iso / 100)


def marked_f_numbers(widest: float, smallest: float) -> tuple[float, ...]:
    """Marked f-numbers from ``widest`` to ``smallest``, both ends always included."""
    inside = [n for n in MARKED_F_NUMBERS if widest < n < smallest]
    return (widest, *inside, smallest) if smallest > widest else (widest,)


def marked_iso(lowest: int, highest: int) -> tuple[int, ...]:
    """Marked ISO values from ``lowest`` to ``highest``, both ends always included."""
    inside = [s for s in MARKED_ISO if lowest < s < highest]
    return (lowest, *inside, highest) if highest > lowest else (lowest,)


def marked_times_s(slowest_s: float, fastest_s: float) -> tuple[float, ...]:
    """Marked shutter times in seconds, slowest first, within both ends (a 0.1 % tolerance)."""
    return tuple(t for t in MARKED_TIMES_S if fastest_s * 0.999 <= t <= slowest_s * 1.001)
