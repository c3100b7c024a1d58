"""What must not grow with the number of setups: queries, and what has to be planned again."""

import sys
from collections.abc import Callable
from typing import Any

import pytest
from django.db import connection
from django.test.utils import CaptureQueriesContext
from django.urls import reverse

from fotonomy.exchange import converter
from fotonomy.kit.models import Body, Filter, Lens
from fotonomy.shoots import history, packed_kit, summaries
from fotonomy.shoots.mapping import spec_of
from fotonomy.shoots.models import Setup, Shoot
from fotonomy.shoots.services import setups as services
from tests.web.test_pictures import WROTE, photo, upload

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
        # The kit and what stands beside the rows are made at the first request that needs them.
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


FRAGMENT = {"X-Fotonomy-Fragment": "1"}


def change(client: Any, row: Setup) -> None:
    client.post(row.get_absolute_url(), {"iris": "f/4"}, headers=FRAGMENT)


def card(client: Any, row: Setup) -> None:
    client.get(reverse("field-card", args=[row.shoot_id, row.pk]))


def take(client: Any, row: Setup) -> None:
    sent = {"uid": "p-1", "verdict": "good", "picture_uid": "q-1"}
    picture = upload(photo(exif=WROTE))
    client.post(
        reverse("field-take", args=[row.shoot_id, row.pk]), {**sent, "picture": picture}
    )  # fmt: skip


def move(client: Any, row: Setup) -> None:
    day = reverse("day", args=[row.shoot_id, row.day_id])
    client.post(day, {"setup": row.pk, "clock": "10:20"}, headers=FRAGMENT)


@pytest.mark.parametrize(
    ("act", "queries", "specs"),
    # The whole day is planned to be drawn; everything else makes the spec of its own setup, a card
    # that of the next one too, to say when to leave.
    [(change, 12, 1), (card, 12, 2), (take, 18, 1), (move, 20, 12)],
    ids=lambda one: getattr(one, "__name__", ""),
)
def test_a_request_reads_what_it_asks_for(
    demo_client: Any, demo: Shoot, monkeypatch: Any, act: Any, queries: int, specs: int
) -> None:
    row = demo.setups.get(code="4B")
    demo_client.get(row.get_absolute_url())
    # Tidying up the log, at every fiftieth of its rows, is no part of it.
    monkeypatch.setattr(history, "PRUNE_EVERY", 10**9)
    made: list[str] = []
    real = spec_of
    for module in list(sys.modules.values()):
        if getattr(module, "spec_of", None) is spec_of:
            monkeypatch.setattr(
                module, "spec_of", lambda one, *rest: made.append(str(one)) or real(one, *rest)
            )
    with CaptureQueriesContext(connection) as captured:
        act(demo_client, row)
    assert len(captured) <= queries, "\n".join(one["sql"][:150] for one in captured)
    assert len(made) <= specs, made


def test_a_row_is_decoded_once(demo: Shoot, monkeypatch: Any) -> None:
    """One call of the converter for each column that is kept as JSON, none for plain ones."""
    row = demo.setups.planned().get(code="4B")
    row.shoot = demo
    kit = packed_kit.packed_kit(demo)
    spec_of(row, kit)
    calls: list[Any] = []
    real = converter.from_data
    from fotonomy.shoots import mapping

    monkeypatch.setattr(
        mapping, "from_data", lambda data, hint: calls.append(hint) or real(data, hint)
    )
    spec_of(row, kit)
    assert len(calls) <= len(mapping.DECODED) + 1, calls


def test_a_kit_is_read_once_for_each_of_its_states(demo_client: Any, demo: Shoot) -> None:
    card = reverse("field-card", args=[demo.pk, demo.setups.get(code="4B").pk])

    def read() -> set[str]:
        with CaptureQueriesContext(connection) as captured:
            assert demo_client.get(card).status_code == 200
        return {table for table in ("kit_lens", "kit_filter", "kit_accessory", "kit_body")
                for one in captured if f'FROM "{table}"' in one["sql"]}  # fmt: skip

    read()
    assert read() == set()
    # Whatever is done to a thing of the kit, or to what is packed, the next request sees.
    body = Body.objects.filter(owner=demo.owner).first()
    for touch in (
        lambda: Lens.objects.create(
            owner=demo.owner, name="New", focal_shortest_mm=20, focal_longest_mm=20, widest_f=2,
            smallest_f=16,
        ),
        lambda: Lens.objects.get(name="New").delete(),
        lambda: body.save(),
        lambda: Body.objects.filter(pk=body.pk).update(stabiliser_stops=1),
        lambda: body.profiles.clear(),
        lambda: demo.filters.add(Filter.objects.filter(owner=demo.owner).first()),
    ):  # fmt: skip
        touch()
        assert "kit_lens" in read(), touch
        assert read() == set()


def test_gear_that_a_request_changes_is_not_taken_from_before(demo: Shoot) -> None:
    """The row of the shoot that is at hand has the stamp from before; the kit is read anew."""
    before = packed_kit.packed_kit(demo)
    assert packed_kit.packed_kit(demo) is before or demo.owner_id in packed_kit._changed()
    lens = Lens.objects.filter(owner=demo.owner).first()
    lens.name = "Another name"
    lens.save()
    after = packed_kit.packed_kit(demo)
    assert "Another name" in {one.name for one in after.lenses}
    assert "Another name" not in {one.name for one in before.lenses}


def test_what_stays_at_home_is_not_offered_and_still_used(demo: Shoot) -> None:
    row = demo.setups.planned().get(code="4B")
    demo.packs_all = False
    demo.save()
    demo.lenses.clear()
    kit = packed_kit.packed_kit(demo)
    assert kit.lenses == ()
    row.shoot = demo
    assert spec_of(row, kit).lens.name == row.lens.name
    assert packed_kit.packed_kit(demo, whole=True).lenses
