"""The list of shoots through Django's client: what stands in each line, and what to do next."""

from datetime import date
from typing import Any

import pytest
from django.db import connection
from django.test.utils import CaptureQueriesContext
from django.urls import reverse
from lxml import html

from fotonomy.shoots.models import Setup, Shoot
from fotonomy.shoots.services.places import find_places
from fotonomy.shoots.services.shoots import make_shoot


def line_of(client: Any, name: str) -> Any:
    page = html.fromstring(client.get("/shoots/").content.decode())
    return page.xpath(f"//li[contains(@class, 'shoot')][.//h2/a[text()='{name}']]")[0]


def words(line: Any) -> str:
    return " ".join(line.text_content().split())


def test_the_demo_says_what_is_planned_and_what_must_be_fixed(
    demo_client: Any, demo: Shoot
) -> None:
    said = words(line_of(demo_client, "Keel to Tide"))
    assert "12 setups planned" in said
    assert (
        "Sat 5 and Sun 6 June 2027 · Tern Slip, mill and 4 more · 25 fps edit · 50 Hz mains" in said
    )
    # The sun of that place and day: the first setup in golden light, the last in the night.
    assert "Light: golden hour 07:45 to night 19:40" in said
    # The bench is asked for the same: as many must-fixes, and the first of them is next.
    bench = html.fromstring(
        demo_client.get(demo.setups.first().get_absolute_url()).content.decode()
    )
    stops = sum(
        int(text.split("\u2009")[-1].split()[0])
        for text in bench.xpath("//span[contains(@class, 'stops')]/text()") if text.strip()[0] == "✕"
    )  # fmt: skip
    assert stops >= 1
    assert f"✕\u2009{stops}" in line_of(demo_client, "Keel to Tide").text_content()
    first = next(row for row in demo.setups.all() if row.summary["stops"])
    what = first.summary["first"]
    assert f"Next: Fix {first}: {what[0].lower()}{what[1:]}" in said


def test_the_next_step_of_an_empty_shoot_and_of_one_without_hours(
    demo_client: Any, demo: Shoot
) -> None:
    fresh = make_shoot(demo.owner, name="Net shed", date=date(2027, 3, 2))
    line = line_of(demo_client, "Net shed")
    assert "0 setups planned" in words(line)
    assert line.xpath(".//a[text()='Plan the first setup']/@href") == [fresh.get_absolute_url()]
    demo_client.post(reverse("setup-new", args=[fresh.pk]))
    setup = Setup.objects.get(shoot=fresh)
    line = line_of(demo_client, "Net shed")
    assert "no hours planned yet" in words(line)
    assert line.xpath(".//p[last()]/a/@href") == [setup.get_absolute_url()]


def test_queries_do_not_grow_with_setups(demo_client: Any, demo: Shoot) -> None:
    demo_client.get("/shoots/")
    with CaptureQueriesContext(
        connection,
    ) as few:
        demo_client.get("/shoots/")
    for row in list(demo.setups.all()):
        row.pk = None
        row.save()
    demo_client.get("/shoots/")
    with CaptureQueriesContext(connection) as many:
        demo_client.get("/shoots/")
    assert len(many) == len(few)


def test_nobody_elses_shoot_is_in_the_list(demo_client: Any, stranger: Any) -> None:
    make_shoot(stranger, name="Lime kiln", date=date(2027, 3, 2))
    assert "Lime kiln" not in demo_client.get("/shoots/").content.decode()


def form_of(answer: Any) -> dict[str, str]:
    page = html.fromstring(answer.content.decode())
    return dict(page.xpath("//form[contains(@class, 'sheet')]")[0].form_values())


def test_a_place_by_its_name_fills_in_the_rest(demo_client: Any) -> None:
    sent = {"name": "Harbour", "date": "2027-03-02", "place_name": "hobart", "find_place": "1"}
    answer = demo_client.post("/shoots/new/", sent)
    page = html.fromstring(answer.content.decode())
    # Nothing is saved yet, and nothing typed is lost.
    assert not Shoot.objects.filter(name="Harbour").exists()
    assert form_of(answer)["name"] == "Harbour"
    found = page.xpath("//button[@name='take_place']")
    assert found[0].text_content().strip() == "Hobart, Australia, 42.9° S 147.3° E"
    # Two towns of that name are told apart by their country.
    assert any("United States" in button.text_content() for button in found)
    answer = demo_client.post(
        "/shoots/new/", {**form_of(answer), "take_place": found[0].get("value")}
    )
    filled = form_of(answer)
    # 42.88 S 147.33 E and the zone: any atlas; 50 Hz: IEC list of mains, from memory.
    assert float(filled["latitude_deg"]) == pytest.approx(-42.88, abs=0.02)
    assert float(filled["longitude_deg"]) == pytest.approx(147.33, abs=0.02)
    assert (filled["time_zone"], filled["mains_hz"]) == ("Australia/Hobart", "50")
    demo_client.post("/shoots/new/", filled)
    saved = Shoot.objects.get(name="Harbour")
    assert (saved.main_place.name, saved.main_place.time_zone) == ("Hobart", "Australia/Hobart")
    assert saved.main_place.latitude_deg == pytest.approx(-42.88, abs=0.02)


@pytest.mark.parametrize(
    ("name", "country", "hz"),
    # From memory: North America, Korea and western Japan have 60 Hz, Europe and Tokyo 50.
    [("Boston", "United States", 60), ("Busan", "South Korea", 60), ("Osaka", "Japan", 60),
     ("Tokyo", "Japan", 50), ("Bergen", "Norway", 50), ("São Paulo", "Brazil", 60),
     ("munchen", "Germany", 50)],
)  # fmt: skip
def test_mains_and_names_of_towns(name: str, country: str, hz: int) -> None:
    place = find_places(name)[0]
    assert (place.country, place.mains_hz) == (country, hz)


def test_a_place_nobody_knows_says_so_and_keeps_what_was_typed(demo_client: Any) -> None:
    for name in ("Tern Slip", "", "x"):
        sent = {"name": "Mill", "place_name": name, "latitude_deg": "43.12 S", "find_place": "1"}
        answer = demo_client.post("/shoots/new/", sent)
        assert "No town of five thousand people" in " ".join(answer.content.decode().split())
        assert form_of(answer)["latitude_deg"] == "43.12 S"
    answer = demo_client.post(
        "/shoots/new/", {**sent, "find_place": "", "take_place": "999999999999"}
    )
    assert answer.status_code == 200


def test_a_new_setup_starts_from_the_one_on_screen(demo_client: Any, demo: Shoot) -> None:
    forge = demo.setups.get(code="7A")
    demo_client.post(reverse("setup-new", args=[demo.pk]), {"like": forge.pk})
    fresh = demo.setups.order_by("pk").last()
    assert fresh is not None
    same = ("body", "lens", "profile", "focal_mm", "light", "support", "white_k", "mains_lamps")
    for name in same:
        assert getattr(fresh, name) == getattr(forge, name), name
    # What is new about it is its own: no name, no hour, nothing of the story.
    assert (fresh.title, fresh.code, fresh.planned_time, fresh.notes) == ("", "", None, "")
    # Somebody else's, or none, is none to start from: then the first gear and open shade.
    demo_client.post(reverse("setup-new", args=[demo.pk]), {"like": "999999"})
    other = demo.setups.order_by("pk").last()
    assert other is not None
    assert other.light == {"ev100": 12.0}
