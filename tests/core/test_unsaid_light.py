"""Light that nobody said: a question and no verdict; what kinds want until somebody says it."""

from dataclasses import replace
from datetime import datetime
from typing import Any
from zoneinfo import ZoneInfo

import pytest

from fotonomy.core.analysis.kind_wants import (
    as_its_kind,
    lit_by_sky,
    usual_ev,
    usual_light,
    usual_light_for,
)
from fotonomy.core.analysis.setup import run_s
from fotonomy.core.day.blocks import BlockLight, ExposureReach
from fotonomy.core.day.outline import place_in, shot_of, told_run
from fotonomy.core.exposure.light_budget import light_budget
from fotonomy.core.notation.spoken import said_light
from fotonomy.core.photometry.exposure_value import Ev100
from fotonomy.core.plan import plan
from fotonomy.core.planner.exposure_reach import exposure_reach
from fotonomy.core.planner.presets import preset_for
from fotonomy.core.spec.changes import Change, applied
from fotonomy.core.spec.kind import Kind
from fotonomy.core.spec.schedule import Wanted
from fotonomy.core.spec.setup import SETTINGS, Setup
from fotonomy.core.spec.stills import LightPoint, Ramp, Run, TimeFor
from fotonomy.figures.lanes.light_budget import balance_words
from tests.core.examples import BODY, LENS, setup
from tests.core.run_examples import interval

DARK = {"light": Ev100(0.0), "iris": 22.0}


def unsaid(**changes: Any) -> Setup:
    return setup(light_said=False, **changes)


def test_nothing_is_found_about_a_light_that_nobody_said() -> None:
    said = plan(setup(**DARK))
    assert "exposure.under" in {one.id for one in said.findings}
    assert said.questions == ()
    open_one = plan(unsaid(**DARK))
    assert not [one.id for one in open_one.findings if one.family.of_light]
    (question,) = open_one.questions
    assert question.what == "Light not said yet"
    assert "EV 0" in question.why
    # What does not rest on the light is found as ever.
    slow = unsaid(iso=100, profile=replace(setup().profile, base_iso=(500,)))
    assert "iso.below_base" in {one.id for one in plan(slow).findings}


def test_saying_it_is_one_change_of_either_sort() -> None:
    (question,) = plan(unsaid()).questions
    (as_it_is,) = question.fixes
    assert applied(unsaid(), as_it_is.changes).light_said
    typed = applied(unsaid(), [Change("light", Ev100(9.0))])
    assert (typed.light, typed.light_said) == (Ev100(9.0), True)
    assert not applied(unsaid(), [Change("iris", 4.0)]).light_said


def test_a_run_whose_light_to_come_is_said_has_said_its_light() -> None:
    curve = (LightPoint(0.0, 8.0), LightPoint(600.0, 4.0))
    spec = interval(light_said=False)
    assert plan(spec).questions
    assert plan(replace(spec, run=replace(spec.run, light_curve=curve))).questions == ()


def test_a_guess_is_said_to_be_one() -> None:
    assert said_light(setup()) == "planned for EV 12"
    assert said_light(unsaid()) == "light not said yet, planned with EV 12"
    assert balance_words(light_budget(unsaid())).startswith("light not said yet: at EV 12 ")


@pytest.mark.parametrize(
    ("kind", "run", "light"),
    [
        (Kind.REAL_TIME, {}, Wanted.DAYLIGHT), (Kind.SLOW_MOTION, {}, Wanted.DAYLIGHT),
        (Kind.MACRO, {}, Wanted.DAYLIGHT), (Kind.BURST, {}, Wanted.DAYLIGHT),
        (Kind.NIGHT, {}, Wanted.NIGHT), (Kind.DUSK_FOR_NIGHT, {}, Wanted.DUSK),
        (Kind.INTERVAL, {}, Wanted.DAYLIGHT),
        (Kind.INTERVAL, {"declination_deg": 0.0}, Wanted.MOONLESS),
        (Kind.INTERVAL, {"ramp": Ramp.PLANNED}, Wanted.SUNSET),
        (Kind.INTERVAL, {"ramp": Ramp.FLOATING}, Wanted.SUNSET),
        (Kind.LONG_EXPOSURE, {}, Wanted.BLUE),
        (Kind.LONG_EXPOSURE, {"time_for": TimeFor.SILK}, Wanted.DAYLIGHT),
        (Kind.LONG_EXPOSURE, {"time_for": TimeFor.PAINTED}, Wanted.DARK),
    ],
)  # fmt: skip
def test_every_kind_wants_its_light(kind: Kind, run: dict[str, Any], light: Wanted) -> None:
    # Common practice, no source.
    assert usual_light_for(kind, Run(**run)) is light


def test_lamps_that_are_named_light_it_at_any_hour() -> None:
    assert usual_light(setup(mains_lamps=True)) is Wanted.ANY
    assert usual_light(setup(kind=Kind.NIGHT, mains_lamps=True)) is Wanted.NIGHT
    assert [lit_by_sky(one) for one in (
        setup(), setup(mains_lamps=True), setup(kind=Kind.NIGHT), interval(run={"declination_deg": 0.0}),
    )] == [True, False, False, True]  # fmt: skip


def test_a_light_that_nobody_said_follows_the_kind() -> None:
    def turned(was: Setup, **changes: Any) -> Setup:
        return as_its_kind(was, replace(was, **changes))

    wished = replace(setup().schedule, wants=Wanted.DAYLIGHT)
    day = unsaid(schedule=wished, light=Ev100(12.0))
    night = turned(day, kind=Kind.NIGHT)
    assert (night.light, night.schedule.wants) == (Ev100(6.0), Wanted.NIGHT)
    # What was said, or wished by hand, stays.
    metered = turned(replace(day, light_said=True), kind=Kind.NIGHT)
    assert metered.light == Ev100(12.0)
    golden = replace(day, schedule=replace(wished, wants=Wanted.GOLDEN))
    assert turned(golden, kind=Kind.NIGHT).schedule.wants is Wanted.GOLDEN
    assert usual_ev(interval(run={"declination_deg": 0.0})) == -6.0


def test_starting_points_of_stars_and_nights() -> None:
    # Common practice: stars wide open, as long as they stay points; a night street without ND.
    stars = preset_for(
        setup(light=Ev100(-6.0), run=Run(declination_deg=0.0)), Kind.INTERVAL, False
    ).setup
    assert stars.iris == LENS.widest_f
    assert stars.time_s >= 3
    assert stars.nd_density == 0
    street = preset_for(setup(light=Ev100(6.0)), Kind.NIGHT, True).setup
    assert street.nd_density == 0
    assert 180 <= street.shutter.degrees(25) <= 360


def test_what_a_line_of_an_outline_tells() -> None:
    def told(text: str) -> tuple[Any, ...]:
        shot = shot_of(text)
        return shot.kind, shot.time_for, shot.stars, shot.day_to_night, shot.wants

    usual = TimeFor.USUAL
    assert told("Stars over the mast") == (Kind.INTERVAL, usual, True, False, None)
    assert told("Milky Way, wide") == (Kind.INTERVAL, usual, True, False, Wanted.MILKY_WAY)
    assert told("Day to night over the yard") == (Kind.INTERVAL, usual, False, True, None)
    assert told("Waterfall") == (Kind.LONG_EXPOSURE, TimeFor.SILK, False, False, None)
    assert told("Light trails at the blue hour") == (
        Kind.LONG_EXPOSURE, TimeFor.TRAILS, False, False, Wanted.BLUE,
    )  # fmt: skip
    assert told("Interview at golden hour, medium") == (
        Kind.REAL_TIME, usual, False, False, Wanted.GOLDEN,
    )  # fmt: skip
    # A word inside another tells nothing.
    assert told("Starting the engine") == (Kind.REAL_TIME, usual, False, False, None)
    run = told_run(shot_of("Stars"), Run(declination_deg=-40.0, star_px=5.0))
    assert (run.declination_deg, run.star_px, run.ramp) == (0.0, 5.0, Ramp.FIXED)
    assert told_run(shot_of("Day to night"), Run()).ramp is Ramp.PLANNED


def test_a_scene_that_names_a_place_is_there() -> None:
    names = {1: "Tern Slip, mill", 2: "Tern Slip, yard", 3: "Outer jetty"}
    assert place_in(names, "Low water at the outer jetty") == 3
    assert place_in(names, "At the mill") == 1
    # The shot tells more than its scene; a word that two places have tells neither.
    assert place_in(names, "rope on the jetty", "At the mill") == 3
    assert place_in(names, "Tern Slip") is None
    assert place_in(names, "Millstone and the") is None
    assert place_in({}, "At the mill") is None


def test_how_far_the_gear_reaches_by_hand() -> None:
    # All held: one light balances it, a third of a stop either way.
    held = setup(held=frozenset(SETTINGS) | setup().held)
    reach = exposure_reach(held)
    assert reach is not None
    exact = 12.0 - light_budget(held).error_stops
    assert (reach.darkest_ev, reach.brightest_ev) == pytest.approx((exact - 0.36, exact + 0.36))
    assert reach.missed_stops(exact + 1.36) == pytest.approx(1.0)
    assert reach.missed_stops(exact - 2.36) == pytest.approx(-2.0)
    assert reach.missed_stops(exact) == 0
    # Free it opens to f/1.8, 360° at 25 fps and the person's ceiling.
    free = exposure_reach(setup())
    assert free is not None
    darkest = replace(held, iris=1.8, shutter=replace(held.shutter, angle_deg=360), iso=BODY.iso_ceiling,
                      nd_density=0.0, frame_rate=25)  # fmt: skip
    # 24 fps of this body are open 1/24 s: 0.06 stop more.
    assert free.darkest_ev == pytest.approx(
        12.0 - light_budget(darkest).error_stops - 0.36, abs=0.07
    )
    # Another hour, another light and another place are the same gear.
    assert exposure_reach(setup(light=Ev100(3.0))) == free


def test_a_block_past_its_reach() -> None:
    def missed(ev: float) -> float:
        return BlockLight(ev, True, ExposureReach(-2.0, 16.0)).missed_stops

    assert [missed(ev) for ev in (-2.0, 0.0, 16.0, 17.5, -6.0)] == [0, 0, 0, 1.5, -4.0]


def test_an_hour_that_comes_twice_is_said() -> None:
    # Hobart goes from UTC+11 to UTC+10 on Sunday 4 April 2027 at 03:00 (IANA time zone database):
    # 02:00 to 03:00 comes twice.
    zone = ZoneInfo("Australia/Hobart")

    def found(day: int, hour: int, minute: int) -> list[Any]:
        starts = datetime(2027, 4, day, hour, minute, tzinfo=zone)
        return [one for one in plan(setup(starts=starts)).findings if one.id == "light.hour_twice"]

    (finding,) = found(4, 2, 30)
    assert finding.what == "02:30 comes twice that night"
    assert finding.number == 1
    assert [fix.changes[0].value for fix in finding.fixes] == ["01:30", "03:30"]
    for day, hour, minute in ((4, 1, 59), (4, 3, 0), (3, 2, 30), (4, 12, 0)):
        assert found(day, hour, minute) == []
    # Put on in spring an hour is left out, and none comes twice.
    spring = datetime(2027, 10, 3, 2, 30, tzinfo=zone)
    assert "light.hour_twice" not in {one.id for one in plan(setup(starts=spring)).findings}


def test_a_starting_run_says_how_long_its_event_is() -> None:
    # 5 s at 25 fps are 125 frames, 124 intervals of 6 s; an hour stood there before.
    start = preset_for(setup(light=Ev100(12.0)), Kind.INTERVAL, False).setup
    assert start.run.event_s == pytest.approx(124 * 6.0)
    # One second of handles on screen at each end: 50 frames more are recorded.
    assert run_s(start) == pytest.approx(174 * 6.0, abs=6.0)
    assert run_s(setup()) == setup().run.event_s
