"""The program to carry: the remote's fields, the settings, every change on the way."""

from django.contrib.auth.decorators import login_required
from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_GET

from fotonomy.core.analysis.interval import IntervalRun
from fotonomy.core.analysis.ramp_programme import ramp_lines
from fotonomy.core.analysis.setup import run_of
from fotonomy.core.notation import writing as n
from fotonomy.core.plan import plan
from fotonomy.shoots.mapping import spec_of
from fotonomy.shoots.packed_kit import packed_kit
from fotonomy.shoots.presenters.stills_lanes import (
    clock_words,
    intervalometer_entries,
)
from fotonomy.shoots.views.get_or_404 import back_to_bench, handle_gone, setup_for

NO_INTERVALOMETER = "Only interval runs have a program."


@login_required
@require_GET
@handle_gone
def program_to_carry(request: HttpRequest, shoot_id: int, setup_id: int) -> HttpResponse:
    """The program on one small page: the remote's fields, the settings, every change on the way."""
    row = setup_for(request, shoot_id, setup_id)
    planned = plan(spec_of(row, packed_kit(row.shoot)))
    if not planned.analysis.setup.kind.traits.has_interval:
        return back_to_bench(request, row, NO_INTERVALOMETER)
    run = run_of(planned.analysis, IntervalRun)
    steps = [
        (line.frame, n.format_duration(line.press_s),
         clock_words(planned.analysis.setup, line.press_s), line.words)
        for line in ramp_lines(planned.analysis.setup, run)
    ]  # fmt: skip
    context = {
        "row": row, "shoot": row.shoot, "run": run, "planned": planned, "steps": steps,
        "program": intervalometer_entries(planned.analysis, run),
        "starts": clock_words(planned.analysis.setup, 0.0),
        "ends": clock_words(planned.analysis.setup, run.lasts_s),
    }  # fmt: skip
    return render(request, "shoots/program.html", context)
