"""Half of the demo's first day as it was shot: light that was read, takes, and a second person."""

import json
from datetime import date, datetime, timedelta
from importlib.resources import files
from typing import Any

from django.contrib.auth.models import User
from django.utils import timezone

from fotonomy.core.analysis.setup import Analysis, analyse
from fotonomy.core.field.relight import read_light, relit
from fotonomy.core.notation.reading import read_length
from fotonomy.core.parsing.settings import format_setting
from fotonomy.core.spec.setup import Setup
from fotonomy.core.takes.actual import actual_of
from fotonomy.exchange.pictures import read_preview
from fotonomy.field.intake import planned_texts
from fotonomy.field.models import Take
from fotonomy.field.pictures import keep_picture, look_at
from fotonomy.field.services import TakeEntry, log_take, put_light
from fotonomy.shoots.mapping import spec_of
from fotonomy.shoots.models import Actor, CrewLink, Member, Role, Shoot
from fotonomy.shoots.models import Setup as SetupRow
from fotonomy.shoots.packed_kit import packed_kit
from fotonomy.shoots.services.crew import new_guest
from fotonomy.simulators.run_frames import Faults, run_of_stills
from fotonomy.simulators.stills import still
from fotonomy.takes.ingest import COPY_PX, keep_still, match_all
from fotonomy.takes.runs import see_some

# How the log says that a setting was one mark of its scale from the plan.
_MARKS = {"one_up": 1, "one_down": -1}


def first_day() -> dict[str, Any]:
    """What was shot and read on it, as it stands in the file."""
    text = files("fotonomy.demo").joinpath("first_day.json").read_text("utf-8")
    found: dict[str, Any] = json.loads(text)
    return found


def shoot_first_day(shoot: Shoot, second: User | None) -> None:
    """Log what was shot and read; what ``second`` did is theirs, else the owner's."""
    data = first_day()
    planned = shoot.setups.planned()
    rows = {row.code: row for row in planned}
    for row in rows.values():
        row.shoot = shoot
    for given in data["read"]:
        row = rows[given["setup"]]
        found = relit(_spec(row), read_light(_spec(row), given["reads"]))
        way = next(one for one in found.ways if not one.moves_held)
        put_light(row, found.ev100, way.changes, datetime.fromisoformat(given["at"]))
        row.refresh_from_db()
    owner = shoot.actor
    for number, given in enumerate(data["takes"], 1):
        row = rows[given["setup"]]
        if second is not None and given.get("by") == "second":
            shoot.actor = Actor(second)
        made = log_take(shoot, row.pk, str(row), _entry(row, number, given))
        made.shoot = shoot
        if "frame_off_stops" in given:
            done = actual_of(_spec(row), made.planned, made.differed).done
            _with_frame(made, done, given)
        if "run" in given:
            _with_run(made, _spec(row), given["run"])
        shoot.actor = owner


def _spec(row: SetupRow) -> Setup:
    return spec_of(row, packed_kit(row.shoot))


def _entry(row: SetupRow, number: int, given: dict[str, Any]) -> TakeEntry:
    spec = _spec(row)
    made = analyse(spec)
    return TakeEntry(
        uid=f"demo-{number}", verdict=given["verdict"], at=datetime.fromisoformat(given["at"]),
        planned=planned_texts(spec),
        differed={
            name: _beside(made, name, mark) for name, mark in given.get("differed", {}).items()
        },
        why=tuple(given.get("why", ())), clip=given["clip"], card=given["card"],
        length_s=read_length(given["length"]), note=given.get("note", ""),
    )  # fmt: skip


def _with_frame(take: Take, spec: Setup, given: dict[str, Any]) -> None:
    """A test frame by the stand-in camera, in light that was not quite as planned."""
    taken = take.at.astimezone(take.shoot.main_place.zone)
    raw = still(spec, given["frame_off_stops"], taken, "A1")
    name = f"{given['clip']}.jpg"
    keep_picture(take, f"frame-{take.uid}", name, read_preview(raw, name), look_at(raw, name))


def faults_of(given: dict[str, Any]) -> Faults:
    """What goes wrong in the demo's run."""

    def places(name: str) -> dict[int, Any]:
        return {int(place): value for place, value in given[name].items()}

    return Faults(
        knocks={place: tuple(shares) for place, shares in places("knocks").items()},
        flicker=places("flicker"), turned=places("turned"), lost=frozenset(given["lost"]),
    )  # fmt: skip


def _with_run(take: Take, spec: Setup, given: dict[str, Any]) -> None:
    """An interval run as it came home: imported, put to its take by the clock, looked at."""

    clock = take.at.astimezone(take.shoot.main_place.zone) + timedelta(seconds=given["clock_off_s"])
    interval_s = 1 / spec.frame_rate
    count = round((take.length_s or 0) / interval_s) + 1
    for file in run_of_stills(
        spec, clock, count, interval_s, faults_of(given), serial="B7",
        light_moves_stops=given["light_moves_stops"], first_number=4127,
    ):  # fmt: skip
        keep_still(
            take.shoot, f"run-{file.name}", file.name, read_preview(file.jpeg, file.name, COPY_PX)
        )
    match_all(take.shoot, {"B7": float(given["clock_off_s"])})
    while True:
        done, of = see_some(take)
        if done == of:
            break


def _beside(made: Analysis, name: str, mark: str) -> str:
    """The value one mark of the scale from the planned one."""
    texts = [option.text for option in made.offers[name].options]
    return texts[texts.index(format_setting(made.setup, name)) + _MARKS[mark]]


def second_person(shoot: Shoot) -> User:
    """The demo's second person: a guest by a link that ends with the shoot."""
    data = first_day()
    last: date = max(day.date for day in shoot.days_by_id.values())
    link = CrewLink.objects.create(
        shoot=shoot, role=Role.LOGS, last_day=max(last, timezone.localdate()), note="Second camera"
    )
    person = new_guest(data["second"])
    Member.objects.create(shoot=shoot, user=person, role=Role.LOGS, link=link)
    return person
