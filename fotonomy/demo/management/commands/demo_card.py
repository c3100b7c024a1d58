"""``manage.py demo_card FOLDER``: the stand-in camera's card of the demo's first day, as files."""

from argparse import ArgumentParser
from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandError

from fotonomy.demo.card_of_the_day import write_card
from fotonomy.demo.loader import DEMO_USER
from fotonomy.shoots.models import Shoot


class Command(BaseCommand):
    """Write the files, to be dropped on *Bring pictures home*."""

    help = __doc__

    def add_arguments(self, parser: ArgumentParser) -> None:
        """The folder."""
        parser.add_argument("folder", type=Path)

    def handle(self, *arguments: Any, **options: Any) -> None:
        """Write them and say how many."""
        shoot = Shoot.objects.filter(owner__username=DEMO_USER).order_by("pk").first()
        if shoot is None:
            raise CommandError("The demo is not loaded: make demo, or manage.py load_demo")
        for name, count in write_card(shoot, options["folder"]).items():
            self.stdout.write(f"{options['folder'] / name}: {count} files")
