"""``manage.py load_demo``: the demo scenario, unless it is there already."""

from typing import Any

from django.core.management.base import BaseCommand

from fotonomy.demo.loader import ensure_demo


class Command(BaseCommand):
    """Load the demo scenario once; a second run changes nothing."""

    help = __doc__

    def handle(self, *arguments: Any, **options: Any) -> None:
        """Load it and say what happened."""
        made = ensure_demo()
        self.stdout.write("Demo shoot loaded." if made else "Demo shoot is there already.")
