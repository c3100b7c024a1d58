"""docs/settings.md: every setting with its name, range and how it is typed, from the table."""

from fotonomy.core.parsing.table import SETTINGS, Setting
from fotonomy.core.ranges import Sized, Within, bounds_of, hints_of
from fotonomy.core.spec.changes import PARTS, part_of
from fotonomy.core.spec.setup import Setup

_HEAD = """# Settings

Made by `python -m fotonomy settings`. A name is the same in forms, in files and in the history.

| name | called | in a file | range | typed |
|---|---|---|---|---|
"""


def settings_page() -> str:
    """The whole page as Markdown."""
    return _HEAD + "".join(_line(row) for row in SETTINGS)


def _line(row: Setting) -> str:
    part = part_of(row.name)
    hint = hints_of(PARTS[part] if part else Setup).get(row.name)
    place = f"`setup.{part}`" if part else "`setup`"
    return f"| `{row.name}` | {row.label} | {place} | {_range(row, hint)} | {row.hint} |\n"


def _range(row: Setting, hint: object) -> str:
    if row.choices is not None:
        return ", ".join(member.value for member in row.choices)
    for bound in bounds_of(hint):
        match bound:
            case Within():
                return f"{bound.low:g} to {bound.high:g} {bound.unit}".strip()
            case Sized():
                return f"{bound.least} to {bound.most} long"
    return ""
