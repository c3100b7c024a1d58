"""The app of the field pages and of takes."""

from django.apps import AppConfig


class FieldConfig(AppConfig):
    """Pages for a phone at the spot; takes are parts of a shoot with a history of their own."""

    name = "fotonomy.field"
    default_auto_field = "django.db.models.BigAutoField"

    def ready(self) -> None:
        """Let the history and the archive of a shoot keep takes and their pictures."""
        from fotonomy.field.archive import TakesInArchive
        from fotonomy.field.models import Take, TakePicture
        from fotonomy.field.pictures import picture_bytes
        from fotonomy.kit.quotas import MEASURES
        from fotonomy.shoots.archive import COMPANIONS
        from fotonomy.shoots.history_rows import keep_part

        COMPANIONS["takes"] = TakesInArchive()
        keep_part(Take)
        keep_part(TakePicture)
        MEASURES.append(picture_bytes)
