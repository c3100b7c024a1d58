"""What takes teach on the page: counts, offers taken into the kit and undone there, and by whom."""

from typing import Any

import pytest
from django.contrib.auth.models import User
from django.urls import reverse

from fotonomy.core.traced_numbers import plain
from fotonomy.kit import history as kit_history
from fotonomy.kit.models import Body, Lens
from fotonomy.shoots.models import LightReading, Setup, Shoot
from fotonomy.shoots.services.crew import name_member
from tests.web.test_crew import entered
from tests.web.test_field import logged

pytestmark = pytest.mark.usefixtures("nothing_shot_yet")


def page(client: Any, shoot: Shoot) -> tuple[Any, str]:
    answer = client.get(reverse("teaching", args=[shoot.pk]))
    return answer.context["v"], answer.content.decode()


def take(client: Any, shoot: Shoot, sort: str, key: object) -> str:
    address = reverse("teaching-take", args=[shoot.pk])
    return client.post(address, {"sort": sort, "key": key}, follow=True).content.decode()


def many(row: Setup, count: int, noisy: int = 0, **done: str) -> None:
    for number in range(count):
        logged(row, uid=f"{done}-{number}", differed=done,
               why=["too noisy"] if number < noisy else [])  # fmt: skip


def test_a_ceiling_is_offered_taken_and_undone_in_the_kit(
    demo_client: Any, demo: Shoot, launch: Setup
) -> None:
    body = launch.body
    before = body.iso_ceiling
    higher = str(before * 2)
    many(launch, 9, iso=higher)
    assert page(demo_client, demo)[0].offers == ()
    assert "the takes do not speak" in take(demo_client, demo, "ceiling", body.pk).lower()
    logged(launch, uid="tenth", differed={"iso": higher})
    view, text = page(demo_client, demo)
    (offer,) = view.offers
    assert offer.what == f"Raise the ISO ceiling of {body} from {before} to {higher}"
    assert "10 of 10 takes at and over it were kept: between 72 and 100 %" in plain(offer.why)
    assert "lie over the ceiling now, and 0 would" in offer.changes
    assert "ISO, by body and profile" in text
    said = take(demo_client, demo, "ceiling", body.pk)
    assert f"is {higher} now" in said
    body.refresh_from_db()
    assert body.iso_ceiling == before * 2
    assert page(demo_client, demo)[0].offers == ()
    kit_history.undo(demo.owner)
    body.refresh_from_db()
    assert body.iso_ceiling == before


def test_the_method_by_hand_is_offered_and_put_back(
    demo_client: Any, demo: Shoot, launch: Setup
) -> None:
    Setup.objects.filter(pk=launch.pk).update(support="hand")
    Body.objects.update(stabiliser_stops=0)
    Lens.objects.update(stabiliser_stops=0)
    Shoot.objects.filter(pk=demo.pk).update(handheld="flat_200")
    for number in range(12):
        logged(launch, uid=f"h{number}", differed={"shutter": "1/100"})
    view, text = page(demo_client, demo)
    assert [plain(one.words) for one in view.methods] == ["12 of 12", "12 of 12", "0 of 0"]
    (offer,) = view.offers
    assert offer.key == "one_over_focal"
    assert offer.changes == "0 takes lie within the limit now, 12 would"
    assert "Held by hand, by lens" in text
    assert "goes by 1 over focal length now" in take(demo_client, demo, "method", offer.key)
    assert page(demo_client, demo)[0].offers == ()
    take(demo_client, demo, "method", "flat_200")
    assert Shoot.objects.get(pk=demo.pk).handheld == "flat_200"


@pytest.mark.parametrize(("sort", "key"), [("", ""), ("ceiling", "x"), ("method", "cosy"),
                                           ("ceiling", "9999999999999999999999")])  # fmt: skip
def test_no_offer_is_said(demo_client: Any, demo: Shoot, sort: str, key: str) -> None:
    assert "That is no offer" in take(demo_client, demo, sort, key) or key.isdigit()


def test_only_the_owner_moves_the_kit_and_the_crew_sees_its_shoot_alone(
    demo: Shoot, launch: Setup
) -> None:
    many(launch, 12, iso=str(launch.body.iso_ceiling * 2))
    mate = User.objects.create_user("mate")
    name_member(demo, "mate", "plans")
    client = entered(mate)
    view, text = page(client, demo)
    assert view.shoots == 1
    assert view.offers == ()
    assert "Do it" not in text
    assert client.post(reverse("teaching-take", args=[demo.pk]),
                       {"sort": "ceiling", "key": launch.body.pk}).status_code == 403  # fmt: skip
    launch.body.refresh_from_db()
    assert launch.body.iso_ceiling < launch.body.iso_ceiling * 2


def test_light_that_was_read_is_drawn_and_grouped(demo_client: Any, demo: Shoot) -> None:
    view, _ = page(demo_client, demo)
    count = LightReading.objects.filter(place__shoot=demo).count()
    assert view.light.count("<circle") == count > 0
    assert sum(int(line.split(": ")[1].split(" ")[0]) for line in view.light_lines) == count
    LightReading.objects.all().delete()
    view, text = page(demo_client, demo)
    assert view.light == ""
    assert "No light was read yet" in text
