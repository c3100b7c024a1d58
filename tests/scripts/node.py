"""Runs a function of a page's script under node over many arguments."""

import json
import subprocess
from pathlib import Path
from typing import Any

SCRIPTS = Path(__file__).resolve().parents[2] / "fotonomy/web/static/web"
_RUN = """
const { readFileSync } = require("node:fs");
globalThis.window = globalThis;
const [names, called, calls] = JSON.parse(readFileSync(0, "utf8"));
for (const name of names) (0, eval)(readFileSync(name, "utf8"));
const of = called.split(".").slice(0, -1).reduce((at, name) => at[name], globalThis);
const found = calls.map((given) => of[called.split(".").at(-1)](...given));
// NaN has no place in JSON.
console.log(JSON.stringify(found, (_, value) => (Number.isNaN(value) ? "NaN" : value)));
"""


def run_script(name: str, called: str, calls: list[list[Any]]) -> list[Any]:
    """What ``called`` of a script answers to each of ``calls``; "NaN" for what is no number."""
    asked = json.dumps([[str(SCRIPTS / name)], called, calls])
    done = subprocess.run(
        ["node", "-e", _RUN], input=asked, capture_output=True, text=True, check=False
    )
    assert done.returncode == 0, done.stderr
    answers: list[Any] = json.loads(done.stdout)
    assert len(answers) == len(calls)
    return answers
