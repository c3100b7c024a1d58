"""What a page asks for: few files, each whole, each made anew when a part changes."""

import re
import subprocess
from pathlib import Path
from typing import Any

import pytest
from django.contrib.staticfiles import finders
from django.test import Client

from fotonomy.shoots.models import Setup
from fotonomy.web import bundles
from fotonomy.web.bundles import BUNDLES, STATIC, BundleFinder, made_in, written

ASKED = re.compile(r'<(?:link rel="stylesheet" href|script (?:defer )?src)="([^"]+)"')


def files_of(client: Client, address: str) -> list[str]:
    return ASKED.findall(client.get(address).content.decode())


def test_a_page_asks_for_six_files_at_most(demo_client: Any, adze: Setup) -> None:
    shoot, bench = f"/shoots/{adze.shoot_id}/", adze.get_absolute_url()
    pages = [
        bench, f"{shoot}day/{adze.day_id}/", f"{shoot}field/{adze.pk}/", f"{shoot}takes/", "/kit/",
        f"{shoot}compare/", f"{bench}play/", "/drill/", "/drill/ahead/", "/drill/set-it/1/7/",
        f"{shoot}takes/home/", "/guide/", "/nowhere/", f"{shoot}paper/call-sheet/",
    ]  # fmt: skip
    for page in pages:
        asked = files_of(demo_client, page)
        assert 1 <= len(asked) <= 6, (page, asked)
        assert len(set(asked)) == len(asked)
        for file in asked:
            assert demo_client.get(file).status_code == 200, file


@pytest.mark.parametrize("name", [name for name in BUNDLES if name.endswith(".js")])
def test_a_script_is_whole_after_it_was_made_small(name: str, tmp_path: Path) -> None:
    """Read by node, Debian's: an outside parser."""
    file = tmp_path / name
    file.write_text(written(name), "utf-8")
    done = subprocess.run(
        ["node", "--check", str(file)], capture_output=True, text=True, check=False
    )
    assert done.stderr == ""


def test_styles_keep_every_rule_and_narrow_ones_their_window() -> None:
    text = written("pages.css")
    assert text.count("{") == text.count("}")
    # A rule a part: none is left out.
    for part, _ in BUNDLES["pages.css"]:
        selector = re.findall(
            r"^(\.[\w-]+)[\w ,.:>#-]* \{", (STATIC / part).read_text("utf-8"), re.M
        )
        assert not selector or selector[-1] in text, part
    narrow = text[text.index("@media (max-width: 620px){") :]
    assert "@media (max-width: 900px){" in text
    assert "@media print{" in narrow


def test_every_part_is_a_file_and_every_own_file_is_asked_for() -> None:
    parts = {part for parts in BUNDLES.values() for part, _ in parts}
    assert all((STATIC / part).is_file() for part in parts)
    templates = "".join(path.read_text("utf-8") for path in STATIC.parent.parent.rglob("*.html"))
    # What templates name themselves, and the worker that its own view reads.
    named = set(re.findall(r"static '(web/[\w-]+\.(?:js|css))'", templates))
    alone = {
        "web/field-worker.js", "web/paper.css", "web/paper-faces-pdf.css", "web/paper-letter.css",
    }  # fmt: skip
    own = {
        f"web/{path.name}" for path in (STATIC / "web").iterdir() if path.suffix in (".js", ".css")
    }
    assert own == {part for part in parts if part.startswith("web/")} | named | alone


def test_a_changed_part_makes_new_files(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    before = made_in(tmp_path)
    assert made_in(tmp_path) == before
    changed = tmp_path / "static"
    (changed / "web").mkdir(parents=True)
    (changed / "vendor").mkdir()
    for part in {part for parts in BUNDLES.values() for part, _ in parts}:
        (changed / part).write_bytes((STATIC / part).read_bytes())
    (changed / "web/flag.js").write_text("")
    with (changed / "web/bench.js").open("a") as file:
        file.write("\nconst added = 1;\n")
    monkeypatch.setattr(bundles, "STATIC", changed)
    after = made_in(tmp_path)
    assert after != before
    assert "const added=1" in (after / "bundle/bench.js").read_text()


def test_what_is_no_bundle_is_not_found() -> None:
    finder = BundleFinder()
    assert finder.find("bundle/nowhere.js") == []
    assert finder.find("bench.js") == []
    assert finder.find("bundle/bench.js", find_all=True) == [finder.find("bundle/bench.js")]
    assert {name for name, _ in finder.list(None)} == {f"bundle/{name}" for name in BUNDLES}
    assert finders.find("bundle/bench.js") is not None
    assert finder.check() == []
