"""Setup files: there and back, refused with the place of the fault, and nothing changed."""

import copy
import json
from datetime import date
from io import BytesIO
from typing import Any

import pytest

from fotonomy.__main__ import main
from fotonomy.core.spec.stills import Follows
from fotonomy.exchange.errors import ExchangeError
from fotonomy.exchange.schemas import LARGEST_FILE_BYTES, write_json
from fotonomy.exchange.setup_json import SetupFile, read_setup, setup_from_data, setup_to_data
from fotonomy.kit.models import Body, Filter, Lens
from fotonomy.shoots.mapping import file_of, spec_of
from fotonomy.shoots.models import Setup
from fotonomy.shoots.packed_kit import packed_kit
from fotonomy.shoots.services.shoots import make_shoot
from tests.core.examples import setup
from tests.core.run_examples import interval


def document() -> dict[str, Any]:
    return json.loads(write_json(setup_to_data(SetupFile(setup(), "13:45", "Bring the wedge."))))


def test_a_setup_there_and_back() -> None:
    given = SetupFile(setup(), "13:45", "Bring the wedge.")
    assert read_setup(write_json(setup_to_data(given)).encode()) == given


def at(data: Any, *path: Any) -> Any:
    for key in path:
        data = data[key]
    return data


FAULTS = [
    (("format",), "other-setup", "$.format"), (("version",), 9, "$.version"),
    (("setup", "kind"), "opera", "$.setup.kind"), (("setup", "light"), {}, "$.setup.light"),
    (("setup", "light"), {"ev100": "bright"}, "$.setup.light"),
    (("setup", "light"), {"lux": 1e-30}, "$.setup.light"),
    (("setup", "iris"), -4, "$.setup.iris"),
    (("setup", "iso"), 100.5, "$.setup.iso"),
    (("setup", "shutter"), {"angle_deg": 180, "time_s": 1}, "$.setup.shutter"),
    (("setup", "subject_distance_m"), 0.01, "$.setup.subject_distance_m"),
    (("planned_time",), "24:00", "$.planned_time"),
    (("gear", "body", "formats", 0, "rates"), [], "$.gear.body.formats[0].rates"),
    (("gear", "body", "formats"), [], "$.gear.body.formats"),
    (("setup", "limits"), [{"setting": "iris", "low": 8, "high": 4}], "$.setup.limits"),
    (("setup", "movement"), {"camera": "flies"}, "$.setup.movement.camera"),
    (("setup", "intent"), {"emphasis": {"luck": 2}}, "$.setup.intent.emphasis"),
    (("gear", "body", "iso_ceiling"), 9, "$.gear.body.iso_ceiling"),
    (("gear", "lens", "smallest_f"), 1.0, "$.gear.lens.smallest_f"),
    (("gear", "profile", "curve"), {"log": {}}, "$.gear.profile.curve"),
    (("gear", "profile", "curve", "log", "d"), 3.0, "$.gear.profile.curve.log.cut"),
    (("gear", "profile", "clip_percent"), 10, "$.gear.profile.clip_percent"),
    (("gear", "glass", 0, "kind"), "brick", "$.gear.glass[0].kind"),
    (("gear", "glass", 0, "price"), 12, "$.gear.glass[0]"),
]  # fmt: skip


@pytest.mark.parametrize(("path", "value", "place"), FAULTS, ids=[fault[2] for fault in FAULTS])
def test_a_fault_is_named_by_its_place(path: tuple[Any, ...], value: Any, place: str) -> None:
    data = document()
    at(data, *path[:-1])[path[-1]] = value
    with pytest.raises(ExchangeError) as caught:
        setup_from_data(data)
    assert caught.value.place.startswith(place)


RAW = [
    (b"", "line 1"), (b"{", "line 1"), (b'{"a": 1,\n oops}', "line 2, column 2"), (b"[]", "$"),
    (b"null", "$"), (b"\xff\xfe\x00", "byte 0"), (b'{"a": NaN}', "the file"),
    (b'{"a": ' + b"9" * 6000 + b"}", ""), (b"[" * 100_000, ""), (b"<svg/>", "line 1"),
    (b" " * (LARGEST_FILE_BYTES + 1), "the file"),
]  # fmt: skip


@pytest.mark.parametrize(("raw", "place"), RAW)
def test_what_is_no_setup_file_is_refused(raw: bytes, place: str) -> None:
    with pytest.raises(ExchangeError) as caught:
        read_setup(raw)
    assert caught.value.place.startswith(place)
    assert len(str(caught.value)) < 400


def upload(client: Any, row: Setup, raw: bytes) -> Any:
    file = BytesIO(raw)
    file.name = "setup.json"
    return client.post(f"/shoots/{row.shoot_id}/setups/import/", {"file": file}, follow=True)


def test_export_then_import_makes_the_same_setup_with_the_same_gear(
    demo_client: Any, adze: Setup
) -> None:
    raw = demo_client.get(f"{adze.get_absolute_url()}setup.json").content
    gear = (Body.objects.count(), Lens.objects.count(), Filter.objects.count())
    upload(demo_client, adze, raw)
    twin = Setup.objects.filter(code="4B").last()
    packed = packed_kit(adze.shoot)
    assert twin.pk != adze.pk
    assert spec_of(twin, packed) == spec_of(adze, packed)
    assert (twin.planned_time, twin.notes) == (adze.planned_time, adze.notes)
    assert gear == (Body.objects.count(), Lens.objects.count(), Filter.objects.count())


def test_gear_of_the_same_name_but_other_numbers_comes_in_beside(
    demo_client: Any, adze: Setup
) -> None:
    data = json.loads(demo_client.get(f"{adze.get_absolute_url()}setup.json").content)
    data["gear"]["body"]["card_gb"] = 512
    upload(demo_client, adze, json.dumps(data).encode())
    twin = Setup.objects.filter(code="4B").last()
    assert (twin.body.name, twin.body.card_gb) == ("A-cam (2)", 512)
    assert adze.body.card_gb == 128
    page = demo_client.get(twin.get_absolute_url()).content.decode()
    assert "profile.body_lacks" not in page


def test_import_into_a_bare_kit(client: Any, stranger: Any, adze: Setup) -> None:
    client.force_login(adze.shoot.owner)
    raw = client.get(f"{adze.get_absolute_url()}setup.json").content
    client.force_login(stranger)
    shoot = make_shoot(stranger, name="Mine", date=date(2027, 1, 1))
    file = BytesIO(raw)
    file.name = "x.json"
    client.post(f"/shoots/{shoot.pk}/setups/import/", {"file": file})
    row = shoot.setups.get()
    assert row.body.owner == row.lens.owner == row.profile.owner == stranger
    assert spec_of(row, packed_kit(shoot)).nd_density == 0.9


@pytest.mark.parametrize("raw", [b"", b"{}", b"[" * 50_000, b"\xff"])
def test_a_damaged_upload_changes_nothing(demo_client: Any, adze: Setup, raw: bytes) -> None:
    answer = upload(demo_client, adze, raw)
    assert Setup.objects.count() == 12
    if raw:
        assert "was not imported" in answer.content.decode()


def test_the_plan_as_a_file(demo_client: Any, adze: Setup) -> None:
    data = json.loads(demo_client.get(f"{adze.get_absolute_url()}plan.json").content)
    assert data["budget"]["error_stops"] == pytest.approx(-0.012, abs=0.001)
    assert data["nd_pieces"] == ["ND 0.9"]
    assert {f["id"] for f in data["findings"]} == {"flicker.mains"}
    by_name = {one["name"]: one for one in data["workings"]}
    assert by_name["motion.smear_percent"] == {
        "name": "motion.smear_percent", "formula": "cadence.smear_percent", "source": "definition",
    }  # fmt: skip


def test_the_command_line_plans_a_file(tmp_path: Any, capsys: Any) -> None:
    path = tmp_path / "setup.json"
    path.write_text(json.dumps(document()))
    assert main(["plan", str(path)]) == 0
    plan = json.loads(capsys.readouterr().out)
    assert plan["format"] == "fotonomy-plan"
    assert plan["focus"]["near_m"] < 4 < plan["focus"]["far_m"]
    assert main(["solve", str(path)]) == 0
    offered = json.loads(capsys.readouterr().out)
    assert offered["format"] == "fotonomy-plans"
    assert len(offered["plans"]) >= 2
    assert abs(offered["plans"][0]["error_stops"]) < 0.34
    assert all(reason["why"] for reason in offered["plans"][0]["because"])
    assert plan["readout"][2] == {"label": "Iris", "value": "f/5.6", "detail": "50 mm"}


def test_the_command_line_explains_a_number(tmp_path: Any, capsys: Any) -> None:
    path = tmp_path / "setup.json"
    path.write_text(json.dumps(document()))
    assert main(["explain", str(path), "budget.lines.iris.stops"]) == 0
    said = capsys.readouterr().out
    # f/5.6 is mark fifteen of thirds: five stops (ISO 2720, the marks common practice).
    assert "iris = −Av(N)" in said
    assert "= −Av(5.6) = −5 stops" in said
    assert "iris = −5 stops" in said
    assert "Source: A stop is a factor of two" in said
    assert main(["explain", str(path), "budget.quux"]) == 2
    listed = capsys.readouterr().err
    assert "motion.smear_percent" in listed
    assert main(["formulas"]) == 0
    assert "# Formulas" in capsys.readouterr().out


def test_the_command_line_refuses_with_the_place(tmp_path: Any, capsys: Any) -> None:
    data = copy.deepcopy(document())
    data["setup"]["iso"] = "fast"
    path = tmp_path / "setup.json"
    path.write_text(json.dumps(data))
    assert main(["plan", str(path)]) == 2
    assert "$.setup.iso" in capsys.readouterr().err
    assert main(["plan", str(tmp_path / "none.json")]) == 2


def test_the_command_line_needs_no_web() -> None:
    import subprocess
    import sys

    code = "import fotonomy.__main__, sys; sys.exit('django' in sys.modules)"
    assert subprocess.run([sys.executable, "-c", code], check=False).returncode == 0


PLACE = {"date": "2027-06-05", "time_zone": "Australia/Hobart", "latitude_deg": -43.12,
         "longitude_deg": 147.05}  # fmt: skip


def test_a_file_knows_its_day_and_place(demo: Any) -> None:
    row = demo.setups.get(code="1A")
    held = file_of(row, packed_kit(demo))
    data = json.loads(write_json(setup_to_data(held)))
    assert data["place"] == PLACE
    again = setup_from_data(data)
    assert again.setup.starts == held.setup.starts
    assert again.setup.starts is not None
    assert str(again.setup.starts.utcoffset()) == "10:00:00"
    assert again.setup.site == held.setup.site
    # An older file has none, and still plans.
    del data["place"]
    assert setup_from_data(data).setup.starts is None


@pytest.mark.parametrize(
    ("changes", "said"),
    [
        ({"time_zone": "Nowhere/Atoll"}, "no such day or time zone"),
        ({"time_zone": "../../etc"}, "no such day or time zone"),
        ({"date": "2027-02-30"}, "no such day or time zone"),
        ({"date": "yesterday"}, "yesterday"), ({"latitude_deg": 91}, "91"),
    ],
)  # fmt: skip
def test_a_place_that_is_none_is_refused_with_its_fault(changes: Any, said: str) -> None:
    data = {**document(), "place": {**PLACE, **changes}}
    with pytest.raises(ExchangeError) as caught:
        setup_from_data(data)
    assert said in str(caught.value)
    assert "place" in caught.value.place


def test_the_command_line_works_out_the_interval_that_follows(tmp_path: Any, capsys: Any) -> None:
    # 12.5 h in 30 s at 25 fps: 750 frames span 749 intervals of 60.08 s, not the 6 s of the file.
    spec = interval(wanted_screen_s=30.0, run={"follows": Follows.INTERVAL, "event_s": 45_000.0})
    path = tmp_path / "run.json"
    path.write_text(write_json(setup_to_data(SetupFile(spec))))
    assert main(["plan", str(path)]) == 0
    planned = json.loads(capsys.readouterr().out)
    assert planned["run"]["three"]["interval_s"] == pytest.approx(45_000 / 749)
    assert "run.not_covered" not in {one["id"] for one in planned["findings"]}
    spec = interval(wanted_screen_s=0.04, run={"follows": Follows.INTERVAL})
    path.write_text(write_json(setup_to_data(SetupFile(spec))))
    assert main(["plan", str(path)]) == 2
    assert "one frame has no interval" in capsys.readouterr().err
