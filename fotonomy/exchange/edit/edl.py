"""An edit decision list in the CMX 3600 form: what can be cut, one after the other.

Timecode after SMPTE ST 12-1, drop-frame where the rate has it.
"""

import re
from collections.abc import Iterable

from fotonomy.core.motion.timecode import drops_frames, first_hour, timecode
from fotonomy.exchange.edit.clips import EditClip

# Events have three digits, reels eight letters.
MOST_EVENTS = 999


def to_edl(name: str, clips: Iterable[EditClip], fps: float) -> str:
    """The list. Clips that are no good are left out; beyond 999 events nothing is written."""
    dropping = drops_frames(fps)
    lines = [
        f"TITLE: {_plain(name, 70)}", f"FCM: {'DROP FRAME' if dropping else 'NON-DROP FRAME'}", ""
    ]  # fmt: skip
    at = first_hour(fps)
    usable = [one for one in clips if one.usable][:MOST_EVENTS]
    for number, one in enumerate(usable, 1):
        codes = [timecode(k, fps) for k in (0, one.frames, at, at + one.frames)]
        reel = re.sub(r"[^A-Z0-9]", "", one.card.upper())[:8] or "AX"
        lines.append(f"{number:03}  {reel:<8} V     C        {' '.join(codes)}")
        lines.append(f"* FROM CLIP NAME: {_plain(one.name, 120)}")
        said = ", ".join((one.setup, one.verdict, *one.why))
        lines.append(f"* COMMENT: {_plain(said, 200)}")
        if one.note:
            lines.append(f"* COMMENT: {_plain(one.note, 200)}")
        at += one.frames
    return "\n".join(lines) + "\n"


def _plain(text: str, most: int) -> str:
    """One line of plain letters."""
    return " ".join(text.split()).encode("ascii", "replace").decode()[:most]
