"""The calibration page of a body: grey frames in, full well and read noise out."""

from typing import Any

from django.contrib import messages
from django.contrib.auth.decorators import login_required
from django.core import signing
from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone
from django.utils.safestring import mark_safe
from django.views.decorators.http import require_GET

from fotonomy.core.errors import RuleError
from fotonomy.core.notation import writing as n
from fotonomy.core.notation.reading import parse_iso
from fotonomy.core.tone.noise import noise_model
from fotonomy.exchange.pictures import write_png
from fotonomy.figures.kit.photon_transfer import transfer_figure
from fotonomy.figures.svg import CUTS
from fotonomy.kit.calibration import (
    Measured,
    Pair,
    keep,
    measure_pairs,
    measure_stand_in,
    sensor_columns,
    stand_in_frame,
    stand_in_isos,
)
from fotonomy.kit.current_user import current_user
from fotonomy.kit.history import recorded
from fotonomy.kit.models import Body, Profile

LINES = 4
SALT = "calibration"


@login_required
def calibrate(request: HttpRequest, gear_id: int) -> HttpResponse:
    """Measure, look at the fit, and keep it; nothing uploaded is stored."""
    body = get_object_or_404(Body, pk=gear_id, owner=current_user(request))
    profiles = list(body.profiles.all()) or list(
        Profile.objects.filter(owner=current_user(request))
    )
    if not profiles:
        messages.error(request, "The kit has no profile yet: frames are read through one.")
        return redirect("gear-new", "profile")
    if request.method == "POST" and "keep" in request.POST:
        return _keep(request, body)
    profile = next((p for p in profiles if p.name == request.POST.get("profile")), profiles[0])
    spec = body.to_spec()
    recorded = spec.format_named(request.POST.get("format", ""))
    pairs = [_pair(request, number) for number in range(1, LINES + 1)]
    measured: Measured | None = None
    if request.method == "POST":
        by_stand_in = "stand_in" in request.POST
        measured = (
            measure_stand_in(body, profile.to_spec())
            if by_stand_in
            else measure_pairs(pairs, profile.to_spec(), body)
        )
    isos = stand_in_isos(body, profile.to_spec())
    context: dict[str, Any] = {
        "body": body, "profiles": profiles, "profile": profile, "recorded": recorded,
        "formats": spec.formats,
        "lines": [(pair, (measured.errors if measured else {}).get(pair.number, ""))
                  for pair in pairs],
        "isos": isos,
    }  # fmt: skip
    if measured and measured.fit:
        context |= _result(body, profile, recorded.name, measured, "stand_in" in request.POST)
    status = 422 if measured and measured.errors else 200
    return render(request, "kit/calibrate.html", context, status=status)


def _pair(request: HttpRequest, number: int) -> Pair:
    return Pair(
        number, request.POST.get(f"iso-{number}", ""), request.FILES.get(f"first-{number}"),
        request.FILES.get(f"second-{number}"),
    )  # fmt: skip


def _result(
    body: Body, profile: Profile, format_name: str, measured: Measured, by_stand_in: bool
) -> dict[str, Any]:
    found = measured.fit
    assert found is not None
    recorded = body.to_spec().format_named(format_name)
    columns = sensor_columns(found, recorded)
    usual = noise_model(type(found.sensor)(), recorded, profile.to_spec(), body.iso_lowest)
    pairs = len(measured.isos)
    words = (
        f"{'the stand-in camera, ' if by_stand_in else ''}{pairs} pair{'s' if pairs > 1 else ''} "
        f"at ISO {', '.join(map(str, measured.isos))}, {profile.name}"
    )
    lines = [
        ("Full well", columns["full_well_e"], usual.full_well_e),
        ("Read noise", columns["read_low_e"], usual.read_low_e),
    ]
    if columns["read_high_e"] is not None:
        lines.append(("Read noise, upper base", columns["read_high_e"], usual.read_high_e))
    return {
        "fit": found,
        "numbers": [(label, n.format_compact(own or 0), n.format_compact(typical))
                    for label, own, typical in lines],
        "residual": n.format_number(found.residual_percent),
        "words": words,
        # Markup from our own figure; it draws numbers only.
        "figures": [(cut, mark_safe(transfer_figure(found, width)))
                    for cut, width in CUTS.items()],
        "payload": signing.dumps({"body": body.pk, "columns": columns, "words": words}, salt=SALT),
    }  # fmt: skip


def _keep(request: HttpRequest, body: Body) -> HttpResponse:
    try:
        data = signing.loads(request.POST["keep"], salt=SALT, max_age=86_400)
    except signing.BadSignature:
        messages.error(request, "Not kept: that measurement is too old. Measure once more.")
        return redirect("body-calibrate", body.pk)
    if data["body"] != body.pk:
        messages.error(request, "Not kept: it was measured for another body.")
        return redirect("body-calibrate", body.pk)
    with recorded(current_user(request), f"{body} measured"):
        keep(body, data["columns"], data["words"], timezone.localdate())
    messages.success(request, f"{body} now uses its own noise: {data['words']}.")
    return redirect("gear-edit", "body", body.pk)


@login_required
@require_GET
def frame(request: HttpRequest, gear_id: int) -> HttpResponse:
    """One grey frame of the stand-in camera, a PNG of 16 bits."""
    body = get_object_or_404(Body, pk=gear_id, owner=current_user(request))
    profiles = Profile.objects.filter(owner=body.owner)
    profile = get_object_or_404(profiles, name=request.GET.get("profile", ""))
    try:
        iso = parse_iso(request.GET.get("iso", ""))
    except RuleError as error:
        return HttpResponse(f"ISO: {error.rule}", status=400, content_type="text/plain")
    number = 2 if request.GET.get("n") == "2" else 1
    png = write_png(stand_in_frame(body, profile.to_spec(), iso, number))
    response = HttpResponse(png, content_type="image/png")
    response["Content-Disposition"] = f'attachment; filename="grey-iso{iso}-{number}.png"'
    return response
