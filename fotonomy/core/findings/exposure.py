"""Findings about the light budget, the person's ISO ceiling, and glass."""

from collections.abc import Iterator
from datetime import UTC, datetime, timedelta

from fotonomy.core.analysis.setup import Analysis
from fotonomy.core.constants import EV_RANGE
from fotonomy.core.exposure.light_budget import Balance
from fotonomy.core.findings import fixes as fx
from fotonomy.core.findings.finding import Family, Finding, Fix, Harm, Question, Severity
from fotonomy.core.notation import writing as n
from fotonomy.core.photometry.exposure_value import Ev100, ev100_of
from fotonomy.core.sky.light import PlaceLight
from fotonomy.core.spec.changes import Change
from fotonomy.core.spec.setup import Setup
from fotonomy.core.tiles import Tile
from fotonomy.core.tone.placement import brightest

OVER = Family("exposure.over", Harm.PICTURE_LOST, Tile.LIGHT, of_light=True)
UNDER = Family("exposure.under", Harm.PICTURE_LOST, Tile.LIGHT, of_light=True)
HOUR = Family("light.hour", Harm.PICTURE_LOST, Tile.LIGHT, of_light=True)

TWICE = Family("light.hour_twice", Harm.MOVES_WRONGLY, Tile.LIGHT)

# The light and the settings do not add up, one way or the other.
OFF_BALANCE = frozenset({OVER, UNDER})

# A miss this large is no choice any more; one under the second ruins nothing. And shadows so far
# past the person's limit. All common practice, no source.
NO_CHOICE_FROM_STOPS, WORTH_A_WORD_STOPS, NOISE_RUINS_STOPS = 2.0, 0.7, 1.0


# What somebody metered may lie so far over a clear sky on level ground: a bright wall, snow, a sky
# in the picture. Common practice, no source.
SKY_WITHIN_STOPS = 1.5


def exposure(analysis: Analysis) -> Iterator[Finding]:
    """The balance of the light budget."""
    error = analysis.budget.error_stops
    if analysis.budget.verdict in (Balance.BALANCED, Balance.CLOSE):
        return
    offered = fx.exposure_fixes(analysis, error)
    best = offered[0].price_stops + error if offered else error
    short = "" if abs(best) <= 0.5 else f"; the nearest this gear comes is {n.format_signed(best)}"
    yield Finding(
        OVER if error > 0 else UNDER,
        Severity.STOP if _ruins(analysis) else Severity.CAUTION,
        f"Too {'bright' if error > 0 else 'dark'} by {n.format_stops(error)}",
        f"Light and settings add up to {n.format_signed(error)} stops{short}",
        error, "stops", offered or fx.more_light(analysis, error),
    )  # fmt: skip


def _ruins(analysis: Analysis) -> bool:
    """True where a miss ruins something: a tone that is lost, shadows a stop past the limit.

    On a log with room over grey a stop over is a choice; two stops off either way are none
    (common practice, no source).
    """
    error, level, noise = analysis.budget.error_stops, analysis.level, analysis.noise
    if abs(error) >= NO_CHOICE_FROM_STOPS:
        return True
    if abs(error) < WORTH_A_WORD_STOPS:
        return False
    if error > 0:
        bright = brightest(analysis.setup.readings).stops
        return level.exposure_stops + bright > level.headroom_stops
    return noise.inside_stops <= -NOISE_RUINS_STOPS or any(
        tone.placed_stops < noise.floor_stops and not (tone.reading and tone.reading.may_clip)
        for tone in level.tones
    )


def light_of_the_hour(analysis: Analysis) -> Iterator[Finding]:
    """More light than the sky of that hour gives, and no lamps that would explain it."""
    setup = analysis.setup
    light = setup.daylight
    if setup.starts is None or light is None or setup.lamps or not light.sky.covers(setup.starts):
        return
    estimate, present = light.at(setup.starts), analysis.budget.ev100
    clear = estimate.clear_ev100
    over = present - clear
    if over <= SKY_WITHIN_STOPS:
        return
    sun = light.sky.sun_at(setup.starts).altitude_deg
    ways = []
    later = _when_it_is(light, setup.starts, present)
    if later is not None:
        text = f"{later:%H:%M}"
        ways.append(Fix(f"plan it for {text}", (Change("planned_time", text),), 0.0))
    ways.append(
        Fix(
            f"use the sky's light, EV {clear:.1f}".replace("-", "−"),
            (Change("light", Ev100(round(clear, 1))),),
            -over,
        )
    )
    ways.append(
        Fix(
            f"lamps light this: keep EV {n.format_number(present)}",
            (Change("mains_lamps", True),),
            0.0,
        )
    )
    yield Finding(
        HOUR, Severity.CAUTION, f"More light than the sky gives at {setup.starts:%H:%M}",
        f"{n.format_number(present)} EV, with the sun at {n.format_signed(sun)}°: from "
        f"{n.format_number(estimate.overcast_ev100)} EV overcast to "
        f"{n.format_number(clear)} EV under a clear sky",
        over, "stops", tuple(ways),
    )  # fmt: skip


def _when_it_is(light: PlaceLight, start: datetime, ev100: float) -> datetime | None:
    """The nearest time of the date, in fives of minutes, at which a clear sky gives so much."""
    clear, sky = light.over().clear_ev100, light.sky
    midnight = start.replace(hour=0, minute=0, second=0, microsecond=0)
    times = (midnight.replace(hour=k // 12, minute=k % 12 * 5) for k in range(288))
    bright = [at for at in times if sky.covers(at) and clear[round(sky.position(at))] >= ev100]
    since = start.astimezone(UTC)
    return min(
        bright, key=lambda at: abs((at.astimezone(UTC) - since).total_seconds()), default=None
    )


def hour_comes_twice(analysis: Analysis) -> Iterator[Finding]:
    """An hour that the clock shows twice that night, since it is put back: which one is meant?"""
    starts = analysis.setup.starts
    if starts is None:
        return
    first, second = starts.replace(fold=0).utcoffset(), starts.replace(fold=1).utcoffset()
    # Where the clock is put on instead, an hour is left out and the offset grows.
    if first is None or second is None or first <= second:
        return
    back_h = (first - second).total_seconds() / 3600
    ways = []
    for text, hours in (("before", -1), ("after", 1)):
        clear = (starts + timedelta(hours=hours)).time()
        ways.append(Fix(f"{clear:%H:%M}, {text} both",
                        (Change("planned_time", f"{clear:%H:%M}"),), 0.0))  # fmt: skip
    yield Finding(
        TWICE, Severity.CAUTION, f"{starts:%H:%M} comes twice that night",
        f"The clock is put back by {n.format_number(back_h)} h, and the first of the two is meant: "
        "tell the crew, or plan an hour that comes once",
        back_h, "h", tuple(ways),
    )  # fmt: skip


# What rests on the light of the scene.
LIT_TILES = frozenset({Tile.LIGHT, Tile.LEVEL, Tile.PICTURE, Tile.RAMP})


def light_unsaid(setup: Setup) -> Question | None:
    """The question for the light where nobody said it; None where it is said.

    A run whose light to come is said has said its light.
    """
    if setup.light_said or setup.run.light_curve:
        return None
    present = ev100_of(setup.light)
    ways = [Fix(f"it is EV {n.format_number(present)}", (Change("light_said", True),), 0.0)]
    sky = setup.daylight
    if sky is not None and setup.starts is not None and sky.sky.covers(setup.starts):
        estimate = round(min(EV_RANGE[1], max(EV_RANGE[0], sky.at(setup.starts).ev100)), 1)
        change = (Change("light", Ev100(estimate)),)
        hour = f"{setup.starts:%H:%M}"
        ways.insert(0, Fix(f"the sky's at {hour}, EV {n.format_number(estimate)}", change,
                           estimate - present))  # fmt: skip
    return Question(
        "Light not said yet",
        f"Planned with EV {n.format_number(present)}, as such a shot usually has. Type what you "
        "meter, choose a typical light, or plan an hour",
        LIT_TILES, tuple(ways),
    )  # fmt: skip


CHECKS = (exposure, light_of_the_hour, hour_comes_twice)
