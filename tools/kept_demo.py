"""A database with the demo in it, kept from run to run: migrations and demo take 20 s of a core.

It is named by a hash of all it is made of: whoever changes a migration, the demo's data or the
code that writes it gets a new one. Collected static files are kept likewise.
"""

import fcntl
import os
import shutil
import subprocess
import sys
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import UTC, datetime
from functools import cache
from hashlib import blake2b
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
FOLDER = ROOT / "var" / "kept-demo"
# What only shows things writes nothing of the demo.
_SHOWS = {"figures", "presenters", "static", "templates", "templatetags", "views"}


def demo_key(root: Path = ROOT) -> str:
    """A hash of whatever the demo under ``root`` is made of, and of the day: it has ages."""
    digest = blake2b(datetime.now(UTC).date().isoformat().encode(), digest_size=12)
    package = root / "fotonomy"
    made_of = [
        path for path in sorted(package.rglob("*"))
        if path.suffix in (".py", ".json")
        and not _SHOWS.intersection(path.relative_to(package).parts)
    ]  # fmt: skip
    for path in [*made_of, root / "requirements-dev.txt"]:
        digest.update(f"{path.relative_to(root)}\n".encode())
        digest.update(path.read_bytes())
    return digest.hexdigest()


@cache
def kept_demo() -> Path:
    """Where the copy of today's demo is, or will be once somebody made it."""
    return FOLDER / f"{demo_key()}.sqlite3"


@contextmanager
def one_at_a_time() -> Iterator[None]:
    """Hold the folder: the first process makes the copy, the others wait for it."""
    FOLDER.mkdir(parents=True, exist_ok=True)
    with (FOLDER / "lock").open("w") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        yield


def _static_key() -> str:
    digest = blake2b(digest_size=12)
    own = ROOT / "fotonomy" / "web"
    files = sorted(one for one in (own / "static").rglob("*") if one.is_file())
    made_by = [own / "bundles.py", own / "screen_widths.py", ROOT / "requirements-dev.txt"]
    for path in [*files, *made_by]:
        digest.update(f"{path.relative_to(ROOT)}\n".encode())
        digest.update(path.read_bytes())
    return digest.hexdigest()


def fill(folder: Path) -> None:
    """Put database and collected files of the demo into ``folder``, a place of ``make demo``.

    Of what is kept a copy, else made by the program's own commands, as on PostgreSQL. What they
    need of the environment is set already.
    """
    if kept_demo().exists() and not os.environ.get("FOTONOMY_DATABASE_URL"):
        shutil.copyfile(kept_demo(), folder / "fotonomy.sqlite3")
    else:
        _manage(folder, "migrate", "--verbosity", "0")
        _manage(folder, "load_demo")
    static = FOLDER / f"static-{_static_key()}"
    with one_at_a_time():
        if not static.exists():
            _manage(folder, "collectstatic", "--noinput", "--verbosity", "0")
            for old in FOLDER.glob("static-*"):
                shutil.rmtree(old)
            unfinished = FOLDER / "unfinished"
            shutil.rmtree(unfinished, ignore_errors=True)
            shutil.copytree(folder / "static", unfinished)
            unfinished.rename(static)
    shutil.copytree(static, folder / "static", dirs_exist_ok=True)


def _manage(folder: Path, *command: str) -> None:
    place = {
        "FOTONOMY_DATA_DIR": str(folder),
        "DJANGO_SETTINGS_MODULE": "fotonomy.site.settings.demo",
    }
    subprocess.run(
        [sys.executable, "manage.py", *command], cwd=ROOT, check=True, capture_output=True,
        env={**os.environ, **place},
    )  # fmt: skip
