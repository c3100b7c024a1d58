"""Files that are never sent whole: raw pictures and films, read through slices of them.

A reader asks for what it needs; what is not there yet is asked for. A film of 40 GB takes its head
and, where its index stands at the end, its tail.
"""

import io
import logging
from collections.abc import Sequence
from dataclasses import dataclass, field
from datetime import UTC, datetime
from typing import Any

from fotonomy.exchange.camera_notes import (
    model_note,
    moment_note,
    notes,
    number_note,
    serial_note,
)
from fotonomy.exchange.errors import ExchangeError
from fotonomy.exchange.pictures import Preview, read_preview

# A slice is so long at least; more than so much of a file in all is not asked for.
SLICE_BYTES = 256 * 1024
MOST_BYTES = 12 * 1024 * 1024
LARGEST_FILE = 4 * 1024**4
MOST_SLICES = 48


@dataclass(frozen=True, slots=True)
class Slice:
    """A part of a file: where it begins, and its bytes."""

    at: int
    data: bytes


@dataclass(frozen=True, slots=True)
class Wanted:
    """What has to be sent before more can be said: where it begins, and how long it is."""

    at: int
    length: int


@dataclass(frozen=True, slots=True)
class Head:
    """What stands in a file: what was noted, its size in pixels, a small picture where it has one.

    ``film`` is true for what moves.
    """

    wrote: dict[str, Any] = field(default_factory=dict)
    width: int = 1
    height: int = 1
    film: bool = False
    jpeg: bytes = b""


class SlicedFile(io.RawIOBase):
    """A file of which only slices are there; ``wanted`` is what was read for and is missing."""

    def __init__(self, size: int, slices: Sequence[Slice]) -> None:
        super().__init__()
        self.size = size
        self.slices = sorted(slices, key=lambda one: one.at)
        self.at = 0
        self.wanted: Wanted | None = None

    def readable(self) -> bool:
        """It is."""
        return True

    def seekable(self) -> bool:
        """It is."""
        return True

    def tell(self) -> int:
        """Where it is read next."""
        return self.at

    def seek(self, offset: int, whence: int = io.SEEK_SET) -> int:
        """Go somewhere; before the beginning is the beginning."""
        base = {io.SEEK_SET: 0, io.SEEK_CUR: self.at, io.SEEK_END: self.size}[whence]
        self.at = max(0, base + offset)
        return self.at

    def read(self, size: int | None = -1) -> bytes:
        """Bytes from here on, as far as a slice goes; none where none is there."""
        rest = self.size - self.at
        length = rest if size is None or size < 0 else min(size, rest)
        if length <= 0:
            return b""
        for one in self.slices:
            if one.at <= self.at < one.at + len(one.data):
                found = one.data[self.at - one.at : self.at - one.at + length]
                self.at += len(found)
                if len(found) < length and self.wanted is None:
                    self._want(self.at, length - len(found))
                return found
        if self.wanted is None:
            self._want(self.at, length)
        return b""

    def _want(self, at: int, length: int) -> None:
        here = min(max(length, SLICE_BYTES), SLICE_BYTES * 8, self.size - at)
        if here > 0:
            self.wanted = Wanted(at, here)


def read_head(name: str, size: int, slices: Sequence[Slice]) -> Head | Wanted:
    """What a file says of itself, or what has to be sent first. Raises ExchangeError.

    ``slices`` are all that were sent so far.
    """
    if not 0 < size <= LARGEST_FILE:
        raise ExchangeError(name, "an empty file" if size <= 0 else "larger than any file")
    if len(slices) > MOST_SLICES or any(not 0 <= one.at < size for one in slices):
        raise ExchangeError(name, "slices that do not fit it")
    sent = sum(len(one.data) for one in slices)
    if sent > MOST_BYTES:
        raise ExchangeError(name, "says too little in too much: damaged, or of a rare kind")
    if not slices:
        return Wanted(0, min(size, SLICE_BYTES))
    still = _raw(name, SlicedFile(size, slices))
    if still is not None:
        return still
    film = _film(SlicedFile(size, slices))
    if film is not None:
        return film
    raise ExchangeError(name, "neither a picture nor a film that can be read")


_EXIF = {
    "ExposureTime": "EXIF ExposureTime", "FNumber": "EXIF FNumber",
    "PhotographicSensitivity": "EXIF ISOSpeedRatings", "FocalLength": "EXIF FocalLength",
    "DateTimeOriginal": "EXIF DateTimeOriginal", "SubSecTimeOriginal": "EXIF SubSecTimeOriginal",
    "OffsetTimeOriginal": "EXIF OffsetTimeOriginal", "BodySerialNumber": "EXIF BodySerialNumber",
    "Model": "Image Model",
}  # fmt: skip


def _raw(name: str, file: SlicedFile) -> Head | Wanted | None:
    """A picture by ExifRead; None where it is none."""
    import exifread

    # It tells the log of each file it does not know; here that is told to who sent it.
    logging.getLogger("exifread").setLevel(logging.CRITICAL)
    try:
        reader: Any = file
        tags = exifread.process_file(reader, details=False, extract_thumbnail=True)
    except Exception:
        # Whatever a damaged or foreign file does to the reader.
        tags = {}
    if not tags:
        # What is no picture to it is not read on; in a picture it may lie further on.
        return file.wanted

    def get(key: str) -> Any:
        tag = tags.get(_EXIF[key])
        return None if tag is None else getattr(tag, "values", None)

    wrote = notes(get)
    if file.wanted is not None and not {"exposure_s", "taken"} <= wrote.keys():
        return file.wanted
    jpeg = tags.get("JPEGThumbnail") or b""
    small = _thumbnail(name, bytes(jpeg))
    width, height = (
        max((round(number_note(getattr(tags.get(f"{where} {name}"), "values", None)) or 1)
             for where, name in places), default=1)
        for places in ((("EXIF", "ExifImageWidth"), ("Image", "ImageWidth")),
                       (("EXIF", "ExifImageLength"), ("Image", "ImageLength")))
    )  # fmt: skip
    return Head(wrote, min(100_000, width), min(100_000, height), jpeg=small)


def _thumbnail(name: str, jpeg: bytes) -> bytes:
    """The small picture of a raw file as a copy of ours; nothing where it is damaged."""
    if not jpeg:
        return b""
    try:
        found: Preview = read_preview(jpeg, name, 480)
    except ExchangeError:
        return b""
    return found.jpeg


def _film(file: SlicedFile) -> Head | Wanted | None:
    """A film by MediaInfo; None where it is none."""
    from pymediainfo import MediaInfo

    found = MediaInfo.parse(file, buffer_size=64 * 1024)
    videos = [track for track in found.tracks if track.track_type == "Video"]
    if not videos:
        return file.wanted if file.wanted is not None and _is_film(found) else None
    video, general = videos[0], found.tracks[0]
    length_s = _seconds(video.duration) or _seconds(general.duration)
    if length_s is None and file.wanted is not None:
        return file.wanted
    wrote = {
        "length_s": length_s, "fps": number_note(video.frame_rate),
        "serial": serial_note(getattr(general, "comapplequicktimeserial", None)),
        "model": model_note(getattr(general, "comapplequicktimemodel", None)),
        **_when(general, video),
    }  # fmt: skip
    return Head(
        {name: value for name, value in wrote.items() if value is not None},
        min(100_000, max(1, int(video.width or 1))), min(100_000, max(1, int(video.height or 1))),
        film=True,
    )  # fmt: skip


def _is_film(found: Any) -> bool:
    return any(track.format for track in found.tracks)


def _seconds(milliseconds: Any) -> float | None:
    value = number_note(str(milliseconds) if milliseconds is not None else None)
    return None if value is None else round(value / 1000, 3)


def _when(general: Any, video: Any) -> dict[str, Any]:
    """When it began: films keep universal time, said so with its zone."""
    for text in (general.encoded_date, video.encoded_date, general.recorded_date):
        said = str(text or "").replace("UTC", "").strip()
        taken = moment_note(said)
        if taken is not None and datetime.fromisoformat(taken).replace(tzinfo=UTC).year > 1971:
            return {"taken": taken, "offset": "+00:00"}
    return {}
