"""A setup as a block of the day: when it is, where, how long, and what it needs."""

from dataclasses import dataclass
from datetime import UTC, datetime, time, timedelta
from functools import cached_property
from math import ceil
from typing import Protocol

from fotonomy.core.day.advice import Exposed
from fotonomy.core.day.direction import FieldOfView
from fotonomy.core.day.supplies import Supplies
from fotonomy.core.sky.track import Stretch
from fotonomy.core.spec.kind import Kind
from fotonomy.core.spec.schedule import Schedule

# An unattended run keeps its people for so many minutes after it starts, and an interval run has
# test frames before it: common practice, no source.
STAYS_MIN = 5.0


def shoot_minutes(kind: Kind, schedule: Schedule, event_s: float) -> float:
    """Minutes from the first take to the last: as said, as long as a run, or as is usual."""
    if schedule.shoot_min is not None:
        return schedule.shoot_min
    if kind.traits.has_interval:
        return float(max(1, ceil(event_s / 60)))
    return kind.traits.usual_min


def moment_of(day_starts: datetime, clock: time, call: time, wrap: time) -> datetime:
    """A clock time as a moment (in UTC) of a shooting day, which may end after midnight.

    ``day_starts`` is the day's midnight with its zone. Where wrap comes before call on the clock,
    the day ends on the next date, and what lies nearer to its wrap than to its call belongs there.
    A time that a change of clock leaves out is the hour later; one that comes twice is the first.
    """
    date = day_starts.date()
    if wrap <= call:
        gap = _minutes(call) - _minutes(wrap)
        if _minutes(clock) < _minutes(wrap) + gap / 2:
            date += timedelta(days=1)
    return _settled(datetime.combine(date, clock, day_starts.tzinfo))


def working_hours(day_starts: datetime, call: time, wrap: time) -> Stretch:
    """From call to wrap."""
    last = day_starts.date() + timedelta(days=1 if wrap <= call else 0)
    zone = day_starts.tzinfo
    return Stretch(
        _settled(datetime.combine(day_starts.date(), call, zone)),
        _settled(datetime.combine(last, wrap, zone)),
    )


def _settled(local: datetime) -> datetime:
    """A local time in UTC; one within an hour that the clock skips moves on by that hour."""
    return local.astimezone(UTC)


def _minutes(clock: time) -> float:
    return clock.hour * 60 + clock.minute + clock.second / 60


class OnTheDay(Protocol):
    """A setup by what keeps it from others: its place, its body, whether it may run beside one."""

    @property
    def place(self) -> int: ...
    @property
    def body(self) -> str: ...
    @property
    def alongside(self) -> bool: ...


def may_run_beside(one: OnTheDay, other: OnTheDay) -> bool:
    """True where both may run at once: one is marked so, on different bodies, at one place."""
    marked = one.alongside or other.alongside
    return marked and one.body != other.body and one.place == other.place


@dataclass(frozen=True, slots=True)
class ExposureReach:
    """The darkest and the brightest light in which an exposure balances, in EV at ISO 100."""

    darkest_ev: float
    brightest_ev: float

    def missed_stops(self, ev100: float) -> float:
        """Stops of light too many (positive) or too few (negative) in a light; 0 within reach."""
        if ev100 < self.darkest_ev:
            return ev100 - self.darkest_ev
        return max(0.0, ev100 - self.brightest_ev)


@dataclass(frozen=True, slots=True)
class BlockLight:
    """The light a setup is planned for, in EV at ISO 100, and what its gear can expose.

    ``said`` is false where nobody said the light; ``exposable`` is when the sky's light can be
    exposed, None where that is not known.
    """

    ev100: float
    said: bool
    reach: ExposureReach
    exposable: tuple[Stretch, ...] | None = None

    @property
    def missed_stops(self) -> float:
        """Stops of light too many (positive) or too few (negative); 0 within reach."""
        return self.reach.missed_stops(self.ev100)


@dataclass(frozen=True, kw_only=True)
class Block:
    """One setup on the day.

    ``rolls`` is its first take in UTC, None where no hour is planned. ``windows`` are the hours of
    its light, ``cannot_say`` why they are not known. ``looks_deg`` and ``field`` are what the
    camera sees, where that was said. ``wish`` is the light wanted in words, with its number,
    ``exposed`` what of it the weather gets at, ``supplies`` what it takes of cards and batteries,
    ``light`` what it is planned for against what its gear can expose (None: not known).
    """

    key: int
    name: str
    kind: Kind
    place: int
    body: str
    lens: str
    rolls: datetime | None
    prepare_min: float
    shoot_min: float
    schedule: Schedule
    windows: tuple[Stretch, ...]
    cannot_say: str = ""
    looks_deg: float | None = None
    field: FieldOfView | None = None
    stars: bool = False
    wish: str = ""
    exposed: Exposed | None = None
    supplies: Supplies | None = None
    light: BlockLight | None = None

    @cached_property
    def takes(self) -> Stretch | None:
        """From the first take to the end of the last."""
        if self.rolls is None:
            return None
        return Stretch(self.rolls, self.rolls + timedelta(minutes=self.shoot_min))

    @cached_property
    def occupies(self) -> Stretch | None:
        """With the time to set up."""
        if self.rolls is None:
            return None
        return Stretch(
            self.rolls - timedelta(minutes=self.prepare_min),
            self.rolls + timedelta(minutes=self.shoot_min),
        )

    @cached_property
    def keeps_crew(self) -> Stretch | None:
        """While somebody has to be there: not for all of an unattended run."""
        if self.rolls is None:
            return None
        return Stretch(self.rolls - timedelta(minutes=self.prepare_min), self.rolls + self.stays)

    @property
    def stays(self) -> timedelta:
        """How long somebody stays after the first take."""
        alone = self.schedule.unattended
        return timedelta(minutes=min(self.shoot_min, STAYS_MIN) if alone else self.shoot_min)

    @property
    def alongside(self) -> bool:
        """True where it may run beside another setup."""
        return self.schedule.alongside
