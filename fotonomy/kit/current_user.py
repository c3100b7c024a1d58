"""Whose things a request is about."""

from django.contrib.auth.models import User
from django.http import HttpRequest


def current_user(request: HttpRequest) -> User:
    """The person who is logged in. Only for views behind ``login_required``."""
    assert isinstance(request.user, User)
    return request.user
