"""Dangers: said once before a person plans the first of them, and always on the card.

What is dangerous is common practice of the trade, no source; twilight as the Astronomical Almanac
counts it (civil: the sun six degrees down).
"""

from datetime import time
from typing import Any

import pytest
from django.contrib.auth.models import User
from django.urls import reverse

from fotonomy.core.findings.safety import DANGERS, safety_of
from fotonomy.core.gear.support import Support
from fotonomy.core.spec.kind import Kind
from fotonomy.shoots.mapping import spec_of
from fotonomy.shoots.models import SafetyTold, Setup, Shoot
from fotonomy.shoots.packed_kit import packed_kit
from fotonomy.shoots.services.safety import told, untold
from tests.core.examples import setup
from tests.web.test_crew import entered
from tests.web.test_crew import mate as mate


def put_before(page: Any) -> bool:
    """True where a page puts the caution about filming from a car before the reader."""
    return 'name="caution" value="rolling"' in page.content.decode()


def ids(row: Setup) -> list[str]:
    row = Setup.objects.select_related("shoot", "place", "day", "body", "lens", "profile").get(
        pk=row.pk
    )
    return [one.id for one in safety_of(spec_of(row, packed_kit(row.shoot)))]


@pytest.fixture
def careful(demo: Shoot) -> Shoot:
    """The demo of somebody who was told of nothing yet."""
    SafetyTold.objects.all().delete()
    return demo


def test_the_hour_at_the_place_brings_the_caution_of_the_dark(demo: Shoot, adze: Setup) -> None:
    """5 June 2027 at 43.12 S 147.05 E: sunset 16:44, civil twilight ends 17:15 (skyfield)."""
    for clock, dark in ((time(13, 45), False), (time(17, 0), False), (time(17, 30), True)):
        Setup.objects.filter(pk=adze.pk).update(planned_time=clock)
        assert ("dark" in ids(adze)) is dark
    # A night setup has words of its own about the dark: it is not said twice.
    Setup.objects.filter(pk=adze.pk).update(kind="night")
    assert ids(adze) == ["night"]
    Setup.objects.filter(pk=adze.pk).update(planned_time=None)
    assert "dark" not in ids(adze)


def test_every_danger_has_an_id_of_the_list() -> None:
    risky = [setup(kind=Kind.ROLLING), setup(support=Support.DRONE), setup(title="Forge"),
             setup(nd_density=2.8), setup(lamp_hz=50.0)]  # fmt: skip
    found = {one.id for spec in risky for one in safety_of(spec)}
    assert found == {"rolling", "aerial", "fire", "sun", "flashes"}
    assert found < set(DANGERS)
    # A car's mount brings the words of filming from a car once, not twice.
    both = [one.id for one in safety_of(setup(kind=Kind.ROLLING, support=Support.VEHICLE))]
    assert both == ["rolling"]


def test_a_danger_is_said_before_the_first_and_then_no_more(
    careful: Shoot, demo_client: Any, adze: Setup
) -> None:
    address = adze.get_absolute_url()
    assert 'id="dangers" aria-label="Safety" hidden' in demo_client.get(address).content.decode()
    headers = {"X-Fotonomy-Fragment": "wide"}
    answer = demo_client.post(address, {"kind": "rolling"}, headers=headers).content.decode()
    assert 'id="dangers" aria-label="Safety">' in answer
    assert "Nobody films while driving" in answer
    assert "Local law" in answer
    sent = {"caution": ["rolling", "sun", "nonsense"]}
    demo_client.post(reverse("safety-told", args=[careful.pk, adze.pk]), sent)
    # Only what this setup brings was read.
    assert list(SafetyTold.objects.values_list("caution", flat=True)) == ["rolling"]
    assert not put_before(demo_client.get(address))
    card = demo_client.get(reverse("field-card", args=[careful.pk, adze.pk])).content.decode()
    assert "Nobody films while driving" in card


def test_each_person_is_told_and_who_only_looks_is_not(
    careful: Shoot, demo_client: Any, adze: Setup, mate: User
) -> None:
    from fotonomy.shoots.services.crew import name_member

    trolley = careful.setups.get(code="3A")
    told(careful.owner, DANGERS)
    assert untold(careful.owner, safety_of(setup(kind=Kind.ROLLING))) == []
    assert not put_before(demo_client.get(trolley.get_absolute_url()))
    name_member(careful, "mate", "sees")
    client = entered(mate)
    assert not put_before(client.get(trolley.get_absolute_url()))
    name_member(careful, "mate", "plans")
    assert put_before(client.get(trolley.get_absolute_url()))
    told(mate, ["rolling", "rolling"])
    told(mate, ["rolling"])
    assert not put_before(client.get(trolley.get_absolute_url()))


def test_the_demo_s_person_was_told(demo: Shoot) -> None:
    assert SafetyTold.objects.filter(user=demo.owner).count() == len(DANGERS)
    assert untold(demo.owner, safety_of(setup(kind=Kind.AERIAL))) == []
