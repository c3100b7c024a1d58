"""Notes of a camera as CSV: a row a file, columns by their EXIF names, in any order.

The file's name stands under FileName, SourceFile, file or name; Duration and VideoFrameRate are
those of films.
"""

import csv
import re
from dataclasses import dataclass, field
from io import StringIO
from typing import Any

from fotonomy.core.notation.texts import without_unkeepable
from fotonomy.exchange.camera_notes import notes, number_note
from fotonomy.exchange.errors import ExchangeError

LARGEST_BYTES = 4 * 1024 * 1024
MOST_ROWS = 3000
_OTHER_NAMES = {
    "PhotographicSensitivity": ("iso", "isospeedratings"),
    "BodySerialNumber": ("serialnumber", "cameraserialnumber"),
    "OffsetTimeOriginal": ("offsettime",), "DateTimeOriginal": ("datetime", "createdate"),
    "SubSecTimeOriginal": ("subsectime",), "Model": ("cameramodelname", "cameramodel"),
}  # fmt: skip
_NAMES = ("filename", "sourcefile", "file", "name")


@dataclass(frozen=True, slots=True)
class NotedFile:
    """A row: the file's name, what was noted, its size in pixels (1 where nobody says)."""

    name: str
    wrote: dict[str, Any] = field(default_factory=dict)
    width: int = 1
    height: int = 1


def read_notes(raw: bytes, name: str) -> list[NotedFile]:
    """The rows of a file of notes. Raises ExchangeError with the place of the fault."""
    if len(raw) > LARGEST_BYTES:
        raise ExchangeError(name, f"larger than {LARGEST_BYTES // 2**20} MB")
    try:
        text = raw.decode("utf-8-sig")
    except UnicodeDecodeError:
        text = raw.decode("latin-1")
    text = without_unkeepable(text)
    head = text.partition("\n")[0]
    mark = max(",;\t", key=head.count)
    try:
        rows = list(csv.reader(StringIO(text, newline=""), delimiter=mark))
    except csv.Error as error:
        raise ExchangeError(name, "is no CSV that can be read") from error
    if not rows:
        raise ExchangeError(name, "an empty file")
    columns = {_plain(cell): at for at, cell in enumerate(rows[0])}
    at = next((columns[one] for one in _NAMES if one in columns), None)
    if at is None:
        raise ExchangeError(f"{name}: row 1", "no column FileName, SourceFile, file or name")
    if len(rows) - 1 > MOST_ROWS:
        raise ExchangeError(name, f"more than {MOST_ROWS} rows")
    found = []
    for row in rows[1:]:
        file = row[at].strip() if at < len(row) else ""
        if file:
            found.append(_noted(re.split(r"[/\\]", file)[-1][:80], row, columns))
    if not found:
        raise ExchangeError(name, "names no file")
    return found


def _plain(cell: str) -> str:
    return re.sub(r"[^a-z0-9]", "", cell.lower())


def _noted(file: str, row: list[str], columns: dict[str, int]) -> NotedFile:
    def cell(*names: str) -> str | None:
        for one in names:
            at = columns.get(one)
            if at is not None and at < len(row) and row[at].strip():
                return row[at].strip()
        return None

    wrote = notes(lambda name: cell(name.lower(), *_OTHER_NAMES.get(name, ())))
    for name, column in (("length_s", "duration"), ("fps", "videoframerate")):
        value = number_note(cell(column))
        if value is not None:
            wrote[name] = value
    width, height = (
        min(100_000, max(1, round(number_note(cell(*names)) or 1)))
        for names in (("imagewidth", "exifimagewidth"), ("imageheight", "exifimageheight"))
    )
    return NotedFile(file, wrote, width, height)
