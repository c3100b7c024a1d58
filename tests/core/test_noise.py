"""The noise model: EMVA's own terms, the identities people rely on, and calibration."""

from dataclasses import replace
from math import log2, sqrt

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from fotonomy.core.analysis.setup import analyse
from fotonomy.core.errors import RuleError
from fotonomy.core.gear.body import Sensor
from fotonomy.core.gear.profile import Profile
from fotonomy.core.photometry.exposure_value import Ev100
from fotonomy.core.spec.intent import ExposureMethod, Intent
from fotonomy.core.tone.noise import READ_LOW_E, NoiseModel, noise_model
from fotonomy.core.tone.photon_transfer import fit, linearised, measure, per_photosite
from fotonomy.core.tone.signal_levels import headroom_stops
from fotonomy.simulators.camera import codes_of, grey_frame
from tests.core.examples import BODY, FLAT, VIDEO, setup

SENSOR = Sensor(full_well_e=40_000, read_low_e=5, read_high_e=1.8, prnu_share=0.005)


def model(profile: Profile = FLAT, sensor: Sensor = SENSOR) -> NoiseModel:
    return noise_model(sensor, BODY.formats[0], profile, 100)


def test_electrons_and_noise_by_hand() -> None:
    # Grey at the lower base: 40 000 · 2^-6.21 = 541 electrons; three stops under 67.6.
    # σ² = 67.6 + 25 + (0.005·67.6)² = 92.7 (EMVA Standard 1288, photon transfer), so 7.02.
    m = model()
    assert headroom_stops(FLAT) == pytest.approx(6.21, abs=0.01)
    assert float(m.electrons(500, 0)) == pytest.approx(541, abs=3)
    assert float(m.snr(500, -3)) == pytest.approx(67.6 / sqrt(92.7), abs=0.05)
    # A stop more ISO, half the electrons.
    assert float(m.electrons(1000, 0)) == pytest.approx(float(m.electrons(500, 0)) / 2)


@given(st.floats(100, 3000), st.floats(-4, 4))
def test_a_stop_of_exposure_is_a_stop_of_iso(iso: float, stops: float) -> None:
    m = model()
    assert float(m.looks_like(iso, stops)) == pytest.approx(iso * 2.0**-stops, rel=1e-6)


def test_the_identities_people_know() -> None:
    m = model()
    nominal = float(m.looks_like(800))
    assert nominal == pytest.approx(800)
    # Exact identities of the model: +1 pulled down halves it, -2 lifted quadruples it.
    assert float(m.looks_like(800, 1)) == pytest.approx(nominal / 2)
    assert float(m.looks_like(800, -2)) == pytest.approx(nominal * 4)


def test_the_upper_base_is_cleaner_than_just_under_it() -> None:
    # Common practice, no source: so of every body with two bases.
    m = model()
    assert float(m.looks_like(3150)) > float(m.looks_like(3200))
    assert float(m.looks_like(2500)) > float(m.looks_like(3200)) * 1.2
    assert float(m.snr(3200, -3)) > float(m.snr(3190, -3))
    # At the upper gain an exposure of a stop is an ISO of a stop all the same.
    assert float(m.looks_like(6400, 1)) == pytest.approx(float(m.looks_like(3200)))
    single = model(VIDEO)
    assert single.upper_base is None
    assert float(single.looks_like(3200)) == pytest.approx(3200)


def test_delivery_and_averaging_by_their_square_roots() -> None:
    m = model(sensor=replace(SENSOR, prnu_share=0.0))
    plain = float(m.snr(3200, -3))
    assert float(m.snr(3200, -3, delivered_px=1920)) == pytest.approx(2 * plain)
    assert float(m.snr(3200, -3, frames=9)) == pytest.approx(3 * plain)
    assert float(m.looks_like(800, 0, 1920)) < 400
    more = noise_model(SENSOR, replace(BODY.formats[0], photosites_px=7680), FLAT, 100)
    assert more.gain_px == 2


def test_averaging_leaves_the_sensors_own_pattern() -> None:
    m = model(sensor=replace(SENSOR, prnu_share=0.02))
    assert float(m.snr(500, 4, frames=1000)) < 1 / 0.02


@given(st.floats(200, 12_000), st.integers(1, 64))
def test_the_floor_is_where_tone_and_noise_are_equal(iso: float, frames: int) -> None:
    m = model()
    floor = m.floor_stops(iso, None, frames)
    # Between points a tenth of a stop apart: within half a hundredth.
    assert float(m.snr(iso, floor, None, frames)) == pytest.approx(1, rel=5e-3)


def test_what_is_not_known_is_typical_for_the_size() -> None:
    m = model(sensor=Sensor())
    assert m.assumed
    # 36 mm over 3840 photosites: 9.375 µm, so 87.9 µm² of 1200 electrons (from memory).
    assert m.full_well_e == pytest.approx(1200 * 9.375**2)
    assert not model().assumed


def test_the_limit_is_the_ceiling_nominally_exposed() -> None:
    body = replace(BODY, iso_ceiling=2000)
    at_ceiling = analyse(setup(body=body, iso=2000, light=Ev100(7.3), nd_density=0))
    # What the budget lacks at the ceiling is what the shadows lie beyond the limit.
    assert at_ceiling.noise.inside_stops == pytest.approx(at_ceiling.budget.error_stops)
    # A stop under in the light, put right in the edit, is a stop of noise.
    under = analyse(setup(body=body, iso=1600, light=Ev100(12), nd_density=1.8))
    assert under.noise.pulled_stops == pytest.approx(under.budget.error_stops)
    lifted = analyse(setup(intent=Intent(exposing=ExposureMethod.UNDER)))
    plain = analyse(setup())
    assert lifted.noise.pulled_stops == pytest.approx(lifted.budget.error_stops - 0.5)
    assert plain.noise.pulled_stops == pytest.approx(plain.budget.error_stops)


PAIRS = [(FLAT, (500, 2000, 3200, 12_800)), (VIDEO, (100, 400)),
         (replace(FLAT, bits=8), (500, 2000, 3200, 12_800))]  # fmt: skip


@pytest.mark.parametrize(("profile", "isos"), PAIRS)
def test_the_fit_finds_the_stand_ins_own_numbers(profile: Profile, isos: tuple[int, ...]) -> None:
    """Full well within 3 %, read noise within 5 %, the line within 2 %: the stated error."""
    m, groups = model(profile), []
    for iso in isos:
        first, second = (grey_frame(m, profile, iso, (-4, 1.6), iso + k, 640, 360) for k in (1, 2))
        groups += measure(first, second, profile, iso)
    found = fit(tuple(groups), profile, 100)
    assert found.read_fitted
    assert found.sensor.full_well_e == pytest.approx(40_000, rel=0.03)
    assert found.sensor.read_low_e == pytest.approx(5, rel=0.05)
    if len(isos) > 2:
        assert found.sensor.read_high_e == pytest.approx(1.8, rel=0.08)
    else:
        assert found.sensor.read_high_e is None
    assert found.residual_percent < 2
    middle = found.groups[len(found.groups) // 2]
    assert found.noise_at(middle.iso, middle.signal) == pytest.approx(
        sqrt(middle.variance), rel=0.05
    )


def test_one_flat_pair_tells_the_well_and_leaves_the_read_noise() -> None:
    m = model()
    frames = [grey_frame(m, FLAT, 500, (0, 0), k, 400, 300) for k in (1, 2)]
    found = fit(measure(*frames, FLAT, 500), FLAT, 100)
    assert not found.read_fitted
    assert found.sensor.read_low_e == READ_LOW_E
    assert found.sensor.full_well_e == pytest.approx(40_000, rel=0.1)


def test_codes_and_light_are_inverse() -> None:
    light = np.linspace(0.01, 5, 400).reshape(20, 20)
    back = linearised(codes_of(light, FLAT), FLAT) * FLAT.clip_linear
    assert np.max(np.abs(np.log2(back / light))) < 0.02


def test_frames_that_cannot_be_measured_are_refused() -> None:
    m = model()
    good = grey_frame(m, FLAT, 500, (-2, 1), 1, 320, 200)
    other = grey_frame(m, FLAT, 500, (-2, 1), 2, 320, 200)
    black = np.zeros_like(good)
    for a, b, words in (
        (good, other[:-2], "differ in size"), (good, other.astype(np.uint8), "bit depth"),
        (good, good, "same file"), (good[:20, :20], other[:20, :20], "at least"),
        (black, np.roll(black + (np.arange(320) == 3).astype(np.uint16), 1, axis=1), "between"),
    ):  # fmt: skip
        with pytest.raises(RuleError, match=words) as caught:
            measure(a, b, FLAT, 500)
        assert caught.value.field == "frames"


def test_noise_that_does_not_grow_is_refused() -> None:
    # A camera that smooths the lights away: less noise where there is more light.
    m, groups = model(), []
    frames = [grey_frame(m, FLAT, 500, (-4, 1), k, 640, 360) for k in (1, 2)]
    groups = [replace(g, variance=1e-6 / g.signal**2) for g in measure(*frames, FLAT, 500)]
    with pytest.raises(RuleError, match="noise reduction"):
        fit(tuple(groups), FLAT, 100)


def test_from_delivered_pixels_to_photosites() -> None:
    # Four photosites to a pixel: a quarter of the well, half the read noise.
    sensor = per_photosite(Sensor(full_well_e=40_000, read_low_e=5), 4)
    assert (sensor.full_well_e, sensor.read_low_e) == (10_000, 2.5)
    many = noise_model(sensor, replace(BODY.formats[0], photosites_px=7680), FLAT, 100)
    flat = replace(SENSOR, prnu_share=0.005)
    one = noise_model(flat, BODY.formats[0], FLAT, 100)
    assert float(many.snr(500, -3)) == pytest.approx(float(one.snr(500, -3)), rel=0.01)


def test_more_light_buys_what_it_says() -> None:
    noise = analyse(setup(iso=1000)).noise
    assert noise.one_stop_buys_iso == pytest.approx(noise.looks_like_iso / 2)
    assert log2(noise.limit_iso / noise.looks_like_iso) == pytest.approx(noise.inside_stops)
