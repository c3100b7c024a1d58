"""Takes logged, changed and dropped, each a step to undo; light that was read and what it moves."""

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from datetime import datetime, timedelta
from typing import Any

from django.contrib.auth.models import User
from django.db import transaction
from django.db.models import Count, Max, Q
from django.utils import timezone

from fotonomy.core.constants import EV_RANGE
from fotonomy.core.errors import RuleError
from fotonomy.core.notation.texts import kept_text
from fotonomy.core.photometry.exposure_value import Ev100, ev100_of
from fotonomy.core.spec.changes import Change, applied
from fotonomy.field.models import LONGEST_TAKE_S, VERDICTS, Take
from fotonomy.shoots import history
from fotonomy.shoots.history_rows import key_of, part_snapshot
from fotonomy.shoots.mapping import fresh_row, snapshot, spec_of, write_spec
from fotonomy.shoots.models import Deleted, Setup, Shoot
from fotonomy.shoots.packed_kit import packed_kit
from fotonomy.shoots.services.quotas import MOST_LIGHT_READINGS
from fotonomy.shoots.services.shoots import keep_reading
from fotonomy.shoots.write_lock import in_turn

MOST_TAKES = 5000
# A clock that is off by less is right.
CLOCK_RIGHT_S = 90.0
# What may be changed of a take afterwards.
CHANGEABLE = ("verdict", "differed", "why", "clip", "card", "length_s", "note")
MOST_WHY, LONGEST_WHY = 12, 24
LONGEST_SETTING, LONGEST_NOTE = 40, 1000


@dataclass(frozen=True, slots=True, kw_only=True)
class TakeEntry:
    """A take as it was logged. ``at`` by the clock it was logged with, which said ``sent_at``
    when the take was sent; None where the server's own clock was asked.
    """

    uid: str
    verdict: str
    at: datetime
    sent_at: datetime | None = None
    planned: Mapping[str, str] = field(default_factory=dict)
    differed: Mapping[str, str] = field(default_factory=dict)
    why: tuple[str, ...] = ()
    clip: str = ""
    card: str = ""
    length_s: float | None = None
    note: str = ""

    def __post_init__(self) -> None:
        if not 1 <= len(self.uid) <= 36:
            raise RuleError("uid", "names this take", self.uid)
        check_take(
            verdict=self.verdict,
            why=self.why,
            clip=self.clip,
            card=self.card,
            note=self.note,
            length_s=self.length_s,
        )


class GoneError(ValueError):
    """What was sent belongs to nothing here any more; the words say what became of it."""


def check_take(**given: Any) -> None:
    """Hold parts of a take to their rules. Raises RuleError naming the field."""
    if "verdict" in given and given["verdict"] not in dict(VERDICTS):
        raise RuleError("verdict", "good, maybe or no good", given["verdict"])
    for name, most in (
        ("clip", LONGEST_SETTING), ("card", LONGEST_SETTING), ("note", LONGEST_NOTE),
    ):  # fmt: skip
        kept_text(name, given.get(name, ""), most)
    length = given.get("length_s")
    if length is not None and not 0 <= length <= LONGEST_TAKE_S:
        raise RuleError("length", "a length up to 48 hours, such as 0:14", length)
    why = given.get("why", ())
    kept_text("why", "".join(why), LONGEST_NOTE)
    if len(why) > MOST_WHY or any(not 1 <= len(one) <= LONGEST_WHY for one in why):
        raise RuleError("why", f"at most {MOST_WHY} reasons of {LONGEST_WHY} characters", None)


@in_turn()
@transaction.atomic
def log_take(shoot: Shoot, setup_key: int, setup_name: str, entry: TakeEntry) -> Take:
    """Keep a take, once: the same id a second time gives the take that is there.

    A phone's clock that is off is put right by what it said when it sent. Raises RuleError, and
    GoneError for one that was deleted since.
    """
    # Two people who log at once each get a number of their own.
    was_deleted = history.lock(shoot, Deleted.take(entry.uid))
    there = shoot.takes.aggregate(
        known=Max("pk", filter=Q(uid=entry.uid)), count=Count("pk"),
        number=Max("number", filter=Q(setup_key=setup_key)),
    )  # fmt: skip
    if there["known"] is not None:
        return Take.objects.get(pk=there["known"])
    if was_deleted:
        raise GoneError(f"this take of {setup_name} was kept and then deleted; undo brings it back")
    if there["count"] >= MOST_TAKES:
        raise RuleError("take", f"a shoot takes {MOST_TAKES} takes at most", None)
    now = timezone.now()
    off = clock_off_s(entry.sent_at, now)
    author = shoot.actor.author
    take = Take.objects.create(
        shoot=shoot, uid=entry.uid, setup_key=setup_key, setup_name=setup_name[:100],
        number=(there["number"] or 0) + 1,
        verdict=entry.verdict, at=entry.at - timedelta(seconds=off), kept_at=now,
        clock_off_s=off, by=author, by_name=_name_of(author),
        planned=dict(entry.planned), differed=dict(entry.differed), why=list(entry.why),
        clip=entry.clip, card=entry.card, length_s=entry.length_s, note=entry.note,
    )  # fmt: skip
    history.record(
        shoot, f"{take} logged", {key_of(take): None}, {key_of(take): part_snapshot(take)}
    )
    return take


def clock_off_s(sent_at: datetime | None, now: datetime) -> float:
    """By how many seconds the clock that said ``sent_at`` is ahead; 0 where it is right."""
    off = 0.0 if sent_at is None else (sent_at - now).total_seconds()
    return off if abs(off) >= CLOCK_RIGHT_S else 0.0


def is_take(key: int | str) -> bool:
    """True for what the log calls a take."""
    return isinstance(key, str) and key.startswith(f"{Take.__name__.lower()}-")


def _name_of(author: User | None) -> str:
    return "" if author is None else author.get_username()[:80]


@in_turn()
@transaction.atomic
def change_take(take: Take, given: Mapping[str, Any]) -> Take:
    """Change some of a take; what is not named stays. Raises RuleError and Take.DoesNotExist."""
    shoot = take.shoot
    row = Take.objects.select_for_update().get(pk=take.pk, shoot=shoot)
    row.shoot = shoot
    before = part_snapshot(row)
    named = {name: value for name, value in given.items() if name in CHANGEABLE}
    check_take(**named)
    for name, value in named.items():
        setattr(row, name, value)
    row.save()
    history.record(
        shoot, f"{row} changed", {key_of(row): before}, {key_of(row): part_snapshot(row)}
    )
    return row


@in_turn()
@transaction.atomic
def drop_take(take: Take) -> None:
    """Delete a take; one step to undo."""
    shoot, key, before = take.shoot, key_of(take), part_snapshot(take)
    label = f"{take} deleted"
    take.delete()
    history.record(shoot, label, {key: before}, {key: None})


@in_turn()
@transaction.atomic
def put_light(
    row: Setup,
    ev100: float,
    changes: tuple[Change, ...],
    now: datetime,
    others: tuple[int, ...] = (),
) -> tuple[Setup, int]:
    """The light that was read at a setup, and what is set for it; one step to undo.

    The reading is kept at the place with its moment. ``others`` are setups whose light moves by as
    many stops. How many of them did. Raises RuleError and Setup.DoesNotExist.
    """
    row = fresh_row(row)
    shoot, packed = row.shoot, packed_kit(row.shoot)
    before: history.Snapshots = {str(row.pk): snapshot(row)}
    spec = spec_of(row, packed)
    moved = ev100 - ev100_of(spec.light)
    spec = applied(_lit(spec, ev100), changes)
    write_spec(row, spec)
    row.summary = None
    row.save()
    after: history.Snapshots = {str(row.pk): snapshot(row)}
    rows = Setup.objects.select_for_update(of=("self",)).filter(shoot=shoot, pk__in=others)
    for other in rows.exclude(pk=row.pk).planned():
        other.shoot = shoot
        before[str(other.pk)] = snapshot(other)
        own = spec_of(other, packed)
        if own.lamps:
            del before[str(other.pk)]
            continue
        write_spec(other, _lit(own, ev100_of(own.light) + moved))
        other.summary = None
        other.save()
        after[str(other.pk)] = snapshot(other)
    moved_others = len(after) - 1
    if row.place.light_readings.count() >= MOST_LIGHT_READINGS:
        # Nobody on a quay can tidy a list: the oldest makes room, and undo brings it back.
        oldest = row.place.light_readings.earliest("at")
        before[key_of(oldest)], after[key_of(oldest)] = part_snapshot(oldest), None
        oldest.delete()
    kept = keep_reading(row.place, now, round(ev100, 2))
    before[key_of(kept)], after[key_of(kept)] = None, part_snapshot(kept)
    history.record(shoot, f"light read at {row}", before, after)
    return row, moved_others


def _lit(spec: Any, ev100: float) -> Any:
    low, high = EV_RANGE
    ev = Ev100(round(min(high, max(low, ev100)), 1))
    return replace(spec, light=ev, light_said=True)
