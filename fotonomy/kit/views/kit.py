"""The kit: one page to see it, one form a thing. Every look-up goes through the owner."""

from typing import Any

from django.contrib import messages
from django.contrib.auth.decorators import login_required
from django.contrib.auth.models import User
from django.db import IntegrityError, transaction
from django.db.models import Count, Q, QuerySet
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils.safestring import SafeString, mark_safe
from django.views.decorators.http import require_POST

from fotonomy.core.errors import RuleError
from fotonomy.core.tone.signal_levels import profile_doubts
from fotonomy.exchange.errors import ExchangeError
from fotonomy.exchange.kit_json import kit_to_data, read_kit
from fotonomy.exchange.schemas import LARGEST_FILE_BYTES, write_json
from fotonomy.figures.kit.body import body_figure
from fotonomy.figures.svg import CUTS
from fotonomy.kit import history
from fotonomy.kit.current_user import current_user
from fotonomy.kit.forms.base import GearForm
from fotonomy.kit.forms.gear import FORMS, MODELS, FilterForm
from fotonomy.kit.history import recorded
from fotonomy.kit.models import Accessory, Body, Filter, Gear, Profile
from fotonomy.kit.quotas import QuotaError, kit_uses, nearly_full, room_for, room_for_bytes
from fotonomy.kit.seats import seats_of
from fotonomy.kit.services import import_kit, kit_of
from fotonomy.kit.summaries import (
    accessory_words,
    body_words,
    filter_words,
    lens_words,
    profile_words,
)
from fotonomy.web.whole_forms import Merged, Wording, merge, shown_text, ticked_in

SORT_NAMES = {
    "body": "camera body", "lens": "lens", "filter": "filter", "accessory": "accessory",
    "profile": "profile",
}  # fmt: skip


def own_gear(request: HttpRequest, sort: str, gear_id: int) -> Gear:
    """The person's thing of this sort and id; 404 for anybody else's."""
    if sort not in MODELS:
        raise Http404
    return get_object_or_404(MODELS[sort], pk=gear_id, owner=current_user(request))


@login_required
def kit(request: HttpRequest) -> HttpResponse:
    """Everything the person owns."""
    devices = {"sort__in": Accessory.DEVICES}
    sections: list[tuple[str, str, str, str, Any, Any]] = [
        ("body", "body", "Camera bodies", "a body", body_words, Q()),
        ("lens", "lens", "Lenses", "a lens", lens_words, Q()),
        ("filter", "filter", "Filters", "a filter", filter_words, Q()),
        ("accessory", "accessory", "Rings, tubes, supports", "a ring, tube or support",
         accessory_words, ~Q(**devices) & ~Q(sort=Accessory.LAMP)),
        ("devices", "accessory", "Remotes, cards, power", "a remote, card or battery",
         accessory_words, Q(**devices)),
        ("lamps", "accessory", "Lamps", "a lamp", accessory_words, Q(sort=Accessory.LAMP)),
        ("profile", "profile", "Profiles", "a profile", profile_words, Q()),
    ]  # fmt: skip
    shown = []
    for key, sort, title, one, words, which in sections:
        rows: QuerySet[Any] = (
            MODELS[sort].objects.filter(which, owner=current_user(request)).order_by("name")
        )
        rows = rows.order_by("name").annotate(used=Count("setups", distinct=True))
        if sort == "body":
            rows = rows.prefetch_related("profiles")
        items = [(row, *_shown(row, words)) for row in rows]
        shown.append({"key": key, "sort": sort, "title": title, "one": one, "items": items})
    owner = current_user(request)
    context = {
        "sections": shown, "nearly_full": nearly_full(kit_uses(owner)),
        "next_undo": history.next_undo(owner), "next_redo": history.next_redo(owner),
    }  # fmt: skip
    return render(request, "kit/index.html", context)


@login_required
@require_POST
def kit_step(request: HttpRequest, which: str) -> HttpResponse:
    """Take back the last change of the kit, or do it again."""
    step = history.undo if which == "undo" else history.redo
    try:
        taken = step(current_user(request))
    except history.CannotUndoError as error:
        messages.error(request, f"The {which} cannot be done: {error}.")
        return redirect("kit")
    if taken is None:
        messages.error(request, f"There is nothing to {which}.")
        return redirect("kit")
    words = f"{'Undone' if which == 'undo' else 'Done again'}: {taken.label}."
    if taken.kept:
        words += f" {taken.kept} of its values were changed since, and stay."
    messages.success(request, words)
    return redirect("kit")


def _shown(row: Gear, words: Any) -> tuple[str, list[tuple[str, SafeString]]]:
    """A thing's line and drawings; what breaks a rule says so and can still be opened."""
    try:
        return words(row), _drawings(row)
    except RuleError as error:
        return f"✕ cannot be used: {error.field} {error.rule}", []
    except Exception as error:
        if row.usable:
            raise
        return f"✕ cannot be used: it holds what cannot be read, {error}"[:300], []


def _drawings(row: Gear) -> list[tuple[str, SafeString]]:
    """A body's drawing in both cuts; nothing for other gear."""
    if not isinstance(row, Body):
        return []
    profiles = tuple(profile.to_spec() for profile in row.profiles.all())
    # Markup from our own figure, which escapes what a person typed.
    return [
        (cut, mark_safe(body_figure(row.to_spec(), profiles, width))) for cut, width in CUTS.items()
    ]


@login_required
def gear_new(request: HttpRequest, sort: str) -> HttpResponse:
    """Add a thing to the kit."""
    if sort not in FORMS:
        raise Http404
    return _form_page(request, sort, None)


@login_required
def gear_edit(request: HttpRequest, sort: str, gear_id: int) -> HttpResponse:
    """Change a thing of the kit."""
    return _form_page(request, sort, own_gear(request, sort, gear_id))


def _form_page(request: HttpRequest, sort: str, row: Gear | None) -> HttpResponse:
    owner = current_user(request)
    options: dict[str, Any] = {"owner": owner}
    if row is None and sort == "accessory":
        asked = request.GET.get("sort", "")
        options["initial"] = {"sort": asked if asked in dict(Accessory.SORTS) else Accessory.RING}
    if request.method == "POST":
        with transaction.atomic():
            # Things of a kit are named apart from each other: one change of it after the other.
            User.objects.select_for_update().get(pk=owner.pk)
            row = None if row is None else own_gear(request, sort, row.pk)
            form, saved = _sent(request, sort, row, options)
        if saved is not None:
            return _kept(request, saved)
    else:
        form = FORMS[sort](instance=row, **options)
    context = {"form": form, "sort": sort, "sort_name": SORT_NAMES[sort], "gear": row}
    context["shown"] = ""
    if row is not None:
        context["shown"] = shown_text(FORMS[sort](instance=_stored(row), **options).texts())
    context["drawings"] = _shown(row, str)[1] if row and request.method == "GET" else []
    if isinstance(form, FilterForm):
        context["seats"] = seats_of(owner, form.seated())
    # Asking for another look of the form is no mistake.
    status = 422 if request.method == "POST" and not form.quiet else 200
    return render(request, "kit/form.html", context, status=status)


def _stored(row: Gear) -> Gear:
    """A thing as it is stored: a form that was filled in has written in its row."""
    stored: Gear = type(row)._default_manager.get(pk=row.pk)
    return stored


def _sent(
    request: HttpRequest, sort: str, row: Gear | None, options: dict[str, Any]
) -> tuple[GearForm, Gear | None]:
    """The form as it was sent, merged with what was changed meanwhile; what was saved, or None."""
    owner, merged, words = options["owner"], Merged(request.POST), Wording({})
    if row is not None:
        now = FORMS[sort](instance=row, **options)
        merged = merge(request.POST, now.texts(), ticked_in(now), tuple(now.lines))
        words = Wording.of(now, **now.lines)
    form = FORMS[sort](merged.data, files=request.FILES or None, instance=row, **options)
    for said in words.said(merged):
        messages.info(request, said)
    valid = form.is_valid()
    for prefix in merged.torn:
        form.add_error(None, words.torn(prefix))
    if not valid or merged.torn:
        return form, None
    try:
        if row is None:
            room_for(MODELS[sort], owner)
        name = form.cleaned_data.get("name") or str(row)
        with recorded(owner, f"{name} {'added' if row is None else 'changed'}"):
            saved: Gear = form.save()
            room_for_bytes(owner)
        return form, saved
    except QuotaError as error:
        form.add_error("name", f"{error}.")
    except IntegrityError:
        # Another person's process gave this name between the look and the write.
        form.add_error("name", "You have one of this name already")
    return form, None


def _kept(request: HttpRequest, saved: Gear) -> HttpResponse:
    messages.success(request, f"{saved} kept.")
    for doubt in profile_doubts(saved.to_spec()) if isinstance(saved, Profile) else ():
        messages.warning(request, f"{doubt}.")
    if isinstance(saved, Filter):
        seats = seats_of(current_user(request), saved.to_spec())
        if seats and not any(one.seating.fits for one in seats):
            why = seats[0].seating.problem
            messages.warning(request, f"It goes on no lens of yours. {seats[0].lens}: {why}.")
    return redirect("kit")


@login_required
@require_POST
def kit_import(request: HttpRequest) -> HttpResponse:
    """Import a kit file; what is there already is recognised, a damaged file changes nothing."""
    upload = request.FILES.get("file")
    if upload is None:
        messages.error(request, "Choose a kit file first.")
        return redirect("kit")
    try:
        given = read_kit(upload.read(LARGEST_FILE_BYTES + 1))
        with recorded(current_user(request), f"{upload.name} imported"):
            arrivals = import_kit(current_user(request), given)
    except ExchangeError as error:
        messages.error(request, f"{upload.name} was not imported. {error.place}: {error.problem}.")
        return redirect("kit")
    except QuotaError as error:
        messages.error(request, f"{upload.name} was not imported. {error}.")
        return redirect("kit")
    made = [one for one in arrivals if one.made]
    renamed = [f"{one.wanted} as {one.row.name}" for one in made if one.row.name != one.wanted]
    words = f"{len(made)} new, {len(arrivals) - len(made)} already in the kit"
    if renamed:
        words += f"; other numbers under a name you have: {', '.join(renamed[:6])}"
    messages.success(request, f"{upload.name} imported: {words}.")
    return redirect("kit")


@login_required
def kit_export(request: HttpRequest) -> HttpResponse:
    """Everything the person owns as a file."""
    text = write_json(kit_to_data(kit_of(current_user(request))))
    response = HttpResponse(text, content_type="application/json")
    response["Content-Disposition"] = 'attachment; filename="kit.json"'
    return response
