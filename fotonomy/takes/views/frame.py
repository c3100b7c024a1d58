"""What a test frame says: its areas marked, its levels told."""

from typing import Any

from django.contrib import messages
from django.contrib.auth.decorators import login_required
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render

from fotonomy.core.errors import RuleError
from fotonomy.core.pictures.frame_levels import FileCurve
from fotonomy.field.models import PictureData, Take, TakePicture
from fotonomy.field.pictures import mark_picture, pixels_of
from fotonomy.field.presenters.takes import written_words
from fotonomy.shoots import history
from fotonomy.shoots.editing.forms import sentence
from fotonomy.shoots.mapping import spec_of
from fotonomy.shoots.packed_kit import packed_kit
from fotonomy.shoots.views.get_or_404 import (
    handle_gone,
    made_before,
    setup_in,
    shoot_for,
    shoot_in_turn,
)
from fotonomy.takes.presenters.frame import (
    frame_view,
    read_marks,
    texts_of_marks,
    wording_of_marks,
)
from fotonomy.web.whole_forms import merged_data, shown_text


def others_of(take: Take, picture: TakePicture) -> list[TakePicture]:
    """The other test frames of the same setup: pictures that were looked at themselves."""
    uids = Take.objects.filter(shoot=take.shoot, setup_key=take.setup_key).values("uid")
    looked = PictureData.objects.filter(shoot=take.shoot, tiles__isnull=False).values("sha256")
    rows = TakePicture.objects.filter(shoot=take.shoot, take_uid__in=uids, sha256__in=looked)
    return list(rows.exclude(pk=picture.pk))


@login_required
@handle_gone
def frame_page(request: HttpRequest, shoot_id: int, picture_id: int) -> HttpResponse:
    """GET tells what a picture says, POST keeps where its readings are."""
    shoot = shoot_for(request, shoot_id)
    picture = get_object_or_404(TakePicture, shoot=shoot, pk=picture_id)
    picture.shoot = shoot
    take = get_object_or_404(Take, shoot=shoot, uid=picture.take_uid)
    take.shoot = shoot
    row = setup_in(shoot, str(take.setup_key))
    if row is None:
        messages.error(request, "Its setup was deleted: there is no plan to hold the picture to.")
        return redirect("take-edit", shoot.pk, take.pk)
    spec = spec_of(row, packed_kit(shoot))
    errors: dict[str, str] = {}
    if request.method == "POST":
        if made_before(request, shoot):
            return redirect("frame-levels", shoot.pk, picture.pk)
        with shoot_in_turn(request, shoot_id) as shoot:
            picture = get_object_or_404(TakePicture, shoot=shoot, pk=picture_id)
            picture.shoot = shoot
            present, words = texts_of_marks(spec, picture), wording_of_marks(spec)
            marks, errors = read_marks(spec, merged_data(request, present, words))
            if not errors:
                mark_picture(picture, marks)
        if not errors:
            return redirect("frame-levels", shoot.pk, picture.pk)
    pixels = pixels_of(picture)
    if pixels is None:
        raise Http404
    others = others_of(take, picture)
    try:
        view = frame_view(spec, take, picture, pixels, others)
    except RuleError as error:
        # Kept for another layout of the readings: begin with the setup's own.
        picture.marks = {}
        errors["areas"] = sentence(error.rule)
        view = frame_view(spec, take, picture, pixels, others)
    context: dict[str, Any] = {
        "shoot": shoot, "take": take, "picture": picture, "v": view, "errors": errors,
        "setup": row, "curves": [(one.value, one.label) for one in FileCurve],
        "wrote": written_words(picture.wrote, picture.width, picture.height),
        "seen": history.seen(shoot), "shown": shown_text(texts_of_marks(spec, picture)),
    }  # fmt: skip
    return render(request, "takes/frame.html", context, status=422 if errors else 200)
