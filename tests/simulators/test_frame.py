"""Cuts of frames show what their setups say: measured in the pictures themselves."""

from dataclasses import replace

import numpy as np
import pytest

from fotonomy.core.analysis.setup import analyse
from fotonomy.core.drill.exercise import LEVELS, Cut
from fotonomy.core.drill.exercise_kind import ExerciseKind
from fotonomy.core.drill.generate import exercise
from fotonomy.core.motion.shutter import Shutter
from fotonomy.core.pictures.frame_levels import srgb_linear
from fotonomy.core.spec.setup import Setup
from fotonomy.simulators.frame import HIGH_PX, WIDE_PX, _smeared, cut_of
from tests.core.examples import setup


def light_of(made: Setup, cut: Cut) -> np.ndarray:
    """Linear light of a cut's rows, one channel."""
    return np.asarray(srgb_linear(cut_of(analyse(made), cut)[:, :, 0] / 255.0))


def edge_px(row: np.ndarray) -> float:
    """How wide an edge is from a tenth of its step to nine tenths, in pixels."""
    low, high = row[:6].mean(), row[-6:].mean()
    share = (row - low) / (high - low)
    return float(np.argmax(share > 0.9) - np.argmax(share > 0.1))


@pytest.mark.parametrize("time_s", [1 / 100, 1 / 200, 1 / 400])
def test_bars_smear_by_as_much_as_the_plan_says(time_s: float) -> None:
    made = replace(
        setup(subject_speed_m_s=1.2, subject_distance_m=4.0), shutter=Shutter(time_s=time_s)
    )
    smear_px = analyse(made).motion.smear_percent / 100 * made.delivered_px
    assert 3 < smear_px < 22
    # The left edge of the first bar: from the ground behind it to the bar.
    row = light_of(made, Cut.MOVING)[150:200, 104:141].mean(axis=0)
    # Of a straight ramp eight tenths lie between a tenth and nine tenths.
    assert edge_px(row) == pytest.approx(0.8 * smear_px, abs=1.6)


def test_a_smear_between_two_pixels_counts_by_shares() -> None:
    dot = np.zeros((1, 15), dtype=np.float32)
    dot[0, 7] = 4.5
    assert _smeared(dot, 4.5)[0, 4:11].tolist() == pytest.approx([0, 0.75, 1, 1, 1, 0.75, 0])
    assert _smeared(dot, 1.0)[0, 7] == 4.5


def test_what_is_behind_gets_as_soft_as_the_plan_says() -> None:
    for iris in (4.0, 5.6, 8.0):
        made = setup(iris=iris, subject_distance_m=3.0, subject_speed_m_s=0.0)
        blur_px = analyse(made).focus.background_blur_percent / 100 * made.delivered_px
        column = light_of(made, Cut.MOVING)[96 - 30 : 96 + 30, 276:288].mean(axis=1)
        # The horizon falls from light to dark; a disc's edge has most of it in 0.69 of its width.
        assert edge_px(column[::-1]) == pytest.approx(0.69 * blur_px, abs=1.6)


def test_grain_grows_with_the_iso_as_the_model_says() -> None:
    spreads = []
    for iso in (100, 1600, 12_800):
        light = light_of(setup(iso=iso), Cut.SHADOWS)
        patch = light[HIGH_PX // 2 + 10 : -10, WIDE_PX // 3 + 10 : 2 * WIDE_PX // 3 - 10]
        spreads.append(float(patch.std() / patch.mean()))
    assert spreads[0] < spreads[1] / 2
    assert spreads[1] < spreads[2] / 1.5


@pytest.mark.parametrize("level", LEVELS)
def test_frames_are_shown_where_the_eye_can_tell_them_apart(level: int) -> None:
    shown = 0
    for seed in range(60):
        made = exercise(ExerciseKind.WHICH_ONE, level, seed)
        if made.cut is None:
            continue
        shown += 1
        one, two = (light_of(each, made.cut) for each in made.setups)
        if made.cut is Cut.SHADOWS:
            dark = (slice(HIGH_PX // 2 + 10, -10), slice(2 * WIDE_PX // 3 + 10, -10))
            spread = sorted((float(one[dark].std()), float(two[dark].std())))
            assert spread[1] > 1.2 * spread[0]
            noisy = "left" if one[dark].std() > two[dark].std() else "right"
            assert made.answer.right == noisy
        else:
            found = [analyse(each) for each in made.setups]
            smears = [each.motion.smear_percent for each in found]
            blurs = [each.focus.background_blur_percent for each in found]
            told = smears if "shutter" in made.ask else blurs
            small, large = sorted(percent / 100 * 3840 for percent in told)
            assert large >= 5
            assert large - small >= 4
            assert float(np.abs(one - two).mean()) > 0.001
    assert shown >= 6
