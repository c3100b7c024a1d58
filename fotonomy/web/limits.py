"""What is refused before anything else looks at it."""

from collections.abc import Callable

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.shortcuts import render

# So many things that waited on a device go out in one request.
SENT_AT_ONCE = 100


class LargestRequest:
    """A request larger than any the program asks for is refused with a page that says so."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        length = request.META.get("CONTENT_LENGTH") or "0"
        if length.isascii() and length.isdigit() and len(length) < 20:
            if int(length) <= settings.LARGEST_REQUEST:
                return self.get_response(request)
            most = settings.LARGEST_REQUEST // 2**20
            return render(request, "413.html", {"most": most}, status=413)
        return render(request, "400.html", status=400)
