"""Every take of a shoot against its plan, the largest differences first; and what was kept."""

from dataclasses import dataclass
from typing import Any

from fotonomy.core.notation import writing as n
from fotonomy.core.parsing.table import by_name
from fotonomy.core.takes.actual import Actual, Difference, actual_of, exposed_stops, late_min
from fotonomy.field.models import Take
from fotonomy.figures.takes.actual import Bar
from fotonomy.shoots.mapping import planned_setups
from fotonomy.shoots.models import Setup, Shoot
from fotonomy.shoots.presenters.working import loose

# A camera that wrote down another exposure than the log says, by so much, is told.
WROTE_OTHERWISE_STOPS = 0.2
LATE_MIN = 10


@dataclass(frozen=True, slots=True)
class ActualLine:
    """A take against its plan. ``differences`` in words; ``stops`` in all, None without a plan."""

    key: int
    setup_key: int
    name: str
    at: str
    verdict: str
    differences: tuple[str, ...]
    stops: float | None
    size: float
    late: str
    wrote: str
    why: str
    note: str
    by: str
    bar: Bar | None

    @property
    def setup_gone(self) -> bool:
        """True where its setup was deleted or cannot be planned."""
        return self.stops is None


@dataclass(frozen=True, slots=True)
class ActualView:
    """Everything the page takes."""

    lines: tuple[ActualLine, ...]
    as_planned: int
    bars: tuple[Bar, ...]


def actual_view(shoot: Shoot) -> ActualView:
    """Plan against actual of a whole shoot."""
    lines = []
    specs = planned_setups(shoot)
    wrote = _written(shoot)
    for take in shoot.takes.all():
        spec, row = specs.get(take.setup_key, (None, None))
        found = None if spec is None else actual_of(spec, take.planned, take.differed)
        lines.append(_line(shoot, take, row, found, wrote.get(take.uid, [])))
    differ = sorted((one for one in lines if one.size > 0), key=lambda one: -one.size)
    rest = [one for one in lines if one.size <= 0]
    bars = tuple(one.bar for one in differ if one.bar is not None)
    return ActualView((*differ, *rest), len(rest), bars)


def _written(shoot: Shoot) -> dict[str, list[dict[str, Any]]]:
    found: dict[str, list[dict[str, Any]]] = {}
    for take_uid, wrote in shoot.pictures.values_list("take_uid", "wrote"):
        found.setdefault(take_uid, []).append(wrote)
    return found


def _line(
    shoot: Shoot, take: Take, row: Setup | None, found: Actual | None, wrote: list[dict[str, Any]]
) -> ActualLine:
    zone = shoot.main_place.zone
    at = take.at.astimezone(zone)
    parts = () if found is None else tuple(
        (by_name()[one.name].label, one.stops) for one in found.differences if one.stops
    )  # fmt: skip
    bar = None
    if found is not None and parts:
        bar = Bar(str(take), parts, found.stops, take.verdict == "good")
    said = _wrote_words(found, wrote)
    return ActualLine(
        take.pk, take.setup_key, str(take), f"{at:%a %H:%M}", take.get_verdict_display(),
        () if found is None else tuple(words_of(one) for one in found.differences),
        None if found is None else found.stops, 0.0 if found is None else found.size,
        _late(take, row), said, ", ".join(take.why), take.note, take.by_name, bar,
    )  # fmt: skip


def words_of(one: Difference) -> str:
    """A difference as people say it."""
    label = by_name()[one.name].label
    if one.mired:
        side = "warmer" if one.mired > 0 else "bluer"
        moved = loose(
            f"{abs(one.mired):.0f} mired", "take.mired", from_k=one.done_k, to_k=one.planned_k
        )
        return f"{label} {one.actual}, planned {one.planned}: {moved} {side}"
    return f"{label} {one.actual}, planned {one.planned}: {moved_words(one)}"


def moved_words(one: Difference) -> str:
    """What a setting that was set otherwise does to the exposure."""
    return loose(
        f"{n.format_signed(one.stops)} stops", "take.moved_stops", done_stops=one.done_stops,
        planned_stops=one.planned_stops,
    )  # fmt: skip


def _late(take: Take, row: Setup | None) -> str:
    """How far the clock was from the planned hour, where it was."""
    if row is None or row.planned_time is None:
        return ""
    at = take.at.astimezone(row.place.zone)
    if at.date() != row.day.date:
        return ""
    planned = row.planned_time.hour * 60 + row.planned_time.minute
    was = at.hour * 60 + at.minute
    off = late_min(was, planned)
    if abs(off) < LATE_MIN:
        return ""
    side = "after" if off > 0 else "before"
    led = loose(f"{abs(off):.0f} min", "take.late", at_clock_min=was, planned_clock_min=planned)
    return f"{led} {side} {row.planned_time:%H:%M}"


def _wrote_words(found: Actual | None, wrote: list[dict[str, Any]]) -> str:
    if found is None:
        return ""
    for one in wrote:
        stops = exposed_stops(found.done, one)
        if stops is not None and abs(stops) >= WROTE_OTHERWISE_STOPS:
            done = found.done
            led = loose(
                f"{n.format_signed(stops)} stops", "take.written_stops",
                time_s=one["exposure_s"], set_time_s=done.time_s, f_number=one["f_number"],
                set_f_number=done.iris, iso=one["iso"], set_iso=done.iso,
            )  # fmt: skip
            return f"the camera wrote {led} against the log"
    return ""
