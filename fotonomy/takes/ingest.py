"""Stills brought home: kept as small copies, and put to their takes by the clock."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from hashlib import sha256
from uuid import uuid4

from django.db import transaction
from django.db.models import Count, Max, Q
from django.utils import timezone

from fotonomy.core.errors import RuleError
from fotonomy.core.notation.texts import without_unkeepable
from fotonomy.core.spec.setup import Setup as Spec
from fotonomy.core.takes.actual import written_texts
from fotonomy.core.takes.grouping import Group, Shot, grouped
from fotonomy.core.takes.matching import ClockOffset, Match, Taken, clock_offset, match
from fotonomy.exchange.pictures import Preview
from fotonomy.field.intake import planned_texts
from fotonomy.field.models import LONGEST_TAKE_S, CameraBody, PictureData, Take, TakePicture
from fotonomy.field.services import MOST_TAKES
from fotonomy.kit.models import Body
from fotonomy.kit.quotas import room_for_bytes
from fotonomy.shoots import history
from fotonomy.shoots.history_rows import key_of, part_snapshot
from fotonomy.shoots.mapping import planned_setups
from fotonomy.shoots.models import Setup, Shoot
from fotonomy.shoots.write_lock import in_turn

# A copy of a still that was brought home: enough to know it by.
COPY_PX = 480
MOST_PICTURES = 3000
# Adding up what a person keeps takes longer than taking a picture in: it is done now and then.
ROOM_ASKED_EVERY = 10


# What a picture has for its take's id when somebody left it out: it belongs to none, and stays.
LEFT_OUT = "-"


@dataclass(frozen=True, slots=True)
class Camera:
    """The pictures of one camera, known by its number, else by its model ("" where it wrote none).

    ``said_s`` is the offset that its pictures' own zone says, None where they say none; ``found``
    the one that most of them agree on.
    """

    serial: str
    pictures: tuple[TakePicture, ...]
    said_s: float | None
    found: ClockOffset | None

    @property
    def model(self) -> str:
        """What the camera calls itself; "" where its files do not say."""
        return str(self.pictures[0].wrote.get("model", ""))

    @property
    def offset_s(self) -> float:
        """The offset to go by; 0 where nothing tells."""
        if self.said_s is not None:
            return self.said_s
        return self.found.seconds if self.found is not None else 0.0


@in_turn()
@transaction.atomic
def keep_still(shoot: Shoot, uid: str, name: str, found: Preview) -> TakePicture:
    """Keep a still or a film that belongs to no take yet, once; without a copy where it has none.

    No step to undo: it can be dropped again.

    Raises RuleError for too many, QuotaError for too much.
    """
    if not 1 <= len(uid) <= 36:
        raise RuleError("uid", "names this picture", uid)
    Shoot.objects.select_for_update().get(pk=shoot.pk)
    known = TakePicture.objects.filter(shoot=shoot, uid=uid).first()
    if known is not None:
        return known
    count = shoot.pictures.count()
    if count >= MOST_PICTURES:
        raise RuleError("picture", f"a shoot takes {MOST_PICTURES} pictures at most", None)
    digest = sha256(found.jpeg).hexdigest() if found.jpeg else ""
    if digest:
        PictureData.objects.get_or_create(shoot=shoot, sha256=digest, defaults={"jpeg": found.jpeg})
    if count % ROOM_ASKED_EVERY == 0:
        room_for_bytes(shoot.owner)
    return TakePicture.objects.create(
        shoot=shoot, uid=uid, take_uid="", sha256=digest, name=without_unkeepable(name)[:80],
        width=found.width,
        height=found.height, wrote=found.wrote, kept_at=timezone.now(),
    )  # fmt: skip


def taken_at(row: TakePicture) -> datetime | None:
    """What the camera's clock said, without a zone; None where it wrote nothing."""
    try:
        return datetime.fromisoformat(row.wrote["taken"])
    except (KeyError, ValueError, TypeError):
        return None


def _seconds(moment: datetime) -> float:
    """Seconds of a clock without a zone, from any moment that all of them share."""
    return (moment.replace(tzinfo=None) - datetime(2000, 1, 1)).total_seconds()  # noqa: DTZ001


def takes_of(shoot: Shoot, serial: str | None = None) -> tuple[Taken, ...]:
    """The takes as the clock of the shoot's first place knows them.

    Of a camera whose body is known those alone that were planned with this body, if any were.
    """
    zone = shoot.main_place.zone
    takes = list(shoot.takes.all())
    body = None if serial is None else bodies_of(shoot).get(serial)
    if body is not None:
        with_it = set(shoot.setups.filter(body=body).values_list("pk", flat=True))
        takes = [take for take in takes if take.setup_key in with_it] or takes
    return tuple(
        Taken(take.uid, _seconds(take.at.astimezone(zone)), take.length_s or 0.0) for take in takes
    )


def bodies_of(shoot: Shoot) -> dict[str, Body]:
    """The bodies that cameras are, by their numbers."""
    rows = CameraBody.objects.filter(owner=shoot.owner).select_related("body")
    return {row.serial: row.body for row in rows}


@in_turn()
@transaction.atomic
def keep_bodies(shoot: Shoot, wanted: Mapping[str, int | None]) -> None:
    """Say which body a camera is, by its number; None forgets it. Only bodies of the owner."""
    for serial, body_id in wanted.items():
        rows = CameraBody.objects.filter(owner=shoot.owner, serial=serial)
        body = Body.objects.filter(owner=shoot.owner, pk=body_id).first() if body_id else None
        if body is None:
            rows.delete()
        else:
            CameraBody.objects.update_or_create(
                owner=shoot.owner, serial=serial[:40], defaults={"body": body}
            )


def cameras_of(shoot: Shoot, rows: Iterable[TakePicture]) -> tuple[Camera, ...]:
    """The cameras of pictures that a clock stands on, each with its offset."""
    groups: dict[str, list[TakePicture]] = {}
    for row in rows:
        if taken_at(row) is not None:
            groups.setdefault(camera_key(row), []).append(row)
    return tuple(
        Camera(
            serial,
            tuple(pictures),
            _said_s(shoot, pictures),
            clock_offset([_clock(row) for row in pictures], takes_of(shoot, serial)),
        )
        for serial, pictures in sorted(groups.items())
    )


def camera_key(row: TakePicture) -> str:
    """What the camera of a picture is known by: its number, else its model, else nothing."""
    return str(row.wrote.get("serial") or row.wrote.get("model") or "")


def _clock(row: TakePicture) -> float:
    taken = taken_at(row)
    assert taken is not None
    return _seconds(taken)


def _said_s(shoot: Shoot, pictures: list[TakePicture]) -> float | None:
    """The difference between the zone that the pictures say and that of the place."""
    zones = {row.wrote.get("offset") for row in pictures}
    if len(zones) != 1 or None in zones:
        return None
    taken = taken_at(pictures[0])
    assert taken is not None
    there = taken.replace(tzinfo=shoot.main_place.zone).utcoffset()
    said = datetime.fromisoformat(f"{taken.isoformat()}{zones.pop()}").utcoffset()
    if there is None or said is None:
        return None
    return (said - there).total_seconds()


def found_match(row: TakePicture, takes: tuple[Taken, ...], offset_s: float) -> Match:
    """Where a picture belongs by a clock that is so far ahead; nothing where it has no clock."""
    taken = taken_at(row)
    return Match("", ()) if taken is None else match(_seconds(taken) - offset_s, takes)


def groups_of(
    shoot: Shoot, rows: Iterable[TakePicture], typed: Mapping[str, float]
) -> tuple[Group, ...]:
    """Pictures in groups by their clocks put right, each with the take that it lies in.

    ``typed`` are offsets in seconds by camera, for those whose clock somebody knows.
    """
    rows = list(rows)
    offsets = {one.serial: one.offset_s for one in cameras_of(shoot, rows)} | dict(typed)
    takes: dict[str, tuple[Taken, ...]] = {}
    shots = []
    for row in rows:
        key = camera_key(row)
        if key not in takes:
            takes[key] = takes_of(shoot, key)
        offset = offsets.get(key, 0.0)
        at = None if taken_at(row) is None else _clock(row) - offset
        shots.append(Shot(row.pk, at, key, found_match(row, takes[key], offset).uid))
    return grouped(shots)


def moment_of(shoot: Shoot, seconds: float) -> datetime:
    """A clock that was put right as a moment in the zone of the shoot's first place."""
    clock = datetime(2000, 1, 1) + timedelta(seconds=seconds)  # noqa: DTZ001
    return clock.replace(tzinfo=shoot.main_place.zone)


@dataclass(frozen=True, slots=True)
class Decision:
    """Where pictures go, by their ids: to a take by its id, "" for none, ``LEFT_OUT``, or to a new
    take of the setup with the id ``new_of``; ``at_s`` and ``length_s`` are then those of the take.
    """

    pictures: tuple[int, ...]
    take: str = ""
    new_of: int | None = None
    at_s: float | None = None
    length_s: float = 0.0


@dataclass(frozen=True, slots=True)
class Brought:
    """How many pictures went to takes, how many takes are new, how many pictures were left out."""

    put: int
    new: int
    left_out: int


@in_turn()
@transaction.atomic
def put_to_takes(shoot: Shoot, decisions: Sequence[Decision], label: str) -> Brought:
    """Put pictures where somebody decided, new takes included; all of it one step to undo.

    A decision about a take or a setup that is not there any more moves nothing. Raises RuleError
    for more takes than a shoot has.
    """
    known = {"", LEFT_OUT, *Take.objects.filter(shoot=shoot).values_list("uid", flat=True)}
    specs = planned_setups(shoot) if any(one.new_of is not None for one in decisions) else {}
    rows = {
        row.pk: row
        for row in TakePicture.objects.select_for_update().filter(
            shoot=shoot, pk__in=[pk for one in decisions for pk in one.pictures]
        )
    }
    before: history.Snapshots = {}
    after: history.Snapshots = {}
    moved, put, new, left_out = [], 0, 0, 0
    for one in decisions:
        own = [rows[pk] for pk in one.pictures if pk in rows]
        uid = one.take
        if one.new_of is not None:
            if one.new_of not in specs or not own:
                continue
            take = _new_take(shoot, *specs[one.new_of], one, own)
            before[key_of(take)], after[key_of(take)] = None, part_snapshot(take)
            uid, new = take.uid, new + 1
        elif uid not in known:
            continue
        for row in own:
            if row.take_uid == uid:
                continue
            before[key_of(row)] = part_snapshot(row)
            row.take_uid = uid
            after[key_of(row)] = part_snapshot(row)
            moved.append(row)
            put, left_out = put + (uid not in ("", LEFT_OUT)), left_out + (uid == LEFT_OUT)
    TakePicture.objects.bulk_update(moved, ["take_uid"], batch_size=500)
    history.record(shoot, label, before, after)
    return Brought(put, new, left_out)


def _new_take(
    shoot: Shoot, spec: Spec, row: Setup, one: Decision, pictures: list[TakePicture]
) -> Take:
    """A take that nobody logged, as its pictures say it: when, how long, and set to what."""
    there = shoot.takes.aggregate(
        count=Count("pk"), number=Max("number", filter=Q(setup_key=row.pk))
    )
    if there["count"] >= MOST_TAKES:
        raise RuleError("take", f"a shoot takes {MOST_TAKES} takes at most", None)
    now = timezone.now()
    wrote = pictures[len(pictures) // 2].wrote
    author = shoot.actor.author
    return Take.objects.create(
        shoot=shoot, uid=str(uuid4()), setup_key=row.pk, setup_name=str(row)[:100],
        number=(there["number"] or 0) + 1, verdict="maybe",
        at=now if one.at_s is None else moment_of(shoot, one.at_s), kept_at=now,
        by=author, by_name="" if author is None else author.get_username()[:80],
        planned=planned_texts(spec), differed=written_texts(spec, wrote),
        length_s=min(one.length_s, LONGEST_TAKE_S) or None, note="logged from its pictures",
    )  # fmt: skip


def match_all(shoot: Shoot, typed: Mapping[str, float]) -> int:
    """Put every picture that belongs to no take to the one its clock says. How many were put."""
    groups = groups_of(shoot, shoot.pictures.filter(take_uid=""), typed)
    decisions = [
        Decision(tuple(shot.key for shot in group.shots), group.take)
        for group in groups if group.take
    ]  # fmt: skip
    count = sum(len(one.pictures) for one in decisions)
    return put_to_takes(shoot, decisions, f"{count} pictures matched to takes").put


@in_turn()
@transaction.atomic
def drop_unplaced(shoot: Shoot) -> int:
    """Drop every picture that belongs to no take, and the copies nobody else uses."""
    count, _ = shoot.pictures.filter(take_uid__in=["", LEFT_OUT]).delete()
    kept = shoot.pictures.values_list("sha256", flat=True)
    # Copies of pictures that undo could bring back stay: those were of takes.
    gone = shoot.picture_data.exclude(sha256__in=list(kept))
    undone = {
        value.get("sha256")
        for fields in shoot.changes.values_list("fields", flat=True)
        for key, _, *values in fields if str(key).startswith("takepicture-")
        for value in values if isinstance(value, dict)
    }  # fmt: skip
    gone.exclude(sha256__in=[one for one in undone if one]).delete()
    return count
