"""A run of frames: flicker, steps, knocks and lost frames are found where they were put, and nowhere
else.

What counts as seen, 0.03 stop, and a jump of one pixel: common practice, no source. Phase correlation
by Kuglin and Hines (1975); here held against shifts that were put in.
"""

from dataclasses import replace
from datetime import datetime
from math import hypot, log2, nan
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.ndimage import median_filter

from fotonomy.core.pictures.frame_measure import Looker, Seen
from fotonomy.core.pictures.run import (
    Cause,
    Event,
    RunFrame,
    RunPlan,
    RunReport,
    Sort,
    least_shift_px,
    report,
    running_median,
)
from fotonomy.core.spec.readings import Reading, Shape
from fotonomy.core.spec.setup import Setup
from fotonomy.exchange.pictures import read_pixels, read_preview
from fotonomy.simulators.run_frames import Faults, run_of_stills
from tests.core.examples import setup

BOAT = Reading(name="boat", stops=1.4, key=True, x_percent=30)
SKY = Reading(name="sky", stops=2.0, shape=Shape.BAND, y_percent=14)
POND = setup(readings=(BOAT, SKY))
PLAN = RunPlan(interval_s=10, frames=60, project_fps=25, delivered_px=3840)
STARTS = datetime(2027, 6, 5, 7, 44)  # noqa: DTZ001


def seen_run(spec: Setup, count: int, faults: Faults, **more: Any) -> list[RunFrame]:
    """A run as it comes home: through JPEG, EXIF and the small copy."""
    looker, found = Looker(), []
    for file in run_of_stills(spec, STARTS, count, 10, faults, serial="B9", **more):
        copy = read_preview(file.jpeg, file.name, 480)
        wrote = copy.wrote
        found.append(RunFrame(
            looker.see(read_pixels(copy.jpeg)), datetime.fromisoformat(wrote["taken"]).timestamp(),
            log2(wrote["exposure_s"]) - 2 * log2(wrote["f_number"]) + log2(wrote["iso"] / 100),
            int(file.name[2:6]), wrote["exposure_s"],
        ))  # fmt: skip
    return found


def where(found: RunReport, sort: Sort) -> list[tuple[int, Cause]]:
    return [(one.at, one.cause) for one in found.of(sort)]


def test_what_was_put_into_a_run_is_found_exactly() -> None:
    faults = Faults(
        knocks={41: (0.006, -0.003)}, flicker={20: 0.05, 21: -0.045, 55: 0.06},
        turned={50: 1 / 3}, lost=frozenset({30, 46, 47}),
    )  # fmt: skip
    found = report(seen_run(POND, 62, faults, light_moves_stops=0.6), PLAN)
    # Places are those of files: after three lost starts a place is three less.
    assert where(found, Sort.FLICKER) == [
        (20, Cause.PASSED), (21, Cause.PASSED), (52, Cause.PASSED)
    ]  # fmt: skip
    assert [one.size for one in found.of(Sort.FLICKER)] == pytest.approx(
        [0.05, -0.045, 0.06], abs=0.02
    )
    assert where(found, Sort.SHIFT) == [(40, Cause.KNOCKED)]
    assert found.of(Sort.SHIFT)[0].size == pytest.approx(3840 * hypot(0.006, 0.003), abs=0.5)
    assert where(found, Sort.GAP) == [(30, Cause.STOPPED), (45, Cause.STOPPED)]
    assert [one.size for one in found.of(Sort.GAP)] == [1, 2]
    assert where(found, Sort.STEP) == [(47, Cause.SETTING)]
    assert found.of(Sort.STEP)[0].size == pytest.approx(1 / 3, abs=0.06)
    assert (found.lost, found.frames, found.interval_s) == (3, 59, 10)
    assert found.clip_s == pytest.approx(59 / 25)
    assert found.whole == (0, 29)
    assert found.whole_s == pytest.approx(30 / 25)


def test_a_clean_run_says_nothing() -> None:
    found = report(seen_run(POND, 40, Faults(), light_moves_stops=-1.0), PLAN)
    assert found.events == ()
    assert found.flicker_stops < 0.015
    assert found.whole == (0, 39)


def even(count: int = 30, **each: Any) -> list[RunFrame]:
    """Frames of even light, ten seconds apart, that do not move."""
    return [
        RunFrame(Seen(0.0, 0.0, 0.0, 0.0, 0.0), 10.0 * k, -5.0, k + 1, each.get("time_s", 0.02))
        for k in range(count)
    ]


def lit(frames: list[RunFrame], at: int, stops: float, exposed: float = 0.0) -> None:
    seen = replace(frames[at].seen, level_stops=frames[at].seen.level_stops + stops)
    frames[at] = replace(
        frames[at], seen=seen, exposure_stops=(frames[at].exposure_stops or 0) + exposed
    )


def events(frames: list[RunFrame], plan: RunPlan = PLAN) -> list[Event]:
    return list(report(frames, plan).events)


@pytest.mark.parametrize(("stops", "told"), [(0.029, 0), (0.031, 1), (-0.031, 1)])
def test_flicker_is_told_from_what_shows(stops: float, told: int) -> None:
    frames = even()
    lit(frames, 12, stops)
    assert len(events(frames)) == told


def test_a_frame_that_the_camera_exposed_otherwise_is_its_own_doing() -> None:
    frames = even()
    lit(frames, 12, 0.3, exposed=0.3)
    lit(frames, 20, 0.3, exposed=0.05)
    assert [(one.at, one.cause) for one in events(frames)] == [
        (12, Cause.SETTING), (20, Cause.PASSED)
    ]  # fmt: skip


@pytest.mark.parametrize(
    ("down", "exposed", "cause"),
    [(True, 0.0, Cause.IRIS), (False, 0.0, Cause.LIGHT), (True, 1.0, Cause.SETTING)],
)
def test_flicker_all_along_is_one_event(down: bool, exposed: float, cause: Cause) -> None:
    frames = even()
    for place in range(2, 30, 6):
        lit(frames, place, 0.08, exposed=0.08 * exposed)
    (one,) = events(frames, replace(PLAN, stopped_down=down))
    assert (one.sort, one.at, one.frames, one.cause) == (Sort.FLICKER, 2, 5, cause)
    assert one.size == pytest.approx(0.08)


@pytest.mark.parametrize(("turned", "cause"), [(0.5, Cause.SETTING), (0.0, Cause.LIGHT),
                                               (-0.5, Cause.LIGHT)])  # fmt: skip
def test_a_step_that_stays_is_the_cameras_or_the_lights(turned: float, cause: Cause) -> None:
    frames = even()
    for place in range(15, 30):
        lit(frames, place, 0.5, exposed=turned)
    (one,) = events(frames)
    assert (one.sort, one.at, one.cause) == (Sort.STEP, 15, cause)
    assert one.size == pytest.approx(0.5)


@pytest.mark.parametrize(("stops", "told"), [(0.14, 0), (0.16, 1)])
def test_a_small_step_is_light_as_it_changes(stops: float, told: int) -> None:
    frames = even()
    for place in range(15, 30):
        lit(frames, place, stops)
    assert len(events(frames)) == told


def moved(frames: list[RunFrame], at: int, right_px: float, down_px: float = 0.0) -> None:
    seen = replace(frames[at].seen, right_share=right_px / 3840, down_share=down_px / 3840)
    frames[at] = replace(frames[at], seen=seen)


def test_a_knock_stays_and_a_gust_comes_back() -> None:
    frames = even(60)
    moved(frames, 8, 6, 8)
    moved(frames, 15, 12)
    moved(frames, 16, -11)
    found = events(frames)
    assert [(one.at, one.cause, one.frames) for one in found] == [
        (8, Cause.KNOCKED, 1), (15, Cause.SWAYED, 2)
    ]  # fmt: skip
    assert found[0].size == pytest.approx(10)


def test_two_knocks_the_same_way_do_not_come_back() -> None:
    frames = even(60)
    moved(frames, 15, 12)
    moved(frames, 16, 11)
    assert [(one.at, one.cause) for one in events(frames)] == [
        (15, Cause.KNOCKED), (16, Cause.KNOCKED)
    ]  # fmt: skip


def test_many_shifts_are_wind() -> None:
    frames = even()
    for place in (4, 13, 22):
        moved(frames, place, 9)
    assert {one.cause for one in events(frames)} == {Cause.SWAYED}


@pytest.mark.parametrize(("px", "told"), [(2.6, 0), (2.8, 1)])
def test_where_the_light_steps_edges_move_by_themselves(px: float, told: int) -> None:
    frames = even()
    for place in range(15, 30):
        lit(frames, place, 0.5)
    moved(frames, 15, px)
    assert len(report(frames, PLAN).of(Sort.SHIFT)) == told


def test_what_all_frames_share_is_no_jump() -> None:
    # A slow pan moves every frame alike.
    frames = even()
    for place in range(1, 30):
        moved(frames, place, 20)
    assert events(frames) == []


@pytest.mark.parametrize(("px", "told"), [(1.3, 0), (1.4, 1)])
def test_a_copy_tells_a_sixth_of_its_pixel(px: float, told: int) -> None:
    assert least_shift_px(PLAN) == pytest.approx(8 / 6)
    assert least_shift_px(replace(PLAN, delivered_px=1000)) == 1.0
    frames = even()
    moved(frames, 8, px)
    assert len(events(frames)) == told


def late(frames: list[RunFrame], at: int, seconds: float, numbers: int = 0) -> None:
    for place in range(at, len(frames)):
        one = frames[place]
        frames[place] = replace(
            one, at_s=(one.at_s or 0) + seconds, number=(one.number or 0) + numbers
        )


@pytest.mark.parametrize(
    ("seconds", "lost"), [(4.9, 0), (5.1, 1), (10, 1), (14, 1), (16, 2), (20, 2)]
)
def test_lost_frames_are_counted_by_the_clock(seconds: float, lost: int) -> None:
    frames = even()
    late(frames, 10, seconds)
    found = report(frames, PLAN)
    assert found.lost == lost
    assert len(found.events) == (lost > 0)


@pytest.mark.parametrize(
    ("change", "numbers", "time_s", "cause"),
    [
        ({}, 0, 0.02, Cause.STOPPED),
        ({}, 1, 0.02, Cause.FILES),
        ({}, 0, 10.5, Cause.TOO_LONG),
        ({"noise_frames": True}, 0, 5.5, Cause.TOO_LONG),
        ({}, 0, 5.5, Cause.STOPPED),
        ({"sure_count": 10}, 0, 0.02, Cause.COUNTER),
        ({"sure_count": 11}, 0, 0.02, Cause.STOPPED),
    ],
)  # fmt: skip
def test_why_a_frame_is_missing(
    change: dict[str, Any], numbers: int, time_s: float, cause: Cause
) -> None:
    frames = even(time_s=time_s)
    late(frames, 10, 10, numbers)
    (one,) = events(frames, replace(PLAN, **change))
    assert (one.at, one.size, one.cause) == (10, 1, cause)


def test_names_that_begin_anew_are_no_lost_files() -> None:
    frames = [replace(one, number=(9978 + k) % 9999 + 1) for k, one in enumerate(even())]
    assert [frames[k].number for k in (20, 21)] == [9999, 1]
    late(frames, 21, 10)
    (one,) = events(frames)
    assert one.cause is Cause.STOPPED


def test_the_interval_that_was_kept_counts_where_another_was_planned() -> None:
    slower = [replace(one, at_s=1.7 * (one.at_s or 0)) for one in even()]
    found = report(slower, PLAN)
    assert found.interval_s == pytest.approx(17)
    assert found.lost == 0
    assert report(even(), replace(PLAN, interval_s=None)).interval_s == 10


def test_without_a_clock_or_numbers_the_light_is_still_told() -> None:
    frames = [RunFrame(Seen(0.0, 0.0)) for _ in range(12)]
    lit(frames, 5, 0.2)
    frames = [replace(one, exposure_stops=None) for one in frames]
    found = report(frames, replace(PLAN, interval_s=None))
    assert [(one.at, one.cause) for one in found.events] == [(5, Cause.PASSED)]
    assert found.interval_s is None
    with pytest.raises(ValueError, match="two frames"):
        report(frames[:1], PLAN)


@given(st.lists(st.floats(-8, 8), min_size=5, max_size=60))
def test_the_running_median_is_scipys_inside(values: list[float]) -> None:
    ours = running_median(np.array(values))
    theirs = median_filter(np.array(values), size=5, mode="nearest")
    assert ours[2:-2] == pytest.approx(theirs[2:-2])


def test_a_frame_of_another_shape_has_no_shift() -> None:
    looker = Looker()
    grey = np.full((90, 160, 3), 118, dtype=np.uint8)
    first = looker.see(grey)
    # Code 118 in sRGB is 0.1812 of white (IEC 61966-2-1): a hundredth of a stop over grey.
    assert first.level_stops == pytest.approx(log2(0.1812 / 0.18), abs=0.005)
    assert first.right_share is None
    assert looker.see(grey[:, :100]).right_share is None
    assert looker.see(grey[:, :100]).right_share == pytest.approx(0, abs=1e-3)
    assert looker.see(np.zeros((90, 100, 3), dtype=np.uint8)).level_stops == pytest.approx(-7)
    assert looker.see(np.full((90, 100, 3), 255, dtype=np.uint8)).clipped_share == 1.0


@pytest.mark.parametrize(("right", "down"), [(3.0, 0.0), (-4.5, 2.0), (0.5, -7.25), (0.2, 0.15)])
def test_shifts_are_found_in_shares_of_the_width(right: float, down: float) -> None:
    import cv2

    random = np.random.default_rng(4)
    wide = cv2.GaussianBlur(random.uniform(0, 255, (330, 560)).astype(np.float32), (0, 0), 2)
    wide = (wide - wide.min()) / (wide.max() - wide.min()) * 255
    there = cv2.warpAffine(wide, np.float32([[1, 0, right], [0, 1, down]]), (560, 330))
    cuts = [
        np.repeat(one[30:300, 40:520, None].astype(np.uint8), 3, axis=2) for one in (wide, there)
    ]
    looker = Looker(cuts[0])
    seen = looker.see(cuts[1])
    assert 480 * (seen.right_share or nan) == pytest.approx(right, abs=0.05)
    assert 480 * (seen.down_share or nan) == pytest.approx(down, abs=0.05)
