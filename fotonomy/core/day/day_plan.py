"""A day as the checks see it: its blocks, places, ways and hours, and what does not fit on it."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from datetime import datetime, timedelta

from fotonomy.core.day.blocks import Block
from fotonomy.core.sky.horizon import Horizon
from fotonomy.core.sky.track import Sky, Stretch
from fotonomy.core.weather.report import Weather


@dataclass(frozen=True, slots=True)
class Move:
    """A way out: a block at another moment, or with other minutes. ``words`` say so."""

    key: int
    words: str
    rolls: datetime | None = None
    shoot_min: float | None = None


@dataclass(frozen=True, slots=True)
class Conflict:
    """Something of the day that does not fit: the blocks it is about, a number and ways out.

    ``grave`` where the shot is lost; else it is a caution.
    """

    id: str
    keys: tuple[int, ...]
    what: str
    why: str
    number: float
    unit: str
    moves: tuple[Move, ...] = ()
    grave: bool = True


@dataclass(frozen=True, slots=True, eq=False)
class Spot:
    """A place as the day needs it: its name, its sky and horizon, and when one may be there.

    ``sky`` is None where nobody said where it is, ``weather`` where nobody said it or it does not
    get there.
    """

    name: str
    sky: Sky | None
    horizon: Horizon
    open: tuple[Stretch, ...] = ()
    weather: Weather | None = None


@dataclass(frozen=True, slots=True, eq=False)
class DayPlan:
    """One day: its blocks, the places by id, minutes of the way between two, and its hours.

    ``clock`` writes a moment as the place's clock shows it.
    """

    blocks: tuple[Block, ...]
    spots: Mapping[int, Spot]
    way_min: Callable[[int, int], float]
    hours: Stretch
    clock: Callable[[datetime], str]

    @property
    def timed(self) -> tuple[Block, ...]:
        """Blocks with an hour, the earliest first."""
        found = [block for block in self.blocks if block.rolls is not None]
        return tuple(sorted(found, key=lambda b: (b.rolls, b.key)))


def spare_min(hours_min: float, busy_min: float, ways_min: float) -> float:
    """Minutes of the working hours in which nothing is planned and nobody is on the way."""
    return hours_min - busy_min - ways_min


def leave_clock_min(starts_clock_min: float, way_min: float) -> float:
    """When to leave for what starts then, in minutes of the day."""
    return starts_clock_min - way_min


def length_min(starts_clock_min: float, ends_clock_min: float) -> float:
    """Minutes from one hour of the day to another."""
    return ends_clock_min - starts_clock_min


def span_words(plan: DayPlan, stretch: Stretch) -> str:
    """A stretch on the clock of the day."""
    return f"{plan.clock(stretch.starts)} to {plan.clock(stretch.ends)}"


def minutes_text(minutes: float) -> str:
    """Minutes as people say them: "5 min", "1 h 20 min"."""
    whole = max(1, round(minutes))
    hours, rest = divmod(whole, 60)
    if not hours:
        return f"{rest} min"
    return f"{hours} h {rest} min" if rest else f"{hours} h"


def up_to_minute(when: datetime) -> datetime:
    """The next whole minute."""
    whole = when.replace(second=0, microsecond=0)
    return whole if whole == when else whole + timedelta(minutes=1)
