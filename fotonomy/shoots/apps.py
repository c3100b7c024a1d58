"""The app of shoots and setups."""

from django.apps import AppConfig


class ShootsConfig(AppConfig):
    """Summaries are forgotten when gear or shoots change."""

    name = "fotonomy.shoots"

    def ready(self) -> None:
        """Listen for changes of gear and shoots."""
        from fotonomy.shoots.summaries import listen

        listen()
