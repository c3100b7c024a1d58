"""Everything in one file and back in elsewhere; and how much there may be."""

import json
import zipfile
from io import BytesIO
from typing import Any

import pytest
from django.contrib.auth import get_user_model
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client

from fotonomy.exchange.schemas import LARGEST_FILE_BYTES
from fotonomy.kit.models import Accessory, Allowance, Body, Filter, Lens, Profile
from fotonomy.shoots import archive
from fotonomy.shoots.archive import archive_of, as_text
from fotonomy.shoots.history_rows import part_snapshot
from fotonomy.shoots.mapping import snapshot
from fotonomy.shoots.models import Setup, Shoot
from tests.web.test_kit import ND


def newcomer() -> Any:
    return get_user_model().objects.create_user("newcomer", password="slack-water-7")


def give(client: Any, raw: bytes) -> str:
    upload = SimpleUploadedFile("everything.zip", raw, "application/zip")
    answer = client.post("/account/everything.zip", {"file": upload}, follow=True)
    return str(answer.content.decode())


def test_everything_comes_back_object_for_object(demo_client: Any, demo: Shoot) -> None:
    demo.packs_all = False
    demo.save()
    demo.lenses.set(Lens.objects.filter(owner=demo.owner)[:2])
    bench = demo.setups.get(code="4B").get_absolute_url()
    demo_client.post(bench, {"exposing": "skin", "limit_iso": "500..3200", "weight_noise": "3"})
    raw = demo_client.get("/account/everything.zip").content
    other = newcomer()
    client = Client()
    client.force_login(other)
    assert "1 shoots with 12 setups" in give(client, raw)
    there, here = as_text(raw), as_text(archive_of(other))
    assert here.keys() == there.keys()
    for name, data in there.items():
        assert here[name] == data, name
    for row in demo.setups.all():
        twin = Setup.objects.get(shoot__owner=other, code=row.code)
        ids = ("body_id", "lens_id", "profile_id", "filters", "things", "place_id", "day_id",
               "scene_id")  # fmt: skip
        one, two = snapshot(row), snapshot(twin)
        assert {k: v for k, v in one.items() if k not in ids} == {
            k: v for k, v in two.items() if k not in ids
        }
        assert (row.body.name, row.lens.name) == (twin.body.name, twin.lens.name)
        assert (row.place.name, row.day.date) == (twin.place.name, twin.day.date)
        assert str(row.scene) == str(twin.scene)
        assert part_snapshot(row.place) == part_snapshot(twin.place)
    for model in (Body, Lens, Filter, Accessory, Profile):
        mine = model.objects.filter(owner=demo.owner).count()
        assert model.objects.filter(owner=other).count() == mine
    # Once more adds the shoot and doubles no gear.
    assert "0 new things" in give(client, raw)


def test_an_archive_of_version_1_is_one_place_and_one_day(demo: Shoot) -> None:
    raw = archive_of(demo.owner)
    contents = as_text(raw)["archive.json"]
    shoot = contents["shoots"][0]
    for name in ("places", "days", "scenes", "ways", "weather"):
        del shoot[name]
    shoot |= {"date": "2026-08-09", "place_name": "Slip", "latitude_deg": 54.1,
              "longitude_deg": -3.2, "time_zone": "Europe/London", "mains_hz": 50,
              "setups": [one["file"] for one in shoot["setups"]]}  # fmt: skip
    contents["version"] = 1
    other, client = newcomer(), Client()
    client.force_login(other)
    assert "1 shoots with 12 setups" in give(
        client, changed(raw, archive_json=json.dumps(contents))
    )
    made = Shoot.objects.get(owner=other)
    assert [(p.name, p.latitude_deg, p.time_zone) for p in made.places.all()] == [
        ("Slip", 54.1, "Europe/London")
    ]
    assert str(made.first_day) == "Sunday 9 August 2026"
    assert {row.place_id for row in made.setups.all()} == {made.main_place.pk}


def changed(raw: bytes, **files: Any) -> bytes:
    made = BytesIO()
    with zipfile.ZipFile(BytesIO(raw)) as old, zipfile.ZipFile(made, "w") as new:
        for name in old.namelist():
            key = name.replace(".", "_").replace("/", "_")
            if key not in files:
                new.writestr(name, old.read(name))
            elif files[key] is not None:
                new.writestr(name, files[key])
    return made.getvalue()


HARM: list[tuple[Any, str]] = [
    (lambda raw: raw[:-3000], "is damaged, or no zip"),
    (lambda _: b"season", "is damaged, or no zip"),
    (lambda raw: changed(raw, archive_json=None), "archive.json: is not in the archive"),
    (lambda raw: changed(raw, kit_json=None), "kit.json: is not in the archive"),
    (lambda raw: changed(raw, kit_json="{}"), "was not imported"),
    (lambda raw: changed(raw, archive_json="[]"), "is no archive of this program"),
    (lambda raw: changed(raw, shoots_001_0005_json='{"format": "x"}'), "shoots/001/0005.json"),
    (lambda raw: changed(raw, shoots_001_0002_json=None), "is not in the archive"),
]  # fmt: skip


@pytest.mark.parametrize(("harm", "words"), HARM)
def test_a_damaged_archive_changes_nothing(demo: Shoot, harm: Any, words: str) -> None:
    raw = archive_of(demo.owner)
    client = Client()
    other = newcomer()
    client.force_login(other)
    assert words in give(client, harm(raw))
    assert not Shoot.objects.filter(owner=other).exists()
    assert not Body.objects.filter(owner=other).exists()


@pytest.mark.parametrize(
    ("name", "value", "words"),
    [("days", [{"date": "9999-12-31"}], "known from 1900"), ("days", [], "is empty"),
     ("places", [{"time_zone": "Mars"}], "time zone"), ("places", {}, "is no list"),
     ("places", [{"horizon": [[10, 5], [10, 7]]}], "would cross itself"),
     ("places", [{"horizon": [7]}], "is no list of pairs"),
     ("places", [{"opens": "08:00"}], "Both hours"),
     ("ways", [{"start": 0, "end": 9, "minutes": 4}], "names no two places"),
     ("ways", [{"start": 0, "end": 1, "minutes": -4}], "greater than or equal to 0"),
     ("scenes", [{"title": "x"}], "required"),
     ("setups", "all", "is no list of files"), ("project_fps", 0, "Frames a second")],
)  # fmt: skip
def test_a_shoot_in_an_archive_is_checked_like_one_typed(
    demo: Shoot, name: str, value: Any, words: str
) -> None:
    raw = archive_of(demo.owner)
    contents = as_text(raw)["archive.json"]
    contents["shoots"][0][name] = value
    client = Client()
    client.force_login(newcomer())
    said = give(client, changed(raw, archive_json=json.dumps(contents)))
    assert words in said
    assert "$.shoots[0]" in said


def test_an_archive_has_its_limits(demo: Shoot, monkeypatch: pytest.MonkeyPatch) -> None:
    raw = archive_of(demo.owner)
    client = Client()
    client.force_login(newcomer())
    limits = Allowance.objects.create(
        owner=get_user_model().objects.get(username="newcomer"), shoots=0
    )
    assert "as many as there may be" in give(client, raw)
    assert not Shoot.objects.exclude(pk=demo.pk).exists()
    limits.delete()
    monkeypatch.setattr(archive, "MOST_FILES", 5)
    assert "more than 5 files" in give(client, raw)
    monkeypatch.setattr(archive, "LARGEST_ARCHIVE_BYTES", 100)
    assert "is larger than" in give(client, raw)


def test_what_is_too_much_is_said_and_nothing_is_lost(
    demo_client: Any, demo: Shoot, monkeypatch: pytest.MonkeyPatch
) -> None:
    quotas = "fotonomy.shoots.services.quotas"
    bench = demo.setups.get(code="4B").get_absolute_url()
    assert "setups that a shoot can hold" not in demo_client.get(bench).content.decode()
    monkeypatch.setattr(f"{quotas}.MOST_SETUPS_IN_SHOOT", 13)
    assert "12 of 13 setups that a shoot can hold." in demo_client.get(bench).content.decode()
    monkeypatch.setattr(f"{quotas}.MOST_SETUPS_IN_SHOOT", 12)
    for address in (f"/shoots/{demo.pk}/setups/new/", f"{bench}copy/"):
        said = demo_client.post(address, follow=True).content.decode()
        assert "A shoot holds 12 setups at most" in said
    monkeypatch.setattr(f"{quotas}.MOST_SETUPS_IN_SHOOT", 1000)
    limits = Allowance.objects.create(owner=demo.owner, setups=12, shoots=1, things=2)
    said = demo_client.post(f"{bench}copy/", follow=True).content.decode()
    assert "as many as there may be: delete some" in said
    assert demo.setups.count() == 12
    answer = demo_client.post("/shoots/new/", {
        "name": "Second", "date": "2027-01-01", "time_zone": "UTC", "mains_hz": "50",
        "project_fps": "25", "latitude_deg": "0", "longitude_deg": "0",
    })  # fmt: skip
    assert "You have 1 shoots" in answer.content.decode()
    answer = demo_client.post("/kit/filter/new/", {**ND, "name": "One more"})
    assert answer.status_code == 422
    assert "as many as there may be" in answer.content.decode()
    assert limits.megabytes == 200


def test_a_file_in_an_archive_that_is_too_large_is_said_as_such(demo: Shoot, client: Any) -> None:
    raw = archive_of(demo.owner)
    large = changed(raw, kit_json=" " * (LARGEST_FILE_BYTES + 1))
    client.force_login(newcomer())
    assert "kit.json: is larger than 4096 kB" in give(client, large)
