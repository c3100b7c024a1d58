"""The monitor stand-in: what it shows has to agree with the numbers beside it."""

from dataclasses import replace
from itertools import pairwise

import numpy as np
import pytest

from fotonomy.core.analysis.setup import Analysis, analyse
from fotonomy.core.exposure.metering import scene_means
from fotonomy.core.photometry.exposure_value import Ev100
from fotonomy.core.spec.intent import ExposureMethod, Intent
from fotonomy.core.spec.readings import Reading, Shape, Surface
from fotonomy.core.tone.scene_layout import scene_map
from fotonomy.figures.monitor.false_colour import STOP_RANGE, stop_colour
from fotonomy.simulators import monitor as m
from tests.core.examples import FLAT, VIDEO, setup

ROOM = Reading(name="room", stops=-2.0, shape=Shape.GROUND, share_percent=100)
PANE = Reading(
    name="pane", stops=3.0, shape=Shape.PANE, share_percent=20, x_percent=25, y_percent=50
)
FACE = Reading(name="face", stops=1.0, key=True, share_percent=12, x_percent=68, y_percent=50)
SCENE = (ROOM, PANE, FACE)


def analysis(**changes: object) -> Analysis:
    return analyse(setup(**{"readings": SCENE, "light": Ev100(11.31), **changes}))


def median_percent(found: Analysis, index: int) -> float:
    signal = m.signal_of(found)
    return float(np.median(signal.percent[signal.codes[signal.region == index]]))


@pytest.mark.parametrize("profile", [FLAT, VIDEO, replace(FLAT, bits=8)])
def test_areas_record_at_the_level_of_their_reading(profile: object) -> None:
    found = analysis(profile=profile)
    for index, tone in enumerate(found.level.tones):
        assert median_percent(found, index) == pytest.approx(tone.percent, abs=1.5), tone.name


def test_what_clips_lies_at_the_clip() -> None:
    found = analysis(readings=(ROOM, replace(PANE, stops=9.0), FACE))
    assert median_percent(found, 1) == pytest.approx(92, abs=0.2)


def test_only_the_codes_of_the_depth_are_used() -> None:
    signal = m.signal_of(analysis(profile=replace(FLAT, bits=8)))
    assert signal.codes.max() <= 255
    assert len(signal.percent) == 256


def test_noise_is_the_models_own() -> None:
    """Root mean square of what a second ISO adds, against the model at this size."""
    plain = Reading(name="wall", stops=-3.0, shape=Shape.GROUND, share_percent=100)
    found = analysis(readings=(plain,), iso=12_800, nd_density=2.1)
    signal = m.signal_of(found)
    light = 2.0 ** signal.stops[signal.codes].astype(float)
    clean = np.asarray(m._textured((plain,), (m.HEIGHT, m.WIDTH))) * 2.0**found.level.exposure_stops
    relative = float(np.std(light / clean - 1))
    model = found.noise.model
    expected = 1 / float(model.snr(12_800, found.level.tones[0].placed_stops, m.WIDTH))
    assert relative == pytest.approx(expected, rel=0.2)


def test_zebras_stand_where_the_level_is() -> None:
    found = analysis(readings=(ROOM, replace(PANE, stops=9.0), replace(FACE, stops=0.0)))
    signal = m.signal_of(found)
    plain, striped = (m.picture(found, signal, v) for v in (m.View.RECORDED, m.View.ZEBRAS))
    changed = np.any(plain != striped, axis=2)
    # The clipped pane is striped whole, the face in part (it is textured), the room not.
    inside = signal.region == 1
    assert changed[inside].mean() > 0.95
    assert changed[signal.region == 2].mean() > 0.1
    assert (
        changed[
            (signal.region == 0) & (scene_map(found.setup.readings, 960, 540).light < 0.3)
        ].mean()
        < 0.01
    )


def test_the_corrected_picture_follows_the_method() -> None:
    right = analysis(intent=Intent(exposing=ExposureMethod.FAR_RIGHT), light=Ev100(13.0))
    plain = analysis()
    pulled, straight = (
        m.picture(f, m.signal_of(f), m.View.CORRECTED) for f in (right, plain)
    )  # fmt: skip
    room = m.signal_of(plain).region == 0
    # Exposed over and pulled down: the finished room is as bright as exposed plainly.
    assert pulled[room].mean() == pytest.approx(straight[room].mean(), rel=0.06)


def test_stops_are_shaded_by_lightness_and_hatched_at_the_ends() -> None:
    shades = [stop_colour(s) for s in range(STOP_RANGE[0], STOP_RANGE[1] + 1)]
    light = [0.2126 * (r / 255) ** 2.2 + 0.7152 * (g / 255) ** 2.2 + 0.0722 * (b / 255) ** 2.2
             for r, g, b in shades]  # fmt: skip
    # Every stop is lighter than the one before: it reads without colour.
    assert all(b > a * 1.02 for a, b in pairwise(light))
    found = analysis(readings=(replace(ROOM, stops=-13.0), replace(PANE, stops=9.0), replace(FACE, stops=0.0)),
                  light=Ev100(11.31))  # fmt: skip
    signal = m.signal_of(found)
    shown = m.picture(found, signal, m.View.STOPS)
    pane = shown[signal.region == 1]
    assert {tuple(c) for c in np.unique(pane, axis=0)} >= {(20, 24, 28), (255, 255, 255)}
    grey = shown[signal.region == 2]
    assert tuple(np.median(grey, axis=0).astype(int)) == stop_colour(0)
    assert (120, 132, 140) in {tuple(c) for c in np.unique(shown[signal.region == 0], axis=0)}


def test_scopes_stand_at_their_levels() -> None:
    found = analysis()
    scope = m.scopes(m.signal_of(found))
    assert scope.shape == (540, 480, 3)
    low, high = m.SCOPE_RANGE_PERCENT
    trace = scope[: m.WAVEFORM_HEIGHT, :, 0].astype(float)
    # A column through the pane is brightest at the pane's level.
    row = int(
        np.argmax(
            trace[:, 110:125].sum(axis=1)[: int((high - 50) / (high - low) * m.WAVEFORM_HEIGHT)]
        )
    )
    percent = high - row / m.WAVEFORM_HEIGHT * (high - low)
    assert percent == pytest.approx(found.level.tones[1].percent, abs=3)
    histogram = scope[m.HISTOGRAM_TOP :, :, 0]
    tallest = int(np.argmax((histogram > 0).sum(axis=0)))
    assert low + tallest / 480 * (high - low) == pytest.approx(found.level.tones[0].percent, abs=4)


def test_a_light_of_another_colour_shows() -> None:
    warm = replace(FACE, source_k=2700.0)
    found = analysis(readings=(ROOM, PANE, warm), source_k=5600.0)
    shown = m.picture(found, m.signal_of(found), m.View.CORRECTED)
    face = shown[m.signal_of(found).region == 2].mean(axis=0)
    room = shown[m.signal_of(found).region == 0].mean(axis=0)
    assert face[0] > face[2] * 1.3
    assert room[0] == pytest.approx(room[2], rel=0.1)


def test_any_scene_makes_a_picture() -> None:
    for readings in ((), (Reading(name="x", stops=15.0, surface=Surface.LAMP, shape=Shape.LAMP, share_percent=0.01,
                                  x_percent=0, y_percent=100),)):  # fmt: skip
        found = analysis(readings=readings)
        for view in m.View:
            assert m.picture(found, m.signal_of(found), view).shape == (540, 960, 3)


def test_black_on_a_lamp_is_dark_and_not_below_zero() -> None:
    ground = Reading(name="lamp field", stops=11.0, shape=Shape.GROUND)
    hole = Reading(name="hole", stops=-14.0, x_percent=0, y_percent=0, share_percent=1.0, key=True)
    light = scene_map((ground, hole), 96, 54).light
    assert light.min() == pytest.approx(2**-14, rel=1e-3)
    assert scene_means((ground, hole)).spot < 0
