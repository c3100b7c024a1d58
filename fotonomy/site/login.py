"""The way in: the password, then the code where a person has a second factor; and its switch."""

from typing import Any
from urllib.parse import urlencode

from django.contrib import messages
from django.contrib.auth import login
from django.contrib.auth.decorators import login_required
from django.contrib.auth.forms import (
    AuthenticationForm,
    PasswordChangeForm,
    PasswordResetForm,
)
from django.contrib.auth.views import LoginView, LogoutView
from django.core.exceptions import ValidationError
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.middleware.csrf import get_token
from django.shortcuts import redirect, render, resolve_url
from django.utils.http import url_has_allowed_host_and_scheme
from django.views.decorators.cache import never_cache
from django.views.decorators.debug import sensitive_post_parameters
from django.views.decorators.http import require_GET

from fotonomy.demo.loader import DEMO_USER
from fotonomy.kit.current_user import current_user
from fotonomy.site import second_factor
from fotonomy.site.doors import mail_may_go, own_password_error


class LogIn(LoginView):
    """The password; whoever has a second factor goes on to the code and is not in before."""

    redirect_authenticated_user = True

    def form_valid(self, form: AuthenticationForm) -> HttpResponse:
        """In, or on to the code."""
        user = form.get_user()
        if not second_factor.has_second_factor(user):
            return super().form_valid(form)
        self.request.session.cycle_key()
        second_factor.begin(self.request.session, user, user.backend)
        onward = self.get_redirect_url()
        address = resolve_url("second-step")
        return redirect(f"{address}?{urlencode({'next': onward})}" if onward else address)


class NewPassword(PasswordChangeForm):
    """A new password, for whoever gives the old one."""

    def clean_old_password(self) -> str:
        """The old one, asked for no more often than at the door."""
        password: str = self.cleaned_data["old_password"]
        if wrong := own_password_error(self.user, password):
            raise ValidationError(wrong)
        return password


class LostPassword(PasswordResetForm):
    """A mail for a lost password; one address gets a few of them at most."""

    def save(self, *arguments: Any, **options: Any) -> None:
        """Send it, or nothing where many went there already: the page says the same."""
        if mail_may_go(self.cleaned_data["email"]):
            super().save(*arguments, **options)


class LogOut(LogoutView):
    """Out; the page that follows drops what this browser kept of whoever left."""

    def post(self, request: HttpRequest, *args: Any, **more: Any) -> HttpResponse:
        """Note who leaves before they are gone."""
        self.left = request.user.pk
        return super().post(request, *args, **more)

    def get_success_url(self) -> str:
        """The log-in page, with who left."""
        address = resolve_url("login")
        return f"{address}?{urlencode({'left': self.left})}" if self.left else address


@never_cache
@login_required
@require_GET
def token(request: HttpRequest) -> JsonResponse:
    """A token to send with, for a page that was kept: its own is old."""
    return JsonResponse({"token": get_token(request)})


@never_cache
@sensitive_post_parameters()
def second_step(request: HttpRequest) -> HttpResponse:
    """The code of the phone, or one from paper."""
    coming = second_factor.on_the_way(request.session)
    if coming is None:
        return redirect("login")
    user, backend = coming
    onward = request.POST.get("next") or request.GET.get("next", "")
    error = ""
    if request.method == "POST":
        try:
            if second_factor.opens(user, request.POST.get("code", "")[:40]):
                second_factor.arrived(request.session)
                login(request, user, backend=backend)
                safe = url_has_allowed_host_and_scheme(
                    onward, {request.get_host()}, request.is_secure()
                )
                return redirect(onward if safe else "shoot-list")
            error = "That code is not right. A code of the phone is good once, for about a minute."
            second_factor.missed(request.session)
        except second_factor.LockedError as locked:
            error = str(locked)
    context = {"error": error, "next": onward}
    return render(request, "registration/second_step.html", context, status=422 if error else 200)


@never_cache
@login_required
@sensitive_post_parameters()
def second_factor_page(request: HttpRequest) -> HttpResponse:
    """Switch the second factor on or off, and see what codes on paper are left."""
    user, error = current_user(request), ""
    if user.username == DEMO_USER:
        messages.error(
            request, "The demo's account has no second factor: everybody enters through it."
        )
        return redirect("account")
    on = second_factor.has_second_factor(user)
    if request.method == "POST" and "code" in request.POST and not on:
        try:
            codes = second_factor.confirm(user, request.POST["code"][:40])
        except second_factor.LockedError as locked:
            codes, error = None, str(locked)
        if codes is not None:
            return _codes(request, codes)
        error = error or "That code is not right. Look at the phone again: codes change every 30 s."
    elif request.method == "POST" and on:
        if wrong := own_password_error(user, request.POST.get("password", "")):
            error = f"{wrong} Nothing was changed."
        elif "paper" in request.POST:
            return _codes(request, second_factor.new_paper_codes(user))
        else:
            second_factor.remove(user)
            messages.success(request, "The second factor is off: the password alone opens.")
            return redirect("account")
    context = {
        "on": on, "error": error, "left": second_factor.paper_codes_left(user),
        "invited": None if on else second_factor.invited(user),
    }  # fmt: skip
    return render(request, "registration/second_factor.html", context, status=422 if error else 200)


def _codes(request: HttpRequest, codes: list[str]) -> HttpResponse:
    """The codes for paper: shown this once."""
    return render(request, "registration/paper_codes.html", {"codes": codes})
