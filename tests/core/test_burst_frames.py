"""A burst: frames that differ are kept, and thinning it tells what fewer a second would have missed.

The chance that a frame falls into a moment, its length times the rate, is that of counting; what
makes a frame another one is common practice, no source.
"""

from datetime import datetime

import numpy as np
import pytest

from fotonomy.core.pictures.burst_frames import burst_report, distinct_frames, moment_about
from fotonomy.core.pictures.frame_measure import changed_share, small_light
from fotonomy.core.spec.readings import Reading
from fotonomy.exchange.pictures import read_pixels
from fotonomy.simulators.run_frames import burst_of_stills
from tests.core.examples import setup

WALL = setup(readings=(Reading(name="wall", stops=-1.0, key=True),))


def light(at: int) -> np.ndarray:
    """A wall with a patch that stands at another place in every state."""
    wall = np.zeros((54, 96), dtype=np.float32)
    wall[10:20, 4 * at : 4 * at + 10] = 2.0
    return wall


def burst(states: list[int]) -> list[np.ndarray]:
    return [light(one) for one in states]


def evenly(count: int, fps: float) -> list[float]:
    return [k / fps for k in range(count)]


def test_only_frames_that_differ_are_kept() -> None:
    assert distinct_frames(burst([0, 0, 1, 1, 1, 2, 0])) == (0, 2, 5, 6)
    assert distinct_frames(burst([3] * 5)) == (0,)


@pytest.mark.parametrize(("cells", "differs"), [(62, False), (63, True)])
def test_a_frame_differs_from_an_eightieth_on(cells: int, differs: bool) -> None:
    # 0.012 of 96 x 54 cells is 62.2.
    wall = np.zeros((54, 96), dtype=np.float32)
    other = wall.copy()
    other.ravel()[:cells] = 0.5
    assert (distinct_frames([wall, other]) == (0, 1)) is differs


def test_light_that_changes_as_a_whole_is_no_other_picture() -> None:
    assert changed_share(light(1), light(1) + 0.8) == 0
    assert changed_share(light(1), light(2)) == pytest.approx(2 * 4 * 10 / (96 * 54))


def test_the_moment_is_what_looks_like_the_keeper_and_lies_beside_it() -> None:
    states = burst([0, 1, 1, 1, 2, 1])
    assert moment_about(states, 2) == (1, 3)
    assert moment_about(states, 0) == (0, 0)
    assert moment_about(states, 5) == (5, 5)


def test_fewer_a_second_catch_the_moment_as_often_as_counting_says() -> None:
    """A moment of two frames at 24 a second: at 12 always, at 6 in half of all starts."""
    states = burst([0] * 11 + [1] * 2 + [0] * 11)
    found = burst_report(states, evenly(24, 24), 11, rates=(12, 6))
    assert found.rate_fps == pytest.approx(24)
    assert found.moment == (11, 12)
    assert found.moment_s == pytest.approx(2 / 24)
    twelve, six = found.thinned
    assert (twelve.frames, twelve.moment_share) == (12, 1.0)
    assert (six.frames, six.moment_share) == (6, 0.5)
    assert (twelve.distinct_kept, six.distinct_kept) == (3, 2)


def test_rates_at_and_over_the_own_are_not_asked() -> None:
    states, at = burst([0, 1, 2, 3, 4, 5, 6, 7]), evenly(8, 10)
    found = burst_report(states, at, rates=(20, 10, 9.6, 5))
    assert [one.rate_fps for one in found.thinned] == [5]
    assert found.thinned[0].distinct_kept == 4
    assert found.thinned[0].moment_share is None
    assert found.moment is None


def test_a_burst_without_time_or_frames_is_refused() -> None:
    with pytest.raises(ValueError, match="two frames"):
        burst_report(burst([1]), [0.0])
    with pytest.raises(ValueError, match="two moments"):
        burst_report(burst([1, 2]), [3.0, 3.0])


def test_the_stand_ins_burst_shows_its_moment() -> None:
    files = list(burst_of_stills(
        WALL, datetime(2027, 6, 5, 15, 40), 24, 20, moment=(9, 12), serial="A1"  # noqa: DTZ001
    ))  # fmt: skip
    lights = [small_light(read_pixels(one.jpeg)) for one in files]
    # The bright thing moves on in every frame: what is alike is that it is open.
    found = burst_report(lights, evenly(24, 20), 10)
    assert len(found.distinct) >= 6
    assert found.moment is not None
    assert found.moment[0] >= 9
    assert found.moment[1] <= 12
