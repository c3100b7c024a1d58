"""Places, ways, days and scenes of a shoot, and setups from an outline, through the client."""

from datetime import time
from typing import Any

import pytest
from django.urls import reverse

from fotonomy.core.spec.schedule import Wanted
from fotonomy.shoots import history
from fotonomy.shoots.history_rows import part_snapshot
from fotonomy.shoots.mapping import spec_of
from fotonomy.shoots.models import Day, LightReading, Place, Shoot, Way
from fotonomy.shoots.packed_kit import packed_kit
from tests.web.test_days import day_address, ferry, page_of, words


def test_a_place_is_added_changed_and_deleted_with_its_setups(
    demo_client: Any, demo: Shoot
) -> None:
    sent = {"name": "Lock gate", "latitude_deg": "43.13 S", "longitude_deg": "147.06 E", "height_m": "12 ft",
            "time_zone": "Australia/Hobart", "mains_hz": "50", "horizon": "NW 12\n0 3; 90 1.5",
            "own_ev100": "4 EV"}  # fmt: skip
    assert demo_client.post(reverse("part-new", args=[demo.pk, "place"]), sent).status_code == 302
    place = Place.objects.get(name="Lock gate")
    assert place.horizon == [[0, 3], [90, 1.5], [315, 12]]
    assert place.height_m == pytest.approx(3.66, abs=0.01)
    assert place.own_ev100 == 4
    form = page_of(demo_client.get(reverse("part-edit", args=[demo.pk, "place", place.pk])))
    assert form.xpath("//textarea[@name='horizon']")[0].text.split() == [
        "0",
        "3",
        "90",
        "1.5",
        "315",
        "12",
    ]
    mill = demo.places.first()
    answer = demo_client.post(reverse("part-delete", args=[demo.pk, "place", mill.pk]))
    assert answer.status_code == 302
    assert not Place.objects.filter(pk=mill.pk).exists()
    moved = demo.setups.get(code="1A")
    assert moved.place.name == "Yard and saw"
    assert not Way.objects.filter(start=mill.pk).exists()
    # One step brings back the place, the ways to it, and the setups that stood there.
    demo_client.post(
        reverse("day-step", args=[demo.pk, demo.first_day.pk, "undo"]), {"to": "places"}
    )
    back = Place.objects.get(pk=mill.pk)
    assert part_snapshot(back) == part_snapshot(mill)
    assert demo.setups.get(code="1A").place_id == mill.pk
    assert Way.objects.filter(start=mill.pk).count() == 1


def test_the_last_place_and_the_last_day_stay(demo_client: Any, demo: Shoot) -> None:
    sunday, saturday = demo.days.last(), demo.days.first()
    demo_client.post(reverse("part-delete", args=[demo.pk, "day", sunday.pk]))
    assert demo.setups.get(code="8A").day_id == saturday.pk
    answer = demo_client.post(
        reverse("part-delete", args=[demo.pk, "day", saturday.pk]), follow=True
    )
    assert "A shoot needs one of these" in answer.content.decode()
    assert Day.objects.filter(pk=saturday.pk).exists()


@pytest.mark.parametrize(
    ("field", "text", "said"),
    [("horizon", "10 5\n10 8", "would cross itself"), ("horizon", "10", "a direction and a height"),
     ("horizon", "north 5", "a direction"), ("horizon", "10 99", "a direction and a height"),
     ("time_zone", "Mars", "time zone name"), ("time_zone", "", "required"),
     ("latitude_deg", "95", "degrees from"), ("own_ev100", "bright", "EV at ISO 100"),
     ("opens", "08:00", "Both hours"), ("opens", "noon", "A time of day"), ("height_m", "far", "metres")],
)  # fmt: skip
def test_a_wrong_place_says_why_and_keeps_what_was_typed(
    demo_client: Any, demo: Shoot, field: str, text: str, said: str
) -> None:
    place = demo.places.get(name="Mast")
    page = page_of(demo_client.get(reverse("part-edit", args=[demo.pk, "place", place.pk])))
    sent = {f.name: f.value or "" for f in page.xpath("//form[contains(@class, 'columns-two')]//*[@name]")
            if f.get("type") != "submit" and f.name not in ("find_place", "csrfmiddlewaretoken")}  # fmt: skip
    sent.pop("find_place", None)
    answer = demo_client.post(
        reverse("part-edit", args=[demo.pk, "place", place.pk]), {**sent, field: text}
    )
    assert answer.status_code == 422
    assert said.lower() in words(page_of(answer), "//*[@class='field-error']").lower()
    assert text in answer.content.decode()


def test_a_day_comes_once(demo_client: Any, demo: Shoot) -> None:
    sent = {"date": "2027-06-05", "call": "07:00", "wrap": "19:00"}
    answer = demo_client.post(reverse("part-new", args=[demo.pk, "day"]), sent)
    assert "in the shoot already" in answer.content.decode()
    demo_client.post(reverse("part-new", args=[demo.pk, "day"]), {**sent, "date": "2027-06-07"})
    assert [day.date.day for day in demo.days.all()] == [5, 6, 7]


def test_ways_are_typed_or_worked_out(demo_client: Any, demo: Shoot) -> None:
    mill, mast = demo.places.first(), demo.places.get(name="Mast")
    name = f"way-{mill.pk}-{mast.pk}"
    demo_client.post(reverse("ways", args=[demo.pk]), {name: "1 h"})
    assert Way.objects.get(start=mill, end=mast).minutes == 60
    answer = demo_client.post(reverse("ways", args=[demo.pk]), {name: "-3"})
    assert answer.status_code == 422
    assert "minutes from 0" in answer.content.decode().lower()
    assert Way.objects.get(start=mill, end=mast).minutes == 60
    demo_client.post(reverse("ways", args=[demo.pk]), {name: ""})
    assert not Way.objects.filter(start=mill, end=mast).exists()


def test_what_was_metered_bends_the_light_of_its_place(demo_client: Any, demo: Shoot) -> None:
    jetty, launch = demo.places.get(name="Outer jetty"), demo.setups.get(code="5A")
    address = reverse("metered", args=[demo.pk, jetty.pk])
    demo_client.post(address, {"at": "2027-06-05T15:20", "ev100": "10.3"})
    reading = LightReading.objects.get(place=jetty)
    assert reading.at.isoformat() == "2027-06-05T05:20:00+00:00"
    page = page_of(demo_client.get(f"{day_address(demo)}?setup={launch.pk}"))
    said = words(page, "//*[@class='in-hand']")
    assert "you metered 10.3 at 15:20" in said
    assert "10.3 clear" in said
    for wrong in ({"at": "soon", "ev100": "10"}, {"at": "2027-06-05T15:20", "ev100": "dim"}):
        answer = demo_client.post(address, wrong)
        assert answer.status_code == 422
        assert "Not kept" in answer.content.decode()
    demo_client.post(address, {"drop": reading.pk})
    assert not LightReading.objects.filter(place=jetty).exists()


def test_scenes_and_their_setups(demo_client: Any, demo: Shoot) -> None:
    bench = demo.setups.get(code="4B")
    demo_client.post(bench.get_absolute_url(), {"in_scene": str(demo.scenes.get(code="5").pk)})
    bench.refresh_from_db()
    assert str(bench.scene) == "5 The launch"
    demo_client.post(reverse("part-delete", args=[demo.pk, "scene", bench.scene_id]))
    bench.refresh_from_db()
    assert bench.scene is None
    demo_client.post(
        reverse("day-step", args=[demo.pk, demo.first_day.pk, "undo"]), {"to": "places"}
    )
    bench.refresh_from_db()
    assert str(bench.scene) == "5 The launch"


OUTLINE = "9 Low water — Mud and keels\n  Keels in the mud, wide\n  9C Hand on a keel, close, macro\n4 A plank is shaped\n  - Chips on the floor, detail\nThe end"


def test_an_outline_is_shown_and_then_made_in_one_step(demo_client: Any, demo: Shoot) -> None:
    address = reverse("outline", args=[demo.pk])
    page = page_of(demo_client.post(address, {"outline": OUTLINE}))
    rows = [" ".join(row.text_content().split()) for row in page.xpath("//tbody/tr")]
    assert len(rows) == 3
    assert rows[0].startswith("9 Low water next letter Keels in the mud")
    assert page.xpath("//select[@name='size-1']/option[@selected]/@value") == ["close"]
    assert page.xpath("//select[@name='kind-1']/option[@selected]/@value") == ["macro"]
    assert demo.setups.count() == 12
    # One is unticked, one gets another kind; the rest is as guessed.
    sent = {"outline": OUTLINE, "make": "1", "take-0": "1", "kind-0": "night", "size-0": "wide",
            "kind-1": "macro", "size-1": "close", "take-2": "1", "kind-2": "real_time", "size-2": "detail"}  # fmt: skip
    answer = demo_client.post(address, sent, follow=True)
    assert "2 setups made" in answer.content.decode()
    keels, chips = (
        demo.setups.get(title="Keels in the mud"),
        demo.setups.get(title="Chips on the floor"),
    )
    assert (keels.code, keels.kind, keels.shot_size, str(keels.scene)) == (
        "9A",
        "night",
        "wide",
        "9 Low water",
    )
    # Scene 4 is known: it gets the next free letter; "The end" is a scene of its own.
    assert (chips.code, str(chips.scene)) == ("4D", "4 A plank is shaped")
    assert [scene.code for scene in demo.scenes.all()][-2:] == ["9", "10"]
    # Each can be planned, with the gear of the last one.
    last = demo.setups.get(code="8A")
    assert keels.body == last.body
    assert demo_client.get(keels.get_absolute_url()).status_code == 200
    assert demo.changes.filter(of=None).count() == 1
    history.undo(demo)
    assert (demo.setups.count(), demo.scenes.count()) == (12, 8)
    history.redo(demo)
    assert demo.setups.get(title="Keels in the mud").scene.title == "Low water"


@pytest.mark.parametrize("text", ["", "   ", "\n".join(["  - shot"] * 201), "x" * 20001])
def test_an_outline_that_makes_nothing_keeps_what_was_typed(
    demo_client: Any, demo: Shoot, text: str
) -> None:
    answer = demo_client.post(reverse("outline", args=[demo.pk]), {"outline": text, "make": "1"})
    assert answer.status_code == 422
    assert page_of(answer).xpath("//*[@class='field-error']")
    assert text.strip()[:50] in answer.content.decode()
    assert demo.setups.count() == 12


def test_an_hour_in_an_outline_is_wished_and_arranged_within_its_tolerance(
    demo_client: Any, demo: Shoot
) -> None:
    text = "9 The harbour\n  9A Harbour master at 17:20 ±20 min\n  9B Bell, close, at 12:05"
    address = reverse("outline", args=[demo.pk])
    page = page_of(demo_client.post(address, {"outline": text}))
    chosen = [
        one.text for one in page.xpath("//select[starts-with(@name, 'wants')]/option[@selected]")
    ]
    assert chosen == ["at 17:20 ±20 min", "at 12:05 ±15 min"]
    # The second is given other light after all.
    sent = {"outline": text, "make": "1"}
    for k, wants in enumerate(("fixed", "daylight")):
        sent |= {f"take-{k}": "1", f"kind-{k}": "real_time", f"size-{k}": "", f"wants-{k}": wants}
    demo_client.post(address, sent)
    master, bell = (demo.setups.get(code=code) for code in ("9A", "9B"))
    schedule = spec_of(master, packed_kit(demo)).schedule
    assert (schedule.wants, schedule.wants_at_min) == (Wanted.FIXED, 1040)
    assert schedule.wants_within_min == 20
    assert spec_of(bell, packed_kit(demo)).schedule.wants is Wanted.DAYLIGHT
    demo_client.post(reverse("day-arrange", args=[demo.pk, master.day_id]), {"spare": "5"})
    master.refresh_from_db()
    assert time(17, 0) <= master.planned_time <= time(17, 40)
    # On the bench it may be typed as people say it; nonsense stands beside its field.
    demo_client.post(master.get_absolute_url(), {"wants_within_min": "sharp"})
    master.refresh_from_db()
    assert spec_of(master, packed_kit(demo)).schedule.wants_within_min == 2
    answer = demo_client.post(master.get_absolute_url(), {"wants_within_min": "soon"})
    said = page_of(answer).xpath("//*[@id='f-wants_within_min']/..//*[contains(@class, 'error')]")
    assert answer.status_code == 422
    assert "20 min" in said[0].text_content()


def test_a_scene_without_its_wide_is_said(demo_client: Any, demo: Shoot) -> None:
    page = page_of(demo_client.get(reverse("places", args=[demo.pk])))
    said = words(page, "//table[.//th[text()='Covered by']]")
    assert "2 The steam box" in said
    assert said.count("no wide: an editor cannot show where it happens") == 2
    steam = demo.setups.get(code="2A")
    demo_client.post(steam.get_absolute_url(), {"shot_size": "wide"})
    page = page_of(demo_client.get(reverse("places", args=[demo.pk])))
    assert words(page).count("no wide: an editor") == 1


def test_a_place_is_not_undone_from_under_its_setups(demo_client: Any, demo: Shoot) -> None:
    sent = {"name": "Weir", "height_m": "0", "time_zone": "Australia/Hobart", "mains_hz": "50"}
    demo_client.post(reverse("part-new", args=[demo.pk, "place"]), sent)
    step, weir = demo.changes.last(), Place.objects.get(name="Weir")
    demo_client.post(
        day_address(demo), {"setup": ferry(demo).pk, "place": weir.pk, "light": "keep"}
    )
    address = reverse("day-step", args=[demo.pk, demo.first_day.pk, "undo"])
    answer = demo_client.post(address, {"step": step.pk}, follow=True)
    assert "Setups stand there meanwhile: move them first" in answer.content.decode()
    assert ferry(demo).place == weir
