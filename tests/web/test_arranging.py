"""The day arranged through the client: without scripts, as it goes, mangled."""

import json
from datetime import time
from typing import Any

import pytest
from django.urls import reverse

from fotonomy.shoots import history
from fotonomy.shoots.mapping import snapshot
from fotonomy.shoots.models import Shoot
from tests.web.test_days import ferry, page_of, words


def test_the_day_is_arranged_without_scripts(demo_client: Any, demo: Shoot) -> None:
    before = {row.pk: snapshot(row) for row in demo.setups.all()}
    address = reverse("day-arrange", args=[demo.pk, demo.first_day.pk])
    answer = demo_client.post(address, {"spare": "5", "light": "keep"}, follow=True)
    said = words(page_of(answer), "//*[@id='messages']")
    assert "Arranged: 10 of 10 setups have an hour. No other order fits more" in said
    assert "10 of 10 setups fit" in words(page_of(answer))
    assert "Nothing collides" in words(page_of(answer))
    # What was metered is kept, the other day is untouched, and it is one step.
    after = {row.pk: snapshot(row) for row in demo.setups.all()}
    assert all(after[key]["light"] == before[key]["light"] for key in before)
    assert demo.setups.get(code="8A").planned_time == time(19, 40)
    # The running order follows the hours.
    hours = [row.planned_time for row in demo.setups.filter(day=demo.first_day)]
    assert hours == sorted(hours)
    assert demo.changes.filter(of=None).count() == 1
    history.undo(demo)
    assert {row.pk: snapshot(row) for row in demo.setups.all()} == before


def test_what_is_pinned_stays_and_what_is_too_long_says_so(demo_client: Any, demo: Shoot) -> None:
    launch, ferry_row = demo.setups.get(code="5A"), ferry(demo)
    demo_client.post(launch.get_absolute_url(), {"pinned": "1"})
    demo_client.post(ferry_row.get_absolute_url(), {"shoot_min": "60"})
    address = reverse("day-arrange", args=[demo.pk, demo.first_day.pk])
    answer = demo_client.post(address, {"light": "keep"}, follow=True)
    said = words(page_of(answer), "//*[@id='messages']")
    # Dusk, from sunset to -8 degrees, lasts 44 minutes that day (ephem).
    assert (
        "6A Ferry lights over the estuary found no hour: its 1 h are longer than the 44 min of dusk"
        in said
    )
    assert demo.setups.get(code="5A").planned_time == time(15, 20)
    assert ferry(demo).planned_time is None
    assert "9 of 10 setups fit" in words(page_of(answer))


def test_the_search_is_told_as_it_goes_and_changes_nothing(demo_client: Any, demo: Shoot) -> None:
    before = {row.pk: snapshot(row) for row in demo.setups.all()}
    address = reverse("arrange-go", args=[demo.pk, demo.first_day.pk])
    answer = demo_client.get(f"{address}?scope=all&spare=0")
    lines = [json.loads(line) for line in b"".join(answer.streaming_content).splitlines()]
    assert lines[-1]["done"]
    assert lines[-1]["placed"] == lines[-1]["of"] == 12
    assert {row.pk: snapshot(row) for row in demo.setups.all()} == before
    # Stopped: the page sends the best it knows, with nothing signed.
    sent = {"scope": "all", "starts": json.dumps(lines[0]["starts"]), "said": "forged"}
    page = page_of(
        demo_client.post(
            reverse("day-arrange", args=[demo.pk, demo.first_day.pk]), sent, follow=True
        )
    )
    assert "the search was stopped" in words(page, "//*[@id='messages']")


@pytest.mark.parametrize(
    "starts", ["[]", "{", '{"x": 1}', '{"1": "soon"}', '{"1": 999999999}', '{"99999": 600}', "null"]
)
def test_a_mangled_order_is_never_a_fault(demo_client: Any, demo: Shoot, starts: str) -> None:
    address = reverse("day-arrange", args=[demo.pk, demo.first_day.pk])
    answer = demo_client.post(address, {"starts": starts, "spare": "lots"})
    assert answer.status_code == 302
