"""Every take of a shoot against its plan, the largest differences first; and what was kept."""

from dataclasses import dataclass
from typing import Any

from fotonomy.core.notation import writing as n
from fotonomy.core.parsing.table import by_name
from fotonomy.core.takes.actual import (
    Actual,
    Difference,
    actual_of,
    exposed_stops,
    late_min,
    text_of,
    written_off,
    written_texts,
)
from fotonomy.field.models import Take, TakePicture
from fotonomy.field.presenters.takes import VERDICT_MARKS
from fotonomy.figures.takes.actual import Bar
from fotonomy.shoots.mapping import planned_setups
from fotonomy.shoots.models import Setup, Shoot
from fotonomy.shoots.presenters.working import loose

# A camera that wrote down another exposure than the log says, by so much, is told.
WROTE_OTHERWISE_STOPS = 0.2
LATE_MIN = 10


@dataclass(frozen=True, slots=True)
class SetChip:
    """A setting that was not as planned: its name, from what to what, what that does, by whom.

    ``by`` is "log" or "camera".
    """

    label: str
    planned: str
    actual: str
    moved: str
    by: str


@dataclass(frozen=True, slots=True)
class ActualLine:
    """A take against its plan. ``differences`` in words; ``stops`` in all, None without a plan.

    ``mark`` is its verdict's sign. ``chips`` are the settings that were otherwise than planned, by
    the log and by what the camera wrote.
    """

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
    number: int = 1
    mark: str = ""
    chips: tuple[SetChip, ...] = ()

    @property
    def as_planned(self) -> bool:
        """True where neither the log nor the camera says otherwise, and there is a plan."""
        return self.stops is not None and self.size <= 0 and not self.chips and not self.wrote

    @property
    def setup_gone(self) -> bool:
        """True where its setup was deleted or cannot be planned."""
        return self.stops is None


@dataclass(frozen=True, slots=True)
class SetupLine:
    """A setup with its takes: its best picture's id, None without one, and the takes in order."""

    key: int
    name: str
    picture: int | None
    pictures: int
    gone: bool
    takes: tuple[ActualLine, ...]

    @property
    def size(self) -> float:
        """The largest difference of its takes."""
        return max(one.size for one in self.takes)


@dataclass(frozen=True, slots=True)
class ActualView:
    """Everything the page takes: takes by size of their difference, and the same by setup.

    ``otherwise`` are those that somebody logged as set otherwise; ``written`` those of the rest
    whose camera wrote otherwise; ``planless`` have no plan any more.
    """

    lines: tuple[ActualLine, ...]
    setups: tuple[SetupLine, ...]
    as_planned: int
    otherwise: int
    written: int
    planless: int
    bars: tuple[Bar, ...]

    @property
    def summary(self) -> str:
        """How many takes there are, and how many were set as planned or otherwise."""
        takes, setups = len(self.lines), len(self.setups)
        parts = [
            f"{self.as_planned} set as planned", f"{self.otherwise} logged as set otherwise",
            f"{self.written} where the camera wrote otherwise" if self.written else "",
            f"{self.planless} without a plan any more" if self.planless else "",
        ]  # fmt: skip
        many = f"{takes} take{'s' * (takes != 1)} of {setups} setup{'s' * (setups != 1)}"
        return f"{many}: {', '.join(filter(None, parts))}."


def actual_view(shoot: Shoot) -> ActualView:
    """Plan against actual of a whole shoot."""
    lines = []
    specs = planned_setups(shoot)
    pictures = _pictures(shoot)
    takes = list(shoot.takes.all())
    for take in takes:
        spec, row = specs.get(take.setup_key, (None, None))
        found = None if spec is None else actual_of(spec, take.planned, take.differed)
        wrote = [picture.wrote for picture in pictures.get(take.uid, [])]
        lines.append(_line(shoot, take, row, found, wrote))
    differ = sorted((one for one in lines if one.size > 0), key=lambda one: -one.size)
    rest = [one for one in lines if one.size <= 0]
    bars = tuple(one.bar for one in differ if one.bar is not None)
    return ActualView(
        (*differ, *rest), _setups(takes, lines, pictures), sum(one.as_planned for one in lines),
        sum(one.size > 0 for one in lines),
        sum(one.size <= 0 and not one.as_planned and one.stops is not None for one in lines),
        sum(one.stops is None for one in lines), bars,
    )  # fmt: skip


def _setups(
    takes: list[Take], lines: list[ActualLine], pictures: dict[str, list[TakePicture]]
) -> tuple[SetupLine, ...]:
    """The takes by setup, the largest differences first, else by the first take of each."""
    by_setup: dict[int, list[tuple[Take, ActualLine]]] = {}
    for take, line in zip(takes, lines, strict=True):
        by_setup.setdefault(take.setup_key, []).append((take, line))
    found = []
    for key, pairs in by_setup.items():
        own = [(take, picture) for take, _ in pairs for picture in pictures.get(take.uid, [])]
        best = max(
            (pair for pair in own if pair[1].sha256),
            key=lambda pair: (pair[1].rating, pair[0].verdict == "good", -pair[1].pk),
            default=None,
        )
        found.append(SetupLine(
            key, pairs[0][0].setup_name, None if best is None else best[1].pk, len(own),
            pairs[0][1].setup_gone, tuple(line for _, line in pairs),
        ))  # fmt: skip
    return tuple(sorted(found, key=lambda one: -one.size))


def _pictures(shoot: Shoot) -> dict[str, list[TakePicture]]:
    found: dict[str, list[TakePicture]] = {}
    for picture in shoot.pictures.exclude(take_uid=""):
        found.setdefault(picture.take_uid, []).append(picture)
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
        take.number, VERDICT_MARKS[take.verdict], () if found is None else _chips(found, wrote),
    )  # fmt: skip


def _chips(found: Actual, wrote: list[dict[str, Any]]) -> tuple[SetChip, ...]:
    """What was otherwise than planned: by the log, and by the camera where the log is silent."""
    chips = [
        SetChip(
            by_name()[one.name].label, one.planned, one.actual,
            f"{one.mired:+.0f} mired" if one.mired else moved_words(one), "log",
        )
        for one in found.differences
    ]  # fmt: skip
    logged = {one.name for one in found.differences}
    middle = wrote[len(wrote) // 2] if wrote else {}
    texts = written_texts(found.done, middle)
    for name, (_, stops) in written_off(found.done, middle).items():
        if name not in logged:
            chips.append(SetChip(
                by_name()[name].label, text_of(found.done, name), texts[name],
                f"{n.format_signed(stops)} stops", "camera",
            ))  # fmt: skip
    return tuple(chips)


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
