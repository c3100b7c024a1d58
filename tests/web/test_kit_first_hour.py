"""Forms of the kit for somebody who fills them in for the first time."""

from typing import Any

import pytest
from lxml import html

from fotonomy.core.errors import RuleError
from fotonomy.core.notation.reading import parse_quantity
from fotonomy.core.units import STOP_UNITS
from fotonomy.kit.models import Body, Lens, Profile


def form_of(client: Any, sort: str) -> dict[str, str]:
    """The fields of a new thing's form as they stand there."""
    page = html.fromstring(client.get(f"/kit/{sort}/new/").content.decode())
    form = page.xpath("//form[contains(@class, 'sheet')]")[0]
    return {k: v for k, v in form.form_values() if k != "csrfmiddlewaretoken"}


def errors(answer: Any) -> list[str]:
    page = html.fromstring(answer.content.decode())
    return [one.text_content() for one in page.xpath("//p[@class='field-error']")]


def test_a_body_needs_name_sensor_and_rates_and_the_rest_is_filled_in(
    demo_client: Any, demo: Any
) -> None:
    given = {
        "name": "Little one", "formats-0-sensor_width_mm": "17.3",
        "formats-0-sensor_height_mm": "9.7", "formats-0-rates": "24, 25, 50, 100: 280",
        "formats-0-mb_s": "100",
    }  # fmt: skip
    answer = demo_client.post("/kit/body/new/", {**form_of(demo_client, "body"), **given})
    assert answer.status_code == 302, errors(answer)
    body = Body.objects.get(name="Little one")
    assert [(r["fps"], r["mb_s"]) for r in body.formats[0]["rates"]] == [
        (24, 100), (25, 100), (50, 100), (100, 280),
    ]  # fmt: skip
    assert body.formats[0]["name"] == "3840 × 2160"
    assert (body.iso_lowest, body.slowest_s, body.stabiliser_stops) == (100, 30.0, 0.0)
    page = html.fromstring(demo_client.get(f"/kit/body/{body.pk}/").content.decode())
    assert page.xpath("//input[@name='formats-0-rates']/@value") == ["24, 25, 50, 100: 280"]
    assert page.xpath("//input[@name='formats-0-mb_s']/@value") == ["100"]


def test_an_empty_body_is_told_what_it_needs_and_no_more(demo_client: Any, demo: Any) -> None:
    answer = demo_client.post("/kit/body/new/", form_of(demo_client, "body"))
    # Name, two measures of the sensor, frame rates.
    assert len(errors(answer)) == 4
    marked = html.fromstring(answer.content.decode()).xpath("//b[@class='needed']/../@for")
    assert {"id_name", "id_formats-0-sensor_width_mm", "id_formats-0-rates"} <= set(marked)


def test_a_lens_that_does_not_zoom_says_its_focal_length_once(demo_client: Any, demo: Any) -> None:
    given = {
        "name": "Old 35",
        "focal_shortest_mm": "35",
        "widest_f": "2",
        "transmission_stops": "1/3",
    }
    answer = demo_client.post("/kit/lens/new/", {**form_of(demo_client, "lens"), **given})
    assert answer.status_code == 302, errors(answer)
    lens = Lens.objects.get(name="Old 35")
    assert (lens.focal_longest_mm, lens.squeeze, lens.smallest_f) == (35.0, 1.0, 22.0)
    assert lens.transmission_stops == pytest.approx(1 / 3)
    emptied = {**form_of(demo_client, "lens"), **given, "name": "Old 35 b", "squeeze": "",
               "stabiliser_stops": "", "smallest_f": "", "transmission_stops": ""}  # fmt: skip
    assert demo_client.post("/kit/lens/new/", emptied).status_code == 302
    again = Lens.objects.get(name="Old 35 b")
    assert (again.squeeze, again.stabiliser_stops, again.smallest_f) == (1.0, 0.0, 22.0)


@pytest.mark.parametrize(
    ("text", "stops"),
    [("1/3", 1 / 3), ("1 2/3 stops", 5 / 3), ("-1/2", -0.5), ("−1 1/3", -4 / 3), ("3/4 stop", 0.75)],
)  # fmt: skip
def test_stops_are_typed_as_fractions(text: str, stops: float) -> None:
    assert parse_quantity("x", text, STOP_UNITS, (-5, 5), "stops") == pytest.approx(stops)


@pytest.mark.parametrize("text", ["1/0", "7/3 m", "1//3", "1 /", "2/5", "9 1/3"])
def test_what_is_no_fraction_of_stops_is_refused(text: str) -> None:
    with pytest.raises(RuleError):
        parse_quantity("x", text, STOP_UNITS, (-5, 5), "stops")


def test_one_more_line_asks_nothing_yet_and_has_the_focus(demo_client: Any, demo: Any) -> None:
    answer = demo_client.post(
        "/kit/body/new/", {**form_of(demo_client, "body"), "card_gb": "a lot", "more": "formats"}
    )
    assert answer.status_code == 200
    assert errors(answer) == []
    page = html.fromstring(answer.content.decode())
    assert page.xpath("//input[@autofocus]/@name") == ["formats-1-name"]
    assert page.xpath("//input[@name='card_gb']/@value") == ["a lot"]
    assert page.xpath("//input[@name='formats-1-bits']/@value") == ["10"]


def test_body_and_profile_are_linked_from_either_side(demo_client: Any, demo: Any) -> None:
    body = Body.objects.get(owner=demo.owner, name="Drone")
    given = {"name": "Flat two", "clip_percent": "95", "bodies": [body.pk]}
    answer = demo_client.post("/kit/profile/new/", {**form_of(demo_client, "profile"), **given})
    assert answer.status_code == 302, errors(answer)
    profile = Profile.objects.get(name="Flat two")
    assert profile in body.profiles.all()
    page = html.fromstring(demo_client.get(f"/kit/profile/{profile.pk}/").content.decode())
    assert page.xpath("//input[@name='bodies'][@checked]/@value") == [str(body.pk)]
    demo_client.post("/kit/undo/")
    assert not Profile.objects.filter(name="Flat two").exists()


def test_a_fold_with_a_mistake_in_it_stands_open(demo_client: Any, demo: Any) -> None:
    given = {**form_of(demo_client, "body"), "still_mp": "lots"}
    page = html.fromstring(demo_client.post("/kit/body/new/", given).content.decode())
    (fold,) = page.xpath("//details[contains(@class, 'form-fold')][@open]/summary")
    assert fold.text_content() == "Stills"
