"""Pictures of takes: kept as previews, once each, and steps to undo like the takes."""

from collections.abc import Mapping
from dataclasses import astuple, dataclass
from hashlib import sha256
from typing import Any

import numpy as np
from django.contrib.auth.models import User
from django.db import transaction
from django.db.models import Count, Max, Q
from django.db.models.expressions import Combinable
from django.db.models.functions import Length
from django.utils import timezone
from numpy.typing import NDArray

from fotonomy.core.errors import RuleError
from fotonomy.core.notation.texts import kept_text, without_unkeepable
from fotonomy.core.pictures.patches import Tiles, packed, tiles_of, unpacked
from fotonomy.core.pictures.points import Point, points_of
from fotonomy.exchange.pictures import Preview, read_luma, read_pixels, read_png16, write_png
from fotonomy.field.models import PictureData, Take, TakePicture
from fotonomy.kit.quotas import room_for_bytes, summed
from fotonomy.shoots import history
from fotonomy.shoots.history_rows import key_of, part_snapshot
from fotonomy.shoots.models import Shoot
from fotonomy.shoots.write_lock import in_turn

MOST_A_TAKE = 6


@dataclass(frozen=True, slots=True)
class Looked:
    """What a picture itself said: its tiles as a PNG, its bright points as numbers."""

    tiles: bytes
    points: list[list[float]]


def look_at(raw: bytes, name: str) -> Looked | None:
    """Look at a whole picture; None where it is too large. Raises ExchangeError."""
    luma = read_luma(raw, name)
    if luma is None:
        return None
    points = [
        [round(value, 2) for value in astuple(point)] for point in points_of(luma)
    ]  # fmt: skip
    return Looked(write_png(packed(tiles_of(luma))), points)


def tiles_kept(row: TakePicture) -> Tiles | None:
    """The tiles of a picture; None where it was not looked at."""
    data = PictureData.objects.filter(shoot_id=row.shoot_id, sha256=row.sha256).first()
    if data is None or not data.tiles:
        return None
    return unpacked(read_png16(bytes(data.tiles)), row.width)


def points_kept(row: TakePicture) -> tuple[Point, ...]:
    """The bright points of a picture."""
    data = PictureData.objects.filter(shoot_id=row.shoot_id, sha256=row.sha256).first()
    return tuple(Point(*numbers) for numbers in data.points) if data is not None else ()


def picture_bytes(owner: User) -> Combinable:
    """The bytes of the previews in a person's shoots, as part of a query."""
    return summed(PictureData, owner, Length("jpeg"), of="shoot__owner")


@in_turn()
@transaction.atomic
def keep_picture(
    take: Take, uid: str, name: str, found: Preview, looked: Looked | None = None
) -> TakePicture:
    """Keep a picture with a take, once: the same id a second time gives the one that is there.

    ``looked`` is what the picture itself said, before all but its preview was let go.

    Raises RuleError for too many, QuotaError for too much.
    """
    shoot = take.shoot
    history.lock(shoot)
    if not len(kept_text("uid", uid, 36)) >= 1:
        raise RuleError("uid", "names this picture", uid)
    there = shoot.pictures.aggregate(
        known=Max("pk", filter=Q(uid=uid)), count=Count("pk", filter=Q(take_uid=take.uid)),
    )  # fmt: skip
    if there["known"] is not None:
        return TakePicture.objects.get(pk=there["known"])
    if there["count"] >= MOST_A_TAKE:
        raise RuleError("picture", f"a take has {MOST_A_TAKE} pictures at most", None)
    digest = sha256(found.jpeg).hexdigest()
    seen = {} if looked is None else {"tiles": looked.tiles, "points": looked.points}
    data = PictureData(shoot=shoot, sha256=digest, jpeg=found.jpeg, **seen)
    # The same preview again is kept once.
    PictureData.objects.bulk_create([data], ignore_conflicts=True)
    room_for_bytes(shoot.owner)
    row = TakePicture.objects.create(
        shoot=shoot, uid=uid, take_uid=take.uid, sha256=digest,
        name=without_unkeepable(name)[:80],
        width=found.width, height=found.height, wrote=found.wrote, kept_at=timezone.now(),
    )  # fmt: skip
    history.record(
        shoot, f"picture of {take}", {key_of(row): None}, {key_of(row): part_snapshot(row)}
    )
    return row


@in_turn()
@transaction.atomic
def drop_picture(row: TakePicture) -> None:
    """Take a picture from its take; one step to undo, its preview stays till then."""
    shoot, key, before = row.shoot, key_of(row), part_snapshot(row)
    row.delete()
    history.record(shoot, "picture removed", {key: before}, {key: None})


@in_turn()
@transaction.atomic
def mark_picture(row: TakePicture, marks: dict[str, Any]) -> None:
    """Keep where the readings of a picture are; one step to undo."""
    shoot = row.shoot
    kept = TakePicture.objects.select_for_update().get(pk=row.pk, shoot=shoot)
    before = part_snapshot(kept)
    kept.marks = marks
    kept.save(update_fields=["marks"])
    row.marks = marks
    history.record(
        shoot, f"areas of {kept}", {key_of(kept): before}, {key_of(kept): part_snapshot(kept)}
    )


@in_turn()
@transaction.atomic
def rate_pictures(shoot: Shoot, ratings: Mapping[int, int]) -> int:
    """Rate pictures by their ids, -1 to 5; one step to undo. How many changed."""
    before: history.Snapshots = {}
    after: history.Snapshots = {}
    for row in TakePicture.objects.select_for_update().filter(shoot=shoot, pk__in=list(ratings)):
        rating = min(5, max(-1, ratings[row.pk]))
        if rating == row.rating:
            continue
        before[key_of(row)] = part_snapshot(row)
        row.rating = rating
        row.save(update_fields=["rating"])
        after[key_of(row)] = part_snapshot(row)
    if after:
        history.record(shoot, "keeper chosen", before, after)
    return len(after)


def pixels_of(row: TakePicture) -> NDArray[np.uint8] | None:
    """The preview of a picture, ``(rows, columns, 3)``; None where it is gone."""
    data = PictureData.objects.filter(shoot_id=row.shoot_id, sha256=row.sha256).first()
    return None if data is None else read_pixels(bytes(data.jpeg))
