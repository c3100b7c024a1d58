"""Curves of every sort: against the standards, against the library, and as tables."""

import warnings
from functools import cache
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from fotonomy.core.curves.sampled import SAMPLED_WITHIN, THINNED_WITHIN, from_encoding, from_pairs
from fotonomy.core.curves.transfer_functions import (
    STANDARDS,
    AcesCct,
    Bt709,
    Hlg,
    Linear,
    Tabulated,
    decode,
    encode,
    linear_of,
)
from fotonomy.core.errors import RuleError
from fotonomy.core.gear.profile import Profile
from fotonomy.core.tone.monitor_lut import Correction, shouldered
from fotonomy.exchange.encodings import published_curve, published_names
from fotonomy.exchange.errors import ExchangeError
from tests.core.examples import FLAT, LOG, VIDEO


@cache
def library() -> Any:
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        import colour
    return colour


def test_hlg_as_the_standards_have_it() -> None:
    # ITU-R BT.2100-2, table 5: half the signal at a twelfth of the light, one at one.
    # ITU-R BT.2408, placement: grey (18 %) at 38 %, reference white at 75 %.
    assert 100 * float(encode(Hlg(), 0.18)) == pytest.approx(38, abs=0.5)
    assert 100 * float(encode(Hlg(), 1.0)) == pytest.approx(75, abs=1e-6)
    assert decode(Hlg(), 0.5) / decode(Hlg(), 1.0) == pytest.approx(1 / 12, abs=1e-6)
    light = np.linspace(0, 1, 2001)
    scale = decode(Hlg(), 1.0)
    with np.errstate(all="ignore"):
        theirs = library().models.oetf_BT2100_HLG(light)
    assert np.max(np.abs(encode(Hlg(), light * scale) - theirs)) < 1e-6


def test_acescct_as_the_standard_has_it() -> None:
    # AMPAS S-2016-001: 0.18 encodes to 0.4136, and the foot joins at 0.0078125.
    assert float(encode(AcesCct(), 0.18)) == pytest.approx(0.4136, abs=0.00005)
    light = np.concatenate([np.linspace(-0.02, 0.02, 401), np.geomspace(0.02, 200, 2001)])
    with np.errstate(all="ignore"):
        theirs = library().models.log_encoding_ACEScct(light)
    assert np.max(np.abs(encode(AcesCct(), light) - theirs)) < 1e-9
    back = library().models.log_decoding_ACEScct(theirs)
    assert np.max(np.abs(linear_of(AcesCct(), theirs) - back)) < 1e-6


def test_linear_is_linear() -> None:
    assert float(encode(Linear(), 0.18)) == 0.18
    assert Profile(name="raw", curve=Linear(), clip_percent=100).recorded_grey_percent == 18


@given(st.sampled_from([*STANDARDS.values(), LOG]), st.floats(1e-4, 30))
def test_there_and_back(curve: Any, light: float) -> None:
    assert float(linear_of(curve, encode(curve, light))) == pytest.approx(light, rel=1e-6)
    many = np.full((2, 3), light)
    assert linear_of(curve, encode(curve, many)).shape == (2, 3)


def test_every_encoding_of_the_library_is_met() -> None:
    """Each of them, from eight stops under grey to its end: within a ten-thousandth of scale."""
    names = published_names()
    assert len(names) > 40
    refused = []
    for name in names:
        try:
            curve = published_curve(name)
        except ExchangeError as error:
            refused.append((name, error.problem))
            continue
        low = max(0.18 * 2.0**-8, curve.linear[0] * 1.01 if curve.linear[0] > 0 else 0)
        light = np.geomspace(low, curve.linear[-1], 4001)
        with warnings.catch_warnings(), np.errstate(all="ignore"):
            warnings.simplefilter("ignore")
            theirs = np.asarray(library().CCTF_ENCODINGS[name](light), dtype=float)
        assert np.max(np.abs(encode(curve, light) - theirs)) < 2 * SAMPLED_WITHIN, name
        # And back, to a hundredth of a stop.
        stops = np.log2(linear_of(curve, encode(curve, light)) / light)
        assert np.max(np.abs(stops)) < 0.01, name
    # What is left out is not a curve but steps: whole codes.
    assert len(refused) <= 2
    assert all("rise" in problem for _, problem in refused)


def test_a_table_meets_the_curve_it_was_made_from() -> None:
    light = np.geomspace(1e-4, 14, 300)
    table = from_pairs("t", light, encode(LOG, light))
    between = np.geomspace(2e-4, 13, 5000)
    assert np.max(np.abs(encode(table, between) - encode(LOG, between))) < 1e-4
    assert decode(table, 0.5) == pytest.approx(decode(LOG, 0.5), rel=1e-3)


def test_long_tables_are_thinned_and_say_so_if_they_cannot_be() -> None:
    light = np.linspace(0, 14, 65_536)
    table = from_pairs("t", light, encode(LOG, light))
    assert len(table.linear) <= 1024
    assert np.max(np.abs(encode(table, light) - encode(LOG, light))) < 1.01 * THINNED_WITHIN
    # Fifteen hundred steps do not fit into a thousand knots.
    share = np.linspace(0, 1, 60_000)
    with pytest.raises(RuleError, match="bends too sharply"):
        from_pairs("stairs", 0.001 * np.sinh(share * 9.5), stairs(share))


def stairs(share: Any) -> Any:
    return 0.97 * np.floor(share * 1500) / 1500 + 0.03 * share


def test_order_and_flat_ends_do_not_matter() -> None:
    light = np.geomspace(0.001, 8, 64)
    signal = encode(LOG, light)
    padded = np.concatenate([[0.0001, 0.0002], light, [9.0, 10.0]])
    flat = np.concatenate([[signal[0]] * 2, signal, [signal[-1]] * 2])
    backwards = from_pairs("t", padded[::-1], flat[::-1])
    assert float(encode(backwards, 0.18)) == pytest.approx(float(encode(LOG, 0.18)), abs=2e-4)
    assert backwards.linear[-1] == pytest.approx(8)


GOOD = np.geomspace(0.001, 8, 32)


@pytest.mark.parametrize(
    ("light", "signal", "words"),
    [
        (GOOD[:7], GOOD[:7] / 9, "rows"),
        (np.arange(70_000) / 9e4, np.arange(70_000) / 7e4, "rows"),
        (GOOD, -GOOD / 9, "rise"),
        (GOOD, np.where(GOOD > 1, GOOD / 20, GOOD / 9), "rise"),
        (GOOD / 100, GOOD / 9, "never reaches grey"),
        (GOOD + 1, GOOD / 9, "never reaches grey"),
        (np.append(GOOD, np.nan), np.append(GOOD / 9, 1), "not a number"),
        (GOOD * 1e9, GOOD / 9, "beyond any scene"),
        (GOOD, GOOD * 128, "1 stands for 100 %"),
        (GOOD, GOOD[:-1], "one length"),
    ],
)  # fmt: skip
def test_tables_that_are_no_curve_are_refused(light: Any, signal: Any, words: str) -> None:
    with pytest.raises(RuleError) as caught:
        from_pairs("t", light, signal)
    assert caught.value.field == "table"
    assert words in caught.value.rule


def test_functions_that_are_no_curve_are_refused() -> None:
    with pytest.raises(RuleError, match="does not rise"):
        from_encoding("flat", lambda light: np.zeros_like(light))
    with pytest.raises(RuleError, match=r"jumps|bends"):
        from_encoding("stairs", lambda light: stairs(np.arcsinh(light / 0.001) / 20 + 0.2))


def test_equal_tables_are_equal() -> None:
    one, two = (from_pairs("t", GOOD, GOOD / 9) for _ in range(2))
    other = from_pairs("t", GOOD, GOOD / 10)
    assert one == two
    assert hash(one) == hash(two)
    assert one != other
    with pytest.raises(RuleError):
        Tabulated(name="t", linear=one.linear, signal=one.signal[:-1])


def test_a_correction_puts_grey_where_bt709_has_it() -> None:
    # By hand: grey exposed a stop over and pulled a stop is grey: 40.9 % (BT.709-6).
    for profile in (FLAT, VIDEO):
        over = encode(profile.curve, profile.grey_linear * 2)
        for shoulder in (True, False):
            answer = float(Correction(1.0, shoulder).apply(profile, over))
            assert 100 * answer == pytest.approx(40.9, abs=0.05)


def test_the_shoulder_holds_what_a_log_holds() -> None:
    clip = FLAT.clip_percent / 100
    rolled, straight = Correction(0, True), Correction(0, False)
    assert float(rolled.apply(FLAT, clip)) == pytest.approx(1, abs=1e-6)
    # Two stops under the clip straight BT.709 is long white; the shoulder still tells it.
    under = encode(FLAT.curve, FLAT.clip_linear / 4)
    assert float(straight.apply(FLAT, under)) == 1
    assert float(rolled.apply(FLAT, under)) < 0.985
    light = np.geomspace(0.001, 30, 500)
    assert np.all(np.diff(shouldered(light, 5.0)) >= 0)
    low = light[encode(Bt709(), np.minimum(light, 1)) < 0.8]
    assert np.allclose(shouldered(low, 5.0), encode(Bt709(), low))
