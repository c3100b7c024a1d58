"""Numbers of days, takes and pictures that belong to no setup: their formulas and their workings."""

from math import log2

import pytest

from fotonomy.core.day.day_plan import leave_clock_min, length_min, spare_min
from fotonomy.core.errors import RuleError
from fotonomy.core.field.remaining_supplies import left_on_card_gb
from fotonomy.core.pictures.frame_levels import tone_off_stops
from fotonomy.core.pictures.run import missing_frames, on_screen_s
from fotonomy.core.sky.light import mixed_ev
from fotonomy.core.sky.track import lit_percent
from fotonomy.core.takes.actual import (
    late_min,
    light_off_stops,
    light_seen_ev,
    setting_stops,
)
from fotonomy.core.working.quantity import NoSuchNumberError
from fotonomy.core.working.standalone.working import LOOSE, TOPICS, loose_working, topic_of
from fotonomy.core.working.symbols import clock_text, number_text

NOON = {
    "sun_deg": 40.0, "moon_deg": -20.0, "phase_deg": 120.0, "oktas": 8.0, "factor": 2.0,
    "own_lx": 10.0, "plain_factor": 1.0, "plain_own_lx": 10.0,
}  # fmt: skip


def test_light_is_sky_times_reading_less_cloud_and_lamps() -> None:
    # EV 0 at ISO 100 is 2.5 lx (ISO 2720, C 250): 80 000 lx are log2(32 000) = 14.966.
    assert float(mixed_ev(80_000, 1.0, 0.0, 0.0)) == pytest.approx(14.966, abs=0.001)
    # A reading that says twice as much, and cloud that takes a stop, come to the same.
    assert float(mixed_ev(80_000, 2.0, 1.0, 0.0)) == pytest.approx(14.966, abs=0.001)
    # 5 lx by night beside lamps of 35 lx: 40 lx, log2(16) = 4.
    assert float(mixed_ev(5.0, 1.0, 0.0, 35.0)) == pytest.approx(4.0)


def test_what_a_picture_says_of_its_light() -> None:
    # Set 0.4 stops brighter than planned and come out 1.1 brighter: the light was 0.7 more.
    assert light_off_stops(1.1, 0.4) == pytest.approx(0.7)
    assert light_seen_ev(12.0, 1.1, 0.4) == pytest.approx(12.7)
    # f/8 for f/5.6 (twice as much twice: 1.414): a stop darker. ISO 800 for 200: two brighter.
    assert setting_stops(8.0, 8.0 / 2**0.5, -2.0) == pytest.approx(-1.0)
    assert setting_stops(800, 200, 1.0) == pytest.approx(2.0)
    # An area at +0.4 that was planned at −0.1 is half a stop brighter; 15:45 for 15:20 is late.
    assert tone_off_stops(0.4, -0.1) == pytest.approx(0.5)
    assert late_min(15 * 60 + 45, 15 * 60 + 20) == 25


@pytest.mark.parametrize(
    ("gap_s", "missing"), [(12.0, 1), (18.2, 2), (9.0, 1), (60.4, 9), (14.9, 1), (15.1, 2)]
)
def test_missing_frames_of_an_interval_of_six_seconds(gap_s: float, missing: int) -> None:
    # 18.2 s are three intervals: two frames are missing between the two that are there.
    assert missing_frames(gap_s, 6.0) == missing


def test_minutes_cards_and_seconds() -> None:
    assert spare_min(540, 300, 45) == 195
    assert leave_clock_min(9 * 60 + 10, 8) == 9 * 60 + 2
    assert length_min(7 * 60 + 36, 16 * 60 + 44) == 9 * 60 + 8
    assert left_on_card_gb(128, 4.5) == 123.5
    assert left_on_card_gb(32, 40) == 0
    assert on_screen_s(250, 25) == 10
    # A quarter of the way round half of the disc is lit; full at 0°, new at 180°.
    assert [round(lit_percent(angle), 6) for angle in (0, 60, 90, 120, 180)] == [100, 75, 50, 25, 0]


def test_an_estimate_is_worked_out_of_sun_moon_and_cloud_and_each_has_its_working() -> None:
    found = loose_working("sky.estimate", NOON)
    by_name = {one.name: one for one in found.inputs if one.name}
    assert set(by_name) == {"sky.clear_lx", "sky.cloud_stops"}
    clear = loose_working("sky.clear_lx", NOON).value
    taken = loose_working("sky.cloud_stops", NOON).value
    assert found.value == pytest.approx(log2((clear * 2 * 2**-taken + 10) / 2.5))
    # What nobody works out is no constant.
    own = next(one for one in found.inputs if one.symbol == "own")
    assert (own.name, own.constant, own.text) == ("", False, "10 lx")
    # With the factor 1 it would be a stop less, but for the lamps.
    moved = loose_working("sky.bent_stops", NOON)
    assert moved.value == pytest.approx(1.0, abs=0.01)
    assert [one.name for one in moved.inputs] == ["sky.estimate", "sky.plain_ev"]


def test_what_has_no_formula_says_what_it_is_and_what_goes_in() -> None:
    found = loose_working(
        "sun.rise_or_set", {"value": 456.5, "on_date": 20270605, "latitude_deg": -43.12}
    )  # fmt: skip
    assert found.text == "07:36"
    assert [(one.words, one.text) for one in found.inputs] == [
        ("the day", "2027-06-05"), ("of the place; south is minus", "−43.12°"),
    ]  # fmt: skip
    assert found.lines == ()


@pytest.mark.parametrize("given", [{}, {"sun_deg": 40.0}, {"sun_deg": 40.0, "moon_deg": 1.0}])
def test_a_working_without_its_values_is_refused(given: dict[str, float]) -> None:
    with pytest.raises(RuleError):
        loose_working("sky.estimate", given)


@pytest.mark.parametrize(
    ("minutes", "text"),
    [(0, "00:00"), (423.98, "07:03"), (541.9999999, "09:02"), (1500, "01:00"), (-10, "23:50")],
)
def test_a_clock_shows_the_minute_that_has_begun(minutes: float, text: str) -> None:
    assert clock_text(minutes) == text


def test_dates_and_clocks_as_inputs() -> None:
    assert number_text(20270605, "date") == "2027-06-05"
    assert number_text(456.5, "clock") == "07:36"


def test_every_loose_number_is_in_one_topic_and_leads_only_to_those_that_are() -> None:
    assert {one.name for key in TOPICS for one in topic_of(key).quantities} == set(LOOSE)
    for one in LOOSE.values():
        assert set(one.given.values()) <= set(LOOSE), one.name
    with pytest.raises(NoSuchNumberError):
        topic_of("quux")
    with pytest.raises(NoSuchNumberError):
        loose_working("quux", {})
