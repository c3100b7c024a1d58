"""The camera report: a row a take, by card, as it goes with the cards."""

from dataclasses import dataclass

from fotonomy.core.notation import writing as n
from fotonomy.core.parsing.table import by_name
from fotonomy.core.takes.actual import SET
from fotonomy.field.models import Take
from fotonomy.shoots.models import Shoot

MOST_TAKES = 1000


@dataclass(frozen=True, slots=True)
class ReportRow:
    """A take: when, what, how long, how it was set, what was thought of it."""

    at: str
    name: str
    clip: str
    length: str
    verdict: str
    settings: str
    differed: str
    remarks: str


@dataclass(frozen=True, slots=True)
class ReportCard:
    """A card with its takes."""

    name: str
    rows: tuple[ReportRow, ...]
    good: int


@dataclass(frozen=True, slots=True)
class ReportView:
    """Everything the paper takes."""

    cards: tuple[ReportCard, ...]
    left_out: int
    zone: str


def report_view(shoot: Shoot) -> ReportView:
    """The takes of a shoot by card, in order of time."""
    takes = list(shoot.takes.all())
    zone = shoot.main_place.zone
    cards: dict[str, list[Take]] = {}
    for take in takes[:MOST_TAKES]:
        cards.setdefault(take.card, []).append(take)
    return ReportView(
        tuple(
            ReportCard(
                name or "no card named",
                tuple(_row(take, f"{take.at.astimezone(zone):%d.%m. %H:%M}") for take in own),
                sum(take.verdict == "good" for take in own),
            )
            for name, own in cards.items()
        ),
        max(0, len(takes) - MOST_TAKES), str(zone),
    )  # fmt: skip


def _row(take: Take, at: str) -> ReportRow:
    done = {**take.planned, **take.differed}
    differed = ", ".join(
        f"{by_name()[name].label} {text} for {take.planned.get(name, '?')}"
        for name, text in take.differed.items() if name in by_name()
    )  # fmt: skip
    remarks = ". ".join(one for one in (", ".join(take.why), take.note) if one)
    return ReportRow(
        at, str(take), take.clip, n.format_duration(take.length_s) if take.length_s else "–",
        take.get_verdict_display(), " · ".join(done[name] for name in SET if done.get(name)),
        differed, remarks,
    )  # fmt: skip
