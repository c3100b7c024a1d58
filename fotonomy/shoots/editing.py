"""One change on the bench: read what was sent, keep what is right, say what is not."""

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from typing import Any, Self

from django.db import transaction
from django.http import QueryDict

from fotonomy.core import setup as core
from fotonomy.core.errors import RuleError
from fotonomy.core.settings import SETTING_LABELS, with_typed_setting
from fotonomy.exchange.setup_json import light_to_data
from fotonomy.shoots import ledger
from fotonomy.shoots.forms import HELD_FIELDS, BenchForm, sentence
from fotonomy.shoots.models import Change, Setup
from fotonomy.shoots.specs import OwnGlass, glass_of, snapshot, spec_of, write_spec

# Fields of the fold "Setup, gear, notes".
ABOUT_FIELDS = {
    "code", "title", "kind", "planned_time", "body", "lens", "focal", "white", "filters", "notes",
}  # fmt: skip
# Form field to column, where the names differ.
COLUMNS = {
    "subject_speed": "subject_speed_m_s",
    "subject_distance": "subject_distance_m",
    "focal": "focal_mm",
    "white": "white_k",
    "wanted_screen": "wanted_screen_s",
    "handle": "handle_s",
}


@dataclass(slots=True)
class Edit:
    """What came of a change: the row as saved, its spec, and errors with the text typed.

    ``step`` is what can now be undone, None if nothing changed. ``about_stays`` is true
    if nothing of what a setup is and what it is shot with was sent.
    """

    row: Setup
    spec: core.Setup
    glass: OwnGlass
    step: Change | None = None
    about_stays: bool = False
    errors: dict[str, str] = field(default_factory=dict)
    typed: dict[str, str] = field(default_factory=dict)

    @classmethod
    def untouched(cls, row: Setup) -> Self:
        """A setup as it stands, with nothing changed."""
        glass = glass_of(row.shoot.owner)
        return cls(row, spec_of(row, glass), glass)

    def refuse(self, name: str, message: str, text: str) -> None:
        """Put an error beside a field and keep what was typed there."""
        self.errors[name] = message
        self.typed[name] = text


def fix_as_fields(data: QueryDict) -> QueryDict:
    """The data of a press on a fix: "iris=f/4;iso=800" becomes those fields, and only those."""
    text = data.get("fix")
    if not text:
        return data
    fields = QueryDict(mutable=True)
    for part in text.split(";")[:8]:
        name, _, value = part.partition("=")
        fields[name] = value
    return fields


@transaction.atomic
def edit_setup(row: Setup, data: QueryDict) -> Edit:
    """Apply the fields in ``data`` to a setup and save what is right.

    A field that is wrong leaves its old value standing, so that the last good plan
    stays; absent fields are untouched.
    """
    gesture = data.get("gesture", "")[:40]
    data = fix_as_fields(data)
    before = snapshot(row)
    edit = Edit.untouched(row)
    edit.about_stays = ABOUT_FIELDS.isdisjoint(data.keys())
    _plain_fields(edit, data)
    _settings(edit, data)
    _held(edit, data)
    write_spec(row, edit.spec)
    after = snapshot(row)
    if before != after:
        row.save(update_fields=[k for k in after if k != "filters" and before[k] != after[k]])
        key = str(row.pk)
        label = _label(before, after)
        edit.step = ledger.record(row.shoot, label, {key: before}, {key: after}, gesture)
    return edit


def _plain_fields(edit: Edit, data: QueryDict) -> None:
    row = edit.row
    if data.keys().isdisjoint(BenchForm.base_fields):
        return
    form = BenchForm(data, row.shoot.owner)
    form.is_valid()
    for name, messages in form.errors.items():
        edit.refuse(name, sentence(str(messages[0])), data.get(name, ""))
    old: dict[str, Any] = {}
    for name, value in form.cleaned_data.items():
        if name == "filters":
            row.put_filters(value)
            continue
        column = COLUMNS.get(name, name)
        old[name] = getattr(row, column)
        setattr(row, column, light_to_data(value) if name == "light" else value)
    try:
        edit.spec = spec_of(row, edit.glass)
    except RuleError as error:
        for name, value in old.items():
            setattr(row, COLUMNS.get(name, name), value)
        name = error.field if error.field in data else next(iter(old), error.field)
        edit.refuse(name, sentence(error.rule), data.get(name, ""))
        edit.spec = spec_of(row, edit.glass)


def _settings(edit: Edit, data: QueryDict) -> None:
    """The five settings, frame rate first; each is judged with the ones before it in force."""
    for name in core.SETTINGS:
        if name not in data:
            continue
        text = data[name]
        try:
            edit.spec = with_typed_setting(edit.spec, name, text)
        except RuleError as error:
            edit.refuse(name, sentence(error.rule), text)


def _held(edit: Edit, data: Mapping[str, str]) -> None:
    held = set(edit.spec.held)
    for field_name, name in HELD_FIELDS.items():
        if field_name in data:
            (held.add if data[field_name] == "1" else held.discard)(name)
    if held != edit.spec.held:
        edit.spec = replace(edit.spec, held=frozenset(held))


def _label(before: dict[str, Any], after: dict[str, Any]) -> str:
    names = [key for key in after if before.get(key) != after[key]]
    words = {
        "shutter_angle_deg": "shutter", "shutter_time_s": "shutter", "nd_density": "ND",
        "body_id": "camera", "lens_id": "lens", "profile_id": "profile", "held": "held or free",
    }  # fmt: skip
    said = [words.get(name) or SETTING_LABELS.get(name) or _spoken(name) for name in names]
    return ", ".join(dict.fromkeys(said))[:120]


def _spoken(column: str) -> str:
    for unit in ("_m_s", "_mm", "_m", "_s", "_k"):
        column = column.removesuffix(unit)
    return column.replace("_", " ")
