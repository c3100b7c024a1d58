"""Readings, meters and exposure methods, on scenes worked out by hand."""

from dataclasses import replace
from math import log2
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fotonomy.core.analysis.setup import analyse
from fotonomy.core.compare.exposure_methods import MethodOutcome, compare_methods
from fotonomy.core.compare.low_light import at_the_limit, low_light
from fotonomy.core.compare.profiles import compare_profiles
from fotonomy.core.curves.transfer_functions import ParametricLog, decode
from fotonomy.core.errors import RuleError
from fotonomy.core.exposure.light_budget import light_budget
from fotonomy.core.exposure.metering import claims, parse_reading, scene_means
from fotonomy.core.gear.lens import Lens
from fotonomy.core.gear.profile import Profile
from fotonomy.core.motion.shutter import Shutter
from fotonomy.core.notation import writing as n
from fotonomy.core.photometry.exposure_value import Ev100, Luminance, Lux, Metered, ev100_of
from fotonomy.core.plan import plan
from fotonomy.core.planner.search import Search
from fotonomy.core.sky.light import clear_sky_lx
from fotonomy.core.spec.changes import Change
from fotonomy.core.spec.intent import ExposureMethod, Intent
from fotonomy.core.spec.kind import Kind
from fotonomy.core.spec.readings import Reading, Shape, Surface, check, key_of
from fotonomy.core.spec.setup import Setup
from fotonomy.core.tone.example_scenes import SCENES
from fotonomy.core.tone.placement import placing, skin_mark_stops
from fotonomy.core.tone.scene_layout import scene_map
from fotonomy.core.tone.signal_levels import headroom_stops, percent_at
from fotonomy.exchange.changes_json import text_of
from tests.core.examples import BODY, FLAT, LENS, ND, VIDEO, setup, with_typed_setting
from tests.core.test_findings import anything, found

# A back-lit room, invented: the face reads a stop under grey, the window 5 stops over it.
FACE = Reading(name="face", stops=-1.0, surface=Surface.LIGHT_SKIN, key=True)
WINDOW = Reading(name="window", stops=5.0, shape=Shape.PANE, share_percent=20, x_percent=25)
ROOM = Reading(name="room", stops=-2.0, shape=Shape.GROUND, share_percent=100)
LAMP = Reading(
    name="lamp", stops=8.0, shape=Shape.LAMP, share_percent=0.3, may_clip=True, y_percent=15
)
BACK_LIT = (ROOM, WINDOW, FACE, LAMP)
# Light skin belongs at log2(0.492 / 0.18) = 1.45 stops over grey; FLAT clips 6.21 over it.


def offset(method: ExposureMethod, profile: Profile = FLAT, readings: Any = BACK_LIT) -> float:
    return placing(method, profile, readings).offset_stops


def test_each_method_on_the_back_lit_room() -> None:
    assert offset(ExposureMethod.GREY) == 0
    # The face reads -1.0 and belongs at 1.45: two stops and a half over.
    assert offset(ExposureMethod.SKIN) == pytest.approx(2.45, abs=0.01)
    assert offset(ExposureMethod.SUBJECT) == pytest.approx(2.45, abs=0.01)
    # The window has 6.21 - 0.1 - 5.0 = 1.11 stops of room at nominal: nothing to hold back.
    assert offset(ExposureMethod.HIGHLIGHTS) == 0
    # As far right: 6.21 - 0.3 - 5.0 = 0.91, before grey reaches 71 % or the face 85 %.
    assert offset(ExposureMethod.FAR_RIGHT) == pytest.approx(0.91, abs=0.01)
    assert offset(ExposureMethod.UNDER) == -0.5
    assert offset(ExposureMethod.DUSK) == 0


def test_highlights_on_a_profile_without_room() -> None:
    # VIDEO clips at 109 %: ((1.09+0.099)/1.099)^(1/0.45) = 1.191, so log2(1.191/0.18) = 2.73.
    assert headroom_stops(VIDEO) == pytest.approx(2.73, abs=0.01)
    # The window at 5.0 has to come down by 5.0 - 2.73 + 0.1 = 2.37 stops.
    held = placing(ExposureMethod.HIGHLIGHTS, VIDEO, BACK_LIT)
    assert held.offset_stops == pytest.approx(-2.37, abs=0.01)
    assert held.post_stops == pytest.approx(2.37, abs=0.01)
    # Nothing to pull where there are less than four stops over grey.
    assert not placing(ExposureMethod.FAR_RIGHT, VIDEO, BACK_LIT).applies


def test_far_right_stops_at_grey_and_key_levels() -> None:
    # Nothing brighter than the face: an unread white at 2.32 leaves 3.59; grey at 71 % comes
    # first: log2(decode(0.71) / 0.18), and the face may go to 85 % at most.
    right = placing(ExposureMethod.FAR_RIGHT, FLAT, (ROOM, replace(FACE, stops=1.0)))
    grey = log2(decode(FLAT.curve, 0.71) / 0.18)
    face = log2(decode(FLAT.curve, 0.85) / 0.18) - 1.0
    white = headroom_stops(FLAT) - 0.3 - 2.32
    assert right.offset_stops == pytest.approx(min(grey, face, white))
    assert right.post_stops == -right.offset_stops


def test_methods_that_have_nothing_to_go_by_say_so() -> None:
    assert "no reading is skin" in placing(ExposureMethod.SKIN, FLAT, (ROOM,)).reason
    assert not placing(ExposureMethod.SUBJECT, FLAT, (ROOM,)).applies
    unknown = placing(ExposureMethod.SUBJECT, FLAT, (replace(ROOM, key=True),))
    assert (unknown.applies, unknown.offset_stops) == (False, 0)
    assert not placing(ExposureMethod.HIGHLIGHTS, FLAT, (LAMP,)).applies


def test_seventy_percent_on_video_is_the_skin_level_of_a_log() -> None:
    # Common practice, no source: 70 % on BT.709 and 52 % on a log with grey at 41 % are the
    # same placement within a fifth of a stop. An invented log with grey at 41 %:
    log = ParametricLog(name="41", a=5, b=0.05, c=0.2546, d=0.41534, e=5.026, f=0.111, cut=0.012)
    grey41 = Profile(name="41", curve=log, clip_percent=94)
    assert grey41.recorded_grey_percent == pytest.approx(41, abs=0.1)
    on_video = log2(decode(VIDEO.curve, 0.70) / 0.18)
    on_log = log2(decode(log, 0.52) / 0.18)
    assert on_video == pytest.approx(1.45, abs=0.02)
    assert abs(on_video - on_log) < 0.2
    assert skin_mark_stops(replace(grey41, skin_percent=52), Surface.LIGHT_SKIN) == pytest.approx(
        on_log
    )


def of(method: ExposureMethod, spec: Setup) -> MethodOutcome:
    return next(s for s in compare_methods(spec).all if s.placing.method is method)


def test_what_each_method_costs() -> None:
    spec = setup(readings=BACK_LIT)
    grey, skin, right = (
        of(s, spec) for s in (ExposureMethod.GREY, ExposureMethod.SKIN, ExposureMethod.FAR_RIGHT)
    )
    # Skin at its mark puts the window at 7.45, 1.24 stops beyond the clip.
    assert skin.lost_stops == pytest.approx(1.24, abs=0.01)
    assert [tone.name for tone in skin.clipped] == ["window", "lamp"]
    assert [tone.name for tone in grey.clipped] == ["lamp"]
    assert skin.level.key.percent == pytest.approx(percent_at(FLAT, 1.45), abs=0.1)
    # Pulled 0.91 stops, ISO 500 looks like 500 / 2^0.91.
    assert right.looks_like_iso == pytest.approx(500 / 2**right.placing.offset_stops)
    assert of(ExposureMethod.DUSK, spec).looks_like_iso == pytest.approx(125)
    assert right.work.startswith("pull down 0.9")
    # Room left under the clip counts what has to hold, not the lamp.
    assert grey.headroom_left_stops == pytest.approx(6.21 - 5.0, abs=0.01)


def test_methods_that_agree_are_named() -> None:
    spec = setup(readings=BACK_LIT)
    assert ExposureMethod.SUBJECT in of(ExposureMethod.SKIN, spec).agrees
    assert of(ExposureMethod.GREY, spec).agrees == (ExposureMethod.HIGHLIGHTS,)
    assert of(ExposureMethod.DUSK, spec).agrees == ()


def test_the_advice_follows_the_scene() -> None:
    plain = (replace(FACE, stops=1.45), ROOM)
    assert compare_methods(setup(readings=plain)).advised is ExposureMethod.GREY
    # A dark face and a window that holds: the subject comes first.
    dim = (replace(FACE, stops=-1.0), replace(WINDOW, stops=3.0), ROOM)
    advice = compare_methods(setup(readings=dim))
    assert advice.advised is ExposureMethod.SKIN
    assert "leaves face 2.5 stops too dark" in advice.because
    # A sky that grey would blow on video, and a face that can be lifted.
    sky = (replace(FACE, stops=1.0), replace(WINDOW, name="sky", stops=4.0))
    video = compare_methods(setup(profile=VIDEO, iso=100, readings=sky))
    assert video.advised is ExposureMethod.HIGHLIGHTS
    assert "would clip 1.3 stops" in video.because
    night = compare_methods(setup(kind=Kind.DUSK_FOR_NIGHT, readings=plain))
    assert night.advised is ExposureMethod.DUSK
    # Where two are as good, the one in force stays.
    forced = setup(readings=dim, intent=Intent(exposing=ExposureMethod.SUBJECT))
    assert compare_methods(forced).advised is ExposureMethod.SUBJECT


def test_a_method_is_what_the_budget_balances_to() -> None:
    spec = setup(readings=BACK_LIT, intent=Intent(exposing=ExposureMethod.SKIN))
    budget, plain = light_budget(spec), light_budget(setup(readings=BACK_LIT))
    assert budget.error_stops == pytest.approx(plain.error_stops - 2.45, abs=0.01)
    assert budget.lines[-1].label == "Skin at its mark"
    assert budget.exposure_stops == pytest.approx(plain.exposure_stops)
    best = Search(replace(spec, held=frozenset())).best()
    assert best is not None
    landed = analyse(best.setup)
    assert landed.level.key.placed_stops == pytest.approx(1.45, abs=0.4)
    assert landed.level.exposure_stops == pytest.approx(2.45, abs=0.4)


def test_zebras_go_where_the_method_looks() -> None:
    spec = setup(readings=BACK_LIT, intent=Intent(exposing=ExposureMethod.SUBJECT))
    level = analyse(spec).level
    assert level.zebra_one.meant_for == "face"
    assert level.zebra_one.percent == round(percent_at(FLAT, 1.45))
    assert level.zebra_one.half_width_percent == 2
    right = analyse(
        setup(readings=BACK_LIT, intent=Intent(exposing=ExposureMethod.FAR_RIGHT))
    ).level
    assert right.zebra_one.meant_for == "the grey card"
    assert right.zebra_one.percent == round(percent_at(FLAT, 0.91))
    assert [name for name, _ in level.lines] == ["grey card", "face", "clip"]


def test_meters_on_an_even_wall_and_on_a_half_bright_one() -> None:
    wall = (Reading(name="wall", stops=1.0, shape=Shape.GROUND, share_percent=100),)
    means = scene_means(wall)
    # An even wall a stop over grey: every meter sees just that.
    for seen in (means.averaging, means.centre, means.highlight, means.spot):
        assert seen == pytest.approx(1.0, abs=1e-3)
    # Half the frame four stops over: the mean of 1 and 16 is 8.5, log2 is 3.09.
    sky = Reading(name="sky", stops=4.0, shape=Shape.BAND, share_percent=50, y_percent=25)
    ground = Reading(name="ground", stops=0.0, shape=Shape.GROUND, share_percent=100)
    assert scene_means((ground, sky)).averaging == pytest.approx(3.09, abs=0.05)


def test_what_the_meters_claim() -> None:
    spec = setup(readings=BACK_LIT)
    analysis = analyse(spec)
    averaging, _, highlight, spot = claims(
        spec.readings, analysis.level, analysis.budget.exposure_stops
    )
    # Twenty percent of the frame five stops over grey: about log2(0.8·0.25 + 0.2·32) = 2.7.
    assert averaging.at_target_stops == pytest.approx(2.7, abs=0.2)
    assert averaging.points_at_stops == pytest.approx(-averaging.at_target_stops)
    assert averaging.advice.startswith("leave it at +2.")
    assert spot.name == "spot on face"
    assert spot.at_target_stops == pytest.approx(-1.0, abs=0.05)
    # Highlight metering on video puts a back-lit room about two stops under (common
    # practice, no source): here 2.73 - 0.5 - 5.0 = -2.8 for the window.
    video = setup(profile=VIDEO, readings=BACK_LIT[:3])
    points = claims(video.readings, analyse(video).level, analyse(video).budget.exposure_stops)[
        2
    ].points_at_stops
    assert points == pytest.approx(-2.77, abs=0.1)
    assert highlight.shows_stops == pytest.approx(
        highlight.at_target_stops + analysis.budget.error_stops
    )


@pytest.mark.parametrize(
    ("text", "stops"),
    [
        ("+1.4", 1.4), ("-2 stops", -2), ("1 1/3", 4 / 3), ("−0,5", -0.5), ("14 EV", 2.0),
        ("EV 10.5", -1.5),
        # E = 2.5·2^EV (ISO 2720): 20 480 lux is EV 13; L = 0.125·2^EV: 1024 cd/m² too.
        ("20480 lux", 1.0), ("1024 cd/m2", 1.0),
        # f/8 at 1/125, ISO 100: 6 + 6.97 = EV 12.97.
        ("f/8 1/125 ISO 100", 0.966),
    ],
)  # fmt: skip
def test_readings_in_any_unit(text: str, stops: float) -> None:
    assert parse_reading(text, setup(light=Ev100(12))) == pytest.approx(stops, abs=0.01)


def test_a_level_seen_is_a_reading_too() -> None:
    spec = setup()
    exposed = light_budget(spec).exposure_stops
    # What lies a stop over grey in the scene shows at this level with the bench's settings.
    seen = percent_at(FLAT, 1 + exposed)
    assert parse_reading(f"{seen:.4f} %", spec) == pytest.approx(1, abs=0.001)
    # At f/8 1/50 ISO 500 ND 0.9 in EV 12: 12 + 2.32 - 5.64 - 6 - 2.99 = -0.31 over nominal.
    seen = percent_at(FLAT, 1 - 0.31)
    text = f"{seen:.4f}% at f/8 1/50 ISO 500 ND 0.9"
    assert parse_reading(text, spec) == pytest.approx(1, abs=0.01)


@pytest.mark.parametrize(
    ("text", "words"),
    [("92 %", "clips from 92 %"), ("3 %", "at black"), ("bright", "stops from grey such as"),
     ("40 EV", "stops from grey such as"), ("+16", "stops from grey such as"),
     ("-8 EV", "comes to"), ("50 % at dusk", "settings after the level"), ("", "such as")],
)  # fmt: skip
def test_readings_that_say_nothing_are_refused(text: str, words: str) -> None:
    with pytest.raises(RuleError) as caught:
        parse_reading(text, setup(light=Ev100(12)))
    assert caught.value.field == "stops"
    assert words in caught.value.rule


@given(st.floats(-9, 9), st.floats(4, 16))
def test_units_agree_with_each_other(stops: float, ev: float) -> None:
    spec = setup(light=Ev100(ev))
    for light in (Ev100(ev + stops), Lux(2.5 * 2 ** (ev + stops)), Luminance(0.125 * 2 ** (ev + stops)),
                  Metered(1.0, 1 / 2.0 ** (ev + stops), 100)):  # fmt: skip
        assert ev100_of(light) - ev == pytest.approx(stops)
        if not isinstance(light, Metered):
            assert parse_reading(n.format_light(light), spec) == pytest.approx(stops, abs=0.06)


def test_readings_hold_their_rules() -> None:
    for change, field in (
        ({"stops": 99.0}, "stops"), ({"share_percent": 0.0}, "share_percent"),
        ({"x_percent": 101.0}, "x_percent"), ({"name": " "}, "name"),
        ({"source_k": 10.0}, "source_k"), ({"wanted_stops": float("nan")}, "wanted_stops"),
    ):  # fmt: skip
        with pytest.raises(RuleError) as caught:
            replace(FACE, **change)
        assert caught.value.field == field
    for readings in ((FACE, FACE), (FACE, replace(WINDOW, key=True)),
                     tuple(replace(ROOM, name=str(k)) for k in range(25))):  # fmt: skip
        with pytest.raises(RuleError) as caught:
            setup(readings=readings)
        assert caught.value.field == "readings"
    assert key_of((ROOM, replace(FACE, key=False))) is not None
    assert key_of((ROOM,)) is None


def test_areas_fill_what_they_say() -> None:
    for reading in (WINDOW, replace(WINDOW, shape=Shape.PATCH, x_percent=50),
                    replace(WINDOW, shape=Shape.BAND)):  # fmt: skip
        region = scene_map((ROOM, reading), 320, 180).region
        assert (region == 1).mean() == pytest.approx(0.20, abs=0.035)
    lamp = scene_map((ROOM, LAMP), 320, 180).light
    # The glow reaches beyond the lamp, and fades.
    x, y = 160, 27
    assert lamp[y, x] > 200 > lamp[y, x + 14] > lamp[y, x + 40] >= 0.25
    assert scene_map((), 16, 9).light.max() == 1


def test_typical_scenes_are_sound() -> None:
    for scene in SCENES.values():
        check(scene.readings)
        assert key_of(scene.readings) is not None or scene.label == "snow in sun"
        planned = plan(setup(readings=scene.readings, light=Ev100(scene.ev100)))
        assert planned.analysis.level.tones


def test_clipped_and_drowned_readings_are_found() -> None:
    blown = plan(
        setup(readings=(*BACK_LIT[:2], replace(FACE, stops=1), replace(LAMP, may_clip=False)))
    )
    finding = found(blown, "level.reading_clips")
    # 8.0 + 0.69 as exposed, 6.21 of headroom.
    assert finding.number == pytest.approx(2.48, abs=0.02)
    assert finding.fixes[-1].changes == (Change("reading-3-may_clip", True),)
    deep = plan(setup(readings=(replace(ROOM, stops=-11.0), FACE)))
    drowned = found(deep, "level.reading_drowns")
    assert drowned.number == pytest.approx(
        deep.analysis.noise.floor_stops - deep.analysis.level.tones[0].placed_stops
    )
    eight = plan(
        setup(profile=replace(FLAT, bits=8), body=replace(BODY, profiles=("Flat log", "Video")))
    )
    bands = found(eight, "level.bands")
    # 71 codes at ten bits are about a quarter of them at eight.
    assert bands.number == eight.analysis.level.codes_a_stop == 17
    assert bands.fixes[0].changes == (Change("profile", "Video"),)


def test_the_format_takes_bits_from_the_profile() -> None:
    thin = replace(BODY, formats=(replace(BODY.formats[0], bits=8),))
    spec = setup(body=thin)
    assert spec.recorded_profile.bits == 8
    assert analyse(spec).level.codes_a_stop < analyse(setup()).level.codes_a_stop / 3


def test_enough_light_at_the_limit() -> None:
    # EV 0, 1/50, f/1.8 (exactly 2^(5/6)), ISO 12 800: 0 + 7 - 5.64 - 1.67 = -0.31 stops.
    dark = setup(light=Ev100(0), nd_density=0)
    limit = at_the_limit(dark)
    assert (limit.iris, limit.iso, limit.nd_density) == (1.8, 12_800, 0)
    answer = low_light(dark)
    assert answer.missing_stops == pytest.approx(0.31, abs=0.01)
    assert "0.3 stops missing" in answer.words
    by_name = {way.name.split(",")[0]: way for way in answer.ways}
    # An open shutter doubles 180°; a lamp has to give what is missing; dusk is EV 3.6.
    assert by_name["Slower shutter"].gain_stops == pytest.approx(1)
    assert by_name["Find a lamp"].gain_stops == pytest.approx(0.31, abs=0.01)
    dusk = log2(clear_sky_lx(-4) / 2.5)
    assert by_name["Come at dusk"].gain_stops == pytest.approx(dusk)
    assert dusk == pytest.approx(3.6, abs=0.1)
    assert "Lower frame rate" not in by_name
    assert by_name["Over your ceiling"].gain_stops == pytest.approx(1)
    assert low_light(setup(light=Ev100(8))).missing_stops < 0


def test_each_way_out_gives_what_it_says() -> None:
    fast = Lens(name="Fast 50", focal_shortest_mm=50, focal_longest_mm=50, widest_f=1.2,
                smallest_f=16)  # fmt: skip
    dark = setup(light=Ev100(-2), frame_rate=100, nd_density=0, iso=500, packed_lenses=(LENS, fast))
    answer = low_light(dark, (FLAT, VIDEO))
    before = light_budget(answer.limit).error_stops
    tried = 0
    for way in answer.ways:
        if way.fix is None or way.gain_stops is None:
            continue
        spec = answer.limit
        for change in way.fix.changes:
            if change.setting == "lens":
                spec = replace(spec, lens=fast)
            elif change.setting in ("frame_rate", "shutter", "iris", "iso"):
                spec = with_typed_setting(spec, change.setting, text_of(change))
        if way.fix.changes[0].setting == "kind":
            continue
        tried += 1
        assert light_budget(spec).error_stops - before == pytest.approx(way.gain_stops, abs=0.05), (
            way
        )
    assert tried >= 4
    assert any(way.name.startswith("Faster lens") for way in answer.ways)


def test_clear_sky_light() -> None:
    # Explanatory Supplement to the Astronomical Almanac, from memory: sun at 60° about
    # 103 klx, at -6° about 3.4 lx (the usual figure for the end of civil twilight), 0 at night.
    assert clear_sky_lx(60) == pytest.approx(103_000, rel=0.03)
    assert clear_sky_lx(-6) == pytest.approx(3.4, rel=0.25)
    assert clear_sky_lx(-30) == 0
    for edge in (20, 5, -0.8, -5, -12):
        assert clear_sky_lx(edge) == pytest.approx(clear_sky_lx(edge - 1e-6), rel=0.06)


def test_profiles_beside_each_other() -> None:
    spec = setup(readings=BACK_LIT)
    flat, video = compare_profiles(spec, (FLAT, VIDEO))
    assert flat.looks_like_iso == pytest.approx(500)
    assert [tone.name for tone in flat.clipped] == ["lamp"]
    # The window lies 5.0 - 2.73 beyond the clip of video.
    assert video.clipped[0].clipped_stops == pytest.approx(2.27, abs=0.01)
    # One sensor, one exposure: a base that is said otherwise makes no picture cleaner.
    assert video.looks_like_iso == pytest.approx(500)


@given(anything())
def test_nothing_breaks_methods_or_limits(spec: Setup) -> None:
    for method in compare_methods(spec).all:
        assert method.looks_like_iso > 0
        assert -40 < method.placing.offset_stops < 40
    answer = low_light(spec, (VIDEO,))
    assert answer.words
    assert all(way.price for way in answer.ways)
    assert len(claims(spec.readings, analyse(spec).level, analyse(spec).budget.exposure_stops)) == 4


def test_a_held_shutter_in_time_goes_along_with_a_lower_rate() -> None:
    dark = setup(
        light=Ev100(0), frame_rate=100, shutter=Shutter(time_s=1 / 200), nd_density=0, glass=ND
    )
    way = next(w for w in low_light(dark).ways if w.name.startswith("Lower frame rate"))
    assert [change.setting for change in way.fix.changes] == ["frame_rate", "shutter"]
    assert way.gain_stops == pytest.approx(2)
