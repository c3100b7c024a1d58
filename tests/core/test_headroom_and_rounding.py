"""What a sensor's end and a file's code values do to the picture, beyond the curve itself."""

from dataclasses import replace
from math import log2

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fotonomy.core.analysis.setup import analyse, model_of
from fotonomy.core.gear.body import Sensor
from fotonomy.core.gear.profile import as_recorded
from fotonomy.core.notation.writing import format_stops, to_a_fiftieth
from fotonomy.core.photometry.exposure_value import Ev100
from fotonomy.core.plan import plan
from fotonomy.core.planner.search_space import iso_values
from fotonomy.core.spec.changes import applied
from fotonomy.core.spec.intent import ExposureMethod, Intent
from fotonomy.core.spec.readings import Reading, Shape
from fotonomy.core.tone.noise import looks_like_iso
from fotonomy.core.tone.scene_layout import half_size, scene_map
from fotonomy.core.tone.signal_levels import headroom_stops, steps_of_grey
from fotonomy.core.traced_numbers import Named
from tests.core.examples import BODY, FLAT, VIDEO, setup
from tests.core.run_examples import ids, long_exposure

EIGHT = replace(VIDEO, bits=8)


@given(st.sampled_from([100, 125, 160, 200, 250, 320, 400]))
def test_under_its_base_a_sensor_clips_earlier_by_the_difference(iso: int) -> None:
    # Common practice, no source: the well is as deep as ever while the meter gives more light.
    spec = setup(iso=iso)
    lost = log2(500 / iso)
    landed = analyse(spec).level
    assert landed.headroom_stops == pytest.approx(headroom_stops(FLAT) - lost, abs=1e-6)
    # Grey and its headroom fill the well and no more, whatever the ISO (EMVA 1288: full well).
    model = model_of(spec)
    full = float(model.electrons(iso, landed.headroom_stops))
    assert full == pytest.approx(model.full_well_e, rel=1e-6)


def test_a_highlight_is_lost_under_the_base_and_the_zebra_knows_it() -> None:
    sky = (Reading(name="sky", stops=5.5),)
    at_base, under = (
        analyse(setup(iso=iso, light=Ev100(11.31 - log2(iso / 500)), readings=sky)).level
        for iso in (500, 160)
    )
    assert at_base.tones[0].clipped_stops == 0
    assert under.tones[0].clipped_stops > 0.5
    assert under.zebra_two.percent < at_base.zebra_two.percent
    assert under.clip_percent < at_base.clip_percent == 92


def test_never_clip_holds_highlights_to_where_the_sensor_ends() -> None:
    held = Intent(exposing=ExposureMethod.HIGHLIGHTS)
    sky = (Reading(name="sky", stops=5.5),)
    under = analyse(setup(iso=160, readings=sky, intent=held))
    assert under.budget.target_stops == pytest.approx(6.21 - 1.644 - 0.1 - 5.5, abs=0.02)


def test_far_under_its_base_a_profile_still_records_grey() -> None:
    left = as_recorded(VIDEO, 8, 6.0)
    assert headroom_stops(left) == pytest.approx(0.1)
    assert left.bits == 8
    assert as_recorded(VIDEO, 12, 0.0) is VIDEO


def test_stills_count_from_the_body_and_nobody_goes_under_a_base_unasked() -> None:
    # Common practice, no source: raw files have the body's base, whatever the profile shows.
    still = long_exposure(iso=100)
    assert still.below_base_stops == 0
    assert "iso.below_base" not in ids(plan(still))
    assert min(iso_values(setup(held=frozenset()))) == 500
    assert min(iso_values(replace(still, held=frozenset()))) == 100
    # No fix for a clipped face leads there either.
    face = (Reading(name="face", stops=7.0, key=True),)
    spec = setup(readings=face)
    isos = [
        change.value for finding in plan(spec).findings for fix in finding.fixes
        for change in fix.changes if change.setting == "iso"
    ]  # fmt: skip
    assert all(iso >= 500 for iso in isos)


def test_the_upper_base_is_praised_only_where_the_model_says_so() -> None:
    # A deep well hardly sees its read noise: ISO 1600 is cleaner than 3200 as bright.
    deep = setup(iso=1600)
    model = model_of(deep)
    assert float(model.looks_like(3200)) > float(model.looks_like(1600))
    assert "iso.below_upper_base" not in ids(plan(deep))
    # A shallow one with 5 e below and 1.8 e above is at its noisiest just under the upper base.
    sensor = Sensor(full_well_e=40_000, read_low_e=5, read_high_e=1.8)
    shallow = setup(iso=2500, light=Ev100(8.99), body=replace(BODY, sensor=sensor))
    assert "iso.below_upper_base" in ids(plan(shallow))
    assert "iso.below_upper_base" not in ids(plan(replace(shallow, iso=1600)))


def test_a_code_value_by_hand() -> None:
    # BT.709-6: under 1.8 % light the signal is 4.5 times it; 8 legal bits have 219 steps.
    steps = steps_of_grey(EIGHT)
    assert float(steps.shares[0]) == pytest.approx(1 / 219 / 4.5 / 0.18, rel=1e-6)
    # A pure logarithm has steps in proportion to the light: c·log10 2 a stop.
    log = steps_of_grey(FLAT)
    at = int(abs(log.stops - 3.0).argmin())
    codes_a_stop = 0.2898 * 0.30103 * 876
    assert float(log.shares[at]) == pytest.approx(8 * 0.693 / codes_a_stop, rel=0.02)


def test_rounding_raises_the_floor_of_eight_bits() -> None:
    # Bennett 1948: rounding adds step²/12. At eight bits a step of the foot is 0.00564 of grey,
    # its noise 0.00163: alone that drowns what lies log2(0.00163) = -9.26 stops from grey.
    eight, ten = (
        analyse(setup(profile=p, iso=100, readings=())).noise.floor_stops for p in (EIGHT, VIDEO)
    )
    assert eight == pytest.approx(-9.26, abs=0.1)
    assert ten < eight - 1.5
    # Four frames averaged halve it: two stops further down would need sixteen.
    four = analyse(setup(profile=EIGHT, iso=100, readings=(), intent=Intent(averaged_frames=4)))
    assert four.noise.floor_stops == pytest.approx(eight - 1, abs=0.05)


def test_a_sensor_nobody_measured_is_said_as_a_band() -> None:
    assumed = analyse(setup(iso=3200)).noise
    assert assumed.floor_between is not None
    worse, better = assumed.floor_between
    assert better < assumed.floor_stops < worse
    measured = setup(body=replace(BODY, sensor=Sensor(full_well_e=60_000)))
    assert analyse(measured).noise.floor_between is None


def test_dark_electrons_double_every_seven_degrees() -> None:
    model = model_of(long_exposure())
    assert model.dark_e(60, 22) == pytest.approx(2 * model.dark_e(60, 15))
    assert model.dark_e(60, 15) == pytest.approx(2 * model.dark_e(30, 15))
    # 0.005 e a second and µm² at 25 °C, photosites of 6 µm (24 megapixels of
    # 36 x 24 mm), ten degrees warmer than the air.
    assert model.dark_e(1, 15) == pytest.approx(0.005 * 6**2)
    cold, warm = (
        analyse(long_exposure(run={"temperature_c": t})).noise.looks_like_iso for t in (-10, 35)
    )
    assert warm > cold
    assert analyse(setup()).noise.dark_e == 0


def test_readings_that_share_a_code_are_said() -> None:
    soot = (Reading(name="soot", stops=-8.0), Reading(name="coat", stops=-9.0))
    found = {f.id: f for f in plan(setup(profile=EIGHT, iso=100, readings=soot)).findings}
    shared = found["level.readings_share_code"]
    assert shared.number == pytest.approx(1.0)
    assert "coat" in shared.what.lower()
    far = (Reading(name="soot", stops=-3.0), Reading(name="coat", stops=-4.0))
    clear = plan(setup(profile=EIGHT, iso=100, readings=far))
    assert "level.readings_share_code" not in ids(clear)
    gone = tuple(replace(one, may_clip=True) for one in soot)
    let_go = plan(setup(profile=EIGHT, iso=100, readings=gone))
    assert "level.readings_share_code" not in ids(let_go)


def test_three_readings_of_one_code_are_accepted_together() -> None:
    dark = tuple(
        Reading(name=name, stops=stops)
        for name, stops in (("soot", -8.0), ("coat", -9.0), ("tar", -10.0))
    )
    spec = setup(profile=EIGHT, iso=100, readings=dark)
    shared = next(f for f in plan(spec).findings if f.id == "level.readings_share_code")
    accept = next(fix for fix in shared.fixes if fix.label.startswith("accept it"))
    assert accept.label == "accept it for tar and coat"
    assert "level.readings_share_code" not in ids(plan(applied(spec, accept.changes)))


def test_a_band_is_as_high_as_its_share_of_the_frame() -> None:
    # A fifth of the frame, lying across the middle: the middle row of 100 and ten on either side.
    sky = Reading(name="sky", stops=3.0, shape=Shape.BAND, share_percent=20, y_percent=50)
    assert half_size(sky, 160, 100) == (80, 10)
    rows = scene_map((sky,), 160, 100).region[:, 80] == 0
    assert abs(int(rows.sum()) - 20) <= 4


@pytest.mark.parametrize(
    ("value", "said"),
    [(7.48, 7.5), (1.04, 1.04), (23.75, 23.8), (0.0318, 0.032), (1.234, 1.24), (499.0, 500.0),
     (-7.48, -7.5), (0.0, 0.0), (float("inf"), float("inf")), (50.0, 50.0), (2.5, 2.5), (99.0, 99.0)],
)  # fmt: skip
def test_what_is_worked_out_is_said_as_fine_as_it_is_known(value: float, said: float) -> None:
    """To about a fiftieth, by hand: a fiftieth of 7.48 is 0.15, so tenths."""
    assert to_a_fiftieth(value) == pytest.approx(said, rel=1e-12)


@given(st.floats(1e-6, 1e9))
def test_no_rounding_is_off_by_more_than_a_hundredth(value: float) -> None:
    assert abs(to_a_fiftieth(value) - value) <= value / 100 * (1 + 1e-9)
    digits = f"{to_a_fiftieth(value):.9e}".split("e")[0].replace(".", "").rstrip("0")
    assert len(digits) <= 3


def test_a_number_said_otherwise_keeps_its_working() -> None:
    said = to_a_fiftieth(Named(7.48, "/working/"))
    assert isinstance(said, Named)
    assert (said, said.address) == (pytest.approx(7.5), "/working/")
    assert type(to_a_fiftieth(7.48)) is float


def test_a_looks_like_iso_says_its_range_where_the_sensor_was_not_measured() -> None:
    dim = analyse(setup(iso=12_800, light=Ev100(4.0)))
    # What typical sensors spread over, by hand: the worse or better end against the middle.
    ends = [
        looks_like_iso(
            dim.noise.model.with_sensor_at(end), 12_800, dim.noise.pulled_stops,
            dim.noise.delivered_px, dim.noise.frames, dim.noise.dark_e,
        ) for end in (0, 1)
    ]  # fmt: skip
    off = max(abs(log2(one / dim.noise.looks_like_iso)) for one in ends)
    assert off > 0.2
    assert dim.noise.spread_stops == pytest.approx(off)
    assert dim.noise.looks_like_words.endswith(f" ±{format_stops(off)}")
    # At the lower gain all of them look alike, and there is nothing to say.
    plain_one = analyse(setup())
    assert plain_one.noise.looks_like_words == "ISO 310"
    # A sensor that was measured has no spread.
    body = setup().body
    measured = replace(body, sensor=Sensor(full_well_e=40_000, read_low_e=4, read_high_e=2))
    assert analyse(setup(iso=12_800, light=Ev100(4.0), body=measured)).noise.spread_stops == 0
