"""Two setups beside each other, and a setting played beside a second one."""

from dataclasses import dataclass
from typing import Any

from django.utils.safestring import SafeString, mark_safe

from fotonomy.core.analysis.setup import Analysis, analyse
from fotonomy.core.analysis.traced_analysis import named_analysis
from fotonomy.core.compare.variants import VARIANTS, usual_variant, variant
from fotonomy.core.notation import writing as n
from fotonomy.core.plan import readout_of
from fotonomy.core.planner.plans import compare
from fotonomy.core.traced_numbers import plain
from fotonomy.figures.animation.cadence import Playing, playing_figure
from fotonomy.figures.animation.interval import dots_figure
from fotonomy.figures.lanes.clip import clip_words
from fotonomy.figures.lanes.focus import focus_words
from fotonomy.figures.lanes.motion import motion_words
from fotonomy.figures.planner.small_budget import small_budget_figure, span_of
from fotonomy.figures.svg import PHONE_PX, WIDE, Size
from fotonomy.shoots.mapping import is_plannable, spec_of, whole_rows
from fotonomy.shoots.models import Setup
from fotonomy.shoots.packed_kit import packed_kit
from fotonomy.shoots.presenters.bench_fields import Choice
from fotonomy.shoots.presenters.layout import Screen
from fotonomy.shoots.presenters.working import names_for

# A budget beside the other, where there is room.
COMPARED = Size(440.0)


@dataclass(frozen=True, slots=True)
class LineView:
    """One line of the comparison; ``differs`` marks what is not the same."""

    label: str
    left: str
    right: str
    differs: bool


@dataclass(frozen=True, slots=True)
class CompareView:
    """Everything the comparison takes; gains and losses are the right one's.

    ``lines`` are what differs, ``same`` what does not.
    """

    lines: tuple[LineView, ...]
    same: tuple[LineView, ...]
    figures: tuple[SafeString, SafeString]
    gains: tuple[str, ...]
    losses: tuple[str, ...]
    playing: Playing | None
    markup: str


def compare_view(left: Setup, right: Setup, screen: Screen) -> CompareView:
    """The readouts, budgets and numbers of two setups of a shoot, drawn for a screen."""
    packed = packed_kit(left.shoot)
    a, b = analyse(spec_of(left, packed)), analyse(spec_of(right, packed))
    span = span_of([a.budget, b.budget])
    gains, losses = compare(a, b)
    moving = not (a.setup.records_stills or b.setup.records_stills)
    pairs = [(str(left), a), (str(right), b)]
    width = min(WIDE, screen.content) if screen.phone else WIDE
    playing = playing_figure(pairs, width) if moving else None
    # On a phone two stand beside each other, with a gap between.
    size = (
        Size((screen.content - 14) // 2, text_px=PHONE_PX)
        if screen.phone
        else Size(min(COMPARED.width, (screen.content - 190) // 2))
    )
    # What is written of each leads to its working.
    one, other = (named_analysis(found, names_for(row)) for found, row in ((a, left), (b, right)))
    lines = _lines(one, other)
    return CompareView(
        lines=tuple(line for line in lines if line.differs),
        same=tuple(line for line in lines if not line.differs),
        figures=(
            mark_safe(small_budget_figure(one.budget, span, str(left), size)),
            mark_safe(small_budget_figure(other.budget, span, str(right), size)),
        ),
        gains=gains,
        losses=losses,
        playing=playing,
        markup=mark_safe(playing.markup) if playing else "",
    )


def _lines(a: Analysis, b: Analysis) -> list[LineView]:
    rows = _rows(a), _rows(b)
    labels = list(dict.fromkeys([*rows[0], *rows[1]]))
    return [
        LineView(label, rows[0].get(label, "–"), rows[1].get(label, "–"),
                 plain(rows[0].get(label, "")) != plain(rows[1].get(label, "")))
        for label in labels
    ]  # fmt: skip


def _rows(analysis: Analysis) -> dict[str, str]:
    setup = analysis.setup
    rows = {"Kind": setup.kind.label, "Camera": f"{setup.body.name}, {setup.format.name}",
            "Lens": setup.lens.name, "Light": n.format_light(setup.light)}  # fmt: skip
    rows |= {item.label: item.value for item in readout_of(analysis)}
    rows |= {
        "Balance": f"{n.format_signed(analysis.budget.error_stops)} stops",
        "Motion": motion_words(analysis),
        "Focus": focus_words(analysis),
        "Clip": clip_words(analysis),
    }
    return rows


def playing_view(row: Setup, against: str, width: float) -> dict[str, Any]:
    """This setup's cadence over a second setting's: a variant's name, or another setup's id."""
    packed = packed_kit(row.shoot)
    spec = spec_of(row, packed)
    if spec.kind.traits.has_interval:
        figure = dots_figure(analyse(spec), width)
        return {"playing": figure, "markup": mark_safe(figure.markup), "choices": []}
    others = list(whole_rows(row.shoot).exclude(pk=row.pk))
    for other in others:
        other.shoot = row.shoot
    able = [other for other in others if is_plannable(other, packed)]
    moving = [other for other in able if not spec_of(other, packed).records_stills]
    chosen = next((other for other in moving if str(other.pk) == against), None)
    if chosen is not None:
        second, name = analyse(spec_of(chosen, packed)), str(chosen)
    else:
        against = against if against in VARIANTS else usual_variant(spec)
        second, name = analyse(variant(spec, against)), VARIANTS[against]
    figure = playing_figure([("this setup", analyse(spec)), (name, second)], width)
    choices = [Choice(key, label, key == against) for key, label in VARIANTS.items()]
    choices += [Choice(str(other.pk), str(other), other is chosen) for other in moving]
    return {"playing": figure, "markup": mark_safe(figure.markup), "choices": choices}
