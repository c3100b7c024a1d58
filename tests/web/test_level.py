"""Readings on the bench, the page of methods, the monitor: through the client."""

import json
from typing import Any

import cv2
import numpy as np
import pytest
from django.urls import reverse
from lxml import html

from fotonomy.core.spec.intent import ExposureMethod
from fotonomy.shoots.models import Setup
from tests.web.test_bench import FRAGMENT, send, text_of

pytestmark = pytest.mark.django_db


def readings(row: Setup) -> list[dict[str, Any]]:
    row.refresh_from_db()
    return row.readings


def test_a_reading_is_typed_in_any_unit_and_lands(demo_client: Any, adze: Setup) -> None:
    page = send(demo_client, adze, "level", **{"reading-0-stops": "13.3 EV"})
    assert readings(adze)[0]["stops"] == pytest.approx(1.0)
    assert text_of(page, "//*[@id='reading-0']//span[@class='lands']").endswith("%")
    send(demo_client, adze, **{"reading-0-stops": "62 % at f/4 1/200 ISO 500 ND 0.9"})
    assert readings(adze)[0]["stops"] != pytest.approx(1.0)
    # What a whole form shows is not typed: the exact value stays.
    exact = readings(adze)[0]["stops"]
    shown = page.xpath("//input[@name='reading-3-stops']/@value")[0]
    before = readings(adze)[3]["stops"]
    send(demo_client, adze, **{"reading-3-stops": shown, "iris": "f/5"})
    assert (readings(adze)[0]["stops"], readings(adze)[3]["stops"]) == (exact, before)


@pytest.mark.parametrize(
    ("field", "text", "words"),
    [("stops", "99 %", "clips from 92 %"), ("stops", "bright", "such as"), ("name", " ", "a word or two"),
     ("share_percent", "0", "percent of the frame"), ("x_percent", "120 %", "percent of the frame"),
     ("source_k", "bluish", "or a light"), ("wanted_stops", "lots", "stops from grey"),
     ("name", "window", "two readings")],
)  # fmt: skip
def test_wrong_readings_stand_beside_their_field(
    demo_client: Any, adze: Setup, field: str, text: str, words: str
) -> None:
    before = readings(adze)
    page = send(demo_client, adze, **{f"reading-0-{field}": text})
    assert words in text_of(page, f"//*[@id='e-reading-0-{field}']").lower()
    assert page.xpath(f"//input[@id='f-reading-0-{field}']/@value")[0].strip() == text.strip()
    assert readings(adze) == before


def test_add_nudge_mark_and_drop(demo_client: Any, adze: Setup) -> None:
    send(demo_client, adze, reading_add="lamp")
    found = readings(adze)
    assert (found[-1]["name"], found[-1]["may_clip"], found[-1]["shape"]) == ("lamp", True, "lamp")
    at = len(found) - 1
    send(demo_client, adze, reading_nudge=f"{at}:-13")
    assert readings(adze)[at]["stops"] == pytest.approx(5.7)
    send(demo_client, adze, **{f"reading-{at}-key": "1"})
    assert [r["key"] for r in readings(adze)] == [False] * at + [True]
    send(demo_client, adze, reading_drop=str(at))
    assert len(readings(adze)) == at
    # Nonsense changes nothing.
    for sent in ({"reading_nudge": "77:1"}, {"reading_nudge": "x"}, {"reading_drop": "-1"},
                 {"reading_drop": "99"}, {"scene": "moon"}, {"reading-99-stops": "1"}):  # fmt: skip
        send(demo_client, adze, **sent)
        assert len(readings(adze)) == at
    page = send(demo_client, adze, reading_add="unobtainium")
    assert "One of the list" in text_of(page, "//form[@id='bench']")


def test_no_more_readings_than_fit(demo_client: Any, adze: Setup) -> None:
    for _ in range(25):
        page = send(demo_client, adze, reading_add="other")
    assert len(readings(adze)) == 24
    assert "At most 24 readings" in text_of(page, "//form[@id='bench']")


def test_a_typical_scene_and_back(demo_client: Any, adze: Setup) -> None:
    before = readings(adze)
    send(demo_client, adze, scene="back_lit")
    assert "window" in [r["name"] for r in readings(adze)]
    demo_client.post(reverse("undo", args=[adze.shoot_id]), {"setup": adze.pk})
    assert readings(adze) == before


def test_another_profile_says_what_moves_on_the_monitor(demo_client: Any, adze: Setup) -> None:
    page = send(demo_client, adze, profile="Video")
    said = text_of(page, "//*[@id='messages']")
    assert "zebra 1 from 39 ± 1 % to 44 ± 1 %" in said
    assert "zebra 2 from 92 % to 109 %" in said
    assert "Set on the monitor" not in text_of(
        send(demo_client, adze, iris="f/5"), "//*[@id='messages']"
    )


def test_a_method_is_picked_and_becomes_the_target(demo_client: Any, adze: Setup) -> None:
    page = html.fromstring(demo_client.get(reverse("level", args=[adze.shoot_id, adze.pk])).content)
    rows = page.xpath("//table[@class='methods']/tbody/tr")
    assert len(rows) == len(ExposureMethod)
    assert "in force" in text_of(rows[0], ".")
    assert len(page.xpath("//table[@class='methods']//small[contains(@class,'advised')]")) == 1
    value = page.xpath("//button[contains(@value,'far_right')]/@value")[0]
    after = send(demo_client, adze, fix=value)
    adze.refresh_from_db()
    assert adze.intent["exposing"] == "far_right"
    assert "Far right" in text_of(after, "(//figure)[1]")
    # Every way out and profile offered is something the bench understands.
    for offered in page.xpath("//button[@name='fix']/@value"):
        answer = demo_client.post(adze.get_absolute_url(), {"fix": offered}, headers=FRAGMENT)
        assert answer.status_code == 200
        assert b"field-error" not in answer.content, offered


def test_methods_of_the_shoot_and_of_the_setup(demo_client: Any, adze: Setup) -> None:
    shoot = adze.shoot
    shoot.exposing = "under"
    shoot.save()
    page = html.fromstring(demo_client.get(f"{adze.get_absolute_url()}?open=level").content)
    assert "slightly under" in page.xpath("//select[@name='exposing']/option[1]/text()")[0]
    send(demo_client, adze, exposing="grey")
    adze.refresh_from_db()
    assert adze.intent["exposing"] == "grey"
    send(demo_client, adze, exposing="")
    adze.refresh_from_db()
    assert "exposing" not in adze.intent


def picture(client: Any, row: Setup, view: str, of: str = "") -> Any:
    url = reverse("monitor-picture", args=[row.shoot_id, row.pk, view])
    return client.get(url, {"of": of})


def test_the_monitor_answers_every_change(demo_client: Any, adze: Setup) -> None:
    page = html.fromstring(demo_client.get(adze.get_absolute_url()).content)
    first = page.xpath("//img[@class='monitor-picture']/@src")[0]
    answer = demo_client.get(first)
    assert answer["Content-Type"] == "image/webp"
    assert "max-age=86400" in answer["Cache-Control"]
    shown = cv2.imdecode(np.frombuffer(answer.content, np.uint8), cv2.IMREAD_COLOR)
    # Half its size each way in a tile, whole where it is open.
    assert shown.shape == (270, 480, 3)
    opened = html.fromstring(demo_client.get(f"{adze.get_absolute_url()}?open=picture").content)
    large = demo_client.get(opened.xpath("//img[@class='monitor-picture']/@src")[0])
    whole = cv2.imdecode(np.frombuffer(large.content, np.uint8), cv2.IMREAD_COLOR)
    assert whole.shape == (540, 960, 3)
    assert abs(whole.mean() - shown.mean()) < 4
    after = send(demo_client, adze, iris="f/8")
    second = after.xpath("//img[@class='monitor-picture']/@src")[0]
    assert first != second
    darker = cv2.imdecode(
        np.frombuffer(demo_client.get(second).content, np.uint8), cv2.IMREAD_COLOR
    )
    assert darker.mean() < shown.mean()
    # An old address shows what stands now, and is not kept.
    assert "no-store" in demo_client.get(first)["Cache-Control"]
    # What does not show in it leaves its address alone.
    same = send(demo_client, adze, wanted_screen_s="9 s")
    assert same.xpath("//img[@class='monitor-picture']/@src")[0] == second
    assert picture(demo_client, adze, "scopes").status_code == 200
    assert picture(demo_client, adze, "x-rays").status_code == 404


def test_the_view_of_the_monitor_is_kept(demo_client: Any, adze: Setup) -> None:
    page = send(demo_client, adze, monitor_view="stops")
    assert "/stops.jpg" in page.xpath("//img[@class='monitor-picture']/@src")[0]
    again = html.fromstring(demo_client.get(adze.get_absolute_url()).content)
    assert "/stops.jpg" in again.xpath("//img[@class='monitor-picture']/@src")[0]
    send(demo_client, adze, monitor_view="nonsense")
    whole = html.fromstring(
        demo_client.get(reverse("monitor", args=[adze.shoot_id, adze.pk])).content
    )
    assert len(whole.xpath("//img[@class='monitor-picture']")) == 4
    assert "It is no photograph" in text_of(whole, "//main")


def test_readings_travel_in_files(demo_client: Any, adze: Setup) -> None:
    send(demo_client, adze, source_k="studio tungsten", tint_cc="M8", exposing="skin")
    text = demo_client.get(reverse("setup-export", args=[adze.shoot_id, adze.pk])).content
    data = json.loads(text)
    assert data["setup"]["readings"] == readings(adze)
    assert data["setup"]["source_k"] == 3200
    data["setup"]["readings"][0]["stops"] = 99
    from fotonomy.exchange.errors import ExchangeError
    from fotonomy.exchange.setup_json import read_setup

    with pytest.raises(ExchangeError) as caught:
        read_setup(json.dumps(data).encode())
    assert caught.value.place == "$.setup.readings[0].stops"
    same = read_setup(text).setup
    assert same.intent.exposing is ExposureMethod.SKIN
    assert len(same.readings) == len(readings(adze))
    plan = json.loads(
        demo_client.get(reverse("plan-export", args=[adze.shoot_id, adze.pk])).content
    )
    assert plan["methods"]["chosen"] == "skin"
    assert {"looks_like_iso", "inside_stops", "floor_stops"} <= plan["noise"].keys()
    assert len(plan["meters"]) == 4


def test_white_balance_on_the_bench(demo_client: Any, adze: Setup) -> None:
    page = send(demo_client, adze, "white", source_k="household lamp", white_k="5600 K")
    assert "mired warmer than wanted" in text_of(page, "//section[@id='stage']")
    page = send(demo_client, adze, white_k="beige")
    assert "or a light" in text_of(page, "//*[@id='e-white_k']")


def test_a_typical_scene_leaves_a_metered_light_alone(demo_client: Any, adze: Setup) -> None:
    before = adze.light
    page = send(demo_client, adze, "level", scene="open_shade")
    adze.refresh_from_db()
    assert adze.light == before
    assert [r["name"] for r in readings(adze)][:2] == ["planks", "sky between roofs"]
    assert "The light stays as it was, EV 12.3." in text_of(page, "//section[@id='stage']")
    press = page.xpath("//p[@role='status']/button/@value")[0]
    page = send(demo_client, adze, "level", fix=press)
    adze.refresh_from_db()
    # One press, one step back.
    assert (adze.light["ev100"], adze.white_k) == (12.0, 7500)
    assert not page.xpath("//p[@role='status']/button")


def test_light_by_its_name_says_its_span(demo_client: Any, adze: Setup) -> None:
    page = send(demo_client, adze, "light", light="Street at night")
    adze.refresh_from_db()
    # ANSI PH2.7-1986, from memory: bright night streets 7 to 8.
    assert adze.light["ev100"] == 7.5
    assert "Street at night is usually EV 7 to 8" in text_of(page, "//*[@id='messages']")
    page = send(demo_client, adze, "light", light="gloomy")
    assert "overcast" in text_of(page, "//*[@id='e-light']")
