"""What the server itself keeps: invitations, and how often a password was wrong."""

import secrets

from django.conf import settings
from django.db import models
from django.urls import reverse


def _code() -> str:
    return secrets.token_urlsafe(12)


class Invitation(models.Model):
    """A link that lets one person make an account where sign-up is by invitation."""

    code = models.CharField(max_length=32, unique=True, default=_code, editable=False)
    note = models.CharField("for whom", max_length=120, blank=True)
    made = models.DateTimeField(auto_now_add=True)
    used_by = models.OneToOneField(
        settings.AUTH_USER_MODEL, null=True, blank=True, editable=False, on_delete=models.SET_NULL,
        related_name="invitation",
    )  # fmt: skip
    used_at = models.DateTimeField(null=True, blank=True, editable=False)

    class Meta:
        ordering = ["-made"]

    def __str__(self) -> str:
        return self.note or self.code

    def get_absolute_url(self) -> str:
        """Where the person it is for makes the account."""
        return f"{reverse('sign-up')}?invitation={self.code}"


class WrongTries(models.Model):
    """How often something was tried in vain lately, and when last; ``key`` says what (doors.py)."""

    key = models.CharField(max_length=255, unique=True)
    count = models.PositiveIntegerField(default=0)
    last = models.DateTimeField(db_index=True)

    def __str__(self) -> str:
        return f"{self.key}, {self.count}"
