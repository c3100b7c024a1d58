"""A text list that joins the frames of a run, as ffmpeg's concat reader takes it."""

from collections.abc import Sequence
from fractions import Fraction

from fotonomy.core.motion.shutter import exact_rate

HEAD = "ffconcat version 1.0"


def to_concat(names: Sequence[str], fps: float) -> str:
    """Each frame for the length of one; the last is named again, or its length is not kept.

    Names are quoted as the reader wants it: a quote in one ends the quoting for that letter.
    """
    length = f"{float(1 / Fraction(exact_rate(fps))):.9f}"
    lines = [HEAD]
    for name in names:
        lines += [f"file {_quoted(name)}", f"duration {length}"]
    if names:
        lines.append(f"file {_quoted(names[-1])}")
    return "\n".join(lines) + "\n"


def _quoted(name: str) -> str:
    flat = name.replace("\n", " ").replace("\r", " ")
    return "'" + flat.replace("'", "'\\''") + "'"
