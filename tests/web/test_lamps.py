"""Lamps as scene light: worked out, refused beside the field, taken over and undone."""

from typing import Any

import pytest
from django.contrib.auth.models import User
from django.test import Client
from django.urls import reverse
from lxml import html

from fotonomy.core.photometry.exposure_value import SceneLight, ev100_of
from fotonomy.exchange.converter import from_data
from fotonomy.kit.models import Accessory
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


def line(k: int, role: str = "key", **more: str) -> dict[str, str]:
    given = {"role": role, "name": "", "lux": "10000", "distance": "2 m", "angle": "0",
             "size": "1 cm", "softener": "none"} | more  # fmt: skip
    return {f"l-{k}-{name}": text for name, text in given.items()}


LAMP = {"l-TOTAL_FORMS": "1", **line(0), "ambient": "", "behind": ""}
TWO = LAMP | {"l-TOTAL_FORMS": "2"}


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


def test_key_fill_and_background_in_stops_of_each_other(demo_client: Any, forge: Setup) -> None:
    page = page_of(demo_client, forge, **TWO, **line(1, "fill", lux="3 klx", distance="3 m"))
    # 2500 and 3000/9 = 333: 2833 to 333 is 8.5 to one, 3.1 stops.
    assert "8.5 to 1, 3.1 stops" in page.text_content()
    back = line(1, "background", lux="1000", distance="1 m")
    page = page_of(demo_client, forge, **{**TWO, **back, "behind": "50 m"})
    # 1000 lux of its own and 10000/52² = 3.7 of the key, against 2500: 1.3 stops under.
    assert "1000 lux on the background, 1.3 stops under" in page.text_content()
    assert page.xpath("count(//figure//*[contains(@class, 'lamp-handle')])") == 2


def test_lamps_of_the_kit_are_added_and_taken_away(demo_client: Any, forge: Setup) -> None:
    own = Accessory.objects.create(
        owner=forge.shoot.owner, name="Panel", sort="lamp", lux_1m=1234, size_m=0.4
    )
    page = page_of(demo_client, forge)
    # The first is one's own where there is one.
    assert page.xpath("//input[@name='l-0-lux']/@value") == ["1234"]
    page = page_of(demo_client, forge, **LAMP, add=str(own.pk))
    assert page.xpath("//input[@name='l-1-name']/@value") == ["Panel"]
    assert page.xpath("//input[@name='l-1-size']/@value") == ["40 cm"]
    assert page.xpath("//input[@name='l-0-lux']/@value") == ["10000"]
    # The next is for what none is there for yet.
    assert page.xpath("//select[@name='l-1-role']/option[@selected]/@value") == ["fill"]
    page = page_of(demo_client, forge, **TWO, **line(1, "fill", lux="7"), drop="0")
    assert page.xpath("//input[@name='l-0-lux']/@value") == ["7"]
    assert not page.xpath("//input[@name='l-1-lux']")
    # Ambient alone lights too; nothing at all is no scene light.
    none = {"l-TOTAL_FORMS": "0", "behind": ""}
    assert "400 lux" in page_of(demo_client, forge, ambient="400", **none).text_content()
    assert not page_of(demo_client, forge, 422, ambient="0", **none).xpath("//button[@name='fix']")


def test_nobody_elses_lamps(client: Any, demo_client: Any, forge: Setup) -> None:
    other = User.objects.create_user("other", password="quay-side-42")
    theirs = Accessory.objects.create(owner=other, name="Theirs", sort="lamp", lux_1m=99)
    page = page_of(demo_client, forge, **LAMP, add=str(theirs.pk))
    assert page.xpath("//input[@name='l-1-name']/@value") in ([], [""])


@pytest.mark.parametrize(
    ("typed", "field"),
    [({"l-0-lux": "bright"}, "l-0-lux"), ({"l-0-lux": ""}, "l-0-lux"),
     ({"l-0-distance": "0"}, "l-0-distance"), ({"l-0-size": "huge"}, "l-0-size"),
     ({"l-0-angle": "181"}, "l-0-angle"), ({"ambient": "-3"}, "ambient"),
     ({"behind": "far"}, "behind"), ({"l-0-role": "rim"}, "l-0-role"),
     # What no meter shows is said here, not after the press.
     ({"l-0-lux": "0.01", "l-0-distance": "1000 m"}, "l-0-lux"),
     ({"l-0-lux": "100000000", "l-0-distance": "5 cm"}, "l-0-lux"),
     ({"l-0-softener": "silk & steel"}, "l-0-softener")],
)  # fmt: skip
def test_what_is_wrong_is_said_beside_its_field(
    demo_client: Any, forge: Setup, typed: dict[str, str], field: str
) -> None:
    page = page_of(demo_client, forge, 422, **{**LAMP, **typed})
    assert not page.xpath("//button[@name='fix']")
    (given,) = page.xpath(f"//*[@name='{field}']")
    assert given.xpath("../p[@class='field-error']")
    # What was typed stays.
    if given.tag == "input":
        assert given.get("value", "") == typed[field]


@pytest.mark.parametrize("count", ["", "-1", "many", "999"])
def test_a_mangled_count_is_no_fault(demo_client: Any, forge: Setup, count: str) -> None:
    answer = demo_client.get(
        reverse("lamps", args=[forge.shoot_id, forge.pk]), {**LAMP, "l-TOTAL_FORMS": count}
    )
    assert answer.status_code in (200, 422)


def test_a_faint_lamp_keeps_its_digits(demo_client: Any, forge: Setup) -> None:
    # 0.01 lx at 1 m are 0.0025 at 2 m: not nothing.
    page = page_of(demo_client, forge, **{**LAMP, "l-0-lux": "0.01"})
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
