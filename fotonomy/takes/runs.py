"""The pictures of a take as a run of frames: looked at a part at a time, and put in their order."""

import re
from collections.abc import Iterable, Sequence
from datetime import datetime
from math import log2
from typing import Any

from django.db import transaction

from fotonomy.core.analysis.interval import noise_frame, remote_of
from fotonomy.core.pictures.frame_measure import Looker, Seen
from fotonomy.core.pictures.run import RunFrame, RunPlan
from fotonomy.core.spec.setup import Setup as Spec
from fotonomy.exchange.pictures import read_pixels
from fotonomy.field.models import FrameSeen, PictureData, Take, TakePicture
from fotonomy.shoots.write_lock import in_turn
from fotonomy.takes.ingest import taken_at

# So many are looked at in one request: under two seconds of work.
AT_ONCE = 60
# So many make a run; fewer are pictures of a take.
FEWEST = 3
_WIDEST_OPEN = 1.06
_VALUES = ("level_stops", "clipped_share", "right_share", "down_share", "changed_share")


def in_order(rows: Iterable[TakePicture]) -> list[TakePicture]:
    """Pictures by the camera's clock, then by name; those without a clock by name alone."""
    return sorted(rows, key=lambda row: (row.wrote.get("taken", ""), row.name, row.pk))


def frames_of(take: Take) -> list[TakePicture]:
    """The pictures of a take in their order, with what was seen in them."""
    rows = TakePicture.objects.filter(shoot=take.shoot, take_uid=take.uid).exclude(sha256="")
    return in_order(rows.select_related("seen"))


def seen_of(row: TakePicture, before: TakePicture | None) -> FrameSeen | None:
    """What was seen in a frame, if it was held to the one before it."""
    seen: FrameSeen | None = getattr(row, "seen", None)
    uid = before.uid if before is not None else ""
    return seen if seen is not None and seen.before_uid == uid else None


def unseen_of(rows: Sequence[TakePicture]) -> list[int]:
    """The places of the frames that are not looked at yet."""
    return [
        place for place, row in enumerate(rows)
        if seen_of(row, rows[place - 1] if place else None) is None
    ]  # fmt: skip


def see_some(take: Take, most: int = AT_ONCE) -> tuple[int, int]:
    """Look at some frames that nobody looked at yet: how many are done then, and of how many."""
    rows = frames_of(take)
    todo = unseen_of(rows)
    made, looker, last = [], Looker(), -2
    for place in todo[:most]:
        if place and last != place - 1:
            looker = Looker(read_pixels(_copy(rows[place - 1])))
        seen = looker.see(read_pixels(_copy(rows[place])))
        last = place
        made.append(FrameSeen(
            picture=rows[place], before_uid=rows[place - 1].uid if place else "",
            **{name: getattr(seen, name) for name in _VALUES},
        ))  # fmt: skip
    _keep(made)
    return len(rows) - len(todo) + len(made), len(rows)


def _copy(row: TakePicture) -> bytes:
    return bytes(PictureData.objects.get(shoot_id=row.shoot_id, sha256=row.sha256).jpeg)


@in_turn()
@transaction.atomic
def _keep(made: list[FrameSeen]) -> None:
    # Who was deleted meanwhile has nothing to be said of.
    left = set(
        TakePicture.objects.filter(pk__in=[one.picture_id for one in made]).values_list(
            "pk", flat=True
        )
    )
    FrameSeen.objects.bulk_create(
        [one for one in made if one.picture_id in left], update_conflicts=True,
        unique_fields=["picture"], update_fields=["before_uid", *_VALUES],
    )  # fmt: skip


def run_frames(rows: Sequence[TakePicture]) -> list[RunFrame]:
    """The frames of a run, those that were looked at, as the core takes them."""
    found = []
    for place, row in enumerate(rows):
        seen = seen_of(row, rows[place - 1] if place else None)
        if seen is None:
            continue
        taken = taken_at(row)
        found.append(RunFrame(
            Seen(**{name: getattr(seen, name) for name in _VALUES}),
            None if taken is None else (taken - datetime(2000, 1, 1)).total_seconds(),  # noqa: DTZ001
            exposure_of(row.wrote), number_of(row.name), row.wrote.get("exposure_s"),
        ))  # fmt: skip
    return found


def exposure_of(wrote: dict[str, Any]) -> float | None:
    """The exposure that a camera wrote down, in stops over 1 s, f/1 and ISO 100."""
    try:
        return log2(wrote["exposure_s"]) - 2 * log2(wrote["f_number"]) + log2(wrote["iso"] / 100)
    except (KeyError, TypeError, ValueError):
        return None


def number_of(name: str) -> int | None:
    """The number in the name of a file, as cameras count: the last digits of it."""
    found = re.search(r"(\d{1,8})\D*$", name.rsplit(".", 1)[0])
    return int(found[1]) if found else None


def plan_of(spec: Spec) -> RunPlan:
    """What a run was meant to be."""
    interval = spec.kind.traits.has_interval
    return RunPlan(
        interval_s=1 / spec.frame_rate, frames=None, project_fps=spec.project_fps,
        delivered_px=spec.delivered_px, noise_frames=interval and noise_frame(spec),
        sure_count=remote_of(spec).sure_count if interval else None,
        stopped_down=spec.iris > _WIDEST_OPEN * spec.lens.widest_at(spec.focal_mm),
    )  # fmt: skip


def run_frames_at(rows: Sequence[TakePicture], rate_fps: float) -> tuple[list[float], bool]:
    """The second of each frame from the first, and whether a clock said so.

    Where the camera's clock has no fractions, or none at all, they are as far apart as planned.
    """
    taken = [taken_at(row) for row in rows]
    known = [one for one in taken if one is not None]
    if len(known) == len(rows) and len(set(known)) == len(known):
        return [(one - known[0]).total_seconds() for one in known], True
    return [place / rate_fps for place in range(len(rows))], False
