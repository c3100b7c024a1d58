"""Energy: batteries as they are printed, what hangs on what, and how many of them it takes."""

import pytest

from fotonomy.core.errors import RuleError
from fotonomy.core.gear.accessories import Battery, Feed, Heater
from fotonomy.core.gear.body import Body
from fotonomy.core.notation.reading import parse_energy
from fotonomy.core.plan import plan
from fotonomy.core.stills.energy import power_of, supply_of
from tests.core.run_examples import CAM, CARD, CELL, PLAIN, ids, interval, run_of

HOUR = 3600.0
PACK = Battery(name="Pack", energy_wh=100, external=True)
BAND = Heater(name="Band", power_w=5)


@pytest.mark.parametrize(
    ("text", "wh"),
    [("37", 37), ("16.4 Wh", 16.4), ("10000 mAh at 3.7 V", 37), ("10 000 mAh 3.7V", 37),
     ("2,28 Ah at 7.2 V", 16.416), ("5000mAh@7.4V", 37)],
)  # fmt: skip
def test_energy_as_printed(text: str, wh: float) -> None:
    # Charge times voltage: 10 Ah at 3.7 V are 37 Wh.
    assert parse_energy(text) == pytest.approx(wh)


@pytest.mark.parametrize("text", ["", "much", "0", "10000 mAh", "-3 Wh", "3 V at 5 Ah"])
def test_what_is_no_energy_is_refused(text: str) -> None:
    with pytest.raises(RuleError) as caught:
        parse_energy(text)
    assert caught.value.field == "energy_wh"


def test_a_pack_loses_what_is_stated_and_counts_as_often_as_there_is() -> None:
    pack = Battery(name="p", energy_wh=37, external=True, count=2, loss_percent=15)
    assert (pack.each_wh, pack.usable_wh) == pytest.approx((31.45, 62.9))
    supply = supply_of((pack,), 20.0)
    assert supply is not None
    # Nine tenths of it are planned with (common practice, no source).
    assert supply.packs_wh == pytest.approx(62.9 * 0.9)


def body(power_w: float = 10.0) -> Body:
    return Body(name="b", formats=CAM.formats, power_w=power_w, idle_w=power_w)


def test_what_hangs_on_a_pack_leaves_the_camera_alone() -> None:
    # Two hours at 20 °C: the camera takes 20 Wh, a band of 5 W ten.
    on_pack = power_of(body(), (CELL, PACK, BAND), 20.0, 2 * HOUR, 0.0)
    on_camera = power_of(
        body(), (CELL, Heater(name="h", power_w=5, fed_by=Feed.CAMERA)), 20.0, 2 * HOUR, 0.0
    )
    own = power_of(body(), (CELL, Heater(name="h", power_w=5, fed_by=Feed.OWN)), 20, 2 * HOUR, 0)
    assert on_pack
    assert on_camera
    assert own
    assert (on_pack.needs_wh, on_pack.pack_needs_wh) == pytest.approx((20, 10))
    assert (on_camera.needs_wh, on_camera.pack_needs_wh) == pytest.approx((30, 0))
    assert (own.needs_wh, own.pack_needs_wh) == pytest.approx((20, 0))
    # 36 Wh of the cell, and what the pack has left of 90.
    assert on_pack.has_wh == pytest.approx(36 + 80)


def test_how_long_it_goes_on_with_a_pack_that_two_drain() -> None:
    # 36 + 90 Wh at 10 + 5 W: 8.4 h, in which the band takes 42 of the pack's 90.
    power = power_of(body(), (CELL, PACK, BAND), 20.0, HOUR, 0.0)
    assert power
    assert power.lasts_s == pytest.approx(8.4 * HOUR)
    # A band of 100 W empties the pack in 54 minutes; the cell alone lasts 3.6 h.
    greedy = power_of(body(), (CELL, PACK, Heater(name="h", power_w=100)), 20.0, 2 * HOUR, 0.0)
    assert greedy
    assert greedy.lasts_s == pytest.approx(3.6 * HOUR)
    assert greedy.pack_short_wh == pytest.approx(200 - 90)


def test_a_run_that_falls_short_says_how_many_would_do() -> None:
    # 500 frames, one every 60 s: 8.3 h at 4 to 10 W, against one cell of 16 Wh.
    small = Battery(name="Small", energy_wh=16)
    spec = interval(frame_rate=1 / 60, devices=(PLAIN, CARD, small))
    power = run_of(spec).power
    assert power
    found = next(f for f in plan(spec).findings if f.id == "run.power_short")
    said = found.why.rpartition("; ")[2]
    count = int(said.split(" like Small")[0])
    given = 16 * power.share_left * 0.9
    assert (count - 1) * given < power.needs_wh <= count * given
    enough = Battery(name="Small", energy_wh=16, count=count)
    assert "run.power_short" not in ids(plan(interval(
        frame_rate=1 / 60, devices=(PLAIN, CARD, enough)
    )))  # fmt: skip
    assert "Wh beside it" in said


def test_a_heater_without_a_pack_is_said_with_the_pack_it_needs() -> None:
    spec = interval(frame_rate=1 / 60, devices=(PLAIN, CARD, CELL, BAND), packed_devices=(PACK,))
    found = {f.id: f for f in plan(spec).findings}["run.pack_short"]
    # 499 intervals of 60 s and a moment: 8.32 h at 5 W.
    assert found.number == pytest.approx(5 * 8.32, abs=0.1)
    assert found.fixes[0].label == "take Pack"
    assert "Wh" in found.fixes[-1].label
    fed = interval(frame_rate=1 / 60, devices=(PLAIN, CARD, CELL, BAND, PACK))
    assert "run.pack_short" not in ids(plan(fed))
