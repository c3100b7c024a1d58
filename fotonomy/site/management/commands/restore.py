"""``manage.py restore FILE [--replace]``: a backup in the place of the database."""

from pathlib import Path
from typing import Any

from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError, CommandParser

from fotonomy.site.backups import BackupError, restore


class Command(BaseCommand):
    """Put a backup back; a damaged file changes nothing."""

    help = __doc__
    requires_system_checks: list[str] = []

    def add_arguments(self, parser: CommandParser) -> None:
        """Which file, and whether it may take the place of what is there."""
        parser.add_argument("file", type=Path)
        parser.add_argument("--replace", action="store_true")

    def handle(self, *arguments: Any, **options: Any) -> None:
        """Check it, put it back, and bring it up to this version."""
        try:
            manifest = restore(options["file"], options["replace"])
        except BackupError as error:
            raise CommandError(f"Nothing was changed: {error}.") from error
        call_command("migrate", verbosity=0)
        self.stdout.write(f"Restored: made {manifest.made} by version {manifest.version}.")
