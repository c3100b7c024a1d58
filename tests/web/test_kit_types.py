"""Forms of the kit: a thing's sort and the fields of that sort, sizes of a sensor, where glass fits."""

from typing import Any

import pytest
from django.urls import reverse

from fotonomy.kit.models import Accessory, Body, Filter, Lens
from tests.web.test_bench import text_of
from tests.web.test_days import page_of


def fields(page: Any) -> dict[str, str]:
    """What a browser would send of the sheet, without the presses."""
    form = next(f for f in page.forms if f.xpath(".//input[@name='name']"))
    return {name: value for name, value in form.form_values() if name != "csrfmiddlewaretoken"}


def shown(page: Any) -> set[str]:
    seen = page.xpath("//form[contains(@class, 'sheet')]//*[self::input or self::select]"
                      "[not(@type='hidden')]/@name")  # fmt: skip
    return set(seen)


def test_another_sort_brings_its_fields_and_what_was_typed_stays(demo_client: Any) -> None:
    url = reverse("gear-new", args=["accessory"])
    page = page_of(demo_client.get(url))
    assert shown(page) == {"name", "lens_mm", "filter_mm"}
    typed = fields(page) | {"name": "Thing", "lens_mm": "62", "as": "remote"}
    answer = demo_client.post(url, typed)
    assert answer.status_code == 200
    page = page_of(answer)
    assert shown(page) == {
        "name", "counting", "step_s", "waits_first", "most_count", "unlimited", "sure_count",
    }  # fmt: skip
    assert not page.xpath("//*[@class='field-error']")
    again = fields(page)
    assert (again["name"], again["sort"], again["lens_mm"]) == ("Thing", "remote", "62")
    # A new remote begins with what is usual, as if it had been asked for first.
    usual = fields(page_of(demo_client.get(f"{url}?sort=remote")))
    assert {name: again[name] for name in usual if name != "name"} == {
        name: text for name, text in usual.items() if name != "name"
    }
    # Back again: the thread is still there, and nothing was kept on the way.
    back = fields(page_of(demo_client.post(url, again | {"as": "step_ring"})))
    assert back["lens_mm"] == "62"
    assert not Accessory.objects.filter(name="Thing").exists()
    demo_client.post(url, back | {"filter_mm": "77"})
    made = Accessory.objects.get(name="Thing")
    assert (made.sort, made.lens_mm, made.filter_mm, made.step_s) == ("step_ring", 62, 77, 1)


@pytest.mark.parametrize(
    ("kind", "needed"),
    [("nd", {"density"}), ("variable_nd", {"density", "most_density"}),
     ("polariser", {"loss_stops"}), ("diffusion", {"loss_stops"}), ("other", {"loss_stops"})],
)  # fmt: skip
def test_a_filter_asks_for_what_its_kind_has(demo_client: Any, kind: str, needed: set[str]) -> None:
    url = reverse("gear-new", args=["filter"])
    sent = fields(page_of(demo_client.get(url))) | {"name": "New glass", "as": kind}
    page = page_of(demo_client.post(url, sent))
    assert shown(page) == {"name", "mount", "thread_mm"} | needed
    pressed = page.xpath("//fieldset[@class='types']//button[@aria-pressed='true']/@value")
    assert pressed == [kind]


def test_a_stored_filter_becomes_another_kind_and_forgets_the_numbers_it_had(
    demo_client: Any,
) -> None:
    row = Filter.objects.create(
        owner=Lens.objects.filter(name="Wide 20").get().owner, name="Spare", kind="nd",
        density=0.9, thread_mm=77,
    )  # fmt: skip
    url = reverse("gear-edit", args=["filter", row.pk])
    page = page_of(demo_client.post(url, fields(page_of(demo_client.get(url))) | {"as": "other"}))
    assert demo_client.post(url, fields(page) | {"loss_stops": "0.3"}).status_code == 302
    row.refresh_from_db()
    assert (row.kind, row.density, row.loss_stops) == ("other", None, 0.3)


def test_a_sensor_s_sizes_go_into_every_format_by_its_pixels(demo_client: Any) -> None:
    row = Body.objects.get(name="A-cam")
    url = reverse("gear-edit", args=["body", row.pk])
    sent = fields(page_of(demo_client.get(url))) | {
        "preset": "four_thirds",
        "formats-0-width_px": "4096",
    }
    answer = demo_client.post(url, sent)
    assert answer.status_code == 200
    now = fields(page_of(answer))
    # 17.3 mm across by the name of the format; 4096 × 2160 pixels make it 17.3 × 2160 / 4096 high.
    assert now["formats-0-sensor_width_mm"] == "17.3"
    assert float(now["formats-0-sensor_height_mm"]) == pytest.approx(9.12, abs=0.005)
    row.refresh_from_db()
    assert row.formats[0]["sensor_width_mm"] != 17.3
    bad = fields(page_of(demo_client.post(url, sent | {"preset": "vast"})))
    assert bad["formats-0-sensor_width_mm"] == sent["formats-0-sensor_width_mm"]


def test_where_a_filter_fits_is_said_beside_its_thread(demo_client: Any) -> None:
    url = reverse("gear-new", args=["filter"])
    sent = fields(page_of(demo_client.get(url))) | {
        "name": "Tiny", "density": "0.9", "mount": "thread", "thread_mm": "49", "fits": "1",
    }  # fmt: skip
    page = page_of(demo_client.post(url, sent))
    assert "smaller than the lens's" in text_of(page, "//section[@class='seats']")
    page = page_of(demo_client.post(url, sent | {"thread_mm": "77"}))
    said = text_of(page, "//section[@class='seats']")
    assert "● on its own thread" in said
    assert "● on Step ring 67 to 77" in said
    page = page_of(demo_client.post(url, sent | {"thread_mm": "wide"}))
    assert "●" not in text_of(page, "//section[@class='seats']")
    del sent["fits"]
    kept = demo_client.post(url, sent, follow=True)
    assert "It goes on no lens of yours" in kept.content.decode()
