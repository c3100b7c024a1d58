"""What was deleted from a shoot: a phone that sends it again is told."""

from typing import Any

from django.db import models
from django.db.models.signals import post_delete
from django.dispatch import receiver

from fotonomy.shoots.models.setup import Setup
from fotonomy.shoots.models.shoot import Shoot


class Deleted(models.Model):
    """Something of a shoot that was deleted, by what a phone calls it.

    It stays where an undo brings the thing back: who asks looks for the thing first.
    """

    shoot = models.ForeignKey(Shoot, on_delete=models.CASCADE, related_name="deleted")
    name = models.CharField(max_length=50)
    at = models.DateTimeField(auto_now=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["shoot", "name"], name="one_deletion_a_name")
        ]

    def __str__(self) -> str:
        return self.name

    @classmethod
    def setup(cls, key: int) -> str:
        """What a setup is called here."""
        return f"setup {key}"

    @classmethod
    def take(cls, uid: str) -> str:
        """What a take is called here."""
        return f"take {uid}"


def remember(shoot_id: int, name: str, origin: Any) -> None:
    """Note that something was deleted; not where its whole shoot goes, or the person.

    ``origin`` is what was deleted first: a row, or a query for rows.
    """
    model = getattr(origin, "model", type(origin))
    if issubclass(model, Setup) or model._meta.app_label == "field":
        Deleted.objects.update_or_create(shoot_id=shoot_id, name=name)


@receiver(post_delete, sender=Setup)
def _remember_setup(instance: Setup, origin: Any, **_: Any) -> None:
    remember(instance.shoot_id, Deleted.setup(instance.pk), origin)
