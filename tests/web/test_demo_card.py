"""The stand-in camera's card of the demo's first day: brought home as anybody would, and told of."""

from datetime import timedelta
from itertools import pairwise
from pathlib import Path
from typing import Any

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.core.management import call_command
from django.urls import reverse

from fotonomy.core.pictures.frame_levels import Area
from fotonomy.core.pictures.patches import sharpness_in, tiles_of
from fotonomy.exchange.notes_csv import read_notes
from fotonomy.exchange.pictures import read_luma, read_preview
from fotonomy.field.models import TakePicture
from fotonomy.shoots.models import Shoot
from fotonomy.simulators.films import NoFilmsError
from fotonomy.takes.presenters.ingest import read_offset


@pytest.fixture
def card(demo: Shoot, tmp_path: Path) -> Path:
    call_command("demo_card", str(tmp_path), verbosity=0)
    return tmp_path


def test_the_card_holds_every_sort(card: Path) -> None:
    counts = {folder.name: len(list(folder.iterdir())) for folder in card.iterdir()}
    assert counts == {"frames": 4, "run": 250, "films": 9, "burst": 40, "bracket": 6}
    first = min((card / "run").iterdir())
    assert read_preview(first.read_bytes(), first.name).wrote["serial"] == "B7"


def test_the_bracket_gets_longer_and_softer(card: Path) -> None:
    times, sharp = [], []
    for path in sorted((card / "bracket").iterdir()):
        raw = path.read_bytes()
        times.append(read_preview(raw, path.name).wrote["exposure_s"])
        luma = read_luma(raw, path.name)
        assert luma is not None
        sharp.append(sharpness_in(tiles_of(luma), Area(5, 5, 90, 90)))
    assert [round(b / a, 1) for a, b in pairwise(times)] == [2.0] * 5
    assert sharp[0] > sharp[-1] + 0.05
    assert sharp[2] > sharp[5]


def test_its_clock_is_found_out_and_its_frames_go_to_their_takes(
    demo_client: Any, demo: Shoot, card: Path
) -> None:
    TakePicture.objects.filter(shoot=demo).delete()
    files = [*(card / "frames").iterdir(), *sorted((card / "bracket").iterdir())]
    sent = [SimpleUploadedFile(path.name, path.read_bytes()) for path in files]
    demo_client.post(reverse("home-add", args=[demo.pk]), {"still": sent})
    page = demo_client.get(reverse("takes-home", args=[demo.pk]))
    (camera,) = page.context["v"].cameras
    # Six of ten belong to no take; still it is found: 3:34 ahead.
    assert abs(read_offset(camera.offset) - 214) <= 30
    demo_client.post(reverse("home-match", args=[demo.pk]), {"serial": "A1", "offset": "+0:03:34"})
    placed = demo.pictures.exclude(take_uid="")
    assert sorted(row.name for row in placed) == [
        "A001_C004.jpg", "A001_C005.jpg", "A001_C006.jpg", "A001_C008.jpg",
    ]  # fmt: skip
    takes = {take.uid: take.clip for take in demo.takes.all()}
    assert all(takes[row.take_uid] == row.name.removesuffix(".jpg") for row in placed)


def test_without_pyav_the_films_are_notes(
    demo_client: Any, demo: Shoot, tmp_path: Path, monkeypatch: Any
) -> None:
    def none(*_: object) -> bytes:
        raise NoFilmsError("not installed")

    monkeypatch.setattr("fotonomy.demo.card_of_the_day.film", none)
    call_command("demo_card", str(tmp_path), verbosity=0)
    (path,) = (tmp_path / "films").iterdir()
    rows = read_notes(path.read_bytes(), path.name)
    assert len(rows) == 9
    first = rows[0].wrote
    assert (first["fps"], first["length_s"]) == (25, 4)
    take = next(take for take in demo.takes.all() if f"{take.clip}.mov" == rows[0].name)
    clock = take.at.astimezone(demo.main_place.zone) + timedelta(seconds=214)
    assert first["taken"] == clock.replace(tzinfo=None).isoformat()
