"""``make mutants``: break the core some two hundred times, and say what no test noticed.

Mutations are cosmic-ray's, chosen by a fixed seed: ``python -m tools.mutants [COUNT] [SEED]``.
coverage.py records once which tests of the core run which line; a mutant is tried in a copy of the
program with the tests that run its line, the narrowest first. What lives is listed with its line;
docs/mutants.md has the last two runs.
"""

import ast
import os
import random
import shutil
import subprocess
import sys
import tempfile
import time
from collections import Counter
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from functools import cache
from itertools import islice
from pathlib import Path
from queue import SimpleQueue
from typing import Any

ROOT = Path(__file__).resolve().parent.parent
COUNT, SEED, AT_ONCE = 200, 1, 2
# A mutant that makes tests go on without end is dead as well: so long for the start, and so many
# times what they usually take.
START_S, SLOWER = 60.0, 8.0
PYTEST = ("pytest", "-x", "-q", "-p", "no:cacheprovider")
# So many numbers in one statement are a table.
TABLE_FROM = 4
SMALL = "tests/core/test_curves_and_levels.py"
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
    random.Random(seed).shuffle(every)
    return list(islice((one for one in every if not is_no_rule(one)), count))


def is_no_rule(mutant: Mutant) -> bool:
    """True for what is no rule that a test could hold.

    The size of a cache and the slots of a class change no answer. The numbers of a table are data:
    a test of them would be the table again. What an exercise draws by chance may be another.
    """
    _, line, words = broken(mutant)
    if "maxsize=" in words or "slots=" in words:
        return True
    number = mutant.operator in ("NumberReplacer", "ReplaceUnaryOperator_Delete_USub")
    return number and ("random." in words or line in tables_of(ROOT / mutant.module))


@cache
def tables_of(module: Path) -> frozenset[int]:
    """The lines of a module's tables: what stands outside functions with four numbers or more."""
    tree = ast.parse(module.read_text("utf-8"))
    outside = [*tree.body, *(one for node in tree.body if isinstance(node, ast.ClassDef)
                             for one in node.body)]  # fmt: skip
    lines: set[int] = set()
    for node in outside:
        if isinstance(node, (ast.Assign, ast.AnnAssign)) and node.end_lineno:
            numbers = [one for one in ast.walk(node) if isinstance(one, ast.Constant)
                       and isinstance(one.value, (int, float))]  # fmt: skip
            if len(numbers) >= TABLE_FROM:
                lines.update(range(node.lineno, node.end_lineno + 1))
    return frozenset(lines)


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


@dataclass(frozen=True, slots=True)
class Record:
    """Which tests ran which line of the core, and how long each takes, as they pass unbroken.

    A test is named as pytest takes it, ``tests/core/test_day.py::test_ways``, with all its values.
    """

    ran: dict[Path, dict[int, frozenset[str]]]
    lines: dict[str, int]
    seconds: dict[str, float]

    def tests_of(self, mutant: Mutant, line: int) -> list[str]:
        """The tests that ran a line, those that run least else first.

        A line that runs at import has those of its module, and of the modules that import it.
        """
        tests = self.ran.get(mutant.module, {}).get(line, frozenset()) or self._around(mutant)
        return sorted(tests, key=lambda test: (self.lines[test], test))

    def _around(self, mutant: Mutant) -> frozenset[str]:
        name = ".".join(mutant.module.with_suffix("").parts)
        of = f"from {mutant.module.parent.as_posix().replace('/', '.')} import "
        near = set(self._of(mutant.module))
        for module in self.ran:
            text = (ROOT / module).read_text("utf-8")
            if f"from {name} import" in text or f"{of}{mutant.module.stem}" in text:
                near |= self._of(module)
        return frozenset(near) or frozenset(self.lines)

    def _of(self, module: Path) -> frozenset[str]:
        return frozenset().union(*self.ran.get(module, {}).values())


def recorded(place: Path, tests: list[str]) -> Record:
    """Run tests once as they are, and see which line each of them runs."""
    (place / ".coveragerc").write_text("[run]\ndynamic_context = test_function\n", "utf-8")
    command = ["-m", "coverage", "run", "--source=fotonomy/core", "-m", *PYTEST]
    done = _started(place, [*command, "--junitxml=times.xml", *tests])
    if done:
        raise RuntimeError("The tests have to pass before anything is broken")
    from coverage import CoverageData

    data = CoverageData(str(place / ".coverage"))
    data.read()
    ran: dict[Path, dict[int, frozenset[str]]] = {}
    lines: Counter[str] = Counter()
    for file in data.measured_files():
        module = Path(file).relative_to(place.resolve())
        by_line = data.contexts_by_lineno(file)
        ran[module] = {
            line: frozenset(test for one in contexts if (test := _test_of(one)))
            for line, contexts in by_line.items()
        }
        lines.update(test for tests in ran[module].values() for test in tests)
    return Record(ran, dict(lines), _seconds(place / "times.xml"))


def _test_of(context: str) -> str:
    """``tests.core.test_day.test_ways`` as pytest takes it; nothing for what is no test."""
    module, _, name = context.rpartition(".")
    return f"{module.replace('.', '/')}.py::{name}" if module.startswith("tests.") else ""


def _seconds(times: Path) -> dict[str, float]:
    from lxml.etree import parse

    found: dict[str, float] = {}
    for case in parse(times).iter("testcase"):
        test = _test_of(f"{case.get('classname')}.{case.get('name').partition('[')[0]}")
        found[test] = found.get(test, 0.0) + float(case.get("time"))
    return found


def noticed(mutant: Mutant, place: Path, record: Record) -> bool:
    """True where a test fails, or does not come to an end, with the mutant in ``place``."""
    text, line, _ = broken(mutant)
    tests = record.tests_of(mutant, line)
    file = place / mutant.module
    kept = file.read_text("utf-8")
    file.write_text(text, "utf-8")
    usual = sum(record.seconds.get(test, 1.0) for test in tests)
    try:
        return bool(_started(place, ["-m", *PYTEST, *tests], START_S + SLOWER * usual))
    finally:
        file.write_text(kept, "utf-8")


def _started(place: Path, command: list[str], limit_s: float | None = None) -> bool:
    """True where a command fails, or goes on for longer than its limit."""
    environment = {**os.environ, "DJANGO_SETTINGS_MODULE": "fotonomy.site.settings.testing",
                   "PYTHONDONTWRITEBYTECODE": "1"}  # fmt: skip
    try:
        done = subprocess.run(
            [sys.executable, *command], cwd=place, env=environment, capture_output=True,
            timeout=limit_s, check=False,
        )  # fmt: skip
    except subprocess.TimeoutExpired:
        return True
    return done.returncode != 0


def copies(folder: Path) -> list[Path]:
    """Copies of the program to break, one for each that is tried at once."""
    places = []
    for k in range(AT_ONCE):
        place = folder / str(k)
        for name in ("fotonomy", "tests", "soak", "benchmarks", "tools"):
            shutil.copytree(ROOT / name, place / name, ignore=shutil.ignore_patterns("__pycache__"))
        for name in ("pyproject.toml", "manage.py", "requirements-dev.txt"):
            shutil.copy(ROOT / name, place / name)
        shutil.copytree(ROOT / "docs", place / "docs", ignore=shutil.ignore_patterns("*.png"))
        places.append(place)
    return places


def tried(
    mutants: list[Mutant], places: list[Path], record: Record
) -> Iterator[tuple[Mutant, bool]]:
    """Each mutant with whether it was noticed, as they come."""
    free: SimpleQueue[Path] = SimpleQueue()
    for place in places:
        free.put(place)

    def one(mutant: Mutant) -> bool:
        place = free.get()
        try:
            return noticed(mutant, place, record)
        finally:
            free.put(place)

    with ThreadPoolExecutor(len(places)) as pool:
        yield from zip(mutants, pool.map(one, mutants), strict=True)


def main() -> int:
    """Try them, a line each that lives, and say how many died; 1 if fewer than nine of ten."""
    small = "--small" in sys.argv
    numbers = [int(word) for word in sys.argv[1:] if word.isdigit()]
    count, seed = (2, 1) if small else (numbers + [COUNT, SEED][len(numbers) :])[:2]
    start, dead = time.monotonic(), 0
    with tempfile.TemporaryDirectory() as folder:
        places = copies(Path(folder))
        record = recorded(places[0], [SMALL] if small else ["tests/core"])
        print(f"{time.monotonic() - start:6.0f} s  {len(record.lines)} tests recorded", flush=True)
        mutants = chosen(count, seed, "curves" if small else "")
        for number, (mutant, was_noticed) in enumerate(tried(mutants, places, record), 1):
            dead += was_noticed
            if not was_noticed:
                _, line, words = broken(mutant)
                print(f"lives: {mutant.module}:{line} {mutant.operator}: {words}", flush=True)
            if not number % 10:
                print(f"{time.monotonic() - start:6.0f} s  {number} tried, {dead} dead", flush=True)
    print(f"{dead} of {count} dead ({dead / count:.0%}), seed {seed}")
    return 0 if small or dead >= 0.9 * count else 1


if __name__ == "__main__":
    sys.exit(main())
