"""Every command of the README starts: each in its small mode, as a process of its own."""

import os
import re
import subprocess
import sys
from pathlib import Path

import pytest

HERE = Path(__file__).parents[2]
# What a command may take on a slow machine that has other things to do.
PATIENCE_S = 900


def started(*command: str) -> str:
    """What a command prints; its last words where it fails."""
    outside = {name: value for name, value in os.environ.items() if not name.startswith("PYTEST")}
    done = subprocess.run(
        command, cwd=HERE, capture_output=True, text=True, check=False, timeout=PATIENCE_S,
        env={**outside, "PYTHONWARNINGS": "ignore"},
    )  # fmt: skip
    assert done.returncode == 0, (done.stdout + done.stderr)[-3000:]
    return done.stdout


def lines_of_progress(text: str) -> list[str]:
    """Lines such as "   12 s  core plan: 3.90 ms"."""
    return re.findall(r"^ *\d+ s  (.+)$", text, re.M)


def test_bench_measures_all_it_has_and_writes_nothing() -> None:
    report = HERE / "docs" / "performance.md"
    before = report.read_bytes()
    text = started(sys.executable, "-m", "benchmarks", "--small")
    assert len(lines_of_progress(text)) >= 18
    assert "# Performance" in text
    assert report.read_bytes() == before


def test_soak_tries_all_it_has_and_writes_nothing() -> None:
    report = HERE / "docs" / "reliability.md"
    before = report.read_bytes()
    text = started(sys.executable, "-m", "soak", "--small")
    said = lines_of_progress(text)
    for trial in (
        "edits at once",
        "killed",
        "load",
        "beside",
        "bombs",
        "strangers",
        "hostile",
        "mutated",
    ):
        assert any(line.startswith(trial) for line in said), trial
    assert report.read_bytes() == before


def test_screenshots_take_a_picture_and_keep_the_old_ones() -> None:
    kept = HERE / "docs" / "screenshots" / "bench.png"
    before = kept.read_bytes()
    assert started(sys.executable, "tools/screenshots.py", "--small").endswith("bench\n")
    assert kept.read_bytes() == before


def test_mutants_are_made_and_judged() -> None:
    text = started(sys.executable, "-m", "tools.mutants", "--small")
    assert re.search(r"^[0-2] of 2 dead", text, re.M)


@pytest.mark.skipif(
    not list(Path("/usr/lib/postgresql").glob("*/bin/postgres")),
    reason="PostgreSQL is not installed: make test-postgres installs it",
)
def test_the_tests_start_on_postgresql() -> None:
    text = started(
        "tools/postgres.sh", sys.executable, "-m", "pytest", "-p", "no:cacheprovider",
        "tests/web/test_people.py",
    )  # fmt: skip
    assert "[100%]" in text


def test_the_readme_names_no_command_that_is_none() -> None:
    """Every ``make …`` of the README and of the docs is a target of the Makefile."""
    made = (HERE / "Makefile").read_text("utf-8")
    pages = [HERE / "README.md", HERE / "CONTRIBUTING.md", *(HERE / "docs").glob("*.md")]
    for page in pages:
        for name in re.findall(r"`(?:[^`\n]*&& )?make ([a-z-]+)", page.read_text("utf-8")):
            assert re.search(rf"^{name}:", made, re.M), f"{page.name}: make {name}"


@pytest.mark.parametrize("page", sorted((HERE / "docs").rglob("*.md")), ids=lambda page: page.name)
def test_files_that_the_docs_name_are_there(page: Path) -> None:
    """A module that was renamed is renamed in the docs as well; what was decided stays as it was."""
    if page.parent.name == "decisions":
        pytest.skip("a decision names what there was on its day")
    every = [path.relative_to(HERE).as_posix() for name in ("fotonomy", "tests", "tools", "deploy",
             "benchmarks", "soak", "docs") for path in (HERE / name).rglob("*.*")]  # fmt: skip
    every += [path.name for path in HERE.glob("*.*")]
    text = page.read_text("utf-8")
    named = set(re.findall(r"`([\w./-]*\w\.(?:py|js|css|html|sh))`", text))
    missing = sorted(
        one for one in named if not any(f"/{path}".endswith(f"/{one}") for path in every)
    )
    assert missing == []
