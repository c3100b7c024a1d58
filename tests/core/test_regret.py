"""What a choice gives up, worked out by hand a criterion at a time."""

from dataclasses import replace
from math import hypot, log2
from typing import Any

import pytest
from hypothesis import given

from fotonomy.core.analysis.setup import analyse
from fotonomy.core.errors import RuleError
from fotonomy.core.exposure.light_budget import light_budget
from fotonomy.core.gear.neutral_density import density_to_stops
from fotonomy.core.gear.support import Support
from fotonomy.core.motion.cadence import COMFORTABLE_GAP_PERCENT
from fotonomy.core.motion.shutter import Shutter
from fotonomy.core.planner.cost import STRAIGHT, WISH, Yardstick, judge
from fotonomy.core.planner.exposure_modes import auto_ranges, mode_advice
from fotonomy.core.spec.intent import CRITERIA, Intent, Look
from fotonomy.core.spec.kind import Kind
from fotonomy.core.spec.setup import Setup
from tests.core.examples import AT_4M, ND, setup
from tests.core.test_solve import questions


def shortfalls(present: Setup, **changes: Any) -> dict[str, float]:
    return judge(replace(present, **changes), Yardstick(present)).shortfalls


def test_frame_rate_in_stops_from_what_the_shot_asks_for() -> None:
    assert shortfalls(setup(), frame_rate=50)["rate"] == pytest.approx(1)
    slow = setup(kind=Kind.SLOW_MOTION)
    # Four times slower than life at a 25 fps edit asks for 100 fps.
    assert shortfalls(slow, frame_rate=100)["rate"] == pytest.approx(0)
    assert shortfalls(slow)["rate"] == pytest.approx(2)
    burst = setup(kind=Kind.BURST, frame_rate=12, shutter=Shutter(time_s=1 / 500))
    assert shortfalls(burst)["rate"] == 0


def test_shutter_look_by_method() -> None:
    assert shortfalls(setup())["look"] == pytest.approx(0)
    # Leaving the angle at all counts half a stop beside how far one goes: sqrt(2² + 0.5²).
    assert shortfalls(setup(), shutter=Shutter(angle_deg=45))["look"] == pytest.approx(
        hypot(2, 0.5)
    )
    crisp = setup(intent=Intent(look=Look.CRISP))
    assert shortfalls(crisp, shutter=Shutter(angle_deg=45))["look"] == 0
    assert shortfalls(crisp, shutter=Shutter(angle_deg=180))["look"] == pytest.approx(hypot(1, 0.5))
    # Single pictures have no angle to look right.
    assert "look" not in shortfalls(
        setup(kind=Kind.BURST, frame_rate=12, shutter=Shutter(time_s=0.01))
    )


def test_cadence_counts_from_the_guide_and_stops_at_two() -> None:
    # 50 mm at 4 m on 36 mm: a field of 2.844 m. The gap is half a step at 180 degrees, and half
    # a metre of subject may hop 3 - 2·0.5/2.844 times as far as a whole frame.
    guide = COMFORTABLE_GAP_PERCENT / 100 * 2.844 * 50 * (3 - 1 / 2.844)
    assert shortfalls(setup(subject_speed_m_s=guide))["cadence"] == pytest.approx(0, abs=1e-3)
    assert shortfalls(setup(subject_speed_m_s=2 * guide))["cadence"] == pytest.approx(1, abs=1e-3)
    assert shortfalls(setup(subject_speed_m_s=500))["cadence"] == 2
    assert "cadence" not in shortfalls(setup())


def test_smear_wanted_and_frozen() -> None:
    # 1.422 m/s cross 2.844 m in 2 s: in 1/50 s 1 % of the width, 38.4 px of 3840.
    frozen = setup(subject_speed_m_s=1.422, intent=Intent(freeze_px=9.6))
    assert shortfalls(frozen)["smear"] == pytest.approx(2, abs=0.01)
    wanted = setup(subject_speed_m_s=1.422, intent=Intent(smear_percent=4))
    assert shortfalls(wanted)["smear"] == pytest.approx(2, abs=0.01)
    both = setup(subject_speed_m_s=1.422, intent=Intent(smear_percent=1, freeze_px=19.2))
    assert shortfalls(both)["smear"] == pytest.approx(1, abs=0.01)


def test_depth_short_in_full_and_to_spare_at_a_third() -> None:
    depth = analyse(setup()).focus.depth_m
    assert shortfalls(setup(intent=Intent(depth_m=4 * depth)))["depth"] == pytest.approx(
        2, abs=0.01
    )
    assert shortfalls(setup(intent=Intent(depth_m=depth / 4)))["depth"] == pytest.approx(
        0.6, abs=0.01
    )
    assert "depth" not in shortfalls(setup())


def test_flicker_only_where_lamps_are() -> None:
    timed = setup(shutter=Shutter(time_s=1 / 200), frame_rate=100)
    assert "flicker" not in shortfalls(timed)
    # 63.7 % of the ripple is left, 5 % is unseen: log2(0.637/0.05), and a stop that it is seen.
    lit = replace(timed, mains_lamps=True)
    assert shortfalls(lit)["flicker"] == pytest.approx(log2(0.6366 / 0.05) + 1, abs=0.01)
    assert shortfalls(replace(lit, shutter=Shutter(time_s=1 / 100)))["flicker"] == 0


def test_the_hand_counts_for_single_pictures_from_the_hand() -> None:
    held = setup(
        kind=Kind.BURST, frame_rate=12, shutter=Shutter(time_s=1 / 25), support=Support.HAND
    )
    # A still takes all of the sensor, 36 x 24 mm: 50 mm are 50 mm, 1/50 s against 1/25.
    assert shortfalls(held)["hand"] == pytest.approx(1.0, abs=0.01)
    assert "hand" not in shortfalls(replace(held, support=Support.TRIPOD))
    assert "hand" not in shortfalls(setup(support=Support.HAND))


def test_iso_by_base_and_gain() -> None:
    # Bases 500 and 3200; noise counts in looks-like ISO, so the steps under the upper base
    # come out worse than it.
    here = shortfalls(setup(), iso=500)
    assert (here["base"], here["noise"]) == (0, 0)
    at_base = shortfalls(setup(), iso=3200)
    assert at_base["base"] == pytest.approx(0)
    assert 1 < at_base["noise"] < log2(3200 / 500)
    below = shortfalls(setup(), iso=2000)
    assert (below["base"], below["noise"]) == (pytest.approx(log2(1.6)), pytest.approx(2))
    assert shortfalls(setup(), iso=250)["noise"] == 0


def test_glass_by_the_piece() -> None:
    assert shortfalls(setup(), nd_density=0.0)["glass"] == 0
    assert shortfalls(setup(), nd_density=0.9)["glass"] == 1
    # Three pieces, and four more for infrared from six stops on.
    assert shortfalls(setup(), nd_density=3.3)["glass"] == 3 + 4
    # Two pieces in front of 20 mm full frame, and three more for dark corners.
    wide = setup(focal_mm=20, nd_density=1.2, glass=ND)
    assert shortfalls(wide)["glass"] == 2 + 3


def test_moving_costs_framing_and_a_little_for_itself() -> None:
    # Twice the distance from the sensor: (8.1013 - v)/v over 79, v the lens's 50.31 mm there.
    moved = shortfalls(setup(), subject_distance_m=2 * AT_4M)
    assert moved["framing"] == pytest.approx(log2((8.10127 / 0.050312 - 1) / 79), abs=1e-3)
    assert moved["change"] == pytest.approx(1)


@given(questions())
def test_a_judgement_adds_up(spec: Setup) -> None:
    yardstick = Yardstick(spec)
    judged = judge(spec, yardstick)
    assert judged.error_stops == pytest.approx(light_budget(spec).error_stops)
    total = yardstick.of_miss(judged.error_stops)
    for name, stops in judged.shortfalls.items():
        assert name in CRITERIA or (name == WISH and stops > 0)
        total += yardstick.weight(name) * (stops if name in STRAIGHT else stops**2)
    assert judged.score == pytest.approx(total)
    assert judged.score >= 0


@pytest.mark.parametrize(("name", "times"), [("luck", 1.0), ("noise", -1.0), ("noise", 11.0)])
def test_an_emphasis_that_makes_no_sense_is_refused(name: str, times: float) -> None:
    with pytest.raises(RuleError):
        Intent(emphasis=((name, times),))


def test_where_floating_values_run_out() -> None:
    spec = setup(iris=4.0)
    error = light_budget(spec).error_stops
    shutter, iris, iso = auto_ranges(analyse(spec))
    # From 1/50 down to 1/25 is a stop, up to 1/8000 7.32; f/4 opens 2.3 stops to f/1.8.
    assert shutter.darker_stops == pytest.approx(1 + error, abs=0.01)
    assert shutter.brighter_stops == pytest.approx(log2(160) - error, abs=0.01)
    assert iris.darker_stops == pytest.approx(7 / 3 + error, abs=0.01)
    assert iso.darker_stops == pytest.approx(log2(12800 / 500) + error, abs=0.01)
    assert "at f/4 the shutter floats from 1/25 to 1/8000" in shutter.says


def test_which_way_to_expose() -> None:
    constant = mode_advice(analyse(setup()))
    assert constant.choice == "Everything by hand"
    moving = setup(subject_speed_m_s=1.0, light_change_stops=1.5, nd_density=1.2)
    assert mode_advice(analyse(moving)).choice == "Shutter and iris held, ISO floats"
    still = replace(moving, subject_speed_m_s=0.0, shutter=Shutter(angle_deg=45), nd_density=0.6)
    assert mode_advice(analyse(still)).choice == "Iris held, shutter floats"
    alone = replace(moving, kind=Kind.AERIAL)
    assert mode_advice(analyse(alone)).choice.startswith("Automatic")
    hopeless = replace(moving, light_change_stops=12)
    assert mode_advice(analyse(hopeless)).choice == "By hand, in steps"


def test_no_stop_is_lost_between_density_and_budget() -> None:
    lines = {line.key: line.stops for line in light_budget(setup(nd_density=1.8)).lines}
    assert lines["nd"] == pytest.approx(-density_to_stops(1.8))
