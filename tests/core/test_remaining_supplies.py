"""What cards and batteries have left, summed by hand."""

from dataclasses import replace

import pytest

from fotonomy.core.analysis.interval import data_rate_mb_s
from fotonomy.core.analysis.supplies import supplies_of
from fotonomy.core.day.supplies import Cell, Supplies
from fotonomy.core.field.remaining_supplies import (
    LoggedTake,
    charge_left,
    gone_on_cards,
    minutes_on_battery,
    minutes_on_card,
)
from tests.core.examples import setup
from tests.core.run_examples import CAM, CARD, CELL, interval

FILM = Supplies(card="A1", card_gb=64, size_gb=6, cells=(Cell("Cell", 10),), needs_wh=3)


def test_cards_fill_by_length_or_as_planned() -> None:
    spec = setup()
    rate = data_rate_mb_s(spec)
    takes = [
        LoggedTake(spec, FILM), LoggedTake(spec, FILM, "B2", 80.0), LoggedTake(spec, FILM, "", 8.0),
    ]  # fmt: skip
    # A third of three planned takes is 2 GB; 80 s at the rate's megabits over 8 are megabytes.
    found = gone_on_cards(takes)
    assert found["B2"] == pytest.approx(rate * 80 / 8000)
    assert found["A1"] == pytest.approx(2 + rate * 8 / 8000)
    # Pictures count as planned whatever their length, and a run is one take.
    run = interval()
    assert gone_on_cards([LoggedTake(run, FILM, "", 99.0)]) == {"A1": 6}


def test_batteries_give_what_was_planned_and_no_more() -> None:
    spec = setup()
    one = LoggedTake(spec, FILM)
    # 3 of 10 Wh for three takes: a tenth of the charge each.
    assert charge_left([one]) == {"Cell": pytest.approx(0.9)}
    assert charge_left([one] * 2) == {"Cell": pytest.approx(0.8)}
    assert charge_left([one] * 7) == {"Cell": pytest.approx(0.7)}
    other = LoggedTake(spec, replace(FILM, needs_wh=9.0))
    assert charge_left([*[one] * 3, *[other] * 3]) == {"Cell": 0}
    assert charge_left([LoggedTake(interval(), FILM)]) == {"Cell": pytest.approx(0.7)}
    assert charge_left([]) == {}


def test_minutes_that_are_left() -> None:
    spec = setup(body=replace(CAM, power_w=10.0), devices=(CELL, CARD))
    rate = data_rate_mb_s(spec)
    # 6 GB at R Mb/s: 48 000 Mb over R, in seconds.
    assert minutes_on_card(spec, 6) == pytest.approx(48_000 / rate / 60)
    # 40 Wh, 95 % at 15 °C, nine tenths of it used, at 10 W.
    assert minutes_on_battery(spec, supplies_of(spec)) == pytest.approx(60 * 40 * 0.95 * 0.9 / 10)
    assert minutes_on_battery(spec, replace(FILM, cells=())) is None
    dark = replace(spec, body=replace(spec.body, power_w=None))
    assert minutes_on_battery(dark, FILM) is None
