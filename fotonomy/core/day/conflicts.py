"""What does not fit on a day: why, by how much, and what would do."""

from collections.abc import Callable, Iterator
from datetime import datetime, timedelta
from itertools import pairwise

import numpy as np

from fotonomy.core.day.blocks import Block, may_run_beside
from fotonomy.core.day.day_plan import (
    Conflict,
    DayPlan,
    Move,
    minutes_text,
    span_words,
    up_to_minute,
)
from fotonomy.core.day.day_supplies import batteries_run_down, cards_full
from fotonomy.core.day.day_weather import weather_against
from fotonomy.core.day.direction import beyond_picture
from fotonomy.core.notation.writing import format_number, format_stops
from fotonomy.core.sky.light import sun_is_up
from fotonomy.core.sky.track import Samples, Sky, Stretch
from fotonomy.core.spec.schedule import SHARP_MIN, Wanted

# A moon this high and this much lit washes stars out: common practice, no source.
MOON_BOTHERS_DEG, MOON_BOTHERS_LIT = 0.0, 0.15


def conflicts(plan: DayPlan) -> tuple[Conflict, ...]:
    """Everything that does not fit, what loses a shot first, then by the hour."""
    found: list[Conflict] = []
    for check in CHECKS:
        found += check(plan)
    order = {block.key: at for at, block in enumerate(plan.timed)}
    return tuple(sorted(found, key=lambda one: (not one.grave, order.get(one.keys[0], len(order)))))


def outside_window(plan: DayPlan) -> Iterator[Conflict]:
    """Takes outside the hours of their light."""
    for block in plan.timed:
        takes = block.takes
        if takes is None or block.cannot_say or block.schedule.wants is Wanted.ANY:
            continue
        inside = sum(
            part.minutes for one in block.windows if (part := one.common(takes)) is not None
        )  # fmt: skip
        short = takes.minutes - inside
        if block.schedule.wants is Wanted.FIXED:
            if any(one.starts <= takes.starts <= one.ends for one in block.windows):
                continue
        elif short < 1:
            continue
        near = nearest_window(block, takes)
        wish = block.wish
        if near is None:
            yield Conflict(
                "window.none", (block.key,), f"{block.name} has no {wish} on this day",
                f"It wants {wish}, and nothing of the day is that here", short, "min",
            )  # fmt: skip
            continue
        yield Conflict(
            "window.outside", (block.key,), f"{block.name} is outside its light",
            f"It wants {wish}, {span_words(plan, near)}; {minutes_text(short)} of its "
            f"{minutes_text(takes.minutes)} are outside", short, "min",
            tuple(_into(plan, block, near)),
        )  # fmt: skip


def cannot_be_exposed(plan: DayPlan) -> Iterator[Conflict]:
    """Setups whose light is past all their gear can do at that hour, or that nobody said."""
    for block in plan.timed:
        light, takes = block.light, block.takes
        if light is None or takes is None:
            continue
        if not light.said:
            yield Conflict(
                "light.unsaid", (block.key,), f"Nobody said the light of {block.name}",
                "Whether it can be exposed then is not known: say its light on the bench", 0.0, "",
                grave=False,
            )  # fmt: skip
            continue
        missed = light.missed_stops
        if not missed:
            continue
        side = "bright" if missed > 0 else "dark"
        end = light.reach.brightest_ev if missed > 0 else light.reach.darkest_ev
        near = _nearest_exposable(block, takes)
        moves = () if near is None else (
            Move(block.key, f"Move it to {plan.clock(near)}", rolls=near),
        )  # fmt: skip
        yield Conflict(
            "light.unexposable", (block.key,), f"{block.name} cannot be exposed then",
            f"EV {format_number(light.ev100)} is {format_stops(missed)} too {side}: with what is "
            f"packed it reaches to EV {format_number(end)}", missed, "stops", moves,
        )  # fmt: skip


def _nearest_exposable(block: Block, takes: Stretch) -> datetime | None:
    """The nearest moment in its own light at which a block's takes can be exposed."""
    if block.light is None or not block.light.exposable:
        return None
    windows = block.windows or (Stretch(takes.starts, takes.ends),)
    both = [
        part for one in block.light.exposable for window in windows
        if (part := one.common(window)) is not None and part.minutes >= block.shoot_min
    ]  # fmt: skip
    starts = [_start_in(block, one) for one in both]
    return min(starts, key=lambda at: abs((at - takes.starts).total_seconds()), default=None)


def nearest_window(block: Block, takes: Stretch) -> Stretch | None:
    """The window that a block's takes are nearest to, those it fits in first."""

    def apart(one: Stretch) -> tuple[bool, float]:
        moved = _start_in(block, one)
        return one.minutes < block.shoot_min, abs((moved - takes.starts).total_seconds())

    return min(block.windows, key=apart, default=None)


def _start_in(block: Block, window: Stretch) -> datetime:
    """The start nearest to the planned one with which the takes lie in a window, if they fit."""
    assert block.rolls is not None
    latest = window.ends - timedelta(minutes=block.shoot_min)
    return min(max(block.rolls, window.starts), max(window.starts, latest))


def _into(plan: DayPlan, block: Block, window: Stretch) -> Iterator[Move]:
    if block.schedule.wants is Wanted.FIXED:
        at = window.starts + (window.ends - window.starts) / 2
        if block.rolls is not None and block.schedule.wants_within_min > SHARP_MIN:
            at = min(max(block.rolls, window.starts), window.ends)
        yield Move(block.key, f"Move it to {plan.clock(at)}", rolls=at)
        return
    if window.minutes >= block.shoot_min:
        start = _start_in(block, window)
        yield Move(block.key, f"Move it to {plan.clock(start)}", rolls=start)
        return
    if window.minutes >= 1:
        yield Move(
            block.key,
            f"Move it to {plan.clock(window.starts)} and shorten it to "
            f"{minutes_text(window.minutes)}",
            rolls=window.starts, shoot_min=float(int(window.minutes)),
        )  # fmt: skip


def at_once(plan: DayPlan) -> Iterator[Conflict]:
    """Setups that want people or a camera that an earlier one still has, the first such one."""
    timed = plan.timed
    for at, other in enumerate(timed):
        for block in timed[:at]:
            crew, body = _overlap(block, other)
            minutes = max(crew, body)
            if minutes < 1:
                continue
            what = f"{block.name} and {other.name} at once"
            shares = "the same camera" if body >= crew else "the same people"
            later = _after(plan, block, other)
            yield Conflict(
                "overlap", (other.key, block.key), what,
                f"Both want {shares} for {minutes_text(minutes)}", minutes, "min",
                (Move(other.key, f"Move {other.name} to {plan.clock(later)}", rolls=later),),
            )  # fmt: skip
            break


def _overlap(block: Block, other: Block) -> tuple[float, float]:
    """Minutes in which two blocks want the same people, and the same body."""
    body = crew = 0.0
    if block.body == other.body:
        body = _shared(block.occupies, other.occupies)
    elif not may_run_beside(block, other):
        crew = _shared(block.keeps_crew, other.keeps_crew)
    return crew, body


def _shared(one: Stretch | None, other: Stretch | None) -> float:
    if one is None or other is None:
        return 0.0
    part = one.common(other)
    return 0.0 if part is None else part.minutes


def _after(plan: DayPlan, block: Block, other: Block) -> datetime:
    """The earliest first take of ``other`` once ``block`` and the way are done."""
    keeps = block.occupies if block.body == other.body else block.keeps_crew
    assert keeps is not None
    way = plan.way_min(block.place, other.place)
    return up_to_minute(keeps.ends + timedelta(minutes=way + other.prepare_min))


def no_time_for_the_way(plan: DayPlan) -> Iterator[Conflict]:
    """Too little time between two places."""
    for block, other in pairwise(plan.timed):
        leaves, arrives = block.keeps_crew, other.keeps_crew
        if leaves is None or arrives is None or block.place == other.place:
            continue
        need = plan.way_min(block.place, other.place)
        gap = (arrives.starts - leaves.ends).total_seconds() / 60
        # What runs into each other is said by ``at_once``.
        if need <= 0 or gap >= need - 0.5 or gap < 0:
            continue
        short = need - gap
        start = _after(plan, block, other)
        where = f"{plan.spots[block.place].name} to {plan.spots[other.place].name}"
        yield Conflict(
            "way", (other.key, block.key), f"No time for the way to {other.name}",
            f"{where} takes {minutes_text(need)}, and there are "
            f"{minutes_text(gap) if gap >= 1 else 'none'} between", short, "min",
            (Move(other.key, f"Move it to {plan.clock(start)}", rolls=start),),
        )  # fmt: skip


def sun_in_lens(plan: DayPlan) -> Iterator[Conflict]:
    """The sun in the picture, or near enough for flare, while a setup is shot."""
    up: dict[int, Samples] = {}
    for block in plan.timed:
        if block.looks_deg is None or block.field is None or block.takes is None:
            continue
        spot = plan.spots[block.place]
        if spot.sky is None or block.schedule.wants is Wanted.SUN_BEHIND:
            continue
        if block.place not in up:
            up[block.place] = sun_is_up(spot.sky, spot.horizon)
        beyond = beyond_picture(spot.sky, block.looks_deg, block.field)
        inside = _within(spot.sky, np.minimum(-beyond, up[block.place]), block.takes)
        if inside is None:
            continue
        yield Conflict(
            "sun.picture", (block.key,), f"The sun is in the picture of {block.name}",
            f"From {span_words(plan, inside)} it stands inside the frame. Turn the camera, "
            "or want the sun behind the subject", inside.minutes, "min", grave=False,
        )  # fmt: skip


def _within(sky: Sky, values: Samples, takes: Stretch) -> Stretch | None:
    """The first time within the takes at which sampled values are at or above zero."""
    for one in sky.stretches(values):
        part = one.common(takes)
        if part is not None and part.minutes >= 1:
            return part
    return None


def moon_unwanted(plan: DayPlan) -> Iterator[Conflict]:
    """A bright moon over a setup of stars that did not ask for one."""
    for block in plan.timed:
        takes = block.takes
        wants = block.schedule.wants
        if not block.stars or takes is None or wants in (Wanted.MOONLIGHT, Wanted.MOONLESS,
                                                         Wanted.MILKY_WAY):  # fmt: skip
            continue
        spot = plan.spots[block.place]
        if spot.sky is None:
            continue
        up = np.asarray(spot.horizon.over(spot.sky.moon.altitude_deg, spot.sky.moon.azimuth_deg))
        lit = np.cos(np.radians(spot.sky.phase_deg)) - (2 * MOON_BOTHERS_LIT - 1)
        shines = _within(spot.sky, np.minimum(up - MOON_BOTHERS_DEG, lit), takes)
        if shines is None:
            continue
        share = spot.sky.lit_at(shines.starts)
        yield Conflict(
            "moon", (block.key,), f"The moon shines on {block.name}",
            f"From {span_words(plan, shines)} it is up, {round(100 * share)} % lit, and hides "
            "faint stars. Ask for “dark without a moon” to see the hours without", shines.minutes,
            "min", grave=False,
        )  # fmt: skip


def outside_hours(plan: DayPlan) -> Iterator[Conflict]:
    """Before call, after wrap, or while a place is closed."""
    for block in plan.timed:
        keeps = block.keeps_crew
        if keeps is None:
            continue
        early = (plan.hours.starts - keeps.starts).total_seconds() / 60
        late = (keeps.ends - plan.hours.ends).total_seconds() / 60
        if early >= 1:
            start = up_to_minute(plan.hours.starts + timedelta(minutes=block.prepare_min))
            yield Conflict(
                "hours.call", (block.key,), f"{block.name} begins before the call",
                f"Setting up starts {minutes_text(early)} before {plan.clock(plan.hours.starts)}",
                early, "min", (Move(block.key, f"Move it to {plan.clock(start)}", rolls=start),),
                grave=False,
            )  # fmt: skip
        if late >= 1:
            yield Conflict(
                "hours.wrap", (block.key,), f"{block.name} runs past the wrap",
                f"It ends {minutes_text(late)} after {plan.clock(plan.hours.ends)}", late, "min",
                tuple(_earlier(plan, block, late)), grave=False,
            )  # fmt: skip
        yield from _closed(plan, block, keeps)


def _earlier(plan: DayPlan, block: Block, minutes: float) -> Iterator[Move]:
    assert block.rolls is not None
    start = (block.rolls - timedelta(minutes=minutes)).replace(second=0, microsecond=0)
    if start >= plan.hours.starts:
        yield Move(block.key, f"Move it to {plan.clock(start)}", rolls=start)


def _closed(plan: DayPlan, block: Block, keeps: Stretch) -> Iterator[Conflict]:
    spot = plan.spots[block.place]
    if not spot.open or any(one.holds(keeps) for one in spot.open):
        return
    inside = sum(part.minutes for one in spot.open if (part := one.common(keeps)) is not None)
    hours = ", ".join(span_words(plan, one) for one in spot.open)
    yield Conflict(
        "hours.closed", (block.key,), f"{spot.name} is closed for {block.name}",
        f"One may be there {hours}; {minutes_text(keeps.minutes - inside)} are outside",
        keeps.minutes - inside, "min",
    )  # fmt: skip


CHECKS: tuple[Callable[[DayPlan], Iterator[Conflict]], ...] = (
    outside_window, cannot_be_exposed, at_once, no_time_for_the_way, outside_hours,
    batteries_run_down, cards_full, sun_in_lens, moon_unwanted, weather_against,
)  # fmt: skip
