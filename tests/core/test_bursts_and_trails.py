"""Bursts and long exposures: buffer, moment, trail, combining."""

from dataclasses import replace
from math import exp, inf, log2, sqrt
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fotonomy.core.analysis.setup import analyse
from fotonomy.core.exposure.light_budget import light_budget
from fotonomy.core.gear.accessories import Card, Remote
from fotonomy.core.motion.shutter import Shutter
from fotonomy.core.photometry.exposure_value import Ev100
from fotonomy.core.plan import plan
from fotonomy.core.spec.readings import Reading, Surface
from fotonomy.core.spec.setup import Setup
from fotonomy.core.spec.stills import Combining, Files
from fotonomy.core.stills.burst import Buffer, Burst, chance_of, file_mb, limit_of, rate_of
from fotonomy.core.stills.long_exposure import (
    LongExposure,
    empty_chance,
    passing_of,
    under_each_stops,
    uneven_share,
)
from tests.core.examples import has_reason_number_and_fix, with_typed_setting
from tests.core.run_examples import CAM, CARD, DRIVES, burst, ids, long_exposure


def burst_of(spec: Setup) -> Burst:
    found = analyse(spec).run
    assert isinstance(found, Burst)
    return found


def long_exposure_of(spec: Setup) -> LongExposure:
    found = analyse(spec).run
    assert isinstance(found, LongExposure)
    return found


def test_a_buffer_as_worked_out_by_hand() -> None:
    # 50 frames at 20 a second last 2.5 s, at 60 a second 0.83 s, where nothing is written meanwhile.
    assert Buffer(50, 20, 0).full_after_s == 2.5
    assert Buffer(50, 60, 0).full_after_s == pytest.approx(0.83, abs=0.005)
    # Written at 5 a second: 50*20/(20-5) = 66.7 frames; it clears in 50/5 s.
    slower = Buffer(50, 20, 5)
    assert slower.full_after == pytest.approx(66.67, abs=0.01)
    assert slower.clears_s(60) == 10
    assert Buffer(50, 5, 5).full_after == inf
    assert Buffer(50, 20, 0).clears_s(1) == inf


@given(st.integers(1, 400), st.floats(1, 60), st.floats(0.5, 30), st.floats(0.1, 30))
def test_a_buffer_agrees_with_counting_it_out(
    frames: int, rate: float, write: float, lasts: float
) -> None:
    """The formula against a sum in small steps of time."""
    buffer, steps = Buffer(frames, rate, write), 20_000
    held = taken = 0.0
    each = lasts / steps
    for _ in range(steps):
        more = rate * each if held < frames - 1e-9 else min(rate, write) * each
        taken += more
        held = min(float(frames), max(0.0, held + more - write * each))
    assert taken == pytest.approx(buffer.taken(lasts), rel=0.01, abs=0.2)
    assert held == pytest.approx(buffer.held_after(lasts), rel=0.02, abs=0.2)


def test_drives_files_and_focus() -> None:
    slow, high, fastest = DRIVES
    assert (rate_of(high, False), rate_of(high, True), rate_of(fastest, True)) == (12, 9, 60)
    assert (limit_of(high, Files.RAW), limit_of(high, Files.JPEG), limit_of(slow, Files.JPEG)) == (
        60,
        600,
        500,
    )
    assert [file_mb(CAM, kept) for kept in Files] == [25, 8, 33]
    assert [chance_of(0.05, rate) for rate in (5, 12, 60)] == pytest.approx([0.25, 0.6, 1])


def test_which_rate_is_enough_and_why() -> None:
    found = burst_of(burst(run={"moment_s": 0.08, "burst_s": 2.0}))
    # 0.08 s times 12 a second: 96 % of the time; sixty a second would keep five times as many.
    assert found.advised.drive.name == "high"
    assert "96 %" in found.because
    assert "5 times" in found.because
    assert [one.enough for one in found.choices] == [False, True, False]
    # 9 m/s at 12 a second: 75 cm from frame to frame.
    assert found.present.spacing_m == pytest.approx(0.75)
    assert (found.present.lean_deg, found.choices[2].lean_deg is None) == (None, False)
    short = burst_of(burst(run={"moment_s": 0.01}))
    assert short.advised.drive.name == "fastest"
    assert "60 %" in short.because
    assert burst_of(burst(frame_rate=60)).before_frames == 30
    assert burst_of(burst(frame_rate=60)).covers_reaction


def test_stills_or_video_in_numbers() -> None:
    found = burst_of(burst(run={"burst_s": 2.0, "bursts_an_hour": 30.0}))
    video = found.video
    assert video
    # 4K at 100 fps and 280 Mb/s: 8.3 MP, 35 MB a second, a minute an hour.
    assert (video.rate_fps, video.megapixels) == (100, pytest.approx(8.29, abs=0.01))
    assert video.gb_an_hour == pytest.approx(35 * 60 / 1000)
    assert found.still_megapixels == 24
    # 24 frames a burst of 25 MB, thirty times: 18 GB.
    assert found.present.gb_an_hour == pytest.approx(18)


def test_a_burst_without_a_known_card_says_so() -> None:
    found = burst_of(burst(devices=()))
    assert found.present.buffer is None
    assert "burst.buffer_full" not in ids(plan(burst(devices=())))
    assert (
        burst_of(burst(body=replace(CAM, drive_modes=()))).present.drive.name == "single pictures"
    )


def test_findings_of_a_burst() -> None:
    # 60 frames at 12 and 2 a second written: full after 72 frames, 6 s.
    long = plan(burst(run={"burst_s": 10.0, "moment_s": 0.08}))
    finding = next(f for f in long.findings if f.id == "burst.buffer_full")
    assert finding.number == pytest.approx(6.0)
    settled = burst(run={"burst_s": 5.94, "moment_s": 0.08})
    assert finding.fixes[0].changes[0].value == 5.94
    assert "burst.buffer_full" not in ids(plan(settled))
    missed = next(
        f for f in plan(burst(run={"moment_s": 0.01})).findings if f.id == "burst.moment_missed"
    )
    assert missed.number == pytest.approx(12)
    assert missed.fixes[0].changes[0].value == 60


@given(st.sampled_from(list(Combining)), st.integers(1, 50))
def test_only_what_is_added_has_to_be_under(combining: Combining, frames: int) -> None:
    under = under_each_stops(combining, frames)
    assert under == (pytest.approx(log2(frames)) if combining is Combining.ADDITIVE else 0)


def test_added_exposures_give_light_to_the_budget() -> None:
    single = light_budget(long_exposure()).error_stops
    added = light_budget(long_exposure(run={"combining": Combining.ADDITIVE, "frames": 4}))
    assert added.error_stops == pytest.approx(single + 2)
    averaged = long_exposure(
        run={"combining": Combining.AVERAGE, "frames": 4},
        body=replace(CAM, combines_averaging=True),
    )
    assert light_budget(averaged).error_stops == pytest.approx(single)
    # Four averaged frames halve the noise: one stop of looks-like ISO and more.
    assert analyse(averaged).noise.shadow_snr == pytest.approx(
        2 * analyse(long_exposure()).noise.shadow_snr, rel=0.01
    )


def test_a_trail_by_hand() -> None:
    # 5 m/s across 360 m: 15 s draw 75 m, 20.8 %.
    one = long_exposure_of(long_exposure())
    assert (one.whole_percent, one.hole_percent) == (pytest.approx(20.83, abs=0.02), 0)
    three = long_exposure_of(
        long_exposure(run={"combining": Combining.LATER, "frames": 3, "trail_percent": 60.0})
    )
    # Two gaps of 0.2 s: 1 m each, 0.28 % or 10.7 px of 3840.
    assert three.whole_percent == pytest.approx(3 * 20.83 + 2 * 0.278, abs=0.05)
    assert three.hole_px == pytest.approx(10.67, abs=0.02)
    # 60 % are 216 m, 43.2 s; less two gaps, over three.
    assert three.wanted_s == pytest.approx((43.2 - 0.4) / 3, abs=0.01)
    dark = long_exposure_of(
        long_exposure(run={"combining": Combining.LATER, "frames": 3, "noise_frames": True})
    )
    # A noise frame of 15 s and half a second of writing lie between two exposures.
    assert dark.gap_s == pytest.approx(15.5)
    assert dark.lasts_s == pytest.approx(3 * 15 + 2 * 15.5 + 15)


def test_what_is_combined_later_stays_on_the_card_frame_by_frame() -> None:
    later = analyse(long_exposure(run={"combining": Combining.LATER, "frames": 4})).clip
    in_camera = analyse(long_exposure(run={"combining": Combining.ADDITIVE, "frames": 4})).clip
    assert (later.size_mb, later.record_frames, in_camera.size_mb) == (100, 4, 25)


def test_what_passes_is_a_poisson_count() -> None:
    mean = passing_of(30, 12)
    empty, spread = empty_chance(mean), uneven_share(mean)
    assert (mean, empty, spread) == (2.5, pytest.approx(exp(-2.5)), pytest.approx(1 / sqrt(2.5)))


def test_lamps_get_a_pass_of_their_own() -> None:
    lamps = (
        Reading(name="head lamps", stops=9.0, surface=Surface.LAMP), Reading(name="road", stops=-2.0),
        Reading(name="tail lamps", stops=4.0, surface=Surface.LAMP),
    )  # fmt: skip
    found = long_exposure_of(long_exposure(readings=lamps, light=Ev100(3.0)))
    assert [one.name for one in found.lamps] == ["head lamps", "tail lamps"]
    head, tail = found.lamps
    # The flat log holds 6.2 stops over grey; 0.3 are kept free.
    over = analyse(long_exposure(readings=lamps, light=Ev100(3.0))).budget.exposure_stops
    assert head.less_stops == pytest.approx(9 + over - 6.2 + 0.3, abs=0.05)
    assert tail.less_stops == pytest.approx(max(0.0, 4 + over - 5.9), abs=0.05)
    assert head.iris == pytest.approx(min(22, 11 * sqrt(2**head.less_stops)))


# One setup for each finding, with the number it should carry (worked by hand).
CASES: list[tuple[str, float, Setup]] = [
    ("trail.combine_limit", 6, long_exposure(run={"combining": Combining.ADDITIVE, "frames": 6})),
    ("trail.no_averaging", 2, long_exposure(run={"combining": Combining.AVERAGE, "frames": 4})),
    # 15 s and something every 30 s: exp(-0.5) of the pictures stay empty.
    ("trail.may_stay_empty", 100 * exp(-0.5), long_exposure(run={"passes_s": 30.0})),
    ("trail.holes", 10.67, long_exposure(run={"combining": Combining.LATER, "frames": 3})),
    ("trail.bulb", 90, long_exposure(shutter=Shutter(time_s=90))),
    ("trail.length", 20.83, long_exposure(run={"trail_percent": 60.0})),
]  # fmt: skip


@pytest.mark.parametrize(("key", "number", "spec"), CASES, ids=[case[0] for case in CASES])
def test_every_finding_of_a_long_exposure_has_a_reason_a_number_and_a_fix(
    key: str, number: float, spec: Setup
) -> None:
    finding = next(f for f in plan(spec).findings if f.id == key)
    has_reason_number_and_fix(finding, number)


def test_bulb_may_be_typed_and_a_remote_quiets_its_finding() -> None:
    spec = with_typed_setting(long_exposure(), "shutter", "90 s")
    assert long_exposure_of(spec).bulb
    assert "shutter.gear_lacks" not in ids(plan(spec))
    with_remote = replace(spec, devices=(CARD, Remote(name="r")))
    assert "trail.bulb" not in ids(plan(with_remote))
    # A fix that takes the longest the body has goes with what balances it.
    fixes: Any = next(f for f in plan(spec).findings if f.id == "trail.bulb").fixes
    assert fixes[-1].changes[0].value == Shutter(time_s=30)


def test_a_quick_card_and_jpeg_make_bursts_longer() -> None:
    slow = burst_of(burst()).present
    quick = burst_of(burst(devices=(Card(name="q", size_gb=64, write_mb_s=250),))).present
    jpeg = burst_of(burst(run={"files": Files.JPEG})).present
    assert slow.full_after_s is not None
    assert quick.full_after_s is not None
    assert slow.full_after_s < quick.full_after_s
    assert jpeg.full_after_s is not None
    assert slow.full_after_s < jpeg.full_after_s


def test_a_body_without_drives_takes_its_pictures_as_slowly_as_a_setup_may_be() -> None:
    slow = burst(body=replace(CAM, drive_modes=()), frame_rate=1 / 3600)
    assert burst_of(slow).present.rate_fps == pytest.approx(1 / 3600)


def test_a_long_exposure_keeps_its_rate_whatever_moves() -> None:
    # It has no next frame: a rate is nothing to be offered.
    spec = long_exposure(held=frozenset({"shutter"}), light=Ev100(9.0))
    for finding in plan(spec).findings:
        for fix in finding.fixes:
            assert "frame_rate" not in {change.setting for change in fix.changes}
