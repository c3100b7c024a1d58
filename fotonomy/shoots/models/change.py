"""The log of what was changed."""

from django.conf import settings
from django.db import models
from django.db.models.functions import Coalesce

from fotonomy.shoots.models.shoot import Shoot


class Change(models.Model):
    """One row of a shoot's log: what was changed, field by field, and by whom.

    ``fields`` lists ``[key, path, before, after]``: the key is a setup's id, 0 for the packing, or
    ``place-3``, ``day-3``, ``scene-3``, ``way-3`` for another part of the shoot; an empty path is a
    whole part made or deleted, with its snapshot or null. A row is a step that can be undone, or,
    with ``of``, the act that took that step back (``undone``) or did it again. Steps go by
    ``last_act``, the newest act about a step, null where there is none. ``client`` is the browser
    window, ``action`` what it calls this change: one that is sent again is made once. Steps of one
    gesture (a drag) are one.
    """

    shoot = models.ForeignKey(Shoot, on_delete=models.CASCADE, related_name="changes")
    label = models.CharField(max_length=120)
    fields = models.JSONField(default=list)
    gesture = models.CharField(max_length=40, blank=True)
    author = models.ForeignKey(
        settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL, related_name="+"
    )
    client = models.CharField(max_length=32, blank=True)
    action = models.CharField(max_length=36, blank=True)
    at = models.DateTimeField(auto_now_add=True)
    of = models.ForeignKey("self", null=True, on_delete=models.CASCADE, related_name="acts")
    undone = models.BooleanField(default=False)
    undone_by = models.CharField(max_length=32, blank=True)
    forgotten = models.BooleanField(default=False)
    last_act = models.BigIntegerField(null=True)

    # The step that can be done again beside a fresh one; known where the change is recorded.
    next_step: "Change | None" = None

    class Meta:
        ordering = ["pk"]
        indexes = [models.Index(fields=["shoot", "undone"])]

    @classmethod
    def undone_of(cls, shoot: str) -> models.Exists:
        """Whether anything of a shoot could be done again, as part of a query that names it so."""
        rows = cls.objects.filter(shoot=models.OuterRef(shoot), undone=True, forgotten=False)
        return models.Exists(rows)

    @classmethod
    def newest_of(cls, shoot: str) -> models.Expression:
        """The newest row of a shoot's log, 0 if there is none, as part of a query as above."""
        rows = cls.objects.filter(shoot=models.OuterRef(shoot)).order_by("-pk")
        return Coalesce(models.Subquery(rows.values("pk")[:1]), 0)
