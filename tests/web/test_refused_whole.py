"""A file that is wrong at its last entry changes nothing, whatever it is a file of."""

import json
import zipfile
from collections.abc import Callable
from hashlib import sha256
from io import BytesIO
from typing import Any

import pytest
from django.apps import apps
from django.contrib.messages import get_messages
from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse
from django.utils import timezone

from fotonomy.drill.models import Answer
from fotonomy.kit.quotas import QuotaError
from fotonomy.shoots.models import Shoot
from fotonomy.shoots.services import weather
from fotonomy.takes import ingest
from tests.archives import with_changed

# What a refusal may change: who is logged in.
APART = {"Session"}
File = tuple[str, str, str, bytes]


def everything() -> dict[str, str]:
    """A digest of every table."""
    found = {}
    for model in apps.get_models():
        if model.__name__ in APART:
            continue
        rows: Any = model._default_manager.order_by("pk").values_list()
        found[model._meta.label] = sha256(repr(list(rows)).encode()).hexdigest()
    return found


def _json(client: Any, address: str) -> Any:
    return json.loads(client.get(address).content)


def kit(client: Any, demo: Shoot) -> File:
    data = _json(client, reverse("kit-export"))
    sorts = [sort for sort, rows in data.items() if isinstance(rows, list) and rows]
    for sort in sorts:
        data[sort].append({**data[sort][0], "name": "Fresh", "stabiliser_stops": 1}
                          if "stabiliser_stops" in data[sort][0] else {**data[sort][0], "name": "Fresh"})  # fmt: skip
    data[sorts[-1]].append({"name": "Broken"})
    return reverse("kit-import"), "file", "kit.json", json.dumps(data).encode()


def _places(count: int, last: list[float]) -> bytes:
    points = [[147.0 + at / 100, -43.0] for at in range(count)]
    features = [
        {"type": "Feature", "properties": {"name": f"Fresh {at}"},
         "geometry": {"type": "Point", "coordinates": where}}
        for at, where in enumerate([*points, last])
    ]  # fmt: skip
    return json.dumps({"type": "FeatureCollection", "features": features}).encode()


def geojson(client: Any, demo: Shoot) -> File:
    return _of(demo, "places-import"), "file", "p.geojson", _places(3, [147.0, -95.0])


def too_many_places(client: Any, demo: Shoot) -> File:
    return _of(demo, "places-import"), "file", "p.geojson", _places(60, [147.0, -43.0])


def gpx(client: Any, demo: Shoot) -> File:
    points = "".join(
        f'<wpt lat="-43.{at}" lon="147.1"><name>Fresh {at}</name></wpt>' for at in range(3)
    )
    raw = (
        '<?xml version="1.0"?><gpx version="1.1" creator="t" xmlns="http://www.topografix.com/GPX/1/1">'
        f'{points}<wpt lat="-43.5" lon="1e400"><name>Last</name></wpt></gpx>'
    )
    return _of(demo, "places-import"), "file", "p.gpx", raw.encode()


def _of(demo: Shoot, name: str, *more: Any) -> str:
    return reverse(name, args=[demo.pk, *more])


def schedule(client: Any, demo: Shoot) -> File:
    raw = client.get(_of(demo, "schedule")).content.decode()
    moved = raw.replace("T0", "T1")
    at = moved.rindex("DTSTART")
    return _of(demo, "schedule-import"), "file", "s.ics", (
        moved[:at] + "DTSTART:tomorrow" + moved[moved.index("\r\n", at):]
    ).encode()  # fmt: skip


def _hours(demo: Shoot, last: str) -> bytes:
    rows = [f"{day.date} {hour:02}:00,4" for day in demo.days.all() for hour in (9, 10, 11)]
    return "\n".join(["time,cloud oktas", *rows, last]).encode()


def forecast(client: Any, demo: Shoot) -> File:
    last = demo.days.last()
    assert last is not None
    raw = _hours(demo, f"{last.date} 12:00,lots")
    return _of(demo, "weather-import", demo.first_day.pk), "file", "w.csv", raw


def too_many_hours(client: Any, demo: Shoot) -> File:
    """The last day has one hour too many; the days before have room."""
    last = demo.days.last()
    assert last is not None
    rows = [f"{last.date} 12:{minute:02}:00,4" for minute in range(0, 60, 10)]
    raw = _hours(demo, "\n".join(rows))
    return _of(demo, "weather-import", demo.first_day.pk), "file", "w.csv", raw


def horizon(client: Any, demo: Shoot) -> File:
    raw = b"azimuth,altitude\n10,5\n90,6\n200,95\n"
    return _of(demo, "horizon-import", demo.main_place.pk), "file", "h.csv", raw


def setup(client: Any, demo: Shoot) -> File:
    row = demo.setups.get(code="4B")
    data = _json(client, _of(demo, "setup-export", row.pk))
    data["setup"]["title"] = "Fresh"
    for sort in ("body", "lens", "profile"):
        data["gear"][sort]["name"] = f"Fresh {sort}"
    data["setup"]["readings"].append({"name": "Broken", "stops": "lots"})
    return _of(demo, "setup-import"), "file", "s.json", json.dumps(data).encode()


def _shoot(client: Any, demo: Shoot) -> Any:
    data = _json(client, _of(demo, "shoot-export"))
    data["name"] = "Fresh"
    return data


def shoot(client: Any, demo: Shoot) -> File:
    data = _shoot(client, demo)
    data["setups"][-1]["setup"]["iris"] = -4
    return reverse("shoot-import"), "file", "s.json", json.dumps(data).encode()


def shoot_with_a_place_too_far(client: Any, demo: Shoot) -> File:
    data = _shoot(client, demo)
    data["places"][-1]["latitude_deg"] = 95
    return reverse("shoot-import"), "file", "s.json", json.dumps(data).encode()


def shoot_with_a_day_twice(client: Any, demo: Shoot) -> File:
    data = _shoot(client, demo)
    data["days"].append(dict(data["days"][-1]))
    return reverse("shoot-import"), "file", "s.json", json.dumps(data).encode()


def _archive(client: Any) -> bytes:
    return bytes(client.get(reverse("take-along")).content)


def archive_whose_last_setup_is_wrong(client: Any, demo: Shoot) -> File:
    raw = _archive(client)
    with zipfile.ZipFile(BytesIO(raw)) as kept:
        last = max(
            name
            for name in kept.namelist()
            if name.endswith(".json") and name.rpartition("/")[2][:4].isdigit()
        )
    raw = with_changed(raw, last, lambda data: data["setup"].update(iris=-4))
    return reverse("take-along"), "file", "all.zip", raw


def archive_whose_last_take_is_wrong(client: Any, demo: Shoot) -> File:
    raw = _archive(client)
    with zipfile.ZipFile(BytesIO(raw)) as kept:
        last = max(name for name in kept.namelist() if name.endswith("takes.json"))
    raw = with_changed(raw, last, lambda data: data["takes"][-1].update(verdict="superb"))
    return reverse("take-along"), "file", "all.zip", raw


def archive_whose_practice_is_wrong(client: Any, demo: Shoot) -> File:
    Answer.objects.create(
        user=demo.owner,
        uid="a-1",
        kind="stops",
        level=1,
        at=timezone.now(),
        mark="right",
        seed=1,
        distance=0,
    )
    raw = _archive(client)
    with zipfile.ZipFile(BytesIO(raw)) as kept:
        assert "practice.json" in kept.namelist()
    raw = with_changed(raw, "practice.json", lambda data: data["answers"].append({"uid": 4}))
    return reverse("take-along"), "file", "all.zip", raw


def notes(client: Any, demo: Shoot) -> File:
    """One picture more than a shoot may have."""
    rows = "\n".join(f"D_{at}.JPG,2027:06:05 09:00:0{at}" for at in range(5))
    return (
        _of(demo, "home-add"),
        "still",
        "notes.csv",
        f"FileName,DateTimeOriginal\n{rows}\n".encode(),
    )


def table(client: Any, demo: Shoot) -> File:
    raw = b"LUT_1D_SIZE 4\n0 0 0\n0.3 0.3 0.3\n0.6 0.6 0.6\n0.2 0.2 0.2\n"
    return reverse("gear-new", args=["profile"]), "table_file", "t.cube", raw


CASES: list[Callable[[Any, Shoot], File]] = [
    kit, geojson, too_many_places, gpx, schedule, forecast, too_many_hours, horizon, setup, shoot,
    shoot_with_a_place_too_far, shoot_with_a_day_twice, archive_whose_last_setup_is_wrong,
    archive_whose_last_take_is_wrong, archive_whose_practice_is_wrong, notes, table,
]  # fmt: skip


@pytest.mark.parametrize("case", CASES, ids=lambda one: one.__name__)
def test_a_file_that_is_wrong_at_its_end_changes_nothing(
    demo_client: Any, demo: Shoot, case: Callable[[Any, Shoot], File], monkeypatch: Any
) -> None:
    address, field, name, raw = case(demo_client, demo)
    monkeypatch.setattr(weather, "MOST_HOURS", 8)
    monkeypatch.setattr(ingest, "MOST_PICTURES", demo.pictures.count() + 4)
    before = everything()
    more = {"name": "Fresh", "curve": "table", "clip_percent": "90", "bits": "10", "scale": "legal",
            "table_turns": "encodes"} if case is table else {}  # fmt: skip
    answer = demo_client.post(address, {field: SimpleUploadedFile(name, raw), **more})
    said = [str(one) for one in get_messages(answer.wsgi_request)]
    assert answer.status_code in (302, 422), answer.status_code
    after = everything()
    assert {key for key in after if after[key] != before[key]} == set()
    if answer.status_code == 302:
        assert any("not imported" in one or "Not taken" in one for one in said), said
    else:
        assert "field-error" in answer.content.decode()


def right_kit(client: Any, demo: Shoot) -> File:
    data = _json(client, reverse("kit-export"))
    data["lenses"].append({**data["lenses"][0], "name": "Fresh"})
    return reverse("kit-import"), "file", "kit.json", json.dumps(data).encode()


def right_setup(client: Any, demo: Shoot) -> File:
    data = _json(client, _of(demo, "setup-export", demo.setups.get(code="4B").pk))
    data["gear"]["lens"]["name"] = "Fresh"
    return _of(demo, "setup-import"), "file", "s.json", json.dumps(data).encode()


def right_shoot(client: Any, demo: Shoot) -> File:
    return reverse("shoot-import"), "file", "s.json", json.dumps(_shoot(client, demo)).encode()


def right_archive(client: Any, demo: Shoot) -> File:
    return reverse("take-along"), "file", "all.zip", _archive(client)


FULL = {
    right_kit: "fotonomy.kit.services", right_setup: "fotonomy.shoots.views.files",
    right_shoot: "fotonomy.shoots.views.files", right_archive: "fotonomy.shoots.archive",
}  # fmt: skip


@pytest.mark.parametrize("case", FULL, ids=lambda one: one.__name__)
@pytest.mark.parametrize("full", [True, False])
def test_a_file_there_is_no_room_for_changes_nothing(
    demo_client: Any, demo: Shoot, case: Any, full: bool, monkeypatch: Any
) -> None:
    """The room is asked for last, when everything stands already; with room it is taken whole."""
    address, field, name, raw = case(demo_client, demo)

    def no_room(owner: Any) -> None:
        raise QuotaError("You keep as much as you may")

    if full:
        monkeypatch.setattr(f"{FULL[case]}.room_for_bytes", no_room)
    before = everything()
    answer = demo_client.post(address, {field: SimpleUploadedFile(name, raw)})
    said = " ".join(str(one) for one in get_messages(answer.wsgi_request))
    assert ("You keep as much as you may" in said) == full
    assert (everything() == before) == full
