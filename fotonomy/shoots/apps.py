"""The app of shoots and setups."""

from django.apps import AppConfig


class ShootsConfig(AppConfig):
    """Summaries are forgotten when gear or shoots change; bytes are counted."""

    name = "fotonomy.shoots"

    def ready(self) -> None:
        """Listen for changes of gear and shoots."""
        from fotonomy.kit.quotas import MEASURES
        from fotonomy.shoots import packed_kit, summaries
        from fotonomy.shoots.services.quotas import shoot_bytes

        packed_kit.listen()
        summaries.listen()
        MEASURES.append(shoot_bytes)
