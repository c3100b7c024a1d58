"""Findings: each has a reason, a number and a fix, and the fix does what it says."""

from dataclasses import replace
from datetime import UTC, datetime
from typing import Any

import pytest
from hypothesis import given, reject
from hypothesis import strategies as st

from fotonomy.core.analysis.changes import carried_through
from fotonomy.core.curves.transfer_functions import Bt709
from fotonomy.core.errors import RuleError
from fotonomy.core.findings.finding import Finding, Fix, Severity
from fotonomy.core.gear.accessories import Battery, Card, Counting, Device, Heater, Remote
from fotonomy.core.gear.body import (
    Body,
    DriveMode,
    RecordingFormat,
    RecordingRate,
    Sensor,
    ShutterStyle,
)
from fotonomy.core.gear.filters import Filter, FilterKind
from fotonomy.core.gear.lens import Lens, Tube
from fotonomy.core.gear.neutral_density import density_to_stops
from fotonomy.core.gear.profile import Profile
from fotonomy.core.gear.support import Support
from fotonomy.core.motion.camera_movement import Camera, Movement
from fotonomy.core.motion.shutter import Shutter
from fotonomy.core.photometry.exposure_value import Ev100
from fotonomy.core.photometry.stops import MARKED_F_NUMBERS, MARKED_ISO
from fotonomy.core.plan import Plan, plan
from fotonomy.core.planner.exposure_modes import mode_advice
from fotonomy.core.spec.intent import Circle, ExposureMethod, Intent, Look, WhiteMethod
from fotonomy.core.spec.kind import Kind
from fotonomy.core.spec.readings import Reading, Shape, Surface
from fotonomy.core.spec.setup import SETTINGS, Limit, Setup
from fotonomy.core.spec.stills import Combining, Files, Follows, LightPoint, Ramp, Run
from fotonomy.exchange.changes_json import text_of
from fotonomy.exchange.plan_json import plan_to_data
from fotonomy.exchange.schemas import write_json
from tests.core.examples import (
    BODY,
    FLAT,
    LENS,
    ND,
    VIDEO,
    has_reason_number_and_fix,
    setup,
    with_typed_setting,
)
from tests.properties import examples


def found(planned: Plan, key: str) -> Finding:
    return next(finding for finding in planned.findings if finding.id == key)


def ids(planned: Plan) -> set[str]:
    return {finding.id for finding in planned.findings}


def apply(spec: Setup, fix: Fix) -> Setup:
    for change in fix.changes:
        assert change.setting in SETTINGS, change
        spec = with_typed_setting(spec, change.setting, text_of(change))
    return spec


SHALLOW = replace(
    BODY, sensor=Sensor(full_well_e=40_000, read_low_e=5, read_high_e=1.8, prnu_share=0.005)
)
BALANCED = {"light": Ev100(11.31), "iris": 5.6}


def test_a_balanced_still_life_has_nothing_to_say() -> None:
    assert plan(setup(**BALANCED)).findings == ()


# One setup for each finding, with the number it should carry (worked by hand).
CASES: list[tuple[str, float, dict[str, Any]]] = [
    ("exposure.over", 2.69, {"light": Ev100(14.0)}),
    ("exposure.under", -2.31, {"light": Ev100(9.0)}),
    ("shutter.longer_than_frame", 0.05, {"shutter": Shutter(time_s=1 / 20)}),
    ("frame_rate.gear_lacks", 48, {"frame_rate": 48}),
    ("shutter.gear_lacks", 1 / 90, {"shutter": Shutter(time_s=1 / 90)}),
    ("iris.gear_lacks", 1.2, {"iris": 1.2}),
    ("iso.gear_lacks", 510, {"iso": 510}),
    ("nd.gear_lacks", 0.8, {"nd_density": 0.8}),
    ("focal.lens_lacks", 85, {"focal_mm": 85}),
    ("profile.body_lacks", 1, {"body": replace(BODY, profiles=("Video",))}),
    # |sin(pi*100/48)/(pi*100/48)| of the ripple at 1/48 under 50 Hz: 3.95 %, so 1/160 instead.
    ("flicker.mains", 47.05, {"mains_lamps": True, "shutter": Shutter(time_s=1 / 160)}),
    # 5 m/s over 2.844 m: a step of 7.03 % and half of it gap.
    ("motion.strobing", 3.516, {"subject_speed_m_s": 5.0}),
    ("iso.above_ceiling", 1.0, {"iso": 25_600}),
    # ISO 3200 looks like 1796 to this sensor: read noise 5 e under it and 1.8 e from it on.
    ("iso.below_upper_base", 0.477, {"iso": 2500, "light": Ev100(8.99),
                                    "body": SHALLOW}),
    # log2(500/160).
    ("iso.below_base", 1.644, {"iso": 160}),
    ("nd.infrared", 7.97, {"nd_density": 2.4}),
    ("nd.stack_vignettes", 2, {"nd_density": 1.2, "focal_mm": 20,
                               "lens": replace(LENS, focal_shortest_mm=20)}),
    ("level.key_clips", 0.79, {"readings": (Reading(name="skin", stops=7.0, key=True),)}),
    ("clip.not_slow", 100, {"kind": Kind.SLOW_MOTION}),
    ("clip.sped_up", 104.17, {"frame_rate": 24}),
    ("clip.card_full", 137.5, {"wanted_screen_s": 11_000, "handle_s": 0}),
]  # fmt: skip


@pytest.mark.parametrize(("key", "number", "change"), CASES, ids=[case[0] for case in CASES])
def test_every_finding_has_a_reason_a_number_and_a_fix(
    key: str, number: float, change: dict[str, Any]
) -> None:
    finding = found(plan(setup(**{**BALANCED, **change})), key)
    has_reason_number_and_fix(finding, number)


@pytest.mark.parametrize(
    ("key", "change"),
    [(key, change) for key, _, change in CASES
     if key not in ("focal.lens_lacks", "profile.body_lacks", "clip.card_full")],
    ids=[case[0] for case in CASES if case[0] not in
         ("focal.lens_lacks", "profile.body_lacks", "clip.card_full")],
)  # fmt: skip
def test_a_fix_does_away_with_its_finding_at_the_price_it_names(
    key: str, change: dict[str, Any]
) -> None:
    spec = setup(**{**BALANCED, **change})
    before = plan(spec)
    for fix in found(before, key).fixes:
        if any(c.setting not in SETTINGS for c in fix.changes):
            continue
        after = plan(apply(spec, fix))
        assert key not in ids(after), fix
        moved = after.analysis.budget.error_stops - before.analysis.budget.error_stops
        assert moved == pytest.approx(fix.price_stops, abs=0.01), fix


def test_the_card_fix_makes_the_take_fit() -> None:
    spec = setup(wanted_screen_s=11_000, handle_s=0)
    (fix,) = found(plan(spec), "clip.card_full").fixes
    (change,) = fix.changes
    assert change.setting == "wanted_screen_s"
    shorter = replace(spec, wanted_screen_s=change.value)
    assert plan(shorter).analysis.clip.takes_per_card >= 1


def test_no_fix_touches_what_is_held_while_something_free_will_do() -> None:
    over = setup(light=Ev100(15), held=frozenset({"nd_density", "iris", "shutter"}))
    for fix in found(plan(over), "exposure.over").fixes:
        assert {change.setting for change in fix.changes} == {"iso"} or fix.touches_held
    all_held = plan(setup(light=Ev100(15), held=frozenset(SETTINGS)))
    assert all(fix.touches_held for fix in found(all_held, "exposure.over").fixes)


def test_beyond_all_gear_it_says_how_far_it_gets() -> None:
    dark = plan(setup(light=Ev100(-8), lens=replace(LENS, smallest_f=2)))
    finding = found(dark, "exposure.under")
    assert finding.severity is Severity.STOP
    assert "the nearest this gear comes is" in finding.why
    (fix,) = finding.fixes
    # Widest iris, no glass, the ceiling and an open shutter: all there is.
    assert {change.setting for change in fix.changes} == {"nd_density", "iris", "iso", "shutter"}


def test_stops_come_before_cautions() -> None:
    severities = [f.severity for f in plan(setup(iris=1.2, nd_density=2.4, iso=2000)).findings]
    assert severities == sorted(severities, key=lambda s: s is not Severity.STOP)


def test_cautions_follow_the_kind_and_what_carries_the_camera() -> None:
    # Common practice, no source: road, air and flashing light are dangerous whatever the kind.
    assert plan(setup()).cautions == ()
    mounted = plan(setup(support=Support.VEHICLE)).cautions
    assert "Nobody films while driving" in mounted[0]
    assert plan(setup(kind=Kind.ROLLING, support=Support.VEHICLE)).cautions == mounted
    assert "aviation authority" in plan(setup(support=Support.DRONE)).cautions[0]
    assert "sensitive to flashing light" in plan(setup(lamp_hz=12.0)).cautions[0]
    assert plan(setup(lamp_hz=250.0)).cautions == ()


def test_long_exposures_have_no_frame_to_fit_into() -> None:
    long = setup(
        kind=Kind.LONG_EXPOSURE, shutter=Shutter(time_s=15), light=Ev100(3.1), iris=11.0,
        iso=100, nd_density=0, subject_speed_m_s=5, subject_distance_m=900, mains_lamps=True,
    )  # fmt: skip
    assert ids(plan(long)) == set()
    interval = setup(kind=Kind.INTERVAL, frame_rate=1 / 6, shutter=Shutter(time_s=8))
    assert "shutter.longer_than_frame" in ids(plan(interval))


def test_typed_settings_are_held_against_the_gear() -> None:
    spec = setup()
    for name, text, words in (
        ("iris", "f/1.2", "f/1.8 to f/22"), ("iso", "510", "500 or 640"),
        ("nd_density", "0.8", "0.6 or 0.9"), ("frame_rate", "48", "25 or 50"),
        ("shutter", "1/9000", "1/8000"), ("shutter", "200°", "180 or 216"),
    ):  # fmt: skip
        with pytest.raises(RuleError) as caught:
            with_typed_setting(spec, name, text)
        assert caught.value.field == name
        assert words in caught.value.rule
    # Too long for the frame is not refused: frame rate and shutter come in either order.
    assert with_typed_setting(spec, "shutter", "1/15").time_s == pytest.approx(1 / 15)
    assert with_typed_setting(spec, "iris", "f/4.3").iris == 4.3


rates = st.lists(st.sampled_from([24.0, 25.0, 50.0, 100.0, 240.0]), min_size=1, unique=True)


def movements() -> st.SearchStrategy[Movement]:
    return st.builds(
        Movement, camera=st.sampled_from(list(Camera)), heading_deg=st.floats(0, 180),
        pan_deg_s=st.floats(0, 500), travel_m_s=st.floats(0, 100),
        background_m=st.one_of(st.none(), st.floats(0.1, 5000)),
    )  # fmt: skip


def intents() -> st.SearchStrategy[Intent]:
    wish = st.one_of(st.none(), st.floats(0.01, 50))
    return st.builds(
        Intent, look=st.sampled_from(list(Look)), circle=st.sampled_from(list(Circle)),
        freeze_px=wish, smear_percent=wish, depth_m=wish, slow_factor=st.floats(1, 20),
        exposing=st.sampled_from(list(ExposureMethod)), white_school=st.sampled_from(list(WhiteMethod)),
        delivery_px=st.one_of(st.none(), st.integers(16, 9000)),
        averaged_frames=st.integers(1, 1000),
    )  # fmt: skip


def readings() -> st.SearchStrategy[tuple[Reading, ...]]:
    one = st.builds(
        Reading, name=st.text("abc ", min_size=1, max_size=30).filter(str.strip),
        stops=st.floats(-15, 15), surface=st.sampled_from(list(Surface)),
        shape=st.sampled_from(list(Shape)), share_percent=st.floats(0.01, 100),
        x_percent=st.floats(0, 100), y_percent=st.floats(0, 100), may_clip=st.booleans(),
        wanted_stops=st.one_of(st.none(), st.floats(-10, 10)),
        source_k=st.one_of(st.none(), st.floats(1000, 20_000)),
    )  # fmt: skip
    return st.lists(one, max_size=5, unique_by=lambda r: r.name.casefold()).map(
        lambda found: tuple(replace(r, key=k == 0) for k, r in enumerate(found))
    )


def runs() -> st.SearchStrategy[Run]:
    curve = st.lists(
        st.tuples(st.floats(0, 1e5), st.floats(-12, 24)),
        max_size=4,
        unique_by=lambda p: p[0],
    )
    return st.builds(
        Run, files=st.sampled_from(list(Files)), follows=st.sampled_from(list(Follows)),
        event_s=st.floats(1, 3e7), noise_frames=st.booleans(), self_timer_s=st.floats(0, 60),
        ramp=st.sampled_from(list(Ramp)),
        light_curve=curve.map(lambda points: tuple(LightPoint(*point) for point in sorted(points))),
        declination_deg=st.one_of(st.none(), st.floats(-90, 90)), star_px=st.floats(0.1, 50),
        temperature_c=st.floats(-40, 50), continuous_focus=st.booleans(), burst_s=st.floats(0.01, 3600),
        bursts_an_hour=st.floats(0, 3600), moment_s=st.floats(0.0001, 60),
        combining=st.sampled_from(list(Combining)), frames=st.integers(1, 100),
        passes_s=st.one_of(st.none(), st.floats(0.01, 86_400)),
        trail_percent=st.one_of(st.none(), st.floats(0.1, 1000)),
    )  # fmt: skip


HANGING: tuple[Device, ...] = (
    Remote(name="old", counting=Counting.END_TO_START, waits_first=True, most_count=99, unlimited=False),
    Remote(name="plain", sure_count=99), Card(name="c", size_gb=32), Card(name="quick", size_gb=256, write_mb_s=90),
    Battery(name="b", energy_wh=9), Battery(name="pack", energy_wh=99, external=True), Heater(name="h", power_w=5),
)  # fmt: skip


@st.composite
def anything(draw: Any) -> Setup:
    """Any setup a person could plan, sensible or not."""
    style = draw(st.sampled_from(list(ShutterStyle)))
    top = draw(st.sampled_from(MARKED_ISO[6:]))
    body = Body(
        name="cam",
        formats=(
            RecordingFormat(
                name="only", sensor_width_mm=draw(st.floats(4, 60)), sensor_height_mm=10,
                width_px=3840, height_px=2160, readout_ms=draw(st.sampled_from([None, 12.0])),
                rates=tuple(RecordingRate(r, 100) for r in draw(rates)),
            ),
        ),
        drive_modes=tuple(
            DriveMode(f"{r:g}", r, r > 10, draw(st.sampled_from([None, 40])), None, draw(st.sampled_from([None, 4.0])))
            for r in draw(st.lists(st.sampled_from([5.0, 20.0]), unique=True))
        ), power_w=draw(st.sampled_from([None, 8.0])), combines_most=draw(st.integers(1, 9)),
        profiles=draw(st.sampled_from([(), (FLAT.name, VIDEO.name)])),
        shutter_style=style, angles_deg=(90, 180), fastest_s=draw(st.sampled_from([1 / 500, 1e-4])),
        iso_highest=top, iso_ceiling=draw(st.integers(100, top)), card_gb=draw(st.floats(0.1, 500)),
    )  # fmt: skip
    short = draw(st.floats(4, 300))
    widest = draw(st.sampled_from(MARKED_F_NUMBERS[2:20]))
    lens = Lens(
        name="lens", focal_shortest_mm=short, focal_longest_mm=short * draw(st.floats(1, 5)),
        widest_f=widest, smallest_f=widest * draw(st.sampled_from([1, 4])), thread_mm=67,
        close_focus_m=draw(st.sampled_from([None, 0.5, 3.0])),
    )  # fmt: skip
    profile = draw(st.sampled_from(
        [FLAT, Profile(name="strict", curve=Bt709(), clip_percent=100, base_iso=(100, 800))]
    ))  # fmt: skip
    filters = (Filter(name="pol", kind=FilterKind.POLARISER, stops=1.7),)
    shutter = draw(st.one_of(
        st.floats(0.5, 720).map(lambda a: Shutter(angle_deg=a)),
        st.floats(1e-4, 60).map(lambda t: Shutter(time_s=t)),
    ))  # fmt: skip
    fields: dict[str, Any] = {
        "kind": draw(st.sampled_from(list(Kind))), "project_fps": 25, "mains_hz": 50,
        "mains_lamps": draw(st.booleans()), "light": Ev100(draw(st.floats(-11, 22))),
        "readings": draw(readings()), "source_k": draw(st.sampled_from([None, 2700.0])),
        "white_bias_mired": draw(st.floats(-200, 200)), "subject_speed_m_s": draw(st.floats(0, 2000)),
        "subject_distance_m": draw(st.floats(4, 5000)), "body": body, "lens": lens,
        "glass": draw(st.sampled_from([(), ND])), "filters": draw(st.sampled_from([(), filters])),
        "profile": profile, "focal_mm": draw(st.floats(4, 1500)),
        "frame_rate": draw(st.floats(1 / 3000, 300)), "shutter": shutter,
        "iris": draw(st.floats(0.7, 64)), "iso": draw(st.integers(25, 400_000)),
        "nd_density": draw(st.floats(0, 6)),
        "held": draw(st.sets(st.sampled_from(SETTINGS)).map(frozenset)),
        "wanted_screen_s": draw(st.floats(0.1, 30_000)), "handle_s": draw(st.floats(0, 60)),
        "subject_size_m": draw(st.floats(0.001, 500)), "subject_depth_m": draw(st.floats(0.001, 50)),
        "lamp_hz": draw(st.sampled_from([None, 250.0, 20_000.0])),
        "support": draw(st.sampled_from(list(Support))), "movement": draw(movements()),
        "intent": draw(intents()), "light_change_stops": draw(st.floats(0, 8)),
        "tubes": draw(st.sampled_from([(), (Tube(name="26", length_mm=26),)])),
        "run": draw(runs()), "devices": draw(st.sampled_from([(), HANGING[:1], HANGING[1:], HANGING[3:5]])),
        "packed_devices": HANGING, "starts": draw(st.sampled_from([None, datetime(2027, 4, 3, 23, tzinfo=UTC)])),
        "limits": draw(st.sampled_from([(), (Limit("iris", 4, 8),), (Limit("shutter", 0.01, 0.02),)])),
    }  # fmt: skip
    try:
        return Setup(**fields)
    except RuleError:
        # A time no camera has, or a subject inside the lens: refused before it is planned.
        reject()


@given(anything())
def test_no_setup_breaks_the_planner(spec: Setup) -> None:
    """No error, no NaN, and a reason and a way out in every finding, whatever is planned."""
    planned = plan(spec)
    write_json(plan_to_data(planned))
    advice = mode_advice(planned.analysis)
    assert all(way.darker_stops >= 0 <= way.brighter_stops for way in advice.auto_ranges)
    for finding in planned.findings:
        assert finding.what
        assert finding.why
        assert finding.fixes, finding
        for fix in finding.fixes:
            # What no setting can do says what to get, with its number.
            assert fix.changes or any(character.isdigit() for character in fix.label), fix
            tried = spec
            for change in fix.changes:
                if change.setting in SETTINGS:
                    # What a fix says has to pass as if a person had typed it.
                    tried = with_typed_setting(tried, change.setting, text_of(change))
        if finding.id.startswith("exposure"):
            better = abs(planned.analysis.budget.error_stops + finding.fixes[0].price_stops)
            assert better < abs(planned.analysis.budget.error_stops)


PROFILES = {profile.name: profile for profile in (FLAT, VIDEO)}


def shrinks(finding: Finding, after: Finding, spec: Setup) -> bool:
    """True if what a finding counts has become less bad."""
    if finding.id in (
        "burst.buffer_full",
        "burst.moment_missed",
        "clip.battery_short",
        "motion.whip",
    ):
        # Seconds until the buffer is full or the frame is crossed, the chance to meet the moment,
        # minutes of a battery: more is better.
        return after.number > finding.number
    if finding.id == "trail.length":
        wanted = spec.run.trail_percent or 0.0
        return abs(after.number - wanted) < abs(finding.number - wanted)
    return abs(after.number) < abs(finding.number)


@examples(40)
@given(anything())
def test_every_fix_helps_or_says_what_it_costs(spec: Setup) -> None:
    for finding in plan(spec).findings:
        for fix in finding.fixes:
            if not fix.changes:
                continue
            fixed = carried_through(spec, fix.changes, PROFILES)
            if fix.costs or fix.touches_held or abs(fix.price_stops) >= 0.05:
                continue
            left = next((f for f in plan(fixed).findings if f.id == finding.id), None)
            assert left is None or shrinks(finding, left, spec), (
                fix,
                finding.id,
                finding.number,
                left.number,
            )


def test_the_name_of_a_stop() -> None:
    assert density_to_stops(0.3) == pytest.approx(1, abs=0.01)
