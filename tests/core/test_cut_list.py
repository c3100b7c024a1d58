"""Cuts on the beat, worked by hand: 60/bpm seconds a beat, each cut the nearest frame to its own."""

from fractions import Fraction
from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fotonomy.core.curves.transfer_functions import Bt709, encode
from fotonomy.core.errors import RuleError
from fotonomy.core.takes.cut_list import (
    BPM_RANGE,
    MOST_CUTS,
    Slot,
    cut_to,
    even_beats,
    read_beats,
    slots,
)
from fotonomy.core.tone.night_grade import NightGrade
from tests.core.examples import FLAT, VIDEO


def test_a_bar_at_ninety_two_is_worked_by_hand() -> None:
    # 60/92 = 0.652174 s a beat, four of them 2.608696 s: 65.217 frames at 25, then 130.43, 195.65.
    beats = even_beats(92, (4,), 8)
    assert [float(one) for one in beats] == pytest.approx([0, 2.608696, 5.217391, 7.826087])
    found = slots(beats, 25)
    assert [(one.first, one.frames) for one in found] == [(0, 65), (65, 65), (130, 66)]
    # The cut at 65 frames is at 2.600 s, 8.7 ms early.
    assert found[1].off_ms == pytest.approx(-8.696, abs=0.001)


def test_a_pattern_begins_again() -> None:
    beats = even_beats(120, (4, 4, 8), 12.0)
    assert [float(one) for one in beats] == [0, 2, 4, 8, 10, 12]


@given(
    st.floats(*BPM_RANGE), st.lists(st.integers(1, 16), min_size=1, max_size=5),
    st.sampled_from([23.976, 24.0, 25.0, 29.97, 59.94]),
)  # fmt: skip
def test_no_drift_is_added_up(bpm: float, pattern: list[int], fps: float) -> None:
    bpm = round(bpm, 2)
    try:
        beats = even_beats(bpm, pattern, 300)
    except RuleError:
        return
    found = slots(beats, fps)
    # Half a frame, wherever in the music.
    assert all(abs(one.off_ms) <= 500 / fps + 1e-6 for one in found)
    assert all(one.first + one.frames == other.first for one, other in pairwise(found))
    assert sum(one.frames for one in found) == pytest.approx(float(beats[-1]) * fps, abs=1)


def test_typed_beats_are_read() -> None:
    assert read_beats("0 1.92; 3,84\n1:02.5") == (
        0, Fraction("1.92"), Fraction("3.84"), Fraction("62.5"),
    )  # fmt: skip
    # Two beats in one frame share its cut.
    assert len(slots(read_beats("0 1 1.01 2"), 25)) == 2


@pytest.mark.parametrize("text", ["", "1", "1 1", "2 1", "a b", "1 -2", "1 1:99999999", "0 nan",
                                  "0 1e3", "0 30000"])  # fmt: skip
def test_beats_that_are_none_are_refused(text: str) -> None:
    with pytest.raises(RuleError) as told:
        read_beats(text)
    assert told.value.field == "beats"


@pytest.mark.parametrize(
    ("bpm", "pattern", "length", "field"),
    [(19.9, (4,), 60, "bpm"), (400.1, (4,), 60, "bpm"), (float("nan"), (4,), 60, "bpm"),
     (92, (), 60, "pattern"), (92, (0,), 60, "pattern"), (92, (65,), 60, "pattern"),
     (92, (4,), 0, "length"), (92, (4,), 1, "length"), (92, (4,), 30_000, "length"),
     (400, (1,), 20_000, "length")],
)  # fmt: skip
def test_music_that_makes_no_sense_is_refused(
    bpm: float, pattern: tuple[int, ...], length: float, field: str
) -> None:
    with pytest.raises(RuleError) as told:
        even_beats(bpm, pattern, length)
    assert told.value.field == field


def test_many_cuts_are_bounded() -> None:
    assert len(even_beats(400, (1,), round((MOST_CUTS - 1) * 0.15, 2))) == MOST_CUTS


def test_clips_go_into_slots_in_order_and_are_not_stretched() -> None:
    places = [Slot(1, 0, 50, 0), Slot(2, 50, 50, 0), Slot(3, 100, 50, 0)]
    found = cut_to(places, [60, 40])
    assert [(one.clip, one.short_frames) for one in found] == [(0, 0), (1, 10), (None, 0)]


def test_dusk_becomes_night_by_two_stops_in_the_middle_alone() -> None:
    """Grey at 0.18 is taken to 0.045 of BT.709; black and white stay."""
    plain = NightGrade(cooler_mired=0)
    grey = VIDEO.grey_linear
    signal = float(encode(VIDEO.curve, grey))
    shown = plain.apply(VIDEO, [signal] * 3)
    assert shown == pytest.approx([float(encode(Bt709(), 0.045))] * 3, abs=0.02)
    assert plain.apply(VIDEO, [0.0] * 3) == pytest.approx([0] * 3, abs=1e-6)
    cooled = NightGrade().apply(FLAT, [float(encode(FLAT.curve, FLAT.grey_linear))] * 3)
    assert cooled[2] > cooled[1] > cooled[0]
    with pytest.raises(RuleError):
        NightGrade(darker_stops=7)
