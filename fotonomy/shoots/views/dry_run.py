"""The dry run of a setup of single pictures, its log as CSV, and the program to carry."""

import csv
import json
from collections.abc import Iterator
from dataclasses import dataclass
from io import StringIO
from typing import Any
from urllib.parse import urlencode

from django.contrib import messages
from django.contrib.auth.decorators import login_required
from django.http import HttpRequest, HttpResponse, StreamingHttpResponse
from django.http.response import HttpResponseBase
from django.shortcuts import redirect, render
from django.template.loader import render_to_string
from django.urls import reverse
from django.utils.safestring import SafeString, mark_safe
from django.utils.text import slugify
from django.views.decorators.http import require_GET, require_http_methods

from fotonomy.core.analysis.ramp_programme import clock_after
from fotonomy.core.analysis.setup import Analysis
from fotonomy.core.dry_run.lessons import lessons
from fotonomy.core.dry_run.log import LOST_ORDER, RunLog, judge
from fotonomy.core.dry_run.trigger_schedule import TriggerSchedule
from fotonomy.core.errors import RuleError
from fotonomy.core.kinds import rules_of
from fotonomy.core.notation import writing as n
from fotonomy.core.notation.reading import whole_number
from fotonomy.core.plan import plan
from fotonomy.exchange.changes_json import press_of
from fotonomy.figures.dry_run import dry_plan_figure, dry_run_figure, verdict_words
from fotonomy.figures.svg import CUTS
from fotonomy.shoots.editing.apply import edit_setup
from fotonomy.shoots.mapping import spec_of
from fotonomy.shoots.models import Setup
from fotonomy.shoots.packed_kit import packed_kit
from fotonomy.shoots.presenters.stills_lanes import (
    clock_words,
    schedule_entries,
)
from fotonomy.shoots.views.get_or_404 import back_to_bench, handle_gone, setup_for
from fotonomy.simulators.dry_run import DryRun, Fault, carry_out, faults_for
from fotonomy.web.long_work import one_at_a_time

HIGHEST_SEED = 999_999


@dataclass(frozen=True, slots=True)
class Asked:
    """What a dry run is asked to be: faults, seed, and after how many starts it was stopped."""

    faults: frozenset[Fault]
    seed: int
    until: int | None

    @property
    def query(self) -> str:
        """The same as the end of an address."""
        pairs = [("fault", fault.value) for fault in Fault if fault in self.faults]
        return urlencode([*pairs, ("seed", str(self.seed)), ("run", "1")])


def asked(request: HttpRequest) -> Asked:
    """Faults and seed from the address; what is no fault or no number is left out."""
    names = {fault.value for fault in Fault}
    given = request.GET if request.method == "GET" else request.POST
    faults = frozenset(Fault(name) for name in given.getlist("fault") if name in names)
    seed, until = (whole_number(given.get(name, ""), HIGHEST_SEED) for name in ("seed", "until"))
    return Asked(faults, 1 if seed is None else seed, until)


def _analysis(row: Setup) -> tuple[Analysis, TriggerSchedule] | None:
    """What is rehearsed of a setup; None for video."""
    analysis = plan(spec_of(row, packed_kit(row.shoot))).analysis
    rules = rules_of(analysis.setup).dry_run
    return None if rules is None else (analysis, rules.schedule(analysis))


NO_DRY_RUN = "Only intervals, bursts and long exposures have a dry run."


@login_required
@require_http_methods(["GET", "POST"])
@handle_gone
@one_at_a_time
def dry_run(request: HttpRequest, shoot_id: int, setup_id: int) -> HttpResponse:
    """The dry run's page. POST takes a way out it offered, and shows the page again."""
    row = setup_for(request, shoot_id, setup_id)
    wanted = asked(request)
    address = reverse("dry-run", args=[shoot_id, setup_id])
    if request.method == "POST":
        edit = edit_setup(row, request.POST)
        for message in edit.errors.values():
            messages.error(request, message)
        return redirect(f"{address}?{wanted.query}")
    found = _analysis(row)
    if found is None:
        return back_to_bench(request, row, NO_DRY_RUN)
    analysis, schedule = found
    context = {
        "row": row, "shoot": row.shoot, "schedule": schedule, "asked": wanted,
        "faults": [(fault, fault in wanted.faults) for fault in faults_for(schedule)],
        "program": schedule_entries(analysis, schedule), "result": None, "refused": "",
        "planned": _planned(schedule),
    }  # fmt: skip
    status = 200
    if "run" in request.GET:
        try:
            dry = carry_out(analysis.setup, schedule, wanted.faults, wanted.seed, wanted.until)
            context["result"] = _result(analysis, schedule, dry)
        except RuleError as error:
            context["refused"], status = error.rule, 422
    return render(request, "shoots/dry_run.html", context, status=status)


def _planned(schedule: TriggerSchedule) -> list[tuple[str, SafeString]]:
    """The plan drawn, in both cuts."""
    span, needs_mb = (schedule.first_s, schedule.last_s), schedule.frames * schedule.file_mb
    # Markup from our own figure, which escapes every text a person typed.
    return [
        (cut, mark_safe(
            dry_plan_figure(span, schedule.frames, needs_mb, 1000 * schedule.card.size_gb, width)
        ))
        for cut, width in CUTS.items()
    ]  # fmt: skip


def _result(analysis: Analysis, schedule: TriggerSchedule, dry: DryRun) -> dict[str, Any]:
    """What the result's template takes."""
    log, setup = dry.log, analysis.setup
    assert log is not None
    rules = rules_of(setup).dry_run
    assert rules is not None
    verdict = judge(
        log, planned=schedule.frames, interval_s=schedule.step_s, project_fps=setup.project_fps,
        one_run=schedule.one_run,
    )  # fmt: skip
    planned = (schedule.first_s, schedule.last_s)
    battery = dry.camera.battery.energy_wh
    figures = [
        (cut, mark_safe(dry_run_figure(
            log, verdict, planned, dry.camera.card.size_mb, battery, width
        )))
        for cut, width in CUTS.items()
    ]  # fmt: skip
    return {
        "one_run": schedule.one_run, "verdict": verdict, "words": verdict_words(verdict),
        "figures": figures,
        "happened": dry.happened,
        "lessons": [
            (lesson, [(fix.label, press_of(fix.changes))
                      for fix in lesson.fixes])
            for lesson in lessons(analysis, rules.ways_out, schedule, verdict, dry.camera.write_s)
        ],
        "jumps": [
            (f"{jump.screen_s:.1f} s", *map(n.format_duration, (jump.at_s, jump.skips_s)),
             "" if jump.times == 1 else f"{jump.times} frames in a row")
            for jump in verdict.jumps
        ],
        "more_jumps": verdict.jump_count - len(verdict.jumps),
        "ended": n.format_duration(verdict.ended_s),
        "ended_clock": clock_words(setup, verdict.ended_s),
        "clip": f"{verdict.clip_s:.1f} s", "planned_clip": f"{verdict.planned_clip_s:.1f} s",
    }  # fmt: skip


@login_required
@require_GET
@handle_gone
@one_at_a_time
def dry_run_go(request: HttpRequest, shoot_id: int, setup_id: int) -> HttpResponseBase:
    """The dry run as it goes: a line of JSON for each stretch, then one with the result."""
    row = setup_for(request, shoot_id, setup_id)
    found = _analysis(row)
    if found is None:
        return HttpResponse(status=404)
    analysis, schedule = found
    wanted = asked(request)
    try:
        dry = DryRun(analysis.setup, schedule, wanted.faults, wanted.seed)
    except RuleError as error:
        return HttpResponse(json.dumps({"refused": error.rule}) + "\n", status=422)

    def lines() -> Iterator[str]:
        for share in dry.go():
            yield (
                json.dumps({"done": round(share, 4), "frames": round(share * schedule.frames)})
                + "\n"
            )
        context = {
            "result": _result(analysis, schedule, dry),
            "row": row,
            "shoot": row.shoot,
            "asked": wanted,
        }
        html = render_to_string("shoots/_dry_run.html", context, request)
        yield json.dumps({"html": html}) + "\n"

    response = StreamingHttpResponse(lines(), content_type="application/x-ndjson")
    response["Cache-Control"] = "no-store"
    # Line by line, as it goes: compressed it would wait until enough has come together.
    response["Content-Encoding"] = "identity"
    return response


COLUMNS = ("start", "fired_s", "opened_s", "clock", "result", "shutter_s", "iso", "nd_density",
           "waiting_frames", "card_mb", "energy_wh")  # fmt: skip


@login_required
@require_GET
@handle_gone
@one_at_a_time
def dry_run_csv(request: HttpRequest, shoot_id: int, setup_id: int) -> HttpResponseBase:
    """The log of a dry run, one line a start of the remote."""
    row = setup_for(request, shoot_id, setup_id)
    found = _analysis(row)
    if found is None:
        return back_to_bench(request, row, NO_DRY_RUN)
    analysis, schedule = found
    wanted = asked(request)
    try:
        dry = carry_out(analysis.setup, schedule, wanted.faults, wanted.seed, wanted.until)
    except RuleError as error:
        return HttpResponse(error.rule, status=422, content_type="text/plain")
    assert dry.log is not None
    response = StreamingHttpResponse(
        _csv_lines(analysis, schedule, dry.log), content_type="text/csv"
    )
    name = slugify(f"{row} dry run") or "dry-run"
    response["Content-Disposition"] = f'attachment; filename="{name}.csv"'
    return response


def _csv_lines(analysis: Analysis, schedule: TriggerSchedule, log: RunLog) -> Iterator[str]:
    held = StringIO()
    writer = csv.writer(held)
    writer.writerow(COLUMNS)
    rungs = schedule.rungs
    for k in range(len(log.trigger_s)):
        rung, lost = rungs[int(log.rung[k])], int(log.lost[k])
        opened = "" if lost >= 0 else f"{log.start_s[k]:.3f}"
        clock = clock_after(analysis.setup, float(log.trigger_s[k]))
        writer.writerow([
            k + 1, f"{log.trigger_s[k]:.3f}", opened,
            "" if clock is None else clock.isoformat(timespec="seconds"),
            "frame" if lost < 0 else LOST_ORDER[lost].short, f"{rung.time_s:.6g}", rung.iso,
            f"{rung.nd_density:g}", int(log.waiting[k]), f"{log.card_mb[k]:.1f}",
            f"{log.energy_wh[k]:.3f}",
        ])  # fmt: skip
        if k % 500 == 499:
            yield held.getvalue()
            held.seek(0)
            held.truncate()
    yield held.getvalue()
