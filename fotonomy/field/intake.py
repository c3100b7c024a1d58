"""What comes in from the spot, typed on a form or sent by a phone: one door for each kind of thing.

A take, a reading and a picture are made here and nowhere else, with the same bounds and the same
words. What is wrong is said field by field (``IntakeError``), and nothing is kept of it.
"""

from collections.abc import Callable, Mapping
from contextlib import suppress
from dataclasses import dataclass, replace
from datetime import datetime, timedelta
from typing import Any, NamedTuple

from django.db import transaction
from django.utils import timezone
from django.utils.dateparse import parse_datetime

from fotonomy.core.errors import RuleError
from fotonomy.core.field.relight import Way, read_light, relit
from fotonomy.core.notation import writing as n
from fotonomy.core.notation.reading import read_length
from fotonomy.core.notation.texts import kept_text
from fotonomy.core.parsing.settings import format_setting
from fotonomy.core.parsing.table import by_name
from fotonomy.core.spec.setup import Setup as Spec
from fotonomy.core.takes.actual import SET
from fotonomy.field.models import Take
from fotonomy.field.services import (
    LONGEST_NOTE,
    LONGEST_SETTING,
    GoneError,
    TakeEntry,
    check_take,
    clock_off_s,
    log_take,
    put_light,
)
from fotonomy.shoots import history
from fotonomy.shoots.mapping import NO_LIGHT, UnplannableError, spec_of
from fotonomy.shoots.models import Deleted, Setup, Shoot
from fotonomy.shoots.packed_kit import packed_kit
from fotonomy.shoots.services.moments import check_moment
from fotonomy.shoots.write_lock import in_turn

# What a form of a take sends as text, beside its settings and its reasons.
FIELDS = ("uid", "verdict", "at", "name", "own", "clip", "card", "length", "note")
LONGEST_NAME = 100
# Ids are letters of a phone's own choice, by which it knows a thing again.
LONGEST_UID = 36
# Past this a number in JSON is no id of a row.
_MOST_KEY = 2**62


class IntakeError(ValueError):
    """Why something is not kept: the rule by field, as data and in the order of the form."""

    def __init__(self, errors: Mapping[str, str]) -> None:
        super().__init__("; ".join(errors.values()))
        self.errors = dict(errors)


@dataclass(frozen=True, slots=True)
class Sent:
    """What was typed or sent, by field, with the moment its clock said when it went out."""

    fields: Mapping[str, Any]
    sent_at: datetime | None = None

    def text(self, name: str, most: int = LONGEST_SETTING) -> str:
        """A field as text, empty where it did not come. Raises RuleError."""
        return kept_text(name, self.fields.get(name, ""), most)

    def key(self) -> int:
        """The id of the setup. Raises RuleError."""
        key = self.fields.get("setup")
        if isinstance(key, bool) or not isinstance(key, int) or not 0 < key < _MOST_KEY:
            raise RuleError("setup", "names no setup", key)
        return key


def planned_texts(spec: Spec) -> dict[str, str]:
    """What was planned, as text by setting; it is kept with each take."""
    return {name: _planned_text(spec, name) for name in SET}


def _planned_text(spec: Spec, name: str) -> str:
    if name == "white_k":
        return f"{n.format_number(spec.white_k, 0)} K"
    return format_setting(spec, name)


def parse_moment(text: Any) -> datetime | None:
    """A moment with its zone as a script sends it; None for anything else."""
    try:
        found = parse_datetime(str(text)[:40])
    except ValueError:
        return None
    return found if found is not None and found.tzinfo is not None else None


def _moment(shoot: Shoot, sent: Sent) -> tuple[datetime, datetime | None]:
    """When a thing was, by its own clock, and what that clock said when it went out."""
    said = sent.fields.get("at", "")
    at = parse_moment(said)
    if at is None:
        if said not in ("", None):
            raise RuleError("at", "a moment with its zone", said)
        return timezone.now(), None
    off = timedelta(seconds=clock_off_s(sent.sent_at, timezone.now()))
    try:
        check_moment(shoot, at - off)
    except OverflowError:
        raise RuleError("at", "a moment of our time", said) from None
    return at, sent.sent_at


def _reasons(sent: Sent) -> tuple[str, ...]:
    """Reasons that were ticked, and one's own with commas between; each once."""
    why = sent.fields.get("why", [])
    if not isinstance(why, list | tuple):
        raise RuleError("why", "is no list of reasons", None)
    said = [kept_text("why", one, LONGEST_NOTE) for one in why]
    said += [one.strip() for one in sent.text("own", LONGEST_NOTE).split(",")]
    return tuple(dict.fromkeys(one for one in said if one))


def _settings(spec: Spec | None, sent: Sent) -> tuple[dict[str, str], dict[str, str]]:
    """What was planned and what differed of it, as text by setting.

    ``planned`` is what the page showed; without it, what is planned now. Without a plan nobody can
    say what differed: then what was sent is what was set. Raises IntakeError, field by field.
    """
    planned, given = (_texts(sent, name) for name in ("planned", "differed"))
    if spec is None:
        return {**planned, **given}, {}
    planned = planned or planned_texts(spec)
    differed, errors = dict[str, str](), dict[str, str]()
    for name, text in given.items():
        if not text or text == planned.get(name):
            continue
        try:
            by_name()[name].read(spec, text)
            differed[name] = text
        except RuleError as error:
            errors[name] = error.rule
    if errors:
        raise IntakeError(errors)
    return planned, differed


def _texts(sent: Sent, name: str) -> dict[str, str]:
    found = sent.fields.get(name, {})
    if not isinstance(found, Mapping):
        raise RuleError(name, "is no list of settings", None)
    return {key: kept_text(key, found[key], LONGEST_SETTING) for key in SET if key in found}


def read_take(shoot: Shoot, spec: Spec | None, sent: Sent) -> TakeEntry:
    """A take as it was typed or sent. Raises IntakeError with all that is wrong of it.

    ``spec`` is the setup as it is planned, None where it was deleted meanwhile.
    """
    errors: dict[str, str] = {}
    found: dict[str, Any] = {}

    def field(name: str, read: Any) -> None:
        try:
            found[name] = read()
        except RuleError as error:
            errors[error.field] = error.rule
        except IntakeError as error:
            errors.update(error.errors)

    field("uid", lambda: sent.text("uid", LONGEST_UID))
    field("verdict", lambda: sent.text("verdict"))
    field("moment", lambda: _moment(shoot, sent))
    field("settings", lambda: _settings(spec, sent))
    field("why", lambda: _reasons(sent))
    field("clip", lambda: sent.text("clip"))
    field("card", lambda: sent.text("card"))
    field("length", lambda: read_length(sent.text("length")))
    field("note", lambda: sent.text("note", LONGEST_NOTE))
    if not errors:
        (at, sent_at), (planned, differed) = found["moment"], found["settings"]
        field("entry", lambda: TakeEntry(
            uid=found["uid"], verdict=found["verdict"], at=at, sent_at=sent_at, planned=planned,
            differed=differed, why=found["why"], clip=found["clip"], card=found["card"],
            length_s=found["length"], note=found["note"],
        ))  # fmt: skip
    if errors:
        raise IntakeError(errors)
    entry: TakeEntry = found["entry"]
    return entry


class Kept(NamedTuple):
    """A take that is kept, and its setup; None where that was deleted meanwhile."""

    take: Take
    setup: Setup | None


def take_in(shoot: Shoot, key: int, sent: Sent) -> Kept:
    """Keep a take of a setup, once however often it is sent.

    Raises IntakeError, and GoneError for a take that was deleted since and for a setup that this
    shoot never had.
    """
    row = shoot.setups.planned().filter(pk=key).first()
    spec = None
    if row is not None:
        row.shoot = shoot
        # A setup that cannot be planned was shot all the same.
        with suppress(UnplannableError):
            spec = spec_of(row, packed_kit(shoot), NO_LIGHT)
    name = str(row) if row is not None else _name_of_deleted(shoot, key, sent)
    try:
        return Kept(log_take(shoot, key, name, read_take(shoot, spec, sent)), row)
    except (IntakeError, RuleError) as error:
        # It may be here already: its plan was changed since, and its values read otherwise now.
        if (known := _known(shoot, sent)) is not None:
            return Kept(known, row)
        if isinstance(error, RuleError):
            raise IntakeError({error.field: error.rule}) from error
        raise


def _known(shoot: Shoot, sent: Sent) -> Take | None:
    """The take of this id, where it is here."""
    try:
        uid = sent.text("uid", LONGEST_UID)
    except RuleError:
        return None
    return shoot.takes.filter(uid=uid).first()


def read_changes(sent: Sent) -> dict[str, Any]:
    """What was typed of a take afterwards, for the fields that came. Raises IntakeError."""
    readers: dict[str, Callable[[], Any]] = {
        "verdict": lambda: sent.text("verdict"), "clip": lambda: sent.text("clip"),
        "card": lambda: sent.text("card"), "note": lambda: sent.text("note", LONGEST_NOTE),
        "length": lambda: read_length(sent.text("length")), "own": lambda: list(_reasons(sent)),
    }  # fmt: skip
    columns = {"length": "length_s", "own": "why"}
    found: dict[str, Any] = {}
    errors: dict[str, str] = {}
    for name, read in readers.items():
        if name in sent.fields or (name == "own" and sent.fields.get("why")):
            try:
                value = read()
                check_take(**{columns.get(name, name): value})
                found[columns.get(name, name)] = value
            except RuleError as error:
                errors[error.field] = error.rule
    if errors:
        raise IntakeError(errors)
    return found


def _was_deleted(shoot: Shoot, name: str) -> bool:
    return shoot.deleted.filter(name=name[:50]).exists()


def _name_of_deleted(shoot: Shoot, key: int, sent: Sent) -> str:
    """What a setup that is gone was called. Raises GoneError for one this shoot never had."""
    if not _was_deleted(shoot, Deleted.setup(key)):
        raise GoneError("This setup is none of this shoot: the take is of another one")
    try:
        return sent.text("name", LONGEST_NAME) or "Deleted setup"
    except RuleError:
        return "Deleted setup"


@dataclass(frozen=True, slots=True)
class Lit:
    """What came of a reading.

    The setup, None where the reading was kept before; the light; the way that was used, None where
    only the light was kept; how many later setups moved with it; what else is to be said.
    """

    row: Setup | None
    ev100: float | None = None
    way: Way | None = None
    moved: int = 0
    said: str = ""


def light_in(shoot: Shoot, key: int, sent: Sent, others: tuple[int, ...] = ()) -> Lit:
    """Keep light that was read at a setup, and the way named for it, once however often it is sent.

    A way that is not there any more, or that somebody may not use, leaves the reading alone.
    ``others`` are setups whose light moves along. Raises IntakeError, GoneError and
    Setup.DoesNotExist.
    """
    try:
        return _light_in(shoot, key, sent, others)
    except RuleError as error:
        raise IntakeError({error.field: error.rule}) from error


@in_turn()
@transaction.atomic
def _light_in(shoot: Shoot, key: int, sent: Sent, others: tuple[int, ...]) -> Lit:
    uid = sent.text("uid", LONGEST_UID)
    history.lock(shoot)
    if uid:
        # The log knows each change by the name its window gave it: that is the phone's own id.
        shoot.actor = replace(shoot.actor, client="phone", action=uid[:32])
        if history.was_made(shoot):
            return Lit(None, said="the light is kept already")
    row = shoot.setups.planned().filter(pk=key).first()
    if row is None:
        if _was_deleted(shoot, Deleted.setup(key)):
            raise Setup.DoesNotExist
        raise GoneError("This setup is none of this shoot: the reading is of another one")
    row.shoot = shoot
    try:
        spec = spec_of(row, packed_kit(shoot))
    except UnplannableError as error:
        raise RuleError(error.field, error.rule, error.value) from error
    found = relit(spec, read_light(spec, sent.text("read", 80)))
    words = sent.text("way", 200)
    said = ""
    if words and not shoot.actor.plans:
        words, said = "", "the reading is kept; what to set is for those who plan"
    way = next((one for one in found.ways if one.words == words), None)
    if words and way is None:
        said = f"the reading is kept; “{words}” is not there any more, the plan was changed"
    at, sent_at = _moment(shoot, sent)
    at -= timedelta(seconds=clock_off_s(sent_at, timezone.now()))
    _, moved = put_light(row, found.ev100, way.changes if way else (), at, others)
    return Lit(row, found.ev100, way, moved, said)
