"""White balance in mired."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fotonomy.core.errors import RuleError
from fotonomy.core.parsing.white_balance import (
    format_tint,
    parse_averaged,
    parse_bias,
    parse_delivery,
    parse_main_light,
    parse_source,
    parse_tint,
)
from fotonomy.core.plan import plan
from fotonomy.core.spec.intent import Intent, WhiteMethod
from fotonomy.core.spec.readings import Reading
from fotonomy.core.tone.white_balance import (
    FULL_GEL_MIRED,
    channel_gains,
    gels_for,
    kelvin,
    mired,
    shift_mired,
    white_balance,
)
from tests.core.examples import setup
from tests.core.test_findings import found


def test_shifts_by_hand() -> None:
    # 10^6/3200 - 10^6/5600 = 312.5 - 178.6 = +134 (definition of the mired).
    assert shift_mired(5600, 3200) == pytest.approx(134, abs=0.1)
    assert mired(5000) == 200
    assert kelvin(200) == 5000
    with pytest.raises(RuleError):
        mired(0)


@given(st.floats(1000, 20_000), st.floats(1000, 20_000), st.floats(1000, 20_000))
def test_shifts_add(a: float, b: float, c: float) -> None:
    assert shift_mired(a, b) + shift_mired(b, c) == pytest.approx(shift_mired(a, c), abs=1e-9)
    assert kelvin(mired(a)) == pytest.approx(a)


def test_gels_come_near_a_shift() -> None:
    assert pytest.approx(134, abs=0.1) == FULL_GEL_MIRED
    assert [gel.name for gel in gels_for(134)] == ["full warm"]
    assert [gel.name for gel in gels_for(-67)] == ["half cool"]
    assert gels_for(3) == ()
    assert sum(gel.mired for gel in gels_for(210)) == pytest.approx(210, abs=15)


def test_taste_counts_in_its_method_only() -> None:
    warm = setup(source_k=5600, white_k=5600, white_bias_mired=15)
    assert white_balance(warm).off_mired == pytest.approx(0)
    biased = setup(source_k=5600, white_k=5600, white_bias_mired=15,
                   intent=Intent(white_school=WhiteMethod.BIASED))  # fmt: skip
    # Warmer by 15 mired: set the camera for a light 15 mired cooler, 10^6/163.6 = 6113 K.
    assert white_balance(biased).wanted_k == pytest.approx(6113, abs=2)


def test_mixed_light_is_found_and_measured() -> None:
    lamp = Reading(name="lamp", stops=4, source_k=2700)
    spec = setup(source_k=5600, white_k=5600, readings=(lamp,))
    finding = found(plan(spec), "white.mixed")
    # 10^6/2700 - 10^6/5600 = 370.4 - 178.6 = 191.8.
    assert finding.number == pytest.approx(191.8, abs=0.1)
    # Half way: (370.4 + 178.6)/2 = 274.5 mired, 3640 K.
    assert finding.fixes[0].label == "half way, 3640 K"
    off = found(plan(setup(source_k=3200, white_k=5600)), "white.off")
    assert off.number == pytest.approx(134, abs=0.1)
    assert off.fixes[0].changes[0].value == 3200
    assert "warm" in off.what


def test_gains_are_neutral_for_what_is_set() -> None:
    assert channel_gains(0) == pytest.approx((1, 1, 1))
    red, _, blue = channel_gains(100)
    assert red / blue == pytest.approx(2)


def test_what_people_type() -> None:
    assert parse_source("open shade") == 7500
    assert parse_source("3200K") == 3200
    assert parse_main_light("as set") is None
    assert parse_main_light("2 700 K") == 2700
    assert (parse_tint("M10"), parse_tint("g5"), parse_tint("0")) == (10, -5, 0)
    for tint in (0.0, 12.5, -3.0):
        assert parse_tint(format_tint(tint)) == tint
    assert parse_bias("+15 mired") == 15
    assert (parse_delivery("as recorded"), parse_delivery("1920 px")) == (None, 1920)
    assert parse_averaged("4") == 4
    for parse, text in ((parse_source, "bluish"), (parse_tint, "X"), (parse_bias, "999"),
                        (parse_delivery, "3"), (parse_averaged, "1.5")):  # fmt: skip
        with pytest.raises(RuleError):
            parse(text)
