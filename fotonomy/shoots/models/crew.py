"""Who else sees a shoot, logs on it or plans it: by name, or by a link that ends.

And what each person was told of dangers.
"""

import secrets
from datetime import date

from django.conf import settings
from django.db import models

from fotonomy.shoots.models.shoot import Role, Shoot

GIVEN_ROLES = [(role.value, role.label) for role in Role if role is not Role.OWNS]


def new_key() -> str:
    """The secret part of a link: 128 bits that nobody guesses."""
    return secrets.token_urlsafe(16)


class CrewLink(models.Model):
    """A link into one shoot. Whoever opens it until the end of its last day is in."""

    shoot = models.ForeignKey(Shoot, on_delete=models.CASCADE, related_name="crew_links")
    key = models.CharField(max_length=32, unique=True, default=new_key, editable=False)
    role = models.CharField(max_length=8, choices=GIVEN_ROLES, default=Role.LOGS.value)
    note = models.CharField(max_length=80, blank=True)
    last_day = models.DateField()
    made_at = models.DateTimeField(auto_now_add=True)
    withdrawn_at = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ["pk"]

    def __str__(self) -> str:
        return self.note or f"link to {self.shoot}"

    def why_closed(self, today: date) -> str:
        """Why nobody gets in by it any more; empty while somebody does."""
        if self.withdrawn_at is not None:
            return "was withdrawn"
        return "has ended" if today > self.last_day else ""


class Member(models.Model):
    """One person of the crew of a shoot. Withdrawn ones stay, so that they can be told so."""

    shoot = models.ForeignKey(Shoot, on_delete=models.CASCADE, related_name="members")
    user = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="crews"
    )
    role = models.CharField(max_length=8, choices=GIVEN_ROLES)
    # The link they came by, with which they go; None for those named by the owner.
    link = models.ForeignKey(
        CrewLink, null=True, blank=True, on_delete=models.CASCADE, related_name="members"
    )
    since = models.DateTimeField(auto_now_add=True)
    withdrawn_at = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ["pk"]
        constraints = [
            models.UniqueConstraint(fields=["shoot", "user"], name="a_person_once_in_a_crew")
        ]

    def __str__(self) -> str:
        return f"{self.user.get_username()} {self.role} {self.shoot}"

    def why_closed(self, today: date) -> str:
        """Why they are not in any more; empty while they are."""
        if self.withdrawn_at is not None:
            return "was withdrawn"
        return "" if self.link is None else self.link.why_closed(today)


class Guest(models.Model):
    """Marks an account that a link made: it has no password, no kit and no shoots of its own."""

    user = models.OneToOneField(
        settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="guest"
    )
    made_at = models.DateTimeField(auto_now_add=True)

    def __str__(self) -> str:
        return str(self.user.get_username())


class Holding(models.Model):
    """Which setup somebody has in hand at the spot, and when they were last seen with it."""

    shoot = models.ForeignKey(Shoot, on_delete=models.CASCADE, related_name="holdings")
    user = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="+")
    setup_key = models.PositiveBigIntegerField()
    at = models.DateTimeField()

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["shoot", "user"], name="one_setup_in_hand_a_person")
        ]

    def __str__(self) -> str:
        return f"{self.user.get_username()} has {self.setup_key}"


class SafetyTold(models.Model):
    """A person was told of a danger before they first planned one like it."""

    user = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="+")
    caution = models.CharField(max_length=24)
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["user", "caution"], name="a_caution_told_once")
        ]

    def __str__(self) -> str:
        return f"{self.user_id} knows of {self.caution}"
