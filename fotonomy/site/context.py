"""What every page knows."""

from django.conf import settings
from django.http import HttpRequest
from django.urls import reverse

from fotonomy.web.limits import SENT_AT_ONCE
from fotonomy.web.screen_widths import MEDIUM_TO, PHONE_TO

THEMES = ("day", "night", "sun")
THEME_COOKIE = "theme"


def theme_of(request: HttpRequest) -> str:
    """The theme a person chose, day if none or nonsense."""
    chosen = request.COOKIES.get(THEME_COOKIE, "")
    return chosen if chosen in THEMES else "day"


# Of which kind the numbers are that a page shows which belong to no setup, by its view's module.
_TOPICS = (
    ("fotonomy.days.views.weather", "weather"), ("fotonomy.days.", "day"),
    ("fotonomy.takes.", "takes"), ("fotonomy.field.", "field"), ("fotonomy.shoots.", "field"),
)  # fmt: skip


def numbers_of(request: HttpRequest) -> str:
    """Where it is said how the numbers of a page come about; empty for pages without any.

    Those of a setup have its own numbers; others lead to how such numbers are worked out.
    """
    match = request.resolver_match
    if match is None or request.user.is_anonymous:
        return ""
    module = match.func.__module__
    shoot, setup = match.kwargs.get("shoot_id"), match.kwargs.get("setup_id")
    if shoot and setup and module.startswith(("fotonomy.shoots.", "fotonomy.field.")):
        return reverse("working", args=[shoot, setup, "all"])
    return next(
        (reverse("topic", args=[key]) for start, key in _TOPICS if module.startswith(start)), ""
    )


def page(request: HttpRequest) -> dict[str, object]:
    """Theme and what is switched on."""
    on_days = any(part in request.path for part in ("/day/", "/places/", "/parts/"))
    on_takes = "/takes/" in request.path
    return {
        "theme": theme_of(request),
        "themes": ("sun", "day", "night"),
        "on_days": on_days,
        "on_takes": on_takes,
        "on_setups": "/shoots/" in request.path and not on_days and not on_takes,
        "demo_mode": settings.DEMO_MODE,
        "sign_up_open": settings.SIGN_UP == "on",
        "mail_on": settings.MAIL_ON,
        "phone_to": PHONE_TO,
        "batch": SENT_AT_ONCE,
        "medium_to": MEDIUM_TO,
        "numbers": numbers_of(request),
    }
