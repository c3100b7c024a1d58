"""Lamps as scene light: worked out, refused beside the field, taken over and undone."""

from typing import Any

import pytest
from django.test import Client
from django.urls import reverse
from lxml import html

from fotonomy.core.photometry.exposure_value import SceneLight, ev100_of
from fotonomy.exchange.converter import from_data
from fotonomy.shoots import history
from fotonomy.shoots.models import Setup, Shoot

pytestmark = pytest.mark.django_db


@pytest.fixture
def forge(demo: Shoot) -> Setup:
    return demo.setups.get(code="7A")


def page_of(client: Any, row: Setup, status: int = 200, **typed: str) -> Any:
    answer = client.get(reverse("lamps", args=[row.shoot_id, row.pk]), typed)
    assert answer.status_code == status
    return html.fromstring(answer.content.decode())


LAMP = {"key_lux": "10000", "key_distance": "2 m", "key_size": "1 cm", "key_softener": "none",
        "fill_lux": "", "fill_distance": "3 m", "fill_size": "60 cm", "fill_softener": "none",
        "ambient": ""}  # fmt: skip


def test_a_lamp_becomes_the_scene_light(demo_client: Any, forge: Setup) -> None:
    page = page_of(demo_client, forge, **LAMP)
    # 10 000 lx at 1 m are 2500 at 2 m, EV 9.97 (ISO 2720:1974, C = 250).
    assert "2500 lux on the lit side, EV 10" in page.text_content()
    press = page.xpath("//button[@name='fix']/@value")[0]
    answer = demo_client.post(forge.get_absolute_url(), {"fix": press})
    assert answer.status_code in (200, 302)
    forge.refresh_from_db()
    light: Any = from_data(forge.light, SceneLight)
    assert ev100_of(light) == pytest.approx(9.97, abs=0.01)
    history.undo(forge.shoot)
    forge.refresh_from_db()
    assert forge.light == {"ev100": 3.6}


def test_key_and_fill_have_a_ratio(demo_client: Any, forge: Setup) -> None:
    page = page_of(demo_client, forge, **{**LAMP, "fill_lux": "3 klx", "fill_size": "1 cm"})
    # 2500 and 3000/9 = 333: 2833 to 333 is 8.5 to one, 3.1 stops.
    assert "8.5 to 1, 3.1 stops" in page.text_content()
    assert page.xpath("count(//figure//*[local-name()='svg'])") >= 2


@pytest.mark.parametrize(
    ("typed", "field"),
    [({"key_lux": "bright"}, "key_lux"), ({"key_lux": ""}, "key_lux"),
     ({"key_distance": "0"}, "key_distance"), ({"key_size": "huge"}, "key_size"),
     ({"fill_lux": "-3"}, "fill_lux"), ({"fill_lux": "300", "fill_size": ""}, "fill_size"),
     # What no meter shows is said here, not after the press.
     ({"key_lux": "0.01", "key_distance": "1000 m"}, "key_lux"),
     ({"key_lux": "100000000", "key_distance": "5 cm"}, "key_lux"), ({"key_softener": "silk & steel"}, "key_softener")],
)  # fmt: skip
def test_what_is_wrong_is_said_beside_its_field(
    demo_client: Any, forge: Setup, typed: dict[str, str], field: str
) -> None:
    page = page_of(demo_client, forge, 422, **{**LAMP, **typed})
    assert not page.xpath("//button[@name='fix']")
    (given,) = page.xpath(f"//*[@name='{field}']")
    assert given.get("aria-invalid") == "true" or "error" in page.text_content().casefold()
    # What was typed stays.
    if given.tag == "input":
        assert given.get("value", "") == typed[field]


@pytest.mark.parametrize("fill", [{"fill_lux": "0"}, {"fill_distance": "", "fill_size": ""}])
def test_a_fill_without_light_is_none(demo_client: Any, forge: Setup, fill: dict[str, str]) -> None:
    page = page_of(demo_client, forge, **{**LAMP, **fill})
    assert "nothing lights the shadow side" in page.text_content()


def test_a_faint_lamp_keeps_its_digits(demo_client: Any, forge: Setup) -> None:
    # 0.01 lx at 1 m are 0.0025 at 2 m: not nothing.
    page = page_of(demo_client, forge, **{**LAMP, "key_lux": "0.01"})
    press = page.xpath("//button[@name='fix']/@value")[0]
    assert '"lux":0.0025' in press
    assert demo_client.post(forge.get_absolute_url(), {"fix": press}).status_code in (200, 302)


def test_the_way_there_and_nobody_elses(demo_client: Any, forge: Setup) -> None:
    bench = html.fromstring(
        demo_client.get(f"{forge.get_absolute_url()}?open=light").content.decode()
    )
    assert bench.xpath("//section[@id='stage']//a[text()='From lamps']/@href") == [
        reverse("lamps", args=[forge.shoot_id, forge.pk])
    ]
    assert Client().get(reverse("lamps", args=[forge.shoot_id, forge.pk])).status_code == 302
