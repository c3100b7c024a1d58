"""What to do before pressing, and other light: what is kept, what it costs, when it comes back."""

from dataclasses import replace
from datetime import UTC, datetime, timedelta
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fotonomy.core.analysis.setup import analyse
from fotonomy.core.constants import EV_RANGE, TOLERABLE_WITHIN_STOPS
from fotonomy.core.day.next_light_window import light_again
from fotonomy.core.errors import RuleError
from fotonomy.core.field.checklist import checklist
from fotonomy.core.field.relight import (
    HIGHEST_THIRDS,
    LOWEST_THIRDS,
    MOST_WAYS,
    read_light,
    relit,
)
from fotonomy.core.gear.accessories import Heater
from fotonomy.core.gear.support import Support
from fotonomy.core.photometry.exposure_value import Ev100, ev100_of
from fotonomy.core.planner.relaxation import changes_to
from fotonomy.core.planner.search import Search
from fotonomy.core.sky.light import LightReading, PlaceLight
from fotonomy.core.spec.changes import applied
from fotonomy.core.spec.intent import Switch
from fotonomy.core.spec.kind import Kind
from fotonomy.core.spec.setup import FRAMING, Setup
from fotonomy.core.tone.signal_levels import percent_at
from fotonomy.sky.ephemeris import sky_over
from tests.core.examples import setup
from tests.core.run_examples import burst, interval, long_exposure
from tests.properties import examples

# The exposure of the plain example, so that it has no miss of its own.
LIT = 11.3


def lit(**changes: Any) -> Setup:
    return setup(light=Ev100(LIT), **changes)


def words(spec: Setup) -> dict[str, str]:
    return {check.id: check.words for check in checklist(analyse(spec))}


def test_the_checks_of_a_film() -> None:
    found = words(setup())
    assert found["lens"] == "lens wiped"
    assert found["white"] == "white locked at 5600 K"
    assert found["rate"].startswith("25 fps")
    assert found["glass"] == "on the lens: 0.9, Ring 67 to 77"
    assert "zebras" in found
    assert not {"drive", "battery", "noise", "test", "remote"} & set(found)
    level = analyse(setup()).level
    assert level.zebra_one.brief in found["zebras"]
    assert "Flat" in found["zebras"]
    assert "glass" not in words(setup(nd_density=0.0))


@pytest.mark.parametrize(
    ("support", "switch", "said"),
    [(Support.TRIPOD, Switch.AS_USUAL, "off"), (Support.HAND, Switch.AS_USUAL, "on"),
     (Support.TRIPOD, Switch.ON, "on"), (Support.HAND, Switch.OFF, "off")],
)  # fmt: skip
def test_the_stabiliser_is_as_meant(support: Support, switch: Switch, said: str) -> None:
    plain = setup(support=support)
    spec = replace(
        plain, intent=replace(plain.intent, stabiliser=switch),
        body=replace(plain.body, stabiliser_stops=5.0),
    )  # fmt: skip
    assert words(spec)["stabiliser"] == f"stabiliser {said}"
    without = replace(spec, body=replace(plain.body, stabiliser_stops=0.0))
    assert "stabiliser" not in words(without)


def test_the_checks_of_single_pictures() -> None:
    run = words(interval())
    assert run["drive"] == "drive on single, review and beeps off"
    assert run["remote"] == "Plain set and counted"
    assert {"battery", "tied", "focus", "test"} <= set(run)
    # Half a second has no noise frame; from a second on it is said how it is meant.
    assert "noise" not in run
    long = words(long_exposure())
    assert long["noise"] == "long-exposure noise reduction off"
    assert words(long_exposure(run={"noise_frames": True}))["noise"].endswith("on")
    assert "zebras" not in long
    assert words(burst())["drive"] == "drive at 12 a second"
    assert "heater" in words(interval(devices=(Heater(name="Sleeve", power_w=5),)))


def test_a_third_less_than_a_third_is_the_planned_light() -> None:
    spec = lit()
    planned = ev100_of(spec.light)
    for off in (0.0, 0.16, -0.16):
        found = relit(spec, planned + off)
        assert found.fits
        assert found.ways == ()
    assert not relit(spec, planned - 1).fits


def test_a_plan_that_misses_on_purpose_stays_in_its_own_light() -> None:
    bright = setup(light=Ev100(14.0))
    assert analyse(bright).budget.error_stops > 2
    assert relit(bright, 14.0).fits
    assert not relit(bright, 14.4).fits


@pytest.mark.parametrize("off", [-2.0, -1.0, 1.0, 2.0])
def test_each_way_gives_back_the_planned_exposure(off: float) -> None:
    spec = lit(held=frozenset(FRAMING))
    found = relit(spec, ev100_of(spec.light) + off)
    assert found.moved_stops == pytest.approx(off)
    assert 2 <= len(found.ways) <= MOST_WAYS
    there = replace(spec, light=Ev100(found.ev100))
    for way in found.ways:
        error = analyse(applied(there, way.changes)).budget.error_stops
        assert error == pytest.approx(way.left_stops)
        assert abs(error) <= TOLERABLE_WITHIN_STOPS + 0.02
    assert len({way.words for way in found.ways}) == len(found.ways)


def test_the_motion_is_left_alone_before_anything_else() -> None:
    found = relit(lit(held=frozenset(FRAMING)), 10.0)
    moved = [
        bool({c.setting for c in way.changes} & {"shutter", "frame_rate"}) for way in found.ways
    ]
    assert moved == sorted(moved)
    assert not moved[0]


def test_the_price_of_a_way_is_told() -> None:
    spec = lit(held=frozenset({*FRAMING, "iris", "shutter", "nd_density", "frame_rate"}))
    found = relit(spec, ev100_of(spec.light) - 1)
    iso = next(way for way in found.ways if way.words.startswith("ISO"))
    assert not iso.moves_held
    assert any("looks like ISO" in cost for cost in iso.costs)
    held = [way for way in found.ways if way.moves_held]
    assert held
    iris = next(way for way in held if way.words.startswith("f/"))
    assert any(cost.startswith("sharp") for cost in iris.costs)
    shutter = next(way for way in held if "shutter" in {c.setting for c in way.changes})
    # Twice as long open is twice the smear.
    assert any(cost == "smears 2 times as much" for cost in shutter.costs)


def test_where_no_setting_helps_it_says_so() -> None:
    found = relit(setup(), -6)
    assert found.hopeless
    assert found.left_stops < -TOLERABLE_WITHIN_STOPS
    assert not relit(setup(), 11).hopeless


@pytest.mark.parametrize("made", [lit, interval, burst, long_exposure])
def test_no_search_that_could_help_is_left_out(made: Any) -> None:
    for held in (frozenset(FRAMING), frozenset({*FRAMING, "iris", "shutter"})):
        spec = made(held=held)
        base = ev100_of(spec.light)
        for third in range(LOWEST_THIRDS, HIGHEST_THIRDS + 1, 3):
            there = replace(spec, light=Ev100(max(-6.0, base + third / 3)))
            best = Search(there).best()
            found = relit(spec, base + third / 3)
            if best is not None and changes_to(there, best.setup) and not found.fits:
                assert any(way.best for way in found.ways)


def test_light_beyond_any_scene_is_held_to_what_there_is() -> None:
    assert relit(setup(), 99).ev100 == EV_RANGE[1]
    assert relit(setup(), -99).ev100 == EV_RANGE[0]


@examples(40)
@given(
    thirds=st.integers(LOWEST_THIRDS, HIGHEST_THIRDS),
    made=st.sampled_from([setup, interval, burst, long_exposure]),
)
def test_any_light_has_ways_or_none(thirds: int, made: object) -> None:
    spec = made()  # type: ignore[operator]
    found = relit(spec, ev100_of(spec.light) + thirds / 3)
    assert found.fits or found.ways or found.hopeless
    assert not (found.fits and found.ways)
    for way in found.ways:
        assert way.words
        assert way.changes
        if not found.hopeless:
            assert abs(way.left_stops) <= TOLERABLE_WITHIN_STOPS + 0.02


@pytest.mark.parametrize(
    ("text", "ev"),
    [("2.3", 2.3), ("EV 9", 9.0), ("−1", 11.0), ("-1 1/3", 12 - 4 / 3), ("+2/3", 12 + 2 / 3),
     ("+1.5 stops", 13.5), ("− 2", 10.0), ("2500 lux", 9.97), ("f/4 1/60 ISO 400", 7.91)],
)  # fmt: skip
def test_light_as_people_read_it(text: str, ev: float) -> None:
    # 2500 lux over 2.5 is 2^9.97; f/4 at 1/60 and ISO 400: log2(16·60/4) = 7.91.
    assert read_light(setup(), text) == pytest.approx(ev, abs=0.01)


@pytest.mark.parametrize(
    "text", ["", "bright", "+", "−40", "+x", "face 38 %", "120 %", "0.1 %", "−1 1/7", "%"]
)
def test_readings_that_are_none(text: str) -> None:
    with pytest.raises(RuleError) as error:
        read_light(setup(), text)
    assert error.value.field == "light"


def test_a_level_at_the_planned_settings_is_a_reading() -> None:
    spec = setup()
    level = analyse(spec).level
    profile = spec.recorded_profile
    for off in (-1.5, -0.5, 0.5):
        reads = percent_at(profile, level.key.placed_stops + off)
        found = read_light(spec, f"{reads:.4f} %")
        assert found - ev100_of(spec.light) == pytest.approx(off, abs=0.01)
        named = read_light(spec, f"{level.key.name} reads {reads:.4f} %")
        assert named == pytest.approx(found, abs=0.001)


NOON = datetime(2027, 6, 5, 2, tzinfo=UTC)
SKY = sky_over(-43.12, 147.05, 0, NOON - timedelta(hours=12), 2160)


def test_when_the_planned_light_is_there_again() -> None:
    light = PlaceLight(SKY)
    wanted = light.at(NOON + timedelta(hours=4)).ev100
    found = light_again(light, wanted, NOON, NOON + timedelta(hours=8))
    assert found is not None
    assert found.starts <= NOON + timedelta(hours=4) <= found.ends
    for moment in (found.starts, found.ends):
        assert light.at(moment).ev100 == pytest.approx(wanted, abs=1 / 3 + 0.02)
    assert light_again(light, wanted, NOON, NOON + timedelta(hours=1)) is None
    assert light_again(light, 18, NOON, NOON + timedelta(hours=8)) is None
    assert light_again(light, wanted, NOON, NOON) is None
    # A reading a stop under the estimate: the same light is there earlier in the afternoon.
    reading = LightReading.under(SKY, NOON, light.at(NOON).ev100 - 1)
    bent = light_again(replace(light, readings=(reading,)), wanted, NOON, NOON + timedelta(hours=8))
    assert bent is not None
    assert bent.starts < found.starts


def test_the_kinds_have_their_checks() -> None:
    assert "focus" in words(setup(kind=Kind.MACRO))
    assert "test" in words(setup(kind=Kind.NIGHT))
    assert "focus" not in words(setup(kind=Kind.NIGHT))
