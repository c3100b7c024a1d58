"""What the bench shows: a plan, its figures, its scales and fields, ready for the templates."""

import json
from dataclasses import dataclass, field
from datetime import time
from typing import Any

from django.urls import reverse

from fotonomy.core.analysis.interval import IntervalRun
from fotonomy.core.analysis.setup import run_of
from fotonomy.core.day.blocks import moment_of
from fotonomy.core.exposure.scales import white_offer
from fotonomy.core.findings.finding import Finding, Fix, Severity
from fotonomy.core.kinds import rules_of
from fotonomy.core.notation import writing as n
from fotonomy.core.notation.spoken import spoken
from fotonomy.core.parsing.table import by_name, said
from fotonomy.core.photometry.exposure_value import illuminance_lx, luminance_cd_m2
from fotonomy.core.plan import Plan, plan
from fotonomy.core.sky.light import sky_light
from fotonomy.core.spec.kind import Kind
from fotonomy.core.tiles import Tile
from fotonomy.exchange.changes_json import press_of
from fotonomy.figures.lanes.clip import clip_notes
from fotonomy.figures.lanes.light_budget import balance_words
from fotonomy.figures.lanes.motion import shake_words
from fotonomy.figures.lanes.ramp import ramp_words
from fotonomy.shoots.editing.apply import Edit
from fotonomy.shoots.mapping import sky_of
from fotonomy.shoots.models import Day, Place, Setup, Shoot, setup_name
from fotonomy.shoots.presenters.bench_fields import (
    AboutView,
    FieldView,
    KeyView,
    MenuView,
    ScaleView,
    WantsView,
    about_view,
    field_views,
    key_views,
    menus,
    scale_view,
    ticks,
    wants_view,
)
from fotonomy.shoots.presenters.layout import Screen
from fotonomy.shoots.presenters.level_lane import LevelView, level_view
from fotonomy.shoots.presenters.stills_lanes import RunView, run_view
from fotonomy.shoots.presenters.tiles import Scope, TileView, scope_view, tile_views
from fotonomy.shoots.presenters.working import FINDING, names_for
from fotonomy.shoots.summaries import fresh, renew
from fotonomy.simulators.monitor import View


@dataclass(frozen=True, slots=True)
class FixView:
    """A fix as a button: what is sent, what is said, its price, what it overrides and costs.

    ``value`` is "" for something to be bought or hired, which no press can do.
    """

    value: str
    label: str
    price: str
    overrides: str
    costs: str


@dataclass(frozen=True, slots=True)
class FindingView:
    """A finding with its fixes as buttons; ``working`` is where it is said how it came about."""

    finding: Finding
    stops: bool
    fixes: tuple[FixView, ...]
    tile: str = ""
    working: str = ""


@dataclass(frozen=True, slots=True)
class QuestionView:
    """What nobody said yet, with what answers it as buttons."""

    what: str
    why: str
    fixes: tuple[FixView, ...]


@dataclass(frozen=True, slots=True)
class RowView:
    """One line of the running order."""

    pk: int
    address: str
    hour: str
    name: str
    kind: str
    light: str
    light_words: str
    stops: int
    cautions: int
    asks: str
    current: bool


@dataclass(slots=True)
class BenchView:
    """Everything the bench template takes; ``about`` and ``wants`` are None where they stay.

    ``run`` and ``ramp_words`` are for kinds of single pictures. ``tiles`` are in the order people
    decide, ``stage`` is the one that is open. ``elsewhere`` says, as JSON, which letters lead to
    fields of tiles that are not open.
    """

    row: Setup
    plan: Plan
    scales: dict[str, ScaleView]
    fields: dict[str, FieldView]
    about: AboutView | None
    wants: WantsView | None
    shake: tuple[str, ...]
    menus: dict[str, MenuView]
    ticks: dict[str, bool]
    keys: tuple[KeyView, ...]
    findings: list[FindingView]
    questions: tuple[QuestionView, ...]
    summary: str
    balance: str
    light_words: str
    level: LevelView
    scope: Scope
    tiles: tuple[TileView, ...]
    stage: TileView | None
    layout: str
    elsewhere: str
    run: RunView | None
    ramp_words: str
    clip_notes: tuple[str, ...]
    errors: dict[str, str] = field(default_factory=dict)

    @property
    def settings(self) -> list[ScaleView]:
        """The settings row, in its order."""
        return [self.scales[name] for name in SETTINGS_ROW]

    @property
    def opened(self) -> str:
        """The name of the open tile, or "none": as the address says it."""
        return self.stage.name if self.stage else "none"

    @property
    def plays(self) -> bool:
        """True if there is a cadence or a run to play."""
        traits = self.plan.analysis.setup.kind.traits
        return traits.has_interval or not traits.stills

    @property
    def strip_class(self) -> str:
        """How the button of the findings looks: by the worst of them, or by what nobody said."""
        if self.findings:
            return "has-stop" if self.findings[0].stops else "has-caution"
        return "is-asking" if self.questions else "is-clean"

    @property
    def staged(self) -> list[FindingView]:
        """The findings of the open tile."""
        return [f for f in self.findings if f.tile == self.opened]


SETTINGS_ROW = ("frame_rate", "shutter", "iris", "iso", "nd_density", "white_k")


def _fix(fix: Fix, held: frozenset[str]) -> FixView:
    price = "" if abs(fix.price_stops) < 0.05 else f"{n.format_signed(fix.price_stops)} stops"
    rows = by_name()
    touched = [
        said(rows[change.setting].label)
        for change in fix.changes
        if change.setting in held and change.setting != "lens"
    ]
    overrides = f"moves the held {' and '.join(touched)}" if touched else ""
    value = press_of(fix.changes) if fix.changes else ""
    return FixView(value, fix.label, price, overrides, fix.costs)


def _ramp_words(planned: Plan) -> str:
    if Tile.RAMP not in rules_of(planned.analysis.setup).tiles:
        return ""
    run = run_of(planned.analysis, IntervalRun)
    if not planned.analysis.setup.run.light_curve:
        return "the light stays as it is: say what it will be, or take it from the sun"
    words = ramp_words(run.ramp)
    return words if run.floating is None else f"{words}. Left to float: {ramp_words(run.floating)}"


# The tile whose open side a setting stands on, by its lane in the table.
_LANE_TILES = {
    "light": Tile.LIGHT, "motion": Tile.MOTION, "focus": Tile.FOCUS, "level": Tile.LEVEL,
    "noise": Tile.NOISE, "white": Tile.WHITE, "clip": Tile.CLIP, "interval": Tile.RUN,
    "cycle": Tile.CYCLE, "ramp": Tile.RAMP, "burst": Tile.BURST, "long_exposure": Tile.TRAIL,
}  # fmt: skip


def tile_for(name: str, tiles: tuple[Tile, ...]) -> Tile | None:
    """The tile of these that has the field of this name; None for the row, the folds, the rest."""
    row = by_name().get(name)
    if row is None:
        return Tile.LEVEL if name.startswith("reading") else None
    tile = _LANE_TILES.get(row.lane)
    if tile is Tile.CLIP and tile not in tiles:
        return Tile.RUN
    if tile is Tile.CYCLE and tile not in tiles:
        return Tile.BURST if Tile.BURST in tiles else Tile.TRAIL
    return tile if tile in tiles else None


def _open_tile(edit: Edit, opened: Tile | None) -> Tile | None:
    """What is open: what was asked for, unless something is refused that stands elsewhere."""
    tiles = rules_of(edit.spec).tiles
    wrong = [tile for name in edit.errors if (tile := tile_for(name, tiles)) is not None]
    if wrong and opened not in wrong:
        return wrong[0]
    return opened if opened in tiles else None


def _elsewhere(kind: Kind, tiles: tuple[Tile, ...], opened: Tile | None) -> str:
    """Letters of fields that are not on the page, with the tile and the field they lead to."""
    found = {}
    for row in by_name().values():
        tile = tile_for(row.name, tiles) if row.key else None
        if tile is not None and tile is not opened:
            found[row.key] = [tile.value, f"f-{row.name}"]
    return json.dumps(found)


def _summary(edit: Edit) -> str:
    spec = edit.spec
    parts = [spec.kind.label, spec.body.name, f"{n.format_number(spec.focal_mm)} mm"]
    if spec.subject_speed_m_s:
        parts.append(
            f"{spec.subject} at {spoken(spec, 'subject_speed_m_s', spec.subject_speed_m_s)}, "
            f"{n.format_number(spec.subject_distance_m, 2)} m away"
        )
    return " · ".join(parts)


def bench_view(
    edit: Edit, screen: Screen, opened: Tile | None = None, monitor: str = View.ZEBRAS.value
) -> BenchView:
    """The bench for a setup as it stands after an edit (or before any).

    ``screen`` is what the drawings are made for, ``opened`` the tile on the stage, ``monitor``
    what the monitor stand-in shows.
    """
    row, spec = edit.row, edit.spec
    planned = plan(spec, names_for(row))
    ev = planned.analysis.budget.ev100
    opened = _open_tile(edit, opened)
    fields, choices = field_views(edit), menus(edit)
    kind_tiles = rules_of(spec).tiles
    level = level_view(edit, planned.analysis, monitor)
    tiles = tile_views(planned, level, screen, opened)
    offers = {**planned.analysis.offers, "white_k": white_offer(spec)}
    return BenchView(
        row=row,
        plan=planned,
        scales={name: scale_view(name, o, edit) for name, o in offers.items()},
        fields=fields,
        about=None if edit.about_stays else about_view(edit, fields, choices),
        wants=None if edit.wants_stay else wants_view(edit, fields, choices),
        menus=choices,
        ticks=ticks(edit),
        keys=key_views(spec.kind),
        shake=shake_words(planned.analysis),
        findings=[
            FindingView(
                f, f.severity is Severity.STOP, tuple(_fix(fix, spec.held) for fix in f.fixes),
                f.family.tile_among(kind_tiles).value, names_for(row).of(f"{FINDING}{f.id}"),
            )
            for f in planned.findings
        ],
        questions=tuple(
            QuestionView(one.what, one.why, tuple(_fix(fix, spec.held) for fix in one.fixes))
            for one in planned.questions
        ),
        summary=_summary(edit),
        balance=balance_words(planned.analysis.budget),
        level=level,
        tiles=tiles,
        stage=next((tile for tile in tiles if tile.opened), None),
        layout=f"{spec.kind.value} {opened.value if opened else ''} {screen.width}x{screen.height}",
        elsewhere=_elsewhere(spec.kind, kind_tiles, opened),
        run=run_view(edit, planned.analysis),
        ramp_words=_ramp_words(planned),
        clip_notes=clip_notes(planned.analysis),
        scope=scope_view(planned.analysis, screen, kind_tiles, opened),
        light_words=f"EV {n.format_number(ev, 1)} is {n.format_compact(illuminance_lx(ev))} lux "
        f"or {n.format_compact(luminance_cd_m2(ev))} cd/m²",
        errors=edit.errors,
    )  # fmt: skip


def light_at(place: Place, day: Day, hour: time) -> tuple[str, str]:
    """The sky's light at a planned hour: its name for the ribbon, and in words."""
    sky = sky_of(place, day)
    if sky is None:
        return "unknown", "no latitude and longitude given"
    when = moment_of(day.midnight(place.zone), hour, day.call, day.wrap)
    found = sky_light(sky.sun_at(when).altitude_deg)
    return found.name.lower(), found.value


_KINDS = {kind.value: kind.label for kind in Kind}


def line_view(
    shoot: Shoot, address: str, columns: tuple[Any, ...], summary: dict[str, Any], current: bool
) -> RowView:
    """A line of the running order from the columns of ``LINE_COLUMNS``."""
    key, code, title, kind, hour, place, day = columns
    light, words = "unknown", "no hour planned"
    if hour is not None:
        light, words = light_at(shoot.places_by_id[place], shoot.days_by_id[day], hour)
    return RowView(
        pk=key, address=address, hour=f"{hour:%H:%M}" if hour else "",
        name=setup_name(code, title), kind=_KINDS.get(kind, kind), light=light, light_words=words,
        stops=summary["stops"], cautions=summary["cautions"],
        asks=summary["asks"], current=current,
    )  # fmt: skip


LINE_COLUMNS = ("pk", "code", "title", "kind", "planned_time", "place_id", "day_id")


def row_view(row: Setup, summary: dict[str, Any], current: bool) -> RowView:
    """One line of the running order, with the light of its hour; ``current`` is on the bench."""
    columns = tuple(getattr(row, name) for name in LINE_COLUMNS)
    return line_view(row.shoot, row.get_absolute_url(), columns, summary, current)


def running_order(shoot: Shoot, here: int) -> list[RowView]:
    """Every setup of a shoot in order; only those that changed are planned again.

    Columns and no rows: of a large shoot most of the page's time is spent here.
    """
    rows = list(shoot.setups.values_list(*LINE_COLUMNS, "summary"))
    known = {row[0]: kept for row in rows if (kept := fresh(row[-1])) is not None}
    stale = [row[0] for row in rows if row[0] not in known]
    if stale:
        known |= renew(shoot, stale)
    before, after = reverse("bench", args=[shoot.pk, 0]).rsplit("0", 1)
    return [
        line_view(shoot, f"{before}{row[0]}{after}", row[:-1], known[row[0]], row[0] == here)
        for row in rows
    ]
