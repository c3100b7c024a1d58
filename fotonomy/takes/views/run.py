"""A run of frames: looked at a part at a time, drawn, listed, played small."""

from django.contrib import messages
from django.contrib.auth.decorators import login_required
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils.text import slugify
from django.views.decorators.http import require_GET, require_POST

from fotonomy.core.pictures.run import report
from fotonomy.core.spec.setup import Setup as Spec
from fotonomy.field.models import Take, TakePicture
from fotonomy.figures.takes.run import run_drawing
from fotonomy.shoots.mapping import spec_of
from fotonomy.shoots.models import Shoot
from fotonomy.shoots.packed_kit import packed_kit
from fotonomy.shoots.views.get_or_404 import handle_gone, made_before, setup_in, shoot_for
from fotonomy.takes.kit_suggestions import counter_offer, take_count
from fotonomy.takes.presenters.run import run_view
from fotonomy.takes.runs import FEWEST, frames_of, plan_of, run_frames, see_some
from fotonomy.takes.views.actual import size_of
from fotonomy.web.csv_files import csv_answer

WROTE = ("taken", "exposure_s", "f_number", "iso")


def take_of(shoot: Shoot, take_id: int) -> Take:
    """A take of a shoot; 404 where there is none."""
    take = get_object_or_404(Take, shoot=shoot, pk=take_id)
    take.shoot = shoot
    return take


def spec_at(shoot: Shoot, take: Take) -> Spec | None:
    """The setup of a take as it stands; None where it was deleted."""
    row = setup_in(shoot, str(take.setup_key))
    return None if row is None else spec_of(row, packed_kit(shoot))


def frames_at(
    request: HttpRequest, take: Take, what: str
) -> tuple[Spec, list[TakePicture]] | None:  # fmt: skip
    """The setup of a take and its frames; None, and why in words, where they make no run or burst.

    ``what`` is what they should be: "run" or "burst".
    """
    spec, rows = spec_at(take.shoot, take), frames_of(take)
    if spec is not None and len(rows) >= FEWEST:
        return spec, rows
    messages.error(
        request,
        f"Its setup was deleted: there is no plan to hold the {what} to." if spec is None
        else f"A {what} has {FEWEST} frames at least: bring them home first.",
    )  # fmt: skip
    return None


@login_required
@require_GET
@handle_gone
def run_page(request: HttpRequest, shoot_id: int, take_id: int) -> HttpResponse:
    """What became of a run."""
    shoot = shoot_for(request, shoot_id)
    take = take_of(shoot, take_id)
    known = frames_at(request, take, "run")
    if known is None:
        return redirect("take-edit", shoot.pk, take.pk)
    spec, rows = known
    view = run_view(spec, take, rows)
    drawing = ""
    if view.found is not None:
        described = "; ".join(one.what for one in view.events) or "nothing happened"
        drawing = run_drawing(view.found, size_of(request), described)
    offer = None
    row = setup_in(shoot, str(take.setup_key))
    if view.found is not None and row is not None and shoot.actor.owns:
        offer = counter_offer(row, view.found)
    context = {"shoot": shoot, "take": take, "v": view, "drawing": drawing, "offer": offer}
    return render(request, "takes/run.html", context)


@login_required
@require_POST
@handle_gone
def run_advice(request: HttpRequest, shoot_id: int, take_id: int) -> HttpResponse:
    """Take into the kit how far the remote of a run counts for sure."""
    shoot = shoot_for(request, shoot_id)
    take = take_of(shoot, take_id)
    spec, row, rows = spec_at(shoot, take), setup_in(shoot, str(take.setup_key)), frames_of(take)
    taken = None
    if spec is not None and row is not None and not made_before(request, shoot):
        frames = run_frames(rows)
        if len(frames) == len(rows) > 1:
            taken = take_count(row, report(frames, plan_of(spec)))
    if taken is None:
        messages.error(request, "The run says nothing of its remote any more: nothing was changed.")
    else:
        remote, count = taken
        messages.success(
            request,
            f"{remote} counts for sure to {count} now; longer runs are planned without its count. "
            "Undo stands in the kit.",
        )
    return redirect("run", shoot.pk, take.pk)


@login_required
@require_POST
@handle_gone
def run_see(request: HttpRequest, shoot_id: int, take_id: int) -> HttpResponse:
    """Look at some more frames; a script gets the count, a form the page."""
    shoot = shoot_for(request, shoot_id)
    take = take_of(shoot, take_id)
    done, of = see_some(take)
    if not request.accepts("text/html"):
        return JsonResponse({"done": done, "of": of})
    return redirect("run", shoot.pk, take.pk)


@login_required
@require_GET
@handle_gone
def run_csv(request: HttpRequest, shoot_id: int, take_id: int) -> HttpResponse:
    """The run as CSV, a row a frame, with the stops that would even its flicker out."""
    shoot = shoot_for(request, shoot_id)
    take = take_of(shoot, take_id)
    spec, rows = spec_at(shoot, take), frames_of(take)
    frames = run_frames(rows)
    if spec is None or len(frames) < 2 or len(frames) != len(rows):
        messages.error(request, "Look at its frames first.")
        return redirect("run", shoot.pk, take.pk)
    found = report(frames, plan_of(spec))
    said = {one.at: one.sort.value for one in found.events}
    header = ("frame", "file", "taken", "exposure s", "f-number", "ISO",
              "light in stops from grey", "correction in stops", "shift in px", "gap in s",
              "happened")  # fmt: skip
    lines = (
        (place + 1, str(row), *(row.wrote.get(name, "") for name in WROTE),
         f"{found.level_stops[place]:.3f}", f"{-found.residue_stops[place]:.3f}",
         _known(found.shift_px[place]), _known(found.gap_s[place]), said.get(place, ""))
        for place, row in enumerate(rows)
    )  # fmt: skip
    return csv_answer(f"{slugify(str(take))}-run.csv", header, lines)


def _known(value: float) -> str:
    return "" if value != value else f"{value:.2f}"
