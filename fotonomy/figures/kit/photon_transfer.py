"""Photon transfer: measured noise over signal, and the line that was fitted."""

from math import ceil, floor, log2

import numpy as np

from fotonomy.core.notation.writing import format_compact, format_number
from fotonomy.core.tone.photon_transfer import Fit
from fotonomy.figures.svg import WIDE, Drawing, Scale, is_narrow

HEIGHT, TOP, BOTTOM = 300.0, 14.0, 262.0


def transfer_words(fit: Fit) -> str:
    """What was fitted, and how well."""
    return (
        f"full well {format_compact(fit.sensor.full_well_e or 0)} electrons, read noise "
        f"{format_number(fit.sensor.read_low_e or 0)} electrons, measured noise "
        f"{format_number(fit.residual_percent)} % off the line"
    )


def transfer_figure(fit: Fit, width: float = WIDE) -> str:
    """Noise against signal in stops under the clip as SVG, a line and points for each ISO."""
    drawing = Drawing(width, HEIGHT, "Photon transfer", transfer_words(fit))
    signals = np.array([g.signal for g in fit.groups])
    noises = np.sqrt([g.variance for g in fit.groups])
    # The line runs on a stop past what was measured.
    most = min(1.0, 2 * float(signals.max()))
    x = Scale(
        floor(log2(signals.min())) - 0.3,
        log2(most) + 0.1,
        56,
        width - 14 if is_narrow(width) else width - 90,
    )
    ends = [fit.noise_at(group.iso, most) for group in fit.groups]
    low, high = floor(log2(noises.min())) - 0.3, log2(max(ends)) + 0.6
    y = Scale(low, high, BOTTOM, TOP)
    for stop in range(ceil(x.low), floor(x.high) + 1):
        drawing.line(x(stop), TOP, x(stop), BOTTOM, "grid")
        drawing.label(x(stop), BOTTOM + 16, f"{stop}".replace("-", "−"), "tick middle")
    for stop in range(ceil(low), floor(high) + 1):
        drawing.line(x.start, y(stop), x.end, y(stop), "grid")
        drawing.label(x.start - 6, y(stop) + 4, f"{stop}".replace("-", "−"), "tick end")
    drawing.label(x.end, BOTTOM + 32, "signal, stops under the clip", "caption end")
    drawing.label(x.start + 4, TOP + 10, "noise, stops under the clip", "caption")
    last = 0.0
    for iso in sorted({group.iso for group in fit.groups}, reverse=True):
        mine = [g for g in fit.groups if g.iso == iso]
        reach = np.exp2(np.linspace(log2(min(g.signal for g in mine)), log2(most), 40))
        line = [(x(log2(s)), y(log2(fit.noise_at(iso, float(s))))) for s in reach]
        drawing.path(line, "curve thin-line")
        for group in mine:
            drawing.circle(x(log2(group.signal)), y(log2(group.variance) / 2), 3.2, "tone key-tone")
        at = max(line[-1][1] + 4, last + 14)
        last = at
        if not drawing.narrow:
            drawing.label(line[-1][0] + 6, at, f"ISO {iso}", "by-bar")
        else:
            drawing.label(line[-1][0] - 4, line[-1][1] - 6, f"ISO {iso}", "caption end")
    return drawing.render()
