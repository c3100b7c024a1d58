"""The app of the drill."""

from django.apps import AppConfig


class DrillConfig(AppConfig):
    """Practice, and what is known of each skill."""

    name = "fotonomy.drill"
    default_auto_field = "django.db.models.BigAutoField"
