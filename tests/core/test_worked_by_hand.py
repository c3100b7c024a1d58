"""Values worked out by hand where a slip of a factor, a sign or a rounding once went unseen."""

from dataclasses import replace
from math import log2

import pytest

from fotonomy.core.analysis.interval import IntervalRun
from fotonomy.core.analysis.setup import analyse, run_of
from fotonomy.core.exposure.ramp import longest_ramped_s
from fotonomy.core.motion.cadence import motion
from fotonomy.core.motion.camera_movement import Camera, Movement
from fotonomy.core.optics.star_trails import rule_500_s
from fotonomy.core.photometry.stops import aperture_stops
from fotonomy.core.spec.readings import Reading, Surface
from fotonomy.core.stills.interval import cycle
from fotonomy.core.stills.intervalometer import Intervalometer
from fotonomy.core.stills.long_exposure import LongExposure
from fotonomy.core.tone.white_balance import FULL_GEL_MIRED, gels_for
from tests.core.examples import BODY, FLAT, LENS, setup
from tests.core.run_examples import interval, long_exposure


def test_an_unmarked_iris_is_taken_at_its_word() -> None:
    # The definition of a stop: light goes with the square of the f-number. log2 7.3 is 2.867896.
    assert aperture_stops(7.3) == pytest.approx(2 * 2.867896, abs=1e-5)


def test_speeds_of_the_cadence_guide() -> None:
    # Half open at 25: dark for 1/50 s. A gap of 0.3 % of 2 m is 6 mm, of 0.6 % 12 mm.
    found = motion(
        speed_m_s=1, field_m=2, time_s=1 / 50, capture_fps=25, project_fps=25, width_px=1920
    )
    assert found.comfortable_m_s == pytest.approx(0.3, rel=0.05)
    assert found.borderline_m_s == pytest.approx(2 * found.comfortable_m_s)


def test_the_clipping_zebra_is_never_set_above_the_clip() -> None:
    # At 92.7 a zebra rounded to 93 would never show.
    level = analyse(setup(profile=replace(FLAT, clip_percent=92.7))).level
    assert level.zebra_two.percent == 92.0


def test_a_self_timer_counts_to_the_deaf_time() -> None:
    found = cycle(interval_s=10, exposure_s=2, self_timer_s=3, noise_frame=True, write_s=1)
    assert found.deaf_s == 3 + 2 + 2


def test_a_ramp_takes_no_more_than_four_fifths_of_the_interval() -> None:
    # Writing takes nothing here, so that the share alone limits: 0.8 of 5 s. Common practice.
    assert longest_ramped_s(interval(frame_rate=1 / 5), 0.0) == pytest.approx(4.0)


def test_a_second_gel_has_to_earn_its_place() -> None:
    # A full gel is 133.9 mired; an eighth more would be missed by 16.7, which a second gel at four
    # mired mends. Three mired are not worth one.
    wanted = 1.125 * FULL_GEL_MIRED
    assert len(gels_for(wanted)) == 2
    assert len(gels_for(FULL_GEL_MIRED + 3)) == 1


def test_of_two_stabilisers_the_better_one_counts() -> None:
    both = setup(body=replace(BODY, stabiliser_stops=3.0), lens=replace(LENS, stabiliser_stops=2.0))
    one = setup(body=replace(BODY, stabiliser_stops=3.0))
    none = setup()
    assert analyse(both).shake.handheld_s == pytest.approx(analyse(one).shake.handheld_s)
    assert analyse(one).shake.handheld_s == pytest.approx(8 * analyse(none).shake.handheld_s)


def test_what_a_travelling_camera_passes_nearby() -> None:
    rolling = Movement(camera=Camera.TRAVEL, travel_m_s=1.0)
    near, middle, _ = analyse(setup(movement=rolling, subject_distance_m=4.0)).shake.passing
    # Near objects at 0.35 of 4 m, common practice; the picture is larger by the distances less
    # the focal length: 3.95 / 1.35.
    assert near.smear_px / middle.smear_px == pytest.approx(2.9259, abs=1e-3)


def test_a_run_without_a_count_is_stopped_between_two_frames() -> None:
    shows = Intervalometer(delay_s=0, exposure_s=0, interval_s=4, count=None, frames=11,
                           first_s=2, step_s=4, bulb=False)  # fmt: skip
    assert shows.last_s == 42
    assert shows.stop_s == 44


def test_the_500_rule_counts_the_crop() -> None:
    assert rule_500_s(24, 1.5) == pytest.approx(13.889, abs=1e-3)


def test_a_pass_for_a_lamp_closes_the_iris_by_its_stops() -> None:
    lamps = (Reading(name="lamp", stops=7.0, surface=Surface.LAMP),)
    setup_with = long_exposure(readings=lamps, iris=4.0)
    (one,) = run_of(analyse(setup_with), LongExposure).lamps
    assert one.less_stops > 0.5
    # A stop is a factor of the square root of two in f-number.
    assert log2(one.iris / 4.0) == pytest.approx(one.less_stops / 2)


def test_a_run_covers_one_interval_less_than_its_frames() -> None:
    # 20 s at 25 a second are 500 frames; between them lie 499 intervals of 5 s.
    run = run_of(analyse(interval(frame_rate=1 / 5)), IntervalRun)
    assert run.frames == 500
    assert run.covers_s == pytest.approx(499 * 5)
