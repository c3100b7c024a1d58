"""``make mutants``: break the core some two hundred times, and say what no test noticed.

Mutations are cosmic-ray's, chosen by a fixed seed: ``tools/mutants.py [COUNT] [SEED]``. Each is
tried in a copy of the program: first the tests that name the broken module, nearest first, then
the rest of the core's. What lives is listed with its line; docs/mutants.md has the last two runs.
"""

import os
import random
import shutil
import subprocess
import sys
import tempfile
import time
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from pathlib import Path
from queue import SimpleQueue
from typing import Any

ROOT = Path(__file__).resolve().parent.parent
COUNT, SEED, AT_ONCE = 200, 1, 2
# A mutant that makes a test go on without end is dead as well.
LIMIT_S = 240
# What a slip of the hand makes: a sign, a side, an edge, a number, a condition.
OPERATORS = (
    "ReplaceBinaryOperator_Add_Sub", "ReplaceBinaryOperator_Sub_Add",
    "ReplaceBinaryOperator_Mul_Div", "ReplaceBinaryOperator_Div_Mul",
    "ReplaceComparisonOperator_Lt_LtE", "ReplaceComparisonOperator_LtE_Lt",
    "ReplaceComparisonOperator_Gt_GtE", "ReplaceComparisonOperator_GtE_Gt",
    "ReplaceComparisonOperator_Lt_Gt", "ReplaceComparisonOperator_Gt_Lt",
    "ReplaceComparisonOperator_LtE_GtE", "ReplaceComparisonOperator_GtE_LtE",
    "ReplaceComparisonOperator_Eq_NotEq", "ReplaceComparisonOperator_NotEq_Eq",
    "ReplaceComparisonOperator_Is_IsNot", "ReplaceComparisonOperator_IsNot_Is",
    "ReplaceUnaryOperator_Delete_USub", "ReplaceUnaryOperator_Delete_Not", "AddNot",
    "ReplaceTrueWithFalse", "ReplaceFalseWithTrue", "ReplaceAndWithOr", "ReplaceOrWithAnd",
    "NumberReplacer", "ZeroIterationForLoop",
)  # fmt: skip


@dataclass(frozen=True, slots=True)
class Mutant:
    """A module of the core, the operator that breaks it, and which of its places."""

    module: Path
    operator: str
    occurrence: int


def operator_of(name: str) -> Any:
    """One of cosmic-ray's operators."""
    from cosmic_ray.plugins import get_operator

    return get_operator(f"core/{name}")()


def mutants_in(module: Path) -> list[Mutant]:
    """All mutants of a module."""
    from cosmic_ray.ast import ast_nodes, get_ast

    nodes = list(ast_nodes(get_ast(module.read_text("utf-8"))))
    found = []
    for name in OPERATORS:
        operator = operator_of(name)
        places = sum(len(list(operator.mutation_positions(node))) for node in nodes)
        found += [Mutant(module.relative_to(ROOT), name, k) for k in range(places)]
    return found


def chosen(count: int, seed: int, within: str = "") -> list[Mutant]:
    """So many mutants of the whole core, or of one package of it."""
    modules = sorted((ROOT / "fotonomy" / "core" / within).rglob("*.py"))
    every = [mutant for module in modules for mutant in mutants_in(module)]
    return random.Random(seed).sample(every, count)


def broken(mutant: Mutant) -> tuple[str, int, str]:
    """The module's text with the mutation, the line it is in, and that line."""
    from cosmic_ray.mutating import mutate_code

    text = (ROOT / mutant.module).read_text("utf-8")
    found = mutate_code(text, operator_of(mutant.operator), mutant.occurrence)
    if found is None:
        raise LookupError(f"{mutant} is no place")
    pairs = enumerate(zip(text.splitlines(), found.splitlines(), strict=False), 1)
    line, words = next((k, new.strip()) for k, (old, new) in pairs if old != new)
    return found, line, words


def nearest_tests(mutant: Mutant) -> list[str]:
    """The core's tests that name the module, those that name it most first."""
    name = ".".join(mutant.module.with_suffix("").parts)
    # In a small look one file is enough.
    most = 1 if "--small" in sys.argv else None
    tests = [path.relative_to(ROOT) for path in sorted((ROOT / "tests" / "core").glob("test_*.py"))]
    named = {test: (ROOT / test).read_text("utf-8").count(mutant.module.stem) for test in tests}
    near = [test for test in tests if name in (ROOT / test).read_text("utf-8")]
    near.sort(key=lambda test: -named[test])
    return [str(test) for test in near[:most]]


def noticed(mutant: Mutant, place: Path, all_tests: bool) -> bool:
    """True where a test fails, or does not come to an end, with the mutant in ``place``."""
    text, _, _ = broken(mutant)
    file = place / mutant.module
    kept = file.read_text("utf-8")
    file.write_text(text, "utf-8")
    near = nearest_tests(mutant)
    rounds = [near] if near else []
    if all_tests or not near:
        rounds.append(["tests/core", *(f"--ignore={test}" for test in near)])
    try:
        return any(_fails(place, tests) for tests in rounds)
    finally:
        file.write_text(kept, "utf-8")


def _fails(place: Path, tests: list[str]) -> bool:
    command = [sys.executable, "-m", "pytest", "-x", "-q", "-p", "no:cacheprovider", *tests]
    environment = {**os.environ, "DJANGO_SETTINGS_MODULE": "fotonomy.site.settings.testing",
                   "PYTHONDONTWRITEBYTECODE": "1"}  # fmt: skip
    try:
        done = subprocess.run(
            command, cwd=place, env=environment, capture_output=True, timeout=LIMIT_S, check=False
        )
    except subprocess.TimeoutExpired:
        return True
    # No test at all in the files left is no failure.
    return done.returncode not in (0, 5)


def tried(mutants: list[Mutant], folder: Path, all_tests: bool) -> Iterator[tuple[Mutant, bool]]:
    """Each mutant with whether it was noticed, as they come."""
    places: SimpleQueue[Path] = SimpleQueue()
    for k in range(AT_ONCE):
        place = folder / str(k)
        for name in ("fotonomy", "tests", "soak", "benchmarks", "tools"):
            shutil.copytree(ROOT / name, place / name, ignore=shutil.ignore_patterns("__pycache__"))
        for name in ("pyproject.toml", "manage.py", "requirements-dev.txt"):
            shutil.copy(ROOT / name, place / name)
        shutil.copytree(ROOT / "docs", place / "docs", ignore=shutil.ignore_patterns("*.png"))
        places.put(place)

    def one(mutant: Mutant) -> bool:
        place = places.get()
        try:
            return noticed(mutant, place, all_tests)
        finally:
            places.put(place)

    with ThreadPoolExecutor(AT_ONCE) as pool:
        yield from zip(mutants, pool.map(one, mutants), strict=True)


def main() -> int:
    """Try them, a line each that lives, and say how many died; 1 if fewer than nine of ten."""
    small = "--small" in sys.argv
    numbers = [int(word) for word in sys.argv[1:] if word.isdigit()]
    count, seed = (2, 1) if small else (numbers + [COUNT, SEED][len(numbers) :])[:2]
    start, dead, lived = time.monotonic(), 0, []
    with tempfile.TemporaryDirectory() as folder:
        for number, (mutant, was_noticed) in enumerate(
            tried(chosen(count, seed, "curves" if small else ""), Path(folder), not small), 1
        ):
            dead += was_noticed
            if not was_noticed:
                _, line, words = broken(mutant)
                lived.append(f"{mutant.module}:{line} {mutant.operator}: {words}")
                print(f"lives: {lived[-1]}", flush=True)
            if not number % 10:
                print(f"{time.monotonic() - start:6.0f} s  {number} tried, {dead} dead", flush=True)
    print(f"{dead} of {count} dead ({dead / count:.0%}), seed {seed}")
    return 0 if small or dead >= 0.9 * count else 1


if __name__ == "__main__":
    sys.exit(main())
