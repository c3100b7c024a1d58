"""Edges of small functions that stand by themselves, each met from both sides.

Values are worked out by hand beside each; the bounds are common practice, no source.
"""

from dataclasses import replace
from datetime import UTC, datetime, time, timedelta
from math import inf

import numpy as np
import pytest

from fotonomy.core.drill.answers import Amount, Placed
from fotonomy.core.drill.exercise_kind import ExerciseKind
from fotonomy.core.drill.generate import exercise
from fotonomy.core.drill.offline_rules import rules_for
from fotonomy.core.errors import RuleError
from fotonomy.core.gear.profile import Profile
from fotonomy.core.notation.writing import format_length
from fotonomy.core.optics.depth_of_field import depth_m, near_far_m
from fotonomy.core.parsing.intent import parse_pan
from fotonomy.core.parsing.schedule import format_hour
from fotonomy.core.parsing.stills import parse_moment
from fotonomy.core.pictures.patches import unpacked
from fotonomy.core.sky.track import Stretch
from fotonomy.core.spec.changes import Change, applied
from fotonomy.core.stills.burst import Buffer
from fotonomy.core.takes.cut_list import even_beats
from tests.core.examples import FLAT, setup

NOON = datetime(2027, 6, 5, 12, tzinfo=UTC)


def test_a_buffer_clears_by_what_is_held_in_it() -> None:
    # 4 frames/s come in and 3 go out: half a second holds half a frame, written in a sixth.
    buffer = Buffer(frames=20, rate_fps=4.0, write_fps=3.0)
    assert buffer.clears_s(0.5) == pytest.approx(0.5 / 3.0)
    assert buffer.clears_s(0.0) == 0.0
    assert Buffer(frames=20, rate_fps=4.0, write_fps=0.0).clears_s(1.0) == inf


@pytest.mark.parametrize(
    ("text", "degrees"),
    [("0", 0.0), ("0.5", 0.5), ("30°", 30.0), ("30 deg/s", 30.0), ("2000", 2000.0)],
)
def test_a_pan_is_read_in_degrees_a_second(text: str, degrees: float) -> None:
    assert parse_pan(text) == degrees


@pytest.mark.parametrize(
    ("minutes", "text"),
    [(0, "00:00"), (59, "00:59"), (60, "01:00"), (119, "01:59"), (1439, "23:59")],
)
def test_minutes_of_a_day_are_written_as_an_hour(minutes: float, text: str) -> None:
    assert format_hour(minutes) == text


@pytest.mark.parametrize(
    ("metres", "text"), [(999.0, "999 m"), (1000.0, "1 km"), (1000.4, "1 km"), (1500.0, "1.5 km")]
)
def test_a_length_is_said_in_kilometres_from_one_on(metres: float, text: str) -> None:
    assert format_length(metres) == text


def test_a_moment_of_a_zeroth_is_none() -> None:
    assert parse_moment("1/20") == 0.05
    with pytest.raises(RuleError):
        parse_moment("1/0")


@pytest.mark.parametrize(("early_s", "late_s", "holds"), [
    (0, 0, True), (1, 0, True), (0, 1, True), (2, 0, False), (0, 2, False), (-5, -5, True),
])  # fmt: skip
def test_a_stretch_holds_another_to_the_second(early_s: int, late_s: int, holds: bool) -> None:
    whole = Stretch(NOON, NOON + timedelta(hours=1))
    other = Stretch(
        NOON - timedelta(seconds=early_s), NOON + timedelta(hours=1, seconds=late_s)
    )  # fmt: skip
    assert whole.holds(other) is holds


def test_the_depth_is_what_lies_between_the_limits() -> None:
    near, far = near_far_m(50, 8.0, 0.03, 4.0)
    assert depth_m(50, 8.0, 0.03, 4.0) == pytest.approx(far - near)
    assert depth_m(50, 8.0, 0.03, 4.0) < far


@pytest.mark.parametrize(("bits", "kept"), [(7, False), (8, True), (16, True), (17, False)])
def test_a_profile_is_recorded_in_eight_to_sixteen_bits(bits: int, kept: bool) -> None:
    if kept:
        assert replace(FLAT, bits=bits).bits == bits
    else:
        with pytest.raises(RuleError):
            replace(FLAT, bits=bits)
    assert isinstance(FLAT, Profile)


@pytest.mark.parametrize(
    ("tint", "kept"), [(-100.0, True), (-100.5, False), (100.0, True), (100.5, False)]
)
def test_a_tint_lies_within_a_hundred(tint: float, kept: bool) -> None:
    if kept:
        assert setup(tint_cc=tint).tint_cc == tint
    else:
        with pytest.raises(RuleError):
            setup(tint_cc=tint)


@pytest.mark.parametrize(
    ("bpm", "kept"), [(19.9, False), (20.0, True), (400.0, True), (400.1, False)]
)
def test_music_has_twenty_to_four_hundred_beats(bpm: float, kept: bool) -> None:
    if kept:
        assert even_beats(bpm, (4,), 60.0)[0] == 0
    else:
        with pytest.raises(RuleError):
            even_beats(bpm, (4,), 60.0)


@pytest.mark.parametrize("picture", [
    np.zeros((4, 6), np.uint16), np.zeros((4, 6, 2), np.uint16), np.zeros((4, 6, 3), np.uint8),
    np.zeros((4, 6, 3), np.float32),
])  # fmt: skip
def test_what_are_no_three_planes_of_sixteen_bits_are_no_tiles(picture: np.ndarray) -> None:
    with pytest.raises(ValueError, match="three planes"):
        unpacked(picture, 600)
    assert unpacked(np.zeros((4, 6, 3), np.uint16), 600).width_px == 600


def test_a_planned_hour_moves_the_start_and_nothing_where_there_is_none() -> None:
    begins = setup(starts=NOON)
    moved = applied(begins, (Change("planned", "17:45"),))
    assert moved.starts is not None
    assert moved.starts.time() == time(17, 45)
    assert applied(setup(), (Change("planned", "17:45"),)).starts is None


def test_a_zebra_under_the_clip_is_right_to_its_rounding() -> None:
    """Two percent under the clip, and half a percent that a camera rounds by, either way."""
    made = next(
        one for seed in range(40)
        if isinstance((one := exercise(ExerciseKind.PLACE_THE_FACE, 2, seed)).answer, Placed)
    )  # fmt: skip
    answer = made.answer
    assert isinstance(answer, Placed)
    clip = answer.clip_percent
    assert rules_for(made)["zebra"]["edges"] == pytest.approx(
        [clip - 6.0, clip - 2.5, clip + 0.5, clip + 0.5]
    )


@pytest.mark.parametrize(("guess", "side"), [("99.5", "under"), ("100.5", "over"), ("150", "over")])
def test_a_guess_is_over_or_under_by_its_share(guess: str, side: str) -> None:
    amount = Amount(100.0, "s", 1.0, 1000.0, scale="ratio")
    made = exercise(ExerciseKind.HOW_MANY_STOPS, 1, 1)
    words = amount.grade({"answer": guess}, made).words
    assert side in words or words == amount.said
