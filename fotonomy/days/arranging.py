"""Setups of a day, or of all days, as tasks of the solver, and its answer as moments."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from math import ceil, floor

from fotonomy.core.day.arrange import Arrangement
from fotonomy.core.day.blocks import STAYS_MIN, Block
from fotonomy.core.day.day_plan import minutes_text
from fotonomy.core.day.tasks import Task, Way
from fotonomy.core.notation.writing import format_number
from fotonomy.core.sky.track import Stretch
from fotonomy.core.spec.schedule import SHARP_MIN, Wanted
from fotonomy.days.planning import PlannedDay, block_of, planned_day
from fotonomy.shoots.models import Day, Shoot


@dataclass(frozen=True, eq=False)
class ToArrange:
    """What the solver gets, and what turns its minutes back into moments: they count from ``zero``.

    ``names`` are the setups by key.
    """

    tasks: tuple[Task, ...]
    way: Way
    zero: datetime
    days: tuple[PlannedDay, ...]
    names: dict[int, str]

    @property
    def last_minute(self) -> int:
        """The last minute that any of the days has."""
        ends = max(one.plan.hours.ends for one in self.days)
        return int((ends - self.zero) / timedelta(minutes=1))

    def moments(self, starts: dict[int, int]) -> dict[int, tuple[Day, datetime]]:
        """Each first take with the day it is on; what is on none of the days is left out."""
        found = {}
        for key, minute in starts.items():
            when = self.zero + timedelta(minutes=minute)
            day = next(
                (
                    one.day for one in self.days
                    if one.plan.hours.starts <= when <= one.plan.hours.ends
                ),
                None,
            )  # fmt: skip
            if day is not None and key in self.names:
                found[key] = (day, when)
        return found


def to_arrange(shoot: Shoot, days: Sequence[Day]) -> ToArrange:
    """The setups of these days, each with the minutes at which its first take may be."""
    planned = tuple(planned_day(shoot, day) for day in days)
    zero = min(one.midnight.astimezone(UTC) for one in planned)
    tasks, names = [], {}
    for one in planned:
        for block in one.plan.blocks:
            names[block.key] = block.name
            tasks.append(_task(block, planned, one, zero))
    return ToArrange(tuple(tasks), planned[0].plan.way_min, zero, planned, names)


def _task(block: Block, planned: tuple[PlannedDay, ...], own: PlannedDay, zero: datetime) -> Task:
    schedule, taken = block.schedule, block.supplies
    shoot = max(1, round(block.shoot_min))
    stays = min(shoot, round(STAYS_MIN)) if schedule.unattended else shoot
    prepare = round(block.prepare_min)
    allowed: list[tuple[int, int]] = []
    longest, unlit = 0.0, False
    for day in planned:
        on_day = _on(day, own, block)
        wished = _exact(on_day) or (_all_of(day) if _any(block) else ())
        lit = _exposable(on_day, wished)
        unlit = unlit or bool(wished and not lit)
        for window in lit:
            rooms, minutes = _room(day, block, window, prepare, shoot, stays)
            longest = max(longest, minutes)
            for room in rooms:
                first = ceil((room.starts - zero).total_seconds() / 60)
                last = floor((room.ends - zero).total_seconds() / 60)
                if first <= last:
                    allowed.append((first, last))
    fixed = None
    if schedule.pinned and block.rolls is not None:
        fixed = round((block.rolls - zero).total_seconds() / 60)
    return Task(
        key=block.key, name=block.name, place=block.place, body=block.body, lens=block.lens,
        prepare_min=prepare, shoot_min=shoot, stays_min=stays, allowed=_merged(allowed),
        fixed=fixed, priority=schedule.priority, alongside=schedule.alongside,
        no_room="" if allowed else _no_room(block, shoot, longest, unlit),
        batteries=frozenset(cell.name for cell in taken.cells) if taken else frozenset(),
        charge_share=taken.charge_share if taken else 0.0,
    )  # fmt: skip


def _exact(block: Block) -> tuple[Stretch, ...]:
    """The windows of its light; of an hour that is meant sharp the hour itself."""
    schedule = block.schedule
    if schedule.wants is not Wanted.FIXED or schedule.wants_within_min > SHARP_MIN:
        return block.windows
    middles = (one.starts + (one.ends - one.starts) / 2 for one in block.windows)
    return tuple(Stretch(at, at) for at in middles)


def _any(block: Block) -> bool:
    return block.schedule.wants is Wanted.ANY


def _all_of(day: PlannedDay) -> tuple[Stretch, ...]:
    return (day.plan.hours,)


def _on(day: PlannedDay, own: PlannedDay, block: Block) -> Block:
    """The block as it would be on a day: its light there."""
    if day is own:
        return block
    row, spec = own.rows[block.key], own.specs[block.key]
    kept = row.day
    row.day = day.day
    try:
        return block_of(row, spec, day.light(row.place_id))
    finally:
        row.day = kept


def _room(
    day: PlannedDay, block: Block, window: Stretch, prepare: int, shoot: int, stays: int
) -> tuple[list[Stretch], float]:
    """When the first take may be in a window, and the longest stretch of it one can be there."""
    spot = day.plan.spots[block.place]
    found, longest = [], 0.0
    for open_hours in spot.open or (day.plan.hours,):
        inside = open_hours.common(day.plan.hours)
        if inside is None:
            continue
        part = window.common(inside)
        longest = max(longest, part.minutes if part else 0.0)
        exact = block.schedule.wants is Wanted.FIXED
        last_in_light = window.ends if exact else window.ends - timedelta(minutes=shoot)
        first = max(window.starts, inside.starts + timedelta(minutes=prepare))
        last = min(last_in_light, inside.ends - timedelta(minutes=stays))
        if first <= last:
            found.append(Stretch(first, last))
    return found, longest


def _merged(allowed: list[tuple[int, int]]) -> tuple[tuple[int, int], ...]:
    found: list[tuple[int, int]] = []
    for low, high in sorted(allowed):
        if found and low <= found[-1][1] + 1:
            found[-1] = (found[-1][0], max(found[-1][1], high))
        else:
            found.append((low, high))
    return tuple(found)


def _exposable(block: Block, wished: tuple[Stretch, ...]) -> tuple[Stretch, ...]:
    """The wished hours, as far as the sky's light then can be exposed with what is packed."""
    light = block.light
    if light is None or light.exposable is None:
        return wished
    found = (one.common(part) for one in wished for part in light.exposable)
    return tuple(part for part in found if part is not None)


def _no_room(block: Block, shoot: int, longest: float, unlit: bool) -> str:
    """Why there is no minute for a setup on any of the days."""
    if block.cannot_say:
        return f"its light is not known without {block.cannot_say}"
    if unlit and block.light is not None and longest < shoot:
        low, high = block.light.reach.darkest_ev, block.light.reach.brightest_ev
        return (
            f"with what is packed it can be exposed from EV {format_number(low)} to "
            f"{format_number(high)}, and {block.wish} has no such light: a lamp, a faster lens, or "
            "something set free"
        )
    if longest < 1:
        return f"within the working hours there is no {block.wish}"
    return (
        f"its {minutes_text(shoot)} are longer than the {minutes_text(longest)} of {block.wish} "
        "within the working hours: shorten it"
    )


def left_out_words(found: Arrangement, names: dict[int, str]) -> list[str]:
    """Why each setup that is left out is, and what would let it in."""
    said = []
    for one in found.left_out:
        words = f"{names[one.key]} found no hour: {one.why}"
        if one.instead_of:
            named = [names[key].split()[0] for key in one.instead_of[:4]]
            words += f". It fits without {' and '.join(named)}"
        said.append(f"{words}.")
    return said
