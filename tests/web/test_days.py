"""The Day page and the places, days and scenes of a shoot, through the client."""

from datetime import date, time
from typing import Any

import pytest
from django.urls import reverse
from lxml import html

from fotonomy.days.reschedule import Move, move
from fotonomy.shoots import history
from fotonomy.shoots.mapping import snapshot, spec_of
from fotonomy.shoots.models import Setup, Shoot
from fotonomy.shoots.packed_kit import packed_kit
from fotonomy.shoots.services.shoots import make_shoot


def day_address(shoot: Shoot, at: int = 0) -> str:
    return reverse("day", args=[shoot.pk, list(shoot.days.all())[at].pk])


def page_of(answer: Any) -> Any:
    return html.fromstring(answer.content.decode())


def words(page: Any, path: str = "//main") -> str:
    return " ".join(" ".join(node.text_content() for node in page.xpath(path)).split())


def ferry(demo: Shoot) -> Setup:
    return demo.setups.select_related("shoot", "place", "day", "body", "lens", "profile").get(
        code="6A"
    )


def test_the_demo_has_one_honest_conflict_over_two_days(demo_client: Any, demo: Shoot) -> None:
    first = page_of(demo_client.get(day_address(demo)))
    assert "9 of 10 setups fit" in words(first, "//*[@class='fits']")
    clashes = first.xpath("//*[@class='clashes']/li")
    assert len(clashes) == 1
    # Dusk ends at -8 degrees, 17:28 (ephem); shot from 17:05 for forty minutes.
    assert "It wants dusk, 16:44 to 17:28; 17 min of its 40 min are outside" in words(first)
    second = page_of(demo_client.get(day_address(demo, 1)))
    assert "2 of 2 setups fit" in words(second)
    assert "Nothing collides" in words(second)


def test_the_day_says_its_light(demo_client: Any, demo: Shoot) -> None:
    page = page_of(demo_client.get(day_address(demo)))
    said = words(page, "//aside[contains(@class, 'day-side')]")
    # Sun over 43.12 S 147.05 E on 5 June 2027 (ephem): rise 07:36, highest 12:10 at 24°, set 16:44.
    for line in ("sunrise 07:36", "highest 12:10, 24°", "sunset 16:44", "dark 18:26"):
        assert line in said
    assert "sun 07:36 to 16:44" in words(page, "//*[@class='day-facts']")


def test_the_setup_in_hand(demo_client: Any, demo: Shoot) -> None:
    launch = demo.setups.get(code="5A")
    page = page_of(demo_client.get(f"{day_address(demo)}?setup={launch.pk}"))
    said = words(page, "//*[@class='in-hand']")
    assert "camera looks 305°, sun 316°, 11° high" in said
    assert "back light, 11° off the lens" in said
    assert "Wants sun behind the subject: 11:10 to 16:32" in said
    assert page.xpath(
        "//a[contains(@class, 'block') and contains(@class, 'chosen')]/@data-setup"
    ) == [str(launch.pk)]


def test_a_move_takes_the_light_of_its_hour_and_is_one_step(demo_client: Any, demo: Shoot) -> None:
    row = ferry(demo)
    before = snapshot(row)
    answer = demo_client.post(
        day_address(demo), {"setup": row.pk, "starts": "1005", "light": "estimate"}, follow=True
    )
    page = page_of(answer)
    assert "10 of 10 setups fit" in words(page)
    said = words(page, "//*[@id='messages']")
    assert "At 16:45 it is" in said
    assert "brighter" in said
    row = ferry(demo)
    assert row.planned_time == time(16, 45)
    # As the sky has it: by so much as the estimate moved, from what was metered.
    spec = spec_of(row, packed_kit(demo))
    light = spec.daylight
    assert light is not None
    midnight = row.day.midnight(row.place.zone)
    moved = (
        light.at(midnight.replace(hour=16, minute=45)).ev100
        - light.at(midnight.replace(hour=17, minute=5)).ev100
    )
    assert spec.light.value == pytest.approx(3.1 + moved, abs=0.06)
    assert demo.changes.filter(of=None).count() == 1
    demo_client.post(reverse("day-step", args=[demo.pk, demo.first_day.pk, "undo"]))
    assert snapshot(ferry(demo)) == before
    demo_client.post(reverse("day-step", args=[demo.pk, demo.first_day.pk, "redo"]))
    assert ferry(demo).planned_time == time(16, 45)


def test_what_was_metered_can_be_kept(demo_client: Any, demo: Shoot) -> None:
    row = ferry(demo)
    demo_client.post(day_address(demo), {"setup": row.pk, "starts": "1005", "light": "keep"})
    moved = ferry(demo)
    assert moved.light == {"ev100": 3.1}
    assert (moved.iris, moved.nd_density) == (row.iris, row.nd_density)
    # The choice is remembered.
    page = page_of(demo_client.get(day_address(demo)))
    assert page.xpath("//input[@name='light' and @value='keep']/@checked")
    # Lamps keep their light whatever the sky does.
    forge = demo.setups.get(code="7A")
    demo_client.post(
        day_address(demo, 1), {"setup": forge.pk, "starts": "720", "light": "estimate"}
    )
    assert demo.setups.get(code="7A").light == forge.light


def test_a_setup_goes_to_another_place_day_and_length(demo_client: Any, demo: Shoot) -> None:
    row = ferry(demo)
    mast, sunday = demo.places.get(name="Mast"), demo.days.last()
    sent = {
        "setup": row.pk,
        "clock": "17.00",
        "minutes": "25 min",
        "place": mast.pk,
        "day": sunday.pk,
        "light": "keep",
    }
    demo_client.post(day_address(demo), sent)
    row = ferry(demo)
    assert (row.place, row.day, row.planned_time) == (mast, sunday, time(17))
    assert row.schedule["shoot_min"] == 25
    # An empty hour takes it off the hours; it stands in the list of those without.
    demo_client.post(day_address(demo, 1), {"setup": row.pk, "clock": "", "light": "keep"})
    page = page_of(demo_client.get(day_address(demo, 1)))
    assert "6A Ferry lights" in words(page, "//*[@class='unplaced']")


@pytest.mark.parametrize(
    ("sent", "said"),
    [({"clock": "tea time"}, "A time of day"), ({"minutes": "-5"}, "A time such as 20 min"),
     ({"minutes": "forever"}, "A time such as 20 min"), ({"starts": "many"}, "Minutes since midnight"),
     ({"starts": "9000"}, "An hour of this day"), ({"starts": "1800"}, "this day ends at 19:00"),
     ({"starts": "nan"}, "hour of this day")],
)  # fmt: skip
def test_a_wrong_move_is_said_beside_its_field_and_nothing_is_lost(
    demo_client: Any, demo: Shoot, sent: dict[str, str], said: str
) -> None:
    row = ferry(demo)
    before = snapshot(row)
    answer = demo_client.post(day_address(demo), {"setup": row.pk, **sent})
    assert answer.status_code == 422
    page = page_of(answer)
    assert said.lower() in words(page, "//*[@class='field-error']").lower()
    for name, text in sent.items():
        if name in ("clock", "minutes"):
            assert page.xpath(f"//input[@id='m-{name}']/@value") == [text]
    assert snapshot(ferry(demo)) == before


def test_a_move_to_what_is_not_there(demo_client: Any, demo: Shoot, stranger: Any) -> None:
    other = make_shoot(stranger, name="Elsewhere", date=date(2027, 1, 1))
    row = ferry(demo)
    for sent in ({"place": other.main_place.pk}, {"day": other.first_day.pk}, {"place": 10**12}):
        answer = demo_client.post(day_address(demo), {"setup": row.pk, **sent})
        assert answer.status_code == 422
    assert (
        demo_client.post(day_address(demo), {"setup": 10**12, "starts": "600"}).status_code == 302
    )
    assert demo_client.post(day_address(demo), {"setup": "x", "starts": "600"}).status_code == 302


def test_keys_of_one_gesture_are_one_step(demo: Shoot) -> None:
    row = ferry(demo)
    for minutes in (1020, 1015, 1010):
        move(row, Move(starts_min=minutes, estimate=False, gesture="day-1"))
    assert demo.changes.filter(of=None).count() == 1
    history.undo(demo)
    assert ferry(demo).planned_time == row.planned_time


def test_a_shoot_without_degrees_and_polar_days(client: Any, stranger: Any) -> None:
    client.force_login(stranger)
    shoot = make_shoot(stranger, name="Nowhere", date=date(2027, 6, 5))
    client.post(f"/shoots/{shoot.pk}/setups/new/")
    row = shoot.setups.get()
    client.post(row.get_absolute_url(), {"planned_time": "12:00", "wants": "golden"})
    page = page_of(client.get(reverse("days", args=[shoot.pk]), follow=True))
    assert "Give the place its latitude and longitude" in words(page)
    assert "not known without where the place is" in words(page)
    polar = shoot.places.get()
    for degrees, note in ((78.2, "The sun does not set"), (-78.2, "The sun does not rise")):
        polar.latitude_deg, polar.longitude_deg = degrees, 15.6
        polar.save()
        page = page_of(client.get(reverse("days", args=[shoot.pk]), follow=True))
        assert note in words(page)
    polar.latitude_deg = -78.2
    assert "not on this day" in words(page) or "has no golden hour" in words(page)


def test_a_day_with_a_change_of_clock(client: Any, stranger: Any) -> None:
    client.force_login(stranger)
    shoot = make_shoot(stranger, name="Spring", date=date(2027, 3, 28), latitude_deg=54.1,
                       longitude_deg=-3.2, time_zone="Europe/London")  # fmt: skip
    client.post(f"/shoots/{shoot.pk}/setups/new/")
    row = shoot.setups.get()
    client.post(row.get_absolute_url(), {"planned_time": "01:30"})
    page = page_of(client.get(reverse("days", args=[shoot.pk]), follow=True))
    assert "it has 23 hours" in words(page)


def test_two_hundred_setups_on_a_day(demo_client: Any, demo: Shoot) -> None:
    row = demo.setups.get(code="4B")
    for at in range(190):
        row.pk, row.position = None, 100 + at
        row.save(force_insert=True)
    answer = demo_client.get(day_address(demo))
    assert answer.status_code == 200
    assert "of 200 setups fit" in words(page_of(answer))


def test_a_broken_setup_does_not_take_the_day_with_it(demo_client: Any, demo: Shoot) -> None:
    Setup.objects.filter(pk=ferry(demo).pk).update(schedule={"wants": "teatime"})
    answer = demo_client.get(day_address(demo))
    assert answer.status_code == 200
    assert "6A Ferry lights over the estuary cannot be planned" in words(page_of(answer))


def test_place_and_day_are_chosen_on_the_bench(demo_client: Any, demo: Shoot) -> None:
    row = demo.setups.get(code="4B")
    page = page_of(demo_client.get(row.get_absolute_url()))
    assert len(page.xpath("//select[@name='place']/option")) == 5
    mast = demo.places.get(name="Mast")
    demo_client.post(
        row.get_absolute_url(), {"place": str(mast.pk), "looks_deg": "NW", "shoot_min": "1 h"}
    )
    row.refresh_from_db()
    assert (row.place, row.looks_deg, row.schedule["shoot_min"]) == (mast, 315, 60)
    answer = demo_client.post(row.get_absolute_url(), {"place": "99999"})
    assert answer.status_code == 422


def test_a_way_that_is_too_long_is_drawn_so(demo_client: Any, demo: Shoot) -> None:
    address = day_address(demo)
    assert "way-line short" not in demo_client.get(address).content.decode()
    # The yard is left at 14:55 and the jetty begun at 15:10: a quarter of an hour.
    demo.ways.filter(start__name="Yard and saw", end__name="Outer jetty").update(minutes=40)
    page = demo_client.get(address).content.decode()
    assert page.count("way-line short") == 1
    assert "No time for the way to 5A" in page
