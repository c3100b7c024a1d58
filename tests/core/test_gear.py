"""Gear that contradicts itself is refused by name, whole gear passes; what a shoot has to carry."""

from dataclasses import replace
from typing import Any

import pytest

from fotonomy.core.analysis.packing import camera_loads, glass_needed, holders_needed
from fotonomy.core.analysis.setup import analyse
from fotonomy.core.compare.variants import VARIANTS, usual_variant, variant
from fotonomy.core.curves.transfer_functions import Bt709
from fotonomy.core.errors import RuleError
from fotonomy.core.gear.body import RecordingFormat, RecordingRate, ShutterStyle
from fotonomy.core.gear.filters import Filter, FilterKind, MatteBox, StepRing
from fotonomy.core.gear.neutral_density import density_to_stops
from fotonomy.core.gear.profile import Profile
from fotonomy.core.motion.shutter import Shutter
from fotonomy.core.plan import plan
from fotonomy.core.spec.kind import Kind
from tests.core.examples import BODY, LENS, ND, setup


@pytest.mark.parametrize(
    ("changes", "field"),
    [
        ({"formats": ()}, "formats"),
        ({"formats": (BODY.formats[0], BODY.formats[0])}, "formats"),
        ({"iso_highest": 50}, "iso_highest"),
        ({"iso_ceiling": 99}, "iso_ceiling"),
        ({"iso_ceiling": 60_000}, "iso_ceiling"),
        ({"iso_extended_lowest": 200}, "iso_extended_lowest"),
        ({"iso_extended_highest": 25_600}, "iso_extended_highest"),
        ({"fastest_s": 60.0}, "fastest_s"),
        ({"fastest_s": 1 / 40}, "fastest_s"),
        ({"shutter_style": ShutterStyle.ANGLE, "angles_deg": ()}, "angles_deg"),
    ],
)
def test_a_body_that_contradicts_itself(changes: dict[str, Any], field: str) -> None:
    with pytest.raises(RuleError) as caught:
        replace(BODY, **changes)
    assert caught.value.field == field


@pytest.mark.parametrize(
    ("changes", "field"),
    [
        ({"focal_longest_mm": 35}, "focal_longest_mm"), ({"smallest_f": 1.4}, "smallest_f"),
        ({"widest_long_f": 1.2}, "widest_long_f"), ({"widest_long_f": 32}, "widest_long_f"),
    ],
)  # fmt: skip
def test_a_lens_that_contradicts_itself(changes: dict[str, Any], field: str) -> None:
    with pytest.raises(RuleError) as caught:
        replace(LENS, **changes)
    assert caught.value.field == field


def test_a_format_needs_a_rate_and_a_sensor() -> None:
    whole: dict[str, Any] = {
        "name": "x", "width_px": 1920, "height_px": 1080, "sensor_width_mm": 13.2,
        "sensor_height_mm": 7.4, "rates": (RecordingRate(25, 50),),
    }  # fmt: skip
    assert RecordingFormat(**whole).pitch_mm == pytest.approx(0.006875)
    with pytest.raises(RuleError, match="frame rate"):
        RecordingFormat(**{**whole, "rates": ()})
    with pytest.raises(RuleError, match=r"0\.5 and 200 mm"):
        RecordingFormat(**{**whole, "sensor_width_mm": 0})


def test_a_ring_joins_two_threads_and_a_profile_clips_over_grey() -> None:
    with pytest.raises(RuleError, match="different"):
        StepRing(name="x", lens_mm=77, filter_mm=77)
    with pytest.raises(RuleError, match="above grey"):
        Profile(name="x", curve=Bt709(), clip_percent=30)


def test_a_crop_changes_the_field_and_the_rates_offered() -> None:
    full, crop = setup(), setup(recording="HD crop")
    ratio = analyse(full).focus.field_width_m / analyse(crop).focus.field_width_m
    assert ratio == pytest.approx(2)
    offered = [o.value for o in analyse(crop).offers["frame_rate"].options]
    assert offered == [25, 200]
    lost = plan(setup(recording="8K"))
    finding = next(f for f in lost.findings if f.id == "recording.body_lacks")
    assert [fix.changes[0].value for fix in finding.fixes] == ["4K", "HD crop"]


def test_extended_iso_is_offered_and_the_ceiling_kept() -> None:
    body = replace(BODY, iso_extended_lowest=50, iso_extended_highest=102_400)
    offered = [o.value for o in analyse(setup(body=body)).offers["iso"].options]
    assert (offered[0], offered[-1]) == (50, 102_400)


def test_what_is_in_front_of_the_lens_and_what_holds_it() -> None:
    square = Filter(name="square", kind=FilterKind.ND, stops=density_to_stops(1.8))
    box = MatteBox(name="box", largest_mm=80)
    ring = StepRing(name="ring", lens_mm=67, filter_mm=77)
    other = StepRing(name="other", lens_mm=62, filter_mm=77)
    polariser = Filter(name="pol", kind=FilterKind.POLARISER, stops=1.5, thread_mm=77)
    spec = setup(glass=(*ND, square), holders=(box, ring, other), filters=(polariser,))
    worn = analyse(spec)
    assert glass_needed(worn) == ("0.9", "pol")
    assert holders_needed(worn) == ("ring",)
    heavy = analyse(replace(spec, nd_density=1.8, glass=(square,), filters=()))
    assert glass_needed(heavy) == ("square",)
    assert holders_needed(heavy) == ("box",)


def test_cards_and_watt_hours() -> None:
    body = replace(BODY, power_w=10.0, card_gb=1.0)
    analysis = analyse(setup(body=body))
    # 5 s and a handle of 1 s at each end: 7 s at 100 Mb/s are 87.5 MB a take, three takes.
    (load,) = camera_loads([analysis])
    assert load.record_s == pytest.approx(21)
    assert load.size_gb == pytest.approx(0.2625)
    assert load.energy_wh == pytest.approx(10 * 21 / 3600)
    assert load.cards == 1
    (many,) = camera_loads([analysis] * 9)
    assert (many.cards, many.setups) == (3, 9)
    run = replace(
        analysis.setup,
        kind=Kind.INTERVAL,
        frame_rate=1 / 6,
        shutter=Shutter(time_s=0.5),
        handle_s=0,
    )
    # 5 s on screen at 25 fps are 125 frames; a run is taken once.
    (once,) = camera_loads([analyse(run)])
    assert once.record_s == pytest.approx(125 * 6, rel=0.02)
    # A run waits most of the time: 750 s at 4 W, and a second of 125 frames at 6 W more.
    known = analyse(replace(run, body=replace(body, idle_w=4.0)))
    (waiting,) = camera_loads([known])
    assert waiting.energy_wh == pytest.approx((4 * 750 + 6 * 125) / 3600, rel=0.02)
    (unknown,) = camera_loads([analyse(setup())])
    assert unknown.energy_wh is None


@pytest.mark.parametrize("name", VARIANTS)
def test_variants_keep_the_scene(name: str) -> None:
    spec = setup(frame_rate=100, subject_speed_m_s=2)
    other = variant(spec, name)
    assert (other.light, other.subject_distance_m, other.focal_mm) == (
        spec.light, spec.subject_distance_m, spec.focal_mm,
    )  # fmt: skip
    angle = {"edit": 180, "half_period": 180, "crisp": 90, "open": 360}[name]
    assert other.shutter.degrees(other.frame_rate) == pytest.approx(angle)
    assert other.frame_rate == (25 if name == "edit" else 100)


def test_the_usual_variant_tells_something() -> None:
    assert usual_variant(setup(frame_rate=100)) == "edit"
    assert usual_variant(setup()) == "crisp"
    assert usual_variant(setup(shutter=Shutter(angle_deg=90))) == "half_period"


@pytest.mark.parametrize(
    ("whole", "name"),
    [(Profile(name="x", curve=Bt709(), clip_percent=100), "grey_percent"),
     (Profile(name="x", curve=Bt709(), clip_percent=100), "skin_percent"),
     (LENS, "widest_f"), (LENS, "focal_shortest_mm"), (LENS, "close_focus_m"),
     (BODY, "card_gb"), (BODY, "fastest_s"), (BODY, "still_mb"),
     (BODY.formats[0], "sensor_width_mm"), (BODY.formats[0], "readout_ms")],
)  # fmt: skip
@pytest.mark.parametrize("value", [1e-307, 1e-320, 0.0])
def test_next_to_nothing_is_nothing(whole: Any, name: str, value: float) -> None:
    """What pictures and times are divided by has a least value, whichever door it comes through."""
    with pytest.raises(RuleError, match=name):
        replace(whole, **{name: value})
