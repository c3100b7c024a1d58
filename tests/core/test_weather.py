"""The weather: dew and wind against tables, hours between reports, advice by kind, findings."""

from dataclasses import replace
from datetime import UTC, datetime, timedelta
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from fotonomy.core.day.advice import Exposed, Verdict, advice, sends_home
from fotonomy.core.day.conflicts import conflicts
from fotonomy.core.day.day_plan import DayPlan, Spot
from fotonomy.core.day.windows import CannotSayError, Wish, windows
from fotonomy.core.errors import RuleError
from fotonomy.core.gear.accessories import Heater
from fotonomy.core.gear.support import Support
from fotonomy.core.parsing.weather import READ, format_value
from fotonomy.core.plan import plan
from fotonomy.core.sky.horizon import Horizon
from fotonomy.core.sky.light import PlaceLight, cloud_stops
from fotonomy.core.sky.track import Stretch
from fotonomy.core.spec.kind import Kind
from fotonomy.core.spec.schedule import Schedule, Wanted
from fotonomy.core.weather.air import beaufort, beaufort_words, dew_point_c, humidity_percent
from fotonomy.core.weather.report import MOST_HOURS, Report, Source, Spell, Weather
from fotonomy.simulators.weather_service import SimulatedWeather
from fotonomy.sky.ephemeris import sky_over
from tests.core.examples import has_reason_number_and_fix, setup
from tests.core.run_examples import interval
from tests.core.test_day import block

NOON = datetime(2027, 6, 5, 2, tzinfo=UTC)


def report(hours: float, **values: Any) -> Report:
    return Report(
        at=NOON + timedelta(hours=hours), source=Source.TYPED, kept_at=NOON, **values
    )  # fmt: skip


def spell(**values: Any) -> Spell:
    plain: dict[str, Any] = dict.fromkeys(
        ("oktas", "most_oktas", "rain_percent", "lowest_c", "dew_spread_c", "wind_m_s", "gust_m_s")
    )
    return Spell(source=Source.TYPED, **{**plain, **values})


def weather_from(**values: Any) -> Weather:
    """The same weather from before dawn to the next morning."""
    return Weather(tuple(report(hours, **values) for hours in range(-12, 25, 3)))


@pytest.mark.parametrize(
    ("air", "wet", "dew"),
    # The first from WMO-No. 8's formula by hand; the others from printed psychrometric tables,
    # from memory, to a tenth or two.
    [(10, 80, 6.7), (20, 50, 9.3), (30, 70, 23.9), (25, 40, 10.5), (0, 100, 0.0), (-5, 90, -6.4)],
)
def test_dew_points(air: float, wet: float, dew: float) -> None:
    assert dew_point_c(air, wet) == pytest.approx(dew, abs=0.15)
    assert humidity_percent(air, dew_point_c(air, wet)) == pytest.approx(wet, abs=1e-6)


def test_air_without_water_has_no_dew_point() -> None:
    with pytest.raises(RuleError) as error:
        dew_point_c(10, 0)
    assert error.value.field == "humidity_percent"
    assert humidity_percent(10, 12) == 100


@pytest.mark.parametrize(
    ("wind", "force", "words"),
    # WMO's table of Beaufort forces, from memory: each at its lowest and just under it.
    [(0, 0, "calm"), (0.29, 0, "calm"), (0.3, 1, "light air"), (1.6, 2, "light breeze"),
     (3.4, 3, "gentle breeze"), (5.49, 3, "gentle breeze"), (5.5, 4, "moderate breeze"),
     (8.0, 5, "fresh breeze"), (10.8, 6, "strong breeze"), (13.9, 7, "near gale"),
     (17.2, 8, "gale"), (20.8, 9, "strong gale"), (24.5, 10, "storm"),
     (28.5, 11, "violent storm"), (32.7, 12, "hurricane"), (60, 12, "hurricane")],
)  # fmt: skip
def test_beaufort(wind: float, force: int, words: str) -> None:
    assert beaufort(wind) == force
    assert beaufort_words(wind) == words


def test_between_two_reports_values_go_in_a_line() -> None:
    known = Weather((report(0, oktas=2, wind_m_s=4), report(3, oktas=8), report(6, oktas=8)))
    at = NOON.timestamp() + 3600 * np.array([0.0, 1.5, 3.0, 6.0, 9.0, 9.1, -3.1])
    found = known.values("oktas", at)
    assert found[:5] == pytest.approx([2, 5, 8, 8, 8])
    assert np.isnan(found[5:]).all()
    # A value reaches three hours from the report that says it, whatever other reports say.
    assert np.isnan(known.values("wind_m_s", at)[3])
    assert known.values("wind_m_s", at)[2] == 4


def test_a_gap_of_many_hours_stays_open() -> None:
    known = Weather((report(0, oktas=2), report(12, oktas=8)))
    found = known.values("oktas", NOON.timestamp() + 3600 * np.array([3.0, 4.0, 8.0, 9.0]))
    assert np.isnan(found[1:3]).all()
    assert not np.isnan(found[[0, 3]]).any()


def test_a_spell_says_the_worst() -> None:
    known = Weather((
        report(0, oktas=2, rain_percent=0, temperature_c=8, humidity_percent=80, wind_m_s=3),
        report(1, oktas=6, rain_percent=60, temperature_c=4, humidity_percent=98, wind_m_s=9),
        report(2, oktas=4, rain_percent=10, temperature_c=6, humidity_percent=80, wind_m_s=4),
    ))  # fmt: skip
    found = known.spell(Stretch(NOON, NOON + timedelta(hours=2)))
    assert found is not None
    assert (found.rain_percent, found.lowest_c, found.wind_m_s) == (60, 4, 9)
    assert found.most_oktas == 6
    assert found.oktas == pytest.approx(4.5, abs=0.1)
    assert found.dew_spread_c == pytest.approx(4 - float(dew_point_c(4, 98)), abs=0.01)
    assert found.gust_m_s is None
    assert found.source is Source.TYPED
    half = known.spell(Stretch(NOON, NOON + timedelta(minutes=30)))
    assert half is not None
    assert half.rain_percent == pytest.approx(30, abs=3)


def test_a_spell_outside_what_is_known() -> None:
    known = Weather((report(0, oktas=2),))
    far = NOON + timedelta(hours=5)
    assert known.spell(Stretch(far, far + timedelta(hours=1))) is None
    before = NOON - timedelta(hours=9)
    assert known.spell(Stretch(before, before + timedelta(hours=1))) is None
    assert Weather(()).spell(Stretch(NOON, far)) is None
    # A report speaks for three hours before it as well.
    early = known.spell(Stretch(NOON - timedelta(hours=2), NOON - timedelta(hours=1)))
    assert early is not None
    assert early.oktas == 2


def test_reports_are_held_to_their_rules() -> None:
    with pytest.raises(RuleError) as error:
        report(0, oktas=9)
    assert error.value.field == "oktas"
    with pytest.raises(RuleError):
        report(0, humidity_percent=0)
    with pytest.raises(RuleError):
        Report(at=NOON.replace(tzinfo=None), source=Source.TYPED, kept_at=NOON)
    with pytest.raises(RuleError):
        Weather((report(1, oktas=1), report(0, oktas=1)))
    with pytest.raises(RuleError):
        Weather(tuple(report(at / 10, oktas=1) for at in range(MOST_HOURS + 1)))


def test_new_reports_take_the_place_of_old_ones() -> None:
    known = Weather((report(0, oktas=2), report(3, oktas=4)))
    after = known.with_reports([report(3, oktas=7), report(1, wind_m_s=2), report(0)])
    assert [(one.at - NOON).total_seconds() / 3600 for one in after.reports] == [1, 3]
    assert after.reports[1].oktas == 7


STARS = Exposed(kind=Kind.INTERVAL, stars=True, alone=True, planned_c=10)
FILM = Exposed(kind=Kind.REAL_TIME, tripod=False)
DRONE = Exposed(kind=Kind.AERIAL, tripod=False, flies=True)


# Thresholds of the trade: common practice, no source.
@pytest.mark.parametrize(
    ("exposed", "values", "said"),
    [
        (STARS, {"oktas": 2.0}, []),
        (STARS, {"oktas": 2.1}, [("weather.stars", Verdict.COME_BACK)]),
        (STARS, {"rain_percent": 4.9}, []),
        (STARS, {"rain_percent": 5.0}, [("weather.rain_alone", Verdict.MIND)]),
        (STARS, {"rain_percent": 30.0}, [("weather.rain_alone", Verdict.COME_BACK)]),
        (Exposed(kind=Kind.INTERVAL, stars=True), {"rain_percent": 5.0},
         [("weather.rain_alone", Verdict.MIND)]),
        (Exposed(kind=Kind.INTERVAL), {"rain_percent": 5.0}, []),
        # From 20 °C on batteries give all they have.
        (Exposed(kind=Kind.INTERVAL, planned_c=30), {"lowest_c": 21.0}, []),
        (STARS, {"wind_m_s": 5.4}, []),
        (STARS, {"wind_m_s": 5.5}, [("weather.wind", Verdict.MIND)]),
        (STARS, {"wind_m_s": 10.8}, [("weather.wind_run", Verdict.COME_BACK)]),
        (STARS, {"dew_spread_c": 2.1}, []),
        (STARS, {"dew_spread_c": 2.0}, [("weather.dew", Verdict.MIND)]),
        (STARS, {"lowest_c": 9.0}, []),
        (STARS, {"lowest_c": 7.9}, [("weather.cold", Verdict.MIND)]),
        (FILM, {"rain_percent": 29.0, "oktas": 8.0, "wind_m_s": 12.0, "dew_spread_c": 0.0}, []),
        (FILM, {"rain_percent": 30.0}, [("weather.rain", Verdict.KEEP)]),
        (DRONE, {"rain_percent": 29.0, "wind_m_s": 7.9}, []),
        (DRONE, {"rain_percent": 30.0}, [("weather.rain_flight", Verdict.COME_BACK)]),
        (DRONE, {"wind_m_s": 8.0}, [("weather.wind_flight", Verdict.COME_BACK)]),
        (DRONE, {"wind_m_s": 4.0, "gust_m_s": 9.0}, [("weather.wind_flight", Verdict.COME_BACK)]),
        (Exposed(kind=Kind.MACRO, tripod=False), {"wind_m_s": 3.4},
         [("weather.wind_macro", Verdict.MIND)]),
        (Exposed(kind=Kind.MACRO, tripod=False), {"wind_m_s": 3.3}, []),
        (Exposed(kind=Kind.REAL_TIME, wants=Wanted.GOLDEN), {"oktas": 3.9}, []),
        (Exposed(kind=Kind.REAL_TIME, wants=Wanted.GOLDEN), {"oktas": 4.0},
         [("weather.broken", Verdict.MIND)]),
        (Exposed(kind=Kind.REAL_TIME, wants=Wanted.SUN_BEHIND), {"oktas": 7.0},
         [("weather.sun", Verdict.COME_BACK)]),
        (Exposed(kind=Kind.REAL_TIME, wants=Wanted.MOONLIGHT), {"oktas": 7.0},
         [("weather.moon", Verdict.COME_BACK)]),
        (Exposed(kind=Kind.REAL_TIME, wants=Wanted.BLUE), {"oktas": 7.0},
         [("weather.blue", Verdict.MIND)]),
        (Exposed(kind=Kind.REAL_TIME, wants=Wanted.SHADE), {"oktas": 7.0},
         [("weather.soft", Verdict.KEEP)]),
        (Exposed(kind=Kind.DUSK_FOR_NIGHT), {"oktas": 7.0}, [("weather.soft", Verdict.KEEP)]),
        (Exposed(kind=Kind.DUSK_FOR_NIGHT), {"oktas": 6.9}, []),
        (Exposed(kind=Kind.NIGHT), {"dew_spread_c": 1.0}, [("weather.dew", Verdict.MIND)]),
        (Exposed(kind=Kind.NIGHT, warmed=True), {"dew_spread_c": 1.0}, []),
        (Exposed(kind=Kind.SLOW_MOTION), {"dew_spread_c": 1.0}, []),
        (Exposed(kind=Kind.NIGHT), {"wind_m_s": 10.8}, [("weather.wind", Verdict.MIND)]),
        (Exposed(kind=Kind.LONG_EXPOSURE), {"wind_m_s": 10.8},
         [("weather.wind_run", Verdict.COME_BACK)]),
    ],
)  # fmt: skip
def test_advice(exposed: Exposed, values: dict[str, float], said: Any) -> None:
    found = advice(exposed, spell(**values))
    assert [(one.id, one.verdict) for one in found] == said
    assert sends_home(exposed, spell(**values)) == any(v is Verdict.COME_BACK for _, v in said)
    for one in found:
        assert one.why
        assert one.remedy
        assert one.unit


def test_what_of_a_setup_the_weather_gets_at() -> None:
    plain = Exposed.of(setup())
    assert (plain.stars, plain.alone, plain.flies, plain.planned_c) == (False, False, False, None)
    assert Exposed.of(setup(schedule=Schedule(wants=Wanted.MOONLESS))).stars
    assert Exposed.of(interval(run={"declination_deg": -30.0})).stars
    run = Exposed.of(interval(run={"temperature_c": 4.0}, schedule=Schedule(unattended=True)))
    assert (run.alone, run.planned_c, run.tripod, run.warmed) == (True, 4.0, True, False)
    assert Exposed.of(setup(kind=Kind.AERIAL)).flies
    assert Exposed.of(setup(support=Support.DRONE)).flies
    assert not Exposed.of(setup(support=Support.HAND)).tripod


def test_nothing_known_advises_nothing() -> None:
    for exposed in (STARS, FILM, DRONE):
        assert advice(exposed, spell()) == ()
    assert not sends_home(STARS, None)


def test_a_slippery_road_is_said() -> None:
    (said,) = advice(Exposed(kind=Kind.ROLLING), spell(rain_percent=60.0))
    assert said.verdict is Verdict.KEEP
    assert "slippery" in said.why


values = st.fixed_dictionaries({
    "oktas": st.none() | st.floats(0, 8), "rain_percent": st.none() | st.floats(0, 100),
    "lowest_c": st.none() | st.floats(-60, 60), "dew_spread_c": st.none() | st.floats(0, 40),
    "wind_m_s": st.none() | st.floats(0, 100),
})  # fmt: skip
exposures = st.builds(
    Exposed, kind=st.sampled_from(Kind), wants=st.sampled_from(Wanted), stars=st.booleans(),
    alone=st.booleans(), tripod=st.booleans(), flies=st.booleans(), warmed=st.booleans(),
    planned_c=st.none() | st.floats(-60, 60),
)  # fmt: skip


@given(exposed=exposures, known=values)
def test_worse_weather_never_calls_people_back_in(exposed: Exposed, known: Any) -> None:
    worse = dict(known)
    for name, by in (("rain_percent", 1.5), ("wind_m_s", 1.5)):
        if worse[name] is not None:
            worse[name] *= by
    if sends_home(exposed, spell(**known)):
        assert sends_home(exposed, spell(**worse))
    order = [one.verdict for one in advice(exposed, spell(**known))]
    assert order == sorted(order, key=[Verdict.COME_BACK, Verdict.MIND, Verdict.KEEP].index)


SKY = sky_over(-43.12, 147.05, 0, NOON - timedelta(hours=12), 2160)


def test_cloud_moves_the_estimate() -> None:
    clear, cloudy = PlaceLight(SKY), PlaceLight(SKY, oktas=weather_from(oktas=7).over(SKY))
    took = clear.at(NOON).ev100 - cloudy.at(NOON).ev100
    # Kasten and Czeplak by hand: log2(1 / (1 - 0.75·(7/8)^3.4)) = log2(1 / 0.5237) = 0.933.
    assert took == pytest.approx(0.933, abs=0.002)
    # Where the cloud is not known the sky is taken as clear.
    later = NOON + timedelta(hours=23)
    some = PlaceLight(SKY, oktas=Weather((report(0, oktas=8),)).over(SKY))
    assert some.at(NOON).ev100 == pytest.approx(clear.at(NOON).ev100 - float(cloud_stops(8)))
    assert some.at(later).ev100 == pytest.approx(clear.at(later).ev100)
    assert np.isfinite(some.over().ev100).all()


def test_overcast_has_hours_once_the_cloud_is_known() -> None:
    wish = Wish(wanted=Wanted.OVERCAST)
    with pytest.raises(CannotSayError, match="weather"):
        windows(wish, PlaceLight(SKY), Horizon())
    known = Weather((report(0, oktas=8), report(3, oktas=8)))
    with pytest.raises(CannotSayError, match="weather"):
        windows(wish, PlaceLight(SKY, oktas=Weather(()).over(SKY)), Horizon())
    (found,) = windows(wish, PlaceLight(SKY, oktas=known.over(SKY)), Horizon())
    assert abs(found.starts - (NOON - timedelta(hours=3))) < timedelta(minutes=1)
    # The sun sets at 16:44 (ephem), before the report's six o'clock end.
    assert abs((found.ends - datetime(2027, 6, 5, 6, 44, tzinfo=UTC)).total_seconds()) < 120


def day_with(weather: Weather | None, **changes: Any) -> DayPlan:
    one = block(
        1, None, rolls=NOON, exposed=Exposed(kind=Kind.AERIAL, flies=True),
        windows=(Stretch(NOON - timedelta(hours=6), NOON + timedelta(hours=6)),), **changes,
    )  # fmt: skip
    spot = Spot("jetty", SKY, Horizon(), (), weather)
    hours = Stretch(NOON - timedelta(hours=5), NOON + timedelta(hours=8))
    return DayPlan((one,), {1: spot}, lambda a, b: 0.0, hours, lambda when: f"{when:%H:%M}")


def test_come_back_when_the_wind_is_down() -> None:
    calms = Weather((report(0, wind_m_s=12), report(2, wind_m_s=10), report(4, wind_m_s=2)))
    (found,) = conflicts(day_with(calms))
    assert found.id == "weather.wind_flight"
    assert not found.grave
    assert "(typed)" in found.why
    (way,) = found.moves
    assert way.rolls is not None
    # From 10 m/s at two hours to 2 at four: 8 are reached half an hour after two.
    assert way.rolls == NOON + timedelta(hours=2, minutes=40)
    assert conflicts(day_with(weather_from(wind_m_s=2))) == ()
    assert conflicts(day_with(None)) == ()


@pytest.mark.parametrize(
    ("light_until", "wrap"), [(2.5, 8.0), (6.0, 2.5)], ids=["its light ends", "people go home"]
)
def test_a_better_hour_lies_in_its_light_and_in_the_day(light_until: float, wrap: float) -> None:
    calms = Weather((report(0, wind_m_s=12), report(2, wind_m_s=10), report(4, wind_m_s=2)))
    plan = day_with(calms)
    (one,) = plan.blocks
    until = NOON + timedelta(hours=light_until)
    one = replace(one, windows=(Stretch(NOON - timedelta(hours=6), until),))
    hours = Stretch(plan.hours.starts, NOON + timedelta(hours=wrap))
    (found,) = conflicts(replace(plan, blocks=(one,), hours=hours))
    assert found.moves == ()


def test_no_hour_of_the_day_is_better() -> None:
    (found,) = conflicts(day_with(weather_from(wind_m_s=12)))
    assert found.moves == ()
    assert "No hour of its light on this day is better" in found.why


def starry(**changes: Any) -> Any:
    night = datetime(2027, 6, 5, 12, tzinfo=UTC)
    return interval(starts=night, schedule=Schedule(unattended=True), **changes)


def found_in(made: Any) -> dict[str, Any]:
    return {one.id: one for one in plan(made).findings if one.id.startswith("weather.")}


def test_findings_of_the_weather_have_reason_number_and_fix() -> None:
    bad = weather_from(
        rain_percent=60, wind_m_s=7, temperature_c=-8, humidity_percent=97, oktas=7
    )  # fmt: skip
    found = found_in(starry(weather=bad))
    assert {"weather.rain_alone", "weather.wind", "weather.dew", "weather.cold"} <= set(found)
    for name, number in (("rain_alone", 60), ("wind", 7)):
        one = found[f"weather.{name}"]
        assert one.number == number
        # Something to be got, not set.
        assert [(fix.changes, bool(fix.label)) for fix in one.fixes] == [((), True)]
    has_reason_number_and_fix(found["weather.cold"], -8)
    assert found["weather.cold"].fixes[0].label == "plan for −8 °C"
    assert all("(typed)" in one.why for one in found.values())
    assert found_in(starry()) == {}


def test_a_heater_at_hand_is_the_way_out_of_dew() -> None:
    damp = weather_from(temperature_c=5, humidity_percent=97)
    heater = Heater(name="Sleeve", power_w=5)
    offered = found_in(starry(weather=damp, packed_devices=(heater,)))["weather.dew"].fixes[0]
    assert offered.label == "take Sleeve"
    assert offered.changes[0].value[-1] == "Sleeve"
    assert "weather.dew" not in found_in(starry(weather=damp, devices=(heater,)))


def test_colder_batteries_are_planned_anew() -> None:
    made = starry(weather=weather_from(temperature_c=-8.4))
    (change,) = found_in(made)["weather.cold"].fixes[0].changes
    assert (change.setting, change.value) == ("temperature_c", -9.0)


def test_welcome_rain_is_no_finding_and_no_hour_has_no_weather() -> None:
    wet = weather_from(rain_percent=80)
    assert found_in(setup(starts=NOON, weather=wet)) == {}
    assert found_in(setup(weather=weather_from(wind_m_s=20), support=Support.TRIPOD)) == {}
    assert "weather.wind" in found_in(
        setup(starts=NOON, weather=weather_from(wind_m_s=20), support=Support.TRIPOD)
    )


@pytest.mark.parametrize(
    ("name", "text", "value"),
    [("oktas", "5", 5), ("oktas", "5/8", 5), ("oktas", "50 %", 4), ("oktas", "Overcast", 8),
     ("oktas", "broken", 6), ("oktas", "0", 0), ("rain_percent", "40 %", 40),
     ("humidity_percent", "88", 88), ("temperature_c", "-3", -3), ("temperature_c", "46 F", 7.8),
     ("temperature_c", "8 °C", 8), ("temperature_c", "−4,5", -4.5), ("wind_m_s", "20 km/h", 5.56),
     ("wind_m_s", "10 kn", 5.14), ("gust_m_s", "12 mph", 5.36), ("wind_m_s", "6", 6)],
)  # fmt: skip
def test_the_weather_as_typed(name: str, text: str, value: float) -> None:
    assert READ[name](text) == pytest.approx(value, abs=0.006)


@pytest.mark.parametrize(
    ("name", "text"),
    [("oktas", "9"), ("oktas", "-1"), ("oktas", "cloudy"), ("oktas", "101 %"),
     ("rain_percent", "101"), ("humidity_percent", "0"), ("temperature_c", "200 F"),
     ("temperature_c", "F"), ("temperature_c", "warm"), ("wind_m_s", "-2"), ("gust_m_s", "300")],
)  # fmt: skip
def test_weather_that_cannot_be(name: str, text: str) -> None:
    with pytest.raises(RuleError) as error:
        READ[name](text)
    assert error.value.field == name
    assert len(error.value.rule) > 10


def test_a_field_shows_what_it_reads() -> None:
    assert format_value(None) == ""
    assert READ["temperature_c"](format_value(-4.5)) == -4.5


WEEK = SimulatedWeather().forecast(-43.12, 147.05, 4, NOON, 24 * 60, NOON)


def test_simulated_weather_is_the_same_each_time_and_marked() -> None:
    again = SimulatedWeather().forecast(-43.12, 147.05, 4, NOON, 24 * 60, NOON)
    assert again == WEEK
    assert {one.source for one in WEEK} == {Source.SIMULATED}
    other = SimulatedWeather(seed=1).forecast(-43.12, 147.05, 4, NOON, 24 * 60, NOON)
    assert [one.oktas for one in other] != [one.oktas for one in WEEK]
    # A place near by has the same sky, one far off has another.
    near = SimulatedWeather().forecast(-43.13, 147.06, 4, NOON, 72, NOON)
    far = SimulatedWeather().forecast(-33.13, 117.06, 4, NOON, 24 * 60, NOON)
    assert [one.oktas for one in near] == [one.oktas for one in WEEK[: len(near)]]
    assert [one.oktas for one in far] != [one.oktas for one in WEEK]


def test_simulated_weather_runs_on_over_days() -> None:
    tail = SimulatedWeather().forecast(-43.12, 147.05, 4, NOON + timedelta(days=2), 24, NOON)
    assert [one.oktas for one in tail] == [one.oktas for one in WEEK[16 : 16 + len(tail)]]


def test_simulated_weather_is_plausible() -> None:
    cloud = np.array([one.oktas for one in WEEK])
    assert 2 < cloud.mean() < 6
    assert (cloud <= 1).mean() > 0.1
    assert (cloud >= 7).mean() > 0.1
    # Three hours change the sky by a few eighths, seldom by all of it.
    assert np.abs(np.diff(cloud)).mean() < 2.5
    for one in WEEK:
        oktas, rain, wind, gust = (
            getattr(one, name) for name in ("oktas", "rain_percent", "wind_m_s", "gust_m_s")
        )
        assert rain == 0 or oktas >= 4
        assert gust >= wind
    air = np.array([one.temperature_c for one in WEEK]).reshape(-1)
    local = np.array([(one.at + timedelta(hours=147.05 / 15)).hour for one in WEEK])
    warm, cold = air[np.isin(local, (14, 15, 16))], air[np.isin(local, (2, 3, 4))]
    assert warm.mean() > cold.mean() + 2


def test_simulated_seasons_and_heights() -> None:
    def mean(lat: float, month: int, height: float = 0.0) -> float:
        starts = datetime(2027, month, 1, tzinfo=UTC)
        found = SimulatedWeather().forecast(lat, 10, height, starts, 24 * 28, NOON)
        return float(np.mean([one.temperature_c for one in found]))

    assert mean(50, 7) > mean(50, 1) + 8
    assert mean(-50, 1) > mean(-50, 7) + 8
    assert mean(0, 7) > mean(60, 7)
    assert mean(45, 7) == pytest.approx(mean(45, 7, 1000) + 6.5, abs=0.3)
