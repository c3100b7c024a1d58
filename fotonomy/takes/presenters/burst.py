"""A burst: which of its frames to keep, and whether fewer a second would have done."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

from fotonomy.core.notation import writing as n
from fotonomy.core.pictures.burst_frames import BurstReport, burst_report
from fotonomy.core.pictures.frame_measure import Gray, small_light
from fotonomy.core.spec.setup import Setup as Spec
from fotonomy.exchange.pictures import read_pixels
from fotonomy.field.models import PictureData, TakePicture
from fotonomy.takes.presenters.contact_sheet import KEEPER
from fotonomy.takes.runs import run_frames_at

# More frames than this are no burst that a page could show.
MOST = 400


@dataclass(frozen=True, slots=True)
class BurstFrame:
    """A frame: kept as different or not, the keeper or of its moment."""

    key: int
    place: int
    name: str
    differs: bool
    is_keeper: bool
    of_moment: bool

    @property
    def word(self) -> str:
        """What it is to the one kept before it."""
        return "differs" if self.differs else "like the last"


@dataclass(frozen=True, slots=True)
class BurstView:
    """Everything the page takes."""

    frames: tuple[BurstFrame, ...]
    head: str
    lines: tuple[str, ...]
    clocked: bool


@lru_cache(maxsize=512)
def _light(shoot_id: int, sha256: str) -> Gray:
    data = PictureData.objects.get(shoot_id=shoot_id, sha256=sha256)
    return small_light(read_pixels(bytes(data.jpeg)))


def burst_view(spec: Spec, rows: Sequence[TakePicture]) -> BurstView:
    """The frames of a burst, at most 400 of them. Raises ValueError for fewer than two."""
    rows = rows[:MOST]
    lights = [_light(row.shoot_id, row.sha256) for row in rows]
    shape = lights[0].shape
    rows, lights = _of_one_shape(rows, lights, shape)
    at_s, clocked = run_frames_at(rows, spec.frame_rate)
    keeper = next((k for k, row in enumerate(rows) if row.rating == KEEPER), None)
    found = burst_report(lights, at_s, keeper)
    differs, moment = set(found.distinct), found.moment
    frames = tuple(
        BurstFrame(
            row.pk, place + 1, str(row), place in differs, place == keeper,
            moment is not None and moment[0] <= place <= moment[1],
        )
        for place, row in enumerate(rows)
    )  # fmt: skip
    return BurstView(frames, _head(found), tuple(_lines(found)), clocked)


def _of_one_shape(
    rows: Sequence[TakePicture], lights: list[Gray], shape: tuple[int, ...]
) -> tuple[list[TakePicture], list[Gray]]:
    pairs = [(row, one) for row, one in zip(rows, lights, strict=True) if one.shape == shape]
    return [row for row, _ in pairs], [one for _, one in pairs]


def _head(found: BurstReport) -> str:
    return (
        f"{found.frames} frames at {n.format_number(found.rate_fps, 1)} a second; "
        f"{len(found.distinct)} of them differ enough to keep"
    )


def _lines(found: BurstReport) -> list[str]:
    lines = []
    for one in found.thinned:
        said = (
            f"At {n.format_number(one.rate_fps, 0)} a second: {one.frames} frames, at least "
            f"{one.distinct_kept} of the {len(found.distinct)} different ones"
        )
        if one.moment_share is not None:
            said += f"; the moment caught in {100 * one.moment_share:.0f} % of all starts"
        lines.append(said)
    if found.moment is None:
        lines.append("Choose the keeper, and it is told how long its moment was and who had it")
    elif found.moment_s is not None:
        first, last = found.moment
        lines.append(
            f"What the keeper shows lasted {n.format_time(found.moment_s)} s, frames {first + 1} "
            f"to {last + 1}"
        )
    return lines
