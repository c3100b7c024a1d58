"""Hostile values and files, in short; ``make soak`` does the same ten times over."""

import copy
import json
from typing import Any

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse
from lxml import html

from fotonomy.core.notation.texts import unkeepable, without_unkeepable
from fotonomy.core.traced_numbers import marked
from fotonomy.exchange.errors import ExchangeError
from fotonomy.exchange.schemas import read_json
from fotonomy.kit.models import Body, Filter, Lens, Profile
from fotonomy.shoots.models import Change, Setup, Shoot
from fotonomy.web.numbers import linked
from soak import hostile
from tests.properties import LONG


@pytest.fixture
def client_and_log(demo_client: Any) -> Any:
    """A client that answers 500 as a server does."""
    demo_client.raise_request_exception = False
    return demo_client


def test_hostile_values_in_every_form(client_and_log: Any) -> None:
    found = hostile.hostile_values(client_and_log, 1500 if LONG else 150, seed=20)
    assert dict(found.wrong) == {}, found.examples
    assert found.asked >= 300


@pytest.fixture(autouse=True)
def _a_hang_and_no_stopwatch(monkeypatch: pytest.MonkeyPatch) -> None:
    """Speed belongs in the benchmarks; here only what hangs is slow."""
    monkeypatch.setattr(hostile, "SLOW_S", 30.0)


def test_mutated_files_through_every_door(client_and_log: Any) -> None:
    found = hostile.mutated_files(client_and_log, 40 if LONG else 5, seed=21)
    assert dict(found.wrong) == {}, found.examples
    # Six formats, and pages of what was let in.
    assert found.asked >= 6 * 5 + 30


@pytest.mark.parametrize(
    ("place", "value"),
    [(("profile", "grey_percent"), 1e-307), (("profile", "clip_percent"), 1e-307),
     (("body", "formats", 0, "sensor_width_mm"), 1e-320), (("body", "card_gb"), 1e-320),
     (("body", "fastest_s"), 1e-307), (("lens", "widest_f"), 1e-307),
     (("lens", "focal_shortest_mm"), 1e-320), (("body", "formats", 0, "readout_ms"), 1e-307)],
)  # fmt: skip
def test_a_file_that_would_brick_a_shoot_is_refused(
    demo_client: Any, adze: Setup, place: tuple[Any, ...], value: float
) -> None:
    data = demo_client.get(f"{adze.get_absolute_url()}setup.json").json()
    inner = data["gear"]
    for key in place[:-1]:
        inner = inner[key]
    inner[place[-1]] = value
    upload = SimpleUploadedFile("a.json", json.dumps(data).encode())
    answer = demo_client.post(
        f"/shoots/{adze.shoot_id}/setups/import/", {"file": upload}, follow=True
    )
    assert "was not imported" in answer.content.decode()
    assert str(place[-1]) in answer.content.decode()
    assert adze.shoot.setups.count() == 12


@pytest.mark.parametrize(
    "raw", [b'{"a": "\\ud800"}', b'{"a": ' + b"9" * 5000 + b"}", b'{"a": NaN}', b"[" * 9000]
)
def test_json_that_cannot_be_kept_is_refused(raw: bytes) -> None:
    with pytest.raises(ExchangeError):
        read_json(raw)


@pytest.mark.parametrize("name", ["look", "exposing", "circle", "white_school", "handheld"])
def test_an_empty_method_of_a_shoot_stays_what_it_was(
    demo_client: Any, demo: Shoot, name: str
) -> None:
    sent = hostile_form(demo_client, f"/shoots/{demo.pk}/edit/")
    was = getattr(demo, name)
    assert demo_client.post(f"/shoots/{demo.pk}/edit/", {**sent, name: ""}).status_code == 302
    demo.refresh_from_db()
    assert getattr(demo, name) == was


@pytest.mark.parametrize("day", ["9999-12-31", "0001-01-01", "1899-12-31", "2053-10-01"])
def test_a_day_with_no_known_sky_is_refused(demo_client: Any, demo: Shoot, day: str) -> None:
    sent = hostile_form(demo_client, f"/shoots/{demo.pk}/edit/")
    answer = demo_client.post(f"/shoots/{demo.pk}/edit/", {**sent, "date": day})
    assert "known from 1900 to September 2053" in answer.content.decode()


def hostile_form(client: Any, address: str) -> dict[str, str]:
    page = html.fromstring(client.get(address).content.decode())
    form = max(page.xpath("//form[@method='post']"), key=lambda one: len(one.fields.keys()))
    return dict(form.form_values())


@pytest.mark.parametrize(
    "address",
    ["dry-run/?seed={}", "dry-run/?until={}", "dry-run.csv?seed={}", "dry-run/go/?until={}"],
)
@pytest.mark.parametrize("text", ["²", "9" * 5000, "-1", "1e5", "٣"])
def test_numbers_in_an_address_that_are_none(
    demo_client: Any, demo: Shoot, address: str, text: str
) -> None:
    bench = demo.setups.get(code="1A").get_absolute_url()
    assert demo_client.get(f"{bench}{address.format(text)}").status_code == 200


@pytest.mark.parametrize(
    ("raw", "words"),
    [(b"0,0\r0.05,0.3\r0.18,0.4\r0.5,0.6\r1,0.8\r2,0.9\r3,.95\r4,.97\r5,1", ""),
     (b'"linear,signal\n0,0\n', "is no table of two columns"),
     (b"0," + b"9" * 200_000 + b"\n1,1\n", "is no table of two columns")],
)  # fmt: skip
def test_tables_with_odd_ends_and_cells(demo_client: Any, raw: bytes, words: str) -> None:
    sent = {"name": "Odd", "curve": "table", "clip_percent": "100", "scale": "legal", "bits": "10"}
    upload = SimpleUploadedFile("odd.csv", raw)
    page = html.fromstring(demo_client.get("/kit/profile/new/").content.decode())
    name = page.xpath("//input[@type='file']/@name")[0]
    answer = demo_client.post("/kit/profile/new/", {**sent, name: upload})
    assert answer.status_code == (422 if words else 302), answer.content.decode()[-3000:]
    assert words in answer.content.decode()
    # An old machine's line ends make a table like any other.
    assert Profile.objects.filter(name="Odd").exists() is not bool(words)


BROKEN: list[tuple[Any, dict[str, Any], str]] = [
    (Setup, {"iris": 1e-307}, "Iris"), (Setup, {"kind": "sideways"}, "not a valid Kind"),
    (Setup, {"run": {"event_s": "soon"}}, "setup"), (Setup, {"readings": [{"stops": 1}]}, "setup"),
    (Setup, {"held": ["everything"]}, "held"), (Setup, {"light": {"ev100": 1e9}}, ""),
    (Lens, {"widest_f": 1e-320}, "widest_f"), (Body, {"formats": []}, ""),
    (Profile, {"grey_percent": 1e-307}, "grey_percent"), (Filter, {"thread_mm": -4.0}, ""),
]  # fmt: skip


def test_setups_that_break_every_rule_leave_all_pages_standing(
    client_and_log: Any, adze: Setup
) -> None:
    """Each fault in a setup of its own, put there by other hands than ours; then every page."""
    faults = [values for model, values, _ in BROKEN if model is Setup]
    rows = list(adze.shoot.setups.order_by("position")[: len(faults)])
    assert len(rows) == len(faults)
    for row, values in zip(rows, faults, strict=True):
        Setup.objects.filter(pk=row.pk).update(**values)
    Setup.objects.update(summary=None)
    found = hostile.pages(client_and_log)
    assert dict(found.wrong) == {}, found.examples
    assert found.asked > 150


@pytest.mark.parametrize(("model", "values", "words"), BROKEN)
def test_whatever_is_stored_is_said_and_can_be_thrown_away(
    client_and_log: Any, adze: Setup, model: Any, values: dict[str, Any], words: str
) -> None:
    """A row put into the database by other hands than ours."""
    row = {Setup: adze, Lens: adze.lens, Body: adze.body, Profile: adze.profile}.get(
        model, Filter.objects.filter(owner=adze.shoot.owner).first()
    )
    model.objects.filter(pk=row.pk).update(**values)
    Setup.objects.update(summary=None)
    if model is not Setup:
        found = hostile.pages(client_and_log, (adze.code,))
        assert dict(found.wrong) == {}, found.examples
    else:
        # The running order is made by whatever page shows it first.
        client_and_log.get(adze.shoot.setups.exclude(pk=adze.pk)[0].get_absolute_url())
    answer = client_and_log.get(adze.get_absolute_url())
    if model is Filter:
        assert answer.status_code == 200
        return
    kept = Setup.objects.get(pk=adze.pk).summary
    assert kept is not None
    assert kept["stops"] == 1
    assert kept["first"].startswith("cannot be planned: "), "the running order says why"
    assert answer.status_code == 409
    page = html.fromstring(answer.content.decode())
    said = " ".join(page.xpath("//main//p[contains(@class, 'error')]")[0].text_content().split())
    assert "cannot be planned as it is stored" in said
    assert words in said
    if model is not Setup:
        assert page.xpath(f"//a[contains(., 'Set {row} right')]")
    # And from there it can be thrown away, and the running order stands.
    client_and_log.post(f"{adze.get_absolute_url()}delete/")
    assert not Setup.objects.filter(pk=adze.pk).exists()


def test_undo_is_offered_where_a_step_broke_a_setup(client_and_log: Any, adze: Setup) -> None:
    client_and_log.post(adze.get_absolute_url(), {"iris": "f/5.6"})
    values = copy.deepcopy(adze.run)
    Setup.objects.filter(pk=adze.pk).update(run={**values, "files": "film"})
    page = html.fromstring(client_and_log.get(adze.get_absolute_url()).content.decode())
    assert page.xpath("//button[contains(., 'Undo: Iris')]")


MARKS = "\ue000https://elsewhere.example/\ue0015A\ue002"


@pytest.mark.parametrize("sign", ["\x00", "\x0b", "\ue000", "\ue001", "\ue002", "\uffff", MARKS])
def test_a_sign_that_cannot_be_kept_is_refused_wherever_a_text_is_typed(
    demo_client: Any, demo: Shoot, sign: str
) -> None:
    row = demo.setups.get(code="5A")
    place = demo.main_place
    forms = (
        (row.get_absolute_url(), {"title": f"a{sign}b"}),
        (reverse("field-take", args=[demo.pk, row.pk]), {"uid": "a", "note": f"a{sign}b"}),
        (reverse("part-edit", args=[demo.pk, "place", place.pk]), {"name": f"a{sign}b"}),
        (reverse("crew-link", args=[demo.pk]), {"note": f"a{sign}b"}),
        (reverse("shoot-edit", args=[demo.pk]), {"name": f"a{sign}b"}),
        (reverse("gear-new", args=["lens"]), {"name": f"a{sign}b"}),
        (row.get_absolute_url(), {f"ir{sign}is": "f/4"}),
    )
    before = list(Change.objects.values_list("pk", flat=True))
    for address, sent in forms:
        answer = demo_client.post(address, sent)
        assert answer.status_code == 422, address
        assert f"U+{ord(sign[0]):04X}" in answer.content.decode()
    assert demo_client.get("/guide/words/", {"q": f"a{sign}"}).status_code == 422
    assert list(Change.objects.values_list("pk", flat=True)) == before


@pytest.mark.parametrize("sign", ["\x00", "\x1f", "\ue000", "\ud800"])
def test_a_file_with_such_a_sign_is_refused(demo_client: Any, demo: Shoot, sign: str) -> None:
    raw = demo_client.get(reverse("shoot-export", args=[demo.pk])).content
    data = json.loads(raw)
    data["name"] = f"a{sign}b"
    upload = SimpleUploadedFile("s.json", json.dumps(data).encode())
    before = Shoot.objects.count()
    page = demo_client.post(reverse("shoot-import"), {"file": upload}, follow=True)
    assert page.status_code in (200, 422)
    assert f"cannot be kept (U+{ord(sign):04X})" in page.content.decode()
    assert Shoot.objects.count() == before


@pytest.mark.parametrize(
    "address",
    ["https://elsewhere.example/", "//elsewhere.example", "/\\elsewhere.example", "javascript:1"],
)
def test_a_mark_leads_nowhere_but_to_a_page_of_the_program(address: str) -> None:
    """Whatever text of an older version still holds one."""
    assert linked(f"<p>{marked('5A', address)}</p>") == "<p>5A</p>"
    own = linked(f"<p>{marked('5A', '/shoots/1/2/working/?of=iso')}</p>")
    assert 'href="/shoots/1/2/working/?of=iso"' in own


def test_what_a_device_wrote_is_kept_without_such_signs() -> None:
    assert without_unkeepable("IMG\x00_1\ue000.jpg\n") == "IMG_1.jpg\n"
    for kept in ("Käfer 東京 🎥", "a\tb\r\nc", "½ °·"):
        assert unkeepable(kept) == ""
        assert without_unkeepable(kept) == kept


@pytest.mark.parametrize(
    "starts",
    ['{"K": 1e999}', '{"K": -1e999}', '{"K": 1e15}', '{"K": 1000000000000000}', '{"K": -5}', '{"K": NaN}',
     '{"K": null}', '{"K": [1]}', '{"K": "²"}', "[]", '{"1e9": 4}', '{"K": 4.5}', "[" * 3000],
)  # fmt: skip
def test_an_order_that_is_none_is_searched_anew(
    client_and_log: Any, demo: Shoot, launch: Setup, starts: str, monkeypatch: Any
) -> None:
    monkeypatch.setattr("fotonomy.days.views.arrange.LONGEST_S", 0.2)
    address = reverse("day-arrange", args=[demo.pk, demo.first_day.pk])
    sent = {"starts": starts.replace("K", str(launch.pk))}
    assert client_and_log.post(address, sent).status_code == 302
    page = reverse("day", args=[demo.pk, demo.first_day.pk])
    assert client_and_log.get(page).status_code == 200


@pytest.mark.parametrize("day", ["0001-01-01", "0001-01-02", "9999-12-31", "1899-12-31", "-5-1-1"])
def test_a_year_that_is_not_known_is_said_where_dates_are_looked_for(
    client_and_log: Any, demo: Shoot, launch: Setup, day: str
) -> None:
    first = demo.first_day
    page = reverse("dates", args=[demo.pk, first.pk])
    for asked in (f"?from={day}&setup={launch.pk}", f"?from={day}"):
        answer = client_and_log.get(f"{page}{asked}")
        assert answer.status_code in (200, 422)
        b"".join(answer.streaming_content) if answer.streaming else answer.content
    assert client_and_log.post(page, {"date": day}).status_code in (302, 422)
    new = {"date": day, "call": "06:00", "wrap": "20:00"}
    answer = client_and_log.post(reverse("part-new", args=[demo.pk, "day"]), new)
    assert answer.status_code == 422
    made = {
        "name": "Net shed",
        "date": day,
        "time_zone": "UTC",
        "mains_hz": "50",
        "project_fps": "25",
    }
    assert client_and_log.post(reverse("shoot-new"), made).status_code in (200, 422)
    weather = SimpleUploadedFile("w.csv", f"time,cloud oktas\n{day} 09:00,4\n".encode())
    address = reverse("weather-import", args=[demo.pk, first.pk])
    assert client_and_log.post(address, {"file": weather}).status_code == 302
    metered = {"at": f"{day}T09:30", "ev100": "11"}
    address = reverse("metered", args=[demo.pk, demo.main_place.pk])
    assert client_and_log.post(address, metered).status_code == 422


HUGE = "9" * 400


@pytest.mark.parametrize(
    ("kind", "raw"),
    [("geojson", '{"type": "Point", "coordinates": [H, 43]}'), ("geojson", '{"type": "Point", "coordinates": [43, -H]}'),
     ("geojson", '{"type": "Point", "coordinates": [43, 43, H]}'),
     ("geojson", '{"type": "Point", "coordinates": [43, 43]}, "horizon": [[0, H], [90, 5]]'),
     ("geojson", '{"type": "Point", "coordinates": [43, 43]}, "horizon": [[0, 1e400], [90, 5]]'),
     ("gpx", '<wpt lat="H" lon="43"><name>a</name></wpt>'), ("gpx", '<wpt lat="43" lon="43"><ele>H</ele><name>a</name></wpt>')],
)  # fmt: skip
def test_places_with_numbers_of_hundreds_of_digits(
    client_and_log: Any, demo: Shoot, kind: str, raw: str
) -> None:
    if kind == "geojson":
        geometry, _, horizon = raw.partition(', "horizon"')
        more = f', "horizon"{horizon}' if horizon else ""
        raw = (
            '{"type": "FeatureCollection", "features": [{"type": "Feature", "properties": {"name": "a"'
            f'{more}}}, "geometry": {geometry}}}]}}'
        )
    else:
        raw = f'<?xml version="1.0"?><gpx xmlns="http://www.topografix.com/GPX/1/1" version="1.1">{raw}</gpx>'
    upload = SimpleUploadedFile(f"p.{kind}", raw.replace("H", HUGE).encode())
    count = demo.places.count()
    answer = client_and_log.post(
        reverse("places-import", args=[demo.pk]), {"file": upload}, follow=True
    )
    assert answer.status_code == 200
    assert "was not imported" in answer.content.decode()
    assert demo.places.count() == count


@pytest.mark.parametrize("text", [f"10 {HUGE}", f"{HUGE} 5", "10 1e400", "10 5\n" * 500])
def test_horizons_with_numbers_of_hundreds_of_digits(
    client_and_log: Any, demo: Shoot, text: str
) -> None:
    place = demo.main_place
    address = reverse("part-edit", args=[demo.pk, "place", place.pk])
    sent = {**hostile_form(client_and_log, address), "horizon": text}
    assert client_and_log.post(address, sent).status_code in (302, 422)
    upload = SimpleUploadedFile("h.csv", f"azimuth,altitude\n{text.replace(' ', ',')}\n".encode())
    address = reverse("horizon-import", args=[demo.pk, place.pk])
    assert client_and_log.post(address, {"file": upload}).status_code in (302, 422)
    points = {
        "points": f"[[0.1, {HUGE}]]",
        "left_deg": HUGE,
        "right_deg": "90",
        "aspect": HUGE,
        "level": "0.5",
    }
    address = reverse("horizon", args=[demo.pk, place.pk])
    assert client_and_log.post(address, points).status_code in (302, 422)
    assert client_and_log.get(address).status_code == 200
