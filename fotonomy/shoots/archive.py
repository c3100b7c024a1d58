"""Everything of a person in one file, and back in on another server (docs/formats.md)."""

import json
import zipfile
from collections.abc import Callable
from dataclasses import dataclass
from functools import partial
from io import BytesIO
from typing import Any, Protocol

from django.contrib.auth.models import User
from django.db import transaction

from fotonomy import __version__
from fotonomy.exchange.errors import DAMAGED_ZIP, ExchangeError
from fotonomy.exchange.kit_json import kit_to_data, read_kit
from fotonomy.exchange.schemas import LARGEST_FILE_BYTES, read_json, write_json
from fotonomy.exchange.setup_json import read_setup, setup_to_data
from fotonomy.exchange.shoot_json import ShootFile, ShootSetup
from fotonomy.kit.quotas import room_for_bytes
from fotonomy.kit.services import import_kit, kit_of
from fotonomy.shoots.models import Shoot
from fotonomy.shoots.shoot_data import shoot_from_data, shoot_to_data

FORMAT, VERSION = "fotonomy-archive", 2
KIT, CONTENTS = "kit.json", "archive.json"
# What one may keep, and what a request may hold (settings: LARGEST_REQUEST).
LARGEST_ARCHIVE_BYTES = 128 * 2**20
MOST_FILES = 20_000
# What version 1 knew of the one place and the one day of a shoot.
_PLACE_BEFORE = {
    "place_name": "name", "latitude_deg": "latitude_deg", "longitude_deg": "longitude_deg",
    "time_zone": "time_zone", "mains_hz": "mains_hz",
}  # fmt: skip


class Companion(Protocol):
    """What another app has of a shoot, carried along as files beside its setups."""

    def write(self, shoot: Shoot, setups: list[int]) -> dict[str, bytes]:
        """Files by name; ``setups`` are ids in the order of the archive. Nothing: no files."""

    def read(self, shoot: Shoot, setups: list[int], file: Callable[[str], bytes]) -> None:
        """Take the files in again for a shoot that was just made. Raises ExchangeError."""


class Belonging(Protocol):
    """What another app has of a person, carried along as a file of its own."""

    def write(self, owner: User) -> dict[str, bytes]:
        """The file by its name. Nothing: no file."""

    def read(self, owner: User, raw: bytes) -> None:
        """Take the file in again. Raises ExchangeError."""


# Belongings by the name of their file; each app adds its own.
BELONGINGS: dict[str, Belonging] = {}
# Companions by the folder their files stand in; each app adds its own.
COMPANIONS: dict[str, Companion] = {}


@dataclass(frozen=True, slots=True)
class TakenAlong:
    """How many shoots, setups and new things of the kit came in."""

    shoots: int
    setups: int
    gear: int


def archive_of(owner: User) -> bytes:
    """A zip of documented JSON: the kit, every shoot and its setups. The history stays behind.

    A setup that breaks a rule cannot be written as a file; it is named in ``left_out``.
    """
    made = BytesIO()
    with zipfile.ZipFile(made, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr(KIT, write_json(kit_to_data(kit_of(owner))))
        shoots = []
        for at, shoot in enumerate(Shoot.objects.filter(owner=owner).order_by("pk"), 1):
            shoot.owner = owner
            shoots.append(_written(archive, shoot, f"shoots/{at:03}"))
        beside: list[str] = []
        for belonging in BELONGINGS.values():
            for name, raw in belonging.write(owner).items():
                archive.writestr(name, raw)
                beside.append(name)
        contents = {
            "format": FORMAT, "version": VERSION, "made_by": __version__, "shoots": shoots,
            "with": beside,
        }  # fmt: skip
        archive.writestr(CONTENTS, write_json(contents))
    return made.getvalue()


def _written(archive: zipfile.ZipFile, shoot: Shoot, folder: str) -> dict[str, Any]:
    held = shoot_to_data(shoot)
    names: list[dict[str, Any]] = []
    for one in held.setups:
        name = f"{folder}/{len(names) + 1:04}.json"
        archive.writestr(name, write_json(setup_to_data(one.held)))
        names.append({"file": name, **one.stands})
    with_it = []
    for sort, companion in COMPANIONS.items():
        files = companion.write(shoot, [one.key for one in held.setups if one.key is not None])
        for name, raw in files.items():
            # Pictures are packed already: packing them again takes time and saves nothing.
            packed = name.endswith((".jpg", ".png"))
            archive.writestr(
                f"{folder}/{sort}/{name}", raw,
                zipfile.ZIP_STORED if packed else zipfile.ZIP_DEFLATED,
            )  # fmt: skip
        with_it += [sort] if files else []
    return {**held.head, "setups": names, "folder": folder, "with": with_it}


@transaction.atomic
def import_archive(owner: User, raw: bytes) -> TakenAlong:
    """Everything of an archive beside what a person has. All of it or, with an error, nothing.

    Things of the kit that are there already, number for number, are not doubled. Raises
    ExchangeError with the file and the place of the fault, and QuotaError.
    """
    if len(raw) > LARGEST_ARCHIVE_BYTES:
        raise ExchangeError("the archive", f"is larger than {LARGEST_ARCHIVE_BYTES // 2**20} MB")
    try:
        archive = zipfile.ZipFile(BytesIO(raw))
    except DAMAGED_ZIP as error:
        raise ExchangeError("the archive", f"is damaged, or no zip: {error}") from error
    with archive:
        if len(archive.infolist()) > MOST_FILES:
            raise ExchangeError("the archive", f"holds more than {MOST_FILES} files")
        contents = read_json(_file(archive, CONTENTS))
        if not isinstance(contents, dict) or contents.get("format") != FORMAT:
            raise ExchangeError(CONTENTS, "is no archive of this program")
        if contents.get("version") not in (1, VERSION):
            raise ExchangeError(CONTENTS, "is of a version that is not known here")
        gear = sum(one.made for one in import_kit(owner, read_kit(_file(archive, KIT))))
        shoots = contents.get("shoots")
        if not isinstance(shoots, list):
            raise ExchangeError(CONTENTS, "names no shoots")
        setups = sum(_taken_in(archive, owner, k, one) for k, one in enumerate(shoots))
        beside = contents.get("with", [])
        if not isinstance(beside, list):
            raise ExchangeError(CONTENTS, "does not say what comes with it")
        for name in beside:
            if isinstance(name, str) and name in BELONGINGS:
                BELONGINGS[name].read(owner, _file(archive, name))
        room_for_bytes(owner)
    return TakenAlong(len(shoots), setups, gear)


def _taken_in(archive: zipfile.ZipFile, owner: User, at: int, given: Any) -> int:
    """One shoot with its setups, checked by the same form that people fill in."""
    place = f"{CONTENTS}: $.shoots[{at}]"
    if not isinstance(given, dict):
        raise ExchangeError(place, "is no shoot")
    if "places" not in given:
        given = _from_one(given)
    names = given.get("setups")
    if not isinstance(names, list) or not all(_names_a_file(one) for one in names):
        raise ExchangeError(f"{place}.setups", "is no list of files")
    setups = []
    for one in names:
        try:
            setups.append(ShootSetup(read_setup(_file(archive, one["file"])), one))
        except ExchangeError as error:
            raise ExchangeError(f"{one['file']}: {error.place}", error.problem) from error
    folder, with_it = given.pop("folder", ""), given.pop("with", [])
    if not isinstance(folder, str) or not isinstance(with_it, list):
        raise ExchangeError(place, "does not say what comes with it")
    shoot = shoot_from_data(owner, ShootFile(given, tuple(setups)), place)
    keys = list(shoot.setups.order_by("pk").values_list("pk", flat=True))
    for sort in with_it:
        if sort in COMPANIONS:
            COMPANIONS[sort].read(shoot, keys, partial(_beside, archive, f"{folder}/{sort}"))
    return len(names)


def _beside(archive: zipfile.ZipFile, folder: str, name: str) -> bytes:
    return _file(archive, f"{folder}/{name}")


def _names_a_file(one: Any) -> bool:
    return isinstance(one, dict) and isinstance(one.get("file"), str)


def _from_one(given: dict[str, Any]) -> dict[str, Any]:
    """A shoot of version 1, which was one day at one place, as one of the present version."""
    where = {new: given[old] for old, new in _PLACE_BEFORE.items() if given.get(old) is not None}
    names = given.get("setups")
    files = [{"file": name} for name in names] if isinstance(names, list) else names
    return {**given, "places": [where], "days": [{"date": given.get("date")}], "setups": files}


def _file(archive: zipfile.ZipFile, name: str) -> bytes:
    try:
        if archive.getinfo(name).file_size > LARGEST_FILE_BYTES:
            raise ExchangeError(name, f"is larger than {LARGEST_FILE_BYTES // 1024} kB")
        return archive.read(name)
    except ExchangeError:
        raise
    except KeyError as error:
        raise ExchangeError(name, "is not in the archive") from error
    except DAMAGED_ZIP as error:
        raise ExchangeError(name, f"is damaged: {error}") from error


def as_text(raw: bytes) -> dict[str, Any]:
    """An archive opened to its JSON by file, for those who compare two."""
    with zipfile.ZipFile(BytesIO(raw)) as archive:
        names = [name for name in archive.namelist() if name.endswith(".json")]
        return {name: json.loads(archive.read(name)) for name in names}
