"""Clip: what is recorded, what it becomes on screen, and how many takes fill a card."""

from fotonomy.core.analysis.setup import Analysis
from fotonomy.core.notation.writing import format_duration, format_frame_rate, format_number
from fotonomy.core.stills.clip import Clip
from fotonomy.figures.svg import WIDE, Drawing, shortened, text_width

# Beyond this ratio one of the two bars would vanish: then they are not drawn to one scale.
LARGEST_RATIO = 14.0
MOST_TAKES_DRAWN = 60


def size_words(clip: Clip) -> str:
    """Size of one take, in the unit printed on cards."""
    if clip.size_mb >= 1000:
        return f"{format_number(clip.size_mb / 1000)} GB"
    return f"{format_number(clip.size_mb, 0)} MB"


def speed_words(clip: Clip) -> str:
    """Playback speed in words."""
    speed = clip.speed_percent
    if abs(speed - 100) < 0.05:
        return "real time"
    if speed < 100:
        return f"{format_number(100 / speed, 2)}× slower"
    return f"{format_number(speed / 100, 1 if speed < 1000 else 0)}× faster"


def takes_words(clip: Clip) -> str:
    """Takes on a card, in words."""
    card = f"{format_number(clip.card_gb, 0)} GB card"
    if clip.takes_per_card == 0:
        return f"one take does not fit on a {card}"
    return f"{clip.takes_per_card} take{'' if clip.takes_per_card == 1 else 's'} on a {card}"


def clip_words(analysis: Analysis) -> str:
    """The clip lane in words."""
    clip = analysis.clip
    return (
        f"record {format_duration(clip.record_s)}, {format_duration(clip.screen_s)} on screen, "
        f"{size_words(clip)} a take, {takes_words(clip)}"
    )


def clip_figure(analysis: Analysis, width: float = WIDE) -> str:
    """Record bar, screen bar and card as SVG, ``width`` px wide."""
    clip = analysis.clip
    drawing = Drawing(width, 108, "Clip", clip_words(analysis))
    longest = max(clip.record_s, clip.screen_s)
    ratio = longest / min(clip.record_s, clip.screen_s)
    to_scale = ratio <= LARGEST_RATIO
    shown = {s: width * (s / longest if to_scale or s == longest else 1 / LARGEST_RATIO)
             for s in (clip.record_s, clip.screen_s)}  # fmt: skip
    record, screen = shown[clip.record_s], shown[clip.screen_s]
    handle = record * clip.handle_s / clip.record_s
    drawing.area([(handle, 20), (record - handle, 20), (screen, 44), (0, 44)], "wedge")
    frames = "1 frame" if clip.record_frames == 1 else f"{clip.record_frames} frames"
    recorded = f"record {format_duration(clip.record_s)}"
    _bar(drawing, 1, record, (f"{recorded} · {frames}", recorded), "takes")
    if clip.handle_s:
        drawing.rect(0, 1, handle, 19, "handle")
        drawing.rect(record - handle, 1, handle, 19, "handle")
    on_screen = f"on screen {format_duration(clip.screen_s)}"
    edit = f"{on_screen} at {format_frame_rate(analysis.setup.project_fps)} fps"
    speed = "" if analysis.setup.single_frame else f" · {speed_words(clip)}"
    _bar(drawing, 44, screen, (f"{edit}{speed}", f"{on_screen}{speed}", on_screen), "screen")
    _card(drawing, clip, "" if to_scale else "; bars not to scale")
    return drawing.render()


def _bar(drawing: Drawing, y: float, wide: float, ways: tuple[str, ...], kind: str) -> None:
    """A bar with the fullest of its texts that fits inside it or beside it."""
    drawing.rect(0, y, max(2.0, wide), 19, kind)
    for words in ways:
        room = text_width(words) + 14
        if room < wide:
            drawing.label(wide / 2, y + 14, words, f"in-bar middle on-{kind}")
            return
        if wide + room < drawing.width:
            drawing.label(wide + 7, y + 14, words, "by-bar")
            return


def _card(drawing: Drawing, clip: Clip, remark: str) -> None:
    y, takes = 74.0, clip.takes_per_card
    drawing.rect(0.5, y, drawing.width - 1, 9, "card")
    if takes == 0:
        drawing.rect(0.5, y, drawing.width - 1, 9, "card-over")
    elif takes <= MOST_TAKES_DRAWN:
        each = drawing.width * clip.size_mb / (1000 * clip.card_gb)
        for take in range(takes):
            drawing.rect(take * each + 1, y + 1.5, max(1.0, each - 2), 6, "take")
    else:
        drawing.rect(1, y + 1.5, max(1.0, drawing.width * clip.size_mb / (1000 * clip.card_gb)), 6,
                     "take")  # fmt: skip
    words = f"{size_words(clip)} a take, {takes_words(clip)}{remark}"
    drawing.label(0, y + 25, shortened(words, drawing.width), "caption")
