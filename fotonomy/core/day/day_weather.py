"""What of a day the weather is against, and when it is not."""

from collections.abc import Iterator
from datetime import datetime, timedelta

from fotonomy.core.day.advice import Verdict, advice, sends_home
from fotonomy.core.day.blocks import Block
from fotonomy.core.day.day_plan import Conflict, DayPlan, Move, up_to_minute
from fotonomy.core.sky.track import Stretch
from fotonomy.core.weather.report import Weather

# Hours for better weather are looked for in such steps.
WEATHER_STEP_MIN = 20.0


def weather_against(plan: DayPlan) -> Iterator[Conflict]:
    """Setups for which the weather of their hour is no use, and when it is."""
    for block in plan.timed:
        weather, takes = plan.spots[block.place].weather, block.takes
        if weather is None or takes is None or block.exposed is None:
            continue
        spell = weather.spell(takes)
        found = [] if spell is None else [
            one for one in advice(block.exposed, spell) if one.verdict is Verdict.COME_BACK
        ]  # fmt: skip
        if spell is None or not found:
            continue
        first = found[0]
        better = _better_hour(plan, block, weather)
        moves = () if better is None else (
            Move(block.key, f"Move it to {plan.clock(better)}", rolls=better),
        )  # fmt: skip
        after = "" if better else ". No hour of its light on this day is better"
        yield Conflict(
            first.id, (block.key,), f"{first.what}: {block.name}",
            f"{first.why} ({spell.source.value}){after}", first.number, first.unit, moves,
            grave=False,
        )  # fmt: skip


def _better_hour(plan: DayPlan, block: Block, weather: Weather) -> datetime | None:
    """The nearest start within its light and the day's hours with known weather of use for it."""
    assert block.rolls is not None
    assert block.exposed is not None
    lasts, step = timedelta(minutes=block.shoot_min), timedelta(minutes=WEATHER_STEP_MIN)
    starts = []
    for window in block.windows:
        at = up_to_minute(max(window.starts, plan.hours.starts))
        while at + lasts <= window.ends and at + block.stays <= plan.hours.ends:
            spell = weather.spell(Stretch(at, at + lasts))
            if spell is not None and not sends_home(block.exposed, spell):
                starts.append(at)
            at += step
    rolls = block.rolls
    return min(starts, key=lambda at: abs((at - rolls).total_seconds()), default=None)
