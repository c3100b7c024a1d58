"""Figures by parsing them: bars where the stops say, nothing outside, nothing that is no number."""

import re
from dataclasses import replace
from decimal import Decimal
from itertools import combinations, pairwise
from typing import Any
from xml.etree import ElementTree as ET

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from fotonomy.core.analysis.interval import IntervalRun
from fotonomy.core.analysis.setup import Analysis, analyse
from fotonomy.core.dry_run.log import judge
from fotonomy.core.dry_run.trigger_schedule import interval_schedule
from fotonomy.core.motion.camera_movement import Camera, Movement
from fotonomy.core.motion.shutter import Shutter
from fotonomy.core.photometry.exposure_value import Ev100
from fotonomy.core.spec.intent import Intent
from fotonomy.core.spec.kind import Kind
from fotonomy.core.spec.readings import Reading
from fotonomy.core.spec.setup import Setup
from fotonomy.core.spec.stills import Combining, LightPoint, Ramp
from fotonomy.core.stills.burst import Burst
from fotonomy.core.stills.long_exposure import LongExposure
from fotonomy.core.traced_numbers import plain
from fotonomy.figures.animation.cadence import MOST_FRAMES, playing_figure
from fotonomy.figures.animation.interval import dots_figure, hop_words, step_share
from fotonomy.figures.dry_run import dry_run_figure
from fotonomy.figures.kit.body import body_figure
from fotonomy.figures.lanes.buffer import buffer_figure
from fotonomy.figures.lanes.clip import clip_figure
from fotonomy.figures.lanes.cycle import cycle_figure, stores_of
from fotonomy.figures.lanes.flicker import flicker_figure
from fotonomy.figures.lanes.focus import Distances, focus_figure
from fotonomy.figures.lanes.level import level_figure
from fotonomy.figures.lanes.light_budget import budget_figure, steps_of
from fotonomy.figures.lanes.long_exposure import long_exposure_figure
from fotonomy.figures.lanes.motion import (
    flicker_words,
    motion_figure,
    motion_parts,
    zoom_of,
)
from fotonomy.figures.lanes.noise import noise_figure
from fotonomy.figures.lanes.ramp import ramp_figure
from fotonomy.figures.lanes.travelling_smear import passing_figure
from fotonomy.figures.lanes.white_balance import white_figure
from fotonomy.figures.monitor.scopes import scope_marks
from fotonomy.figures.svg import NARROW, WIDE, Scale, Size, text_width
from fotonomy.simulators.dry_run import Fault, carry_out
from fotonomy.simulators.monitor import SCOPES
from tests.core.examples import setup
from tests.core.run_examples import CARD, CELL, PLAIN, burst, interval, long_exposure
from tests.core.test_findings import anything


def parse(markup: str) -> Any:
    """Markup as a tree, its namespace dropped."""
    return ET.fromstring(markup.replace(' xmlns="http://www.w3.org/2000/svg"', ""))


def drawn(analysis: Analysis, size: Size) -> dict[str, Any]:
    """Every figure of the bench at one size."""
    setup, noise = analysis.setup, analysis.noise
    return {
        "light": parse(budget_figure(analysis.budget, size)),
        "motion": parse(motion_figure(analysis, size)),
        "level": parse(level_figure(setup, analysis.level, size, noise.floor_stops,
                                    noise.floor_between)),
        "clip": parse(clip_figure(analysis, size)),
        "focus": parse(focus_figure(analysis, size)),
        "noise": parse(noise_figure(setup, noise, size)),
        "white": parse(white_figure(analysis.white, size)),
        "scope": parse(scope_marks(analysis.level, SCOPES, size)),
        **{name: parse(markup) for name, markup in run_figures(analysis, size).items()},
    }  # fmt: skip


def drawn_alone(analysis: Analysis, width: float) -> dict[str, Any]:
    """Figures that are as tall as they need: under another on the stage, or on a page of theirs."""
    found = {
        "flicker": parse(flicker_figure(analysis, Size(width))),
        "passing": parse(passing_figure(analysis, Size(width))),
        "body": parse(body_figure(analysis.setup.body, (analysis.setup.profile,), width)),
    }
    if isinstance(analysis.run, IntervalRun):
        found["dots"] = parse(dots_figure(analysis, width).markup)
    return found


def run_figures(analysis: Analysis, size: Size) -> dict[str, str]:
    """What the kinds of single pictures add."""
    match analysis.run:
        case IntervalRun() as run:
            return {
                "cycle": cycle_figure(run.cycle, size, stores_of(run)),
                "ramp": ramp_figure(run.ramp, run.floating, size),
            }
        case Burst() as found:
            return {"buffer": buffer_figure(found, size)}
        case LongExposure() as found:
            return {"trail": long_exposure_figure(found, size)}
    return {}


def boxes(root: Any, kind: str) -> list[tuple[float, float]]:
    return [
        (float(r.get("x")), float(r.get("width"))) for r in root.iter("rect")
        if kind in r.get("class").split()
    ]  # fmt: skip


def reach(text: Any, px: float = 12) -> tuple[float, float]:
    """Where a label starts and ends, by the widths its letters have."""
    x, kinds = float(text.get("x")), text.get("class")
    wide = text_width(text.text or "", kinds, px)
    if "end" in kinds.split():
        return x - wide, x
    return (x - wide / 2, x + wide / 2) if "middle" in kinds.split() else (x, x + wide)


def texts(root: Any) -> str:
    return " | ".join(t.text or "" for t in root.iter("text"))


def test_bars_run_from_balance_to_balance() -> None:
    budget = analyse(setup(light=Ev100(11.31))).budget
    steps = steps_of(budget)
    assert steps[0].start == 0
    assert all(a.end == b.start for a, b in pairwise(steps))
    assert steps[-1].end == pytest.approx(budget.error_stops)


def test_a_bar_is_as_long_as_its_stops() -> None:
    budget = analyse(setup(light=Ev100(11.31))).budget
    root = parse(budget_figure(budget, Size(WIDE)))
    (light, iso), taken = boxes(root, "gives"), boxes(root, "takes")
    per_stop = light[1] / 11.31
    wanted = {line.key: abs(line.stops) for line in budget.lines}
    assert iso[1] == pytest.approx(wanted["iso"] * per_stop, abs=0.2)
    for (_, width), key in zip(taken, ("shutter", "iris", "nd"), strict=True):
        assert width == pytest.approx(wanted[key] * per_stop, abs=0.2)
    # The second bar ends where the first one does: the shutter takes from the scene's light.
    assert taken[0][0] + taken[0][1] == pytest.approx(light[0] + light[1], abs=0.2)


def test_dark_scenes_and_long_shutters_turn_the_bars_round() -> None:
    night = setup(kind=Kind.LONG_EXPOSURE, light=Ev100(-4), shutter=Shutter(time_s=15))
    root = parse(budget_figure(analyse(night).budget, Size(WIDE)))
    assert "Shutter 15 s  +3.9" in texts(root)
    assert len(boxes(root, "takes")) == 3
    assert len(boxes(root, "gives")) == 2


def test_shutter_cells_are_open_by_the_angle() -> None:
    root = parse(motion_figure(analyse(setup(shutter=Shutter(angle_deg=90))), Size(WIDE)))
    frames, opened = boxes(root, "frame-box"), boxes(root, "open")
    assert len(frames) == len(opened) == 8
    assert opened[0][1] / frames[0][1] == pytest.approx(0.25, abs=0.01)


def test_smear_and_step_are_to_scale() -> None:
    analysis = analyse(setup(subject_speed_m_s=2.0))
    assert analysis.motion.step_percent is not None
    root = parse(motion_figure(analysis, Size(WIDE)))
    marks = boxes(root, "smear")
    zoom = zoom_of(analysis.motion.step_percent, WIDE)
    step_px = marks[1][0] - marks[0][0]
    assert step_px == pytest.approx(analysis.motion.step_percent / 100 * WIDE * zoom, abs=0.2)
    assert marks[0][1] / step_px == pytest.approx(0.5, abs=0.02)


def test_flicker_is_said_with_the_safe_times() -> None:
    rolling = analyse(setup(frame_rate=24, shutter=Shutter(angle_deg=180)))
    # 1/48 under 50 Hz leaves |sin(100 pi/48)/(100 pi/48)| = 4.0 %: within what is seen as safe.
    assert flicker_words(rolling) == "● 50 Hz mains: safe, 4 % ripple left"
    fast = analyse(setup(frame_rate=100, shutter=Shutter(angle_deg=180)))
    assert flicker_words(fast) == "▲ 50 Hz mains: 64 % ripple; safe: 1/100"
    assert flicker_words(fast) in texts(parse(motion_figure(fast, Size(WIDE))))
    slow = flicker_words(analyse(setup(shutter=Shutter(time_s=1 / 80))))
    assert slow.endswith("safe: 1/100 1/50 1/33")
    none = flicker_words(analyse(setup(frame_rate=240, shutter=Shutter(angle_deg=180))))
    assert none.endswith("none safe at this rate")


def test_the_curve_meets_its_tones() -> None:
    analysis = analyse(setup(light=Ev100(11.31)))
    root = parse(level_figure(analysis.setup, analysis.level, Size(WIDE)))
    (path,) = [p.get("d") for p in root.iter("path")]
    points = [tuple(map(float, p.split())) for p in re.split("[ML]", path)[1:]]
    for circle in root.iter("circle"):
        x, y = float(circle.get("cx")), float(circle.get("cy"))
        near = min(points, key=lambda point: abs(point[0] - x))
        assert near[1] == pytest.approx(y, abs=2.5)
    assert "grey 38.5 %" in texts(root)


def test_the_clip_is_said_on_the_drawing() -> None:
    sky = Reading(name="sky", stops=7, key=True)
    analysis = analyse(setup(light=Ev100(11.31), readings=(sky,)))
    root = parse(level_figure(analysis.setup, analysis.level, Size(WIDE)))
    assert "sky +7.0, clips by 0.8" in texts(root)


def test_record_and_screen_bars_share_one_scale() -> None:
    analysis = analyse(setup(frame_rate=100, wanted_screen_s=24, handle_s=0))
    root = parse(clip_figure(analysis, Size(WIDE)))
    record, screen = boxes(root, "takes")[0][1], boxes(root, "screen")[0][1]
    assert screen / record == pytest.approx(4, abs=0.05)
    hours = replace(
        analysis.setup, kind=Kind.INTERVAL, frame_rate=1 / 15, shutter=Shutter(time_s=1)
    )
    assert "bars not to scale" in texts(parse(clip_figure(analyse(hours), Size(WIDE))))


def test_scale_there_and_back() -> None:
    scale = Scale(-1, 13, 14, 766)
    back = Scale(14, 766, -1, 13)
    assert back(scale(3.7)) == pytest.approx(3.7)


# A desk's tile and stage, a large screen's, one that spans two, a glance, and a phone's stage.
SIZES = (
    Size(331, 124), Size(331, 66), Size(688, 84), Size(560, 240), Size(116, 42), Size(690),
    Size(362, 0, 14), Size(92, 40, 14), Size(300, 0, 14),
)  # fmt: skip


@given(anything(), st.sampled_from(["skin", "the far bank under the old alders, left"]))
def test_any_setup_can_be_drawn(spec: Setup, name: str) -> None:
    analysis = analyse(replace(spec, readings=(*spec.readings, Reading(name=name, stops=1.4))))
    for size in SIZES:
        for name, root in drawn(analysis, size).items():
            width, height = map(float, root.get("viewBox").split()[2:])
            if size.tile and name != "scope":
                assert (width, height) == (size.width, size.height), name
            _stays_inside(name, root, size.text_px)
            _no_label_lies_on_another(name, root, size.text_px)
            assert not (size.glance and list(root.iter("text"))), name
    for width in (WIDE, NARROW):
        for name, root in drawn_alone(analysis, width).items():
            _stays_inside(name, root, 12)


def _stays_inside(name: str, root: Any, px: float) -> None:
    width, height = map(float, root.get("viewBox").split()[2:])
    assert root.get("role") == "img"
    assert root.get("aria-label")
    assert "style" not in root.attrib
    for rect in root.iter("rect"):
        x, y, wide, tall = (float(rect.get(k)) for k in ("x", "y", "width", "height"))
        assert wide >= 0, name
        assert tall >= 0, name
        assert -1 <= x <= x + wide <= width + 1, (name, rect.attrib, width)
        assert -1 <= y <= y + tall <= height + 1, (name, rect.attrib, height)
    for text in root.iter("text"):
        left, right = reach(text, px)
        assert -1 <= left <= right <= width + 1, (name, text.text, left, right, width)
        assert float(text.get("y")) - 0.7 * px >= 0, (name, text.text)
        assert float(text.get("y")) <= height + 1, (name, text.text)
    assert "nan" not in ET.tostring(root, encoding="unicode").replace("financ", "")


def _no_label_lies_on_another(name: str, root: Any, px: float) -> None:
    placed = [(*reach(t, px), float(t.get("y")), t.text) for t in root.iter("text")]
    for (a, b, y, one), (c, d, z, other) in combinations(placed, 2):
        apart = b <= c + 0.5 or d <= a + 0.5 or abs(y - z) >= 0.9 * px
        assert apart, (name, one, other, root.get("viewBox"))


def test_the_cadence_guide_judges_moving_pictures_only() -> None:
    moving = analyse(setup(subject_speed_m_s=9.0))
    assert "✕ strobing" in texts(parse(motion_figure(moving, Size(WIDE))))
    burst = analyse(setup(subject_speed_m_s=9.0, kind=Kind.BURST, frame_rate=20))
    for width in (WIDE, NARROW):
        assert "strobing" not in texts(parse(motion_figure(burst, Size(width))))


def test_focus_shows_what_is_sharp_to_scale() -> None:
    analysis = analyse(setup(intent=Intent(depth_m=1.0), subject_depth_m=0.6))
    root = parse(focus_figure(analysis, Size(WIDE)))
    ((left, wide),) = boxes(root, "sharp")
    # On a logarithmic axis equal px are equal ratios: two of its ticks give the scale.
    ticks = [(float(t.text.split()[0]), float(t.get("x"))) for t in root.iter("text")
             if "tick" in t.get("class")]  # fmt: skip
    (low, low_x), (high, high_x) = ticks[0], ticks[-1]
    per_octave = (high_x - low_x) / np.log2(high / low)
    at = low_x + per_octave * np.log2(analysis.focus.near_m / low)
    assert left == pytest.approx(at, abs=0.3)
    assert wide == pytest.approx(
        per_octave * np.log2(analysis.focus.far_m / analysis.focus.near_m), abs=0.3
    )
    assert boxes(root, "wanted")
    assert "1 m sharp takes f/" in texts(root)


def test_focus_of_millimetres_stretches_about_the_subject() -> None:
    macro = setup(subject_distance_m=0.3, subject_depth_m=0.004, iris=8)
    ((_, wide),) = boxes(parse(focus_figure(analyse(macro), Size(WIDE))), "sharp")
    assert wide > 30
    axis = Distances(0.41, 0.43, 0, 100)
    assert len(axis.ticks()) >= 3


def test_the_flicker_map_goes_to_zero_at_the_safe_times() -> None:
    analysis = analyse(setup(mains_lamps=True, shutter=Shutter(time_s=1 / 60)))
    root = parse(flicker_figure(analysis, Size(WIDE)))
    path = next(p for p in root.iter("path")).get("d")[1:]
    points = [tuple(map(float, pair.split())) for pair in path.split("L")]
    safe = [x + 2 for x, _ in boxes(root, "safe")]
    for x in safe:
        near = min(points, key=lambda point: abs(point[0] - x))
        assert near[1] > 60  # on the ground, at 62 px
    assert "1/60" in texts(root)
    # |sin(pi 100/60)/(pi 100/60)| = 16.5 %.
    assert "17 % ripple left" in texts(root)


def test_things_passed_are_bars_of_the_frame_width() -> None:
    spec = setup(movement=Movement(camera=Camera.TRAVEL, travel_m_s=5, background_m=60))
    analysis = analyse(spec)
    bars = [wide for _, wide in boxes(parse(passing_figure(analysis, Size(WIDE))), "smear")]
    near, middle, _ = analysis.shake.passing
    assert bars[0] / bars[1] == pytest.approx(near.smear_percent / middle.smear_percent, rel=0.02)


def test_playing_moves_one_step_a_screen_frame() -> None:
    analysis = analyse(setup(subject_speed_m_s=1.5, subject_size_m=0.4))
    played = playing_figure([("this", analysis), ("again", analysis)], WIDE)
    moves = list(parse(played.markup).iter("animateTransform"))
    assert len(moves) == 2
    xs = [float(pair.split()[0]) for pair in moves[0].get("values").split(";")]
    step = analysis.motion.step_percent / 100 * WIDE
    assert all(b - a == pytest.approx(step, abs=0.11) for a, b in pairwise(xs))
    assert float(moves[0].get("dur").rstrip("s")) == pytest.approx(len(xs) / 25, abs=1e-3)
    assert moves[0].get("calcMode") == "discrete"
    assert played.frame_s == pytest.approx(1 / 25)
    still = playing_figure([("this", analyse(setup()))], WIDE)
    assert "animate" not in still.markup
    slow = playing_figure([("this", analyse(setup(subject_speed_m_s=1e-3)))], WIDE)
    assert slow.seconds <= MOST_FRAMES / 25


def test_a_body_shows_rates_bases_and_ceiling() -> None:
    analysis = analyse(setup())
    root = parse(body_figure(analysis.setup.body, (analysis.setup.profile,), WIDE))
    words = texts(root)
    for said in (
        "4K",
        "HD crop",
        "base 500",
        "base 3200",
        "ceiling 12800",
        "30 s",
        "1/8000",
        "280",
    ):
        assert said in words, said
    dots = [c for c in root.iter("circle") if "takes" in c.get("class")]
    assert len(dots) == 6


def test_a_cycle_is_to_scale() -> None:
    analysis = analyse(interval(shutter=Shutter(time_s=2), run={"noise_frames": True}))
    root = parse(run_figures(analysis, Size(WIDE))["cycle"])
    # 2 s exposed, 2 s dark, half a second written, 1.5 s idle of 6 s. The bar of the card is under.
    for kind, share in (("open", 2), ("dark-frame", 2), ("takes", 0.5), ("idle", 1.5)):
        (_, wide), *_ = boxes(root, kind)
        assert wide == pytest.approx((WIDE - 2) * share / 6, abs=0.2)
    assert "fits, 1.3 s to spare" in texts(root)
    tight = analyse(interval(shutter=Shutter(time_s=5), run={"noise_frames": True}))
    late = parse(run_figures(tight, Size(WIDE))["cycle"])
    assert boxes(late, "clip-zone")
    assert "11 s would" in texts(late)


def test_a_buffer_fills_and_clears_to_scale() -> None:
    analysis = analyse(burst(run={"burst_s": 10.0}))
    root = parse(run_figures(analysis, Size(WIDE))["buffer"])
    # Full after 6 of 10 s, then 30 s of writing: a zone of four parts in forty.
    ((start, wide),) = boxes(root, "clip-zone")
    scale = (WIDE - 2 - 44) / 40
    assert (start, wide) == (
        pytest.approx(44 + 6 * scale, abs=0.2),
        pytest.approx(4 * scale, abs=0.2),
    )
    assert "slow: 2 a second" in texts(root)
    assert "80 frames a burst" in texts(root)


def test_a_trail_shows_every_exposure_and_its_holes() -> None:
    analysis = analyse(long_exposure(run={"combining": Combining.LATER, "frames": 3}))
    bars = boxes(parse(run_figures(analysis, Size(WIDE))["trail"]), "open")
    assert len(bars) == 3
    assert all(wide == pytest.approx((WIDE - 2) * 0.2083, abs=0.5) for _, wide in bars)
    assert bars[1][0] - bars[0][0] - bars[0][1] == pytest.approx((WIDE - 2) * 0.00278, abs=0.3)


def test_dots_hop_as_far_as_the_subject_does() -> None:
    analysis = analyse(interval(subject_speed_m_s=0.05, subject_distance_m=10.1))
    # 5 cm a second, 30 cm a frame, of 7.2 m: ten metres before the lens, five centimetres more
    # before the sensor.
    assert step_share(analysis) == pytest.approx(0.3 / 7.2, rel=2e-3)
    playing = dots_figure(analysis, WIDE)
    first = parse(playing.markup).find(".//animateTransform").get("values").split(";")
    xs = [float(pair.split()[0]) for pair in first]
    hops = {round(b - a, 0) for a, b in pairwise(xs) if b > a}
    assert hops <= {32.0, 33.0}
    assert playing.frame_s == pytest.approx(1 / 25)


def test_the_light_and_what_the_settings_are_right_for() -> None:
    run = {"ramp": Ramp.FLOATING, "light_curve": (LightPoint(0, 6.69), LightPoint(2994, -3.3))}
    analysis = analyse(interval(run=run))
    root = parse(run_figures(analysis, Size(WIDE))["ramp"])
    # Ten stops darker; the camera floats from 1/2 to 30 s, 5.9 stops: it runs out after 6/10 of it.
    ((start, _),) = boxes(root, "clip-zone")
    left = 4.6 * 12
    share = (start - left) / (WIDE - 4 - left)
    assert share == pytest.approx((np.log2(60) + 0.36) / 10, abs=0.03)
    assert "✕ −4" in texts(root)


def test_plan_against_run_on_one_line() -> None:
    spec = interval(frame_rate=1 / 2, devices=(PLAIN, CARD, CELL))
    analysis = analyse(spec)
    assert isinstance(analysis.run, IntervalRun)
    dry = carry_out(spec, interval_schedule(analysis), frozenset({Fault.SLOW_CARD}))
    assert dry.log is not None
    verdict = judge(dry.log, planned=500, interval_s=2, project_fps=25)
    planned = (analysis.run.intervalometer.first_s, analysis.run.intervalometer.last_s)
    for width in (WIDE, NARROW):
        root = parse(dry_run_figure(dry.log, verdict, planned, 128_000, 30.0, width))
        assert boxes(root, "taken")
        assert boxes(root, "lost")
        for rect in root.iter("rect"):
            assert float(rect.get("x")) + float(rect.get("width")) <= width + 1
        assert f"{verdict.frames} of 500 frames" in root.get("aria-label")


def test_how_fast_it_looks_is_said_for_the_pole_too() -> None:
    pole = analyse(interval(run={"declination_deg": 90.0}))
    assert hop_words(pole) == "stars turn about the pole, and cross no frame"
    assert "pole" in dots_figure(pole, NARROW).markup
    assert hop_words(analyse(interval())) == "nothing moves"


def test_a_ramp_shows_shutter_iso_and_the_lift_of_the_nd() -> None:
    # 12.5 stops down: 1/10 to 8 s, ISO to 12 800, and then the ND of three stops off, where it may.
    to_night = (LightPoint(0, 9.0), LightPoint(3600, -3.5))
    run = {"ramp": Ramp.PLANNED, "light_curve": to_night, "ramp_lift": True}
    analysis = analyse(interval(
        light=Ev100(9.0), shutter=Shutter(time_s=1 / 10), frame_rate=1 / 10, wanted_screen_s=361 / 25, run=run,
    ))  # fmt: skip
    root = parse(run_figures(analysis, Size(WIDE))["ramp"])
    said = texts(root)
    assert "solid: shutter 1/10 to 8 s, dashed: ISO 500 to" in said
    assert "take the ND off before frame" in said
    assert any("line-5" in path.get("class") for path in root.iter("path"))
    steady = parse(run_figures(analyse(interval()), Size(WIDE))["ramp"])
    assert "shutter" not in texts(steady)


def test_a_floor_nobody_measured_is_drawn_as_a_band() -> None:
    analysis = analyse(setup(iso=6400))
    noise = analysis.noise
    figure = level_figure(
        analysis.setup, analysis.level, Size(WIDE), noise.floor_stops, noise.floor_between
    )
    bands = [r for r in parse(figure).iter("rect") if "between" in (r.get("class") or "")]
    assert len(bands) == 1
    assert float(bands[0].get("width")) > 5
    measured = level_figure(analysis.setup, analysis.level, Size(WIDE), noise.floor_stops, None)
    assert "between" not in measured


@pytest.mark.parametrize("speed_m_s", [0.7, 1.4, 2.37, 3.3, 6.0, 9.9, 17.3, 40.0])
@pytest.mark.parametrize("angle_deg", [90.0, 172.8, 180.0, 216.0])
def test_step_smear_and_gap_add_up_as_they_stand_there(speed_m_s: float, angle_deg: float) -> None:
    analysis = analyse(
        setup(subject_speed_m_s=speed_m_s, shutter=Shutter(angle_deg=angle_deg))
    )  # fmt: skip
    step, smear, gap = (
        Decimal(plain(one).split()[1].replace("\u202f", "")) for one in motion_parts(analysis)
    )
    assert step == smear + gap
    assert float(gap) == pytest.approx(analysis.motion.gap_percent, rel=0.02, abs=0.02)


def test_a_smear_too_small_for_the_steps_figures_keeps_its_own() -> None:
    fast = analyse(setup(subject_speed_m_s=80.0, shutter=Shutter(time_s=1 / 20_000)))
    step, smear, _ = (plain(one) for one in motion_parts(fast))
    assert float(step.split()[1]) > 100
    assert smear.startswith("smear 0.")
    assert smear.split()[1] != "0"
