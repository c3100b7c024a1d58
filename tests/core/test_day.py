"""Windows of light against days worked out by hand, blocks, and what does not fit."""

from datetime import UTC, datetime, time, timedelta
from typing import Any
from zoneinfo import ZoneInfo

import pytest

from fotonomy.core.day.blocks import Block, moment_of, shoot_minutes, working_hours
from fotonomy.core.day.conflicts import conflicts
from fotonomy.core.day.day_plan import DayPlan, Spot, minutes_text
from fotonomy.core.day.direction import FieldOfView
from fotonomy.core.day.sun_on_subject import look_at
from fotonomy.core.day.travel_time import distance_m, way_minutes
from fotonomy.core.day.windows import CannotSayError, Wish, windows
from fotonomy.core.errors import RuleError
from fotonomy.core.parsing.schedule import (
    compass_point,
    format_looks,
    format_minutes,
    parse_hour,
    parse_looks,
    parse_prepare,
    parse_shoot,
)
from fotonomy.core.sky.horizon import Horizon, HorizonPoint
from fotonomy.core.sky.light import PlaceLight
from fotonomy.core.sky.track import Stretch
from fotonomy.core.spec.kind import Kind
from fotonomy.core.spec.schedule import Schedule, Wanted
from fotonomy.core.spec.setup import Site
from fotonomy.sky.ephemeris import sky_over

HOBART = ZoneInfo("Australia/Hobart")
MIDNIGHT = datetime(2027, 6, 5, tzinfo=HOBART)
SKY = sky_over(-43.12, 147.05, 0, MIDNIGHT, 2880)
LIGHT = PlaceLight(SKY)
FULL_MOON = datetime(2027, 6, 19, tzinfo=HOBART)


def clock(when: datetime) -> str:
    return f"{when.astimezone(HOBART):%H:%M}"


def hours_of(wish: Wish, light: PlaceLight = LIGHT, land: Horizon | None = None) -> list[str]:
    """The windows of the first day and its night, as the clock shows them."""
    found = windows(wish, light, land or Horizon())
    return [f"{clock(w.starts)} {clock(w.ends)}" for w in found
            if w.starts < MIDNIGHT + timedelta(hours=24)]  # fmt: skip


def near(found: list[str], wanted: list[str], minutes: float = 1.0) -> bool:
    def of(text: str) -> list[float]:
        return [60 * int(part[:2]) + int(part[3:]) for part in text.split()]

    return len(found) == len(wanted) and all(
        abs(a - b) <= minutes
        for one, other in zip(found, wanted, strict=True) for a, b in zip(of(one), of(other), strict=True)
    )  # fmt: skip


def test_windows_of_twilight_by_hand() -> None:
    # Sun over 43.12 S 147.05 E on 5 June 2027, by ephem 4 (heights of the centre): -18 at 05:53 and
    # 18:26, -6 at 07:03 and 17:16, -4 at 07:16 and 17:04, +6 at 08:21 and 15:58, rise 07:36, set
    # 16:44, -8 at 17:28.
    assert near(hours_of(Wish(wanted=Wanted.GOLDEN)), ["07:16 08:21", "15:58 17:04"])
    assert near(hours_of(Wish(wanted=Wanted.BLUE)), ["07:03 07:16", "17:04 17:16"])
    # Dusk is sinking light alone.
    assert near(hours_of(Wish(wanted=Wanted.DUSK)), ["16:44 17:28"])
    assert near(hours_of(Wish(wanted=Wanted.DARK)), ["00:00 05:53", "18:26 05:54"])
    assert near(hours_of(Wish(wanted=Wanted.SHADE)), ["08:21 15:58"])
    assert hours_of(Wish(wanted=Wanted.ANY)) == ["00:00 00:00"]
    # +10 at 15:30 and -12 at 17:52, both sinking, by the same.
    assert near(hours_of(Wish(wanted=Wanted.SUNSET)), ["15:30 17:52"])
    assert near(hours_of(Wish(wanted=Wanted.DAYLIGHT)), ["07:36 16:44"])
    assert near(hours_of(Wish(wanted=Wanted.NIGHT)), ["00:00 07:03", "17:16 07:04"])


def test_windows_of_the_moon() -> None:
    # New moon on 4 June 2027 at 19:40 UTC, full on 19 June at 00:44 UTC (United States Naval
    # Observatory, from memory): dark nights now, moonlight a fortnight later.
    assert near(hours_of(Wish(wanted=Wanted.MOONLESS)), ["00:00 05:53", "18:26 05:54"])
    assert hours_of(Wish(wanted=Wanted.MOONLIGHT)) == []
    # A quarter lit on 9 June and 23 degrees high at 19:00 (ephem): it bothers until it sets.
    quarter = PlaceLight(sky_over(-43.12, 147.05, 0, datetime(2027, 6, 9, tzinfo=HOBART), 1440))
    late = windows(Wish(wanted=Wanted.MOONLESS), quarter, Horizon())[-1]
    assert late.starts.astimezone(HOBART).hour >= 20
    assert windows(Wish(wanted=Wanted.MOONLIGHT), quarter, Horizon()) == ()
    full = PlaceLight(sky_over(-43.12, 147.05, 0, FULL_MOON, 1440))
    assert windows(Wish(wanted=Wanted.MOONLESS), full, Horizon()) == ()
    nights = windows(Wish(wanted=Wanted.MOONLIGHT), full, Horizon())
    assert sum(w.minutes for w in nights) > 500


def test_windows_of_the_milky_way() -> None:
    # Its centre culminates near midnight in June and stands at 90 - |43.12 - 29| = 76 degrees.
    found = hours_of(Wish(wanted=Wanted.MILKY_WAY))
    assert near(found, ["00:00 05:53", "18:26 05:54"])
    assert SKY.core.altitude_deg.max() == pytest.approx(75.9, abs=0.1)
    summer = PlaceLight(sky_over(-43.12, 147.05, 0, datetime(2027, 12, 26, tzinfo=HOBART), 1440))
    assert windows(Wish(wanted=Wanted.MILKY_WAY), summer, Horizon()) == ()


def test_windows_of_the_suns_side() -> None:
    # The sun rises at 59 degrees, stands at 0 (north) at 12:10 and sets at 301. A camera that looks
    # north has it behind the subject all day but for the ends that are more than 70 degrees off.
    assert near(hours_of(Wish(wanted=Wanted.SUN_BEHIND, looks_deg=0)), ["07:36 16:44"])
    assert near(hours_of(Wish(wanted=Wanted.SUN_FRONT, looks_deg=180)), ["08:48 15:32"], 12)
    # A camera that looks to 80 degrees has it behind until it is 70 off: at 10 degrees, 11:30, and at
    # its side until it is 135 off, after it has set (azimuths by ephem).
    assert near(hours_of(Wish(wanted=Wanted.SUN_BEHIND, looks_deg=80)), ["07:36 11:30"], 2)
    assert near(hours_of(Wish(wanted=Wanted.SUN_BESIDE, looks_deg=80)), ["11:30 16:10"], 30)
    morning = hours_of(Wish(wanted=Wanted.SUN_FRONT, looks_deg=230))
    assert morning[0].startswith("07:3")
    assert hours_of(Wish(wanted=Wanted.SUN_FRONT, looks_deg=0)) == []
    # Land of 60 degrees all round lets no sun in.
    walls = Horizon(tuple(HorizonPoint(az, 60) for az in (0, 90, 180, 270)))
    assert hours_of(Wish(wanted=Wanted.SUN_BEHIND, looks_deg=0), land=walls) == []


def test_windows_of_so_much_light() -> None:
    above = hours_of(Wish(wanted=Wanted.ABOVE, ev100=11.0))
    under = hours_of(Wish(wanted=Wanted.UNDER, ev100=11.0))
    assert len(above) == 1
    start, end = above[0].split()
    assert under[0].endswith(start)
    assert under[1].startswith(end)
    assert (
        LIGHT.at(MIDNIGHT + timedelta(hours=8, minutes=17)).ev100
        < 11
        < LIGHT.at(MIDNIGHT + timedelta(hours=8, minutes=20)).ev100
    )


def test_what_nobody_said_is_asked_for() -> None:
    with pytest.raises(CannotSayError, match="which way the camera looks"):
        windows(Wish(wanted=Wanted.SUN_BEHIND), LIGHT, Horizon())
    with pytest.raises(CannotSayError, match="weather"):
        windows(Wish(wanted=Wanted.OVERCAST), LIGHT, Horizon())
    cloudy = PlaceLight(SKY, oktas=8.0)
    assert near(hours_of(Wish(wanted=Wanted.OVERCAST), cloudy), ["07:36 16:44"])
    assert hours_of(Wish(wanted=Wanted.OVERCAST), PlaceLight(SKY, oktas=6.0)) == []


def test_a_fixed_hour() -> None:
    at = MIDNIGHT + timedelta(hours=9, minutes=30)
    assert hours_of(Wish(wanted=Wanted.FIXED, at=at)) == ["09:28 09:32"]
    assert hours_of(Wish(wanted=Wanted.FIXED, at=at, within_min=20)) == ["09:10 09:50"]


@pytest.mark.parametrize(
    ("at", "call", "wrap", "day"),
    [("07:30", "06:00", "20:00", 5), ("05:00", "06:00", "20:00", 5), ("01:30", "06:00", "02:00", 6),
     ("03:30", "06:00", "02:00", 6), ("04:30", "06:00", "02:00", 5), ("00:10", "16:00", "00:30", 6),
     ("23:00", "16:00", "00:30", 5), ("00:00", "06:00", "00:00", 6)],
)  # fmt: skip
def test_an_hour_after_midnight_belongs_to_the_night_before(
    at: str, call: str, wrap: str, day: int
) -> None:
    found = moment_of(MIDNIGHT, *(time.fromisoformat(text) for text in (at, call, wrap)))
    assert found.astimezone(HOBART).day == day
    assert clock(found) == at


def test_hours_over_a_change_of_clock() -> None:
    london = ZoneInfo("Europe/London")
    spring = datetime(2027, 3, 28, tzinfo=london)
    # 01:30 is left out that night: it is the hour later. The day from 0 to 12 has eleven hours.
    skipped = moment_of(spring, time(1, 30), time(6), time(20))
    assert f"{skipped.astimezone(london):%H:%M}" == "02:30"
    assert working_hours(spring, time(0), time(12)).minutes == 11 * 60
    assert (
        working_hours(datetime(2027, 10, 31, tzinfo=london), time(0), time(12)).minutes == 13 * 60
    )


def test_how_long_takes_last() -> None:
    assert shoot_minutes(Kind.INTERVAL, Schedule(), 1494) == 25
    assert shoot_minutes(Kind.REAL_TIME, Schedule(), 3600) == 20
    assert shoot_minutes(Kind.INTERVAL, Schedule(shoot_min=7), 1494) == 7


def test_ways() -> None:
    # A degree of latitude is 60 nautical miles, 111.2 km on a sphere of 6371 km.
    assert distance_m(Site(0, 0), Site(1, 0)) == pytest.approx(111_195, rel=1e-4)
    assert distance_m(Site(60, 0), Site(60, 1)) == pytest.approx(111_195 / 2, rel=1e-3)
    # 500 m is 650 m of way: ten minutes at 4 km/h; 20 km by car 39 minutes and ten to load.
    assert way_minutes(Site(0, 0), Site(500 / 111_195, 0)) == 10
    assert way_minutes(Site(0, 0), Site(20_000 / 111_195, 0)) == 49
    assert way_minutes(None, Site(0, 0)) == 0


def block(key: int, hour: float | None, **changes: Any) -> Block:
    schedule = Schedule(**changes.pop("schedule", {}))
    given: dict[str, Any] = {
        "name": f"{key}A", "kind": Kind.REAL_TIME, "place": 1, "body": "A", "lens": "35",
        "prepare_min": schedule.prepare_min, "shoot_min": 20, "windows": (), "wish": schedule.wants.label,
        "rolls": None if hour is None else (MIDNIGHT + timedelta(hours=hour)).astimezone(UTC),
    }  # fmt: skip
    return Block(key=key, schedule=schedule, **{**given, **changes})


def day_plan(*blocks: Block, open_hours: tuple[Stretch, ...] = (), way: float = 12) -> DayPlan:
    spots = {k: Spot(f"place {k}", SKY, Horizon(), open_hours if k == 1 else ()) for k in (1, 2)}
    return DayPlan(
        blocks, spots, lambda a, b: 0 if a == b else way,
        working_hours(MIDNIGHT, time(6), time(22)), clock,
    )  # fmt: skip


def found_in(*blocks: Block, **more: Any) -> dict[str, Any]:
    return {one.id: one for one in conflicts(day_plan(*blocks, **more))}


def window(low: float, high: float) -> Stretch:
    return Stretch(MIDNIGHT + timedelta(hours=low), MIDNIGHT + timedelta(hours=high))


def test_a_plain_day_has_no_conflict() -> None:
    assert found_in(block(1, 9), block(2, 10)) == {}
    assert found_in(block(1, None), block(2, None)) == {}


def test_outside_its_light() -> None:
    dusk = {"schedule": {"wants": Wanted.DUSK}, "windows": (window(16.75, 17.5),)}
    late = found_in(block(1, 17.25, **dusk))["window.outside"]
    assert late.number == pytest.approx(5)
    assert late.unit == "min"
    assert late.grave
    (move,) = late.moves
    assert clock(move.rolls) == "17:10"
    assert found_in(block(1, 17 + 10 / 60, **dusk)) == {}
    # A window that is too short for the takes is filled, and says so.
    short = found_in(block(1, 17.25, **{**dusk, "windows": (window(17, 17.2),)}))["window.outside"]
    assert short.moves[0].shoot_min == 12
    assert clock(short.moves[0].rolls) == "17:00"
    # Of two windows the nearest that is long enough.
    both = found_in(
        block(1, 12, **{**dusk, "windows": (window(6.5, 7), window(14, 14.1), window(17, 18))})
    )
    assert clock(both["window.outside"].moves[0].rolls) == "17:00"
    assert "window.none" in found_in(block(1, 12, **{**dusk, "windows": ()}))
    # Not known is not wrong; any light has no window.
    assert found_in(block(1, 12, **{**dusk, "windows": (), "cannot_say": "the weather"})) == {}


def test_a_fixed_hour_is_met_by_its_start_alone() -> None:
    fixed = {"schedule": {"wants": Wanted.FIXED}, "windows": (window(9.5 - 2 / 60, 9.5 + 2 / 60),)}
    assert found_in(block(1, 9.5, **fixed)) == {}
    assert clock(found_in(block(1, 9.75, **fixed))["window.outside"].moves[0].rolls) == "09:30"
    # Give or take a quarter: 09:44 is met, and 10:00 moves no farther than it has to.
    loose = {
        "schedule": {"wants": Wanted.FIXED, "wants_within_min": 15.0},
        "windows": (window(9.25, 9.75),),
    }
    assert found_in(block(1, 9 + 44 / 60, **loose)) == {}
    assert clock(found_in(block(1, 10, **loose))["window.outside"].moves[0].rolls) == "09:45"
    assert clock(found_in(block(1, 9, **loose))["window.outside"].moves[0].rolls) == "09:15"


def test_two_at_once() -> None:
    clash = found_in(block(1, 9), block(2, 9.25))["overlap"]
    # The second sets up from 09:05, the first is shot until 09:20.
    assert clash.number == pytest.approx(15)
    assert clock(clash.moves[0].rolls) == "09:30"
    assert found_in(block(1, 9), block(2, 9.5)) == {}
    # Another body alone is not enough: it has to be marked; and the same body never can.
    other = {"body": "B"}
    assert "overlap" in found_in(block(1, 9), block(2, 9.25, **other))
    beside = {"body": "B", "schedule": {"alongside": True}}
    assert found_in(block(1, 9), block(2, 9.25, **beside)) == {}
    assert "overlap" in found_in(block(1, 9), block(2, 9.25, schedule={"alongside": True}))
    # Beside each other means at one place.
    assert "overlap" in found_in(block(1, 9), block(2, 9.25, place=2, **beside))
    # An unattended run frees its people after five minutes, never its camera.
    alone = block(1, 9, shoot_min=240, schedule={"unattended": True})
    assert found_in(alone, block(2, 9.5, **other)) == {}
    assert "overlap" in found_in(alone, block(2, 11))


def test_the_way() -> None:
    short = found_in(block(1, 9), block(2, 9 + 35 / 60, place=2))["way"]
    # Shot until 09:20, set up from 09:25: five of the twelve minutes are there.
    assert short.number == pytest.approx(7)
    assert clock(short.moves[0].rolls) == "09:42"
    assert found_in(block(1, 9), block(2, 9.7, place=2)) == {}
    assert found_in(block(1, 9), block(2, 9 + 35 / 60, place=2), way=0) == {}


def test_call_wrap_and_a_closed_place() -> None:
    early = found_in(block(1, 6))["hours.call"]
    assert early.number == pytest.approx(10)
    assert clock(early.moves[0].rolls) == "06:10"
    assert not early.grave
    late = found_in(block(1, 22))["hours.wrap"]
    assert late.number == pytest.approx(20)
    assert clock(late.moves[0].rolls) == "21:40"
    closed = found_in(block(1, 12), open_hours=(window(8, 12),))["hours.closed"]
    assert closed.number == pytest.approx(20)
    assert found_in(block(1, 9), open_hours=(window(8, 12),)) == {}


def test_sun_in_the_lens_and_moon_over_stars() -> None:
    field = FieldOfView(54, 38)
    # At 15:20 the sun stands at 316 degrees, 11 high (ephem).
    inside = found_in(block(1, 15 + 1 / 3, looks_deg=305, field=field))["sun.picture"]
    assert not inside.grave
    assert found_in(block(1, 15 + 1 / 3, looks_deg=125, field=field)) == {}
    wanted = {"schedule": {"wants": Wanted.SUN_BEHIND}, "windows": (window(11, 17),)}
    assert found_in(block(1, 15 + 1 / 3, looks_deg=305, field=field, **wanted)) == {}
    assert found_in(block(1, 20, stars=True)) == {}
    spot = Spot("slip", sky_over(-43.12, 147.05, 0, FULL_MOON, 2880), Horizon())
    rolls = (FULL_MOON + timedelta(hours=21)).astimezone(UTC)
    plan = DayPlan((block(1, None, stars=True, rolls=rolls),), {1: spot}, lambda a, b: 0,
                   working_hours(FULL_MOON, time(6), time(23)), clock)  # fmt: skip
    moon = conflicts(plan)[0]
    assert moon.id == "moon"
    assert moon.number == pytest.approx(20)


def test_the_grave_come_first() -> None:
    found = conflicts(day_plan(block(1, 6), block(2, 9), block(3, 9.1)))
    assert [one.id for one in found] == ["overlap", "hours.call"]


def test_what_the_sun_does_to_a_picture() -> None:
    at = (MIDNIGHT + timedelta(hours=15, minutes=20)).astimezone(UTC)
    look = look_at(SKY, Horizon(), at, 305, FieldOfView(54, 38))
    assert look.up
    assert look.angle is not None
    assert look.angle.off_deg == pytest.approx(11.1, abs=0.1)
    assert look.in_picture is not None
    assert look.in_picture.starts <= at <= look.in_picture.ends
    # 1.8 m over the tangent of 11.2 degrees.
    assert look.shadow_m == pytest.approx(9.09, abs=0.05)
    night = look_at(SKY, Horizon(), MIDNIGHT, 305, FieldOfView(54, 38))
    assert not night.up
    assert night.shadow_m is None


def test_notation_of_the_schedule() -> None:
    assert [parse_looks(text) for text in ("305", "NW", "nnw", "360", "none", "12.5°")] == [
        305, 315, 337.5, 0, None, 12.5,
    ]  # fmt: skip
    assert [format_looks(v) for v in (305, None)] == ["305°", "none"]
    assert [compass_point(v) for v in (0, 11, 12, 305, 359)] == ["N", "N", "NNE", "NW", "N"]
    assert (parse_prepare("20"), parse_prepare("1 h 30 min"), parse_prepare("0")) == (20, 90, 0)
    assert (parse_shoot("as usual"), parse_shoot("45")) == (None, 45)
    assert (parse_hour("7:20"), parse_hour("none")) == (440, None)
    assert [format_minutes(v) for v in (20, 90, 0, None)] == [
        "20 min",
        "1 h 30 min",
        "0 min",
        "as usual",
    ]
    for parse, text in ((parse_looks, "north"), (parse_looks, "400"), (parse_hour, "25:00"),
                        (parse_prepare, "-5"), (parse_shoot, "2 d")):  # fmt: skip
        with pytest.raises(RuleError):
            parse(text)
    assert [minutes_text(v) for v in (0.2, 59.6, 61, 120)] == ["1 min", "1 h", "1 h 1 min", "2 h"]
