"""Fields, menus and scales of the bench, as the templates draw them."""

import json
from collections.abc import Iterable
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

from django.contrib.auth.models import AbstractBaseUser
from django.utils.html import format_html_join

from fotonomy.core.exposure.scales import Offer
from fotonomy.core.gear.support import Support
from fotonomy.core.motion.camera_movement import Camera
from fotonomy.core.notation import writing as n
from fotonomy.core.parsing.intent import LIMIT_EXAMPLES, format_heading, format_limit
from fotonomy.core.parsing.settings import format_setting
from fotonomy.core.parsing.white_balance import format_tint
from fotonomy.core.planner.relaxation import LABELS, label_for
from fotonomy.core.spec.intent import CRITERIA, Circle, Exposing, Handheld, Look, WhiteSchool
from fotonomy.core.spec.setup import Kind
from fotonomy.core.spec.setup import Setup as Spec
from fotonomy.kit.models import Body, Gear, Lens, Profile
from fotonomy.shoots.editing.apply import Edit
from fotonomy.shoots.editing.forms import LIMIT_FIELDS
from fotonomy.shoots.mapping import packed

# Letters that go straight to a setting or a field.
SETTING_KEYS = {"frame_rate": "f", "shutter": "s", "iris": "i", "iso": "o", "nd": "n"}
MARKS_AROUND = 2


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


@dataclass(frozen=True, slots=True)
class AboutView:
    """What a setup is and what it is shot with."""

    fields: tuple[FieldView, ...]
    menus: tuple[MenuView, ...]
    notes: FieldView
    filters: tuple[Choice, ...]
    filters_error: str
    tubes: tuple[Choice, ...]

    @property
    def in_error(self) -> bool:
        """True if something in here is refused, so that it has to be open."""
        views = (*self.fields, *self.menus, self.notes)
        return bool(self.filters_error) or any(view.error for view in views)


@dataclass(frozen=True, slots=True)
class WeightView:
    """One criterion of the planner: its field, its own weight, and what it asks."""

    field: FieldView
    weight: str
    asks: str


@dataclass(frozen=True, slots=True)
class WantsView:
    """What is wanted of a setup: schools and wishes, limits, and weights."""

    menus: tuple[MenuView, ...]
    fields: tuple[FieldView, ...]
    limits: tuple[FieldView, ...]
    weights: tuple[WeightView, ...]

    @property
    def in_error(self) -> bool:
        """True if something in here is refused, so that it has to be open."""
        views = (*self.menus, *self.fields, *self.limits, *(w.field for w in self.weights))
        return any(view.error for view in views)


@lru_cache(maxsize=256)
def _datalist(texts: tuple[str, ...]) -> str:
    return format_html_join("", '<option value="{}"></option>', ((text,) for text in texts))


def scale_view(name: str, offer: Offer, edit: Edit) -> ScaleView:
    """One setting's scale, with the marks around the present value."""
    present = format_setting(edit.spec, name)
    at = offer.insert_at if offer.index is None else offer.index
    marks: list[Mark | None] = []
    for k in range(at - MARKS_AROUND, at + MARKS_AROUND + 1):
        inside = 0 <= k < len(offer.options)
        option = offer.options[k] if inside else None
        marks.append(option and Mark(option.text, option.mark, k == offer.index))
    limit = edit.spec.limit_on(name)
    return ScaleView(
        name=name,
        label=label_for(edit.spec.kind, name),
        key=SETTING_KEYS[name],
        text=edit.typed.get(name, present),
        held=name in edit.spec.held,
        limit=format_limit(edit.spec, limit) if limit else "",
        error=edit.errors.get(name, ""),
        marks=tuple(marks),
        options_json=json.dumps([[o.text, o.mark] for o in offer.options], ensure_ascii=False),
        datalist=_datalist(tuple(o.text for o in offer.options)),
        last=len(offer.options) - 1,
        index=at,
        coarse=offer.coarse,
    )


def _metres(value: float | None) -> str:
    if value is None:
        return "none"
    if value < 0.1:
        return f"{n.format_number(1000 * value, 3)} mm"
    return f"{n.format_number(value, 3)} m"


def _speed(value: float) -> str:
    return f"{n.format_number(value, 3)} m/s"


def _or_none(value: float | None, unit: str) -> str:
    return "none" if value is None else f"{n.format_number(value, 3)} {unit}"


def _texts(edit: Edit) -> dict[str, tuple[str, str, str]]:
    """Label, present text and hint of every ordinary field."""
    row, spec = edit.row, edit.spec
    move, wish = spec.movement, spec.intent
    back = move.background_m
    time = row.planned_time.strftime("%H:%M") if row.planned_time else ""
    return {
        "light": ("Scene light", n.format_light(spec.light), "EV, lux, cd/m² or f/4 1/60 ISO 400"),
        "subject": ("What moves", spec.subject, ""),
        "subject_speed": ("Speed", _speed(spec.subject_speed_m_s), "m/s, km/h or mph"),
        "subject_size": ("Size", _metres(spec.subject_size_m), "across; m, cm or mm"),
        "subject_depth": ("Its own depth", _metres(spec.subject_depth_m), "front to back"),
        "subject_distance": ("Distance", _metres(spec.subject_distance_m), "m, cm or ft"),
        "heading": ("Direction", format_heading(move.heading_deg),
                    "across, towards, or degrees from the camera's axis"),
        "pan": ("Pan", f"{n.format_number(move.pan_deg_s, 2)}°/s", "10°/s or 90° in 6 s"),
        "travel": ("Camera's speed", _speed(move.travel_m_s), "m/s, km/h or mph"),
        "background": ("Background", "none" if back is None else _metres(back),
                       "its distance; none is four times the subject's"),
        "lamp_hz": ("Lamp's own pulses", _or_none(spec.lamp_hz, "Hz"),
                    "for a lamp with a frequency of its own; none for mains"),
        "focal": ("Focal length", f"{n.format_number(spec.focal_mm, 2)} mm", ""),
        "depth": ("Depth wanted", _metres(wish.depth_m), "what has to be sharp; none for no wish"),
        "white": ("Set to", f"{n.format_number(spec.white_k, 0)} K", "K, or a light by name"),
        "source": ("Main light", "as set" if spec.source_k is None
                   else f"{n.format_number(spec.source_k, 0)} K",
                   "K, or a light such as open shade, studio tungsten"),
        "tint": ("Tint", format_tint(spec.tint_cc), "M10 for magenta, G5 for green"),
        "white_bias": ("Taste", f"{n.format_signed(spec.white_bias_mired, 0)} mired",
                       "warmer is positive; counts in the school of bias"),
        "delivery": ("Delivered at", "as recorded" if wish.delivery_px is None
                     else f"{wish.delivery_px} px", "pixels across, such as 1920"),
        "averaged": ("Frames averaged", str(wish.averaged_frames), "into one, where nothing moves"),
        "wanted_screen": ("The clip lasts" if spec.kind is Kind.INTERVAL else "Wanted on screen",
                           f"{n.format_number(spec.wanted_screen_s, 2)} s", ""),
        "handle": ("Handle each end", f"{n.format_number(spec.handle_s, 2)} s", ""),
        "code": ("Code", row.code, ""),
        "title": ("Title", row.title, ""),
        "notes": ("Notes", row.notes, ""),
        "planned_time": ("Planned for", time, "13:45"),
        "freeze": ("Freeze to", _or_none(wish.freeze_px, "px"), "most smear; none for no wish"),
        "smear": ("Smear aimed at", _or_none(wish.smear_percent, "%"), "of the frame width"),
        "slow_factor": ("Slow motion", f"{n.format_number(wish.slow_factor, 2)} times", ""),
        "light_change": ("Light may move", f"{n.format_number(spec.light_change_stops, 2)} stops",
                         "during the take, up or down"),
    }  # fmt: skip


HOLDS = {"focal": "focal", "subject_distance": "distance"}
ABOUT_TEXTS = ("code", "title", "planned_time")
WANT_TEXTS = ("slow_factor", "freeze", "smear", "light_change")


def field_views(edit: Edit) -> dict[str, FieldView]:
    """Every ordinary field by name."""
    held = edit.spec.held
    return {
        name: FieldView(
            name, label, edit.typed.get(name, text), edit.errors.get(name, ""), hint,
            HOLDS.get(name, ""), HOLDS.get(name) in held,
        )
        for name, (label, text, hint) in _texts(edit).items()
    }  # fmt: skip


def names_of(model: type[Gear], owner: AbstractBaseUser) -> list[str]:
    """Names of a person's gear of one sort."""
    # Sorted here: on the bench every clause of a query is compiled at every change.
    return sorted(model.objects.filter(owner=owner).order_by().values_list("name", flat=True))


def choices_of(names: Iterable[str], present: set[str], outside: str = "") -> tuple[Choice, ...]:
    """Names as choices; a present one that is not among them is added with a remark."""
    choices = tuple(Choice(name, name, name in present) for name in names)
    missing = sorted(present - {choice.value for choice in choices})
    return choices + tuple(
        Choice(name, f"{name} ({outside})" if outside else name, True) for name in missing
    )


def _enum_choices(members: Iterable[Any], present: str) -> tuple[Choice, ...]:
    return tuple(
        Choice(item.value, getattr(item, "label", item.value), item.value == present)
        for item in members
    )


def _packed_names(edit: Edit, model: type[Gear], names: str) -> list[str]:
    return sorted(packed(edit.row.shoot, model, names).values_list("name", flat=True))


def menus(edit: Edit) -> dict[str, MenuView]:
    """Menus that stand in the lanes; the lens's is left out where it stays."""
    row, spec, errors = edit.row, edit.spec, edit.errors
    records = row.body.profile_names or Profile.objects.filter(
        owner=row.shoot.owner
    ).order_by().values_list("name", flat=True)  # fmt: skip
    formats = [recorded.name for recorded in spec.body.formats]
    found = {
        "profile": MenuView("profile", "Profile",
                            choices_of(sorted(records), {spec.profile.name}, "not on this body"),
                            errors.get("profile", "")),
        "recording": MenuView("recording", "Format",
                              choices_of(formats, {spec.recording or formats[0]},
                                         "not on this body"), errors.get("recording", "")),
        "camera": MenuView("camera", "The camera",
                           _enum_choices(Camera, spec.movement.camera.value),
                           errors.get("camera", "")),
    }  # fmt: skip
    for name, label, school in (
        ("exposing", "Expose by", Exposing),
        ("white_school", "White balance by", WhiteSchool),
    ):
        found[name] = school_menu(edit, name, label, school)
    if not edit.lens_stays:
        names = _packed_names(edit, Lens, "lenses")
        lenses = choices_of(names, {spec.lens.name}, "not packed")
        found["lens"] = MenuView("lens", "Lens", lenses, errors.get("lens", ""), "lens",
                                 "lens" in spec.held)  # fmt: skip
    return found


def about_view(edit: Edit, fields: dict[str, FieldView]) -> AboutView:
    """The fold of what a setup is and what it is shot with."""
    spec, errors = edit.spec, edit.errors
    bodies = choices_of(_packed_names(edit, Body, "bodies"), {spec.body.name}, "not packed")
    in_front = {piece.name for piece in spec.filters}
    others = tuple(piece.name for piece in edit.packed.others.values())
    tubes = tuple(tube.name for tube in edit.packed.tubes.values())
    return AboutView(
        fields=tuple(fields[name] for name in ABOUT_TEXTS),
        menus=(
            MenuView("kind", "Kind", _enum_choices(Kind, spec.kind.value), errors.get("kind", "")),
            MenuView("body", "Camera", bodies, errors.get("body", "")),
            MenuView("support", "Carried by", _supports(edit), errors.get("support", "")),
        ),
        notes=fields["notes"],
        filters=choices_of(others, in_front),
        filters_error=errors.get("filters", ""),
        tubes=choices_of(tubes, {tube.name for tube in spec.tubes}),
    )


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


def wants_view(edit: Edit, fields: dict[str, FieldView]) -> WantsView:
    """The fold of what matters: schools, wishes, limits, weights."""
    spec, errors = edit.spec, edit.errors
    schools: list[tuple[str, str, Any]] = [
        ("look", "Shutter school", Look), ("handheld", "Handheld school", Handheld),
        ("circle", "Counts as sharp", Circle),
    ]  # fmt: skip
    return WantsView(
        menus=tuple(school_menu(edit, name, label, school) for name, label, school in schools),
        fields=tuple(fields[name] for name in WANT_TEXTS),
        limits=tuple(
            FieldView(
                field, LABELS[name], edit.typed.get(field, _limit_text(spec, name)),
                errors.get(field, ""), f"such as {LIMIT_EXAMPLES[name]}; empty for none",
            )
            for field, name in LIMIT_FIELDS.items()
        ),
        weights=tuple(_weight(edit, name) for name in CRITERIA if name != "change"),
    )  # fmt: skip


def school_menu(edit: Edit, name: str, label: str, school: Any) -> MenuView:
    chosen = edit.row.intent.get(name)
    usual = school(getattr(edit.row.shoot, name)).label
    own = tuple(Choice(item.value, item.label, item.value == chosen) for item in school)
    choices = (Choice("", f"as the shoot: {usual}", chosen is None), *own)
    return MenuView(name, label, choices, edit.errors.get(name, ""))


def _limit_text(spec: Spec, name: str) -> str:
    limit = spec.limit_on(name)
    return format_limit(spec, limit) if limit else ""


def _weight(edit: Edit, name: str) -> WeightView:
    label, weight, asks = CRITERIA[name]
    field, intent = f"weight_{name}", edit.spec.intent
    text = edit.typed.get(field, n.format_number(intent.emphasis_on(name), 2))
    view = FieldView(field, label, text, edit.errors.get(field, ""))
    return WeightView(view, n.format_number(weight, 2), asks)
