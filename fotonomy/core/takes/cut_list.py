"""Cuts on the beat: lengths that snap to whole frames, each from the beginning, none added up.

A beat is 60/bpm seconds. Every cut is the frame nearest to its own beat, so that the error of one
never enters the next.
"""

import re
from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction

from fotonomy.core.errors import RuleError
from fotonomy.core.motion.shutter import exact_rate
from fotonomy.core.notation.decimals import with_point

BPM_RANGE = (20.0, 400.0)
MOST_CUTS = 2000
LONGEST_S = 6 * 3600.0


@dataclass(frozen=True, slots=True)
class Slot:
    """A place between two cuts: frames of the edit, and how far the first lies off its beat.

    ``off_ms`` is positive where the cut comes late.
    """

    number: int
    first: int
    frames: int
    off_ms: float


@dataclass(frozen=True, slots=True)
class Cut:
    """A slot with the clip for it, its place among the clips, None where they ran out.

    ``short_frames`` is by how much the clip is too short.
    """

    slot: Slot
    clip: int | None
    short_frames: int = 0


def even_beats(bpm: float, beats_a_cut: Sequence[int], length_s: float) -> tuple[Fraction, ...]:
    """Seconds of every cut: so many beats apart, the pattern over again, to the end.

    The first stands at 0, the last at or before ``length_s``. Raises RuleError.
    """
    if not BPM_RANGE[0] <= bpm <= BPM_RANGE[1]:
        raise RuleError("bpm", f"{BPM_RANGE[0]:g} to {BPM_RANGE[1]:g} beats a minute", bpm)
    if not beats_a_cut or any(not 1 <= one <= 64 for one in beats_a_cut):
        raise RuleError("pattern", "beats of each clip, 1 to 64, such as 4 or 4 4 8", beats_a_cut)
    if not 0 < length_s <= LONGEST_S:
        raise RuleError("length", "longer than nothing, six hours at most", length_s)
    beat = Fraction(60) / Fraction(str(bpm))
    found: list[Fraction] = [Fraction(0)]
    beats = k = 0
    while len(found) <= MOST_CUTS:
        beats += beats_a_cut[k % len(beats_a_cut)]
        k += 1
        if beats * beat > Fraction(str(length_s)):
            break
        found.append(beats * beat)
    if len(found) < 2:
        raise RuleError("length", "one clip at least fits in", length_s)
    if len(found) > MOST_CUTS:
        raise RuleError("length", f"{MOST_CUTS} cuts at most", length_s)
    return tuple(found)


def read_beats(text: str) -> tuple[Fraction, ...]:
    """Typed beats, seconds or minutes and seconds, in order: "0 1.92 3.84" or "1:02.5".

    Raises RuleError on ``beats``.
    """
    rule = "seconds in order such as 0 1.92 3.84, or minutes and seconds such as 1:02.5"
    found: list[Fraction] = []
    for word in re.split(r"[\s;]+", with_point(text.strip())):
        parts = re.fullmatch(r"(?:(\d{1,3}):)?(\d{1,5}(?:\.\d{1,4})?)", word)
        if parts is None:
            raise RuleError("beats", rule, word)
        seconds = 60 * Fraction(parts[1] or 0) + Fraction(parts[2])
        if (found and seconds <= found[-1]) or seconds > LONGEST_S:
            raise RuleError("beats", rule, word)
        found.append(seconds)
    if not 2 <= len(found) <= MOST_CUTS:
        raise RuleError("beats", f"two at least, {MOST_CUTS} at most", text)
    return tuple(found)


def slots(cuts_s: Sequence[Fraction], fps: float) -> tuple[Slot, ...]:
    """The places between cuts, in frames of the edit. Beats closer than a frame share one cut."""
    rate = Fraction(exact_rate(fps))
    frames = [_nearest(at * rate) for at in cuts_s]
    found: list[Slot] = []
    for k in range(len(frames) - 1):
        length = frames[k + 1] - frames[k]
        if length > 0:
            off = Fraction(frames[k]) / rate - cuts_s[k]
            found.append(Slot(len(found) + 1, frames[k], length, float(1000 * off)))
    return tuple(found)


def _nearest(frames: Fraction) -> int:
    return int(frames + Fraction(1, 2))


def cut_to(places: Sequence[Slot], clip_frames: Sequence[int]) -> tuple[Cut, ...]:
    """Clips in their order into the slots, one each; what is too short is told, not stretched."""
    found = []
    for k, slot in enumerate(places):
        if k < len(clip_frames):
            found.append(Cut(slot, k, max(0, slot.frames - clip_frames[k])))
        else:
            found.append(Cut(slot, None))
    return tuple(found)
