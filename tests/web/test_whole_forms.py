"""Two windows with the same form: each writes what was changed in it, and nothing is lost."""

import json
from collections.abc import Iterator
from contextlib import contextmanager
from itertools import combinations
from typing import Any

import pytest
from django.db import transaction
from django.http import QueryDict
from django.utils import timezone
from lxml import html

from fotonomy.field.models import Take
from fotonomy.kit.models import Accessory, Body, Filter, Lens, Profile
from fotonomy.shoots.models import LightReading, Shoot
from fotonomy.web.whole_forms import Merged, Wording, merge, without_same
from tests.properties import LONG

Values = dict[str, list[str]]

# What each form is changed to, by the names of its fields.
LENS = {
    "name": "Renamed", "focal_shortest_mm": "21", "widest_f": "f/2.5", "smallest_f": "f/16",
    "transmission_stops": "0.4 stops", "thread_mm": "62", "close_focus_m": "0.31 m",
    "greatest_magnification": "0.2", "stabiliser_stops": "2",
}  # fmt: skip
FILTER = {"name": "Renamed", "thread_mm": "72", "density": "0.75"}
RING = {"name": "Renamed", "lens_mm": "58", "filter_mm": "82"}
PROFILE = {
    "name": "Renamed", "purpose": "for dusk", "clip_percent": "88", "bits": "12",
    "base_iso": "400, 3200", "grey_percent": "41", "skin_percent": "55",
}  # fmt: skip
BODY = {
    "name": "Renamed", "iso_ceiling": "1600", "nd_wheel": "0.6, 1.2", "stabiliser_stops": "3",
    "power_w": "9", "card_gb": "64", "still_mb": "22", "mount": "own", "full_well_e": "40000",
    "formats-0-readout_ms": "14", "formats-0-mb_s": "90", "drives-0-fps": "9",
}  # fmt: skip
PLACE = {
    "name": "Renamed", "latitude_deg": "-43.2", "longitude_deg": "147.2", "height_m": "7",
    "mains_hz": "60", "own_ev100": "3", "roofed": "on", "horizon": "10 5\n200 12", "permission": "harbour, 12",
    "cautions": "tide", "notes": "two lines\nof notes",
}  # fmt: skip
DAY = {"date": "2027-06-09", "call": "05:10", "wrap": "22:20"}
SCENE = {"code": "9", "title": "Renamed", "story": "What it tells"}
SHOOT = {
    "name": "Renamed", "date": "2027-06-01", "place_name": "Slip", "latitude_deg": "-43.2",
    "longitude_deg": "147.3", "mains_hz": "60", "project_fps": "24", "look": "open",
    "white_school": "lamp",
}  # fmt: skip
TAKE = {
    "verdict": "maybe", "own": "a gull", "clip": "C0099", "card": "B", "length": "0:44",
    "note": "the tide turned",
}  # fmt: skip


def values_of(form: Any) -> Values:
    """What a browser sends of a form of a page, by the names of its fields."""
    found: Values = {}
    for one in form.inputs:
        if one.name is None or one.tag == "button" or one.get("type") == "file":
            continue
        kept = found.setdefault(one.name, [])
        if one.tag == "input" and one.get("type") in ("checkbox", "radio"):
            kept += [one.get("value", "on")] if one.checked else []
        elif one.tag == "select" and not one.multiple:
            kept.append(str(one.value))
        else:
            # A browser takes the first end of line of a text area for no text.
            kept.append((one.value or "").removeprefix("\n"))
    return found


def form_of(client: Any, url: str, field: str) -> Values:
    page = html.fromstring(client.get(url).content.decode())
    (form,) = (one for one in page.forms if field in one.fields)
    return values_of(form)


@contextmanager
def taken_back() -> Iterator[None]:
    """What is done inside is undone at its end."""
    with transaction.atomic():
        yield
        transaction.set_rollback(True)


def changed(shown: Values, **texts: str) -> Values:
    """A form with some of its fields changed; those that cannot be changed so are left out."""
    return {**shown, **{name: [text] for name, text in texts.items()}}


def post(client: Any, url: str, data: Values) -> Any:
    answer = client.post(url, data)
    assert answer.status_code == 302, html.fromstring(answer.content.decode()).xpath(
        "//*[contains(@class, 'field-error')]/text()"
    )
    return answer


def row_url(demo: Shoot, sort: str) -> tuple[str, str, dict[str, str]]:
    """A form's address, one of its fields, and what to change in it."""
    owner = demo.owner
    kit: dict[str, tuple[Any, dict[str, str]]] = {
        "lens": (Lens, LENS), "filter": (Filter, FILTER), "body": (Body, BODY),
    }  # fmt: skip
    if sort in kit:
        model, texts = kit[sort]
        rows = model.objects.filter(owner=owner)
        if sort == "lens":
            rows = rows.filter(focal_longest_mm__isnull=True) or rows
        if sort == "filter":
            rows = rows.filter(kind="nd", mount="thread")
        if sort == "body":
            rows = [one for one in rows if one.drive_modes]
        return f"/kit/{sort}/{rows[0].pk}/", "name", texts
    if sort == "ring":
        ring = Accessory.objects.create(
            owner=owner, name="Ring", sort=Accessory.RING, lens_mm=67, filter_mm=77
        )
        return f"/kit/accessory/{ring.pk}/", "name", RING
    if sort == "profile":
        log = Profile.objects.filter(owner=owner, curve=Profile.LOG)[0]
        return f"/kit/profile/{log.pk}/", "name", PROFILE
    if sort == "take":
        take = demo.takes.first()
        assert isinstance(take, Take)
        return f"/shoots/{demo.pk}/field/takes/{take.pk}/", "clip", TAKE
    if sort == "shoot":
        return f"/shoots/{demo.pk}/edit/", "project_fps", SHOOT
    rows = {"place": demo.places, "day": demo.days, "scene": demo.scenes}
    texts = {"place": PLACE, "day": DAY, "scene": SCENE}
    field = {"place": "latitude_deg", "day": "call", "scene": "story"}
    return f"/shoots/{demo.pk}/parts/{sort}/{rows[sort].first().pk}/", field[sort], texts[sort]


FORMS = ["lens", "filter", "ring", "profile", "body", "place", "day", "scene", "shoot", "take"]


@pytest.mark.parametrize("sort", FORMS)
def test_each_pair_of_fields_changed_in_two_windows(
    demo_client: Any, demo: Shoot, sort: str
) -> None:
    url, field, texts = row_url(demo, sort)
    shown = form_of(demo_client, url, field)
    assert json.loads(shown["shown"][0]) == {
        name: values for name, values in shown.items()
        if name not in ("shown", "csrfmiddlewaretoken")
    }  # fmt: skip
    alone: dict[str, Values] = {}
    for name, text in texts.items():
        with taken_back():
            post(demo_client, url, changed(shown, **{name: text}))
            alone[name] = form_of(demo_client, url, field)
        assert alone[name][name] != shown[name], f"{name} was not changed at all"
    pairs = list(combinations(texts, 2))
    if not LONG:
        # Each field with the one after it; every pair where there is time.
        pairs = list(zip(texts, [*list(texts)[1:], next(iter(texts))], strict=True))
    for one, other in pairs:
        with taken_back():
            post(demo_client, url, changed(shown, **{one: texts[one]}))
            post(demo_client, url, changed(shown, **{other: texts[other]}))
            now = form_of(demo_client, url, field)
        assert now[one] == alone[one][one], f"{one} was lost to {other}"
        assert now[other] == alone[other][other], f"{other} was not written"


def test_what_was_changed_meanwhile_is_said(demo_client: Any, demo: Shoot) -> None:
    url, field, _ = row_url(demo, "lens")
    lens = Lens.objects.get(pk=url.split("/")[-2])
    lens.close_focus_m, lens.stabiliser_stops = 0.5, 1
    lens.save()
    shown = form_of(demo_client, url, field)
    Lens.objects.filter(pk=lens.pk).update(close_focus_m=0.4, stabiliser_stops=2)
    sent = changed(shown, close_focus_m="0.45 m", thread_mm="58")
    page = demo_client.post(url, sent, follow=True).content.decode()
    lens.refresh_from_db()
    assert (lens.close_focus_m, lens.stabiliser_stops, lens.thread_mm) == (0.45, 2, 58)
    assert "Changed meanwhile, and left so: Stabiliser, stops, from 1 to 2." in page
    assert (
        "Changed meanwhile as well, and here as you have it: Close focus, from 0.5 m to 0.4 m."
        in page
    )


def test_nothing_is_said_where_nothing_was_changed_meanwhile(demo_client: Any, demo: Shoot) -> None:
    url, field, texts = row_url(demo, "lens")
    shown = form_of(demo_client, url, field)
    page = demo_client.post(url, changed(shown, **texts), follow=True).content.decode()
    assert "meanwhile" not in page.lower()


def test_lines_of_two_windows(demo_client: Any, demo: Shoot) -> None:
    """A readout here and a depth there meet in one line; a line struck out meanwhile is asked about."""
    url, field, _ = row_url(demo, "body")
    body = Body.objects.get(pk=url.split("/")[-2])
    body.formats = [body.formats[0], {**body.formats[0], "name": "Second"}]
    body.save()
    shown = form_of(demo_client, url, field)
    with taken_back():
        post(demo_client, url, changed(shown, **{"formats-0-readout_ms": "14"}))
        post(demo_client, url, changed(shown, **{"formats-1-bits": "12"}))
        now = Body.objects.get(pk=body.pk)
        assert now.formats[0]["readout_ms"] == 14
        assert now.formats[1]["bits"] == 12
    with taken_back():
        # The other window strikes the first line out: here only the name is changed.
        post(demo_client, url, changed(shown, **{"formats-0-DELETE": "on"}))
        post(demo_client, url, changed(shown, name="Renamed"))
        now = Body.objects.get(pk=body.pk)
        assert (now.name, [one["name"] for one in now.formats]) == ("Renamed", ["Second"])
    with taken_back():
        # Both change lines, and which is which cannot be told: nothing is written, all is there.
        post(demo_client, url, changed(shown, **{"formats-0-DELETE": "on"}))
        sent = changed(shown, **{"formats-0-readout_ms": "14"})
        answer = demo_client.post(url, sent)
        assert answer.status_code == 422
        page = html.fromstring(answer.content.decode())
        assert "The formats were changed meanwhile as well" in answer.content.decode()
        (form,) = (one for one in page.forms if "name" in one.fields)
        again = values_of(form)
        assert again["formats-0-readout_ms"] == ["14"]
        assert [one["name"] for one in Body.objects.get(pk=body.pk).formats] == ["Second"]
        # Looked at and saved once more, it is as it stands here.
        post(demo_client, url, again)
        assert Body.objects.get(pk=body.pk).formats[0]["readout_ms"] == 14


def test_an_error_shows_what_the_other_window_wrote(demo_client: Any, demo: Shoot) -> None:
    url, field, _ = row_url(demo, "place")
    shown = form_of(demo_client, url, field)
    post(demo_client, url, changed(shown, cautions="tide at four"))
    answer = demo_client.post(url, changed(shown, height_m="high"))
    assert answer.status_code == 422
    page = html.fromstring(answer.content.decode())
    (form,) = (one for one in page.forms if "latitude_deg" in one.fields)
    again = values_of(form)
    assert (again["height_m"], again["cautions"]) == (["high"], ["tide at four"])
    assert "Changed meanwhile, and left so: Cautions" in answer.content.decode()
    post(demo_client, url, changed(again, height_m="8"))
    place = demo.places.first()
    assert place is not None
    assert (place.height_m, place.cautions) == (8, "tide at four")


def test_the_form_beside_a_refused_reading_says_what_it_showed(
    demo_client: Any, demo: Shoot
) -> None:
    place = demo.main_place
    url = f"/shoots/{demo.pk}/places/{place.pk}/metered/"
    answer = demo_client.post(url, {"at": "tea time", "ev100": "11"})
    assert answer.status_code == 422
    forms = html.fromstring(answer.content.decode()).forms
    shown = values_of(next(one for one in forms if "latitude_deg" in one.fields))
    post(demo_client, row_url(demo, "place")[0], changed(shown, cautions="tide"))
    post(demo_client, row_url(demo, "place")[0], changed(shown, notes="a gull"))
    place.refresh_from_db()
    assert (place.cautions, place.notes) == ("tide", "a gull")


def test_ways_of_two_windows(demo_client: Any, demo: Shoot) -> None:
    places = list(demo.places.all())[:3]
    names = [f"way-{places[0].pk}-{places[1].pk}", f"way-{places[0].pk}-{places[2].pk}"]
    demo.ways.all().delete()
    page = f"/shoots/{demo.pk}/places/"
    shown = form_of(demo_client, page, names[0])
    url = f"/shoots/{demo.pk}/ways/"
    post(demo_client, url, changed(shown, **{names[0]: "11"}))
    answer = demo_client.post(url, changed(shown, **{names[1]: "soon"}))
    assert answer.status_code == 422
    form = next(f for f in html.fromstring(answer.content.decode()).forms if names[0] in f.fields)
    again = values_of(form)
    assert (again[names[0]], again[names[1]]) == (["11"], ["soon"])
    post(demo_client, url, changed(again, **{names[1]: "22"}))
    assert sorted(way.minutes for way in demo.ways.all()) == [11, 22]


def test_packing_of_two_windows(demo_client: Any, demo: Shoot) -> None:
    lenses = list(Lens.objects.filter(owner=demo.owner).order_by("pk"))
    demo.packs_all = False
    demo.save()
    demo.lenses.set(lenses[:2])
    url = f"/shoots/{demo.pk}/packing/"
    shown = form_of(demo_client, url, "packs_all")
    first, second, third = (str(one.pk) for one in lenses[:3])
    assert set(shown["lenses"]) == {first, second}
    post(demo_client, url, {**shown, "lenses": [first, second, third]})
    post(demo_client, url, {**shown, "lenses": [second]})
    assert {str(one.pk) for one in demo.lenses.all()} == {second, third}


def test_hours_of_two_windows(demo_client: Any, demo: Shoot) -> None:
    place, day = demo.main_place, demo.first_day
    url = f"/shoots/{demo.pk}/day/{day.pk}/weather/"
    page = html.fromstring(demo_client.get(url).content.decode())
    shown = values_of(next(one for one in page.forms if any("oktas" in n for n in one.fields)))
    cloud, air = (
        next(name for name in shown if name.endswith(end)) for end in ("|oktas", "|temperature_c")
    )
    post(demo_client, url, changed(shown, **{cloud: "3"}))
    answer = demo_client.post(url, changed(shown, **{air: "7"}), follow=True)
    hour = cloud.split("|")[1]
    row = place.weathers.get(day=day)
    assert row is not None
    (report,) = (one for at, one in row.hours.items() if at[:13] == hour[:13])
    assert (report["oktas"], report["temperature_c"]) == (3, 7)
    assert "Changed meanwhile, and left so: Cloud, of 8 at " in answer.content.decode()


def test_a_take_keeps_the_tenths_of_its_length(demo_client: Any, demo: Shoot) -> None:
    url, field, _ = row_url(demo, "take")
    take = demo.takes.first()
    take.length_s = 12.4
    take.save()
    post(demo_client, url, changed(form_of(demo_client, url, field), note="a gull"))
    take.refresh_from_db()
    assert (take.length_s, take.note) == (12.4, "a gull")


def test_reasons_of_two_windows(demo_client: Any, demo: Shoot) -> None:
    url, field, _ = row_url(demo, "take")
    take = demo.takes.first()
    take.why = ["cloud"]
    take.save()
    shown = form_of(demo_client, url, field)
    post(demo_client, url, {**shown, "why": ["cloud", "flare"]})
    post(demo_client, url, {**shown, "why": [], "own": ["a gull"]})
    take.refresh_from_db()
    assert sorted(take.why) == ["a gull", "flare"]


def test_a_refused_take_shows_what_was_chosen(demo_client: Any, demo: Shoot) -> None:
    url, field, _ = row_url(demo, "take")
    shown = form_of(demo_client, url, field)
    answer = demo_client.post(
        url, {**shown, "verdict": ["no_good"], "why": ["flare"], "length": ["long"]}
    )
    assert answer.status_code == 422
    form = next(f for f in html.fromstring(answer.content.decode()).forms if field in f.fields)
    again = values_of(form)
    assert (again["verdict"], again["why"], again["length"]) == (["no_good"], ["flare"], ["long"])


def test_a_shoot_by_itself_is_a_step_to_undo(demo_client: Any, demo: Shoot) -> None:
    url, field, texts = row_url(demo, "shoot")
    shown = form_of(demo_client, url, field)
    post(demo_client, url, changed(shown, **texts))
    assert Shoot.objects.get(pk=demo.pk).name == "Renamed"
    last = demo.changes.last()
    assert last.label == "Renamed changed"
    demo_client.post(f"/shoots/{demo.pk}/undo/", {"step": last.pk})
    assert form_of(demo_client, url, field) | {"csrfmiddlewaretoken": [], "theme": []} == shown | {
        "csrfmiddlewaretoken": [], "theme": []
    }  # fmt: skip
    demo_client.post(f"/shoots/{demo.pk}/redo/", {"step": last.pk})
    again = Shoot.objects.get(pk=demo.pk)
    assert (again.name, again.project_fps, again.main_place.name) == ("Renamed", 24, "Slip")


def test_undo_of_another_step_leaves_the_name(demo_client: Any, demo: Shoot) -> None:
    """The name that somebody gave since stays where an older step is taken back."""
    url, field, _ = row_url(demo, "shoot")
    post(
        demo_client, url, changed(form_of(demo_client, url, field), name="First", project_fps="24")
    )
    step = demo.changes.last()
    post(demo_client, url, changed(form_of(demo_client, url, field), name="Second"))
    demo_client.post(f"/shoots/{demo.pk}/undo/", {"step": step.pk})
    again = Shoot.objects.get(pk=demo.pk)
    assert (again.name, again.project_fps) == ("Second", 25)


def test_readings_of_a_place_are_steps(demo_client: Any, demo: Shoot) -> None:
    place = demo.main_place
    place.light_readings.all().delete()
    url = f"/shoots/{demo.pk}/places/{place.pk}/metered/"
    demo_client.post(url, {"at": f"{demo.date}T09:30", "ev100": "11.4"})
    kept = LightReading.objects.get(place=place)
    steps = f"/shoots/{demo.pk}"
    demo_client.post(f"{steps}/undo/")
    assert not place.light_readings.exists()
    demo_client.post(f"{steps}/redo/")
    assert LightReading.objects.get(place=place).ev100 == kept.ev100
    demo_client.post(url, {"drop": str(kept.pk)})
    assert not place.light_readings.exists()
    demo_client.post(f"{steps}/undo/")
    assert LightReading.objects.get(place=place).at == kept.at


def test_a_deleted_place_comes_back_with_its_readings(demo_client: Any, demo: Shoot) -> None:
    place = demo.places.last()
    LightReading.objects.create(place=place, at=timezone.now(), ev100=9.5)
    before = list(place.light_readings.values())
    demo_client.post(f"/shoots/{demo.pk}/parts/place/{place.pk}/delete/")
    assert not LightReading.objects.filter(place_id=place.pk).exists()
    demo_client.post(f"/shoots/{demo.pk}/undo/")
    assert list(LightReading.objects.filter(place_id=place.pk).values()) == before


def test_a_reading_whose_place_is_gone_does_not_come_back(demo_client: Any, demo: Shoot) -> None:
    place = demo.places.last()
    url = f"/shoots/{demo.pk}/places/{place.pk}/metered/"
    demo_client.post(url, {"at": f"{demo.date}T09:30", "ev100": "11.4"})
    demo_client.post(url, {"drop": str(place.light_readings.last().pk)})
    step = demo.changes.last()
    demo_client.post(f"/shoots/{demo.pk}/parts/place/{place.pk}/delete/")
    page = demo_client.post(f"/shoots/{demo.pk}/undo/", {"step": step.pk}, follow=True)
    assert "its place was deleted meanwhile" in page.content.decode()


def sent_as(**texts: Any) -> QueryDict:
    data = QueryDict(mutable=True)
    for name, values in texts.items():
        data.setlist(name, values if isinstance(values, list) else [values])
    return data


def merged(shown: Any, sent: dict[str, Any], present: dict[str, list[str]], **how: Any) -> Merged:
    return merge(sent_as(shown=json.dumps(shown), **sent), present, **how)


@pytest.mark.parametrize("shown", ["", "{", "[]", "7", '{"a": 3}', "null"])
def test_a_form_that_does_not_say_what_it_showed_is_taken_whole(shown: str) -> None:
    sent = sent_as(shown=shown, a="1", b="2")
    found = merge(sent, {"a": ["5"], "b": ["6"]})
    assert (found.data["a"], found.data["b"], found.meanwhile) == ("1", "2", ())


@pytest.mark.parametrize(
    ("was", "typed", "now", "kept"),
    [
        (["1"], ["1"], ["1"], ["1"]), (["1"], ["2"], ["1"], ["2"]), (["1"], ["1"], ["3"], ["3"]),
        (["1"], ["2"], ["3"], ["2"]), (["1"], ["3"], ["3"], ["3"]), ([], [], ["on"], ["on"]),
        (["on"], [], ["on"], []), (["a\nb"], ["a\r\nb"], ["c"], ["c"]), (["1"], ["1 "], ["3"], ["3"]),
    ],
)  # fmt: skip
def test_one_field_of_three_sides(was: Any, typed: Any, now: Any, kept: Any) -> None:
    found = merged({"a": was}, {"a": typed}, {"a": now})
    assert found.data.getlist("a") == kept
    told = [(one.was, one.now, one.sent is None) for one in found.meanwhile]
    if now in (was, typed):
        assert told == []
    else:
        untouched = [text.replace("\r\n", "\n").strip() for text in typed] == was
        assert told == [(tuple(was), tuple(now), untouched)]


def test_ticks_come_and_go_one_by_one() -> None:
    found = merged({"a": ["1", "2"]}, {"a": ["2", "3"]}, {"a": ["1", "2", "4"]}, ticked={"a"})
    assert found.data.getlist("a") == ["2", "4", "3"]


def test_a_field_that_is_not_asked_for_any_more_is_said() -> None:
    found = merged({"a": ["1"], "b": ["x"]}, {"a": "2", "b": "x"}, {"b": ["x"]})
    assert "a" not in found.data
    assert Wording({}, {"a": "Thread"}).said(found) == [
        "Not asked for any more since somebody else changed this, so not kept: Thread."
    ]
    untouched = merged({"a": ["1"]}, {"a": "1"}, {})
    assert "a" not in untouched.data
    assert untouched.meanwhile[0].sent is None


def line(at: int, name: str, bits: str) -> dict[str, list[str]]:
    return {f"f-{at}-name": [name], f"f-{at}-bits": [bits]}


def test_lines_that_can_be_told_apart_meet() -> None:
    shown = {"f-TOTAL_FORMS": ["1"], **line(0, "4K", "10")}
    ours = {"f-TOTAL_FORMS": "1", "f-0-name": "4K", "f-0-bits": "12"}
    renamed = {"f-TOTAL_FORMS": ["1"], **line(0, "UHD", "10")}
    found = merged(shown, ours, renamed, lines=("f",))
    assert (found.torn, found.data["f-0-name"], found.data["f-0-bits"]) == ((), "UHD", "12")
    another = {"f-TOTAL_FORMS": ["1"], **line(0, "UHD", "8")}
    assert merged(shown, ours, another, lines=("f",)).torn == ("f",)


def test_a_line_that_came_meanwhile_stays() -> None:
    shown = {"f-TOTAL_FORMS": ["1"], **line(0, "4K", "10"), "a": ["1"]}
    more = {"f-TOTAL_FORMS": ["2"], **line(0, "4K", "10"), **line(1, "HD", "8"), "a": ["1"]}
    ours = {"f-TOTAL_FORMS": "1", "f-0-name": "4K", "f-0-bits": "10", "a": "2"}
    found = merged(shown, ours, more, lines=("f",))
    assert (found.torn, found.data["f-TOTAL_FORMS"], found.data["f-1-name"]) == ((), "2", "HD")
    assert found.data["a"] == "2"
    assert Wording({}, {"f-TOTAL_FORMS": "Number of f"}).said(found) == [
        "Changed meanwhile, and left so: Number of f, from 1 to 2."
    ]
    assert merged(shown, {**ours, "f-0-bits": "12"}, more, lines=("f",)).torn == ("f",)


def test_what_is_so_already_is_left_out() -> None:
    present = {"a": ["1"], "b": ["x", "y"], "c": ["z"]}
    left = without_same(sent_as(a="1", b=["x", "y"], c="2", d="4"), present, ("b", "c"))
    assert set(left) == {"b", "c", "d"}
