"""A travelling camera: how far near, middle and far things smear, and what the rule says."""

from fotonomy.core.analysis.setup import Analysis
from fotonomy.core.notation.writing import format_length, format_number, format_time
from fotonomy.figures.svg import Drawing, Size, is_narrow, shortened

ROW, BAR = 20.0, 13.0
NAMES_PX, WORDS_PX = 112.0, 150.0


def passing_figure(analysis: Analysis, size: Size) -> str:
    """Smear of three distances as bars of the frame width, as SVG."""
    passing, rule = analysis.shake.passing, analysis.shake.rolling_rule_s
    width, narrow = size.width, is_narrow(size.width)
    names_px = NAMES_PX * size.text_px / 12
    room = width - names_px - (110.0 if narrow else WORDS_PX)
    most = max(100.0, *(one.smear_percent for one in passing)) if passing else 100.0
    rule_words = "" if rule is None else (
        f"one over the speed: {format_time(rule)}; set: {format_time(analysis.setup.time_s)}"
    )  # fmt: skip
    said = "; ".join(
        f"{one.name} at {format_length(one.distance_m)} smears "
        f"{format_number(one.smear_percent)} %" for one in passing
    )  # fmt: skip
    height = ROW * len(passing) + 8 + size.line
    drawing = Drawing(width, height, "What the camera passes", said, size.text_px)
    for row, one in enumerate(passing):
        y = 2 + ROW * row
        drawing.label(0, y + 11, f"{one.name}, {format_length(one.distance_m)}", "caption")
        drawing.rect(names_px, y, room, BAR, "field")
        # Beyond one frame width the bar stays full: the number says how often.
        drawing.rect(names_px, y, max(1.0, room * one.smear_percent / most), BAR, "smear")
        if one.smear_percent < 1000:
            words = f"{format_number(one.smear_percent)} %"
            words += "" if narrow else f" ({format_number(one.smear_px, 0)} px)"
        else:
            widths = one.smear_percent / 100
            words = f"{format_number(widths, 0)} widths" if widths < 1e5 else "beyond count"
        drawing.label(names_px + room + 8, y + 11, words, "figures")
    rule_words = shortened(rule_words, width, "", size.text_px)
    drawing.label(0, height - 5, rule_words, "caption")
    return drawing.render()
