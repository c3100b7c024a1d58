"""Whether a motion looks right: gaps by what moves, pans by degrees, cameras that go somewhere."""

from dataclasses import replace

import pytest

from fotonomy.core.analysis.setup import analyse
from fotonomy.core.motion.cadence import Cadence, tolerance_of
from fotonomy.core.motion.camera_movement import Camera, Movement, Way, across_m_s
from fotonomy.core.motion.shutter import Shutter
from fotonomy.core.plan import plan
from fotonomy.core.spec.intent import Intent, Look
from tests.core.examples import LENS, setup
from tests.core.run_examples import ids, interval

WIDE = replace(LENS, focal_shortest_mm=20, focal_longest_mm=35)


def pan(deg_s: float, angle: float = 180, **changes: object) -> Cadence:
    return analyse(panned(deg_s, angle, **changes)).motion.cadence


def panned(deg_s: float, angle: float = 180, **changes: object):  # type: ignore[no-untyped-def]
    move = Movement(camera=Camera.PAN, pan_deg_s=deg_s)
    return setup(movement=move, shutter=Shutter(angle_deg=angle), **changes)


def test_a_walker_at_a_normal_lens_does_not_strobe() -> None:
    # Common practice, no source: nobody sees a walker strobe at 25 fps and 180 degrees.
    walker = setup(lens=WIDE, focal_mm=35, subject_distance_m=5, subject_speed_m_s=1.4)
    assert "motion.strobing" not in ids(plan(walker))
    # All of the frame moving by as much does: that is what the panning guide is about.
    camera = replace(
        walker, subject_speed_m_s=0, movement=Movement(camera=Camera.TRAVEL, travel_m_s=3.0)
    )
    assert "motion.strobing" in ids(plan(camera))


def test_a_subject_that_fills_the_frame_is_held_to_the_guide() -> None:
    assert (tolerance_of(1.0), tolerance_of(2.0), tolerance_of(0.0)) == (1.0, 1.0, 3.0)
    assert tolerance_of(0.5) == pytest.approx(2.0)
    fast = {"subject_speed_m_s": 2.0}
    assert "motion.strobing" not in ids(plan(setup(subject_size_m=0.1, **fast)))
    assert "motion.strobing" in ids(plan(setup(subject_size_m=2.8, **fast)))


def test_who_asks_for_a_crisp_look_is_not_told_that_it_is_crisp() -> None:
    crisp = setup(subject_speed_m_s=5.0, shutter=Shutter(angle_deg=90))
    assert "motion.strobing" in ids(plan(crisp))
    asked = replace(crisp, intent=Intent(look=Look.CRISP))
    assert "motion.strobing" not in ids(plan(asked))
    # Half as long again as asked is another matter.
    beyond = replace(asked, shutter=Shutter(time_s=1 / 1000))
    assert "motion.strobing" in ids(plan(beyond))


def test_the_pan_of_the_guide_in_degrees_a_second() -> None:
    # 36 mm at 50.6 mm (focused at four metres) see 39.1 degrees; 7 s at 24 fps and 180 degrees (panning tables of the
    # American Cinematographer Manual, from memory) are 7·24/25 s of gap at 25: 5.9 degrees a second.
    moved = analyse(panned(4.0)).motion
    assert moved.smooth_deg_s == pytest.approx(39.14 / (7 * 24 / 25), rel=0.01)
    assert moved.strobing_deg_s == pytest.approx(2 * 39.14 / (7 * 24 / 25), rel=0.01)
    assert [pan(rate) for rate in (5.5, 8.0, 15.0)] == [
        Cadence.COMFORTABLE, Cadence.BORDERLINE, Cadence.STROBING,
    ]  # fmt: skip


def test_an_open_shutter_does_not_make_a_fast_pan_comfortable() -> None:
    # No gap at 360 degrees, but a frame width in 0.44 s: nothing can be read.
    assert pan(90.0, 360) is Cadence.UNREADABLE
    assert pan(15.0, 360) is Cadence.BORDERLINE
    assert pan(5.0, 360) is Cadence.COMFORTABLE
    whip = {f.id: f for f in plan(panned(90.0)).findings}["motion.whip"]
    assert whip.number == pytest.approx(39.14 / 90, rel=0.02)
    calm = whip.fixes[0].changes[0].value
    assert pan(calm) is Cadence.COMFORTABLE
    assert pan(whip.fixes[1].changes[0].value) is not Cadence.UNREADABLE
    # On screen it is slower where it was recorded faster.
    assert pan(90.0, 180, frame_rate=100) is not Cadence.UNREADABLE


@pytest.mark.parametrize(
    ("way", "heading", "across"),
    [
        # A runner at 4 m/s across, a camera at 3 m/s: beside him one is left, past him seven go by.
        (Way.ALONGSIDE, 90, 1.0), (Way.ACROSS, 90, 7.0),
        # Towards or away from him: his own four.
        (Way.TOWARDS, 90, 4.0 + 3 * 0.5 / 2 / 10), (Way.AWAY, 90, 4.0 + 3 * 0.5 / 2 / 10),
        # He comes straight at the camera: the two close up at seven, or at one.
        (Way.TOWARDS, 0, 7 * 0.5 / 2 / 10), (Way.AWAY, 0, 1 * 0.5 / 2 / 10),
    ],
)  # fmt: skip
def test_speeds_between_two_that_move(way: Way, heading: float, across: float) -> None:
    # Vectors by hand; growth is half the size over the distance times the closing speed.
    assert across_m_s(4.0, heading, 0.5, 10.0, 3.0, way) == pytest.approx(across, abs=1e-9)


def test_walking_forward_is_not_walking_sideways() -> None:
    def smear(way: Way) -> float:
        move = Movement(camera=Camera.TRAVEL, travel_m_s=1.4, way=way)
        return analyse(setup(movement=move)).motion.smear_percent

    assert smear(Way.TOWARDS) < smear(Way.ACROSS) / 10
    assert smear(Way.TOWARDS) == pytest.approx(smear(Way.AWAY))


def test_a_camera_that_keeps_up_sees_the_background_go_by() -> None:
    move = Movement(camera=Camera.TRAVEL, travel_m_s=3.0, way=Way.ALONGSIDE, background_m=12.0)
    moved = analyse(setup(subject_speed_m_s=3.0, movement=move)).motion
    assert moved.mover == "background"
    # 3 m/s at twelve metres, where 36 mm see (12 - 0.0506)/0.0506 times their size.
    assert moved.smear_percent == pytest.approx(
        100 * 3 / 50 / (0.036 * (12 / 0.05063 - 1)), rel=0.01
    )


def test_what_is_ahead_streams_out_at_the_edge() -> None:
    # Half the frame's width for each distance travelled: 3 m/s for 1/50 s at 4.05 m, 0.74 %.
    move = Movement(camera=Camera.TRAVEL, travel_m_s=3.0, way=Way.TOWARDS)
    _, middle, _ = analyse(setup(movement=move)).shake.passing
    assert middle.smear_percent == pytest.approx(100 * 3 / 50 / (2 * 4.0506), rel=1e-3)


def test_over_a_sky_the_stars_move_and_the_tile_says_how_far() -> None:
    spec = interval(
        shutter=Shutter(time_s=20), frame_rate=1 / 30, lens=WIDE, focal_mm=20,
        run={"declination_deg": 0.0},
    )  # fmt: skip
    moved = analyse(spec).motion
    assert moved.mover == "stars"
    # 20 mm · 7.2921e-5 · 20 s = 0.0292 mm: 0.081 % of 36 mm, 3.1 of 3840 pixels.
    assert moved.smear_px == pytest.approx(20 * 7.2921e-5 * 20 / 36 * 3840, rel=0.01)
    gull = replace(spec, subject_speed_m_s=2.0)
    assert analyse(gull).motion.mover == "subject"
