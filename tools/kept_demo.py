"""A database with the demo in it, kept from run to run: migrations and demo take 20 s of a core.

It is named by a hash of all it is made of: whoever changes a migration, the demo's data or the
code that writes it gets a new one.
"""

import fcntl
from collections.abc import Iterator
from contextlib import contextmanager
from functools import cache
from hashlib import blake2b
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
FOLDER = ROOT / "var" / "kept-demo"
# What only shows things writes nothing of the demo.
_SHOWS = {"figures", "presenters", "static", "templates", "templatetags", "views"}


def demo_key(root: Path = ROOT) -> str:
    """A hash of whatever the demo is made of under ``root``."""
    digest = blake2b(digest_size=12)
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
