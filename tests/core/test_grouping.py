"""Pictures brought home, in groups by the clock: what belongs together, runs, what is missing."""

import pytest

from fotonomy.core.takes.grouping import (
    FEWEST_OF_RUN,
    LONGEST_INTERVAL_S,
    TOGETHER_S,
    Shot,
    grouped,
)
from fotonomy.core.takes.matching import BEFORE_S, Taken, clock_offset


def shots(*times: float | None, camera: str = "A", take: str = "") -> list[Shot]:
    return [Shot(k, at, camera, take) for k, at in enumerate(times)]


@pytest.mark.parametrize(
    ("times", "sizes"),
    [
        ((0.0, TOGETHER_S), [2]),
        ((0.0, TOGETHER_S + 1), [1, 1]),
        # A run of frames at two minutes: its gaps are alike, each longer than a minute and a half.
        ((0.0, 120.0, 240.0, 360.0), [4]),
        ((0.0, 120.0, 240.0, 400.0), [3, 1]),
        # As long within a tenth: 132 s beside 120 s, not 134 s.
        ((0.0, 120.0, 252.0), [3]),
        ((0.0, 120.0, 254.0), [1, 1, 1]),
        ((0.0, LONGEST_INTERVAL_S, 2 * LONGEST_INTERVAL_S), [3]),
        ((0.0, LONGEST_INTERVAL_S + 1, 2 * LONGEST_INTERVAL_S + 2), [1, 1, 1]),
    ],
)
def test_what_belongs_together(times: tuple[float, ...], sizes: list[int]) -> None:
    assert [len(one.shots) for one in grouped(shots(*times))] == sizes


def test_another_camera_or_another_take_is_another_group() -> None:
    mixed = [Shot(1, 0.0, "A"), Shot(2, 1.0, "B"), Shot(3, 2.0, "A"), Shot(4, 3.0, "A", "t")]
    found = [(one.camera, one.take, [s.key for s in one.shots]) for one in grouped(mixed)]
    assert found == [("A", "", [1, 3]), ("B", "", [2]), ("A", "t", [4])]


def test_what_has_no_clock_comes_last() -> None:
    first, last = grouped([*shots(None), Shot(9, 50.0, "A")])
    assert (first.start_s, first.end_s, last.start_s) == (50.0, 50.0, None)


def test_a_run_says_its_interval_and_what_is_missing() -> None:
    (run,) = grouped(shots(0.0, 6.0, 12.0, 24.0, 30.0, 36.0, 42.0, 48.0, 60.0, 66.0, 72.0))
    assert (run.every_s, run.missing) == (6.0, 2)
    few = [6.0 * k for k in range(FEWEST_OF_RUN - 1)]
    assert grouped(shots(*few))[0].every_s is None
    assert grouped(shots(*few, 6.0 * len(few)))[0].every_s == 6.0
    # A burst, and pictures as somebody liked, are no run.
    assert grouped(shots(*(0.1 * k for k in range(20))))[0].every_s is None
    assert grouped(shots(0.0, 5.0, 7.0, 40.0, 44.0, 61.0, 80.0))[0].every_s is None


def test_pictures_of_one_moment_say_no_clock_but_that_it_is_right() -> None:
    takes = [Taken("a", 0.0, 5.0), Taken("b", 4000.0, 5.0), Taken("c", 9000.0, 5.0)]
    assert clock_offset([5000.0, 5004.0, 5008.0], takes) is None
    near = clock_offset([4060.0, 4064.0], takes)
    assert near is not None
    assert abs(near.seconds) <= BEFORE_S
    # Two moments that lie as two takes do say it.
    apart = clock_offset([1000.0, 1004.0, 5000.0, 5004.0], takes)
    assert apart is not None
    assert apart.seconds == pytest.approx(1000.0, abs=10)
