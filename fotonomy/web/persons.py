"""Whose a page is: a page that one person opened sends nothing as another."""

from collections.abc import Callable

from django.http import HttpRequest, HttpResponse, JsonResponse

# Sent by scripts: for whom their page was made. Answered: whose session this is.
PERSON_HEADER = "X-Fotonomy-Person"


class SamePerson:
    """Middleware: 409 for what a page of one person sends in the session of another.

    Two people share a phone, or one logs in in a second window: what the first did waits for them.
    """

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        person = str(request.user.pk) if request.user.is_authenticated else ""
        said = request.headers.get(PERSON_HEADER, "")
        if person and said and said != person:
            words = "Somebody else is logged in here meanwhile: this waits for whoever did it."
            return JsonResponse({"error": words}, status=409)
        answer = self.get_response(request)
        if person:
            answer[PERSON_HEADER] = person
        return answer
