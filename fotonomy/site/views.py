"""Accounts, the demo's door and the theme."""

from django.conf import settings
from django.contrib.auth import get_user_model, login
from django.contrib.auth.forms import UserCreationForm
from django.contrib.auth.models import User
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.utils.http import url_has_allowed_host_and_scheme
from django.views.decorators.http import require_POST

from fotonomy.demo.loader import DEMO_USER, ensure_demo
from fotonomy.kit.starter_kit import give_starter_kit
from fotonomy.site.context import THEME_COOKIE, THEMES


def home(request: HttpRequest) -> HttpResponse:
    """The front door: to the shoots, or to the log-in page."""
    return redirect("shoot-list" if request.user.is_authenticated else "login")


def sign_up(request: HttpRequest) -> HttpResponse:
    """Make an account; 404 where sign-up is switched off."""
    if not settings.SIGN_UP_OPEN:
        raise Http404
    form: UserCreationForm[User] = UserCreationForm(request.POST or None)
    if request.method == "POST" and form.is_valid():
        user = form.save()
        give_starter_kit(user)
        login(request, user)
        return redirect("shoot-list")
    return render(request, "registration/sign_up.html", {"form": form})


@require_POST
def enter_demo(request: HttpRequest) -> HttpResponse:
    """One press into the demo; 404 outside demo mode."""
    if not settings.DEMO_MODE:
        raise Http404
    ensure_demo()
    user = get_user_model().objects.get(username=DEMO_USER)
    login(request, user, backend="django.contrib.auth.backends.ModelBackend")
    return redirect("shoot-list")


@require_POST
def choose_theme(request: HttpRequest) -> HttpResponse:
    """Remember day or night in a cookie and go back to where the press came from."""
    back = request.POST.get("next", "")
    safe = url_has_allowed_host_and_scheme(back, {request.get_host()}, request.is_secure())
    response = redirect(back if safe else "home")
    if request.POST.get("theme") in THEMES:
        response.set_cookie(
            THEME_COOKIE, request.POST["theme"], max_age=31_536_000, samesite="Lax", httponly=True,
            secure=settings.SESSION_COOKIE_SECURE,
        )  # fmt: skip
    return response
