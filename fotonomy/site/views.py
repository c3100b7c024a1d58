"""Accounts, the demo's door and the theme."""

from typing import TYPE_CHECKING

from django.conf import settings
from django.contrib import messages
from django.contrib.auth import get_user_model, login, logout
from django.contrib.auth.decorators import login_required
from django.contrib.auth.forms import UserCreationForm
from django.contrib.auth.models import User
from django.contrib.auth.validators import ASCIIUsernameValidator
from django.db import IntegrityError, transaction
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.utils.http import url_has_allowed_host_and_scheme
from django.views.decorators.http import require_POST

from fotonomy.demo.loader import DEMO_USER, ensure_demo
from fotonomy.exchange.errors import ExchangeError
from fotonomy.kit.owner import owner_of
from fotonomy.kit.quotas import FullKitError
from fotonomy.kit.starter_kit import give_starter_kit
from fotonomy.shoots.archive import LARGEST_ARCHIVE_BYTES, archive_of, take_in_archive
from fotonomy.shoots.services.accounts import delete_account
from fotonomy.shoots.services.quotas import QuotaError
from fotonomy.site.context import THEME_COOKIE, THEMES

# Generic for the type checker only.
if TYPE_CHECKING:
    CreationForm = UserCreationForm[User]
else:
    CreationForm = UserCreationForm
MODEL_BACKEND = "django.contrib.auth.backends.ModelBackend"


class SignUpForm(CreationForm):
    """A new account. Names are of plain letters, so that no two look alike."""

    def clean_username(self) -> str:
        """Letters, digits and a few signs of ASCII; capitals make no other name."""
        name = str(super().clean_username())
        ASCIIUsernameValidator()(name)
        return name


@login_required
def account(request: HttpRequest) -> HttpResponse:
    """One's account: the password, and leaving with everything removed."""
    error = ""
    if request.method == "POST":
        user = owner_of(request)
        if user.username == DEMO_USER:
            error = "The demo's account stays: everybody enters through it."
        elif not user.check_password(request.POST.get("password", "")):
            error = "That is not the password. Nothing was removed."
        else:
            logout(request)
            delete_account(user)
            messages.success(request, "Your account and everything in it are removed.")
            return redirect("login")
    status = 422 if error else 200
    return render(request, "registration/account.html", {"error": error}, status=status)


def home(request: HttpRequest) -> HttpResponse:
    """The front door: to the shoots, or to the log-in page."""
    return redirect("shoot-list" if request.user.is_authenticated else "login")


def sign_up(request: HttpRequest) -> HttpResponse:
    """Make an account; 404 where sign-up is switched off."""
    if not settings.SIGN_UP_OPEN:
        raise Http404
    form = SignUpForm(request.POST or None)
    if request.method == "POST" and form.is_valid():
        try:
            with transaction.atomic():
                user = form.save()
                give_starter_kit(user)
        except IntegrityError:
            # Somebody took the name between the look and the write.
            form.add_error("username", "A user with that username already exists.")
        else:
            login(request, user, backend=MODEL_BACKEND)
            return redirect("shoot-list")
    return render(request, "registration/sign_up.html", {"form": form})


@login_required
def take_along(request: HttpRequest) -> HttpResponse:
    """Everything of a person as one file, or such a file taken in."""
    owner = owner_of(request)
    if request.method != "POST":
        response = HttpResponse(archive_of(owner), content_type="application/zip")
        response["Content-Disposition"] = 'attachment; filename="fotonomy.zip"'
        return response
    upload = request.FILES.get("file")
    if upload is None:
        messages.error(request, "Choose a file first.")
        return redirect("account")
    try:
        came = take_in_archive(owner, upload.read(LARGEST_ARCHIVE_BYTES + 1))
    except ExchangeError as error:
        messages.error(request, f"{upload.name} was not taken in. {error.place}: {error.problem}.")
        return redirect("account")
    except (QuotaError, FullKitError) as error:
        messages.error(request, f"{upload.name} was not taken in. {error}.")
        return redirect("account")
    messages.success(
        request, f"{came.shoots} shoots with {came.setups} setups and {came.gear} new things of "
        "the kit came in.",
    )  # fmt: skip
    return redirect("shoot-list")


@require_POST
def enter_demo(request: HttpRequest) -> HttpResponse:
    """One press into the demo; 404 outside demo mode."""
    if not settings.DEMO_MODE:
        raise Http404
    ensure_demo()
    user = get_user_model().objects.get(username=DEMO_USER)
    login(request, user, backend=MODEL_BACKEND)
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
