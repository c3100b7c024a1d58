"""Batteries and cards over a day, summed by hand, and the hours of charging the arranger leaves."""

from dataclasses import replace
from datetime import timedelta
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fotonomy.core.analysis.setup import analyse
from fotonomy.core.analysis.supplies import supplies_of
from fotonomy.core.day.arrange import arrange
from fotonomy.core.day.conflicts import conflicts
from fotonomy.core.day.day_plan import Conflict, DayPlan
from fotonomy.core.day.supplies import CHARGE_MIN, Cell, Supplies
from fotonomy.core.day.tasks import Task, charge_min, fits, greedy
from fotonomy.core.gear.accessories import Battery, Card, Heater
from fotonomy.core.spec.schedule import Schedule
from tests.core.examples import setup
from tests.core.run_examples import CAM, CARD, CELL, PLAIN, interval, run_of
from tests.core.test_day import MIDNIGHT, block, day_plan
from tests.properties import examples


def taken(needs: float | None, gives: float = 12.0, name: str = "Cell", **card: Any) -> Supplies:
    given: dict[str, Any] = {"card": "Card", "card_gb": 64.0, "size_gb": 0.0, **card}
    return Supplies(cells=(Cell(name, gives),), needs_wh=needs, **given)


def told(plan: DayPlan, sort: str) -> list[Conflict]:
    return [one for one in conflicts(plan) if one.id == sort]


def test_a_battery_that_cannot_be_charged_between() -> None:
    # The first block takes 9 of 12 Wh and ends at 10:20; the second sets up from 11:00 on. In
    # forty minutes of the 180 from empty to full come 12·40/180 = 2.67 Wh: 5.67 of the 7 it takes.
    # The missing 1.33 take 1.33/12·180 = 20 min more.
    plan = day_plan(
        block(1, 10, supplies=taken(9)),
        block(2, 11, supplies=taken(7), schedule={"prepare_min": 0}),
    )  # fmt: skip
    (found,) = told(plan, "battery.charge")
    assert found.keys == (2,)
    assert found.grave
    assert found.number == pytest.approx(1.333, abs=0.001)
    assert "It takes 7 Wh; after 1A Cell hold 5.7 Wh" in found.why
    assert "20 min more would do" in found.why
    (way,) = found.moves
    assert way.rolls == MIDNIGHT + timedelta(hours=11, minutes=20)
    moved = day_plan(
        block(1, 10, supplies=taken(9)),
        block(2, 11 + 20 / 60, supplies=taken(7), schedule={"prepare_min": 0}),
    )  # fmt: skip
    assert told(moved, "battery.charge") == []


@pytest.mark.parametrize(
    "second",
    [taken(7, name="Other"), taken(None), taken(3), taken(20), replace(taken(7), cells=())],
    ids=["another", "unknown", "enough", "more than full", "none"],
)
def test_batteries_that_do(second: Supplies) -> None:
    plan = day_plan(block(1, 10, supplies=taken(9)), block(2, 11, supplies=second))
    assert told(plan, "battery.charge") == []


def test_a_long_rest_charges_to_full_and_no_further() -> None:
    first, second = block(1, 9, supplies=taken(12)), block(2, 15, supplies=taken(12))
    assert told(day_plan(first, second), "battery.charge") == []
    third = block(3, 15.5, supplies=taken(6))
    (found,) = told(day_plan(first, second, third), "battery.charge")
    assert found.keys == (3,)


def test_no_charging_helps_after_the_wrap() -> None:
    plan = day_plan(
        block(1, 20, supplies=taken(12)), block(2, 20.5, supplies=taken(12)),
    )  # fmt: skip
    (found,) = told(plan, "battery.charge")
    assert found.moves == ()


def test_a_card_that_is_full_by_then() -> None:
    plan = day_plan(
        block(1, 9, supplies=taken(None, size_gb=40.0, own_card=True)),
        block(2, 10, supplies=taken(None, size_gb=30.0, own_card=True)),
        block(3, 11, supplies=taken(None, size_gb=30.0, own_card=True)),
        block(4, 12, supplies=taken(None, size_gb=10.0, own_card=True)),
        block(5, 13, supplies=taken(None, size_gb=10.0, card="Spare", own_card=True)),
    )  # fmt: skip
    found, again = told(plan, "card.full")
    # 40 + 30 on 64 GB is 6 too many; then another card takes 30 + 30, and 10 more is full again.
    assert (found.keys, again.keys) == ((2,), (4,))
    assert found.number == again.number == pytest.approx(6)
    assert found.grave
    assert "Card holds 64 GB; 40 GB are on it by then and this takes 30 GB" in found.why


def test_every_card_that_fills_is_told_and_a_body_s_own_is_a_caution() -> None:
    plan = day_plan(*(
        block(at, 8 + at, supplies=taken(None, size_gb=40.0)) for at in range(1, 5)
    ))  # fmt: skip
    found = told(plan, "card.full")
    assert [one.keys for one in found] == [(2,), (3,), (4,)]
    assert not any(one.grave for one in found)
    # One that fits on no card is the setup's own affair.
    alone = day_plan(block(1, 9, supplies=taken(None, size_gb=1.0)),
                     block(2, 10, supplies=taken(None, size_gb=90.0)))  # fmt: skip
    assert told(alone, "card.full") == []


def test_supplies_of_a_film_by_hand() -> None:
    body = replace(CAM, power_w=10.0, idle_w=4.0)
    spec = setup(
        body=body, devices=(CELL, CARD), schedule=Schedule(prepare_min=10, shoot_min=20),
        wanted_screen_s=10.0, handle_s=1.0,
    )  # fmt: skip
    found = supplies_of(spec)
    record_s = 12.0
    # On for half an hour at 4 W, and 6 W more in three takes of 12 s.
    assert found.needs_wh == pytest.approx((4 * 1800 + 6 * 3 * record_s) / 3600)
    # Warm batteries at 15 °C give 95 %, of which nine tenths are used.
    assert found.cells == (Cell("Cell", pytest.approx(40 * 0.95 * 0.9)),)
    assert (found.card, found.card_gb, found.own_card) == ("Card", 128, True)
    assert found.size_gb == pytest.approx(3 * analyse(spec).clip.size_mb / 1000)
    # Takes longer than the time that was planned for them are on all the while.
    long = supplies_of(replace(spec, wanted_screen_s=2000.0))
    assert long.needs_wh == pytest.approx(10 * 3 * 2002 / 3600)
    plain = supplies_of(replace(spec, devices=()))
    assert (plain.card, plain.own_card, plain.cells) == (f"the card of {body.name}", False, ())
    assert supplies_of(replace(spec, body=replace(body, power_w=None))).needs_wh is None


def test_supplies_of_a_run_are_what_its_bench_says() -> None:
    spec = interval()
    power = run_of(spec).power
    assert power is not None
    found = supplies_of(spec)
    assert found.needs_wh == pytest.approx(power.needs_wh)
    assert found.full_wh == pytest.approx(power.has_wh)
    assert found.size_gb == pytest.approx(run_of(spec).size_gb)


def test_a_pack_helps_once_it_has_fed_what_hangs_on_it() -> None:
    pack = Battery(name="Pack", energy_wh=2.0, external=True)
    heater = Heater(name="Sleeve", power_w=3)
    plain = supplies_of(interval(devices=(PLAIN, CARD, CELL)))
    helped = supplies_of(interval(devices=(PLAIN, CARD, CELL, pack)))
    assert plain.needs_wh is not None
    assert helped.needs_wh == pytest.approx(plain.needs_wh - 2 * 0.95 * 0.9)
    lasts_h = run_of(interval()).lasts_s / 3600
    warmed = supplies_of(interval(devices=(PLAIN, CARD, CELL, pack, heater)))
    left = max(0.0, 2 * 0.95 * 0.9 - 3 * lasts_h)
    assert warmed.needs_wh == pytest.approx(plain.needs_wh - left)
    assert [cell.name for cell in warmed.cells] == ["Cell"]
    card = Card(name="Small", size_gb=1)
    assert supplies_of(interval(devices=(PLAIN, card))).card_gb == 1


def task(key: int, low: int, high: int, share: float, body: str = "A") -> Task:
    return Task(
        key=key, name=f"{key}A", place=1, body=body, lens="35", prepare_min=5, shoot_min=20,
        stays_min=20, allowed=((low, high),), batteries=frozenset({"Cell"}), charge_share=share,
    )  # fmt: skip


def same(start: int, end: int) -> float:
    return 0.0


def test_charging_between_two_setups() -> None:
    one, other = task(1, 0, 600, 0.75), task(2, 0, 600, 0.75)
    # Half a charge is missing: half of three hours.
    assert charge_min(one, other) == CHARGE_MIN / 2
    assert charge_min(one, replace(other, batteries=frozenset({"Spare"}))) == 0
    assert charge_min(one, replace(other, charge_share=0.25)) == 0
    assert fits([one, other], {1: 5, 2: 5 + 20 + 90 + 5}, same)
    assert not fits([one, other], {1: 5, 2: 5 + 20 + 90 + 4}, same)
    # On two bodies as well: a battery hangs on one of them.
    assert not fits([one, replace(other, body="B")], {1: 5, 2: 40}, same)


def test_the_arranger_leaves_time_to_charge() -> None:
    tasks = [task(1, 5, 300, 0.75), task(2, 5, 300, 0.75)]
    for starts in (arrange(tasks, same, seconds=1).starts, greedy(tasks, same)):
        assert len(starts) == 2
        assert abs(starts[1] - starts[2]) >= 20 + 90 + 5
    tight = [task(1, 5, 100, 0.75), task(2, 5, 100, 0.75)]
    found = arrange(tight, same, seconds=1)
    assert len(found.starts) == 1
    assert len(found.left_out) == 1


@examples(25)
@given(
    shares=st.lists(st.floats(0, 1), min_size=2, max_size=5),
    wide=st.integers(60, 600),
)
def test_every_order_leaves_time_to_charge(shares: list[float], wide: int) -> None:
    tasks = [task(key, 5, 5 + wide, share) for key, share in enumerate(shares)]
    found = arrange(tasks, same, seconds=0.4)
    assert fits(tasks, found.starts, same)
    assert len(found.starts) >= len(greedy(tasks, same))
