"""The takes of a shoot as an edit takes them: clips, runs of frames, sidecars."""

from collections.abc import Iterator
from dataclasses import dataclass

from fotonomy.core.notation import writing as n
from fotonomy.core.spec.setup import Setup as Spec
from fotonomy.core.takes.actual import actual_of
from fotonomy.exchange.edit.clips import EditClip, Frames, frames_at
from fotonomy.exchange.edit.sidecars import Sidecar
from fotonomy.field.models import Take, TakePicture
from fotonomy.shoots.mapping import planned_setups
from fotonomy.shoots.models import Shoot
from fotonomy.takes.runs import FEWEST, in_order, number_of

# A take whose length nobody logged.
UNKNOWN_S = 10.0
# Stars by what was thought of a take, where nobody rated the picture: common practice, no source.
_RATINGS = {"good": 3, "maybe": 2, "no_good": -1}


@dataclass(frozen=True, slots=True)
class Run:
    """A take that is a run of frames, with its files in order."""

    take: Take
    rows: tuple[TakePicture, ...]


def specs_of(shoot: Shoot) -> dict[int, Spec]:
    """The setups of a shoot by id, those that can be planned."""
    return {key: spec for key, (spec, _) in planned_setups(shoot).items()}


def pictures_by_take(shoot: Shoot) -> dict[str, list[TakePicture]]:
    """The pictures of each take in order."""
    found: dict[str, list[TakePicture]] = {}
    for row in shoot.pictures.exclude(take_uid=""):
        found.setdefault(row.take_uid, []).append(row)
    return {uid: in_order(rows) for uid, rows in found.items()}


def runs_of(shoot: Shoot, specs: dict[int, Spec]) -> list[Run]:
    """The takes that are runs or bursts of frames."""
    pictures = pictures_by_take(shoot)
    return [
        Run(take, tuple(pictures[take.uid])) for take in shoot.takes.all()
        if len(pictures.get(take.uid, ())) >= FEWEST
        and take.setup_key in specs and specs[take.setup_key].records_stills
    ]  # fmt: skip


def clips_of(shoot: Shoot) -> list[EditClip]:
    """Every take as a clip, in order of time."""
    specs = specs_of(shoot)
    runs = {run.take.uid: run for run in runs_of(shoot, specs)}
    zone = shoot.main_place.zone
    found = []
    for take in shoot.takes.all():
        spec, run = specs.get(take.setup_key), runs.get(take.uid)
        actual = None if spec is None else actual_of(spec, take.planned, take.differed)
        frames = None if run is None else _frames(run)
        found.append(EditClip(
            name=take.clip or str(take), setup=take.setup_name, card=take.card,
            taken=take.at.astimezone(zone),
            frames=_count(take, spec, shoot.project_fps) if run is None else len(run.rows),
            shot_fps=shoot.project_fps if spec is None else spec.frame_rate,
            verdict=take.get_verdict_display(), note=take.note, why=tuple(take.why),
            planned=take.planned, actual={**take.planned, **take.differed},
            off_stops=None if actual is None else round(actual.stops, 3), run=frames,
            more={"take": take.number, "by": take.by_name,
                  "length_s": take.length_s, "length_known": take.length_s is not None},
        ))  # fmt: skip
    return found


def _count(take: Take, spec: Spec | None, project_fps: float) -> int:
    """Frames of the edit: what was shot faster for slow motion has all of its frames in it."""
    length_s = UNKNOWN_S if take.length_s is None else take.length_s
    slow = spec is not None and spec.kind.traits.slows
    return frames_at(length_s, spec.frame_rate if slow and spec else project_fps)


def _frames(run: Run) -> Frames:
    numbers = [number for row in run.rows if (number := number_of(row.name)) is not None]
    missing: tuple[int, ...] = ()
    if numbers and numbers[-1] - numbers[0] < 10 * len(numbers):
        missing = tuple(sorted(set(range(numbers[0], numbers[-1] + 1)) - set(numbers)))
    return Frames(run.rows[0].name, len(run.rows), missing)


def sidecars_of(shoot: Shoot) -> Iterator[Sidecar]:
    """A sidecar for every picture of a take, under names that differ."""
    takes = {take.uid: take for take in shoot.takes.all()}
    used: set[str] = set()
    for uid, rows in pictures_by_take(shoot).items():
        take = takes.get(uid)
        if take is None:
            continue
        for row in rows:
            made = Sidecar(
                row.name or f"picture-{row.pk}.jpg", row.rating or _RATINGS[take.verdict],
                (take.setup_name, take.get_verdict_display(), *take.why), str(take),
                ", ".join(f"{name} {text}" for name, text in take.differed.items()),
            )  # fmt: skip
            if made.name not in used:
                used.add(made.name)
                yield made


def night_setups(specs: dict[int, Spec]) -> list[tuple[int, Spec]]:
    """Setups that are darkened later."""
    return [
        (key, spec) for key, spec in specs.items()
        if spec.kind.traits.darkened or spec.intent.exposing.value == "dusk"
    ]  # fmt: skip


def length_words(clip: EditClip, fps: float) -> str:
    """How long a clip is in the edit."""
    return f"{clip.frames} frames, {n.format_number(clip.frames / fps, 1)} s"
