"""The first hour: three doors, and a first setup with one's own gear in three short steps."""

from typing import Any

from django import forms
from django.contrib import messages
from django.contrib.auth.decorators import login_required
from django.contrib.auth.models import User
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_POST

from fotonomy.core.errors import RuleError
from fotonomy.core.gear.sensor_classes import USUAL, SensorClass
from fotonomy.kit.current_user import current_user
from fotonomy.kit.first_steps import keep_camera, keep_glass, keep_lens, steps_of
from fotonomy.kit.forms.start import CameraForm, GlassForm, OwnLensForm
from fotonomy.kit.models import FirstSteps
from fotonomy.kit.quotas import QuotaError
from fotonomy.shoots.services.setups import NothingToShootWithError
from fotonomy.shoots.services.start import first_setup, open_bench

STEPS = ("camera", "lens", "glass")


@login_required
def start(request: HttpRequest) -> HttpResponse:
    """Go on where the person is: the first step that is not done yet."""
    return redirect("start-step", STEPS[_done(steps_of(current_user(request)))])


def _done(steps: FirstSteps) -> int:
    """How many steps are done."""
    return 0 if steps.body_id is None else 1 if steps.lens_id is None else 2


@login_required
def start_step(request: HttpRequest, step: str) -> HttpResponse:
    """One of the three steps: shown, or kept and on to the next."""
    if step not in STEPS:
        raise Http404
    owner, at = current_user(request), STEPS.index(step)
    steps = steps_of(owner)
    if at > _done(steps):
        return redirect("start")
    asked = request.GET.get("sensor", "") or request.POST.get("sensor", "") or steps.sensor
    sensor = SensorClass(asked) if asked in {one.value for one in SensorClass} else None
    form = _form(request, step, steps, sensor)
    if request.method == "POST" and form is not None and form.is_valid():
        try:
            return _keep(owner, step, sensor, form)
        except (RuleError, QuotaError) as error:
            rule = error.rule if isinstance(error, RuleError) else str(error)
            form.add_error(None, f"{rule[:1].upper()}{rule[1:]}.")
        except NothingToShootWithError as error:
            form.add_error(None, f"Your kit has no {error.missing} yet: go back a step.")
    context = {
        "form": form, "step": step, "at": at + 1, "steps": STEPS, "sensor": sensor,
        "done": _done(steps), "sensors": [(one.value, usual) for one, usual in USUAL.items()],
        "before": STEPS[at - 1] if at else "", "gear": steps,
    }  # fmt: skip
    status = 422 if request.method == "POST" and form is not None and form.errors else 200
    return render(request, "shoots/start.html", context, status=status)


def _form(
    request: HttpRequest, step: str, steps: FirstSteps, sensor: SensorClass | None
) -> forms.Form | None:
    """The step's form: as it was kept before, else with what is usual; None without a sensor."""
    data = request.POST or None
    if step == "glass":
        return GlassForm(data)
    if sensor is None:
        return None
    usual, initial = USUAL[sensor], dict[str, Any]()
    if step == "lens":
        initial = OwnLensForm.usual(usual)
        if steps.lens is not None:
            initial = {name: getattr(steps.lens, name) for name in initial}
        return OwnLensForm(data, initial=initial)
    initial = CameraForm.usual(usual)
    if steps.body is not None and steps.sensor == sensor.value:
        body = steps.body
        log = next((p for p in body.profiles.all() if p.curve == "log"), None)
        initial |= {name: getattr(body, name) for name in initial if hasattr(body, name)}
        initial |= {
            "rates": [rate["fps"] for rate in body.formats[0]["rates"]],
            "project_fps": steps.project_fps, "base_iso": log.base_iso if log else None,
            "shutter_style": body.shutter_style,
        }  # fmt: skip
    return CameraForm(data, initial=initial)


def _keep(owner: User, step: str, sensor: SensorClass | None, form: forms.Form) -> HttpResponse:
    given = form.cleaned_data
    if step == "camera":
        assert sensor is not None
        keep_camera(owner, sensor, given)
        return redirect("start-step", "lens")
    if step == "lens":
        keep_lens(owner, given)
        return redirect("start-step", "glass")
    keep_glass(owner, given)
    return redirect(f"{first_setup(owner).get_absolute_url()}?open=light")


@login_required
@require_POST
def start_empty(request: HttpRequest) -> HttpResponse:
    """An empty bench: a shoot of today with one setup, on the kit there is or a middling one."""
    try:
        return redirect(open_bench(current_user(request), "My shoot"))
    except QuotaError as error:
        messages.error(request, f"{error}.")
        return redirect("shoot-list")
    except NothingToShootWithError as error:
        messages.error(request, f"Your kit has no {error.missing} yet: add one here first.")
        return redirect("kit")
