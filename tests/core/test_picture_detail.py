"""Noise, trails, bands and sharpness are found again as they were put into a picture.

Numbers put in by hand are the outside; the noise mask is Immerkær's (1996), held against plain noise.
"""

from dataclasses import replace
from math import log2
from typing import Any

import cv2
import numpy as np
import pytest

from fotonomy.core.analysis.setup import analyse
from fotonomy.core.curves.transfer_functions import encode
from fotonomy.core.pictures.bands import bands_between, bands_in, expected_count
from fotonomy.core.pictures.frame_levels import Area, FileCurve
from fotonomy.core.pictures.patches import noise_in, packed, sharpness_in, tiles_of, unpacked
from fotonomy.core.pictures.points import points_of, trails_of
from fotonomy.core.spec.readings import Reading
from tests.core.examples import setup

WHOLE = Area(0, 0, 100, 100)
WALL = setup(readings=(Reading(name="wall", stops=0.0, key=True),))


def srgb(linear: Any) -> Any:
    """IEC 61966-2-1, the other way round."""
    light = np.clip(linear, 0, 1)
    return np.where(light <= 0.0031308, 12.92 * light, 1.055 * light ** (1 / 2.4) - 0.055)


def codes(signal: Any) -> Any:
    return np.round(255 * np.clip(signal, 0, 1)).astype(np.uint8)


def noisy(mean: float, sigma: float, shape: tuple[int, int] = (600, 960), seed: int = 2) -> Any:
    """An even wall with a slope of light, and noise of so many codes."""
    random = np.random.default_rng(seed)
    slope = np.linspace(-8, 8, shape[1])[None, :]
    return np.clip(np.round(mean + slope + sigma * random.standard_normal(shape)), 0, 255).astype(
        np.uint8
    )


@pytest.mark.parametrize("sigma", [0.7, 1.5, 4.0, 12.0])
def test_noise_is_found_within_a_tenth_of_a_stop(sigma: float) -> None:
    found = noise_in(tiles_of(noisy(118, sigma)), WHOLE, FileCurve.PICTURE, WALL.recorded_profile)
    assert found is not None
    assert abs(log2(found.noise_codes / sigma)) < 0.1
    # Code 118 is 0.1812 of white and a code there 0.00329 of it: IEC 61966-2-1 by hand.
    assert found.snr == pytest.approx(0.1812 / (0.00329 * sigma), rel=0.08)


def test_structure_is_no_noise() -> None:
    """Edges and a texture in half of the area: the calm tiles tell."""
    wall = noisy(100, 2.0).astype(float)
    wall[:, ::40] += 60
    wall[:260, 300:700] += 30 * np.sin(np.arange(400) / 1.5)[None, :]
    found = noise_in(
        tiles_of(np.clip(wall, 0, 255).astype(np.uint8)), WHOLE, FileCurve.PICTURE,
        WALL.recorded_profile,
    )  # fmt: skip
    assert found is not None
    assert abs(log2(found.noise_codes / 2.0)) < 0.25


@pytest.mark.parametrize("iso", [2000, 4000, 12_800])
@pytest.mark.parametrize("stops", [0.0, -1.0])
def test_the_iso_that_noise_looks_like_comes_back_from_the_models_own_noise(
    iso: int, stops: float
) -> None:
    spec = replace(WALL, iso=iso)
    model, profile = analyse(spec).noise.model, spec.recorded_profile
    wide = spec.format.photosites_px or spec.format.width_px
    snr = float(model.snr(iso, stops, wide))
    random = np.random.default_rng(3)
    light = 2.0**stops * (1 + random.standard_normal((200, wide)) / snr)
    wall = codes(encode(profile.curve, profile.grey_linear * np.maximum(light, 1e-6)))
    found = noise_in(tiles_of(wall), WHOLE, FileCurve.PROFILE, profile)
    assert found is not None
    assert abs(log2(found.snr / snr)) < 0.1
    looks = float(model.iso_for(found.snr, stops, wide))
    expected = float(model.iso_for(snr, stops, wide))
    assert abs(log2(looks / expected)) < 0.25


def test_what_is_clipped_or_black_has_no_noise_to_tell() -> None:
    profile = WALL.recorded_profile
    # A wall without any noise is cleaner than 8 bits tell.
    for code in (0, 255, 118):
        flat = np.full((300, 400), code, dtype=np.uint8)
        assert noise_in(tiles_of(flat), WHOLE, FileCurve.PICTURE, profile) is None


def test_tiles_are_kept_and_come_back() -> None:
    tiles = tiles_of(noisy(90, 3.0))
    back = unpacked(packed(tiles), 960)
    assert back.mean == pytest.approx(tiles.mean, abs=0.003)
    assert back.noise == pytest.approx(tiles.noise, abs=0.001)
    assert back.sharpness == pytest.approx(tiles.sharpness, rel=0.001)
    assert tiles.mean.shape == (50, 80)
    with pytest.raises(ValueError, match="three planes"):
        unpacked(packed(tiles)[:, :, 0], 960)


def test_an_area_asks_its_own_tiles() -> None:
    wall = noisy(100, 2.0)
    wall[:, 480:] = noisy(100, 8.0)[:, 480:]
    tiles, profile = tiles_of(wall), WALL.recorded_profile
    left = noise_in(tiles, Area(0, 0, 50, 100), FileCurve.PICTURE, profile)
    right = noise_in(tiles, Area(50, 0, 50, 100), FileCurve.PICTURE, profile)
    assert left is not None
    assert right is not None
    assert right.noise_codes / left.noise_codes == pytest.approx(4, rel=0.1)
    corner = noise_in(tiles, Area(99.5, 99.5, 0.5, 0.5), FileCurve.PICTURE, profile)
    assert corner is not None


def test_the_sharper_of_two_is_the_sharper() -> None:
    random = np.random.default_rng(5)
    scene = cv2.resize(random.uniform(60, 190, (60, 96)).astype(np.float32), (960, 600))
    sharp = [
        sharpness_in(tiles_of(codes(cv2.GaussianBlur(scene, (0, 0), blur) / 255)), WHOLE)
        for blur in (0.6, 1.5, 4.0)
    ]
    assert sharp[0] > sharp[1] + 0.5 > sharp[2] + 1.0


def stars(length: float, angle: float, count: int = 30, seed: int = 1) -> Any:
    """Stars over a dark sky, each a line of even light behind a lens's blur."""
    random, light = np.random.default_rng(seed), np.full((700, 1100), 0.01, dtype=np.float64)
    turn = np.radians(angle)
    for _ in range(count):
        x, y, bright = random.uniform(60, 1040), random.uniform(60, 640), random.uniform(0.15, 0.7)
        rows, columns = np.mgrid[int(y) - 40 : int(y) + 41, int(x) - 40 : int(x) + 41]
        for step in np.linspace(-length / 2, length / 2, 80):
            cx, cy = x + step * np.cos(turn), y - step * np.sin(turn)
            light[int(y) - 40 : int(y) + 41, int(x) - 40 : int(x) + 41] += (
                bright / 80 * np.exp(-((columns - cx) ** 2 + (rows - cy) ** 2) / (2 * 1.1**2))
            )
    light *= 1 + 0.02 * random.standard_normal(light.shape)
    return codes(srgb(light + 0.001 * random.standard_normal(light.shape)))


@pytest.mark.parametrize(("length", "angle"), [(3.0, 0.0), (7.0, 30.0), (15.0, -75.0), (30, 88)])
def test_the_trail_of_stars_is_found_within_half_a_pixel(length: float, angle: float) -> None:
    trails = trails_of(points_of(stars(length, angle)))
    assert trails is not None
    assert trails.count >= 15
    assert trails.length_px == pytest.approx(length, abs=0.5)
    if length > 5:
        assert (trails.angle_deg - angle + 90) % 180 - 90 == pytest.approx(0, abs=2)


def test_stars_that_stand_still_have_no_trail() -> None:
    trails = trails_of(points_of(stars(0.0, 0.0)))
    assert trails is not None
    assert trails.length_px < 1.2


def test_where_a_point_lies_and_what_is_none() -> None:
    sky = np.full((400, 600), 20, dtype=np.uint8)
    cv2.ellipse(sky, (150, 300), (14, 1), 0, 0, 360, 230, -1)
    (one,) = points_of(sky)
    assert (one.x_percent, one.y_percent) == pytest.approx((25, 75), abs=0.3)
    assert one.angle_deg == pytest.approx(0, abs=1)
    # A wall in the sun is no point, nor is what lies at the edge or goes through the picture.
    cv2.rectangle(sky, (400, 50), (590, 350), 240, -1)
    cv2.circle(sky, (2, 2), 3, 255, -1)
    cv2.line(sky, (10, 20), (60, 20), 250, 2)
    cv2.circle(sky, (60, 200), 9, 250, -1)
    assert len(points_of(sky)) == 1
    assert points_of(np.full((40, 60), 128, dtype=np.uint8)) == ()
    assert trails_of(()) is None


@pytest.mark.parametrize("row", [500, 511, 512, 530, 1023])
def test_a_point_between_two_strips_is_one(row: int) -> None:
    sky = np.full((1400, 900), 20, dtype=np.uint8)
    cv2.ellipse(sky, (300, row), (14, 1), 90, 0, 360, 230, -1)
    (one,) = points_of(sky)
    assert one.y_percent == pytest.approx(100 * row / 1400, abs=0.1)
    assert abs(one.angle_deg) == pytest.approx(90, abs=2)


def scene(seed: int) -> Any:
    """A scene with things of every size and three edges across it."""
    random = np.random.default_rng(seed)
    cells = (int(random.integers(3, 40)), int(random.integers(3, 60)))
    light = 0.2 * np.exp2(0.6 * cv2.resize(random.standard_normal(cells), (800, 450)))
    for edge in random.integers(30, 420, 3):
        light[int(edge) :] *= 2 ** random.uniform(-1.5, 1.5)
    return light


def banded(
    light: Any, stops: float, count: float, phase: float, seed: int = 0, grain: float = 0.02
) -> Any:
    """The scene under lamps: ``stops`` from the dark of a band to its light."""
    random = np.random.default_rng(seed)
    wave = np.exp2(stops / 2 * np.sin(2 * np.pi * count * np.arange(450) / 450 + phase))
    shown = light * wave[:, None] * (1 + grain * random.standard_normal(light.shape))
    return np.repeat(codes(srgb(shown))[:, :, None], 3, axis=2)


@pytest.mark.parametrize("seed", range(8))
def test_bands_are_told_between_two_frames_and_nothing_where_there_are_none(seed: int) -> None:
    light, count = scene(seed), 2.5 + seed
    quiet = [banded(light, 0.0, count, 0, seed=k) for k in (1, 2)]
    assert bands_between(*quiet) is None
    # Half a band on, they are twice as large in the difference.
    rolled = [banded(light, 0.06, count, phase, seed=k) for k, phase in ((1, 0.0), (2, np.pi))]
    found = bands_between(*rolled)
    assert found is not None
    assert found.count == pytest.approx(count, abs=0.3)
    assert found.stops == pytest.approx(0.12, abs=0.03)


@pytest.mark.parametrize("seed", range(4))
def test_faint_bands_between_two_frames_are_told_from_where_they_show(seed: int) -> None:
    light = scene(seed)
    faint, shows = (
        bands_between(*(banded(light, stops, 6.0, phase, seed=k, grain=0.3)
                        for k, phase in ((1, 0.0), (2, np.pi))))
        for stops in (0.003, 0.014)
    )  # fmt: skip
    assert faint is None
    assert shows is not None


def test_bands_in_a_single_frame_where_they_are_expected() -> None:
    even = np.full((450, 800), 0.2)
    found = bands_in(banded(even, 0.3, 4.0, 0.7), 4.1)
    assert found is not None
    assert found.count == pytest.approx(4.0, abs=0.25)
    assert found.stops == pytest.approx(0.3, abs=0.05)
    assert bands_in(banded(even, 0.3, 4.0, 0.7), 6.0) is None
    assert bands_in(banded(even, 0.0, 4.0, 0.7), 4.0) is None
    assert bands_in(banded(even, 0.3, 4.0, 0.7), 500.0) is None
    told = sum(bands_in(banded(scene(seed), 0.0, 5, 0), 2 + seed / 2) is not None
               for seed in range(20))  # fmt: skip
    assert told <= 1


def test_frames_of_two_sizes_are_not_held_to_each_other() -> None:
    one = banded(np.full((450, 800), 0.2), 0.1, 4, 0)
    assert bands_between(one, one[:, :700]) is None


def test_how_many_bands_a_shutter_has() -> None:
    # 20 ms from the first row to the last under 100 pulses a second: two.
    assert expected_count(20, 100) == pytest.approx(2)
