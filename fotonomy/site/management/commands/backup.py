"""``manage.py backup FILE``: the whole database in one file, while the program serves."""

from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from fotonomy.site.backups import BackupError, backup


class Command(BaseCommand):
    """Write a backup; the file is complete or not there."""

    help = __doc__

    def add_arguments(self, parser: CommandParser) -> None:
        """Where it goes."""
        parser.add_argument("file", type=Path)

    def handle(self, *arguments: Any, **options: Any) -> None:
        """Write it and say how large it is."""
        target: Path = options["file"]
        try:
            manifest = backup(target)
        except (BackupError, OSError) as error:
            raise CommandError(f"No backup was made: {error}.") from error
        size = f"{target.stat().st_size / 2**20:.1f} MB"
        self.stdout.write(f"{target}: {size}, checksum {manifest.sha256[:12]}.")
