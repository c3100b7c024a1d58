"""A shoot as one JSON file, and its call sheet as CSV, each read by a foreign reader."""

import copy
import csv
import json
import random
from importlib.resources import files
from io import StringIO
from typing import Any

import pytest
from django.contrib.auth.models import User
from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse
from jsonschema import Draft202012Validator

from fotonomy.exchange.errors import ExchangeError
from fotonomy.exchange.shoot_json import LARGEST_SHOOT_BYTES, read_shoot
from fotonomy.kit.models import Body
from fotonomy.shoots.mapping import METHODS
from fotonomy.shoots.models import Place, Setup, Shoot
from tests.properties import LONG
from tests.web.test_days import page_of, words

MESSAGES = "//*[@id='messages']"


def written(client: Any, shoot: Shoot) -> dict[str, Any]:
    answer = client.get(reverse("shoot-export", args=[shoot.pk]))
    assert answer.status_code == 200
    assert answer["Content-Disposition"] == 'attachment; filename="keel-to-tide-shoot.json"'
    data: dict[str, Any] = json.loads(answer.content)
    return data


def send(client: Any, data: Any) -> str:
    raw = data if isinstance(data, bytes) else json.dumps(data).encode()
    answer = client.post(
        reverse("shoot-import"), {"file": SimpleUploadedFile("shoot.json", raw)}, follow=True
    )
    assert answer.status_code == 200
    return words(page_of(answer), MESSAGES)


def without_ids(data: dict[str, Any]) -> dict[str, Any]:
    """What has to come back; the order of things that hang on a camera says nothing."""
    made = {key: value for key, value in copy.deepcopy(data).items() if key != "made_by"}
    for one in made["setups"]:
        one["setup"]["gear"]["devices"].sort(key=str)
    return made


def test_a_shoot_goes_out_and_comes_back_whole(demo_client: Any, demo: Shoot, client: Any) -> None:
    data = written(demo_client, demo)
    assert (data["format"], data["version"], data["name"]) == ("fotonomy-shoot", 1, "Keel to Tide")
    assert [len(data[name]) for name in ("places", "days", "setups", "weather")] == [5, 2, 12, 2]
    # A foreign reader: the JSON Schema validator, by the schema that ships.
    schema = json.loads(files("fotonomy.exchange").joinpath("shoot.schema.json").read_text("utf-8"))
    Draft202012Validator.check_schema(schema)
    assert list(Draft202012Validator(schema).iter_errors(data)) == []
    someone = User.objects.create_user("someone", password=None)
    client.force_login(someone)
    assert "Keel to Tide imported, with 12 setups" in send(client, data)
    twin = Shoot.objects.get(owner=someone)
    assert without_ids(written(client, twin)) == without_ids(data)
    assert [row.code for row in twin.setups.all()] == [row.code for row in demo.setups.all()]
    launch, ours = twin.setups.get(code="5A"), demo.setups.get(code="5A")
    assert (launch.place.name, launch.day.date) == (ours.place.name, ours.day.date)
    assert launch.scene is not None
    assert ours.scene is not None
    assert launch.scene.code == ours.scene.code
    for name in METHODS:
        assert getattr(twin, name) == getattr(demo, name)
    # Its gear is there once, and a second time adds a shoot and no gear.
    bodies = Body.objects.filter(owner=someone).count()
    send(client, data)
    assert Shoot.objects.filter(owner=someone).count() == 2
    assert Body.objects.filter(owner=someone).count() == bodies


def changed(data: dict[str, Any], path: str, value: Any) -> dict[str, Any]:
    """A copy with another value at a path such as "places.0.name"."""
    made = copy.deepcopy(data)
    at: Any = made
    *way, last = path.split(".")
    for part in way:
        at = at[int(part)] if part.isdigit() else at[part]
    if value is ...:
        del at[last]
    elif isinstance(at, list):
        at[int(last)] = value
    else:
        at[last] = value
    return made


@pytest.mark.parametrize(
    ("path", "value", "said"),
    [("format", "other", "this is no shoot file"), ("version", 9, "$.version"),
     ("name", "", "$.name"), ("name", ..., "'name' is a required"),
     ("places", [], "$.places"), ("days", [], "$.days"), ("colour", "red", "colour"),
     ("places.0.latitude_deg", 91, "$.places[0].latitude_deg"),
     ("places.0.time_zone", "Nowhere/Land", "time_zone"),
     ("places.0.horizon", [[10, 3], [10, 4]], "horizon"),
     ("places.0.mains_hz", 55, "$.places[0].mains_hz"), ("places.0.roofed", "yes", "roofed"),
     ("days.0.date", "2027-13-40", "date"), ("days.0.call", "25:00", "$.days[0].call"),
     ("ways.0.start", 77, "names no two places"), ("ways.0.minutes", -5, "$.ways[0].minutes"),
     ("weather.0.place", 77, "names no place"), ("weather.0.hours.0.oktas", 9, "oktas"),
     ("weather.0.hours.0.at", "noon", "hours[0].at"), ("scenes.0.code", 5, "$.scenes[0].code"),
     ("setups", {}, "$.setups"), ("setups.0", 5, "$.setups[0]"),
     ("setups.3.setup.setup.iso", -5, "$.setups[3].setup.setup.iso"),
     ("setups.3.setup.gear.body", {}, "$.setups[3].setup.gear.body"),
     ("setups.3.place", "mill", "$.setups[3].place"), ("setups.3.day", True, "$.setups[3].day"),
     ("setups.3.scene", -1, "$.setups[3].scene"),
     ("setups.3.hue", 1, "$.setups[3].hue"), ("project_fps", 1e9, "project_fps"),
     ("look", "dreamy", "look"), ("packs", 5, "$.packs")],
)  # fmt: skip
def test_a_damaged_file_says_where_and_changes_nothing(
    demo_client: Any, demo: Shoot, path: str, value: Any, said: str
) -> None:
    answer = send(demo_client, changed(written(demo_client, demo), path, value))
    assert "shoot.json was not imported" in answer
    assert said in answer
    assert Shoot.objects.count() == 1
    assert Place.objects.count() == 5


@pytest.mark.parametrize("raw", [b"", b"{", b"[]", b"null", b"\xff\xfe", b'{"format": 1}'])
def test_what_is_no_file_is_refused(demo_client: Any, demo: Shoot, raw: bytes) -> None:
    assert "was not imported" in send(demo_client, raw) or raw == b""
    assert Shoot.objects.count() == 1


def test_a_shoot_that_packs_less_brings_that_along(demo_client: Any, demo: Shoot) -> None:
    demo.packs_all = False
    demo.save()
    demo.bodies.set(Body.objects.filter(owner=demo.owner, name="A-cam"))
    data = written(demo_client, demo)
    named = {one["name"] for one in data["kit"]["bodies"]}
    # What is packed, and what its setups use beside it.
    used = {one["setup"]["gear"]["body"]["name"] for one in data["setups"]}
    assert named == {"A-cam"} | used
    lenses = {one["name"] for one in data["kit"]["lenses"]}
    assert lenses == {one["setup"]["gear"]["lens"]["name"] for one in data["setups"]}
    assert data["packs"]["bodies"] == ["A-cam"]
    assert "12 setups" in send(demo_client, data)
    twin = Shoot.objects.exclude(pk=demo.pk).get()
    assert not twin.packs_all
    assert {body.name for body in twin.bodies.all()} == {"A-cam"}


def test_a_file_too_large_is_refused() -> None:
    with pytest.raises(ExchangeError, match="larger than 32 MB"):
        read_shoot(b" " * (LARGEST_SHOOT_BYTES + 1))


def test_no_file_at_all(demo_client: Any, demo: Shoot) -> None:
    answer = demo_client.post(reverse("shoot-import"), follow=True)
    assert "Choose a shoot file first" in words(page_of(answer), MESSAGES)


def leaves(data: Any, path: str = "") -> list[str]:
    if isinstance(data, dict):
        return [one for key, value in data.items() for one in leaves(value, f"{path}.{key}")]
    if isinstance(data, list):
        return [one for at, value in enumerate(data) for one in leaves(value, f"{path}.{at}")]
    return [path[1:]]


ODD = (
    None,
    True,
    0,
    -1,
    1e308,
    10**30,
    0.5,
    "",
    "x",
    "2027-06-05",
    "\u0000",
    [],
    {},
    [[1, 2]],
    ...,
)


@pytest.mark.parametrize("seed", range(12 if LONG else 2))
def test_whatever_is_taken_in_bricks_no_page(demo_client: Any, demo: Shoot, seed: int) -> None:
    dice = random.Random(seed)
    data = written(demo_client, demo)
    # Two setups are enough, and a head that is met more often than gear.
    data["setups"] = [data["setups"][at] for at in (0, 5)]
    head = leaves({key: value for key, value in data.items() if key != "setups"})
    rest = leaves({"setups": data["setups"]})
    taken = 0
    for _ in range(40):
        path = dice.choice(head if dice.random() < 0.7 else rest)
        value = dice.choice(ODD)
        try:
            broken = changed(data, path, value)
        except (KeyError, IndexError, TypeError):
            continue
        if value is ... and path.rsplit(".", 1)[-1].isdigit():
            continue
        said = send(demo_client, broken)
        if "not imported" in said:
            continue
        taken += 1
        shoot = Shoot.objects.exclude(pk=demo.pk).get()
        pages = [shoot.get_absolute_url(), reverse("places", args=[shoot.pk]),
                 reverse("shoot-list"), reverse("paper", args=[shoot.pk, "call-sheet"])]  # fmt: skip
        for day in shoot.days.all():
            pages += [reverse(name, args=[shoot.pk, day.pk]) for name in ("day", "weather")]
        for address in pages:
            assert demo_client.get(address, follow=True).status_code == 200, (path, value, address)
        written_again = demo_client.get(reverse("shoot-export", args=[shoot.pk]))
        assert written_again.status_code == 200, (path, value)
        shoot.delete()
    assert taken


def test_the_call_sheet_as_csv(demo_client: Any, demo: Shoot) -> None:
    ferry = demo.setups.get(code="6A")
    Setup.objects.filter(pk=ferry.pk).update(notes='=SUM(A1), "dry"\nline')
    answer = demo_client.get(reverse("call-sheet-csv", args=[demo.pk]))
    assert answer["Content-Type"].startswith("text/csv")
    rows = list(csv.DictReader(StringIO(answer.content.decode())))
    assert len(rows) == 12
    assert [row["day"] for row in rows] == ["2027-06-05"] * 10 + ["2027-06-06"] * 2
    (row,) = (one for one in rows if one["setup"] == "6A")
    assert (row["hour"], row["place"], row["kind"]) == ("17:05", "Outer jetty", "long exposure")
    assert row["iris"].startswith("f/")
    # A spreadsheet would take it for a formula.
    assert row["notes"] == '\'=SUM(A1), "dry"\nline'
    # A setup of the second day that runs first stands with its day all the same.
    demo.setups.filter(code="7A").update(position=0)
    answer = demo_client.get(reverse("call-sheet-csv", args=[demo.pk]))
    rows = list(csv.DictReader(StringIO(answer.content.decode())))
    assert [row["day"] for row in rows] == ["2027-06-05"] * 10 + ["2027-06-06"] * 2
    paper = page_of(demo_client.get(reverse("paper", args=[demo.pk, "call-sheet"])))
    assert [one.strip() for one in paper.xpath("//header/div/h1/text()")] == [
        "Keel to Tide · Saturday 5 June 2027", "Keel to Tide · Sunday 6 June 2027",
    ]  # fmt: skip
