"""Writers take turns by a lock on a file beside the database."""

import fcntl
from pathlib import Path
from types import SimpleNamespace
from typing import Any

import pytest

from fotonomy.shoots import write_lock


def taken(folder: Path) -> bool:
    """Whether somebody holds the turn, as another process sees it."""
    with (folder / write_lock.LOCK).open("w") as file:
        try:
            fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except BlockingIOError:
            return True
    return False


def a_database(folder: Path, **other: Any) -> Any:
    told = {"vendor": "sqlite", "in_atomic_block": False}
    return SimpleNamespace(settings_dict={"NAME": folder / "fotonomy.sqlite3"}, **{**told, **other})


def test_one_writer_at_a_time(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(write_lock, "connection", a_database(tmp_path))
    with write_lock.in_turn():
        assert taken(tmp_path)
    assert not taken(tmp_path)
    with pytest.raises(RuntimeError), write_lock.in_turn():
        raise RuntimeError
    assert not taken(tmp_path)


@pytest.mark.parametrize("other", [{"vendor": "postgresql"}, {"in_atomic_block": True}])
def test_who_needs_no_turn_takes_none(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch, other: dict[str, Any]
) -> None:
    """Inside a transaction the turn was taken before it began: waiting there would block both."""
    monkeypatch.setattr(write_lock, "connection", a_database(tmp_path, **other))
    with write_lock.in_turn():
        assert not taken(tmp_path)
