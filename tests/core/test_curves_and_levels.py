"""Curves against their standards and the colour-science library; where tones land."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from fotonomy.core.curves.sampled import from_pairs
from fotonomy.core.curves.transfer_functions import Bt709, ParametricLog, decode, encode
from fotonomy.core.errors import RuleError
from fotonomy.core.gear.profile import LevelScale, Profile
from fotonomy.core.spec.readings import Reading
from fotonomy.core.tone.signal_levels import (
    code_value,
    foot_doubt,
    headroom_stops,
    level,
    percent_at,
    profile_doubts,
)
from tests.core.examples import FLAT, LOG, VIDEO


@pytest.mark.parametrize(("linear", "percent"), [(0.18, 40.9), (0.90, 94.9), (0.0, 0), (1, 100)])
def test_bt709_as_the_standard_has_it(linear: float, percent: float) -> None:
    # ITU-R BT.709-6, item 1.2.
    assert 100 * float(encode(Bt709(), linear)) == pytest.approx(percent, abs=0.05)


def test_bt709_agrees_with_the_reference_library() -> None:
    # colour-science, colour.models.oetf_BT709: an implementation outside this project.
    colour = pytest.importorskip("colour")
    values = np.linspace(0, 1, 5001)
    ours = encode(Bt709(), values)
    assert np.max(np.abs(ours - colour.models.oetf_BT709(values))) < 1e-9


def test_a_published_log_is_one_of_the_family() -> None:
    """ACEScct (AMPAS S-2016-001) written in the family's parameters, against the library."""
    colour = pytest.importorskip("colour")
    scale = np.log10(2)
    acescct = ParametricLog(
        name="cct", a=1, b=0, c=1 / (17.52 * scale), d=9.72 / 17.52,
        e=10.5402377416545, f=0.0729055341958355, cut=0.0078125,
    )  # fmt: skip
    values = np.geomspace(1e-4, 60, 4001)
    reference = colour.models.log_encoding_ACEScct(values)
    assert np.max(np.abs(encode(acescct, values) - reference)) < 1e-6
    # The standard's own figure for grey.
    assert float(encode(acescct, 0.18)) == pytest.approx(0.4136, abs=0.00005)


@given(st.floats(1e-5, 40))
def test_encode_then_decode(linear: float) -> None:
    for curve in (Bt709(), LOG):
        assert decode(curve, float(encode(curve, linear))) == pytest.approx(linear, rel=1e-6)


@given(st.lists(st.floats(0, 40), min_size=2, max_size=20))
def test_curves_rise(values: list[float]) -> None:
    ordered = np.sort(np.array(values))
    for curve in (Bt709(), LOG):
        assert np.all(np.diff(encode(curve, ordered)) >= -2e-4)


def test_shapes_are_kept() -> None:
    assert encode(LOG, np.ones((3, 4))).shape == (3, 4)
    assert encode(LOG, 0.18).shape == ()


@pytest.mark.parametrize(
    ("change", "field"),
    [({"a": 0}, "a"), ({"c": -1}, "c"), ({"e": 0}, "e"), ({"b": float("nan")}, "b"),
     ({"b": -1}, "cut"), ({"d": 0.5}, "cut"), ({"cut": 1e9}, "cut")],
)  # fmt: skip
def test_a_curve_that_cannot_be_is_refused_by_parameter(change: dict, field: str) -> None:
    with pytest.raises(RuleError) as caught:
        replace(LOG, **change)
    assert caught.value.field == field


def test_a_level_beyond_the_curve_is_refused() -> None:
    for curve in (Bt709(), LOG):
        with pytest.raises(RuleError):
            decode(curve, 1e6)


@pytest.mark.parametrize(
    ("change", "field"),
    [({"clip_percent": 1e6}, "clip_percent"), ({"grey_percent": 1.0}, "grey_percent"),
     ({"clip_percent": 30.0}, "clip_percent")],
)  # fmt: skip
def test_a_profile_that_cannot_be_is_refused(change: dict, field: str) -> None:
    with pytest.raises(RuleError) as caught:
        replace(FLAT, **change)
    assert caught.value.field == field


def test_grey_and_headroom_of_the_invented_log() -> None:
    assert FLAT.recorded_grey_percent == pytest.approx(38.5, abs=0.01)
    # By hand: 92 % decodes to (10^((0.92-0.39146)/0.2898)-0.05)/5 = 13.3; log2(13.3/0.18).
    assert headroom_stops(FLAT) == pytest.approx(6.21, abs=0.01)


def test_strict_bt709_has_two_and_a_half_stops_over_grey() -> None:
    strict = Profile(name="strict", curve=Bt709(), clip_percent=100)
    # log2(1/0.18), BT.709-6 reaches 100 % at a reflectance of one.
    assert headroom_stops(strict) == pytest.approx(2.474, abs=0.001)


def test_skin_at_70_percent_is_1_45_over_grey() -> None:
    # Common practice, no source: skin at 70 % on BT.709 is +1.45 stops.
    assert percent_at(VIDEO, 1.45) == pytest.approx(70, abs=1)


def test_a_profile_may_put_grey_elsewhere() -> None:
    # Common practice, no source: a camera's video gamma puts grey near 44 %.
    video = replace(VIDEO, grey_percent=44)
    assert video.recorded_grey_percent == pytest.approx(44)
    assert level(video, (), 0).grey.percent == pytest.approx(44)
    assert headroom_stops(video) < headroom_stops(VIDEO)


@pytest.mark.parametrize(
    ("percent", "scale", "bits", "code"),
    # Legal 64 + 876 p and full 1023 p of ten bits (ITU-R BT.709-6, item 5); 1019 is 109 %.
    [(0, "legal", 10, 64), (100, "legal", 10, 940), (109, "legal", 10, 1019),
     (100, "full", 10, 1023), (0, "legal", 8, 16), (100, "legal", 8, 235), (200, "legal", 8, 255)],
)  # fmt: skip
def test_code_values(percent: float, scale: str, bits: int, code: int) -> None:
    profile = replace(VIDEO, scale=LevelScale(scale), bits=bits)
    assert code_value(percent, profile) == code


def test_exposure_moves_every_tone_and_clips_by_the_rest() -> None:
    landed = level(FLAT, (Reading(name="sky", stops=5.0, key=True),), 2.0)
    assert landed.grey.placed_stops == 2.0
    assert landed.grey.percent == pytest.approx(percent_at(FLAT, 2.0))
    assert landed.key.percent == 92
    assert landed.key.clipped_stops == pytest.approx(7.0 - headroom_stops(FLAT))
    assert landed.room_left_stops == pytest.approx(-landed.key.clipped_stops)


def test_zebras_follow_the_profile() -> None:
    flat, video = level(FLAT, (), 0), level(VIDEO, (), 0)
    assert (flat.zebra_one.percent, flat.zebra_two.percent) == (39, 92)
    assert (video.zebra_one.percent, video.zebra_two.percent) == (41, 109)
    assert flat.zebra_two.half_width_percent is None


def test_a_foot_that_stands_still_is_said() -> None:
    # An L: nothing under five stops below grey (0.18/32 = 0.005625), then evenly up.
    light = np.concatenate([[0.0, 0.002, 0.005625], np.geomspace(0.006, 4.0, 40)])
    level = np.concatenate([[0.1369, 0.13695, 0.137], np.linspace(0.14, 0.95, 40)])
    flat = Profile(name="L-log", curve=from_pairs("L-log", light, level), clip_percent=94)
    said = foot_doubt(flat)
    assert "stands still at 13.7 % from 5 stops under grey down" in said
    assert said in profile_doubts(flat)
    for profile in (FLAT, VIDEO):
        assert foot_doubt(profile) == ""
