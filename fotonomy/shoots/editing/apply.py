"""One change on the bench: read what was sent, keep what is right, say what is not."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field, replace
from typing import Any, Self

from django.db import transaction
from django.http import QueryDict

from fotonomy.core.analysis.changes import brought_along, lens_words
from fotonomy.core.analysis.kind_wants import as_its_kind
from fotonomy.core.errors import RuleError
from fotonomy.core.exposure.light_budget import target_stops
from fotonomy.core.notation import writing as n
from fotonomy.core.notation.reading import whole_number
from fotonomy.core.parsing.intent import parse_weight
from fotonomy.core.parsing.limits import format_limit, is_span, parse_limit
from fotonomy.core.parsing.table import SETTINGS, Control, Setting, by_name
from fotonomy.core.photometry.named_light import named_light
from fotonomy.core.spec import setup as core
from fotonomy.core.spec.changes import Change, applied
from fotonomy.core.spec.intent import CRITERIA
from fotonomy.core.tone.signal_levels import monitor_marks
from fotonomy.core.units import SPOKEN_UNITS, unit_typed
from fotonomy.exchange.changes_json import changes_of
from fotonomy.shoots import history
from fotonomy.shoots.editing.forms import sentence
from fotonomy.shoots.editing.gear import GEAR_NAMES, ROW_NAMES, put_gear
from fotonomy.shoots.editing.readings import (
    UsualLight,
    read_readings,
    touches_readings,
    usual_light,
)
from fotonomy.shoots.editing.stills import sent_subject, sky_for
from fotonomy.shoots.field_paths import Snapshot, moved, setting_of, with_values
from fotonomy.shoots.mapping import METHODS, fresh_row, snapshot, spec_of, write_spec
from fotonomy.shoots.models import Change as Step
from fotonomy.shoots.models import Setup
from fotonomy.shoots.packed_kit import PackedKit, packed_kit
from fotonomy.shoots.write_lock import in_turn

HELD_FIELDS = {f"held_{name}": name for name in core.HOLDABLE}
LIMIT_FIELDS = {f"limit_{name}": name for name in core.LIMITABLE}
WEIGHT_FIELDS = {f"weight_{name}": name for name in CRITERIA}


def in_lane(*lanes: str) -> set[str]:
    """Names of the settings that stand in these lanes."""
    return {row.name for row in SETTINGS if row.lane in lanes}


@dataclass(slots=True)
class Edit:
    """What came of a change: the row as saved, its spec, and errors with the text typed.

    ``was`` is the spec before it.
    ``step`` is what can now be undone, None if nothing changed. ``about_stays`` is true
    if nothing of what a setup is and what it is shot with was sent, ``wants_stay`` if
    nothing of what matters was.
    """

    row: Setup
    spec: core.Setup
    packed: PackedKit
    was: core.Setup
    step: Step | None = None
    about_stays: bool = False
    wants_stay: bool = False
    readings_stay: bool = False
    said: str = ""
    usual_light: UsualLight | None = None
    errors: dict[str, str] = field(default_factory=dict)
    typed: dict[str, str] = field(default_factory=dict)

    @classmethod
    def untouched(cls, row: Setup) -> Self:
        """A setup as it stands, with nothing changed."""
        packed = packed_kit(row.shoot)
        spec = spec_of(row, packed)
        return cls(row, spec, packed, spec)

    def refuse(self, name: str, rule: str, text: str) -> None:
        """Put an error beside a field and keep what was typed there."""
        self.errors[name] = sentence(rule)
        self.typed[name] = text

    def make(self, changes: Iterable[Change], texts: Mapping[str, Any]) -> None:
        """Make changes together; where that breaks a rule one by one, so that only what is
        wrong is refused, beside its field and with its text.
        """
        changes = list(changes)
        if not changes:
            return
        try:
            self.spec = applied(self.spec, changes)
            return
        except RuleError as error:
            if len(changes) == 1:
                name = changes[0].setting
                self.refuse(name, error.rule, str(texts.get(name, "")))
                return
        for change in changes:
            if change.setting.removeprefix("unit_") not in self.errors:
                self.make([change], texts)


@in_turn()
@transaction.atomic
def edit_setup(row: Setup, data: QueryDict) -> Edit:
    """Apply the fields in ``data``, or the press in its ``fix``, and save what is right.

    The row is read inside the transaction that writes it, so that no other edit is lost. A field
    that is wrong leaves its old value standing, so that the last good plan stays; absent fields
    are untouched. Raises Setup.DoesNotExist where it was deleted meanwhile.
    """
    row = fresh_row(row)
    before = snapshot(row)
    shown = _as_shown(row, before, data.get("seen", ""))
    if shown is None:
        edit, names = _edited(row, data)
    else:
        edit, names = _merged(row, data, before, shown)
    _note(edit, data, names, before)
    return edit


def _as_shown(row: Setup, present: Snapshot, seen: str) -> Snapshot | None:
    """The setup as a whole form showed it; None where nothing was changed since."""
    if (newest := whole_number(seen)) is None:
        return None
    shown = history.as_at(present, row.pk, history.since(row.shoot, newest))
    return shown if moved(shown, present) else None


def _merged(
    row: Setup, data: QueryDict, present: Snapshot, shown: Snapshot
) -> tuple[Edit, set[str]]:
    """A whole form sends all it shows: only what differs from what it showed is a change.

    The form is applied to the setup as it was shown, and what came of it is put into the setup
    as it is now. Where the two do not fit together, nothing is changed and the form says so.
    """
    try:
        with transaction.atomic():
            history.write(row.shoot, row, present, shown)
            edit, names = _edited(row, data)
            after = snapshot(row)
            wanted = [(path, now) for path, _, now in moved(shown, after)]
            history.write(row.shoot, row, after, with_values(present, wanted))
    except (history.CannotUndoError, LookupError):
        edit = Edit.untouched(fresh_row(row))
        for name in data:
            if name in by_name() and data.get(name, "").strip() != by_name()[name].text(edit.spec):
                edit.refuse(name, "Another window changed what this depends on", data.get(name, ""))
        return edit, set(data)
    edit.packed = packed_kit(row.shoot)
    edit.spec = spec_of(row, edit.packed)
    return edit, names


def _edited(row: Setup, data: QueryDict) -> tuple[Edit, set[str]]:
    """The row changed as sent, not yet saved but for what hangs on it; and the names sent."""
    edit = Edit.untouched(row)
    pressed = _pressed(data)
    names = {change.setting for change in pressed} if pressed is not None else set(data)
    if pressed is not None:
        _press(edit, pressed)
    else:
        _fields(edit, data)
    _single_pictures(edit, {} if pressed is not None else data, names, edit.was)
    edit.spec = as_its_kind(edit.was, edit.spec)
    edit.said = edit.said or lens_words(edit.was, edit.spec)
    if edit.spec.held != edit.was.held:
        lenses = () if "lens" in edit.spec.held else edit.packed.lenses
        edit.spec = replace(edit.spec, packed_lenses=lenses)
    write_spec(row, edit.spec)
    return edit, names


def _note(edit: Edit, data: QueryDict, names: set[str], before: Snapshot) -> None:
    """Save what changed, note the step, and say what of the page stays as it is."""
    row, after = edit.row, snapshot(edit.row)
    edit.readings_stay = not touches_readings(names)
    edit.about_stays = (in_lane("about") | ROW_NAMES | {"held_lens"}).isdisjoint(names)
    wants = in_lane("wants") | LIMIT_FIELDS.keys() | WEIGHT_FIELDS.keys() | set(METHODS)
    edit.wants_stay = wants.isdisjoint(names) and before["limits"] == after["limits"]
    if before["kind"] != after["kind"]:
        # Other lanes: everything in them is sent.
        edit.readings_stay = edit.wants_stay = False
    if before != after:
        row.summary = None
        row.save(update_fields=_columns(before, after))
        key = str(row.pk)
        label = label_of(path for path, _, _ in moved(before, after))
        gesture = data.get("gesture", "")[:40]
        edit.step = history.record(row.shoot, label, {key: before}, {key: after}, gesture)
        if before["profile_id"] != after["profile_id"]:
            edit.said = _monitor_moves(_marks(edit.was), _marks(edit.spec))


def _columns(before: dict[str, Any], after: dict[str, Any]) -> list[str]:
    """Columns to save; rows beside the setup's own are saved already."""
    moved = [k for k in after if k not in ("filters", "things") and before[k] != after[k]]
    return [*moved, "summary"]


def _pressed(data: Mapping[str, Any]) -> tuple[Change, ...] | None:
    """The changes of a press on a fix, None where fields were sent; a mangled press is none."""
    if not data.get("fix"):
        return None
    try:
        return changes_of(data["fix"])
    except RuleError:
        return ()


def _press(edit: Edit, changes: tuple[Change, ...]) -> None:
    """The changes of a fix: gear by name, the rest as it is."""
    gear = {c.setting: c.value for c in changes if c.setting in GEAR_NAMES | ROW_NAMES}
    put_gear(edit.row, gear, edit.refuse)
    edit.spec = spec_of(edit.row, edit.packed)
    edit.make([c for c in changes if c.setting not in gear], {})


def _fields(edit: Edit, data: QueryDict) -> None:
    """Every field that was sent, in the order of the table."""
    sent = {name: data.getlist(name) for name in data if name in GEAR_NAMES | ROW_NAMES}
    if sent:
        many = {row.name for row in SETTINGS if row.control is Control.NAMES}
        put_gear(
            edit.row, {name: given if name in many else given[-1] for name, given in sent.items()},
            edit.refuse,
        )  # fmt: skip
        edit.spec = spec_of(edit.row, edit.packed)
    plain = [row for row in SETTINGS if row.control is not Control.SCALE]
    edit.make([c for row in plain for c in _read(edit, row, data)], data)
    for name in core.SETTINGS:
        # Frame rate first; each is judged with the ones before it in force.
        if is_span(data.get(name, "")):
            # Two values typed where one stands: the setting is free between them.
            _limit(edit, name, data.get(name, ""), name)
        else:
            edit.make(_read(edit, by_name()[name], data), data)
    edit.make([Change(f, data[f] == "1") for f in HELD_FIELDS if f in data], data)
    for field_name, name in LIMIT_FIELDS.items():
        if field_name in data:
            _limit(edit, name, data.get(field_name, ""), field_name)
    _weights(edit, data)
    edit.spec = read_readings(edit.spec, data, edit.refuse)
    edit.usual_light = usual_light(edit.spec, data)
    named = named_light(data.get("light", ""))
    if named is not None and "light" not in edit.errors:
        low, high = n.format_number(named.low_ev), n.format_number(named.high_ev)
        edit.said = (
            f"{named.name.capitalize()} is usually EV {low} to {high}: "
            f"{n.format_number(named.ev100)} is taken until you meter it."
        )


def _read(edit: Edit, row: Setting, data: QueryDict) -> list[Change]:
    """The change a field asks for; none where it was not sent, or sent as it is shown."""
    if row.name not in data or row.name in GEAR_NAMES:
        return []
    text = data.get(row.name, "")
    method = row.name in METHODS
    # A format that is not named is the body's first.
    shown = edit.spec.format.name if row.name == "recording" else row.text(edit.spec)
    if not method and text.strip() == shown:
        # A whole form sends what it shows: nothing was typed, and no exact value is rounded.
        return []
    try:
        own = text or (getattr(edit.row.shoot, row.name) if method else text)
        changes = [Change(row.name, row.read(edit.spec, own))]
        if row.name in SPOKEN_UNITS:
            # Millimetres of what is small are shown as such anyway.
            usual = row.write(changes[0].value) == own.strip()
            unit = "" if usual else unit_typed(row.name, own)
            changes.append(Change(f"unit_{row.name}", unit))
    except RuleError as error:
        edit.refuse(row.name, error.rule, text)
        return []
    if method:
        # An empty choice is the shoot's own, and follows it.
        others = {k: kept for k, kept in edit.row.intent.items() if k != row.name}
        edit.row.intent = {**others, row.name: text} if text else others
    return changes


def _limit(edit: Edit, name: str, text: str, field_name: str) -> None:
    """Limits as typed; a setting held between two values is no longer held at one."""
    present = edit.spec.limit_on(name)
    if text.strip() == ("" if present is None else format_limit(present)):
        return
    try:
        limit = parse_limit(edit.spec, name, text)
    except RuleError as error:
        edit.refuse(field_name, error.rule, text)
        return
    ends = None if limit is None else (limit.low, limit.high)
    freed = [] if limit is None else [Change(f"held_{name}", False)]
    edit.make([Change(f"limit_{name}", ends), *freed], {})


def _weights(edit: Edit, data: Mapping[str, str]) -> None:
    changes = []
    for name in WEIGHT_FIELDS.keys() & data.keys():
        try:
            changes.append(Change(name, parse_weight(data[name])))
        except RuleError as error:
            edit.refuse(name, error.rule, data[name])
    edit.make(changes, data)


def _single_pictures(
    edit: Edit, data: Mapping[str, str], names: set[str], before: core.Setup
) -> None:
    """What belongs to an interval run: a subject's usual interval, the sky, the third of three."""
    try:
        edit.spec = sent_subject(edit.spec, data.get("subject_start", ""))
        if "light_sun" in data:
            edit.spec = sky_for(edit.row, edit.spec)
        edit.spec = brought_along(before, edit.spec)
    except RuleError as error:
        # The setup stays as it was before; what was typed stands beside the field that cannot.
        name = error.field if error.field in names else next(
            (n for n in ("event_s", "wanted_screen_s", "frame_rate", "follows") if n in names),
            error.field,
        )  # fmt: skip
        edit.refuse(name, f"{_named(error.field, name)}{error.rule}", data.get(name, ""))
        edit.spec = replace(
            edit.spec, frame_rate=before.frame_rate, wanted_screen_s=before.wanted_screen_s,
            run=replace(edit.spec.run, event_s=before.run.event_s, follows=before.run.follows),
        )  # fmt: skip


def _named(name: str, beside: str) -> str:
    """The name of the one that would not do, where it does not stand at its own field."""
    words = {"wanted_screen_s": "the clip ", "frame_rate": "the interval ", "event_s": "the event "}
    return "" if name == beside else words.get(name, "")


ALONG = frozenset({"light_said", "held_from_start"})
_WORDS = {
    "light_said": "light said", "held_from_start": "held or free",
    "held": "held or free", "limits": "limits", "emphasis": "what matters more", "units": "units",
    "readings": "readings", "position": "order", "planned_time": "planned time",
    "place_id": "place", "day_id": "day", "scene_id": "scene",
    "notes": "notes", "things": "on the camera", "packs_all": "the whole kit or some of it",
    "packed_bodies": "bodies packed", "packed_lenses": "lenses packed",
    "packed_filters": "filters packed", "packed_accessories": "accessories packed",
}  # fmt: skip


def label_of(paths: Iterable[str]) -> str:
    """What was changed at these paths, in the words of the table."""
    rows = by_name()
    names = [setting_of(path) for path in paths]
    # What only comes along with another change is not what was done.
    names = [name for name in names if name not in ALONG] or names
    said = [rows[name].label if name in rows else _WORDS.get(name, name) for name in names]
    return ", ".join(dict.fromkeys(said))[:120]


def _marks(spec: core.Setup) -> tuple[str, str]:
    """Both zebras as one sets them."""
    target = target_stops(spec)
    one, two, _ = monitor_marks(spec.recorded_profile, spec.readings, target, spec.intent.exposing)
    return one.words, f"{two.percent:.0f} %"


def _monitor_moves(before: tuple[str, str], after: tuple[str, str]) -> str:
    """What another profile moves on the monitor; the zebra left behind never shows."""
    moved = [
        f"zebra {number} from {old} to {new}"
        for number, old, new in zip((1, 2), before, after, strict=True)
        if old != new
    ]
    return f"Set on the monitor: {', '.join(moved)}." if moved else ""
