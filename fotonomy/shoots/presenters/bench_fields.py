"""Fields, menus and scales of the bench, as the templates draw them."""

import json
from collections.abc import Iterable
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Any, ClassVar

from django.utils.html import format_html_join

from fotonomy.core.exposure.scales import Offer
from fotonomy.core.gear.support import Support
from fotonomy.core.parsing.intent import format_weight
from fotonomy.core.parsing.limits import LIMIT_EXAMPLES, format_limit
from fotonomy.core.parsing.table import SETTINGS, Control, Setting, by_name, label_for, said
from fotonomy.core.spec.changes import value_of
from fotonomy.core.spec.intent import CRITERIA, EMPHASIS_WORDS
from fotonomy.core.spec.kind import Kind
from fotonomy.core.spec.setup import Setup as Spec
from fotonomy.kit.models import Accessory, Body, Filter, Gear, Lens, Profile
from fotonomy.shoots.editing.apply import LIMIT_FIELDS, Edit
from fotonomy.shoots.mapping import METHODS
from fotonomy.shoots.models import Setup
from fotonomy.shoots.packed_kit import offered

MARKS_AROUND = 2
# A choice of more letters is cut off in a field of usual width.
LONG_CHOICE = 18
# What no plan moves has no switch that holds it.
NEVER_MOVED = frozenset({"white_k"})


@dataclass(frozen=True, slots=True)
class Mark:
    """One engraved value: its text, what is shown, and whether it is the present one."""

    text: str
    mark: str
    present: bool


@dataclass(frozen=True, slots=True)
class ScaleView:
    """One scale as the template draws it."""

    name: str
    label: str
    key: str
    text: str
    held: bool
    limit: str
    error: str
    marks: tuple[Mark | None, ...]
    options_json: str
    datalist: str
    index: int
    last: int
    coarse: int
    holds: bool = True


@dataclass(frozen=True, slots=True)
class FieldView:
    """One ordinary field: its name, label, text, error and hint; ``hold`` names what it holds."""

    name: str
    label: str
    text: str
    error: str
    hint: str = ""
    hold: str = ""
    held: bool = False
    key: str = ""
    template: ClassVar = "shoots/_field.html"


@dataclass(frozen=True, slots=True)
class Choice:
    """One entry of a menu."""

    value: str
    label: str
    chosen: bool


@dataclass(frozen=True, slots=True)
class MenuView:
    """One menu: its choices, and an error beside it; ``hold`` names what it holds."""

    name: str
    label: str
    choices: tuple[Choice, ...]
    error: str
    hold: str = ""
    held: bool = False
    key: str = ""
    template: ClassVar = "shoots/_menu.html"

    @property
    def wide(self) -> bool:
        """True where its longest choice needs more room than a usual field has."""
        return max((len(choice.label) for choice in self.choices), default=0) > LONG_CHOICE


@dataclass(frozen=True, slots=True)
class TickView:
    """A setting that is ticked or not."""

    name: str
    label: str
    on: bool
    error: str = ""
    template: ClassVar = "shoots/_ticked.html"


@dataclass(frozen=True, slots=True)
class TicksView:
    """Things several of which may be ticked, and an error beside them."""

    name: str
    label: str
    choices: tuple[Choice, ...]
    error: str = ""
    template: ClassVar = "shoots/_ticks.html"


@dataclass(frozen=True, slots=True)
class NotesView:
    """A few lines of text."""

    field: FieldView
    template: ClassVar = "shoots/_notes.html"

    @property
    def error(self) -> str:
        """What is wrong with them, empty where nothing is."""
        return self.field.error


Entry = FieldView | MenuView | TickView | TicksView | NotesView


@dataclass(frozen=True, slots=True)
class AboutGroup:
    """Fields of one question; on a phone one group is shown at a time."""

    name: str
    title: str
    entries: tuple[Entry, ...]
    chosen: bool = False

    @property
    def in_error(self) -> bool:
        """True if something in here is refused."""
        return any(entry.error for entry in self.entries)


@dataclass(frozen=True, slots=True)
class AboutView:
    """What a setup is and what it is shot with, in groups."""

    groups: tuple[AboutGroup, ...]

    @property
    def in_error(self) -> bool:
        """True if something in here is refused, so that it has to be open."""
        return any(group.in_error for group in self.groups)


@dataclass(frozen=True, slots=True)
class WeightView:
    """One criterion of the planner: its field, the words for it, and what it asks."""

    field: FieldView
    words: tuple[Choice, ...]
    asks: str

    @property
    def in_words(self) -> bool:
        """True if it is one of the words; a number is typed."""
        return not self.field.error and any(word.chosen for word in self.words)


@dataclass(frozen=True, slots=True)
class WantsView:
    """What is wanted of a setup: methods and wishes, limits, and weights."""

    menus: tuple[MenuView, ...]
    fields: tuple[FieldView, ...]
    limits: tuple[FieldView, ...]
    weights: tuple[WeightView, ...]

    @property
    def in_error(self) -> bool:
        """True if something in here is refused, so that it has to be open."""
        weights = [weight.field for weight in self.weights]
        views: list[FieldView | MenuView] = [*self.menus, *self.fields, *self.limits, *weights]
        return any(view.error for view in views)


@lru_cache(maxsize=256)
def _datalist(texts: tuple[str, ...]) -> str:
    return format_html_join("", '<option value="{}"></option>', ((text,) for text in texts))


def scale_view(name: str, offer: Offer, edit: Edit) -> ScaleView:
    """One setting's scale, with the marks around the present value."""
    present = by_name()[name].text(edit.spec)
    at = offer.insert_at if offer.index is None else offer.index
    marks: list[Mark | None] = []
    for k in range(-MARKS_AROUND, MARKS_AROUND + 1):
        # A present value that is on no scale stands between its neighbours.
        there = at + k if offer.index is not None or k < 0 else at + k - 1
        option = offer.options[there] if 0 <= there < len(offer.options) else None
        if k == 0:
            shown = option.mark if option and offer.index is not None else bare(present)
            marks.append(Mark(present, shown, True))
        else:
            marks.append(Mark(option.text, option.mark, False) if option else None)
    limit = edit.spec.limit_on(name)
    return ScaleView(
        name=name,
        label=label_for(edit.spec.kind, name),
        key=by_name()[name].key,
        text=edit.typed.get(name, present),
        held=name in edit.spec.held,
        limit=format_limit(limit) if limit else "",
        error=edit.errors.get(name, ""),
        marks=tuple(marks),
        options_json=json.dumps(
            [[o.text, o.mark, round(o.gain, 3)] for o in offer.options], ensure_ascii=False
        ),
        datalist=_datalist(tuple(o.text for o in offer.options)),
        last=len(offer.options) - 1,
        index=at,
        coarse=offer.coarse,
        holds=name not in NEVER_MOVED,
    )


def bare(text: str) -> str:
    """A value as it is engraved: without its sign, unit or words."""
    return text.removeprefix("f/").removesuffix("°").removesuffix(" K").removesuffix(" fps")


def field_view(edit: Edit, row: Setting) -> FieldView:
    """One row of the table as its field: what is typed in error stands, else the present value."""
    return FieldView(
        row.name, label_for(edit.spec.kind, row.name),
        edit.typed.get(row.name, row.text(edit.spec)),
        edit.errors.get(row.name, ""), row.hint, row.name if row.holdable else "",
        row.name in edit.spec.held, row.key,
    )  # fmt: skip


def row_field(edit: Edit, name: str, label: str, text: str, hint: str = "") -> FieldView:
    """A field that the row alone keeps."""
    return FieldView(name, label, edit.typed.get(name, text), edit.errors.get(name, ""), hint)


def field_views(edit: Edit) -> dict[str, FieldView]:
    """Every field that is typed, by name."""
    time = edit.row.planned_time.strftime("%H:%M") if edit.row.planned_time else ""
    return {
        **{row.name: field_view(edit, row) for row in SETTINGS if row.control is Control.TEXT},
        "planned_time": row_field(edit, "planned_time", "Planned for", time, "13:45"),
        "notes": row_field(edit, "notes", "Notes", edit.row.notes),
    }


def choice_menu(edit: Edit, row: Setting) -> MenuView:
    """A row that is chosen from a list; a method may be left to the shoot."""
    assert row.choices is not None
    present = row.text(edit.spec)
    label, error = label_for(edit.spec.kind, row.name), edit.errors.get(row.name, "")
    if row.name not in METHODS:
        return MenuView(row.name, label, _enum_choices(row.choices, present), error)
    chosen = edit.row.intent.get(row.name)
    usual = label_of(row.choices(getattr(edit.row.shoot, row.name)))
    own = tuple(Choice(item.value, label_of(item), item.value == chosen) for item in row.choices)
    choices = (Choice("", f"as the shoot: {usual}", chosen is None), *own)
    return MenuView(row.name, label, choices, error)


def ticks(edit: Edit) -> dict[str, bool]:
    """What is ticked."""
    return {
        row.name: bool(value_of(edit.spec, row.name))
        for row in SETTINGS if row.control is Control.TICK
    }  # fmt: skip


@dataclass(frozen=True, slots=True)
class KeyView:
    """Letters and what they go to, for the list of keys."""

    letters: tuple[str, ...]
    words: str


def key_views(kind: Kind) -> tuple[KeyView, ...]:
    """The letters of the table: the scales and the light each in a line, the rest in one."""
    lettered = [row for row in SETTINGS if row.key]
    alone = [row for row in lettered if row.lane in ("scale", "light")]
    rest = sorted((row for row in lettered if row not in alone), key=lambda row: row.key)
    words = ", ".join(said(row.label) for row in rest)
    return (
        *(KeyView((row.key,), label_for(kind, row.name)) for row in alone),
        KeyView(tuple(row.key for row in rest), words),
    )


def choices_of(names: Iterable[str], present: set[str], outside: str = "") -> tuple[Choice, ...]:
    """Names as choices; a present one that is not among them is added with a remark."""
    choices = tuple(Choice(name, name, name in present) for name in names)
    missing = sorted(present - {choice.value for choice in choices})
    return choices + tuple(
        Choice(name, f"{name} ({outside})" if outside else name, True) for name in missing
    )


def label_of(item: Any) -> str:
    """What a member of an enumeration is called: its label, or its value."""
    return str(getattr(item, "label", item.value))


def _enum_choices(members: Iterable[Any], present: str) -> tuple[Choice, ...]:
    return tuple(Choice(item.value, label_of(item), item.value == present) for item in members)


def _offered_names(edit: Edit, model: type[Gear], names: str) -> list[str]:
    # Sorted here: on the bench every clause of a query is compiled at every change.
    return sorted(offered(edit.row.shoot, model, names).values_list("name", flat=True))


def offered_of(edit: Edit, names: Iterable[str], model: type[Gear], field: str) -> tuple[str, ...]:
    """Those of the names that somebody may put into the setup; all of them for the owner."""
    if edit.row.shoot.actor.owns:
        return tuple(names)
    known = set(_offered_names(edit, model, field))
    return tuple(name for name in names if name in known)


def _profile_names(row: Setup) -> list[str]:
    """Profiles for a body that names none of its own: all of the kit; for the crew, those used."""
    rows = Profile.objects.filter(owner=row.shoot.owner).order_by()
    if not row.shoot.actor.owns:
        rows = rows.filter(setups__shoot=row.shoot).distinct()
    return sorted(rows.values_list("name", flat=True))


def menus(edit: Edit) -> dict[str, MenuView]:
    """Menus that stand in the tiles."""
    spec, errors = edit.spec, edit.errors
    formats = [recorded.name for recorded in spec.body.formats]
    found = {row.name: choice_menu(edit, row) for row in SETTINGS if row.choices is not None}
    choices = choices_of(formats, {spec.recording or formats[0]}, "not on this body")
    found["recording"] = MenuView(
        "recording", by_name()["recording"].label, choices, errors.get("recording", "")
    )
    return found


def about_view(edit: Edit, fields: dict[str, FieldView], choices: dict[str, MenuView]) -> AboutView:
    """The fold of what a setup is and what it is shot with."""
    where, scene = _where(edit)
    ticks_of = {
        name: TickView(name, by_name()[name].label, bool(value_of(edit.spec, name)))
        for name in ("pinned", "alongside", "unattended")
    }
    groups = (
        AboutGroup("what", "What", (
            fields["code"], fields["title"], choices["kind"], choices["shot_size"], *scene,
            NotesView(fields["notes"]),
        )),
        AboutGroup("when", "Where and when", (
            *where, fields["planned_time"], fields["looks_deg"], fields["prepare_min"],
            fields["shoot_min"], fields["priority"], *ticks_of.values(),
        )),
        AboutGroup("gear", "Camera, lens, filters", _gear_entries(edit)),
        AboutGroup("light", "Light wanted", (
            choices["wants"], fields["wants_ev"], fields["wants_at_min"],
            fields["wants_within_min"],
        )),
    )  # fmt: skip
    shown = next((group for group in groups if group.in_error), groups[0])
    return AboutView(tuple(replace(group, chosen=group is shown) for group in groups))


def _gear_entries(edit: Edit) -> tuple[Entry, ...]:
    """Camera, lens and profile, what carries them, and what is put in front or between."""
    spec, errors, rows, packed = edit.spec, edit.errors, by_name(), edit.packed
    records = edit.row.body.profile_names or _profile_names(edit.row)

    def menu(name: str, choices: tuple[Choice, ...]) -> MenuView:
        hold = name if rows[name].holdable else ""
        return MenuView(name, rows[name].label, choices, errors.get(name, ""), hold,
                        name in spec.held, rows[name].key)  # fmt: skip

    bodies = choices_of(_offered_names(edit, Body, "bodies"), {spec.body.name}, "not packed")
    lenses = choices_of(_offered_names(edit, Lens, "lenses"), {spec.lens.name}, "not packed")
    profiles = choices_of(sorted(records), {spec.profile.name}, "not on this body")
    others = offered_of(edit, (p.name for p in packed.others.values()), Filter, "filters")
    tubes = offered_of(edit, (t.name for t in packed.tubes.values()), Accessory, "accessories")
    filters = choices_of(others, {piece.name for piece in spec.filters})
    between = choices_of(tubes, {tube.name for tube in spec.tubes})
    ticked = (
        TicksView("filters", rows["filters"].label, filters, errors.get("filters", "")),
        TicksView("tubes", rows["tubes"].label, between, errors.get("tubes", "")),
    )
    return (
        menu("body", bodies), menu("lens", lenses), menu("profile", profiles),
        menu("support", _supports(edit)),
        *(view for view in ticked if view.choices or view.error),
    )  # fmt: skip


def _where(edit: Edit) -> tuple[list[MenuView], list[MenuView]]:
    """Place and day, then scene; where there is but one there is nothing to choose."""
    row, errors = edit.row, edit.errors
    shoot = row.shoot
    menus = []
    for name, label, present, rows in (
        ("place", "Place", row.place_id, shoot.places_by_id.values()),
        ("day", "Day", row.day_id, shoot.days_by_id.values()),
    ):
        if len(rows) > 1 or name in errors:
            found = tuple(Choice(str(one.pk), str(one), one.pk == present) for one in rows)
            menus.append(MenuView(name, label, found, errors.get(name, "")))
    scenes = list(shoot.scenes.all())
    if scenes:
        none = Choice("", "none", row.scene_id is None)
        found = tuple(Choice(str(one.pk), str(one), one.pk == row.scene_id) for one in scenes)
        return menus, [MenuView("in_scene", "Scene", (none, *found), errors.get("in_scene", ""))]
    return menus, []


def _supports(edit: Edit) -> tuple[Choice, ...]:
    """Every way to carry the camera, with what the person owns for it."""
    owned: dict[str, list[str]] = {}
    for name, sort in edit.packed.supports:
        owned.setdefault(sort.value, []).append(name)
    return tuple(
        Choice(
            sort.value,
            f"{sort.value} ({', '.join(owned[sort.value])})"[:60] if sort.value in owned
            else sort.value,
            sort is edit.spec.support,
        )
        for sort in Support
    )  # fmt: skip


def wants_view(edit: Edit, fields: dict[str, FieldView], choices: dict[str, MenuView]) -> WantsView:
    """The fold of what matters: methods, wishes, limits, weights."""
    spec, errors, rows = edit.spec, edit.errors, by_name()
    here = [row for row in SETTINGS if row.lane == "wants"]
    return WantsView(
        menus=tuple(choices[row.name] for row in here if row.choices is not None),
        fields=tuple(fields[row.name] for row in here if row.control is Control.TEXT),
        limits=tuple(
            FieldView(
                field, rows[name].label, edit.typed.get(field, _limit_text(spec, name)),
                errors.get(field, ""), f"such as {LIMIT_EXAMPLES[name]}; empty for none",
            )
            for field, name in LIMIT_FIELDS.items()
        ),
        weights=tuple(_weight(edit, name) for name in CRITERIA if name != "change"),
    )  # fmt: skip


def _limit_text(spec: Spec, name: str) -> str:
    limit = spec.limit_on(name)
    return format_limit(limit) if limit else ""


def _weight(edit: Edit, name: str) -> WeightView:
    label, _, asks = CRITERIA[name]
    field, intent = f"weight_{name}", edit.spec.intent
    text = edit.typed.get(field, format_weight(intent.emphasis_on(name)))
    words = tuple(Choice(word, word, word == text) for word in EMPHASIS_WORDS)
    hint = "from 0 to 10, 1 is usual"
    return WeightView(FieldView(field, label, text, edit.errors.get(field, ""), hint), words, asks)
