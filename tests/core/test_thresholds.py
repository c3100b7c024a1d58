"""Both sides of the edges where an answer changes. The edges themselves are common practice, no
source; each is met by values worked out beside it, so that a moved edge or a turned sign is seen.
"""

from dataclasses import replace
from datetime import datetime, timedelta
from typing import Any

import numpy as np
import pytest

from fotonomy.core.analysis.setup import analyse
from fotonomy.core.analysis.supplies import supplies_of
from fotonomy.core.day.advice import Exposed, advice
from fotonomy.core.day.blocks import may_run_beside
from fotonomy.core.day.conflicts import conflicts
from fotonomy.core.day.dates import SunPlace
from fotonomy.core.day.day_plan import DayPlan, Spot
from fotonomy.core.day.direction import FieldOfView, sun_angle
from fotonomy.core.day.tasks import Task
from fotonomy.core.day.travel_time import way_minutes
from fotonomy.core.day.windows import Wish, windows
from fotonomy.core.exposure.metering import claims, scene_means
from fotonomy.core.exposure.ramp import longest_ramped_s
from fotonomy.core.field.relight import relit
from fotonomy.core.field.remaining_supplies import minutes_on_battery
from fotonomy.core.gear.accessories import Card, Feed, Heater
from fotonomy.core.gear.body import RecordingRate
from fotonomy.core.motion.camera_movement import Camera, Movement
from fotonomy.core.motion.shutter import Shutter
from fotonomy.core.photometry.exposure_value import Ev100, ev100_of
from fotonomy.core.pictures.keeper_rate import keepers
from fotonomy.core.plan import plan
from fotonomy.core.sky.horizon import Horizon
from fotonomy.core.sky.light import PlaceLight
from fotonomy.core.sky.track import Stretch
from fotonomy.core.spec.kind import Kind
from fotonomy.core.spec.readings import Reading, Shape
from fotonomy.core.spec.schedule import Wanted
from fotonomy.core.spec.setup import Setup, Site
from fotonomy.core.stills.burst import enough_drive
from fotonomy.core.stills.energy import cold_share
from fotonomy.core.stills.lightning import between_share, strikes
from fotonomy.core.stills.long_exposure import LongExposure
from fotonomy.core.tone.noise import noise_model
from fotonomy.core.tone.signal_levels import steps_of_grey
from fotonomy.core.tone.white_balance import gels_for, white_balance
from fotonomy.sky.ephemeris import sky_over
from tests.core.examples import BODY, FLAT, setup
from tests.core.run_examples import CAM, CARD, CELL, burst, ids, interval, long_exposure
from tests.core.test_day import FULL_MOON, HOBART, MIDNIGHT, SKY, block, found_in
from tests.core.test_noise import SENSOR
from tests.core.test_weather import spell

FIELD = FieldOfView(across_deg=40.0, up_deg=20.0)


def test_what_is_left_of_a_battery_counts_a_heater_on_it() -> None:
    # 40 Wh, 95 % at 15 °C, nine tenths of it used: 34.2 Wh at 10 and 5 W.
    warm = Heater(name="Band", power_w=5, fed_by=Feed.CAMERA)
    spec = setup(body=replace(CAM, power_w=10.0), devices=(CELL, CARD, warm))
    assert minutes_on_battery(spec, supplies_of(spec)) == pytest.approx(60 * 34.2 / 15)


def test_gels_turn_a_light_the_way_it_is_wrong() -> None:
    # A lamp of 3200 K beside daylight of 5600 K is 312.5 - 178.6 = 134 mired too warm: it wants a
    # blue gel, of a negative shift; daylight beside the lamp an orange one.
    (blue,) = gels_for(-134)
    (orange,) = gels_for(134)
    assert blue.mired < -100
    assert orange.mired > 100
    mixed = setup(white_k=5600, source_k=5600)
    lamp = _reading("Lamp", source_k=3200.0)
    (other,) = white_balance(replace(mixed, readings=(lamp,))).others
    assert other.apart_mired == pytest.approx(134, abs=0.5)
    assert sum(gel.mired for gel in other.gels) < -100


def _reading(name: str, **more: Any) -> Reading:
    return Reading(name=name, **{"stops": 0.0, **more})


@pytest.mark.parametrize(
    ("mine", "theirs", "body", "place", "may"),
    [
        (True, False, "B", 1, True), (False, True, "B", 1, True), (True, True, "B", 1, True),
        (False, False, "B", 1, False), (True, True, "A", 1, False), (True, True, "B", 2, False),
    ],
)  # fmt: skip
def test_setups_side_by_side(mine: bool, theirs: bool, body: str, place: int, may: bool) -> None:
    # One of them is marked, the bodies differ, the place is one: the day and the arranger agree.
    one = block(1, 9, schedule={"alongside": mine})
    other = block(2, 9.25, body=body, place=place, schedule={"alongside": theirs})
    assert may_run_beside(one, other) is may
    assert may_run_beside(other, one) is may
    assert ("overlap" in found_in(one, other)) is not may
    task: dict[str, Any] = {"name": "", "lens": "", "prepare_min": 10, "shoot_min": 20,
                            "stays_min": 20, "allowed": ((0, 600),)}  # fmt: skip
    first = Task(key=1, place=1, body="A", alongside=mine, **task)
    second = Task(key=2, place=place, body=body, alongside=theirs, **task)
    assert may_run_beside(first, second) is may


def test_lightning_between_frames() -> None:
    # 20 s open of every 25 s: a fifth of the strikes falls between.
    assert between_share(20, 25) == pytest.approx(0.2)
    found = strikes(every_s=40, exposure_s=20, interval_s=25, frames=100, file_mb=50)
    assert found.between_share == pytest.approx(0.2)
    assert between_share(30, 25) == 0


def test_rounding_is_averaged_with_the_photosites() -> None:
    # Rounding happens in the delivered picture: with twice the photosites along each side the noise
    # of the sensor there is half, and that of rounding what it was. Where rounding is all there is
    # (no read noise, no pattern), the floor moves by nothing; σ = step/√12 of the tone.
    plain = noise_model(SENSOR, BODY.formats[0], FLAT, 100)
    coarse = replace(plain, read_low_e=0.0, prnu_share=0.0, grey_e_iso=1e12, photosites_px=3840,
                     delivered_px=3840)  # fmt: skip
    fine = replace(coarse, photosites_px=7680)
    steps = steps_of_grey(replace(FLAT, bits=8))
    floor = coarse.floor_stops(500, steps=steps)
    assert floor > -12
    assert fine.floor_stops(500, steps=steps) == pytest.approx(floor, abs=1e-6)


def test_a_card_is_counted_in_decimal_gigabytes() -> None:
    # 100 Mb/s are 12.5 MB/s: 20 min of real time are 15 GB, a card of 15 GB; of 14.9, none.
    spec = setup(wanted_screen_s=1200.0, handle_s=0.0, devices=(Card(name="c", size_gb=14.9),))
    card = next(f for f in plan(spec).findings if f.id == "clip.card_full")
    assert card.number == pytest.approx(15.0)
    assert card.why.startswith("15 GB on a card")
    # Nine tenths of ten times 14 900 MB / 12.5 MB/s = 1192 s, less a hundredth: 1180.0 s.
    assert card.fixes[0].changes[0].value == pytest.approx(1180.0, abs=0.05)


@pytest.mark.parametrize(("other_gb", "way"), [(15.0, "take Other"), (14.9, "a card of 15 GB")])
def test_the_card_that_a_take_would_fit_on(other_gb: float, way: str) -> None:
    # 4000 Mb/s are 500 MB/s: 30 s are 15 GB, and a card of 10 MB holds a fiftieth of a second.
    tiny, other = Card(name="Tiny", size_gb=0.01), Card(name="Other", size_gb=other_gb)
    fast = replace(BODY.formats[0], rates=(RecordingRate(25, 4000),))
    spec = setup(body=replace(BODY, formats=(fast,)), wanted_screen_s=30.0, handle_s=0.0,
                 devices=(tiny,), packed_devices=(tiny, other))  # fmt: skip
    card = next(f for f in plan(spec).findings if f.id == "clip.card_full")
    assert card.fixes[0].label.startswith(way)


def test_a_share_of_keepers_is_said_of_ten_frames() -> None:
    assert not keepers(9, 9).enough
    assert keepers(9, 10).enough


def test_shade_is_looked_for_from_six_degrees_of_sun() -> None:
    found = windows(Wish(wanted=Wanted.SHADE), PlaceLight(SKY), Horizon())
    assert [SKY.sun_at(edge).altitude_deg for edge in (found[0].starts, found[0].ends)] == (
        pytest.approx([6.0, 6.0], abs=0.05)
    )  # fmt: skip


def test_the_core_is_worth_it_from_ten_degrees() -> None:
    # In February the core rises in a dark sky before dawn.
    sky = sky_over(-43.12, 147.05, 0, datetime(2027, 2, 8, tzinfo=HOBART), 1440)
    (first,) = windows(Wish(wanted=Wanted.MILKY_WAY), PlaceLight(sky), Horizon())[:1]
    at = round(sky.position(first.starts))
    assert sky.core.altitude_deg[at] == pytest.approx(10.0, abs=0.2)
    assert sky.sun.altitude_deg[at] < -18.5


@pytest.mark.parametrize(
    ("azimuth", "altitude", "inside", "flares"),
    # The picture is 40° wide and 20° high: 20° and 10° from its middle. Flare reaches 20° farther.
    [(19.9, 0, True, True), (20.1, 0, False, True), (39.9, 0, False, True), (40.1, 0, False, False),
     (0, 9.9, True, True), (0, 10.1, False, True), (0, 29.9, False, True), (0, 30.1, False, False)],
)  # fmt: skip
def test_flare_to_twenty_degrees_outside_the_picture(
    azimuth: float, altitude: float, inside: bool, flares: bool
) -> None:
    found = sun_angle(altitude, azimuth, 0.0, FIELD)
    assert (found.in_picture, found.flares) == (inside, flares)


def test_nobody_walks_farther_than_a_kilometre_and_a_half() -> None:
    # A way is 1.3 times the line. 1490 m on foot at 4 km/h are 22 min; 1510 m by car at 40 km/h two
    # and ten to load.
    def north(way_m: float) -> Site:
        return Site(way_m / 1.3 / 111_194.9, 0)

    assert way_minutes(Site(0, 0), north(1490)) == 22
    assert way_minutes(Site(0, 0), north(1510)) == 12
    # Nothing is longer than a day.
    assert way_minutes(Site(0, 0), Site(0, 170)) == 24 * 60


@pytest.mark.parametrize(("short_min", "said"), [(0.4, False), (0.6, True), (4.0, True)])
def test_a_way_that_half_a_minute_is_missing_for(short_min: float, said: bool) -> None:
    # Shot until 09:20; ten minutes to set up; twelve of way.
    rolls = 9 + (20 + 12 - short_min + 10) / 60
    assert ("way" in found_in(block(1, 9), block(2, rolls, place=2))) is said


@pytest.mark.parametrize(("day", "lit", "said"), [(7, 0.08, False), (8, 0.16, True)])
def test_a_moon_bothers_from_a_seventh_of_its_disc(day: int, lit: float, said: bool) -> None:
    # The young moon of June 2027 in the evening (ephem: 8 % lit on the 7th, 16 % on the 8th).
    date = datetime(2027, 6, day, tzinfo=HOBART)
    sky = sky_over(-43.12, 147.05, 0, date, 1440)
    rolls = date + timedelta(hours=18, minutes=30)
    assert sky.lit_at(rolls) == pytest.approx(lit, abs=0.02)
    stars = block(1, None, stars=True, rolls=rolls)
    spot = Spot("slip", sky, Horizon())
    found = conflicts(DayPlan((stars,), {1: spot}, lambda a, b: 0, _whole(date), str))
    assert ("moon" in {one.id for one in found}) is said


def test_a_moon_just_over_the_land_bothers() -> None:
    # The full moon of 19 June 2027 in the first quarter of an hour after it comes up: under 3° high.
    sky = sky_over(-43.12, 147.05, 0, FULL_MOON, 1440)
    up = np.flatnonzero((sky.moon.altitude_deg[:-1] < 0) & (sky.moon.altitude_deg[1:] >= 0))[0]
    rises = sky.moment(float(up))
    stars = block(1, None, stars=True, rolls=rises - timedelta(minutes=5), shoot_min=15)
    plan_of = DayPlan(
        (stars,), {1: Spot("slip", sky, Horizon())}, lambda a, b: 0, _whole(FULL_MOON), str
    )
    assert "moon" in {one.id for one in conflicts(plan_of)}


def _whole(date: datetime) -> Stretch:
    return Stretch(date, date + timedelta(hours=24))


def test_the_sun_stands_at_a_height_within_a_degree_and_a_half() -> None:
    margin = SunPlace(height_deg=15.0).margin(SKY)
    height = SKY.sun.altitude_deg
    assert np.array_equal(margin >= 0, np.abs(height - 15.0) <= 1.5)
    assert (margin >= 0).any()


def test_light_that_changed_by_less_than_a_sixth_of_a_stop_is_the_same() -> None:
    # An exposure half a stop over, by hand: it is kept as it is in the same light, and looked at
    # anew once the light differs.
    spec = setup(light=Ev100(11.9))
    planned = ev100_of(spec.light)
    assert abs(analyse(spec).budget.error_stops) > 0.4
    assert relit(spec, planned + 0.16).fits
    assert not relit(spec, planned + 0.17).fits


@pytest.mark.parametrize(("moment_s", "chosen"), [(0.0745, 60), (0.0755, 12)])
def test_a_drive_that_catches_nine_of_ten_is_enough(moment_s: float, chosen: float) -> None:
    # 12 frames a second catch a moment of 75 ms nine times of ten.
    run = analyse(burst(run={"moment_s": moment_s})).run
    choice, _ = enough_drive(run.choices)
    assert choice.rate_fps == chosen


def test_the_coldest_a_battery_is_counted_with() -> None:
    # 40 % is left from 40 degrees under zero down.
    assert [cold_share(t) for t in (-39, -40, -41, -90)] == pytest.approx([0.41, 0.4, 0.4, 0.4])


@pytest.mark.parametrize(("lowest", "said"), [(13.1, False), (13.0, True), (12.0, True)])
def test_batteries_two_hundredths_colder_than_planned(lowest: float, said: bool) -> None:
    # Planned at 15 °C they give 95 %; two hundredths less from 13 °C on.
    exposed = Exposed(kind=Kind.REAL_TIME, planned_c=15.0)
    found = advice(exposed, spell(lowest_c=lowest - 1e-9))
    assert ("weather.cold" in {one.id for one in found}) is said


@pytest.mark.parametrize(("time_s", "said"), [(7.9, False), (8.0, True)])
def test_hot_pixels_show_from_eight_seconds(time_s: float, said: bool) -> None:
    run = analyse(long_exposure(shutter=Shutter(time_s=time_s))).run
    assert isinstance(run, LongExposure)
    assert run.shows_hot_pixels is said


def test_a_body_at_work_is_ten_degrees_warmer_inside() -> None:
    # 15 °C of air are 25 inside, where the sheet's dark current holds: 0.005 e/s and µm².
    m = noise_model(SENSOR, BODY.formats[0], FLAT, 100)
    assert m.dark_e(10.0, 15.0) == pytest.approx(0.005 * m.pitch_um**2 * 10)
    assert m.dark_e(10.0, 22.0) == pytest.approx(2 * m.dark_e(10.0, 15.0))


@pytest.mark.parametrize(("crossing_s", "whip"), [(0.98, True), (1.02, False)])
def test_a_whip_crosses_the_picture_in_a_second(crossing_s: float, whip: bool) -> None:
    spec = _panned(crossing_s)
    assert ("motion.whip" in ids(plan(spec))) is whip


def _panned(crossing_s: float) -> Setup:
    spec = setup(movement=Movement(camera=Camera.PAN, pan_deg_s=10.0))
    moved = analyse(spec).motion
    rate = 10.0 * moved.screen_crossing_s / crossing_s
    return setup(movement=Movement(camera=Camera.PAN, pan_deg_s=rate))


@pytest.mark.parametrize(("share", "said"), [(0.098, False), (0.102, True)])
def test_a_subject_of_a_tenth_of_the_picture_shows_its_lean(share: float, said: bool) -> None:
    plain = setup(subject_speed_m_s=4.0)
    tall = analyse(plain).focus.field_height_m
    spec = setup(subject_speed_m_s=4.0, subject_size_m=share * tall)
    assert (analyse(spec).shake.lean_deg or 0) > 2
    assert ("motion.lean" in ids(plan(spec))) is said


@pytest.mark.parametrize(("over", "said"), [(1.45, False), (1.55, True)])
def test_a_stop_and_a_half_more_than_the_sky_gives(over: float, said: bool) -> None:
    light = PlaceLight(SKY)
    at = MIDNIGHT + timedelta(hours=12)
    spec = setup(light=Ev100(light.at(at).clear_ev100 + over), daylight=light, starts=at)
    assert ("light.hour" in ids(plan(spec))) is said


def test_a_ramp_uses_eight_tenths_of_its_interval() -> None:
    # Of 6 s 4.8, where writing leaves room for it.
    assert longest_ramped_s(interval(), write_s=0.1) == pytest.approx(4.8)
    # A second and a half of writing and a fifth of margin leave 4.3.
    assert longest_ramped_s(interval(), write_s=1.5) == pytest.approx(4.3)


def test_a_highlight_meter_holds_the_brightest_half_a_stop_under_clipping() -> None:
    readings = (_reading("Grey", shape=Shape.GROUND),
                _reading("Sky", stops=3.0, share_percent=30.0))  # fmt: skip
    level = analyse(setup(readings=readings)).level
    found = next(
        one for one in claims(readings, level, level.exposure_stops) if one.name == "highlight"
    )
    # The sky is three stops over grey: exposed so that it lies half a stop under the clip.
    assert found.points_at_stops == pytest.approx(level.headroom_stops - 0.5 - 3.0, abs=0.01)
    # It looks at the brightest half per cent: a lamp of one counts, one of a third does not.
    for share, counts in ((1.0, True), (0.3, False)):
        lamp = (*readings, _reading("Lamp", stops=6.0, share_percent=share))
        means = scene_means(lamp)
        assert (means.highlight > 5) is counts
