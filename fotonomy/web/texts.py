"""Texts that no page may keep are refused before any view reads them."""

from collections.abc import Callable, Iterator
from typing import Any

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render

from fotonomy.core.notation.texts import unkeepable


class KeptTexts:
    """Middleware: a form or an address with a sign that cannot be kept is answered 422, in words.

    No keyboard types such a sign: it was pasted, or sent on purpose. What was typed stays on the
    page that one goes back to.
    """

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        return self.get_response(request)

    def process_view(
        self, request: HttpRequest, view: Any, arguments: Any, named: Any
    ) -> HttpResponse | None:
        """The refusal, None where every text can be kept."""
        for name, text in _texts(request):
            if sign := unkeepable(text):
                context = {"field": name if not unkeepable(name) else "", "sign": sign}
                return render(request, "422.html", context, status=422)
        return None


def _texts(request: HttpRequest) -> Iterator[tuple[str, str]]:
    """Every text that came, by its field; names of fields too."""
    sent: Any = [request.GET, request.POST] if request.method == "POST" else [request.GET]
    for data in sent:
        for name, values in data.lists():
            yield name, name
            for one in values:
                yield name, str(one)
