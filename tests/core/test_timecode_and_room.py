"""Timecode, room in the frame, beats, lamps, lightning and diffusion against sources and sums."""

from itertools import pairwise
from math import atan2, degrees, exp, log2, pi

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from fotonomy.core.analysis.setup import analyse
from fotonomy.core.errors import RuleError
from fotonomy.core.gear.filters import Filter, FilterKind
from fotonomy.core.lamps.lamp import Lamp, Lighting, Placed, Role, Softener
from fotonomy.core.motion.timecode import drops_frames, frames_of, nominal_rate, timecode
from fotonomy.core.optics.depth_of_field import effective_f_number
from fotonomy.core.parsing.table import by_name
from fotonomy.core.plan import plan
from fotonomy.core.spec.changes import applied
from fotonomy.core.spec.intent import Intent
from fotonomy.core.stills.edit_room import (
    beats_of,
    cut_on_beat,
    longest_zoom,
    most_crop_percent,
    slowest_drift_percent_s,
    stabilised,
)
from fotonomy.core.stills.lightning import strikes
from fotonomy.core.tone.diffusion import veil_share, veiled_floor_stops
from tests.core.examples import setup
from tests.core.run_examples import ids, interval, run_of


@pytest.mark.parametrize(
    ("frames", "fps", "code"),
    [
        # SMPTE ST 12-1: ten minutes of drop-frame hold 17 982 frames, a minute 1798.
        (17_982, 29.97, "00:10:00;00"), (1799, 29.97, "00:00:59;29"), (1800, 29.97, "00:01:00;02"),
        (17_981, 29.97, "00:09:59;29"), (107_892, 29.97, "01:00:00;00"),
        (35_964, 59.94, "00:10:00;00"), (3600, 59.94, "00:01:00;04"),
        # No drop-frame at 23.976: an hour by its count lasts 3.6 s longer than the clock's.
        (86_400, 23.976, "01:00:00:00"), (350, 25, "00:00:14:00"), (86_399, 24, "00:59:59:23"),
        (0, 50, "00:00:00:00"),
    ],
)  # fmt: skip
def test_timecode_of_the_standard(frames: int, fps: float, code: str) -> None:
    assert timecode(frames, fps) == code
    assert frames_of(code, fps) == frames


def test_non_drop_is_a_plain_count() -> None:
    assert timecode(17_982, 29.97, drop=False) == "00:09:59:12"
    assert frames_of("00:09:59:12", 29.97) == 17_982
    assert (drops_frames(29.97), drops_frames(30), drops_frames(23.976)) == (True, False, False)
    assert [nominal_rate(f) for f in (23.976, 24, 25, 29.97, 59.94, 119.88)] == [
        24, 24, 25, 30, 60, 120,
    ]  # fmt: skip


@given(st.integers(0, 2_000_000), st.sampled_from([23.976, 25, 29.97, 59.94, 60]))
def test_every_frame_has_one_timecode(frames: int, fps: float) -> None:
    assert frames_of(timecode(frames, fps), fps) == frames
    assert timecode(frames, fps) < timecode(frames + 1, fps)


def test_drop_frame_keeps_up_with_the_clock() -> None:
    for hours in (1, 5, 23):
        shown = timecode(round(hours * 3600 * 30_000 / 1001), 29.97)
        assert shown.startswith(f"{hours:02d}:00:00")


@pytest.mark.parametrize(
    "code", ["1:2:3", "00:01:00;00", "00:00:61:00", "00:00:00:30", "24:00:00:00"]
)
def test_what_is_no_timecode_is_refused(code: str) -> None:
    with pytest.raises(RuleError):
        frames_of(code, 29.97)
    with pytest.raises(RuleError):
        frames_of("00:10:00;00", 25)
    with pytest.raises(ValueError, match="before the first"):
        timecode(-1, 25)


def test_a_clip_is_typed_as_timecode_in_frames_of_the_edit() -> None:
    read = by_name()["wanted_screen_s"].read
    # 14 s and 12 frames at 25 fps; ten minutes at 29.97 are 17 982 frames (SMPTE ST 12-1).
    assert read(setup(), "00:00:14:12") == 14.48
    slow = setup(project_fps=29.97)
    ten = read(slow, "00:10:00;00")
    assert ten == pytest.approx(17_982 * 1001 / 30_000)
    assert read(setup(), "14.5") == 14.5
    for wrong in ("00:00:14:25", "00:10:00;00", "00:00:00:00", "23:00:00:00"):
        with pytest.raises(RuleError) as caught:
            read(setup(), wrong)
        assert caught.value.field == "wanted_screen_s"


def test_half_the_distance_of_a_point_is_two_stops() -> None:
    # Inverse square; a source as wide as it is far away gains less.
    point = Lamp(lux_at_1m=1000, distance_m=4, size_m=0.001)
    assert point.halved_gain_stops == pytest.approx(2.0, abs=1e-4)
    wide = Lamp(lux_at_1m=1000, distance_m=1, size_m=2)
    assert wide.halved_gain_stops == pytest.approx(log2(2 / 1.25))


def test_room_for_stabilising() -> None:
    # 5 % a side of 3840 leave 1 - 0.1: 3456, shown 1.11 times as large.
    room = stabilised(3840, 5, 3840)
    assert (room.left_px, room.soft) == (3456, True)
    assert room.zoom == pytest.approx(1 / 0.9)
    assert not stabilised(3840, 5, 1920).soft
    # Half of it may go for a delivery of 1920: 25 % a side.
    assert most_crop_percent(3840, 1920) == pytest.approx(25)
    assert not stabilised(3840, 25, 1920).soft
    assert stabilised(3840, 25.1, 1920).soft
    assert most_crop_percent(1920, 3840) == 0
    spec = setup(intent=Intent(crop_percent=10))
    found = {f.id: f for f in plan(spec).findings}["clip.room_short"]
    assert found.number == 3072
    for fix in found.fixes:
        assert "clip.room_short" not in ids(plan(applied(spec, fix.changes))), fix
    assert "clip.room_short" not in ids(
        plan(setup(intent=Intent(crop_percent=10, delivery_px=1920)))
    )


def test_a_still_that_moves() -> None:
    # 6000 pixels for 3840: 1.5625 times. Half a pixel a frame at 25 fps is 12.5 of 3840 a second.
    assert longest_zoom(6000, 3840) == pytest.approx(1.5625)
    assert longest_zoom(1920, 3840) == 1
    assert slowest_drift_percent_s(3840, 25) == pytest.approx(100 * 12.5 / 3840)


def test_cuts_on_the_beat_never_add_up() -> None:
    # 120 bpm: half a second a beat, 12.5 frames at 25.
    beats = beats_of(14, 120, 25)
    assert (beats.beats, beats.bars, beats.nearest_beat) == (28, 7, 28)
    assert (beats.cut_frame, beats.off_s) == (350, 0)
    frames = [cut_on_beat(beat, 117.3, 23.976) for beat in range(1, 2000)]
    assert all(abs(off) <= 0.5 / 23.976 + 1e-9 for _, off in frames)
    gaps = {b[0] - a[0] for a, b in pairwise(frames)}
    assert gaps <= {12, 13}


def test_effective_f_number() -> None:
    # Textbook: f/8 at life size takes the light of f/16.
    assert effective_f_number(8, 1.0) == 16
    assert 2 * log2(effective_f_number(8, 0.52) / 8) == pytest.approx(1.21, abs=0.005)


def lit(*lamps: tuple[Role, Lamp], ambient: float = 0.0) -> Lighting:
    return Lighting(tuple(Placed(lamp=lamp, role=role) for role, lamp in lamps), ambient)


def test_a_lamp_by_the_inverse_square() -> None:
    # 10 000 lx at 1 m are 2500 at 2 m, EV 9.97 (C = 250, ISO 2720:1974).
    small = Lamp(lux_at_1m=10_000, distance_m=2, size_m=0.01)
    assert small.lux == pytest.approx(2500, rel=1e-3)
    assert lit((Role.KEY, small)).ev100 == pytest.approx(9.97, abs=0.01)
    assert Lamp(lux_at_1m=10_000, distance_m=1, size_m=1.0).lux == pytest.approx(10_000)
    one = Lamp(lux_at_1m=10_000, distance_m=2, size_m=0.01, softener=Softener.MEDIUM)
    assert log2(small.lux / one.lux) == pytest.approx(1.0, abs=1e-3)


@pytest.mark.parametrize(("diameters", "percent"), [(5.0, 1.0), (1.1, 20.7)])
def test_a_source_is_a_disc(diameters: float, percent: float) -> None:
    # The five-times rule of photometry (from memory): one percent at five diameters.
    lamp = Lamp(lux_at_1m=1000, distance_m=diameters, size_m=1.0)
    assert lamp.overstated_percent == pytest.approx(percent, abs=0.1)


def test_a_disc_agrees_with_adding_up_its_points() -> None:
    """Against numbers: dE = L cos² dA / r² over a disc of Lambert's emitters."""
    radius, at = 0.6, 1.3
    r = (np.arange(20_000) + 0.5) / 20_000 * radius
    squares = r**2 + at**2
    whole = float(np.sum(2 * pi * r * at**2 / squares**2) * radius / 20_000)
    lamp = Lamp(lux_at_1m=1.0, distance_m=at, size_m=2 * radius)
    # The disc that gives one lux at a metre has pi·L·R² = 1 + R².
    luminance = (1 + radius**2) / (pi * radius**2)
    assert lamp.lux == pytest.approx(luminance * whole, rel=1e-4)


def test_key_and_fill() -> None:
    key = Lamp(lux_at_1m=900, distance_m=1, size_m=0.01)
    fill = Lamp(lux_at_1m=300, distance_m=1, size_m=0.01)
    both = lit((Role.KEY, key), (Role.FILL, fill))
    # Key plus fill to fill: 1200 to 300 is four to one, two stops.
    assert both.ratio == pytest.approx(4.0, rel=1e-3)
    assert both.ratio_stops == pytest.approx(2.0, abs=1e-3)
    assert lit((Role.KEY, key)).ratio is None
    assert lit((Role.KEY, key), ambient=900).ratio == pytest.approx(2.0, rel=1e-3)
    # Two lamps for the same purpose add up.
    assert lit((Role.KEY, key), (Role.KEY, key), (Role.FILL, fill)).ratio == pytest.approx(
        7.0, rel=1e-3
    )
    # A sheet of 1 m at 2 m, half a metre before the wall: the edge of a shadow is 25 cm wide.
    assert Lamp(lux_at_1m=100, distance_m=2, size_m=1).edge_m(0.5) == pytest.approx(0.25)
    with pytest.raises(RuleError):
        Lamp(lux_at_1m=100, distance_m=0)


def test_lightning_back_to_back_and_with_a_trigger() -> None:
    # A strike every two minutes in view, 20 s open in every 22 s, 500 frames of 25 MB.
    found = strikes(120, 20, 22, 500, 25)
    assert found.frame_share == pytest.approx(1 - exp(-20 / 120))
    assert found.with_strike == pytest.approx(500 * (1 - exp(-1 / 6)))
    assert found.empty == pytest.approx(500 * exp(-1 / 6))
    assert found.expected == pytest.approx(500 * 22 / 120)
    assert found.between_share == pytest.approx(2 / 22)
    assert found.size_gb == pytest.approx(12.5)
    # Simulated: as many frames with a strike as the formula says.
    draws = np.random.default_rng(3).poisson(20 / 120, 200_000)
    assert float((draws > 0).mean()) == pytest.approx(found.frame_share, abs=0.003)
    run = run_of(interval(run={"passes_s": 120.0}))
    assert run.strikes is not None
    assert run.strikes.expected == pytest.approx(500 * 6 / 120)
    assert run_of(interval()).strikes is None


def test_what_a_diffusion_filter_lifts() -> None:
    net = Filter(name="Net", kind=FilterKind.DIFFUSION, stops=0.3)
    # Common practice, no source: a tenth of the mean a stop; rough by a factor of two.
    assert veil_share((net,)) == pytest.approx(0.03)
    assert veil_share((Filter(name="n", kind=FilterKind.ND, stops=3),)) == 0
    assert veiled_floor_stops(0.03, 0.0) == pytest.approx(log2(0.03))
    with pytest.raises(ValueError, match="no veil"):
        veiled_floor_stops(0.0, 0.0)
    assert analyse(setup(filters=(net,))).budget.lines[-1].stops <= 0


@pytest.mark.parametrize("angle", [0.0, 60.0, -60.0])
def test_a_background_is_lit_by_the_cosine(angle: float) -> None:
    # Lambert's law of the cosine: 60 degrees off, half the light. 100 lux at a metre, 2 m away.
    lamp = Placed(
        lamp=Lamp(lux_at_1m=100, distance_m=2, size_m=0.001), role=Role.BACKGROUND, angle_deg=angle
    )
    assert lamp.on_background(3.0) == pytest.approx(25.0 if not angle else 12.5, rel=1e-3)


def test_what_a_key_spills_on_the_background() -> None:
    # 3 m before the subject and a metre to the side, the wall 1 m behind: 4 m and 1 m to the wall.
    away = 10**0.5
    key = Placed(
        lamp=Lamp(lux_at_1m=1700, distance_m=away, size_m=0.001), role=Role.KEY,
        angle_deg=degrees(atan2(1, 3)),
    )  # fmt: skip
    # 1700 / 17 at the cosine 4/sqrt(17), worked by hand.
    assert key.on_background(1.0) == pytest.approx(100 * 4 / 17**0.5, rel=1e-4)
    behind = Placed(lamp=key.lamp, role=Role.KEY, angle_deg=180.0)
    assert behind.on_background(1.0) == 0.0
    found = Lighting((key,), 3.0, 1.0)
    back = found.background_lux
    assert back == pytest.approx(3 + 100 * 4 / 17**0.5, rel=1e-4)
    assert found.background_stops == pytest.approx(log2(back / (170 + 3)), abs=1e-4)
    assert Lighting((key,)).background_lux is None
    assert Lighting((key,)).background_stops is None
