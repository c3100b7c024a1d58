"""The card of a setup and the list of a day, for a phone at the spot."""

from dataclasses import dataclass
from datetime import datetime, timedelta

from django.urls import reverse

from fotonomy.core.analysis.interval import IntervalRun
from fotonomy.core.analysis.ramp_programme import ramp_in_one_line, ramp_lines
from fotonomy.core.day.blocks import Block
from fotonomy.core.day.day_plan import minutes_text
from fotonomy.core.field.checklist import Check, checklist
from fotonomy.core.findings.finding import Severity
from fotonomy.core.notation import writing as n
from fotonomy.core.plan import Plan, plan
from fotonomy.core.readout import ReadoutItem
from fotonomy.core.spec.schedule import Wanted
from fotonomy.core.traced_numbers import Names
from fotonomy.days.planning import PlannedDay
from fotonomy.days.reschedule import clock_minutes
from fotonomy.field.models import Take
from fotonomy.shoots.models import Setup
from fotonomy.shoots.presenters.working import loose, names_for

# So many cautions are said on a card; the bench has the rest.
MOST_CAUTIONS = 3
# The values that are set on the camera, in the order of the strip; zebras stand below.
VALUES = 6


@dataclass(frozen=True, slots=True)
class Told:
    """A finding on a card."""

    what: str
    why: str
    fix: str


@dataclass(frozen=True, slots=True)
class RampStepView:
    """One change of a ramp: when by the clock, so long after the press, and what to set."""

    clock: str
    at: str
    press_s: float
    words: str


@dataclass(frozen=True, slots=True)
class Neighbour:
    """The setup before or after."""

    code: str
    address: str


@dataclass(frozen=True, slots=True)
class CardView:
    """All that is needed at the spot for one setup."""

    key: int
    code: str
    name: str
    place: str
    hour: str
    window: str
    leave: str
    late: bool
    values: tuple[ReadoutItem, ...]
    zebras: tuple[ReadoutItem, ...]
    checks: tuple[Check, ...]
    asks: tuple[Told, ...]
    musts: tuple[Told, ...]
    cautions: tuple[Told, ...]
    safety: tuple[str, ...]
    place_cautions: str
    notes: str
    before: Neighbour | None
    after: Neighbour | None
    takes: int
    good: int
    runs: str
    ends: str
    lasts_s: float
    ramp: str
    ramp_lines: tuple[RampStepView, ...]


@dataclass(frozen=True, slots=True)
class DayLine:
    """A setup in the list of a day."""

    key: int
    name: str
    hour: str
    place: str
    address: str
    takes: int
    good: int
    bad: str


def order_of(planned: PlannedDay) -> list[Block]:
    """The setups of a day by their hours, those without one last."""
    timed = planned.plan.timed
    return [*timed, *(block for block in planned.plan.blocks if block.rolls is None)]


def counted(takes: list[Take]) -> dict[int, tuple[int, int]]:
    """How many takes of each setup there are, and how many are good."""
    found: dict[int, tuple[int, int]] = {}
    for take in takes:
        count, good = found.get(take.setup_key, (0, 0))
        found[take.setup_key] = count + 1, good + (take.verdict == "good")
    return found


def day_lines(planned: PlannedDay, takes: list[Take]) -> list[DayLine]:
    """The list of the day with what is done."""
    counts = counted(takes)
    lines = []
    for block in order_of(planned):
        count, good = counts.get(block.key, (0, 0))
        lines.append(DayLine(
            block.key, block.name, planned.plan.clock(block.rolls) if block.rolls else "",
            planned.plan.spots[block.place].name, _address(planned, block.key), count, good, "",
        ))  # fmt: skip
    for key, why in planned.broken.items():
        row = planned.rows[key]
        lines.append(DayLine(key, str(row), "", str(row.place), row.get_absolute_url(), 0, 0, why))
    return lines


def _address(planned: PlannedDay, key: int) -> str:
    return reverse("field-card", args=[planned.shoot.pk, key])


def card_view(planned: PlannedDay, key: int, takes: list[Take], now: datetime) -> CardView:
    """The card of a setup of a day.

    Raises LookupError where it is not among them, UnplannableError where it breaks a rule.
    """
    row, block, order = planned.rows[key], planned.block(key), planned.agenda
    at = order.index(row)
    made = plan_of(planned, key, names_for(row))
    found = [(f.severity, Told(f.what, f.why, f.fixes[0].label if f.fixes else ""))
             for f in made.findings]  # fmt: skip
    count, good = counted(takes).get(key, (0, 0))
    leave, late = _leave(planned, block, now)
    return CardView(
        key=key, code=row.code, name=str(row), place=str(row.place),
        hour=planned.clock(block.rolls) if block.rolls else "",
        window=_window(planned, block), leave=leave, late=late,
        values=made.readout[:VALUES],
        zebras=() if made.analysis.setup.records_stills else made.readout[VALUES:],
        checks=checklist(made.analysis),
        asks=tuple(Told(one.what, one.why, "") for one in made.questions),
        musts=tuple(one for severity, one in found if severity is Severity.STOP),
        cautions=tuple(one for severity, one in found if severity is Severity.CAUTION)[
            :MOST_CAUTIONS
        ],
        safety=made.cautions, place_cautions=row.place.cautions, notes=row.notes,
        before=_neighbour(planned, order, at - 1), after=_neighbour(planned, order, at + 1),
        takes=count, good=good, runs=_runs(made), ends=_ends(made), lasts_s=_lasts_s(made),
        ramp=_ramp(made), ramp_lines=_ramp_lines(made),
    )  # fmt: skip


def _runs(made: Plan) -> str:
    """What an interval run does by the clock."""
    run = made.analysis.run
    if not isinstance(run, IntervalRun) or run.ends is None:
        return ""
    by_hand = run.intervalometer.count is None
    how = "stop it by hand" if by_hand else "it ends by itself"
    return f"{run.frames} frames, until {run.ends:%H:%M}: {how}"


def _ramp(made: Plan) -> str:
    run = made.analysis.run
    return ramp_in_one_line(made.analysis.setup, run) if isinstance(run, IntervalRun) else ""


def _ramp_lines(made: Plan) -> tuple[RampStepView, ...]:
    run = made.analysis.run
    if not isinstance(run, IntervalRun):
        return ()
    return tuple(
        RampStepView(
            f"{line.at:%H:%M}" if line.at else n.format_duration(line.press_s),
            line.at.isoformat() if line.at else "", round(line.press_s, 1), line.words,
        )
        for line in ramp_lines(made.analysis.setup, run)
    )  # fmt: skip


def _ends(made: Plan) -> str:
    run = made.analysis.run
    return run.ends.isoformat() if isinstance(run, IntervalRun) and run.ends is not None else ""


def _lasts_s(made: Plan) -> float:
    """From the press on the remote to the last frame of an interval run, in s; 0 without one."""
    run = made.analysis.run
    return round(run.intervalometer.last_s, 1) if isinstance(run, IntervalRun) else 0.0


def _neighbour(planned: PlannedDay, order: list[Setup], at: int) -> Neighbour | None:
    if not 0 <= at < len(order):
        return None
    return Neighbour(order[at].code or "other", _address(planned, order[at].pk))


def _window(planned: PlannedDay, block: Block) -> str:
    """When its light is there, the window about its hour or the next one."""
    if block.schedule.wants is Wanted.ANY or not block.windows:
        return ""
    takes = block.takes
    near = block.windows[0] if takes is None else min(
        block.windows,
        key=lambda one: 0.0 if one.meets(takes) else abs(
            (one.starts - takes.starts).total_seconds()
        ),
    )  # fmt: skip
    clock = planned.clock
    return f"{block.wish} {clock(near.starts)} to {clock(near.ends)}"


def _leave(planned: PlannedDay, block: Block, now: datetime) -> tuple[str, bool]:
    """When one has to leave for the next setup, and whether that is past."""
    other = _next_timed(planned, block)
    if other is None:
        return "", False
    spec = planned.spec(other.pk)
    assert spec.starts is not None
    begins = spec.starts - timedelta(minutes=spec.schedule.prepare_min)
    way = planned.way_min(block.place, other.place_id)
    leaves = begins - timedelta(minutes=way)
    code = other.code or str(other)
    if way < 1:
        return f"{code} begins here at {planned.clock(leaves)}", now > leaves
    led = loose(
        planned.clock(leaves), "field.leave", way_min=way,
        starts_clock_min=clock_minutes(begins, planned.midnight),
    )  # fmt: skip
    return f"leave for {code} at {led}, {minutes_text(way)} away", now > leaves


def _next_timed(planned: PlannedDay, block: Block) -> Setup | None:
    """The next setup that has an hour and can be planned; None after the last."""
    if block.rolls is None:
        return None
    order = planned.agenda
    later = order[order.index(planned.rows[block.key]) + 1 :]
    return next((row for row in later if row.planned_time and not planned.why_broken(row.pk)), None)


def plan_of(planned: PlannedDay, key: int, names: Names | None = None) -> Plan:
    """The plan of one setup of the day."""
    return plan(planned.spec(key), names)
