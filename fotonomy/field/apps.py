"""The app of the field pages and of takes."""

from django.apps import AppConfig


class FieldConfig(AppConfig):
    """Pages for a phone at the spot; takes are parts of a shoot with a history of their own."""

    name = "fotonomy.field"
    default_auto_field = "django.db.models.BigAutoField"

    def ready(self) -> None:
        """Let the history of a shoot keep takes."""
        from fotonomy.field.models import Take
        from fotonomy.shoots.parts import keep_part

        keep_part(Take)
