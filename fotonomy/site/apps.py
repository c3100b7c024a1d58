"""The server's own app: doors, accounts, invitations."""

from django.apps import AppConfig


class SiteConfig(AppConfig):
    """Named apart from Django's own ``sites``."""

    name = "fotonomy.site"
    label = "fotonomy_site"
    default_auto_field = "django.db.models.BigAutoField"

    def ready(self) -> None:
        """Every session notes when and where it began."""
        from fotonomy.site.sessions import listen

        listen()
