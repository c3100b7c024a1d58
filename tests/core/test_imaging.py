"""Where a lens stands and how large it draws: against the thin-lens equation and engravings."""

from dataclasses import replace
from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from fotonomy.core.analysis.setup import analyse
from fotonomy.core.errors import RuleError
from fotonomy.core.exposure.light_budget import light_budget
from fotonomy.core.gear.imaging import focused, reach
from fotonomy.core.gear.lens import Tube
from fotonomy.core.optics.depth_of_field import bellows_stops
from fotonomy.core.plan import plan
from tests.core.examples import LENS, setup

MACRO = replace(LENS, name="Macro 90", focal_shortest_mm=90, focal_longest_mm=90,
                close_focus_m=0.29, greatest_magnification=1.0)  # fmt: skip


@given(st.floats(8, 300), st.floats(4.1, 2000))
def test_a_thin_lens_obeys_its_equation(focal: float, over: float) -> None:
    """1/f = 1/front + 1/behind (Gauss), and the two make up the distance."""
    image = focused(focal, focal * over / 1000)
    assert 1 / focal == pytest.approx((1 / image.front_m + 1 / image.behind_m) / 1000, rel=1e-6)
    assert image.front_m + image.behind_m == pytest.approx(focal * over / 1000)
    assert image.magnification == pytest.approx(image.behind_m / image.front_m, rel=1e-6)


def test_life_size_of_a_thin_lens_is_at_four_focal_lengths() -> None:
    # Textbook identity: D = f(2 + m + 1/m) is least, 4f, at m = 1.
    assert focused(50, 0.200001).magnification == pytest.approx(1, abs=0.01)
    # 450 mm on 50 mm: m + 1/m = 7, so m = (7 - sqrt 45)/2 = 0.1459.
    assert focused(50, 0.45).magnification == pytest.approx((7 - 45**0.5) / 2, rel=1e-6)


def test_a_macro_lens_reaches_what_is_engraved_on_it() -> None:
    # 90 mm, 0.29 m, 1:1: a thin lens of 90 mm needs 0.36 m for that. Two stops are lost there.
    at_end = focused(90, 0.29, 0.29, 1.0)
    assert at_end.magnification == pytest.approx(1.0)
    assert at_end.focal_mm == pytest.approx(72.5)
    assert bellows_stops(at_end.magnification) == pytest.approx(2.0)
    spec = setup(lens=MACRO, focal_mm=90, subject_distance_m=0.29)
    lines = {line.key: line.stops for line in light_budget(spec).lines}
    assert lines["bellows"] == pytest.approx(-2.0)
    # The field is then as wide as the sensor.
    assert 1000 * analyse(spec).focus.field_width_m == pytest.approx(36.0)
    far = focused(90, 100.0, 0.29, 1.0)
    assert far.focal_mm == pytest.approx(90, abs=0.05)


def test_a_lens_beyond_life_size_reaches_its_engraved_end() -> None:
    # 65 mm, 0.2 m, 2:1: closer than a thin lens could be at life size, and so engraved.
    span = reach(65, 0.2, 2.0, 0.0)
    assert span is not None
    assert span.near_m == pytest.approx(0.2)
    assert focused(65, 0.2, 0.2, 2.0).magnification == pytest.approx(2.0, rel=1e-6)
    twice = replace(MACRO, name="Twice", focal_shortest_mm=65, focal_longest_mm=65,
                    close_focus_m=0.2, greatest_magnification=2.0)  # fmt: skip
    spec = setup(lens=twice, focal_mm=65, subject_distance_m=0.2)
    assert "focus.out_of_reach" not in {f.id for f in plan(spec).findings}
    drawn = [focused(65, float(d), 0.2, 2.0).magnification for d in np.linspace(1.0, 0.2, 200)]
    assert all(b > a for a, b in pairwise(drawn))


@given(
    st.floats(20, 200), st.floats(0.05, 3), st.floats(0.05, 4), st.floats(0, 80),
    st.floats(0.03, 50),
)  # fmt: skip
def test_any_engraving_and_any_tubes_give_a_picture(
    focal: float, close_m: float, most: float, tubes_mm: float, distance_m: float
) -> None:
    """Whatever is entered: front and behind make up the distance, and what is in reach is sharp."""
    if 1000 * distance_m <= focal:
        return
    image = focused(focal, distance_m, close_m, most, tubes_mm)
    assert image.magnification > 0
    assert image.behind_m > 0
    span = reach(focal, close_m, most, tubes_mm)
    assert span is not None
    if span.near_m * 1.001 < distance_m < span.far_m * 0.999:
        gauss = 1 / (1000 * image.front_m) + 1 / (1000 * image.behind_m)
        assert 1 / image.focal_mm == pytest.approx(gauss, rel=1e-3)


def test_nothing_jumps_on_the_way_in() -> None:
    distances = np.linspace(1.2, 0.29, 600)
    drawn = [focused(90, float(d), 0.29, 1.0).magnification for d in distances]
    lost = [bellows_stops(m) for m in drawn]
    assert all(b > a for a, b in pairwise(drawn))
    assert max(b - a for a, b in pairwise(lost)) < 0.05
    # 0.5501 and 0.5499 m on a 50 mm lens were 0.275 stop apart.
    apart = [bellows_stops(focused(50, d).magnification) for d in (0.5501, 0.5499)]
    assert apart[1] - apart[0] == pytest.approx(0, abs=0.001)
    # Past the end of the ring the picture goes on from where it was.
    ends = [focused(90, d, 0.29, 1.0).magnification for d in (0.2901, 0.2899)]
    assert ends[1] - ends[0] == pytest.approx(0, abs=0.01)


def test_tubes_beyond_life_size_are_taken_at_their_own_end() -> None:
    # 60 mm of tube on 50 mm: life size is passed with the ring at infinity, m = 1.2 and
    # D = 50(2 + 1.2 + 1/1.2) = 201.7 mm; closer to the lens is farther from the sensor.
    span = reach(50, 0.45, None, 60)
    assert span is not None
    assert span.near_m == pytest.approx(0.2017, abs=0.0001)
    assert span.far_m > span.near_m
    here = focused(50, 0.2017, 0.45, None, 60.0)
    assert here.magnification == pytest.approx(1.2, abs=0.01)
    tubed = setup(subject_distance_m=0.205, tubes=(Tube(name="60", length_mm=60),))
    assert analyse(tubed).focus.magnification > 1.2


def test_what_is_inside_the_lens_is_refused() -> None:
    with pytest.raises(RuleError) as caught:
        focused(90, 0.08)
    assert caught.value.field == "subject_distance_m"
    with pytest.raises(RuleError):
        focused(50, 4.0).field_m(36, 0.05)


def test_depth_is_told_from_the_sensor_plane() -> None:
    focus = analyse(setup(lens=MACRO, focal_mm=90, subject_distance_m=0.29, iris=8.0)).focus
    assert focus.near_m < 0.29 < focus.far_m
    # 2·N·c·(1+m)/m² = 2·8·0.0275·2 = 0.88 mm (textbook), about the subject.
    assert 1000 * focus.depth_m == pytest.approx(2 * 8 * focus.circle_mm * 2, rel=0.01)


def test_smear_and_blur_count_in_delivered_pixels() -> None:
    # 3840 recorded and 1920 delivered: half the pixels, each twice as wide on the sensor.
    whole = setup(subject_speed_m_s=2.0)
    half = replace(whole, intent=replace(whole.intent, delivery_px=1920))
    assert analyse(half).motion.smear_px == pytest.approx(analyse(whole).motion.smear_px / 2)
    assert analyse(half).focus.two_pixels_um == pytest.approx(2 * 2 * 9.375)
    assert (
        analyse(half).focus.diffraction_stops
        < analyse(replace(whole, iris=22)).focus.diffraction_stops
    )
