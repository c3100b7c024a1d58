"""Guests stay inside the shoots they were let into."""

from collections.abc import Callable
from typing import Any

from django.http import HttpRequest, HttpResponse

from fotonomy.shoots.views.access import RefusedError

# Says that the session belongs to an account that a link made.
GUEST_SESSION = "guest"
# What a guest may open that belongs to no shoot.
OPEN_TO_GUESTS = frozenset({
    "home", "shoot-list", "logout", "login", "token", "choose-theme", "guide", "words", "word",
    "field-worker", "manifest", "join", "health",
})  # fmt: skip


class GuestsInside:
    """Refuses a guest every address that is neither a shoot's nor everybody's."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        return self.get_response(request)

    def process_view(
        self, request: HttpRequest, view: Any, arguments: Any, named: dict[str, Any]
    ) -> None:
        """Raises RefusedError; the shoot's own door checks the rest."""
        match = request.resolver_match
        if "shoot_id" in named or (match and match.url_name in OPEN_TO_GUESTS):
            return
        if request.session.get(GUEST_SESSION):
            raise RefusedError(
                "You are here as a guest of a crew: the shoots you were let into are open to you. "
                "With an account of your own you have a kit and shoots as well."
            )
