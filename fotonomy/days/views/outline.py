"""An outline typed or pasted: shown as the setups it makes, then made."""

from dataclasses import dataclass, replace

from django.contrib import messages
from django.contrib.auth.decorators import login_required
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render

from fotonomy.core.analysis.kind_wants import usual_light_for
from fotonomy.core.day.outline import OutlineScene, Shot, place_in, read_outline, told_run
from fotonomy.core.errors import RuleError
from fotonomy.core.parsing.schedule import fixed_words
from fotonomy.core.spec.kind import Kind
from fotonomy.core.spec.schedule import ShotSize, Wanted
from fotonomy.core.spec.stills import Run
from fotonomy.kit.quotas import QuotaError
from fotonomy.shoots.editing.forms import sentence
from fotonomy.shoots.models import Shoot
from fotonomy.shoots.services.setups import NothingToShootWithError, make_outline
from fotonomy.shoots.views.get_or_404 import handle_gone, shoot_for


@dataclass(frozen=True, slots=True)
class ShotLine:
    """A shot of the preview, by its number; what is chosen for it may differ from the guess."""

    number: int
    scene: str
    shot: Shot
    wants: str
    place: str
    hour: str


@login_required
@handle_gone
def outline(request: HttpRequest, shoot_id: int) -> HttpResponse:
    """GET asks for the text, POST shows what it makes, and with ``make`` makes it."""
    shoot = shoot_for(request, shoot_id)
    text = request.POST.get("outline", "")
    context = {
        "shoot": shoot, "text": text, "sizes": [(s.value, s.label) for s in ShotSize],
        "kinds": [(k.value, k.label) for k in Kind], "lines": [], "error": "",
        "lights": [(one.value, one.label) for one in PLAIN_LIGHTS],
    }  # fmt: skip
    if request.method != "POST":
        return render(request, "days/outline.html", context)
    try:
        scenes = _chosen(request, read_outline(text))
        if "make" in request.POST:
            count = make_outline(shoot, scenes)
            messages.success(request, f"{count} setups made. Undo takes them back.")
            return redirect("places", shoot.pk)
        context["lines"] = _lines(shoot, scenes)
        context["scenes"] = [scene for scene in scenes if not scene.shots]
        return render(request, "days/outline.html", context)
    except NothingToShootWithError as error:
        context["error"] = f"Your kit has no {error.missing} yet: add one first."
    except RuleError as error:
        context["error"] = f"{sentence(error.rule)}."
    except QuotaError as error:
        context["error"] = f"{error}."
    return render(request, "days/outline.html", context, status=422)


# What an outline can wish; a bound needs a number of its own, an hour stands in its line.
PLAIN_LIGHTS = tuple(
    one for one in Wanted if one not in (Wanted.ABOVE, Wanted.UNDER, Wanted.FIXED)
)  # fmt: skip


def _light_of(shot: Shot) -> Wanted:
    """The light a shot asks for: by its words, else by its kind."""
    return shot.wants or usual_light_for(shot.kind, told_run(shot, Run()))


def _lines(shoot: Shoot, scenes: tuple[OutlineScene, ...]) -> list[ShotLine]:
    found: list[ShotLine] = []
    names = {key: place.name for key, place in shoot.places_by_id.items()}
    for scene in scenes:
        name = f"{scene.code} {scene.title}".strip() or "a new scene"
        for shot in scene.shots:
            at = place_in(names, shot.title, scene.title, scene.story)
            where = "" if at is None else names[at]
            hour = "" if shot.at_min is None else fixed_words(shot.at_min, shot.within_min)
            found.append(ShotLine(len(found), name, shot, _light_of(shot).value, where, hour))
    return found


def _chosen(request: HttpRequest, scenes: tuple[OutlineScene, ...]) -> tuple[OutlineScene, ...]:
    """The scenes with kinds and sizes as chosen on the preview, and without what was unticked."""
    number = 0
    found = []
    for scene in scenes:
        shots = []
        for shot in scene.shots:
            sent = request.POST
            kind, size = sent.get(f"kind-{number}", ""), sent.get(f"size-{number}")
            wants, guessed = sent.get(f"wants-{number}", ""), _light_of(shot)
            if kind in set(Kind):
                shot = replace(shot, kind=Kind(kind))
            if wants in set(PLAIN_LIGHTS) and wants != guessed:
                # What was left as it was guessed follows the kind.
                shot = replace(shot, wants=Wanted(wants))
            if size is not None and size in set(ShotSize):
                shot = replace(shot, size=ShotSize(size))
            if "make" not in sent or f"kind-{number}" not in sent or f"take-{number}" in sent:
                shots.append(shot)
            number += 1
        found.append(replace(scene, shots=tuple(shots)))
    return tuple(found)
