"""Takes and pictures in the archive: out and in again on another account, and damaged on the way."""

import zipfile
from collections.abc import Callable
from io import BytesIO
from typing import Any

import pytest
from django.contrib.auth.models import User

from fotonomy.exchange.errors import ExchangeError
from fotonomy.field.archive import TAKES
from fotonomy.field.models import PictureData, Take, TakePicture
from fotonomy.shoots.archive import archive_of, import_archive
from fotonomy.shoots.models import Setup, Shoot
from fotonomy.shoots.services.setups import delete_setup
from tests.archives import with_changed

SAME = ("uid", "setup_name", "number", "verdict", "at", "kept_at", "clock_off_s", "by_name",
        "planned", "differed", "why", "clip", "card", "length_s", "note")  # fmt: skip
FILE = f"shoots/001/takes/{TAKES}"


@pytest.fixture
def other(db: None) -> User:
    return User.objects.create_user("other")


def changed(raw: bytes, change: Callable[[dict[str, Any]], None]) -> bytes:
    """An archive with its takes changed."""
    return with_changed(raw, FILE, change)


def test_takes_and_pictures_come_along(demo: Shoot, other: User) -> None:
    import_archive(other, archive_of(demo.owner))
    shoot = Shoot.objects.get(owner=other)
    before, after = list(demo.takes.all()), list(shoot.takes.all())
    assert len(before) == 10
    for was, now in zip(before, after, strict=True):
        assert [getattr(was, name) for name in SAME] == [getattr(now, name) for name in SAME]
        assert now.setup_key != was.setup_key
        codes = [Setup.objects.get(pk=take.setup_key).code for take in (was, now)]
        assert codes[0] == codes[1]
        assert Setup.objects.get(pk=now.setup_key).shoot == shoot
    pictures = [
        (row.uid, row.take_uid, row.sha256, row.wrote, row.width) for row in demo.pictures.all()
    ]
    assert len(pictures) > 200
    assert pictures == [
        (row.uid, row.take_uid, row.sha256, row.wrote, row.width) for row in shoot.pictures.all()
    ]
    assert {bytes(one.jpeg) for one in demo.picture_data.all()} == {
        bytes(one.jpeg) for one in shoot.picture_data.all()
    }
    # And once more from there: nothing is lost on the way.
    third = User.objects.create_user("third")
    import_archive(third, archive_of(other))
    assert Take.objects.filter(shoot__owner=third).count() == 10


def test_a_take_whose_setup_is_gone_comes_along_without(
    demo: Shoot, other: User, adze: Setup
) -> None:
    delete_setup(adze)
    import_archive(other, archive_of(demo.owner))
    take = Take.objects.get(shoot__owner=other, setup_name="4B Adze chips")
    assert take.setup_key == 0


def test_a_shoot_without_takes_has_no_such_files(
    demo: Shoot, other: User, nothing_shot_yet: None
) -> None:
    raw = archive_of(demo.owner)
    with zipfile.ZipFile(BytesIO(raw)) as archive:
        assert not [name for name in archive.namelist() if "takes" in name]
    import_archive(other, raw)
    assert Shoot.objects.filter(owner=other).count() == 1


def first(given: dict[str, Any], sort: str = "takes", **other: Any) -> None:
    given[sort][0].update(other)


@pytest.mark.parametrize(
    ("change", "place"),
    [
        (lambda d: first(d, verdict="superb"), "verdict"),
        (lambda d: first(d, setup=99), "setup"),
        (lambda d: first(d, at="yesterday"), "at"),
        (lambda d: first(d, at="2027-06-05T10:00:00"), "at"),
        (lambda d: first(d, number=0), "number"),
        (lambda d: first(d, note="x" * 1001), "note"),
        (lambda d: first(d, owner=1), "$.takes[0]"),
        (lambda d: first(d, "pictures", file="../../kit.json"), "kit.json"),
        (lambda d: first(d, "pictures", file=TAKES), TAKES),
        (lambda d: first(d, "pictures", marks={"areas": {"sky": [90, 0, 20, 5]}}), "areas.sky"),
        (lambda d: first(d, "pictures", wrote={"gps": "here"}), "wrote"),
        (lambda d: d.update(version=2), "version"),
        (lambda d: d["takes"].append(d["takes"][0]), "two of them"),
        (lambda d: d["pictures"].append(d["pictures"][0]), "two of them"),
    ],
)  # fmt: skip
def test_damaged_takes_are_refused_with_their_place_and_nothing_is_kept(
    demo: Shoot, other: User, change: Callable[[dict[str, Any]], None], place: str
) -> None:
    counts = [model.objects.count() for model in (Shoot, Take, TakePicture, PictureData)]
    with pytest.raises(ExchangeError) as error:
        import_archive(other, changed(archive_of(demo.owner), change))
    assert place in f"{error.value.place} {error.value.problem}"
    assert counts == [model.objects.count() for model in (Shoot, Take, TakePicture, PictureData)]


def test_a_lacking_picture_is_named(demo: Shoot, other: User) -> None:
    made = BytesIO()
    with zipfile.ZipFile(BytesIO(archive_of(demo.owner))) as old, zipfile.ZipFile(made, "w") as new:
        for name in old.namelist():
            if not name.endswith(".jpg"):
                new.writestr(name, old.read(name))
    with pytest.raises(ExchangeError) as error:
        import_archive(other, made.getvalue())
    assert error.value.place.endswith(".jpg")
    assert "not in the archive" in error.value.problem
