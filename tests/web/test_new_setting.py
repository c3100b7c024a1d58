"""A new setting takes four places: its field in the spec, its row, its column, its template line.

Done to a copy of the program with a setting of a part kept as JSON, which needs no column.
"""

import json
import os
import shutil
import subprocess
import sys
from pathlib import Path

import pytest

HERE = Path(__file__).parents[2]

ASKED = """
import json
import django
from lxml import html
django.setup()
from django.core.management import call_command
call_command("migrate", verbosity=0)
from django.test import Client
from fotonomy.demo.loader import ensure_demo
from fotonomy.exchange.setup_json import setup_from_data, setup_schema, setup_to_data
from fotonomy.shoots.mapping import file_of
from fotonomy.shoots.packed_kit import packed_kit
from fotonomy.shoots.models import Setup
ensure_demo()
row = Setup.objects.get(code="{code}")
client = Client()
client.force_login(row.shoot.owner)
from django.urls import reverse
bench = reverse("bench", args=[row.shoot_id, row.pk])
before = html.fromstring(client.get(bench).content.decode())
def words(place):
    return [" ".join(one.text_content().split()) for one in before.xpath(place)]
client.post(bench, {{"gusts_s": "7 s"}})
row = Setup.objects.get(pk=row.pk)
data = setup_to_data(file_of(row, packed_kit(row.shoot)))
refused = client.post(bench, {{"gusts_s": "99 s"}}).content.decode()
print(json.dumps({{
    "field": before.xpath("//input[@name='gusts_s']/@value") == ["5 s"],
    "key": before.xpath("//input[@name='gusts_s']/@data-key") == ["u"],
    "key list": "u" in words("//kbd") and any(w.endswith(", gusts last") for w in words("//dd")),
    "stored": row.run["gusts_s"],
    "file": data["setup"]["run"]["gusts_s"],
    "read back": setup_from_data(data).setup.run.gusts_s,
    "schema": setup_schema()["$defs"]["Run"]["properties"]["gusts_s"],
    "history": row.shoot.changes.last().label,
    "refused": "99 s" in refused and "field-error" in refused,
}}))
"""


def _put(path: Path, before: str, added: str) -> None:
    text = path.read_text("utf-8")
    assert before in text
    path.write_text(text.replace(before, added + before, 1), "utf-8")


@pytest.fixture
def copy(tmp_path: Path) -> Path:
    """A copy of the program with one setting more."""
    shutil.copytree(HERE / "fotonomy", tmp_path / "fotonomy")
    core, shoots = tmp_path / "fotonomy" / "core", tmp_path / "fotonomy" / "shoots"
    _put(core / "spec" / "stills.py", "    moment_s: Annotated",
         '    gusts_s: Annotated[float, Within(0, 60, "s")] = 5.0\n')  # fmt: skip
    _put(core / "parsing" / "table.py", '    typed("moment_s"',
         '    typed("gusts_s", "Gusts last", "burst",\n'
         '          lambda text: r.parse_quantity("gusts_s", text, {"s": 1.0}, (0, 60), "0 to 60 s"),'
         ' _in("s", 2), key="u"),\n')  # fmt: skip
    _put(shoots / "templates" / "shoots" / "tiles" / "burst.html",
         '{% part "shoots/_field.html" bench.fields.moment_s %}',
         '{% part "shoots/_field.html" bench.fields.gusts_s %}\n')  # fmt: skip
    # As `python -m fotonomy schemas` would.
    run = subprocess.run([sys.executable, "-m", "fotonomy", "schemas"], cwd=tmp_path, check=False)
    assert run.returncode == 0
    return tmp_path


def test_three_lines_and_a_setting_is_everywhere(copy: Path) -> None:
    settings = {**os.environ, "DJANGO_SETTINGS_MODULE": "fotonomy.site.settings.testing"}
    said = subprocess.run(
        [sys.executable, "-c", ASKED.format(code="5B")], cwd=copy, env=settings, check=False,
        capture_output=True, text=True,
    )  # fmt: skip
    assert said.returncode == 0, said.stderr[-2000:]
    found = json.loads(said.stdout)
    assert found == {
        "field": True, "key": True, "key list": True, "stored": 7.0, "file": 7.0, "read back": 7.0,
        "schema": {"type": "number", "minimum": 0, "maximum": 60},
        "history": "Gusts last", "refused": True,
    }  # fmt: skip
