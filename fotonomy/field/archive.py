"""Takes and their pictures in the archive of a person, and back in with their shoot."""

from collections.abc import Callable
from hashlib import sha256
from typing import Any

from django.utils import timezone

from fotonomy.core.errors import RuleError
from fotonomy.core.pictures.frame_levels import Area
from fotonomy.core.pictures.patches import unpacked
from fotonomy.exchange.errors import ExchangeError
from fotonomy.exchange.pictures import PREVIEW_PX, read_png16, read_preview
from fotonomy.exchange.schemas import check, moment_of, read_json, write_json
from fotonomy.field.models import PictureData, Take, TakePicture
from fotonomy.shoots.models import Shoot

FORMAT, VERSION, TAKES = "fotonomy-takes", 1, "takes.json"
# A name no larger than this is a setup of nobody: the take stands on its own.
NO_SETUP = 0
_PLAIN = (
    "uid", "setup_name", "number", "verdict", "clock_off_s", "by_name", "planned", "differed",
    "why", "clip", "card", "length_s", "note",
)  # fmt: skip
_OF_PICTURE = ("uid", "take_uid", "name", "width", "height", "wrote", "marks", "rating")


class TakesInArchive:
    """What the archive carries of a shoot beside its plan."""

    def write(self, shoot: Shoot, setups: list[int]) -> dict[str, bytes]:
        """Files by name; ``setups`` are the ids of those in the archive, in their order."""
        at = {key: number for number, key in enumerate(setups)}
        takes = [
            {**{name: getattr(take, name) for name in _PLAIN}, "setup": at.get(take.setup_key),
             "at": take.at.isoformat(), "kept_at": take.kept_at.isoformat()}
            for take in shoot.takes.all()
        ]  # fmt: skip
        if not takes and not shoot.pictures.exists():
            return {}
        found: dict[str, bytes] = {}
        pictures = []
        data = {one.sha256: one for one in shoot.picture_data.all()}
        for row in shoot.pictures.all():
            said = {name: getattr(row, name) for name in _OF_PICTURE}
            if row.sha256 not in data:
                pictures.append(said)
                continue
            file = f"pictures/{row.sha256[:32]}.jpg"
            kept = data[row.sha256]
            found[file] = bytes(kept.jpeg)
            said["file"] = file
            if kept.tiles:
                said |= {"tiles": file.replace(".jpg", ".png"), "points": kept.points}
                found[said["tiles"]] = bytes(kept.tiles)
            pictures.append(said)
        text = {"format": FORMAT, "version": VERSION, "takes": takes, "pictures": pictures}
        return {TAKES: write_json(text).encode(), **found}

    def read(self, shoot: Shoot, setups: list[int], file: Callable[[str], bytes]) -> None:
        """Takes and pictures of a shoot that was just made; ``setups`` are its new ids.

        Raises ExchangeError with the place of the fault.
        """
        given = read_json(file(TAKES))
        check("takes", given)
        for sort in ("takes", "pictures"):
            uids = [one["uid"] for one in given[sort]]
            twice = next((uid for uid in uids if uids.count(uid) > 1), None)
            if twice is not None:
                raise ExchangeError(f"{TAKES}: $.{sort}", f"two of them are {twice}")
        for number, one in enumerate(given["takes"]):
            place = f"{TAKES}: $.takes[{number}]"
            at = one.get("setup")
            if at is not None and at >= len(setups):
                raise ExchangeError(f"{place}.setup", "is no setup of this shoot")
            Take.objects.create(
                shoot=shoot, setup_key=NO_SETUP if at is None else setups[at],
                at=moment_of(one["at"], f"{place}.at"),
                kept_at=moment_of(one["kept_at"], f"{place}.kept_at"),
                **{name: one[name] for name in _PLAIN if name in one},
            )  # fmt: skip
        for number, one in enumerate(given["pictures"]):
            self._picture(shoot, one, f"{TAKES}: $.pictures[{number}]", file)

    def _picture(
        self, shoot: Shoot, one: dict[str, Any], place: str, file: Callable[[str], bytes]
    ) -> None:
        for name, sides in one.get("marks", {}).get("areas", {}).items():
            try:
                Area(*sides)
            except RuleError as error:
                raise ExchangeError(f"{place}.marks.areas.{name}", error.rule) from error
        digest = self._copy(shoot, one, file) if "file" in one else ""
        TakePicture.objects.create(
            shoot=shoot, sha256=digest, kept_at=timezone.now(),
            **{name: one[name] for name in _OF_PICTURE if name in one},
        )  # fmt: skip

    def _copy(self, shoot: Shoot, one: dict[str, Any], file: Callable[[str], bytes]) -> str:
        """Keep the copy of a picture; its digest."""
        raw = file(one["file"])
        found = read_preview(raw, one["file"])
        if max(found.width, found.height) > PREVIEW_PX or not raw.startswith(b"\xff\xd8"):
            # Not a copy of ours: it becomes one.
            raw = found.jpeg
        digest = sha256(raw).hexdigest()
        seen: dict[str, Any] = {"points": one.get("points", [])}
        if "tiles" in one:
            seen["tiles"] = file(one["tiles"])
            unpacked(read_png16(seen["tiles"]), found.width)
        PictureData.objects.get_or_create(
            shoot=shoot, sha256=digest, defaults={"jpeg": raw, **seen}
        )  # fmt: skip
        return digest
