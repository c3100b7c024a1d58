"""Numbers of a day with what they are worked out of, so that they lead to their workings."""

from datetime import datetime

from fotonomy.core.day.almanac import HEIGHT_OF, Event, Mark
from fotonomy.core.notation import writing as n
from fotonomy.core.sky.light import Mixture
from fotonomy.core.sky.track import Direction
from fotonomy.days.planning import PlannedDay
from fotonomy.days.reschedule import clock_minutes
from fotonomy.shoots.models import Place
from fotonomy.shoots.presenters.working import loose

_NAMES = {
    Mark.SUNRISE: "sun.rise_or_set", Mark.SUNSET: "sun.rise_or_set", Mark.HIGHEST: "sun.highest",
    Mark.OVER_LAND: "sun.land", Mark.BEHIND_LAND: "sun.land",
    Mark.MOONRISE: "moon.rise_or_set", Mark.MOONSET: "moon.rise_or_set",
}  # fmt: skip


def _where(planned: PlannedDay, place: Place) -> dict[str, float]:
    """The place and the day that positions are worked out for."""
    day = planned.midnight.date()
    found: dict[str, float] = {"on_date": day.year * 10_000 + day.month * 100 + day.day}
    if place.site is not None:
        found |= {
            "latitude_deg": place.site.latitude_deg, "longitude_deg": place.site.longitude_deg,
        }  # fmt: skip
    return found


def event_clock(planned: PlannedDay, place: Place, event: Event) -> str:
    """When something happens in the sky."""
    given = _where(planned, place)
    if event.mark in HEIGHT_OF:
        given["height_deg"] = HEIGHT_OF[event.mark]
    if event.altitude_deg is not None:
        given["height_deg"] = event.altitude_deg
    return loose(
        planned.plan.clock(event.at), _NAMES.get(event.mark, "sun.twilight"),
        value=clock_minutes(event.at, planned.midnight), **given,
    )  # fmt: skip


def sun_degrees(planned: PlannedDay, place: Place, sun: Direction, when: datetime) -> str:
    """Where the sun stands: azimuth and height."""
    given = _where(planned, place) | {"at_clock_min": clock_minutes(when, planned.midnight)}
    azimuth = loose(
        f"{round(sun.azimuth_deg)}°", "sun.azimuth_deg", value=sun.azimuth_deg, **given
    )  # fmt: skip
    high = loose(
        f"{round(sun.altitude_deg)}°", "sun.altitude_deg", value=sun.altitude_deg, **given
    )  # fmt: skip
    return f"{azimuth}, {high} high"


def estimate(ev100: float, of: Mixture | None, oktas: float | None = None) -> str:
    """An estimate of light, under its own cloud or another."""
    text = n.format_number(ev100, 1)
    return text if of is None else loose(text, "sky.estimate", **_mixed(of, oktas))


def moved_by(stops: float, of: Mixture | None, plain: Mixture | None) -> str:
    """What a reading moves an estimate by, in stops."""
    text = n.format_signed(stops, 1)
    if of is None or plain is None:
        return text
    return loose(
        text, "sky.bent_stops", **_mixed(of), plain_factor=plain.factor, plain_own_lx=plain.own_lx
    )  # fmt: skip


def _mixed(of: Mixture, oktas: float | None = None) -> dict[str, float]:
    return {
        "sun_deg": of.sun_deg, "moon_deg": of.moon_deg, "phase_deg": of.phase_deg,
        "oktas": of.oktas if oktas is None else oktas, "factor": of.factor, "own_lx": of.own_lx,
    }  # fmt: skip
