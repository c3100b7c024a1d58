"""One change on the bench: read what was sent, keep what is right, say what is not."""

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from typing import Any, Self

from django.db import transaction
from django.http import QueryDict

from fotonomy.core.analysis.burst import drive_in_use
from fotonomy.core.errors import RuleError
from fotonomy.core.exposure.scales import SETTING_LABELS
from fotonomy.core.parsing.intent import format_limit, is_span, parse_limit, parse_weight
from fotonomy.core.parsing.settings import with_typed_setting
from fotonomy.core.spec import setup as core
from fotonomy.core.stills.burst import rate_of
from fotonomy.core.tone.placement import placing
from fotonomy.core.tone.signal_levels import monitor_marks
from fotonomy.exchange.gear_json import plain
from fotonomy.exchange.setup_json import light_to_data
from fotonomy.kit.models import Accessory
from fotonomy.shoots import history
from fotonomy.shoots.editing.fix_values import changes_of
from fotonomy.shoots.editing.forms import (
    HELD_FIELDS,
    INTENT_FIELDS,
    LIMIT_FIELDS,
    MOVEMENT_FIELDS,
    WEIGHT_FIELDS,
    BenchForm,
    sentence,
)
from fotonomy.shoots.editing.readings import edited, touches_readings
from fotonomy.shoots.editing.stills import RUN_FIELDS, add_device, sent_subject, sky_for, with_third
from fotonomy.shoots.editing.stills_texts import run_texts
from fotonomy.shoots.mapping import (
    PLAIN_COLUMNS,
    SCHOOLS,
    PackedKit,
    packed_kit,
    snapshot,
    spec_of,
    write_spec,
)
from fotonomy.shoots.models import Change, Setup

# Fields of the fold "Setup, gear, notes".
ABOUT_FIELDS = {
    "code", "title", "kind", "planned_time", "body", "filters", "notes", "tubes",
    "support",
}  # fmt: skip
# Fields of the fold "What matters".
WANT_FIELDS = {
    *SCHOOLS,
    *LIMIT_FIELDS,
    *WEIGHT_FIELDS,
    "slow_factor",
    "freeze",
    "smear",
    "light_change",
}
# Form field to column, where the names differ.
COLUMNS = {
    "subject_speed": "subject_speed_m_s",
    "subject_distance": "subject_distance_m",
    "focal": "focal_mm",
    "white": "white_k",
    "wanted_screen": "wanted_screen_s",
    "handle": "handle_s",
    "subject_size": "subject_size_m",
    "subject_depth": "subject_depth_m",
    "light_change": "light_change_stops",
    "tint": "tint_cc",
    "source": "source_k",
    "white_bias": "white_bias_mired",
}


@dataclass(slots=True)
class Edit:
    """What came of a change: the row as saved, its spec, and errors with the text typed.

    ``step`` is what can now be undone, None if nothing changed. ``about_stays`` is true
    if nothing of what a setup is and what it is shot with was sent, ``wants_stay`` if
    nothing of what matters was, ``lens_stays`` if the lens was not touched.
    """

    row: Setup
    spec: core.Setup
    packed: PackedKit
    step: Change | None = None
    about_stays: bool = False
    wants_stay: bool = False
    readings_stay: bool = False
    said: str = ""
    lens_stays: bool = False
    errors: dict[str, str] = field(default_factory=dict)
    typed: dict[str, str] = field(default_factory=dict)

    @classmethod
    def untouched(cls, row: Setup) -> Self:
        """A setup as it stands, with nothing changed."""
        packed = packed_kit(row.shoot)
        return cls(row, spec_of(row, packed), packed)

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
    for name, value in changes_of(text):
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
    marks = _marks(edit.spec)
    edit.readings_stay = not touches_readings(data) and "scene" not in data
    edit.about_stays = ABOUT_FIELDS.isdisjoint(data.keys())
    as_it_was = edit.spec
    if data.get("device_add"):
        add_device(row, data["device_add"])
        edit.spec = spec_of(row, edit.packed)
    _plain_fields(edit, data)
    _settings(edit, data)
    _run(edit, data, as_it_was)
    _held(edit, data)
    _limits(edit, data)
    _weights(edit, data)
    if touches_readings(data):
        edit.spec = edited(edit.spec, data, edit.refuse)
    write_spec(row, edit.spec)
    after = snapshot(row)
    edit.lens_stays = {"lens", "held_lens"}.isdisjoint(data.keys())
    edit.wants_stay = WANT_FIELDS.isdisjoint(data.keys()) and before["limits"] == after["limits"]
    if before != after:
        row.save(
            update_fields=[
                k for k in after if k not in ("filters", "things") and before[k] != after[k]
            ]
        )
        key = str(row.pk)
        label = _label(before, after)
        edit.step = history.record(row.shoot, label, {key: before}, {key: after}, gesture)
        if before["profile_id"] != after["profile_id"]:
            edit.said = _monitor_moves(marks, _marks(edit.spec))
    return edit


def _plain_fields(edit: Edit, data: QueryDict) -> None:
    row = edit.row
    if data.keys().isdisjoint((*BenchForm.base_fields, *RUN_FIELDS)):
        return
    data = _typed_only(edit.spec, data)
    form = BenchForm(data, row.shoot.owner)
    form.is_valid()
    for name, messages in form.errors.items():
        edit.refuse(name, sentence(str(messages[0])), data.get(name, ""))
    before = {name: getattr(row, name) for name in (*PLAIN_COLUMNS, "planned_time")}
    for name, value in form.cleaned_data.items():
        _put(row, name, value)
    try:
        edit.spec = spec_of(row, edit.packed)
    except RuleError as error:
        for column, value in before.items():
            setattr(row, column, value)
        name = error.field if error.field in data else next(iter(form.cleaned_data), error.field)
        edit.refuse(name, sentence(error.rule), data.get(name, ""))
        edit.spec = spec_of(row, edit.packed)


def _typed_only(spec: core.Setup, data: QueryDict) -> QueryDict:
    """The data less the fields of a run sent as they are shown: rounded, they would drift."""
    shown = {name: text for name, (_, text, _) in run_texts(spec).items()}
    same = [name for name, text in shown.items() if data.get(name) == text]
    if not same:
        return data
    typed = data.copy()
    for name in same:
        del typed[name]
    return typed


def _put(row: Setup, name: str, value: Any) -> None:
    """One field of the form into the row; dictionaries are replaced, never changed in place."""
    if name == "filters":
        row.put_filters(value)
    elif name == "tubes":
        row.put_sorts(value, (Accessory.TUBE,))
    elif name == "devices":
        row.put_sorts(value, Accessory.DEVICES)
    elif name in RUN_FIELDS:
        row.run = {**row.run, RUN_FIELDS[name]: plain(value)}
    elif name in MOVEMENT_FIELDS:
        row.movement = {**row.movement, MOVEMENT_FIELDS[name]: value}
    elif name in SCHOOLS and not value:
        row.intent = {key: kept for key, kept in row.intent.items() if key != name}
    elif name in INTENT_FIELDS:
        row.intent = {**row.intent, INTENT_FIELDS[name]: value}
    else:
        setattr(row, COLUMNS.get(name, name), light_to_data(value) if name == "light" else value)


def _settings(edit: Edit, data: QueryDict) -> None:
    """The five settings, frame rate first; each is judged with the ones before it in force."""
    for name in core.SETTINGS:
        if name not in data:
            continue
        text = data[name]
        if is_span(text):
            # Two values typed where one stands: the setting is free between them.
            _limit(edit, name, text, name)
            continue
        try:
            edit.spec = with_typed_setting(edit.spec, name, text)
        except RuleError as error:
            edit.refuse(name, sentence(error.rule), text)


def _run(edit: Edit, data: QueryDict, before: core.Setup) -> None:
    """What belongs to an interval run: a subject's usual interval, the sky, the third of three.

    Another drive is meant where focus starts or stops following: its rate goes along.
    """
    try:
        edit.spec = sent_subject(edit.spec, data)
        if before.run.continuous_focus != edit.spec.run.continuous_focus:
            edit.spec = replace(edit.spec, frame_rate=rate_of(
                drive_in_use(before), edit.spec.run.continuous_focus))  # fmt: skip
        if "light_sun" in data:
            edit.spec = sky_for(edit.row, edit.spec)
        edit.spec = with_third(before, edit.spec)
    except RuleError as error:
        # The setup stays as it was before; what was typed stands beside the field that cannot.
        name = error.field if error.field in data else next(
            (n for n in ("event", "wanted_screen", "frame_rate", "follows") if n in data),
            error.field,
        )  # fmt: skip
        edit.refuse(name, sentence(f"{_named(error.field, name)}{error.rule}"), data.get(name, ""))
        edit.spec = replace(
            edit.spec, frame_rate=before.frame_rate, wanted_screen_s=before.wanted_screen_s,
            run=replace(edit.spec.run, event_s=before.run.event_s, follows=before.run.follows),
        )  # fmt: skip


def _named(field: str, beside: str) -> str:
    """The name of the one that would not do, where it does not stand at its own field."""
    words = {"wanted_screen": "the clip ", "frame_rate": "the interval ", "event": "the event "}
    return "" if field == beside else words.get(field, "")


def _held(edit: Edit, data: Mapping[str, str]) -> None:
    held = set(edit.spec.held)
    for field_name, name in HELD_FIELDS.items():
        if field_name in data:
            (held.add if data[field_name] == "1" else held.discard)(name)
    if held != edit.spec.held:
        packed = () if "lens" in held else edit.packed.lenses
        edit.spec = replace(edit.spec, held=frozenset(held), packed_lenses=packed)


def _limits(edit: Edit, data: Mapping[str, str]) -> None:
    """Limits as typed; a setting held between two values is no longer held at one."""
    for field_name, name in LIMIT_FIELDS.items():
        if field_name in data:
            _limit(edit, name, data[field_name], field_name)


def _limit(edit: Edit, name: str, text: str, field_name: str) -> None:
    present = edit.spec.limit_on(name)
    if present is not None and text.strip() == format_limit(edit.spec, present):
        # A whole form sends what it shows: nothing was typed, and what is held stays held.
        return
    try:
        limit = parse_limit(edit.spec, name, text)
    except RuleError as error:
        edit.refuse(field_name, sentence(error.rule), text)
        return
    kept = tuple(one for one in edit.spec.limits if one.setting != name)
    held = edit.spec.held if limit is None else edit.spec.held - {name}
    edit.spec = replace(edit.spec, limits=kept + ((limit,) if limit else ()), held=held)


def _weights(edit: Edit, data: Mapping[str, str]) -> None:
    emphasis = dict(edit.spec.intent.emphasis)
    for field_name, name in WEIGHT_FIELDS.items():
        if field_name not in data:
            continue
        try:
            emphasis[name] = parse_weight(data[field_name])
        except RuleError as error:
            edit.refuse(field_name, sentence(error.rule), data[field_name])
    changed = tuple(sorted((name, times) for name, times in emphasis.items() if times != 1))
    if changed != edit.spec.intent.emphasis:
        edit.spec = replace(edit.spec, intent=replace(edit.spec.intent, emphasis=changed))


def _label(before: dict[str, Any], after: dict[str, Any]) -> str:
    names = [key for key in after if before.get(key) != after[key]]
    words = {
        "shutter_angle_deg": "shutter", "shutter_time_s": "shutter", "nd_density": "ND",
        "body_id": "camera", "lens_id": "lens", "profile_id": "profile", "held": "held or free",
        "intent": "what is wanted", "run": "the run", "things": "on the camera",
        "movement": "camera and direction",
        "tint_cc": "tint", "source_k": "main light", "white_bias_mired": "white balance by taste",
    }  # fmt: skip
    said = [words.get(name) or SETTING_LABELS.get(name) or _spoken(name) for name in names]
    return ", ".join(dict.fromkeys(said))[:120]


def _marks(spec: core.Setup) -> tuple[str, str]:
    """Both zebras as one sets them."""
    target = placing(spec.intent.exposing, spec.profile, spec.readings).offset_stops
    one, two, _ = monitor_marks(spec.profile, spec.readings, target, spec.intent.exposing)
    return f"{one.percent:.0f} ± {one.half_width_percent:.0f} %", f"{two.percent:.0f} %"


def _monitor_moves(before: tuple[str, str], after: tuple[str, str]) -> str:
    """What another profile moves on the monitor; the zebra left behind never shows."""
    moved = [
        f"zebra {number} from {old} to {new}"
        for number, old, new in zip((1, 2), before, after, strict=True)
        if old != new
    ]
    return f"Set on the monitor: {', '.join(moved)}." if moved else ""


def _spoken(column: str) -> str:
    for unit in ("_m_s", "_mm", "_m", "_s", "_k"):
        column = column.removesuffix(unit)
    return column.replace("_", " ")
