"""Pictures of takes: kept once, small, without what a file tells of people; refused in words.

EXIF numbers are those of CIPA DC-008 (EXIF 2.32); the files are written by Pillow.
"""

import json
from io import BytesIO
from typing import Any

import numpy as np
import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client
from django.urls import reverse
from PIL import Image
from PIL.TiffImagePlugin import IFDRational as Ratio

from fotonomy.exchange.errors import ExchangeError
from fotonomy.exchange.pictures import PREVIEW_PX, read_preview
from fotonomy.field import pictures as services
from fotonomy.field.models import PictureData, Take, TakePicture
from fotonomy.kit.quotas import stored
from fotonomy.shoots import history
from fotonomy.shoots.models import Setup, Shoot
from tests.web.test_takes import logged

# The log and the crew begin empty here.
pytestmark = pytest.mark.usefixtures("nothing_shot_yet")

EXPOSURE = 0x8769
MODEL = 272


def photo(
    width: int = 640, height: int = 400, exif: dict[int, Any] | None = None, turned: int = 0,
    kind: str = "JPEG", seed: int = 1,
) -> bytes:  # fmt: skip
    """A photograph of noise with a bright left half."""
    noise = np.random.default_rng(seed).integers(0, 60, (height, width, 3), dtype=np.uint8)
    noise[:, : width // 2] += 150
    still, out = Image.fromarray(noise), BytesIO()
    tags = still.getexif()
    if turned:
        tags[0x0112] = turned
    for tag, value in (exif or {}).items():
        # What the camera is called stands in the first directory, the rest in that of EXIF.
        (tags if tag == MODEL else tags.get_ifd(EXPOSURE))[tag] = value
    # Where it was taken: this must not be kept.
    tags.get_ifd(0x8825)[1] = "S"
    still.save(out, kind, exif=tags, quality=90)
    return out.getvalue()


def upload(raw: bytes, name: str = "test frame.jpg") -> SimpleUploadedFile:
    return SimpleUploadedFile(name, raw, "image/jpeg")


def at(name: str, shoot: Shoot, *rest: Any) -> str:
    return reverse(name, args=[shoot.pk, *rest])


WROTE = {
    33434: Ratio(1, 50), 33437: Ratio(28, 10), 34855: 800, 37386: Ratio(350, 10),
    36867: "2027:06:05 15:24:09", 36881: "+10:00", 42033: "SN 4/711",
}  # fmt: skip


def test_what_the_camera_wrote_is_read() -> None:
    found = read_preview(photo(exif=WROTE), "a.jpg")
    assert found.wrote == {
        "exposure_s": 0.02, "f_number": 2.8, "iso": 800.0, "focal_mm": 35.0,
        "taken": "2027-06-05T15:24:09", "offset": "+10:00", "serial": "SN4711",
    }  # fmt: skip
    assert (found.width, found.height) == (640, 400)


def test_lying_exif_is_left_out() -> None:
    lies = {
        33434: Ratio(1, 0),
        33437: Ratio(0, 1),
        34855: 0,
        36867: "2027:13:45 99:00:00",
        36881: "Hobart",
    }
    assert read_preview(photo(exif=lies), "a.jpg").wrote == {}
    assert read_preview(photo(kind="PNG"), "a.png").wrote == {}


def test_the_copy_is_small_upright_and_tells_nothing_else() -> None:
    found = read_preview(photo(4000, 2400, exif=WROTE, turned=6), "a.jpg")
    with Image.open(BytesIO(found.jpeg)) as copy:
        # Orientation 6: the camera was held upright; the copy stands so, its bright half on top.
        assert copy.size == (PREVIEW_PX * 2400 // 4000, PREVIEW_PX)
        pixels = np.asarray(copy.convert("L"), dtype=float)
        assert not dict(copy.getexif())
    assert pixels[:700].mean() > pixels[900:].mean() + 100
    assert len(found.jpeg) < 1_500_000


@pytest.mark.parametrize(
    ("raw", "words"),
    [(b"", "empty"), (b"no picture at all", "not a picture"), (photo()[:3000], "could not be unpacked"),
     (b"GIF89a" + bytes(50), "not a picture")],
)  # fmt: skip
def test_what_is_no_picture_is_refused(raw: bytes, words: str) -> None:
    with pytest.raises(ExchangeError) as error:
        read_preview(raw, "x.jpg")
    assert words in error.value.problem


def test_a_bomb_is_refused_before_it_is_unpacked() -> None:
    out = BytesIO()
    Image.new("L", (8000, 6000)).save(out, "PNG")
    with pytest.raises(ExchangeError) as error:
        read_preview(out.getvalue(), "bomb.png")
    assert "unpacks to far more" in error.value.problem
    with pytest.raises(ExchangeError) as error:
        read_preview(header_of_jpeg(20_000, 20_000), "wall.jpg")
    assert "more pixels" in error.value.problem


def header_of_jpeg(width: int, height: int) -> bytes:
    """A small JPEG whose head says another size."""
    raw = bytearray(photo(64, 64))
    start = raw.index(b"\xff\xc0")
    raw[start + 5 : start + 9] = height.to_bytes(2, "big") + width.to_bytes(2, "big")
    return bytes(raw)


def test_a_take_is_logged_with_its_picture(demo_client: Any, demo: Shoot, launch: Setup) -> None:
    sent = {
        "uid": "p-1",
        "verdict": "good",
        "picture": upload(photo(exif=WROTE)),
        "picture_uid": "q-1",
    }
    answer = demo_client.post(at("field-take", demo, launch.pk), sent, follow=True)
    assert "kept: good" in answer.content.decode()
    take, row = Take.objects.get(uid="p-1"), TakePicture.objects.get()
    assert (row.take_uid, row.uid, row.name) == ("p-1", "q-1", "test frame.jpg")
    page = demo_client.get(at("take-edit", demo, take.pk)).content.decode()
    assert "1/50, f/2.8, ISO 800, 35 mm, camera clock 15:24, 640 × 400 px" in page
    shown = demo_client.get(at("picture", demo, row.pk))
    assert shown["Content-Type"] == "image/jpeg"
    assert "private" in shown["Cache-Control"]
    assert Image.open(BytesIO(shown.content)).size == (640, 400)
    assert "1 picture" in demo_client.get(at("field-remains", demo, launch.day_id)).content.decode()


def test_a_bad_picture_does_not_lose_the_take(demo_client: Any, demo: Shoot, launch: Setup) -> None:
    sent = {"uid": "p-1", "verdict": "good", "picture": upload(b"nonsense")}
    answer = demo_client.post(at("field-take", demo, launch.pk), sent, follow=True)
    text = answer.content.decode()
    assert "kept: good" in text
    assert "Its picture was not kept" in text
    assert Take.objects.filter(uid="p-1").exists()
    assert not TakePicture.objects.exists()


def test_a_picture_sent_twice_is_there_once(demo_client: Any, demo: Shoot, launch: Setup) -> None:
    take, raw = logged(launch), photo()
    headers = {"Accept": "application/json"}
    for _ in range(2):
        sent = {"picture": upload(raw), "uid": "q-1"}
        answer = demo_client.post(at("picture-add", demo, take.uid), sent, headers=headers)
        assert answer.json() == {"kept": True, "words": ""}
    assert TakePicture.objects.count() == 1
    demo_client.post(at("picture-add", demo, take.uid), {"picture": upload(raw), "uid": "q-2"})
    assert (TakePicture.objects.count(), PictureData.objects.count()) == (2, 1)
    entry = {"uid": take.uid, "kind": "take", "setup": launch.pk, "verdict": "good"}
    answer = demo_client.post(
        at("field-send", demo), json.dumps({"entries": [entry]}), content_type="application/json"
    )
    assert sorted(answer.json()["results"][0]["pictures"]) == ["q-1", "q-2"]


def test_pictures_are_removed_and_come_back(demo_client: Any, demo: Shoot, launch: Setup) -> None:
    take = logged(launch)
    demo_client.post(at("picture-add", demo, take.uid), {"picture": upload(photo()), "uid": "q-1"})
    row = TakePicture.objects.get()
    demo_client.post(at("picture-drop", demo, row.pk))
    assert not TakePicture.objects.exists()
    assert demo_client.get(at("picture", demo, row.pk)).status_code == 404
    history.undo(demo)
    assert demo_client.get(at("picture", demo, row.pk)).status_code == 200
    # A take that is deleted and brought back has its picture.
    demo_client.post(at("take-delete", demo, take.pk))
    history.undo(demo)
    assert "take-picture" in demo_client.get(at("take-edit", demo, take.pk)).content.decode()


def test_wrong_uploads_are_told(
    demo_client: Any, demo: Shoot, launch: Setup, monkeypatch: Any
) -> None:
    take = logged(launch)
    address, headers = at("picture-add", demo, take.uid), {"Accept": "application/json"}
    answer = demo_client.post(address, {}, headers=headers)
    assert (answer.status_code, answer.json()["words"]) == (422, "Choose a picture first")
    monkeypatch.setattr(services, "MOST_A_TAKE", 1)
    demo_client.post(address, {"picture": upload(photo()), "uid": "q-1"})
    answer = demo_client.post(
        address, {"picture": upload(photo(seed=2)), "uid": "q-2"}, headers=headers
    )
    assert "1 pictures at most" in answer.json()["words"]
    assert demo_client.post(at("picture-add", demo, "nothing"), {}).status_code == 404


def test_pictures_count_in_what_one_may_keep(demo_client: Any, demo: Shoot, launch: Setup) -> None:
    take, before = logged(launch), stored(demo.owner).count
    demo_client.post(at("picture-add", demo, take.uid), {"picture": upload(photo())})
    held = len(PictureData.objects.get().jpeg) / 1e6
    assert held > 0.01
    assert stored(demo.owner).count - before >= held


def test_nobody_else_sees_a_picture(
    demo_client: Any, demo: Shoot, launch: Setup, stranger: Any
) -> None:
    take = logged(launch)
    demo_client.post(at("picture-add", demo, take.uid), {"picture": upload(photo())})
    client = Client()
    client.force_login(stranger)
    assert client.get(at("picture", demo, TakePicture.objects.get().pk)).status_code == 404
