"""Paper to carry: call sheet, cards and packing list, to print from the browser or as PDF."""

from collections.abc import Callable

from django.contrib import messages
from django.contrib.auth.decorators import login_required
from django.http import Http404, HttpRequest, HttpResponse
from django.http.response import HttpResponseBase
from django.shortcuts import redirect
from django.template.loader import render_to_string
from django.urls import reverse
from django.utils.text import slugify
from django.views.decorators.http import require_GET

from fotonomy.shoots.models import Shoot
from fotonomy.shoots.presenters.call_sheet import call_sheet
from fotonomy.shoots.presenters.paper import (
    SHEET_COLUMNS,
    CardView,
    PaperView,
    call_sheet_rows,
    packing_paper,
    paper_view,
)
from fotonomy.shoots.views.access import must_own
from fotonomy.shoots.views.get_or_404 import handle_gone, shoot_for
from fotonomy.web.csv_files import csv_answer
from fotonomy.web.long_work import one_at_a_time
from fotonomy.web.pdf import NoPdfError, pdf_of, warm_up
from fotonomy.web.qr import qr_svg

# Each paper: its name, and what its template takes.
PAPERS: dict[str, tuple[str, Callable[[Shoot], object]]] = {
    "call-sheet": ("Call sheet", call_sheet),
    "cards": ("Cards", paper_view),
    "packing": ("Packing list", packing_paper),
}


def _markup(request: HttpRequest, shoot: Shoot, which: str, pdf: bool) -> str:
    name, made = PAPERS[which]
    if which == "packing":
        must_own(shoot)
    view = made(shoot)
    context = {
        "shoot": shoot, "view": view, "which": which, "paper": name, "pdf": pdf,
        "cards": _with_codes(request, shoot, view, which),
        "papers": [(key, other) for key, (other, _) in PAPERS.items()],
    }  # fmt: skip
    return render_to_string(f"shoots/paper/{which.replace('-', '_')}.html", context, request)


def _with_codes(
    request: HttpRequest, shoot: Shoot, view: object, which: str
) -> list[tuple[CardView, str]]:
    """Cards with the drawing that opens each on a phone."""
    if which != "cards" or not isinstance(view, PaperView):
        return []
    return [
        (
            card,
            qr_svg(
                request.build_absolute_uri(reverse("field-card", args=[shoot.pk, card.key])),
                f"Opens {card.code or card.title} on a phone",
            ),
        )
        for card in view.cards
    ]


@login_required
@require_GET
@handle_gone
@one_at_a_time
def paper(request: HttpRequest, shoot_id: int, which: str) -> HttpResponseBase:
    """A paper as a page that prints as it looks."""
    if which not in PAPERS:
        raise Http404
    markup = _markup(request, shoot_for(request, shoot_id), which, pdf=False)
    warm_up()
    return HttpResponse(markup)


@login_required
@require_GET
@handle_gone
@one_at_a_time
def paper_pdf(request: HttpRequest, shoot_id: int, which: str) -> HttpResponseBase:
    """The same paper as PDF."""
    if which not in PAPERS:
        raise Http404
    shoot = shoot_for(request, shoot_id)
    try:
        letter = request.GET.get("size") == "letter"
        made = pdf_of(_markup(request, shoot, which, pdf=True), letter)
    except NoPdfError as error:
        messages.error(request, str(error))
        return redirect("paper", shoot.pk, which)
    response = HttpResponse(made, content_type="application/pdf")
    name = f"{slugify(shoot.name) or 'shoot'}-{which}.pdf"
    response["Content-Disposition"] = f'attachment; filename="{name}"'
    return response


@login_required
@require_GET
@handle_gone
@one_at_a_time
def call_sheet_csv(request: HttpRequest, shoot_id: int) -> HttpResponseBase:
    """The call sheet as CSV, a row a setup."""
    shoot = shoot_for(request, shoot_id)
    name = f"{slugify(shoot.name) or 'shoot'}-call-sheet.csv"
    return csv_answer(name, SHEET_COLUMNS, call_sheet_rows(paper_view(shoot)))
