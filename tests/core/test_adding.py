"""Adding things: a throw-away one of each is made in a copy of the core, and found wherever it must be.

What docs/architecture.md says in its table *Adding*, held by doing it. A setting has a test of its
own, with its pages: tests/web/test_new_setting.py.
"""

import json
import os
import shutil
import subprocess
import sys
from pathlib import Path

import pytest

HERE = Path(__file__).parents[2]


def put(path: Path, before: str, added: str) -> None:
    """Write ``added`` in front of the first ``before``."""
    text = path.read_text("utf-8")
    assert text.count(before) >= 1, (path.name, before)
    path.write_text(text.replace(before, added + before, 1), "utf-8")


@pytest.fixture
def core(tmp_path: Path) -> Path:
    """The core of a copy of the program."""
    shutil.copytree(
        HERE / "fotonomy", tmp_path / "fotonomy", ignore=shutil.ignore_patterns("static")
    )
    shutil.copytree(HERE / "tests", tmp_path / "tests", ignore=shutil.ignore_patterns("files"))
    return tmp_path / "fotonomy" / "core"


def said_by(core: Path, code: str) -> dict[str, object]:
    """What a program in the copy prints as JSON, with Django set up."""
    settings = {**os.environ, "DJANGO_SETTINGS_MODULE": "fotonomy.site.settings.testing"}
    run = subprocess.run(
        [sys.executable, "-c", f"import django; django.setup()\nimport json\n{code}"],
        cwd=core.parent.parent, env=settings, capture_output=True, text=True, check=False,
    )  # fmt: skip
    assert run.returncode == 0, run.stderr[-2000:]
    found: dict[str, object] = json.loads(run.stdout)
    return found


def test_a_finding_is_one_place(core: Path) -> None:
    put(core / "findings" / "clip.py", "CHECKS = (",
        'GULLS = Family("clip.gulls", Harm.NOTHING_RECORDED, Tile.WHITE)\n\n\n'
        "def gulls(analysis: Analysis) -> Iterator[Finding]:\n"
        '    """Gulls on the card."""\n'
        '    yield Finding(GULLS, Severity.STOP, "Gulls", "3 on the card", 3.0, "gulls", ())\n\n\n')  # fmt: skip
    text = (core / "findings" / "clip.py").read_text("utf-8")
    (core / "findings" / "clip.py").write_text(text.replace("CHECKS = (", "CHECKS = (gulls, ", 1))
    found = said_by(core, """
from tests.core.examples import setup
from fotonomy.core.kinds import rules_of
from fotonomy.core.plan import plan
from fotonomy.exchange.plan_json import plan_to_data
made = plan(setup(iso=800))
first = made.findings[0]
print(json.dumps({
    "first": first.id, "tile": first.family.tile_among(rules_of(made.analysis.setup).tiles).value,
    "file": [one["id"] for one in plan_to_data(made)["findings"]][0],
}))
""")  # fmt: skip
    assert found == {"first": "clip.gulls", "tile": "white", "file": "clip.gulls"}


def test_an_unknown_family_fails_where_it_is_loaded(core: Path) -> None:
    put(core / "findings" / "clip.py", "CHECKS = (", "OTHERS = {GULLS}\n")
    with pytest.raises(AssertionError, match="GULLS"):
        said_by(core, "print(json.dumps({}))")


def test_a_kind_is_one_record(core: Path) -> None:
    put(core / "spec" / "kind.py", "    @property\n    def label(self)",
        '    WALTZ = "waltz", Traits(slows=True, tripod=True, test_frames=True, usual_min=45)\n\n')  # fmt: skip
    found = said_by(core, """
from tests.core.examples import setup
from fotonomy.core.day.blocks import shoot_minutes
from fotonomy.core.kinds import rules_of
from fotonomy.core.plan import plan
from fotonomy.core.planner.presets import preset_for
from fotonomy.core.spec.kind import Kind
from fotonomy.core.spec.schedule import Schedule
from fotonomy.exchange.setup_json import setup_schema
from fotonomy.shoots.models import Setup
waltz = setup(kind=Kind("waltz"), frame_rate=100)
print(json.dumps({
    "label": waltz.kind.label, "minutes": shoot_minutes(waltz.kind, Schedule(), 0),
    "tiles": len(rules_of(waltz).tiles), "planned": bool(plan(waltz).readout),
    "support": preset_for(waltz, waltz.kind, True).setup.support.value,
    "schema": "waltz" in json.dumps(setup_schema()),
    "form": ["waltz", "waltz"] in [list(one) for one in Setup._meta.get_field("kind").choices],
}))
""")  # fmt: skip
    assert found == {"label": "waltz", "minutes": 45, "tiles": 8, "planned": True,
                     "support": "tripod", "schema": True, "form": True}  # fmt: skip


def test_a_unit_is_one_row(core: Path) -> None:
    put(core / "units.py", '"km": 1000.0', '"cable": 185.2, ')
    found = said_by(core, """
from fotonomy.core.notation.reading import parse_distance
from fotonomy.core.units import unit_typed
print(json.dumps({"read": parse_distance("2 cable"), "kept": unit_typed("subject_distance_m", "2 cable")}))
""")  # fmt: skip
    assert found == {"read": 370.4, "kept": "cable"}


def test_an_exercise_is_one_record(core: Path) -> None:
    kinds = core / "drill" / "exercise_kind.py"
    put(kinds, '    WHICH_ONE = "which-one"',
        '    WALTZ = "waltz", ExerciseRecord(\n'
        '        "Waltz", "Count to three.", Tile.CLIP, balance.how_many_stops, Setups.ANY,\n    )\n')  # fmt: skip
    found = said_by(core, """
from datetime import UTC, datetime
from random import Random
from tests.core.examples import setup
from fotonomy.core.drill.exercise_kind import ExerciseKind
from fotonomy.core.drill.generate import exercise, kinds_of
from fotonomy.drill.models import Answer
from fotonomy.exchange.schema_files import MAKERS
waltz = ExerciseKind.of("waltz")
print(json.dumps({
    "second": list(ExerciseKind).index(waltz), "kind": exercise(waltz, 1, 3).kind.label,
    "own": waltz in kinds_of(setup()), "tile": waltz.tile.value,
    "rows": "waltz" in dict(Answer._meta.get_field("kind").choices),
    "schema": "waltz" in json.dumps(MAKERS["practice"]()),
}))
""")  # fmt: skip
    assert found == {"second": 1, "kind": "Waltz", "own": True, "tile": "clip", "rows": True,
                     "schema": True}  # fmt: skip


def test_an_exercise_without_its_record_fails_where_it_is_loaded(core: Path) -> None:
    put(core / "drill" / "exercise_kind.py", '    WHICH_ONE = "which-one"', '    WALTZ = "waltz"\n')
    with pytest.raises(AssertionError, match="record"):
        said_by(core, "print(json.dumps({}))")
