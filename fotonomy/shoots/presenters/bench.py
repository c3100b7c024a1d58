"""What the bench shows: a plan, its figures, its scales and fields, ready for the templates."""

from collections.abc import Callable, Iterable
from dataclasses import dataclass, field
from datetime import date, datetime, time
from functools import lru_cache, partial
from typing import Any
from zoneinfo import ZoneInfo

from django.urls import reverse
from django.utils.safestring import SafeString, mark_safe

from fotonomy.core.analysis.interval import IntervalRun
from fotonomy.core.analysis.setup import Analysis, run_of
from fotonomy.core.exposure.sun import sky_light, sun_altitude_deg
from fotonomy.core.findings.finding import Finding, Fix, Severity
from fotonomy.core.kinds import rules_of
from fotonomy.core.notation import writing as n
from fotonomy.core.parsing.table import by_name, said
from fotonomy.core.photometry.exposure_value import illuminance_lx, luminance_cd_m2
from fotonomy.core.plan import Plan, plan
from fotonomy.core.spec.setup import Kind
from fotonomy.core.stills.burst import Burst
from fotonomy.core.stills.long_exposure import LongExposure
from fotonomy.exchange.changes_json import press_of
from fotonomy.figures.lanes.buffer import buffer_figure
from fotonomy.figures.lanes.clip import clip_figure
from fotonomy.figures.lanes.cycle import cycle_figure
from fotonomy.figures.lanes.flicker import flicker_figure
from fotonomy.figures.lanes.focus import focus_figure
from fotonomy.figures.lanes.level import level_figure
from fotonomy.figures.lanes.light_budget import balance_words, budget_figure
from fotonomy.figures.lanes.long_exposure import long_exposure_figure
from fotonomy.figures.lanes.motion import motion_figure, shake_words
from fotonomy.figures.lanes.noise import noise_figure
from fotonomy.figures.lanes.ramp import ramp_figure, ramp_words
from fotonomy.figures.lanes.travelling_smear import passing_figure
from fotonomy.figures.lanes.white_balance import white_figure
from fotonomy.figures.monitor.scopes import scope_marks
from fotonomy.figures.svg import CUTS
from fotonomy.shoots.editing.apply import Edit
from fotonomy.shoots.models import Setup, Shoot, setup_name
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
from fotonomy.shoots.presenters.level_lane import LevelView, level_view
from fotonomy.shoots.presenters.stills_lanes import RunView, lanes_of, run_view
from fotonomy.shoots.summaries import fresh, renew
from fotonomy.standins.monitor import SCOPES, View


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
    """A finding with its fixes as buttons."""

    finding: Finding
    stops: bool
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
    current: bool


@dataclass(slots=True)
class BenchView:
    """Everything the bench template takes; ``about`` and ``wants`` are None where they stay.

    ``run`` and ``ramp_words`` are for kinds of single pictures; ``lanes`` are the templates.
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
    figures: dict[str, Any]
    findings: list[FindingView]
    summary: str
    balance: str
    light_words: str
    level: LevelView
    scope_marks: SafeString
    lanes: tuple[str, ...]
    run: RunView | None
    ramp_words: str
    errors: dict[str, str] = field(default_factory=dict)


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
    if "ramp" not in rules_of(planned.analysis.setup).lanes:
        return ""
    run = run_of(planned.analysis, IntervalRun)
    if not planned.analysis.setup.run.light_curve:
        return "the light stays as it is: say what it will be, or take it from the sun"
    words = ramp_words(run.ramp)
    return words if run.floating is None else f"{words}. Left to float: {ramp_words(run.floating)}"


def _ramp_figure(analysis: Analysis, width: float) -> str:
    run = run_of(analysis, IntervalRun)
    return ramp_figure(run.ramp, run.floating, width)


# Drawings that only some kinds have: the lane they stand in, and what draws them.
_LANE_FIGURES: dict[str, tuple[str, Callable[[Analysis, float], str]]] = {
    "cycle": ("cycle", lambda a, width: cycle_figure(run_of(a, IntervalRun).cycle, width)),
    "ramp": ("ramp", _ramp_figure),
    "buffer": ("burst", lambda a, width: buffer_figure(run_of(a, Burst), width)),
    "trail": ("long_exposure",
              lambda a, width: long_exposure_figure(run_of(a, LongExposure), width)),
}  # fmt: skip


def _figures(planned: Plan, cuts: Iterable[str]) -> dict[str, Any]:
    analysis = planned.analysis
    drawn: dict[str, Callable[[float], str]] = {
        "light": lambda width: budget_figure(analysis.budget, width),
        "motion": lambda width: motion_figure(analysis, width),
        "focus": lambda width: focus_figure(analysis, width),
        "level": lambda width: level_figure(
            analysis.setup, analysis.level, width, analysis.noise.floor_stops
        ),
        "noise": lambda width: noise_figure(analysis.setup, analysis.noise, width),
        "white": lambda width: white_figure(analysis.white, width),
        "clip": lambda width: clip_figure(analysis, width),
    }
    lanes = rules_of(analysis.setup).lanes
    for name, (lane, figure) in _LANE_FIGURES.items():
        if lane in lanes and (name != "ramp" or analysis.setup.run.light_curve):
            drawn[name] = partial(figure, analysis)
    if analysis.setup.lamps and not analysis.setup.single_frame:
        drawn["flicker"] = lambda width: flicker_figure(analysis, width)
    if analysis.shake.passing:
        drawn["passing"] = lambda width: passing_figure(analysis, width)
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


def bench_view(
    edit: Edit, cuts: Iterable[str] = CUTS, monitor: str = View.ZEBRAS.value
) -> BenchView:
    """The bench for a setup as it stands after an edit (or before any).

    ``cuts`` says which widths of the figures to draw: a page that knows its own width
    asks for one. ``monitor`` is what the monitor stand-in shows.
    """
    row, spec = edit.row, edit.spec
    planned = plan(spec)
    ev = planned.analysis.budget.ev100
    fields, choices = field_views(edit), menus(edit)
    return BenchView(
        row=row,
        plan=planned,
        scales={name: scale_view(name, o, edit) for name, o in planned.analysis.offers.items()},
        fields=fields,
        about=None if edit.about_stays else about_view(edit, fields, choices),
        wants=None if edit.wants_stay else wants_view(edit, fields, choices),
        menus=choices,
        ticks=ticks(edit),
        keys=key_views(spec.kind),
        shake=shake_words(planned.analysis),
        figures=_figures(planned, cuts),
        findings=[
            FindingView(
                f, f.severity is Severity.STOP, tuple(_fix(fix, spec.held) for fix in f.fixes)
            )
            for f in planned.findings
        ],
        summary=_summary(edit),
        balance=balance_words(planned.analysis.budget),
        level=level_view(edit, planned.analysis, monitor),
        lanes=lanes_of(spec.kind),
        run=run_view(edit, planned.analysis),
        ramp_words=_ramp_words(planned),
        # Markup from our own figure, which escapes every text a person typed.
        scope_marks=mark_safe(scope_marks(planned.analysis.level, SCOPES)),
        light_words=f"EV {n.format_number(ev, 1)} is {n.format_compact(illuminance_lx(ev))} lux "
        f"or {n.format_compact(luminance_cd_m2(ev))} cd/m²",
        errors=edit.errors,
    )


@lru_cache(maxsize=4096)
def _light_at(
    day: date, hour: time, zone: str, latitude_deg: float, longitude_deg: float
) -> tuple[str, str]:
    """The sky's light at a planned hour: its name for the ribbon, and in words."""
    when = datetime.combine(day, hour, ZoneInfo(zone))
    light = sky_light(sun_altitude_deg(when, latitude_deg, longitude_deg))
    return light.name.lower(), light.value


_KINDS = {kind.value: kind.label for kind in Kind}


def _line(
    shoot: Shoot, address: str, columns: tuple[Any, ...], summary: dict[str, Any], current: bool
) -> RowView:
    """A line of the running order from the columns of ``LINE_COLUMNS``."""
    key, code, title, kind, hour = columns
    light, words = "unknown", "no hour planned"
    if hour is not None:
        light, words = _light_at(
            shoot.date, hour, shoot.time_zone, shoot.latitude_deg, shoot.longitude_deg
        )
    return RowView(
        pk=key, address=address, hour=f"{hour:%H:%M}" if hour else "",
        name=setup_name(code, title), kind=_KINDS.get(kind, kind), light=light, light_words=words,
        stops=summary["stops"], cautions=summary["cautions"], current=current,
    )  # fmt: skip


LINE_COLUMNS = ("pk", "code", "title", "kind", "planned_time")


def row_view(row: Setup, summary: dict[str, Any], current: bool) -> RowView:
    """One line of the running order, with the light of its hour; ``current`` is on the bench."""
    columns = tuple(getattr(row, name) for name in LINE_COLUMNS)
    return _line(row.shoot, row.get_absolute_url(), columns, summary, current)


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
        _line(shoot, f"{before}{row[0]}{after}", row[:-1], known[row[0]], row[0] == here)
        for row in rows
    ]
