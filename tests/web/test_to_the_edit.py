"""What goes to the edit, read back by readers that are not ours.

OpenTimelineIO and its CMX 3600 adapter (Academy Software Foundation), Exiv2 through pyexiv2 for XMP,
ffmpeg's concat reader through PyAV, colour-science for .cube, pypdf for the report.
"""

import csv
import re
import zipfile
from datetime import timedelta
from io import BytesIO, StringIO
from pathlib import Path
from typing import Any

import av
import numpy as np
import opentimelineio as otio
import pyexiv2
import pytest
from django.urls import reverse
from pypdf import PdfReader

from fotonomy.exchange.edit.clips import EditClip, Frames
from fotonomy.exchange.edit.edl import to_edl
from fotonomy.exchange.edit.formats import FORMATS, EditFormat
from fotonomy.exchange.edit.joining import to_concat
from fotonomy.exchange.edit.sidecars import Sidecar, to_xmp
from fotonomy.exchange.edit.timeline import to_otio
from fotonomy.field.models import PictureData, Take, TakePicture
from fotonomy.shoots.models import Setup, Shoot
from tests.web.test_field import logged


def got(client: Any, shoot: Shoot, name: str, *more: object, **asked: Any) -> Any:
    answer = client.get(reverse(name, args=[shoot.pk, *more]), asked)
    return b"".join(answer.streaming_content) if answer.streaming else answer.content


def clip(**more: Any) -> EditClip:
    from datetime import UTC, datetime

    given: dict[str, Any] = {
        "name": "A001_C001", "setup": "1A Pond", "card": "A-1",
        "taken": datetime(2027, 6, 5, tzinfo=UTC), "frames": 100, "shot_fps": 25,
        "verdict": "good",
    }  # fmt: skip
    return EditClip(**{**given, **more})


def test_the_demo_as_a_timeline(demo_client: Any, demo: Shoot) -> None:
    made = otio.adapters.read_from_string(
        got(demo_client, demo, "edit-takes", "otio").decode(), "otio_json"
    )
    takes, rest = made.tracks
    assert [len(takes), len(rest)] == [8, 2]
    assert {one.metadata["fotonomy"]["verdict"] for one in rest} == {"no good"}
    run = takes[0]
    assert isinstance(run.media_reference, otio.schema.ImageSequenceReference)
    assert run.media_reference.target_url_for_image_number(0) == "B_4127.jpg"
    assert run.duration() == otio.opentime.RationalTime(250, 25)
    assert run.media_reference.rate == 25
    one = next(clip for clip in takes if clip.metadata["fotonomy"]["actual"] !=
               clip.metadata["fotonomy"]["planned"])  # fmt: skip
    assert one.metadata["fotonomy"]["off_stops"] != 0
    assert made.global_start_time.to_timecode() == "01:00:00:00"
    slow = next(clip for clip in takes if clip.name == "A001_C003")
    # 19 s at 100 fps are 1900 frames of the edit.
    assert slow.duration().value == 1900
    assert slow.markers[0].color == otio.schema.MarkerColor.GREEN


@pytest.mark.parametrize(
    ("fps", "first", "drop"),
    [(25.0, "01:00:00:00", False), (23.976, "01:00:00:00", False), (29.97, "01:00:00;00", True)],
)
def test_a_list_is_read_back_by_the_foreign_adapter(fps: float, first: str, drop: bool) -> None:
    clips = [
        clip(frames=1800), clip(name="Zwei", frames=1, note="Wind; dann Ruhe"),
        clip(name="No", verdict="no good"), clip(name="Drei", frames=17_982),
    ]  # fmt: skip
    text = to_edl("Keel", clips, fps)
    assert ("FCM: DROP FRAME" in text) is drop
    exact = {25.0: 25.0, 23.976: 24000 / 1001, 29.97: 30000 / 1001}[fps]
    made = otio.adapters.read_from_string(text, "cmx_3600", rate=exact)
    (track,) = made.tracks
    found = list(track.find_clips())
    assert [one.name for one in found] == ["A001_C001", "Zwei", "Drei"]
    assert [round(one.duration().value) for one in found] == [1800, 1, 17_982]
    starts = [track.range_of_child_at_index(k).start_time.value for k in range(3)]
    assert [round(one) for one in starts] == [0, 1800, 1801]
    lines = [line for line in text.splitlines() if line[:3].isdigit()]
    assert lines[0].split()[6] == first
    # Each begins where the one before it ends.
    assert [line.split()[6] for line in lines[1:]] == [line.split()[7] for line in lines[:-1]]
    if drop:
        # SMPTE ST 12-1: 1800 frames at 29.97 end on 00:01:00;02, two counts are left out.
        assert lines[0].split()[7] == "01:01:00;02"


def test_names_that_would_break_a_list_do_not() -> None:
    text = to_edl("A\nB", [clip(name="x\n001  AX V C", card="ä/ö", note="é" * 500)], 25)
    assert len([line for line in text.splitlines() if line[:3] == "001"]) == 1
    assert max(map(len, text.splitlines())) < 230
    many = to_edl("many", [clip()] * 1200, 25)
    assert len([line for line in many.splitlines() if line[:3].isdigit()]) == 999


def test_runs_and_names_in_a_timeline() -> None:
    made = otio.adapters.read_from_string(
        to_otio("Keel", [clip(run=Frames("IMG_0009.jpg", 3, (10,)), frames=3),
                         clip(run=Frames("moon.jpg", 3), frames=3)], 23.976), "otio_json",
    )  # fmt: skip
    one, other = made.tracks[0]
    assert one.media_reference.target_url_for_image_number(1) == "IMG_0010.jpg"
    assert list(one.metadata["fotonomy"]["missing_frames"]) == [10]
    assert other.media_reference.name_prefix == "moon.jpg"
    assert one.source_range.duration.rate == pytest.approx(24000 / 1001)


@pytest.mark.parametrize("fps", [23.976, 24, 25, 29.97, 30, 47.952, 48, 50, 59.94, 60])
def test_a_timeline_and_a_list_begin_at_the_same_hour(fps: float) -> None:
    """By OpenTimelineIO's own count: at 29.97 the hour is 107 892 frames and not 108 000."""
    start = otio.adapters.read_from_string(to_otio("Pond", [clip()], fps), "otio_json")
    start = start.global_start_time
    listed = re.search(r"(01:00:00[:;]00) ", to_edl("Pond", [clip()], fps))
    assert listed is not None
    # What stands in neither form of its timecode is counted as the whole rate it is named by.
    named = round(fps)
    if fps in (29.97, 59.94):
        assert start.to_timecode(start.rate, drop_frame=True) == "01:00:00;00" == listed[1]
    else:
        assert listed[1] == "01:00:00:00"
        assert otio.opentime.RationalTime(start.value, named) == otio.opentime.from_timecode(
            listed[1], named
        )


def test_sidecars_are_read_by_exiv2(tmp_path: Path) -> None:
    path = tmp_path / "B_4127.xmp"
    path.write_bytes(to_xmp(Sidecar("B_4127.jpg", 4, ("1A Pond & <mill>", "good"), "Pond", "äö")))
    with pyexiv2.Image(str(path)) as image:
        said = image.read_xmp()
    assert said["Xmp.xmp.Rating"] == "4"
    assert said["Xmp.dc.subject"] == ["1A Pond & <mill>", "good"]
    assert said["Xmp.dc.title"] == {'lang="x-default"': "Pond"}
    assert said["Xmp.dc.description"] == {'lang="x-default"': "äö"}


def test_every_still_has_its_sidecar(demo_client: Any, demo: Shoot) -> None:
    TakePicture.objects.filter(name="B_4130.jpg").update(rating=5)
    with zipfile.ZipFile(BytesIO(got(demo_client, demo, "edit-xmp"))) as archive:
        names = archive.namelist()
        keeper = archive.read("B_4130.xmp")
        usual = archive.read("B_4131.xmp")
        bad = archive.read("A001_C004.xmp")
    assert len(names) == len(set(names)) == demo.pictures.exclude(take_uid="").count()
    assert b"Rating>5<" in keeper
    assert b"Rating>3<" in usual
    assert b"Rating>-1<" in bad
    assert b">shake<" in bad


def test_the_frames_of_a_run_are_joined_by_ffmpeg(
    demo_client: Any, demo: Shoot, tmp_path: Path
) -> None:
    take = Take.objects.get(shoot=demo, uid="demo-1")
    text = got(demo_client, demo, "edit-frames", take.pk).decode()
    names = [line[6:-1] for line in text.splitlines() if line.startswith("file ")][:12]
    for name in dict.fromkeys(names):
        row = demo.pictures.get(name=name)
        data = PictureData.objects.get(shoot=demo, sha256=row.sha256)
        (tmp_path / name).write_bytes(bytes(data.jpeg))
    path = tmp_path / "run.ffconcat"
    path.write_text(to_concat(names, 25.0), "utf-8")
    with av.open(str(path), format="concat", options={"safe": "1"}) as joined:
        times = [float(frame.time) for frame in joined.decode(video=0)]
    # The last one is named twice, so that its length is kept.
    assert times[:12] == pytest.approx([k / 25 for k in range(12)], abs=1e-3)


def test_a_quote_in_a_name_is_quoted(tmp_path: Path, demo: Shoot) -> None:
    data = PictureData.objects.filter(shoot=demo).first()
    assert data is not None
    (tmp_path / "it's.jpg").write_bytes(bytes(data.jpeg))
    path = tmp_path / "run.ffconcat"
    path.write_text(to_concat(["it's.jpg", "it's.jpg"], 25.0), "utf-8")
    with av.open(str(path), format="concat", options={"safe": "0"}) as joined:
        times = [float(frame.time) for frame in joined.decode(video=0)]
    assert times[1] == pytest.approx(0.04, abs=1e-4)
    # 24000/1001 to the nanosecond.
    assert "duration 0.041708333" in to_concat(["a.jpg"], 23.976)


def test_a_night_is_read_by_colour_science(
    demo_client: Any, demo: Shoot, launch: Setup, tmp_path: Path
) -> None:
    # Loaded here: it stands in for libraries that others look for.
    import colour

    Setup.objects.filter(pk=launch.pk).update(kind="dusk_for_night")
    page = got(demo_client, demo, "edit").decode()
    assert "Dusk for night" in page
    path = tmp_path / "night.cube"
    path.write_bytes(got(demo_client, demo, "edit-night", launch.pk, darker="3", cooler="0"))
    table = colour.read_LUT(str(path))
    assert table.size == 33
    grey = table.apply(np.array([[0.4, 0.4, 0.4]]))[0]
    assert grey == pytest.approx([grey[0]] * 3)
    path.write_bytes(got(demo_client, demo, "edit-night", launch.pk))
    cooled = colour.read_LUT(str(path)).apply(np.array([[0.4, 0.4, 0.4]]))[0]
    assert cooled[2] > cooled[0]
    for wrong in ({"darker": "9", "cooler": "0"}, {"darker": "x"}, {"cooler": "nan"}):
        answer = demo_client.get(
            reverse("edit-night", args=[demo.pk, launch.pk]), wrong, follow=True
        )
        assert answer.redirect_chain
    assert demo_client.get(reverse("edit-night", args=[demo.pk, 99999])).status_code == 404


def test_cuts_on_the_beat_by_page_and_file(demo_client: Any, demo: Shoot) -> None:
    asked = {"bpm": "92", "pattern": "4 4 8", "length": "0:30"}
    answer = demo_client.get(reverse("edit", args=[demo.pk]), asked)
    cuts = answer.context["cuts"]
    assert "no cut is more than" in cuts.says
    assert cuts.lines[0].clip == "A001_C001"
    rows = list(csv.DictReader(StringIO(got(demo_client, demo, "edit-cuts", **asked).decode())))
    assert [int(row["frame"]) for row in rows] == [line.first for line in cuts.lines]
    assert rows[1]["at"] == "00:00:02:15"
    typed = demo_client.get(reverse("edit", args=[demo.pk]), {"beats": "0 2 4.04"})
    assert [line.frames for line in typed.context["cuts"].lines] == [50, 51]


@pytest.mark.parametrize(
    ("asked", "field"),
    [({"bpm": "fast"}, "length"), ({"bpm": "fast", "length": "1:00"}, "bpm"),
     ({"bpm": "92", "length": "1:00", "pattern": "four"}, "pattern"),
     ({"bpm": "92", "length": "soon"}, "length"), ({"bpm": "92", "length": ""}, "length"),
     ({"bpm": "9e99", "length": "1:00"}, "bpm"), ({"beats": "1 2 x"}, "beats"),
     ({"bpm": "92", "length": "1:00", "pattern": "²"}, "pattern")],
)  # fmt: skip
def test_wrong_music_is_said_beside_its_field(
    demo_client: Any, demo: Shoot, asked: dict[str, str], field: str
) -> None:
    answer = demo_client.get(reverse("edit", args=[demo.pk]), asked)
    assert answer.status_code == 422
    assert list(answer.context["errors"]) == [field]
    for value in asked.values():
        assert value in answer.content.decode()
    file = demo_client.get(reverse("edit-cuts", args=[demo.pk]), asked, follow=True)
    assert file.redirect_chain


def test_the_report_is_a_row_a_take_by_card(demo_client: Any, demo: Shoot) -> None:
    reader = PdfReader(BytesIO(got(demo_client, demo, "report-pdf")))
    text = " ".join(" ".join(page.extract_text() for page in reader.pages).split())
    assert "Camera report" in text
    assert "Card A-1: 8 takes, 4 good" in text
    for take in Take.objects.filter(shoot=demo):
        assert take.clip in text
    assert "shake" in text


def test_nothing_shot_goes_out_empty_and_says_so(
    demo_client: Any, demo: Shoot, nothing_shot_yet: None
) -> None:
    assert len(otio.adapters.read_from_string(
        got(demo_client, demo, "edit-takes", "otio").decode(), "otio_json").tracks) == 0  # fmt: skip
    assert b"TITLE" in got(demo_client, demo, "edit-takes", "edl")
    assert zipfile.ZipFile(BytesIO(got(demo_client, demo, "edit-xmp"))).namelist() == []
    assert b"%PDF" in got(demo_client, demo, "report-pdf")


def test_a_length_that_nobody_logged_is_said(
    demo_client: Any, demo: Shoot, launch: Setup, nothing_shot_yet: None
) -> None:
    logged(launch, uid="a", length_s=None)
    logged(launch, uid="b", length_s=timedelta(seconds=4).total_seconds())
    text = got(demo_client, demo, "edit").decode()
    assert "1 take has no length: 10 s of recording assumed" in text
    answer = demo_client.get(
        reverse("edit-frames", args=[demo.pk, Take.objects.get(uid="a").pk]), follow=True
    )
    assert "no run of frames" in answer.content.decode()


def test_a_format_is_a_module_and_a_line(demo_client: Any, demo: Shoot) -> None:
    """A throw-away format is on the page and can be fetched; one that is none is not."""
    gulls = EditFormat(
        "gulls", "Gulls", "A gull for each take.", "text/plain",
        lambda name, clips, fps: f"{name} at {fps:g}: {len(clips)} gulls",
    )  # fmt: skip
    FORMATS.append(gulls)
    try:
        page = demo_client.get(reverse("edit", args=[demo.pk])).content.decode()
        assert "Gulls (.gulls)" in page
        assert "A gull for each take." in page
        answer = demo_client.get(reverse("edit-takes", args=[demo.pk, "gulls"]))
        assert answer.content.decode().endswith(f"at 25: {demo.takes.count()} gulls")
        assert answer["Content-Disposition"].endswith('.gulls"')
    finally:
        FORMATS.remove(gulls)
    assert demo_client.get(reverse("edit-takes", args=[demo.pk, "gulls"])).status_code == 404
