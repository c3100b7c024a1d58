"""Pictures, in and out. What comes in is looked at before it is unpacked."""

from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from io import BytesIO
from threading import Lock
from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray
from PIL import Image, ImageFile, ImageOps, UnidentifiedImageError

from fotonomy.exchange.camera_notes import notes
from fotonomy.exchange.errors import ExchangeError

LARGEST_PICTURE_BYTES = 64 * 1024 * 1024
# A frame of 8K and some more; a picture of more is no frame of video.
MOST_PIXELS = 36_000_000
# A still of a phone or a camera, of which a preview is made: a JPEG is unpacked at a fraction.
MOST_STILL_PIXELS = 150_000_000
PREVIEW_PX = 1600
# Only the middle of a frame is measured: enough pixels, and no corners.
MIDDLE_PX = 2048
FORMATS = ("PNG", "TIFF", "JPEG")
# A file that unpacks to this many times its size is a bomb: a grey wall as a small JPEG comes to
# sixty or so, an even picture to thousands.
MOST_UNPACKED = 400
# One frame is unpacked at a time, whoever asks: so much memory and no more.
_UNPACKING = Lock()
LONGEST_WAIT_S = 20.0


def write_jpeg(picture: NDArray[np.uint8], quality: int = 88) -> bytes:
    """Red, green, blue as a JPEG."""
    done, data = cv2.imencode(
        ".jpg", picture[:, :, ::-1], [cv2.IMWRITE_JPEG_QUALITY, quality]
    )  # fmt: skip
    if not done:
        raise ValueError("the picture could not be written")
    return bytes(data)


def write_webp(picture: NDArray[np.uint8], quality: int = 60) -> bytes:
    """Red, green, blue as a WebP, half as large as a JPEG of the same look."""
    done, data = cv2.imencode(
        ".webp", picture[:, :, ::-1], [cv2.IMWRITE_WEBP_QUALITY, quality]
    )  # fmt: skip
    if not done:
        raise ValueError("the picture could not be written")
    return bytes(data)


def reduced(picture: NDArray[np.uint8], by: int) -> NDArray[np.uint8]:
    """A picture with both sides divided, each pixel the mean of those it stands for."""
    size = (picture.shape[1] // by, picture.shape[0] // by)
    return np.asarray(cv2.resize(picture, size, interpolation=cv2.INTER_AREA), dtype=np.uint8)


def write_png(frame: NDArray[Any]) -> bytes:
    """One channel of 8 or 16 bits, or three of them, as a PNG."""
    done, data = cv2.imencode(".png", frame)
    if not done:
        raise ValueError("the frame could not be written")
    return bytes(data)


@dataclass(frozen=True, slots=True)
class Preview:
    """A small JPEG of a still, the size of the still upright in pixels, and what its camera wrote.

    ``wrote`` has those that are there of: exposure_s, f_number, iso, focal_mm, taken (the camera's
    clock, without a zone, ISO 8601), offset (its zone, "+10:00"), serial.
    """

    jpeg: bytes
    width: int
    height: int
    wrote: dict[str, Any]


def read_preview(raw: bytes, name: str, most_px: int = PREVIEW_PX) -> Preview:
    """A preview of an uploaded still, upright, without what else the file says of its owner.

    No side of it is longer than ``most_px``. Raises ExchangeError, naming the file, for what is
    no picture or too large.
    """
    if len(raw) > LARGEST_PICTURE_BYTES:
        raise ExchangeError(name, f"larger than {LARGEST_PICTURE_BYTES // 2**20} MB")
    if not raw:
        raise ExchangeError(name, "an empty file")
    head = _head(raw, name)
    if head.width * head.height > MOST_STILL_PIXELS:
        raise ExchangeError(name, f"{head.width} x {head.height} pixels are more than a still has")
    if head.unpacked_bytes > MOST_UNPACKED * len(raw) and head.width * head.height > 1_000_000:
        raise ExchangeError(name, "unpacks to far more than its size: no photograph")
    with _unpacking(name), Image.open(BytesIO(raw), formats=FORMATS) as still:
        if still.format != "JPEG" and head.width * head.height > MOST_PIXELS:
            raise ExchangeError(name, "too large for its kind: save it as a JPEG")
        wrote = _written_by_camera(still)
        still.draft("RGB", (most_px, most_px))
        upright = ImageOps.exif_transpose(still)
        upright.thumbnail((most_px, most_px))
        out = BytesIO()
        upright.convert("RGB").save(out, "JPEG", quality=84)
        lies = (upright.width > upright.height) != (head.width > head.height)
    wide, high = (head.height, head.width) if lies else (head.width, head.height)
    return Preview(out.getvalue(), wide, high, wrote)


@contextmanager
def _unpacking(name: str) -> Iterator[None]:
    """One picture is unpacked at a time; a damaged one is told as such, and never half read."""
    if not _UNPACKING.acquire(timeout=LONGEST_WAIT_S):
        raise ExchangeError(name, "other pictures are being unpacked: try again in a minute")
    # The library that makes PDF lets half a picture pass for a whole one, in the whole process.
    lenient, ImageFile.LOAD_TRUNCATED_IMAGES = ImageFile.LOAD_TRUNCATED_IMAGES, False
    try:
        yield
    except ExchangeError:
        raise
    except Exception as error:
        # Whatever a damaged file does to the reader, it is a damaged file.
        raise ExchangeError(name, "could not be unpacked: damaged, or of a rare kind") from error
    finally:
        ImageFile.LOAD_TRUNCATED_IMAGES = lenient
        _UNPACKING.release()


MOST_TILES = 200 * 200
# A larger still is looked at in its preview alone.
MOST_LOOKED_AT = 64_000_000


def read_luma(raw: bytes, name: str) -> NDArray[np.uint8] | None:
    """The luma of an uploaded still as it is, upright, ``(rows, columns)``; None if too large.

    Raises ExchangeError as ``read_preview``, which has looked at the file before.
    """
    head = _head(raw, name)
    if head.width * head.height > MOST_LOOKED_AT:
        return None
    with _unpacking(name), Image.open(BytesIO(raw), formats=FORMATS) as still:
        # Of a JPEG the luma alone is unpacked.
        still.draft("L", still.size)
        ImageOps.exif_transpose(still, in_place=True)
        return np.asarray(still if still.mode == "L" else still.convert("L"), dtype=np.uint8)


def read_png16(raw: bytes) -> NDArray[np.uint16]:
    """A small PNG of three channels of 16 bits. Raises ExchangeError for anything else."""
    head = _head(raw, "tiles")
    if head.width * head.height > MOST_TILES:
        raise ExchangeError("tiles", "more of them than a picture has")
    found = cv2.imdecode(np.frombuffer(raw, dtype=np.uint8), cv2.IMREAD_UNCHANGED)
    if found is None or found.dtype != np.uint16 or found.ndim != 3:
        raise ExchangeError("tiles", "no picture of three channels of 16 bits")
    return np.asarray(found, dtype=np.uint16)


def read_pixels(jpeg: bytes) -> NDArray[np.uint8]:
    """A preview unpacked, ``(rows, columns, 3)``, red, green, blue."""
    with Image.open(BytesIO(jpeg), formats=("JPEG",)) as still:
        return np.asarray(still.convert("RGB"), dtype=np.uint8)


# EXIF 2.32 tags (CIPA DC-008) by their names.
_TAGS = {
    "ExposureTime": 33434,
    "FNumber": 33437,
    "PhotographicSensitivity": 34855,
    "FocalLength": 37386,
    "DateTimeOriginal": 36867,
    "SubSecTimeOriginal": 37521,
    "OffsetTimeOriginal": 36881,
    "BodySerialNumber": 42033,
}
# Stands in the first directory of the file, not in that of EXIF.
_MODEL = 272  # fmt: skip


def _written_by_camera(still: Image.Image) -> dict[str, Any]:
    """What the camera wrote down, as far as it makes sense."""
    try:
        tags = still.getexif()
        given = {**tags.get_ifd(0x8769), _MODEL: tags.get(_MODEL)}
    except Exception:
        return {}
    return notes(lambda name: given.get(_MODEL if name == "Model" else _TAGS[name]))


@dataclass(frozen=True)
class Frame:
    """The middle of a frame, one channel of 8 or 16 bits, and the size of the whole."""

    pixels: NDArray[Any]
    width: int
    height: int


def read_frame(raw: bytes, name: str) -> Frame:
    """The green channel of an uploaded frame, or its only one: integers of 8 or 16 bits.

    Raises ExchangeError, naming the file, for what is no PNG, TIFF or JPEG, is too large or
    too small, hides more than it says, or has another depth.
    """
    if len(raw) > LARGEST_PICTURE_BYTES:
        raise ExchangeError(name, f"larger than {LARGEST_PICTURE_BYTES // 2**20} MB")
    if not raw:
        raise ExchangeError(name, "an empty file")
    head = _head(raw, name)
    width, height = head.width, head.height
    if width * height > MOST_PIXELS:
        raise ExchangeError(name, f"{width} x {height} pixels are more than a frame of video has")
    if head.unpacked_bytes > MOST_UNPACKED * len(raw) and width * height > 10_000:
        raise ExchangeError(name, "unpacks to far more than its size: an even picture, no frame")
    if head.pages > 1:
        raise ExchangeError(name, f"holds {head.pages} pictures: save one frame")
    if not _UNPACKING.acquire(timeout=LONGEST_WAIT_S):
        raise ExchangeError(name, "other frames are being unpacked: try again in a minute")
    try:
        return _unpacked(raw, name, width, height)
    finally:
        _UNPACKING.release()


def _unpacked(raw: bytes, name: str, width: int, height: int) -> Frame:
    found = cv2.imdecode(np.frombuffer(raw, dtype=np.uint8), cv2.IMREAD_UNCHANGED)
    if found is None:
        raise ExchangeError(name, "could not be unpacked: damaged, or of a rare kind")
    if found.dtype not in (np.uint8, np.uint16):
        raise ExchangeError(name, f"{found.dtype} values: save it with 8 or 16 bits")
    # Blue, green, red: green carries most of what a sensor sees.
    green = found if found.ndim == 2 else found[:, :, 1]
    top, left = max(0, (height - MIDDLE_PX) // 2), max(0, (width - MIDDLE_PX) // 2)
    middle = green[top : top + MIDDLE_PX, left : left + MIDDLE_PX]
    return Frame(np.ascontiguousarray(middle), width, height)


@dataclass(frozen=True, slots=True)
class Head:
    """What the head of a picture says: its size in pixels, its pages, and its bytes unpacked."""

    width: int
    height: int
    pages: int
    unpacked_bytes: int


# PNG: the depth of a channel stands in the first chunk. TIFF: in this tag.
_PNG_DEPTH_AT, _TIFF_DEPTH = 24, 258


def _head(raw: bytes, name: str) -> Head:
    """The head of a file, nothing unpacked."""
    try:
        with Image.open(BytesIO(raw), formats=FORMATS) as head:
            depth = 8
            if head.format == "PNG":
                depth = raw[_PNG_DEPTH_AT]
            elif head.format == "TIFF":
                depth = max(head.tag_v2.get(_TIFF_DEPTH, (8,)))  # type: ignore[attr-defined]
            # A palette is unpacked to three channels.
            channels = 3 if head.mode == "P" else len(head.getbands())
            unpacked = head.width * head.height * channels * max(1, -(-depth // 8))
            return Head(head.width, head.height, getattr(head, "n_frames", 1), unpacked)
    except Image.DecompressionBombError:
        raise ExchangeError(name, "more pixels than a frame or a still has") from None
    except (UnidentifiedImageError, OSError, ValueError, SyntaxError, TypeError, KeyError):
        raise ExchangeError(name, f"not a picture of the kinds {', '.join(FORMATS)}") from None
