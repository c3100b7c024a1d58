"""The files that the takes of a shoot are written as: a line each; page and addresses follow."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from fotonomy.exchange.edit.clips import EditClip
from fotonomy.exchange.edit.edl import to_edl
from fotonomy.exchange.edit.timeline import to_otio


@dataclass(frozen=True, slots=True)
class EditFormat:
    """One of them: the end of its name, what it is called, what is in it, and who writes it.

    ``write`` is given the name of the shoot, its clips and the frame rate of the edit.
    """

    suffix: str
    label: str
    words: str
    content_type: str
    write: Callable[[str, Sequence[EditClip], float], str]


FORMATS = [
    EditFormat(
        "otio", "Timeline",
        "All takes as OpenTimelineIO, with what was planned and set, and a marker that says what "
        "was thought of each.", "application/json", to_otio,
    ),
    EditFormat(
        "edl", "Edit decision list", "Usable takes in order from 01:00:00:00 (CMX 3600).",
        "text/plain; charset=utf-8", to_edl,
    ),
]  # fmt: skip
