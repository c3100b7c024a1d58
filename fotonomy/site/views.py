"""Accounts, the demo's door and the theme."""

from collections.abc import Callable
from functools import wraps
from typing import TYPE_CHECKING, Any

from django.conf import settings
from django.contrib import messages
from django.contrib.auth import get_user_model, login, logout
from django.contrib.auth.decorators import login_required
from django.contrib.auth.forms import UserCreationForm
from django.contrib.auth.models import User
from django.contrib.auth.validators import ASCIIUsernameValidator
from django.core.exceptions import ValidationError
from django.core.validators import validate_email
from django.db import IntegrityError, transaction
from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from django.http.response import HttpResponseBase
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone
from django.utils.http import url_has_allowed_host_and_scheme
from django.views.csrf import csrf_failure
from django.views.decorators.http import require_POST

from fotonomy.demo.loader import DEMO_USER, ensure_demo, give_demo
from fotonomy.exchange.errors import ExchangeError
from fotonomy.kit.current_user import current_user
from fotonomy.kit.history import recorded
from fotonomy.kit.quotas import QuotaError
from fotonomy.kit.starter_kit import give_starter_kit
from fotonomy.shoots.archive import LARGEST_ARCHIVE_BYTES, archive_of, import_archive
from fotonomy.shoots.services.accounts import delete_account
from fotonomy.shoots.services.quotas import uses_of
from fotonomy.shoots.views.access import RefusedError
from fotonomy.shoots.views.get_or_404 import GO_HEADER, wants_fragment
from fotonomy.site.context import THEME_COOKIE, THEMES
from fotonomy.site.doors import own_password_error
from fotonomy.site.models import Invitation
from fotonomy.site.second_factor import has_second_factor
from fotonomy.site.sessions import end_others, sessions_of
from fotonomy.web.long_work import one_at_a_time

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
    """One's account: the password, mail, sessions, and leaving with everything removed."""
    error, user, present = "", current_user(request), request.session.session_key
    # Everybody shares the demo's account: nobody sees or ends the others there.
    alone = user.username != DEMO_USER
    if request.method == "POST" and "end_others" in request.POST and alone:
        count = end_others(user, present)
        messages.success(request, f"Logged out in {count} other place{'' if count == 1 else 's'}.")
        return redirect("account")
    if request.method == "POST" and "email" in request.POST:
        return _keep_mail(request, user)
    if request.method == "POST":
        if not alone:
            error = "The demo's account stays: everybody enters through it."
        elif wrong := own_password_error(user, request.POST.get("password", "")):
            error = f"{wrong} Nothing was removed."
        else:
            logout(request)
            delete_account(user)
            messages.success(request, "Your account and everything in it are removed.")
            return redirect("login")
    status = 422 if error else 200
    context = {
        "error": error,
        "sessions": sessions_of(user, present) if alone else [],
        "mail": user.email,
        "may_have_second": alone,
        "uses": uses_of(user),
        "has_second": has_second_factor(user),
    }
    return render(request, "registration/account.html", context, status=status)


def _keep_mail(request: HttpRequest, user: User) -> HttpResponse:
    address = request.POST["email"].strip()
    try:
        if address:
            validate_email(address)
    except ValidationError:
        messages.error(request, "Not kept: a mail address such as name@example.org.")
    else:
        user.email = address[:254]
        user.save(update_fields=["email"])
        messages.success(request, "Mail address kept." if address else "Mail address removed.")
    return redirect("account")


def home(request: HttpRequest) -> HttpResponse:
    """The front door: to the shoots, or to the log-in page."""
    return redirect("shoot-list" if request.user.is_authenticated else "login")


def sign_up(request: HttpRequest) -> HttpResponse:
    """Make an account; 404 where sign-up is switched off, or by invitation and there is none."""
    invitation = None
    if settings.SIGN_UP == "invitation":
        code = request.POST.get("invitation") or request.GET.get("invitation", "")
        invitation = get_object_or_404(Invitation, code=code, used_at=None)
    elif settings.SIGN_UP != "on":
        raise Http404
    form = SignUpForm(request.POST or None)
    if request.method == "POST" and form.is_valid():
        try:
            with transaction.atomic():
                user = form.save()
                give_starter_kit(user)
                if invitation is not None:
                    _use(invitation, user)
        except IntegrityError:
            # Somebody took the name between the look and the write.
            form.add_error("username", "A user with that username already exists.")
        else:
            login(request, user, backend=MODEL_BACKEND)
            return redirect("shoot-list")
    context = {"form": form, "invitation": invitation.code if invitation else ""}
    return render(request, "registration/sign_up.html", context)


def _use(invitation: Invitation, user: User) -> None:
    """An invitation is used once, however many windows it is open in."""
    unused = Invitation.objects.filter(pk=invitation.pk, used_at=None)
    if not unused.update(used_by=user, used_at=timezone.now()):
        raise IntegrityError("the invitation was used meanwhile")


def where_mail_is(view: Callable[..., HttpResponseBase]) -> Callable[..., HttpResponseBase]:
    """A view that is not there where no mail is configured."""

    @wraps(view)
    def guarded(request: HttpRequest, *arguments: Any, **more: Any) -> HttpResponseBase:
        if not settings.MAIL_ON:
            raise Http404
        return view(request, *arguments, **more)

    return guarded


@login_required
@one_at_a_time
def take_along(request: HttpRequest) -> HttpResponse:
    """Everything of a person as one file, or such a file imported."""
    owner = current_user(request)
    if request.method != "POST":
        response = HttpResponse(archive_of(owner), content_type="application/zip")
        response["Content-Disposition"] = 'attachment; filename="fotonomy.zip"'
        return response
    upload = request.FILES.get("file")
    if upload is None:
        messages.error(request, "Choose a file first.")
        return redirect("account")
    try:
        with recorded(owner, f"{upload.name} imported"):
            came = import_archive(owner, upload.read(LARGEST_ARCHIVE_BYTES + 1))
    except ExchangeError as error:
        messages.error(request, f"{upload.name} was not imported. {error.place}: {error.problem}.")
        return redirect("account")
    except QuotaError as error:
        messages.error(request, f"{upload.name} was not imported. {error}.")
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


@login_required
@require_POST
def take_demo(request: HttpRequest) -> HttpResponse:
    """The demo's shoot and gear into one's own account."""
    try:
        with recorded(current_user(request), "gear of the demo imported"):
            return redirect(give_demo(current_user(request)))
    except QuotaError as error:
        messages.error(request, f"The demo was not taken: {error}.")
        return redirect("shoot-list")


def old_page(request: HttpRequest, reason: str = "") -> HttpResponse:
    """A token that is not right: a script is told that its page is older than the session (409)."""
    if "X-CSRFToken" in request.headers:
        words = "This page is older than your log-in: what you did waits, open the page anew."
        return JsonResponse({"error": words}, status=409)
    return csrf_failure(request, reason=reason)


def refused(request: HttpRequest, exception: Exception) -> HttpResponse:
    """Words for somebody who may not do this: a page, or for a script the page it came from."""
    words = str(exception) if isinstance(exception, RefusedError) else ""
    if not request.accepts("text/html"):
        return JsonResponse({"refused": words or "Refused."}, status=403)
    came = request.headers.get("Referer", "")
    if wants_fragment(request) and url_has_allowed_host_and_scheme(
        came, {request.get_host()}, request.is_secure()
    ):
        messages.error(request, words)
        told = HttpResponse(status=204)
        told[GO_HEADER] = came
        return told
    context = {"words": words} if words else {}
    return render(request, "403.html", context, status=403)


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
