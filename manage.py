#!/usr/bin/env python
"""Django's command line for Fotonomy."""

import os
import sys
from pathlib import Path

from django.core.management import execute_from_command_line

from fotonomy.site.file_permissions import keep_private

if __name__ == "__main__":
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "fotonomy.site.settings.demo")
    keep_private(Path(os.environ.get("FOTONOMY_DATA_DIR", "var")))
    execute_from_command_line(sys.argv)
