"""Kit files and gear in setup files: there and back, old versions, schemas in step with the core."""

import copy
import json
from importlib.resources import files
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fotonomy.core.gear import body as gear
from fotonomy.core.gear.body import DriveMode, RecordingFormat, RecordingRate
from fotonomy.core.gear.filters import Filter, FilterKind, MatteBox, Mount, StepRing
from fotonomy.core.gear.lens import Lens, Tube
from fotonomy.core.gear.support import Support
from fotonomy.core.motion.camera_movement import Camera, Movement
from fotonomy.core.spec.intent import Intent, Look
from fotonomy.core.spec.setup import FRAMING, SETTINGS, Limit
from fotonomy.exchange.errors import ExchangeError
from fotonomy.exchange.kit_json import Kit, kit_from_data, kit_to_data, read_kit
from fotonomy.exchange.schema_files import MAKERS
from fotonomy.exchange.schemas import LARGEST_FILE_BYTES, write_json
from fotonomy.exchange.setup_json import SetupFile, read_setup, setup_from_data, setup_to_data
from fotonomy.exchange.versions import upgraded
from tests.core.examples import BODY, FLAT, LENS, ND, RINGS, VIDEO
from tests.core.examples import setup as example


@pytest.mark.parametrize("name", list(MAKERS))
def test_the_committed_schema_is_the_one_the_classes_make(name: str) -> None:
    """Renew it with ``python -m fotonomy schemas``; a plan's names only change with its version."""
    kept = files("fotonomy.exchange").joinpath(f"{name}.schema.json").read_text("utf-8")
    assert kept == write_json(MAKERS[name]())


names = st.text("abc ÆØ漢", min_size=1, max_size=12).filter(str.strip)
lengths = st.floats(1, 300).map(lambda x: round(x, 2))


@st.composite
def kits(draw: Any) -> Kit:
    lens = st.builds(
        Lens, name=names, focal_shortest_mm=lengths, focal_longest_mm=st.just(900.0),
        widest_f=st.floats(0.7, 5), smallest_f=st.floats(5.1, 64), close_focus_m=st.none() | lengths,
        thread_mm=st.none() | lengths, squeeze=st.floats(1, 2), mount=st.sampled_from(["", "wide"]),
    )  # fmt: skip
    piece = st.builds(
        Filter, name=names, kind=st.sampled_from([FilterKind.ND, FilterKind.POLARISER]),
        stops=st.floats(0.1, 12), thread_mm=st.none() | lengths, mount=st.sampled_from(list(Mount)),
    )  # fmt: skip
    ring = st.builds(StepRing, name=names, lens_mm=st.floats(20, 60), filter_mm=st.floats(61, 99))
    box = st.builds(MatteBox, name=names, largest_mm=lengths)
    return Kit(
        profiles=draw(st.sampled_from([(), (FLAT,), (FLAT, VIDEO)])),
        bodies=draw(st.sampled_from([(), (BODY,)])),
        lenses=tuple(draw(st.lists(lens, max_size=3))),
        glass=tuple(draw(st.lists(piece, max_size=3))),
        holders=tuple(draw(st.lists(ring | box, max_size=3))),
        tubes=tuple(draw(st.lists(st.builds(Tube, name=names, length_mm=lengths), max_size=2))),
        supports=tuple(
            draw(st.lists(st.tuples(names, st.sampled_from(list(Support))), max_size=2))
        ),
    )


@given(kits())
def test_any_kit_there_and_back(kit: Kit) -> None:
    assert read_kit(write_json(kit_to_data(kit)).encode()) == kit


FAULTS = [
    (("bodies", 0, "formats"), [], "$.bodies[0].formats"),
    (("bodies", 0, "formats", 0, "rates"), [], "$.bodies[0].formats[0].rates"),
    (("bodies", 0, "iso_highest"), 10, "$.bodies[0].iso_highest"),
    (("bodies", 0, "iso_ceiling"), 10, "$.bodies[0].iso_ceiling"),
    (("bodies", 0, "weight_kg"), 2, "$.bodies[0]"),
    (("lenses", 0, "smallest_f"), 1.0, "$.lenses[0].smallest_f"),
    (("lenses", 0, "squeeze"), 0.2, "$.lenses[0].squeeze"),
    (("glass", 0, "kind"), "brick", "$.glass[0].kind"),
    (("glass", 0, "mount"), "tape", "$.glass[0].mount"),
    (("holders", 0), {"hat": {}}, "$.holders[0]"),
    (("holders", 0, "step_ring", "filter_mm"), 67, "$.holders[0].filter_mm"),
    (("profiles", 0, "clip_percent"), 10, "$.profiles[0].clip_percent"),
    (("supports", 0, "support"), "crane", "$.supports[0].support"),
    (("version",), 2, "$.version"),
]  # fmt: skip


@pytest.mark.parametrize(("path", "value", "place"), FAULTS, ids=[fault[2] for fault in FAULTS])
def test_a_fault_in_a_kit_is_named_by_its_place(
    path: tuple[Any, ...], value: Any, place: str
) -> None:
    kit = Kit((FLAT,), (BODY,), (LENS,), ND, RINGS, (), (("Tripod", Support.TRIPOD),))
    data = copy.deepcopy(kit_to_data(kit))
    part = data
    for key in path[:-1]:
        part = part[key]
    part[path[-1]] = value
    with pytest.raises(ExchangeError) as caught:
        kit_from_data(data)
    assert caught.value.place.startswith(place)


@pytest.mark.parametrize("raw", [b"", b"[]", b"\x00", b"{" * 9000, b" " * (LARGEST_FILE_BYTES + 1)])
def test_what_is_no_kit_is_refused_shortly(raw: bytes) -> None:
    with pytest.raises(ExchangeError) as caught:
        read_kit(raw)
    assert len(str(caught.value)) < 400


def test_everything_about_a_setup_there_and_back() -> None:
    full = example(
        lamp_hz=250.0, light_change_stops=1.5, subject_size_m=0.04, subject_depth_m=0.01,
        movement=Movement(camera=Camera.PAN, heading_deg=30, pan_deg_s=12, background_m=40),
        intent=Intent(look=Look.CRISP, freeze_px=2, depth_m=0.3, emphasis=(("noise", 2.0),)),
        support=Support.GIMBAL, recording="HD crop", tubes=(Tube(name="26", length_mm=26),),
        packed_lenses=(LENS,), held=frozenset({"iris", *FRAMING}), limits=(Limit("iso", 400, 3200),),
    )  # fmt: skip
    given_file = SetupFile(full, "06:05", "Mind the tide.")
    assert read_setup(write_json(setup_to_data(given_file)).encode()) == given_file


OLD = Path(__file__).parent / "files" / "setup-version-2.json"


def version_one() -> dict[str, Any]:
    """A file as it was written before bodies had several formats."""
    data = json.loads(OLD.read_text("utf-8"))
    body = data["gear"]["body"]
    recorded = body.pop("formats")[0]
    for key in ("drive_modes", "nd_wheel", "mount", "stabiliser_stops", "power_w",
                "iso_extended_lowest", "iso_extended_highest"):  # fmt: skip
        body.pop(key)
    for key in ("width_px", "height_px", "sensor_width_mm", "sensor_height_mm", "rates"):
        body[key] = recorded[key]
    body["drive_rates_fps"] = [12, 20]
    for key in ("holders", "bag_lenses", "tubes"):
        data["gear"].pop(key)
    for key in ("intent", "movement", "support", "recording", "limits", "lamp_hz", "readings",
                "light_change_stops", "run"):  # fmt: skip
        data["setup"].pop(key)
    data["setup"]["subject"] = {"name": "plank", "speed_m_s": 0.0, "distance_m": 4.0}
    data["setup"]["held"] = ["frame_rate"]
    return {**data, "version": 1}


def test_files_of_version_one_are_still_read() -> None:
    read = setup_from_data(version_one()).setup
    assert read.body.formats[0].name == "Standard"
    assert read.body.drive_modes == (DriveMode("12 a second", 12), DriveMode("20 a second", 20))
    assert read.held == {"frame_rate", *FRAMING}
    assert read.subject == "plank"
    # Filter used to fit lenses of a smaller thread; the ring that makes it so comes along.
    rings = [holder for holder in read.holders if isinstance(holder, StepRing)]
    assert all(ring.lens_mm == read.lens.thread_mm < ring.filter_mm for ring in rings)


def test_files_of_version_two_are_still_read() -> None:
    """Written by the program as it was: every number under its present name."""
    old = json.loads(OLD.read_text("utf-8"))
    read = setup_from_data(old)
    shot, spec = old["setup"], read.setup
    assert (read.planned_time, read.notes) == (shot["planned_time"], shot["notes"])
    assert (spec.project_fps, spec.mains_hz) == (25, 50)
    assert (spec.iris, spec.iso) == (shot["settings"]["iris"], shot["settings"]["iso"])
    assert spec.subject_distance_m == shot["subject"]["distance_m"]
    assert spec.run.event_s == shot["run"]["event_s"]
    assert len(spec.run.light_curve) == len(shot["run"]["light"])
    assert len(spec.glass) == len(old["gear"]["nd"])
    assert spec.held <= {*SETTINGS, *FRAMING}
    again = json.loads(write_json(setup_to_data(read)))
    assert again["version"] == 3
    assert setup_from_data(again) == read


@pytest.mark.parametrize(
    "data", [[], {"version": 1}, {"version": 1, "gear": [], "setup": {}}, None]
)
def test_broken_old_files_are_refused_not_crashed_over(data: Any) -> None:
    assert upgraded(data) == data
    with pytest.raises(ExchangeError):
        setup_from_data(data)


def test_a_format_by_name() -> None:
    crop = RecordingFormat(
        name="c", width_px=1920, height_px=1080, sensor_width_mm=18, sensor_height_mm=10,
        rates=(RecordingRate(25, 50),),
    )  # fmt: skip
    body = gear.Body(name="b", formats=(BODY.formats[0], crop))
    assert body.format_named("c") is crop
    assert body.format_named("none such") is BODY.formats[0]
