"""Every sentence the program can say, with the place it stands: to be read, and bettered."""

import ast
import re
from collections.abc import Iterator
from pathlib import Path

from lxml import html

ROOT = Path(__file__).resolve().parent.parent
# Something said has at least so many words.
FEWEST_WORDS = 2
# What stands where a value comes in.
GAP = "…"
# Attributes of a page that are read or heard.
SPOKEN = ("aria-label", "title", "placeholder", "alt")
_COMMENT = re.compile(r"\{#.*?#\}", re.DOTALL)
_VALUE = re.compile(r"\{\{.*?\}\}", re.DOTALL)
_TAG = re.compile(r"\{%.*?%\}", re.DOTALL)
_SCRIPT_TEXT = re.compile(r'"((?:[^"\\\n]|\\.)*)"|`((?:[^`\\]|\\.)*)`', re.DOTALL)
_WORD = re.compile(r"[A-Za-zÀ-ÿ’'-]{2,}")
# What only programs read: addresses, names of classes, keys, patterns.
_CODE = re.compile(r"[<>{}\[\]=#\\]|[a-z]_[a-z]|^/|//|^[a-z0-9-]+(?: [a-z]+-[a-z-]+)+$|;$")


def sentences() -> Iterator[tuple[str, int, str]]:
    """File (from the package), line and text of whatever a person may read or hear."""
    for path in sorted(ROOT.rglob("*")):
        parts = path.relative_to(ROOT).parts
        if "vendor" in parts or "migrations" in parts or "bundle" in parts:
            continue
        found: Iterator[tuple[int, str]] = iter(())
        if path.suffix == ".html":
            found = of_template(path.read_text(encoding="utf-8"))
        elif path.suffix == ".py":
            found = of_python(path.read_text(encoding="utf-8"))
        elif path.suffix == ".js":
            found = of_script(path.read_text(encoding="utf-8"))
        for line, text in found:
            yield "/".join(parts), line, text


def of_template(text: str) -> Iterator[tuple[int, str]]:
    """What a template says: its words, with a gap for each value, and what only listeners have."""
    plain = _COMMENT.sub(_same_lines, text)
    plain = _VALUE.sub(GAP, plain)
    # Where a tag chooses between words, each stands for itself.
    plain = _TAG.sub(lambda found: "\x00" + _same_lines(found), plain)
    if not plain.replace("\x00", "").strip():
        return
    page = html.fromstring(f"<div>{plain.replace(chr(0), '&#xE000;')}</div>")
    for one in page.iter():
        if not isinstance(one.tag, str):
            continue
        texts = [one.text, *(child.tail for child in one)]
        texts += [value for name, value in one.attrib.items() if name in SPOKEN]
        for part in texts:
            for piece in re.split("\ue000", part or ""):
                if said := _said(piece):
                    yield one.sourceline or 0, said


def _same_lines(found: re.Match[str]) -> str:
    return "\n" * found[0].count("\n")


def of_python(text: str) -> Iterator[tuple[int, str]]:
    """What a module says: its texts but for docstrings and keys, a gap for each value."""
    tree = ast.parse(text)
    silent = {
        id(node.body[0].value)
        for node in ast.walk(tree)
        if isinstance(node, ast.Module | ast.ClassDef | ast.FunctionDef | ast.AsyncFunctionDef)
        and node.body and isinstance(node.body[0], ast.Expr)
    }  # fmt: skip
    for node in ast.walk(tree):
        if isinstance(node, ast.JoinedStr):
            silent |= {id(part) for part in ast.walk(node) if part is not node}
    for node in ast.walk(tree):
        if id(node) in silent:
            continue
        if isinstance(node, ast.Constant) and isinstance(node.value, str):
            words = node.value
        elif isinstance(node, ast.JoinedStr):
            words = "".join(
                str(part.value) if isinstance(part, ast.Constant) else GAP for part in node.values
            )
        else:
            continue
        if said := _said(words):
            yield node.lineno, said


def of_script(text: str) -> Iterator[tuple[int, str]]:
    """What a script says: its texts, a gap for each value."""
    for found in _SCRIPT_TEXT.finditer(text):
        words = re.sub(r"\$\{.*?\}", GAP, found[1] or found[2] or "")
        if said := _said(words):
            yield text.count("\n", 0, found.start()) + 1, said


def _said(text: str) -> str:
    """A text on one line if it is something said, "" for anything else."""
    words = " ".join(text.split())
    if " " not in words or len(_WORD.findall(words)) < FEWEST_WORDS or _CODE.search(words):
        return ""
    return words


def listing() -> str:
    """All of them, a line each: place, tab, text. What is said twice stands where it is first."""
    known: set[str] = set()
    lines = []
    for file, line, text in sentences():
        if text not in known:
            known.add(text)
            lines.append(f"{file}:{line}\t{text}")
    return "\n".join(lines) + "\n"
