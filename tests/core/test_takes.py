"""Plan against actual, by hand: stops are doublings (APEX, ISO 2720), mired is 10⁶/K."""

from dataclasses import replace
from math import log2

import pytest

from fotonomy.core.motion.shutter import Shutter
from fotonomy.core.takes.actual import SAME_STOPS, actual_of, exposed_stops
from tests.core.examples import setup

PLANNED = {
    "frame_rate": "25", "shutter": "180°", "iris": "f/4", "iso": "500", "nd_density": "0.9",
    "white_k": "5600 K",
}  # fmt: skip


def test_each_setting_moves_the_exposure_by_its_stops() -> None:
    done = {
        "shutter": "90°", "iris": "f/2.8", "iso": "1000", "nd_density": "0.6",
    }  # fmt: skip
    found = actual_of(setup(), PLANNED, done)
    stops = {one.name: one.stops for one in found.differences}
    # Half the angle is a stop less; f/4 to f/2.8 one more, ISO doubled one more; 0.3 of density is
    # a stop (0.3 / log10 2 = 0.997).
    assert stops == pytest.approx(
        {"shutter": -1, "iris": 1, "iso": 1, "nd_density": 0.997}, abs=0.03
    )
    assert found.stops == pytest.approx(1.997, abs=0.03)
    assert [one.name for one in found.differences] == ["shutter", "iris", "iso", "nd_density"]
    assert (found.planned.iso, found.done.iso) == (500, 1000)
    assert found.size == pytest.approx(1.0, abs=0.03)


def test_another_frame_rate_at_the_same_angle_is_shorter() -> None:
    found = actual_of(setup(), PLANNED, {"frame_rate": "50"})
    (one,) = found.differences
    # 180° of 1/50 s is half the time of 180° of 1/25 s.
    assert one.stops == pytest.approx(-1.0)
    assert (one.planned, one.actual) == ("25", "50")


def test_white_is_told_in_mired_and_moves_no_exposure() -> None:
    found = actual_of(setup(), PLANNED, {"white_k": "4000 K"})
    (one,) = found.differences
    # 10⁶/5600 − 10⁶/4000 = 178.6 − 250 = −71.4: a lower setting turns the picture bluer.
    assert one.mired == pytest.approx(-71.4, abs=0.1)
    assert (one.stops, found.stops) == (0, 0)
    assert one.size == pytest.approx(71.4 / 50, abs=0.01)


def test_marks_that_are_the_same_make_no_difference() -> None:
    same = {**PLANNED, "iris": "f/4.1", "white_k": "5660 K"}
    # 2 log2(4.1/4) = 0.071; 178.6 − 176.7 = 1.9 mired.
    assert actual_of(setup(), PLANNED, same).differences == ()
    assert SAME_STOPS == 0.1
    # 2 log2(4.2/4) = 0.141; 178.6 − 174.8 = 3.8 mired.
    found = actual_of(setup(), PLANNED, {"iris": "f/4.2", "white_k": "5720 K"}).differences
    assert [one.stops for one in found] == pytest.approx([-0.141, 0], abs=0.002)


def test_the_plan_of_the_take_counts_not_the_setup_as_it_stands() -> None:
    later = setup(iso=3200)
    assert actual_of(later, PLANNED, PLANNED).differences == ()
    (one,) = actual_of(later, PLANNED, {"iso": "3200"}).differences
    assert one.stops == pytest.approx(log2(6.4))


def test_what_cannot_be_read_counts_as_not_said() -> None:
    found = actual_of(setup(), {"iso": "nonsense"}, {"iso": "very high", "iris": "f/2.8"})
    assert [one.name for one in found.differences] == ["iris"]


def test_what_the_camera_wrote_against_what_was_set() -> None:
    done = replace(setup(), shutter=Shutter(time_s=1 / 50), iris=4.0, iso=500)
    same = {"exposure_s": 0.02, "f_number": 4.0, "iso": 500}
    assert exposed_stops(done, same) == pytest.approx(0)
    # Twice the time, a stop wider, half the ISO: a stop over in all.
    other = {"exposure_s": 0.04, "f_number": 2.828427, "iso": 250}
    assert exposed_stops(done, other) == pytest.approx(1.0, abs=1e-4)
    for lacking in (
        {},
        {"exposure_s": 0.02, "f_number": 4},
        {**same, "iso": 0},
        {**same, "iso": "x"},
    ):
        assert exposed_stops(done, lacking) is None
