"""Clip: what is recorded, what it becomes on screen, and how many takes fill a card."""

from fotonomy.core.analysis.setup import Analysis
from fotonomy.core.motion.timecode import drops_frames, timecode
from fotonomy.core.notation.writing import format_duration, format_frame_rate, format_number
from fotonomy.core.stills.clip import Clip
from fotonomy.core.stills.edit_room import (
    beats_of,
    longest_zoom,
    most_crop_percent,
    slowest_drift_percent_s,
    stabilised,
)
from fotonomy.figures.svg import Drawing, Size, shortened

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


def clip_notes(analysis: Analysis) -> tuple[str, ...]:
    """The clip in the edit: its timecode, the room around it, and the beat it ends on."""
    clip, setup = analysis.clip, analysis.setup
    intent, fps = setup.intent, setup.project_fps
    drop = ", drop-frame" if drops_frames(fps) else ""
    notes = [f"{clip.screen_frames} frames in the edit, {timecode(clip.screen_frames, fps)}{drop}"]
    if not setup.records_stills:
        most = most_crop_percent(setup.format.width_px, setup.delivered_px)
        spare = f"{format_number(most)} % a side" if most else "nothing"
        notes.append(f"{spare} may be cut off before it gets soft")
    else:
        zoom = longest_zoom(setup.format.width_px, setup.delivered_px)
        drift = slowest_drift_percent_s(setup.delivered_px, fps)
        notes.append(
            f"a still may be moved into {format_number(zoom, 2)} times; a drift slower than "
            f"{format_number(drift, 2)} % of the width a second stutters"
        )
    if intent.crop_percent:
        room = stabilised(setup.format.width_px, intent.crop_percent, setup.delivered_px)
        notes.append(
            f"less {format_number(intent.crop_percent)} % a side {room.left_px} px are left, shown "
            f"{format_number(room.zoom, 2)} times as large"
        )
    if intent.tempo_bpm is not None:
        beats = beats_of(clip.screen_s, intent.tempo_bpm, fps)
        side = "late" if beats.off_s > 0 else "early"
        notes.append(
            f"{format_number(beats.beats)} beats or {format_number(beats.bars, 2)} bars; cut on "
            f"beat {beats.nearest_beat} at frame {beats.cut_frame}, "
            f"{format_number(1000 * abs(beats.off_s), 0)} ms {side}"
        )
    return tuple(notes)


def clip_figure(analysis: Analysis, size: Size) -> str:
    """Record bar, screen bar and card as SVG; a glance has no card."""
    clip, width, px = analysis.clip, size.width, size.text_px
    height = size.height or 94.0 + size.line
    drawing = Drawing(width, height, "Clip", clip_words(analysis), px)
    longest = max(clip.record_s, clip.screen_s)
    ratio = longest / min(clip.record_s, clip.screen_s)
    to_scale = ratio <= LARGEST_RATIO
    shown = {s: width * (s / longest if to_scale or s == longest else 1 / LARGEST_RATIO)
             for s in (clip.record_s, clip.screen_s)}  # fmt: skip
    record, screen = shown[clip.record_s], shown[clip.screen_s]
    handle = record * clip.handle_s / clip.record_s
    card = 0.0 if size.glance else 14.0 if size.tile else 26.0 + size.line
    bar = min(24.0, max(px + 6.0, (height - card - 12) / 2.6)) if not size.glance else height * 0.36
    second = height - card - bar - 2
    drawing.area([(handle, bar), (record - handle, bar), (screen, second), (0, second)], "wedge")
    frames = "1 frame" if clip.record_frames == 1 else f"{clip.record_frames} frames"
    recorded = f"record {format_duration(clip.record_s)}"
    words = () if size.glance else (f"{recorded} · {frames}", recorded)
    _bar(drawing, (1, bar), record, words, "takes")
    if clip.handle_s:
        drawing.rect(0, 1, handle, bar, "handle")
        drawing.rect(record - handle, 1, handle, bar, "handle")
    on_screen = f"on screen {format_duration(clip.screen_s)}"
    edit = f"{on_screen} at {format_frame_rate(analysis.setup.project_fps)} fps"
    speed = "" if analysis.setup.single_frame else f" · {speed_words(clip)}"
    ways = () if size.glance else (f"{edit}{speed}", f"{on_screen}{speed}", on_screen)
    _bar(drawing, (second, bar), screen, ways, "screen")
    if not size.glance:
        _card(drawing, clip, second + bar + (5 if size.tile else 14))
    if not size.tile:
        remark = "" if to_scale else "; bars not to scale"
        words_under = f"{size_words(clip)} a take, {takes_words(clip)}{remark}"
        drawing.label(0, height - 3, shortened(words_under, width, "", px), "caption")
    return drawing.render()


def _bar(
    drawing: Drawing, place: tuple[float, float], wide: float, ways: tuple[str, ...], kind: str
) -> None:
    """A bar with the fullest of its texts that fits inside it or beside it."""
    y, tall = place
    drawing.rect(0, y, max(2.0, wide), tall, kind)
    base = y + tall / 2 + 0.36 * drawing.text_px
    for words in ways:
        if drawing.wide(words, "in-bar") + 12 < wide:
            drawing.offer(wide / 2, base, words, f"in-bar middle on-{kind}")
            return
        if drawing.offer(wide + 7, base, words, "by-bar"):
            return


def _card(drawing: Drawing, clip: Clip, y: float) -> None:
    takes = clip.takes_per_card
    drawing.rect(0.5, y, drawing.width - 1, 8, "card")
    if takes == 0:
        drawing.rect(0.5, y, drawing.width - 1, 8, "card-over")
    elif takes <= MOST_TAKES_DRAWN:
        each = drawing.width * clip.size_mb / (1000 * clip.card_gb)
        for take in range(takes):
            drawing.rect(take * each + 1, y + 1.5, max(1.0, each - 2), 5, "take")
    else:
        drawing.rect(1, y + 1.5, max(1.0, drawing.width * clip.size_mb / (1000 * clip.card_gb)), 5,
                     "take")  # fmt: skip
