"""What the bench shows: a plan, its figures, its scales and fields, ready for the templates."""

import json
from collections.abc import Iterable
from dataclasses import dataclass, field
from datetime import datetime
from functools import lru_cache
from typing import Any

from django.contrib.auth.models import AbstractBaseUser
from django.utils.html import format_html_join
from django.utils.safestring import mark_safe

from fotonomy.core import notation as n
from fotonomy.core.exposure import illuminance_lx, luminance_cd_m2
from fotonomy.core.findings import Finding, Severity
from fotonomy.core.fixes import Fix
from fotonomy.core.plan import Plan, plan
from fotonomy.core.settings import SETTING_LABELS, Offer, format_setting
from fotonomy.core.setup import Kind
from fotonomy.core.sky import sky_light, sun_altitude_deg
from fotonomy.figures.budget import balance_words, budget_figure
from fotonomy.figures.clip import clip_figure
from fotonomy.figures.level import level_figure
from fotonomy.figures.motion import motion_figure
from fotonomy.figures.svg import NARROW, WIDE
from fotonomy.kit.models import Body, Gear, Lens, Profile
from fotonomy.shoots.editing import Edit
from fotonomy.shoots.models import Setup, Shoot
from fotonomy.shoots.specs import OwnGlass, spec_of

# Letters that go straight to a setting.
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
    error: str
    marks: tuple[Mark | None, ...]
    options_json: str
    datalist: str
    index: int
    last: int
    coarse: int


@dataclass(frozen=True, slots=True)
class FieldView:
    """One ordinary field: its name, label, text, error and hint."""

    name: str
    label: str
    text: str
    error: str
    hint: str = ""


@dataclass(frozen=True, slots=True)
class Choice:
    """One entry of a menu."""

    value: str
    label: str
    chosen: bool


@dataclass(frozen=True, slots=True)
class MenuView:
    """One menu: its choices, and an error beside it."""

    name: str
    label: str
    choices: tuple[Choice, ...]
    error: str


@dataclass(frozen=True, slots=True)
class AboutView:
    """What a setup is and what it is shot with."""

    code: FieldView
    title: FieldView
    planned_time: FieldView
    focal: FieldView
    white: FieldView
    notes: FieldView
    kind: MenuView
    body: MenuView
    lens: MenuView
    filters: tuple[Choice, ...]
    filters_error: str

    @property
    def in_error(self) -> bool:
        """True if something in here is refused, so that it has to be open."""
        views = (self.code, self.title, self.planned_time, self.focal, self.white, self.notes,
                 self.kind, self.body, self.lens)  # fmt: skip
        return bool(self.filters_error) or any(view.error for view in views)


@dataclass(frozen=True, slots=True)
class FixView:
    """A fix as a button: what is sent, what is said, its price, and what it overrides."""

    value: str
    label: str
    price: str
    overrides: str


@dataclass(frozen=True, slots=True)
class FindingView:
    """A finding with its fixes as buttons."""

    finding: Finding
    stops: bool
    fixes: tuple[FixView, ...]


@dataclass(frozen=True, slots=True)
class RowView:
    """One line of the running order."""

    row: Setup
    light: str
    light_words: str
    stops: int
    cautions: int


@dataclass(slots=True)
class BenchView:
    """Everything the bench template takes; ``about`` is None where it stays as it was."""

    row: Setup
    plan: Plan
    scales: dict[str, ScaleView]
    fields: dict[str, FieldView]
    about: AboutView | None
    menus: dict[str, MenuView]
    figures: dict[str, Any]
    findings: list[FindingView]
    summary: str
    balance: str
    light_words: str
    errors: dict[str, str] = field(default_factory=dict)


def _names(model: type[Gear], owner: AbstractBaseUser) -> list[str]:
    # Sorted here: on the bench every clause of a query is compiled at every change.
    return sorted(model.objects.filter(owner=owner).order_by().values_list("name", flat=True))


@lru_cache(maxsize=256)
def _datalist(texts: tuple[str, ...]) -> str:
    return format_html_join("", '<option value="{}"></option>', ((text,) for text in texts))


def _scale(name: str, offer: Offer, edit: Edit) -> ScaleView:
    present = format_setting(edit.spec, name)
    at = offer.insert_at if offer.index is None else offer.index
    marks: list[Mark | None] = []
    for k in range(at - MARKS_AROUND, at + MARKS_AROUND + 1):
        inside = 0 <= k < len(offer.options)
        option = offer.options[k] if inside else None
        marks.append(option and Mark(option.text, option.mark, k == offer.index))
    return ScaleView(
        name=name,
        label=SETTING_LABELS[name],
        key=SETTING_KEYS[name],
        text=edit.typed.get(name, present),
        held=name in edit.spec.held,
        error=edit.errors.get(name, ""),
        marks=tuple(marks),
        options_json=json.dumps([[o.text, o.mark] for o in offer.options], ensure_ascii=False),
        datalist=_datalist(tuple(o.text for o in offer.options)),
        last=len(offer.options) - 1,
        index=at,
        coarse=offer.coarse,
    )


def _fields(edit: Edit) -> dict[str, FieldView]:
    row, spec = edit.row, edit.spec
    texts = {
        "light": ("Scene light", n.format_light(spec.light), "EV, lux, cd/m² or f/4 1/60 ISO 400"),
        "key_name": ("Key reading", spec.key_name, ""),
        "key_stops": ("from grey", f"{n.format_signed(spec.key_stops)} stops", ""),
        "subject": ("What moves", spec.subject, ""),
        "subject_speed": (
            "Speed across",
            f"{n.format_number(spec.subject_speed_m_s, 3)} m/s",
            "m/s, km/h or mph",
        ),
        "subject_distance": (
            "Distance", f"{n.format_number(spec.subject_distance_m, 3)} m", "m, cm or ft",
        ),
        "focal": ("Focal length", f"{n.format_number(spec.focal_mm, 2)} mm", ""),
        "white": ("White balance", f"{n.format_number(spec.white_k, 0)} K", ""),
        "wanted_screen": ("Wanted on screen", n.format_duration(spec.wanted_screen_s), ""),
        "handle": ("Handle each end", f"{n.format_number(spec.handle_s, 2)} s", ""),
        "code": ("Code", row.code, ""),
        "title": ("Title", row.title, ""),
        "notes": ("Notes", row.notes, ""),
        "planned_time": (
            "Planned for", row.planned_time.strftime("%H:%M") if row.planned_time else "", "13:45",
        ),
    }  # fmt: skip
    for name in ("wanted_screen",):
        label, _, hint = texts[name]
        texts[name] = (label, f"{n.format_number(spec.wanted_screen_s, 2)} s", hint)
    return {
        name: FieldView(name, label, edit.typed.get(name, text), edit.errors.get(name, ""), hint)
        for name, (label, text, hint) in texts.items()
    }


def _choices(names: Iterable[str], present: set[str], outside: str = "") -> tuple[Choice, ...]:
    choices = tuple(Choice(name, name, name in present) for name in names)
    missing = sorted(present - {choice.value for choice in choices})
    return choices + tuple(Choice(name, f"{name} ({outside})", True) for name in missing)


def _about(edit: Edit, fields: dict[str, FieldView]) -> AboutView:
    spec, errors, owner = edit.spec, edit.errors, edit.row.shoot.owner
    kinds = tuple(Choice(kind.value, kind.label, kind == spec.kind) for kind in Kind)
    bodies = _choices(_names(Body, owner), {spec.body.name})
    lenses = _choices(_names(Lens, owner), {spec.lens.name})
    in_front = {piece.name for piece in spec.filters}
    return AboutView(
        **{name: fields[name] for name in ABOUT_TEXTS},
        kind=MenuView("kind", "Kind", kinds, errors.get("kind", "")),
        body=MenuView("body", "Camera", bodies, errors.get("body", "")),
        lens=MenuView("lens", "Lens", lenses, errors.get("lens", "")),
        filters=_choices(edit.glass.other_names, in_front),
        filters_error=errors.get("filters", ""),
    )


ABOUT_TEXTS = ("code", "title", "planned_time", "focal", "white", "notes")


def _fix(fix: Fix, held: frozenset[str]) -> FixView:
    value = ";".join(f"{change.setting}={change.text}" for change in fix.changes)
    price = "" if abs(fix.price_stops) < 0.05 else f"{n.format_signed(fix.price_stops)} stops"
    touched = [_said(change.setting) for change in fix.changes if change.setting in held]
    return FixView(
        value, fix.label, price, f"moves the held {' and '.join(touched)}" if touched else ""
    )


def _said(setting: str) -> str:
    label = SETTING_LABELS[setting]
    return label if label.isupper() else label.lower()


CUTS = {"wide": WIDE, "thin": NARROW}


def _figures(planned: Plan, cuts: Iterable[str]) -> dict[str, Any]:
    facts = planned.facts
    drawn = {
        "light": lambda width: budget_figure(facts.budget, width),
        "motion": lambda width: motion_figure(facts, width),
        "level": lambda width: level_figure(facts.setup, facts.level, width),
        "clip": lambda width: clip_figure(facts, width),
    }
    # Markup from our own figures, which escape every text a person typed.
    return {
        name: [(cut, mark_safe(draw(CUTS[cut]))) for cut in cuts] for name, draw in drawn.items()
    }


def _summary(edit: Edit) -> str:
    spec = edit.spec
    parts = [spec.kind.label, spec.body.name, f"{n.format_number(spec.focal_mm)} mm"]
    if spec.subject_speed_m_s:
        parts.append(
            f"{spec.subject} at {n.format_number(spec.subject_speed_m_s, 3)} m/s, "
            f"{n.format_number(spec.subject_distance_m, 2)} m away"
        )
    return " · ".join(parts)


def bench_view(edit: Edit, cuts: Iterable[str] = CUTS) -> BenchView:
    """The bench for a setup as it stands after an edit (or before any).

    ``cuts`` says which widths of the figures to draw: a page that knows its own width
    asks for one.
    """
    row, spec, owner = edit.row, edit.spec, edit.row.shoot.owner
    planned = plan(spec)
    ev = planned.facts.budget.ev100
    records = row.body.profile_names or Profile.objects.filter(owner=owner).values_list(
        "name", flat=True
    )
    profiles = _choices(records, {spec.profile.name}, "not on this body")
    fields = _fields(edit)
    return BenchView(
        row=row,
        plan=planned,
        scales={name: _scale(name, o, edit) for name, o in planned.facts.offers.items()},
        fields=fields,
        about=None if edit.about_stays else _about(edit, fields),
        menus={"profile": MenuView("profile", "Profile", profiles, edit.errors.get("profile", ""))},
        figures=_figures(planned, cuts),
        findings=[
            FindingView(
                f, f.severity is Severity.STOP, tuple(_fix(fix, spec.held) for fix in f.fixes)
            )
            for f in planned.findings
        ],
        summary=_summary(edit),
        balance=balance_words(planned.facts.budget),
        light_words=f"EV {n.format_number(ev, 1)} is {n.format_compact(illuminance_lx(ev))} lux "
        f"or {n.format_compact(luminance_cd_m2(ev))} cd/m²",
        errors=edit.errors,
    )


def row_view(row: Setup, planned: Plan) -> RowView:
    """One line of the running order, with the light of its hour."""
    light = None
    if row.planned_time:
        when = row.shoot.at(datetime.combine(row.shoot.date, row.planned_time))
        light = sky_light(
            sun_altitude_deg(when, row.shoot.latitude_deg, row.shoot.longitude_deg)
        )  # fmt: skip
    found = planned.findings
    stops = sum(f.severity is Severity.STOP for f in found)
    return RowView(
        row=row,
        light=light.name.lower() if light else "unknown",
        light_words=light.value if light else "no hour planned",
        stops=stops,
        cautions=len(found) - stops,
    )


def running_order(shoot: Shoot, glass: OwnGlass) -> list[RowView]:
    """Every setup of a shoot in order, each planned; the number of queries does not grow."""
    rows = shoot.setups.select_related("body", "lens", "profile").prefetch_related(
        "filters", "body__profiles"
    )
    views = []
    for row in rows:
        row.shoot = shoot
        views.append(row_view(row, plan(spec_of(row, glass))))
    return views
