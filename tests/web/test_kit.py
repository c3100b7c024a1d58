"""The kit's pages: gear added, changed, refused beside the field, and kept while in use."""

import json
from io import BytesIO
from typing import Any

import pytest
from lxml import html

from fotonomy.kit.forms.fields import parse_rates, show_rates
from fotonomy.kit.models import Accessory, Body, Filter, Lens, Profile
from fotonomy.shoots.services.shoots import make_shoot

FORMAT = {
    "name": "HD", "sensor_width_mm": "23,5", "sensor_height_mm": "13.2 mm", "width_px": "1920",
    "height_px": "1080", "rates": "25: 50, 50: 100 Mb/s", "bits": "10", "chroma": "4:2:2",
    "readout_ms": "12 ms",
}  # fmt: skip
DRIVE = {"name": "high", "fps": "12", "buffer_frames": "60"}
BODY = {
    "name": "C-cam", **{f"formats-0-{key}": text for key, text in FORMAT.items()},
    **{f"drives-0-{key}": text for key, text in DRIVE.items()},
    "formats-TOTAL_FORMS": "1", "formats-INITIAL_FORMS": "0",
    "drives-TOTAL_FORMS": "1", "drives-INITIAL_FORMS": "0",
    "stabiliser_stops": "5", "nd_wheel": "0,6, 1.2", "power_w": "7 W",
    "iso_extended_lowest": "50", "iso_extended_highest": "", "shutter_style": "time", "angles_deg": "", "slowest_s": "30 s", "fastest_s": "1/4000",
    "iso_lowest": "100", "iso_highest": "12 800", "iso_ceiling": "3200", "card_gb": "64 GB",
    "still_mb": "20",
}  # fmt: skip
LENS = {"name": "Old 28", "focal_shortest_mm": "28", "focal_longest_mm": "28", "widest_f": "f/2.8",
        "smallest_f": "f/22", "transmission_stops": "T3.1", "thread_mm": "", "close_focus_m": "28 cm",
        "greatest_magnification": "", "stabiliser_stops": "0", "squeeze": "1", "widest_long_f": ""}  # fmt: skip
PROFILE = {"purpose": "", "skin_percent": "", "name": "My log", "curve": "log", "clip_percent": "92", "grey_percent": "",
           "scale": "legal", "bits": "10", "base_iso": "500, 3200", "a": "5", "b": "0,05",
           "c": "0.2898", "d": "0.39146", "e": "5.72084", "f": "0.045006", "cut": "0.012"}  # fmt: skip
ND = {
    "name": "ND 1.2",
    "kind": "nd",
    "density": "ND16",
    "most_density": "",
    "loss_stops": "",
    "mount": "thread",
    "thread_mm": "77",
}
RING = {"name": "Ring", "sort": "step_ring", "lens_mm": "67", "filter_mm": "77 mm", "length_mm": "",
        "support": ""}  # fmt: skip


@pytest.mark.parametrize(
    ("sort", "fields", "model"),
    [("body", BODY, Body), ("lens", LENS, Lens), ("profile", PROFILE, Profile), ("filter", ND, Filter),
     ("accessory", RING, Accessory)],
)  # fmt: skip
def test_add_show_and_change(demo_client: Any, sort: str, fields: dict, model: Any) -> None:
    assert demo_client.post(f"/kit/{sort}/new/", fields).status_code == 302
    row = model.objects.get(name=fields["name"])
    spec, before = row.to_spec(), model.objects.filter(pk=row.pk).values().get()
    assert fields["name"] in demo_client.get("/kit/").content.decode()
    page = html.fromstring(demo_client.get(f"/kit/{sort}/{row.pk}/").content.decode())
    shown = {field.get("name"): field.get("value", "") for field in page.xpath("//form//input")}
    # What the form shows can be sent back as it stands.
    chosen = {
        s.get("name"): s.xpath("./option[@selected]/@value")[0] for s in page.xpath("//select")
    }
    again = {**{k: v for k, v in shown.items() if k in fields or k.endswith("-mb_s")}, **chosen}
    assert demo_client.post(f"/kit/{sort}/{row.pk}/", again).status_code == 302
    assert model.objects.filter(pk=row.pk).values().get() == before
    assert model.objects.get(pk=row.pk).to_spec() == spec


WRONG = [
    ("body", BODY, "formats-0-rates", "", "at least one"),
    ("body", BODY, "formats-0-rates", "25", "one after each frame rate"),
    ("body", BODY, "formats-0-sensor_width_mm", "", "0.5 to 200"),
    ("body", BODY, "formats-TOTAL_FORMS", "0", "at least one recording format"),
    ("body", BODY, "formats-TOTAL_FORMS", "x", "management"),
    ("body", BODY, "drives-0-fps", "fast", "a number from"),
    ("body", BODY, "iso_extended_lowest", "200", "above the lowest"),
    ("body", BODY, "nd_wheel", "lots", "densities"),
    ("lens", LENS, "widest_long_f", "f/2", "between the widest"),
    ("lens", LENS, "transmission_stops", "T2", "no smaller than f/2.8"),
    ("lens", LENS, "close_focus_m", "very", "such as 45 cm"),
    ("filter", ND, "thread_mm", "", "needs its thread"),
    ("accessory", RING, "filter_mm", "67", "two different threads"),
    ("accessory", RING, "filter_mm", "", "needs a value"),
    ("accessory", RING, "sort", "tube", "needs a value"),
    ("body", BODY, "iso_ceiling", "25600", "in the body's range"),
    ("body", BODY, "iso_highest", "50", "below the lowest"),
    ("body", BODY, "fastest_s", "60 s", "slower than"), ("body", BODY, "formats-0-width_px", "-4", ""),
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


def test_a_list_of_rates_reads_back() -> None:
    text = "23.976: 100, 25: 100.5, 50: 150"
    assert show_rates(parse_rates(text)) == text
    assert [rate["fps"] for rate in parse_rates("50: 150\n25: 100;")] == [25.0, 50.0]


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


def kit_file(client: Any) -> dict[str, Any]:
    data: dict[str, Any] = json.loads(client.get("/kit/kit.json").content)
    return data


def give(client: Any, raw: bytes) -> str:
    file = BytesIO(raw)
    file.name = "kit.json"
    answer = client.post("/kit/import/", {"file": file}, follow=True)
    return " ".join(html.fromstring(answer.content.decode()).text_content().split())


def test_a_kit_file_there_and_back_doubles_nothing(demo_client: Any, demo: Any) -> None:
    raw = demo_client.get("/kit/kit.json").content
    counts = [model.objects.count() for model in (Body, Lens, Filter, Accessory, Profile)]
    said = give(demo_client, raw)
    assert "0 new" in said
    assert counts == [model.objects.count() for model in (Body, Lens, Filter, Accessory, Profile)]
    assert demo_client.get("/kit/kit.json").content == raw


def test_a_kit_file_into_an_empty_kit_is_the_same_kit(
    demo_client: Any, stranger: Any, demo: Any
) -> None:
    data = kit_file(demo_client)
    for model in (Body, Lens, Filter, Accessory, Profile):
        model.objects.filter(owner=stranger).delete()
    demo_client.force_login(stranger)
    give(demo_client, json.dumps(data).encode())
    assert kit_file(demo_client) == data


def test_other_numbers_under_a_known_name_come_in_beside(demo_client: Any, demo: Any) -> None:
    data = kit_file(demo_client)
    data["lenses"][0]["close_focus_m"] = 0.9
    said = give(demo_client, json.dumps(data).encode())
    name = data["lenses"][0]["name"]
    assert f"1 new, {sum(len(v) for v in data.values() if isinstance(v, list)) - 1} already" in said
    assert f"{name} as {name} (2)" in said


@pytest.mark.parametrize(
    ("raw", "place"),
    [(b"{}", "$"), (b"\xff", "byte 0"), (b'{"format": "fotonomy-kit", "version": 9}', "$.version"),
     (b'{"format": "fotonomy-kit", "version": 1, "lenses": [{"name": "x"}]}', "$.lenses[0]"),
     (b'{"format": "fotonomy-kit", "version": 1, "lenses": [{"name": "x", "focal_shortest_mm": 50,'
      b' "focal_longest_mm": 35, "widest_f": 2, "smallest_f": 16}]}', "$.lenses[0].focal_longest_mm")],
)  # fmt: skip
def test_a_damaged_kit_file_changes_nothing(
    demo_client: Any, demo: Any, raw: bytes, place: str
) -> None:
    before = kit_file(demo_client)
    assert place in give(demo_client, raw)
    assert kit_file(demo_client) == before


def test_gear_in_use_is_replaced_everywhere_and_nothing_is_orphaned(
    demo_client: Any, demo: Any
) -> None:
    lens, other = Lens.objects.get(name="Standard 35"), Lens.objects.get(name="Wide 20")
    url = f"/kit/lens/{lens.pk}/delete/"
    page = demo_client.post(url)
    assert page.status_code == 409
    assert "In 4 setups: 1B Mist over the slip (Keel to Tide)" in " ".join(
        page.content.decode().split()
    )
    assert (
        "Choose what takes its place"
        in demo_client.post(url, {"replacement": "x"}).content.decode()
    )
    demo_client.post(url, {"replacement": other.pk})
    assert not Lens.objects.filter(pk=lens.pk).exists()
    assert demo.setups.filter(lens=other).count() == 7
    for row in demo.setups.all():
        assert demo_client.get(row.get_absolute_url()).status_code == 200
    answer = demo_client.post(f"/shoots/{demo.pk}/undo/", follow=True)
    assert "no longer in the kit" in answer.content.decode()


def test_a_replacement_takes_the_place_in_the_packing_too(demo_client: Any, demo: Any) -> None:
    lens, other = Lens.objects.get(name="Standard 35"), Lens.objects.get(name="Wide 20")
    demo_client.post(f"/shoots/{demo.pk}/packing/", {"packs_all": "0", "lenses": [lens.pk]})
    demo_client.post(f"/kit/lens/{lens.pk}/delete/", {"replacement": other.pk})
    assert list(demo.lenses.all()) == [other]


def test_what_can_be_taken_off_needs_no_replacement(demo_client: Any, demo: Any) -> None:
    polariser = Filter.objects.get(name="Polariser")
    row = demo.setups.get(code="3A")
    assert demo_client.post(f"/kit/filter/{polariser.pk}/delete/").status_code == 409
    demo_client.post(f"/kit/filter/{polariser.pk}/delete/", {"replacement": "none"})
    assert not Filter.objects.filter(name="Polariser").exists()
    assert row.filters.count() == 0
    spare = Filter.objects.get(name="Small ND 0.9")
    assert demo_client.post(f"/kit/filter/{spare.pk}/delete/").status_code == 302


def test_the_last_lens_cannot_be_replaced(client: Any, stranger: Any) -> None:
    client.force_login(stranger)
    shoot = make_shoot(stranger, name="Mine", date="2027-01-01")
    client.post(f"/shoots/{shoot.pk}/setups/new/")
    lens = Lens.objects.get(owner=stranger)
    answer = client.post(f"/kit/lens/{lens.pk}/delete/")
    assert "add another one first" in answer.content.decode()
    assert client.post(f"/kit/lens/{lens.pk}/delete/", {"replacement": "none"}).status_code == 409
    assert Lens.objects.filter(pk=lens.pk).exists()


def test_a_line_more_keeps_what_was_typed(demo_client: Any, demo: Any) -> None:
    answer = demo_client.post("/kit/body/new/", {**BODY, "more": "formats", "card_gb": "a lot"})
    page = html.fromstring(answer.content.decode())
    assert page.xpath("//input[@name='formats-1-name']/@value") in ([], [""])
    assert page.xpath("//input[@name='formats-1-name']")
    assert page.xpath("//input[@name='card_gb']/@value") == ["a lot"]
    assert page.xpath("//input[@name='formats-0-rates']/@value") == ["25: 50, 50: 100 Mb/s"]
    assert not Body.objects.filter(name="C-cam").exists()


def test_packing_decides_what_the_bench_offers(demo_client: Any, demo: Any) -> None:
    adze = demo.setups.get(code="4B")
    url = f"/shoots/{demo.pk}/packing/"
    page = html.fromstring(demo_client.get(url).content.decode())
    words = " ".join(page.text_content().split())
    assert "Step ring 67 to 77" in words
    bodies = {b.name: b.pk for b in Body.objects.filter(owner=demo.owner)}
    lenses = {x.name: x.pk for x in Lens.objects.filter(owner=demo.owner)}
    nd = Filter.objects.get(name="ND 0.9")
    ring = Accessory.objects.get(name="Step ring 67 to 77")
    sent = {"packs_all": "0", "bodies": [bodies["A-cam"], bodies["B-cam"]],
            "lenses": [lenses["Standard 35"]], "filters": [nd.pk, "x"], "accessories": [ring.pk]}  # fmt: skip
    demo_client.post(url, sent)
    bench = html.fromstring(
        demo_client.get(f"{adze.get_absolute_url()}?open=focus").content.decode()
    )
    assert bench.xpath("//select[@name='lens']/option/text()") == [
        "Standard 35",
        "Standard 50 (not packed)",
    ]
    options = json.loads(bench.xpath("//*[@data-scale='nd_density']/@data-options")[0])
    assert [text for text, *_ in options] == ["none", "0.9"]
    page = demo_client.get(url).content.decode()
    assert "Used in a setup, not packed" in page
    assert "Standard 50" in page


def test_somebody_elses_gear_cannot_be_packed(demo_client: Any, demo: Any, stranger: Any) -> None:
    theirs = Lens.objects.get(owner=stranger)
    demo_client.post(f"/shoots/{demo.pk}/packing/", {"packs_all": "0", "lenses": [theirs.pk]})
    assert demo.lenses.count() == 0


def test_two_hundred_things_take_no_more_questions(
    demo_client: Any, demo: Any, django_assert_max_num_queries: Any
) -> None:
    from django.db import connection
    from django.test.utils import CaptureQueriesContext

    with CaptureQueriesContext(connection) as few:
        demo_client.get("/kit/")
    template = Body.objects.get(name="A-cam")
    for k in range(20):
        template.pk, template.name = None, f"copy {k}"
        template.save(force_insert=True)
        template.profiles.set(Profile.objects.filter(owner=demo.owner))
    Lens.objects.bulk_create(
        Lens(owner=demo.owner, name=f"lens {k}", focal_shortest_mm=50, focal_longest_mm=50,
             widest_f=2, smallest_f=16) for k in range(150)
    )  # fmt: skip
    with CaptureQueriesContext(connection) as many:
        demo_client.get("/kit/")
    assert len(many) == len(few)


def test_a_name_given_in_two_windows_at_once_is_refused_beside_the_field(
    demo_client: Any, monkeypatch: pytest.MonkeyPatch
) -> None:
    from django.db.models.query import QuerySet

    # Both windows looked before either wrote.
    monkeypatch.setattr(QuerySet, "exists", lambda _: False)
    monkeypatch.setattr("django.forms.models.BaseModelForm.validate_unique", lambda _: None)
    monkeypatch.setattr("django.db.models.Model.validate_constraints", lambda *_, **__: None)
    assert demo_client.post("/kit/lens/new/", {**LENS, "name": "Twin"}).status_code == 302
    answer = demo_client.post("/kit/lens/new/", {**LENS, "name": "Twin"})
    assert answer.status_code == 422
    assert "You have one of this name already" in answer.content.decode()
    assert Lens.objects.filter(name="Twin").count() == 1
