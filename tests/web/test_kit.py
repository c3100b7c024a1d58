"""The kit's pages: gear added, changed, refused beside the field, and kept while in use."""

from typing import Any

import pytest
from lxml import html

from fotonomy.kit.forms import parse_rates, show_rates
from fotonomy.kit.models import Body, Filter, Lens, Profile

BODY = {
    "name": "C-cam", "sensor_width_mm": "23,5", "sensor_height_mm": "13.2 mm", "width_px": "1920",
    "height_px": "1080", "rates": "25: 50, 50: 100 Mb/s", "drive_rates_fps": "",
    "shutter_style": "time", "angles_deg": "", "slowest_s": "30 s", "fastest_s": "1/4000",
    "iso_lowest": "100", "iso_highest": "12 800", "iso_ceiling": "3200", "card_gb": "64 GB",
    "still_mb": "20",
}  # fmt: skip
LENS = {"name": "Old 28", "focal_shortest_mm": "28", "focal_longest_mm": "28", "widest_f": "f/2.8",
        "smallest_f": "f/22", "transmission_stops": "0", "thread_mm": ""}  # fmt: skip
PROFILE = {"name": "My log", "curve": "log", "clip_percent": "92", "grey_percent": "",
           "scale": "legal", "bits": "10", "base_iso": "500, 3200", "a": "5", "b": "0,05",
           "c": "0.2898", "d": "0.39146", "e": "5.72084", "f": "0.045006", "cut": "0.012"}  # fmt: skip
ND = {"name": "ND 1.2", "kind": "nd", "density": "ND16", "most_density": "", "loss_stops": "",
      "thread_mm": "77"}  # fmt: skip


@pytest.mark.parametrize(
    ("sort", "fields", "model"),
    [("body", BODY, Body), ("lens", LENS, Lens), ("profile", PROFILE, Profile), ("filter", ND, Filter)],
)  # fmt: skip
def test_add_show_and_change(demo_client: Any, sort: str, fields: dict, model: Any) -> None:
    assert demo_client.post(f"/kit/{sort}/new/", fields).status_code == 302
    row = model.objects.get(name=fields["name"])
    row.to_spec()
    assert fields["name"] in demo_client.get("/kit/").content.decode()
    page = html.fromstring(demo_client.get(f"/kit/{sort}/{row.pk}/").content.decode())
    shown = {field.get("name"): field.get("value", "") for field in page.xpath("//form//input")}
    # What the form shows can be sent back as it stands.
    chosen = {
        s.get("name"): s.xpath("./option[@selected]/@value")[0] for s in page.xpath("//select")
    }
    again = {**{k: v for k, v in shown.items() if k in fields}, **chosen}
    assert demo_client.post(f"/kit/{sort}/{row.pk}/", again).status_code == 302
    assert model.objects.filter(pk=row.pk).values().get() == model.objects.filter(
        name=fields["name"]
    ).values().get()  # fmt: skip


WRONG = [
    ("body", BODY, "rates", "", "at least one"), ("body", BODY, "rates", "25", "each with Mb/s"),
    ("body", BODY, "iso_ceiling", "25600", "in the body's range"),
    ("body", BODY, "iso_highest", "50", "below the lowest"),
    ("body", BODY, "fastest_s", "60 s", "slower than"), ("body", BODY, "width_px", "-4", ""),
    ("body", BODY, "fastest_s", "1/20", "leaves no shutter"),
    ("body", BODY, "shutter_style", "angle", "name the angles"), ("body", BODY, "card_gb", "nan", ""),
    ("body", BODY, "name", "A-cam", "one of this name"), ("body", BODY, "name", "", "required"),
    ("lens", LENS, "smallest_f", "f/1.4", "larger f-number"),
    ("lens", LENS, "focal_longest_mm", "20", "shorter than"), ("lens", LENS, "widest_f", "wide", ""),
    ("profile", PROFILE, "cut", "", "needs this number"), ("profile", PROFILE, "a", "-5", "rise"),
    ("profile", PROFILE, "d", "2", "miss"), ("profile", PROFILE, "bits", "99", "8 to 16"),
    ("profile", PROFILE, "clip_percent", "20", "above grey"),
    ("profile", PROFILE, "grey_percent", "0.2", "black"), ("profile", PROFILE, "base_iso", "x", ""),
    ("filter", ND, "density", "", "needs its density"), ("filter", ND, "density", "8", "factor"),
    ("filter", ND, "kind", "polariser", "how much light"),
    ("filter", ND, "kind", "variable_nd", "more than the weakest"),
]  # fmt: skip


@pytest.mark.parametrize(("sort", "fields", "field", "text", "words"), WRONG)
def test_contradictions_are_refused_and_the_typing_kept(
    demo_client: Any, sort: str, fields: dict, field: str, text: str, words: str
) -> None:
    answer = demo_client.post(f"/kit/{sort}/new/", {**fields, field: text})
    assert answer.status_code == 422
    page = html.fromstring(answer.content.decode())
    errors = " ".join(p.text_content() for p in page.xpath("//p[@class='field-error']"))
    assert errors
    assert words.lower() in errors.lower()
    for name, typed in {**fields, field: text}.items():
        shown = page.xpath(f"//input[@name='{name}']/@value")
        assert shown in ([typed], []) or name in ("kind", "curve")
    assert Body.objects.filter(name="C-cam").count() == 0


def test_gear_in_use_says_where_and_stays(demo_client: Any, demo: Any) -> None:
    body = Body.objects.get(name="A-cam")
    answer = demo_client.post(f"/kit/body/{body.pk}/delete/", follow=True)
    assert "1B Mist over the slip (Keel to Tide)" in answer.content.decode()
    assert Body.objects.filter(pk=body.pk).exists()
    phone = Body.objects.get(name="Phone")
    demo_client.post(f"/kit/body/{phone.pk}/delete/")
    assert not Body.objects.filter(pk=phone.pk).exists()


def test_a_list_of_rates_reads_back() -> None:
    text = "23.976: 100, 25: 100.5, 50: 150"
    assert show_rates(parse_rates(text)) == text
    assert parse_rates("50: 150\n25: 100;") == [[25.0, 100.0], [50.0, 150.0]]


def test_no_such_sort_of_gear(demo_client: Any, demo: Any) -> None:
    assert demo_client.get("/kit/tripod/new/").status_code == 404
    assert demo_client.get("/kit/tripod/3/").status_code == 404


def test_a_filter_in_front_of_a_lens_cannot_turn_into_an_nd(demo_client: Any, demo: Any) -> None:
    polariser = Filter.objects.get(name="Polariser")
    fields = {**ND, "name": "Polariser"}
    answer = demo_client.post(f"/kit/filter/{polariser.pk}/", fields)
    assert answer.status_code == 422
    assert "take it off there first" in answer.content.decode()
    demo.setups.get(code="3A").put_filters([])
    assert demo_client.post(f"/kit/filter/{polariser.pk}/", fields).status_code == 302
