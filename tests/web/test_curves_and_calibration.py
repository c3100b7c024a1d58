"""Profiles by table, published curves, exports, and calibration from frames."""

import io
import json
from typing import Any

import cv2
import numpy as np
import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse
from lxml import html
from PIL import Image

from fotonomy.core.curves.transfer_functions import encode
from fotonomy.exchange.curve_files import read_table, write_csv, write_cube
from fotonomy.exchange.encodings import (
    STANDARDS_BODIES,
    published_curve,
    published_cut,
    published_names,
)
from fotonomy.exchange.errors import ExchangeError
from fotonomy.exchange.kit_json import kit_to_data, read_kit
from fotonomy.exchange.pictures import read_frame
from fotonomy.exchange.schemas import write_json
from fotonomy.kit.models import Body, Profile
from fotonomy.kit.services import import_kit, kit_of
from tests.core.examples import FLAT
from tests.web.test_kit import PROFILE

pytestmark = pytest.mark.django_db


def table_fields(raw: bytes, name: str = "flat.cube", turns: str = "encodes") -> dict[str, Any]:
    empty = dict.fromkeys("abcdef", "") | {"cut": ""}
    return {**PROFILE, **empty, "curve": "table", "clip_percent": "90", "table_turns": turns,
            "table_file": SimpleUploadedFile(name, raw)}  # fmt: skip


@pytest.mark.parametrize(
    ("raw", "name", "turns"),
    [(write_cube(FLAT, decodes=False), "a.cube", "encodes"),
     (write_cube(FLAT, decodes=True), "a.cube", "decodes"), (write_csv(FLAT), "a.csv", "encodes")],
)  # fmt: skip
def test_our_own_files_come_back_as_the_same_curve(
    demo_client: Any, raw: str, name: str, turns: str
) -> None:
    answer = demo_client.post("/kit/profile/new/", table_fields(raw.encode(), name, turns))
    assert answer.status_code == 302, answer.content.decode()[:2000]
    row = Profile.objects.get(name="My log")
    assert row.table_source == f"from {name}"
    light = np.geomspace(0.003, 12, 500)
    # Linear rows are coarse near black: two thousandths of the scale there.
    miss = np.abs(encode(row.to_curve(), light) - encode(FLAT.curve, light))
    assert np.max(miss) < 0.002
    assert row.to_spec().recorded_grey_percent == pytest.approx(38.5, abs=0.1)
    # Kept again without a file, the table stays.
    again = {k: v for k, v in table_fields(b"").items() if k != "table_file"}
    assert demo_client.post(f"/kit/profile/{row.pk}/", again).status_code == 302
    row.refresh_from_db()
    assert row.table["linear"]


ROWS = "\n".join(f"{x:.5f} {x:.5f} {x:.5f}" for x in np.linspace(0, 1, 16))
BAD = [
    (b"\x89PNG\r\n\x1a\n\x00", "not text"),
    (b"", "no table"),
    (b"linear,signal\n0.1,0.2\n", "rows"),
    (b"linear,signal\n" + b"".join(b"%f,%f\n" % (k / 9, (k % 7) / 9) for k in range(20)), "has to rise"),
    (b"linear,signal\n" + b"".join(b"%f,%f\n" % (k / 900, k / 40) for k in range(20)), "never reaches grey"),
    (b"linear,signal\n0.1,wide\n", "expected a number"),
    (b"stops,light\n1,2\n", "needs a column"),
    (b"LUT_3D_SIZE 33\n", "mixes colours"),
    (f"LUT_1D_SIZE 17\n{ROWS}\n".encode(), "says 17 rows and has 16"),
    (b"LUT_1D_SIZE 2\n0 0 0\n1 1 1\n", "rows"),
    (f"LUT_1D_SIZE 16\nDOMAIN_MAX 0 0 0\n{ROWS}\n".encode(), "domain"),
    (b"LUT_1D_SIZE nine\n", "expected a number"),
    (b"linear,signal\n" + b"0.1,0.1\n" * 70_000, "more than 65536"),
    (b"x" * (8 * 1024 * 1024 + 5), "larger than 8 MB"),
]  # fmt: skip


@pytest.mark.parametrize(("raw", "words"), BAD, ids=[words for _, words in BAD])
def test_tables_that_are_none_are_refused_beside_the_file(
    demo_client: Any, raw: bytes, words: str
) -> None:
    answer = demo_client.post("/kit/profile/new/", table_fields(raw, "odd.csv"))
    assert answer.status_code in (200, 422)
    page = html.fromstring(answer.content.decode())
    near = page.xpath("//*[contains(@class,'field-error')]")
    said = " ".join(e.text_content() for e in near)
    # Django itself refuses an empty file, in its own words.
    assert words in said or (not raw and "empty" in said)
    assert not Profile.objects.filter(name="My log").exists()


def test_a_table_has_to_hold_the_clip(demo_client: Any) -> None:
    fields = table_fields(write_cube(FLAT, decodes=False).encode())
    answer = demo_client.post("/kit/profile/new/", {**fields, "clip_percent": "150"})
    assert b"beyond this curve" in answer.content
    missing = {k: v for k, v in table_fields(b"").items() if k != "table_file"}
    assert b"A table needs its file" in demo_client.post("/kit/profile/new/", missing).content


def test_pick_a_published_curve(demo_client: Any) -> None:
    page = html.fromstring(demo_client.get("/kit/profile/published/").content.decode())
    names = page.xpath("//button[@name='encoding']/@value")
    assert len(names) > 10
    chosen = next(name for name in names if "BT.709" in name)
    answer = demo_client.post("/kit/profile/published/", {"encoding": chosen})
    row = Profile.objects.get(name=chosen)
    assert answer.url == reverse("gear-edit", args=["profile", row.pk])
    # ITU-R BT.709-6, item 1.2: 40.9 % at grey.
    assert row.to_spec().recorded_grey_percent == pytest.approx(40.9, abs=0.05)
    assert (row.scale, row.clip_percent) == ("full", 100)
    wrong = demo_client.post("/kit/profile/published/", {"encoding": "no such thing"})
    assert wrong.status_code == 422
    assert b"no encoding of this name" in wrong.content
    found = html.fromstring(demo_client.get("/kit/profile/published/?find=bt.709").content.decode())
    assert 0 < len(found.xpath("//button[@name='encoding']")) < len(names)


def test_a_foot_that_was_cut_and_a_clip_no_sensor_has_are_said(demo_client: Any) -> None:
    # Found by what the library itself says: an encoding whose parts do not join, and one that
    # runs on to more stops over grey than any sensor holds (common practice: nine).
    def picked(wanted: Any) -> str:
        name = next(one for one in published_names() if wanted(one))
        page = demo_client.post("/kit/profile/published/", {"encoding": name}, follow=True)
        return str(page.content.decode())

    def joins_badly(name: str) -> bool:
        try:
            curve = published_curve(name)
        except ExchangeError:
            return False
        cut = published_cut(name, curve)
        return cut is not None and cut.kept - cut.black > 0.02

    page = picked(joins_badly)
    assert "it does not rise where its two parts join" in page
    assert "instead of" in page
    far = picked(lambda name: "cct" in name.casefold())
    assert "farther over grey than any sensor does" in far
    plain = picked(lambda name: "BT.709" in name)
    assert "any sensor" not in plain
    assert "was cut" not in plain


def test_tables_travel_with_the_kit(demo_client: Any, adze: Any) -> None:
    demo_client.post("/kit/profile/new/", table_fields(write_cube(FLAT, decodes=False).encode()))
    owner = adze.shoot.owner
    raw = write_json(kit_to_data(kit_of(owner))).encode()
    again = import_kit(owner, read_kit(raw))
    assert not [one.wanted for one in again if one.made]


def test_curves_over_each_other(demo_client: Any) -> None:
    page = html.fromstring(demo_client.get("/kit/curves/").content.decode())
    assert len(page.xpath("//table[@class='curve-table']/thead//th")) == 4
    text = page.text_content()
    # ITU-R BT.709-6 at eight full bits: 0.409 · 255 = 104.3, the invented log 64 + 876·0.385.
    assert "40.9 % · 10" in text
    assert "38.5 % · 401" in text
    one = Profile.objects.first()
    single = html.fromstring(demo_client.get(f"/kit/curves/?profile={one.pk}").content.decode())
    assert len(single.xpath("//table[@class='curve-table']/thead//th")) == 1


def test_exports(demo_client: Any) -> None:
    row = Profile.objects.get(name="Flat log")

    def got(form: str, query: str = "") -> Any:
        return demo_client.get(reverse("curve-export", args=[row.pk, form]) + query)

    solid = got("correct3d", "?pull=1,3&lights=straight").content.decode().splitlines()
    assert solid[0] == 'TITLE "Flat log to BT.709, exposure −1.3 stops, straight"'
    assert solid[1] == "LUT_3D_SIZE 33"
    nodes = np.array([list(map(float, line.split())) for line in solid[4:]])
    assert nodes.shape == (33**3, 3)
    # Red runs fastest: the first 33 rows share green and blue.
    assert np.all(nodes[:33, 1:] == nodes[0, 1:])
    assert np.all(np.diff(nodes[:33, 0]) >= 0)
    flat = got("correct1d").content.decode()
    table = np.array([list(map(float, line.split())) for line in flat.splitlines()[4:]])
    # Grey at 38.5 % comes out at 40.9 % (BT.709-6).
    assert np.interp(0.385, np.linspace(0, 1, 4096), table[:, 1]) == pytest.approx(0.409, abs=0.001)
    assert got("csv")["Content-Type"].startswith("text/csv")
    assert got("decode").content.startswith(b'TITLE "Flat log: signal')
    assert got("nothing").status_code == 404
    assert got("correct3d", "?pull=lots").status_code == 302


def test_the_library_reads_our_tables(demo_client: Any, tmp_path: Any) -> None:
    """colour-science reads .cube files after the published layout: an outside reader."""
    colour = pytest.importorskip("colour")
    row = Profile.objects.get(name="Flat log")
    for form, size in (("correct3d", 33), ("encode", 4096)):
        path = tmp_path / f"{form}.cube"
        path.write_bytes(demo_client.get(reverse("curve-export", args=[row.pk, form])).content)
        table = colour.read_LUT(str(path))
        assert table.size == size
    grey = np.array([0.18, 0.18, 0.18])
    assert table.apply(grey) == pytest.approx(encode(FLAT.curve, grey), abs=1e-3)


def png(frame: Any) -> bytes:
    return bytes(cv2.imencode(".png", frame)[1])


def pairs(client: Any, body: Body, isos: tuple[int, ...], form: str = ".png") -> dict[str, Any]:
    fields: dict[str, Any] = {"profile": "Flat log", "format": ""}
    for k, iso in enumerate(isos, 1):
        fields[f"iso-{k}"] = str(iso)
        for n, name in ((1, "first"), (2, "second")):
            url = reverse("body-frame", args=[body.pk])
            raw = client.get(url, {"profile": "Flat log", "iso": iso, "n": n}).content
            if form != ".png":
                raw = bytes(cv2.imencode(form, cv2.imdecode(np.frombuffer(raw, np.uint8), -1))[1])
            fields[f"{name}-{k}"] = SimpleUploadedFile(f"{name}{form}", raw)
    return fields


def test_calibrate_from_uploaded_frames_and_keep(demo_client: Any, adze: Any) -> None:
    body = adze.body
    url = reverse("body-calibrate", args=[body.pk])
    assert demo_client.get(url).status_code == 200
    page = html.fromstring(
        demo_client.post(url, pairs(demo_client, body, (500, 2000, 3200))).content.decode()
    )
    assert "Measured" in page.xpath("//h2")[0].text_content()
    body.refresh_from_db()
    assert body.full_well_e is None, "nothing is kept before it is asked for"
    payload = page.xpath("//button[@name='keep']/@value")[0]
    assert demo_client.post(url, {"keep": payload}).status_code == 302
    body.refresh_from_db()
    # The stand-in's own sensor: 52 000 electrons, 4.6 and 1.9 of read noise.
    assert body.full_well_e == pytest.approx(52_000, rel=0.03)
    assert body.read_low_e == pytest.approx(4.6, rel=0.05)
    assert body.read_high_e == pytest.approx(1.9, rel=0.1)
    assert "3 pairs at ISO 500, 2000, 3200, Flat log" in body.sensor_source
    bench = demo_client.get(f"{adze.get_absolute_url()}?open=noise").content.decode()
    assert "sensor as measured" in bench
    forged = demo_client.post(url, {"keep": payload[:-3] + "abc"}, follow=True)
    assert b"Not kept" in forged.content
    other = Body.objects.exclude(pk=body.pk).first()
    crossed = demo_client.post(
        reverse("body-calibrate", args=[other.pk]), {"keep": payload}, follow=True
    )
    assert b"another body" in crossed.content


@pytest.mark.parametrize("form", [".tiff", ".png"])
def test_frames_of_every_kind(demo_client: Any, adze: Any, form: str) -> None:
    url = reverse("body-calibrate", args=[adze.body_id])
    answer = demo_client.post(url, pairs(demo_client, adze.body, (500, 2000), form))
    assert answer.status_code == 200
    assert b"Save for A-cam" in answer.content


def test_the_stand_in_is_measured_on_a_press(demo_client: Any, adze: Any) -> None:
    url = reverse("body-calibrate", args=[adze.body_id])
    page = html.fromstring(
        demo_client.post(url, {"stand_in": "1", "profile": "Flat log"}).content.decode()
    )
    assert "the stand-in camera, 4 pairs" in page.text_content()


def noise(seed: int, shape: tuple[int, ...] = (200, 320), depth: Any = np.uint16) -> Any:
    top = np.iinfo(depth).max
    return np.random.default_rng(seed).integers(0.3 * top, 0.34 * top, shape).astype(depth)


def bomb() -> bytes:
    out = io.BytesIO()
    Image.new("L", (5900, 5900), 80).save(out, "PNG", compress_level=9)
    return out.getvalue()


def too_many_pixels() -> bytes:
    out = io.BytesIO()
    Image.new("1", (30_000, 30_000)).save(out, "PNG")
    return out.getvalue()


def pages() -> bytes:
    out = io.BytesIO()
    frames = [Image.fromarray(noise(k, depth=np.uint8)) for k in (1, 2)]
    frames[0].save(out, "TIFF", save_all=True, append_images=frames[1:])
    return out.getvalue()


FLOATS = bytes(cv2.imencode(".tiff", np.random.default_rng(1).random((90, 120), np.float32))[1])
BAD_FRAMES = [
    (b"not a picture", "not a picture"), (b"\x89PNG\r\n\x1a\n" + b"\0" * 40, "not a picture"),
    (png(noise(1))[:3000], "could not be unpacked"), (bomb(), "unpacks to far more"),
    (too_many_pixels(), "more"), (FLOATS, "8 or 16 bits"), (pages(), "holds 2 pictures"),
]  # fmt: skip


@pytest.mark.parametrize(("raw", "words"), BAD_FRAMES, ids=[words for _, words in BAD_FRAMES])
def test_frames_that_are_none_are_refused_beside_their_line(
    demo_client: Any, adze: Any, raw: bytes, words: str
) -> None:
    url = reverse("body-calibrate", args=[adze.body_id])
    fields = {"profile": "Flat log", "iso-1": "500", "first-1": SimpleUploadedFile("odd.png", raw),
              "second-1": SimpleUploadedFile("b.png", png(noise(2)))}  # fmt: skip
    answer = demo_client.post(url, fields)
    assert answer.status_code == 422
    page = html.fromstring(answer.content.decode())
    assert words in page.xpath("//*[@id='e-1']")[0].text_content()
    assert page.xpath("//input[@name='iso-1']/@value") == ["500"]


def test_pairs_that_do_not_fit_are_refused(demo_client: Any, adze: Any) -> None:
    url = reverse("body-calibrate", args=[adze.body_id])

    def said(**fields: Any) -> str:
        page = html.fromstring(
            demo_client.post(url, {"profile": "Flat log", **fields}).content.decode()
        )
        return " ".join(e.text_content() for e in page.xpath("//*[@class='field-error']"))

    def up(frame: Any) -> SimpleUploadedFile:
        return SimpleUploadedFile("f.png", png(frame))

    def one() -> dict[str, Any]:
        return {"iso-1": "500", "first-1": up(noise(1))}

    assert "both frames" in said(**one())
    assert "differ in size" in said(**one(), **{"second-1": up(noise(2, (200, 300)))})
    assert "bit depth" in said(**one(), **{"second-1": up(noise(2, depth=np.uint8))})
    assert "ISO" in said(**{"iso-1": "fast", "first-1": up(noise(1)), "second-1": up(noise(2))})
    assert "Two frames of the same grey" in said()


def test_large_frames_are_measured_in_their_middle() -> None:
    frame = read_frame(png(noise(3, (2300, 2500), np.uint8)), "big.png")
    assert (frame.width, frame.height) == (2500, 2300)
    assert frame.pixels.shape == (2048, 2048)
    colour = read_frame(png(np.dstack([noise(k, depth=np.uint16) for k in (1, 2, 3)])), "c.png")
    assert np.array_equal(colour.pixels, noise(2))


def test_numbers_by_hand_are_marked_as_such(demo_client: Any, adze: Any) -> None:
    page = html.fromstring(demo_client.get(f"/kit/body/{adze.body_id}/").content.decode())
    shown = {f.get("name"): f.get("value", "") for f in page.xpath("//form//input[@name]")
             if f.get("type") != "checkbox" or f.get("checked")}  # fmt: skip
    shown |= {s.get("name"): s.xpath("./option[@selected]/@value")[0]
              for s in page.xpath("//select") if s.xpath("./option[@selected]")}  # fmt: skip
    profiles = page.xpath("//input[@name='profiles'][@checked]/@value")
    answer = demo_client.post(
        f"/kit/body/{adze.body_id}/", {**shown, "profiles": profiles, "full_well_e": "44 000"}
    )
    assert answer.status_code == 302
    adze.body.refresh_from_db()
    assert (adze.body.full_well_e, adze.body.sensor_source) == (44_000, "entered by hand")


def test_reading_a_table_names_the_line() -> None:
    raw = b"LUT_1D_SIZE 16\n" + ROWS.replace("0.20000 0.20000", "0.20000 deep", 1).encode()
    with pytest.raises(ExchangeError) as caught:
        read_table(raw, "a.cube", "a", False)
    assert "line 5" in caught.value.place
    semicolons = "stops;percent\n" + "\n".join(f"{k},0;{10 + 5 * (k + 8)},5" for k in range(-8, 8))
    curve = read_table(semicolons.encode(), "a.csv", "a", False)
    assert float(encode(curve, 0.18)) == pytest.approx(0.505)
    # Whole stops from grey, as plain numbers that JSON can hold.
    stops = range(-8, 8)
    assert json.loads(json.dumps(list(curve.linear))) == pytest.approx([0.18 * 2**s for s in stops])


def test_only_standards_stand_there_unasked_and_others_are_found_by_name(demo_client: Any) -> None:
    def names(find: str) -> list[str]:
        answer = demo_client.get("/kit/profile/published/", {"find": find})
        return html.fromstring(answer.content.decode()).xpath("//button[@name='encoding']/@value")

    unasked = names("")
    assert "ITU-R BT.709" in unasked
    assert all(name.startswith(STANDARDS_BODIES) for name in unasked)
    assert names("lo") == [name for name in unasked if "lo" in name.casefold()]
    assert len(names("log")) > len(names("lo"))
    assert names("quux") == []
