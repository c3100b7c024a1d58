"""Short versions of the trials of ``make soak``; the edits at once are in test_parallel.py."""

import json
import os
import subprocess
import sys
from pathlib import Path
from typing import Any

import pytest

HERE = Path(__file__).parents[2]

HEAD = """
import json, sys, tempfile
from dataclasses import asdict
from pathlib import Path
from soak import clients, disk, kills, long_work, parallel, silent
from benchmarks.measures import served
if __name__ == "__main__":
    folder = Path(sys.argv[1])
"""


def tried(folder: Path, *lines: str) -> Any:
    """What a trial in a process of its own found."""
    script = folder / "trial.py"
    script.write_text(HEAD + "".join(f"    {line}\n" for line in lines), "utf-8")
    run = subprocess.run(
        [sys.executable, str(script), str(folder)], cwd=HERE, capture_output=True, text=True,
        check=False, env={**os.environ, "PYTHONPATH": str(HERE)},
    )  # fmt: skip
    assert run.returncode == 0, run.stderr
    return json.loads(run.stdout.splitlines()[-1])


def test_what_was_acknowledged_is_there_after_a_kill(tmp_path: Path) -> None:
    found = tried(
        tmp_path, "with parallel.place(folder):",
        "    print(json.dumps(asdict(kills.killed(3, seed=5, port=18_741))))",
    )  # fmt: skip
    assert found["kills"] == 3
    assert found["acknowledged"] > 3
    assert found["lost"] == 0


def test_many_people_and_long_work_get_right_answers(tmp_path: Path) -> None:
    found = tried(
        tmp_path, "with parallel.place(folder):",
        "    load = clients.load(2, {8: 2.0})", "    beside = long_work.long_work(1, 5.0)",
        "    with served() as (address, _): quiet = silent.half_open(address, 60, 0.0)",
        "print(json.dumps([asdict(load[0]), asdict(beside), asdict(quiet)]))",
    )  # fmt: skip
    load, beside, quiet = found
    assert load["wrong"] == 0
    assert load["a_second"] * 2 >= 8
    assert beside["wrong"] == 0
    assert set(beside["worked"]) == {"dry runs", "logs as CSV", "files of everything", "plans",
                                     "comparisons"}  # fmt: skip
    assert min(beside["worked"].values()) >= 1
    assert quiet["connections"] == 60


def test_a_disk_that_is_really_full_loses_nothing_and_lets_people_in(tmp_path: Path) -> None:
    if os.geteuid() != 0 or os.environ.get("FOTONOMY_DATABASE_URL"):
        pytest.skip("only root makes a small disk, and the data have to be on it")
    small = tmp_path / "small"
    small.mkdir()
    found = tried(
        tmp_path, "with disk.small_disk(folder / 'small') as there:",
        "    print(json.dumps(asdict(disk.full_disk(there)) if there else None))",
    )  # fmt: skip
    if found is None:
        pytest.skip("no small disk could be made here")
    assert found == {"refused": 507, "words": True, "read": 200, "came_in": True, "said": 507,
                     "after": 200, "lost": 0}  # fmt: skip
