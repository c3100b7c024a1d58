"""Pages of curves: over each other, as tables, as files, and picked from what is published."""

from dataclasses import dataclass

from django.contrib import messages
from django.contrib.auth.decorators import login_required
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils.safestring import mark_safe
from django.utils.text import slugify
from django.views.decorators.http import require_GET

from fotonomy.core.curves.transfer_functions import Tabulated
from fotonomy.core.errors import RuleError
from fotonomy.core.gear.profile import Profile as Spec
from fotonomy.core.notation import writing as n
from fotonomy.core.notation.reading import parse_quantity
from fotonomy.core.spec.readings import Surface
from fotonomy.core.tone.monitor_lut import Correction
from fotonomy.core.tone.placement import skin_mark_stops
from fotonomy.core.tone.signal_levels import (
    code_value,
    codes_by_stop,
    headroom_stops,
    percent_at,
    profile_doubts,
)
from fotonomy.core.units import STOP_UNITS
from fotonomy.exchange.curve_files import write_correction, write_csv, write_cube
from fotonomy.exchange.encodings import listed_names, published_curve, published_cut
from fotonomy.exchange.errors import ExchangeError
from fotonomy.figures.kit.curves import curves_figure
from fotonomy.figures.svg import CUTS
from fotonomy.kit.current_user import current_user
from fotonomy.kit.history import recorded
from fotonomy.kit.models import Profile
from fotonomy.kit.services import profile_from_published

MOST_CURVES = 6
STOPS = range(-8, 8)
PULL_RANGE = (-4.0, 4.0)


@dataclass(frozen=True, slots=True)
class CurveColumn:
    """One profile of the table: its marks, and percent, code and codes for every stop."""

    row: Profile
    grey: str
    skin: str
    white: str
    clip: str
    headroom: str
    cells: tuple[tuple[str, str, str], ...]


def _column(row: Profile) -> CurveColumn:
    spec = row.to_spec()
    skin = skin_mark_stops(spec, Surface.LIGHT_SKIN)
    white = Surface.WHITE_CARD.belongs_stops or 0.0
    top = headroom_stops(spec)
    counts = codes_by_stop(spec, STOPS)
    cells = tuple(
        _cell(spec, stop, count) if stop <= top else ("clips", "", "")
        for stop, count in zip(STOPS, counts, strict=True)
    )  # fmt: skip
    return CurveColumn(
        row, _level(spec, 0), _level(spec, skin), _level(spec, white),
        f"{n.format_number(spec.clip_percent)} %", n.format_number(top), cells,
    )  # fmt: skip


def _cell(spec: Spec, stop: int, count: int) -> tuple[str, str, str]:
    percent = percent_at(spec, stop)
    return f"{n.format_number(percent)} %", str(code_value(percent, spec)), str(count)


def _level(spec: Spec, stops: float) -> str:
    percent = percent_at(spec, stops)
    return f"{n.format_number(percent)} % · {code_value(percent, spec)}"


@login_required
@require_GET
def curves(request: HttpRequest) -> HttpResponse:
    """Several curves over each other, with a table to print."""
    rows = [row for row in Profile.objects.filter(owner=current_user(request)) if row.usable]
    asked = set(request.GET.getlist("profile"))
    chosen = [row for row in rows if str(row.pk) in asked] or rows
    shown = chosen[:MOST_CURVES]
    specs = tuple(row.to_spec() for row in shown)
    context = {
        "rows": rows,
        "shown": {row.pk for row in shown},
        "left_out": len(chosen) - len(shown),
        "columns": [_column(row) for row in shown],
        "stops": [
            ("grey" if stop == 0 else f"{stop:+d}".replace("-", "−"), k)
            for k, stop in enumerate(STOPS)
        ],
        # Markup from our own figure, which escapes what a person typed.
        "figures": [(cut, mark_safe(curves_figure(specs, width))) for cut, width in CUTS.items()],
    }
    return render(request, "kit/curves.html", context)


def cut_words(name: str, curve: Tabulated) -> str:
    """What was cut off a published encoding's foot, in a sentence; empty where nothing was."""
    cut = published_cut(name, curve)
    if cut is None:
        return ""
    return (
        f"The foot of {name} was cut: it does not rise where its two parts join, and so black "
        f"stays at {n.format_number(100 * cut.kept)} % instead of "
        f"{n.format_number(100 * cut.black)} %"
    )


@login_required
def published(request: HttpRequest) -> HttpResponse:
    """Pick an encoding the library publishes; it becomes a profile of the person's own."""
    chosen, error = request.POST.get("encoding", ""), ""
    if request.method == "POST":
        try:
            curve = published_curve(chosen)
            with recorded(current_user(request), f"{chosen} picked"):
                row = profile_from_published(current_user(request), chosen, curve)
            messages.success(
                request, f"{row} is yours now: set where it clips, its base ISO and its bits."
            )
            for doubt in filter(None, (cut_words(chosen, curve), *profile_doubts(row.to_spec()))):
                messages.warning(request, f"{doubt}.")
            return redirect("gear-edit", "profile", row.pk)
        except (ExchangeError, RuleError) as refusal:
            error = refusal.problem if isinstance(refusal, ExchangeError) else refusal.rule
    find = request.GET.get("find", "")
    names = listed_names(find)
    context = {
        "names": names,
        "chosen": chosen,
        "error": error,
        "find": find,
    }
    return render(request, "kit/published.html", context, status=422 if error else 200)


@login_required
@require_GET
def curve_export(request: HttpRequest, gear_id: int, form: str) -> HttpResponse:
    """A curve or a monitoring correction as a file."""
    row = get_object_or_404(Profile, pk=gear_id, owner=current_user(request))
    spec = row.to_spec()
    name = slugify(row.name) or "curve"
    match form:
        case "csv":
            return _file(write_csv(spec), f"{name}.csv", "text/csv")
        case "encode":
            return _file(write_cube(spec, decodes=False), f"{name}-encode.cube")
        case "decode":
            return _file(write_cube(spec, decodes=True), f"{name}-decode.cube")
        case "correct1d" | "correct3d":
            try:
                pull = parse_quantity(
                    "pull", request.GET.get("pull", "0"), STOP_UNITS, PULL_RANGE,
                    "stops from -4 to 4, such as 1.3",
                )  # fmt: skip
            except RuleError as error:
                messages.error(request, f"Not written: the exposure pull is {error.rule}.")
                return redirect("curves")
            correction = Correction(pull, request.GET.get("lights", "rolled") == "rolled")
            text = write_correction(spec, correction, solid=form == "correct3d")
            return _file(text, f"{name}-to-bt709-{form[-2:]}.cube")
    raise Http404


def _file(text: str, name: str, kind: str = "text/plain") -> HttpResponse:
    response = HttpResponse(text, content_type=f"{kind}; charset=utf-8")
    response["Content-Disposition"] = f'attachment; filename="{name}"'
    return response
