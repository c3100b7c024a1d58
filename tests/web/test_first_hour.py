"""The first hour of somebody new: three doors, three steps, a bench; nothing is lost on the way."""

from typing import Any

import pytest
from django.contrib.auth import get_user_model
from lxml import html

from fotonomy.core.gear.sensor_classes import USUAL
from fotonomy.kit.forms.start import CameraForm, OwnLensForm
from fotonomy.kit.models import Body, Filter, Lens, Profile
from fotonomy.shoots.models import Setup, Shoot

CAMERA = {"sensor": "crop", "name": "Little grey", "rates": "24, 25, 50", "project_fps": "25",
          "iso_lowest": "100", "iso_highest": "25600", "iso_ceiling": "6400", "base_iso": "800",
          "shutter_style": "time"}  # fmt: skip
LENS = {"sensor": "crop", "focal_shortest_mm": "35", "focal_longest_mm": "", "widest_f": "f/1.8",
        "thread_mm": "52"}  # fmt: skip


@pytest.fixture
def newcomer(client: Any, db: None) -> Any:
    """Somebody who has just signed up."""
    client.post(
        "/sign-up/",
        {"username": "newcomer", "password1": "slip-way-1887", "password2": "slip-way-1887"},
    )
    return get_user_model().objects.get(username="newcomer")


def page_of(answer: Any) -> Any:
    return html.fromstring(answer.content.decode())


def test_three_doors_stand_on_the_empty_list(client: Any, newcomer: Any) -> None:
    page = page_of(client.get("/shoots/"))
    assert page.xpath("//section[@class='doors']//a/@href") == ["/shoots/start/"]
    forms = page.xpath("//section[@class='doors']//form/@action")
    assert forms == ["/demo/take/", "/shoots/start/empty/"]


def test_three_steps_lead_to_a_bench_with_ones_own_gear(client: Any, newcomer: Any) -> None:
    assert client.get("/shoots/start/").url == "/shoots/start/camera/"
    page = page_of(client.get("/shoots/start/camera/"))
    assert len(page.xpath("//ul[@class='sensors']//a")) == 5
    assert not page.xpath("//input[@name='rates']")
    page = page_of(client.get("/shoots/start/camera/?sensor=crop"))
    assert page.xpath("//input[@name='iso_highest']/@value") == ["25600"]
    assert client.post("/shoots/start/camera/", CAMERA).url == "/shoots/start/lens/"
    assert client.post("/shoots/start/lens/", LENS).url == "/shoots/start/glass/"
    answer = client.post("/shoots/start/glass/", {"densities": ["0.9", "1.8"]})
    row = Setup.objects.get(shoot__owner=newcomer)
    assert answer.url == f"{row.get_absolute_url()}?open=light"
    assert (row.body.name, row.lens.name, row.profile.name) == ("Little grey", "35 mm f/1.8", "Log")
    assert row.shoot.project_fps == 25
    assert row.body.formats[0]["sensor_width_mm"] == USUAL["crop"].width_mm
    assert set(Filter.objects.filter(owner=newcomer).values_list("name", "thread_mm")) == {
        ("ND 0.9", 52.0), ("ND 1.8", 52.0),
    }  # fmt: skip
    assert client.get(answer.url).status_code == 200
    # What the account began with made way.
    assert not Body.objects.filter(owner=newcomer, name="My camera").exists()


def test_progress_is_kept_over_a_log_out_and_a_step_can_be_corrected(
    client: Any, newcomer: Any
) -> None:
    client.post("/shoots/start/camera/", CAMERA)
    client.logout()
    client.force_login(newcomer)
    assert client.get("/shoots/start/").url == "/shoots/start/lens/"
    page = page_of(client.get("/shoots/start/camera/"))
    assert page.xpath("//input[@name='name']/@value") == ["Little grey"]
    assert page.xpath("//input[@name='rates']/@value") == ["24, 25, 50"]
    client.post("/shoots/start/camera/", {**CAMERA, "name": "Large grey", "rates": "25"})
    (body,) = Body.objects.filter(owner=newcomer)
    assert (body.name, len(body.formats[0]["rates"])) == ("Large grey", 1)
    assert client.get("/shoots/start/glass/").url == "/shoots/start/"


@pytest.mark.parametrize(
    ("step", "given", "name", "text", "words"),
    [
        ("camera", CAMERA, "rates", "fast", "rates such as"),
        ("camera", CAMERA, "iso_highest", "50", "lower than the lowest"),
        ("camera", CAMERA, "base_iso", "1, 2, 3", "or two"),
        ("camera", CAMERA, "name", "", "required"),
        ("camera", CAMERA, "iso_ceiling", "many", "ISO value"),
        ("lens", LENS, "widest_f", "wide", "f-number"),
        ("lens", LENS, "focal_longest_mm", "20", "shorter than the shortest"),
        ("lens", LENS, "thread_mm", "-4", "from 1 to 500"),
        ("glass", {}, "densities", "7", "valid choice"),
        ("glass", {"variable_most": "5"}, "variable_least", "much", "number from 0.3 to 10"),
        ("glass", {"variable_least": "5"}, "variable_most", "5", "more than its weakest"),
        ("glass", {"variable_least": "5"}, "variable_most", "", "a weakest and a strongest"),
    ],
)  # fmt: skip
def test_wrong_answers_are_said_beside_the_field_and_stay(
    client: Any, newcomer: Any, step: str, given: dict[str, str], name: str, text: str, words: str
) -> None:
    if step != "camera":
        client.post("/shoots/start/camera/", CAMERA)
    if step == "glass":
        client.post("/shoots/start/lens/", LENS)
    answer = client.post(f"/shoots/start/{step}/", {**given, name: text})
    assert answer.status_code == 422
    page = page_of(answer)
    (error,) = page.xpath(f"//div[contains(@class, 'field-{name}')]//p[@class='field-error']")
    assert words in error.text_content()
    assert page.xpath(f"//input[@name='{name}'][not(@type='checkbox')]/@value") in ([text], [])


@pytest.mark.parametrize("sensor", list(USUAL))
def test_what_is_filled_in_is_right_for_every_sensor(
    client: Any, newcomer: Any, sensor: Any
) -> None:
    page = page_of(client.get(f"/shoots/start/camera/?sensor={sensor.value}"))
    form = next(f for f in page.forms if f.xpath(".//input[@name='rates']"))
    sent = dict(form.form_values())
    assert client.post("/shoots/start/camera/", sent).url == "/shoots/start/lens/"
    page = page_of(client.get("/shoots/start/lens/"))
    form = next(f for f in page.forms if f.xpath(".//input[@name='widest_f']"))
    assert (
        client.post("/shoots/start/lens/", dict(form.form_values())).url == "/shoots/start/glass/"
    )
    answer = client.post(
        "/shoots/start/glass/",
        {"densities": ["0.6"], "variable_least": "2", "variable_most": "5 stops"},
    )
    assert client.get(answer.url).status_code == 200
    assert CameraForm.usual(USUAL[sensor])["iso_highest"] == USUAL[sensor].iso_highest
    turned = Filter.objects.get(owner=newcomer, kind="variable_nd").to_spec()
    assert (turned.stops, turned.most_stops) == (pytest.approx(2), pytest.approx(5))
    lens = Lens.objects.get(owner=newcomer)
    assert OwnLensForm.usual(USUAL[sensor])["widest_f"] == lens.widest_f
    # A phone's iris does not close; every other's does.
    assert (lens.smallest_f == lens.widest_f) == (sensor.value == "phone")


def test_nonsense_in_the_address_leads_back(client: Any, newcomer: Any) -> None:
    assert client.get("/shoots/start/coffee/").status_code == 404
    assert client.get("/shoots/start/camera/?sensor=huge").status_code == 200
    assert client.post("/shoots/start/camera/", {"sensor": "huge"}).status_code == 200
    assert not Body.objects.filter(owner=newcomer).exclude(name="My camera").exists()


def test_the_demo_and_an_empty_bench_are_one_press_each(client: Any, newcomer: Any) -> None:
    answer = client.post("/demo/take/", follow=True)
    assert answer.status_code == 200
    shoot = Shoot.objects.get(owner=newcomer, name="Keel to Tide")
    assert shoot.setups.count() == 12
    answer = client.post("/shoots/start/empty/", follow=True)
    assert answer.status_code == 200
    assert Shoot.objects.filter(owner=newcomer).count() == 2


@pytest.mark.parametrize("lacks", [(Body, Profile, Lens), (Lens,), (Body,), ()])
def test_a_bench_opens_for_whoever_has_no_gear_with_what_the_page_promises(
    client: Any, newcomer: Any, lacks: tuple[type[Any], ...]
) -> None:
    for model in lacks:
        model.objects.filter(owner=newcomer).delete()
    answer = client.post("/shoots/start/empty/", follow=True)
    row = Setup.objects.get(shoot__owner=newcomer)
    assert answer.redirect_chain == [(row.get_absolute_url(), 302)]
    # What was there is there once.
    counts = [model.objects.filter(owner=newcomer).count() for model in (Body, Lens, Profile)]
    assert counts == [1, 1, 1]


def test_own_gear_that_is_used_or_changed_does_not_make_way(client: Any, newcomer: Any) -> None:
    client.post("/shoots/start/empty/")
    client.post("/shoots/start/camera/", CAMERA)
    assert Body.objects.filter(owner=newcomer, name="My camera").exists()
    assert Lens.objects.filter(owner=newcomer, name="Zoom 24 to 70").exists()


def test_a_new_shoot_and_its_first_setup_start_from_the_last(demo_client: Any, demo: Shoot) -> None:
    page = page_of(demo_client.get("/shoots/new/"))
    assert page.xpath("//input[@name='project_fps']/@value") == ["25"]
    assert page.xpath("//input[@name='time_zone']/@value") == [demo.main_place.time_zone]
    assert page.xpath("//input[@name='latitude_deg']/@value") in ([], [""])
    last = demo.setups.order_by("pk").last()
    assert last is not None
    demo_client.post("/shoots/start/empty/")
    row = Setup.objects.order_by("pk").last()
    assert row is not None
    assert (row.body, row.lens) == (last.body, last.lens)


def test_without_a_place_there_is_no_sun(demo_client: Any, demo: Shoot) -> None:
    given = {"name": "Nowhere", "date": "2027-03-02", "time_zone": "UTC", "mains_hz": "50",
             "project_fps": "25"}  # fmt: skip
    for where in ({}, {"latitude_deg": "0", "longitude_deg": "0"}):
        answer = demo_client.post("/shoots/new/", {**given, **where})
        assert answer.status_code == 302
        shoot = Shoot.objects.order_by("pk").last()
        assert shoot is not None
        assert shoot.main_place.site is None
    half = demo_client.post("/shoots/new/", {**given, "latitude_deg": "43 S"})
    assert "Both or neither" in half.content.decode()
    # The equator is a place, and so is Greenwich.
    demo_client.post(
        "/shoots/new/", {**given, "name": "Line", "latitude_deg": "0", "longitude_deg": "20"}
    )
    assert Shoot.objects.get(name="Line").main_place.site is not None
    row = demo.setups.first()
    assert row is not None
    demo.places.update(latitude_deg=None, longitude_deg=None)
    page = page_of(demo_client.get(row.get_absolute_url()))
    assert page.xpath("//li[contains(@class, 'light-unknown')]")
    assert "not known without latitude" in demo_client.get("/shoots/").content.decode()


@pytest.mark.parametrize("path", ["start/", "start/camera/", "start/lens/"])
def test_the_steps_are_for_people_who_are_logged_in(client: Any, db: None, path: str) -> None:
    assert client.get(f"/shoots/{path}").url.startswith("/log-in/")
    for pressed in ("/shoots/start/empty/", "/demo/take/"):
        assert client.post(pressed).url.startswith("/log-in/")
        assert client.get(pressed).status_code in (302, 405)
