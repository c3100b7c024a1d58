"""What the stand-in camera has on its card after the demo's first day, as files to bring home.

Test frames, the interval run with what went wrong in it, a burst, a bracket of hand-held shutter
times, and films where PyAV is installed, else their notes as CSV. The camera's clock is ahead.
"""

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import timedelta
from pathlib import Path

from fotonomy.demo.first_day import faults_of, first_day
from fotonomy.shoots.mapping import spec_of, starts_of
from fotonomy.shoots.models import Shoot
from fotonomy.shoots.packed_kit import packed_kit
from fotonomy.simulators.films import NoFilmsError, film
from fotonomy.simulators.run_frames import (
    StillFile,
    bracket_of_stills,
    burst_of_stills,
    run_of_stills,
)
from fotonomy.simulators.stills import still
from fotonomy.takes.edit import specs_of

AHEAD = timedelta(minutes=3, seconds=34)
BRACKET_STOPS = (-1, 0, 1, 2, 3, 4)
# So much of a film is enough to have a head.
MOST_FILM_S = 4.0


@dataclass(frozen=True, slots=True)
class OnCard:
    """A file and its folder."""

    folder: str
    name: str
    data: bytes


def card_of_the_day(shoot: Shoot) -> Iterator[OnCard]:
    """The files, folder by folder, of the demo's shoot as it stands in the database."""
    specs = specs_of(shoot)
    zone = shoot.main_place.zone
    given = {one["clip"]: one for one in first_day()["takes"]}
    notes: list[str] = []
    for take in shoot.takes.all():
        spec, said = specs.get(take.setup_key), given.get(take.clip, {})
        if spec is None:
            continue
        clock = take.at.astimezone(zone) + AHEAD
        if "frame_off_stops" in said:
            raw = still(spec, said["frame_off_stops"], clock, "A1")
            yield OnCard("frames", f"{take.clip}.jpg", raw)
        if "run" in said:
            interval_s = 1 / spec.frame_rate
            count = round((take.length_s or 0) / interval_s) + 1
            yield from _stills("run", run_of_stills(
                spec, clock, count, interval_s, faults_of(said["run"]), serial="B7",
                light_moves_stops=said["run"]["light_moves_stops"], first_number=4127,
            ))  # fmt: skip
        elif not spec.records_stills and take.length_s:
            length_s = min(MOST_FILM_S, take.length_s)
            try:
                raw = film(clock, round(length_s * spec.project_fps), spec.project_fps)
            except NoFilmsError:
                notes.append(f"{take.clip}.mov,{clock:%Y:%m:%d %H:%M:%S},{length_s:g},"
                             f"{spec.project_fps:g}")  # fmt: skip
            else:
                yield OnCard("films", f"{take.clip}.mov", raw)
    if notes:
        head = "FileName,DateTimeOriginal,Duration,VideoFrameRate"
        yield OnCard("films", "films.csv", "\n".join((head, *notes, "")).encode())
    yield from _by_hand(shoot)


def _by_hand(shoot: Shoot) -> Iterator[OnCard]:
    """The burst, and a bracket before it."""
    row = next((one for one in shoot.setups.all() if one.kind == "burst"), None)
    if row is None:
        return
    row.shoot = shoot
    spec, starts = spec_of(row, packed_kit(shoot)), starts_of(row)
    if starts is None:
        return
    clock = starts + AHEAD
    count = round(spec.run.burst_s * spec.frame_rate)
    yield from _stills("burst", burst_of_stills(
        spec, clock, count, spec.frame_rate, moment=(count // 2, count // 2 + 3), serial="A1",
        first_number=301,
    ))  # fmt: skip
    yield from _stills("bracket", bracket_of_stills(
        spec, clock - timedelta(minutes=5), BRACKET_STOPS, serial="A1", first_number=201
    ))  # fmt: skip


def _stills(folder: str, files: Iterator[StillFile]) -> Iterator[OnCard]:
    for one in files:
        yield OnCard(folder, one.name, one.jpeg)


def write_card(shoot: Shoot, folder: Path) -> dict[str, int]:
    """Write the files into a folder; how many in each of its own."""
    counts: dict[str, int] = {}
    for one in card_of_the_day(shoot):
        path = folder / one.folder / one.name
        path.parent.mkdir(parents=True, exist_ok=True)
        path.write_bytes(one.data)
        counts[one.folder] = counts.get(one.folder, 0) + 1
    return counts
