"""What goes to the edit: timelines, lists, sidecars, looks; and cuts on the beat of a music."""

import zipfile
from io import BytesIO

from django.contrib import messages
from django.contrib.auth.decorators import login_required
from django.http import Http404, HttpRequest, HttpResponse
from django.http.response import HttpResponseBase
from django.shortcuts import get_object_or_404, redirect, render
from django.template.loader import render_to_string
from django.utils.text import slugify
from django.views.decorators.http import require_GET

from fotonomy.core.errors import RuleError
from fotonomy.core.tone.night_grade import NightGrade
from fotonomy.exchange.curve_files import write_night
from fotonomy.exchange.edit.formats import FORMATS
from fotonomy.exchange.edit.joining import to_concat
from fotonomy.exchange.edit.sidecars import to_xmp
from fotonomy.field.models import Take
from fotonomy.shoots.editing.forms import sentence
from fotonomy.shoots.models import Shoot
from fotonomy.shoots.views.get_or_404 import handle_gone, shoot_for
from fotonomy.takes.edit import clips_of, runs_of, sidecars_of, specs_of
from fotonomy.takes.presenters.edit import cuts_of, edit_view, music_of, night_grade_of
from fotonomy.takes.presenters.report import report_view
from fotonomy.web.csv_files import csv_answer
from fotonomy.web.long_work import one_at_a_time
from fotonomy.web.pdf import NoPdfError, pdf_of


def _file(text: str | bytes, name: str, kind: str) -> HttpResponse:
    answer = HttpResponse(text, content_type=kind)
    answer["Content-Disposition"] = f'attachment; filename="{name}"'
    return answer


def _name(shoot: Shoot) -> str:
    return slugify(shoot.name) or "shoot"


@login_required
@require_GET
@handle_gone
def edit_page(request: HttpRequest, shoot_id: int) -> HttpResponse:
    """All formats, and the form for cuts on the beat with what it comes to."""
    shoot = shoot_for(request, shoot_id)
    music = music_of(request.GET)
    errors: dict[str, str] = {}
    cuts = None
    clips = clips_of(shoot)
    if music.asked:
        try:
            cuts = cuts_of(music, clips, shoot.project_fps)
        except RuleError as error:
            errors[error.field] = sentence(error.rule)
    view = edit_view(shoot, clips)
    context = {
        "shoot": shoot, "v": view, "music": music, "cuts": cuts, "errors": errors,
        "query": request.GET.urlencode(), "formats": FORMATS,
    }  # fmt: skip
    return render(request, "takes/edit.html", context, status=422 if errors else 200)


@login_required
@require_GET
@handle_gone
def edit_takes(request: HttpRequest, shoot_id: int, suffix: str) -> HttpResponse:
    """The takes in one of the formats of exchange/edit/formats.py."""
    shoot = shoot_for(request, shoot_id)
    one = next((one for one in FORMATS if one.suffix == suffix), None)
    if one is None:
        raise Http404
    made = one.write(shoot.name, clips_of(shoot), shoot.project_fps)
    return _file(made, f"{_name(shoot)}.{suffix}", one.content_type)


@login_required
@require_GET
@handle_gone
def edit_xmp(request: HttpRequest, shoot_id: int) -> HttpResponse:
    """A sidecar for each picture, in one archive."""
    shoot = shoot_for(request, shoot_id)
    made = BytesIO()
    with zipfile.ZipFile(made, "w", zipfile.ZIP_DEFLATED) as archive:
        for one in sidecars_of(shoot):
            archive.writestr(one.name.replace("/", "_").replace("\\", "_"), to_xmp(one))
    return _file(made.getvalue(), f"{_name(shoot)}-sidecars.zip", "application/zip")


@login_required
@require_GET
@handle_gone
def edit_frames(request: HttpRequest, shoot_id: int, take_id: int) -> HttpResponse:
    """The frames of a run as a list that joins them."""
    shoot = shoot_for(request, shoot_id)
    take = get_object_or_404(Take, shoot=shoot, pk=take_id)
    run = next((one for one in runs_of(shoot, specs_of(shoot)) if one.take.pk == take.pk), None)
    if run is None:
        messages.error(request, "This take is no run of frames.")
        return redirect("edit", shoot.pk)
    made = to_concat([row.name for row in run.rows], shoot.project_fps)
    return _file(made, f"{slugify(str(take))}.ffconcat", "text/plain; charset=utf-8")


@login_required
@require_GET
@handle_gone
def edit_night(request: HttpRequest, shoot_id: int, setup_id: int) -> HttpResponse:
    """Dusk made into night for a setup, as a .cube."""
    shoot = shoot_for(request, shoot_id)
    spec = specs_of(shoot).get(setup_id)
    if spec is None:
        raise Http404
    try:
        grade = night_grade_of(request.GET)
    except RuleError as error:
        messages.error(request, f"{sentence(error.rule)}.")
        return redirect("edit", shoot.pk)
    made = write_night(spec.recorded_profile, grade or NightGrade())
    return _file(made, f"{slugify(spec.recorded_profile.name)}-night.cube", "text/plain")


@login_required
@require_GET
@handle_gone
def edit_cuts(request: HttpRequest, shoot_id: int) -> HttpResponse:
    """Cuts on the beat as CSV."""
    shoot = shoot_for(request, shoot_id)
    try:
        cuts = cuts_of(music_of(request.GET), clips_of(shoot), shoot.project_fps)
    except RuleError as error:
        messages.error(request, f"{sentence(error.rule)}.")
        return redirect("edit", shoot.pk)
    header = ("cut", "at", "frame", "frames", "off the beat ms", "clip", "too short by frames")
    rows = (
        (one.number, one.at, one.first, one.frames, one.off_ms, one.clip, one.short or "")
        for one in cuts.lines
    )  # fmt: skip
    return csv_answer(f"{_name(shoot)}-cuts.csv", header, rows)


@login_required
@require_GET
@handle_gone
@one_at_a_time
def report_pdf(request: HttpRequest, shoot_id: int) -> HttpResponseBase:
    """The camera report as PDF."""
    shoot = shoot_for(request, shoot_id)
    context = {"shoot": shoot, "view": report_view(shoot), "which": "report", "pdf": True,
               "paper": "Camera report", "papers": []}  # fmt: skip
    try:
        made = pdf_of(render_to_string("takes/report.html", context, request))
    except NoPdfError as error:
        messages.error(request, str(error))
        return redirect("edit", shoot.pk)
    return _file(made, f"{_name(shoot)}-camera-report.pdf", "application/pdf")
