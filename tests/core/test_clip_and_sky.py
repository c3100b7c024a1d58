"""Clip length, size and takes; the sun's height against an ephemeris."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fotonomy.core.sky.light import SkyLight, sky_light
from fotonomy.core.stills.clip import single_frame_clip, speed_percent, still_clip, video_clip


def test_speed_of_60_in_24() -> None:
    # Common practice, no source: 60 conformed to 24 plays at 40 %.
    assert speed_percent(60, 24) == pytest.approx(40)
    # Exact rates: 59.94 in 23.976 is 40 % too.
    assert speed_percent(59.94, 23.976) == pytest.approx(40, abs=1e-9)


def test_a_slow_motion_take() -> None:
    clip = video_clip(
        screen_s=24, handle_s=0.5, capture_fps=100, project_fps=25, mb_s=280, card_gb=128
    )  # fmt: skip
    assert (clip.screen_frames, clip.event_s, clip.record_s) == (600, 6.0, 7.0)
    assert clip.record_frames == 700
    # 280 Mb/s for 7 s, eight bits to the byte: 245 MB; 128 000 MB hold 522.
    assert clip.size_mb == pytest.approx(245)
    assert clip.takes_per_card == 522


def test_a_timelapse_in_pictures() -> None:
    # Worked in the trade: 478 frames are 19.9 s at 24 fps.
    clip = still_clip(
        screen_s=478 / 24, handle_s=0, capture_fps=1 / 15, project_fps=24, still_mb=25, card_gb=64
    )  # fmt: skip
    assert clip.screen_frames == 478
    assert clip.record_s == pytest.approx(478 * 15)
    assert clip.size_mb == pytest.approx(478 * 25)
    assert clip.speed_percent == pytest.approx(24 * 15 * 100)


def test_one_long_exposure() -> None:
    clip = single_frame_clip(screen_s=6, time_s=15, project_fps=25, still_mb=26, card_gb=128)
    assert (clip.record_frames, clip.record_s, clip.screen_frames) == (1, 15, 150)


def test_a_take_larger_than_the_card() -> None:
    clip = video_clip(
        screen_s=3600, handle_s=0, capture_fps=25, project_fps=25, mb_s=800, card_gb=64
    )  # fmt: skip
    assert clip.takes_per_card == 0


@given(st.floats(0.1, 600), st.sampled_from([23.976, 24, 25, 29.97, 50, 100]))
def test_the_event_fills_the_wanted_screen_time(screen_s: float, fps: float) -> None:
    clip = video_clip(
        screen_s=screen_s, handle_s=0, capture_fps=fps, project_fps=25, mb_s=100, card_gb=128
    )  # fmt: skip
    assert screen_s - 0.001 <= clip.screen_s <= screen_s + 1 / 25 + 0.001
    assert clip.event_s == pytest.approx(clip.screen_s * clip.speed_percent / 100, rel=1e-9)


@pytest.mark.parametrize(
    ("altitude", "light"),
    [(-30, SkyLight.NIGHT), (-15, SkyLight.DEEP_TWILIGHT), (-8, SkyLight.TWILIGHT),
     (-5, SkyLight.BLUE), (0, SkyLight.GOLDEN), (10, SkyLight.LOW_SUN), (50, SkyLight.DAY)],
)  # fmt: skip
def test_bands_of_light(altitude: float, light: SkyLight) -> None:
    assert sky_light(altitude) is light
