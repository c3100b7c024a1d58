"""Findings about what ruins a day: cards, codecs, batteries, hands, switches, and their order."""

from dataclasses import replace
from datetime import datetime
from typing import Any
from zoneinfo import ZoneInfo

import pytest

from fotonomy.core.analysis.setup import analyse
from fotonomy.core.findings.checks import urgency
from fotonomy.core.findings.finding import Finding, Severity
from fotonomy.core.findings.recording import bits_a_pixel
from fotonomy.core.gear.accessories import Battery, Card
from fotonomy.core.gear.body import RecordingFormat, RecordingRate
from fotonomy.core.gear.support import Support
from fotonomy.core.motion.camera_movement import Camera, Movement
from fotonomy.core.motion.shutter import Shutter
from fotonomy.core.photometry.exposure_value import Ev100
from fotonomy.core.plan import plan
from fotonomy.core.sky.light import PlaceLight
from fotonomy.core.spec.changes import applied
from fotonomy.core.spec.intent import Intent, Look, Switch, WhiteMethod
from fotonomy.core.spec.kind import Kind
from fotonomy.core.spec.readings import Reading, Surface
from fotonomy.core.spec.setup import Site
from fotonomy.sky.ephemeris import sky_over
from tests.core.examples import BODY, LENS, setup
from tests.core.run_examples import ids, interval

STEADY = replace(BODY, stabiliser_stops=4.0, power_w=12.0, idle_w=6.0)
THIN = replace(BODY.formats[0], name="Thin", rates=(RecordingRate(25, 24), RecordingRate(50, 40)))
PLAIN = {"light": Ev100(11.31), "body": STEADY}


def finding(key: str, **changes: Any) -> Finding:
    return next(f for f in plan(setup(**{**PLAIN, **changes})).findings if f.id == key)


# What calls for each, its number by hand, and what does not call for it.
CASES: list[tuple[str, float, dict[str, Any], dict[str, Any]]] = [
    # 100 Mb/s are 12.5 MB a second.
    ("clip.card_slow", 12.5, {"devices": (Card(name="c", size_gb=64, write_mb_s=10),)},
     {"devices": (Card(name="c", size_gb=64, write_mb_s=12.5),)}),
    # 24 Mb/s over 3840·2160 pixels 25 times a second: 0.116 bits (under 0.2: common practice).
    ("clip.thin_codec", 0.1157, {"body": replace(STEADY, formats=(THIN, BODY.formats[0]))},
     {"body": replace(STEADY, formats=(BODY.formats[0],))}),
    # A battery of 1 Wh gives 0.9 · 0.95 at 15 °C, 4.3 minutes at 12 W; an hour is asked for.
    ("clip.battery_short", 0.855 * 60 / 12,
     {"devices": (Battery(name="b", energy_wh=1),), "wanted_screen_s": 3600.0},
     {"devices": (Battery(name="b", energy_wh=20),), "wanted_screen_s": 3600.0}),
    # 50 fps in an edit of 25 plays at half speed.
    ("clip.slowed", 50.0, {"frame_rate": 50}, {"frame_rate": 50, "kind": Kind.MACRO}),
    # 100 mm on a 41.3 mm diagonal is 104.8 mm; 50 mm by hand, twice that for two of four stops.
    ("support.shaky", 104.75 * 2, {"support": Support.HAND, "focal_mm": 200, "lens": replace(
        LENS, focal_longest_mm=200)}, {"support": Support.TRIPOD, "focal_mm": 200,
                                       "lens": replace(LENS, focal_longest_mm=200)}),
    ("support.stabiliser_on", 4.0, {"intent": Intent(stabiliser=Switch.ON)}, {}),
    ("white.auto_drifts", 25.0,
     {"intent": Intent(white_school=WhiteMethod.AUTO), "light_change_stops": 2.0},
     {"intent": Intent(white_school=WhiteMethod.AUTO)}),
]  # fmt: skip


@pytest.mark.parametrize(("key", "number", "calls", "quiet"), CASES, ids=[c[0] for c in CASES])
def test_what_calls_for_it_and_what_does_not(
    key: str, number: float, calls: dict[str, Any], quiet: dict[str, Any]
) -> None:
    found = finding(key, **calls)
    assert found.number == pytest.approx(number, rel=0.01)
    assert any(ch.isdigit() for ch in found.why)
    assert found.fixes
    assert key not in ids(plan(setup(**{**PLAIN, **quiet})))
    spec = setup(**{**PLAIN, **calls})
    pressable = [fix for fix in found.fixes if fix.changes]
    assert pressable or key == "clip.card_slow"
    for fix in pressable:
        after = {f.id: f.number for f in plan(applied(spec, fix.changes)).findings}
        assert key not in after, fix


def test_bits_a_pixel() -> None:
    # 100·10⁶/(3840·2160·25) = 0.482 and 24·10⁶/(1920·1080·24) = 0.482 (definition).
    hd = RecordingFormat(
        name="HD",
        width_px=1920,
        height_px=1080,
        sensor_width_mm=13,
        sensor_height_mm=7,
        rates=(RecordingRate(24, 24),),
    )
    assert bits_a_pixel(BODY.formats[0], 25, 100) == pytest.approx(0.482, abs=0.001)
    assert bits_a_pixel(hd, 24, 24) == pytest.approx(0.482, abs=0.001)


def test_a_wide_view_of_leaves_needs_more_bits() -> None:
    # 50 Mb/s are 0.241 bits: enough for a face, not for a wood (common practice, no source).
    body = replace(STEADY, formats=(replace(THIN, rates=(RecordingRate(25, 50),)),))
    leaves = (Reading(name="trees", stops=-1.0, surface=Surface.FOLIAGE),)
    wide = {"body": body, "subject_distance_m": 40.0}
    assert finding("clip.thin_codec", readings=leaves, **wide).number == pytest.approx(
        0.241, abs=0.001
    )
    assert "clip.thin_codec" not in ids(plan(setup(**{**PLAIN, **wide})))
    near = {"body": body, "readings": leaves}
    assert "clip.thin_codec" not in ids(plan(setup(**{**PLAIN, **near})))


def test_a_slower_picture_calms_a_hand() -> None:
    # 105 mm equivalent: 50 mm look calm without a stabiliser, four times as much at 100 in 25.
    long = {"support": Support.HAND, "focal_mm": 100, "body": BODY,
            "lens": replace(LENS, focal_longest_mm=100)}  # fmt: skip
    assert "support.shaky" in ids(plan(setup(**long)))
    slow = setup(**long, frame_rate=100, kind=Kind.SLOW_MOTION)
    assert "support.shaky" not in ids(plan(slow))


def test_depth_thinner_than_the_subject_unless_it_is_meant() -> None:
    # 50 mm at f/1.8 and 1 m with a circle of 0.0275 mm: 2·N·c·(1+m)/m² = 0.0365 m (textbook).
    thin = {"iris": 1.8, "subject_distance_m": 1.0528, "light": Ev100(8.0)}
    found = finding("focus.thinner_than_subject", **thin)
    assert found.number == pytest.approx(2 * 1.8 * 0.02754 * 20 * 19 / 1000, rel=0.02)
    meant = found.fixes[-1].changes
    assert meant[0].setting == "depth_m"
    after = plan(applied(setup(**{**PLAIN, **thin}), meant))
    assert "focus.thinner_than_subject" not in ids(after)
    deep = plan(applied(setup(**{**PLAIN, **thin}), found.fixes[0].changes))
    assert "focus.thinner_than_subject" not in ids(deep)


def test_fast_things_in_a_run_of_short_exposures() -> None:
    # A cyclist at 4 m/s over 7.1 m every 6 s passes unseen; every 1 s he goes 56 % of the frame.
    spec = interval(subject_speed_m_s=0.5, frame_rate=1 / 2, shutter=Shutter(time_s=1 / 100))
    found = next(f for f in plan(spec).findings if f.id == "run.choppy")
    assert found.number == pytest.approx(100 * 0.5 * 2 / 2.844, rel=0.01)
    half = replace(spec, shutter=Shutter(time_s=1.0))
    assert "run.choppy" not in ids(plan(half))
    meant = replace(spec, intent=Intent(look=Look.CRISP))
    assert "run.choppy" not in ids(plan(meant))
    slow = replace(spec, subject_speed_m_s=0.01)
    assert "run.choppy" not in ids(plan(slow))


def test_switches_left_on_in_a_run() -> None:
    spec = interval(intent=Intent(auto_iso=True, white_school=WhiteMethod.AUTO))
    found = {f.id: f for f in plan(spec).findings}
    assert found["run.iso_auto"].severity is Severity.STOP
    assert found["white.auto_drifts"].severity is Severity.STOP
    for one in ("run.iso_auto", "white.auto_drifts"):
        mended = applied(spec, found[one].fixes[0].changes)
        assert one not in ids(plan(mended))


def test_a_face_that_clips_is_a_must_fix_even_where_it_is_not_the_key() -> None:
    window = Reading(name="window", stops=8.0)
    face = Reading(name="face", stops=7.0, surface=Surface.LIGHT_SKIN)
    card = Reading(name="card", stops=0.0, key=True)
    both = finding("level.reading_clips", readings=(card, window, face))
    assert both.severity is Severity.STOP
    assert both.what.startswith("Face and window")
    only = finding("level.reading_clips", readings=(window,))
    assert only.severity is Severity.CAUTION


def test_a_stop_over_on_a_log_is_a_choice() -> None:
    # 6.2 stops over grey: a stop over still holds a white card at +2.3; on video it does not.
    log = finding("exposure.over", light=Ev100(12.31))
    assert log.severity is Severity.CAUTION
    from tests.core.examples import VIDEO

    video = finding("exposure.over", light=Ev100(14.63), profile=VIDEO, iso=100)
    assert video.severity is Severity.STOP
    assert finding("exposure.over", light=Ev100(13.4)).severity is Severity.STOP
    assert finding("exposure.under", light=Ev100(9.2)).severity is Severity.STOP


def test_what_ruins_most_comes_first_and_then_what_is_mended_cheapest() -> None:
    spec = setup(**{
        **PLAIN, "light": Ev100(14.5), "frame_rate": 50,
        "devices": (Card(name="c", size_gb=64, write_mb_s=10),),
        "movement": Movement(camera=Camera.PAN, pan_deg_s=90),
    })  # fmt: skip
    order = [f.id for f in plan(spec).findings]
    assert order.index("clip.card_slow") < order.index("exposure.over")
    assert order.index("exposure.over") < order.index("motion.whip")
    keys = [urgency(f) for f in plan(spec).findings]
    assert keys == sorted(keys)
    assert analyse(spec).setup.frame_rate == 50


HOBART = Site(-43.12, 147.05)


def dawn(hour: int, minute: int, ev: float, **changes: Any) -> Any:
    starts = datetime(2027, 6, 5, hour, minute, tzinfo=ZoneInfo("Australia/Hobart"))
    sky = sky_over(HOBART.latitude_deg, HOBART.longitude_deg, 0, starts.replace(hour=0), 1440)
    given = {**PLAIN, "light": Ev100(ev), "starts": starts, "daylight": PlaceLight(sky), **changes}
    spec = setup(**given)
    return {f.id: f for f in plan(spec).findings}.get("light.hour")


def test_more_light_than_the_hour_gives() -> None:
    # The sun at -5.8 degrees gives 0.7 EV on level ground under a clear sky (Explanatory
    # Supplement to the Astronomical Almanac, from memory).
    early = dawn(7, 5, 9.0)
    assert early.number == pytest.approx(8.3, abs=0.1)
    assert "0.7 EV under a clear sky" in early.why
    # The sky gives nine EV at about 07:50.
    label, change = early.fixes[0].label, early.fixes[0].changes[0]
    assert label.startswith("plan it for 07:")
    hour, minute = (int(part) for part in change.value.split(":"))
    assert dawn(hour, minute, 9.0) is None
    assert dawn(7, 5, early.fixes[1].changes[0].value.value) is None
    assert dawn(7, 5, 9.0, mains_lamps=True) is None
    # Shade, cloud and rooms are darker at any hour; an hour without a place says nothing.
    assert dawn(12, 0, 5.0) is None
    assert dawn(12, 0, 15.0) is None
    assert dawn(7, 5, 9.0, daylight=None) is None
