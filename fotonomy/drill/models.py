"""What a person has practised: every answer, and what is known of each skill."""

from django.conf import settings
from django.db import models

from fotonomy.core.drill.exercise_kind import ExerciseKind
from fotonomy.core.drill.grading import Mark
from fotonomy.core.drill.memory import Memory

KINDS = [(kind.value, kind.label) for kind in ExerciseKind]
MARKS = [(mark.value, mark.value) for mark in Mark]


class Skill(models.Model):
    """One kind of exercise for one person: when it is due, at which level."""

    user = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="skills"
    )
    kind = models.CharField(max_length=24, choices=KINDS)
    # The scheduler's own card, as JSON.
    card = models.TextField(blank=True)
    due = models.DateTimeField(null=True, blank=True)
    level = models.PositiveSmallIntegerField(default=1)
    run = models.SmallIntegerField(default=0)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["user", "kind"], name="one_skill_a_kind_and_person")
        ]

    def __str__(self) -> str:
        return f"{self.kind}, level {self.level}"

    @property
    def memory(self) -> Memory:
        """What is known of it."""
        return Memory(self.card, self.due, self.level, self.run)


class Answer(models.Model):
    """One answer. ``uid`` is made where it was given, so that what is sent twice counts once."""

    user = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="answers"
    )
    uid = models.CharField(max_length=36)
    kind = models.CharField(max_length=24, choices=KINDS)
    level = models.PositiveSmallIntegerField()
    seed = models.PositiveIntegerField()
    # The setup it was made of, 0 for an invented scene. Not a foreign key: an answer outlives it.
    setup_key = models.PositiveBigIntegerField(default=0)
    guess = models.JSONField(default=dict)
    mark = models.CharField(max_length=8, choices=MARKS)
    distance = models.FloatField()
    unit = models.CharField(max_length=8, blank=True)
    at = models.DateTimeField(db_index=True)

    class Meta:
        ordering = ["at", "pk"]
        constraints = [
            models.UniqueConstraint(fields=["user", "uid"], name="one_answer_an_id_and_person")
        ]

    def __str__(self) -> str:
        return f"{self.kind} {self.level}/{self.seed}: {self.mark}"
