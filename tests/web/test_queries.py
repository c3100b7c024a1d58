"""What must not grow with the number of setups: queries, and what has to be planned again."""

from collections.abc import Callable
from typing import Any

import pytest
from django.db import connection
from django.test.utils import CaptureQueriesContext
from django.urls import reverse

from fotonomy.shoots import history, summaries
from fotonomy.shoots.models import Setup, Shoot
from fotonomy.shoots.services import setups as services

Action = Callable[[Any, Shoot], None]


def copies(row: Setup, count: int) -> None:
    """So many more setups of the same kind, with the same gear."""
    pieces, things = list(row.filters.all()), list(row.things.all())
    for at in range(count):
        row.pk, row.position = None, 1000 + at
        row.save(force_insert=True)
        row.put_filters(pieces)
        row.put_things(things)


def backwards(client: Any, shoot: Shoot) -> None:
    keys = list(shoot.setups.values_list("pk", flat=True))
    client.post(reverse("setup-order", args=[shoot.pk]), {"order": keys[::-1]})


def undo_of_ordering(client: Any, shoot: Shoot) -> None:
    history.undo(shoot)


def copying(client: Any, shoot: Shoot) -> None:
    services.copy_setup(shoot.setups.select_related("shoot__owner").filter(code="1B").first())


def packing(client: Any, shoot: Shoot) -> None:
    client.get(reverse("packing", args=[shoot.pk]))


def bench(client: Any, shoot: Shoot) -> None:
    client.get(shoot.setups.get(code="1A").get_absolute_url())


def day(client: Any, shoot: Shoot) -> None:
    client.get(reverse("day", args=[shoot.pk, shoot.setups.filter(code="8A").first().day_id]))


ACTIONS = [day, packing, backwards, undo_of_ordering, copying, bench]


@pytest.mark.parametrize("action", ACTIONS, ids=lambda action: action.__name__)
def test_queries_do_not_grow_with_the_setups(demo_client: Any, demo: Shoot, action: Action) -> None:
    counted = []
    for more in (0, 28):
        copies(demo.setups.select_related("shoot__owner").filter(code="8A").first(), more)
        if action is bench:
            bench(demo_client, demo)
        if action is undo_of_ordering:
            backwards(demo_client, demo)
        with CaptureQueriesContext(connection) as queries:
            action(demo_client, demo)
        counted.append(len(queries))
    assert counted[0] == counted[1], counted


def test_undo_of_an_order_puts_every_setup_back(demo_client: Any, demo: Shoot) -> None:
    before = list(demo.setups.values_list("code", flat=True))
    backwards(demo_client, demo)
    assert list(demo.setups.values_list("code", flat=True)) == before[::-1]
    history.undo(demo)
    assert list(demo.setups.values_list("code", flat=True)) == before
    history.redo(demo)
    assert list(demo.setups.values_list("code", flat=True)) == before[::-1]


def test_only_what_changed_is_planned_again(
    demo_client: Any, demo: Shoot, monkeypatch: Any
) -> None:
    planned: list[str] = []
    plan = summaries.plan
    monkeypatch.setattr(
        summaries, "plan", lambda spec: planned.append(spec.code) or plan(spec)
    )  # fmt: skip
    first = demo.setups.get(code="1A")
    demo_client.get(first.get_absolute_url())
    assert len(planned) == 12
    planned.clear()
    demo_client.get(first.get_absolute_url())
    assert planned == []
    demo_client.post(demo.setups.get(code="4B").get_absolute_url(), {"iris": "f/2"})
    demo_client.get(first.get_absolute_url())
    assert planned == ["4B"]
    planned.clear()
    lens = first.lens
    lens.save()
    demo_client.get(first.get_absolute_url())
    assert len(planned) == 12


def test_a_summary_says_what_the_findings_are(demo_client: Any, demo: Shoot) -> None:
    row = demo.setups.get(code="4B")
    demo_client.post(row.get_absolute_url(), {"iris": "f/22"})
    page = demo_client.get(row.get_absolute_url()).content.decode()
    row.refresh_from_db()
    assert row.summary["stops"] + row.summary["cautions"] >= 1
    assert row.summary["first"] in page
