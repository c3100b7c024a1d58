"""What a test frame says beside its levels, through the door people use: upload, page, archive."""

from dataclasses import replace
from io import BytesIO
from typing import Any

import cv2
import numpy as np
import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse
from PIL import Image

from fotonomy.core.analysis.setup import analyse
from fotonomy.core.curves.transfer_functions import encode
from fotonomy.exchange.errors import ExchangeError
from fotonomy.exchange.pictures import read_luma, read_png16, write_png
from fotonomy.field.models import PictureData, Take, TakePicture
from fotonomy.field.pictures import look_at, tiles_kept
from fotonomy.shoots.mapping import spec_of
from fotonomy.shoots.models import Setup
from fotonomy.shoots.packed_kit import packed_kit
from fotonomy.takes.presenters import frame_detail
from tests.web.test_field import logged
from tests.web.test_pictures import photo

WIDE, HIGH = 1920, 1080


def png(gray: Any, kind: str = "PNG", **more: Any) -> bytes:
    out = BytesIO()
    Image.fromarray(np.clip(np.round(gray), 0, 255).astype(np.uint8)).save(out, kind, **more)
    return out.getvalue()


def recorded(row: Setup, iso: int, seed: int = 1, stars: bool = False) -> Any:
    """An even grey wall on the setup's profile, with the noise its model has at this ISO."""
    spec = spec_of(row, packed_kit(row.shoot))
    model, profile = analyse(spec).noise.model, spec.recorded_profile
    snr = float(model.snr(iso, 0.0, WIDE))
    random = np.random.default_rng(seed)
    light = 1 + random.standard_normal((HIGH, WIDE)) / snr
    if stars:
        for x, y in ((300, 200), (900, 700), (1500, 400)):
            cv2.line(light, (x, y), (x + 24, y), 60.0, 2)
    return 255 * encode(profile.curve, profile.grey_linear * np.maximum(light, 1e-4))


def add(client: Any, take: Take, raw: bytes, name: str = "frame.png") -> TakePicture:
    file = SimpleUploadedFile(name, raw)
    client.post(reverse("picture-add", args=[take.shoot_id, take.uid]), {"picture": file})
    return TakePicture.objects.filter(shoot=take.shoot).order_by("-pk")[0]


def told(client: Any, row: TakePicture) -> list[str]:
    answer = client.get(reverse("frame-levels", args=[row.shoot_id, row.pk]))
    lines = list(answer.context["v"].details)
    assert all(line.replace("'", "&#x27;") in answer.content.decode() for line in lines)
    return lines


@pytest.fixture
def take(launch: Setup, nothing_shot_yet: None) -> Take:
    return logged(launch)


@pytest.mark.parametrize(("factor", "words"), [(1, "as the plan has it"), (4, "noisier than")])
def test_noise_is_told_as_the_iso_it_looks_like(
    demo_client: Any, launch: Setup, take: Take, factor: int, words: str
) -> None:
    spec = spec_of(launch, packed_kit(launch.shoot))
    # So dark and so fast that 8 bits tell its noise.
    fast = 16 * spec.iso
    Take.objects.update(differed={"iso": str(fast)})
    row = add(demo_client, take, png(recorded(launch, fast * factor)))
    (line,) = [one for one in told(demo_client, row) if one.startswith("Its noise")]
    assert words in line
    model = analyse(replace(spec, iso=fast)).noise.model
    expected = float(model.looks_like(fast)) * factor
    said = float(line.split("ISO ")[1].split(";")[0].replace(" ", "").replace("\u202f", ""))
    assert abs(np.log2(said / expected)) < 0.35
    assert ("inside" if factor == 1 else "past") in line


def test_a_clean_file_says_nothing_of_noise(demo_client: Any, launch: Setup, take: Take) -> None:
    row = add(demo_client, take, png(recorded(launch, 100)))
    assert not [one for one in told(demo_client, row) if one.startswith("Its noise")]


def test_trails_are_told_in_pixels_of_the_delivery(
    demo_client: Any, launch: Setup, take: Take
) -> None:
    row = add(demo_client, take, png(recorded(launch, 500, stars=True)))
    (line,) = [one for one in told(demo_client, row) if "bright points" in one]
    # 25 pixels of 1920 are 50 of 3840; the ends of what was drawn are a pixel wide.
    length = float(line.split("trails ")[1].split(" px")[0])
    assert line.startswith("3 bright points")
    assert length == pytest.approx(50, abs=3)


def test_the_sharpest_of_a_setup_is_named(demo_client: Any, launch: Setup, take: Take) -> None:
    random = np.random.default_rng(3)
    scene = cv2.resize(random.uniform(70, 160, (108, 192)).astype(np.float32), (WIDE, HIGH))
    rows = [
        add(demo_client, take, png(cv2.GaussianBlur(scene, (0, 0), blur)), f"s{blur}.png")
        for blur in (0.6, 3.0, 6.0)
    ]
    sharp = [[one for one in told(demo_client, row) if "sharp" in one] for row in rows]
    assert "as sharp as any of the 3 pictures" in sharp[0][0]
    assert "number 2 of 3" in sharp[1][0]
    assert "number 3 of 3" in sharp[2][0]
    assert "s0.6.png is the sharpest" in sharp[2][0]


def test_bands_between_two_frames_of_a_take_are_told(
    demo_client: Any, launch: Setup, take: Take
) -> None:
    wall = np.full((HIGH, WIDE), 110.0) + np.random.default_rng(2).normal(0, 2, (HIGH, WIDE))
    wave = 9 * np.sin(2 * np.pi * 4 * np.arange(HIGH) / HIGH)[:, None]
    add(demo_client, take, png(wall + wave), "one.png")
    row = add(demo_client, take, png(wall - wave), "two.png")
    (line,) = [one for one in told(demo_client, row) if one.startswith("Bands")]
    assert "Bands lie across it: 4 over the height" in line


def test_what_was_looked_at_goes_along_and_comes_back(
    demo_client: Any, launch: Setup, take: Take, django_user_model: Any
) -> None:
    from fotonomy.shoots.archive import archive_of, import_archive

    row = add(demo_client, take, png(recorded(launch, 4000, stars=True)))
    other = django_user_model.objects.create_user("other")
    import_archive(other, archive_of(launch.shoot.owner))
    back = TakePicture.objects.get(shoot__owner=other)
    one, two = tiles_kept(row), tiles_kept(back)
    assert one is not None
    assert two is not None
    assert (one.noise == two.noise).all()
    points = PictureData.objects.values_list("points", flat=True)
    assert points[0] == points[1]
    assert len(points[0]) == 3


def test_a_turned_picture_is_looked_at_upright() -> None:
    left = np.full((200, 300), 40.0)
    left[:, 150:] = 180
    exif = Image.Exif()
    exif[0x0112] = 6
    luma = read_luma(png(left, "JPEG", exif=exif), "turned.jpg")
    assert luma is not None
    assert luma.shape == (300, 200)
    # Turned by a quarter to the right its left half lies on top.
    assert luma[:140].mean() == pytest.approx(40, abs=2)


def test_damaged_and_hostile_tiles_are_refused() -> None:
    with pytest.raises(ExchangeError, match="three channels"):
        read_png16(png(np.zeros((20, 20))))
    with pytest.raises(ExchangeError, match="more of them"):
        read_png16(write_png(np.zeros((300, 300, 3), dtype=np.uint16)))
    with pytest.raises(ExchangeError):
        read_png16(b"\x89PNG and then nothing")
    with pytest.raises(ExchangeError, match="damaged"):
        look_at(photo()[:3000], "half.jpg")


def test_a_still_of_a_hundred_megapixels_is_not_looked_at(monkeypatch: Any) -> None:
    monkeypatch.setattr("fotonomy.exchange.pictures.MOST_LOOKED_AT", 1000)
    assert look_at(photo(), "large.jpg") is None
    assert pytest.approx(1 / 3) == frame_detail.AS_MODELLED_STOPS
