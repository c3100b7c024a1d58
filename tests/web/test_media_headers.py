"""Raw files, films and notes of cameras: read through slices, whole files never sent, nothing bad kept.

EXIF as Exiv2 wrote it (through pyexiv2) and as Pillow did; films as ffmpeg wrote them (through PyAV).
"""

from datetime import UTC, datetime, timedelta
from io import BytesIO
from pathlib import Path
from typing import Any

import numpy as np
import pyexiv2
import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse
from PIL import Image

from fotonomy.exchange.camera_notes import moment_note, number_note, zone_note
from fotonomy.exchange.errors import ExchangeError
from fotonomy.exchange.media_headers import (
    MOST_BYTES,
    MOST_SLICES,
    SLICE_BYTES,
    Head,
    Slice,
    SlicedFile,
    Wanted,
    read_head,
)
from fotonomy.exchange.notes_csv import read_notes
from fotonomy.exchange.pictures import read_preview
from fotonomy.field.models import CameraBody, PictureData, TakePicture
from fotonomy.shoots.models import Setup, Shoot
from fotonomy.simulators.films import film
from tests.web.test_field import logged
from tests.web.test_ingest import local, shown

pytestmark = pytest.mark.usefixtures("nothing_shot_yet")
AT = datetime(2027, 6, 5, 5, 20, 1, tzinfo=UTC)
KNOWN = {
    "Exif.Photo.ExposureTime": "1/50", "Exif.Photo.FNumber": "56/10",
    "Exif.Photo.ISOSpeedRatings": "500", "Exif.Photo.FocalLength": "35/1",
    "Exif.Photo.DateTimeOriginal": "2027:06:05 15:20:01", "Exif.Photo.SubSecTimeOriginal": "25",
    "Exif.Photo.OffsetTimeOriginal": "+10:00", "Exif.Photo.BodySerialNumber": "SN 0042",
}  # fmt: skip
NOTED = {
    "exposure_s": 0.02, "f_number": 5.6, "iso": 500, "focal_mm": 35,
    "taken": "2027-06-05T15:20:01.250000", "offset": "+10:00", "serial": "SN0042",
}  # fmt: skip


def noted_by_exiv2(path: Path, kind: str, size: tuple[int, int] = (600, 400)) -> bytes:
    """A picture of noise with known notes, written by a library that is not ours."""
    noise = np.random.default_rng(1).integers(0, 255, (*size[::-1], 3), dtype=np.uint8)
    Image.fromarray(noise).save(path, kind)
    with pyexiv2.Image(str(path)) as image:
        image.modify_exif(KNOWN)
    return path.read_bytes()


def walked(raw: bytes, name: str = "file") -> tuple[Head, int, int]:
    """As a window does it: what is asked for is sent; the answer, rounds and bytes."""
    slices: list[Slice] = []
    for rounds in range(1, 40):
        found = read_head(name, len(raw), slices)
        if isinstance(found, Head):
            return found, rounds, sum(len(one.data) for one in slices)
        slices.append(Slice(found.at, raw[found.at : found.at + found.length]))
    raise AssertionError("no end")


@pytest.mark.parametrize("kind", ["JPEG", "TIFF", "PNG"])
def test_what_exiv2_wrote_is_read(tmp_path: Path, kind: str) -> None:
    raw = noted_by_exiv2(tmp_path / "a", kind)
    assert read_preview(raw, "a", 480).wrote == NOTED


def test_a_raw_file_is_read_by_its_head_and_its_index(tmp_path: Path) -> None:
    """A TIFF as raw files are: 36 MB of picture, its index behind."""
    raw = noted_by_exiv2(tmp_path / "a", "TIFF", (4000, 3000))
    found, rounds, sent = walked(raw)
    assert found.wrote == NOTED
    assert (found.width, found.height, found.film) == (4000, 3000, False)
    assert len(raw) > 35_000_000
    assert sent < 1_000_000
    assert rounds <= 4


@pytest.mark.parametrize(("fps", "frames"), [(25.0, 100), (29.97, 300)])
def test_a_film_is_read_by_head_and_tail(fps: float, frames: int) -> None:
    raw = film(AT, frames, fps, 1280, 720)
    found, rounds, sent = walked(raw, "a.mov")
    assert found.film
    assert (found.width, found.height) == (1280, 720)
    assert found.wrote["fps"] == pytest.approx(fps, abs=0.001)
    exact = {25.0: 4.0, 29.97: 300 * 1001 / 30000}[fps]
    assert found.wrote["length_s"] == pytest.approx(exact, abs=0.002)
    assert (found.wrote["taken"], found.wrote["offset"]) == ("2027-06-05T05:20:01", "+00:00")
    assert sent < len(raw) / 2
    assert rounds <= 4


@pytest.mark.parametrize(
    "raw", [b"hello " * 500, bytes(600_000), np.random.default_rng(3).bytes(600_000), b"II*\x00"]
)
def test_what_is_neither_picture_nor_film_is_refused(raw: bytes) -> None:
    with pytest.raises(ExchangeError):
        walked(raw)


def test_a_film_that_was_cut_off_is_refused() -> None:
    raw = film(AT, 300, 25, 1280, 720)
    with pytest.raises(ExchangeError):
        walked(raw[: len(raw) // 2])


def test_slices_that_do_not_fit_and_readers_without_end_are_refused() -> None:
    whole = film(AT, 10, 25)
    for size, slices in (
        (0, []), (-1, []), (10**15, []), (100, [Slice(100, b"x")]), (100, [Slice(-1, b"x")]),
        (10**9, [Slice(0, b"x")] * (MOST_SLICES + 1)),
        (10**9, [Slice(0, bytes(MOST_BYTES + 1))]),
    ):  # fmt: skip
        with pytest.raises(ExchangeError):
            read_head("bad", size, slices)
    assert read_head("first", 40 * 10**9, []) == Wanted(0, SLICE_BYTES)
    assert isinstance(read_head("whole", len(whole), [Slice(0, whole)]), Head)


def test_a_sliced_file_reads_what_is_there_and_says_what_is_not() -> None:
    file = SlicedFile(1000, [Slice(0, b"a" * 10), Slice(500, b"b" * 10)])
    assert file.read(4) == b"aaaa"
    assert (file.tell(), file.wanted) == (4, None)
    file.seek(-492, 2)
    assert file.read(3) == b"bb"
    assert file.wanted == Wanted(510, 490)
    file.seek(900)
    assert file.read(5) == b""
    # The first that was missing is asked for first.
    assert file.wanted == Wanted(510, 490)
    file.seek(0, 2)
    assert file.read() == b""


def head_sent(client: Any, shoot: Shoot, raw: bytes, name: str, uid: str = "id-1") -> Any:
    """A file through the page's door, as its script does it."""
    slices = [(0, SLICE_BYTES)]
    for _ in range(40):
        sent = {
            "name": name, "size": str(len(raw)), "uid": uid, "at": [str(at) for at, _ in slices],
            "slice": [SimpleUploadedFile("s", raw[at : at + long]) for at, long in slices],
        }  # fmt: skip
        answer = client.post(
            reverse("home-head", args=[shoot.pk]), sent, headers={"Accept": "application/json"}
        )
        told = answer.json()
        if "want" not in told:
            return told
        slices.append(tuple(told["want"]))
    raise AssertionError("no end")


def test_a_film_comes_home_once_and_goes_to_its_take(
    demo_client: Any, demo: Shoot, launch: Setup
) -> None:
    take = logged(launch, uid="t", at=AT, length_s=4.0)
    raw = film(AT + timedelta(seconds=20), 100, 25)
    for _ in range(2):
        assert head_sent(demo_client, demo, raw, "A001.mov") == {"kept": 1, "words": ""}
    (row,) = TakePicture.objects.all()
    assert row.sha256 == ""
    assert not PictureData.objects.exists()
    (camera,) = shown(demo_client, demo).cameras
    # Its zone is universal time, ten hours behind the place.
    assert camera.offset == "−10:00:00"
    page = demo_client.get(reverse("takes-home", args=[demo.pk])).content.decode()
    assert "25 fps, film of 4 s" in page
    assert "no-copy" in page
    demo_client.post(reverse("home-match", args=[demo.pk]), {"serial": "", "offset": camera.offset})
    row.refresh_from_db()
    assert row.take_uid == take.uid
    for name in ("setup-takes", "edit", "actual", "takes-home"):
        args = [demo.pk, launch.pk] if name == "setup-takes" else [demo.pk]
        assert demo_client.get(reverse(name, args=args)).status_code == 200


def test_bad_heads_are_said_and_nothing_is_kept(demo_client: Any, demo: Shoot) -> None:
    assert "neither a picture nor a film" in head_sent(demo_client, demo, b"x" * 99, "a")["words"]
    address = reverse("home-head", args=[demo.pk])
    for sent in ({}, {"size": "x"}, {"size": "9" * 30}):
        assert demo_client.post(address, sent).status_code == 422
    assert not TakePicture.objects.exists()


CSV = b"""SourceFile;DateTimeOriginal;ExposureTime;FNumber;ISO;FocalLength;SerialNumber;ImageWidth
/card/DCIM/IMG_1.RAW;2027:06:05 15:20:01;1/50;5.6;500;35.0 mm;SN 0042;6000
C:\\x\\IMG_2.RAW;nonsense;fast;f/4;Auto;;;
;2027:06:05 15:20:01;;;;;;
"""


def test_notes_as_csv_are_pictures_without_a_picture(demo_client: Any, demo: Shoot) -> None:
    one, two = read_notes(CSV, "notes.csv")
    assert (one.name, one.width) == ("IMG_1.RAW", 6000)
    assert one.wrote == {
        "exposure_s": 0.02, "f_number": 5.6, "iso": 500, "focal_mm": 35,
        "taken": "2027-06-05T15:20:01", "serial": "SN0042",
    }  # fmt: skip
    assert (two.name, two.wrote) == ("IMG_2.RAW", {"f_number": 4.0})
    for _ in range(2):
        demo_client.post(
            reverse("home-add", args=[demo.pk]), {"still": SimpleUploadedFile("notes.csv", CSV)}
        )
    assert TakePicture.objects.count() == 2


@pytest.mark.parametrize(
    ("raw", "words"),
    [(b"", "names no file|empty"), (b"a,b\n1,2\n", "no column"), (b"file\n\n", "names no file"),
     (b"file\n" + b"x\n" * 3001, "more than 3000"), (bytes(4 * 2**20 + 1), "larger than")],
)  # fmt: skip
def test_notes_that_cannot_be_read_are_refused(raw: bytes, words: str) -> None:
    with pytest.raises(ExchangeError, match=words):
        read_notes(raw, "notes.csv")


@pytest.mark.parametrize(
    ("given", "number"),
    [("1/50", 0.02), ("0,5", 0.5), ("50.0 mm", 50), ("f/2.8", 2.8), ((1, 2), 1), ("1/0", None),
     ("", None), ("auto", None), (-3, None), (float("nan"), None), (float("inf"), None),
     (10**9, None), ([], None), (None, None)],
)  # fmt: skip
def test_numbers_of_cameras(given: Any, number: float | None) -> None:
    assert number_note(given) == number


def test_clocks_and_zones_of_cameras() -> None:
    assert moment_note("2027:06:05 15:20:01", 5) == "2027-06-05T15:20:01.500000"
    assert moment_note("2027:13:05 15:20:01") is None
    assert moment_note("    :  :     :  :  ") is None
    assert [zone_note(one) for one in ("+10:00", "-03:30", "+15:00", "Z", None)] == [
        "+10:00", "-03:30", None, None, None,
    ]  # fmt: skip


def test_a_camera_is_asked_for_once_and_goes_to_takes_of_its_body(
    demo_client: Any, demo: Shoot, launch: Setup
) -> None:
    """Two cameras at one moment: each picture goes to the take of its own body."""
    other = demo.setups.exclude(body=launch.body).first()
    assert other is not None
    other.shoot = demo
    mine = logged(launch, uid="mine", at=AT, length_s=5)
    theirs = logged(other, uid="theirs", at=AT + timedelta(seconds=2), length_s=5)
    mine.shoot = demo
    exif = Image.Exif()
    exif.get_ifd(0x8769).update({
        36867: f"{local(mine) + timedelta(seconds=1):%Y:%m:%d %H:%M:%S}", 42033: "B7",
    })  # fmt: skip
    out = BytesIO()
    Image.new("RGB", (64, 48), (90, 90, 90)).save(out, "JPEG", exif=exif)
    demo_client.post(
        reverse("home-add", args=[demo.pk]), {"still": SimpleUploadedFile("b.jpg", out.getvalue())}
    )
    demo_client.post(
        reverse("home-body", args=[demo.pk]), {"serial": "B7", "body": str(other.body_id)}
    )
    (camera,) = shown(demo_client, demo).cameras
    assert (camera.name, camera.body_id, camera.asks) == ("Camera B7", other.body_id, "")
    demo_client.post(reverse("home-match", args=[demo.pk]), {"serial": "B7", "offset": "0:00"})
    assert TakePicture.objects.get().take_uid == theirs.uid
    demo_client.post(reverse("home-body", args=[demo.pk]), {"serial": "B7", "body": ""})
    assert not CameraBody.objects.exists()
    demo_client.post(reverse("home-body", args=[demo.pk]), {"serial": "B7", "body": "999999"})
    assert not CameraBody.objects.exists()


def test_forty_gigabytes_are_read_in_a_few_slices() -> None:
    """A film whose picture data is 40 GB of nothing, its index behind: ISO/IEC 14496-12 boxes."""
    raw = film(AT, 100, 25)
    index = raw[raw.index(b"moov") - 4 :]
    length = 40 * 10**9
    head = raw[:20] + (1).to_bytes(4) + b"mdat" + (16 + length).to_bytes(8)
    size = len(head) + length + len(index)

    def part(at: int, long: int) -> bytes:
        found = bytearray(long)
        for start, piece in ((0, head), (size - len(index), index)):
            first, last = max(at, start), min(at + long, start + len(piece))
            if first < last:
                found[first - at : last - at] = piece[first - start : last - start]
        return bytes(found)

    slices: list[Slice] = []
    while isinstance(found := read_head("large.mov", size, slices), Wanted):
        assert found.at + found.length <= size
        slices.append(Slice(found.at, part(found.at, found.length)))
    assert found.film
    assert found.wrote["length_s"] == pytest.approx(4.0)
    assert found.wrote["taken"] == "2027-06-05T05:20:01"
    assert sum(len(one.data) for one in slices) < 2_000_000
    assert len(slices) <= 6
