"""The app of the drill."""

from django.apps import AppConfig


class DrillConfig(AppConfig):
    """Practice, and what is known of each skill."""

    name = "fotonomy.drill"
    default_auto_field = "django.db.models.BigAutoField"

    def ready(self) -> None:
        """Let the archive of a person carry what was practised."""
        from fotonomy.drill.archive import PRACTICE, PracticeInArchive
        from fotonomy.shoots.archive import BELONGINGS

        BELONGINGS[PRACTICE] = PracticeInArchive()
