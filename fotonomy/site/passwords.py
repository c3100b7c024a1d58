"""How passwords are kept, and whom a wrong one is counted against."""

from django.conf import settings
from django.contrib.auth.hashers import Argon2PasswordHasher
from django.http import HttpRequest


class Argon2(Argon2PasswordHasher):
    """Argon2id with 19 MB, two passes and one lane.

    OWASP Password Storage Cheat Sheet, from memory: as hard to guess as larger settings for one
    password, and a dozen log-ins at once take neither the memory nor the time of everybody else.
    """

    time_cost = 2
    memory_cost = 19_456
    parallelism = 1


def address_of(request: HttpRequest) -> str:
    """Where a request comes from: behind a proxy the address that the proxy itself saw."""
    if settings.BEHIND_PROXY:
        seen: str = request.META.get("HTTP_X_FORWARDED_FOR", "").split(",")[-1].strip()
        if seen:
            return seen
    return str(request.META.get("REMOTE_ADDR", ""))
