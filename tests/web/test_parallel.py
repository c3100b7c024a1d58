"""Edits at once over threads and processes, on a database file as it is served. The long version
is ``make soak``."""

import json
import os
import subprocess
import sys
from pathlib import Path

HERE = Path(__file__).parents[2]

TRIAL = """
import json, sys
from dataclasses import asdict
from pathlib import Path
if __name__ == "__main__":
    from soak.parallel import parallel_edits, place
    with place(Path(sys.argv[1])):
        print(json.dumps(asdict(parallel_edits(2, 4, 12))))
"""


def test_no_edit_is_lost_between_two_processes(tmp_path: Path) -> None:
    script = tmp_path / "trial.py"
    script.write_text(TRIAL, "utf-8")
    run = subprocess.run(
        [sys.executable, str(script), str(tmp_path)], cwd=HERE, capture_output=True, text=True,
        check=False, env={**os.environ, "PYTHONPATH": str(HERE)},
    )  # fmt: skip
    assert run.returncode == 0, run.stderr
    counted = json.loads(run.stdout.splitlines()[-1])
    assert counted == {"made": 96, "lost": 0, "broken": 0, "undone": True, "redone": True}
