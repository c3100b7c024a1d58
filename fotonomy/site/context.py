"""What every page knows."""

from django.conf import settings
from django.http import HttpRequest

from fotonomy.shoots.presenters.layout import MEDIUM_TO, PHONE_TO

THEMES = ("day", "night", "sun")
THEME_COOKIE = "theme"


def theme_of(request: HttpRequest) -> str:
    """The theme a person chose, day if none or nonsense."""
    chosen = request.COOKIES.get(THEME_COOKIE, "")
    return chosen if chosen in THEMES else "day"


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
        "medium_to": MEDIUM_TO,
    }
